"""Default face plans made from a game's fields: a spine with cost and stats, the name above, the picture to the
right edge.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, NamedTuple

from dramok.core.cards import EffectField, NumberField
from dramok.core.faces.plan.colours import PAPER
from dramok.core.faces.plan.plan import INK, PlanDoc, PlanHead
from dramok.core.faces.plan.sizes import Box, Size
from dramok.core.rulebook import Rulebook

SOFT, FAINT = "#5d5a4a", "#d9ceb4"
SPINE, PLATE, PLATE_HIGH = 11.6, 8.6, 12.9
FIRST, STEP = 3.4, 15.2
Document = dict[str, Any]


class _Frame(NamedTuple):
    """Positions on a card of one shape, in mm."""

    size: Size
    name: Box
    picture: Box
    kind: Box
    tags: Box
    label: Box
    foot: Box


FRAMES = {
    "portrait": _Frame(
        Size(width=63.5, height=88.9), (13.6, 2.6, 47.6, 7.0), (SPINE, 10.6, 63.5 - SPINE, 39.0), (13.8, 50.4, 23.0, 4.6),
        (37.0, 50.4, 24.0, 4.6), (14.2, 57.0, 46.6, 25.8), (14.2, 83.6, 32.0, 2.8),
    ),
    "landscape": _Frame(
        Size(width=88.9, height=63.5), (13.6, 2.4, 72.6, 7.0), (SPINE, 10.4, 31.4, 53.1), (45.2, 10.8, 22.0, 4.6),
        (67.4, 10.8, 19.0, 4.6), (45.6, 17.8, 40.6, 40.2), (45.6, 58.4, 32.0, 2.8),
    ),
    "square": _Frame(
        Size(width=60, height=60), (13.4, 2.2, 44.2, 6.4), (SPINE, 9.4, 60 - SPINE, 29.0), (13.6, 39.0, 24.0, 4.6),
        (37.8, 39.0, 19.8, 4.6), (14.0, 45.4, 43.4, 9.6), (14.0, 55.2, 30.0, 2.6),
    ),
}  # fmt: skip
STYLES: dict[str, Document] = {
    "title": {"name": "Title", "font": "name", "largest": 5.0, "least": 2.7, "ink": INK, "rise": "middle"},
    "rules": {"name": "Rules text", "font": "body", "largest": 3.45, "least": 2.25, "ink": INK},
    "figures": {"name": "Figures", "font": "figures", "largest": 6.6, "least": 3.0, "ink": INK, "align": "middle", "rise": "middle"},
    "small": {"name": "Small print", "font": "body", "largest": 2.0, "least": 1.4, "ink": SOFT, "rise": "middle"},
}  # fmt: skip


def starting_plans(rulebook: Rulebook, game: str) -> list[PlanDoc]:
    """A base plan, a plan for each type of another shape, a back. The ids are always the same."""
    types = rulebook.cards.types
    base = next((each.shape for each in types if not each.abstract), "portrait")
    plans = [
        PlanDoc(
            id=f"f-{game}-base", head=PlanHead(name="Base", size=FRAMES[base].size), places=front(rulebook, base),
            styles=dict(STYLES),
        )
    ]  # fmt: skip
    for each in types:
        if each.shape != base and not each.abstract:
            head = PlanHead(name=each.name, type=each.id, size=FRAMES[each.shape].size)
            plans.append(PlanDoc(id=f"f-{game}-{each.id}", head=head, places=front(rulebook, each.shape)))
    size = FRAMES[base].size
    plans.append(
        PlanDoc(
            id=f"f-{game}-back", head=PlanHead(name="Back", side="back", size=size), places=back_places(size)
        )
    )
    for each in types:
        if each.shape != base and not each.abstract:
            own = FRAMES[each.shape].size
            head = PlanHead(name=f"{each.name} back", type=each.id, side="back", size=own)
            plans.append(PlanDoc(id=f"f-{game}-{each.id}-back", head=head, places=back_places(own)))
    return plans


def front(rulebook: Rulebook, shape: str) -> dict[str, Document]:
    """The placements of a front, lowest first."""
    frame, roles = FRAMES[shape], rulebook.roles
    size = frame.size
    bed = f"@{roles.faction}" if roles.faction else "#6b6b60"
    spine = f"{bed}-30" if roles.faction else "#51514a"
    places: dict[str, Document] = {
        "picture": {"kind": "picture", "name": "Picture", **_at(frame.picture)},
        "spine": {"kind": "panel", "name": "Spine", **_at((0, 0, SPINE, size.height)), "fill": spine},
        "spine-edge": {"kind": "panel", "name": "Light on the spine", **_at((SPINE - 0.9, 0, 0.35, size.height)), "fill": f"{bed}+10" if roles.faction else "#85857a"},
    }  # fmt: skip
    if roles.rarity:
        places["rarity"] = {
            "kind": "choice", "name": "Rarity", "field": roles.rarity, "shown": "notches", "edge": "left", "fill": PAPER,
            **_at((0, size.height - 25, 10.6, 18.5)),
        }  # fmt: skip
    places |= _numbers(rulebook, size, bed)
    places["name"] = {
        "kind": "text",
        "name": "Name",
        "field": roles.name,
        "style": "title",
        "lines": 1,
        **_at(frame.name),
    }
    kind = {
        "kind": "text",
        "name": "Type",
        "field": "type",
        "font": "figures",
        "largest": 2.7,
        "least": 2.0,
        "ink": spine,
        "rise": "middle",
        "lines": 1,
    }
    places["kind"] = {**kind, **({"also": roles.faction} if roles.faction else {}), **_at(frame.kind)}
    if roles.tags:
        places["tags"] = {
            "kind": "tags", "name": "Tags", "field": roles.tags, "font": "italic", "largest": 2.7, "least": 2.0, "ink": SOFT, "align": "end",
            "rise": "middle", **_at(frame.tags),
        }  # fmt: skip
    text = _text_field(rulebook)
    if text:
        places["text"] = {
            "kind": "text", "name": "Effect" if text == roles.effect else "Text", "field": text, "style": "rules", "ruled": True, "rule_ink": FAINT,
            "head_ink": spine, "symbol_ink": spine, **_at(frame.label),
        }  # fmt: skip
    places["code"] = {
        "kind": "text",
        "name": "Code",
        "field": "code",
        "style": "small",
        "lines": 1,
        **_at(frame.foot),
    }
    return {ident: {**place, "z": z} for z, (ident, place) in enumerate(places.items())}


def _text_field(rulebook: Rulebook) -> str | None:
    """The field for the label text: the effect, else the printed text."""
    roles, schema = rulebook.roles, rulebook.cards
    if isinstance(schema.field(roles.effect), EffectField):
        return roles.effect
    return roles.printed if schema.field(roles.printed) is not None else None


def _numbers(rulebook: Rulebook, size: Size, bed: str) -> dict[str, Document]:
    """Cost and stats stacked along the spine, visible in a fanned hand."""
    roles, schema = rulebook.roles, rulebook.cards
    fields = [
        field
        for ident in dict.fromkeys(filter(None, (roles.cost, *roles.stats)))
        if isinstance(field := schema.field(ident), NumberField)
    ]
    step = min(STEP, (size.height - 26 - FIRST) / max(1, len(fields) - 1))
    tinted = bed.startswith("@")
    made: dict[str, Document] = {}
    for place, field in enumerate(fields):
        is_cost = field.id == roles.cost
        fill, ink = (PAPER, INK) if is_cost else (f"{bed}-58" if tinted else "#33332e", PAPER)
        made[field.id[:40]] = {
            "kind": "number", "name": field.name, "field": field.id, "style": "figures", "fill": fill, "ink": ink,
            "symbol_ink": f"{bed}+62" if tinted else "#d8d8cc", "empty": "hide" if field.hide_empty else "dash",
            **_at(((SPINE - PLATE) / 2, FIRST + place * step, PLATE, PLATE_HIGH)),
        }  # fmt: skip
    return made


def back_places(size: Size) -> dict[str, Document]:
    """The placements of a back: background, title on a plate, and a picture that replaces all of it."""
    inset, high = 2.6, 10.8
    wide, tall = size.width - 2 * inset, size.height - 2 * inset
    middle = size.height / 2 - high / 2
    places: dict[str, Document] = {
        "ground": {"kind": "panel", "name": "Ground", **_at((inset, inset, wide, tall)), "fill": "@back", "radius": 1.6},
        "pattern": {"kind": "ground", "name": "Pattern", **_at((inset, inset, wide, tall))},
        "plate": {"kind": "panel", "name": "Plate", **_at((9, middle, size.width - 18, high)), "fill": PAPER, "radius": 1.4},
        "title": {
            "kind": "text", "name": "Title", "field": "back", "style": "title", "align": "middle", "largest": 6.0, "lines": 1,
            **_at((11, middle, size.width - 22, high)),
        },
        "picture": {"kind": "picture", "name": "Own picture", "stand_in": False, **_at((0, 0, size.width, size.height))},
    }  # fmt: skip
    return {ident: {**place, "z": z} for z, (ident, place) in enumerate(places.items())}


def _at(box: Box) -> Mapping[str, float]:
    return dict(zip(("x", "y", "width", "height"), (round(each, 3) for each in box), strict=True))
