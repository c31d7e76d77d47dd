"""Output commands: print runs, table sheets, card pictures."""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping
from pathlib import Path
from typing import TYPE_CHECKING, Annotated, Any

import typer

from dramok.cli.context import (
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
from dramok.store import new_key

if TYPE_CHECKING:
    from dramok.services.workspace.snapshot import GameSnapshot

OutFile = Annotated[Path, typer.Argument(help="The file to write.")]
DeckOption = Annotated[str, typer.Option("--deck", help="The cards of this deck, with its copies.")]
SetOption = Annotated[str, typer.Option("--set", help="The cards of this set.")]
QueryOption = Annotated[str, typer.Option("--query", help="The cards that match this query.")]
CardsOption = Annotated[
    str, typer.Option("--cards", help="Only these of them, by place or code, as 5-8, 17, AB-020 -")
]
BoxOption = Annotated[bool, typer.Option("--box", help="As many copies as one box of the game: for the largest number of seats.")]
CopiesOption = Annotated[int | None, typer.Option("--copies", min=0, max=10_000, help="Copies of each card.")]
OnlyOption = Annotated[
    str, typer.Option("--only", help="stale (out of date: not as printed last), unprinted, wanting (both), or none.")
]
ForceOption = Annotated[bool, typer.Option("--force", help="Overwrite an existing file.")]


@app.command("print")
def print_run(
    file: OutFile,
    game: GameOption,
    deck: DeckOption = "",
    set_: SetOption = "",
    query: QueryOption = "",
    cards: CardsOption = "",
    copies: CopiesOption = None,
    box: BoxOption = False,
    only: OnlyOption = "all",
    since: Annotated[str, typer.Option(help="The cards of this print run.")] = "",
    paper: Annotated[str, typer.Option(help="A4, A3, Letter, or width x height in mm, as 200x300.")] = "A4",
    turned: Annotated[str, typer.Option(help="portrait, landscape, or auto: whichever fits more.")] = "auto",
    margin: Annotated[float, typer.Option(help="Margin that the printer can't reach, in mm.")] = 5.0,
    gutter: Annotated[float, typer.Option(help="Gap between cards, in mm.")] = 0.0,
    bleed: Annotated[bool, typer.Option(help="Print the bleed around each card.")] = False,
    marks: Annotated[bool, typer.Option(help="Cut marks.")] = True,
    ruler: Annotated[bool, typer.Option(help="A ruler of 50 mm to check the print.")] = True,
    colophon: Annotated[bool, typer.Option(help="A line with game, run and date.")] = True,
    backs: Annotated[
        str, typer.Option(help="none, long or short (the edge along which the sheet is turned), beside")
    ] = "none",
    scale: Annotated[float, typer.Option(help="Scale; 1 is true size.")] = 1.0,
    leave_out: Annotated[str, typer.Option(help="Sheets not to print, as 1, 3.")] = "",
    blanks: Annotated[int, typer.Option(help="Number of blank cards at the end.")] = 0,
    labels: Annotated[str, typer.Option(help="Labels for boxes and dividers: decks, sets, types.")] = "none",
    sparing: Annotated[bool, typer.Option("--sparing", help="Black on white, without pictures.")] = False,
    name: Annotated[str, typer.Option(help="The run's name.")] = "",
    record: Annotated[bool, typer.Option(help="Remember what was printed.")] = True,
    force: ForceOption = False,
    db: DbOption = DEFAULT_DB,
    as_json: JsonOption = False,
) -> None:
    """Prints cards to a PDF at true size, as many on a page as fit, and remembers the print run."""
    wide, high = _paper(paper)
    order = {
        "choice": {"deck": deck, "set": set_, "query": query, "cards": cards, "copies": copies, "copies_from": "box" if box else "deck", "only": only, "run": since},
        "paper": {"width": wide, "height": high, "margin": margin, "gutter": gutter, "bleed": bleed, "scale": scale, "turned": turned},
        "marks": marks, "ruler": ruler, "colophon": colophon, "backs": backs, "left_out": [int(each) for each in re.findall(r"\d+", leave_out)],
        "blanks": blanks, "labels": labels, "ink": "sparing" if sparing else "full", "name": name, "record": record,
    }  # fmt: skip
    _make("print", file, game, order, force, db, as_json)


@app.command()
def sheets(
    file: OutFile,
    game: GameOption,
    deck: Annotated[list[str] | None, typer.Option(help="A deck; several times for several decks.")] = None,
    set_: SetOption = "",
    query: QueryOption = "",
    cards: CardsOption = "",
    copies: CopiesOption = None,
    width: Annotated[int, typer.Option(help="Cell width, in pixels.")] = 512,
    side: Annotated[int, typer.Option(help="Longest side of a table sheet, in pixels.")] = 4096,
    columns: Annotated[int, typer.Option(help="Most columns on a table sheet.")] = 60,
    rows: Annotated[int, typer.Option(help="Most rows on a table sheet.")] = 60,
    megabytes: Annotated[float, typer.Option(help="Largest file size, in MB.")] = 10,
    hidden: Annotated[
        str, typer.Option(help="The hidden face: none, last (in the last place), or apart.")
    ] = "none",
    backs: Annotated[str, typer.Option(help="one for all, each (a back for each card), or none.")] = "one",
    extent: Annotated[str, typer.Option(help="cut (clear corners), square, or bleed.")] = "square",
    form: Annotated[str, typer.Option(help="jpeg or png.")] = "jpeg",
    once: Annotated[
        bool, typer.Option("--once", help="One cell for each card, whatever its copies.")
    ] = False,
    single: Annotated[bool, typer.Option("--single", help="Each card in its own file.")] = False,
    layout: Annotated[str, typer.Option(help="The text table to go with them, by its name.")] = "",
    force: ForceOption = False,
    db: DbOption = DEFAULT_DB,
    as_json: JsonOption = False,
) -> None:
    """Makes table sheets for a virtual table: images of many cards, with the settings to enter there, in a ZIP."""
    order = {
        "choice": {"set": set_, "query": query, "cards": cards, "copies": copies}, "decks": deck or [], "width": width,
        "limits": {"side": side, "columns": columns, "rows": rows}, "megabytes": megabytes, "hidden": hidden, "backs": backs, "extent": extent, "form": form,
        "each_copy": not once, "single": single, "table": layout,
    }  # fmt: skip
    _make("sheets", file, game, order, force, db, as_json)


@app.command()
def pictures(
    file: OutFile,
    game: GameOption,
    deck: DeckOption = "",
    set_: SetOption = "",
    query: QueryOption = "",
    cards: CardsOption = "",
    form: Annotated[str, typer.Option(help="png, jpeg or svg.")] = "png",
    sides: Annotated[str, typer.Option(help="front, back or both.")] = "front",
    dpi: Annotated[float | None, typer.Option(help="Dots an inch; 300 when no size is given.")] = None,
    width: Annotated[int | None, typer.Option(help="Width in pixels.")] = None,
    height: Annotated[int | None, typer.Option(help="Width in pixels.")] = None,
    extent: Annotated[str, typer.Option(help="cut (clear corners), square, or bleed.")] = "cut",
    names: Annotated[
        str, typer.Option(help="File names, such as {code} {name} {side}.")
    ] = "{code} {name} {side}",
    force: ForceOption = False,
    db: DbOption = DEFAULT_DB,
    as_json: JsonOption = False,
) -> None:
    """Makes a picture of each card, in a ZIP. (To import pictures: import-pictures.)"""
    order = {
        "choice": {"deck": deck, "set": set_, "query": query, "cards": cards}, "form": form, "sides": sides, "dpi": dpi, "width": width, "height": height,
        "extent": extent, "names": names,
    }  # fmt: skip
    _make("pictures", file, game, order, force, db, as_json)


Pages = Annotated[Path, typer.Argument(help="The file to write: .md or .pdf.")]


@app.command("glossary")
def keyword_glossary(
    file: Pages, game: GameOption, force: ForceOption = False, db: DbOption = DEFAULT_DB, as_json: JsonOption = False
) -> None:
    """Writes the game's keywords with their meanings, for a rulebook."""
    from dramok.services.output.glossary import glossary

    _write_pages("Keywords", glossary, file, game, force, db, as_json)


@app.command("rules")
def rules_to_read(
    file: Pages, game: GameOption, force: ForceOption = False, db: DbOption = DEFAULT_DB, as_json: JsonOption = False
) -> None:
    """Writes the rules text of the game."""
    from dramok.services.output.rules_pages import rules_pages

    _write_pages("Rules", rules_pages, file, game, force, db, as_json)


def _write_pages(
    what: str, of: Callable[[GameSnapshot, str], bytes], file: Path, game: str, force: bool, db: Path, as_json: bool
) -> None:
    with open_games(db, as_json) as workspace:
        data = of(workspace.game(game), file.suffix.lower().lstrip("."))
        write_file(file, data, force, as_json)
    if as_json:
        echo({"file": str(file), "bytes": len(data)})
    else:
        typer.echo(f"{what} written to {file}.")


def _paper(said: str) -> tuple[float, float]:
    """Width and height in mm; 0 if it can't be parsed, which the order refuses."""
    from dramok.core.output import PAPERS

    named = {name.casefold(): size for name, size in PAPERS.items()}.get(said.casefold())
    match = re.fullmatch(r"(\d+(?:\.\d+)?) ?x ?(\d+(?:\.\d+)?)", said)
    return named or ((float(match[1]), float(match[2])) if match else (0.0, 0.0))


def _make(
    kind: str, file: Path, game_id: str, said: Mapping[str, Any], force: bool, db: Path, as_json: bool
) -> None:
    """Carry out an order atomically; a print run is recorded once its file is complete."""
    from dramok.services.output import jobs, printing
    from dramok.services.output.atomic_files import atomic_file
    from dramok.services.output.job_steps import summary_line, unwatched
    from dramok.services.output.print_runs import record_run, run_doc

    if file.exists() and not force:
        fail({"what": f"{file} is there already", "mend": "choose another name, or add --force"}, as_json)
    with open_games(db, as_json) as workspace:
        game = workspace.game(game_id)
        said = _by_name(game, said, as_json)
        order = jobs.read_order(kind, said)
        plan = jobs.plan_of(workspace, game, order)
        with atomic_file(file) as out:
            made = jobs.write(workspace, plan, out, unwatched)
        facts: dict[str, Any] = {"file": str(file), **made.facts, "bytes": file.stat().st_size}
        run = ""
        if isinstance(plan, printing.PrintPlan) and order.record and (doc := run_doc(plan)) is not None:
            facts["run"], run = record_run(workspace, game_id, doc, key=new_key())
    if as_json:
        echo({**facts, "warnings": made.warnings})
        return
    typer.echo(f"{summary_line(kind, made)} written to {file}.")
    if run:
        typer.echo(f"  Recorded as print run “{run}”.")
    for each in (*made.warnings, *made.guide):
        typer.echo(f"  {each}")


def _by_name(game: Any, said: Mapping[str, Any], as_json: bool) -> dict[str, Any]:
    """The order with the ids of the named print run and text table."""
    from dramok.services.workspace.small_entities import called

    order = {**said, "choice": dict(said["choice"])}
    for held, key, kind in ((order["choice"], "run", "run"), (order, "table", "layout")):
        name = held.get(key)
        if name:
            found = game.things.get(name) or called(game, kind, name)
            if found is None:
                names = ", ".join(each.name for each in game.of_kind(kind)) or "there is none yet"
                noun = "print run" if kind == "run" else "text table"
                fail({"what": f"there is no {noun} {name}", "mend": f"choose one of: {names}"}, as_json)
            held[key] = found.id
    return order
