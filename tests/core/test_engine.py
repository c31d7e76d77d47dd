"""The table: golden scenarios, and properties of every game."""

from __future__ import annotations

import dataclasses
import json
from pathlib import Path
from random import Random

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from dramok.core.effects import Script, parse_amount, read_script
from dramok.core.engine import Match, NotAnOption, Option, compile_program, replay, start, told, view
from dramok.core.engine.ability_program import VERB_CODES
from dramok.core.engine.kernel import codes as k
from dramok.core.engine.kernel import state_copy_generated
from dramok.core.engine.kernel.loop import decide, run, stands
from dramok.core.engine.kernel.players import plain
from dramok.core.engine.kernel.playout import ahead
from dramok.core.engine.kernel.rng import below
from dramok.core.engine.kernel.state import State
from dramok.core.engine.kernel.state_copy import copy, written
from dramok.core.engine.kernel.zones import is_shared, link, unlink
from dramok.core.rulebook import GameVocabulary, Rulebook
from tests.conftest import SEED
from tests.core import generated
from tests.core.invented_world import RULEBOOK, card, duel
from tests.core.reference_engine import Endless, Reference

SCENARIOS = Path(__file__).parent / "golden"


def match_of(text: str) -> tuple[Match, list[str], list[str]]:
    """A scenario file: `card` lines, a `deck` for each seat, a `seed`, decisions after `>`; the rest is the log expected.

    `zone market: 1 Reed, 1 Rush` is a shared zone with these cards in it at the start. `clash KEY VALUE` changes a rule of the clash.
    `rules KEY JSON` replaces a key of the rules of play, `water JSON` and `ribbon JSON` keys of a resource, `score NAME AMOUNT` and
    `tie NAME AMOUNT` are lines of the score sheet and tie-breakers (`lowest` before the amount); `action NAME EFFECT` is an action of
    the rules, `less ZONE AMOUNT` the amount by which a market is cheaper.
    """
    cards, decks, seed, decisions, log, written, zones, placed, clash = [], [], 0, [], [], [], [], [], {}
    changed, resources, scored = {}, {}, []
    for line in text.splitlines():
        if line.startswith("card "):
            head, _, effect = line[5:].partition(" | ")
            name, kind, *numbers = head.split(", ")
            written.append((name, effect.replace(" / ", "\n"), kind, dict(zip(("cost", "height", "root"), map(int, numbers), strict=False))))
        elif line.startswith("zone "):
            name, _, held = line[5:].partition(": ")
            zones.append({"id": name, "name": name.capitalize(), "shared": True, "seen": "all"})
            placed.append({"zone": name, "cards": {each.split(" ", 1)[1]: int(each.split(" ", 1)[0]) for each in held.split(", ")}})
        elif line.startswith("clash "):
            key, value = line[6:].split(" ")
            clash[key] = {"yes": True, "no": False}.get(value, value)
        elif line.startswith("rules "):
            key, _, value = line[6:].partition(" ")
            changed[key] = json.loads(value)
        elif line.split(" ")[0] in ("water", "ribbon"):
            name, _, value = line.partition(" ")
            resources[name] = json.loads(value)
        elif line.split(" ")[0] in ("score", "tie", "action", "less"):
            scored.append(line.split(" ", 2))
        elif line.startswith("deck "):
            decks.append({name: int(count) for count, name in (part.split(" ", 1) for part in line[5:].split(", "))})
        elif line.startswith("seed "):
            seed = int(line[5:])
        elif line.startswith("> "):
            decisions.append(line[2:])
        elif line and not line.startswith("#"):
            log.append(line)
    rules = duel(len(decks), zones, placed, **clash) if len(decks) > 1 else RULEBOOK
    if changed:
        rules = changed_rules(rules, changed, resources, scored)
    words = GameVocabulary(rules, cards=lambda: {name: name for name, *_ in written})
    cards = [card(name, effect, kind, vocabulary=words, **more) for name, effect, kind, more in written]
    program = compile_program(rules, cards)
    assert not program.notes, program.notes
    return start(program, decks, seed), decisions, log


