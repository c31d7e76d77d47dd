"""Render faces to pictures and pages, with a cache shared by concurrent requests and pictures at print size."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from concurrent.futures import Future
from threading import Lock

from dramok.core.faces import Art, Clip, Element, Face, Field, Turn
from dramok.core.faces.plan.sizes import INCH
from dramok.services.workspace.workspace import Workspace

MOST_BYTES = 200_000_000
MOST_PRINTABLE = 60_000_000
Pictures = Mapping[str, tuple[str, bytes]]


class Drawings:
    """Cache of rendered pictures by a hash of their input.

    Concurrent requests for the same picture share one rendering.
    """

    def __init__(self, most_bytes: int = MOST_BYTES) -> None:
        self._held: OrderedDict[tuple[object, ...], Future[bytes]] = OrderedDict()
        self._lock = Lock()
        self._bytes = 0
        self._most = most_bytes

    def get(self, key: tuple[object, ...], draw: Callable[[], bytes]) -> bytes:
        with self._lock:
            held = self._held.get(key)
            mine = held is None
            if held is None:
                held = self._held[key] = Future()
            else:
                self._held.move_to_end(key)
        if not mine:
            return held.result()
        try:
            made = draw()
        except BaseException as error:
            with self._lock:
                del self._held[key]
            held.set_exception(error)
            raise
        held.set_result(made)
        with self._lock:
            self._bytes += len(made)
            for old in list(self._held):
                if self._bytes <= self._most or old == key:
                    break
                if self._held[old].done():
                    self._bytes -= len(self._held.pop(old).result())
        return made


DRAWINGS = Drawings()
PRINTABLE = Drawings(MOST_PRINTABLE)


def face_picture(workspace: Workspace, face: Face, width: int, bleed: bool = False) -> bytes:
    """Render a face to PNG, `width` pixels wide."""
    from dramok.formats.png import face_png

    def draw() -> bytes:
        wide = face.width + (2 * face.size.bleed if bleed else 0)
        return face_png(face, width, pictures_for(workspace, [face], width / wide * INCH), bleed)

    return DRAWINGS.get((face.digest, width, bleed), draw)


def faces_document(workspace: Workspace, faces: Sequence[Face], bleed: bool = False, title: str = "") -> bytes:
    """Render faces to a PDF, one per page at true size."""
    from dramok.formats.pdf import faces_pdf

    return faces_pdf(faces, pictures_for(workspace, faces, 300), bleed, title)


def pictures_for(workspace: Workspace, faces: Iterable[Face], dpi: float) -> Pictures:
    """The imported pictures on faces as (media type, bytes), with the resolution that `dpi` needs for the
    largest size of each. Rendered on access.
    """
    longest: dict[str, float] = {}
    for face in faces:
        for art in _arts(face.elements):
            side = max(art.inner[2:] if art.inner else (art.width, art.height))
            longest[art.sha] = max(longest.get(art.sha, 0.0), side)
    return _Printable(workspace, {sha: _step(side / INCH * dpi) for sha, side in longest.items()})


def _step(pixels: float) -> int:
    """Round a size up to one of a few steps, so that similar sizes share a rendering."""
    size = 128
    while size < pixels and size < 8192:
        size = size * 3 // 2
    return size


class _Printable(Mapping[str, tuple[str, bytes]]):
    """Pictures by SHA-256 at print size. Few are in memory at a time."""

    def __init__(self, workspace: Workspace, longest: Mapping[str, int]) -> None:
        self._workspace, self._longest = workspace, longest

    def __getitem__(self, sha: str) -> tuple[str, bytes]:
        data = PRINTABLE.get((sha, self._longest[sha]), lambda: self._drawn(sha))
        return ("image/png" if data.startswith(b"\x89PNG") else "image/jpeg"), data

    def _drawn(self, sha: str) -> bytes:
        from dramok.formats.pictures import for_print

        found = self._workspace.store.art(sha)
        if found is None:
            raise KeyError(sha)
        return for_print(found.data, found.media, self._longest[sha])[1]

    def __iter__(self) -> Iterator[str]:
        return iter(self._longest)

    def __len__(self) -> int:
        return len(self._longest)


def _arts(elements: Iterable[Element]) -> Iterable[Art]:
    for element in elements:
        if isinstance(element, Art):
            yield element
        elif isinstance(element, Field | Clip | Turn):
            yield from _arts(element.elements)
