"""Output: page previews, print runs, out-of-date prints, table sheets, card pictures, and jobs."""

from __future__ import annotations

from typing import Annotated, Any, Literal
from urllib.parse import quote

from fastapi import APIRouter, Depends, Query, Request, Response
from fastapi.responses import FileResponse
from pydantic import BaseModel, Field
from starlette.concurrency import run_in_threadpool

from dramok.core.output import PAPERS, Imposition
from dramok.core.problem import Problem
from dramok.formats.svg import page_svg
from dramok.server.request_context import Key, Page, TheGame, TheWorkspace, ValidatingRoute
from dramok.server.responses import edit_out
from dramok.server.schemas.base import Out, like
from dramok.server.schemas.cards import EditOut
from dramok.services import GameSnapshot
from dramok.services.output import jobs as work
from dramok.services.output.card_pictures import PictureOrder, plan_pictures, words_of
from dramok.services.output.glossary import FORMS, glossary
from dramok.services.output.job_pool import JobPool
from dramok.services.output.jobs import JobRecord
from dramok.services.output.print_runs import PrintRun, forget_run, on_paper, rename_run
from dramok.services.output.printing import PrintOrder, plan_print
from dramok.services.output.rules_pages import rules_pages
from dramok.services.output.table_sheets import SheetOrder, plan_sheets

router = APIRouter(route_class=ValidatingRoute, prefix="/games/{game_id}/output", tags=["output"])
MEDIA = {"print": "application/pdf", "sheets": "application/zip", "pictures": "application/zip"}
MOST_NAMES = 40


async def _works(request: Request) -> JobPool:
    works: JobPool = await run_in_threadpool(request.app.state.works.opened)
    return works


TheWorks = Annotated[JobPool, Depends(_works)]


class PaperSize(BaseModel):
    name: str
    width: float
    height: float


class WordOut(BaseModel):
    word: str
    help: str


class OutputOut(BaseModel):
    """Options for orders: standard paper sizes, upright, and the names for file name patterns; set names and
    decks are in the game.
    """

    papers: list[PaperSize]
    words: list[WordOut]


class Measures(BaseModel):
    width: float
    height: float


class SlotOut(Out):
    """The corner of a card's cut line; `turned`: upside down."""

    x: float
    y: float
    turned: bool


class PageLayout(BaseModel):
    """The positions of cards on a page, in mm; `behind` are the positions of backs; in `pairs` each front is
    followed by its back.
    """

    page: Measures
    card: Measures
    bleed: float
    columns: int
    rows: int
    slots: list[SlotOut]
    behind: list[SlotOut]
    pairs: bool


class LeafOut(BaseModel):
    """A sheet of paper with its cards by id (empty: a blank card), in the order of the positions of its layout."""

    number: int
    layout: int
    cards: list[str]


class PrintLookOut(BaseModel):
    """The preview of an order. `leaves` are all sheets; sheets that the order leaves out are not counted."""

    title: str
    cards: int
    copies: int
    pages: int
    leaves: list[LeafOut]
    layouts: list[PageLayout]
    warnings: list[str]


class PageOut(BaseModel):
    """A page as it will be printed: the inside of an SVG with a viewBox of its width and height in mm."""

    width: float
    height: float
    body: str


class SheetLook(BaseModel):
    """A table sheet with its cards by id; `hidden`: its last cell is the hidden face. Sizes in pixels."""

    file: str
    columns: int
    rows: int
    cards: list[str]
    cell: Measures
    size: Measures
    hidden: bool
    outline: str


class SheetsLookOut(BaseModel):
    title: str
    cells: int
    sheets: list[SheetLook]
    warnings: list[str]


class PictureLook(BaseModel):
    card: str
    side: Literal["front", "back"]
    file: str
    width: int
    height: int


class PicturesLookOut(BaseModel):
    """The number of pictures, and the first of them."""

    title: str
    count: int
    first: list[PictureLook]
    warnings: list[str]


class JobOut(BaseModel):
    """A job.

    `done` of `total` steps while it runs; `result` describes the file (facts, warnings, guide, run) once it is
    done.
    """

    id: str
    kind: Literal["print", "sheets", "pictures"]
    title: str
    order: dict[str, Any]
    state: Literal["waiting", "running", "done", "stopped", "failed"]
    done: int
    total: int
    at: str
    ended: str | None
    file: str | None
    bytes: int
    result: dict[str, Any]
    problem: Problem | None


class RunOut(Out):
    """A print run: its out-of-date cards by id, and the number of removed cards."""

    id: str
    name: str
    at: str
    cards: int
    copies: int
    stale: list[str]
    gone: int
    order: dict[str, Any]


class OnPaperOut(BaseModel):
    """What is on paper: out-of-date cards by id and their copies; the number of cards never printed; the print
    runs, newest first.
    """

    stale: list[str]
    stale_copies: int
    unprinted: int
    runs: list[RunOut]


