"""Card types and their fields: preview a change, then write it together with the affected cards as one op."""

from __future__ import annotations

import json
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any

from pydantic import ValidationError

from dramok.core.cards import Card, CardType, FieldKind, Schema, TextField
from dramok.core.cards.query.query_names import Meant
from dramok.core.cards.schema.formula_names import stored_formula
from dramok.core.cards.schema.ids import id_from
from dramok.core.cards.schema.lexer import Unreadable
from dramok.core.cards.values.conversion import Conversion, Lost, convert
from dramok.core.effects import Script
from dramok.core.effects.references import Subject, refers_to, replace_in_document, replace_reference
from dramok.core.problem import Problem, fold, plural
from dramok.core.rulebook import GameVocabulary, Rulebook
from dramok.core.rulebook.part_edit import amended, part_of
from dramok.services.workspace.rename_references import names_of, renamed_in_queries
from dramok.services.workspace.snapshot import GameSnapshot
from dramok.services.workspace.workspace import Commit, Conflict, Missing, Refused, Workspace
from dramok.store import Change, Key
from dramok.store.json_documents import write_value

MOST_TYPES = 100
RESERVED = {"code", "type", "set", "verdict", "revision", "exists"}
"""Names of card columns; no field may have such an id."""


@dataclass(frozen=True)
class Moved:
    """A field that changes its kind: the number of cards that keep their value, and what happens to the others."""

    field: str
    name: str
    kept: int
    lost: tuple[Lost, ...]
    kept_as: str


@dataclass(frozen=True)
class TypePlan:
    """The preview of writing a card type. `put_away` names fields whose values stay on the cards, hidden."""

    card_type: CardType
    moved: tuple[Moved, ...]
    put_away: tuple[str, ...]
    changes: tuple[Change, ...]


def plan_type(game: GameSnapshot, document: dict[str, Any]) -> TypePlan:
    """Preview an edited card type; writes nothing. Raises Refused if it is invalid.

    `document` is a card type; new fields and a new type have no id yet; formulas name fields as users type
    them. A field that is missing is hidden, or dropped if no card has a value in it.
    """
    document = _with_ids(game, document)
    old = game.rulebook.cards.type(document["id"]) if game.rulebook.cards.has_type(document["id"]) else None
    kept = {field["id"] for field in document["fields"]}
    away = [field for field in (old.fields if old else ()) if field.id not in kept]
    holders = _holders(game, old.id) if old else ()
    still = [field for field in away if any(field.id in card.values for card in holders)]
    for field in away:
        _unneeded(game, field)
    document["fields"] += [
        {**field.model_dump(mode="json"), "retired": True, "required": False} for field in still
    ]
    moved: list[Moved] = []
    changes: list[Change] = []
    for before, wanted in _other_kind(old, document):
        document, done, cards = _move(game, document, before, wanted, holders)
        moved.append(done)
        changes += cards
    after = _rulebook(game, document)
    changed = after.cards.type(document["id"])
    _roles_kept(game, after, changed)
    _told_apart(game, after, changed)
    part = f"types/{changed.id}"
    before_text, after_text = _text(game.rulebook, part), _text(after, part)
    if before_text != after_text:
        changes.insert(0, Change("game", game.id, part, before_text, after_text))
        changes += renamed_in_queries(game, replace(names_of(game), schema=after.cards))
    put_away = tuple(field.name for field in still if not field.retired)
    return TypePlan(changed, tuple(moved), put_away, tuple(changes))


def write_type(
    workspace: Workspace, game_id: str, document: dict[str, Any], base: int, page: str, key: Key | None = None
) -> Commit:
    """Write a card type and the changes of cards that it needs, as one op.

    Raises Refused, or Conflict if it was changed after `base`.
    """
    label = _label(workspace.game(game_id), document)

    def plan(now: GameSnapshot) -> Sequence[Change]:
        planned = plan_type(now, document)
        not_changed_since(workspace, now, f"types/{planned.card_type.id}", base, planned.card_type.name, page)
        return planned.changes

    return workspace.commit(game_id, label, page, plan, key=key)


def _label(game: GameSnapshot, document: Mapping[str, Any]) -> str:
    """The label of an edit of a card type; a renamed type or field is shown with both names."""
    schema = game.rulebook.cards
    old = schema.type(document["id"]) if document.get("id") and schema.has_type(document["id"]) else None
    name, said = named_edit("card type", document, old.name if old else None)
    if said or old is None:
        return said
    fields = [(each.get("id"), str(each.get("name", ""))) for each in document.get("fields") or ()]
    told = renamed({each.id: each.name for each in old.fields if not each.retired}, fields)
    return f"{name}: {told}" if told else f"card type {name}"


