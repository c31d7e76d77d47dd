"""The shelf: every game with a few of its faces, and how games begin, are renamed, doubled, put away and removed."""

from __future__ import annotations

from typing import Annotated, Literal

from fastapi import APIRouter, File, Form, Path, Query, Response, UploadFile
from pydantic import BaseModel, Field, ValidationError, model_validator

from dramok.core.problem import Problem
from dramok.core.rulebook.fromsheet import COLUMN_KINDS, ROLES, ColumnWish
from dramok.core.soundtext import Ident, Text
from dramok.formats.tables import ENCODINGS, ReadAs
from dramok.server.answers import edit_out
from dramok.server.asked import Key, Page, SoundRoute, TheDesk
from dramok.server.corrections import corrections_of
from dramok.server.schemas.base import DamageBrief, Out, like
from dramok.server.schemas.cards import EditOut
from dramok.server.uploads import in_turn
from dramok.studio import Damaged, GameSnapshot, Refused
from dramok.studio.demo_world import demo_names, fill
from dramok.studio.firststeps import first_steps
from dramok.studio.gamework import (
    NewGameLook,
    SheetWishes,
    begin,
    begin_from_sheet,
    duplicate,
    look_at_sheet,
    put_away,
    remove_for_good,
    remove_samples,
    rename_game,
    shapes,
)
from dramok.studio.sheets import sheet_of

router = APIRouter(route_class=SoundRoute, prefix="/shelf", tags=["shelf"])
rules = APIRouter(route_class=SoundRoute, prefix="/games/{game_id}", tags=["rules"])
ROUTERS = (router, rules)
AnyGame = Annotated[Ident, Path()]
Name = Annotated[Text, Field(max_length=10_000)]
FAN, MOST_LINES, MOST_REFUSED = 3, 8, 60


class ShelvedOut(Out):
    """A game on the shelf. `edited`: when it last was. `damage` says why it cannot be read."""

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
    """Every game, those put away too; the shapes that one can begin with; the demo games that are not there."""

    games: list[ShelvedOut]
    shapes: list[ShapeOut]
    demos: list[DemoOut]


class FanFaceOut(Out):
    title: str
    svg: str


class NewGameIn(BaseModel):
    """`shape` None: one type of card, and no cards. `demo`: a demo game, whose name stays its own."""

    model_config = like({"name": "Third Draft", "shape": "duel"})

    name: Name = ""
    shape: str | None = Field(default=None, max_length=40)
    demo: Literal["ribbon-season", "crowded-bed", "potting-shed"] | None = None


