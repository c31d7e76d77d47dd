"""What goes over the wire, in both directions."""

from __future__ import annotations

from decimal import Decimal
from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field, PlainSerializer

from dramok.core.cards import Back, CardType, FieldKind
from dramok.core.cards.choices import ChoiceList
from dramok.core.output import PaperState
from dramok.core.problem import Problem
from dramok.core.rulebook.rulebook import Keyword, Resource, Roles

Points = Annotated[Decimal, PlainSerializer(float, return_type=float)]


class Out(BaseModel):
    model_config = ConfigDict(from_attributes=True)


def like(example: dict[str, Any]) -> ConfigDict:
    """The settings of a model that shows one example of itself in the API's document."""
    return ConfigDict(from_attributes=True, json_schema_extra={"examples": [example]})


class ProblemOut(Out):
    """RFC 9457, with where, what and mend; `theirs` and `yours` when somebody else changed the same field.

    `op` is the edit that cannot be undone as a whole, `rest` how many of its changes still can be.
    """

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
    op: int | None = None
    rest: int | None = None


class DamageBrief(Out):
    what: str
    mend: str


class GameBrief(Out):
    """`damage` says why a game cannot be read; it has no cards and decks to count then."""

    id: str
    name: str
    cards: int
    decks: int
    damage: DamageBrief | None = None


class FaultOfGameOut(Out):
    """`entity`: card, deck, set, game or the kind of a thing."""

    entity: str
    id: str
    problem: Problem


class SoundMomentOut(Out):
    seq: int
    label: str
    at: str


class DamageOut(Out):
    """What is wrong with a game; `sound` is the moment to which a repair walks it back, over `steps` edits. None: no way back is known."""

    id: str
    name: str
    faults: list[FaultOfGameOut]
    sound: SoundMomentOut | None
    steps: int
    rebuilt: list[str]


class RepairIn(Out):
    """`to`: the sound moment that was shown."""

    to: int = Field(ge=0, le=2**53)

    model_config = like({"to": 41})


class SetOut(Out):
    """`pattern` makes the codes of new cards; `back` is what its cards have behind, else their type's."""

    id: str
    name: str
    code: str
    pattern: str
    back: Back | None = None


class ViewOut(Out):
    """A saved way of looking at the cards; `doc` is the page's own."""

    id: str
    name: str
    doc: dict[str, Any]


class TypeOut(Out):
    """`width` and `height` are of its faces, in mm."""

    id: str
    name: str
    stays: bool
    width: float
    height: float
    fields: list[str]


class FormatOut(Out):
    id: str
    name: str
    least_cards: int
    most_cards: int
    copies: int
    copies_by_rarity: dict[str, int]
    most_factions: int | None


class SymbolOut(Out):
    """A symbol that can stand in the line of a text, as `{id}`; `path` is SVG path data in a 256 x 256 box."""

    id: str
    name: str
    path: str


class GameOut(Out):
    """`names` are the game's own, by kind, as the effect language spells them; `words` are the language's, by their part in it; so many print `runs` are remembered."""

    id: str
    name: str
    seq: int
    fields: list[FieldKind]
    types: list[TypeOut]
    lists: list[ChoiceList]
    roles: Roles
    resources: list[Resource]
    sets: list[SetOut]
    views: list[ViewOut]
    groupable: list[str]
    symbols: list[SymbolOut]
    format: FormatOut
    turn: str
    dismiss: str
    damage: str
    zones: dict[str, str]
    names: dict[str, list[str]]
    words: dict[str, list[str]]
    keywords: list[str]
    runs: int


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
    """An edit that was written: its number, its ripples, and everything that is different now.

    `rules`: card types or choice lists changed, and with them perhaps every card; `made` are the ids of new things.
    `touched`: the kinds of everything that changed, such as note or mark.
    """

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
    good: str | None = Field(default=None, max_length=300_000)

    model_config = like({"value": "6", "base": 41})


class PreviewIn(Out):
    """`good`: the latest text of the effect being typed that had no mistake."""

    typed: dict[str, Annotated[str, Field(max_length=300_000)]] = Field(max_length=200)
    good: str | None = Field(default=None, max_length=300_000)

    model_config = like({"typed": {"height": "6"}})


class NewCardIn(Out):
    """`typed`: what is typed into its fields, by id; the others take their defaults."""

    type: str
    set: str
    typed: dict[str, Annotated[str, Field(max_length=300_000)]] = {}

    model_config = like({"type": "plant", "set": "first", "typed": {"name": "Late Fern", "cost": "2"}})


