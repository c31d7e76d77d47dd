"""Remove metadata from pictures: places, times, cameras, names. Pixels are unchanged if the format allows it."""

from __future__ import annotations

import io
import struct
from collections.abc import Iterator

from PIL import Image, ImageOps

SVG = "image/svg+xml"
ORIENTATION = 0x0112
_PNG = b"\x89PNG\r\n\x1a\n"
_PNG_TOLD = (b"tEXt", b"zTXt", b"iTXt", b"eXIf", b"tIME")


def stripped(data: bytes, media: str) -> bytes:
    """The same picture without metadata, with its orientation kept; unchanged if it has none."""
    if media == SVG:
        return data
    if media == "image/jpeg" and data.startswith(b"\xff\xd8"):
        return _jpeg(data)
    if media == "image/png" and data.startswith(_PNG) and _orientation(data) == 1:
        return _png(data)
    return _drawn_anew(data)


def _orientation(data: bytes) -> int:
    try:
        return int(Image.open(io.BytesIO(data)).getexif().get(ORIENTATION, 1))
    except (OSError, ValueError, SyntaxError):
        return 1


def _jpeg(data: bytes) -> bytes:
    """Without application segments (except those for colours) and comments; with the orientation, if present."""
    turned = _orientation(data)
    out = [b"\xff\xd8"]
    if turned != 1:
        tiff = (
            b"II*\x00\x08\x00\x00\x00\x01\x00"
            + struct.pack("<HHIHH", ORIENTATION, 3, 1, turned, 0)
            + b"\0\0\0\0"
        )
        told = b"Exif\x00\x00" + tiff
        out.append(b"\xff\xe1" + struct.pack(">H", len(told) + 2) + told)
    for marker, segment in _segments(data):
        colours = marker in (0xE0, 0xEE) or (marker == 0xE2 and segment[4:15] == b"ICC_PROFILE")
        if (0xE0 <= marker <= 0xEF and not colours) or marker == 0xFE:
            continue
        out.append(segment)
    return b"".join(out)


def _segments(data: bytes) -> Iterator[tuple[int, bytes]]:
    """(marker, bytes) of each segment before the scan; the last item is the scan to the end of the picture."""
    at = 2
    while at + 4 <= len(data) and data[at] == 0xFF and data[at + 1] != 0xDA:
        if data[at + 1] == 0xFF:
            at += 1
            continue
        length = int.from_bytes(data[at + 2 : at + 4], "big")
        yield data[at + 1], data[at : at + 2 + length]
        at += 2 + length
    end = data.rfind(b"\xff\xd9")
    yield 0xDA, data[at : end + 2 if end > at else len(data)]


def _png(data: bytes) -> bytes:
    out, at = [_PNG], len(_PNG)
    while at + 12 <= len(data):
        length = int.from_bytes(data[at : at + 4], "big")
        kind = data[at + 4 : at + 8]
        if kind not in _PNG_TOLD:
            out.append(data[at : at + 12 + length])
        at += 12 + length
        if kind == b"IEND":
            break
    return b"".join(out)


def _drawn_anew(data: bytes) -> bytes:
    """Encoded again as PNG, upright, for formats whose metadata can't be cut out."""
    image = ImageOps.exif_transpose(Image.open(io.BytesIO(data)))
    clean = Image.new(image.mode, image.size)
    if image.mode == "P":
        image = image.convert("RGBA")
        clean = Image.new("RGBA", image.size)
    clean.paste(image)
    out = io.BytesIO()
    (clean if clean.mode in ("1", "L", "LA", "RGB", "RGBA", "I;16") else clean.convert("RGB")).save(
        out, "PNG"
    )
    return out.getvalue()
