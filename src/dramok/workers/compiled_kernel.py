"""The rules kernel as machine code: compiled once per version and processor, cached, and called through ctypes.

`core.engine.lowering` translates the kernel to LLVM text; llvmlite optimises it and writes an object file into the
cache. Calls release the interpreter lock, so that threads play in parallel.
"""

from __future__ import annotations

import contextlib
import ctypes
import hashlib
import json
import os
import platform
import shutil
import stat
import sys
import tempfile
import threading
import time
from collections.abc import Iterator, Sequence
from concurrent.futures import ThreadPoolExecutor
from functools import cache
from importlib.metadata import PackageNotFoundError, version
from importlib.util import find_spec
from pathlib import Path
from typing import Any

try:
    import fcntl
except ImportError:  # Windows
    fcntl = None  # type: ignore[assignment]

ENGINE = Path(__file__).parent.parent / "core" / "engine"
OBJECT = "kernel.o"
KEPT_DAYS = 30
EXPECTED_SECONDS = 10
"""The usual time of a compilation, for its progress."""
FAULT_EXIT = 70
"""The exit code of a checked build that reads or writes outside a list."""
_DIGEST = 64
_compile_here = threading.Lock()


def checked() -> bool:
    """Whether to compile with bounds checks, as tests do: `DRAMOK_CHECKED_KERNEL=1`."""
    return os.environ.get("DRAMOK_CHECKED_KERNEL") == "1"


def can_compile() -> bool:
    """Whether llvmlite is installed."""
    return find_spec("llvmlite") is not None


@cache
def _processor() -> str:
    """The processor and its features: code for another one can be an illegal instruction."""
    import llvmlite.binding as llvm

    return f"{llvm.get_process_triple()} {llvm.get_host_cpu_name()} {llvm.get_host_cpu_features().flatten()}"


@cache
def _sources() -> bytes:
    return b"|".join(path.read_bytes() for path in sorted(ENGINE.rglob("*.py")))


def cache_folder() -> Path:
    """The folder of the object file, named by a hash of everything that it depends on."""
    try:
        installed = version("llvmlite")
    except PackageNotFoundError:
        installed = ""
    parts = [_sources(), platform.python_version().encode(), installed.encode(), _processor().encode() if installed else b"", str(checked()).encode()]
    home = Path(os.environ.get("XDG_CACHE_HOME") or Path.home() / ".cache") / "dramok"
    return home / f"kernel-{hashlib.sha256(b'|'.join(parts)).hexdigest()[:16]}"


def _private(folder: Path) -> bool:
    """Create the folder for this user alone; False if anyone else could write to it."""
    try:
        folder.mkdir(parents=True, exist_ok=True, mode=0o700)
        found = folder.stat()
    except OSError:
        return False
    return os.name != "posix" or found.st_uid == os.getuid() and not found.st_mode & (stat.S_IWGRP | stat.S_IWOTH)


def _cached() -> bytes | None:
    """The object file in the cache; None if it is missing, damaged, or in a folder that others can write to."""
    folder = cache_folder()
    if not folder.is_dir() or not _private(folder):
        return None
    try:
        found = (folder / OBJECT).read_bytes()
    except OSError:
        return None
    code = found[_DIGEST:]
    return code if hashlib.sha256(code).hexdigest().encode() == found[:_DIGEST] else None


def _store(code: bytes) -> None:
    """Put an object file into the cache, atomically; a cache that can't be written is not needed."""
    folder = cache_folder()
    if not _private(folder):
        return
    with contextlib.suppress(OSError):
        with tempfile.NamedTemporaryFile(dir=folder, delete=False) as file:
            file.write(hashlib.sha256(code).hexdigest().encode() + code)
        os.replace(file.name, folder / OBJECT)


def is_warm() -> bool:
    """Whether the compiled kernel is in the cache."""
    return can_compile() and _cached() is not None


