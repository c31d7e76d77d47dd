"""A user's own game: from a sheet of 200 lines to its first painted face; worths on a map of 1,000 cards; phrases that 1,000 cards use; a shelf of 50 games."""

from __future__ import annotations

import json
import random
import re
import tempfile
import time
from pathlib import Path

import httpx
from playwright.sync_api import Page

from bench.large_game import GAME, large_game
from bench.served import Server, page_on, watch_keys
from dramok.services import Workspace, open_workspace
from dramok.services.games.games import begin
from dramok.services.rules.rules_preview import preview_phrases, preview_prices
from dramok.store import Change
from dramok.store.json_documents import write_value

KEYS = 40
NEW_WORDS = """() => [...document.querySelectorAll('.cards-wall-card svg.face')].filter((each) => {
  const box = each.getBoundingClientRect();
  return box.top < innerHeight && box.bottom > 0 && box.left < innerWidth && box.right > 0;
}).every((each) => /draw (one|\\d)/i.test(each.textContent.replace(/\\s+/g, ' ')))"""


def _until(page: Page, true: str) -> None:
    """Asks until it is so: the page lets no text be run as script."""
    for _ in range(3000):
        if page.evaluate(true):
            return
        time.sleep(0.02)
    raise AssertionError(f"never so: {true}")


def sheet_to_face(folder: Path) -> None:
    dice = random.Random(7)
    lines = ["Title,Guild,Cost,Pluck,Type,Rules text"]
    for number in range(200):
        lines.append(
            f"Card {number},{dice.choice(['Amber', 'Basin', 'Cobalt'])},{dice.randint(0, 8)},{dice.randint(1, 9)},{dice.choice(['Beast', 'Place'])},Draw {number % 3} cards."
        )
    path = folder / "mine.csv"
    path.write_text("\n".join(lines))
    with page_on(folder / "empty.db") as (server, page):
        page.goto(server.url)
        with page.expect_file_chooser() as chooser:
            page.get_by_role("button", name=re.compile("From a sheet")).click()
        begun = time.perf_counter()
        chooser.value.set_files(path)
        go = page.get_by_role("button", name=re.compile("^Begin with 200 cards"))
        go.wait_for()
        looked = time.perf_counter()
        go.click()
        page.wait_for_selector(".pane-face svg.face")
        done = time.perf_counter()
    print(
        f"sheet of 200 lines to the first painted face: {done - begun:.2f} s, of that {looked - begun:.2f} s to look at it (wanted 3)"
    )


def worths_on_the_map(folder: Path) -> None:
    db = folder / "worths.db"
    workspace = large_game(db, 1000)
    game = workspace.game(GAME)
    prices = game.rules["prices"]
    alone = []
    for number in range(20):
        value = {**prices, "stats": {**prices["stats"], "height": f"1.{number:02}"}}
        begun = time.perf_counter()
        preview_prices(workspace, game, value)
        alone.append((time.perf_counter() - begun) * 1000)
    workspace.close()
    with page_on(db) as (server, page):
        page.goto(f"{server.url}/{GAME}/rules?at=game:prices")
        page.wait_for_selector(".worths-map .map-mark")
        page.get_by_role("grid", name="Worth of a point, editable").get_by_role(
            "gridcell", name=re.compile("^A point, Height")
        ).click()
        page.keyboard.type("1.")
        # The server lays faces out ahead after its start, as elsewhere it is waited for.
        page.wait_for_timeout(8000)
        watch_keys(page, ".worths-map svg")
        for number in range(KEYS):
            page.keyboard.press("Backspace" if number % 2 else str(number % 8 + 1))
            page.wait_for_timeout(350)
        spent, bare = sorted(page.evaluate("spent")), sorted(page.evaluate("bare"))
    p95 = spent[int(len(spent) * 0.95)]
    print(
        f"worth typed to the moved map of 1,000 cards: p50 {spent[len(spent) // 2]:.0f} ms, p95 {p95:.0f} ms of {len(spent)} (wanted 150); "
        f"{p95 / max(1, bare[int(len(bare) * 0.95)]):.1f} x a bare key; the server's part {sorted(alone)[10]:.0f} ms"
    )


def phrases(folder: Path) -> None:
    db = folder / "phrases.db"
    workspace = large_game(db, 1000)
    game = workspace.game(GAME)
    sayers = [card for card in game.cards.values() if "draw" in card.script("effect").model_dump_json()]
    _all_say(workspace, [card.id for card in game.cards.values()], sayers[0].values["effect"])
    game = workspace.game(GAME)
    words = game.rules["phrases"]
    value = {**words, "verbs": {**words["verbs"], "draw": "draw one card {each}", "draws": "draw {n}"}}
    begun = time.perf_counter()
    look = preview_phrases(game, value, "verbs/draw")
    counted = (time.perf_counter() - begun) * 1000
    workspace.close()
    with page_on(db) as (server, page):
        page.goto(f"{server.url}/{GAME}/cards?as=wall")
        page.wait_for_selector(".cards-wall-card svg.face text")
        page.wait_for_timeout(4000)
        spent = _repainted(page, server, value)
    print(
        f"a phrase that {look.reworded:,} cards say: counted in {counted:.0f} ms (wanted 300); written to every face in sight painted anew {spent:.0f} ms (wanted 1,000)"
    )


def _all_say(workspace: Workspace, ids: list[str], effect: object) -> None:
    text = json.dumps(write_value(effect))  # type: ignore[arg-type]
    changes = [Change("card", ident, "effect", None, text) for ident in ids]
    workspace.commit(GAME, "all say it", "bench", lambda now: changes)


def _repainted(page: Page, server: Server, value: object) -> float:
    """From the edit until no face in sight holds the old words."""
    headers = {"idempotency-key": "bench-phrase", "x-page": "bench"}
    begun = time.perf_counter()
    httpx.put(
        f"{server.url}/api/games/{GAME}/rules/parts/phrases",
        json={"value": value},
        headers=headers,
        timeout=60,
    ).raise_for_status()
    _until(page, NEW_WORDS)
    return (time.perf_counter() - begun) * 1000


def shelf(folder: Path) -> None:
    db = folder / "shelf.db"
    workspace = open_workspace(db, demo=False)
    for number in range(50):
        begin(workspace, f"Game {number}", ("duel", "builder", "placement", "solo")[number % 4])
    workspace.close()
    with page_on(db) as (server, page):
        times = []
        for _ in range(3):
            begun = time.perf_counter()
            page.goto(f"{server.url}/shelf")
            _until(page, "() => document.querySelectorAll('.tile').length >= 50")
            page.wait_for_selector(".tile svg")
            times.append(time.perf_counter() - begun)
    print(
        f"shelf of 50 games, with faces: {times[0]:.2f} s at first, {sorted(times)[1]:.2f} s in the middle (wanted 1)"
    )


def run() -> None:
    for one in (sheet_to_face, worths_on_the_map, phrases, shelf):
        with tempfile.TemporaryDirectory() as folder:
            one(Path(folder))
