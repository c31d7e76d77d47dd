"""Preview edited rules of play: problems, rules text, and how matches end."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from typing import Any

from dramok.core.effects import Script, amount_text, script_text
from dramok.core.effects.references import Subject, refers_to
from dramok.core.engine.batch_summary import Simulation
from dramok.core.english import lower_first
from dramok.core.problem import Problem, plural
from dramok.core.rulebook import GameVocabulary, Resource
from dramok.core.rulebook.market import Market
from dramok.core.rulebook.play_checks import Gap, gaps
from dramok.core.rulebook.starting_cards import placed_cards
from dramok.core.wording.clash_example import ClashExample
from dramok.core.wording.rules_text import (
    Reader,
    RulesSection,
    clash_example,
    rules_sections,
    turn_summary,
)
from dramok.services.play.game_processes import GameProcesses
from dramok.services.play.simulation import SimulationAsked, simulate_watched
from dramok.services.rules.rules_preview import with_part
from dramok.services.workspace.snapshot import GameSnapshot
from dramok.services.workspace.workspace import Refused

QUICK_GAMES = 200


@dataclass(frozen=True)
class PlayPreview:
    """The preview of edited rules of play. `problem`: why they can't be written; the rest then describes the
    stored rules.

    `short` is the turn in one line; `clash` a clash of two real cards.
    """

    problem: Problem | None
    gaps: tuple[Gap, ...]
    short: str
    parts: tuple[RulesSection, ...]
    clash: ClashExample | None
    scoring: tuple[AmountText, ...] = ()
    ties: tuple[AmountText, ...] = ()
    markets: tuple[AmountText, ...] = ()
    actions: tuple[AmountText, ...] = ()
    """`markets`: for each the amount by which its prices are lower; `actions`: the effect of each action of the rules."""


@dataclass(frozen=True)
class AmountText:
    """An amount, or an effect, of the rules: `text` as typed, `words` as printed in the rules."""

    text: str
    words: str


@dataclass(frozen=True)
class Ends:
    """The results of a number of quick games, and the decks used."""

    games: Simulation
    decks: str


def preview_play(game: GameSnapshot, value: Any, sender: str | None = None, answer: str | None = None) -> PlayPreview:
    """Preview rules of play; `sender` and `answer` are ids of cards that clash. Writes nothing."""
    problem = None
    try:
        after = with_part(game, "play", value)
    except Refused as refused:
        problem, after = refused.problem, game
    cards, rules = list(after.cards.values()), after.rulebook
    vocabulary = GameVocabulary(rules)
    reader = Reader(rules, [], vocabulary)
    scoring, ties = (
        tuple(AmountText(amount_text(each.amount, vocabulary), reader.amount(each.amount)) for each in lines)
        for lines in (rules.played.scoring, rules.played.ties)
    )
    markets = tuple(AmountText(amount_text(each.less, vocabulary), reader.amount(each.less)) if each.less is not None else AmountText("", "") for each in rules.played.markets)
    actions = tuple(AmountText(script_text(each.effect, vocabulary), words) for each, words in zip(rules.played.actions, reader.actions(), strict=True))
    return PlayPreview(
        problem, (*gaps(after.rulebook), *_out_of_reach(after)), turn_summary(after.rulebook), read(after), clash_example(after.rulebook, cards, sender, answer), scoring, ties, markets, actions,
    )  # fmt: skip


def _out_of_reach(game: GameSnapshot) -> Iterator[Gap]:
    """Winning totals, and resources that markets are paid in, that nothing can raise: no start value, turn, phase,
    clash or effect.
    """
    rules, play = game.rulebook, game.rulebook.played
    given = {doing.resource for phase in play.phases for doing in phase.does if doing.do == "gain"} | set(play.set_up.second_gains)
    given |= {play.clash.total or ""} if play.clash is not None and play.clash.unanswered == "gains" else set()
    scripts = [value for card in game.cards.values() for value in card.values.values() if isinstance(value, Script)]
    scripts += rules.scripts
    for ident in dict.fromkeys(goal.total for goal in play.goals if goal.kind != "drop"):
        total = rules.resource(ident)
        if not _is_given(total, given, scripts):
            yield Gap("goals", f"{total.names} decide who wins, and nothing gives any", "have an effect, a phase or the clash give them")
    for market in play.markets:
        paid, zone = rules.resource(market.pays), rules.zone_name(market.zone)
        if not _is_given(paid, given, scripts):
            yield Gap("market", f"{zone} is paid for in {paid.names}, and nothing gives any", "have an effect, a phase or the start give some")
        yield from _unpriced(game, market)
        field = market.price or rules.roles.cost or ""
        prices = [number for card in game.cards.values() if (number := card.number(field)) is not None]
        if paid.cap is not None and market.less is None and prices and min(prices) + min(market.by_place, default=0) > paid.cap:
            yield Gap("market", f"no card of {zone} can ever be paid for: nobody holds more than {paid.cap} {lower_first(paid.names)}", "raise the cap, or lower the prices")


def _unpriced(game: GameSnapshot, market: Market) -> Iterator[Gap]:
    """Cards that a market is stocked with and never sells, because the field of the price is empty or missing."""
    rules = game.rulebook
    own = rules.played.zone(market.zone)
    zones = {market.zone, own.source if own is not None else None}
    stock = {ident for placed in rules.played.set_up.placed if placed.zone in zones for ident in placed_cards(rules, game.cards.values(), placed)}
    field = market.price or rules.roles.cost or ""
    lacking = sorted((game.cards[ident] for ident in stock if game.cards[ident].number(field) is None or not rules.cards.has_field(game.cards[ident].type, field)), key=lambda card: card.code)
    if lacking:
        more = f" and {len(lacking) - 1} more" if len(lacking) > 1 else ""
        yield Gap("market", f"{rules.zone_name(market.zone)} never sells {game.title(lacking[0])}{more}: no price", "write the price, or take such cards out of the stock")


def _is_given(resource: Resource, given: set[str], scripts: Sequence[Script]) -> bool:
    """Whether anything gives a resource; `given`: by phases, the start or the clash."""
    if resource.start or resource.each_turn or resource.id in given:
        return True
    return any(refers_to(script, Subject("resource", resource.id)) for script in scripts)


def read(game: GameSnapshot) -> tuple[RulesSection, ...]:
    """The rules text of a game."""
    return rules_sections(game.rulebook, sorted(game.cards.values(), key=lambda card: card.code), game.vocabulary, _decks(game))


def _decks(game: GameSnapshot) -> list[str]:
    if game.rulebook.played.set_up.starts_alike:
        return []
    said = []
    for each in game.formats:
        size = f"{each.least_cards} to {each.most_cards} cards" if each.least_cards < each.most_cards else plural(each.least_cards, "card")
        name = f"{each.name}: a" if len(game.formats) > 1 else "A"
        said.append(f"{name} deck has {size}, with at most {plural(each.copies, 'copy', 'copies')} of each.")
    return said


def how_it_ends(game: GameSnapshot, value: Any, seed: int = 1, running: GameProcesses | None = None, say: Callable[[int, int], None] = lambda done, of: None) -> Ends:
    """Play quick games by the Simple player with random legal decks, or else with the decks of the game.

    If stopped through `running`, the result covers the finished games. Raises Refused if the game can't be
    played.
    """
    after = with_part(game, "play", value)
    asked, running = SimulationAsked(QUICK_GAMES, seed), running or GameProcesses()
    try:
        decks = "the starting deck" if after.rulebook.played.set_up.starts_alike else "random legal decks"
        return Ends(simulate_watched(after, asked, running, say), decks)
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
