"""Cards found by a query, in an order, or grouped on a wall."""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass, field

from dramok.core.cards import Card, Value, shown_value
from dramok.core.cards.formula import derived_values
from dramok.core.cards.offers import Offer, offers
from dramok.core.cards.ordering import Read, SortBy, reader, sorted_cards
from dramok.core.cards.query import Names, Part, Query, Standing, read_query
from dramok.core.cards.tokens import Unreadable
from dramok.core.cards.wall import NoGroups, Wall, groupable, wall
from dramok.core.problem import Problem
from dramok.core.wording import printed_text
from dramok.studio.desk import Desk, Refused
from dramok.studio.sheets import SHEETS, CardSheet
from dramok.studio.snapshot import GameSnapshot


@dataclass(frozen=True)
class Found:
    """`cards` in their order; `waiting` could not be asked yet, being not judged; `parts` are the query's conditions.

    With a `problem` the query could not be read: then every card is there.
    """

    cards: tuple[Card, ...]
    waiting: int = 0
    parts: tuple[Part, ...] = ()
    problem: Problem | None = None


def standing(sheet: CardSheet) -> Standing:
    """What a query may ask of a judged card."""
    ledger = sheet.ledger
    return Standing(
        ledger.judgement, ledger.difference, sheet.fits, sheet.printed.behaviour_written, sheet.unfinished
    )


@dataclass
class GameFacts:
    """Implements `query.Facts`. Asks only for sheets that are there already: none is made while a query runs."""

    desk: Desk
    game: GameSnapshot
    _derived: dict[str, Mapping[str, Value]] = field(default_factory=dict)

    def standing(self, card: Card) -> Standing | None:
        sheet = SHEETS.known(self.game, card)
        return standing(sheet) if sheet else None

    def holding(self, text: str) -> Collection[str]:
        game = self.game
        return self.desk.texts(game.id).holding(
            text, game.cards, game.rules_digest, lambda card: text_of(game, card)
        )

    def in_deck(self, deck: str) -> Collection[str]:
        found = self.game.decks.get(deck)
        return found.cards.keys() if found else ()

    def derived(self, card: Card) -> Mapping[str, Value]:
        known = self._derived.get(card.id)
        if known is None:
            known = self._derived[card.id] = derived_values(card, self.game.rulebook.cards)[0]
        return known

    def reader(self, ident: str) -> Read:
        if ident == "verdict":
            return lambda card: float(found.difference) if (found := self.standing(card)) else None
        return reader(self.game.rulebook.cards, ident, self.derived)


def text_of(game: GameSnapshot, card: Card) -> str:
    """Everything on a card that somebody may look for by its words."""
    schema = game.rulebook.cards
    said = [card.code, schema.type(card.type).name]
    said += [
        shown_value(each, card.values.get(each.id), schema, game.vocabulary)
        for each in schema.fields_of(card.type)
        if each.kind != "picture"
    ]
    return "\n".join([*said, *printed_text(card, game.rulebook, game.vocabulary).lines])


def names_of(game: GameSnapshot) -> Names:
    return Names(
        game.rulebook.cards, {deck.id: deck.name for deck in game.decks.values()}, {each.id: each.name for each in game.sets}, game.rulebook.roles.name
    )  # fmt: skip


def find(desk: Desk, game: GameSnapshot, query: str, sort: Sequence[SortBy] = ()) -> Found:
    """The cards that answer to a query, sorted."""
    facts = GameFacts(desk, game)
    try:
        read = (
            read_query(query, names_of(game)) if query.strip() else Query((), lambda _: lambda _: True, False)
        )
    except Unreadable as error:
        return Found(_sorted(list(game.cards.values()), sort, game, facts), problem=error.problem)
    cards, waiting = read.answer(game.cards.values(), facts) if read.parts else (list(game.cards.values()), 0)
    return Found(_sorted(cards, sort, game, facts), waiting, read.parts)


def _sorted(
    cards: list[Card], sort: Sequence[SortBy], game: GameSnapshot, facts: GameFacts
) -> tuple[Card, ...]:
    return tuple(sorted_cards(cards, sort, game.rulebook.cards, facts.reader) if sort else cards)


def query_offers(game: GameSnapshot, query: str, caret: int) -> list[Offer]:
    """What can be typed next into a query."""
    return offers(query[:2_000], min(caret, 2_000), names_of(game))


def wall_of(desk: Desk, game: GameSnapshot, across: str, down: str, query: str) -> tuple[Wall, Found]:
    """The found cards grouped by two fields. Raises Refused for a field that has no groups."""
    found = find(desk, game, query)
    try:
        return wall(found.cards, game.rulebook.cards, across, down), found
    except NoGroups as error:
        names = [
            each.name if (each := game.rulebook.cards.field(ident)) else ident
            for ident in groupable(game.rulebook.cards)
        ]
        raise Refused(
            Problem(
                where=str(error)[:60],
                what="cards can't be grouped by this",
                mend=f"choose one of {', '.join(names)}",
            )
        ) from error
