"""No typed text, key or focus is lost, with responses that arrive late, twice, or not at all; with real clicks and keys."""

from __future__ import annotations

import json
import re
import shutil
import urllib.request
from pathlib import Path

import pytest
from playwright.sync_api import Page, Route, expect

from dramok.services import open_workspace
from dramok.store import Change, open_store
from tests.browser.conftest import (
    GAME,
    LONG,
    LateAnswers,
    Server,
    at_rest,
    context_of,
    intercept,
    played_alone,
)
from tests.browser.test_every_room import COUNT, fill
from tests.browser.test_journey import FACE, STRIP, stand_on
from tests.browser.test_price_sheet import cell, keys, part

FERN = f"c-{GAME}-rs-001"
ACTIVE = "document.activeElement"


def ask(server: Server, method: str, path: str, body: object = None, page: str = "other") -> dict:
    """Something done meanwhile from another window."""
    data = json.dumps(body).encode() if body is not None else None
    request = urllib.request.Request(
        f"{server.url}/api/games/{GAME}{path}", data, {"Content-Type": "application/json", "X-Page": page}, method=method
    )  # fmt: skip
    return json.loads(urllib.request.urlopen(request).read())


def value(server: Server, field: str, card: str = FERN) -> str:
    (found,) = ask(server, "GET", f"/cards?ids={card}")["cards"]
    return found["values"].get(field, "")


def stands_on_something(page: Page) -> None:
    expect(page.locator(":focus")).to_have_count(1)


@pytest.fixture
def window(page: Page, server: Server):
    """The name of another window that is open on the game: what it does is its own to undo."""
    assert page.context.browser
    context = context_of(page.context.browser)
    other = context.new_page()
    with other.expect_request(re.compile("/events")):
        other.goto(server.url)
    other.locator(".pane-face svg.face").wait_for()
    yield other.evaluate("sessionStorage.getItem('dramok-page')")
    context.close()


def effect(page: Page):
    return page.locator("#editor-effect[contenteditable=true]")


def open_effect(page: Page, name: str) -> None:
    stand_on(page, name, "name")
    page.locator("#editor-effect").click()
    expect(effect(page)).to_be_focused()


def test_undo_at_the_table_reaches_the_table_alone(page: Page, server: Server):
    played_alone(page, server)
    stand_on(page, "Copper Larch Fern", "height")
    keys(page, "6", "Enter")
    expect(page.locator(STRIP)).to_contain_text("height 1 → 6")
    page.goto(f"{server.url}/{GAME}/playtest")
    page.get_by_label("Seed").fill("7")
    keys(page, "Enter")
    hand = page.locator(".hand .table-card")
    expect(hand).to_have_count(5)
    expect(hand.first.locator("button.table-face")).to_be_focused()
    keys(page, "d")
    expect(hand).to_have_count(6)
    # The focus is on the page itself: the key must not fall through to the game's own undo.
    page.evaluate(f"{ACTIVE}.blur()")
    keys(page, "Control+z")
    expect(hand).to_have_count(5)
    keys(page, "Control+z")
    assert value(server, "height") == "6"


def test_enter_in_an_effect_is_a_new_line_unless_one_moved_into_the_list(page: Page, server: Server):
    open_effect(page, "Copper Larch Fern")
    page.keyboard.type("upon play this: draw 1; deal 1 to pick riv")
    expect(page.locator(".cm-tooltip-autocomplete")).to_be_visible()
    keys(page, "Enter")
    page.keyboard.type("upon enter this: draw 2")
    assert effect(page).inner_text().split("\n") == [
        "upon play this: draw 1; deal 1 to pick riv", "upon enter this: draw 2"
    ]  # fmt: skip
    keys(page, "Enter")
    page.keyboard.type("upon leave this: ga")
    expect(page.locator(".cm-tooltip-autocomplete li").first).to_contain_text("gain")
    keys(page, "ArrowDown", "Enter")
    expect(effect(page)).to_contain_text("upon leave this: gain")


def test_escape_in_an_effect_closes_the_list_then_goes_back_to_what_was_committed_then_leaves(page: Page, server: Server):
    open_effect(page, "Copper Larch Fern")
    page.keyboard.type("upon play this: dra")
    expect(page.locator(".cm-tooltip-autocomplete")).to_be_visible()
    keys(page, "Escape")
    expect(page.locator(".cm-tooltip-autocomplete")).to_have_count(0)
    expect(effect(page)).to_be_focused()
    keys(page, "Escape")
    expect(effect(page)).to_be_focused()
    expect(effect(page)).to_contain_text("No effect yet. For example")
    # What was typed is one undo away.
    keys(page, "Control+z")
    expect(effect(page)).to_have_text("upon play this: dra")
    keys(page, "Escape", "Escape")
    expect(page.locator(".grid")).to_be_focused()
    assert value(server, "effect") == "", "nothing was written"
    keys(page, "Enter")
    page.keyboard.type("upon play this: dra")
    with page.expect_response(re.compile("/fields/effect$")):
        keys(page, "Control+Enter")
    assert value(server, "effect") == "upon play this: dra", "kept as a draft"
    expect(page.locator(".problems")).to_contain_text("can't be here")
    keys(page, "Control+z")
    expect(page.locator(".effect-example, .cm-placeholder")).to_contain_text("No effect yet. For example")


