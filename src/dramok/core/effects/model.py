"""The typed model of an effect line. Names are ids; what is printed comes from elsewhere."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Annotated, Literal, get_args

from pydantic import BeforeValidator, Field

from dramok.core.effects.verbs import step_as_now
from dramok.core.problem import Frozen

MOST_AMOUNT = 999

Cue = Literal["play", "enter", "leave"]
Side = Literal["own", "rival", "any"]
Compare = Literal["is", "above", "under"]


class Other(Frozen):
    """Not the ability's own card."""

    kind: Literal["other"] = "other"


class HasTag(Frozen):
    kind: Literal["tag"] = "tag"
    tag: str


class ChoiceIs(Frozen):
    """A choice field holds a value."""

    kind: Literal["choice"] = "choice"
    field: str
    value: str


class StatCompare(Frozen):
    """A number field compared with a whole number."""

    kind: Literal["stat"] = "stat"
    field: str
    compare: Compare
    number: int


class Not(Frozen):
    kind: Literal["not"] = "not"
    filter: Filter


Filter = Annotated[Other | HasTag | ChoiceIs | StatCompare | Not, Field(discriminator="kind")]


class Group(Frozen):
    """The cards in play that answer to a side, a card type (None: any card) and every filter."""

    side: Side = "any"
    type: str | None = None
    filters: tuple[Filter, ...] = ()


class Number(Frozen):
    kind: Literal["number"] = "number"
    value: int = Field(ge=0, le=MOST_AMOUNT)


class Count(Frozen):
    """How many cards are in the group when the step is done."""

    kind: Literal["count"] = "count"
    group: Group


Amount = Annotated[Number | Count, Field(discriminator="kind")]


class This(Frozen):
    """The ability's own card."""

    kind: Literal["this"] = "this"


class It(Frozen):
    """The latest pick of the same ability."""

    kind: Literal["it"] = "it"


class Pick(Frozen):
    """The seat picks between `least` and `most` of the group."""

    kind: Literal["pick"] = "pick"
    least: int = Field(default=1, ge=0, le=99)
    most: int = Field(default=1, ge=1, le=99)
    group: Group


class All(Frozen):
    kind: Literal["all"] = "all"
    group: Group


class Random(Frozen):
    """`number` of the group, by the match's own chance."""

    kind: Literal["random"] = "random"
    number: int = Field(default=1, ge=1, le=99)
    group: Group


Target = Annotated[This | It | Pick | All | Random, Field(discriminator="kind")]


class Draw(Frozen):
    verb: Literal["draw"] = "draw"
    amount: Amount


class Discard(Frozen):
    """The seat gives up cards of its hand, of its own choosing."""

    verb: Literal["discard"] = "discard"
    amount: Amount


class Deal(Frozen):
    """Damage, counted apart from the stat that bears it."""

    verb: Literal["deal"] = "deal"
    amount: Amount
    target: Target


class Heal(Frozen):
    """Takes damage away again, never below none."""

    verb: Literal["heal"] = "heal"
    amount: Amount
    target: Target


class Gain(Frozen):
    verb: Literal["gain"] = "gain"
    amount: Amount
    resource: str


class Lose(Frozen):
    verb: Literal["lose"] = "lose"
    amount: Amount
    resource: str


class Reveal(Frozen):
    """The top cards of the seat's draw pile are shown to all and stay where they are."""

    verb: Literal["reveal"] = "reveal"
    amount: Amount


AnyStep = Draw | Discard | Deal | Heal | Gain | Lose | Reveal
Step = Annotated[Annotated[AnyStep, Field(discriminator="verb")], BeforeValidator(step_as_now)]
MODELS: Mapping[str, type[Frozen]] = {each.model_fields["verb"].default: each for each in get_args(AnyStep)}
"""The model of each verb's step; `raise` has `Raise`."""


class Raise(Frozen):
    """A lasting change to a stat of the ability's own card while it is in play."""

    verb: Literal["raise"] = "raise"
    stat: str
    target: This = This()
    amount: Amount


class Triggered(Frozen):
    """`upon CUE this: step; step`."""

    kind: Literal["upon"] = "upon"
    cue: Cue
    steps: tuple[Step, ...] = Field(min_length=1)


class Continuous(Frozen):
    """`always: raise STAT of this by AMOUNT`, one or several."""

    kind: Literal["always"] = "always"
    raises: tuple[Raise, ...] = Field(min_length=1)


Ability = Annotated[Triggered | Continuous, Field(discriminator="kind")]


def target_of(step: Step) -> Target | None:
    """The target a step names, or None for a step without one."""
    return step.__dict__.get("target")


def resource_of(step: Step) -> str | None:
    """The resource a step is of, or None for a step without one."""
    return step.__dict__.get("resource")
