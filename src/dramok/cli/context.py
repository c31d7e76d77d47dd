"""Shared by all commands: the app, common options, opening the workspace, error output, reading and writing files."""

from __future__ import annotations

import json
import os
import threading
from collections.abc import Iterator
from contextlib import contextmanager
from decimal import Decimal
from pathlib import Path
from typing import Annotated, Any, NoReturn

import typer

from dramok.cli.overview import ABOUT
from dramok.core.automatic_players import id_of
from dramok.services import Conflict, Damaged, Missing, Refused, Workspace, open_workspace
from dramok.store import FileBusy, NotADatabase, NotWritten

PAGE = "command line"
app = typer.Typer(
    help=ABOUT,
    no_args_is_help=True,
    add_completion=False,
    pretty_exceptions_enable=False,
)


@app.callback()
def _program() -> None:
    """With a callback, the app has commands by name even if only one is imported."""


DbOption = Annotated[Path, typer.Option("--db", envvar="DRAMOK_DB", help="The database file.")]
ClusterOption = Annotated[str, typer.Option(help="Play on the workers of a scheduler, such as tcp://127.0.0.1:8786 (see dramok workers).")]
GameOption = Annotated[str, typer.Option("--game", help="The game's id, such as ribbon-season.")]
JsonOption = Annotated[bool, typer.Option("--json", help="Answer in JSON.")]
HostOption = Annotated[str, typer.Option(help="The address to listen on.")]
DEFAULT_DB = Path("dramok.db")


@contextmanager
def open_games(db: Path, as_json: bool, begins: bool = False) -> Iterator[Workspace]:
    """Open the workspace; a refusal ends the command with exit code 1, as plain text or JSON.

    Only commands that add data create a missing file.
    """
    if not begins and not db.exists():
        fail({"what": f"there is no file {path_text(db)}", "mend": "choose the file with your games with --db, or start with dramok new or dramok demo"}, as_json)
    try:
        with saying_if_slow(f"opening {path_text(db)}…"):
            workspace = open_workspace(db, demo=False)
    except FileBusy as error:
        fail({"what": str(error), "mend": "stop the other program, or wait until it has ended, and try again"}, as_json)
    except (NotADatabase, OSError) as error:
        fail({"what": str(error), "mend": "choose another file with --db"}, as_json)
    try:
        yield workspace
    except Refused as error:
        fail(error.problem.model_dump(exclude_none=True), as_json)
    except Missing as error:
        fail(
            {"what": str(error), "mend": f"its games are: {', '.join(game.id for game in workspace.games())}"},
            as_json,
        )
    except Damaged as error:
        fail(error.problem.model_dump(exclude_none=True), as_json)
    except NotWritten as error:
        fail({"what": f"the file could not be written: {error}", "mend": "make room, or try again"}, as_json)
    except Conflict as error:
        fail({"what": str(error), "mend": "try again"}, as_json)
    finally:
        workspace.close()


@contextmanager
def saying_if_slow(said: str, after: float = 1.0) -> Iterator[None]:
    """Print a message to standard error if the work takes more than `after` seconds."""
    timer = threading.Timer(after, lambda: typer.echo(said, err=True))
    timer.daemon = True
    timer.start()
    try:
        yield
    finally:
        timer.cancel()


def fail(problem: dict[str, Any], as_json: bool) -> NoReturn:
    if as_json:
        typer.echo(json.dumps({"error": problem}, ensure_ascii=False))
    else:
        typer.echo(f"{problem['what']}\n  fix: {problem['mend']}", err=True)
    raise typer.Exit(1)


def echo(value: Any) -> None:
    typer.echo(
        json.dumps(
            value,
            ensure_ascii=False,
            indent=2,
            default=lambda number: float(number) if isinstance(number, Decimal) else str(number),
        )
    )


def read_file(file: Path, as_json: bool) -> bytes:
    try:
        return file.read_bytes()
    except OSError as error:
        fail({"what": f"{path_text(file)} can't be read: {error.strerror}", "mend": "check the path"}, as_json)


def path_text(path: Path | str) -> str:
    """A path or file name as text; invalid UTF-8 bytes are replaced."""
    return os.fsencode(path).decode("utf-8", "replace")


def write_file(file: Path, data: bytes, force: bool, as_json: bool) -> None:
    """Write a file atomically; never overwrite without a flag."""
    if file.exists() and not force:
        fail({"what": f"{path_text(file)} is there already", "mend": "choose another name, or add --force"}, as_json)
    beside = file.with_name(f".{file.name}.part")
    try:
        beside.write_bytes(data)
        beside.replace(file)
    except OSError as error:
        fail({"what": f"{path_text(file)} can't be written: {error.strerror}", "mend": "check the path"}, as_json)


def note(text: str) -> None:
    """Print progress to standard error, separate from the result."""
    typer.echo(f"({text})", err=True)


def player_id(said: str) -> str:
    """The id of an automatic player as typed."""
    return id_of(said)


def player_ids(said: list[str] | None) -> list[str] | None:
    """The same for a player of each seat."""
    return said and [player_id(each) for each in said]
