"""Derived fields: a small expression over a card's other fields, read by our own parser and never run as code.

    #height + #root          fields by id; a person types and sees their names: Height + Root, "Wet root" * 2
    round(#cost / 2)        min max sum round floor ceiling abs count
    if #bed is Fern then 2 else 0      comparisons: is, is not, < <= > >= ; joined by and, or, not

Numbers are exact fractions. An empty number counts as 0; a formula whose fields are all empty gives nothing.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from fractions import Fraction
from functools import lru_cache
from typing import TYPE_CHECKING

from dramok.core.cards.tokens import Token, Unreadable, tokens
from dramok.core.problem import fold, nearest_name

if TYPE_CHECKING:
    from dramok.core.cards.fields import DerivedField, FieldKind
    from dramok.core.cards.schema import Schema

DEEPEST = 40
_FUNCTIONS: dict[str, tuple[int, int]] = {
    "min": (1, 20), "max": (1, 20), "sum": (1, 20), "round": (1, 1), "floor": (1, 1), "ceiling": (1, 1), "abs": (1, 1), "count": (1, 20),
}  # fmt: skip
YES_OR_NO = {"yes": True, "true": True, "no": False, "false": False}
_WORDS = {"if", "then", "else", "and", "or", "not", "is"}
_COMPARES = ("=", "!=", "<", "<=", ">", ">=")
_SIGNS = {"×": "*", "·": "*", "÷": "/", "−": "-", "–": "-", "≤": "<=", "≥": ">=", "≠": "!="}
"""Signs as they are printed."""
_GOES_ON = re.compile(r"[a-z0-9-]")
"""What would be taken for more of an id."""
Moved = Mapping[tuple[str, str], str]
"""Values that others take the place of: (list, value) to the other value."""

@dataclass(frozen=True)
class Node:
    """`kind` is number, text, empty, field, call, compare, and, or, not, if, or the mark of an arithmetic step."""

    kind: str
    parts: tuple[Node, ...] = ()
    name: str = ""
    number: Fraction = Fraction(0)


@lru_cache(maxsize=2_000)
def parse_formula(text: str) -> Node:
    """Reads a stored formula, its fields as `#id`. Raises Unreadable."""
    return _Parser(text).whole()


def fields_in(node: Node) -> Iterator[str]:
    """The ids of the fields that a formula reads."""
    if node.kind == "field":
        yield node.name
    for part in node.parts:
        yield from fields_in(part)


def stored_formula(typed: str, schema: Schema, type_id: str) -> str:
    """A typed formula with every field as `#id`, so that renaming a field changes nothing. Raises Unreadable."""
    names = {fold(field.name): field for field in schema.fields_of(type_id)}
    found, put, at = _tokens(typed), [], 0
    for index, token in enumerate(found):
        ident = _field_meant(found, index, schema, type_id, names)
        put += [typed[at : token.start], f"#{ident}" if ident else typed[token.start : token.end]]
        at = token.end
        if ident and _GOES_ON.match(typed, at):
            put.append(" ")
    stored = "".join([*put, typed[at:]]).strip()
    _Parser(stored).whole()
    return stored


def shown_formula(stored: str, schema: Schema, type_id: str) -> str:
    """A stored formula with the fields' names in the place of their ids. A name that no quotes can hold stays as its id."""
    put, at = [], 0
    for token in tokens(stored):
        if token.kind != "id":
            continue
        field = schema.field_of(type_id, token.text[1:])
        name = field.name if field else token.text
        put += [stored[at : token.start], token.text if '"' in name else _written(name)]
        at = token.end
    return "".join([*put, stored[at:]])


def renamed_formula(stored: str, before: Schema, after: Schema, type_id: str, moved: Moved) -> str:
    """A stored formula in which choices have the names that they have `after`. Raises Unreadable for a name that no quotes can hold."""
    found, put, at = tokens(stored), [], 0
    for index, token in enumerate(found):
        left = _compared_with(found, index)
        field = before.field_of(type_id, left.text[1:]) if left and left.kind == "id" else None
        choices = before.choices(field)
        if choices is None or _is_empty(token):
            continue
        named = next((each for each in (*choices.offered, *choices.values) if fold(each.name) == fold(token.text)), None)
        if named is None or not after.has_list(choices.id):
            continue
        now = after.list(choices.id).get(moved.get((choices.id, named.id), named.id))
        if now is None or fold(now.name) == fold(token.text):
            continue
        if '"' in now.name:
            raise Unreadable("formula", f"its formula names {named.name}, and can't hold a name with quotes", "choose a name without them", token.start, token.end)
        put += [stored[at : token.start], _written(now.name)]
        at = token.end
    return "".join([*put, stored[at:]])


def _tokens(text: str) -> list[Token]:
    """Tokens, with signs as they are typed at a keyboard."""
    return [
        Token("mark", _SIGNS[each.text], each.start, each.end) if each.text in _SIGNS else each for each in tokens(text)
    ]


