"""An immutable snapshot of a game; all queries read from it."""

from __future__ import annotations

import json
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property
from hashlib import sha256
from typing import Annotated, Any

from pydantic import Field, TypeAdapter

from dramok.core.balance import PriceList, Pricing, pricing
from dramok.core.cards import Back, Card
from dramok.core.cards.query.column_index import CardIndex
from dramok.core.decks import Deck, DeckProblem, Format, legality
from dramok.core.effects import Script
from dramok.core.effects.references import created_cards
from dramok.core.effects.vocabulary import CARD
from dramok.core.faces import FaceGame, PlanDoc, PlanSet, Typefaces
from dramok.core.faces.plan.starting_plans import starting_plans
from dramok.core.journal import EXISTS, THINGS, put
from dramok.core.output import OnPaper, last_printings
from dramok.core.problem import fold
from dramok.core.rulebook import GameVocabulary, Rulebook
from dramok.core.rulebook.part_edit import BESIDE, part_of
from dramok.formats.font_files import load_typefaces, typefaces_with
from dramok.services.workspace.entity_registry import Record, apply, text_of
from dramok.store import Change, Contents, GameRecord, SetRecord, Thing

_FORMATS = TypeAdapter(Annotated[tuple[Format, ...], Field(min_length=1)])


def read_rules(document: Mapping[str, Any]) -> tuple[Rulebook, PriceList, tuple[Format, ...]]:
    """Parse a rules document. Raises pydantic's ValidationError, or TypeError if it is not a document."""
    rulebook = Rulebook.model_validate({key: value for key, value in document.items() if key not in BESIDE})
    prices = PriceList.model_validate(document.get("prices") or {})
    return rulebook, prices, _FORMATS.validate_python(document.get("formats") or [])


def rules_document(
    rulebook: Rulebook, prices: PriceList, formats: Sequence[Format], away: bool = False
) -> dict[str, Any]:
    """The rules document of a game (see `read_rules`)."""
    return {
        **rulebook.model_dump(mode="json"),
        "prices": prices.model_dump(mode="json"),
        "formats": [each.model_dump(mode="json") for each in formats],
        **({"away": True} if away else {}),
    }


