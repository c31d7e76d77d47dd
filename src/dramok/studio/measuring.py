"""Measured strength: games with fresh random legal decks between automatic players, in a process beside the server; lifts with intervals.

One measurement a game runs at a time. It can be looked at while it runs, stopped, and gone on with.
"""

from __future__ import annotations

import os
import threading
from collections.abc import Iterator
from dataclasses import dataclass, replace
from typing import Any

from dramok.core.balance.swept import SweepPoint, swept
from dramok.core.decks import Deck
from dramok.core.decks.dealing import deck_kind
from dramok.core.decks.randomly import random_deck
from dramok.core.engine import PLAYERS, compile_program, looked_at, needed
from dramok.core.engine.games import seed_of
from dramok.core.problem import Problem
from dramok.outside.kernelprocess import KernelFailed, can_compile
from dramok.outside.measureprocess import Measuring
from dramok.studio.desk import Refused
from dramok.studio.simulating import playable
from dramok.studio.snapshot import GameSnapshot

MOST_GAMES = 500_000
USUAL = 20_000
MADE = 600
"""Decks made one by one, where the deck rules are of an unusual kind."""


@dataclass(frozen=True)
class CardLift:
    """See `balance.measured.Lift`; all None for a card that was in no deck."""

    card: str
    lift: float | None
    low: float | None
    high: float | None
    named: bool
    decks: int


@dataclass(frozen=True)
class Measurement:
    """`state`: none, compiling, running, stopped, done, failed. `provisional`: the intervals were looked at before the games were over, and
    hold for the whole only. `edited`: cards (ids) that are not as they were measured; `rules_edited`: the rules are not."""

    state: str
    games: int = 0
    wanted: int = 0
    seed: int = 1
    player: str = "plain"
    seq: int = 0
    cards: tuple[CardLift, ...] = ()
    first: tuple[float, float, float] = (0.0, 0.0, 0.0)
    spread: float = 0.0
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


@dataclass(frozen=True)
class MeasureAsked:
    games: int = USUAL
    seed: int = 1
    player: str = "plain"
    threads: int = 0


MOST_VALUES = 41


@dataclass(frozen=True)
class SweepAsked:
    """`field` of a card (ids) from one value to another, in so many games for each."""

    card: str
    field: str
    start: int
    end: int
    games: int = 2_000
    seed: int = 1
    player: str = "plain"
    threads: int = 0


def sweep(game: GameSnapshot, asked: SweepAsked) -> tuple[SweepPoint, ...]:
    """The win rate of the side with the card, value by value on the same shuffles. Raises Refused; also where the engine never reads the
    field of this card, so that nothing could change."""
    order, cards = _order(game, MeasureAsked(asked.games, asked.seed, asked.player, asked.threads))
    if asked.card not in cards:
        raise _refused("card", "it may be in no deck, so that no game would have it", "allow it under Deck rules")
    card = game.cards[asked.card]
    field = game.rulebook.cards.field(asked.field)
    if field is None or field.kind != "number" or not game.rulebook.cards.has_field(card.type, asked.field):
        raise _refused("field", f"{game.title(card)} has no number {asked.field[:40]}", "name one of its number fields")
    now = int(card.number(asked.field) or 0)
    values = sorted({*range(asked.start, asked.end + 1), now})
    if asked.start > asked.end or len(values) > MOST_VALUES:
        raise _refused("range", f"from {asked.start} to {asked.end} is no range that can be swept", f"ask for up to {MOST_VALUES - 1} values")
    if order["kind"] is None:
        raise _refused(game.formats[0].name, "decks by these rules can't be dealt by the thousand", "measure, or play by simpler deck rules")
    ids = needed(game.rulebook, game.cards, cards)
    made = [compile_program(game.rulebook, [card.with_value(asked.field, value) if ident == card.id else game.cards[ident] for ident in ids]) for value in values]
    if asked.field not in looked_at(game.rulebook, made[0].cards) or all(each.numbers == made[0].numbers for each in made):
        raise _refused(field.name, f"the engine never reads {field.name.lower()} of {game.title(card)}: nothing would change", "sweep another field")
    running = Measuring({**order, "programs": [each.numbers for each in made], "games": asked.games, "holding": cards.index(card.id)})
    try:
        won = [line["won"] for line in _lines(running, asked.games)]
    finally:
        running.end()
    return swept(values, won, values.index(now))


