"""The grid with real keys and the real clipboard, queries, the wall, and the rules that affect them."""

from __future__ import annotations

import io
import re
from collections.abc import Iterator

import pytest
from PIL import Image
from playwright.sync_api import Page, expect

from tests.browser.conftest import GAME, Server, at_rest
from tests.browser.test_journey import FACE, STRIP, stand_on

COUNT = ".toolbar-low"


@pytest.fixture
def sheet(page: Page) -> Iterator[Page]:
    """A page that may use the clipboard, as a person's own browser lets it on a key."""
    page.context.grant_permissions(["clipboard-read", "clipboard-write"])
    yield page


def cell(page: Page, code: str, field: str):
    return page.locator(f"[id='cell-c-{GAME}-{code.lower()}-{field}']")


def clip(page: Page, text: str, html: str | None = None) -> None:
    kinds = {"text/plain": text, **({"text/html": html} if html else {})}
    page.evaluate(
        "kinds => navigator.clipboard.write([new ClipboardItem(Object.fromEntries(Object.entries(kinds).map(([kind, text]) => [kind, new Blob([text], {type: kind})])))])",
        kinds,
    )


def pasted(page: Page) -> str:
    return page.evaluate("navigator.clipboard.readText()")


def keys(page: Page, *pressed: str) -> None:
    for key in pressed:
        page.keyboard.press(key)


def written(page: Page, *pressed: str) -> None:
    with page.expect_response(re.compile("/cells$")):
        keys(page, *pressed)


def at_the_top(page: Page, name: str) -> None:
    """The first row is this card's. A new order follows the focused card, so the focus moves up until it is there."""
    for _ in range(40):
        page.locator(".grid").focus()
        keys(page, "Control+Home")
        # Looked at in one step: the row may leave the window at any moment, when a late order comes.
        shown = page.evaluate("document.querySelector('[aria-rowindex=\"2\"] .grid-text')?.innerText ?? ''")
        if shown == name:
            return
        at_rest(page)
    raise AssertionError(shown)


def test_a_range_is_drawn_copied_pasted_filled_stepped_and_emptied_each_as_one_step(sheet: Page):
    stand_on(sheet, "Copper Larch Fern", "cost")
    keys(sheet, "Shift+ArrowDown", "Shift+ArrowDown", "Shift+ArrowRight")
    expect(sheet.locator(COUNT)).to_contain_text("3 selected")
    keys(sheet, "Control+c")
    assert pasted(sheet) == "1\t1\n2\t2\n2\t1"
    stand_on(sheet, "Lampwick Fern", "cost")
    written(sheet, "Control+v")
    expect(sheet.locator(STRIP)).to_contain_text("paste of 3 × 2 cells")
    expect(cell(sheet, "RS-010", "cost")).to_have_text("2")
    keys(sheet, "Control+z")
    expect(cell(sheet, "RS-010", "cost")).to_have_text("4")
    # A row down the column, then steps, then nothing.
    stand_on(sheet, "Copper Larch Fern", "cost")
    keys(sheet, "Shift+ArrowDown", "Shift+ArrowDown")
    written(sheet, "Control+d")
    expect(cell(sheet, "RS-003", "cost")).to_have_text("1")
    written(sheet, "Alt+ArrowUp")
    expect(cell(sheet, "RS-003", "cost")).to_have_text("2")
    written(sheet, "Delete")
    expect(cell(sheet, "RS-003", "cost")).to_have_text("")
    for value in ("2", "1", "2"):
        keys(sheet, "Control+z")
        expect(cell(sheet, "RS-003", "cost")).to_have_text(value)
    # One value on all of a range.
    keys(sheet, "Escape")
    stand_on(sheet, "Copper Larch Fern", "rarity")
    keys(sheet, "Shift+ArrowDown", "Shift+ArrowDown")
    sheet.keyboard.type("pri")
    written(sheet, "Control+Enter")
    expect(cell(sheet, "RS-003", "rarity")).to_have_text("Prize")
    sheet.get_by_role("button", name="Compare").click()
    compared = sheet.get_by_role("dialog", name="Compare")
    expect(compared.locator("svg.face")).to_have_count(3)
    expect(compared.get_by_role("row", name=re.compile("^Root"))).to_have_text("Root213")
    expect(compared.get_by_role("row", name=re.compile("^Rarity"))).to_have_count(0)
    keys(sheet, "Escape")
    sheet.get_by_role("button", name="Edit all…").click()
    sheet.get_by_label("Field").select_option("bed")
    sheet.get_by_label("becomes").fill("moss")
    sheet.get_by_role("button", name="Write to 3 cards").click()
    expect(cell(sheet, "RS-001", "bed")).to_have_text("Moss")


