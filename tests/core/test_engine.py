"""The table: ten golden scenarios, and what holds for every game."""

from __future__ import annotations

from pathlib import Path
from random import Random

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from dramok.core.effects import ability_text
from dramok.core.effects.meaning import aimed
from dramok.core.effects.model import This
from dramok.core.engine import Match, NotAnOption, Option, compile_program, replay, start, told, view
from dramok.core.engine.chance import seed_streams, word
from dramok.core.engine.state import State
from tests.core.invented import RULEBOOK, VOCABULARY, card
from tests.core.reference_engine import Reference
from tests.core.test_effects import abilities

SCENARIOS = Path(__file__).parent / "golden"


def match_of(text: str) -> tuple[Match, list[str], list[str]]:
    """A scenario file: `card` lines, a `deck`, a `seed`, decisions after `>`, the rest is the log expected."""
    cards, deck, seed, decisions, log = [], {}, 0, [], []
    for line in text.splitlines():
        if line.startswith("card "):
            head, _, effect = line[5:].partition(" | ")
            name, kind, *numbers = head.split(", ")
            more = dict(zip(("cost", "height", "root"), map(int, numbers), strict=False))
            cards.append(card(name, effect.replace(" / ", "\n"), kind, **more))
        elif line.startswith("deck "):
            deck = {name: int(count) for count, name in (part.split(" ", 1) for part in line[5:].split(", "))}
        elif line.startswith("seed "):
            seed = int(line[5:])
        elif line.startswith("> "):
            decisions.append(line[2:])
        elif line and not line.startswith("#"):
            log.append(line)
    return start(compile_program(RULEBOOK, cards), deck, seed), decisions, log


def take(match: Match, said: str) -> None:
    """`play Sprout`, `draw`: the first option that does this to a card of this name."""
    names = {
        option: match.program.cards[match.state.card_def[option.card]].id
        for option in match.options
        if option.card >= 0
    }
    wanted = next((o for o in match.options if said == (f"{o.do} {names[o]}" if o in names else o.do)), None)
    assert wanted is not None, f"{said} is not among {[(o.do, names.get(o)) for o in match.options]}"
    match.decide(wanted)


@pytest.mark.parametrize("path", sorted(SCENARIOS.glob("*.txt")), ids=lambda path: path.stem)
def test_golden(path):
    match, decisions, expected = match_of(path.read_text(encoding="utf-8"))
    for said in decisions:
        take(match, said)
    assert [line.text for line in told(match)] == expected


POOL = [
    card("Sprout", "upon enter this: draw 1"), card("Twin", "upon play this: draw 2; discard 1", "weather"),
    card("Hedge", "upon enter this: deal 1 to pick 0..2 own plant; heal 1 to it", root=1), card("Ember", "upon leave this: deal 1 to all own plant", root=1),
    card("Well", "upon play this: gain 2 water; lose 1 ribbon", "weather"), card("Vine", "always: raise root of this by count (own plant [other])", root=0),
    card("Lot", "upon enter this: deal 1 to random 2 own plant [not tag climber]", cost=2), card("Plain", tags=("climber",), cost=1),
]  # fmt: skip


@settings(max_examples=60, deadline=None)
@given(
    st.lists(st.sampled_from([each.id for each in POOL]), min_size=1, max_size=24),
    st.integers(0, 2**63 - 1),
    st.randoms(use_true_random=False),
)
def test_any_game_keeps_its_cards_its_limits_and_replays_to_the_same_events(deck, seed, chooser: Random):
    program = compile_program(RULEBOOK, POOL)
    match = start(program, deck, seed)
    for _ in range(40):
        assert match.options, "somebody can always decide"
        match.decide(chooser.choice(match.options))
        s = match.state
        held = sorted(
            s.zone_cards[z * s.cards + k] for z in range(len(s.zone_count)) for k in range(s.zone_count[z])
        )
        assert held == list(range(len(deck))), "every card is in exactly one zone"
        assert all(amount >= 0 for amount in s.resource) and s.resource[0] <= 6
        if match.asked == "act":
            assert len(view(match).hand) <= 4
    again = replay(program, list(reversed(deck)), seed, match.decisions)
    assert again.state.events == match.state.events and view(again) == view(match)
    shorter = replay(program, deck, seed, match.decisions[:-1])
    assert shorter.state.events == match.state.events[: match.ends[-2]]


