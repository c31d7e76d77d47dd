"""What is unfinished, what would print badly, what cards are worth."""

from __future__ import annotations

from dataclasses import asdict
from typing import Annotated, Any

import typer

from dramok.cli.frame import (
    DEFAULT_DB,
    DbOption,
    GameOption,
    JsonOption,
    app,
    echo,
    open_games,
)
from dramok.core.balance.prices import shown
from dramok.studio.checking import check as find_problems
from dramok.studio.editing import card_in
from dramok.studio.sheets import sheet_of
from dramok.studio.snapshot import GameSnapshot


@app.command()
def check(game: GameOption, db: DbOption = DEFAULT_DB, as_json: JsonOption = False) -> None:
    """Lists everything unfinished or wrong: text that does not fit, drafts, open prices, illegal decks."""
    with open_games(db, as_json) as desk:
        found = find_problems(desk.game(game))
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


@app.command("proof")
def proof_faces(
    game: GameOption,
    query: Annotated[str, typer.Option(help="Only the cards that answer to this query.")] = "",
    db: DbOption = DEFAULT_DB,
    as_json: JsonOption = False,
) -> None:
    """Looks through every face for what would print badly. Ends with 1 when it finds something."""
    from dramok.studio.proofing import proof

    with open_games(db, as_json) as desk:
        found = proof(desk, desk.game(game), query)
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
    """Prices a card, line by line, or every card."""
    with open_games(db, as_json) as desk:
        found = desk.game(game)
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
    ledger = sheet_of(game, card).ledger
    lines = [
        {"what": line.what, "points": line.points, "why": line.why, "part": line.part}
        for line in ledger.lines
    ]
    return {
        "code": card.code, "name": game.title(card), "lines": lines, "worth": ledger.worth, "budget": ledger.budget,
        "difference": ledger.difference, "verdict": ledger.judgement,
    }  # fmt: skip
