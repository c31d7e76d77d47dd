"""The cards on the table at the start of a match: by name, or every card that matches a group."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence

from dramok.core.cards import Card
from dramok.core.effects.model import ChoiceIs, Filter, Group, HasTag, Not, StatCompare
from dramok.core.problem import fold
from dramok.core.rulebook.play_rules import StartingCards
from dramok.core.rulebook.rulebook import Rulebook


def matches(rulebook: Rulebook, card: Card, group: Group) -> bool:
    """Whether a card matches a group as printed: by type, choice, tag and number. Other filters match no card."""
    if group.type is not None and not rulebook.cards.is_a(card.type, group.type):
        return False
    return all(_passes(rulebook, card, each) for each in group.filters)


def _passes(rulebook: Rulebook, card: Card, each: Filter) -> bool:
    match each:
        case Not():
            return not _passes(rulebook, card, each.filter)
        case HasTag():
            return fold(each.tag) in {fold(tag) for tag in card.tags(rulebook.roles.tags)}
        case ChoiceIs():
            return card.text(each.field) == each.value
        case StatCompare():
            number = card.number(each.field)
            return number is not None and {"is": number == each.number, "above": number > each.number, "under": number < each.number}[each.compare]
    return False


def copies_of(rulebook: Rulebook, card: Card) -> int:
    """How often a card is in the box: its number of copies; 1 without one."""
    number = card.number(rulebook.roles.copies) if rulebook.roles.copies else None
    return 1 if number is None else max(0, number)


def placed_cards(rulebook: Rulebook, cards: Iterable[Card], placed: StartingCards) -> dict[str, int]:
    """The cards (by id) that a rule puts into its zone, with their number. Unknown cards are left out."""
    return _with_group(rulebook, list(cards), placed.cards, placed.group)


def _with_group(rulebook: Rulebook, cards: Sequence[Card], counts: Mapping[str, int], group: Group | None) -> dict[str, int]:
    found = counted(cards, counts)
    if group is not None:
        for card in cards:
            if card.id not in found and (copies := copies_of(rulebook, card)) and matches(rulebook, card, group):
                found[card.id] = copies
    return found


def counted(cards: Sequence[Card], counts: Mapping[str, int]) -> dict[str, int]:
    """Counts by card id or code as counts by id. Unknown cards are left out."""
    known = {card.code: card.id for card in cards} | {card.id: card.id for card in cards}
    found: dict[str, int] = {}
    for ident, count in counts.items():
        if ident in known:
            found[known[ident]] = found.get(known[ident], 0) + count
    return found


def starting_deck(rulebook: Rulebook, cards: Iterable[Card]) -> dict[str, int]:
    """The deck with which every seat begins, by card id; empty if each seat brings its own."""
    up = rulebook.played.set_up
    return _with_group(rulebook, list(cards), up.start, up.start_group) if up.starts_alike else {}


def box_cards(rulebook: Rulebook, cards: Sequence[Card]) -> dict[str, int]:
    """Every card that a match needs with the largest number of seats: the cards placed at the start, and the decks with
    which all seats begin. By card id; empty if the rules place no card.
    """
    play, found = rulebook.played, dict[str, int]()
    parts = [(placed_cards(rulebook, cards, each), 1 if (own := play.zone(each.zone)) is not None and own.shared else play.greatest) for each in play.set_up.placed]
    for counts, times in (*parts, (starting_deck(rulebook, cards), play.greatest)):
        for ident, count in counts.items():
            found[ident] = found.get(ident, 0) + count * times
    return found
