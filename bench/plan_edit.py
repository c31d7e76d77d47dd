"""From a key in a figure of the inspector to the repainted face on the mat, and from an arrow key to the moved placement, at 1,000 cards; as a ratio to a bare key."""

from __future__ import annotations

import tempfile
from pathlib import Path

from bench.large_game import GAME, large_game
from bench.served import page_on, watch_keys

KEYS = 60


def run() -> None:
    with tempfile.TemporaryDirectory() as folder:
        db = Path(folder) / "b.db"
        large_game(db, 1_000).close()
        with page_on(db) as (server, page):
            page.goto(f"{server.url}/{GAME}/faces?plan=f-{GAME}-plant&place=name")
            page.wait_for_selector(".stress-face svg.face")
            page.wait_for_timeout(3000)
            figure = page.locator(".faces-inspector").get_by_label("From left, mm", exact=True)
            figure.focus()
            page.keyboard.press("End")
            watch_keys(page, ".plan-face")
            for number in range(KEYS):
                page.keyboard.press("Backspace" if number % 2 == 0 else str(number % 8 + 1))
                page.wait_for_timeout(90)
            spent, bare = sorted(page.evaluate("spent")), sorted(page.evaluate("bare"))
        p50, p95 = spent[len(spent) // 2], spent[int(len(spent) * 0.95)]
        print(
            f"key in a plan to the repainted face at 1,000 cards: p50 {p50:.0f} ms, p95 {p95:.0f} ms of {len(spent)} (wanted 50); {p95 / bare[int(len(bare) * 0.95)]:.1f} x a bare key"
        )
