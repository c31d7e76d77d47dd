"""Deck rules, decklists, random decks and comparisons, on generated games."""

from __future__ import annotations

import json

import pytest
from hypothesis import example, given, settings
from hypothesis import strategies as st

from dramok.core.cards import Card
from dramok.core.decks import (
    MOST_COPIES,
    Cap,
    Deck,
    Format,
    Section,
    Share,
    across,
    clashes,
    differences,
    legality,
    random_deck,
    shared,
)
from dramok.core.decks.list_text import MOST_LINES, CardNames, read_text, write_text
from dramok.core.rulebook import Rulebook
from dramok.core.text_checks import text_fault
from dramok.formats.decklists import FORMS, BadDecklist, read_deck

RULEBOOK = Rulebook.model_validate(
    {
        "id": "quay", "name": "The Quay", "roles": {"faction": "crew"},
        "cards": {
            "types": [
                {"id": "boat", "name": "Boat", "fields": [
                    {"id": "name", "name": "Name", "kind": "text"}, {"id": "cost", "name": "Toll", "kind": "number"},
                    {"id": "rarity", "name": "Berth", "kind": "choice", "list": "berths"}, {"id": "crew", "name": "Crew", "kind": "choice", "list": "crews"},
                ]},
                {"id": "tide", "name": "Tide", "extends": "boat", "fields": []},
            ],
            "lists": [
                {"id": "berths", "name": "Berths", "values": [{"id": "low", "name": "Low"}, {"id": "high", "name": "High"}]},
                {"id": "crews", "name": "Crews", "values": [{"id": each, "name": each.title()} for each in ("rope", "sail", "oar")]},
            ],
        },
    }
)  # fmt: skip
NAMES = ("Grey Ketch", "Lamp Wherry", "Old Scow", "Ebb", "Spring Tide", "Tar Barge", "Pilot’s Gig", "Neap")


def card(place: int, kind: str = "boat", crew: str = "rope", cost: int = 1, rarity: str = "low") -> Card:
    name = NAMES[place % len(NAMES)] + (f" {place}" if place >= len(NAMES) else "")
    return Card(f"c{place}", f"Q-{place:02}", "s", kind, {"name": name, "cost": cost, "crew": crew, "rarity": rarity})  # fmt: skip


POOL = {
    each.id: each
    for each in (
        card(0), card(1, crew="sail", cost=2), card(2, crew="oar", cost=5, rarity="high"), card(3, "tide", cost=0),
        card(4, "tide", crew="sail", cost=3), card(5, cost=4), card(6, crew="oar"), card(7, "tide", crew="oar", cost=2, rarity="high"),
    )
}  # fmt: skip
PLAIN = Format(id="f", name="Harbour", least_cards=4, most_cards=8, copies=3)


def said(deck: Deck, **changes: object) -> list[str]:
    rules = Format.model_validate({**PLAIN.model_dump(), **changes})
    return [f"{each.what} -> {each.mend}" for each in legality(deck, POOL, RULEBOOK, rules)]


def deck(cards: dict[str, int], **sections: dict[str, int]) -> Deck:
    return Deck("d", "Mine", cards, sections=sections)


