"""History: the revisions of a card, differences between two moments, and restoring an earlier state."""

from __future__ import annotations

import json
from collections.abc import Sequence
from dataclasses import dataclass, replace

from dramok.core.cards import Card, FieldKind, shown_value
from dramok.core.faces.plan.adjustments import PREFIX
from dramok.core.journal import ENTITIES
from dramok.core.problem import Problem, fold, plural
from dramok.services.cards.card_detail import CardDetail, make_detail
from dramok.services.workspace.entity_registry import COLUMNS, differences
from dramok.services.workspace.gc_tuning import gc_paused
from dramok.services.workspace.past import folded, game_at
from dramok.services.workspace.snapshot import GameSnapshot
from dramok.services.workspace.workspace import Commit, Conflict, Missing, Refused, Workspace
from dramok.store import Change, Key, Op
from dramok.store.json_documents import card_of_text, card_text, read_value

MOST_SHOWN = 300
MOST_TOLD = 3
"""Journal entries list their changes only if they touch at most this number of entities."""


@dataclass(frozen=True)
class FieldChange:
    """One field as text, before and after; empty if there was no value."""

    field: str
    name: str
    before: str
    after: str


@dataclass(frozen=True)
class Revision:
    """The changes of one op to a card: `kind` is made, changed, removed or restored. `seq` is the moment after it."""

    seq: int
    revision: int
    at: str
    label: str
    page: str
    kind: str
    changes: tuple[FieldChange, ...]


@dataclass(frozen=True)
class EditEntry:
    """One journal entry; `counts` has the number of changed entities by their noun.

    `said`: for a small edit, the values before and after, such as `height 3 → 5`.
    """

    op: Op
    counts: tuple[tuple[str, int], ...]
    said: str = ""


@dataclass(frozen=True)
class CardDifference:
    """The difference of one card between two moments: `kind` is added, changed or gone."""

    card: str
    code: str
    title: str
    kind: str
    changes: tuple[FieldChange, ...]


@dataclass(frozen=True)
class Difference:
    """The difference of a game between two moments. `others` lists other changes: decks, rules, sets."""

    after: int
    until: int
    cards: tuple[CardDifference, ...]
    others: tuple[str, ...]

    def count(self, kind: str) -> int:
        return sum(each.kind == kind for each in self.cards)


def card_at(workspace: Workspace, game: GameSnapshot, card_id: str, seq: int) -> tuple[GameSnapshot, Card | None]:
    """A card as it was after op `seq`, with the game whose rules held then; None if it did not exist."""
    then = game_at(workspace, game, seq, card_id)
    return then, then.cards.get(card_id)


def detail_at(workspace: Workspace, game: GameSnapshot, card_id: str, seq: int) -> CardDetail:
    """The derived data of a card after op `seq`. Raises Missing."""
    then, card = card_at(workspace, game, card_id, seq)
    if card is None:
        raise Missing("the card was not there at that moment")
    return make_detail(then, card)


def revisions(workspace: Workspace, game: GameSnapshot, card_id: str) -> list[Revision]:
    """The revisions of a card, newest first, even of a removed card. Raises Missing for one that never existed."""
    found = workspace.store.changes_of(card_id)
    if not found or found[0][1].entity != "card":
        raise Missing("there is no such card")
    by_op: dict[int, tuple[Op, list[Change]]] = {}
    for op, change in found:
        by_op.setdefault(op.seq, (op, []))[1].append(change)
    past: list[Revision] = []
    known: Known = {}
    for number, (op, changes) in enumerate(by_op.values(), 1):
        made = next((change for change in changes if change.field == "exists"), None)
        kind = (
            "changed" if made is None else "removed" if made.after is None
            else "made" if number == 1 else "restored"
        )  # fmt: skip
        shown = tuple(_shown(game, change, known) for change in changes if change.field != "exists")
        past.append(Revision(op.seq, number, op.at, op.label, op.page, kind, shown))
    return past[::-1]


def journal(
    workspace: Workspace,
    game: GameSnapshot,
    before: int | None = None,
    most: int = 100,
    text: str = "",
    thing: str = "",
    kind: str = "",
) -> list[EditEntry]:
    """The ops of the game, newest first."""
    found = workspace.store.journal(game.id, before, most, text, thing, kind)
    return [
        EditEntry(
            op,
            tuple((ENTITIES[entity].noun, count) for entity, count in counts.items()),
            _told(workspace, game, op) if sum(counts.values()) <= MOST_TOLD else "",
        )
        for op, counts in found
    ]


