"""The command line: the same use cases as the page."""

from __future__ import annotations

import gc
import json
import secrets
import socket
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import asdict, replace
from decimal import Decimal
from pathlib import Path
from typing import Annotated, Any, NoReturn, cast

import typer

gc.disable()  # what imports make stays; looking for garbage among it costs a fifth of the start

from dramok.core.balance.prices import shown  # noqa: E402
from dramok.core.cards.columns import Target  # noqa: E402
from dramok.core.cards.intake import Wishes  # noqa: E402
from dramok.core.problem import fold, plural  # noqa: E402
from dramok.formats.tables import ReadAs  # noqa: E402
from dramok.store import NotADatabase  # noqa: E402
from dramok.studio import Conflict, Desk, Missing, Refused, open_desk  # noqa: E402
from dramok.studio.checking import check as find_problems  # noqa: E402
from dramok.studio.editing import card_in  # noqa: E402
from dramok.studio.importing import ImportPlan, Making, Match, Order, plan_import, said, take_import  # noqa: E402
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
def _desk(db: Path, as_json: bool, demo: bool = True) -> Iterator[Desk]:
    """The open desk; what is refused ends the command with exit code 1, said plainly or as JSON."""
    try:
        desk = open_desk(db, demo)
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


def _fail(problem: dict[str, Any], as_json: bool) -> NoReturn:
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
    file: Annotated[Path, typer.Argument(help="A CSV, TSV, XLSX or JSON file.")],
    game: GameOption,
    set_name: Annotated[
        str | None,
        typer.Option("--set", help="The set that new cards go to; a new one is made where there is none."),
    ] = None,
    update: Annotated[
        str | None, typer.Option(help="Update the cards that are there, matched by code or by name.")
    ] = None,
    take_out: Annotated[
        bool, typer.Option("--take-out", help="With --update: take out cards that are not in the file.")
    ] = False,
    leave_out: Annotated[
        str, typer.Option(help="With --update: leave out added, changed or both (commas between).")
    ] = "",
    create: Annotated[
        str, typer.Option(help="What may be made: fields, types, values (commas between), or all.")
    ] = "",
    card_type: Annotated[
        str | None, typer.Option("--type", help="The card type of rows that name none.")
    ] = None,
    columns: Annotated[
        list[str] | None, typer.Option("--column", help="A column matched by hand, as HEADING=FIELD.")
    ] = None,
    sheet: Annotated[str | None, typer.Option(help="The sheet of a workbook.")] = None,
    header: Annotated[int | None, typer.Option(help="The row that the header is in.")] = None,
    encoding: Annotated[str | None, typer.Option(help="The encoding, such as Windows-1252.")] = None,
    delimiter: Annotated[
        str | None, typer.Option(help="What parts the columns; write tab for a tab.")
    ] = None,
    dry_run: Annotated[bool, typer.Option("--dry-run", help="Look only; write nothing.")] = False,
    accept_near: Annotated[
        bool, typer.Option("--accept-near", help="Read near values as the known one.")
    ] = False,
    db: DbOption = DEFAULT_DB,
    as_json: JsonOption = False,
) -> None:
    """Takes a sheet of cards in, or updates the cards that are there, as one step that can be undone."""
    with _desk(db, as_json) as desk:
        data = _read(file, as_json)
        now = desk.game(game)
        home = next((each.id for each in now.sets if set_name and fold(each.name) == fold(set_name)), None)
        left = {each.strip() for each in leave_out.split(",") if each.strip()}
        if update not in (None, "code", "name") or left - {"added", "changed"}:
            _fail(
                {"what": "that is no way to update", "mend": "write --update code or --update name"}, as_json
            )
        order = Order(
            set_name, home, cast(Match, update or "new"), ReadAs(encoding, {"tab": "\t"}.get(delimiter or "", delimiter), sheet),
            Wishes(accept_near=accept_near, header=header), leave_out=frozenset(left if take_out else {*left, "gone"}),
            default_type=card_type,
        )  # fmt: skip
        order = _completed(now, data, file.name, order, create, columns or [], as_json)
        if dry_run:
            plan = plan_import(now, data, file.name, order)
        else:
            _, plan = take_import(desk, game, data, file.name, PAGE, order)
        if as_json:
            _echo(_import_json(plan, dry_run))
        else:
            _tell_import(plan, dry_run)


