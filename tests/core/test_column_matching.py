"""Matching of headings to fields, and what a sheet has that the game lacks: worked examples and generated sheets."""

from __future__ import annotations

import random
import string

import pytest
from hypothesis import given
from hypothesis import strategies as st

from dramok.core.cards.schema.schema import Schema
from dramok.core.cards.sheets.column_matching import CODE, SET, TYPE, Target, find_header, match_columns
from dramok.core.cards.sheets.schema_guess import (
    GUESSED,
    field_document,
    list_document,
    new_fields,
    new_types,
    new_values,
    with_values,
)
from dramok.core.problem import fold
from tests.conftest import SEED
from tests.core.invented_world import RULEBOOK

SCHEMA = RULEBOOK.cards
NAMES = {target.id: target.name for target in Target.all_of(SCHEMA)}


def matched(*header: str, by_hand=None) -> dict[str, str | None]:
    return {each.heading: each.target for each in match_columns(header, SCHEMA, by_hand)}


@pytest.mark.parametrize(
    ("heading", "target"),
    [
        ("Name", "name"), ("  name ", "name"), ("TITLE", "name"), ("Card Name", "name"), ("Plant", "name"),
        ("Code", CODE), ("No", CODE), ("Card Type", TYPE), ("kind", TYPE), ("Expansion", SET), ("Series", SET),
        ("Bed", "bed"), ("Which bed", "bed"), ("Bed colour", "bed"), ("Water cost", "cost"), ("Costs", "cost"), ("Rarety", "rarity"),
        ("Rules Text", "effect"), ("Ability", "effect"), ("Traits", "tags"), ("Printed text", "printed"), ("Heigth", "height"),
        ("", None), ("   ", None), ("Weight of the pot", None), ("x" * 61, None), ("Picture", None), ("Roots", "root"),
    ],
)  # fmt: skip
def test_a_heading_names_a_field_by_its_words_or_nearly(heading, target):
    assert matched(heading) == {heading: target}


def test_the_better_heading_is_taken_and_a_field_is_fed_once():
    assert matched("Water cost", "Cost") == {"Water cost": None, "Cost": "cost"}
    assert matched("Title", "Name", "Card") == {"Title": None, "Name": "name", "Card": None}
    assert [each.target for each in match_columns(["Cost", "Cost"], SCHEMA)] == ["cost", None]


def test_columns_chosen_by_hand_are_kept_and_the_rest_is_matched():
    by_hand = {0: "root", 2: None, 3: "no-such-field"}
    columns = match_columns(["Cost", "Root", "Name", "Height"], SCHEMA, by_hand)
    assert [each.target for each in columns] == ["root", None, None, "height"]
    assert [each.by_hand for each in columns] == [True, False, True, True]
    assert [each.name for each in columns] == ["Root", "Root", "Name", "Height"]


def test_the_header_is_the_line_with_most_fields_within_the_first_thirty():
    rows = [
        ["The third draft"],
        ["Name", "by Ann"],
        ["Name", "Cost", "Bed"],
        ["Cost", "Height", "Root", "Tags"],
    ]
    assert find_header(rows, SCHEMA) == 3
    assert find_header(rows[:3], SCHEMA) == 2
    assert find_header([["nothing"], ["here"]], SCHEMA) is None
    assert find_header([["Height"]], SCHEMA) is None, "one field alone may be anything"
    assert find_header([["Title"]], SCHEMA) == 0, "a name is enough"
    assert find_header([[""]] * 30 + [["Name", "Cost"]], SCHEMA) is None


@given(
    st.permutations(sorted(NAMES)),
    st.lists(st.text(alphabet=string.ascii_uppercase + "_", min_size=9, max_size=14), max_size=4),
)
def test_every_field_is_matched_by_its_own_name_in_any_order_among_other_columns(order, others):
    """The names in any order, with columns between them that name nothing."""
    others = [each for each in others if matched(each)[each] is None]
    header = [NAMES[ident] for ident in order]
    for place, other in enumerate(others):
        header.insert(place * 3, other)
    found = match_columns(header, SCHEMA)
    assert [each.target for each in found if each.target] == list(order)
    assert [each.index for each in found] == list(range(len(header)))
    assert all(each.heading == heading for each, heading in zip(found, header, strict=True))


@given(st.lists(st.text(max_size=20), max_size=30))
def test_any_header_at_all_feeds_each_field_at_most_once(header):
    found = match_columns(header, SCHEMA)
    fed = [each.target for each in found if each.target]
    assert len(found) == len(header) and len(fed) == len(set(fed)) and set(fed) <= set(NAMES)


# What the sheet has and the game has not.

WORDS = (
    "amber",
    "basin",
    "cobalt",
    "dune",
    "ember",
    "fjord",
    "grove",
    "haze",
    "inlet",
    "jetty",
    "knoll",
    "ledge",
)