def changed_rules(rules: Rulebook, changed: dict, resources: dict, scored: list) -> Rulebook:
    """The rules with keys of the rules of play and of resources replaced, and with a score sheet."""
    document = rules.model_dump(mode="json")
    document["play"] |= changed
    document["resources"] = [{**each, **resources.get(each["id"], {})} for each in document["resources"]]
    words = GameVocabulary(Rulebook.model_validate(document))
    lines = {"score": [], "tie": []}
    for what, name, text in scored:
        if what == "action":
            script, problems = read_script(text, words)
            assert not problems, problems
            document["play"].setdefault("actions", []).append({"id": name.lower(), "name": name, "effect": script.model_dump(mode="json")})
            continue
        amount, problems = parse_amount(text.removeprefix("lowest "), words)
        assert amount is not None, problems
        if what == "less":
            next(each for each in document["play"]["markets"] if each["zone"] == name)["less"] = amount.model_dump(mode="json")
            continue
        lines[what].append({"name": name, "amount": amount.model_dump(mode="json"), **({"lowest": True} if text.startswith("lowest ") else {})})
    document["play"] |= {"scoring": lines["score"], "ties": lines["tie"]}
    return Rulebook.model_validate(document)


def take(match: Match, said: str) -> None:
    """`play Sprout`, `draw`: the first option that does this to a card of this name."""
    names = {
        option: match.program.name_of(match.state.cdef[option.card])
        for option in match.options
        if option.card >= 0
    }
    def words(option: Option) -> str:
        text = f"{option.do} {names[option]}" if option in names else option.do
        return f"{text} {option.other + 1}" if option.do == "option" else text

    wanted = next((option for option in match.options if words(option) == said), None)
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
        held = sorted(card for zone in range(k.OWN_ZONES) for card in match.zone(zone, 0))
        assert held == list(range(len(deck))), "every card is in exactly one zone"
        assert all(amount >= 0 for amount in match.state.res) and match.state.res[0] <= 6
        if match.asked == "act":
            assert len(view(match).hand) <= 4
    again = replay(program, list(reversed(deck)), seed, match.decisions)
    assert again.events == match.events and view(again) == view(match)
    shorter = replay(program, deck, seed, match.decisions[:-1])
    assert shorter.events == match.events[: match.ends[-2]]


def by_chance(match: Match, dice: Random) -> Option:
    """Something to be done by hand, mostly something that can be."""
    s, zones = match.state, [0, 1, 2, 3, 3, 3, 4, 8, 9, 15]
    place = dice.choice(zones) * 4 + dice.randrange(s.seats)
    card = dice.choice([each for zone in (3, dice.choice(zones[:5])) for seat in range(s.seats) for each in match.zone(zone, seat)] or [0, -1])
    return dice.choice([
        Option("hand move", card, place * 2 + dice.randrange(2)), Option("hand top", -1, (dice.randrange(4) * 4 * 64 + place) * 2),
        Option("hand look", -1, place), Option("hand shuffle", -1, place), Option("hand total", dice.randrange(3), dice.randrange(9) * 4 + dice.randrange(s.seats)),
        Option("hand damage", card, dice.randrange(5)), Option("hand tilt", card, dice.randrange(2)), Option("hand stat", card, (999_999 + dice.randint(-2, 2)) * 8 + dice.randrange(2)),
    ])  # fmt: skip


def every_card_has_its_owner(match: Match) -> None:
    """A seat, or nobody in a shared zone; and each card acts for the seat whose zone it is in, unless it has just left play."""
    s, p = match.state, match.program.numbers
    for each in range(s.cards):
        shared = is_shared(p, s, s.zone[each])
        assert 0 <= s.owner[each] < s.seats or shared and s.owner[each] == k.NOBODY
        assert s.seen[each] or s.ctrl[each] == (k.NOBODY if shared else s.slot[each] % k.MOST_SEATS)


