"""Lifts from games whose truth is known: coverage, which cards are flagged and which are not; thousands of legal random decks."""

from __future__ import annotations

import json
from collections import Counter
from random import Random

import pytest

np = pytest.importorskip("numpy")

from dramok.core.balance.measured.lift import LARGE, going_first, measured  # noqa: E402
from dramok.core.balance.measured.sweep import SweepPoint, fair_value, sweep_points  # noqa: E402
from dramok.core.cards import Card  # noqa: E402
from dramok.core.decks import Deck, Format, legality  # noqa: E402
from dramok.core.decks.deck_rules import Cap, Section, Share  # noqa: E402
from dramok.core.decks.random_deck import random_deck  # noqa: E402
from dramok.core.decks.sampling import DeckKind, dealt, deck_kind, legal_share, mix_numbers, mixes_of  # noqa: E402
from tests.conftest import SEED  # noqa: E402
from tests.core.invented_world import RULEBOOK, card  # noqa: E402

CARDS, SIZE = 24, 12


def games_of(truth, games: int, chance, first: float = 0.2):
    """Games between random decks, won as the truth (logits a copy) has it."""
    slots = np.repeat(np.arange(CARDS), 3)
    decks = np.stack([chance.permutation(slots)[:SIZE] for _ in range(2 * games)])
    counts = np.zeros((2 * games, CARDS), np.int8)
    for place in range(SIZE):
        np.add.at(counts, (np.arange(2 * games), decks[:, place]), 1)
    counts = counts.reshape(games, 2, CARDS)
    logit = (counts[:, 0].astype(float) - counts[:, 1]) @ truth + first
    won = (chance.random(games) < 1 / (1 + np.exp(-logit))).astype(float)
    return counts, won


def points(truth, counts, first: float = 0.2):
    """True lifts: points of win rate a copy, relative to the average card."""
    logit = (counts[:, 0].astype(float) - counts[:, 1]) @ truth + first
    chance = 1 / (1 + np.exp(-logit))
    return 100 * float(np.mean(chance * (1 - chance))) * (truth - truth.mean())


def test_intervals_cover_the_truth_as_often_as_they_say():
    chance = np.random.default_rng(SEED)
    inside = told = 0
    for _ in range(12):
        truth = chance.normal(0, 0.08, CARDS)
        counts, won = games_of(truth, 2_500, chance)
        found, real = measured(counts, won), points(truth, counts)
        for lift, true in zip(found.lifts, real, strict=True):
            inside += lift.low <= true <= lift.high
            told += 1
        assert abs(sum(each.lift for each in found.lifts)) < 0.5
    # 288 intervals: 94 % of them, give or take four standard deviations as they are from seed to seed (1.5 %: those of one set go together).
    assert 0.87 <= inside / told <= 0.995, (inside, told, SEED)


def test_planted_cards_are_named_and_a_planted_nothing_is_not():
    chance = np.random.default_rng(SEED + 1)
    truth = np.zeros(CARDS)
    truth[[3, 9]] = 0.2
    truth[17] = -0.2
    counts, won = games_of(truth, 12_000, chance)
    found = measured(counts, won)
    assert {place for place, each in enumerate(found.lifts) if each.named} == {3, 9, 17}, SEED
    assert found.lifts[3].lift > LARGE and found.lifts[17].lift < -LARGE
    nothing = measured(*games_of(np.zeros(CARDS), 6_000, chance))
    assert not any(each.named for each in nothing.lifts) and nothing.spread < 1.0
    low, high = nothing.first[1:]
    assert low - 1.5 <= 100 * 0.2 / 4 <= high + 1.5


