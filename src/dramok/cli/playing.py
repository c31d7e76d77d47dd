"""Match commands: play in the terminal, simulate, replay."""

from __future__ import annotations

import json
import secrets
from collections.abc import Iterator
from dataclasses import asdict
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
    note,
    open_games,
    player_id,
    player_ids,
    read_file,
    write_file,
)
from dramok.core.automatic_players import PLAYERS, WORDS

if TYPE_CHECKING:
    from dramok.core.engine import Match, Program
    from dramok.services import Workspace

FORM = "dramok match 1"
DecksOption = Annotated[list[str] | None, typer.Option("--deck", help="A deck by name or id: one for all seats, or one for each.")]
SeatsOption = Annotated[int, typer.Option("--seats", help="The number of seats; 0: the usual one.", min=0, max=4)]
PlayerOption = Annotated[list[str] | None, typer.Option("--player", help=f"{WORDS}: one for all seats, or one for each.", callback=player_ids)]


def own_player_id(name: str) -> str:
    """The id of the player of the first seat; empty: the person at the terminal."""
    return player_id(name) if name else ""


@app.command()
def play(
    game: GameOption,
    decks: DecksOption = None,
    seed: Annotated[int | None, typer.Option(help="The seed; random by default.", min=0)] = None,
    player: Annotated[str, typer.Option(help=f"Who has the other seats: {WORDS}.", callback=player_id)] = "simple",
    mine: Annotated[str, typer.Option("--own-player", help="An automatic player for the first seat too: the match is watched.", callback=own_player_id)] = "",
    script: Annotated[Path | None, typer.Option(help="A file with decisions, one a line, by number or in words.")] = None,
    save: Annotated[Path | None, typer.Option(help="A file to keep the match in, for replay.")] = None,
    seats: SeatsOption = 0,
    db: DbOption = DEFAULT_DB,
    as_json: JsonOption = False,
) -> None:
    """Plays a match in the terminal against an automatic player."""
    with open_games(db, as_json) as workspace:
        program, lists, names = _set_up(workspace, game, decks or [], seats)
    from dramok.core.engine import start
    from dramok.core.engine.view import score_sheet, view

    for named in (player, *([mine] if mine else [])):
        if named not in PLAYERS:
            fail({"what": f"there is no automatic player {named}", "mend": f"choose {WORDS}"}, as_json)
    seed = secrets.randbelow(1_000_000) if seed is None else seed
    try:
        match = start(program, lists, seed)
    except ValueError as error:
        fail({"what": str(error), "mend": "choose other decks"}, as_json)
    typed = _typed(script)
    if not as_json:
        typer.echo(f"{program.rulebook.name}: {names[0] if len(set(names)) == 1 else ' against '.join(names)}, seed {seed}")
    said = 0
    while match.asked != "over":
        if match.seat != 0 or mine:
            match.take(match.choose(player if match.seat else mine))
            continue
        said = said if as_json else _tell(match, said)
        if not as_json:
            _show_options(match, view(match, 0))
        text = next(typed, None)
        if text is None:
            break
        row = _chosen(match, text)
        if row is None:
            if script is not None:
                fail({"what": f"“{text[:60]}” is not an option now", "mend": "write an option's number or words"}, as_json)
            typer.echo("  That is not an option: type its number.")
            continue
        match.take(row)
    if not as_json:
        _tell(match, said)
        typer.echo(_ending(match))
    if save is not None:
        write_file(save, json.dumps(_kept(match), ensure_ascii=False).encode(), False, as_json)
    if as_json:
        echo({"game": game, "seed": seed, "seats": program.seats, "winner": match.state.winner, "scores": score_sheet(match), "turns": match.state.turn, "over": match.asked == "over", "decisions": [list(each) for each in match.decisions], "events": [list(each) for each in match.events]})  # fmt: skip


