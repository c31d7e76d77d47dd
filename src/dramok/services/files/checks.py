"""All unfinished or invalid items of a game in one list."""

from __future__ import annotations

from dataclasses import dataclass

from dramok.core.problem import Problem
from dramok.services.cards.card_detail import detail_of
from dramok.services.decks.reports import report
from dramok.services.workspace.snapshot import GameSnapshot


@dataclass(frozen=True)
class Finding:
    """A finding: `thing` is a card's code and name, or a deck's name; `kind` is card or deck."""

    kind: str
    thing: str
    problem: Problem


def check(game: GameSnapshot) -> list[Finding]:
    """Find cards with unwritten behaviour, text that does not fit, unread lines, undecided worths, and illegal
    decks.
    """
    found: list[Finding] = []
    for card in game.cards.values():
        sheet = detail_of(game, card)
        thing = f"{card.code} {game.title(card)}".strip()
        found += [Finding("card", thing, problem) for problem in sheet.problems]
        if not sheet.printed.behaviour_written and not sheet.problems:
            found.append(
                Finding(
                    "card",
                    thing,
                    Problem(
                        where="effect", what="behaviour not written", mend="say its text as effect lines"
                    ),
                )
            )
    for deck in game.decks.values():
        found += [Finding("deck", deck.name, problem) for problem in report(game, deck).problems]
    return found
