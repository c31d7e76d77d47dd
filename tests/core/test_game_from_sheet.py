"""A game made from a sheet alone: guesses on generated sheets, and the corrections a person makes."""

from __future__ import annotations

import random

import pytest
from hypothesis import given
from hypothesis import strategies as st

from dramok.core.cards.sheets.import_context import Game, ImportOptions
from dramok.core.cards.sheets.schema_guess import kind_of
from dramok.core.cards.sheets.sheet_import import plan_rows
from dramok.core.problem import fold
from dramok.core.rulebook import GameVocabulary, Rulebook
from dramok.core.rulebook.game_from_sheet import (
    COLUMN_KINDS,
    ROLES,
    ColumnOverride,
    NoCards,
    read_sheet_as_game,
    rulebook_of,
)
from tests.conftest import SEED

WORDS = [
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
    "mire",
    "notch",
]
HEADINGS = {
    "name": ["Name", "Title", "Card", "Card Name", "TITLE "],
    "cost": ["Cost", "Price", "Gold cost", "Cost to play"],
    "faction": ["Faction", "Clan", "House", "Guild", "Side", "Colour"],
    "rarity": ["Rarity", "rarity"],
    "copies": ["Copies", "Count", "Qty", "How many", "Quantity"],
    "effect": ["Text", "Rules", "Rules text", "Effect", "Ability"],
    "type": ["Type", "Card type", "Category"],
    "tags": ["Tags", "Traits"],
}


def made_up(dice: random.Random, rows: int = 30) -> tuple[list[list[str]], dict[str, int], dict[str, int]]:
    """Rows with a header, the index of each part, and the indexes of stats with unknown names."""
    kinds, clans = dice.sample(WORDS, dice.randint(2, 4)), dice.sample(WORDS, 3)
    cell = {
        "name": lambda n: f"{dice.choice(WORDS).title()} {dice.choice(WORDS).title()} {n}",
        "cost": lambda n: str(dice.randint(0, 9)),
        "faction": lambda n: dice.choice(clans),
        "rarity": lambda n: dice.choice(["common", "rare"]),
        "copies": lambda n: dice.choice(["1", "2", "x3", "2x"]),
        "effect": lambda n: dice.choice(
            ["", "Draw a card when this is played.", f"Take {n} from anyone who has more."]
        ),
        "type": lambda n: kinds[n % len(kinds)],
        "tags": lambda n: ", ".join(dice.sample(WORDS[:5], dice.randint(1, 3))),
        "stat": lambda n: str(dice.randint(0, 12)),
    }
    parts = [
        "name",
        *dice.sample(["cost", "faction", "rarity", "copies", "effect", "type", "tags"], dice.randint(2, 7)),
    ]
    columns = [(part, dice.choice(HEADINGS[part]), part) for part in parts]
    columns += [("stat", f"Zq{chr(65 + n)}x", f"stat {n}") for n in range(dice.randint(0, 3))]
    dice.shuffle(columns)
    table = [[heading for _, heading, _ in columns]]
    table += [[cell[kind](n) for kind, _, _ in columns] for n in range(rows)]
    places = {key: index for index, (_, _, key) in enumerate(columns)}
    return (
        table,
        {key: at for key, at in places.items() if " " not in key},
        {key: at for key, at in places.items() if " " in key},
    )


def taken(reading, rows, **wished):
    made = rulebook_of(reading, rows)
    rulebook = Rulebook.model_validate({**made.rulebook, "id": "g", "name": "G"})
    knows = Game(
        rulebook.cards,
        GameVocabulary(rulebook),
        rulebook.roles.name,
        rulebook.roles.copies,
        rulebook.roles.printed,
        {},
        {},
    )
    return rulebook, plan_rows(
        rows[reading.header - 1 :], knows, "G-{n:03}", ImportOptions(columns=dict(made.targets), header=1, **wished)
    )


