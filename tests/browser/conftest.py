"""A running server with the demo game, and a page driven in Chromium."""

from __future__ import annotations

import shutil
import socket
import subprocess
import sys
import time
import urllib.request
from collections.abc import Iterator
from pathlib import Path

import pytest
from playwright.sync_api import Page, sync_playwright

FLAGS = [
    "--no-sandbox",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    "--no-first-run",
    "--disable-quic",
]
GAME = "ribbon-season"


class Server:
    """A `dramok serve` of its own; can be killed and started again on the same database."""

    def __init__(self, db: Path) -> None:
        self.db = db
        with socket.socket() as probe:
            probe.bind(("127.0.0.1", 0))
            self.port = probe.getsockname()[1]
        self.url = f"http://127.0.0.1:{self.port}"
        self.start()

    def start(self) -> None:
        command = [sys.executable, "-m", "dramok", "serve", "--db", str(self.db), "--port", str(self.port)]
        self.process = subprocess.Popen(command, stdout=subprocess.DEVNULL)
        for _ in range(300):
            try:
                urllib.request.urlopen(f"{self.url}/api/games", timeout=5).read()
                return
            except OSError:
                time.sleep(0.05)
        raise AssertionError("the server did not start")

    def kill(self) -> None:
        self.process.kill()
        self.process.wait()


@pytest.fixture
def server(demo_file: Path, tmp_path: Path) -> Iterator[Server]:
    made = Server(Path(shutil.copy(demo_file, tmp_path / "browser.db")))
    yield made
    made.kill()


@pytest.fixture(scope="session")
def chromium():
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=FLAGS)
        yield browser
        browser.close()


@pytest.fixture
def page(chromium, server: Server) -> Iterator[Page]:
    """A page at 1280x800 that may not raise an error."""
    context = chromium.new_context(viewport={"width": 1280, "height": 800}, reduced_motion="reduce")
    context.set_default_timeout(10_000)
    made = context.new_page()
    errors: list[str] = []
    made.on("pageerror", lambda error: errors.append(str(error)))
    made.goto(server.url)
    made.wait_for_selector(".pane-face svg.face")
    yield made
    context.close()
    assert not errors
