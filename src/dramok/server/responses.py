"""Convert results of services to response schemas."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence

from dramok.core.automatic_players import AUTOMATIC_PLAYERS
from dramok.core.balance import Ledger, SetMap
from dramok.core.cards import Card, ChoiceField, ChoicesField, DerivedField, shown_value
from dramok.core.cards.query.wall import Wall, groupable
from dramok.core.cards.schema.formula_names import shown_formula
from dramok.core.cards.schema.schema import CardType
from dramok.core.cards.values.derived import derived_values
from dramok.core.decks import DeckProblem
from dramok.core.effects.lexer import OPENINGS, WORDS
from dramok.core.effects.vocabulary import (
    CHOICE,
    KEYWORD,
    PHASE,
    RESOURCE,
    STAT,
    TAG,
    TYPE,
    ZONE,
    as_typed,
    value_of,
)
from dramok.core.faces.plan.adjustments import adjustments_of
from dramok.core.faces.proof.proof import FaceFault
from dramok.core.rulebook.starting_cards import starting_deck
from dramok.formats.font_files import load_typefaces
from dramok.formats.svg import face_box
from dramok.server.schemas.cards import (
    BudgetPoint,
    CardOut,
    EditOut,
    FaultOut,
    LedgerOut,
    LookOut,
    MapCardOut,
    MapOut,
    RippleOut,
    SheetOut,
)
from dramok.server.schemas.decks import DeckOut, DeckProblemOut, FixOut
from dramok.server.schemas.game import (
    AutomaticPlayerOut,
    GameOut,
    OwnFontOut,
    SetOut,
    SymbolOut,
    TypeOut,
    ViewOut,
)
from dramok.server.schemas.play import PlaytestOut
from dramok.server.schemas.queries import (
    CellRefusedOut,
    CellsOut,
    FoundOut,
    GroupOut,
    PartOut,
    WallCellOut,
    WallOut,
)
from dramok.server.schemas.rules import RulesOut
from dramok.services import Commit, GameSnapshot
from dramok.services.cards.card_detail import CardDetail, detail_of
from dramok.services.cards.cells import CellsWritten, pattern_of
from dramok.services.cards.ripples import Ripple, ripple_of
from dramok.services.cards.search import Found
from dramok.services.decks.reports import DeckReport, report
from dramok.services.play.playtest_view import Playtest
from dramok.services.workspace.ids import is_of_samples


def game_out(game: GameSnapshot) -> GameOut:
    schema = game.rulebook.cards
    kinds = [
        TYPE,
        STAT,
        RESOURCE,
        CHOICE,
        TAG,
        KEYWORD,
        ZONE,
        PHASE,
        *(value_of(field.id) for field in schema.fields if field.kind == "choice"),
    ]
    return GameOut(
        id=game.id, name=game.name, seq=game.seq, fields=list(schema.fields), lists=list(schema.lists), roles=game.rulebook.roles,
        types=[_type_out(game, each) for each in schema.types if not each.abstract],
        resources=list(game.rulebook.resources), sets=sets_out(game), views=views_out(game),
        groupable=list(groupable(schema)), symbols=_symbols(game),
        own_symbols=list(game.rulebook.symbols), own_fonts=[OwnFontOut(id=each.id, name=each.name, face=each.face, file=each.file) for each in game.rulebook.fonts],
        formats=list(game.formats), turn=game.rulebook.table.turn, dismiss=game.rulebook.table.dismiss,
        damage=game.rulebook.phrases.damage, zones=game.rulebook.table.zones,
        names={kind: sorted(as_typed(kind, name) for name in game.vocabulary.names(kind)) for kind in kinds},
        seats=game.rulebook.played.seats, least_seats=game.rulebook.played.fewest, most_seats=game.rulebook.played.greatest,
        starting_deck=starting_deck(game.rulebook, game.cards.values()), words=WORDS, openings=list(OPENINGS), keywords=[each.name for each in game.rulebook.keywords], runs=len(game.of_kind("run")),
        automatic_players=[AutomaticPlayerOut.model_validate(each) for each in AUTOMATIC_PLAYERS],
    )  # fmt: skip


def sets_out(game: GameSnapshot) -> list[SetOut]:
    return [
        SetOut(
            id=each.id,
            name=each.name,
            code=each.code,
            pattern=pattern_of(game, each.id),
            back=each.document["back"],
            samples=is_of_samples(each.id),
        )
        for each in game.sets
    ]


def views_out(game: GameSnapshot) -> list[ViewOut]:
    return [ViewOut(id=each.id, name=each.name, doc=each.doc["doc"]) for each in game.of_kind("view")]


def _symbols(game: GameSnapshot) -> list[SymbolOut]:
    """The symbols allowed in texts: resources and stats with a symbol, and symbols of the game's own."""
    paths = load_typefaces().symbols
    named = {each.id: each.name for each in game.rulebook.resources}
    named |= {
        field.id: field.name
        for field in game.rulebook.cards.fields
        if field.kind == "number" and field.id not in named
    }
    own = {each.id: each.art for each in game.rulebook.symbols}
    drawn = [(ident, name, symbol) for ident, name in named.items() if (symbol := game.rulebook.symbol(ident)) in paths or symbol in own]
    drawn += [(each.id, each.name, each.id) for each in game.rulebook.symbols]
    return [SymbolOut(id=ident, name=name, path=paths.get(symbol, ""), art=own.get(symbol, "")) for ident, name, symbol in drawn]


