"""The parts that make a game a game, and what other ones would do."""

from __future__ import annotations

from typing import Any, Literal

from pydantic import BaseModel, Field

from dramok.core.balance import PriceRow
from dramok.core.effects.verbs import Form
from dramok.core.soundtext import Ident
from dramok.server.schemas.base import Out, Points, like
from dramok.server.schemas.cards import MapOut
from dramok.server.schemas.decks import ClashOut

MOST_VALUE = 2**53


class PartIn(BaseModel):
    """`base` is the op number up to which the page has seen the game."""

    model_config = like({"value": ["climber", "early"], "base": 0})

    value: Any
    base: int | None = Field(default=None, ge=0, le=MOST_VALUE)


class PartLookIn(BaseModel):
    model_config = like({"value": ["climber", "early"]})

    value: Any


class PricesLookIn(PartLookIn):
    """`row`: the id of the row, or `stat:ID`, of which the cards are asked; `since`: the id of a mark."""

    model_config = like({"value": {"stats": {"height": "1.25"}}})

    row: str | None = Field(default=None, max_length=200)
    since: Ident | None = None


class BudgetFitIn(PartLookIn):
    """`value`: the price list; `type`: the id of a card type, or empty for every type without a budget of its own."""

    model_config = like({"value": {"stats": {"height": "1.25"}}, "type": ""})

    type: Ident | Literal[""] = ""


class PhrasesLookIn(PartLookIn):
    """`phrase`: the id of the one of which samples are asked."""

    model_config = like({"value": {"verbs": {"draw": "take a card {each}"}}, "phrase": "verbs/draw"})

    phrase: str | None = Field(default=None, max_length=200)


class PhraseOut(Out):
    """A slot of the phrase book: its place in the part (`room`, `key`), what it is for, its plain words, what it may hold in braces."""

    id: str
    room: str
    key: str
    about: str
    plain: str
    parts: list[str]


class VerbOut(Out):
    """A verb of the language; `form` says what follows it: an amount, a target, a resource or a stat."""

    word: str
    form: Form


class PartsOut(Out):
    """What makes the game a game, part by part, as `PUT rules/parts/PART` takes it; the verbs and cues that worths may name; the phrases of its book.

    `symbols` are what any phrase may hold in braces besides its parts. `clashes`: deck rules that no deck can satisfy. `starts`: rules of play
    to begin with, for one and for two.
    """

    parts: dict[str, Any]
    seq: int
    verbs: list[VerbOut]
    cues: list[str]
    phrases: list[PhraseOut]
    symbols: list[str]
    clashes: list[ClashOut]
    starts: list[Any]


class PartLookOut(Out):
    """What writing a part would do: cards whose verdict or text would be another, decks that would be legal no more or again, and that in words."""

    verdicts: int
    texts: int
    decks: list[str]
    mended: list[str]
    said: list[str]


class StoodOut(Out):
    cost: int
    worth: Points


class CurvePointOut(Out):
    amount: Points
    points: Points


class BudgetFitOut(Out):
    """A budget fitted to cards, as a price list holds it, and the number of those cards; no budget without a card that has a cost."""

    budget: dict[str, Any] | None
    cards: int


class PricedCardOut(Out):
    """An effect or stat of a card that a row prices; `points` are null while the row is open."""

    card: str
    what: str
    amount: Points | None
    points: Points | None


class EqualRowsOut(Out):
    """Rows that match an effect equally well: neither prices it. `mends`: by the row that would win, that row naming more."""

    rows: list[str]
    what: str
    cards: list[str]
    mends: dict[str, PriceRow]


class UnpricedOut(Out):
    """An effect that nothing prices, and a row that would."""

    what: str
    row: PriceRow
    cards: list[str]


class ChangedOut(Out):
    """What is otherwise than at the mark."""

    rows: list[str]
    stats: list[str]
    budgets: list[str]


class PricesLookOut(Out):
    """The set map as it would become. `was`: where the cards that move stood. `uses`: how many effects of cards each row prices, and each stat under `stat:ID`.

    `curve` and `priced` are of the row asked for; `notes` say what is likely a mistake.
    """

    map: MapOut
    was: dict[str, StoodOut]
    verdicts: int
    uses: dict[str, int]
    curve: list[CurvePointOut]
    priced: list[PricedCardOut]
    priced_count: int
    equal: list[EqualRowsOut]
    unpriced: list[UnpricedOut]
    changed: ChangedOut | None
    notes: list[str]


class SampleOut(Out):
    card: str
    before: list[str]
    after: list[str]


class PhrasesLookOut(Out):
    """`uses`: how many cards say each phrase; `lacking`: parts that a phrase says nothing of, though it should."""

    reworded: int
    uses: dict[str, int]
    samples: list[SampleOut]
    lacking: dict[str, list[str]]
