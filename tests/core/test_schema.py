"""Card types and fields: inheritance, values of every kind, derived fields, conversion, codes, generated cards."""

from __future__ import annotations

import string
from fractions import Fraction
from itertools import product

import pytest
from hypothesis import assume, given
from hypothesis import strategies as st
from pydantic import ValidationError

from dramok.core.cards import Card, Schema, read_value, shown_value
from dramok.core.cards.making.generate import CannotGenerate, OneOf, Range, Recipe, generate, steps
from dramok.core.cards.schema.formula import parse_formula
from dramok.core.cards.schema.formula_names import shown_formula, stored_formula
from dramok.core.cards.schema.ids import id_from
from dramok.core.cards.schema.lexer import Unreadable
from dramok.core.cards.values.codes import code_at, free_codes, pattern_problem
from dramok.core.cards.values.completeness import unfinished
from dramok.core.cards.values.conversion import convert
from dramok.core.cards.values.derived import derived_values
from tests.core.invented_world import VOCABULARY

LISTS = [
    {"id": "beds", "name": "Beds", "values": [{"id": "fern", "name": "Fern"}, {"id": "moss", "name": "Wet Moss"}]},
    {"id": "kinds", "name": "Kinds", "values": [
        {"id": "tree", "name": "Tree fern", "within": "fern"}, {"id": "peat", "name": "Peat moss", "within": "moss"}, {"id": "other", "name": "Other"},
    ]},
]  # fmt: skip
FIELDS = [
    {"id": "name", "name": "Name", "kind": "text"},
    {"id": "height", "name": "Height", "kind": "number", "required": True},
    {"id": "root", "name": "Wet root", "kind": "number", "least": -99},
    {"id": "weight", "name": "Weight", "kind": "number", "whole": False, "least": -1000, "most": 1000},
    {"id": "bed", "name": "Bed", "kind": "choice", "list": "beds"},
    {"id": "sub", "name": "Sub-bed", "kind": "choice", "list": "kinds", "within": "bed"},
    {"id": "soils", "name": "Soils", "kind": "choices", "list": "kinds"},
    {"id": "tags", "name": "Tags", "kind": "tags"},
    {"id": "rare", "name": "Rare", "kind": "yesno"},
    {"id": "story", "name": "Story", "kind": "text", "long": True},
    {"id": "effect", "name": "Effect", "kind": "effect"},
]


def schema(*derived: tuple[str, str], fields=FIELDS, more=()) -> Schema:
    made = [
        {"id": name, "name": name.title(), "kind": "derived", "formula": formula} for name, formula in derived
    ]
    return Schema.model_validate(
        {"types": [{"id": "card", "name": "Card", "fields": [*fields, *made]}, *more], "lists": LISTS}
    )


def derive(formula: str, **values):
    card = Card("c", "C-1", "s", "card", values)
    found, problems = derived_values(card, schema(("sum", formula)))
    return found.get("sum"), [problem.what for problem in problems]


names = st.text(string.ascii_lowercase, min_size=1, max_size=4)


@given(
    st.lists(
        st.tuples(names, st.lists(names, max_size=3, unique=True)),
        min_size=1,
        max_size=6,
        unique_by=lambda each: each[0],
    ),
    st.data(),
)
def test_a_field_of_a_type_is_on_every_type_that_extends_it_and_nowhere_else(wanted, data):
    parents: dict[str, str | None] = {}
    for ident, _ in wanted:
        parents[ident] = data.draw(st.sampled_from([None, *parents]))
    types = [
        {"id": ident, "name": ident, "extends": parents[ident], "fields": [{"id": f"{ident}-{field}", "name": field, "kind": "text"} for field in fields]}
        for ident, fields in wanted
    ]  # fmt: skip
    made = Schema.model_validate({"types": types})
    own = {ident: [f"{ident}-{field}" for field in fields] for ident, fields in wanted}
    for ident, _ in wanted:
        line, at = [], ident
        while at is not None:
            line.insert(0, at)
            at = parents[at]
        assert [field.id for field in made.fields_of(ident)] == [
            field for each in line for field in own[each]
        ]
        assert {heir.id for heir in made.heirs(ident)} == {
            other for other, _ in wanted if other != ident and _extends(parents, other, ident)
        }