def named_edit(what: str, document: Mapping[str, Any], old: str | None) -> tuple[str, str]:
    """The name in a document and the label of an edit that adds or renames it; "" for any other edit."""
    name = " ".join(str(document.get("name") or what).split())[:60]
    if old is None:
        return name, f"{what} {name} added"
    return name, f"{what} {old} renamed to {name}" if old != name else ""


def renamed(before: Mapping[str, str], after: Sequence[tuple[str | None, str]]) -> str:
    """The label of an edit of a list of named items by id, if exactly one was renamed, added or removed;
    otherwise "".
    """
    now = {ident: " ".join(name.split())[:60] for ident, name in after if ident}
    changed = [(before[each], now[each]) for each in before if each in now and before[each] != now[each]]
    fresh = [" ".join(name.split())[:60] for ident, name in after if not ident]
    gone = [before[each] for each in before if each not in now]
    match (changed, fresh, gone):
        case ([(old, new)], [], []):
            return f"{old} renamed to {new}"
        case ([], [one], []):
            return f"{one} added"
        case ([], [], [one]):
            return f"{one} removed"
        case _:
            return ""


def remove_type(
    workspace: Workspace, game_id: str, type_id: str, move_to: str | None, page: str, key: Key | None = None
) -> Commit:
    """Remove a card type; its cards become `move_to`. Raises Refused if it has cards and `move_to` is missing."""
    found = _type(workspace.game(game_id), type_id)

    def plan(now: GameSnapshot) -> Sequence[Change]:
        schema = now.rulebook.cards
        heirs = schema.heirs(type_id)
        if heirs:
            raise Refused(
                Problem(
                    where="type",
                    what=f"{' and '.join(each.name for each in heirs)} extend {found.name}",
                    mend="let them extend another type first",
                )
            )
        cards = [card for card in now.cards.values() if card.type == type_id]
        target = schema.type(move_to) if move_to and schema.has_type(move_to) else None
        if cards and (target is None or target.abstract or target.id == type_id):
            raise Refused(
                Problem(
                    where="type",
                    what=f"{plural(len(cards), 'card')} of this type: {some(now, cards)}",
                    mend="say which type they become",
                )
            )
        if sum(not each.abstract for each in schema.types) == 1 and not found.abstract:
            raise Refused(
                Problem(where="type", what="it is the game's only card type", mend="add another one first")
            )
        subject = Subject("type", type_id)
        changes = [
            Change("card", card.id, "type", json.dumps(type_id), json.dumps(move_to)) for card in cards
        ]
        instead = replaced(now, {subject: move_to})
        changes += instead
        part = f"types/{type_id}"
        after = now.rulebook.model_dump(mode="json")
        for change in instead:
            if change.field == "play":
                after = amended(after, "play", json.loads(change.after or "null"))
        after = amended(after, part, None)
        names = replace(names_of(now), schema=checked_rulebook(after).cards)
        changes += renamed_in_queries(now, names, {Meant("type", type_id): Meant("type", move_to)} if move_to else {})
        changes += [
            Change("plan", each.id, "exists", json.dumps(each.doc), None)
            for each in now.of_kind("plan")
            if each.doc.get("type") == type_id
        ]
        return [*changes, Change("game", now.id, part, _text(now.rulebook, part), None)]

    return workspace.commit(game_id, f"card type {found.name} removed", page, plan, key=key)


def not_changed_since(workspace: Workspace, game: GameSnapshot, part: str, base: int, name: str, page: str) -> None:
    """Raises Conflict if another page changed a part of the rules after an op."""
    latest = workspace.store.latest_change(game.id, part, page)
    if latest > base:
        raise Conflict(
            f"{name} was changed meanwhile", f"{name} as it is now", f"{name} as you have it", latest
        )


def replaced(game: GameSnapshot, instead: Mapping[Subject, str | None]) -> list[Change]:
    """Every effect of cards and keywords, and the rules of play, that refer to an entity, with `instead` in its place.

    Raises Refused if `instead` is empty.
    """
    changes, speakers, unplaced = [], [], 0

    def said(script: Script, speaker: str) -> Script:
        nonlocal unplaced
        after = script
        for subject, other in instead.items():
            if refers_to(script, subject):
                speakers.append(speaker)
                unplaced += other is None
                after = after if other is None else replace_reference(after, subject, other)
        return after

    for card in game.cards.values():
        for ident, value in card.values.items():
            after = said(value, game.title(card)) if isinstance(value, Script) else value
            if after is not value:
                changes.append(Change("card", card.id, ident, _json(value), _json(after)))
    keywords = tuple(
        each.model_copy(update={"effect": said(each.effect, each.name)}) for each in game.rulebook.keywords
    )
    play = played = part_of(game.rulebook, "play")
    for subject, other in instead.items():
        document, named = replace_in_document(played, subject, other)
        if named:
            speakers.append("the rules of play")
            unplaced += other is None
            played = document
    if unplaced:
        raise Refused(
            Problem(
                where="effect",
                what=f"{plural(len(speakers), 'effect')} speak{'s' if len(speakers) == 1 else ''} of it: {_few(speakers)}",
                mend="change them first, or say what takes its place",
            )
        )
    before, now = (_text(each, "keywords") for each in (game.rulebook, game.rulebook.model_copy(update={"keywords": keywords})))
    if before != now:
        changes.append(Change("game", game.id, "keywords", before, now))
    return [*changes, Change("game", game.id, "play", _json(play), _json(played))] if play != played else changes


