"""Exact odds of drawing, from counts."""

from dramok.core.odds.chances import chances, keeps
from dramok.core.odds.copies import copies_needed, one_more, payable, with_copies
from dramok.core.odds.cycles import CycleTurn, cycle_odds
from dramok.core.odds.draws import ChosenCards, Draws, Redraw, WholeHand
from dramok.core.odds.groups import (
    Atoms,
    BadOdds,
    Condition,
    Event,
    TooMuch,
    Work,
    atoms_from,
    atoms_of,
    in_group,
    tally,
)
from dramok.core.odds.odds_text import in_games, percent, said

__all__ = [
    "Atoms", "BadOdds", "ChosenCards", "Condition", "CycleTurn", "Draws", "Event", "Redraw", "TooMuch", "WholeHand", "Work", "atoms_from", "atoms_of", "chances",
    "copies_needed", "cycle_odds", "in_games", "in_group", "keeps", "one_more", "payable", "percent", "said", "tally", "with_copies",
]  # fmt: skip
