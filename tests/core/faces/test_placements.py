"""The kinds of placement: each is parsed, drawn, measured and checked, on a full card and on an empty one."""

from __future__ import annotations

from typing import get_args

import pytest

from dramok.core.faces.layout.face import DRAW
from dramok.core.faces.plan.plan import BY_KIND, KINDS, NoPlace, Place, check_place, read_place
from tests.core.faces.plans import at, base, book, face_of
from tests.core.invented_world import card

FIELD = {"number": "cost", "text": "name", "choice": "bed", "symbols": "cost", "tags": "tags"}


def test_every_kind_is_in_the_union_and_can_be_drawn():
    assert set(BY_KIND) == set(DRAW) and set(KINDS) == set(get_args(get_args(Place)[0]))


@pytest.mark.parametrize("kind", BY_KIND)
def test_a_kind_is_read_checked_and_drawn(kind):
    document = {"kind": kind, **at(4, 4, 30, 20), **({"field": FIELD[kind]} if kind in FIELD else {})}
    if kind == "edges":
        document["fields"] = ["cost", "height"]
    place = read_place("it", document)
    assert isinstance(place, BY_KIND[kind]) and check_place("it", document) is None
    assert place.furniture == (kind in ("panel", "line", "ground"))
    assert place.worded == hasattr(place, "style")
    for each in (card("Full", cost=5, height=3, tags=("climber",)), card("Bare").with_value("cost", None)):
        face = face_of(each, book(base(it=document)))
        assert face.width > 0 and [placed.place.kind for placed in face.placed] in ([kind], [])
    style = {"plain": {"ink": "#123456", "font": "italic"}}
    styled = read_place("it", {**document, "style": "plain"} if place.worded else document, style)
    assert (getattr(styled, "font", "") == "italic") == place.worded, "a style is only for what has text"


def test_an_unknown_kind_or_key_is_never_silently_something_else():
    assert "no kind of placement" in check_place("it", {"kind": "hologram"}).what
    assert check_place("it", {"kind": "panel", "glow": 3}) is not None
    with pytest.raises(NoPlace):
        read_place("it", {"kind": "hologram"})
    with pytest.raises(NoPlace, match="number"):
        read_place("it", {"kind": "panel", "width": "wide"})