def test_what_could_not_be_written_is_counted_kept_over_a_reload_and_found_again(page: Page, server: Server):
    saved = page.locator(".saved")
    for name, typed in [("Copper Larch Fern", "tall"), ("Ladder Frond", "much")]:
        stand_on(page, name, "height")
        page.keyboard.type(typed)
        page.keyboard.press("Enter")
    expect(saved).to_have_text("2 values not saved")
    page.reload()
    expect(cell(page, "RS-001", "height")).to_have_text("tall")
    expect(saved).to_have_text("2 values not saved")
    saved.click()
    expect(page.locator(".grid")).to_be_focused()
    expect(page.locator(".grid")).to_have_attribute("aria-activedescendant", re.compile("rs-001-height$"))
    page.keyboard.press("Escape")
    expect(saved).to_have_text("1 value not saved")
    saved.click()
    expect(page.locator(".grid")).to_have_attribute("aria-activedescendant", re.compile("rs-002-height$"))
    page.keyboard.type("3")
    page.keyboard.press("Enter")
    expect(saved).to_have_text("All saved")
    assert (value(server, "height"), value(server, "height", f"c-{GAME}-rs-002")) == ("1", "3")
    page.reload()
    expect(cell(page, "RS-001", "height")).to_have_text("1")
    expect(saved).to_have_text("All saved")


def test_a_window_with_something_unsaved_asks_before_it_closes(page: Page):
    asked: list[str] = []
    page.on("dialog", lambda dialog: (asked.append(dialog.type), dialog.dismiss()))
    stand_on(page, "Copper Larch Fern", "height")
    page.keyboard.type("tall")
    page.keyboard.press("Enter")
    expect(page.locator(".saved")).to_have_text("1 value not saved")
    with page.expect_event("dialog"):
        page.close(run_before_unload=True)
    assert asked == ["beforeunload"]
    stand_on(page, "Copper Larch Fern", "height")
    page.keyboard.press("Escape")
    expect(page.locator(".saved")).to_have_text("All saved")
    with page.expect_event("close"):
        page.close(run_before_unload=True)
    assert asked == ["beforeunload"]


def test_arrows_after_opening_the_address_are_the_grids(page: Page):
    expect(page.locator(".grid")).to_be_focused()
    page.evaluate(f"{ACTIVE}.blur()")
    expect(page.locator("body")).to_be_focused()
    page.keyboard.press("ArrowDown")
    expect(page.locator(".grid")).to_be_focused()


def test_a_long_text_goes_back_with_escape_and_comes_again_with_undo(page: Page, server: Server):
    stand_on(page, "Copper Larch Fern", "name")
    box = page.get_by_role("group", name=re.compile("Own text")).locator("textarea")
    box.click()
    page.keyboard.insert_text("It leans on its neighbours. " * 60)
    page.keyboard.type("It stays.")
    keys(page, "Escape")
    expect(box).to_have_value("")
    expect(box).to_be_focused()
    keys(page, "Control+z")
    expect(box).to_have_value(re.compile("^It leans on its neighbours.*It stays.$"))
    with page.expect_response(re.compile("/fields/printed$")):
        keys(page, "Control+Enter")
    assert len(value(server, "printed")) > 1_500


def test_the_face_follows_when_a_rename_is_undone(page: Page, server: Server):
    rules = ask(server, "GET", "/rules")
    beds = next(each for each in rules["lists"] if each["id"] == "beds" or each["name"] == "Beds")
    stand_on(page, "Copper Larch Fern", "name")
    type_line = page.locator(FACE)
    expect(type_line).to_contain_text("Fern")
    renamed = {
        **beds,
        "values": [
            {**each, "name": "Thicket" if each["name"] == "Fern" else each["name"]} for each in beds["values"]
        ],
    }
    page.goto(f"{server.url}/{GAME}/rules?at=list:{beds['id']}")
    box = page.get_by_label(re.compile("Fern")).first
    box.wait_for()
    name = page.locator("input.input").filter(has=page.locator("xpath=self::*[@value='Fern']")).first
    name.fill("Thicket")
    with page.expect_response(re.compile("/rules/lists$")):
        keys(page, "Enter")
    stands_on_something(page)
    assert page.evaluate(f"{ACTIVE}.value") == "Thicket", "the renamed choice keeps the keys"
    expect(page.locator(STRIP)).to_contain_text("Fern renamed to Thicket")
    page.get_by_role("link", name="Cards").click()
    expect(type_line).to_contain_text("Thicket")
    page.locator(".grid").focus()
    keys(page, "Control+z")
    expect(type_line).not_to_contain_text("Thicket")
    expect(cell(page, "RS-001", "bed")).to_contain_text("Fern")
    assert renamed["id"] == beds["id"]


def test_rooms_keep_their_place(page: Page):
    page.keyboard.press("/")
    page.get_by_label("Query").fill("cost >= 4")
    keys(page, "Enter")
    expect(page.locator(".query-chip-text")).to_have_text("cost >= 4")
    page.get_by_role("link", name="Balance").click()
    expect(page.get_by_role("heading", name="Set map")).to_be_visible()
    page.get_by_role("link", name="Decks").click()
    page.get_by_label("Filter the pool").fill("moss")
    page.get_by_role("link", name="Cards").click()
    expect(page.locator(".query-chip-text")).to_have_text("cost >= 4")
    page.get_by_role("link", name="Decks").click()
    expect(page.get_by_label("Filter the pool")).to_have_value("moss")


def test_after_enter_in_the_query_the_keys_are_the_grids(page: Page):
    page.keyboard.press("/")
    page.get_by_label("Query").fill('name is "Ladder Frond"')
    expect(page.locator(".toolbar-low")).to_contain_text("1 of 96 cards")
    expect(page.locator(".pane-facts h2")).to_have_text("Ladder Frond")
    page.get_by_label("Query").fill("cost >= 4 ")
    keys(page, "Enter")
    expect(page.locator(".query-chip-text")).to_have_text("cost >= 4")
    expect(page.locator(".query-offers")).to_have_count(0)
    expect(page.locator(".toolbar-low")).to_contain_text("33 of 96 cards")
    keys(page, "ArrowDown")
    expect(page.locator(".grid")).to_be_focused()
    first = page.locator(".pane-facts h2").inner_text()
    keys(page, "ArrowDown")
    expect(page.locator(".pane-facts h2")).not_to_have_text(first)


