"""Undo and redo: a new op that writes the inverse of an earlier one."""

from __future__ import annotations

import json
from collections.abc import Collection, Iterator, Sequence
from dataclasses import dataclass
from typing import Literal

from dramok.core.cards import shown_value
from dramok.core.problem import Problem, fold
from dramok.core.rulebook.legacy_names import as_now
from dramok.services.workspace.invariants import faults_after
from dramok.services.workspace.snapshot import GameSnapshot
from dramok.services.workspace.workspace import Commit, Conflict, Missing, Refused, Workspace
from dramok.store import Change, Key, Op
from dramok.store.json_documents import read_value

PIECE = 300
Word = Literal["undo", "redo"]
How = Literal["whole", "rest", "over", "pass"]
"""What to do with an op if others changed the same fields since: undo the `whole` op or raise Conflict; undo
the `rest` that nobody touched; write the old values `over` the new ones; or `pass` it by.
"""


@dataclass(frozen=True)
class Next:
    """The next undo and redo; None if there is none."""

    undo: Op | None
    redo: Op | None


def next_steps(workspace: Workspace, game: str, page: str, live: Collection[str] = ()) -> Next:
    """The latest ops of the page itself and of closed pages; searches the whole journal.

    `live` are the open pages, which keep their ops for their own undo. The search walks back from the newest op
    and skips an op that a later one inverts, and the op that it inverted itself.
    """
    inverted: set[int] = set()
    undo: Op | None = None
    redo: Op | None = None
    sought = True
    for op in _newest_first(workspace, game):
        mine = op.page == page or op.page not in live
        if op.inverse_of is not None:
            inverted.add(op.inverse_of)
        if not mine or op.kind == "passed":
            continue
        if op.kind == "undo":
            if sought and op.seq not in inverted:
                redo, sought = op, False
            continue
        if op.kind == "edit":
            sought = False
        if undo is None and op.seq not in inverted:
            undo = op
        if undo is not None and not sought:
            break
    return Next(undo, redo)


def _newest_first(workspace: Workspace, game: str) -> Iterator[Op]:
    below = 2**62
    while piece := workspace.store.undoable(game, below, PIECE):
        yield from piece
        below = piece[-1].seq


def undo(
    workspace: Workspace,
    game: str,
    page: str,
    live: Collection[str] = (),
    key: Key | None = None,
    how: How = "whole",
    only: int | None = None,
) -> Commit:
    """Write the inverse of the page's latest op.

    Raises Refused if there is none, Conflict if a field has changed since or no longer fits. `how` decides such
    conflicts for the op `only`; if that is no longer the next op, raises Missing.
    """
    return _invert(workspace, game, page, live, "undo", key, how, only)


def redo(
    workspace: Workspace,
    game: str,
    page: str,
    live: Collection[str] = (),
    key: Key | None = None,
    how: How = "whole",
    only: int | None = None,
) -> Commit:
    """Invert the page's latest undo; raises the same errors as `undo`."""
    return _invert(workspace, game, page, live, "redo", key, how, only)


def _invert(
    workspace: Workspace,
    game: str,
    page: str,
    live: Collection[str],
    word: Word,
    key: Key | None,
    how: How,
    only: int | None,
) -> Commit:
    if key is not None and (done := workspace.store.op_with_key(key, game)) is not None:
        return workspace.commit(game, done.label, page, lambda now: (), key=key)
    steps = next_steps(workspace, game, page, live)
    op = steps.undo if word == "undo" else steps.redo
    if op is None:
        raise Refused(Problem(where=word, what=f"there is nothing to {word}", mend="edit something first"))
    if only is not None and op.seq != only:
        raise Missing("that step is not the next any more")
    label = op.label.removeprefix("undo: ").removeprefix("redo: ")
    if how == "pass":
        return workspace.commit(game, f"left as it is: {label}", page, lambda now: (), op.seq, key, "passed")
    seq = op.seq

    def plan(now: GameSnapshot) -> Sequence[Change]:
        inverse = [
            change._replace(before=change.after, after=change.before)
            for change in reversed(workspace.store.changes(seq))
        ]
        return _fitting(now, inverse, op, how)

    return workspace.commit(game, f"{word}: {label}", page, plan, seq, key, word)


