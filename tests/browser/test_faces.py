"""Faces: a plan edited by drag, by keys and by numbers with real cards in view; adjustments of one card; the proof."""

from __future__ import annotations

import io
import re

import pytest
from PIL import Image
from playwright.sync_api import Page, expect

from tests.browser.conftest import GAME, Server
from tests.browser.test_journey import FACE, STRIP, grave_faults, stand_on

HIT = "[data-hit='{}']"
ADJUST = ".adjust-window"

pytestmark = pytest.mark.begins_elsewhere


def faces(page: Page, server: Server, query: str = "", game: str = GAME) -> None:
    page.goto(f"{server.url}/{game}/faces{query}")
    page.wait_for_selector(".plan-face text")
    page.wait_for_selector(".stress-face svg.face, .strip-said")


def figure(page: Page, label: str):
    return page.locator(".faces-inspector").get_by_label(label, exact=True)


def layer(page: Page, name: str):
    return page.locator(".layer .rules-item", has_text=name).first


def test_a_placement_is_dragged_stepped_typed_and_every_step_is_undone(page: Page, server: Server):
    faces(page, server, "?plan=f-ribbon-season-plant")
    layer(page, "Name").click()
    expect(figure(page, "From left, mm")).to_have_value("13.6")
    box = page.locator(HIT.format("name")).bounding_box()
    page.mouse.move(box["x"] + 40, box["y"] + 10)
    page.mouse.down()
    page.mouse.move(box["x"] + 48, box["y"] + 42, steps=6)
    page.mouse.up()
    expect(page.locator(STRIP)).to_contain_text("Name moved")
    expect(page.locator(STRIP)).to_contain_text("64 faces re-laid")
    expect(figure(page, "From top, mm")).not_to_have_value("2.6")
    moved = figure(page, "From top, mm").input_value()
    assert float(moved) > 6
    page.locator(".plan-svg").focus()
    page.keyboard.press("ArrowRight")
    page.keyboard.press("ArrowRight")
    page.keyboard.press("Shift+ArrowUp")
    expect(figure(page, "From top, mm")).to_have_value(f"{float(moved) - 5:g}")
    figure(page, "Wide, mm").fill("9")
    expect(page.locator(".stress-fault").first).to_have_text("text does not fit")
    expect(page.locator(STRIP)).not_to_contain_text("resized")
    page.keyboard.press("Enter")
    expect(page.locator(STRIP)).to_contain_text("Name resized")
    page.get_by_role("tab", name="Proof of all").click()
    expect(page.locator(".proof-head")).to_contain_text("faults")
    page.locator(".plan-svg").focus()
    for _ in range(3):
        page.keyboard.press("Control+z")
    expect(page.locator(".saved")).to_have_text("All saved")
    # On a busy machine steps are not as near each other as to be one edit.
    undo = page.get_by_role("button", name=re.compile("^Undo"))
    for _ in range(3):
        if figure(page, "From top, mm").input_value() != "2.6" and undo.is_enabled():
            with page.expect_response(re.compile("/undo$")):
                page.keyboard.press("Control+z")
            expect(page.locator(".saved")).to_have_text("All saved")
    expect(page.locator(".proof-head")).to_contain_text("nothing found")
    expect(figure(page, "From top, mm")).to_have_value("2.6")
    expect(page.locator(".inspector-head")).to_contain_text("inherited")
    expect(page.locator(".inspector-head")).not_to_contain_text("changed here")


