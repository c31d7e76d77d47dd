"""The worth of a card, its budget and verdict by the three lenses: declared, implied, measured.

Points are exact decimals; the lines of a ledger sum exactly to its verdict.
"""

from dramok.core.balance.declared.prices import Budget, Curve, PriceList, PriceRow
from dramok.core.balance.declared.row_matching import (
    EqualRows,
    PricedCard,
    Pricing,
    Unpriced,
    pricing,
    row_for,
)
from dramok.core.balance.declared.set_map import MapCard, SetMap, set_map
from dramok.core.balance.declared.verdict import Ledger, LedgerLine, verdict

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