def test_each_rule_reports_what_is_wrong_and_the_fix():
    four = {"c0": 2, "c1": 1, "c3": 1}
    assert said(deck(four)) == []
    assert said(deck(four), least_cards=6) == ["4 cards; minimum 6 -> add 2"]
    assert said(deck(four), banned=["c1"]) == ["Lamp Wherry is banned -> remove it"]
    assert said(deck(four), limited={"c0": 1}) == ["2 of Grey Ketch; maximum 1 -> remove 1"]
    assert said(deck(four), sets=["other"]) == [
        f"{name} is of a set that is not allowed -> remove it" for name in ("Grey Ketch", "Lamp Wherry", "Ebb")
    ]  # fmt: skip
    assert said(deck(four), types={"tide": {"most": 0}}) == ["Tide is not allowed, and there is 1 -> remove them"]  # fmt: skip
    assert said(deck(four), types={"tide": {"least": 3}}) == ["Tide: 1 card; minimum 3 -> add 2"]
    assert said(deck(four), factions={"rope": {"most": 2}}) == ["Rope: 3 cards; maximum 2 -> remove 1"]
    assert said(deck(four), most_factions=1) == [
        "2 crews (Rope, Sail); maximum 1 -> remove the 1 of Sail"
    ]
    assert said(deck(four), most_factions=1, free_factions=["sail"]) == []
    assert said(deck(four), caps=[{"field": "cost", "most": 3}]) == ["Toll sums to 4; maximum 3 -> bring it down by 1"]  # fmt: skip
    assert said(deck(four), caps=[{"field": "cost", "least": 9}]) == ["Toll sums to 4; minimum 9 -> bring it up by 5"]  # fmt: skip
    assert said(deck({**four, "gone": 1})) == ["this card is gone from the game -> remove it"]


def test_sections_have_their_own_rules_and_count_copies_together():
    side = [{"id": "side", "name": "Side", "least": 1, "most": 2, "types": ["tide"]}]
    main = {"c0": 3, "c3": 2}
    assert said(deck(main), sections=side) == ["Side: 0 cards; minimum 1 -> add 1"]
    assert said(deck(main, side={"c4": 1}), sections=side) == []
    assert said(deck(main, side={"c3": 2}), sections=side) == ["4 of Ebb; maximum 3 -> remove 1"]
    assert said(deck(main, side={"c3": 2}), sections=[{**side[0], "counted": False}]) == []
    assert said(deck(main, side={"c1": 1}), sections=side) == ["Side may hold Tide only, and has Lamp Wherry -> remove Lamp Wherry"]  # fmt: skip
    assert said(deck(main, side={"c3": 1})) == ["1 card in a section that Harbour does not have -> remove them, or choose other deck rules"]  # fmt: skip
    with pytest.raises(ValueError, match="two sections have the same name"):
        Format.model_validate({**PLAIN.model_dump(), "sections": [side[0], {**side[0], "id": "other"}]})


counts = st.dictionaries(st.sampled_from([*POOL, "gone"]), st.integers(1, 6), max_size=8)
shares = st.builds(
    lambda least, more: Share(least=least, most=None if more is None else least + more),
    st.integers(0, 2),
    st.none() | st.integers(0, 4),
)
formats = st.builds(
    lambda low, more, **rest: Format(id="f", name="Any", least_cards=low, most_cards=low + more, **rest),
    st.integers(0, 9),
    st.integers(0, 6),
    copies=st.integers(1, 4),
    copies_by_rarity=st.dictionaries(st.just("high"), st.integers(0, 2)),
    most_factions=st.none() | st.integers(1, 3),
    free_factions=st.lists(st.sampled_from(["rope", "oar"]), max_size=1).map(tuple),
    types=st.dictionaries(st.sampled_from(["boat", "tide"]), shares, max_size=2),
    factions=st.dictionaries(st.sampled_from(["rope", "sail"]), shares, max_size=2),
    banned=st.lists(st.sampled_from(list(POOL)), max_size=2, unique=True).map(tuple),
    limited=st.dictionaries(st.sampled_from(list(POOL)), st.integers(0, 2), max_size=2),
    caps=st.lists(st.builds(Cap, field=st.just("cost"), most=st.integers(5, 40)), max_size=1).map(tuple),
    sections=st.lists(st.builds(Section, id=st.just("side"), name=st.just("Side"), least=st.integers(0, 2), most=st.none() | st.integers(2, 4)), max_size=1).map(tuple),
)  # fmt: skip


@settings(deadline=None)
@given(counts, counts, formats)
def test_every_deck_fix_makes_the_deck_legal(main, side, rules):
    """Applied one after another, the offered fixes end: what is left is for the designer to choose."""
    now = deck(main, side=side)
    for _ in range(60):
        found = next((each for each in legality(now, POOL, RULEBOOK, rules) if each.fixes), None)
        if found is None:
            break
        before = now
        for section, ident, copies in found.fixes:
            now = now.with_count(ident, copies, section)
        assert now != before, "a mend changes something"
        assert found.what not in [each.what for each in legality(now, POOL, RULEBOOK, rules)]
    assert not any(each.fixes for each in legality(now, POOL, RULEBOOK, rules))


