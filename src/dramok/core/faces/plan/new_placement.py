"""Create a placement for a field: the kind that suits it, near the middle of the card."""

from __future__ import annotations

from collections.abc import Collection, Mapping
from typing import Any

from dramok.core.cards import Schema
from dramok.core.cards.schema.fields.text import LINE
from dramok.core.cards.schema.ids import id_from
from dramok.core.faces.plan.plan import BY_KIND
from dramok.core.faces.plan.sizes import Size

PLAIN: Mapping[str, Mapping[str, Any]] = {
    what: {"kind": kind, **document} for kind, place in BY_KIND.items() for what, document in place.palette.items()
}
"""Placements without a field, by their id in the palette."""


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
