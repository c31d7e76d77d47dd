"""Jobs as data: create, run, finish. `job_pool` decides which process runs them."""

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
from dramok.services.output import card_pictures, printing, table_sheets
from dramok.services.output.atomic_files import atomic_file, write_failed
from dramok.services.output.chosen_cards import Resolved, resolved
from dramok.services.output.job_steps import Made, Tick
from dramok.services.output.print_runs import RunDoc, record_run, run_doc
from dramok.services.workspace.ids import new_id
from dramok.services.workspace.snapshot import GameSnapshot
from dramok.services.workspace.workspace import Missing, Refused, Workspace
from dramok.store import JobRecord, Key

ORDERS: dict[str, type[Frozen]] = {
    "print": printing.PrintOrder,
    "sheets": table_sheets.SheetOrder,
    "pictures": card_pictures.PictureOrder,
}
"""The kinds of job with the model of their order."""
OPEN, ENDED = ("waiting", "running"), ("done", "stopped", "failed")
MOST_KEPT = 200
"""The largest number of jobs of a game; remove some before adding more."""


@dataclass(frozen=True)
class Outcome:
    """The outcome of a job: its file, facts about it, and what a print run printed."""

    made: Made
    bytes: int
    run: RunDoc | None = None


def read_order(kind: str, document: Mapping[str, Any]) -> Any:
    """Parse an order. Raises Refused for an unknown kind or an invalid order."""
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
    workspace: Workspace, game: GameSnapshot, order: Any, cards: Resolved | None = None
) -> printing.PrintPlan | table_sheets.SheetPlan | card_pictures.PicturePlan:
    """Plan an order; `cards` are its resolved cards, if known. Raises Refused, Missing."""
    if isinstance(order, printing.PrintOrder):
        return printing.plan_print(workspace, game, order, cards)
    if isinstance(order, table_sheets.SheetOrder):
        return table_sheets.plan_sheets(workspace, game, order, cards)
    return card_pictures.plan_pictures(workspace, game, order, cards)


def create_job(workspace: Workspace, game: GameSnapshot, order: Any, key: Key | None = None) -> JobRecord:
    """Create a waiting job.

    The same `key` again returns the same job. Raises Refused, Missing if the order can't be carried out.
    """
    plan = plan_of(workspace, game, order)
    if len(workspace.store.jobs(game.id)) >= MOST_KEPT:
        raise Refused(
            Problem(where="jobs", what=f"{MOST_KEPT} results are kept", mend="take some away first")
        )
    kind = next(name for name, model in ORDERS.items() if isinstance(order, model))
    job = JobRecord(
        new_id("j"), game.id, kind, plan.title, order.model_dump(mode="json"), "waiting", now(), key=key
    )  # fmt: skip
    return workspace.store.add_job(job)


def resolve(workspace: Workspace, job: JobRecord) -> list[list[tuple[str, int]]]:
    """Resolve the cards and copies of a job now. Raises Refused, Missing."""
    order = read_order(job.kind, job.order)
    game = workspace.game(job.game)
    return [resolved(workspace, game, each) for each in order.choices]


def make(workspace: Workspace, job: JobRecord, cards: Resolved | None, tick: Tick) -> Outcome:
    """Write a job's file into its folder, atomically. Raises job_steps.Stopped, Refused, Missing."""
    plan = plan_of(workspace, workspace.game(job.game), read_order(job.kind, job.order), cards)
    folder = folder_of(workspace, job)
    try:
        folder.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise Refused(write_failed(folder, error)) from error
    beside = folder / "result"
    with atomic_file(beside) as out:
        made = write(workspace, plan, out, tick)
    for old in folder.iterdir():
        if old != beside:
            old.unlink()
    beside.replace(folder / made.name)
    kept = isinstance(plan, printing.PrintPlan) and plan.order.record
    return Outcome(made, (folder / made.name).stat().st_size, run_doc(plan) if kept else None)  # type: ignore[arg-type]


