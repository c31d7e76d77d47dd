"""Exactly what one seat may see."""

from __future__ import annotations

from dataclasses import dataclass

from dramok.core.engine import state as k
from dramok.core.engine.match import Match
from dramok.core.engine.targets import stat
from dramok.core.engine.zones import card_at, count


@dataclass(frozen=True)
class TableCard:
    """A card the seat can see. `stats` as they stand, by field id; `damage` in points."""

    instance: int
    card: str
    damage: int
    stats: dict[str, int]


@dataclass(frozen=True)
class TableView:
    """Counts for what is hidden, cards for what is open. `discard` has its top card last."""

    draw_count: int
    hand: tuple[TableCard, ...]
    discard: tuple[TableCard, ...]
    in_play: tuple[TableCard, ...]
    resolving: tuple[TableCard, ...]
    resources: dict[str, int]
    turn: int
    hand_limit: int | None


def view(match: Match, seat: int = 0) -> TableView:
    """The table as `seat` sees it: its own hand, the open zones, and only a count of its draw pile."""
    s = match.state

    def zone(which: int) -> tuple[TableCard, ...]:
        return tuple(_card(match, card_at(s, seat, which, place)) for place in range(count(s, seat, which)))

    shared = match.program.compiled.resource_shared
    resources = {
        each.id: s.resource[number if shared[number] else seat * len(shared) + number]
        for number, each in enumerate(match.program.rulebook.resources)
    }
    return TableView(
        count(s, seat, k.DRAW_PILE), zone(k.HAND), zone(k.DISCARD_PILE), zone(k.IN_PLAY), zone(k.RESOLVING),
        resources, s.turn, match.program.rulebook.table.hand_limit,
    )  # fmt: skip


def _card(match: Match, instance: int) -> TableCard:
    s, t = match.state, match.program.compiled
    stats = {
        name: value
        for number, name in enumerate(match.program.stats)
        if (value := stat(t, s, instance, number)) >= 0
    }
    return TableCard(instance, match.program.cards[s.card_def[instance]].id, s.card_damage[instance], stats)