def test_a_spreadsheets_own_clipboard_comes_in_with_breaks_quotes_and_new_rows(sheet: Page):
    stand_on(sheet, "Keeper's Almanac", "name")
    html = "<meta charset=utf-8><table><tr><td>Almanac &amp; Co</td><td>Tool</td></tr><tr><td>Second line</td><td>Weather</td></tr><tr><td dir=rtl>ورد</td><td>Tool</td></tr></table>"
    clip(sheet, "not this", html)
    written(sheet, "Control+v")
    expect(sheet.locator(COUNT)).to_contain_text("98 of 98 cards")
    expect(cell(sheet, "RS-096", "name")).to_have_text("Almanac & Co")
    expect(sheet.locator(".grid-row").filter(has_text="RS-098")).to_contain_text("ورد")
    keys(sheet, "Control+z")
    expect(sheet.locator(COUNT)).to_contain_text("96 of 96 cards")
    # Tab-separated, with a break and a quote within a cell.
    stand_on(sheet, "Copper Larch Fern", "name")
    clip(sheet, 'Larch "the" Fern\tPlant\tFern\n"Two\nlines"\tPlant\tBriar\n')
    written(sheet, "Control+v")
    expect(cell(sheet, "RS-001", "name")).to_have_text('Larch "the" Fern')
    expect(cell(sheet, "RS-002", "name")).to_have_text("Two lines")
    expect(cell(sheet, "RS-002", "bed")).to_have_text("Briar")


def test_what_a_paste_cannot_write_stays_marked_and_nothing_is_lost(sheet: Page):
    stand_on(sheet, "Copper Larch Fern", "cost")
    clip(sheet, "3\tmany\t4\nnone\t2\t1")
    written(sheet, "Control+v")
    expect(sheet.locator(STRIP)).to_contain_text("2 of 4 could not be written and stay marked")
    expect(cell(sheet, "RS-001", "height")).to_have_class(re.compile("grid-unsaved"))
    expect(cell(sheet, "RS-001", "height")).to_have_text("many")
    expect(cell(sheet, "RS-002", "cost")).to_have_attribute("title", "“none” is not a whole number: write 0")
    expect(cell(sheet, "RS-001", "cost")).to_have_text("3")
    # Wider than the grid: the extra cells are reported, the rest is pasted.
    stand_on(sheet, "Ladder Frond", "copies")
    clip(sheet, "5\textra\tmore")
    with sheet.expect_response("**/fields/copies"):
        keys(sheet, "Control+v")
    expect(sheet.locator(STRIP)).to_contain_text("2 cells lie beyond the last column")
    expect(cell(sheet, "RS-002", "copies")).to_have_text("5")


