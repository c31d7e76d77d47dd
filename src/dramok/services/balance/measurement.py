"""Measurement of card strength: games with random legal decks between automatic players, in another process.

One measurement runs per game at a time; the last one by each automatic player stays in memory until the server
stops. It can be read while it runs, stopped, continued, and stored (see `kept_measurements`).
"""

from __future__ import annotations

import threading
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from typing import Any

from dramok.services.balance import batch_orders
from dramok.services.balance.batch_orders import MOST_GAMES, Playing, refused
from dramok.services.workspace.snapshot import GameSnapshot
from dramok.services.workspace.workspace import Refused
from dramok.workers.batch_process import Player

USUAL = 20_000


@dataclass(frozen=True)
class CardLift:
    """See `balance.measured.lift.Lift`; all None for a card that was in no deck."""

    card: str
    lift: float | None
    low: float | None
    high: float | None
    named: bool
    decks: int


@dataclass(frozen=True)
class Measurement:
    """A measurement. `state`: none, compiling, running, stopped, done, failed. `provisional`: games are still
    running, and the intervals are valid only at the end.

    `edited`: ids of cards changed since; `rules_edited`: whether the rules changed. The first `near` cards of a
    pile count fully, the others `share`. `raw` and `covariance`: lifts in points before pooling, of the cards
    with a lift.
    """

    state: str
    games: int = 0
    wanted: int = 0
    seed: int = 1
    player: str = "plain"
    seq: int = 0
    cards: tuple[CardLift, ...] = ()
    first: tuple[float, float, float] = (0.0, 0.0, 0.0)
    spread: float = 0.0
    near: int = 0
    share: float = 1.0
    turns: float = 0.0
    draws: int = 0
    runaways: int = 0
    seconds: float = 0.0
    digest: str = ""
    provisional: bool = True
    repeated: bool = False
    edited: tuple[str, ...] = ()
    rules_edited: bool = False
    problem: str = ""
    raw: tuple[float, ...] = ()
    covariance: tuple[tuple[float, ...], ...] = ()


def measure(game: GameSnapshot, asked: Playing) -> Iterator[Measurement]:
    """Yield the state after each batch; the last one is final. Raises Refused if the game can't be measured."""
    order, cards = order_of(game, asked)
    now = Measurement("running", wanted=asked.games, seed=asked.seed, player=asked.player, seq=game.seq)
    for line in batch_orders.lines_of(order, asked.games):
        now = _measurement(line, now, game, asked, cards)
        yield now


def order_of(game: GameSnapshot, asked: Playing) -> tuple[dict[str, Any], list[str]]:
    """The order, and the card ids in the order of their numbers."""
    order = batch_orders.base(game, "measure", asked)
    cards = batch_orders.pool(game)
    ids = [card.id for card in cards]
    return {**order, **batch_orders.dealing(game, cards, asked.seed), **batch_orders.programs([batch_orders.program_of(game, ids)], ids)}, ids


def _measurement(line: dict[str, Any], before: Measurement, game: GameSnapshot, asked: Playing, cards: Sequence[str]) -> Measurement:
    """The state after a result line; a line with only the number of games leaves the rest unchanged."""
    if "lifts" not in line:
        return replace(before, state="running", games=line["games"], seconds=line["seconds"])
    lifts = tuple(
        CardLift(card, each["lift"], each["low"], each["high"], each["named"], each["decks"]) if each else CardLift(card, None, None, None, False, 0)
        for card, each in zip(cards, line["lifts"], strict=True)
    )
    return Measurement(
        "done" if line["done"] else "running", line["games"], asked.games, asked.seed, asked.player, game.seq, lifts, tuple(line["first"]), line["spread"], line["near"],
        line["share"], line["turns"], line["draws"], line["runaways"], line["seconds"], line["digest"], not line["done"], line["repeated"],
        raw=tuple(line.get("raw", ())), covariance=tuple(map(tuple, line.get("covariance", ()))),
    )  # fmt: skip


