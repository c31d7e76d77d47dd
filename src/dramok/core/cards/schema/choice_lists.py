"""Choice lists: the allowed values of choice fields in order, each with its marks."""

from __future__ import annotations

from functools import cached_property

from pydantic import Field, model_validator

from dramok.core.problem import Frozen, fold

MOST_VALUES = 10_000


class Choice(Frozen):
    """One allowed value. `colour` is #rrggbb; `notches` distinguish values without colour; `art` is a picture's
    SHA-256.

    `form` is the kind of growth in generated pictures of cards with this value. `within` is the value of
    another list that this one belongs to. A `retired` value is not offered any more; old effects can still name
    it.
    """

    id: str = Field(max_length=80)
    name: str = Field(min_length=1, max_length=80)
    colour: str = Field(default="#6b6b60", pattern=r"^#[0-9a-fA-F]{6}$")
    symbol: str | None = Field(default=None, max_length=40)
    notches: int = Field(default=0, ge=0, le=6)
    form: str = Field(default="", max_length=40)
    art: str | None = Field(default=None, max_length=64)
    within: str | None = None
    retired: bool = False


class ChoiceList(Frozen):
    """Values in order. Offered values have different names."""

    id: str = Field(pattern=r"^[a-z][a-z0-9-]*$", max_length=60)
    name: str = Field(min_length=1, max_length=60)
    values: tuple[Choice, ...] = Field(default=(), max_length=MOST_VALUES)

    @cached_property
    def offered(self) -> tuple[Choice, ...]:
        """The values that can be chosen."""
        return tuple(value for value in self.values if not value.retired)

    @cached_property
    def _by_id(self) -> dict[str, Choice]:
        return {value.id: value for value in self.values}

    @cached_property
    def _by_name(self) -> dict[str, Choice]:
        return {fold(value.name): value for value in self.offered}

    @cached_property
    def _places(self) -> dict[str, int]:
        return {value.id: place for place, value in enumerate(self.values)}

    def get(self, ident: str) -> Choice | None:
        return self._by_id.get(ident)

    def called(self, name: str) -> Choice | None:
        """The offered value with this (folded) name."""
        return self._by_name.get(fold(name))

    def position(self, ident: str) -> int:
        """The position of a value in the list; unknown values come last."""
        return self._places.get(ident, len(self.values))

    @model_validator(mode="after")
    def _distinct(self) -> ChoiceList:
        if len(self._by_id) < len(self.values):
            raise ValueError(f"{self.name}: two values have the same id")
        if len(self._by_name) < len(self.offered):
            seen: set[str] = set()
            twice = next(v.name for v in self.offered if fold(v.name) in seen or seen.add(fold(v.name)))  # type: ignore[func-returns-value]
            raise ValueError(f"{self.name}: two values are called {twice}; merge them, or rename one")
        return self
