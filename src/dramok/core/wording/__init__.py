"""Printed text: the model of an effect said in the game's own phrase book.

Number agreement, capitals and stops are made here; symbols stand in the line as `{symbol}` pieces.
"""

from dramok.core.wording.printed_text import PrintedText, phrases_of, printed_text, steps_said

__all__ = ["PrintedText", "phrases_of", "printed_text", "steps_said"]
