"""Export and import of tables, pictures and whole games."""

from __future__ import annotations

from dataclasses import asdict
from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

from dramok.cli.context import (
    DEFAULT_DB,
    PAGE,
    DbOption,
    GameOption,
    JsonOption,
    app,
    echo,
    fail,
    open_games,
    path_text,
    read_file,
    write_file,
)
from dramok.core.problem import fold, plural
from dramok.store import new_key

if TYPE_CHECKING:
    from collections.abc import Iterable, Sequence

    from dramok.core.cards.sheets.picture_matching import PlacedPicture
    from dramok.services.faces.pictures import ImportedPicture
    from dramok.services.workspace.snapshot import GameSnapshot
    from dramok.services.workspace.workspace import Workspace


@app.command()
def export(
    game: GameOption,
    out: Annotated[
        Path, typer.Argument(help="The file to write; its ending is the format, such as .csv or .xlsx. Any ending with --layout.")
    ],
    query: Annotated[str, typer.Option(help="Only the cards that match a query.")] = "",
    layout: Annotated[str | None, typer.Option(help="A saved text table, by its name.")] = None,
    force: Annotated[bool, typer.Option("--force", help="Overwrite an existing file.")] = False,
    db: DbOption = DEFAULT_DB,
    as_json: JsonOption = False,
) -> None:
    """Writes the cards to a table that comes back cell for cell, or to a text table."""
    from dramok.services.files.exports import export_table, found_cards, read_layout, text_table

    with open_games(db, as_json) as workspace:
        found = workspace.game(game)
        if layout is None:
            data = export_table(workspace, found, out.suffix.lower().lstrip("."), query)
            notes: list[str] = []
        else:
            held = next((each for each in found.of_kind("layout") if fold(each.name) == fold(layout)), None)
            if held is None:
                names = ", ".join(each.name for each in found.of_kind("layout")) or "there is none yet"
                fail({"what": f"there is no text table {layout}", "mend": f"choose one of: {names}"}, as_json)
            table = read_layout(held.doc)
            text, notes = text_table(
                workspace, found, table if not query else table.model_copy(update={"query": query})
            )
            data = text.encode()
        write_file(out, data, force, as_json)
        count = len(found_cards(workspace, found, query))
        if as_json:
            echo({"file": str(out), "bytes": len(data), "cards": count, "notes": notes})
        else:
            for note in notes:
                typer.echo(f"  {note}")
            typer.echo(f"{plural(count, 'card')} written to {out}.")


@app.command()
def backup(
    game: GameOption,
    out: Annotated[Path, typer.Argument(help="The archive to write.")],
    shared: Annotated[
        bool, typer.Option("--shared", help="Without worths, notes, history and playtests.")
    ] = False,
    worths: Annotated[
        bool, typer.Option("--worths", help="With --shared: with the worths that are not private.")
    ] = False,
    force: Annotated[bool, typer.Option("--force", help="Overwrite an existing file.")] = False,
    db: DbOption = DEFAULT_DB,
    as_json: JsonOption = False,
) -> None:
    """Writes a whole game to one file: a backup, or a copy to share."""
    from dramok.services.files.archive import archive

    with open_games(db, as_json) as workspace:
        found = workspace.game(game)
        data = archive(workspace, found, shared, worths)
        write_file(out, data, force, as_json)
        said = {
            "file": str(out),
            "bytes": len(data),
            "cards": len(found.cards),
            "kind": "shared" if shared else "backup",
        }
        if as_json:
            echo(said)
        else:
            typer.echo(f"{found.name}, {plural(len(found.cards), 'card')}, written to {out}.")


