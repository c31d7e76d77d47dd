"""Measurements that are kept: things of the game, with their games, players, seed and the edit up to which the cards were measured."""

from __future__ import annotations

from dataclasses import dataclass

from dramok.core.problem import Problem
from dramok.store import Key, Thing
from dramok.studio import things
from dramok.studio.balance.measuring import CardLift, Measurement
from dramok.studio.desk import Commit, Desk, Refused
from dramok.studio.history import changed_cards
from dramok.studio.marks import now_text
from dramok.studio.snapshot import GameSnapshot

KIND = "measurement"


@dataclass(frozen=True)
class Kept:
    """`edited`: cards (ids) that it measured and that were edited since, or are gone."""

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


def keep(desk: Desk, game: GameSnapshot, found: Measurement, name: str, page: str, key: Key | None = None) -> tuple[Commit, str]:
    """Raises Refused where nothing is measured yet, or the name is taken."""
    if not found.games or found.state in ("none", "compiling"):
        raise Refused(Problem(where="measurement", what="nothing is measured yet", mend="press Measure first"))
    name = things.named(KIND, name or f"{found.games:,} games under {found.player}")
    if things.called(game, KIND, name) is not None:
        raise Refused(Problem(where="measurement", what=f"there is a measurement {name} already", mend="choose another name"))
    doc = {
        "name": name, "at": now_text(), "games": found.games, "player": found.player, "seed": found.seed, "seq": found.seq, "digest": found.digest,
        "first": [round(each, 4) for each in found.first], "turns": round(found.turns, 3),
        "cards": {each.card: [round(each.lift, 4), round(each.low or 0, 4), round(each.high or 0, 4), each.named, each.decks] for each in found.cards if each.lift is not None},
    }  # fmt: skip
    return things.make(desk, game.id, KIND, doc, f"measurement {name} kept", page, key)


def kept(desk: Desk, game: GameSnapshot) -> list[Kept]:
    """All of a game, the latest first."""
    return sorted((_read(desk, game, each) for each in game.of_kind(KIND)), key=lambda each: (each.at, each.id), reverse=True)


def remove(desk: Desk, game: GameSnapshot, ident: str, page: str, key: Key | None = None) -> Commit:
    name = things.thing_of(game, KIND, ident).name
    return things.take_out(desk, game.id, KIND, [ident], f"measurement {name} removed", page, key)


def rename(desk: Desk, game: GameSnapshot, ident: str, name: str, page: str, key: Key | None = None) -> Commit:
    name = things.named(KIND, name)
    other = things.called(game, KIND, name)
    if other is not None and other.id != ident:
        raise Refused(Problem(where="measurement", what=f"there is a measurement {name} already", mend="choose another name"))
    return things.edit(desk, game.id, KIND, ident, {"name": name}, f"measurement renamed to {name}", page, key)


def _read(desk: Desk, game: GameSnapshot, thing: Thing) -> Kept:
    doc = thing.doc
    cards = tuple(CardLift(card, row[0], row[1], row[2], bool(row[3]), int(row[4])) for card, row in doc["cards"].items())
    measured = {each.card for each in cards}
    since = [card for card in changed_cards(desk, game, int(doc["seq"])) if card in measured]
    gone = [card for card in measured if card not in game.cards]
    return Kept(
        thing.id, thing.name, doc["at"], doc["games"], doc["player"], doc["seed"], doc["seq"], doc["digest"], tuple(doc["first"]), doc["turns"], cards, (*since, *sorted(gone))
    )
