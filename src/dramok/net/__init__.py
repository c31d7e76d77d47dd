"""The only code that reaches other hosts: tracked tables, read from an address or a file.

It runs only for tables that a person added. Private addresses are refused unless their host is allowed.
"""

from dramok.net.fetch import NotFetched, fetch, parts_of, read_file

__all__ = ["NotFetched", "fetch", "parts_of", "read_file"]
