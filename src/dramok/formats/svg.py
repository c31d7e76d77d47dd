"""Render elements to SVG."""

from __future__ import annotations

from base64 import b64encode
from collections.abc import Callable, Mapping
from hashlib import md5
from html import escape

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
    Shared,
    Text,
    Turn,
)
from dramok.core.output.pages import LETTERS, Page

ART = "/api/art/"
"""The address of a picture on the server."""
HAIR_LINE = 0.09
"""Width of cut marks in mm."""
MOST_PAINTED = 4096

FAMILIES = {
    "name": "Dramok Name",
    "body": "Dramok Body",
    "italic": "Dramok Italic",
    "figures": "Dramok Figures",
    "rest": "Dramok Rest",
}
"""Each font of a face has its own family, so that no renderer has to choose a weight or slope."""

Href = Callable[[str], str]


def face_svg(face: Face, label: str) -> str:
    """A face among many: an `svg` element with a viewBox in mm, clipped to the card's outline.

    Each placement's elements are a group with `data-field`, `data-place` and a `rect.hold` outline.
    """
    parts = "".join([_MANY.paint(element) for element in face.elements])
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" class="face" viewBox="{face_box(face)}" role="img" style="{face.size.css()}"'
        f' aria-label="{escape(_printable(label[:200]))}" text-rendering="geometricPrecision">{parts}</svg>'
    )


def face_box(face: Face) -> str:
    return f"0 0 {face.width:g} {face.height:g}"


def face_parts(face: Face) -> tuple[str, ...]:
    """The inside of the `svg`, element by element, so that a page can update only what changed."""
    return tuple(_PAGE.paint(element) for element in face.elements)


def printed_svg(
    face: Face,
    art: Mapping[str, tuple[str, bytes]],
    bleed: bool = False,
    square: bool = False,
    outlined: bool = False,
) -> str:
    """A standalone document: pictures (media type and bytes, by SHA-256) are embedded, and it is clipped to the
    outline unless `bleed` is shown, or to `square` corners.

    `outlined`: texts are paths, independent of installed fonts.
    """
    margin = face.size.bleed if bleed else 0
    x, wide, high = -margin, face.width + 2 * margin, face.height + 2 * margin

    def href(sha: str) -> str:
        media, data = art.get(sha, ("image/png", b""))
        return f"data:{media};base64,{b64encode(data).decode()}" if data else ""

    painter = _Painter(href, holds=False, outlined=outlined, alone=True)
    outline = face.size.straight() if square else face.size.path()
    elements: tuple[Element, ...] = face.elements if bleed else (Clip(outline, face.elements),)
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{wide:g}mm" height="{high:g}mm" viewBox="{x:g} {x:g} {wide:g} {high:g}"'
        f' text-rendering="geometricPrecision">{"".join(painter.paint(element) for element in elements)}</svg>'
    )


def page_svg(page: Page, bleed: bool = False, scale: float = 1.0) -> str:
    """The inside of an `svg` element that shows a page as in the PDF, for a viewBox of its width and height in
    mm.

    A repeated face is drawn once.
    """
    named: dict[str, str] = {}
    shapes, spots = [], []
    for face, x, y, turned in page.faces:
        name = named.get(face.digest)
        if name is None:
            name = named[face.digest] = f"printed-{face.digest}"
            elements: tuple[Element, ...] = (
                face.elements if bleed else (Clip(face.size.straight(), face.elements),)
            )
            shapes.append(f'<g id="{name}">{"".join(map(_PLAIN.paint, elements))}</g>')
        way = f"translate({x:.4f} {y:.4f}) scale({scale:g})"
        if turned:
            way += f" rotate(180 {face.width / 2:.4f} {face.height / 2:.4f})"
        spots.append(f'<use href="#{name}" transform="{way}"/>')
    lines = "".join([f"M{x1:.3f} {y1:.3f}L{x2:.3f} {y2:.3f}" for x1, y1, x2, y2 in page.lines])
    words = "".join(
        [
            f'<text x="{x:.3f}" y="{y:.3f}" font-family="{FAMILIES["body"]}" font-size="{LETTERS:g}" fill="#000000">{escape(_printable(text), quote=False)}</text>'
            for x, y, text in page.words
        ]
    )
    return f'<defs>{"".join(shapes)}</defs>{"".join(spots)}<path d="{lines}" stroke="#000000" stroke-width="{HAIR_LINE:g}" fill="none"/>{words}'