class _RunningMeasurement:
    """A measurement that runs, or ran, in a thread."""

    def __init__(self, game: GameSnapshot, asked: Playing) -> None:
        self.order, self.cards = order_of(game, asked)
        self.game, self.asked = game, asked
        self.now = Measurement("compiling", 0, asked.games, asked.seed, asked.player, game.seq)
        self.player = Player(self.order)
        self.stopping = threading.Event()
        self.thread: threading.Thread | None = None
        self.compared: tuple[GameSnapshot, bool] | None = None
        self.go_on(asked.games)

    def go_on(self, games: int) -> None:
        self.asked = replace(self.asked, games=games)
        self.stopping.clear()
        self.now = replace(self.now, state="running" if self.now.games else "compiling", wanted=games)
        self.thread = threading.Thread(target=self._run, args=(games,), daemon=True)
        self.thread.start()

    def begin_again(self) -> None:
        """Its process was ended: play the same games again, which takes as long as before."""
        self.player = Player(self.order)

    def _run(self, games: int) -> None:
        try:
            for line in batch_orders.told(self.player, games):
                self.now = _measurement(line, self.now, self.game, self.asked, self.cards)
        except (Refused, ValueError, OSError) as error:
            told = "" if self.stopping.is_set() else str(error.problem.what if isinstance(error, Refused) else error)
            self.now = replace(self.now, state="failed" if told else "stopped", problem=told)

    def stop(self) -> None:
        self.stopping.set()
        self.player.end()
        if self.thread is not None:
            self.thread.join(5)
        if self.under_way:
            self.now = replace(self.now, state="stopped")

    @property
    def under_way(self) -> bool:
        return self.now.state in ("running", "compiling")

    def same_play(self, game: GameSnapshot) -> bool:
        """Whether the current game would give the same matches, whatever else was edited."""
        if self.compared is None or self.compared[0] is not game:
            try:
                same = {key: value for key, value in order_of(game, self.asked)[0].items() if key != "threads"}
            except Refused:
                same = {}
            self.compared = (game, same == {key: value for key, value in self.order.items() if key != "threads"})
        return self.compared[1]


class Measurements:
    """The measurements of all games of a server, one by each automatic player; at most one per game runs."""

    def __init__(self) -> None:
        self._held: dict[str, dict[str, _RunningMeasurement]] = {}
        self._lock = threading.Lock()

    def start(self, game: GameSnapshot, asked: Playing) -> Measurement:
        """Start a new measurement. A running one of the same game is stopped."""
        with self._lock:
            found = _RunningMeasurement(game, asked)
            others = self._held.setdefault(game.id, {})
            before = [others.pop(asked.player)] if asked.player in others else []
            before += [each for each in others.values() if each.under_way]
            # The latest is the last item.
            others[asked.player] = found
        for each in before:
            each.stop()
        return self.look(game)

    def go_on(self, game: GameSnapshot, games: int) -> Measurement:
        """Continue with more games and the cards as they were at its start.

        Raises Refused if there is nothing to continue.
        """
        with self._lock:
            held = self._latest(game)
            if held is None or held.under_way:
                raise refused("measuring", "there is nothing to go on with", "press Measure")
            if games <= held.now.games or games > MOST_GAMES:
                raise refused("games", f"{held.now.games:,} games are played already", f"ask for more, up to {MOST_GAMES:,}")
            if held.now.state != "done":
                held.begin_again()
            held.go_on(games)
        return self.look(game)

    def stop(self, game: GameSnapshot) -> Measurement:
        with self._lock:
            held = self._latest(game)
        if held is not None and held.under_way:
            held.stop()
        return self.look(game)

    def look(self, game: GameSnapshot, player: str | None = None) -> Measurement:
        """The latest state, or the latest of one player, with the edits since."""
        held = self._latest(game, player)
        if held is None:
            return Measurement("none")
        if held.game is game or held.same_play(game):
            return held.now
        measured = held.game
        edited = tuple(card.card for card in held.now.cards if card.card not in game.cards or game.cards[card.card].values != measured.cards[card.card].values)
        rules = (game.rulebook, game.formats) != (measured.rulebook, measured.formats)
        return replace(held.now, edited=edited, rules_edited=rules or not edited)

    def players(self, game: GameSnapshot) -> tuple[str, ...]:
        """The automatic players with a measurement, the latest last."""
        return tuple(self._held.get(game.id, {}))

    def _latest(self, game: GameSnapshot, player: str | None = None) -> _RunningMeasurement | None:
        held = self._held.get(game.id, {})
        return held.get(player) if player is not None else next(reversed(held.values()), None)

    def close(self) -> None:
        """Stop all measurements and clear them."""
        with self._lock:
            gone = [each for those in self._held.values() for each in those.values()]
            self._held.clear()
        for held in gone:
            held.stop()