def _few(names: Sequence[str]) -> str:
    """A few names and the number of further ones."""
    return ", ".join(each[:40] for each in names[:4]) + (f" and {len(names) - 4} more" if len(names) > 4 else "")


def some(game: GameSnapshot, cards: Sequence[Card]) -> str:
    """The names of a few cards and the number of further ones."""
    return _few([game.title(card) for card in cards])


def _type(game: GameSnapshot, ident: str) -> CardType:
    if not game.rulebook.cards.has_type(ident):
        raise Missing(f"{game.name} has no card type {ident[:60]}")
    return game.rulebook.cards.type(ident)


def _with_ids(game: GameSnapshot, document: dict[str, Any]) -> dict[str, Any]:
    """The document with ids for new items: a field with the name and kind of another type's field is that field."""
    schema = game.rulebook.cards
    document = {**document, "fields": [dict(field) for field in document.get("fields") or ()]}
    if not document.get("id"):
        if len(schema.types) >= MOST_TYPES:
            raise Refused(
                Problem(
                    where="type", what=f"there are {MOST_TYPES} card types already", mend="remove one first"
                )
            )
        document["id"] = id_from(str(document.get("name", "")), [each.id for each in schema.types], "type")
    elif not schema.has_type(document["id"]):
        raise Missing("there is no such card type")
    used = {field.id for each in schema.types for field in each.fields} | RESERVED
    mine = {field["id"] for field in document["fields"] if field.get("id")}
    for field in document["fields"]:
        if field.get("id"):
            continue
        name = str(field.get("name", ""))
        shared = next(
            (
                each
                for each in schema.fields
                if fold(each.name) == fold(name) and each.kind == field.get("kind") and each.id not in mine
            ),
            None,
        )
        field["id"] = shared.id if shared else id_from(name, used | mine, "field")
        mine.add(field["id"])
    return document


def _holders(game: GameSnapshot, type_id: str) -> tuple[Card, ...]:
    """The cards of a type and of those that extend it."""
    kinds = {type_id, *(each.id for each in game.rulebook.cards.heirs(type_id))}
    return tuple(card for card in game.cards.values() if card.type in kinds)


def _unneeded(game: GameSnapshot, field: FieldKind) -> None:
    """Raises Refused for a field that has a role, or that effects or formulas refer to."""
    roles = [role for role, ident, _ in game.rulebook.roles.parts() if ident == field.id]
    if roles:
        raise Refused(
            Problem(
                where=field.name, what=f"it plays the part of {roles[0]}", mend="keep it; it can be renamed"
            )
        )
    if field.kind == "number":
        replaced(game, {Subject("stat", field.id): None})


def _other_kind(old: CardType | None, document: dict[str, Any]) -> Iterable[tuple[FieldKind, dict[str, Any]]]:
    """Fields that change their kind, or use another list."""
    for field in old.fields if old else ():
        wanted = next((each for each in document["fields"] if each["id"] == field.id), None)
        if wanted is None:
            continue
        if wanted.get("kind") != field.kind or getattr(field, "list", None) != wanted.get("list"):
            yield field, wanted


def _move(
    game: GameSnapshot,
    document: dict[str, Any],
    before: FieldKind,
    wanted: dict[str, Any],
    holders: Sequence[Card],
) -> tuple[dict[str, Any], Moved, list[Change]]:
    """Convert the values of a field to another kind. What does not convert is kept as text in a hidden field."""
    after = _rulebook(game, document)
    new = after.cards.field_of(document["id"], before.id)
    assert new is not None
    if new.kind == "derived":
        texts = convert(
            holders,
            before,
            game.rulebook.cards,
            TextField(id="x", name=before.name, most=20_000),
            game.rulebook.cards,
            game.vocabulary,
        )
        done = Conversion(
            {}, tuple(Lost(card, str(text), "it will be computed", "") for card, text in texts.values.items())
        )
    else:
        done = convert(holders, before, game.rulebook.cards, new, after.cards, GameVocabulary(after))
    changes = []
    for card in holders:
        value = card.values.get(before.id)
        if value is not None:
            converted = done.values.get(card.id)
            changes.append(
                Change(
                    "card", card.id, before.id, _json(value), None if converted is None else _json(converted)
                )
            )
    kept_as = ""
    if done.lost:
        document, kept = _with_kept_field(game, document, before)
        kept_as = kept.name
        changes += [
            Change("card", lost.card, kept.id, None, json.dumps(lost.text, ensure_ascii=False))
            for lost in done.lost
        ]
    return (
        document,
        Moved(before.id, before.name, len(done.values), done.lost, kept_as),
        [change for change in changes if change.before != change.after],
    )


