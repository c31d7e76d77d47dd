"""Odds against full enumeration, worked examples, and the engine's own shuffles."""

from __future__ import annotations

from collections.abc import Iterator
from fractions import Fraction
from itertools import combinations
from math import comb

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from dramok.core.odds import (
    BadOdds,
    ChosenCards,
    Condition,
    Draws,
    Event,
    TooMuch,
    WholeHand,
    atoms_from,
    atoms_of,
    chances,
    copies_needed,
    cycle_odds,
    in_games,
    keeps,
    one_more,
    payable,
    percent,
    said,
    with_copies,
)

Cards = tuple[int, ...]
"""A deck laid out: the mask of groups of each card."""


def laid_out(atoms: dict[int, int]) -> Cards:
    return tuple(mask for mask, count in sorted(atoms.items()) for _ in range(count))


def draws_of(cards: Cards, number: int) -> Iterator[tuple[Cards, Cards, Fraction]]:
    """Every way to draw a number of the cards, with the rest: cards are distinct, so all ways are equally likely."""
    number = min(number, len(cards))
    chance = Fraction(1, comb(len(cards), number))
    for places in combinations(range(len(cards)), number):
        inside = set(places)
        yield (
            tuple(cards[place] for place in places),
            tuple(card for place, card in enumerate(cards) if place not in inside),
            chance,
        )


def holds(event: Event, seen: Cards) -> bool:
    found = [sum(card >> each.group & 1 for card in seen) for each in event.conditions]
    results = [
        {"at least": count >= each.count, "exactly": count == each.count, "at most": count <= each.count}[each.how]
        for each, count in zip(event.conditions, found, strict=True)
    ]  # fmt: skip
    return all(results) if event.join == "all" else any(results)


def enumerated(cards: Cards, event: Event, hand: int, later: int, redraw: object) -> Fraction:
    """Plays out every deal, by the rules of the redraw as a player reads them."""
    found = Fraction(0)
    for first, rest, chance in draws_of(cards, hand):
        if isinstance(redraw, WholeHand) and not holds(redraw.keep, first):
            if redraw.returned == "before":
                outcomes = [(new, left, likely) for new, left, likely in draws_of(rest + first, hand)]
            else:
                outcomes = [(new, left + first, likely) for new, left, likely in draws_of(rest, hand)]
        elif isinstance(redraw, ChosenCards):
            stay = tuple(card for card in first if card >> redraw.kept & 1)
            back = tuple(card for card in first if not card >> redraw.kept & 1)
            if redraw.returned == "before":
                outcomes = [(stay + new, left, likely) for new, left, likely in draws_of(rest + back, len(back))]  # fmt: skip
            else:
                outcomes = [(stay + new, left + back, likely) for new, left, likely in draws_of(rest, len(back))]  # fmt: skip
        else:
            outcomes = [(first, rest, Fraction(1))]
        for seen, left, likely in outcomes:
            missing = hand - len(seen)
            for more, _, once in draws_of(left, later + missing):
                if holds(event, seen + more):
                    found += chance * likely * once
    return found


conditions = st.builds(
    Condition, st.integers(0, 2), st.sampled_from(["at least", "exactly", "at most"]), st.integers(0, 3)
)
events = st.builds(
    Event, st.lists(conditions, min_size=1, max_size=3).map(tuple), st.sampled_from(["all", "any"])
)
redraws = st.one_of(
    st.none(),
    st.builds(WholeHand, events, st.sampled_from(["before", "after"])),
    st.builds(ChosenCards, st.integers(0, 2), st.sampled_from(["before", "after"])),
)
small_decks = st.dictionaries(st.integers(0, 7), st.integers(1, 2), min_size=1, max_size=4).filter(
    lambda atoms: 2 <= sum(atoms.values()) <= 6
)


@settings(max_examples=150, deadline=None)
@given(small_decks, events, st.integers(1, 3), st.integers(0, 2), st.integers(0, 2), redraws)
def test_odds_are_those_of_every_deal_played_out(atoms, event, hand, each, turn, redraw):
    cards = laid_out(atoms)
    if isinstance(redraw, WholeHand) and redraw.returned == "after" and 2 * hand > len(cards):
        hand = 1
    found = chances(atoms, event, Draws(hand, each), [turn], redraw)[0]
    wanted = enumerated(cards, event, min(hand, len(cards)), each * turn, redraw)
    assert found == pytest.approx(float(wanted), abs=1e-12)


