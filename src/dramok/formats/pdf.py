"""Render elements to PDF with reportlab: fonts embedded as subsets, each picture and face stored once."""

from __future__ import annotations

import io
from collections.abc import Iterable, Mapping, Sequence
from functools import cache, lru_cache
from types import SimpleNamespace
from typing import Any, BinaryIO

from fontTools.pens.basePen import BasePen
from fontTools.svgLib.path import parse_path
from reportlab import rl_config
from reportlab.lib.colors import HexColor
from reportlab.lib.utils import ImageReader
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.pdfdoc import PDFResourceDictionary
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.pdfgen.canvas import Canvas

from dramok.core.faces import (
    Art,
    Circle,
    Clip,
    Element,
    Face,
    Field,
    Path,
    Picture,
    Rect,
    Segment,
    Text,
    Turn,
)
from dramok.core.output.pages import LETTERS, Backs, Page
from dramok.formats.font_files import FONTS, font_files, load_typefaces
from dramok.formats.pdf_spool import Spool, StreamedDocument, add_image
from dramok.formats.svg import HAIR_LINE

MM = 72 / 25.4
"""Points in a millimetre."""
KERN = 0.0004
"""Shifts below this number of em are left to the font's widths."""
Pictures = Mapping[str, tuple[str, bytes]]


def faces_pdf(faces: Sequence[Face], art: Pictures, bleed: bool = False, title: str = "") -> bytes:
    """A PDF with one face per page, at true size; `bleed` enlarges the page."""
    out = io.BytesIO()
    canvas = new_canvas(out, title)
    painter = Painter(canvas, art)
    for face in faces:
        margin = face.size.bleed if bleed else 0
        wide, high = face.width + 2 * margin, face.height + 2 * margin
        canvas.setPageSize((wide * MM, high * MM))
        painter.face(face, margin, margin, high, bleed)
        canvas.showPage()
    canvas.save()
    return out.getvalue()


def write_pages(
    out: BinaryIO,
    pages: Iterable[Page],
    art: Pictures,
    bleed: bool = False,
    scale: float = 1.0,
    title: str = "",
    backs: Backs = "none",
) -> None:
    """Write pages of faces as a PDF that asks printers not to scale. Each face is stored once for all its copies."""
    canvas = new_canvas(out, title)
    canvas.setViewerPreference("PrintScaling", "None")
    if backs in ("long", "short"):
        canvas.setViewerPreference("Duplex", f"DuplexFlip{backs.capitalize()}Edge")
    painter = Painter(canvas, art)
    for page in pages:
        canvas.setPageSize((page.width * MM, page.height * MM))
        for face, x, y, turned in page.faces:
            painter.face(face, x, y, page.height, bleed, scale, turned, straight=True)
        canvas.setStrokeColor(_colour("#000000"))
        canvas.setLineWidth(HAIR_LINE * MM)
        for x1, y1, x2, y2 in page.lines:
            canvas.line(x1 * MM, (page.height - y1) * MM, x2 * MM, (page.height - y2) * MM)
        canvas.setFillColor(_colour("#000000"))
        canvas.setFont(font_name("body"), LETTERS * MM)
        for x, y, text in page.words:
            canvas.drawString(x * MM, (page.height - y) * MM, text)
        canvas.showPage()
    canvas.save()


def new_canvas(out: BinaryIO, title: str = "") -> Canvas:
    """A canvas with reproducible output."""
    register_fonts()
    rl_config.useA85 = 0
    canvas = Canvas(out, invariant=1, initialFontName=font_name("body"), pageCompression=1)
    canvas._doc.__class__ = StreamedDocument
    canvas.setTitle(title)
    return canvas


@cache
def register_fonts() -> None:
    """Register the fonts of faces with the library, once."""
    for name, path in font_files().items():
        pdfmetrics.registerFont(TTFont(font_name(name), path))


def font_name(name: str) -> str:
    """The library's name of a face font."""
    return f"Dramok-{name}"


