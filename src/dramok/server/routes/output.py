"""Out to the table: pages looked at, print runs, what is stale on paper, sheets, pictures, and the jobs that make them."""

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
from dramok.server.answers import edit_out
from dramok.server.asked import Key, Page, SoundRoute, TheDesk, TheGame
from dramok.server.schemas.base import Out, like
from dramok.server.schemas.cards import EditOut
from dramok.studio import GameSnapshot
from dramok.studio.output import jobs as work
from dramok.studio.output.cardpictures import PictureOrder, plan_pictures, words_of
from dramok.studio.output.glossary import FORMS, glossary
from dramok.studio.output.jobs import JobRecord
from dramok.studio.output.printing import PrintOrder, plan_print
from dramok.studio.output.rulespages import rules_pages
from dramok.studio.output.runs import PrintRun, forget_run, on_paper, rename_run
from dramok.studio.output.tablesheets import SheetOrder, plan_sheets
from dramok.studio.output.works import Works

router = APIRouter(route_class=SoundRoute, prefix="/games/{game_id}/output", tags=["output"])
MEDIA = {"print": "application/pdf", "sheets": "application/zip", "pictures": "application/zip"}
MOST_NAMES = 40


async def _works(request: Request) -> Works:
    works: Works = await run_in_threadpool(request.app.state.works.opened)
    return works


TheWorks = Annotated[Works, Depends(_works)]


class PaperSize(BaseModel):
    name: str
    width: float
    height: float


class WordOut(BaseModel):
    word: str
    help: str


class OutputOut(BaseModel):
    """What orders can be made of: papers of the trade, upright; the words of a pattern of names; set names and decks are the game's."""

    papers: list[PaperSize]
    words: list[WordOut]


class Measures(BaseModel):
    width: float
    height: float


class SlotOut(Out):
    """The corner of a card's cut; `turned`: it lies upside down."""

    x: float
    y: float
    turned: bool


class PageLayout(BaseModel):
    """How cards lie on a page, in mm; `behind` are the slots of the backs; in `pairs` each front has its back in the next slot."""

    page: Measures
    card: Measures
    bleed: float
    columns: int
    rows: int
    slots: list[SlotOut]
    behind: list[SlotOut]
    pairs: bool


class LeafOut(BaseModel):
    """A leaf of paper with its cards by id (empty: a blank one), in the order of the slots of its layout."""

    number: int
    layout: int
    cards: list[str]


class PrintLookOut(BaseModel):
    """How an order comes out. `leaves` are all; those that the order leaves out are not among the counts."""

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
    """A sheet with its cards by id; `hidden` says whether its last cell is the hidden face. Sizes in pixels."""

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
    """How many pictures there will be, and the first of them."""

    title: str
    count: int
    first: list[PictureLook]
    warnings: list[str]


class JobOut(BaseModel):
    """Long work. `done` of `total` steps while it is running; `result` says what was made (facts, warnings, guide, run) once it is done."""

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
    """A print run: its cards that are stale on paper by id, how many are no longer in the game."""

    id: str
    name: str
    at: str
    cards: int
    copies: int
    stale: list[str]
    gone: int
    order: dict[str, Any]


class OnPaperOut(BaseModel):
    """What the game has on paper: cards that are stale, by id, and how many copies of them there are; how many cards were never printed; the runs, the latest first."""

    stale: list[str]
    stale_copies: int
    unprinted: int
    runs: list[RunOut]


class RunNameIn(BaseModel):
    name: Annotated[str, Field(max_length=200)]

    model_config = like({"name": "Before playtest 3"})


@router.get("")
def output(game: TheGame) -> OutputOut:
    """What orders can be made of."""
    papers = [PaperSize(name=name, width=wide, height=high) for name, (wide, high) in PAPERS.items()]
    return OutputOut(
        papers=papers, words=[WordOut(word=word, help=told) for word, told in words_of(game).items()]
    )


@router.get("/glossary.{form}", response_class=Response)
def keyword_glossary(game: TheGame, form: Literal["md", "pdf"]) -> Response:
    """The game's keywords with what they mean, for a rulebook."""
    return _download(f"{game.name} keywords.{form}", glossary(game, form), form)


@router.get("/rules.{form}", response_class=Response)
def rules_to_read(game: TheGame, form: Literal["md", "pdf"]) -> Response:
    """How the game is played, for those who play it."""
    return _download(f"{game.name} rules.{form}", rules_pages(game, form), form)


def _download(name: str, data: bytes, form: str) -> Response:
    headers = {"Content-Disposition": f"attachment; filename*=UTF-8''{quote(name)}", "X-Content-Type-Options": "nosniff"}
    return Response(data, media_type=FORMS[form], headers=headers)


@router.get("/paper")
def paper(game: TheGame) -> OnPaperOut:
    """What is on paper, and what of it is stale."""
    found = on_paper(game)
    return OnPaperOut(
        stale=list(found.stale), stale_copies=found.stale_copies, unprinted=found.unprinted, runs=[_run_out(each) for each in found.runs]
    )  # fmt: skip


def _run_out(run: PrintRun) -> RunOut:
    return RunOut.model_validate(run)


@router.put("/runs/{run_id}")
def name_run(desk: TheDesk, game: TheGame, run_id: str, asked: RunNameIn, page: Page, key: Key) -> EditOut:
    return edit_out(rename_run(desk, game.id, run_id, asked.name, page, key))