def test_steps_begin_from_what_is_shown_however_late_the_answers(page: Page, server: Server):
    stand_on(page, "Copper Larch Fern", "cost")
    answers = LateAnswers(page, re.compile("/fields/cost$"))
    keys(page, "Alt+ArrowUp", "Alt+ArrowUp", "Alt+ArrowUp")
    expect(cell(page, "RS-001", "cost")).to_have_text("4")
    answers.come()
    expect(page.locator(".saved")).to_have_text("All saved", timeout=LONG)
    expect(cell(page, "RS-001", "cost")).to_have_text("4")
    assert value(server, "cost") == "4"
    # A range, too: the second step begins from what the first one shows.
    answers = LateAnswers(page, re.compile("/cards/cells$"))
    keys(page, "Shift+ArrowDown", "Alt+ArrowDown", "Alt+ArrowDown")
    expect(cell(page, "RS-001", "cost")).to_have_text("2")
    answers.come()
    expect(page.locator(".saved")).to_have_text("All saved", timeout=LONG)
    assert (value(server, "cost"), value(server, "cost", f"c-{GAME}-rs-002")) == ("2", "0")


def test_counts_in_a_deck_step_from_what_is_shown(page: Page, server: Server):
    page.get_by_role("link", name="Decks").click()
    page.get_by_label("Filter the pool").fill("Hedge Pup")
    card = page.locator(".wall-card").first
    expect(card).to_contain_text("Hedge Pup, 0 in the deck")
    answers = LateAnswers(page, re.compile("/cards/c-"))
    # No text field has the focus, so + applies to the focused card.
    page.evaluate(f"{ACTIVE}.blur()")
    keys(page, "+", "+", "+")
    expect(card).to_contain_text("Hedge Pup, 3 in the deck")
    answers.come()
    expect(page.locator(".saved")).to_have_text("All saved", timeout=LONG)
    expect(card).to_contain_text("Hedge Pup, 3 in the deck")


@pytest.mark.parametrize("times", [1, 2])
def test_after_a_lost_answer_the_page_shows_what_the_server_has(page: Page, server: Server, times: int):
    lost = []

    def lose(route: Route) -> None:
        if len(lost) < times:
            route.fetch()  # it reaches the server, and is written; the answer never comes
            lost.append(route.request.headers["idempotency-key"])
            route.abort()
        else:
            route.continue_()

    intercept(
        page,
        re.compile(f"/api/games/{GAME}/cards/cells$"),
        lambda route: lose(route) if route.request.method == "POST" else route.continue_(),
    )
    page.get_by_role("button", name="New card").click()
    page.get_by_role("menuitem", name="Plant").click()
    expect(page.locator(".toolbar-low")).to_contain_text("97 of 97 cards", timeout=LONG)
    expect(page.locator(".saved")).to_have_text("All saved", timeout=LONG)
    assert len(lost) == times and len(set(lost)) == 1, "the same key each time"
    assert ask(server, "GET", "/cards")["total"] == 97
    page.reload()
    expect(page.locator(".toolbar-low")).to_contain_text("97 of 97 cards")


def test_an_answer_that_never_comes_is_news(page: Page, server: Server):
    """Every try is lost: what was written comes in by the stream of news, as another window's would."""
    intercept(page, re.compile("/fields/height$"), lambda route: (route.fetch(), route.abort()))
    stand_on(page, "Copper Larch Fern", "height")
    keys(page, "7", "Enter")
    expect(page.locator(STRIP)).to_contain_text("can't be reached", timeout=LONG)
    page.unroute(re.compile("/fields/height$"))
    expect(cell(page, "RS-001", "height")).to_have_text("7")
    assert value(server, "height") == "7"


def test_a_conflict_of_undo_is_solved_in_view(page: Page, server: Server, window: str):
    stand_on(page, "Copper Larch Fern", "root")
    keys(page, "5", "Enter")
    expect(page.locator(STRIP)).to_contain_text("root 2 → 5")
    stand_on(page, "Copper Larch Fern", "height")
    keys(page, "6", "Enter")
    expect(page.locator(STRIP)).to_contain_text("height 1 → 6")
    base = ask(server, "GET", "/cards")["seq"]
    ask(server, "PUT", f"/cards/{FERN}/fields/height", {"value": "9", "base": base}, window)
    expect(cell(page, "RS-001", "height")).to_have_text("9")
    page.locator(".grid").focus()
    keys(page, "Control+z")
    expect(page.locator(STRIP)).to_contain_text("changed since")
    expect(page.locator(STRIP)).to_contain_text("theirs 9, yours 1")
    page.get_by_role("button", name="Leave it, go on").click()
    expect(page.locator(STRIP)).not_to_contain_text("changed since")
    page.locator(".grid").focus()
    keys(page, "Control+z")
    expect(cell(page, "RS-001", "root")).to_have_text("2")
    assert (value(server, "height"), value(server, "root")) == ("9", "2")


