"""The open store with the current snapshot of each game, and the one way to commit an edit."""

from __future__ import annotations

import threading
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from secrets import token_hex

from pydantic import ValidationError

from dramok.core.problem import Problem
from dramok.services.workspace.invariants import (
    dangling_faults,
    fault_of_op,
    faults_after,
    faults_of,
    first_fault_text,
)
from dramok.services.workspace.snapshot import GameSnapshot
from dramok.services.workspace.unread_effects import with_unread_effects_parsed
from dramok.store import Change, Contents, GameRecord, Key, Op, OpKind, Store, TextIndex

MEND = "take its backup, and go back to its last undamaged state: open it from the list of games, or use dramok repair"

NO_PAGE = "dramok"
"""The page of edits that do not come from a page."""


class Missing(LookupError):
    """The requested entity does not exist."""


class Refused(ValueError):
    """The request can't be carried out; `problem` has the reason and the fix."""

    def __init__(self, problem: Problem) -> None:
        super().__init__(problem.what)
        self.problem = problem


class Conflict(ValueError):
    """Someone else changed the same field meanwhile: both values, as text.

    `op` is the op that cannot be undone or redone completely; `rest` is the number of its changes that still
    can.
    """

    def __init__(
        self, what: str, theirs: str, yours: str, seq: int, op: int | None = None, rest: int = 0
    ) -> None:
        super().__init__(what)
        self.theirs, self.yours, self.seq, self.op, self.rest = theirs, yours, seq, op, rest


class Damaged(ValueError):
    """A game that cannot be read. `problem` has the reason; other games are not affected."""

    def __init__(self, ident: str, name: str, problem: Problem) -> None:
        super().__init__(problem.what)
        self.ident, self.name, self.problem = ident, name, problem


@dataclass(frozen=True)
class Commit:
    """An op that was written, with the game before and after it. `repeated`: it had been written earlier."""

    op: Op
    before: GameSnapshot
    after: GameSnapshot
    changes: tuple[Change, ...]
    repeated: bool = False

    def made(self, entity: str) -> tuple[str, ...]:
        """The ids of the new entities of a kind."""
        return tuple(
            change.id
            for change in self.changes
            if change.entity == entity and change.field == "exists" and change.before is None
        )


Plan = Callable[[GameSnapshot], Sequence[Change]]


