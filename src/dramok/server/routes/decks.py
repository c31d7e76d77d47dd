"""Decks: edits, legality, deck lists, odds, comparison."""

from __future__ import annotations

from dataclasses import asdict
from typing import Annotated
from urllib.parse import quote

from fastapi import APIRouter, Query, Response

from dramok.core.decks import Deck, Fix
from dramok.server.request_context import Key, Page, TheGame, TheWorkspace, ValidatingRoute
from dramok.server.responses import deck_out, deck_problems, edit_out
from dramok.server.schemas.base import NameIn
from dramok.server.schemas.cards import EditOut
from dramok.server.schemas.decks import (
    MOST_SEED,
    AcrossOut,
    CardInDeckOut,
    ComparedOut,
    CountsIn,
    CycleOut,
    DeckChangeOut,
    DeckCountIn,
    DeckListIn,
    DeckListLookOut,
    DeckMeasureOut,
    DeckNoteIn,
    DeckOut,
    DeckRevisionOut,
    FillIn,
    GroupOddsOut,
    HandsIn,
    HandsOut,
    MomentIn,
    NewDeckIn,
    OddsIn,
    OddsOut,
    RulesChoiceIn,
    SampleHandOut,
    Seq,
    TroubleOut,
)
from dramok.services.decks.comparison import all_decks, compare, deck_at, past_of
from dramok.services.decks.edits import (
    add_deck,
    choose_rules,
    copy_deck,
    deck_in,
    fill_at_random,
    refill,
    rename_deck,
    retire_deck,
    set_count,
    set_counts,
    write_note,
)
from dramok.services.decks.list_exchange import form_of, import_list, preview_list, write_list
from dramok.services.decks.odds import card_in_decks, compute_odds
from dramok.services.decks.opening_hands import sample_hands
from dramok.services.decks.reports import measure, report

router = APIRouter(route_class=ValidatingRoute, prefix="/games/{game_id}/decks", tags=["decks"])
Turn = Annotated[int, Query(ge=0, le=30)]


@router.get("")
def decks(game: TheGame) -> list[DeckOut]:
    """Every deck with its legality."""
    return [deck_out(report(game, deck)) for deck in game.decks.values()]


@router.post("", status_code=201)
def new_deck(workspace: TheWorkspace, game: TheGame, asked: NewDeckIn, page: Page, key: Key) -> EditOut:
    """Add a deck, empty or filled at random by a seed; `made` is its id."""
    deck = Deck("", asked.name, {}, format=asked.format)
    if asked.seed is not None:
        deck = fill_at_random(game, deck, asked.seed, asked.size)
    commit, ident = add_deck(workspace, game.id, asked.name, page, deck.cards, key, deck.sections, asked.format)
    return edit_out(commit, [ident])


@router.get("/across")
def across_decks(game: TheGame) -> AcrossOut:
    """Compare all decks: how much each two share, and which decks hold each card."""
    return AcrossOut.model_validate(all_decks(game))


@router.get("/compare")
def compare_decks(
    workspace: TheWorkspace, game: TheGame, one: Annotated[str, Query(max_length=80)], other: Annotated[str, Query(max_length=80)],
    one_at: Seq | None = None, other_at: Seq | None = None,
) -> ComparedOut:  # fmt: skip
    """Compare two decks, or one at two moments."""
    first, held = deck_at(workspace, game, one, one_at)
    second, against = deck_at(workspace, game, other, other_at)
    found = compare(held, against)
    titles = {
        each.card: place.title(place.cards[each.card])
        for each in found.changes
        for place in (first, second, game)
        if each.card in place.cards
    }
    return ComparedOut(
        one=deck_out(report(first, held)), other=deck_out(report(second, against)),
        changes=[DeckChangeOut.model_validate(each) for each in found.changes], same=found.same, titles=titles,
    )  # fmt: skip


@router.get("/of/{card_id}")
def card_odds(game: TheGame, card_id: str, turn: Turn = 3) -> list[CardInDeckOut]:
    """The odds of a card in every deck that holds it."""
    return [CardInDeckOut.model_validate(each) for each in card_in_decks(game, card_id, turn, max(8, turn))]


@router.post("/lists/look")
def look_at_decklist(game: TheGame, asked: DeckListIn) -> DeckListLookOut:
    """Preview a deck list. Writes nothing."""
    look = preview_list(game, asked.text.encode(), asked.filename, asked.deck, asked.format)
    read = look.read
    return DeckListLookOut(
        name=read.name, rules=read.rules, cards=read.cards, sections={ident: dict(counts) for ident, counts in look.deck.every() if counts},
        troubles=[TroubleOut.model_validate(each) for each in read.troubles], trouble_count=read.trouble_count,
        format=look.format.id, legal=not look.problems, problems=deck_problems(look.problems),
    )  # fmt: skip


@router.post("/lists", status_code=201)
def take_decklist(workspace: TheWorkspace, game: TheGame, asked: DeckListIn, page: Page, key: Key) -> EditOut:
    """Import a deck list, as a new deck or as the cards of an existing one; `made` is its id."""
    commit, ident = import_list(
        workspace, game.id, asked.text.encode(), page, asked.filename, asked.deck, asked.name, asked.format, key,
    )  # fmt: skip
    return edit_out(commit, [ident])


@router.put("/{deck_id}/name")
def name_deck(workspace: TheWorkspace, game: TheGame, deck_id: str, asked: NameIn, page: Page, key: Key) -> EditOut:
    return edit_out(rename_deck(workspace, game.id, deck_id, asked.name, page, key))


