"""Layout, painting, caching and proofs of faces: each figure with its bare counterpart in the same run."""

from __future__ import annotations

import io
import resource
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable, Iterator
from html import escape
from pathlib import Path as FilePath
from typing import Any

from fontTools.pens.recordingPen import RecordingPen
from fontTools.svgLib.path import parse_path
from reportlab.lib.colors import HexColor

from bench.large_game import GAME, large_game
from bench.served import chromium
from dramok.core.faces import Circle, Clip, Face, Field, Path, Picture, Rect, Segment, Text, Turn, lay_out
from dramok.formats import pdf
from dramok.formats.png import many_png, pixels, svg_png
from dramok.formats.svg import face_svg, printed_svg
from dramok.services import GameSnapshot
from dramok.services.cards.card_detail import DETAILS, detail_of, words_of
from dramok.services.faces.proof import proof

ROUNDS = 5
DPI = 300


def run() -> None:
    with tempfile.TemporaryDirectory() as folder:
        workspace = large_game(FilePath(folder) / "b.db", 1_000)
        game = workspace.game(GAME)
        painted = svg(game)
        kept(game)
        png(painted[:40])
        pages(painted[:200])
        begin = time.perf_counter()
        found = proof(workspace, _fresh(game))
        print(
            f"proof of {found.looked:,} cards, nothing kept: {time.perf_counter() - begin:.1f} s (wanted 3)"
        )
        workspace.close()
    print(
        subprocess.run(
            [sys.executable, "-m", "bench.faces"], capture_output=True, text=True, check=True
        ).stdout.strip()
    )


def svg(game: GameSnapshot) -> list[Face]:
    words = [words_of(game, card) for card in list(game.cards.values())[:500]]

    def draw() -> list[str]:
        return [
            face_svg(lay_out(each.card, game.faces.worn(each.card), game.face_game, each.printed), "x")
            for each in words
        ]

    cold, faces = timed(draw)
    warm = min(timed(draw)[0] for _ in range(ROUNDS))
    bare = min(timed(lambda: [escape(face) for face in faces])[0] for _ in range(ROUNDS))
    print(
        f"faces as SVG: {len(words) / warm:,.0f}/s with warm words (wanted 2,000), {len(words) / cold:,.0f}/s cold with their pictures; {warm / bare:.1f} x escaping their text"
    )
    return [lay_out(each.card, game.faces.worn(each.card), game.face_game, each.printed) for each in words]


def _fresh(game: GameSnapshot) -> GameSnapshot:
    """The same game, of which nothing is kept."""
    from dataclasses import replace

    return replace(
        game, cards={ident: card.at(card.revision, card.seq) for ident, card in game.cards.items()}
    )


def kept(game: GameSnapshot) -> None:
    fresh = _fresh(game)
    cards = list(fresh.cards.values())
    cold, _ = timed(lambda: [detail_of(fresh, card).svg for card in cards])
    warm, _ = timed(lambda: [detail_of(fresh, card).svg for card in cards])
    print(f"faces asked for again: {cold / warm:,.0f} x faster than the first time (wanted 50)")


def png(faces: list[Face]) -> None:
    documents = [printed_svg(face, {}) for face in faces]
    width = pixels(faces[0], DPI)
    svg_png(documents[0], width)
    one, _ = timed(lambda: list(many_png(documents, width, 1)))
    two, _ = timed(lambda: list(many_png(documents, width, 2)))
    with chromium() as browser:
        page = browser.new_page(viewport={"width": width, "height": 1100})

        def shoot() -> None:
            for document in documents:
                page.set_content(
                    f"<style>body{{margin:0}}svg{{width:{width}px;height:auto}}</style>{document}"
                )
                page.locator("svg").first.screenshot()

        shot, _ = timed(shoot)
    print(
        f"PNG at {DPI} dpi: {len(faces) / one:.1f}/s on one core, {len(faces) / two:.1f}/s on two; headless Chromium {len(faces) / shot:.1f}/s: {shot / one:.1f} x and {shot / two:.1f} x as fast"
    )


