"""What goes over the wire, in both directions."""

from __future__ import annotations

from decimal import Decimal
from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field, PlainSerializer

from dramok.core.cards import FieldKind
from dramok.core.cards.choices import ChoiceList
from dramok.core.problem import Problem
from dramok.core.rulebook.rulebook import Resource, Roles

Points = Annotated[Decimal, PlainSerializer(float, return_type=float)]


class Out(BaseModel):
    model_config = ConfigDict(from_attributes=True)


class ProblemOut(Out):
    """RFC 9457, with where, what and mend; `theirs` and `yours` when somebody else changed the same field."""

    type: str = "about:blank"
    title: str
    status: int
    detail: str
    where: str = ""
    mend: str = ""
    nearest: str | None = None
    theirs: str | None = None
    yours: str | None = None
    seq: int | None = None


class GameBrief(Out):
    id: str
    name: str
    cards: int
    decks: int


class SetOut(Out):
    id: str
    name: str
    code: str


class TypeOut(Out):
    id: str
    name: str
    stays: bool
    fields: list[str]


class FormatOut(Out):
    id: str
    name: str
    least_cards: int
    most_cards: int
    copies: int
    copies_by_rarity: dict[str, int]
    most_factions: int | None


class GameOut(Out):
    """`names` are the game's own, by kind, as the effect language spells them; `words` are the language's, by their part in it."""

    id: str
    name: str
    seq: int
    fields: list[FieldKind]
    types: list[TypeOut]
    lists: list[ChoiceList]
    roles: Roles
    resources: list[Resource]
    sets: list[SetOut]
    format: FormatOut
    turn: str
    dismiss: str
    damage: str
    zones: dict[str, str]
    names: dict[str, list[str]]
    words: dict[str, list[str]]


class CardOut(Out):
    """`values` hold what a person edits in each field; fields that are empty are absent."""

    id: str
    code: str
    set: str
    type: str
    title: str
    revision: int
    values: dict[str, str]


class CardsOut(Out):
    seq: int
    cards: list[CardOut]


class LineOut(Out):
    what: str
    points: Points | None
    why: str
    part: str
    field: str


class LedgerOut(Out):
    lines: list[LineOut]
    worth: Points
    budget: Points
    difference: Points
    judgement: str


class SheetOut(Out):
    """A card with all that follows from it. `printed` are the lines on its face.

    `face` holds the SVG of each mark in turn, for an svg element whose viewBox is `box` (in mm); `label` says it in words.
    """

    card: str
    box: str
    label: str
    face: list[str]
    digest: str
    printed: list[str]
    overridden: bool
    written: bool
    ledger: LedgerOut
    problems: list[Problem]
    fits: bool


class StandingOut(Out):
    card: str
    judgement: str
    difference: Points
    fits: bool
    written: bool


class FaceOut(Out):
    card: str
    digest: str
    svg: str


class StandingBrief(Out):
    judgement: str
    difference: Points
    written: bool


class CardRippleOut(Out):
    card: str
    title: str
    edits: list[str]
    face: str
    fits: bool | None
    fitted: bool | None
    before: StandingBrief | None
    after: StandingBrief | None


class DeckRippleOut(Out):
    deck: str
    name: str
    legal: bool
    was_legal: bool
    why: str


class RippleOut(Out):
    seq: int
    label: str
    cards: list[CardRippleOut]
    card_count: int
    decks: list[DeckRippleOut]


class DeckOut(Out):
    id: str
    name: str
    cards: dict[str, int]
    size: int
    legal: bool
    problems: list[Problem]
    curve: dict[int, int]
    factions: dict[str, int]
    types: dict[str, int]


class EditOut(Out):
    """An edit that was written: its number, its ripples, and everything that is different now."""

    seq: int
    ripple: RippleOut
    cards: list[CardOut]
    gone: list[str]
    decks: list[DeckOut]
    sets: list[SetOut]
    made: str | None = None


class HistoryOut(Out):
    undo: str | None
    redo: str | None


class ColumnOut(Out):
    index: int
    heading: str
    target: str | None
    name: str
    by_hand: bool


class RefusalOut(Out):
    row: int
    column: str
    value: str
    why: str
    mend: str
    near: str | None
    others: list[str]


class SkipOut(Out):
    row: int
    column: str
    value: str
    why: str


class TakenOut(Out):
    row: int
    code: str
    name: str
    type: str
    notes: list[str]


class SetTarget(Out):
    id: str
    name: str


class ImportOut(Out):
    """What becomes of each row. `said` sums them up; `taken` lists the first 500."""

    said: str
    set_name: str
    set_code: str
    encoding: str
    delimiter: str
    rows: int
    header: int
    columns: list[ColumnOut]
    targets: list[SetTarget]
    taken_count: int
    taken: list[TakenOut]
    skipped: list[SkipOut]
    refused: list[RefusalOut]
    warnings: list[Problem]
    edit: EditOut | None = None


class MarkOut(Out):
    card: str
    cost: int
    worth: Points
    budget: Points
    difference: Points
    judgement: str
    reason: str


class BudgetPoint(Out):
    """What one cost buys."""

    cost: int
    points: Points


class MapOut(Out):
    marks: list[MarkOut]
    lines: dict[str, list[BudgetPoint]]
    outliers: list[str]
    unpriced: list[str]
    tolerance: Points


class TableCardOut(Out):
    instance: int
    card: str
    damage: int
    stats: dict[str, int]


class TableOut(Out):
    draw_count: int
    hand: list[TableCardOut]
    discard: list[TableCardOut]
    in_play: list[TableCardOut]
    resolving: list[TableCardOut]
    resources: dict[str, int]
    turn: int
    hand_limit: int | None


class OptionOut(Out):
    do: str
    card: int


class LogOut(Out):
    decision: int
    text: str
    card: str | None
    inner: bool


class PlaytestOut(Out):
    id: str
    deck: str
    deck_name: str
    seed: int
    taken: int
    asked: str
    options: list[OptionOut]
    view: TableOut
    log: list[LogOut]
    titles: dict[str, str]
    outdated: list[str]


class PlaytestBrief(Out):
    id: str
    deck_name: str
    seed: int
    taken: int
    at: str


class FieldIn(Out):
    """What was typed, and the op number up to which the page has seen the game; `good` as in previews."""

    value: str = Field(max_length=300_000)
    base: int = Field(ge=0)
    good: str | None = Field(default=None, max_length=10_000)


class PreviewIn(Out):
    """`good`: the latest text of the effect being typed that had no mistake."""

    typed: dict[str, str]
    good: str | None = Field(default=None, max_length=10_000)


class NewCardIn(Out):
    type: str
    set: str


class NameIn(Out):
    name: str = Field(max_length=1000)


class CountIn(Out):
    count: int
    base: int = Field(ge=0)


class NewPlaytestIn(Out):
    deck: str
    seed: int | None = None


class DecisionIn(Out):
    """`taken`: how many decisions the page has seen."""

    do: str
    card: int = -1
    taken: int = Field(ge=0)


class TakeBackIn(Out):
    taken: int = Field(ge=0)


class WishesIn(Out):
    """`columns`: column index -> field id or null; `corrections`: "row:column index" -> text."""

    set_name: str | None = None
    columns: dict[int, str | None] = {}
    corrections: dict[str, str] = {}
    accept_near: bool = False
