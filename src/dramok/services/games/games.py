"""Games: created from a table file, a template or empty; renamed, copied, put away, brought back and removed.

Every game is created here in one transaction. Its parts are then edited one by one (`rule_parts`).
"""

from __future__ import annotations

import json
import re
import shutil
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from functools import cache
from importlib.resources import files
from pathlib import PurePath
from typing import Any

from pydantic import ValidationError

from dramok.core.cards import Card
from dramok.core.cards.schema.ids import id_from
from dramok.core.cards.sheets.import_context import Game, ImportOptions, ImportResult
from dramok.core.cards.sheets.sheet_import import plan_rows
from dramok.core.problem import Problem, fold
from dramok.core.rulebook import GameVocabulary, Rulebook
from dramok.core.rulebook.game_from_sheet import (
    ColumnOverride,
    FromSheet,
    NoCards,
    SheetReading,
    read_sheet_as_game,
    rulebook_of,
)
from dramok.formats.tables import ReadAs, TableFile, UnreadableFile, read_table
from dramok.services.decks.edits import place_of
from dramok.services.files.archive import archive, free_name, restore_game, used_pictures
from dramok.services.files.id_remap import IdMap
from dramok.services.rules.rule_parts import write_rules
from dramok.services.workspace.gc_tuning import gc_paused
from dramok.services.workspace.ids import SAMPLES, is_of_samples, new_id, new_ids
from dramok.services.workspace.snapshot import GameSnapshot, read_rules
from dramok.services.workspace.workspace import Commit, Refused, Workspace
from dramok.store import Change, GameRecord, IdsTaken, Key, SetRecord
from dramok.store.json_documents import card_text

SHAPES = ("duel", "builder", "placement", "solo", "plain")
CALLED = {"deck-builder": "builder"}
"""Other names of templates."""
RESERVED = {"shelf", "new", "api", "assets", "fonts", "sheet", "shapes"}
"""Words used in addresses, which can't be ids of games."""
MOST_NAME = 120
BEGUN = "a game begun"
"""The prefix of the label of the op that creates a game here; demo games and restored backups have other labels."""
_KEPT_IN_A_COPY = ("plan", "layout", "view", "picture")


@dataclass(frozen=True)
class Template:
    """A template. `cards` are sample cards as a user would type them."""

    id: str
    name: str
    about: str
    rules: Mapping[str, Any]
    cards: Sequence[Mapping[str, str]]


@cache
def shapes() -> tuple[Template, ...]:
    """The templates for a new game."""
    return tuple(_shape(each) for each in SHAPES)


def _shape(ident: str) -> Template:
    document = json.loads(files("dramok.templates").joinpath(f"{ident}.json").read_text(encoding="utf-8"))
    rules = {**document["rulebook"], "prices": document["prices"], "formats": document["formats"]}
    return Template(ident, document["name"], document["about"], rules, document["cards"])


@dataclass(frozen=True)
class SheetOptions:
    """How to read a table file as a game: file options, header row, and corrections of columns."""

    read: ReadAs = ReadAs()
    header: int | None = None
    columns: Mapping[int, ColumnOverride] | None = None
    corrections: Mapping[tuple[int, int], str] = field(default_factory=dict)
    leave_empty: bool = False


@dataclass(frozen=True)
class NewGamePreview:
    """A table file read as a game, with the outcome for each line. Nothing is written."""

    file: TableFile
    reading: SheetReading
    made: FromSheet
    rulebook: Rulebook
    intake: ImportResult


def begin(workspace: Workspace, name: str, shape: str | None = None, key: Key | None = None) -> GameSnapshot:
    """Create a game from a template with its sample cards, or an empty one with a single card type. Raises Refused."""
    done = workspace.store.game_with_key(key) if key else None
    if done is not None:
        return workspace.game(done)
    title = named(workspace, name)
    if shape is None:
        plain = next(each for each in shapes() if each.id == "plain")
        return _found(workspace, title, plain.rules, (), BEGUN, key)
    found = next((each for each in shapes() if each.id == CALLED.get(shape, shape)), None)
    if found is None:
        raise Refused(Problem(where="shape", what=f"there is no template called {shape[:40]}", mend=f"choose one of {', '.join((*SHAPES, *CALLED))}"))  # fmt: skip
    return _found(workspace, title, found.rules, found.cards, f"{BEGUN} as {found.name.lower()}", key)


def _found(
    workspace: Workspace,
    title: str,
    rules: Mapping[str, Any],
    samples: Sequence[Mapping[str, str]],
    label: str,
    key: Key | None,
) -> GameSnapshot:
    def changes(rulebook: Rulebook) -> list[Change]:
        home, made = _set(title, "First set")
        if not samples:
            return [made]
        other, more = _set("Samples", "Samples", SAMPLES)
        header = list(dict.fromkeys(key for each in samples for key in each))
        rows = [header, *([each.get(key, "") for key in header] for each in samples)]
        intake = plan_rows(rows, _knows(rulebook), other.pattern)
        if intake.refused:
            raise ValueError(f"a shape is unsound: {intake.refused[0]}")
        return [made, more, *_cards(intake, other.id)]

    return _write(workspace, title, rules, changes, label, key)


