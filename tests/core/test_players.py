"""The Simple player does not harm itself: what it plays, chooses, uses, declines, and targets."""

from __future__ import annotations

from random import Random

import pytest

from dramok.core.engine import Match, Option, compile_program, start
from dramok.core.engine.kernel import codes as k
from dramok.core.engine.kernel.amounts import resource_slot
from dramok.core.engine.kernel.evaluation import play_value, worth
from dramok.core.engine.kernel.players import answer_score, seat_score, send_score
from dramok.core.rulebook import Rulebook
from tests.conftest import SEED
from tests.core.invented_world import RULEBOOK, card, duel


def rules(**changes: object) -> Rulebook:
    """Two seats with plenty of water; plants stay, weather is attached to a plant where `hosts` says to whose."""
    document = duel().model_dump(mode="json")
    document["resources"][0]["start"] = 99
    document["table"] |= {"opening_hand": 7}
    if "hosts" in changes:
        document["play"]["after_play"] = [{"type": "weather", "becomes": "attached", "hosts": changes["hosts"]}]
    return Rulebook.model_validate(document)


def laid(cards: list, mine: dict[str, int], theirs: dict[str, int], rulebook: Rulebook | None = None) -> Match:
    """A match in which the first seat has all its plants in play and the turn of the other has passed."""
    match = start(compile_program(rulebook or rules(), cards), [mine, theirs], 5)
    for seat in (0, 1):
        while True:
            plants = [each for each in match.options if each.do == "play" and named(match, each.card).startswith("Plant")]
            if not plants or match.seat != seat:
                break
            match.decide(plants[0])
        while match.seat == seat or match.asked != "act":
            match.decide(next(each for each in match.options if each.do in ("end turn", "done")))
    assert match.seat == 0 and match.asked == "act"
    return match


def named(match: Match, instance: int) -> str:
    return match.program.cards[match.state.cdef[instance]].id


def simply(match: Match, seat: int = 0) -> list[tuple[str, str]]:
    """What the Simple player does until the turn of its seat is over: (what, the card's name or the number of an option)."""
    done = []
    while match.asked != "over" and match.seat == seat and match.state.active == seat:
        row = match.choose("plain")
        option = match.options[row]
        done.append((option.do, named(match, option.card) if option.card >= 0 else str(option.other + 1) if option.do == "option" else ""))
        match.take(row)
    return done


BIG = card("Plant Big", height=5, root=5)
SMALL = card("Plant Small", height=1, root=1)
BOARD = {"Plant Big": 1, "Plant Small": 1}


def answer(line: str, kind: str = "weather", rulebook: Rulebook | None = None, **more: int) -> list[tuple[str, str]]:
    """What the Simple player does in a turn with one card of this line in hand, and a large and a small plant in play on both sides."""
    odd = card("Odd", line, kind, **more)
    match = laid([BIG, SMALL, odd], {**BOARD, "Odd": 1}, BOARD, rulebook)
    return simply(match)


@pytest.mark.parametrize(
    "line",
    [
        "upon play this: lose 2 ribbon", "upon play this: discard 1; lose 1 ribbon", "upon play this: may (lose 2 ribbon)", "upon play this: destroy pick own plant", "upon play this: deal 3 to pick own plant",
        "upon play this: gain 2 ribbon for rival", "upon play this: heal 9 to all rival plant; lose 1 ribbon", "upon play this: destroy all own plant; draw 1",
        'upon play this: put pick own plant to rival "in play"', "upon play this: choose 1 of (lose 1 ribbon | lose 2 ribbon)", "upon play this: each own plant (lose 1 ribbon)",
        "upon play this: if held ribbon above 0 (lose 3 ribbon) otherwise (draw 1)", "upon play this: lower height of all own plant by 2",
    ],
)  # fmt: skip
def test_a_purely_harmful_card_stays_in_hand(line):
    assert ("play", "Odd") not in answer(line)


@pytest.mark.parametrize(
    "line",
    [
        "upon play this: gain 2 ribbon", "upon play this: destroy pick rival plant", "upon play this: lose 1 ribbon; destroy pick rival plant", "upon play this: draw 1",
        "upon play this: choose 1 of (lose 2 ribbon | gain 1 ribbon)", "upon play this: destroy all rival plant; lose 1 ribbon",
        "upon play this: gain 3 ribbon; deal 1 to pick own plant", "upon play this: look 2; put pick 1 of it to own hand",
    ],
)  # fmt: skip
def test_a_card_that_helps_more_than_it_harms_is_played(line):
    assert ("play", "Odd") in answer(line)


