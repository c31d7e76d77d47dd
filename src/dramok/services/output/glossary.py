"""The keyword glossary of a game as Markdown or PDF."""

from __future__ import annotations

import re
from collections.abc import Iterable

from dramok.core.problem import Problem, fold, plural
from dramok.core.rulebook.rulebook import Keyword
from dramok.core.wording import printed_text
from dramok.services.workspace.snapshot import GameSnapshot
from dramok.services.workspace.workspace import Refused

FORMS = {"md": "text/markdown; charset=utf-8", "pdf": "application/pdf"}


def glossary(game: GameSnapshot, form: str) -> bytes:
    """Write the glossary. Raises Refused for another format, and for a game without keywords."""
    if form not in FORMS:
        raise Refused(Problem(where="form", what=f"there is no form {form[:20]}", mend="choose md or pdf"))
    words = sorted(game.rulebook.keywords, key=lambda each: fold(each.name))
    if not words:
        raise Refused(
            Problem(where="keywords", what=f"{game.name} has no keywords", mend="write them in Rules")
        )
    title, told = f"{game.name}: keywords", plural(len(words), "word")
    texts = [fold(" ".join(printed_text(card, game.rulebook, game.vocabulary).lines)) for card in game.cards.values()]
    entries = [(each.name, f"{each.reminder or 'Not explained yet.'} {_where(each, texts)}") for each in words]
    if form == "md":
        lines = [
            f"# {title}",
            "",
            *(f"**{plain_markdown(name)}** — {plain_markdown(meaning)}\n" for name, meaning in entries),
        ]
        return "\n".join(lines).encode()
    from dramok.formats.glossary_pdf import glossary_pdf

    return glossary_pdf(title, told, entries)


def _where(keyword: Keyword, texts: Iterable[str]) -> str:
    """The number of cards whose printed text contains each keyword (folded)."""
    word = re.compile(rf"(?<!\w){re.escape(fold(keyword.name))}(?!\w)")
    count = sum(1 for text in texts if word.search(text))
    return f"On {plural(count, 'card')}." if count else "On no card yet."


def plain_markdown(text: str) -> str:
    """Text with Markdown characters escaped."""
    return re.sub(r"([\\`*_\[\]<>#])", r"\\\1", " ".join(text.split()))
