"""Choice lists and sets: rename, order, merge and remove values, and update the affected cards."""

from __future__ import annotations

import json
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any

from pydantic import ValidationError

from dramok.core.cards import Back, Card, ChoiceList
from dramok.core.cards.query.query_names import Meant
from dramok.core.cards.schema.ids import id_from
from dramok.core.cards.values.codes import pattern_problem
from dramok.core.effects.references import Subject
from dramok.core.problem import Problem, fold, plural
from dramok.core.rulebook.part_edit import amended, part_of
from dramok.services.rules.card_types import (
    checked_rulebook,
    named_edit,
    not_changed_since,
    renamed,
    replaced,
    some,
)
from dramok.services.workspace.ids import new_id
from dramok.services.workspace.rename_references import names_of, renamed_in_formulas, renamed_in_queries
from dramok.services.workspace.snapshot import GameSnapshot
from dramok.services.workspace.workspace import Commit, Missing, Refused, Workspace
from dramok.store import Change, Key, SetRecord
from dramok.store.json_documents import write_value

MOST_LISTS = 100
MOST_SETS = 200


@dataclass(frozen=True)
class Unplaced:
    """A removed value that cards still use, without a replacement."""

    value: str
    name: str
    cards: int
    some: str


@dataclass(frozen=True)
class ListPlan:
    """The preview of writing a choice list.

    It can be written if `unplaced` is empty; `moved` is the number of cards that change.
    """

    choices: ChoiceList
    unplaced: tuple[Unplaced, ...]
    moved: int
    changes: tuple[Change, ...]


def plan_list(game: GameSnapshot, document: dict[str, Any], moves: Mapping[str, str | None]) -> ListPlan:
    """Preview an edited choice list; writes nothing. Raises Refused if it is invalid.

    New values have no id yet. `moves` maps each removed value to its replacement on cards (None: no value). A
    removed value stays in the list, hidden, so that old effects can still name it.
    """
    schema = game.rulebook.cards
    old = schema.list(document["id"]) if document.get("id") and schema.has_list(document["id"]) else None
    if document.get("id") and old is None:
        raise Missing("there is no such choice list")
    if old is None and len(schema.lists) >= MOST_LISTS:
        raise Refused(
            Problem(
                where="list", what=f"there are {MOST_LISTS} choice lists already", mend="remove one first"
            )
        )
    ident = (
        old.id if old else id_from(str(document.get("name", "")), [each.id for each in schema.lists], "list")
    )
    wanted = _choices(document, ident, old)
    there = {value.id for value in wanted.offered}
    gone = [value for value in (old.offered if old else ()) if value.id not in there]
    changes: list[Change] = []
    unplaced, moved = [], set()
    for value in gone:
        held = _held(game, ident, value.id)
        if held and value.id not in moves:
            cards = [card for card, _ in held]
            unplaced.append(Unplaced(value.id, value.name, len(cards), some(game, cards)))
            continue
        target = moves.get(value.id)
        if target is not None and target not in there:
            raise Refused(
                Problem(
                    where=value.name,
                    what="its cards can't go to a value that is not there",
                    mend="choose another value",
                )
            )
        changes += _moved(wanted, held, value.id, target)
        moved |= {card.id for card, _ in held}
    placed = {value.id: target for value in gone if (target := moves.get(value.id)) is not None}
    choosing = [field.id for field in schema.fields if field.kind == "choice" and field.list == ident]
    changes += replaced(game, {Subject("choice", value, field): target for value, target in placed.items() for field in choosing})
    part = f"lists/{ident}"
    before = part_of(game.rulebook, part)
    after = wanted.model_dump(mode="json", exclude_defaults=True)
    if before != after:
        changes.insert(0, Change("game", game.id, part, _json(before), _json(after)))
        schema = checked_rulebook(amended(game.rulebook.model_dump(mode="json"), part, after)).cards
        instead = {Meant("choice", value, ident): Meant("choice", target, ident) for value, target in placed.items()}
        changes += renamed_in_queries(game, replace(names_of(game), schema=schema), instead)
        changes += renamed_in_formulas(game, schema, instead)
    return ListPlan(wanted, tuple(unplaced), len(moved), tuple(_merged(changes)))


