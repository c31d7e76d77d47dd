"""A checker for printed English: articles, plurals, agreement, doubled words, and patterns that no correct sentence has."""

from __future__ import annotations

import re
from collections.abc import Iterable

from dramok.core.effects.verbs import VERBS
from dramok.core.rulebook import Phrases

NOUNS = {"card": "cards", "plant": "plants", "weather": "weathers", "copy": "copies"}
ADJECTIVE = r"(?:(?:other|random|tilted|hurt|created|climber|night bloom|Fern|non-[\w-]+(?: bloom)?) )*"
ONE, MANY = "|".join(NOUNS), "|".join(NOUNS.values())
FAULTS: dict[str, str] = {
    "a before a vowel": r"\b[aA] (?!uni|us[aeiu]|one\b|eu)[aeiouAEIOU]",
    "an before a consonant": r"\b[aA]n (?:[^aeiouAEIOU\W]|uni|one\b|eu)",
    "a other": r"\ba other\b",
    "a doubled word": r"\b(\w+) \1\b",
    "one of several": rf"(?<!up )(?<!\d to )\b1 {ADJECTIVE}(?:{MANY})\b|\bup to 1 {ADJECTIVE}(?:{MANY})\b",
    "several of one": rf"\b(?:[02-9]|1\d|[X-Z]) {ADJECTIVE}(?:{ONE})\b(?!')",
    "a plural after an article": rf"\b(?:[Aa]n?|[Aa]nother|[Ee]ach) {ADJECTIVE}(?:{MANY})\b",
    "agreement": rf"\b(?:{MANY}) (?:has|loses|comes|leaves|is (?:destroyed|tilted|played|hurt|drawn|answered))\b|\b(?:this card|each {ADJECTIVE}(?:{ONE})) (?:have|lose|come)\b",
    "no noun": r"\b(?:your|the|its|rival's|any) (?:in play|removed)(?! cards)\b|\binto (?:your|the) in\b",
    "not so": r"\bnon-(?:with|other|that)\b|\bnot so that\b",
    "times": r"\b1 times (?:a|an)\b|\bat most 1\b",
    "a hole": r"\{\}|\{(?!water\}|ribbon\})|  |\( | \)| [.,:;]|\.\.|, ,|:\s*\.|\(\)",
}  # fmt: skip
_FAULTS = {name: re.compile(pattern) for name, pattern in FAULTS.items()}


def faults(text: str, doing: Iterable[str]) -> list[str]:
    """What is wrong with a line, by name. `doing`: the words that a step begins with in this phrase book."""
    found = [name for name, pattern in _FAULTS.items() if pattern.search(text)]
    if text.count("(") != text.count(")"):
        found.append("brackets")
    if not re.match(r"[A-Z0-9{]", text) or not text.endswith("."):
        found.append("no sentence")
    words = "|".join(map(re.escape, sorted(doing)))
    costs = "pay|tilt|destroy|return|discard"
    allowed = rf"(?:{words}|{costs}|have|compare)\b|do this: "
    if re.search(rf"\b[Yy]ou may (?!{allowed})|\b[Hh]ave (?:your rival|everyone) (?!(?:{words})\b)", text):
        found.append("no verb after may or have")
    return found


def doing(phrases: Phrases) -> set[str]:
    """The first words of a book's steps: each must be a verb."""
    return {phrases.verb(word, one).split(" ")[0] for word, verb in VERBS.items() for one in (True, False) if verb.form != "block"}
