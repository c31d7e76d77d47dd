"""Generates effect lines over the whole grammar from a seed; and the key that two lines with the same behaviour share."""

from __future__ import annotations

from random import Random
from typing import Any

from dramok.core.effects.verbs import ALLOWED, CUES, FORBIDDEN, VERBS, Slot

TYPES = ("plant", "weather", "card")
STATS = ("height", "root")
TOTALS = ("water", "ribbon")
KEYS = ("grafted", '"night bloom"')
CARDS = ("Sprig", '"Old Root"')
ZONES = ('"draw pile"', "hand", '"discard pile"', '"in play"', "removed", "bench")
PHASES = ("dawn", "tending")
NESTED = ("may", "offer", "choose", "each", "if", "later")


class Lines:
    """`that`, `it`: whether the words can be used where the line is now."""

    def __init__(self, dice: Random, depth: int = 2) -> None:
        self.dice, self.most = dice, depth
        self.that = self.it = False

    def one(self) -> str:
        dice = self.dice
        self.that = self.it = False
        roll = dice.random()
        if roll < 0.15:
            steps = "; ".join(self.lasting() for _ in range(dice.choice([1, 1, 2])))
            return f"always{self.guard(limits=False)}: {steps}"
        if roll < 0.27:
            if dice.random() < 0.3:
                return f"offer free, limit {dice.choice([1, 2])} a {dice.choice(['turn', 'game'])}: {self.steps(0)}"
            return f"offer {self.cost()}{self.guard()}: {self.steps(0)}"
        cue = self.cue()
        return f"upon {cue}{self.guard()}: {self.steps(0)}"

    def cue(self) -> str:
        dice, cue = self.dice, self.dice.choice([*CUES.values()])
        if cue.about == "card":
            of = dice.choice(["this", "this", self.group(zones=False)])
            self.that = bool(cue.that) or of != "this"
            source = f" from {self.group(zones=False)}" if cue.word == "hurt" and dice.random() < 0.5 else ""
            return f"{cue.word} {of}{source}"
        if cue.about == "whose":
            return f"{cue.word} {self.whose()}"
        if cue.about == "match":
            return cue.word
        bound = {"rising": f" above {self.number()}", "falling": f" under {self.number()}"}.get(cue.word) or dice.choice(["", f" above {self.number()}", f" under {self.number()}"])
        return f"{cue.word} {dice.choice(['', 'rival '])}{dice.choice(TOTALS)}{bound}"

    def number(self) -> int:
        return self.dice.choice([1, 1, 2, 2, 3, 4, 12])

    def whose(self) -> str:
        return self.dice.choice(["", "own ", "rival "]) + self.dice.choice(["turn", *PHASES])

    def moment(self) -> str:
        return self.dice.choice(["begin ", "end "]) + self.whose()

    def guard(self, limits: bool = True) -> str:
        dice = self.dice
        text = f", limit {dice.choice([1, 1, 2, 3])} a {dice.choice(['turn', 'game'])}" if limits and dice.random() < 0.25 else ""
        return text + (f", if {self.condition()}" if dice.random() < 0.25 else "")

    def condition(self, depth: int = 0) -> str:
        dice = self.dice
        one = f"{self.sum()} {dice.choice(['is', 'above', 'under'])} {self.sum()}"
        if depth or dice.random() < 0.6:
            return f"not {one}" if dice.random() < 0.2 else one
        return f"{self.condition(1)} {dice.choice(['and', 'or'])} {self.condition(1)}"

    def sum(self) -> str:
        return self.dice.choice([str(self.number()), str(self.number()), f"held {self.dice.choice(['', 'rival '])}{self.dice.choice(TOTALS)}", self.amount(1), self.amount(1)])

    def amount(self, depth: int = 0) -> str:
        dice = self.dice
        stat = f"{dice.choice(STATS)} of {self.pointed(numbers=True)}"
        if depth > 1:
            return str(self.number())
        return dice.choice([
            str(self.number()), str(self.number()), str(self.number()), f"count ({self.counted()})", f"sum ({dice.choice(STATS)} of {self.counted()})", stat, f"least ({self.sum_in(depth)}, {self.sum_in(depth)})",
            f"most ({self.sum_in(depth)}, {self.sum_in(depth)})", f"({self.sum_in(depth)} {dice.choice(['+', '-', 'x'])} {self.sum_in(depth)})",
            f"({self.sum_in(depth)} {dice.choice(['+', '-'])} {self.sum_in(depth)} x {self.sum_in(depth)})", f"({self.sum_in(depth)} - ({self.sum_in(depth)} + {self.sum_in(depth)}))",
            f"(half {dice.choice(['', 'up '])}{self.sum_in(depth)})", f"(held {dice.choice(['', 'rival '])}{dice.choice(TOTALS)})",
        ])  # fmt: skip

    def sum_in(self, depth: int) -> str:
        return self.dice.choice([str(self.number()), f"held {self.dice.choice(TOTALS)}", self.amount(depth + 1)])

    def pointed(self, numbers: bool = False) -> str:
        words = ["this", "host", *(["that"] if self.that else []), *(["it"] if self.it else [])]
        return self.dice.choice(words)

    def group(self, zones: bool = True) -> str:
        dice = self.dice
        filters = [each for each in (
            "other", "tag climber", 'tag "night bloom"', "bed is Fern", "height above 1", "root under 3", "height is 2", "has grafted", "tilted", "wounded", "created",
            "not other", "not tag climber", "not bed is Fern", "not height above 1", "not has grafted", "not tilted",
        ) if dice.random() < 0.07]  # fmt: skip
        where = f" in {dice.choice(ZONES)}" if zones and dice.random() < 0.25 else ""
        return f"{dice.choice(['own ', 'rival ', ''])}{dice.choice(TYPES)}{' [' + ', '.join(filters) + ']' if filters else ''}{where}"

    def counted(self) -> str:
        return f"{self.group(zones=False)} everywhere" if self.dice.random() < 0.2 else self.group()

    def target(self, zones: bool = True) -> str:
        dice = self.dice
        kind = dice.choice(["point", "pick", "pick", "pick", "all", "random"])
        if kind == "point":
            return self.pointed()
        group = self.group(zones)
        if kind == "pick":
            span = dice.choice(["", "", "2 ", "0..1 ", "0..2 ", "1..3 ", "3 ", "2..3 "])
            if self.it and dice.random() < 0.2:
                return f"pick {span}of it"
            self.it = True
            return f"pick {span}{group}"
        return f"all {group}" if kind == "all" else f"random {dice.choice(['', '2 '])}{group}"

    def until(self) -> str:
        return f" until {self.moment()}" if self.dice.random() < 0.3 else ""

    def cost(self) -> str:
        parts = [f"pay {self.number()} {self.dice.choice(TOTALS)}", "tilt this", "destroy this", "return this", f"discard {self.number()}"]
        return " + ".join(self.dice.sample(parts, self.dice.choice([1, 1, 2])))

    def zone(self) -> str:
        return f"{self.dice.choice(['', 'own ', 'rival '])}{self.dice.choice(ZONES)}{self.dice.choice(['', '', ' bottom'])}"

    def lasting(self) -> str:
        dice = self.dice
        word = dice.choice([word for word, verb in VERBS.items() if verb.lasting])
        target = dice.choice(["this", "host", f"all {self.group(zones=False)}"])
        return self.written(word, target, until=False)

    def steps(self, depth: int) -> str:
        return "; ".join(self.step(depth) for _ in range(self.dice.choice([1, 1, 2, 3] if not depth else [1, 1, 2])))

    def block(self, depth: int, it: bool | None = None) -> str:
        before = self.it
        self.it = before if it is None else it
        text = self.steps(depth)
        self.it = before
        return text

    def step(self, depth: int) -> str:
        dice = self.dice
        if depth < self.most and dice.random() < 0.22:
            match dice.choice(NESTED):
                case "may":
                    return f"may ({self.block(depth + 1)})"
                case "offer":
                    return f"offer {self.cost()} ({self.block(depth + 1)})"
                case "choose":
                    options = [self.block(depth + 1) for _ in range(dice.choice([2, 2, 3]))]
                    return f"choose {dice.randint(1, len(options) - 1)} of ({' | '.join(options)})"
                case "each":
                    return f"each {self.group()} ({self.block(depth + 1, True)})"
                case "if":
                    other = f" otherwise ({self.block(depth + 1)})" if dice.random() < 0.5 else ""
                    return f"if {self.condition()} ({self.block(depth + 1)}){other}"
                case _:
                    return f"later {self.moment()} ({self.block(depth + 1)})"
        word = dice.choice([word for word, verb in VERBS.items() if verb.form != "block"])
        return self.written(word, None)

    def compared(self) -> str:
        """An amount that belongs to no card, after `for most`."""
        group = self.group(zones=False)
        return self.dice.choice([f"count ({group})", f"count ({group} everywhere)", "held ribbon", "half held water", f"(held ribbon + {self.number()})", f"sum (height of {group})", "most (held water, 2)"])

    def written(self, word: str, target: str | None, until: bool = True) -> str:
        dice, verb = self.dice, VERBS[word]
        parts: dict[Slot, Any] = {
            "amount": self.amount, "resource": lambda: dice.choice(TOTALS), "seats": lambda: dice.choice(["", "", "for rival", "for all", f"for {dice.choice(['most', 'least'])} {self.compared()}"]),
            "to": lambda: f"to {target or self.target(not verb.in_play)}", "target": lambda: target or self.target(not verb.in_play), "until": lambda: self.until() if until else "",
            "stat": lambda: f"{dice.choice(STATS)} of {target or self.target(False)} by {self.amount()}", "put": lambda: f"to {self.zone()}",
            "from_zone": lambda: dice.choice(["", f"of {self.zone().removesuffix(' bottom')}"]), "zone": lambda: self.zone().removesuffix(" bottom"), "made": lambda: dice.choice(CARDS),
            "grant": lambda: f"{dice.choice(KEYS)} to {target or self.target(False)}", "strip": lambda: f"{dice.choice(KEYS)} of {target or self.target(False)}",
            "act": lambda: f"{dice.choice([*(FORBIDDEN if word == 'forbid' else ALLOWED)])} {target or self.target(False)}",
        }  # fmt: skip
        if word == "search":
            self.it = True
            return f"search pick {dice.choice(['', '0..2 ', '2 ', '1..3 '])}{self.group().split(' in ')[0]} in {dice.choice(ZONES[:3])}"
        text = " ".join([word, *(parts[slot]() for slot in verb.slots)])
        if word == "look":
            self.it = True
        return " ".join(text.split())


def in_play(document: Any) -> Any:
    """A line's document with all that makes no difference in play put in one form: the zone of play said or not; a search takes fewer if its seat likes;
    the order of filters; whose zone is looked through where none is named."""
    if isinstance(document, list):
        return [in_play(each) for each in document]
    if not isinstance(document, dict):
        return document
    found = {key: in_play(value) for key, value in document.items() if value is not None}
    if "filters" in found:
        found["filters"] = sorted(found["filters"], key=str)
        if found.get("zone") == "play":
            del found["zone"]
    if found.get("verb") == "search":
        found["target"] = {**found["target"], "least": 0}
    if found.get("verb") == "put" and found["zone"]["zone"] == "play":
        # Cards in play are in the order in which they came.
        found["zone"] = {**found["zone"], "place": "top"}
    if found.get("verb") in ("look", "reveal", "shuffle"):
        # Without a side: the player's own; without a zone: the player's own draw pile.
        zone = found.get("zone") or {"zone": "draw"}
        found["zone"] = {**zone, "side": "rival" if zone.get("side") == "rival" else "own", "place": "top"}
    return found
