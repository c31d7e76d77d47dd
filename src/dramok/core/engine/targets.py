"""Who is meant: groups, filters, and the stats of a card as they stand."""

from __future__ import annotations

from dramok.core.engine.state import (
    ALWAYS,
    C_ABOVE,
    C_IS,
    F_CHOICE,
    F_OTHER,
    F_TAG,
    IN_PLAY,
    S_OWN,
    S_RIVAL,
    Compiled,
    State,
)
from dramok.core.engine.zones import card_at, count


def stat(t: Compiled, s: State, card: int, which: int) -> int:
    """A stat as it stands: printed, raised by the card's own lasting effects while it is in play. -1: it has none."""
    printed = t.def_stat[s.card_def[card] * t.stats + which]
    if printed < 0 or s.card_zone[card] != IN_PLAY:
        return printed
    value = printed
    row = s.card_def[card] * 2
    for ability in range(t.def_abilities[row], t.def_abilities[row + 1]):
        if t.ability_cue[ability] == ALWAYS:
            for step in range(t.ability_steps[ability * 2], t.ability_steps[ability * 2 + 1]):
                if t.step_what[step] == which:
                    value += amount(t, s, step, card)
    return value


def amount(t: Compiled, s: State, step: int, source: int) -> int:
    """A step's amount: its number, or how many cards are in its group now."""
    if not t.step_count[step]:
        return t.step_amount[step]
    return len(members(t, s, t.step_amount[step], source, printed=1))


def members(t: Compiled, s: State, group: int, source: int, printed: int = 0) -> list[int]:
    """The cards in play that belong to a group, by (seat, arrival). `printed` compares printed stats.

    Counts inside lasting effects compare printed stats, so that no lasting effect reads another.
    """
    found: list[int] = []
    for seat in range(s.seats):
        own = seat == s.card_seat[source]
        if (t.group_side[group] == S_OWN and not own) or (t.group_side[group] == S_RIVAL and own):
            continue
        for place in range(count(s, seat, IN_PLAY)):
            card = card_at(s, seat, IN_PLAY, place)
            if belongs(t, s, group, card, source, printed):
                found.append(card)
    return found


def belongs(t: Compiled, s: State, group: int, card: int, source: int, printed: int) -> int:
    kind = t.group_type[group]
    if kind >= 0 and t.def_type[s.card_def[card]] != kind:
        return 0
    for each in range(t.group_filters[group * 2], t.group_filters[group * 2 + 1]):
        if passes(t, s, each, card, source, printed) == t.filter_not[each]:
            return 0
    return 1


def passes(t: Compiled, s: State, each: int, card: int, source: int, printed: int) -> int:
    kind, what = t.filter_kind[each], t.filter_what[each]
    definition = s.card_def[card]
    if kind == F_OTHER:
        return 1 if card != source else 0
    if kind == F_TAG:
        return (t.def_tags[definition] >> what) & 1 if what >= 0 else 0
    if kind == F_CHOICE:
        return 1 if t.def_choice[definition * t.choices + what] == t.filter_value[each] else 0
    value = t.def_stat[definition * t.stats + what] if printed else stat(t, s, card, what)
    if value < 0:
        return 0
    if t.filter_compare[each] == C_IS:
        return 1 if value == t.filter_value[each] else 0
    if t.filter_compare[each] == C_ABOVE:
        return 1 if value > t.filter_value[each] else 0
    return 1 if value < t.filter_value[each] else 0
