"""The typed model of an effect line. Names are ids; the printed text is generated elsewhere."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Annotated, Any, Literal

from pydantic import BeforeValidator, Field, SerializerFunctionWrapHandler, model_serializer, model_validator

from dramok.core.effects.verbs import ALLOWED, CUES, FORBIDDEN, VERBS, Slot, step_as_now
from dramok.core.problem import Frozen

MOST_AMOUNT = 999

Side = Literal["own", "rival", "any"]
Compare = Literal["is", "above", "under"]
Pointed = Literal["this", "that", "it", "host"]
CardState = Literal["tilted", "hurt", "created"]


class Other(Frozen):
    """Excludes the card with the ability."""

    kind: Literal["other"] = "other"


class HasTag(Frozen):
    kind: Literal["tag"] = "tag"
    tag: str


class HasKeyword(Frozen):
    """The card has a keyword, printed or granted."""

    kind: Literal["keyword"] = "keyword"
    keyword: str


class InState(Frozen):
    """The state of a card: tilted, damaged, or created by an effect."""

    kind: Literal["state"] = "state"
    state: CardState


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


Filter = Annotated[
    Other | HasTag | HasKeyword | InState | ChoiceIs | StatCompare | Not, Field(discriminator="kind")
]


class Lean(Frozen):
    """A part whose document omits default values."""

    @model_serializer(mode="wrap")
    def _lean(self, handler: SerializerFunctionWrapHandler) -> dict[str, Any]:
        return {key: value for key, value in handler(self).items() if value is not None}


EVERYWHERE = "everywhere"
"""The zone of a group that is only counted: all zones of a seat together, except removed cards."""


class Group(Lean):
    """The cards that match a side, a card type (None: any) and all filters, in play or in another zone.

    In play, the side is that of the card's controller; elsewhere, that of the zone's seat. `zone`: None for in
    play, or `EVERYWHERE`.
    """

    side: Side = "any"
    type: str | None = None
    filters: tuple[Filter, ...] = ()
    zone: str | None = None


class Number(Frozen):
    kind: Literal["number"] = "number"
    value: int = Field(ge=0, le=MOST_AMOUNT)


class Count(Frozen):
    """The number of cards in the group when the step is carried out."""

    kind: Literal["count"] = "count"
    group: Group


class SumOf(Frozen):
    """The sum of a stat over the cards of the group; a card without it counts 0."""

    kind: Literal["sum"] = "sum"
    field: str
    group: Group


class StatOf(Frozen):
    """The current stat of a card; 0 if it has none."""

    kind: Literal["stat"] = "stat"
    field: str
    of: Pointed


class HeldTotal(Frozen):
    """The amount of a resource that a seat has: the ability's own seat, or its rivals together."""

    kind: Literal["held"] = "held"
    resource: str
    side: Literal["own", "rival"] = "own"


class Combined(Frozen):
    """Two amounts combined by an operator; never below 0."""

    kind: Literal["reckoned"] = "reckoned"
    how: Literal["+", "-", "x", "least", "most"]
    left: Amount
    right: Amount


class Half(Frozen):
    kind: Literal["half"] = "half"
    up: bool = False
    of: Amount


Amount = Annotated[Number | Count | SumOf | StatOf | HeldTotal | Combined | Half, Field(discriminator="kind")]


class Comparison(Frozen):
    kind: Literal["compare"] = "compare"
    left: Amount
    compare: Compare
    right: Amount


class Together(Frozen):
    """Several conditions: all of them, or any."""

    kind: Literal["all", "any"]
    parts: tuple[Condition, ...] = Field(min_length=2)


class Unless(Frozen):
    kind: Literal["unless"] = "unless"
    part: Condition


Condition = Annotated[Comparison | Together | Unless, Field(discriminator="kind")]


class This(Frozen):
    """The card with the ability."""

    kind: Literal["this"] = "this"


class It(Frozen):
    """The latest pick of the same ability, or the card of the current loop."""

    kind: Literal["it"] = "it"


