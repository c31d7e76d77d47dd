"""A file taken in as a new set: looked at first, then written as one undoable step."""

from __future__ import annotations

import gc
import json
import re
from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import PurePath

from dramok.core.cards import Card
from dramok.core.cards.intake import Game, Intake, NothingMatched, Wishes, take_in
from dramok.core.problem import Problem, fold, plural
from dramok.formats.tables import Table, Unreadable, read_table
from dramok.store import Change, SetRecord
from dramok.store.documents import card_text
from dramok.studio.desk import Commit, Desk, Refused
from dramok.studio.ids import new_id, new_ids
from dramok.studio.snapshot import GameSnapshot

MOST_SET_NAME = 60


@dataclass(frozen=True)
class ImportPlan:
    """What would be taken, into which new set, from a file read how."""

    set_name: str
    set_code: str
    encoding: str
    delimiter: str
    intake: Intake


def plan_import(
    game: GameSnapshot, data: bytes, filename: str, set_name: str | None = None, wishes: Wishes = Wishes()
) -> ImportPlan:
    """Reads a table and plans what becomes of each row; writes nothing. Raises Refused with the mend."""
    try:
        table = read_table(data)
        return _plan(game, table, filename, set_name, wishes)
    except (Unreadable, NothingMatched) as error:
        raise Refused(error.problem) from error


def _plan(
    game: GameSnapshot, table: Table, filename: str, set_name: str | None, wishes: Wishes
) -> ImportPlan:
    name = " ".join((set_name or _name_from(filename)).split())[:MOST_SET_NAME] or "Imported"
    roles = game.rulebook.roles
    code = _set_code(game, name)
    names = {fold(text): card.code for card in game.cards.values() if (text := card.text(roles.name))}
    codes = {fold(card.code): game.title(card) for card in game.cards.values()}
    knows = Game(game.rulebook.cards, game.vocabulary, roles.name, roles.copies, roles.printed, codes, names)
    return ImportPlan(name, code, table.encoding, table.delimiter, take_in(table.rows, knows, code, wishes))


def take_import(
    desk: Desk,
    game_id: str,
    data: bytes,
    filename: str,
    page: str,
    set_name: str | None = None,
    wishes: Wishes = Wishes(),
    key: str | None = None,
) -> tuple[Commit, ImportPlan]:
    """Writes the planned set with its cards as one op. Raises Refused when no row can be taken."""
    found: list[ImportPlan] = []

    def plan(now: GameSnapshot) -> Sequence[Change]:
        planned = plan_import(now, data, filename, set_name, wishes)
        found.append(planned)
        if not planned.intake.taken:
            raise Refused(
                Problem(
                    where="file",
                    what="no row of it can be taken",
                    mend="mend the rows that are refused, or match the columns",
                )
            )
        set_id = new_id("s")
        changes = [
            Change(
                "set",
                set_id,
                "exists",
                None,
                json.dumps(
                    SetRecord(
                        set_id, planned.set_name, planned.set_code, f"{planned.set_code}-{{n:03}}"
                    ).document
                ),
            )
        ]
        for ident, row in zip(new_ids("c", len(planned.intake.taken)), planned.intake.taken, strict=True):
            card = Card(ident, row.code, set_id, row.type, row.values, revision=0)
            changes.append(Change("card", ident, "exists", None, card_text(card), card))
        return changes

    name = set_name or _name_from(filename)
    with _no_collection():
        commit = desk.commit(
            game_id, f"import of {PurePath(filename).name[:60]} as {name[:60]}", page, plan, key=key
        )
    return commit, found[0] if found else plan_import(commit.before, data, filename, set_name, wishes)


@contextmanager
def _no_collection() -> Iterator[None]:
    """A large import makes ten thousands of lasting objects and no rings of them: looking for rings costs a third of it."""
    was_on = gc.isenabled()
    gc.disable()
    try:
        yield
    finally:
        if was_on:
            gc.enable()


def said(plan: ImportPlan) -> str:
    """The count of rows in one line, which always sums."""
    intake = plan.intake
    return f"{plural(intake.rows, 'row')} = {len(intake.taken)} taken + {len(intake.skipped)} skipped + {len(intake.refused)} refused"


def _name_from(filename: str) -> str:
    stem = re.sub(r"[_\-.]+", " ", PurePath(filename).stem).strip()
    return (stem[:1].upper() + stem[1:])[:MOST_SET_NAME] or "Imported"


def _set_code(game: GameSnapshot, name: str) -> str:
    """Initials of the set's name that no other set has."""
    words = re.findall(r"\w+", name)
    letters = "".join(word[0] for word in words)[:3].upper() if len(words) > 1 else name[:2].upper()
    letters = re.sub(r"\W", "", letters) or "S"
    used = {each.code for each in game.sets} | {card.code.rpartition("-")[0] for card in game.cards.values()}
    code, number = letters, 2
    while code in used:
        code, number = f"{letters}{number}", number + 1
    return code
