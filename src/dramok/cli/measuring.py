"""Commands that measure strength by playing games."""

from __future__ import annotations

import time
from collections.abc import Callable
from dataclasses import asdict
from typing import Annotated, Any

import typer

from dramok.cli.context import (
    DEFAULT_DB,
    ClusterOption,
    DbOption,
    GameOption,
    JsonOption,
    app,
    echo,
    fail,
    note,
    open_games,
    player_id,
)
from dramok.core.automatic_players import WORDS
from dramok.core.problem import fold, plural

SHOWN = 12
REPEATED = "repeated decks: each plays several games, so the intervals are narrower than they should be"
EVERY = 2.0
"""Seconds between two messages about progress."""
PlayerOption = Annotated[str, typer.Option(help=f"Who plays both sides: {WORDS}.", callback=player_id)]


@app.command()
def measure(
    game: GameOption,
    games: Annotated[int, typer.Option(help="How many games.", min=1)] = 20_000,
    seconds: Annotated[float, typer.Option(help="Stop after this number of seconds; 0: no limit.", min=0)] = 0,
    player: PlayerOption = "simple",
    seed: Annotated[int, typer.Option(help="The seed of all decks and games.", min=0)] = 1,
    threads: Annotated[int, typer.Option(help="Threads; 0: one per core.", min=0, max=64)] = 0,
    cluster: ClusterOption = "",
    db: DbOption = DEFAULT_DB,
    as_json: JsonOption = False,
) -> None:
    """Measures the effect of each card on the win rate in games with random legal decks: percentage points per copy, with 95 % intervals."""
    from dramok.services.balance.batch_orders import Playing
    from dramok.services.balance.compile_progress import report_compile_progress
    from dramok.services.balance.measurement import Measurement
    from dramok.services.balance.measurement import measure as run

    with open_games(db, as_json) as workspace, report_compile_progress(note):
        now = workspace.game(game)
        found = Measurement("none")
        begun = time.monotonic()
        for found in run(now, Playing(games, seed, player, threads, cluster)):
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
            "first": {"points": found.first[0], "low": found.first[1], "high": found.first[2]}, "turns": found.turns, "draws": found.draws, "runaways": found.runaways, "repeated_decks": found.repeated,
            "cards": [_card(each, codes[each.card], titles[each.card]) for each in found.cards],
        })  # fmt: skip
        return
    told = [each for each in found.cards if each.lift is not None]
    told.sort(key=lambda each: -(each.lift or 0))
    typer.echo(f"{found.games:,} games in {found.seconds:.1f} s under {player}, seed {seed}{', stopped before their end' if found.provisional else ''}")
    typer.echo(f"  going first: {found.first[0]:+.1f} points of win rate ({found.first[1]:+.1f} to {found.first[2]:+.1f}); {found.turns:.1f} {turn}s a game")
    if found.repeated:
        typer.echo("  repeated decks: each plays several games; the intervals allow for it")
    named = [each for each in told if each.named]
    typer.echo(f"  {plural(len(named), 'card')} named: more than a point from the average card")
    for each in named:
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
    start: Annotated[float, typer.Option("--from", help="The first value.")],
    end: Annotated[float, typer.Option("--to", help="The last one.")],
    card: Annotated[str, typer.Option(help="The card whose number is swept, by code or name.")] = "",
    field: Annotated[str, typer.Option(help="The number field, by id or name.")] = "",
    worth: Annotated[str, typer.Option(help="Instead of a card: a row of the worths by its name, or a stat.")] = "",
    values: Annotated[int, typer.Option(help="How many values of a worth.", min=2)] = 7,
    games: Annotated[int, typer.Option(help="Games for each value.", min=1)] = 2_000,
    player: PlayerOption = "simple",
    seed: Annotated[int, typer.Option(help="The seed of all decks and games.", min=0)] = 1,
    cluster: ClusterOption = "",
    db: DbOption = DEFAULT_DB,
    as_json: JsonOption = False,
) -> None:
    """Plays games over a range of values of a number of a card, or of a worth: the win rate at each value on the same shuffles, and the fair value."""
    from dramok.services.balance import sweeps
    from dramok.services.balance.batch_orders import Playing
    from dramok.services.balance.compile_progress import report_compile_progress

    with open_games(db, as_json) as workspace, report_compile_progress(note):
        now = workspace.game(game)
        names = {fold(each.name): each.id for each in now.rulebook.cards.fields}
        playing = Playing(games, seed, player, 0, cluster)
        if bool(worth) == bool(card and field):
            fail({"what": "what is swept?", "mend": "name a card with --card and its --field, or a worth with --worth"}, as_json)
        if worth:
            stat, rows = names.get(fold(worth), worth), {fold(row.id): row.id for row in now.prices.rows}
            name = rows.get(fold(worth)) or (f"stat:{stat}" if stat in now.rulebook.roles.stats else worth)
            told = sweeps.sweep_worth(now, sweeps.WorthAsked(name, start, end, values, playing), _played())
            title, code, ident = f"cards with {worth}", "", ""
        else:
            if not (start.is_integer() and end.is_integer()):
                fail({"what": "a number of a card is a whole one", "mend": "name whole numbers with --from and --to"}, as_json)
            found = _card_called(now, card)
            ident = names.get(fold(field), field)
            told = sweeps.sweep(now, sweeps.SweepAsked(found.id, ident, int(start), int(end), playing), _played())
            title, code, name = f"{now.title(found)}, {field}", found.code, ""
    if as_json:
        echo({
            **({"worth": name} if worth else {"card": code, "field": ident}), "games": games, "seed": seed, "player": player, "now": told.now,
            "values": [asdict(each) for each in told.points], "fair": asdict(told.fair) if told.fair else None, "repeated_decks": told.repeated, **({"asked": told.asked} if worth else {}),
        })  # fmt: skip
        return
    typer.echo(f"{title}: {games:,} games a value under {player}, seed {seed}")
    if told.repeated:
        typer.echo(f"  {REPEATED}")
    for each in told.points:
        mark = "  as it is" if each.value == told.now else f"  {each.more:+.1f} ({each.more_low:+.1f} to {each.more_high:+.1f})"
        typer.echo(f"  {each.value:>4g}: {each.rate:.1f} % ({each.low:.1f} to {each.high:.1f}){mark}")
    if told.fair is None:
        typer.echo("  no value in reach makes it win half of its games")
    else:
        digits = 2 if worth else 1
        low, high = (("the range’s end" if each is None else f"{each:.{digits}f}") for each in (told.fair.low, told.fair.high))
        typer.echo(f"  as strong as an average card at {told.fair.value:.{digits}f} ({low} to {high})")


