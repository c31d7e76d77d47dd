"""The words and numbers of cards, so that they can be read at the table at any size."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass

from dramok.core.cards import Card
from dramok.core.cards.fields.number import shown_number
from dramok.core.rulebook import GameVocabulary, Rulebook
from dramok.core.wording import printed_text


@dataclass(frozen=True)
class PrintedStat:
    """A stat of a card as it is printed."""

    name: str
    value: str


@dataclass(frozen=True)
class CardWords:
    """`cost` as printed, empty where there is none; `kind`: its type by name; `lines`: its printed text, symbols by their names; `stats`: name and
    value of each of its stats.

    `written`: the engine plays all of it; else what it says is done by hand.
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
    """Each stat that the card's type has and the card has a value for."""
    found = ((name, card.number(ident)) for ident, name in shown if rulebook.cards.has_field(card.type, ident))
    return tuple(PrintedStat(name, shown_number(value)) for name, value in found if value is not None)


def _plain(line: str, symbols: list[tuple[re.Pattern[str], str, str]]) -> str:
    """A line with the names of what its symbols stand for; of one thing the name of one."""
    for pattern, one, several in symbols:
        line = pattern.sub(lambda found, one=one, several=several: f"1 {one}" if found[1] else several, line)  # type: ignore[misc]
    return line
