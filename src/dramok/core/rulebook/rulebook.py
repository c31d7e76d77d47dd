"""The rulebook model: validated once."""

from __future__ import annotations

from typing import Any, Literal

from pydantic import Field, model_validator

from dramok.core.cards import NumberField, Schema
from dramok.core.effects import Script
from dramok.core.effects.model import (
    EVERYWHERE,
    ChoiceIs,
    Count,
    HeldTotal,
    Not,
    Side,
    StatCompare,
    SumOf,
    amounts_in,
)
from dramok.core.problem import Frozen, fold
from dramok.core.rulebook.own_files import OwnFont, OwnSymbol
from dramok.core.rulebook.phrases import Phrases
from dramok.core.rulebook.play_rules import ZONES, PlayRules, alone
from dramok.core.rulebook.sparse import Sparse


def roles_as_now(document: Any) -> Any:
    """Roles under their current names: the damage limit was called toughness. A duplicate stat is dropped."""
    if not isinstance(document, dict):
        return document
    if "toughness" in document:
        rest = {key: value for key, value in document.items() if key != "toughness"}
        document = {"damage_limit": document["toughness"], **rest}
    stats = document.get("stats")
    if isinstance(stats, list | tuple) and all(isinstance(each, str) for each in stats) and len(set(stats)) < len(stats):
        document = {**document, "stats": [*dict.fromkeys(stats)]}
    return document


class Roles(Frozen):
    """The field id of each role; None: no field. A role can refer to a field that is not created yet."""

    name: str = "name"
    cost: str | None = "cost"
    rarity: str | None = "rarity"
    faction: str | None = None
    effect: str | None = "effect"
    printed: str | None = "printed"
    tags: str | None = "tags"
    copies: str | None = "copies"
    damage_limit: str | None = None
    stats: tuple[str, ...] = ()

    @model_validator(mode="before")
    @classmethod
    def _as_now(cls, document: Any) -> Any:
        return roles_as_now(document)

    def parts(self) -> tuple[tuple[str, str, str], ...]:
        """(role, field id, kind of field) of every role with a field."""
        given = (
            ("the name", self.name, "text"), ("the cost", self.cost, "number"), ("the rarity", self.rarity, "choice"),
            ("the faction", self.faction, "choice"), ("the effect", self.effect, "effect"), ("the printed text", self.printed, "text"),
            ("the tags", self.tags, "tags"), ("the copies", self.copies, "number"), ("the damage limit", self.damage_limit, "number"),
            *(("a stat", stat, "number") for stat in self.stats),
        )  # fmt: skip
        return tuple((role, ident, kind) for role, ident, kind in given if ident)


MOST_COUNTED = 9_999


class Resource(Sparse):
    """A counted resource.

    `shared` ones belong to the table, others to each seat; `cap` None: no cap. `refill`: each turn fills it up
    to the amount without spending, instead of adding. `lasts`: what is left at the end of the turn is kept, or
    lost.
    """

    added = ("lasts",)
    id: str = Field(pattern=r"^[a-z][a-z0-9-]*$", max_length=60)
    name: str = Field(min_length=1, max_length=60)
    names: str = Field(min_length=1, max_length=60)
    symbol: str = Field(max_length=60)
    start: int = Field(default=0, ge=0, le=MOST_COUNTED)
    each_turn: int = Field(default=0, ge=0, le=MOST_COUNTED)
    cap: int | None = Field(default=None, ge=0, le=MOST_COUNTED)
    shared: bool = False
    refill: bool = False
    lasts: Literal["kept", "turn"] = "kept"


class TableRules(Frozen):
    """The table rules: how cards are paid for, the hand, the empty draw pile, the names of zones."""

    pays: str | None = None
    opening_hand: int = Field(default=5, ge=0, le=20)
    turn_draw: int = Field(default=1, ge=0, le=20)
    hand_limit: int | None = Field(default=None, ge=1, le=60)
    empty_draw_pile: Literal["reshuffle", "lose", "nothing"] = "reshuffle"
    turn: str = "turn"
    dismiss: str = "discard from play"
    zones: dict[str, str] = {}


class Keyword(Frozen):
    """A keyword of the game.

    It is printed in bold in texts; `reminder` explains it, `effect` is its behaviour on a card.
    """

    name: str = Field(min_length=1, max_length=60)
    reminder: str = Field(default="", max_length=300)
    effect: Script = Script()

    @property
    def id(self) -> str:
        """Its id in effects."""
        return fold(self.name)