def agree(seed: int) -> str:
    """One made-up game played by chance on kernel and objects alike; gives how it went, or raises with the place where they part."""
    dice = Random(f"{seed}")
    program = generated.program(dice)
    decks = [[dice.choice(program.cards).id for _ in range(dice.choice([8, 15, 20]))] for _ in range(program.seats)]
    match, reference = start(program, decks, seed), Reference(program.rulebook, program.cards, decks, seed)
    # Which bit a word has is no rule.
    reference.keyword_ids = list(program.keywords)
    turns = reference.play()
    options: list | None = None
    agreed = 0
    try:
        options = next(turns, None)
        for _ in range(dice.choice([20, 40, 80])):
            if match.events and match.events[-1][0] == k.E_RUNAWAY:
                return "runaway"
            new = match.events[agreed:] == reference.log[agreed:]
            assert new, f"seed {seed}: events part after {match.decisions[-1:]}: {match.events[agreed:]} or {reference.log[agreed:]}"
            agreed = len(match.events)
            if match.asked == "over":
                assert options is None
                return "over"
            assert options is not None and sorted(options) == sorted(tuple(each) for each in match.options), f"seed {seed}"
            option = dice.choice(match.options)
            if match.hands_free and dice.random() < 0.06:
                option = by_chance(match, dice)
            try:
                match.decide(option)
            except NotAnOption:
                assert option.do.startswith("hand "), f"seed {seed}: {option}"
                continue
            every_card_has_its_owner(match)
            options = turns.send(tuple(option))
    except StopIteration:
        if match.events[-1][0] == k.E_RUNAWAY:
            return "runaway"
        assert match.asked == "over" and match.events == reference.log, f"seed {seed}"
        return "over"
    except Endless:
        return "endless"
    return "played"


@pytest.mark.parametrize("part", range(12))
def test_the_kernel_agrees_with_the_obvious_engine_to_the_event(part):
    """Made-up rulebooks of one to four seats with any effects that the language can say, played by chance: the same options and events."""
    first = int(SEED) * 1_000 + part * 8
    found = [agree(seed) for seed in range(first, first + 8)]
    assert found.count("runaway") + found.count("endless") <= 3


def test_what_ends_neither_way_is_cut_off_and_named():
    """A card that triggers itself for ever: stopped, and named; the table keeps its last state."""
    loop = card("Echo", "upon gaining water: gain 1 water; lose 1 water", cost=0)
    rules = RULEBOOK.model_copy(update={"resources": tuple(each.model_copy(update={"cap": None}) for each in RULEBOOK.resources)})
    match = start(compile_program(rules, [loop]), {"Echo": 3}, 1)
    while match.asked != "over" and len(match.decisions) < 40:
        play = [each for each in match.options if each.do == "play"]
        match.decide(play[0] if play else Option("end turn"))
    assert match.asked == "over" and match.events[-1][0] == k.E_RUNAWAY
    assert "Echo" in told(match)[-1].text and match.options == ()
    with pytest.raises(NotAnOption):
        match.decide(Option("end turn"))


@pytest.mark.parametrize("number", [*range(max(VERB_CODES.values()) + 1, k.O_BEGIN), k.O_PLACE, k.O_SECOND, k.O_REFILL, k.O_SCHEDULED + 1, 99])
def test_an_instruction_that_the_kernel_does_not_have_is_an_error(number):
    """It ends the match and says so: it is never taken for another one. Any number that is neither a verb nor a rule will do."""
    program = compile_program(RULEBOOK, [card("Odd", "upon enter this: draw 1")])
    numbers = [*program.numbers]
    ability = numbers[numbers[k.H_DEF_ROWS] + k.D_ABILITIES]
    numbers[numbers[ability + k.B_CODE] + k.WIDTH] = number
    match = start(dataclasses.replace(program, numbers=tuple(numbers)), {"Odd": 4}, 1)
    match.decide(next(each for each in match.options if each.do == "play"))
    assert match.asked == "over" and match.events[-1][0] == k.E_RUNAWAY
    assert told(match)[-1].text == "Cut off: Odd has an instruction that this version does not know."