def test_cards_are_written_in_the_last_line_and_the_face_keeps_step(sheet: Page):
    sheet.locator(".grid").focus()
    keys(sheet, "Control+ArrowDown", "Home", "ArrowRight")
    sheet.keyboard.type("Silver Drizzle")
    keys(sheet, "Tab")
    expect(sheet.locator(".pane-facts h2")).to_have_text("Silver Drizzle")
    expect(sheet.locator("[aria-activedescendant$=type]")).to_have_count(1)
    sheet.keyboard.type("wea")
    keys(sheet, "Tab")
    expect(sheet.locator(".pane-facts")).to_contain_text("RS-097 · Weather")
    sheet.keyboard.type("or")
    keys(sheet, "Enter")
    # Back to where the run of Tabs began, a row further.
    expect(sheet.locator("[aria-activedescendant='cell-+new-name']")).to_have_count(1)
    keys(sheet, "ArrowUp", "ArrowRight", "ArrowRight")
    expect(sheet.locator(f"{FACE} [data-field=bed] .hold").first).to_have_css("stroke-width", "0.55px")
    expect(sheet.get_by_role("button", name=re.compile("^Unfinished"))).to_contain_text("1")
    sheet.get_by_role("button", name="Enlarge").click()
    expect(sheet.locator(".large-face svg.face")).to_be_visible()
    assert sheet.locator(".large-face svg.face").bounding_box()["height"] > 600
    keys(sheet, "Escape")
    sheet.get_by_role("button", name="Back", exact=True).click()
    expect(sheet.locator(FACE)).to_contain_text("Ribbon Season")


def test_columns_are_sorted_sized_moved_hidden_and_saved_as_a_view(sheet: Page):
    head = sheet.get_by_role("columnheader")
    head.filter(has_text=re.compile("^Cost")).click()
    expect(sheet.locator(".grid-row .grid-text").first).to_have_text("Underground Spring")
    head.filter(has_text="Cost").click()
    head.filter(has_text="Rarity").click(modifiers=["Shift"])
    expect(head.filter(has_text="Cost")).to_have_attribute("aria-sort", "descending")
    expect(head.filter(has_text="Rarity")).to_have_attribute("aria-sort", "ascending")
    at_the_top(sheet, "Grandmother Treefern")
    sheet.get_by_role("button", name="Columns").click()
    sheet.get_by_label("Tags", exact=True).uncheck()
    sheet.get_by_label("Width of Name in pixels").fill("300")
    for _ in range(3):
        sheet.get_by_role("button", name="Move Verdict left").click()
    sheet.get_by_label("Columns that stay at the left").fill("1")
    sheet.get_by_role("button", name="Done").click()
    expect(head.filter(has_text="Tags")).to_have_count(0)
    order = head.all_inner_texts()
    assert [each.split("\n")[0] for each in order].index("Verdict") < [
        each.split("\n")[0] for each in order
    ].index("Root")
    assert head.filter(has_text="Name").bounding_box()["width"] == 300
    sheet.get_by_role("button", name="Views").click()
    sheet.get_by_label("Name of the view").fill("My eyes")
    keys(sheet, "Enter")
    expect(sheet.locator(".views-menu")).to_have_count(0)
    sheet.evaluate("localStorage.clear()")
    sheet.goto(sheet.url.split("?")[0])
    sheet.wait_for_selector(".pane-face svg.face")
    expect(head.filter(has_text="Tags")).to_have_count(1)
    sheet.get_by_role("button", name="Views").click()
    sheet.get_by_role("button", name="My eyes", exact=True).click()
    expect(head.filter(has_text="Tags")).to_have_count(0)
    at_the_top(sheet, "Grandmother Treefern")


