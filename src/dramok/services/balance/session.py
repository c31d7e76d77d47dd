"""Balance state of a server: measurements, and the latest request of each kind, which replaces the previous one."""

from __future__ import annotations

import threading
from collections.abc import Callable, Iterator, Mapping
from contextlib import contextmanager
from typing import Any

from dramok.core.balance.measured.deck_duels import DuelResults
from dramok.services.balance import duels as duelling
from dramok.services.balance import sweeps
from dramok.services.balance.batch_orders import Playing, refused
from dramok.services.balance.measurement import Measurements
from dramok.services.balance.sweeps import EditMeasured, SweepAsked, Swept, WorthAsked
from dramok.services.cards.card_detail import preview
from dramok.services.cards.card_edits import card_in
from dramok.services.play.game_processes import GameProcesses
from dramok.services.play.play_preview import Ends, how_it_ends
from dramok.services.workspace.past import game_at
from dramok.services.workspace.snapshot import GameSnapshot
from dramok.services.workspace.workspace import Refused, Workspace
from dramok.workers.batch_process import make_ready


class BalanceSession:
    """Thread-safe access to balance requests. `cluster`: the address of a scheduler whose workers play, or None."""

    def __init__(self, cluster: str = "") -> None:
        self.cluster = cluster
        self.measurements = Measurements()
        self._lock = threading.Lock()
        self._running: dict[tuple[str, str], GameProcesses] = {}
        self._done: dict[tuple[str, str], tuple[int, int]] = {}

    def playing(self, games: int, seed: int = 1, player: str = "plain") -> Playing:
        """The number of games, and where this server plays them."""
        return Playing(games, seed, player, cluster=self.cluster)

    def make_ready(self) -> None:
        """Start the worker pool for requests that are likely to follow."""
        make_ready()

    @contextmanager
    def _latest(self, game: GameSnapshot, kind: str) -> Iterator[GameProcesses]:
        """Context of the running request; the next request of the same kind and game ends it.

        Raises Refused for one that was ended.
        """
        mine = GameProcesses()
        with self._lock:
            before, self._running[game.id, kind] = self._running.get((game.id, kind)), mine
        if before is not None:
            before.end()
        try:
            yield mine
        except Refused as error:
            with self._lock:
                superseded = self._running.get((game.id, kind)) is not mine
            if superseded:
                raise refused(kind, "it was stopped, or replaced by a newer request", "ask again") from error
            raise
        finally:
            with self._lock:
                if self._running.get((game.id, kind)) is mine:
                    del self._running[game.id, kind]
                    self._done.pop((game.id, kind), None)

    def sweep(self, game: GameSnapshot, asked: SweepAsked) -> Swept:
        with self._latest(game, "sweep") as running:
            return sweeps.sweep(game, asked, self._say(game, "sweep"), running)

    def sweep_worth(self, game: GameSnapshot, asked: WorthAsked) -> Swept:
        with self._latest(game, "sweep") as running:
            return sweeps.sweep_worth(game, asked, self._say(game, "sweep"), running)

    def what_if(self, game: GameSnapshot, card_id: str, typed: Mapping[str, str], playing: Playing) -> EditMeasured:
        """Compare the card with the text being typed against the saved card. Raises Refused for unreadable text."""
        sheet = preview(game, card_in(game, card_id), typed)
        fields = [game.rulebook.cards.field(ident) for ident in typed]
        named = {each.name for each in fields if each is not None} | {"effect"}
        mistakes = [each for each in sheet.problems if each.where in named]
        if mistakes:
            raise Refused(mistakes[0])
        with self._latest(game, "edit") as running:
            return sweeps.what_if(game, sheet.card, playing, running)

    def edit(self, workspace: Workspace, game: GameSnapshot, card_id: str, after: int, playing: Playing) -> EditMeasured:
        """The change of a card's strength by the edits after an op."""
        if after > game.seq:
            raise refused("after", f"there is no edit {after} yet", f"name one up to {game.seq}")
        then = game_at(workspace, game, after)
        with self._latest(game, "edit") as running:
            return sweeps.measure_edit(then, game, card_in(game, card_id).id, playing, running)

    def duels(self, game: GameSnapshot, asked: duelling.DuelsAsked) -> DuelResults:
        with self._latest(game, "duels") as running:
            return duelling.duels(game, asked, self._say(game, "duels"), running)

    def ends(self, game: GameSnapshot, value: Any, seed: int) -> Ends:
        """How quick games with edited rules of play end (see `play_preview.how_it_ends`)."""
        with self._latest(game, "ends") as running:
            return how_it_ends(game, value, seed, running, self._say(game, "ends"))

    def progress(self, game: GameSnapshot, kind: str) -> tuple[int, int]:
        """(games played, games in total) of the running request of a kind; (0, 0) without one."""
        return self._done.get((game.id, kind), (0, 0))

    def _say(self, game: GameSnapshot, kind: str) -> Callable[[int, int], None]:
        def say(done: int, of: int) -> None:
            self._done[game.id, kind] = (done, of)

        return say

    def stop(self, game: GameSnapshot, kind: str) -> None:
        """Stop the running request of a kind."""
        with self._lock:
            before = self._running.pop((game.id, kind), None)
        if before is not None:
            before.end()

    def close(self) -> None:
        with self._lock:
            running = list(self._running.values())
            self._running.clear()
        for each in running:
            each.end()
        self.measurements.close()
