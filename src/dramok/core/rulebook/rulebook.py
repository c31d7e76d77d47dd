"""What a game is: validated once, trusted afterwards."""

from __future__ import annotations

from typing import Literal

from pydantic import Field, model_validator

from dramok.core.cards import ChoiceField, NumberField, Schema, TextField
from dramok.core.problem import Frozen


class Roles(Frozen):
    """Which field plays which part. Ids of fields."""

    name: str = "name"
    cost: str = "cost"
    rarity: str = "rarity"
    faction: str = "bed"
    effect: str = "effect"
    printed: str = "printed"
    tags: str = "tags"
    copies: str = "copies"
    toughness: str | None = None
    stats: tuple[str, ...] = ()


class Resource(Frozen):
    """A counted thing. `shared` resources belong to the table, others to each seat; `cap` None is no cap."""

    id: str
    name: str
    names: str
    symbol: str
    start: int = 0
    each_turn: int = 0
    cap: int | None = None
    shared: bool = False


class Table(Frozen):
    """The rules of the table: how a card is paid for, the hand, the empty draw pile, the names of the zones."""

    pays: str | None = None
    opening_hand: int = Field(default=5, ge=0, le=20)
    turn_draw: int = Field(default=1, ge=0, le=20)
    hand_limit: int | None = Field(default=None, ge=1, le=60)
    empty_draw_pile: Literal["reshuffle", "nothing"] = "reshuffle"
    turn: str = "turn"
    dismiss: str = "discard from play"
    zones: dict[str, str] = {}


class Phrases(Frozen):
    """The phrase book: the game's own words for cues, verbs and targets. `{}` parts are filled in by the wording."""

    cues: dict[str, str]
    verbs: dict[str, str]
    sides: dict[str, str]
    picks: dict[str, str]
    damage: str = "damage"
    numbers: tuple[str, ...] = ()


class Rulebook(Frozen):
    """`tags` are the words a designer declared; cards may use others."""

    id: str
    name: str
    cards: Schema
    roles: Roles = Roles()
    resources: tuple[Resource, ...] = ()
    table: Table = Table()
    phrases: Phrases
    tags: tuple[str, ...] = ()

    def resource(self, ident: str) -> Resource:
        """Raises KeyError for an unknown resource."""
        found = next((each for each in self.resources if each.id == ident), None)
        if found is None:
            raise KeyError(ident)
        return found

    @model_validator(mode="after")
    def _sound(self) -> Rulebook:
        wanted = {
            self.roles.name: TextField, self.roles.cost: NumberField, self.roles.rarity: ChoiceField,
            self.roles.faction: ChoiceField, self.roles.printed: TextField,
        }  # fmt: skip
        wanted |= {stat: NumberField for stat in (*self.roles.stats, *filter(None, [self.roles.toughness]))}
        for ident, kind in wanted.items():
            if not isinstance(self.cards.field(ident), kind):
                raise ValueError(f"the role played by {ident} needs a field of kind {kind.__name__}")
        if self.table.pays is not None:
            self.resource(self.table.pays)
        return self
