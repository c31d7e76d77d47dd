"""Edits of face plans: move, bind, style and align placements; plans for types and variants; preview of an edit."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any

from pydantic import ValidationError

from dramok.core.cards import Card, ChoiceField
from dramok.core.faces import FacePlan, PlanDoc, PlanHead
from dramok.core.faces.layout.card_context import CardContext
from dramok.core.faces.plan.align import LEAST, How, arranged
from dramok.core.faces.plan.new_placement import new_place
from dramok.core.faces.plan.plan import MOST_PLACES, MOST_PLANS, NoPlace, Side, Style, Variant, read_place
from dramok.core.faces.proof.hardest_cards import Hard, Measured, hardest, measures
from dramok.core.faces.proof.sample_card import make_sample_card
from dramok.core.problem import Problem, plural
from dramok.services.cards.card_detail import DETAILS, CardDetail, CardText, detail_of, detail_with, words_of
from dramok.services.workspace import small_entities
from dramok.services.workspace.ids import new_id
from dramok.services.workspace.snapshot import GameSnapshot
from dramok.services.workspace.workspace import Commit, Conflict, Missing, Refused, Workspace
from dramok.store import Change, Key

Patch = Mapping[str, Any] | None
FAR = 1_000.0
"""The largest distance in mm of a placement from the corner of its card."""


@dataclass(frozen=True)
class PlanEdit:
    """An edit of a plan.

    A patch has the keys that change, with None to inherit the value again; None in place of a whole placement
    or style removes what the plan sets of it.
    """

    places: Mapping[str, Patch] = field(default_factory=dict)
    styles: Mapping[str, Patch] = field(default_factory=dict)
    head: Mapping[str, Any] = field(default_factory=dict)


@dataclass(frozen=True)
class PlanView:
    """A plan with everything it inherits.

    `places` are complete documents, lowest first; `own` has the keys that this plan sets itself.
    """

    doc: PlanDoc
    plan: FacePlan
    places: tuple[Mapping[str, Any], ...]
    own: Mapping[str, tuple[str, ...]]
    beneath: tuple[str, ...]
    cards: int


def plan_views(game: GameSnapshot) -> list[PlanView]:
    """Every plan: base plans first, then those of types, each with its variants; fronts before backs."""
    order = {"": -1} | {each.id: place for place, each in enumerate(game.rulebook.cards.types)}
    plans = sorted(
        game.faces.plans.values(),
        key=lambda each: (
            each.head.side == "back", order.get(each.head.type, 99), each.head.variant is not None, each.id,
        ),
    )  # fmt: skip
    counts = Counter(card.type for card in game.cards.values())
    return [view_of(game, each.id, counts) for each in plans]


def view_of(game: GameSnapshot, plan_id: str, counts: Mapping[str, int] | None = None) -> PlanView:
    """A plan with what it inherits. `counts` are the cards of each type, if known. Raises Missing."""
    book = game.faces
    doc = _plan(game, plan_id)
    laid = _laid((*book.beneath(plan_id), doc))
    own = {ident: tuple(sorted(each)) for ident, each in doc.places.items()}
    plan = book.plan(plan_id)
    places = tuple(
        sorted(
            ({**each, "id": ident} for ident, each in laid.items()),
            key=lambda each: (each.get("z", 0), each["id"]),
        )
    )
    if counts is None or doc.head.variant is not None:
        cards = len(cards_of(game, plan_id))
    else:
        types = _types(game, doc)
        cards = sum(count for ident, count in counts.items() if ident in types)
    return PlanView(doc, plan, places, own, tuple(each.id for each in book.beneath(plan_id)), cards)


def cards_of(game: GameSnapshot, plan_id: str) -> list[Card]:
    """The cards that use a plan, in the game's order. Raises Missing."""
    doc = _plan(game, plan_id)
    types, variant = _types(game, doc), doc.head.variant
    worn = [card for card in game.cards.values() if card.type in types]
    if variant is None:
        return worn
    seen = game.rulebook.cards.seen
    return [card for card in worn if seen(card).text(variant.field) == variant.value]


def _types(game: GameSnapshot, doc: PlanDoc) -> frozenset[str]:
    """The types whose cards use a plan, without variants."""
    schema, own = game.rulebook.cards, doc.head.type
    if not own:
        return frozenset(each.id for each in schema.types)
    return frozenset({own, *(each.id for each in schema.heirs(own))}) if schema.has_type(own) else frozenset()


def _laid(chain: Sequence[PlanDoc]) -> dict[str, dict[str, Any]]:
    laid: dict[str, dict[str, Any]] = {}
    for plan in chain:
        for ident, own in plan.places.items():
            laid[ident] = {**laid.get(ident, {}), **own}
    return laid


