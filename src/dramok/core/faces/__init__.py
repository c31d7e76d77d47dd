"""Face plans, and a card's drawing by its plan as a list of elements in millimetres; painters elsewhere read the elements and nothing else does.

`plan` and `sizes` are the documents, `book` lays them over each other, `face` draws, `proof` finds what is wrong, `stress` the hardest cards.
"""

from dramok.core.faces.elements import (
    Art,
    Circle,
    Clip,
    Element,
    Field,
    Path,
    Picture,
    Rect,
    Segment,
    Shared,
    Text,
    Turn,
)
from dramok.core.faces.layout.card_context import FaceGame
from dramok.core.faces.layout.face import Face, lay_out
from dramok.core.faces.layout.typeface import Typeface, Typefaces
from dramok.core.faces.plan.plan import PlanDoc, PlanHead
from dramok.core.faces.plan.plan_set import FaceBook, FacePlan
from dramok.core.faces.plan.sizes import Size

__all__ = [
    "Art", "Circle", "Clip", "Face", "FaceBook", "FaceGame", "FacePlan", "Field", "Segment", "Element", "Path", "Picture", "PlanDoc",
    "PlanHead", "Rect", "Shared", "Size", "Text", "Turn", "Typeface", "Typefaces", "lay_out",
]  # fmt: skip
