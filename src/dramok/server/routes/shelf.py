"""The shelf: every game with a few faces; create, rename, copy, put away and remove games."""

from __future__ import annotations

from typing import Annotated, Literal

from fastapi import APIRouter, File, Form, Path, Query, Response, UploadFile
from pydantic import BaseModel, Field, ValidationError, model_validator

from dramok.core.problem import Problem
from dramok.core.rulebook.game_from_sheet import COLUMN_KINDS, ROLES, ColumnOverride
from dramok.core.text_checks import Ident, Text
from dramok.formats.tables import ENCODINGS, ReadAs
from dramok.server.cell_corrections import corrections_of
from dramok.server.request_context import Key, Page, TheWorkspace, ValidatingRoute
from dramok.server.responses import edit_out
from dramok.server.schemas.base import DamageBrief, Out, like
from dramok.server.schemas.cards import EditOut
from dramok.server.upload_queue import run_queued
from dramok.services import Damaged, GameSnapshot, Refused
from dramok.services.cards.card_detail import detail_of
from dramok.services.games.demo_world import demo_names, fill
from dramok.services.games.first_steps import first_steps
from dramok.services.games.games import (
    NewGamePreview,
    SheetOptions,
    begin,
    create_game_from_sheet,
    duplicate,
    preview_sheet_game,
    put_away,
    remove_for_good,
    remove_samples,
    rename_game,
    shapes,
)

router = APIRouter(route_class=ValidatingRoute, prefix="/shelf", tags=["shelf"])
rules = APIRouter(route_class=ValidatingRoute, prefix="/games/{game_id}", tags=["rules"])
ROUTERS = (router, rules)
AnyGame = Annotated[Ident, Path()]
Name = Annotated[Text, Field(max_length=10_000)]
FAN, MOST_LINES, MOST_REFUSED = 3, 8, 60


class ShelvedOut(Out):
    """A game on the shelf. `edited`: the time of its last edit. `damage`: why it cannot be read."""

    id: str
    name: str
    cards: int = 0
    decks: int = 0
    sets: int = 0
    edited: str = ""
    away: bool = False
    damage: DamageBrief | None = None


class ShapeOut(Out):
    id: str
    name: str
    about: str
    cards: int


class DemoOut(Out):
    id: str
    name: str


class ShelfOut(Out):
    """Every game, those put away included; the templates; the demo games that are missing."""

    games: list[ShelvedOut]
    shapes: list[ShapeOut]
    demos: list[DemoOut]


class FanFaceOut(Out):
    title: str
    svg: str


class NewGameIn(BaseModel):
    """`shape`: the template, or null for an empty game with one card type.

    `demo`: a demo game, which keeps its name.
    """

    model_config = like({"name": "Third Draft", "shape": "duel"})

    name: Name = ""
    shape: str | None = Field(default=None, max_length=40)
    demo: Literal["ribbon-season", "crowded-bed", "potting-shed"] | None = None


class ShelfIn(BaseModel):
    """The name, or whether the game is put away; only one of them, because an idempotency key belongs to one edit."""

    model_config = like({"away": True})

    name: Name | None = None
    away: bool | None = None

    @model_validator(mode="after")
    def _one(self) -> ShelfIn:
        if (self.name is None) == (self.away is None):
            raise ValueError("give the name, or whether it is put away")
        return self


class CopyIn(BaseModel):
    model_config = like({"name": "Third Draft, shorter", "cards": False})

    name: Name | None = None
    cards: bool = True


class ColumnWishIn(BaseModel):
    name: Annotated[Text, Field(max_length=200)] | None = None
    kind: str | None = Field(default=None, max_length=20)
    role: str | None = Field(default=None, max_length=20)


class SheetWishesIn(BaseModel):
    """Corrections of how a table file is read; columns by number from 0.

    `corrections` by `row:column`, rows counted from 1 as in a spreadsheet; an empty text leaves the cell empty.
    `leave_empty`: leave every unreadable cell empty instead of leaving out its row.
    """

    encoding: str | None = Field(default=None, max_length=40)
    delimiter: str | None = Field(default=None, max_length=4)
    sheet: str | None = Field(default=None, max_length=200)
    header: int | None = Field(default=None, ge=1, le=1_000_000)
    columns: dict[int, ColumnWishIn] = Field(default={}, max_length=500)
    corrections: dict[str, Annotated[str, Field(max_length=10_000)]] = Field(default={}, max_length=5_000)
    leave_empty: bool = False


class SheetColumnOut(Out):
    index: int
    heading: str
    name: str
    kind: str
    role: str | None
    filled: int
    samples: list[str]


