"""Invariants of a game: what must hold so that it can be read, backed up and restored.

Checked before each change is written, and by `dramok check`.
"""

from __future__ import annotations

import json
import re
from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from typing import Any, NamedTuple

from pydantic import TypeAdapter, ValidationError

from dramok.core.cards import Back, Card, Schema, Value
from dramok.core.decks import MOST_COPIES
from dramok.core.effects import Script
from dramok.core.faces import PlanDoc
from dramok.core.faces.plan.plan import check_keys
from dramok.core.journal import THINGS
from dramok.core.problem import Problem, fold, plural
from dramok.core.text_checks import InvalidInput, check_document, check_json_text, check_text
from dramok.formats.game_file import CardPart, DeckPart, SetPart, ThingPart
from dramok.formats.small_entity_docs import DOCS
from dramok.services.workspace.snapshot import GameSnapshot
from dramok.store import Change
from dramok.store.json_documents import deck_document

MOST_LABEL = 2_000
MOST_PAGE = 80
_ID = re.compile(r"[A-Za-z0-9~_.-]{1,80}")
_CARD, _DECK, _SET, _THING = (TypeAdapter(kind) for kind in (CardPart, DeckPart, SetPart, ThingPart))
_DOCS = {kind: TypeAdapter(model) for kind, model in DOCS.items()}


_Known = tuple[str, str, type, Value]
"""A value already checked: card type, field, kind of field, value."""


class Fault(NamedTuple):
    """A violated invariant of one entity: `entity` is card, deck, set, game or the kind of a small entity."""

    entity: str
    id: str
    problem: Problem


def fault_of_op(label: str, page: str, changes: Sequence[Change]) -> Problem | None:
    """The fault of an op that no game may contain, or None. The last check before the store."""
    try:
        check_text(label, "label")
        check_text(page, "page")
        for each in changes:
            check_text(each.field, "field")
            for text in (each.before, each.after):
                if text is not None:
                    check_json_text(text, each.field)
    except InvalidInput as error:
        return Problem(where=error.where[:80] or "text", what=error.what, mend=error.mend)
    if len(label) > MOST_LABEL or len(page) > MOST_PAGE:
        return Problem(where="label", what="the name of this edit is too long", mend="use a shorter name")
    odd = next((each for each in changes if not _ID.fullmatch(each.id) or len(each.field) > 200), None)
    if odd is not None:
        return Problem(where=odd.entity, what="an id is too long or has odd characters", mend="use another")
    return None


def faults_after(before: GameSnapshot, after: GameSnapshot, changes: Sequence[Change]) -> Iterator[Fault]:
    """The faults of a game after changes: checks the changed entities and those that refer to them."""
    touched = {(each.entity, each.id) for each in changes}
    yield from _counts(after, changes)
    cards = [after.cards[ident] for entity, ident in touched if entity == "card" and ident in after.cards]
    if after.rulebook is not before.rulebook or len(after.sets) < len(before.sets):
        cards = list(after.cards.values())
    yield from _cards(after, cards)
    if any(each.entity == "card" and each.field in ("exists", "code") for each in changes):
        yield from _codes(after)
    yield from _decks(after, [ident for entity, ident in touched if entity == "deck"])
    yield from _sets(after, [ident for entity, ident in touched if entity == "set"])
    yield from _things(after, [ident for entity, ident in touched if entity in THINGS])
    if after.rulebook is not before.rulebook or any(entity == "plan" for entity, _ in touched):
        yield from _faces(after)


def faults_of(game: GameSnapshot) -> Iterator[Fault]:
    """Every fault of a game."""
    yield from _cards(game, game.cards.values())
    yield from _codes(game)
    yield from _decks(game, game.decks)
    yield from _sets(game, [each.id for each in game.sets])
    yield from _things(game, game.things)
    yield from _faces(game)


