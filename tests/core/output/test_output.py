"""Which cards a print run selects, and how they are arranged on the paper."""

from __future__ import annotations

import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from dramok.core.faces import Face, Size
from dramok.core.output import PAPERS, NoRoom, NoSuchCards, Paper, choose, impose, leaves, page_of
from dramok.core.output.pages import LETTERS
from dramok.formats.font_files import load_typefaces

CODES = [f"RS-{number:03}" for number in range(1, 31)]
POKER = Size()


@pytest.mark.parametrize(
    ("said", "places"),
    [
        ("", list(range(30))),
        ("5-8, 17", [4, 5, 6, 7, 16]),
        ("28-", [27, 28, 29]),
        ("- 3, 2", [0, 1, 2]),
        ("rs-004, RS-002", [3, 1]),
        ("RS-027 -", [26, 27, 28, 29]),
        ("RS-004 - RS-006, 4-5", [3, 4, 5]),
        ("29-400", [28, 29]),
    ],
)
def test_cards_are_chosen_by_place_and_code(said, places):
    assert choose(said, CODES) == places


@pytest.mark.parametrize(
    ("said", "mend"),
    [
        ("8-5", "write 5-8"),
        ("31", "the cards are 1 to 30"),
        ("0-3", "the cards are 1 to 30"),
        ("RS-0O4", "did you mean RS-0"),
        ("RS-004 - RS-099", "did you mean RS-0"),
        ("9" * 5_000, "keep to 4,000"),
    ],
)
def test_a_choice_that_names_no_card_reports_the_part_and_the_fix(said, mend):
    with pytest.raises(NoSuchCards) as refused:
        choose(said, CODES)
    assert refused.value.problem.mend.startswith(mend)


@given(st.lists(st.integers(1, 30), min_size=1, max_size=12))
def test_places_named_one_by_one_come_in_their_order_each_once(places):
    assert choose(", ".join(map(str, places)), CODES) == list(dict.fromkeys(place - 1 for place in places))


def test_nine_poker_cards_lie_on_a4_and_letter_and_none_on_a_slip():
    for paper in ("A4", "Letter"):
        wide, high = PAPERS[paper]
        laid = impose(POKER, Paper(width=wide, height=high, margin=5))
        assert (laid.columns * laid.rows, laid.card, laid.pages(10)) == (
            9,
            (63.5, 88.9),
            2,
        )
    assert impose(POKER, Paper(width=420, height=297)).page == (420, 297), "a lying sheet may hold more"
    with pytest.raises(NoRoom) as refused:
        impose(POKER, Paper(width=70, height=90, margin=6))
    assert "does not fit" in refused.value.problem.what


@given(
    st.builds(
        Paper, width=st.floats(100, 500), height=st.floats(100, 500), margin=st.floats(0, 15), gutter=st.floats(0, 10), bleed=st.booleans(),
        turned=st.sampled_from(["auto", "portrait", "landscape"]), scale=st.floats(0.5, 1.2),
    ),
    st.floats(20, 70),
    st.floats(20, 70),
)  # fmt: skip
def test_cards_lie_within_the_margins_apart_and_their_backs_behind_them(paper, wide, high):
    size = Size(width=wide, height=high, corner=0, safe=2)
    edge = 3 * paper.scale if paper.bleed else 0
    short, long = sorted((paper.width, paper.height))
    ways = {"portrait": [(short, long)], "landscape": [(long, short)], "auto": [(short, long), (long, short)]}
    spare = max(
        min(
            across - 2 * paper.margin - wide * paper.scale - 2 * edge,
            down - 2 * paper.margin - high * paper.scale - 2 * edge,
        )
        for across, down in ways[paper.turned]
    )
    assume(abs(spare) > 1e-6)
    if spare < 0:
        with pytest.raises(NoRoom):
            impose(size, paper)
        return
    laid = impose(size, paper)
    bleed, (w, h), (page_wide, page_high) = laid.bleed, laid.card, laid.page
    assert (
        bleed == (3 * paper.scale if paper.bleed else 0) and len(laid.slots) == laid.columns * laid.rows >= 1
    )
    for slot in laid.slots:
        assert (
            slot.x - bleed >= paper.margin - 0.001 and slot.x + w + bleed <= page_wide - paper.margin + 0.001
        )
        assert (
            slot.y - bleed >= paper.margin - 0.001 and slot.y + h + bleed <= page_high - paper.margin + 0.001
        )
    for one, other in zip(laid.slots, laid.slots[1:], strict=False):
        assert (
            abs(one.x - other.x) >= w + 2 * bleed + paper.gutter - 0.001
            or abs(one.y - other.y) >= h + 2 * bleed + paper.gutter - 0.001
        )
    for edge in ("long", "short"):
        upright = (edge == "long") == (page_high >= page_wide)
        for front, back in zip(laid.slots, laid.behind(edge), strict=True):
            through = (page_wide - back.x - w, back.y) if upright else (back.x, page_high - back.y - h)
            assert through == pytest.approx(front[:2], abs=0.001), (
                "held against the light, the back lies on its front"
            )
    for x1, y1, x2, y2 in laid.cut_marks():
        inside = [s for s in laid.slots if s.x - bleed < (x1 + x2) / 2 < s.x + w + bleed and s.y - bleed < (y1 + y2) / 2 < s.y + h + bleed]  # fmt: skip
        assert not inside, "no cut mark lies on a card"


