"""One small function for each verb, and the check of the state that follows."""

from __future__ import annotations

from collections.abc import Callable, Mapping

from dramok.core.engine.chance import below
from dramok.core.engine.state import (
    DISCARD_PILE,
    DRAW_PILE,
    E_ABILITY,
    E_CAPPED,
    E_DEALT,
    E_DESTROYED,
    E_DISCARDED,
    E_GAINED,
    E_HEALED,
    E_LOST,
    E_NO_TARGET,
    E_NOTHING,
    E_REVEALED,
    FR_ABILITY,
    FR_CARD,
    FR_CURSOR,
    FR_LEFT,
    FR_PHASE,
    FRAME,
    HAND,
    IN_PLAY,
    K_ABILITY,
    ON_LEAVE,
    R_RANDOM,
    T_ALL,
    T_IT,
    T_PICK,
    T_THIS,
    V_DEAL,
    V_DISCARD,
    V_DRAW,
    V_GAIN,
    V_HEAL,
    V_LOSE,
    V_RAISE,
    V_REVEAL,
    W_DISCARD,
    W_PICK,
    Compiled,
    State,
)
from dramok.core.engine.targets import amount, members, stat
from dramok.core.engine.zones import card_at, count, draw, emit, move

READY, CHOSEN = 0, 1


def push(s: State, kind: int, ability: int, card: int) -> None:
    s.stack.extend((kind, ability, card, 0, READY, -1))
    s.frame_picks.append([])
    s.frames += 1


def pop(s: State) -> None:
    del s.stack[-FRAME:]
    s.frame_picks.pop()
    s.frames -= 1


def trigger(t: Compiled, s: State, cue: int, card: int) -> None:
    """Puts the card's abilities with this cue on the stack, the first on top."""
    row = s.card_def[card] * 2
    for ability in range(t.def_abilities[row + 1] - 1, t.def_abilities[row] - 1, -1):
        if t.ability_cue[ability] == cue:
            push(s, K_ABILITY, ability, card)


def leave(t: Compiled, s: State, cards: list[int], kind: int) -> None:
    """Cards leave play together; then their leave effects, by (seat, arrival)."""
    for card in cards:
        emit(s, kind, s.card_seat[card], card)
        move(s, card, DISCARD_PILE)
    for card in reversed(cards):
        trigger(t, s, ON_LEAVE, card)


def check_state(t: Compiled, s: State) -> None:
    """Cards whose damage reaches their limit are destroyed, as often as that changes anything."""
    while t.damage_limit >= 0:
        gone: list[int] = []
        for seat in range(s.seats):
            for place in range(count(s, seat, IN_PLAY)):
                card = card_at(s, seat, IN_PLAY, place)
                limit = stat(t, s, card, t.damage_limit)
                if limit >= 0 and s.card_damage[card] >= limit:
                    gone.append(card)
        if not gone:
            return
        leave(t, s, gone, E_DESTROYED)


def do_ability(t: Compiled, s: State) -> None:
    """Moves the ability on top of the stack on by one step, or asks its seat, or takes it off."""
    base = len(s.stack) - FRAME
    ability, card, cursor = s.stack[base + FR_ABILITY], s.stack[base + FR_CARD], s.stack[base + FR_CURSOR]
    step = t.ability_steps[ability * 2] + cursor
    if step >= t.ability_steps[ability * 2 + 1]:
        pop(s)
        return
    if cursor == 0 and s.stack[base + FR_LEFT] == -1:
        emit(s, E_ABILITY, s.card_seat[card], card, t.ability_cue[ability])
        s.stack[base + FR_LEFT] = 0
    done = _do_step(t, s, step, card, base)
    if done:
        s.stack[base + FR_CURSOR] = cursor + 1
        s.stack[base + FR_PHASE] = READY
        check_state(t, s)


def _do_step(t: Compiled, s: State, step: int, card: int, base: int) -> int:
    verb, seat, number = t.step_verb[step], s.card_seat[card], amount(t, s, step, card)
    if number == 0 and not (verb == V_DISCARD and s.stack[base + FR_PHASE] == CHOSEN):
        emit(s, E_NOTHING, seat, card)
        return 1
    return DO[verb](t, s, step, card, number, base)


def _draw(t: Compiled, s: State, step: int, card: int, number: int, base: int) -> int:
    for _ in range(number):
        draw(t, s, s.card_seat[card])
    return 1


def _reveal(t: Compiled, s: State, step: int, card: int, number: int, base: int) -> int:
    """Shows the top of the draw pile, the top card first; an empty pile is not refilled for it."""
    seat = s.card_seat[card]
    held = count(s, seat, DRAW_PILE)
    for place in range(min(number, held)):
        emit(s, E_REVEALED, seat, card_at(s, seat, DRAW_PILE, held - 1 - place))
    if held == 0:
        emit(s, E_NOTHING, seat, card)
    return 1


def _gain(t: Compiled, s: State, step: int, card: int, number: int, base: int) -> int:
    gain(t, s, s.card_seat[card], t.step_what[step], number)
    return 1


