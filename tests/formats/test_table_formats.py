"""The table formats: an export imported again gives the same table, with generated tables."""

from __future__ import annotations

import io
import json

import openpyxl
import pytest
from hypothesis import example, given
from hypothesis import strategies as st

from dramok.core.text_checks import text_fault
from dramok.formats.table_formats import FORMS
from dramok.formats.tables import read_table

texts = st.text(st.characters(codec="utf-8", exclude_categories=("Cc", "Cs", "Zl", "Zp", "Zs")), max_size=20)
cells = st.one_of(
    texts,
    st.integers(-999, 999),
    st.booleans(),
    st.lists(st.sampled_from(["fern", "moss"]), min_size=1, max_size=2),
)
HEAD = ("Code", "What", "More")


def typed(cell) -> str:
    if isinstance(cell, bool):
        return "yes" if cell else "no"
    return ", ".join(cell) if isinstance(cell, list) else str(cell)


@pytest.mark.parametrize("ending", FORMS)
def test_a_table_of_any_format_is_read_back_as_it_was_typed(ending):
    form = FORMS[ending]
    assert form.ending == ending and "/" in form.media

    @given(
        st.lists(
            st.tuples(st.from_regex(r"[A-Z]{2}-[0-9]{3}", fullmatch=True), cells, cells),
            min_size=1,
            max_size=5,
        )
    )
    def comes_back(rows):
        data = form.write("Ours", HEAD, iter(rows))
        assert isinstance(data, bytes)
        table = read_table(data)
        if ending == "json":
            documents = json.loads(data)
            # What is empty is left out, but for the first, which names every column.
            assert tuple(documents[0]) == HEAD == tuple(table.rows[0])
            assert [{head: cell for head, cell in each.items() if cell is not None} for each in documents] == [
                {head: cell for head, cell in zip(HEAD, row, strict=True) if cell != ""} for row in rows
            ]
            return
        head, *found = table.rows
        assert tuple(head) == HEAD
        assert [[*row, *[""] * (3 - len(row))] for row in found] == [
            [typed(cell) for cell in row] for row in rows
        ]

    comes_back()


def test_numbers_lists_and_yes_are_of_their_own_form_only_where_the_format_has_one():
    row = ("RS-001", 3, ["a", "b"])
    assert b'RS-001,3,"a, b"' in FORMS["csv"].write("t", HEAD, [row])
    assert FORMS["csv"].write("t", HEAD, [row]).startswith("\ufeff".encode()), (
        "spreadsheets take it for UTF-8"
    )
    assert b"RS-001\t3\ta, b" in FORMS["tsv"].write("t", HEAD, [row])
    assert json.loads(FORMS["json"].write("t", HEAD, [("RS-001", 3, ["a", "b"]), ("RS-002", "", True)])) == [
        {"Code": "RS-001", "What": 3, "More": ["a", "b"]},
        {"Code": "RS-002", "More": True},
    ]


escapes = st.lists(
    st.sampled_from(["_xD83D_", "_xDE00_", "_xD800_", "_xdfff_", "_x0000_", "_x0041_", "_x005F_", "_x000D_", "_x000A_", "_xZZ_", "_x", "Fern", " ", "é", "🌿", "_"]), min_size=1, max_size=5
).map("".join)  # fmt: skip


def workbook_of(*texts: str) -> bytes:
    book = openpyxl.Workbook()
    for text in ("Name", *texts):
        book.active.append([text, 1])
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


@given(st.lists(escapes, min_size=1, max_size=4))
def test_what_a_workbook_writes_by_number_becomes_text_that_can_be_kept(texts):
    """Half surrogates and characters that no text may have are imported as something that can be stored and shown."""
    found = read_table(workbook_of(*texts))
    for row, text in zip(found.rows[1:], texts, strict=True):
        cell = row[0]
        assert text_fault(cell) is None, text
        cell.encode()
    # And what we write ourselves comes back, though it looks like that.
    again = read_table(FORMS["xlsx"].write("Ours", ["Name", "More"], [[text, "x"] for text in texts]))
    assert [row[0] for row in again.rows[1:]] == texts


@given(st.lists(st.text(st.characters(codec="utf-8") | st.sampled_from("\x00\x07\x0b\x1f\x7f\x85\u2028\ufdd0\ufffe\uffff\r\n\t"), max_size=6), min_size=1, max_size=4), st.text(max_size=40))
@example(["a\ufffeb", "\uffff"], "Ours\ufffe")
def test_a_workbook_holds_signs_that_its_xml_can_not_and_can_always_be_opened(texts, title):
    found = read_table(FORMS["xlsx"].write(title, ["Name", "End"], [[text, "x"] for text in texts]))
    assert [row[0] for row in found.rows[1:]] == [text.replace("\x00", "").replace("\r\n", "\n") for text in texts]


@pytest.mark.parametrize(
    ("written", "read"),
    [
        ("_x0041_", "A"), ("_xD83C__xDF3F_ leaf", "🌿 leaf"), ("a_xD800_b", "a\ufffdb"), ("_xDF3F__xD83C_", "\ufffd\ufffd"), ("a_x0000_b", "ab"),
        ("a_x000D__x000A_b", "a\nb"), ("_x005F_x0041_", "_x0041_"), ("_xD83D_🌿", "\ufffd🌿"),
    ],
)  # fmt: skip
def test_signs_of_a_workbook_by_example(written, read):
    assert read_table(workbook_of(written)).rows[1][0] == read
