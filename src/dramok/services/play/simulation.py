"""Simulations: many games between automatic players, compiled in a separate process if possible, otherwise
interpreted.
"""

from __future__ import annotations

import os
import time
from collections import Counter
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any

from dramok.core.automatic_players import PLAYERS, WORDS
from dramok.core.decks import Deck
from dramok.core.decks.random_deck import random_deck
from dramok.core.decks.sampling import BLOCK, dealt, deck_kind
from dramok.core.engine import Program, compile_program, needed
from dramok.core.engine.batch_summary import Simulation, summed
from dramok.core.engine.loop_detection import cuts, explained
from dramok.core.engine.match import fits
from dramok.core.engine.match_batch import seed_of
from dramok.core.problem import Problem, plural
from dramok.core.rulebook import Rulebook
from dramok.core.rulebook.play_checks import not_playable
from dramok.core.rulebook.starting_cards import starting_deck
from dramok.services.play.game_processes import GameProcesses
from dramok.services.workspace.snapshot import GameSnapshot
from dramok.services.workspace.workspace import Refused
from dramok.workers.batch_process import Player
from dramok.workers.compiled_kernel import can_compile, is_warm
from dramok.workers.kernel_process import KernelFailed, play

MOST_GAMES = 1_000_000
MOST_DEALT = 20_000
"""The number of random decks dealt for a run. Longer runs use them again, paired at random."""
MADE = 600
"""The number of random decks in a run that are built one by one if the deck rules can't be sampled directly."""


@dataclass(frozen=True)
class SimulationAsked:
    """The input of a simulation.

    `decks` are ids, one for each seat, or empty for random decks; where every seat begins with the same deck they
    are not needed. `players` one for each seat, or one for all. `seats`: 0 for the usual number.
    """

    games: int = 1_000
    seed: int = 1
    decks: tuple[str, ...] = ()
    players: tuple[str, ...] = ("plain",)
    threads: int = 0
    seats: int = 0


def simulate(game: GameSnapshot, asked: SimulationAsked, say: Callable[[str], None] = lambda text: None) -> Simulation:
    """Play games, compiled if possible.

    Raises Refused for incomplete rules, an empty deck, an unknown player, or too many games.
    """
    order, program = ordered(game, asked)
    if not can_compile():
        say("llvmlite is not installed: games are interpreted, about fifty times slower")
    begun = time.perf_counter()
    try:
        found = play(order)
    except KernelFailed as error:
        raise _refused("simulation", f"the games could not be played: {error}", "run it again") from error
    seconds = found["seconds"] or time.perf_counter() - begun
    return replace(_summed(order, program, found["results"], found["tally"]), seconds=seconds, compiled=found["compiled"])


def simulate_watched(game: GameSnapshot, asked: SimulationAsked, running: GameProcesses, say: Callable[[int, int], None]) -> Simulation:
    """Play games in small batches, interpreted if the kernel is not compiled yet. `say` is called with the
    games played and requested.

    If stopped through `running`, the result covers the finished games. Raises Refused as `simulate` does, and
    if stopped before the first game ends.
    """
    order, program = ordered(game, asked)
    begun, compiled = time.perf_counter(), is_warm()
    results: list[list[int]] = []
    tally: list[list[int]] = []
    player = Player({**order, "what": "quick", "cluster": ""}, compiled=False)
    running.add(player)
    say(0, asked.games)
    try:
        for line in player.lines(asked.games):
            results += line["results"]
            more = line["tally"]
            tally = [[one + other for one, other in zip(*rows, strict=True)] for rows in zip(tally, more, strict=True)] if tally else more
            say(line["games"], asked.games)
    except (KernelFailed, ValueError, OSError) as error:
        if not results:
            raise _refused("simulation", f"the games could not be played: {error}", "run it again") from error
    finally:
        player.end()
    return replace(_summed(order, program, results, tally), seconds=time.perf_counter() - begun, compiled=compiled)


def ordered(game: GameSnapshot, asked: SimulationAsked) -> tuple[dict[str, Any], Program]:
    """The order for the playing process, and the program. Raises Refused."""
    rulebook = seated(game.rulebook, asked.seats)
    seats = rulebook.played.seats
    if not 1 <= asked.games <= MOST_GAMES:
        raise _refused("games", f"{asked.games:,} games can't be played at once", f"ask for 1 to {MOST_GAMES:,}")
    for name in asked.players:
        if name not in PLAYERS:
            raise _refused("player", f"there is no automatic player {name[:40]}", f"choose {WORDS}")
    players = asked.players * seats if len(asked.players) == 1 else asked.players
    if len(players) != seats:
        raise _refused("players", f"this game has {seats} seats, and {len(players)} players were named", "name one for all, or one for each seat")
    program, decks = _program(game, rulebook, asked)
    pairs = _pairs(asked, seats, len(decks))
    threads = asked.threads or min(8, os.cpu_count() or 1)
    order = {
        "numbers": program.numbers, "decks": decks, "pairs": pairs, "seed": asked.seed, "players": players, "threads": threads,
    }  # fmt: skip
    return order, program


