"""What every test may ask for: the demo game, freshly opened, and a small invented game for the core."""

from __future__ import annotations

import shutil
from collections.abc import Iterator
from pathlib import Path

import pytest
from hypothesis import settings

from dramok.studio import Desk, GameSnapshot, open_desk

# The machine may be busy: no test is judged by its time, and a run is the same run twice.
settings.register_profile("dramok", deadline=None, derandomize=True)
settings.load_profile("dramok")

SAMPLES = Path(__file__).parent / "samples"
GAME = "ribbon-season"


@pytest.fixture(scope="session")
def demo_file(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """A database with the demo game, made once; never written to."""
    path = tmp_path_factory.mktemp("demo") / "demo.db"
    open_desk(path).close()
    return path


@pytest.fixture
def db(demo_file: Path, tmp_path: Path) -> Path:
    """A database of the test's own."""
    return Path(shutil.copy(demo_file, tmp_path / "own.db"))


@pytest.fixture
def desk(db: Path) -> Iterator[Desk]:
    opened = open_desk(db)
    yield opened
    opened.close()


@pytest.fixture
def game(desk: Desk) -> GameSnapshot:
    return desk.game(GAME)
