"""The query language: parse a query to conditions with positions, and evaluate it over the cards of a game.

cost >= 3  bed is Fern, Moss  tags has climber      adjacent conditions must all hold
cost from 2 to 4 or rarity > Grown                  `or` joins, `not` negates, brackets group
unfinished  outlier  text does not fit              computed state of a card
in deck "Fern over Moss"  in set Ribbon Season      membership
open notes  changed since "before playtest 3"       notes and history
out of date on paper  printed in "Playtest 3"       printed copies
copper larch                                        any other word is searched in every text
"""

from __future__ import annotations

import operator
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any, assert_never

from dramok.core.cards.query.flags import FAULTS, FLAGS, JUDGED, NOTED, PAPER, SHORT
from dramok.core.cards.query.query_names import MeantKind, Named, Names
from dramok.core.cards.query.query_parser import TokenReader
from dramok.core.cards.query.query_source import Facts, Making, Rows, Standing
from dramok.core.cards.query.row_set import (
    all_of,
    among,
    any_of,
    every,
    on_paper,
    rows_where,
    texts_match,
    yes_or_no,
)
from dramok.core.cards.schema.card import Card
from dramok.core.cards.schema.fields import FieldKind
from dramok.core.cards.schema.fields.base import Key
from dramok.core.cards.schema.lexer import Unreadable
from dramok.core.effects import NO_NAMES
from dramok.core.problem import fold, nearest_name

MOST_TEXT = 2_000
DEEPEST = 30

_IN_ORDER: Mapping[str, Callable[[Any, Any], bool]] = {
    "<": operator.lt, "<=": operator.le, ">": operator.gt, ">=": operator.ge,
}  # fmt: skip
COMPARES = ("is not", "is", "=", "!=", "<=", ">=", "<", ">", "from", "has", "lacks")
NUMBERS = frozenset({int, float})
"""The Python types of numbers; booleans do not count."""
COLUMNS = ("code", "type", "set", "verdict", "revision")
"""The columns of every card besides its fields."""


@dataclass(frozen=True)
class Part:
    """One complete condition: `start` to `end` are its characters in the query."""

    start: int
    end: int
    text: str


@dataclass(frozen=True)
class Query:
    """A parsed query. `judged`: whether it needs verdicts.

    `named`: the names in it, in order. `around`: its first condition that needs data outside the card, such as
    a deck; empty if there is none.
    """

    parts: tuple[Part, ...]
    make: Making
    judged: bool
    named: tuple[Named, ...] = ()
    around: str = ""

    def answer(self, facts: Facts) -> tuple[list[Card], int]:
        """The matching cards in order, and the number of cards that could not be tested because they have no
        verdict yet.
        """
        cards = facts.cards
        rows = self.make(facts)
        unknown = _unknown(facts) if self.judged else set()
        return [cards[row] for row in sorted(rows - unknown)], len(unknown)


def _unknown(facts: Facts) -> Rows:
    standings = facts.standings()
    return {row for row, standing in enumerate(standings) if standing is None} if None in standings else set()


def read_query(text: str, names: Names) -> Query:
    """Parse a query. Raises Unreadable, with the position and the fix."""
    if len(text) > MOST_TEXT:
        raise Unreadable(
            "query", f"{len(text):,} characters are too many", f"keep to {MOST_TEXT:,}", MOST_TEXT, len(text)
        )
    return _Parser(text, names).whole()