def preview_sheet_game(data: bytes, wishes: SheetOptions = SheetOptions(), name: str = "New game") -> NewGamePreview:
    """Read a table file as a new game. Raises Refused, with a fix, if it is not a table or no row can become a card."""
    try:
        file = read_table(data, wishes.read)
        reading = read_sheet_as_game(file.rows, wishes.header, wishes.columns)
    except (UnreadableFile, NoCards) as error:
        raise Refused(error.problem) from error
    made = rulebook_of(reading, file.rows)
    try:
        rulebook = Rulebook.model_validate(
            {**made.rulebook, "id": "new", "name": name[:MOST_NAME] or "New game"}
        )
    except ValidationError as error:
        first = error.errors()[0]
        raise Refused(
            Problem(where="columns", what=str(first["msg"]).removeprefix("Value error, ")[:200], mend="set a column otherwise, or leave it out")
        ) from error  # fmt: skip
    intake = plan_rows(
        file.rows,
        _knows(rulebook),
        _set(name, name)[0].pattern,
        ImportOptions(
            columns=dict(made.targets),
            corrections=wishes.corrections,
            header=reading.header,
            leave_empty=wishes.leave_empty,
        ),
    )
    return NewGamePreview(file, reading, made, rulebook, intake)


def create_game_from_sheet(
    workspace: Workspace,
    data: bytes,
    filename: str,
    name: str | None = None,
    wishes: SheetOptions = SheetOptions(),
    key: Key | None = None,
) -> tuple[GameSnapshot, NewGamePreview]:
    """Create a game whose types, fields, lists and cards come from a table file. Raises Refused."""
    done = workspace.store.game_with_key(key) if key else None
    if done is not None:
        return workspace.game(done), preview_sheet_game(data, wishes)
    title = named(workspace, name or _title(filename))
    with gc_paused():
        look = preview_sheet_game(data, wishes, title)
        if not look.intake.taken:
            raise Refused(Problem(where="sheet", what="no line of it can become a card", mend="look at why each is refused, and set the columns otherwise"))  # fmt: skip

        def changes(rulebook: Rulebook) -> list[Change]:
            home, made = _set(title, _title(filename))
            return [made, *_cards(look.intake, home.id)]

        rules = {**look.made.rulebook, "formats": [ANY_DECK], "prices": {}}
        file = PurePath(filename).name[:60] or "a sheet"
        return _write(workspace, title, rules, changes, f"{BEGUN} from {file}", key), look


ANY_DECK = {"id": "any", "name": "Any deck", "least_cards": 1, "most_cards": 500, "copies": 99}


def duplicate(
    workspace: Workspace, game: GameSnapshot, name: str | None = None, cards: bool = True, key: Key | None = None
) -> GameSnapshot:
    """Copy a game, with its history, or only its rules, sets and plans. Raises Refused."""
    title = free_name(workspace, named(workspace, name or game.name, taken=True))
    if cards:
        return restore_game(workspace, archive(workspace, game), title, key)

    def changes(_: Rulebook) -> list[Change]:
        kept = [each for kind in _KEPT_IN_A_COPY for each in game.of_kind(kind)]
        ids = {each.id: new_id("s") for each in game.sets} | {each.id: new_id("t") for each in kept}
        new = IdMap(ids)
        made = [("set", each.id, each.document) for each in game.sets]
        made += [(each.kind, each.id, new.document(each.kind, each.doc)) for each in kept]
        return [Change(kind, ids[ident], "exists", None, json.dumps(doc)) for kind, ident, doc in made]

    rules = {key: value for key, value in game.rules.items() if key != "away"}
    return _write(workspace, title, rules, changes, f"the rules of {game.name}", key)


def rename_game(workspace: Workspace, game_id: str, name: str, page: str, key: Key | None = None) -> Commit:
    """Rename a game. Raises Refused for an empty name or one that another game has."""
    game = workspace.game(game_id)
    title = named(workspace, name, but=game_id)
    return write_rules(workspace, game_id, "name", title, None, page, key, f"{game.name} renamed to {title}")


def put_away(workspace: Workspace, game_id: str, away: bool, page: str, key: Key | None = None) -> Commit:
    """Put a game away from the shelf, or bring it back. Its content does not change."""

    def plan(now: GameSnapshot) -> Sequence[Change]:
        return (
            [Change("game", now.id, "away", "true" if now.away else None, "true" if away else None)]
            if now.away != away
            else ()
        )

    # Undo covers the content of a game, not its place on the shelf.
    return workspace.commit(game_id, "put away" if away else "brought back", page, plan, key=key, kind="kept")


