"""From Tab in the last line of the grid to the focus in the next cell of the new row, with one second of network delay; as a ratio to a bare key."""

from __future__ import annotations

import tempfile
from pathlib import Path

from bench.large_game import GAME, large_game
from bench.served import page_on

ROWS = 40
AWAY = """() => { const real = window.fetch; window.fetch = async (...asked) => { const answer = await real(...asked);
  await new Promise((done) => setTimeout(done, 1000)); return answer; }; }"""
WATCH = """() => {
  window.spent = []; window.bare = []; let down = 0;
  const grid = document.querySelector(".grid");
  addEventListener("keydown", (event) => {
    const from = performance.now();
    if (event.key === "Tab") down = from;
    else requestAnimationFrame(() => setTimeout(() => window.bare.push(performance.now() - from), 0));
  }, true);
  new MutationObserver(() => { const from = down; if (!from) return; down = 0;
    requestAnimationFrame(() => setTimeout(() => window.spent.push(performance.now() - from), 0)); })
    .observe(grid, { attributes: true, attributeFilter: ["aria-activedescendant"] });
}"""


def run() -> None:
    with tempfile.TemporaryDirectory() as folder:
        db = Path(folder) / "b.db"
        large_game(db, 1000).close()
        with page_on(db) as (server, page):
            page.goto(f"{server.url}/{GAME}/cards")
            page.wait_for_selector(".pane-face svg.face")
            page.wait_for_timeout(3000)
            page.evaluate(AWAY)
            page.locator(".grid").focus()
            page.evaluate(WATCH)
            for number in range(ROWS):
                page.keyboard.press("Control+End")
                page.keyboard.press("ArrowDown")
                page.keyboard.press("Home")
                page.keyboard.press("ArrowRight")
                page.keyboard.type(f"New {number}")
                page.keyboard.press("Tab")
                page.wait_for_timeout(60)
            spent, bare = sorted(page.evaluate("spent")), sorted(page.evaluate("bare"))
    p50, p95 = spent[len(spent) // 2], spent[int(len(spent) * 0.95)]
    print(
        f"new row to focus, the server 1 s away, at 1,000 cards: p50 {p50:.0f} ms, p95 {p95:.0f} ms of {len(spent)} (wanted 33); "
        f"{p95 / bare[int(len(bare) * 0.95)]:.1f} x a bare key"
    )