class That(Frozen):
    """The card of the cue."""

    kind: Literal["that"] = "that"


class Host(Frozen):
    """The card that this one is attached to."""

    kind: Literal["host"] = "host"


class Pick(Frozen):
    """The seat picks `least` to `most` cards of the group; without a group, of the cards of `it`."""

    kind: Literal["pick"] = "pick"
    least: int = Field(default=1, ge=0, le=99)
    most: int = Field(default=1, ge=1, le=99)
    group: Group = Group()
    of_it: bool = False


class All(Frozen):
    kind: Literal["all"] = "all"
    group: Group


class Random(Frozen):
    """`number` random cards of the group."""

    kind: Literal["random"] = "random"
    number: int = Field(default=1, ge=1, le=99)
    group: Group


Target = Annotated[This | It | That | Host | Pick | All | Random, Field(discriminator="kind")]


class When(Lean):
    """A moment of the turn: the beginning or end of a phase (by id) or of the turn (None); `side` is whose turn
    it is.
    """

    at: Literal["begin", "end"] = "begin"
    side: Side = "any"
    phase: str | None = None


class Zone(Frozen):
    """A zone of the ability's own seat, of each card's owner (`any`), or of the rival."""

    side: Side = "any"
    zone: str
    place: Literal["top", "bottom"] = "top"


class CostPart(Lean):
    """One part of a price: paying a resource, tilting, destroying or returning the card itself, or discarding cards."""

    how: Literal["pay", "tilt", "destroy", "return", "discard"]
    number: int | None = Field(default=None, ge=0, le=MOST_AMOUNT)
    resource: str | None = None


class Step(Lean):
    """One step: a verb with the operands that its record allows; see `verbs.VERBS`.

    `seats`: for whom, if not for the own seat. `most`, `least`: the seats for which the amount `by` is highest, or
    lowest; several if it is equal, none if the highest is 0.
    """

    verb: str
    amount: Amount | None = None
    resource: str | None = None
    seats: Literal["rival", "all", "most", "least"] | None = None
    by: Amount | None = None
    target: Target | None = None
    stat: str | None = None
    until: When | None = None
    zone: Zone | None = None
    card: str | None = None
    keyword: str | None = None
    act: str | None = None
    steps: tuple[AnyStep, ...] | None = None
    otherwise: tuple[AnyStep, ...] | None = None
    options: tuple[tuple[AnyStep, ...], ...] | None = None
    choose: int | None = Field(default=None, ge=1, le=9)
    group: Group | None = None
    condition: Condition | None = None
    cost: tuple[CostPart, ...] | None = None
    moment: When | None = None

    @model_validator(mode="after")
    def _as_its_record_says(self) -> Step:
        verb = VERBS.get(self.verb)
        if verb is None:
            raise ValueError(f"there is no verb {self.verb[:40]}")
        needed = {part for slot in verb.slots for part in PARTS[slot] if slot not in OPTIONAL}
        may = {part for slot in verb.slots for part in PARTS[slot]}
        given = {part for part in type(self).model_fields if part != "verb" and getattr(self, part) is not None}
        if lacking := sorted(needed - given):
            raise ValueError(f"{self.verb} needs {', '.join(lacking)}")
        if odd := sorted(given - may):
            raise ValueError(f"{self.verb} has no {', '.join(odd)}")
        if (self.by is not None) != (self.seats in ("most", "least")):
            raise ValueError("the seats with the most or the least of an amount name it, and no others do")
        acts = FORBIDDEN if self.verb == "forbid" else ALLOWED
        if self.act is not None and self.act not in acts:
            raise ValueError(f"{self.act[:40]} is nothing to {self.verb}")
        return self

    @property
    def within(self) -> Iterator[tuple[Step, ...]]:
        """The steps inside this one, block by block."""
        yield from (block for block in (self.steps, self.otherwise) if block)
        yield from self.options or ()


