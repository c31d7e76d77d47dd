"""SVG pictures from anywhere, with everything removed that could run, or reach outside the file."""

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
    r"url\(\s*['\"]?\s*(?!#)[^)]*\)|@import[^;]*;?|expression\s*\(|javascript:", re.IGNORECASE
)
_DATA = re.compile(r"data:image/(?:png|jpe?g|webp|gif);base64,", re.IGNORECASE)


_MOST = {"numOctaves": 8.0, "radius": 60.0, "stdDeviation": 200.0, "order": 15.0}
"""Figures of filters beyond which a drawing takes long and looks no different."""
_FIGURE = re.compile(r"[+-]?(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?")


class UnsafeSvg(ValueError):
    """The text is no SVG, or one that can't be made safe."""


def looks_like_svg(data: bytes) -> bool:
    head = data[:2_000].lstrip(b"\xef\xbb\xbf \t\r\n").lower()
    return head.startswith(b"<svg") or (
        head.startswith((b"<?xml", b"<!--", b"<!doctype svg")) and b"<svg" in head
    )


def cleaned(data: bytes) -> bytes:
    """The SVG without scripts, handlers, foreign objects and links that leave the file. Cleaning it again changes nothing.

    Raises UnsafeSvg for what is no SVG, defines entities, or is nested too deep.
    """
    if len(data) > MOST_BYTES:
        raise UnsafeSvg("over 5 MB")
    if b"<!ENTITY" in data.upper() or b"<!entity" in data:
        raise UnsafeSvg("it defines entities")
    try:
        root = ElementTree.fromstring(data)
    except (ElementTree.ParseError, ValueError, LookupError) as error:
        raise UnsafeSvg("it is no sound XML") from error
    if root.tag != f"{{{SVG}}}svg":
        raise UnsafeSvg("it is no SVG")
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
        elif _OUTSIDE.search(value):
            element.set(name, _OUTSIDE.sub("none", value))
        elif name in _MOST and str(element.tag).startswith(f"{{{SVG}}}fe"):
            element.set(name, _bounded(value, _MOST[name]))
    if element.tag == f"{{{SVG}}}style" and element.text:
        element.text = _OUTSIDE.sub("none", element.text)
    for child in list(element):
        space, _, name = str(child.tag).rpartition("}")
        if space != f"{{{SVG}" or name not in KEPT:
            element.remove(child)
        else:
            _clean(child, deep + 1)


def _bounded(value: str, most: float) -> str:
    return _FIGURE.sub(lambda found: found[0] if float(found[0]) <= most else f"{most:g}", value)


def _stays(element: ElementTree.Element, link: str) -> bool:
    """Whether a link stays within the file: to a part of it, or to a picture that is in it."""
    link = link.strip()
    return link.startswith("#") or (element.tag == f"{{{SVG}}}image" and _DATA.match(link) is not None)