def _extends(parents, ident, root):
    while ident is not None and ident != root:
        ident = parents[ident]
    return ident == root


@pytest.mark.parametrize(
    ("types", "said"),
    [
        ([{"id": "a", "name": "A", "extends": "b"}, {"id": "b", "name": "B", "extends": "c"}, {"id": "c", "name": "C", "extends": "a"}], "in a circle: A → B → C → A"),
        ([{"id": "a", "name": "A", "extends": "z"}], "A extends z, which does not exist"),
        ([{"id": "a", "name": "A", "fields": [{"id": "x", "name": "X", "kind": "text"}]}, {"id": "b", "name": "B", "extends": "a", "fields": [{"id": "x", "name": "X", "kind": "tags"}]}], "X is of kind tags here and of kind text elsewhere|X is of kind text here and of kind tags elsewhere"),
        ([{"id": "a", "name": "A", "fields": [{"id": "x", "name": "X", "kind": "choice", "list": "none"}]}], "chooses from none, which does not exist"),
        ([{"id": "a", "name": "A", "fields": [{"id": "x", "name": "X", "kind": "choice", "list": "beds", "within": "y"}, {"id": "y", "name": "Y", "kind": "choice", "list": "beds", "within": "x"}]}], "depend on each other in a circle"),
    ],
)  # fmt: skip
def test_unsound_types_are_refused_with_their_names(types, said):
    with pytest.raises(ValidationError, match=said):
        Schema.model_validate({"types": types, "lists": LISTS})


def test_an_heir_may_bound_a_field_otherwise_but_not_have_it_twice():
    heir = {
        "id": "big",
        "name": "Big",
        "extends": "card",
        "fields": [{"id": "height", "name": "Height", "kind": "number", "most": 500}],
    }
    made = schema(more=[heir])
    assert made.field_of("big", "height").most == 500 and made.field_of("card", "height").most == 99
    assert [field.id for field in made.fields_of("big")] == [field["id"] for field in FIELDS]


@pytest.mark.parametrize(
    ("formula", "values", "result"),
    [
        ("#height + #root", {"height": 2, "root": 3}, 5), ("#height + #root", {"height": 2}, 2), ("#height + #root", {}, None),
        ("#height * (#root - 1) / 4", {"height": 3, "root": 3}, 1.5), ("-#height + 10 / 3", {"height": 1}, 2.3333),
        ("0.1 + 0.2 + #weight", {"weight": 0.3}, 0.6), ("min(#height, #root, 4)", {"height": 9, "root": 5}, 4), ("round(#weight)", {"weight": 2.5}, 3),
        ("if #bed is Fern and #height >= 2 then 10 else #height", {"bed": "fern", "height": 2}, 10), ('if #bed is "wet moss" then 1 else 0', {"bed": "moss"}, 1),
        ("if not #rare is yes then 1 else 2", {"rare": True, "height": 1}, 2), ("if #tags is climber then 1 else 0", {"tags": ("climber", "x")}, 1),
        ("count(#soils, #tags) * 2", {"soils": ("tree", "peat"), "tags": ("a",)}, 6), ("#height >= 3", {"height": 3}, True),
    ],
)  # fmt: skip
def test_derived_fields_compute(formula, values, result):
    found, problems = derive(formula, **values)
    assert (found, problems) == (result, []) and type(found) is type(result)


def test_what_cannot_be_derived_says_why():
    assert derive("#height / #root", height=1) == (None, ["divides by zero"])
    assert derive("#height + #name", height=1, name="Fern") == (None, ["“Fern” is not a number"])
    assert derive("#height * 999999 * 999999 * 999999", height=99) == (None, ["the result is too large"])
    card = Card("c", "C-1", "s", "card", {"height": 1})
    (problem,) = unfinished(card, schema(("part", "#height / #root")))
    assert (problem.where, problem.mend) == ("Part", "give Wet root a value, or write “if … then … else”")