def test_a_conflict_of_undo_can_be_written_over(page: Page, server: Server, window: str):
    stand_on(page, "Copper Larch Fern", "height")
    keys(page, "6", "Enter")
    expect(page.locator(STRIP)).to_contain_text("height 1 → 6")
    base = ask(server, "GET", "/cards")["seq"]
    ask(server, "PUT", f"/cards/{FERN}/fields/height", {"value": "9", "base": base}, window)
    expect(cell(page, "RS-001", "height")).to_have_text("9")
    page.locator(".grid").focus()
    keys(page, "Control+z")
    page.get_by_role("button", name="Undo over it").click()
    expect(cell(page, "RS-001", "height")).to_have_text("1")
    assert value(server, "height") == "1"


def test_a_card_is_put_into_a_deck_from_where_it_is_seen(page: Page, server: Server):
    stand_on(page, "Hedge Pup", "name")
    page.get_by_role("button", name="Put in another deck").click()
    page.get_by_role("menuitem", name=re.compile("One more in Fern over Moss")).click()
    expect(page.locator(STRIP)).to_contain_text("Fern over Moss: 1 × Hedge Pup")
    expect(page.locator(".pane-facts")).to_contain_text("in Fern over Moss")
    deck = next(each for each in ask(server, "GET", "/decks") if each["name"] == "Fern over Moss")
    assert sorted(deck["cards"].values())[0] == 1 and deck["size"] == 37


@pytest.mark.begins_elsewhere
def test_a_keyword_is_renamed_in_every_text_in_one_step(page: Page, server: Server):
    base = ask(server, "GET", "/cards")["seq"]
    ask(
        server,
        "PUT",
        f"/cards/{FERN}/fields/printed",
        {"value": "Mildew passes it by. Mildewed ground does not.", "base": base},
    )
    page.goto(f"{server.url}/{GAME}/rules?at=keywords:all")
    page.get_by_role("navigation").get_by_role("button", name=re.compile("^Keywords")).click()
    box = page.get_by_label("Keyword 1", exact=True)
    box.fill("canker")
    keys(page, "Enter")
    dialog = page.get_by_role("dialog", name="Rename mildew to canker")
    expect(dialog).to_contain_text("Copper Larch Fern, Printed text")
    expect(dialog).to_contain_text("Canker passes it by. Mildewed ground does not.")
    expect(dialog).to_contain_text("the phrase book")
    dialog.get_by_role("button", name=re.compile("Rename it and change")).click()
    expect(page.locator(STRIP)).to_contain_text("keyword mildew renamed to canker, and in")
    assert value(server, "printed") == "Canker passes it by. Mildewed ground does not."
    sheet = ask(server, "GET", f"/cards/{FERN}/sheet")
    assert "Canker" in json.dumps(sheet["printed"])
    printed = json.dumps([ask(server, "GET", f"/cards/RS-0{n:02}/sheet")["printed"] for n in range(1, 40)])
    assert "canker" in printed and " mildew" not in printed, "the generated texts follow the phrase book"
    stands_on_something(page)
    page.evaluate(f"{ACTIVE}.blur()")
    keys(page, "Control+z")
    expect(page.get_by_label("Keyword 1", exact=True)).to_have_value("mildew")
    assert value(server, "printed").startswith("Mildew passes")


def test_its_own_export_opens_as_an_update(page: Page, server: Server, tmp_path: Path):
    data = urllib.request.urlopen(f"{server.url}/api/games/{GAME}/export?format=csv").read()
    sheet = tmp_path / "own.csv"
    text = data.decode("utf-8-sig").replace("Copper Larch Fern", "Copper Larch Brake").rstrip("\r\n")
    columns = text.split("\r\n")[0].split(",")
    fresh = [
        {
            "Code": "RS-200",
            "Name": "Late Comer",
            "Type": "Plant",
            "Bed": "Fern",
            "Cost": "three",
            "Effect": "upon play this: drw 1",
        }.get(each, "")
        for each in columns
    ]
    sheet.write_bytes((text + "\r\n" + ",".join(fresh) + "\r\n").encode())
    page.get_by_role("button", name="Import").click()
    dialog = page.get_by_role("dialog")
    dialog.locator("input[type=file]").set_input_files(sheet)
    expect(dialog.locator(".said")).to_contain_text("changes 1 cell of 1 card")
    expect(dialog).to_contain_text("“three” is read as 3")
    expect(dialog.locator(".said")).to_contain_text("adds 1 card")
    expect(dialog).to_contain_text("“drw” can't be here")
    dialog.get_by_role("button", name="Write these changes").click()
    expect(dialog).to_have_count(0)
    (made,) = [each for each in ask(server, "GET", "/cards")["cards"] if each["code"] == "RS-200"]
    assert made["set"] == "first" and made["values"]["cost"] == "3", "with the others of its set"
    assert value(server, "name") == "Copper Larch Brake"


def test_the_verdict_in_the_grid_follows_what_is_typed(page: Page):
    stand_on(page, "Copper Larch Fern", "height")
    keys(page, "9")
    expect(page.locator(".verdict-typed")).to_contain_text("over")
    pane = page.locator(".pane-facts .verdict").inner_text()
    assert page.locator(".verdict-typed").inner_text() in pane
    keys(page, "Escape")
    expect(page.locator(".verdict-typed")).to_have_count(0)