def test_a_decision_that_is_none_changes_nothing():
    match = start(compile_program(RULEBOOK, POOL), {"Sprout": 6}, 3)
    before, events = match.options, list(match.events)
    for forged in (Option("pick", 2), Option("play", 99), Option("play", -5), Option("draw", 1), Option("fly"), Option("use", 0, 7)):
        with pytest.raises(NotAnOption):
            match.decide(forged)
    assert match.options == before and match.events == events and match.decisions == []


@pytest.mark.parametrize(
    ("decks", "seed", "what"),
    [
        ([["Sprout"] * 401], 1, "401 cards"), ([[]], 1, "0 cards"), ([["Sprout"]], -1, "the seed"), ([["Sprout"]], 2**63, "the seed"),
        ([["Sprout"], ["Sprout"]], 1, "1 seats, and 2 decks"),
    ],
)  # fmt: skip
def test_decks_that_cannot_be_played_are_refused(decks, seed, what):
    with pytest.raises(ValueError, match=what):
        start(compile_program(RULEBOOK, POOL), decks, seed)


def test_a_deck_of_four_hundred_is_played():
    match = start(compile_program(RULEBOOK, POOL), {"Sprout": 400}, 1)
    match.decide(Option("end turn"))
    assert view(match).draw_count == 400 - 4


@pytest.mark.parametrize("kind", ["random", "plain", "ahead"])
def test_automatic_players_play_made_up_games_to_their_end(kind):
    for seed in range(int(SEED) * 100, int(SEED) * 100 + (2 if kind == "ahead" else 8)):
        dice = Random(f"auto {seed}")
        program = generated.program(dice)
        decks = [[dice.choice(program.cards).id for _ in range(12)] for _ in range(program.seats)]
        match = start(program, decks, seed)
        # One that looks ahead plays each move out: in some made-up games, late, that takes minutes.
        for _ in range(40 if kind == "ahead" else 120):
            if match.asked == "over":
                break
            match.take(match.choose(kind))
        again = replay(program, decks, seed, match.decisions)
        assert again.events == match.events, f"a player's own chance is outside the match: seed {seed}"


def played_on(p, s, decisions: int = 300) -> None:
    """By chance, to the end or so far: some made-up games take minutes."""
    for _ in range(decisions):
        run(p, s)
        if stands(p, s) == 0:
            break
        decide(p, s, below(p, s, s.whose, k.R_PLAYER, s.options))


def test_a_copy_played_on_is_the_same_match():
    """Copied in the middle of anything, effects too, and both played on: the same digest."""
    for seed in range(int(SEED) * 10, int(SEED) * 10 + 6):
        dice = Random(f"copy {seed}")
        program = generated.program(dice)
        decks = [[dice.choice(program.cards).id for _ in range(12)] for _ in range(program.seats)]
        match = start(program, decks, seed)
        for _ in range(dice.randrange(30)):
            if match.asked != "over":
                match.take(dice.randrange(match.state.options))
        p, one, other = program.numbers, match.state, State(k.MOST_CARDS)
        copy(p, one, other)
        for s in (one, other):
            s.logs, s.digests, s.digest = 0, 1, 0
            played_on(p, s)
        assert (one.digest, one.winner, one.turn) == (other.digest, other.winner, other.turn), f"seed {seed}"


def test_the_compiled_copy_names_every_field_in_use():
    """The generated copy covers the list of fields; a new field is in it after it is generated again."""
    assert written() == Path(state_copy_generated.__file__).read_text(encoding="utf-8"), "run `make api`"


