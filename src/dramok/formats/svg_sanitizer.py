"""Sanitize imported SVG: remove everything that could run, or refer outside the file."""

from __future__ import annotations

import re
from xml.etree import ElementTree

MOST_BYTES = 5 * 1024 * 1024
MOST_DEEP = 200
SVG, XLINK = "http://www.w3.org/2000/svg", "http://www.w3.org/1999/xlink"
KEPT = frozenset(
    [
        "svg",
        "g",
        "defs",
        "symbol",
        "use",
        "path",
        "rect",
        "circle",
        "ellipse",
        "line",
        "polyline",
        "polygon",
        "text",
        "tspan",
        "textPath",
        "title",
        "desc",
        "image",
        "clipPath",
        "mask",
        "pattern",
        "marker",
        "linearGradient",
        "radialGradient",
        "stop",
        "filter",
        "feBlend",
        "feColorMatrix",
        "feComponentTransfer",
        "feComposite",
        "feConvolveMatrix",
        "feDiffuseLighting",
        "feDisplacementMap",
        "feDropShadow",
        "feFlood",
        "feFuncA",
        "feFuncB",
        "feFuncG",
        "feFuncR",
        "feGaussianBlur",
        "feMerge",
        "feMergeNode",
        "feMorphology",
        "feOffset",
        "feSpecularLighting",
        "feTile",
        "feTurbulence",
        "fePointLight",
        "feDistantLight",
        "feSpotLight",
        "style",
        "switch",
    ]
)
_OUTSIDE = re.compile(
    # An unclosed value continues to the end. Quotes are not restored: the file's own reference may be quoted.
    r"url\(\s*+['\"]?+\s*+(?!#)[^)]*\)?|@import[^;]*;?|expression\s*\(|javascript:|(?:image-set|cross-fade|(?<![\w-])(?:image|src))\(",
    re.IGNORECASE,
)
_ESCAPE = re.compile(r"\\(?:([0-9a-fA-F]{1,6})[ \t\n\r\f]?|([^\n\r\f0-9a-fA-F]))")
"""An escaped CSS character, by number or itself (CSS Syntax Module Level 3, 4.3.7)."""
_DATA = re.compile(r"data:image/(?:png|jpe?g|webp|gif);base64,", re.IGNORECASE)


_MOST = {"numOctaves": 8.0, "radius": 60.0, "stdDeviation": 200.0, "order": 15.0}
"""Limits of filter values beyond which rendering is slow without a visible difference."""
_FIGURE = re.compile(r"[+-]?(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?")


class UnsafeSvg(ValueError):
    """The text is not an SVG, or can't be made safe."""


def looks_like_svg(data: bytes) -> bool:
    head = data[:2_000].lstrip(b"\xef\xbb\xbf \t\r\n").lower()
    return head.startswith(b"<svg") or (
        head.startswith((b"<?xml", b"<!--", b"<!doctype svg")) and b"<svg" in head
    )


def cleaned(data: bytes) -> bytes:
    """The SVG without scripts, handlers, foreign objects and external links. Sanitizing twice changes nothing.

    Raises UnsafeSvg for anything that is not an SVG, defines entities, or is nested too deep.
    """
    if len(data) > MOST_BYTES:
        raise UnsafeSvg("over 5 MB")
    # In encodings with several bytes per character, entities would be missed.
    if b"\x00" in data:
        raise UnsafeSvg("it is not UTF-8")
    if b"<!ENTITY" in data.upper():
        raise UnsafeSvg("it defines entities")
    try:
        root = ElementTree.fromstring(data)
    except (ElementTree.ParseError, ValueError, LookupError) as error:
        raise UnsafeSvg("it is not well-formed XML") from error
    if root.tag != f"{{{SVG}}}svg":
        raise UnsafeSvg("it is not an SVG")
    _clean(root, 0)
    ElementTree.register_namespace("", SVG)
    ElementTree.register_namespace("xlink", XLINK)
    text: bytes = ElementTree.tostring(root, encoding="utf-8")
    return text


def _clean(element: ElementTree.Element, deep: int) -> None:
    if deep > MOST_DEEP:
        raise UnsafeSvg("it is nested too deep")
    for name, value in list(element.attrib.items()):
        plain = name.rpartition("}")[2].lower()
        if plain.startswith("on") or (plain == "href" and not _stays(element, value)):
            del element.attrib[name]
        elif plain not in ("id", "class", "href"):
            inside = _inside(value)
            if name in _MOST and str(element.tag).startswith(f"{{{SVG}}}fe"):
                inside = _bounded(inside, _MOST[name])
            element.set(name, inside)
    if element.tag == f"{{{SVG}}}style" and element.text:
        element.text = _inside(element.text)
    for child in list(element):
        space, _, name = str(child.tag).rpartition("}")
        if space != f"{{{SVG}" or name not in KEPT:
            element.remove(child)
        else:
            _clean(child, deep + 1)


def _inside(style: str) -> str:
    """A style, or a value of one, without external references, even escaped ones. The rest is unchanged."""
    while _OUTSIDE.search(plain := _ESCAPE.sub(_meant, style)):
        style = _OUTSIDE.sub("none", plain)
    return style


def _meant(escape: re.Match[str]) -> str:
    """The name character of an escape. Other escaped characters, such as quotes, have no syntactic effect."""
    number = int(escape[1], 16) if escape[1] else ord(escape[2])
    sign = chr(number) if number <= 0x10FFFF else ""
    return sign if sign.isalnum() or sign in ("-", "_") else "\ufffd"


def _bounded(value: str, most: float) -> str:
    """Limit every number in it; removing digits can join the rest to another number."""
    if len(value) > 200:
        return f"{most:g}"
    while (cut := _FIGURE.sub(lambda found: found[0] if float(found[0]) <= most else f"{most:g}", value)) != value:
        value = cut
    return value


def _stays(element: ElementTree.Element, link: str) -> bool:
    """Whether a link stays within the file: to a part of it, or to an embedded picture."""
    link = link.strip()
    return link.startswith("#") or (element.tag == f"{{{SVG}}}image" and _DATA.match(link) is not None)
