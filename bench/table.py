"""The table: a decision until it is painted, stepping through the log, frame rate while a card is dragged, an edit until the first hand."""

from __future__ import annotations

import tempfile
import time
from pathlib import Path

from playwright.sync_api import Page

from bench.served import Server, chromium
from dramok.services import open_workspace
from dramok.services.games.demo_world import fill

GAME = "ribbon-season"
DECISIONS = 60
PAINTED = """(done) => new Promise((resolve) => {
  const room = document.querySelector('.table-room'), stood = room.dataset.taken, begun = performance.now();
  const look = () => { const now = document.querySelector('.table-room');
    if (now && now.dataset.taken !== stood) requestAnimationFrame(() => setTimeout(() => resolve(performance.now() - begun), 0));
    else requestAnimationFrame(look); };
  const card = document.querySelector('.table-card:not(.table-still) button.table-face'), next = document.querySelector('.asked-next');
  if (document.querySelector('.match-summary')) return resolve(-1);
  (card && Math.random() < 0.7 ? card : next ?? card).click(); look(); })"""
FRAMES = """() => new Promise((resolve) => { const times = []; const tick = (at) => { times.push(at); times.length < 90 ? requestAnimationFrame(tick) : resolve(times); };
  window.carriedFrames = times; requestAnimationFrame(tick); })"""


def run() -> None:
    with tempfile.TemporaryDirectory() as folder, chromium() as browser:
        workspace = open_workspace(Path(folder) / "table.db")
        fill(workspace, (GAME,))
        workspace.close()
        server = Server(Path(folder) / "table.db")
        try:
            page = browser.new_page(viewport={"width": 1280, "height": 800})
            took = _decisions(page, server)
            print(f"a decision until it is painted, {len(took)} of them: median {took[len(took) // 2]:.0f} ms, p95 {took[len(took) * 95 // 100]:.0f} ms (wanted 60)")
            print(f"a step back or forth in the log: {_walk(page):.0f} ms at the most (wanted 50)")
            _carried(page, server)
            page.goto(f"{server.url}/{GAME}/cards?card=c-{GAME}-rs-001")
            page.wait_for_selector(".pane-face svg.face")
            begun = time.perf_counter()
            page.get_by_role("button", name="In hand").click()
            page.wait_for_selector(".hand .table-card")
            print(f"from a card to its first hand: {time.perf_counter() - begun:.2f} s (wanted 1)")
        finally:
            server.kill()


def _begin(page: Page, server: Server, seed: str) -> None:
    page.goto(f"{server.url}/{GAME}/playtest")
    page.get_by_label("Seed").fill(seed)
    page.keyboard.press("Enter")
    page.wait_for_selector(".hand .table-card")


def _decisions(page: Page, server: Server) -> list[float]:
    took: list[float] = []
    for seed in range(1, 40):
        _begin(page, server, str(seed))
        while len(took) < DECISIONS:
            found = float(page.evaluate(PAINTED))
            if found < 0:
                break
            took.append(found)
        if len(took) >= DECISIONS:
            break
    return sorted(took)


def _walk(page: Page) -> float:
    most = 0.0
    for key in "bbbbffb":
        begun = time.perf_counter()
        with page.expect_response("**/playtests/*?at=*"):
            page.keyboard.press(key)
        page.evaluate("() => new Promise((resolve) => requestAnimationFrame(() => setTimeout(resolve, 0)))")
        most = max(most, time.perf_counter() - begun)
    page.keyboard.press("Escape")
    return 1000 * most


def _carried(page: Page, server: Server) -> None:
    """Frames while a card is carried over a table of 24 cards in play and 15 in hand."""
    _begin(page, server, "7")
    page.keyboard.press("n")
    page.wait_for_selector(".hand .table-card:not(.table-still)")
    page.evaluate(
        """() => { const more = (list, card, count) => { while (list.children.length < count) list.append(card.cloneNode(true)); };
        const hand = document.querySelector('.hand'), one = hand.children[0], face = one.cloneNode(true); face.className = 'table-card table-rival';
        for (const list of document.querySelectorAll('.in-play-cards')) more(list, face, 12); more(hand, one, 15); }"""
    )
    box = page.locator(".hand .table-card:not(.table-still)").first.bounding_box()
    assert box is not None
    page.mouse.move(box["x"] + 20, box["y"] + 20)
    page.mouse.down()
    page.mouse.move(box["x"] + 40, box["y"] - 30, steps=4)
    page.evaluate("() => { window.frames90 = (" + FRAMES + ")(); }")
    for step in range(40):
        page.mouse.move(200 + step * 14, 200 + (step % 7) * 30)
    times = page.evaluate("() => window.frames90")
    gaps = sorted(after - before for before, after in zip(times, times[1:], strict=False))
    page.keyboard.press("Escape")
    page.mouse.up()
    print(f"frames while a card is carried: median {1000 / gaps[len(gaps) // 2]:.0f} a second, slowest {gaps[-1]:.0f} ms (wanted 60)")