def test_a_query_is_typed_completed_corrected_and_kept_as_chips(sheet: Page):
    keys(sheet, "Control+f")
    sheet.keyboard.type("bed is b")
    expect(sheet.locator(".query-offer").first).to_contain_text("Briar")
    keys(sheet, "Tab", "Enter")
    expect(sheet.locator(".query-chip")).to_have_text(["bed is Briar"])
    sheet.keyboard.type("cost > tree")
    expect(sheet.locator(".query-problem")).to_contain_text("“tree” is not a number — write a number, such as 3")
    expect(sheet.locator(".query-problem mark")).to_have_text("tree")
    expect(sheet.locator(COUNT)).to_contain_text("24 of 96 cards")
    for _ in range(4):
        keys(sheet, "Backspace")
    sheet.keyboard.type("3")
    expect(sheet.locator(COUNT)).to_contain_text("9 of 96 cards")
    keys(sheet, "Enter")
    expect(sheet.locator(".query-chip")).to_have_text(["bed is Briar", "cost > 3"])
    # The address is written behind the keys.
    sheet.wait_for_url(re.compile(r"[?&]q=[^&]*cost(\+|%20)(>|%3E)(\+|%20)3(&|$)"))
    sheet.reload()
    expect(sheet.locator(".query-chip")).to_have_text(["bed is Briar", "cost > 3"])
    # An edit that leaves the query keeps its row in sight until it is asked again.
    code = sheet.locator(".grid-row .grid-code").first.inner_text()
    stand_on(sheet, sheet.locator(".grid-row .grid-text").first.inner_text(), "cost")
    sheet.keyboard.type("1")
    with sheet.expect_response("**/fields/cost"):
        keys(sheet, "Enter")
    expect(sheet.locator(".grid-row .grid-code").first).to_have_text(code)
    sheet.get_by_role("button", name="Refresh").click()
    expect(sheet.locator(COUNT)).to_contain_text("8 of 96 cards")
    sheet.get_by_role("button", name="Remove: cost > 3").click()
    expect(sheet.locator(COUNT)).to_contain_text("24 of 96 cards")


def test_cards_are_duplicated_stepped_and_generated_by_a_seed(sheet: Page):
    stand_on(sheet, "Copper Larch Fern", "height")
    sheet.get_by_role("button", name="New card").click()
    sheet.get_by_role("menuitem", name="Variants of").click()
    sheet.get_by_label("How many").fill("4")
    expect(sheet.locator(".small-sheet")).to_contain_text("1 → 2, 3, 4, 5")
    sheet.get_by_role("button", name="Make 4 cards").click()
    expect(sheet.locator(COUNT)).to_contain_text("100 of 100 cards")
    sheet.get_by_role("button", name="New card").click()
    sheet.get_by_role("menuitem", name="Generate").click()
    sheet.get_by_label("Seed").fill("7")
    sheet.get_by_label("Height", exact=True).check()
    sheet.get_by_label("Root", exact=True).check()
    sheet.get_by_label("Total at least").fill("40")
    expect(sheet.locator(".small-sheet-foot")).to_contain_text("they can sum to 0 to 14")
    sheet.get_by_label("Total at least").fill("12")
    sheet.get_by_label("How many").fill("3")
    expect(sheet.locator(".generate-shown tbody tr")).to_have_count(3)
    drawn = sheet.locator(".generate-shown tbody tr").all_inner_texts()
    assert all(int(row.split()[-1]) >= 12 for row in drawn)
    sheet.get_by_role("button", name="Make 3 cards").click()
    expect(sheet.locator(COUNT)).to_contain_text("103 of 103 cards")
    row = sheet.locator(".grid-row").filter(has_text="RS-101")
    assert [row.locator(f"[id$='-{field}']").inner_text() for field in ("height", "root")] == drawn[
        0
    ].split()[:2]
    keys(sheet, "Control+z", "Control+z")
    expect(sheet.locator(COUNT)).to_contain_text("96 of 96 cards")


def test_the_wall_shows_gaps_writes_into_them_and_moves_cards_by_hand_and_keys(sheet: Page):
    sheet.get_by_role("button", name="Wall").click()
    sheet.get_by_label("Across").select_option("cost")
    sheet.get_by_label("Down").select_option("bed")
    larch = sheet.get_by_role("button", name=re.compile("^Copper Larch Fern"))
    target = sheet.get_by_role("group", name="Cost 0, Fern").first
    larch.drag_to(target)
    expect(sheet.locator(STRIP)).to_contain_text("cost 1 → 0")
    expect(target.locator("svg.face")).to_be_visible()
    target.locator("button").focus()
    keys(sheet, "Alt+ArrowRight")
    expect(sheet.locator(STRIP)).to_contain_text("cost 0 → 1")
    sheet.get_by_role("button", name="Write one here: Cost 0, Fern").click()
    expect(sheet.locator(".pane-facts")).to_contain_text("RS-097 · Plant")
    expect(sheet.locator(f"{FACE} [data-field=cost] text")).to_have_text("0")
    expect(sheet.locator("[aria-activedescendant$=name]")).to_have_count(1)
    sheet.keyboard.type("Gap Filler")
    with sheet.expect_response("**/fields/name"):
        keys(sheet, "Enter")
    expect(sheet.locator(".grid-row").filter(has_text="Gap Filler")).to_contain_text("Fern")