class RunNameIn(BaseModel):
    name: Annotated[str, Field(max_length=200)]

    model_config = like({"name": "Before playtest 3"})


@router.get("")
def output(game: TheGame) -> OutputOut:
    """The options for orders."""
    papers = [PaperSize(name=name, width=wide, height=high) for name, (wide, high) in PAPERS.items()]
    return OutputOut(
        papers=papers, words=[WordOut(word=word, help=told) for word, told in words_of(game).items()]
    )


@router.get("/glossary.{form}", response_class=Response)
def keyword_glossary(game: TheGame, form: Literal["md", "pdf"]) -> Response:
    """The game's keywords with their meanings, for a rulebook."""
    return _download(f"{game.name} keywords.{form}", glossary(game, form), form)


@router.get("/rules.{form}", response_class=Response)
def rules_to_read(game: TheGame, form: Literal["md", "pdf"]) -> Response:
    """The rules text, for players."""
    return _download(f"{game.name} rules.{form}", rules_pages(game, form), form)


def _download(name: str, data: bytes, form: str) -> Response:
    headers = {"Content-Disposition": f"attachment; filename*=UTF-8''{quote(name)}", "X-Content-Type-Options": "nosniff"}
    return Response(data, media_type=FORMS[form], headers=headers)


@router.get("/paper")
def paper(game: TheGame) -> OnPaperOut:
    """What is on paper, and what is out of date."""
    found = on_paper(game)
    return OnPaperOut(
        stale=list(found.stale), stale_copies=found.stale_copies, unprinted=found.unprinted, runs=[_run_out(each) for each in found.runs]
    )  # fmt: skip


def _run_out(run: PrintRun) -> RunOut:
    return RunOut.model_validate(run)


@router.put("/runs/{run_id}")
def name_run(workspace: TheWorkspace, game: TheGame, run_id: str, asked: RunNameIn, page: Page, key: Key) -> EditOut:
    return edit_out(rename_run(workspace, game.id, run_id, asked.name, page, key))


@router.delete("/runs/{run_id}")
def take_run_out(workspace: TheWorkspace, game: TheGame, run_id: str, page: Page, key: Key) -> EditOut:
    """Remove a print run: its copies are no longer tracked."""
    return edit_out(forget_run(workspace, game.id, run_id, page, key))


@router.post("/print/look")
def look_at_print(workspace: TheWorkspace, game: TheGame, asked: PrintOrder) -> PrintLookOut:
    """Preview an order on paper. Creates nothing."""
    plan = plan_print(workspace, game, asked)
    layouts: dict[int, int] = {}
    laid: list[Imposition] = []
    for leaf in plan.every:
        if id(leaf.laid) not in layouts:
            layouts[id(leaf.laid)] = len(laid)
            laid.append(leaf.laid)
    counts = plan.counts
    return PrintLookOut(
        title=plan.title, cards=len(counts), copies=sum(len(leaf.cards) for leaf in plan.leaves), pages=plan.pages, warnings=list(plan.warnings),
        leaves=[LeafOut(number=leaf.number, layout=layouts[id(leaf.laid)], cards=list(leaf.cards)) for leaf in plan.every],
        layouts=[_layout_out(each, asked) for each in laid],
    )  # fmt: skip


def _layout_out(laid: Imposition, order: PrintOrder) -> PageLayout:
    behind = (
        laid.behind("long" if order.backs == "long" else "short") if order.backs in ("long", "short") else ()
    )
    return PageLayout(
        page=_measures(laid.page), card=_measures(laid.card), bleed=laid.bleed, columns=laid.columns, rows=laid.rows, slots=[SlotOut.model_validate(each) for each in laid.slots],
        behind=[SlotOut.model_validate(each) for each in behind], pairs=laid.pairs,
    )  # fmt: skip


def _measures(size: tuple[float, float]) -> Measures:
    return Measures(width=size[0], height=size[1])


@router.post("/print/page")
def look_at_page(
    workspace: TheWorkspace,
    game: TheGame,
    asked: PrintOrder,
    leaf: Annotated[int, Query(ge=1, le=100_000)] = 1,
    back: bool = False,
) -> PageOut:
    """One page as it will be printed, drawn from the same elements as the PDF."""
    plan = plan_print(workspace, game, asked.model_copy(update={"left_out": ()}))
    held = plan.every[min(leaf, len(plan.every)) - 1]
    page = plan.page(held, back and held.pages == 2, work.today())
    return PageOut(
        width=page.width, height=page.height, body=page_svg(page, asked.paper.bleed, asked.paper.scale)
    )


@router.post("/print", status_code=201)
def print_run(workspace: TheWorkspace, game: TheGame, asked: PrintOrder, works: TheWorks, key: Key) -> JobOut:
    """Create the PDF, and record the print run."""
    return _begun(workspace, game, asked, works, key)


