"""Balance on screen: price rows, the page of one card, sweeps and what-ifs, edits measured by games, duels, the health of a set, charts as files."""

from __future__ import annotations

import re
from pathlib import Path

import pytest
from bench.served import Server
from playwright.sync_api import Locator, Page, Route, expect

from dramok.workers.compiled_kernel import can_compile
from tests.browser.conftest import GAME, LONG
from tests.browser.test_journey import grave_faults
from tests.browser.test_rules import EFFECTS, PRICES, cell

needs_compiler = pytest.mark.skipif(not can_compile(), reason="games need llvmlite")
NUMBER = r"[+−]?\d+\.\d"


@pytest.fixture
def page(blank: Page, server: Server) -> Page:
    """The room of balance, as it is met first."""
    blank.goto(f"{server.url}/{GAME}/balance")
    return blank


def open_view(page: Page, name: str, game: str = GAME) -> None:
    page.goto(f"{page.url.split('/', 3)[0]}//{page.url.split('/')[2]}/{game}/balance")
    page.get_by_role("tab", name=name, exact=True).click()


def measured(page: Page, games: str = "5000") -> None:
    page.get_by_label("Games", exact=True).select_option(games)
    press = page.get_by_role("button", name="Measure", exact=True)
    press.press("Enter")
    expect(page.get_by_role("button", name=re.compile("^Go on to"))).to_be_visible(timeout=LONG)
    expect(press).to_be_focused()


def saved(page: Page, press: Locator) -> str:
    """The text of the file that a button gives."""
    with page.expect_download() as waiting:
        press.click()
    return Path(waiting.value.path()).read_text(encoding="utf-8")


@needs_compiler
def test_lenses_are_stored_compared_and_opened_for_a_card(page: Page, server: Server):
    open_view(page, "Lenses")
    table = page.get_by_role("region", name="Lenses, card by card")
    own = page.get_by_role("complementary", name="Glasshouse Bracken")
    table.get_by_role("button", name="Glasshouse Bracken").click()
    expect(own).to_contain_text("No games have measured it yet.")
    measured(page)
    expect(own).to_contain_text(re.compile(rf"A copy brings {NUMBER} points of win rate"))
    # The focus goes back to the row that it was opened from, and stays on what was pressed while games run.
    own.get_by_role("button", name="Close").press("Enter")
    expect(table.get_by_role("button", name="Glasshouse Bracken")).to_be_focused()
    expect(table.locator(".lens-apart b").first).to_be_visible()
    page.get_by_role("button", name="Keep", exact=True).click()
    beside = page.get_by_label("Measurement beside")
    expect(beside.get_by_role("option")).to_have_count(2)
    beside.select_option(label="5,000 games under plain")
    expect(table.get_by_role("columnheader", name="than 5,000 games under plain")).to_be_visible()
    expect(table.locator("tbody tr").first).to_contain_text("0.0 ±")
    # With another player: both are shown, and their difference is a column.
    page.get_by_label("Played by").select_option("random")
    measured(page)
    beside.select_option(label="the last under plain")
    expect(table.get_by_role("columnheader", name="than under plain")).to_be_visible()
    assert not grave_faults(page)
    rows = saved(page, page.get_by_role("group", name="Ribbon Season lenses as a file").get_by_role("button", name="CSV"))
    assert rows.splitlines()[0].startswith("card,cost,declared,implied") and len(rows.splitlines()) == 97
    # A card opened with the keyboard: its own page opens in a pane, with links to its neighbours.
    table.get_by_role("button", name="Glasshouse Bracken").press("Enter")
    expect(own).to_contain_text("Near twins: Balcony Dendrobe (the same).")
    own.get_by_role("button", name="Close").click()
    expect(page.get_by_role("complementary", name="Outliers")).to_be_visible()
    # What is kept is a thing of the journal: undone, it is gone.
    page.get_by_role("button", name=re.compile("^Undo")).first.click()
    expect(beside.get_by_role("option", name="5,000 games under plain")).to_have_count(0)


