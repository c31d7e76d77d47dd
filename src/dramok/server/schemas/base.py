"""Base schemas: problems, games by name, damage."""

from __future__ import annotations

from decimal import Decimal
from typing import TYPE_CHECKING, Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field, PlainSerializer

from dramok.core.automatic_players import PLAYERS
from dramok.core.problem import Problem

Points = Annotated[Decimal, PlainSerializer(float, return_type=float)]
if TYPE_CHECKING:
    PlayerWord = str
    SeatWord = str
else:
    PlayerWord = Literal[PLAYERS]
    """The id of an automatic player."""
    SeatWord = Literal[("person", *PLAYERS)]
    """Who has a seat: a person at the screen, or an automatic player."""


class Out(BaseModel):
    model_config = ConfigDict(from_attributes=True)


def like(example: dict[str, Any]) -> ConfigDict:
    """Model settings with one example for the OpenAPI document."""
    return ConfigDict(from_attributes=True, json_schema_extra={"examples": [example]})


class ProblemOut(Out):
    """RFC 9457, with where, what and `mend` (the fix); `theirs` and `yours` if someone else changed the same
    field.

    `op` is the edit that cannot be undone completely, `rest` the number of its changes that still can be.
    """

    type: str = "about:blank"
    title: str
    status: int
    detail: str
    where: str = ""
    mend: str = ""
    nearest: str | None = None
    theirs: str | None = None
    yours: str | None = None
    seq: int | None = None
    op: int | None = None
    rest: int | None = None


class DamageBrief(Out):
    what: str
    mend: str


class GameBrief(Out):
    """`damage`: why a game cannot be read; it then has no counts of cards and decks."""

    id: str
    name: str
    cards: int
    decks: int
    damage: DamageBrief | None = None


class FaultOfGameOut(Out):
    """`entity`: card, deck, set, game or the kind of a thing."""

    entity: str
    id: str
    problem: Problem


class SoundMomentOut(Out):
    seq: int
    label: str
    at: str


class DamageOut(Out):
    """The damage of a game; `sound` is the moment to which a repair goes back, over `steps` edits.

    Null: no repair is possible.
    """

    id: str
    name: str
    faults: list[FaultOfGameOut]
    sound: SoundMomentOut | None
    steps: int
    rebuilt: list[str]


class RepairIn(Out):
    """`to`: the valid moment that was shown."""

    to: int = Field(ge=0, le=2**53)

    model_config = like({"to": 41})


class NameIn(Out):
    name: str = Field(max_length=1000)

    model_config = like({"name": "Night Garden"})
