"""Compare two decks or two states of one; the history of a deck; all decks of a game."""

from __future__ import annotations

from dataclasses import dataclass

from dramok.core.decks import Deck, DeckChange, DeckOverview, across, differences
from dramok.core.journal import EXISTS
from dramok.core.problem import fold
from dramok.services.decks.edits import deck_in
from dramok.services.workspace.entity_registry import apply
from dramok.services.workspace.past import game_at
from dramok.services.workspace.snapshot import GameSnapshot
from dramok.services.workspace.workspace import Missing, Workspace


@dataclass(frozen=True)
class DeckRevision:
    """The changes of one op to a deck:

    `kind` is made, changed, removed or restored; `seq` is the moment after it. `changes` are by card and
    section.
    """

    seq: int
    at: str
    label: str
    page: str
    kind: str
    size: int
    changes: tuple[DeckChange, ...]
    others: tuple[str, ...]


def deck_at(workspace: Workspace, game: GameSnapshot, deck_id: str, seq: int | None) -> tuple[GameSnapshot, Deck]:
    """A deck as it was after op `seq`, with the game at that moment; the current one if left out. Raises Missing."""
    if seq is None or seq >= game.seq:
        return game, deck_in(game, deck_id)
    then = game_at(workspace, game, seq)
    found = then.decks.get(deck_id)
    if found is None:
        raise Missing("the deck was not there at that moment")
    return then, found


def past_of(workspace: Workspace, game: GameSnapshot, deck_id: str) -> list[DeckRevision]:
    """The history of a deck, newest first. Raises Missing for one that never existed."""
    found = workspace.store.changes_of(deck_id)
    if not found or found[0][1].entity != "deck":
        raise Missing("there is no such deck")
    by_op: dict[int, list[int]] = {}
    for place, (op, _) in enumerate(found):
        by_op.setdefault(op.seq, []).append(place)
    held: dict[str, Deck] = {}
    past: list[DeckRevision] = []
    for number, (seq, places) in enumerate(by_op.items()):
        op = found[places[0]][0]
        before = held.get(deck_id)
        changes = [found[place][1] for place in places]
        for change in changes:
            apply(held, change, seq)
        after = held.get(deck_id)
        if after is None:
            kind = "removed"
        elif before is None:
            kind = "made" if number == 0 else "restored"
        else:
            kind = "changed"
        empty = Deck(deck_id, "", {})
        others = tuple(
            each.field for each in changes if each.field != EXISTS and not each.field.startswith(("card/", "in/"))
        )  # fmt: skip
        past.append(
            DeckRevision(
                seq, op.at, op.label, op.page, kind, after.size if after else 0,
                differences(before or empty, after or empty) if kind != "removed" else (), others,
            )
        )  # fmt: skip
    return past[::-1]


@dataclass(frozen=True)
class Compared:
    """The comparison of two decks: `same` cards have the same count in both, by section and card."""

    one: Deck
    other: Deck
    changes: tuple[DeckChange, ...]
    same: int


def compare(one: Deck, other: Deck) -> Compared:
    """Compare two decks."""
    same = sum(
        min(count, other.section(section).get(card, 0))
        for section, counts in one.every()
        for card, count in counts.items()
    )
    return Compared(one, other, differences(one, other), same)


def all_decks(game: GameSnapshot) -> DeckOverview:
    """All decks of the game compared, ordered by name."""
    return across(sorted(game.decks.values(), key=lambda deck: fold(deck.name)))
