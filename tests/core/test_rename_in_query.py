"""Queries and formulas keep their meaning when something they name is renamed."""

from __future__ import annotations

import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from dramok.core.cards import Schema
from dramok.core.cards.query.column_index import CardIndex
from dramok.core.cards.query.query import COLUMNS, read_query
from dramok.core.cards.query.query_names import Meant, Names
from dramok.core.cards.query.rename_in_query import renamed_query
from dramok.core.problem import fold
from tests.core.test_query import CARDS, NAMES, Facts

CALLED = [
    "Fern", "Wet Moss", "Bed", "Cost", "Garden", "empty", "not", "or", "in", "in deck", "Night, draft", "Fern or Moss", "is", "yes", "2", "2 to 4", "from", "open", "text does not fit",
    "changed since", "Moss (wet)", "A very long name of many more words than six", "-", "≥ 3", "Zaun’s", "Größe", "cost >= 2", "type", "code", "set", "has", "#bed", "and", "Fern tree", "tree",
]  # fmt: skip
CONDITIONS = [
    "cost >= 2", "Cost from 1 to 3", "bed is Fern", "bed is not Wet Moss", 'bed is "Wet Moss", fern', "rarity > Garden", "rarity <= heirloom", "height is empty", "type is Weather",
    "tags has climber", "in deck Fern over Moss", 'in deck "Night, draft"', "in no deck", "changed since before playtest 3", "printed text has fern", "larch", '"wardian trunk"', "in set First Showing",
    "outlier", "set is First Showing",
]  # fmt: skip


def called(base: Names, **names: str) -> Names:
    """The same things with other names: of fields, choices, types, decks, sets and marks by id."""
    document = base.schema.model_dump(mode="json")
    for card_type in document["types"]:
        card_type["name"] = names.get(card_type["id"], card_type["name"])
        for field in card_type["fields"]:
            field["name"] = names.get(field["id"], field["name"])
    for each in document["lists"]:
        for value in each["values"]:
            value["name"] = names.get(value["id"], value["name"])

    def some(held):
        return {ident: names.get(ident, name) for ident, name in held.items()}

    return Names(Schema.model_validate(document), some(base.decks), some(base.sets), marks=some(base.marks))


def answered(text: str, names: Names) -> set[str]:
    facts = Facts()
    facts.index = CardIndex(CARDS, names.schema)
    return {each.id for each in read_query(text, names).answer(facts)[0]}


@st.composite
def renamings(draw) -> dict[str, str]:
    """New names, none twice among things of one kind."""
    found: dict[str, str] = {}
    for group in (
        ["bed", "rarity", "cost", "height", "printed"], ["fern", "moss", "briar"], ["common", "rare"], ["plant", "weather"], ["d1", "d2"], ["m1", "m2"], ["s1"],
    ):  # fmt: skip
        some = draw(st.lists(st.sampled_from(group), unique=True))
        fresh = draw(
            st.lists(st.sampled_from(CALLED), min_size=len(some), max_size=len(some), unique_by=fold)
        )
        found |= dict(zip(some, fresh, strict=True))
    return found


@given(
    st.lists(st.tuples(st.booleans(), st.sampled_from(CONDITIONS)), min_size=1, max_size=4),
    st.sampled_from([" ", " or ", " and "]),
    renamings(),
)
def test_a_query_answers_the_same_whatever_things_are_called(conditions, join, fresh):
    text = join.join(f"not {each}" if negated else each for negated, each in conditions)
    try:
        after = called(NAMES, **fresh)
    except ValueError:  # two values of one name
        return
    for names in ([each.name for each in after.schema.fields], [each.name for each in after.schema.types], after.decks.values(), after.marks.values()):
        assume(len(set(map(fold, names))) == len(names))
    assume(not {fold(each.name) for each in after.schema.fields} & set(COLUMNS))
    said = renamed_query(text, NAMES, after, {})
    assert answered(said, after) == answered(text, NAMES), said
    back = renamed_query(said, after, NAMES, {})
    assert answered(back, NAMES) == answered(text, NAMES), back


@pytest.mark.parametrize(
    ("text", "fresh", "said"),
    [
        ("bed is fern cost > 1", {"bed": "Ground"}, "Ground is fern cost > 1"),
        ("bed is Fern, Wet Moss", {"moss": "Bog"}, "bed is Fern, Bog"),
        ("bed is Fern", {"fern": "Wood fern"}, "bed is Wood fern"),
        ("bed is Fern", {"fern": "empty"}, 'bed is "empty"'),
        ("bed is Fern", {"fern": "Fern, wild"}, 'bed is "Fern, wild"'),
        ('in deck "Night, draft"  larch', {"d2": "Night"}, "in deck Night  larch"),
        ("not (type is Plant or changed since showing)", {"plant": "Growth", "m2": "Show 2"}, 'not (type is Growth or changed since "Show 2")'),
        ("bed is Fern tree", {"moss": "Fern tree"}, 'bed is "Fern" tree'),
        ("larch cost", {"cost": "Price"}, "larch cost"),
        ("bed is Fren", {"bed": "Ground"}, "bed is Fren"),
        ("bed is Fern", {"fern": 'The "old" fern'}, 'bed is The "old" fern'),
    ],
)  # fmt: skip
def test_names_are_written_as_one_would(text, fresh, said):
    assert renamed_query(text, NAMES, called(NAMES, **fresh), {}) == said


def test_what_gives_way_to_another_is_asked_for_by_its_name():
    moved = {Meant("choice", "fern", "beds"): Meant("choice", "moss", "beds"), Meant("type", "weather"): Meant("type", "plant")}
    assert renamed_query("bed is fern or type is Weather", NAMES, NAMES, moved) == "bed is Wet Moss or type is Plant"
    assert renamed_query("bed > briar", NAMES, NAMES, moved) == "bed > briar"
