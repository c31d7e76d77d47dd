"""Moves by hand at the table, as worked examples; the named sources of a changed number; refusals that change nothing."""

from __future__ import annotations

import re
from random import Random

import pytest

from dramok.core.engine import (
    ByHand,
    NotAnOption,
    Option,
    compile_program,
    option_of,
    replay,
    start,
    told,
    view,
)
from dramok.core.engine.kernel import codes as k
from dramok.core.engine.view import sees
from tests.conftest import SEED
from tests.core import generated
from tests.core.invented_world import DUEL, card
from tests.core.test_engine import by_chance

POOL = [
    card("Sprout", height=2, root=3),
    card("Lantern", "always: raise height of all own plant [other] by 2", root=4),
    card("Herald", "upon enter this: gain 1 ribbon"),
    card("Mourner", "upon leave own plant [other]: gain 1 ribbon", root=9),
    card("Grower", "upon play this: raise height of pick own plant [other] by 1 until end turn", root=5),
    card("Asker", "upon play this: may (gain 1 ribbon)"),
]


def match_of(*mine: str, theirs: str = "Sprout"):
    """A match of two in which the first seat draws these cards, in whatever order."""
    deck = list(mine)
    return start(compile_program(DUEL, POOL), [deck, [theirs] * 3], 1)


def hand(match, do: str, **how):
    return match.decide(option_of(match.program, ByHand(do, **how)))


def card_named(match, name: str) -> int:
    return next(each for each in range(match.state.cards) if match.program.cards[match.state.cdef[each]].id == name and match.state.owner[each] == 0)


def seen(match, name: str):
    return next(each for each in view(match).in_play if each.card == name)


def words(match, seat=0) -> list[str]:
    return [line.text for line in told(match, seat) if line.text.startswith("By hand")]


def test_cards_and_numbers_are_moved_by_hand_and_the_log_marks_each():
    match = match_of("Sprout", "Lantern", "Herald")
    sprout, lantern, herald = (card_named(match, name) for name in ("Sprout", "Lantern", "Herald"))
    hand(match, "move", card=sprout, zone="play")
    hand(match, "damage", card=sprout, number=2)
    hand(match, "tilt", card=sprout, number=1)
    hand(match, "stat", card=sprout, what="height", number=3)
    hand(match, "total", what="ribbon", seat=1, number=12)
    hand(match, "move", card=herald, zone="draw", under=True)
    here = seen(match, "Sprout")
    assert (here.damage, here.tilted, here.stats["height"]) == (2, True, 5) and here.changes == ("height +3 by hand",)
    assert match.zone(k.DRAW_PILE, 0)[0] == herald and view(match, 1).resources["ribbon"] == 12
    hand(match, "move", card=lantern, zone="play")
    assert seen(match, "Sprout").stats["height"] == 7
    assert seen(match, "Sprout").changes == ("height +3 by hand", "height +2 by Lantern")
    hand(match, "move", card=sprout, zone="play", seat=1)
    assert [each.card for each in view(match, 1).in_play] == ["Sprout"] and view(match, 1).in_play[0].stats["height"] == 5
    hand(match, "top", pile="draw", zone="hand")
    assert words(match) == [
        "By hand: Sprout from your hand to your side.",
        "By hand: 2 mildew on Sprout, 0 before.",
        "By hand: Sprout is tilted.",
        "By hand: height of Sprout +3.",
        "By hand: Rival: 12 ribbons.",
        "By hand: Herald from your hand under your draw pile.",
        "By hand: Lantern from your hand to your side.",
        "By hand: Sprout from your side to your rival’s side.",
        "By hand: Herald from your draw pile to your hand.",
    ]
    assert "By hand: a card from your rival’s hand under your rival’s draw pile." in words(match, 1)
    again = replay(match.program, match.decks, 1, match.decisions)
    assert again.events == match.events and view(again) == view(match)


