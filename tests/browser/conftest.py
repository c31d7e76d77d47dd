"""A running server with the demo game, and a page driven in Chromium."""

from __future__ import annotations

import shutil
from collections.abc import Iterator
from pathlib import Path

import pytest
from bench.served import Server
from bench.served import chromium as open_chromium
from playwright.sync_api import Page, expect

GAME = "ribbon-season"

# A busy machine may take its time; what is waited for is named, never a time.
expect.set_options(timeout=30_000)


@pytest.fixture
def server(demo_file: Path, tmp_path: Path) -> Iterator[Server]:
    made = Server(Path(shutil.copy(demo_file, tmp_path / "browser.db")))
    yield made
    made.kill()


@pytest.fixture(scope="session")
def chromium():
    with open_chromium() as browser:
        yield browser


@pytest.fixture
def page(chromium, server: Server) -> Iterator[Page]:
    """A page at 1280x800 that may not raise an error."""
    context = chromium.new_context(viewport={"width": 1280, "height": 800}, reduced_motion="reduce")
    context.set_default_timeout(30_000)
    made = context.new_page()
    errors: list[str] = []
    made.on("pageerror", lambda error: errors.append(str(error)))
    made.goto(server.url)
    made.wait_for_selector(".pane-face svg.face")
    yield made
    context.close()
    assert not errors


def played_alone(page: Page, server: Server, game: str = GAME) -> None:
    """From here on the game says nothing of how it is played: one seat that draws, plays and discards as it likes."""
    # The zone and the phase that cards speak of stay.
    alone = {"seats": 1, "free": True, "zones": [{"id": "forecast", "name": "Forecast"}]}
    does = [{"do": "grow", "first": "none"}, {"do": "draw", "first": "none"}, {"do": "play"}]
    alone["phases"] = [{"id": "dawn", "name": "Turn", "does": does}]
    done = page.request.put(f"{server.url}/api/games/{game}/rules/parts/play", data={"value": alone}, headers={"x-page": "rules"})
    assert done.ok, done.text()
