"""Manual moves in names of the game, converted to decisions of the kernel."""

from __future__ import annotations

from dataclasses import dataclass

from dramok.core.engine.kernel import codes as k
from dramok.core.engine.match import BY_HAND, NotAnOption, Option
from dramok.core.engine.program import Program

HANDS = ("move", "top", "look", "shuffle", "total", "damage", "tilt", "stat")
"""The kinds of manual moves."""


@dataclass(frozen=True)
class ByHand:
    """One manual move: see `HANDS`.

    `move`: `card` (of the table) to `zone` of `seat`, on top or `under`. `top`: the top card of `pile` of
    `pile_seat` there. `look` through, or `shuffle`, `zone` of `seat`. `total`: set `what` of `seat` to
    `number`; `damage`: that on `card`; `tilt`: 1 or 0; `stat`: change `what` of `card` by `number`, which may
    be negative.
    """

    do: str
    card: int = -1
    zone: str = ""
    seat: int = 0
    pile: str = ""
    pile_seat: int = 0
    under: bool = False
    what: str = ""
    number: int = 0


def option_of(program: Program, hand: ByHand) -> Option:
    """The decision of the kernel. Raises NotAnOption for an unknown name, or a number out of bounds."""
    if hand.do not in HANDS:
        raise NotAnOption(f"{hand.do[:40]} can't be done by hand: {', '.join(HANDS)}")
    do = BY_HAND + hand.do
    if hand.do == "move":
        return Option(do, hand.card, _place(program, hand.zone, hand.seat) * 2 + hand.under)
    if hand.do == "top":
        pile = _place(program, hand.pile, hand.pile_seat)
        return Option(do, -1, (pile * k.PLACES + _place(program, hand.zone, hand.seat)) * 2 + hand.under)
    if hand.do in ("look", "shuffle"):
        return Option(do, -1, _place(program, hand.zone, hand.seat))
    if abs(hand.number) > k.MOST_NUMBER or hand.number < 0 and hand.do != "stat":
        raise NotAnOption(f"{hand.number} is out of bounds: write a whole number up to {k.MOST_NUMBER:,}")
    if hand.do == "total":
        resources = [each.id for each in program.rulebook.resources]
        return Option(do, _index(resources, hand.what, "resource"), hand.number * k.MOST_SEATS + _seat(program, hand.seat))
    if hand.do == "stat":
        return Option(do, hand.card, (hand.number + k.MOST_NUMBER) * k.MOST_STATS + _index(program.stats, hand.what, "stat"))
    return Option(do, hand.card, hand.number)


def _seat(program: Program, seat: int) -> int:
    if not 0 <= seat < program.seats:
        raise NotAnOption(f"there is no seat {seat + 1}: this game has {program.seats}")
    return seat


def _place(program: Program, zone: str, seat: int) -> int:
    at = _index([each or "-" for each in program.zones], zone, "zone")
    shared = program.numbers[program.numbers[k.H_ZONE_ROWS] + at * k.ZONE_WIDTH + k.Z_STRIDE] == 0
    return at * k.MOST_SEATS + (0 if shared else _seat(program, seat))


def _index(names: list[str] | tuple[str, ...], name: str, kind: str) -> int:
    if name not in names:
        raise NotAnOption(f"this game has no {kind} {name[:40] or 'without a name'}: {', '.join(each for each in names if each != '-')}")
    return names.index(name)