def _discard(t: Compiled, s: State, step: int, card: int, number: int, base: int) -> int:
    """Asks for one card after another. Must discard two, holds one: discards one."""
    seat = s.card_seat[card]
    held = count(s, seat, HAND)
    if s.stack[base + FR_PHASE] == READY:
        if held == 0:
            emit(s, E_NOTHING, seat, s.stack[base + FR_CARD])
            return 1
        s.stack[base + FR_PHASE] = CHOSEN
        s.stack[base + FR_LEFT] = min(number, held)
    if s.stack[base + FR_LEFT] == 0:
        return 1
    if s.stack[base + FR_LEFT] >= held:
        while count(s, seat, HAND) > 0:
            discard(s, card_at(s, seat, HAND, 0))
        return 1
    s.waiting, s.waiting_seat = W_DISCARD, seat
    return 0


def discard(s: State, card: int) -> None:
    emit(s, E_DISCARDED, s.card_seat[card], card)
    move(s, card, DISCARD_PILE)


def _on_targets(
    t: Compiled,
    s: State,
    step: int,
    card: int,
    number: int,
    base: int,
    change: Callable[[State, int, int, int], None],
) -> int:
    if t.step_target[step] == T_PICK and s.stack[base + FR_PHASE] == READY:
        found = members(t, s, t.step_group[step], card)
        if found:
            ask_picks(t, s, step, len(found))
            s.waiting, s.waiting_seat = W_PICK, s.card_seat[card]
            return 0
        s.frame_picks[-1] = []
    targets = _targets(t, s, step, card)
    if not targets:
        emit(s, E_NO_TARGET, s.card_seat[card], card, t.step_verb[step], number)
        return 1
    for each in targets:
        change(s, each, number, card)
    return 1


def _deal(t: Compiled, s: State, step: int, card: int, number: int, base: int) -> int:
    return _on_targets(t, s, step, card, number, base, _damage)


def _damage(s: State, target: int, number: int, card: int) -> None:
    s.card_damage[target] += number
    emit(s, E_DEALT, s.card_seat[card], target, number, card)


def _heal(t: Compiled, s: State, step: int, card: int, number: int, base: int) -> int:
    return _on_targets(t, s, step, card, number, base, _undamage)


def _undamage(s: State, target: int, number: int, card: int) -> None:
    healed = min(number, s.card_damage[target])
    s.card_damage[target] -= healed
    emit(s, E_HEALED, s.card_seat[card], target, healed, card)


def ask_picks(t: Compiled, s: State, step: int, found: int) -> None:
    """Begins a pick: at least as many as the step says, or all there are."""
    s.pick_cards = []
    s.pick_most = min(t.step_most[step], found)
    s.pick_least = min(t.step_least[step], found)


def _targets(t: Compiled, s: State, step: int, card: int) -> list[int]:
    mode = t.step_target[step]
    if mode == T_THIS:
        return [card] if s.card_zone[card] == IN_PLAY else []
    if mode in (T_PICK, T_IT):
        return [each for each in s.frame_picks[-1] if s.card_zone[each] == IN_PLAY]
    found = members(t, s, t.step_group[step], card)
    if mode == T_ALL:
        return found
    chosen: list[int] = []
    while found and len(chosen) < t.step_most[step]:
        chosen.append(found.pop(below(s, s.card_seat[card], R_RANDOM, len(found))))
    return chosen


def gain(t: Compiled, s: State, seat: int, what: int, number: int) -> None:
    """Adds to a resource, up to its cap; what is over the cap is lost."""
    place = what if t.resource_shared[what] else seat * t.resources + what
    room = (
        number if t.resource_cap[what] < 0 else max(0, min(number, t.resource_cap[what] - s.resource[place]))
    )
    s.resource[place] += room
    if room:
        emit(s, E_GAINED, seat, -1, what, room)
    if room < number:
        emit(s, E_CAPPED, seat, -1, what, number - room)


def _lose(t: Compiled, s: State, step: int, card: int, number: int, base: int) -> int:
    seat, what = s.card_seat[card], t.step_what[step]
    place = what if t.resource_shared[what] else seat * t.resources + what
    gone = min(number, s.resource[place])
    s.resource[place] -= gone
    emit(s, E_LOST, seat, -1, what, gone)
    return 1


def _lasting(t: Compiled, s: State, step: int, card: int, number: int, base: int) -> int:
    """A lasting change is no step: it is read where the stat is (`targets.stat`)."""
    raise AssertionError("a lasting change stands on the stack")


DO: Mapping[int, Callable[[Compiled, State, int, int, int, int], int]] = {
    V_DRAW: _draw,
    V_DISCARD: _discard,
    V_DEAL: _deal,
    V_HEAL: _heal,
    V_GAIN: _gain,
    V_LOSE: _lose,
    V_RAISE: _lasting,
    V_REVEAL: _reveal,
}
"""What a verb does, by its number: 1 when the step is done, 0 while its seat is asked."""