class Workspace:
    """The open database. Snapshots are replaced after each commit, and when another process has written to the
    file.

    `opened` differs each time a database is opened, because ids of games and numbers of ops repeat between
    files.
    """

    def __init__(self, store: Store) -> None:
        self.store = store
        self.opened = token_hex(6)
        self._lock = threading.RLock()
        self._snapshots: dict[str, GameSnapshot] = {}
        self._version = -1
        self._texts: dict[str, TextIndex] = {}
        self._art = _ArtSizes(store)

    def close(self) -> None:
        self.store.close()

    def games(self) -> list[GameSnapshot]:
        """Every game that can be read."""
        return [each for each in self.shelf() if isinstance(each, GameSnapshot)]

    def shelf(self) -> list[GameSnapshot | Damaged]:
        """Every game; one that cannot be read is listed with its problem."""
        found: list[GameSnapshot | Damaged] = []
        for record in self.store.games():
            try:
                found.append(self.game(record.id))
            except Damaged as error:
                found.append(error)
        return found

    def forget(self, ident: str) -> None:
        """Drop the snapshot of a game; the next access reads it again."""
        with self._lock:
            self._snapshots.pop(ident, None)

    def game(self, ident: str) -> GameSnapshot:
        """The current snapshot of a game. Raises Missing, and Damaged for one that cannot be read."""
        if self.store.version() != self._version:
            self._look_again()
        found = self._snapshots.get(ident)
        if found is None:
            with self._lock:
                found = self._load(ident)
        return found

    def texts(self, game: str) -> TextIndex:
        """The text index of a game."""
        with self._lock:
            return self._texts.setdefault(game, TextIndex())

    def _look_again(self) -> None:
        with self._lock:
            self._version = self.store.version()
            for ident, seq in self.store.seqs().items():
                if ident in self._snapshots and self._snapshots[ident].seq != seq:
                    del self._snapshots[ident]

    def _load(self, ident: str) -> GameSnapshot:
        self._snapshots[ident] = self._read(ident)
        return self._snapshots[ident]

    def _read(self, ident: str) -> GameSnapshot:
        """Read a game from its tables. Raises Missing, Damaged."""
        try:
            held = self.store.game_with_contents(ident)
            if held is None:
                raise Missing(f"there is no game called {ident}")
            found = GameSnapshot.of(*held, self._art)
        except Missing:
            raise
        except (ValueError, LookupError, TypeError, AttributeError, RecursionError) as error:
            said = str(error).partition("\n")[2] or str(error)
            record = self.store.games(ident)[0]
            problem = Problem(
                where=record.name, what=f"its documents cannot be read: {said.strip()[:200]}", mend=MEND
            )
            raise Damaged(record.id, record.name, problem) from error
        faults = list(dangling_faults(found))
        if faults:
            problem = Problem(where=found.name, what=first_fault_text(faults), mend=MEND)
            raise Damaged(ident, found.name, problem)
        return found

    def commit(
        self,
        game: str,
        label: str,
        page: str,
        plan: Plan,
        inverse_of: int | None = None,
        key: Key | None = None,
        kind: OpKind = "edit",
    ) -> Commit:
        """Call `plan` with the newest state and write the changes it returns as one op, in one transaction.

        The next snapshot is made and validated inside the transaction: what could not be read, backed up and
        restored is never written (Refused). A `key` that was used before writes nothing again; with another
        edit it raises KeyReused. If `plan` raises, nothing changes.
        """
        with self._lock:
            done = self.store.op_with_key(key, game) if key else None
            if done is not None:
                now = self.game(game)
                return Commit(done, now, now, tuple(self.store.changes(done.seq)), repeated=True)
            with self.store.writing() as connection:
                before = self.game(game)
                changes = tuple(plan(before))
                if not changes and kind in ("edit", "kept", "founding"):
                    raise Refused(
                        Problem(where=label, what="nothing would change", mend="change something first")
                    )
                problem = fault_of_op(label, page, changes)
                if problem is not None:
                    raise Refused(problem)
                seq = self.store.next_seq(connection)
                after = self._next(before, changes, seq)
                if kind == "edit":
                    changes, after = self._drafts_read(before, after, changes, seq)
                op = self.store.commit(connection, game, label, page, changes, inverse_of, key, kind)
            self._snapshots[game] = after
            return Commit(op, before, after, changes)

    def found(
        self,
        record: GameRecord,
        label: str,
        changes: Sequence[Change],
        page: str = NO_PAGE,
        key: Key | None = None,
    ) -> GameSnapshot:
        """Create a game with its initial content in one transaction. Raises store.IdsTaken, and Refused for an
        invalid game.

        A `key` that was used before returns the game that was created with it.
        """
        with self._lock:
            done = self.store.game_with_key(key) if key else None
            if done is not None:
                return self.game(done)
            problem = fault_of_op(label, page, changes)
            if problem is not None:
                raise Refused(problem)
            with self.store.writing() as connection:
                self.store.add_game(connection, record)
                try:
                    empty = GameSnapshot.of(record, Contents([], [], [], [], 0), self._art)
                except ValidationError as error:
                    what = str(error.errors()[0]["msg"]).removeprefix("Value error, ")
                    raise Refused(
                        Problem(where="rules", what=what[:400], mend="change that first")
                    ) from error
                seq = self.store.next_seq(connection)
                after = self._next(empty, changes, seq)
                changes, after = self._drafts_read(empty, after, changes, seq)
                fault = next(faults_of(after), None)
                if fault is not None:
                    raise Refused(fault.problem)
                self.store.commit(connection, record.id, label, page, changes, None, key, "founding")
            self._snapshots[record.id] = after
            return after

    def _next(self, before: GameSnapshot, changes: Sequence[Change], seq: int) -> GameSnapshot:
        """The game after changes. Raises Refused if it could not be read, backed up or restored."""
        try:
            after = before.with_changes(changes, seq)
        except ValidationError as error:
            what = str(error.errors()[0]["msg"]).removeprefix("Value error, ")
            raise Refused(Problem(where="rules", what=what[:400], mend="change that first")) from error
        except (ValueError, LookupError, TypeError, AttributeError) as error:
            raise Refused(
                Problem(
                    where="change",
                    what="what it changes is not there any more",
                    mend="reload, and do it again",
                )
            ) from error
        fault = next(faults_after(before, after, changes), None)
        if fault is not None:
            raise Refused(fault.problem)
        return after

    def _drafts_read(
        self, before: GameSnapshot, after: GameSnapshot, changes: Sequence[Change], seq: int
    ) -> tuple[tuple[Change, ...], GameSnapshot]:
        """The changes together with the effects that they make readable, and the game after all of them."""
        read = with_unread_effects_parsed(before, after, changes)
        return (read, after) if read == tuple(changes) else (read, self._next(before, read, seq))


MOST_FILES = 40
"""The number of font files kept in memory."""


class _ArtSizes(Mapping[str, tuple[int, int]]):
    """The sizes of pictures, looked up once each: a stored picture never changes."""

    def __init__(self, store: Store) -> None:
        self._store = store
        self._known: dict[str, tuple[int, int]] = {}
        self._files: dict[str, bytes] = {}

    def __getitem__(self, sha: str) -> tuple[int, int]:
        found = self._known.get(sha)
        if found is None:
            facts = self._store.art_facts([sha])
            if not facts:
                raise KeyError(sha)
            found = self._known[sha] = (facts[0].width, facts[0].height)
        return found

    def data(self, sha: str) -> bytes | None:
        """The bytes of a file as faces use it; None if it does not exist."""
        if sha not in self._files:
            found = self._store.art(sha)
            if found is None:
                return None
            if len(self._files) >= MOST_FILES:
                self._files.clear()
            self._files[sha] = found.drawn
        return self._files[sha]

    def __iter__(self) -> Iterator[str]:
        return iter(self._known)

    def __len__(self) -> int:
        return len(self._known)