@needs_compiler
def test_price_rows_are_held_against_what_costs_and_games_say(page: Page, server: Server):
    open_view(page, "Lenses")
    page.get_by_role("button", name="Worths").click()
    table = page.get_by_role("region", name="Lenses, row by row")
    height = table.get_by_role("row").filter(has=page.get_by_role("link", name="Height", exact=True))
    expect(height).to_contain_text(re.compile(r"1\.\d\d to 1\.\d\d · 9\d %"))
    expect(page.locator(".lenses")).to_contain_text("can only echo the declared worths")
    expect(page.locator(".lenses")).to_contain_text("No games say yet what a point of worth is")
    measured(page, "20000")
    expect(page.locator(".lenses")).to_contain_text(re.compile(r"One point of worth is \+\d\.\d\d points of win rate a copy"))
    expect(height.locator(".lens-interval")).to_have_count(2)
    page.get_by_label("Whose costs imply").select_option(label="the game Crowded Bed")
    expect(table.get_by_role("row").filter(has_text="—").first).to_be_visible()
    height.get_by_role("link").click()
    expect(page).to_have_url(re.compile("rules"))


@needs_compiler
def test_a_worth_is_swept_from_its_row_by_keys(page: Page, server: Server):
    """What draws should be worth: costs follow the worth, value by value; the curve, its numbers and what it makes cards cost."""
    open_view(page, "Lenses")
    page.get_by_role("button", name="Worths").click()
    press = page.get_by_role("button", name="Sweep taking cards")
    press.press("Enter")
    expect(press).to_have_attribute("aria-expanded", "true")
    part = page.get_by_role("region", name="Sweep of taking cards")
    expect(part.get_by_label("From")).to_have_value("0.75")
    part.get_by_label("From").fill("one")
    go = part.get_by_role("button", name="Sweep", exact=True)
    expect(go).to_have_attribute("aria-disabled", "true")
    part.get_by_label("From").fill("3")
    part.get_by_label("To").fill("2")
    part.get_by_label("To").press("Enter")
    expect(part.get_by_role("alert")).to_contain_text("from 3 to 2", timeout=LONG)
    part.get_by_label("From").fill("0,5")
    part.get_by_label("To").fill("4")
    part.get_by_label("Games for each value").select_option("500")
    go.press("Enter")
    expect(part.locator(".sweep-found")).to_be_visible(timeout=LONG)
    expect(part.get_by_role("alert")).to_have_count(0)
    expect(part.get_by_role("button", name="Sweep", exact=True)).to_be_focused()
    expect(part.get_by_role("img")).to_have_attribute("aria-label", re.compile(r"^Wins by taking cards: 0\.5: .*, 1\.5: .*, 4: "))
    part.get_by_role("button", name="As a table").press("Enter")
    rows = part.get_by_role("row")
    expect(rows.filter(has=page.get_by_role("rowheader", name="1.5", exact=True))).to_contain_text("as it is")
    expect(rows.last).to_contain_text(re.compile(r"\d → \d.* and \d+ more"))
    press.press("Enter")
    expect(part).to_have_count(0)
    expect(press).to_be_focused()
    assert not grave_faults(page)


@needs_compiler
def test_a_number_is_swept_and_an_edit_tried_before_it_is_made(page: Page, server: Server):
    open_view(page, "Lenses")
    page.get_by_role("button", name="Glasshouse Bracken").click()
    own = page.get_by_role("complementary", name="Glasshouse Bracken")
    own.get_by_label("Number that is swept").select_option("height")
    expect(own.get_by_label("From")).to_have_value("1")
    own.get_by_label("To").fill("9")
    own.get_by_label("Games for each value").select_option("500")
    own.get_by_role("button", name="Sweep", exact=True).click()
    chart = own.get_by_role("img", name=re.compile("^Wins by height: 1: "))
    expect(chart).to_be_visible(timeout=LONG)
    expect(own.locator(".sweep-fair")).to_contain_text("it is 4.")
    files = own.get_by_role("group", name="Glasshouse Bracken Height sweep as a file")
    drawing = saved(page, files.get_by_role("button", name="SVG"))
    assert drawing.startswith("<svg") and "stroke:" in drawing and "class=" not in drawing
    with page.expect_download() as waiting:
        files.get_by_role("button", name="PNG").click()
    assert Path(waiting.value.path()).read_bytes()[:4] == b"\x89PNG"
    own.get_by_role("button", name="As a table").click()
    expect(own.locator(".sweep").get_by_role("row")).to_have_count(10)
    expect(own.locator(".sweep")).to_contain_text("as it is")
    # A range that is none is refused in words, and nothing is lost.
    own.get_by_label("From").fill("12")
    own.get_by_role("button", name="Sweep", exact=True).click()
    expect(own.get_by_role("alert")).to_contain_text("from 12 to 9 is not a range")
    what = own.get_by_role("form", name="What if")
    what.get_by_label("What would be otherwise").select_option("height")
    expect(what.get_by_role("button", name="Measure it")).to_be_disabled()
    what.get_by_label("Its value, as it might be").fill("tall")
    what.get_by_role("button", name="Measure it").click()
    expect(what.get_by_role("status")).to_contain_text("is not a whole number")
    what.get_by_label("Its value, as it might be").fill("9")
    what.get_by_role("button", name="Measure it").click()
    expect(what.get_by_role("status")).to_contain_text(re.compile(rf"height 4 → 9: \+{NUMBER[5:]} points of win rate"), timeout=LONG)
    cards = page.request.get(f"{server.url}/api/games/{GAME}/cards").json()["cards"]
    assert next(each for each in cards if each["title"] == "Glasshouse Bracken")["values"]["height"] == "4"
    assert not grave_faults(page)


