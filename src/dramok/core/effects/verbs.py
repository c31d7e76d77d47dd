"""The verbs and cues of the language: one record each, which says all that the rooms ask of one.

Grammar, lexer, reading, canonical text, wording, prices and the engine's program go over these records. A new verb is its
record here and what it does in `engine.steps.DO`; a new cue its record and the place that triggers it.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any, Literal

Form = Literal["amount", "target", "resource", "stat"]
"""What follows a verb: an amount; an amount `to` a target; an amount of a resource; a stat of this card `by` an amount."""


@dataclass(frozen=True)
class Verb:
    """`helps`: whether it is good for whom it is done to. `phrase` and `phrases` (of several) print it where a game has no
    words of its own for it; `formerly` are words that older games and texts have for it."""

    word: str
    form: Form
    helps: bool
    phrase: str
    phrases: str = ""
    formerly: tuple[str, ...] = ()


@dataclass(frozen=True)
class Cue:
    """`said` is the moment in the log's words; `phrase` begins the printed line where a game has no words of its own for it."""

    word: str
    said: str
    phrase: str


VERBS: Mapping[str, Verb] = {
    each.word: each
    for each in (
        Verb("draw", "amount", True, "draw {n} card {each}", "draw {n} cards {each}"),
        Verb("discard", "amount", False, "discard {n} card {each}", "discard {n} cards {each}"),
        Verb("deal", "target", False, "{n} {damage} to {target} {each}"),
        Verb("heal", "target", True, "heal {n} {damage} from {target} {each}", formerly=("restore",)),
        Verb("gain", "resource", True, "gain {n} {what} {each}"),
        Verb("lose", "resource", False, "lose {n} {what} {each}"),
        Verb("raise", "stat", True, "{stat} is {n} higher {each}"),
        Verb(
            "reveal",
            "amount",
            True,
            "reveal the top card of your pile {each}",
            "reveal the top {n} cards of your pile {each}",
        ),
    )
}
"""In the order of the kernel's numbers for them: a new one comes last."""

CUES: Mapping[str, Cue] = {
    each.word: each
    for each in (
        Cue("play", "on play", ""),
        Cue("enter", "on entering", "When it comes into play: "),
        Cue("leave", "on leaving", "When it leaves play: "),
    )
}
"""In the order of the kernel's numbers for them, after `always`."""

FORMERLY: Mapping[str, str] = {old: verb.word for verb in VERBS.values() for old in verb.formerly}


def verb_as_now(word: str) -> str:
    """The word that the language has now for one that it had once."""
    return FORMERLY.get(word, word)


def step_as_now(document: Any) -> Any:
    """A stored step under the verb of now."""
    if isinstance(document, dict) and document.get("verb") in FORMERLY:
        return {**document, "verb": FORMERLY[document["verb"]]}
    return document


def phrases_as_now(phrases: Any) -> Any:
    """A phrase book's verbs under the words of now; of several things, an `s` follows the word."""
    if not isinstance(phrases, dict):
        return phrases
    renamed = {old + end: new + end for old, new in FORMERLY.items() for end in ("", "s")}
    found: dict[Any, Any] = {}
    for word, text in phrases.items():
        found.setdefault(renamed.get(word, word), text)
    return found
