"""Face layout by plans: inheritance, what each kind of placement draws, and hostile input."""

from __future__ import annotations

import json

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from dramok.core.cards import Card
from dramok.core.faces import Art, Field, Path, PlanDoc, PlanHead, Rect, Size, Text, Turn
from dramok.core.faces.layout.text import Fitting, Fonts, fit, words_of
from dramok.core.faces.plan.adjustments import Adjustment, read_adjustment
from dramok.core.faces.plan.align import arranged
from dramok.core.faces.plan.plan import NoPlace, Variant, read_place
from dramok.core.faces.plan.plan_set import PlanSet
from dramok.core.faces.plan.sizes import NAMED
from dramok.core.faces.proof.sample_card import make_sample_card
from dramok.core.rulebook import Rulebook
from dramok.formats.font_files import load_typefaces
from dramok.formats.svg import face_svg
from tests.core.faces.plans import STARTING, at, base, book, face_of
from tests.core.invented_world import RULEBOOK, card

PLAIN = Fonts("body", "figures", "italic")
WIDEST = 3.4
"""One wide letter at 3 mm: a line can't be narrower than that."""


def elements_of(face, place):
    """The elements of one placement, with what is turned removed of its turning."""
    found = next(
        (
            element.elements
            for element in face.elements
            if isinstance(element, Field) and element.place == place
        ),
        (),
    )
    return [
        inner
        for element in found
        for inner in (element.elements if isinstance(element, Turn) else (element,))
    ]


def texts(face, place):
    return [element.text for element in elements_of(face, place) if isinstance(element, Text)]


def test_a_face_depends_on_all_that_it_shows_and_on_nothing_else():
    plain = face_of(card("Plain", height=2))
    assert plain.digest == face_of(card("Plain", height=2)).digest != face_of(card("Plain", height=3)).digest
    shown = {element.field for element in plain.elements if isinstance(element, Field)}
    assert shown >= {"name", "cost", "height", "root", "effect"}
    weather = face_of(card("Plain", kind="weather"))
    assert "height" not in {element.field for element in weather.elements if isinstance(element, Field)}


def test_plans_lie_over_each_other_key_by_key_and_variants_hold_for_their_value_only():
    under = base(
        name={"kind": "text", "field": "name", "lines": 1, "ink": "#111111", **at(5, 5, 50, 6)},
        cost={"kind": "number", "field": "cost", "plate": "none", "symbol": "none", **at(5, 20, 10, 10)},
    )
    plant = PlanDoc(
        id="plant", head=PlanHead(type="plant"), places={"name": {"y": 30.0}, "cost": {"off": True}}
    )
    rare = PlanDoc(
        id="rare",
        head=PlanHead(variant=Variant(field="rarity", value="rare")),
        places={"name": {"ink": "#aa0000"}},
    )
    worn = book(under, plant, rare)

    def name_of(each):
        element = next(each for each in elements_of(face_of(each, worn), "name") if isinstance(each, Text))
        return round(element.y - 5), element.fill

    high, low = 5, 30
    plain = name_of(card("A", kind="weather"))
    assert name_of(card("A", kind="weather", rarity="rare")) == (plain[0], "#aa0000")
    moved = name_of(card("A"))
    assert (moved[0] - plain[0], moved[1]) == (low - high, "#111111")
    assert name_of(card("A", rarity="rare")) == (moved[0], "#aa0000")
    assert not elements_of(face_of(card("A"), worn), "cost") and elements_of(
        face_of(card("A", kind="weather"), worn), "cost"
    )
    assert worn.digest("plant") != book(under, rare).digest("plant")
    assert worn.digest("weather") == book(under, rare).digest("weather"), (
        "a plan of plants leaves weather alone"
    )


def test_a_variant_of_a_value_that_a_card_holds_unseen_is_not_worn():
    """A card that became of a type without beds: it is printed at the size at which its face is laid out."""
    document = RULEBOOK.model_dump(mode="json")
    document["cards"]["types"].append({"id": "note", "name": "Note", "fields": [{"id": "name", "name": "Name", "kind": "text"}]})
    rulebook = Rulebook.model_validate(document)
    name = {"kind": "text", "field": "name", **at(5, 5, 50, 6)}
    wide = PlanDoc(id="wide", head=PlanHead(variant=Variant(field="bed", value="fern"), size=Size(width=90, height=50)))
    worn = book(base(name=name), wide, rulebook=rulebook)
    plant, note = (card("A", kind=kind, bed="fern") for kind in ("plant", "note"))
    assert [worn.worn(each).size.width for each in (plant, note)] == [90, 60]
    assert [worn.worn(each) is worn.worn(rulebook.cards.seen(each)) for each in (plant, note)] == [True, True]