@pytest.mark.parametrize("turn", range(20))
def test_parts_are_found_by_heading_in_any_order_and_no_cell_is_lost(turn):
    dice = random.Random(SEED * 1_000 + turn)
    rows, parts, stats = made_up(dice)
    above = [["The latest draft"], []][: dice.randint(0, 2)]
    rows = [*above, *rows]
    reading = read_sheet_as_game(rows)
    assert reading.header == len(above) + 1
    at = {(each.role or each.kind): each.index for each in reading.columns}
    for part, index in parts.items():
        assert at[part] == index, f"seed {SEED}, turn {turn}: {part} is {rows[len(above)][index]}"
    assert {each.index for each in reading.columns if each.role == "stat"} == set(stats.values())
    rulebook, intake = taken(reading, rows)
    assert not intake.refused and len(intake.taken) == 30, intake.refused[:1]
    roles = rulebook.roles
    for row, card in zip(rows[len(above) + 1 :], intake.taken, strict=True):
        assert card.name == row[parts["name"]]
        if "cost" in parts:
            assert card.values[roles.cost] == int(row[parts["cost"]])
        if "copies" in parts:
            assert card.values[roles.copies] == int(row[parts["copies"]].strip("x"))
        if "effect" in parts:
            assert card.values.get(roles.printed, "") == row[parts["effect"]]
        if "type" in parts:
            assert rulebook.cards.type(card.type).name == row[parts["type"]]
        if "faction" in parts:
            assert (
                rulebook.cards.choices(rulebook.cards.field(roles.faction))
                .get(card.values[roles.faction])
                .name
                == row[parts["faction"]]
            )
    assert len(roles.stats) == len(stats)


def test_a_field_that_one_type_alone_has_is_that_types():
    rows = [
        ["Name", "Type", "Speed", "Walls", "Price"],
        ["A", "Ship", "3", "", "1"],
        ["B", "Town", "", "4", "2"],
        ["C", "ship", "2", "", "1"],
    ]
    rulebook, intake = taken(read_sheet_as_game(rows), rows)
    own = {each.name: [field.name for field in each.fields] for each in rulebook.cards.types}
    assert own == {"Card": ["Name", "Price"], "Ship": ["Speed"], "Town": ["Walls"]}
    assert [card.type for card in intake.taken] == ["ship", "town", "ship"]


def test_a_type_called_card_does_not_take_the_place_of_what_all_extend():
    rows = [["Name", "Type"], ["A", "Card"], ["B", "Token"]]
    rulebook, _ = taken(read_sheet_as_game(rows), rows)
    assert [(each.name, each.abstract) for each in rulebook.cards.types] == [
        ("Any card", True),
        ("Card", False),
        ("Token", False),
    ]


@pytest.mark.parametrize(
    ("rows", "name"),
    [
        ([["Foo"], ["one"], ["two"]], "Foo"), ([["", "Thing"], ["", "one"], ["", "two"]], "Thing"), ([["12", "13"], ["1", "2"]], "12"),
        ([["A", "B"], ["1", "apple"], ["2", "pear"]], "B"), ([["Name", "Title"], ["x", "y"]], "Name"),
    ],
)  # fmt: skip
def test_there_is_always_a_name(rows, name):
    reading = read_sheet_as_game(rows)
    assert reading.column("name").heading == name
    assert len(taken(reading, rows)[1].taken) == len(rows) - 1


@pytest.mark.parametrize("rows", [[], [[]], [["Name"]], [["Name"], [""]], [["", ""], ["", ""]]])
def test_a_sheet_without_a_card_says_so(rows):
    with pytest.raises(NoCards) as caught:
        read_sheet_as_game(rows)
    assert caught.value.problem.mend


ROWS = [
    ["Name", "Power", "Group", "Words"],
    ["A", "3", "north", "Some longer words for the card."], ["B", "4", "south", ""], ["C", "5", "north", "Others, as long as those are."],
    ["D", "3", "south", ""], ["E", "4", "north", "Words."], ["F", "5", "south", ""],
]  # fmt: skip


