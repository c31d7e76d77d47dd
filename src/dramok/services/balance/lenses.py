"""The three lenses for cards and price rows: declared, implied by costs, and measured by games."""

from __future__ import annotations

from dataclasses import dataclass

from dramok.core.balance.declared.set_map import Estimated, SetMap, map_seen, set_map
from dramok.core.balance.implied.implied_worths import Implied, implied, implied_by
from dramok.core.balance.implied.worth_features import STAT, features
from dramok.core.balance.measured.effect_worth import (
    SURE,
    CardLenses,
    MeasuredWorths,
    measured_worths,
    side_by_side,
)
from dramok.core.cards import Card
from dramok.services.balance.measurement import Measurement
from dramok.services.workspace.snapshot import GameSnapshot


@dataclass(frozen=True)
class RowLenses:
    """One price row: points for one unit by each lens, with intervals.

    `implied_share` and `measured_share`: the part of the estimate that comes from the cards or the games; below
    0.3 there is too little data. `flips`: the sign implied by costs is the opposite.
    """

    row: str
    name: str
    declared: float | None
    implied: tuple[float, float, float] | None
    implied_share: float
    flips: bool
    measured: tuple[float, float, float] | None
    measured_share: float
    cards: int


@dataclass(frozen=True)
class Lenses:
    """All three lenses.

    `scale`: percentage points of win rate per copy for one point of worth, with its interval; None without
    games. `source`: the cards whose costs are used.
    """

    cards: tuple[CardLenses, ...]
    rows: tuple[RowLenses, ...]
    left_out: int
    echo: bool
    spread: float
    scale: tuple[float, float, float] | None
    source: str


def lenses(game: GameSnapshot, measured: Measurement, reference: tuple[str, list[Card], GameSnapshot] | None = None) -> Lenses:
    """Compute the lenses.

    `reference`: the name, the cards and the game of another price list from which worths are implied; without
    it, this game's own.
    """
    known = features(game.cards.values(), game.rulebook, game.prices)
    mine = implied_by(known, game.prices)
    by_costs = mine if reference is None else _of_reference(game, reference)
    worths = MeasuredWorths((), 0.0, 0.0, 0.0)
    there = [each.card for each in measured.cards if each.lift is not None]
    if measured.covariance and len(measured.raw) == len(there):
        import numpy as np

        worths = measured_worths(known, there, measured.raw, np.array(measured.covariance))
    declared = {each.card: float(each.difference) for each in game.pricing.map.cards if each.judgement != "open"}
    lifts = {each.card: (each.lift, ((each.high or 0.0) - (each.low or 0.0)) / 2 / 1.96) for each in measured.cards if each.lift is not None and each.card in game.cards}
    residuals = {each.card: each.residual for each in mine.cards}
    scale = worths.scale if worths.rows else 0.0
    return Lenses(
        side_by_side(declared, residuals, lifts, scale, mine.spread), _rows(game, by_costs, worths), by_costs.left_out, by_costs.echo, by_costs.spread,
        (worths.scale, worths.low, worths.high) if worths.rows else None, reference[0] if reference else "",
    )  # fmt: skip


def map_by(game: GameSnapshot, lens: str, measured: Measurement) -> SetMap:
    """The set map by one lens: declared, implied (each card by the worths that the others imply) or measured."""
    declared = set_map(game.cards.values(), game.rulebook, game.prices)
    if lens == "declared":
        return declared
    found = lenses(game, measured)
    by: dict[str, Estimated] = {}
    for each in found.cards:
        if lens == "implied" and each.implied is not None:
            by[each.card] = _about(each.implied, found.spread)
        elif lens == "measured" and each.measured is not None and each.error is not None:
            by[each.card] = _about(each.measured, each.error)
    return map_seen(declared, by, game.prices.tolerance, f"{lens}:")


def _about(points: float, error: float) -> Estimated:
    return Estimated(points, points - SURE * error, points + SURE * error)


def _of_reference(game: GameSnapshot, reference: tuple[str, list[Card], GameSnapshot]) -> Implied:
    """Worths implied by the costs of other cards, read with their own rulebook, for the rows of this game's
    price list.
    """
    _, cards, theirs = reference
    return implied(cards, theirs.rulebook, game.prices)


def _rows(game: GameSnapshot, by_costs: Implied, worths: MeasuredWorths) -> tuple[RowLenses, ...]:
    costs = {each.row: each for each in by_costs.rows}
    games = {each.row: each for each in worths.rows}
    declared = {f"{STAT}{ident}": float(each) for ident, each in game.prices.stats.items() if ident in game.rulebook.roles.stats}
    declared |= {row.id: float(next(p for a, p in row.curve.line() if a == 1)) for row in game.prices.rows if row.curve is not None}
    found = []
    for row in dict.fromkeys([*declared, *costs, *games]):
        cost, play = costs.get(row), games.get(row)
        field = game.rulebook.cards.field(row.removeprefix(STAT)) if row.startswith(STAT) else None
        found.append(
            RowLenses(
                row, field.name if field else row, cost.declared if cost else declared.get(row), (cost.implied, cost.low, cost.high) if cost else None, cost.share if cost else 0.0,
                bool(cost and cost.flips), (play.worth, play.low, play.high) if play else None, play.share if play else 0.0, cost.cards if cost else 0,
            )
        )  # fmt: skip
    return tuple(found)
