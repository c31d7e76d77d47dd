"""Printed text: the model of an effect in the words of the game's phrase book.

Handles plurals, capitals and punctuation; symbols are `{symbol}` pieces of the line.
"""

from dramok.core.wording.printed_text import PrintedText, phrases_of, printed_text, steps_text

__all__ = ["PrintedText", "phrases_of", "printed_text", "steps_text"]