@router.post("/sheets/look")
def look_at_sheets(workspace: TheWorkspace, game: TheGame, asked: SheetOrder) -> SheetsLookOut:
    """Preview the cells of table sheets. Creates nothing."""
    plan = plan_sheets(workspace, game, asked)
    return SheetsLookOut(
        title=plan.title, cells=plan.cells, warnings=list(plan.warnings),
        sheets=[
            SheetLook(
                file=each.name(asked.form), columns=each.grid.columns, rows=each.grid.rows, cards=[card.id for card, _ in each.cards],
                cell=_measures((each.grid.width, each.grid.height)), size=_measures(each.grid.size), hidden=asked.hidden == "last" and not asked.single, outline=each.size.outline,
            )
            for each in plan.sheets
        ],
    )  # fmt: skip


@router.post("/sheets", status_code=201)
def make_table_sheets(workspace: TheWorkspace, game: TheGame, asked: SheetOrder, works: TheWorks, key: Key) -> JobOut:
    """Create table sheets in one archive."""
    return _begun(workspace, game, asked, works, key)


@router.post("/pictures/look")
def look_at_pictures(workspace: TheWorkspace, game: TheGame, asked: PictureOrder) -> PicturesLookOut:
    """Preview the names and sizes of card pictures. Creates nothing."""
    plan = plan_pictures(workspace, game, asked)
    first = [
        PictureLook(card=each.card.id, side=each.side, file=each.file, width=each.width, height=each.height)
        for each in plan.pictures[:MOST_NAMES]
    ]
    return PicturesLookOut(
        title=plan.title, count=len(plan.pictures), first=first, warnings=list(plan.warnings)
    )


@router.post("/pictures", status_code=201)
def make_card_pictures(
    workspace: TheWorkspace, game: TheGame, asked: PictureOrder, works: TheWorks, key: Key
) -> JobOut:
    """Create a picture of each card, in one archive."""
    return _begun(workspace, game, asked, works, key)


def _begun(workspace: TheWorkspace, game: GameSnapshot, order: Any, works: JobPool, key: Key) -> JobOut:
    job = work.create_job(workspace, game, order, key)
    works.wake()
    return _job_out(job, works)


def _job_out(job: JobRecord, works: JobPool) -> JobOut:
    done, total = works.progress(job.id) or (0, 0)
    result = dict(job.result or {})
    problem = result.pop("problem", None)
    return JobOut(
        id=job.id, kind=job.kind, title=job.title, order=dict(job.order), state=job.state, done=done, total=total, at=job.at, ended=job.ended, file=job.file,
        bytes=job.bytes, result=result, problem=problem,
    )  # fmt: skip


@router.get("/jobs")
def output_jobs(workspace: TheWorkspace, game: TheGame, works: TheWorks) -> list[JobOut]:
    """All jobs, newest first."""
    return [_job_out(each, works) for each in workspace.store.jobs(game.id)]


@router.get("/jobs/{job_id}")
def output_job(workspace: TheWorkspace, game: TheGame, job_id: str, works: TheWorks) -> JobOut:
    return _job_out(work.job_of(workspace, game.id, job_id), works)


@router.post("/jobs/{job_id}/stop")
def stop_job(workspace: TheWorkspace, game: TheGame, job_id: str, works: TheWorks) -> JobOut:
    """Stop a job; a finished one stays as it is."""
    works.stop(work.job_of(workspace, game.id, job_id))
    return _job_out(work.job_of(workspace, game.id, job_id), works)


@router.post("/jobs/{job_id}/again", status_code=201)
def job_again(workspace: TheWorkspace, game: TheGame, job_id: str, works: TheWorks, key: Key) -> JobOut:
    """Run the same job again, with the current cards."""
    job = work.job_of(workspace, game.id, job_id)
    return _begun(workspace, game, work.read_order(job.kind, job.order), works, key)


@router.delete("/jobs/{job_id}", status_code=204)
def take_job_away(workspace: TheWorkspace, game: TheGame, job_id: str) -> None:
    """Remove a finished job and its file."""
    work.remove(workspace, work.job_of(workspace, game.id, job_id))


@router.get("/jobs/{job_id}/file", response_class=FileResponse)
def job_file(workspace: TheWorkspace, game: TheGame, job_id: str) -> FileResponse:
    """The file of a job."""
    job = work.job_of(workspace, game.id, job_id)
    path = work.result_of(workspace, job)
    headers = {
        "Content-Disposition": f"attachment; filename*=UTF-8''{quote(path.name)}",
        "X-Content-Type-Options": "nosniff",
        "Cache-Control": "no-store",
    }
    return FileResponse(path, media_type=MEDIA[job.kind], headers=headers)