class RefusedLineOut(Out):
    """`place`: the number of the column, from 0; `near`: the likely intended value; `others`: other problems of
    the line.
    """

    row: int
    column: str
    value: str
    why: str
    mend: str
    place: int | None
    near: str | None
    others: list[str]


class NoCardLineOut(Out):
    """A line that is not a card: a blank line, a title, a total, a repeated header."""

    row: int
    value: str
    why: str


class ReadOtherwiseOut(Out):
    """A line that becomes a card, with a value that was read differently from the file."""

    row: int
    name: str
    notes: list[str]


class FirstCardOut(Out):
    name: str
    type: str


class NewGameLookOut(Out):
    """A table file read as a game; nothing is written. `kinds` and `roles` are the options for a column.

    Every line below the header is a card, refused, or no card: `rows` = `cards` + `refused_count` +
    `no_card_count`.
    """

    file: str
    sheet: str
    sheets: list[str]
    encoding: str
    encodings: list[str]
    header: int
    lines: list[list[str]]
    rows: int
    cards: int
    refused_count: int
    refused: list[RefusedLineOut]
    no_card_count: int
    no_cards: list[NoCardLineOut]
    otherwise: list[ReadOtherwiseOut]
    columns: list[SheetColumnOut]
    types: list[str]
    lists: list[str]
    first: list[FirstCardOut]
    kinds: list[str]
    roles: list[str]
    notes: list[str]


WishesText = Annotated[str, Form(max_length=200_000)]


@router.get("")
def shelf(workspace: TheWorkspace) -> ShelfOut:
    """Every game; one that cannot be read is listed with its problem."""
    found = workspace.shelf()
    there = {each.ident if isinstance(each, Damaged) else each.id for each in found}
    edited = workspace.store.edited()
    return ShelfOut(
        games=[_shelved(each, edited) for each in found],
        shapes=[ShapeOut(id=each.id, name=each.name, about=each.about, cards=len(each.cards)) for each in shapes()],
        demos=[DemoOut(id=ident, name=name) for ident, name in demo_names().items() if ident not in there],
    )  # fmt: skip


def _shelved(found: GameSnapshot | Damaged, edited: dict[str, str]) -> ShelvedOut:
    if isinstance(found, Damaged):
        damage = DamageBrief(what=found.problem.what, mend=found.problem.mend)
        return ShelvedOut(id=found.ident, name=found.name, damage=damage)
    return ShelvedOut(
        id=found.id, name=found.name, cards=len(found.cards), decks=len(found.decks), sets=len(found.sets), edited=edited.get(found.id, ""), away=found.away,
    )  # fmt: skip