class _Parser(TokenReader):
    def __init__(self, text: str, names: Names) -> None:
        super().__init__(text)
        self.names, self.depth, self.judged, self.around = names, 0, False, ""
        self.fields: dict[str, str] = {each: each for each in COLUMNS}
        self.fields |= {fold(field.name): field.id for field in names.schema.fields}

    def whole(self) -> Query:
        parts: list[Part] = []
        tests: list[Making] = []
        while self.at < len(self.found):
            self.word("and")
            start = self.found[self.at].start if self.at < len(self.found) else len(self.text)
            made = self.either()
            end = self.found[self.at - 1]
            last = end.end
            parts.append(Part(start, last, self.text[start:last]))
            tests.append(made)
        return Query(tuple(parts), all_of(tests), self.judged, tuple(self.named), self.around)

    def either(self) -> Making:
        options = [self.item()]
        while self.word("or"):
            options.append(self.item())
        return options[0] if len(options) == 1 else any_of(options)

    def bracketed(self) -> Making:
        """Adjacent conditions up to the closing bracket; `or` binds more tightly, as it does outside."""
        self.depth += 1
        if self.depth > DEEPEST:
            raise self.wrong("too many brackets within each other", "take some out")
        made = [self.either()]
        while not self.word(")"):
            self.word("and")
            if self.look() is None:
                raise self.wrong("a bracket is not closed", "write )")
            made.append(self.either())
        self.depth -= 1
        return all_of(made)

    def item(self) -> Making:
        token = self.look()
        if token is None:
            raise self.wrong("the query is not complete", "go on with a condition")
        if self.word("not"):
            inner = self.item()
            return lambda facts: every(facts) - inner(facts)
        if self.word("("):
            return self.bracketed()
        if token.text == '"' and token.kind == "bad":
            raise self.wrong("a quote is not closed", 'write " at its end')
        if token.kind == "bad":
            return self.anywhere()
        if token.kind == "mark":
            raise self.wrong(
                f"“{token.text}” can't start a condition",
                "name a field first, such as cost >= 3; put text in quotes",
            )
        if token.kind != "quoted":
            flag = self.phrase({*FLAGS, *SHORT})
            if flag:
                return self.flag(SHORT.get(flag, flag))
            if self.phrase({"changed since"}):
                return self.since()
            paper = self.phrase({"printed in", "stale since"})
            if paper:
                return self.printed(paper)
            if self.word("in"):
                return self.place()
        start = self.at
        field = self.phrase(self.fields)
        if field is not None:
            after = self.at
            compare = self.compare()
            if compare is not None:
                if self.names.schema.field(self.fields[field]):
                    self.note(start, after, "field", self.fields[field])
                return self.comparison(self.fields[field], compare)
            self.at = start
        return self.anywhere()

    def flag(self, flag: str) -> Making:
        self.judged |= flag in JUDGED
        if flag == "in no deck":
            self.beyond("a deck")
            decks = tuple(self.names.decks)
            return lambda facts: every(facts).difference(*(facts.in_deck(deck) for deck in decks))
        if flag == "without a name":
            name = self.names.name_field
            return lambda facts: rows_where(facts.column(name), lambda value: value is None)
        if flag == "adjusted":
            return lambda facts: {
                row
                for row, card in enumerate(facts.cards)
                if any(key.startswith("look/") for key in card.values)
            }
        if flag == "never printed":
            self.beyond("a print run")
            return lambda facts: every(facts).difference(facts.printed(None))
        if flag in PAPER:
            state = PAPER[flag]
            return lambda facts: on_paper(facts, None, state)
        if flag in NOTED:
            self.beyond("a note")
            states = NOTED[flag]
            return lambda facts: set(facts.noted(states))
        return lambda facts: {
            row for row, each in enumerate(facts.standings()) if each is not None and _is(flag, each)
        }

    def place(self) -> Making:
        kind = self.word("deck", "set")
        known = {"deck": self.names.decks, "set": self.names.sets}.get(
            kind or "", {**self.names.decks, **self.names.sets}
        )
        start = self.at
        ident = self.known(known, kind or "deck or set")
        self.note(start, self.at, "set" if ident in self.names.sets else "deck", ident)
        if ident in self.names.sets:
            return lambda facts: rows_where(facts.column("set"), lambda value: value == ident)
        self.beyond("a deck")
        return lambda facts: set(facts.in_deck(ident))

    def beyond(self, what: str) -> None:
        """Record that the query needs data outside the card."""
        self.around = self.around or what

    def since(self) -> Making:
        start = self.at
        ident = self.known(self.names.marks, "mark")
        self.note(start, self.at, "mark", ident)
        self.beyond("a mark")
        return lambda facts: set(facts.changed_since(ident))

    def printed(self, what: str) -> Making:
        start = self.at
        ident = self.known(self.names.runs, "print run")
        self.note(start, self.at, "run", ident)
        self.beyond("a print run")
        if what == "printed in":
            return lambda facts: set(facts.printed(ident))
        self.judged = True
        return lambda facts: on_paper(facts, ident, "stale")

    def compare(self) -> str | None:
        sign = self.word("is", "=", "!=", "<=", ">=", "<", ">", "from", "has", "lacks")
        if sign == "is" and self.word("not"):
            return "!="
        return "=" if sign == "is" else sign

    def comparison(self, ident: str, sign: str) -> Making:
        if self.word("empty"):
            if sign not in ("=", "!="):
                raise self.wrong("a field is empty, or is not empty", "write is empty")
            full = sign == "!="
            return lambda facts: rows_where(facts.column(ident), lambda value: (value is not None) == full)
        if ident in ("verdict", "revision"):
            return self.numbers(ident, sign)
        field = self.names.schema.field(ident)
        if field is None:
            return (
                self.choices(ident, None, sign)
                if ident in ("type", "set")
                else self.texts(ident, False, sign)
            )
        match field.compared:
            case "number":
                return self.numbers(ident, sign)
            case "choice" | "choices":
                return self.choices(ident, field, sign)
            case "yesno":
                return self.yes_or_no(field, sign)
            case "text" | "effect":
                return self.texts(ident, field.compared == "effect", sign)
            case "ordered":
                return self.ordered(field, sign)
            case _:
                assert_never(field.compared)

    def yes_or_no(self, field: FieldKind, sign: str) -> Making:
        wanted = self.word("yes", "no")
        if wanted is None or sign not in ("=", "!="):
            raise self.wrong(f"{field.name} is yes or no", "write is yes or is no")
        return yes_or_no(field.id, (wanted == "yes") == (sign == "="))

    def ordered(self, field: FieldKind, sign: str) -> Making:
        """Values that the field parses and orders."""
        if sign in ("has", "lacks"):
            raise self.wrong(f"{field.name} is compared whole", "compare it: is, <, <=, >, >=, from … to …")
        first = self.own_value(field)
        if sign == "from":
            if not self.word("to"):
                raise self.wrong("up to which?", "write from … to …")
            last = self.own_value(field)
            return self.keyed(field, lambda key: first <= key <= last)
        if sign in ("=", "!="):
            wanted = {first}
            while self.word(","):
                wanted.add(self.own_value(field))
            return self.keyed(field, lambda key: (key in wanted) == (sign == "="))
        return self.keyed(field, lambda key: _IN_ORDER[sign](key, first))

    def own_value(self, field: FieldKind) -> Key:
        """One ordered value as the field parses it: quoted, or without blanks."""
        run = self.found[self.at : self.at + 1]
        while run and run[0].kind != "quoted" and self.at + len(run) < len(self.found):
            following = self.found[self.at + len(run)]
            if following.start != run[-1].end or following.text in (",", "(", ")"):
                break
            run.append(following)
        typed = "".join(each.text for each in run)
        value, problems = field.read(field.tidied(typed), self.names.schema, NO_NAMES, None)
        if value is None:
            problem = problems[0] if problems else None
            raise self.wrong(
                problem.what if problem else f"which {field.name.lower()}?",
                problem.mend if problem else "write one",
            )
        self.at += len(run)
        return field.order(value, self.names.schema)

    def keyed(self, field: FieldKind, test: Callable[[Key], bool]) -> Making:
        schema = self.names.schema
        return lambda facts: rows_where(
            facts.column(field.id), lambda value: value is not None and test(field.order(value, schema))
        )

    def numbers(self, ident: str, sign: str) -> Making:
        if sign in ("has", "lacks"):
            raise self.wrong("a number has nothing in it", "compare it: is, <, <=, >, >=, from … to …")
        first = self.number()
        if sign == "from":
            if not self.word("to"):
                raise self.wrong("up to which number?", "write from 2 to 4")
            last = self.number()
            return self.numeric(ident, lambda number: first <= number <= last)
        if sign in ("=", "!="):
            wanted = {first}
            while self.word(","):
                wanted.add(self.number())
            return self.numeric(
                ident,
                (lambda number: number in wanted) if sign == "=" else (lambda number: number not in wanted),
            )
        return self.numeric(ident, lambda number: _IN_ORDER[sign](number, first))

    def numeric(self, ident: str, test: Callable[[float], bool]) -> Making:
        if ident == "verdict":
            self.judged = True
            return lambda facts: {
                row
                for row, each in enumerate(facts.standings())
                if each is not None and each.judgement != "open" and test(float(each.difference))
            }
        return lambda facts: {
            row
            for row, value in enumerate(facts.column(ident))
            if value.__class__ in NUMBERS and test(value)  # type: ignore[arg-type]
        }

    def choices(self, ident: str, field: FieldKind | None, sign: str) -> Making:
        named, noun = self.values(ident, field), field.name.lower() if field else ident
        order = {key: place for place, key in enumerate(named)}
        several = field is not None and field.compared == "choices"
        kind: MeantKind = "choice" if field else "type" if ident == "type" else "set"
        of = str(getattr(field, "list", "")) if field else ""
        picked: list[str] = []
        while not picked or self.word(","):
            start = self.at
            picked.append(self.value(named, noun))
            self.note(start, self.at, kind, picked[-1], of)
        if sign in ("=", "!=", "has", "lacks"):
            wanted, right = frozenset(picked), sign in ("=", "has")
            return lambda facts: among(facts, ident, wanted, right, several)
        if sign == "from" or len(picked) > 1:
            raise self.wrong(f"{noun} is compared with one value", "write is, is not, <, <=, > or >=")
        place = order[picked[0]]
        passing = frozenset(value for value, number in order.items() if _IN_ORDER[sign](number, place))
        return lambda facts: among(facts, ident, passing, True, several)

    def values(self, ident: str, field: FieldKind | None) -> dict[str, str]:
        """The names of a list's values by id, in order."""
        if ident == "type":
            return {each.id: each.name for each in self.names.schema.types if not each.abstract}
        if ident == "set":
            return dict(self.names.sets)
        choices = self.names.schema.choices(field)
        assert choices is not None
        return {value.id: value.name for value in choices.values}

    def value(self, named: Mapping[str, str], noun: str) -> str:
        by_name = {fold(name): ident for ident, name in named.items()}
        name = self.phrase(by_name)
        if name is not None:
            return by_name[name]
        token = self.look()
        near = nearest_name(token.text, named.values()) if token else None
        what = f"no {noun} is called {token.text[:40]}" if token else f"which {noun}?"
        mend = f"did you mean {near}?" if near else f"write one of {', '.join(list(named.values())[:8])}"
        raise self.wrong(what, mend, near)

    def texts(self, ident: str, effect: bool, sign: str) -> Making:
        token = self.look()
        if token is None or token.kind in ("mark", "bad"):
            raise self.wrong("which text?", "write a word, or words in quotes")
        self.at += 1
        wanted = fold(token.text)
        if sign not in ("=", "!=", "has", "lacks"):
            raise self.wrong("texts have no order here", "write has, lacks, is or is not")
        if effect:
            if sign in ("=", "!="):
                raise self.wrong("an effect is looked through with has or lacks", "write has")
            if sign == "has":
                return lambda facts: set(facts.holding(wanted))
            return lambda facts: every(facts).difference(facts.holding(wanted))
        whole, right = sign in ("=", "!="), sign in ("=", "has")
        return lambda facts: texts_match(facts, ident, wanted, whole, right)

    def anywhere(self) -> Making:
        token = self.found[self.at]
        self.at += 1
        wanted = token.text
        if not wanted.strip():
            return every
        return lambda facts: set(facts.holding(wanted))


def _is(flag: str, standing: Standing) -> bool:
    match flag:
        case "unfinished":
            return standing.unfinished
        case "outlier":
            return standing.judgement in ("over", "under")
        case "text does not fit":
            return not standing.fits
        case "behaviour not written":
            return not standing.written
        case "any fault":
            return bool(standing.faults)
        case _ if flag in FAULTS:
            return FAULTS[flag] in standing.faults
        case _:
            return standing.judgement == flag
