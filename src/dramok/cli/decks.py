"""Deck commands: check, show, import, export, random decks, odds."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING, Annotated, Any

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
from dramok.core.problem import plural

if TYPE_CHECKING:
    from dramok.core.decks import Deck
    from dramok.core.odds import Redraw
    from dramok.services import GameSnapshot, Workspace
    from dramok.services.decks.odds import OddsAsked

deck = typer.Typer(help="Decks: check, show, import, export, random.", no_args_is_help=True)
app.add_typer(deck, name="deck")
DeckArgument = Annotated[str, typer.Argument(help="The deck's name or id.", metavar="DECK")]
RulesOption = Annotated[str, typer.Option("--rules", help="The deck rules, by name or id.")]


@deck.command()
def check(
    game: GameOption,
    decks: Annotated[list[str] | None, typer.Argument(help="Decks by name or id; all without any.", metavar="[DECK]...")] = None,
    db: DbOption = DEFAULT_DB,
    as_json: JsonOption = False,
) -> None:  # fmt: skip
    """Checks decks against their rules. Exits with 1 if one is not legal."""
    from dramok.services.decks.edits import deck_named
    from dramok.services.decks.reports import report

    with open_games(db, as_json) as workspace:
        now = workspace.game(game)
        chosen = [deck_named(now, each) for each in decks] if decks else list(now.decks.values())
        found = [report(now, each) for each in chosen]
        if as_json:
            echo([_reported(each) for each in found])
        for each in found if not as_json else ():
            typer.echo(f"{each.deck.name}: {'legal' if not each.problems else 'not legal'} in {each.format.name}, {plural(each.deck.size, 'card')}")  # fmt: skip
            for problem in each.problems:
                typer.echo(f"  {problem.what} — {problem.mend}")
    if any(each.problems for each in found):
        raise typer.Exit(1)


def _reported(found: Any) -> dict[str, Any]:
    problems = [{"where": each.where, "what": each.what, "mend": each.mend} for each in found.problems]
    return {"id": found.deck.id, "name": found.deck.name, "rules": found.format.id, "cards": found.deck.size, "legal": not problems, "problems": problems}  # fmt: skip


@deck.command()
def show(
    game: GameOption, name: DeckArgument, db: DbOption = DEFAULT_DB, as_json: JsonOption = False
) -> None:
    """Shows a deck: its list, curve, splits and worth."""
    from dramok.services.decks.edits import deck_named
    from dramok.services.decks.list_exchange import write_list
    from dramok.services.decks.reports import measure, report

    with open_games(db, as_json) as workspace:
        now = workspace.game(game)
        one = deck_named(now, name)
        found, measured = report(now, one), measure(now, one)
        if as_json:
            lists = {ident or now.format_of(one).main: {now.cards[card].code: count for card, count in counts.items() if card in now.cards} for ident, counts in one.every()}  # fmt: skip
            echo({**_reported(found), "sections": lists, "curve": found.curve, "factions": found.factions, "types": found.types, "rarities": found.rarities, "tags": found.tags,
                  "worth": measured.worth, "budget": measured.budget, "unpriced": measured.unpriced, "words": measured.words})  # fmt: skip
            return
        typer.echo(write_list(now, one))
        if found.curve:
            typer.echo("cost  " + "  ".join(f"{cost}: {count}" for cost, count in found.curve.items()))
        worth = (
            "nothing priced"
            if measured.unpriced == one.size
            else f"worth {measured.worth} for {measured.budget}"
        )
        typer.echo(f"{worth}, {measured.words} words to read")
        for problem in found.problems:
            typer.echo(f"not legal: {problem.what} — {problem.mend}")


@deck.command("import")
def bring_in(
    game: GameOption,
    file: Annotated[Path, typer.Argument(help="A decklist: text, CSV or JSON.")],
    into: Annotated[str, typer.Option("--into", help="In place of the cards of this deck; else a new deck.")] = "",
    name: Annotated[str, typer.Option("--name", help="What the new deck is called.")] = "",
    rules: RulesOption = "",
    dry_run: Annotated[bool, typer.Option("--dry-run", help="Only say what would be taken in.")] = False,
    db: DbOption = DEFAULT_DB,
    as_json: JsonOption = False,
) -> None:  # fmt: skip
    """Imports a decklist; lines that can't be read are reported and left out."""
    from dramok.services.decks.edits import deck_named
    from dramok.services.decks.list_exchange import import_list, preview_list

    data = read_file(file, as_json)
    with open_games(db, as_json) as workspace:
        now = workspace.game(game)
        target = deck_named(now, into).id if into else ""
        format_ = _rules(now, rules, as_json)
        look = preview_list(now, data, path_text(file.name), target, format_)
        ident = ""
        if not dry_run:
            _, ident = import_list(workspace, game, data, PAGE, path_text(file.name), target, name, format_)
        troubles = [{"line": each.line, "text": each.text, "what": each.what, "mend": each.mend, "taken": each.taken} for each in look.read.troubles]  # fmt: skip
        if as_json:
            echo({"id": ident or None, "cards": look.read.cards, "troubles": troubles, "trouble_count": look.read.trouble_count, "legal": not look.problems})  # fmt: skip
            return
        for each in troubles:
            typer.echo(f"line {each['line']}: {each['what']} — {each['mend']}", err=True)
        taken = workspace.game(game).decks[ident].name if ident else "nothing written"
        typer.echo(f"{plural(look.read.cards, 'card')}: {taken}{'' if not look.problems else f', not legal: {look.problems[0].what}'}")  # fmt: skip