def test_each_line_of_the_log_says_what_sort_of_thing_happened():
    match = match_of("Herald", "Sprout", "Lantern")
    match.decide(Option("play", card_named(match, "Herald")))
    hand(match, "damage", card=card_named(match, "Herald"), number=2)
    found = {line.text.removeprefix("You: ").removeprefix("Seat 1: "): line.happening for line in told(match, 0)}
    assert {text: sort for text, sort in found.items() if "Herald" in text or "ribbon" in text} == {
        "drew Herald.": "drawn", "played Herald.": "played", "Herald comes into play.": "", "Herald, on entering:": "", "gained 1 ribbon.": "totals",
        "By hand: 2 mildew on Herald, 0 before.": "harm", "Herald is destroyed.": "harm",
    }  # fmt: skip


def test_nothing_is_set_off_by_hand_but_what_follows_from_the_state():
    """No "on entering", no "on leaving"; but who bears too much is destroyed, and a total that loses does."""
    match = match_of("Herald", "Mourner", "Sprout")
    for name in ("Herald", "Mourner", "Sprout"):
        hand(match, "move", card=card_named(match, name), zone="play")
    assert view(match).resources["ribbon"] == 5
    hand(match, "move", card=card_named(match, "Herald"), zone="removed")
    assert view(match).resources["ribbon"] == 5
    # The mourner speaks: this card went by the rules, not by hand.
    hand(match, "damage", card=card_named(match, "Sprout"), number=3)
    assert view(match).resources["ribbon"] == 6 and [each.card for each in view(match).in_play] == ["Mourner"]
    hand(match, "total", what="ribbon", seat=1, number=0)
    assert match.asked == "over" and view(match).winner == 0
    with pytest.raises(NotAnOption):
        hand(match, "total", what="ribbon", number=3)


def test_a_pile_is_looked_through_and_a_card_of_it_taken():
    match = match_of("Sprout", "Sprout", "Sprout", "Lantern", "Herald", "Mourner")
    hidden = match.zone(k.DRAW_PILE, 0)
    assert not any(sees(match, 0, each) for each in hidden) and view(match).looked == ()
    hand(match, "look", zone="draw")
    assert [each.instance for each in view(match).looked] == hidden[::-1] and view(match, 1).looked == ()
    assert all(sees(match, 0, each) for each in hidden) and not sees(match, 1, hidden[0])
    hand(match, "move", card=hidden[0], zone="hand")
    assert hidden[0] in match.zone(k.HAND, 0) and [each.instance for each in view(match).looked] == hidden[:0:-1]
    hand(match, "shuffle", zone="draw")
    assert view(match).looked == () and words(match)[-1] == "By hand: You: shuffled your draw pile."
    hand(match, "look", zone="draw")
    match.decide(Option("end turn"))
    assert view(match, 0).looked == ()


def test_in_the_middle_of_an_effect_nothing_is_done_by_hand():
    match = match_of("Asker", "Sprout", "Lantern")
    assert match.hands_free
    match.decide(Option("play", card_named(match, "Asker")))
    assert match.asked == "may" and not match.hands_free
    before = (list(match.events), match.options)
    with pytest.raises(NotAnOption):
        hand(match, "total", what="ribbon", number=9)
    assert (match.events, match.options) == before
    match.decide(Option("yes"))
    hand(match, "total", what="ribbon", number=9)
    assert view(match).resources["ribbon"] == 9


def test_what_a_card_did_is_named_until_its_moment():
    match = match_of("Grower", "Sprout", "Lantern")
    hand(match, "move", card=card_named(match, "Sprout"), zone="play")
    match.decide(Option("play", card_named(match, "Grower")))
    match.decide(next(each for each in match.options if each.do == "pick"))
    assert seen(match, "Sprout").changes == ("height +1 by Grower, for a while",)
    while view(match).active == 0:
        match.decide(next(each for each in match.options if each.do in ("end turn", "done")))
    assert seen(match, "Sprout").changes == ()


