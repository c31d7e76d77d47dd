"""Guess a new game from a table file: header row, kinds of columns, card types.

The user can correct every guess (`Set`); the rulebook is built from the result.
"""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any

from dramok.core.cards.schema.ids import id_from, name_apart
from dramok.core.cards.schema.picture_packs import pack_for
from dramok.core.cards.sheets.column_matching import CODE, HEADER_WITHIN, TYPE
from dramok.core.cards.sheets.schema_guess import GUESSED, field_document, kind_of, list_document
from dramok.core.problem import Problem, fold

EFFECT, OUT = "effect", "out"
COLUMN_KINDS = (*GUESSED, EFFECT, TYPE, CODE, OUT)
"""The kinds of column: a kind of field, rules text, the card's type or code, or left out."""
ROLES = ("name", "cost", "rarity", "faction", "copies", "tags", "stat")
LONG = 25
"""Characters from which a text column without a role counts as rules text."""
MOST_TYPES, MOST_COLUMNS, MOST_STATS, MOST_SAMPLES = 20, 200, 12, 4
_WORDS: Mapping[str, tuple[str, ...]] = {
    "name": ("name", "title", "card", "card name"),
    "cost": ("cost", "price", "costs", "pay"),
    "rarity": ("rarity", "rareness"),
    "faction": ("faction", "side", "colour", "color", "clan", "house", "suit", "element", "team", "tribe", "guild", "affinity"),
    "copies": ("copies", "count", "qty", "quantity", "how many", "amount", "in box", "times"),
    "tags": ("tags", "tag", "traits", "keywords"),
    EFFECT: ("effect", "rules", "rules text", "text", "ability", "abilities", "card text", "effect text", "rule", "what it does", "does"),
    TYPE: ("type", "card type", "kind", "category"),
    CODE: ("code", "id", "no", "nr", "number", "card id", "card code", "#"),
}  # fmt: skip
_NO_STAT = frozenset({
    "worth", "mine", "rating", "budget", "balance", "value", "estimate", "price", "order", "page", "line", "row", "version", "year",
    "priority", "weight", "index",
})  # fmt: skip
"""Words in headings of number columns that are not stats: estimates of the user, and numbers for sorting."""
MOST_FACTIONS = 12
_TIMES = re.compile(r"[x×]\s*(\d+)|(\d+)\s*[x×]", re.IGNORECASE)


@dataclass(frozen=True)
class SheetColumn:
    """One column as guessed.

    `kind` is one of COLUMN_KINDS, `role` one of ROLES or None; `filled` cells have `different` values of at
    most `longest` characters, `samples` the first of them.
    """

    index: int
    heading: str
    name: str
    kind: str
    role: str | None
    filled: int
    different: int
    longest: int
    samples: tuple[str, ...]


@dataclass(frozen=True)
class ColumnOverride:
    """Corrections of a column; None: as guessed. A `role` of "" means no role."""

    name: str | None = None
    kind: str | None = None
    role: str | None = None


@dataclass(frozen=True)
class SheetReading:
    """`header` is the header's row number; `rows` the number of lines below it.

    `types` are the names of the card types.
    """

    header: int
    rows: int
    columns: tuple[SheetColumn, ...]
    types: tuple[str, ...]

    def column(self, role: str) -> SheetColumn | None:
        return next((each for each in self.columns if role in (each.role, each.kind)), None)


@dataclass(frozen=True)
class FromSheet:
    """The rulebook document of a guess, and the field (or `type`, `code`) that each column feeds."""

    rulebook: dict[str, Any]
    targets: Mapping[int, str | None]


class NoCards(ValueError):
    """No line of the file can become a card."""

    def __init__(self, problem: Problem) -> None:
        super().__init__(problem.what)
        self.problem = problem


def read_sheet_as_game(
    rows: Sequence[Sequence[str]], header: int | None = None, wishes: Mapping[int, ColumnOverride] | None = None
) -> SheetReading:
    """Guess the columns of a table file. `header`: the header's row number if known. Raises NoCards."""
    top = _header(rows) if header is None else header - 1
    if not 0 <= top < len(rows) or not any(any(map(str.strip, row)) for row in rows[top + 1 :]):
        raise NoCards(
            Problem(
                where="sheet",
                what="there is no line below the header that could be a card",
                mend="choose a sheet with a header line and a line for each card, or set another header",
            )
        )
    wide = min(max(map(len, rows[top:])), MOST_COLUMNS)
    columns = [_column(rows, top, index) for index in range(wide)]
    columns = [each for each in columns if each.filled]
    columns = _with_wishes(_with_roles(columns), wishes or {}, rows, top)
    return SheetReading(top + 1, len(rows) - top - 1, tuple(columns), _types(columns, rows, top))


