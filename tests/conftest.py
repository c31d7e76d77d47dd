"""Shared fixtures: the demo game, freshly opened, and a small invented game for the core."""

from __future__ import annotations

import gc
import os
import random
import shutil
from collections.abc import Generator, Iterator
from pathlib import Path
from typing import Any

import pytest
from hypothesis import HealthCheck, settings

from dramok.services import GameSnapshot, Workspace, open_workspace

# The machine may be busy: no test is judged by its time. What is generated differs from run to run by a printed seed.
settings.register_profile("dramok", deadline=None, print_blob=True, suppress_health_check=[HealthCheck.too_slow])
settings.load_profile("dramok")
# As in the server: looking through all lasting objects for rings, as often as by default, takes a tenth of the time.
gc.set_threshold(50_000, 20, 100)
os.environ.setdefault("DRAMOK_CHECKED_KERNEL", "1")
SEED = int(os.environ.setdefault("DRAMOK_SEED", str(random.randrange(10**6))))


def pytest_configure(config: pytest.Config) -> None:
    if config.option.hypothesis_seed is None:
        config.option.hypothesis_seed = str(SEED)


def pytest_report_header() -> str:
    return f"generated input by seed {SEED}: DRAMOK_SEED={SEED} makes it again"


@pytest.hookimpl(wrapper=True)
def pytest_runtest_makereport(item: pytest.Item) -> Generator[None, pytest.TestReport, pytest.TestReport]:
    report = yield
    if report.failed:
        report.sections.append(("generated input", f"DRAMOK_SEED={SEED} makes it again"))
    return report


SLOWEST = 40
TIMES = Path(__file__).parent.parent / ".test-times"


def pytest_terminal_summary(terminalreporter: pytest.TerminalReporter, config: pytest.Config) -> None:
    """Write the slowest tests of a whole run for `make test-times`: seconds, phase and name."""
    if hasattr(config, "workerinput") or config.option.keyword or config.args not in (["tests"], [str(TIMES.parent / "tests")]):
        return
    reports = [each for found in terminalreporter.stats.values() for each in found if hasattr(each, "duration")]
    reports.sort(key=lambda each: -each.duration)
    total = sum(each.duration for each in reports)
    lines = [f"{each.duration:8.2f} s  {each.when:8}  {each.nodeid}" for each in reports[:SLOWEST]]
    TIMES.write_text("\n".join([f"{total:.0f} s of {len({each.nodeid for each in reports})} tests; the {SLOWEST} slowest:", *lines, ""]), encoding="utf-8")


@pytest.fixture(scope="session")
def chromium() -> Iterator[Any]:
    """The one browser of a test process. Playwright keeps its event loop for as long as the browser is open, so that a second one cannot be
    started in the same process.
    """
    from bench.served import chromium as open_chromium

    with open_chromium() as browser:
        yield browser


SAMPLES = Path(__file__).parent / "samples"
GAME = "ribbon-season"
A_BUSY_MACHINES = 600
"""Seconds for one request, or one wait: what has not come by then hangs."""


@pytest.fixture(scope="session")
def demo_file(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """A database with the demo game, made once; never written to."""
    path = tmp_path_factory.mktemp("demo") / "demo.db"
    open_workspace(path).close()
    return path


@pytest.fixture
def db(demo_file: Path, tmp_path: Path) -> Path:
    """A database of the test's own."""
    return Path(shutil.copy(demo_file, tmp_path / "own.db"))


@pytest.fixture
def workspace(db: Path) -> Iterator[Workspace]:
    opened = open_workspace(db)
    yield opened
    opened.close()


@pytest.fixture
def game(workspace: Workspace) -> GameSnapshot:
    return workspace.game(GAME)
