"""The three painters draw the same: SVG in Chromium, PNG by resvg, PDF by reportlab, compared edge by edge at 300 dpi."""

from __future__ import annotations

import base64
import io
import re
from pathlib import Path as FilePath

import pypdfium2
import pytest
from PIL import Image, ImageChops, ImageStat

from dramok.core.faces import Art, Circle, Clip, Face, Path, Rect, Segment, Size, Text, Turn
from dramok.core.faces.plan.sizes import rounded
from dramok.formats.font_files import font_files, load_typefaces
from dramok.formats.pdf import faces_pdf
from dramok.formats.png import face_png, many_png, pixels
from dramok.formats.svg import FAMILIES, printed_svg
from dramok.services.cards.card_detail import back_face, detail_of
from dramok.services.faces.drawing import Drawings
from tests.browser.conftest import context_of

CARD = Size(width=63.5, height=88.9)
BLACK, DPI = "#000000", 300
SHA = "d" * 64


def picture() -> dict[str, tuple[str, bytes]]:
    out = io.BytesIO()
    Image.new("RGB", (300, 200), "#000000").save(out, "PNG")
    return {SHA: ("image/png", out.getvalue())}


def words(x: float, y: float, text: str, font: str, size: float) -> Text:
    """A run as the layout gives it: with the place of each word."""
    face, at, starts = load_typefaces()[font], x, []
    for word in text.split():
        starts.append(at)
        at += face.width(word, size) + face.width(" ", size)
    return Text(x, y, text, font, size, BLACK, tuple(starts))


ELEMENTS = {
    "rect": Rect(10.03, 12.07, 31.4, 9.3, BLACK),
    "round rect": Rect(10, 12, 30, 20, BLACK, 4),
    "circle": Circle(30.3, 40.2, 7.7, BLACK),
    "line": Segment(8, 20, 50, 33.3, BLACK, 0.5),
    "filled path": Path("M10 10Q30 5 40 30C35 50 20 40 12 33A5 5 0 0 1 10 20Z", BLACK),
    "moved path": Path(load_typefaces().symbols["drop"], BLACK, 20, 30, 20 / 256),
    "stroked path": Path("M10 10h20v15l-8 9", None, stroke=BLACK, width=1.2),
    "name": Text(5, 30, "AVATAR Wolf Tofu", "name", 6.4, BLACK),
    "kerned": words(5, 30, "To. Yawning fi ffl AVY, we're 11-17 and on", "body", 3.45),
    "italic": Text(5, 30, "fjord, quietly afoot", "italic", 4, BLACK),
    "figures": Text(5, 30, "1234567890 × ½", "figures", 5, BLACK),
    "stand-in": Text(5, 30, "Ωμέγα ☀ Ж □", "rest", 4, BLACK),
    "picture": Art(10, 10, 30, 20, SHA, (6, 4, 45, 30)),
    "picture without measures": Art(10, 10, 20, 30, SHA),
    "clipped": Clip(rounded(10, 10, 30, 20, 6), (Rect(0, 0, 60, 80, BLACK),)),
    "turned": Turn(90, 30, 40, (Text(10, 41, "Weather", "figures", 5, BLACK), Rect(12, 44, 20, 3, BLACK))),
}  # fmt: skip


def face(element) -> Face:
    return Face(CARD, (Rect(-5, -5, 80, 100, "#ffffff"), element), ())


def in_chromium(browser, documents: list[str]) -> list[Image.Image]:
    fonts = "".join(
        f'@font-face {{ font-family: "{FAMILIES[name]}"; src: url(data:font/ttf;base64,{base64.b64encode(FilePath(path).read_bytes()).decode()}) }}'
        for name, path in font_files().items()
    )
    wide = round(CARD.width / 25.4 * DPI)
    page = context_of(browser, viewport={"width": 900, "height": 1200}).new_page()
    found = []
    page.set_content(
        f"<style>{fonts} body {{ margin: 0; background: #fff }} svg {{ display: block }}</style><main></main>"
    )
    for document in documents:
        shown = re.sub(r'width="[\d.]+mm" height="[\d.]+mm"', f'width="{wide}"', document, count=1)
        page.evaluate("svg => { document.querySelector('main').innerHTML = svg }", shown)
        page.evaluate("document.fonts.ready.then(() => true)")
        found.append(Image.open(io.BytesIO(page.locator("svg").first.screenshot())).convert("L"))
    page.close()
    return found


def in_pdf(faces: list[Face], art) -> list[Image.Image]:
    document = pypdfium2.PdfDocument(faces_pdf(faces, art))
    return [document[number].render(scale=DPI / 72).to_pil().convert("L") for number in range(len(faces))]


def in_png(faces: list[Face], art) -> list[Image.Image]:
    drawn = []
    for each in faces:
        image = Image.open(io.BytesIO(face_png(each, pixels(each, DPI), art))).convert("RGBA")
        paper = Image.new("RGBA", image.size, "#ffffff")
        paper.alpha_composite(image)
        drawn.append(paper.convert("L"))
    return drawn


