"""The automatic players: one record each, which the kernel, the server, the page and the command line read."""

from __future__ import annotations

from dataclasses import dataclass

RANDOM, PLAIN, AHEAD = range(3)
"""The numbers by which the kernel knows them: at most four, two bits for each seat."""


@dataclass(frozen=True)
class AutomaticPlayer:
    """`id` is stored and sent; people see `name` and type `word` in a terminal. `about` says how it chooses.

    `simulates`: it tries options on a second state. `replayed`: the decisions of the longest game that it plays again to find a loop, so that this takes seconds.
    """

    number: int
    id: str
    word: str
    name: str
    about: str
    replayed: int
    simulates: bool = False


AUTOMATIC_PLAYERS = (
    AutomaticPlayer(RANDOM, "random", "random", "Random", "any option", 2_000),
    AutomaticPlayer(PLAIN, "plain", "simple", "Simple", "what is worth most now", 2_000),
    AutomaticPlayer(AHEAD, "ahead", "ahead", "Looks ahead", "a step further, slower", 100, simulates=True),
)
"""From weakest to strongest."""
BY_ID = {each.id: each for each in AUTOMATIC_PLAYERS}
PLAYERS = tuple(BY_ID)
WORDS = f"{', '.join(each.word for each in AUTOMATIC_PLAYERS[:-1])} or {AUTOMATIC_PLAYERS[-1].word}"
"""Their names as the command line lists them."""


def id_of(word: str) -> str:
    """The id of the player with this name in a terminal; other words are returned as they are."""
    return next((each.id for each in AUTOMATIC_PLAYERS if each.word == word), word)
