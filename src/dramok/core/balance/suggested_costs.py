"""The costs that worths suggest: a price list with another worth, and the resulting costs."""

from __future__ import annotations

from collections.abc import Iterable
from decimal import Decimal

from dramok.core.balance.declared.card_worth import priced_parts
from dramok.core.balance.declared.prices import Curve, PriceList, PriceRow
from dramok.core.balance.declared.verdict import Ledger, verdict
from dramok.core.balance.implied.worth_features import STAT, unit_of
from dramok.core.balance.set_shape import MOST_COSTS
from dramok.core.cards import Card
from dramok.core.rulebook import Rulebook

_PLACES = Decimal("0.000001")


def worth_of(prices: PriceList, name: str) -> Decimal | None:
    """Points of one unit of a price row (its id), or of a stat (`stat:` and the field's); None while undecided.

    Raises KeyError for an unknown one.
    """
    if name.startswith(STAT):
        return prices.stats.get(name.removeprefix(STAT))
    row = _row(prices, name)
    return None if row.curve is None else unit_of(row)


def with_worth(prices: PriceList, name: str, points: Decimal) -> PriceList:
    """The list with another worth of one unit; a curve keeps its shape. Raises KeyError for an unknown row."""
    if name.startswith(STAT):
        return prices.model_copy(update={"stats": {**prices.stats, name.removeprefix(STAT): points}})
    row = _row(prices, name)
    changed = row.model_copy(update={"curve": _scaled(row, points)})
    return prices.model_copy(update={"rows": tuple(changed if each.id == name else each for each in prices.rows)})


def worths_changed(before: PriceList, after: PriceList) -> tuple[str, ...]:
    """The names (see `worth_of`) of what both lists price differently."""
    rows = {row.id: row for row in before.rows}
    stats = [f"{STAT}{field}" for field, worth in after.stats.items() if field in before.stats and before.stats[field] != worth]
    return (*stats, *(row.id for row in after.rows if row.id in rows and rows[row.id].curve != row.curve))


def _row(prices: PriceList, name: str) -> PriceRow:
    found = next((each for each in prices.rows if each.id == name), None)
    if found is None:
        raise KeyError(name)
    return found


def _scaled(row: PriceRow, points: Decimal) -> Curve:
    unit = unit_of(row) if row.curve is not None else Decimal(0)
    if row.curve is None or not unit:
        return Curve(each=points)
    curve, times = row.curve, points / unit

    def scaled(each: Decimal) -> Decimal:
        return (each * times).quantize(_PLACES)

    return curve.model_copy(
        update={
            "each": scaled(curve.each), "flat": None if curve.flat is None else scaled(curve.flat), "further": scaled(curve.further),
            "table": tuple(scaled(each) for each in curve.table),
        }
    )  # fmt: skip


def cards_with(name: str, cards: Iterable[Card], rulebook: Rulebook, prices: PriceList) -> list[Card]:
    """The cards whose worth depends on a row or a stat, if they have a cost, a budget, and nothing undecided."""
    probe = with_worth(prices, name, worth_of(prices, name) or Decimal(1))
    found = []
    for card in cards:
        ledger, cost = verdict(card, rulebook, probe), cost_of(card, rulebook)
        if ledger.judgement != "open" and cost is not None and 0 <= cost <= MOST_COSTS and _holds(ledger, name, card):
            found.append(card)
    return found


def cost_of(card: Card, rulebook: Rulebook) -> int | None:
    return priced_parts(card, rulebook).cost if rulebook.roles.cost else None


def _holds(ledger: Ledger, name: str, card: Card) -> bool:
    if name.startswith(STAT):
        field = name.removeprefix(STAT)
        return any(line.field == field and line.aspect is None and line.points for line in ledger.lines) or bool(card.amount(field))
    return any(line.rows == (name,) and line.points for line in ledger.lines)


def cost_asked(card: Card, rulebook: Rulebook, prices: PriceList, most: int) -> int | None:
    """The cost, from 0 to `most`, whose budget is nearest to the worth of a card; of two equally near the one
    nearer to its own cost. None for a card whose verdict is undecided.
    """
    ledger, cost, budget = verdict(card, rulebook, prices), cost_of(card, rulebook), prices.budget_of(card.type)
    if ledger.judgement == "open" or cost is None or budget is None:
        return None
    # Everything except the budget is unchanged.
    rest = ledger.difference + budget.at(cost)
    return min(range(most + 1), key=lambda each: (abs(rest - budget.at(each)), abs(each - cost), each))


def dearest(cards: Iterable[Card], rulebook: Rulebook, prices: PriceList) -> int:
    """The highest cost of a card or in a budget; at most `MOST_COSTS`."""
    costs = [cost for card in cards if (cost := cost_of(card, rulebook)) is not None]
    return min(MOST_COSTS, max([*costs, *(len(each.by_cost) - 1 for each in prices.budgets.values())], default=0))
