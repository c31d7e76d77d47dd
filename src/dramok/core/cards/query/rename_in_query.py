"""Update queries when entities they name are renamed."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from itertools import chain

from dramok.core.cards.query.query import Query, read_query
from dramok.core.cards.query.query_names import Meant, Names
from dramok.core.cards.schema.lexer import Unreadable, tokens
from dramok.core.problem import fold

JOINING = frozenset({"and", "empty", "from", "has", "in", "is", "lacks", "no", "not", "or", "to", "yes"})


def renamed_query(text: str, before: Names, after: Names, moved: Mapping[Meant, Meant]) -> str:
    """A query with every name as in `after`; entities in `moved` are replaced by others.

    An unreadable query, or one that could not keep its meaning, is unchanged.
    """
    read = _read(text, before)
    if read is None or not read.named:
        return text
    wanted = [moved.get(each.thing, each.thing) for each in read.named]
    every = frozenset(range(len(wanted)))
    # Keep the typed text if it still means the same; otherwise write the new names, quoted if needed.
    written = (_with_names(text, read, wanted, before, after, quoted) for quoted in (frozenset[int](), *map(_one, every), every))
    for said in chain((text,), written):
        now = _read(said, after)
        if now and [each.thing for each in now.named] == wanted and len(now.parts) == len(read.parts):
            return said
    return text


def _one(place: int) -> frozenset[int]:
    return frozenset({place})


def _read(text: str, names: Names) -> Query | None:
    try:
        return read_query(text, names)
    except Unreadable:
        return None


def _with_names(
    text: str, read: Query, wanted: Sequence[Meant], before: Names, after: Names, quoted: frozenset[int]
) -> str:
    put, at = [], 0
    for place, (each, thing) in enumerate(zip(read.named, wanted, strict=True)):
        typed, name = text[each.start : each.end], after.of(thing)
        if name is not None and (place in quoted or name != before.of(each.thing)):
            bare = '"' in name or (place not in quoted and _is_plain(name))
            typed = name if bare else f'"{name}"'
        put += [text[at : each.start], typed]
        at = each.end
    return "".join([*put, text[at:]])


def _is_plain(name: str) -> bool:
    """Whether a name consists of plain words, without operators of the language."""
    return all(token.kind == "word" and fold(token.text) not in JOINING for token in tokens(name))
