"""Create a placement for a field: the kind that suits it, near the middle of the card."""

from __future__ import annotations

from collections.abc import Collection, Mapping
from typing import Any

from dramok.core.cards import Schema
from dramok.core.cards.schema.fields.text import LINE
from dramok.core.cards.schema.ids import id_from
from dramok.core.faces.plan.sizes import Size

PLAIN: dict[str, dict[str, Any]] = {
    "panel": {"kind": "panel", "name": "Panel", "width": 24.0, "height": 12.0, "fill": "#d9ceb4", "radius": 1.0},
    "frame": {"kind": "panel", "name": "Frame", "stroke": "#23281f", "thick": 0.8, "radius": 2.0},
    "line": {"kind": "line", "name": "Line", "width": 30.0, "height": 1.0},
    "ground": {"kind": "ground", "name": "Pattern", "width": 24.0, "height": 24.0, "pattern": "trellis", "ink": "#d9ceb4"},
    "edges": {"kind": "edges", "name": "Values at the edges", "font": "figures", "largest": 5.0, "align": "middle", "rise": "middle"},
    "reminders": {"kind": "reminders", "name": "Reminders", "width": 40.0, "height": 10.0, "font": "italic", "largest": 2.6, "least": 1.9},
}  # fmt: skip
"""Placements without a field, by their name in the palette."""


def new_place(
    what: str, schema: Schema, size: Size, used: Collection[str], top: float
) -> tuple[str, Mapping[str, Any]]:
    """(id, document) of a placement. `what` is a field's id, one of `PLAIN`, or a card column such as `code`.

    `used` are the plan's ids, `top` the z above all others. Raises KeyError for what can't be placed.
    """
    if what in PLAIN:
        document = dict(PLAIN[what])
        if what in ("frame", "edges"):
            document |= {"width": size.width, "height": size.height}
        name = str(document["name"])
    else:
        field = schema.field(what)
        if field is None and what not in ("code", "type", "set", "game", "back"):
            raise KeyError(what)
        name = field.name if field else what.capitalize()
        document = dict(field.placement if field else LINE)
        document["field"] = what
        document["name"] = name
    wide, high = min(float(document["width"]), size.width), min(float(document["height"]), size.height)
    x, y = round((size.width - wide) * 2) / 4, round((size.height - high) * 2) / 4
    document |= {"x": x, "y": y, "width": wide, "height": high, "z": top}
    ident = id_from(name, used, "place")[:40]
    return ident, document