@app.command()
def simulate(
    game: GameOption,
    decks: DecksOption = None,
    random_decks: Annotated[bool, typer.Option("--random-decks", help="Random legal decks in every game.")] = False,
    games: Annotated[int, typer.Option(help="How many games.", min=1)] = 1_000,
    seed: Annotated[int, typer.Option(help="The seed of all games.", min=0)] = 1,
    players: PlayerOption = None,
    threads: Annotated[int, typer.Option(help="Threads; 0: one per core.", min=0, max=64)] = 0,
    seats: SeatsOption = 0,
    db: DbOption = DEFAULT_DB,
    as_json: JsonOption = False,
) -> None:
    """Plays many games between automatic players: win rates, length of games, games that never end."""
    from dramok.services.balance.compile_progress import report_compile_progress
    from dramok.services.decks.edits import deck_named
    from dramok.services.play.simulation import SimulationAsked
    from dramok.services.play.simulation import simulate as run

    with open_games(db, as_json) as workspace:
        now = workspace.game(game)
        named = tuple(deck_named(now, each).id for each in decks or ())
        common = now.rulebook.played.set_up.starts_alike
        if random_decks and common:
            fail({"what": "everyone begins with the same deck by the rules", "mend": "leave --random-decks out, or name decks with --deck"}, as_json)
        if not named and not random_decks and not common:
            fail({"what": "which decks?", "mend": "name them with --deck, or say --random-decks"}, as_json)
        asked = SimulationAsked(games, seed, named, tuple(players or ["plain"]), threads, seats)
        with report_compile_progress(note):
            found = run(now, asked, note)
        titles = {card.id: now.title(card) for card in now.cards.values()}
        codes = {card.id: card.code for card in now.cards.values()}
    if as_json:
        echo({
            "games": found.games, "wins": list(found.wins), "draws": found.draws, "runaways": found.runaways, "cut": [asdict(each) for each in found.cut], "turns": {"mean": found.mean_turns, **{str(share): turns for share, turns in found.turns.items()}},
            "decisions": found.decisions, "seconds": found.seconds, "digest": found.digest, "compiled": found.compiled, "threads": found.threads,
            "decks": found.decks, "repeated_decks": found.repeated and random_decks, "scores": [dict(each) for each in found.scores],
            "purchases": {codes[ident]: number for ident, number in sorted(found.purchases.items(), key=lambda each: -each[1])},
        })  # fmt: skip
        return
    typer.echo(f"{found.games:,} games in {found.seconds:.2f} s{'' if found.compiled else ', uncompiled'}")
    if random_decks:
        typer.echo(f"  {found.decks:,} random legal decks{', repeated: each plays several games' if found.repeated else ', none played twice'}")
    for seat in range(len(found.wins)):
        share, low, high = found.share(seat)
        typer.echo(f"  seat {seat + 1} won {found.wins[seat]:,} ({share:.1%}; 95 % between {low:.1%} and {high:.1%})")
    typer.echo(f"  {found.draws:,} draws, {found.runaways:,} cut off as endless")
    for each in found.cut:
        typer.echo(f"    {each.said(titles)}")
    for seat, lines in enumerate(found.scores):
        told = ", ".join(f"{name} {amount:.1f}" for name, amount in lines.items())
        typer.echo(f"  seat {seat + 1} scored {sum(lines.values()):.1f} on average ({told})")
    if found.purchases:
        most = sorted(found.purchases.items(), key=lambda each: -each[1])[:8]
        typer.echo(f"  bought most: {', '.join(f'{titles[ident]} {number / found.games:.1f} a game' for ident, number in most)}")
    turns = found.turns
    typer.echo(f"  turns: {found.mean_turns:.1f} on average; half of the games take {turns[25]} to {turns[75]}, the longest {turns[100]}")
    typer.echo(f"  digest {found.digest}")


@app.command()
def replay(
    path: Annotated[Path, typer.Argument(help="A match that `play --save` kept.", metavar="FILE")],
    as_json: JsonOption = False,
) -> None:
    """Replays a kept match, with the same events. If it can't be replayed to its end, it is shown as far as possible, and the exit code is 1."""
    from dramok.core.engine import Option, compile_program, replay_as_far, told
    from dramok.core.engine.match_record import match_record
    from dramok.core.rulebook import Rulebook
    from dramok.services.play.matches import card_of

    data = read_file(path, as_json)
    try:
        kept = json.loads(data)
        if kept.get("form") != FORM:
            raise ValueError("it is not a kept match")
        program = compile_program(Rulebook.model_validate(kept["rulebook"]), [card_of(each) for each in kept["cards"]])
        match, problem = replay_as_far(program, kept["decks"], int(kept["seed"]), [Option(*each) for each in kept["decisions"]])
    except (ValueError, LookupError, TypeError, AttributeError, RecursionError) as error:
        fail({"what": f"it can't be played: {str(error)[:160]}", "mend": "keep the match again with play --save"}, as_json)
    if as_json:
        echo({"winner": match.state.winner, "turns": match.state.turn, "holds": problem is None, "decisions": len(match.decisions), "events": [list(each) for each in match.events], "record": match_record(match)})  # fmt: skip
    else:
        for line in told(match):
            typer.echo(("  " if line.inner else "") + line.text)
        typer.echo(_ending(match) if problem is None else f"It can't be replayed from decision {len(match.decisions) + 1} on: {problem}.")
    if problem is not None:
        raise typer.Exit(1)


