"""Cards in zones: moving, shuffling, drawing."""

from __future__ import annotations

from dramok.core.engine.chance import below
from dramok.core.engine.state import (
    DISCARD_PILE,
    DRAW_PILE,
    E_DREW,
    E_NO_CARD,
    E_RESHUFFLED,
    E_SHUFFLED,
    HAND,
    IN_PLAY,
    R_SHUFFLE,
    ZONES,
    Compiled,
    State,
)


def emit(s: State, kind: int, seat: int, card: int = -1, a: int = 0, b: int = 0) -> None:
    s.events.append((kind, seat, card, a, b))


def count(s: State, seat: int, zone: int) -> int:
    return s.zone_count[seat * ZONES + zone]


def card_at(s: State, seat: int, zone: int, place: int) -> int:
    """The card at a place of a zone; place 0 came first, the last is the top of a pile."""
    return s.zone_cards[(seat * ZONES + zone) * s.cards + place]


def move(s: State, card: int, zone: int) -> None:
    """Takes a card out of its zone and puts it on top of another of its seat's. Leaving play clears its damage."""
    seat, old = s.card_seat[card], s.card_zone[card]
    base = (seat * ZONES + old) * s.cards
    last = s.zone_count[seat * ZONES + old] - 1
    place = 0
    while s.zone_cards[base + place] != card:
        place += 1
    while place < last:
        s.zone_cards[base + place] = s.zone_cards[base + place + 1]
        place += 1
    s.zone_count[seat * ZONES + old] = last
    if old == IN_PLAY:
        s.card_damage[card] = 0
    if zone == IN_PLAY:
        s.arrivals += 1
        s.card_arrival[card] = s.arrivals
    put(s, card, zone)


def put(s: State, card: int, zone: int) -> None:
    """Puts a card that is in no zone on top of one."""
    number = s.card_seat[card] * ZONES + zone
    s.zone_cards[number * s.cards + s.zone_count[number]] = card
    s.zone_count[number] += 1
    s.card_zone[card] = zone


def shuffle(s: State, seat: int) -> None:
    """Fisher-Yates over the draw pile."""
    number = seat * ZONES + DRAW_PILE
    base = number * s.cards
    place = s.zone_count[number] - 1
    while place > 0:
        other = below(s, seat, R_SHUFFLE, place + 1)
        s.zone_cards[base + place], s.zone_cards[base + other] = (
            s.zone_cards[base + other],
            s.zone_cards[base + place],
        )
        place -= 1
    emit(s, E_SHUFFLED, seat, -1, s.zone_count[number])


def draw(t: Compiled, s: State, seat: int) -> int:
    """Draws one card; when the pile is empty the discard pile is first shuffled back. 0 when there is none."""
    if count(s, seat, DRAW_PILE) == 0 and t.reshuffles and count(s, seat, DISCARD_PILE) > 0:
        emit(s, E_RESHUFFLED, seat, -1, count(s, seat, DISCARD_PILE))
        while count(s, seat, DISCARD_PILE) > 0:
            move(s, card_at(s, seat, DISCARD_PILE, count(s, seat, DISCARD_PILE) - 1), DRAW_PILE)
        shuffle(s, seat)
    if count(s, seat, DRAW_PILE) == 0:
        emit(s, E_NO_CARD, seat)
        return 0
    card = card_at(s, seat, DRAW_PILE, count(s, seat, DRAW_PILE) - 1)
    move(s, card, HAND)
    emit(s, E_DREW, seat, card)
    return 1
