"""Queries: results, error positions, completion; sort order and walls."""

from __future__ import annotations

from decimal import Decimal

import pytest
from hypothesis import given
from hypothesis import strategies as st

from dramok.core.cards import Card
from dramok.core.cards.query.column_index import CardIndex
from dramok.core.cards.query.completion import offers
from dramok.core.cards.query.ordering import SortBy, sorted_cards
from dramok.core.cards.query.query import read_query
from dramok.core.cards.query.query_names import Names
from dramok.core.cards.query.query_source import Standing
from dramok.core.cards.query.wall import NoGroups, wall
from dramok.core.cards.schema.lexer import Unreadable
from tests.core.invented_world import RULEBOOK, card

SCHEMA = RULEBOOK.cards
NAMES = Names(
    SCHEMA,
    {"d1": "Fern over Moss", "d2": "Night, draft"},
    {"s1": "First Showing"},
    marks={"m1": "before playtest 3", "m2": "Showing"},
)
CARDS = [
    card("Copper Larch", cost=1, bed="fern", rarity="common", tags=("climber",), height=2, root=3),
    card("Ditch Dog", cost=3, bed="briar", rarity="rare", height=4, root=1),
    card("Long Soak", kind="weather", cost=2, bed="moss", printed="It rains on the fern."),
    card("Wardian Trunk", kind="weather", bed="fern", tags=("night bloom", "climber"), cost=5),
    Card("Nameless", "X-9", "s1", "plant", {"cost": 0, "height": 1}),
]
STANDINGS = {
    "Copper Larch": Standing("fair", Decimal("0.25"), True, True, False), "Ditch Dog": Standing("over", Decimal("1.5"), True, True, False),
    "Long Soak": Standing("open", Decimal(0), False, False, False), "Nameless": Standing("under", Decimal(-2), True, True, True),
}  # fmt: skip


class Facts:
    cards = CARDS
    index = CardIndex(CARDS, SCHEMA)

    def standings(self):
        return [STANDINGS.get(card.id) for card in CARDS]

    def column(self, field):
        return self.index.column(field)

    def folded(self, field):
        return self.index.folded(field)

    def holding(self, text):
        words = text.casefold().split()
        return {
            row
            for row, c in enumerate(CARDS)
            if all(w in f"{c.text('name')} {c.text('printed')} {c.code}".casefold() for w in words)
        }

    def in_deck(self, deck):
        return {"d1": {0, 2}, "d2": {1}}[deck]

    def noted(self, states):
        return {row for row, state in {0: "open", 2: "answered"}.items() if state in states}

    def changed_since(self, mark):
        return {"m1": {1}, "m2": {0, 1}}[mark]


def find(text: str) -> list[str]:
    return [each.id for each in read_query(text, NAMES).answer(Facts())[0]]


COPPER, DITCH, SOAK, TRUNK, NAMELESS = (each.id for each in CARDS)


@pytest.mark.parametrize(
    ("text", "found"),
    [
        ("cost >= 3", [DITCH, TRUNK]), ("cost from 1 to 2", [COPPER, SOAK]), ("cost is 0, 5", [TRUNK, NAMELESS]), ("cost is not 1", [DITCH, SOAK, TRUNK, NAMELESS]),
        ("bed is fern", [COPPER, TRUNK]), ("bed is Fern, Wet Moss", [COPPER, SOAK, TRUNK]), ("bed is not fern", [DITCH, SOAK, NAMELESS]), ("bed is empty", [NAMELESS]),
        ("rarity > Garden", [DITCH]), ("rarity <= heirloom", [COPPER, DITCH]), ("tags has climber", [COPPER, TRUNK]), ('tags has "night bloom"', [TRUNK]), ("tags lacks climber cost < 9", [DITCH, SOAK, NAMELESS]),
        ("type is Weather", [SOAK, TRUNK]), ("code is x-9", [NAMELESS]), ("printed text has fern", [SOAK]), ("name is empty", [NAMELESS]), ("height is not empty", [COPPER, DITCH, NAMELESS]),
        ("in deck fern over moss", [COPPER, SOAK]), ('in "Night, draft"', [DITCH]), ("in no deck", [TRUNK, NAMELESS]), ("in set First Showing", [NAMELESS]), ("without a name", [NAMELESS]),
        ("outlier", [DITCH, NAMELESS]), ("text does not fit", [SOAK]), ("overfull", [SOAK]), ("behaviour not written", [SOAK]), ("unfinished", [NAMELESS]), ("verdict > 1", [DITCH]), ("not fair not open", [DITCH, NAMELESS]),
        ("larch", [COPPER]), ("fern", [SOAK]), ('"wardian trunk"', [TRUNK]), ("cost", []), ("bed is fern or cost is 3", [COPPER, DITCH, TRUNK]),
        ("type is plant and (cost is 1 or cost is 3 height > 3)", [DITCH]), ("not (bed is fern or cost is 3)", [SOAK, NAMELESS]), ("not not cost is 1", [COPPER]), ("", [COPPER, DITCH, SOAK, TRUNK, NAMELESS]),
    ],
)  # fmt: skip
def test_what_queries_find(text, found):
    assert find(text) == found


