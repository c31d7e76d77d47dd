"""Worth minus budget, as a ledger of signed lines."""

from __future__ import annotations

from dataclasses import dataclass
from decimal import Decimal
from typing import Literal

from dramok.core.balance.aspects import Aspect, aspects_of, best_rows, said
from dramok.core.balance.prices import PriceList, shown
from dramok.core.cards import Card, NumberField
from dramok.core.effects.model import Number
from dramok.core.problem import Problem
from dramok.core.rulebook import Rulebook

Judgement = Literal["over", "fair", "under", "open"]


@dataclass(frozen=True)
class LedgerLine:
    """`points` are signed: what the card gives is positive, what the cost buys negative. None while open.

    Of an effect: its `aspect`, and the ids of the price `rows` that match it best, which is one where it is priced.
    """

    what: str
    points: Decimal | None
    why: str
    part: Literal["worth", "budget"]
    field: str
    aspect: Aspect | None = None
    rows: tuple[str, ...] = ()


@dataclass(frozen=True)
class Ledger:
    """`difference` = worth - budget = the sum of every line's points. `judgement` is open when any line is."""

    lines: tuple[LedgerLine, ...]
    worth: Decimal
    budget: Decimal
    difference: Decimal
    judgement: Judgement
    problems: tuple[Problem, ...] = ()


def verdict(card: Card, rulebook: Rulebook, prices: PriceList) -> Ledger:
    """Prices one card: its stats, each step of each ability, and the budget that its cost buys."""
    lines = [*_stat_lines(card, rulebook, prices)]
    problems: list[Problem] = []
    for ability in card.script(rulebook.roles.effect).abilities:
        for aspect in aspects_of(ability):
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
    budget = prices.budget_of(card.type)
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


def _priced(aspect: Aspect, rulebook: Rulebook, prices: PriceList, problems: list[Problem]) -> LedgerLine:
    what, field = said(aspect, rulebook), rulebook.roles.effect or ""
    best = best_rows(aspect, prices.rows)
    rows = tuple(row.id for row in best)
    if len(best) > 1:
        names = " and ".join(rows)
        problems.append(
            Problem(
                where="prices",
                what=f"{names} match “{aspect.verb}” equally well",
                mend="make one of them more specific",
            )
        )
        return LedgerLine(what, None, f"{names} match it equally well", "worth", field, aspect, rows)
    if not best:
        return LedgerLine(what, None, "no price row matches it", "worth", field, aspect)
    row = best[0]
    if row.curve is None:
        return LedgerLine(what, None, f"{row.id} is open", "worth", field, aspect, rows)
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
        aspect,
        rows,
    )
