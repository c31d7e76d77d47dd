"""Markets, counters, ends and the score sheet: worked examples, and properties of generated games."""

from __future__ import annotations

from random import Random

import pytest
from pydantic import ValidationError

from dramok.core.effects import parse_amount, read_script
from dramok.core.engine import Match, compile_program, start, told, view
from dramok.core.engine.kernel import codes as k
from dramok.core.engine.market_program import owned_score
from dramok.core.engine.market_view import on_sale, price_text
from dramok.core.engine.option_text import option_words
from dramok.core.engine.view import score_sheet
from dramok.core.rulebook import GameVocabulary, Rulebook
from dramok.core.rulebook.play_checks import gaps, not_playable
from dramok.core.rulebook.play_rules import PlayRules
from dramok.core.rulebook.starting_cards import placed_cards, starting_deck
from tests.conftest import SEED
from tests.core import generated
from tests.core.invented_world import DUEL, card, duel

SHELF = {"id": "shelf", "name": "Shelf", "shared": True, "kind": "row", "places": 3, "source": "stock"}
STOCK = {"id": "stock", "name": "Stock", "shared": True, "seen": "none"}
STORE = {"id": "store", "name": "Store", "shared": True, "kind": "supply"}
BUY = [{"id": "day", "name": "Day", "does": [{"do": "play", "may": ["buy"]}]}]
REED, RUSH = card("Reed", cost=2, height=4, copies=2), card("Rush", cost=1, height=1, copies=3)
FOG, MIST = card("Fog", "upon play this: gain 2 water", "weather", copies=2), card("Mist", kind="weather", copies=1)
CARDS = [REED, RUSH, FOG, MIST]


def shop(**play: object) -> Rulebook:
    """The small game as a shop: a shelf refilled from a stock, and the keys given here."""
    document = duel().model_dump(mode="json")
    document["play"] |= {
        "zones": [STOCK, SHELF], "set_up": {"placed": [{"zone": "stock", "cards": {"Reed": 2, "Rush": 3}}]}, "phases": BUY, "markets": [{"zone": "shelf", "pays": "water"}],
        "clash": None, "goals": [], "ends": [{"kind": "rounds", "number": 3}], "scoring": [{"name": "Height", "amount": amount("sum (height of own plant everywhere)")}], **play,
    }  # fmt: skip
    document["roles"] |= {"copies": "copies"}
    document["cards"]["types"][0]["fields"].append({"id": "copies", "name": "Copies", "kind": "number"})
    return Rulebook.model_validate(document)


def amount(text: str) -> dict:
    found, problems = parse_amount(text, GameVocabulary(duel()))
    assert found is not None, problems
    return found.model_dump(mode="json")


def begun(rules: Rulebook, seats: int = 2) -> Match:
    return start(compile_program(rules.with_seats(seats), CARDS), [{"Mist": 3}] * seats, 5)


def named(match: Match, instance: int) -> str:
    return match.program.cards[match.state.cdef[instance]].id


def take(match: Match, do: str, name: str = "") -> None:
    match.decide(next(each for each in match.options if each.do == do and (not name or named(match, each.card) == name)))


def test_an_older_document_keeps_its_form():
    """Rules that say nothing of markets are written as before there were any."""
    document = duel().model_dump(mode="json")
    assert not {"markets", "counters", "ends", "scoring", "ties", "most_seats"} & set(document["play"])
    assert set(document["play"]["set_up"]) == {"placed", "redraw", "second_draws", "second_gains"}
    assert set(document["play"]["phases"][1]["does"][0]) == {"do", "types", "most"} and "lasts" not in document["resources"][0]
    assert Rulebook.model_validate(document).model_dump(mode="json") == document
    assert shop().model_dump(mode="json")["play"]["markets"][0]["goes_to"] == "discard"


def test_cards_of_a_group_are_placed_as_often_as_their_copies_say():
    rules = shop(set_up={"placed": [{"zone": "stock", "cards": {"Fog": 7}, "group": {"filters": [{"kind": "stat", "field": "cost", "compare": "above", "number": 0}]}}], "start": {"MIST": 4},
                         "start_group": {"type": "weather"}})  # fmt: skip
    assert placed_cards(rules, CARDS, rules.played.set_up.placed[0]) == {"Fog": 7, "Reed": 2, "Rush": 3}
    assert starting_deck(rules, CARDS) == {"Mist": 4, "Fog": 2}
    assert starting_deck(shop(), CARDS) == {}


