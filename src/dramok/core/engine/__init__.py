"""The rules engine: rulebook and cards are compiled to a program; decisions advance a match and produce events.

The kernel uses only integers, loops and functions, so that the same source runs in the interpreter at the table
and compiled in simulations. The same program, decks, seed and decisions give the same events everywhere.
"""

from dramok.core.engine.log import LogLine, told
from dramok.core.engine.manual_moves import HANDS, ByHand, option_of
from dramok.core.engine.match import Match, NotAnOption, Option, replay, replay_as_far, start
from dramok.core.engine.program import ENGINE, Program, compile_program, looked_at, needed
from dramok.core.engine.view import TableView, view

__all__ = [
    "ENGINE", "HANDS", "ByHand", "LogLine", "Match", "NotAnOption", "Option", "Program", "TableView", "compile_program", "looked_at", "needed", "option_of",
    "replay", "replay_as_far", "start", "told", "view",
]  # fmt: skip