def test_a_text_is_replaced_where_it_is_wanted_and_seen_first(sheet: Page):
    sheet.locator(".grid").focus()
    keys(sheet, "Control+h")
    sheet.get_by_label("Find", exact=True).fill("fern")
    sheet.get_by_label("Replace by").fill("Bracken")
    sheet.locator(".replace-sheet select").select_option("name")
    places = sheet.locator(".replace-list li")
    expect(places).to_have_count(4)
    sheet.get_by_label("whole words").check()
    expect(places).to_have_count(3)
    expect(places.first).to_contain_text("Copper Larch Bracken")
    places.last.get_by_role("checkbox").uncheck()
    with sheet.expect_response(re.compile("/cells$")):
        sheet.get_by_role("button", name="Replace in 2 places").click()
    expect(cell(sheet, "RS-001", "name")).to_have_text("Copper Larch Bracken")
    expect(cell(sheet, "RS-009", "name")).to_have_text("Lampwick Bracken")
    expect(cell(sheet, "RS-015", "name")).to_have_text("Grandmother Treefern")


def test_every_key_is_listed_under_one(sheet: Page):
    sheet.locator(".grid").focus()
    sheet.keyboard.type("?")
    expect(sheet.get_by_role("dialog", name="Keys")).to_contain_text("fills down from the first row")
    keys(sheet, "Escape")
    expect(sheet.get_by_role("dialog")).to_have_count(0)


def test_texts_take_symbols_bold_and_italic_at_the_caret(sheet: Page):
    stand_on(sheet, "Copper Larch Fern", "printed")
    keys(sheet, "Enter")
    sheet.keyboard.type("Gain  now")
    for _ in range(4):
        keys(sheet, "ArrowLeft")
    sheet.get_by_role("button", name="Symbol of Water").click()
    area = sheet.locator("#editor-printed")
    expect(area).to_have_value("Gain {water} now")
    keys(sheet, "End", "Control+b")
    sheet.keyboard.type("Twining")
    expect(area).to_have_value("Gain {water} now*Twining*")
    expect(sheet.locator(f"{FACE} [data-field=printed] path").first).to_be_attached()
    with sheet.expect_response("**/fields/printed"):
        keys(sheet, "Control+Enter")


def part(page: Page, name: str) -> None:
    parts = page.get_by_role("navigation", name="Parts of the rules")
    parts.get_by_role("button", name=re.compile(f"^{name}( |$|[0-9])")).click()
    expect(page.locator(".rules-title")).to_have_text(name)


def png() -> bytes:
    out = io.BytesIO()
    Image.new("RGB", (80, 60), "#aa3355").save(out, "PNG")
    return out.getvalue()


def test_a_view_asks_for_the_same_cards_when_what_it_names_is_renamed(sheet: Page):
    keys(sheet, "Control+f")
    sheet.keyboard.type("bed is Fern cost >= 4 ")
    keys(sheet, "Enter")
    expect(sheet.locator(".query-chip")).to_have_text(["bed is Fern", "cost >= 4"])
    expect(sheet.locator(COUNT)).to_contain_text("8 of 96 cards")
    sheet.get_by_role("button", name="Views").click()
    sheet.get_by_label("Name of the view").fill("Dear ferns")
    keys(sheet, "Enter")
    expect(sheet.locator(".views-menu")).to_have_count(0)
    sheet.get_by_role("link", name="Rules").click()
    part(sheet, "Card")
    sheet.get_by_label("Name of the field Bed").fill("Ground")
    keys(sheet, "Enter")
    expect(sheet.locator(STRIP)).to_contain_text("Bed renamed to Ground")
    part(sheet, "Beds")
    sheet.get_by_label("Name of Fern").fill("Bracken, old")
    keys(sheet, "Enter")
    expect(sheet.locator(STRIP)).to_contain_text("Fern renamed to Bracken, old")
    sheet.get_by_role("link", name="Cards").click()
    sheet.get_by_role("button", name="Views").click()
    sheet.get_by_role("button", name="Dear ferns", exact=True).click()
    expect(sheet.locator(".query-chip")).to_have_text(['Ground is "Bracken, old"', "cost >= 4"])
    expect(sheet.locator(COUNT)).to_contain_text("8 of 96 cards")


