"""Edits of cells, queries, find and replace, the wall."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from dramok.core.problem import Problem
from dramok.server.schemas.base import Out, like
from dramok.server.schemas.cards import EditOut


class FieldIn(Out):
    """The typed text, and the op number up to which the page has seen the game.

    `good` is ignored; older clients send it.
    """

    value: str = Field(max_length=300_000)
    base: int = Field(ge=0)
    good: str | None = Field(default=None, max_length=300_000)

    model_config = like({"value": "6", "base": 41})


class PreviewIn(Out):
    """Texts by field id. `good`: the latest error-free text of the effect being typed."""

    typed: dict[str, Annotated[str, Field(max_length=300_000)]] = Field(max_length=200)
    good: str | None = Field(default=None, max_length=300_000)

    model_config = like({"typed": {"height": "6"}})


class NewCardIn(Out):
    """`typed`: the texts of its fields, by id; the others take their defaults.

    `id`: chosen by the client (`c` and 15 to 20 hexadecimal digits), so that it can edit the card before the
    answer arrives.
    """

    type: str
    set: str
    typed: dict[str, Annotated[str, Field(max_length=300_000)]] = {}
    id: str | None = Field(default=None, max_length=60)

    model_config = like({"type": "plant", "set": "first", "typed": {"name": "Late Fern", "cost": "2"}})


class CellIn(Out):
    """A value as typed. `good` is ignored; older clients send it."""

    card: str
    field: str
    typed: str = Field(max_length=300_000)
    good: str | None = Field(default=None, max_length=300_000)


class CellsIn(Out):
    """Cells and new cards written as one edit. `base`: the op number up to which the page has seen the game."""

    cells: list[CellIn] = Field(default=[], max_length=60_000)
    new: list[NewCardIn] = Field(default=[], max_length=6_000)
    base: int = Field(ge=0)
    label: str | None = Field(default=None, max_length=120)

    model_config = like(
        {
            "cells": [{"card": "c-ribbon-season-rs-001", "field": "cost", "typed": "2"}],
            "new": [],
            "base": 41,
            "label": "costs",
        }
    )


class CellRefusedOut(Out):
    """A cell that was not written. `card` is `new/N` for the Nth new card."""

    card: str
    field: str
    typed: str
    problem: Problem
    theirs: str | None


class CellsOut(Out):
    """`edit` is null if nothing was written."""

    edit: EditOut | None
    refused: list[CellRefusedOut]


class IdsIn(Out):
    cards: list[str] = Field(min_length=1, max_length=5_000)

    model_config = like({"cards": ["c-ribbon-season-rs-001"]})


class VariantsIn(Out):
    field: str
    count: int
    step: int = 1

    model_config = like({"field": "cost", "count": 3, "step": 1})


class RangeIn(Out):
    field: str
    least: int
    most: int


class PickIn(Out):
    """`values` are ids of the choice list."""

    field: str
    values: list[str]


class GenerateIn(Out):
    """`total_least` to `total_most` bound the sum of all ranges; `fixed` values are the same on every card."""

    type: str
    set: str
    count: int
    seed: int
    ranges: list[RangeIn] = Field(default=[], max_length=20)
    picks: list[PickIn] = Field(default=[], max_length=20)
    total_least: int | None = None
    total_most: int | None = None
    distinct: bool = True
    fixed: dict[str, str] = {}

    model_config = like(
        {
            "type": "tile",
            "set": "bed",
            "count": 6,
            "seed": 7,
            "ranges": [{"field": "vigour", "least": 1, "most": 8}],
        }
    )


class SortIn(Out):
    field: str
    down: bool = False


class FindIn(Out):
    query: str = Field(default="", max_length=4_000)
    sort: list[SortIn] = Field(default=[], max_length=12)

    model_config = like({"query": "cost >= 3 bed is Fern", "sort": [{"field": "cost", "down": True}]})


class PartOut(Out):
    start: int
    end: int
    text: str


class FoundOut(Out):
    """`waiting` cards have no verdict yet and could not be tested; with a `problem` every card is listed."""

    cards: list[str]
    waiting: int
    parts: list[PartOut]
    problem: Problem | None


class OfferOut(Out):
    text: str
    kind: str
    help: str
    start: int
    end: int


class ReplaceIn(Out):
    """`field` null: every text, effect and tag. Only cards that match `query` are searched."""

    query: str = Field(default="", max_length=4_000)
    wanted: str = Field(max_length=500)
    instead: str = Field(default="", max_length=500)
    field: str | None = None
    same_case: bool = False
    whole_words: bool = False

    model_config = like({"query": "", "wanted": "Fern", "instead": "Bracken", "field": "name"})


class ReplacementOut(Out):
    card: str
    field: str
    before: str
    after: str
    count: int


class GroupOut(Out):
    value: str
    label: str
    colour: str | None


class WallCellOut(Out):
    across: str
    down: str
    cards: list[str]


class WallOut(Out):
    """`cut` cards have values beyond the last group."""

    across: list[GroupOut]
    down: list[GroupOut]
    cells: list[WallCellOut]
    cut: int
    waiting: int
    parts: list[PartOut]
    problem: Problem | None
