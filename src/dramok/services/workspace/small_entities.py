"""Create, edit and remove the entities of a game other than cards and decks, each as one undoable op."""

from __future__ import annotations

import json
from collections.abc import Mapping, Sequence
from typing import Any

from dramok.core.journal import ENTITIES
from dramok.core.problem import Problem, fold, plural
from dramok.services.workspace.ids import new_id
from dramok.services.workspace.snapshot import GameSnapshot
from dramok.services.workspace.workspace import Commit, Missing, Refused, Workspace
from dramok.store import Change, Key, Thing

MOST_NAME = 60


def named(kind: str, name: str) -> str:
    """A valid name, trimmed. Raises Refused if it is empty or too long."""
    name = " ".join(name.split())
    if not 1 <= len(name) <= MOST_NAME:
        raise Refused(
            Problem(
                where=kind,
                what=f"a {ENTITIES[kind].noun} needs a name",
                mend=f"write 1 to {MOST_NAME} characters",
            )
        )
    return name


def thing_of(game: GameSnapshot, kind: str, ident: str) -> Thing:
    """A small entity by its id. Raises Missing."""
    found = game.things.get(ident)
    if found is None or found.kind != kind:
        raise Missing(f"there is no such {ENTITIES[kind].noun}")
    return found


def called(game: GameSnapshot, kind: str, name: str) -> Thing | None:
    """The entity of a kind with this name, or None."""
    return next((each for each in game.of_kind(kind) if fold(each.name) == fold(name)), None)


def made_changes(
    game: GameSnapshot, kind: str, docs: Sequence[tuple[str, Mapping[str, Any]]]
) -> list[Change]:
    """The changes that create entities of a kind, given as (id, document).

    Raises Refused if there would be too many.
    """
    if len(game.of_kind(kind)) + len(docs) > ENTITIES[kind].most:
        raise Refused(
            Problem(
                where=kind,
                what=f"{plural(ENTITIES[kind].most, ENTITIES[kind].noun)} are the most",
                mend="remove some first",
            )
        )
    return [Change(kind, ident, "exists", None, json.dumps(doc)) for ident, doc in docs]


def edited_changes(thing: Thing, doc: Mapping[str, Any]) -> list[Change]:
    """A change for each key that differs."""
    return [
        Change(thing.kind, thing.id, key, _json(thing.doc.get(key)), _json(doc.get(key)))
        for key in dict.fromkeys((*thing.doc, *doc))
        if thing.doc.get(key) != doc.get(key)
    ]


def _json(value: Any) -> str | None:
    return None if value is None else json.dumps(value)


def make(
    workspace: Workspace, game_id: str, kind: str, doc: Mapping[str, Any], label: str, page: str, key: Key | None = None
) -> tuple[Commit, str]:
    """Create an entity; returns its id."""
    ident = new_id(kind[0])
    commit = workspace.commit(game_id, label, page, lambda now: made_changes(now, kind, [(ident, doc)]), key=key)
    return commit, (commit.made(kind) or (ident,))[0]


def edit(
    workspace: Workspace,
    game_id: str,
    kind: str,
    ident: str,
    doc: Mapping[str, Any],
    label: str,
    page: str,
    key: Key | None = None,
) -> Commit:
    """Write the given keys of an entity; the others stay. Raises Missing."""

    def plan(now: GameSnapshot) -> Sequence[Change]:
        thing = thing_of(now, kind, ident)
        return edited_changes(thing, {**thing.doc, **doc})

    return workspace.commit(game_id, label, page, plan, key=key)


def take_out(
    workspace: Workspace,
    game_id: str,
    kind: str,
    idents: Sequence[str],
    label: str,
    page: str,
    key: Key | None = None,
) -> Commit:
    """Remove entities; undo restores them. Raises Missing."""

    def plan(now: GameSnapshot) -> Sequence[Change]:
        gone = [thing_of(now, kind, ident) for ident in dict.fromkeys(idents)]
        return [Change(kind, each.id, "exists", json.dumps(each.doc), None) for each in gone]

    return workspace.commit(game_id, label, page, plan, key=key)