def measure(game: GameSnapshot, asked: MeasureAsked) -> Iterator[Measurement]:
    """What is known after each batch; the last one is whole. Raises Refused for what can't be measured."""
    order, cards = _order(game, asked)
    running = Measuring(order)
    try:
        for line in _lines(running, asked.games):
            yield _measurement(line, game, asked, cards, order["kind"] is None)
    finally:
        running.end()


def _lines(running: Measuring, games: int) -> Iterator[dict[str, Any]]:
    try:
        yield from running.lines(games)
    except KernelFailed as error:
        raise _refused("measuring", f"the games could not be played: {error}", "run it again") from error


def _measurement(line: dict[str, Any], game: GameSnapshot, asked: MeasureAsked, cards: list[str], repeated: bool) -> Measurement:
    lifts = tuple(
        CardLift(card, each["lift"], each["low"], each["high"], each["named"], each["decks"]) if each else CardLift(card, None, None, None, False, 0)
        for card, each in zip(cards, line["lifts"], strict=True)
    )
    return Measurement(
        "done" if line["done"] else "running", line["games"], asked.games, asked.seed, asked.player, game.seq, lifts, tuple(line["first"]), line["spread"],
        line["turns"], line["draws"], line["runaways"], line["seconds"], line["digest"], not line["done"], repeated,
    )  # fmt: skip


def _order(game: GameSnapshot, asked: MeasureAsked) -> tuple[dict[str, Any], list[str]]:
    playable(game)
    if game.rulebook.played.seats != 2:
        raise _refused("measuring", f"it compares two sides, and this game has {game.rulebook.played.seats}", "take two seats under How it is played")
    if not 1 <= asked.games <= MOST_GAMES:
        raise _refused("games", f"{asked.games:,} games can't be played at once", f"ask for 1 to {MOST_GAMES:,}")
    if asked.player not in PLAYERS:
        raise _refused("player", f"there is no automatic player {asked.player[:40]}", f"choose {', '.join(PLAYERS)}")
    if not can_compile():
        raise _refused("measuring", "numba is not installed, without which games take too long", "install it: pip install dramok[fast]")
    rules = game.formats[0]
    cards = sorted((card for card in game.cards.values() if rules.admits(card, game.rulebook)), key=lambda card: (card.code, card.id))
    if len(cards) < 2:
        raise _refused(rules.name, "fewer than two cards may be in a deck", "allow more, or write some")
    kind = deck_kind(cards, game.rulebook, rules)
    place = {card.id: number for number, card in enumerate(cards)}
    made: list[list[int]] = []
    if kind is None:
        found = [random_deck(Deck("", "", {}), list(game.cards.values()), game.rulebook, rules, seed_of(asked.seed, number)) for number in range(MADE)]
        made = [[place[card] for card, count in sorted(deck.cards.items()) for _ in range(count)] for deck in found if deck is not None and deck.cards]
        size = max(map(len, made), default=0)
        made = [deck for deck in made if len(deck) == size]
        if not made:
            raise _refused(rules.name, "no legal deck could be made at random", "change the deck rules")
    ids = needed(game.rulebook, game.cards, place)
    try:
        program = compile_program(game.rulebook, [game.cards[ident] for ident in ids])
    except ValueError as error:
        raise _refused("game", str(error), "make the game smaller") from error
    if kind is not None and kind.size > 400:
        raise _refused(rules.name, f"decks of {kind.size} cards can't be played", "take at most 400")
    order = {
        "numbers": program.numbers, "defs": len(program.cards), "definitions": [program.definition(card.id) for card in cards], "cards": len(cards),
        "kind": None if kind is None else {key: getattr(kind, key) for key in kind.__dataclass_fields__}, "made": made, "seed": asked.seed,
        "players": [asked.player] * 2, "threads": asked.threads or min(8, os.cpu_count() or 1),
    }  # fmt: skip
    return order, [card.id for card in cards]


