"""A file looked at, then taken in."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Form, UploadFile
from pydantic import ValidationError

from dramok.core.cards.intake import Wishes
from dramok.core.problem import Problem
from dramok.server.answers import edit_out, import_out
from dramok.server.asked import Key, Page, TheDesk, TheGame
from dramok.server.schemas import ImportOut, WishesIn
from dramok.studio import Refused
from dramok.studio.importing import plan_import, take_import

router = APIRouter(prefix="/games/{game_id}/imports", tags=["imports"])
WishesText = Annotated[str, Form(max_length=200_000)]


@router.post("/preview")
def look(game: TheGame, file: UploadFile, wishes: WishesText = "{}") -> ImportOut:
    """What would become of each row. Writes nothing. `wishes` is JSON: set_name, columns, corrections, accept_near."""
    wanted = _wishes(wishes)
    return import_out(
        plan_import(game, file.file.read(), file.filename or "import", wanted.set_name, _core(wanted)), game
    )


@router.post("", status_code=201)
def take(
    desk: TheDesk, game: TheGame, file: UploadFile, page: Page, key: Key, wishes: WishesText = "{}"
) -> ImportOut:
    """Takes the rows in as a new set, as one undoable step."""
    wanted = _wishes(wishes)
    commit, plan = take_import(
        desk, game.id, file.file.read(), file.filename or "import", page, wanted.set_name, _core(wanted), key
    )
    return import_out(plan, commit.after, edit_out(commit))


def _wishes(text: str) -> WishesIn:
    try:
        return WishesIn.model_validate_json(text)
    except ValidationError as error:
        raise Refused(Problem(where="wishes", what=str(error)[:200], mend="see /api/openapi.json")) from error


def _core(wanted: WishesIn) -> Wishes:
    corrections = {}
    for place, text in wanted.corrections.items():
        row, _, column = place.partition(":")
        if row.isdigit() and column.isdigit():
            corrections[int(row), int(column)] = text
    return Wishes(wanted.columns, corrections, wanted.accept_near)