def _plan(game: GameSnapshot, plan_id: str) -> PlanDoc:
    found = game.faces.plans.get(plan_id)
    if found is None:
        raise Missing("there is no such face plan")
    return found


def edit_plan(
    workspace: Workspace,
    game_id: str,
    plan_id: str,
    edit: PlanEdit,
    base: int,
    page: str,
    key: Key | None = None,
    label: str | None = None,
) -> Commit:
    """Write an edit of a plan as one op.

    Raises Missing, Refused for invalid values, Conflict if someone else changed the same placement after
    `base`.
    """
    game = workspace.game(game_id)
    said = label or _label(game, plan_id, edit)

    def plan(now: GameSnapshot) -> Sequence[Change]:
        changes = edit_changes(now, plan_id, edit)
        for change in changes:
            if change.field != "exists" and workspace.store.latest_change(change.id, change.field, page) > base:
                raise Conflict(
                    f"{said}: somebody else changed it meanwhile", "as it is now", "as you have it",
                    workspace.store.latest_change(change.id, change.field),
                )  # fmt: skip
        return changes

    return workspace.commit(game_id, said, page, plan, key=key)


def edit_changes(game: GameSnapshot, plan_id: str, edit: PlanEdit) -> list[Change]:
    """The changes of an edit. The first edit of a default plan also stores it."""
    doc = _plan(game, plan_id)
    after = _edited(game, doc, edit)
    if plan_id in game.things:
        return small_entities.edited_changes(game.things[plan_id], after.flat())
    docs = [(each.id, (after if each.id == plan_id else each).flat()) for each in game.faces.plans.values()]
    return small_entities.made_changes(game, "plan", docs)


def _edited(game: GameSnapshot, doc: PlanDoc, edit: PlanEdit) -> PlanDoc:
    """A plan after an edit, validated. Raises Refused."""
    try:
        head = PlanHead.model_validate({**doc.head.model_dump(mode="json"), **edit.head})
        styles = _patched(doc.styles, edit.styles, {})
        for ident, style in styles.items():
            if ident in edit.styles:
                Style.model_validate(style)
    except ValidationError as error:
        first = error.errors()[0]
        where = ".".join(str(each) for each in first["loc"]) or "plan"
        what = str(first["msg"]).removeprefix("Value error, ")
        raise Refused(
            Problem(where=where[:60], what=what[:300], mend="give another value, or leave it as it was")
        ) from error
    beneath = _laid(game.faces.beneath(doc.id))
    places = _patched(doc.places, edit.places, beneath)
    if len(places) > MOST_PLACES:
        raise Refused(
            Problem(
                where="face plan",
                what=f"{plural(len(places), 'placement')} are too many",
                mend=f"keep to {MOST_PLACES} in one plan",
            )
        )
    after = PlanDoc(id=doc.id, head=head, places=places, styles=styles)
    every = {**game.faces.styles, **styles}
    for ident in edit.places:
        whole = {**beneath.get(ident, {}), **places.get(ident, {})}
        if not whole:
            continue
        try:
            read_place(ident, whole, every)
        except NoPlace as error:
            raise Refused(error.problem) from error
    return after


def _patched(
    held: Mapping[str, Mapping[str, Any]],
    patches: Mapping[str, Patch],
    beneath: Mapping[str, Mapping[str, Any]],
) -> dict[str, dict[str, Any]]:
    """Documents after patches; values equal to the inherited ones are dropped."""
    after = {ident: dict(each) for ident, each in held.items()}
    for ident, patch in patches.items():
        if patch is None:
            after.pop(ident, None)
            continue
        own = after.get(ident, {})
        for key, value in patch.items():
            value = round(value, 3) if isinstance(value, float) else value
            under = beneath.get(ident, {})
            if value is None or (key in under and under[key] == value):
                own.pop(key, None)
            else:
                own[key] = value
        if own or ident not in beneath:
            after[ident] = own
        else:
            after.pop(ident, None)
    return after


def _label(game: GameSnapshot, plan_id: str, edit: PlanEdit) -> str:
    doc = _plan(game, plan_id)
    laid = _laid((*game.faces.beneath(plan_id), doc))
    names = [str(laid.get(ident, {}).get("name") or ident) for ident in edit.places]
    patches = [each for each in edit.places.values() if each]
    keys = {key for each in patches for key in each}
    if names and len(patches) < len(names):
        done = "removed from the plan" if len(names) > 1 or names[0] else "reset"
    elif keys and keys <= {"x", "y"}:
        done = "moved"
    elif keys and keys <= {"x", "y", "width", "height"}:
        done = "resized"
    elif keys == {"off"}:
        done = "switched off" if patches[0].get("off") else "switched on"
    else:
        done = "edited"
    what = f"{names[0]} {done}" if len(names) == 1 else f"{plural(len(names), 'placement')} {done}"
    if not names:
        what = "styles" if edit.styles else "size" if "size" in edit.head else "edited"
    return f"face {doc.head.name or 'plan'}: {what}"