@deck.command("export")
def take_out(
    game: GameOption,
    name: DeckArgument,
    form: Annotated[str, typer.Option("--as", help="txt, csv or json.")] = "txt",
    out: Annotated[Path | None, typer.Option("--out", "-o", help="A file; else it is printed.")] = None,
    force: Annotated[bool, typer.Option("--force", help="Over a file that is there.")] = False,
    db: DbOption = DEFAULT_DB,
    as_json: JsonOption = False,
) -> None:
    """Writes a deck as a decklist."""
    from dramok.services.decks.edits import deck_named
    from dramok.services.decks.list_exchange import write_list

    with open_games(db, as_json) as workspace:
        now = workspace.game(game)
        text = write_list(now, deck_named(now, name), form)
        if out is None:
            typer.echo(text, nl=False)
            return
        write_file(out, text.encode(), force, as_json)
        if as_json:
            echo({"file": str(out)})


@deck.command("random")
def at_random(
    game: GameOption,
    seed: Annotated[int, typer.Option("--seed", min=0, help="The same seed gives the same deck.")] = 1,
    size: Annotated[int | None, typer.Option("--size", min=0, help="Cards, where the rules leave it open.")] = None,
    name: Annotated[str, typer.Option("--name", help="What it is called.")] = "",
    rules: RulesOption = "",
    dry_run: Annotated[bool, typer.Option("--dry-run", help="Only print it.")] = False,
    db: DbOption = DEFAULT_DB,
    as_json: JsonOption = False,
) -> None:  # fmt: skip
    """Makes a random legal deck."""
    from dramok.core.decks import Deck
    from dramok.services.decks.edits import add_deck, fill_at_random
    from dramok.services.decks.list_exchange import write_list

    with open_games(db, as_json) as workspace:
        now = workspace.game(game)
        title = name or f"Random {seed}"
        found = fill_at_random(now, Deck("", title, {}, format=_rules(now, rules, as_json)), seed, size)
        ident = ""
        if not dry_run:
            _, ident = add_deck(workspace, game, title, PAGE, found.cards, None, found.sections, found.format)
        if as_json:
            cards = {now.cards[card].code: count for card, count in sorted(found.cards.items())}
            echo({"id": ident or None, "name": title, "cards": cards})
            return
        typer.echo(write_list(now, found))


def _rules(now: GameSnapshot, said: str, as_json: bool) -> str:
    """The id of deck rules by name or id; empty for the first."""
    from dramok.core.problem import fold

    if not said:
        return ""
    found = next((each for each in now.formats if said == each.id or fold(said) == fold(each.name)), None)
    if found is None:
        names = ", ".join(each.name for each in now.formats)
        fail({"what": f"there are no deck rules {said[:60]}", "mend": f"take one of {names}"}, as_json)
    return "" if found.id == now.formats[0].id else found.id


