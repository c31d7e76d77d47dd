"""How strong cards are, measured by games."""

from __future__ import annotations

import time
from dataclasses import asdict
from typing import Annotated, Any

import typer

from dramok.cli.frame import DEFAULT_DB, DbOption, GameOption, JsonOption, app, echo, open_games
from dramok.core.problem import plural

SHOWN = 12


@app.command()
def measure(
    game: GameOption,
    games: Annotated[int, typer.Option(help="How many games.", min=1)] = 20_000,
    seconds: Annotated[float, typer.Option(help="Stop after so many seconds, whatever is known by then; 0: not.", min=0)] = 0,
    player: Annotated[str, typer.Option(help="Who plays both sides: random, plain or ahead.")] = "plain",
    seed: Annotated[int, typer.Option(help="The seed of all decks and games.", min=0)] = 1,
    threads: Annotated[int, typer.Option(help="Threads; 0: one a core.", min=0, max=64)] = 0,
    db: DbOption = DEFAULT_DB,
    as_json: JsonOption = False,
) -> None:
    """Measures what each card does to the win rate, by games with random legal decks: points a copy, with 95 % intervals."""
    from dramok.studio.measuring import MeasureAsked, Measurement
    from dramok.studio.measuring import measure as run

    with open_games(db, as_json) as desk:
        now = desk.game(game)
        found = Measurement("none")
        begun = time.monotonic()
        for found in run(now, MeasureAsked(games, seed, player, threads)):
            if not as_json:
                typer.echo(f"({found.games:,} of {games:,} games)", err=True)
            if seconds and time.monotonic() - begun >= seconds:
                break
        titles = {card.card: now.title(now.cards[card.card]) for card in found.cards}
        codes = {card.card: now.cards[card.card].code for card in found.cards}
        turn = now.rulebook.table.turn
    if as_json:
        echo({
            "games": found.games, "seed": seed, "player": player, "seq": found.seq, "provisional": found.provisional, "seconds": found.seconds, "digest": found.digest,
            "first": {"points": found.first[0], "low": found.first[1], "high": found.first[2]}, "turns": found.turns, "draws": found.draws, "runaways": found.runaways,
            "cards": [_card(each, codes[each.card], titles[each.card]) for each in found.cards],
        })  # fmt: skip
        return
    told = [each for each in found.cards if each.lift is not None]
    told.sort(key=lambda each: -(each.lift or 0))
    typer.echo(f"{found.games:,} games in {found.seconds:.1f} s under {player}, seed {seed}{', stopped before their end' if found.provisional else ''}")
    typer.echo(f"  going first: {found.first[0]:+.1f} points of win rate ({found.first[1]:+.1f} to {found.first[2]:+.1f}); {found.turns:.1f} {turn}s a game")
    named = [each for each in told if each.named]
    typer.echo(f"  {plural(len(named), 'card')} named: more than a point from the average card")
    for each in named[:SHOWN] if len(named) <= 2 * SHOWN else (*named[:SHOWN], *named[-SHOWN:]):
        typer.echo(f"  {each.lift:+6.2f} ({each.low:+.2f} to {each.high:+.2f})  {codes[each.card]}  {titles[each.card]}")
    left_out = len(found.cards) - len(told)
    if left_out:
        typer.echo(f"  {plural(left_out, 'card')} in no deck: not measured")
    typer.echo(f"  digest {found.digest}")


def _card(each: Any, code: str, title: str) -> dict[str, object]:
    return {"id": each.card, "code": code, "name": title, "lift": each.lift, "low": each.low, "high": each.high, "named": each.named, "decks": each.decks}


@app.command()
def sweep(
    game: GameOption,
    card: Annotated[str, typer.Option(help="The card, by code or name.")],
    field: Annotated[str, typer.Option(help="The number field, by id or name.")],
    start: Annotated[int, typer.Option("--from", help="The first value.")],
    end: Annotated[int, typer.Option("--to", help="The last one.")],
    games: Annotated[int, typer.Option(help="Games for each value.", min=1)] = 2_000,
    player: Annotated[str, typer.Option(help="Who plays both sides: random, plain or ahead.")] = "plain",
    seed: Annotated[int, typer.Option(help="The seed of all decks and games.", min=0)] = 1,
    db: DbOption = DEFAULT_DB,
    as_json: JsonOption = False,
) -> None:
    """One number of a card over a range: how often the side with the card wins, value by value on the same shuffles."""
    from dramok.core.problem import fold
    from dramok.studio.editing import card_in
    from dramok.studio.measuring import SweepAsked
    from dramok.studio.measuring import sweep as run

    with open_games(db, as_json) as desk:
        now = desk.game(game)
        known = next((each.id for each in now.cards.values() if card in (each.id, each.code) or fold(now.title(each)) == fold(card)), card)
        found = card_in(now, known)
        names = {fold(each.name): each.id for each in now.rulebook.cards.fields}
        points = run(now, SweepAsked(found.id, names.get(fold(field), field), start, end, games, seed, player))
        title, stands = now.title(found), found.number(names.get(fold(field), field))
    if as_json:
        echo({"card": found.code, "field": names.get(fold(field), field), "games": games, "seed": seed, "player": player, "now": stands, "values": [asdict(each) for each in points]})
        return
    typer.echo(f"{title}, {field}: {games:,} games a value under {player}, seed {seed}")
    for each in points:
        mark = "  as it is" if each.value == stands else f"  {each.more:+.1f} ({each.more_low:+.1f} to {each.more_high:+.1f})"
        typer.echo(f"  {each.value:>4}: {each.rate:.1f} % ({each.low:.1f} to {each.high:.1f}){mark}")