def _summed(order: dict[str, Any], program: Program, results: Sequence[Sequence[int]], tally: Sequence[Sequence[int]]) -> Simulation:
    lines = [each.name for each in program.rulebook.played.scoring]
    summary = summed(results, tally, program.seats, [card.id for card in program.cards], lines, len(program.rulebook.played.actions))
    decks, pairs = order["decks"], order["pairs"]
    cut = explained(program, cuts(results, 0, {}), lambda game: [decks[deck] for deck in pairs[game]], order["seed"], order["players"]) if summary.runaways else ()
    return replace(summary, threads=order["threads"], cut=cut, decks=len(decks), repeated=len(decks) < program.seats * len(pairs))


def playable(game: GameSnapshot) -> None:
    """Raises Refused if the rules of play lack something that a match needs."""
    lacking = not_playable(game.rulebook)
    if lacking is not None:
        raise Refused(lacking)


def seated(rulebook: Rulebook, seats: int) -> Rulebook:
    """The rules for a number of seats; 0: the usual one. Raises Refused for a number that the rules do not allow,
    or with which something is missing.
    """
    play = rulebook.played
    if seats and not play.fewest <= seats <= play.greatest:
        allowed = plural(play.seats, "seat") if play.fewest == play.greatest else f"{play.fewest} to {play.greatest} seats"
        raise _refused("seats", f"this game has {allowed}, not {seats}", "choose another number, or change it in Rules, Seats and zones")
    found = rulebook.with_seats(seats or play.seats)
    lacking = not_playable(found)
    if lacking is not None:
        raise Refused(lacking)
    return found


def _refused(where: str, what: str, mend: str) -> Refused:
    return Refused(Problem(where=where, what=what, mend=mend))


def _program(game: GameSnapshot, rulebook: Rulebook, asked: SimulationAsked) -> tuple[Program, list[list[int]]]:
    """The program, and decks as numbers of its cards."""
    seats = rulebook.played.seats
    lists: list[Mapping[str, int]] = []
    common = starting_deck(rulebook, game.cards.values())
    if common and not asked.decks:
        lists = [common]
    elif asked.decks:
        if len(asked.decks) not in (1, seats):
            raise _refused("decks", f"this game has {seats} seats, and {plural(len(asked.decks), 'deck was', 'decks were')} named", "name one for all, or one for each seat")
        lists = [_held(game, ident) for ident in asked.decks]
    else:
        lists = _random(game, asked, seats)
    ids = needed(rulebook, game.cards, {ident for deck in lists for ident in deck})
    try:
        program = compile_program(rulebook, [game.cards[ident] for ident in ids])
        fits(program, [max(sum(deck.values()) for deck in lists)] * seats)
    except ValueError as error:
        raise _refused("game", str(error), "make the game smaller") from error
    decks = [sorted(program.definition(ident) for ident, count in deck.items() for _ in range(count)) for deck in lists]
    return program, decks


def _random(game: GameSnapshot, asked: SimulationAsked, seats: int) -> list[Mapping[str, int]]:
    """Random legal decks from the same population as measurements: sampled if possible, else built one by one.

    Raises Refused.
    """
    rules = game.formats[0]
    cards = sorted((card for card in game.cards.values() if rules.admits(card, game.rulebook)), key=lambda card: (card.code, card.id))
    kind = deck_kind(cards, game.rulebook, rules)
    if kind is not None:
        wanted = min(MOST_DEALT, asked.games * seats)
        blocks = [dealt(kind, asked.seed, block, 2 * BLOCK) for block in range(-(-wanted // (2 * BLOCK)))]
        rows = [row for block in blocks for row in block.tolist()][:wanted]
        return [{cards[place].id: count for place, count in Counter(row).items()} for row in rows]
    made = min(MADE, asked.games * seats)
    every = list(game.cards.values())
    found = [random_deck(Deck("", "", {}), every, game.rulebook, rules, seed_of(asked.seed, number)) for number in range(made)]
    lists: list[Mapping[str, int]] = [deck.cards for deck in found if deck is not None and deck.cards]
    if not lists:
        raise _refused(rules.name, "no legal deck could be made at random", "change the deck rules, or name decks")
    return lists


def _held(game: GameSnapshot, ident: str) -> dict[str, int]:
    deck = game.decks.get(ident)
    if deck is None:
        raise _refused("deck", f"there is no deck {ident[:60]}", "name one of the game's decks")
    counts = {card: count for card, count in deck.cards.items() if card in game.cards}
    size = sum(counts.values())
    if not 1 <= size <= 400:
        raise _refused(deck.name, f"a deck of {size} cards can't be played", "take from 1 to 400")
    return counts


def _pairs(asked: SimulationAsked, seats: int, decks: int) -> Sequence[Sequence[int]]:
    """The decks of each seat in each game: the named ones, or random ones that differ from one game to the next."""
    if asked.decks or decks == 1:
        row = [place % decks for place in range(seats)]
        return [row] * asked.games
    if decks >= asked.games * seats:
        return [[game * seats + seat for seat in range(seats)] for game in range(asked.games)]
    return [[seed_of(asked.seed + 1, game * seats + seat) % decks for seat in range(seats)] for game in range(asked.games)]