def test_few_games_one_card_identical_cards_and_one_sided_games():
    counts = np.zeros((5, 2, 3), np.int8)
    counts[:, :, 0] = 4
    assert measured(counts, np.ones(5)).lifts == (None, None, None)
    counts[:, 0, 1], counts[:, 1, 2] = 1, 1
    always = measured(counts, np.ones(5))
    assert all(each is None or np.isfinite([each.lift, each.low, each.high]).all() for each in always.lifts)
    assert not any(each.named for each in always.lifts if each)
    chance = np.random.default_rng(SEED)
    for won in (np.ones(900), np.zeros(900), np.full(900, 0.5)):
        sided, first, _, _, _ = piled(np.zeros(CARDS), 900, chance, 4, 0.5)
        found = measured(sided, won, first, chance.integers(0, 3, (900, 2)))
        assert all(np.isfinite([each.lift, each.low, each.high]).all() and not each.named for each in found.lifts) and np.isfinite(found.first).all()
    none = measured(np.zeros((0, 2, 3), np.int8), np.zeros(0))
    assert none.games == 0 and none.lifts == (None, None, None)


def pool(dice: Random, number: int) -> list[Card]:
    return [card(f"Card {each}", bed=dice.choice(["fern", "moss", "briar"]), rarity=dice.choice(["common", "rare"])) for each in range(number)]


@pytest.mark.parametrize("mixed", [None, 1, 2])
def test_decks_dealt_by_the_thousand_are_legal_and_the_same_for_a_seed(mixed):
    dice = Random(f"{SEED} {mixed}")
    cards = pool(dice, 120)  # of which any one faction fills a deck
    rules = Format(
        id="one", name="One", least_cards=20, most_cards=30, copies=3, copies_by_rarity={"rare": 1}, most_factions=mixed, limited={"Card 3": 1}, banned=("Card 5",),
    )  # fmt: skip
    kind = deck_kind(cards, RULEBOOK, rules)
    assert kind is not None
    decks = dealt(kind, SEED, 7, 400)
    assert decks.shape == (400, 20) and (decks == dealt(kind, SEED, 7, 400)).all() and not (decks == dealt(kind, SEED, 8, 400)).all()
    there = {each.id: each for each in cards}
    for row in decks:
        counts: dict[str, int] = {}
        for place in row:
            counts[cards[place].id] = counts.get(cards[place].id, 0) + 1
        assert not legality(Deck("", "", counts), there, RULEBOOK, rules)
    # Few of them are alike: of one faction there are not many to make.
    assert len({tuple(row) for row in decks}) > (100 if mixed == 1 else 380)
    assert set(np.unique(decks)) == {place for place, each in enumerate(cards) if each.id != "Card 5"}
    assert mixes_of(kind) == len(mix_numbers(kind)) == {None: 0, 1: 3, 2: 3}[mixed]


