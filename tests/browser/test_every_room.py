"""All rooms but the grid, with real clicks and keys: fields of every kind, lists, sets, keywords, decks, the map, files, history."""

from __future__ import annotations

import re
from random import Random

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import GAME, Server
from tests.browser.test_journey import FACE, STRIP, stand_on
from tests.browser.test_price_sheet import cell, keys, part
from tests.conftest import SEED

COUNT = ".toolbar-low"


def add_field(page: Page, of: str, name: str, kind: str) -> None:
    page.get_by_role("link", name="Rules").click()
    part(page, of)
    page.get_by_label("Name of a new field").fill(name)
    page.get_by_label("Kind of the new field").select_option(kind)
    page.get_by_role("button", name="Add field").click()
    expect(page.get_by_label(f"Name of the field {name}")).to_be_visible()


def in_cells(page: Page) -> None:
    page.get_by_role("link", name="Cards").click()
    page.locator(".pane-face svg.face").wait_for()


def fill(page: Page, name: str, field: str, text: str) -> None:
    stand_on(page, name, field)
    page.keyboard.type(text)
    with page.expect_response(re.compile("/fields/")):
        page.keyboard.press("Enter")


# Rules.


def test_a_field_of_days_is_added_filled_sorted_and_asked_for(page: Page):
    add_field(page, "Card", "Due", "date")
    in_cells(page)
    days = [("Copper Larch Fern", "RS-001", "1.3.2027", "2027-03-01"), ("Ladder Frond", "RS-002", "7 Jan 2027", "2027-01-07"),
            ("Cistern Maidenhair", "RS-003", "2026-12-24", "2026-12-24")]  # fmt: skip
    for name, code, typed, day in days:
        fill(page, name, "due", typed)
        expect(cell(page, code, "due")).to_have_text(day)
    fill(page, "Potbound Spleenwort", "due", "3/4/2027")
    expect(page.locator(STRIP)).to_contain_text("which is the month is not clear")
    expect(cell(page, "RS-004", "due")).to_have_class(re.compile("grid-unsaved"))
    keys(page, "Escape")
    bar = page.get_by_role("combobox", name="Query")
    bar.fill("due from 2026-12-01 to 2027-01-31")
    expect(page.locator(COUNT)).to_contain_text("2 of 96 cards")
    keys(page, "Escape")
    bar.fill("due > 2027-01-31")
    expect(page.locator(COUNT)).to_contain_text("1 of 96 cards")
    bar.fill("due > soon")
    expect(page.locator(".query-problem, [role=alert]").first).to_contain_text("is not a day")
    bar.fill("due is not empty")
    expect(page.locator(COUNT)).to_contain_text("3 of 96 cards")
    page.get_by_role("columnheader", name="Due").click()
    expect(page.locator("[aria-rowindex='2'] .grid-text").first).to_have_text("Cistern Maidenhair")


@pytest.mark.parametrize("room", ["Rules", "Balance"])
def test_new_things_are_found_by_their_words_and_the_line_keeps_the_focus(page: Page, room: str):
    lines = {
        "new field: plant": "Name of a new field", "new card type": "New card type", "new choice list": "New choice list", "new set": "New set",
    }  # fmt: skip
    for number, (words, line) in enumerate(lines.items()):
        page.get_by_role("link", name=room).click()
        expect(page.get_by_role("link", name=room)).to_have_attribute("aria-current", "page")
        page.keyboard.press("Control+k")
        page.keyboard.type(words)
        expect(page.locator(".find-item").first).to_contain_text(re.compile(words, re.IGNORECASE))
        page.keyboard.press("Enter")
        typing = page.get_by_label(line, exact=True)
        expect(typing).to_be_focused()
        page.keyboard.type(f"Weeds {number}")
        # The button goes off as soon as it was pressed; a second thing is typed at once.
        page.keyboard.press("Tab")
        if words.startswith("new field:"):
            page.keyboard.press("Tab")
        page.keyboard.press("Space")
        expect(page.locator(STRIP)).to_contain_text(f"Weeds {number}")
        expect(typing).to_be_focused()
        expect(typing).to_have_value("")


