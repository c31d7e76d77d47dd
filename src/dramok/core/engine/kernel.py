"""The match moved on until somebody must decide. The stack is explicit: what is on top goes first."""

from __future__ import annotations

from dramok.core.engine.chance import seed_streams
from dramok.core.engine.state import (
    D_CANCEL,
    D_DISCARD,
    D_DISMISS,
    D_DONE,
    D_DRAW,
    D_END_TURN,
    D_PICK,
    D_PLAY,
    DISCARD_PILE,
    DRAW_PILE,
    E_DISCARDED,
    E_ENTERED,
    E_LEFT,
    E_OVER_LIMIT,
    E_PAID,
    E_PICKED,
    E_PLAYED,
    E_RUNAWAY,
    E_TURN,
    FR_CARD,
    FR_CURSOR,
    FR_KIND,
    FR_LEFT,
    FR_PHASE,
    FRAME,
    HAND,
    IN_PLAY,
    K_ABILITY,
    K_AFTER_PLAY,
    MOST_STEPS,
    ON_ENTER,
    ON_PLAY,
    RESOLVING,
    T_PICK,
    W_ACTION,
    W_DECLARE,
    W_DISCARD,
    W_LIMIT,
    W_NOTHING,
    W_PICK,
    Compiled,
    State,
)
from dramok.core.engine.steps import (
    CHOSEN,
    ask_picks,
    check_state,
    discard,
    do_ability,
    gain,
    leave,
    pop,
    push,
    trigger,
)
from dramok.core.engine.targets import members
from dramok.core.engine.zones import card_at, count, draw, emit, move, put, shuffle


def begin(t: Compiled, s: State, decks: list[list[int]], seed: int) -> None:
    """Sets the table: decks shuffled, resources at their start, opening hands drawn."""
    seed_streams(s, seed)
    card = 0
    for seat in range(s.seats):
        for definition in decks[seat]:
            s.card_def[card], s.card_seat[card] = definition, seat
            put(s, card, DRAW_PILE)
            card += 1
        shuffle(s, seat)
        for what in range(t.resources):
            s.resource[seat * t.resources + what] = t.resource_start[what]
    emit(s, E_TURN, 0, -1, s.turn)
    for seat in range(s.seats):
        for _ in range(t.opening_hand):
            draw(t, s, seat)
    run(t, s)


def run(t: Compiled, s: State) -> None:
    """Goes on until a seat must decide, or the match is cut off as a runaway."""
    while s.waiting == W_NOTHING and not s.over:
        s.steps_done += 1
        if s.steps_done > MOST_STEPS:
            s.over = 1
            emit(s, E_RUNAWAY, 0, s.stack[-FRAME + FR_CARD] if s.frames else -1)
        elif s.frames == 0:
            _rest(t, s)
        elif s.stack[-FRAME + FR_KIND] == K_ABILITY:
            do_ability(t, s)
        else:
            _after_play(t, s)


def _rest(t: Compiled, s: State) -> None:
    """Nothing is resolving: hands over the limit are asked to discard, then it is time to act."""
    s.steps_done = 0
    for seat in range(s.seats):
        over = count(s, seat, HAND) - t.hand_limit
        if t.hand_limit >= 0 and over > 0:
            emit(s, E_OVER_LIMIT, seat, -1, over, t.hand_limit)
            s.waiting, s.waiting_seat = W_LIMIT, seat
            return
    s.waiting, s.waiting_seat = W_ACTION, 0


def _after_play(t: Compiled, s: State) -> None:
    card = s.stack[-FRAME + FR_CARD]
    pop(s)
    if s.card_zone[card] == RESOLVING:
        emit(s, E_DISCARDED, s.card_seat[card], card, 1)
        move(s, card, DISCARD_PILE)


def options(t: Compiled, s: State) -> list[tuple[int, int]]:
    """Every legal decision (what, card) of the seat that must decide; card -1 where none is meant."""
    seat = s.waiting_seat
    hand = [card_at(s, seat, HAND, place) for place in range(count(s, seat, HAND))]
    if s.over or s.waiting == W_NOTHING:
        return []
    if s.waiting in (W_DISCARD, W_LIMIT):
        return [(D_DISCARD, card) for card in hand]
    if s.waiting in (W_PICK, W_DECLARE):
        return _pick_options(t, s)
    found = [(D_PLAY, card) for card in hand if can_pay(t, s, card)]
    found += [(D_DISCARD, card) for card in hand]
    found += [(D_DISMISS, card_at(s, seat, IN_PLAY, place)) for place in range(count(s, seat, IN_PLAY))]
    if count(s, seat, DRAW_PILE) or (t.reshuffles and count(s, seat, DISCARD_PILE)):
        found.append((D_DRAW, -1))
    found.append((D_END_TURN, -1))
    return found


def can_pay(t: Compiled, s: State, card: int) -> bool:
    if t.pays < 0:
        return True
    return s.resource[_purse(t, s.card_seat[card])] >= max(0, t.def_cost[s.card_def[card]])


