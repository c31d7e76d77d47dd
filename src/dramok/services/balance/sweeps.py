"""Games with two versions of a card on the same shuffles: a swept number, the fair cost, an edit before and after."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from decimal import Decimal
from typing import Any

from dramok.core.balance.declared.prices import MOST_POINTS, PriceList
from dramok.core.balance.measured.sweep import Fair, SweepPoint, fair_value, sweep_points
from dramok.core.balance.suggested_costs import (
    cards_with,
    cost_asked,
    dearest,
    with_worth,
    worth_of,
    worths_changed,
)
from dramok.core.cards import Card
from dramok.core.engine import looked_at
from dramok.services.balance import batch_orders
from dramok.services.balance.batch_orders import Playing, refused
from dramok.services.play.game_processes import GameProcesses
from dramok.services.workspace.snapshot import GameSnapshot

MOST_VALUES = 41
MOST_HELD = 100
"""The number of cards that take turns on one side; of more cards, this number is chosen evenly through the set."""
PRICED = "\n"
"""Suffix of a card id: the same card at another cost. No id has a line break."""


@dataclass(frozen=True)
class SweepAsked:
    """Sweep `field` of a card (id) over a range, with a number of games for each value."""

    card: str
    field: str
    start: int
    end: int
    playing: Playing


@dataclass(frozen=True)
class Swept:
    """The result of a sweep. `now` is the current value, None for an undecided worth; `fair` the value at which
    the side with the card wins as often as with an average card instead, None if there is none.

    `asked`: for a worth, the cost of each card (id) by value. `repeated`: decks play several games (see
    `batch_orders.repeats`).
    """

    points: tuple[SweepPoint, ...]
    now: float | None
    fair: Fair | None
    asked: tuple[dict[str, int], ...] = ()
    repeated: bool = False


@dataclass(frozen=True)
class WorthAsked:
    """Sweep the worth of a price row (its id) or of a stat (`stat:` and the field's id) over a number of
    values, with a number of games for each.
    """

    worth: str
    start: float
    end: float
    values: int
    playing: Playing


@dataclass(frozen=True)
class EditMeasured:
    """The result of measuring an edit. `more`: percentage points of win rate that the edited card gains for its
    side in the same games, with a 95 % interval; `rate`: the win rate in percent, now.

    `same`: the edit changes nothing in play, so that no game was played. `worths`: the edited worths; `more`
    then holds for cards at the costs that these suggest, and `same` if no cost changes.
    """

    card: str
    more: float
    low: float
    high: float
    rate: float
    games: int
    same: bool = False
    worths: tuple[str, ...] = ()


Say = Callable[[int, int], None]


def sweep(game: GameSnapshot, asked: SweepAsked, say: Say = lambda done, of: None, running: GameProcesses | None = None) -> Swept:
    """The win rate of the side with the card for each value, on the same shuffles.

    Raises Refused, including for a field of this card that the engine never reads.
    """
    order, ids = _order(game, [asked.card], asked.playing)
    card = game.cards[asked.card]
    field = game.rulebook.cards.field(asked.field)
    if field is None or field.kind != "number" or not game.rulebook.cards.has_field(card.type, asked.field):
        raise refused("field", f"{game.title(card)} has no number {asked.field[:40]}", "name one of its number fields")
    now = int(card.number(asked.field) or 0)
    values = sorted({*range(asked.start, asked.end + 1), now}) if asked.end - asked.start < MOST_VALUES else []
    if asked.start > asked.end or not values or len(values) > MOST_VALUES:
        raise refused("range", f"from {asked.start} to {asked.end} is not a range that can be swept", f"ask for up to {MOST_VALUES - 1} values")
    made = [batch_orders.program_of(game, ids, card.with_value(asked.field, value)) for value in values]
    if asked.field not in looked_at(game.rulebook, made[0].cards) or all(each.numbers == made[0].numbers for each in made):
        raise refused(field.name, f"the engine never reads {field.name.lower()} of {game.title(card)}: nothing would change", "sweep another field")
    won = _won({**order, **batch_orders.programs(made, ids)}, len(values), asked.playing.games, say, running)
    points = sweep_points(values, won, values.index(now))
    return Swept(points, now, fair_value(points, now), repeated=batch_orders.repeats(game, asked.playing.games))


def sweep_worth(game: GameSnapshot, asked: WorthAsked, say: Say = lambda done, of: None, running: GameProcesses | None = None) -> Swept:
    """Find the worth at which cards are as strong as an average card: in turn one side holds one of the cards
    with the effect, at the cost that the worth suggests; the fair worth gives a win rate of half. Raises
    Refused.
    """
    prices, rulebook = game.prices, game.rulebook
    try:
        now = worth_of(prices, asked.worth)
    except KeyError:
        raise refused("worth", f"there is no worth {asked.worth[:60]}", "name a row of the worths, or a stat") from None
    if not rulebook.roles.cost:
        raise refused("worth", "this game has no cost that could follow a worth", "sweep a number of a card")
    if not (-MOST_POINTS <= asked.start < asked.end <= MOST_POINTS and 2 <= asked.values < MOST_VALUES):
        raise refused("range", f"from {asked.start:g} to {asked.end:g} in {asked.values} values is not a range that can be swept", f"ask for 2 to {MOST_VALUES - 1} values, from the lower to the higher")
    cards = _some(cards_with(asked.worth, batch_orders.pool(game), rulebook, prices))
    if not cards:
        raise refused("worth", "no card that may be in a deck has this effect, a cost, and no other undecided worth", "set the missing worths, or add such a card")
    steps = {Decimal(str(round(asked.start + (asked.end - asked.start) * step / (asked.values - 1), 4))) for step in range(asked.values)}
    values = sorted(steps | ({now} if now is not None else set()))
    most = dearest(game.cards.values(), rulebook, prices)
    costs = [_costs(game, cards, with_worth(prices, asked.worth, value), most) for value in values]
    if all(each == costs[0] for each in costs):
        raise refused("range", "no worth in this range makes a card cost anything else", "take a wider range")
    won = _at_costs(game, cards, costs, asked.playing, say, running)
    points = sweep_points([float(value) for value in values], won, values.index(now) if now is not None else 0)
    return Swept(points, None if now is None else float(now), fair_value(points, float(now if now is not None else values[len(values) // 2])), tuple(costs), batch_orders.repeats(game, asked.playing.games))


def _at_costs(
    game: GameSnapshot, cards: Sequence[Card], costs: Sequence[dict[str, int]], playing: Playing, say: Say, running: GameProcesses | None
) -> list[Sequence[float]]:
    """For each list of costs (by card), game by game, whether the side won that held one of the cards at its
    cost, in turn.
    """
    order, ids = _order(game, [card.id for card in cards], playing)
    # If no cost changes, the games are the same.
    kinds = list({tuple(each.items()): each for each in costs}.values())
    role = game.rulebook.roles.cost
    assert role is not None
    held = [f"{card.id}{PRICED}" for card in cards]
    made = [batch_orders.program_of(game, ids, *(replace(card.with_value(role, each[card.id]), id=other, code=other) for card, other in zip(cards, held, strict=True))) for each in kinds]
    if role not in looked_at(game.rulebook, made[0].cards):
        raise refused("worth", "the engine reads no costs in this game: nothing would change", "sweep a number of a card")
    won = _won({**order, **batch_orders.programs(made, ids, held)}, len(kinds), playing.games, say, running)
    return [won[kinds.index(each)] for each in costs]


def _some(cards: Sequence[Card]) -> list[Card]:
    return [cards[number * len(cards) // MOST_HELD] for number in range(MOST_HELD)] if len(cards) > MOST_HELD else list(cards)


def _costs(game: GameSnapshot, cards: Sequence[Card], prices: PriceList, most: int) -> dict[str, int]:
    found = {card.id: cost_asked(card, game.rulebook, prices, most) for card in cards}
    return {card: cost for card, cost in found.items() if cost is not None}


def measure_edit(before: GameSnapshot, after: GameSnapshot, card: str, playing: Playing, running: GameProcesses | None = None) -> EditMeasured:
    """The change of win rate by an edit for the side with a card, before and after it on the same shuffles.

    Raises Refused.
    """
    if card not in before.cards or card not in after.cards:
        raise refused("card", "it was not there before: there is nothing to hold it against", "measure the set")
    batch_orders.base(after, "sweep", playing)
    ids = [each.id for each in batch_orders.pool(after)]
    if not all(ident in before.cards for ident in ids):
        raise refused("edit", "cards came with it that were not there before", "measure the set")
    made = [batch_orders.program_of(before, ids), batch_orders.program_of(after, ids)]
    if made[0].numbers == made[1].numbers:
        return _worths_measured(before.prices, after, card, playing, running)
    order, _ = _order(after, [card], playing)
    won = _won({**order, **batch_orders.programs(made, ids)}, 2, playing.games, lambda done, of: None, running)
    point = sweep_points((0, 1), won, 0)[1]
    return EditMeasured(card, point.more, point.more_low, point.more_high, point.rate, playing.games)


def _worths_measured(before: PriceList, after: GameSnapshot, card: str, playing: Playing, running: GameProcesses | None) -> EditMeasured:
    """Measure an edit of worths, which games do not read, through the costs that they suggest."""
    worths = worths_changed(before, after.prices)
    pool = batch_orders.pool(after) if worths and after.rulebook.roles.cost else []
    hang = {each.id: each for name in worths for each in cards_with(name, pool, after.rulebook, after.prices)}
    most = dearest(after.cards.values(), after.rulebook, after.prices)
    costs = [_costs(after, list(hang.values()), each, most) for each in (before, after.prices)]
    # An undecided worth suggests no cost.
    cards = _some([each for ident, each in hang.items() if all(ident in asked for asked in costs)])
    costs = [{each.id: asked[each.id] for each in cards} for asked in costs]
    if costs[0] == costs[1]:
        return EditMeasured(card, 0.0, 0.0, 0.0, 0.0, 0, same=True, worths=worths)
    won = _at_costs(after, cards, costs, playing, lambda done, of: None, running)
    point = sweep_points((0, 1), won, 0)[1]
    return EditMeasured(card, point.more, point.more_low, point.more_high, point.rate, playing.games, worths=worths)


def what_if(game: GameSnapshot, card: Card, playing: Playing, running: GameProcesses | None = None) -> EditMeasured:
    """Compare an unsaved edit with the saved card of its id."""
    return measure_edit(game, replace(game, cards={**game.cards, card.id: card}), card.id, playing, running)


def _order(game: GameSnapshot, held: Sequence[str], playing: Playing) -> tuple[dict[str, Any], list[str]]:
    """The order, without its programs, for games in which one side holds one of these cards, and the ids of all
    cards.
    """
    order = batch_orders.base(game, "sweep", playing)
    cards = batch_orders.pool(game)
    ids = [each.id for each in cards]
    if not set(held) <= set(ids):
        raise refused("card", "it may be in no deck, so that no game would have it", "allow it under Deck rules")
    return {**order, **batch_orders.dealing(game, cards, playing.seed, held), "holding": [ids.index(card) for card in held]}, ids


def _won(order: dict[str, Any], programs: int, games: int, say: Say, running: GameProcesses | None) -> Sequence[Sequence[float]]:
    """For each program, game by game, whether the side with the card won.

    `running` gets the process so that it can be ended.
    """
    won: list[list[float]] = [[] for _ in range(programs)]
    for line in batch_orders.lines_of(order, games, running):
        won[line["program"]] += line["won"]
        say(sum(map(len, won)), programs * games)
    return won
