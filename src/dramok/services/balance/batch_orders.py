"""Orders for batches of games: programs, decks, seed, players. Invalid requests are refused before anything starts."""

from __future__ import annotations

import os
from collections import Counter
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass
from typing import Any

from dramok.core.automatic_players import PLAYERS, WORDS
from dramok.core.cards import Card
from dramok.core.decks import Deck
from dramok.core.decks.random_deck import random_deck
from dramok.core.decks.sampling import deck_kind
from dramok.core.engine import Program, compile_program, needed
from dramok.core.engine.match_batch import seed_of
from dramok.core.problem import Problem
from dramok.services.play.game_processes import GameProcesses
from dramok.services.play.simulation import MADE, playable
from dramok.services.workspace.snapshot import GameSnapshot
from dramok.services.workspace.workspace import Refused
from dramok.workers.batch_process import Player
from dramok.workers.compiled_kernel import can_compile
from dramok.workers.kernel_process import KernelFailed

MOST_GAMES = 500_000
LEAST_MADE = 6
"""The least number of decks built for each card under test, if there are many such cards."""
LARGEST_DECK = 400


@dataclass(frozen=True)
class Playing:
    """How many games, by which player and where.

    `threads` 0: one for each core. `cluster`: the address of a scheduler (see `dramok workers`), or empty.
    """

    games: int
    seed: int = 1
    player: str = "plain"
    threads: int = 0
    cluster: str = ""


def refused(where: str, what: str, mend: str) -> Refused:
    return Refused(Problem(where=where, what=what, mend=mend))


def base(game: GameSnapshot, what: str, asked: Playing) -> dict[str, Any]:
    """The common part of every order. Raises Refused if two players can't play the game now."""
    playable(game)
    if game.rulebook.played.seats != 2:
        raise refused("measuring", f"it compares two sides, and this game has {game.rulebook.played.seats}", "take two seats under How it is played")
    if game.rulebook.played.set_up.starts_alike:
        raise refused("measuring", "everyone begins with the same deck, so that decks say nothing of a card's strength", "watch scores and purchases with dramok simulate")
    if not 1 <= asked.games <= MOST_GAMES:
        raise refused("games", f"{asked.games:,} games can't be played at once", f"ask for 1 to {MOST_GAMES:,}")
    if asked.player not in PLAYERS:
        raise refused("player", f"there is no automatic player {asked.player[:40]}", f"choose {WORDS}")
    if not can_compile():
        raise refused("measuring", "llvmlite is not installed, without which games take too long", "install it: pip install llvmlite")
    return {
        "what": what, "seed": asked.seed, "players": [asked.player] * 2, "threads": asked.threads or min(8, os.cpu_count() or 1), "cluster": asked.cluster,
        "kind": None, "made": [], "holding": [],
    }  # fmt: skip


def pool(game: GameSnapshot) -> list[Card]:
    """The ids of the cards for random decks: those that the first deck rules admit, by code.

    Raises Refused for fewer than two.
    """
    rules = game.formats[0]
    cards = sorted((card for card in game.cards.values() if rules.admits(card, game.rulebook)), key=lambda card: (card.code, card.id))
    if len(cards) < 2:
        raise refused(rules.name, "fewer than two cards may be in a deck", "allow more, or write some")
    return cards