@pytest.mark.parametrize(
    ("wishes", "seen"),
    [
        ({}, [("text", "name"), ("number", "stat"), ("choice", "faction"), ("effect", None)]),
        ({1: ColumnOverride(role="cost")}, [("text", "name"), ("number", "cost"), ("choice", "faction"), ("effect", None)]),
        ({2: ColumnOverride(role="faction"), 3: ColumnOverride(kind="text")}, [("text", "name"), ("number", "stat"), ("choice", "faction"), ("text", None)]),
        ({2: ColumnOverride(kind="type")}, [("text", "name"), ("number", "stat"), ("type", None), ("effect", None)]),
        ({2: ColumnOverride(role="name")}, [("text", None), ("number", "stat"), ("text", "name"), ("effect", None)]),
        ({1: ColumnOverride(kind="out"), 2: ColumnOverride(kind="nonsense")}, [("text", "name"), ("out", None), ("choice", "faction"), ("effect", None)]),
        ({1: ColumnOverride(role="")}, [("text", "name"), ("number", None), ("choice", "faction"), ("effect", None)]),
        ({0: ColumnOverride(kind="out")}, [("out", None), ("text", "name"), ("choice", "faction"), ("effect", None)]),
        ({0: ColumnOverride(name="Called"), 99: ColumnOverride(kind="text")}, [("text", "name"), ("number", "stat"), ("choice", "faction"), ("effect", None)]),
    ],
)  # fmt: skip
def test_user_settings_are_kept_and_there_is_always_a_name(wishes, seen):
    reading = read_sheet_as_game(ROWS, None, wishes)
    assert [(each.kind, each.role) for each in reading.columns] == seen
    assert len(taken(reading, ROWS)[1].taken) == 6
    if 0 in wishes and wishes[0].name:
        assert reading.columns[0].name == "Called"


def test_leaving_everything_out_is_refused():
    with pytest.raises(NoCards, match="no column is left"):
        read_sheet_as_game(ROWS, None, {n: ColumnOverride(kind="out") for n in range(4)})


def test_the_header_can_be_set():
    rows = [["Name", "Cost"], ["notes", "what it costs"], ["A", "1"]]
    reading = read_sheet_as_game(rows, 2)
    assert [each.heading for each in reading.columns] == ["notes", "what it costs"] and reading.rows == 1
    with pytest.raises(NoCards):
        read_sheet_as_game(rows, 3)
    with pytest.raises(NoCards):
        read_sheet_as_game(rows, 9)


CELL = st.text(max_size=12) | st.sampled_from(["1", "2.5", "yes", "a.png", "x2", "2026-01-02", "a, b"])


@given(
    st.lists(st.lists(CELL, min_size=1, max_size=6), min_size=2, max_size=8),
    st.dictionaries(
        st.integers(0, 6),
        st.builds(
            ColumnOverride,
            st.none() | st.text(max_size=5),
            st.none() | st.sampled_from(COLUMN_KINDS),
            st.none() | st.sampled_from(("", *ROLES)),
        ),
    ),
)
def test_any_sheet_at_all_is_a_sound_game_or_says_what_is_missing(rows, wishes):
    rows = [[cell.replace("\x00", "") for cell in row] for row in rows]
    try:
        reading = read_sheet_as_game(rows, None, wishes)
    except NoCards:
        return
    rulebook, intake = taken(reading, rows)
    assert len(intake.taken) + len(intake.refused) + len(intake.skipped) == intake.rows
    assert rulebook.cards.field(rulebook.roles.name) is not None
    for each in rulebook.cards.types:
        names = [fold(field.name) for field in rulebook.cards.fields_of(each.id)]
        assert len(names) == len(set(names)), names
    parts = [each.role for each in reading.columns if each.role and each.role != "stat"]
    assert len(parts) == len(set(parts)), "no part is played twice"


def test_columns_with_the_same_heading_become_fields_with_different_names():
    rows = [["Name", "Text", "Mood", "mood", "Printed text"], ["Larch", "upon play this: draw 1", "calm now", "wild now", "It grows."]]
    rulebook, _ = taken(read_sheet_as_game(rows, None, {1: ColumnOverride(None, "effect", None)}), rows)
    names = [field.name for field in rulebook.cards.fields_of(rulebook.cards.types[-1].id)]
    assert {"Mood", "mood 2", "Printed text"} <= set(names) and len({fold(each) for each in names}) == len(names), names


def test_a_column_is_what_nine_tenths_of_its_cells_are_and_the_others_are_listed_with_a_fix():
    rows = [["Name", "Water cost", "Height", "Planted", "Strong"]]
    for number in range(60):
        rows.append([f"Card {number}", str(number % 7), str(number % 5), f"2026-03-{number % 28 + 1:02}", "yes"])
    rows[13][1], rows[30][2], rows[41][3], rows[55][4], rows[7][1] = "three", "tall", "in spring", "rather", "a lot"
    reading = read_sheet_as_game(rows)
    assert [(each.kind, each.role) for each in reading.columns] == [
        ("text", "name"), ("number", "cost"), ("number", "stat"), ("date", None), ("yesno", None),
    ]  # fmt: skip
    _, intake = taken(reading, rows)
    assert [(each.row, each.column, each.value) for each in intake.refused] == [
        (8, "Water cost", "a lot"), (31, "Height", "tall"), (42, "Planted", "in spring"), (56, "Strong", "rather"),
    ]  # fmt: skip
    assert all(each.mend for each in intake.refused)
    assert {each.row: each.notes for each in intake.taken if each.notes} == {14: ("Water cost “three” is read as 3",)}
    # Fewer than a tenth it must be: of ten cells one, of nine none.
    assert kind_of([*"123456789", "x"]) == "number" and kind_of([*"12345678", "x"]) == "text"
    # Words alone are no numbers.
    assert kind_of(["one", "two", "three", "four"]) == "text"