@settings(deadline=None, max_examples=120)
@given(formats, st.integers(0, 2**39))
def test_random_decks_are_legal_and_the_seed_makes_them_again(rules, seed):
    pool = list(POOL.values())
    found = random_deck(deck({}), pool, RULEBOOK, rules, seed)
    fights = list(clashes(rules, pool, RULEBOOK))
    if found is None:
        return
    assert not fights, "what a deck satisfies is not said to be impossible"
    assert legality(found, POOL, RULEBOOK, rules) == ()
    assert random_deck(deck({}), pool[::-1], RULEBOOK, rules, seed) == found


def test_a_deck_is_filled_up_around_what_is_in_it():
    rules = Format(id="f", name="Twelve", least_cards=12, most_cards=12, copies=3, most_factions=2)
    begun = deck({"c2": 2, "c0": 1})
    made = {seed: random_deck(begun, list(POOL.values()), RULEBOOK, rules, seed) for seed in range(20)}
    for found in made.values():
        assert found is not None and found.cards["c2"] >= 2 and found.cards["c0"] >= 1 and found.size == 12
        assert {POOL[each].values["crew"] for each in found.cards} == {"rope", "oar"}
    assert len({tuple(sorted(found.cards.items())) for found in made.values() if found}) > 5


@pytest.mark.parametrize(
    ("changes", "fight"),
    [
        ({"least_cards": 40, "most_cards": 40}, "at least 40 cards, and with 3 copies of a card at most, the 8 cards of the game give 24"),
        ({"least_cards": 20, "most_cards": 24, "banned": ["c0", "c1"]}, "at least 20 cards, and the sets and bans leave 18 cards"),
        ({"least_cards": 20, "most_cards": 24, "types": {"tide": {"most": 0}}}, "at least 20 cards, and the types and factions allowed give 15 cards"),
        ({"types": {"tide": {"least": 5}, "boat": {"least": 6}}}, "at least 5 of Tide and 6 of Boat, and at most 8 cards"),
        ({"types": {"tide": {"least": 10}}}, "at least 10 cards of Tide, and there are only 9 that a deck may have"),
        ({"most_factions": 1, "factions": {"rope": {"least": 1}, "oar": {"least": 1}}}, "Rope, Oar cards are needed, and a deck may have 1 of them"),
        ({"least_cards": 8, "caps": [{"field": "cost", "most": 4}]}, "Toll may sum to 4, and at least 8 cards, which sum to 5 or more"),
        ({"most_cards": 4, "caps": [{"field": "cost", "least": 30}]}, "Toll must sum to 30, and at most 4 cards, which sum to 19 or less"),
        ({"sections": [{"id": "side", "name": "Side", "least": 12, "types": ["tide"]}]}, "Side takes at least 12, and Tide give 9"),
    ],
)  # fmt: skip
def test_rules_that_fight_are_named(changes, fight):
    rules = Format.model_validate({**PLAIN.model_dump(), **changes})
    assert fight in [each.what for each in clashes(rules, list(POOL.values()), RULEBOOK)]
    assert random_deck(deck({}), list(POOL.values()), RULEBOOK, rules, 1) is None


names = CardNames(POOL.values(), RULEBOOK)
SIDED = Format.model_validate({**PLAIN.model_dump(), "sections": [{"id": "side", "name": "Side"}]})


