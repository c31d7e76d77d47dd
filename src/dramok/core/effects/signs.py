"""The sign of an effect: whether it is good for the player of its card.

Prices, implied and measured worths, dominance and automatic players use it. The sign follows from the verb, the
act that is forbidden or allowed, the zones that a card leaves and enters, the side of the step, and the cue
(which defines whose card `that` is, and where `this` is).
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

from dramok.core.effects.model import All, Host, It, Pick, Random, Side, Step, Target, That, This, Triggered
from dramok.core.effects.verbs import ALLOWED_HELPS, FORBIDDEN_HELPS, VERBS

Sign = Literal[-1, 0, 1]
Affects = Literal["self", "rival", "anyone"]
"""Whose cards, or which seat, an effect acts on: the player's own, a rival's, or either."""

WORTH_OF_ZONE: Mapping[str, int] = {"play": 4, "hand": 3, "draw": 2, "discard": 1, "removed": 0}
"""How good it is for a seat to have a card in its zone, as an order: moving a card up helps, moving it down
harms. User-defined zones are missing: their purpose is unknown.
"""


@dataclass(frozen=True, slots=True)
class Recipient:
    """What a step acts on:

    `side` whose it is, `any` for either; `chosen`: the player picks it and takes the better side; `optional`:
    the player may pick none; `zone`: where it is.
    """

    side: Side
    chosen: bool = False
    zone: str = "play"
    optional: bool = False

    @property
    def affects(self) -> Affects:
        return {"own": "self", "rival": "rival", "any": "anyone"}[self.side]  # type: ignore[return-value]


@dataclass(frozen=True, slots=True)
class Referents:
    """What `that`, `this` and `host` refer to in an ability: their sides and zones."""

    that: Recipient
    this: Recipient
    host: Recipient


HELD_AT: Mapping[str, str] = {"drawn": "hand", "discarded": "discard", "destroyed": "discard", "leave": "discard"}
"""The zone of the cue's card when its ability resolves, if not in play."""


def referents_of(ability: object, host: Side = "own") -> Referents:
    """The moment of an ability; `host`: the side of the cards that its card can be attached to."""
    cue = ability.cue if isinstance(ability, Triggered) else ""
    of = ability.of if isinstance(ability, Triggered) else None
    source = ability.source if isinstance(ability, Triggered) else None
    at = HELD_AT.get(cue, "play")
    if of is not None:
        that = Recipient(of.side, zone=at)
        this = Recipient("own")
    else:
        # Cards answer, hurt and are hurt across the table, unless the line names the source.
        that = Recipient("rival" if source is None or source.side == "any" else source.side)
        this = Recipient("own", zone=at)
    return Referents(that, this, Recipient(host, chosen=host == "any"))


def recipient_of(target: Target, moment: Referents) -> Recipient:
    """The side and zone of a target's cards. For `it`, pass the target that `it` refers to (see `pronouns.aimed`)."""
    match target:
        case This():
            return moment.this
        case That():
            return moment.that
        case Host():
            return moment.host
        case Pick(group=group):
            return Recipient(group.side, group.side == "any", group.zone or "play", target.least == 0)
        case All(group=group) | Random(group=group):
            return Recipient(group.side, zone=group.zone or "play")
        case It():
            return moment.this


def done_to_card(step: Step, side: Side, zone: str = "play") -> Sign:
    """Whether a step on a card of one side (own or rival) in a zone helps the player of the effect; 0: unknown."""
    mine = 1 if side == "own" else -1
    if step.verb in ("put", "return", "remove"):
        return _moved(step, mine, zone)
    if step.act is not None:
        good = (FORBIDDEN_HELPS if step.verb == "forbid" else ALLOWED_HELPS)[step.act]
    else:
        helps = VERBS[step.verb].helps
        if helps is None:
            return 0
        if step.verb == "search":
            # Searching any pile helps the seat that searches.
            return 1
        good = helps
    return _sign(mine if good else -mine)


def _moved(step: Step, mine: int, zone: str) -> Sign:
    """A card moves between zones: of the player, of a rival, or (`any`) of its owner."""
    to_zone = {"return": "hand", "remove": "removed"}.get(step.verb) or (step.zone.zone if step.zone else "")
    to_side = step.zone.side if step.verb == "put" and step.zone else "any"
    if zone not in WORTH_OF_ZONE or to_zone not in WORTH_OF_ZONE:
        return 0
    to_mine = mine if to_side == "any" else 1 if to_side == "own" else -1
    return _sign(to_mine * WORTH_OF_ZONE[to_zone] - mine * WORTH_OF_ZONE[zone])


def done_to(step: Step, recipient: Recipient) -> Sign:
    """The sign of a step on a recipient.

    For a card of either side: the better one if the player picks, otherwise neutral.
    """
    own, rival = done_to_card(step, "own", recipient.zone), done_to_card(step, "rival", recipient.zone)
    if recipient.side != "any":
        found = own if recipient.side == "own" else rival
    elif recipient.chosen:
        found = max(own, rival)
    else:
        found = own if own == rival else 0
    # The player skips an optional pick that would harm.
    return max(0, found) if recipient.optional else found


def done_for_seat(step: Step, affects: Affects) -> Sign:
    """The sign of a step for seats: drawing, discarding, totals, creating cards; looking, revealing and shuffling."""
    helps = VERBS[step.verb].helps
    if helps is None or affects == "anyone":
        return 0
    return _sign((1 if helps else -1) * (1 if affects == "self" else -1))


def seats_of(step: Step) -> tuple[Affects, ...]:
    """The seats of a step without a target."""
    return ("rival",) if step.seats == "rival" else ("self", "rival") if step.seats is not None else ("self",)


def more_helps(step: Step, target: Target | None, moment: Referents) -> Sign:
    """Whether a larger amount of a step is better for its player; 0 if unknown or if both sides get it alike."""
    if target is not None:
        return done_to(step, recipient_of(target, moment))
    return 0 if step.seats not in (None, "rival") else done_for_seat(step, seats_of(step)[0])


def _sign(number: int) -> Sign:
    return 1 if number > 0 else -1 if number < 0 else 0