def test_a_plant_whose_harm_outweighs_it_stays_in_hand():
    assert ("play", "Odd") not in answer("upon enter this: lose 3 ribbon", "plant", height=1, root=1)
    assert ("play", "Odd") in answer("upon enter this: lose 1 ribbon", "plant", height=5, root=5)
    assert ("play", "Odd") not in answer("always: lower height of all own plant by 3", "plant", height=1, root=1)


@pytest.mark.parametrize(
    ("line", "wanted"),
    [
        ("upon play this: choose 1 of (lose 2 ribbon | gain 1 ribbon)", ("option", "2")), ("upon play this: choose 1 of (gain 1 ribbon | gain 3 ribbon | draw 1)", ("option", "2")),
        ("upon play this: draw 1; may (lose 2 ribbon)", ("no", "")), ("upon play this: may (gain 2 ribbon)", ("yes", "")),
        ("upon play this: offer pay 1 water (gain 2 ribbon)", ("yes", "")), ("upon play this: draw 1; offer pay 50 water (gain 1 ribbon)", ("no", "")),
        ("upon play this: gain 5 ribbon; deal 2 to pick own plant", ("pick", "Plant Big")), ("upon play this: gain 5 ribbon; destroy pick own plant", ("pick", "Plant Small")), ("upon play this: deal 2 to pick rival plant", ("pick", "Plant Small")),
        ("upon play this: destroy pick plant", ("pick", "Plant Big")), ("upon play this: raise height of pick plant by 2", ("pick", "Plant Big")),
        ("upon play this: gain 5 ribbon; return pick own plant", ("pick", "Plant Small")), ('upon play this: put pick rival plant to own "in play"', ("pick", "Plant Big")),
        ('upon play this: gain 9 ribbon; put pick own plant to rival "in play"', ("pick", "Plant Small")), ("upon play this: gain 1 ribbon; deal 2 to pick 0..2 own plant", ("done", "")),
    ],
)  # fmt: skip
def test_what_it_chooses(line, wanted):
    """Options, declining, offers and targets, each by its estimated effect. Destroying a plant of either side is never the best for its owner."""
    done = answer(line)
    assert ("play", "Odd") in done and wanted in done, done


def test_a_pick_of_either_side_is_the_rivals_where_it_harms():
    odd = card("Odd", "upon play this: destroy pick plant", "weather")
    match = laid([BIG, SMALL, odd], {**BOARD, "Odd": 1}, BOARD)
    simply(match)
    assert len(match.zone(k.IN_PLAY, 0)) == 2 and [named(match, each) for each in match.zone(k.IN_PLAY, 1)] == ["Plant Small"]


@pytest.mark.parametrize(("line", "seat", "host"), [("always: lower height of host by 2", 1, "Plant Big"), ("always: raise height of host by 2", 0, "Plant Big"),
                                                    ("always: forbid clashing host", 1, "Plant Big"), ("always: forbid destroying host", 0, "Plant Big"),
                                                    ("upon begin own turn: deal 1 to host", 1, "Plant Big"), ("upon begin own turn: heal 1 to host", 0, "Plant Big")])  # fmt: skip
def test_a_curse_targets_the_rivals_best_card_and_a_blessing_the_players_own(line, seat, host):
    odd = card("Odd", line, "weather")
    match = laid([BIG, SMALL, odd], {**BOARD, "Odd": 1}, BOARD, rules(hosts={"type": "plant"}))
    done = simply(match)
    assert ("play", "Odd") in done
    attached = next(each for each in match.zone(k.IN_PLAY, 0) if named(match, each) == "Odd")
    on = match.state.host[attached]
    assert on in match.zone(k.IN_PLAY, seat) and named(match, on) == host


def test_a_curse_that_fits_only_own_cards_stays_in_hand():
    odd = card("Odd", "always: lower height of host by 2", "weather")
    match = laid([BIG, SMALL, odd], {**BOARD, "Odd": 1}, {"Odd": 1}, rules(hosts={"type": "plant"}))
    assert ("play", "Odd") not in simply(match)


