"""A picture: its SHA-256, or the name of a file that is not imported yet."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from typing import TYPE_CHECKING, Any, ClassVar, Literal

from dramok.core.cards.schema.card import Value
from dramok.core.cards.schema.fields.base import Compared, FieldBase, Read, SchemaLookup, mostly

if TYPE_CHECKING:
    from dramok.core.effects import Vocabulary

_PICTURE = re.compile(r"[0-9a-f]{64}")
_FILE_NAME = re.compile(r"[^\x00-\x1f/\\<>\"|?*]{1,180}\.[A-Za-z0-9]{2,5}")
_IN_SHEETS = re.compile(r".{1,180}\.(?:png|jpe?g|webp|gif|bmp|tiff?|svg|avif)", re.IGNORECASE)
_WINDOW: Mapping[str, Any] = {"kind": "picture", "width": 40.0, "height": 30.0}


class PictureField(FieldBase):
    """A picture, by its SHA-256. `side`: a picture on the back replaces the whole back of the card."""

    kind: Literal["picture"] = "picture"
    side: Literal["front", "back"] = "front"

    compared: ClassVar[Compared] = "text"
    guesses: ClassVar[tuple[str, ...]] = ("picture", "back")
    searched: ClassVar[bool] = False

    def read(self, text: str, schema: SchemaLookup, vocabulary: Vocabulary, before: Value | None) -> Read:
        if _PICTURE.fullmatch(text) or _FILE_NAME.fullmatch(text):
            return text, ()
        return self.refused(
            "this is not a picture", "choose a picture file, or write the name of one that is to come"
        )

    def holds(self, value: Value) -> bool:
        return isinstance(value, str)

    def described(self, schema: SchemaLookup) -> dict[str, Any]:
        told = "the SHA-256 of a picture at /api/art/…, or a file's name that is still to come"
        return {"type": "string", "description": told}

    def sample_value(self, schema: SchemaLookup) -> Value | None:
        return None

    @property
    def placement(self) -> Mapping[str, Any]:
        return _WINDOW

    @classmethod
    def guess(cls, values: Sequence[str]) -> bool:
        return mostly(values, _IN_SHEETS.fullmatch)

    @classmethod
    def guessed(cls, kind: str, values: Sequence[str], list_id: str) -> dict[str, Any]:
        return {"kind": "picture", "side": "back" if kind == "back" else "front"}


def is_imported(picture: str) -> bool:
    """Whether the value is an imported picture, not the name of a missing file."""
    return _PICTURE.fullmatch(picture) is not None
