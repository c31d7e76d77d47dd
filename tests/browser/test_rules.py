"""The rules on screen: parts of the game, worths as a sheet with the set map, the phrase book; with real clicks and keys."""

from __future__ import annotations

import re

import httpx
import pytest
from bench.served import Server
from playwright.sync_api import Locator, Page, expect

from tests.browser.test_journey import FACE, STRIP, grave_faults

EFFECTS = "Worth of effects, editable"
BUDGETS = "Budgets, editable"
PRICES = "/ribbon-season/rules?at=game:prices"

pytestmark = pytest.mark.begins_elsewhere


def saved(page: Page) -> None:
    """Nothing is on its way any more: an address may be opened."""
    expect(page.locator(".saved")).to_have_text("All saved")


def test_parts_of_the_rules_are_edited_seen_at_once_and_undone(page: Page, server: Server):
    part = lambda name: page.get_by_role("button", name=name, exact=True).click()  # noqa: E731
    undo = page.get_by_role("button", name=re.compile("^Undo"))
    page.goto(f"{server.url}/ribbon-season/rules")
    part("Resources")
    water = page.get_by_role("listitem", name="Water")
    water.get_by_label("At the start").fill("6")
    page.keyboard.press("Enter")
    expect(page.locator(STRIP)).to_contain_text("resources changed")
    water.get_by_role("button", name="Remove Water").click()
    expect(page.locator(STRIP)).to_contain_text(re.compile("not a resource|gain or lose it"))
    page.get_by_label("New resource").fill("Patience")
    page.keyboard.press("Enter")
    patience = page.get_by_role("listitem", name="Patience")
    patience.get_by_label("At most").fill("9")
    page.keyboard.press("Enter")
    saved(page)
    page.reload()
    expect(patience.get_by_label("At most")).to_have_value("9")
    expect(water.get_by_label("At the start")).to_have_value("6")
    part("At the table")
    page.get_by_label("Opening hand").fill("7")
    page.keyboard.press("Enter")
    page.get_by_label("Cards are paid with").select_option(label="Patience")
    page.get_by_label("Cards are paid with").select_option(label="Water")
    part("Deck rules")
    page.get_by_label("Least cards").fill("40")
    page.keyboard.press("Enter")
    expect(page.locator(STRIP)).to_contain_text("at least 40 and at most 36 cards: no deck can be so")
    page.get_by_label("Most cards").fill("60")
    page.keyboard.press("Enter")
    # What it would do is said before it is done, and leaving it alone puts the number back.
    page.get_by_label("Least cards").fill("40")
    page.keyboard.press("Enter")
    asked = page.get_by_role("alert")
    expect(asked).to_contain_text("2 decks would no longer be legal: Fern over Moss, Hooks and Ribbons.")
    asked.get_by_role("button", name="Leave it as it was").click()
    expect(page.get_by_label("Least cards")).to_have_value("36")
    page.get_by_label("Least cards").fill("40")
    page.keyboard.press("Enter")
    asked.get_by_role("button", name="Write it").click()
    expect(page.locator(STRIP)).to_contain_text("is now illegal: 36 cards; minimum 40")
    page.get_by_role("button", name="Other deck rules", exact=True).click()
    page.get_by_role("button", name="Remove Other deck rules").click()
    expect(page.get_by_role("button", name="Remove Other deck rules")).to_have_count(0)
    page.get_by_role("link", name="Decks").click()
    expect(page.locator(".legality")).to_contain_text("36 cards; minimum 40")
    undo.click()
    undo.click()
    undo.click()
    expect(page.locator(".legality")).not_to_contain_text("minimum 40")
    page.get_by_role("link", name="Rules").click()
    part("Worths and budgets")
    cell(page, BUDGETS, "1, Plant").click()
    page.keyboard.type("9,5")
    page.keyboard.press("Enter")
    expect(cell(page, BUDGETS, "1, Plant")).to_have_text("9.5")
    page.get_by_role("link", name="Cards").click()
    verdict = page.locator("[id='cell-c-ribbon-season-rs-001-verdict']")
    expect(verdict).to_have_text("−7 under")
    undo.click()
    expect(verdict).to_have_text("−0.25")
    page.get_by_role("link", name="Rules").click()
    part("Declared tags")
    page.get_by_label("Tags, with commas between").fill("early,  late bloom , early,, ")
    page.keyboard.press("Enter")
    expect(page.get_by_label("Tags, with commas between")).to_have_value("early, late bloom")
    part("Field roles")
    page.get_by_label("The faction").select_option(label="no field")
    expect(page.locator(STRIP)).to_contain_text("parts of fields changed")
    page.get_by_role("link", name="Cards").click()
    expect(page.locator(FACE)).to_be_visible()
    undo.click()
    expect(page.locator(STRIP)).to_contain_text("undo")