def _written(name: str) -> str:
    """A name as it can stand in a formula: in quotes, unless it is one word that means nothing here."""
    read = tokens(name)
    bare = len(read) == 1 and read[0].kind == "word" and fold(name) not in {*_WORDS, *_FUNCTIONS, "empty"}
    return name if bare else f'"{name}"'


def _field_meant(
    found: Sequence[Token], index: int, schema: Schema, type_id: str, names: Mapping[str, FieldKind]
) -> str | None:
    """The id of the field that a token names; None for one that names none. Raises Unreadable for a name of nothing."""
    token = found[index]
    if token.kind == "id" and not schema.has_field(type_id, token.text[1:]):
        raise _unknown_field(token, names)
    if token.kind not in ("word", "quoted") or _is_word(found, index):
        return None
    named = names.get(fold(token.text))
    left = _compared_with(found, index)
    field = None
    if left is not None:
        field = schema.field_of(type_id, left.text[1:]) if left.kind == "id" else names.get(fold(left.text))
    if field is None:
        if named is None:
            raise _unknown_field(token, names)
        return named.id
    if _is_empty(token):
        return None
    if named is not None and (field.kind == "number" or not _is_value(token.text, field, schema)):
        return named.id
    if _is_value(token.text, field, schema):
        return None
    raise _no_value(token, field, schema)


def _is_value(text: str, field: FieldKind, schema: Schema) -> bool:
    """Whether a field may be compared with a text: one of its choices, yes or no, a number; of a derived one, what any field may hold."""
    choices = schema.choices(field)
    if choices is not None:
        return fold(text) in {fold(each.name) for each in choices.values}
    match field.kind:
        case "yesno":
            return fold(text) in YES_OR_NO
        case "number":
            return is_number(text)
        case "derived":
            every = {fold(value.name) for each in schema.lists for value in each.values}
            named = any(fold(each.name) == fold(text) for each in schema.fields)
            return fold(text) in {*YES_OR_NO, *every} or not named
        case _:
            return True


def is_number(text: str) -> bool:
    try:
        Fraction(text)
    except (ValueError, ZeroDivisionError):
        return False
    return True


def _no_value(token: Token, field: FieldKind, schema: Schema) -> Unreadable:
    choices = schema.choices(field)
    if choices is None:
        what = f"{field.name} is {'yes or no' if field.kind == 'yesno' else 'a number'}, not {token.text[:40]}"
        mend = "write is yes or is no" if field.kind == "yesno" else "compare it with a number or another field"
        return Unreadable("formula", what, mend, token.start, token.end)
    near = nearest_name(token.text, [each.name for each in choices.offered])
    some = ", ".join(each.name for each in choices.offered[:8])
    mend = f"did you mean {near}?" if near else f"write one of {some}" if some else "add it to the list first"
    return Unreadable("formula", f"no {field.name} is called {token.text[:40]}", mend, token.start, token.end, near)


def _compared_with(found: Sequence[Token], index: int) -> Token | None:
    """What stands before `is`, `is not`, `=` or `!=` where a token is compared by them: a name or an id."""
    if found[index].kind not in ("word", "quoted") or (found[index].kind == "word" and fold(found[index].text) == "not"):
        return None
    before = [fold(token.text) if token.kind in ("word", "mark") else "" for token in found[max(0, index - 2) : index]]
    if before[-1:] and before[-1] in ("is", "=", "!="):
        place = index - 2
    elif before == ["is", "not"]:
        place = index - 3
    else:
        return None
    left = found[place] if place >= 0 else None
    return left if left is not None and left.kind in ("word", "quoted", "id") else None


def _is_empty(token: Token) -> bool:
    return token.kind == "word" and fold(token.text) == "empty"


def _is_word(found: Sequence[Token], index: int) -> bool:
    token = found[index]
    calls = index + 1 < len(found) and found[index + 1].text == "("
    return token.kind == "word" and (fold(token.text) in _WORDS or (calls and fold(token.text) in _FUNCTIONS))


def _unknown_field(token: Token, names: Mapping[str, FieldKind]) -> Unreadable:
    near = nearest_name(token.text, [field.name for field in names.values()])
    mend = (
        f"did you mean {near}?"
        if near
        else f"write one of {', '.join(field.name for field in list(names.values())[:10])}"
    )
    return Unreadable("formula", f"there is no field {token.text[:40]}", mend, token.start, token.end, near)


