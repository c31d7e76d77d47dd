"""Sets of rows: the results of query conditions."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence

from dramok.core.cards.query.query_source import Facts, Making, Rows
from dramok.core.cards.schema.card import Value


def on_paper(facts: Facts, run: str | None, state: str) -> Rows:
    """Rows whose faces match their last print, or do not."""
    return {row for row, held in facts.on_paper(run).items() if held == state}


def every(facts: Facts) -> Rows:
    return set(range(len(facts.cards)))


def all_of(made: Iterable[Making]) -> Making:
    held = tuple(made)

    def make(facts: Facts) -> Rows:
        if not held:
            return every(facts)
        rows = held[0](facts)
        for each in held[1:]:
            rows = rows & each(facts) if rows else rows
        return rows

    return make


def any_of(made: Iterable[Making]) -> Making:
    held = tuple(made)
    return lambda facts: set().union(*(each(facts) for each in held))


def rows_where(column: Sequence[Value | None], test: Callable[[Value | None], bool]) -> Rows:
    return {row for row, value in enumerate(column) if test(value)}


def yes_or_no(ident: str, wanted: bool) -> Making:
    return lambda facts: rows_where(facts.column(ident), lambda value: bool(value) == wanted)


def among(facts: Facts, ident: str, wanted: frozenset[str], right: bool, several: bool) -> Rows:
    """Rows with one of the values in a choice field, single or multiple; or rows with none of them."""
    column = enumerate(facts.column(ident))
    if several:
        found = {row for row, value in column if isinstance(value, tuple) and not wanted.isdisjoint(value)}
    else:
        found = {row for row, value in column if value in wanted}
    return found if right else every(facts) - found


def texts_match(facts: Facts, ident: str, wanted: str, whole: bool, right: bool) -> Rows:
    """Rows whose text equals or contains the wanted (folded) text; or the other rows."""
    column = enumerate(facts.folded(ident))
    if whole:
        found = {row for row, texts in column if wanted in texts}
    else:
        found = {row for row, texts in column if texts and any([wanted in text for text in texts])}
    return found if right else every(facts) - found
