"""Summary of many games: win rates, lengths, games cut off, card statistics, and one digest."""

from __future__ import annotations

import hashlib
from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

from dramok.core.engine.kernel import codes as k
from dramok.core.engine.kernel.batch import TALLY
from dramok.core.engine.loop_detection import CutOff

QUANTILES = (0, 10, 25, 50, 75, 90, 100)
Z = 1.959964
"""The normal quantile for a 95 % interval."""


@dataclass(frozen=True)
class Simulation:
    """`wins` by seat; `runaways` are games cut off, `cut` their loops; `turns` by quantile in percent. `tally`
    has the numbers of `match_batch.TALLY` for each card (by id).

    `digest` is the same for the same program, decks, seed and players, on any machine and number of cores.
    `decks`: the number of decks played; `repeated`: decks played several games.
    """

    games: int
    wins: tuple[int, ...]
    draws: int
    runaways: int
    turns: Mapping[int, int]
    mean_turns: float
    decisions: float
    digest: str
    tally: Mapping[str, tuple[int, ...]]
    seconds: float = 0.0
    compiled: bool = False
    cut: tuple[CutOff, ...] = ()
    threads: int = 1
    decks: int = 0
    repeated: bool = False
    scores: tuple[Mapping[str, float], ...] = ()
    purchases: Mapping[str, int] = field(default_factory=dict)
    """`scores`: for each seat the mean of each line of the score sheet, by its name; `purchases` of each card by id,
    over all games."""

    def share(self, seat: int) -> tuple[float, float, float]:
        """The share of decided games that a seat has won, with its 95 % interval (Wilson 1927)."""
        decided = sum(self.wins)
        if not decided:
            return 0.0, 0.0, 1.0
        p = self.wins[seat] / decided
        spread = Z * (p * (1 - p) / decided + Z * Z / (4 * decided * decided)) ** 0.5
        low, high = ((p + Z * Z / (2 * decided) + sign * spread) / (1 + Z * Z / decided) for sign in (-1, 1))
        return p, low, high


def summed(results: Sequence[Sequence[int]], tally: Sequence[Sequence[int]], seats: int, cards: Sequence[str], lines: Sequence[str] = (), actions: int = 0) -> Simulation:
    """Sum games:

    `results` has a row of `match_batch.RESULT` for each in order, `tally` a row of `match_batch.TALLY` for each
    of `cards`, then those of `actions` of the rules and of the score sheets; `lines`: the names of the lines of
    the sheet.
    """
    sheets = [int(number) for row in tally[len(cards) + actions :] for number in row]
    tally = tally[: len(cards)]
    scores = [{name: sheets[seat * k.MOST_SCORES + line] / max(1, len(results)) for line, name in enumerate(lines)} for seat in range(seats)] if sheets else []
    rows = [tuple(int(number) for number in row[:5]) for row in results]
    count = max(1, len(rows))
    won = Counter(row[0] for row in rows)
    lengths = sorted(row[1] for row in rows)
    cut = sum(1 for row in rows if row[4])
    turns = {share: lengths[min(count - 1, share * count // 100)] if lengths else 0 for share in QUANTILES}
    return Simulation(
        len(rows), tuple(won[seat] for seat in range(seats)), won[k.DRAWN] + won[k.NOBODY] - cut, cut, turns, sum(lengths) / count, sum(row[2] for row in rows) / count,
        hashlib.sha256(repr(rows).encode()).hexdigest()[:16], {card: tuple(int(number) for number in row) for card, row in zip(cards, tally, strict=True)},
        scores=tuple(scores), purchases={card: int(row[TALLY.index("bought")]) for card, row in zip(cards, tally, strict=True) if row[TALLY.index("bought")]},
    )  # fmt: skip
