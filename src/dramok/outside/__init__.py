"""The only code that reaches out: followed tables, read from an address or a file.

Nothing here runs until the owner of a game has switched it on; private addresses are refused unless their host is allowed.
"""

from dramok.outside.fetch import NotFetched, fetch, parts_of, read_file

__all__ = ["NotFetched", "fetch", "parts_of", "read_file"]