def test_the_map_moves_while_one_types_and_nothing_is_written_before_enter(page: Page, server: Server):
    page.goto(server.url + PRICES)
    mildew = cell(page, EFFECTS, "Worth, mildew:")
    mildew.click()
    side = page.get_by_role("complementary", name="What the worths do")
    expect(side).to_contain_text("Used in 19 effects")
    expect(side.get_by_role("listitem").filter(has_text="Barb Sister")).to_contain_text(
        "deal 2 to one rival+2"
    )
    expect(page.locator("[data-ghosts]")).to_have_count(0)
    page.keyboard.type("3")
    expect(side.get_by_role("status")).to_have_text("17 verdicts would change")
    expect(page.locator("[data-ghosts='17']")).to_be_attached()
    expect(side.get_by_role("listitem").filter(has_text="Barb Sister")).to_contain_text("+6")
    page.keyboard.press("Escape")
    expect(page.locator("[data-ghosts]")).to_have_count(0)
    expect(mildew).to_have_text("1")
    expect(page.get_by_role("button", name="Undo", exact=True)).to_be_disabled()
    page.keyboard.type("3")
    page.keyboard.press("Enter")
    expect(page.locator(STRIP)).to_contain_text("17 verdicts changed")
    expect(page.locator("[data-ghosts]")).to_have_count(0)
    # Focus is where it was: the row below.
    page.keyboard.press("ArrowUp")
    page.keyboard.press("Alt+ArrowDown")
    expect(mildew).to_have_text("2.75")
    page.keyboard.press("Control+z")
    expect(mildew).to_have_text("3")
    page.keyboard.press("Control+z")
    expect(mildew).to_have_text("1")


def test_the_sheet_of_worths_has_the_keys_of_the_grid(page: Page, server: Server):
    page.goto(server.url + PRICES)
    cell(page, EFFECTS, "Worth, taking cards:").click()
    page.keyboard.type("1 1,75 2.25")
    page.keyboard.press("Tab")
    expect(cell(page, EFFECTS, "Worth, taking cards:")).to_have_text("1 1.75 2.25")
    expect(cell(page, EFFECTS, "up to, taking cards:")).to_have_attribute("aria-readonly", "true")
    # A choice by its beginning, a tick, a whole column filled down, cells copied and pasted.
    cell(page, EFFECTS, "Target, washing:").click()
    page.keyboard.type("ri")
    page.keyboard.press("Enter")
    expect(cell(page, EFFECTS, "Target, washing:")).to_have_text("a rival")
    cell(page, EFFECTS, "Private, giving cards up:").click()
    page.keyboard.press("Space")
    expect(cell(page, EFFECTS, "Private, giving cards up:")).to_have_text("✓")
    cell(page, EFFECTS, "Worth, ribbons gained:").click()
    for _ in range(2):
        page.keyboard.press("Shift+ArrowDown")
    page.keyboard.press("Control+d")
    expect(cell(page, EFFECTS, "Worth, water into the cistern:")).to_have_text("1.5")
    page.keyboard.press("Control+c")
    cell(page, EFFECTS, "Worth, more height:").click()
    page.keyboard.press("Control+v")
    expect(cell(page, EFFECTS, "Worth, more root:")).to_have_text("1.5")
    page.keyboard.press("Delete")
    expect(cell(page, EFFECTS, "Worth, more height:")).to_have_text("undecided")
    # Text without a number is refused with a fix, and the cell keeps its value.
    page.keyboard.type("a lot")
    page.keyboard.press("Enter")
    expect(page.get_by_role("alert")).to_contain_text(
        "“a lot” is not a number of points — write a number such as 0.75"
    )
    expect(cell(page, EFFECTS, "Worth, more height:")).to_have_text("undecided")
    # A flat worth, and a new row from the last line.
    cell(page, EFFECTS, "Flat, washing:").click()
    page.keyboard.press("Enter")
    expect(cell(page, EFFECTS, "up to, washing:")).to_have_text("2")
    cell(page, EFFECTS, "Effect, a new worth:").click()
    page.keyboard.type("rev")
    page.keyboard.press("Enter")
    expect(cell(page, EFFECTS, "Worth, reveal:")).to_have_text("undecided")
    cell(page, EFFECTS, "Effect, reveal:").click()
    page.keyboard.press("Control+Delete")
    expect(cell(page, EFFECTS, "Worth, reveal:")).to_have_count(0)
    saved(page)
    page.reload()
    expect(cell(page, EFFECTS, "Worth, taking cards:")).to_have_text("1 1.75 2.25")
    expect(cell(page, EFFECTS, "Private, giving cards up:")).to_have_text("✓")


