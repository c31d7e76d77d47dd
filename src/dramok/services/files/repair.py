"""Repair damaged games: find the damage, the last valid moment and the way back, and rescue a backup.

Works on raw documents of the tables and trusts none of them; the walk back reads the journal, newest op first.
"""

from __future__ import annotations

import io
import json
import zipfile
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from dramok.core.journal import EXISTS, THINGS, put
from dramok.core.problem import Problem
from dramok.core.rulebook.part_edit import BESIDE, PARTS, WHOLE, part_in
from dramok.services.files.archive import archive
from dramok.services.workspace.entity_registry import made
from dramok.services.workspace.invariants import Fault, faults_of
from dramok.services.workspace.snapshot import GameSnapshot, read_rules
from dramok.services.workspace.workspace import NO_PAGE, Damaged, Missing, Refused, Workspace
from dramok.store import Change, Contents, GameRecord, Op, RawGame

Document = dict[str, Any]
Key = tuple[str, str]
RULES: Key = ("game", "")
_UNREADABLE = (ValueError, LookupError, TypeError, AttributeError, RecursionError)


@dataclass(frozen=True)
class Damage:
    """The damage of a game. `sound` is the last op after which it was valid, `steps` the number of later ops
    that a repair reverts.

    `rebuilt` entities are unreadable in the tables but readable in the journal. Without `sound` no repair is
    possible.
    """

    id: str
    name: str
    faults: tuple[Fault, ...]
    sound: Op | None
    steps: int
    rebuilt: tuple[str, ...]


@dataclass
class _State:
    """Documents by entity and id, as `exists` changes hold them; the rules under `RULES`. None: unreadable."""

    record: GameRecord
    documents: dict[Key, Document | None]
    seq: int

    def step_back(self, changes: Sequence[Change], seq: int) -> None:
        """The state before an op. Raises whatever unreadable documents raise."""
        for change in reversed(changes):
            key = RULES if change.entity == "game" else (change.entity, change.id)
            _apply(self.documents, key, change.field, change.before)
        self.seq = seq


def _apply(documents: dict[Key, Document | None], key: Key, field: str, text: str | None) -> None:
    value = None if text is None else json.loads(text)
    if field == EXISTS:
        if value is None:
            documents.pop(key, None)
        else:
            documents[key] = value
        return
    held = documents.get(key)
    if held is not None:
        documents[key] = put(key[0], held, field, value)


def damage_of(workspace: Workspace, game_id: str) -> Damage:
    """The damage of a game, and the way back. Without faults the game is valid. Raises Missing."""
    raw = _raw(workspace, game_id)
    state = _state(raw)
    rebuilt = _rebuild(workspace, game_id, state)
    faults = _judged(state)[1]
    shown = tuple(faults) or tuple(_unreadable(rebuilt))
    ops = workspace.store.seqs_down(game_id)
    sound, steps = _walk(workspace, state, faults, ops)
    return Damage(game_id, raw.record.name, shown, sound, steps, tuple(ident for _, ident in rebuilt))


def _unreadable(keys: Iterable[Key]) -> list[Fault]:
    return [
        Fault(entity, ident, Problem(where=ident, what="its document cannot be read", mend="rebuild it from the journal"))
        for entity, ident in keys
    ]  # fmt: skip


def _walk(workspace: Workspace, state: _State, faults: Sequence[Fault], ops: Sequence[Op]) -> tuple[Op | None, int]:
    """Step back until no fault is left; returns the op of that moment and the number of ops reverted."""
    for place, op in enumerate(ops):
        if not faults:
            return op, place
        try:
            changes = workspace.store.changes(op.seq)
            state.step_back(changes, ops[place + 1].seq if place + 1 < len(ops) else 0)
        except _UNREADABLE:
            return None, 0
        bad = {(each.entity, each.id) for each in faults}
        touched = {(change.entity, change.id) for change in changes}
        if bad & touched or any(entity in ("game", "set") for entity, _ in touched):
            faults = _judged(state)[1]
    return None, 0


def repair(workspace: Workspace, game_id: str, to: int) -> GameSnapshot:
    """Restore a game to the moment after op `to` with one new op; the journal keeps what it reverts.

    Raises Refused if the game is valid, `to` is not (or no longer) its last valid moment, or there is no way
    back.
    """
    found = damage_of(workspace, game_id)
    if not found.faults:
        raise Refused(Problem(where="game", what=f"{found.name} is sound", mend="there is nothing to repair"))
    if found.sound is None or found.sound.seq != to:
        raise Refused(
            Problem(where="game", what="that is not its last sound moment", mend="look at the damage again")
        )
    raw = _raw(workspace, game_id)
    now, then = _state(raw), _sound_state(workspace, game_id, found)
    changes = list(_changes(game_id, now, then))
    label = f"walked back to “{found.sound.label[:200]}”"
    with workspace.store.writing() as connection:
        workspace.store.commit(connection, game_id, label, NO_PAGE, changes, kind="kept")
    workspace.forget(game_id)
    return workspace.game(game_id)


def rescue(workspace: Workspace, game_id: str) -> bytes:
    """The backup of a damaged game: its raw rows under `rows/`, and the game at its last valid moment, which a
    restore uses.
    """
    found = damage_of(workspace, game_id)
    data = b""
    if found.sound is not None:
        game = _judged(_sound_state(workspace, game_id, found))[0]
        if game is not None:
            data = archive(workspace, game)
    out = io.BytesIO(data)
    out.seek(0, io.SEEK_END)
    with zipfile.ZipFile(out, "a" if data else "w", zipfile.ZIP_DEFLATED) as packed:
        for table, rows in workspace.store.rows_of(game_id):
            lines = "".join(json.dumps(row, default=_as_text) + "\n" for row in rows)
            packed.writestr(f"rows/{table}.jsonl", lines)
    return out.getvalue()


