"""History, notes, imports and exports, with real clicks and keys."""

from __future__ import annotations

import io
import re
import zipfile

import pytest
from PIL import Image
from playwright.sync_api import Page, expect

from tests.browser.conftest import GAME, Server
from tests.browser.test_journey import FACE, STRIP, free_of_faults, stand_on, type_in
from tests.conftest import SAMPLES


def room(page: Page, server: Server, path: str) -> None:
    page.goto(f"{server.url}/{GAME}/{path}")
    page.wait_for_selector(".topbar")


@pytest.mark.begins_elsewhere
def test_an_edit_is_found_in_the_history_and_taken_back_by_a_field(page: Page, server: Server):
    room(page, server, "history")
    page.get_by_label("Name of a mark for now").fill("before playtest 3")
    page.keyboard.press("Enter")
    expect(page.locator(".mark-line b")).to_have_text("before playtest 3")
    room(page, server, "cards")
    page.wait_for_selector(FACE)
    type_in(page, "The Unfolding", "height", "9")
    type_in(page, "The Unfolding", "cost", "7")
    page.get_by_role("link", name="History").click()
    page.get_by_role("combobox", name="From", exact=True).select_option(label="before playtest 3")
    expect(page.locator(".history-sum")).to_contain_text("1 card changed")
    expect(page.locator(".history-card .changes")).to_have_text(
        re.compile("Height5→9.*Cost6→7|Cost6→7.*Height5→9", re.S)
    )
    page.get_by_role("button", name="Faces").click()
    expect(page.locator(".history-pair svg.face")).to_have_count(2)
    page.get_by_role("button", name="The Unfolding", exact=True).click()
    expect(page.locator(".past-step")).to_have_count(3)
    page.locator(".past-step", has_text="Height").click()
    page.get_by_role("button", name="Back to “5”").click()
    expect(page.locator(STRIP)).to_contain_text("height 9 → 5")
    page.keyboard.press("Escape")
    page.get_by_role("link", name="Show these cards in the grid").click()
    expect(page.locator(".toolbar-low")).to_contain_text("1 of 96 cards")
    expect(page.locator(".grid-row .grid-text").first).to_have_text("The Unfolding")
    page.keyboard.press("Control+z")
    expect(page.locator(STRIP)).to_contain_text("height 5 → 9")


def test_a_note_is_written_seen_in_the_grid_answered_and_filtered(page: Page):
    stand_on(page, "The Unfolding", "name")
    page.get_by_label("New note on The Unfolding").fill("Ends games too early")
    page.keyboard.press("Enter")
    expect(page.locator(".note-text")).to_have_text("Ends games too early")
    expect(page.locator("[id='cell-c-ribbon-season-rs-016-notes']")).to_have_text("1 open")
    page.keyboard.press("Control+f")
    page.keyboard.type("open notes")
    page.keyboard.press("Enter")
    expect(page.locator(".toolbar-low")).to_contain_text("2 of 96 cards")
    head, row = (page.locator(each).bounding_box() for each in (".grid-head", "[aria-rowindex='2']"))
    assert row["y"] == head["y"] + head["height"]  # few rows begin right under their heads
    page.get_by_label("Answer to: Ends games too early").fill("Cost 7 now")
    page.keyboard.press("Enter")
    expect(page.locator(".note-answer")).to_have_text("Cost 7 now")
    expect(page.locator("[id='cell-c-ribbon-season-rs-016-notes']")).to_have_text("1 ✓")


def bring_sheet(page: Page, name: str, data: bytes) -> None:
    page.get_by_role("button", name="Import", exact=True).click()
    page.set_input_files(
        ".sheet-dialog input[type=file]", {"name": name, "mimeType": "text/csv", "buffer": data}
    )
    page.wait_for_selector(".said")


def test_a_sheet_updates_cell_by_cell_and_says_how_it_was_read(page: Page):
    sheet = "junk line\nTitle;Price;Bed\nThe Unfolding;8;Fern\nLadder Frond;2;Heather\n".encode("utf-16")
    bring_sheet(page, "costs.csv", sheet)
    expect(page.get_by_label("Encoding")).to_have_value("UTF-16")
    page.get_by_role("button", name="Update by name").click()
    page.get_by_label("Field fed by Price").select_option(label="Cost")
    expect(page.locator(".plan-cells tr")).to_have_text(re.compile("The Unfolding.*Cost.*6.*8", re.S))
    page.get_by_role("button", name=re.compile("Add “Heather” to")).click()
    expect(page.locator(".plan-cells tr")).to_have_count(2)
    page.get_by_label("Change The Unfolding, Cost").uncheck()
    expect(page.locator(".said")).to_contain_text("changes 1 cell of 1 card")
    page.get_by_role("button", name="Write these changes").click()
    expect(page.locator(STRIP)).to_contain_text("bed Fern → Heather")
    expect(page.locator("[id='cell-c-ribbon-season-rs-002-bed']")).to_contain_text("Heather")
    page.keyboard.press("Control+z")
    expect(page.locator("[id='cell-c-ribbon-season-rs-002-bed']")).to_contain_text("Fern")


