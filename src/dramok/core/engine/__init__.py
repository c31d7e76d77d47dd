"""The table: rulebook and cards compiled to a program; a match moved on by decisions; events out.

The kernel (`state`, `chance`, `zones`, `targets`, `steps`, `kernel`) is plain integers, loops and functions, so that the
same text can be compiled later. The same program, deck, seed and decisions give the same events everywhere.
"""

from dramok.core.engine.log import LogLine, told
from dramok.core.engine.match import Match, NotAnOption, Option, replay, start
from dramok.core.engine.program import Program, compile_program
from dramok.core.engine.view import TableView, view

__all__ = [
    "LogLine", "Match", "NotAnOption", "Option", "Program", "TableView", "compile_program", "replay", "start", "told", "view",
]  # fmt: skip
