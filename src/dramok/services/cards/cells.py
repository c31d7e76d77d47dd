"""Commit edits of one cell or a range as one undoable operation, and new cards with their first values."""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace

from dramok.core.cards import Card, EffectField, Value, read_value, shown_value
from dramok.core.cards.schema.card import is_empty
from dramok.core.cards.values.codes import MOST_CODE, free_codes
from dramok.core.problem import Problem, fold, nearest_name, plural
from dramok.services.workspace.entity_registry import COLUMNS, differences
from dramok.services.workspace.ids import new_ids
from dramok.services.workspace.snapshot import GameSnapshot
from dramok.services.workspace.workspace import Commit, Missing, Refused, Workspace
from dramok.store import Change, Key
from dramok.store.json_documents import card_text

MOST_CELLS = 50_000
MOST_NEW = 5_000
CARD_ID = re.compile(r"c[0-9a-f]{15,20}")
"""The id of a card that a caller may choose."""


@dataclass(frozen=True)
class CellEdit:
    """A typed value for one field of a card. `card`: the card's id; `field`: the field's id, or `code`, `type` or `set`."""

    card: str
    field: str
    typed: str


@dataclass(frozen=True)
class NewCard:
    """A card to create: `typed` by field id, the code included. Fields left out take their default.

    The caller may choose `id`, and can then refer to the card before the answer arrives; without it the card
    gets a new id.
    """

    type: str
    set: str
    typed: Mapping[str, str] = field(default_factory=dict)
    id: str | None = None


@dataclass(frozen=True)
class CellRefused:
    """A cell that was not written, and why; `theirs` if someone else changed it. `card` is `new/N` for a new card."""

    card: str
    field: str
    typed: str
    problem: Problem
    theirs: str | None = None


@dataclass(frozen=True)
class CellsWritten:
    """The result of a write. `commit` is None if nothing was written; `made` has the ids of the new cards."""

    commit: Commit | None
    refused: tuple[CellRefused, ...]
    made: tuple[str, ...] = ()


def write_cells(
    workspace: Workspace,
    game_id: str,
    edits: Sequence[CellEdit],
    base: int,
    page: str,
    new: Sequence[NewCard] = (),
    label: str | None = None,
    key: Key | None = None,
) -> CellsWritten:
    """Write every cell that its field can hold as one op; the others are returned with the reason, and their
    text is kept.

    `base` is the op number up to which the page has seen the game: a cell changed after it is refused with both
    values. Raises Refused if there are too many cells.
    """
    if len(edits) > MOST_CELLS or len(new) > MOST_NEW:
        raise Refused(
            Problem(
                where="cells",
                what=f"{plural(len(edits), 'cell')} and {plural(len(new), 'new card')} are too many at once",
                mend=f"write at most {MOST_CELLS:,} cells and {MOST_NEW:,} new cards",
            )
        )
    refused: list[CellRefused] = []
    made: list[str] = []

    def plan(now: GameSnapshot) -> Sequence[Change]:
        writer = Writer(workspace, now, base, page)
        changes = [*writer.edit(edits), *writer.make(new)]
        refused[:], made[:] = writer.refused, writer.made
        if not changes:
            raise _Nothing
        return changes

    try:
        commit = workspace.commit(game_id, label or _label(workspace.game(game_id), edits, new), page, plan, key=key)
    except _Nothing:
        return CellsWritten(None, tuple(refused))
    if commit.repeated:
        made = list(commit.made("card"))
        refused = _refused_again(workspace, workspace.game(game_id), edits, new, made, page)
    return CellsWritten(commit, tuple(refused), tuple(made))


def _refused_again(
    workspace: Workspace,
    now: GameSnapshot,
    edits: Sequence[CellEdit],
    new: Sequence[NewCard],
    made: Sequence[str],
    page: str,
) -> list[CellRefused]:
    """The cells that were refused when an operation was committed first, for a client that sends it again
    because no answer arrived.
    """
    writer = Writer(workspace, now, now.seq, page)
    writer.edit(edits)
    refused = writer.refused
    for number, (ident, wanted) in enumerate(zip(made, new, strict=False)):
        writer = Writer(workspace, now, now.seq, page)
        writer.edit([CellEdit(ident, name, text) for name, text in wanted.typed.items() if text.strip()])
        refused += [replace(each, card=f"new/{number}") for each in writer.refused]
    return refused


class _Nothing(Exception):
    """No cell can be written, or none would change."""


