"""The cache of placement drawings that many cards share: each card still shows its own values, whatever the plan depends on."""

from __future__ import annotations

from typing import Any

from hypothesis import given, settings
from hypothesis import strategies as st

from dramok.core.cards import Card
from dramok.core.faces.elements import Segment
from dramok.core.faces.plan.plan import BY_KIND, NoPlace, PlanDoc, PlanHead, read_place
from dramok.core.rulebook import Rulebook
from tests.core.faces.plans import PAIR, at, base, book, face_of
from tests.core.faces.test_faces import elements_of
from tests.core.invented_world import RULEBOOK, card


def coloured() -> Rulebook:
    """The invented game, each value of its lists with a colour of its own."""
    document = RULEBOOK.model_dump(mode="json")
    for number, each in enumerate(each for list_ in document["cards"]["lists"] for each in list_["values"]):
        each["colour"] = f"#{number + 1}0{number + 1}0{number + 1}0"
    return Rulebook.model_validate(document)


COLOURED = coloured()
COLOURS = st.sampled_from(["#123456", "@bed", "@rarity", "@bed-30", "@back", ""])
FIELDS = st.sampled_from(["name", "cost", "height", "root", "bed", "rarity", "tags", "effect", "printed", "type", "set", "game", "code"])
EFFECTS = st.sampled_from(["", "has grafted", 'has grafted, "night bloom"', "upon play this: draw 1"])
VALUES = {
    "field": FIELDS, "also": st.sampled_from(["", "bed", "cost", "tags"]), "per": st.sampled_from(["", "bed", "rarity"]), "when": st.sampled_from(["", "cost > 2", "bed is Fern"]),
    "fields": st.lists(st.sampled_from(["", "cost", "height", "bed"]), max_size=4), "symbol": st.sampled_from(["", "none", "below", "before", "drop"]),
    "shown": st.sampled_from(["words", "chips", "notches", "symbol", "colour", "picture"]), "empty": st.sampled_from(["hide", "dash"]),
    "plate": st.sampled_from(["none", "rectangle", "round"]), "most": st.integers(1, 5), "lines": st.integers(0, 3), "turn": st.sampled_from([0, 90, 180]),
    "before": st.sampled_from(["", "No. "]), "after": st.sampled_from(["", " cm"]),
}  # fmt: skip
"""Values for the settings of placements, besides switches and colours."""


@st.composite
def placements(draw) -> dict[str, Any]:
    """A placement of any kind, with any of its switches, colours, fields and texts."""
    kind = draw(st.sampled_from(sorted(BY_KIND)))
    document: dict[str, Any] = {"kind": kind, "x": 5.0, "y": 5.0, "width": draw(st.sampled_from([8.0, 40.0])), "height": draw(st.sampled_from([4.0, 12.0]))}
    for name, setting in BY_KIND[kind].model_fields.items():
        required = setting.is_required() and name not in ("id", "kind", *document)
        if required or (name not in document and draw(st.integers(0, 2)) == 0):
            if name in VALUES:
                document[name] = draw(VALUES[name])
            elif setting.annotation is bool:
                document[name] = draw(st.booleans())
            elif "ink" in name or name in ("fill", "stroke"):
                document[name] = draw(COLOURS)
    return document


def readable(document: dict[str, Any]) -> dict[str, Any]:
    """Without the settings that a placement of its kind does not take."""
    for name in list(document):
        try:
            read_place("each", document)
            break
        except NoPlace:
            if name not in ("kind", "x", "y", "width", "height", "field"):
                del document[name]
    return document


CARDS = st.builds(
    card, st.sampled_from(["Sprig", "Old Root"]), EFFECTS, st.sampled_from(["plant", "weather"]), cost=st.integers(0, 4), height=st.integers(1, 3),
    bed=st.sampled_from(["fern", "moss", None]), rarity=st.sampled_from(["common", "rare", None]), tags=st.sampled_from([(), ("climber",)]),
)  # fmt: skip


@settings(max_examples=150)
@given(st.lists(placements(), min_size=1, max_size=6), st.lists(CARDS, min_size=2, max_size=8))
def test_what_is_kept_for_other_cards_is_what_each_would_show_by_itself(documents: list[dict[str, Any]], cards: list[Card]):
    laid = {f"p{number}": {**readable(each), "z": number} for number, each in enumerate(documents)}
    plan = PlanDoc(id="base", head=PlanHead(name="Base", size=PAIR), places=laid, styles={})
    shared = book(plan, rulebook=COLOURED)
    for each in cards:
        own = face_of(each, book(plan, rulebook=COLOURED))
        assert face_of(each, shared) == own and face_of(each, shared).digest == own.digest


def test_the_rules_of_a_type_line_follow_each_cards_own_colour():
    line = {"kind": "text", "field": "type", "ruled": True, "rule_ink": "@bed", "head_ink": "@bed", **at(5, 5, 50, 6)}
    worn = book(base(line=line), rulebook=COLOURED)
    fern, moss = (
        {each.colour for each in elements_of(face_of(card("A", bed=bed), worn), "line") if isinstance(each, Segment)} for bed in ("fern", "moss")
    )
    assert (fern, moss) == ({"#101010"}, {"#202020"})


def test_keyword_meanings_are_under_the_type_line_of_cards_that_have_them():
    line = {"kind": "text", "field": "type", "reminders": True, **at(5, 5, 50, 20)}
    worn = book(base(line=line))

    def said(effect: str) -> str:
        return " ".join(each.text for each in elements_of(face_of(card("A", effect), worn), "line"))  # type: ignore[union-attr]

    assert [said(each) for each in ("has grafted", "", 'has "night bloom"')] == ["Plant It holds.", "Plant", "Plant It opens late."]
