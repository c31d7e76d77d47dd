"""Odds of drawing for a deck, with groups defined by queries; computed by `core.odds`."""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Literal

from dramok.core.decks import Deck
from dramok.core.odds import (
    Atoms,
    BadOdds,
    ChosenCards,
    Condition,
    CycleTurn,
    Draws,
    Event,
    Redraw,
    TooMuch,
    WholeHand,
    Work,
    atoms_from,
    chances,
    copies_needed,
    cycle_odds,
    in_games,
    in_group,
    keeps,
    one_more,
    payable,
    percent,
    said,
)
from dramok.core.odds.draws import Returned
from dramok.core.odds.groups import How, Join
from dramok.core.problem import Problem, plural
from dramok.core.rulebook.income import OpeningTurn, Uncountable, opening_turns
from dramok.services.cards.card_detail import detail_of
from dramok.services.cards.search import find
from dramok.services.workspace.snapshot import GameSnapshot
from dramok.services.workspace.workspace import Refused, Workspace

MOST_TURNS_ASKED = 30
MOST_STEPS = 24_000_000
"""The step limit for one request, all groups together."""


@dataclass(frozen=True)
class GroupAsked:
    """A group: the cards that match a query, or one `card` by its id, and the number of them wanted.

    `name` is empty if the query is the name.
    """

    query: str = ""
    card: str = ""
    how: How = "at least"
    count: int = 1
    name: str = ""


@dataclass(frozen=True)
class RedrawAsked:
    """A redraw rule.

    `whole`: a hand that does not meet `keep` is replaced; `chosen`: all cards except those of group `kept` are
    replaced. Groups are numbered from 0.
    """

    kind: Literal["whole", "chosen"] = "whole"
    returned: Returned = "before"
    keep: tuple[Condition, ...] = ()
    join: Join = "all"
    kept: int = 0


@dataclass(frozen=True)
class OddsAsked:
    """A request for odds. `hand`, `each` and `first_draw` default (None) to the rules of play: the draws of the
    seat that goes first, or (`second`) of a later one.

    `by` and `wanted` request the number of copies for that chance by that turn. `reshuffle`: each turn draws a
    new hand, and played cards are shuffled in again. `source` is a group whose cards each give `gives` more of
    the paying resource.
    """

    groups: tuple[GroupAsked, ...]
    join: Join = "all"
    turns: int = 10
    hand: int | None = None
    each: int | None = None
    first_draw: bool | None = None
    extra: Mapping[int, int] = field(default_factory=dict)
    redraw: RedrawAsked | None = None
    reshuffle: bool = False
    by: int = 4
    wanted: float = 0.8
    source: int | None = None
    gives: int = 1
    second: bool = False


@dataclass(frozen=True)
class GroupOdds:
    """The odds of one group. `curve`: the chance by each turn, from the opening hand (0) on; with a reshuffle,
    from the first hand (1) on, as in `cycles`.

    `needed`: the copies for the wanted chance, None if no count reaches it or (`counted` False) counting would
    take too long. `more`: the gain by turn `by` from one more copy in place of a card of no group; None if
    there is none to replace. `pays`: the chance by turn that a card of the group is seen and can be paid for;
    None if costs differ or are missing.
    """

    name: str
    copies: int
    cards: tuple[str, ...]
    curve: tuple[float, ...]
    said: str
    needed: int | None = None
    counted: bool = True
    more: float | None = None
    pays: tuple[float, ...] | None = None
    cycles: tuple[CycleTurn, ...] = ()


@dataclass(frozen=True)
class OddsResult:
    """The answer to a request for odds.

    `seen`: cards seen by each turn, from 0. `together`: all or any of the groups, if there are several.
    `keeps`: the chance to keep an opening hand.
    """

    size: int
    seen: tuple[int, ...]
    groups: tuple[GroupOdds, ...]
    together: tuple[float, ...] | None
    together_said: str
    keeps: float | None
    draws: Draws


def compute_odds(workspace: Workspace, game: GameSnapshot, deck: Deck, asked: OddsAsked) -> OddsResult:
    """Compute the odds of a deck's main section. Raises Refused with the group or number that is invalid."""
    try:
        return DeckOdds(workspace, game, deck, asked).look()
    except BadOdds as error:
        raise Refused(Problem(where=error.where, what=error.what, mend=error.mend)) from error


def opening_of(game: GameSnapshot, asked: OddsAsked) -> tuple[OpeningTurn, ...]:
    """The income of the seat in the requested turns by the rules; None if it can't be computed or there is no
    such seat.
    """
    seat = 1 if asked.second and game.rulebook.played.seats > 1 else 0
    try:
        return opening_turns(game.rulebook, max(1, asked.turns, asked.by), seat)
    except Uncountable:
        return ()


