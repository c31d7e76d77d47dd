"""Random legal decks from a seed."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from random import Random

from dramok.core.cards import Card
from dramok.core.decks.deck import MAIN, MOST_COPIES, Deck
from dramok.core.decks.deck_rules import Format, Share
from dramok.core.decks.legality import legality
from dramok.core.rulebook import Rulebook

Holds = Callable[[Card], bool]
TRIES = 60
AT_ONCE = 4
"""Copies of a card added at once: a deck that can have dozens of a card gets a few of many."""
MOST_WORK = 20_000
"""The limit of added cards over all attempts: large decks get fewer attempts."""
LIKELY = 40
"""The default size of a deck if the rules do not set one."""


def likely_size(format_: Format) -> int:
    """The size of the main section of a random deck."""
    low, high = format_.least_cards, format_.most_cards
    return low if high - low < LIKELY else max(low, min(high, LIKELY))


def random_deck(
    begun: Deck,
    cards: Sequence[Card],
    rulebook: Rulebook,
    format_: Format,
    seed: int,
    size: int | None = None,
) -> Deck | None:
    """`begun` filled up to a legal deck; None if the attempts found none.

    The same seed gives the same deck of the same cards on every machine: only `Random.random` is used, whose
    sequence Python guarantees. `size` is the size of the main section, by default the minimum, or `LIKELY`
    without one.
    """
    cards = [rulebook.cards.seen(card) for card in cards]
    there = {card.id: card for card in cards}
    ordered = sorted(cards, key=lambda card: (card.code, card.id))
    wanted = size or format_.least_cards
    for attempt in range(max(3, min(TRIES, MOST_WORK // max(1, wanted)))):
        filling = _Filling(begun, ordered, rulebook, format_, Random(f"{seed}/{attempt}"), size)
        deck = filling.filled()
        if not legality(deck, there, rulebook, format_):
            return deck
    return None


class _Filling:
    def __init__(
        self, begun: Deck, cards: Sequence[Card], rulebook: Rulebook, format_: Format, chance: Random, size: int | None
    ) -> None:  # fmt: skip
        self.deck, self.cards, self.rulebook, self.format, self.chance = (
            begun,
            cards,
            rulebook,
            format_,
            chance,
        )
        self.by_id = {each.id: each for each in cards}
        self.main = [each for each in cards if format_.admits(each, rulebook)]
        # The range that one card can add to each sum.
        self.spans = []
        for cap in format_.caps:
            amounts = [each.amount(cap.field) or 0 for each in self.main]
            self.spans.append((cap, min(amounts, default=0), max(amounts, default=0)))
        self.used: dict[str, int] = {}
        for ident, counts in begun.every():
            section = format_.section(ident)
            if ident == MAIN or (section is not None and section.counted):
                for card, count in counts.items():
                    self.used[card] = self.used.get(card, 0) + count
        low, high = format_.least_cards, format_.most_cards
        self.wanted = max(low, min(high, size)) if size is not None else likely_size(format_)

    def filled(self) -> Deck:
        self._sections()
        main = self._of_few_factions(self.main)
        for share, holds in self._shares():
            pool = [card for card in main if holds(card)]
            self._add(pool, share.least - self._held(holds))
        self._add(main, self.wanted - self.deck.size)
        return self.deck

    def _shares(self) -> Iterator[tuple[Share, Holds]]:
        faction = self.rulebook.roles.faction
        for ident, share in self.format.types.items():
            yield share, lambda card, ident=ident: card.type == ident  # type: ignore[misc]
        for ident, share in self.format.factions.items():
            yield share, lambda card, ident=ident: card.text(faction) == ident  # type: ignore[misc]

    def _held(self, holds: Holds) -> int:
        """The number of cards of a kind in the main section."""
        return sum(
            count
            for ident, count in self.deck.cards.items()
            if ident in self.by_id and holds(self.by_id[ident])
        )

    def _of_few_factions(self, pool: list[Card]) -> list[Card]:
        """The cards of the allowed number of factions: those already present and required first, others at random."""
        most = self.format.most_factions
        if most is None:
            return pool
        faction = self.rulebook.roles.faction
        free = {"", *self.format.free_factions}
        there = {card.id: card.text(faction) for card in self.cards}
        chosen = [value for card in self.deck.cards if (value := there.get(card, "")) not in free]
        chosen += [
            value for value, share in self.format.factions.items() if share.least and value not in free
        ]
        chosen = list(dict.fromkeys(chosen))
        others = [each for each in dict.fromkeys(card.text(faction) for card in pool) if each not in (*free, *chosen)]  # fmt: skip
        while len(chosen) < most and others:
            chosen.append(others.pop(self._below(len(others))))
        return [card for card in pool if card.text(faction) in free or card.text(faction) in chosen]

    def _sections(self) -> None:
        for section in self.format.sections:
            pool = [
                card
                for card in self.cards
                if self.format.barred(card) is None and (not section.types or card.type in section.types)
            ]
            for beyond in (False,) if section.counted else (False, True):
                missing = section.least - sum(self.deck.section(section.id).values())
                self._add(pool, missing, section.id, section.counted, beyond)

    def _add(
        self, pool: Sequence[Card], wanted: int, section: str = MAIN, counted: bool = True, beyond: bool = False
    ) -> None:
        """Add `wanted` cards from a pool, a few copies at a time, or fewer if the pool runs out.

        `beyond` are the present copies of a card.
        """
        pool = list(pool)
        while wanted > 0 and pool:
            place = self._below(len(pool))
            card = pool[place]
            room = self._room(card, wanted, section, counted, beyond)
            if room <= 0:
                pool[place] = pool[-1]
                pool.pop()
                continue
            count = 1 + self._below(min(room, AT_ONCE))
            have = self.deck.section(section).get(card.id, 0)
            self.deck = self.deck.with_count(card.id, have + count, section)
            if counted:
                self.used[card.id] = self.used.get(card.id, 0) + count
            wanted -= count

    def _room(self, card: Card, wanted: int, section: str, counted: bool, beyond: bool) -> int:
        used = self.used.get(card.id, 0) if counted else self.deck.section(section).get(card.id, 0)
        most = MOST_COPIES if beyond else self.format.copies_of(card, self.rulebook)
        room = min(wanted, most - used, MOST_COPIES)
        if section != MAIN or room <= 0:
            return room
        for share, holds in self._shares():
            if share.most is not None and holds(card):
                room = min(room, share.most - self._held(holds))
        while room > 0 and not self._sums_can_be(card, room):
            room -= 1
        return room

    def _sums_can_be(self, card: Card, count: int) -> bool:
        """Whether each sum can still end within its bounds, with the smallest or largest remaining cards."""
        left = self.wanted - self.deck.size - count
        for cap, low, high in self.spans:
            total = count * (card.amount(cap.field) or 0) + sum(
                (self.by_id[ident].amount(cap.field) or 0) * held
                for ident, held in self.deck.cards.items()
                if ident in self.by_id
            )
            if cap.most is not None and total + left * low > cap.most:
                return False
            if cap.least is not None and total + left * high < cap.least:
                return False
        return True

    def _below(self, limit: int) -> int:
        return int(self.chance.random() * limit)