@app.command()
def odds(
    deck: Annotated[str, typer.Option("--deck", help="How many cards; with --game a deck's name or id.")],
    group: Annotated[list[str], typer.Option("--group", help="How many of them are wanted cards; with --game a query. Up to three times or more.")],
    hand: Annotated[int | None, typer.Option("--hand", min=0, help="Cards of the opening hand.")] = None,
    draws: Annotated[int | None, typer.Option("--draws", min=0, help="Cards drawn each turn.")] = None,
    turn: Annotated[int, typer.Option("--turn", min=0, max=60, help="By this turn; 0 is the opening hand.")] = 1,
    at_least: Annotated[list[int] | None, typer.Option("--at-least", min=0, help="At least this number of a group; once for all groups, or once for each.")] = None,
    exactly: Annotated[int | None, typer.Option("--exactly", min=0, help="Exactly this number of each group.")] = None,
    at_most: Annotated[int | None, typer.Option("--at-most", min=0, help="At most this number of each group.")] = None,
    any_of: Annotated[bool, typer.Option("--any", help="One of several groups is enough.")] = False,
    no_first_draw: Annotated[bool, typer.Option("--no-first-draw", help="No draw on the first turn.")] = False,
    second: Annotated[bool, typer.Option("--second", help="With --game: for a seat that does not go first.")] = False,
    extra: Annotated[list[str] | None, typer.Option("--extra", help="Extra cards drawn in a turn, such as 2:1.", metavar="TURN:CARDS")] = None,
    redraw: Annotated[str, typer.Option("--redraw", help="whole-before, whole-after, chosen-before or chosen-after: what is given back once, shuffled in before or after the new cards are drawn.")] = "",
    keep: Annotated[int, typer.Option("--keep", min=0, help="A whole hand is kept with this number of the first group or more.")] = 1,
    reshuffle: Annotated[bool, typer.Option("--reshuffle", help="A new hand each turn; what was played is shuffled in again.")] = False,
    game: Annotated[str, typer.Option("--game", help="The game of the deck.")] = "",
    db: DbOption = DEFAULT_DB,
    as_json: JsonOption = False,
) -> None:  # fmt: skip
    """Computes the exact chance of having drawn a number of cards of a group by a turn."""
    from dramok.core.odds import BadOdds, Draws, Event, atoms_of, in_games, percent, said

    try:
        conditions = _conditions(len(group), at_least, exactly, at_most)
        event = Event(tuple(conditions), "any" if any_of else "all")
        given_back = _redraw(redraw, keep)
        more = _extra(extra or [])
        if game:
            with open_games(db, as_json) as workspace:
                atoms, names, drawn = _of_a_game(workspace, game, deck, group, hand, draws, False if no_first_draw else None, more, turn, second)  # fmt: skip
        else:
            size, members = _whole(deck, "--deck"), [_whole(each, "--group") for each in group]
            atoms, names = atoms_of(members, size), tuple(f"group {place + 1}" for place in range(len(group)))
            drawn = Draws(5 if hand is None else hand, 1 if draws is None else draws, not no_first_draw, more)  # fmt: skip
        curve, singles = _curves(atoms, event, drawn, turn, given_back, reshuffle)
    except BadOdds as error:
        fail({"where": error.where, "what": f"{error.where}: {error.what}", "mend": error.mend}, as_json)
    chance = curve[-1]
    told = said(event, names)
    if as_json:
        echo(
            {
                "probability": chance, "percent": percent(chance), "games": in_games(chance), "what": told, "turn": turn, "seen": drawn.seen(turn), "curve": curve,
                "groups": [{"name": name, "probability": one} for name, one in zip(names, singles, strict=True)],
            }
        )  # fmt: skip
        return
    typer.echo(f"{'in the opening hand' if turn == 0 else f'by turn {turn}'}, {told}: {percent(chance)} ({chance:.6f}), {in_games(chance)}")  # fmt: skip


