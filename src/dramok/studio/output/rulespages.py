"""The rules of play for those who play: as Markdown, or as a PDF."""

from __future__ import annotations

from dramok.core.problem import Problem
from dramok.studio.desk import Refused
from dramok.studio.output.glossary import FORMS, plain_markdown
from dramok.studio.playlook import read
from dramok.studio.snapshot import GameSnapshot


def rules_pages(game: GameSnapshot, form: str) -> bytes:
    """Raises Refused for another form."""
    if form not in FORMS:
        raise Refused(Problem(where="form", what=f"there is no form {form[:20]}", mend="choose md or pdf"))
    parts, title = read(game), f"{game.name}: the rules"
    if form == "md":
        lines = [f"# {plain_markdown(title)}", ""]
        for part in parts:
            lines += [f"## {plain_markdown(part.title)}", "", *(f"{plain_markdown(line)}\n" for line in part.lines)]
        return "\n".join(lines).encode()
    from dramok.formats.glossarypdf import glossary_pdf

    return glossary_pdf(title, "How it is played, from the same rules that the engine plays.", [(part.title, "\n".join(part.lines)) for part in parts])
