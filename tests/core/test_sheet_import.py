"""Sheet imports: every row ends as exactly one of imported, skipped, refused."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from dramok.core.cards import Schema
from dramok.core.cards.sheets.import_context import Game, ImportOptions, NothingMatched
from dramok.core.cards.sheets.sheet_import import plan_rows
from dramok.formats.tables import UnreadableFile, read_table
from tests.conftest import SAMPLES
from tests.core.invented_world import RULEBOOK, VOCABULARY

KNOWS = Game(RULEBOOK.cards, VOCABULARY, "name", "copies", "printed", {}, {})
HEADER = ("Name", "Type", "Bed", "Cost", "Rules")


def test_the_draft_sheet_is_accounted_for_row_by_row(game):
    knows = Game(game.rulebook.cards, game.vocabulary, "name", "copies", "printed", {}, {})
    rows = read_table((SAMPLES / "draft-sheet.csv").read_bytes()).rows
    found = plan_rows(rows, knows, "DS")
    assert (found.rows, len(found.taken), len(found.skipped), len(found.refused)) == (52, 47, 4, 1)
    assert [(s.row, s.why) for s in found.skipped] == [
        (1, "a title above the header"), (2, "a blank line"), (11, "a blank line"), (53, "a total, not a card"),
    ]  # fmt: skip
    assert [(r.row, r.column, r.value, r.mend, r.near) for r in found.refused] == [
        (9, "BED", "Breir", "did you mean Briar?", "Briar"),
    ]  # fmt: skip
    notes = {row.row: row.notes for row in found.taken}
    assert notes[20][0] == "Cost “three” is read as 3"
    assert notes[17][0] == "behaviour not written: its text is printed as it is"
    assert notes[17][1] == "a second card called Cinder Sprig: the first is DS-004"
    assert notes[25][-1] == "no name: its code DS-020 is used"
    values = {row.row: row.values for row in found.taken}
    assert (
        values[5]["copies"] == 3
        and values[4]["copies"] == 3
        and values[14]["bed"] == "moss"
        and values[15]["tags"] == ("climber", "thorned")
    )
    assert values[6]["printed"] == 'When it is pulled up, 2 ribbons to you; "nothing is wasted".'
    near = plan_rows(rows, knows, "DS", ImportOptions(accept_near=True))
    assert (len(near.taken), len(near.refused)) == (48, 0)


cells = st.sampled_from(
    [
        "",
        "Plant",
        "plnt",
        "Fern",
        "Frn",
        "3",
        "x2",
        "three",
        "-1",
        "TOTAL",
        "Larch",
        "upon play this: draw 1",
        "always wrong",
        " ",
    ]
)


@given(st.lists(st.lists(cells, max_size=7), max_size=30), st.integers(0, 3))
def test_no_row_is_lost_or_counted_twice(rows, above):
    sheet = [["Draft"]] * above + [list(HEADER)] + rows
    found = plan_rows(sheet, KNOWS, "X")
    ends = [each.row for part in (found.taken, found.skipped, found.refused) for each in part]
    assert sorted([*ends, found.header]) == list(range(1, len(sheet) + 1)) and found.rows == len(sheet) - 1
    assert len({row.code for row in found.taken}) == len(found.taken)
    assert all(each.mend and each.why for each in found.refused)


def test_written_effects_play_and_prose_prints():
    found = plan_rows(
        [
            HEADER,
            ("A", "Plant", "Fern", "1", "upon play this: draw 1"),
            ("B", "Plant", "Fern", "1", "Draw one."),
        ],
        KNOWS,
        "X",
    )
    assert found.taken[0].values["effect"].abilities and "printed" not in found.taken[0].values
    assert found.taken[1].values["printed"] == "Draw one." and "effect" not in found.taken[1].values


def test_columns_can_be_set_by_hand_and_two_headers_alike_are_said():
    sheet = [("Name", "Cost", "Cost", "Strength"), ("A", "1", "2", "4")]
    found = plan_rows(sheet, KNOWS, "X")
    assert found.taken[0].values["cost"] == 1
    assert found.warnings[0].what == "2 columns are called “Cost”; only column B is taken"
    by_hand = plan_rows(sheet, KNOWS, "X", ImportOptions(columns={1: None, 2: "cost", 3: "height"}))
    assert by_hand.taken[0].values == {"name": "A", "cost": 2, "height": 4}


@pytest.mark.parametrize(
    ("data", "what"),
    [
        (b"", "the file is empty"),
        (b" \r\n ", "the file is empty"),
        (bytes(range(256)) * 20, "this is not a table"),
        (b"PK\x03\x04rest", "the file is damaged, or is not an archive"),
        (b"a" * (51 * 1024 * 1024), "the file has 51 MB; 20 MB are the most"),
        (b'Name,Cost\n"' + b"x" * 300_000, "line 2 can't be read (field larger than field limit (200000))"),
        (b"," * 5000, "line 1 has 5,001 columns"),
    ],
    ids=["empty", "blank", "binary", "workbook", "51 MB", "unclosed quote", "wide"],
)
def test_what_is_no_table_is_refused_plainly(data, what):
    with pytest.raises(UnreadableFile) as refused:
        read_table(data)
    assert refused.value.problem.what == what and refused.value.problem.mend


@pytest.mark.parametrize("encoding", ["utf-8", "utf-8-sig", "utf-16", "cp1252"])
@pytest.mark.parametrize("delimiter", [",", ";", "\t", "|"])
def test_encoding_and_delimiter_are_found(encoding, delimiter):
    rows = [("Name", "Cost", "Note"), ("À l'ombre", "3", "one, two; three" if delimiter == "\t" else "plain")]
    data = "\r\n".join(delimiter.join(row) for row in rows).encode(encoding)
    assert list(read_table(data).rows) == rows


def test_a_sheet_without_a_header_says_what_was_looked_for():
    with pytest.raises(NothingMatched) as refused:
        plan_rows([("alpha", "beta"), ("1", "2")], KNOWS, "X")
    assert "alpha | beta" in refused.value.problem.what and "Cost" in refused.value.problem.mend


def _bounded() -> Game:
    """Two types that bound the same fields otherwise."""
    document = RULEBOOK.cards.model_dump(mode="json")
    tall = {
        "id": "tall", "name": "Tall", "extends": "plant",
        "fields": [{"id": "height", "name": "Height", "kind": "number", "most": 500}, {"id": "name", "name": "Name", "kind": "text", "most": 5}],
    }  # fmt: skip
    document["types"].append(tall)
    return Game(Schema.model_validate(document), VOCABULARY, "name", None, "printed", {}, {}, pictures={"a.png": "f" * 64})


alone = st.tuples(
    st.sampled_from(["Plant", "Tall", "Weather", "", "Tal"]),
    st.sampled_from(["Larch", "Larches, two", "", " Larch "]),
    st.sampled_from(["3", "200", " 200", "5000", "three", "", "x2"]),
    st.sampled_from(["Fern", "fern", "Frn", "", "Moss"]),
    st.sampled_from(["draws a card", "upon play this: draw 1", "upon play: dra", "always wrong", ""]),
    st.sampled_from(["climber", "Climber, night bloom", "", "x" * 200]),
)


@given(st.lists(alone, min_size=1, max_size=12), st.booleans())
def test_a_row_means_the_same_after_any_other_row(rows, near):
    """What was read before is remembered; each row by itself, with nothing to remember, must come out as it does among all."""
    header = ("Type", "Name", "Height", "Bed", "Rules", "Tags")
    knows, wishes = _bounded(), ImportOptions(accept_near=near)

    def told(found):
        taken = {each.row: (each.type, dict(each.values), tuple(n for n in each.notes if "a second card" not in n and "no name" not in n)) for each in found.taken}
        return taken | {each.row: (each.column, each.value, each.why, each.mend, each.near, each.others) for each in found.refused} | {each.row: each.why for each in found.skipped}

    together = told(plan_rows([header, *rows], knows, "X", wishes))
    for number, row in enumerate(rows, 2):
        assert told(plan_rows([header, row], knows, "X", wishes))[2] == together[number], row
