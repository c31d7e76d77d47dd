"""Query conditions without a field."""

FLAGS = {
    "unfinished": "something is still to be filled in, or typed wrongly",
    "outlier": "worth more or less than its cost buys",
    "over": "worth more than its cost buys",
    "under": "worth less than its cost buys",
    "fair": "worth what its cost buys",
    "open": "some of its worth is not decided",
    "text does not fit": "its face is too small for its text",
    "any fault": "the proof of its face finds something",
    "text too small": "a text on its face can't be read in print",
    "placements collide": "two filled placements of its face collide",
    "beyond the safe edge": "text or a symbol is too close to the cut",
    "picture missing": "a picture on its face is not there",
    "picture too coarse": "a picture has under 300 dots an inch in print",
    "glyph missing": "a font lacks a character of its texts",
    "low contrast": "a text on its face has too little contrast",
    "adjusted": "its face has adjustments of its own",
    "behaviour not written": "its text prints, but does not play",
    "stale on paper": "its face is not as it was printed last",
    "up to date on paper": "its face is as it was printed last",
    "never printed": "no print run holds it",
    "in no deck": "no deck holds it",
    "without a name": "it has no name; its code is shown",
    "open notes": "a note on it has no answer",
    "answered notes": "a note on it is answered",
    "any notes": "somebody noted something on it",
    "table notes": "somebody noted something on it at the table, in a playtest",
}
"""Query conditions without a field, with their meaning."""

SHORT = {
    "overfull": "text does not fit",
    "unwritten": "behaviour not written",
    "nameless": "without a name",
    "overruled": "adjusted",  # the name until version 0.6
    "out of date on paper": "stale on paper",
    "undecided": "open",
}
NOTED = {
    "open notes": frozenset({"open"}),
    "answered notes": frozenset({"answered"}),
    "any notes": frozenset({"open", "answered"}),
    "table notes": frozenset({"pinned"}),
}
FAULTS = {
    "text too small": "small", "placements collide": "collision", "beyond the safe edge": "edge", "picture missing": "picture",
    "picture too coarse": "coarse", "glyph missing": "glyph", "low contrast": "contrast",
}  # fmt: skip
"""The kinds of face problems (see `faces.proof`)."""
PAPER = {"stale on paper": "stale", "up to date on paper": "current"}
JUDGED = frozenset(FLAGS) - {"in no deck", "without a name", "adjusted", "never printed", *NOTED}
