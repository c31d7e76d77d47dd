"""What answers a question by games now, and can be ended."""

from __future__ import annotations

import threading

from dramok.outside.games.process import Player


class Running:
    """What answers a question now: players that are ended together, also those that come after the end was asked for."""

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
        """Whether somebody asked for its end."""
        return self._ended

    def end(self) -> None:
        with self._lock:
            self._ended = True
            players = list(self._players)
        for each in players:
            each.end()
