"""The phrase book: every slot, its allowed placeholders, the cards that use it, and a game in another language."""

from __future__ import annotations

from typing import get_args

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from dramok.core.effects import Script
from dramok.core.effects.model import CardState, Compare
from dramok.core.effects.script import Line
from dramok.core.effects.verbs import CUES, VERBS
from dramok.core.rulebook import Phrases
from dramok.core.rulebook.phrases import (
    _FILTERS,
    _PICKS,
    _SAYS,
    _SIDES,
    Phrase,
    book,
    broken,
    lacking,
    several,
)
from dramok.core.wording import phrases_of, printed_text
from tests.core.invented_world import RULEBOOK, VOCABULARY, card
from tests.core.test_effects import abilities

TYPES = [("plant", "Plant"), ("weather", "Weather")]
BOOK = {each.id: each for each in book(TYPES)}


def said(effect: str, phrases: Phrases | None = None) -> str:
    rulebook = RULEBOOK.model_copy(update={"phrases": phrases or Phrases()})
    return " ".join(printed_text(card("One", effect, "weather"), rulebook, VOCABULARY).lines)


def test_the_book_has_a_slot_for_every_word_that_can_be_said():
    assert {each.key for each in BOOK.values() if each.room == "cues"} == set(CUES) | {
        several(word) for word, cue in CUES.items() if cue.of
    } | {"hurt-by", "hurts-by"}
    assert {each.key for each in BOOK.values() if each.room == "lasting"} == {word for word, verb in VERBS.items() if verb.lasting}
    assert {each.key for each in BOOK.values() if each.room == "verbs"} == set(VERBS) | {
        several(word) for word, verb in VERBS.items() if verb.phrases or verb.counts
    }
    assert {each.key for each in BOOK.values() if each.room == "picks"} == set(_PICKS)
    assert {each.key for each in BOOK.values() if each.room == "sides"} == set(_SIDES)
    assert set(_FILTERS) == {"other", "not", "has", "other-not", "has-not", *get_args(Compare), *(f"{each}-not" for each in get_args(Compare)), *get_args(CardState)}
    assert {each.key for each in BOOK.values() if each.room == "says"} == set(_SAYS)
    assert [each.id for each in BOOK.values() if each.room in ("nouns", "plurals")] == [
        "nouns/card", "plurals/card", "nouns/plant", "plurals/plant", "nouns/weather", "plurals/weather",
    ]  # fmt: skip
    for each in BOOK.values():
        assert broken(each, each.plain, ()) is None and not lacking(each, each.plain), each.id


@pytest.mark.parametrize(
    ("slot", "text", "what"),
    [
        ("verbs/draw", "take {m} cards", "{m} is no part of it"), ("verbs/draw", "take {n cards", "a brace has no partner"), ("verbs/draw", "take n} cards", "a brace has no partner"),
        ("verbs/draw", "take {{n}} cards", "a brace has no partner"), ("verbs/draw", "take {} cards", "{} is no part of it"), ("cues/enter", "On {target}:", "{target} is no part of it"),
        ("sides/own", "{group}", "{group} is no part of it"), ("verbs/draw", "x" * 301, "it has 301 characters"), ("picks/one", "{ group }", "{ group } is no part of it"),
        ("verbs/draw", "take {Water}", "{Water} is no part of it"),
    ],
)  # fmt: skip
def test_a_broken_brace_is_reported_with_the_allowed_placeholders(slot, text, what):
    found = broken(BOOK[slot], text, ["water"])
    assert found is not None and found.what == what and found.where == f"phrase “{BOOK[slot].about}”"
    assert found.mend.startswith("write ") and ("{water}" in found.mend or "characters" in found.what)


def test_symbols_work_in_any_phrase_and_missing_ones_are_reported():
    assert broken(BOOK["cues/play"], "Pay {water}:", ["water"]) is None
    assert lacking(BOOK["verbs/deals"], "harm {target}") == ("n",)
    assert lacking(BOOK["verbs/deal"], "1 harm") == ("target", "each")
    assert lacking(BOOK["verbs/draw"], "take a card {each}") == (), "of one thing the number may go unsaid"
    assert (
        said("upon play this: draw 1", Phrases(cues={"play": "Pay {water}:"})) == "Pay {water}: draw 1 card."
    )


