"""Printed text: the model of an effect in the words of the game's phrase book.

Handles plurals, capitals and punctuation; symbols are `{symbol}` pieces of the line.
"""

from dramok.core.wording.printed_text import (
    PrintedText,
    ability_in_words,
    phrases_of,
    printed_text,
    steps_text,
    with_resource_names,
)

__all__ = ["PrintedText", "ability_in_words", "phrases_of", "printed_text", "steps_text", "with_resource_names"]
