"""Everything that one seat can see: cards of open zones, counts of hidden ones."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping
from dataclasses import dataclass, field

from dramok.core.engine.kernel import codes as k
from dramok.core.engine.kernel.amounts import resource_slot
from dramok.core.engine.market_view import Sale, on_sale
from dramok.core.engine.match import BY_HAND, Match, Option, seen_by
from dramok.core.engine.stat_causes import causes

NO_SALES: Mapping[int, Sale] = {}


@dataclass(frozen=True)
class TableCard:
    """A card that the seat can see.

    `stats` are current, `printed` as on the card, by field id; `damage` in points; `host`: the card it is
    attached to, or -1; `changes`: why its numbers differ from the printed ones. `counters` on it by id; `tokens`
    that buyers left on it, in a resource (by id); `sale`: its price, if it is for sale.
    """

    instance: int
    card: str
    damage: int
    stats: dict[str, int]
    tilted: bool = False
    keywords: tuple[str, ...] = ()
    host: int = -1
    clashing: bool = False
    answers: int = -1
    printed: dict[str, int] = field(default_factory=dict)
    changes: tuple[str, ...] = ()
    counters: dict[str, int] = field(default_factory=dict)
    tokens: int = 0
    token: str = ""
    sale: Sale | None = None


@dataclass(frozen=True)
class ZoneView:
    """A zone: `cards` None if it is hidden. A pile's top card comes last."""

    zone: str
    name: str
    count: int
    cards: tuple[TableCard, ...] | None


@dataclass(frozen=True)
class SeatView:
    """One seat as seen: its zones and resources, by id. `out`: it has lost."""

    seat: int
    zones: tuple[ZoneView, ...]
    resources: dict[str, int]
    out: bool = False


@dataclass(frozen=True)
class TableView:
    """The table as a seat sees it.

    `seats` begin with its own; `shared` are the shared zones; `looked` the hidden cards it currently looks at.
    """

    draw_count: int
    hand: tuple[TableCard, ...]
    discard: tuple[TableCard, ...]
    in_play: tuple[TableCard, ...]
    resolving: tuple[TableCard, ...]
    resources: dict[str, int]
    turn: int
    hand_limit: int | None
    seats: tuple[SeatView, ...] = ()
    shared: tuple[ZoneView, ...] = ()
    looked: tuple[TableCard, ...] = ()
    active: int = 0
    round: int = 1
    phase: str = ""
    deciding: int = 0
    winner: int = k.NOBODY
    left: dict[str, int] = field(default_factory=dict)
    """`left`: the cards of its own draw pile as counts by id, which say nothing of their order."""


def view(match: Match, seat: int = 0, hands_open: bool = False) -> TableView:
    """The table as `seat` sees it: its own hand, the open zones, and counts of the rest.

    `hands_open` also shows the zones that only their owner sees, for people who watch automatic players.
    """
    s, p, rules = match.state, match.program.numbers, match.program.rulebook
    phases = rules.played.phases
    seats = tuple(_seat(match, (seat + step) % s.seats, seat, hands_open) for step in range(s.seats))
    sales = on_sale(match, seat)
    shared = tuple(
        _zone(match, zone, 0, seat, sales) for zone in range(k.OWN_ZONES, len(match.program.zones)) if not _stride(match, zone)
    )
    mine = {zone.zone: zone for zone in seats[0].zones}
    total = {each.id: s.res[resource_slot(p, s, number, seat)] for number, each in enumerate(rules.resources)}
    asked = [option.card for option in seen_options(match, seat) if option.card >= 0 and not match.is_action(option.card)]
    looked = tuple(_card(match, card) for card in (*asked, *looked_through(match, seat)) if _hidden(match, card, seat))
    return TableView(
        mine["draw"].count, mine["hand"].cards or (), mine["discard"].cards or (), mine["play"].cards or (),
        tuple(_card(match, card) for each in range(s.seats) for card in match.zone(k.RESOLVING, each) if s.top > 1),
        total, s.turn, rules.table.hand_limit, seats, shared, looked, s.active, s.round,
        phases[s.phase].name if 0 <= s.phase < len(phases) else "", s.whose, s.winner, dict(sorted(Counter(match.program.cards[s.cdef[card]].id for card in match.zone(k.DRAW_PILE, seat)).items())),
    )  # fmt: skip