def _as_text(value: object) -> str:
    return value.hex() if isinstance(value, bytes) else str(value)


def damaged_games(workspace: Workspace) -> list[Damage]:
    """Every damaged game."""
    found = []
    for record in workspace.store.games():
        each = damage_of(workspace, record.id)
        if each.faults:
            found.append(each)
    return found


def _sound_state(workspace: Workspace, game_id: str, found: Damage) -> _State:
    """The game at its last valid moment."""
    state = _state(_raw(workspace, game_id))
    _rebuild(workspace, game_id, state)
    ops = workspace.store.seqs_down(game_id)
    for place, op in enumerate(ops[: found.steps]):
        state.step_back(workspace.store.changes(op.seq), ops[place + 1].seq if place + 1 < len(ops) else 0)
    return state


def _raw(workspace: Workspace, game_id: str) -> RawGame:
    raw = workspace.store.raw(game_id)
    if raw is None:
        raise Missing(f"there is no game called {game_id[:80]}")
    return raw


def _state(raw: RawGame) -> _State:
    documents: dict[Key, Document | None] = {RULES: _parsed(raw.record.rules)}
    for entity, ident, text in raw.documents:
        documents[entity, ident] = _parsed(text)
    return _State(raw.record, documents, raw.seq)


def _parsed(text: str | None) -> Document | None:
    try:
        found = json.loads(text or "")
    except _UNREADABLE:
        return None
    return found if isinstance(found, dict) else None


def _rebuild(workspace: Workspace, game_id: str, state: _State) -> list[Key]:
    """Rebuild unreadable documents from their complete history in the journal; returns which ones."""
    rebuilt = []
    for key in [key for key, document in state.documents.items() if document is None and key != RULES]:
        documents: dict[Key, Document | None] = {}
        try:
            for _, change in workspace.store.changes_of(key[1], 10**6):
                _apply(documents, key, change.field, change.after)
        except _UNREADABLE:
            continue
        if documents.get(key) is not None:
            state.documents[key] = documents[key]
            rebuilt.append(key)
    return rebuilt


def _judged(state: _State) -> tuple[GameSnapshot | None, list[Fault]]:
    """The game built from the documents, and all its faults."""
    faults: list[Fault] = []

    def fault(key: Key, error: Exception | None) -> None:
        said = str(error).strip().partition("\n")[2] or str(error) if error else "it is not JSON object"
        problem = Problem(
            where=key[1] or "rules",
            what=f"its document cannot be read: {said.strip()[:200]}",
            mend="walk the game back",
        )
        faults.append(Fault(key[0], key[1] or state.record.id, problem))

    held = Contents([], [], [], [], state.seq)
    for key, document in state.documents.items():
        try:
            if document is None:
                fault(key, None)
            elif key == RULES:
                read_rules(document)
            else:
                _put(held, key, document, state.seq)
        except _UNREADABLE as error:
            fault(key, error)
    rules = state.documents[RULES]
    if rules is None or any(each.entity == "game" for each in faults):
        return None, faults
    held.cards.sort(key=lambda card: (card.code, card.id))
    record = state.record
    try:
        game = GameSnapshot.of(GameRecord(record.id, record.name, json.dumps(rules), record.away), held, {})
        return game, [*faults, *faults_of(game)]
    except _UNREADABLE as error:
        fault(RULES, error)
        return None, faults


def _put(held: Contents, key: Key, document: Mapping[str, Any], seq: int) -> None:
    entity, ident = key
    lists: dict[str, list[Any]] = {
        "card": held.cards, "deck": held.decks, "set": held.sets, **dict.fromkeys(THINGS, held.things)
    }  # fmt: skip
    if entity not in lists:
        raise ValueError(f"nothing is of the kind {entity}")
    lists[entity].append(made(entity, ident, document, seq))


def _changes(game_id: str, now: _State, then: _State) -> Iterable[Change]:
    """The changes from one state to another: whole entities, and the rules part by part."""
    for key in dict.fromkeys((*now.documents, *then.documents)):
        one, other = now.documents.get(key), then.documents.get(key)
        if one == other:
            continue
        if key != RULES:
            yield Change(*key, EXISTS, _text(one), _text(other))
        elif one is not None and other is not None:
            for part in _parts(one, other):
                yield Change("game", game_id, part, _text(part_in(one, part)), _text(part_in(other, part)))


def _parts(one: Document, other: Document) -> Iterable[str]:
    yield from (whole for whole in WHOLE + BESIDE if one.get(whole) != other.get(whole))
    for room in PARTS:
        idents = [str(each["id"]) for document in (one, other) for each in document["cards"].get(room, ())]
        yield from (
            f"{room}/{ident}"
            for ident in dict.fromkeys(idents)
            if part_in(one, f"{room}/{ident}") != part_in(other, f"{room}/{ident}")
        )


def _text(document: Any) -> str | None:
    return None if document is None else json.dumps(document, ensure_ascii=False)


__all__ = ["Damage", "Damaged", "damage_of", "damaged_games", "repair", "rescue"]