def test_each_value_has_looks_of_its_own_and_a_condition_shows_or_hides():
    frame = {"kind": "panel", "stroke": "#222222", "thick": 0.5, **at(2, 2, 56, 76)}
    worn = book(
        base(
            frame={**frame, "per": "rarity", "looks": {"rare": {"thick": 2.0}, "": {"off": True}}},
            tint={"kind": "panel", "fill": "@bed-30", **at(0, 0, 10, 10)},
            dear={"kind": "panel", "fill": "#123456", "when": "cost >= 4", **at(0, 0, 5, 5)},
        )
    )

    def width(rarity):
        found = elements_of(face_of(card("A", **({"rarity": rarity} if rarity else {})), worn), "frame")
        return [element.width for element in found if isinstance(element, Path)]

    assert (width("common"), width("rare"), width(None)) == ([0.5], [2.0], [])
    fern, none = (elements_of(face_of(each, worn), "tint")[0] for each in (card("A", bed="fern"), card("A")))
    assert isinstance(fern, Rect) and (fern.x, fern.y) == (-3, -3), (
        "furniture at the edge runs into the bleed"
    )
    assert fern.fill == none.fill == "#51544b", "a list without colours, and no value, are the neutral colour"
    assert elements_of(face_of(card("A", cost=4), worn), "dear") and not elements_of(
        face_of(card("A", cost=3), worn), "dear"
    )


def test_numbers_symbols_edges_tags_and_turned_text_are_where_they_should_be():
    worn = book(
        base(
            size=Size(width=60, height=60, corner=0),
            cost={
                "kind": "number",
                "field": "cost",
                "plate": "round",
                "symbol": "none",
                "fill": "#eeeeee",
                **at(2, 2, 10, 10),
            },
            drops={
                "kind": "symbols",
                "field": "cost",
                "symbol": "drop",
                "symbol_size": 4.0,
                "gap": 1.0,
                **at(20, 2, 14, 20),
                "most": 6,
            },
            sides={"kind": "edges", "fields": ["height", "", "root"], "inset": 5.0, **at(0, 0, 60, 60)},
            tags={"kind": "tags", "field": "tags", "shown": "chips", **at(5, 30, 40, 10)},
            word={"kind": "text", "field": "name", "lines": 1, "turn": 90, **at(50, 10, 6, 40)},
        )
    )
    face = face_of(card("Long name", cost=5, height=7, root=8, tags=("climber", "night bloom")), worn)
    drops = [(element.x, element.y) for element in elements_of(face, "drops")]
    assert drops == [(20, 2), (25, 2), (30, 2), (20, 7), (25, 7)], (
        "three beside each other, then the next row"
    )
    assert texts(face, "sides") == ["7", "8"] and texts(face, "tags") == ["climber", "night bloom"]
    placed = {each.place.id: each for each in face.placed}
    x, y, wide, high = placed["word"].ink
    assert high > wide and x >= 50 and x + wide <= 56, "text turned by 90 degrees runs down"
    many = face_of(card("A", cost=9), worn)
    assert texts(many, "drops") == ["× 9"]
    assert texts(face_of(card("A", cost=2.5), worn), "drops") == ["× 2.5"], "half a drop is drawn as no number of drops"
    assert face_of(card("A", cost=0), worn).elements != face.elements


def test_a_picture_covers_its_window_about_its_focus_and_a_card_may_nudge_it():
    rules = RULEBOOK.model_dump(mode="json")
    rules["cards"]["types"][0]["fields"].append({"id": "art", "name": "Art", "kind": "picture"})
    sha = "a" * 64
    worn = book(
        base(art={"kind": "picture", "field": "art", "focus_x": 0.0, **at(10, 10, 20, 20)}),
        rulebook=Rulebook.model_validate(rules),
    )
    art = {sha: (400, 200)}

    def shown(each):
        (element,) = [
            element for element in elements_of(face_of(each, worn, art), "art") if isinstance(element, Art)
        ]
        return element.inner

    plain = card("A").with_value("art", sha)
    assert shown(plain) == (10, 10, 40, 20), "twice as wide as high, kept at its left"
    assert shown(plain.with_value("look/art", "across 2 up 3 zoom 1.5")) == (12, 2, 60, 30)
    contained = book(base(art={"kind": "picture", "field": "art", "fit": "contain", **at(10, 10, 20, 20)}), rulebook=Rulebook.model_validate(rules))  # fmt: skip
    (element,) = [
        element for element in elements_of(face_of(plain, contained, art), "art") if isinstance(element, Art)
    ]
    assert element.inner == (10, 15, 20, 10)