@pytest.mark.parametrize("seats", [1, 2, 3, 4])
def test_any_number_of_seats_buys_and_is_scored(seats):
    match = begun(shop(most_seats=4, least_seats=1), seats)
    assert match.program.seats == seats
    while match.asked != "over":
        match.take(match.choose("plain"))
    assert match.state.turn == 3 * seats
    sheet = score_sheet(match)
    owned = [sum(4 if named(match, each) == "Reed" else 1 for zone in (k.DISCARD_PILE, k.HAND, k.DRAW_PILE) for each in match.zone(zone, seat) if named(match, each) != "Mist") for seat in range(seats)]
    assert [each["Height"] for each in sheet] == owned and sum(owned) == 2 * 4 + 3
    best = [seat for seat in range(seats) if owned[seat] == max(owned)]
    assert match.state.winner == (best[0] if len(best) == 1 else k.DRAWN)


def test_prices_now_with_their_reasons():
    rules = shop(counters=[{"id": "ripe", "name": "Ripeness", "zones": ["shelf"], "price": 2}], phases=[{"id": "day", "name": "Day", "does": [{"do": "counters grow"}, *BUY[0]["does"]]}],
                 markets=[{"zone": "shelf", "pays": "water", "by_place": [-1, 0, 1], "passing": {"resource": "ribbon"}}])  # fmt: skip
    match = begun(rules)
    sales = on_sale(match, match.seat)
    assert [(named(match, each), sale.price, sale.reasons, sale.passing) for each, sale in sales.items()] == [
        ("Rush", 2, ("printed 1", "-1 in place 1", "+2 for ripeness 1"), 0), ("Rush", 3, ("printed 1", "+2 for ripeness 1"), 1), ("Rush", 4, ("printed 1", "+1 in place 3", "+2 for ripeness 1"), 2),
    ]  # fmt: skip
    assert [price_text(match, sale) for sale in sales.values()] == ["2 water", "3 water, and 1 ribbon for the cards before it", "4 water, and 2 ribbons for the cards before it"]
    assert [option_words(match, each) for each in match.options][:2] == ["Buy Rush for 2 water", "Buy Rush for 3 water, and 1 ribbon for the cards before it"]
    seen = next(zone for zone in view(match).shared if zone.zone == "shelf").cards
    assert seen is not None and [each.sale.price for each in seen if each.sale] == [2, 3, 4] and seen[0].counters == {"ripe": 1}


def test_a_card_without_a_price_is_not_for_sale_and_one_that_is_too_dear_is_no_option():
    dear, free = card("Dear", cost=99), card("Free", cost=0)
    odd = card("Odd")
    odd = type(odd)(odd.id, odd.code, odd.set, odd.type, {key: value for key, value in odd.values.items() if key != "cost"})
    rules = shop(zones=[STORE], set_up={"placed": [{"zone": "store", "cards": {"Dear": 1, "Free": 2, "Odd": 1}}]}, markets=[{"zone": "store", "pays": "water"}])
    match = start(compile_program(rules, [*CARDS, dear, free, odd]), [{"Mist": 3}] * 2, 5)
    assert [(each.do, named(match, each.card)) for each in match.options if each.do == "buy"] == [("buy", "Free")]
    assert [named(match, each) for each in on_sale(match, match.seat)] == ["Dear", "Free"]


def test_the_top_card_of_a_pile_is_sold_and_what_is_bought_can_come_into_play():
    rules = shop(zones=[{**STOCK, "seen": "all"}], markets=[{"zone": "stock", "pays": "water", "goes_to": "play"}])
    match = begun(rules)
    assert [named(match, each.card) for each in match.options if each.do == "buy"] == ["Rush"]
    take(match, "buy")
    assert [named(match, each) for each in match.zone(k.IN_PLAY, 0)] == ["Rush"] and match.state.owner[match.zone(k.IN_PLAY, 0)[0]] == 0


def test_a_limit_of_purchases_holds_for_a_turn():
    match = begun(shop(markets=[{"zone": "shelf", "pays": "water", "most": 1}]))
    take(match, "buy")
    assert [each.do for each in match.options] == ["end turn"]
    take(match, "end turn")
    assert sum(each.do == "buy" for each in match.options) == 3