def _completed(
    game: GameSnapshot, data: bytes, name: str, order: Order, create: str, columns: list[str], as_json: bool
) -> Order:
    """The order with columns by hand, and with everything that may be made and that the sheet has."""
    may = {each.strip() for each in create.split(",") if each.strip()}
    if may - {"all", "fields", "types", "values"}:
        _fail({"what": f"{create} can't be made", "mend": "write fields, types, values or all"}, as_json)
    may = {"fields", "types", "values"} if "all" in may else may
    plan = plan_import(game, data, name, order)
    by_hand: dict[int, str | None] = {}
    for each in columns:
        heading, _, target = each.rpartition("=")
        found = next((c.index for c in plan.intake.columns if fold(c.heading) == fold(heading)), None)
        named = {fold(t.name): t.id for t in Target.all_of(game.rulebook.cards)}
        if found is None or (target and fold(target) not in {*named, *named.values()}):
            _fail(
                {"what": f"{each} matches no column and field", "mend": "write it as HEADING=FIELD"}, as_json
            )
        by_hand[found or 0] = named.get(fold(target), fold(target)) if target else None
    order = replace(order, wishes=replace(order.wishes, columns=by_hand))
    types = [*plan.types] if "types" in may else []
    known = {fold(each.name): each.id for each in game.rulebook.cards.types}
    if order.default_type and fold(order.default_type) not in {*known, *known.values()}:
        if "types" not in may:
            _fail(
                {"what": f"there is no card type {order.default_type}", "mend": "add --create types"}, as_json
            )
        types.append(order.default_type)
    elif order.default_type:
        order = replace(order, default_type=known.get(fold(order.default_type), order.default_type))
    fields = {each.column: (each.name, each.kind) for each in plan.fields if each.column not in by_hand}
    order = replace(order, make=Making(fields if "fields" in may else {}, tuple(types)))
    if "values" in may:
        wanted: dict[str, list[str]] = {}
        for value in plan_import(game, data, name, order).values:
            wanted.setdefault(value.list, []).append(value.value)
        order = replace(
            order, make=replace(order.make, values={key: tuple(each) for key, each in wanted.items()})
        )
    return order


