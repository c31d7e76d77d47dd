"""Find deck rules that no deck can satisfy, with the conflicting rules."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence

from dramok.core.cards import Card
from dramok.core.decks.deck import MOST_COPIES
from dramok.core.decks.deck_rules import Format, Share
from dramok.core.problem import Problem, plural
from dramok.core.rulebook import Rulebook


def clashes(format_: Format, cards: Sequence[Card], rulebook: Rulebook) -> Iterator[Problem]:
    """Pairs of rules that no deck of these cards can satisfy together. Each problem names both in `what`.

    Every rule that requires cards is compared with every rule that limits them; conflicts of three or more
    rules are not found.
    """
    pool = _Pool(format_, [rulebook.cards.seen(card) for card in cards], rulebook)
    least = f"at least {plural(format_.least_cards, 'card')}"
    most = f"at most {plural(format_.most_cards, 'card')}"
    yield from pool.size(least)
    yield from pool.kinds("types", format_.types, lambda card: card.type, least, most, _types(rulebook))
    yield from pool.kinds(
        "factions", format_.factions, lambda card: card.text(rulebook.roles.faction), least, most, _factions(rulebook),
    )  # fmt: skip
    wanted = [
        ident
        for ident, share in format_.factions.items()
        if share.least and ident not in format_.free_factions
    ]
    if format_.most_factions is not None and len(wanted) > format_.most_factions:
        names = ", ".join(map(_factions(rulebook), wanted))
        yield _fight("factions", f"{names} cards are needed", f"a deck may have {format_.most_factions} of them")  # fmt: skip
    yield from pool.sums(least, most)
    yield from pool.sections()


def _fight(where: str, one: str, other: str) -> Problem:
    return Problem(where=where, what=f"{one}, and {other}", mend="loosen one of the two")


def _types(rulebook: Rulebook) -> Callable[[str], str]:
    return lambda ident: rulebook.cards.type(ident).name if rulebook.cards.has_type(ident) else ident


def _factions(rulebook: Rulebook) -> Callable[[str], str]:
    choices = rulebook.cards.choices(rulebook.cards.field(rulebook.roles.faction))
    return lambda ident: choice.name if choices and (choice := choices.get(ident)) else ident


class _Pool:
    """The cards, and the allowed copies of each."""

    def __init__(self, format_: Format, cards: Sequence[Card], rulebook: Rulebook) -> None:
        self.format, self.cards, self.rulebook = format_, cards, rulebook
        self.allowed = [card for card in cards if format_.admits(card, rulebook)]
        self.most = {card.id: format_.copies_of(card, rulebook) for card in self.allowed}

    def size(self, least: str) -> Iterator[Problem]:
        format_ = self.format
        there = sum(self.most.values())
        if there >= format_.least_cards:
            return
        every = sum(format_.copies_of(card, self.rulebook) for card in self.cards if not format_.barred(card))
        barred = sum(format_.copies_of(card, self.rulebook) for card in self.cards)
        if barred < format_.least_cards:
            other = f"with {plural(format_.copies, 'copy', 'copies')} of a card at most, the {plural(len(self.cards), 'card')} of the game give {barred}"
        elif every < format_.least_cards:
            other = f"the sets and bans leave {plural(every, 'card')}"
        else:
            other = f"the types and factions allowed give {plural(there, 'card')}"
        yield _fight("size", least, other)

    def kinds(
        self,
        where: str,
        shares: Mapping[str, Share],
        kind: Callable[[Card], str],
        least: str,
        most: str,
        name: Callable[[str], str],
    ) -> Iterator[Problem]:
        there: dict[str, int] = {}
        for card in self.allowed:
            there[kind(card)] = there.get(kind(card), 0) + self.most[card.id]
        for ident, share in shares.items():
            if share.least > there.get(ident, 0):
                yield _fight(where, f"at least {plural(share.least, 'card')} of {name(ident)}", f"there are only {there.get(ident, 0)} that a deck may have")  # fmt: skip
        asked = sum(share.least for share in shares.values())
        if asked > self.format.most_cards:
            told = " and ".join(f"{share.least} of {name(ident)}" for ident, share in shares.items() if share.least)  # fmt: skip
            yield _fight(where, f"at least {told}", most)
        limits = {ident: share.most for ident, share in shares.items() if share.most is not None}
        given = sum(min(count, limits.get(ident, count)) for ident, count in there.items())
        if given < self.format.least_cards <= sum(there.values()):
            told = " and ".join(f"{limit} of {name(ident)}" for ident, limit in limits.items())
            yield _fight(where, least, f"at most {told}, which leaves {given}")

    def sums(self, least: str, most: str) -> Iterator[Problem]:
        for cap in self.format.caps:
            field = self.rulebook.cards.field(cap.field)
            name = field.name if field else cap.field
            values = sorted(
                value
                for card in self.allowed
                for value in [card.amount(cap.field) or 0] * min(self.most[card.id], self.format.most_cards)
            )
            low, high = self.format.least_cards, self.format.most_cards
            smallest = sum(values[:low]) + sum(value for value in values[low:high] if value < 0)
            largest = sum(values[-low:] if low else ()) + sum(
                value for value in values[: len(values) - low][-(high - low) :] if value > 0 and high > low
            )
            if cap.most is not None and len(values) >= low and smallest > cap.most:
                yield _fight("sum", f"{name} may sum to {cap.most}", f"{least}, which sum to {smallest:g} or more")  # fmt: skip
            if cap.least is not None and largest < cap.least:
                yield _fight("sum", f"{name} must sum to {cap.least}", f"{most}, which sum to {largest:g} or less")  # fmt: skip

    def sections(self) -> Iterator[Problem]:
        for section in self.format.sections:
            # Copies that do not count with others are unlimited.
            there = sum(
                self.format.copies_of(card, self.rulebook) if section.counted else MOST_COPIES
                for card in self.cards
                if self.format.barred(card) is None and (not section.types or card.type in section.types)
            )
            if section.least > there:
                kinds = " or ".join(map(_types(self.rulebook), section.types)) or "the cards allowed"
                yield _fight(section.id, f"{section.name} takes at least {section.least}", f"{kinds} give {there}")  # fmt: skip
