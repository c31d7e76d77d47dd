"""Compile setup and turn to instructions: each phase is a sequence of rule steps."""

from __future__ import annotations

from typing import Any, assert_never

from dramok.core.engine.ability_program import instruction
from dramok.core.engine.group_rows import Groups, place_of
from dramok.core.engine.kernel import codes as k
from dramok.core.rulebook.phase_actions import (
    Doing,
    DrawsCards,
    GainResource,
    GrowCounters,
    GrowResources,
    PlayCards,
    Refills,
    RevealTop,
    Scheduled,
    SimpleAction,
)

MAY = {"play": k.MAY_PLAY, "use": k.MAY_USE, "buy": k.MAY_BUY}
FIRST = {"all": 0, "later seats": 1, "none": 2}
SIMPLY = {
    "straighten": (k.O_STRAIGHTEN,), "clash": (k.O_SEND, k.O_ANSWER, k.O_CLASH, k.O_CLASH_END), "hand limit": (k.O_HAND_LIMIT,),
    "clear damage": (k.O_CLEAR,), "recall": (k.O_RECALL,), "discard hand": (k.O_DISCARD_HAND,), "clear away": (k.O_CLEAR_AWAY,),
    "refill rows": (k.O_ROWS,),
}  # fmt: skip


def turn_code(memory: Any, groups: Groups) -> tuple[int, int]:
    """Write the setup and the turn, and the single steps that plays push. Returns the addresses of both."""
    play, table = memory.play, memory.rulebook.table
    answers = instruction(k.O_ANSWERS, I_GROUP=memory.types_mask(play.answers.types)) if play.answers else None
    memory.head(
        H_AFTER_PLAY=memory.add(instruction(k.O_AFTER_PLAY)), H_OVER=memory.add([*instruction(k.O_OVER), *instruction(k.O_END)]),
        H_ANSWER_PLAYS=memory.add(answers) if answers else 0,
    )  # fmt: skip
    before = [instruction(k.O_SHUFFLE_ALL), instruction(k.O_OPENING), instruction(k.O_REDRAW)]
    for seat in range(1, play.seats):
        extra = [instruction(k.O_DRAW, I_AMT=play.set_up.second_draws)] if play.set_up.second_draws else []
        extra += [
            instruction(k.O_GAIN, I_X=memory.resource(what), I_LEAST=number, I_MOST=number)
            for what, number in sorted(play.set_up.second_gains.items())
        ]
        before += [instruction(k.O_SEAT, I_X=seat), *extra] if extra else []
    before += [instruction(k.O_SEAT, I_X=0), instruction(k.O_MATCH)]
    turn: list[list[int]] = [instruction(k.O_TURN)]
    for number, phase in enumerate(play.phases):
        body = [row for doing in phase.does for row in _doing(doing, memory, table.turn_draw, table.opening_hand)]
        turn.append(instruction(k.O_PHASE, I_X=number))
        if phase.whose == "each":
            for seat in range(play.seats):
                turn.append(instruction(k.O_SEAT, I_X=seat, I_JUMP=len(turn) + 1 + len(body)))
                turn += [list(row) for row in body]
        else:
            turn += body
        turn.append(instruction(k.O_PHASE_END, I_X=number))
    turn += [instruction(k.O_TURN_END), instruction(k.O_NEXT_TURN)]
    setup = memory.add(number for row in before for number in row)
    start = setup + len(before) * k.WIDTH
    for row in turn:
        if row[k.I_JUMP] >= 0:
            row[k.I_JUMP] = start + row[k.I_JUMP] * k.WIDTH
    return setup, memory.add(number for row in turn for number in row)


def _doing(doing: Doing, memory: Any, turn_draw: int, opening: int) -> list[list[int]]:
    match doing:
        case DrawsCards():
            number = turn_draw if doing.number is None else doing.number
            return [instruction(k.O_DRAW, I_AMT=number, I_WISH=FIRST[doing.first])]
        case Refills():
            return [instruction(k.O_DRAW, I_AMT=opening if doing.number is None else doing.number, I_Y=1)]
        case GrowResources():
            return [instruction(k.O_GROW, I_WISH=FIRST[doing.first])]
        case GainResource():
            most = doing.number if doing.most is None else doing.most
            return [instruction(k.O_GAIN, I_X=memory.resource(doing.resource), I_LEAST=doing.number, I_MOST=most)]
        case PlayCards():
            mask = memory.types_mask(doing.types) if doing.types else 0
            return [instruction(k.O_ASK, I_GROUP=mask, I_MOST=doing.most or 0, I_X=sum(MAY[each] for each in set(doing.may)), I_Y=int(doing.one))]
        case RevealTop():
            return [instruction(k.O_TURN_OVER, I_X=memory.zones.index(doing.zone))]
        case Scheduled():
            return [instruction(k.O_SCHEDULED, I_X=memory.zones.index(doing.zone), I_Y=place_of(doing.field, memory.stats, "number"))]
        case GrowCounters():
            return [instruction(k.O_COUNTERS, I_X=int(doing.each == "round"))]
        case SimpleAction():
            return [instruction(op) for op in SIMPLY[doing.do]]
    assert_never(doing)
