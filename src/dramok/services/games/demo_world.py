"""Add the demo games to a database."""

from __future__ import annotations

import json
from collections.abc import Sequence
from functools import cache
from importlib.resources import files
from typing import Any

from dramok.core.cards import Card
from dramok.core.cards.sheets.import_context import Game
from dramok.core.cards.sheets.sheet_import import plan_rows
from dramok.core.problem import fold
from dramok.core.rulebook import GameVocabulary, Rulebook
from dramok.formats.tables import read_table
from dramok.services.workspace.ids import new_id
from dramok.services.workspace.workspace import Workspace
from dramok.store import Change, GameRecord, SetRecord
from dramok.store.json_documents import card_text

GAMES = ("ribbon-season", "crowded-bed", "potting-shed")


def fill(workspace: Workspace, wanted: Sequence[str] = GAMES) -> list[str]:
    """Add every missing demo game with its cards and decks. Returns the ids of the games added."""
    there = {record.id for record in workspace.store.games()}
    added = [ident for ident in GAMES if ident in wanted and ident not in there]
    for ident in added:
        _add(workspace, ident)
    return added


@cache
def demo_names() -> dict[str, str]:
    """The demo games' names by id."""
    room = files("dramok.demo")
    return {
        ident: json.loads(room.joinpath(f"{ident}.json").read_text(encoding="utf-8"))["rulebook"]["name"]
        for ident in GAMES
    }


def _add(workspace: Workspace, ident: str) -> None:
    room = files("dramok.demo")
    document: dict[str, Any] = json.loads(room.joinpath(f"{ident}.json").read_text(encoding="utf-8"))
    rulebook = Rulebook.model_validate(document["rulebook"])
    rows = read_table(room.joinpath(f"{ident}.tsv").read_bytes()).rows
    roles = rulebook.roles
    intake = plan_rows(
        rows,
        Game(rulebook.cards, GameVocabulary(rulebook), roles.name, roles.copies, roles.printed, {}, {}),
        "X",
    )
    if intake.refused:
        raise ValueError(f"the demo game {ident} is unsound: {intake.refused[0]}")
    first = document["sets"][0]
    home = SetRecord(first["id"], first["name"], first["code"], f"{first['code']}-{{n:03}}")
    changes = [Change("set", home.id, "exists", None, json.dumps(home.document))]
    ids: dict[str, str] = {}
    for row in intake.taken:
        # Demo cards have the same id in every database, so that their generated pictures are the same everywhere.
        card = Card(f"c-{ident}-{fold(row.code)}", row.code, first["id"], row.type, row.values, revision=0)
        ids[row.code] = card.id
        changes.append(Change("card", card.id, "exists", None, card_text(card)))
    for deck in document["decks"]:
        cards = {ids[code]: count for code, count in deck["cards"].items()}
        changes.append(
            Change("deck", new_id("d"), "exists", None, json.dumps({"name": deck["name"], "cards": cards}))
        )
    for view in document.get("views", ()):
        changes.append(Change("view", new_id("v"), "exists", None, json.dumps(view)))
    for note in document.get("notes", ()):
        doc = {**note, "card": ids[note["card"]]}
        changes.append(Change("note", new_id("n"), "exists", None, json.dumps(doc)))
    for layout in document.get("layouts", ()):
        changes.append(Change("layout", new_id("l"), "exists", None, json.dumps(layout)))
    for plan_id, plan in document.get("plans", {}).items():
        changes.append(Change("plan", plan_id, "exists", None, json.dumps(plan)))
    rules = {**document["rulebook"], "prices": document["prices"], "formats": document["formats"]}
    record = GameRecord(ident, rulebook.name, json.dumps(rules, ensure_ascii=False))
    workspace.found(record, "the demo game", changes)
