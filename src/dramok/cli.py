"""The command line: the same use cases as the page."""

from __future__ import annotations

import gc
import json
import secrets
import socket
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import asdict
from decimal import Decimal
from pathlib import Path
from typing import Annotated, Any

import typer

gc.disable()  # what imports make stays; looking for garbage among it costs a fifth of the start

from dramok.core.balance.prices import shown  # noqa: E402
from dramok.core.cards.intake import Wishes  # noqa: E402
from dramok.store import NotADatabase  # noqa: E402
from dramok.studio import Conflict, Desk, Missing, Refused, open_desk  # noqa: E402
from dramok.studio.checking import check as find_problems  # noqa: E402
from dramok.studio.editing import card_in  # noqa: E402
from dramok.studio.importing import ImportPlan, plan_import, said, take_import  # noqa: E402
from dramok.studio.sheets import sheet_of  # noqa: E402
from dramok.studio.snapshot import GameSnapshot  # noqa: E402

PAGE = "command line"
app = typer.Typer(
    help="Dramok, a workbench for card game designers.",
    no_args_is_help=True,
    add_completion=False,
    pretty_exceptions_enable=False,
)

DbOption = Annotated[Path, typer.Option("--db", envvar="DRAMOK_DB", help="The database file.")]
GameOption = Annotated[str, typer.Option("--game", help="The game's id, such as ribbon-season.")]
JsonOption = Annotated[bool, typer.Option("--json", help="Answer in JSON.")]
HostOption = Annotated[str, typer.Option(help="The address to listen on.")]
DEFAULT_DB = Path("dramok.db")


def main() -> None:
    gc.freeze()
    gc.enable()
    app()


@contextmanager
def _desk(db: Path, as_json: bool) -> Iterator[Desk]:
    """The open desk; what is refused ends the command with exit code 1, said plainly or as JSON."""
    try:
        desk = open_desk(db)
    except (NotADatabase, OSError) as error:
        _fail({"what": str(error), "mend": "choose another file with --db"}, as_json)
    try:
        yield desk
    except Refused as error:
        _fail(error.problem.model_dump(exclude_none=True), as_json)
    except Missing as error:
        _fail(
            {"what": str(error), "mend": f"its games are: {', '.join(game.id for game in desk.games())}"},
            as_json,
        )
    except Conflict as error:
        _fail({"what": str(error), "mend": "try again"}, as_json)
    finally:
        desk.close()


def _fail(problem: dict[str, Any], as_json: bool) -> None:
    if as_json:
        typer.echo(json.dumps({"error": problem}, ensure_ascii=False))
    else:
        typer.echo(f"{problem['what']}\n  mend: {problem['mend']}", err=True)
    raise typer.Exit(1)


def _echo(value: Any) -> None:
    typer.echo(
        json.dumps(
            value,
            ensure_ascii=False,
            indent=2,
            default=lambda number: float(number) if isinstance(number, Decimal) else str(number),
        )
    )


@app.command()
def demo(
    db: DbOption = DEFAULT_DB,
    host: HostOption = "127.0.0.1",
    port: Annotated[int, typer.Option(help="The port; the next free one when it is taken.")] = 8000,
    as_json: JsonOption = False,
) -> None:
    """Starts the app with the demo game Ribbon Season."""
    with _desk(db, as_json) as desk:
        from dramok.studio.demo_world import fill

        fill(desk)
        _serve(desk, host, _free_port(host, port), as_json)


@app.command()
def serve(
    db: DbOption = DEFAULT_DB,
    host: HostOption = "127.0.0.1",
    port: Annotated[int, typer.Option(help="The port.")] = 8000,
    as_json: JsonOption = False,
) -> None:
    """Starts the app on a database of your own."""
    with _desk(db, as_json) as desk:
        if _free_port(host, port, tries=1) != port:
            _fail(
                {"what": f"port {port} is taken", "mend": f"choose another, such as --port {port + 1}"},
                as_json,
            )
        _serve(desk, host, port, as_json)


def _free_port(host: str, port: int, tries: int = 20) -> int:
    for number in range(port, port + tries):
        with socket.socket(socket.AF_INET6 if ":" in host else socket.AF_INET) as probe:
            probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
            try:
                probe.bind((host, number))
            except OSError:
                continue
            return number
    return -1


def _serve(desk: Desk, host: str, port: int, as_json: bool) -> None:
    import uvicorn

    from dramok.server import create_app
    from dramok.server.safety import LOOPBACK

    if port < 0:
        _fail({"what": "no free port was found", "mend": "choose one with --port"}, as_json)
    key = None if host in LOOPBACK else secrets.token_urlsafe(18)
    shown = "127.0.0.1" if host in ("0.0.0.0", "::") else host  # noqa: S104
    names = set(LOOPBACK) | {host, socket.gethostname()} | set(_addresses() if key else ())
    url = f"http://{shown}:{port}/" + (f"?key={key}" if key else "")
    if as_json:
        typer.echo(json.dumps({"url": url, "key": key}))
    else:
        typer.echo(f"Dramok is at {url}\nStop it with Ctrl+C; everything is already saved.")
    # A large game is ten thousands of lasting objects: looking through all of them for rings, as often as by
    # default, stops the server for half a second each time.
    gc.set_threshold(50_000, 20, 100)
    uvicorn.run(
        create_app(desk, frozenset(names), key),
        host=host,
        port=port,
        log_level="warning",
        timeout_graceful_shutdown=1,
    )


