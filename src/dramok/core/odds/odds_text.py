"""Chances in words."""

from __future__ import annotations

from fractions import Fraction

from dramok.core.odds.groups import Condition, Event

DENOMINATORS = (2, 3, 4, 5, 6, 8, 10, 12, 15, 20)
CLOSE = 0.012
RARE = 1e-9


def percent(chance: float) -> str:
    """Whole percents; near 0 and 100 with enough places to differ from never and always."""
    if chance <= 0 or chance >= 1:
        return "0 %" if chance <= 0 else "100 %"
    for places in (0, 1, 2):
        shown = f"{100 * chance:.{places}f}"
        if 0 < float(shown) < 100:
            return f"{shown} %"
    return "under 0.01 %" if chance < 0.5 else "over 99.99 %"


def in_games(chance: float) -> str:
    """As a number of games: `about 3 games in 5`."""
    if chance <= 0:
        return "never"
    if chance >= 1:
        return "always"
    if chance < RARE or 1 - chance < RARE:
        return "hardly ever" if chance < RARE else "nearly always"
    if chance < 0.04:
        return f"about 1 game in {round(1 / chance):,}"
    if chance > 0.96:
        return f"all but about 1 game in {round(1 / (1 - chance)):,}"
    part = min(
        (Fraction(round(chance * every), every) for every in DENOMINATORS),
        key=lambda each: (abs(float(each) - chance) > CLOSE, each.denominator if abs(float(each) - chance) <= CLOSE else abs(float(each) - chance)),
    )  # fmt: skip
    return f"about {part.numerator} {'game' if part.numerator == 1 else 'games'} in {part.denominator}"


def said(event: Event, names: tuple[str, ...]) -> str:
    """An event in words: `at least 2 of Larch and no Reed`. `names` are the groups' names, by number."""
    word = " and " if event.join == "all" else " or "
    return word.join(_condition(each, names[each.group]) for each in event.conditions)


def _condition(asked: Condition, name: str) -> str:
    if asked.how != "at least" and asked.count == 0:
        return f"none of {name}"
    return f"{asked.how} {asked.count} of {name}"
