"""Compile groups and amounts of effects to rows of the program."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import Protocol, assert_never

from dramok.core.cards import Card, ChoiceField
from dramok.core.effects.model import (
    EVERYWHERE,
    Amount,
    ChoiceIs,
    Combined,
    Comparison,
    Condition,
    Count,
    Filter,
    Group,
    Half,
    HasKeyword,
    HasTag,
    HeldTotal,
    InState,
    Not,
    Number,
    Other,
    StatCompare,
    StatOf,
    SumOf,
    Together,
    Unless,
)
from dramok.core.engine.kernel import codes as k
from dramok.core.problem import fold
from dramok.core.rulebook import Rulebook

SIDES = {"any": k.S_ANY, "own": k.S_OWN, "rival": k.S_RIVAL}
COMPARES = {"is": k.C_IS, "above": k.C_ABOVE, "under": k.C_UNDER}
STATES = {"tilted": k.STATE_TILTED, "hurt": k.STATE_HURT, "created": k.STATE_CREATED}
HOW = {"+": k.R_ADD, "-": k.R_TAKE, "x": k.R_TIMES, "least": k.R_LEAST, "most": k.R_MOST}
HOW_COMPARED = {"is": k.R_IS, "above": k.R_ABOVE, "under": k.R_UNDER}
POINTED = {"this": k.P_THIS, "that": k.P_THAT, "it": k.P_IT, "host": k.P_HOST}
MOST_BITS = 60
MOST_WORDS = 24


class Unplayable(ValueError):
    """Why a readable line can't be played."""


def place_of(ident: str, known: Sequence[str], what: str) -> int:
    """The index of an id in the game. Raises Unplayable if the id no longer exists."""
    if ident not in known:
        raise Unplayable(f"the game has no such {what} any more")
    return known.index(ident)


class Memory(Protocol):
    """The program memory under construction, and the numbering of names."""

    rulebook: Rulebook
    stats: tuple[str, ...]
    choices: tuple[ChoiceField, ...]
    zones: tuple[str, ...]

    def add(self, row: Iterable[int]) -> int: ...

    def types_mask(self, types: Iterable[str]) -> int: ...

    def resource(self, ident: str) -> int: ...


class KeywordBits:
    """A bit for every keyword that is referred to."""

    def __init__(self, rulebook: Rulebook) -> None:
        self.rulebook = rulebook
        self.order: list[str] = [each.id for each in rulebook.keywords if each.effect.abilities]

    def bit(self, keyword: str) -> int:
        """The bit of a keyword. Raises Unplayable if there are too many."""
        if keyword not in self.order:
            self.order.append(keyword)
        if len(self.order) > MOST_BITS:
            raise Unplayable(f"effects name over {MOST_BITS} keywords")
        return self.order.index(keyword)

    def playing(self) -> list[str]:
        """The keywords with an effect, in the order of their bits."""
        return [each.id for each in self.rulebook.keywords if each.effect.abilities]


