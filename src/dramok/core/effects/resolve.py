"""From a parse tree to the model: every name looked up, every pointing word checked to be bound."""

from __future__ import annotations

from typing import Any, cast

from lark import Token, Tree

from dramok.core.effects.model import (
    MODELS,
    MOST_AMOUNT,
    Ability,
    All,
    Amount,
    ChoiceIs,
    Continuous,
    Count,
    Filter,
    Group,
    HasTag,
    It,
    Not,
    Number,
    Other,
    Pick,
    Raise,
    Random,
    StatCompare,
    Step,
    Target,
    This,
    Triggered,
)
from dramok.core.effects.verbs import VERBS
from dramok.core.effects.vocabulary import CHOICE, RESOURCE, STAT, TAG, TYPE, Vocabulary, as_typed, value_of
from dramok.core.problem import Problem, Span, nearest_name

Node = Any


class Resolver:
    """Walks one line's tree. Problems gather in `problems`; a result counts only when there are none."""

    def __init__(self, vocabulary: Vocabulary, line: int) -> None:
        self.vocabulary = vocabulary
        self.line = line
        self.problems: list[Problem] = []
        self._picked = False

    def ability(self, tree: Node) -> Ability | None:
        if tree.data == "continuous":
            raises = tuple(
                self._raise(child) for child in tree.children[2].children if isinstance(child, Tree)
            )
            return None if self.problems else Continuous(raises=raises)
        cue = str(tree.children[1].children[0].type).lower()
        steps = [self._step(child) for child in tree.children[3].children if isinstance(child, Tree)]
        if self.problems:
            return None
        return Triggered.model_validate({"cue": cue, "steps": steps})

    def step(self, tree: Node) -> None:
        """Looks up the names of one step alone, for the problems in them."""
        if VERBS[tree.data.removesuffix("_")].form == "stat":
            self._raise(tree)
        else:
            self._picked = True
            self._step(tree)

    def _raise(self, tree: Node) -> Raise:
        stat, amount = tree.children[1], tree.children[5]
        return Raise(stat=self._name(STAT, stat), amount=self._amount(amount))

    def _step(self, tree: Node) -> Step:
        verb = VERBS[tree.data.removesuffix("_")]
        parts: dict[str, Any] = {"amount": self._amount(tree.children[1])}
        if verb.form == "resource":
            parts["resource"] = self._name(RESOURCE, tree.children[2])
        elif verb.form == "target":
            parts["target"] = self._target(tree.children[3])
        return cast(Step, MODELS[verb.word](**parts))

    def _amount(self, tree: Node) -> Amount:
        if tree.data == "count":
            return Count(group=self._group(tree.children[2]))
        return Number(value=self._number(tree.children[0]))

    def _target(self, tree: Node) -> Target:
        match tree.data:
            case "this":
                return This()
            case "it":
                if not self._picked:
                    self._add(
                        tree.children[0],
                        "“it” points at nothing: no pick comes before it",
                        "pick a card first",
                    )
                return It()
            case "pick":
                target: Target = self._pick(tree)
                self._picked = True
                return target
            case "all":
                return All(group=self._group(tree.children[1]))
            case "random":
                number = tree.children[1]
                return Random(
                    number=self._number(number, 1, 99) if number else 1, group=self._group(tree.children[2])
                )
            case other:
                raise AssertionError(f"the grammar has a target {other} that nothing reads")

    def _pick(self, tree: Node) -> Pick:
        span, group = tree.children[1], tree.children[2]
        numbers = [token for token in span.children if isinstance(token, Token) and token.type == "NUMBER"]
        most = self._number(numbers[-1], 1, 99) if numbers else 1
        least = self._number(numbers[0], 0, 99) if numbers else 1
        if least > most:
            self._add(numbers[0], f"{least} is more than {most}", f"write {most}..{least}")
        return Pick(least=least, most=most, group=self._group(group))

    def _group(self, tree: Node) -> Group:
        side, noun, filters = tree.children
        word = noun.children[0]
        card_type = None if word.type == "CARD" else self._name(TYPE, word)
        found = (
            [self._filter(child) for child in filters.children if isinstance(child, Tree)] if filters else []
        )
        return Group.model_validate(
            {"side": side.children[0].type.lower() if side else "any", "type": card_type, "filters": found}
        )

    def _filter(self, tree: Node) -> Filter:
        words = tree.children
        match tree.data:
            case "other":
                return Other()
            case "tag":
                return HasTag(tag=self._name(TAG, words[1]))
            case "not_":
                return Not(filter=self._filter(words[1]))
            case "choice":
                field = self._name(CHOICE, words[0])
                return ChoiceIs(field=field, value=self._name(value_of(field), words[2]) if field else "")
            case "compare":
                compare: Any = words[1].type.lower()
                return StatCompare(
                    field=self._name(STAT, words[0]), compare=compare, number=self._number(words[2])
                )
            case other:
                raise AssertionError(f"the grammar has a filter {other} that nothing reads")

    def _number(self, token: Token, least: int = 0, most: int = MOST_AMOUNT) -> int:
        value = int(token[:9])
        if len(token) > 9 or not least <= value <= most:
            self._add(token, f"{token[:12]} is out of range", f"write a number from {least} to {most}")
            return least or 1
        return value

    def _name(self, kind: str, token: Token) -> str:
        ident = self.vocabulary.find(kind, str(token))
        if ident is not None:
            return ident
        known = sorted(as_typed(kind, name) for name in self.vocabulary.names(kind))
        near = nearest_name(str(token), known)
        mend = f"did you mean {near}?" if near else _listing(kind, known)
        self._add(token, f"this game has no {kind} called “{str(token)[:40]}”", mend, tuple(known[:12]), near)
        return ""

    def _add(
        self, token: Token, what: str, mend: str, expected: tuple[str, ...] = (), near: str | None = None
    ) -> None:
        start, end = token.start_pos or 0, token.end_pos or 1
        span = Span(line=self.line, column=start + 1, length=max(1, end - start))
        self.problems.append(
            Problem(where="effect", what=what, mend=mend, span=span, expected=expected, nearest=near)
        )


def _listing(kind: str, known: list[str]) -> str:
    return f"write one of {', '.join(known[:6])}" if known else f"this game has no {kind} yet"