@pytest.mark.parametrize(
    ("text", "column", "length", "what", "mend"),
    [
        ("bed is Fren", 8, 4, "no bed is called Fren", "did you mean Fern?"), ("cost >", 7, 1, "which number?", "write a number, such as 3"),
        ("cost from 1 2", 13, 1, "up to which number?", "write from 2 to 4"), ("height has 3", 12, 1, "a number has nothing in it", "compare it: is, <, <=, >, >=, from … to …"),
        ("(bed is Fern", 13, 1, "a bracket is not closed", "write )"), ("name > b", 9, 1, "texts have no order here", "write has, lacks, is or is not"), ('larch "copper', 7, 1, "a quote is not closed", 'write " at its end'),
        ("in deck Fern over Mud", 9, 4, "there is no deck Fern", "write one of Fern over Moss, Night, draft"), (">= 3", 1, 2, "“>=” can't start a condition", "name a field first, such as cost >= 3; put text in quotes"), ("(" * 60, 32, 1, "too many brackets within each other", "take some out"),
    ],
)  # fmt: skip
def test_a_wrong_query_reports_its_place_and_fix(text, column, length, what, mend):
    with pytest.raises(Unreadable) as wrong:
        read_query(text, NAMES)
    problem = wrong.value.problem
    assert (problem.span.column, problem.span.length, problem.what, problem.mend) == (
        column,
        length,
        what,
        mend,
    )


@given(st.text(max_size=80))
def test_any_text_is_a_query_or_a_problem_within_it(text):
    try:
        parts = read_query(text, NAMES).parts
    except Unreadable as error:
        assert 1 <= error.problem.span.column <= len(text) + 1
    else:
        assert [text[part.start : part.end] for part in parts] == [part.text for part in parts]


atoms = st.sampled_from(
    [
        "cost >= 2",
        "bed is Fern",
        "tags has climber",
        "outlier",
        "in deck fern over moss",
        "height is empty",
        "larch",
    ]
)


@given(st.lists(st.lists(st.tuples(st.booleans(), atoms), min_size=1, max_size=3), min_size=1, max_size=3))
def test_not_or_and_adjacent_terms_equal_set_operations(wanted):
    """Each inner list is joined by `or`, the lists by `and`. Verdicts can be queried only for judged cards."""
    text = " ".join(
        " or ".join(f"not {atom}" if negated else atom for negated, atom in group) for group in wanted
    )
    judged = any("outlier" in atom for group in wanted for _, atom in group)
    everyone = {each.id for each in CARDS if not judged or each.id in STANDINGS}
    expected = everyone
    for group in wanted:
        expected &= set().union(
            *(everyone - set(find(atom)) if negated else set(find(atom)) for negated, atom in group)
        )
    answer, waiting = read_query(text, NAMES).answer(Facts())
    assert {each.id for each in answer} == expected and waiting == (
        len(CARDS) - len(STANDINGS) if judged else 0
    )
    assert len(read_query(text, NAMES).parts) == len(wanted)


@pytest.mark.parametrize(
    ("text", "first"),
    [("", ["Name", "Bed", "Rarity"]), ("co", ["Cost", "code"]), ("cost ", ["is", ">="]), ("bed is ", ["Fern", "Wet Moss", "Briar", "empty"]), ("bed is fern, w", ["Wet Moss"]), ("bed is not b", ["Briar"]), ("not unf", ["unfinished"]), ("in ", ["deck", "set"]), ("in deck ", ["Fern over Moss", '"Night, draft"']), ("text d", ["text does not fit"])],
)  # fmt: skip
def test_what_can_come_next(text, first):
    found = offers(text, len(text), NAMES)
    shown = [each.text for each in found]
    assert shown[: len(first)] == first
    for each in found:
        assert text[each.start : each.end].strip('"').casefold() in each.text.casefold()


def test_order_by_several_fields_follows_lists_and_leaves_empties_last():
    def order(*by):
        return [
            each.id
            for each in sorted_cards(
                CARDS, by, SCHEMA, lambda field: lambda card: Facts.index.value(card, field)
            )
        ]

    assert order(SortBy("bed"), SortBy("cost", True)) == [TRUNK, COPPER, SOAK, DITCH, NAMELESS]
    assert order(SortBy("rarity", True))[:2] == [DITCH, COPPER] and order(SortBy("cost", True))[0] == TRUNK
    assert order(SortBy("name"))[-1] == NAMELESS == order(SortBy("name", True))[-1]
    assert order(SortBy("type"), SortBy("name", True)) == [DITCH, COPPER, NAMELESS, TRUNK, SOAK]


@given(st.lists(st.tuples(st.integers(0, 6), st.sampled_from(["fern", "moss", "briar", None])), max_size=12))
def test_a_wall_holds_every_card_once_and_names_every_gap(wanted):
    cards = [
        Card(f"c{n}", f"C-{n}", "s", "plant", {"cost": cost, **({"bed": bed} if bed else {})})
        for n, (cost, bed) in enumerate(wanted)
    ]
    found = wall(cards, SCHEMA, "cost", "bed")
    assert (
        sorted(ident for ids in found.cells.values() for ident in ids) == sorted(each.id for each in cards)
        and found.cut == 0
    )
    assert [group.value for group in found.down] == [
        "Fern",
        "Wet Moss",
        "Briar",
        *([""] if any(bed is None for _, bed in wanted) else []),
    ]
    costs = [cost for cost, _ in wanted] or [0, 6]
    assert [group.value for group in found.across] == [
        str(cost) for cost in range(min(costs), max(costs) + 1)
    ]


def test_cards_are_not_grouped_by_texts():
    with pytest.raises(NoGroups):
        wall(CARDS, SCHEMA, "name", "bed")
