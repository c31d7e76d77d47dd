"""Generated from the list of the state's fields by `state_copy` (`make api`), for the compiled kernel. Do not edit."""

from __future__ import annotations

from dramok.core.engine.kernel.kernel_function import kernel
from dramok.core.engine.kernel.state import Numbers, State


@kernel
def copy(p: Numbers, s: State, q: State) -> int:
    """Copy the match `s` into `q`."""
    q.seats = s.seats
    q.active = s.active
    q.turn = s.turn
    q.round = s.round
    q.phase = s.phase
    q.over = s.over
    q.winner = s.winner
    q.wait = s.wait
    q.whose = s.whose
    q.options = s.options
    q.top = s.top
    q.nset = s.nset
    q.nmod = s.nmod
    q.nlater = s.nlater
    q.npend = s.npend
    q.ntarget = s.ntarget
    q.nleft = s.nleft
    q.nwatch = s.nwatch
    q.cards = s.cards
    q.tokens = s.tokens
    q.arrivals = s.arrivals
    q.dirty = s.dirty
    q.changed = s.changed
    q.steps = s.steps
    q.most = s.most
    q.digest = s.digest
    q.departed = s.departed
    q.declaring = s.declaring
    q.declared = s.declared
    q.npick = s.npick
    q.pick_least = s.pick_least
    q.pick_most = s.pick_most
    q.acted = s.acted
    q.decisions = s.decisions
    q.since = s.since
    q.full = s.full
    q.cut = s.cut
    q.culprit = s.culprit
    q.answering = s.answering
    q.gauged = s.gauged
    q.deeds = s.deeds
    q.gap = s.gap
    q.ending = s.ending
    q.first_action = s.first_action
    q.logs = 0
    q.digests = 0
    q.nlog = 0
    for at in range(48):
        q.chance[at] = s.chance[at]
    for at in range(64):
        q.res[at] = s.res[at]
    for at in range(64):
        q.zhead[at] = s.zhead[at]
    for at in range(64):
        q.ztail[at] = s.ztail[at]
    for at in range(64):
        q.zcount[at] = s.zcount[at]
    for at in range(4):
        q.out[at] = s.out[at]
    for at in range(4):
        q.reshuffled[at] = s.reshuffled[at]
    for at in range(32):
        q.watch[at] = s.watch[at]
    for at in range(6):
        q.bought[at] = s.bought[at]
    for at in range(s.top * 19):
        q.fr[at] = s.fr[at]
    for at in range(s.nset):
        q.sets[at] = s.sets[at]
        q.seti[at] = s.seti[at]
    for at in range(s.nmod):
        q.modc[at] = s.modc[at]
        q.modi[at] = s.modi[at]
        q.modk[at] = s.modk[at]
        q.modw[at] = s.modw[at]
        q.moda[at] = s.moda[at]
        q.modu[at] = s.modu[at]
        q.mods[at] = s.mods[at]
        q.modf[at] = s.modf[at]
    for at in range(s.nlater * 16):
        q.later[at] = s.later[at]
    for at in range(s.npend * 6):
        q.pend[at] = s.pend[at]
    for at in range(s.npick):
        q.pick[at] = s.pick[at]
    for at in range(s.cards):
        q.cdef[at] = s.cdef[at]
        q.owner[at] = s.owner[at]
        q.ctrl[at] = s.ctrl[at]
        q.zone[at] = s.zone[at]
        q.slot[at] = s.slot[at]
        q.next[at] = s.next[at]
        q.prev[at] = s.prev[at]
        q.damage[at] = s.damage[at]
        q.tilted[at] = s.tilted[at]
        q.arrival[at] = s.arrival[at]
        q.came[at] = s.came[at]
        q.inc[at] = s.inc[at]
        q.limturn[at] = s.limturn[at]
        q.limwhen[at] = s.limwhen[at]
        q.limgame[at] = s.limgame[at]
        q.mark[at] = s.mark[at]
        q.answers[at] = s.answers[at]
        q.host[at] = s.host[at]
        q.keys[at] = s.keys[at]
        q.forbids[at] = s.forbids[at]
        q.allows[at] = s.allows[at]
        q.token[at] = s.token[at]
        q.drawn[at] = s.drawn[at]
        q.played[at] = s.played[at]
        q.seen[at] = s.seen[at]
        q.nth[at] = s.nth[at]
        q.tokens_on[at] = s.tokens_on[at]
        q.token_of[at] = s.token_of[at]
        q.sold[at] = s.sold[at]
    for at in range(s.cards * 8):
        q.stat[at] = s.stat[at]
    for at in range(s.cards * 4 if p[55] else 0):
        q.counter[at] = s.counter[at]
    return 0
