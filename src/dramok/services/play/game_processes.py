"""The processes that play games for one request, and how to stop them."""

from __future__ import annotations

import threading

from dramok.workers.batch_process import Player


class GameProcesses:
    """The players of one request, ended together. A player added after `end` is ended at once."""

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self._players: list[Player] = []
        self._ended = False

    def add(self, player: Player) -> None:
        with self._lock:
            self._players.append(player)
            ended = self._ended
        if ended:
            player.end()

    @property
    def ended(self) -> bool:
        """Whether `end` was called."""
        return self._ended

    def end(self) -> None:
        with self._lock:
            self._ended = True
            players = list(self._players)
        for each in players:
            each.end()