def test_after_a_reprint_the_strip_reports_no_out_of_date_copies(page: Page, server: Server):
    def print_it() -> None:
        job = ask(server, "POST", "/output/print", {"choice": {"cards": "RS-001", "copies": 3}})
        for _ in range(LONG // 100):
            state = ask(server, "GET", f"/output/jobs/{job['id']}")["state"]
            if state == "done":
                return
            assert state in ("waiting", "running"), state
            page.wait_for_timeout(100)
        raise AssertionError("not printed")

    print_it()
    stand_on(page, "Copper Larch Fern", "height")
    keys(page, "6", "Enter")
    expect(page.locator(STRIP)).to_contain_text("3 printed copies out of date")
    print_it()
    expect(page.locator(STRIP)).not_to_contain_text("out of date", timeout=LONG)


def test_the_journal_says_what_it_was_and_became(page: Page, server: Server):
    stand_on(page, "Copper Larch Fern", "height")
    keys(page, "6", "Enter")
    expect(page.locator(STRIP)).to_contain_text("height 1 → 6")
    page.get_by_role("link", name="History").click()
    expect(page.locator(".journal-said").first).to_have_text("Height: 1 → 6")
    expect(page.locator(".history-look")).to_contain_text("Copper Larch Fern")


@pytest.mark.begins_elsewhere
def test_focus_is_on_the_next_card_after_each_play(page: Page, server: Server):
    played_alone(page, server)
    page.goto(f"{server.url}/{GAME}/playtest")
    page.get_by_label("Seed").fill("7")
    keys(page, "Enter")
    expect(page.locator(".hand .table-card")).to_have_count(5)
    playable = page.locator(".hand .table-card:not(.table-still) button.table-face")
    playable.first.focus()
    keys(page, "Enter")
    expect(page.locator(".hand .table-card")).not_to_have_count(5)
    stands_on_something(page)
    assert page.evaluate(f"{ACTIVE}.closest('.table-room') !== null")
    keys(page, "ArrowRight")
    assert page.evaluate(f"{ACTIVE}.matches('.table-face')")
    page.reload()
    # The keys are on the first card that can be played.
    expect(page.locator(".table-room button:focus")).to_have_count(1)


def test_a_damaged_game_hides_no_other_and_is_walked_back(page: Page, server: Server):
    server.kill()
    store = open_store(server.db)
    rulebook = json.loads(next(each for each in store.games() if each.id == GAME).rules)
    tool = next(each for each in rulebook["cards"]["types"] if each["id"] == "tool")
    with store.writing() as connection:
        store.commit(
            connection, GAME, "a fault", "one", [Change("game", GAME, "types/tool", json.dumps(tool), None)]
        )
    store.close()
    server.start()
    page.goto(server.url)
    expect(page.locator(".pane-face svg.face")).to_be_visible()
    assert GAME not in page.url, "another game is opened"
    page.get_by_role("button", name=re.compile("^Game:")).click()
    page.get_by_role("menuitem", name=re.compile("Ribbon Season damaged")).click()
    expect(page.get_by_role("heading", name="Ribbon Season is damaged")).to_be_visible()
    expect(page.locator(".damaged")).to_contain_text("card type tool is gone")
    with page.expect_download() as download:
        page.get_by_role("link", name="Take the backup").click()
    assert Path(download.value.path()).read_bytes().startswith(b"PK")
    page.get_by_role("button", name="Walk it back").click()
    expect(page.locator(".pane-face svg.face")).to_be_visible()
    expect(page.locator(".toolbar-low")).to_contain_text("96 of 96 cards")


@pytest.mark.parametrize("by", ["this page", "another"])
def test_a_server_that_comes_back_with_another_file_is_shown_as_it_is(page: Page, server: Server, demo_file, by: str):
    stand_on(page, "Copper Larch Fern", "height")
    if by == "another":
        ask(server, "PUT", "/cards/RS-001/fields/height", {"value": "4", "base": ask(server, "GET", "/cards")["seq"]})
    else:
        # Known from its answer; the server ends before it is news.
        page.keyboard.type("4")
        keys(page, "Enter", "ArrowUp")
        expect(page.locator(".saved")).to_have_text("All saved")
    expect(cell(page, "RS-001", "height")).to_have_text("4")
    # The file is put back as it was copied once: the game of the same name in it has fewer edits than this page has seen.
    server.kill()
    for each in server.db.parent.glob(f"{server.db.name}*"):
        each.unlink()
    shutil.copy(demo_file, server.db)
    server.start()
    expect(cell(page, "RS-001", "height")).to_have_text("1")
    stand_on(page, "Copper Larch Fern", "height")
    page.keyboard.type("6")
    keys(page, "Enter")
    expect(page.locator(".saved")).to_have_text("All saved")
    assert value(server, "height") == "6"


def test_a_server_that_comes_back_without_the_game_says_that_it_is_gone(page: Page, server: Server):
    stand_on(page, "Copper Larch Fern", "height")
    server.kill()
    for each in server.db.parent.glob(f"{server.db.name}*"):
        each.unlink()
    open_workspace(server.db, demo=False).close()
    server.start()
    expect(page.get_by_role("heading", name="This game is gone")).to_be_visible()
    page.get_by_role("link", name="All games").click()
    expect(page.get_by_role("link", name="Ribbon Season")).to_have_count(0)


@pytest.mark.begins_elsewhere
def test_what_is_typed_while_the_one_before_is_on_its_way_stays_in_its_box(page: Page, server: Server):
    held: list[Route] = []
    page.goto(f"{server.url}/ribbon-season/rules?at=game:resources")
    intercept(page, re.compile("/rules/parts/resources$"), lambda route: held.append(route))
    box = page.get_by_label("New resource")
    box.fill("Pluckiness")
    with page.expect_request(re.compile("/rules/parts/resources$")):
        page.keyboard.press("Enter")
    expect(page.get_by_role("listitem", name="Pluckiness")).to_be_visible()
    box.fill("Echoes")
    with page.expect_response(re.compile("/rules/parts/resources$")):
        held[0].continue_()
    expect(page.locator(".saved")).to_have_text("All saved")
    expect(box).to_have_value("Echoes")
    # A refused text is in the field again.
    page.unroute(re.compile("/rules/parts/resources$"))
    page.goto(f"{server.url}/ribbon-season/rules?at=keywords:all")
    page.get_by_role("textbox", name="New keyword").fill("Mildew")
    page.keyboard.press("Enter")
    expect(page.get_by_text("Mildew is used twice")).to_be_visible()
    expect(page.get_by_role("textbox", name="New keyword")).to_have_value("Mildew")


@pytest.mark.parametrize("asked", ["a new type", "a match"])
def test_a_late_response_does_not_move_a_user_who_went_on(page: Page, asked: str):
    """What was asked for in one room opens something there when it is answered, unless the person is elsewhere by then."""
    held: list[Route] = []
    ours = re.compile("/rules/types$" if asked == "a new type" else "/playtests$")
    intercept(page, ours, lambda route: held.append(route) if route.request.method in ("PUT", "POST") else route.continue_())
    if asked == "a new type":
        page.get_by_role("link", name="Rules").click()
        page.get_by_label("New card type", exact=True).fill("Weeds")
    with page.expect_request(ours):
        page.keyboard.press("Enter") if asked == "a new type" else page.get_by_role("button", name="In hand").click()
    page.get_by_role("link", name="History").click()
    expect(page.get_by_role("region", name="What changed")).to_be_visible()
    with page.expect_response(ours):
        held[0].continue_()
    at_rest(page)
    expect(page.get_by_role("link", name="History")).to_have_attribute("aria-current", "page")
    assert re.search("/history", page.url), page.url
    # Where they stay, they are led to it as ever.
    page.unroute(ours)
    if asked == "a new type":
        page.get_by_role("link", name="Rules").click()
        page.get_by_label("New card type", exact=True).fill("Herbs")
        page.keyboard.press("Enter")
        expect(page).to_have_url(re.compile(r"/rules\?at=type(:|%3A)herbs$"))
    else:
        page.get_by_role("link", name="Cards").click()
        page.get_by_role("button", name="In hand").click()
        expect(page).to_have_url(re.compile(r"/playtest\?table="))


def test_a_card_called_otherwise_is_called_so_on_the_face_that_names_it(page: Page, server: Server):
    def write(card: str, field: str, text: str) -> None:
        ask(server, "PUT", f"/cards/{card}/fields/{field}", {"value": text, "base": ask(server, "GET", "/cards")["seq"]})

    face = page.locator(FACE)
    write(FERN, "effect", 'upon play this: create 1 "Ladder Frond"')
    stand_on(page, "Copper Larch Fern", "name")
    expect(face).to_contain_text("Create a copy of Ladder Frond.")
    # Renamed elsewhere while one looks at it.
    write("RS-002", "name", "Winding Frond")
    expect(face).to_contain_text("Create a copy of Winding Frond.")
    expect(effect(page)).to_have_text('upon play this: create 1 "Winding Frond"')
    expect(cell(page, "RS-001", "effect")).to_contain_text("Winding Frond")
    # Renamed here, and taken back while one looks at it.
    fill(page, "Winding Frond", "name", "Reed")
    stand_on(page, "Copper Larch Fern", "name")
    expect(face).to_contain_text("Create a copy of Reed.")
    expect(effect(page)).to_have_text("upon play this: create 1 Reed")
    keys(page, "Control+z")
    expect(face).to_contain_text("Create a copy of Winding Frond.")
    # After the created card is removed, the card that creates it shows the problem; undo clears it.
    beside = page.locator(".pane")
    ask(server, "DELETE", "/cards/RS-002")
    expect(beside.locator(".problems")).to_have_text("it creates a card that was removed — name another, or bring it back from History")
    expect(face).to_contain_text(re.compile(r"Create a copy of a removed ?card\."))
    ask(server, "POST", "/undo", {}, "other")
    expect(beside).not_to_contain_text("it creates a card that was removed")
    expect(effect(page)).to_have_text('upon play this: create 1 "Winding Frond"')


def test_a_line_that_names_a_card_of_tomorrow_is_read_when_it_comes_and_waits_again_after_undo(page: Page, server: Server):
    told = page.locator(".pane .problems")
    line = {"value": 'upon play this: create 1 "Lamp Moss"', "base": ask(server, "GET", "/cards")["seq"]}
    ask(server, "PUT", f"/cards/{FERN}/fields/effect", line)
    stand_on(page, "Copper Larch Fern", "name")
    expect(told).to_contain_text("this game has no card called “Lamp Moss”")
    fill(page, "Ladder Frond", "name", "Lamp Moss")
    stand_on(page, "Copper Larch Fern", "name")
    expect(page.locator(FACE)).to_contain_text("Create a copy of Lamp Moss.")
    expect(told).to_have_count(0)
    keys(page, "Control+z")
    expect(told).to_contain_text("this game has no card called “Lamp Moss”")
    expect(told).to_contain_text("The last good version prints and plays until this is fixed.")


def test_a_click_while_the_next_room_is_still_fetched_counts(page: Page):
    """The last thing asked for is done, though the room of the one before is not there yet."""
    held: list[Route] = []
    intercept(page, re.compile("/assets/HistoryPage"), lambda route: held.append(route))
    page.get_by_role("link", name="History").click()
    expect(page).to_have_url(re.compile("/history"))
    page.get_by_role("button", name="Game:").click()
    page.get_by_role("menuitem", name="Crowded Bed").click()
    expect(page.get_by_role("button", name="Game: Crowded Bed")).to_be_visible()
    expect(page).to_have_url(re.compile("/crowded-bed/cards"))
    for each in held:
        each.continue_()
    at_rest(page)
    expect(page).to_have_url(re.compile("/crowded-bed/cards"))


def open_another(page: Page, name: str) -> None:
    page.get_by_role("button", name="Game:").click()
    page.get_by_role("menuitem", name=name).click()
    expect(page.get_by_role("button", name=f"Game: {name}")).to_be_visible()
    page.locator(".pane-face svg.face").wait_for()


def test_what_one_game_answers_late_is_not_seen_in_another(page: Page, server: Server):
    held: list[Route] = []
    intercept(page, re.compile("/fields/height$"), lambda route: held.append(route))
    stand_on(page, "Copper Larch Fern", "height")
    page.keyboard.type("6")
    with page.expect_request(re.compile("/fields/height$")):
        page.keyboard.press("Enter")
    open_another(page, "Crowded Bed")
    rows = page.locator("[role=grid]").first.get_attribute("aria-rowcount")
    expect(page.locator(COUNT)).to_contain_text("48 of 48 cards")
    with page.expect_response(re.compile("/fields/height$")):
        held[0].continue_()
    expect(page.locator(".saved")).to_have_text("All saved")
    at_rest(page)
    assert page.locator("[role=grid]").first.get_attribute("aria-rowcount") == rows
    expect(page.locator(COUNT)).to_contain_text("48 of 48 cards")
    expect(page.get_by_text("Copper Larch Fern")).to_have_count(0)
    # It was written where it was typed.
    assert value(server, "height") == "6"
    open_another(page, "Ribbon Season")
    expect(cell(page, "RS-001", "height")).to_have_text("6")


def test_a_conflict_that_one_game_tells_late_leaves_another_open(page: Page, server: Server, window: str):
    fill(page, "Copper Larch Fern", "height", "6")
    ask(server, "PUT", f"/cards/{FERN}/fields/height", {"value": "9", "base": ask(server, "GET", "/cards")["seq"]}, window)
    expect(cell(page, "RS-001", "height")).to_have_text("9")
    held: list[Route] = []
    intercept(page, re.compile("/undo$"), lambda route: held.append(route))
    with page.expect_request(re.compile("/undo$")):
        keys(page, "Control+z")
    open_another(page, "Crowded Bed")
    with page.expect_response(re.compile("/undo$")) as answer:
        held[0].continue_()
    assert answer.value.status == 409
    expect(page.locator(STRIP)).to_contain_text("changed since by another window")
    at_rest(page)
    expect(page.get_by_role("button", name="Game: Crowded Bed")).to_be_visible()
    expect(page.locator(COUNT)).to_contain_text("48 of 48 cards")


def test_what_was_said_of_one_game_stays_with_it(page: Page):
    said = page.locator(STRIP)
    stand_on(page, "Copper Larch Fern", "height")
    keys(page, "9", "Enter")
    expect(said).to_contain_text("Copper Larch Fern")
    stand_on(page, "Ladder Frond", "height")
    page.keyboard.type("tall")
    keys(page, "Enter")
    expect(said).to_contain_text("“tall”")
    open_another(page, "Crowded Bed")
    expect(said).to_have_text("What your edit affects appears here.")
    # What could not be written is kept where it was typed.
    open_another(page, "Ribbon Season")
    expect(cell(page, "RS-002", "height")).to_contain_text("tall")


def test_undo_pressed_during_the_preview_of_an_edit_undoes_that_edit(page: Page, server: Server):
    """An edit of a list is looked at by the server before it is written: undo waits for it, and does not go back one too far."""
    page.get_by_role("link", name="Rules").click()
    part(page, "Beds")
    values = page.get_by_role("list", name="Values of Beds").get_by_role("listitem")
    page.get_by_label("New values").fill("Sedge")
    keys(page, "Enter")
    expect(values).to_have_count(5)
    page.get_by_label("Name of Sedge").fill("Reed")
    keys(page, "Enter")
    expect(page.locator(STRIP)).to_contain_text("Sedge renamed to Reed")
    held: list[Route] = []
    intercept(page, re.compile("/rules/lists/plan$"), lambda route: held.append(route))
    with page.expect_request(re.compile("/rules/lists/plan$")):
        page.get_by_role("button", name="Remove Reed").click()
    expect(values).to_have_count(4)
    page.get_by_role("button", name=re.compile("^Undo")).click()
    with page.expect_response(re.compile("/undo$")):
        held[0].continue_()
    expect(values).to_have_count(5)
    expect(page.get_by_label("Name of Reed")).to_have_value("Reed")


def test_what_was_asked_for_while_the_server_was_away_is_there_once_it_is_back(page: Page, server: Server):
    """A query, a room and the faces of a wall: no edit and no other news comes that would have them asked for again."""
    for room in ("Balance", "Cards"):
        page.get_by_role("link", name=room, exact=True).click()
        page.locator(".map-mark" if room == "Balance" else ".grid").first.wait_for()
    page.get_by_role("button", name="Wall").click()
    page.locator(".cards-wall-card svg.face").first.wait_for()
    server.kill()
    page.locator(".cards-wall").evaluate("wall => wall.scrollTo(0, wall.scrollHeight)")
    bare = page.locator(".cards-wall-card:not(:has(svg.face))")
    expect(bare).not_to_have_count(0)
    server.start()
    expect(bare).to_have_count(0)
    server.kill()
    failed: list[str] = []

    def four_times(request) -> bool:
        failed.append(request.url)
        return sum("/find" in each for each in failed) == 4

    with page.expect_event("requestfailed", four_times):
        page.get_by_label("Query").fill("cost >= 4")
        page.keyboard.press("Enter")
    expect(page.get_by_role("contentinfo")).to_contain_text("Connection lost")
    expect(page.locator(".toolbar-low")).to_contain_text("96 of 96 cards")
    server.start()
    expect(page.locator(".toolbar-low")).to_contain_text("33 of 96 cards")
    expect(page.get_by_role("contentinfo")).not_to_contain_text("Connection lost")
    server.kill()
    page.get_by_role("link", name="Balance").click()
    expect(page.locator(".room")).to_contain_text("Working out the map…")
    server.start()
    expect(page.locator(".map-mark").first).to_be_visible()


def test_a_table_the_shelf_and_another_game_that_were_opened_while_the_server_was_away_come_once_it_is_back(page: Page, server: Server):
    deck = page.request.get(f"{server.url}/api/games/{GAME}/decks").json()[0]["id"]
    begun = page.request.post(f"{server.url}/api/games/{GAME}/playtests", data={"deck": deck, "seed": 7})
    assert begun.ok, begun.text()
    # What the rooms are made of is there before the server goes.
    page.goto(f"{server.url}/{GAME}/playtest?table={begun.json()['id']}")
    page.locator(".hand .table-card").first.wait_for()
    page.goto(f"{server.url}/shelf")
    page.get_by_role("link", name="Ribbon Season").first.click()
    page.get_by_role("link", name="Playtest").click()
    page.locator(".start-recent li").first.wait_for()
    lost = page.get_by_role("contentinfo").get_by_text("Connection lost")
    server.kill()
    page.locator(".start-recent button").first.click()
    lost.wait_for()
    server.start()
    page.locator(".hand .table-card").first.wait_for()
    expect(page.get_by_role("contentinfo")).not_to_contain_text("Connection lost")
    server.kill()
    lost.wait_for()
    page.get_by_role("button", name=re.compile("^Game:")).click()
    page.get_by_role("menuitem", name=re.compile("^The Crowded Bed|^Crowded Bed")).click()
    expect(page.get_by_role("heading", name="This game can't be opened")).to_be_visible()
    page.get_by_role("link", name="All games").click()
    expect(page.get_by_role("link", name="Ribbon Season")).to_have_count(0)
    server.start()
    expect(page.get_by_role("link", name="Ribbon Season").first).to_be_visible()


@pytest.mark.begins_elsewhere
def test_a_page_that_reaches_no_server_opens_by_itself_when_there_is_one(page: Page, server: Server):
    away = ["/api/games"]
    page.route(re.compile("/api/"), lambda route: route.abort() if re.search(away[0], route.request.url) else route.continue_())
    page.goto(f"{server.url}/{GAME}/cards")
    expect(page.get_by_role("heading")).to_have_text("Dramok can't be reached")
    away[0] = "/api/games/"
    expect(page.get_by_role("heading")).to_have_text("This game can't be opened")
    away[0] = "nothing"
    expect(page.locator(".pane-face svg.face")).to_be_visible()


def test_what_is_replaced_is_what_was_asked_for_though_enter_comes_before_the_answer(page: Page, server: Server):
    page.keyboard.press("Control+h")
    dialog = page.get_by_role("dialog", name="Find and replace")
    dialog.get_by_label("Find", exact=True).fill("Ladder Frond")
    expect(dialog.locator(".replace-list li")).to_have_count(1)
    page.keyboard.press("Enter")
    expect(dialog.get_by_label("Replace by")).to_be_focused()
    dialog.get_by_label("Replace by").fill("Step Frond")
    expect(dialog.locator(".replace-after")).to_have_text("Step Frond")
    answers = LateAnswers(page, re.compile("/replace/preview$"))
    dialog.get_by_label("Replace by").fill("Stepladder Frond")
    page.keyboard.press("Enter")
    expect(dialog.get_by_role("button", name="Replace in 1 place")).to_be_disabled()
    assert value(server, "name", f"c-{GAME}-rs-002") == "Ladder Frond", "what is shown is the answer to what was typed before"
    answers.come()
    expect(dialog).to_have_count(0)
    expect(page.locator(STRIP)).to_contain_text("name Ladder Frond → Stepladder Frond")
    assert value(server, "name", f"c-{GAME}-rs-002") == "Stepladder Frond"


def test_enter_of_a_question_that_was_changed_since_replaces_nothing(page: Page, server: Server):
    page.keyboard.press("Control+h")
    dialog = page.get_by_role("dialog", name="Find and replace")
    dialog.get_by_label("Find", exact=True).fill("Ladder Frond")
    answers = LateAnswers(page, re.compile("/replace/preview$"))
    by = dialog.get_by_label("Replace by")
    by.fill("Step")
    by.press("Enter")
    by.fill("Stepp")
    by.fill("Step")
    answers.come()
    expect(dialog.get_by_role("button", name="Replace in 1 place")).to_be_enabled()
    at_rest(page)
    assert value(server, "name", f"c-{GAME}-rs-002") == "Ladder Frond"
    by.press("Enter")
    expect(dialog).to_have_count(0)
    expect(page.locator(STRIP)).to_contain_text("Ladder Frond → Step")


@pytest.mark.parametrize(("early", "more", "becomes"), [("co", "s", "Cost "), ("co", "d", "cod")])
def test_a_suggestion_that_was_made_for_less_completes_the_word_as_it_is_by_now(page: Page, early: str, more: str, becomes: str):
    page.get_by_label("Query").click()
    page.keyboard.type(early)
    expect(page.locator(".query-offers [role=option]").first).to_have_text(re.compile("^Cost"))
    answers = LateAnswers(page, re.compile("/offers"))
    page.keyboard.type(more)
    page.keyboard.press("Tab")
    expect(page.get_by_label("Query")).to_have_value(becomes)
    answers.come()