@pytest.mark.begins_elsewhere
def test_choices_of_few_letters_are_read_whole(page: Page, server: Server):
    for game in (GAME, "crowded-bed", "potting-shed"):
        page.goto(f"{server.url}/{game}/cards")
        page.locator(".grid-cell.grid-choice").first.wait_for()
        page.evaluate("document.fonts.ready")
        cut = page.evaluate(
            """() => [...document.querySelectorAll('.grid-cell.grid-choice')]
                .filter(cell => !cell.querySelector('.unseen') && cell.scrollWidth > cell.clientWidth).map(cell => cell.innerText)"""
        )
        assert cut == [], game


def test_what_a_drawn_picture_shows_follows_a_field_that_the_designer_names(page: Page):
    add_field(page, "Weather", "Scene", "text")
    page.get_by_label("What it shows follows").select_option(label="Scene")
    expect(page.locator(STRIP)).to_contain_text("Weather")
    in_cells(page)
    stand_on(page, "Soft Rain", "name")
    expect(page.locator(".pane-facts h2")).to_have_text("Soft Rain")
    picture = page.locator(f"{FACE} [data-field=picture], {FACE}").first
    rain = picture.inner_html()
    fill(page, "Soft Rain", "scene", "hard frost at night")
    stand_on(page, "Soft Rain", "name")
    expect(cell(page, "RS-089", "scene")).to_have_text("hard frost at night")
    page.wait_for_function(
        "([css, before]) => document.querySelector(css).innerHTML !== before", arg=[FACE, rain]
    )
    keys(page, "Control+z")
    expect(cell(page, "RS-089", "scene")).to_have_text("")


def test_values_of_a_list_are_added_moved_coloured_merged_and_every_step_undone(page: Page, server: Server):
    page.get_by_role("link", name="Rules").click()
    part(page, "Beds")
    values = page.get_by_role("list", name="Values of Beds")
    expect(values.get_by_role("listitem")).to_have_count(4)
    page.get_by_label("New values").fill("Sedge")
    keys(page, "Enter")
    expect(values.get_by_role("listitem")).to_have_count(5)
    page.get_by_role("button", name="Move Sedge up").click()
    names = values.locator("input[aria-label^='Name of']")
    expect(names.nth(3)).to_have_value("Sedge")
    page.get_by_label("Name of Sedge").fill("Reed")
    keys(page, "Enter")
    expect(page.locator(STRIP)).to_contain_text("Sedge renamed to Reed")
    page.get_by_role("button", name="Remove Reed").click()
    expect(values.get_by_role("listitem")).to_have_count(4)
    for left in (5, 5, 5, 4):
        page.get_by_role("button", name=re.compile("^Undo")).click()
        expect(values.get_by_role("listitem")).to_have_count(left)
    expect(page.get_by_role("button", name="Undo", exact=True)).to_be_disabled()


def test_a_set_is_made_and_its_cards_have_codes_of_its_pattern(page: Page):
    page.get_by_role("link", name="Rules").click()
    page.get_by_placeholder("New set").fill("Winter Bench")
    keys(page, "Enter")
    expect(page.locator(".rules-title")).to_have_text("Winter Bench")
    page.get_by_label("Codes of new cards").fill("WB-{n:02}")
    keys(page, "Enter")
    expect(page.locator(STRIP)).to_contain_text("Winter Bench")
    in_cells(page)
    page.get_by_label("Set", exact=True).select_option(label="Winter Bench")
    expect(page.locator(COUNT)).to_contain_text("0 of 96 cards")
    page.get_by_role("button", name="New card").click()
    page.get_by_role("menuitem", name="Tool").click()
    expect(page.locator(".pane-facts")).to_contain_text("WB-01 · Tool")
    expect(page.locator(COUNT)).to_contain_text("1 of 97 cards")


def test_a_keyword_is_added_printed_in_bold_with_its_reminder_and_removed(page: Page, server: Server):
    page.get_by_role("link", name="Rules").click()
    part(page, "Keywords")
    page.get_by_label("New keyword").fill("dormant")
    keys(page, "Enter")
    page.get_by_label("dormant: reminder").fill("It does nothing until spring.")
    keys(page, "Enter")
    expect(page.locator(STRIP)).to_contain_text("dormant")
    in_cells(page)
    stand_on(page, "Copper Larch Fern", "printed")
    page.keyboard.type("Stays dormant.")
    keys(page, "Control+Enter")
    expect(page.locator(FACE)).to_contain_text("dormant")
    page.get_by_role("link", name="Rules").click()
    page.get_by_role("button", name="Remove dormant").click()
    expect(page.get_by_label("dormant: reminder")).to_have_count(0)
    page.get_by_role("button", name=re.compile("^Undo")).click()
    expect(page.get_by_label("dormant: reminder")).to_have_value("It does nothing until spring.")


