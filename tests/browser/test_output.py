"""The Output room with real clicks and keys: a run printed, out of date, reprinted; sheets within limits; jobs that are stopped."""

from __future__ import annotations

import io
import zipfile

import pypdfium2
from playwright.sync_api import Page, expect

from tests.browser.conftest import LONG


def in_room(page: Page, part: str = "") -> None:
    page.get_by_role("link", name="Output").click()
    expect(page.get_by_role("tab", name="Print run")).to_be_visible()
    if part:
        page.get_by_role("tab", name=part).click()
        expect(page.get_by_role("tab", name=part)).to_have_attribute("aria-selected", "true")


def made(page: Page, place: int = 0):
    """The result's file, once it is there."""
    link = page.get_by_role("region", name="Made").get_by_role("link", name="Download").nth(place)
    expect(link).to_be_visible(timeout=LONG)
    with page.expect_download() as got:
        link.click()
    return open(got.value.path(), "rb").read()


def no_sideways(page: Page) -> bool:
    return bool(page.evaluate("document.documentElement.scrollWidth <= innerWidth"))


def test_a_number_that_can_not_be_is_not_left_standing(page: Page):
    in_room(page)
    margin, side = page.get_by_label("Margin, mm"), page.get_by_role("region", name="Summary")
    for typed, shown in (("much", "5"), ("7,5", "7.5"), ("", "7.5"), ("999", "100"), ("999", "100"), ("-3", "0"), ("5", "5")):
        margin.fill(typed)
        margin.press("Enter")
        expect(margin).to_have_value(shown)
    page.get_by_label("Copies", exact=True).select_option("number")
    expect(side.get_by_role("heading")).to_have_text("96 cards on 11 pages")
    copies = page.get_by_label("How many")
    for typed, shown in (("x", "1"), ("3", "3"), ("three", "3")):
        copies.fill(typed)
        copies.press("Enter")
        expect(copies).to_have_value(shown)
    expect(side.get_by_role("heading")).to_have_text("288 cards on 32 pages")


def test_the_measured_ruler_sets_the_scale_once_and_unmeasured_sheets_are_reported(page: Page):
    in_room(page)
    measured, scale = page.get_by_label("My 50 mm ruler measures"), page.get_by_label("Scale, %")
    # At the second try the printed ruler measures 50: the scale stays.
    for typed, found in (("48,5", "103.09"), ("50", "103.09"), ("49.5", "104.13")):
        measured.fill(typed)
        measured.press("Enter")
        expect(scale).to_have_value(found)
    for typed in ("5", "long"):
        measured.fill(typed)
        measured.press("Enter")
        expect(page.get_by_role("alert")).to_contain_text("Write what yours measures on paper, in mm, such as 48.5.")
        expect(scale).to_have_value("104.13")
    measured.fill("52.065")
    measured.press("Enter")
    expect(scale).to_have_value("100")
    expect(page.get_by_role("alert")).to_have_count(0)


def test_a_run_is_printed_made_stale_by_an_edit_and_reprinted_with_one_action(page: Page):
    in_room(page)
    side = page.get_by_role("region", name="Summary")
    expect(side.get_by_role("heading")).to_have_text("192 cards on 22 pages")
    page.get_by_label("Deck", exact=True).select_option(label="Fern over Moss")
    expect(side.get_by_role("heading")).to_have_text("36 cards on 4 pages")
    page.get_by_label("Backs", exact=True).select_option("long")
    expect(side.get_by_role("heading")).to_have_text("36 cards on 8 pages")
    sheet = page.get_by_role("img", name="as it will be printed")
    expect(sheet.locator("use")).to_have_count(9)
    page.get_by_role("button", name="Turn the sheet").click()
    expect(sheet.locator("text").filter(has_text="Ribbon Season")).to_have_count(1)
    page.get_by_role("button", name="Sheet 1", exact=True).press("PageDown")
    expect(sheet.locator("use")).to_have_count(9)
    page.get_by_label("Print sheet 4").press("Space")
    expect(side.get_by_role("heading")).to_have_text("27 cards on 6 pages")
    assert no_sideways(page)
    page.get_by_label("Name of the run").fill("Before the first evening")
    page.get_by_label("Name of the run").press("Enter")
    page.get_by_role("button", name="Make the PDF").press("Enter")
    document = pypdfium2.PdfDocument(made(page))
    assert len(document) == 6 and "Before the first evening" in document[0].get_textpage().get_text_range()
    expect(page.get_by_role("list", name="Print runs")).to_contain_text("up to date")
    page.reload()
    expect(page.get_by_role("region", name="Made")).to_contain_text("Before the first evening")

    page.get_by_role("link", name="Cards", exact=True).click()
    page.locator("#cell-c-ribbon-season-rs-002-height").click()
    page.keyboard.press("4")
    page.keyboard.press("Enter")
    strip = page.get_by_role("contentinfo", name="Ripples")
    expect(strip).to_contain_text("3 printed copies out of date")
    expect(page.locator("#cell-c-ribbon-season-rs-002-paper")).to_have_text("out of date")
    expect(page.locator("#cell-c-ribbon-season-rs-001-paper")).to_have_text("✓")
    page.get_by_role("button", name="Out of date 1").click()
    expect(page.locator(".toolbar-said, .toolbar").filter(has_text="1 of 96 cards").first).to_be_visible()
    page.keyboard.press("Control+z")
    expect(strip).to_contain_text("3 printed copies up to date again")
    page.keyboard.press("Control+y")
    expect(strip).to_contain_text("3 printed copies out of date")

    strip.get_by_role("link", name="printed copies out of date").click()
    paper = page.get_by_role("region", name="On paper")
    expect(paper).to_contain_text("1 card out of date, 3 copies: Ladder Frond")
    paper.get_by_role("button", name="Reprint what is out of date").click()
    expect(paper).to_contain_text("What was printed is as the cards are now", timeout=LONG)
    expect(page.get_by_role("region", name="Made").get_by_role("link", name="Download")).to_have_count(2)
    assert len(pypdfium2.PdfDocument(made(page))) == 2, "one leaf, printed on both sides as the run was"


