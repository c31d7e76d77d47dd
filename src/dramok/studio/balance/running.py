"""The processes that play games for one question, and how they are stopped."""

from __future__ import annotations

import threading

from dramok.outside.games.process import Player


class Running:
    """Players of one question, which are ended together. A player that is added after `end` is ended at once."""

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
