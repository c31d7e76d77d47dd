"""Lifts of cards from played games: who won with which decks.

Logistic regression on the difference of card counts between the two decks (Bradley and Terry 1952, in logit
form), with a term for going first and one for each faction mix. Every game has new random decks, so that no
deck is compared with itself. A copy among the first cards of the shuffled pile is more informative than one
that was hardly ever drawn: the latter counts a share of it, which is also estimated.

Lifts are relative to the average card and shrunk towards it according to their spread (Efron and Morris 1975);
standard errors are those of White (1980); cards are named by false discovery rate (Benjamini and Hochberg
1995).

Shapes: games x cards; lifts in percentage points per copy.
"""

from __future__ import annotations

from dataclasses import dataclass
from math import erfc, sqrt
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from numpy.typing import NDArray

STEPS, STEPS_OF_MANY = 12, 4
"""With many cards each has a small effect and a step takes seconds: fewer steps suffice."""
CLOSE = 1e-3
"""The step size in logits at which a fit stops: a fortieth of a point."""
MANY = 4_000
LONGEST = 2.0
SURE = 1.96
FALSE_DISCOVERIES = 0.05
LARGE = 1.0
"""The percentage points of win rate that a lift must exceed to be named."""
RIDGE = 0.25
"""The ridge in logits: it limits cards that are in few decks and has no visible effect with many games."""
MOST_TOGETHER = 600
FIRST_SPREAD = 3.0
"""The prior spread of the advantage of going first, in logits."""
MIX_SPREAD = 0.25
"""The prior spread of faction mixes beyond their cards, in logits."""
SHARE, SHARE_SPREAD = 0.5, 0.5
"""The prior of the share that a copy deep in the pile counts."""


@dataclass(frozen=True)
class Lift:
    """One card: the change of the win rate in percentage points from one more copy in place of an average card,
    with a 95 % interval; whether it is named; the number of decks it was in.
    """

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
    """Lifts by card number, None for a card that was in no deck; `first`: points of win rate for going first,
    with its interval.
    """

    games: int
    lifts: tuple[Lift | None, ...]
    first: tuple[float, float, float]
    spread: float
    """The estimated standard deviation of true lifts, in points."""
    share: float = 1.0
    """The share that a copy deep in the pile counts, relative to one among the first."""
    raw: Any = None
    """Lifts before pooling of the cards that were in decks, and their covariance (cards x cards), in points."""
    covariance: Any = None