def test_text_has_symbols_bold_keywords_italic_words_and_reminders():
    rules = {
        **RULEBOOK.model_dump(mode="json"),
        "keywords": [{"name": "Grafted", "reminder": "It joins a plant."}],
    }
    rulebook = Rulebook.model_validate(rules)
    worn = book(
        base(
            text={
                "kind": "text",
                "field": "effect",
                "largest": 3,
                "least": 3,
                "symbol_size": 2.0,
                "symbol_rise": 0.5,
                **at(5, 5, 50, 40),
            },
            more={"kind": "reminders", "font": "italic", **at(5, 50, 50, 10)},
        ),
        rulebook=rulebook,
    )
    face = face_of(card("A", printed="A grafted fern: gain 1 {water}, _quietly_."), worn)
    fonts = {element.text: element.font for element in elements_of(face, "text") if isinstance(element, Text)}
    assert (fonts["A"], fonts["grafted"], fonts["quietly"]) == ("body", "figures", "italic")
    (drop,) = [element for element in elements_of(face, "text") if isinstance(element, Path)]
    assert drop.scale == pytest.approx(3 * 2 / 256)
    assert texts(face, "more") == ["It joins a plant."]
    assert not texts(face_of(card("A", printed="A plain fern."), worn), "more")


@pytest.mark.parametrize("printed", ["{water}{water} gained by all who stand about", "{water}" * 40, "*{water}* _Wonderfully long words_"])
def test_a_line_that_begins_with_a_symbol_is_cut_like_any_other(printed):
    worn = book(base(text={"kind": "text", "field": "effect", "largest": 3, "least": 3, "lines": 1, **at(5, 5, 14, 5)}))
    face = face_of(card("A", printed=printed), worn)
    (dots,) = [element for element in elements_of(face, "text") if isinstance(element, Text) and element.text.endswith("…")]
    assert dots.font in ("body", "figures") and dots.x < 19
    assert "…" in face_svg(face, "A")


@pytest.mark.parametrize(
    "name", ["N" * 10_000, "نبات الظل العريق", "🌿🌿 <script>alert(1)</script> & \x00", ""]
)
def test_hostile_names_are_cut_or_shown_as_text(name):
    face = face_of(card("Any", printed="long words " * 300).with_value("name", name))
    svg = face_svg(face, name)
    assert "<script" not in svg and "\x00" not in svg
    assert "the text does not fit the face" in [problem.what for problem in face.problems]
    assert any("name is too long" in problem.what for problem in face.problems) == (len(name) > 1000)
    shown = [
        element
        for each in face.placed
        for element in elements_of(face, each.place.id)
        if isinstance(element, Text)
    ]
    assert all(load_typefaces()[element.font].width(element.text, element.size) < 50 for element in shown)


def inked(line, faces, size) -> float:
    """The width of a line, measured again piece by piece."""
    far = 0.0
    for run in line.runs:
        if run.symbol:
            far = max(far, run.x + 1.05 * size)
            continue
        parts = run.text.split(" ")
        for x, part in zip(run.words or (run.x,), parts if run.words else [run.text], strict=True):
            far = max(far, x + faces[run.font].width(part, size))
    return far


