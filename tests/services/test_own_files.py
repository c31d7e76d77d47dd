"""Symbols and fonts of a game's own: on faces and in texts, in every painter, in archives, and kept while something uses them."""

from __future__ import annotations

import io

import pypdfium2
import pytest
from PIL import Image, ImageChops, ImageStat

from dramok.core.faces.elements import Art, Clip, Element, Field, Text, Turn
from dramok.formats.pdf import faces_pdf
from dramok.formats.png import face_png
from dramok.formats.svg import face_svg
from dramok.services import Missing, Refused
from dramok.services.cards.card_detail import sheet_of
from dramok.services.cards.cells import CellEdit, write_cells
from dramok.services.faces.own_files import font_bytes, keep_font
from dramok.services.faces.pictures import bring_pictures, keep_picture, listed
from dramok.services.files.archive import archive, restore_game
from dramok.services.history.undo import undo
from dramok.services.rules.card_types import write_type
from dramok.services.rules.rule_parts import write_rules
from tests.conftest import GAME
from tests.formats.fonts import made_font
from tests.services.test_pictures import picture

MAIDENHAIR = f"c-{GAME}-rs-003"
"""Its text is: As it comes up: gain 2 {water}."""


def flat(elements) -> list[Element]:
    found: list[Element] = []
    for each in elements:
        found += flat(each.elements) if isinstance(each, Field | Clip | Turn) else [each]
    return found


def face(desk, game=GAME, card=MAIDENHAIR):
    now = desk.game(game)
    return sheet_of(now, now.cards[card]).face


def with_symbol(desk, colour="red", **more):
    sha = keep_picture(desk, picture(colour))
    write_rules(desk, GAME, "symbols", [{"id": "own-sun", "name": "Sun", "art": sha, "license": "Drawn by Ada", **more}], None, "one")
    return sha


def with_font(desk, uses=("name",), **more):
    read = keep_font(desk, made_font(**more))
    write_rules(desk, GAME, "fonts", [{"id": "own-boxes", "name": "Boxes", "file": read.sha, "license": read.license, "uses": list(uses)}], None, "one")
    return read


def test_a_symbol_stands_for_a_resource_and_in_texts(desk):
    sha = with_symbol(desk)
    before = [each for each in flat(face(desk).elements) if isinstance(each, Art)]
    resources = desk.game(GAME).rules["resources"]
    write_rules(desk, GAME, "resources", [{**each, "symbol": "own-sun"} if each["id"] == "water" else each for each in resources], None, "one")
    inline = [each for each in flat(face(desk).elements) if isinstance(each, Art)]
    assert not before and [each.sha for each in inline] == [sha], "gain 2 water is written with it"
    assert f"/api/art/{sha}" in face_svg(face(desk), "x")
    write_cells(desk, GAME, [CellEdit(MAIDENHAIR, "printed", "Two {own-sun} and {own-sun}.")], desk.game(GAME).seq, "one")
    assert [each.sha for each in flat(face(desk).elements) if isinstance(each, Art)] == [sha, sha]
    undo(desk, GAME, "one")
    undo(desk, GAME, "one")
    assert not [each for each in flat(face(desk).elements) if isinstance(each, Art)]


def test_a_symbol_stands_for_a_stat_on_its_plate_and_for_a_choice(desk):
    sha = with_symbol(desk)
    kinds = {each.id: each for each in desk.game(GAME).rulebook.cards.types}
    plant = kinds["plant"].model_dump(mode="json", exclude_none=True)
    fields = [{**each, "symbol": "own-sun"} if each["id"] == "height" else each for each in plant["fields"]]
    write_type(desk, GAME, {**plant, "fields": fields}, desk.game(GAME).seq, "one")
    shown = [each for each in flat(face(desk).elements) if isinstance(each, Art)]
    assert [(each.sha, round(each.width, 2)) for each in shown] == [(sha, 3.8)]


def test_a_symbol_that_something_uses_is_not_removed(desk):
    with_symbol(desk)
    resources = desk.game(GAME).rules["resources"]
    write_rules(desk, GAME, "resources", [{**resources[0], "symbol": "own-sun"}, *resources[1:]], None, "one")
    with pytest.raises(Refused) as refused:
        write_rules(desk, GAME, "symbols", [], None, "one")
    assert refused.value.problem.what == f"Sun is used by the resource {resources[0]['name']}"
    write_rules(desk, GAME, "resources", resources, None, "one")
    write_cells(desk, GAME, [CellEdit(MAIDENHAIR, "printed", "A {own-sun}.")], desk.game(GAME).seq, "one")
    with pytest.raises(Refused, match="used by Cistern Maidenhair"):
        write_rules(desk, GAME, "symbols", [], None, "one")
    write_cells(desk, GAME, [CellEdit(MAIDENHAIR, "printed", "")], desk.game(GAME).seq, "one")
    write_rules(desk, GAME, "symbols", [], None, "one")
    assert desk.game(GAME).rulebook.symbols == ()


