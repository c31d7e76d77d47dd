"""Import a table file: as new cards of a set, or as an update of existing cards.

Planned first, then written as one op.
"""

from __future__ import annotations

import json
import re
from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from pathlib import PurePath
from typing import Literal

from dramok.core.cards import Card, FieldKind, Value, shown_value
from dramok.core.cards.sheets.column_matching import CODE, SET, find_header
from dramok.core.cards.sheets.import_context import (
    ExistingCards,
    Game,
    ImportOptions,
    ImportResult,
    NothingMatched,
    TakenRow,
)
from dramok.core.cards.sheets.schema_guess import (
    NewField,
    NewValue,
    new_fields,
    new_types,
    new_values,
)
from dramok.core.cards.sheets.sheet_diff import CellChange, Update, compare
from dramok.core.cards.sheets.sheet_import import plan_rows
from dramok.core.effects import Script
from dramok.core.problem import Problem, fold, plural
from dramok.core.wording import printed_text
from dramok.formats.tables import ReadAs, TableFile, UnreadableFile, read_table
from dramok.services.cards.cells import pattern_of
from dramok.services.files.sheet_additions import Additions, Making
from dramok.services.workspace.entity_registry import COLUMNS, differences
from dramok.services.workspace.gc_tuning import gc_paused
from dramok.services.workspace.ids import new_id, new_ids
from dramok.services.workspace.snapshot import GameSnapshot
from dramok.services.workspace.workspace import Commit, Refused, Workspace
from dramok.store import Change, Key, SetRecord
from dramok.store.json_documents import card_text

MOST_SET_NAME = 60
FIRST_LINES = 8
Match = Literal["new", "code", "name"]


@dataclass(frozen=True)
class Order:
    """An order to import a table file.

    `match` new: every row is a new card; otherwise rows match cards by code or name. `set_id` is the set of new
    cards, and the set whose cards the file should list completely; without it, a new set `set_name` is created.
    `leave_out` has `added`, `changed`, `gone`, or single ones: `added/ROW`, `changed/CARD/FIELD`, `gone/CARD`.
    `over` has the keys of conflicts to write anyway. `default_type` can name a type in `make`.
    """

    set_name: str | None = None
    set_id: str | None = None
    match: Match = "new"
    read: ReadAs = ReadAs()
    wishes: ImportOptions = ImportOptions()
    make: Making = Making()
    leave_out: frozenset[str] = frozenset({"gone"})
    over: frozenset[str] = frozenset()
    default_type: str | None = None

    def takes(self, group: str, key: str) -> bool:
        return group not in self.leave_out and key not in self.leave_out


@dataclass(frozen=True)
class ImportPlan:
    """The plan of an import. `update` is None if every row is a new card; `rules` are the changes of the rules
    that it needs.

    `fields`, `types` and `values` exist in the file but not in the game. `problem`: no column could be matched.
    """

    game: GameSnapshot
    order: Order
    set_name: str
    set_code: str
    file: TableFile
    intake: ImportResult
    update: Update | None
    rules: tuple[Change, ...]
    problem: Problem | None = None
    home: SetRecord | None = None
    """The set of new cards, if it exists."""

    @cached_property
    def fields(self) -> list[NewField]:
        return new_fields(self.file.rows, self.intake.header - 1, self.intake.columns)

    @cached_property
    def types(self) -> Mapping[str, int]:
        schema = self.game.rulebook.cards
        return new_types(self.file.rows, self.intake.header - 1, self.intake.columns, schema)

    @cached_property
    def values(self) -> list[NewValue]:
        """Missing values, computed only if rows are refused: a missing value refuses its row."""
        schema, header = self.game.rulebook.cards, self.intake.header - 1
        return new_values(self.file.rows, header, self.intake.columns, schema) if self.intake.refused else []

    @property
    def suggested(self) -> Match | None:
        """A better way to match the file: by code, if most of its codes belong to existing cards."""
        column = next((each for each in self.intake.columns if each.target == CODE), None)
        if self.order.match != "new" or column is None:
            return None
        cells = [row[column.index] for row in self.file.rows[self.intake.header :] if len(row) > column.index]
        codes = [fold(cell) for cell in cells if cell.strip()]
        known = sum(code in self.game.by_code for code in codes)
        return "code" if codes and known * 2 > len(codes) else None

    @property
    def lines(self) -> tuple[tuple[str, ...], ...]:
        """The first lines of the file, unchanged."""
        return self.file.rows[:FIRST_LINES]

    @property
    def added(self) -> list[TakenRow]:
        """The rows that become cards."""
        rows = self.update.added if self.update else self.intake.taken
        return [row for row in rows if self.order.takes("added", f"added/{row.row}")]

    @property
    def changed(self) -> list[CellChange]:
        """The cells to write; of those changed here as well, only the ones requested by key."""
        order = self.order
        return [
            each
            for each in (self.update.changed if self.update else ())
            if (each.key in order.over if each.conflict else order.takes("changed", each.key))
        ]

    @property
    def gone(self) -> list[str]:
        """The cards to remove."""
        cards = self.update.gone if self.update else ()
        return [each for each in cards if self.order.takes("gone", f"gone/{each}")]


