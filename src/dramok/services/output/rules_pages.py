"""The rules text for players as Markdown or PDF."""

from __future__ import annotations

from dramok.core.problem import Problem
from dramok.services.output.glossary import FORMS, plain_markdown
from dramok.services.play.play_preview import read
from dramok.services.workspace.snapshot import GameSnapshot
from dramok.services.workspace.workspace import Refused


def rules_pages(game: GameSnapshot, form: str) -> bytes:
    """Write the rules text. Raises Refused for another format."""
    if form not in FORMS:
        raise Refused(Problem(where="form", what=f"there is no form {form[:20]}", mend="choose md or pdf"))
    parts, title = read(game), f"{game.name}: the rules"
    if form == "md":
        lines = [f"# {plain_markdown(title)}", ""]
        for part in parts:
            lines += [f"## {plain_markdown(part.title)}", "", *(f"{plain_markdown(line)}\n" for line in part.lines)]
        return "\n".join(lines).encode()
    from dramok.formats.glossary_pdf import glossary_pdf

    return glossary_pdf(title, "How it is played, from the same rules that the engine plays.", [(part.title, "\n".join(part.lines)) for part in parts])
