"""Write files atomically."""

from __future__ import annotations

import errno
import os
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import BinaryIO

from dramok.core.problem import Problem
from dramok.services.workspace.workspace import Refused


@contextmanager
def atomic_file(path: Path) -> Iterator[BinaryIO]:
    """A file object that replaces the target when everything is written and on disk; on failure nothing
    changes.

    Raises Refused if it can't be written.
    """
    beside = path.with_name(f".{path.name}.{os.getpid()}.part")
    try:
        try:
            with beside.open("wb") as file:
                yield file
                file.flush()
                os.fsync(file.fileno())
            beside.replace(path)
        except OSError as error:
            raise Refused(write_failed(path, error)) from error
    finally:
        beside.unlink(missing_ok=True)


def write_failed(path: Path, error: OSError) -> Problem:
    """The problem for a file that could not be written."""
    if error.errno in (errno.ENOSPC, errno.EDQUOT):
        return Problem(
            where="disk",
            what="the disk is full: nothing was written",
            mend="make room on it, then try again",
        )
    return Problem(
        where="disk",
        what=f"{path} can't be written: {error.strerror or error}",
        mend="check the path, and who may write there",
    )
