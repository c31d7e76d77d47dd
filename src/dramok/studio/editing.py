"""Edits of cards: one field, a new card, a card taken out."""

from __future__ import annotations

import json
import secrets
from collections.abc import Sequence

from dramok.core.cards import Card, EffectField, read_value, shown_value
from dramok.core.effects import last_good
from dramok.core.problem import Problem, fold
from dramok.store import Change
from dramok.store.documents import card_text, write_value
from dramok.studio.desk import Commit, Conflict, Desk, Missing, Refused
from dramok.studio.snapshot import GameSnapshot

MOST_CODE = 40


def new_id(kind: str) -> str:
    """A lasting id: a letter for what it is, and 60 random bits."""
    return f"{kind}{secrets.token_hex(8)[:15]}"


def new_ids(kind: str, count: int) -> list[str]:
    """Many lasting ids at once, ascending, so that a store takes them in one after another."""
    stem = new_id(kind)
    return [f"{stem}{number:05x}" for number in range(count)]


def card_in(game: GameSnapshot, ident: str) -> Card:
    """A card by its id or its code. Raises Missing."""
    found = game.cards.get(ident) or next(
        (card for card in game.cards.values() if fold(card.code) == fold(ident)), None
    )
    if found is None:
        raise Missing(f"{game.name} has no card {ident[:60]}")
    return found


def edit_field(
    desk: Desk,
    game_id: str,
    card_id: str,
    field_id: str,
    typed: str,
    base: int,
    page: str,
    key: str | None = None,
    good: str | None = None,
) -> Commit:
    """Writes one field as it was typed. `base` is the op number up to which the page has seen the game.

    `good` is the latest text of an effect without a mistake: it prints and plays while what was typed has one.

    Raises Refused for text that the field can't hold, Conflict when the field was changed after `base`.
    A field changed by others to the very value typed is no conflict.
    """
    game = desk.game(game_id)
    card = card_in(game, card_id)
    return desk.commit(
        game_id,
        f"{game.title(card)}: {_field_name(game, field_id)}",
        page,
        lambda now: _changes(desk, now, card.id, field_id, typed, base, good),
        key=key,
    )


def _changes(
    desk: Desk, now: GameSnapshot, card_id: str, field_id: str, typed: str, base: int, good: str | None
) -> Sequence[Change]:
    card = card_in(now, card_id)
    if field_id == "code":
        before: str | None = json.dumps(card.code)
        after: str | None = json.dumps(_code(now, card, typed))
        theirs = card.code
    else:
        field = now.rulebook.cards.field(field_id)
        if field is None or not now.rulebook.cards.has_field(card.type, field_id):
            kind = now.rulebook.cards.type(card.type).name
            raise Refused(
                Problem(where=field_id, what=f"{kind} has no such field", mend="choose another field")
            )
        old = card.values.get(field_id)
        known = (
            last_good(card.script(field_id), good, now.vocabulary) if isinstance(field, EffectField) else old
        )
        value, problems = read_value(field, typed, now.rulebook.cards, now.vocabulary, known)
        if problems and (not isinstance(field, EffectField) or value == known):
            raise Refused(problems[0])
        if value == () or (isinstance(field, EffectField) and not typed.strip()):
            value = None
        before = None if old is None else json.dumps(write_value(old), ensure_ascii=False)
        after = None if value is None else json.dumps(write_value(value), ensure_ascii=False)
        theirs = shown_value(field, old, now.rulebook.cards, now.vocabulary)
    if before == after:
        return ()
    latest = desk.store.latest_change(card_id, field_id)
    if latest > base and card.seq > base:
        raise Conflict(
            f"{now.title(card)}: {_field_name(now, field_id)} was changed meanwhile", theirs, typed, latest
        )
    return (Change("card", card_id, field_id, before, after),)


def _code(game: GameSnapshot, card: Card, typed: str) -> str:
    code = " ".join(typed.split())
    holder = next(
        (other for other in game.cards.values() if fold(other.code) == fold(code) and other.id != card.id),
        None,
    )
    if not code or len(code) > MOST_CODE:
        raise Refused(
            Problem(
                where="code",
                what=f"a code needs 1 to {MOST_CODE} characters",
                mend=f"write one such as {card.code[:20]}",
            )
        )
    if holder is not None:
        raise Refused(
            Problem(
                where="code",
                what=f"{code} is taken by {game.title(holder)}",
                mend=f"{next_code(game, card.set)} is free",
            )
        )
    return code


def _field_name(game: GameSnapshot, field_id: str) -> str:
    field = game.rulebook.cards.field(field_id)
    return field.name.lower() if field else field_id[:40]


def next_code(game: GameSnapshot, set_id: str) -> str:
    """The next free code of a set."""
    prefix = next((each.code for each in game.sets if each.id == set_id), "C")
    used = {fold(card.code) for card in game.cards.values()}
    number = sum(card.set == set_id for card in game.cards.values()) + 1
    while fold(f"{prefix}-{number:03}") in used:
        number += 1
    return f"{prefix}-{number:03}"


def add_card(
    desk: Desk, game_id: str, type_id: str, set_id: str, page: str, key: str | None = None
) -> tuple[Commit, str]:
    """A new, empty card at the end of a set; gives its id too."""
    ident = new_id("c")

    def plan(now: GameSnapshot) -> Sequence[Change]:
        if not now.rulebook.cards.has_type(type_id) or now.rulebook.cards.type(type_id).abstract:
            raise Refused(
                Problem(where="type", what="the game has no such card type", mend="choose one of its types")
            )
        if not any(each.id == set_id for each in now.sets):
            raise Missing("there is no such set")
        return (
            Change(
                "card",
                ident,
                "exists",
                None,
                card_text(Card(ident, next_code(now, set_id), set_id, type_id, revision=0)),
            ),
        )

    commit = desk.commit(game_id, "a new card", page, plan, key=key)
    if commit.repeated:
        ident = next(change.id for change in desk.store.changes(commit.op.seq))
    return commit, ident


def retire_card(desk: Desk, game_id: str, card_id: str, page: str, key: str | None = None) -> Commit:
    """Takes a card out of the game; undo brings it back."""
    card = card_in(desk.game(game_id), card_id)

    def plan(now: GameSnapshot) -> Sequence[Change]:
        return (Change("card", card.id, "exists", card_text(card_in(now, card.id)), None),)

    return desk.commit(game_id, f"{desk.game(game_id).title(card)} taken out", page, plan, key=key)
