"""Imported pictures, detected by content, not by file extension."""

from __future__ import annotations

import hashlib
import io
import warnings
from dataclasses import dataclass

from PIL import Image, ImageOps, UnidentifiedImageError

from dramok.core.problem import Problem
from dramok.formats.svg_raster import NotDrawn, draw_svg
from dramok.formats.svg_sanitizer import UnsafeSvg, cleaned, looks_like_svg

MOST_BYTES = 40_000_000
MOST_KEPT = 12_000_000
"""Larger originals are not stored; their rendering replaces them."""
MOST_PIXELS = 60_000_000
DRAWN_SIDE = 1_100
"""The longest side in pixels of the rendering for faces: a common card size at 300 dpi with a margin."""
KINDS = {
    "PNG": "image/png", "JPEG": "image/jpeg", "WEBP": "image/webp", "GIF": "image/gif", "BMP": "image/bmp", "TIFF": "image/tiff",
    "AVIF": "image/avif",
}  # fmt: skip
SVG = "image/svg+xml"


@dataclass(frozen=True)
class ReadPicture:
    """`drawn` is PNG or JPEG, upright and limited to the size that faces need; `width` and `height` are of the
    original, upright.

    `kept` is what is stored as the original, and `sha` its SHA-256: the imported file, a sanitized SVG, or
    `drawn` for a file that is too large.
    """

    sha: str
    media: str
    width: int
    height: int
    drawn: bytes
    kept: bytes


class NoPicture(ValueError):
    """The file is not a usable picture; `problem` has the reason."""

    def __init__(self, what: str, mend: str) -> None:
        super().__init__(what)
        self.problem = Problem(where="picture", what=what, mend=mend)


def read_picture(data: bytes) -> ReadPicture:
    """Read and render a picture. Raises NoPicture if it is too large, damaged or not a picture."""
    if len(data) > MOST_BYTES:
        raise NoPicture(
            f"a file of {len(data) // 1_000_000} MB is too large", f"keep to {MOST_BYTES // 1_000_000} MB"
        )
    if looks_like_svg(data):
        return _svg(data)
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("error", Image.DecompressionBombWarning)
            image = Image.open(io.BytesIO(data), formats=list(KINDS))
            if image.width * image.height > MOST_PIXELS:
                raise NoPicture(
                    f"{image.width:,} x {image.height:,} pixels are too many",
                    f"keep to {MOST_PIXELS // 1_000_000} million pixels",
                )
            kind, size = image.format or "", image.size
            image.draft("RGB", (DRAWN_SIDE * 2, DRAWN_SIDE * 2))
            image.load()
            upright = ImageOps.exif_transpose(image)
            if (upright.width > upright.height) != (image.width > image.height):
                size = (size[1], size[0])
            upright.thumbnail((DRAWN_SIDE, DRAWN_SIDE))
            drawn = _drawn(upright)
    except (Image.DecompressionBombWarning, Image.DecompressionBombError) as error:
        raise NoPicture(
            "the picture has too many pixels", f"keep to {MOST_PIXELS // 1_000_000} million pixels"
        ) from error
    except NoPicture:
        raise
    except (
        UnidentifiedImageError,
        OSError,
        SyntaxError,
        ValueError,
        EOFError,
        TypeError,
        ZeroDivisionError,
    ) as error:
        raise NoPicture(
            "this is not a picture, or a damaged one", "bring a PNG, JPEG, WebP, GIF, BMP, TIFF, AVIF or SVG"
        ) from error
    kept = data if len(data) <= MOST_KEPT else drawn
    media = (
        KINDS.get(kind, "image/jpeg")
        if kept is data
        else "image/png"
        if drawn.startswith(b"\x89PNG")
        else "image/jpeg"
    )
    return ReadPicture(hashlib.sha256(kept).hexdigest(), media, *size, drawn, kept)


def for_print(data: bytes, media: str, longest: int) -> tuple[str, bytes]:
    """(media type, PNG or JPEG) of a stored picture, upright and about `longest` pixels on its longer side, if
    it has that many.
    """
    if media == SVG:
        found = draw_svg(data, longest)
        return "image/png", found
    image = Image.open(io.BytesIO(data), formats=list(KINDS))
    image.draft("RGB", (longest, longest))
    upright = ImageOps.exif_transpose(image)
    upright.thumbnail((longest, longest), Image.Resampling.LANCZOS)
    drawn = _drawn(upright, 92)
    return ("image/png" if drawn.startswith(b"\x89PNG") else "image/jpeg"), drawn


def made_small(drawn: bytes, longest: int) -> bytes:
    """A picture rendered for faces, reduced to `longest` pixels on its longer side."""
    image = Image.open(io.BytesIO(drawn), formats=["PNG", "JPEG"])
    if max(image.size) <= longest:
        return drawn
    image.draft("RGB", (longest, longest))
    image.thumbnail((longest, longest))
    return _drawn(image, 82)


def _svg(data: bytes) -> ReadPicture:
    try:
        safe = cleaned(data)
        drawn = draw_svg(safe, DRAWN_SIDE)
    except (UnsafeSvg, NotDrawn) as error:
        raise NoPicture(f"this SVG can't be used: {error}", "save it again from a drawing program") from error
    image = Image.open(io.BytesIO(drawn))
    if image.height > DRAWN_SIDE * 4:
        raise NoPicture(
            f"an SVG of {image.width} x {image.height} is too tall", "draw it in the shape of a card"
        )
    size = image.size
    image.thumbnail((DRAWN_SIDE, DRAWN_SIDE))
    return ReadPicture(hashlib.sha256(safe).hexdigest(), SVG, *size, _drawn(image), safe)


def _drawn(image: Image.Image, quality: int = 88) -> bytes:
    out = io.BytesIO()
    if image.mode in ("RGBA", "LA", "PA") or "transparency" in image.info:
        image.convert("RGBA").save(out, "PNG")
    else:
        image.convert("RGB").save(out, "JPEG", quality=quality)
    return out.getvalue()
