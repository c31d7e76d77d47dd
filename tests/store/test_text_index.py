"""Full-text search: a card is found by each of its words, in any script and form."""

from __future__ import annotations

import unicodedata

import pytest
from hypothesis import given
from hypothesis import strategies as st

from dramok.core.cards import Card
from dramok.services import open_workspace
from dramok.services.cards.card_edits import edit_field
from dramok.services.files.exports import found_cards
from dramok.store import Said, TextIndex
from tests.conftest import GAME


def of(*texts: str) -> dict[str, Card]:
    return {f"c{place}": Card(f"c{place}", f"A-{place}", "s", "t", {"name": text}) for place, text in enumerate(texts)}


def found(index: TextIndex, wanted: str, cards: dict[str, Card]) -> set[str]:
    return {cards[ident].values["name"] for ident in index.holding(wanted, cards, "", lambda card: Said(card.values["name"]))}


letters = st.characters(min_codepoint=0x20, max_codepoint=0x24F, exclude_categories=("Cc", "Cf")) | st.sampled_from("αλφάЖуравльםשפτ葉東京のば한글ใบไม้ร่หินนمُتساقطةﬁⅣ🌿👩𝔉𠮷")  # fmt: skip
words = st.text(letters, min_size=1, max_size=8).filter(str.strip)
forms = st.sampled_from(["NFC", "NFD", "as it is"])


def put(text: str, form: str) -> str:
    return text if form == "as it is" else unicodedata.normalize(form, text)


@given(st.lists(words, min_size=1, max_size=4), forms, forms, st.sampled_from([str, str.upper, str.lower, str.title]))
def test_a_card_is_found_by_every_word_of_it_however_both_are_typed(held, written, asked, case):
    text = put(" ".join(held), written)
    cards, index = of(text), TextIndex()
    for word in text.split():
        assert found(index, put(case(word), asked), cards) == {text}, word
    assert found(index, put(case(text), asked), cards) == {text}


@given(st.lists(st.text("abcdefg", min_size=1, max_size=4), min_size=1, max_size=4), st.text("abcdefg", min_size=1, max_size=3))
def test_between_words_with_blanks_their_starts_count(held, wanted):
    text = " ".join(held)
    assert bool(found(TextIndex(), wanted, of(text))) == any(word.startswith(wanted) for word in held)


@pytest.mark.parametrize(
    ("text", "wanted", "is_found"),
    [
        ("Café déjà", "de\u0301ja\u0300", True), ("Cafe\u0301", "CAFÉ", True), ("Straße", "STRASSE", True), ("ﬁre Ⅳ", "fire iv", True), ("مُتساقطة", "متساقطة", True),
        ("東京の葉", "京", True), ("東京の葉", "の葉 東", True), ("東京の葉", "の東", False), ("ใบไม้ร่วง", "ร่วง", True), ("Copper Larch Fern", "lar cop", True),
        ("Copper Larch Fern", "arch", False), ("🌿 Leaf", "🌿", True), ("Leaf", "🌿", False), ("+1/+1", "+1/+1", True), ("100 %", "%", True), ("Leaf", "leaf 葉", False), ("葉 Leaf", "leaf 葉", True),
        ('say "AND" NEAR(x)', 'and "near', True), ("x*", "*", True), ("x", "*", False), ("O'Hara", "o'h", True), ("a_b", "_", True),
    ],
)  # fmt: skip
def test_what_is_found_by_example(text, wanted, is_found):
    assert bool(found(TextIndex(), wanted, of(text))) == is_found


def test_the_index_follows_cards_that_change_come_and_go():
    index, cards = TextIndex(), of("Old Barge", "New Ferry")
    assert found(index, "old", cards) == {"Old Barge"}
    cards = {**of("Older Barge", "New Ferry"), **{"c2": Card("c2", "A-2", "s", "t", {"name": "Old Rope"})}}
    assert found(index, "old", cards) == {"Older Barge", "Old Rope"} and found(index, "barge", cards) == {"Older Barge"}
    cards = {ident: card for ident, card in cards.items() if ident != "c0"}
    assert found(index, "barge", cards) == set() and found(index, "old", cards) == {"Old Rope"}
    assert index.holding("old", cards, "other rules", lambda card: Said("nothing")) == frozenset()
    assert index.holding("nothing", cards, "other rules", lambda card: Said("nothing")) == {"c1", "c2"}


def test_what_is_typed_over_the_grid_finds_names_in_whatever_form(db):
    workspace = open_workspace(db)
    game = workspace.game(GAME)
    for typed in ("fr\u00e1gile", "fra\u0301gile", "fr\u00e1gile champion", "fra\u0301gile champion", "FRAGILE CHAMPION"):
        assert [card.values["name"] for card in found_cards(workspace, game, typed)] == ["Fragile Champion"], typed
    edit_field(workspace, GAME, "RS-001", "name", "हिन्दी 葉の道 Déjà", game.seq, "one")
    game = workspace.game(GAME)
    for typed in ("हिन्दी", "हिन्", "道", "de\u0301ja\u0300", "हिन्दी deja", 'name has "De\u0301j"'):
        assert [card.code for card in found_cards(workspace, game, typed)] == ["RS-001"], typed
    workspace.close()
