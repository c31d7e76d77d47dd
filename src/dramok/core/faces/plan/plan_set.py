"""All face plans of a game with inheritance, and the plan that each card uses."""

from __future__ import annotations

import json
from collections.abc import Iterator, Mapping, Sequence
from functools import cached_property
from hashlib import sha256
from typing import Any

from dramok.core.cards import Card, CardType
from dramok.core.cards.schema.lexer import Unreadable
from dramok.core.faces.plan.colours import followed
from dramok.core.faces.plan.condition import Condition, read_condition
from dramok.core.faces.plan.plan import NoPlace, Place, PlanDoc, Side, read_place
from dramok.core.faces.plan.sizes import Size
from dramok.core.problem import Problem
from dramok.core.rulebook import Rulebook

BESIDE = ("code", "type", "set", "game", "back")
"""Sources of a placement besides fields: code, the names of type, set and game, the title of the back."""


class Ready:
    """A validated placement with its condition parsed."""

    def __init__(
        self,
        place: Place,
        document: Mapping[str, Any],
        styles: Mapping[str, Mapping[str, Any]],
        condition: Condition | None,
    ) -> None:
        self.place = place
        self.condition = condition
        self._document, self._styles = document, styles
        self._by_value: dict[str, Place] = {}
        self.kept: dict[Any, Any] = {}
        """Drawings shared with other cards (see `face`)."""

    def worn_by(self, card: Card) -> Place:
        """The placement for a card: with the overrides for its value in the field `per`."""
        place = self.place
        if not place.per or not place.looks:
            return place
        value = card.text(place.per)
        look = place.looks.get(value)
        if look is None:
            return place
        known = self._by_value.get(value)
        if known is None:
            try:
                known = read_place(place.id, {**self._document, **look, "per": "", "looks": {}}, self._styles)
            except NoPlace:
                known = place
            self._by_value[value] = known
        return known


class FacePlan:
    """A plan with everything it inherits, its placements from lowest to topmost. `problems` are what can't be drawn."""

    def __init__(self, size: Size, places: Sequence[Ready], problems: Sequence[Problem], digest: str) -> None:
        self.size, self.places = size, tuple(places)
        self.problems, self.digest = tuple(problems), digest

    @cached_property
    def by_id(self) -> Mapping[str, Ready]:
        return {each.place.id: each for each in self.places}


