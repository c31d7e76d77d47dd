"""Studio's answers put into the schemas of the wire."""

from __future__ import annotations

from dramok.core.balance import Ledger, SetMap
from dramok.core.cards import Card, shown_value
from dramok.core.cards.columns import Target
from dramok.core.cards.fields import CardType
from dramok.core.effects.lexer import WORDS
from dramok.core.effects.vocabulary import CHOICE, RESOURCE, STAT, TAG, TYPE, as_typed, value_of
from dramok.formats.svg import face_box
from dramok.server.schemas import (
    BudgetPoint,
    CardOut,
    ColumnOut,
    DeckOut,
    EditOut,
    FormatOut,
    GameOut,
    ImportOut,
    LedgerOut,
    MapOut,
    MarkOut,
    PlaytestOut,
    RefusalOut,
    RippleOut,
    SetOut,
    SetTarget,
    SheetOut,
    SkipOut,
    TakenOut,
    TypeOut,
)
from dramok.studio import Commit, GameSnapshot
from dramok.studio.deckwork import DeckReport, report
from dramok.studio.importing import ImportPlan, said
from dramok.studio.playing import Playtest
from dramok.studio.ripples import Ripple, ripple_of
from dramok.studio.sheets import CardSheet


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
        names={kind: sorted(as_typed(kind, name) for name in game.vocabulary.names(kind)) for kind in kinds},
        words=WORDS,
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
        card=sheet.card.id, box=face_box(sheet.face),
        label=sheet.label,
        face=list(sheet.parts), digest=sheet.digest, printed=list(sheet.printed.lines), overridden=sheet.printed.overridden,
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