def score_sheet(match: Match) -> tuple[dict[str, int], ...]:
    """The amount of each line of the score sheet by its name, for each seat; empty before the match is scored."""
    lines = match.program.rulebook.played.scoring
    if not any(event[0] == k.E_SCORED for event in match.events[-match.program.seats * (len(lines) + 1) :]):
        return ()
    return tuple({each.name: match.state.score[seat * k.MOST_SCORES + line] for line, each in enumerate(lines)} for seat in range(match.program.seats))


def looked_through(match: Match, seat: int) -> list[int]:
    """The cards of the pile that the seat looks through manually, top first: until it makes another move."""
    for option in reversed(match.decisions):
        if not option.do.startswith(BY_HAND) or match.seat != seat:
            return []
        if option.do == "hand look":
            return match.zone(option.other // k.MOST_SEATS, option.other % k.MOST_SEATS)[::-1]
        if option.do == "hand shuffle":
            return []
    return []


def seen_options(match: Match, seat: int) -> tuple[Option, ...]:
    """The options for the seat to move; empty for every other."""
    return match.options if match.seat == seat and not match.state.over else ()


def _stride(match: Match, zone: int) -> int:
    p = match.program.numbers
    return p[p[k.H_ZONE_ROWS] + zone * k.ZONE_WIDTH + k.Z_STRIDE]


def sees(match: Match, seat: int, card: int) -> bool:
    """Whether a seat sees a card of the table now."""
    here = 0 <= card < match.state.cards and match.state.zone[card] not in (k.GONE, k.FREE)
    return here and (not _hidden(match, card, seat) or card in looked_through(match, seat))


def _hidden(match: Match, card: int, seat: int) -> bool:
    s = match.state
    return not seen_by(match, s.zone[card], s.slot[card] % k.MOST_SEATS, seat)


def _seat(match: Match, of: int, seat: int, hands_open: bool = False) -> SeatView:
    s, p = match.state, match.program.numbers
    usual = (k.DRAW_PILE, k.HAND, k.DISCARD_PILE, k.IN_PLAY, k.REMOVED)
    own = [zone for zone in range(k.OWN_ZONES, len(match.program.zones)) if _stride(match, zone)]
    zones = tuple(_zone(match, zone, of, of if hands_open else seat) for zone in (*usual, *own))
    resources = {each.id: s.res[resource_slot(p, s, number, of)] for number, each in enumerate(match.program.rulebook.resources)}
    return SeatView(of, zones, resources, bool(s.out[of]))


def _zone(match: Match, zone: int, of: int, seat: int, sales: Mapping[int, Sale] = NO_SALES) -> ZoneView:
    ident = match.program.zones[zone]
    cards = match.zone(zone, of)
    shown = tuple(_card(match, card, sales.get(card)) for card in cards) if seen_by(match, zone, of, seat) else None
    return ZoneView(ident, match.program.rulebook.zone_name(ident), len(cards), shown)


def _card(match: Match, instance: int, sale: Sale | None = None) -> TableCard:
    s, program = match.state, match.program
    held = {each.id: s.counter[instance * k.MOST_COUNTERS + which] for which, each in enumerate(program.rulebook.played.counters)}
    counters = {ident: number for ident, number in held.items() if number}
    tokens = s.tokens_on[instance]
    token = program.rulebook.resources[s.token_of[instance]].id if tokens else ""
    card = program.cards[s.cdef[instance]]
    printed = {name: number for name in program.stats if (number := card.number(name)) is not None and number >= 0 and program.rulebook.cards.has_field(card.type, name)}
    if s.zone[instance] != k.IN_PLAY:
        return TableCard(instance, card.id, 0, printed, printed=printed, counters=counters, tokens=tokens, token=token, sale=sale)
    stats = {name: value for place, name in enumerate(program.stats) if (value := s.stat[instance * k.MOST_STATS + place]) >= 0}
    keys = tuple(key for bit, key in enumerate(program.keywords) if s.keys[instance] >> bit & 1)
    return TableCard(
        instance, card.id, s.damage[instance], stats, bool(s.tilted[instance]), keys, s.host[instance], bool(s.mark[instance] & k.MARK_CLASHING), s.answers[instance] - 1,
        printed, causes(match, instance), counters, tokens, token,
    )  # fmt: skip
