"""A game's own symbols and fonts: on faces and in texts, in every painter, in archives, and kept while in use."""

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
from dramok.services.cards.card_detail import detail_of
from dramok.services.cards.cells import CellEdit, write_cells
from dramok.services.faces.own_files import font_bytes, store_font
from dramok.services.faces.pictures import add_pictures, listed, store_picture
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


def face(workspace, game=GAME, card=MAIDENHAIR):
    now = workspace.game(game)
    return detail_of(now, now.cards[card]).face


def with_symbol(workspace, colour="red", **more):
    sha = store_picture(workspace, picture(colour))
    write_rules(workspace, GAME, "symbols", [{"id": "own-sun", "name": "Sun", "art": sha, "license": "Drawn by Ada", **more}], None, "one")
    return sha


def with_font(workspace, uses=("name",), **more):
    read = store_font(workspace, made_font(**more))
    write_rules(workspace, GAME, "fonts", [{"id": "own-boxes", "name": "Boxes", "file": read.sha, "license": read.license, "uses": list(uses)}], None, "one")
    return read


def test_a_symbol_replaces_a_resource_on_faces_and_in_texts(workspace):
    sha = with_symbol(workspace)
    before = [each for each in flat(face(workspace).elements) if isinstance(each, Art)]
    resources = workspace.game(GAME).rules["resources"]
    write_rules(workspace, GAME, "resources", [{**each, "symbol": "own-sun"} if each["id"] == "water" else each for each in resources], None, "one")
    inline = [each for each in flat(face(workspace).elements) if isinstance(each, Art)]
    assert not before and [each.sha for each in inline] == [sha], "gain 2 water is written with it"
    assert f"/api/art/{sha}" in face_svg(face(workspace), "x")
    write_cells(workspace, GAME, [CellEdit(MAIDENHAIR, "printed", "Two {own-sun} and {own-sun}.")], workspace.game(GAME).seq, "one")
    assert [each.sha for each in flat(face(workspace).elements) if isinstance(each, Art)] == [sha, sha]
    undo(workspace, GAME, "one")
    undo(workspace, GAME, "one")
    assert not [each for each in flat(face(workspace).elements) if isinstance(each, Art)]


def test_a_symbol_replaces_a_stat_on_its_plate_and_a_choice(workspace):
    sha = with_symbol(workspace)
    kinds = {each.id: each for each in workspace.game(GAME).rulebook.cards.types}
    plant = kinds["plant"].model_dump(mode="json", exclude_none=True)
    fields = [{**each, "symbol": "own-sun"} if each["id"] == "height" else each for each in plant["fields"]]
    write_type(workspace, GAME, {**plant, "fields": fields}, workspace.game(GAME).seq, "one")
    shown = [each for each in flat(face(workspace).elements) if isinstance(each, Art)]
    assert [(each.sha, round(each.width, 2)) for each in shown] == [(sha, 3.8)]


def test_a_symbol_that_something_uses_is_not_removed(workspace):
    with_symbol(workspace)
    resources = workspace.game(GAME).rules["resources"]
    write_rules(workspace, GAME, "resources", [{**resources[0], "symbol": "own-sun"}, *resources[1:]], None, "one")
    with pytest.raises(Refused) as refused:
        write_rules(workspace, GAME, "symbols", [], None, "one")
    assert refused.value.problem.what == f"Sun is used by the resource {resources[0]['name']}"
    write_rules(workspace, GAME, "resources", resources, None, "one")
    write_cells(workspace, GAME, [CellEdit(MAIDENHAIR, "printed", "A {own-sun}.")], workspace.game(GAME).seq, "one")
    with pytest.raises(Refused, match="used by Cistern Maidenhair"):
        write_rules(workspace, GAME, "symbols", [], None, "one")
    write_cells(workspace, GAME, [CellEdit(MAIDENHAIR, "printed", "")], workspace.game(GAME).seq, "one")
    write_rules(workspace, GAME, "symbols", [], None, "one")
    assert workspace.game(GAME).rulebook.symbols == ()


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
def test_what_the_rules_can_not_say_is_refused(workspace, part, value, what):
    seq = workspace.game(GAME).seq
    with pytest.raises(Refused) as refused:
        write_rules(workspace, GAME, part, value, None, "one")
    assert refused.value.problem.what.startswith(what) and workspace.game(GAME).seq == seq


