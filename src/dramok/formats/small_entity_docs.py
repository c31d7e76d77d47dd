"""Archive documents of the small entities of a game, one model for each kind."""

from __future__ import annotations

import re
from typing import Annotated, Any, Literal

from annotated_types import Ge, Le
from pydantic import BaseModel, ConfigDict, Field, model_validator

from dramok.core.faces import PlanHead
from dramok.formats.text_table import TextTable

MOST_NUMBER = 2**53


class ThingModel(BaseModel):
    """A document without unknown keys."""

    model_config = ConfigDict(extra="forbid", frozen=True)


class ViewDoc(ThingModel):
    """A saved view of the cards."""

    name: str = Field(max_length=200)
    doc: dict[str, Any]


class MarkDoc(ThingModel):
    """A named moment: after edit `seq`."""

    name: str = Field(max_length=200)
    seq: int = Field(ge=0, le=MOST_NUMBER)
    at: str = Field(max_length=40)


class NoteDoc(ThingModel):
    card: str = Field(max_length=80)
    text: str = Field(max_length=20_000)
    answer: str = Field(default="", max_length=20_000)
    state: Literal["open", "answered"]
    at: str = Field(max_length=40)
    playtest: str = Field(default="", max_length=80)
    moment: int = Field(default=-1, ge=-1, le=1_000_000)
    turn: int = Field(default=0, ge=0, le=1_000_000)


class SourceDoc(ThingModel):
    """A tracked table."""

    name: str = Field(max_length=200)
    address: str = Field(max_length=2_000)
    order: dict[str, Any] = {}
    minutes: int = Field(default=0, ge=0, le=100_000)


class PictureDoc(ThingModel):
    name: str = Field(max_length=200)
    sha: str = Field(pattern=r"^[0-9a-f]{64}$")


class FacePlanDoc(PlanHead):
    """A face plan. Besides its head it has placements as `place/ID` and styles as `style/ID`."""

    model_config = ConfigDict(extra="allow", frozen=True)

    @model_validator(mode="after")
    def _sound(self) -> FacePlanDoc:
        for key, value in (self.model_extra or {}).items():
            if not re.fullmatch(r"(place|style)/[a-z][a-z0-9-]{0,39}", key) or not isinstance(value, dict):
                raise ValueError(f"{key[:60]} is neither a placement nor a style")
        return self


class RunDoc(ThingModel):
    """A print run: time, order, and for each card the digests of front and back (empty: not printed) and the copies."""

    name: str = Field(max_length=200)
    at: str = Field(max_length=40)
    order: dict[str, Any] = {}
    faces: dict[
        Annotated[str, Field(max_length=80)],
        tuple[
            Annotated[str, Field(max_length=64)],
            Annotated[str, Field(max_length=64)],
            Annotated[int, Ge(0), Le(1_000_000)],
        ],
    ]


_Points = Annotated[float, Field(allow_inf_nan=False)]


class MeasurementDoc(ThingModel):
    """A measurement: for each card points of win rate, low, high, whether it is named, and the number of decks
    it was in.
    """

    name: str = Field(max_length=200)
    at: str = Field(max_length=40)
    games: int = Field(ge=0, le=MOST_NUMBER)
    player: str = Field(max_length=40)
    seed: int = Field(ge=0, le=2**53)
    seq: int = Field(ge=0, le=MOST_NUMBER)
    digest: str = Field(max_length=64)
    first: tuple[_Points, _Points, _Points]
    turns: _Points
    cards: dict[Annotated[str, Field(max_length=80)], tuple[_Points, _Points, _Points, bool, Annotated[int, Ge(0), Le(MOST_NUMBER)]]]


DOCS: dict[str, type[BaseModel]] = {
    "view": ViewDoc, "mark": MarkDoc, "note": NoteDoc, "source": SourceDoc, "layout": TextTable, "picture": PictureDoc,
    "plan": FacePlanDoc, "run": RunDoc, "measurement": MeasurementDoc,
}  # fmt: skip
"""The document model of each kind."""
