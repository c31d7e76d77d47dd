"""A `dramok serve` process and a Chromium that opens it, for benchmarks, browser tests and screenshots."""

from __future__ import annotations

import multiprocessing
import shutil
import socket
import time
import urllib.request
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from playwright.sync_api import Browser, Page, sync_playwright

from bench.serving import serve

FLAGS = [
    "--no-sandbox",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    "--no-first-run",
    "--disable-quic",
    # Chromium uses the last list only, so this one repeats the features that Playwright disables. The pages of the address bar are not visible in
    # tests, and opening a window takes three times as long with them.
    "--disable-features=WebUIOmniboxPopup,WebUIOmniboxAimPopup,WebUIOmniboxFullPopup,AvoidUnnecessaryBeforeUnloadCheckSync,"
    "DestroyProfileOnBrowserClose,HttpsUpgrades,HttpsFirstBalancedModeAutoEnable,LensOverlay,MediaRouter,PaintHolding,"
    "ThirdPartyStoragePartitioning,AvoidCorsURLLoaderRestartOnRedirect,OptimizationHints,NetworkTimeServiceQuerying,AimEnabled,"
    "PreconnectToSearch",
]


WORKER_POOL = multiprocessing.get_context("forkserver")
"""Servers are forked from a process that has imported the program's modules and opened its rooms once: each serves as `dramok serve` does,
without repeating that."""
WORKER_POOL.set_forkserver_preload(["bench.opened"])


def free_port() -> int:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


class Server:
    """A server on a port of its own choice, or on a free one; it can be killed and started again on the same database."""

    def __init__(self, db: Path, port: int = 0) -> None:
        self.db = db
        self.port = port or free_port()
        self.url = f"http://127.0.0.1:{self.port}"
        self.start()

    def start(self) -> None:
        self.process = WORKER_POOL.Process(target=serve, args=(str(self.db), self.port), daemon=True)
        self.process.start()
        for _ in range(2400):
            try:
                urllib.request.urlopen(f"{self.url}/api/games", timeout=20).read()
                return
            except OSError:
                time.sleep(0.05)
        raise AssertionError("the server did not start")

    def kill(self) -> None:
        self.process.kill()
        self.process.join()


@contextmanager
def chromium() -> Iterator[Browser]:
    """Debian's Chromium without a screen. Where it is installed, the one that has no windows to keep: pages are drawn alike, in an eighth less time."""
    program = shutil.which("chromium-headless-shell") or shutil.which("chromium")
    assert program, "Chromium is not installed: run 'sudo apt-get install chromium-headless-shell'"
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=program, args=FLAGS)
        yield browser
        browser.close()


@contextmanager
def page_on(db: Path) -> Iterator[tuple[Server, Page]]:
    """A server on a database and a page at 1280x800 that looks at it."""
    server = Server(db)
    try:
        with chromium() as browser:
            yield server, browser.new_page(viewport={"width": 1280, "height": 800})
    finally:
        server.kill()


def watch_keys(page: Page, of: str) -> None:
    """From now on notes in `window.spent` how long each key took until the frame after a change within `of` was painted, in ms; in
    `window.bare` until the next frame, whatever changed."""
    page.evaluate(
        """(of) => {
  window.spent = []; window.bare = []; let down = 0;
  addEventListener('keydown', () => {
    down = performance.now();
    requestAnimationFrame(() => setTimeout(() => window.bare.push(performance.now() - down), 0));
  }, true);
  new MutationObserver(() => { const from = down; if (!from) return; down = 0;
    requestAnimationFrame(() => setTimeout(() => window.spent.push(performance.now() - from), 0)); })
    .observe(document.querySelector(of), {childList: true, subtree: true, attributes: true});
}""",
        of,
    )
