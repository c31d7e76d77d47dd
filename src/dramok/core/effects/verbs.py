"""The verbs and cues of the language, one record each.

Grammar, lexer, parser, canonical text, wording, prices and the engine's program iterate over these records. A
new verb needs its record here and its entry in `engine.program.CODES`; a new cue needs its record and the place
that triggers it.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any, Literal

Slot = Literal[
    "amount", "resource", "seats", "to", "target", "stat", "until", "put", "from_zone", "zone", "made", "grant", "strip", "act",
    "steps", "options", "group", "condition", "otherwise", "cost", "moment",
]  # fmt: skip
"""What can follow a verb.

`to` and `target` are both the step's target, with and without the word; `stat` is a stat of a target by an
amount; `grant` and `strip` are a keyword and its target; `act` is what is forbidden or allowed, and its target.
"""

Form = Literal["amount", "target", "resource", "stat", "block"]
"""The operands of an effect, for prices and phrases: an amount, an amount to a target, an amount of a resource,
a stat, or nested steps.
"""


@dataclass(frozen=True)
class Verb:
    """A verb. `slots` in written order. `helps`: whether it is good for the affected seat or card's player;
    None: it depends on nested steps, the act, or the zones (see `effects.signs`).

    `lasting`: allowed after `always`. `phrase` and `phrases` (plural; for a stat: of another card) are the
    default printed words; `formerly` are words of older games and texts.
    """

    word: str
    slots: tuple[Slot, ...]
    helps: bool | None
    phrase: str
    phrases: str = ""
    lasting: bool = False
    formerly: tuple[str, ...] = ()
    in_play: bool = False
    """Whether it acts on cards in play only."""
    always: str = ""
    """The printed words after `always`, as a statement."""

    @property
    def form(self) -> Form:
        if "steps" in self.slots or "options" in self.slots:
            return "block"
        if "stat" in self.slots:
            return "stat"
        if "resource" in self.slots:
            return "resource"
        return "target" if self.aims else "amount"

    @property
    def aims(self) -> bool:
        """Whether it acts on cards."""
        return any(slot in self.slots for slot in ("to", "target", "stat", "put", "grant", "strip", "act"))

    @property
    def counts(self) -> bool:
        """Whether it has an amount."""
        return "amount" in self.slots or "stat" in self.slots


Moment = Literal["card", "whose", "total", "match"]
"""What a cue is about: a card; whose turn or phase; a resource; the match."""


@dataclass(frozen=True)
class Cue:
    """A cue.

    `said` is the moment in words for the log; `phrase` is the default beginning of the printed line, `of` for
    another card's moment. `that`: the printed words for `that` if it is a different card although the cue is
    the card's own.
    """

    word: str
    said: str
    phrase: str
    of: str = ""
    about: Moment = "card"
    that: str = ""
    by: tuple[str, str] = ("", "")
    """The beginning of a line that names its source: for the card itself, and for others."""


VERBS: Mapping[str, Verb] = {
    each.word: each
    for each in (
        Verb("draw", ("amount", "seats"), True, "draw {n} card {each}", "draw {n} cards {each}"),
        Verb("discard", ("amount", "seats"), False, "discard {n} card {each}", "discard {n} cards {each}"),
        Verb("deal", ("amount", "to"), False, "deal {n} {damage} to {target} {each}", in_play=True),
        Verb("heal", ("amount", "to"), True, "heal {n} {damage} from {target} {each}", formerly=("restore",), in_play=True),
        Verb("gain", ("amount", "resource", "seats"), True, "gain {n} {what} {each}"),
        Verb("lose", ("amount", "resource", "seats"), False, "lose {n} {what} {each}"),
        Verb("raise", ("stat", "until"), True, "raise this card's {stat} by {n} {each}", "raise the {stat} of {target} by {n} {each}", lasting=True, always="the {stat} of {target} is {n} higher {each}", in_play=True),
        Verb("reveal", ("amount",), True, "reveal the top card of your pile {each}", "reveal the top {n} cards of your pile {each}"),
        Verb("lower", ("stat", "until"), False, "lower this card's {stat} by {n} {each}", "lower the {stat} of {target} by {n} {each}", lasting=True, always="the {stat} of {target} is {n} lower {each}", in_play=True),
        Verb("destroy", ("target",), False, "destroy {target}", in_play=True),
        Verb("remove", ("target",), None, "remove {target} from the game"),
        Verb("return", ("target",), None, "return {target} to its owner's hand", "return {target} to their owners' hands"),
        Verb("put", ("target", "put"), None, "put {target} into {zone}"),
        Verb("tilt", ("target",), False, "tilt {target}", in_play=True),
        Verb("straighten", ("target",), True, "straighten {target}", in_play=True),
        Verb("create", ("amount", "made", "seats"), True, "create a copy of {card} {each}", "create {n} copies of {card} {each}"),
        Verb("grant", ("grant", "until"), True, "give {keyword} to {target}", lasting=True, always="{target} has {keyword}", in_play=True),
        Verb("strip", ("strip", "until"), False, "take {keyword} from {target}", lasting=True, always="{target} loses {keyword}", in_play=True),
        Verb("forbid", ("act", "until"), None, "keep {target} from {acting}", lasting=True, always="{target} can't {act}", in_play=True),
        Verb("allow", ("act", "until"), None, "let {target} {act}", lasting=True, always="{target} can {act}", in_play=True),
        Verb("shield", ("amount", "to", "until"), True, "prevent the next {n} {damage} to {target} {each}", in_play=True),
        Verb("look", ("amount", "from_zone"), True, "look at the top card of {zone} {each}", "look at the top {n} cards of {zone} {each}"),
        Verb("search", ("target",), True, "search for {target}"),
        Verb("shuffle", ("zone",), True, "shuffle {zone}"),
        Verb("may", ("steps",), None, "you may {steps}"),
        Verb("offer", ("cost", "steps"), None, "you may {cost}; if you do, {steps}"),
        Verb("choose", ("options",), None, "choose {n}: {steps}"),
        Verb("each", ("group", "steps"), None, "for {target}, {steps}"),
        Verb("if", ("condition", "steps", "otherwise"), None, "if {if}, {steps}", "if {if}, {steps}; otherwise, {otherwise}"),
        Verb("later", ("moment", "steps"), None, "{when}, {steps}"),
    )
}  # fmt: skip
"""In the order of the kernel's numbers: append new verbs at the end."""

