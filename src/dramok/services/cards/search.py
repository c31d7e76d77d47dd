"""Search for cards by query, in an order, or grouped on a wall."""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass

from dramok.core.cards import Card, Value, shown_value
from dramok.core.cards.making.find_replace import Replacement, replacements
from dramok.core.cards.query.completion import Offer, offers
from dramok.core.cards.query.ordering import Read, SortBy, sorted_cards
from dramok.core.cards.query.query import Part, Query, read_query
from dramok.core.cards.query.query_source import Standing
from dramok.core.cards.query.wall import NoGroups, Wall, groupable, wall
from dramok.core.cards.schema.lexer import Unreadable
from dramok.core.effects.vocabulary import CARD
from dramok.core.problem import Problem
from dramok.core.wording import printed_text
from dramok.services.cards.card_detail import DETAILS, state_on_paper
from dramok.services.workspace.past import changed_cards
from dramok.services.workspace.rename_references import names_of
from dramok.services.workspace.small_entities import thing_of
from dramok.services.workspace.snapshot import GameSnapshot, printings_since
from dramok.services.workspace.workspace import Refused, Workspace
from dramok.store import Said


@dataclass(frozen=True)
class Found:
    """The result of a search. `cards` are in order; `waiting` is the number of cards not judged yet; `parts`
    are the query's conditions.

    With a `problem` the query could not be parsed and every card is listed.
    """

    cards: tuple[Card, ...]
    waiting: int = 0
    parts: tuple[Part, ...] = ()
    problem: Problem | None = None


class GameFacts:
    """Data source for query evaluation; implements `query_source.Facts`.

    It reads cached details only: a query computes none.
    """

    def __init__(self, workspace: Workspace, game: GameSnapshot) -> None:
        self.workspace, self.game = workspace, game
        self.index = game.index

    @property
    def cards(self) -> Sequence[Card]:
        return self.index.cards

    def column(self, field: str) -> Sequence[Value | None]:
        return self.index.column(field)

    def folded(self, field: str) -> Sequence[tuple[str, ...]]:
        return self.index.folded(field)

    def standings(self) -> Sequence[Standing | None]:
        return DETAILS.standings(self.game)

    def holding(self, text: str) -> Collection[int]:
        game = self.game
        found = self.workspace.texts(game.id).holding(
            text,
            game.cards,
            game.rules_digest,
            lambda card: text_of(game, card),
            lambda ident: game.vocabulary.name(CARD, ident),
        )
        return self.index.rows(found)

    def in_deck(self, deck: str) -> Collection[int]:
        found = self.game.decks.get(deck)
        return self.index.rows(found.holds) if found else ()

    def noted(self, states: Collection[str]) -> Collection[int]:
        notes = self.game.of_kind("note")
        return self.index.rows(note.doc["card"] for note in notes if note.doc["state"] in states or "pinned" in states and note.doc.get("playtest"))

    def changed_since(self, mark: str) -> Collection[int]:
        seq = int(thing_of(self.game, "mark", mark).doc["seq"])
        return self.index.rows(changed_cards(self.workspace, self.game, seq))

    def printed(self, run: str | None) -> Collection[int]:
        return self.index.rows(
            self.game.printed if run is None else thing_of(self.game, "run", run).doc["faces"]
        )

    def on_paper(self, run: str | None) -> Mapping[int, str]:
        game, place = self.game, self.index.place
        found = {}
        for card, printing in (game.printed if run is None else printings_since(game, run)).items():
            sheet = DETAILS.known(game, game.cards[card]) if card in place else None
            if sheet is not None:
                found[place[card]] = state_on_paper(printing, sheet)
        return found

    def reader(self, ident: str) -> Read:
        """The function that reads a field's value from a card for sorting."""
        if ident != "verdict":
            return lambda card: self.index.value(card, ident)
        place, standings = self.index.place, self.standings()
        return lambda card: float(each.difference) if (each := standings[place[card.id]]) else None


def text_of(game: GameSnapshot, card: Card) -> Said:
    """All searchable text of a card."""
    schema = game.rulebook.cards
    said = [card.code, schema.type(card.type).name]
    said += [
        shown_value(each, card.values.get(each.id), schema, game.vocabulary)
        for each in schema.fields_of(card.type)
        if each.searched
    ]
    said += printed_text(card, game.rulebook, game.vocabulary).lines
    return Said("\n".join(said), game.names_in(card))


def find(workspace: Workspace, game: GameSnapshot, query: str, sort: Sequence[SortBy] = ()) -> Found:
    """The cards that match a query, sorted."""
    facts = GameFacts(workspace, game)
    try:
        read = read_query(query, names_of(game)) if query.strip() else Query((), lambda _: set(), False)
    except Unreadable as error:
        return Found(_sorted(list(game.cards.values()), sort, game, facts), problem=error.problem)
    cards, waiting = read.answer(facts) if read.parts else (list(game.cards.values()), 0)
    return Found(_sorted(cards, sort, game, facts), waiting, read.parts)


def _sorted(
    cards: list[Card], sort: Sequence[SortBy], game: GameSnapshot, facts: GameFacts
) -> tuple[Card, ...]:
    return tuple(sorted_cards(cards, sort, game.rulebook.cards, facts.reader) if sort else cards)


def found_to_replace(
    workspace: Workspace,
    game: GameSnapshot,
    query: str,
    wanted: str,
    instead: str,
    field: str | None,
    same_case: bool,
    whole_words: bool,
) -> list[Replacement]:
    """What a find and replace would change in the cards that match a query. Writes nothing."""
    return replacements(
        find(workspace, game, query).cards, game.rulebook.cards, game.vocabulary, wanted[:500], instead[:500],
        field=field, same_case=same_case, whole_words=whole_words,
    )  # fmt: skip


def query_offers(game: GameSnapshot, query: str, caret: int) -> list[Offer]:
    """Completions for a query."""
    return offers(query[:2_000], min(caret, 2_000), names_of(game))


def wall_of(workspace: Workspace, game: GameSnapshot, across: str, down: str, query: str) -> tuple[Wall, Found]:
    """The matching cards grouped by two fields. Raises Refused for a field that can't be grouped."""
    found = find(workspace, game, query)
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