def dealing(game: GameSnapshot, cards: Sequence[Card], seed: int, holding: Sequence[str] = ()) -> dict[str, Any]:
    """How to obtain random legal decks: a kind that can be sampled by the thousand, or decks built one by one.

    For decks built one by one: for each card (id) of `holding`, which decks hold it and which do not. Raises
    Refused.
    """
    rules = game.formats[0]
    kind = deck_kind(cards, game.rulebook, rules)
    if kind is not None:
        if kind.size > LARGEST_DECK:
            raise refused(rules.name, f"decks of {kind.size} cards can't be played", f"take at most {LARGEST_DECK}")
        return {"kind": kind.plain()}
    place = {card.id: number for number, card in enumerate(cards)}
    all_cards = list(game.cards.values())

    def made_of(begun: dict[str, int], of: list[Card], number: int) -> list[list[int]]:
        found = [random_deck(Deck("", "", begun), of, game.rulebook, rules, seed_of(seed, each)) for each in range(number)]
        return [[place[card] for card, count in sorted(deck.cards.items()) for _ in range(count)] for deck in found if deck is not None and deck.cards]

    if not holding:
        made = _of_one_size([made_of({}, all_cards, MADE)])[0]
        if not made:
            raise refused(rules.name, "no legal deck could be made at random", "change the deck rules")
        return {"made": made}
    each = max(LEAST_MADE, MADE // 2 // len(holding))
    held = [made_of({card: 1}, all_cards, each) for card in holding]
    # If every legal deck has the card, the other side has it as well.
    free = [made_of({}, [other for other in all_cards if other.id != card], each) or made_of({}, all_cards, each) for card in holding]
    both = _of_one_size([*held, *free])
    if not all(both):
        raise refused(rules.name, "no legal deck could be made at random with each of these cards", "change the deck rules")
    starts = [sum(map(len, both[:number])) for number in range(len(both) + 1)]
    rows = [list(range(start, end)) for start, end in zip(starts, starts[1:], strict=False)]
    return {"made": [deck for decks in both for deck in decks], "with": rows[: len(holding)], "without": rows[len(holding) :]}


def repeats(game: GameSnapshot, games: int) -> bool:
    """Whether decks play more than one game each: true only for decks built one by one.

    Sweeps compare the same games and do not widen their intervals for it.
    """
    return 2 * games > MADE and deck_kind(pool(game), game.rulebook, game.formats[0]) is None


def _of_one_size(lists: Sequence[list[list[int]]]) -> list[list[list[int]]]:
    """The decks of the most frequent size."""
    sizes = Counter(len(deck) for decks in lists for deck in decks)
    size = max(sizes, key=lambda each: (sizes[each], each), default=0)
    return [[deck for deck in decks if len(deck) == size] for decks in lists]


def program_of(game: GameSnapshot, cards: Sequence[str], *more: Card) -> Program:
    """The program of a game whose decks may hold these cards (ids), and `more`: further cards, or replacements
    for the card of their id. Raises Refused.
    """
    known = {**game.cards, **{each.id: each for each in more}}
    ids = needed(game.rulebook, known, [*cards, *(each.id for each in more)])
    try:
        return compile_program(game.rulebook, [known[ident] for ident in ids])
    except ValueError as error:
        raise refused("game", str(error), "make the game smaller") from error


def programs(made: Iterable[Program], cards: Sequence[str], held: Sequence[str] = ()) -> dict[str, Any]:
    """One program for each game.

    `held`: the replacements of the order's `holding` cards for the side that holds one.
    """
    return {
        "programs": [
            {"numbers": each.numbers, "definitions": [each.definition(card) for card in cards], "held": [each.definition(card) for card in held]} for each in made
        ],
        "cards": len(cards),
    }  # fmt: skip


def lines_of(order: dict[str, Any], games: int, running: GameProcesses | None = None) -> Iterator[dict[str, Any]]:
    """The result lines of a new player process, up to the last line or until the caller stops reading.

    `running` gets the player so that others can end it. Raises Refused if it fails.
    """
    try:
        player = Player(order)
    except KernelFailed as error:
        raise failed(error) from error
    if running is not None:
        running.add(player)
    try:
        yield from told(player, games)
    finally:
        player.end()


def told(player: Player, games: int) -> Iterator[dict[str, Any]]:
    try:
        yield from player.lines(games)
    except (KernelFailed, ValueError, OSError) as error:
        # Another thread may close its streams in the middle of a line.
        raise failed(error) from error


def failed(error: Exception) -> Refused:
    return refused("measuring", f"the games could not be played: {error}", "run it again")