@contextlib.contextmanager
def _lock() -> Iterator[None]:
    """Let one process compile at a time; the lock file holds the start time for `compile_share`."""
    folder = cache_folder()
    if fcntl is None or not _private(folder):
        yield
        return
    with (folder / "compiling.lock").open("a+") as lock:
        fcntl.flock(lock, fcntl.LOCK_EX)
        lock.truncate(0)
        lock.write(json.dumps({"begun": time.time()}))
        lock.flush()
        try:
            yield
        finally:
            lock.truncate(0)


def compile_share() -> float | None:
    """The estimated progress, 0 to 1, while a process compiles the kernel; None if none does."""
    if fcntl is None or not can_compile() or is_warm() or not _private(cache_folder()):
        return None
    with (cache_folder() / "compiling.lock").open("a+") as lock:
        try:
            fcntl.flock(lock, fcntl.LOCK_SH | fcntl.LOCK_NB)
        except OSError:
            lock.seek(0)
            try:
                begun = float(json.loads(lock.read() or "{}").get("begun", time.time()))
            except ValueError:
                begun = time.time()  # the file is being written
            past = max(0.0, time.time() - begun)
            return past / (past + EXPECTED_SECONDS / 2)
    return None


def remove_old() -> None:
    """Remove compiled kernels of other versions that are older than a month."""
    for folder in cache_folder().parent.glob("kernel-*"):
        if folder != cache_folder() and folder.stat().st_mtime < time.time() - KEPT_DAYS * 86_400:
            shutil.rmtree(folder, ignore_errors=True)


def translate() -> tuple[str, tuple[str, ...]]:
    """The kernel as LLVM text, and the sites of its checks."""
    from dramok.core.engine.kernel import state_copy, state_copy_generated
    from dramok.core.engine.kernel.batch import play_range
    from dramok.core.engine.kernel.state import fields
    from dramok.core.engine.lowering import lower

    found = lower([play_range], fields(), {state_copy.copy: state_copy_generated.copy}, checked())
    return found.text, found.sites


def compile_text(text: str) -> bytes:
    """The object file of an LLVM module for this processor."""
    import llvmlite.binding as llvm

    llvm.initialize_native_target()
    llvm.initialize_native_asmprinter()
    target = llvm.Target.from_triple(llvm.get_process_triple())
    machine = target.create_target_machine(
        opt=2, cpu=llvm.get_host_cpu_name(), features=llvm.get_host_cpu_features().flatten(), reloc="pic", codemodel="small"
    )
    module = llvm.parse_assembly(text)
    module.triple = llvm.get_process_triple()
    module.data_layout = str(machine.target_data)
    module.verify()
    # Loops are short and full of branches: vectorising and unrolling them takes time and gains nothing.
    tuning = llvm.create_pipeline_tuning_options(speed_level=2)
    tuning.loop_vectorization = tuning.slp_vectorization = tuning.loop_unrolling = False
    builder = llvm.create_pass_builder(machine, tuning)
    builder.getModulePassManager().run(module, builder)
    return bytes(machine.emit_object(module))


class LinkedModule:
    """Machine code in memory."""

    def __init__(self, code: bytes) -> None:
        import llvmlite.binding as llvm

        llvm.initialize_native_target()
        llvm.initialize_native_asmprinter()
        machine = llvm.Target.from_triple(llvm.get_process_triple()).create_target_machine()
        self._engine = llvm.create_mcjit_compiler(llvm.parse_assembly(""), machine)
        self._engine.add_object_file(llvm.ObjectFileRef.from_data(code))
        self._engine.finalize_object()

    def function(self, name: str, pointers: int, numbers: int) -> Any:
        """A function of the module that takes pointers and then integers."""
        kinds = [ctypes.c_void_p] * pointers + [ctypes.c_int64] * numbers
        return ctypes.CFUNCTYPE(ctypes.c_int64, *kinds)(self._engine.get_function_address(name))

    def number(self, name: str) -> ctypes.c_int64:
        """A global 64-bit number of the module."""
        return ctypes.c_int64.from_address(self._engine.get_global_value_address(name))


