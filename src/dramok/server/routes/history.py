"""History: the journal, revisions of a card, marks, differences between two moments; and notes on cards."""

from __future__ import annotations

import re
from typing import Annotated, Literal

from fastapi import APIRouter, Query
from pydantic import BaseModel, Field

from dramok.core.text_checks import Place
from dramok.server.request_context import Key, Page, TheGame, TheWorkspace, ValidatingRoute
from dramok.server.responses import edit_out
from dramok.server.schemas.base import Out
from dramok.server.schemas.cards import EditOut, FaceOut
from dramok.services.cards import notes as noting
from dramok.services.history import history as past
from dramok.services.history import marks as marking
from dramok.services.workspace import small_entities
from dramok.services.workspace.snapshot import GameSnapshot

router = APIRouter(route_class=ValidatingRoute, prefix="/games/{game_id}", tags=["history"])
MOST_DIFFERENCES = 2_000


class FieldChangeOut(Out):
    """One field as text, before and after; empty if there was no value."""

    field: str
    name: str
    before: str
    after: str


class RevisionOut(Out):
    """`seq` is the moment after this edit, as `restore` and `face` take it."""

    seq: int
    revision: int
    at: str
    label: str
    page: str
    kind: Literal["made", "changed", "removed", "restored"]
    changes: list[FieldChangeOut]


class CountOut(BaseModel):
    what: str
    count: int


class EntryOut(BaseModel):
    seq: int
    at: str
    label: str
    page: str
    inverse_of: int | None
    counts: list[CountOut]
    said: str = ""


class CardDifferenceOut(Out):
    card: str
    code: str
    title: str
    kind: Literal["added", "changed", "gone"]
    changes: list[FieldChangeOut]


class DifferenceOut(BaseModel):
    """The first `MOST_DIFFERENCES` cards; the counts cover all. `others`: what else changed, in words."""

    after: int
    until: int
    added: int
    changed: int
    gone: int
    cards: list[CardDifferenceOut]
    others: list[str]


class RestoreIn(BaseModel):
    """`seq` is the moment to restore; `fields` restores only these fields (or code, type, set), the whole card
    if left out.
    """

    seq: int
    fields: list[str] | None = Field(default=None, max_length=200)

    model_config = {"json_schema_extra": {"examples": [{"seq": 41, "fields": ["height"]}]}}


class MomentOut(BaseModel):
    """A mark: `seq` is the edit after which it was set."""

    id: str
    name: str
    seq: int
    at: str


class MarkIn(BaseModel):
    name: str = Field(max_length=200)
    seq: Place | None = None

    model_config = {"json_schema_extra": {"examples": [{"name": "before playtest 3"}]}}


class NoteOut(BaseModel):
    id: str
    card: str
    text: str
    answer: str = ""
    state: Literal["open", "answered"]
    at: str
    playtest: str = ""
    moment: int = -1
    turn: int = 0


class NoteIn(BaseModel):
    """With a `playtest` the note is pinned to the moment after `moment` decisions, in turn `turn`."""

    text: str = Field(max_length=20_000)
    playtest: str = Field(default="", max_length=80)
    moment: int = Field(default=-1, ge=-1, le=1_000_000)
    turn: int = Field(default=0, ge=0, le=1_000_000)

    model_config = {"json_schema_extra": {"examples": [{"text": "Too strong on turn 2?"}]}}


class NoteEditIn(BaseModel):
    """Only the given keys change."""

    text: str | None = Field(default=None, max_length=20_000)
    answer: str | None = Field(default=None, max_length=20_000)
    answered: bool | None = None

    model_config = {"json_schema_extra": {"examples": [{"answer": "Cost raised to 4.", "answered": True}]}}


@router.get("/journal")
def journal(
    workspace: TheWorkspace,
    game: TheGame,
    before: Place | None = None,
    most: Annotated[int, Query(ge=1, le=500)] = 100,
    text: Annotated[str, Query(max_length=200)] = "",
    thing: Annotated[str, Query(max_length=80)] = "",
    kind: Annotated[str, Query(max_length=20)] = "",
) -> list[EntryOut]:
    """The journal, newest first: below edit `before`; with `text` in the label; for one id; for one kind of entity."""
    return [
        EntryOut(
            seq=each.op.seq,
            at=each.op.at,
            label=each.op.label,
            page=each.op.page,
            inverse_of=each.op.inverse_of,
            counts=[CountOut(what=what, count=count) for what, count in each.counts],
            said=each.said,
        )
        for each in past.journal(workspace, game, before, most, text, thing, kind)
    ]


@router.get("/journal/{seq}")
def journal_entry(workspace: TheWorkspace, game: TheGame, seq: Place) -> DifferenceOut:
    """The changes of one edit."""
    return _difference(past.changes_in(workspace, game, seq))


