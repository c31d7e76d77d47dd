"""Notes on cards: add, resolve, reopen; a note made at the table is pinned to a moment of the playtest."""

from __future__ import annotations

from dataclasses import dataclass

from dramok.core.problem import Problem
from dramok.services.cards.card_edits import card_in
from dramok.services.workspace import small_entities
from dramok.services.workspace.clock import now_text
from dramok.services.workspace.workspace import Commit, Missing, Refused, Workspace
from dramok.store import Key

MOST_TEXT = 4_000


@dataclass(frozen=True)
class Pinned:
    """A moment of a playtest: the number of decisions taken and the turn."""

    playtest: str
    moment: int
    turn: int


def add_note(
    workspace: Workspace, game_id: str, card_id: str, text: str, page: str, key: Key | None = None, pinned: Pinned | None = None
) -> tuple[Commit, str]:  # fmt: skip
    """Add a note to a card; it is open until it is resolved. Raises Missing for the card or the playtest, Refused."""
    game = workspace.game(game_id)
    card = card_in(game, card_id)
    doc: dict[str, object] = {"card": card.id, "text": _text(text), "answer": "", "state": "open", "at": now_text()}
    label = f"note on {game.title(card)}"
    if pinned is not None:
        record = workspace.store.playtest(pinned.playtest)
        if record is None or record.game != game_id:
            raise Missing("there is no such playtest")
        if not 0 <= pinned.moment <= len(record.decisions):
            raise Refused(Problem(where="note", what=f"this game has {len(record.decisions)} decisions", mend="pin the note to one of them"))
        doc |= {"playtest": record.id, "moment": pinned.moment, "turn": max(0, pinned.turn)}
        label += f", at the table in {game.rulebook.table.turn} {max(0, pinned.turn)}"
    return small_entities.make(workspace, game_id, "note", doc, label, page, key)


def edit_note(
    workspace: Workspace,
    game_id: str,
    ident: str,
    page: str,
    text: str | None = None,
    answer: str | None = None,
    answered: bool | None = None,
    key: Key | None = None,
) -> Commit:
    """Change the given keys of a note. Raises Missing, Refused."""
    game = workspace.game(game_id)
    note = small_entities.thing_of(game, "note", ident)
    doc: dict[str, str] = {}
    if text is not None:
        doc["text"] = _text(text)
    if answer is not None:
        doc["answer"] = _text(answer) if answer.strip() else ""
    if answered is not None:
        doc["state"] = "answered" if answered else "open"
    card = game.cards.get(note.doc["card"])
    told = "note" if answered is None else "note answered" if answered else "note open again"
    return small_entities.edit(
        workspace, game_id, "note", ident, doc, f"{game.title(card) if card else 'card'}: {told}", page, key
    )


def remove_note(workspace: Workspace, game_id: str, ident: str, page: str, key: Key | None = None) -> Commit:
    return small_entities.take_out(workspace, game_id, "note", [ident], "note removed", page, key)


def _text(text: str) -> str:
    text = text.strip()
    if not text:
        raise Refused(Problem(where="note", what="a note needs words", mend="write some"))
    if len(text) > MOST_TEXT:
        what = f"{len(text):,} characters are too many for a note"
        raise Refused(Problem(where="note", what=what, mend=f"keep to {MOST_TEXT:,}"))
    return text