def keeps_secrets(seed: int) -> None:
    """A whole game over, the bytes of the other seat's view and log hold no hidden card's id, nor say which card of the table it is."""
    dice = Random(f"view {seed}")
    program = generated.program(dice)
    while program.seats < 2:
        program = generated.program(dice)
    # Every card is one of its own, so that its name tells which it is.
    cards = [dataclasses.replace(each, id=f"secret-{number}-{copy}", code=f"X-{number}-{copy}") for number, each in enumerate(program.cards) for copy in range(3)]
    cards += [each for each in program.cards]
    made = compile_program(program.rulebook, cards)
    mine = [each.id for each in cards if each.id.endswith(("-0", "-2"))]
    theirs = [each.id for each in cards if each.id.endswith("-1")]
    match = start(made, [mine, *([theirs] * (program.seats - 1))], seed)
    for _ in range(60):
        # What an effect has it look at, or lets it pick among cards that it saw go, it may see.
        seen = json.dumps(dataclasses.asdict(dataclasses.replace(view(match, 1), looked=())))
        for zone in (k.HAND, k.DRAW_PILE):
            for each in match.zone(zone, 0):
                ident = made.cards[match.state.cdef[each]].id
                # A card that an effect created is face up, and has the same name.
                if not ident.startswith("secret") or list(match.state.cdef[: match.state.cards]).count(match.state.cdef[each]) > 1:
                    continue
                assert f'"{ident}"' not in seen, f"seed {seed}: {ident} is seen"
                assert f'"instance": {each},' not in seen, f"seed {seed}: card {each} is seen"
        if match.asked == "over":
            break
        match.take(dice.randrange(match.state.options))


def test_other_seats_see_no_name_and_no_number_of_a_hidden_card():
    # The first is one in which a stat is raised that the card has not.
    for seed in (3000038, *range(int(SEED) * 100, int(SEED) * 100 + 12)):
        keeps_secrets(seed)


def hidden_otherwise(match: Match, seat: int, dice: Random) -> State:
    """The same match as far as a seat sees it: hidden cards are in another order, and a rival's hand is other cards of its pile."""
    program, other = match.program.numbers, State(k.MOST_CARDS, 1)
    copy(program, match.state, other)
    zones = [(k.DRAW_PILE, seat)]
    for rival in range(match.program.seats):
        if rival != seat:
            hand, pile = match.zone(k.HAND, rival), match.zone(k.DRAW_PILE, rival)
            pool = hand + pile
            dice.shuffle(pool)
            _lie(program, other, pool[: len(hand)], k.HAND, rival)
            _lie(program, other, pool[len(hand) :], k.DRAW_PILE, rival)
    for zone, whose in zones:
        pool = match.zone(zone, whose)
        dice.shuffle(pool)
        _lie(program, other, pool, zone, whose)
    return other


def _lie(program, state: State, cards: list[int], zone: int, seat: int) -> None:
    for each in cards:
        unlink(program, state, each)
    for each in cards:
        link(program, state, each, zone, seat, 0)


def looks_at_nothing_hidden(seed: int) -> int:
    """However the cards that its seat can't see lie, an automatic player takes the same option; gives how often that was asked."""
    dice, asked = Random(f"ahead {seed}"), 0
    program = generated.program(dice)
    while program.seats < 2:
        program = generated.program(dice)
    decks = [[dice.choice(program.cards).id for _ in range(16)] for _ in range(program.seats)]
    match, tried = start(program, decks, seed), State(k.MOST_CARDS, 1)
    for _ in range(40):
        if match.asked == "over":
            break
        seat = match.state.whose
        open_to_it = {each for zone in (k.DRAW_PILE, k.HAND) for rival in range(program.seats) if zone == k.DRAW_PILE or rival != seat for each in match.zone(zone, rival)}
        # Cards that it looks at just now are not hidden from it, nor is a card that the effect has just moved there, such as "return this".
        frame = (match.state.top - 1) * k.FRAME
        known = {match.state.fr[frame + k.F_THIS], match.state.fr[frame + k.F_THAT]} if match.state.top else set()
        known |= {each for option in match.options for each in (option.card, option.other)}
        if len(match.options) > 1 and not view(match, seat).looked and not known & open_to_it:
            changed = hidden_otherwise(match, seat, dice)
            assert plain(program.numbers, changed) == match.choose("plain"), f"seed {seed}: plain"
            before = State(k.MOST_CARDS, 1)
            copy(program.numbers, match.state, before)
            assert ahead(program.numbers, changed, tried) == ahead(program.numbers, before, tried), f"seed {seed}: ahead"
            asked += 1
        match.take(dice.randrange(match.state.options))
    return asked