@router.delete("/runs/{run_id}")
def take_run_out(desk: TheDesk, game: TheGame, run_id: str, page: Page, key: Key) -> EditOut:
    """Forgets a run: its paper is no longer looked after."""
    return edit_out(forget_run(desk, game.id, run_id, page, key))


@router.post("/print/look")
def look_at_print(desk: TheDesk, game: TheGame, asked: PrintOrder) -> PrintLookOut:
    """How an order comes to lie on paper. Makes nothing."""
    plan = plan_print(desk, game, asked)
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
    desk: TheDesk,
    game: TheGame,
    asked: PrintOrder,
    leaf: Annotated[int, Query(ge=1, le=100_000)] = 1,
    back: bool = False,
) -> PageOut:
    """One page as it will be printed, drawn from the same marks as the PDF."""
    plan = plan_print(desk, game, asked.model_copy(update={"left_out": ()}))
    held = plan.every[min(leaf, len(plan.every)) - 1]
    page = plan.page(held, back and held.pages == 2, work.today())
    return PageOut(
        width=page.width, height=page.height, body=page_svg(page, asked.paper.bleed, asked.paper.scale)
    )


@router.post("/print", status_code=201)
def print_run(desk: TheDesk, game: TheGame, asked: PrintOrder, works: TheWorks, key: Key) -> JobOut:
    """Makes the PDF, and records the run."""
    return _begun(desk, game, asked, works, key)


@router.post("/sheets/look")
def look_at_sheets(desk: TheDesk, game: TheGame, asked: SheetOrder) -> SheetsLookOut:
    """Which card comes where on which sheet. Makes nothing."""
    plan = plan_sheets(desk, game, asked)
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
def make_table_sheets(desk: TheDesk, game: TheGame, asked: SheetOrder, works: TheWorks, key: Key) -> JobOut:
    """Makes sheets for a virtual table, in one archive."""
    return _begun(desk, game, asked, works, key)


@router.post("/pictures/look")
def look_at_pictures(desk: TheDesk, game: TheGame, asked: PictureOrder) -> PicturesLookOut:
    """What the pictures will be called, and how large they are. Makes nothing."""
    plan = plan_pictures(desk, game, asked)
    first = [
        PictureLook(card=each.card.id, side=each.side, file=each.file, width=each.width, height=each.height)
        for each in plan.pictures[:MOST_NAMES]
    ]
    return PicturesLookOut(
        title=plan.title, count=len(plan.pictures), first=first, warnings=list(plan.warnings)
    )


@router.post("/pictures", status_code=201)
def make_card_pictures(
    desk: TheDesk, game: TheGame, asked: PictureOrder, works: TheWorks, key: Key
) -> JobOut:
    """Makes a picture of each card, in one archive."""
    return _begun(desk, game, asked, works, key)


def _begun(desk: TheDesk, game: GameSnapshot, order: Any, works: Works, key: Key) -> JobOut:
    job = work.ask_for(desk, game, order, key)
    works.wake()
    return _job_out(job, works)


def _job_out(job: JobRecord, works: Works) -> JobOut:
    done, total = works.progress(job.id) or (0, 0)
    result = dict(job.result or {})
    problem = result.pop("problem", None)
    return JobOut(
        id=job.id, kind=job.kind, title=job.title, order=dict(job.order), state=job.state, done=done, total=total, at=job.at, ended=job.ended, file=job.file,
        bytes=job.bytes, result=result, problem=problem,
    )  # fmt: skip


@router.get("/jobs")
def output_jobs(desk: TheDesk, game: TheGame, works: TheWorks) -> list[JobOut]:
    """Everything that was asked for, the latest first."""
    return [_job_out(each, works) for each in desk.store.jobs(game.id)]


@router.get("/jobs/{job_id}")
def output_job(desk: TheDesk, game: TheGame, job_id: str, works: TheWorks) -> JobOut:
    return _job_out(work.job_of(desk, game.id, job_id), works)


@router.post("/jobs/{job_id}/stop")
def stop_job(desk: TheDesk, game: TheGame, job_id: str, works: TheWorks) -> JobOut:
    """Stops a job; one that has ended stays as it is."""
    works.stop(work.job_of(desk, game.id, job_id))
    return _job_out(work.job_of(desk, game.id, job_id), works)


@router.post("/jobs/{job_id}/again", status_code=201)
def job_again(desk: TheDesk, game: TheGame, job_id: str, works: TheWorks, key: Key) -> JobOut:
    """Makes the same once more, with the cards as they are now."""
    job = work.job_of(desk, game.id, job_id)
    return _begun(desk, game, work.read_order(job.kind, job.order), works, key)


@router.delete("/jobs/{job_id}", status_code=204)
def take_job_away(desk: TheDesk, game: TheGame, job_id: str) -> None:
    """Takes a job that has ended away, with its file."""
    work.remove(desk, work.job_of(desk, game.id, job_id))


@router.get("/jobs/{job_id}/file", response_class=FileResponse)
def job_file(desk: TheDesk, game: TheGame, job_id: str) -> FileResponse:
    """What a job made."""
    job = work.job_of(desk, game.id, job_id)
    path = work.result_of(desk, job)
    headers = {
        "Content-Disposition": f"attachment; filename*=UTF-8''{quote(path.name)}",
        "X-Content-Type-Options": "nosniff",
        "Cache-Control": "no-store",
    }
    return FileResponse(path, media_type=MEDIA[job.kind], headers=headers)
