"""The proof finds each kind of fault in its place, and none on correct faces; the strip of hardest cards."""

from __future__ import annotations

import pytest

from dramok.core.faces import Size
from dramok.core.faces.layout.card_context import CardContext
from dramok.core.faces.proof.hardest_cards import hardest, measures
from dramok.core.faces.proof.proof import FAULTS, contrast, faults_of
from dramok.core.rulebook import Rulebook
from dramok.core.wording import printed_text
from tests.core.faces.plans import STARTING, at, base, book, face_of, game
from tests.core.invented_world import RULEBOOK, VOCABULARY, card

NAME = {"kind": "text", "field": "name", "lines": 1, "ink": "#111111", "largest": 4, "least": 3}
SHA = "b" * 64


def kinds(face, art=None):
    return [(fault.kind, fault.place) for fault in faults_of(face, art or {})]


def test_a_sound_face_has_no_fault_and_each_fault_is_found():
    assert kinds(face_of(card("Fern", bed="fern", tags=("climber",)))) == []
    under = {"kind": "panel", "fill": "#999999", **at(0, 0, 60, 20)}
    cases = {
        "overflow": ({"a": {**NAME, **at(10, 10, 8, 5)}}, "A name that is long", ("overflow", "a")),
        "small": ({"a": {**NAME, "largest": 1.4, "least": 1.2, **at(10, 10, 40, 5)}}, "Fern", ("small", "a")),
        "edge": ({"a": {**NAME, **at(0.5, 10, 30, 5)}}, "Fern", ("edge", "a")),
        "glyph": ({"a": {**NAME, **at(10, 10, 40, 5)}}, "Fern 🌿", ("glyph", "a")),
        "contrast": (
            {"u": under, "a": {**NAME, "ink": "#777777", **at(10, 10, 40, 5)}},
            "Fern",
            ("contrast", "a"),
        ),
        "collision": (
            {"a": {**NAME, **at(10, 10, 40, 5)}, "b": {**NAME, **at(12, 11, 40, 5)}},
            "Fern",
            ("collision", "a"),
        ),
    }
    for name, (places, title, expected) in cases.items():
        assert kinds(face_of(card("A").with_value("name", title), book(base(**places)))) == [expected], name
    edges = {"kind": "edges", "fields": ["cost"], "inset": 8, **at(0, 0, 60, 80)}
    over = book(base(a={**NAME, "align": "middle", **at(10, 6, 40, 5)}, edges=edges))
    assert kinds(face_of(card("A long enough name", cost=3), over)) == [("collision", "a")]
    hidden = book(
        base(a={**NAME, **at(10, 10, 40, 5)}, over={"kind": "panel", "fill": "#999999", **at(0, 0, 60, 20)})
    )
    (fault,) = faults_of(face_of(card("Fern"), hidden), {})
    assert (fault.kind, fault.what) == ("collision", "over hides a part of it")
    assert set(cases) | {"picture", "coarse"} == set(FAULTS)


def test_pictures_that_are_missing_awaited_or_too_coarse_are_found():
    rules = RULEBOOK.model_dump(mode="json")
    rules["cards"]["types"][0]["fields"].append({"id": "art", "name": "Art", "kind": "picture"})
    rulebook = Rulebook.model_validate(rules)
    worn = book(
        base(art={"kind": "picture", "field": "art", "stand_in": False, **at(5, 5, 50.8, 25.4)}),
        rulebook=rulebook,
    )
    art = {SHA: (600, 300), "c" * 64: (560, 280)}

    def found(value):
        face = face_of(card("A").with_value("art", value), worn, art)
        return [(fault.kind, fault.what) for fault in faults_of(face, art)]

    assert found(None) == [("picture", "there is no picture")]
    assert found("fern.png") == [("picture", "missing: fern.png")]
    assert found(SHA) == [], "600 pixels on 50.8 mm are 300 to the inch"
    assert found("c" * 64) == [("coarse", "280 dots an inch in print")]
    zoomed = face_of(card("A").with_value("art", SHA).with_value("look/art", "zoom 2"), worn, art)
    assert [fault.what for fault in faults_of(zoomed, art)] == ["150 dots an inch in print"]


def test_an_adjusted_size_below_the_minimum_of_the_plan_is_a_fault_and_a_reset_fixes_it():
    worn = book(base(a={**NAME, **at(10, 10, 40, 5)}))
    assert kinds(face_of(card("Fern").with_value("look/a", "size 2.5"), worn)) == [("small", "a")]
    assert kinds(face_of(card("Fern"), worn)) == []


@pytest.mark.parametrize(
    ("one", "other", "ratio"),
    [("#000000", "#ffffff", 21), ("#777777", "#ffffff", 4.48), ("#123456", "#123456", 1)],
)
def test_contrast_is_that_of_the_standard(one, other, ratio):
    assert contrast(one, other) == contrast(other, one) == pytest.approx(ratio, abs=0.005)


def test_round_cards_measure_the_safe_edge_along_their_outline():
    corner = {"a": {**NAME, **at(8, 8, 20, 5)}}
    assert kinds(face_of(card("Fern"), book(base(size=Size(width=60, height=60, corner=0), **corner)))) == []
    rounded = Size(width=60, height=60, outline="round", corner=0)
    assert kinds(face_of(card("Fern"), book(base(size=rounded, **corner)))) == [("edge", "a")]


def hard(each):
    text = printed_text(each, RULEBOOK, VOCABULARY)
    return measures(STARTING.worn(each), CardContext(each, game(), text))


def test_the_hardest_cards_are_named_with_what_they_are_hardest_in():
    cards = [
        card("Fern", "", bed="fern"),
        card("The longest name of all these", bed="fern"),
        card("Wordy", printed="many words " * 20, bed="fern"),
        card("Wet", printed="{water} {water} {water}", bed="fern"),
        card("Tall", height=99, bed="fern"),
        card("Tagged", tags=("climber", "night bloom"), bed="fern"),
    ]
    strip = hardest((each.id, hard(each)) for each in cards)
    named = {reason: hard.card for hard in strip for reason in hard.reasons}
    assert named["longest name"] == "The longest name of all these" and named["longest effect"] == "Wordy"
    assert (
        named["most symbols in effect"] == "Wet"
        and named["largest height"] == "Tall"
        and named["widest tags"] == "Tagged"
    )
    assert hardest([]) == []