@settings(deadline=None)
@given(
    st.dictionaries(st.sampled_from(list(POOL)), st.integers(1, MOST_COPIES), min_size=1),
    st.dictionaries(st.sampled_from(list(POOL)), st.integers(1, MOST_COPIES)),
)
def test_a_list_that_was_written_is_read_again(main, side):
    mine = deck(main, **({"side": side} if side else {}))
    for form in FORMS.values():
        text = form.write(mine, POOL, RULEBOOK, SIDED)
        found = read_deck(text.encode(), f"mine.{form.id}", names, SIDED)
        assert found.troubles == (), (form.id, text)
        assert found.onto(deck({})) == mine
    assert read_text(write_text(mine, POOL, RULEBOOK, SIDED), names, SIDED).name == "Mine"


@pytest.mark.parametrize(
    ("line", "counts"),
    [
        ("3 Grey Ketch", {"c0": 3}),
        ("3x grey  ketch", {"c0": 3}),
        ("Grey Ketch x3", {"c0": 3}),
        ("Grey Ketch × 3  # the good one", {"c0": 3}),
        ("- 2 Pilots Gig", {"c6": 2}),
        ("2 Pilot's Gig // two", {"c6": 2}),
        ("q-01", {"c1": 1}),
        ("2 Some other name (Q-01)", {"c1": 2}),
        ("2 Lamp Wherry [Q-01]", {"c1": 2}),
        ("2 Lamp Whery", {"c1": 2}),
        ("1,000 Ebb", {}),
        ("0 Ebb", {}),
        ("-1 Ebb", {}),
        ("1000000000 Ebb", {}),
        ("3 Nothing of the kind", {}),
        ("# only a word", {}),
        ("\ufeff2 Ebb", {"c3": 2}),
    ],
)
def test_lists_are_read_tolerantly_and_never_guessed_wrong(line, counts):
    found = read_text(line, names, SIDED)
    assert dict(found.sections.get("", {})) == counts
    kept = bool(counts) or line.startswith("#")
    assert all(each.taken for each in found.troubles) == kept
    for trouble in found.troubles:
        assert trouble.line == 1 and trouble.what and trouble.mend


def test_sections_begin_by_any_kind_of_heading():
    for heading in ("Side:", "[side]", "== Side ==", "SIDE", "Side (2):"):
        text = f"1 Ebb\n{heading}\n2 Neap\nMain:\n1 Old Scow"
        found = read_text(text, names, SIDED)
        assert found.sections == {"": {"c3": 1, "c2": 1}, "side": {"c7": 2}}, heading
    told = read_text("Name: Night Watch\nRules: Harbour\n1 Ebb", names, SIDED)
    assert (told.name, told.rules, told.cards) == ("Night Watch", "Harbour", 1)


def test_names_that_two_cards_have_ask_for_the_code():
    twins = [*POOL.values(), Card("c9", "Q-99", "s", "boat", {"name": "Ebb"})]
    found = read_text("2 Ebb\n2 Ebb (Q-99)", CardNames(twins, RULEBOOK), SIDED)
    assert found.sections == {"": {"c9": 2}}
    assert (
        set(found.troubles[0].options) == {"c3", "c9"} and "2 cards have this name" in found.troubles[0].what
    )


def test_a_list_as_long_as_a_book_ends_and_says_so():
    found = read_text("nobody knows this card\n" * (MOST_LINES + 5), names, SIDED)
    assert found.cards == 0 and found.trouble_count == MOST_LINES + 1 and len(found.troubles) == 200
    many = read_text("60 Ebb\n60 Ebb\n", names, SIDED)
    assert many.sections == {"": {"c3": 60}} and "120 copies" in many.troubles[0].what


@pytest.mark.parametrize(
    ("data", "name"),
    [
        (b"", "a.csv"),
        (b"one,two\n1,2\n", "a.csv"),
        (b"{", "a.json"),
        (b"[" * 100_000, "a.json"),
        (b"{}", "a.json"),
        (b"x" * 3_000_000, "a.txt"),
    ],
    ids=["empty", "no name", "half", "deep", "no cards", "huge"],
)
def test_files_that_are_not_a_decklist_are_refused_with_a_fix(data, name):
    with pytest.raises(BadDecklist) as found:
        read_deck(data, name, names, SIDED)
    assert found.value.problem.what and found.value.problem.mend