def _header(rows: Sequence[Sequence[str]]) -> int:
    """The index of the most likely header: many different words, no numbers, lines below it."""
    best, best_score = 0, -1.0
    for index, row in enumerate(rows[:HEADER_WITHIN]):
        cells = [fold(cell) for cell in row if cell.strip()]
        below = rows[index + 1] if index + 1 < len(rows) else ()
        words = [cell for cell in cells if not re.fullmatch(r"[\d.,%+-]+", cell) and len(cell) <= 60]
        known = sum(any(_named(cell, words_) for words_ in _WORDS.values()) for cell in words)
        score = len(set(words)) + 2 * known - 2 * (len(cells) - len(words)) - 0.1 * index
        if cells and any(cell.strip() for cell in below) and score > best_score + 0.5:
            best, best_score = index, score
    return best


def _cells(rows: Sequence[Sequence[str]], top: int, index: int) -> list[str]:
    return [row[index].strip() if index < len(row) else "" for row in rows[top + 1 :]]


def _column(rows: Sequence[Sequence[str]], top: int, index: int) -> SheetColumn:
    heading = rows[top][index].strip() if index < len(rows[top]) else ""
    values = [cell for cell in _cells(rows, top, index) if cell]
    name = " ".join(heading.split())[:60] or f"Column {index + 1}"
    different = list(dict.fromkeys(values))
    samples = tuple(each[:60] for each in different[:MOST_SAMPLES])
    kind = kind_of(values) if values else OUT
    longest = max(map(len, values), default=0)
    return SheetColumn(index, heading, name, kind, None, len(values), len(different), longest, samples)


def _named(heading: str, words: Sequence[str]) -> int:
    """How well a (folded) heading matches words: 3 equal, 2 ends with one, 1 contains one, 0 none."""
    if heading in words:
        return 3
    parts = re.findall(r"\w+", heading)
    if len(parts) > 4 or not parts:
        return 0
    return 2 if parts[-1] in words else 1 if any(part in words for part in parts) else 0


def _with_roles(columns: Sequence[SheetColumn]) -> list[SheetColumn]:
    """Assign each role to the column whose heading matches best and whose values fit; a name is required."""
    found = {each.index: each for each in columns}
    free = set(found)
    for part, words in _WORDS.items():
        can = [
            (_named(fold(each.heading), words), -each.index)
            for each in columns
            if each.index in free and _can(each, part)
        ]
        score, index = max(can, default=(0, 0))
        if score:
            free.discard(-index)
            found[-index] = _playing(found[-index], part)
    if not any(each.role == "name" for each in found.values()):
        texts = [found[index] for index in sorted(free) if found[index].kind in ("text", "choice", "tags")]
        first = next(iter(texts or [found[index] for index in sorted(free)] or list(found.values())))
        found[first.index] = _playing(first, "name")
        free.discard(first.index)
    if not any(each.kind == EFFECT for each in found.values()):
        long = [
            found[index] for index in free if found[index].kind == "text" and found[index].longest >= LONG
        ]
        if long:
            told = max(long, key=lambda each: (each.longest, -each.index))
            found[told.index] = _playing(told, EFFECT)
            free.discard(told.index)
    faction = _faction(found, free)
    if faction is not None:
        found[faction] = _playing(found[faction], "faction")
        free.discard(faction)
    stats = [
        index
        for index in sorted(free)
        if found[index].kind == "number" and _NO_STAT.isdisjoint(re.findall(r"\w+", fold(found[index].heading)))
    ][:MOST_STATS]
    return [replace(each, role="stat") if each.index in stats else each for each in found.values()]


def _faction(found: Mapping[int, SheetColumn], free: Collection[int]) -> int | None:
    """The first choice column with few values that most cards have, if no heading names the faction."""
    if any(each.role == "faction" for each in found.values()):
        return None
    most = max((each.filled for each in found.values()), default=0)
    can = (
        index
        for index in sorted(free)
        if found[index].kind == "choice"
        and 2 <= found[index].different <= MOST_FACTIONS
        and 10 * found[index].filled >= 6 * most
    )
    return next(can, None)