def _fitting(now: GameSnapshot, inverse: Sequence[Change], op: Op, how: How) -> Sequence[Change]:
    """The changes that can be written, with the current values as their `before`. Raises Conflict."""
    conflicts = [(change, found) for change in inverse if (found := _differs(now, change, op)) is not None]
    if how == "whole" and conflicts:
        raise _told(conflicts[0][1], op, len(inverse) - len(conflicts))
    if how == "rest":
        left = {change[:3] for change, _ in conflicts}
        inverse = [change for change in inverse if change[:3] not in left]
    if how == "over":
        inverse = [moved for change in inverse if (moved := _over(now, change)) is not None]
    _codes_free(now, inverse, op)
    fault = _misfit(now, inverse)
    if fault is None:
        return inverse
    if how != "rest":
        raise Conflict(f"{op.label}: {fault.what}", fault.where, "as it was", now.seq, op.seq, 0)
    return _sound_part(now, inverse)


def _told(found: Conflict, op: Op, rest: int) -> Conflict:
    return Conflict(str(found), found.theirs, found.yours, found.seq, op.seq, rest)


def _over(now: GameSnapshot, change: Change) -> Change | None:
    """The change against the current value; None if it would change nothing or its entity is gone."""
    current = now.text_of(change)
    if change.field != "exists" and not _is_there(now, change):
        return None
    return None if _same(current, change.after) else change._replace(before=current)


def _is_there(now: GameSnapshot, change: Change) -> bool:
    return change.entity == "game" or now.text_of(change._replace(field="exists")) is not None


def _misfit(now: GameSnapshot, inverse: Sequence[Change]) -> Problem | None:
    """Why the game after the changes would be invalid, or None."""
    try:
        after = now.with_changes(inverse, now.seq)
    except (ValueError, LookupError, TypeError, AttributeError):
        return Problem(
            where="the rules now", what="it does not fit what has changed since", mend="leave it as it is"
        )
    fault = next(faults_after(now, after, inverse), None)
    return fault.problem if fault else None


def _sound_part(now: GameSnapshot, inverse: Sequence[Change]) -> Sequence[Change]:
    """The entities whose changes lead to a valid game, tried one after another."""
    kept: list[Change] = []
    for thing in dict.fromkeys((change.entity, change.id) for change in inverse):
        mine = [change for change in inverse if (change.entity, change.id) == thing]
        if _misfit(now, [*kept, *mine]) is None:
            kept += mine
    return kept


def _codes_free(now: GameSnapshot, changes: Sequence[Change], op: Op) -> None:
    """Raises Conflict if a card would return, or get back a code, that another card now has."""
    gone = {change.id for change in changes if change.field == "exists" and change.after is None}
    moved = {change.id for change in changes if change.field == "code"}
    for change in changes:
        if change.entity != "card" or change.after is None or change.field not in ("exists", "code"):
            continue
        said = json.loads(change.after)
        code = said if change.field == "code" else said["code"]
        holder = now.by_code.get(fold(code))
        if holder not in (None, change.id) and holder not in gone | moved:
            theirs = now.title(now.cards[holder or ""])
            raise Conflict(
                f"{op.label}: code {code} is taken by {theirs} by now", theirs, code, now.seq, op.seq
            )


def _differs(now: GameSnapshot, inverse: Change, op: Op) -> Conflict | None:
    """How the current value differs from what the op wrote, or None."""
    current = now.text_of(inverse)
    if _same(current, inverse.before):
        return None
    if inverse.field == "exists":
        thing = now.cards.get(inverse.id)
        name = now.title(thing) if thing else "it"
        return Conflict(f"{op.label}: {name} was changed since", "as it is now", "as it was", now.seq)
    return Conflict(
        f"{op.label}: changed since by another window",
        _shown(now, inverse.field, current),
        _shown(now, inverse.field, inverse.after),
        now.seq,
    )


def _same(one: str | None, other: str | None) -> bool:
    return one == other or (one is not None and other is not None and _meaning(one) == _meaning(other))


def _meaning(text: str) -> object:
    """The meaning of a stored text without its revision number."""
    said = as_now(json.loads(text))
    return (
        {key: value for key, value in said.items() if key != "revision"} if isinstance(said, dict) else said
    )


def _shown(now: GameSnapshot, field_id: str, text: str | None) -> str:
    if text is None:
        return ""
    field = now.rulebook.cards.field(field_id)
    raw = json.loads(text)
    if field is None:
        return str(raw.get("name") or "another definition") if isinstance(raw, dict) else str(raw)[:200]
    return shown_value(field, read_value(raw), now.rulebook.cards, now.vocabulary)
