"""The actions of a phase: one record each, with its document, its name, its settings and its sentence in the rules text.

What an action does in play is in `engine.turn_program`; what it changes before anything is played, in `income`.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass
from typing import Annotated, Any, Literal, Protocol

from pydantic import Field

from dramok.core.english import and_list, lower_first, or_list, plural_noun
from dramok.core.problem import Frozen, plural
from dramok.core.rulebook.sparse import Sparse

Amount = Annotated[int, Field(ge=0, le=9_999)]
Few = Annotated[int, Field(ge=0, le=60)]
FirstTurns = Literal["all", "later seats", "none"]
"""The turns of an action: every turn; all but the very first; all but the first of each seat."""


class DrawsCards(Frozen):
    """Draw a number of cards; None: the table's number per turn. `first`: also in the very first turn."""

    do: Literal["draw"] = "draw"
    number: Few | None = None
    first: FirstTurns = "all"


class Refills(Frozen):
    """Draw up to a number of cards in hand; None: the size of an opening hand."""

    do: Literal["refill"] = "refill"
    number: Few | None = None


class GrowResources(Frozen):
    """Every resource grows by its amount per turn, or is refilled."""

    do: Literal["grow"] = "grow"
    first: FirstTurns = "all"


class GainResource(Frozen):
    """Gain a number of a resource; with `most` above it, a random number between the two."""

    do: Literal["gain"] = "gain"
    resource: str
    number: Amount
    most: Amount | None = None


May = Literal["play", "use", "buy"]


class PlayCards(Sparse):
    """Act: play cards of these card types (empty: any), up to a number (None: as many as can be paid); use
    effects; buy cards.

    `may`: what the seat can do. `one`: exactly one action; the phase goes on only if none is possible.
    """

    added = ("may", "one")
    do: Literal["play"] = "play"
    types: tuple[str, ...] = ()
    most: Annotated[int, Field(ge=1, le=99)] | None = None
    may: Annotated[tuple[May, ...], Field(min_length=1)] = ("play", "use")
    one: bool = False


class RevealTop(Frozen):
    """Reveal the top card of a zone, carry it out as if played, and put it under the zone."""

    do: Literal["turn over"] = "turn over"
    zone: str


class Scheduled(Frozen):
    """Carry out the cards of a zone whose number `field` is that of the current round, as if played, in the last turn
    of the round. They stay in the zone.
    """

    do: Literal["scheduled"] = "scheduled"
    zone: str
    field: str


class SimpleAction(Frozen):
    """An action without settings: straighten cards; the clash; discard to the hand limit; clear damage; return
    tilted cards; discard the hand; put played cards away; refill the rows.
    """

    do: Literal["straighten", "clash", "hand limit", "clear damage", "recall", "discard hand", "clear away", "refill rows"]


class GrowCounters(Frozen):
    """Every counter grows by 1 on each card in its zones: in every turn, or once a round, in the first turn of it."""

    do: Literal["counters grow"] = "counters grow"
    each: Literal["turn", "round"] = "turn"


Doing = Annotated[DrawsCards | Refills | GrowResources | GainResource | PlayCards | RevealTop | Scheduled | GrowCounters | SimpleAction, Field(discriminator="do")]


class RulesTextNames(Protocol):
    """What a sentence needs of the rules text: the rulebook, its table rules, and names as the game spells them."""

    rules: Any
    table: Any

    def counted(self, ident: str, number: int) -> str: ...
    def resource(self, ident: str) -> Any: ...
    def types(self, idents: Iterable[str]) -> str: ...
    def whose(self, ident: str) -> str: ...
    def zone(self, ident: str) -> str: ...
    def field(self, ident: str) -> str: ...
    def first_turns(self, first: str) -> str: ...


SettingKind = Literal["number", "first turns", "resource", "zone", "field", "types", "may", "yes", "how often"]
"""The values that a setting takes."""
Needs = Literal["", "resources", "zones", "rivals", "rows", "counters", "numbers"]
"""What a game must have for an action to be offered."""


@dataclass(frozen=True)
class Setting:
    """A key of an action's document besides `do`. `kind`: what values it takes; `label`: its name.

    `none`: what a missing number means, in words or as the key of a table rule (`turn_draw`, `opening_hand`);
    None if a number is required. `new`: the value in a new action; a zone or resource is then the first of the
    game.
    """

    key: str
    kind: SettingKind
    label: str
    none: str | None = None
    new: Any = None


@dataclass(frozen=True)
class PhaseAction:
    """`do` identifies it in documents; `name` is for people, where {damage} is the game's word for damage.

    `needs`: without these it is not offered. `draws`: cards come to hand by it. `sentence`: its imperative in the
    rules text, without a full stop; empty if it does nothing in this game.
    """

    do: str
    name: str
    sentence: Callable[[RulesTextNames, Any], str]
    settings: tuple[Setting, ...] = ()
    needs: Needs = ""
    draws: bool = False


def _draw(reader: RulesTextNames, doing: DrawsCards) -> str:
    number = reader.table.turn_draw if doing.number is None else doing.number
    return f"draw {plural(number, 'card')}{reader.first_turns(doing.first)}"


def _refill(reader: RulesTextNames, doing: Refills) -> str:
    return f"draw until you hold {plural(reader.table.opening_hand if doing.number is None else doing.number, 'card')}"