def made_up(kind: str, dice: random.Random, rows: int = 40) -> list[str]:
    """Cells of a column that only this kind of field holds, some of them empty."""
    few = dice.sample(WORDS, 4)
    cells = {
        "number": lambda: str(dice.randint(-9, 99)),
        "yesno": lambda: dice.choice(("yes", "no")),
        "picture": lambda: (
            f"{dice.choice(WORDS)} {dice.randint(1, 99)}.{dice.choice(('png', 'JPG', 'webp'))}"
        ),
        "choice": lambda: dice.choice(few),
        "tags": lambda: ", ".join(dice.sample(few, dice.randint(1, 3))),
        "date": lambda: f"20{dice.randint(10, 40)}-{dice.randint(1, 12):02}-{dice.randint(1, 28):02}",
        "text": lambda: (
            " ".join(dice.choice(WORDS) for _ in range(dice.randint(6, 12))) + f" {dice.random()}"
        ),
    }[kind]
    column = [cells() for _ in range(rows)]
    if kind == "tags":
        column[0] = ", ".join(few)
    return column[:4] + ["" if dice.random() < 0.1 else cell for cell in column[4:]]


KINDS = ("number", "yesno", "picture", "choice", "tags", "date", "text")


@pytest.mark.parametrize("turn", range(12))
def test_a_sheet_of_columns_nobody_knows_becomes_fields_that_hold_every_cell(turn):
    dice = random.Random(SEED * 100 + turn)
    kinds = [dice.choice(KINDS) for _ in range(dice.randint(1, 8))]
    columns = [made_up(kind, dice) for kind in kinds]
    header = [f"Zq{chr(65 + place)}zq {dice.randint(100, 999)}" for place in range(len(kinds))]
    rows = [header, *map(list, zip(*columns, strict=True))]
    found = new_fields(rows, 0, match_columns(header, SCHEMA))
    assert [(each.column, each.name) for each in found] == list(enumerate(header))
    seen_picture = False
    types, used = [], {"code", "type", "set"}
    lists = [each.model_dump() for each in SCHEMA.lists]
    for each, kind, cells in zip(found, kinds, columns, strict=True):
        wanted = "back" if kind == "picture" and seen_picture else kind
        seen_picture |= kind == "picture"
        # Few lists of tags that come again and again may as well be values of one list.
        wanted = each.kind if (wanted, each.kind) == ("tags", "choice") else wanted
        assert each.kind == wanted in GUESSED, f"turn {turn} of seed {SEED}: {cells[:6]}"
        values = [cell for cell in cells if cell]
        document = field_document(each.name, each.kind, values, used, f"list-{each.column}")
        used.add(document["id"])
        types.append(document)
        if each.kind == "choice":
            lists.append(list_document(each.name, values, f"list-{each.column}"))
    assert len(used) == 3 + len(found), "no two fields have one id"
    schema = Schema.model_validate({"types": [{"id": "c", "name": "C", "fields": types}], "lists": lists})
    from dramok.core.cards import read_value
    from tests.core.invented_world import VOCABULARY

    for field, cells in zip(schema.fields, columns, strict=True):
        for cell in filter(None, cells):
            value, problems = read_value(field, cell, schema, VOCABULARY)
            assert value is not None and not problems and field.holds(value), (field.kind, cell)


def test_a_choice_lists_values_are_each_once_in_their_order_with_ids_and_colours_of_their_own():
    made = list_document("Beds", ["Wet  Moss", "fern", "wet moss", "Fern", "Élan", "fern "], "beds")
    assert [each["name"] for each in made["values"]] == ["Wet Moss", "fern", "Élan"]
    assert (
        len({each["id"] for each in made["values"]}) == len({each["colour"] for each in made["values"]}) == 3
    )
    more = with_values(made["values"], ["Fern!", "fern"])
    assert [each["id"] for each in more[:3]] == [each["id"] for each in made["values"]]
    assert len({each["id"] for each in more}) == 5, "two names that would have one id have two"


def test_types_and_values_that_only_the_sheet_has_are_counted_with_what_is_near():
    header = ["Name", "Type", "Bed"]
    rows = [
        header,
        ["A", "Plant", "Fern"], ["B", "Tool", "Fren"], ["C", "tool", "fren"], ["D", " TOOL ", "Marsh"], ["E", "Season", ""], ["F"],
    ]  # fmt: skip
    columns = match_columns(header, SCHEMA)
    assert new_types(rows, 0, columns, SCHEMA) == {"Tool": 3, "Season": 1}
    found = new_values(rows, 0, columns, SCHEMA)
    assert [(each.list, each.value, each.rows, each.near) for each in found] == [("beds", "Fren", 2, "Fern"), ("beds", "Marsh", 1, None)]  # fmt: skip
    assert new_types(rows, 0, match_columns(["Name"], SCHEMA), SCHEMA) == {}


@given(
    st.lists(st.sampled_from(["Fern", "fern ", "FERN", "Briar", "Reed", "reed", "Sedge", ""]), max_size=30)
)
def test_counts_of_new_values_sum_to_the_cells_that_no_list_has(cells):
    columns = match_columns(["Bed"], SCHEMA)
    found = new_values([["Bed"], *([cell] for cell in cells)], 0, columns, SCHEMA)
    unknown = [fold(cell) for cell in cells if fold(cell) in ("reed", "sedge")]
    assert sum(each.rows for each in found) == len(unknown)
    assert {fold(each.value) for each in found} == set(unknown)