def plan_import(
    game: GameSnapshot, data: bytes, filename: str, order: Order = Order(), last: bytes | None = None
) -> ImportPlan:
    """Parse a table and plan the outcome of each row; writes nothing. Raises Refused with the fix."""
    try:
        table = read_table(data, order.read)
    except UnreadableFile as error:
        raise Refused(error.problem) from error
    game, rules, order = _with_rules(game, table, order)
    home = game.set_of(order.set_id) if order.set_id else None
    name = home.name if home else _set_name(filename, order)
    code = home.code if home else _set_code(game, name)
    pattern = pattern_of(game, home.id) if home else code
    problem = None
    held = _held(game, order.match) if order.match != "new" else None
    knows = _knows(game)
    try:
        intake = plan_rows(table.rows, knows, pattern, order.wishes, held)
    except NothingMatched as error:
        problem = error.problem
        first = next((number for number, row in enumerate(table.rows, 1) if sum(map(bool, row)) > 1), 1)
        intake = plan_rows(table.rows, knows, pattern, replace(order.wishes, header=first), held)
    update = _update(game, order, intake, held, last) if held else None
    if home is None and update is not None:
        home = _home_of_new(game, order, intake)
        name, code = (home.name, home.code) if home else (name, code)
    return ImportPlan(game, order, name, code, table, intake, update, rules, problem, home)


def _home_of_new(game: GameSnapshot, order: Order, intake: ImportResult) -> SetRecord | None:
    """The set of new rows in an update: the one with that name, or without a name the set of most other rows."""
    if order.set_name:
        wanted = fold(_set_name("", order))
        return next((each for each in game.sets if fold(each.name) == wanted), None)
    homes = Counter(game.cards[row.card].set for row in intake.taken if row.card)
    return game.set_of(homes.most_common(1)[0][0]) if homes else None


def write_import(
    workspace: Workspace,
    game_id: str,
    data: bytes,
    filename: str,
    page: str,
    order: Order = Order(),
    key: Key | None = None,
    last: bytes | None = None,
) -> tuple[Commit, ImportPlan]:
    """Write a plan as one op. Raises Refused if nothing of it can be imported."""
    found: list[ImportPlan] = []

    def plan(now: GameSnapshot) -> Sequence[Change]:
        planned = plan_import(now, data, filename, order, last)
        found.append(planned)
        return _changes(planned)

    with gc_paused():
        commit = workspace.commit(game_id, _label(workspace.game(game_id), filename, order), page, plan, key=key)
    return commit, found[0] if found else plan_import(commit.before, data, filename, order, last)


def _label(game: GameSnapshot, filename: str, order: Order) -> str:
    file = PurePath(filename).name[:60]
    if order.match != "new":
        return f"update by {order.match} from {file}"
    home = game.set_of(order.set_id) if order.set_id else None
    return f"import of {file} as {home.name if home else _set_name(filename, order)}"