numbers = st.integers(-50, 50)
trees = st.recursive(
    st.one_of(st.integers(0, 9).map(str), st.sampled_from(["#height", "#root"])),
    lambda inner: st.tuples(inner, st.sampled_from("+-*/"), inner).map(lambda t: f"({t[0]} {t[1]} {t[2]})"),
    max_leaves=12,
)


@given(trees, numbers, numbers)
def test_arithmetic_agrees_with_exact_fractions(formula, height, root):
    try:
        wanted = eval(  # noqa: S307 - the test's own oracle, over text that it made itself
            formula.replace("#height", f"Fraction({height})").replace("#root", f"Fraction({root})"),
            {"Fraction": Fraction},
        )
    except ZeroDivisionError:
        assert derive(formula, height=height, root=root) == (None, ["divides by zero"])
        return
    assume(abs(wanted) < 10**9 and "#" in formula)
    found, problems = derive(formula, height=height, root=root)
    assert not problems or problems == ["the result is too large"]
    assert problems or found == (
        int(wanted) if Fraction(wanted).denominator == 1 else round(float(wanted), 4)
    )


def test_circles_unknown_fields_and_code_are_refused_by_name():
    with pytest.raises(ValidationError, match="depend on each other in a circle: First → Second → First"):
        schema(("first", "#second + 1"), ("second", "#first"))
    with pytest.raises(ValidationError, match="derived from nowhere, which Card has not"):
        schema(("first", "#nowhere"))
    for typed in (
        "__import__('os')",
        "Height.real",
        "Height ** 2",
        "lambda: 1",
        "(" * 60 + "1",
        "Height +",
        "1 2",
        "",
    ):
        with pytest.raises(Unreadable):
            stored_formula(typed or " ", schema(), "card")
    with pytest.raises(Unreadable) as wrong:
        stored_formula("Height + Rooot", schema(), "card")
    assert (wrong.value.problem.span.column, wrong.value.problem.what) == (10, "there is no field Rooot")


@given(
    st.lists(
        st.sampled_from(["Height", '"Wet root"', "3", "max(Height, 2)", "if Bed is Fern then 1 else 2"]),
        min_size=1,
        max_size=5,
    )
)
def test_a_typed_formula_keeps_its_fields_through_a_rename(parts):
    typed = " + ".join(f"({part})" for part in parts)
    stored = stored_formula(typed, schema(), "card")
    assert "Height" not in stored and shown_formula(stored, schema(), "card") == typed
    renamed = schema(
        fields=[{**field, "name": "Stretch"} if field["id"] == "height" else field for field in FIELDS]
    )
    assert stored_formula(shown_formula(stored, renamed, "card"), renamed, "card") == stored
    assert parse_formula(stored)


