"""Text typed at full speed is stored as typed, however slow, unordered and lossy the network is."""

from __future__ import annotations

import json
import re
from random import Random

from playwright.sync_api import Page, expect

from dramok.core.problem import fold
from tests.browser.conftest import GAME, LONG, Server, at_rest, intercept, played_alone
from tests.browser.poor_network import make_good, make_poor
from tests.browser.test_journey import STRIP, stand_on
from tests.browser.test_nothing_lost import ask
from tests.browser.test_price_sheet import cell, clip, keys
from tests.conftest import SEED

MANY = 60
"""More rows than the grid shows at once."""
WORDS = ["silver", "drizzle", "copper", "larch", "lantern", "moss", "ladder", "frond", "hedge", "puddle", "cistern", "willow", "amber", "bracken"]


def saved(page: Page) -> None:
    expect(page.locator(".saved")).to_have_text("All saved", timeout=LONG)


def last_line(page: Page, column: str = "name") -> None:
    """Stands in the last line of the grid, in a column."""
    page.locator(".grid").focus()
    keys(page, "Control+End", "ArrowDown", "Home")
    for _ in range(16):
        if (page.locator(".grid").get_attribute("aria-activedescendant") or "").endswith(f"-{column}"):
            return
        keys(page, "ArrowRight")
    raise AssertionError(column)


def columns_from(page: Page, first: str, last: str) -> list[str]:
    """The columns of the grid between two, by id, in the order in which Tab reaches them."""
    ids = page.evaluate("[...document.querySelectorAll('.grid-row [role=gridcell]')].map((each) => each.id)")
    found = list(dict.fromkeys(each.rsplit("-", 1)[1] for each in ids))
    return found[found.index(first) : found.index(last) + 1]


def cards_named(server: Server, names: set[str]) -> dict[str, dict]:
    found = [each for each in ask(server, "GET", "/cards")["cards"] if each["title"] in names]
    assert len(found) == len({each["title"] for each in found}), "no card was made twice"
    return {each["title"]: each for each in found}


def typed_name(random: Random, number: int) -> str:
    return f"{' '.join(random.sample(WORDS, 2))} {number}"


def test_new_rows_are_stored_as_they_were_typed(page: Page, server: Server):
    random = Random(SEED)
    last_line(page)
    between = columns_from(page, "name", "cost")
    make_poor(page, SEED)
    wanted = {}
    for number in range(9):
        name, cost = typed_name(random, number), str(random.randint(0, 6))
        wanted[name] = cost
        page.keyboard.type(name)
        for column in between[1:]:
            keys(page, "Tab")
            if column == "cost":
                page.keyboard.type(cost)
        # Enter after the run of Tabs goes back to where it began, in the next new line.
        keys(page, "Enter")
    expect(page.locator(".grid")).to_have_attribute("aria-activedescendant", "cell-+new-name")
    saved(page)
    made = make_good(page)
    assert made["requests"] > 18, made
    found = cards_named(server, set(wanted))
    assert {name: each["values"]["cost"] for name, each in found.items()} == wanted
    assert ask(server, "GET", "/cards")["total"] == 96 + 9, "no row more"
    # They are below each other as they were typed, with no Refresh needed.
    names = page.evaluate("[...document.querySelectorAll('[role=row] [id$=-name]')].map((each) => each.innerText)")
    assert [each for each in names if each in wanted] == list(wanted)


def test_cells_down_a_column_and_back_are_stored_as_they_were_typed(page: Page, server: Server):
    random = Random(SEED)
    stand_on(page, "Copper Larch Fern", "cost")
    make_poor(page, SEED)
    wanted = [str(random.randint(0, 6)) for _ in range(14)]
    for value in wanted:
        page.keyboard.type(value)
        keys(page, "Enter")
    # Back up: the last is written over, and over again.
    for value in ("1", "2", "3"):
        keys(page, "ArrowUp")
        page.keyboard.type(value)
        keys(page, "Enter")
    wanted[-1] = "3"
    saved(page)
    make_good(page)
    stored = {each["code"]: each["values"]["cost"] for each in ask(server, "GET", "/cards")["cards"]}
    assert [stored[f"RS-{number:03}"] for number in range(1, 15)] == wanted
    for number, value in enumerate(wanted, 1):
        expect(cell(page, f"RS-{number:03}", "cost")).to_have_text(value)


