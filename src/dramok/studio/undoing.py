"""Undo and redo: a new op that writes the inverse of an earlier one."""

from __future__ import annotations

import json
from collections.abc import Collection, Sequence
from dataclasses import dataclass

from dramok.core.cards import shown_value
from dramok.core.problem import Problem, fold
from dramok.core.rulebook.amend import part_of
from dramok.store import Change, Op
from dramok.store.documents import card_text, read_value, write_value
from dramok.store.journal import THINGS
from dramok.studio.desk import QUIET, Commit, Conflict, Desk, Refused
from dramok.studio.snapshot import GameSnapshot


@dataclass(frozen=True)
class Stacks:
    """What can be undone and redone, the next one last."""

    undo: tuple[Op, ...]
    redo: tuple[Op, ...]


def stacks(desk: Desk, game: str, page: str, live: Collection[str] = ()) -> Stacks:
    """The page's own ops, and those of pages that are no longer open; read from the journal, so a restart changes nothing.

    `live` are the pages that are open: their ops are theirs to undo.
    """
    undo: list[Op] = []
    redo: list[Op] = []
    for op in desk.store.ops(game):
        if op.page in QUIET or (op.page != page and op.page in live):
            continue
        if op.inverse_of is None:
            undo.append(op)
            redo.clear()
        elif any(each.seq == op.inverse_of for each in undo):
            undo = [each for each in undo if each.seq != op.inverse_of]
            redo.append(op)
        else:
            redo = [each for each in redo if each.seq != op.inverse_of]
            undo.append(op)
    return Stacks(tuple(undo), tuple(redo))


def undo(desk: Desk, game: str, page: str, live: Collection[str] = (), key: str | None = None) -> Commit:
    """Writes the inverse of the page's latest op. Raises Refused when there is none, Conflict when a field has since changed."""
    return _invert(desk, game, page, stacks(desk, game, page, live).undo, "undo", key)


def redo(desk: Desk, game: str, page: str, live: Collection[str] = (), key: str | None = None) -> Commit:
    """Takes the page's latest undo back."""
    return _invert(desk, game, page, stacks(desk, game, page, live).redo, "redo", key)


def _invert(desk: Desk, game: str, page: str, ops: Sequence[Op], word: str, key: str | None) -> Commit:
    done = desk.store.op_with_key(key) if key else None
    if not ops and done is None:
        raise Refused(Problem(where=word, what=f"there is nothing to {word}", mend="edit something first"))
    op = ops[-1] if ops else done
    assert op is not None
    label = op.label.removeprefix("undo: ").removeprefix("redo: ")

    def plan(now: GameSnapshot) -> Sequence[Change]:
        changes = [
            change._replace(before=change.after, after=change.before)
            for change in reversed(desk.store.changes(op.seq))
        ]
        for change in changes:
            _unchanged(now, change, op)
        _codes_free(now, changes, op)
        return changes

    return desk.commit(game, f"{word}: {label}", page, plan, inverse_of=op.seq, key=key)


def _codes_free(now: GameSnapshot, changes: Sequence[Change], op: Op) -> None:
    """Raises Conflict when a card would come back, or have a code again, that another card has by now."""
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
            raise Conflict(f"{op.label}: code {code} is taken by {theirs} by now", theirs, code, now.seq)


def _unchanged(now: GameSnapshot, inverse: Change, op: Op) -> None:
    """Raises Conflict unless the field still holds what the op wrote."""
    current = _current(now, inverse)
    if _same(current, inverse.before):
        return
    if inverse.field == "exists":
        thing = now.cards.get(inverse.id)
        name = now.title(thing) if thing else "it"
        raise Conflict(f"{op.label}: {name} was changed since", "as it is now", "as it was", now.seq)
    raise Conflict(
        f"{op.label}: changed since by another page",
        _shown(now, inverse.field, current),
        _shown(now, inverse.field, inverse.after),
        now.seq,
    )


def _same(one: str | None, other: str | None) -> bool:
    return one == other or (one is not None and other is not None and _meaning(one) == _meaning(other))


def _meaning(text: str) -> object:
    """What a text says, whatever revision it counts."""
    said = json.loads(text)
    return (
        {key: value for key, value in said.items() if key != "revision"} if isinstance(said, dict) else said
    )


def _current(now: GameSnapshot, change: Change) -> str | None:
    if change.entity == "card":
        card = now.cards.get(change.id)
        if card is None:
            return None
        if change.field == "exists":
            return card_text(card)
        if change.field in ("code", "set", "type"):
            return json.dumps(getattr(card, change.field))
        value = card.values.get(change.field)
        return None if value is None else json.dumps(write_value(value))
    if change.entity == "deck":
        deck = now.decks.get(change.id)
        if deck is None:
            return None
        if change.field == "exists":
            return json.dumps({"name": deck.name, "cards": dict(deck.cards)})
        if change.field == "name":
            return json.dumps(deck.name)
        count = deck.cards.get(change.field.removeprefix("card/"))
        return None if count is None else json.dumps(count)
    if change.entity == "game":
        part = part_of(now.rulebook, change.field)
        return None if part is None else json.dumps(part)
    if change.entity in THINGS:
        thing = now.things.get(change.id)
        if thing is None:
            return None
        if change.field == "exists":
            return json.dumps(thing.doc)
        return json.dumps(thing.doc[change.field]) if change.field in thing.doc else None
    found = now.set_of(change.id)
    if found is None:
        return None
    held = found.document if change.field == "exists" else found.document[change.field]
    return None if held is None else json.dumps(held)


def _shown(now: GameSnapshot, field_id: str, text: str | None) -> str:
    if text is None:
        return ""
    field = now.rulebook.cards.field(field_id)
    raw = json.loads(text)
    if "/" in field_id:
        return str(raw.get("name", "another definition"))
    return shown_value(field, read_value(raw), now.rulebook.cards, now.vocabulary) if field else str(raw)
