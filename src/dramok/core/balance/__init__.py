"""What a card is worth by the designer's declared prices, what its cost buys, and the verdict.

Points are exact decimals; a ledger's lines sum to its verdict exactly.
"""

from dramok.core.balance.prices import Budget, Curve, PriceList, PriceRow
from dramok.core.balance.pricing import EqualRows, PricedCard, Pricing, Unpriced, pricing, row_for
from dramok.core.balance.setmap import MapCard, SetMap, set_map
from dramok.core.balance.verdict import Ledger, LedgerLine, verdict

__all__ = [
    "EqualRows",
    "PricedCard",
    "Pricing",
    "Unpriced",
    "pricing",
    "row_for",
    "Budget",
    "Curve",
    "Ledger",
    "LedgerLine",
    "MapCard",
    "PriceList",
    "PriceRow",
    "SetMap",
    "set_map",
    "verdict",
]