def test_a_row_waits_for_its_phase_and_a_fixed_row_is_never_refilled():
    for refill, after in (("phase", 3), ("never", 2)):
        rules = shop(zones=[STOCK, {**SHELF, "refill": refill}], phases=[*BUY, {"id": "night", "name": "Night", "does": [{"do": "refill rows"}]}])
        match = begun(rules)
        take(match, "buy")
        assert len(match.zone(k.OWN_ZONES + 1, 0)) == 2
        take(match, "end turn")
        assert len(match.zone(k.OWN_ZONES + 1, 0)) == after


def test_piles_that_are_empty_at_the_start_do_not_end_the_match_before_the_first_turn():
    rules = shop(set_up={"placed": []}, ends=[{"kind": "empty", "zones": ["stock", "shelf"]}])
    match = begun(rules)
    assert match.asked == "act" and match.state.ending == 1
    take(match, "end turn")
    take(match, "end turn")
    assert match.asked == "over" and match.state.winner == k.DRAWN


def test_what_a_card_is_worth_to_its_owner_follows_from_the_score_sheet():
    lines = [
        {"name": "Height", "amount": amount("2 x sum (height of own plant everywhere)")}, {"name": "Cards", "amount": amount("count (own card everywhere)"), "minus": True},
        {"name": "Ribbons", "amount": amount("held ribbon")}, {"name": "Rivals", "amount": amount("count (rival card everywhere)")},
    ]  # fmt: skip
    rules = shop(scoring=lines)
    assert [owned_score(rules, each) for each in CARDS] == [7, 1, -1, -1]


@pytest.mark.parametrize(("play", "says"), [
    ({"zones": [{**SHELF, "source": None, "shared": False}]}, "it belongs to all"), ({"zones": [{**STORE, "places": 2}]}, "a row has a number of places"),
    ({"zones": [{**STORE, "source": "stock"}]}, "nothing refills it"), ({"zones": [STOCK, {**SHELF, "shuffled": True}]}, "neither shuffled nor limited"), ({"zones": [STOCK, {**SHELF, "source": "nowhere"}]}, "not a pile of all seats"),
    ({"zones": [STORE, STOCK], "markets": [{"zone": "store", "pays": "water", "by_place": [1]}]}, "can't depend on places"), ({"markets": [{"zone": "hand", "pays": "water"}]}, "not a zone of all seats"),
    ({"markets": [{"zone": "shelf", "pays": "gold"}]}, "which is not a resource"), ({"markets": [{"zone": "shelf", "pays": "water", "price": "tags"}]}, "not a whole number of a card"),
    ({"markets": [{"zone": "shelf", "pays": "water"}] * 2}, "two markets sell"), ({"counters": [{"id": "h", "name": "Height", "zones": ["shelf"]}]}, "the name of a field"),
    ({"ends": [{"kind": "sold out", "zones": ["stock"], "number": 1}]}, "in a supply only"), ({"ends": [{"kind": "empty"}]}, "names them"), ({"ends": [{"kind": "reached", "number": 3}]}, "names it"),
    ({"ends": [{"kind": "empty", "zones": ["nowhere"]}]}, "there is no zone nowhere"), ({"most_seats": 1}, "is not from 2 to 1"),
])  # fmt: skip
def test_rules_that_contradict_themselves_are_refused_with_the_reason(play, says):
    with pytest.raises(ValidationError, match=says):
        shop(**play)


@pytest.mark.parametrize(("play", "says", "stops"), [
    ({"set_up": {"placed": []}}, "Shelf sells cards, and none are put there", True), ({"phases": [{"id": "day", "name": "Day", "does": [{"do": "play"}]}]}, "no phase lets them be bought", False),
    ({"markets": []}, "nothing is for sale", False), ({"ends": []}, "there is no goal", True), ({"scoring": []}, "it is always a draw", False),
    ({"zones": [STOCK, {**SHELF, "refill": "phase"}]}, "waits to be refilled", False), ({"counters": [{"id": "ripe", "name": "Ripe", "zones": ["shelf"]}]}, "counters never grow", False),
    ({"after_play": [{"type": "weather", "becomes": "cleared"}]}, "wait to be cleared away", False),
])  # fmt: skip
def test_what_a_shop_lacks_is_said(play, says, stops):
    rules = shop(**play)
    found = next(gap for gap in gaps(rules) if says in gap.what)
    assert found.stops == stops and (not_playable(rules) is not None) == stops


