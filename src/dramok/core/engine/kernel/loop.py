"""Advance the match until a seat must decide; apply decisions. The top frame of the stack runs first."""

from __future__ import annotations

from dramok.core.engine.kernel import codes as k
from dramok.core.engine.kernel.ability_flow import (
    do_after_play,
    do_begin,
    do_choose,
    do_each,
    do_if,
    do_later,
    do_may,
    do_next,
    moment,
)
from dramok.core.engine.kernel.amounts import recompute
from dramok.core.engine.kernel.clash import do_answer, do_clash, do_clash_end, do_send
from dramok.core.engine.kernel.decisions import declare, do_answers, do_ask, list_options, play, use
from dramok.core.engine.kernel.kernel_function import kernel
from dramok.core.engine.kernel.market import buy, do_counters, do_rows, refill
from dramok.core.engine.kernel.moves import count_decision, discard, draw, leave_together, lose
from dramok.core.engine.kernel.scoring import check_ends
from dramok.core.engine.kernel.setup import do_opening, do_redraw, do_shuffle_all, redraw
from dramok.core.engine.kernel.state import LOG_ROWS, Numbers, State
from dramok.core.engine.kernel.triggers import about_moment, pop, push_pending, remember
from dramok.core.engine.kernel.turn import (
    begin_phase,
    check,
    do_clear,
    do_clear_away,
    do_discard_hand,
    do_gain,
    do_grow,
    do_hand_limit,
    do_next_turn,
    do_over,
    do_recall,
    do_rule_draw,
    do_scheduled,
    do_seat,
    do_straighten,
    do_turn,
    do_turn_over,
)
from dramok.core.engine.kernel.verbs import do_verb, unknown
from dramok.core.engine.kernel.zones import emit, slot_of


@kernel
def block(p: Numbers, s: State, pc: int, f: int) -> int:
    """A step with nested steps."""
    op = p[pc]
    if op == k.V_IF:
        return do_if(p, s, pc, f)
    if op == k.V_EACH:
        return do_each(p, s, pc, f)
    if op == k.V_CHOOSE:
        return do_choose(p, s, pc, f)
    if op == k.V_LATER:
        return do_later(p, s, pc, f)
    if op == k.V_MAY or op == k.V_OFFER:
        return do_may(p, s, pc, f)
    return unknown(p, s, f)


@kernel
def skips(p: Numbers, s: State, op: int, f: int) -> int:
    """Whether a step of the turn is skipped because the active seat, or the step's seat, is out of the match."""
    if s.turn == 0 or op == k.O_TURN or op == k.O_TURN_END or op == k.O_NEXT_TURN or op == k.O_CLASH_END or op == k.O_ANSWERS or op == k.O_OVER:
        return 0
    if s.out[s.active]:
        return 1
    return 1 if s.out[s.fr[f + k.F_SEAT]] and op != k.O_SEAT and op != k.O_PHASE and op != k.O_PHASE_END else 0


@kernel
def rule(p: Numbers, s: State, pc: int, f: int) -> int:
    """Run a step of the rules."""
    op = p[pc]
    # Draws and growth can skip the first turn, or the first round.
    first = p[pc + k.I_WISH] if op == k.O_DRAW or op == k.O_GROW else 0
    if first == 1 and s.turn == 1 or first == 2 and s.round == 1 or skips(p, s, op, f):
        return 1
    if op == k.O_ASK:
        return do_ask(p, s, pc, f)
    if op == k.O_PHASE:
        return begin_phase(p, s, pc, f)
    if op == k.O_PHASE_END:
        s.fr[f + k.F_SEAT] = s.active
        emit(p, s, k.E_PHASE_END, s.active, k.NONE, p[pc + k.I_X], 0)
        moment(p, s, p[pc + k.I_X], 1)
        return 1
    if op == k.O_SEAT:
        return do_seat(p, s, pc, f)
    if op == k.O_DRAW:
        return do_rule_draw(p, s, pc, f)
    if op == k.O_GROW:
        return do_grow(p, s, pc, f)
    if op == k.O_GAIN:
        return do_gain(p, s, pc, f)
    if op == k.O_STRAIGHTEN:
        return do_straighten(p, s, pc, f)
    if op == k.O_SEND:
        return do_send(p, s, pc, f)
    if op == k.O_ANSWER:
        return do_answer(p, s, pc, f)
    if op == k.O_CLASH:
        return do_clash(p, s, pc, f)
    if op == k.O_CLASH_END:
        return do_clash_end(p, s, pc, f)
    if op == k.O_HAND_LIMIT:
        return do_hand_limit(p, s, pc, f)
    if op == k.O_CLEAR:
        return do_clear(p, s, pc, f)
    if op == k.O_TURN_OVER:
        return do_turn_over(p, s, pc, f)
    if op == k.O_SCHEDULED:
        return do_scheduled(p, s, pc, f)
    if op == k.O_RECALL:
        return do_recall(p, s, pc, f)
    if op == k.O_DISCARD_HAND:
        return do_discard_hand(p, s, pc, f)
    if op == k.O_CLEAR_AWAY:
        return do_clear_away(p, s, pc, f)
    if op == k.O_ROWS:
        return do_rows(p, s, pc, f)
    if op == k.O_COUNTERS:
        return do_counters(p, s, pc, f)
    if op == k.O_OVER:
        return do_over(p, s, pc, f)
    if op == k.O_TURN:
        return do_turn(p, s, pc, f)
    if op == k.O_TURN_END:
        emit(p, s, k.E_TURN_END, s.active, k.NONE, s.turn, 0)
        moment(p, s, k.NONE, 1)
        return 1
    if op == k.O_NEXT_TURN:
        return do_next_turn(p, s, pc, f)
    if op == k.O_ANSWERS:
        return do_answers(p, s, pc, f)
    if op == k.O_SHUFFLE_ALL:
        return do_shuffle_all(p, s, pc, f)
    if op == k.O_OPENING:
        return do_opening(p, s, pc, f)
    if op == k.O_REDRAW:
        return do_redraw(p, s, pc, f)
    if op == k.O_MATCH:
        emit(p, s, k.E_MATCH, 0, k.NONE, 0, 0)
        about_moment(p, s, k.ON_MATCH, k.NONE)
        return 1
    return unknown(p, s, f)