def measured(
    counts: NDArray[Any], won: NDArray[Any], firsts: NDArray[Any] | None = None, mixes: NDArray[Any] | None = None, decks: NDArray[Any] | None = None
) -> Measured:
    """`counts`: games x seats (2) x cards, copies in each deck.

    `won` by game: 1 the first seat, 0 the second, 0.5 a draw. `firsts`, like counts: copies among the first
    cards of each shuffled pile, the same number for every deck. `mixes`: games x seats, the number of the
    faction mix of each deck. `decks`: games x seats, the number of each deck if decks play several games: such
    games are not independent, and the errors are clustered by deck.
    """
    import numpy as np

    games = len(won)
    held = (counts > 0).sum(axis=(0, 1))
    there = np.flatnonzero(held)
    cards = len(there)
    if games < 2 or cards < 2:
        return Measured(games, (None,) * counts.shape[2], (0.0, 0.0, 0.0), 0.0)
    near, far, part = _split(counts[:, :, there], None if firsts is None else firsts[:, :, there])
    beside = np.ones((games, 1), np.float32) if mixes is None else np.hstack([np.ones((games, 1), np.float32), _mixed(mixes)])
    beta, hessian, design, missed, weight = _fitted(near, far, beside, won.astype(np.float32))
    deep = far is not None
    bread = np.linalg.inv(hessian)
    scores = design * missed[:, None]
    free = games / max(1, games - cards)
    # One more copy is among the first in proportion to their part of the pile, otherwise it counts its share. Points of win rate on average.
    share = float(beta[-1]) if deep else 1.0
    times = 100 * weight
    turn = np.zeros((cards, len(beta)))
    turn[:, :cards] = (np.eye(cards) - 1 / cards) * (part + share * (1 - part))
    if deep:
        turn[:, -1] = (beta[:cards] - beta[:cards].mean()) * (1 - part)
    raw = times * (part + share * (1 - part)) * (beta[:cards] - beta[:cards].mean())
    # The contribution of each game to each lift: its squares give White's errors. Covariances are computed up to a number of cards.
    pulls = scores @ (times * (bread @ turn.T)).astype(np.float32)
    spreads = free * (pulls.T @ pulls).astype(float) if cards <= MOST_TOGETHER else None
    white = free * np.einsum("ij,ij->j", pulls, pulls).astype(float)
    if decks is not None:
        together = _clustered(pulls, decks)
        clustered = np.maximum(white, free * np.einsum("ij,ij->j", together, together).astype(float) - white)
        if spreads is not None:
            wider = np.sqrt(clustered / np.maximum(white, 1e-12))
            spreads *= wider[:, None] * wider
        white = clustered
    # With few games these errors are unreliable: use at least the model's own.
    variances = np.maximum(white, times**2 * np.einsum("ij,jk,ik->i", turn, bread, turn, optimize=True))
    if spreads is not None:
        wider = np.sqrt(variances / np.maximum(white, 1e-12))
        spreads *= wider[:, None] * wider
    error = np.sqrt(np.maximum(variances, 1e-12))
    spread = max(0.0, float(np.var(raw) - np.mean(error**2)))
    pull = spread / (spread + error**2)
    pooled, width = raw * pull, SURE * error * np.sqrt(pull) if spread else SURE * error
    named = set(_named(raw, error))
    found: list[Lift | None] = [None] * counts.shape[2]
    for row, place in enumerate(there):
        found[place] = Lift(float(pooled[row]), float(pooled[row] - width[row]), float(pooled[row] + width[row]), row in named, int(held[place]))
    return Measured(games, tuple(found), going_first(float(won.sum()), games), sqrt(spread), share, raw, spreads)


def going_first(won: float, games: int) -> tuple[float, float, float]:
    """Percentage points above one half for the seat that goes first, a draw counting half, with a 95 % interval
    (Wilson 1927). Decks are random, so that no other correction is needed.
    """
    p = won / games
    middle = (p + SURE * SURE / (2 * games)) / (1 + SURE * SURE / games)
    about = SURE * sqrt(p * (1 - p) / games + SURE * SURE / (4 * games * games)) / (1 + SURE * SURE / games)
    return 100 * (p - 0.5), 100 * (middle - about - 0.5), 100 * (middle + about - 0.5)


def _clustered(pulls: NDArray[Any], decks: NDArray[Any]) -> NDArray[Any]:
    """The contributions of the games of each deck to each lift, decks x cards, with the correction for the
    number of decks. A game counts for both its decks (Cameron, Gelbach and Miller 2011; Fafchamps and Gubert
    2007, for pairs).
    """
    import numpy as np

    numbers, place = np.unique(decks, return_inverse=True)
    place = place.reshape(decks.shape)
    sums = np.zeros((len(numbers), pulls.shape[1]), np.float64)
    for seat in range(decks.shape[1]):
        order = np.argsort(place[:, seat], kind="stable")
        at = place[order, seat]
        starts = np.flatnonzero(np.diff(at, prepend=-1))
        sums[at[starts]] += np.add.reduceat(pulls[order], starts, axis=0)
    # The fit absorbs part of the differences between decks: usual correction for few clusters, decks / (decks - cards).
    many, cards = len(numbers), pulls.shape[1]
    return sums * sqrt(many / max(many / 4, many - cards))


