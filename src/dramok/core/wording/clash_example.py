"""A clash of two real cards, as an example in the rules text."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Protocol

from dramok.core.cards import Card
from dramok.core.rulebook import Rulebook
from dramok.core.rulebook.play_rules import ClashRule


class GameNames(Protocol):
    """What an example needs of the reader of the rules text: the game, and names as it spells them."""

    rules: Rulebook
    cards: Sequence[Card]

    def stat(self, ident: str) -> str: ...
    def title(self, card: Card) -> str: ...
    def counted(self, ident: str, number: int) -> str: ...


@dataclass(frozen=True)
class ClashExample:
    """A clash of two real cards by the rules: the result without and with an answer."""

    sender: str
    answer: str
    lines: tuple[str, ...]


def example_of(reader: GameNames, sender: str | None = None, answer: str | None = None) -> ClashExample | None:
    """The result of a clash of two cards; without ids, suitable examples are chosen.

    None without a clash or cards for it.
    """
    rulebook, cards = reader.rules, reader.cards
    rule = rulebook.played.clash
    if rule is None:
        return None
    able = [each for each in cards if _of(rulebook, each, rule.types) and (each.number(rule.stat) or 0) > 0]
    answering = [each for each in cards if _of(rulebook, each, rule.answer_types or rule.types) and (each.number(rule.stat) or 0) > 0]
    if not able or not answering:
        return None
    high = sorted(able, key=lambda each: -(each.number(rule.stat) or 0))
    one = next((each for each in able if each.id == sender), high[len(high) // 3])
    other = next((each for each in answering if each.id == answer and each.id != one.id), None)
    other = other or next((each for each in answering if each.id != one.id and each.number(rule.stat) != one.number(rule.stat)), answering[0])
    return ClashExample(one.id, other.id, tuple(_clash_lines(reader, rule, one, other)))


def _of(rulebook: Rulebook, card: Card, types: Sequence[str]) -> bool:
    return any(rulebook.cards.is_a(card.type, each) for each in types)


def _clash_lines(reader: GameNames, rule: ClashRule, one: Card, other: Card) -> Iterable[str]:
    stat, power, against = reader.stat(rule.stat), one.number(rule.stat) or 0, other.number(rule.stat) or 0
    yield f"{reader.title(one)} ({stat} {power}) clashes."
    if rule.total is not None and rule.unanswered != "nothing":
        yield f"Not answered: {_count(reader, rule, power if rule.points == 'stat' else 1)}."
    if rule.answers == "none":
        return
    yield f"Answered by {reader.title(other)} ({stat} {against}): {_met(reader, rule, one, other)}"


def _count(reader: GameNames, rule: ClashRule, points: int) -> str:
    counted = reader.counted(rule.total or "", points)
    return f"you gain {counted}" if rule.unanswered == "gains" else f"your rival loses {counted}"


def _met(reader: GameNames, rule: ClashRule, one: Card, other: Card) -> str:
    power, against = one.number(rule.stat) or 0, other.number(rule.stat) or 0
    bears = reader.rules.roles.damage_limit
    said = []
    left = max(0, power - against)
    if rule.hurts:
        stands = other.number(bears) if bears else None
        dealt = power
        if rule.excess == "through" and stands is not None:
            dealt, left = min(power, stands), max(0, power - stands)
        elif rule.excess == "through":
            left = 0
        damage = reader.rules.phrases.damage
        for hurt, by in ((other, dealt), (one, against)):
            limit = hurt.number(bears) if bears else None
            dies = f" and leaves play ({reader.stat(bears)} {limit})" if bears and limit is not None and by >= limit > 0 else ""
            said.append(f"{reader.title(hurt)} gets {by} {damage}{dies}")
    else:
        said.append(f"{power} less {against} is {left}")
    if rule.excess == "through" and left and rule.total is not None:
        said.append(f"{left} is left over: {_count(reader, rule, left)}")
    elif not said:
        said.append("nothing more comes of it")
    return "; ".join(said) + "."
