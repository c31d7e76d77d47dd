"""Sample random legal decks by the ten thousand: size, copies, faction mixes, shares and caps.

All commands use this one population of random decks.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from itertools import combinations
from math import comb
from typing import TYPE_CHECKING, Any

from dramok.core.cards import Card
from dramok.core.decks.deck_rules import Format
from dramok.core.decks.random_deck import likely_size
from dramok.core.rulebook import Rulebook

if TYPE_CHECKING:
    from numpy.typing import NDArray

MOST_MIXES = 5_000
BLOCK = 400
"""Games whose decks are dealt together, so that decks do not depend on how games are divided into batches."""
TRIED = 2_000
"""Decks dealt to estimate the share of legal ones."""
LEAST_LEGAL = 0.01
MOST_ROUNDS = 2_000


@dataclass(frozen=True)
class Bound:
    """Bounds of a sum over a deck. `amounts`: what each slot adds. `least` or `most` None: no bound."""

    amounts: tuple[float, ...]
    least: float | None
    most: float | None


@dataclass(frozen=True)
class DeckKind:
    """The distribution of decks:

    `slots` is a card number for each allowed copy, `factions` the faction number of each slot (-1: always
    allowed), of which a deck mixes `mixed` of `of`; `size` cards per deck. `bounds`: shares of types and
    factions, and caps; decks that break one are dealt again.
    """

    slots: tuple[int, ...]
    factions: tuple[int, ...]
    size: int
    mixed: int
    of: int
    bounds: tuple[Bound, ...] = ()

    @classmethod
    def read(cls, plain: Mapping[str, Any]) -> DeckKind:
        """Parse its plain form (see `plain`)."""
        bounds = tuple(Bound(tuple(amounts), least, most) for amounts, least, most in plain.get("bounds", ()))
        return cls(tuple(plain["slots"]), tuple(plain["factions"]), plain["size"], plain["mixed"], plain["of"], bounds)

    def plain(self) -> dict[str, Any]:
        """The form for JSON."""
        bounds = [[list(each.amounts), each.least, each.most] for each in self.bounds]
        return {"slots": list(self.slots), "factions": list(self.factions), "size": self.size, "mixed": self.mixed, "of": self.of, "bounds": bounds}


def deck_kind(cards: Sequence[Card], rulebook: Rulebook, format_: Format) -> DeckKind | None:
    """The distribution for deck rules. None if they have other sections, if a faction mix has too few cards, or
    if hardly any dealt deck is legal.

    Such decks are built one by one (see `random_deck`).
    """
    if any(each.least for each in format_.sections):
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
    if not slots or least < size:
        return None
    kind = DeckKind(tuple(slots), tuple(factions), size, mixed, of, tuple(_bounds(cards, slots, rulebook, format_)))
    return kind if not kind.bounds or legal_share(kind) >= LEAST_LEGAL else None


def _bounds(cards: Sequence[Card], slots: Sequence[int], rulebook: Rulebook, format_: Format) -> Iterator[Bound]:
    """Shares of types and factions count cards; caps sum a number."""
    role = rulebook.roles.faction
    for ident, share in format_.types.items():
        yield Bound(tuple(float(cards[place].type == ident) for place in slots), share.least, share.most)
    for ident, share in format_.factions.items():
        yield Bound(tuple(float(cards[place].text(role) == ident) for place in slots), share.least, share.most)
    for cap in format_.caps:
        least, most = (None if each is None else float(each) for each in (cap.least, cap.most))
        yield Bound(tuple(float(cards[place].amount(cap.field) or 0) for place in slots), least, most)


def legal_share(kind: DeckKind) -> float:
    """The share, 0 to 1, of decks within the bounds among decks dealt without them."""
    import numpy as np

    nobody = np.full(TRIED, -1)
    chosen = _chosen(kind, np.random.Generator(np.random.PCG64([0, 0])), nobody, nobody, [])
    return float(_legal(kind, chosen).mean())


def dealt(kind: DeckKind, seed: int, batch: int, decks: int, holding: Sequence[int] = ()) -> NDArray[Any]:
    """`decks` x `size` card numbers from a seed and a batch number: the same on every machine.

    All legal sets of copies within a faction mix are equally likely, and so are all mixes unless bounds favour
    one. `holding`: every other deck, beginning with the first, contains one of these cards, and the next one
    avoids it if possible; two consecutive such decks have the same card, the next two the next card, in
    rotation.
    """
    import numpy as np

    chance = np.random.Generator(np.random.PCG64([seed, batch]))
    must, avoids = np.full(decks, -1), np.full(decks, -1)
    if holding:
        games = np.arange(decks // 2)
        turns = turn_of(batch * (decks // 2) + games, len(holding))
        must[2 * games], avoids[2 * games + 1] = turns, turns
    copies = [[place for place, card in enumerate(kind.slots) if card == each] for each in holding]
    found = _chosen(kind, chance, must, avoids, copies)
    if kind.bounds:
        left = np.flatnonzero(~_legal(kind, found))
        for _ in range(MOST_ROUNDS):
            if not len(left):
                break
            anew = _chosen(kind, chance, must[left], avoids[left], copies)
            legal = _legal(kind, anew)
            found[left[legal]] = anew[legal]
            left = left[~legal]
    return np.sort(np.array(kind.slots)[found], axis=1)


def _chosen(kind: DeckKind, chance: Any, must: Any, avoids: Any, copies: Sequence[Sequence[int]]) -> Any:
    """Slots of decks, decks x size, ignoring the bounds.

    `must`, `avoids`: the number of the card that a deck contains, or avoids; -1: none.
    """
    import numpy as np

    keys = chance.random((len(must), len(kind.slots)), np.float32)
    if kind.of:
        mixes = chance.random((len(must), kind.of))
        for number, each in enumerate(copies):
            if each and kind.factions[each[0]] >= 0:
                mixes[must == number, kind.factions[each[0]]] = -1
        order = mixes.argsort(axis=1)[:, : kind.mixed]
        allowed = np.zeros((len(must), kind.of + 1), bool)
        np.put_along_axis(allowed, order, True, axis=1)
        allowed[:, kind.of] = True
        keys[~allowed[:, np.array(kind.factions)]] = 2
    for number, each in enumerate(copies):
        if each:
            keys[must == number, each[0]] = -1
            keys[np.ix_(np.flatnonzero(avoids == number), np.array(each))] += 1
    return np.argpartition(keys, kind.size - 1, axis=1)[:, : kind.size]


def _legal(kind: DeckKind, chosen: Any) -> Any:
    """Which decks satisfy every bound."""
    import numpy as np

    legal = np.ones(len(chosen), bool)
    for each in kind.bounds:
        sums = np.array(each.amounts)[chosen].sum(axis=1)
        legal &= (each.least is None or sums >= each.least) & (each.most is None or sums <= each.most)
    return legal


def turn_of(game: Any, held: int) -> Any:
    """The card under test in a game (or games): it changes every second game, so that each card is held by the
    seat that goes first and by the other.
    """
    return game // 2 % held


def mixes_of(kind: DeckKind) -> int:
    """The number of faction mixes; 0 if decks mix freely."""
    return comb(kind.of, kind.mixed) if kind.of and comb(kind.of, kind.mixed) <= MOST_MIXES else 0


def mix_numbers(kind: DeckKind) -> dict[tuple[int, ...], int]:
    """A number for each mix."""
    return {mix: number for number, mix in enumerate(combinations(range(kind.of), kind.mixed))} if mixes_of(kind) else {}
