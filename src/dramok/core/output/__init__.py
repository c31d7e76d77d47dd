"""Output geometry: choice of cards, positions on pages and sheets, file names.

Pages in mm from the top left corner, sheets in pixels.
"""

from dramok.core.output.card_selection import NoSuchCards, choose
from dramok.core.output.file_names import NoPattern, each_once, file_name, read_pattern
from dramok.core.output.imposition import PAPERS, Edge, Imposition, NoRoom, Paper, Slot, impose
from dramok.core.output.pages import Backs, Leaf, Page, Painted, Spot, leaves, page_of, ruler_fits
from dramok.core.output.printed_copies import OnPaper, PaperState, last_printings
from dramok.core.output.sheet_grid import Grid, Limits, fit_grids

__all__ = [
    "PAPERS", "Backs", "Edge", "Grid", "Imposition", "Leaf", "Limits", "NoPattern", "NoRoom", "NoSuchCards", "OnPaper", "Page", "Painted", "Paper", "PaperState", "Slot", "Spot",
    "choose", "each_once", "file_name", "fit_grids", "impose", "last_printings", "leaves", "page_of", "read_pattern", "ruler_fits",
]  # fmt: skip
