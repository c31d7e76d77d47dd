"""A card that changed its type keeps its old values hidden: they must not show, act in play or count."""

from __future__ import annotations

from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from dramok.core.balance import verdict
from dramok.core.balance.set_shape import curve, gaps, keyword_counts
from dramok.core.cards import Card
from dramok.core.cards.query.column_index import CardIndex
from dramok.core.cards.query.ordering import SortBy, sorted_cards
from dramok.core.cards.query.wall import groupable, wall
from dramok.core.decks import Deck, Format, legality, random_deck
from dramok.core.decks.deck_rules import Share
from dramok.core.decks.sampling import deck_kind
from dramok.core.decks.satisfiability import clashes
from dramok.core.engine import compile_program
from dramok.core.rulebook import Rulebook
from dramok.core.wording import printed_text
from tests.core.faces.plans import face_of
from tests.core.invented_world import RULEBOOK, VOCABULARY, card
from tests.core.test_balance import PRICES

DOCUMENT = RULEBOOK.model_dump(mode="json")
TOKEN = {"id": "token", "name": "Token", "fields": [{"id": "name", "name": "Name", "kind": "text"}]}
RULES = Rulebook.model_validate({**DOCUMENT, "cards": {**DOCUMENT["cards"], "types": [*DOCUMENT["cards"]["types"], TOKEN]}})
FORMAT = Format(id="f", name="F", least_cards=4, most_cards=9, copies=4, copies_by_rarity={"rare": 1})
OTHERS = [card("Larch", cost=2, bed="fern", rarity="rare"), card("Soak", kind="weather", cost=1, bed="moss")]

kinds = st.sampled_from(["token", "weather", "plant"])
values = st.fixed_dictionaries(
    {"name": st.just("Odd One")},
    optional={
        "cost": st.integers(0, 9), "height": st.integers(1, 9), "root": st.integers(1, 9), "bed": st.sampled_from(["fern", "moss"]), "rarity": st.sampled_from(["common", "rare"]),
        "tags": st.just(("climber",)), "printed": st.just("It grows."), "effect": st.just(card("X", effect="upon play this: draw 2").values["effect"]), "look/name": st.just("size 3"),
    },
)  # fmt: skip


def told(odd: Card) -> dict[str, object]:
    """All that is made of a card."""
    schema, cards = RULES.cards, [*OTHERS, odd]
    index = CardIndex(cards, schema)
    every = {each.id: each for each in cards}
    return {
        "columns": {field.id: index.column(field.id)[2] for field in schema.fields},
        "texts": {field.id: index.folded(field.id)[2] for field in schema.fields},
        "orders": {field.id: [each.id for each in sorted_cards(cards, [SortBy(field.id)], schema, lambda ident: lambda one: index.value(one, ident))] for field in schema.fields},
        "walls": {ident: wall(cards, schema, ident, "type") for ident in groupable(schema)},
        "printed": printed_text(odd, RULES, VOCABULARY),
        "ledger": verdict(odd, RULES, PRICES),
        "curve": curve(cards, RULES, PRICES),
        "gaps": gaps(cards, RULES),
        "keywords": keyword_counts(cards, RULES, {}),
        "dealt": [deck_kind(cards, RULES, each) for each in (FORMAT, FORMAT.model_copy(update={"most_factions": 1}))],
        "filled": random_deck(Deck("d", "D", {}), cards, RULES, FORMAT, 3),
        "kept": [each.what for each in clashes(FORMAT.model_copy(update={"factions": {"fern": Share(least=3)}}), cards, RULES)],
        "plays": compile_program(RULES, cards).numbers,
        "legal": legality(Deck("d", "D", {odd.id: 9}), every, RULES, FORMAT),
    }


@given(kinds, values)
def test_what_a_card_holds_unseen_shows_nowhere(kind, held):
    odd = Card("Odd One", "ODD", "first", kind, held)
    schema = RULES.cards
    bare = replace(odd, values={ident: value for ident, value in held.items() if schema.has_field(kind, ident) or "/" in ident})
    assert told(odd) == told(bare)
    assert schema.seen(odd) == bare and schema.seen(bare) is bare


@pytest.mark.parametrize("kind", ["weather", "plant"])
def test_its_face_is_that_of_a_card_that_never_had_it(kind):
    held = {"name": "Odd One", "cost": 2, "height": 7, "root": 8, "bed": "fern"}
    odd = Card("Odd One", "ODD", "first", kind, held)
    bare = RULEBOOK.cards.seen(odd)
    assert face_of(odd).digest == face_of(bare).digest
    assert (bare is odd) == (kind == "plant")
