"""Face plans, and the layout of a card by its plan as a list of elements in mm, which the renderers in
`formats` read.

`plan` has the documents, `layout` draws, `proof` finds problems, `art` generates pictures.
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
from dramok.core.faces.plan.plan_set import FacePlan, PlanSet
from dramok.core.faces.plan.sizes import Size

__all__ = [
    "Art", "Circle", "Clip", "Face", "PlanSet", "FaceGame", "FacePlan", "Field", "Segment", "Element", "Path", "Picture", "PlanDoc",
    "PlanHead", "Rect", "Shared", "Size", "Text", "Turn", "Typeface", "Typefaces", "lay_out",
]  # fmt: skip
