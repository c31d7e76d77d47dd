"""What played games measure: each card's lift, from who won with which decks.

Logistic regression on the difference of card counts between the two decks (Bradley and Terry 1952, in the form of a logit), with a term for
going first. Decks are fresh for every game, so that no deck is compared with itself. Lifts are relative to the average card; they are
pooled towards it as far as their spread says (Efron and Morris 1975); errors are those of White (1980), which hold whatever the games are
like; named is a card by the false discovery rate (Benjamini and Hochberg 1995). Shapes: games x cards; lifts in percentage points a copy.
"""

from __future__ import annotations

from dataclasses import dataclass
from math import erfc, sqrt
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from numpy.typing import NDArray

STEPS = 12
SURE = 1.96
FALSE_DISCOVERIES = 0.05
LARGE = 1.0
"""Percentage points of win rate that a lift must exceed to be named."""
RIDGE = 1e-3


@dataclass(frozen=True)
class Lift:
    """Of one card: by how many percentage points a copy more of it, instead of an average card, changes the win rate; 95 % interval;
    whether it is named; in how many decks of the games it was."""

    lift: float
    low: float
    high: float
    named: bool
    decks: int

    @property
    def error(self) -> float:
        return (self.high - self.low) / 2 / SURE


@dataclass(frozen=True)
class Measured:
    """Lifts by the place of the card, None for one that was in no deck; `first`: points of win rate for going first, with its interval."""

    games: int
    lifts: tuple[Lift | None, ...]
    first: tuple[float, float, float]
    spread: float
    """The estimated standard deviation of true lifts, in points."""


def measured(counts: NDArray[Any], won: NDArray[Any]) -> Measured:
    """`counts`: games x seats (2) x cards, copies in each deck. `won` by game: 1 the first seat, 0 the second, a half for a draw."""
    import numpy as np

    games = len(won)
    decks = (counts > 0).sum(axis=(0, 1))
    there = np.flatnonzero(decks)
    difference = counts[:, 0, there].astype(float) - counts[:, 1, there]
    cards = len(there)
    if games < 2 or cards < 2:
        return Measured(games, (None,) * counts.shape[2], (0.0, 0.0, 0.0), 0.0)
    design = np.hstack([difference, np.ones((games, 1))])
    # The counts of decks of one size sum to nothing: what is the same for all cards can't be told, and is held at 0. The first copies that
    # the games say little of are held by a slight ridge.
    hold = np.full((cards + 1, cards + 1), 0.0)
    hold[:cards, :cards] = 1 / cards
    hold += np.diag([*[RIDGE] * cards, 0.0])
    beta = np.zeros(cards + 1)
    for _ in range(STEPS):
        chance = 1 / (1 + np.exp(-np.clip(design @ beta, -30, 30)))
        weight = chance * (1 - chance)
        hessian = (design * weight[:, None]).T @ design + hold
        step = np.linalg.solve(hessian, design.T @ (won - chance) - hold @ beta)
        beta += step
        if bool(np.all(np.abs(step) < 1e-7)):
            break
    residual = won - chance
    bread = np.linalg.inv(hessian)
    scores = design * residual[:, None]
    covariance = bread @ (scores.T @ scores) @ bread * (games / max(1, games - cards))
    centre = np.eye(cards + 1)
    centre[:cards, :cards] -= 1 / cards
    beta, covariance = centre @ beta, centre @ covariance @ centre.T
    # Points of win rate for one copy more, on average over the games.
    scale = 100 * float(np.mean(weight))
    raw = scale * beta[:cards]
    error = scale * np.sqrt(np.maximum(np.diag(covariance)[:cards], 1e-12))
    spread = max(0.0, float(np.var(raw) - np.mean(error**2)))
    share = spread / (spread + error**2)
    pooled, width = raw * share, SURE * error * np.sqrt(share) if spread else SURE * error
    named = set(_named(raw, error))
    found: list[Lift | None] = [None] * counts.shape[2]
    for row, place in enumerate(there):
        found[place] = Lift(float(pooled[row]), float(pooled[row] - width[row]), float(pooled[row] + width[row]), row in named, int(decks[place]))
    first, about = scale * beta[cards], SURE * scale * sqrt(max(0.0, float(covariance[cards, cards])))
    return Measured(games, tuple(found), (float(first), float(first - about), float(first + about)), sqrt(spread))


def _named(raw: NDArray[Any], error: NDArray[Any]) -> list[int]:
    """The cards whose lift is larger than `LARGE`, with so few false discoveries among them as is said."""
    chances = [(0.5 * erfc((abs(float(lift)) - LARGE) / float(wide) / sqrt(2)), row) for row, (lift, wide) in enumerate(zip(raw, error, strict=True))]
    chances.sort()
    last = 0
    for rank, (chance, _) in enumerate(chances, 1):
        if chance <= FALSE_DISCOVERIES * rank / len(chances):
            last = rank
    return [row for _, row in chances[:last]]