@pytest.mark.parametrize(
    ("effect", "text"),
    [
        ("upon play this: draw 3", "Ziehe drei Karten."), ("upon enter this: draw 1", "Wenn sie kommt: ziehe eine Karte."),
        ("upon play this: deal 2 to pick own plant [other]", "Füge einer anderen Pflanze von dir zwei Schaden zu."),
        ("upon play this: deal 1 to all rival plant [root above 2]", "Füge jeder Pflanze des Gegners mit Root über 2 einen Schaden zu."),
        ("upon play this: deal 1 to pick 2 own plant; heal 1 to it", "Füge zwei Pflanzen von dir einen Schaden zu. Heile 1 von diesen Karten."),
        ("upon play this: deal 1 to pick own plant; heal 1 to it", "Füge einer Pflanze von dir einen Schaden zu. Heile 1 von dieser Karte."),
        ("upon play this: gain 2 water", "Erhalte 2 {water}."),
    ],
)  # fmt: skip
def test_a_game_in_another_language_is_written(effect, text):
    german = Phrases(
        cues={"enter": "Wenn sie kommt:"},
        verbs={
            "draw": "ziehe eine Karte {each}", "draws": "ziehe {n} Karten {each}", "deal": "füge {target} einen {damage} zu", "deals": "füge {target} {n} {damage} zu",
            "heal": "heile 1 von {target}", "gain": "erhalte {n} {what}",
        },
        sides={"own": "von dir", "rival": "des Gegners"},
        picks={"one": "einer {group}", "some": "{n} {group}", "all": "jeder {group}", "it": "dieser Karte", "them": "diesen Karten"},
        filters={"other": "anderen", "above": "mit {stat} über {n}"},
        nouns={"plant": "Pflanze"}, plurals={"plant": "Pflanzen"},
        damage="Schaden", numbers=("eins", "zwei", "drei"), english=False,
    )  # fmt: skip
    german = german.model_copy(update={"numbers": german.numbers if "gain" not in effect else ()})
    assert said(effect, german) == text


def test_words_for_one_are_said_of_several_only_where_they_say_how_many():
    assert said("upon play this: draw 3", Phrases(verbs={"draw": "take {n} of them"})) == "Take 3 of them."
    assert said("upon play this: draw 3", Phrases(verbs={"draw": "take the next card"})) == "Draw 3 cards."
    assert (
        said("upon play this: draw 1", Phrases(verbs={"draw": "take the next card"})) == "Take the next card."
    )
    assert (
        said("upon play this: draw 3", Phrases(verbs={"draw": "take {n}", "draws": "take all {n}"}))
        == "Take all 3."
    )


@settings(max_examples=40)  # for each of a hundred and more slots
@given(abilities)
def test_the_slots_that_a_card_says_are_those_whose_words_it_holds(ability):
    """Another word in any one slot changes the text exactly where that slot was said to be used."""
    one = card("Any").with_value("effect", Script(lines=(Line(ability=ability),)))
    used = phrases_of(one, RULEBOOK, VOCABULARY)
    before = printed_text(one, RULEBOOK, VOCABULARY).lines
    assert used <= set(BOOK)
    for slot in BOOK.values():
        words = f"zz{slot.written(RULEBOOK.phrases) or slot.unwritten(RULEBOOK.phrases)}"
        after = printed_text(one, with_words(slot, words), VOCABULARY).lines
        pair = {slot.id.removesuffix("s"), f"{slot.id}s"} - {slot.id}
        if slot.room == "verbs" and slot.id not in used and pair & used:
            continue  # words for one may stand for several, and their own take that place
        assert (after != before) == (slot.id in used), slot.id


@given(abilities, st.sampled_from(sorted(BOOK)), st.text("ab {}n", max_size=12))
def test_whatever_is_written_in_a_slot_the_text_is_said_and_nothing_breaks(ability, ident, text):
    one = card("Any").with_value("effect", Script(lines=(Line(ability=ability),)))
    lines = printed_text(one, with_words(BOOK[ident], text), VOCABULARY).lines
    assert len(lines) == 1 and lines[0]
    if broken(BOOK[ident], text, ()) is None and "{" not in text:
        assert "{}" not in lines[0]


def with_words(slot: Phrase, words: str):
    phrases = RULEBOOK.phrases
    if not slot.key:
        changed = phrases.model_copy(update={"damage": words})
    else:
        changed = phrases.model_copy(update={slot.room: {**getattr(phrases, slot.room), slot.key: words}})
    return RULEBOOK.model_copy(update={"phrases": changed})
