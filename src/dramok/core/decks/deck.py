"""A deck is cards with counts; a format says what is legal."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Annotated

from pydantic import Field, model_validator

from dramok.core.cards import Card
from dramok.core.problem import Frozen, Problem, plural
from dramok.core.rulebook import Rulebook

MOST_COPIES = 99
Count = Annotated[int, Field(ge=0, le=10_000)]


@dataclass(frozen=True)
class Deck:
    """`cards` maps card id to count (1 or more). `seq` is the journal number of the latest edit."""

    id: str
    name: str
    cards: Mapping[str, int]
    seq: int = 0

    @property
    def size(self) -> int:
        return sum(self.cards.values())

    def with_count(self, card: str, count: int) -> Deck:
        """The deck with one card's count set, kept between 0 (out of the deck) and `MOST_COPIES`."""
        cards = {**self.cards, card: max(0, min(MOST_COPIES, count))}
        return replace(self, cards={key: value for key, value in cards.items() if value > 0})


class Format(Frozen):
    """`copies` is the most of one card, `copies_by_rarity` overrides it; `most_factions` None is no limit."""

    id: str = Field(min_length=1, max_length=80)
    name: str = Field(min_length=1, max_length=120)
    least_cards: Count
    most_cards: Count
    copies: Count
    copies_by_rarity: dict[str, Count] = {}
    most_factions: Count | None = None

    @model_validator(mode="after")
    def _can_be(self) -> Format:
        if self.least_cards > self.most_cards:
            raise ValueError(
                f"at least {self.least_cards} and at most {self.most_cards} cards: no deck can be so"
            )
        return self

    def copies_of(self, card: Card, rulebook: Rulebook) -> int:
        return self.copies_by_rarity.get(card.text(rulebook.roles.rarity), self.copies)


def legality(
    deck: Deck, cards: Mapping[str, Card], rulebook: Rulebook, format_: Format
) -> tuple[Problem, ...]:
    """Every way in which the deck breaks the format. Empty when it is legal.

    `cards` are the game's cards by id; `where` of a problem is `size`, `factions` or a card's code.
    """
    return (
        *_size(deck, format_),
        *_copies(deck, cards, rulebook, format_),
        *_factions(deck, cards, rulebook, format_),
    )


def _size(deck: Deck, format_: Format) -> tuple[Problem, ...]:
    if deck.size < format_.least_cards:
        missing = format_.least_cards - deck.size
        return (
            Problem(
                where="size",
                what=f"{plural(deck.size, 'card')}; the least is {format_.least_cards}",
                mend=f"add {missing}",
            ),
        )
    if deck.size > format_.most_cards:
        over = deck.size - format_.most_cards
        return (
            Problem(
                where="size",
                what=f"{plural(deck.size, 'card')}; the most is {format_.most_cards}",
                mend=f"remove {over}",
            ),
        )
    return ()


def _copies(
    deck: Deck, cards: Mapping[str, Card], rulebook: Rulebook, format_: Format
) -> tuple[Problem, ...]:
    problems = []
    for ident, count in deck.cards.items():
        card = cards.get(ident)
        if card is None:
            problems.append(Problem(where=ident, what="this card is gone from the game", mend="remove it"))
        elif count > (most := format_.copies_of(card, rulebook)):
            name = card.text(rulebook.roles.name) or card.code
            problems.append(
                Problem(
                    where=card.code,
                    what=f"{count} of {name}; the most is {most}",
                    mend=f"remove {count - most}",
                )
            )
    return tuple(problems)


def _factions(
    deck: Deck, cards: Mapping[str, Card], rulebook: Rulebook, format_: Format
) -> tuple[Problem, ...]:
    if format_.most_factions is None:
        return ()
    field = rulebook.cards.field(rulebook.roles.faction)
    choices = rulebook.cards.choices(field)
    counts: dict[str, int] = {}
    for ident, count in deck.cards.items():
        if ident in cards and (value := cards[ident].text(rulebook.roles.faction)):
            counts[value] = counts.get(value, 0) + count
    if field is None or choices is None or len(counts) <= format_.most_factions:
        return ()
    names = {value: choice.name if (choice := choices.get(value)) else value for value in counts}
    noun = field.name.lower()
    fewest = sorted(counts, key=lambda value: (counts[value], value))[: len(counts) - format_.most_factions]
    what = f"{len(counts)} {noun}s ({', '.join(names[value] for value in sorted(counts, key=choices.position))}); the most is {format_.most_factions}"
    mend = f"remove {' and '.join(f'the {counts[value]} of {names[value]}' for value in fewest)}"
    return (Problem(where="factions", what=what, mend=mend),)
