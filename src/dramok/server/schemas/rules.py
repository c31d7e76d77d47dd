"""Card types, choice lists and keywords."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import ConfigDict, Field

from dramok.core.cards import CardType
from dramok.core.cards.schema.choice_lists import ChoiceList
from dramok.core.rulebook.rulebook import Keyword
from dramok.server.schemas.base import Out, like


class RulesOut(Out):
    """Card types, choice lists and keywords for editing. Formulas name fields as users do.

    `cards` counts the cards of each type; `uses` those with each value, by list and value; `holds` those with a
    value in each field; `in_set` those of each set.
    """

    types: list[CardType]
    lists: list[ChoiceList]
    cards: dict[str, int]
    uses: dict[str, dict[str, int]]
    holds: dict[str, int]
    in_set: dict[str, int]
    roles: dict[str, str]
    keywords: list[Keyword]


class KeywordsIn(Out):
    """All keywords of the game; `base` is the op number up to which the page has seen the game.

    `renames`: old names to new ones; uses in free text, reminders and the phrase book change with them.
    """

    keywords: list[dict[Literal["name", "reminder"], Annotated[str, Field(max_length=300)]]] = Field(
        max_length=500
    )
    base: int
    renames: dict[Annotated[str, Field(max_length=60)], Annotated[str, Field(max_length=60)]] = Field(
        default={}, max_length=50
    )

    model_config = like(
        {"keywords": [{"name": "Grafted", "reminder": "It comes into play on another plant."}], "base": 41}
    )


class Entry(Out):
    """A part of the rules for editing: a new one has no id.

    Its other keys depend on the part (see the answers of `/rules`).
    """

    model_config = ConfigDict(extra="allow")

    id: str | None = Field(default=None, max_length=80)
    name: str = Field(default="", max_length=1_000)

    def document(self) -> dict[str, Any]:
        """The given keys only."""
        return self.model_dump(exclude_unset=True)


class FieldEntry(Entry):
    kind: str = Field(default="", max_length=20)
    list: str | None = Field(default=None, max_length=80)


class TypeEntry(Entry):
    extends: str | None = Field(default=None, max_length=80)
    fields: list[FieldEntry] = Field(default=[], max_length=300)


class ListEntry(Entry):
    values: list[Entry] = Field(default=[], max_length=20_000)


class TypeIn(Out):
    """A card type; new fields and a new type have no id."""

    type: TypeEntry
    base: int = Field(default=0, ge=0)

    model_config = like(
        {
            "type": {"name": "Bulb", "extends": "card", "fields": [{"name": "Depth", "kind": "number"}]},
            "base": 41,
        }
    )


class LostOut(Out):
    card: str
    text: str
    why: str
    mend: str


class MovedOut(Out):
    field: str
    name: str
    kept: int
    lost: list[LostOut]
    kept_as: str


class KeywordUseOut(Out):
    """A text with a renamed keyword; `card` is empty for texts of the rules."""

    card: str
    title: str
    where: str
    before: str
    after: str


class KeywordPlanOut(Out):
    """The changes of a rename: the first `uses` of `total`, on `cards` cards."""

    uses: list[KeywordUseOut]
    total: int
    cards: int


class TypePlanOut(Out):
    """The effect of writing the type: values that change their kind, hidden fields, cards touched."""

    moved: list[MovedOut]
    put_away: list[str]
    changes: int


class ListIn(Out):
    """A choice list; new values have no id. `moves`: for each removed value its replacement on cards (null: none)."""

    list: ListEntry
    moves: dict[str, str | None] = {}
    base: int = Field(default=0, ge=0)

    model_config = like(
        {
            "list": {"name": "Seasons", "values": [{"name": "early"}, {"name": "late"}]},
            "moves": {},
            "base": 41,
        }
    )


class UnplacedOut(Out):
    value: str
    name: str
    cards: int
    some: str


class ListPlanOut(Out):
    unplaced: list[UnplacedOut]
    moved: int
    changes: int