def test_curves_and_budgets_are_taken_hold_of(page: Page, server: Server):
    page.goto(server.url + PRICES)
    cell(page, BUDGETS, "2, Plant:").click()
    handle = page.get_by_role("slider", name="Budget at cost 2", exact=True)
    expect(handle).to_have_attribute("aria-valuenow", "4.5")
    box = handle.bounding_box()
    assert box
    page.mouse.move(box["x"] + 10, box["y"] + 10)
    page.mouse.down()
    page.mouse.move(box["x"] + 10, box["y"] - 14, steps=4)
    expect(page.locator(".worths-map-head")).to_contain_text("would change")
    expect(cell(page, BUDGETS, "2, Plant:")).to_have_text("4.5")
    page.mouse.up()
    expect(cell(page, BUDGETS, "2, Plant:")).not_to_have_text("4.5")
    page.get_by_role("button", name=re.compile("^Undo")).click()
    expect(cell(page, BUDGETS, "2, Plant:")).to_have_text("4.5")
    handle.focus()
    page.keyboard.press("ArrowUp")
    expect(cell(page, BUDGETS, "2, Plant:")).to_have_text("4.75")
    expect(handle).to_be_focused()
    # A bend: one worth for each up to a number, then less for each further one.
    cell(page, EFFECTS, "Worth, mildew:").click()
    beyond = page.get_by_role("slider", name="Each beyond 3", exact=True)
    expect(beyond).to_have_attribute("aria-valuenow", "5.25")
    beyond.focus()
    page.keyboard.press("ArrowUp")
    expect(cell(page, EFFECTS, "then, mildew:")).to_have_text("1")


def test_unpriced_and_doubly_priced_effects_are_fixed_where_they_are_shown(page: Page, server: Server):
    page.goto(f"{server.url}/ribbon-season/cards?card=c-ribbon-season-rs-001&field=cost")
    page.locator("#editor-effect").click()
    page.keyboard.type("upon play this: reveal 2")
    page.keyboard.press("Control+Enter")
    verdict = page.locator("[id='cell-c-ribbon-season-rs-001-verdict']")
    expect(verdict).to_have_text("undecided")
    page.locator(".ledger").get_by_role("link", name="price it").click()
    page.get_by_role("button", name=re.compile("^Price reveal")).click()
    page.keyboard.type("0,25")
    page.keyboard.press("Enter")
    expect(page.get_by_text("No row prices")).to_have_count(0)
    page.get_by_role("link", name="Cards", exact=True).click()
    expect(verdict).to_have_text("+0.25")
    page.goto(server.url + PRICES)
    # Two that name as much as each other.
    cell(page, EFFECTS, "Effect, a new worth:").click()
    page.keyboard.type("draw")
    page.keyboard.press("Enter")
    trouble = page.locator(".worths-equal")
    expect(trouble).to_contain_text("taking cards and draw match “draw 1” equally well")
    expect(trouble).to_contain_text("They name the very same")
    cell(page, EFFECTS, "When, taking cards:").click()
    page.keyboard.type("on play")
    page.keyboard.press("Enter")
    cell(page, EFFECTS, "Target, draw:").click()
    page.keyboard.type("yourself")
    page.keyboard.press("Enter")
    trouble.get_by_role("button", name="Let taking cards price it").click()
    expect(trouble).to_have_count(0)
    expect(cell(page, EFFECTS, "Target, taking cards:")).to_have_text("yourself")