# Decks.


@pytest.mark.begins_elsewhere
def test_the_pool_is_narrowed_by_a_faction_and_the_deck_follows_every_step(page: Page, server: Server):
    page.goto(f"{server.url}/{GAME}/decks")
    page.locator(".wall-card").first.wait_for()
    page.get_by_role("group", name="Bed").get_by_role("button", name="Moss").click()
    page.get_by_label("Filter the pool").fill("cushion")
    expect(page.locator(".wall-card")).to_have_count(1)
    before = page.locator(".legality").text_content() or ""
    page.get_by_role("complementary", name="Deck").get_by_role("button", name="One Roof Cushion less").click()
    expect(page.locator(".legality")).to_contain_text("35 cards; minimum 36 — add 1")
    splits = page.locator(".splits")
    expect(splits).to_contain_text("Moss")
    marks = splits.locator(".dot").evaluate_all(
        "all => all.map(each => getComputedStyle(each).clipPath + each.className)"
    )
    assert len(set(marks)) == len(marks) > 1, "each bed has a shape of its own beside its colour"
    page.get_by_role("button", name=re.compile("^Undo")).click()
    expect(page.locator(".legality")).to_have_text(before)
    name = page.get_by_label("Name of the deck")
    name.fill("Moss over Fern")
    keys(page, "Enter")
    expect(page.locator(STRIP)).to_contain_text("Moss over Fern")
    page.reload()
    expect(page.get_by_label("Name of the deck")).to_have_value("Moss over Fern")


# Balance.


@pytest.mark.begins_elsewhere
def test_the_map_is_walked_by_keys_and_its_labels_keep_apart(page: Page, server: Server):
    for width, height in ((1280, 800), (1024, 700), (640, 700)):
        page.set_viewport_size({"width": width, "height": height})
        page.goto(f"{server.url}/{GAME}/balance")
        page.locator(".map-mark").first.wait_for()
        boxes = page.locator(".map-mark text").evaluate_all(
            "all => all.map(each => { const b = each.getBoundingClientRect(); return [b.left, b.top, b.right, b.bottom, each.textContent]; })"
        )
        assert boxes
        for number, one in enumerate(boxes):
            for other in boxes[number + 1 :]:
                apart = (
                    one[2] <= other[0] + 2
                    or other[2] <= one[0] + 2
                    or one[3] <= other[1] + 4
                    or other[3] <= one[1] + 4
                )
                assert apart, (width, one, other)
    page.set_viewport_size({"width": 1280, "height": 800})
    over, under = (page.locator(f".map-{way} text").first for way in ("over", "under"))
    assert over.evaluate("each => getComputedStyle(each).fill") != under.evaluate(
        "each => getComputedStyle(each).fill"
    )
    map_ = page.get_by_role("application")
    map_.focus()
    first = map_.get_attribute("aria-label")
    keys(page, "ArrowRight", "ArrowDown")
    expect(map_).not_to_have_attribute("aria-label", first or "")
    expect(page.locator(".map-face svg.face")).to_be_visible()
    said = map_.get_attribute("aria-label") or ""
    keys(page, "Enter")
    expect(page.locator(".pane-facts h2")).to_have_text(re.search(r"\. (.*?): cost", said).group(1))


@pytest.mark.begins_elsewhere
def test_the_maps_numbers_are_there_as_a_table(page: Page, server: Server):
    page.goto(f"{server.url}/{GAME}/balance")
    page.get_by_role("button", name="Show as a table").click()
    table = page.get_by_role("region", name="The map's numbers")
    expect(table.get_by_role("row")).to_have_count(97)
    expect(table).to_contain_text("The Green Silence")
    page.get_by_role("button", name=re.compile("Show as a map|Show the map")).click()
    page.locator(".map-mark").first.wait_for()


# Files.