def test_effects_are_stored_as_they_were_typed_also_before_the_editor_has_come(page: Page, server: Server):
    random = Random(SEED)
    stand_on(page, "Copper Larch Fern", "effect")
    make_poor(page, SEED)
    wanted = []
    for _ in range(5):
        lines = [f"upon {random.choice(['play', 'enter', 'leave'])} this: draw {random.randint(1, 4)}" for _ in range(random.randint(1, 3))]
        wanted.append("\n".join(lines))
        # Into the box, over what is there.
        keys(page, "Enter", "Control+a")
        for place, line in enumerate(lines):
            if place:
                keys(page, "Enter")
            page.keyboard.type(line)
            # The list of suggestions does not take the next Enter.
            keys(page, "Space", "Backspace")
        keys(page, "Control+Enter", "ArrowDown")
    saved(page)
    make_good(page)
    stored = {each["code"]: each["values"].get("effect", "") for each in ask(server, "GET", "/cards")["cards"]}
    assert [stored[f"RS-{number:03}"] for number in range(1, 6)] == wanted


def test_a_decklist_is_stored_as_it_was_typed(page: Page, server: Server):
    random = Random(SEED)
    deck = ask(server, "POST", "/decks", {"name": "Typed"})["decks"][0]["id"]
    page.goto(f"{server.url}/{GAME}/decks?deck={deck}")
    box = page.get_by_role("combobox", name="Put in a card by its name")
    expect(box).to_be_visible()
    cards = random.sample(ask(server, "GET", "/cards")["cards"], 10)
    alone = [each for each in cards if sum(fold(each["title"]) in fold(other["title"]) for other in cards) == 1]
    make_poor(page, SEED)
    wanted: dict[str, int] = {}
    box.focus()
    for each in alone + alone[:3]:
        count = random.randint(1, 3)
        wanted[each["id"]] = wanted.get(each["id"], 0) + count
        page.keyboard.type(f"{count} {each['title']}")
        keys(page, "Enter")
    saved(page)
    make_good(page)
    (stored,) = [each for each in page.request.get(f"{server.url}/api/games/{GAME}/decks").json() if each["id"] == deck]
    assert stored["cards"] == wanted


def test_keys_at_the_table_are_all_handled_in_order(page: Page, server: Server):
    played_alone(page, server)
    page.goto(f"{server.url}/{GAME}/playtest")
    page.get_by_label("Seed").fill("7")
    keys(page, "Enter")
    hand = page.locator(".hand .table-card")
    expect(hand).to_have_count(5)
    expect(hand.first.locator("button.table-face")).to_be_focused()
    make_poor(page, SEED, most=1500)
    # Drawn, and undone below what was dealt; the last number of decisions is met at no step before it.
    keys(page, "d", "Control+z", "d", "Control+z", "Control+z", "d", "d")
    expect(page.locator(".table-room")).to_have_attribute("data-taken", "2", timeout=LONG)
    expect(hand).to_have_count(7)
    make_good(page)
    table = re.search(r"table=([\w-]+)", page.url)
    assert table
    stored = page.request.get(f"{server.url}/api/games/{GAME}/playtests/{table[1]}").json()
    assert stored["taken"] == 2


def test_the_rules_are_stored_as_they_were_typed(page: Page, server: Server):
    """Worths, a choice list, keywords, resources and the fields of a type: in each the next line is typed before the one before it is answered."""
    page.goto(f"{server.url}/{GAME}/rules?at=game:prices")
    stats = page.get_by_role("grid", name="Worth of a point, editable")
    stats.get_by_role("gridcell", name=re.compile("^A point")).first.click()
    make_poor(page, SEED)
    for value in ("0.5", "1.25"):
        page.keyboard.type(value)
        keys(page, "Enter")
    # A new worth from the last line: what is typed after Tab belongs to it.
    page.get_by_role("grid", name="Worth of effects, editable").get_by_role("gridcell", name=re.compile("^Effect, a new worth")).click()
    page.keyboard.type("rev")
    keys(page, "Tab")
    expect(page.get_by_role("grid", name="Worth of effects, editable")).to_be_focused()
    active = page.locator("[role=grid]:focus").get_attribute("aria-activedescendant") or ""
    assert "reveal" in active, active
    saved(page)
    make_good(page)
    prices = ask(server, "GET", "/rules/parts")["parts"]["prices"]
    assert list(prices["stats"].values()) == ["0.5", "1.25"], prices["stats"]
    assert [row["verb"] for row in prices["rows"]][-1] == "reveal" and sum(row["verb"] == "reveal" for row in prices["rows"]) == 1
    for at, label, names in [
        ("keywords:all", "New keyword", ["Brisk", "Sodden", "Nimble", "Hollow"]),
        ("game:resources", "New resource", ["Pluck", "Echo", "Warmth"]),
        ("list:beds", "New values", ["Reed", "Sedge", "Rush", "Clover"]),
        ("type:plant", "Name of a new field", ["Girth", "Shade", "Thirst"]),
    ]:
        page.goto(f"{server.url}/{GAME}/rules?at={at}")
        box = page.get_by_role("textbox", name=label, exact=True)
        box.focus()
        make_poor(page, SEED)
        for name in names:
            page.keyboard.type(name)
            keys(page, "Enter")
        saved(page)
        make_good(page)
        expect(box).to_have_value("")
        text = json.dumps(ask(server, "GET", "/rules")) + json.dumps(ask(server, "GET", "/rules/parts"))
        for name in names:
            assert f'"{name}"' in text, (at, name)