def remove_for_good(workspace: Workspace, game_id: str, name: str) -> None:
    """Delete a game that was put away, with everything that belongs to it alone. This can't be undone. Raises
    Refused, Missing.

    `name` must repeat the name of the game.
    """
    game = workspace.game(game_id)
    if not game.away:
        raise Refused(Problem(where=game.name, what="it is on the start screen", mend="put it away first"))
    if fold(name) != fold(game.name):
        raise Refused(
            Problem(where="name", what="that is not its name", mend=f"type {game.name} to remove it for good")
        )
    jobs = workspace.store.jobs(game_id)
    if not workspace.store.remove_game(game_id, used_pictures(game)):
        raise Refused(
            Problem(where=game.name, what="it was brought back meanwhile", mend="put it away first")
        )
    workspace.forget(game_id)
    for job in jobs:
        shutil.rmtree(
            workspace.store.path.with_name(f"{workspace.store.path.name}-output") / job.id, ignore_errors=True
        )


def remove_samples(workspace: Workspace, game_id: str, page: str, key: Key | None = None) -> Commit:
    """Remove the sample cards of a template and their set as one op. Raises Refused if there are none."""

    def plan(now: GameSnapshot) -> Sequence[Change]:
        home = next((each for each in now.sets if is_of_samples(each.id)), None)
        cards = [each for each in now.cards.values() if home and each.set == home.id]
        if home is None or not cards or len(now.sets) < 2:
            raise Refused(
                Problem(where="samples", what="there are no sample cards", mend="there is nothing to remove")
            )
        changes = [
            Change("deck", deck.id, place_of(section, card.id), json.dumps(counts[card.id]), None)
            for deck in now.decks.values()
            for section, counts in deck.every()
            for card in cards
            if card.id in counts
        ]
        changes += [Change("card", each.id, "exists", card_text(each), None) for each in cards]
        return [*changes, Change("set", home.id, "exists", json.dumps(home.document), None)]

    return workspace.commit(game_id, "sample cards removed", page, plan, key=key)


def named(workspace: Workspace, name: str, but: str = "", taken: bool = False) -> str:
    """A valid name for a game. Raises Refused if it is empty, too long or (unless `taken`) used by another game."""
    title = " ".join(name.split())
    if not title:
        raise Refused(Problem(where="name", what="a game needs a name", mend="give it one"))
    if len(title) > MOST_NAME:
        raise Refused(Problem(where="name", what=f"a name of {len(title):,} characters", mend=f"keep it within {MOST_NAME}"))  # fmt: skip
    other = next(
        (each for each in workspace.store.games() if fold(each.name) == fold(title) and each.id != but), None
    )
    if other is not None and not taken:
        where = "is put away" if other.away else "is there"
        raise Refused(Problem(where="name", what=f"a game called {title} {where} already", mend="give this one another name"))  # fmt: skip
    return title


def _write(
    workspace: Workspace, title: str, rules: Mapping[str, Any], changes: Any, label: str, key: Key | None
) -> GameSnapshot:
    """Create the game; if two are created at once, the later one finds its id taken and tries another."""
    for _ in range(3):
        ident = id_from(title, workspace.store.ids() | RESERVED, "game")
        document = {**rules, "id": ident, "name": title}
        rulebook, _prices, _formats = read_rules(document)
        try:
            return workspace.found(GameRecord(ident, title, json.dumps(document, ensure_ascii=False)), label, changes(rulebook), key=key)  # fmt: skip
        except IdsTaken:
            continue
    raise Refused(Problem(where="game", what="others are making games", mend="try again in a moment"))


def _set(title: str, name: str, kind: str = "s") -> tuple[SetRecord, Change]:
    """A set whose code is made from the words of a title."""
    words = re.findall(r"\w+", title)
    letters = "".join(word[0] for word in words)[:3] if len(words) > 1 else "".join(words)[:2]
    code = re.sub(r"[^A-Z0-9]", "", letters.upper()) or "C"
    record = SetRecord(new_id(kind), name, code, f"{code}-{{n:03}}")
    return record, Change("set", record.id, "exists", None, json.dumps(record.document))


def _cards(intake: ImportResult, home: str) -> list[Change]:
    ids = new_ids("c", len(intake.taken))
    cards = [
        Card(ident, each.code, home, each.type, each.values, revision=0)
        for ident, each in zip(ids, intake.taken, strict=True)
    ]
    return [Change("card", each.id, "exists", None, card_text(each), each) for each in cards]


def _knows(rulebook: Rulebook) -> Game:
    roles = rulebook.roles
    return Game(rulebook.cards, GameVocabulary(rulebook), roles.name, roles.copies, roles.printed, {}, {})


def _title(filename: str) -> str:
    stem = re.sub(r"[_\-.\s]+", " ", PurePath(filename).stem).strip()
    return (stem[:1].upper() + stem[1:])[:60] or "New game"