@pytest.mark.parametrize(("line", "used"), [
    ("offer destroy this: gain 1 ribbon", False), ("offer pay 1 water: lose 1 ribbon", False), ("offer discard 2: gain 1 water", False), ("offer pay 1 water: deal 1 to pick own plant", False),
    ("offer pay 1 water, limit 1 a turn: gain 1 ribbon", True), ("offer destroy this: gain 9 ribbon", True), ("offer pay 1 water, limit 1 a turn: destroy pick rival plant", True),
])  # fmt: skip
def test_an_offer_is_used_only_for_what_it_brings(line, used):
    """The best unit is not destroyed for one point."""
    odd = card("Plant Odd", line, height=5, root=5)
    match = laid([SMALL, odd], {"Plant Odd": 1, "Plant Small": 1}, {"Plant Small": 2})
    assert (("use", "Plant Odd") in simply(match)) == used


def test_in_whole_games_harmful_cards_are_hardly_ever_played():
    """A deck with cards that only harm: of those drawn, fewer than one in twenty is played, by a player that plays all others."""
    cards = [
        BIG, SMALL, card("Woe", "upon play this: lose 1 ribbon", "weather"), card("Blight", "upon play this: deal 2 to pick own plant", "weather"), card("Weed", "upon enter this: lose 2 ribbon", height=0, root=1),
        card("Gale", "upon play this: deal 1 to pick rival plant", "weather"),
    ]  # fmt: skip
    document = rules().model_dump(mode="json")
    document["table"] |= {"opening_hand": 4, "turn_draw": 1}
    document["play"]["phases"][0]["does"].append({"do": "draw"})
    program = compile_program(Rulebook.model_validate(document), cards)
    drawn, played = dict.fromkeys(("Woe", "Blight", "Weed", "Plant Big"), 0), dict.fromkeys(("Woe", "Blight", "Weed", "Plant Big"), 0)
    for seed in range(int(SEED), int(SEED) + 20):
        dice = Random(seed)
        decks = [[dice.choice(cards).id for _ in range(24)] for _ in range(2)]
        match = start(program, decks, seed)
        for _ in range(300):
            if match.asked == "over":
                break
            match.take(match.choose("plain"))
        for kind, _, instance, *_ in match.events:
            name = named(match, instance) if instance >= 0 else ""
            if name in drawn:
                drawn[name] += kind == k.E_DREW
                played[name] += kind == k.E_PLAYED
    for name in ("Woe", "Blight", "Weed"):
        assert drawn[name] > 12 and played[name] < 0.05 * drawn[name], (name, played[name], drawn[name])
    assert played["Plant Big"] > 0.6 * drawn["Plant Big"]


def test_a_free_table_offers_nothing_that_breaks_the_player():
    """Alone, with everything moved by hand: it plays what helps and ends its turns."""
    cards = [card("Moss"), card("Rain", "upon play this: gain 1 ribbon", "weather"), card("Woe", "upon play this: lose 1 ribbon", "weather")]
    match = start(compile_program(RULEBOOK, cards), {"Moss": 6, "Rain": 4, "Woe": 4}, int(SEED))
    for _ in range(40):
        option: Option = match.options[match.choose("plain")]
        match.decide(option)
    names = [named(match, event[2]) for event in match.events if event[0] == k.E_PLAYED]
    assert "Moss" in names and "Rain" in names and "Woe" not in names


def test_loops_within_loops_are_valued_within_bounds():
    """Six loops over ten plants, 999 each: far more than any number of the game, whose product would not fit a compiled number everywhere."""
    line = "gain 999 ribbon"
    for _ in range(6):
        line = f"each plant ({line})"
    odd = card("Odd", f"upon play this: {line}", "weather")
    match = laid([SMALL, odd], {"Plant Small": 6, "Odd": 1}, {"Plant Small": 6})
    held = next(each for each in match.zone(k.HAND, 0) if named(match, each) == "Odd")
    assert play_value(match.program.numbers, match.state, held, 0) == k.MOST_NUMBER


def test_a_choice_of_more_options_than_can_be_valued_does_not_play():
    """No line is long enough for it; a document could hold it."""
    odd = card("Odd", "upon play this: choose 1 of (draw 1 | gain 1 ribbon)", "weather")
    (ability,) = odd.script("effect").abilities
    (step,) = ability.steps
    for number, plays in ((k.MOST_GAUGE, True), (k.MOST_GAUGE + 1, False)):
        many = step.model_copy(update={"options": (step.options * number)[:number]})
        (line,) = odd.script("effect").lines
        long = line.model_copy(update={"ability": ability.model_copy(update={"steps": (many,)})})
        script = odd.script("effect").model_copy(update={"lines": (long,)})
        notes = compile_program(rules(), [odd.with_value("effect", script)]).notes
        assert [each.what for each in notes] == ([] if plays else ["line 1 does not play: it has too many options"])