@router.get("/{game_id}/fan")
def fan(workspace: TheWorkspace, game_id: AnyGame) -> list[FanFaceOut]:
    """A few faces of a game, spread over its cards."""
    game = workspace.game(game_id)
    cards = list(game.cards.values())
    step = max(1, len(cards) // FAN)
    return [FanFaceOut(title=game.title(card), svg=detail_of(game, card).svg) for card in cards[step // 2 :: step][:FAN]]  # fmt: skip


@router.post("", status_code=201)
def begin_game(workspace: TheWorkspace, asked: NewGameIn, key: Key) -> ShelvedOut:
    """Create a game from a template, an empty one, or add a demo game."""
    if asked.demo is not None:
        fill(workspace, (asked.demo,))
        return _shelved(workspace.game(asked.demo), {})
    return _shelved(begin(workspace, asked.name, asked.shape, key), {})


@router.post("/sheet/look")
async def look_at_new_game(file: Annotated[UploadFile, File()], wishes: WishesText = "{}") -> NewGameLookOut:
    """Preview a table file as a new game. Writes nothing. `wishes` is JSON (see `SheetWishesIn`)."""
    wanted = _wishes(wishes)
    return await run_queued(lambda: _look_out(preview_sheet_game(file.file.read(), wanted), file.filename or "sheet"))


@router.post("/sheet", status_code=201)
async def begin_with_sheet(
    workspace: TheWorkspace, file: Annotated[UploadFile, File()], key: Key, name: Annotated[str, Form(max_length=10_000)] = "", wishes: WishesText = "{}"
) -> ShelvedOut:  # fmt: skip
    """Create a game from a table file: its columns become types, fields and lists, its lines cards."""
    wanted = _wishes(wishes)

    def work() -> ShelvedOut:
        game, _ = create_game_from_sheet(
            workspace, file.file.read(), file.filename or "sheet", name or None, wanted, key
        )
        return _shelved(game, {})

    return await run_queued(work)


def _wishes(text: str) -> SheetOptions:
    try:
        asked = SheetWishesIn.model_validate_json(text)
    except ValidationError as error:
        raise Refused(Problem(where="wishes", what=str(error)[:200], mend="see /api/openapi.json")) from error
    columns = {index: ColumnOverride(each.name, each.kind, each.role) for index, each in asked.columns.items()}
    corrections = corrections_of(asked.corrections)
    read = ReadAs(asked.encoding, asked.delimiter, asked.sheet)
    return SheetOptions(read, asked.header, columns, corrections, asked.leave_empty)


def _look_out(look: NewGamePreview, filename: str) -> NewGameLookOut:
    reading, intake = look.reading, look.intake
    places = {each.heading.strip(): each.index for each in reversed(reading.columns)}
    below = [each for each in intake.skipped if each.row > reading.header]
    otherwise = [
        (each, notes)
        for each in intake.taken
        if (notes := [note for note in each.notes if not note.startswith("behaviour not written")])
    ]
    top = reading.header - 1
    return NewGameLookOut(
        file=filename[:200], sheet=look.file.sheet or "", sheets=list(look.file.sheets), encoding=look.file.encoding, encodings=list(ENCODINGS), header=reading.header,
        lines=[[cell[:60] for cell in line[:30]] for line in look.file.rows[: top + MOST_LINES]][-MOST_LINES * 2 :],
        rows=reading.rows, cards=len(intake.taken), refused_count=len(intake.refused),
        refused=[RefusedLineOut(row=each.row, column=each.column, value=each.value, why=each.why, mend=each.mend, place=places.get(each.column), near=each.near, others=list(each.others)) for each in intake.refused[:MOST_REFUSED]],
        no_card_count=len(below), no_cards=[NoCardLineOut(row=each.row, value=each.value, why=each.why) for each in below[:MOST_REFUSED]],
        otherwise=[ReadOtherwiseOut(row=each.row, name=each.name, notes=notes) for each, notes in otherwise[:MOST_REFUSED]],
        columns=[SheetColumnOut(index=each.index, heading=each.heading, name=each.name, kind=each.kind, role=each.role, filled=each.filled, samples=list(each.samples)) for each in reading.columns],
        types=[each.name for each in look.rulebook.cards.types if not each.abstract], lists=[f"{each.name}: {', '.join(value.name for value in each.values[:12])}" for each in look.rulebook.cards.lists],
        first=[FirstCardOut(name=each.name, type=look.rulebook.cards.type(each.type).name) for each in intake.taken[:12]],
        kinds=list(COLUMN_KINDS), roles=list(ROLES), notes=list(look.file.notes),
    )  # fmt: skip


@router.put("/{game_id}")
def change_game(workspace: TheWorkspace, game_id: AnyGame, asked: ShelfIn, page: Page, key: Key) -> ShelvedOut:
    """Rename a game, put it away or bring it back."""
    if asked.name is not None:
        rename_game(workspace, game_id, asked.name, page, key)
    if asked.away is not None and workspace.game(game_id).away != asked.away:
        put_away(workspace, game_id, asked.away, page, key)
    return _shelved(workspace.game(game_id), workspace.store.edited())


@router.post("/{game_id}/copy", status_code=201)
async def copy_game(workspace: TheWorkspace, game_id: AnyGame, asked: CopyIn, key: Key) -> ShelvedOut:
    """Copy a game: all of it, or only its rules and plans."""
    return await run_queued(
        lambda: _shelved(duplicate(workspace, workspace.game(game_id), asked.name, asked.cards, key), {})
    )


@router.delete("/{game_id}", status_code=204)
def remove_game(
    workspace: TheWorkspace, game_id: AnyGame, name: Annotated[str, Query(max_length=10_000)] = ""
) -> Response:
    """Delete a game that was put away. `name` must repeat its name."""
    remove_for_good(workspace, game_id, name)
    return Response(status_code=204)


class StepsOut(Out):
    """The progress of a new game. `own`: it was created here."""

    own: bool
    fields: int
    cards: int
    priced: bool
    decks: int
    played: bool
    printed: bool


@rules.get("/steps")
def steps(workspace: TheWorkspace, game_id: AnyGame) -> StepsOut:
    """The first steps of a game, computed from its content."""
    return StepsOut.model_validate(first_steps(workspace, workspace.game(game_id)))


@rules.post("/samples/remove")
def take_samples_out(workspace: TheWorkspace, game_id: AnyGame, page: Page, key: Key) -> EditOut:
    """Remove the sample cards of the template."""
    return edit_out(remove_samples(workspace, game_id, page, key))
