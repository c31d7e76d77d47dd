"""A card's drawing as a list of marks in millimetres; painters elsewhere read the marks and nothing else does."""

from dramok.core.faces.face import Face, lay_out
from dramok.core.faces.marks import Circle, Field, Line, Mark, Path, Picture, Rect, Text
from dramok.core.faces.typeface import Typeface, Typefaces

__all__ = [
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
]
