"""The printed text and stats of cards, readable at the table at any zoom level."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass

from dramok.core.cards import Card
from dramok.core.cards.schema.fields.number import shown_number
from dramok.core.rulebook import GameVocabulary, Rulebook
from dramok.core.wording import printed_text


@dataclass(frozen=True)
class PrintedStat:
    """A stat of a card as printed."""

    name: str
    value: str


@dataclass(frozen=True)
class CardWords:
    """The printed text of a card. `cost` as printed, empty if there is none; `kind` is the name of its type;
    `lines` the text with symbols as names; `stats` the name and value of each stat.

    `written`: the engine carries out all of it; otherwise some of it is resolved by hand.
    """

    cost: str
    kind: str
    lines: tuple[str, ...]
    written: bool
    stats: tuple[PrintedStat, ...] = ()


def words_of(rulebook: Rulebook, cards: Sequence[Card]) -> dict[str, CardWords]:
    """By card id."""
    tags = {tag for card in cards for tag in card.tags(rulebook.roles.tags)}
    names = {card.id: card.text(rulebook.roles.name) or card.code for card in cards}
    vocabulary = GameVocabulary(rulebook, sorted(tags), lambda: names)
    shown = [(each.id, each.name) for each in rulebook.cards.fields if each.id in rulebook.roles.stats]
    symbols = [(re.compile(rf"(?:(?<![0-9])(1) )?\{{{re.escape(each.id)}\}}"), each.name.lower(), each.names.lower()) for each in rulebook.resources]
    found = {}
    for card in cards:
        text = printed_text(card, rulebook, vocabulary)
        cost = card.number(rulebook.roles.cost) if rulebook.roles.cost and rulebook.cards.has_field(card.type, rulebook.roles.cost) else None
        lines = tuple(_plain(line, symbols) for line in text.lines)
        found[card.id] = CardWords("" if cost is None else str(cost), rulebook.cards.type(card.type).name, lines, text.behaviour_written, _stats(rulebook, card, shown))
    return found


def _stats(rulebook: Rulebook, card: Card, shown: Sequence[tuple[str, str]]) -> tuple[PrintedStat, ...]:
    """Each stat of the card's type for which the card has a value."""
    found = ((name, card.number(ident)) for ident, name in shown if rulebook.cards.has_field(card.type, ident))
    return tuple(PrintedStat(name, shown_number(value)) for name, value in found if value is not None)


def _plain(line: str, symbols: list[tuple[re.Pattern[str], str, str]]) -> str:
    """A line with symbols replaced by names, in the singular for a count of one."""
    for pattern, one, several in symbols:
        line = pattern.sub(lambda found, one=one, several=several: f"1 {one}" if found[1] else several, line)  # type: ignore[misc]
    return line
