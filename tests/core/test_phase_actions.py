"""Each phase action has one record that agrees with its document, its sentence and the engine; automatic players likewise."""

from __future__ import annotations

from typing import get_args

import pytest
from pydantic import TypeAdapter

from dramok.core.automatic_players import AUTOMATIC_PLAYERS, BY_ID, PLAYERS, WORDS, id_of
from dramok.core.engine import compile_program, start
from dramok.core.engine.kernel import codes as k
from dramok.core.rulebook import Rulebook
from dramok.core.rulebook.market import Counter
from dramok.core.rulebook.phase_actions import BY_DO, PHASE_ACTIONS, Doing, PhaseAction
from dramok.core.rulebook.play_rules import OwnZone, Phase, PlayRules
from dramok.core.wording.rules_text import Reader
from tests.core.invented_world import DUEL, RULEBOOK, card

MODEL = {do: model for model in get_args(get_args(Doing)[0]) for do in get_args(model.model_fields["do"].annotation)}
each_action = pytest.mark.parametrize("action", PHASE_ACTIONS, ids=lambda each: each.do)


def as_new(action: PhaseAction, **first: str) -> dict[str, object]:
    """The document of an action that was just added, as the page makes it."""
    return {"do": action.do, **{each.key: first.get(each.kind, each.new) for each in action.settings}}


def test_each_document_has_one_record_and_each_setting_one_input():
    assert sorted(MODEL) == sorted(BY_DO) and len(BY_DO) == len(PHASE_ACTIONS)
    for action in PHASE_ACTIONS:
        assert set(MODEL[action.do].model_fields) == {"do", *(each.key for each in action.settings)}
        assert all(each.label and not each.label.endswith(".") for each in action.settings)


@each_action
def test_a_new_action_is_a_valid_document_and_its_sentence_is_an_imperative(action):
    doing = TypeAdapter(Doing).validate_python(as_new(action, resource=RULEBOOK.resources[0].id, zone="hand", field="height"))
    play = PlayRules(phases=(Phase(id="only", name="Only", does=(doing,)),), zones=(OwnZone(id="border", name="Border"),), counters=(Counter(id="ripe", name="Ripeness", zones=("border",)),))
    rulebook = RULEBOOK.model_copy(update={"play": play, "table": RULEBOOK.table.model_copy(update={"hand_limit": 5})})
    sentence = action.sentence(Reader(rulebook, [], None), doing)
    assert sentence and sentence[0].islower() and not sentence.endswith((".", " ")) and "  " not in sentence and "{" not in sentence, sentence


@each_action
def test_the_engine_plays_rules_with_each_action_as_a_phase_of_its_own(action):
    doing = as_new(action, resource=DUEL.resources[0].id, zone="border", field="height")
    play = DUEL.played.model_dump(mode="json")
    play["zones"] = [*play["zones"], OwnZone(id="border", name="Border").model_dump(mode="json")]
    play["counters"] = [{"id": "ripe", "name": "Ripeness", "zones": ["border"]}]
    play["phases"] = [*play["phases"], {"id": "only", "name": "Only", "does": [doing]}]
    rulebook = Rulebook.model_validate({**DUEL.model_dump(mode="json"), "play": play})
    cards = [card(f"Card {each}", height=each % 3 + 1) for each in range(6)]
    deck = [each.id for each in cards] * 4
    match = start(compile_program(rulebook, cards), (deck, deck), 5)
    for _ in range(60):
        if match.asked == "over":
            break
        match.take(match.choose("plain"))
    phases = {event[3] for event in match.events if event[0] == k.E_PHASE}
    assert len(play["phases"]) - 1 in phases, "the last phase was reached"


def test_players_are_known_by_number_id_and_word():
    assert [each.number for each in AUTOMATIC_PLAYERS] == list(range(len(AUTOMATIC_PLAYERS))) and len(AUTOMATIC_PLAYERS) <= 4, "two bits for each seat"
    assert PLAYERS == ("random", "plain", "ahead") == tuple(BY_ID)
    assert WORDS == "random, simple or ahead"
    assert [id_of(each) for each in ("simple", "ahead", "random", "plain", "nobody")] == ["plain", "ahead", "random", "plain", "nobody"]
