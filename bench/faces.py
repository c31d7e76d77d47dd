"""Faces laid out and painted as SVG, per second, on one core; as a ratio to bare HTML escaping of the same bytes."""

from __future__ import annotations

import tempfile
import time
from html import escape
from pathlib import Path

from bench.large_game import GAME, large_game
from dramok.core.faces import lay_out
from dramok.core.wording import printed_text
from dramok.formats.fontfiles import load_typefaces
from dramok.formats.svg import face_svg

ROUNDS = 5


def run() -> None:
    with tempfile.TemporaryDirectory() as folder:
        desk = large_game(Path(folder) / "b.db", 500)
        game, typefaces = desk.game(GAME), load_typefaces()
        cards = list(game.cards.values())

        def draw() -> list[str]:
            return [
                face_svg(
                    lay_out(
                        card, game.rulebook, printed_text(card, game.rulebook, game.vocabulary), typefaces
                    ),
                    "x",
                )
                for card in cards
            ]

        begin = time.perf_counter()
        faces = draw()
        cold = len(cards) / (time.perf_counter() - begin)
        begin = time.perf_counter()
        for _ in range(ROUNDS):
            draw()
        spent = time.perf_counter() - begin
        begin = time.perf_counter()
        for _ in range(ROUNDS):
            for face in faces:
                escape(face)
        bare = time.perf_counter() - begin
        print(
            f"faces as SVG: {ROUNDS * len(cards) / spent:,.0f}/s warm (wanted 1,500), {cold:,.0f}/s cold with their pictures; {spent / bare:.1f} x escaping their text"
        )
        desk.close()
