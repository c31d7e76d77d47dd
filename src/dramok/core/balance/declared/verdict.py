"""Worth minus budget, as a ledger of signed lines."""

from __future__ import annotations

import dataclasses
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from decimal import Decimal
from functools import partial
from itertools import count
from typing import Literal

from dramok.core.balance.declared.card_worth import PricedParts, priced_parts
from dramok.core.balance.declared.effect_aspects import Aspect, aspects_of, best_rows, said
from dramok.core.balance.declared.prices import PriceList, PriceRow, Qualifier, shown
from dramok.core.cards import Card
from dramok.core.effects.pronouns import expected
from dramok.core.problem import Problem, fold
from dramok.core.rulebook import Rulebook

Judgement = Literal["over", "fair", "under", "open"]


Words = tuple[str, str]


@dataclass(slots=True)
class LedgerLine:
    """`points` are signed: positive for what the card gives, negative for what the cost buys; None while
    undecided. Immutable by convention.

    For an effect: its `aspect`, and the ids of the price `rows` that match best; one if it is priced. `say`
    writes the line in words on demand: the map of a thousand cards needs none.
    """

    points: Decimal | None
    part: Literal["worth", "budget"]
    field: str
    say: Callable[[], Words] = dataclasses.field(repr=False, compare=False)
    aspect: Aspect | None = None
    rows: tuple[str, ...] = ()
    _said: Words | None = dataclasses.field(default=None, repr=False, compare=False)

    @property
    def words(self) -> Words:
        if self._said is None:
            self._said = self.say()
        return self._said

    @property
    def what(self) -> str:
        return self.words[0]

    @property
    def why(self) -> str:
        return self.words[1]


@dataclass(frozen=True)
class Ledger:
    """`difference` = worth - budget = the sum of all points. `judgement` is undecided if any line is."""

    lines: tuple[LedgerLine, ...]
    worth: Decimal
    budget: Decimal
    difference: Decimal
    judgement: Judgement
    problems: tuple[Problem, ...] = ()


def verdict(card: Card, rulebook: Rulebook, prices: PriceList) -> Ledger:
    """Price one card: its stats, each step of each ability, and its budget."""
    facts, roles = priced_parts(card, rulebook), rulebook.roles
    problems: list[Problem] = []
    lines = [_stat_line(*each, prices.stats.get(each[0])) for each in facts.stats]
    # Choice blocks from keywords have numbers below those of the card's own lines.
    brought = count(-1, -1)
    lines += _chosen([line for aspect in facts.aspects for line in _of_aspect(aspect, rulebook, prices, problems, brought)])
    if facts.unwritten:
        lines.append(LedgerLine(None, "worth", roles.effect or "", lambda: _UNWRITTEN))
    lines += _budget_lines(card.type, facts, rulebook, prices)
    worth = budget = _ZERO
    for line in lines:
        if line.points is not None:
            if line.part == "worth":
                worth += line.points
            else:
                budget -= line.points
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


_UNWRITTEN = ("behaviour not written", "text that no effect line says is not priced")
_ZERO, _ONE = Decimal(0), Decimal(1)


def _stat_line(ident: str, name: str, number: Decimal, each: Decimal | None) -> LedgerLine:
    points = None if each is None else each * number
    return LedgerLine(points, "worth", ident, partial(_say_stat, name, number, each))


def _say_stat(name: str, number: Decimal, each: Decimal | None) -> Words:
    why = f"{number} × {shown(each)}" if each is not None else "this stat has no worth yet"
    return f"{name} {number}", why


def _budget_lines(
    card_type: str, facts: PricedParts, rulebook: Rulebook, prices: PriceList
) -> Iterator[LedgerLine]:
    roles, cost, budget = rulebook.roles, facts.cost, prices.budget_of(card_type)
    if cost is None or budget is None:
        why = "the card has no cost" if cost is None else "this card type has no budget yet"
        yield LedgerLine(None, "budget", roles.cost or "", lambda: ("budget", why))
        return
    say = partial(_say_budget, cost if roles.cost else None)
    yield LedgerLine(-budget.at(cost), "budget", roles.cost or "", say)
    allowance = budget.rarity.get(facts.rarity, _ZERO)
    if allowance:
        say = partial(_say_rarity, rulebook, facts.rarity)
        yield LedgerLine(-allowance, "budget", roles.rarity or "", say)


def _say_budget(cost: int | None) -> Words:
    if cost is None:
        return "Budget of every card", "the game has no costs: one budget for all"
    return f"Budget at cost {cost}", f"what a cost of {cost} allows"


def _say_rarity(rulebook: Rulebook, rarity: str) -> Words:
    choices = rulebook.cards.choices(rulebook.cards.field(rulebook.roles.rarity))
    choice = choices.get(rarity) if choices else None
    return f"{choice.name if choice else rarity} bonus", "allowance for its rarity"


