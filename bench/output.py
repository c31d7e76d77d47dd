"""Print runs and table sheets: seconds and megabytes with their bare counterparts in the same run, and the memory of the worker process."""

from __future__ import annotations

import io
import resource
import subprocess
import sys
import tempfile
from pathlib import Path

from PIL import Image, ImageFilter

from bench.faces import bare, timed
from bench.large_game import GAME, large_game
from dramok.formats import pdf
from dramok.services import Workspace
from dramok.services.cards.card_detail import detail_of
from dramok.services.cards.cells import CellEdit, write_cells
from dramok.services.faces.pictures import store_picture
from dramok.services.output import jobs
from dramok.services.output.chosen_cards import CardChoice
from dramok.services.output.job_steps import unwatched
from dramok.services.output.print_runs import record_run, run_doc
from dramok.services.output.printing import PrintOrder, plan_print, print_cards
from dramok.services.output.table_sheets import SheetOrder, make_sheets, plan_sheets
from dramok.services.rules.card_types import write_type

CARDS, STALE, ON_SHEETS, MANY = 540, 12, 200, 1_000


def run() -> None:
    with tempfile.TemporaryDirectory() as folder:
        workspace = large_game(Path(folder) / "b.db", CARDS)
        whole_run(workspace)
        table_sheets(workspace)
        workspace.close()
    for pictures in ("drawn", "brought"):
        print(
            subprocess.run(
                [sys.executable, "-m", "bench.output", pictures], capture_output=True, text=True, check=True
            ).stdout.strip()
        )


def printed(workspace: Workspace, order: PrintOrder) -> tuple[float, int]:
    """Seconds from the order to the file, and the file's bytes."""

    def make() -> int:
        out = io.BytesIO()
        print_cards(workspace, plan_print(workspace, workspace.game(GAME), order), out, "2026-11-23")
        return len(out.getvalue())

    return timed(make)


def whole_run(workspace: Workspace) -> None:
    game = workspace.game(GAME)
    faces = [detail_of(game, card).face for card in game.cards.values()]
    every = PrintOrder(choice=CardChoice(copies=1))
    printed(workspace, PrintOrder(choice=CardChoice(cards="1-4", copies=1)))
    pdf._code_of.cache_clear()
    whole, size = printed(workspace, every)
    plain = bare(faces)
    print(
        f"{CARDS} cards to PDF: {whole:.1f} s, {size / 1e6:.1f} MB; {whole / plain:.2f} x the same elements painted bare (wanted 2)"
    )
    plan = plan_print(workspace, game, every)
    document = run_doc(plan)
    assert document is not None
    record_run(workspace, GAME, document)
    cards = list(game.cards)[:: CARDS // STALE][:STALE]
    write_cells(workspace, GAME, [CellEdit(card, "name", f"Otherwise {place}") for place, card in enumerate(cards)], workspace.game(GAME).seq, "bench")  # fmt: skip
    # A designer who edits sees the faces: they are laid out when the run is ordered.
    for card in cards:
        detail_of(workspace.game(GAME), workspace.game(GAME).cards[card])
    few, _ = printed(workspace, PrintOrder(choice=CardChoice(only="stale")))
    print(
        f"a run of which {STALE} of {CARDS} are stale: {few * 1000:.0f} ms, 1/{whole / few:.0f} of the whole (wanted 1/20)"
    )


def table_sheets(workspace: Workspace) -> None:
    order = SheetOrder(choice=CardChoice(cards=f"1-{ON_SHEETS}"), each_copy=False, width=512)
    game = workspace.game(GAME)
    plan = plan_sheets(workspace, game, order)
    one, _ = timed(lambda: make_sheets(workspace, plan, io.BytesIO(), workers=1))
    two, _ = timed(lambda: make_sheets(workspace, plan, io.BytesIO(), workers=2))
    print(
        f"sheets of {ON_SHEETS} cards: {one:.1f} s on one core, {two:.1f} s on two: {one / two:.2f} x as fast (wanted 1.6)"
    )


def memory(pictures: str) -> None:
    """The most that a process held which made a run and sheets of 1,000 cards."""
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "b.db"
        workspace = large_game(path, MANY)
        if pictures == "brought":
            _bring(workspace)
        workspace.close()
        before = resource.getrusage(resource.RUSAGE_CHILDREN).ru_maxrss
        subprocess.run([sys.executable, "-m", "bench.output", "make", str(path)], check=True)
        after = resource.getrusage(resource.RUSAGE_CHILDREN).ru_maxrss
        assert after > before
        print(
            f"memory of the largest process at {MANY:,} cards with pictures {pictures}: {after / 1024:.0f} MB (wanted 600)"
        )


def _bring(workspace: Workspace) -> None:
    """Gives every card a picture of its own, as a designer's own would be: of 900 x 700 pixels."""
    game = workspace.game(GAME)
    kind = game.rulebook.cards.type("card").model_dump(mode="json")
    kind["fields"].append({"name": "Art", "kind": "picture"})
    write_type(workspace, GAME, kind, game.seq, "bench")
    edits = []
    for number, card in enumerate(game.cards):
        image = Image.effect_noise((225, 175), 90 + number % 60).filter(ImageFilter.GaussianBlur(1))
        out = io.BytesIO()
        image.resize((900, 700)).convert("RGB").save(out, "JPEG", quality=88)
        edits.append(CellEdit(card, "art", store_picture(workspace, out.getvalue() + number.to_bytes(4, "big"))))
    done = write_cells(workspace, GAME, edits, workspace.game(GAME).seq, "bench")
    assert not done.refused


def make(path: str) -> None:
    """What a worker does: a print run and sheets of every card."""
    from dramok.services import open_workspace

    workspace = open_workspace(Path(path))
    game = workspace.game(GAME)
    for order in (
        PrintOrder(choice=CardChoice(copies=1), backs="long"),
        SheetOrder(choice=CardChoice(copies=1)),
    ):
        jobs.make(workspace, jobs.create_job(workspace, game, order), None, unwatched)
    workspace.close()


if __name__ == "__main__":
    if sys.argv[1] == "make":
        make(sys.argv[2])
    else:
        memory(sys.argv[1])
