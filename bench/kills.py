"""Kill -9 at random moments during imports, edits, removals, undo and restores: nothing acknowledged may be lost, and the file must be intact.

Each trial forks a process that works on the same file and says on a pipe what was written; it is killed in the midst of it.
"""

from __future__ import annotations

import os
import random
import signal
import sqlite3
import tempfile
import time
from pathlib import Path

from dramok.services import Refused, Workspace, open_workspace
from dramok.services.cards.card_edits import retire_cards
from dramok.services.cards.cells import CellEdit, write_cells
from dramok.services.cards.notes import add_note
from dramok.services.files.archive import archive, restore_game
from dramok.services.files.repair import damaged_games
from dramok.services.files.sheet_import import Order, write_import
from dramok.services.history.history import restore
from dramok.services.history.marks import add_mark
from dramok.services.history.undo import redo, undo
from dramok.services.rules.card_types import remove_type
from dramok.services.rules.choices import remove_set

GAME = "ribbon-season"
TRIALS = 200
LONGEST = 0.25
MOST_GAMES = 6
SHEET = (
    "Name,Type,Bed,Cost,Height,Root\n" + "".join(f"Card {n},Plant,Fern,2,1,3\n" for n in range(300))
).encode()


def run(trials: int = TRIALS) -> None:
    acknowledged, written = trial_run(trials, random.Random(14))
    print(
        f"kill -9 at {trials} random moments: {acknowledged} edits acknowledged, {written} in the file, 0 lost, the file sound"
    )


def trial_run(trials: int, chance: random.Random) -> tuple[int, int]:
    """(edits acknowledged, edits in the file). Raises AssertionError where one was lost, or the file is not sound."""
    with tempfile.TemporaryDirectory() as folder:
        db = Path(folder) / "own.db"
        open_workspace(db).close()
        acknowledged: set[int] = set()
        for number in range(trials):
            acknowledged |= _trial(db, number, chance.uniform(0, LONGEST))
        return len(acknowledged), check(db, acknowledged)


def _trial(db: Path, number: int, seconds: float) -> set[int]:
    """The numbers of the ops that a process acknowledged until it was killed."""
    read, write = os.pipe()
    child = os.fork()
    if child == 0:
        os.close(read)
        try:
            _work(db, random.Random(number), write)
        finally:
            os._exit(1)
    os.close(write)
    with os.fdopen(read, "rb") as pipe:
        assert pipe.readline() == b"ready\n"
        time.sleep(seconds)
        os.kill(child, signal.SIGKILL)
        os.waitpid(child, 0)
        lines = pipe.read().split(b"\n")[:-1]
    return {int(line) for line in lines}


def _work(db: Path, chance: random.Random, out: int) -> None:
    workspace = open_workspace(db)
    os.write(out, b"ready\n")
    while True:
        seq = _step(workspace, chance)
        if seq:
            os.write(out, b"%d\n" % seq)


def _step(workspace: Workspace, chance: random.Random) -> int:
    game = workspace.game(GAME)
    cards = list(game.cards)
    card = chance.choice(cards)
    try:
        match chance.randrange(13):
            case 0:
                return write_import(workspace, GAME, SHEET, f"sheet {game.seq}.csv", "kills")[0].op.seq
            case 1:
                order = Order(match="code", leave_out=frozenset({"gone", "added"}))
                data = f"Code,Cost\n{game.cards[card].code},{chance.randrange(9)}\n".encode()
                return write_import(workspace, GAME, data, "update.csv", "kills", order)[0].op.seq
            case 2 if len(cards) > 60:
                return retire_cards(
                    workspace, GAME, chance.sample(cards, min(20, len(cards) - 50)), "kills"
                ).op.seq
            case 3:
                return add_note(workspace, GAME, card, f"note {game.seq}", "kills")[0].op.seq
            case 4:
                return add_mark(workspace, GAME, f"mark {game.seq}", "kills")[0].op.seq
            case 5:
                return restore(workspace, GAME, card, max(1, game.seq - chance.randrange(40)), "kills").op.seq
            case 6:
                return undo(workspace, GAME, "kills").op.seq
            case 9:
                return redo(workspace, GAME, "kills").op.seq
            case 10:
                return remove_type(workspace, GAME, chance.choice(["tool", "weather"]), "plant", "kills").op.seq
            case 11:
                homes = [each.id for each in game.sets]
                return remove_set(workspace, GAME, chance.choice(homes), chance.choice(homes), "kills").op.seq
            case 12 if len(workspace.store.games()) < MOST_GAMES:
                return restore_game(workspace, archive(workspace, game), "Restored").seq
            case _:
                edits = [
                    CellEdit(each, "cost", str(chance.randrange(9))) for each in chance.sample(cards, 12)
                ]
                done = write_cells(workspace, GAME, edits, game.seq, "kills")
                return done.commit.op.seq if done.commit else 0
    except (Refused, LookupError, ValueError):
        return 0


def check(db: Path, acknowledged: set[int]) -> int:
    """How many ops the file holds. Raises AssertionError where one is missing, the file is damaged, or its tables are not what the journal says."""
    with sqlite3.connect(db) as connection:
        assert connection.execute("PRAGMA integrity_check").fetchone() == ("ok",)
        assert not connection.execute("PRAGMA foreign_key_check").fetchall()
        seqs = {row[0] for row in connection.execute("SELECT seq FROM op")}
        assert acknowledged <= seqs, f"lost: {sorted(acknowledged - seqs)[:5]}"
        whole = connection.execute(
            "SELECT count(*) FROM op WHERE kind = 'edit' AND NOT EXISTS (SELECT 1 FROM change WHERE change.op = op.seq)"
        ).fetchone()
        assert whole == (0,), "an op without its changes"
        wrong = connection.execute(
            "SELECT count(*) FROM card c WHERE c.game = ? AND c.retired <> ("
            " SELECT after IS NULL FROM change WHERE entity_id = c.id AND field = 'exists' ORDER BY id DESC LIMIT 1)",
            (GAME,),
        ).fetchone()
        assert wrong == (0,), "a card that is there, or gone, against the journal"
        stale = connection.execute(
            "SELECT count(*) FROM card c JOIN (SELECT entity_id, max(op) AS op FROM change WHERE entity = 'card' GROUP BY entity_id) m"
            " ON m.entity_id = c.id WHERE c.seq <> m.op"
        ).fetchone()
        assert stale == (0,), "a card whose latest edit is not the journal's"
    # Inverting the whole journal from the present state leaves an empty game: each step fits the one before.
    from dramok.services.workspace.past import game_at

    workspace = open_workspace(db)
    assert not damaged_games(workspace), f"damaged: {damaged_games(workspace)}"
    game = workspace.game(GAME)
    first = workspace.store.ops(GAME, newest=10_000_000)[0].seq
    assert game_at(workspace, game, first - 1).cards == {}, "the journal does not lead back to the beginning"
    workspace.close()
    return len(seqs)
