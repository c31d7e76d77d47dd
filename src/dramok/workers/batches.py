"""Play a batch of games: deal decks, play, collect counts. The result is the same on every machine.

An order is plain JSON: `programs` (each with numbers, the definition of each card, and that of each held
card if it differs), `cards` the number of cards, `kind` how decks are dealt (see `core.decks.sampling`), or
`made` decks, of which `with` and `without` list those with and without each of `holding`; `holding`, `seed`,
`players`. Compiled if the process has loaded the kernel (see `compiled_kernel`).
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, NamedTuple

import numpy as np

from dramok.core.decks.sampling import BLOCK, DeckKind, dealt, turn_of
from dramok.core.engine.kernel.codes import H_DEFS
from dramok.core.engine.match_batch import TALLY, play_games
from dramok.workers.compiled_kernel import loaded

Order = Mapping[str, Any]


class Stretch(NamedTuple):
    """Games `first` to `first + number - 1` of a program; `told`: the number of top cards of each pile to report."""

    first: int
    number: int
    program: int = 0
    told: int = 0


class BatchResult(NamedTuple):
    """Results by game: `won` 1 if the first seat won, 0 for the second, 0.5 for a draw; `results`, see
    `match_batch.RESULT`. `counts`: games x 2 x cards.

    `firsts`: games x 2 x told, card numbers (-1: none), top of the pile first. `tally`: cards x
    `match_batch.TALLY`.
    """

    stretch: Stretch
    won: Any
    results: Any
    counts: Any
    firsts: Any
    tally: Any


def kind_of(order: Order) -> DeckKind | None:
    kind = order["kind"]
    return DeckKind.read(kind) if kind else None


def decks_of(order: Order, stretch: Stretch) -> Any:
    """The decks of a batch, two per game: 2 x number rows of card numbers."""
    kind, (first, number) = kind_of(order), stretch[:2]
    if order.get("duelling"):
        return [order["made"][deck] for pair in pairs_of(order["duelling"], first, number) for deck in pair]
    if kind is None:
        if order.get("holding"):
            return np.array([order["made"][deck] for game in range(first, first + number) for deck in _made_for(order, game)])
        return np.array(order["made"])[made_pairs(order, first, number).reshape(-1)]
    blocks = range(first // BLOCK, (first + number - 1) // BLOCK + 1)
    found = np.concatenate([dealt(kind, order["seed"], block, 2 * BLOCK, order.get("holding", ())) for block in blocks])
    begin = 2 * (first - blocks[0] * BLOCK)
    return found[begin : begin + 2 * number]


def made_pairs(order: Order, first: int, number: int) -> Any:
    """Pairs of prebuilt decks: games x 2, shuffled again for every round through all decks, so that pairs
    rarely repeat.
    """
    many = len(order["made"])
    rounds = range(2 * first // many, (2 * (first + number) - 1) // many + 1)
    orders = [np.random.Generator(np.random.PCG64([order["seed"], 7, each])).permutation(many) for each in rounds]
    begin = 2 * first - rounds[0] * many
    return np.concatenate(orders)[begin : begin + 2 * number].reshape(-1, 2)


def _made_for(order: Order, game: int) -> tuple[int, int]:
    """Prebuilt decks with and without the card whose turn it is; every pair occurs eventually."""
    many = len(order["holding"])
    turn = int(turn_of(game, many))
    held, free = order["with"][turn], order["without"][turn]
    round_, other = divmod(game // (2 * many) * 2 + game % 2, len(held))
    return held[other], free[(round_ + other) % len(free)]


def pairs_of(decks: int, first: int, number: int) -> list[tuple[int, int]]:
    """The decks of each duel: every ordered pair in turn. A single deck plays itself."""
    pairs = [(one, other) for one in range(decks) for other in range(decks) if one != other] or [(0, 0)]
    return [pairs[game % len(pairs)] for game in range(first, first + number)]


def counted(places: Any, cards: int) -> Any:
    """How often each card occurs in each row of card numbers (-1: none): rows x cards."""
    rows, there = len(places), places >= 0
    at = (np.arange(rows)[:, None] * cards + places)[there]
    return np.bincount(at, minlength=rows * cards).reshape(rows, cards).astype(np.int8)


def play(order: Order, stretch: Stretch, threads: int = 1) -> BatchResult:
    """Deal and play. If one side holds a card (one of `holding`), it goes first in every other game."""
    cards, program = order["cards"], order["programs"][stretch.program]
    decks = decks_of(order, stretch)
    held = bool(order.get("holding"))
    definitions = np.array(program["definitions"])
    played = _definitions(order, program, stretch, decks) if program["held"] else [definitions[deck].tolist() for deck in decks]
    pairs = [[2 * game + (game % 2 if held else 0), 2 * game + (1 - game % 2 if held else 1)] for game in range(stretch.number)]
    batch = play_games(
        program["numbers"], played, pairs, order["seed"], order["players"], stretch.first, threads, told=stretch.told, runner=loaded(),
    )  # fmt: skip
    results = np.asarray(batch.results)
    won = np.where(results[:, 0] == 0, 1.0, np.where(results[:, 0] == 1, 0.0, 0.5))
    place = np.full(program["numbers"][H_DEFS] + 1, -1)
    place[definitions] = np.arange(cards)
    place[program["held"]] = order["holding"][: len(program["held"])]
    firsts = place[np.asarray(batch.firsts)].reshape(stretch.number, 2, -1)[:, :, : stretch.told] if stretch.told else np.zeros((stretch.number, 2, 0), np.int64)
    tally = np.asarray(batch.tally).reshape(-1, len(TALLY))[definitions]
    # Duels reuse the same decks: their cards are not counted.
    counts = np.zeros((stretch.number, 2, 0), np.int8) if order.get("duelling") else counted(decks, cards).reshape(stretch.number, 2, cards)
    return BatchResult(stretch, won, results, counts, firsts.astype(np.int16), tally)


def _definitions(order: Order, program: Mapping[str, Any], stretch: Stretch, decks: Any) -> list[list[int]]:
    """The decks as definitions; the side that holds a card has its own version of it."""
    definitions, held = np.array(program["definitions"]), np.array(program["held"])
    found = definitions[decks]
    turns = turn_of(np.arange(stretch.first, stretch.first + stretch.number), len(held))
    mine = decks[::2] == np.array(order["holding"])[turns][:, None]
    found[::2] = np.where(mine, held[turns][:, None], found[::2])
    return found.tolist()  # type: ignore[no-any-return]
