"""Every benchmark can be called: none is left behind by a move of what it measures."""

from __future__ import annotations

import pkgutil

import bench
from bench.__main__ import ALL

HELPERS = {"large_game", "opened", "served"}


def test_every_module_of_the_bench_is_offered() -> None:
    modules = {each.name for each in pkgutil.iter_modules(bench.__path__)} - HELPERS - {"__main__"}
    assert {work.__module__.removeprefix("bench.") for work in ALL.values()} == modules
    assert all(callable(work) for work in ALL.values())
