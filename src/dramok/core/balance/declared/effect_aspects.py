"""Effects as prices see them: for each step its verb, target, amount, moment, and sign."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass, field, replace
from decimal import Decimal
from itertools import count

from dramok.core.balance.declared.prices import Affects, PriceRow, Qualifier, Reach
from dramok.core.effects.model import (
    Ability,
    All,
    Amount,
    Continuous,
    CostPart,
    Keyworded,
    Number,
    Offered,
    Pick,
    Random,
    Side,
    Step,
    Target,
    This,
)
from dramok.core.effects.pronouns import aimed, folded, inside
from dramok.core.effects.signs import (
    Referents,
    Sign,
    done_for_seat,
    done_to,
    recipient_of,
    referents_of,
    seats_of,
)
from dramok.core.effects.verbs import VERBS
from dramok.core.rulebook import Rulebook


@dataclass(frozen=True, slots=True)
class Aspect:
    """What price rows are matched against.

    `sign`: 1 helps the card's player, -1 harms, 0 affects both sides alike or is unknown (see `effects.signs`).
    `many`: the number chosen at once; `loops`: the number of `each` around it. `qualifiers`: what applies to
    the moment (see `prices.Qualifier`). `choices`: for each enclosing choice block, outermost first: its number
    on the card, the option, and the number of options chosen.
    """

    verb: str
    amount: Amount
    affects: Affects
    reach: Reach
    cue: str
    sign: Sign
    resource: str | None = None
    stat: str | None = None
    many: Decimal = Decimal(1)
    qualifiers: tuple[Qualifier, ...] = ()
    choices: Choices = ()
    loops: int = 0

    @property
    def named(self) -> Named:
        """The names that a price row can match."""
        return (self.verb, self.resource, self.stat, self.affects, self.reach, self.cue, self.qualifiers)


Named = tuple[str, str | None, str | None, Affects, Reach, str, tuple[Qualifier, ...]]
Choices = tuple[tuple[int, int, int], ...]


@dataclass(frozen=True, slots=True)
class Around:
    """The context of a step: its moment, qualifiers, enclosing choice blocks, number of `each`; and the card's
    printed stats, by field id.
    """

    cue: str
    moment: Referents
    qualifiers: tuple[Qualifier, ...] = ()
    choices: Choices = ()
    loops: int = 0
    printed: Mapping[str, int] = field(default_factory=dict)

    def under(self, *more: Qualifier) -> Around:
        return replace(self, qualifiers=tuple(dict.fromkeys((*self.qualifiers, *more))))

    def option(self, block: int, place: int, chosen: int) -> Around:
        return replace(self, choices=(*self.choices, (block, place, chosen)))


ONE = Number(value=1)


def aspects_of(ability: Ability, blocks: Iterator[int] | None = None, host: Side = "own", printed: Mapping[str, int] | None = None) -> Iterator[Aspect]:
    """One aspect for each step of an ability, nested ones included, or each part of a lasting one.

    `blocks` numbers the choice blocks across a card's abilities; `host`: the side of the cards that the card
    can be attached to; `printed`: the card's stats, by field id.
    """
    blocks = count() if blocks is None else blocks
    if isinstance(ability, Keyworded):
        for keyword in ability.keywords:
            yield Aspect("has", ONE, "self", "this", "always", 1, stat=keyword)
        return
    held: tuple[Qualifier, ...] = () if ability.condition is None else ("condition",)
    moment = referents_of(ability, host)
    if isinstance(ability, Continuous):
        for each in ability.lasting:
            yield from _stepped(each, each.target, Around("always", moment, held, printed=printed or {}))
        return
    if ability.limit is not None:
        held = (*held, "limit")
    offered = isinstance(ability, Offered)
    around = Around("offer" if isinstance(ability, Offered) else ability.cue, moment, (*held, "offer") if offered else held, printed=printed or {})
    if isinstance(ability, Offered):
        yield from _paid(ability.cost, around)
    yield from _within(ability.steps, None, around, blocks)


def _paid(cost: Iterable[CostPart], around: Around) -> Iterator[Aspect]:
    """A price is a drawback: resources lost, cards discarded, the card itself destroyed or returned."""
    for part in cost:
        verb = {"pay": "lose"}.get(part.how, part.how)
        number = Number(value=part.number or 1) if part.how in ("pay", "discard") else ONE
        yield Aspect(verb, number, "self", "this", around.cue, -1, part.resource, None, Decimal(1), around.qualifiers, around.choices, around.loops)


def _within(steps: Iterable[Step], latest: Target | None, around: Around, blocks: Iterator[int]) -> Iterator[Aspect]:
    for step, target, it in aimed(steps, latest):
        if VERBS[step.verb].form != "block":
            yield from _stepped(step, target, around)
            continue
        inner = inside(step, it)
        here = around
        if step.verb == "each":
            here = replace(around, loops=around.loops + 1)
        elif step.condition is not None:
            here = around.under("condition")
        elif step.verb == "may":
            here = around.under("may")
        elif step.cost is not None:
            here = around.under("offer")
            yield from _paid(step.cost, here)
        block = next(blocks) if step.options is not None else 0
        for place, each in enumerate(step.within):
            yield from _within(each, inner, here if step.options is None else here.option(block, place, step.choose or 1), blocks)


def _stepped(step: Step, target: Target | None, around: Around) -> Iterator[Aspect]:
    amount = folded(step.amount, around.printed) if step.amount is not None else ONE
    about = step.keyword or step.act or step.stat
    held: tuple[Qualifier, ...] = around.qualifiers if step.until is None else (*around.qualifiers, "until")
    if target is None:
        for affects in seats_of(step):
            sign = done_for_seat(step, affects)
            yield Aspect(step.verb, amount, affects, "this", around.cue, sign, step.resource, about, Decimal(1), held, around.choices, around.loops)
        return
    recipient = recipient_of(target, around.moment)
    reach: Reach = "this" if isinstance(target, This) else "all" if isinstance(step.target, All) else "one"
    many = Decimal(target.most if isinstance(target, Pick) else target.number if isinstance(target, Random) else 1)
    sign = done_to(step, recipient)
    yield Aspect(step.verb, amount, recipient.affects, reach, around.cue, sign, None, about, many, held, around.choices, around.loops)


MOST_LISTS = 16
_MATCHED: dict[int, tuple[tuple[PriceRow, ...], dict[Named, tuple[PriceRow, ...]]]] = {}


def best_rows(aspect: Aspect, rows: tuple[PriceRow, ...]) -> tuple[PriceRow, ...]:
    """The most specific matching rows: none, the one that prices it, or several that match equally well.

    Results are cached for the latest lists of rows: many effects of a game are similar.
    """
    known = _MATCHED.get(id(rows))
    if known is None or known[0] is not rows:
        if len(_MATCHED) >= MOST_LISTS:
            _MATCHED.clear()
        known = _MATCHED[id(rows)] = (rows, {})
    found = known[1].get(aspect.named)
    if found is None:
        found = known[1][aspect.named] = _best(aspect, rows)
    return found


def _best(aspect: Aspect, rows: tuple[PriceRow, ...]) -> tuple[PriceRow, ...]:
    matching = [row for row in rows if row.verb == aspect.verb and _matches(row, aspect)]
    if len(matching) < 2:
        return tuple(matching)
    best = max(row.specificity for row in matching)
    return tuple(row for row in matching if row.specificity == best)


def _matches(row: PriceRow, aspect: Aspect) -> bool:
    pairs = (
        (row.resource, aspect.resource), (row.stat, aspect.stat), (row.affects, aspect.affects),
        (row.reach, aspect.reach), (row.cue, aspect.cue),
    )  # fmt: skip
    return all(wanted is None or wanted == found for wanted, found in pairs) and (row.qualifier is None or row.qualifier in aspect.qualifiers)


def said(aspect: Aspect, rulebook: Rulebook) -> str:
    """The effect in a few words for a ledger."""
    amount = str(aspect.amount.value) if isinstance(aspect.amount, Number) else "a count"
    if aspect.resource is not None:
        return f"{aspect.verb} {amount} {rulebook.resource(aspect.resource).name.lower()}"
    if aspect.stat is not None:
        field = rulebook.cards.field(aspect.stat)
        if field is None:
            return f"{aspect.verb} {aspect.stat}"
        lasting = "always " if aspect.cue == "always" else ""
        return f"{lasting}{aspect.verb} {field.name.lower()} by {amount}"
    if aspect.verb not in VERBS or VERBS[aspect.verb].form == "amount":
        return f"{aspect.verb} {amount}"
    whom = {"self": "own", "rival": "rival", "anyone": "any"}[aspect.affects]
    aim = {"this": "this card", "one": f"one {whom}", "all": f"all {whom}"}[aspect.reach]
    return f"{aspect.verb} {amount} to {aim}"
