"""Cards to paper."""

from __future__ import annotations

import re
from datetime import UTC, datetime
from pathlib import Path
from typing import Annotated, Any

import typer

from dramok.cli.frame import (
    DEFAULT_DB,
    DbOption,
    GameOption,
    JsonOption,
    app,
    echo,
    fail,
    open_games,
    write_file,
)
from dramok.core.problem import plural


@app.command("print")
def print_run(
    file: Annotated[Path, typer.Argument(help="The PDF to write.")],
    game: GameOption,
    deck: Annotated[str, typer.Option(help="The cards of this deck, as many as it holds.")] = "",
    query: Annotated[str, typer.Option(help="The cards that answer to this query.")] = "",
    cards: Annotated[str, typer.Option(help="Of them these: places or codes, as 5-8, 17, RS-020 -")] = "",
    copies: Annotated[int | None, typer.Option(min=0, max=1000, help="So many of each.")] = None,
    paper: Annotated[str, typer.Option(help="A4, A3, Letter, or width x height in mm, as 200x300.")] = "A4",
    margin: Annotated[float, typer.Option(help="What the printer can't reach, in mm.")] = 6.0,
    gutter: Annotated[float, typer.Option(help="Between two cards, in mm.")] = 0.0,
    bleed: Annotated[bool, typer.Option(help="Print the bleed around each card.")] = False,
    marks: Annotated[bool, typer.Option(help="Cut marks.")] = True,
    backs: Annotated[
        str, typer.Option(help="none, long or short (the edge along which the sheet is turned), beside")
    ] = "none",
    scale: Annotated[float, typer.Option(help="1 is true size.")] = 1.0,
    force: Annotated[bool, typer.Option("--force", help="Write over a file that is there.")] = False,
    db: DbOption = DEFAULT_DB,
    as_json: JsonOption = False,
) -> None:
    """Prints cards to a PDF at their true size, as many to a page as fit."""
    from pydantic import ValidationError

    from dramok.core.output import PAPERS, Paper
    from dramok.studio.printing import PrintOrder, print_cards

    named = {name.casefold(): size for name, size in PAPERS.items()}.get(paper.casefold())
    match = re.fullmatch(r"(\d+(?:\.\d+)?) ?x ?(\d+(?:\.\d+)?)", paper)
    wide, high = named or (tuple(float(each) for each in match.groups()) if match else (0.0, 0.0))
    if backs not in ("none", "long", "short", "beside"):
        fail(
            {"what": f"there is no way {backs} of printing backs", "mend": "use none, long, short or beside"},
            as_json,
        )
    try:
        sheet = Paper(width=wide, height=high, margin=margin, gutter=gutter, bleed=bleed, scale=scale)
    except ValidationError as error:
        first: Any = error.errors()[0]
        fail(
            {"what": f"{first['loc'][0]}: {first['msg']}", "mend": "see --help for papers and lengths"},
            as_json,
        )
    order = PrintOrder(deck, query, cards, copies, sheet, marks, backs)  # type: ignore[arg-type]
    with open_games(db, as_json) as desk:
        done = print_cards(desk, desk.game(game), order, datetime.now(UTC).date().isoformat())
        write_file(file, done.data, force, as_json)
    if as_json:
        echo(
            {
                "file": str(file),
                "cards": done.cards,
                "copies": done.copies,
                "pages": done.pages,
                "bytes": len(done.data),
                "warnings": done.warnings,
            }
        )
        return
    typer.echo(f"{plural(done.copies, 'card')} on {plural(done.pages, 'page')} written to {file}.")
    for each in done.warnings:
        typer.echo(f"  note: {each}")
