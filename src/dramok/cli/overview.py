"""The commands by name, so that `dramok --help` needs no other module and a command imports only its own."""

from __future__ import annotations

import textwrap

ABOUT = "Dramok, a workbench for card game designers."
COMMANDS: dict[str, tuple[str, str]] = {
    "demo": ("serving", "Starts the app with the demo games, such as Ribbon Season."),
    "serve": ("serving", "Starts the app with a database of your own; the file is created if it does not exist."),
    "games": ("games", "Lists the games of a database."),
    "new": ("games", "Creates a game: from a table file, from a template, or empty with one card type."),
    "rename": ("games", "Renames a game."),
    "duplicate": ("games", "Duplicates a game: all of it, or only its rules and face plans."),
    "put-away": ("games", "Puts a game away: it is no longer listed, but nothing is lost."),
    "bring-back": ("games", "Brings back a game that was put away."),
    "import": ("importing", "Imports cards from a table file, or updates existing cards, as one undoable step."),
    "export": ("exchange", "Writes the cards to a table that comes back cell for cell, or to a text table."),
    "import-pictures": ("exchange", "Imports pictures and puts them on their cards."),
    "backup": ("exchange", "Writes a whole game to one file: a backup, or a copy to share."),
    "restore": ("exchange", "Restores a game from an archive as a separate game; nothing is overwritten."),
    "check": ("checks", "Lists everything unfinished or wrong in a game. Without a game: finds damage in the file, and exits with 1 if there is any."),
    "repair": ("checks", "Takes damaged games back to their last undamaged state, after asking. The file is copied first; the journal keeps what is undone."),
    "proof": ("checks", "Checks every face for what would print badly. Exits with 1 if it finds something."),
    "price": ("checks", "Shows the worth of a card line by line, or of every card."),
    "odds": ("decks", "Computes the exact chance of having drawn a number of cards of a group by a turn."),
    "play": ("playing", "Plays a match in the terminal against an automatic player."),
    "simulate": ("playing", "Plays many games between automatic players: win rates, length of games, games that never end."),
    "measure": ("measuring", "Measures the effect of each card on the win rate in games with random legal decks: percentage points per copy, with 95 % intervals."),
    "sweep": ("measuring", "Plays games over a range of values of a number of a card, or of a worth: the win rate at each value on the same shuffles, and the fair value."),
    "duels": ("measuring", "Plays decks against each other: win rates, the value of going first, the length of games, cards left in hand."),
    "health": ("measuring", "Reports the health of a set: curve, gaps, outliers, dominated cards, twins, words, out-of-date prints, unfinished cards."),
    "workers": ("measuring", "Plays games for other machines: starts a scheduler with workers, or adds this machine's workers to one. Stop it with Ctrl-C."),
    "replay": ("playing", "Replays a kept match, with the same events. If it can't be replayed to its end, it is shown as far as possible, and the exit code is 1."),
    "print": ("output", "Prints cards to a PDF at true size, as many on a page as fit, and remembers the print run."),
    "sheets": ("output", "Makes table sheets for a virtual table: images of many cards, with the settings to enter there, in a ZIP."),
    "pictures": ("output", "Makes a picture of each card, in a ZIP. (To import pictures: import-pictures.)"),
    "glossary": ("output", "Writes the game's keywords with their meanings, for a rulebook."),
    "rules": ("output", "Writes the rules text of the game."),
    "deck": ("decks", "Decks: check, show, import, export, random."),
}  # fmt: skip
"""The module of `dramok.cli` and the help of each command, in the order of `--help`."""
WIDTH = 100
_NAMES = 18


def overview() -> str:
    """The text of `dramok --help`."""
    lines = ["Usage: dramok [OPTIONS] COMMAND [ARGS]...", "", f"  {ABOUT}", "", "Options:", f"  {'--help':{_NAMES}}Show this message and exit.", "", "Commands:"]
    for name, (_, about) in COMMANDS.items():
        first, *more = textwrap.wrap(about, WIDTH - _NAMES - 2)
        lines += [f"  {name:{_NAMES}}{first}", *(" " * (_NAMES + 2) + each for each in more)]
    return "\n".join([*lines, "", "dramok COMMAND --help lists the options of a command.", ""])