class PlanSet:
    """The plans of a game. Immutable: an edit creates another set."""

    def __init__(self, rulebook: Rulebook, plans: Sequence[PlanDoc], sets: Mapping[str, str]) -> None:
        self.rulebook, self.sets = rulebook, sets
        self.plans = {each.id: each for each in plans}
        self._worn: dict[tuple[str, ...], FacePlan] = {}
        self._digests: dict[tuple[str, Side], str] = {}
        self._chains: dict[tuple[str, Side], tuple[PlanDoc, ...]] = {}

    @cached_property
    def styles(self) -> Mapping[str, Mapping[str, Any]]:
        """The game's styles: those of its base plans; the front's take priority."""
        bases = [each for each in self.plans.values() if not each.head.type]
        bases.sort(key=lambda each: each.head.side)
        return {ident: style for each in bases for ident, style in each.styles.items()}

    def worn(self, card: Card, side: Side = "front") -> FacePlan:
        """The plan of one side of a card."""
        chain = self._chain(card.type, side)
        if any(each.head.variant for each in chain):
            card = self.rulebook.cards.seen(card)
            chain = tuple(each for each in chain if _is_for(each, card))
        return self._laid(chain, side)

    def size(self, type_id: str, side: Side = "front") -> Size:
        """The size of a type's cards, ignoring variants."""
        chain = tuple(each for each in self._chain(type_id, side) if each.head.variant is None)
        return self._laid(chain, side).size

    def plan(self, ident: str) -> FacePlan:
        """A plan with what it inherits. Raises KeyError."""
        doc = self.plans[ident]
        found = self._laid((*self.beneath(ident), doc), doc.head.side)
        lost = self._unworn(doc)
        return FacePlan(found.size, found.places, (lost, *found.problems), found.digest) if lost else found

    def _unworn(self, doc: PlanDoc) -> Problem | None:
        """Why no card can use a plan."""
        schema, head = self.rulebook.cards, doc.head
        if head.type and not schema.has_type(head.type):
            return Problem(where=head.name or doc.id, what="its card type is gone", mend="remove the plan")
        if head.variant is None:
            return None
        choices = schema.choices(schema.field(head.variant.field))
        value = choices.get(head.variant.value) if choices else None
        if value is None or value.retired:
            return Problem(
                where=head.name or doc.id, what="the value it is for is gone", mend="remove the plan"
            )
        return None

    def beneath(self, ident: str) -> tuple[PlanDoc, ...]:
        """The plans that a plan inherits from, lowest first, without other variants. Raises KeyError."""
        doc = self.plans[ident]
        chain = self._chain(doc.head.type, doc.head.side)
        below = chain[: chain.index(doc)]
        return tuple(each for each in below if each.head.variant in (None, doc.head.variant))

    def digest(self, type_id: str, side: Side = "front") -> str:
        """Hash that changes whenever a face of the type may change by its plans."""
        known = self._digests.get((type_id, side))
        if known is None:
            said = [each.model_dump(mode="json") for each in self._chain(type_id, side)]
            text = json.dumps([said, self.styles], sort_keys=True)
            known = self._digests[type_id, side] = sha256(text.encode()).hexdigest()[:16]
        return known

    def _chain(self, type_id: str, side: Side) -> tuple[PlanDoc, ...]:
        """Every plan of a type, variants included, lowest first."""
        known = self._chains.get((type_id, side))
        if known is None:
            line = ["", *(each.id for each in self._line(type_id))]
            known = tuple(
                each
                for ident in line
                for each in sorted(
                    (
                        each
                        for each in self.plans.values()
                        if (each.head.type, each.head.side) == (ident, side)
                    ),
                    key=lambda each: (each.head.variant is not None, each.id),
                )
            )
            self._chains[type_id, side] = known
        return known

    def _line(self, type_id: str) -> Iterator[CardType]:
        """The types that a type extends, from the root, and itself."""
        schema = self.rulebook.cards
        if not type_id or not schema.has_type(type_id):
            return
        found = schema.type(type_id)
        if found.extends:
            yield from self._line(found.extends)
        yield found

    def _laid(self, chain: Sequence[PlanDoc], side: Side) -> FacePlan:
        key = (side, *(each.id for each in chain))
        known = self._worn.get(key)
        if known is None:
            known = self._worn[key] = self._lay(chain)
        return known

    def _lay(self, chain: Sequence[PlanDoc]) -> FacePlan:
        size = next((each.head.size for each in reversed(chain) if each.head.size), Size())
        laid: dict[str, dict[str, Any]] = {}
        for plan in chain:
            for ident, own in plan.places.items():
                laid[ident] = {**laid.get(ident, {}), **own}
        places: list[Ready] = []
        problems: list[Problem] = []
        for ident, document in laid.items():
            try:
                place = read_place(ident, document, self.styles)
            except NoPlace as error:
                problems.append(error.problem)
                continue
            problems += self._fields(place)
            places.append(Ready(place, document, self.styles, self._condition(place, problems)))
        places.sort(key=lambda each: (each.place.z, each.place.id))
        said = json.dumps([laid, size.model_dump(mode="json"), self.styles], sort_keys=True)
        return FacePlan(size, places, problems, sha256(said.encode()).hexdigest()[:16])

    def _fields(self, place: Place) -> Iterator[Problem]:
        """Fields of a placement that the game lacks."""
        bound = [
            getattr(place, "field", ""),
            place.per,
            getattr(place, "also", ""),
            *getattr(place, "fields", ()),
        ]
        for ident in dict.fromkeys(filter(None, bound)):
            if ident not in BESIDE and self.rulebook.cards.field(ident) is None:
                yield Problem(
                    where=place.name or place.id,
                    what=f"it is bound to {ident}, which the game does not have any more",
                    mend="bind it to another field, or remove it",
                )
        for key, said in place:
            lost = followed(said) if isinstance(said, str) and said.startswith("@") else ""
            if lost and self.rulebook.cards.choices(self.rulebook.cards.field(lost)) is None:
                yield Problem(
                    where=place.name or place.id,
                    what=f"its {key.replace('_', ' ')} follows {lost}, which is not a choice field of the game",
                    mend="give it another colour",
                )
        if not place.framed and not place.width and not place.height:
            yield Problem(
                where=place.name or place.id, what="it has no extent", mend="make it wider and higher"
            )

    def _condition(self, place: Place, problems: list[Problem]) -> Condition | None:
        if not place.when.strip():
            return None
        try:
            return read_condition(place.when, self.rulebook.cards, self.rulebook.roles.name, self.sets)
        except Unreadable as error:
            problems.append(error.problem.model_copy(update={"where": place.name or place.id}))
            return None


def _is_for(plan: PlanDoc, card: Card) -> bool:
    variant = plan.head.variant
    return variant is None or card.text(variant.field) == variant.value
