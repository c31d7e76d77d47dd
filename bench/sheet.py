"""The grid and the wall in Chromium, queries and large edits in the core: the operations of a day's work in the sheet.

Times in the page are from a key or a wheel to the frame painted after it, p50 and p95, each with a bare page of the same run.
"""

from __future__ import annotations

import tempfile
import time
from collections.abc import Callable
from functools import partial
from pathlib import Path

from playwright.sync_api import Page

from bench.large_game import GAME, large_game
from bench.served import page_on
from dramok.core.cards.query.ordering import SortBy
from dramok.core.cards.query.query import read_query
from dramok.services import Workspace
from dramok.services.cards.card_detail import detail_of
from dramok.services.cards.card_edits import edit_field
from dramok.services.cards.cells import CellEdit, write_cells
from dramok.services.cards.ripples import ripple_of
from dramok.services.cards.search import GameFacts, find
from dramok.services.workspace.rename_references import names_of

MOVES, COMMITS, SCROLLS = 120, 40, 240
# From a key going down to the frame painted after the grid has changed; and to the next frame when nothing waits for it.
WATCH = """() => {
  window.spent = []; let down = 0;
  const stamp = (list, from) => requestAnimationFrame(() => setTimeout(() => list.push(performance.now() - from), 0));
  addEventListener('keydown', () => { down = performance.now(); }, true);
  new MutationObserver(() => { if (!down) return; const from = down; down = 0; stamp(window.spent, from); })
    .observe(document.querySelector('.grid'), {childList: true, subtree: true, attributes: true, characterData: true});
}"""
BARE = "<main class=grid tabindex=0>0</main><script>addEventListener('keydown', () => { document.querySelector('main').textContent++ })</script>"
"""A page that does next to nothing at a key: what the browser and this machine take by themselves."""
FRAMES = """([selector, count, step]) => new Promise(done => {
  const box = document.querySelector(selector); const times = []; let last = performance.now(); let left = count;
  const tick = now => { times.push(now - last); last = now; box.scrollTop += step;
    if (box.scrollTop + box.clientHeight >= box.scrollHeight - 2) box.scrollTop = 0;
    if (--left) requestAnimationFrame(tick); else done(times.slice(2)); };
  requestAnimationFrame(tick);
})"""


def at(numbers: list[float], share: float) -> float:
    return sorted(numbers)[min(len(numbers) - 1, int(len(numbers) * share))]


def said(what: str, spent: list[float], limit: str, bare: list[float] | None = None) -> None:
    ratio = f"; {at(spent, 0.95) / at(bare, 0.95):.1f} x a bare key" if bare else ""
    print(
        f"{what}: p50 {at(spent, 0.5):.1f} ms, p95 {at(spent, 0.95):.1f} ms of {len(spent)} (wanted {limit}){ratio}"
    )


def bare_key(page: Page) -> list[float]:
    page.set_content(BARE)
    page.locator(".grid").focus()
    page.evaluate(WATCH)
    for _ in range(MOVES):
        page.keyboard.press("ArrowDown")
        page.wait_for_timeout(60)
    spent: list[float] = page.evaluate("spent")
    return spent


def moving(page: Page, bare: list[float]) -> None:
    page.locator(".grid").focus()
    page.keyboard.press("Control+Home")
    page.wait_for_timeout(500)
    page.evaluate(WATCH)
    for number in range(MOVES):
        page.keyboard.press("ArrowDown" if number % 3 else "ArrowRight" if number % 2 else "ArrowLeft")
        page.wait_for_timeout(60)
    said("arrow to paint at 10,000 cards", page.evaluate("spent"), "<= 33", bare)


def committing(page: Page, bare: list[float]) -> None:
    page.keyboard.press("Home")
    for _ in range(5):
        page.keyboard.press("ArrowRight")
    page.evaluate("() => { spent.length = 0 }")
    for number in range(COMMITS):
        page.keyboard.press(str(number % 7 + 1))
        page.wait_for_timeout(90)
        page.evaluate("() => { spent.length = 0 }") if number == 0 else None
        page.keyboard.press("Enter")
        page.wait_for_timeout(260)
    spent = page.evaluate("spent")
    # Every second one is the commit; the other opens the cell.
    said("commit to paint at 10,000 cards", spent[1::2] or spent, "<= 100", bare)


def scrolling(page: Page, selector: str, what: str, step: int, wanted: int) -> None:
    times = page.evaluate(FRAMES, [selector, SCROLLS, step])
    rate = 1000 * len(times) / sum(times)
    late = sum(each > 1000 / wanted * 1.5 for each in times)
    print(
        f"{what}: {rate:.0f} frames/s, p95 {at(times, 0.95):.1f} ms a frame, {late} of {len(times)} late (wanted >= {wanted})"
    )