def _addresses() -> list[str]:
    """The addresses by which other machines know this one."""
    try:
        return [str(each[4][0]) for each in socket.getaddrinfo(socket.gethostname(), None)]
    except OSError:
        return []


@app.command("import")
def import_file(
    file: Annotated[Path, typer.Argument(help="A CSV or TSV file.")],
    game: GameOption,
    set_name: Annotated[
        str | None, typer.Option("--set", help="The new set's name; from the file's name when left out.")
    ] = None,
    dry_run: Annotated[bool, typer.Option("--dry-run", help="Look only; write nothing.")] = False,
    accept_near: Annotated[
        bool, typer.Option("--accept-near", help="Read near values as the known one.")
    ] = False,
    db: DbOption = DEFAULT_DB,
    as_json: JsonOption = False,
) -> None:
    """Takes a sheet of cards in as a new set, as one step that can be undone."""
    wishes = Wishes(accept_near=accept_near)
    with _desk(db, as_json) as desk:
        try:
            data = file.read_bytes()
        except OSError as error:
            _fail({"what": f"{file} can't be read: {error.strerror}", "mend": "check the path"}, as_json)
        if dry_run:
            plan = plan_import(desk.game(game), data, file.name, set_name, wishes)
        else:
            _, plan = take_import(desk, game, data, file.name, PAGE, set_name, wishes)
        if as_json:
            _echo(_import_json(plan, dry_run))
        else:
            _tell_import(plan, dry_run)


def _import_json(plan: ImportPlan, dry_run: bool) -> dict[str, Any]:
    intake = plan.intake
    return {
        "set": plan.set_name, "code": plan.set_code, "written": not dry_run, "rows": intake.rows, "taken": len(intake.taken),
        "skipped": [asdict(each) for each in intake.skipped], "refused": [asdict(each) for each in intake.refused],
        "columns": [{"heading": each.heading.strip(), "field": each.target} for each in intake.columns],
        "notes": [{"row": each.row, "code": each.code, "note": note} for each in intake.taken for note in each.notes],
    }  # fmt: skip


def _tell_import(plan: ImportPlan, dry_run: bool) -> None:
    intake = plan.intake
    for column in intake.columns:
        typer.echo(f"  column “{column.heading.strip()}” -> {column.name if column.target else 'left out'}")
    for skip in intake.skipped:
        typer.echo(f"  row {skip.row} skipped: {skip.why}" + (f" (“{skip.value}”)" if skip.value else ""))
    for refusal in intake.refused:
        typer.echo(
            f"  row {refusal.row} refused: {refusal.column} “{refusal.value}”: {refusal.why}; {refusal.mend}"
        )
    for row in intake.taken:
        for note in row.notes:
            if not note.startswith("behaviour"):
                typer.echo(f"  row {row.row} ({row.code}): {note}")
    unwritten = sum(any(note.startswith("behaviour") for note in row.notes) for row in intake.taken)
    if unwritten:
        typer.echo(f"  {unwritten} cards print their text as it stands: behaviour not written")
    for warning in intake.warnings:
        typer.echo(f"  {warning.what}; {warning.mend}")
    typer.echo(
        f"{said(plan)}; "
        + ("nothing was written." if dry_run else f"set {plan.set_name} ({plan.set_code}) was added.")
    )


@app.command()
def check(game: GameOption, db: DbOption = DEFAULT_DB, as_json: JsonOption = False) -> None:
    """Lists everything unfinished or wrong: text that does not fit, drafts, open prices, illegal decks."""
    with _desk(db, as_json) as desk:
        found = find_problems(desk.game(game))
        if as_json:
            _echo(
                {
                    "findings": [
                        {"kind": each.kind, "thing": each.thing, **each.problem.model_dump(exclude_none=True)}
                        for each in found
                    ]
                }
            )
            return
        for each in found:
            typer.echo(f"{each.thing}: {each.problem.what}; {each.problem.mend}")
        typer.echo(f"{len(found)} findings.")


@app.command()
def price(
    game: GameOption,
    card: Annotated[str | None, typer.Option(help="A card's code; every card when left out.")] = None,
    db: DbOption = DEFAULT_DB,
    as_json: JsonOption = False,
) -> None:
    """Prices a card, line by line, or every card."""
    with _desk(db, as_json) as desk:
        found = desk.game(game)
        cards = [card_in(found, card)] if card else list(found.cards.values())
        priced = [_priced(found, each.id) for each in cards]
        if as_json:
            _echo(priced[0] if card else {"cards": priced})
            return
        for each in priced:
            sums = f"worth {shown(each['worth'])} - budget {shown(each['budget'])} = {shown(each['difference'], signed=True)}"
            typer.echo(f"{each['code']} {each['name']}: {sums} ({each['verdict']})")
            for line in each["lines"] if card else ():
                points = "open" if line["points"] is None else shown(line["points"], signed=True)
                typer.echo(f"  {points:>8}  {line['what']}  ({line['why']})")


def _priced(game: GameSnapshot, ident: str) -> dict[str, Any]:
    card = game.cards[ident]
    ledger = sheet_of(game, card).ledger
    lines = [
        {"what": line.what, "points": line.points, "why": line.why, "part": line.part}
        for line in ledger.lines
    ]
    return {
        "code": card.code, "name": game.title(card), "lines": lines, "worth": ledger.worth, "budget": ledger.budget,
        "difference": ledger.difference, "verdict": ledger.judgement,
    }  # fmt: skip
