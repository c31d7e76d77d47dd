"""This machine lent to whoever asks a scheduler for games."""

from __future__ import annotations

from dramok.outside.games.workers import lend, missing

__all__ = ["lend", "missing"]