class Painter:
    """Draws faces on one canvas and reuses earlier drawings."""

    def __init__(self, canvas: Canvas, art: Pictures) -> None:
        self.canvas, self.art = canvas, art
        self._forms: dict[object, str] = {}
        self._images: dict[str, tuple[str, int, int] | None] = {}
        self._spool = Spool()

    def face(
        self,
        face: Face,
        x: float,
        y: float,
        page_height: float,
        bleed: bool = False,
        scale: float = 1.0,
        turned: bool = False,
        straight: bool = False,
    ) -> None:
        """Draw a face with its top left corner at (x, y) mm from the top left of a page `page_height` mm high;
        `turned` upside down in the same place.

        Without `bleed` it is clipped to its outline, or to `straight` cuts.
        """
        key = (face.digest, bleed, straight)
        form = self._forms.get(key)
        if form is None:
            self._draw_pictures(face.elements)
            form = self._forms[key] = f"face{len(self._forms)}"
            margin = face.size.bleed if bleed else 0
            self.canvas.beginForm(form, -margin, -margin, face.width + margin, face.height + margin)
            outline = face.size.straight() if straight else face.size.path()
            elements: tuple[Element, ...] = face.elements if bleed else (Clip(outline, face.elements),)
            self.paint(elements)
            self._end()
        self.canvas.saveState()
        if turned:
            x, y = x + face.width * scale, y + face.height * scale
        step = -MM * scale if turned else MM * scale
        self.canvas.transform(step, 0, 0, -step, x * MM, (page_height - y) * MM)
        self.canvas.doForm(form)
        self.canvas.restoreState()

    def _draw_pictures(self, elements: Sequence[Element]) -> None:
        """Store the generated pictures among the elements as forms first: a form must be complete before
        another refers to it.
        """
        for element in elements:
            if isinstance(element, Field | Clip | Turn):
                self._draw_pictures(element.elements)
            elif isinstance(element, Picture) and element.recipe not in self._forms:
                form = self._forms[element.recipe] = f"picture{len(self._forms)}"
                self.canvas.beginForm(form, 0, 0, element.units, element.high)
                self.paint(element.recipe.draw())
                self._end()

    def _end(self) -> None:
        """End a form. The library omits opacities from a form's resources, so they are added here."""
        canvas = self.canvas
        held = SimpleNamespace()
        canvas._setXObjects(held)
        resources = PDFResourceDictionary()
        resources.basicFonts()
        resources.allProcs()
        resources.XObject = held.XObjects
        resources.ExtGState = canvas._extgstate.getState()
        canvas.endForm(Resources=resources)

    def paint(self, elements: Sequence[Element]) -> None:
        """Draw elements in mm, y downward, in the canvas' current state."""
        for element in elements:
            self._paint(element)

    def _paint(self, element: Element) -> None:
        canvas = self.canvas
        match element:
            case Field():
                self.paint(element.elements)
            case Text():
                self._text(element)
            case Rect():
                self._fill(element.fill, element.opacity)
                if element.radius:
                    r = min(element.radius, element.width / 2, element.height / 2)
                    canvas.roundRect(element.x, element.y, element.width, element.height, r, stroke=0, fill=1)
                else:
                    canvas.rect(element.x, element.y, element.width, element.height, stroke=0, fill=1)
            case Circle():
                self._fill(element.fill, element.opacity)
                canvas.circle(element.x, element.y, element.radius, stroke=0, fill=1)
            case Segment():
                self._stroke(element.colour, element.width, 1, round_ends=False)
                canvas.line(element.x1, element.y1, element.x2, element.y2)
            case Path():
                self._path(element)
            case Clip():
                canvas.saveState()
                canvas.clipPath(self._traced(element.d), stroke=0, fill=0)
                self.paint(element.elements)
                canvas.restoreState()
            case Turn():
                canvas.saveState()
                canvas.translate(element.x, element.y)
                canvas.rotate(element.degrees)
                canvas.translate(-element.x, -element.y)
                self.paint(element.elements)
                canvas.restoreState()
            case Picture():
                self._picture(element)
            case Art():
                self._art(element)

    def _fill(self, colour: str, opacity: float) -> None:
        self.canvas.setFillColor(_colour(colour))
        self.canvas.setFillAlpha(opacity)

    def _stroke(self, colour: str, width: float, opacity: float, round_ends: bool) -> None:
        self.canvas.setStrokeColor(_colour(colour))
        self.canvas.setStrokeAlpha(opacity)
        self.canvas.setLineWidth(width)
        self.canvas.setLineCap(1 if round_ends else 0)

    def _text(self, element: Text) -> None:
        """Glyph by glyph where the font has kerning, in segments elsewhere; the page is upside down, so each
        text is flipped.
        """
        if element.font not in FONTS:
            # Own fonts are drawn as outlines: the library can't embed every kind of font.
            from dramok.formats.text_outlines import outline

            return self._path(Path(outline(element), element.fill))
        self._fill(element.fill, 1)
        line = self.canvas.beginText(0, 0)
        line.setFont(font_name(element.font), element.size)
        words = (
            zip(element.words, element.text.split(" "), strict=False)
            if element.words
            else [(element.x, element.text)]
        )
        for start, word in words:
            for x, part in stretches(element.font, word):
                line.setTextTransform(1, 0, 0, -1, start + x * element.size, element.y)
                line.textOut(part)
        self.canvas.drawText(line)

    def _path(self, element: Path) -> None:
        if not element.d:
            return
        canvas = self.canvas
        moved = element.scale != 1 or element.x or element.y
        if moved:
            canvas.saveState()
            canvas.transform(element.scale, 0, 0, element.scale, element.x, element.y)
        if element.fill:
            self._fill(element.fill, element.opacity)
        if element.stroke:
            self._stroke(element.stroke, element.width, element.opacity, round_ends=True)
        canvas.drawPath(
            self._traced(element.d),
            stroke=1 if element.stroke else 0,
            fill=1 if element.fill else 0,
            fillMode=1,
        )
        if moved:
            canvas.restoreState()

    def _traced(self, d: str) -> Any:
        """A path object of the library with our own formatted text: writing numbers is several times faster."""
        path = self.canvas.beginPath()
        path._code.append(_code_of(d))
        return path

    def _picture(self, element: Picture) -> None:
        canvas = self.canvas
        scale = max(element.width / element.units, element.height / element.high)
        canvas.saveState()
        canvas.clipPath(
            _window(canvas, element.x, element.y, element.width, element.height), stroke=0, fill=0
        )
        canvas.transform(
            scale,
            0,
            0,
            scale,
            element.x + (element.width - element.units * scale) / 2,
            element.y + (element.height - element.high * scale) / 2,
        )
        canvas.doForm(self._forms[element.recipe])
        canvas.restoreState()

    def _art(self, element: Art) -> None:
        canvas = self.canvas
        image = self._image(element.sha)
        if image is None:
            self._fill("#d9ceb4", 1)
            canvas.rect(element.x, element.y, element.width, element.height, stroke=0, fill=1)
            return
        inner = element.inner
        if inner is None:
            _, wide, high = image
            scale = max(element.width / wide, element.height / high)
            w, h = wide * scale, high * scale
            inner = (element.x + (element.width - w) / 2, element.y + (element.height - h) / 2, w, h)
        x, y, w, h = inner
        canvas.saveState()
        canvas.clipPath(
            _window(canvas, element.x, element.y, element.width, element.height), stroke=0, fill=0
        )
        canvas.setFillAlpha(1)
        canvas.transform(w, 0, 0, -h, x, y + h)
        canvas.doForm(image[0])
        canvas.restoreState()

    def _image(self, sha: str) -> tuple[str, int, int] | None:
        """The form of a picture, and its size in pixels; None if it does not exist."""
        if sha not in self._images:
            held = self.art.get(sha)
            if held is None:
                self._images[sha] = None
            else:
                name = f"art{len(self._images)}"
                size = add_image(self.canvas, name, ImageReader(io.BytesIO(held[1])), self._spool)
                self._images[sha] = (name, *size)
        return self._images[sha]


