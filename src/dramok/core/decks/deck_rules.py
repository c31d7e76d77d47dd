"""Deck rules: which decks are legal."""

from __future__ import annotations

from typing import Annotated, Self

from pydantic import Field, model_validator

from dramok.core.cards import Card
from dramok.core.problem import Frozen, fold
from dramok.core.rulebook import Rulebook

Count = Annotated[int, Field(ge=0, le=10_000)]
Ident = Annotated[str, Field(min_length=1, max_length=80)]


class Share(Frozen):
    """The number of cards of a kind. `most` None is no limit, 0 is none at all."""

    least: Count = 0
    most: Count | None = None

    @model_validator(mode="after")
    def _can_be(self) -> Self:
        if self.most is not None and self.least > self.most:
            raise ValueError(f"at least {self.least} and at most {self.most} cards: no deck can be so")
        return self


class Section(Share):
    """A section besides the main one: a leader, a side deck, a market. `types` are the allowed types, empty for
    all.

    `counted`: its copies count together with those of the main section.
    """

    id: str = Field(pattern=r"^[a-z0-9][a-z0-9-]*$", max_length=80)
    name: str = Field(min_length=1, max_length=60)
    types: tuple[Ident, ...] = Field(default=(), max_length=200)
    counted: bool = True


class Cap(Frozen):
    """Bounds of the sum of a number field over the main section."""

    field: Ident
    least: int | None = Field(default=None, ge=-1_000_000, le=1_000_000)
    most: int | None = Field(default=None, ge=-1_000_000, le=1_000_000)

    @model_validator(mode="after")
    def _can_be(self) -> Self:
        if self.least is not None and self.most is not None and self.least > self.most:
            raise ValueError(f"a sum of at least {self.least} and at most {self.most}: no deck can be so")
        return self


class Format(Frozen):
    """`copies` is the most of one card, `copies_by_rarity` overrides it, `limited` overrides both, by card id.

    Sizes, types, factions and caps apply to the main section, which is called `main`. `most_factions` None is
    no limit; `free_factions` are not counted. `banned` are card ids; `sets` are the allowed sets, empty for
    all.
    """

    id: Ident
    name: str = Field(min_length=1, max_length=120)
    least_cards: Count
    most_cards: Count
    copies: Count
    copies_by_rarity: dict[str, Count] = {}
    most_factions: Count | None = None
    free_factions: tuple[Ident, ...] = Field(default=(), max_length=500)
    main: str = Field(default="Main", min_length=1, max_length=60)
    sections: tuple[Section, ...] = Field(default=(), max_length=12)
    types: dict[Ident, Share] = {}
    factions: dict[Ident, Share] = {}
    banned: tuple[Ident, ...] = Field(default=(), max_length=10_000)
    limited: dict[Ident, Count] = {}
    caps: tuple[Cap, ...] = Field(default=(), max_length=40)
    sets: tuple[Ident, ...] = Field(default=(), max_length=500)

    @model_validator(mode="after")
    def _can_be(self) -> Self:
        if self.least_cards > self.most_cards:
            raise ValueError(
                f"at least {self.least_cards} and at most {self.most_cards} cards: no deck can be so"
            )
        names = [fold(each.name) for each in self.sections] + [fold(self.main)]
        if len({each.id for each in self.sections}) < len(self.sections) or len(set(names)) < len(names):
            raise ValueError("two sections have the same name, so a deck can't tell them apart")
        return self

    def copies_of(self, card: Card, rulebook: Rulebook) -> int:
        """The most copies of a card, whether or not it is allowed at all."""
        limited = self.limited.get(card.id)
        if limited is not None:
            return limited
        return self.copies_by_rarity.get(card.text(rulebook.roles.rarity), self.copies)

    def section(self, ident: str) -> Section | None:
        return next((each for each in self.sections if each.id == ident), None)

    def barred(self, card: Card) -> str | None:
        """Why a card is not allowed in any section; None if it is."""
        if card.id in self.banned:
            return "is banned"
        if self.sets and card.set not in self.sets:
            return "is of a set that is not allowed"
        return None

    def admits(self, card: Card, rulebook: Rulebook) -> bool:
        """Whether the main section can contain the card."""
        type_ = self.types.get(card.type)
        faction = self.factions.get(card.text(rulebook.roles.faction))
        return (
            self.barred(card) is None
            and self.copies_of(card, rulebook) > 0
            and not (type_ and type_.most == 0)
            and not (faction and faction.most == 0)
        )
