"""Games measured in a process of its own: batch after batch, each followed by a line of JSON with what is known by then.

The order (JSON) is the first line of its input; each further line is a number of games to go on to. It ends with its input.
"""

from __future__ import annotations

import json
import os
import subprocess
import sys
import time
from collections.abc import Iterator
from dataclasses import asdict
from typing import Any

from dramok.outside.kernelprocess import STALE, KernelFailed, can_compile, environment, is_warm

FIRST = 400
LARGEST = 4_000
"""Games of the first batch, for a first look at once; of later ones, each as large as all before."""


class Measuring:
    """A process that measures; `lines` gives what it says, until so many games are played. Stopping it is its end."""

    def __init__(self, order: dict[str, Any]) -> None:
        self._order = order
        self._start(is_warm())

    def _start(self, warm: bool) -> None:
        self._process = subprocess.Popen(
            [sys.executable, "-m", "dramok.outside.measureprocess"], stdin=subprocess.PIPE, stdout=subprocess.PIPE, stderr=subprocess.PIPE, env=environment(),
        )  # fmt: skip
        self._say({**self._order, "compiled": can_compile(), "warm": warm})

    def _say(self, said: object) -> None:
        assert self._process.stdin is not None
        try:
            self._process.stdin.write(json.dumps(said).encode() + b"\n")
            self._process.stdin.flush()
        except BrokenPipeError as error:
            raise KernelFailed(self._why()) from error

    def lines(self, games: int) -> Iterator[dict[str, Any]]:
        """What is known after each batch, up to so many games in all. Raises KernelFailed."""
        self._say(games)
        while True:
            assert self._process.stdout is not None
            line = self._process.stdout.readline()
            if not line and self._process.wait() == STALE:
                # What was compiled is of another processor: it is compiled anew.
                self._start(warm=False)
                self._say(games)
                continue
            if not line:
                raise KernelFailed(self._why())
            found: dict[str, Any] = json.loads(line)
            yield found
            if found["done"]:
                return

    def _why(self) -> str:
        self._process.wait()
        assert self._process.stderr is not None
        return self._process.stderr.read().decode(errors="replace").strip()[-400:] or f"it ended with {self._process.returncode}"

    def end(self) -> None:
        self._process.kill()
        self._process.wait()
        for stream in (self._process.stdin, self._process.stdout, self._process.stderr):
            if stream is not None:
                stream.close()


class _Games:
    """Decks dealt, games played, counts and winners kept."""

    def __init__(self, order: dict[str, Any]) -> None:
        import numpy as np

        from dramok.core.decks.dealing import DeckKind

        self.np, self.order = np, order
        kind = order["kind"]
        self.kind = DeckKind(tuple(kind["slots"]), tuple(kind["factions"]), kind["size"], kind["mixed"], kind["of"]) if kind else None
        self.cards: int = order["cards"]
        self.counts = np.zeros((0, 2, self.cards), np.int8)
        self.won = np.zeros(0)
        self.turns = 0
        self.runaways = 0
        self.digest = 0

    def play(self, number: int) -> None:
        from dramok.core.engine.games import play_games

        np, order, first = self.np, self.order, len(self.won)
        decks = self._decks(first, number)
        counts = np.zeros((2 * number, self.cards), np.int8)
        for place in range(decks.shape[1]):
            np.add.at(counts, (np.arange(2 * number), decks[:, place]), 1)
        pairs = [[2 * game, 2 * game + 1] for game in range(number)]
        definitions = np.array(order["definitions"])[decks]
        batch = play_games(order["numbers"], order["defs"], definitions.tolist(), pairs, order["seed"], order["players"], first, order["threads"])
        results = np.asarray(batch.results)
        self.counts = np.concatenate([self.counts, counts.reshape(number, 2, self.cards)])
        self.won = np.concatenate([self.won, np.where(results[:, 0] == 0, 1.0, np.where(results[:, 0] == 1, 0.0, 0.5))])
        self.turns += int(results[:, 1].sum())
        self.runaways += int(results[:, 4].sum())
        for each in results[:, 3]:
            self.digest = (self.digest * 1_000_003 + int(each)) & 0xFFFFFFFFFFFF

    def _decks(self, first: int, number: int) -> Any:
        from dramok.core.decks.dealing import dealt

        if self.kind is not None:
            return dealt(self.kind, self.order["seed"], first, 2 * number)
        # Made one by one beforehand; no game has the decks of another as long as there are enough of them.
        made = self.np.array(self.order["made"])
        return made[self.np.arange(2 * first, 2 * (first + number)) % len(made)]

    def known(self, done: bool, seconds: float) -> dict[str, Any]:
        from dramok.core.balance.measured import measured

        found = measured(self.counts, self.won)
        games = len(self.won)
        return {
            "games": games, "done": done, "seconds": seconds, "lifts": [asdict(each) if each else None for each in found.lifts], "first": found.first, "spread": found.spread,
            "turns": self.turns / games, "runaways": self.runaways, "draws": int((self.won == 0.5).sum()), "digest": f"{self.digest:012x}",
        }  # fmt: skip


def _sweep(order: dict[str, Any]) -> None:
    """The same decks and seeds once for each program; a line with who won after each."""
    import numpy as np

    from dramok.core.decks.dealing import DeckKind, dealt
    from dramok.core.engine.games import play_games

    kind, number = order["kind"], order["games"]
    decks = dealt(DeckKind(tuple(kind["slots"]), tuple(kind["factions"]), kind["size"], kind["mixed"], kind["of"]), order["seed"], 0, 2 * number, order["holding"])
    definitions = np.array(order["definitions"])[decks].tolist()
    # The side with the card goes first in every other game.
    pairs = [[2 * game + game % 2, 2 * game + 1 - game % 2] for game in range(number)]
    for numbers in order["programs"]:
        try:
            batch = play_games(numbers, order["defs"], definitions, pairs, order["seed"], order["players"], 0, order["threads"])
        except Exception as error:
            if order["warm"] and type(error).__name__ == "TypingError":
                sys.exit(STALE)
            raise
        won = [0.5 if row[0] < 0 else float(int(row[0]) == game % 2) for game, row in enumerate(batch.results)]
        sys.stdout.write(json.dumps({"won": won, "done": numbers is order["programs"][-1]}) + "\n")
        sys.stdout.flush()


def main() -> None:
    # Whoever types goes first.
    os.nice(5)
    order = json.loads(sys.stdin.readline())
    if order["compiled"]:
        from dramok.core.compiling import compile_kernel

        compile_kernel(order["warm"])
    if "programs" in order:
        _sweep(order)
        return
    games = _Games(order)
    begun = time.perf_counter()
    for line in sys.stdin:
        wanted = int(line)
        while True:
            there = len(games.won)
            number = min(wanted - there, LARGEST, max(FIRST, there))
            if number > 0:
                try:
                    games.play(number)
                except Exception as error:
                    if order["warm"] and type(error).__name__ == "TypingError":
                        sys.exit(STALE)
                    raise
            done = len(games.won) >= wanted
            sys.stdout.write(json.dumps(games.known(done, time.perf_counter() - begun)) + "\n")
            sys.stdout.flush()
            if done:
                break


if __name__ == "__main__":
    main()
