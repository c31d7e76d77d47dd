"""Labels and low-ink faces for quick prints: nothing runs off a label, and all text stays readable."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from dramok.core.faces import Circle, Clip, Face, Field, Path, Rect, Segment, Size, Text, Turn
from dramok.core.output.ink_saving import BLACK, EDGE, WHITE, sparing
from dramok.core.output.labels import BLANK, LABEL, blank_face, is_card, label_face
from dramok.formats.font_files import load_typefaces
from tests.core.faces.plans import face_of
from tests.core.invented_world import card

TYPEFACES = load_typefaces()
sizes = st.builds(
    Size, width=st.floats(25, 150), height=st.floats(30, 150), corner=st.just(0.0), safe=st.floats(0, 5), bleed=st.floats(0, 5),
    outline=st.sampled_from(["rectangle", "hexagon", "round"]),
)  # fmt: skip
words = st.text(st.characters(codec="utf-8", exclude_categories=("Cc", "Cs", "Zl", "Zp")), max_size=80)


def flat(elements):
    for element in elements:
        inner = getattr(element, "elements", None)
        if inner is None:
            yield element
        else:
            yield from flat(inner)


@given(sizes, words, st.lists(words, max_size=3))
def test_no_text_of_a_label_runs_off_it_whatever_is_written(size, title, lines):
    face = label_face(size, title, tuple(lines), TYPEFACES)
    pieces: dict[float, list[Text]] = {}
    for element in flat(face.elements):
        if isinstance(element, Text):
            pieces.setdefault(element.y, []).append(element)
    for y, line in pieces.items():
        first, last = line[0], line[-1]
        end = last.x + TYPEFACES[last.font].width(last.text, last.size)
        assert first.x >= -0.01 and end <= size.width + 0.01, (y, [each.text for each in line])


def test_a_label_says_its_title_and_lines_and_cuts_what_is_too_long():
    face = label_face(Size(), "Fern over Moss", ("36 cards", "Ribbon Season " * 20), TYPEFACES)
    said = {}
    for element in flat(face.elements):
        if isinstance(element, Text):
            said[element.y] = said.get(element.y, "") + element.text
    title, count, long = (said[y] for y in sorted(said))
    assert (
        (title, count) == ("Fern over Moss", "36 cards")
        and long.endswith("…")
        and long.startswith("Ribbon Season")
    )


@given(sizes)
def test_a_blank_card_is_white_with_its_cut_and_nothing_to_read(size):
    face = blank_face(size)
    assert face.size == size and not [element for element in flat(face.elements) if isinstance(element, Text)]
    assert next(iter(flat(face.elements))).fill == "#ffffff"


def test_blank_cards_and_labels_are_no_cards_of_the_game():
    assert is_card("c-1") and not is_card(BLANK) and not is_card(f"{LABEL}Tools")


inks = st.sampled_from(["#123456", "#ffffff", "#a8486a"])
places = st.floats(0, 60)
boxes = st.builds(Rect, x=places, y=places, width=st.floats(1, 63), height=st.floats(1, 88), fill=inks)
simple = st.one_of(
    boxes,
    st.builds(Circle, places, places, st.floats(0.5, 20), inks),
    st.builds(
        lambda x, y, said, ink: Text(x, y, said, "body", 3.0, ink),
        places,
        places,
        st.text("abc xyz", min_size=1, max_size=8),
        inks,
    ),
    st.builds(lambda x, y, ink: Segment(x, y, x + 3, y, ink, 0.3), places, places, inks),
    st.builds(lambda ink: Path("M0 0L9 0L9 9Z", ink), inks),
    st.builds(lambda ink: Path("M0 0L9 0", None, stroke=ink, width=0.4), inks),
)
nested = st.recursive(
    simple,
    lambda inner: st.one_of(
        st.builds(lambda elements: Clip("M0 0L9 0L9 9Z", tuple(elements)), st.lists(inner, max_size=3)),
        st.builds(lambda elements: Turn(90, 5, 5, tuple(elements)), st.lists(inner, max_size=3)),
        st.builds(
            lambda elements: Field("name", 0, 0, 9, 9, tuple(elements), "name"), st.lists(inner, max_size=3)
        ),
    ),
    max_leaves=8,
)


@given(st.lists(nested, max_size=8))
def test_a_thrifty_face_has_every_text_in_black_and_no_ink_but_lines(elements):
    thrifty = sparing(Face(Size(), tuple(elements), ()))
    before = [element.text for element in flat(elements) if isinstance(element, Text)]
    after = [element for element in flat(thrifty.elements) if isinstance(element, Text)]
    assert [element.text for element in after] == before and all(element.fill == BLACK for element in after)
    for element in flat(thrifty.elements):
        used = {getattr(element, name, None) for name in ("fill", "stroke", "colour")} - {None, ""}
        assert used <= {WHITE, BLACK, EDGE}, element
        if isinstance(element, Rect):
            assert element.fill == WHITE
        if isinstance(element, Circle) and element.radius > 2:
            assert element.fill in (WHITE, BLACK)


@pytest.mark.parametrize("name", ["Copper Larch", "A much longer name than most"])
def test_a_real_face_keeps_its_size_and_words(name):
    face = face_of(card(name, cost=3, height=2, tags=("climber",), effect="upon play this: draw 1"))
    thrifty = sparing(face)
    texts = lambda each: [element.text for element in flat(each.elements) if isinstance(element, Text)]  # noqa: E731
    assert (
        thrifty.size == face.size
        and texts(thrifty) == texts(face)
        and name.split()[0] in " ".join(texts(face))
    )
