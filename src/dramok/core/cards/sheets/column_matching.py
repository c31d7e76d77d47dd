"""Match the headings of a table file to fields."""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from difflib import SequenceMatcher

from dramok.core.cards.schema.fields import EffectField
from dramok.core.cards.schema.schema import Schema
from dramok.core.problem import fold

TYPE, CODE, SET = "type", "code", "set"
HEADER_WITHIN = 30
NEAR = 0.8
"""The similarity (0 to 1) at which a heading counts as a misspelt field name."""
_WORD = re.compile(r"[^\W_]+")

SYNONYMS = {
    "name": ("title", "card", "card name"),
    CODE: ("id", "card id", "no", "nr", "card code", "number"),
    TYPE: ("kind", "card type"),
    SET: ("expansion", "card set", "series"),
    "effect": ("rules", "rules text", "text", "ability", "abilities", "card text", "effect text"),
    "printed": ("printed text",),
    "copies": ("count", "qty", "quantity", "how many", "amount", "in box"),
    "tags": ("tag", "traits", "keywords"),
}


@dataclass(frozen=True)
class Target:
    """What a column can feed: a field, or the card's type or code."""

    id: str
    name: str

    @staticmethod
    def all_of(schema: Schema) -> list[Target]:
        fields = [Target(field.id, field.name) for field in schema.fields if field.typed]
        return [Target(CODE, "Code"), Target(TYPE, "Type"), Target(SET, "Set"), *fields]


@dataclass(frozen=True)
class FileColumn:
    """`target` is the field id fed by the column, None if it is left out; `name` is the field's name or the heading."""

    index: int
    heading: str
    target: str | None
    name: str
    by_hand: bool = False


def match_columns(
    header: Sequence[str], schema: Schema, by_hand: Mapping[int, str | None] | None = None
) -> tuple[FileColumn, ...]:
    """Every column with its target: set by hand, otherwise the best score; each target is used once."""
    return _matched(header, _Targets(schema), by_hand)


class _Targets:
    """The targets for columns with their names and synonyms, computed once for all candidate header rows."""

    def __init__(self, schema: Schema) -> None:
        effects = {field.id for field in schema.fields if isinstance(field, EffectField)}
        self.names = {target.id: target.name for target in Target.all_of(schema)}
        self.known = [
            (
                ident,
                fold(name),
                SequenceMatcher(b=fold(name)),
                SYNONYMS.get("effect" if ident in effects else ident, ()),
            )
            for ident, name in self.names.items()
        ]
        self.kinds = {fold(each.name) for each in schema.types}

    def scores(self, heading: str) -> Iterator[tuple[str, int]]:
        """The targets that match a heading, with their scores."""
        typed = fold(heading)
        if not typed or len(typed) > 60:
            return
        words = _WORD.findall(typed)
        for ident, name, alike, synonyms in self.known:
            # A column headed by the kind of cards, such as “Tile”, has their names.
            kind = 2 * (ident == "name" and typed in self.kinds)
            score = max(_score(typed, words, ident, name, alike, synonyms), kind)
            if score:
                yield ident, score


def _matched(
    header: Sequence[str], known: _Targets, by_hand: Mapping[int, str | None] | None = None
) -> tuple[FileColumn, ...]:
    targets = known.names
    chosen: dict[int, str | None] = {
        index: target for index, target in (by_hand or {}).items() if target is None or target in targets
    }
    used = {target for target in chosen.values() if target}
    scored = sorted(
        (-score, index, ident)
        for index, heading in enumerate(header)
        for ident, score in known.scores(heading)
    )
    for _, index, ident in scored:
        if index not in chosen and ident not in used:
            chosen[index] = ident
            used.add(ident)
    return tuple(
        FileColumn(
            index, heading, target, targets[target] if target else heading.strip(), index in (by_hand or {})
        )
        for index, heading in enumerate(header)
        for target in [chosen.get(index)]
    )


def find_header(rows: Sequence[Sequence[str]], schema: Schema) -> int | None:
    """The index of the row with the most matching columns (at least two, or the name or code), or None."""
    known = _Targets(schema)
    best, best_count = None, 0
    for index, row in enumerate(rows[:HEADER_WITHIN]):
        targets = [column.target for column in _matched(row[:200], known) if column.target]
        enough = len(targets) >= 2 or any(target in ("name", CODE) for target in targets)
        if enough and len(targets) > best_count:
            best, best_count = index, len(targets)
    return best


def _score(
    typed: str,
    words: Sequence[str],
    ident: str,
    name: str,
    alike: SequenceMatcher[str],
    synonyms: Sequence[str],
) -> int:
    """How well a heading matches a target: 5 equal, 4 a synonym, 3 its last word, 2 one of its words, 1
    similar.

    `alike` is a matcher for the target's `name`, reused for speed.
    """
    if typed in (name, ident):
        return 5
    if typed in synonyms:
        return 4
    if len(words) <= 4 and name in words:
        return 3 if words[-1] == name else 2
    if len(typed) > 3 and abs(len(typed) - len(name)) <= 2:
        alike.set_seq1(typed)
        return int(alike.real_quick_ratio() >= NEAR and alike.quick_ratio() >= NEAR and alike.ratio() >= NEAR)
    return 0