def _played() -> Callable[[int, int], None]:
    """Reports the number of games played every few seconds."""
    last = time.monotonic()

    def say(done: int, of: int) -> None:
        nonlocal last
        if done and time.monotonic() - last >= EVERY:
            last = time.monotonic()
            note(f"{done:,} of {of:,} games")

    return say


def _card_called(game: Any, card: str) -> Any:
    """A card by its id, code or name. Raises Missing."""
    from dramok.services.cards.card_edits import card_in

    known = next((each.id for each in game.cards.values() if card in (each.id, each.code) or fold(game.title(each)) == fold(card)), card)
    return card_in(game, known)


@app.command()
def duels(
    game: GameOption,
    decks: Annotated[list[str] | None, typer.Option("--deck", help="A deck, by id or name; several: again. None: all that can be played.")] = None,
    games: Annotated[int, typer.Option(help="Games in all, round the pairs.", min=1)] = 4_000,
    player: PlayerOption = "simple",
    seed: Annotated[int, typer.Option(help="The seed of all games.", min=0)] = 1,
    cluster: ClusterOption = "",
    db: DbOption = DEFAULT_DB,
    as_json: JsonOption = False,
) -> None:
    """Plays decks against each other: win rates, the value of going first, the length of games, cards left in hand."""
    from dramok.services.balance.batch_orders import Playing
    from dramok.services.balance.compile_progress import report_compile_progress
    from dramok.services.balance.duels import DuelsAsked
    from dramok.services.balance.duels import duels as run

    with open_games(db, as_json) as workspace, report_compile_progress(note):
        now = workspace.game(game)
        names = {fold(deck.name): deck.id for deck in now.decks.values()}
        asked = tuple(names.get(fold(deck), deck) for deck in decks or ())
        told = run(now, DuelsAsked(asked, Playing(games, seed, player, 0, cluster)), _played())
        called = [now.decks[ident].name for ident in told.decks]
        titles = {card.id: now.title(card) for card in now.cards.values()}
        turn = now.rulebook.table.turn
    if as_json:
        echo({
            "games": told.games, "seed": seed, "player": player, "digest": told.digest, "seconds": told.seconds, "first": asdict(told.first), "draws": told.draws,
            "turns": {str(key): value for key, value in told.quantiles.items()}, "lengths": told.lengths,
            "decks": [{"id": ident, "name": name, "overall": asdict(whole), "emptied": asdict(empty), "against": [each and asdict(each) for each in row]} for ident, name, whole, empty, row in zip(told.decks, called, told.overall, told.emptied, told.matrix, strict=True)],
            "cards": [asdict(each) for each in told.cards], "never_played": told.never_played, "cut": [asdict(each) for each in told.cut],
        })  # fmt: skip
        return
    typer.echo(f"{told.games:,} games in {told.seconds:.1f} s under {player}, seed {seed}")
    for one, name in enumerate(called):
        whole = told.overall[one]
        typer.echo(f"  {name}: {whole.rate:.1f} % ({whole.low:.1f} to {whole.high:.1f})")
        for other, cell in enumerate(told.matrix[one]):
            if cell is not None:
                typer.echo(f"    against {called[other]}: {cell.rate:.1f} % ({cell.low:.1f} to {cell.high:.1f})")
    typer.echo(f"  going first wins {told.first.rate:.1f} % ({told.first.low:.1f} to {told.first.high:.1f}); {told.draws} draws; half of the games take up to {told.quantiles.get(50, 0)} {turn}s")
    idle = sorted(told.cards, key=lambda each: -each.held)[:5]
    typer.echo("  most often left in hand: " + ", ".join(f"{titles[each.card]} {each.held:.0f} %" for each in idle))
    if told.never_played:
        typer.echo("  never played: " + ", ".join(titles[card] for card in told.never_played[:SHOWN]))
    for each in told.cut:
        typer.echo(f"  {each.said(titles)}")
    typer.echo(f"  digest {told.digest}")


