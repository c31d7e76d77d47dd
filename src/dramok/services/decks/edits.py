"""Edits of decks: create, rename, set counts, choose deck rules, restore."""

from __future__ import annotations

import json
from collections.abc import Mapping, Sequence
from dataclasses import replace
from typing import Any

from dramok.core.decks import MAIN, MOST_COPIES, Deck, Fix, legality, random_deck
from dramok.core.decks.satisfiability import clashes
from dramok.core.problem import Problem, fold
from dramok.services.cards.card_edits import card_in
from dramok.services.workspace.ids import new_id
from dramok.services.workspace.rename_references import names_of, renamed_in_queries
from dramok.services.workspace.snapshot import GameSnapshot
from dramok.services.workspace.workspace import Commit, Conflict, Missing, Refused, Workspace
from dramok.store import Change, Key
from dramok.store.json_documents import deck_document

MOST_NAME = 80
MOST_NOTE = 20_000


def deck_in(game: GameSnapshot, ident: str) -> Deck:
    """A deck by id. Raises Missing."""
    found = game.decks.get(ident)
    if found is None:
        raise Missing(f"{game.name} has no deck {ident[:60]}")
    return found


def deck_named(game: GameSnapshot, said: str) -> Deck:
    """A deck by id or name. Raises Missing."""
    deck = game.decks.get(said) or next(
        (each for each in game.decks.values() if fold(each.name) == fold(said)), None
    )
    if deck is None:
        raise Missing(f"{game.name} has no deck {said[:60]}")
    return deck


def place_of(section: str, card: str) -> str:
    """The name of the change field that holds a count."""
    return f"card/{card}" if section == MAIN else f"in/{section}/{card}"


def set_count(
    workspace: Workspace,
    game_id: str,
    deck_id: str,
    card_id: str,
    count: int,
    base: int,
    page: str,
    key: Key | None = None,
    section: str = MAIN,
) -> Commit:
    """Set the count of a card in a section; 0 removes it. Raises Conflict if the count changed after op `base`."""
    _check_count(count)

    def plan(now: GameSnapshot) -> Sequence[Change]:
        deck = deck_in(now, deck_id)
        _check_section(now, deck, section)
        # A card that was removed from the game can still be removed from a deck.
        ident = card_id if card_id in deck.holds else card_in(now, card_id).id
        old = deck.section(section).get(ident, 0)
        if old == count:
            return ()
        field = place_of(section, ident)
        if deck.seq > base and workspace.store.latest_change(deck_id, field, page) > base:
            raise Conflict(f"{deck.name}: this count was changed meanwhile", str(old), str(count), now.seq)
        return (_counted(deck_id, field, old, count),)

    game = workspace.game(game_id)
    card = game.cards.get(card_id)
    title = game.title(card) if card else "a card"
    deck = deck_in(game, deck_id)
    into = _section_name(game, deck, section)
    return workspace.commit(game_id, f"{deck.name}{into}: {count} × {title}", page, plan, key=key)


def set_counts(
    workspace: Workspace, game_id: str, deck_id: str, fixes: Sequence[Fix], label: str, page: str, key: Key | None = None
) -> Commit:  # fmt: skip
    """Set several counts as one op, for example to apply a fix. Raises Refused, Missing."""
    for each in fixes:
        _check_count(each.copies)

    def plan(now: GameSnapshot) -> Sequence[Change]:
        deck = deck_in(now, deck_id)
        after = deck
        for each in fixes:
            _check_section(now, deck, each.section)
            ident = each.card if each.card in deck.holds else card_in(now, each.card).id
            after = after.with_count(ident, each.copies, each.section)
        return counts_changed(deck, after)

    return workspace.commit(game_id, label, page, plan, key=key)


def counts_changed(before: Deck, after: Deck) -> list[Change]:
    """The changes from the counts of one deck to those of another."""
    sections = dict.fromkeys([ident for ident, _ in before.every()] + [ident for ident, _ in after.every()])
    return [
        _counted(before.id, place_of(section, card), old.get(card, 0), new.get(card, 0))
        for section in sections
        for old, new in [(before.section(section), after.section(section))]
        for card in dict.fromkeys([*old, *new])
        if old.get(card, 0) != new.get(card, 0)
    ]