def test_a_loop_within_a_loop_is_valued_for_each_of_both():
    """Two plants on each side, a ribbon worth as much as the rules say: 4 x 4 of them for the card with the inner loop, 4 without."""
    values = []
    for line in ("each plant (gain 1 ribbon)", "each plant (each plant (gain 1 ribbon))"):
        odd = card("Odd", f"upon play this: {line}", "weather")
        match = laid([SMALL, odd], {"Plant Small": 2, "Odd": 1}, {"Plant Small": 2})
        held = next(each for each in match.zone(k.HAND, 0) if named(match, each) == "Odd")
        values.append(play_value(match.program.numbers, match.state, held, 0))
    assert values[0] > 0 and values[1] == 4 * values[0]


def facing(sent: tuple[int, int], other: tuple[int, int], **clash: object) -> tuple[Match, int, int]:
    """A plant of each seat in play, each (height, root), when the first seat may send its own. Returns the two cards of the table."""
    cards = [card("Plant Mine", height=sent[0], root=sent[1]), card("Plant Theirs", height=other[0], root=other[1])]
    match = start(compile_program(duel(**clash), cards), [{"Plant Mine": 3}, {"Plant Theirs": 3}], 5)
    for name in ("Plant Mine", "Plant Theirs"):
        match.decide(next(each for each in match.options if each.do == "play" and named(match, each.card) == name))
        while match.asked != "act" or match.seat == (0 if name == "Plant Mine" else 1):
            match.decide(next(each for each in match.options if each.do in ("end turn", "done")))
    return match, match.zone(k.IN_PLAY, 0)[0], match.zone(k.IN_PLAY, 1)[0]


@pytest.mark.parametrize(
    ("sent", "answers", "clash", "stopped", "dies", "kills"),
    [
        ((5, 5), (5, 5), {}, 5, True, True),
        ((5, 5), (1, 1), {}, 5, True, False),
        ((1, 1), (5, 5), {}, 1, False, True),
        ((2, 6), (1, 3), {}, 2, False, False),
        ((3, 4), (4, 4), {}, 3, False, True),
        ((4, 4), (3, 4), {}, 4, True, False),
        ((5, 5), (2, 9), {"excess": "through"}, 2, False, False),
        ((2, 9), (5, 9), {"excess": "through"}, 2, False, False),
        ((5, 5), (5, 5), {"points": "one"}, 1, True, True),
        ((5, 5), (5, 5), {"hurts": False}, 5, False, False),
    ],
)
def test_an_answer_is_worth_what_it_stops_and_kills_less_what_it_loses(sent, answers, clash, stopped, dies, kills):
    match, mine, theirs = facing(sent, answers, **clash)
    p, s = match.program.numbers, match.state
    ribbon = p[p[k.H_VALUE_RESOURCE] + p[k.H_TOTAL]]
    assert ribbon > 0
    wanted = stopped * ribbon - (worth(p, s, theirs) if dies else 0) + (worth(p, s, mine) if kills else 0)
    assert answer_score(p, s, theirs, mine) == wanted


def test_damage_that_a_plant_has_already_counts_in_an_answer():
    match, mine, theirs = facing((2, 6), (1, 3))
    p, s = match.program.numbers, match.state
    before = answer_score(p, s, theirs, mine)
    s.damage[theirs] = 1
    assert answer_score(p, s, theirs, mine) == before - worth(p, s, theirs), "two damage are enough for what has one"
    s.damage[theirs], s.damage[mine] = 0, 5
    assert answer_score(p, s, theirs, mine) == before + worth(p, s, mine)


@pytest.mark.parametrize(
    ("sent", "other", "tilted", "lost"),
    [
        ((2, 2), (3, 3), False, True),  # it would die and kill nothing
        ((2, 2), (3, 3), True, False),  # a tilted plant does not answer
        ((3, 2), (3, 3), False, False),  # both die
        ((2, 4), (3, 3), False, False),  # it survives
        ((2, 3), (3, 2), False, False),
        ((0, 1), (1, 1), False, True),
    ],
)
def test_a_plant_is_sent_for_its_strength_less_what_the_best_answer_kills(sent, other, tilted, lost):
    match, mine, theirs = facing(sent, other)
    p, s = match.program.numbers, match.state
    s.tilted[theirs] = int(tilted)
    assert send_score(p, s, mine, 0) == sent[0] * 4 + 1 - (worth(p, s, mine) if lost else 0)