@pytest.mark.parametrize(
    ("how", "says"),
    [
        ({"do": "move", "card": 0, "zone": "cellar"}, "no zone cellar"), ({"do": "move", "card": 0, "zone": ""}, "no zone without a name"),
        ({"do": "move", "card": 0, "zone": "hand", "seat": 3}, "no seat 4"), ({"do": "total", "what": "gold"}, "no resource gold"),
        ({"do": "stat", "card": 0, "what": "speed", "number": 1}, "no stat speed"), ({"do": "damage", "card": 0, "number": -1}, "out of bounds"),
        ({"do": "stat", "card": 0, "what": "height", "number": 10**9}, "out of bounds"), ({"do": "burn"}, "burn can't be done by hand"),
    ],
)  # fmt: skip
def test_what_the_game_has_no_name_for_is_refused(how, says):
    match = match_of("Sprout", "Lantern", "Herald")
    with pytest.raises(NotAnOption, match=says):
        option_of(match.program, ByHand(**how))


@pytest.mark.parametrize(
    "forged",
    [
        Option("hand move", 99_999, 8), Option("hand move", -1, 8), Option("hand move", 0, 10**18), Option("hand move", 0, -4), Option("hand fly", 0, 0),
        Option("hand top", -1, 0), Option("hand total", 0, (10**6) * 4), Option("hand total", 9, 0), Option("hand damage", 0, 3), Option("hand tilt", 0, 1),
        Option("hand stat", 0, 999_999 * 8), Option("hand look", -1, 5 * 4), Option("hand shuffle", -1, 70), Option("hand ", 0, 0),
        Option("hand total", 2**70, 2**70), Option("hand move", 0, (5 * 4) * 2), Option("hand move", 0, (1 * 4) * 2),
    ],
)  # fmt: skip
def test_what_cannot_be_done_by_hand_changes_nothing(forged):
    match = match_of("Sprout", "Lantern", "Herald")
    before = (list(match.events), match.options, list(match.decisions), view(match))
    with pytest.raises(NotAnOption):
        match.decide(forged)
    assert (match.events, match.options, match.decisions, view(match)) == before


def test_a_made_up_game_moved_by_hand_keeps_its_cards_replays_and_tells_every_cause():
    """After any move: no card is lost or doubled, and each number equals the printed one plus its named changes."""
    seen_changed = 0
    for seed in range(SEED * 100, SEED * 100 + 100):
        if seen_changed and seed >= SEED * 100 + 8:
            break  # eight games, and more only while none of them has changed a number
        dice = Random(f"by hand {seed}")
        program = generated.program(dice)
        match = start(program, [[dice.choice(program.cards).id for _ in range(12)] for _ in range(program.seats)], seed)
        for _ in range(60):
            if match.asked == "over":
                break
            try:
                match.decide(by_chance(match, dice) if dice.random() < 0.5 else dice.choice(match.options))
            except NotAnOption:
                continue
            s = match.state
            kept = sorted(each for zone in range(16) if zone < len(program.zones) for seat in range(s.seats) for each in set(match.zone(zone, seat)) if seat == 0 or s.slot[each] % 4 == seat)
            acting = range(s.first_action, s.first_action + s.seats * len(program.rulebook.played.actions))
            assert len(kept) == len(set(kept)) and set(kept) == set(range(s.cards)) - set(acting), f"seed {seed}"
            for each in view(match).in_play:
                for name, value in each.stats.items():
                    field = program.rulebook.cards.field(name)
                    told_of = sum(int(found) for line in each.changes for found in re.findall(rf"^{field.name.lower()} ([+-]\d+) ", line))
                    assert value == min(999_999, max(0, each.printed.get(name, 0) + told_of)), f"seed {seed}: {name} {value}: {each}"
                    seen_changed += bool(told_of)
        assert replay(program, match.decks, seed, match.decisions).events == match.events, f"seed {seed}"
    assert seen_changed
