"""Where things stand on a face: one plan for every card type, in mm, poker size."""

from __future__ import annotations

WIDTH, HEIGHT, CORNER = 63.5, 88.9, 3.2
SPINE = 11.6

PAPER, INK, FAINT = "#f7f1e3", "#23281f", "#d9ceb4"
SOFT = "#5d5a4a"

NAME = (13.6, 2.6, 47.6, 7.0)
PICTURE = (SPINE, 10.6, WIDTH - SPINE, 39.0)
KIND = (13.8, 50.6, 47.2, 4.6)
LABEL = (14.2, 57.0, 46.6, 25.8)
FOOT = (14.2, 86.2, 46.6, 2.6)

NAME_SIZES = (5.0, 2.7)
TEXT_SIZES = (3.45, 2.25)

PLATE = 8.6
PLATE_LEFT = (SPINE - PLATE) / 2
FIRST_PLATE = 3.4
PLATE_STEP = 15.2
