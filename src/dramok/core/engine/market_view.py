"""Prices of the cards on sale as they are now, with their reasons."""

from __future__ import annotations

from dataclasses import dataclass

from dramok.core.engine.kernel import codes as k
from dramok.core.engine.kernel.market import counters_price, lower_price, place_in_row, price_of
from dramok.core.engine.kernel.zones import slot_of
from dramok.core.engine.match import Match
from dramok.core.problem import plural


@dataclass(frozen=True)
class Sale:
    """A card on sale: its price in a resource (by id), why it differs from the printed price, and what its buyer
    puts on the cards before it.
    """

    market: int
    price: int
    pays: str
    reasons: tuple[str, ...]
    passing: int = 0
    passing_resource: str = ""


def sale_of(match: Match, market: int, card: int, seat: int) -> Sale | None:
    """The sale of a card that is in the zone of a market to a seat; None if it is not for sale."""
    s, p, rules = match.state, match.program.numbers, match.program.rulebook.played
    place = place_in_row(p, s, card)
    price = price_of(p, s, market, card, place, seat)
    if price < 0:
        return None
    rule = rules.markets[market]
    printed = p[p[k.H_PRICES] + s.cdef[card] * p[k.H_MARKETS] + market]
    reasons = [f"printed {printed}"]
    if rule.by_place:
        more = rule.by_place[min(place, len(rule.by_place) - 1)]
        reasons += [f"{more:+d} in place {place + 1}"] if more else []
    if counters_price(p, s, card):
        for which, counter in enumerate(rules.counters):
            held = s.counter[card * k.MOST_COUNTERS + which]
            reasons += [f"{held * counter.price:+d} for {counter.name.lower()} {held}"] if held and counter.price else []
    less = lower_price(p, s, market, seat)
    reasons += [f"{-less:+d} for you"] if less else []
    passing = rule.passing
    return Sale(
        market, price, rule.pays, tuple(reasons) if len(reasons) > 1 else (), place * passing.number if passing else 0, passing.resource if passing and place else "",
    )  # fmt: skip


def on_sale(match: Match, seat: int) -> dict[int, Sale]:
    """Every card on sale with its price for a seat, by its number at the table: in a supply the first of each kind, of a pile the top one."""
    s, p = match.state, match.program.numbers
    found: dict[int, Sale] = {}
    for market, rule in enumerate(match.program.rulebook.played.markets):
        cards = match.zone(match.program.zones.index(rule.zone), 0)
        own = match.program.rulebook.played.zone(rule.zone)
        kind = own.kind if own is not None else "pile"
        if kind == "supply":
            cards = [card for place, card in enumerate(cards) if place == 0 or s.cdef[card] != s.cdef[cards[place - 1]]]
        elif kind == "pile":
            cards = [s.ztail[slot_of(p, s, match.program.zones.index(rule.zone), 0)]] if cards else []
        for card in cards:
            sale = sale_of(match, market, card, seat)
            if sale is not None:
                found[card] = sale
    return found


def price_text(match: Match, sale: Sale) -> str:
    """The price in words: 3 cuttings, and 1 on each card before it."""
    rules = match.program.rulebook
    paid = rules.resource(sale.pays)
    said = f"{sale.price} {(paid.name if sale.price == 1 else paid.names).lower()}" if sale.price else "nothing"
    if sale.passing:
        passed = rules.resource(sale.passing_resource)
        said += f", and {plural(sale.passing, passed.name.lower(), passed.names.lower())} for the cards before it"
    return said