def write_list(
    workspace: Workspace,
    game_id: str,
    document: dict[str, Any],
    moves: Mapping[str, str | None],
    base: int,
    page: str,
    key: Key | None = None,
) -> Commit:
    """Write a choice list and the affected cards as one op. Raises Refused while a used value has no replacement."""

    def plan(now: GameSnapshot) -> Sequence[Change]:
        planned = plan_list(now, document, moves)
        not_changed_since(workspace, now, f"lists/{planned.choices.id}", base, planned.choices.name, page)
        if planned.unplaced:
            first = planned.unplaced[0]
            raise Refused(
                Problem(
                    where=first.name,
                    what=f"{plural(first.cards, 'card has', 'cards have')} it: {first.some}",
                    mend="say which value they get",
                )
            )
        return planned.changes

    return workspace.commit(game_id, _label(workspace.game(game_id), document), page, plan, key=key)


def _label(game: GameSnapshot, document: Mapping[str, Any]) -> str:
    """The label of an edit of a choice list; a renamed value is shown with both names."""
    schema = game.rulebook.cards
    old = schema.list(document["id"]) if document.get("id") and schema.has_list(document["id"]) else None
    name, said = named_edit("choice list", document, old.name if old else None)
    if said or old is None:
        return said
    values = [(each.get("id"), str(each.get("name", ""))) for each in document.get("values") or ()]
    told = renamed({each.id: each.name for each in old.offered}, values)
    return told if " renamed to " in told else f"{name}: {told}" if told else f"choices of {name}"


def remove_list(workspace: Workspace, game_id: str, ident: str, page: str, key: Key | None = None) -> Commit:
    """Remove a choice list. Raises Refused while a field uses it."""
    schema = workspace.game(game_id).rulebook.cards
    if not schema.has_list(ident):
        raise Missing("there is no such choice list")
    name = schema.list(ident).name

    def plan(now: GameSnapshot) -> Sequence[Change]:
        users = [
            field.name
            for each in now.rulebook.cards.types
            for field in each.fields
            if getattr(field, "list", None) == ident
        ]
        if users:
            raise Refused(
                Problem(
                    where=name,
                    what=f"{' and '.join(dict.fromkeys(users))} choose{'s' if len(set(users)) == 1 else ''} from it",
                    mend="let the field choose from another list first",
                )
            )
        return (
            Change("game", now.id, f"lists/{ident}", _json(part_of(now.rulebook, f"lists/{ident}")), None),
        )

    return workspace.commit(game_id, f"choices of {name} removed", page, plan, key=key)


def write_set(
    workspace: Workspace, game_id: str, document: dict[str, Any], page: str, key: Key | None = None
) -> tuple[Commit, str]:
    """Write a set: name, code, the pattern of its cards' codes, its back.

    Without an id it is a new set. Returns its id.
    """
    wanted = _set(document)
    ident = str(document.get("id") or new_id("s"))

    def plan(now: GameSnapshot) -> Sequence[Change]:
        old = now.set_of(ident)
        if document.get("id") and old is None:
            raise Missing("there is no such set")
        if any(fold(each.name) == fold(wanted.name) and each.id != ident for each in now.sets):
            raise Refused(
                Problem(
                    where="name", what=f"there is a set {wanted.name} already", mend="choose another name"
                )
            )
        if old is None:
            if len(now.sets) >= MOST_SETS:
                raise Refused(
                    Problem(where="set", what=f"there are {MOST_SETS} sets already", mend="remove one first")
                )
            return (Change("set", ident, "exists", None, json.dumps(wanted.document)),)
        changes = [
            Change("set", ident, part, _json(before), _json(after))
            for part, after in wanted.document.items()
            if (before := old.document[part]) != after
        ]
        if old.name != wanted.name:
            names = names_of(now)
            changes += renamed_in_queries(now, replace(names, sets={**names.sets, ident: wanted.name}))
        return changes

    return workspace.commit(game_id, f"set {wanted.name}", page, plan, key=key), ident


def remove_set(
    workspace: Workspace, game_id: str, ident: str, move_to: str | None, page: str, key: Key | None = None
) -> Commit:
    """Remove a set; its cards move to another. Raises Refused if it has cards and no target is given."""

    def plan(now: GameSnapshot) -> Sequence[Change]:
        found = now.set_of(ident)
        if found is None:
            raise Missing("there is no such set")
        cards = [card for card in now.cards.values() if card.set == ident]
        if cards and (move_to is None or move_to == ident or now.set_of(move_to) is None):
            raise Refused(
                Problem(
                    where=found.name,
                    what=f"{plural(len(cards), 'card')} in it: {some(now, cards)}",
                    mend="say which set they go to",
                )
            )
        if len(now.sets) == 1:
            raise Refused(
                Problem(where=found.name, what="it is the game's only set", mend="add another one first")
            )
        moved = [Change("card", card.id, "set", json.dumps(ident), json.dumps(move_to)) for card in cards]
        names = names_of(now)
        left = replace(names, sets={each: name for each, name in names.sets.items() if each != ident})
        moved += renamed_in_queries(now, left, {Meant("set", ident): Meant("set", move_to)} if move_to else {})
        return [*moved, Change("set", ident, "exists", json.dumps(found.document), None)]

    name = next((each.name for each in workspace.game(game_id).sets if each.id == ident), "set")
    return workspace.commit(game_id, f"set {name} removed", page, plan, key=key)