def test_cells_pasted_renamed_and_emptied_together_lose_nothing(page: Page, server: Server):
    page.goto(server.url + PRICES)
    # A name that is taken gets a number, and one stays on the row.
    cell(page, EFFECTS, "Name, washing:").click()
    page.keyboard.type("mildew")
    page.keyboard.press("Control+Enter")
    expect(cell(page, EFFECTS, "Name, mildew 2:")).to_have_text("mildew 2")
    expect(page.locator(".cell-sheet-on").get_by_role("gridcell").first).to_have_text("mildew 2")
    # A row copied over another brings its name and everything that depends on it.
    cell(page, EFFECTS, "Name, ribbons gained:").click()
    page.keyboard.press("Shift+End")
    page.keyboard.press("Control+c")
    cell(page, EFFECTS, "Name, water spilt:").click()
    page.keyboard.press("Control+v")
    expect(cell(page, EFFECTS, "Effect, ribbons gained 2:")).to_have_text("gain")
    expect(cell(page, EFFECTS, "Worth, ribbons gained 2:")).to_have_text("1.5")
    saved(page)
    # The verb that is of a resource too keeps it.
    cell(page, EFFECTS, "Effect, ribbons gained 2:").click()
    page.keyboard.type("lose")
    page.keyboard.press("Enter")
    expect(cell(page, EFFECTS, "Applies to, ribbons gained 2:")).to_have_text("Ribbon")
    # A cost cleared in the middle is interpolated; cleared at the end, the line gets shorter; all cleared, there is none.
    cell(page, BUDGETS, "2, Plant:").click()
    page.keyboard.press("Delete")
    expect(cell(page, BUDGETS, "2, Plant:")).to_have_text("4.5")
    expect(cell(page, BUDGETS, "6, Plant:")).to_have_text("11.5")
    cell(page, BUDGETS, "3, Plant:").click()
    page.keyboard.press("Shift+Control+ArrowRight")
    page.keyboard.press("Delete")
    expect(cell(page, BUDGETS, "2, Plant:")).to_have_text("4.5")
    expect(page.locator(STRIP)).to_contain_text("verdicts changed")
    page.keyboard.press("Control+z")
    expect(cell(page, BUDGETS, "6, Plant:")).to_have_text("11.5")
    cell(page, BUDGETS, "0, Plant:").click()
    page.keyboard.press("Shift+Control+ArrowRight")
    page.keyboard.press("Delete")
    expect(cell(page, BUDGETS, "0, Plant:")).to_have_text("")
    expect(cell(page, BUDGETS, "6, Plant:")).to_have_text("")
    expect(page.locator(".worths-map-head")).not_to_contain_text("96 cards, 8 outliers")


def test_an_edit_that_is_asked_about_waits_for_one_answer_and_is_never_shown_as_written(
    page: Page, server: Server
):
    page.goto(f"{server.url}/ribbon-season/rules?at=game:formats")
    least, asked = page.get_by_label("Least cards"), page.get_by_role("alert")
    page.get_by_label("Most cards").fill("60")
    page.keyboard.press("Enter")
    # Two edits one after the other: the second holds the first, and leaving it takes both back.
    least.fill("40")
    page.keyboard.press("Enter")
    page.get_by_label("Copies of a card").fill("1")
    page.keyboard.press("Enter")
    expect(asked).to_contain_text("no longer be legal")
    asked.get_by_role("button", name="Leave it as it was").click()
    expect(least).to_have_value("36")
    expect(page.get_by_label("Copies of a card")).not_to_have_value("1")
    expect(asked).to_have_count(0)
    # Leaving the room drops the open preview, with a message.
    least.fill("40")
    page.keyboard.press("Enter")
    expect(asked).to_contain_text("no longer be legal")
    page.get_by_role("button", name="At the table", exact=True).click()
    expect(page.locator(STRIP)).to_contain_text("the last edit was not taken")
    page.get_by_label("Opening hand").fill("7")
    page.keyboard.press("Enter")
    expect(page.locator(STRIP)).to_contain_text("rules of the table changed")
    page.get_by_role("button", name="Deck rules", exact=True).click()
    expect(least).to_have_value("36")
    page.reload()
    expect(least).to_have_value("36")
    expect(page.get_by_label("Most cards")).to_have_value("60")


