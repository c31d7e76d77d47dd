"""Explain why a card's numbers differ from the printed ones: temporary changes and lasting effects, by their cards."""

from __future__ import annotations

from collections.abc import Iterator

from dramok.core.engine.kernel import codes as k
from dramok.core.engine.kernel.amounts import belongs, definition, evaluate_words
from dramok.core.engine.match import Match


def causes(match: Match, instance: int) -> tuple[str, ...]:
    """In words, such as "height +2 by Frost Lantern, for a while"; for a card in play."""
    s, program = match.state, match.program
    found: dict[tuple[int, str, str], int] = {}
    for which, by, amount, how in (*_for_a_while(match, instance), *_lasting(match, instance)):
        found[which, by, how] = found.get((which, by, how), 0) + amount
    said = []
    for (which, by, how), amount in found.items():
        if amount and s.stat[instance * k.MOST_STATS + which] >= 0:
            field = program.rulebook.cards.field(program.stats[which])
            name = field.name.lower() if field is not None else program.stats[which]
            said.append(f"{name} {amount:+d} {by}{how}")
    return tuple(said)


def _by(match: Match, source: int, instance: int) -> str:
    if source < 0:
        return "by hand"
    if source == instance:
        return "by its own words"
    return f"by {match.program.name_of(match.state.cdef[source])}"


def _for_a_while(match: Match, instance: int) -> Iterator[tuple[int, str, int, str]]:
    s = match.state
    for row in range(s.nmod):
        if s.modc[row] == instance and s.modi[row] == s.inc[instance] and s.modk[row] == k.M_RAISED:
            yield s.modw[row], _by(match, s.modf[row], instance), s.moda[row], "" if s.modu[row] == k.FOR_EVER else ", for a while"


def _lasting(match: Match, instance: int) -> Iterator[tuple[int, str, int, str]]:
    """The lasting rows that change a stat of the card.

    Lasting effects read printed values: no row depends on another.
    """
    s, p = match.state, match.program.numbers
    for seat in range(s.seats):
        for source in match.zone(k.IN_PLAY, seat):
            row = p[definition(p, s, source) + k.D_LASTING]
            while row >= 0 and p[row] != k.NONE:
                if p[row + k.L_VERB] in (k.V_RAISE, k.V_LOWER) and _reaches(match, row, source, instance):
                    amount = p[row + k.L_AMT]
                    if p[row + k.L_AIS]:
                        amount = evaluate_words(p, s, amount, source, s.ctrl[source], k.NONE, k.NONE, 1)
                    yield p[row + k.L_X], _by(match, source, instance), amount if p[row + k.L_VERB] == k.V_RAISE else -amount, ""
                row += k.LASTING_WIDTH


def _reaches(match: Match, row: int, source: int, instance: int) -> bool:
    s, p = match.state, match.program.numbers
    key = p[row + k.L_KEY]
    if key >= 0 and not s.keys[source] >> key & 1:
        return False
    if p[row + k.L_IF] >= 0 and not evaluate_words(p, s, p[row + k.L_IF], source, s.ctrl[source], k.NONE, k.NONE, 1):
        return False
    if p[row + k.L_MODE] == k.T_THIS:
        return source == instance
    if p[row + k.L_MODE] == k.T_HOST:
        return s.host[source] == instance
    return bool(belongs(p, s, p[row + k.L_GROUP], instance, s.ctrl[instance], source, s.ctrl[source], 1))