class _Parser:
    def __init__(self, text: str) -> None:
        self.found = _tokens(text)
        self.end = len(text)
        self.at = 0
        self.depth = 0

    def whole(self) -> Node:
        node = self.expression()
        if self.at < len(self.found):
            raise self.wrong("the end, or a sign such as + or ×")
        return node

    def look(self) -> str:
        return (
            fold(self.found[self.at].text)
            if self.at < len(self.found) and self.found[self.at].kind in ("word", "mark")
            else ""
        )

    def take(self, *wanted: str) -> str | None:
        if self.look() in wanted and self.look():
            self.at += 1
            return fold(self.found[self.at - 1].text)
        return None

    def need(self, wanted: str) -> None:
        if self.take(wanted) is None:
            raise self.wrong(f"“{wanted}”")

    def wrong(self, wanted: str) -> Unreadable:
        if self.at >= len(self.found):
            return Unreadable(
                "formula", "the formula is not complete", f"go on with {wanted}", self.end, self.end + 1
            )
        token = self.found[self.at]
        return Unreadable(
            "formula", f"“{token.text[:40]}” can't be here", f"write {wanted}", token.start, token.end
        )

    def expression(self) -> Node:
        self.depth += 1
        if self.depth > DEEPEST:
            raise Unreadable(
                "formula", "the formula is nested too deeply", "split it into two derived fields", 0, 1
            )
        try:
            if self.take("if"):
                condition = self.expression()
                self.need("then")
                then = self.expression()
                self.need("else")
                return Node("if", (condition, then, self.expression()))
            return self.joined("or", lambda: self.joined("and", self.negated))
        finally:
            self.depth -= 1

    def joined(self, word: str, inner: Callable[[], Node]) -> Node:
        parts = [inner()]
        while self.take(word):
            parts.append(inner())
        return Node(word, tuple(parts)) if len(parts) > 1 else parts[0]

    def negated(self) -> Node:
        negations = 0
        while self.take("not"):
            negations += 1
        inner = self.compared()
        return Node("not", (inner,)) if negations % 2 else inner

    def compared(self) -> Node:
        left = self.chain(("+", "-"), lambda: self.chain(("*", "/"), self.signed))
        sign = self.take(*_COMPARES)
        if sign is None and self.take("is"):
            sign = "!=" if self.take("not") else "="
        if sign is None:
            return left
        token = self.found[self.at] if self.at < len(self.found) else None
        if left.kind == "field" and sign in ("=", "!=") and token and token.kind in ("word", "quoted"):
            self.at += 1
            right = Node("empty" if _is_empty(token) else "text", name=token.text)
        else:
            right = self.chain(("+", "-"), lambda: self.chain(("*", "/"), self.signed))
        return Node("compare", (left, right), sign)

    def chain(self, signs: tuple[str, ...], inner: Callable[[], Node]) -> Node:
        node = inner()
        while sign := self.take(*signs):
            node = Node(sign, (node, inner()))
        return node

    def signed(self) -> Node:
        negative = False
        while self.take("-"):
            negative = not negative
        node = self.atom()
        return Node("-", (Node("number"), node)) if negative else node

    def atom(self) -> Node:
        token = self.found[self.at] if self.at < len(self.found) else None
        if token is None:
            raise self.wrong("a number or a field")
        if token.kind == "number":
            self.at += 1
            return Node("number", number=Fraction(token.text))
        if token.kind == "id":
            self.at += 1
            return Node("field", name=token.text[1:])
        if self.take("("):
            node = self.expression()
            self.need(")")
            return node
        name = fold(token.text)
        if token.kind == "word" and name in _FUNCTIONS:
            self.at += 1
            return self.call(name, token)
        raise self.wrong("a number or a field")

    def call(self, name: str, token: Token) -> Node:
        self.need("(")
        parts = [self.expression()]
        while self.take(","):
            parts.append(self.expression())
        self.need(")")
        least, most = _FUNCTIONS[name]
        if not least <= len(parts) <= most:
            raise Unreadable(
                "formula",
                f"{name} takes {least if least == most else f'{least} to {most}'} values",
                "take some out",
                token.start,
                token.end,
            )
        return Node("call", tuple(parts), name)


def check_formulas(schema: Schema) -> None:
    """Raises ValueError for a formula that can't be read, names a field its type has not, or stands in a circle."""
    for card_type in schema.types:
        derived = {field.id: field for field in schema.derived_of(card_type.id)}
        for field in derived.values():
            try:
                read = parse_formula(field.formula)
            except Unreadable as error:
                raise ValueError(f"{field.name}: {error.problem.what}; {error.problem.mend}") from error
            for ident in fields_in(read):
                found = schema.field_of(card_type.id, ident)
                if found is None or found.retired:
                    raise ValueError(
                        f"{field.name} is derived from {found.name if found else ident}, which {card_type.name} has not"
                    )
        _no_circle(derived)


def _no_circle(derived: Mapping[str, DerivedField]) -> None:
    """Each field is looked at once: `walked` are those on the way to the one at hand, `sound` those that lead to no circle."""
    needs = {
        ident: [each for each in dict.fromkeys(fields_in(parse_formula(field.formula))) if each in derived]
        for ident, field in derived.items()
    }
    sound: set[str] = set()
    for start in derived:
        walked: dict[str, Iterator[str]] = {start: iter(needs[start])} if start not in sound else {}
        while walked:
            at = next(reversed(walked))
            ident = next(walked[at], None)
            if ident is None:
                sound.add(at)
                del walked[at]
            elif ident in walked:
                path = list(walked)
                names = [derived[each].name for each in [*path[path.index(ident) :], ident]]
                raise ValueError(f"derived fields depend on each other in a circle: {' → '.join(names)}")
            elif ident not in sound:
                walked[ident] = iter(needs[ident])
