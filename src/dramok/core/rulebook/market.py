"""Cards on sale: what they cost, and where bought cards go; counters that grow on cards."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from dramok.core.effects.model import Amount
from dramok.core.problem import Frozen
from dramok.core.rulebook.sparse import Sparse

MOST_MARKETS, MOST_COUNTERS, MOST_ROW = 6, 4, 20
PriceChange = Annotated[int, Field(ge=-99, le=99)]


class PassingCost(Frozen):
    """What a buyer puts on each card of a row that is older than the bought one. The next buyer of that card takes it."""

    resource: str
    number: int = Field(default=1, ge=1, le=99)


class Market(Sparse):
    """The cards of one zone are for sale.

    Only the top card of a pile can be bought, each card of a row, and one card of each kind of a supply. `price`:
    a number field; None for the cost of cards. A card whose field is empty is not for sale. `by_place`: added to
    the price by the place in the row, the oldest card first; the last number counts for all further places.
    `less`: an amount in the effect language, counted for the buyer as its own, by which the price is lower. `most`:
    cards that a seat can buy in a turn; None for any number.
    """

    added = ("less",)

    zone: str
    pays: str
    price: str | None = None
    by_place: tuple[PriceChange, ...] = Field(default=(), max_length=MOST_ROW)
    passing: PassingCost | None = None
    goes_to: Literal["discard", "hand", "draw", "play"] = "discard"
    most: int | None = Field(default=None, ge=1, le=99)
    less: Amount | None = None


class Counter(Frozen):
    """A number on a card that grows by 1 in a zone whenever the phase action *counters grow* is done.

    It stays on the card for the rest of the match. `price`: added to the price of the card for each.
    """

    id: str = Field(pattern=r"^[a-z][a-z0-9-]*$", max_length=60)
    name: str = Field(min_length=1, max_length=60)
    symbol: str = Field(default="", max_length=60)
    zones: tuple[str, ...] = Field(min_length=1, max_length=8)
    price: PriceChange = 0