def _priced(aspect: Aspect, rulebook: Rulebook, prices: PriceList, problems: list[Problem]) -> LedgerLine:
    best = best_rows(aspect, prices.rows)
    rows = tuple([row.id for row in best])
    if len(best) > 1:
        problems.append(
            Problem(
                where="prices",
                what=f"{_both(rows)} match “{aspect.verb}” equally well",
                mend="make one of them more specific",
            )
        )
    curve = best[0].curve if len(best) == 1 else None
    points = None
    if curve is not None:
        points = curve.at(_amount(aspect, prices)) * aspect.many * sign_of(aspect, best[0])
        for times in multipliers(aspect, best[0], prices):
            points *= times
    say = partial(_say_effect, aspect, best, rulebook, prices)
    return LedgerLine(points, "worth", rulebook.roles.effect or "", say, aspect, rows)


MOST_NAMED = 3


def _both(names: tuple[str, ...]) -> str:
    """Names of rows in words; of many, the first."""
    more = len(names) - MOST_NAMED
    return " and ".join([*names[:MOST_NAMED], *([f"{more} more"] if more > 0 else [])])


def sign_of(aspect: Aspect, row: PriceRow) -> int:
    """The sign of an effect for its card.

    Effects on both sides alike count 0, unless the row applies to anyone: then its points count as given, and
    may be negative. The same holds for effects with sign 0.
    """
    return aspect.sign or int(aspect.affects != "anyone" or row.affects == "anyone")


def _amount(aspect: Aspect, prices: PriceList) -> Decimal:
    return expected(aspect.amount, prices.expected_count, {})


def multipliers(aspect: Aspect, row: PriceRow, prices: PriceList) -> tuple[Decimal, ...]:
    """The factors of the moment, scope and qualifiers that the row does not name."""
    everyone = prices.all_counts_as if aspect.reach == "all" and row.reach is None else _ONE
    moment = prices.cues.get(aspect.cue, _ONE) if row.cue is None else _ONE
    each = prices.expected_count**aspect.loops if aspect.loops else _ONE
    return everyone * each, moment, *[_ONE if each == row.qualifier else prices.counts_as(each) for each in aspect.qualifiers]


def _of_aspect(aspect: Aspect, rulebook: Rulebook, prices: PriceList, problems: list[Problem], blocks: Iterator[int]) -> list[LedgerLine]:
    """The line of an effect.

    A keyword without a row is worth its effect, if written; `blocks` numbers its choice blocks.
    """
    line = _priced(aspect, rulebook, prices, problems)
    if aspect.verb != "has" or line.rows:
        return [line]
    body = next((each.effect for each in rulebook.keywords if each.id == fold(aspect.stat or "")), None)
    does = [] if body is None else [inner for ability in body.abilities for inner in aspects_of(ability, blocks) if inner.verb != "has"]
    return [_priced(inner, rulebook, prices, problems) for inner in does] or [line]


def _chosen(lines: list[LedgerLine], depth: int = 0) -> list[LedgerLine]:
    """For each choice block the best options count, as many as are chosen; the others count 0.

    With an undecided option nothing is dropped.
    """
    blocks: dict[int, dict[int, list[LedgerLine]]] = {}
    for line in lines:
        choices = line.aspect.choices if line.aspect is not None else ()
        if len(choices) > depth:
            blocks.setdefault(choices[depth][0], {}).setdefault(choices[depth][1], []).append(line)
    for options in blocks.values():
        for option in options.values():
            _chosen(option, depth + 1)
        if any(line.points is None for option in options.values() for line in option):
            continue
        first = next(iter(options.values()))[0]
        assert first.aspect is not None
        worth = {place: sum((line.points or _ZERO for line in option), _ZERO) for place, option in options.items()}
        best = sorted(worth, key=lambda place: (-worth[place], place))[: first.aspect.choices[depth][2]]
        for place, option in options.items():
            if place not in best:
                for line in option:
                    line.points, line.say = _ZERO, partial(_say_other, line.say)
    return lines


def _say_other(say: Callable[[], Words]) -> Words:
    return say()[0], "another choice is worth more"


HOLDS: dict[Qualifier, str] = {
    "condition": "under a condition", "limit": "only so often", "until": "for a while", "may": "if one likes", "offer": "at a price",
}  # fmt: skip


def _say_effect(aspect: Aspect, best: tuple[PriceRow, ...], rulebook: Rulebook, prices: PriceList) -> Words:
    what = said(aspect, rulebook)
    if len(best) != 1:
        names = _both(tuple(row.id for row in best))
        return what, f"{names} match it equally well" if best else "no worth matches it"
    row = best[0]
    if row.curve is None:
        return what, f"{row.id} is undecided"
    why = f"{row.id}: {shown(row.curve.at(_amount(aspect, prices)))}"
    if aspect.many != 1:
        why += f" × {aspect.many}"
    everyone, times, *held = multipliers(aspect, row, prices)
    if everyone != 1:
        why += f" × {shown(everyone)} for {'each' if aspect.loops else 'all'}"
    if times != 1:
        why += f" × {times} on {aspect.cue}"
    for qualifier, counts in zip(aspect.qualifiers, held, strict=True):
        if counts != 1:
            why += f" × {shown(counts)} {HOLDS[qualifier]}"
    sign = sign_of(aspect, row)
    if sign == 0:
        return what, f"{why}, but it is the same for both sides: a worth that applies to anyone says what that is worth"
    return what, why + ("" if sign > 0 else ", a drawback")
