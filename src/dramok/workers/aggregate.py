"""Aggregate games: lifts of cards, sweeps on the same shuffles, deck duels. One record each in `KINDS`."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import asdict
from typing import Any, Protocol

import numpy as np

from dramok.core.balance.measured.lift import Measured, measured
from dramok.core.decks.sampling import mix_numbers
from dramok.core.engine.loop_detection import Cut, cuts
from dramok.core.engine.match_batch import TALLY, play_games
from dramok.workers.batches import BatchResult, Order, Stretch, counted, kind_of, made_pairs, pairs_of
from dramok.workers.compiled_kernel import loaded
from dramok.workers.executors import Executor

FIRST = 400
LARGEST = 2_000
"""Games of the first batch, for an early result; each later batch doubles the total."""


MORE, MORE_OF_MANY = 1.4, 3.0
"""Recompute when the number of games has grown by this factor: a fit takes as long as it has games, so that all
fits together take no longer than the last few. With `MANY` cards a fit takes seconds.
"""
MANY = 600


class Kind(Protocol):
    """A kind of aggregation: `lines` yields a result after each batch until a number of games; the last has `done`."""

    def lines(self, maker: Executor, games: int) -> Iterator[dict[str, Any]]: ...


def stretches(there: int, wanted: int, told: int) -> Iterator[Stretch]:
    """Batches, small at first, then larger; the same on every machine."""
    while there < wanted:
        number = min(wanted - there, LARGEST, max(FIRST, there))
        yield Stretch(there, number, 0, told)
        there += number


class Digest:
    """One hash of many games from the digests of their events, in order."""

    def __init__(self) -> None:
        self.number = 0

    def take(self, results: Any) -> None:
        for each in results[:, 3].tolist():
            self.number = (self.number * 1_000_003 + each) & 0xFFFFFFFFFFFF

    def __str__(self) -> str:
        return f"{self.number:012x}"


class Measure:
    """Lifts of cards from games between random decks."""

    def __init__(self, order: Order) -> None:
        self.order = order
        self.cards: int = order["cards"]
        self.near = 0
        """The number of first cards of a pile that count fully: the mean number drawn in a game of the first batch."""
        self.counts, self.firsts = np.zeros((0, 2, self.cards), np.int8), np.zeros((0, 2, self.cards), np.int8)
        self.mixes, self.won = np.zeros((0, 2), np.int64), np.zeros(0)
        self.turns = self.runaways = 0
        self.digest = Digest()
        self.mixed = _mixer(order)

    def lines(self, maker: Executor, games: int) -> Iterator[dict[str, Any]]:
        there = len(self.won)
        if there >= games:
            yield self.known(True)
            return
        if not there:
            size = max((len(deck) for deck in self.order["made"]), default=0) if self.order["kind"] is None else self.order["kind"]["size"]
            for played in maker.played(self.order, [Stretch(0, min(FIRST, games), 0, size)]):
                self.near = round(float(played.tally[:, 1].sum()) / 2 / played.stretch.number)
                self.take(played)
            there = len(self.won)
            yield self.known(there >= games)
        fitted = there
        for played in maker.played(self.order, stretches(there, games, self.near)):
            self.take(played)
            there = len(self.won)
            if there >= games or there >= (MORE if self.cards <= MANY else MORE_OF_MANY) * fitted:
                fitted = there
                yield self.known(there >= games)
            else:
                yield {"games": there, "done": False}

    def take(self, played: BatchResult) -> None:
        rows = played.firsts[:, :, : self.near].reshape(2 * played.stretch.number, -1)
        self.counts = np.concatenate([self.counts, played.counts])
        self.firsts = np.concatenate([self.firsts, counted(rows, self.cards).reshape(-1, 2, self.cards)])
        self.mixes = np.concatenate([self.mixes, self.mixed(played.counts)])
        self.won = np.concatenate([self.won, played.won])
        self.turns += int(played.results[:, 1].sum())
        self.runaways += int(played.results[:, 4].sum())
        self.digest.take(played.results)

    def known(self, done: bool) -> dict[str, Any]:
        found = self.fit()
        games = len(self.won)
        line = {
            "games": games, "done": done, "lifts": [asdict(each) if each else None for each in found.lifts], "first": found.first, "spread": found.spread, "near": self.near,
            "share": found.share, "turns": self.turns / games, "runaways": self.runaways, "draws": int((self.won == 0.5).sum()), "digest": str(self.digest), "repeated": self.repeated,
        }  # fmt: skip
        if done and found.covariance is not None:
            line |= {"raw": found.raw.tolist(), "covariance": np.round(found.covariance, 6).tolist()}
        return line

    def fit(self) -> Measured:
        mixes = self.mixes if self.mixes.max(initial=-1) > 0 else None
        decks = made_pairs(self.order, 0, len(self.won)) if self.repeated else None
        return measured(self.counts, self.won, self.firsts if self.near else None, mixes, decks)

    @property
    def repeated(self) -> bool:
        """Whether decks have played more than one game."""
        return self.order["kind"] is None and 2 * len(self.won) > len(self.order["made"])


def _mixer(order: Order) -> Callable[[Any], Any]:
    """A number for the set of factions of each deck (games x 2 x cards counts); 0 if decks mix freely."""
    kind = kind_of(order)
    numbers = mix_numbers(kind) if kind else {}
    if kind is None or not numbers:
        return lambda counts: np.zeros(counts.shape[:2], np.int64)
    faction = np.full(order["cards"], -1)
    for card, its in zip(kind.slots, kind.factions, strict=True):
        faction[card] = its
    # A deck can have fewer factions than it may mix: that is a separate case.
    known: dict[int, int] = {sum(1 << each for each in mix): number for mix, number in numbers.items()}
    table = np.array([known.get(bits, len(numbers)) for bits in range(1 << kind.of)])

    def mixed(counts: Any) -> Any:
        bits = sum((counts[:, :, faction == each].sum(axis=2) > 0).astype(np.int64) << each for each in range(kind.of))
        return table[bits]

    return mixed


class Sweep:
    """The same decks and seeds once for each program; one side holds a card."""

    def __init__(self, order: Order) -> None:
        self.order = order

    def lines(self, maker: Executor, games: int) -> Iterator[dict[str, Any]]:
        """For each batch of each program: the games won by the side that holds the card."""
        parts = [Stretch(first, min(LARGEST, games - first), program) for program in range(len(self.order["programs"])) for first in range(0, games, LARGEST)]
        for number, played in enumerate(maker.played(self.order, parts), 1):
            # The side with the card goes first in every other game.
            turned = (np.arange(played.stretch.number) % 2).astype(bool)
            won = np.where(turned, 1 - played.won, played.won)
            yield {"program": played.stretch.program, "won": won.tolist(), "done": number == len(parts)}


class Duels:
    """Every deck against every other.

    `decks` are lists of card numbers; `games` cycle through the pairs, each side first in half.
    """

    def __init__(self, order: Order) -> None:
        self.order = order
        self.decks: int = order["duelling"]
        self.wins = np.zeros((self.decks, self.decks))
        self.games = np.zeros((self.decks, self.decks), np.int64)
        self.first = np.zeros(3, np.int64)
        self.lengths: dict[int, int] = {}
        self.emptied = np.zeros(self.decks, np.int64)
        self.cut: dict[int, Cut] = {}
        self.tally = np.zeros((order["cards"], len(TALLY)), np.int64)
        self.digest = Digest()

    def lines(self, maker: Executor, games: int) -> Iterator[dict[str, Any]]:
        parts = list(stretches(0, games, 0))
        for number, played in enumerate(maker.played(self.order, parts), 1):
            self.take(played)
            yield self.known(number == len(parts))

    def take(self, played: BatchResult) -> None:
        pairs = np.array(pairs_of(self.decks, played.stretch.first, played.stretch.number))
        winner = played.results[:, 0]
        first, second = pairs[:, 0], pairs[:, 1]
        np.add.at(self.wins, (first, second), played.won)
        np.add.at(self.wins, (second, first), 1 - played.won)
        np.add.at(self.games, (first, second), 1)
        np.add.at(self.games, (second, first), 1)
        self.first += [int((winner == 0).sum()), int((winner == 1).sum()), int((winner < 0).sum())]
        for length, count in zip(*np.unique(played.results[:, 1], return_counts=True), strict=True):
            self.lengths[int(length)] = self.lengths.get(int(length), 0) + int(count)
        for seat, side in enumerate((first, second)):
            np.add.at(self.emptied, side, (played.results[:, 5] >> seat) & 1)
        if played.results[:, 4].any():
            cuts(played.results.tolist(), played.stretch.first, self.cut)
        self.tally += played.tally
        self.digest.take(played.results)

    def known(self, done: bool) -> dict[str, Any]:
        return {
            "done": done, "games": int(self.games.sum()) // 2, "wins": self.wins.tolist(), "played": self.games.tolist(), "first": self.first.tolist(), "lengths": sorted(self.lengths.items()),
            "emptied": self.emptied.tolist(), "cut": [[last, asdict(its)] for last, its in self.cut.items()], "tally": self.tally.tolist(), "digest": str(self.digest),
        }  # fmt: skip


class Quick:
    """A few games with any number of seats, in small batches:

    `decks` as definitions, `pairs` the decks of each game's seats.
    """

    HANDFUL = 10

    def __init__(self, order: Order) -> None:
        self.order = order

    def lines(self, maker: Executor, games: int) -> Iterator[dict[str, Any]]:
        order, pairs = self.order, self.order["pairs"][:games]
        for first in range(0, len(pairs), self.HANDFUL):
            batch = play_games(order["numbers"], order["decks"], pairs[first : first + self.HANDFUL], order["seed"], order["players"], first, order["threads"], runner=loaded())
            there = min(len(pairs), first + self.HANDFUL)
            results = [[int(number) for number in row] for row in batch.results]
            tally = [[int(number) for number in row] for row in batch.tally]
            yield {"games": there, "done": there >= len(pairs), "results": results, "tally": tally}


KINDS: dict[str, Callable[[Order], Kind]] = {"measure": Measure, "sweep": Sweep, "duels": Duels, "quick": Quick}