KINDS = {field["id"]: field for field in FIELDS}
VALUES = {
    "height": st.integers(0, 99), "root": st.integers(-99, 99), "weight": st.integers(-9999, 9999).map(lambda n: n / 10 if n % 10 else n // 10),
    "bed": st.sampled_from(["fern", "moss"]), "sub": st.sampled_from(["tree", "peat", "other"]),
    "soils": st.lists(st.sampled_from(["tree", "peat", "other"]), min_size=1, unique=True).map(lambda v: tuple(sorted(v, key=["tree", "peat", "other"].index))),
    "tags": st.lists(st.sampled_from(["climber", "night bloom", "thorned"]), min_size=1, unique=True).map(tuple), "rare": st.booleans(),
    "name": st.text(string.printable, min_size=1, max_size=30).map(lambda t: " ".join(t.split())).filter(bool),
}  # fmt: skip
any_value = st.sampled_from(sorted(VALUES)).flatmap(lambda ident: st.tuples(st.just(ident), VALUES[ident]))


@given(any_value)
def test_every_kind_of_value_is_read_back_from_what_it_shows(pair):
    ident, value = pair
    field = schema().field(ident)
    assert read_value(field, shown_value(field, value, schema(), VOCABULARY), schema(), VOCABULARY) == (
        value,
        (),
    )


@given(st.lists(any_value, min_size=1, max_size=6), st.sampled_from(sorted(KINDS)))
def test_a_conversion_loses_nothing_silently(pairs, target):
    """Each value is either carried over, so that it reads as before, or listed with its text and the reason."""
    source = pairs[0][0]
    values = [value for ident, value in pairs if ident == source]
    cards = [Card(f"c{n}", f"C-{n}", "s", "card", {source: value}) for n, value in enumerate(values)]
    before, old = schema(), schema().field(source)
    new = (
        Schema.model_validate(
            {
                "types": [{"id": "card", "name": "Card", "fields": [{**KINDS[target], "id": source}]}],
                "lists": LISTS,
            }
        )
        if target != "sub"
        else before
    )
    new_field = new.field(source)
    done = convert(cards, old, before, new_field, new, VOCABULARY)
    assert {*done.values} | {lost.card for lost in done.lost} == {card.id for card in cards} and len(
        done.values
    ) + len(done.lost) == len(cards)
    for card in cards:
        shown = shown_value(old, card.values[source], before, VOCABULARY)
        if card.id in done.values:
            again = shown_value(new_field, done.values[card.id], new, VOCABULARY)
            assert (
                read_value(new_field, shown, new, VOCABULARY)[0]
                == read_value(new_field, again, new, VOCABULARY)[0]
            )
        else:
            assert next(lost for lost in done.lost if lost.card == card.id).text == shown
    if target == source:
        assert not done.lost and done.values == {card.id: card.values[source] for card in cards}


def test_values_that_do_not_fit_name_the_fix():
    made = schema()
    for ident, typed, what, mend in (
        ("height", "three", "“three” is not a whole number", "write 3"),
        ("weight", "heavy", "“heavy” is not a number", "write a number with up to four decimal places, such as 3"),
        ("root", "1.5", "“1.5” is not a whole number", "write a whole number, such as 3"),
        ("soils", "Peat moss, Pete", "“Pete” is not among its values", "write one of Tree fern, Peat moss, Other"),
        ("rare", "perhaps", "“perhaps” is neither yes nor no", "write yes or no"),
    ):  # fmt: skip
        value, (problem,) = read_value(made.field(ident), typed, made, VOCABULARY)
        assert (value, problem.what, problem.mend) == (None, what, mend)
    card = Card("c", "C-1", "s", "card", {"height": 1, "bed": "fern", "sub": "peat"})
    (problem,) = unfinished(card, made)
    assert (problem.what, problem.mend) == (
        "Peat moss belongs to Wet Moss",
        "choose another sub-bed, or make bed Wet Moss",
    )
    assert [each.what for each in unfinished(Card("c", "C-1", "s", "card"), made)] == ["it is still empty"]


@given(st.sampled_from(["RS-{n:03}", "{n}", "A{n:2} x", "é-{n:04}"]), st.sets(st.integers(1, 30)))
def test_codes_of_a_pattern_are_free_and_in_order(pattern, taken):
    assert pattern_problem(pattern) is None
    used = {code_at(pattern, number).casefold() for number in taken}
    codes = free_codes(pattern, used)
    found = [next(codes) for _ in range(5)]
    assert found == [code_at(pattern, n) for n in range(1, 60) if n not in taken][:5]
    for wrong in ("RS", "{n}{n}", "{m}", "x{n:03", " {n}", "{n}\t", "{n}" + "x" * 60):
        assert pattern_problem(wrong) is not None


@given(st.integers(0, 10**6), st.integers(1, 12), st.integers(6, 20), st.integers(0, 8))
def test_generated_cards_keep_their_ranges_and_total_and_repeat_by_their_seed(seed, count, least, width):
    assume(least + width > 7)
    edges = tuple(Range(f"edge-{n}", 1, 8) for n in range(6))
    recipe = Recipe(count, seed, edges, (OneOf("bed", ("fern", "moss")),), least, least + width)
    cards = generate(recipe)
    assert cards == generate(recipe) and len({tuple(card.items()) for card in cards}) == count
    for card in cards:
        totals = [card[f"edge-{n}"] for n in range(6)]
        assert (
            all(1 <= number <= 8 for number in totals)
            and least <= sum(totals) <= least + width
            and card["bed"] in ("fern", "moss")
        )


@given(st.data())
def test_every_different_card_can_be_asked_for_and_none_more(data):
    """Against all combinations counted out plainly: as many as there are come, each once, and one more is refused by number."""
    edges = data.draw(st.lists(st.tuples(st.integers(-2, 3), st.integers(0, 3)), min_size=1, max_size=3))
    beds = tuple(data.draw(st.lists(st.sampled_from(["fern", "moss", "briar"]), min_size=1, max_size=4)))
    low = data.draw(st.integers(-6, 9))
    high = low + data.draw(st.integers(0, 6))
    ranges = tuple(Range(f"n{place}", least, least + width) for place, (least, width) in enumerate(edges))
    every = {
        (*numbers, bed)
        for numbers in product(*(range(each.least, each.most + 1) for each in ranges))
        if low <= sum(numbers) <= high
        for bed in beds
    }

    def asked(count):
        recipe = Recipe(count, data.draw(st.integers(0, 99)), ranges, (OneOf("bed", beds),), low, high)
        return [tuple(card.values()) for card in generate(recipe)]

    if not every:
        with pytest.raises(CannotGenerate, match="no numbers in these ranges"):
            asked(1)
        return
    found = asked(len(every))
    assert len(found) == len(every) and set(found) == every
    with pytest.raises(CannotGenerate, match=f"only {len(every)} different card"):
        asked(len(every) + 1)


@pytest.mark.parametrize("seed", range(4))
def test_the_last_of_five_hundred_different_cards_is_found(seed):
    cards = generate(Recipe(500, seed, (Range("a", 1, 20), Range("b", 1, 25))))
    assert {tuple(card.values()) for card in cards} == set(product(range(1, 21), range(1, 26)))


def test_wide_ranges_of_many_fields_are_drawn_within_their_total():
    """Twenty fields of a thousand numbers each: what is counted is sums, not combinations."""
    ranges = tuple(Range(f"n{place}", 0, 1_000) for place in range(20))
    (card,) = generate(Recipe(1, 7, ranges, total_least=10_000, total_most=10_003))
    assert 10_000 <= sum(card.values()) <= 10_003 and len(card) == 20
    # A value that is named a thousand times is one: what is left is counted out, not every way to name it.
    picks = tuple(OneOf(f"c{place}", ("fern",) * 1_000 + ("moss",)) for place in range(4))
    cards = generate(Recipe(16, 7, (), picks))
    assert {tuple(card.values()) for card in cards} == set(product(("fern", "moss"), repeat=4))
    with pytest.raises(CannotGenerate, match="it is to be drawn twice"):
        generate(Recipe(1, 7, (Range("a", 1, 2), Range("a", 1, 2))))


def test_what_cannot_be_generated_says_what_could():
    with pytest.raises(CannotGenerate, match="no numbers in these ranges sum to 90 to 99"):
        generate(Recipe(1, 1, (Range("a", 1, 8), Range("b", 1, 8)), total_least=90, total_most=99))
    with pytest.raises(CannotGenerate, match="there are only 2 different cards"):
        generate(Recipe(3, 1, (Range("a", 1, 2),)))
    assert steps(3, 4, 2, 0, 9) == [3, 5, 7, 9]
    with pytest.raises(CannotGenerate, match="from 3 to 11"):
        steps(3, 5, 2, 0, 9)
    totals = [
        generate(Recipe(1, seed, (Range("a", 1, 2), Range("b", 1, 2)), total_least=3, total_most=4))[0]
        for seed in range(600)
    ]
    shares = [totals.count({"a": a, "b": b}) for a, b in ((1, 2), (2, 1), (2, 2))]
    assert min(shares) > 150


@given(st.text(max_size=60), st.sets(st.text(string.ascii_lowercase, max_size=5)))
def test_ids_made_from_names_are_lasting_ids_and_free(name, used):
    ident = id_from(name, used, "field")
    assert ident not in used and Schema.model_validate({"types": [{"id": ident, "name": "X"}]})
