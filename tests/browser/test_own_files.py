"""A game's own symbols and fonts on screen: imported, used, drawn the same by the browser and the other painters, found, undone."""

from __future__ import annotations

import io
from pathlib import Path

from PIL import Image, ImageChops, ImageStat
from playwright.sync_api import Page, expect

from dramok.formats.own_fonts import read_font
from tests.browser.conftest import GAME, Server
from tests.browser.test_journey import FACE, STRIP
from tests.formats.fonts import made_font

SUN = b'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 100 50"><rect width="100" height="50" fill="#0000ff"/></svg>'
MAIDENHAIR = f"c-{GAME}-rs-003"
HEAD = (0.16, 0.02, 0.97, 0.11)
"""Where the name of a card is, as shares of its width and height."""


def files(tmp_path: Path, **data: bytes) -> list[Path]:
    made = []
    for name, held in data.items():
        made.append(tmp_path / name.replace("__", "."))
        made[-1].write_bytes(held)
    return made


def head_of(picture: bytes) -> Image.Image:
    image = Image.open(io.BytesIO(picture)).convert("RGB").resize((600, 840))
    left, top, right, foot = HEAD
    return image.crop((int(left * 600), int(top * 840), int(right * 600), int(foot * 840)))


def test_a_symbol_and_a_font_are_imported_used_found_and_undone(page: Page, server: Server, tmp_path: Path):
    page.goto(f"{server.url}/{GAME}/rules?at=game:symbols")
    symbols, fonts = page.get_by_role("region", name="Symbols", exact=True), page.get_by_role("region", name="Fonts", exact=True)
    expect(symbols).to_contain_text("No symbols of your own yet.")
    good, bad = files(tmp_path, big_sun__svg=SUN, note__png=b"hello")
    symbols.locator("input[type=file]").set_input_files([good, bad])
    expect(symbols.get_by_role("alert")).to_contain_text("note.png: this is not a picture")
    line = symbols.get_by_role("listitem", name="big sun")
    expect(line).to_contain_text("{own-big-sun}")
    line.get_by_label("License").fill("Drawn by Ada, CC BY")
    line.get_by_label("License").press("Enter")
    expect(page.locator(".saved")).to_have_text("All saved")
    boxes, wrong = files(tmp_path, boxes__woff2=made_font(flavor="woff2", letters="Cistern Madhoplwvgu 0123456789"), notes__ttf=b"hello")
    fonts.locator("input[type=file]").set_input_files([boxes, wrong])
    expect(fonts.get_by_role("alert")).to_contain_text("notes.ttf: this is not a font — choose a TTF, OTF, WOFF or WOFF2 file")
    held = fonts.get_by_role("listitem", name="Boxes of ours")
    expect(held.get_by_label("License")).to_have_value("2026 Nobody Use it freely")
    held.get_by_label("Names", exact=True).check()
    expect(page.locator(STRIP)).to_contain_text("96 faces re-laid")
    # The resource is shown by the symbol in the text of a card.
    page.goto(f"{server.url}/{GAME}/rules?at=game:resources")
    page.get_by_role("listitem", name="Water").get_by_label("Symbol").select_option(label="big sun")
    expect(page.locator(".saved")).to_have_text("All saved")
    page.goto(f"{server.url}/{GAME}/cards?card={MAIDENHAIR}")
    image = page.locator(f"{FACE} [data-field=effect] image").first
    expect(image).to_be_visible()
    box = image.bounding_box()
    assert box and abs(box["width"] - 2 * box["height"]) < 1, "it is shown whole, twice as wide as high"
    title = page.locator(f"{FACE} [data-field=name] text").first
    assert title.get_attribute("font-family") == f"Dramok own-{read_font(boxes.read_bytes()).sha[:20]}"
    # Found by name, by kind, by what it is for.
    for typed, found in (("big sun", "big sun"), ("font boxes", "Boxes of ours"), ("woff2", "Symbols and fonts")):
        page.keyboard.press("Control+k")
        page.get_by_role("dialog").get_by_role("combobox").fill(typed)
        expect(page.locator(".find-item").first).to_contain_text(found)
        page.keyboard.press("Escape")
        page.keyboard.press("Escape")
    page.get_by_role("button", name="Undo").first.click()
    expect(page.locator(f"{FACE} [data-field=effect] image")).to_have_count(0)
    page.get_by_role("button", name="Undo").first.click()
    expect(title).to_have_attribute("font-family", "Dramok Name")


def test_the_page_and_the_png_draw_the_same_letters_of_an_imported_font(page: Page, server: Server, tmp_path: Path):
    page.goto(f"{server.url}/{GAME}/rules?at=game:symbols")
    fonts = page.get_by_role("region", name="Fonts", exact=True)
    fonts.locator("input[type=file]").set_input_files(files(tmp_path, boxes__otf=made_font(cubic=True, letters="Cistern Madhoplwvgu 0123456789")))
    fonts.get_by_role("listitem", name="Boxes of ours").get_by_label("Names", exact=True).check()
    expect(page.locator(STRIP)).to_contain_text("96 faces re-laid")
    png = page.request.get(f"{server.url}/api/games/{GAME}/cards/{MAIDENHAIR}/face.png?side=front&dpi=300").body()
    page.goto(f"{server.url}/{GAME}/cards?card={MAIDENHAIR}")
    page.locator(".pane-face svg.face").wait_for()
    page.get_by_role("button", name="Enlarge").click()
    large = page.get_by_role("dialog").locator("svg.face")
    large.wait_for()
    page.evaluate("document.fonts.ready.then(() => true)")
    drawn = head_of(large.screenshot())
    apart = ImageStat.Stat(ImageChops.difference(drawn, head_of(png))).mean
    assert max(apart) < 12, apart