def _refused(where: str, what: str, mend: str) -> Refused:
    return Refused(Problem(where=where, what=what, mend=mend))


class _Held:
    """A measurement that runs, or ran, in a thread of its own."""

    def __init__(self, game: GameSnapshot, asked: MeasureAsked) -> None:
        self.order, self.cards = _order(game, asked)
        self.game, self.asked = game, asked
        self.now = Measurement("compiling", 0, asked.games, asked.seed, asked.player, game.seq)
        self.running = Measuring(self.order)
        self.stopping = threading.Event()
        self.thread: threading.Thread | None = None
        self.go_on(asked.games)

    def go_on(self, games: int) -> None:
        self.asked = replace(self.asked, games=games)
        self.stopping.clear()
        self.now = replace(self.now, state="running" if self.now.games else "compiling", wanted=games)
        self.thread = threading.Thread(target=self._run, args=(games,), daemon=True)
        self.thread.start()

    def _run(self, games: int) -> None:
        try:
            for line in _lines(self.running, games):
                self.now = _measurement(line, self.game, self.asked, self.cards, self.order["kind"] is None)
        except (Refused, ValueError, OSError) as error:
            told = "" if self.stopping.is_set() else str(error.problem.what if isinstance(error, Refused) else error)
            self.now = replace(self.now, state="failed" if told else "stopped", problem=told)

    def stop(self) -> None:
        self.stopping.set()
        self.running.end()
        if self.thread is not None:
            self.thread.join(5)
        if self.now.state in ("running", "compiling"):
            self.now = replace(self.now, state="stopped")


class Measurements:
    """The measurement of each game of a server, while it runs."""

    def __init__(self) -> None:
        self._held: dict[str, _Held] = {}
        self._lock = threading.Lock()

    def start(self, game: GameSnapshot, asked: MeasureAsked) -> Measurement:
        """Begins anew. What runs for the game is stopped."""
        with self._lock:
            found = _Held(game, asked)
            before = self._held.pop(game.id, None)
            self._held[game.id] = found
        if before is not None:
            before.stop()
        return self.look(game)

    def go_on(self, game: GameSnapshot, games: int) -> Measurement:
        """More games with the cards as they were when it began. Raises Refused where there is nothing to go on with."""
        with self._lock:
            held = self._held.get(game.id)
            if held is None or held.now.state in ("compiling", "running"):
                raise _refused("measuring", "there is nothing to go on with", "press Measure")
            if games <= held.now.games or games > MOST_GAMES:
                raise _refused("games", f"{held.now.games:,} games are played already", f"ask for more, up to {MOST_GAMES:,}")
            if held.now.state != "done":
                # Its process was ended: the same games are played again, which takes no longer than they did.
                held.running = Measuring(held.order)
            held.go_on(games)
        return self.look(game)

    def stop(self, game: GameSnapshot) -> Measurement:
        with self._lock:
            held = self._held.get(game.id)
        if held is not None and held.now.state in ("compiling", "running"):
            held.stop()
        return self.look(game)

    def look(self, game: GameSnapshot) -> Measurement:
        """What is known now, and what has been edited since."""
        held = self._held.get(game.id)
        if held is None:
            return Measurement("none")
        measured = held.game
        edited = tuple(card.card for card in held.now.cards if card.card not in game.cards or game.cards[card.card].values != measured.cards[card.card].values)
        rules = (game.rulebook, game.formats) != (measured.rulebook, measured.formats)
        return replace(held.now, edited=edited, rules_edited=rules)

    def close(self) -> None:
        """Ends what runs, and forgets what is known."""
        with self._lock:
            gone = list(self._held.values())
            self._held.clear()
        for held in gone:
            held.stop()