def test_rules_shape_the_cards_fields_kinds_values_sets_and_pictures(sheet: Page, server: Server):
    sheet.get_by_role("link", name="Rules").click()
    part(sheet, "Card")
    for name, kind in (("Size", "text"), ("Art", "picture")):
        sheet.get_by_label("Name of a new field").fill(name)
        sheet.get_by_label("Kind of the new field").select_option(kind)
        keys(sheet, "Tab")
        sheet.get_by_role("button", name="Add field").click()
        expect(sheet.get_by_label(f"Name of the field {name}")).to_be_visible()
    sheet.get_by_role("link", name="Cards").click()
    stand_on(sheet, "Copper Larch Fern", "size")
    clip(sheet, "3\ntall\n7")
    written(sheet, "Control+v")
    sheet.set_input_files(
        "[aria-label='Art: file']", {"name": "art.gif", "mimeType": "image/gif", "buffer": png()}
    )
    expect(sheet.locator(f"{FACE} [data-field=art] image")).to_be_attached()
    sheet.get_by_role("link", name="Rules").click()
    part(sheet, "Card")
    sheet.get_by_label("Kind of Size").select_option("number")
    asked = sheet.get_by_role("region", name="What this changes")
    expect(asked).to_contain_text("Size becomes another kind: 2 values convert, 1 does not.")
    expect(asked).to_contain_text("“tall” is not a whole number")
    asked.get_by_role("button", name="Change the kind").click()
    expect(sheet.get_by_role("region", name="Removed fields")).to_contain_text(
        "Size, as it was 1 card still holds a value"
    )
    # A formula with its circle named, then one that works.
    part(sheet, "Plant")
    sheet.get_by_label("Name of a new field").fill("Heft")
    sheet.get_by_label("Kind of the new field").select_option("derived")
    sheet.get_by_role("button", name="Add field").click()
    formula = sheet.get_by_label("Formula of Heft")
    formula.fill("Height + Heft")
    keys(sheet, "Enter")
    expect(sheet.get_by_role("alert")).to_contain_text("circle: Heft → Heft")
    formula.fill("Height + Root")
    keys(sheet, "Enter")
    expect(sheet.get_by_role("alert")).to_have_count(0)
    # A value renamed, one merged, one that has nowhere to go.
    part(sheet, "Rarities")
    sheet.get_by_label("Name of Heirloom").fill("Antique")
    keys(sheet, "Enter")
    expect(sheet.locator(STRIP)).to_contain_text("Heirloom renamed to Antique")
    sheet.get_by_role("button", name="Remove Antique").click()
    asked = sheet.get_by_role("region", name="Where do the cards go?")
    expect(asked).to_contain_text("8 cards have Antique")
    asked.get_by_role("button", name="Leave it as it was").click()
    sheet.get_by_role("button", name="Merge Antique into another").click()
    sheet.get_by_label("Merge Antique into").select_option("prize")
    expect(sheet.locator(".value-row")).to_have_count(3)
    sheet.get_by_label("New set", exact=True).fill("Second Showing")
    keys(sheet, "Enter")
    expect(sheet.get_by_label("Codes of new cards")).to_have_value("SS-{n:03}")
    sheet.goto(f"{server.url}/{GAME}/cards?q=heft+is+14")
    expect(sheet.locator(COUNT)).to_contain_text("1 of 96 cards")
    expect(sheet.locator(".grid-row").first).to_contain_text("Thousand-Year Tuft")
    expect(sheet.locator(".grid-row .grid-derived").first).to_have_text("14")
