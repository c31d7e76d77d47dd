"""From a key in a cell to the repainted face in Chromium, p50 and p95, at 96 and 1,000 cards; as a ratio to a bare key."""

from __future__ import annotations

import tempfile
from pathlib import Path

from playwright.sync_api import Page

from bench.large_game import GAME, large_game
from bench.served import page_on, watch_keys

KEYS = 80
SIZES = (96, 1000, 10_000)


def measure(page: Page) -> tuple[list[float], list[float]]:
    page.wait_for_selector(".pane-face svg.face")
    page.locator(".grid").focus()
    page.keyboard.press("Home")
    for _ in range(6):
        page.keyboard.press("ArrowRight")
    page.keyboard.type("1")
    page.wait_for_timeout(400)
    watch_keys(page, ".pane-face")
    for number in range(KEYS):
        page.keyboard.press("Backspace" if number % 2 == 0 else str(number % 8 + 1))
        page.wait_for_timeout(70)
    return sorted(page.evaluate("spent")), sorted(page.evaluate("bare"))


def run() -> None:
    found: dict[int, float] = {}
    for cards in SIZES:
        with tempfile.TemporaryDirectory() as folder:
            db = Path(folder) / "b.db"
            large_game(db, cards).close()
            with page_on(db) as (server, page):
                page.goto(f"{server.url}/{GAME}/cards")
                page.wait_for_selector(".pane-face svg.face")
                page.wait_for_timeout(1500 + cards)
                spent, bare = measure(page)
            p50, p95 = spent[len(spent) // 2], spent[int(len(spent) * 0.95)]
            found[cards] = p95
            print(
                f"key to repainted face at {cards:,} cards: p50 {p50:.0f} ms, p95 {p95:.0f} ms of {len(spent)} (wanted 50); {p95 / bare[int(len(bare) * 0.95)]:.1f} x a bare key"
            )
    print(f"key to repainted face, 10,000 cards against 1,000: {found[10_000] / found[1000]:.2f} x (wanted 1.2)")
