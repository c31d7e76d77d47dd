"""Cards to paper: what is printed, at which size, how often, with which backs."""

from __future__ import annotations

import json

import pypdfium2
import pytest

from dramok.core.output import Paper
from dramok.studio import Missing, Refused
from dramok.studio.printing import PrintOrder, print_cards
from tests.conftest import GAME
from tests.test_cli import run

DAY = "2026-11-23"


def printed(desk, game=GAME, **order):
    return print_cards(desk, desk.game(game), PrintOrder(**order), DAY)


def test_a_deck_is_printed_with_its_copies_and_backs_behind_their_fronts(desk):
    deck = next(iter(desk.game(GAME).decks.values()))
    done = printed(desk, deck=deck.name, backs="long", paper=Paper(margin=5))
    assert (done.copies, done.cards) == (deck.size, len(deck.cards))
    assert done.pages == 2 * -(-deck.size // 9) and done.warnings == ()
    document = pypdfium2.PdfDocument(done.data)
    assert len(document) == done.pages
    assert [round(each / 72 * 25.4, 1) for each in document[0].get_size()] == [210.0, 297.0]
    text = document[0].get_textpage().get_text_range()
    assert "50 mm" in text and f"Ribbon Season · {deck.size} cards · {DAY}" in text
    assert printed(desk, deck=deck.name, backs="long", paper=Paper(margin=5)).data == done.data


def test_a_printed_card_measures_what_its_plan_says(desk):
    """The card's own paper is found again on the page, dark against white, to a hundredth of an inch."""
    done = printed(desk, cards="RS-001", copies=1, marks=False, paper=Paper(width=100, height=120, margin=5))
    image = pypdfium2.PdfDocument(done.data)[0].render(scale=600 / 72).to_pil().convert("L")
    card = (
        image.crop((0, 0, image.width, image.height - 150))
        .point(lambda grey: 255 if grey < 253 else 0)
        .getbbox()
    )
    wide, high = ((card[2] - card[0]) / 600 * 25.4, (card[3] - card[1]) / 600 * 25.4)
    assert (wide, high) == (pytest.approx(63.5, abs=0.1), pytest.approx(88.9, abs=0.1))


def test_tiles_of_two_sizes_lie_on_pages_of_their_own_and_what_is_odd_is_said(desk):
    done = printed(desk, "crowded-bed", copies=1)
    planting, fixture = 44, 4
    assert done.copies == planting + fixture and done.pages == -(-planting // 12) + 1
    odd = printed(desk, "crowded-bed", query="type is Fixture", copies=2, paper=Paper(scale=0.97, margin=1))
    assert (odd.copies, odd.pages) == (8, 1)
    assert odd.warnings[0] == "at 97 % a card comes out 67.90 x 58.80 mm, not 70 x 60.62"
    assert "an edge may be lost" in odd.warnings[1]


@pytest.mark.parametrize(
    ("order", "error", "said"),
    [
        ({"cards": "900"}, Refused, "there is no card 900"),
        ({"copies": 0}, Refused, "no card is chosen"),
        ({"copies": 1000}, Refused, "too many at once"),
        ({"query": "cost is is"}, Refused, "number"),
        ({"deck": "None such"}, Missing, "no deck"),
        ({"paper": Paper(width=60, height=60)}, Refused, "does not fit"),
    ],
)
def test_what_can_not_be_printed_is_refused_with_the_reason(desk, order, error, said):
    with pytest.raises(error, match=said):
        printed(desk, **order)


def test_the_command_prints_and_never_writes_over_a_file_unasked(db, tmp_path):
    file = tmp_path / "run.pdf"
    done = json.loads(
        run(
            "print",
            file,
            "--game",
            GAME,
            "--cards",
            "1-10",
            "--copies",
            "1",
            "--margin",
            "5",
            "--json",
            "--db",
            db,
        )
    )
    assert (done["copies"], done["pages"], done["bytes"]) == (10, 2, file.stat().st_size)
    assert "is there already" in run("print", file, "--game", GAME, "--db", db, code=1)
    for wrong in (("--paper", "A9"), ("--backs", "top"), ("--scale", "99"), ("--cards", "RS-999")):
        run("print", tmp_path / "other.pdf", "--game", GAME, *wrong, "--db", db, code=1)
    assert not (tmp_path / "other.pdf").exists()