def _told(workspace: Workspace, game: GameSnapshot, op: Op) -> str:
    """The values of a small edit before and after, field by field; empty for created or removed entities."""
    said = []
    for change in workspace.store.changes(op.seq)[: MOST_TOLD + 1]:
        if change.field == "exists":
            return ""
        if change.entity == "card":
            shown = _shown(game, change, {})
            name, before, after = shown.name, shown.before, shown.after
        elif change.entity == "deck":
            name, before, after = _deck_change(game, change)
        else:
            continue
        said.append(f"{name}: {_short(before)} → {_short(after)}")
    return "; ".join(said[:MOST_TOLD])


def _deck_change(game: GameSnapshot, change: Change) -> tuple[str, str, str]:
    """What changed in a deck, before and after."""
    room, *within = ENTITIES["deck"].path(change.field)
    was, now = (json.loads(each) if each else None for each in (change.before, change.after))
    if room in ("cards", "sections"):
        card = game.cards.get(within[-1])
        deck = game.decks.get(change.id)
        section = game.format_of(deck).section(within[0]) if deck and room == "sections" else None
        title = game.title(card) if card else "a card"
        return f"{title}, {section.name}" if section else title, str(was or 0), str(now or 0)
    if room == "format":
        rules = {"": game.formats[0].name, **{each.id: each.name for each in game.formats}}
        return "deck rules", rules.get(was or "", str(was)), rules.get(now or "", str(now))
    return room, was or "", now or ""


def _short(text: str) -> str:
    line = " ⏎ ".join(text.split("\n"))
    return "empty" if not line else line if len(line) <= 60 else f"{line[:59]}…"


def changes_in(workspace: Workspace, game: GameSnapshot, seq: int) -> Difference:
    """The changes of one op. Raises Missing."""
    op = workspace.store.op(seq)
    if op is None or op.game != game.id:
        raise Missing("there is no such edit")
    return difference(workspace, game, seq - 1, seq)


def difference(workspace: Workspace, game: GameSnapshot, after: int, until: int | None = None) -> Difference:
    """The difference between the moment after op `after` and that after op `until` (now, if left out).

    Changes that cancel each other out are left out.
    """
    until = game.seq if until is None else until
    with gc_paused():
        return _difference(workspace, game, after, until)


def _difference(workspace: Workspace, game: GameSnapshot, after: int, until: int) -> Difference:
    changed = folded(workspace.store.changes_between(game.id, after, until))
    cards: list[CardDifference] = []
    others: dict[str, list[str]] = {}
    known: Known = {}
    for (entity, ident), changes in changed.items():
        if entity == "card":
            cards.append(_card_difference(game, ident, changes, known))
        elif entity not in ("mark", "measurement"):
            others.setdefault(entity, []).append(_other(game, entity, ident, changes))
    order = {"added": 0, "changed": 1, "gone": 2}
    cards.sort(key=lambda each: (order[each.kind], each.code))
    said = tuple(
        f"{plural(len(dict.fromkeys(names)), ENTITIES[entity].noun)}: {', '.join(list(dict.fromkeys(names))[:12])}"
        for entity, names in others.items()
    )
    return Difference(after, until, tuple(cards), said)


def _card_difference(
    game: GameSnapshot, ident: str, changes: dict[str, Change], known: Known
) -> CardDifference:
    made = changes.get("exists")
    now = game.cards.get(ident)
    if made is not None:
        text = made.after or made.before
        card = now or card_of_text(ident, text or "{}", 0)
        return CardDifference(
            ident, card.code, game.title(card), "added" if made.after is not None else "gone", ()
        )
    shown = tuple([_shown(game, change, known) for change in changes.values()])
    return CardDifference(ident, now.code if now else "", game.title(now) if now else "", "changed", shown)


def _other(game: GameSnapshot, entity: str, ident: str, changes: dict[str, Change]) -> str:
    found = game.decks.get(ident) or game.things.get(ident) or game.set_of(ident)
    if entity == "game":
        return ", ".join(_rule(game, change) for change in changes.values())
    made = changes.get("exists")
    name = found.name if found else ""
    if not name and made is not None:
        name = json.loads(made.after or made.before or "{}").get("name", "")
    if entity == "note":
        name = _noted(game, ident, made)
    told = "" if made is None else " added" if made.after is not None else " removed"
    return f"{name or 'one'}{told}"


