"""The parts of the rules, and previews of other values."""

from __future__ import annotations

from typing import Any, Literal

from pydantic import BaseModel, Field

from dramok.core.balance import PriceRow
from dramok.core.effects.verbs import Form
from dramok.core.rulebook.phase_actions import Needs, SettingKind
from dramok.core.text_checks import Ident
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
    """`row`: the id of a row, or `stat:ID`, for which cards are listed; `since`: the id of a mark."""

    model_config = like({"value": {"stats": {"height": "1.25"}}})

    row: str | None = Field(default=None, max_length=200)
    since: Ident | None = None


class BudgetFitIn(PartLookIn):
    """`value`: the price list; `type`: the id of a card type, or empty for every type without a budget of its own."""

    model_config = like({"value": {"stats": {"height": "1.25"}}, "type": ""})

    type: Ident | Literal[""] = ""


class PhrasesLookIn(PartLookIn):
    """`phrase`: the id of the phrase for which samples are returned."""

    model_config = like({"value": {"verbs": {"draw": "take a card {each}"}}, "phrase": "verbs/draw"})

    phrase: str | None = Field(default=None, max_length=200)


class PhraseOut(Out):
    """A phrase of the phrase book: its place in the part (`room`, `key`), its purpose, its default words, and
    the names allowed in braces.
    """

    id: str
    room: str
    key: str
    about: str
    plain: str
    parts: list[str]


class VerbOut(Out):
    """A verb of the language; `form` is its operand: an amount, a target, a resource or a stat."""

    word: str
    form: Form


class SettingOut(Out):
    """A setting of a phase action. `none` is shown for an empty number, which is then allowed; it may name a
    number of the table.
    """

    key: str
    kind: SettingKind
    label: str
    none: str | None
    new: Any


class PhaseActionOut(Out):
    """An action that a phase can have; {damage} in its name is the game's word. `needs`: without these it is not
    offered.
    """

    do: str
    name: str
    settings: list[SettingOut]
    needs: Needs


class PartsOut(Out):
    """The parts of the rules, as `PUT rules/parts/PART` takes them; the verbs and cues for worths; the phrases
    of the book.

    `symbols` are names allowed in braces in any phrase. `clashes`: deck rules that no deck can satisfy.
    `starts`: default rules of play for one and for two.
    """

    parts: dict[str, Any]
    seq: int
    verbs: list[VerbOut]
    cues: list[str]
    phrases: list[PhraseOut]
    symbols: list[str]
    clashes: list[ClashOut]
    starts: list[Any]
    phase_actions: list[PhaseActionOut]


class PartLookOut(Out):
    """The effect of writing a part: cards whose verdict or text would change, decks that would become illegal
    or legal, and a summary.
    """

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
    """A budget fitted to cards, in the form of a price list, and the number of those cards; no budget without a
    card that has a cost.
    """

    budget: dict[str, Any] | None
    cards: int


class PricedCardOut(Out):
    """An effect or stat of a card that a row prices; `points` are null while the row is undecided."""

    card: str
    what: str
    amount: Points | None
    points: Points | None


class EqualRowsOut(Out):
    """Rows that match an effect equally well: neither prices it.

    `mends`: for each row, the more specific row that would win.
    """

    rows: list[str]
    what: str
    cards: list[str]
    mends: dict[str, PriceRow]


class UnpricedOut(Out):
    """An effect without a price, and a row that would price it."""

    what: str
    row: PriceRow
    cards: list[str]


class ChangedOut(Out):
    """The changes since the mark."""

    rows: list[str]
    stats: list[str]
    budgets: list[str]


class PricesLookOut(Out):
    """The preview of the set map. `was`: the positions of cards before they move. `uses`: the number of effects
    that each row prices, and each stat under `stat:ID`.

    `curve` and `priced` are for the requested row; `notes` are likely mistakes.
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
    """`uses`: the number of cards that use each phrase; `lacking`: parts that a phrase should contain but omits."""

    reworded: int
    uses: dict[str, int]
    samples: list[SampleOut]
    lacking: dict[str, list[str]]
