"""Grows the demo game to a given number of cards, for benchmarks."""

from __future__ import annotations

import json
from dataclasses import replace
from pathlib import Path

from dramok.services import Workspace, open_workspace
from dramok.store import Change
from dramok.store.json_documents import card_text

GAME = "ribbon-season"


def large_game(path: Path, cards: int) -> Workspace:
    """A desk whose demo game holds `cards` cards: the 96 of the demo, varied."""
    workspace = open_workspace(path)
    first = list(workspace.game(GAME).cards.values())
    changes = [Change("set", "more", "exists", None, json.dumps({"name": "More", "code": "M"}))]
    for number in range(max(0, cards - len(first))):
        card = replace(
            first[number % len(first)], id=f"m{number}", code=f"M-{number:05}", set="more", revision=0
        )
        card = card.with_value("name", f"{card.text('name')} {number}")
        changes.append(Change("card", card.id, "exists", None, card_text(card)))
    if len(changes) > 1:
        workspace.commit(GAME, "more cards", "bench", lambda now: changes)
    return workspace