@app.command()
def health(
    game: GameOption,
    set_: Annotated[str | None, typer.Option("--set", help="One set alone, by id, code or name.")] = None,
    since: Annotated[str | None, typer.Option(help="A mark, by id or name, or the number of an edit: also reports what changed since then.")] = None,
    db: DbOption = DEFAULT_DB,
    as_json: JsonOption = False,
) -> None:
    """Reports the health of a set: curve, gaps, outliers, dominated cards, twins, words, out-of-date prints, unfinished cards."""
    from dramok.services.balance.health import health as look
    from dramok.services.workspace.small_entities import called, thing_of

    with open_games(db, as_json) as workspace:
        now = workspace.game(game)
        home = next((each.id for each in now.sets if set_ is not None and fold(set_) in (fold(each.id), fold(each.code), fold(each.name))), set_)
        seq = None
        if since is not None:
            mark = called(now, "mark", since)
            seq = int(since) if since.isdigit() and mark is None else int((mark or thing_of(now, "mark", since)).doc["seq"])
        found = look(now, home, workspace, seq)
        titles = {card.id: now.title(card) for card in now.cards.values()}
    if as_json:
        echo({**asdict(found), "verdicts": dict(found.verdicts)})
        return
    verdicts = ", ".join(f"{count} {word}" for word, count in found.verdicts.items())
    typer.echo(f"{plural(found.cards, 'card')}: {verdicts}")
    if found.curve:
        typer.echo("  by cost: " + ", ".join(f"{each.cost}: {each.cards}" + (f" of {each.wanted:.0f}" if each.wanted is not None else "") for each in found.curve))
    _listed("outliers", [f"{titles[card]} {points:+.2f}" for card, points in found.outliers])
    _listed("dominated", [f"{titles[each.card]} by {titles[each.better[0]]}: {each.reason}" for each in found.dominated])
    _listed("near twins", [f"{titles[each.one]} and {titles[each.other]}" + (f" ({each.differs})" if each.differs else ", the same") for each in found.twins])
    typer.echo("  keywords: " + (", ".join(f"{each.keyword} {each.cards}" for each in found.keywords) or "none"))
    typer.echo(f"  to read: {found.load.mean:.1f} words a card with text, {found.load.most} at most; {plural(len(found.lone), 'word')} on one card alone")
    typer.echo(f"  {plural(len(found.gaps), 'gap')}; {plural(len(found.stale), 'stale print')}; {len(found.unfinished)} unfinished" + (f"; {len(found.changed)} changed since" if found.changed is not None else ""))


def _listed(what: str, lines: list[str]) -> None:
    typer.echo(f"  {what}: " + ("none" if not lines else str(len(lines))))
    for line in lines[:SHOWN]:
        typer.echo(f"    {line}")


@app.command()
def workers(
    number: Annotated[int, typer.Option(help="Workers on this machine; 0: one a core.", min=0, max=256)] = 0,
    join: Annotated[str, typer.Option(help="Join the scheduler at this address instead of starting one.")] = "",
    listen: Annotated[str, typer.Option(help="The address to listen at. Whoever reaches it can run code here: a network that you trust, no other.")] = "127.0.0.1",
    port: Annotated[int, typer.Option(help="The scheduler's port.", min=0, max=65535)] = 8786,
) -> None:
    """Plays games for other machines: starts a scheduler with workers, or adds this machine's workers to one. Stop it with Ctrl-C."""
    from dramok.services.balance.cluster import missing, run_workers

    if missing():
        typer.echo("the cluster's package is not installed: pip install dramok[cluster]", err=True)
        raise typer.Exit(1)
    try:
        run_workers(number, join, listen, port, typer.echo)
    except OSError as error:
        place = join or f"{listen}:{port}"
        what = f"no scheduler answers at {place}" if join else f"{place} can't be listened at: {error.strerror or error}"
        mend = "start one with dramok workers" if join else "choose another port with --port (0: any that is free)"
        fail({"what": what, "mend": mend}, False)