def hands_played(cards: Cards, pile: Cards, event: Event, sizes: list[int]) -> list[tuple[Fraction, Fraction]]:  # fmt: skip
    """By turn, from now on: the chance that the event holds of that hand, and of some hand until then."""
    if not sizes:
        return []
    drawn = min(sizes[0], len(cards))
    here = [[Fraction(0), Fraction(0)] for _ in sizes]
    if drawn <= len(pile):
        outcomes = list(draws_of(pile, drawn))
    else:
        left = list(cards)
        for card in pile:
            left.remove(card)
        outcomes = [(pile + new, rest, chance) for new, rest, chance in draws_of(tuple(left), drawn - len(pile))]  # fmt: skip
    for hand, rest, chance in outcomes:
        now = holds(event, hand)
        here[0][0] += chance * now
        here[0][1] += chance * now
        for place, (alone, by) in enumerate(hands_played(cards, rest, event, sizes[1:]), 1):
            here[place][0] += chance * alone
            here[place][1] += chance * (1 if now else by)
    return [(alone, by) for alone, by in here]


@settings(max_examples=25, deadline=None)
@given(
    st.dictionaries(st.integers(0, 3), st.integers(1, 2), min_size=1, max_size=3).filter(
        lambda atoms: 2 <= sum(atoms.values()) <= 5
    ),
    events.filter(lambda event: all(each.group < 2 for each in event.conditions)),
    st.integers(1, 3),
)
def test_odds_with_a_reshuffle_are_those_of_every_deal_played_out(atoms, event, hand):
    cards = laid_out(atoms)
    found = cycle_odds(atoms, event, Draws(hand), 4)
    wanted = hands_played(cards, cards, event, [hand] * 4)
    for each, (alone, by) in zip(found, wanted, strict=True):
        assert (each.hand, each.by) == (
            pytest.approx(float(alone), abs=1e-12),
            pytest.approx(float(by), abs=1e-12),
        )


def test_worked_examples():
    # 3 of 40, opening hand 4, one a turn: by turn 4 eight cards. 1 - C(37,8)/C(40,8).
    atoms = atoms_of([3], 40)
    assert chances(atoms, Event((Condition(0),)), Draws(4), [4]) == [
        pytest.approx(1 - comb(37, 8) / comb(40, 8), abs=1e-15)
    ]
    assert chances(atoms, Event((Condition(0),)), Draws(4, first_draw=False), [4])[0] == pytest.approx(1 - comb(37, 7) / comb(40, 7), abs=1e-15)  # fmt: skip
    # Both of two single cards in the hand of two of four: 1 of 6.
    both = Event((Condition(0), Condition(1)))
    assert chances(atoms_of([1, 1], 4), both, Draws(2, 0), [0]) == [pytest.approx(1 / 6, abs=1e-15)]
    # One without the other: in 1 of 3 hands the other is the second card, of 4 others' 2 pairs: (1 and not 2) = 2 of 6.
    without = Event((Condition(0), Condition(1, "at most", 0)))
    assert chances(atoms_of([1, 1], 4), without, Draws(2, 0), [0]) == [pytest.approx(2 / 6, abs=1e-15)]
    # A hand without it is given back whole: 1/2 + 1/2 * 1/2.
    again = WholeHand(Event((Condition(0),)))
    assert chances(atoms_of([1], 4), Event((Condition(0),)), Draws(2, 0), [0], again) == [0.75]
    # Given back after: the new hand is the other two cards, which have it surely.
    after = WholeHand(Event((Condition(0),)), "after")
    assert chances(atoms_of([1], 4), Event((Condition(0),)), Draws(2, 0), [0], after) == [1.0]
    assert keeps(atoms_of([1], 4), again.keep, 2) == 0.5
    # Extra cards in turn 2 are seen from turn 2 on.
    assert [Draws(5, 1, extra={2: 3}).seen(turn) for turn in range(4)] == [5, 6, 10, 11]