@router.get("/changes")
def changes(workspace: TheWorkspace, game: TheGame, after: str, until: str | None = None) -> DifferenceOut:
    """The difference between two moments, each a mark's id or the number of an edit; `until` defaults to now."""
    return _difference(
        past.difference(workspace, game, moment_of(game, after), None if until is None else moment_of(game, until))
    )


def moment_of(game: GameSnapshot, said: str) -> int:
    if re.fullmatch(r"[0-9]{1,15}", said):
        return int(said)
    return int(small_entities.thing_of(game, "mark", said).doc["seq"])


def _difference(found: past.Difference) -> DifferenceOut:
    return DifferenceOut(
        after=found.after, until=found.until, added=found.count("added"), changed=found.count("changed"), gone=found.count("gone"),
        cards=[CardDifferenceOut.model_validate(each) for each in found.cards[:MOST_DIFFERENCES]], others=list(found.others),
    )  # fmt: skip


@router.get("/cards/{card_id}/revisions")
def card_revisions(workspace: TheWorkspace, game: TheGame, card_id: str) -> list[RevisionOut]:
    """The revisions of a card, newest first, even of a removed card."""
    return [RevisionOut.model_validate(each) for each in past.revisions(workspace, game, card_id)]


@router.get("/cards/{card_id}/revisions/{seq}/face")
def face_then(workspace: TheWorkspace, game: TheGame, card_id: str, seq: Place) -> FaceOut:
    """The face of a card as it was after an edit, by the rules of that moment."""
    sheet = past.detail_at(workspace, game, card_id, seq)
    return FaceOut(card=card_id, digest=sheet.digest, svg=sheet.svg)


@router.post("/cards/{card_id}/restore")
def restore(workspace: TheWorkspace, game: TheGame, card_id: str, asked: RestoreIn, page: Page, key: Key) -> EditOut:
    """Restore a card, or some of its fields, to its state after an edit. The restore is itself an edit."""
    return edit_out(past.restore(workspace, game.id, card_id, asked.seq, page, asked.fields, key))


@router.get("/marks")
def marks(game: TheGame) -> list[MomentOut]:
    """Every mark, the latest moment first."""
    found = sorted(game.of_kind("mark"), key=lambda each: -int(each.doc["seq"]))
    return [MomentOut(id=each.id, name=each.name, seq=each.doc["seq"], at=each.doc["at"]) for each in found]


@router.post("/marks", status_code=201)
def new_mark(workspace: TheWorkspace, game: TheGame, asked: MarkIn, page: Page, key: Key) -> EditOut:
    """Set a mark: now, or after the edit `seq`. `made` has its id."""
    commit, ident = marking.add_mark(workspace, game.id, asked.name, page, asked.seq, key)
    return edit_out(commit, [ident])


@router.put("/marks/{mark_id}")
def rename_mark(workspace: TheWorkspace, game: TheGame, mark_id: str, asked: MarkIn, page: Page, key: Key) -> EditOut:
    return edit_out(marking.rename_mark(workspace, game.id, mark_id, asked.name, page, key))


@router.delete("/marks/{mark_id}")
def take_mark_out(workspace: TheWorkspace, game: TheGame, mark_id: str, page: Page, key: Key) -> EditOut:
    return edit_out(marking.remove_mark(workspace, game.id, mark_id, page, key))


@router.get("/notes")
def notes(game: TheGame) -> list[NoteOut]:
    """Every note on existing cards, oldest first."""
    found = sorted(game.of_kind("note"), key=lambda each: str(each.doc["at"]))
    return [NoteOut(id=each.id, **each.doc) for each in found if each.doc["card"] in game.cards]


@router.post("/cards/{card_id}/notes", status_code=201)
def new_note(workspace: TheWorkspace, game: TheGame, card_id: str, asked: NoteIn, page: Page, key: Key) -> EditOut:
    """Add a note to a card. `made` has the note's id."""
    pinned = noting.Pinned(asked.playtest, asked.moment, asked.turn) if asked.playtest else None
    commit, ident = noting.add_note(workspace, game.id, card_id, asked.text, page, key, pinned)
    return edit_out(commit, [ident])


@router.put("/notes/{note_id}")
def put_note(workspace: TheWorkspace, game: TheGame, note_id: str, asked: NoteEditIn, page: Page, key: Key) -> EditOut:
    """Change a note's text or answer, or resolve it."""
    return edit_out(
        noting.edit_note(workspace, game.id, note_id, page, asked.text, asked.answer, asked.answered, key)
    )


@router.delete("/notes/{note_id}")
def take_note_out(workspace: TheWorkspace, game: TheGame, note_id: str, page: Page, key: Key) -> EditOut:
    return edit_out(noting.remove_note(workspace, game.id, note_id, page, key))