@router.put("/{deck_id}/format")
def choose_deck_rules(
    workspace: TheWorkspace, game: TheGame, deck_id: str, asked: RulesChoiceIn, page: Page, key: Key
) -> EditOut:
    """Choose the deck rules of a deck."""
    return edit_out(choose_rules(workspace, game.id, deck_id, asked.format, page, key))


@router.put("/{deck_id}/note")
def note_deck(workspace: TheWorkspace, game: TheGame, deck_id: str, asked: DeckNoteIn, page: Page, key: Key) -> EditOut:
    return edit_out(write_note(workspace, game.id, deck_id, asked.text, page, key))


@router.put("/{deck_id}/cards/{card_id}")
def count_card(
    workspace: TheWorkspace, game: TheGame, deck_id: str, card_id: str, asked: DeckCountIn, page: Page, key: Key
) -> EditOut:
    """Set the count of a card in a section of the deck."""
    return edit_out(
        set_count(workspace, game.id, deck_id, card_id, asked.count, asked.base, page, key, asked.section)
    )


@router.post("/{deck_id}/counts")
def count_cards(workspace: TheWorkspace, game: TheGame, deck_id: str, asked: CountsIn, page: Page, key: Key) -> EditOut:
    """Set several counts as one edit, for example to apply a fix."""
    label = f"{deck_in(game, deck_id).name}: {asked.label}"
    fixes: list[Fix] = [each.fix() for each in asked.counts]
    return edit_out(set_counts(workspace, game.id, deck_id, fixes, label, page, key))


@router.post("/{deck_id}/double", status_code=201)
def double(workspace: TheWorkspace, game: TheGame, deck_id: str, page: Page, key: Key) -> EditOut:
    """Copy a deck; `made` is its id."""
    commit, ident = copy_deck(workspace, game.id, deck_id, page, key)
    return edit_out(commit, [ident])


@router.post("/{deck_id}/fill")
def fill_deck(workspace: TheWorkspace, game: TheGame, deck_id: str, asked: FillIn, page: Page, key: Key) -> EditOut:
    """Fill a deck at random to a legal one, by a seed."""
    deck = deck_in(game, deck_id)
    label = f"{deck.name}: filled at random, seed {asked.seed}"
    filled = fill_at_random(game, deck, asked.seed, asked.size)
    return edit_out(refill(workspace, game.id, deck_id, filled, label, page, key))


@router.delete("/{deck_id}")
def take_deck_out(workspace: TheWorkspace, game: TheGame, deck_id: str, page: Page, key: Key) -> EditOut:
    return edit_out(retire_deck(workspace, game.id, deck_id, page, key))


@router.get("/{deck_id}/measure")
def measure_deck(game: TheGame, deck_id: str) -> DeckMeasureOut:
    """The worth of a deck and its number of words."""
    return DeckMeasureOut.model_validate(measure(game, deck_in(game, deck_id)))


@router.get("/{deck_id}/list")
def decklist(game: TheGame, deck_id: str, form: Annotated[str, Query(max_length=20)] = "txt") -> Response:
    """The deck as a deck list: txt, csv or json."""
    deck = deck_in(game, deck_id)
    text = write_list(game, deck, form)
    name = quote(f"{deck.name}.{form}")
    head = {
        "content-disposition": f"attachment; filename*=UTF-8''{name}",
        "x-content-type-options": "nosniff",
    }
    return Response(text.encode(), media_type=form_of(form).media, headers=head)


@router.get("/{deck_id}/past")
def deck_past(workspace: TheWorkspace, game: TheGame, deck_id: str) -> list[DeckRevisionOut]:
    """The history of a deck, newest first."""
    return [DeckRevisionOut.model_validate(each) for each in past_of(workspace, game, deck_id)]


@router.post("/{deck_id}/back")
def put_deck_back(
    workspace: TheWorkspace, game: TheGame, deck_id: str, asked: MomentIn, page: Page, key: Key
) -> EditOut:
    """Restore the cards that a deck had after an edit, as one edit."""
    now = deck_in(game, deck_id)
    _, then = deck_at(workspace, game, deck_id, asked.seq)
    return edit_out(refill(workspace, game.id, deck_id, then, f"{now.name}: back to an earlier list", page, key))


@router.post("/{deck_id}/odds")
def deck_odds(workspace: TheWorkspace, game: TheGame, deck_id: str, asked: OddsIn) -> OddsOut:
    """The exact odds of drawing groups of a deck's cards."""
    found = compute_odds(workspace, game, deck_in(game, deck_id), asked.asked())
    groups = [
        GroupOddsOut(**{**asdict(each), "cycles": [CycleOut.model_validate(turn) for turn in each.cycles]})
        for each in found.groups
    ]
    return OddsOut(
        size=found.size, seen=list(found.seen), groups=groups, together=None if found.together is None else list(found.together),
        together_said=found.together_said, keeps=found.keeps, hand=found.draws.hand, each=found.draws.each, first_draw=found.draws.first_draw,
    )  # fmt: skip


@router.post("/{deck_id}/hands")
def deck_hands(workspace: TheWorkspace, game: TheGame, deck_id: str, asked: HandsIn) -> HandsOut:
    """Eight opening hands dealt by the engine, starting at a seed."""
    odds = asked.odds.asked() if asked.odds else None
    found = sample_hands(workspace, game, deck_in(game, deck_id), min(asked.seed, MOST_SEED), odds, asked.since)
    return HandsOut(
        first=found.first, hands=[SampleHandOut.model_validate(each) for each in found.hands], dealt=found.dealt, tally=found.tally, exact=found.exact,
    )  # fmt: skip