def test_fields_are_placed_aligned_switched_off_and_removed_with_the_keyboard_only(page: Page, server: Server):
    faces(page, server, "?plan=f-ribbon-season-plant&card=c-ribbon-season-rs-015")
    place = page.get_by_role("button", name="Copies", exact=True)
    place.focus()
    page.keyboard.press("Enter")
    expect(page.locator(".inspector-name")).to_have_value("Copies")
    expect(page.locator(".plan-face [data-place='copies']")).to_have_count(1)
    page.get_by_role("button", name="Align right", exact=True).focus()
    page.keyboard.press("Enter")
    expect(figure(page, "From left, mm")).to_have_value("54.5")
    figure(page, "Condition").fill("cost >= 7")
    page.keyboard.press("Enter")
    expect(page.locator(".plan-face [data-place='copies']")).to_have_count(0)
    figure(page, "Condition").fill("cost is is 7")
    page.keyboard.press("Enter")
    expect(page.locator(".inspector-said")).to_be_visible()
    figure(page, "Condition").fill("")
    page.keyboard.press("Enter")
    page.get_by_role("combobox", name="Plate's colour").select_option(label="by Bed")
    expect(page.locator(".plan-face [data-place='copies'] rect[fill='#3d7a62']")).to_have_count(1)
    page.get_by_role("combobox", name="Choice field").select_option(label="Rarity")
    page.get_by_role("checkbox", name="Heirloom").focus()
    page.keyboard.press("Space")
    expect(page.locator(".plan-face [data-place='copies']")).to_have_count(
        1 if rarity(page) != "heirloom" else 0
    )
    page.get_by_role("button", name="Switch off", exact=True).press("Enter")
    expect(page.locator(".layer-off")).to_contain_text("Copies")
    page.locator(".plan-svg").focus()
    page.keyboard.press("Delete")
    expect(page.locator(".layers")).not_to_contain_text("Copies")
    expect(page.locator(".inspector-name")).to_have_value("Plant")
    page.get_by_label("Wide, mm").fill("3")
    page.keyboard.press("Enter")
    expect(page.locator(STRIP)).to_contain_text("greater than or equal to 12")
    cut = page.locator(".plan-cut")
    expect(cut).to_have_attribute("d", re.compile("^M3.2 0H60.3"))  # what was refused is not shown either
    page.get_by_label("High, mm").fill("70")
    page.keyboard.press("Enter")
    page.keyboard.press("Tab")
    expect(page.locator(STRIP)).to_contain_text("size")
    expect(cut).to_have_attribute("d", re.compile("V66.8"))
    paper = page.locator(
        ".plan-face rect"
    ).first  # what the server lays out, not what the page knows of the plan
    expect(paper).to_have_attribute("height", "76")
    page.locator(".plan-svg").focus()
    page.keyboard.press("Control+z")
    expect(cut).to_have_attribute("d", re.compile("V85.7"))
    expect(paper).to_have_attribute("height", "94.9")
    expect(page.locator(".plan-face text").first).to_be_attached()
    assert grave_faults(page) == []


def rarity(page: Page) -> str:
    return page.evaluate(
        f"fetch('/api/games/{GAME}/cards?ids=RS-015').then(answer => answer.json()).then(found => found.cards[0].values.rarity.toLowerCase())"
    )


def test_one_card_is_adjusted_by_hand_and_figures_marked_copied_and_reset(page: Page, server: Server):
    page.goto(f"{server.url}/{GAME}/cards")
    page.wait_for_selector(".pane-face svg.face")
    stand_on(page, "The Unfolding", "name")
    page.get_by_role("button", name="Adjust", exact=True).click()
    window = page.locator(ADJUST).first
    box = window.bounding_box()
    page.mouse.move(box["x"] + 90, box["y"] + 60)
    page.mouse.down()
    page.mouse.move(box["x"] + 130, box["y"] + 60, steps=4)
    page.mouse.up()
    expect(page.locator(STRIP)).to_contain_text("face adjusted")
    assert float(page.get_by_label("Across, mm").input_value()) > 3
    window.focus()
    page.keyboard.press("+")
    page.keyboard.press("+")
    expect(page.get_by_label("Zoom", exact=True)).to_have_value("1.1")
    page.get_by_label("Name: size in mm").fill("2.4")
    page.keyboard.press("Enter")
    expect(page.locator(".adjust .problems")).to_contain_text("under the plan's least")
    expect(page.locator(".adjusted")).to_have_count(2)
    expect(page.locator(".saved")).to_have_text("All saved")
    page.get_by_label("To", exact=True).select_option("one")
    page.get_by_label("Code of the card").fill("rs-001")
    page.get_by_role("button", name="Copy", exact=True).click()
    expect(page.locator(STRIP)).to_contain_text("Copper Larch Fern")
    page.get_by_role("button", name="Name: as the plan says").click()
    expect(page.locator(".adjusted")).to_have_count(1)
    assert grave_faults(page) == []
    page.keyboard.press("Escape")
    expect(page.locator(".pane-facts")).to_contain_text("face adjusted")
    page.keyboard.press("Control+f")
    page.keyboard.type("overruled")
    page.keyboard.press("Enter")
    expect(page.locator(".toolbar-low")).to_contain_text("2 of 96 cards")