def _curves(atoms: Any, event: Any, drawn: Any, turn: int, redraw: Redraw, reshuffle: bool) -> tuple[list[float], list[float]]:  # fmt: skip
    """The chance by each turn from 0 on, and at the last turn that of each condition alone."""
    from dramok.core.odds import BadOdds, Event, chances, cycle_odds

    each = [Event((one,)) for one in event.conditions]
    if not reshuffle:
        singles = [chances(atoms, one, drawn, [turn], redraw)[0] for one in each]
        return chances(atoms, event, drawn, range(turn + 1), redraw), singles
    if redraw is not None or turn < 1:
        raise BadOdds("reshuffle", "a new hand each turn has no redraw and starts with turn 1", "leave --redraw out, and ask for a turn")  # fmt: skip
    singles = [cycle_odds(atoms, one, drawn, turn)[-1].by for one in each]
    return [0.0, *(one.by for one in cycle_odds(atoms, event, drawn, turn))], singles


def _of_a_game(
    workspace: Workspace, game: str, name: str, group: list[str], hand: int | None, draws: int | None, first_draw: bool | None, extra: dict[int, int],
    turn: int, second: bool,
) -> tuple[Any, tuple[str, ...], Any]:  # fmt: skip
    from dramok.services.decks.edits import deck_named
    from dramok.services.decks.odds import MOST_TURNS_ASKED, DeckOdds, GroupAsked, OddsAsked

    now = workspace.game(game)
    found: Deck = deck_named(now, name)
    asked: OddsAsked = OddsAsked(
        tuple(GroupAsked(query=each) for each in group), hand=hand, each=draws, first_draw=first_draw, extra=extra, by=0,
        turns=min(turn, MOST_TURNS_ASKED), second=second,
    )  # fmt: skip
    ready = DeckOdds(workspace, now, found, asked)
    return ready.atoms, ready.names, ready.draws


def _conditions(groups: int, at_least: list[int] | None, exactly: int | None, at_most: int | None) -> list[Any]:  # fmt: skip
    from dramok.core.odds import BadOdds, Condition

    if sum(each is not None for each in (at_least or None, exactly, at_most)) > 1:
        raise BadOdds("count", "at least, exactly and at most at once", "leave all but one out")
    if exactly is not None:
        return [Condition(place, "exactly", exactly) for place in range(groups)]
    if at_most is not None:
        return [Condition(place, "at most", at_most) for place in range(groups)]
    counts = at_least or [1]
    if len(counts) not in (1, groups):
        raise BadOdds("--at-least", f"{len(counts)} counts for {groups} groups", "write it once, or once for each group")  # fmt: skip
    return [Condition(place, "at least", counts[place % len(counts)]) for place in range(groups)]


def _redraw(said: str, keep: int) -> Redraw:
    from dramok.core.odds import BadOdds, ChosenCards, Condition, Event, WholeHand

    match said:
        case "":
            return None
        case "whole-before" | "whole-after":
            event = Event((Condition(0, "at least", keep),))
            return WholeHand(event, "before" if said.endswith("before") else "after")
        case "chosen-before" | "chosen-after":
            return ChosenCards(0, "before" if said.endswith("before") else "after")
        case _:
            raise BadOdds("--redraw", said[:40], "write whole-before, whole-after, chosen-before or chosen-after")  # fmt: skip


def _extra(said: list[str]) -> dict[int, int]:
    from dramok.core.odds import BadOdds

    found: dict[int, int] = {}
    for each in said:
        turn, _, count = each.partition(":")
        if not (turn.isdigit() and count.isdigit()):
            raise BadOdds("--extra", each[:40], "write a turn and a count, as 2:1")
        found[int(turn)] = found.get(int(turn), 0) + int(count)
    return found


def _whole(said: str, where: str) -> int:
    from dramok.core.odds import BadOdds

    if not said.lstrip("+-").isdigit() or len(said) > 12:
        raise BadOdds(where, f"{said[:40]} is not a number of cards", "write a whole number, or name the game with --game")  # fmt: skip
    return int(said)
