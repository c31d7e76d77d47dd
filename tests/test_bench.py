"""Every benchmark can be called, so that a moved module breaks no benchmark unnoticed."""

from __future__ import annotations

import pkgutil
import subprocess
import sys

import bench
from bench.__main__ import ALL

HELPERS = {"large_game", "opened", "served", "serving", "wild"}


def test_every_module_of_the_bench_is_offered() -> None:
    modules = {each.name for each in pkgutil.iter_modules(bench.__path__)} - HELPERS - {"__main__"}
    assert {work.__module__.removeprefix("bench.") for work in ALL.values()} == modules
    assert all(callable(work) for work in ALL.values())


def test_a_forked_server_reads_nothing_of_what_drives_a_browser() -> None:
    told = subprocess.run([sys.executable, "-c", "import sys, bench.opened, bench.serving; print('playwright' in sys.modules, 'numpy' in sys.modules)"], capture_output=True, text=True, check=True)
    assert told.stdout.split() == ["False", "True"]
