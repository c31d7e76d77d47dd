"""Explain games that were cut off.

A loop is found in a game's own events; of many games one of each kind is played again.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

from dramok.core.automatic_players import BY_ID
from dramok.core.engine.kernel import codes as k
from dramok.core.engine.match import Event, Match
from dramok.core.engine.match_batch import seed_of, table_of
from dramok.core.engine.program import Program
from dramok.core.problem import plural

Why = Literal["loop", "last", "turns", "stuck"]
"""Cards that trigger each other for ever; only the last acting card is known; a match that nobody can win; a
match without possible decisions.
"""
OUT_OF_TURNS = -2
"""In place of the last acting card, for games that used up all turns."""
MOST_NAMED = 6
"""The number of cards of a loop that are named in one line."""
MOST_PLAYED = 4
"""The number of games played again, one for each last acting card; for the others only that card is reported."""
_DOINGS = (k.E_ABILITY, k.E_PLAYED, k.E_USED)
_BREAKS = (k.E_TURN, k.E_PHASE)


@dataclass(frozen=True)
class CutOff:
    """A number of games without an end, and the cards (ids) of their loop, in triggering order."""

    cards: tuple[str, ...]
    games: int
    why: Why

    def said(self, titles: Mapping[str, str]) -> str:
        """In words, with the titles of the cards by id."""
        games = plural(self.games, "game")
        if self.why == "turns":
            return f"{games} without a winner after {k.MOST_TURNS} turns"
        if self.why == "stuck":
            return f"{games} in which there was nothing to decide"
        names = [titles.get(card, card) for card in self.cards]
        if self.why == "last":
            return f"{games} without an end, the last to act: {names[0] if names else 'no card'}"
        return f"{games} without an end: {in_words(names)}"


@dataclass
class Cut:
    """Games cut off at one card: their number, the index of the first, and its number of decisions."""

    games: int
    first: int
    decisions: int


def cuts(results: Iterable[Sequence[int]], first: int, known: dict[int, Cut]) -> dict[int, Cut]:
    """Add rows of `match_batch.RESULT`, by the definition of the last acting card.

    `first` is the index of the first game.
    """
    for game, row in enumerate(results, first):
        if row[4]:
            last = OUT_OF_TURNS if row[1] >= k.MOST_TURNS else int(row[6])
            its = known.setdefault(last, Cut(0, game, int(row[2])))
            its.games += 1
    return known


def explained(program: Program, known: dict[int, Cut], decks: Callable[[int], Sequence[Sequence[int]]], seed: int, players: Sequence[str]) -> tuple[CutOff, ...]:
    """The loop of each kind of cut game, most frequent first.

    `decks` returns the decks of a game by its index, as definitions of the program.
    """
    found: Counter[tuple[tuple[str, ...], Why]] = Counter()
    most = min(BY_ID[each].replayed for each in players)
    for number, (last, its) in enumerate(sorted(known.items(), key=lambda item: -item[1].games)):
        if last == OUT_OF_TURNS:
            found[(), "turns"] += its.games
        elif number < MOST_PLAYED and its.decisions <= most:
            match = played_again(program, decks(its.first), seed_of(seed, its.first), players)
            cards, why = _of_loop(program, match.events, match.state.cdef)
            # The same loop, starting at another card.
            found[next((known for known in found if set(known[0]) == set(cards) and known[1] == why), (cards, why))] += its.games
        else:
            found[_cards(program, [last]), "last"] += its.games
    return tuple(CutOff(cards, games, why) for (cards, why), games in found.most_common())


def played_again(program: Program, decks: Sequence[Sequence[int]], seed: int, players: Sequence[str]) -> Match:
    """Play one game again, event by event. Interpreted."""
    state = table_of(program.numbers, decks, seed)
    state.logs = 1
    match = Match(program, [[program.cards[card].id for card in deck] for deck in decks], seed, state)
    while match.asked != "over":
        match.take(match.choose(players[match.seat]))
    return match


def _of_loop(program: Program, events: Sequence[Event], made: Sequence[int]) -> tuple[tuple[str, ...], Why]:
    last = events[-1] if events else None
    if last is None or last[0] != k.E_RUNAWAY:
        return (), "stuck"
    if last[3]:
        return (), "turns" if last[3] == 1 else "stuck"
    if again := loop(events, made):
        return _cards(program, again), "loop"
    return _cards(program, [made[last[2]]] if last[2] >= 0 else []), "last"


def _cards(program: Program, made: Sequence[int]) -> tuple[str, ...]:
    """The ids of definitions that are cards; actions of the rules are none."""
    return tuple(program.cards[each].id for each in made if 0 <= each < len(program.cards))


def loop(events: Sequence[Event], made: Sequence[int]) -> list[int]:
    """The definitions of the cards in the loop of a match before it was cut off by its last event: those that
    acted repeatedly in the latter half since the step of the turn began; empty if none repeated. `made`: the
    definition of each card.
    """
    acted: list[int] = []
    for kind, _, card, _, _ in reversed(events):
        if kind in _BREAKS and len(acted) > 1:
            break
        if kind in _DOINGS and card >= 0:
            acted.append(made[card])
    acted.reverse()
    late = Counter(acted[len(acted) // 2 :])
    return [card for card in dict.fromkeys(acted) if late[card] > 1]


def in_words(names: Sequence[str]) -> str:
    """The cards of a loop in words; of a long one the first are named."""
    if len(names) == 1:
        return f"{names[0]} never ends"
    shown = [*names[:MOST_NAMED], *([f"{len(names) - MOST_NAMED} more"] if len(names) > MOST_NAMED else [])]
    return f"{', '.join(shown[:-1])} and {shown[-1]} set each other off"


__all__ = ["Cut", "CutOff", "OUT_OF_TURNS", "cuts", "explained", "in_words", "loop", "played_again"]
