"""The rulebook document: card types, resources, table rules, phrase book; and the game's Vocabulary.

Rules are data: a new kind of game needs no new code.
"""

from dramok.core.rulebook.own_files import OwnFont, OwnSymbol
from dramok.core.rulebook.phrases import Phrases
from dramok.core.rulebook.play_rules import PlayRules
from dramok.core.rulebook.rulebook import Keyword, Resource, Roles, Rulebook, TableRules
from dramok.core.rulebook.vocabulary import GameVocabulary

__all__ = ["GameVocabulary", "Keyword", "OwnFont", "OwnSymbol", "Phrases", "PlayRules", "Resource", "Roles", "Rulebook", "TableRules"]