def _set_up(workspace: Workspace, game: str, named: list[str], wanted: int = 0) -> tuple[Program, list[dict[str, int]], list[str]]:
    """The program, the decks and their names. Default decks are the first of the game."""
    from dramok.core.engine import compile_program, needed
    from dramok.core.problem import Problem, plural
    from dramok.services import Refused
    from dramok.services.decks.edits import deck_named
    from dramok.services.play.playtest_decks import common_deck
    from dramok.services.play.simulation import seated

    now = workspace.game(game)
    rulebook = seated(now.rulebook, wanted)
    seats = rulebook.played.seats
    common = common_deck(now)

    def program(lists: list[dict[str, int]]) -> Program:
        ids = needed(rulebook, now.cards, {ident for each in lists for ident in each})
        try:
            return compile_program(rulebook, [now.cards[ident] for ident in ids])
        except ValueError as error:
            raise Refused(Problem(where="game", what=str(error), mend="change the rules or the cards")) from error

    if common is not None and not named:
        lists = [dict(common.cards)] * seats
        return program(lists), lists, ["the starting deck"] * seats
    found = [deck_named(now, each) for each in named] or list(now.decks.values())[:seats]
    if not found or len(found) > seats:
        what = "the game has no deck" if not found else f"this game has {seats} seats, and {plural(len(found), 'deck was', 'decks were')} named"
        raise Refused(Problem(where="decks", what=what, mend="build a deck first" if not found else "name one for each seat"))
    chosen = [found[min(place, len(found) - 1)] for place in range(seats)]
    lists = [{ident: count for ident, count in deck.cards.items() if ident in now.cards} for deck in chosen]
    return program(lists), lists, [deck.name for deck in chosen]


def _typed(script: Path | None) -> Iterator[str]:
    """Decisions from a file or from the keyboard."""
    if script is not None:
        for line in read_file(script, False).decode("utf-8", "replace").splitlines():
            if line.strip() and not line.lstrip().startswith("#"):
                yield line.strip()
        return
    while True:
        try:
            yield typer.prompt(">", prompt_suffix=" ").strip()
        except typer.Abort:
            return


def _chosen(match: Match, text: str) -> int | None:
    """The option chosen by a number from 1, or by words that only one option begins with."""
    from dramok.core.engine.option_text import option_words

    options = match.options
    if text.isdecimal():
        return int(text) - 1 if 1 <= int(text) <= len(options) else None
    said = [option_words(match, each).casefold() for each in options]
    wanted = text.casefold()
    if wanted in said:
        return said.index(wanted)
    near = [row for row, each in enumerate(said) if each.startswith(wanted)]
    return near[0] if near and len({said[row] for row in near}) == 1 else None


def _tell(match: Match, said: int) -> int:
    """Print the events that are new to the person; returns the number of printed lines."""
    from dramok.core.engine import told

    lines = told(match, 0)
    for line in lines[said:]:
        typer.echo(("  " if line.inner else "") + line.text)
    return len(lines)


def _show_options(match: Match, seen: Any) -> None:
    from dramok.core.engine.option_text import asking_card, option_words

    names = {each.id: each.names.lower() for each in match.program.rulebook.resources}
    for seat in seen.seats:
        held = ", ".join(f"{count} {names[ident]}" for ident, count in seat.resources.items())
        zones = ", ".join(f"{zone.name} {zone.count}" for zone in seat.zones if zone.count)
        typer.echo(f"  [{'you' if seat.seat == 0 else f'seat {seat.seat + 1}'}: {held}; {zones}]")
    asks = asking_card(match)
    typer.echo(f"{seen.phase}{f', {asks}' if asks else ''}: {match.asked}")
    for number, option in enumerate(match.options, 1):
        typer.echo(f"  {number:2} {option_words(match, option)}")


def _ending(match: Match) -> str:
    if match.asked != "over":
        return "Left unfinished."
    from dramok.core.engine.view import score_sheet

    for seat, lines in enumerate(score_sheet(match)):
        typer.echo(f"  seat {seat + 1}: {sum(lines.values())} ({', '.join(f'{name} {amount}' for name, amount in lines.items())})")
    winner = match.state.winner
    return f"Seat {winner + 1} has won in turn {match.state.turn}." if winner >= 0 else "Nobody has won."


def _kept(match: Match) -> dict[str, Any]:
    from dramok.core.engine import ENGINE
    from dramok.services.play.matches import card_document

    return {
        "form": FORM, "engine": ENGINE, "rulebook": match.program.rulebook.model_dump(mode="json"), "cards": [card_document(card) for card in match.program.cards],
        "decks": [list(deck) for deck in match.decks], "seed": match.seed, "decisions": [list(each) for each in match.decisions],
    }  # fmt: skip