def test_a_score_line_about_a_card_is_refused():
    found, problems = parse_amount("height of this + 1", GameVocabulary(duel()))
    assert found is None and problems[0].what == "“this” is a card, and this amount belongs to no card" and problems[0].span.column == 11
    with pytest.raises(ValueError, match="is about a card, and there is none"):
        compile_program(shop(scoring=[{"name": "Odd", "amount": {"kind": "stat", "field": "height", "of": "this"}}]), CARDS)


def sold(seed: int) -> Match:
    """A generated game with markets, played by chance to its end or for a while; nothing is lost or made on the way."""
    dice = Random(f"market {seed}")
    program = generated.program(dice)
    while not program.rulebook.played.markets:
        program = generated.program(dice)
    decks = [[dice.choice(program.cards).id for _ in range(10)] for _ in range(program.seats)]
    match = start(program, decks, seed)
    rules, s = program.rulebook.played, match.state
    cards = s.cards
    for _ in range(80):
        if match.asked == "over":
            break
        held = sorted(each for zone in range(len(program.zones)) if program.zones[zone] or zone < k.OWN_ZONES for seat in range(program.seats) for each in match.zone(zone, seat) if not _again(match, zone, seat))
        acting = range(s.first_action, s.first_action + s.seats * len(rules.actions))
        assert held == [each for each in range(cards) if each not in acting], f"seed {seed}: every card is in exactly one zone"
        tokens = {each: s.tokens_on[each] for each in range(cards) if s.tokens_on[each]}
        assert all(s.zone[each] >= k.OWN_ZONES for each in tokens), f"seed {seed}: tokens are on cards of rows only"
        if match.asked == "act":
            caps = {number: each.cap for number, each in enumerate(program.rulebook.resources) if each.cap is not None}
            assert all(s.res[number * k.MOST_SEATS + seat] <= cap for number, cap in caps.items() for seat in range(program.seats)), f"seed {seed}: caps hold"
            for row in rules.zones:
                count = len(match.zone(program.zones.index(row.id), 0)) if row.kind == "row" else 0
                source = len(match.zone(program.zones.index(row.source), 0)) if row.source else 0
                assert row.kind != "row" or row.refill != "at once" or count == row.places or source == 0 or count > row.places, f"seed {seed}: {row.name} is full"
        match.take(dice.randrange(s.options))
    return match


def _again(match: Match, zone: int, seat: int) -> bool:
    """Whether a zone was already counted for another seat: shared zones have one list."""
    p = match.program.numbers
    return seat > 0 and p[p[k.H_ZONE_ROWS] + zone * k.ZONE_WIDTH + k.Z_STRIDE] == 0


def test_in_generated_games_cards_are_kept_rows_are_full_and_sheets_add_up():
    scored = 0
    for seed in range(int(SEED) * 50, int(SEED) * 50 + 40):
        match = sold(seed)
        sheet = score_sheet(match)
        if not sheet:
            continue
        scored += 1
        s = match.state
        out = [seat for seat in range(s.seats) if s.out[seat]]
        totals = {seat: sum(lines.values()) for seat, lines in enumerate(sheet) if seat not in out}
        best = [seat for seat, total in totals.items() if total == max(totals.values())]
        assert s.winner in best or s.winner == k.DRAWN and len(best) > 1, f"seed {seed}"
        if len(best) == 1:
            assert s.winner == best[0], f"seed {seed}"
        ended = match.program.rulebook.played.ends
        if s.winner >= 0 and not out and all(each.when != "at once" for each in ended):
            assert s.turn % s.seats == 0, f"seed {seed}: everyone has had equally many turns"
    assert scored > 3


def test_rules_can_be_read_again():
    rules = PlayRules.model_validate(shop().played.model_dump(mode="json"))
    assert rules == shop().played


def test_the_own_draw_pile_is_seen_as_counts_and_no_other():
    """They say nothing of the order, and a rival's pile is not among them."""
    rules = shop()
    cards = [*CARDS, card("Mine"), card("Theirs")]
    match = start(compile_program(rules, cards), [{"Mine": 4, "Mist": 3}, {"Theirs": 7}], 5)
    seen = view(match, 0)
    held = [named(match, each) for each in match.zone(k.HAND, 0)]
    assert seen.left == {name: count - held.count(name) for name, count in (("Mine", 4), ("Mist", 3)) if count > held.count(name)}
    assert list(seen.left) == sorted(seen.left) and sum(seen.left.values()) == 4
    assert view(match, 1).left == {"Theirs": 4}


