"""Actions of the rules: what a seat can do besides playing and buying cards, without a card of its own."""

from __future__ import annotations

from pydantic import Field, model_validator

from dramok.core.effects import Script
from dramok.core.effects.model import Offered, steps_of, walked
from dramok.core.problem import Frozen

MOST_ACTIONS = 8
_OF_THE_CARD = ('"kind":"this"', '"kind":"host"', '"of":"this"', '"of":"host"')


class RuleAction(Frozen):
    """An action of every seat, in a phase in which effects can be used.

    `effect`: lines of the effect language, each an `offer`. They belong to no card, so they can't refer to one as
    this, or have it tilted, destroyed or returned as their cost. Limits count for each seat on its own.
    """

    id: str = Field(pattern=r"^[a-z][a-z0-9-]*$", max_length=60)
    name: str = Field(min_length=1, max_length=60)
    effect: Script = Script()

    @model_validator(mode="after")
    def _of_no_card(self) -> RuleAction:
        for ability in self.effect.abilities:
            if not isinstance(ability, Offered):
                raise ValueError(f"the action {self.name} begins with offer: offer pay 2 … : …, or offer free, limit 1 a turn: …")
            costs = [*ability.cost, *(part for step in walked(steps_of(ability)) for part in step.cost or ())]
            if any(part.how not in ("pay", "discard") for part in costs) or any(word in ability.model_dump_json() for word in _OF_THE_CARD):
                raise ValueError(f"the action {self.name} belongs to no card, so it can't name one as this: pay or discard for it, and pick a card")
            if ability.limit is None and not any(part.number for part in ability.cost):
                raise ValueError(f"the action {self.name} costs nothing and could be taken without end: add a limit, such as limit 1 a turn")
        return self