def make_plan(
    workspace: Workspace,
    game_id: str,
    type_id: str,
    side: str,
    variant: Variant | None,
    page: str,
    key: Key | None = None,
) -> tuple[Commit, str]:
    """Create a plan for a card type (empty: the base), or for one value of a choice; it inherits everything at
    first. Returns its id.

    Raises Refused if it exists, or if there is no such type or value.
    """
    ident = new_id("f")

    def plan(now: GameSnapshot) -> Sequence[Change]:
        head = _head(now, type_id, side, variant)
        if len(now.faces.plans) >= MOST_PLANS:
            raise Refused(
                Problem(where="face plan", what=f"{MOST_PLANS} plans are the most", mend="remove one first")
            )
        docs = [(ident, PlanDoc(id=ident, head=head).flat())]
        if not now.of_kind("plan"):
            docs += [(each.id, each.flat()) for each in now.faces.plans.values()]
        return small_entities.made_changes(now, "plan", docs)

    name = _head(workspace.game(game_id), type_id, side, variant).name
    return workspace.commit(game_id, f"face plan for {name}", page, plan, key=key), ident


def _head(game: GameSnapshot, type_id: str, side: str, variant: Variant | None) -> PlanHead:
    schema = game.rulebook.cards
    if type_id and not schema.has_type(type_id):
        raise Refused(
            Problem(where="type", what="the game has no such card type", mend="choose one of its types")
        )
    name = schema.type(type_id).name if type_id else "Base"
    if variant is not None:
        chosen = schema.field(variant.field)
        value = schema.list(chosen.list).get(variant.value) if isinstance(chosen, ChoiceField) else None
        if value is None:
            raise Refused(
                Problem(
                    where="variant",
                    what="there is no such value",
                    mend="choose a choice field and one of its values",
                )
            )
        name = f"{name}, {value.name}" if type_id else value.name
    if side == "back":
        name = f"{name} back"
    head = PlanHead.model_validate(
        {"name": name[:60], "type": type_id, "side": side, "variant": variant and variant.model_dump()}
    )
    same = [each.head for each in game.faces.plans.values()]
    if any((one.type, one.side, one.variant) == (head.type, head.side, head.variant) for one in same):
        raise Refused(
            Problem(where="face plan", what=f"there is a plan for {name} already", mend="edit that one")
        )
    return head


def remove_plan(workspace: Workspace, game_id: str, plan_id: str, page: str, key: Key | None = None) -> Commit:
    """Remove a plan: its cards use the plan below. Raises Missing, Refused for a base plan."""
    game = workspace.game(game_id)
    head = _plan(game, plan_id).head
    if not head.type and head.variant is None:
        raise Refused(
            Problem(
                where="face plan", what="the base plan is what all others lie over", mend="edit it instead"
            )
        )
    label = f"face plan {head.name} removed"
    if plan_id in game.things:
        return small_entities.take_out(workspace, game_id, "plan", [plan_id], label, page, key)

    def plan(now: GameSnapshot) -> Sequence[Change]:
        docs = [(each.id, each.flat()) for each in now.faces.plans.values() if each.id != plan_id]
        return small_entities.made_changes(now, "plan", docs)

    return workspace.commit(game_id, label, page, plan, key=key)


def add_place(
    workspace: Workspace,
    game_id: str,
    plan_id: str,
    what: str,
    page: str,
    at: tuple[float, float] | None = None,
    key: Key | None = None,
) -> tuple[Commit, str]:
    """Add a placement for a field or a panel near the middle of a plan, or with its middle `at` a point in mm.
    Returns its id.

    Raises Missing, Refused if the game lacks the field.
    """
    game = workspace.game(game_id)
    view = view_of(game, plan_id)
    used = {str(each["id"]) for each in view.places}
    top = max((float(each.get("z", 0)) for each in view.places), default=0.0) + 1
    try:
        ident, document = new_place(what, game.rulebook.cards, view.plan.size, used, top)
    except KeyError as error:
        raise Refused(
            Problem(where="field", what="the game has no such field", mend="choose one of its fields")
        ) from error
    document = dict(document)
    if at is not None:
        across, down = (max(-FAR, min(FAR, each)) for each in at)
        document["x"] = round((across - document["width"] / 2) * 2) / 2
        document["y"] = round((down - document["height"] / 2) * 2) / 2
    label = f"face {view.doc.head.name or 'plan'}: {document['name']} placed"
    done = edit_plan(workspace, game_id, plan_id, PlanEdit({ident: document}), game.seq, page, key, label)
    return done, ident