@pytest.mark.begins_elsewhere
def test_a_text_table_is_laid_out_seen_saved_changed_and_removed(page: Page, server: Server):
    page.goto(f"{server.url}/{GAME}/files")
    page.get_by_role("button", name="New text table").click()
    layout = page.get_by_role("region", name="Text table")
    layout.get_by_label("Name", exact=True).fill("For the box")
    lines = layout.get_by_label("First lines of the text table")
    expect(lines).to_contain_text(re.compile("Copper Larch Fern.*2"))
    layout.get_by_label("Only cards that match").fill("rarity is Heirloom type is Tool")
    expect(lines).to_contain_text("Wardian Trunk")
    expect(lines).not_to_contain_text("Copper Larch")
    layout.get_by_label("Heading of column 2").fill("How many")
    expect(lines).to_contain_text("How many")
    layout.get_by_role("button", name="Save", exact=False).click()
    line = page.locator(".files-line", has_text="For the box")
    expect(line).to_contain_text("2 columns, tab between")
    with page.expect_download() as taken:
        line.get_by_role("link", name="Download").click()
    text = taken.value.path().read_text(encoding="utf-8")
    assert (
        text.startswith("Name\tHow many\n")
        and "Wardian Trunk\t2" in text
        and taken.value.suggested_filename.endswith(".tsv")
    )
    line.get_by_role("button", name="Remove For the box").click()
    expect(line).to_have_count(0)
    page.get_by_role("button", name=re.compile("^Undo")).click()
    expect(page.locator(".files-line", has_text="For the box")).to_have_count(1)


# History.


def test_the_journal_tells_edits_of_every_room_and_finds_them_by_kind_and_word(page: Page, server: Server):
    fill(page, "Copper Larch Fern", "cost", "3")
    page.get_by_role("link", name="Decks").click()
    page.locator(".wall-card").first.wait_for()
    page.get_by_role("button", name=re.compile("^One .* less$")).first.click()
    expect(page.locator(".legality")).to_contain_text("35 cards")
    page.get_by_role("link", name="History").click()
    rows = page.locator(".journal-list > *")
    expect(page.locator(".journal-said").nth(1)).to_have_text("Cost: 1 → 3")
    count = rows.count()
    assert count >= 3
    kind = page.get_by_label("Kind of edit")
    kind.select_option(label=kind.locator("option", has_text=re.compile("deck", re.I)).inner_text())
    expect(page.locator(".journal-list")).to_contain_text("Fern over Moss")
    expect(page.locator(".journal-list")).not_to_contain_text("Cost: 1 → 3")
    kind.select_option(index=0)
    page.get_by_label("Filter the journal").fill("no such words")
    expect(page.locator(".journal-said")).to_have_count(0)


# All of them, in any order.


@pytest.mark.parametrize("turn", range(2))
def test_rooms_are_walked_in_any_order_and_what_was_typed_last_is_there(
    page: Page, server: Server, turn: int
):
    dice = Random(f"{SEED} {turn}")
    rooms = ["Cards", "Faces", "Rules", "Decks", "Playtest", "Balance", "Output", "History", "Files"]
    value = str(dice.randrange(4, 9))
    fill(page, "Ladder Frond", "cost", value)
    for room in [dice.choice(rooms) for _ in range(10)]:
        page.get_by_role("link", name=room, exact=True).click()
        expect(page.get_by_role("link", name=room, exact=True)).to_have_class(re.compile("active"))
        # Where nothing was gone to since the page was opened, back would leave it: a room is no step from itself.
        if dice.random() < 0.3 and page.evaluate("history.state.idx > 0"):
            page.go_back()
    in_cells(page)
    expect(cell(page, "RS-002", "cost")).to_have_text(value)


def test_an_edit_brings_the_cards_sheet_and_nobody_asks_for_it_again(page: Page):
    stand_on(page, "Copper Larch Fern", "cost")
    expect(page.locator(".pane-facts h2")).to_have_text("Copper Larch Fern")
    asked: list[str] = []
    page.on("request", lambda each: asked.append(f"{each.method} {each.url}"))
    page.keyboard.type("5")
    with page.expect_response(re.compile("/fields/cost$")):
        page.keyboard.press("Tab")
    expect(page.locator(f"{FACE} [data-field=cost]")).to_contain_text("5")
    expect(page.locator(STRIP)).to_contain_text("cost 1 → 5")
    page.wait_for_load_state("networkidle")
    assert not [
        each for each in asked if each.startswith("GET") and each.endswith("/c-ribbon-season-rs-001/sheet")
    ], asked
