"""Cards, their details and states, and the result of an edit."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from dramok.core.output import PaperState
from dramok.core.problem import Problem
from dramok.server.schemas.base import Out, Points, like
from dramok.server.schemas.decks import DeckOut
from dramok.server.schemas.game import SetOut, ViewOut


class CardOut(Out):
    """`values` hold the editable text of each field; empty fields are absent."""

    id: str
    code: str
    set: str
    type: str
    title: str
    revision: int
    values: dict[str, str]


class CardsOut(Out):
    """`total` counts the matching cards; `next` is the `start` of the next page, null on the last."""

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
    """A problem of a face: kind, placement, description and fix."""

    kind: str
    place: str
    name: str
    what: str
    mend: str


class LookOut(Out):
    """An adjustment of a card at a placement: mm across and up, zoom, and size of text in mm (null: as in the plan)."""

    across: float
    up: float
    zoom: float
    size: float | None


class SheetOut(Out):
    """A card with everything derived from it. `printed` are the lines on its face.

    `face` has the SVG of each element in order, for an svg with the viewBox `box` (in mm), clipped by the CSS
    declaration `cut`; `label` describes it in words. `faults` are the problems of the face, `looks` the
    adjustments of the card, by placement.
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
    """A written edit: its number, its ripples, and everything that changed.

    `rules`: card types or choice lists changed, and possibly every card; `made` are the ids of new entities.
    `touched`: the kinds of everything that changed, such as note or mark. `sheet` is the detail of the edited
    card.
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
    """How to handle an edit that cannot be undone completely.

    `whole`: all or nothing; `rest`: only what nobody changed since; `over`: everything, overwriting newer
    values; `pass`: keep it and go to the edit before. `op`: only if that is the next one.
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
