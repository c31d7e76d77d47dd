"""Queries over a set's cards: a small language of our own, read to a tree with places, and answered card by card.

cost >= 3  bed is Fern, Moss  tags has climber      parts beside each other must all hold
cost from 2 to 4 or rarity > Grown                  `or` joins, `not` turns round, brackets group
unfinished  outlier  text does not fit              what the workbench knows of a card
in deck "Fern over Moss"  in set Ribbon Season      where a card is
open notes  changed since "before playtest 3"       what is said of it, and when it was touched
stale on paper  printed in "Playtest 3"             what of it lies on the table in print
copper larch                                        any other word is looked for in every text
"""

from __future__ import annotations

import operator
from collections.abc import Callable, Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from decimal import Decimal
from typing import Any, Protocol, assert_never

from dramok.core.cards.card import Card, Value
from dramok.core.cards.fields import FieldKind
from dramok.core.cards.fields.base import Key
from dramok.core.cards.schema import Schema
from dramok.core.cards.tokens import Token, Unreadable, tokens
from dramok.core.effects import NO_NAMES
from dramok.core.problem import fold, nearest_name

MOST_TEXT = 2_000
DEEPEST = 30
LONGEST_NAME = 6

FLAGS = {
    "unfinished": "something is still to be filled in, or typed wrongly",
    "outlier": "worth more or less than its cost buys",
    "over": "worth more than its cost buys",
    "under": "worth less than its cost buys",
    "fair": "worth what its cost buys",
    "open": "some of its worth is not decided",
    "text does not fit": "its face is too small for its text",
    "any fault": "the proof of its face finds something",
    "text too small": "a text on its face can't be read in print",
    "placements collide": "two filled placements of its face collide",
    "beyond the safe edge": "something to be read lies too near to the cut",
    "picture missing": "a picture on its face is not there",
    "picture too coarse": "a picture has under 300 dots an inch in print",
    "glyph missing": "a font lacks a character of its texts",
    "low contrast": "a text on its face is too like what lies under it",
    "adjusted": "its face has adjustments of its own",
    "behaviour not written": "its text prints, but does not play",
    "stale on paper": "its face is not as it was printed last",
    "up to date on paper": "its face is as it was printed last",
    "never printed": "no print run holds it",
    "in no deck": "no deck holds it",
    "without a name": "its code stands in for a name",
    "open notes": "a note on it waits for an answer",
    "answered notes": "a note on it is answered",
    "any notes": "somebody noted something on it",
}
"""What can be asked of a card without naming a field, with its meaning."""

SHORT = {
    "overfull": "text does not fit",
    "unwritten": "behaviour not written",
    "nameless": "without a name",
    "overruled": "adjusted",  # as it was called until 0.6
}
NOTED = {
    "open notes": frozenset({"open"}),
    "answered notes": frozenset({"answered"}),
    "any notes": frozenset({"open", "answered"}),
}
FAULTS = {
    "text too small": "small", "placements collide": "collision", "beyond the safe edge": "edge", "picture missing": "picture",
    "picture too coarse": "coarse", "glyph missing": "glyph", "low contrast": "contrast",
}  # fmt: skip
"""The kinds of fault that the proof of a face finds (see `faces.proof`)."""
PAPER = {"stale on paper": "stale", "up to date on paper": "current"}
JUDGED = frozenset(FLAGS) - {"in no deck", "without a name", "adjusted", "never printed", *NOTED}
_IN_ORDER: Mapping[str, Callable[[Any, Any], bool]] = {
    "<": operator.lt, "<=": operator.le, ">": operator.gt, ">=": operator.ge,
}  # fmt: skip
COMPARES = ("is not", "is", "=", "!=", "<=", ">=", "<", ">", "from", "has", "lacks")
NUMBERS = frozenset({int, float})
"""The classes of numbers; yes and no are none."""
COLUMNS = ("code", "type", "set", "verdict", "revision")
"""What every card has beside its fields."""


