"""Deck duels in numbers: win rates with intervals, the value of going first, lengths of games, cards left in hand."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from dramok.core.engine.batch_summary import QUANTILES, Z
from dramok.core.engine.loop_detection import CutOff
from dramok.core.engine.match_batch import TALLY


@dataclass(frozen=True)
class WinShare:
    """Of `games`, in percent, with a 95 % interval (Wilson 1927)."""

    games: int
    rate: float
    low: float
    high: float


@dataclass(frozen=True)
class DuelCard:
    """One card over all games and decks: copies in decks, the percent of them drawn and played, and of those
    drawn the percent left in hand at the end.
    """

    card: str
    copies: int
    drawn: float
    played: float
    held: float


@dataclass(frozen=True)
class DuelResults:
    """`matrix[one][other]`: how often `one` wins against `other`, None on the diagonal.

    `overall` by deck, `emptied`: the games in which its draw pile ran out. `first`: how often the seat that
    goes first wins. `lengths`: (turns, games); `quantiles`: turns by percent. `cut`: the games without an end,
    with the cards of the loop. `done` False: stopped early.
    """

    decks: tuple[str, ...]
    games: int
    matrix: tuple[tuple[WinShare | None, ...], ...]
    overall: tuple[WinShare, ...]
    emptied: tuple[WinShare, ...]
    first: WinShare
    draws: int
    lengths: tuple[tuple[int, int], ...]
    quantiles: Mapping[int, int]
    cards: tuple[DuelCard, ...]
    never_played: tuple[str, ...]
    cut: tuple[CutOff, ...]
    digest: str
    seconds: float = 0.0
    done: bool = True


def share_of(won: float, games: int) -> WinShare:
    """A share with its interval; without games, 0 to 100 %."""
    if not games:
        return WinShare(0, 50.0, 0.0, 100.0)
    p, square = won / games, Z * Z
    about = Z * (p * (1 - p) / games + square / (4 * games * games)) ** 0.5
    low, high = ((p + square / (2 * games) + sign * about) / (1 + square / games) for sign in (-1, 1))
    return WinShare(games, 100 * p, 100 * low, 100 * high)


def duel_results(decks: Sequence[str], cards: Sequence[str], cut: Sequence[CutOff], told: Mapping[str, Any]) -> DuelResults:
    """Results from the output of a duel process (see `workers.aggregate.Duels`). `cards` by number."""
    wins, played = told["wins"], told["played"]
    count = len(decks)
    matrix = tuple(
        tuple(None if one == other else share_of(wins[one][other], played[one][other]) for other in range(count)) for one in range(count)
    )
    overall = tuple(share_of(sum(wins[one]), sum(played[one])) for one in range(count))
    emptied = tuple(share_of(told["emptied"][one], max(told["emptied"][one], sum(played[one]))) for one in range(count))
    first, second, draws = told["first"]
    lengths = tuple((int(turns), int(games)) for turns, games in told["lengths"])
    # Kept measurements of earlier versions have no purchases.
    rows = [(card, dict(zip(TALLY, row, strict=False))) for card, row in zip(cards, told["tally"], strict=True)]
    said = tuple(_card(card, row) for card, row in rows if row["copies"])
    return DuelResults(
        tuple(decks), told["games"], matrix, overall, emptied, share_of(first, first + second), draws, lengths, _quantiles(lengths), said,
        tuple(card for card, row in rows if row["copies"] and not row["played"]),
        tuple(cut),
        told["digest"], told["seconds"], told["done"],
    )  # fmt: skip


def _card(card: str, row: Mapping[str, int]) -> DuelCard:
    copies, drawn = row["copies"], row["drawn"]
    return DuelCard(card, copies, 100 * drawn / copies, 100 * row["played"] / copies, 100 * row["held"] / drawn if drawn else 0.0)


def _quantiles(lengths: Sequence[tuple[int, int]]) -> dict[int, int]:
    whole = sum(games for _, games in lengths)
    found = {}
    for share in QUANTILES:
        left = min(whole - 1, share * whole // 100)
        for turns, games in lengths:
            if left < games:
                found[share] = turns
                break
            left -= games
    return found
