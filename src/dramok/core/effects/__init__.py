"""The effect language: lexer, grammar, typed model, canonical text.

It knows no game: the given Vocabulary resolves every name. The model, with ids, is what is stored. Text ->
model -> text is the identity for canonical text.
"""

from dramok.core.effects.canonical_text import ability_text, amount_text
from dramok.core.effects.model import Ability
from dramok.core.effects.parser import parse_ability, parse_amount
from dramok.core.effects.script import Line, Script, read_again, read_script, script_text
from dramok.core.effects.vocabulary import NO_NAMES, Vocabulary

__all__ = [
    "NO_NAMES",
    "Ability",
    "Line",
    "Script",
    "Vocabulary",
    "ability_text",
    "amount_text",
    "parse_ability",
    "parse_amount",
    "read_again",
    "read_script",
    "script_text",
]