@app.command()
def restore(
    file: Annotated[Path, typer.Argument(help="A backup or a shared copy.")],
    name: Annotated[
        str | None, typer.Option(help="The game's name; the archive's own when left out.")
    ] = None,
    db: DbOption = DEFAULT_DB,
    as_json: JsonOption = False,
) -> None:
    """Restores a game from an archive as a separate game; nothing is overwritten."""
    from dramok.services.files.archive import restore_game

    with open_games(db, as_json, begins=True) as workspace:
        found = restore_game(workspace, read_file(file, as_json), name, new_key())
        if as_json:
            echo({"game": found.id, "name": found.name, "cards": len(found.cards)})
        else:
            typer.echo(f"{found.name}, {plural(len(found.cards), 'card')}, is there as {found.id}.")


@app.command("import-pictures")
def import_pictures(
    source: Annotated[Path, typer.Argument(help="A folder, a ZIP or one picture.")],
    game: GameOption,
    field: Annotated[str | None, typer.Option(help="The picture field to fill, by id.")] = None,
    column: Annotated[str | None, typer.Option(help="A field whose text names the file, by id.")] = None,
    accept_near: Annotated[bool, typer.Option("--accept-near", help="Accept near names.")] = False,
    dry_run: Annotated[bool, typer.Option("--dry-run", help="Look only; write nothing.")] = False,
    db: DbOption = DEFAULT_DB,
    as_json: JsonOption = False,
) -> None:
    """Imports pictures and puts them on their cards."""
    from dramok.services.cards.cells import CellEdit, write_cells
    from dramok.services.faces.pictures import match_pictures

    with open_games(db, as_json) as workspace:
        now = workspace.game(game)
        brought = _brought(workspace, game, source, dry_run, as_json)
        shas = {each.name: each.sha for each in brought if each.sha}
        placed = match_pictures(now, list(shas), field, column)
        taken = [each for each in placed if each.card and not each.taken and (accept_near or not each.near)]
        edits = [CellEdit(each.card or "", each.field or "", shas[each.file] or "") for each in taken]
        if edits and not dry_run:
            write_cells(
                workspace,
                game,
                edits,
                workspace.game(game).seq,
                PAGE,
                label=f"{plural(len(edits), 'picture')} on cards",
                key=new_key(),
            )
        if as_json:
            echo(
                {
                    "written": bool(edits) and not dry_run, "placed": [asdict(each) for each in placed],
                    "refused": [{"file": each.name, "what": each.problem.what} for each in brought if each.problem],
                }
            )  # fmt: skip
            return
        _show_placed(now, placed, brought, accept_near)
        typer.echo(
            f"{plural(len(shas), 'picture')} {'read' if dry_run else 'brought'}, {len(edits)} "
            + ("would be put" if dry_run else "put")
            + " on cards."
        )


def _brought(
    workspace: Workspace, game: str, source: Path, dry_run: bool, as_json: bool
) -> list[ImportedPicture]:
    """Import the pictures of a folder, a ZIP or one file; a dry run only checks them."""
    from dramok.services.faces.pictures import add_pictures, import_zip

    if source.suffix.lower() == ".zip" and not source.is_dir():
        return import_zip(workspace, game, read_file(source, as_json), new_key(), dry_run)
    files: Iterable[tuple[str, bytes]]
    if source.is_dir():
        paths = [each for each in sorted(source.rglob("*")) if each.is_file()]
        files = ((each.relative_to(source).as_posix(), each.read_bytes()) for each in paths)
    else:
        files = [(path_text(source.name), read_file(source, as_json))]
    return add_pictures(workspace, game, files, new_key(), dry_run)


def _show_placed(
    game: GameSnapshot, placed: Sequence[PlacedPicture], brought: Sequence[ImportedPicture], accept_near: bool
) -> None:
    for each in placed:
        on = game.title(game.cards[each.card]) if each.card else "no card"
        near = (
            "" if not each.near or accept_near else " — look at it, and add --accept-near if it is right"
        )
        typer.echo(
            f"  {each.file} -> {on} ({each.how}{', taken by ' + each.taken if each.taken else ''}){near}"
        )
    for file in brought:
        if file.problem:
            typer.echo(f"  {file.name}: {file.problem.what}; {file.problem.mend}")
