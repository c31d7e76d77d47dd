"""Worth minus budget, as a ledger of signed lines."""

from __future__ import annotations

from dataclasses import dataclass
from decimal import Decimal
from typing import Literal

from dramok.core.balance.prices import Affects, PriceList, PriceRow, shown
from dramok.core.cards import Card, NumberField
from dramok.core.effects.model import (
    Ability,
    All,
    Amount,
    Continuous,
    It,
    Number,
    Pick,
    Raise,
    Random,
    Step,
    Target,
    This,
    Triggered,
    resource_of,
    target_of,
)
from dramok.core.effects.verbs import VERBS
from dramok.core.problem import Problem
from dramok.core.rulebook import Rulebook

Judgement = Literal["over", "fair", "under", "open"]


@dataclass(frozen=True)
class LedgerLine:
    """`points` are signed: what the card gives is positive, what the cost buys negative. None while open."""

    what: str
    points: Decimal | None
    why: str
    part: Literal["worth", "budget"]
    field: str


@dataclass(frozen=True)
class Ledger:
    """`difference` = worth - budget = the sum of every line's points. `judgement` is open when any line is."""

    lines: tuple[LedgerLine, ...]
    worth: Decimal
    budget: Decimal
    difference: Decimal
    judgement: Judgement
    problems: tuple[Problem, ...] = ()


@dataclass(frozen=True)
class _Aspect:
    """What price rows are matched against."""

    verb: str
    amount: Amount
    affects: Affects
    reach: Literal["this", "one", "all"]
    cue: str
    benefit: bool
    resource: str | None = None
    stat: str | None = None
    many: Decimal = Decimal(1)


def verdict(card: Card, rulebook: Rulebook, prices: PriceList) -> Ledger:
    """Prices one card: its stats, each step of each ability, and the budget that its cost buys."""
    lines = [*_stat_lines(card, rulebook, prices)]
    problems: list[Problem] = []
    for ability in card.script(rulebook.roles.effect).abilities:
        for aspect in _aspects(ability):
            lines.append(_priced(aspect, rulebook, prices, problems))
    if card.script(rulebook.roles.effect).has_draft or _prose_only(card, rulebook):
        lines.append(
            LedgerLine(
                "behaviour not written",
                None,
                "text that no effect line says is not priced",
                "worth",
                rulebook.roles.effect or "",
            )
        )
    lines += _budget_lines(card, rulebook, prices)
    worth = sum(
        (line.points for line in lines if line.part == "worth" and line.points is not None), Decimal(0)
    )
    budget = -sum(
        (line.points for line in lines if line.part == "budget" and line.points is not None), Decimal(0)
    )
    is_open = any(line.points is None for line in lines)
    return Ledger(
        tuple(lines), worth, budget, worth - budget, _judge(worth - budget, is_open, prices), tuple(problems)
    )


def _judge(difference: Decimal, is_open: bool, prices: PriceList) -> Judgement:
    if is_open:
        return "open"
    if abs(difference) <= prices.tolerance:
        return "fair"
    return "over" if difference > 0 else "under"


def _prose_only(card: Card, rulebook: Rulebook) -> bool:
    return bool(card.text(rulebook.roles.printed)) and not card.script(rulebook.roles.effect).lines


def _stat_lines(card: Card, rulebook: Rulebook, prices: PriceList) -> list[LedgerLine]:
    lines = []
    for ident in rulebook.roles.stats:
        number, field = card.amount(ident), rulebook.cards.field(ident)
        if (
            number is None
            or not isinstance(field, NumberField)
            or not rulebook.cards.has_field(card.type, ident)
        ):
            continue
        each = prices.stats.get(ident)
        why = f"{number} × {shown(each)}" if each is not None else "this stat has no worth yet"
        lines.append(
            LedgerLine(
                f"{field.name} {number}",
                each * Decimal(str(number)) if each is not None else None,
                why,
                "worth",
                ident,
            )
        )
    return lines


def _budget_lines(card: Card, rulebook: Rulebook, prices: PriceList) -> list[LedgerLine]:
    cost, rarity = card.number(rulebook.roles.cost), card.text(rulebook.roles.rarity)
    budget = prices.budgets.get(card.type) or prices.budgets.get("")
    if rulebook.roles.cost is None:
        cost = 0
    if cost is None or budget is None:
        why = "the card has no cost" if cost is None else "this card type has no budget yet"
        return [LedgerLine("budget", None, why, "budget", rulebook.roles.cost or "")]
    lines = [
        LedgerLine(
            f"Budget at cost {cost}" if rulebook.roles.cost else "Budget of every card",
            -budget.at(cost),
            f"what a cost of {cost} allows"
            if rulebook.roles.cost
            else "the game has no costs: one budget for all",
            "budget",
            rulebook.roles.cost or "",
        )
    ]
    allowance = budget.rarity.get(rarity, Decimal(0))
    if allowance:
        choices = rulebook.cards.choices(rulebook.cards.field(rulebook.roles.rarity))
        choice = choices.get(rarity) if choices else None
        name = choice.name if choice else rarity
        lines.append(
            LedgerLine(
                f"{name} bonus",
                -allowance,
                "allowance for its rarity",
                "budget",
                rulebook.roles.rarity or "",
            )
        )
    return lines