@given(
    st.lists(
        st.one_of(
            st.text(st.characters(categories=["L", "N", "P", "Mn"]), min_size=1, max_size=60),
            st.text("iW{}.lM", min_size=20, max_size=80),
            st.lists(st.sampled_from(["{drop}", "il", "WM", "*b*", "Ä\u0308"]), min_size=1, max_size=20).map("".join),
        ),
        min_size=1,
        max_size=40,
    ),
    st.floats(12, 60),
    st.booleans(),
)
def test_no_line_is_wider_than_its_box_and_no_word_is_lost(words, width, balanced):
    faces = load_typefaces()
    text = " ".join(words)
    said = words_of(text, faces, PLAIN, 1.05)
    space = faces["body"].width(" ", 1)
    roomy = fit([said], space, Fitting(width, 10_000, 3.0, 3.0, balanced=balanced), faces)
    drawn = "".join(run.text.replace(" ", "") or f"<{run.symbol}>" for line in roomy.lines for run in line.runs)
    seen = "".join(bit.text.replace(" ", "") or f"<{bit.symbol}>" for word in said for bit in word.bits)
    assert drawn == seen or roomy.whole is False
    assert all(inked(line, faces, roomy.size) <= max(width * 1.01, WIDEST * 2) for line in roomy.lines)
    tight = fit([said], space, Fitting(width, 20, 3.4, 2.2, balanced=balanced), faces)
    assert len(tight.lines) * tight.size * 1.32 <= 20.01
    one = fit([said], space, Fitting(width, 20, 5, 2.5, most_lines=1), faces)
    assert len(one.lines) <= 1 and all(inked(line, faces, one.size) <= width * 1.01 for line in one.lines)
    assert all(run.symbol or faces[run.font] for line in one.lines for run in line.runs)


def test_balanced_lines_are_as_many_and_more_even():
    faces = load_typefaces()
    said = words_of("one two three four five six seven eight nine ten", faces, PLAIN, 1.05)
    space = faces["body"].width(" ", 1)
    greedy, even = (
        fit([said], space, Fitting(36, 40, 3, 3, balanced=balanced), faces) for balanced in (False, True)
    )
    spread = [max(x.width for x in each.lines) - min(x.width for x in each.lines) for each in (greedy, even)]
    assert len(greedy.lines) == len(even.lines) == 2 and spread[1] < spread[0] / 2


@given(
    st.fixed_dictionaries(
        {},
        optional={
            "kind": st.sampled_from(["panel", "line", "ground", "number", "text", "picture", "choice", "symbols", "edges", "tags", "reminders"]),
            "field": st.sampled_from(["name", "cost", "bed", "tags", "effect", "gone", "code", ""]),
            "x": st.floats(-500, 500), "y": st.floats(-50, 120), "width": st.floats(0, 900), "height": st.floats(0, 90),
            "turn": st.sampled_from([0, 90, 45]), "largest": st.floats(0.1, 80), "least": st.floats(0.1, 80), "lines": st.integers(-1, 9),
            "when": st.sampled_from(["cost >= 1", "cost >", "outlier", "in no deck", "bed is Fern"]), "ink": st.sampled_from(["#123456", "@bed-30", "@gone", "red", ""]),
            "fields": st.lists(st.sampled_from(["cost", "gone"]), max_size=7), "shown": st.sampled_from(["notches", "words", "chips", "colour"]),
            "per": st.sampled_from(["bed", "gone"]), "looks": st.just({"fern": {"off": True}, "": {"x": "far"}}),
        },
    )
)  # fmt: skip
@settings(max_examples=300)
def test_any_document_of_a_placement_is_refused_with_its_place_or_drawn(document):
    """Placements off the card, bound to fields that are gone, with conditions that can't be evaluated: none stops the drawing."""
    try:
        read_place("thing", document)
    except NoPlace as error:
        assert error.problem.what and error.problem.mend
    worn = book(base(thing=document))
    for each in (
        card("A", cost=3, bed="fern", tags=("climber",)),
        card(""),
    ):
        svg = face_svg(face_of(each, worn), "A")
        assert svg.startswith("<svg") and "nan" not in svg and "inf" not in svg.replace("info", "")


def test_three_hundred_placements_and_five_thousand_characters_are_laid_out():
    many = {
        f"p{number}": {"kind": "text", "field": "printed", **at(number % 50, number % 70, 9, 6)}
        for number in range(300)
    }
    face = face_of(card("A", printed="words and more words " * 250), book(base(**many)))
    assert len(face.placed) == 300 and len(face.problems) == 300


def test_a_removed_field_and_an_invalid_condition_are_reported_and_the_rest_is_drawn():
    worn = book(
        base(
            lost={"kind": "text", "field": "gone", **at(5, 5, 20, 5)},
            odd={"kind": "text", "field": "name", "when": "cost is is 3", "name": "Odd", **at(5, 15, 20, 5)},
            far={"kind": "text", "field": "name", "when": "outlier", "name": "Far", **at(5, 25, 20, 5)},
        )
    )
    told = {problem.where: problem.what for problem in worn.plan("base").problems}
    assert told["lost"] == "it is bound to gone, which the game does not have any more"
    assert set(told) == {"lost", "Odd", "Far"} and "depends on the face" in told["Far"]
    assert texts(face_of(card("Fern"), worn), "odd") == ["Fern"], (
        "a condition that can't be read hides nothing"
    )