class CellIn(Out):
    card: str
    field: str
    typed: str = Field(max_length=300_000)
    good: str | None = Field(default=None, max_length=300_000)


class CellsIn(Out):
    """Cells and new cards written as one step. `base`: the op number up to which the page has seen the game."""

    cells: list[CellIn] = Field(default=[], max_length=60_000)
    new: list[NewCardIn] = Field(default=[], max_length=6_000)
    base: int = Field(ge=0)
    label: str | None = Field(default=None, max_length=120)

    model_config = like(
        {
            "cells": [{"card": "c-ribbon-season-rs-001", "field": "cost", "typed": "2"}],
            "new": [],
            "base": 41,
            "label": "costs",
        }
    )


class CellRefusedOut(Out):
    """A cell that was not written. `card` is `new/N` for the Nth new card."""

    card: str
    field: str
    typed: str
    problem: Problem
    theirs: str | None


class CellsOut(Out):
    """`edit` is null when nothing was written."""

    edit: EditOut | None
    refused: list[CellRefusedOut]


class IdsIn(Out):
    cards: list[str] = Field(min_length=1, max_length=5_000)

    model_config = like({"cards": ["c-ribbon-season-rs-001"]})


class VariantsIn(Out):
    field: str
    count: int
    step: int = 1

    model_config = like({"field": "cost", "count": 3, "step": 1})


class RangeIn(Out):
    field: str
    least: int
    most: int


class PickIn(Out):
    """`values` are ids of the choice list."""

    field: str
    values: list[str]


class GenerateIn(Out):
    """`total_least` to `total_most` bound the sum of all ranges; `fixed` values are the same on every card."""

    type: str
    set: str
    count: int
    seed: int
    ranges: list[RangeIn] = Field(default=[], max_length=20)
    picks: list[PickIn] = Field(default=[], max_length=20)
    total_least: int | None = None
    total_most: int | None = None
    distinct: bool = True
    fixed: dict[str, str] = {}

    model_config = like(
        {
            "type": "tile",
            "set": "bed",
            "count": 6,
            "seed": 7,
            "ranges": [{"field": "vigour", "least": 1, "most": 8}],
        }
    )


class SortIn(Out):
    field: str
    down: bool = False


class FindIn(Out):
    query: str = Field(default="", max_length=4_000)
    sort: list[SortIn] = Field(default=[], max_length=12)

    model_config = like({"query": "cost >= 3 bed is Fern", "sort": [{"field": "cost", "down": True}]})


class PartOut(Out):
    start: int
    end: int
    text: str


class FoundOut(Out):
    """`waiting` cards are not judged yet and could not be asked; with a `problem` every card is there."""

    cards: list[str]
    waiting: int
    parts: list[PartOut]
    problem: Problem | None


class OfferOut(Out):
    text: str
    kind: str
    help: str
    start: int
    end: int


class ReplaceIn(Out):
    """`field` null: every text, effect and tag. Only cards that answer to `query` are looked through."""

    query: str = Field(default="", max_length=4_000)
    wanted: str = Field(max_length=500)
    instead: str = Field(default="", max_length=500)
    field: str | None = None
    same_case: bool = False
    whole_words: bool = False

    model_config = like({"query": "", "wanted": "Fern", "instead": "Bracken", "field": "name"})


class ReplacementOut(Out):
    card: str
    field: str
    before: str
    after: str
    count: int


class GroupOut(Out):
    value: str
    label: str
    colour: str | None


class WallCellOut(Out):
    across: str
    down: str
    cards: list[str]


class WallOut(Out):
    """`cut` cards have values beyond the last group."""

    across: list[GroupOut]
    down: list[GroupOut]
    cells: list[WallCellOut]
    cut: int
    waiting: int
    parts: list[PartOut]
    problem: Problem | None


class RulesOut(Out):
    """Card types, choice lists and keywords as they are edited. Formulas name fields as people do.

    `cards` counts the cards of each type; `uses` those that have each value, by list and value; `holds` those with a
    value in each field; `in_set` those of each set.
    """

    types: list[CardType]
    lists: list[ChoiceList]
    cards: dict[str, int]
    uses: dict[str, dict[str, int]]
    holds: dict[str, int]
    in_set: dict[str, int]
    roles: dict[str, str]
    keywords: list[Keyword]