def test_sizes_variants_and_types_without_cards_are_shown_at_once(page: Page, server: Server):
    faces(page, server, "?card=c-crowded-bed-cb-045", "crowded-bed")
    expect(page.locator(".inspector-head")).to_contain_text("worn by 4 cards")
    assert "polygon" in page.locator(".stress-face svg.face").first.evaluate(
        "each => getComputedStyle(each).clipPath"
    )
    page.get_by_role("button", name="Base 48").click()
    # What is shown until then is edited until then.
    expect(page.locator(".inspector-head")).to_contain_text("worn by 48 cards")
    page.get_by_role("combobox", name="Card", exact=True).select_option("Round")
    expect(page.locator(STRIP)).to_contain_text("size")
    expect(page.locator(".plan-cut")).to_have_attribute(
        "d", "M0 31.75a31.75 31.75 0 1 1 63.5 0a31.75 31.75 0 1 1 -63.5 0Z"
    )
    page.get_by_role("combobox", name="Measured in").select_option("in")
    expect(page.get_by_label("Wide, in")).to_have_value("2.5")
    page.get_by_role("combobox", name="For cards by").select_option(label="Border")
    page.get_by_role("combobox", name="Value", exact=True).select_option(label="Damp")
    expect(page.locator(".inspector-name")).to_have_value("Damp")
    page.goto(f"{server.url}/{GAME}/rules")
    page.get_by_label("New card type", exact=True).fill("Seed packet")
    page.keyboard.press("Enter")
    expect(page.locator(".rules-title")).to_contain_text("Seed packet")
    faces(page, server)
    page.get_by_role("button", name="Plan of its own").click()
    page.get_by_label("A plan of its own for").select_option(label="Seed packet")
    expect(page.locator(".strip-said")).to_contain_text("No card wears this plan yet")
    expect(page.locator(".plan-face")).to_contain_text("Some Seed packet")


def test_a_face_is_taken_as_a_picture_and_a_page_at_its_true_size(page: Page, server: Server):
    faces(page, server, "?card=c-ribbon-season-rs-001")
    with page.expect_download() as got:
        page.get_by_role("link", name="PNG").click()
    picture = Image.open(io.BytesIO(got.value.path().read_bytes()))
    assert got.value.suggested_filename == "RS-001.png" and picture.size == (750, 1050)
    with page.expect_download() as got:
        page.get_by_role("link", name="PDF").click()
    assert got.value.path().read_bytes().startswith(b"%PDF")


@pytest.mark.parametrize("scheme", ["light", "dark"])
def test_the_faces_room_fits_and_has_nothing_grave(page: Page, server: Server, scheme: str):
    page.emulate_media(color_scheme=scheme)
    faces(page, server)
    layer(page, "Effect").click()
    assert grave_faults(page) == []
    assert page.evaluate("document.documentElement.scrollWidth <= innerWidth")
    page.get_by_role("tab", name="Proof of all").click()
    page.goto(f"{server.url}/{GAME}/rules?at=keywords:all")
    page.get_by_label("New keyword").fill("take")
    page.keyboard.press("Enter")
    page.get_by_label("take: reminder").fill("Into your hand.")
    page.keyboard.press("Enter")
    expect(page.locator(STRIP)).to_contain_text("keywords")
    assert grave_faults(page) == []
    assert page.locator(FACE).count() == 0
