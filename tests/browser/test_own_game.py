"""From an empty database and an unprepared sheet to a printed page, with real clicks and keys, then undone to the start."""

from __future__ import annotations

import random
import re
from pathlib import Path

import pypdfium2
from bench.served import Server
from playwright.sync_api import Page, expect

from tests.browser.test_journey import FACE, STRIP
from tests.browser.test_output import in_room, made
from tests.browser.test_rules import BUDGETS, EFFECTS, cell, saved
from tests.browser.test_shelf import DEMO_WORDS, own, sheet, shelf  # noqa: F401
from tests.conftest import SEED

# Texts of the page outside its content: hints in empty fields, tooltips, names for screen readers.
ASIDE = """() => [...document.querySelectorAll('*')].flatMap((each) =>
  ['placeholder', 'title', 'aria-label'].map((name) => each.getAttribute(name) ?? '')).join(' ')"""


def test_the_whole_way_from_nothing_to_a_printed_page(shelf: Page, own: Server, tmp_path: Path):  # noqa: F811
    path, heads = sheet(tmp_path, random.Random(SEED))
    with shelf.expect_file_chooser() as chooser:
        shelf.get_by_role("button", name=re.compile("From a table file")).click()
    chooser.value.set_files(path)
    # Two guesses corrected: the second type is a field after all, and then is not; the power is no stat yet.
    columns = shelf.get_by_role("region", name="Columns of the sheet")
    kind = columns.get_by_label(f"What {heads['kind']} is", exact=True)
    kind.select_option("choice")
    kind.select_option("type")
    columns.get_by_label(f"Role of {heads['power']}", exact=True).select_option("")
    shelf.get_by_label("Name of the game").fill("Twelve of Mine")
    shelf.get_by_role("button", name="Create with 12 cards").click()
    shelf.wait_for_url("**/twelve-of-mine/cards**")
    expect(shelf.locator(FACE)).to_be_visible()
    resources_and_hand(shelf)
    worths(shelf, heads["power"])
    words(shelf)
    a_deck_and_a_hand(shelf)
    a_page(shelf)
    # All of the first steps are done, so the list of them is gone.
    with shelf.expect_response(
        lambda answer: answer.url.endswith("/rules/steps") or answer.url.endswith("/steps")
    ):
        shelf.get_by_role("link", name="Cards", exact=True).click()
    expect(shelf.locator(".toolbar-low")).to_contain_text("12 of 12 cards")
    expect(shelf.get_by_role("navigation", name="First steps")).to_have_count(0)
    for room in ("Cards", "Rules", "Decks", "Playtest", "Balance", "Output", "History", "Files"):
        shelf.get_by_role("link", name=room, exact=True).click()
        expect(shelf.locator(".loading")).to_have_count(0)
        said = shelf.locator("body").inner_text() + shelf.evaluate(ASIDE)
        assert not DEMO_WORDS.search(said), f"{room}: {DEMO_WORDS.search(said)}"
    # Every step of it is undone, back to the cards as they came from the sheet.
    undo = shelf.get_by_role("button", name=re.compile("^Undo"))
    for _ in range(60):
        # Looked at and pressed at one moment: an answer may come between a look and a press.
        if not undo.evaluate("button => !button.disabled && (button.click(), true)"):
            break
        saved(shelf)
    expect(undo).to_be_disabled()
    shelf.goto(f"{own.url}/twelve-of-mine/rules?at=game:resources")
    expect(shelf.get_by_role("listitem", name="Pluckiness")).to_have_count(0)


def part(page: Page, name: str) -> None:
    page.get_by_role("button", name=name, exact=True).click()


def resources_and_hand(page: Page) -> None:
    page.get_by_role("link", name="Rules", exact=True).click()
    part(page, "Resources")
    for name in ("Pluckiness", "Echoes"):
        page.get_by_label("New resource").fill(name)
        page.keyboard.press("Enter")
        page.get_by_role("listitem", name=name).get_by_label("At the start").fill("3")
        page.keyboard.press("Enter")
    saved(page)
    part(page, "At the table")
    page.get_by_label("Opening hand").fill("4")
    page.keyboard.press("Enter")
    page.get_by_label("Cards are paid with").select_option(label="Pluckiness")
    saved(page)


