"""Update texts that refer to entities by name when those are renamed or merged.

These texts are the queries of views, text tables and print runs, the conditions of placements, and choices in
formulas.
"""

from __future__ import annotations

import json
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import replace
from typing import Any

from dramok.core.cards import Schema
from dramok.core.cards.query.query_names import Meant, Names
from dramok.core.cards.query.rename_in_query import renamed_query
from dramok.core.cards.schema.formula_names import renamed_formula
from dramok.core.cards.schema.lexer import Unreadable
from dramok.core.rulebook.part_edit import part_of
from dramok.services.workspace import small_entities
from dramok.services.workspace.snapshot import GameSnapshot
from dramok.services.workspace.workspace import Commit, Refused, Workspace
from dramok.store import Change, Key, Thing

NOTHING: Mapping[Meant, Meant] = {}
_QUERIES = {"view": ("doc", "query"), "layout": ("query",), "run": ("order", "choice", "query")}
"""Where a document holds a query."""


def names_of(game: GameSnapshot) -> Names:
    """The names that queries over a game can use."""
    return Names(
        game.rulebook.cards, {deck.id: deck.name for deck in game.decks.values()}, {each.id: each.name for each in game.sets}, game.rulebook.roles.name,
        {each.id: each.name for each in game.of_kind("mark")}, {each.id: each.name for each in game.of_kind("run")},
    )  # fmt: skip


def renamed_in_queries(game: GameSnapshot, after: Names, moved: Mapping[Meant, Meant] = NOTHING) -> list[Change]:
    """Changes that update every query and condition to the names in `after`.

    For an entity in `moved`, its replacement is named.
    """
    before, changes = names_of(game), []
    for kind in (*_QUERIES, "plan"):
        for held in game.of_kind(kind):
            for path in _places(held):
                text = _at(held.doc, path)
                said = renamed_query(text, before, after, moved) if isinstance(text, str) and text.strip() else text
                if said != text:
                    document = _with(held.doc, path, said)
                    changes.append(Change(kind, held.id, path[0], _json(held.doc[path[0]]), _json(document[path[0]])))
    return changes


def renamed_in_formulas(game: GameSnapshot, after: Schema, moved: Mapping[Meant, Meant] = NOTHING) -> list[Change]:
    """Changes that update the formulas of every card type in which choices are renamed.

    Raises Refused for a name that a formula can't contain.
    """
    before, changes = game.rulebook.cards, []
    instead = {(one.among, one.id): other.id for one, other in moved.items() if one.kind == "choice"}
    for card_type in before.types:
        formulas = {}
        for field in card_type.fields:
            if field.kind != "derived":
                continue
            try:
                said = renamed_formula(field.formula, before, after, card_type.id, instead)
            except Unreadable as error:
                raise Refused(error.problem.model_copy(update={"where": field.name})) from error
            if said != field.formula:
                formulas[field.id] = said
        if formulas:
            part = f"types/{card_type.id}"
            document = part_of(game.rulebook, part)
            fields = [
                {**field, "formula": formulas[field["id"]]} if field["id"] in formulas else field
                for field in document["fields"]
            ]
            changes.append(Change("game", game.id, part, _json(document), _json({**document, "fields": fields})))
    return changes


def rename_thing(
    workspace: Workspace, game_id: str, kind: str, ident: str, name: str, label: str, page: str, key: Key | None = None
) -> Commit:
    """Rename a mark or a print run, and update the queries that name it. Raises Missing."""

    def plan(now: GameSnapshot) -> Sequence[Change]:
        held, names = small_entities.thing_of(now, kind, ident), names_of(now)
        if kind == "mark":
            after = replace(names, marks={**names.marks, ident: name})
        else:
            after = replace(names, runs={**names.runs, ident: name})
        return [*small_entities.edited_changes(held, {**held.doc, "name": name}), *renamed_in_queries(now, after)]

    return workspace.commit(game_id, label, page, plan, key=key)


def _places(held: Thing) -> Iterator[Sequence[str]]:
    if held.kind != "plan":
        yield _QUERIES[held.kind]
        return
    yield from ((key, "when") for key in held.doc if key.startswith("place/"))


def _at(document: Any, path: Sequence[str]) -> Any:
    for key in path:
        document = document.get(key) if isinstance(document, Mapping) else None
    return document


def _with(document: Mapping[str, Any], path: Sequence[str], value: Any) -> dict[str, Any]:
    key, *rest = path
    return {**document, key: _with(document[key], rest, value) if rest else value}


def _json(value: Any) -> str:
    return json.dumps(value, ensure_ascii=False)