@given(st.data())
def test_whatever_a_tenth_of_its_cells_is_a_column_of_numbers_stays_one_and_no_line_is_lost(data):
    count = data.draw(st.integers(10, 60))
    odd = data.draw(st.sets(st.integers(1, count), max_size=count // 10))
    words = data.draw(st.lists(st.sampled_from(["x", "?", "three", "n/a", "2 or 3", "-", "∞", "TOTAL"]), min_size=len(odd), max_size=len(odd)))
    rows = [["Name", "Cost"], *([f"Card {number}", str(number % 9)] for number in range(count))]
    for row, word in zip(sorted(odd), words, strict=True):
        rows[row][1] = word
    reading = read_sheet_as_game(rows)
    assert [each.kind for each in reading.columns] == ["text", "number"]
    for leave_empty in (False, True):
        _, intake = taken(reading, rows, leave_empty=leave_empty)
        assert intake.rows == len(intake.taken) + len(intake.skipped) + len(intake.refused) == count
        assert not (leave_empty and intake.refused)
        # What is not in figures is either said of its line, or keeps the line out.
        said = {each.row for each in intake.taken if each.notes} | {each.row for each in (*intake.skipped, *intake.refused)}
        assert said == {row + 1 for row in odd}


@pytest.mark.parametrize(
    ("headings", "roles"),
    [
        (["Name", "Water cost", "Power"], ["name", "cost", "stat"]),
        (["Card name", "Cost in water", "Worth (mine)"], ["name", "cost", None]),
        (["Title", "Price", "Balance"], ["name", "cost", None]),
        (["Name", "Page", "Height"], ["name", None, "stat"]),
    ],
)
def test_a_heading_that_has_the_word_of_a_part_counts_and_a_reckoning_is_no_stat(headings, roles):
    rows = [headings, *([f"Card {number}", str(number % 7), str(number % 4)] for number in range(20))]
    assert [each.role for each in read_sheet_as_game(rows).columns] == roles


def test_a_list_of_few_values_that_most_cards_have_is_offered_as_the_faction():
    rows = [["Name", "Rarity", "Bed", "Note"]]
    rows += [[f"Card {n}", "Common" if n % 2 else "Rare", ("Fern", "Moss", "Briar")[n % 3], "later" if n < 2 else ""] for n in range(24)]
    assert [each.role for each in read_sheet_as_game(rows).columns] == ["name", "rarity", "faction", None]
    # A heading that says it comes first, and a list that few cards have is none.
    named = [["Name", "Bed", "Faction"], *([row[0], row[2], row[1]] for row in rows[1:])]
    assert [each.role for each in read_sheet_as_game(named).columns] == ["name", None, "faction"]
    few = [["Name", "Mark"], *([f"Card {n}", "dot" if n < 6 else ""] for n in range(24))]
    assert [each.role for each in read_sheet_as_game(few).columns] == ["name", None]


@pytest.mark.parametrize(("heading", "effect"), [("Rules Text", "Effect"), ("Ability", "Effect"), ("Effect", "Behaviour")])
def test_the_text_of_a_sheet_stays_under_its_heading(heading, effect):
    rows = [["Name", heading, "Cost"], *([f"Card {n}", f"Draw {n} cards, then think about it.", str(n)] for n in range(12))]
    reading = read_sheet_as_game(rows)
    rulebook, intake = taken(reading, rows)
    roles = rulebook.roles
    names = {each.id: each.name for each in rulebook.cards.fields}
    assert (names[roles.printed], names[roles.effect]) == (heading, effect)
    assert list(names.values()) == ["Name", heading, effect, "Cost"]
    assert intake.taken[3].values[roles.printed] == "Draw 3 cards, then think about it."
