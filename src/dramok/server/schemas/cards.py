"""Cards, their sheets and standings, decks, and what an edit changed."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from dramok.core.output import PaperState
from dramok.core.problem import Problem
from dramok.server.schemas.base import Out, Points, like
from dramok.server.schemas.decks import DeckOut
from dramok.server.schemas.game import SetOut, ViewOut


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
    """`total` counts the cards that answer; `next` is the `start` of the next page, None on the last."""

    seq: int
    cards: list[CardOut]
    total: int = 0
    next: int | None = None


class LineOut(Out):
    """A line of a ledger; `rows` are the price rows that match its effect best."""

    what: str
    points: Points | None
    why: str
    part: str
    field: str
    rows: list[str] = []


class LedgerOut(Out):
    lines: list[LineOut]
    worth: Points
    budget: Points
    difference: Points
    judgement: str


class FaultOut(Out):
    """What the proof finds on a face: the kind, the placement, what is wrong and how to mend it."""

    kind: str
    place: str
    name: str
    what: str
    mend: str


class LookOut(Out):
    """What a card has otherwise at a placement: mm across and up, zoom, and size of text in mm (null: as the plan says)."""

    across: float
    up: float
    zoom: float
    size: float | None


class SheetOut(Out):
    """A card with all that follows from it. `printed` are the lines on its face.

    `face` holds the SVG of each mark in turn, for an svg element whose viewBox is `box` (in mm), cut by the CSS declaration `cut`; `label` says it in words.
    `faults` is what the proof finds, `looks` what the card has otherwise than its plan, by placement.
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
    cut: str
    faults: list[FaultOut]
    looks: dict[str, LookOut]


class StandingOut(Out):
    card: str
    judgement: str
    difference: Points
    fits: bool
    written: bool
    unfinished: bool
    faults: list[str]
    paper: PaperState


class FaceOut(Out):
    card: str
    digest: str
    svg: str


class StandingBrief(Out):
    judgement: str
    difference: Points
    written: bool
    unfinished: bool
    faults: list[str]
    paper: PaperState


class CardRippleOut(Out):
    card: str
    title: str
    edits: list[str]
    face: str
    fits: bool | None
    fitted: bool | None
    before: StandingBrief | None
    after: StandingBrief | None
    faults: list[str]
    stale: int


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
    verdicts: int = 0


class EditOut(Out):
    """An edit of a game that was written: its number, its ripples, and everything that is different now.

    `rules`: card types or choice lists changed, and with them perhaps every card; `made` are the ids of new things.
    `touched`: the kinds of everything that changed, such as note or mark. `sheet` is of the one card that was edited.
    """

    game: str
    seq: int
    ripple: RippleOut
    cards: list[CardOut]
    gone: list[str]
    decks: list[DeckOut]
    sets: list[SetOut]
    views: list[ViewOut]
    rules: bool = False
    made: list[str] = []
    touched: list[str] = []
    decks_gone: list[str] = []
    sheet: SheetOut | None = None


class HistoryOut(Out):
    undo: str | None
    redo: str | None


class StepIn(Out):
    """How to go on where an edit cannot be undone as a whole.

    `whole`: or not at all; `rest`: only what nobody changed since; `over`: all of it, over what is there now; `pass`: it
    stays as it is, and the edit before it is next. `op`: only if that is the next one.
    """

    how: Literal["whole", "rest", "over", "pass"] = "whole"
    op: int | None = Field(default=None, ge=0)

    model_config = like({"how": "rest", "op": 41})


class MapCardOut(Out):
    card: str
    cost: int
    worth: Points
    budget: Points
    difference: Points
    judgement: str
    reason: str
    low: Points | None = None
    high: Points | None = None


class BudgetPoint(Out):
    """What one cost buys."""

    cost: int
    points: Points


class MapOut(Out):
    cards: list[MapCardOut]
    lines: dict[str, list[BudgetPoint]]
    outliers: list[str]
    unpriced: list[str]
    tolerance: Points
