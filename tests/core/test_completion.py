"""Completion of queries: a query built only from suggestions can always be parsed further."""

from __future__ import annotations

from random import Random

import pytest

from dramok.core.cards.query.completion import MOST_OFFERS, offers
from dramok.core.cards.query.flags import FLAGS
from dramok.core.cards.query.query import read_query
from dramok.core.cards.query.query_names import Names
from dramok.core.cards.schema.lexer import Unreadable
from tests.conftest import SEED
from tests.core.invented_world import RULEBOOK
from tests.core.test_field_kinds import SCHEMA

NAMES = Names(
    RULEBOOK.cards, {"d": "Fern over Moss", "e": 'A "quoted" deck'}, {"s": "First Showing"}, "name", {"m": "before playtest 3"}, {"r": "Playtest 1"},
)  # fmt: skip
EVERY_KIND = Names(SCHEMA, {"d": "Ours"}, {"s": "First"}, "text", {}, {})


def taken(text: str, offer) -> str:
    return text[: offer.start] + offer.text + text[offer.end :]


def reads_on(text: str, names: Names, whole: bool = False) -> bool:
    """Whether a query can be read, or asks for more at its very end."""
    try:
        read_query(text, names)
    except Unreadable as error:
        span = error.problem.span
        assert error.problem.mend
        return not whole and span is not None and span.column > len(text.rstrip())
    return True


@pytest.mark.parametrize("names", [NAMES, EVERY_KIND], ids=["a game", "every kind of field"])
def test_queries_built_from_suggestions_can_always_be_continued(names):
    dice = Random(SEED)
    for _ in range(150):
        text = ""
        for _ in range(dice.randrange(1, 9)):
            found = offers(text, len(text), names)
            if found:
                text = taken(text, dice.choice(found))
            else:
                # A number, a word, a day: of these there are too many to offer. One that fits is typed.
                ways = [text + value for value in dice.sample(["3", "larch", "2026-11-27"], 3)]
                text = next(
                    (way for whole in (True, False) for way in ways if reads_on(way, names, whole)), None
                ) or pytest.fail(f"nothing goes on from {text!r}")
            assert reads_on(text, names), text
            text += " "


@pytest.mark.parametrize(
    ("typed", "first", "kinds"),
    [
        ("", "Name", {"field", "flag", "word"}), ("be", "Bed", {"field"}), ("bed ", "is", {"compare"}), ("bed is ", "Fern", {"value", "word"}),
        ("bed is we", "Wet Moss", {"value"}), ("bed is Fern, ", "Fern", {"value", "word"}), ("cost ", "is", {"compare"}), ("effect ", "has", {"compare"}),
        ("in ", "deck", {"word"}), ("in deck ", "Fern over Moss", {"deck"}), ("in set fi", "First Showing", {"set"}), ("changed since ", "before playtest 3", {"mark"}),
        ("printed in ", "Playtest 1", {"run"}), ("type is pl", "Plant", {"value"}), ("unfin", "unfinished", {"flag"}), ("printed te", "Printed text", {"field"}),
    ],
)  # fmt: skip
def test_what_comes_next_is_offered_first(typed, first, kinds):
    found = offers(typed, len(typed), NAMES)
    assert (
        found[0].text == first
        and {each.kind for each in found} >= kinds & {found[0].kind}
        and {each.kind for each in found} <= kinds | {found[0].kind, "field", "flag", "word"}
    )
    assert len(found) <= MOST_OFFERS
    whole = taken(typed, found[0])
    assert whole.startswith(typed[: found[0].start]) and whole.endswith(first)


def test_an_offer_takes_the_place_of_what_it_completes_in_the_middle_of_a_query():
    text = "cost is 3 bed is wet unfinished"
    (offer,) = [each for each in offers(text, text.index(" unfinished"), NAMES) if each.text == "Wet Moss"]
    assert taken(text, offer) == "cost is 3 bed is Wet Moss unfinished"
    assert read_query(taken(text, offer), NAMES).parts[1].text == "bed is Wet Moss"


@pytest.mark.parametrize("flag", FLAGS)
def test_every_flag_is_offered_by_its_beginning_and_read(flag):
    found = offers(flag[:-1], len(flag) - 1, NAMES)
    assert flag in [each.text for each in found] and all(each.help or each.kind != "flag" for each in found)
    read_query(flag, NAMES)


@pytest.mark.parametrize(
    "text", ["", " ", '"', "((((", "cost", "bed is", "é", "x" * 500, "in deck in deck in deck", "# ; |"]
)
def test_nothing_that_is_typed_breaks_the_offers(text):
    for caret in {0, len(text) // 2, len(text)}:
        assert isinstance(offers(text, caret, NAMES), list)
