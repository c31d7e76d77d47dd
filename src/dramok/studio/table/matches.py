"""Matches as they are kept: a program, decks, a seed, decisions; some of them in memory, the rest replayed."""

from __future__ import annotations

import json
from collections import OrderedDict
from collections.abc import Mapping
from dataclasses import dataclass
from threading import RLock
from typing import Any

from dramok.core.cards import Card
from dramok.core.engine import Match, Option, compile_program, replay_as_far
from dramok.core.rulebook import Rulebook
from dramok.store import PlaytestRecord, read_values
from dramok.store.documents import write_value
from dramok.studio.table.cardwords import CardWords, words_of

MOST_KEPT = 48
PERSON = "person"
"""Who has a seat that no automatic player has."""


@dataclass
class HeldMatch:
    """A match in memory, why it could not be replayed further, and the words of its cards."""

    match: Match
    broken: str
    stored: Mapping[str, Any]
    words: dict[str, CardWords]


class Matches:
    """Matches in memory by playtest id; one that is not there is replayed."""

    def __init__(self) -> None:
        self._held: OrderedDict[str, HeldMatch] = OrderedDict()
        self.lock = RLock()

    def get(self, record: PlaytestRecord) -> HeldMatch:
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


MATCHES = Matches()


def full_decision(decision: tuple[Any, ...]) -> tuple[str, int, int]:
    """A kept decision with what it names besides a card: those of earlier versions named nothing."""
    do, card, *other = decision
    return do, card, other[0] if other else -1


def stored_players(stored: Mapping[str, Any]) -> list[str]:
    """Who has which seat: a person, or an automatic player; matches of earlier versions said one for all seats but the person's."""
    if "players" in stored:
        return list(stored["players"])
    seats, seat = len(stored.get("decks") or [()]), stored.get("seat", 0)
    return [PERSON if each == seat else stored.get("player") or "plain" for each in range(seats)]


def card_document(card: Card) -> dict[str, object]:
    """A card as a kept match has it."""
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
    """A card of a kept match."""
    values = read_values(json.dumps(document["values"]))
    return Card(document["id"], document["code"], document["set"], document["type"], values, document["revision"])


def replayed(record: PlaytestRecord, known: HeldMatch | None = None) -> HeldMatch:
    """The match as far as its decisions hold; `known`: the same match at another moment, whose program is this one's, too."""
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
    return HeldMatch(match, broken, stored, words)
