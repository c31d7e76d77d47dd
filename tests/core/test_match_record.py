"""A match event by event, and the match that the documentation ships."""

from __future__ import annotations

import json
from pathlib import Path
from random import Random

from dramok.core.engine import Option, compile_program, replay, start
from dramok.core.engine.kernel import codes as k
from dramok.core.engine.match_record import EVENTS, match_record
from dramok.core.rulebook import Rulebook
from dramok.services.play.matches import card_of
from tests.conftest import SEED
from tests.core import generated

MATCHES = Path(__file__).parents[2] / "docs" / "matches"


def test_the_shipped_match_is_replayed_with_the_shipped_events():
    """Programmers compare their own implementation with these files. After a deliberate change of the engine, write them once more: see docs/file-formats.md."""
    kept = json.loads((MATCHES / "potting-shed.json").read_text(encoding="utf-8"))
    program = compile_program(Rulebook.model_validate(kept["rulebook"]), [card_of(each) for each in kept["cards"]])
    match = replay(program, kept["decks"], kept["seed"], [Option(*each) for each in kept["decisions"]])
    shipped = [json.loads(line) for line in (MATCHES / "potting-shed-events.jsonl").read_text(encoding="utf-8").splitlines()]
    assert match.asked == "over" and match_record(match) == shipped
    kinds = {each["event"] for each in shipped}
    assert {"turn", "drew", "played", "bought", "passed over", "refilled", "grew", "scheduled", "compared", "gained", "scored", "won"} <= kinds


def test_every_event_of_a_generated_game_is_recorded_with_the_decision_before_it():
    for seed in range(SEED * 10, SEED * 10 + 6):
        dice = Random(f"record {seed}")
        program = generated.program(dice)
        match = start(program, [[dice.choice(program.cards).id for _ in range(10)] for _ in range(program.seats)], seed)
        for _ in range(30):
            if match.asked != "over":
                match.take(dice.randrange(len(match.options)))
        record = match_record(match)
        assert [(each["seat"], each["card"], each["a"], each["b"]) for each in record] == [tuple(event[1:]) for event in match.events], f"seed {seed}"
        # Decision by decision, the events are those that it caused.
        for number, (first, last) in enumerate(zip([0, *match.ends], match.ends, strict=False)):
            assert {each["decision"] for each in record[first:last]} <= {number}, f"seed {seed}"


def test_each_kind_of_event_has_one_name():
    assert len(set(EVENTS.values())) == len(EVENTS) == k.E_COMPARED + 1
    assert EVENTS[k.E_BOUGHT] == "bought" and EVENTS[k.E_PHASE_END] == "phase end"
