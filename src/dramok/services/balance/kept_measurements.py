"""Stored measurements: entities of the game with their games, players, seed and the op up to which cards were
measured.
"""

from __future__ import annotations

from dataclasses import dataclass

from dramok.core.problem import Problem
from dramok.services.balance.measurement import CardLift, Measurement
from dramok.services.workspace import small_entities
from dramok.services.workspace.clock import now_text
from dramok.services.workspace.past import changed_cards
from dramok.services.workspace.snapshot import GameSnapshot
from dramok.services.workspace.workspace import Commit, Refused, Workspace
from dramok.store import Key, Thing

KIND = "measurement"


@dataclass(frozen=True)
class StoredMeasurement:
    """A stored measurement. `edited`: ids of measured cards that were edited or removed since."""

    id: str
    name: str
    at: str
    games: int
    player: str
    seed: int
    seq: int
    digest: str
    first: tuple[float, float, float]
    turns: float
    cards: tuple[CardLift, ...]
    edited: tuple[str, ...]


def keep(workspace: Workspace, game: GameSnapshot, found: Measurement, name: str, page: str, key: Key | None = None) -> tuple[Commit, str]:
    """Store the current measurement. Raises Refused if there is none, or the name is taken."""
    if not found.games or found.state in ("none", "compiling"):
        raise Refused(Problem(where="measurement", what="nothing is measured yet", mend="press Measure first"))
    name = small_entities.named(KIND, name or f"{found.games:,} games under {found.player}")
    if small_entities.called(game, KIND, name) is not None:
        raise Refused(Problem(where="measurement", what=f"there is a measurement {name} already", mend="choose another name"))
    doc = {
        "name": name, "at": now_text(), "games": found.games, "player": found.player, "seed": found.seed, "seq": found.seq, "digest": found.digest,
        "first": [round(each, 4) for each in found.first], "turns": round(found.turns, 3),
        "cards": {each.card: [round(each.lift, 4), round(each.low or 0, 4), round(each.high or 0, 4), each.named, each.decks] for each in found.cards if each.lift is not None},
    }  # fmt: skip
    return small_entities.make(workspace, game.id, KIND, doc, f"measurement {name} kept", page, key)


def kept(workspace: Workspace, game: GameSnapshot) -> list[StoredMeasurement]:
    """The stored measurements of a game, newest first."""
    return sorted((_read(workspace, game, each) for each in game.of_kind(KIND)), key=lambda each: (each.at, each.id), reverse=True)


def remove(workspace: Workspace, game: GameSnapshot, ident: str, page: str, key: Key | None = None) -> Commit:
    name = small_entities.thing_of(game, KIND, ident).name
    return small_entities.take_out(workspace, game.id, KIND, [ident], f"measurement {name} removed", page, key)


def rename(workspace: Workspace, game: GameSnapshot, ident: str, name: str, page: str, key: Key | None = None) -> Commit:
    name = small_entities.named(KIND, name)
    other = small_entities.called(game, KIND, name)
    if other is not None and other.id != ident:
        raise Refused(Problem(where="measurement", what=f"there is a measurement {name} already", mend="choose another name"))
    return small_entities.edit(workspace, game.id, KIND, ident, {"name": name}, f"measurement renamed to {name}", page, key)


def _read(workspace: Workspace, game: GameSnapshot, thing: Thing) -> StoredMeasurement:
    doc = thing.doc
    cards = tuple(CardLift(card, row[0], row[1], row[2], bool(row[3]), int(row[4])) for card, row in doc["cards"].items())
    measured = {each.card for each in cards}
    since = [card for card in changed_cards(workspace, game, int(doc["seq"])) if card in measured]
    gone = [card for card in measured if card not in game.cards]
    return StoredMeasurement(
        thing.id, thing.name, doc["at"], doc["games"], doc["player"], doc["seed"], doc["seq"], doc["digest"], tuple(doc["first"]), doc["turns"], cards, (*since, *sorted(gone))
    )