def edges(image: Image.Image) -> tuple[int, int, int, int]:
    """Where the dark begins and ends: left, top, right, bottom."""
    found = image.point(lambda value: 255 if value < 128 else 0).getbbox()
    assert found is not None, "nothing was drawn"
    return found


def test_no_marks_edge_differs_by_more_than_a_pixel(chromium):
    art, faces = picture(), [face(element) for element in ELEMENTS.values()]
    drawn = (
        in_chromium(chromium, [printed_svg(each, art) for each in faces]),
        in_png(faces, art),
        in_pdf(faces, art),
    )
    for name, *three in zip(ELEMENTS, *drawn, strict=True):
        boxes = [edges(each) for each in three]
        apart = [max(side) - min(side) for side in zip(*boxes, strict=True)]
        assert max(apart) <= 1, f"{name}: {boxes}"


def test_whole_faces_of_the_demo_look_alike(chromium, workspace):
    cards = [
        next(card for card in workspace.game(game).cards.values() if card.type == kind)
        for game, kind in (("ribbon-season", "plant"), ("ribbon-season", "tool"), ("potting-shed", "seedling"), ("crowded-bed", "fixture"))
    ]  # fmt: skip
    games = ("ribbon-season", "ribbon-season", "potting-shed", "crowded-bed")
    faces = [detail_of(workspace.game(game), card).face for game, card in zip(games, cards, strict=True)]
    faces.append(back_face(workspace.game("ribbon-season"), cards[0]))
    png, pdf = in_png(faces, {}), in_pdf(faces, {})
    for one, other in zip(png, pdf, strict=True):
        size = (min(one.width, other.width), min(one.height, other.height))
        assert abs(one.width - other.width) <= 1 and abs(one.height - other.height) <= 1
        apart = ImageStat.Stat(
            ImageChops.difference(one.crop((0, 0, *size)), other.crop((0, 0, *size)))
        ).mean[0]
        assert apart < 4, "of 255 grey steps, mean over the face"


def test_a_pdf_has_the_cards_true_size_and_only_the_letters_it_uses(workspace):
    game = workspace.game("ribbon-season")
    faces = [detail_of(game, card).face for card in list(game.cards.values())[:3]]
    data = faces_pdf([*faces, *faces], {})
    document = pypdfium2.PdfDocument(data)
    wide, high = document[0].get_size()
    assert (wide / 72 * 25.4, high / 72 * 25.4) == (
        pytest.approx(63.5, abs=0.01),
        pytest.approx(88.9, abs=0.01),
    )
    wide, high = pypdfium2.PdfDocument(faces_pdf(faces[:1], {}, bleed=True))[0].get_size()
    assert (wide / 72 * 25.4, high / 72 * 25.4) == (
        pytest.approx(69.5, abs=0.01),
        pytest.approx(94.9, abs=0.01),
    )
    assert faces_pdf([*faces, *faces], {}) == data, "the same elements give the same bytes"
    assert len(data) < len(faces_pdf(faces, {})) * 1.1, "copies are drawn once"
    assert len(re.findall(rb"/FontFile2", data)) >= 3 and len(data) < 400_000


def test_many_drawn_in_two_processes_are_as_drawn_one_by_one(workspace):
    game = workspace.game("crowded-bed")
    documents = [printed_svg(detail_of(game, card).face, {}) for card in list(game.cards.values())[:14]]
    assert list(many_png(documents, 120, 2)) == list(many_png(documents, 120, 1))


def test_a_drawing_is_shared_dropped_when_there_is_no_room_and_never_kept_when_it_fails():
    from concurrent.futures import ThreadPoolExecutor
    from threading import Barrier, Event

    drawings, made, go = Drawings(most_bytes=25), [], Event()

    def draw(name):
        def work():
            made.append(name)
            go.wait(5)
            return name.encode() * 10

        return work

    both = Barrier(4)

    def ask(name):
        both.wait(5)
        return drawings.get((name,), draw(name))

    with ThreadPoolExecutor(4) as pool:
        asked = [pool.submit(ask, name) for name in "aaab"]
        go.set()
        assert sorted(each.result() for each in asked) == [b"a" * 10] * 3 + [b"b" * 10]
    assert sorted(made) == ["a", "b"], "three who ask at once share one drawing"
    drawings.get(("c",), draw("c"))
    for name in "ab":
        drawings.get((name,), draw(name))
    assert sorted(made) in (["a", "a", "b", "b", "c"], ["a", "a", "b", "c"], ["a", "b", "b", "c"]), (
        "the oldest made room"
    )
    with pytest.raises(RuntimeError):
        drawings.get(("d",), lambda: (_ for _ in ()).throw(RuntimeError("no")))
    assert drawings.get(("d",), draw("d")) == b"d" * 10