def _grow(reader: RulesTextNames, doing: GrowResources) -> str:
    grown = [each for each in reader.rules.resources if each.each_turn or each.refill]
    parts = [f"{lower_first(each.names)} up to {each.start}" if each.refill else reader.counted(each.id, each.each_turn) for each in grown]
    return f"gain {and_list(parts)}{reader.first_turns(doing.first)}" if parts else ""


def _gain(reader: RulesTextNames, doing: GainResource) -> str:
    if doing.most is not None and doing.most > doing.number:
        return f"gain {doing.number} to {doing.most} {lower_first(reader.resource(doing.resource).names)}, at random"
    return f"gain {reader.counted(doing.resource, doing.number)}"


def _play(reader: RulesTextNames, doing: PlayCards) -> str:
    buys = "buy cards that you can pay for" if "buy" in doing.may else ""
    plays = _plays(reader, doing) if "play" in doing.may else ""
    if doing.one:
        ways = [*(["play one card"] if plays else []), *(["use one effect"] if "use" in doing.may else []), *(["take one action"] if "use" in doing.may and reader.rules.played.actions else []), *(["buy one card"] if buys else [])]
        return f"do exactly one thing: {or_list(ways)}"
    acts = "take actions" if "use" in doing.may and reader.rules.played.actions else ""
    uses = "use effects" if "use" in doing.may and not plays and not acts else ""
    *first, last = [each for each in (plays, uses, acts, buys) if each] or [""]
    return f"{', '.join(first)}, and {last}" if first else last


def _plays(reader: RulesTextNames, doing: PlayCards) -> str:
    what = reader.types(doing.types) if doing.types else "card"
    if doing.most == 1:
        return f"you may play one {what}"
    if doing.most:
        return f"play up to {doing.most} {plural_noun(what)}"
    return f"play {plural_noun(what)}, as many as you {'can pay for' if reader.table.pays is not None else 'like'}"


def _turn_over(reader: RulesTextNames, doing: RevealTop) -> str:
    return f"turn over the top card of {reader.whose(doing.zone)}, carry it out, and put it at the bottom"


def _scheduled(reader: RulesTextNames, doing: Scheduled) -> str:
    return f"if you are the last player of the round, carry out the cards of {reader.whose(doing.zone)} whose {reader.field(doing.field)} is the number of the round; they stay there"


def _hand_limit(reader: RulesTextNames, doing: SimpleAction) -> str:
    limit = reader.table.hand_limit
    return f"if you hold more than {plural(limit, 'card')}, discard down to {limit}" if limit else ""


def _counters(reader: RulesTextNames, doing: GrowCounters) -> str:
    grown = [f"1 {lower_first(each.name)} on each card in the {or_list([reader.zone(zone) for zone in each.zones])}" for each in reader.rules.played.counters]
    return f"{'if you are the first player, ' if doing.each == 'round' else ''}put {and_list(grown)}" if grown else ""


PHASE_ACTIONS = (
    PhaseAction("draw", "draw", _draw, (
        Setting("number", "number", "Cards drawn", none="turn_draw"), Setting("first", "first turns", "On which turns cards are drawn", new="all"),
    ), draws=True),
    PhaseAction("refill", "refill the hand", _refill, (Setting("number", "number", "Cards held after a refill", none="opening_hand"),), draws=True),
    PhaseAction("grow", "resources grow", _grow, (Setting("first", "first turns", "On which turns resources grow", new="all"),)),
    PhaseAction("gain", "gain", _gain, (
        Setting("number", "number", "Amount gained", new=1), Setting("resource", "resource", "What is gained"),
        Setting("most", "number", "Most gained, if at random", none="always the same"),
    ), needs="resources"),
    PhaseAction("play", "play cards", _play, (
        Setting("types", "types", "Types of cards", none="of any type", new=[]), Setting("most", "number", "Cards played at most", none="any number"),
        Setting("may", "may", "What can be done", new=("play", "use")), Setting("one", "yes", "Exactly one action", new=False),
    )),
    PhaseAction("clash", "the clash", lambda reader, doing: "clash, if you like", needs="rivals"),
    PhaseAction("straighten", "straighten", lambda reader, doing: "straighten your tilted cards"),
    PhaseAction("recall", "return tilted cards to hand", lambda reader, doing: f"return your tilted cards to your {reader.zone('hand')}"),
    PhaseAction("turn over", "turn a card over", _turn_over, (Setting("zone", "zone", "From which zone"),), needs="zones"),
    PhaseAction("scheduled", "carry out the cards of this round", _scheduled, (
        Setting("zone", "zone", "From which zone"), Setting("field", "field", "The number that names the round"),
    ), needs="numbers"),
    PhaseAction("clear damage", "{damage} is cleared", lambda reader, doing: f"remove all {reader.rules.phrases.damage}"),
    PhaseAction("discard hand", "discard the hand", lambda reader, doing: "discard your hand"),
    PhaseAction("clear away", "clear away", lambda reader, doing: f"put the cards you played on your {reader.zone('discard')}"),
    PhaseAction("refill rows", "refill the rows", lambda reader, doing: "refill the rows", needs="rows"),
    PhaseAction("counters grow", "counters grow", _counters, (Setting("each", "how often", "How often counters grow", new="turn"),), needs="counters"),
    PhaseAction("hand limit", "discard to the hand limit", _hand_limit),
)  # fmt: skip
"""In the order in which they are offered."""
BY_DO = {each.do: each for each in PHASE_ACTIONS}


def action_of(doing: Doing) -> PhaseAction:
    """The record of an action in a document."""
    return BY_DO[doing.do]