def _aspects(ability: Ability) -> list[_Aspect]:
    if isinstance(ability, Continuous):
        return [_raise_aspect(each) for each in ability.raises]
    found: list[_Aspect] = []
    latest: Target = This()
    for step in ability.steps:
        target = target_of(step)
        if isinstance(target, It):
            target = latest
        elif isinstance(target, Pick):
            latest = target  # `it` is the latest pick, as at the table
        found.append(_step_aspect(step, target, ability))
    return found


def _raise_aspect(each: Raise) -> _Aspect:
    return _Aspect("raise", each.amount, "self", "this", "always", benefit=True, stat=each.stat)


def _step_aspect(step: Step, target: Target | None, ability: Triggered) -> _Aspect:
    if target is None:
        return _Aspect(
            step.verb,
            step.amount,
            "self",
            "this",
            ability.cue,
            benefit=VERBS[step.verb].helps,
            resource=resource_of(step),
        )
    affects: Affects = "self"
    reach: Literal["this", "one", "all"] = "this"
    many = Decimal(1)
    if isinstance(target, Pick | All | Random):
        affects = {"own": "self", "rival": "rival", "any": "anyone"}[target.group.side]  # type: ignore[assignment]
        reach = "all" if isinstance(target, All) else "one"
        many = Decimal(
            target.most if isinstance(target, Pick) else target.number if isinstance(target, Random) else 1
        )
    hurts = not VERBS[step.verb].helps
    # A pick of anyone's is used where it helps; hitting everyone alike, or by lot, cuts both ways.
    chosen = affects == "anyone" and isinstance(target, Pick)
    benefit = chosen or hurts == (affects == "rival")
    return _Aspect(step.verb, step.amount, affects, reach, ability.cue, benefit=benefit, many=many)


def _priced(aspect: _Aspect, rulebook: Rulebook, prices: PriceList, problems: list[Problem]) -> LedgerLine:
    what, field = _named(aspect, rulebook), rulebook.roles.effect or ""
    row = _row(aspect, prices, problems)
    if row is None or row.curve is None:
        why = "no price row matches it" if row is None else f"{row.id} is open"
        return LedgerLine(what, None, why, "worth", field)
    amount = Decimal(aspect.amount.value) if isinstance(aspect.amount, Number) else prices.expected_count
    points = row.curve.at(amount) * aspect.many
    why = f"{row.id}: {shown(row.curve.at(amount))}"
    if aspect.many != 1:
        why += f" × {aspect.many}"
    if aspect.reach == "all" and row.reach is None:
        points *= prices.all_counts_as
        why += f" × {prices.all_counts_as} for all"
    times = prices.cues.get(aspect.cue, Decimal(1))
    if times != 1 and row.cue is None:
        points *= times
        why += f" × {times} on {aspect.cue}"
    return LedgerLine(
        what,
        points if aspect.benefit else -points,
        why + ("" if aspect.benefit else ", a drawback"),
        "worth",
        field,
    )


def _row(aspect: _Aspect, prices: PriceList, problems: list[Problem]) -> PriceRow | None:
    """The most specific matching row; two equally specific ones are a problem that names both."""
    matching = [row for row in prices.rows if _matches(row, aspect)]
    if not matching:
        return None
    best = max(row.specificity for row in matching)
    winners = [row for row in matching if row.specificity == best]
    if len(winners) > 1:
        names = " and ".join(row.id for row in winners)
        problems.append(
            Problem(
                where="prices",
                what=f"{names} match “{aspect.verb}” equally well",
                mend="make one of them more specific",
            )
        )
        return None
    return winners[0]


def _matches(row: PriceRow, aspect: _Aspect) -> bool:
    if row.verb != aspect.verb:
        return False
    pairs = (
        (row.resource, aspect.resource), (row.stat, aspect.stat), (row.affects, aspect.affects),
        (row.reach, aspect.reach), (row.cue, aspect.cue),
    )  # fmt: skip
    return all(wanted is None or wanted == found for wanted, found in pairs)


def _named(aspect: _Aspect, rulebook: Rulebook) -> str:
    amount = str(aspect.amount.value) if isinstance(aspect.amount, Number) else "a count"
    if aspect.resource is not None:
        return f"{aspect.verb} {amount} {rulebook.resource(aspect.resource).name.lower()}"
    if aspect.stat is not None:
        field = rulebook.cards.field(aspect.stat)
        return f"always {aspect.verb} {field.name.lower() if field else aspect.stat} by {amount}"
    whom = {"self": "own", "rival": "rival", "anyone": "any"}[aspect.affects]
    aimed = {"this": "this card", "one": f"one {whom}", "all": f"all {whom}"}[aspect.reach]
    return (
        f"{aspect.verb} {amount}"
        if VERBS[aspect.verb].form == "amount"
        else f"{aspect.verb} {amount} to {aimed}"
    )
