"""What goes over the wire. Made from studio's answers; nothing is decided here."""

from __future__ import annotations

from decimal import Decimal
from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field, PlainSerializer

from dramok.core.balance import Ledger, SetMap
from dramok.core.cards import Card, FieldKind, shown_value
from dramok.core.cards.columns import Target
from dramok.core.cards.fields import CardType, ChoiceList
from dramok.core.effects.vocabulary import CHOICE, RESOURCE, STAT, TAG, TYPE, value_of
from dramok.core.problem import Problem
from dramok.core.rulebook.rulebook import Resource, Roles
from dramok.studio import Commit, GameSnapshot
from dramok.studio.deckwork import DeckReport, report
from dramok.studio.importing import ImportPlan, said
from dramok.studio.playing import Playtest
from dramok.studio.ripples import Ripple, ripple_of
from dramok.studio.sheets import CardSheet

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
    """A card with all that follows from it. `printed` are the lines on its face."""

    card: str
    svg: str
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


def game_out(game: GameSnapshot) -> GameOut:
    schema = game.rulebook.cards
    kinds = [
        TYPE,
        STAT,
        RESOURCE,
        CHOICE,
        TAG,
        *(value_of(field.id) for field in schema.fields if field.kind == "choice"),
    ]
    return GameOut(
        id=game.id, name=game.name, seq=game.seq, fields=list(schema.fields), lists=list(schema.lists), roles=game.rulebook.roles,
        types=[_type_out(game, each) for each in schema.types if not each.abstract],
        resources=list(game.rulebook.resources), sets=[SetOut.model_validate(each) for each in game.sets],
        format=FormatOut.model_validate(game.format), turn=game.rulebook.table.turn, dismiss=game.rulebook.table.dismiss,
        damage=game.rulebook.phrases.damage, zones=game.rulebook.table.zones,
        names={kind: sorted(game.vocabulary.names(kind)) for kind in kinds},
    )  # fmt: skip


def _type_out(game: GameSnapshot, each: CardType) -> TypeOut:
    return TypeOut(
        id=each.id,
        name=each.name,
        stays=each.stays,
        fields=[field.id for field in game.rulebook.cards.fields_of(each.id)],
    )


def card_out(game: GameSnapshot, card: Card) -> CardOut:
    schema = game.rulebook.cards
    values = {
        ident: shown_value(field, value, schema, game.vocabulary)
        for ident, value in card.values.items()
        if (field := schema.field(ident)) is not None
    }
    return CardOut(
        id=card.id,
        code=card.code,
        set=card.set,
        type=card.type,
        title=game.title(card),
        revision=card.revision,
        values=values,
    )


def sheet_out(sheet: CardSheet) -> SheetOut:
    return SheetOut(
        card=sheet.card.id, svg=sheet.svg, digest=sheet.digest, printed=list(sheet.printed.lines), overridden=sheet.printed.overridden,
        written=sheet.printed.behaviour_written, ledger=ledger_out(sheet.ledger), problems=list(sheet.problems), fits=sheet.fits,
    )  # fmt: skip


def ledger_out(ledger: Ledger) -> LedgerOut:
    return LedgerOut.model_validate(ledger)


def deck_out(found: DeckReport) -> DeckOut:
    deck = found.deck
    return DeckOut(
        id=deck.id, name=deck.name, cards=dict(deck.cards), size=deck.size, legal=not found.problems, problems=list(found.problems),
        curve=found.curve, factions=found.factions, types=found.types,
    )  # fmt: skip


def ripple_out(ripple: Ripple) -> RippleOut:
    return RippleOut.model_validate(ripple)


def edit_out(commit: Commit, made: str | None = None) -> EditOut:
    after = commit.after
    cards = dict.fromkeys(change.id for change in commit.changes if change.entity == "card")
    ripple = ripple_of(commit)
    return EditOut(
        seq=commit.op.seq, ripple=ripple_out(ripple), cards=[card_out(after, after.cards[ident]) for ident in cards if ident in after.cards],
        gone=[ident for ident in cards if ident not in after.cards],
        decks=[deck_out(report(after, after.decks[each.deck])) for each in ripple.decks], sets=[SetOut.model_validate(each) for each in after.sets],
        made=made,
    )  # fmt: skip


def import_out(plan: ImportPlan, game: GameSnapshot, edit: EditOut | None = None) -> ImportOut:
    intake = plan.intake
    return ImportOut(
        said=said(plan), set_name=plan.set_name, set_code=plan.set_code, encoding=plan.encoding, delimiter=plan.delimiter, rows=intake.rows,
        header=intake.header, columns=[ColumnOut.model_validate(each) for each in intake.columns],
        targets=[SetTarget.model_validate(each) for each in Target.all_of(game.rulebook.cards)], taken_count=len(intake.taken),
        taken=[TakenOut(row=each.row, code=each.code, name=each.name, type=each.type, notes=list(each.notes)) for each in intake.taken[:500]],
        skipped=[SkipOut.model_validate(each) for each in intake.skipped], refused=[RefusalOut.model_validate(each) for each in intake.refused],
        warnings=list(intake.warnings), edit=edit,
    )  # fmt: skip


def map_out(found: SetMap, game: GameSnapshot) -> MapOut:
    return MapOut(
        marks=[MarkOut.model_validate(mark) for mark in found.marks], lines={key: [BudgetPoint(cost=cost, points=points) for cost, points in line] for key, line in found.lines.items()},
        outliers=list(found.outliers), unpriced=list(found.unpriced), tolerance=game.prices.tolerance,
    )  # fmt: skip


def playtest_out(found: Playtest) -> PlaytestOut:
    return PlaytestOut.model_validate(found)