def draws_of(game: GameSnapshot, asked: OddsAsked, opening: Sequence[OpeningTurn] = ()) -> Draws:
    """The draws turn by turn: as requested, else by the phases, else by the table settings."""
    table = game.rulebook.table
    hand = table.opening_hand if asked.hand is None else asked.hand
    opening = opening or opening_of(game, asked)
    if asked.reshuffle or asked.each is not None or not opening:
        each = table.turn_draw if asked.each is None else asked.each
        draws = bool(opening and opening[0].drawn) if asked.first_draw is None else asked.first_draw
        return Draws(hand, each, draws, dict(asked.extra))
    by_turn = [turn.drawn - before for turn, before in zip(opening, (0, *(turn.drawn for turn in opening)), strict=False)]
    if asked.first_draw is not None:
        by_turn[0] = max(by_turn[0], *by_turn[1:2], 1) if asked.first_draw else 0
    # The usual draw, and the extra draws of single turns.
    usual = min(by_turn[1:], default=by_turn[0])
    first = by_turn[0] >= usual
    more = {turn: number - usual for turn, number in enumerate(by_turn, 1) if number > usual}
    for turn, number in asked.extra.items():
        more[turn] = more.get(turn, 0) + number
    return Draws(hand, usual, first, more if first or not by_turn[0] else {**more, 1: more.get(1, 0) + by_turn[0]})


