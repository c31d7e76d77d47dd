"""From faces to paper: which cards are meant, how many go on a page and where. Lengths in mm from a page's top left corner."""

from dramok.core.output.choosing import NoSuchCards, choose
from dramok.core.output.imposition import PAPERS, Imposition, NoRoom, Paper, Slot, impose

__all__ = ["PAPERS", "Imposition", "NoRoom", "NoSuchCards", "Paper", "Slot", "choose", "impose"]
