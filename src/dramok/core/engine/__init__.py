"""The table: rulebook and cards compiled to a program; a match moved on by decisions; events out.

The kernel is whole numbers, loops and functions: the same text runs as it stands at the table and compiled for simulation. The
same program, decks, seed and decisions give the same events everywhere.
"""

from dramok.core.engine.log import LogLine, told
from dramok.core.engine.manual_moves import HANDS, ByHand, option_of
from dramok.core.engine.match import PLAYERS, Match, NotAnOption, Option, replay, replay_as_far, start
from dramok.core.engine.program import ENGINE, Program, compile_program, looked_at, needed
from dramok.core.engine.view import TableView, view

__all__ = [
    "ENGINE", "HANDS", "PLAYERS", "ByHand", "LogLine", "Match", "NotAnOption", "Option", "Program", "TableView", "compile_program", "looked_at", "needed", "option_of",
    "replay", "replay_as_far", "start", "told", "view",
]  # fmt: skip