@settings(max_examples=200, deadline=None)
@given(st.binary(max_size=300), st.sampled_from(["a.txt", "a.csv", "a.json", ""]))
def test_whatever_is_in_a_file_it_is_read_or_refused(data, name):
    try:
        found = read_deck(data, name, names, SIDED)
    except BadDecklist:
        return
    assert all(1 <= count <= MOST_COPIES for held in found.sections.values() for count in held.values())


halves = st.lists(st.sampled_from(["Ebb", "\ud800", "\udc00", "\x00", "Q-03", "é", "🌿", " ", "main"]), max_size=3).map("".join)
documents = st.recursive(
    halves | st.integers(-3, 10**30) | st.floats() | st.none() | st.booleans(),
    lambda inside: st.lists(inside, max_size=3) | st.dictionaries(st.sampled_from(["name", "rules", "cards", "sections", "section", "count", "code"]) | halves, inside, max_size=4),
    max_leaves=12,
)  # fmt: skip


@settings(max_examples=300)
@given(documents)
@example({"name": "half \ud800", "cards": ["Ebb"]})
@example({"cards": [{"name": "Ebb \udc00", "count": 2}]})
def test_json_with_forbidden_text_is_refused_and_any_other_can_be_stored_and_shown(document):
    try:
        found = read_deck(json.dumps(document).encode(), "a.json", names, SIDED)
    except BadDecklist as refused:
        said = [refused.problem.what, refused.problem.mend]
    else:
        said = [found.name, found.rules, *(part for each in found.troubles for part in (each.text, each.what, each.mend))]
        assert all(1 <= count <= MOST_COPIES for held in found.sections.values() for count in held.values())
    assert [text_fault(each) for each in said] == [None] * len(said)


def test_tables_and_json_from_other_programs():
    table = "Qty;Card Name\n2;Ebb\n1.0;Neap\nmany;Old Scow\n"
    found = read_deck(table.encode("utf-16"), "b.csv", names, SIDED)
    assert found.sections == {"": {"c3": 2, "c7": 1}} and found.troubles[0].line == 4
    for text in ('{"Ebb": 2}', '[{"name": "Ebb", "count": 2}]', '["Ebb", "Ebb"]', '{"cards": {"Q-03": 2}}', '{"sections": {"main": ["Ebb", "Ebb"]}}'):  # fmt: skip
        wrapped = text if text[0] == "[" or "cards" in text or "sections" in text else f'{{"cards": {text}}}'
        assert read_deck(wrapped.encode(), "", names, SIDED).sections == {"": {"c3": 2}}, text


@given(counts, counts, counts)
def test_comparisons_keep_their_laws(one, other, third):
    assert shared(one, one) == (1.0 if one else 0.0)
    assert shared(one, other) == shared(other, one) and 0 <= shared(one, other) <= 1
    found = differences(deck(one), deck(other))
    now = deck(one)
    for each in found:
        now = now.with_count(each.card, each.after, each.section)
    assert now.cards == other
    decks = [Deck(str(place), "", held) for place, held in enumerate((one, other, third))]
    whole = across(decks)
    assert sum(whole.copies_of.values()) == sum(sum(held.values()) for held in (one, other, third))
    assert all(1 <= count <= 3 for count in whole.decks_of.values())


ODD = [
    Card("o1", "X-01", "s", "boat", {"name": "Xebec"}),
    Card("o2", "X3", "s", "boat", {"name": "X Ray"}),
    Card("o3", "#7", "s", "boat", {"name": "7 Sisters"}),
    Card("o4", "A B", "s", "boat", {"name": "Engine x2"}),
    Card("o5", "Z/9", "s", "boat", {"name": "Name: Side // #"}),
    Card("o6", "Q (2)", "s", "boat", {"name": "Side"}),
]


