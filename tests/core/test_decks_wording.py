"""Deck verdicts and effects as text."""

from __future__ import annotations

import pytest

from dramok.core.decks import Deck, Format, legality
from dramok.core.wording import printed_text
from tests.core.invented_world import RULEBOOK, VOCABULARY, card

FORMAT = Format(
    id="f", name="Duel", least_cards=5, most_cards=6, copies=3, copies_by_rarity={"rare": 1}, most_factions=1
)
POOL = {
    each.id: each
    for each in (card("Fern", bed="fern"), card("Moss", bed="moss"), card("Rare", bed="fern", rarity="rare"))
}


@pytest.mark.parametrize(
    ("cards", "said"),
    [
        ({"Fern": 3, "Rare": 1}, ["4 cards; minimum 5 -> add 1"]),
        ({"Fern": 5}, ["5 of Fern; maximum 3 -> remove 2"]),
        ({"Fern": 3, "Rare": 2}, ["2 of Rare; maximum 1 -> remove 1"]),
        ({"Fern": 3, "Moss": 2}, ["2 beds (Fern, Wet Moss); maximum 1 -> remove the 2 of Wet Moss"]),
        (
            {"Fern": 3, "Gone": 4},
            ["7 cards; maximum 6 -> remove 1", "this card is gone from the game -> remove it"],
        ),
    ],
)
def test_legality_reports_the_rule_and_the_fix(cards, said):
    assert [
        f"{p.what} -> {p.mend}" for p in legality(Deck("d", "Deck", cards), POOL, RULEBOOK, FORMAT)
    ] == said


@pytest.mark.parametrize(
    ("effect", "said"),
    [
        ("upon play this: draw 1", "Draw 1 card."),
        ("upon enter this: draw 2; discard 1", "On arrival: draw 2 cards. Discard 1 card."),
        ("upon play this: deal 2 to pick other", None),
        ("upon play this: deal 2 to pick own plant [other]", "2 mildew to another plant of yours."),
        ("upon play this: deal 1 to pick 0..2 rival card", "1 mildew to up to 2 cards of a rival."),
        ("upon leave this: gain 3 water; lose 1 ribbon", "On leaving: gain 3 {water}. Lose 1 {ribbon}."),
        ("upon play this: heal 1 to all own plant [bed is Fern, not tag climber, height above 2]", "Heal 1 from each Fern non-climber plant of yours with height above 2."),
        ("always: raise root of this by count (own plant [other])", "Root +1 for each other plant of yours."),
        ("upon play this: draw count (own plant)", "Draw 1 card for each plant of yours."),
    ],
)  # fmt: skip
def test_printed_text_follows_from_the_effect(effect, said):
    if said is None:
        with pytest.raises(AssertionError):
            card("Wrong", effect)
        return
    text = printed_text(card("One", effect, "weather"), RULEBOOK, VOCABULARY)
    assert (text.lines, text.overridden, text.behaviour_written) == ((said,), False, True)


def test_own_words_replace_the_text_and_do_not_play_alone():
    own = printed_text(card("One", "upon play this: draw 1", printed="Take a card."), RULEBOOK, VOCABULARY)
    prose = printed_text(card("Two", printed="Take a card."), RULEBOOK, VOCABULARY)
    assert (own.lines, own.overridden, own.behaviour_written) == (("Take a card.",), True, True)
    assert not prose.behaviour_written