def _set(document: dict[str, Any]) -> SetRecord:
    name = " ".join(str(document.get("name", "")).split())
    if not 1 <= len(name) <= 60:
        raise Refused(Problem(where="name", what="a set needs a name", mend="write 1 to 60 characters"))
    code = (
        "".join(str(document.get("code", "")).split())[:12]
        or "".join(word[0] for word in name.split())[:3].upper()
    )
    pattern = " ".join(str(document.get("pattern") or f"{code}-{{n:03}}").split())
    problem = pattern_problem(pattern)
    if problem:
        raise Refused(problem)
    try:
        back = Back.model_validate(document["back"]).model_dump(mode="json") if document.get("back") else None
    except ValidationError as error:
        raise Refused(
            Problem(
                where="back", what=str(error.errors()[0]["msg"])[:200], mend="choose another colour or title"
            )
        ) from error
    return SetRecord("", name, code, pattern, json.dumps(back) if back else None)


def _choices(document: dict[str, Any], ident: str, old: ChoiceList | None) -> ChoiceList:
    """The list with ids for new values; removed values come last, hidden. A name that returns reuses its old value."""
    values = [dict(value) for value in document.get("values") or ()]
    known = {value.id: value for value in old.values} if old else {}
    by_name = {fold(value.name): value.id for value in known.values() if value.retired}
    taken = {str(value["id"]) for value in values if value.get("id")}
    used = {*known, *taken}
    for value in values:
        name = " ".join(str(value.get("name", "")).split())
        value["name"] = name
        value["retired"] = False
        if not value.get("id"):
            back = by_name.get(fold(name))
            value["id"] = back if back and back not in taken else id_from(name, used, "value")
            used.add(value["id"])
            taken.add(value["id"])
    there = {value["id"] for value in values}
    away = [
        {**value.model_dump(mode="json"), "retired": True}
        for value in known.values()
        if value.id not in there
    ]
    try:
        return ChoiceList.model_validate(
            {"id": ident, "name": " ".join(str(document.get("name", "")).split()), "values": [*values, *away]}
        )
    except ValidationError as error:
        first = error.errors()[0]
        place = next(
            (
                str(values[each].get("name"))
                for each in first["loc"]
                if isinstance(each, int) and each < len(values)
            ),
            "choice list",
        )
        raise Refused(
            Problem(
                where=place[:60] or "value",
                what=str(first["msg"]).removeprefix("Value error, ")[:300],
                mend="change it, or leave it out",
            )
        ) from error


def _held(game: GameSnapshot, list_id: str, value: str) -> list[tuple[Card, str]]:
    """(card, field) of every card that has a value of a list, in a choice field or among several choices."""
    found = []
    for field in game.rulebook.cards.fields:
        if getattr(field, "list", None) == list_id:
            found += [
                (card, field.id)
                for card in game.cards.values()
                if value == card.values.get(field.id) or value in card.tags(field.id)
            ]
    return found


def _moved(
    choices: ChoiceList, held: Sequence[tuple[Card, str]], value: str, target: str | None
) -> list[Change]:
    changes = []
    for card, field in held:
        before = card.values[field]
        after: object = target
        if isinstance(before, tuple):
            kept = {target if each == value else each for each in before} - {None}
            after = sorted((str(each) for each in kept), key=choices.position) or None
        changes.append(Change("card", card.id, field, _json(write_value(before)), _json(after)))
    return changes


def _merged(changes: Sequence[Change]) -> list[Change]:
    """One change for each cell: if two values of the same cell move, the later change continues from the
    earlier one.
    """
    found: dict[tuple[str, str, str], Change] = {}
    for change in changes:
        place = change[:3]
        earlier = found.get(place)
        if earlier is not None and earlier.after is not None and change.after is not None:
            whole = set(json.loads(change.before or "[]"))
            gone = whole - set(json.loads(earlier.after)) | whole - set(json.loads(change.after))
            both = [*json.loads(earlier.after), *json.loads(change.after)]
            change = earlier._replace(
                after=json.dumps(list(dict.fromkeys(each for each in both if each not in gone)))
            )
        found[place] = change
    return list(found.values())


def _json(value: object) -> str | None:
    return None if value is None else json.dumps(value, ensure_ascii=False)