@pytest.mark.parametrize(
    ("line", "counts"),
    [
        ("3 Xebec", {"o1": 3}),
        ("3 X-01", {"o1": 3}),
        ("2 x X-01", {"o1": 2}),
        ("2x Xebec", {"o1": 2}),
        ("3 X3", {"o2": 3}),
        ("3 X Ray", {"o2": 3}),
        ("3 x X Ray", {"o2": 3}),
        ("7 Sisters", {"o3": 1}),
        ("2 7 Sisters", {"o3": 2}),
        ("Engine x2", {"o4": 1}),
        ("Engine x2 x3", {"o4": 3}),
        ("1.5 Xebec", {}),
        ("12 A B", {"o4": 12}),
    ],
)
def test_names_and_codes_that_look_like_counts_are_themselves(line, counts):
    assert dict(read_text(line, CardNames(ODD, RULEBOOK), SIDED).sections.get("", {})) == counts


wild = st.text(st.characters(codec="utf-8", categories=["L", "N", "P", "S", "Zs"]), min_size=1, max_size=24).map(
    lambda text: " ".join(text.split())
)  # fmt: skip


@settings(deadline=None)
@given(
    st.lists(wild.filter(bool), min_size=1, max_size=4, unique_by=str.casefold),
    st.dictionaries(st.sampled_from([card.id for card in ODD]), st.integers(1, MOST_COPIES), min_size=1),
    st.data(),
)
def test_whatever_decks_rules_and_sections_are_called_a_list_is_read_again(called, main, data):
    try:
        rules = Format.model_validate(
            {**PLAIN.model_dump(), "name": called[0], "main": called[-1], "sections": [{"id": f"s-{place}", "name": name} for place, name in enumerate(called[:-1])]}
        )  # fmt: skip
    except ValueError:
        return
    sections = {f"s-{place}": {"o2": 1 + place} for place in range(len(called) - 1)}
    pool = {card.id: card for card in ODD}
    title = data.draw(wild.filter(bool))
    mine = Deck("d", title, main, sections=sections)
    for form in FORMS.values():
        text = form.write(mine, pool, RULEBOOK, rules)
        found = read_deck(text.encode(), f"a.{form.id}", CardNames(ODD, RULEBOOK), rules)
        assert found.troubles == (), (form.id, text)
        assert found.onto(Deck("d", title, {})) == mine, (form.id, text)
        if form.id != "csv":
            assert (found.name, found.rules) == (title, rules.name)


@pytest.mark.parametrize("called", ["'0", "'Tis", "''", "=1+1", "'=1+1", "-2", "'-2", "@x", "+Side"])
def test_a_table_keeps_names_that_begin_like_formulas_and_lets_no_spreadsheet_run_them(called):
    odd = [Card("o1", f"{called}1", "s", "boat", {"name": called}), Card("o2", "X-02", "s", "boat", {"name": "Xebec"})]
    rules = Format.model_validate({**PLAIN.model_dump(), "main": "Keel", "sections": [{"id": "side", "name": called}]})
    mine = Deck("d", "Mine", {"o1": 2}, sections={"side": {"o2": 3}})
    text = FORMS["csv"].write(mine, {card.id: card for card in odd}, RULEBOOK, rules)
    found = read_deck(text.encode(), "a.csv", CardNames(odd, RULEBOOK), rules)
    assert found.troubles == () and found.onto(Deck("d", "Mine", {})) == mine, text
    for cell in text.replace("\n", ",").split(","):
        assert not cell.startswith(("=", "+", "@")) and (not cell.startswith("-") or cell[1:].isdigit()), text


def test_a_book_of_different_lines_has_near_names_for_its_first_ones_alone():
    pool = [Card(f"b{place}", f"B-{place}", "s", "boat", {"name": f"Barge number {place}"}) for place in range(2_000)]  # fmt: skip
    text = "\n".join(f"1 Barje nomber {place}" for place in range(3_000))
    found = read_text(text, CardNames(pool, RULEBOOK), SIDED)
    assert found.trouble_count >= 2_000
    assert found.troubles[0].options and read_text("1 Barge number 7", CardNames(pool, RULEBOOK), SIDED).cards == 1  # fmt: skip
