"""Game commands: list, create, rename, copy, put away, bring back."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING, Annotated, Any

import typer

from dramok.cli.context import (
    DEFAULT_DB,
    PAGE,
    DbOption,
    JsonOption,
    app,
    echo,
    fail,
    open_games,
    path_text,
    read_file,
)
from dramok.core.problem import plural
from dramok.services import Damaged, GameSnapshot

if TYPE_CHECKING:
    from dramok.services.games.games import NewGamePreview

GameArgument = Annotated[
    str, typer.Argument(help="The game's id, as `dramok games` lists it.", metavar="GAME")
]


@app.command()
def games(
    db: DbOption = DEFAULT_DB,
    every: Annotated[bool, typer.Option("--all", help="Also those that are put away.")] = False,
    as_json: JsonOption = False,
) -> None:
    """Lists the games of a database."""
    with open_games(db, as_json) as workspace:
        found = [each for each in workspace.shelf() if isinstance(each, Damaged) or every or not each.away]
        if as_json:
            echo([_said(each) for each in found])
            return
        if not found:
            typer.echo(
                "There are no games yet: create one with `dramok new NAME`, or add the demo games with `dramok demo --fill`."
            )
        for each in found:
            if isinstance(each, Damaged):
                typer.echo(f"{each.ident}  {each.name}  damaged: {each.problem.what}")
            else:
                away = "  put away" if each.away else ""
                typer.echo(f"{each.id}  {each.name}  {plural(len(each.cards), 'card')}, {plural(len(each.decks), 'deck')}{away}")


@app.command()
def new(
    name: Annotated[str, typer.Argument(help="What the game is called.")],
    sheet: Annotated[
        Path | None, typer.Option("--from", help="A table file whose columns become its fields.")
    ] = None,
    shape: Annotated[
        str | None, typer.Option("--template", "--shape", help="Its template: duel, deck-builder, placement, solo or plain.")
    ] = None,
    db: DbOption = DEFAULT_DB,
    as_json: JsonOption = False,
) -> None:
    """Creates a game: from a table file, from a template, or empty with one card type."""
    from dramok.services.games.games import begin, create_game_from_sheet

    if sheet is not None and shape is not None:
        fail(
            {"what": "a game starts from a table file or from a template", "mend": "leave one of the two out"},
            as_json,
        )
    data = read_file(sheet, as_json) if sheet is not None else b""
    with open_games(db, as_json, begins=True) as workspace:
        look: NewGamePreview | None = None
        if sheet is not None:
            game, look = create_game_from_sheet(workspace, data, path_text(sheet.name), name)
        else:
            game = begin(workspace, name, shape)
        if as_json:
            echo(_begun(game, look))
            return
        typer.echo(f"{game.name} is created as {game.id}: {plural(len(game.cards), 'card')}.")
        for line in _guesses(look):
            typer.echo(f"  {line['heading'] or 'column without a heading'}: {line['read_as']}")
        if look is not None and look.intake.refused:
            first = look.intake.refused[0]
            typer.echo(
                f"  {plural(len(look.intake.refused), 'line is', 'lines are')} left out; the first, line {first.row}: {first.column}, {first.why}"
            )


@app.command()
def rename(game: GameArgument, name: Annotated[str, typer.Argument(help="Its new name.")], db: DbOption = DEFAULT_DB, as_json: JsonOption = False) -> None:  # fmt: skip
    """Renames a game."""
    from dramok.services.games.games import rename_game

    with open_games(db, as_json) as workspace:
        _tell(rename_game(workspace, game, name, PAGE).after, "is its name now", as_json)


@app.command(name="duplicate")
def duplicate_game(
    game: GameArgument,
    name: Annotated[str | None, typer.Option(help="What the copy is called.")] = None,
    rules_only: Annotated[
        bool, typer.Option("--rules-only", help="Its rules and plans, without cards and decks.")
    ] = False,
    db: DbOption = DEFAULT_DB,
    as_json: JsonOption = False,
) -> None:
    """Duplicates a game: all of it, or only its rules and face plans."""
    from dramok.services.games.games import duplicate

    with open_games(db, as_json) as workspace:
        _tell(duplicate(workspace, workspace.game(game), name, cards=not rules_only), "is the copy", as_json)


@app.command(name="put-away")
def put_game_away(game: GameArgument, db: DbOption = DEFAULT_DB, as_json: JsonOption = False) -> None:
    """Puts a game away: it is no longer listed, but nothing is lost."""
    from dramok.services.games.games import put_away

    with open_games(db, as_json) as workspace:
        _tell(put_away(workspace, game, True, PAGE).after, "is put away", as_json)


@app.command(name="bring-back")
def bring_game_back(game: GameArgument, db: DbOption = DEFAULT_DB, as_json: JsonOption = False) -> None:
    """Brings back a game that was put away."""
    from dramok.services.games.games import put_away

    with open_games(db, as_json) as workspace:
        _tell(put_away(workspace, game, False, PAGE).after, "is back", as_json)


def _tell(game: GameSnapshot, what: str, as_json: bool) -> None:
    if as_json:
        echo(_said(game))
    else:
        typer.echo(f"{game.name} ({game.id}) {what}.")


def _said(game: GameSnapshot | Damaged) -> dict[str, Any]:
    if isinstance(game, Damaged):
        return {"id": game.ident, "name": game.name, "damage": game.problem.what}
    return {"id": game.id, "name": game.name, "cards": len(game.cards), "decks": len(game.decks), "sets": len(game.sets), "away": game.away}  # fmt: skip


def _begun(game: GameSnapshot, look: NewGamePreview | None) -> dict[str, Any]:
    schema = game.rulebook.cards
    roles = game.rulebook.roles
    return {
        **_said(game),
        "types": [each.name for each in schema.types if not each.abstract],
        "fields": [{"id": each.id, "name": each.name, "kind": each.kind} for each in schema.fields],
        "roles": {
            "name": roles.name, "cost": roles.cost, "rarity": roles.rarity, "faction": roles.faction, "effect": roles.effect, "printed": roles.printed,
            "tags": roles.tags, "copies": roles.copies, "damage_limit": roles.damage_limit, "stats": list(roles.stats),
        },
        "guessed": _guesses(look),
        "refused": [{"row": each.row, "column": each.column, "why": each.why, "mend": each.mend} for each in look.intake.refused] if look else [],
    }  # fmt: skip


def _guesses(look: NewGamePreview | None) -> list[dict[str, Any]]:
    if look is None:
        return []
    return [
        {"column": each.index + 1, "heading": each.heading, "kind": each.kind, "role": each.role, "read_as": f"{each.role or each.kind}"}
        for each in look.reading.columns
    ]  # fmt: skip