def rules_out(game: GameSnapshot) -> RulesOut:
    schema = game.rulebook.cards
    uses: dict[str, dict[str, int]] = {each.id: {} for each in schema.lists}
    chosen = [
        (field.id, field.list) for field in schema.fields if isinstance(field, ChoiceField | ChoicesField)
    ]
    for card in game.cards.values():
        for ident, choices in chosen:
            value = card.values.get(ident)
            for each in value if isinstance(value, tuple) else (value,) if isinstance(value, str) else ():
                uses[choices][each] = uses[choices].get(each, 0) + 1
    return RulesOut(
        types=[_as_typed(game, each) for each in schema.types], lists=list(schema.lists), uses=uses,
        cards=dict(Counter(card.type for card in game.cards.values())), in_set=dict(Counter(card.set for card in game.cards.values())),
        holds=dict(Counter(ident for card in game.cards.values() for ident in card.values)),
        roles={ident: role for role, ident, _ in reversed(game.rulebook.roles.parts())}, keywords=list(game.rulebook.keywords),
    )  # fmt: skip


def _as_typed(game: GameSnapshot, each: CardType) -> CardType:
    """A card type with its formulas as users write them."""
    fields = tuple(
        field.model_copy(update={"formula": shown_formula(field.formula, game.rulebook.cards, each.id)})
        if isinstance(field, DerivedField)
        else field
        for field in each.fields
    )
    return each.model_copy(update={"fields": fields})


def found_out(found: Found) -> FoundOut:
    return FoundOut(
        cards=[card.id for card in found.cards], waiting=found.waiting, parts=[PartOut.model_validate(part) for part in found.parts], problem=found.problem
    )  # fmt: skip


def wall_out(wall: Wall, found: Found) -> WallOut:
    return WallOut(
        across=[GroupOut.model_validate(each) for each in wall.across], down=[GroupOut.model_validate(each) for each in wall.down],
        cells=[WallCellOut(across=across, down=down, cards=list(ids)) for (across, down), ids in wall.cells.items()],
        cut=wall.cut, waiting=found.waiting, parts=[PartOut.model_validate(part) for part in found.parts], problem=found.problem,
    )  # fmt: skip


def cells_out(done: CellsWritten) -> CellsOut:
    return CellsOut(
        edit=edit_out(done.commit, done.made) if done.commit else None, refused=[CellRefusedOut.model_validate(each) for each in done.refused]
    )  # fmt: skip


def _type_out(game: GameSnapshot, each: CardType) -> TypeOut:
    return TypeOut(
        id=each.id,
        name=each.name,
        stays=each.stays,
        width=(size := game.faces.size(each.id)).width,
        height=size.height,
        fields=[field.id for field in game.rulebook.cards.fields_of(each.id)],
    )


