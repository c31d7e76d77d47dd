"""Render elements to PNG: the SVG document through resvg, with the same font files as the page."""

from __future__ import annotations

import os
import re
from collections import deque
from collections.abc import Generator, Iterable, Mapping
from concurrent.futures import ProcessPoolExecutor, ThreadPoolExecutor
from functools import cache
from itertools import chain, islice
from multiprocessing import get_context
from threading import local

import resvg

from dramok.core.faces import Face
from dramok.core.faces.plan.sizes import INCH
from dramok.formats.font_files import font_files
from dramok.formats.svg import printed_svg

Pictures = Mapping[str, tuple[str, bytes]]
MOST_SIDE = 8_000
FEW = 12
"""Up to this number of documents, one process is faster than starting several."""
AHEAD = 6
"""The number of documents queued for each process."""
SAME = (1.0, 0.0, 0.0, 0.0, 1.0, 0.0)
"""The identity transform in the library's order: x from x, y, 1; then y."""
_SIZE = re.compile(r'width="([\d.]+)mm" height="([\d.]+)mm"')


def pixels(face: Face, dpi: float, bleed: bool = False) -> int:
    """The width in pixels of a face at a resolution in dpi."""
    wide = face.width + (2 * face.size.bleed if bleed else 0)
    return max(1, min(MOST_SIDE, round(wide / INCH * dpi)))


def face_png(face: Face, width: int, art: Pictures, bleed: bool = False) -> bytes:
    """A face as a PNG, `width` pixels wide; transparent outside a round or hexagonal card."""
    return svg_png(printed_svg(face, art, bleed), width)


def svg_png(svg: str, width: int) -> bytes:
    """A document of our SVG renderer as a PNG. Never for imported SVG: see `svg_raster`."""
    return _drawer().submit(_render, svg, width).result()


def _render(svg: str, width: int) -> bytes:
    wide, high = (float(each) for each in _SIZE.search(svg).groups())  # type: ignore[union-attr]
    sized = _SIZE.sub(f'width="{width}" height="{max(1, round(width * high / wide))}"', svg, count=1)
    return bytes(resvg.render(resvg.usvg.Tree.from_str(sized, _options()), SAME))


@cache
def _drawer() -> ThreadPoolExecutor:
    """A single rendering thread: the library's options can't move between threads, and rendering holds the
    interpreter lock anyway.
    """
    return ThreadPoolExecutor(1, "drawing")


_MINE = local()


def _options() -> resvg.usvg.Options:
    """The fonts of faces only, loaded once per rendering thread."""
    if not hasattr(_MINE, "options"):
        _MINE.options = resvg.usvg.Options.default()
        for path in font_files().values():
            _MINE.options.load_font_file(path)
    options: resvg.usvg.Options = _MINE.options
    return options


def many_png(documents: Iterable[str], width: int, workers: int | None = None) -> Generator[bytes]:
    """Documents as PNG in order, rendered in one process per core, because rendering holds the interpreter
    lock.

    Only a few are in memory at a time. Closing the iterator cancels the rest.
    """
    workers = workers or os.cpu_count() or 1
    coming = iter(documents)
    first = list(islice(coming, FEW))
    if workers == 1 or len(first) < FEW:
        yield from (svg_png(each, width) for each in chain(first, coming))
        return
    pool = ProcessPoolExecutor(workers, get_context("spawn"))
    try:
        held = deque(pool.submit(_render, each, width) for each in first)
        while held:
            while len(held) < AHEAD * workers and (each := next(coming, None)) is not None:
                held.append(pool.submit(_render, each, width))
            yield held.popleft().result()
    finally:
        pool.shutdown(wait=True, cancel_futures=True)