@dataclass(frozen=True)
class Standing:
    """What is known of a card beyond its document: its verdict (`difference` in points), whether text fits and plays, the kinds of fault on its face."""

    judgement: str
    difference: Decimal
    fits: bool
    written: bool
    unfinished: bool
    faults: frozenset[str] = frozenset()


class Facts(Protocol):
    """What a query asks of the game. Rows are the places of cards in `cards`."""

    @property
    def cards(self) -> Sequence[Card]: ...

    def column(self, field: str) -> Sequence[Value | None]:
        """The value of a field on every card, in the order of `cards`."""
        ...

    def folded(self, field: str) -> Sequence[tuple[str, ...]]:
        """The texts in a field, folded (see `problem.fold`), in the order of `cards`."""
        ...

    def standings(self) -> Sequence[Standing | None]:
        """How every card stands; None while it is not known yet."""
        ...

    def holding(self, text: str) -> Collection[int]:
        """The rows whose texts hold every word that begins so."""
        ...

    def in_deck(self, deck: str) -> Collection[int]:
        """The rows of a deck's cards."""
        ...

    def noted(self, states: Collection[str]) -> Collection[int]:
        """The rows of cards with a note in one of these states: open, answered."""
        ...

    def changed_since(self, mark: str) -> Collection[int]:
        """The rows of cards that are not as they were at a mark."""
        ...

    def printed(self, run: str | None) -> Collection[int]:
        """The rows of cards that were printed: by this run, or by any."""
        ...

    def on_paper(self, run: str | None) -> Mapping[int, str]:
        """`current` or `stale` by the row of each card that was printed, where its face is known; of a run, only its cards, by it and those after it."""
        ...


@dataclass(frozen=True)
class Names:
    """What can be named: the schema's fields, decks, sets, marks and print runs by id, the field that is the card's name."""

    schema: Schema
    decks: Mapping[str, str]
    sets: Mapping[str, str]
    name_field: str = "name"
    marks: Mapping[str, str] = field(default_factory=dict)
    runs: Mapping[str, str] = field(default_factory=dict)


@dataclass(frozen=True)
class Part:
    """One condition that stands by itself: `start` to `end` are its characters in the query."""

    start: int
    end: int
    text: str


Rows = set[int]
Making = Callable[[Facts], Rows]


@dataclass(frozen=True)
class Query:
    """A query that was read. `judged`: whether it asks for what is only known once cards are judged."""

    parts: tuple[Part, ...]
    make: Making
    judged: bool

    def answer(self, facts: Facts) -> tuple[list[Card], int]:
        """The cards that answer to it, in their order, and how many could not be asked yet because they are not judged."""
        cards = facts.cards
        rows = self.make(facts)
        unknown = _unknown(facts) if self.judged else set()
        return [cards[row] for row in sorted(rows - unknown)], len(unknown)


def _unknown(facts: Facts) -> Rows:
    standings = facts.standings()
    return {row for row, standing in enumerate(standings) if standing is None} if None in standings else set()


def read_query(text: str, names: Names) -> Query:
    """Raises Unreadable, with the place and the mend."""
    if len(text) > MOST_TEXT:
        raise Unreadable(
            "query", f"{len(text):,} characters are too many", f"keep to {MOST_TEXT:,}", MOST_TEXT, len(text)
        )
    return _Parser(text, names).whole()


