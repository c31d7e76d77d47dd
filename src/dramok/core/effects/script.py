"""The effect field of a card: its lines, each with its last readable version."""

from __future__ import annotations

from collections.abc import Set as AbstractSet
from difflib import SequenceMatcher

from dramok.core.effects.canonical_text import ability_text
from dramok.core.effects.lexer import tokens
from dramok.core.effects.model import Ability
from dramok.core.effects.parser import parse_ability
from dramok.core.effects.vocabulary import Vocabulary
from dramok.core.problem import Frozen, Problem, Span, fold

MOST_LINES = 12
MOST_TEXT = 6_000
FEW_NAMES = 20


class Line(Frozen):
    """One line. `draft` is the typed text if it is unreadable; `ability` is then the last readable version."""

    ability: Ability | None = None
    draft: str | None = None


class Script(Frozen):
    lines: tuple[Line, ...] = ()

    @property
    def abilities(self) -> tuple[Ability, ...]:
        """The abilities that are played, printed and priced."""
        return tuple(line.ability for line in self.lines if line.ability is not None)

    @property
    def has_draft(self) -> bool:
        return any(line.draft is not None for line in self.lines)


def line_text(line: Line, vocabulary: Vocabulary) -> str:
    if line.draft is not None:
        return line.draft
    return ability_text(line.ability, vocabulary) if line.ability is not None else ""


def script_text(script: Script, vocabulary: Vocabulary) -> str:
    """The text for editing: canonical lines, and drafts as typed."""
    return "\n".join(line_text(line, vocabulary) for line in script.lines)


def read_script(
    text: str, vocabulary: Vocabulary, before: Script | None = None
) -> tuple[Script, tuple[Problem, ...]]:
    """Parse every line. An unreadable line keeps the typed text and its last readable version from `before`.

    Text over `MOST_TEXT` characters or `MOST_LINES` lines is refused as a whole: the result is `before`.
    """
    before = before or Script()
    typed = [(number, line.strip()) for number, line in enumerate(text.splitlines(), 1) if line.strip()]
    if len(text) > MOST_TEXT or len(typed) > MOST_LINES:
        what = f"an effect of {len(text):,} characters in {len(typed):,} lines is too long"
        mend = f"keep to {MOST_LINES} lines and {MOST_TEXT:,} characters"
        return before, (Problem(where="effect", what=what, mend=mend, span=Span(line=1, column=1, length=1)),)
    indents = [len(line) - len(line.lstrip()) for line in text.splitlines()]
    old = dict(_aligned([line_text(line, vocabulary) for line in before.lines], [line for _, line in typed]))
    lines: list[Line] = []
    problems: list[Problem] = []
    for index, (number, line) in enumerate(typed):
        ability, found = parse_ability(line, vocabulary, number)
        problems += [_indented(problem, indents[number - 1]) for problem in found]
        good = before.lines[old[index]].ability if index in old else None
        lines.append(Line(ability=ability) if ability is not None else Line(ability=good, draft=line))
    return Script(lines=tuple(lines)), tuple(problems)


def read_again(script: Script, names: AbstractSet[str], vocabulary: Vocabulary) -> Script:
    """The script with the drafts parsed that contain one of `names` (folded) and are readable with `vocabulary`."""
    lines = tuple(_read_again(line, names, vocabulary) for line in script.lines)
    return Script(lines=lines) if lines != script.lines else script


def _read_again(line: Line, names: AbstractSet[str], vocabulary: Vocabulary) -> Line:
    if line.draft is None or not _speaks_of_any(line.draft, names):
        return line
    ability, _ = parse_ability(line.draft, vocabulary)
    return line if ability is None else Line(ability=ability)


def _speaks_of_any(text: str, names: AbstractSet[str]) -> bool:
    """Whether a line may contain one of the names.

    A few names are searched one by one, as after a rename; with many, as after an import, the words of the line
    are looked up.
    """
    if len(names) <= FEW_NAMES:
        said = fold(text)
        return any(name in said for name in names)
    return any(fold(str(token)) in names for token in tokens(text))


def _indented(problem: Problem, blanks: int) -> Problem:
    if not blanks or problem.span is None:
        return problem
    return problem.model_copy(
        update={"span": problem.span.model_copy(update={"column": problem.span.column + blanks})}
    )


def _aligned(old: list[str], new: list[str]) -> list[tuple[int, int]]:
    """Pairs (new index, old index) of equal lines, or of lines at the same position."""
    pairs = []
    for _, old_from, old_to, new_from, new_to in SequenceMatcher(
        None, old, new, autojunk=False
    ).get_opcodes():
        pairs += list(zip(range(new_from, new_to), range(old_from, old_to), strict=False))
    return pairs