def _import_json(plan: ImportPlan, dry_run: bool) -> dict[str, Any]:
    intake = plan.intake
    return {
        "set": plan.set_name, "code": plan.set_code, "written": not dry_run, "rows": intake.rows, "taken": len(intake.taken),
        "skipped": [asdict(each) for each in intake.skipped], "refused": [asdict(each) for each in intake.refused],
        "columns": [{"heading": each.heading.strip(), "field": each.target} for each in intake.columns],
        "notes": [{"row": each.row, "code": each.code, "note": note} for each in intake.taken for note in each.notes],
        "made": [change.field for change in plan.rules], "file_notes": list(plan.table.notes),
        "update": None if plan.update is None else {
            "added": [each.code for each in plan.added], "gone": [plan.game.cards[each].code for each in plan.gone], "same": plan.update.same,
            "changed": [{"code": each.code, "field": each.field, "before": each.before, "after": each.after} for each in plan.changed],
        },
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
    for note in plan.table.notes:
        typer.echo(f"  {note}")
    for part in plan.rules:
        typer.echo(f"  the rules gain: {part.field}")
    for cell in plan.changed:
        typer.echo(f"  {cell.code} {cell.title}: {cell.name} “{cell.before}” -> “{cell.after}”")
    for ident in plan.gone:
        typer.echo(f"  {plan.game.cards[ident].code} {plan.game.title(plan.game.cards[ident])}: taken out")
    if plan.update is None:
        home = "to set" if plan.order.set_id else "as the new set"
        done = f"{plural(len(plan.added), 'card')} added {home} {plan.set_name} ({plan.set_code})."
    else:
        done = "written as one step."
    typer.echo(f"{said(plan)}; " + ("nothing was written." if dry_run else done))


@app.command()
def export(
    game: GameOption,
    out: Annotated[
        Path, typer.Argument(help="The file to write: .csv, .tsv, .xlsx or .json; any other with --layout.")
    ],
    query: Annotated[str, typer.Option(help="Only the cards that answer to a query.")] = "",
    layout: Annotated[str | None, typer.Option(help="A text table that was laid out, by its name.")] = None,
    force: Annotated[bool, typer.Option("--force", help="Write over a file that is there.")] = False,
    db: DbOption = DEFAULT_DB,
    as_json: JsonOption = False,
) -> None:
    """Writes the cards to a table that comes back cell for cell, or to a text table."""
    from dramok.studio.exporting import export_table, found_cards, read_layout, text_table

    with _desk(db, as_json) as desk:
        found = desk.game(game)
        if layout is None:
            data = export_table(desk, found, out.suffix.lower().lstrip("."), query)
            notes: list[str] = []
        else:
            held = next((each for each in found.of_kind("layout") if fold(each.name) == fold(layout)), None)
            if held is None:
                names = ", ".join(each.name for each in found.of_kind("layout")) or "there is none yet"
                _fail(
                    {"what": f"there is no text table {layout}", "mend": f"choose one of: {names}"}, as_json
                )
            table = read_layout(held.doc)
            text, notes = text_table(
                desk, found, table if not query else table.model_copy(update={"query": query})
            )
            data = text.encode()
        _write(out, data, force, as_json)
        count = len(found_cards(desk, found, query))
        if as_json:
            _echo({"file": str(out), "bytes": len(data), "cards": count, "notes": notes})
        else:
            for note in notes:
                typer.echo(f"  {note}")
            typer.echo(f"{plural(count, 'card')} written to {out}.")


@app.command()
def backup(
    game: GameOption,
    out: Annotated[Path, typer.Argument(help="The archive to write.")],
    shared: Annotated[
        bool, typer.Option("--shared", help="Without prices, notes, history and playtests.")
    ] = False,
    force: Annotated[bool, typer.Option("--force", help="Write over a file that is there.")] = False,
    db: DbOption = DEFAULT_DB,
    as_json: JsonOption = False,
) -> None:
    """Writes a whole game to one file: a backup, or a copy to share."""
    from dramok.studio.archiving import archive

    with _desk(db, as_json) as desk:
        found = desk.game(game)
        data = archive(desk, found, shared)
        _write(out, data, force, as_json)
        said = {
            "file": str(out),
            "bytes": len(data),
            "cards": len(found.cards),
            "kind": "shared" if shared else "backup",
        }
        if as_json:
            _echo(said)
        else:
            typer.echo(f"{found.name}, {plural(len(found.cards), 'card')}, written to {out}.")


@app.command()
def restore(
    file: Annotated[Path, typer.Argument(help="A backup or a shared copy.")],
    name: Annotated[
        str | None, typer.Option(help="The game's name; that of the archive when left out.")
    ] = None,
    db: DbOption = DEFAULT_DB,
    as_json: JsonOption = False,
) -> None:
    """Makes a game of an archive, beside those that are there; none is ever written over."""
    from dramok.studio.archiving import restore_game

    with _desk(db, as_json, demo=False) as desk:
        found = restore_game(desk, _read(file, as_json), name)
        if as_json:
            _echo({"game": found.id, "name": found.name, "cards": len(found.cards)})
        else:
            typer.echo(f"{found.name}, {plural(len(found.cards), 'card')}, is there as {found.id}.")


@app.command()
def pictures(
    source: Annotated[Path, typer.Argument(help="A folder, a ZIP or one picture.")],
    game: GameOption,
    field: Annotated[str | None, typer.Option(help="The picture field to fill, by id.")] = None,
    column: Annotated[str | None, typer.Option(help="A field whose text names the file, by id.")] = None,
    accept_near: Annotated[bool, typer.Option("--accept-near", help="Take near names as meant.")] = False,
    dry_run: Annotated[bool, typer.Option("--dry-run", help="Look only; write nothing.")] = False,
    db: DbOption = DEFAULT_DB,
    as_json: JsonOption = False,
) -> None:
    """Brings pictures in and puts them on the cards that they are for."""
    from dramok.studio.cells import CellEdit, write_cells
    from dramok.studio.pictures import bring_pictures, bring_zip, match_pictures

    with _desk(db, as_json) as desk:
        now = desk.game(game)
        if source.is_dir():
            files = [
                (each.relative_to(source).as_posix(), each)
                for each in sorted(source.rglob("*"))
                if each.is_file()
            ]
            brought = bring_pictures(desk, game, ((name, path.read_bytes()) for name, path in files))
        elif source.suffix.lower() == ".zip":
            brought = bring_zip(desk, game, _read(source, as_json))
        else:
            brought = bring_pictures(desk, game, [(source.name, _read(source, as_json))])
        shas = {each.name: each.sha for each in brought if each.sha}
        placed = match_pictures(now, list(shas), field, column)
        taken = [each for each in placed if each.card and not each.taken and (accept_near or not each.near)]
        edits = [CellEdit(each.card or "", each.field or "", shas[each.file] or "") for each in taken]
        if edits and not dry_run:
            write_cells(
                desk,
                game,
                edits,
                desk.game(game).seq,
                PAGE,
                label=f"{plural(len(edits), 'picture')} on cards",
            )
        if as_json:
            _echo(
                {
                    "written": bool(edits) and not dry_run, "placed": [asdict(each) for each in placed],
                    "refused": [{"file": each.name, "what": each.problem.what} for each in brought if each.problem],
                }
            )  # fmt: skip
            return
        for each in placed:
            on = now.title(now.cards[each.card]) if each.card else "no card"
            near = (
                "" if not each.near or accept_near else " — look at it, and add --accept-near if it is right"
            )
            typer.echo(
                f"  {each.file} -> {on} ({each.how}{', taken by ' + each.taken if each.taken else ''}){near}"
            )
        for file in brought:
            if file.problem:
                typer.echo(f"  {file.name}: {file.problem.what}; {file.problem.mend}")
        typer.echo(
            f"{plural(len(shas), 'picture')} brought, {len(edits)} "
            + ("would be put" if dry_run else "put")
            + " on cards."
        )


def _read(file: Path, as_json: bool) -> bytes:
    try:
        return file.read_bytes()
    except OSError as error:
        _fail({"what": f"{file} can't be read: {error.strerror}", "mend": "check the path"}, as_json)


def _write(file: Path, data: bytes, force: bool, as_json: bool) -> None:
    """Writes a file whole or not at all; never over another unasked."""
    if file.exists() and not force:
        _fail({"what": f"{file} is there already", "mend": "choose another name, or add --force"}, as_json)
    beside = file.with_name(f".{file.name}.part")
    try:
        beside.write_bytes(data)
        beside.replace(file)
    except OSError as error:
        _fail({"what": f"{file} can't be written: {error.strerror}", "mend": "check the path"}, as_json)


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


@app.command("proof")
def proof_faces(
    game: GameOption,
    query: Annotated[str, typer.Option(help="Only the cards that answer to this query.")] = "",
    db: DbOption = DEFAULT_DB,
    as_json: JsonOption = False,
) -> None:
    """Looks through every face for what would print badly. Ends with 1 when it finds something."""
    from dramok.studio.proofing import proof

    with _desk(db, as_json) as desk:
        found = proof(desk, desk.game(game), query)
        if as_json:
            _echo(
                {
                    "looked": found.looked, "counts": dict(found.counts),
                    "plans": [{"plan": name, **problem.model_dump(exclude_none=True)} for name, problem in found.plans],
                    "cards": [
                        {"card": each.card, "code": each.code, "name": each.title, "faults": [asdict(fault) for fault in each.faults]}
                        for each in found.cards
                    ],
                }
            )  # fmt: skip
        else:
            for name, problem in found.plans:
                typer.echo(f"face plan {name}, {problem.where}: {problem.what}; {problem.mend}")
            for each in found.cards:
                for fault in each.faults:
                    typer.echo(f"{each.code} {each.title}: {fault.name}: {fault.what}; {fault.mend}")
            typer.echo(f"{found.looked} faces looked through, {sum(found.counts.values())} faults.")
    if not found.sound:
        raise typer.Exit(1)


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