class CompiledKernel:
    """Plays batches of games with machine code; see `match_batch.Runner`."""

    def __init__(self, code: bytes, sites: Sequence[str] = ()) -> None:
        from dramok.core.engine.kernel.state import fields

        self._module = LinkedModule(code)
        self._play = self._module.function("batch.play_range", 7, 5)
        self._size = sum(length or 1 for _, length in fields())
        self._checked, self._sites = checked(), tuple(sites)
        if self._checked:
            self._set_handler()

    def _set_handler(self) -> None:
        from dramok.core.engine.lowering import FAULT

        def report(site: int, index: int, length: int) -> None:
            where = self._sites[site] if site < len(self._sites) else f"site {site}"
            print(f"kernel fault at {where}: index {index} of {length}", file=sys.stderr, flush=True)
            os._exit(FAULT_EXIT)

        self._handler = ctypes.CFUNCTYPE(None, ctypes.c_int64, ctypes.c_int64, ctypes.c_int64)(report)
        self._module.number(FAULT).value = ctypes.cast(self._handler, ctypes.c_void_p).value or 0

    def __call__(
        self, numbers: Sequence[int], decks: Sequence[Sequence[int]], pairs: Sequence[Sequence[int]], seeds: Sequence[Sequence[int]], kinds: int, told: int,
        threads: int,
    ) -> tuple[Any, Any, Any]:  # fmt: skip
        import numpy as np

        from dramok.core.engine.kernel import codes as k
        from dramok.core.engine.kernel.batch import RESULTS, SHEET_ROWS, TALLIES
        from dramok.core.engine.lowering import length_of

        games, seats = len(pairs), len(pairs[0])
        width = max(len(deck) for deck in decks) + 1
        table = np.zeros((len(decks), width), np.int64)
        for place, deck in enumerate(decks):
            table[place, 0] = len(deck)
            table[place, 1 : 1 + len(deck)] = deck
        program = np.array(numbers, np.int64)
        deals = np.ascontiguousarray(np.hstack([np.array(seeds, np.int64), table[np.array(pairs, np.int64)].reshape(games, seats * width)]))
        results = np.zeros((games, RESULTS), np.int64)
        firsts = np.full((games, max(1, told * seats)), k.NONE, np.int64)
        tallies = [np.zeros((numbers[k.H_DEFS] + SHEET_ROWS, TALLIES), np.int64) for _ in range(threads)]
        if self._checked:
            for name, row in (("p", program), ("deals", deals), ("results", results), ("tally", tallies[0]), ("firsts", firsts)):
                self._module.number(length_of(name)).value = row.size
        bounds = [games * part // threads for part in range(threads + 1)]

        def part(number: int) -> None:
            states = np.zeros((2, self._size), np.int64)
            self._play(
                program.ctypes.data, states[0].ctypes.data, states[1].ctypes.data, deals.ctypes.data, results.ctypes.data, tallies[number].ctypes.data, firsts.ctypes.data,
                kinds, width, told, bounds[number], bounds[number + 1],
            )  # fmt: skip

        if threads == 1:
            part(0)
        else:
            with ThreadPoolExecutor(threads) as pool:
                list(pool.map(part, range(threads)))
        return results, sum(tallies), firsts


_loaded: CompiledKernel | None = None


def loaded() -> CompiledKernel | None:
    """The compiled kernel of this process, if `load` was called."""
    return _loaded


def load() -> CompiledKernel:
    """The compiled kernel, from the cache if possible; otherwise it is compiled, which takes some seconds."""
    global _loaded
    with _compile_here:
        if _loaded is None:
            code = _cached()
            sites = translate()[1] if checked() else ()
            if code is None:
                with _lock():
                    code = _cached()
                    if code is None:
                        text, sites = translate()
                        code = compile_text(text)
                        _store(code)
            _loaded = CompiledKernel(code, sites)
        return _loaded
