"""Random legal decks by the ten thousand, where the deck rules are of the usual kind: a size, copies, factions that may be mixed."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import combinations
from math import comb
from typing import TYPE_CHECKING, Any

from dramok.core.cards import Card
from dramok.core.decks.formats import Format
from dramok.core.decks.randomly import likely_size
from dramok.core.rulebook import Rulebook

if TYPE_CHECKING:
    from numpy.typing import NDArray

MOST_MIXES = 5_000


@dataclass(frozen=True)
class DeckKind:
    """What such decks are drawn from: `slots` is a card (its place among the cards) for each copy that a deck may hold, `factions` the
    faction of each slot by number (-1: always allowed), of which a deck mixes `mixed` of `of`; `size` cards a deck."""

    slots: tuple[int, ...]
    factions: tuple[int, ...]
    size: int
    mixed: int
    of: int


def deck_kind(cards: Sequence[Card], rulebook: Rulebook, format_: Format) -> DeckKind | None:
    """None where the rules ask for more than a size, copies and few factions: such decks are made one by one (see `randomly`)."""
    if any(each.least for each in format_.sections) or format_.caps or format_.types or format_.factions:
        return None
    cards = [rulebook.cards.seen(card) for card in cards]
    size = likely_size(format_)
    if size < 1:
        return None
    role = rulebook.roles.faction
    free = {"", *format_.free_factions}
    names = sorted({card.text(role) for card in cards if format_.admits(card, rulebook)} - free) if role else []
    mixes = format_.most_factions if role and format_.most_factions is not None else None
    slots, factions = [], []
    for place, card in enumerate(cards):
        if format_.admits(card, rulebook):
            copies = min(format_.copies_of(card, rulebook), size)
            faction = card.text(role) if role else ""
            slots += [place] * copies
            factions += [-1 if mixes is None or faction in free else names.index(faction)] * copies
    mixed = 0 if mixes is None else min(mixes, len(names))
    of = 0 if mixes is None else len(names)
    held = [factions.count(each) for each in range(of)]
    # Every mix must have enough cards for a deck.
    least = factions.count(-1) + sum(sorted(held)[:mixed])
    return None if not slots or least < size else DeckKind(tuple(slots), tuple(factions), size, mixed, of)


def dealt(kind: DeckKind, seed: int, batch: int, decks: int, holding: Sequence[int] = ()) -> NDArray[Any]:
    """`decks` x `size` cards by their places, from a seed and the number of a batch: the same on every machine.

    Every set of copies that is legal is equally likely within its mix of factions, every mix equally likely. `holding`: every other deck, the
    first one among them, surely holds one of these cards, and the one after it does not where it can do without; two such decks after one
    another hold the same card, the next two the next, round and round.
    """
    import numpy as np

    chance = np.random.Generator(np.random.PCG64([seed, batch]))
    keys = chance.random((decks, len(kind.slots)), np.float32)
    parts = []
    for number, each in enumerate(holding):
        games = np.arange(decks // 2)
        mine = 2 * games[turn_of(batch * (decks // 2) + games, len(holding)) == number]
        parts.append((mine, [place for place, card in enumerate(kind.slots) if card == each]))
    if kind.of:
        mixes = chance.random((decks, kind.of))
        for mine, copies in parts:
            if copies and kind.factions[copies[0]] >= 0:
                mixes[mine, kind.factions[copies[0]]] = -1
        order = mixes.argsort(axis=1)[:, : kind.mixed]
        allowed = np.zeros((decks, kind.of + 1), bool)
        np.put_along_axis(allowed, order, True, axis=1)
        allowed[:, kind.of] = True
        keys[~allowed[:, np.array(kind.factions)]] = 2
    for mine, copies in parts:
        if copies:
            keys[mine, copies[0]] = -1
            keys[np.ix_(mine + 1, copies)] += 1
    chosen = np.argpartition(keys, kind.size - 1, axis=1)[:, : kind.size]
    return np.sort(np.array(kind.slots)[chosen], axis=1)


def turn_of(game: Any, held: int) -> Any:
    """Which of so many cards is held in a game (or games): the next in each second game, so that each is held by who goes first and by who does not."""
    return game // 2 % held


def mixes_of(kind: DeckKind) -> int:
    """How many mixes of factions there are; 0 where decks mix as they like."""
    return comb(kind.of, kind.mixed) if kind.of and comb(kind.of, kind.mixed) <= MOST_MIXES else 0


def mix_numbers(kind: DeckKind) -> dict[tuple[int, ...], int]:
    """A number for each mix."""
    return {mix: number for number, mix in enumerate(combinations(range(kind.of), kind.mixed))} if mixes_of(kind) else {}
