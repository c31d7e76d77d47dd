"""Completions for a query: fields, operators, values, flags, decks."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from dramok.core.cards.query.flags import FLAGS
from dramok.core.cards.query.query import COLUMNS
from dramok.core.cards.query.query_names import Names
from dramok.core.cards.query.query_parser import LONGEST_NAME
from dramok.core.cards.schema.fields.base import Compared
from dramok.core.cards.schema.lexer import Token, tokens
from dramok.core.cards.schema.schema import Schema
from dramok.core.problem import fold

MOST_OFFERS = 24
_WITH_EMPTY = {"is", "not", "=", "!="}
_SIGNS = {"is", "=", "!=", "<", "<=", ">", ">=", "has", "lacks", "not"}


@dataclass(frozen=True)
class Offer:
    """`text` replaces the characters `start` to `end`; `kind` is its category, `help` its meaning."""

    text: str
    kind: str
    help: str
    start: int
    end: int


def offers(text: str, caret: int, names: Names) -> list[Offer]:
    """Completions at a caret position (characters from the start), best first."""
    before = tokens(text[:caret])
    if not before or before[-1].end != caret or before[-1].kind not in ("word", "quoted"):
        return [Offer(_quoted(name), kind, told, caret, caret) for kind, name, told in _after(before, names)][
            :MOST_OFFERS
        ]
    found: dict[str, Offer] = {}
    # The typed words may begin a name of several words: the longest match comes first.
    for count in range(min(LONGEST_NAME, len(before)), 0, -1):
        run = before[-count:]
        typed = fold(text[run[0].start : caret]).strip('"')
        kinds = [each for each in _after(before[:-count], names) if fold(each[1]) != typed]
        begin = [each for each in kinds if fold(each[1]).startswith(typed)]
        hold = [each for each in kinds if typed in fold(each[1]) and each not in begin] if count == 1 else []
        for kind, name, told in (*begin, *hold):
            found.setdefault(name, Offer(_quoted(name), kind, told, run[0].start, caret))
    return list(found.values())[:MOST_OFFERS]


def _quoted(name: str) -> str:
    return (
        f'"{name}"' if '"' not in name and any(not (c.isalnum() or c in " -'’_<>=!") for c in name) else name
    )


def _after(settled: list[Token], names: Names) -> list[tuple[str, str, str]]:
    words = [fold(token.text) for token in settled]
    schema = names.schema
    if words[-1:] == ["deck"] and words[-2:-1] == ["in"]:
        return [("deck", name, "") for name in names.decks.values()]
    if words[-1:] == ["set"] and words[-2:-1] == ["in"]:
        return [("set", name, "") for name in names.sets.values()]
    if words[-2:] == ["changed", "since"]:
        return [("mark", name, "") for name in names.marks.values()]
    if words[-2:] in (["printed", "in"], ["stale", "since"]):
        return [("run", name, "") for name in names.runs.values()]
    if words[-1:] == ["in"]:
        return [("word", "deck", "cards of one deck"), ("word", "set", "cards of one set")]
    field = _compared(words, schema)
    if field is not None:
        empty = [("word", "empty", "nothing is filled in")] if words[-1] in _WITH_EMPTY else []
        return [*_values(field, names), *empty]
    if words[-1:] in (["from"], ["to"]):
        return []  # a free value comes next
    if _begun(settled):
        return [("word", "to", "up to which")]
    named = _named(words, schema)
    if named is not None:
        return _signs(named, schema)
    return [
        *(("field", each.name, each.help) for each in schema.fields if each.searched),
        *(("flag", flag, told) for flag, told in FLAGS.items()),
        *(("field", each, "") for each in COLUMNS),
        ("word", "in deck", "cards of one deck"), ("word", "in set", "cards of one set"), ("word", "changed since", "cards that are not as they were at a mark"), ("word", "printed in", "cards of a print run"), ("word", "stale since", "cards of a print run whose faces are not as they were printed"), ("word", "not", "turns the next condition round"), ("word", "or", "one or the other"),
    ]  # fmt: skip


def _begun(settled: list[Token]) -> bool:
    """Whether the first of two values was typed; it may have several tokens, such as a date."""
    at = len(settled)
    while at and settled[at - 1].kind != "word":
        at -= 1
    return 0 < at < len(settled) and fold(settled[at - 1].text) == "from"


def _named(words: list[str], schema: Schema) -> str | None:
    """The field whose name ends the words."""
    fields = {fold(field.name): field.id for field in schema.fields} | {each: each for each in COLUMNS}
    for count in range(min(6, len(words)), 0, -1):
        if " ".join(words[-count:]) in fields:
            return fields[" ".join(words[-count:])]
    return None


def _compared(words: list[str], schema: Schema) -> str | None:
    """The field of the comparison if a value comes next: after an operator, or after a comma in a list of values."""
    at = len(words)
    if at and words[-1] == ",":
        while at and words[at - 1] not in _SIGNS:
            at -= 1
    while at and words[at - 1] in _SIGNS:
        at -= 1
    return _named(words[:at], schema) if at < len(words) and at else None


def _values(ident: str, names: Names) -> Iterable[tuple[str, str, str]]:
    schema = names.schema
    if ident == "type":
        return [("value", each.name, "") for each in schema.types if not each.abstract]
    if ident == "set":
        return [("value", name, "") for name in names.sets.values()]
    field = schema.field(ident)
    choices = schema.choices(field)
    if choices is not None:
        return [("value", value.name, "") for value in choices.offered]
    return (
        [("value", each, "") for each in ("yes", "no")]
        if field is not None and field.compared == "yesno"
        else []
    )


_COMPARING: dict[Compared, tuple[str, ...]] = {
    "number": ("is", ">=", "<=", ">", "<", "is not", "from"),
    "ordered": ("is", ">=", "<=", ">", "<", "is not", "from"),
    "choice": ("is", "is not"),
    "yesno": ("is", "is not"),
    "choices": ("has", "lacks", "is", "is not"),
    "text": ("has", "lacks", "is", "is not"),
    "effect": ("has", "lacks"),
}


def _signs(ident: str, schema: Schema) -> list[tuple[str, str, str]]:
    field = schema.field(ident)
    how: Compared = (
        field.compared
        if field
        else "number"
        if ident in ("verdict", "revision")
        else "choice"
        if ident in ("type", "set")
        else "text"
    )
    return [("compare", sign, "") for sign in _COMPARING[how]]