def dangling_faults(game: GameSnapshot) -> Iterator[Fault]:
    """Cards whose type or set is missing: these prevent the game from being read at all. Fast."""
    types = {each.id for each in game.rulebook.cards.types}
    sets = {each.id for each in game.sets}
    for card in game.cards.values():
        if card.type not in types or card.set not in sets:
            yield from _cards(game, [card])


def _cards(game: GameSnapshot, cards: Iterable[Card]) -> Iterator[Fault]:
    look = _Look(game)
    for card in cards:
        problem = look.problem(card)
        if problem is not None:
            yield Fault("card", card.id, problem)


class _Look:
    """Checks the cards of a game one after another.

    A value found valid is not checked again: cards share most of their values.
    """

    def __init__(self, game: GameSnapshot) -> None:
        self.game, self.schema = game, game.rulebook.cards
        self.sets = {each.id for each in game.sets}
        self.sound: set[_Known] = set()

    def problem(self, card: Card) -> Problem | None:
        found = self._found(card)
        return found and found.model_copy(update={"where": _title(self.game, card)})

    def _found(self, card: Card) -> Problem | None:
        if not self.schema.has_type(card.type):
            return Problem(where="", what=f"its card type {card.type} is gone", mend="bring the type back first, or make it a card of another type")  # fmt: skip
        if card.set not in self.sets:
            return Problem(where="", what=f"its set {card.set} is gone", mend="bring the set back first, or move the card to another set")  # fmt: skip
        fresh: dict[str, Value] = {}
        keys: list[_Known] = []
        kind, sound = card.type, self.sound
        for name, value in card.values.items():
            form = value.__class__
            if form is not Script:  # effects are checked every time
                key = (kind, name, form, value)  # 1 and True are equal but are different values
                try:
                    if key in sound:
                        continue
                except TypeError:  # a list with items that are not text, from a damaged file: refused below
                    pass
                keys.append(key)
            fresh[name] = value
        problem = _card_document(card, fresh) or _misfit(self.schema, card, fresh)
        if problem is None:
            sound.update(keys)
        return problem


def _card_document(card: Card, values: Mapping[str, Value]) -> Problem | None:
    """The faults of a card document as a backup holds it; of its values, only those given."""
    document = {
        "id": card.id, "code": card.code, "set": card.set, "type": card.type, "revision": max(1, card.revision), "seq": card.seq,
        "values": values,
    }  # fmt: skip
    problem = _valid(_CARD, document, "")
    if problem is not None:
        return problem
    try:
        for name, value in values.items():
            if isinstance(value, str):
                check_text(value, name)
            elif not isinstance(value, Script):
                check_document(value, name)
            check_text(name, "field")
        check_text(card.code, "code")
    except InvalidInput as error:
        return Problem(where="", what=f"{error.where}: {error.what}", mend=error.mend)
    return None


def _misfit(schema: Schema, card: Card, values: Mapping[str, Value]) -> Problem | None:
    for name, value in values.items():
        field = schema.field_of(card.type, name)
        if field is not None and not field.holds(value):
            return Problem(
                where="",
                what=f"{field.name} is now of kind {field.kind}, and cannot hold what it would get",
                mend="change the field back first, or leave this value",
            )
    return None


def _codes(game: GameSnapshot) -> Iterator[Fault]:
    if len(game.by_code) == len(game.cards):
        return
    seen: dict[str, str] = {}
    for card in game.cards.values():
        other = seen.setdefault(fold(card.code), card.id)
        if other != card.id:
            yield Fault("card", card.id, Problem(where=card.code, what=f"{_title(game, game.cards[other])} has this code too", mend="give one of them another code"))  # fmt: skip