def test_sizes_have_names_outlines_and_a_safe_edge():
    assert [
        Size(width=high, height=wide, outline=outline).name for wide, high, outline in NAMED.values()
    ] == list(NAMED)
    with pytest.raises(ValueError, match="leaves nothing"):
        Size(width=14, height=40, safe=7.5)
    with pytest.raises(ValueError):
        Size(width=1, height=1)
    box, tall = (2.0, 2.0, 6.0, 6.0), Size(width=60, height=80, corner=0, safe=3)
    assert tall.beyond_safe(box) and not tall.beyond_safe((3.0, 3.0, 54.0, 74.0))
    for outline in ("round", "hexagon"):
        size = Size(width=60, height=60, outline=outline, corner=0, safe=3)
        assert size.beyond_safe((4, 4, 6, 6)) and not size.beyond_safe((25, 25, 10, 10))
        assert size.path() != size.path(3) and "NaN" not in size.css()


boxes = st.dictionaries(
    st.text("abc", min_size=1, max_size=3),
    st.tuples(*[st.integers(0, 200).map(float)] * 4),
    min_size=3,
    max_size=8,
)


@given(boxes)
def test_aligned_boxes_share_an_edge_and_distributed_ones_an_even_gap(held):
    right = arranged(held, "right")
    assert len({right[ident][0] + box[2] for ident, box in held.items()}) == 1
    assert arranged({"a": (1, 1, 10, 10)}, "centre", (0, 0, 60, 80)) == {"a": (25, 1)}
    across = arranged(held, "across")
    order = sorted(held, key=lambda ident: (held[ident][0], ident))
    gaps = [across[b][0] - across[a][0] - held[a][2] for a, b in zip(order, order[1:], strict=False)]
    assert max(gaps) - min(gaps) < 0.01
    assert across[order[0]][0] == held[order[0]][0]


@given(
    st.builds(
        Adjustment, st.floats(-300, 300), st.floats(-300, 300), st.floats(0.2, 9), st.none() | st.floats(0.5, 50)
    )
)
def test_what_a_card_has_otherwise_is_said_in_words_and_read_back(look):
    again = read_adjustment(look.said())
    assert again.said() == look.said()
    assert again == pytest.approx(look, rel=1e-4, abs=1e-4) if look.size is not None else again.size is None
    assert read_adjustment("across much up 3; drop table") == Adjustment(up=3)


def test_a_type_without_cards_has_an_invented_one_and_every_demo_shape_begins_with_plans():
    each, text = make_sample_card("plant", RULEBOOK)
    face = face_of(each)
    assert each.text("name") == "Some Plant" and text.lines and not face.problems
    rules = RULEBOOK.model_dump(mode="json")
    for shape in ("landscape", "square"):
        for one in rules["cards"]["types"]:
            one["shape"] = shape
        started = PlanSet(*_begun(Rulebook.model_validate(rules)), {})
        face = face_of(Card("c", "X-1", "s", "plant", {"name": "Fern", "cost": 2}), started)
        assert face.width >= face.height and json.dumps([each.place.id for each in face.placed])
    assert STARTING.plan("f-invented-base").problems == ()


def _begun(rulebook):
    from dramok.core.faces.plan.starting_plans import starting_plans

    return rulebook, starting_plans(rulebook, "x")


@given(
    st.lists(st.sampled_from(["gain 2 {drop}", "pay 12 {ribbon} now", "a", "longer words here", "3 {drop},", "x2 {drop}"]), min_size=1, max_size=8),
    st.floats(9, 60), st.booleans(),
)  # fmt: skip
def test_a_number_stays_on_the_line_of_its_symbol(pieces, width, balanced):
    faces = load_typefaces()
    text = " ".join(pieces)
    said = words_of(text, faces, PLAIN, 1.05)
    set_ = fit([said], faces["body"].width(" ", 1), Fitting(width, 10_000, 3.0, 3.0, balanced=balanced), faces)
    for line in set_.lines:
        first = line.runs[0]
        # A line never begins with a symbol: the number that it belongs to is before it.
        assert not first.symbol, (text, width)