def test_what_is_wanted_is_written_though_it_is_typed_before_the_prices_are_there(blank: Page, server: Server):
    page = blank
    waiting: list[Route] = []
    late = True
    page.route("**/rules/parts", lambda route: waiting.append(route) if late else route.continue_())
    page.goto(f"{server.url}/{GAME}/balance?view=health")
    for cost, typed in ((2, "3"), (4, "7")):
        wanted = page.get_by_label(f"Wanted at cost {cost}")
        wanted.fill(typed)
        wanted.press("Enter")
    expect(page.get_by_label("Wanted at cost 4")).to_have_value("7")
    late = False
    assert waiting, "nothing has come yet"
    for each in waiting:
        each.continue_()
    expect(page.get_by_role("contentinfo", name="Ripples")).to_contain_text("worths and budgets changed")
    expect(page.get_by_text("The line across each bar is the number of cards wanted")).to_be_visible()
    page.reload()
    expect(page.get_by_label("Wanted at cost 2")).to_have_value("3")
    expect(page.get_by_label("Wanted at cost 4")).to_have_value("7")
    # Text that is not a number stays where it was typed, with an error.
    wanted = page.get_by_label("Wanted at cost 6")
    wanted.fill("much")
    wanted.press("Enter")
    expect(page.get_by_role("contentinfo", name="Ripples")).to_contain_text("“much” is not a number of cards")
    expect(wanted).to_have_value("much")
    expect(wanted).to_have_attribute("aria-invalid", "true")
    expect(wanted).to_be_focused()
    wanted.press("Escape")
    expect(wanted).to_have_value("")


@needs_compiler
def test_each_edit_is_answered_by_games_when_it_is_wanted(blank: Page, server: Server):
    page = blank
    page.goto(f"{server.url}/{GAME}/cards")
    strip = page.get_by_role("contentinfo", name="Ripples")
    switch = strip.get_by_role("button", name="Measure edits")
    expect(switch).to_have_attribute("aria-pressed", "false")
    switch.press("Enter")
    expect(switch).to_have_attribute("aria-pressed", "true")
    cell = page.get_by_role("row").filter(has_text="RS-006").get_by_role("gridcell").nth(6)
    cell.click()
    page.keyboard.type("9")
    page.keyboard.press("Enter")
    expect(strip).to_contain_text("height 4 → 9")
    expect(strip).to_contain_text(re.compile(rf"\+{NUMBER[5:]} ± {NUMBER[5:]} points of win rate"), timeout=LONG)
    # Two edits one after the other: the answer is to the last.
    cell.click()
    page.keyboard.type("3")
    page.keyboard.press("Enter")
    cell.click()
    page.keyboard.type("1")
    page.keyboard.press("Enter")
    expect(strip).to_contain_text("height 3 → 1")
    expect(strip).to_contain_text(re.compile(rf"−{NUMBER[5:]} ± {NUMBER[5:]} points of win rate"), timeout=LONG)
    # A worth is said, not played.
    prices = page.request.get(f"{server.url}/api/games/{GAME}/rules/parts").json()["parts"]["prices"]
    assert prices["stats"]["height"]
    page.goto(f"{server.url}/{GAME}/balance?view=health")
    wanted = page.get_by_label("Wanted at cost 2")
    wanted.fill("3")
    wanted.press("Enter")
    expect(strip).to_contain_text("worths and budgets changed")
    expect(strip).not_to_contain_text("points of win rate")
    page.reload()
    expect(strip.get_by_role("button", name="Measure edits")).to_have_attribute("aria-pressed", "true")