def test_automatic_players_decide_by_what_their_seat_sees():
    assert sum(looks_at_nothing_hidden(seed) for seed in range(int(SEED) * 10, int(SEED) * 10 + 4)) > 4


def test_a_game_with_many_numbers_is_played_with_the_ones_in_use():
    document = RULEBOOK.model_dump(mode="json")
    plant = next(each for each in document["cards"]["types"] if each["id"] == "plant")
    plant["fields"] = [{"id": f"extra-{number}", "name": f"Extra {number}", "kind": "number"} for number in range(12)] + plant["fields"]
    program = compile_program(Rulebook.model_validate(document), POOL)
    assert set(program.stats) >= {"height", "root"} and len(program.stats) <= 8
    match = start(program, {"Plain": 4}, 3)
    match.decide(next(each for each in match.options if each.do == "play"))
    (played,) = view(match).in_play
    assert (played.stats["height"], played.stats["root"]) == (1, 2)


def test_a_line_that_refers_to_something_removed_is_reported_and_the_rest_plays():
    """As when hands are dealt without the rules of play: their zones and phases are not there."""
    one = card("Rain", "upon play this: draw 1; gain 1 water", "weather")
    script = one.script("effect").model_dump(mode="json")
    script["lines"].append({"ability": {"kind": "upon", "cue": "play", "steps": [{"verb": "shuffle", "zone": {"zone": "forecast"}}]}})
    script["lines"].append({"ability": {"kind": "upon", "cue": "begin", "when": {"phase": "dusk"}, "steps": [{"verb": "draw", "amount": {"kind": "number", "value": 1}}]}})
    program = compile_program(RULEBOOK, [one.with_value("effect", Script.model_validate(script))])
    assert [note.what.split(" does not play")[0] for note in program.notes] == ["line 2", "line 3"]
    match = start(program, {"Rain": 5}, 1)
    match.decide(next(each for each in match.options if each.do == "play"))
    assert any(line.text == "Gained 1 water." for line in told(match))


@pytest.mark.parametrize(("tie", "winner"), [("draw", k.DRAWN), ("active", 0)])
def test_seats_that_go_out_together_draw_or_the_active_one_wins(tie, winner):
    storm = card("Storm", "upon play this: lose 9 ribbon for all", "weather")
    rules = duel()
    rules = rules.model_copy(update={"play": rules.played.model_copy(update={"tie": tie})})
    match = start(compile_program(rules, [storm]), [{"Storm": 3}, {"Storm": 3}], 1)
    take(match, "play Storm")
    assert match.asked == "over" and match.state.winner == winner


def test_the_last_seat_left_of_three_wins_and_a_lone_seat_that_goes_out_has_not_won():
    storm, calm = card("Storm", "upon play this: lose 9 ribbon for rival", "weather"), card("Calm", "upon play this: lose 9 ribbon", "weather")
    match = start(compile_program(duel(3), [storm, calm]), [{"Storm": 3}] * 3, 1)
    take(match, "play Storm")
    assert match.asked == "over" and match.state.winner == 0
    match = start(compile_program(duel(3), [storm, calm]), [{"Calm": 3}, {"Storm": 3}, {"Storm": 3}], 1)
    take(match, "play Calm")
    assert match.asked == "act" and match.seat == 1, "two are left: the match goes on"
    alone = duel(2)
    alone = alone.model_copy(update={"play": alone.played.model_copy(update={"seats": 1, "clash": None})})
    match = start(compile_program(alone, [storm, calm]), [{"Calm": 3}], 1)
    take(match, "play Calm")
    assert match.asked == "over" and match.state.winner == k.DRAWN
