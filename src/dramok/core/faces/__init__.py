"""A card's drawing as a list of marks in millimetres; painters elsewhere read the marks and nothing else does."""

from dramok.core.faces.face import Face, lay_out, lay_out_back
from dramok.core.faces.marks import Art, Circle, Field, Line, Mark, Path, Picture, Rect, Text
from dramok.core.faces.typeface import Typeface, Typefaces

__all__ = [
    "Art",
    "Circle",
    "Face",
    "Field",
    "Line",
    "Mark",
    "Path",
    "Picture",
    "Rect",
    "Text",
    "Typeface",
    "Typefaces",
    "lay_out",
    "lay_out_back",
]