def _purse(t: Compiled, seat: int) -> int:
    return t.pays if t.resource_shared[t.pays] else seat * t.resources + t.pays


def _pick_options(t: Compiled, s: State) -> list[tuple[int, int]]:
    source, step = _asking(t, s)
    found = [(D_PICK, card) for card in members(t, s, t.step_group[step], source) if card not in s.pick_cards]
    if len(s.pick_cards) >= s.pick_least:
        found.append((D_DONE, -1))
    if s.waiting == W_DECLARE:
        found.append((D_CANCEL, -1))
    return found


def _asking(t: Compiled, s: State) -> tuple[int, int]:
    """The card and the step that the running pick belongs to."""
    if s.waiting == W_DECLARE:
        return s.declaring, _first_pick(t, s, s.declaring)
    base = len(s.stack) - FRAME
    return s.stack[base + FR_CARD], t.ability_steps[s.stack[base + 1] * 2] + s.stack[base + FR_CURSOR]


def _first_pick(t: Compiled, s: State, card: int) -> int:
    """The first step of the card's first play effect when it picks, else -1: it is declared with the play."""
    row = s.card_def[card] * 2
    for ability in range(t.def_abilities[row], t.def_abilities[row + 1]):
        if t.ability_cue[ability] == ON_PLAY:
            step = t.ability_steps[ability * 2]
            return step if t.step_target[step] == T_PICK else -1
    return -1


def decide(t: Compiled, s: State, what: int, card: int) -> None:
    """Takes one of `options` and goes on. The caller has checked that it is one."""
    asked, seat = s.waiting, s.waiting_seat
    s.waiting = W_NOTHING
    if asked in (W_PICK, W_DECLARE):
        _decide_pick(t, s, asked, what, card)
    elif what == D_DISCARD:
        discard(s, card)
        if asked == W_DISCARD:
            s.stack[-FRAME + FR_LEFT] -= 1
    elif what == D_PLAY:
        _declare(t, s, card)
    elif what == D_DRAW:
        draw(t, s, seat)
    elif what == D_DISMISS:
        leave(t, s, [card], E_LEFT)
        check_state(t, s)
    elif what == D_END_TURN:
        _next_turn(t, s)
    run(t, s)


def _decide_pick(t: Compiled, s: State, asked: int, what: int, card: int) -> None:
    if what == D_CANCEL:
        s.declaring = -1
        return
    if what == D_PICK:
        s.pick_cards.append(card)
        if len(s.pick_cards) < s.pick_most:
            s.waiting = asked
            return
    for each in s.pick_cards:
        emit(s, E_PICKED, s.waiting_seat, each, _asking_card(s, asked))
    if asked == W_DECLARE:
        declared, s.declaring = s.declaring, -1
        _play(t, s, declared, s.pick_cards, 1)
    else:
        s.frame_picks[-1] = list(s.pick_cards)
        s.stack[-FRAME + FR_PHASE] = CHOSEN


def _asking_card(s: State, asked: int) -> int:
    return s.declaring if asked == W_DECLARE else s.stack[-FRAME + FR_CARD]


def _declare(t: Compiled, s: State, card: int) -> None:
    """A play whose first step picks asks for the picks before anything is paid or moved."""
    step = _first_pick(t, s, card)
    found = members(t, s, t.step_group[step], card) if step >= 0 else []
    if not found:
        _play(t, s, card, [], 0)
        return
    ask_picks(t, s, step, len(found))
    s.declaring, s.waiting = card, W_DECLARE


def _play(t: Compiled, s: State, card: int, picks: list[int], declared: int) -> None:
    """Pays, plays, and puts play effects on the stack above enter effects."""
    seat, definition = s.card_seat[card], s.card_def[card]
    emit(s, E_PLAYED, seat, card)
    cost = max(0, t.def_cost[definition])
    if t.pays >= 0 and cost:
        s.resource[_purse(t, seat)] -= cost
        emit(s, E_PAID, seat, card, t.pays, cost)
    push(s, K_AFTER_PLAY, -1, card)
    if t.def_stays[definition]:
        move(s, card, IN_PLAY)
        emit(s, E_ENTERED, seat, card)
        trigger(t, s, ON_ENTER, card)
    else:
        move(s, card, RESOLVING)
    trigger(t, s, ON_PLAY, card)
    if declared:
        s.frame_picks[-1] = list(picks)
        s.stack[-FRAME + FR_PHASE] = CHOSEN
    check_state(t, s)


def _next_turn(t: Compiled, s: State) -> None:
    s.turn += 1
    emit(s, E_TURN, 0, -1, s.turn)
    for seat in range(s.seats):
        for what in range(t.resources):
            if t.resource_turn[what] and (seat == 0 or not t.resource_shared[what]):
                gain(t, s, seat, what, t.resource_turn[what])
        for _ in range(t.turn_draw):
            draw(t, s, seat)
