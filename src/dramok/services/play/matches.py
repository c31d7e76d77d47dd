"""Stored matches: a program, decks, a seed, decisions. Some are in memory; the others are replayed on access."""

from __future__ import annotations

import json
from collections import OrderedDict
from collections.abc import Mapping
from dataclasses import dataclass
from threading import RLock
from typing import Any

from dramok.core.automatic_players import PLAYERS
from dramok.core.cards import Card
from dramok.core.engine import Match, Option, compile_program, replay_as_far
from dramok.core.rulebook import Rulebook
from dramok.services.play.card_text import CardWords, words_of
from dramok.store import PlaytestRecord, read_values
from dramok.store.json_documents import write_value

MOST_KEPT = 48
PERSON = "person"
"""The player of a seat without an automatic player."""


@dataclass
class CachedMatch:
    """A match in memory, why it could not be replayed further, and the words of its cards."""

    match: Match
    broken: str
    stored: Mapping[str, Any]
    words: dict[str, CardWords]


class MatchCache:
    """Cache of matches by playtest id; a missing one is replayed."""

    def __init__(self) -> None:
        self._held: OrderedDict[str, CachedMatch] = OrderedDict()
        self.lock = RLock()

    def get(self, record: PlaytestRecord) -> CachedMatch:
        held = self._held.get(record.id)
        if held is None or [tuple(each) for each in held.match.decisions] != [full_decision(each) for each in record.decisions]:
            held = replayed(record, held)
        elif len(held.match.decisions) == len(record.decisions):
            held.broken = ""
        self._held[record.id] = held
        self._held.move_to_end(record.id)
        while len(self._held) > MOST_KEPT:
            self._held.popitem(last=False)
        return held


MATCHES = MatchCache()


def full_decision(decision: tuple[Any, ...]) -> tuple[str, int, int]:
    """A stored decision with its named targets; decisions of earlier versions had none."""
    do, card, *other = decision
    return do, card, other[0] if other else -1


def stored_players(stored: Mapping[str, Any]) -> list[str]:
    """The player of each seat: a person or an automatic player.

    Earlier versions stored one player for all seats but the person's. An archive can have a player that this
    version does not know, or none for a seat: the Simple player takes its place.
    """
    seats, seat = len(stored.get("decks") or [()]), stored.get("seat", 0)
    players = list(stored.get("players") or [PERSON if each == seat else stored.get("player") for each in range(seats)])
    return [known_player(each) for each in [*players, *[""] * (seats - len(players))]]


def known_player(player: str | None) -> str:
    """A stored player, or the Simple player in place of an unknown one."""
    return player if player == PERSON or player in PLAYERS else "plain"


def card_document(card: Card) -> dict[str, object]:
    """A card document as a stored match holds it."""
    values = {name: write_value(value) for name, value in card.values.items()}
    return {
        "id": card.id,
        "code": card.code,
        "set": card.set,
        "type": card.type,
        "values": values,
        "revision": card.revision,
    }


def card_of(document: Mapping[str, Any]) -> Card:
    """A card of a stored match."""
    values = read_values(json.dumps(document["values"]))
    return Card(document["id"], document["code"], document["set"], document["type"], values, document["revision"])


def replayed(record: PlaytestRecord, known: CachedMatch | None = None) -> CachedMatch:
    """Replay a match as far as its decisions are valid.

    `known` is the same match at another moment, whose program is reused.
    """
    if known is None:
        stored = json.loads(record.program)
        cards = [card_of(each) for each in stored["cards"]]
        program = compile_program(Rulebook.model_validate(stored["rulebook"]), cards)
        words = words_of(program.rulebook, program.cards)
    else:
        stored, program, words = known.stored, known.match.program, known.words
    decks = stored.get("decks") or [stored["deck"]]
    decisions = [Option(*full_decision(each)) for each in record.decisions]
    match, problem = replay_as_far(program, decks, record.seed, decisions)
    broken = ""
    if problem is not None:
        broken = f"This game was played under earlier rules of the engine: it holds up to decision {len(match.decisions)} of {len(decisions)}."
    return CachedMatch(match, broken, stored, words)
