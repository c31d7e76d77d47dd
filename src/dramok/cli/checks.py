"""What is unfinished, what would print badly, what cards are worth."""

from __future__ import annotations

from dataclasses import asdict
from typing import TYPE_CHECKING, Annotated, Any

import typer

from dramok.cli.context import (
    DEFAULT_DB,
    DbOption,
    GameOption,
    JsonOption,
    app,
    echo,
    open_games,
)
from dramok.core.balance.declared.prices import shown
from dramok.core.problem import plural
from dramok.services import Workspace
from dramok.services.cards.card_detail import detail_of
from dramok.services.cards.card_edits import card_in
from dramok.services.files.checks import check as find_problems
from dramok.services.workspace.snapshot import GameSnapshot

if TYPE_CHECKING:
    from dramok.services.files.repair import Damage

MOST_FAULTS = 20


@app.command()
def check(
    game: Annotated[
        str, typer.Option("--game", help="The game's id; without it every game is looked at for damage.")
    ] = "",
    db: DbOption = DEFAULT_DB,
    as_json: JsonOption = False,
) -> None:
    """Lists everything unfinished or wrong in a game. Without a game: finds damage in the file, and exits with 1 if there is any."""
    with open_games(db, as_json) as workspace:
        if not game:
            _tell_damage(workspace, as_json)
            return
        found = find_problems(workspace.game(game))
        if as_json:
            echo(
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


def _tell_damage(workspace: Workspace, as_json: bool) -> None:
    from dramok.services.files.repair import damaged_games

    file, found = workspace.store.file_faults(), damaged_games(workspace)
    if as_json:
        echo({"file": file, "games": len(workspace.store.games()), "damaged": [_said(each) for each in found]})
    else:
        for said in file:
            typer.echo(f"the file: {said}; take a copy of it, and restore the games from backups")
        for each in found:
            _tell(each)
        sound = len(workspace.store.games()) - len(found)
        typer.echo(f"{plural(sound, 'game')} sound, {len(found)} damaged.")
    if file or found:
        raise typer.Exit(1)


def _tell(damage: Damage) -> None:
    typer.echo(f"{damage.name} ({damage.id}) is damaged:")
    for each in damage.faults[:MOST_FAULTS]:
        typer.echo(f"  {each.entity} {each.problem.where}: {each.problem.what}")
    if len(damage.faults) > MOST_FAULTS:
        typer.echo(f"  and {len(damage.faults) - MOST_FAULTS} more")
    if damage.sound is None:
        typer.echo("  No sound moment is known: restore it from a backup (dramok restore).")
    elif damage.steps:
        typer.echo(
            f"  It was sound {plural(damage.steps, 'edit')} ago, after “{damage.sound.label}”, {damage.sound.at}."
        )
    else:
        typer.echo(
            f"  {plural(len(damage.rebuilt), 'document')} can be rebuilt from the journal; no edit is taken back."
        )


def _said(damage: Damage) -> dict[str, Any]:
    return {
        "id": damage.id,
        "name": damage.name,
        "faults": [
            {"entity": each.entity, "id": each.id, **each.problem.model_dump(exclude_none=True)}
            for each in damage.faults
        ],
        "sound": damage.sound
        and {"seq": damage.sound.seq, "label": damage.sound.label, "at": damage.sound.at},
        "steps": damage.steps,
        "rebuilt": list(damage.rebuilt),
    }


@app.command()
def repair(
    game: Annotated[str, typer.Option("--game", help="Only this game.")] = "",
    yes: Annotated[bool, typer.Option("--yes", help="Do not ask.")] = False,
    db: DbOption = DEFAULT_DB,
    as_json: JsonOption = False,
) -> None:
    """Takes damaged games back to their last undamaged state, after asking. The file is copied first; the journal keeps what is undone."""
    from dramok.services.files import repair as repairing

    with open_games(db, as_json) as workspace:
        found = [each for each in repairing.damaged_games(workspace) if game in ("", each.id)]
        mended, left = [], []
        copy = db.with_suffix(f".before-repair{db.suffix}")
        for each in found:
            if not as_json:
                _tell(each)
            if each.sound is None or not (yes or (not as_json and typer.confirm("  Walk it back?"))):
                left.append(each.id)
                continue
            workspace.store.copy_to(copy)
            repairing.repair(workspace, each.id, each.sound.seq)
            mended.append(each.id)
        if as_json:
            echo({"repaired": mended, "left": left})
        else:
            typer.echo(
                f"{plural(len(mended), 'game')} repaired, {len(left)} left as they are."
                if found
                else "Nothing is damaged."
            )
        if left:
            raise typer.Exit(1)


@app.command("proof")
def proof_faces(
    game: GameOption,
    query: Annotated[str, typer.Option(help="Only the cards that match this query.")] = "",
    db: DbOption = DEFAULT_DB,
    as_json: JsonOption = False,
) -> None:
    """Checks every face for what would print badly. Exits with 1 if it finds something."""
    from dramok.services.faces.proof import proof

    with open_games(db, as_json) as workspace:
        found = proof(workspace, workspace.game(game), query)
        if as_json:
            echo(
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
    """Shows the worth of a card line by line, or of every card."""
    with open_games(db, as_json) as workspace:
        found = workspace.game(game)
        cards = [card_in(found, card)] if card else list(found.cards.values())
        priced = [_priced(found, each.id) for each in cards]
        if as_json:
            echo(priced[0] if card else {"cards": priced})
            return
        for each in priced:
            sums = f"worth {shown(each['worth'])} - budget {shown(each['budget'])} = {shown(each['difference'], signed=True)}"
            typer.echo(f"{each['code']} {each['name']}: {sums} ({each['verdict']})")
            for line in each["lines"] if card else ():
                points = "open" if line["points"] is None else shown(line["points"], signed=True)
                typer.echo(f"  {points:>8}  {line['what']}  ({line['why']})")


def _priced(game: GameSnapshot, ident: str) -> dict[str, Any]:
    card = game.cards[ident]
    ledger = detail_of(game, card).ledger
    lines = [
        {"what": line.what, "points": line.points, "why": line.why, "part": line.part}
        for line in ledger.lines
    ]
    return {
        "code": card.code, "name": game.title(card), "lines": lines, "worth": ledger.worth, "budget": ledger.budget,
        "difference": ledger.difference, "verdict": ledger.judgement,
    }  # fmt: skip
