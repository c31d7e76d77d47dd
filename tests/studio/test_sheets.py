"""Sheets are made once and found again, whatever a card holds unseen; and say nothing of that."""

from __future__ import annotations

from dataclasses import replace

import pytest

from dramok.studio.cells import CellEdit, write_cells
from dramok.studio.finding import find
from dramok.studio.sheets import SHEETS, make_sheet, sheet_of
from tests.conftest import GAME

FERN = f"c-{GAME}-rs-001"


@pytest.fixture
def retyped(desk):
    """The game with a plant that became weather: its height and root are held, and seen nowhere."""
    done = write_cells(desk, GAME, [CellEdit(FERN, "type", "Weather")], desk.game(GAME).seq, "one")
    assert not done.refused
    game = desk.game(GAME)
    assert "height" in game.cards[FERN].values and not game.rulebook.cards.has_field("weather", "height")
    return game


def test_a_sheet_is_found_again_though_its_card_holds_what_is_not_seen(retyped):
    for card in retyped.cards.values():
        made = sheet_of(retyped, card)
        assert sheet_of(retyped, card) is made and SHEETS.known(retyped, card) is made and made.card is card
    standings = SHEETS.standings(retyped)
    assert None not in standings and SHEETS.standings(retyped) is standings


def test_every_card_is_asked_for_its_verdict_once_all_are_judged(desk, retyped):
    for card in retyped.cards.values():
        sheet_of(retyped, card)
    judged = [find(desk, retyped, query) for query in ("over", "under", "fair", "open")]
    assert [each.waiting for each in judged] == [0] * 4
    assert sorted(card.id for each in judged for card in each.cards) == sorted(retyped.cards)


def test_a_sheet_says_the_same_as_that_of_a_card_that_never_had_what_is_hidden(retyped):
    card = retyped.cards[FERN]
    bare = replace(card, values={ident: value for ident, value in card.values.items() if ident not in ("height", "root")})
    held, never = make_sheet(retyped, card), make_sheet(retyped, bare)
    assert (held.face, held.back, held.label, held.printed, held.ledger, held.problems, held.standing) == (never.face, never.back, never.label, never.printed, never.ledger, never.problems, never.standing)  # fmt: skip
