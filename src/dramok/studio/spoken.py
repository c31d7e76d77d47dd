"""Who speaks of a thing: effects of cards and of keywords. What is still spoken of is not taken away."""

from __future__ import annotations

from collections.abc import Collection

from dramok.core.effects import Script
from dramok.core.effects.mentions import Subject, speaks_of
from dramok.core.problem import Problem, plural
from dramok.studio.desk import Refused
from dramok.studio.snapshot import GameSnapshot

_DOES = {"resource": ("gains or loses it", "gain or lose it")}
_SAYS = ("speaks of it", "speak of it")


def speakers_of(game: GameSnapshot, subject: Subject, gone: Collection[str] = ()) -> tuple[list[str], list[str]]:
    """The cards, and the keywords (but those with the ids `gone`), whose effects speak of a thing, by name."""
    cards = [
        game.title(card)
        for card in game.cards.values()
        if any(isinstance(value, Script) and speaks_of(value, subject) for value in card.values.values())
    ]
    keywords = [each.name for each in game.rulebook.keywords if each.id not in gone and speaks_of(each.effect, subject)]
    return cards, keywords


def none_speaks_of(game: GameSnapshot, subject: Subject, name: str, gone: Collection[str] = ()) -> None:
    """Raises Refused where an effect speaks of the thing called `name`: it names who does."""
    cards, keywords = speakers_of(game, subject, gone)
    speakers = [*cards, *keywords]
    if not speakers:
        return
    counted = [plural(len(each), noun) for each, noun in ((cards, "card"), (keywords, "keyword")) if each]
    more = f" and {len(speakers) - 3} more" if len(speakers) > 3 else ""
    does = _DOES.get(subject.kind, _SAYS)[len(speakers) > 1]
    raise Refused(
        Problem(
            where=name,
            what=f"{' and '.join(counted)} {does}: {', '.join(speakers[:3])}{more}",
            mend="write those effects without it first, or rename it",
        )
    )
