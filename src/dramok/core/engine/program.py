"""Rulebook and cards to the kernel's tables."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Any

from dramok.core.cards import Card, ChoiceField, NumberField
from dramok.core.effects import Ability
from dramok.core.effects.model import (
    All,
    Amount,
    ChoiceIs,
    Continuous,
    Filter,
    Group,
    HasTag,
    It,
    Not,
    Number,
    Other,
    Pick,
    Raise,
    Random,
    StatCompare,
    Step,
    This,
    resource_of,
    target_of,
)
from dramok.core.effects.verbs import CUES, VERBS
from dramok.core.engine import state as k
from dramok.core.problem import fold
from dramok.core.rulebook import Rulebook

VERB_CODES = {word: code for code, word in enumerate(VERBS)}
CUE_CODES = {word: code for code, word in enumerate(CUES, k.ALWAYS + 1)}
SIDES = {"any": k.S_ANY, "own": k.S_OWN, "rival": k.S_RIVAL}
COMPARES = {"is": k.C_IS, "above": k.C_ABOVE, "under": k.C_UNDER}


@dataclass(frozen=True)
class Program:
    """`tables` for the kernel, and what its numbers mean: `cards[d]` is definition d."""

    compiled: k.Compiled
    cards: tuple[Card, ...]
    rulebook: Rulebook
    stats: tuple[str, ...]

    def definition(self, card_id: str) -> int:
        """Raises KeyError for a card that the program does not hold."""
        return self._index[card_id]

    @cached_property
    def _index(self) -> dict[str, int]:
        return {card.id: number for number, card in enumerate(self.cards)}


def compile_program(rulebook: Rulebook, cards: Sequence[Card]) -> Program:
    """Compiles every readable ability of the cards; a draft plays as its last good version, prose not at all."""
    compiler = _Compiler(rulebook, cards)
    return Program(compiler.compiled(), tuple(cards), rulebook, compiler.stats)


class _Compiler:
    def __init__(self, rulebook: Rulebook, cards: Sequence[Card]) -> None:
        schema = rulebook.cards
        self.rulebook, self.cards = rulebook, cards
        self.stats = tuple(
            field.id for field in schema.fields if isinstance(field, NumberField) and field.whole
        )
        self.choices = tuple(field for field in schema.fields if isinstance(field, ChoiceField))
        self.types = tuple(each.id for each in schema.types)
        self.resources = tuple(each.id for each in rulebook.resources)
        self.tags: dict[str, int] = {}
        self.rows: dict[str, list[int]] = {}

    def _add(self, **columns: int) -> None:
        for name, value in columns.items():
            self.rows.setdefault(name, []).append(value)

    def compiled(self) -> k.Compiled:
        rules = self.rulebook.table
        for card in self.cards:
            self._card(card)
        for each in self.rulebook.resources:
            cap = each.cap if each.cap is not None else -1
            self._add(
                resource_start=each.start,
                resource_turn=each.each_turn,
                resource_cap=cap,
                resource_shared=int(each.shared),
            )
        damage_limit = self.rulebook.roles.damage_limit
        single: dict[str, Any] = {
            "stats": len(self.stats), "choices": len(self.choices), "resources": len(self.resources),
            "damage_limit": self.stats.index(damage_limit) if damage_limit in self.stats else -1,
            "pays": self.resources.index(rules.pays) if rules.pays else -1,
            "opening_hand": rules.opening_hand, "turn_draw": rules.turn_draw,
            "hand_limit": -1 if rules.hand_limit is None else rules.hand_limit,
            "reshuffles": int(rules.empty_draw_pile == "reshuffle"),
        }  # fmt: skip
        flat: dict[str, Any] = {
            name: tuple(self.rows.get(name, ())) for name in k.Compiled.__slots__ if name not in single
        }
        return k.Compiled(**single, **flat)

    def _card(self, card: Card) -> None:
        roles, schema = self.rulebook.roles, self.rulebook.cards
        cost = card.number(roles.cost)
        self._add(
            def_type=self.types.index(card.type), def_stays=int(schema.type(card.type).stays), def_cost=cost if cost is not None else 0,
            def_tags=sum(1 << self._tag(tag) for tag in card.tags(roles.tags)),
        )  # fmt: skip
        for stat in self.stats:
            number = card.number(stat)
            self._add(def_stat=number if number is not None and schema.has_field(card.type, stat) else -1)
        for field in self.choices:
            self._add(
                def_choice=schema.list(field.list).position(card.text(field.id))
                if card.text(field.id)
                else -1
            )
        first = len(self.rows.get("ability_cue", ()))
        for ability in card.script(roles.effect).abilities:
            self._ability(ability)
        self._add(def_abilities=first)
        self._add(def_abilities=len(self.rows.get("ability_cue", ())))

    def _tag(self, tag: str) -> int:
        return self.tags.setdefault(fold(tag), len(self.tags))

    def _ability(self, ability: Ability) -> None:
        first = len(self.rows.get("step_verb", ()))
        lasting = isinstance(ability, Continuous)
        self._add(ability_cue=k.ALWAYS if lasting else CUE_CODES[ability.cue])  # type: ignore[union-attr]
        parts: Iterable[Step | Raise] = ability.raises if isinstance(ability, Continuous) else ability.steps
        for part in parts:
            self._step(part)
        self._add(ability_steps=first)
        self._add(ability_steps=len(self.rows["step_verb"]))

    def _step(self, step: Step | Raise) -> None:
        what = -1
        if isinstance(step, Raise):
            what = self.stats.index(step.stat)
        elif (resource := resource_of(step)) is not None:
            what = self.resources.index(resource)
        counted, number = self._amount(step.amount)
        mode, group, least, most = k.T_NONE, -1, 0, 0
        target = None if isinstance(step, Raise) else target_of(step)
        match target:
            case This():
                mode = k.T_THIS
            case It():
                mode = k.T_IT
            case Pick():
                mode, group, least, most = k.T_PICK, self._group(target.group), target.least, target.most
            case All():
                mode, group = k.T_ALL, self._group(target.group)
            case Random():
                mode, group, most = k.T_RANDOM, self._group(target.group), target.number
        self._add(
            step_verb=VERB_CODES[step.verb], step_count=counted, step_amount=number, step_what=what,
            step_target=mode, step_group=group, step_least=least, step_most=most,
        )  # fmt: skip

    def _amount(self, amount: Amount) -> tuple[int, int]:
        if isinstance(amount, Number):
            return 0, amount.value
        return 1, self._group(amount.group)

    def _group(self, group: Group) -> int:
        rows = [self._filter(each) for each in group.filters]
        first = len(self.rows.get("filter_kind", ()))
        for kind, negated, what, value, compare in rows:
            self._add(
                filter_kind=kind,
                filter_not=negated,
                filter_what=what,
                filter_value=value,
                filter_compare=compare,
            )
        self._add(
            group_side=SIDES[group.side],
            group_type=self.types.index(group.type) if group.type is not None else -1,
        )
        self._add(group_filters=first)
        self._add(group_filters=first + len(rows))
        return len(self.rows["group_side"]) - 1

    def _filter(self, each: Filter) -> tuple[int, int, int, int, int]:
        match each:
            case Not():
                kind, negated, what, value, compare = self._filter(each.filter)
                return kind, 1 - negated, what, value, compare
            case Other():
                return k.F_OTHER, 0, -1, 0, 0
            case HasTag():
                return k.F_TAG, 0, self._tag(each.tag), 0, 0
            case ChoiceIs():
                place = next(number for number, field in enumerate(self.choices) if field.id == each.field)
                return (
                    k.F_CHOICE,
                    0,
                    place,
                    self.rulebook.cards.list(self.choices[place].list).position(each.value),
                    0,
                )
            case StatCompare():
                return k.F_STAT, 0, self.stats.index(each.field), each.number, COMPARES[each.compare]