def test_an_untidy_workbook_makes_fields_and_nothing_matched_is_explained(page: Page, server: Server):
    bring_sheet(page, "nothing.csv", b"alpha,beta\n1,2\n")
    expect(page.get_by_role("alert")).to_contain_text("no line looks like a header")
    expect(page.get_by_role("button", name="Import 0 cards")).to_be_disabled()
    page.set_input_files(".sheet-dialog input[type=file]", SAMPLES / "two-faced.tsv")
    page.get_by_role("button", name="Add 4 fields for unmatched columns").click()
    page.get_by_label("Card type of every row").fill("Bulb")
    with page.expect_response(re.compile("/imports/preview")):
        page.keyboard.press("Enter")
    page.get_by_role("button", name="Import 30 cards").click()
    expect(page.locator(STRIP)).to_contain_text("two-faced.tsv")
    expect(page.locator("[id$='-in-winter']").first).to_have_text("bulb 001 dry.png")
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as archive:
        for name in ("bulb 001 dry.png", "bulb 002.png", "somebody.png"):
            held = io.BytesIO()
            Image.new("RGB", (60, 80), "#aa3344").save(held, "JPEG")
            archive.writestr(name, held.getvalue())
    room(page, server, "files?part=pictures")
    page.set_input_files(
        ".drop-files input >> nth=0",
        {"name": "art.zip", "mimeType": "application/zip", "buffer": out.getvalue()},
    )
    page.get_by_role("button", name="Put 2 pictures on cards").click()
    expect(
        page.get_by_role("button", name="Unused 0")
    ).to_be_visible()  # the same picture is on cards, whatever its name
    page.get_by_role("button", name=re.compile("Missing")).click()
    expect(page.locator(".files-main")).to_contain_text("missing file: bulb 003.png")


@pytest.mark.begins_elsewhere
def test_tables_and_games_leave_and_come_back(page: Page, server: Server, tmp_path):
    room(page, server, "files")
    with page.expect_download() as table:
        page.get_by_role("link", name=re.compile("XLSX")).click()
    assert (
        table.value.suggested_filename == "Ribbon-Season.xlsx"
        or table.value.suggested_filename == "Ribbon Season.xlsx"
    )
    page.get_by_role("button", name="New text table").click()
    page.get_by_label("Name", exact=True).fill("For the printer")
    page.get_by_label("Between cells").fill("bar")
    page.get_by_role("button", name="Column", exact=True).click()
    page.get_by_label("Column 3 shows", exact=True).select_option(label="Bed")
    page.get_by_label("Column 3 up").click()
    expect(page.get_by_label("First lines of the text table")).to_contain_text(
        "Name|Bed|Copies\nCopper Larch Fern|Fern|2"
    )
    page.get_by_role("button", name="Save the table").click()
    expect(page.locator(".files-line", has_text="For the printer")).to_be_visible()
    room(page, server, "files?part=game")
    with page.expect_download() as backup:
        page.get_by_role("link", name=re.compile("Backup")).click()
    backup.value.save_as(tmp_path / "b.zip")
    page.set_input_files("input[aria-label='Archive of a game']", tmp_path / "b.zip")
    page.wait_for_url("**/ribbon-season-2/cards**")
    expect(page.locator(".game-switch")).to_contain_text("Ribbon Season 2")
    page.wait_for_selector(FACE)


@pytest.mark.begins_elsewhere
def test_a_followed_table_is_off_until_it_is_switched_on(page: Page, server: Server, tmp_path):
    sheet = tmp_path / "costs.csv"
    sheet.write_text("Code,Cost\nRS-016,5\n")
    room(page, server, "files?part=followed")
    page.get_by_role("button", name="Follow a table").click()
    page.get_by_label("Address or file").fill(str(sheet))
    page.get_by_role("button", name="Follow it").click()
    page.get_by_role("button", name="Read now").click()
    expect(page.get_by_role("alert")).to_contain_text("reads no files of this computer")
    page.get_by_label("Allow files of this computer").click()
    expect(page.get_by_label("Allow files of this computer")).to_be_checked()
    page.get_by_role("button", name="Read now").click()
    expect(page.locator(".plan-cells tr")).to_have_text(re.compile("The Unfolding.*Cost.*6.*5", re.S))
    page.get_by_role("button", name="Write these changes").click()
    expect(page.locator(".files-line")).to_contain_text("nothing new")
    expect(page.locator(STRIP)).to_contain_text("cost 6 → 5")


def test_the_new_rooms_are_free_of_serious_faults(page: Page, server: Server):
    type_in(page, "The Unfolding", "height", "9")
    screens = {
        "history?from=0": [lambda: page.wait_for_selector(".history-card")],
        "history?from=0&as=faces": [lambda: page.wait_for_selector(".history-pair svg")],
        "files": [lambda: page.get_by_role("button", name="New text table").click()],
        "files?part=pictures": [lambda: page.wait_for_selector(".drop-files")],
        "files?part=followed": [lambda: page.get_by_role("button", name="Follow a table").click()],
        "files?part=game": [lambda: None],
        "cards?card=c-ribbon-season-rs-016": [
            lambda: page.get_by_role("button", name="History", exact=True).click(),
            lambda: bring_sheet(page, "x.csv", b"Name,Cost,Luck\nThe Unfolding,3,1\nNew one,2,2\n"),
        ],
    }  # fmt: skip
    free_of_faults(page, server, screens)
