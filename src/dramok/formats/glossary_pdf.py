"""A PDF in two columns of words or headings with their explanations."""

from __future__ import annotations

import io
from collections.abc import Sequence
from xml.sax.saxutils import escape

from reportlab.lib.colors import HexColor
from reportlab.lib.styles import ParagraphStyle
from reportlab.lib.units import mm
from reportlab.platypus import BaseDocTemplate, Frame, FrameBreak, KeepTogether, PageTemplate, Paragraph

from dramok.formats.pdf import font_name, register_fonts

INK, SOFT = HexColor("#22281f"), HexColor("#5f6154")


def glossary_pdf(
    title: str, told: str, entries: Sequence[tuple[str, str]], page: tuple[float, float] = (210, 297)
) -> bytes:
    """`entries` are (word, meaning), one paragraph for each line; `page` in mm."""
    register_fonts()
    out = io.BytesIO()
    wide, high, margin, gap = page[0] * mm, page[1] * mm, 16 * mm, 8 * mm
    head = 22 * mm
    column = (wide - 2 * margin - gap) / 2

    def columns(top: float) -> list[Frame]:
        return [
            Frame(margin + side * (column + gap), margin, column, high - 2 * margin - top, 0, 0, 0, 0)
            for side in (0, 1)
        ]

    document = BaseDocTemplate(out, pagesize=(wide, high), title=title, invariant=1)
    first = Frame(margin, high - margin - head, wide - 2 * margin, head, 0, 0, 0, 0)
    document.addPageTemplates(
        [
            PageTemplate("first", [first, *columns(head)], autoNextPageTemplate="later"),
            PageTemplate("later", columns(0)),
        ]
    )
    heading = ParagraphStyle("heading", fontName=font_name("name"), fontSize=20, leading=24, textColor=INK)
    small = ParagraphStyle("small", fontName=font_name("body"), fontSize=9, leading=12, textColor=SOFT)
    word = ParagraphStyle(
        "word", fontName=font_name("name"), fontSize=11.5, leading=14, spaceBefore=7, textColor=INK
    )
    body = ParagraphStyle("body", fontName=font_name("body"), fontSize=9.5, leading=12.5, textColor=INK)
    story = [Paragraph(escape(title), heading), Paragraph(escape(told), small), FrameBreak()]
    for name, meaning in entries:
        first, *more = [Paragraph(escape(line), body) for line in meaning.split("\n")]
        story += [KeepTogether([Paragraph(escape(name), word), first]), *more]
    document.build(story)
    return out.getvalue()