class KeywordsIn(Out):
    """The game's keywords, all of them; `base` is the op number up to which the page has seen the game.

    `renames`: new names by old ones, whose uses in prose, reminders and the phrase book change with them.
    """

    keywords: list[dict[Literal["name", "reminder"], Annotated[str, Field(max_length=300)]]] = Field(
        max_length=500
    )
    base: int
    renames: dict[Annotated[str, Field(max_length=60)], Annotated[str, Field(max_length=60)]] = Field(
        default={}, max_length=50
    )

    model_config = like(
        {"keywords": [{"name": "Grafted", "reminder": "It comes into play on another plant."}], "base": 41}
    )


class Entry(Out):
    """A part of the rules as it is edited: a new one has no id. What else it holds is its own (see the answers of `/rules`)."""

    model_config = ConfigDict(extra="allow")

    id: str | None = Field(default=None, max_length=80)
    name: str = Field(default="", max_length=1_000)

    def document(self) -> dict[str, Any]:
        """What was said, and nothing else."""
        return self.model_dump(exclude_unset=True)


class FieldEntry(Entry):
    kind: str = Field(default="", max_length=20)
    list: str | None = Field(default=None, max_length=80)


class TypeEntry(Entry):
    extends: str | None = Field(default=None, max_length=80)
    fields: list[FieldEntry] = Field(default=[], max_length=300)


class ListEntry(Entry):
    values: list[Entry] = Field(default=[], max_length=20_000)


class TypeIn(Out):
    """A card type; new fields and a new type have no id."""

    type: TypeEntry
    base: int = Field(default=0, ge=0)

    model_config = like(
        {
            "type": {"name": "Bulb", "extends": "card", "fields": [{"name": "Depth", "kind": "number"}]},
            "base": 41,
        }
    )


class LostOut(Out):
    card: str
    text: str
    why: str
    mend: str


class MovedOut(Out):
    field: str
    name: str
    kept: int
    lost: list[LostOut]
    kept_as: str


class KeywordUseOut(Out):
    """A text in which a renamed keyword stands; `card` is empty where it is the rules' own."""

    card: str
    title: str
    where: str
    before: str
    after: str


class KeywordPlanOut(Out):
    """What a rename would change: the first `uses` of `total`, on so many `cards`."""

    uses: list[KeywordUseOut]
    total: int
    cards: int


class TypePlanOut(Out):
    """What writing the type would do: values that change their kind, fields that are put away, cards touched."""

    moved: list[MovedOut]
    put_away: list[str]
    changes: int


class ListIn(Out):
    """A choice list; new values have no id. `moves`: for each value that is gone, the one its cards get (null: none)."""

    list: ListEntry
    moves: dict[str, str | None] = {}
    base: int = Field(default=0, ge=0)

    model_config = like(
        {
            "list": {"name": "Seasons", "values": [{"name": "early"}, {"name": "late"}]},
            "moves": {},
            "base": 41,
        }
    )


class UnplacedOut(Out):
    value: str
    name: str
    cards: int
    some: str


class ListPlanOut(Out):
    unplaced: list[UnplacedOut]
    moved: int
    changes: int


class SetIn(Out):
    """Without an id it is a new set."""

    id: str | None = None
    name: str = Field(max_length=200)
    code: str = Field(default="", max_length=60)
    pattern: str = Field(default="", max_length=100)
    back: dict[str, Any] | None = None

    model_config = like({"name": "Second Showing", "code": "SS", "pattern": "SS-{n:03}"})


class ViewIn(Out):
    name: str = Field(max_length=200)
    doc: dict[str, Any]

    model_config = like({"name": "Dearest first", "doc": {"sort": "-cost"}})


class NameIn(Out):
    name: str = Field(max_length=1000)

    model_config = like({"name": "Night Garden"})


class CountIn(Out):
    count: int
    base: int = Field(ge=0)

    model_config = like({"count": 3, "base": 41})


class NewPlaytestIn(Out):
    deck: str
    seed: int | None = None

    model_config = like({"deck": "d849e0133df5f921", "seed": 21})


class DecisionIn(Out):
    """`taken`: how many decisions the page has seen."""

    do: str
    card: int = -1
    taken: int = Field(ge=0)

    model_config = like({"do": "draw", "card": -1, "taken": 4})


class TakeBackIn(Out):
    taken: int = Field(ge=0)

    model_config = like({"taken": 4})
