"""Compose cells to one picture, and encode pictures as PNG or JPEG."""

from __future__ import annotations

import io
from typing import Literal

from PIL import Image, ImageColor

ImageForm = Literal["png", "jpeg"]
ENDINGS: dict[str, str] = {"png": "png", "jpeg": "jpg"}


class SheetImage:
    """A picture of cells: on a `ground` (#rrggbb), or transparent."""

    def __init__(self, width: int, height: int, ground: str | None = None) -> None:
        self._image = (
            Image.new("RGBA", (width, height), (0, 0, 0, 0))
            if ground is None
            else Image.new("RGB", (width, height), ImageColor.getrgb(ground))
        )

    def put(self, png: bytes, corner: tuple[int, int], size: tuple[int, int]) -> None:
        """Place a cell's picture with its top left pixel at `corner`; resized if it differs by a pixel."""
        cell = Image.open(io.BytesIO(png)).convert("RGBA")
        if cell.size != size:
            cell = cell.resize(size, Image.Resampling.LANCZOS)
        self._image.paste(cell, corner, cell if self._image.mode == "RGB" else None)

    def encoded(self, form: ImageForm, quality: int, size: tuple[int, int]) -> bytes:
        """The file's bytes, `size` pixels wide and high. A JPEG needs a background."""
        image = self._image
        if size != image.size:
            image = image.resize(size, Image.Resampling.LANCZOS)
        return _encoded(image, form, quality)


def encoded(
    png: bytes,
    form: ImageForm,
    quality: int,
    ground: str,
    size: tuple[int, int] | None = None,
    dpi: float = 0,
) -> bytes:
    """Convert a PNG to the requested format, resized if it differs from `size` by a pixel; `dpi` is stored in
    the file, if given.
    """
    image: Image.Image = Image.open(io.BytesIO(png))
    if size is not None and size != image.size:
        image = image.resize(size, Image.Resampling.LANCZOS)
    elif form == "png" and not dpi:
        return png
    return _encoded(image, form, quality, ground, dpi)


def _encoded(
    image: Image.Image, form: ImageForm, quality: int, ground: str = "#ffffff", dpi: float = 0
) -> bytes:
    out = io.BytesIO()
    more = {"dpi": (dpi, dpi)} if dpi else {}
    if form == "png":
        image.save(out, "PNG", compress_level=6, **more)
        return out.getvalue()
    flat = image
    if image.mode != "RGB":
        image = image.convert("RGBA")
        flat = Image.new("RGB", image.size, ImageColor.getrgb(ground))
        flat.paste(image, mask=image.getchannel("A"))
    flat.save(out, "JPEG", quality=quality, subsampling=0, optimize=True, **more)
    return out.getvalue()
