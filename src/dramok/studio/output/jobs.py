"""Long work as data: asked for, made, concluded. Who makes it, and where, is another matter (see `works`)."""

from __future__ import annotations

import json
import shutil
from collections.abc import Mapping, Sequence
from dataclasses import asdict, dataclass
from datetime import UTC, datetime
from pathlib import Path
from typing import Any, BinaryIO

from pydantic import ValidationError

from dramok.core.problem import Frozen, Problem
from dramok.store import JobRecord, Key
from dramok.studio.desk import Desk, Missing, Refused
from dramok.studio.ids import new_id
from dramok.studio.output import cardpictures, printing, tablesheets
from dramok.studio.output.making import Made, Tick
from dramok.studio.output.runs import RunDoc, record_run, run_doc
from dramok.studio.output.wanted import Resolved, resolved
from dramok.studio.output.whole import not_written, whole_file
from dramok.studio.snapshot import GameSnapshot

ORDERS: dict[str, type[Frozen]] = {
    "print": printing.PrintOrder,
    "sheets": tablesheets.SheetOrder,
    "pictures": cardpictures.PictureOrder,
}
"""The kinds of job, with what each is ordered by."""
OPEN, ENDED = ("waiting", "running"), ("done", "stopped", "failed")
MOST_KEPT = 200
"""Jobs of a game beyond so many must be taken away before more are asked for."""


@dataclass(frozen=True)
class Outcome:
    """What making a job came to: its file with what is to be known of it, and what a print run printed."""

    made: Made
    bytes: int
    run: RunDoc | None = None


def read_order(kind: str, document: Mapping[str, Any]) -> Any:
    """Raises Refused for a kind that there is not, or an order that can't be read."""
    model = ORDERS.get(kind)
    if model is None:
        raise Refused(Problem(where="kind", what=f"nothing is called {kind[:40]}", mend=f"choose one of {', '.join(ORDERS)}"))  # fmt: skip
    try:
        return model.model_validate(document)
    except ValidationError as error:
        first = error.errors()[0]
        where = ".".join(str(part) for part in first["loc"])
        raise Refused(
            Problem(where=where or "order", what=f"{where}: {first['msg']}"[:200], mend="set it to something else")
        ) from error  # fmt: skip


def plan_of(
    desk: Desk, game: GameSnapshot, order: Any, cards: Resolved | None = None
) -> printing.PrintPlan | tablesheets.SheetPlan | cardpictures.PicturePlan:
    """How an order comes out; of `cards`, where it is known already which are meant. Raises Refused, Missing."""
    if isinstance(order, printing.PrintOrder):
        return printing.plan_print(desk, game, order, cards)
    if isinstance(order, tablesheets.SheetOrder):
        return tablesheets.plan_sheets(desk, game, order, cards)
    return cardpictures.plan_pictures(desk, game, order, cards)


def ask_for(desk: Desk, game: GameSnapshot, order: Any, key: Key | None = None) -> JobRecord:
    """A new job that waits to be made. The same `key` again gives the same job. Raises Refused, Missing where the order can't be made."""
    plan = plan_of(desk, game, order)
    if len(desk.store.jobs(game.id)) >= MOST_KEPT:
        raise Refused(
            Problem(where="jobs", what=f"{MOST_KEPT} results are kept", mend="take some away first")
        )
    kind = next(name for name, model in ORDERS.items() if isinstance(order, model))
    job = JobRecord(
        new_id("j"), game.id, kind, plan.title, order.model_dump(mode="json"), "waiting", now(), key=key
    )  # fmt: skip
    return desk.store.add_job(job)


def resolve(desk: Desk, job: JobRecord) -> list[list[tuple[str, int]]]:
    """Which cards a job means at this moment, and how many of each. Raises Refused, Missing."""
    order = read_order(job.kind, job.order)
    game = desk.game(job.game)
    return [resolved(desk, game, each) for each in order.choices]


def make(desk: Desk, job: JobRecord, cards: Resolved | None, tick: Tick) -> Outcome:
    """Makes a job's file in the job's folder, whole or not at all. Raises making.Stopped, Refused, Missing."""
    plan = plan_of(desk, desk.game(job.game), read_order(job.kind, job.order), cards)
    folder = folder_of(desk, job)
    try:
        folder.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise Refused(not_written(folder, error)) from error
    beside = folder / "result"
    with whole_file(beside) as out:
        made = write(desk, plan, out, tick)
    for old in folder.iterdir():
        if old != beside:
            old.unlink()
    beside.replace(folder / made.name)
    kept = isinstance(plan, printing.PrintPlan) and plan.order.record
    return Outcome(made, (folder / made.name).stat().st_size, run_doc(plan) if kept else None)  # type: ignore[arg-type]