def _fitted(near: NDArray[Any], far: NDArray[Any] | None, beside: NDArray[Any], won: NDArray[Any]) -> tuple[Any, Any, Any, Any, float]:
    """Worths in logits (cards, then `beside`, then the share of deep copies), the Hessian, the design and its
    residuals at the end, the mean weight of a game. With many games an eighth of them gives the starting
    point.
    """
    import numpy as np

    cards, extra, deep = near.shape[1], beside.shape[1], far is not None
    # Counts of decks of one size sum to a constant: a common shift is not identifiable and is held at 0. Rare cards are
    # held by a slight ridge; faction mixes and the share of deep copies by their priors.
    hold = np.zeros((cards + extra + deep, cards + extra + deep))
    hold[:cards, :cards] = 1 / cards
    hold += np.diag([*[RIDGE] * cards, 1 / FIRST_SPREAD**2, *[1 / MIX_SPREAD**2] * (extra - 1), *[1 / SHARE_SPREAD**2] * deep])
    centre = np.zeros(len(hold))
    if deep:
        centre[-1] = SHARE
    some = len(won) // 8
    beta = centre.copy() if len(won) < MANY else _fitted(near[:some], None if far is None else far[:some], beside[:some], won[:some])[0]
    for _ in range(STEPS if cards <= MOST_TOGETHER else STEPS_OF_MANY):
        slope = beta[:cards].astype(np.float32)
        eta = near @ slope + beside @ beta[cards : cards + extra].astype(np.float32)
        if far is None:
            design = np.hstack([near, beside])
        else:
            behind = far @ slope
            eta += np.float32(beta[-1]) * behind
            design = np.hstack([near + np.float32(beta[-1]) * far, beside, behind[:, None]])
        chance = 1 / (1 + np.exp(-np.clip(eta, -30, 30)))
        weight = chance * (1 - chance)
        hessian = ((design * weight[:, None]).T @ design).astype(float) + hold
        step = np.linalg.solve(hessian, (design.T @ (won - chance)).astype(float) - hold @ (beta - centre))
        # If one side always wins there is no maximum: the steps are limited to a size that no logit exceeds.
        step = np.clip(step, -LONGEST, LONGEST)
        beta = beta + step
        if deep:
            beta[-1] = min(1.5, max(0.0, beta[-1]))
        moved = np.abs(step)
        if deep:
            # The share is irrelevant if no card has an effect.
            moved[-1] *= float(np.abs(beta[:cards]).max())
        if bool(np.all(moved < CLOSE)):
            break
    return beta, hessian, design, won - chance, float(weight.mean())


def _split(counts: NDArray[Any], firsts: NDArray[Any] | None) -> tuple[NDArray[Any], NDArray[Any] | None, float]:
    """Differences of counts near and deep in the pile, games x cards, and the part of a pile that is near;
    without data, all is near.
    """
    import numpy as np

    whole = np.subtract(counts[:, 0], counts[:, 1], dtype=np.float32)
    if firsts is None:
        return whole, None, 1.0
    near = np.subtract(firsts[:, 0], firsts[:, 1], dtype=np.float32)
    part = float(firsts.sum()) / max(1.0, float(counts.sum()))
    return (near, whole - near, part) if 0 < part < 1 else (whole, None, 1.0)


def _mixed(mixes: NDArray[Any]) -> NDArray[Any]:
    """Games x mixes: 1 if the first deck is of a mix, -1 if the second is."""
    import numpy as np

    kinds = int(mixes.max()) + 1
    found = np.zeros((len(mixes), kinds), np.float32)
    rows = np.arange(len(mixes))
    found[rows, mixes[:, 0]] += 1
    found[rows, mixes[:, 1]] -= 1
    return found


def _named(raw: NDArray[Any], error: NDArray[Any]) -> list[int]:
    """The cards whose lift exceeds `LARGE`, at the given false discovery rate."""
    chances = [(0.5 * erfc((abs(float(lift)) - LARGE) / float(wide) / sqrt(2)), row) for row, (lift, wide) in enumerate(zip(raw, error, strict=True))]
    chances.sort()
    last = 0
    for rank, (chance, _) in enumerate(chances, 1):
        if chance <= FALSE_DISCOVERIES * rank / len(chances):
            last = rank
    return [row for _, row in chances[:last]]