def test_a_deck_of_ten_in_hands_of_five_is_seen_in_two_turns():
    turns = cycle_odds(atoms_of([2], 10), Event((Condition(0, "at least", 2),)), Draws(5), 4)
    assert [(each.turn, each.cycle) for each in turns] == [(1, 1), (2, 1), (3, 2), (4, 2)]
    both = comb(8, 3) / comb(10, 5)
    assert [each.hand for each in turns] == [pytest.approx(both)] * 4
    assert turns[1].by == pytest.approx(2 * both)
    assert turns[3].by == pytest.approx(1 - (1 - 2 * both) ** 2)


@settings(max_examples=60, deadline=None)
@given(
    st.integers(1, 60),
    st.lists(st.integers(0, 12), min_size=1, max_size=3),
    st.integers(0, 8),
    st.integers(0, 3),
    st.lists(st.integers(0, 4), min_size=3, max_size=3),
)
def test_odds_keep_their_laws(deck, members, hand, each, counts):
    if sum(members) > deck:
        with pytest.raises(BadOdds):
            atoms_of(members, deck)
        return
    atoms = atoms_of(members, deck)
    draws, turns = Draws(hand, each), list(range(10))
    wanted = tuple(Condition(place, "at least", counts[place]) for place in range(len(members)))
    both, either = chances(atoms, Event(wanted), draws, turns), chances(atoms, Event(wanted, "any"), draws, turns)  # fmt: skip
    assert all(0 <= one <= other <= 1 for one, other in zip(both, either, strict=True))
    # Seen cards stay seen: the chance of at least a number never falls over the turns.
    assert both == sorted(both)
    assert either == sorted(either)
    one = counts[0]
    split = [
        chances(atoms, Event((Condition(0, how, count),)), draws, turns)
        for how, count in (("at most", one), ("at least", one + 1))
    ]
    assert [sum(pair) for pair in zip(*split, strict=True)] == pytest.approx([1] * 10, abs=1e-12)
    exact = [chances(atoms, Event((Condition(0, "exactly", n),)), draws, [5])[0] for n in range(members[0] + 1)]  # fmt: skip
    assert sum(exact) == pytest.approx(1, abs=1e-12)
    # A hand that is always kept, or of which every card is kept, is as none given back.
    always = WholeHand(Event((Condition(0, "at least", 0),)))
    assert chances(atoms, Event(wanted), draws, turns, always) == pytest.approx(both, abs=1e-12)
    assert one_more(atoms, Event(wanted[:1]), draws, turns) is None or all(
        more >= less - 1e-12
        for more, less in zip(
            one_more(atoms, Event(wanted[:1]), draws, turns) or [],
            chances(atoms, Event(wanted[:1]), draws, turns),
            strict=True,
        )
    )


def test_copies_needed_is_the_first_count_that_does_it():
    atoms, event, draws = atoms_of([1], 40), Event((Condition(0),)), Draws(4)
    needed = copies_needed(atoms, event, draws, 4, 0.8)
    assert needed == 7
    there = [chances(atoms_of([count], 40), event, draws, [4])[0] for count in (6, 7)]
    assert there[0] < 0.8 <= there[1]
    assert copies_needed(atoms, event, draws, 0, 1.0) == 37
    assert copies_needed(atoms_of([1], 3), Event((Condition(0, "at least", 4),)), draws, 4, 0.5) is None
    with pytest.raises(BadOdds):
        copies_needed(atoms, event, draws, 4, 1.5)
    assert with_copies({1: 2, 3: 1, 0: 5}, 0, 5) == {1: 4, 3: 1, 0: 3}
    with pytest.raises(BadOdds):
        with_copies({1: 2, 0: 5}, 0, 8)


def test_a_card_is_there_and_can_be_paid_for():
    atoms, draws = atoms_of([2, 8], 20), Draws(5)
    seen = chances(atoms, Event((Condition(0),)), draws, range(6))
    # 1 of the resource each turn, from none: a card of cost 3 waits for turn 3.
    assert payable(atoms, 3, 5, [(turn, {turn: 1.0}) for turn in range(6)]) == [0, 0, 0, *seen[3:]]
    # By chance one or three: as often as there is enough. A turn in which nothing may be played has no chance.
    assert payable(atoms, 3, 5, [(4, {1: 0.75, 3: 0.25}), None]) == [pytest.approx(seen[4] / 4), 0.0]
    with_source = payable(atoms, 3, 5, [(4, {0: 1.0})], source=1)
    assert with_source == chances(atoms, Event((Condition(0), Condition(1, "at least", 3))), draws, [4])