def add_deck(
    workspace: Workspace,
    game_id: str,
    name: str,
    page: str,
    cards: Mapping[str, int] | None = None,
    key: Key | None = None,
    sections: Mapping[str, Mapping[str, int]] | None = None,
    format_: str = "",
) -> tuple[Commit, str]:
    """Create a deck, empty unless `cards` are given; also returns its id."""
    ident = new_id("d")
    deck = Deck(ident, _name(name), dict(cards or {}), 0, format_, dict(sections or {}))

    def plan(now: GameSnapshot) -> Sequence[Change]:
        _check_format(now, format_)
        for section in deck.sections:
            _check_section(now, deck, section)
        return (Change("deck", ident, "exists", None, json.dumps(deck_document(deck))),)

    commit = workspace.commit(game_id, f"deck {deck.name}", page, plan, key=key)
    return commit, commit.made("deck")[0]


def copy_deck(workspace: Workspace, game_id: str, deck_id: str, page: str, key: Key | None = None) -> tuple[Commit, str]:  # fmt: skip
    """Copy a deck under a new name; also returns its id."""
    game = workspace.game(game_id)
    deck = deck_in(game, deck_id)
    names = {each.name for each in game.decks.values()}
    stem = deck.name[: MOST_NAME - 10]
    name = next(each for number in range(2, 10_000) if (each := f"{stem} {number}") not in names)
    return add_deck(workspace, game_id, name, page, deck.cards, key, deck.sections, deck.format)


def rename_deck(
    workspace: Workspace, game_id: str, deck_id: str, name: str, page: str, key: Key | None = None
) -> Commit:
    clean = _name(name)

    def plan(now: GameSnapshot) -> Sequence[Change]:
        names, old = names_of(now), deck_in(now, deck_id).name
        if old == clean:
            return ()
        queries = renamed_in_queries(now, replace(names, decks={**names.decks, deck_id: clean}))
        return (Change("deck", deck_id, "name", _text(old), _text(clean)), *queries)

    deck_in(workspace.game(game_id), deck_id)
    return workspace.commit(game_id, f"deck {clean} named", page, plan, key=key)


def choose_rules(
    workspace: Workspace, game_id: str, deck_id: str, format_: str, page: str, key: Key | None = None
) -> Commit:
    """Choose the deck rules of a deck by id; empty for the first of the game. Raises Refused, Missing."""
    game = workspace.game(game_id)
    _check_format(game, format_)
    rules = next((each.name for each in game.formats if each.id == format_), game.formats[0].name)
    label = f"{deck_in(game, deck_id).name}: rules {rules}"
    return _put(workspace, game_id, deck_id, "format", format_ or None, label, page, key)


def write_note(
    workspace: Workspace, game_id: str, deck_id: str, text: str, page: str, key: Key | None = None
) -> Commit:
    """Write the user's note on a deck; an empty text removes it."""
    text = text.strip()
    if len(text) > MOST_NOTE:
        raise Refused(Problem(where="note", what=f"{len(text):,} characters are too many for a note", mend=f"keep to {MOST_NOTE:,}"))  # fmt: skip
    label = f"{deck_in(workspace.game(game_id), deck_id).name}: note"
    return _put(workspace, game_id, deck_id, "note", text or None, label, page, key)


def retire_deck(workspace: Workspace, game_id: str, deck_id: str, page: str, key: Key | None = None) -> Commit:
    """Remove a deck; undo restores it."""

    def plan(now: GameSnapshot) -> Sequence[Change]:
        deck = deck_in(now, deck_id)
        return (Change("deck", deck_id, "exists", json.dumps(deck_document(deck)), None),)

    name = deck_in(workspace.game(game_id), deck_id).name
    return workspace.commit(game_id, f"deck {name} removed", page, plan, key=key)