def _changes(planned: ImportPlan) -> list[Change]:
    added, changed, gone = planned.added, planned.changed, planned.gone
    if not (added or changed or gone):
        if planned.update is not None and planned.intake.taken:
            what, mend = "nothing in it is different, or all of it is left out", "there is nothing to take"
        else:
            what, mend = "no row of it can be taken", "correct the rows that are refused, or match the columns"
        raise Refused(Problem(where="file", what=what, mend=mend))
    game = planned.game
    changes = list(planned.rules)
    home = planned.home.id if planned.home else None
    if added and home is None:
        home = new_id("s")
        record = SetRecord(home, planned.set_name, planned.set_code, f"{planned.set_code}-{{n:03}}")
        changes.append(Change("set", home, "exists", None, json.dumps(record.document)))
    by_card: dict[str, list[CellChange]] = {}
    for cell in changed:
        by_card.setdefault(cell.card, []).append(cell)
    for ident, cells in by_card.items():
        changes += differences(game.cards[ident], _edited(game.cards[ident], cells))
    for ident, row in zip(new_ids("c", len(added)), added, strict=True):
        card = Card(ident, row.code, row.set or home or "", row.type, row.values, revision=0)
        changes.append(Change("card", ident, "exists", None, card_text(card), card))
    changes += [Change("card", ident, "exists", card_text(game.cards[ident]), None) for ident in gone]
    return changes


def _edited(card: Card, cells: Sequence[CellChange]) -> Card:
    for cell in cells:
        if cell.field in COLUMNS:
            card = replace(card, **{cell.field: cell.value})  # type: ignore[arg-type]
        else:
            card = card.with_value(cell.field, cell.value)
    return card


def _knows(game: GameSnapshot) -> Game:
    roles = game.rulebook.roles
    names = {fold(text): card.code for card in game.cards.values() if (text := card.text(roles.name))}
    codes = {fold(card.code): game.title(card) for card in game.cards.values()}
    sets = {fold(each.name): each.id for each in game.sets}
    pictures = {fold(each.name): str(each.doc["sha"]) for each in game.of_kind("picture")}
    return Game(
        game.rulebook.cards,
        game.vocabulary,
        roles.name,
        roles.copies,
        roles.printed,
        codes,
        names,
        sets,
        pictures,
    )


def _held(game: GameSnapshot, match: Match) -> ExistingCards:
    schema, vocabulary, name = game.rulebook.cards, game.vocabulary, game.rulebook.roles.name
    keys: dict[str, list[str]] = {}
    for card in game.cards.values():
        key = fold(card.code if match == "code" else card.text(name))
        if key:
            keys.setdefault(key, []).append(card.id)

    known: dict[tuple[str, Value], str] = {}

    def shown(card: Card, found: FieldKind) -> str:
        value = card.values.get(found.id)
        if value is None or isinstance(value, Script):
            return shown_value(found, value, schema, vocabulary)
        text = known.get((found.id, value))
        if text is None:
            text = known[found.id, value] = shown_value(found, value, schema, vocabulary)
        return text

    def printed(card: Card) -> str:
        return " ".join(" ".join(printed_text(card, game.rulebook, vocabulary).lines).split())

    return ExistingCards(
        {key: tuple(ids) for key, ids in keys.items()},
        CODE if match == "code" else name,
        game.cards,
        shown,
        printed,
    )


def _update(game: GameSnapshot, order: Order, intake: ImportResult, held: ExistingCards, last: bytes | None) -> Update:
    schema, vocabulary = game.rulebook.cards, game.vocabulary
    # A file matched by name can't list a card without a name: such a card is not missing.
    name = game.rulebook.roles.name
    scope = [
        card.id
        for card in game.cards.values()
        if order.set_id in (None, "", card.set) and (order.match == "code" or card.text(name))
    ]

    def shown(found: FieldKind, value: Value | None) -> str:
        return shown_value(found, value, schema, vocabulary)

    sets = {each.id: each.name for each in game.sets}
    before = _said_before(game, order, held, last) if last is not None else None
    return compare(
        intake, game.cards, scope, schema, shown, game.title, sets, game.rulebook.roles.printed, before,
    )  # fmt: skip