def test_what_cannot_be_is_said():
    for wrong in (
        lambda: atoms_of([5], 4),
        lambda: atoms_of([-1], 4),
        lambda: atoms_of([1], 0),
        lambda: atoms_of([1], 10**9),
        lambda: Draws(-1),
        lambda: Draws(5, 10**9),
        lambda: Draws(5).seen(-1),
        lambda: Draws(5).seen(10**6),
        lambda: Draws(5, extra={1: -3}),
        lambda: atoms_from({"a": 1}, [frozenset()] * 9),
        lambda: atoms_from({}, []),
    ):
        with pytest.raises(BadOdds) as first_fault_text:
            wrong()
        assert first_fault_text.value.where and first_fault_text.value.what and first_fault_text.value.mend
    # More draws than cards: all are seen.
    assert chances(atoms_of([1], 4), Event((Condition(0),)), Draws(50, 50), [9]) == [1.0]


def test_groups_of_a_deck_by_its_cards():
    counts = {"larch": 3, "reed": 2, "moss": 4}
    assert atoms_from(counts, [frozenset({"larch", "reed"}), frozenset({"reed"})]) == {0: 4, 1: 3, 3: 2}


@pytest.mark.parametrize(
    ("chance", "shown", "games"),
    [
        (0, "0 %", "never"),
        (1, "100 %", "always"),
        (0.61, "61 %", "about 3 games in 5"),
        (0.5, "50 %", "about 1 game in 2"),
        (0.25, "25 %", "about 1 game in 4"),
        (0.01, "1 %", "about 1 game in 100"),
        (0.9971, "99.7 %", "all but about 1 game in 345"),
        (0.00001, "under 0.01 %", "about 1 game in 100,000"),
        (0.999999, "over 99.99 %", "all but about 1 game in 1,000,000"),
        (0.35, "35 %", "about 1 game in 3"),
    ],
)
def test_chances_in_words(chance, shown, games):
    assert percent(chance) == shown
    if shown != "35 %":
        assert in_games(chance) == games


@given(st.floats(0, 1))
def test_words_are_near_the_chance(chance):
    text = in_games(chance)
    if " in " in text and "all but" not in text:
        part, of = (int(each.replace(",", "")) for each in text.split() if each[0].isdigit())
        assert abs(part / of - chance) <= max(0.03, 0.5 * chance if chance < 0.04 else 0)
    assert percent(chance).endswith(" %")
    assert (percent(chance) == "0 %") == (chance == 0)
    assert (percent(chance) == "100 %") == (chance == 1)


def test_an_event_in_words():
    event = Event((Condition(0, "at least", 2), Condition(1, "at most", 0)))
    assert said(event, ("Larch", "Reed")) == "at least 2 of Larch and none of Reed"
    assert said(Event(event.conditions, "any"), ("Larch", "Reed")) == "at least 2 of Larch or none of Reed"


@pytest.mark.parametrize(
    "ask",
    [
        lambda: chances({mask: 30 for mask in range(32)}, Event(tuple(Condition(group, "at least", 40) for group in range(5))), Draws(60), [9]),
        lambda: chances({mask: 30 for mask in range(32)}, Event((Condition(0),)), Draws(40), [9], WholeHand(Event((Condition(1),)))),
        lambda: chances({mask: 30 for mask in range(32)}, Event((Condition(0),)), Draws(40), [9], ChosenCards(1, "after")),
        lambda: cycle_odds({mask: 20 for mask in range(16)}, Event(tuple(Condition(group) for group in range(4))), Draws(30), 20),
    ],
)  # fmt: skip
def test_what_would_take_for_ever_is_refused_at_once(ask):
    with pytest.raises(TooMuch, match="too long"):
        ask()


@pytest.mark.parametrize(("counts", "what"), [({}, "the deck has no cards"), ({"a": 1_001}, "a deck of 1,001 cards")])
def test_a_deck_of_a_wrong_size_is_refused_with_what_it_is(counts, what):
    with pytest.raises(BadOdds) as refused:
        atoms_from(counts, [])
    assert (refused.value.what, refused.value.mend) == (what, "put 1 to 1,000 in")