def test_sheets_keep_to_the_limits_report_faults_and_can_be_stopped(page: Page):
    in_room(page, "Table sheets")
    side = page.get_by_role("region", name="Summary")
    page.get_by_label("Fern over Moss").check()
    expect(side).to_contain_text("36 cells on 1 sheet")
    expect(page.get_by_role("figure")).to_contain_text("Fern over Moss, 8x5, 36 cards.jpg")
    page.get_by_label("Longest side, px").fill("300")
    page.get_by_label("Longest side, px").press("Tab")
    expect(side.get_by_role("alert")).to_contain_text("does not fit a side of 300")
    expect(page.get_by_role("button", name="Make the table sheets")).to_be_disabled()
    page.get_by_label("Cell width, px").fill("60")
    page.get_by_label("Cell width, px").press("Tab")
    expect(side).to_contain_text("36 cells on 3 sheets")
    assert no_sideways(page)
    page.get_by_role("button", name="Make the table sheets").click()
    archive = zipfile.ZipFile(io.BytesIO(made(page)))
    assert "read me first.html" in archive.namelist() and "Cards.tsv" in archive.namelist()
    for label, value in (("Longest side, px", "8192"), ("Cell width, px", "2000")):
        page.get_by_label(label).fill(value)
        page.get_by_label(label).press("Tab")
    expect(side).to_contain_text("36 cells on 9 sheets")
    page.get_by_role("button", name="Make the table sheets").click()
    results = page.get_by_role("region", name="Made")
    expect(results.get_by_role("progressbar")).to_be_visible()
    results.get_by_role("button", name="Stop").click()
    expect(results.get_by_role("listitem").first).to_contain_text("stopped", timeout=LONG)
    results.get_by_role("button", name="Take Fern over Moss away").first.click()
    expect(results.get_by_role("button", name="Take Fern over Moss away")).to_have_count(1)


def test_pictures_are_named_by_a_pattern_and_what_is_set_is_there_the_next_time(page: Page):
    in_room(page, "Pictures")
    page.get_by_label("Places or codes").fill("1-3")
    page.get_by_label("Pattern").fill("{number} {nam}")
    page.get_by_label("Pattern").press("Enter")
    side = page.get_by_role("region", name="Summary")
    expect(side.get_by_role("alert")).to_contain_text("did you mean {name}?")
    page.get_by_label("Pattern").fill("{number} {name}")
    page.get_by_label("Pattern").press("Enter")
    page.get_by_label("Format", exact=True).select_option("svg")
    names = page.get_by_role("region", name="Names").get_by_role("listitem")
    expect(names).to_have_count(3)
    expect(names.nth(1)).to_contain_text("2 Ladder Frond.svg")
    assert no_sideways(page)
    page.get_by_role("button", name="Make the pictures").click()
    assert zipfile.ZipFile(io.BytesIO(made(page))).namelist() == [
        "1 Copper Larch Fern.svg",
        "2 Ladder Frond.svg",
        "3 Cistern Maidenhair.svg",
    ]
    page.reload()
    expect(page.get_by_label("Pattern")).to_have_value("{number} {name}")
    expect(page.get_by_label("Places or codes")).to_have_value("1-3")