def in_the_page(cards: int, act: Callable[[Page, str], None]) -> None:
    with tempfile.TemporaryDirectory() as folder:
        db = Path(folder) / "b.db"
        large_game(db, cards).close()
        with page_on(db) as (server, page):
            page.goto(f"{server.url}/{GAME}/cards")
            page.wait_for_selector(".pane-face svg.face")
            page.wait_for_timeout(1500 + cards)
            act(page, server.url)


def grid(page: Page, url: str) -> None:
    blank = page.context.new_page()
    bare = bare_key(blank)
    blank.close()
    said("a bare key to paint", bare, "-")
    moving(page, bare)
    committing(page, bare)
    scrolling(page, ".grid", "scrolling 10,000 rows with the face beside them", 90, 60)


def wall(page: Page, url: str) -> None:
    page.goto(f"{url}/{GAME}/cards?as=wall&across=cost&down=bed")
    page.wait_for_selector(".cards-wall-card svg.face")
    page.wait_for_timeout(6000)
    scrolling(page, ".cards-wall", "wall of 1,000 faces, the first time over", 24, 50)
    page.evaluate("document.querySelector('.cards-wall').scrollTop = 0")
    page.wait_for_timeout(1000)
    scrolling(page, ".cards-wall", "wall of 1,000 faces, again", 24, 50)


QUERIES = (
    "cost >= 3",
    "bed is Fern, Moss cost from 2 to 4",
    "not tags has climber or rarity > Grown",
    "outlier height > 2",
    "larch fern",
    "effect has draw type is Plant",
)


def in_the_core() -> None:
    with tempfile.TemporaryDirectory() as folder:
        workspace = large_game(Path(folder) / "q.db", 10_000)
        game = workspace.game(GAME)
        for card in game.cards.values():
            detail_of(game, card)
        begin = time.perf_counter()
        find(workspace, game, "larch")
        print(f"text index of 10,000 cards, the first time: {1000 * (time.perf_counter() - begin):.0f} ms")
        bare = timed(lambda: [card for card in game.cards.values() if card.id])
        for query in QUERIES:
            read, facts = read_query(query, names_of(game)), GameFacts(workspace, game)
            spent = timed(partial(read.answer, facts))
            said(f"query “{query}” over 10,000 cards", spent, "<= 10")
            print(f"    {at(spent, 0.5) / at(bare, 0.5):.1f} x walking the cards")
        said(
            "sorting 10,000 cards by two fields",
            timed(lambda: find(workspace, game, "", [SortBy("rarity"), SortBy("cost", True)]), 10),
            "-",
        )
        pasted(workspace)
        workspace.close()
        workspace = large_game(Path(folder) / "r.db", 1_000)
        edits(workspace)
        workspace.close()


def timed(work: Callable[[], object], rounds: int = 40) -> list[float]:
    times = []
    for _ in range(rounds):
        begin = time.perf_counter()
        work()
        times.append(1000 * (time.perf_counter() - begin))
    return times


def pasted(workspace: Workspace) -> None:
    cards = list(workspace.game(GAME).cards)[:500]
    times = []
    for number in range(1, 8):
        cells = [
            CellEdit(card, field, text)
            for card in cards
            for field, text in (
                ("cost", str(number)),
                ("copies", str(number)),
                ("name", f"Pasted {number}"),
                ("tags", f"tag {number}"),
            )
        ]
        begin = time.perf_counter()
        done = write_cells(workspace, GAME, cells, workspace.game(GAME).seq, "bench")
        assert done.commit
        ripple_of(done.commit)
        times.append(1000 * (time.perf_counter() - begin))
    said("paste of 2,000 cells as one step at 10,000 cards, with ripples", times, "<= 1,000")


def edits(workspace: Workspace) -> None:
    game = workspace.game(GAME)
    for card in game.cards.values():
        detail_of(game, card)
    times = []
    for number, card in enumerate(list(game.cards.values())[:60]):
        commit = edit_field(
            workspace,
            GAME,
            card.id,
            "cost",
            str((card.number("cost") or 0) % 7 + 1),
            workspace.game(GAME).seq,
            f"page {number}",
        )
        begin = time.perf_counter()
        ripple_of(commit)
        times.append(1000 * (time.perf_counter() - begin))
    said("ripples of one edit at 1,000 cards", times, "<= 150")


def run() -> None:
    in_the_core()
    in_the_page(10_000, grid)
    in_the_page(1_000, wall)