def test_rows_typed_while_the_server_is_away_are_all_stored_once_it_is_back(page: Page, server: Server):
    random = Random(SEED)
    last_line(page)
    server.kill()
    names = [typed_name(random, number) for number in range(MANY)]
    for name in names:
        page.keyboard.type(name)
        keys(page, "Enter")
    expect(page.get_by_role("contentinfo")).to_contain_text("can't be reached")
    expect(page.locator(".toolbar-low")).to_contain_text(f"{96 + MANY} of {96 + MANY} cards")
    # A cell of a row that is not stored yet.
    keys(page, "ArrowUp", "ArrowUp")
    page.keyboard.type("Retyped")
    keys(page, "Enter")
    names[-2] = "Retyped"
    server.start()
    saved(page)
    expect(page.get_by_role("contentinfo")).not_to_contain_text("can't be reached")
    assert set(cards_named(server, set(names))) == set(names)
    assert ask(server, "GET", "/cards")["total"] == 96 + MANY


def test_what_waits_for_the_server_survives_a_reload(page: Page, server: Server):
    stand_on(page, "Copper Larch Fern", "cost")
    intercept(page, re.compile("/fields/cost$|/cards/cells$"), lambda route: route.abort())
    page.keyboard.type("5")
    keys(page, "Enter")
    last_line(page)
    page.keyboard.type("Silver Drizzle")
    keys(page, "Tab")
    expect(page.get_by_role("contentinfo")).to_contain_text("can't be reached")
    page.once("dialog", lambda dialog: dialog.accept())
    page.unroute(re.compile("/fields/cost$|/cards/cells$"))
    page.reload()
    expect(page.get_by_role("button", name="Undo: typed before the page was left")).to_be_visible()
    saved(page)
    stored = {each["title"]: each["values"].get("cost") for each in ask(server, "GET", "/cards")["cards"]}
    assert stored["Copper Larch Fern"] == "5" and "Silver Drizzle" in stored and len(stored) == 97


def test_what_waits_in_one_game_survives_that_another_was_opened_before_the_reload(page: Page, server: Server):
    stand_on(page, "Copper Larch Fern", "cost")
    intercept(page, re.compile("/fields/cost$"), lambda route: route.abort())
    page.keyboard.type("5")
    keys(page, "Enter")
    expect(page.get_by_role("contentinfo")).to_contain_text("can't be reached")
    page.get_by_role("button", name=re.compile("^Game:")).click()
    page.get_by_role("menuitem", name=re.compile("Crowded Bed")).click()
    expect(page.get_by_role("button", name=re.compile("^Game:"))).to_contain_text("Crowded Bed")
    expect(page.locator(".grid")).to_be_visible()
    page.once("dialog", lambda dialog: dialog.accept())
    page.reload()
    expect(page.locator(".grid")).to_be_visible()
    page.unroute(re.compile("/fields/cost$"))  # not before the reload: the queue of the old page would send the edit
    page.goto(f"{server.url}/{GAME}/cards")
    expect(page.get_by_role("button", name="Undo: typed before the page was left")).to_be_visible()
    saved(page)
    assert {each["code"]: each["values"]["cost"] for each in ask(server, "GET", "/cards")["cards"]}["RS-001"] == "5"


def test_a_type_that_is_not_there_stays_where_it_was_typed_in_the_last_line(page: Page, server: Server):
    last_line(page, "type")
    page.keyboard.type("Wether")
    keys(page, "Tab")
    expect(page.locator(STRIP)).to_contain_text("there is no type Wether")
    kept = page.locator(".grid-unsaved")
    expect(kept).to_have_text("Wether")
    expect(kept).to_have_attribute("id", re.compile("-type$"))