def _counts(game: GameSnapshot, changes: Sequence[Change]) -> Iterator[Fault]:
    """Faults of deck counts in documents. A deck in memory keeps its counts within bounds."""
    for change in changes:
        if change.entity != "deck" or not change.field.startswith(("card/", "in/")) or change.after is None:
            continue
        count = json.loads(change.after)
        if not isinstance(count, int) or isinstance(count, bool) or not 1 <= count <= MOST_COPIES:
            where = deck.name if (deck := game.decks.get(change.id)) else "deck"
            what = f"{str(count)[:40]} is not a count"
            yield Fault("deck", change.id, Problem(where=where, what=what, mend=f"write 1 to {MOST_COPIES}"))


def _decks(game: GameSnapshot, idents: Iterable[str]) -> Iterator[Fault]:
    for deck in (game.decks[ident] for ident in idents if ident in game.decks):
        problem = _valid(_DECK, {"id": deck.id, **deck_document(deck)}, deck.name)
        if problem is not None:
            yield Fault("deck", deck.id, problem)


def _sets(game: GameSnapshot, idents: Iterable[str]) -> Iterator[Fault]:
    for home in (found for ident in idents if (found := game.set_of(ident)) is not None):
        problem = _valid(_SET, {"id": home.id, **home.document}, home.name)
        if problem is None and home.back:
            problem = _tried(lambda back=home.back: Back.model_validate_json(back), home.name)  # type: ignore[misc]
        if problem is not None:
            yield Fault("set", home.id, problem)


def _things(game: GameSnapshot, idents: Iterable[str]) -> Iterator[Fault]:
    for thing in (game.things[ident] for ident in idents if ident in game.things):
        where = (thing.name or thing.kind)[:60]
        problem = _valid(_THING, {"id": thing.id, "doc": dict(thing.doc)}, where)
        problem = problem or _valid(_DOCS[thing.kind], json.loads(json.dumps(thing.doc)), where)
        if problem is None:
            try:
                check_document(dict(thing.doc), where)
            except InvalidInput as error:
                problem = Problem(where=where, what=error.what, mend=error.mend)
        if problem is not None:
            yield Fault(thing.kind, thing.id, problem)


def _faces(game: GameSnapshot) -> Iterator[Fault]:
    """Every plan must be readable, and every card must resolve to a plan."""
    for thing in game.of_kind("plan"):
        where = thing.name or "face plan"
        problem = _tried(lambda thing=thing: PlanDoc.read(thing.id, thing.doc), where)  # type: ignore[misc]
        problem = problem or check_keys(thing.doc)
        if problem is not None:
            yield Fault("plan", thing.id, problem)
            return
    problem = _tried(lambda: [game.faces.plan(ident).digest for ident in game.faces.plans], "face plans")
    if problem is not None:
        yield Fault("plan", next(iter(game.faces.plans)), problem)


def _valid(kind: TypeAdapter[Any], document: Any, where: str) -> Problem | None:
    try:
        kind.validate_python(document)
    except ValidationError as error:
        return _of_error(error, where)
    return None


def _tried(work: Callable[[], object], where: str) -> Problem | None:
    try:
        work()
    except ValidationError as error:
        return _of_error(error, where)
    except (ValueError, LookupError, TypeError, ArithmeticError) as error:
        return Problem(
            where=where[:80], what=str(error)[:300] or "it can't be read", mend="undo the latest change of it"
        )
    return None


def _of_error(error: ValidationError, where: str) -> Problem:
    first = error.errors()[0]
    place = ".".join(str(part)[:60] for part in first["loc"])
    what = str(first["msg"]).removeprefix("Value error, ")
    return Problem(
        where=where[:80], what=f"{place}: {what}"[:300] if place else what[:300], mend="write another value"
    )


def _title(game: GameSnapshot, card: Card) -> str:
    return (card.text(game.rulebook.roles.name) or card.code)[:60]


def first_fault_text(faults: Sequence[Fault]) -> str:
    """The first fault as a sentence, with the number of further ones."""
    first = faults[0].problem
    more = f" (and {plural(len(faults) - 1, 'more problem')})" if len(faults) > 1 else ""
    return f"{first.where}: {first.what}{more}"
