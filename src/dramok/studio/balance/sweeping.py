"""The same games played with a card as it is and as it might be: a number swept, the cost that makes it fair, an edit before and after."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Any

from dramok.core.balance.swept import Fair, SweepPoint, fair_value, swept
from dramok.core.cards import Card
from dramok.core.decks.dealing import deck_kind
from dramok.core.engine import looked_at
from dramok.outside.games.process import Spares
from dramok.studio.balance import orders
from dramok.studio.balance.orders import Playing, Running, refused
from dramok.studio.snapshot import GameSnapshot

MOST_VALUES = 41


@dataclass(frozen=True)
class SweepAsked:
    """`field` of a card (ids) from one value to another, in so many games for each."""

    card: str
    field: str
    start: int
    end: int
    playing: Playing


@dataclass(frozen=True)
class Swept:
    """`now` is the value that the card has; `fair` the value at which the side with the card wins as often as one with an average card
    instead, None where none of them does it."""

    points: tuple[SweepPoint, ...]
    now: int
    fair: Fair | None


@dataclass(frozen=True)
class EditMeasured:
    """`more`: points of win rate that a card as it is now has more than before, of the side that holds it, by the same games, with a 95 %
    interval; `rate`: in percent, now. `same`: the edit changes nothing that is played, so that no game was."""

    card: str
    more: float
    low: float
    high: float
    rate: float
    games: int
    same: bool = False


Say = Callable[[int, int], None]


def sweep(game: GameSnapshot, asked: SweepAsked, spares: Spares | None = None, say: Say = lambda done, of: None, running: Running | None = None) -> Swept:
    """The win rate of the side with the card, value by value on the same shuffles. Raises Refused; also where the engine never reads the
    field of this card, so that nothing could change."""
    order, ids = _order(game, asked.card, asked.playing)
    card = game.cards[asked.card]
    field = game.rulebook.cards.field(asked.field)
    if field is None or field.kind != "number" or not game.rulebook.cards.has_field(card.type, asked.field):
        raise refused("field", f"{game.title(card)} has no number {asked.field[:40]}", "name one of its number fields")
    now = int(card.number(asked.field) or 0)
    values = sorted({*range(asked.start, asked.end + 1), now}) if asked.end - asked.start < MOST_VALUES else []
    if asked.start > asked.end or not values or len(values) > MOST_VALUES:
        raise refused("range", f"from {asked.start} to {asked.end} is no range that can be swept", f"ask for up to {MOST_VALUES - 1} values")
    made = [orders.program_of(game, ids, card.with_value(asked.field, value)) for value in values]
    if asked.field not in looked_at(game.rulebook, made[0].cards) or all(each.numbers == made[0].numbers for each in made):
        raise refused(field.name, f"the engine never reads {field.name.lower()} of {game.title(card)}: nothing would change", "sweep another field")
    won = _won({**order, **orders.programs(made, ids)}, len(values), asked.playing.games, spares, say, running)
    points = swept(values, won, values.index(now))
    return Swept(points, now, fair_value(points, now))


def measure_edit(before: GameSnapshot, after: GameSnapshot, card: str, playing: Playing, spares: Spares | None = None, running: Running | None = None) -> EditMeasured:
    """What an edit does to the win rate of the side that holds a card, with the game before and after it on the same shuffles. Raises Refused."""
    if card not in before.cards or card not in after.cards:
        raise refused("card", "it was not there before: there is nothing to hold it against", "measure the set")
    order, ids = _order(after, card, playing)
    there = [ident for ident in ids if ident in before.cards]
    if len(there) < len(ids):
        raise refused("edit", "cards came with it that were not there before", "measure the set")
    made = [orders.program_of(before, ids), orders.program_of(after, ids)]
    if made[0].numbers == made[1].numbers:
        return EditMeasured(card, 0.0, 0.0, 0.0, 0.0, 0, same=True)
    won = _won({**order, **orders.programs(made, ids)}, 2, playing.games, spares, lambda done, of: None, running)
    point = swept((0, 1), won, 0)[1]
    return EditMeasured(card, point.more, point.more_low, point.more_high, point.rate, playing.games)


def what_if(game: GameSnapshot, card: Card, playing: Playing, spares: Spares | None = None, running: Running | None = None) -> EditMeasured:
    """An unsaved edit held against the saved card of its id."""
    from dataclasses import replace

    return measure_edit(game, replace(game, cards={**game.cards, card.id: card}), card.id, playing, spares, running)


def _order(game: GameSnapshot, card: str, playing: Playing) -> tuple[dict[str, Any], list[str]]:
    order = orders.base(game, "sweep", playing)
    cards = orders.pool(game)
    ids = [each.id for each in cards]
    if card not in ids:
        raise refused("card", "it may be in no deck, so that no game would have it", "allow it under Deck rules")
    kind = deck_kind(cards, game.rulebook, game.formats[0])
    if kind is None:
        raise refused(game.formats[0].name, "decks by these rules can't be dealt by the thousand", "measure, or play by simpler deck rules")
    return {**order, "kind": orders.plain_kind(kind), "holding": ids.index(card)}, ids


def _won(order: dict[str, Any], programs: int, games: int, spares: Spares | None, say: Say, running: Running | None) -> Sequence[Sequence[float]]:
    """For each program, game by game, whether the side with the card won. `running` gets what can be ended from elsewhere."""
    won: list[list[float]] = [[] for _ in range(programs)]
    for line in orders.lines_of(order, games, spares, running):
        won[line["program"]] += line["won"]
        say(sum(map(len, won)), programs * games)
    return won