def test_a_paste_in_the_middle_of_which_the_server_goes_is_whole_once_it_is_back(page: Page, server: Server):
    page.context.grant_permissions(["clipboard-read", "clipboard-write"])
    stand_on(page, "Copper Larch Fern", "cost")
    clip(page, "\n".join(str(number % 7) for number in range(40)))
    sent: list[str] = []
    # It reaches the server; the server is killed before it answers.
    intercept(page, re.compile("/cards/cells$"), lambda route: (sent.append(route.request.url), route.fetch(), server.kill(), route.abort()) if not sent else route.continue_())
    keys(page, "Control+v")
    expect(page.get_by_role("contentinfo")).to_contain_text("can't be reached")
    # Typing goes on meanwhile.
    stand_on(page, "Ladder Frond", "height")
    page.keyboard.type("7")
    keys(page, "Enter")
    server.start()
    saved(page)
    stored = {each["code"]: each["values"] for each in ask(server, "GET", "/cards")["cards"]}
    assert [stored[f"RS-{number:03}"].get("cost") for number in range(1, 41)] == [str(number % 7) for number in range(40)]
    assert stored["RS-002"]["height"] == "7"
    labels = [each["label"] for each in page.request.get(f"{server.url}/api/games/{GAME}/journal").json()]
    assert sum("paste" in label for label in labels) == 1, "sent twice, written once"


def test_typing_while_another_page_edits_the_same_cards_keeps_both(page: Page, server: Server):
    random = Random(SEED)
    stand_on(page, "Copper Larch Fern", "cost")
    make_poor(page, SEED, most=1200, lost=0)
    theirs, mine = {}, {}
    for number in range(1, 21):
        code = f"RS-{number:03}"
        mine[code] = str(random.randint(0, 6))
        page.keyboard.type(mine[code])
        keys(page, "Enter")
        if number % 4 == 0:
            # Another field of the same card, and a new card above and below.
            theirs[code] = f"theirs {number}"
            card = f"c-{GAME}-{code.lower()}"
            ask(server, "PUT", f"/cards/{card}/fields/name", {"value": theirs[code], "base": ask(server, "GET", "/cards")["seq"]})
            ask(server, "POST", "/cards", {"type": "plant", "set": "first", "typed": {"code": f"AA-{number:03}", "name": f"Above {number}"}})
    saved(page)
    make_good(page)
    stored = {each["code"]: each["values"] for each in ask(server, "GET", "/cards")["cards"]}
    assert {code: stored[code]["cost"] for code in mine} == mine
    assert {code: stored[code]["name"] for code in theirs} == theirs


def test_a_cell_that_another_page_changed_while_it_was_typed_in_is_a_conflict_that_is_shown(page: Page, server: Server):
    stand_on(page, "Copper Larch Fern", "cost")
    page.keyboard.type("5")
    ask(server, "PUT", f"/cards/c-{GAME}-rs-001/fields/cost", {"value": "3", "base": ask(server, "GET", "/cards")["seq"]})
    # The news of it is here before the cell is committed: it is no reason to write over theirs unseen.
    expect(page.locator(".pane-facts")).to_contain_text("revision 2")
    keys(page, "Enter")
    expect(page.locator(STRIP)).to_contain_text("theirs")
    stored = {each["code"]: each["values"]["cost"] for each in ask(server, "GET", "/cards")["cards"]}
    assert stored["RS-001"] == "3"
    page.get_by_role("button", name="Write mine").click()
    saved(page)
    stored = {each["code"]: each["values"]["cost"] for each in ask(server, "GET", "/cards")["cards"]}
    assert stored["RS-001"] == "5"


def test_rows_that_another_page_adds_above_move_nothing_under_the_pointer(page: Page, server: Server):
    stand_on(page, "Copper Larch Fern", "name")
    keys(page, *["PageDown"] * 2, *["ArrowUp"] * 6)
    at_rest(page)
    at = page.locator(".grid").get_attribute("aria-activedescendant")
    here = page.locator(f"[id='{at}']")
    before = here.bounding_box()
    for number in range(5):
        ask(server, "POST", "/cards", {"type": "plant", "set": "first", "typed": {"code": f"AA-{number:03}", "name": f"Above {number}"}})
    expect(page.locator(".toolbar-low")).to_contain_text("101 of 101 cards")
    after = here.bounding_box()
    assert before and after and abs(before["y"] - after["y"]) < 1, (before, after)
    expect(page.locator(".grid")).to_have_attribute("aria-activedescendant", at or "")


def test_an_edit_that_leaves_the_filter_moves_no_row(page: Page, server: Server):
    """The button that offers to filter again has its place from the start."""
    page.get_by_label("Query").fill("over")
    keys(page, "Enter")
    expect(page.locator(".query-chip-text")).to_have_text("over")
    keys(page, "ArrowDown")
    expect(page.locator(".grid")).to_be_focused()
    at_rest(page)
    tops = lambda: page.evaluate("[...document.querySelectorAll('.grid-row')].map((row) => row.getBoundingClientRect().top)")  # noqa: E731
    before = tops()
    for _ in range(12):
        if (page.locator(".grid").get_attribute("aria-activedescendant") or "").endswith("-cost"):
            break
        keys(page, "ArrowRight")
    page.keyboard.type("9")
    keys(page, "Enter")
    expect(page.get_by_role("button", name="Refresh")).to_be_visible()
    assert tops() == before