@pytest.mark.parametrize(
    ("part", "value", "what"),
    [
        ("symbols", [{"id": "own-a", "name": "A", "art": "0" * 64}], "the file of A is not there"),
        ("symbols", [{"id": "coin", "name": "A", "art": "0" * 64}], "String should match pattern"),
        ("fonts", [{"id": "own-a", "name": "A", "file": "0" * 64}], "the file of A is not there"),
        ("fonts", [{"id": "own-a", "name": "A", "file": "../etc"}], "String should match pattern"),
        ("symbols", "everything", "Input should be a valid"),
    ],
)  # fmt: skip
def test_what_the_rules_can_not_say_is_refused(desk, part, value, what):
    seq = desk.game(GAME).seq
    with pytest.raises(Refused) as refused:
        write_rules(desk, GAME, part, value, None, "one")
    assert refused.value.problem.what.startswith(what) and desk.game(GAME).seq == seq


def test_a_picture_is_no_font_and_a_font_no_symbol(desk):
    sha, read = keep_picture(desk, picture("blue")), keep_font(desk, made_font())
    with pytest.raises(Refused, match="the file of A is not there"):
        write_rules(desk, GAME, "fonts", [{"id": "own-a", "name": "A", "file": sha}], None, "one")
    with pytest.raises(Refused, match="the file of A is not there"):
        write_rules(desk, GAME, "symbols", [{"id": "own-a", "name": "A", "art": read.sha}], None, "one")
    with pytest.raises(Missing):
        font_bytes(desk, sha)
    assert font_bytes(desk, read.sha) == read.data


def test_two_fonts_have_no_use_in_common_and_no_two_names_are_alike(desk):
    one, other = keep_font(desk, made_font()), keep_font(desk, made_font(wide=700))
    fonts = [{"id": "own-a", "name": "A", "file": one.sha, "uses": ["name"]}, {"id": "own-b", "name": "B", "file": other.sha, "uses": ["name"]}]
    with pytest.raises(Refused, match="two fonts have the same use"):
        write_rules(desk, GAME, "fonts", fonts, None, "one")
    with pytest.raises(Refused, match="two fonts have the same name"):
        write_rules(desk, GAME, "fonts", [{**each, "name": "Same", "uses": []} for each in fonts], None, "one")


def test_names_are_set_and_measured_in_the_font_and_what_it_lacks_in_the_usual_one(desk):
    read = with_font(desk, letters="Cistern Mad")
    own = f"own-{read.sha[:20]}"
    texts = [(each.text, each.font) for each in flat(face(desk).elements) if isinstance(each, Text)]
    assert ("air", own) in texts and any(font == own and text.endswith("Maiden") for text, font in texts)
    assert ("h", "name") in texts, "what the font lacks is set in the usual one"
    assert ("2", "figures") in texts, "numbers stay as they were"


def close(one: Image.Image, other: Image.Image) -> float:
    """How much two pictures of a card differ, 0 to 255 on average."""
    return ImageStat.Stat(ImageChops.difference(one.convert("RGB"), other.convert("RGB").resize(one.size))).mean[0]


def test_pdf_and_png_draw_the_same_letters_of_a_font_of_ones_own(desk):
    """The page draws them, too: see tests/browser/test_own_files.py."""
    plain = Image.open(io.BytesIO(face_png(face(desk), 600, {})))
    with_font(desk, uses=("name", "body"))
    drawn = face(desk)
    png = Image.open(io.BytesIO(face_png(drawn, 600, {})))
    page = pypdfium2.PdfDocument(faces_pdf([drawn], {}))[0]
    pdf = page.render(scale=600 / page.get_width()).to_pil()
    head = (110, 20, 580, 120)
    assert close(png.crop(head), pdf.crop(head)) < 6 < close(png.crop(head), plain.crop(head))


@pytest.mark.parametrize("shared", [False, True])
def test_archives_hold_symbols_and_fonts_with_their_license_lines(desk, shared):
    sha, read = with_symbol(desk), with_font(desk)
    again = restore_game(desk, archive(desk, desk.game(GAME), shared=shared, worths=shared), "Again")
    symbol, font = again.rulebook.symbols[0], again.rulebook.fonts[0]
    assert (symbol.name, symbol.license, font.name, font.license) == ("Sun", "Drawn by Ada", "Boxes", "2026 Nobody Use it freely")
    assert font.file == read.sha and (shared or symbol.art == sha)
    assert again.typefaces["name"].name == font.face and symbol.art in again.art
    assert not shared or desk.store.art(symbol.art) is not None


def test_pictures_of_symbols_count_as_used(desk):
    sha = with_symbol(desk)
    bring_pictures(desk, GAME, [("sun.png", picture("red"))])
    found = {each.sha: each.elsewhere for each in listed(desk, desk.game(GAME))[0]}
    assert found == {sha: True}
