"""Parse tree to model: resolves every name and checks that every pronoun is bound."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any

from lark import Token, Tree

from dramok.core.effects.model import (
    EVERYWHERE,
    MOST_AMOUNT,
    Ability,
    All,
    Amount,
    ChoiceIs,
    Combined,
    Comparison,
    Condition,
    Continuous,
    CostPart,
    Count,
    Filter,
    Group,
    Half,
    HasKeyword,
    HasTag,
    HeldTotal,
    Host,
    InState,
    It,
    Keyworded,
    Limit,
    Not,
    Number,
    Offered,
    Other,
    Pick,
    Random,
    StatCompare,
    StatOf,
    Step,
    SumOf,
    Target,
    That,
    This,
    Together,
    Triggered,
    Unless,
    When,
    Zone,
)
from dramok.core.effects.verbs import CUES, VERBS
from dramok.core.effects.vocabulary import (
    CARD,
    CHOICE,
    KEYWORD,
    PHASE,
    RESOURCE,
    STAT,
    TAG,
    TYPE,
    ZONE,
    Vocabulary,
    as_typed,
    value_of,
)
from dramok.core.problem import Problem, Span, nearest_name

Node = Any
_SIGNS = {"PLUS": "+", "MINUS": "-"}
POINTED: dict[str, Target] = {"this": This(), "that": That(), "it": It(), "host": Host()}
_NAMED = {"resource": RESOURCE, "stat": STAT, "keyword": KEYWORD, "made": CARD, "phase": PHASE}


class Resolver:
    """Visits the tree of one line. Problems are collected in `problems`; a result is valid only if there are none."""

    def __init__(self, vocabulary: Vocabulary, line: int) -> None:
        self.vocabulary = vocabulary
        self.line = line
        self.problems: list[Problem] = []
        self._it = False
        self._that = False
        self._of_no_card = False

    def ability(self, tree: Node) -> Ability | None:
        if tree.data == "keyworded":
            held = tuple(self._named(child) for child in _trees(tree))
            return Keyworded(keywords=held) if not self.problems else None
        parts: dict[str, Any] = {}
        for child in _trees(tree):
            if child.data == "guards":
                parts |= self._guards(child, tree.data)
        if tree.data == "continuous":
            found = tuple(self._step(child) for child in _trees(_only(tree, "lastings")))
            return Continuous(lasting=found, **parts) if not self.problems else None
        if tree.data == "offered":
            cost = _only(tree, "cost")
            parts["cost"] = self._cost(cost) if cost is not None else ()
            if cost is None and "limit" not in parts:
                token = next(child for child in tree.children if _is(child, "FREE"))
                self._add(token, "a free effect could be used without end", "add a limit: offer free, limit 1 a turn")
        else:
            parts |= self._cue(_only(tree, "cue").children[0] if _only(tree, "cue") else _cue_of(tree))
        # Guards come before the steps and can refer to the card of the cue.
        for child in _trees(tree):
            if child.data == "guards":
                parts |= self._conditions(child)
        steps = self._steps(_only(tree, "steps"))
        if self.problems:
            return None
        return Offered(steps=steps, **parts) if tree.data == "offered" else Triggered(steps=steps, **parts)

    def amount(self, tree: Node) -> tuple[Amount | None, tuple[Problem, ...]]:
        """An amount that belongs to no card: it can't refer to one."""
        self._of_no_card = True
        found = self._amount(tree)
        return (None, tuple(self.problems)) if self.problems else (found, ())

    def _compared(self, tree: Node) -> Amount:
        """An amount that is computed for each seat: it belongs to no card."""
        before, self._of_no_card = self._of_no_card, True
        found = self._amount(tree)
        self._of_no_card = before
        return found

    def step(self, tree: Node) -> None:
        """Resolve the names of a single step, for its problems."""
        self._it = self._that = True
        self._step(tree)

    def _guards(self, tree: Node, kind: str) -> dict[str, Any]:
        found: dict[str, Any] = {}
        for guard in _trees(tree):
            if guard.data == "limit":
                number, each = guard.children[1], guard.children[3]
                if kind == "continuous":
                    self._add(guard.children[0], "what always holds has no limit", "remove it")
                elif "limit" in found:
                    self._add(guard.children[0], "a second limit", "keep one of them")
                found["limit"] = Limit(number=self._number(number, 1, 9), each=each.type.lower())
            elif kind == "continuous":
                found |= self._conditions(tree)
        return found

    def _conditions(self, tree: Node) -> dict[str, Any]:
        read = [self._condition(guard.children[1]) for guard in _trees(tree) if guard.data == "if_"]
        if not read:
            return {}
        return {"condition": read[0] if len(read) == 1 else Together(kind="all", parts=tuple(read))}

    def _cue(self, tree: Node) -> dict[str, Any]:
        cue = CUES[tree.data.removesuffix("_")]
        found: dict[str, Any] = {"cue": cue.word}
        groups = [child for child in _trees(tree) if child.data == "group"]
        if cue.about == "card":
            subject = _only(tree, "subject").children[0]
            if isinstance(subject, Tree):
                found["of"] = self._group(subject)
            self._that = bool(cue.that) or "of" in found
            found |= {"source": self._group(groups[0])} if groups else {}
        elif cue.about == "whose":
            found["when"] = self._whose(_only(tree, "whose"), cue.word)
        elif cue.about == "total":
            found["resource"] = self._named(_only(tree, "resource"))
            found |= {"side": "rival"} if any(_is(child, "RIVAL") for child in tree.children) else {}
            bound = _only(tree, "bound")
            if bound is not None:
                found |= {"compare": bound.children[0].type.lower(), "number": self._number(bound.children[1])}
            wanted = {"rising": "above", "falling": "under"}.get(cue.word)
            if wanted and found.get("compare") != wanted:
                token = next(child for child in tree.children if isinstance(child, Token))
                self._add(token, f"{cue.word} past what?", f"write {wanted} and a number after the name")
        return found

    def _steps(self, tree: Node) -> tuple[Step, ...]:
        return tuple(self._step(child) for child in _trees(tree))

    def _block(self, tree: Node) -> tuple[Step, ...]:
        """Steps in brackets: picks inside are out of scope after them."""
        with self._bound(self._it):
            return self._steps(_only(tree, "steps") if tree.data == "block" else tree)

    @contextmanager
    def _bound(self, it: bool) -> Iterator[None]:
        before, self._it = self._it, it
        yield
        self._it = before

    def _step(self, tree: Node) -> Step:
        verb = VERBS[tree.data.removesuffix("_")]
        parts: dict[str, Any] = {"verb": verb.word}
        blocks = []
        for child in _trees(tree):
            match str(child.data):
                case "seats":
                    parts["seats"] = child.children[1].type.lower()
                case "best_seats":
                    parts["seats"] = child.children[1].type.lower()
                    parts["by"] = self._compared(child.children[2])
                case "until":
                    parts["until"] = self._when(child.children[1])
                case "moment":
                    parts["moment"] = self._when(child)
                case "zone":
                    parts["zone"] = self._zone(child)
                case "forbid_act" | "allow_act":
                    parts["act"] = child.children[0].type.lower()
                case "cost":
                    parts["cost"] = self._cost(child)
                case "both" | "condition":
                    parts["condition"] = self._condition(child)
                case "block" | "steps":
                    blocks.append(child)
                case "group":
                    parts["group"] = self._group(child)
                case "resource" | "stat" | "keyword" | "made" as kind:
                    parts["card" if kind == "made" else kind] = self._named(child)
                case "number" | "count" | "sum_of" | "stat_of" | "extreme" | "inner":
                    parts["amount"] = self._amount(child)
                case _:
                    parts["target"] = self._target(child)
        if verb.word == "search" and not isinstance(parts.get("target"), Pick):
            token = tree.children[0]
            self._add(token, "a search picks what it finds", 'write "search pick" and of what')
        if verb.in_play:
            self._is_in_play(tree, verb.word, parts.get("target"))
        if verb.word in ("look", "search"):
            self._it = True
        if verb.word == "choose":
            number = next(child for child in tree.children if _is(child, "NUMBER"))
            parts["options"] = tuple(self._block(block) for block in blocks)
            parts["choose"] = self._number(number, 1, len(blocks))
        elif blocks:
            with self._bound(True if verb.word == "each" else self._it):
                parts["steps"] = self._block(blocks[0])
            if len(blocks) > 1:
                parts["otherwise"] = self._block(blocks[1])
        return Step.model_construct(**parts) if self.problems else Step(**parts)

    def _is_in_play(self, tree: Node, verb: str, target: Target | None) -> None:
        """Refuse a group in another zone for a verb that acts on cards in play: it would never match."""
        group = None if target is None else getattr(target, "group", None)
        if group is None or group.zone in (None, "play"):
            return
        token = next((token for token in tree.scan_values(lambda each: _is(each, "IN")) if token), None)
        if token is not None:
            self._add(token, f"{verb} is done to cards in play only", "leave out the zone, or write return, put or remove")

    def _cost(self, tree: Node) -> tuple[CostPart, ...]:
        found = []
        for part in _trees(tree):
            match part.data:
                case "pay":
                    found.append(CostPart(how="pay", number=self._number(part.children[1]), resource=self._named(part.children[2])))
                case "discards":
                    found.append(CostPart(how="discard", number=self._number(part.children[1], 1, 99)))
                case _:
                    found.append(CostPart(how=part.children[0].type.lower()))
        return tuple(found)

    def _when(self, tree: Node) -> When:
        word = next((child for child in tree.children if isinstance(child, Token)), None)
        whose = _only(tree, "whose")
        at = word.type.lower() if word is not None else "begin"
        if word is None and any(_is(child, "TURN") for child in whose.children):
            token = next(child for child in whose.children if _is(child, "TURN"))
            self._add(token, "the turn begins or ends", "write end turn or begin turn")
        return self._whose(whose, at)

    def _whose(self, tree: Node, at: str) -> When:
        side = next((child.type.lower() for child in tree.children if isinstance(child, Token) and child.type in ("OWN", "RIVAL")), "any")  # fmt: skip
        phase = _only(tree, "phase")
        return When(at=at, side=side, phase=self._named(phase) if phase is not None else None)

    def _zone(self, tree: Node) -> Zone:
        words = {child.type: child for child in tree.children if isinstance(child, Token)}
        side = next((word.lower() for word in ("OWN", "RIVAL") if word in words), "any")
        place = "bottom" if "BOTTOM" in words else "top"
        return Zone(side=side, zone=self._name(ZONE, words["NAME"]), place=place)

    def _amount(self, tree: Node) -> Amount:
        match str(tree.data):
            case "number":
                return Number(value=self._number(tree.children[0]))
            case "count":
                return Count(group=self._group(_only(tree, "group"), counted=True))
            case "sum_of":
                return SumOf(field=self._named(_only(tree, "stat")), group=self._group(_only(tree, "group"), counted=True))
            case "stat_of":
                of = self._pointed(_only(tree, "pointed"))
                return StatOf(field=self._named(_only(tree, "stat")), of=of)
            case "extreme":
                how = tree.children[0].type.lower()
                left, right = (self._amount(child) for child in _trees(tree))
                return Combined(how=how, left=left, right=right)
            case "inner":
                return self._amount(_trees(tree)[0])
            case "plain":
                return self._amount(tree.children[0])
            case "held":
                side = "rival" if any(_is(child, "RIVAL") for child in tree.children) else "own"
                return HeldTotal(resource=self._named(_only(tree, "resource")), side=side)
            case "half":
                up = any(_is(child, "UP") for child in tree.children)
                return Half(up=up, of=self._amount(_trees(tree)[0]))
            case "sum" | "product":
                return self._reckoned(tree)
            case other:
                raise AssertionError(f"the grammar has an amount {other} that nothing reads")

    def _reckoned(self, tree: Node) -> Amount:
        found: Amount | None = None
        how: Any = "x"
        for child in tree.children:
            if isinstance(child, Token):
                how = _SIGNS.get(child.type, "x")
            else:
                amount = self._amount(child)
                found = amount if found is None else Combined(how=how, left=found, right=amount)
        assert found is not None
        return found

    def _condition(self, tree: Node) -> Condition:
        parts = [child for child in tree.children if isinstance(child, Tree)]
        match str(tree.data):
            case "comparison":
                word: Any = next(child.type.lower() for child in tree.children if isinstance(child, Token))
                return Comparison(left=self._amount(parts[0]), compare=word, right=self._amount(parts[1]))
            case "unless":
                inner = self._condition(parts[0])
                negated = any(_is(child, "NOT") for child in tree.children)
                return Unless(part=inner) if negated else inner
            case "both" | "condition":
                found = tuple(self._condition(part) for part in parts)
                kind: Any = "all" if tree.data == "both" else "any"
                return found[0] if len(found) == 1 else Together(kind=kind, parts=found)
            case other:
                raise AssertionError(f"the grammar has a condition {other} that nothing reads")

    def _pointed(self, tree: Node) -> str:
        token = tree.children[0]
        word = token.type.lower()
        if self._of_no_card:
            self._add(token, f"“{word}” is a card, and this amount belongs to no card", "count cards, or add up their numbers: sum (… of own card everywhere)")
        elif word == "it" and not self._it:
            self._add(token, "“it” points at nothing: no pick comes before it", "pick a card first")
        if word == "that" and not self._that:
            self._add(token, "“that” points at nothing: this moment is about no other card", "write this, or pick a card")
        return str(word)

    def _target(self, tree: Node) -> Target:
        match str(tree.data):
            case "pointing":
                return POINTED[self._pointed(tree.children[0])]
            case "pick":
                target: Target = self._pick(tree)
                self._it = True
                return target
            case "all":
                return All(group=self._group(tree.children[1]))
            case "random":
                number = tree.children[1]
                return Random(number=self._number(number, 1, 99) if number else 1, group=self._group(tree.children[2]))
            case other:
                raise AssertionError(f"the grammar has a target {other} that nothing reads")

    def _pick(self, tree: Node) -> Pick:
        span, group = tree.children[1], _only(tree, "group")
        numbers = [token for token in span.children if _is(token, "NUMBER")]
        most = self._number(numbers[-1], 1, 99) if numbers else 1
        least = self._number(numbers[0], 0, 99) if numbers else 1
        if least > most:
            self._add(numbers[0], f"{least} is more than {most}", f"write {most}..{least}")
        if group is None:
            token = next(child for child in tree.children if _is(child, "IT"))
            if not self._it:
                self._add(token, "“it” points at nothing: no pick comes before it", "pick a card first")
            return Pick(least=least, most=most, of_it=True)
        return Pick(least=least, most=most, group=self._group(group))

    def _group(self, tree: Node, counted: bool = False) -> Group:
        words = [child for child in tree.children if isinstance(child, Token)]
        everywhere = next((word for word in words if word.type == "EVERYWHERE"), None)
        if everywhere is not None and not counted:
            self._add(everywhere, "cards everywhere can only be counted", "name a zone: in hand, in draw pile")
        side = next((word.type.lower() for word in words if word.type in ("OWN", "RIVAL")), "any")
        noun, filters = _only(tree, "noun").children[0], _only(tree, "filters")
        card_type = None if noun.type == "CARD" else self._name(TYPE, noun)
        found = tuple(self._filter(child) for child in _trees(filters)) if filters else ()
        zone = EVERYWHERE if everywhere is not None else next((self._name(ZONE, word) for word in words if word.type == "NAME"), None)
        return Group(side=side, type=card_type, filters=found, zone=zone)

    def _filter(self, tree: Node) -> Filter:
        words = tree.children
        match str(tree.data):
            case "other":
                return Other()
            case "tag":
                return HasTag(tag=self._name(TAG, words[1]))
            case "has":
                return HasKeyword(keyword=self._name(KEYWORD, words[1]))
            case "state":
                state = words[0].type.lower()
                return InState(state="hurt" if state == "wounded" else state)
            case "not_":
                return Not(filter=self._filter(words[1]))
            case "choice":
                field = self._name(CHOICE, words[0])
                return ChoiceIs(field=field, value=self._name(value_of(field), words[2]) if field else "")
            case "compare":
                compare: Any = words[1].type.lower()
                return StatCompare(field=self._name(STAT, words[0]), compare=compare, number=self._number(words[2]))
            case other:
                raise AssertionError(f"the grammar has a filter {other} that nothing reads")

    def _number(self, token: Token, least: int = 0, most: int = MOST_AMOUNT) -> int:
        value = int(token[:9])
        if len(token) > 9 or not least <= value <= most:
            self._add(token, f"{token[:12]} is out of range", f"write a number from {least} to {most}")
            return least or 1
        return value

    def _named(self, tree: Node) -> str:
        return self._name(_NAMED[str(tree.data)], tree.children[0])

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


def _trees(tree: Node) -> list[Node]:
    return [child for child in tree.children if isinstance(child, Tree)]


def _only(tree: Node, name: str) -> Node:
    return next((child for child in tree.children if isinstance(child, Tree) and child.data == name), None)


def _cue_of(tree: Node) -> Node:
    """The cue of a triggered line; a moment's alias replaces `cue`."""
    return next(child for child in _trees(tree) if str(child.data).removesuffix("_") in CUES)


def _is(child: Node, kind: str) -> bool:
    return isinstance(child, Token) and child.type == kind


def _listing(kind: str, known: list[str]) -> str:
    return f"write one of {', '.join(known[:6])}" if known else f"this game has no {kind} yet"
