"""The choice of cards and copies shared by print runs, table sheets and card pictures."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

from pydantic import Field

from dramok.core.cards import Card
from dramok.core.decks import Deck
from dramok.core.output import NoSuchCards, choose
from dramok.core.problem import Frozen, Problem, fold, plural
from dramok.core.rulebook.starting_cards import box_cards
from dramok.services.cards.card_detail import detail_of, paper_of
from dramok.services.decks.edits import deck_named
from dramok.services.files.exports import found_cards
from dramok.services.workspace.small_entities import thing_of
from dramok.services.workspace.snapshot import GameSnapshot
from dramok.services.workspace.workspace import Missing, Refused, Workspace

MOST_COPIES = 10_000


class CardChoice(Frozen):
    """A choice of cards: those of a deck, a set and a print run that match a query; of these, the ones named in
    `cards` (see `choose`; positions count the game's cards by code).

    `only`: stale: printed faces that changed since; unprinted: never printed; wanting: both; none: no card.
    `copies`: a fixed number for each card; None for the count in the deck, else the out-of-date copies, else
    the card's own count, else one. `copies_from`: box: as often as a match with the largest number of seats needs the card.
    """

    deck: str = Field(default="", max_length=200)
    set: str = Field(default="", max_length=200)
    run: str = Field(default="", max_length=80)
    query: str = Field(default="", max_length=2_000)
    cards: str = Field(default="", max_length=4_000)
    only: Literal["all", "stale", "unprinted", "wanting", "none"] = "all"
    copies: int | None = Field(default=None, ge=0, le=MOST_COPIES)
    copies_from: Literal["deck", "card", "box"] = "deck"


@dataclass(frozen=True)
class CardCopies:
    """The chosen cards by code with their copies, all above 0; `deck` is the chosen deck.

    `notes` explain what is left out.
    """

    cards: tuple[tuple[Card, int], ...]
    deck: Deck | None
    notes: tuple[str, ...]

    @property
    def copies(self) -> int:
        return sum(count for _, count in self.cards)


Resolved = Sequence[Sequence[tuple[str, int]]]
"""The cards and copies of each choice of an order, if already resolved."""


def resolved(workspace: Workspace, game: GameSnapshot, choice: CardChoice) -> list[tuple[str, int]]:
    """Resolve a choice to copies by card id; empty for a choice of no card."""
    if choice.only == "none":
        return []
    return [(card.id, count) for card, count in wanted(workspace, game, choice).cards]


def wanted(
    workspace: Workspace,
    game: GameSnapshot,
    choice: CardChoice,
    known: Sequence[tuple[str, int]] | None = None,
    most: int = MOST_COPIES,
) -> CardCopies:
    """The cards of a choice; with `known`, those of them that still exist.

    Raises Refused if no card is chosen or there are more than `most` copies; Missing for an unknown deck, set
    or print run.
    """
    deck = deck_named(game, choice.deck) if choice.deck else None
    if known is not None:
        return _still_there(game, known, deck)
    cards = list(_named(workspace, game, choice))
    if deck is not None:
        cards = [card for card in cards if card.id in deck.holds]
    if choice.set:
        home = _set_named(game, choice.set)
        cards = [card for card in cards if card.set == home]
    if choice.run:
        faces: Mapping[str, object] = thing_of(game, "run", choice.run).doc["faces"]
        cards = [card for card in cards if card.id in faces]
    if choice.only != "all":
        cards = [card for card in cards if _is_wanted(game, card, choice.only)]
    box = box_cards(game.rulebook, list(game.cards.values())) if choice.copies_from == "box" and choice.copies is None else None
    if box is not None and not box:
        raise Refused(Problem(where="copies", what="the rules put no card on the table and give nobody a starting deck", mend="choose a deck, or the copies that each card says"))
    counted = [(card, _copies(game, choice, card, deck) if box is None else box.get(card.id, 0)) for card in cards]
    held = tuple((card, count) for card, count in counted if count > 0)
    found = CardCopies(held, deck, tuple(_notes(counted, choice)))
    if not held or found.copies > most:
        raise Refused(_why(found, choice, most, bool(cards)))
    return found


def _still_there(game: GameSnapshot, known: Sequence[tuple[str, int]], deck: Deck | None) -> CardCopies:
    held = tuple((game.cards[ident], count) for ident, count in known if ident in game.cards)
    gone = len(known) - len(held)
    if not held:
        raise Refused(Problem(where="cards", what="the cards were removed meanwhile", mend="choose again"))
    notes = (f"{plural(gone, 'card')} removed from the game meanwhile: not made",) if gone else ()
    return CardCopies(held, deck, notes)


def _named(workspace: Workspace, game: GameSnapshot, choice: CardChoice) -> Iterator[Card]:
    cards: Sequence[Card] = tuple(game.cards.values())
    try:
        places = choose(choice.cards, [card.code for card in cards])
    except NoSuchCards as error:
        raise Refused(error.problem) from error
    among = None
    if choice.query.strip():
        among = {card.id for card in found_cards(workspace, game, choice.query)}
    for place in places:
        if among is None or cards[place].id in among:
            yield cards[place]


def _set_named(game: GameSnapshot, said: str) -> str:
    found = next((each for each in game.sets if said == each.id or fold(said) == fold(each.name)), None)
    if found is None:
        raise Missing(f"{game.name} has no set {said[:60]}")
    return found.id


def _is_wanted(game: GameSnapshot, card: Card, only: str) -> bool:
    if only == "none":
        return False
    if card.id not in game.printed:
        return only in ("unprinted", "wanting")
    return only != "unprinted" and paper_of(game, detail_of(game, card)) == "stale"


def _copies(game: GameSnapshot, choice: CardChoice, card: Card, deck: Deck | None) -> int:
    if choice.copies is not None:
        return choice.copies
    if deck is not None and choice.copies_from == "deck":
        return deck.copies(card.id)
    if choice.only in ("stale", "wanting") and card.id in game.printed:
        return game.printed[card.id].copies
    own = card.number(game.rulebook.roles.copies)
    return 1 if own is None else max(0, own)


def _notes(counted: Sequence[tuple[Card, int]], choice: CardChoice) -> Iterator[str]:
    none = [card.code for card, count in counted if count == 0]
    if none and choice.copies != 0 and len(none) < len(counted):
        more = f" and {len(none) - 6} more" if len(none) > 6 else ""
        yield f"{plural(len(none), 'card')} with 0 copies left out: {', '.join(none[:6])}{more}"


def _why(found: CardCopies, choice: CardChoice, most: int, some: bool) -> Problem:
    if found.cards:
        return Problem(
            where="copies",
            what=f"{found.copies:,} copies are too many at once",
            mend=f"make at most {most:,}: fewer copies, or fewer cards",
        )
    if some:
        return Problem(where="copies", what="0 copies of every card", mend="ask for at least 1 copy")
    what, mend = {
        "stale": ("nothing on paper is out of date", "every card that was printed is as it is now"),
        "unprinted": ("every card has been printed", "choose all cards, or what is out of date"),
        "wanting": ("nothing is out of date, and every card has been printed", "choose all cards"),
    }.get(choice.only, ("no card is chosen", "choose another deck, set, query or other cards"))
    return Problem(where="cards", what=what, mend=mend)
