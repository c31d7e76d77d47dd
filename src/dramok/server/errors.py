"""Every error as problem+json with its place and fix."""

from __future__ import annotations

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


REFUSED = f"""Every error is a problem (RFC 9457, application/problem+json) with place and mend.

What is refused at the door, whatever is asked (422): a text with a NUL character or half of a surrogate pair, in body, path,
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


def add_handlers(app: FastAPI) -> None:
    """Register the handler for each kind of error."""

    @app.exception_handler(Refused)
    async def refused(_: Request, error: Refused) -> JSONResponse:
        problem = error.problem
        return answer(
            ProblemOut(
                title="refused",
                status=400,
                detail=problem.what,
                where=problem.where,
                mend=problem.mend,
                nearest=problem.nearest,
            )
        )

    @app.exception_handler(Missing)
    async def missing(_: Request, error: Missing) -> JSONResponse:
        return answer(
            ProblemOut(
                title="not there", status=404, detail=str(error), mend="it may have been removed; reload"
            )
        )

    @app.exception_handler(Conflict)
    async def conflict(_: Request, error: Conflict) -> JSONResponse:
        return answer(
            ProblemOut(
                title="changed meanwhile",
                status=409,
                detail=str(error),
                mend="keep theirs, or write yours over it",
                theirs=error.theirs,
                yours=error.yours,
                seq=error.seq,
                op=error.op,
                rest=error.rest,
            )  # fmt: skip
        )

    @app.exception_handler(Damaged)
    async def damaged(_: Request, error: Damaged) -> JSONResponse:
        problem = error.problem
        return answer(
            ProblemOut(
                title="damaged", status=409, detail=problem.what, where=problem.where, mend=problem.mend
            )
        )

    @app.exception_handler(NotWritten)
    async def write_failed(_: Request, error: NotWritten) -> JSONResponse:
        return answer(
            ProblemOut(
                title="not written",
                status=409,
                detail=f"the file could not be written: {error}",
                where="file",
                mend="make room, or end the other program that writes to it, and send it again",
            )
        )

    @app.exception_handler(FileDamaged)
    async def file_damaged(_: Request, error: FileDamaged) -> JSONResponse:
        return answer(
            ProblemOut(
                title="file damaged",
                status=503,
                detail=str(error),
                where="file",
                mend="end the program, keep the file as it is, and start a new one from your backups",
            )
        )

    @app.exception_handler(InvalidInput)
    async def unsound(_: Request, error: InvalidInput) -> JSONResponse:
        return answer(
            ProblemOut(
                title="malformed", status=422, detail=str(error)[:500], where=error.where, mend=error.mend
            )
        )

    @app.exception_handler(KeyReused)
    async def reused(_: Request, error: KeyReused) -> JSONResponse:
        return answer(
            ProblemOut(
                title="key used",
                status=422,
                detail="this idempotency key was used for another request",
                where="idempotency-key",
                mend="send a new key with a new request",
            )
        )

    @app.exception_handler(RequestValidationError)
    async def malformed(_: Request, error: RequestValidationError) -> JSONResponse:
        first = error.errors()[0]
        where = ".".join(str(part) for part in first["loc"][1:])
        return answer(
            ProblemOut(
                title="malformed",
                status=422,
                detail=f"{where}: {first['msg']}"[:500],
                where=where,
                mend="see /api/openapi.json",
            )
        )

    @app.exception_handler(HTTPException)
    async def other(_: Request, error: HTTPException) -> JSONResponse:
        return answer(
            ProblemOut(
                title="error",
                status=error.status_code,
                detail=str(error.detail),
                mend="see /api/openapi.json",
            )
        )


def answer(problem: ProblemOut) -> JSONResponse:
    return JSONResponse(
        problem.model_dump(exclude_none=True),
        status_code=problem.status,
        media_type="application/problem+json",
    )