class Groups:
    """Group rows, each written once; tags get bits when they are referred to.

    `restless`: a lasting effect reads more than cards in play.
    """

    def __init__(self, memory: Memory, keywords: KeywordBits) -> None:
        self.memory, self.keywords = memory, keywords
        self.tags: dict[str, int] = {}
        self._rows: dict[str, int] = {}
        self._words: dict[str, int] = {}

    def tag(self, tag: str) -> int:
        bit = self.tags.setdefault(fold(tag), len(self.tags))
        if bit > MOST_BITS:
            raise Unplayable(f"effects name over {MOST_BITS} tags")
        return bit

    def tags_of(self, card: Card) -> int:
        """The bits of a card's tags that effects refer to."""
        held = {fold(tag) for tag in card.tags(self.memory.rulebook.roles.tags)}
        return sum(1 << bit for tag, bit in self.tags.items() if tag in held)

    def add(self, group: Group, counted: bool = False) -> int:
        """The address of a group's row.

        Raises Unplayable for a side in a shared zone, whose cards belong to nobody, and for cards everywhere
        that are not only counted.
        """
        if group.zone == EVERYWHERE and not counted:
            raise Unplayable("cards everywhere can only be counted")
        if group.side != "any" and any(zone.id == group.zone and zone.shared for zone in self.memory.rulebook.played.zones):
            raise Unplayable(f"cards of a shared zone belong to nobody: leave out “{group.side}”")
        key = group.model_dump_json()
        if key not in self._rows:
            self._rows[key] = self._row(group)
        return self._rows[key]

    def number(self, field: str) -> int:
        """The place of a number of cards: of a stat, or of a counter, which comes after all stats."""
        counters = [each.id for each in self.memory.rulebook.played.counters]
        return k.MOST_STATS + counters.index(field) if field in counters else place_of(field, self.memory.stats, "stat")

    def zone(self, ident: str | None) -> int:
        return k.IN_PLAY if ident is None else k.EVERYWHERE if ident == EVERYWHERE else place_of(ident, self.memory.zones, "zone")

    def _row(self, group: Group) -> int:
        row = [0] * k.GROUP_WIDTH
        row[k.G_SIDE], row[k.G_ZONE], row[k.G_EXTRA] = SIDES[group.side], self.zone(group.zone), -1
        row[k.G_TYPES] = self.memory.types_mask([group.type]) if group.type is not None else 0
        extra: list[int] = []
        for each in group.filters:
            self._filter(each, row, extra, negated=False)
        if extra:
            row[k.G_EXTRA] = self.memory.add([*extra, k.X_END])
        return self.memory.add(row)

    def _filter(self, each: Filter, row: list[int], extra: list[int], negated: bool) -> None:
        match each:
            case Not():
                self._filter(each.filter, row, extra, not negated)
            case Other():
                row[k.G_OTHER] |= 2 if negated else 1
            case HasTag():
                row[k.G_NO_TAGS if negated else k.G_ALL_TAGS] |= 1 << self.tag(each.tag)
            case HasKeyword():
                row[k.G_NO_KEYS if negated else k.G_ALL_KEYS] |= 1 << self.keywords.bit(each.keyword)
            case ChoiceIs():
                place = place_of(each.field, [field.id for field in self.memory.choices], "choice")
                values = self.memory.rulebook.cards.list(self.memory.choices[place].list)
                extra += [k.X_CHOICE, place, 0, values.position(each.value), int(negated)]
            case StatCompare():
                extra += [k.X_STAT, self.number(each.field), COMPARES[each.compare], each.number, int(negated)]
            case InState():
                extra += [k.X_STATE, STATES[each.state], 0, 0, int(negated)]
            case _:
                assert_never(each)

    def amount(self, amount: Amount) -> tuple[int, int]:
        """(kind of amount, the number or the address of its words)."""
        if isinstance(amount, Number):
            return k.A_NUMBER, amount.value
        return k.A_RECKONED, self._add_words(amount.model_dump_json(), self._reckoned(amount))

    def words(self, amount: Amount) -> int:
        """The address of an amount's words, also of a plain number."""
        kind, value = self.amount(amount)
        return self.memory.add([k.R_NUMBER, value, 0, k.R_END]) if kind == k.A_NUMBER else value

    def condition(self, condition: Condition | None) -> int:
        """The address of a condition's words; -1 for none."""
        if condition is None:
            return -1
        return self._add_words(condition.model_dump_json(), self._holds(condition))

    def _add_words(self, key: str, words: list[int]) -> int:
        if key not in self._words:
            if len(words) > MOST_WORDS * k.RECKON_WIDTH:
                raise Unplayable("an amount has too many parts")
            self._words[key] = self.memory.add([*words, k.R_END])
        return self._words[key]

    def _reckoned(self, amount: Amount) -> list[int]:
        match amount:
            case Number():
                return [k.R_NUMBER, amount.value, 0]
            case Count():
                return [k.R_COUNT, self.add(amount.group, counted=True), 0]
            case SumOf():
                return [k.R_SUM, self.add(amount.group, counted=True), self.number(amount.field)]
            case StatOf():
                return [k.R_STAT, self.number(amount.field), POINTED[amount.of]]
            case HeldTotal():
                return [k.R_HELD, self.memory.resource(amount.resource), SIDES[amount.side]]
            case Half():
                return [*self._reckoned(amount.of), k.R_HALF_UP if amount.up else k.R_HALF_DOWN, 0, 0]
            case Combined():
                return [*self._reckoned(amount.left), *self._reckoned(amount.right), HOW[amount.how], 0, 0]
        assert_never(amount)

    def _holds(self, condition: Condition) -> list[int]:
        match condition:
            case Comparison():
                return [*self._reckoned(condition.left), *self._reckoned(condition.right), HOW_COMPARED[condition.compare], 0, 0]
            case Unless():
                return [*self._holds(condition.part), k.R_NOT, 0, 0]
            case Together():
                words = self._holds(condition.parts[0])
                for part in condition.parts[1:]:
                    words += [*self._holds(part), k.R_AND if condition.kind == "all" else k.R_OR, 0, 0]
                return words
        assert_never(condition)