@pytest.mark.parametrize("seats", [2, 3, 4])
def test_the_score_of_a_seat_is_its_own_less_that_of_its_rivals(seats):
    """In sixteenths of a point."""
    rulebook = duel(seats)
    cards = [card("Plant Mine", height=2, root=2)]
    match = start(compile_program(rulebook, cards), [{"Plant Mine": 9}] * seats, 5)
    p, s = match.program.numbers, match.state
    scores = [seat_score(p, s, seat) for seat in range(seats)]
    # Everybody has the same: with two seats nobody is ahead, with more each is behind two equal rivals.
    assert len(set(scores)) == 1 and (scores[0] == 0) == (seats == 2)
    water = [each.id for each in rulebook.resources].index("water")
    slot = resource_slot(p, s, water, 0)
    s.res[slot] += 3
    ahead = 3 * 16 * p[p[k.H_VALUE_RESOURCE] + water]
    assert [seat_score(p, s, seat) - before for seat, before in enumerate(scores)] == [ahead, *[-ahead] * (len(scores) - 1)]
    s.res[slot] -= 3
    s.over, s.winner = 1, 0
    assert [seat_score(p, s, seat) - before for seat, before in enumerate(scores)] == [1_000_000, *[-1_000_000] * (len(scores) - 1)]
    s.winner = -1
    assert [seat_score(p, s, seat) for seat in range(len(scores))] == scores, "a draw is neither"
    s.over, s.out[0] = 0, 1
    assert [seat_score(p, s, seat) - before for seat, before in enumerate(scores)] == [-400_000, *[400_000] * (len(scores) - 1)]


def test_over_the_hand_limit_the_cheapest_cards_go():
    document = duel().model_dump(mode="json")
    document["table"] |= {"opening_hand": 4, "hand_limit": 2}
    document["play"]["phases"] = [{"id": "end", "name": "End", "does": [{"do": "hand limit"}, {"do": "play"}]}]
    document["play"]["clash"] = None
    cards = [card(f"Plant {cost}", cost=cost, height=cost, root=cost) for cost in (1, 2, 3, 4)]
    match = start(compile_program(Rulebook.model_validate(document), cards), [{each.id: 1 for each in cards}] * 2, 3)
    assert match.asked == "hand limit"
    gone = []
    while match.asked == "hand limit":
        row = match.choose("plain")
        gone.append(named(match, match.options[row].card))
        match.take(row)
    assert gone == ["Plant 1", "Plant 2"]


@pytest.mark.parametrize("hidden", [{"Plant Big": 3}, {"Plant Small": 3}], ids=["large cards", "small cards"])
def test_the_value_of_a_step_on_hidden_cards_does_not_depend_on_them(hidden):
    """Taking a random card of a rival's hand is worth as much whatever the rival holds."""
    odd = card("Odd", 'upon play this: put random rival card in hand to own "in play"', "weather")
    match = start(compile_program(rules(), [BIG, SMALL, odd]), [{"Odd": 3}, hidden], 5)
    program, state = match.program.numbers, match.state
    assert len(match.zone(k.HAND, 1)) == 3
    assert play_value(program, state, match.zone(k.HAND, 0)[0], 0) == program[k.H_VALUE_HAND]


def test_amounts_count_and_add_up_what_a_seat_owns_everywhere():
    """In the draw pile, the hand, the discard pile and in play, but not among removed cards: four plants of height 5, 5, 1 and 1."""
    count = card("Count", "upon play this: gain (sum (height of own plant everywhere)) water; gain (count (own plant [height above 1] everywhere)) ribbon", "weather")
    book = duel().model_dump(mode="json")
    book["resources"][0] |= {"start": 0, "cap": None, "each_turn": 0}
    book["table"] |= {"opening_hand": 3}
    match = start(compile_program(Rulebook.model_validate(book), [BIG, SMALL, count]), [{"Plant Big": 2, "Plant Small": 2, "Count": 1}, {"Plant Big": 9}], 3)
    for _ in range(12):
        play = next((each for each in match.options if each.do == "play" and named(match, each.card) == "Count" and match.seat == 0), None)
        if play is not None:
            before = match.state.res[resource_slot(match.program.numbers, match.state, 0, 0)]
            events = match.decide(play)
            gained = [(a, b) for kind, seat, _, a, b in events if kind == k.E_GAINED]
            assert gained == [(0, 12), (1, 2)] and before == 0
            return
        match.take(next(row for row, each in enumerate(match.options) if each.do in ("end turn", "done", "discard")))
    raise AssertionError("the card was not drawn")