@dataclass(frozen=True)
class GameSnapshot:
    """A game at one moment.

    `cards`, `decks` and `things` are by id, retired ones left out; `seq` is the number of the latest op. `art`
    has the size in pixels of each picture, by SHA-256.
    """

    id: str
    name: str
    rulebook: Rulebook
    prices: PriceList
    formats: tuple[Format, ...]
    sets: tuple[SetRecord, ...]
    cards: Mapping[str, Card]
    decks: Mapping[str, Deck]
    things: Mapping[str, Thing]
    seq: int
    away: bool = False
    art: Mapping[str, tuple[int, int]] = field(default_factory=dict, repr=False, compare=False)

    @staticmethod
    def of(
        record: GameRecord, held: Contents, art: Mapping[str, tuple[int, int]] | None = None
    ) -> GameSnapshot:
        """Validate the documents. Raises pydantic's ValidationError for an invalid one."""
        return GameSnapshot(
            record.id, record.name, *read_rules(json.loads(record.rules)), tuple(held.sets), {card.id: card for card in held.cards}, {deck.id: deck for deck in held.decks},
            {each.id: each for each in held.things}, held.seq, record.away, {} if art is None else art,
        )  # fmt: skip

    @property
    def rules(self) -> dict[str, Any]:
        """The rules document: the rulebook with prices and formats, as the journal edits it."""
        return rules_document(self.rulebook, self.prices, self.formats, self.away)

    @cached_property
    def face_digest(self) -> str:
        """Hash of everything except cards and plans that faces depend on."""
        sets = [(each.id, each.name, each.back) for each in self.sets]
        return sha256(f"{self.rulebook.model_dump_json()}\0{sets}".encode()).hexdigest()[:16]

    @cached_property
    def rules_digest(self) -> str:
        """Hash of everything except cards that the derived data of a card depends on."""
        return sha256(f"{self.face_digest}\0{self.prices.model_dump_json()}".encode()).hexdigest()[:16]

    @cached_property
    def faces(self) -> PlanSet:
        """The face plans: those of the game, or else the default ones."""
        written = [PlanDoc.read(each.id, each.doc) for each in self.of_kind("plan")]
        sets = {each.id: each.name for each in self.sets}
        return PlanSet(self.rulebook, written or starting_plans(self.rulebook, self.id), sets)

    @cached_property
    def face_game(self) -> FaceGame:
        """The input of faces other than plans and cards."""
        return FaceGame(self.rulebook, self.typefaces, self.art, {each.id: each.name for each in self.sets})

    @cached_property
    def typefaces(self) -> Typefaces:
        """The fonts of the faces: the game's own where it has them, otherwise the built-in ones.

        A font whose file is missing is left out.
        """
        data = getattr(self.art, "data", None)
        if data is None or not self.rulebook.fonts:
            return load_typefaces()
        found = [(use, each.face, data(each.file)) for each in self.rulebook.fonts for use in each.uses]
        return typefaces_with({use: (face, held) for use, face, held in found if held is not None})

    @cached_property
    def printed(self) -> Mapping[str, OnPaper]:
        """The last printing of each card, by card id."""
        return last_printings((each.id, each.doc) for each in self.of_kind("run"))

    @cached_property
    def by_code(self) -> Mapping[str, str]:
        """Card ids by case-folded code."""
        return {fold(card.code): card.id for card in self.cards.values()}

    @cached_property
    def index(self) -> CardIndex:
        """The cards as columns, for queries."""
        return CardIndex(tuple(self.cards.values()), self.rulebook.cards)

    def set_of(self, ident: str) -> SetRecord | None:
        return next((each for each in self.sets if each.id == ident), None)

    def record(self, entity: str, ident: str) -> Record | None:
        """The record with an id; None if it does not exist or belongs to another entity."""
        if entity == "card":
            return self.cards.get(ident)
        if entity == "deck":
            return self.decks.get(ident)
        if entity == "set":
            return self.set_of(ident)
        found = self.things.get(ident)
        return found if found is not None and found.kind == entity else None

    def text_of(self, change: Change) -> str | None:
        """The current text of the field that a change refers to; None if it is absent."""
        if change.entity == "game":
            part = (
                self.rules.get(change.field)
                if change.field in BESIDE
                else part_of(self.rulebook, change.field)
            )
            return None if part is None else json.dumps(part)
        record = self.record(change.entity, change.id)
        return None if record is None else text_of(change.entity, record, change.field)

    def of_kind(self, kind: str) -> list[Thing]:
        """The small entities of a kind, ordered by name."""
        return sorted(
            (each for each in self.things.values() if each.kind == kind), key=lambda each: fold(each.name)
        )

    def back_of(self, card: Card) -> Back | None:
        """The back of a card without a picture there: that of its set, else that of its type."""
        home = self.set_of(card.set)
        return (
            Back.model_validate_json(home.back)
            if home and home.back
            else self.rulebook.cards.back_of(card.type)
        )

    @cached_property
    def vocabulary(self) -> GameVocabulary:
        """The rulebook's names and every tag in use."""
        tags = {tag for card in self.cards.values() for tag in card.tags(self.rulebook.roles.tags)}
        name = self.rulebook.roles.name
        return GameVocabulary(
            self.rulebook,
            sorted(tags),
            lambda: {ident: card.text(name) or card.code for ident, card in self.cards.items()},
        )

    @cached_property
    def pricing(self) -> Pricing:
        """The price list applied to every card."""
        return pricing(self.cards.values(), self.rulebook, self.prices)

    def format_of(self, deck: Deck) -> Format:
        """The deck rules that a deck is checked against: those it names, else the first of the game."""
        return next((each for each in self.formats if each.id == deck.format), self.formats[0])

    def legality(self, deck: Deck) -> tuple[DeckProblem, ...]:
        """Every violation of the deck rules by a deck."""
        return legality(deck, self.cards, self.rulebook, self.format_of(deck))

    def title(self, card: Card) -> str:
        """The card's name, or its code if it has no name."""
        return card.text(self.rulebook.roles.name) or card.code

    def names_in(self, card: Card) -> tuple[tuple[str, str], ...]:
        """The names of other cards that a card's effects create, by id; a missing card is shown by its id."""
        made = {ident for value in card.values.values() if isinstance(value, Script) for ident in created_cards(value)}
        return tuple((ident, self.vocabulary.name(CARD, ident)) for ident in sorted(made))

    def with_changes(self, changes: Sequence[Change], seq: int) -> GameSnapshot:
        """The game after an op."""
        cards, decks = dict(self.cards), dict(self.decks)
        sets, things = {each.id: each for each in self.sets}, dict(self.things)
        held: dict[str, dict[str, Any]] = {
            "card": cards, "deck": decks, "set": sets, **dict.fromkeys(THINGS, things)
        }  # fmt: skip
        document: dict[str, Any] | None = None
        order_changed = False
        for change in changes:
            if change.entity == "game":
                document = document or self.rules
                document = put("game", document, change.field, change.value)
            else:
                order_changed |= change.entity == "card" and change.field in (EXISTS, "code")
                apply(held[change.entity], change, seq)
        for ident in {
            change.id for change in changes if change.entity == "card" and change.field != "exists"
        }:
            if ident in cards:
                before = self.cards.get(ident, cards[ident])
                cards[ident] = cards[ident].at(before.revision + 1, seq)
        if order_changed:
            cards = dict(sorted(cards.items(), key=lambda item: (item[1].code, item[0])))
        rules = (self.rulebook, self.prices, self.formats) if document is None else read_rules(document)
        # Data that does not depend on the changed part stays cached.
        same = all(change.field in BESIDE for change in changes if change.entity == "game")
        after = replace(
            self,
            name=rules[0].name,
            rulebook=self.rulebook if same else rules[0],
            prices=rules[1],
            formats=rules[2],
            away=self.away if document is None else bool(document.get("away")),
            cards=cards,
            decks=decks,
            sets=tuple(sets.values()),
            things=things,
            seq=seq,
        )
        roles = self.rulebook.roles
        if same and not any(change.field in (EXISTS, "code", roles.name, roles.tags) for change in changes):
            _carry(self, after, "vocabulary")
        if same and after.sets == self.sets:
            _carry(self, after, "face_digest")
            if document is None:
                _carry(self, after, "rules_digest")
            _carry(self, after, "face_game")
            if not any(change.entity == "plan" for change in changes):
                _carry(self, after, "faces")
        if not any(change.entity == "run" for change in changes):
            _carry(self, after, "printed")
        if not order_changed:
            _carry(self, after, "by_code")
            if same and "index" in self.__dict__:
                edited = {change.id for change in changes if change.entity == "card"}
                after.__dict__["index"] = self.index.edited(tuple(cards.values()), edited)
        return after


def printings_since(game: GameSnapshot, run: str) -> dict[str, OnPaper]:
    """The last printing of each card of a print run, by it or a later one."""
    return last_printings(((each.id, each.doc) for each in game.of_kind("run")), since=run)


def _carry(before: GameSnapshot, after: GameSnapshot, name: str) -> None:
    """Copy cached values of the previous snapshot that are still valid."""
    if name in before.__dict__:
        after.__dict__[name] = before.__dict__[name]
