"""The rules of play while they are laid out: what is amiss, how they read, how a match by them ends."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Any

from dramok.core.effects import Script
from dramok.core.effects.mentions import Subject, speaks_of
from dramok.core.engine.simulation import Simulation
from dramok.core.problem import Problem, plural
from dramok.core.rulebook.playable import Gap, gaps
from dramok.core.wording.rulesread import ClashTold, ReadPart, clash_told, rules_read, said_in_short
from dramok.studio.balance.running import Running
from dramok.studio.desk import Refused
from dramok.studio.rulelook import would_be
from dramok.studio.simulating import SimulationAsked, simulate_watched
from dramok.studio.snapshot import GameSnapshot

QUICK_GAMES = 200


@dataclass(frozen=True)
class PlayLook:
    """Rules of play as they would be. `problem`: why they can't be written at all; then the rest is of what stands.

    `short` is the turn in a line; `clash` a clash of two real cards.
    """

    problem: Problem | None
    gaps: tuple[Gap, ...]
    short: str
    parts: tuple[ReadPart, ...]
    clash: ClashTold | None


@dataclass(frozen=True)
class Ends:
    """So many quick games, and with which decks."""

    games: Simulation
    decks: str


def look_at_play(game: GameSnapshot, value: Any, sender: str | None = None, answer: str | None = None) -> PlayLook:
    """How the rules of play would be; `sender` and `answer` are ids of cards that clash. Writes nothing."""
    problem = None
    try:
        after = would_be(game, "play", value)
    except Refused as refused:
        problem, after = refused.problem, game
    cards = list(after.cards.values())
    return PlayLook(problem, (*gaps(after.rulebook), *_out_of_reach(after)), said_in_short(after.rulebook), read(after), clash_told(after.rulebook, cards, sender, answer))


def _out_of_reach(game: GameSnapshot) -> Iterator[Gap]:
    """Totals that win and that nothing gives: no start, no turn, no phase, no clash, and no effect speaks of them."""
    rules, play = game.rulebook, game.rulebook.played
    given = {doing.resource for phase in play.phases for doing in phase.does if doing.do == "gain"} | set(play.set_up.second_gains)
    given |= {play.clash.total or ""} if play.clash is not None and play.clash.unanswered == "gains" else set()
    scripts = [value for card in game.cards.values() for value in card.values.values() if isinstance(value, Script)]
    scripts += [word.effect for word in rules.keywords]
    for ident in dict.fromkeys(goal.total for goal in play.goals if goal.kind != "drop"):
        total = next(each for each in rules.resources if each.id == ident)
        still = not total.start and not total.each_turn and total.id not in given
        if still and not any(speaks_of(script, Subject("resource", total.id)) for script in scripts):
            yield Gap("goals", f"{total.names} decide who wins, and nothing gives any", "have an effect, a phase or the clash give them")


def read(game: GameSnapshot) -> tuple[ReadPart, ...]:
    """The rules of a game as a reader is told them."""
    return rules_read(game.rulebook, sorted(game.cards.values(), key=lambda card: card.code), game.vocabulary, _decks(game))


def _decks(game: GameSnapshot) -> list[str]:
    said = []
    for each in game.formats:
        size = f"{each.least_cards} to {each.most_cards} cards" if each.least_cards < each.most_cards else plural(each.least_cards, "card")
        name = f"{each.name}: a" if len(game.formats) > 1 else "A"
        said.append(f"{name} deck has {size}, with at most {plural(each.copies, 'copy', 'copies')} of each.")
    return said


def how_it_ends(game: GameSnapshot, value: Any, seed: int = 1, running: Running | None = None, say: Callable[[int, int], None] = lambda done, of: None) -> Ends:
    """Quick games by the Simple player with random legal decks, else with those that the game has. Stopped by `running`, the result is of the games that
    are over. Raises Refused for what can't be played."""
    after = would_be(game, "play", value)
    asked, running = SimulationAsked(QUICK_GAMES, seed), running or Running()
    try:
        return Ends(simulate_watched(after, asked, running, say), "random legal decks")
    except Refused:
        if running.ended:
            raise
        held = [deck for deck in after.decks.values() if any(card in after.cards for card in deck.cards)]
        if not held:
            raise
        seats = after.rulebook.played.seats
        ids = tuple(held[place % len(held)].id for place in range(seats))
        names = ", ".join(Counter(held[place % len(held)].name for place in range(seats)))
        return Ends(simulate_watched(after, SimulationAsked(asked.games, asked.seed, ids), running, say), names)