def test_worths_and_phrases_have_nothing_grave_and_are_reached_by_keys(page: Page, server: Server):
    page.goto(server.url + PRICES)
    page.locator(".worths-map svg").first.wait_for()
    cell(page, EFFECTS, "Worth, mildew:").click()
    page.get_by_role("slider").first.wait_for()
    assert grave_faults(page) == []
    # By keys alone: found by name, walked into, written, and the focus stays in the sheet.
    page.keyboard.press("Control+k")
    page.keyboard.type("phrase book")
    expect(page.locator(".find-item").first).to_contain_text("Phrase book")
    page.keyboard.press("Enter")
    page.locator(".phrases-samples li").first.wait_for()
    assert grave_faults(page) == []
    sheet = page.get_by_role("grid", name="Phrases: moments, editable")
    for _ in range(80):
        if sheet.evaluate("(each) => each === document.activeElement"):
            break
        page.keyboard.press("Tab")
    expect(sheet).to_be_focused()
    page.keyboard.press("Home")
    page.keyboard.press("ArrowRight")
    page.keyboard.type("When played:")
    page.keyboard.press("Enter")
    expect(cell(page, "Phrases: moments, editable", "Words, on play:")).to_have_text("When played:")
    expect(sheet).to_be_focused()


def test_what_changed_since_a_mark_is_shown_alone(page: Page, server: Server):
    page.goto(server.url + PRICES)
    mark(server, "before the fair")
    cell(page, EFFECTS, "Worth, mildew:").click()
    page.keyboard.type("2")
    page.keyboard.press("Enter")
    saved(page)
    page.get_by_label("Compared with").select_option(label="the mark before the fair")
    expect(page.locator(".worths-map-head")).to_contain_text("17 verdicts moved since before the fair")
    expect(page.locator("[data-ghosts='17']")).to_be_attached()
    page.get_by_label("only what changed since").check()
    expect(page.get_by_role("grid", name=EFFECTS).get_by_role("row")).to_have_count(2)
    expect(page.get_by_role("grid", name=BUDGETS).get_by_role("row")).to_have_count(1)


def test_a_phrase_is_counted_and_read_before_it_is_taken_and_repaints_the_faces(page: Page, server: Server):
    page.goto(f"{server.url}/ribbon-season/rules?at=game:phrases")
    side = page.get_by_role("complementary", name="Cards that say it")
    expect(side.get_by_role("listitem")).to_have_count(8)
    effects = "Phrases: effects, editable"
    cell(page, effects, "Words, draw, one:").click()
    page.keyboard.type("draw a card{nonsense} {each}")
    expect(side).to_contain_text("{nonsense} is no part of it — write {n}, {each}, {damage}, {water}")
    page.keyboard.press("Enter")
    expect(page.locator(STRIP)).to_contain_text("{nonsense} is no part of it")
    expect(cell(page, effects, "Words, draw, one:")).to_have_text("take {n} card from your pile {each}")
    cell(page, effects, "Words, draw, one:").click()
    page.keyboard.type("draw a card {each}")
    expect(side).to_contain_text("26 cards would read otherwise")
    first = side.get_by_role("listitem").first
    expect(first.locator("del")).to_contain_text("take 1 card from your pile.")
    expect(first.locator("p")).to_contain_text("raw a card.")
    page.keyboard.press("Enter")
    expect(page.locator(STRIP)).to_contain_text("26 faces re-laid")
    page.keyboard.press("ArrowUp")
    page.get_by_role("link", name="Ladder Frond").click()
    expect(page.locator(FACE)).to_contain_text("draw a card")
    page.get_by_role("button", name=re.compile("^Undo")).click()
    expect(page.locator(FACE)).to_contain_text("take 1 card from")


def cell(page: Page, grid: str, start: str) -> Locator:
    """A cell of a sheet by the start of its name: its column, then its row."""
    return page.get_by_role("grid", name=grid, exact=True).get_by_role(
        "gridcell", name=re.compile(f"^{re.escape(start)}")
    )


def mark(server: Server, name: str) -> None:
    httpx.post(
        f"{server.url}/api/games/ribbon-season/marks",
        json={"name": name},
        headers={"idempotency-key": "a-mark", "x-page": "another"},
    ).raise_for_status()


def test_cards_without_a_cost_have_one_place_and_keep_it(page: Page, server: Server):
    """Twenty tiles of a game without costs: their marks leave neither the map nor their cost."""
    page.goto(f"{server.url}/crowded-bed/balance")
    page.locator(".map-mark[data-card]").first.wait_for()
    places = page.evaluate(
        "() => [...document.querySelectorAll('.map-mark[data-card]')].map((each) => each.transform.baseVal[0].matrix.e)"
    )
    first, second = (
        float(
            page.locator(".visx-axis-bottom text", has_text=re.compile(f"^{cost}$")).evaluate(
                "(each) => each.getBoundingClientRect().x + each.getBoundingClientRect().width / 2"
            )
        )
        for cost in (0, 1)
    )
    assert len(places) > 15 and max(places) - min(places) <= (second - first) + 1