def refill(
    workspace: Workspace, game_id: str, deck_id: str, after: Deck, label: str, page: str, key: Key | None = None
) -> Commit:
    """Replace the counts of a deck by those of another as one op: an imported list, or an earlier state.

    Cards removed from the game are left out.
    """

    def plan(now: GameSnapshot) -> Sequence[Change]:
        return counts_changed(deck_in(now, deck_id), _there(now, after))

    return workspace.commit(game_id, label, page, plan, key=key)


def fill_at_random(game: GameSnapshot, begun: Deck, seed: int, size: int | None = None) -> Deck:
    """Fill a deck to a legal one that contains `begun`, by a seed.

    Raises Refused, with the conflicting rules if two conflict.
    """
    format_ = game.format_of(begun)
    cards = list(game.cards.values())
    found = random_deck(_there(game, begun), cards, game.rulebook, format_, seed, size)
    if found is not None:
        return found
    fight = next(clashes(format_, cards, game.rulebook), None)
    if fight is not None:
        raise Refused(fight.model_copy(update={"what": f"no deck can be legal in {format_.name}: {fight.what}"}))  # fmt: skip
    held = [
        each for each in legality(begun, game.cards, game.rulebook, format_)
        if not each.mend.startswith(("add", "bring it up"))
    ]  # fmt: skip
    if held:
        raise Refused(Problem(where=begun.name, what=f"what is in the deck breaks {format_.name} already: {held[0].what}", mend=held[0].mend))  # fmt: skip
    raise Refused(Problem(where=begun.name, what=f"no legal deck was found for {format_.name}", mend="try another seed, or loosen the deck rules"))  # fmt: skip


def _there(game: GameSnapshot, deck: Deck) -> Deck:
    """The deck without cards that were removed from the game."""
    sections = {
        ident: {card: count for card, count in counts.items() if card in game.cards}
        for ident, counts in deck.every()
    }
    return replace(deck, cards=sections.pop(MAIN), sections={ident: held for ident, held in sections.items() if held})  # fmt: skip


def _put(
    workspace: Workspace, game_id: str, deck_id: str, field: str, value: Any, label: str, page: str, key: Key | None
) -> Commit:
    def plan(now: GameSnapshot) -> Sequence[Change]:
        old = deck_document(deck_in(now, deck_id)).get(field)
        if old == value:
            return ()
        return (Change("deck", deck_id, field, _text(old), _text(value)),)

    deck_in(workspace.game(game_id), deck_id)
    return workspace.commit(game_id, label, page, plan, key=key)


def _text(value: Any) -> str | None:
    return None if value is None else json.dumps(value)


def _counted(deck: str, field: str, old: int, new: int) -> Change:
    return Change("deck", deck, field, _text(old or None), _text(new or None))


def _check_count(count: int) -> None:
    if not 0 <= count <= MOST_COPIES:
        raise Refused(Problem(where="count", what=f"{count} is out of bounds", mend=f"write a number from 0 to {MOST_COPIES}"))  # fmt: skip


def _check_section(game: GameSnapshot, deck: Deck, section: str) -> None:
    format_ = game.format_of(deck)
    if section != MAIN and section not in deck.sections and format_.section(section) is None:
        names = ", ".join([format_.main, *(each.name for each in format_.sections)])
        raise Refused(Problem(where="section", what=f"{format_.name} has no section {section[:40]}", mend=f"take one of {names}"))  # fmt: skip


def _check_format(game: GameSnapshot, format_: str) -> None:
    if format_ and all(each.id != format_ for each in game.formats):
        names = ", ".join(each.name for each in game.formats)
        raise Refused(Problem(where="rules", what=f"{game.name} has no deck rules {format_[:40]}", mend=f"take one of {names}"))  # fmt: skip


def _section_name(game: GameSnapshot, deck: Deck, section: str) -> str:
    found = game.format_of(deck).section(section)
    return f", {found.name}" if found else ""


def _name(name: str) -> str:
    clean = " ".join(name.split())
    if not clean or len(clean) > MOST_NAME:
        raise Refused(Problem(where="name", what=f"a deck's name needs 1 to {MOST_NAME} characters", mend="give it a name"))  # fmt: skip
    return clean