PARTS: dict[Slot, tuple[str, ...]] = {
    "amount": ("amount",), "resource": ("resource",), "seats": ("seats", "by"), "to": ("target",), "target": ("target",),
    "stat": ("stat", "target", "amount"), "until": ("until",), "put": ("zone",), "from_zone": ("zone",), "zone": ("zone",),
    "made": ("card",), "grant": ("keyword", "target"), "strip": ("keyword", "target"), "act": ("act", "target"),
    "steps": ("steps",), "options": ("choose", "options"), "group": ("group",), "condition": ("condition",),
    "otherwise": ("otherwise",), "cost": ("cost",), "moment": ("moment",),
}  # fmt: skip
"""The operands of a step for each slot."""
OPTIONAL = {"seats", "by", "until", "from_zone", "otherwise"}

AnyStep = Annotated[Step, BeforeValidator(step_as_now)]


class Limit(Frozen):
    number: int = Field(ge=1, le=9)
    each: Literal["turn", "game"]


class Triggered(Lean):
    """`upon CUE …: step; step`. `of`: the cue is about other cards, not this one. `source`: what deals the damage."""

    kind: Literal["upon"] = "upon"
    cue: str
    of: Group | None = None
    source: Group | None = None
    when: When | None = None
    resource: str | None = None
    side: Literal["rival"] | None = None
    compare: Literal["above", "under"] | None = None
    number: int | None = Field(default=None, ge=0, le=MOST_AMOUNT)
    limit: Limit | None = None
    condition: Condition | None = None
    steps: tuple[AnyStep, ...] = Field(min_length=1)

    @model_validator(mode="after")
    def _of_a_cue(self) -> Triggered:
        cue = CUES.get(self.cue)
        if cue is None:
            raise ValueError(f"there is no cue {self.cue[:40]}")
        if (self.when is not None) != (cue.about == "whose") or (self.resource is not None) != (
            cue.about == "total"
        ):
            raise ValueError(f"{self.cue} has no subject")
        return self


class Offered(Lean):
    """`offer COST: step; step`: an action of its controller while the card is in play, as often as it can be paid.

    Without a cost it is `offer free`, which has a limit.
    """

    kind: Literal["offer"] = "offer"
    cost: tuple[CostPart, ...] = ()
    limit: Limit | None = None
    condition: Condition | None = None
    steps: tuple[AnyStep, ...] = Field(min_length=1)

    @model_validator(mode="after")
    def _ends(self) -> Offered:
        if not self.cost and self.limit is None:
            raise ValueError("a free effect has a limit")
        return self


class Continuous(Lean):
    """`always: …`: holds while the card is in play and its condition is true."""

    kind: Literal["always"] = "always"
    condition: Condition | None = None
    lasting: tuple[AnyStep, ...] = Field(min_length=1)


class Keyworded(Frozen):
    """`has …`: keywords printed on the card."""

    kind: Literal["has"] = "has"
    keywords: tuple[str, ...] = Field(min_length=1)


AbilityLine = Annotated[Triggered | Offered | Continuous | Keyworded, Field(discriminator="kind")]
Ability = Annotated[AbilityLine, BeforeValidator(step_as_now)]


def walked(steps: tuple[Step, ...]) -> Iterator[Step]:
    """Every step and all nested ones, in text order."""
    for step in steps:
        yield step
        for block in step.within:
            yield from walked(block)


def steps_of(ability: Triggered | Offered | Continuous | Keyworded) -> tuple[Step, ...]:
    """The outermost steps of any ability."""
    if isinstance(ability, Keyworded):
        return ()
    return ability.lasting if isinstance(ability, Continuous) else ability.steps


def amounts_in(amount: Amount) -> Iterator[Amount]:
    """An amount and all amounts that it is computed from."""
    yield amount
    match amount:
        case Combined():
            yield from amounts_in(amount.left)
            yield from amounts_in(amount.right)
        case Half():
            yield from amounts_in(amount.of)