def test_a_number_that_an_action_of_the_rules_changed_names_the_action():
    words = GameVocabulary(DUEL)
    effect = read_script("offer free, limit 1 a turn: raise height of pick own plant by 2 until end turn", words)[0]
    play = {**DUEL.played.model_dump(mode="json"), "actions": [{"id": "stake", "name": "Stake it", "effect": effect.model_dump(mode="json")}]}
    rules = Rulebook.model_validate({**DUEL.model_dump(mode="json"), "play": play})
    match = start(compile_program(rules, [card("Reed", cost=0, height=1, root=3)]), [["Reed"] * 6] * 2, 1)
    match.decide(next(each for each in match.options if each.do == "play"))
    match.decide(next(each for each in match.options if each.do == "use"))
    match.decide(next(each for each in match.options if each.do == "pick"))
    (seen,) = view(match).in_play
    assert seen.stats["height"] == 3 and seen.changes == ("height +2 by Stake it, for a while",)
    assert "You: action Stake it." in [line.text for line in told(match, 0)]


def acted(*effects: str) -> Rulebook:
    """A duel with these actions of the rules."""
    words = GameVocabulary(DUEL)
    actions = [{"id": f"a{place}", "name": f"Act {place}", "effect": read_script(effect, words)[0].model_dump(mode="json")} for place, effect in enumerate(effects)]
    return Rulebook.model_validate({**DUEL.model_dump(mode="json"), "play": {**DUEL.played.model_dump(mode="json"), "actions": actions}})


@pytest.mark.parametrize(("effects", "named"), [
    (["offer pay 1 water: gain 2 ribbon", "offer pay 1 ribbon: gain 1 water"], "Act 0 and Act 1 together give more than they take"),
    (["offer pay 2 water: gain 1 ribbon", "offer pay 1 ribbon: gain 2 water"], ""), (["offer pay 2 water: gain 1 ribbon", "offer pay 1 ribbon: gain 3 water"], "together give more"),
    (["offer pay 1 water: gain 2 water"], "Act 0 gives more than it takes"), (["offer pay 1 water, limit 3 a turn: gain 2 water"], ""), (["offer pay 3 water: gain 2 water"], ""),
    (["offer discard 1: gain 2 water"], ""), (["offer pay 1 water: gain 2 ribbon for rival", "offer pay 1 ribbon: gain 1 water"], ""),
])  # fmt: skip
def test_exchanges_that_never_end_are_named(effects, named):
    found = [gap.what for gap in gaps(acted(*effects)) if gap.part == "actions"]
    assert (named in found[0]) if named else not found


def test_an_action_that_costs_nothing_has_a_limit_and_one_that_nobody_can_take_is_a_gap():
    with pytest.raises(ValidationError, match="costs nothing and could be taken without end"):
        acted("offer pay 0 water: gain 1 ribbon")
    assert acted("offer pay 0 water, limit 1 a turn: gain 1 ribbon").played.actions
    rules = acted("offer pay 1 water: draw 1")
    play = rules.played.model_dump(mode="json")
    for phase in play["phases"]:
        phase["does"] = [{**each, "may": ["play"]} if each["do"] == "play" else each for each in phase["does"]]
    shut = rules.model_copy(update={"play": PlayRules.model_validate(play)})
    assert any("no phase lets players take them" in gap.what for gap in gaps(shut)) and not any("take them" in gap.what for gap in gaps(rules))


def test_a_card_with_the_name_of_an_action_is_no_action_in_the_log():
    words = GameVocabulary(DUEL)
    rules = acted("offer free, limit 1 a turn: gain 1 ribbon")
    match = start(compile_program(rules, [card("Act 0", "offer free, limit 1 a turn: gain 1 ribbon", cost=0, vocabulary=words)]), [["Act 0"] * 6] * 2, 1)
    match.decide(next(each for each in match.options if each.do == "play"))
    for _ in range(2):
        match.decide(next(each for each in match.options if each.do == "use"))
    assert [line.text for line in told(match, 0) if "is used" in line.text or "action" in line.text] == ["Act 0 is used.", "You: action Act 0."]