def _can(column: SheetColumn, part: str) -> bool:
    if part in ("cost", "copies"):
        times = all(_TIMES.fullmatch(each) or each.isdigit() for each in column.samples)
        return column.kind == "number" or (part == "copies" and times)
    if part in ("rarity", "faction"):
        return column.kind in ("choice", "text") and column.longest <= 60 and column.different <= 60
    if part == TYPE:
        return column.kind in ("choice", "text") and column.longest <= 60 and column.different <= MOST_TYPES
    if part == CODE:
        return column.different == column.filled and column.longest <= 40
    return column.kind != "picture"


def _playing(column: SheetColumn, part: str) -> SheetColumn:
    if part in (EFFECT, TYPE, CODE):
        return replace(column, kind=part, role=None)
    kinds = {"name": "text", "cost": "number", "copies": "number", "rarity": "choice", "faction": "choice", "tags": "tags"}  # fmt: skip
    return replace(column, kind=kinds[part], role=part)


def _with_wishes(
    columns: Sequence[SheetColumn], wishes: Mapping[int, ColumnOverride], rows: Sequence[Sequence[str]], top: int
) -> list[SheetColumn]:
    found = []
    taken = {wish.role for wish in wishes.values() if wish.role and wish.role != "stat"}
    for each in columns:
        wish = wishes.get(each.index)
        if each.role in taken and (wish is None or wish.role != each.role):
            each = replace(each, role=None)
        if wish is not None:
            name = " ".join((wish.name or each.name).split())[:60] or each.name
            kind = wish.kind if wish.kind in COLUMN_KINDS else each.kind
            role = each.role if wish.role is None else wish.role if wish.role in ROLES else None
            each = replace(each, name=name, kind=kind, role=role)
            if wish.role and wish.role in ROLES and wish.role != "stat":
                each = _playing(each, wish.role)
            elif role and kind not in _KINDS_OF.get(role, ()):
                each = replace(each, role=None)
        found.append(each)
    found = _once(found)
    if not any(each.role == "name" for each in found):
        first = next((each for each in found if each.kind not in (OUT, TYPE, CODE)), None)
        if first is None:
            raise NoCards(
                Problem(
                    where="columns", what="no column is left that names a card", mend="keep one of them in"
                )
            )
        found = [_playing(each, "name") if each is first else each for each in found]
    return found


def _once(columns: Sequence[SheetColumn]) -> list[SheetColumn]:
    """Each role, the type and the code are assigned to one column: the first that requested it."""
    roles: set[str | None] = set()
    kinds: set[str] = set()
    found = []
    for each in columns:
        if each.role != "stat" and each.role in roles:
            each = replace(each, role=None)
        if each.kind in (TYPE, CODE) and each.kind in kinds:
            each = replace(each, kind="text")
        roles |= {each.role} - {None}
        kinds.add(each.kind)
        found.append(each)
    return found


_KINDS_OF = {
    "name": ("text",), "cost": ("number",), "copies": ("number",), "stat": ("number",), "rarity": ("choice",), "faction": ("choice",), "tags": ("tags",),
}  # fmt: skip


def _types(columns: Sequence[SheetColumn], rows: Sequence[Sequence[str]], top: int) -> tuple[str, ...]:
    column = next((each for each in columns if each.kind == TYPE), None)
    if column is None:
        return ()
    names: dict[str, str] = {}
    counts = Counter(fold(cell) for cell in _cells(rows, top, column.index) if cell)
    for cell in _cells(rows, top, column.index):
        if cell:
            names.setdefault(fold(cell), " ".join(cell.split())[:60])
    return tuple(names[each] for each, _ in counts.most_common(MOST_TYPES))