def _with_kept_field(
    game: GameSnapshot, document: dict[str, Any], before: FieldKind
) -> tuple[dict[str, Any], TextField]:
    """The card type with a hidden text field after the converted one, for the values that do not convert; and that field."""
    used = {field["id"] for field in document["fields"]} | {
        field.id for each in game.rulebook.cards.types for field in each.fields
    }
    kept = TextField(
        id=id_from(f"{before.id} was", used, "was"),
        name=f"{before.name}, as it was"[:60],
        long=True,
        most=20_000,
        retired=True,
        help=f"What {before.name} held before it became another kind of field",
    )
    place = 1 + next(index for index, each in enumerate(document["fields"]) if each["id"] == before.id)
    fields = [*document["fields"][:place], kept.model_dump(mode="json"), *document["fields"][place:]]
    return {**document, "fields": fields}, kept


def _rulebook(game: GameSnapshot, document: dict[str, Any]) -> Rulebook:
    """The rulebook with the edited card type, its formulas parsed. Raises Refused."""
    part = f"types/{document['id']}"
    whole = game.rulebook.model_dump(mode="json")
    derived = [field for field in document["fields"] if field.get("kind") == "derived"]
    if derived:
        plain = [{**field, "formula": "0"} if field in derived else field for field in document["fields"]]
        draft = checked_rulebook(amended(whole, part, {**document, "fields": plain})).cards
        document["fields"] = [
            _with_formula(field, draft, document["id"]) if field in derived else field
            for field in document["fields"]
        ]
    return checked_rulebook(amended(whole, part, document))


def _with_formula(field: dict[str, Any], draft: Schema, type_id: str) -> dict[str, Any]:
    typed = str(field.get("formula", ""))
    try:
        if not typed.strip():
            raise Unreadable("formula", "the formula is empty", "write one such as Height + Root", 0, 1)
        return {**field, "formula": stored_formula(typed, draft, type_id)}
    except Unreadable as error:
        raise Refused(
            error.problem.model_copy(update={"where": str(field.get("name") or "formula")[:60]})
        ) from error


def checked_rulebook(document: dict[str, Any]) -> Rulebook:
    """Validate a rulebook document. Raises Refused with the first problem."""
    try:
        return Rulebook.model_validate(document)
    except ValidationError as error:
        first = error.errors()[0]
        place = [str(each) for each in first["loc"] if not isinstance(each, int)]
        what = str(first["msg"]).removeprefix("Value error, ")
        raise Refused(
            Problem(
                where=place[-1] if place else "rules",
                what=what[:300],
                mend="change it, or leave it as it was",
            )
        ) from error


def _roles_kept(game: GameSnapshot, after: Rulebook, changed: CardType) -> None:
    """A new base type must not remove a field that has a role in the rules."""
    for role, ident, _ in game.rulebook.roles.parts():
        if game.rulebook.cards.field(ident) is not None and after.cards.field(ident) is None:
            raise Refused(
                Problem(
                    where=changed.name,
                    what=f"no card would have {role} any more",
                    mend="keep the field, or extend the type that has it",
                )
            )


def _told_apart(game: GameSnapshot, after: Rulebook, changed: CardType) -> None:
    """Raises Refused if a type, or one that extends it, would have two fields with one name: references would
    be ambiguous.
    """
    for each in (changed, *after.cards.heirs(changed.id)):
        twice, before = _twice(after.cards, each.id), game.rulebook.cards
        if twice and not (before.has_type(each.id) and _twice(before, each.id)):
            raise Refused(
                Problem(
                    where=twice,
                    what=f"{each.name} would have two fields called {twice}",
                    mend="give one of them another name",
                )
            )


def _twice(schema: Schema, type_id: str) -> str:
    """A name that two fields of a type share; "" if there is none."""
    seen: set[str] = set()
    for field in schema.fields_of(type_id):
        if fold(field.name) in seen:
            return field.name
        seen.add(fold(field.name))
    return ""


def _text(rulebook: Rulebook, part: str) -> str | None:
    document = part_of(rulebook, part)
    return None if document is None else json.dumps(document, ensure_ascii=False)


def _json(value: Any) -> str:
    return json.dumps(write_value(value), ensure_ascii=False)
