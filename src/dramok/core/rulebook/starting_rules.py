"""Default rules of play built from the content of a game: for one, or for two."""

from __future__ import annotations

from dramok.core.rulebook.phase_actions import DrawsCards, GrowResources, PlayCards, SimpleAction
from dramok.core.rulebook.play_rules import ClashRule, Goal, Phase, PlayRules, RedrawRule, SetUp, alone
from dramok.core.rulebook.rulebook import Rulebook

POINTS, ROUNDS = 15, 20


def starting(rulebook: Rulebook, seats: int) -> PlayRules:
    """A turn of four phases; for two also a clash of cards in play with a stat, and a goal if there is a resource."""
    if seats < 2:
        return alone()
    total = next((each.id for each in rulebook.resources if each.id != rulebook.table.pays and not each.shared), None)
    stat = next(iter(rulebook.roles.stats), None)
    schema = rulebook.cards
    types = tuple(each.id for each in schema.types if not each.abstract and each.stays and stat and schema.has_field(each.id, stat))
    clash = ClashRule(
        types=types, stat=stat, hurts=bool(rulebook.roles.damage_limit), excess="through", unanswered="gains" if total else "nothing", total=total
    ) if types and stat else None  # fmt: skip
    phases = (
        Phase(id="start", name="Start", does=(SimpleAction(do="straighten"), GrowResources(first="none"), DrawsCards(first="later seats"))),
        Phase(id="play", name="Play", does=(PlayCards(),)),
        *((Phase(id="clash", name="Clash", does=(SimpleAction(do="clash"),)),) if clash else ()),
        Phase(id="end", name="End", does=(SimpleAction(do="hand limit"),) if rulebook.table.hand_limit else ()),
    )
    goals = (Goal(kind="reach", total=total, number=POINTS), Goal(kind="most", total=total, number=ROUNDS)) if total else ()
    return PlayRules(seats=seats, set_up=SetUp(redraw=RedrawRule(kind="cards"), second_draws=1), phases=phases, clash=clash, goals=goals)
