"""Pictures that somebody brings: known by their content, never by the file's ending."""

from __future__ import annotations

import hashlib
import io
import warnings
from dataclasses import dataclass

from PIL import Image, ImageOps, UnidentifiedImageError

from dramok.core.problem import Problem

MOST_BYTES = 20_000_000
MOST_PIXELS = 60_000_000
DRAWN_SIDE = 1_100
"""Longest side in pixels of what faces show: a poker card at 300 dpi with room to spare."""
KINDS = {"PNG": "image/png", "JPEG": "image/jpeg", "WEBP": "image/webp", "GIF": "image/gif"}


@dataclass(frozen=True)
class ReadPicture:
    """`drawn` is PNG or JPEG, turned upright and no larger than faces need; `width` and `height` are of the original."""

    sha: str
    media: str
    width: int
    height: int
    drawn: bytes


class NoPicture(ValueError):
    """The file can't be used as a picture; `problem` says why."""

    def __init__(self, what: str, mend: str) -> None:
        super().__init__(what)
        self.problem = Problem(where="picture", what=what, mend=mend)


def read_picture(data: bytes) -> ReadPicture:
    """Reads and draws a picture. Raises NoPicture for what is too large, damaged or something else."""
    if len(data) > MOST_BYTES:
        raise NoPicture(
            f"a file of {len(data) // 1_000_000} MB is too large", f"keep to {MOST_BYTES // 1_000_000} MB"
        )
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("error", Image.DecompressionBombWarning)
            image = Image.open(io.BytesIO(data), formats=list(KINDS))
            if image.width * image.height > MOST_PIXELS:
                raise NoPicture(
                    f"{image.width} x {image.height} pixels are too many",
                    f"keep to {MOST_PIXELS // 1_000_000} million pixels",
                )
            kind, size = image.format or "", image.size
            image.load()
            upright = ImageOps.exif_transpose(image)
            upright.thumbnail((DRAWN_SIDE, DRAWN_SIDE))
            return ReadPicture(hashlib.sha256(data).hexdigest(), KINDS[kind], *size, _drawn(upright))
    except (Image.DecompressionBombWarning, Image.DecompressionBombError) as error:
        raise NoPicture(
            "the picture has too many pixels", f"keep to {MOST_PIXELS // 1_000_000} million pixels"
        ) from error
    except (UnidentifiedImageError, OSError, SyntaxError, ValueError, EOFError) as error:
        if isinstance(error, NoPicture):
            raise
        raise NoPicture("this is no picture, or a damaged one", "bring a PNG, JPEG, WebP or GIF") from error


def _drawn(image: Image.Image) -> bytes:
    out = io.BytesIO()
    if image.mode in ("RGBA", "LA", "PA") or "transparency" in image.info:
        image.convert("RGBA").save(out, "PNG")
    else:
        image.convert("RGB").save(out, "JPEG", quality=88)
    return out.getvalue()