def _said_before(game: GameSnapshot, order: Order, held: ExistingCards, last: bytes) -> Mapping[tuple[str, str], str]:
    """The text of each cell in the previous version of the file."""
    schema = game.rulebook.cards
    try:
        rows = read_table(last, order.read).rows
        then = plan_rows(rows, _knows(game), "X", order.wishes, held)
    except (UnreadableFile, NothingMatched):
        return {}
    fed = [column.target for column in then.columns if column.target not in (None, SET)]
    said: dict[tuple[str, str], str] = {}
    for row in then.taken:
        for target in fed if row.card else ():
            found = schema.field_of(row.type, target)
            said[row.card or "", target] = (
                row.code if target == "code"
                else schema.type(row.type).name if target == "type"
                else shown_value(found, row.values.get(target), schema, game.vocabulary) if found
                else ""
            )  # fmt: skip
    return said


def _with_rules(
    game: GameSnapshot, table: TableFile, order: Order
) -> tuple[GameSnapshot, tuple[Change, ...], Order]:
    """The game with the additions of an import, the changes that make them, and the order with the new columns
    matched.

    Raises Refused if the rules do not allow them.
    """
    make, default = order.make, order.default_type
    if not (make.fields or make.types or make.values):
        return game, (), replace(order, wishes=replace(order.wishes, default_type=default)) if default else order
    additions = Additions(game.rulebook)
    additions.add_types(make.types)
    default = additions.type_called(default)
    additions.add_values(make.values)
    header = order.wishes.header or _header_of(game, table, order)
    columns = {**order.wishes.columns, **additions.add_fields(make.fields, table.rows[header:], default)}
    rulebook = additions.rulebook()
    wishes = replace(order.wishes, columns=columns, default_type=default, header=header)
    return replace(game, rulebook=rulebook), additions.changes(game.id, rulebook), replace(order, wishes=wishes)


def _header_of(game: GameSnapshot, table: TableFile, order: Order) -> int:
    found = find_header(table.rows, game.rulebook.cards)
    return 1 if found is None else found + 1


def said(plan: ImportPlan) -> str:
    """The numbers of rows in one line: imported, left out, not a card; for an update also its changes."""
    intake = plan.intake
    counts = f"{plural(intake.rows, 'row')}: {len(intake.taken)} to import, {len(intake.refused)} left out, {len(intake.skipped)} no cards"
    if plan.update is None:
        return counts
    cards = len(Counter(each.card for each in plan.changed))
    return (
        f"{counts}; adds {plural(len(plan.added), 'card')}, changes {plural(len(plan.changed), 'cell')} of {plural(cards, 'card')}, "
        f"takes out {len(plan.gone)}; {plan.update.same} stay as they are"
    )


def _set_name(filename: str, order: Order) -> str:
    return " ".join((order.set_name or _name_from(filename)).split())[:MOST_SET_NAME] or "Imported"


def _name_from(filename: str) -> str:
    stem = re.sub(r"[_\-.]+", " ", PurePath(filename).stem).strip()
    return (stem[:1].upper() + stem[1:])[:MOST_SET_NAME] or "Imported"


def _set_code(game: GameSnapshot, name: str) -> str:
    """Initials of the set's name that no other set uses."""
    words = re.findall(r"\w+", name)
    letters = "".join(word[0] for word in words)[:3].upper() if len(words) > 1 else name[:2].upper()
    letters = re.sub(r"\W", "", letters) or "S"
    used = {each.code for each in game.sets} | {card.code.rpartition("-")[0] for card in game.cards.values()}
    code, number = letters, 2
    while code in used:
        code, number = f"{letters}{number}", number + 1
    return code