@needs_compiler
def test_an_edited_worth_is_answered_by_the_cards_that_it_prices(blank: Page, server: Server):
    page = blank
    page.goto(server.url + PRICES)
    strip = page.get_by_role("contentinfo", name="Ripples")
    strip.get_by_role("button", name="Measure edits").press("Enter")
    cell(page, EFFECTS, "Worth, taking cards:").click()
    page.keyboard.type("2.9")
    page.keyboard.press("Tab")
    expect(strip).to_contain_text(re.compile(NUMBER + r" ± \d+\.\d points of win rate for cards priced by it"), timeout=LONG)
    cell(page, EFFECTS, "Worth, taking cards:").click()
    page.keyboard.type("2.901")
    page.keyboard.press("Tab")
    expect(strip).to_contain_text("no card would cost anything else", timeout=LONG)


@needs_compiler
def test_decks_play_each_other(page: Page, server: Server):
    open_view(page, "Duels")
    page.get_by_label("Games", exact=True).select_option("1000")
    page.get_by_role("button", name="Play them").press("Enter")
    expect(page.get_by_role("button", name="Play them")).to_be_focused()
    table = page.get_by_role("region", name="How often each deck wins")
    expect(table.get_by_role("row")).to_have_count(4, timeout=LONG)
    expect(page.locator(".duel-told")).to_contain_text(re.compile(r"1,000 games in [\d.]+ s under plain\. Who goes first wins [\d.]+ %"))
    lengths = page.get_by_role("region", name="Length of games")
    expect(lengths).to_contain_text("Half of them take up to")
    expect(lengths.get_by_role("img")).to_be_visible()
    lengths.get_by_role("button", name="As a table").press("Enter")
    counts = lengths.get_by_role("row").locator("td").all_inner_texts()
    assert sum(map(int, counts)) == 1_000, counts
    lengths.get_by_role("button", name="As a chart").press("Enter")
    expect(lengths.get_by_role("img")).to_be_visible()
    expect(page.get_by_role("region", name="Cards that lie idle").get_by_role("row")).to_have_count(11)
    rows = saved(page, page.get_by_role("group", name="Ribbon Season duels as a file").get_by_role("button", name="CSV"))
    assert len(rows.splitlines()) == 7
    assert not grave_faults(page)
    # One deck alone can't duel; two can, by keys.
    boxes = page.get_by_role("group", name="Decks that play").get_by_role("checkbox")
    boxes.nth(0).press("Space")
    boxes.nth(1).press("Space")
    expect(page.get_by_role("button", name="Play them")).to_be_disabled()
    boxes.nth(1).press("Space")
    page.get_by_role("button", name="Play them").press("Enter")
    expect(table.get_by_role("row")).to_have_count(3, timeout=LONG)


def test_the_health_of_a_set_on_one_page(page: Page, server: Server):
    open_view(page, "Health", "crowded-bed")
    sheet = page.get_by_role("region", name="Health of the set")
    dominated = sheet.get_by_role("region", name="Dominated")
    expect(dominated).to_contain_text("Marigold Row by Straw Asters: vigour 4 instead of 3, spread 2 instead of 1")
    expect(dominated.get_by_role("listitem")).to_have_count(12)
    dominated.get_by_role("button", name="All 25").click()
    expect(dominated.get_by_role("listitem")).to_have_count(25)
    assert not grave_faults(page)
    dominated.get_by_role("link", name="Marigold Row").click()
    expect(page.get_by_role("complementary", name="Marigold Row")).to_contain_text("Dominated by Straw Asters")
    # What is wanted is written in place, read again, and undone.
    open_view(page, "Health")
    first, second = sheet.get_by_label("Wanted at cost 1"), sheet.get_by_label("Wanted at cost 2")
    first.fill("2")
    first.press("Enter")
    second.fill("1")
    second.press("Tab")
    expect(sheet).to_contain_text("The line across each bar is the number of cards wanted")
    page.reload()
    expect(first).to_have_value("2")
    expect(second).to_have_value("1")
    page.keyboard.press("Control+z")
    expect(second).to_have_value("")
    expect(first).to_have_value("2")
    first.fill("many")
    first.press("Enter")
    expect(first).to_have_value("many")
    first.press("Escape")
    expect(first).to_have_value("2")
    # On paper there is the sheet alone.
    page.emulate_media(media="print")
    expect(page.get_by_role("button", name="Print this page")).to_be_hidden()
    expect(page.locator(".topbar")).to_be_hidden()
    expect(sheet).to_be_visible()


