"""Decks judged, effects said, faces laid out."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from dramok.core.cards import Card
from dramok.core.decks import Deck, Format, legality
from dramok.core.faces import Field, Picture, Text, lay_out
from dramok.core.faces.text import LEADING, fit_lines, fit_one_line, wrap
from dramok.core.wording import printed_text
from dramok.formats.fontfiles import load_typefaces
from dramok.formats.svg import face_svg
from tests.core.invented import RULEBOOK, VOCABULARY, card

FORMAT = Format(
    id="f", name="Duel", least_cards=5, most_cards=6, copies=3, copies_by_rarity={"rare": 1}, most_factions=1
)
POOL = {
    each.id: each
    for each in (card("Fern", bed="fern"), card("Moss", bed="moss"), card("Rare", bed="fern", rarity="rare"))
}


@pytest.mark.parametrize(
    ("cards", "said"),
    [
        ({"Fern": 3, "Rare": 1}, ["4 cards; the least is 5 -> add 1"]),
        ({"Fern": 5}, ["5 of Fern; the most is 3 -> take 2 out"]),
        ({"Fern": 3, "Rare": 2}, ["2 of Rare; the most is 1 -> take 1 out"]),
        ({"Fern": 3, "Moss": 2}, ["2 beds (Fern, Wet Moss); the most is 1 -> take out the 2 of Wet Moss"]),
        (
            {"Fern": 3, "Gone": 4},
            ["7 cards; the most is 6 -> take 1 out", "this card is gone from the game -> take it out"],
        ),
    ],
)
def test_legality_says_what_and_the_mend(cards, said):
    assert [
        f"{p.what} -> {p.mend}" for p in legality(Deck("d", "Deck", cards), POOL, RULEBOOK, FORMAT)
    ] == said


@pytest.mark.parametrize(
    ("effect", "said"),
    [
        ("upon play this: draw 1", "Draw 1 card."),
        ("upon enter this: draw 2; discard 1", "On arrival: draw 2 cards. Discard 1 card."),
        ("upon play this: deal 2 to pick other", None),
        ("upon play this: deal 2 to pick own plant [other]", "2 blight to another plant of yours."),
        ("upon play this: deal 1 to pick 0..2 rival card", "1 blight to up to 2 cards of a rival."),
        ("upon leave this: gain 3 water; lose 1 ribbon", "On leaving: gain 3 {water}. Lose 1 {ribbon}."),
        ("upon play this: restore 1 to all own plant [bed is Fern, not tag climber, reach above 2]", "Heal 1 from each Fern non-climber plant of yours with reach above 2."),
        ("always: raise root of this by count (own plant [other])", "Root +1 for each other plant of yours."),
    ],
)  # fmt: skip
def test_printed_text_follows_from_the_effect(effect, said):
    if said is None:
        with pytest.raises(AssertionError):
            card("Wrong", effect)
        return
    text = printed_text(card("One", effect, "weather"), RULEBOOK, VOCABULARY)
    assert (text.lines, text.overridden, text.behaviour_written) == ((said,), False, True)


def test_own_words_stand_instead_and_alone_they_do_not_play():
    own = printed_text(card("One", "upon play this: draw 1", printed="Take a card."), RULEBOOK, VOCABULARY)
    prose = printed_text(card("Two", printed="Take a card."), RULEBOOK, VOCABULARY)
    assert (own.lines, own.overridden, own.behaviour_written) == (("Take a card.",), True, True)
    assert not prose.behaviour_written


WIDEST = 3.2
"""One wide letter at 3 mm: a line can't be narrower than that."""


def face_of(each: Card):
    return lay_out(each, RULEBOOK, printed_text(each, RULEBOOK, VOCABULARY), load_typefaces())


def test_a_face_depends_on_all_that_it_shows_and_on_nothing_else():
    plain = face_of(card("Plain", reach=2))
    assert plain.digest == face_of(card("Plain", reach=2)).digest != face_of(card("Plain", reach=3)).digest
    assert {mark.field for mark in plain.marks if isinstance(mark, Field)} >= {
        "name",
        "cost",
        "reach",
        "root",
        "effect",
        "rarity",
    }
    weather = face_of(card("Plain", kind="weather"))
    assert "reach" not in {mark.field for mark in weather.marks if isinstance(mark, Field)}
    pictures = {
        card_id: next(
            mark.recipe.draw()
            for mark in face_of(Card(card_id, "X", "s", "plant")).marks
            if isinstance(mark, Picture)
        )
        for card_id in "abc"
    }
    assert len(set(pictures.values())) == 3


@pytest.mark.parametrize(
    "name", ["N" * 10_000, "نبات الظل العريق", "🌿🌿 <script>alert(1)</script> & \x00", ""]
)
def test_hostile_names_are_cut_or_shown_as_text(name):
    face = face_of(card("Any", printed="long words " * 300).with_value("name", name))
    svg = face_svg(face, name)
    assert "<script" not in svg and "\x00" not in svg
    assert "the text does not fit the face" in [problem.what for problem in face.problems]
    assert any("name is too long" in problem.what for problem in face.problems) == (len(name) > 1000)
    shown = [
        mark
        for field in face.marks
        if isinstance(field, Field)
        for mark in field.marks
        if isinstance(mark, Text)
    ]
    assert all(load_typefaces()[mark.font].width(mark.text, mark.size) < 50 for mark in shown)


@given(
    st.lists(
        st.text(st.characters(categories=["L", "N", "P"]), min_size=1, max_size=60), min_size=1, max_size=40
    ),
    st.floats(12, 60),
)
def test_no_line_is_wider_than_its_box_and_no_word_is_lost(words, width):
    face, text = load_typefaces()["body"], " ".join(word.replace("{", "(") for word in words)
    lines = wrap(text, {"": face}, width, 3.0)
    assert "".join(run.text for line in lines for run in line).replace(" ", "") == text.replace(" ", "")
    assert all(face.width(line[-1].text, 3.0) + line[-1].x <= max(width * 1.01, WIDEST) for line in lines)
    fitted = fit_lines([text], face, width, 20, 3.4, 2.2)
    assert len(fitted.lines) * fitted.size * LEADING <= 20.01
    cut, size, _ = fit_one_line(text, face, width, 5, 2.5)
    assert face.width(cut, size) <= width * 1.001
