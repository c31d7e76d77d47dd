"""Find effects that refer to an entity; used to refuse its removal."""

from __future__ import annotations

from collections.abc import Collection

from dramok.core.effects import Script
from dramok.core.effects.references import Subject, refers_to
from dramok.core.problem import Problem, plural
from dramok.services.workspace.snapshot import GameSnapshot
from dramok.services.workspace.workspace import Refused

_DOES = {"resource": ("gains or loses it", "gain or lose it")}
_SAYS = ("speaks of it", "speak of it")


def referrers_of(game: GameSnapshot, subject: Subject, gone: Collection[str] = ()) -> tuple[list[str], list[str], list[str]]:
    """The names of the cards, the keywords, and the actions of the rules whose effects refer to an entity.

    Keywords with an id in `gone` do not count.
    """
    cards = [
        game.title(card)
        for card in game.cards.values()
        if any(isinstance(value, Script) and refers_to(value, subject) for value in card.values.values())
    ]
    keywords = [each.name for each in game.rulebook.keywords if each.id not in gone and refers_to(each.effect, subject)]
    actions = [each.name for each in game.rulebook.played.actions if refers_to(each.effect, subject)]
    return cards, keywords, actions


def refuse_if_referenced(game: GameSnapshot, subject: Subject, name: str, gone: Collection[str] = ()) -> None:
    """Raises Refused, with the names of the referring cards, keywords and actions, if an effect refers to the entity
    called `name`.
    """
    cards, keywords, actions = referrers_of(game, subject, gone)
    speakers = [*cards, *keywords, *actions]
    if not speakers:
        return
    counted = [plural(len(each), noun) for each, noun in ((cards, "card"), (keywords, "keyword"), (actions, "action")) if each]
    more = f" and {len(speakers) - 3} more" if len(speakers) > 3 else ""
    does = _DOES.get(subject.kind, _SAYS)[len(speakers) > 1]
    raise Refused(
        Problem(
            where=name,
            what=f"{' and '.join(counted)} {does}: {', '.join(speakers[:3])}{more}",
            mend="write those effects without it first, or rename it",
        )
    )