@given(
    st.builds(
        Paper, width=st.floats(60, 500), height=st.floats(60, 500), margin=st.floats(0, 15), gutter=st.floats(0, 10), bleed=st.booleans(),
        turned=st.sampled_from(["auto", "portrait", "landscape"]),
    ),
    st.floats(20, 90),
    st.floats(20, 90),
)  # fmt: skip
def test_folded_between_them_a_back_is_behind_its_front_head_to_head(paper, wide, high):
    size = Size(width=wide, height=high, corner=0, safe=2)
    try:
        laid = impose(size, paper, pairs=True)
    except NoRoom:
        assume(False)
    fold = 2 * laid.bleed + paper.gutter
    assert laid.pairs and laid.each == len(laid.slots) // 2 >= 1
    for front, back in zip(laid.slots[::2], laid.slots[1::2], strict=True):
        assert not front.turned
        if front.y == back.y:
            assert back.x == pytest.approx(front.x + wide + fold, abs=0.001) and not back.turned
        else:
            # What is folded away downwards comes to lie upside down, unless it was printed so.
            assert (back.x, back.y) == pytest.approx((front.x, front.y + high + fold), abs=0.001) and back.turned


def test_a_narrow_sheet_has_backs_below_their_fronts_and_a_low_one_at_their_side():
    narrow, low = (impose(POKER, Paper(width=w, height=h, turned=way), pairs=True) for w, h, way in ((80, 200, "portrait"), (150, 100, "landscape")))
    assert [slot.turned for slot in narrow.slots] == [False, True] and narrow.slots[0].x == narrow.slots[1].x
    assert [slot.turned for slot in low.slots] == [False, False] and low.slots[0].y == low.slots[1].y


def test_sizes_that_differ_in_their_bleed_alone_share_a_leaf_only_where_none_is_printed():
    sizes = [Size(width=60, height=90, bleed=bleed) for bleed in (2, 4)]
    cards = [("a", sizes[0], 3), ("b", sizes[1], 2)]
    assert [leaf.cards for leaf in leaves(cards, Paper(), "none")] == [("a", "a", "a", "b", "b")]
    apart = leaves(cards, Paper(bleed=True), "none")
    assert [(leaf.cards, leaf.laid.bleed) for leaf in apart] == [(("a", "a", "a"), 2), (("b", "b"), 4)]


BODY = load_typefaces()["body"]


@given(
    st.builds(Paper, width=st.floats(36, 230), height=st.floats(36, 230), margin=st.floats(0, 7), turned=st.just("portrait")),
    st.lists(st.text("abc é·", min_size=1, max_size=60), max_size=3),
    st.booleans(),
)  # fmt: skip
def test_nothing_at_the_foot_runs_off_the_sheet_or_into_the_ruler(paper, said, ruler):
    size = Size(width=20, height=20, corner=0)
    said = [*sorted(said, key=len, reverse=True), "1"]
    (leaf,) = leaves([("a", size, 1)], paper, "none")
    page = page_of(leaf, leaf.front(), lambda card, side: Face(size, (), ()), False, ruler, said, BODY)
    ends = [(x, x + BODY.width(text, LETTERS)) for x, _, text in page.words]
    ends += [(min(x1, x2), max(x1, x2)) for x1, _, x2, _ in page.lines]
    assert all(paper.margin - 0.01 <= low and high <= page.width - paper.margin + 0.01 for low, high in ends)
    colophon = [text for *_, text in page.words if text != "50 mm" or not page.lines]
    assert len(colophon) <= 1 and set(colophon) <= set(said)
    if colophon and page.lines:
        assert page.words[0][2] == "50 mm" and ends[1][0] >= ends[0][1] > max(high for _, high in ends[2:]), "one after another"


@pytest.mark.parametrize(
    ("wide", "words"),
    [
        (210, ["50 mm", "a long line that says all of it"]), (80, ["50 mm", "shorter"]), (70, ["50 mm", "1"]), (60, ["a long line that says all of it"]),
        (24, ["shorter"]),
    ],
)  # fmt: skip
def test_the_line_at_the_foot_is_as_long_as_there_is_room_for(wide, words):
    size = Size(width=12, height=300, corner=0, safe=1)
    (leaf,) = leaves([("a", size, 1)], Paper(width=max(30, wide), height=400, margin=(30 - wide) / 2 if wide < 30 else 0, turned="portrait"), "none")
    said = ["a long line that says all of it", "shorter", "1"]
    page = page_of(leaf, (), lambda card, side: Face(size, (), ()), False, True, said, BODY)
    assert [text for *_, text in page.words] == words


@given(st.floats(0.5, 1.2))
def test_a_printer_that_shrinks_is_made_up_for_and_its_ruler_measures_so(scale):
    """The ruler is in the scale of the cards: what makes a card of 63.5 mm come out at that makes its 50 mm come out at 50."""
    (leaf,) = leaves([("a", POKER, 1)], Paper(scale=scale), "none")
    assume(leaf.laid.foot is not None)
    page = page_of(leaf, leaf.front(), lambda card, side: Face(POKER, (), ()), False, True, (), BODY)
    long = max(x2 - x1 for x1, _, x2, _ in page.lines)
    assert long == pytest.approx(50 * scale) and leaf.laid.card[0] == pytest.approx(63.5 * scale)
    ticks = sorted({round(x1, 6) for x1, _, x2, _ in page.lines if x1 == x2})
    assert len(ticks) == 11 and ticks[-1] - ticks[0] == pytest.approx(long, abs=1e-5)