def test_a_picture_is_no_font_and_a_font_no_symbol(workspace):
    sha, read = store_picture(workspace, picture("blue")), store_font(workspace, made_font())
    with pytest.raises(Refused, match="the file of A is not there"):
        write_rules(workspace, GAME, "fonts", [{"id": "own-a", "name": "A", "file": sha}], None, "one")
    with pytest.raises(Refused, match="the file of A is not there"):
        write_rules(workspace, GAME, "symbols", [{"id": "own-a", "name": "A", "art": read.sha}], None, "one")
    with pytest.raises(Missing):
        font_bytes(workspace, sha)
    assert font_bytes(workspace, read.sha) == read.data


def test_two_fonts_have_no_use_in_common_and_no_two_names_are_alike(workspace):
    one, other = store_font(workspace, made_font()), store_font(workspace, made_font(wide=700))
    fonts = [{"id": "own-a", "name": "A", "file": one.sha, "uses": ["name"]}, {"id": "own-b", "name": "B", "file": other.sha, "uses": ["name"]}]
    with pytest.raises(Refused, match="two fonts have the same use"):
        write_rules(workspace, GAME, "fonts", fonts, None, "one")
    with pytest.raises(Refused, match="two fonts have the same name"):
        write_rules(workspace, GAME, "fonts", [{**each, "name": "Same", "uses": []} for each in fonts], None, "one")


def test_names_are_set_and_measured_in_the_font_and_what_it_lacks_in_the_usual_one(workspace):
    read = with_font(workspace, letters="Cistern Mad")
    own = f"own-{read.sha[:20]}"
    texts = [(each.text, each.font) for each in flat(face(workspace).elements) if isinstance(each, Text)]
    assert ("air", own) in texts and any(font == own and text.endswith("Maiden") for text, font in texts)
    assert ("h", "name") in texts, "what the font lacks is set in the usual one"
    assert ("2", "figures") in texts, "numbers stay as they were"


def close(one: Image.Image, other: Image.Image) -> float:
    """How much two pictures of a card differ, 0 to 255 on average."""
    return ImageStat.Stat(ImageChops.difference(one.convert("RGB"), other.convert("RGB").resize(one.size))).mean[0]


def test_pdf_and_png_draw_the_same_letters_of_an_imported_font(workspace):
    """The page draws them, too: see tests/browser/test_own_files.py."""
    plain = Image.open(io.BytesIO(face_png(face(workspace), 600, {})))
    with_font(workspace, uses=("name", "body"))
    drawn = face(workspace)
    png = Image.open(io.BytesIO(face_png(drawn, 600, {})))
    page = pypdfium2.PdfDocument(faces_pdf([drawn], {}))[0]
    pdf = page.render(scale=600 / page.get_width()).to_pil()
    head = (110, 20, 580, 120)
    assert close(png.crop(head), pdf.crop(head)) < 6 < close(png.crop(head), plain.crop(head))


@pytest.mark.parametrize("shared", [False, True])
def test_archives_hold_symbols_and_fonts_with_their_license_lines(workspace, shared):
    sha, read = with_symbol(workspace), with_font(workspace)
    again = restore_game(workspace, archive(workspace, workspace.game(GAME), shared=shared, worths=shared), "Again")
    symbol, font = again.rulebook.symbols[0], again.rulebook.fonts[0]
    assert (symbol.name, symbol.license, font.name, font.license) == ("Sun", "Drawn by Ada", "Boxes", "2026 Nobody Use it freely")
    assert font.file == read.sha and (shared or symbol.art == sha)
    assert again.typefaces["name"].name == font.face and symbol.art in again.art
    assert not shared or workspace.store.art(symbol.art) is not None


def test_pictures_of_symbols_count_as_used(workspace):
    sha = with_symbol(workspace)
    add_pictures(workspace, GAME, [("sun.png", picture("red"))])
    found = {each.sha: each.elsewhere for each in listed(workspace, workspace.game(GAME))[0]}
    assert found == {sha: True}