def worths(page: Page, power: str) -> None:
    """A worth for the stat, which gives it its part; one for what cards do; a budget: the map moves before Enter is pressed."""
    part(page, "Worths and budgets")
    head = page.locator(".worths-map-head")
    expect(head).to_contain_text("12 cards, 0 outliers")
    cell(page, "Worth of a point, editable", f"A point, {power}:").click()
    page.keyboard.type("0.5")
    page.keyboard.press("Enter")
    expect(cell(page, "Worth of a point, editable", f"Used, {power}:")).to_have_text("12")
    cell(page, EFFECTS, "Effect, a new worth:").click()
    page.keyboard.type("draw")
    page.keyboard.press("Enter")
    cell(page, EFFECTS, "Worth, draw:").click()
    page.keyboard.type("1")
    page.keyboard.press("Enter")
    cell(page, BUDGETS, "1, Every type:").click()
    page.keyboard.type("2")
    expect(head).to_contain_text(re.compile(r"\d+ verdicts would change"))
    expect(page.locator("[data-ghosts]")).to_be_attached()
    page.keyboard.press("Enter")
    expect(page.locator("[data-ghosts]")).to_have_count(0)
    cell(page, BUDGETS, "each more, Every type:").click()
    page.keyboard.type("1,5")
    page.keyboard.press("Enter")
    expect(cell(page, BUDGETS, "each more, Every type:")).to_have_text("1.5")
    saved(page)


def words(page: Page) -> None:
    """An effect written, and printed with the user's own phrases."""
    page.get_by_role("link", name="Cards", exact=True).click()
    page.locator(".grid").focus()
    page.locator(".pane textarea, .pane [id^=editor-]").first.click()
    page.keyboard.press("Control+a")
    page.keyboard.type("upon play this: draw 2")
    page.keyboard.press("Control+Enter")
    expect(page.locator(FACE)).to_contain_text("Draw 2 cards")
    saved(page)
    page.get_by_role("link", name="Rules", exact=True).click()
    part(page, "Phrase book")
    cell(page, "Phrases: effects, editable", "Words, draw, several:").click()
    page.keyboard.type("pull {n} cards up")
    expect(page.get_by_role("complementary", name="Cards that say it")).to_contain_text(
        "1 card would read otherwise"
    )
    page.keyboard.press("Enter")
    expect(page.locator(STRIP)).to_contain_text("phrase book changed")
    saved(page)
    page.get_by_role("link", name="Cards", exact=True).click()
    expect(page.locator(FACE)).to_contain_text("Pull 2 cards up")


def a_deck_and_a_hand(page: Page) -> None:
    page.get_by_role("link", name="Rules", exact=True).click()
    part(page, "Deck rules")
    for label, number in (("Least cards", "6"), ("Most cards", "9"), ("Copies of a card", "2")):
        page.get_by_label(label, exact=True).fill(number)
        page.keyboard.press("Enter")
    saved(page)
    page.get_by_role("link", name="Decks", exact=True).click()
    page.get_by_role("button", name="New", exact=True).click()
    for number in range(6):
        page.get_by_role("button", name=re.compile("^One .* more$")).nth(number % 3).click()
        expect(page.locator(".legality")).to_be_visible()
    expect(page.locator(".legality")).not_to_contain_text("minimum")
    saved(page)
    page.get_by_role("link", name="Playtest", exact=True).click()
    page.locator(".start-go").click()
    expect(page.locator(".hand button.table-face")).to_have_count(4)


def a_page(page: Page) -> None:
    in_room(page)
    expect(page.get_by_role("region", name="Summary").get_by_role("heading")).to_contain_text(
        re.compile(r"\d pages")
    )
    page.get_by_role("button", name="Make the PDF").press("Enter")
    document = pypdfium2.PdfDocument(made(page))
    assert len(document) >= 2, "twelve cards and their copies fill more than a page"