@kernel
def run(p: Numbers, s: State) -> int:
    """Run until a seat must decide, the log must be read, or the match is over."""
    while s.wait == k.W_NOTHING and s.over == 0:
        s.steps += 1
        if s.steps > s.most or s.full:
            s.over = 1
            s.winner = k.DRAWN
            s.cut = 1
            emit(p, s, k.E_RUNAWAY, 0, s.culprit, 0, s.full)
            return 0
        if s.logs and s.nlog > LOG_ROWS - k.LOG_ROOM:
            s.wait = k.W_DRAIN
            return 0
        if s.dirty or p[k.H_RESTLESS]:
            recompute(p, s)
            # Lasting effects can read hands, totals and tilt: any step may have changed the result of the check.
            s.changed = 1
        if s.changed:
            check(p, s)
            if s.over:
                return 0
        if s.npend:
            push_pending(p, s)
            continue
        if s.gap and s.top == 1 and p[k.H_ROWS]:
            refill(p, s, 0)
            continue
        if p[k.H_ENDS] and s.top == 1:
            check_ends(p, s)
            if s.over:
                return 0
        # One step of the top frame; its position advances when the step is done.
        f = (s.top - 1) * k.FRAME
        pc = s.fr[f + k.F_PC]
        op = p[pc]
        done = 0
        if s.top > 1 and s.out[s.fr[f + k.F_SEAT]] and op != k.O_AFTER_PLAY:
            # A seat that is out does nothing more; only the card that it played still goes to its owner's discard pile.
            pop(p, s)
        elif op <= k.V_SHUFFLE:
            done = do_verb(p, s, pc, f)
        elif op <= k.V_LATER:
            block(p, s, pc, f)
        elif op == k.O_END:
            pop(p, s)
        elif op == k.O_BEGIN:
            if do_begin(p, s, pc, f):
                s.fr[f + k.F_PC] = pc + k.WIDTH
        elif op == k.O_NEXT:
            done = do_next(p, s, pc, f)
        elif op == k.O_JUMP:
            s.fr[f + k.F_PC] = p[pc + k.I_JUMP]
        elif op == k.O_AFTER_PLAY:
            do_after_play(p, s, pc, f)
        else:
            done = rule(p, s, pc, f)
        if done:
            s.fr[f + k.F_PC] = pc + k.WIDTH
            s.fr[f + k.F_STATE] = k.READY
            s.fr[f + k.F_CURSOR] = 0
            s.fr[f + k.F_CHOSEN] = 0
    return 0


@kernel
def finish_pick(p: Numbers, s: State, f: int) -> int:
    """The picks of a step are complete and become *it*."""
    searches = p[s.fr[f + k.F_PC]] == k.V_SEARCH
    s.fr[f + k.F_IT] = s.nset
    s.fr[f + k.F_ITS] = 0
    for place in range(s.npick):
        if not searches:
            emit(p, s, k.E_PICKED, s.whose, s.pick[place], s.fr[f + k.F_THIS], 0)
        s.fr[f + k.F_ITS] += remember(p, s, s.pick[place])
    s.fr[f + k.F_STATE] = k.CHOSEN
    return 0


@kernel
def finish_declaration(p: Numbers, s: State) -> int:
    """The picks of a play are complete: pay for it and play it."""
    card = s.declaring
    s.declaring = k.NONE
    for place in range(s.npick):
        emit(p, s, k.E_PICKED, s.whose, s.pick[place], card, 0)
    pop(p, s)
    return play(p, s, card, s.whose, k.NONE, s.answering, 1)


