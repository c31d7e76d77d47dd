"""Every violation of deck rules by a deck, with fixes."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from typing import NamedTuple

from dramok.core.cards import Card
from dramok.core.decks.deck import MAIN, Counts, Deck
from dramok.core.decks.deck_rules import Format, Share
from dramok.core.problem import Problem, plural
from dramok.core.rulebook import Rulebook


class Fix(NamedTuple):
    """The number of copies of a card that a section would have."""

    section: str
    card: str
    copies: int


class DeckProblem(Problem):
    """`fixes` solve the problem together as one edit, if there is one obvious way."""

    fixes: tuple[Fix, ...] = ()


def legality(
    deck: Deck, cards: Mapping[str, Card], rulebook: Rulebook, format_: Format
) -> tuple[DeckProblem, ...]:
    """Every violation of the deck rules; empty for a legal deck.

    `cards` are the game's cards by id; `where` of a problem is `size`, `factions`, `types`, `sum`, a section's
    id or a card's code.
    """
    look = _Look(deck, cards, rulebook, format_)
    return (
        *look.size(), *look.sections(), *look.copies(), *look.types(), *look.factions(), *look.mixed(), *look.sums(),
    )  # fmt: skip


class _Look:
    def __init__(self, deck: Deck, cards: Mapping[str, Card], rulebook: Rulebook, format_: Format) -> None:
        held = {ident for counts in (deck.cards, *deck.sections.values()) for ident in counts if ident in cards}
        self.deck, self.rulebook, self.format = deck, rulebook, format_
        self.cards = {ident: rulebook.cards.seen(cards[ident]) for ident in held}
        self.schema, self.roles = rulebook.cards, rulebook.roles

    def size(self) -> Iterator[DeckProblem]:
        low, high = self.format.least_cards, self.format.most_cards
        yield from _amount("size", "", self.deck.size, Share(least=low, most=high))

    def sections(self) -> Iterator[DeckProblem]:
        for section in self.format.sections:
            counts = self.deck.section(section.id)
            yield from _amount(section.id, f"{section.name}: ", sum(counts.values()), section)
            wrong = {
                card: count
                for card, count in counts.items()
                if section.types and card in self.cards and self.cards[card].type not in section.types
            }
            if wrong:
                names = ", ".join(self._name(card) for card in wrong)
                allowed = " or ".join(self._type(each) for each in section.types)
                yield DeckProblem(
                    where=section.id, what=f"{section.name} may hold {allowed} only, and has {names}", mend=f"remove {names}",
                    fixes=tuple(Fix(section.id, card, 0) for card in wrong),
                )  # fmt: skip
        known = {each.id for each in self.format.sections}
        for ident, counts in self.deck.sections.items():
            if ident not in known:
                yield DeckProblem(
                    where=ident, what=f"{plural(sum(counts.values()), 'card')} in a section that {self.format.name} does not have",
                    mend="remove them, or choose other deck rules", fixes=tuple(Fix(ident, card, 0) for card in counts),
                )  # fmt: skip

    def copies(self) -> Iterator[DeckProblem]:
        every = list(self.deck.every())
        for card in dict.fromkeys(card for _, counts in every for card in counts):
            found = self.cards.get(card)
            if len(every) == 1 and found is not None and self._is_fine(found):
                continue
            held = [(ident, counts[card]) for ident, counts in every if card in counts]
            out = "this card is gone from the game" if found is None else self._barred(found)
            if out is not None:
                yield DeckProblem(
                    where=found.code if found else card, what=out, mend="remove it", fixes=tuple(Fix(ident, card, 0) for ident, _ in held),
                )  # fmt: skip
                continue
            assert found is not None
            most = self.format.copies_of(found, self.rulebook)
            together = [(ident, count) for ident, count in held if self._counted(ident)]
            count = sum(count for _, count in together)
            if count > most:
                yield DeckProblem(
                    where=found.code, what=f"{count} of {self._name(card)}; maximum {most}", mend=f"remove {count - most}",
                    fixes=_fewer(card, together, count - most),
                )  # fmt: skip

    def _is_fine(self, card: Card) -> bool:
        """Whether a card of a deck with one section respects the copy rules: true for nearly all, and checked
        for a thousand decks at once.
        """
        rules = self.format
        return (
            self.deck.cards[card.id] <= rules.copies_of(card, self.rulebook)
            and (not rules.sets or card.set in rules.sets)
            and card.id not in rules.banned
        )

    def _barred(self, card: Card) -> str | None:
        why = self.format.barred(card)
        return None if why is None else f"{self._name(card.id)} {why}"

    def _counted(self, ident: str) -> bool:
        """Whether copies in a section count together with others."""
        section = self.format.section(ident)
        return ident == MAIN or (section is not None and section.counted)

    def types(self) -> Iterator[DeckProblem]:
        if self.format.types:
            yield from self._shares("types", self._by(lambda card: card.type), self.format.types, self._type)

    def factions(self) -> Iterator[DeckProblem]:
        if self.format.factions:
            counts = self._by(lambda card: card.text(self.roles.faction))
            yield from self._shares("factions", counts, self.format.factions, self._faction)

    def mixed(self) -> Iterator[DeckProblem]:
        format_ = self.format
        if format_.most_factions is None:
            return
        field = self.schema.field(self.roles.faction)
        choices = self.schema.choices(field)
        if field is None or choices is None:
            return
        held = self._by(lambda card: card.text(self.roles.faction))
        counts = {
            value: sum(cards.values())
            for value, cards in held.items()
            if value and value not in format_.free_factions
        }
        if len(counts) <= format_.most_factions:
            return
        noun = field.name.lower()
        fewest = sorted(counts, key=lambda value: (counts[value], value))[
            : len(counts) - format_.most_factions
        ]
        names = ", ".join(self._faction(value) for value in sorted(counts, key=choices.position))
        mend = f"remove {' and '.join(f'the {counts[value]} of {self._faction(value)}' for value in fewest)}"
        yield DeckProblem(
            where="factions", what=f"{len(counts)} {noun}s ({names}); maximum {format_.most_factions}", mend=mend,
            fixes=tuple(Fix(MAIN, card, 0) for value in fewest for card in held[value]),
        )  # fmt: skip

    def sums(self) -> Iterator[DeckProblem]:
        for cap in self.format.caps:
            field = self.schema.field(cap.field)
            if field is None:
                yield DeckProblem(where="sum", what=f"the deck rules ask for a sum of {cap.field}, a field that is gone", mend="change the deck rules")  # fmt: skip
                continue
            total = sum(
                count * (self.cards[card].amount(cap.field) or 0)
                for card, count in self.deck.cards.items()
                if card in self.cards
            )
            shown = f"{total:g}" if isinstance(total, float) else str(total)
            if cap.most is not None and total > cap.most:
                yield DeckProblem(where="sum", what=f"{field.name} sums to {shown}; maximum {cap.most}", mend=f"bring it down by {total - cap.most:g}")  # fmt: skip
            if cap.least is not None and total < cap.least:
                yield DeckProblem(where="sum", what=f"{field.name} sums to {shown}; minimum {cap.least}", mend=f"bring it up by {cap.least - total:g}")  # fmt: skip

    def _shares(
        self, where: str, held: Mapping[str, Counts], shares: Mapping[str, Share], name: Callable[[str], str]
    ) -> Iterator[DeckProblem]:
        for ident, share in shares.items():
            cards = held.get(ident, {})
            count = sum(cards.values())
            if share.most == 0 and count:
                yield DeckProblem(
                    where=where, what=f"{name(ident)} is not allowed, and there {'is' if count == 1 else 'are'} {count}", mend="remove them",
                    fixes=tuple(Fix(MAIN, card, 0) for card in cards),
                )  # fmt: skip
            else:
                yield from _amount(where, f"{name(ident)}: ", count, share)

    def _by(self, key: Callable[[Card], str]) -> dict[str, dict[str, int]]:
        """Counts of the main section's cards by the result of `key`."""
        found: dict[str, dict[str, int]] = {}
        for card, count in self.deck.cards.items():
            if card in self.cards:
                found.setdefault(key(self.cards[card]), {})[card] = count
        return found

    def _name(self, card: str) -> str:
        found = self.cards.get(card)
        return "a card that is gone" if found is None else found.text(self.roles.name) or found.code

    def _type(self, ident: str) -> str:
        return self.schema.type(ident).name if self.schema.has_type(ident) else ident

    def _faction(self, value: str) -> str:
        choices = self.schema.choices(self.schema.field(self.roles.faction))
        choice = choices.get(value) if choices else None
        return choice.name if choice else value


def _fewer(card: str, held: list[tuple[str, int]], by: int) -> tuple[Fix, ...]:
    """Remove copies of a card, from the last sections first."""
    fixes = []
    for ident, count in reversed(held):
        taken = min(count, by)
        by -= taken
        if taken:
            fixes.append(Fix(ident, card, count - taken))
    return tuple(fixes)


def _amount(where: str, told: str, count: int, share: Share) -> Iterator[DeckProblem]:
    if count < share.least:
        yield DeckProblem(where=where, what=f"{told}{plural(count, 'card')}; minimum {share.least}", mend=f"add {share.least - count}")  # fmt: skip
    if share.most is not None and count > share.most:
        yield DeckProblem(where=where, what=f"{told}{plural(count, 'card')}; maximum {share.most}", mend=f"remove {count - share.most}")  # fmt: skip
