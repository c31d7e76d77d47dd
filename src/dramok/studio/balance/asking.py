"""What a server holds of balance: measurements, and of each kind of question the latest, which ends the one before."""

from __future__ import annotations

import threading
from collections.abc import Callable, Iterator, Mapping
from contextlib import contextmanager
from typing import Any

from dramok.core.balance.duels import DuelResults
from dramok.outside.games.process import make_ready
from dramok.studio.balance import duelling, sweeping
from dramok.studio.balance.measuring import Measurements
from dramok.studio.balance.orders import Playing, refused
from dramok.studio.balance.running import Running
from dramok.studio.balance.sweeping import EditMeasured, SweepAsked, Swept, WorthAsked
from dramok.studio.desk import Desk, Refused
from dramok.studio.editing import card_in
from dramok.studio.history import game_at
from dramok.studio.playlook import Ends, how_it_ends
from dramok.studio.sheets import preview
from dramok.studio.snapshot import GameSnapshot


class BalanceDesk:
    """Safe to be asked from several threads. `cluster`: the address of a scheduler whose workers play, or none."""

    def __init__(self, cluster: str = "") -> None:
        self.cluster = cluster
        self.measurements = Measurements()
        self._lock = threading.Lock()
        self._running: dict[tuple[str, str], Running] = {}
        self._done: dict[tuple[str, str], tuple[int, int]] = {}

    def playing(self, games: int, seed: int = 1, player: str = "plain") -> Playing:
        """So many games, by whoever plays for this server."""
        return Playing(games, seed, player, cluster=self.cluster)

    def make_ready(self) -> None:
        """What plays is at hand for what may be asked next."""
        make_ready()

    @contextmanager
    def _latest(self, game: GameSnapshot, kind: str) -> Iterator[Running]:
        """For the player that answers; who asks the same kind of the same game next ends it. Raises Refused for one that was ended."""
        mine = Running()
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
            return sweeping.sweep(game, asked, self._say(game, "sweep"), running)

    def sweep_worth(self, game: GameSnapshot, asked: WorthAsked) -> Swept:
        with self._latest(game, "sweep") as running:
            return sweeping.sweep_worth(game, asked, self._say(game, "sweep"), running)

    def what_if(self, game: GameSnapshot, card_id: str, typed: Mapping[str, str], playing: Playing) -> EditMeasured:
        """The card with what is typed in its fields against the card as it is saved. Raises Refused for what can't be read."""
        sheet = preview(game, card_in(game, card_id), typed)
        fields = [game.rulebook.cards.field(ident) for ident in typed]
        named = {each.name for each in fields if each is not None} | {"effect"}
        mistakes = [each for each in sheet.problems if each.where in named]
        if mistakes:
            raise Refused(mistakes[0])
        with self._latest(game, "edit") as running:
            return sweeping.what_if(game, sheet.card, playing, running)

    def edit(self, desk: Desk, game: GameSnapshot, card_id: str, after: int, playing: Playing) -> EditMeasured:
        """What the edits after an op did to a card's strength."""
        if after > game.seq:
            raise refused("after", f"there is no edit {after} yet", f"name one up to {game.seq}")
        then = game_at(desk, game, after)
        with self._latest(game, "edit") as running:
            return sweeping.measure_edit(then, game, card_in(game, card_id).id, playing, running)

    def duels(self, game: GameSnapshot, asked: duelling.DuelsAsked) -> DuelResults:
        with self._latest(game, "duels") as running:
            return duelling.duels(game, asked, self._say(game, "duels"), running)

    def ends(self, game: GameSnapshot, value: Any, seed: int) -> Ends:
        """How quick games by rules of play end (see `playlook.how_it_ends`)."""
        with self._latest(game, "ends") as running:
            return how_it_ends(game, value, seed, running, self._say(game, "ends"))

    def progress(self, game: GameSnapshot, kind: str) -> tuple[int, int]:
        """(games played, games in all) of what answers a kind of question now; (0, 0) where nothing does."""
        return self._done.get((game.id, kind), (0, 0))

    def _say(self, game: GameSnapshot, kind: str) -> Callable[[int, int], None]:
        def say(done: int, of: int) -> None:
            self._done[game.id, kind] = (done, of)

        return say

    def stop(self, game: GameSnapshot, kind: str) -> None:
        """Ends what answers a kind of question."""
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