def _label(game: GameSnapshot, edits: Sequence[CellEdit], new: Sequence[NewCard]) -> str:
    if len(edits) == 1 and not new and edits[0].card in game.cards:
        return f"{game.title(game.cards[edits[0].card])}: {field_name(game, edits[0].field)}"
    said = [plural(len(edits), "cell")] if edits else []
    if new:
        said.append(plural(len(new), "new card") if len(new) > 1 or edits else "a new card")
    return " and ".join(said)


def field_name(game: GameSnapshot, field_id: str) -> str:
    found = game.rulebook.cards.field(field_id)
    return found.name.lower() if found else field_id[:40]


class Writer:
    """Parses typed cells against one snapshot and builds the changes."""

    def __init__(self, workspace: Workspace, now: GameSnapshot, base: int, page: str = "") -> None:
        self.workspace, self.now, self.base, self.page = workspace, now, base, page
        self.schema = now.rulebook.cards
        self.refused: list[CellRefused] = []
        self.made: list[str] = []
        self.codes: dict[str, str] = {}

    def edit(self, edits: Iterable[CellEdit]) -> list[Change]:
        by_card: dict[str, list[CellEdit]] = {}
        for each in edits:
            by_card.setdefault(each.card, []).append(each)
        changes: list[Change] = []
        for ident, mine in by_card.items():
            card = self.now.cards.get(ident)
            if card is None:
                gone = Problem(
                    where="card", what="this card is gone", mend="undo to bring it back, or leave it"
                )
                self.refused += [CellRefused(ident, each.field, each.typed, gone) for each in mine]
                continue
            changes += differences(card, self._edited(card, mine))
        return changes

    def make(self, new: Sequence[NewCard]) -> list[Change]:
        if not new:
            return []
        changes = []
        fresh = self._fresh_codes(new)
        own = self._own_ids(new)
        for number, (free, wanted) in enumerate(zip(new_ids("c", len(new)), new, strict=True)):
            ident = own.get(number, free)
            self._check_home(wanted)
            card = Card(ident, "", wanted.set, wanted.type, revision=0)
            defaults = [
                CellEdit(ident, each.id, each.default)
                for each in self.schema.fields_of(wanted.type)
                if each.default and each.id not in wanted.typed
            ]
            typed = [CellEdit(ident, name, text) for name, text in wanted.typed.items() if text.strip()]
            before = len(self.refused)
            card = self._edited(card, [*defaults, *typed], new=True)
            self.refused[before:] = [replace(each, card=f"new/{number}") for each in self.refused[before:]]
            card = replace(card, code=card.code or next(fresh[wanted.set]))
            self._codes()[fold(card.code)] = ident
            changes.append(Change("card", ident, "exists", None, card_text(card), card))
            self.made.append(ident)
        return changes

    def _own_ids(self, new: Sequence[NewCard]) -> dict[int, str]:
        """The ids that the caller chose, by position in `new`.

        Raises Refused for a malformed id or one that was ever used.
        """
        own = {number: each.id for number, each in enumerate(new) if each.id is not None}
        for ident in own.values():
            if not CARD_ID.fullmatch(ident):
                raise Refused(
                    Problem(
                        where="id",
                        what=f"{ident[:40]!r} can't be the id of a card",
                        mend="write c and 15 to 20 of the characters 0-9 and a-f, or leave the id out",
                    )
                )
        if len(set(own.values())) < len(own) or self.workspace.store.any_used(own.values()):
            raise Refused(
                Problem(
                    where="id", what="a card with this id was already made", mend="choose another id"
                )
            )
        return own

    def _check_home(self, wanted: NewCard) -> None:
        if not self.schema.has_type(wanted.type) or self.schema.type(wanted.type).abstract:
            raise Refused(
                Problem(where="type", what="the game has no such card type", mend="choose one of its types")
            )
        if self.now.set_of(wanted.set) is None:
            raise Missing("there is no such set")

    def _fresh_codes(self, new: Iterable[NewCard]) -> Mapping[str, Iterator[str]]:
        codes = self._codes()
        counts = {each.set: 0 for each in new}
        for card in self.now.cards.values():
            if card.set in counts:
                counts[card.set] += 1
        return {ident: free_codes(pattern_of(self.now, ident), codes, counts[ident] + 1) for ident in counts}

    def _codes(self) -> dict[str, str]:
        """Card ids by case-folded code, after the edit."""
        if not self.codes:
            self.codes = dict(self.now.by_code)
        return self.codes

    def _edited(self, card: Card, edits: Iterable[CellEdit], new: bool = False) -> Card:
        edited = card
        done: list[CellEdit] = []
        for each in edits:
            try:
                after = self._typed(edited, each)
                if not new:
                    self._not_theirs(card, after, each)
                edited = after
                done.append(each)
            except _CellProblem as error:
                self.refused.append(
                    CellRefused(each.card, each.field, each.typed, error.problem, error.theirs)
                )
        for each in done:
            found = self.schema.field_of(edited.type, each.field)
            problem = found.misplaced(edited, self.schema) if found else None
            if problem is not None:
                self.refused.append(CellRefused(each.card, each.field, each.typed, problem))
                before = card.values.get(each.field)
                edited = edited.with_value(each.field, before)
        return edited

    def _not_theirs(self, card: Card, after: Card, edit: CellEdit) -> None:
        """Refuse a cell that someone else changed to another value since the page saw it.

        Edits of the same page are queued and never conflict.
        """
        if card.seq <= self.base or not any(
            change.field == edit.field for change in differences(card, after)
        ):
            return
        if self.workspace.store.latest_change(card.id, edit.field, self.page) > self.base:
            problem = Problem(
                where=field_name(self.now, edit.field),
                what=f"{self.now.title(card)}: {field_name(self.now, edit.field)} was changed meanwhile",
                mend="look at both values, and write yours again if it is right",
            )
            raise _CellProblem(problem, self.shown(card, edit.field))

    def shown(self, card: Card, field_id: str) -> str:
        if field_id in COLUMNS:
            return str(getattr(card, field_id))
        found = self.schema.field_of(card.type, field_id)
        return (
            shown_value(found, card.values.get(field_id), self.schema, self.now.vocabulary) if found else ""
        )

    def _typed(self, card: Card, edit: CellEdit) -> Card:
        if edit.field == "code":
            return replace(card, code=self._code(card, edit.typed))
        if edit.field in ("type", "set"):
            home = self._home(edit)
            return replace(card, type=home) if edit.field == "type" else replace(card, set=home)
        found = self.schema.field_of(card.type, edit.field)
        if found is None or found.retired:
            kind = self.schema.type(card.type).name
            named = self.schema.field(edit.field)
            raise _CellProblem(
                Problem(
                    where=named.name if named else edit.field[:60],
                    what=f"{kind} has no such field",
                    mend="choose another field",
                )
            )
        old = card.values.get(edit.field)
        # A line with an error keeps its last committed meaning in play; text typed in between is ignored.
        known: Value | None = card.script(edit.field) if isinstance(found, EffectField) else old
        value, problems = read_value(found, edit.typed, self.schema, self.now.vocabulary, known)
        if problems and (not isinstance(found, EffectField) or value == known):
            raise _CellProblem(problems[0])
        if is_empty(value) or (isinstance(found, EffectField) and not edit.typed.strip()):
            value = None
        return card.with_value(edit.field, value)

    def _home(self, edit: CellEdit) -> str:
        """The id of a card type or set by its name."""
        if edit.field == "type":
            named = {each.name: each.id for each in self.schema.types if not each.abstract}
        else:
            named = {each.name: each.id for each in self.now.sets}
        wanted = fold(edit.typed)
        found = next((ident for name, ident in named.items() if wanted in (fold(name), fold(ident))), None)
        if found is None:
            near = nearest_name(edit.typed, named)
            mend = f"did you mean {near}?" if near else f"write one of {', '.join(list(named)[:12])}"
            raise _CellProblem(
                Problem(
                    where=edit.field,
                    what=f"there is no {edit.field} {edit.typed[:40]}",
                    mend=mend,
                    nearest=near,
                )
            )
        return found

    def _code(self, card: Card, typed: str) -> str:
        code = " ".join(typed.split())
        if not code or len(code) > MOST_CODE:
            raise _CellProblem(
                Problem(
                    where="code",
                    what=f"a code needs 1 to {MOST_CODE} characters",
                    mend=f"write one such as {card.code[:20] or 'A-001'}",
                )
            )
        codes = self._codes()
        holder = codes.get(fold(code))
        if holder is not None and holder != card.id:
            other = self.now.cards.get(holder)
            free = next(free_codes(pattern_of(self.now, card.set), codes))
            raise _CellProblem(
                Problem(
                    where="code",
                    what=f"{code} is taken by {self.now.title(other) if other else 'another new card'}",
                    mend=f"{free} is free",
                )
            )
        if codes.get(fold(card.code)) == card.id:
            del codes[fold(card.code)]
        codes[fold(code)] = card.id
        return code


class _CellProblem(Exception):
    def __init__(self, problem: Problem, theirs: str | None = None) -> None:
        super().__init__(problem.what)
        self.problem, self.theirs = problem, theirs


def pattern_of(game: GameSnapshot, set_id: str) -> str:
    """The pattern for codes of a set."""
    home = game.set_of(set_id)
    return (home.pattern or f"{home.code}-{{n:03}}") if home else "C-{n:03}"