class DeckOdds:
    """A deck prepared for a request: `members` are the card ids of each group. Raises BadOdds, Refused."""

    def __init__(self, workspace: Workspace, game: GameSnapshot, deck: Deck, asked: OddsAsked) -> None:
        if not asked.groups:
            raise BadOdds("group", "nothing is asked for", "name a card or write a query")
        if not 0 <= asked.turns <= MOST_TURNS_ASKED:
            raise BadOdds("turns", f"{asked.turns}", f"write 0 to {MOST_TURNS_ASKED}")
        if not 0 <= asked.by <= MOST_TURNS_ASKED:
            raise BadOdds("turn", f"{asked.by}", f"write 0 to {MOST_TURNS_ASKED}")
        self.game, self.deck, self.asked = game, deck, asked
        self.counts = {card: count for card, count in deck.cards.items() if card in game.cards}
        self.members = [self._members(workspace, place, each) for place, each in enumerate(asked.groups)]
        self.atoms: Atoms = atoms_from(self.counts, self.members)
        self.opening = opening_of(game, asked)
        self.draws = draws_of(game, asked, self.opening)
        self.turns = range(asked.turns + 1)
        self.names = tuple(self._name(each) for each in asked.groups)
        self.wanted = [self._condition(place, each.how, each.count) for place, each in enumerate(asked.groups)]  # fmt: skip
        self.redraw = self._redraw()
        self.work = Work(MOST_STEPS)
        if asked.source is not None:
            self._condition(asked.source, "at least", 1)

    def _members(self, workspace: Workspace, place: int, asked: GroupAsked) -> frozenset[str]:
        if asked.card:
            if asked.card not in self.game.cards:
                raise BadOdds(f"group {place + 1}", "this card is gone from the game", "choose another")
            return frozenset({asked.card})
        found = find(workspace, self.game, asked.query)
        if found.waiting:
            # Queries can test verdicts: compute those of the deck's cards first.
            for card in self.counts:
                detail_of(self.game, self.game.cards[card])
            found = find(workspace, self.game, asked.query)
        if found.problem is not None:
            raise Refused(found.problem.model_copy(update={"where": f"group {place + 1}: {found.problem.where}"}))  # fmt: skip
        return frozenset(card.id for card in found.cards if card.id in self.counts)

    def _name(self, asked: GroupAsked) -> str:
        if asked.name:
            return asked.name[:80]
        if asked.card:
            return self.game.title(self.game.cards[asked.card])
        return asked.query.strip()[:80] or "any card"

    def _condition(self, group: int, how: How, count: int) -> Condition:
        if not 0 <= group < len(self.members):
            raise BadOdds("group", f"there is no group {group + 1}", "name one of the groups")
        if not 0 <= count <= 1_000:
            raise BadOdds(f"group {group + 1}", f"{count:,} cards", "write 0 to 1,000")
        return Condition(group, how, count)

    def _redraw(self) -> Redraw:
        asked = self.asked.redraw
        if asked is None:
            return None
        if asked.kind == "chosen":
            self._condition(asked.kept, "at least", 1)
            return ChosenCards(asked.kept, asked.returned)
        keep = tuple(self._condition(each.group, each.how, each.count) for each in asked.keep)
        return WholeHand(Event(keep or (Condition(0),), asked.join), asked.returned)

    def look(self) -> OddsResult:
        groups = tuple(self._group(place) for place in range(len(self.members)))
        together, told = None, ""
        if len(groups) > 1:
            event = Event(tuple(self.wanted), self.asked.join)
            together = self._curve(event)[0]
            told = self._said(event, together)
        seen = tuple(min(self.size, self.draws.seen(turn)) for turn in self.turns)
        return OddsResult(self.size, seen, groups, together, told, self.keeps, self.draws)

    def _curve(self, event: Event) -> tuple[tuple[float, ...], tuple[CycleTurn, ...]]:
        """The chance by each turn from 0 on; with a reshuffle, of one hand until then and of each hand.

        With a reshuffle turn 1 draws the first hand, and turn 0 none.
        """
        if self.asked.reshuffle:
            cycles = tuple(cycle_odds(self.atoms, event, self.draws, self.asked.turns, self.work))
            return (0.0, *(each.by for each in cycles)), cycles
        return tuple(chances(self.atoms, event, self.draws, self.turns, self.redraw, self.work)), ()

    @property
    def size(self) -> int:
        return sum(self.counts.values())

    @property
    def keeps(self) -> float | None:
        """The chance to keep an opening hand; None without a whole-hand redraw."""
        if not isinstance(self.redraw, WholeHand):
            return None
        return keeps(self.atoms, self.redraw.keep, min(self.draws.hand, self.size), self.work)

    def _group(self, place: int) -> GroupOdds:
        asked, event = self.asked, Event((self.wanted[place],))
        name, copies = self.names[place], in_group(self.atoms, place)
        cards = tuple(sorted(self.members[place], key=lambda card: self.game.cards[card].code))
        curve, cycles = self._curve(event)
        told = self._said(event, curve)
        if asked.reshuffle:
            return GroupOdds(name, copies, cards, curve, told, cycles=cycles)
        more = one_more(self.atoms, event, self.draws, [asked.by], self.redraw, place, self.work)
        here = chances(self.atoms, event, self.draws, [asked.by], self.redraw, self.work)[0]
        return GroupOdds(
            name, copies, cards, curve, told, *self._needed(place, event), None if more is None else more[0] - here, self._pays(place),
        )  # fmt: skip

    def _needed(self, place: int, event: Event) -> tuple[int | None, bool]:
        """The copies needed, and whether they could be computed: each count repeats the computation, which is
        too slow for long requests.
        """
        try:
            return copies_needed(self.atoms, event, self.draws, self.asked.by, self.asked.wanted, self.redraw, place), True  # fmt: skip
        except TooMuch:
            return None, False

    def _pays(self, place: int) -> tuple[float, ...] | None:
        """The chances when turns are played: including the resource available when a card of the group can be
        played.
        """
        rules = self.game.rulebook
        costs = {rules.cards.seen(self.game.cards[card]).number(rules.roles.cost) for card in self.members[place]}
        if rules.table.pays is None or len(costs) != 1:
            return None
        cost, source = costs.pop(), self.asked.source
        if cost is None or not self.opening:
            return None
        types = {frozenset(each.id for each in rules.cards.types if rules.cards.is_a(self.game.cards[card].type, each.id)) for card in self.members[place]}
        times = [self._time(turn, types) for turn in range(1, self.asked.turns + 1)]
        found = payable(self.atoms, cost, self.draws.hand, times, self.redraw, place, source, self.asked.gives, self.work)
        return (0.0, *found)

    def _time(self, turn: int, types: Collection[frozenset[str]]) -> tuple[int, Mapping[int, float]] | None:
        """The number of cards drawn when cards of these types can be played in a turn, and the resources available."""
        play = self.opening[turn - 1].play_of(types)
        if play is None:
            return None
        seen = self.draws.later(turn)
        if self.asked.each is None and self.asked.first_draw is None:
            # Draws that come later in the same turn do not count yet.
            seen -= self.opening[turn - 1].drawn - play.drawn
        return seen, play.amounts

    def _said(self, event: Event, curve: tuple[float, ...]) -> str:
        turn = min(self.asked.by, len(curve) - 1)
        when = "In the opening hand" if turn == 0 else f"By turn {turn}"
        if self.asked.reshuffle:
            turn = min(max(1, turn), len(curve) - 1)
            when = "In the first hand" if turn == 1 else f"In one hand by turn {turn}"
        chance = curve[turn]
        return f"{when}, {said(event, self.names)}: {percent(chance)}, {in_games(chance)}"


@dataclass(frozen=True)
class CardInDecks:
    """A card in the main section of a deck, and its chance of having been seen by each turn from 0 on."""

    deck: str
    name: str
    copies: int
    size: int
    curve: tuple[float, ...]
    said: str


def card_in_decks(game: GameSnapshot, card: str, turn: int = 3, turns: int = 8) -> list[CardInDecks]:
    """The odds of a card in every deck that holds it, such as `in this deck by turn 3: 61 %`."""
    found = []
    for deck in game.decks.values():
        copies = deck.cards.get(card, 0)
        counts = {ident: count for ident, count in deck.cards.items() if ident in game.cards}
        if not copies or not counts or sum(counts.values()) > 1_000:
            continue
        atoms = atoms_from(counts, [frozenset({card})])
        draws = draws_of(game, OddsAsked(()))
        curve = tuple(chances(atoms, Event((Condition(0),)), draws, range(turns + 1)))
        told = f"{plural(copies, 'copy', 'copies')} of {deck.size}; by turn {turn}: {percent(curve[turn])}"
        found.append(CardInDecks(deck.id, deck.name, copies, deck.size, curve, told))
    return found