def card_out(game: GameSnapshot, card: Card) -> CardOut:
    schema = game.rulebook.cards
    values = {
        ident: shown_value(field, value, schema, game.vocabulary)
        for ident, value in card.values.items()
        if (field := schema.field_of(card.type, ident) or schema.field(ident)) is not None
        and not field.retired
    }
    for field in schema.derived_of(card.type):
        values.pop(field.id, None)
    if schema.derived_of(card.type):
        derived = derived_values(card, schema)[0]
        values |= {
            field.id: shown_value(field, derived[field.id], schema, game.vocabulary)
            for field in schema.derived_of(card.type)
            if field.id in derived
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


def sheet_out(sheet: CardDetail) -> SheetOut:
    return SheetOut(
        card=sheet.card.id, box=face_box(sheet.face),
        label=sheet.label,
        face=list(sheet.parts), digest=sheet.digest, printed=list(sheet.printed.lines), overridden=sheet.printed.overridden,
        written=sheet.printed.behaviour_written, ledger=ledger_out(sheet.ledger), problems=list(sheet.problems), fits=sheet.fits,
        cut=sheet.face.size.css(), faults=[fault_out(each) for each in sheet.faults],
        looks={place: LookOut(**look._asdict()) for place, look in adjustments_of(sheet.card).items()},
    )  # fmt: skip


def fault_out(fault: FaceFault) -> FaultOut:
    return FaultOut.model_validate(fault)


def ledger_out(ledger: Ledger) -> LedgerOut:
    return LedgerOut.model_validate(ledger)


def deck_out(found: DeckReport) -> DeckOut:
    deck = found.deck
    return DeckOut(
        id=deck.id, name=deck.name, cards=dict(deck.cards), sections={ident: dict(counts) for ident, counts in deck.sections.items()},
        format=found.format.id, note=deck.note, size=deck.size, legal=not found.problems, problems=deck_problems(found.problems),
        curve=found.curve, factions=found.factions, types=found.types, rarities=found.rarities, tags=found.tags,
    )  # fmt: skip


def deck_problems(found: Sequence[DeckProblem]) -> list[DeckProblemOut]:
    return [
        DeckProblemOut(
            where=each.where,
            what=each.what,
            mend=each.mend,
            fixes=[FixOut(section=fix.section, card=fix.card, copies=fix.copies) for fix in each.fixes],
        )
        for each in found
    ]


def ripple_out(ripple: Ripple) -> RippleOut:
    return RippleOut.model_validate(ripple)


def edit_out(commit: Commit, made: Sequence[str] = ()) -> EditOut:
    after = commit.after
    cards = dict.fromkeys(change.id for change in commit.changes if change.entity == "card")
    ripple = ripple_of(commit)
    there = [after.cards[ident] for ident in cards if ident in after.cards]
    return EditOut(
        game=after.id, seq=commit.op.seq, ripple=ripple_out(ripple), cards=[card_out(after, each) for each in there], sheet=sheet_out(detail_of(after, there[0])) if len(cards) == len(there) == 1 else None,
        gone=[ident for ident in cards if ident not in after.cards],
        decks=[deck_out(report(after, after.decks[each.deck])) for each in ripple.decks], sets=sets_out(after),
        views=views_out(after), rules=any(change.entity == "game" for change in commit.changes), made=list(made),
        touched=sorted({change.entity for change in commit.changes}),
        decks_gone=sorted({each.id for each in commit.changes if each.entity == "deck" and each.id not in after.decks}),
    )  # fmt: skip


def map_out(found: SetMap, game: GameSnapshot) -> MapOut:
    return MapOut(
        cards=[MapCardOut.model_validate(each) for each in found.cards], lines={key: [BudgetPoint(cost=cost, points=points) for cost, points in line] for key, line in found.lines.items()},
        outliers=list(found.outliers), unpriced=list(found.unpriced), tolerance=game.prices.tolerance,
    )  # fmt: skip


def playtest_out(found: Playtest) -> PlaytestOut:
    return PlaytestOut.model_validate(found)