CUES: Mapping[str, Cue] = {
    each.word: each
    for each in (
        Cue("play", "on play", "", "When {group} is played: "),
        Cue("enter", "on entering", "When it comes into play: ", "When {group} comes into play: "),
        Cue("leave", "on leaving", "When it leaves play: ", "When {group} leaves play: "),
        Cue("destroyed", "on being destroyed", "When it is destroyed: ", "When {group} is destroyed: "),
        Cue("discarded", "on being discarded", "When it is discarded: ", "When {group} is discarded: "),
        Cue("drawn", "on being drawn", "When you draw it: ", "When {group} is drawn: "),
        Cue("clash", "on clashing", "When it clashes: ", "When {group} clashes: "),
        Cue("answered", "on being answered", "When it is answered: ", "When {group} is answered: ", that="the answering card"),
        Cue(
            "hurt", "on being hurt", "When it is hurt: ", "When {group} is hurt: ", that="the card that hurt it",
            by=("When it is hurt by {source}: ", "When {group} is hurt by {source}: "),
        ),
        Cue("hurting", "on hurting", "When it hurts another: ", "When {group} hurts another: ", that="the card it hurt"),
        Cue("begin", "as it begins", "When {when} begins: ", about="whose"),
        Cue("end", "as it ends", "When {when} ends: ", about="whose"),
        Cue("match", "as the match begins", "When the match begins: ", about="match"),
        Cue("rising", "on rising", "When {what} rises above {n}: ", about="total"),
        Cue("falling", "on falling", "When {what} falls below {n}: ", about="total"),
        Cue("gaining", "on gaining", "Whenever {what} increases: ", "Whenever {what} increases while {held}: ", about="total"),
        Cue("losing", "on losing", "Whenever {what} decreases: ", "Whenever {what} decreases while {held}: ", about="total"),
        Cue("gained", "on being gained", "When you gain it: ", "When {group} is gained: "),
    )
}  # fmt: skip
"""In the order of the kernel's numbers, after `always`."""

FORBIDDEN: Mapping[str, str] = {
    "destroying": "be destroyed", "hurting": "be hurt", "choosing": "be chosen by rivals' effects", "affecting": "be affected by rivals' effects",
    "clashing": "clash", "answering": "answer", "tilting": "be tilted", "straightening": "be straightened",
}  # fmt: skip
"""What can be forbidden, and how that is printed: it can't be destroyed."""
ACTING: Mapping[str, str] = {
    act: f"being{said.removeprefix('be')}" if said.startswith("be ") else act for act, said in FORBIDDEN.items()
}
"""The printed form after "from": keep it from being destroyed."""
FORBIDDEN_HELPS: Mapping[str, bool] = {
    "destroying": True, "hurting": True, "choosing": True, "affecting": True,
    "clashing": False, "answering": False, "tilting": True, "straightening": False,
}  # fmt: skip
"""Whether forbidding it is good for the card's player: it protects the card, or restricts it."""
ALLOWED_HELPS: Mapping[str, bool] = {"clashing": True, "answering": True}
ALLOWED: Mapping[str, str] = {
    "clashing": "clash on arrival",
    "answering": "answer while tilted",
}
"""What can be allowed against the rules, and how that is printed."""

FORMERLY: Mapping[str, str] = {old: verb.word for verb in VERBS.values() for old in verb.formerly}


def verb_as_now(word: str) -> str:
    """The current word for an old one."""
    return FORMERLY.get(word, word)


def step_as_now(document: Any) -> Any:
    """A stored step with the current verb; a lasting ability with the current keys."""
    if not isinstance(document, dict):
        return document
    if document.get("verb") in FORMERLY:
        document = {**document, "verb": FORMERLY[document["verb"]]}
    if document.get("kind") == "always" and "raises" in document:
        document = {("lasting" if key == "raises" else key): value for key, value in document.items()}
    return document


def phrases_as_now(phrases: Any) -> Any:
    """The verbs of a phrase book under the current words; plural phrases have an `s` after the word."""
    if not isinstance(phrases, dict):
        return phrases
    renamed = {old + end: new + end for old, new in FORMERLY.items() for end in ("", "s")}
    found: dict[Any, Any] = {}
    for word, text in phrases.items():
        found.setdefault(renamed.get(word, word), text)
    return found
