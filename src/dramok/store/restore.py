"""Write a whole game at once from an archive."""

from __future__ import annotations

import json
from bisect import bisect_right
from collections.abc import Callable
from typing import Any

from sqlalchemy import Connection, CursorResult
from sqlalchemy.exc import IntegrityError

from dramok.core.journal import ENTITIES
from dramok.store.json_documents import dump
from dramok.store.records import WholeGame

Write = Callable[..., CursorResult[Any]]


class IdsTaken(ValueError):
    """Another process has created entities with these ids."""


def write_whole(connection: Connection, whole: WholeGame) -> None:
    """Write a game with its history inside a `writing` transaction. Raises IdsTaken.

    Ops get new numbers; the numbers in cards, marks and measurements are adjusted.
    """
    write, game = connection.exec_driver_sql, whole.game
    try:
        write(
            "INSERT INTO game (id, name, rulebook) VALUES (?, ?, ?)",
            (game.id, game.name, game.rules),
        )
    except IntegrityError as error:
        raise IdsTaken(game.id) from error
    moved = _write_history(write, whole)
    last = whole.closing
    cursor = write(
        "INSERT INTO op (game, label, page, at, kind, key, asked) VALUES (?, ?, ?, ?, ?, ?, ?)",
        (game.id, last.label, last.page, last.at, last.kind, *(whole.key or (None, ""))),
    )
    _write_state(write, whole, OpNumbers(moved), int(cursor.lastrowid or 0))


class OpNumbers:
    """The new numbers of ops by their old ones."""

    def __init__(self, moved: dict[int, int]) -> None:
        self._moved, self._old = moved, sorted(moved)

    def at(self, seq: int) -> int:
        """The new number of an op; for one that was not kept, that of the latest op before it."""
        return self._moved[self._old[bisect_right(self._old, seq) - 1]]


def _write_history(write: Write, whole: WholeGame) -> dict[int, int]:
    """Write ops with their changes; return the new number of each old one."""
    moved: dict[int, int] = {0: 0}
    for op, changes in whole.ops:
        cursor = write(
            "INSERT INTO op (game, label, page, inverse_of, at, kind) VALUES (?, ?, ?, ?, ?, ?)",
            (whole.game.id, op.label, op.page, moved.get(op.inverse_of or 0) or None, op.at, op.kind),
        )
        moved[op.seq] = int(cursor.lastrowid or 0)
        if changes:
            write(
                "INSERT INTO change (op, entity, entity_id, field, before, after) VALUES (?, ?, ?, ?, ?, ?)",
                [(moved[op.seq], *change[:5]) for change in changes],
            )
    return moved


def _write_state(write: Write, whole: WholeGame, numbers: OpNumbers, closing: int) -> None:
    """Write the current rows of all tables but the journal's. `closing`: the number of the op that restores the game."""
    game, last, at = whole.game, whole.closing, numbers.at

    def many(text: str, rows: list[tuple[Any, ...]]) -> None:
        if rows:
            write(text, rows)

    many(
        "INSERT INTO card_set (id, game, name, code, pattern, back, retired) VALUES (?, ?, ?, ?, ?, ?, 0)",
        [(each.id, game.id, each.name, each.code, each.pattern, each.back) for each in whole.sets],
    )
    many(
        "INSERT INTO card (game, id, code, set_id, type, doc, revision, seq, retired) VALUES (?, ?, ?, ?, ?, ?, ?, ?, 0)",
        [(game.id, *card[:6], at(card[6]) or closing) for card in whole.cards],
    )
    many(
        "INSERT INTO deck (id, game, name, doc, seq, retired) VALUES (?, ?, ?, ?, ?, 0)",
        [(ident, game.id, doc["name"], dump(doc), closing) for ident, doc in whole.decks],
    )
    many(
        "INSERT INTO thing (id, game, kind, doc, seq, retired) VALUES (?, ?, ?, ?, ?, 0)",
        [
            (
                each.id,
                game.id,
                each.kind,
                json.dumps(
                    {**each.doc, "seq": at(each.doc["seq"])} if ENTITIES[each.kind].moment else each.doc
                ),
                closing,
            )
            for each in whole.things
        ],
    )
    many(
        "INSERT INTO playtest (id, game, deck, deck_name, seed, program, decisions, at) VALUES (?, ?, ?, ?, ?, ?, ?, ?)",
        [
            (
                each.id, game.id, each.deck, each.deck_name, each.seed, each.program, json.dumps(each.decisions), each.at,
            )
            for each in whole.playtests
        ],
    )  # fmt: skip
    many(
        "INSERT OR IGNORE INTO art (sha, media, width, height, drawn, data) VALUES (?, ?, ?, ?, ?, ?)",
        [(each.sha, each.media, each.width, each.height, each.drawn, each.data) for each in whole.art],
    )
    many(
        "INSERT INTO fetched (source, at, taken, taken_seq) VALUES (?, ?, ?, ?)",
        [(source, last.at, data, closing) for source, data in whole.fetched],
    )
