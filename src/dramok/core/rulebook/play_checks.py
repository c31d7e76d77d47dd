"""Checks of the rules of play by part: what prevents a match, and what is likely missing."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import TYPE_CHECKING

from dramok.core.english import and_list
from dramok.core.problem import Problem
from dramok.core.rulebook.exchanges import endless
from dramok.core.rulebook.phase_actions import action_of

if TYPE_CHECKING:
    from dramok.core.rulebook.rulebook import Rulebook

PARTS = ("seats", "zones", "set_up", "phases", "after_play", "actions", "market", "clash", "goals", "scoring")
"""The parts of the rules of play, in the order of their editors."""


@dataclass(frozen=True)
class Gap:
    """A problem of a part (see `PARTS`); `stops`: no match can start."""

    part: str
    what: str
    mend: str
    stops: bool = False


def gaps(rulebook: Rulebook) -> tuple[Gap, ...]:
    """All problems, worst first."""
    return tuple(sorted(_gaps(rulebook), key=lambda gap: not gap.stops)) if rulebook.play is not None else ()


def not_playable(rulebook: Rulebook) -> Problem | None:
    """The first reason why no match can start; None if one can."""
    return next((Problem(where=f"rules of play, {each.part}", what=each.what, mend=each.mend) for each in gaps(rulebook) if each.stops), None)


def _selling(rulebook: Rulebook) -> Iterator[Gap]:
    """Problems of markets, rows, counters and the score sheet."""
    play = rulebook.played
    doings = [doing for phase in play.phases for doing in phase.does]
    done = {doing.do for doing in doings}
    buys = any("buy" in doing.may for doing in doings if doing.do == "play")
    stocked = {placed.zone for placed in play.set_up.placed if placed.cards or placed.group is not None}
    if play.markets and not buys:
        yield Gap("phases", "cards are for sale, and no phase lets them be bought", "tick “buy” under “play cards” in a phase")
    if buys and not play.markets:
        yield Gap("market", "a phase lets cards be bought, and nothing is for sale", "add a market")
    for market in play.markets:
        zone = play.zone(market.zone)
        name = zone.name if zone is not None else market.zone
        source = zone.source if zone is not None else None
        if market.zone not in stocked and (source is None or source not in stocked):
            yield Gap("market", f"{name} sells cards, and none are put there", "put cards into it, or into the pile that refills it, under Setup", stops=True)
        if market.price is None and rulebook.roles.cost is None:
            yield Gap("market", f"the cards of {name} have no price", "choose the number that is the price", stops=True)
    for zone in play.zones:
        if zone.kind == "row" and zone.source is not None and zone.source not in stocked:
            yield Gap("zones", f"{zone.name} is refilled from a pile without cards", "put cards into that pile under Setup")
        if zone.kind == "row" and zone.refill == "phase" and zone.source is not None and "refill rows" not in done:
            yield Gap("phases", f"{zone.name} waits to be refilled, and no phase does it", "add “refill the rows” to a phase")
    if play.counters and "counters grow" not in done:
        yield Gap("phases", "counters never grow", "add “counters grow” to a phase")
    if any(each.becomes == "cleared" for each in play.after_play) and "clear away" not in done:
        yield Gap("phases", "played cards wait to be cleared away, and no phase does it", "add “clear away” to the last phase")
    if play.ends and not play.scoring and play.seats > 1:
        yield Gap("scoring", "the match ends without a score: it is always a draw", "add a line to the score sheet")
    if play.scoring and not play.ends:
        yield Gap("scoring", "there is a score sheet, and nothing ends the match so that it is used", "add what ends the match")


def _acting(rulebook: Rulebook) -> Iterator[Gap]:
    """Problems of the actions of the rules."""
    play = rulebook.played
    if play.actions and not any("use" in doing.may for phase in play.phases for doing in phase.does if doing.do == "play"):
        yield Gap("phases", "there are actions, and no phase lets players take them", "tick “use effects, take actions” under “play cards” in a phase")
    for action in play.actions:
        if not action.effect.abilities:
            yield Gap("actions", f"{action.name} does nothing", "write what it does: offer pay 2 … : gain 1 …")
    if names := endless(play.actions):
        yield Gap("actions", f"{and_list(list(names))} {'gives' if len(names) == 1 else 'together give'} more than {'it takes' if len(names) == 1 else 'they take'}, without end", "add a limit, or take more than is given back")


def _gaps(rulebook: Rulebook) -> Iterator[Gap]:
    play, table = rulebook.played, rulebook.table
    doings = [doing for phase in play.phases for doing in phase.does]
    done = {doing.do for doing in doings}
    if "play" not in done:
        yield Gap("phases", "no phase lets cards be played: there is nothing to decide", "add “play cards” to a phase", stops=True)
    if "clash" in done and play.clash is None:
        yield Gap("clash", "a phase has a clash, but the clash has no rules", "add rules for the clash, or remove it from the turn", stops=True)
    if play.seats > 1 and not play.goals and not play.ends:
        yield Gap("goals", "there is no goal: nobody can win the match", "add a goal, or what ends the match", stops=True)
    yield from _selling(rulebook)
    yield from _acting(rulebook)
    if play.clash is not None and play.seats < 2:
        yield Gap("clash", "a clash needs a rival", "take two seats, or take the clash out", stops=True)
    if play.clash is not None and play.seats > 1 and "clash" not in done:
        yield Gap("clash", "the clash has rules, but no phase has a clash", "add “the clash” to a phase")
    if not play.free and not any(action_of(doing).draws for doing in doings):
        yield Gap("phases", "no card comes to hand after the opening hand", "add “draw” or “refill the hand” to a phase")
    if not play.free and table.hand_limit is not None and "hand limit" not in done:
        yield Gap("phases", f"the hand limit of {table.hand_limit} is never looked at", "add “look at the hand limit” to the last phase")
    for resource in rulebook.resources:
        if resource.each_turn and "grow" not in done:
            yield Gap("phases", f"{resource.names} should grow by {resource.each_turn} each turn, and no phase has resources grow", "add “resources grow” to a phase")
    paid = next((each for each in rulebook.resources if each.id == table.pays), None)
    gained = {doing.resource for doing in doings if doing.do == "gain"} | set(play.set_up.second_gains)
    if paid is not None and not paid.start and not paid.each_turn and paid.id not in gained:
        yield Gap("set_up", f"cards are paid with {paid.names}, and there are none at the start nor in a turn", "give some at the start, or have a phase give them")
    if play.clash is not None and play.clash.tilts and not done & {"straighten", "recall"}:
        yield Gap("phases", "what has clashed is tilted, and nothing straightens it again", "add “straighten” to the first phase")
    if not play.free and any(each.becomes == "tilted" for each in play.after_play) and not done & {"straighten", "recall"}:
        yield Gap("phases", "played cards are tilted, and nothing straightens or recalls them", "add “straighten” or “tilted cards come back” to a phase")
    if play.clash is not None and play.clash.hurts and not rulebook.roles.damage_limit:
        yield Gap("clash", "cards damage one another, but no stat is their health", "choose it under Field roles")
    for zone in play.zones:
        if zone.shuffled and not any(each.zone == zone.id for each in play.set_up.placed):
            yield Gap("zones", f"{zone.name} is shuffled at the start, but has no cards", "put cards there, or leave that to effects")
