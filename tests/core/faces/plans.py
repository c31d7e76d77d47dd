"""Face plans for tests: the plan of the invented game, and small ones written by hand."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from dramok.core.cards import Card
from dramok.core.faces import Face, FaceGame, PlanDoc, PlanHead, PlanSet, Size, lay_out
from dramok.core.faces.plan.starting_plans import starting_plans
from dramok.core.rulebook import Rulebook
from dramok.core.wording import printed_text
from dramok.formats.font_files import load_typefaces
from tests.core.invented_world import RULEBOOK, VOCABULARY

PAIR = Size(width=60, height=80, corner=0, bleed=3, safe=3)
STARTING = PlanSet(RULEBOOK, starting_plans(RULEBOOK, "invented"), {})


def game(rulebook: Rulebook = RULEBOOK, art: Mapping[str, tuple[int, int]] | None = None) -> FaceGame:
    return FaceGame(rulebook, load_typefaces(), art or {}, {})


def face_of(card: Card, book: PlanSet = STARTING, art: Mapping[str, tuple[int, int]] | None = None) -> Face:
    """A card's front by a book of plans."""
    return lay_out(
        card, book.worn(card), game(book.rulebook, art), printed_text(card, book.rulebook, VOCABULARY)
    )


def base(size: Size = PAIR, styles: Mapping[str, Any] | None = None, **places: Mapping[str, Any]) -> PlanDoc:
    """A base plan with these placements, in their order."""
    laid = {ident.replace("_", "-"): {"z": z, **doc} for z, (ident, doc) in enumerate(places.items())}
    return PlanDoc(id="base", head=PlanHead(name="Base", size=size), places=laid, styles=dict(styles or {}))


def book(*plans: PlanDoc, rulebook: Rulebook = RULEBOOK) -> PlanSet:
    return PlanSet(rulebook, plans, {})


def at(x: float, y: float, width: float, height: float) -> dict[str, float]:
    return {"x": x, "y": y, "width": width, "height": height}
