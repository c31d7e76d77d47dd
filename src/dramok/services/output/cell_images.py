"""Render faces to pictures of one width in a stream; equal faces are rendered once."""

from __future__ import annotations

from collections import Counter
from collections.abc import Generator, Sequence
from contextlib import closing
from typing import Literal

from dramok.core.faces import Face
from dramok.core.faces.plan.sizes import INCH
from dramok.services.faces.drawing import pictures_for
from dramok.services.workspace.workspace import Workspace

Extent = Literal["cut", "square", "bleed"]
"""The area of a face: its outline with a transparent outside, its bounding box, or its box with the bleed."""
MOST_SIDE = 8_000


def measures(face_size: tuple[float, float], bleed: float, extent: Extent, width: int) -> tuple[int, int]:
    """Width and height in pixels of a face rendered `width` pixels wide."""
    more = 2 * bleed if extent == "bleed" else 0
    wide, high = face_size[0] + more, face_size[1] + more
    return width, max(1, round(width * high / wide))


def drawn_cells(
    workspace: Workspace, faces: Sequence[Face], width: int, extent: Extent, workers: int | None = None
) -> Generator[bytes]:
    """PNGs `width` pixels wide in the order of `faces`. Close the iterator to stop rendering."""
    from dramok.formats.png import many_png

    uses = Counter(face.digest for face in faces)
    once = {face.digest: face for face in faces}
    held: dict[str, bytes] = {}
    with closing(many_png((_document(workspace, face, width, extent) for face in once.values()), width, workers)) as drawn:  # fmt: skip
        for face in faces:
            if face.digest not in held:
                held[face.digest] = next(drawn)
            uses[face.digest] -= 1
            yield held[face.digest] if uses[face.digest] else held.pop(face.digest)


def _document(workspace: Workspace, face: Face, width: int, extent: Extent) -> str:
    from dramok.formats.svg import printed_svg

    return printed_svg(
        face, pictures_for(workspace, [face], width / face.width * INCH), extent == "bleed", extent == "square"
    )