class ShelfIn(BaseModel):
    """What is to change: the name, or whether it is put away; one of the two, for a key is of one edit."""

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
    """How a sheet is to be read otherwise than it was guessed; columns by number from 0.

    `corrections` by `row:column`, rows counted from 1 as a spreadsheet does; an empty text leaves the cell empty. `leave_empty`: every cell that can't be
    read is left empty, where its line would otherwise be left out.
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
    """`place`: the number of the column, from 0; `near`: what may have been meant; `others`: what else is wrong in the line."""

    row: int
    column: str
    value: str
    why: str
    mend: str
    place: int | None
    near: str | None
    others: list[str]


class NoCardLineOut(Out):
    """A line that is not a card: a blank line, a title, a total, the header once more."""

    row: int
    value: str
    why: str


class ReadOtherwiseOut(Out):
    """A line that becomes a card, of which something was read otherwise than it is in the file."""

    row: int
    name: str
    notes: list[str]


class FirstCardOut(Out):
    name: str
    type: str


class NewGameLookOut(Out):
    """A sheet read as a game: nothing is written. `kinds` and `roles` are what a column may be set to.

    Every line below the header is a card, refused, or no card: `rows` = `cards` + `refused_count` + `no_card_count`.
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
def shelf(desk: TheDesk) -> ShelfOut:
    """Every game; one that cannot be read hides none of the others."""
    found = desk.shelf()
    there = {each.ident if isinstance(each, Damaged) else each.id for each in found}
    edited = desk.store.edited()
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
def fan(desk: TheDesk, game_id: AnyGame) -> list[FanFaceOut]:
    """A few faces of a game, from all through it."""
    game = desk.game(game_id)
    cards = list(game.cards.values())
    step = max(1, len(cards) // FAN)
    return [FanFaceOut(title=game.title(card), svg=sheet_of(game, card).svg) for card in cards[step // 2 :: step][:FAN]]  # fmt: skip


@router.post("", status_code=201)
def begin_game(desk: TheDesk, asked: NewGameIn, key: Key) -> ShelvedOut:
    """Begins a game of a shape, an empty one, or adds a demo game."""
    if asked.demo is not None:
        fill(desk, (asked.demo,))
        return _shelved(desk.game(asked.demo), {})
    return _shelved(begin(desk, asked.name, asked.shape, key), {})


@router.post("/sheet/look")
async def look_at_new_game(file: Annotated[UploadFile, File()], wishes: WishesText = "{}") -> NewGameLookOut:
    """What a sheet would be as a game. Writes nothing. `wishes` is JSON (see `SheetWishesIn`)."""
    wanted = _wishes(wishes)
    return await in_turn(lambda: _look_out(look_at_sheet(file.file.read(), wanted), file.filename or "sheet"))


@router.post("/sheet", status_code=201)
async def begin_with_sheet(
    desk: TheDesk, file: Annotated[UploadFile, File()], key: Key, name: Annotated[str, Form(max_length=10_000)] = "", wishes: WishesText = "{}"
) -> ShelvedOut:  # fmt: skip
    """Begins a game from a sheet: its columns become types, fields and lists, its lines cards."""
    wanted = _wishes(wishes)

    def work() -> ShelvedOut:
        game, _ = begin_from_sheet(
            desk, file.file.read(), file.filename or "sheet", name or None, wanted, key
        )
        return _shelved(game, {})

    return await in_turn(work)


def _wishes(text: str) -> SheetWishes:
    try:
        asked = SheetWishesIn.model_validate_json(text)
    except ValidationError as error:
        raise Refused(Problem(where="wishes", what=str(error)[:200], mend="see /api/openapi.json")) from error
    columns = {index: ColumnWish(each.name, each.kind, each.role) for index, each in asked.columns.items()}
    corrections = corrections_of(asked.corrections)
    read = ReadAs(asked.encoding, asked.delimiter, asked.sheet)
    return SheetWishes(read, asked.header, columns, corrections, asked.leave_empty)


def _look_out(look: NewGameLook, filename: str) -> NewGameLookOut:
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
def change_game(desk: TheDesk, game_id: AnyGame, asked: ShelfIn, page: Page, key: Key) -> ShelvedOut:
    """Renames a game, puts it away or brings it back."""
    if asked.name is not None:
        rename_game(desk, game_id, asked.name, page, key)
    if asked.away is not None and desk.game(game_id).away != asked.away:
        put_away(desk, game_id, asked.away, page, key)
    return _shelved(desk.game(game_id), desk.store.edited())


@router.post("/{game_id}/copy", status_code=201)
async def copy_game(desk: TheDesk, game_id: AnyGame, asked: CopyIn, key: Key) -> ShelvedOut:
    """The game once more: whole, or only its rules and plans."""
    return await in_turn(
        lambda: _shelved(duplicate(desk, desk.game(game_id), asked.name, asked.cards, key), {})
    )


@router.delete("/{game_id}", status_code=204)
def remove_game(
    desk: TheDesk, game_id: AnyGame, name: Annotated[str, Query(max_length=10_000)] = ""
) -> Response:
    """Removes a game that was put away for good. `name` is its name, said once more."""
    remove_for_good(desk, game_id, name)
    return Response(status_code=204)


class StepsOut(Out):
    """How far a game of one's own has come. `own`: it was begun here."""

    own: bool
    fields: int
    cards: int
    priced: bool
    decks: int
    played: bool
    printed: bool


@rules.get("/steps")
def steps(desk: TheDesk, game_id: AnyGame) -> StepsOut:
    """The first steps with a game, from what is really there."""
    return StepsOut.model_validate(first_steps(desk, desk.game(game_id)))


@rules.post("/samples/remove")
def take_samples_out(desk: TheDesk, game_id: AnyGame, page: Page, key: Key) -> EditOut:
    """Takes the sample cards that a game began with out."""
    return edit_out(remove_samples(desk, game_id, page, key))