class _Painter:
    """`href` gives the address of a picture; `holds`: outlines for editing; `outlined`: texts as paths.

    `alone`: only the built-in fonts are available to the viewer, so texts in own fonts become paths.
    """

    def __init__(self, href: Href, holds: bool = True, outlined: bool = False, alone: bool = False) -> None:
        self.href, self.holds, self.outlined, self.alone = href, holds, outlined, alone

    def paint(self, element: Element) -> str:
        match element:
            case Text() if self.outlined or (self.alone and element.font not in FAMILIES):
                from dramok.formats.text_outlines import outline

                return f'<path d="{outline(element)}" fill="{element.fill}"/>'
            case Text():
                clean = escape(_printable(element.text), quote=False)
                if element.words:
                    spans = zip(element.words[1:], clean.split(" ")[1:], strict=False)
                    first = clean.partition(" ")[0]
                    clean = first + "".join([f' <tspan x="{x:.3f}">{word}</tspan>' for x, word in spans])
                return f'<text x="{element.x:.3f}" y="{element.y:.3f}" font-family="{FAMILIES.get(element.font) or f"Dramok {element.font}"}" font-size="{element.size:.3f}" fill="{element.fill}" xml:space="preserve">{clean}</text>'
            case Segment():
                return f'<path d="M{element.x1:.2f} {element.y1:.2f}L{element.x2:.2f} {element.y2:.2f}" stroke="{element.colour}" stroke-width="{element.width:g}"/>'
            case Rect():
                corner = f' rx="{element.radius:g}"' if element.radius else ""
                return f'<rect x="{element.x:g}" y="{element.y:g}" width="{element.width:g}" height="{element.height:g}"{corner} fill="{element.fill}"{_opacity(element.opacity)}/>'
            case Circle():
                return f'<circle cx="{element.x:.6g}" cy="{element.y:.6g}" r="{element.radius:.6g}" fill="{element.fill}"{_opacity(element.opacity)}/>'
            case Path():
                return _path(element)
            case Picture():
                return _picture(element, self)
            case Art():
                return self._art(element)
            case Clip():
                ident = "cut-" + md5(element.d.encode(), usedforsecurity=False).hexdigest()[:12]
                inner = "".join(map(self.paint, element.elements))
                return f'<clipPath id="{ident}"><path d="{element.d}"/></clipPath><g clip-path="url(#{ident})">{inner}</g>'
            case Turn():
                inner = "".join(map(self.paint, element.elements))
                return (
                    f'<g transform="rotate({element.degrees:g} {element.x:.3f} {element.y:.3f})">{inner}</g>'
                )
            case Shared():
                if not self.holds:
                    return self._field(element)
                if element.painted is None:
                    element.painted = self._field(element)
                return element.painted
            case Field():
                return self._field(element)

    def _field(self, element: Field) -> str:
        inner = "".join(map(self.paint, element.elements))
        if not self.holds:
            return inner
        hold = f'<rect class="hold" x="{element.x:.2f}" y="{element.y:.2f}" width="{element.width:.2f}" height="{element.height:.2f}" rx="0.8" fill="none"/>'
        return (
            f'<g data-field="{escape(element.field)}" data-place="{escape(element.place)}">{inner}{hold}</g>'
        )

    def _art(self, element: Art) -> str:
        href = self.href(element.sha)
        box = f'x="{element.x:g}" y="{element.y:g}" width="{element.width:g}" height="{element.height:g}"'
        if not href:
            return f'<rect {box} fill="#d9ceb4"/>'
        if element.inner is None:
            inner = 'width="100%" height="100%" preserveAspectRatio="xMidYMid slice"'
        else:
            x, y, wide, high = element.inner
            inner = f'x="{x - element.x:.4f}" y="{y - element.y:.4f}" width="{wide:.4f}" height="{high:.4f}" preserveAspectRatio="none"'
        return f'<svg {box} overflow="hidden"><image {inner} href="{href}"/></svg>'


SMALL = 512
"""The longer side in pixels of a picture on small faces: on walls, in lists, at the table."""
_PAGE = _Painter(lambda sha: f"{ART}{sha}")
_MANY = _Painter(lambda sha: f"{ART}{sha}?side={SMALL}")
_PLAIN = _Painter(lambda sha: f"{ART}{sha}?side={SMALL}", holds=False)


def _path(element: Path) -> str:
    if element.d == "":
        return ""
    moved = (
        f' transform="translate({element.x:.3f} {element.y:.3f}) scale({element.scale:.6f})"'
        if element.scale != 1 or element.x or element.y
        else ""
    )
    ink = f' fill="{element.fill}"' if element.fill else ' fill="none"'
    if element.stroke:
        ink += f' stroke="{element.stroke}" stroke-width="{element.width:g}" stroke-linecap="round"'
    return f'<path d="{element.d}"{moved}{ink}{_opacity(element.opacity)}/>'


def _opacity(opacity: float) -> str:
    return "" if opacity == 1 else f' opacity="{opacity:g}"'


def _printable(text: str) -> str:
    """XML can't contain control characters; they become blanks."""
    return text if text.isprintable() else "".join(each if each.isprintable() else " " for each in text)


def _picture(element: Picture, painter: _Painter) -> str:
    """A generated picture, drawn once for each recipe and place."""
    painted = _PAINTED.get(element)
    if painted is None:
        inner = "".join(painter.paint(each) for each in element.recipe.draw())
        painted = (
            f'<svg x="{element.x:g}" y="{element.y:g}" width="{element.width:g}" height="{element.height:g}" viewBox="0 0 {element.units:g} {element.high:g}"'
            f' preserveAspectRatio="xMidYMid slice" overflow="hidden">{inner}</svg>'
        )
        if len(_PAINTED) >= MOST_PAINTED:
            _PAINTED.clear()
        _PAINTED[element] = painted
    return painted


_PAINTED: dict[Picture, str] = {}