def _window(canvas: Canvas, x: float, y: float, wide: float, high: float) -> Any:
    path = canvas.beginPath()
    path.rect(x, y, wide, high)
    return path


@lru_cache(maxsize=4096)
def _colour(said: str) -> HexColor:
    return HexColor(said)


@lru_cache(maxsize=20_000)
def stretches(font: str, text: str) -> tuple[tuple[float, str], ...]:
    """The text in segments that the font's own widths place correctly: (x in em, characters)."""
    face = load_typefaces()[font]
    shaped = face.shaped(text)
    if len(shaped) != len(text):
        return ((0.0, text),)
    found: list[tuple[float, str]] = []
    start, x, held = 0.0, 0.0, ""
    for (_, advance), character in zip(shaped, text, strict=True):
        held += character
        x += advance
        plain = pdfmetrics.stringWidth(character, font_name(font), 1)
        if abs(advance - plain) > KERN:
            found.append((start, held))
            start, held = x, ""
    if held:
        found.append((start, held))
    return tuple(found)


@lru_cache(maxsize=4096)
def _code_of(d: str) -> str:
    """An SVG path as PDF operators."""
    pen = _Operators()
    parse_path(d, pen)
    return " ".join(pen.code)


class _Operators(BasePen):  # type: ignore[misc]
    """Writes moves, lines, cubic curves and closings (ISO 32000-1, 8.5.2)."""

    def __init__(self) -> None:
        super().__init__(None)
        self.code: list[str] = []

    def _moveTo(self, pt: tuple[float, float]) -> None:
        self.code.append(f"{pt[0]:.4f} {pt[1]:.4f} m")

    def _lineTo(self, pt: tuple[float, float]) -> None:
        self.code.append(f"{pt[0]:.4f} {pt[1]:.4f} l")

    def _curveToOne(
        self, one: tuple[float, float], two: tuple[float, float], end: tuple[float, float]
    ) -> None:
        self.code.append(f"{one[0]:.3f} {one[1]:.3f} {two[0]:.3f} {two[1]:.3f} {end[0]:.3f} {end[1]:.3f} c")

    def _closePath(self) -> None:
        self.code.append("h")