def arrange(
    workspace: Workspace, game_id: str, plan_id: str, places: Sequence[str], how: How, page: str, key: Key | None = None
) -> Commit:
    """Align or distribute placements; a single one is aligned to the card. Raises Missing, Refused."""
    game = workspace.game(game_id)
    view = view_of(game, plan_id)
    boxes = {
        str(each["id"]): (float(each.get("x", 0)), float(each.get("y", 0)), float(each.get("width", 10)), float(each.get("height", 10)))
        for each in view.places
        if each["id"] in places
    }  # fmt: skip
    least = LEAST.get(how, 1)
    if len(boxes) < least:
        raise Refused(
            Problem(
                where="arrange",
                what=f"{plural(least, 'placement')} are needed" if least > 1 else "nothing is chosen",
                mend="choose more",
            )
        )
    size = view.plan.size
    moved = arranged(boxes, how, (0, 0, size.width, size.height))
    patch = {ident: {"x": x, "y": y} for ident, (x, y) in moved.items() if (x, y) != boxes[ident][:2]}
    label = f"face {view.doc.head.name or 'plan'}: {plural(len(boxes), 'placement')} arranged"
    return edit_plan(workspace, game_id, plan_id, PlanEdit(patch), game.seq, page, key, label)


def previewed(game: GameSnapshot, plan_id: str, edit: PlanEdit) -> GameSnapshot:
    """The game as it would be after an edit; nothing is written. Raises Refused, Missing."""
    changes = edit_changes(game, plan_id, edit)
    return game.with_changes(changes, game.seq) if changes else game


def shown_card(game: GameSnapshot, plan_id: str, wanted: str | None, kept: bool = True) -> CardDetail:
    """The detail of the card shown with a plan: the requested one if it uses the plan, else the first, else a
    sample card.

    The detail of a preview is not cached.
    """
    doc = _plan(game, plan_id)
    card = game.cards.get(wanted or "")
    types, variant = _types(game, doc), doc.head.variant
    if card is None or card.type not in types or (variant and card.text(variant.field) != variant.value):
        card = next(iter(cards_of(game, plan_id)), None)
    if card is not None:
        if kept:
            return detail_of(game, card)
        return detail_with(game, DETAILS.words(game, card))
    return sample_detail(game, doc)


def sample_detail(game: GameSnapshot, doc: PlanDoc) -> CardDetail:
    """The detail of a sample card, for a plan that no card uses."""
    schema = game.rulebook.cards
    type_id = doc.head.type if schema.has_type(doc.head.type) else ""
    if not type_id or schema.type(type_id).abstract:
        heirs = schema.heirs(type_id) if type_id else schema.types
        type_id = next((each.id for each in heirs if not each.abstract), type_id or schema.types[0].id)
    card, text = make_sample_card(type_id, game.rulebook)
    if doc.head.variant is not None:
        card = card.with_value(doc.head.variant.field, doc.head.variant.value)
    plain = words_of(game, card)
    words = CardText(card, f"Invented card: {plain.label}", text, plain.ledger, (), False)
    return detail_with(game, words)


def stress(game: GameSnapshot, plan_id: str) -> list[Hard]:
    """The cards that are hardest for a plan. Raises Missing."""
    side = _plan(game, plan_id).head.side
    return hardest((card.id, _measured(game, card, side)) for card in cards_of(game, plan_id))


def _measured(game: GameSnapshot, card: Card, side: Side) -> Sequence[Measured]:
    """The difficulty of a card for its plan; cached while card, rules and plan stay the same."""
    plan = game.faces.worn(card, side)
    key = (card.id, side)
    known = _MEASURED.get(key)
    state = (card, plan.digest, game.rules_digest)
    if known is not None and known[0][0] is card and known[0][1:] == state[1:]:
        return known[1]
    printed = DETAILS.words(game, card).printed
    wearing = CardContext(game.rulebook.cards.seen(card), game.face_game, printed, game.back_of(card), side)
    made = tuple(measures(plan, wearing))
    if len(_MEASURED) >= MOST_MEASURED:
        _MEASURED.clear()
    _MEASURED[key] = (state, made)
    return made


MOST_MEASURED = 30_000
_MEASURED: dict[tuple[str, Side], tuple[tuple[Card, str, str], Sequence[Measured]]] = {}
