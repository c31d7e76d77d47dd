"""Deck rules on pools so small that all their decks can be enumerated and compared with a second implementation of the rules."""

from __future__ import annotations

from itertools import product

from hypothesis import event, example, given, settings
from hypothesis import strategies as st

from dramok.core.cards import Card
from dramok.core.decks import Cap, Deck, Format, Section, Share, clashes, legality, random_deck
from tests.core.test_decks import RULEBOOK

MOST = 3
"""Copies of one card in one section: of more no deck is made up here, and no rule tells four from three."""
CARDS = 3

cards = st.lists(
    st.tuples(
        st.sampled_from(["boat", "tide"]), st.sampled_from(["rope", "sail", "oar"]), st.integers(-1, 3), st.sampled_from(["low", "high"]),
        st.sampled_from(["s", "t"]),
    ),
    min_size=CARDS, max_size=CARDS,
)  # fmt: skip
few = st.integers(0, 3)
shares = st.builds(lambda least, more: Share(least=least, most=None if more is None else least + more), few, st.none() | few)
bounds = st.builds(
    lambda low, more, which: Cap(field="cost", least=low if which != "most" else None, most=low + more if which != "least" else None),
    st.integers(-2, 9), st.integers(0, 6), st.sampled_from(["least", "most", "both"]),
)  # fmt: skip
sections = st.builds(
    lambda least, more, types, counted: Section(
        # One card may have to fill it, where copies count alone: with no more of it than are made up here.
        id="side", name="Side", least=least if counted else min(least, MOST), most=None if more is None else least + more, types=types, counted=counted
    ),
    st.sampled_from(range(7)), st.none() | few, st.sampled_from([(), (), ("tide",)]), st.booleans(),
)  # fmt: skip
nothing: st.SearchStrategy[dict] = st.just({})
rules = st.builds(
    lambda low, more, **rest: Format(id="f", name="Any", least_cards=low, most_cards=low + more, **rest),
    st.integers(0, 5), few,
    # Few rules at once: where many are held together, hardly any deck is legal.
    copies=st.sampled_from([1, 2, MOST]), copies_by_rarity=nothing | nothing | st.dictionaries(st.just("high"), st.integers(0, 2)),
    limited=nothing | nothing | st.dictionaries(st.sampled_from(["c0", "c1"]), st.integers(0, 2), max_size=1),
    banned=st.sampled_from([(), (), (), ("c0",), ("c2",)]), sets=st.sampled_from([(), (), (), ("s",)]),
    types=nothing | nothing | st.dictionaries(st.sampled_from(["boat", "tide"]), shares, max_size=2),
    factions=nothing | nothing | st.dictionaries(st.sampled_from(["rope", "sail"]), shares, max_size=2),
    most_factions=st.sampled_from([None, None, 0, 1, 2]), free_factions=st.sampled_from([(), ("oar",)]),
    caps=st.just(()) | st.tuples(bounds), sections=st.just(()) | st.tuples(sections),
)  # fmt: skip


def pool_of(told) -> list[Card]:
    return [
        Card(f"c{place}", f"Q-{place:02}", set_, kind, {"name": f"Boat {place}", "cost": cost, "crew": crew, "rarity": rarity})
        for place, (kind, crew, cost, rarity, set_) in enumerate(told)
    ]


def within(count: int, least: int | None, most: int | None) -> bool:
    return (least is None or count >= least) and (most is None or count <= most)


class CardText:
    """The rules read a second time, as plainly as can be. Counts of copies are tuples, one for each card of the pool."""

    def __init__(self, pool: list[Card], rules: Format) -> None:
        self.pool, self.rules = pool, rules
        self.side = rules.sections[0] if rules.sections else None
        self.copies = [
            rules.limited.get(card.id, rules.copies_by_rarity.get(str(card.values["rarity"]), rules.copies)) for card in pool
        ]
        self.out = [card.id in rules.banned or bool(rules.sets and card.set not in rules.sets) for card in pool]

    def main(self, held: tuple[int, ...]) -> bool:
        """Rules of the main section alone."""
        rules, pool = self.rules, self.pool
        of = {}
        for card, count in zip(pool, held, strict=True):
            for key in (card.type, str(card.values["crew"])):
                of[key] = of.get(key, 0) + count
        mixed = {str(card.values["crew"]) for card, count in zip(pool, held, strict=True) if count} - set(rules.free_factions)
        total = sum(count * int(card.values["cost"]) for card, count in zip(pool, held, strict=True))
        return (
            within(sum(held), rules.least_cards, rules.most_cards)
            and all(within(of.get(key, 0), share.least, share.most) for key, share in {**rules.types, **rules.factions}.items())
            and (rules.most_factions is None or len(mixed) <= rules.most_factions)
            and all(within(total, cap.least, cap.most) for cap in rules.caps)
        )

    def both(self, held: tuple[int, ...], beside: tuple[int, ...]) -> bool:
        """Rules of the other section, and of both together."""
        if self.side is None and any(beside):
            return False
        for place, card in enumerate(self.pool):
            together = held[place] + (beside[place] if self.side and self.side.counted else 0)
            if together > self.copies[place] or (self.out[place] and held[place] + beside[place]):
                return False
            if self.side and beside[place] and self.side.types and card.type not in self.side.types:
                return False
        return self.side is None or within(sum(beside), self.side.least, self.side.most)

    def first_legal(self) -> Deck | None:
        amounts = list(product(range(MOST + 1), repeat=len(self.pool)))
        besides = amounts if self.side else [tuple([0] * len(self.pool))]
        return next((self.deck(held, beside) for held in amounts if self.main(held) for beside in besides if self.both(held, beside)), None)

    def deck(self, held: tuple[int, ...], beside: tuple[int, ...]) -> Deck:
        counts = [{card.id: count for card, count in zip(self.pool, each, strict=True) if count} for each in (held, beside)]
        return Deck("d", "Mine", counts[0], sections={"side": counts[1]} if counts[1] else {})


@settings(max_examples=150)
@given(cards, rules, st.data())
def test_a_deck_is_legal_where_a_plain_reading_says_so(told, rules, data):
    pool = pool_of(told)
    reading = CardText(pool, rules)
    amounts = st.tuples(*[st.integers(0, MOST)] * len(pool))
    for _ in range(4):
        held, beside = data.draw(amounts), data.draw(st.just((0,) * len(pool)) | amounts)
        problems = legality(reading.deck(held, beside), {card.id: card for card in pool}, RULEBOOK, rules)
        assert (problems == ()) == (reading.main(held) and reading.both(held, beside)), [each.what for each in problems]


ALONE = Format(id="f", name="Any", least_cards=0, most_cards=3, copies=1, sections=(Section(id="side", name="Side", least=4, counted=False),))


@settings(max_examples=300)
@example([("boat", "rope", 1, "low", "s")] * CARDS, ALONE, 1)
@given(cards, rules, st.integers(0, 2**30))
def test_no_deck_is_said_to_be_impossible_that_there_is(told, rules, seed):
    pool = pool_of(told)
    there = CardText(pool, rules).first_legal()
    fights = [each.what for each in clashes(rules, pool, RULEBOOK)]
    made = random_deck(Deck("d", "Mine", {}), pool, RULEBOOK, rules, seed)
    event(f"a deck there is: {there is not None}, found: {made is not None}, fights told: {bool(fights)}")
    if there is not None:
        assert not fights, there
    else:
        assert made is None, "the plain reading knows every deck there is"
