"""ZIP files from outside, checked before anything is unpacked."""

from __future__ import annotations

import io
import zipfile
from pathlib import PurePosixPath

from dramok.core.problem import Problem

MOST_ENTRIES = 20_000
MOST_UNPACKED = 400 * 1024 * 1024
MOST_RATIO = 200
"""The largest compression ratio of an entry of over a megabyte."""


class UnsafeArchive(ValueError):
    """The archive is damaged, or harmful to unpack. `problem` has the reason."""

    def __init__(self, what: str, mend: str) -> None:
        super().__init__(what)
        self.problem = Problem(where="archive", what=what, mend=mend)


def open_archive(
    data: bytes, most_unpacked: int = MOST_UNPACKED, most_entries: int = MOST_ENTRIES
) -> zipfile.ZipFile:
    """Open a ZIP whose entries stay within its folder and within limits. Raises UnsafeArchive.

    Sizes are those declared by the archive; `zipfile` reads no entry beyond them, and verifies its checksum.
    """
    # A directory with a million entries is slow to read: check its size first.
    if data.count(b"PK\x01\x02", max(0, len(data) - 200 * 1024 * 1024)) > most_entries:
        raise UnsafeArchive(f"over {most_entries:,} files are in it", "split it into several archives")
    try:
        archive = zipfile.ZipFile(io.BytesIO(data))
    except (zipfile.BadZipFile, ValueError, OSError, NotImplementedError) as error:
        raise UnsafeArchive("the file is damaged, or is not an archive", "make it again") from error
    infos = archive.infolist()
    if len(infos) > most_entries:
        raise UnsafeArchive(f"over {most_entries:,} files are in it", "split it into several archives")
    total = 0
    for info in infos:
        path = PurePosixPath(info.filename.replace("\\", "/"))
        if path.is_absolute() or ".." in path.parts or ":" in info.filename[:3]:
            raise UnsafeArchive(
                f"“{info.filename[:60]}” would leave the archive's folder", "make it again without such paths"
            )
        if info.flag_bits & 1:
            raise UnsafeArchive("it asks for a password", "make it again without one")
        total += info.file_size
        if info.file_size > 1024 * 1024 and info.file_size > MOST_RATIO * max(1, info.compress_size):
            raise UnsafeArchive(
                f"“{info.filename[:60]}” grows {info.file_size // max(1, info.compress_size):,} times when unpacked",
                "it may be harmful; make the archive again",
            )
    if total > most_unpacked:
        raise UnsafeArchive(
            f"it unpacks to {total // 1048576:,} MB; {most_unpacked // 1048576:,} MB are the most",
            "split it into several archives",
        )
    return archive


def entry(archive: zipfile.ZipFile, name: str) -> bytes:
    """One file of an archive. Raises UnsafeArchive if it is missing or damaged."""
    try:
        return archive.read(name)
    except KeyError as error:
        raise UnsafeArchive(f"“{name[:60]}” is missing in it", "choose another archive") from error
    except (zipfile.BadZipFile, OSError, ValueError, EOFError, NotImplementedError, RuntimeError) as error:
        raise UnsafeArchive(f"“{name[:60]}” in it is damaged", "make the archive again") from error
    except Exception as error:  # zlib.error is not a ValueError
        if type(error).__name__ not in ("error", "LZMAError"):
            raise
        raise UnsafeArchive(f"“{name[:60]}” in it is damaged", "make the archive again") from error