@pytest.mark.parametrize("holding", [(), (2, 7)])
def test_decks_within_shares_and_caps_are_dealt_by_the_thousand_too(holding):
    """Legal by the rules' own reading, the same for a seed, and who holds a card holds it within the bounds."""
    dice = Random(f"{SEED} bounds")
    cards = [
        card(f"Card {number}", kind="weather" if number % 3 == 0 else "plant", cost=dice.randint(0, 6), bed=["fern", "moss", "briar"][number % 3]) for number in range(40)
    ]  # fmt: skip
    rules = Format(
        id="one", name="One", least_cards=20, most_cards=20, copies=2, types={"plant": Share(least=12, most=15)}, factions={"fern": Share(most=9)},
        caps=(Cap(field="cost", least=40, most=72),),
    )  # fmt: skip
    kind = deck_kind(cards, RULEBOOK, rules)
    assert kind is not None and len(kind.bounds) == 3 and 0.01 < legal_share(kind) < 1
    assert DeckKind.read(json.loads(json.dumps(kind.plain()))) == kind
    decks = dealt(kind, SEED, 3, 400, holding)
    assert (decks == dealt(kind, SEED, 3, 400, holding)).all() and len({tuple(row) for row in decks}) == 400
    there = {each.id: each for each in cards}
    for number, row in enumerate(decks):
        counts = Counter(cards[place].id for place in row)
        assert not legality(Deck("", "", dict(counts)), there, RULEBOOK, rules)
        if holding:
            assert (holding[number // 2 // 2 % 2] in row) == (number % 2 == 0)


def test_rules_of_an_unusual_kind_are_left_to_the_maker_of_single_decks():
    cards = pool(Random(SEED), 30)
    usual = Format(id="one", name="One", least_cards=20, most_cards=30, copies=3)
    assert deck_kind(cards, RULEBOOK, usual) is not None
    side = Section(id="side", name="Side", least=4)
    for how in ({"sections": (side,)}, {"types": {"weather": Share(least=5)}}, {"caps": (Cap(field="height", most=9),)}, {"least_cards": 200, "most_cards": 200}):
        assert deck_kind(cards, RULEBOOK, usual.model_copy(update=how)) is None, how
    assert deck_kind([], RULEBOOK, usual) is None
    # Rules that leave the size open get decks of the likely size, as single ones do.
    opened = usual.model_copy(update={"least_cards": 1, "most_cards": 500})
    kind = deck_kind(cards, RULEBOOK, opened)
    one = random_deck(Deck("", "", {}), cards, RULEBOOK, opened, SEED)
    assert kind is not None and one is not None and kind.size == one.size == 40


def test_every_other_deck_holds_the_card_that_is_swept_and_the_rest_do_not():
    dice = Random(f"{SEED} holding")
    rules = Format(id="one", name="One", least_cards=20, most_cards=30, copies=3, most_factions=1)
    # A pool in which some faction has too few cards for a deck has no kind of deck: another is made up.
    made_up = ((cards, deck_kind(cards, RULEBOOK, rules)) for cards in (pool(dice, 40) for _ in range(50)))
    cards, kind = next((cards, kind) for cards, kind in made_up if kind is not None)
    there = {each.id: each for each in cards}
    for holding in dice.sample(range(40), 4):
        decks = dealt(kind, SEED, 0, 60, [holding])
        assert (decks[::2] == holding).any(axis=1).all()
        for row in decks[1::2][(decks[1::2] == holding).any(axis=1)]:
            # It can't do without: its own faction and the free cards are too few.
            mine = {kind.factions[kind.slots.index(place)] for place in row} | {-1}
            others = [place for place, faction in zip(kind.slots, kind.factions, strict=True) if faction in mine and place != holding]
            assert len(others) < kind.size
        for row in decks[::7]:
            counts = {cards[place].id: list(row).count(place) for place in set(row)}
            assert not legality(Deck("", "", counts), there, RULEBOOK, rules)


def test_a_sweep_by_hand():
    """Four games a value: shares and paired differences as one reckons them."""
    points = sweep_points([1, 2], [[1, 0, 0, 0.5], [1, 1, 0, 1]], 0)
    assert [(each.value, each.rate, each.more) for each in points] == [(1, 37.5, 0), (2, 75, 37.5)]
    assert (points[0].more_low, points[0].more_high) == (0, 0)
    # Differences 0, 1, 0, a half: their standard deviation is sqrt(11/48).
    assert points[1].more_high - points[1].more == pytest.approx(100 * 1.96 * (11 / 48) ** 0.5 / 2)


def piled(truth, games: int, chance, near: int, share: float, mixes: int = 0, spread: float = 0.0):
    """Games in which only cards among the first `near` count whole and others a share; decks of a mix are luckier or not."""
    slots = np.repeat(np.arange(CARDS), 3)
    decks = np.stack([chance.permutation(slots)[:SIZE] for _ in range(2 * games)])
    counts, firsts = np.zeros((2 * games, CARDS), np.int8), np.zeros((2 * games, CARDS), np.int8)
    for place in range(SIZE):
        np.add.at(counts, (np.arange(2 * games), decks[:, place]), 1)
        if place < near:
            np.add.at(firsts, (np.arange(2 * games), decks[:, place]), 1)
    counts, firsts = counts.reshape(games, 2, CARDS), firsts.reshape(games, 2, CARDS)
    whole = firsts + share * (counts - firsts)
    mixed = chance.integers(0, max(1, mixes), (games, 2))
    luck = chance.normal(0, spread, max(1, mixes))
    logit = (whole[:, 0] - whole[:, 1]) @ truth + 0.2 + luck[mixed[:, 0]] - luck[mixed[:, 1]]
    chances = 1 / (1 + np.exp(-logit))
    won = (chance.random(games) < chances).astype(float)
    part = near / SIZE
    real = 100 * float(np.mean(chances * (1 - chances))) * (truth - truth.mean()) * (part + share * (1 - part))
    return counts, firsts, mixed, won, real


def test_first_cards_make_lifts_surer_and_no_less_true():
    chance = np.random.default_rng(SEED + 7)
    inside = told = 0
    narrower, shares = [], []
    for _ in range(10):
        truth = chance.normal(0, 0.12, CARDS)
        counts, firsts, _, won, real = piled(truth, 2_500, chance, 5, 0.15)
        sharp, plain = measured(counts, won, firsts), measured(counts, won)
        error = np.sqrt(np.diag(sharp.covariance))
        inside += int((np.abs(sharp.raw - real) <= 1.96 * error).sum())
        told += CARDS
        narrower.append(float(error.mean() / np.sqrt(np.diag(plain.covariance)).mean()))
        shares.append(sharp.share)
    # The true share is 0.15. One estimate of it has a long tail (one set in some hundred ends beyond 0.7); the middle of ten has not.
    assert min(shares) >= 0 and max(shares) <= 1.5 and float(np.median(shares)) < 0.35, (shares, SEED)
    assert 0.89 <= inside / told <= 0.999, (inside, told, SEED)
    assert float(np.mean(narrower)) < 0.85, narrower


def test_luck_of_mixes_is_not_taken_for_the_cards():
    """Decks of two factions of three, of which one pair goes well together: no card of them is better for it."""
    chance = np.random.default_rng(SEED + 8)
    games, third = 8_000, CARDS // 3
    pairs = [(0, 1), (0, 2), (1, 2)]
    mixed = chance.integers(0, 3, (games, 2))
    counts = np.zeros((games, 2, CARDS), np.int8)
    for seat in range(2):
        for mix, sides in enumerate(pairs):
            rows = np.flatnonzero(mixed[:, seat] == mix)
            cards = np.concatenate([np.arange(side * third, (side + 1) * third) for side in sides])
            picked = np.stack([chance.permutation(np.repeat(cards, 2))[:SIZE] for _ in rows])
            for place in range(SIZE):
                np.add.at(counts, (rows, seat, picked[:, place]), 1)
    logit = 0.8 * (mixed[:, 0] == 0) - 0.8 * (mixed[:, 1] == 0)
    won = (chance.random(games) < 1 / (1 + np.exp(-logit))).astype(float)
    without, with_ = measured(counts, won), measured(counts, won, None, mixed)
    assert abs(np.mean(without.raw[2 * third :])) > 3 * abs(np.mean(with_.raw[2 * third :])), SEED


def test_firsts_of_nothing_or_of_all_are_counts_alone():
    chance = np.random.default_rng(SEED + 9)
    counts, firsts, _, won, _ = piled(np.zeros(CARDS), 300, chance, 4, 0.5)
    plain = measured(counts, won)
    for other in (np.zeros_like(firsts), counts):
        assert np.allclose(measured(counts, won, other).raw, plain.raw)
    odd = measured(counts[:3], won[:3], firsts[:3], np.zeros((3, 2), int))
    assert all(each is None or np.isfinite([each.lift, each.low, each.high]).all() for each in odd.lifts)


def test_the_fair_value_is_where_the_truth_crosses_a_half():
    dice = Random(f"{SEED} fair")
    inside = 0
    for _ in range(30):
        fair = dice.uniform(1.5, 4.5)
        games = []
        for _ in range(1_200):
            luck = dice.random()
            games.append([1.0 if luck < 0.5 + 0.06 * (fair - value) else 0.0 for value in range(7)])
        found = fair_value(sweep_points(range(7), [[row[value] for row in games] for value in range(7)], 3), 3)
        assert found is not None
        inside += (found.low is None or found.low <= fair) and (found.high is None or fair <= found.high)
    # 28.6 of 30, with a standard deviation of 1.1.
    assert inside >= 23, (inside, SEED)


def point(value: int, rate: float, about: float = 1.0) -> SweepPoint:
    return SweepPoint(value, rate, rate - about, rate + about, 0, 0, 0)


@pytest.mark.parametrize(
    ("rates", "now", "wanted"),
    [
        # 54, 52, 48: it crosses between 1 and 2; what holds a half begins where 52 - 1 falls to 50, and ends where 52 + 1 does.
        ([54, 52, 48, 44], 0, (1.5, 1.25, 1.75)),
        # Down and up again: the crossing nearest to what the card has.
        ([53, 47, 47, 53], 0, (0.5, 1 / 3, 2 / 3)),
        ([53, 47, 47, 53], 3, (2.5, 2 + 1 / 3, 2 + 2 / 3)),
        # Nothing crosses, but one value may be a half.
        ([40, 44, 49.5, 44], 0, (2.0, 1 + 5 / 5.5, 2 + 0.5 / 5.5)),
        ([49.5, 49.8, 50.2], 0, None),
        ([40, 41, 42], 0, None),
        ([50], 0, None),
        ([], 0, None),
        ([60, 50.2], 0, (1.0, 0 + 9 / 9.8, None)),
    ],
)
def test_the_fair_value_by_hand(rates, now, wanted):
    found = fair_value([point(value, rate) for value, rate in enumerate(rates)], now)
    assert found is None if wanted is None else (found.value, found.low, found.high) == pytest.approx(wanted), found


@pytest.mark.parametrize(("won", "games", "points", "low", "high"), [
    (649, 1_000, 14.9, 11.89, 17.80), (50, 100, 0.0, -9.62, 9.62), (10, 10, 50.0, 22.25, 50.0), (0, 10, -50.0, -50.0, -22.25),
])  # fmt: skip
def test_going_first_is_the_plain_share_with_its_interval(won, games, points, low, high):
    """By hand: 649 of 1,000 is 14.9 points above half; Wilson's interval."""
    assert going_first(won, games) == pytest.approx((points, low, high), abs=0.006)


def coverage(repeated: bool, known: bool = True) -> float:
    """The share of intervals that contain the truth, over generated games from a fixed seed. `known`: the fit knows which decks play again."""
    held = []
    for trial in range(16):
        chance = np.random.Generator(np.random.PCG64([1_201, trial]))
        decks = chance.multinomial(20, [1 / 40] * 40, 500 if repeated else 8_000).astype(np.int8)
        pairs = np.array([chance.permutation(len(decks)) for _ in range(16 if repeated else 1)]).reshape(-1, 2)
        worth = chance.normal(0, 0.12, 40)
        strength = decks @ worth + chance.normal(0, 0.5, len(decks))
        likely = 1 / (1 + np.exp(-(strength[pairs[:, 0]] - strength[pairs[:, 1]])))
        won = (chance.random(len(pairs)) < likely).astype(float)
        found = measured(decks[pairs], won, decks=pairs if repeated and known else None)
        truth = 100 * float((likely * (1 - likely)).mean()) * (worth - worth.mean())
        held += [each.low <= lift <= each.high for each, lift in zip(found.lifts, truth, strict=True) if each]
    return float(np.mean(held))


def test_intervals_hold_the_truth_as_often_as_they_say():
    """Fresh decks, and decks that play again and again, each with something peculiar to it: 95 %. Without saying which decks they are it would be far less."""
    assert 0.92 <= coverage(repeated=False) <= 0.98
    assert 0.92 <= coverage(repeated=True) <= 0.98
    assert coverage(repeated=True, known=False) < 0.9