def _rule(game: GameSnapshot, change: Change) -> str:
    said = json.loads(change.after or change.before or "null")
    name = said.get("name", change.field) if isinstance(said, dict) else change.field
    return f"{name} removed" if change.after is None else f"{name} added" if change.before is None else name


def _noted(game: GameSnapshot, ident: str, made: Change | None) -> str:
    note = game.things.get(ident)
    doc = note.doc if note else json.loads((made and (made.after or made.before)) or "{}")
    card = game.cards.get(doc.get("card", ""))
    return game.title(card) if card else "a card"


Known = dict[tuple[str, str], str]
"""Cache of shown values by field and stored text: a large difference repeats few of them often."""


def _shown(game: GameSnapshot, change: Change, known: Known) -> FieldChange:
    ident = change.field
    field = game.rulebook.cards.field(ident)
    name = field.name if field else ident.capitalize() if ident in COLUMNS else _look_name(ident)
    both = []
    for stored in (change.before, change.after):
        text = "" if stored is None else known.get((ident, stored))
        if text is None:
            text = known[ident, stored or ""] = _text(game, ident, field, stored or "null")
        both.append(text)
    return FieldChange(ident, name, both[0], both[1])


def _look_name(ident: str) -> str:
    """The name of a face adjustment of a card."""
    return f"{ident.removeprefix(PREFIX)} on the face" if ident.startswith(PREFIX) else ident


def _text(game: GameSnapshot, ident: str, field: FieldKind | None, stored: str) -> str:
    if ident in COLUMNS:
        return _column(game, ident, stored)
    if field is None:
        return str(json.loads(stored))[:200]
    return shown_value(field, read_value(json.loads(stored)), game.rulebook.cards, game.vocabulary)


def _column(game: GameSnapshot, column: str, text: str) -> str:
    said = str(json.loads(text))
    if column == "type" and game.rulebook.cards.has_type(said):
        return game.rulebook.cards.type(said).name
    home = game.set_of(said) if column == "set" else None
    return home.name if home else said


def restore(
    workspace: Workspace,
    game_id: str,
    card_id: str,
    seq: int,
    page: str,
    fields: Sequence[str] | None = None,
    key: Key | None = None,
) -> Commit:
    """Restore a card, or some of its fields, to the state after op `seq`; a removed card comes back.

    Raises Missing if it did not exist then, Refused if its type no longer has such a field, Conflict if another
    card now has its code.
    """

    def plan(now: GameSnapshot) -> Sequence[Change]:
        _, then = card_at(workspace, now, card_id, seq)
        if then is None:
            raise Missing("the card was not there at that moment")
        card = now.cards.get(card_id)
        if card is None:
            _code_free(now, then)
            return (Change("card", card_id, "exists", None, card_text(then)),)
        changes = differences(card, replace(then, revision=card.revision))
        if fields is not None:
            changes = [change for change in changes if change.field in fields]
        for change in changes:
            _fits(now, card, change)
        if any(change.field == "code" for change in changes):
            _code_free(now, then)
        return changes

    game = workspace.game(game_id)
    card = game.cards.get(card_id)
    _, then = card_at(workspace, game, card_id, seq)
    known = card or then
    title = game.title(known) if known else card_id
    if card and then and fields is None:
        label = (
            f"{title} as it was at {then.code}" if then.code != card.code else f"{title}: an earlier revision"
        )
    elif card is None:
        label = f"{title} restored"
    else:
        names = [
            found.name.lower() if (found := game.rulebook.cards.field(each)) else each
            for each in fields or ()
        ]
        label = f"{title}: {', '.join(names)} as before"
    return workspace.commit(game_id, label, page, plan, key=key)


def _fits(game: GameSnapshot, card: Card, change: Change) -> None:
    schema = game.rulebook.cards
    if (
        change.after is None
        or change.field in COLUMNS
        or change.field.startswith(PREFIX)
        or schema.has_field(card.type, change.field)
    ):
        return
    if schema.field(change.field) is not None and change.before is not None:
        return
    name = found.name if (found := schema.field(change.field)) else change.field
    raise Refused(
        Problem(
            where=name,
            what=f"{schema.type(card.type).name} has no {name} any more",
            mend="bring the field back in Rules first, or restore the other fields one by one",
        )
    )


def _code_free(game: GameSnapshot, card: Card) -> None:
    holder = game.by_code.get(fold(card.code))
    if holder not in (None, card.id):
        theirs = game.title(game.cards[holder or ""])
        raise Conflict(f"code {card.code} is taken by {theirs} by now", theirs, card.code, game.seq)