@kernel
def decide_pick(p: Numbers, s: State, asked: int, kind: int, card: int) -> int:
    f = (s.top - 1) * k.FRAME
    if kind == k.D_CANCEL:
        s.declaring = k.NONE
        if asked == k.W_DECLARE:
            pop(p, s)
        return 0
    if asked == k.W_HOST:
        host_of = s.declaring
        s.declaring = k.NONE
        return play(p, s, host_of, s.whose, card, s.answering, 0)
    if kind == k.D_PICK:
        s.pick[s.npick] = card
        s.npick += 1
        if s.npick < s.pick_most:
            s.wait = asked
            return 0
    return finish_declaration(p, s) if asked == k.W_DECLARE else finish_pick(p, s, f)


@kernel
def decide_action(p: Numbers, s: State, kind: int, a: int, b: int) -> int:
    f = (s.top - 1) * k.FRAME
    seat = s.whose
    if kind == k.D_PLAY:
        return declare(p, s, a, seat, k.NONE)
    if kind == k.D_USE:
        return use(p, s, a, b, seat)
    if kind == k.D_BUY:
        return buy(p, s, a, b, seat)
    if kind == k.D_DRAW:
        return draw(p, s, seat)
    if kind == k.D_DISCARD:
        return discard(p, s, a)
    if kind == k.D_DISMISS:
        s.left[0] = a
        s.nleft = 1
        return leave_together(p, s, k.E_LEFT, k.DISCARD_PILE, k.S_ANY, 0, 0)
    s.fr[f + k.F_PC] += k.WIDTH
    return 1


@kernel
def decide_redraw(p: Numbers, s: State, kind: int, card: int) -> int:
    f = (s.top - 1) * k.FRAME
    if kind == k.D_PICK:
        s.pick[s.npick] = card
        s.npick += 1
        s.wait = k.W_REDRAW
        return 0
    if kind == k.D_REDRAW:
        each = s.zhead[slot_of(p, s, k.HAND, s.whose)]
        s.npick = 0
        while each >= 0:
            s.pick[s.npick] = each
            s.npick += 1
            each = s.next[each]
    elif kind == k.D_KEEP:
        s.npick = 0
    return redraw(p, s, f)


@kernel
def decide(p: Numbers, s: State, row: int) -> int:
    """Take one option of the listed rows, without advancing the match."""
    kind = s.optk[row]
    a = s.opta[row]
    b = s.optb[row]
    asked = s.wait
    f = (s.top - 1) * k.FRAME
    s.wait = k.W_NOTHING
    count_decision(p, s)
    if asked == k.W_ACTION:
        decide_action(p, s, kind, a, b)
    elif asked == k.W_PICK or asked == k.W_DECLARE or asked == k.W_HOST:
        decide_pick(p, s, asked, kind, a)
    elif asked == k.W_DISCARD:
        discard(p, s, a)
        s.fr[f + k.F_LEFT] -= 1
    elif asked == k.W_LIMIT:
        discard(p, s, a)
    elif asked == k.W_MAY:
        s.fr[f + k.F_LEFT] = 1 if kind == k.D_YES else 0
        s.fr[f + k.F_STATE] = k.CHOSEN
    elif asked == k.W_CHOOSE:
        s.pick[s.npick] = b
        s.npick += 1
        if s.npick < p[s.fr[f + k.F_PC] + k.I_X]:
            s.wait = k.W_CHOOSE
        else:
            s.fr[f + k.F_STATE] = k.CHOSEN
    elif asked == k.W_SEND:
        if kind == k.D_SEND:
            s.mark[a] = k.MARK_CLASHING
        else:
            s.fr[f + k.F_STATE] = k.CHOSEN
    elif asked == k.W_ANSWER:
        if kind == k.D_ANSWER:
            s.answers[a] = b + 1
            s.mark[b] |= k.MARK_ANSWERED
        else:
            s.fr[f + k.F_STATE] = k.CHOSEN
    elif asked == k.W_REDRAW:
        decide_redraw(p, s, kind, a)
    elif asked == k.W_ANSWER_PLAY:
        s.fr[f + k.F_CURSOR] += 1
        if kind == k.D_PLAY:
            declare(p, s, a, s.whose, s.fr[f + k.F_THIS])
        else:
            emit(p, s, k.E_PASSED, s.whose, k.NONE, 0, 0)
    elif asked == k.W_OVER:
        lose(p, s, s.whose, b, 1, k.E_LOST, k.NONE)
    return 0


@kernel
def stands(p: Numbers, s: State) -> int:
    """List the options of the moment; returns their number. A match without any possible decision ends."""
    found = list_options(p, s)
    if found == 0 and s.over == 0 and s.wait != k.W_DRAIN:
        s.over = 1
        s.winner = k.DRAWN
        s.cut = 1
        emit(p, s, k.E_RUNAWAY, 0, s.culprit, 2, 0)
    return found
