"""Import of table files."""

from __future__ import annotations

from dataclasses import asdict, replace
from pathlib import Path
from typing import Annotated, Any, cast

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
)
from dramok.core.cards.sheets.column_matching import Target
from dramok.core.cards.sheets.import_context import ImportOptions
from dramok.core.problem import fold, plural
from dramok.formats.tables import ReadAs
from dramok.services.files.sheet_additions import Making
from dramok.services.files.sheet_import import (
    ImportPlan,
    Match,
    Order,
    plan_import,
    said,
    write_import,
)
from dramok.services.workspace.snapshot import GameSnapshot
from dramok.store import new_key


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
        bool,
        typer.Option("--remove", "--take-out", help="With --update: remove cards that are not in the file."),
    ] = False,
    leave_out: Annotated[
        str, typer.Option(help="With --update: leave out added, changed or both (commas between).")
    ] = "",
    create: Annotated[
        str,
        typer.Option(
            help="What to add when the game lacks it: fields, types, values (commas between), or all."
        ),
    ] = "",
    card_type: Annotated[
        str | None, typer.Option("--type", help="The card type of rows without one.")
    ] = None,
    columns: Annotated[
        list[str] | None, typer.Option("--column", help="A column matched by hand, as HEADING=FIELD.")
    ] = None,
    sheet: Annotated[str | None, typer.Option(help="The worksheet of a workbook.")] = None,
    header: Annotated[int | None, typer.Option(help="The row that the header is in.")] = None,
    encoding: Annotated[str | None, typer.Option(help="The encoding, such as Windows-1252.")] = None,
    delimiter: Annotated[str | None, typer.Option(help="Column separator; write tab for a tab.")] = None,
    dry_run: Annotated[bool, typer.Option("--dry-run", help="Look only; write nothing.")] = False,
    accept_near: Annotated[
        bool,
        typer.Option(
            "--accept-near", help="Accept near values (a misspelt choice is read as the nearest one)."
        ),
    ] = False,
    db: DbOption = DEFAULT_DB,
    as_json: JsonOption = False,
) -> None:
    """Imports cards from a table file, or updates existing cards, as one undoable step."""
    with open_games(db, as_json) as workspace:
        data = read_file(file, as_json)
        now = workspace.game(game)
        home = next((each.id for each in now.sets if set_name and fold(each.name) == fold(set_name)), None)
        left = {each.strip() for each in leave_out.split(",") if each.strip()}
        if update not in (None, "code", "name") or left - {"added", "changed"}:
            fail(
                {"what": "that is not a way to update", "mend": "write --update code or --update name"}, as_json
            )
        order = Order(
            set_name, home, cast(Match, update or "new"), ReadAs(encoding, {"tab": "\t"}.get(delimiter or "", delimiter), sheet),
            ImportOptions(accept_near=accept_near, header=header), leave_out=frozenset(left if take_out else {*left, "gone"}),
            default_type=card_type,
        )  # fmt: skip
        order = _completed(now, data, path_text(file.name), order, create, columns or [], as_json)
        if dry_run:
            plan = plan_import(now, data, path_text(file.name), order)
        else:
            _, plan = write_import(workspace, game, data, path_text(file.name), PAGE, order, new_key())
        if as_json:
            echo(_import_json(plan, dry_run))
        else:
            _tell_import(plan, dry_run)


def _completed(
    game: GameSnapshot, data: bytes, name: str, order: Order, create: str, columns: list[str], as_json: bool
) -> Order:
    """The order with columns set by hand, and with everything that may be created and that the file has."""
    may = {each.strip() for each in create.split(",") if each.strip()}
    if may - {"all", "fields", "types", "values"}:
        fail({"what": f"{create} can't be made", "mend": "write fields, types, values or all"}, as_json)
    may = {"fields", "types", "values"} if "all" in may else may
    plan = plan_import(game, data, name, order)
    by_hand: dict[int, str | None] = {}
    for each in columns:
        heading, _, target = each.rpartition("=")
        found = next((c.index for c in plan.intake.columns if fold(c.heading) == fold(heading)), None)
        named = {fold(t.name): t.id for t in Target.all_of(game.rulebook.cards)}
        if found is None or (target and fold(target) not in {*named, *named.values()}):
            fail(
                {"what": f"{each} matches no column and field", "mend": "write it as HEADING=FIELD"}, as_json
            )
        by_hand[found or 0] = named.get(fold(target), fold(target)) if target else None
    order = replace(order, wishes=replace(order.wishes, columns=by_hand))
    types = [*plan.types] if "types" in may else []
    known = {fold(each.name): each.id for each in game.rulebook.cards.types}
    if order.default_type and fold(order.default_type) not in {*known, *known.values()}:
        if "types" not in may:
            fail(
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
        "made": [change.field for change in plan.rules], "file_notes": list(plan.file.notes),
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
        typer.echo(f"  {plural(unwritten, 'card')} with the text as it is: behaviour not written")
    for warning in intake.warnings:
        typer.echo(f"  {warning.what}; {warning.mend}")
    for note in plan.file.notes:
        typer.echo(f"  {note}")
    for part in plan.rules:
        typer.echo(f"  the rules gain: {part.field}")
    for cell in plan.changed:
        typer.echo(f"  {cell.code} {cell.title}: {cell.name} “{cell.before}” -> “{cell.after}”")
    for ident in plan.gone:
        typer.echo(f"  {plan.game.cards[ident].code} {plan.game.title(plan.game.cards[ident])}: removed")
    if plan.update is None:
        home = "to set" if plan.order.set_id else "as the new set"
        done = f"{plural(len(plan.added), 'card')} added {home} {plan.set_name} ({plan.set_code})."
    else:
        done = "written as one step."
    typer.echo(f"{said(plan)}; " + ("nothing was written." if dry_run else done))
