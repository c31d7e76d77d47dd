"""The rulebook document: card types, resources, the table's rules, the phrase book; and the game's Vocabulary.

Data, not code: a designer's own shape of game needs no new program.
"""

from dramok.core.rulebook.own_files import OwnFont, OwnSymbol
from dramok.core.rulebook.phrases import Phrases
from dramok.core.rulebook.play_rules import PlayRules
from dramok.core.rulebook.rulebook import Keyword, Resource, Roles, Rulebook, TableRules
from dramok.core.rulebook.vocabulary import GameVocabulary

__all__ = ["GameVocabulary", "Keyword", "OwnFont", "OwnSymbol", "Phrases", "PlayRules", "Resource", "Roles", "Rulebook", "TableRules"]
