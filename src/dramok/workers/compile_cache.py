"""The cache of the compiled kernel, the lock that lets one process compile at a time, and the progress of it."""

from __future__ import annotations

import contextlib
import hashlib
import json
import os
import platform
import shutil
import tempfile
import time
from collections.abc import Iterator
from functools import cache
from importlib.metadata import PackageNotFoundError, version
from importlib.util import find_spec
from pathlib import Path

from dramok.core.compile_switch import compile_kernel

try:
    import fcntl
except ImportError:  # Windows
    fcntl = None  # type: ignore[assignment]

ENGINE = Path(__file__).parent.parent / "core" / "engine"
KEPT_DAYS = 30
LAST_PART = 0.25
"""The share of the time that the entry takes, with all that it calls inside, once every function is compiled."""


def cache_folder() -> Path:
    """The folder of compiled code, named by a hash of everything that it depends on, so that an outdated one is
    never used.

    numba indexes its files by the path and time of the entry module: both are part of the name.
    """
    parts = [path.read_bytes() for path in sorted(ENGINE.rglob("*.py"))]
    parts += [str(ENGINE).encode(), str((ENGINE / "match_batch.py").stat().st_mtime_ns).encode()]
    parts += [
        platform.python_version().encode(),
        platform.machine().encode(),
        _version("numba").encode(),
        _version("numpy").encode(),
    ]
    name = f"kernel-{hashlib.sha256(b'|'.join(parts)).hexdigest()[:16]}"
    home = Path(os.environ.get("XDG_CACHE_HOME") or Path.home() / ".cache") / "dramok"
    try:
        home.mkdir(parents=True, exist_ok=True)
    except OSError:
        home = Path(tempfile.gettempdir()) / "dramok"
        home.mkdir(parents=True, exist_ok=True)
    return home / name


def _version(package: str) -> str:
    try:
        return version(package)
    except PackageNotFoundError:
        return ""


def can_compile() -> bool:
    """Whether numba is installed."""
    return find_spec("numba") is not None


def is_warm() -> bool:
    """Whether the compiled kernel is in the cache."""
    return can_compile() and any(cache_folder().glob("**/*.nbc"))


@cache
def _functions() -> int:
    """The number of the kernel's functions."""
    return sum(path.read_text(encoding="utf-8").count("\n@kernel\n") for path in (ENGINE / "kernel").glob("*.py"))


def _lock_file() -> Path:
    folder = cache_folder()
    folder.mkdir(parents=True, exist_ok=True)
    return folder / "compiling.lock"


@contextlib.contextmanager
def compiling(anew: bool = False) -> Iterator[bool]:
    """Hold the compile lock: a second process waits and then finds the kernel in the cache. Yields whether the
    cache has it.

    `anew`: compile even if it does, because the cached one does not fit this processor. Inside, the kernel is
    imported for the first time and played once, which fills the cache.
    """
    if is_warm() and not anew or fcntl is None:
        warm = is_warm() and not anew
        compile_kernel(warm)
        yield warm
        return
    with _lock_file().open("a+") as lock:
        fcntl.flock(lock, fcntl.LOCK_EX)
        warm = is_warm() and not anew
        begun, done = time.time(), 0

        def notice() -> None:
            nonlocal done
            done += 1
            lock.seek(0)
            lock.truncate()
            lock.write(json.dumps({"done": done, "of": _functions(), "begun": begun}))
            lock.flush()

        compile_kernel(warm, notice)
        try:
            yield warm
        finally:
            lock.seek(0)
            lock.truncate()


def compile_share() -> float | None:
    """The part of the kernel that is compiled, 0 to 1, while a process compiles it; None if none does."""
    if fcntl is None or not can_compile() or is_warm():
        return None
    with _lock_file().open("a+") as lock:
        try:
            fcntl.flock(lock, fcntl.LOCK_SH | fcntl.LOCK_NB)
        except OSError:
            lock.seek(0)
            try:
                found = json.loads(lock.read() or "{}")
            except ValueError:
                # The file is being written.
                found = {}
            share: float = found.get("done", 0) / max(1, found.get("of", 1))
            return min(1.0, share) * (1 - LAST_PART)
    return None


def remove_old() -> None:
    """Remove compiled kernels of other versions that are older than a month."""
    for folder in cache_folder().parent.glob("kernel-*"):
        if folder != cache_folder() and folder.stat().st_mtime < time.time() - KEPT_DAYS * 86_400:
            shutil.rmtree(folder, ignore_errors=True)