class _Parser:
    def __init__(self, text: str, names: Names) -> None:
        self.text, self.names, self.found = text, names, tokens(text)
        self.at, self.depth, self.judged = 0, 0, False
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
        return Query(tuple(parts), _all(tests), self.judged)

    # The tokens.

    def look(self, ahead: int = 0) -> Token | None:
        return self.found[self.at + ahead] if self.at + ahead < len(self.found) else None

    def word(self, *wanted: str) -> str | None:
        """Takes one of these words or marks, when it comes next."""
        token = self.look()
        if token and token.kind in ("word", "mark") and fold(token.text) in wanted:
            self.at += 1
            return fold(token.text)
        return None

    def phrase(self, known: Collection[str]) -> str | None:
        """Takes the longest run of words that is one of these (folded) names. A quoted name is one by itself."""
        token = self.look()
        if token is None:
            return None
        if token.kind == "quoted":
            if fold(token.text) in known:
                self.at += 1
                return fold(token.text)
            return None
        for count in range(min(LONGEST_NAME, len(self.found) - self.at), 0, -1):
            run = self.found[self.at : self.at + count]
            said = fold(self.text[run[0].start : run[-1].end])
            if said in known:
                self.at += count
                return said
        return None

    def wrong(self, what: str, mend: str, near: str | None = None) -> Unreadable:
        token = self.look()
        start, end = (token.start, token.end) if token else (len(self.text), len(self.text) + 1)
        return Unreadable("query", what, mend, start, end, near)

    # The grammar.

    def either(self) -> Making:
        options = [self.item()]
        while self.word("or"):
            options.append(self.item())
        return options[0] if len(options) == 1 else _any(options)

    def bracketed(self) -> Making:
        """Conditions beside each other, up to the closing bracket; `or` binds more tightly, as it does outside."""
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
        return _all(made)

    def item(self) -> Making:
        token = self.look()
        if token is None:
            raise self.wrong("the query stops too early", "go on with a condition")
        if self.word("not"):
            inner = self.item()
            return lambda facts: _every(facts) - inner(facts)
        if self.word("("):
            return self.bracketed()
        if token.text == '"' and token.kind == "bad":
            raise self.wrong("a quote is not closed", 'write " at its end')
        if token.kind == "bad":
            return self.anywhere()
        if token.kind == "mark":
            raise self.wrong(
                f"“{token.text}” can't begin a condition",
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
            compare = self.compare()
            if compare is not None:
                return self.comparison(self.fields[field], compare)
            self.at = start
        return self.anywhere()

    def flag(self, flag: str) -> Making:
        self.judged |= flag in JUDGED
        if flag == "in no deck":
            decks = tuple(self.names.decks)
            return lambda facts: _every(facts).difference(*(facts.in_deck(deck) for deck in decks))
        if flag == "without a name":
            name = self.names.name_field
            return lambda facts: _rows(facts.column(name), lambda value: value is None)
        if flag == "adjusted":
            return lambda facts: {
                row
                for row, card in enumerate(facts.cards)
                if any(key.startswith("look/") for key in card.values)
            }
        if flag == "never printed":
            return lambda facts: _every(facts).difference(facts.printed(None))
        if flag in PAPER:
            state = PAPER[flag]
            return lambda facts: _on_paper(facts, None, state)
        if flag in NOTED:
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
        ident = self.named(known, kind or "deck or set")
        if ident in self.names.sets:
            return lambda facts: _rows(facts.column("set"), lambda value: value == ident)
        return lambda facts: set(facts.in_deck(ident))

    def since(self) -> Making:
        ident = self.named(self.names.marks, "mark")
        return lambda facts: set(facts.changed_since(ident))

    def printed(self, what: str) -> Making:
        ident = self.named(self.names.runs, "print run")
        if what == "printed in":
            return lambda facts: set(facts.printed(ident))
        self.judged = True
        return lambda facts: _on_paper(facts, ident, "stale")

    def named(self, known: Mapping[str, str], kind: str) -> str:
        """Takes the name of something known by id; gives the id."""
        by_name = {fold(name): ident for ident, name in known.items()}
        name = self.phrase(by_name)
        if name is not None:
            return by_name[name]
        token = self.look()
        near = nearest_name(token.text, known.values()) if token else None
        some = ", ".join(list(known.values())[:8]) or "none: there is none yet"
        raise self.wrong(
            f"there is no {kind} {token.text[:40]}" if token else f"which {kind}?",
            f"did you mean {near}?" if near else f"write one of {some}",
            near,
        )

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
            return lambda facts: _rows(facts.column(ident), lambda value: (value is not None) == full)
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
        return _yes(field.id, (wanted == "yes") == (sign == "="))

    def ordered(self, field: FieldKind, sign: str) -> Making:
        """Values that the field itself reads and puts in order."""
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
        """The order of a value as the field reads it: in quotes, or without a blank in it."""
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
        return lambda facts: _rows(
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

    def number(self) -> float:
        negative = bool(self.word("-"))
        token = self.look()
        if token is None or token.kind != "number":
            raise self.wrong(
                f"“{token.text[:30]}” is no number" if token else "which number?", "write a number, such as 3"
            )
        self.at += 1
        return -float(token.text) if negative else float(token.text)

    def choices(self, ident: str, field: FieldKind | None, sign: str) -> Making:
        named, noun = self.values(ident, field), field.name.lower() if field else ident
        order = {key: place for place, key in enumerate(named)}
        several = field is not None and field.compared == "choices"
        picked = [self.value(named, noun)]
        while self.word(","):
            picked.append(self.value(named, noun))
        if sign in ("=", "!=", "has", "lacks"):
            wanted, right = frozenset(picked), sign in ("=", "has")
            return lambda facts: _among(facts, ident, wanted, right, several)
        if sign == "from" or len(picked) > 1:
            raise self.wrong(f"{noun} is compared with one value", "write is, is not, <, <=, > or >=")
        place = order[picked[0]]
        passing = frozenset(value for value, number in order.items() if _IN_ORDER[sign](number, place))
        return lambda facts: _among(facts, ident, passing, True, several)

    def values(self, ident: str, field: FieldKind | None) -> dict[str, str]:
        """The names of a list's values by id, in their order."""
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
            return lambda facts: _every(facts).difference(facts.holding(wanted))
        whole, right = sign in ("=", "!="), sign in ("=", "has")
        return lambda facts: _texts_match(facts, ident, wanted, whole, right)

    def anywhere(self) -> Making:
        token = self.found[self.at]
        self.at += 1
        wanted = token.text
        if not wanted.strip():
            return _every
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


def _on_paper(facts: Facts, run: str | None, state: str) -> Rows:
    """Rows whose faces are as they were printed last, or are not."""
    return {row for row, held in facts.on_paper(run).items() if held == state}


def _every(facts: Facts) -> Rows:
    return set(range(len(facts.cards)))


def _all(made: Iterable[Making]) -> Making:
    held = tuple(made)

    def make(facts: Facts) -> Rows:
        if not held:
            return _every(facts)
        rows = held[0](facts)
        for each in held[1:]:
            rows = rows & each(facts) if rows else rows
        return rows

    return make


def _any(made: Iterable[Making]) -> Making:
    held = tuple(made)
    return lambda facts: set().union(*(each(facts) for each in held))


def _rows(column: Sequence[Value | None], test: Callable[[Value | None], bool]) -> Rows:
    return {row for row, value in enumerate(column) if test(value)}


def _yes(ident: str, wanted: bool) -> Making:
    return lambda facts: _rows(facts.column(ident), lambda value: bool(value) == wanted)


def _among(facts: Facts, ident: str, wanted: frozenset[str], right: bool, several: bool) -> Rows:
    """Rows that have one of the values, in a choice or among several; or those that have none of them."""
    column = enumerate(facts.column(ident))
    if several:
        found = {row for row, value in column if isinstance(value, tuple) and not wanted.isdisjoint(value)}
    else:
        found = {row for row, value in column if value in wanted}
    return found if right else _every(facts) - found


def _texts_match(facts: Facts, ident: str, wanted: str, whole: bool, right: bool) -> Rows:
    """Rows whose text is, or has in it, what is wanted (folded); or the others."""
    column = enumerate(facts.folded(ident))
    if whole:
        found = {row for row, texts in column if wanted in texts}
    else:
        found = {row for row, texts in column if texts and any([wanted in text for text in texts])}
    return found if right else _every(facts) - found
