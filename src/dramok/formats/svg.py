"""Marks to SVG text. One of the painters: reads marks and nothing else."""

from __future__ import annotations

from html import escape

from dramok.core.faces import Art, Circle, Face, Field, Line, Mark, Path, Picture, Rect, Text

ART = "/api/art/"
"""Where the server answers with a picture."""

FAMILIES = {
    "name": 'font-family="Dramok Name" font-weight="600"',
    "body": 'font-family="Dramok Body" font-weight="400"',
    "italic": 'font-family="Dramok Body" font-weight="400" font-style="italic"',
    "figures": 'font-family="Dramok Body" font-weight="600"',
}


def face_svg(face: Face, label: str) -> str:
    """An `svg` element with a viewBox in mm. Each field's marks are a group with `data-field` and a `rect.hold` outline."""
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" class="face" viewBox="{face_box(face)}" role="img"'
        f' aria-label="{escape(_printable(label[:200]))}" text-rendering="geometricPrecision">{"".join(face_parts(face))}</svg>'
    )


def face_box(face: Face) -> str:
    return f"0 0 {face.width:g} {face.height:g}"


def face_parts(face: Face) -> tuple[str, ...]:
    """What stands inside the `svg`, mark by mark, so that a page can repaint only what changed."""
    return tuple(_paint(mark) for mark in face.marks)


def _paint(mark: Mark) -> str:
    match mark:
        case Text():
            anchor = "" if mark.anchor == "start" else f' text-anchor="{mark.anchor}"'
            clean = escape(_printable(mark.text), quote=False)
            return f'<text x="{mark.x:.2f}" y="{mark.y:.2f}" {FAMILIES[mark.font]} font-size="{mark.size:.3f}" fill="{mark.fill}"{anchor}>{clean}</text>'
        case Line():
            return f'<path d="M{mark.x1:.2f} {mark.y1:.2f}L{mark.x2:.2f} {mark.y2:.2f}" stroke="{mark.colour}" stroke-width="{mark.width}"/>'
        case Rect():
            corner = f' rx="{mark.radius:g}"' if mark.radius else ""
            return f'<rect x="{mark.x:g}" y="{mark.y:g}" width="{mark.width:g}" height="{mark.height:g}"{corner} fill="{mark.fill}"{_opacity(mark.opacity)}/>'
        case Circle():
            return f'<circle cx="{mark.x:.4g}" cy="{mark.y:.4g}" r="{mark.radius:.4g}" fill="{mark.fill}"{_opacity(mark.opacity)}/>'
        case Path():
            return _path(mark)
        case Picture():
            return _picture(mark)
        case Art():
            box = f'x="{mark.x:g}" y="{mark.y:g}" width="{mark.width:g}" height="{mark.height:g}"'
            return f'<svg {box} overflow="hidden"><image width="100%" height="100%" preserveAspectRatio="xMidYMid slice" href="{ART}{mark.sha}"/></svg>'
        case Field():
            inner = "".join(_paint(each) for each in mark.marks)
            hold = f'<rect class="hold" x="{mark.x:.2f}" y="{mark.y:.2f}" width="{mark.width:.2f}" height="{mark.height:.2f}" rx="0.8" fill="none"/>'
            return f'<g data-field="{escape(mark.field)}">{inner}{hold}</g>'


def _path(mark: Path) -> str:
    if mark.d == "":
        return ""
    moved = (
        f' transform="translate({mark.x:.2f} {mark.y:.2f}) scale({mark.scale:.5f})"'
        if mark.scale != 1 or mark.x or mark.y
        else ""
    )
    ink = f' fill="{mark.fill}"' if mark.fill else ' fill="none"'
    if mark.stroke:
        ink += f' stroke="{mark.stroke}" stroke-width="{mark.width:g}" stroke-linecap="round"'
    return f'<path d="{mark.d}"{moved}{ink}{_opacity(mark.opacity)}/>'


def _opacity(opacity: float) -> str:
    return "" if opacity == 1 else f' opacity="{opacity:g}"'


def _printable(text: str) -> str:
    """XML can't hold control characters; they are shown as a blank."""
    return text if text.isprintable() else "".join(each if each.isprintable() else " " for each in text)


def _picture(mark: Picture) -> str:
    """A picture is drawn and painted once for each recipe and place."""
    painted = _PAINTED.get(mark)
    if painted is None:
        inner = "".join(_paint(each) for each in mark.recipe.draw())
        painted = (
            f'<svg x="{mark.x:g}" y="{mark.y:g}" width="{mark.width:g}" height="{mark.height:g}" viewBox="0 0 {mark.units:g} {mark.high:g}"'
            f' preserveAspectRatio="xMidYMid slice" overflow="hidden">{inner}</svg>'
        )
        if len(_PAINTED) >= MOST_PAINTED:
            _PAINTED.clear()
        _PAINTED[mark] = painted
    return painted


MOST_PAINTED = 4096
_PAINTED: dict[Picture, str] = {}