@needs_compiler
def test_the_map_by_each_lens_and_by_faction(page: Page, server: Server):
    open_view(page, "Lenses")
    measured(page)
    page.get_by_role("tab", name="Set map", exact=True).click()
    worth = page.get_by_label("Worth")
    worth.select_option("measured")
    expect(page.locator("[data-ranges]")).to_have_attribute("data-ranges", "96")
    expect(page.locator("[data-ghosts]")).not_to_have_count(0)
    expect(page.get_by_role("complementary", name="Outliers")).to_contain_text("measured: ")
    files = page.get_by_role("group", name="Ribbon Season set map measured as a file")
    drawing = saved(page, files.get_by_role("button", name="SVG"))
    assert drawing.startswith("<svg") and "budget: plant" in drawing
    worth.select_option("implied")
    expect(page.get_by_role("complementary", name="Outliers")).to_contain_text("implied: ")
    worth.select_option("declared")
    expect(page.locator("[data-ranges]")).to_have_count(0)
    page.get_by_role("button", name="By bed").click()
    each = page.get_by_role("region", name="A map for each")
    expect(each.locator("figure")).to_have_count(4)
    assert not grave_faults(page)
    page.reload()
    expect(each.locator("figcaption").first).to_contain_text("24")


HIDDEN_NAMES = """() => {
  const marks = [...document.querySelectorAll(".map-box [data-card]")];
  const box = (each) => each.getBoundingClientRect();
  const shapes = marks.map((each) => [each, box(each.querySelector(".map-shape"))]);
  return marks.flatMap((each) => [...each.querySelectorAll("text")].map((name) => [each, name.textContent, box(name)]))
    .filter(([own, , at]) => shapes.some(([other, it]) => other !== own &&
      at.left < it.right - 1 && at.right > it.left + 1 && at.top < it.bottom - 4 && at.bottom > it.top + 4))
    .map(([, text]) => text);
}"""
"""Names on the map that a mark covers."""


def test_negative_and_huge_costs_are_on_the_map_and_in_the_deck(blank: Page, server: Server):
    """A number below each cost up to a hundred millions would be as many numbers."""
    page, base = blank, f"{server.url}/api/games/{GAME}"

    def sent(method: str, path: str, body: object) -> None:
        answer = page.request.fetch(base + path, method=method, data=body, headers={"x-page": "another"})
        assert answer.ok, answer.text()

    kind = next(each for each in page.request.get(f"{base}/rules").json()["types"] if each["id"] == "card")
    for field in kind["fields"]:
        if field["id"] == "cost":
            field |= {"least": -9, "most": 99_999_999}
    sent("PUT", "/rules/types", {"type": kind, "base": 10**6})
    deck = page.request.get(f"{base}/decks").json()[0]
    one, other, third = list(deck["cards"])[:3]
    low = [{"card": one, "field": "cost", "typed": "-9"}, {"card": other, "field": "cost", "typed": "25"}]
    sent("POST", "/cards/cells", {"base": 10**6, "cells": low})
    page.goto(f"{server.url}/{GAME}/balance")
    numbers = page.locator(".visx-axis-bottom .visx-axis-tick text")
    expect(numbers.first).to_have_text("−9")
    expect(numbers).to_have_count(35)
    marks = page.locator(".map-box [data-card]")
    expect(marks).to_have_count(96)
    frame = page.locator(".map-box svg").first.bounding_box()
    far = page.locator(f'[data-card="{one}"]').bounding_box()
    assert frame and far and far["x"] > frame["x"], "it stands within the map"
    lines = page.locator(".map-box .budget path, .map-box .budget polygon")
    assert lines.count() >= 2
    for box in [line.bounding_box() for line in lines.all()]:
        assert box and box["y"] + box["height"] <= frame["y"] + frame["height"] - 40, "its budget lies above the numbers"
    assert page.evaluate(HIDDEN_NAMES) == []
    sent("POST", "/cards/cells", {"base": 10**6, "cells": [{"card": third, "field": "cost", "typed": "99999999"}]})
    expect(numbers.last).to_have_text("90,000,000")
    assert 3 <= numbers.count() <= 20
    page.goto(f"{server.url}/{GAME}/decks?deck={deck['id']}")
    bars = page.locator(".curve-cost")
    expect(bars.first).to_have_text("≤0")
    expect(bars.last).to_have_text("20+")
    expect(page.locator(".curve-count").last).to_have_text(str(deck["cards"][other] + deck["cards"][third]))
    open_view(page, "Lenses")
    head = page.get_by_role("columnheader", name="Cost")
    head.get_by_role("button").click()
    expect(head).to_have_attribute("aria-sort", "ascending")
    costs = page.locator(".lens-table tbody td:nth-child(2)")
    expect(costs).to_have_count(96)
    assert costs.first.inner_text() == "-9" and [each.inner_text() for each in costs.all()[-2:]] == ["25", "99999999"]