def write(workspace: Workspace, plan: Any, out: BinaryIO, tick: Tick) -> Made:
    """Write the file of a plan."""
    if isinstance(plan, printing.PrintPlan):
        return printing.print_cards(workspace, plan, out, today(), tick)
    if isinstance(plan, table_sheets.SheetPlan):
        return table_sheets.make_sheets(workspace, plan, out, tick)
    return card_pictures.make_pictures(workspace, plan, out, tick)


def finish_job(workspace: Workspace, job: JobRecord, outcome: Outcome) -> None:
    """Record that a job is done. A print job becomes a print run; doing this twice gives the same run."""
    result = {key: value for key, value in asdict(outcome.made).items() if key != "name"}
    if outcome.run is not None:
        result["run"], result["run_name"] = record_run(workspace, job.game, outcome.run, f"r{job.id}")
    workspace.store.set_job(
        job.id, "done", OPEN, ended=now(), file=outcome.made.name, bytes=outcome.bytes, result=json.dumps(result)
    )  # fmt: skip


def end(workspace: Workspace, job: JobRecord, state: str, problem: Problem | None = None) -> None:
    """Record that a job was stopped or failed."""
    result = json.dumps({"problem": problem.model_dump(mode="json", exclude_none=True)}) if problem else None
    workspace.store.set_job(job.id, state, OPEN, ended=now(), result=result)
    shutil.rmtree(folder_of(workspace, job), ignore_errors=True)


def job_of(workspace: Workspace, game_id: str, ident: str) -> JobRecord:
    """A job by its id. Raises Missing."""
    found = workspace.store.job(ident)
    if found is None or found.game != game_id:
        raise Missing("there is no such job")
    return found


def result_of(workspace: Workspace, job: JobRecord) -> Path:
    """The file of a job. Raises Missing if there is none, or it was deleted from disk."""
    path = folder_of(workspace, job) / (job.file or "-")
    if job.state != "done" or not path.is_file():
        raise Missing("the file is not there (any more): make it again")
    return path


def remove(workspace: Workspace, job: JobRecord) -> None:
    """Remove a finished job and its file. Raises Refused for a running one."""
    if job.state in OPEN:
        raise Refused(Problem(where="job", what="it is still being made", mend="stop it first"))
    workspace.store.remove_job(job.id)
    shutil.rmtree(folder_of(workspace, job), ignore_errors=True)


def folder_of(workspace: Workspace, job: JobRecord) -> Path:
    """The folder of a job's file, next to the database."""
    return workspace.store.path.with_name(f"{workspace.store.path.name}-output") / job.id


def failure(error: BaseException) -> Problem:
    """Why a job failed, for users."""
    if isinstance(error, Refused):
        return error.problem
    if isinstance(error, Missing):
        return Problem(where="order", what=str(error), mend="it was removed meanwhile: choose again")
    if isinstance(error, MemoryError):
        return Problem(where="job", what="there is not enough memory", mend="make fewer cards at once, or smaller pictures")  # fmt: skip
    return Problem(where="job", what=f"it failed: {type(error).__name__}: {error}"[:300], mend="try again; if it stays so, make fewer cards at once")  # fmt: skip


def today() -> str:
    """The date printed in a colophon."""
    return datetime.now(UTC).date().isoformat()


def now() -> str:
    """The current time as jobs store it."""
    return datetime.now(UTC).isoformat(timespec="milliseconds")


def recover_jobs(workspace: Workspace, jobs: Sequence[JobRecord]) -> None:
    """After a stop of the server: interrupted jobs wait again, and partial files are deleted."""
    for job in jobs:
        workspace.store.set_job(job.id, "waiting", ("running",))
        shutil.rmtree(folder_of(workspace, job), ignore_errors=True)


__all__ = [
    "ENDED", "OPEN", "ORDERS", "JobRecord", "Outcome", "create_job", "finish_job", "end", "failure", "folder_of", "job_of", "make", "now", "plan_of", "read_order", "remove",
    "resolve", "result_of", "recover_jobs", "today", "write",
]  # fmt: skip
