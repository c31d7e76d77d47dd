"""Apply a price list to all cards: what each row prices, ambiguous rows, and effects without a price."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from decimal import Decimal

from dramok.core.balance.declared.effect_aspects import Aspect
from dramok.core.balance.declared.prices import PriceList, PriceRow
from dramok.core.balance.declared.set_map import SetMap, map_of
from dramok.core.balance.declared.verdict import LedgerLine, verdict
from dramok.core.cards import Card
from dramok.core.effects.model import Number
from dramok.core.problem import fold
from dramok.core.rulebook import Rulebook


@dataclass(frozen=True)
class PricedCard:
    """One priced effect or stat of a card.

    `points` are signed, None while the row is undecided; `amount` None is a count in play.
    """

    card: str
    amount: Decimal | None
    line: LedgerLine

    @property
    def what(self) -> str:
        return self.line.what

    @property
    def points(self) -> Decimal | None:
        return self.line.points


@dataclass(frozen=True)
class EqualRows:
    """Rows that match an effect equally well, so that neither prices it: the effect in words, and the cards
    that have it.

    `mends`: for each row that can win, the more specific row that would.
    """

    rows: tuple[str, ...]
    what: str
    cards: tuple[str, ...]
    mends: Mapping[str, PriceRow]


@dataclass(frozen=True)
class Unpriced:
    """An effect that no row matches: an undecided row that would, and the cards that have it."""

    what: str
    row: PriceRow
    cards: tuple[str, ...]


@dataclass(frozen=True)
class Pricing:
    """`by_row` has every row's id; `by_stat` has the stats that cards have."""

    map: SetMap
    by_row: Mapping[str, tuple[PricedCard, ...]]
    by_stat: Mapping[str, tuple[PricedCard, ...]]
    equal: tuple[EqualRows, ...]
    unpriced: tuple[Unpriced, ...]


def pricing(cards: Iterable[Card], rulebook: Rulebook, prices: PriceList) -> Pricing:
    """Price every card, as `set_map` does, and collect the results by row."""
    held = [(card, verdict(card, rulebook, prices)) for card in cards]
    by_row: dict[str, list[PricedCard]] = {row.id: [] for row in prices.rows}
    by_stat: dict[str, list[PricedCard]] = {}
    equal: dict[tuple[str, ...], tuple[str, Aspect, list[str]]] = {}
    missing: dict[PriceRow, tuple[str, list[str]]] = {}
    for card, ledger in held:
        for line in ledger.lines:
            aspect = line.aspect
            if aspect is None:
                if line.part == "worth" and line.field in rulebook.roles.stats:
                    amount = Decimal(str(card.amount(line.field) or 0))
                    by_stat.setdefault(line.field, []).append(PricedCard(card.id, amount, line))
            elif len(line.rows) == 1:
                number = Decimal(aspect.amount.value) if isinstance(aspect.amount, Number) else None
                by_row[line.rows[0]].append(PricedCard(card.id, number, line))
            elif line.rows:
                equal.setdefault(line.rows, (line.what, aspect, []))[2].append(card.id)
            else:
                row = row_for(aspect, prices, rulebook)
                missing.setdefault(row, (line.what, []))[1].append(card.id)
    rows = {row.id: row for row in prices.rows}
    return Pricing(
        map_of(held, rulebook, prices, reasons=False),
        {ident: tuple(found) for ident, found in by_row.items()},
        {stat: tuple(found) for stat, found in by_stat.items()},
        tuple(
            EqualRows(
                names, what, tuple(dict.fromkeys(found)), _mends([rows[name] for name in names], aspect)
            )
            for names, (what, aspect, found) in equal.items()
        ),
        tuple(Unpriced(what, row, tuple(dict.fromkeys(found))) for row, (what, found) in missing.items()),
    )


def row_for(aspect: Aspect, prices: PriceList, rulebook: Rulebook) -> PriceRow:
    """A new undecided row for an effect, by its verb and operand, with an unused name."""
    of = aspect.resource and rulebook.resource(aspect.resource).name
    if aspect.stat is not None:
        field = rulebook.cards.field(aspect.stat)
        of = field.name if field else aspect.stat
    name = f"{aspect.verb} {of}".lower() if of else aspect.verb
    taken = {fold(row.id) for row in prices.rows}
    free, number = name, 2
    while fold(free) in taken:
        free, number = f"{name} {number}", number + 1
    return PriceRow(id=free, verb=aspect.verb, resource=aspect.resource, stat=aspect.stat)


def _mends(rows: list[PriceRow], aspect: Aspect) -> dict[str, PriceRow]:
    """For each ambiguous row, the row that names additionally what the others name of the effect.

    Rows that name exactly the same have no such fix: one has to be removed, or given the other's worth.
    """
    named = ("resource", "stat", "affects", "reach", "cue", "qualifier")
    all_named = {part for row in rows for part in named if getattr(row, part) is not None}
    found = {}
    for row in rows:
        said = {part: getattr(aspect, part) if part != "qualifier" else next(iter(aspect.qualifiers), None) for part in all_named}
        more = {part: value for part, value in said.items() if getattr(row, part) is None}
        if more:
            found[row.id] = row.model_copy(update=more)
    return found
