"""The open store with the current snapshot of each game, and the one way in which an edit is written."""

from __future__ import annotations

import threading
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from pathlib import Path

from dramok.core.problem import Problem
from dramok.store import Change, Op, Store, TextIndex, open_store
from dramok.studio.snapshot import GameSnapshot

FOUNDING = "demo"
"""The page name of the op that brings a demo game in: nobody undoes it."""

PICTURES, PRINTED = "pictures", "print runs"
QUIET = frozenset({FOUNDING, PICTURES, PRINTED})
"""Page names of ops that nobody undoes. Pictures brought and runs printed are only kept: they change no card."""


class Missing(LookupError):
    """What was asked for is not there."""


class Refused(ValueError):
    """The request can't be done; `problem` says why and what to do."""

    def __init__(self, problem: Problem) -> None:
        super().__init__(problem.what)
        self.problem = problem


class Conflict(ValueError):
    """Somebody else changed the same field meanwhile: both values, as text."""

    def __init__(self, what: str, theirs: str, yours: str, seq: int) -> None:
        super().__init__(what)
        self.theirs, self.yours, self.seq = theirs, yours, seq


@dataclass(frozen=True)
class Commit:
    """An op that was written, with the game before and after it. `repeated`: it had been written before."""

    op: Op
    before: GameSnapshot
    after: GameSnapshot
    changes: tuple[Change, ...]
    repeated: bool = False


Plan = Callable[[GameSnapshot], Sequence[Change]]


class Desk:
    """Snapshots are replaced after each commit, and when another process has written to the file."""

    def __init__(self, store: Store) -> None:
        self.store = store
        self._lock = threading.RLock()
        self._snapshots: dict[str, GameSnapshot] = {}
        self._version = -1
        self._texts: dict[str, TextIndex] = {}
        self._art = _ArtSizes(store)

    def close(self) -> None:
        self.store.close()

    def games(self) -> list[GameSnapshot]:
        return [self.game(record.id) for record in self.store.games()]

    def game(self, ident: str) -> GameSnapshot:
        """The game as it stands. Raises Missing."""
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
                    self._load(ident)

    def _load(self, ident: str) -> GameSnapshot:
        record = next((each for each in self.store.games() if each.id == ident), None)
        if record is None:
            raise Missing(f"there is no game called {ident}")
        self._snapshots[ident] = GameSnapshot.of(record, self.store.contents(ident), self._art)
        return self._snapshots[ident]

    def commit(
        self,
        game: str,
        label: str,
        page: str,
        plan: Plan,
        inverse_of: int | None = None,
        key: str | None = None,
    ) -> Commit:
        """Asks `plan` for the changes to the newest state and writes them as one op, in one transaction.

        A `key` that was used before writes nothing again. Whatever `plan` raises leaves everything as it was.
        """
        with self._lock:
            done = self.store.op_with_key(key) if key else None
            if done is not None:
                now = self.game(game)
                return Commit(done, now, now, (), repeated=True)
            with self.store.writing() as connection:
                before = self.game(game)
                changes = tuple(plan(before))
                if not changes:
                    raise Refused(
                        Problem(where=label, what="nothing would change", mend="change something first")
                    )
                op = self.store.commit(connection, game, label, page, changes, inverse_of, key)
            after = before.with_changes(changes, op.seq)
            self._snapshots[game] = after
            return Commit(op, before, after, changes)


class _ArtSizes(Mapping[str, tuple[int, int]]):
    """The measures of the pictures that are there, looked up once each: a picture never changes."""

    def __init__(self, store: Store) -> None:
        self._store = store
        self._known: dict[str, tuple[int, int]] = {}

    def __getitem__(self, sha: str) -> tuple[int, int]:
        found = self._known.get(sha)
        if found is None:
            facts = self._store.art_facts([sha])
            if not facts:
                raise KeyError(sha)
            found = self._known[sha] = (facts[0].width, facts[0].height)
        return found

    def __iter__(self) -> Iterator[str]:
        return iter(self._known)

    def __len__(self) -> int:
        return len(self._known)


def open_desk(path: Path, demo: bool = True) -> Desk:
    """Opens a database. One without any game is given the demo world, save without `demo`. Raises store.NotADatabase."""
    desk = Desk(open_store(path))
    if demo and not desk.store.games():
        from dramok.studio.demo_world import fill

        fill(desk)
    return desk
