"""The parts of the rules: read, preview, write."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Annotated

from fastapi import APIRouter, Path, Response

from dramok.core.balance import Curve, PricedCard
from dramok.core.effects.verbs import CUES, VERBS
from dramok.core.rulebook.phase_actions import PHASE_ACTIONS
from dramok.core.rulebook.starting_rules import starting
from dramok.server.request_context import Key, Page, TheGame, TheWorkspace, ValidatingRoute
from dramok.server.responses import edit_out, map_out
from dramok.server.routes.measure import TheBalance
from dramok.server.schemas.cards import EditOut
from dramok.server.schemas.decks import ClashOut
from dramok.server.schemas.parts import (
    BudgetFitIn,
    BudgetFitOut,
    ChangedOut,
    CurvePointOut,
    EqualRowsOut,
    PartIn,
    PartLookIn,
    PartLookOut,
    PartsOut,
    PhaseActionOut,
    PhraseOut,
    PhrasesLookIn,
    PhrasesLookOut,
    PricedCardOut,
    PricesLookIn,
    PricesLookOut,
    SampleOut,
    StoodOut,
    UnpricedOut,
    VerbOut,
)
from dramok.server.schemas.playrules import EndsIn, EndsOut, PlayLookIn, PlayLookOut
from dramok.services.play.play_preview import preview_play
from dramok.services.rules.rule_parts import PARTS, phrase_book, symbols_in_words, write_rules
from dramok.services.rules.rules_preview import (
    PricesPreview,
    budget_fit,
    deck_rule_clashes,
    preview_part,
    preview_phrases,
    preview_prices,
)

router = APIRouter(route_class=ValidatingRoute, prefix="/games/{game_id}/rules/parts", tags=["rules"])
Part = Annotated[str, Path(max_length=40)]
STAT, ROW = "stat:", "row:"
MOST_PRICED, MOST_CARDS = 200, 20


@router.get("")
def rule_parts(game: TheGame) -> PartsOut:
    """The parts of the rules: resources, table, field roles, words, worths, deck rules."""
    return PartsOut(
        parts={**{part: game.rules.get(part) for part in PARTS}, "play": play.model_dump(mode="json") if (play := game.rulebook.play) else None}, seq=game.seq, verbs=[VerbOut(word=each.word, form=each.form) for each in VERBS.values()], cues=list(CUES),
        phrases=[PhraseOut(id=each.id, room=each.room, key=each.key, about=each.about, plain=each.unwritten(game.rulebook.phrases), parts=list(each.parts)) for each in phrase_book(game.rulebook)],
        symbols=symbols_in_words(game.rulebook),
        clashes=[ClashOut(format=ident, problem=problem) for ident, problem in deck_rule_clashes(game)],
        starts=[starting(game.rulebook, seats).model_dump(mode="json") for seats in (1, 2)], phase_actions=[PhaseActionOut.model_validate(each) for each in PHASE_ACTIONS],
    )  # fmt: skip


@router.put("/{part}")
def put_rule_part(workspace: TheWorkspace, game: TheGame, part: Part, asked: PartIn, page: Page, key: Key) -> EditOut:
    """Write one part as one undoable edit."""
    return edit_out(write_rules(workspace, game.id, part, asked.value, asked.base, page, key))


@router.post("/prices/look", response_model=PricesLookOut)
def look_at_the_prices(workspace: TheWorkspace, game: TheGame, asked: PricesLookIn) -> Response:
    """Preview the set map, and what each row prices. Writes nothing."""
    found = _prices_out(preview_prices(workspace, game, asked.value, asked.since), asked.row or "")
    # This runs at each key press, and the model already guarantees its form: skip validation.
    return Response(found.model_dump_json(), media_type="application/json")


@router.post("/prices/fit")
def fit_a_budget(game: TheGame, asked: BudgetFitIn) -> BudgetFitOut:
    """The budget that fits the existing cards with the given worths. Writes nothing."""
    found = budget_fit(game, asked.value, asked.type)
    return BudgetFitOut(budget=found[0].model_dump(mode="json") if found else None, cards=found[1] if found else 0)


@router.post("/phrases/look")
def look_at_the_phrases(game: TheGame, asked: PhrasesLookIn) -> PhrasesLookOut:
    """Preview another phrase book, with sample cards of the game. Writes nothing."""
    look = preview_phrases(game, asked.value, asked.phrase)
    return PhrasesLookOut(
        reworded=look.reworded, uses=dict(look.uses), lacking={phrase: list(parts) for phrase, parts in look.lacking.items()},
        samples=[SampleOut(card=each.card, before=list(each.before), after=list(each.after)) for each in look.samples],
    )  # fmt: skip


@router.post("/play/read")
def look_at_the_rules_of_play(game: TheGame, asked: PlayLookIn) -> PlayLookOut:
    """Preview rules of play: problems and rules text. Writes nothing."""
    return PlayLookOut.model_validate(preview_play(game, asked.value, asked.sender, asked.answer))


@router.post("/play/ends")
def how_matches_end(held: TheBalance, game: TheGame, asked: EndsIn) -> EndsOut:
    """Play quick games by the given rules of play with the Simple player: who wins, how long games take, what
    never ends. Writes nothing.

    `measure/progress/ends` gives the progress. `measure/stop/ends` stops the games; the answer then covers the
    finished games.
    """
    found = held.ends(game, asked.value, asked.seed)
    games = found.games
    turns = {str(part): number for part, number in games.turns.items()}
    return EndsOut(games=games.games, wins=list(games.wins), draws=games.draws, cut=games.runaways, turns=turns, decks=found.decks, seconds=games.seconds)


@router.post("/{part}/look")
def look_at_one_part(game: TheGame, part: Part, asked: PartLookIn) -> PartLookOut:
    """Preview the effect of writing a part on verdicts, texts and decks. Writes nothing."""
    look = preview_part(game, part, asked.value)
    return PartLookOut(
        verdicts=look.verdicts, texts=look.texts, decks=list(look.decks), mended=list(look.mended), said=list(look.said),
    )  # fmt: skip


def _prices_out(look: PricesPreview, of: str) -> PricesLookOut:
    found = look.pricing
    uses = {f"{ROW}{ident}": len(cards) for ident, cards in found.by_row.items()}
    uses |= {f"{STAT}{ident}": len(cards) for ident, cards in found.by_stat.items()}
    priced = _priced(look, of)
    return PricesLookOut(
        map=map_out(found.map, look.game), was={card: StoodOut(cost=cost, worth=worth) for card, (cost, worth) in look.was.items()},
        verdicts=look.verdicts, notes=list(look.notes), uses=uses, curve=list(_line(look, of)), priced=[PricedCardOut.model_validate(each) for each in priced[:MOST_PRICED]], priced_count=len(priced),
        equal=[EqualRowsOut(rows=list(each.rows[:MOST_CARDS]), what=each.what, cards=list(each.cards[:MOST_CARDS]), mends=dict(list(each.mends.items())[:MOST_CARDS])) for each in found.equal[:MOST_CARDS]],
        unpriced=[UnpricedOut(what=each.what, row=each.row, cards=list(each.cards[:MOST_CARDS])) for each in found.unpriced[:MOST_PRICED]],
        changed=None if look.rows is None else ChangedOut(rows=list(look.rows), stats=list(look.stats or ()), budgets=list(look.budgets or ())),
    )  # fmt: skip


def _priced(look: PricesPreview, of: str) -> tuple[PricedCard, ...]:
    if of.startswith(STAT):
        return look.pricing.by_stat.get(of.removeprefix(STAT), ())
    return look.pricing.by_row.get(of.removeprefix(ROW), ())


def _line(look: PricesPreview, of: str) -> Iterable[CurvePointOut]:
    """The curve of a row, or the line of a stat; empty while it is undecided."""
    prices = look.game.prices
    if of.startswith(STAT):
        each = prices.stats.get(of.removeprefix(STAT))
        curve = None if each is None else Curve(each=each)
    else:
        curve = next((row.curve for row in prices.rows if row.id == of.removeprefix(ROW)), None)
    return [CurvePointOut(amount=amount, points=points) for amount, points in curve.line()] if curve else []