class Rulebook(Frozen):
    """`tags` are the declared tags; cards may use others."""

    id: str
    name: str = Field(min_length=1, max_length=200)
    cards: Schema
    roles: Roles = Roles()
    resources: tuple[Resource, ...] = ()
    table: TableRules = TableRules()
    play: PlayRules | None = None
    phrases: Phrases = Phrases()
    tags: tuple[str, ...] = ()
    keywords: tuple[Keyword, ...] = Field(default=(), max_length=500)
    symbols: tuple[OwnSymbol, ...] = Field(default=(), max_length=200)
    fonts: tuple[OwnFont, ...] = Field(default=(), max_length=20)

    def resource(self, ident: str) -> Resource:
        """A resource. Raises KeyError for an unknown one."""
        found = next((each for each in self.resources if each.id == ident), None)
        if found is None:
            raise KeyError(ident)
        return found

    @property
    def played(self) -> PlayRules:
        """The rules of play, or the default for free play alone."""
        return self.play or alone()

    @property
    def scripts(self) -> tuple[Script, ...]:
        """The effects that belong to no card: of keywords, and of actions of the rules."""
        return (*(each.effect for each in self.keywords), *(each.effect for each in self.played.actions))

    def with_seats(self, seats: int) -> Rulebook:
        """The rules for a match with a number of seats."""
        if self.play is None or self.play.seats == seats:
            return self
        return self.model_copy(update={"play": self.play.model_copy(update={"seats": seats})})

    def host_side(self, card_type: str) -> Side:
        """The side of the cards that a type can be attached to; the player's own for other types."""
        hosts = next((each.hosts for each in self.played.after_play if each.hosts is not None and self.cards.is_a(card_type, each.type)), None)
        return "own" if hosts is None else hosts.side

    def zone_name(self, ident: str) -> str:
        """The name of a zone; the id itself for an unknown one."""
        own = next((zone.name for zone in self.played.zones if zone.id == ident), None)
        return own or self.table.zones.get(ident) or ZONES.get(ident, ident)

    def symbol(self, ident: str) -> str | None:
        """The symbol of a resource or stat in texts."""
        resource = next((each for each in self.resources if each.id == ident), None)
        if resource is not None:
            return resource.symbol
        field = self.cards.field(ident)
        return field.symbol if isinstance(field, NumberField) else None

    @model_validator(mode="after")
    def _sound(self) -> Rulebook:
        for role, ident, kind in self.roles.parts():
            field = self.cards.field(ident)
            if field is not None and field.kind != kind:
                raise ValueError(f"{field.name} plays the part of {role}: it stays of kind {kind}")
        for kind, own in (("symbols", self.symbols), ("fonts", self.fonts)):
            if len({each.id for each in own}) < len(own):
                raise ValueError(f"two {kind} have one id")
            if len({fold(each.name) for each in own}) < len(own):
                raise ValueError(f"two {kind} have the same name")
        uses = [use for each in self.fonts for use in each.uses]
        if len(uses) != len(set(uses)):
            raise ValueError("two fonts have the same use")
        idents = [each.id for each in self.resources]
        if len(idents) != len(set(idents)):
            raise ValueError("two resources have one id")
        names = [fold(each.name) for each in self.resources]
        if len(names) != len(set(names)):
            raise ValueError("two resources have the same name, so effects can't tell them apart")
        if self.table.pays is not None and self.table.pays not in idents:
            raise ValueError(f"cards are paid with {self.table.pays[:40]}, which is not a resource")
        if self.play is not None:
            self._plays(self.play, set(idents))
        return self

    def _plays(self, play: PlayRules, resources: set[str]) -> None:
        """Raises ValueError if the rules of play refer to something that the game lacks."""
        doings = [doing for phase in play.phases for doing in phase.does]
        totals = [doing.resource for doing in doings if doing.do == "gain"]
        scheduled = [doing.field for doing in doings if doing.do == "scheduled"]
        totals += [goal.total for goal in play.goals] + [each for common in play.common for each in common.resources]
        totals += [*play.set_up.second_gains, *play.evaluation.resources]
        totals += [market.pays for market in play.markets] + [market.passing.resource for market in play.markets if market.passing is not None]
        totals += [end.total for end in play.ends if end.total is not None]
        types = [each for doing in doings if doing.do == "play" for each in doing.types]
        types += [each.type for each in play.after_play] + list(play.answers.types if play.answers else ())
        stats = scheduled + list(play.evaluation.stats) + [market.price for market in play.markets if market.price is not None]
        if play.clash is not None:
            totals += [play.clash.total] if play.clash.total else []
            types += [*play.clash.types, *play.clash.answer_types]
            stats.append(play.clash.stat)
        for what in totals:
            if what not in resources:
                raise ValueError(f"the rules of play name {what[:40]}, which is not a resource")
        for kind in types:
            if not self.cards.has_type(kind):
                raise ValueError(f"the rules of play name {kind[:40]}, which is not a card type")
        for stat in stats:
            field = self.cards.field(stat)
            if not isinstance(field, NumberField) or not field.whole:
                raise ValueError(f"the rules of play name {stat[:40]}, which is not a whole number of a card")
        self._counts(play, resources)
        fields = {fold(field.name) for field in self.cards.fields}
        for counter in play.counters:
            if fold(counter.name) in fields or self.cards.field(counter.id) is not None:
                raise ValueError(f"the counter {counter.name} has the name of a field of cards")
        held = [each for common in play.common for each in common.resources]
        if len(set(held)) < len(held):
            raise ValueError("a resource is under two common caps")
        shared = {each.id for each in self.resources if each.shared}
        if shared & set(held):
            raise ValueError("a resource of the whole table is under no seat's common cap")

    def _known(self, part: Any, of: str, zones: set[str], phases: set[str], resources: set[str]) -> None:
        """Raises ValueError if the document of an effect names what the game lacks."""
        if isinstance(part, list | tuple):
            for each in part:
                self._known(each, of, zones, phases, resources)
        if not isinstance(part, dict):
            return
        for key, value in part.items():
            unknown = isinstance(value, str) and (
                key == "resource" and value not in resources or key == "phase" and value not in phases or key == "zone" and value not in zones
                or key == "type" and not self.cards.has_type(value)
                or key in ("field", "stat") and self.cards.field(value) is None and value not in {each.id for each in self.played.counters}
                or key == "keyword" and value not in {each.id for each in self.keywords}
            )  # fmt: skip
            if unknown:
                raise ValueError(f"{of} names {value[:40]}, which the game lacks")
            self._known(value, of, zones, phases, resources)

    def _counts(self, play: PlayRules, resources: set[str]) -> None:
        """Raises ValueError if a group or an amount of the rules of play names what the game lacks."""
        zones = {*ZONES, *(zone.id for zone in play.zones), EVERYWHERE}
        counters = {each.id for each in play.counters}
        groups = [each.group for each in play.set_up.placed if each.group is not None] + ([play.set_up.start_group] if play.set_up.start_group else [])
        for amount in (*(each.amount for each in play.scoring), *(each.amount for each in play.ties), *(each.less for each in play.markets if each.less is not None)):
            for part in amounts_in(amount):
                if isinstance(part, SumOf) and part.field not in counters and not isinstance(self.cards.field(part.field), NumberField):
                    raise ValueError(f"an amount of the rules of play names {part.field[:40]}, which is not a number of a card")
                if isinstance(part, HeldTotal) and part.resource not in resources:
                    raise ValueError(f"an amount of the rules of play names {part.resource[:40]}, which is not a resource")
                if isinstance(part, Count | SumOf):
                    groups.append(part.group)
        for action in play.actions:
            self._known(action.effect.model_dump(mode="json"), f"the action {action.name}", zones, {each.id for each in play.phases}, resources)
        for group in groups:
            if group.type is not None and not self.cards.has_type(group.type):
                raise ValueError(f"the rules of play name {group.type[:40]}, which is not a card type")
            if group.zone is not None and group.zone not in zones:
                raise ValueError(f"the rules of play name {group.zone[:40]}, which is not a zone")
            for each in group.filters:
                inner = each.filter if isinstance(each, Not) else each
                if isinstance(inner, ChoiceIs | StatCompare) and inner.field not in counters and self.cards.field(inner.field) is None:
                    raise ValueError(f"the rules of play name {inner.field[:40]}, which is not a field of cards")
