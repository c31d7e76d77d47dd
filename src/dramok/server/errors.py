"""Every error as problem+json with its place and fix."""

from __future__ import annotations

from collections.abc import Awaitable, Callable
from typing import Any

from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse
from starlette.exceptions import HTTPException

from dramok.core.text_checks import MOST_DEPTH, InvalidInput
from dramok.server.schemas.base import ProblemOut
from dramok.services import Conflict, Damaged, FileDamaged, KeyReused, Missing, NotWritten, Refused

RESPONSES: dict[int | str, dict[str, object]] = {
    status: {"model": ProblemOut, "description": said}
    for status, said in (
        (400, "refused"),
        (404, "not there"),
        (401, "key needed"),
        (403, "foreign page"),
        (405, "not so"),
        (409, "changed meanwhile"),
        (413, "too large"),
        (422, "malformed"),
    )
}


REFUSED = f"""Every error is a problem (RFC 9457, application/problem+json) with place and fix.

Refused for every request (422): a text with a NUL character or half of a surrogate pair, in body, path,
query or form; a number of over 64 bits, or one that is not finite; JSON nested over {MOST_DEPTH} deep; an empty
Idempotency-Key, or one that was used with another request. Ids are 1 to 80 letters, digits and `~_.-`. Larger bodies than
a path takes are answered with 413, foreign pages and `Origin: null` on writes with 403, unknown hosts with 421.
"""


def problems_as_problems(document: dict[str, Any]) -> None:
    """Declare every error response in the OpenAPI document as problem+json."""
    for path in document["paths"].values():
        for operation in path.values():
            for status, said in operation.get("responses", {}).items():
                if status.startswith("4") and "application/json" in said.get("content", {}):
                    said["content"] = {"application/problem+json": said["content"]["application/json"]}


def _refused(error: Refused) -> ProblemOut:
    problem = error.problem
    return ProblemOut(title="refused", status=400, detail=problem.what, where=problem.where, mend=problem.mend, nearest=problem.nearest)  # fmt: skip


def _missing(error: Missing) -> ProblemOut:
    return ProblemOut(
        title="not there", status=404, detail=str(error), mend="it may have been removed; reload"
    )


def _conflict(error: Conflict) -> ProblemOut:
    return ProblemOut(
        title="changed meanwhile",
        status=409,
        detail=str(error),
        mend="keep theirs, or write yours over it",
        theirs=error.theirs,
        yours=error.yours,
        seq=error.seq,
        op=error.op,
        rest=error.rest,
    )


def _damaged(error: Damaged) -> ProblemOut:
    problem = error.problem
    return ProblemOut(
        title="damaged", status=409, detail=problem.what, where=problem.where, mend=problem.mend
    )


def _not_written(error: NotWritten) -> ProblemOut:
    return ProblemOut(
        title="not written",
        status=409,
        detail=f"the file could not be written: {error}",
        where="file",
        mend="make room, or end the other program that writes to it, and send it again",
    )


def _file_damaged(error: FileDamaged) -> ProblemOut:
    return ProblemOut(
        title="file damaged",
        status=503,
        detail=str(error),
        where="file",
        mend="end the program, keep the file as it is, and start a new one from your backups",
    )


def _invalid_input(error: InvalidInput) -> ProblemOut:
    return ProblemOut(
        title="malformed", status=422, detail=str(error)[:500], where=error.where, mend=error.mend
    )


def _key_reused(_: KeyReused) -> ProblemOut:
    return ProblemOut(
        title="key used",
        status=422,
        detail="this idempotency key was used for another request",
        where="idempotency-key",
        mend="send a new key with a new request",
    )


def _malformed(error: RequestValidationError) -> ProblemOut:
    first = error.errors()[0]
    where = ".".join(str(part) for part in first["loc"][1:])
    return ProblemOut(
        title="malformed",
        status=422,
        detail=f"{where}: {first['msg']}"[:500],
        where=where,
        mend="see /api/openapi.json",
    )


def _other(error: HTTPException) -> ProblemOut:
    return ProblemOut(
        title="error", status=error.status_code, detail=str(error.detail), mend="see /api/openapi.json"
    )


PROBLEM_OF: dict[type[Exception], Callable[[Any], ProblemOut]] = {
    Refused: _refused,
    Missing: _missing,
    Conflict: _conflict,
    Damaged: _damaged,
    NotWritten: _not_written,
    FileDamaged: _file_damaged,
    InvalidInput: _invalid_input,
    KeyReused: _key_reused,
    RequestValidationError: _malformed,
    HTTPException: _other,
}
"""The response to each kind of error that a route may raise."""


def add_handlers(app: FastAPI) -> None:
    """Register the handler for each kind of error."""
    for kind, problem_of in PROBLEM_OF.items():
        app.add_exception_handler(kind, _handler(problem_of))


def _handler(
    problem_of: Callable[[Any], ProblemOut],
) -> Callable[[Request, Exception], Awaitable[JSONResponse]]:
    # A coroutine: FastAPI would run a plain function in a thread of its pool, which may be busy.
    async def handle(_: Request, error: Exception) -> JSONResponse:
        return answer(problem_of(error))

    return handle


def answer(problem: ProblemOut) -> JSONResponse:
    """A response with the problem as application/problem+json."""
    return JSONResponse(
        problem.model_dump(exclude_none=True),
        status_code=problem.status,
        media_type="application/problem+json",
    )