@settings(max_examples=150, deadline=None)
@given(
    st.lists(
        abilities.map(lambda ability: ability_text(ability, VOCABULARY)).filter(lambda text: len(text) < 400),
        min_size=2,
        max_size=8,
    ),
    st.lists(st.integers(0, 7), min_size=1, max_size=20),
    st.integers(0, 2**63 - 1),
    st.randoms(use_true_random=False),
)
def test_the_kernel_agrees_with_the_obvious_engine_to_the_event(texts, deck, seed, chooser: Random):
    """Cards with any effects that the language can say, played by chance: the same options and the same log."""
    kinds = ("plant", "weather")
    pool = [
        card(
            f"Card {n}",
            text,
            kinds[n % 5 == 4],
            cost=n % 3,
            height=n % 4,
            root=n % 3 + 1,
            bed=("fern", "moss")[n % 2],
            tags=("climber",) if n % 3 else (),
        )
        for n, text in enumerate(texts)
    ]
    ids = [pool[n % len(pool)].id for n in deck]
    match = start(compile_program(RULEBOOK, pool), ids, seed)
    reference = Reference(RULEBOOK, pool, ids, seed)
    turns = reference.play()
    options = next(turns)
    for _ in range(30):
        assert sorted(options) == sorted(match.options)
        option = chooser.choice(match.options)
        match.decide(option)
        options = turns.send((option.do, option.card))
        assert [line.text for line in told(match)] == reference.log
    assert view(match).resources == reference.resources
    assert [each.instance for each in view(match).in_play] == [
        each.number for each in reference.zones["play"]
    ]


def test_what_is_no_option_changes_nothing():
    match = start(compile_program(RULEBOOK, POOL), ["Plain"] * 6, 1)
    before = list(match.state.events)
    for forged in (
        Option("pick", 0),
        Option("play", 99),
        Option("play", -1),
        Option("cancel"),
        Option("shout", 0),
    ):
        with pytest.raises(NotAnOption):
            match.decide(forged)
    assert match.state.events == before and not match.decisions


def test_a_view_shows_only_the_count_of_the_draw_pile():
    match = start(compile_program(RULEBOOK, POOL), ["Plain"] * 6, 1)
    seen = view(match)
    assert (seen.draw_count, len(seen.hand), seen.resources) == (3, 3, {"water": 3, "ribbon": 0})


def test_chance_is_the_same_everywhere():
    s = State(2, 1, 1)
    seed_streams(s, 20261123)
    assert [word(s, 0, 0) for _ in range(3)] == CHANCE_OF_SEAT_0
    assert word(s, 1, 0) not in CHANCE_OF_SEAT_0


CHANCE_OF_SEAT_0 = [3373417937, 4199741987, 3960660304]


def test_it_at_the_table_is_what_price_and_wording_take_it_for():
    """`it` after another step is still the latest pick: the engine's register and `effects.meaning` agree."""
    striker = card(
        "Striker", "upon enter this: deal 2 to pick own plant [other]; deal 1 to this; deal 1 to it", root=9
    )
    match = start(
        compile_program(RULEBOOK, [card("Target", root=9), striker]), {"Target": 1, "Striker": 1}, 3
    )
    take(match, "play Target")
    take(match, "play Striker")
    match.decide(match.options[0])
    done = [line.text for line in told(match)][-3:]
    assert done == ["2 mildew on Target.", "1 mildew on Striker.", "1 mildew on Target."]
    (ability,) = striker.script("effect").abilities
    meant = ["Striker" if isinstance(target, This) else "Target" for _, target in aimed(ability.steps)]
    assert [line.split(" on ")[1].rstrip(".") for line in done] == meant
