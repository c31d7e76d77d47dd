"""Text tables: with any separator and quotes, cells are split exactly where they were joined."""

from __future__ import annotations

import csv
import io

import pytest
from hypothesis import example, given
from hypothesis import strategies as st

from dramok.formats.tables import unescaped
from dramok.formats.text_table import SEPARATORS, TextColumn, TextTable, text_of

HEADS = ("code", "title", "text")
separators = st.sampled_from([*SEPARATORS, "~", "#", "::", "||", " | ", "=>", "  ", "aba", " "])
texts = st.lists(st.sampled_from(["Fern", "a", "b", "|", ":", " ", ";", ",", "~", "\t", "\n", "\r", "\r\n", '"', "=1+1", "-2", "'", "é", "🌿", "\\n"]), max_size=5).map("".join)
cards = st.lists(st.tuples(texts, texts, texts), min_size=1, max_size=4)


def made(rows, **asked) -> tuple[str, list[str]]:
    table = TextTable(name="Ours", columns=tuple(TextColumn(heading=head, front=(head,)) for head in HEADS), **asked)
    return text_of(table, [(dict(zip(HEADS, row, strict=True)).__getitem__, 1) for row in rows])


def plain(text: str) -> str:
    return text.replace("\r\n", "\n").replace("\r", "\n")


def cut_apart(text: str, cut: str) -> list[list[str]]:
    """Lines of cells, quoted where they need it, by a plain reading sign after sign: `csv` knows no separator of several signs."""
    rows, cells, cell, at = [], [], "", 0
    while at < len(text):
        if cell == "" and text[at] == '"':
            at += 1
            while True:
                if text[at] == '"' and text[at + 1 : at + 2] == '"':
                    cell, at = cell + '"', at + 2
                elif text[at] == '"':
                    at += 1
                    break
                else:
                    cell, at = cell + text[at], at + 1
            assert text.startswith((cut, "\n"), at), "nothing stands behind a quote but a separator or an end"
        elif text.startswith(cut, at):
            cells, cell, at = [*cells, cell], "", at + len(cut)
        elif text[at] == "\n":
            rows, cells, cell, at = [*rows, [*cells, cell]], [], "", at + 1
        else:
            cell, at = cell + text[at], at + 1
    return rows


@given(cards, separators, st.sampled_from(["needed", "always"]), st.booleans())
@example([("a|", "b", "|c")], "||", "needed", True)
def test_what_is_quoted_comes_back_as_it_was(rows, separator, quotes, guard):
    text, notes = made(rows, separator=separator, quotes=quotes, guard=guard)
    head, *found = cut_apart(text, SEPARATORS.get(separator, separator))
    assert head == list(HEADS)
    typed = [[plain(cell) for cell in row] for row in rows]
    assert [[unescaped(cell) if guard else cell for cell in row] for row in found] == typed
    assert len(notes) == (found != typed), "apostrophes are told, and nothing else"


@given(cards, st.sampled_from(["tab", "comma", "semicolon", "bar"]))
def test_a_table_of_one_sign_is_a_common_one(rows, separator):
    text, _ = made(rows, separator=separator, guard=False)
    found = list(csv.reader(io.StringIO(text, newline=""), delimiter=SEPARATORS[separator]))
    assert found == [list(HEADS), *([plain(cell) for cell in row] for row in rows)]


@given(cards, separators, st.sampled_from(["keep", "blank", "escape"]), st.sampled_from(["lf", "crlf"]))
def test_without_quotes_each_line_has_its_cells_and_losses_are_reported(rows, separator, newlines, line_end):
    cut, end = SEPARATORS.get(separator, separator), "\r\n" if line_end == "crlf" else "\n"
    text, notes = made(rows, separator=separator, quotes="never", newlines=newlines, line_end=line_end, guard=False)
    assert text.endswith(end)
    lines = text.removesuffix(end).split(end)
    assert len(lines) == len(rows) + 1 and not any(each in line for line in lines for each in "\r\n")
    found = [line.split(cut) for line in lines]
    assert [len(cells) for cells in found] == [3] * len(lines)
    meant = [[plain(cell).replace("\n", {"keep": "\n", "blank": " ", "escape": "\\n"}[newlines]) for cell in row] for row in rows]
    assert bool(notes) == (found[1:] != meant), "what is not as it was is told, and nothing else"


@pytest.mark.parametrize(
    ("cell", "separator", "stands"),
    [
        ("a b", "tab", "a b"), ("a\tb", "tab", "a b"), ("a b", " ", "a\u00a0b"), ("a   b", "  ", "a\u00a0 b"), ("a|", "||", "a"), ("|a", "||", "a"), ("a||b", "||", "a b"),
        ("one\rtwo", ";", "one two"), ("x=", "=>", "x"), (">x", "=>", "x"),
    ],
)  # fmt: skip
def test_cells_without_quotes_by_example(cell, separator, stands):
    text, _ = made([("c", cell, "t")], separator=separator, quotes="never", header=False, guard=False)
    assert text.removesuffix("\n").split(SEPARATORS.get(separator, separator)) == ["c", stands, "t"]
