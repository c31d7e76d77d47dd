"""Parse one line of text to an ability, or to all its problems."""

from __future__ import annotations

from collections.abc import Iterator
from functools import cache
from itertools import pairwise
from typing import Any

from lark import Lark, Token
from lark.exceptions import UnexpectedInput, UnexpectedToken

from dramok.core.effects.grammar import GRAMMAR, plain
from dramok.core.effects.lexer import EffectLexer, tokens
from dramok.core.effects.model import Ability, Amount
from dramok.core.effects.resolver import Resolver
from dramok.core.effects.vocabulary import Vocabulary
from dramok.core.problem import Problem, Span, nearest_name

MOST_CHARACTERS = 500
MOST_DEPTH = 8
WHERE = "effect"
_AMOUNT = ("a whole number", "count", "a stat of a card")


@cache
def _parser() -> Lark:
    return Lark(GRAMMAR, parser="lalr", strict=True, lexer=EffectLexer, start=["ability", "step", "lasting", "sum"])


def parse_ability(
    text: str, vocabulary: Vocabulary, line: int = 1
) -> tuple[Ability | None, tuple[Problem, ...]]:
    """Parse one line. Returns the ability without problems, or None with at least one problem.

    `line` is the line number for the spans of problems; columns count from 1 within the line.
    """
    if len(text) > MOST_CHARACTERS:
        what = f"this line has {len(text)} characters; {MOST_CHARACTERS} are the most"
        return None, (
            _problem(what, "split it into several lines", Span(line=line, column=1, length=len(text))),
        )
    found = list(tokens(text))
    deep = _too_deep(found, line)
    if deep is not None:
        return None, (deep,)
    resolver = Resolver(vocabulary, line)
    try:
        tree: Any = _parser().parse(found, start="ability")
    except UnexpectedInput as error:
        problems = _salvaged(found, _syntax(error, found, len(text.rstrip()), line), resolver, text, line)
    else:
        ability, problems = resolver.ability(tree), []
        if ability is not None:
            return ability, ()
    every = (*problems, *resolver.problems)
    return None, tuple(sorted(every, key=lambda problem: problem.span.column if problem.span else 0))


def parse_amount(text: str, vocabulary: Vocabulary) -> tuple[Amount | None, tuple[Problem, ...]]:
    """Parse an amount that belongs to no card, such as a line of a score sheet.

    Returns the amount without problems, or None with at least one problem.
    """
    found = list(tokens(text))
    if len(text) > MOST_CHARACTERS:
        return None, (_problem(f"this amount has {len(text)} characters", f"keep to {MOST_CHARACTERS}", Span(line=1, column=1, length=len(text))),)
    deep = _too_deep(found, 1)
    if deep is not None:
        return None, (deep,)
    resolver = Resolver(vocabulary, 1)
    try:
        tree: Any = _parser().parse(found, start="sum")
    except UnexpectedInput as error:
        return None, (_syntax(error, found, len(text.rstrip()), 1),)
    return resolver.amount(tree)


def _salvaged(found: list[Token], whole: Problem, resolver: Resolver, text: str, line: int) -> list[Problem]:
    """The problems of a line that does not parse as a whole: each step is parsed separately."""
    colons = [index for index, token in enumerate(found) if token.type == "COLON"]
    if not colons:
        return [whole]
    colon = found[colons[0]]
    problems = [whole] if whole.span and whole.span.column <= (colon.start_pos or 0) + 1 else []
    start = "lasting" if found[0].type == "ALWAYS" else "step"
    for piece in _pieces(found[colons[0] + 1 :]):
        try:
            tree: Any = _parser().parse(piece, start=start)
        except UnexpectedInput as error:
            end = (piece[-1].end_pos or 0) if piece[-1] is not found[-1] else len(text.rstrip())
            problems.append(_syntax(error, piece, end, line))
        else:
            resolver.step(tree)
    return problems or [whole]


def _pieces(found: list[Token]) -> Iterator[list[Token]]:
    """The tokens between semicolons, if there are any."""
    piece: list[Token] = []
    for token in found:
        if token.type != "SEMICOLON":
            piece.append(token)
        elif piece:
            yield piece
            piece = []
    if piece:
        yield piece


def _syntax(error: UnexpectedInput, found: list[Token], end: int, line: int) -> Problem:
    expected: tuple[str, ...] = ()
    token: Token | None = None
    if isinstance(error, UnexpectedToken):
        token = error.token
        accepted = error.accepts or error.expected
        words = {plain(terminal) for terminal in accepted if terminal != "BAD"}
        expected = tuple(sorted(words, key=lambda word: (not word[0].isalpha(), word)))
        before = next((one for one, other in pairwise(found) if other is token and one.type == "NAME"), None)
        if expected == ("of",) and before is not None:
            # A name was read as a stat of a card where an amount was expected.
            token, expected = before, _AMOUNT
    at_end = token is None or token.type == "$END"
    column = end + 1 if at_end or token is None else (token.start_pos or 0) + 1
    length = 1 if at_end or token is None else len(token.value) or 1
    typed = "" if at_end or token is None else str(token.value)
    nearest = nearest_name(typed, [word for word in expected if word.isalpha()]) if typed else None
    what = "the line is not complete" if at_end else f"“{typed[:40]}” can't be here"
    listed = " or ".join(expected[:-1]) + (" or " if expected[:-1] else "") + expected[-1] if expected else ""
    if typed.startswith('"'):
        what, listed = "this quote is never closed", ""
    mend = (
        'close it with "'
        if typed.startswith('"')
        else f"write {nearest}"
        if nearest
        else f"expected {listed}"
        if listed
        else "remove it"
    )
    return Problem(
        where=WHERE,
        what=what,
        mend=mend,
        span=Span(line=line, column=column, length=length),
        expected=expected,
        nearest=nearest,
    )


def _too_deep(found: list[Token], line: int) -> Problem | None:
    # A "not" applies to everything up to the end of its operand; only consecutive ones nest.
    opened = nots = 0
    for token in found:
        nots = nots + 1 if token.type == "NOT" else 0
        opened += token.type in ("OPEN", "OPEN_FILTER")
        opened = max(0, opened - (token.type in ("CLOSE", "CLOSE_FILTER")))
        if opened + nots > MOST_DEPTH:
            span = Span(line=line, column=(token.start_pos or 0) + 1, length=1)
            return _problem(f"more than {MOST_DEPTH} levels inside each other", "say it in two lines", span)
    return None


def _problem(what: str, mend: str, span: Span) -> Problem:
    return Problem(where=WHERE, what=what, mend=mend, span=span)
