"""Changes to one card by a step with targets: damage, healing, tilting, changes until a moment."""

from __future__ import annotations

from dramok.core.engine.kernel import codes as k
from dramok.core.engine.kernel.kernel_function import kernel
from dramok.core.engine.kernel.state import Numbers, State
from dramok.core.engine.kernel.triggers import about_card
from dramok.core.engine.kernel.zones import emit


@kernel
def drop_mod(p: Numbers, s: State, row: int) -> int:
    """Remove one change; those after it keep their order."""
    s.nmod -= 1
    for at in range(row, s.nmod):
        s.modc[at] = s.modc[at + 1]
        s.modi[at] = s.modi[at + 1]
        s.modk[at] = s.modk[at + 1]
        s.modw[at] = s.modw[at + 1]
        s.moda[at] = s.moda[at + 1]
        s.modu[at] = s.modu[at + 1]
        s.mods[at] = s.mods[at + 1]
        s.modf[at] = s.modf[at + 1]
    return 0


@kernel
def add_mod(p: Numbers, s: State, card: int, kind: int, what: int, amount: int, until: int, whose: int, source: int) -> int:
    """Add a change of a card in play until a moment (-1: while it is in play), by a card (-1: manual)."""
    if s.nmod >= k.MOST_MODS:
        s.full = k.FULL_LIST
        s.culprit = card
        return 0
    row = s.nmod
    s.modc[row] = card
    s.modi[row] = s.inc[card]
    s.modk[row] = kind
    s.modw[row] = what
    s.moda[row] = amount
    s.modu[row] = until
    s.mods[row] = whose
    s.modf[row] = source
    s.nmod += 1
    s.dirty = 1
    s.changed = 1
    return 1


@kernel
def damage(p: Numbers, s: State, card: int, number: int, source: int) -> int:
    """Damage a card in play, reduced by shields. No damage is no event. Returns the amount."""
    if s.forbids[card] & k.F_HURTING:
        emit(p, s, k.E_PREVENTED, s.ctrl[card], card, k.F_HURTING, number)
        return 0
    row = 0
    while number > 0 and row < s.nmod:
        if s.modk[row] == k.M_SHIELD and s.modc[row] == card and s.modi[row] == s.inc[card]:
            used = number if number < s.moda[row] else s.moda[row]
            emit(p, s, k.E_SHIELD_USED, s.ctrl[card], card, used, 0)
            number -= used
            s.moda[row] -= used
            if s.moda[row] == 0:
                drop_mod(p, s, row)
                row -= 1
        row += 1
    if number <= 0:
        return 0
    s.damage[card] += number
    if s.damage[card] > k.MOST_NUMBER:
        s.damage[card] = k.MOST_NUMBER
    s.changed = 1
    emit(p, s, k.E_DEALT, s.ctrl[card], card, number, source)
    about_card(p, s, k.ON_HURT, card, source)
    if source >= 0:
        about_card(p, s, k.ON_HURTING, source, card)
    return number


@kernel
def heal(p: Numbers, s: State, card: int, number: int, source: int) -> int:
    healed = number if number < s.damage[card] else s.damage[card]
    s.damage[card] -= healed
    return emit(p, s, k.E_HEALED, s.ctrl[card], card, healed, source)


@kernel
def tilt(p: Numbers, s: State, card: int) -> int:
    """Tilt a straight card if allowed. Returns whether it was tilted."""
    if s.tilted[card]:
        return 0
    if s.forbids[card] & k.F_TILTING:
        return 0
    s.tilted[card] = 1
    emit(p, s, k.E_TILTED, s.ctrl[card], card, 0, 0)
    return 1


@kernel
def straighten(p: Numbers, s: State, card: int) -> int:
    if not s.tilted[card]:
        return 0
    if s.forbids[card] & k.F_STRAIGHTENING:
        emit(p, s, k.E_PREVENTED, s.ctrl[card], card, k.F_STRAIGHTENING, 0)
        return 0
    s.tilted[card] = 0
    emit(p, s, k.E_STRAIGHTENED, s.ctrl[card], card, 0, 0)
    return 1


@kernel
def change(p: Numbers, s: State, verb: int, card: int, number: int, what: int, until: int, whose: int, source: int) -> int:
    """Apply a step of a verb that changes cards in place to one card in play."""
    seat = s.ctrl[card]
    if verb == k.V_DEAL:
        damage(p, s, card, number, source)
    elif verb == k.V_HEAL:
        heal(p, s, card, number, source)
    elif verb == k.V_RAISE:
        add_mod(p, s, card, k.M_RAISED, what, number, until, whose, source)
        emit(p, s, k.E_RAISED, seat, card, what, number)
    elif verb == k.V_LOWER:
        add_mod(p, s, card, k.M_RAISED, what, -number, until, whose, source)
        emit(p, s, k.E_LOWERED, seat, card, what, number)
    elif verb == k.V_TILT:
        tilt(p, s, card)
    elif verb == k.V_STRAIGHTEN:
        straighten(p, s, card)
    elif verb == k.V_GRANT:
        add_mod(p, s, card, k.M_GRANTED, 1 << what, 0, until, whose, source)
        emit(p, s, k.E_GRANTED, seat, card, what, 0)
    elif verb == k.V_STRIP:
        add_mod(p, s, card, k.M_STRIPPED, 1 << what, 0, until, whose, source)
        emit(p, s, k.E_STRIPPED, seat, card, what, 0)
    elif verb == k.V_FORBID:
        add_mod(p, s, card, k.M_FORBIDDEN, what, 0, until, whose, source)
        emit(p, s, k.E_FORBIDDEN, seat, card, what, 0)
    elif verb == k.V_ALLOW:
        add_mod(p, s, card, k.M_ALLOWED, what, 0, until, whose, source)
        emit(p, s, k.E_ALLOWED, seat, card, what, 0)
    elif verb == k.V_SHIELD:
        add_mod(p, s, card, k.M_SHIELD, 0, number, until, whose, source)
        emit(p, s, k.E_SHIELDED, seat, card, number, 0)
    return 0
