"""Packs of generated pictures for card types, and the choice of a pack by the type's name."""

from __future__ import annotations

import re
from typing import Literal

Pack = Literal["pattern", "figure", "creature", "object", "growth", "sky", "tool"]
"""A pack for cards without art: the first four suit any game (see `faces.art`)."""

_WORD = re.compile(r"[^\W\d_]+")
_CALLS: dict[Pack, tuple[str, ...]] = {
    "creature": ("creature", "monster", "beast", "animal", "threat", "foe", "enem", "mount", "companion"),
    "figure": (
        "unit", "character", "hero", "ally", "allies", "minion", "follower", "person", "people", "crew", "champion", "leader", "pawn", "piece", "citizen",
        "villag", "role", "soldier", "troop", "worker", "traveller", "guest",
    ),
    "object": (
        "item", "equip", "weapon", "artifact", "artefact", "gear", "treasure", "relic", "vehicle", "ship", "machine", "object", "thing", "armour", "loot",
        "supply", "upgrade", "good", "market", "starting",
    ),
}  # fmt: skip


def pack_for(type_name: str) -> Pack:
    """The pack that suits a new card type's name; plain patterns if none does."""
    for word in _WORD.findall(type_name.lower()):
        for pack, beginnings in _CALLS.items():
            if word.startswith(beginnings):
                return pack
    return "pattern"