def pages(faces: list[Face]) -> None:
    """Our painter against the same elements given to the PDF library one by one, their paths taken apart beforehand."""
    timed(lambda: pdf.faces_pdf(faces[:4], {}))
    pdf._code_of.cache_clear()
    ours, data = timed(lambda: pdf.faces_pdf(faces, {}))
    plain = bare(faces)
    print(
        f"{len(faces)} faces to PDF: {ours:.2f} s, {len(data) / 1e6:.1f} MB; {ours / plain:.2f} x the same elements painted bare (wanted 1.5)"
    )


def bare(faces: list[Face]) -> float:
    """Seconds for painting the same elements with the library alone, one face a page."""
    flat = [list(_flat(face.elements)) for face in faces]

    def paint() -> None:
        canvas = pdf.new_canvas(io.BytesIO())
        for face, elements in zip(faces, flat, strict=True):
            canvas.setPageSize((face.width * pdf.MM, face.height * pdf.MM))
            canvas.transform(pdf.MM, 0, 0, -pdf.MM, 0, face.height * pdf.MM)
            for element, steps in elements:
                _bare(canvas, element, steps)
            canvas.showPage()
        canvas.save()

    return timed(paint)[0]


def _flat(elements: tuple[Any, ...]) -> Iterator[tuple[Any, list[tuple[Any, ...]]]]:
    for element in elements:
        if isinstance(element, Field | Clip | Turn):
            yield from _flat(element.elements)
        elif isinstance(element, Picture):
            yield from _flat(element.recipe.draw())
        else:
            pen = RecordingPen()
            if isinstance(element, Path) and element.d:
                parse_path(element.d, pen)
            yield element, pen.value


def _bare(canvas: Any, element: Any, steps: list[tuple[str, Any]]) -> None:
    match element:
        case Rect():
            canvas.setFillColor(HexColor(element.fill))
            canvas.rect(element.x, element.y, element.width, element.height, stroke=0, fill=1)
        case Circle():
            canvas.setFillColor(HexColor(element.fill))
            canvas.circle(element.x, element.y, element.radius, stroke=0, fill=1)
        case Segment():
            canvas.setStrokeColor(HexColor(element.colour))
            canvas.line(element.x1, element.y1, element.x2, element.y2)
        case Text():
            canvas.setFillColor(HexColor(element.fill))
            canvas.setFont(pdf.font_name(element.font), element.size)
            canvas.drawString(element.x, element.y, element.text)
        case Path():
            path, at = canvas.beginPath(), (0.0, 0.0)
            canvas.setFillColor(HexColor(element.fill or "#000000"))
            for name, points in steps:
                if name == "moveTo":
                    path.moveTo(*points[0])
                elif name == "lineTo":
                    path.lineTo(*points[0])
                elif name == "curveTo":
                    path.curveTo(*points[0], *points[1], *points[2])
                elif name == "qCurveTo":
                    path.curveTo(*at, *points[0], *points[-1])
                else:
                    path.close()
                at = points[-1] if points else at
            canvas.drawPath(path, stroke=1 if element.stroke else 0, fill=1 if element.fill else 0)


def timed(work: Callable[[], Any]) -> tuple[float, Any]:
    begin = time.perf_counter()
    made = work()
    return time.perf_counter() - begin, made


def memory() -> None:
    """What 5,000 kept faces weigh, in a process of their own."""
    with tempfile.TemporaryDirectory() as folder:
        workspace = large_game(FilePath(folder) / "b.db", 5_000)
        game = workspace.game(GAME)
        detail_of(game, next(iter(game.cards.values())))
        before = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss
        for card in game.cards.values():
            DETAILS.sheet(game, card).svg  # noqa: B018
        after = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss
        print(
            f"memory after 5,000 faces: {after / 1024:.0f} MB, {(after - before) / 1024:.0f} MB of it theirs"
        )
        workspace.close()


if __name__ == "__main__":
    memory()