def rulebook_of(reading: SheetReading, rows: Sequence[Sequence[str]]) -> FromSheet:
    """The rulebook that can hold every cell of the file.

    Columns used by only one card type become fields of that type.
    """
    top = reading.header - 1
    targets: dict[int, str | None] = {}
    used = {CODE, TYPE, "set", "exists"}
    lists: list[dict[str, Any]] = []
    fields: list[tuple[SheetColumn, dict[str, Any]]] = []
    for each in reading.columns:
        if each.kind in (OUT, TYPE, CODE):
            targets[each.index] = None if each.kind == OUT else each.kind
            continue
        values = [cell for cell in _cells(rows, top, each.index) if cell]
        each = replace(each, name=name_apart(each.name, [str(made["name"]) for _, made in fields]))
        list_id = (
            id_from(each.name, {each["id"] for each in lists}, "list") if each.kind in ("choice",) else ""
        )
        if each.kind == EFFECT:
            # The text of the file keeps its heading and is printed unchanged. A separate field next to it takes the effect lines.
            printed: dict[str, Any] = {
                "id": id_from(each.name, used, "printed"),
                "name": each.name,
                "kind": "text",
                "long": True,
            }
            used.add(str(printed["id"]))
            taken = [*(one.name for one in reading.columns), *(str(made["name"]) for _, made in fields)]
            name = name_apart("Behaviour" if "effect" in map(fold, taken) else "Effect", taken)
            effect = {"id": id_from(name, used, "effect"), "name": name, "kind": "effect"}
            used.add(effect["id"])
            targets[each.index] = effect["id"]
            fields += [(replace(each, role="printed"), printed), (each, effect)]
            continue
        made = field_document(each.name, each.kind, values, used, list_id)
        if each.role == "name":
            made = {**made, "required": True, "most": max(200, *(len(value) for value in values))}
            made.pop("long", None)
        if each.role == "copies":
            made = {
                "id": made["id"],
                "name": each.name,
                "kind": "number",
                "least": 0,
                "most": 999,
                "default": "1",
            }
        if list_id:
            lists.append(list_document(each.name, values, list_id))
        used.add(made["id"])
        targets[each.index] = made["id"]
        fields.append((each, made))
    cards = {"types": _type_documents(reading, rows, fields), "lists": lists}
    return FromSheet({"cards": cards, "roles": _roles(fields)}, targets)


def _roles(fields: Sequence[tuple[SheetColumn, Mapping[str, Any]]]) -> dict[str, Any]:
    def playing(role: str) -> str | None:
        return next((made["id"] for column, made in fields if column.role == role), None)

    effect = next((made["id"] for _, made in fields if made["kind"] == "effect"), None)
    stats = [made["id"] for column, made in fields if column.role == "stat"]
    return {
        "name": playing("name"), "cost": playing("cost"), "rarity": playing("rarity"), "faction": playing("faction"), "effect": effect,
        "printed": playing("printed"), "tags": playing("tags"), "copies": playing("copies"), "damage_limit": None, "stats": stats,
    }  # fmt: skip


def _type_documents(
    reading: SheetReading, rows: Sequence[Sequence[str]], fields: Sequence[tuple[SheetColumn, dict[str, Any]]]
) -> list[dict[str, Any]]:
    every = [made for _, made in fields]
    if not reading.types:
        return [{"id": "card", "name": "Card", "fields": every}]
    column = next(each for each in reading.columns if each.kind == TYPE)
    top = reading.header - 1
    of_type = [fold(cell) for cell in _cells(rows, top, column.index)]
    ids: dict[str, str] = {}
    for name in reading.types:
        ids[fold(name)] = id_from(name, {"card", *ids.values()}, "type")
    own: dict[str, list[dict[str, Any]]] = {ident: [] for ident in ids.values()}
    shared = []
    for each, made in fields:
        filled = {kind for kind, cell in zip(of_type, _cells(rows, top, each.index), strict=True) if cell}
        alone = filled.pop() if len(filled) == 1 and len(ids) > 1 and each.role in (None, "stat") else None
        if alone in ids and made["kind"] != "effect":
            own[ids[alone]].append(made)
        else:
            shared.append(made)
    base = {"id": "card", "name": id_free("Card", reading.types), "abstract": True, "fields": shared}
    return [
        base,
        *({"id": ids[fold(name)], "name": name, "extends": "card", "fields": own[ids[fold(name)]], "picture": pack_for(name)} for name in reading.types),
    ]  # fmt: skip


def id_free(name: str, taken: Sequence[str]) -> str:
    """A name for the common base type that no other type has."""
    return name if fold(name) not in {fold(each) for each in taken} else f"Any {name.lower()}"