def write(desk: Desk, plan: Any, out: BinaryIO, tick: Tick) -> Made:
    """Writes what a plan plans."""
    if isinstance(plan, printing.PrintPlan):
        return printing.print_cards(desk, plan, out, today(), tick)
    if isinstance(plan, tablesheets.SheetPlan):
        return tablesheets.make_sheets(desk, plan, out, tick)
    return cardpictures.make_pictures(desk, plan, out, tick)


def conclude(desk: Desk, job: JobRecord, outcome: Outcome) -> None:
    """Writes down that a job is done. What was printed becomes a run; done twice, it is the same run."""
    result = {key: value for key, value in asdict(outcome.made).items() if key != "name"}
    if outcome.run is not None:
        result["run"], result["run_name"] = record_run(desk, job.game, outcome.run, f"r{job.id}")
    desk.store.set_job(
        job.id, "done", OPEN, ended=now(), file=outcome.made.name, bytes=outcome.bytes, result=json.dumps(result)
    )  # fmt: skip


def end(desk: Desk, job: JobRecord, state: str, problem: Problem | None = None) -> None:
    """Writes down that a job was stopped, or failed."""
    result = json.dumps({"problem": problem.model_dump(mode="json", exclude_none=True)}) if problem else None
    desk.store.set_job(job.id, state, OPEN, ended=now(), result=result)
    shutil.rmtree(folder_of(desk, job), ignore_errors=True)


def job_of(desk: Desk, game_id: str, ident: str) -> JobRecord:
    """Raises Missing."""
    found = desk.store.job(ident)
    if found is None or found.game != game_id:
        raise Missing("there is no such job")
    return found


def result_of(desk: Desk, job: JobRecord) -> Path:
    """The file that a job made. Raises Missing where there is none, or somebody took it from the disk."""
    path = folder_of(desk, job) / (job.file or "-")
    if job.state != "done" or not path.is_file():
        raise Missing("the file is not there (any more): make it again")
    return path


def remove(desk: Desk, job: JobRecord) -> None:
    """Takes a job that has ended away, with its file. Raises Refused for one that is still being made."""
    if job.state in OPEN:
        raise Refused(Problem(where="job", what="it is still being made", mend="stop it first"))
    desk.store.remove_job(job.id)
    shutil.rmtree(folder_of(desk, job), ignore_errors=True)


def folder_of(desk: Desk, job: JobRecord) -> Path:
    """Where a job's file lies: in a folder beside the database."""
    return desk.store.path.with_name(f"{desk.store.path.name}-output") / job.id


def failure(error: BaseException) -> Problem:
    """Why a job failed, for people."""
    if isinstance(error, Refused):
        return error.problem
    if isinstance(error, Missing):
        return Problem(where="order", what=str(error), mend="it was removed meanwhile: choose again")
    if isinstance(error, MemoryError):
        return Problem(where="job", what="there is not enough memory", mend="make fewer cards at once, or smaller pictures")  # fmt: skip
    return Problem(where="job", what=f"it failed: {type(error).__name__}: {error}"[:300], mend="try again; if it stays so, make fewer cards at once")  # fmt: skip


def today() -> str:
    """The date that stands in a colophon."""
    return datetime.now(UTC).date().isoformat()


def now() -> str:
    """The moment, as jobs hold it."""
    return datetime.now(UTC).isoformat(timespec="milliseconds")


def tidy(desk: Desk, jobs: Sequence[JobRecord]) -> None:
    """After a stop of the server: what was being made waits again, and nothing half made is left."""
    for job in jobs:
        desk.store.set_job(job.id, "waiting", ("running",))
        shutil.rmtree(folder_of(desk, job), ignore_errors=True)


__all__ = [
    "ENDED", "OPEN", "ORDERS", "JobRecord", "Outcome", "ask_for", "conclude", "end", "failure", "folder_of", "job_of", "make", "now", "plan_of", "read_order", "remove",
    "resolve", "result_of", "tidy", "today", "write",
]  # fmt: skip
