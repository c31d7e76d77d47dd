"""A match: a program, decks, a seed and the decisions taken. Undo is a replay without the last decision."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from typing import NamedTuple

from dramok.core.automatic_players import BY_ID
from dramok.core.engine.kernel import codes as k
from dramok.core.engine.kernel.loop import decide, run, stands
from dramok.core.engine.kernel.manual import by_hand, hands_free
from dramok.core.engine.kernel.playout import choose
from dramok.core.engine.kernel.setup import clear, lay, ready
from dramok.core.engine.kernel.state import State
from dramok.core.engine.kernel.zones import hides, slot_of
from dramok.core.engine.program import Program

DOINGS = (
    "draw", "play", "discard", "dismiss", "end turn", "pick", "done", "cancel", "use", "yes", "no", "option", "clash", "answer", "keep",
    "redraw", "give back", "hand move", "hand top", "hand look", "hand shuffle", "hand total", "hand damage", "hand tilt", "hand stat",
    "buy",
)  # fmt: skip
"""Those that begin with *hand* are manual moves: they are not among the options, and are allowed whenever the seat has time
to act.
"""
ASKED = (
    "nothing", "act", "pick", "discard", "hand limit", "declare", "host", "may", "choose", "clash", "answer", "redraw", "answer play",
    "give back",
)  # fmt: skip
BY_HAND = "hand "
MOST_SEED = 2**63 - 1
Deck = Mapping[str, int] | Sequence[str]
Event = tuple[int, int, int, int, int]


class Option(NamedTuple):
    """One legal decision: its kind, the card of the table (-1: none), and a further target (-1: none).

    `other` is the effect of a used card, the choice of several, the answered card, or the returned resource.
    """

    do: str
    card: int = -1
    other: int = -1


class NotAnOption(ValueError):
    """The decision is not one of the options."""


class Match:
    """`state` is the kernel's; only `decide` advances it.

    `decisions` are all that were taken, `whose` their seats, `events` all resulting events, `ends` the number
    of events before the first decision and after each.
    """

    def __init__(self, program: Program, decks: Sequence[Sequence[str]], seed: int, state: State) -> None:
        self.program = program
        self.decks = tuple(tuple(deck) for deck in decks)
        self.seed = seed
        self.state = state
        self.decisions: list[Option] = []
        self.events: list[Event] = []
        self.ends: list[int] = []
        self.whose: list[int] = []
        self._tried: State | None = None
        self._go_on()

    @property
    def options(self) -> tuple[Option, ...]:
        """Every legal decision of the seat to move."""
        s = self.state
        return tuple(Option(DOINGS[s.optk[row]], s.opta[row], s.optb[row]) for row in range(s.options))

    @property
    def asked(self) -> str:
        """The question to the seat: see `ASKED`; over at the end of the match."""
        return "over" if self.state.over else ASKED[self.state.wait]

    @property
    def seat(self) -> int:
        """The seat to move."""
        return self.state.whose

    def dealt(self, seat: int = 0) -> tuple[tuple[str, ...], tuple[str, ...]]:
        """The hand of a seat in drawing order, and its draw pile from the top."""
        hand, pile = ([self.program.cards[self.state.cdef[card]].id for card in self.zone(zone, seat)] for zone in (k.HAND, k.DRAW_PILE))
        return tuple(hand), tuple(reversed(pile))

    def zone(self, zone: int, seat: int) -> list[int]:
        """The cards of a zone, lowest first."""
        s = self.state
        found = []
        card = s.zhead[slot_of(self.program.numbers, s, zone, seat)]
        while card >= 0:
            found.append(card)
            card = s.next[card]
        return found

    def is_action(self, card: int) -> bool:
        """Whether a card of the table represents an action of the rules."""
        return self.state.cdef[card] >= len(self.program.cards)

    def choose(self, player: str) -> int:
        """The option that an automatic player takes for the seat to move, by the id of the player."""
        found = BY_ID[player]
        if found.simulates and self._tried is None:
            self._tried = State(k.MOST_CARDS, 1)
        return choose(self.program.numbers, self.state, self._tried or self.state, found.number)

    @property
    def hands_free(self) -> bool:
        """Whether the seat to move can make manual moves now."""
        return bool(hands_free(self.program.numbers, self.state))

    def decide(self, option: Option) -> list[Event]:
        """Take one of the options, or make a manual move; returns the resulting events.

        Raises NotAnOption, and then changes nothing.
        """
        if option.do.startswith(BY_HAND):
            return self._by_hand(option)
        found = next((row for row, each in enumerate(self.options) if each == option), None)
        if found is None:
            raise NotAnOption(f"{option.do} is not possible now")
        return self.take(found)

    def _by_hand(self, option: Option) -> list[Event]:
        before, seat = len(self.events), self.seat
        kind = DOINGS.index(option.do) if option.do in DOINGS else k.NONE
        if kind < 0 or max(abs(option.card), abs(option.other)) > MOST_SEED or not by_hand(self.program.numbers, self.state, kind, option.card, option.other):
            raise NotAnOption(self._why_not(option))
        self.decisions.append(option)
        self.whose.append(seat)
        self._go_on()
        return self.events[before:]

    def _why_not(self, option: Option) -> str:
        """Why a manual move is not allowed."""
        if not self.hands_free:
            return "nothing can be done by hand while a choice is open"
        if option.do == "hand top":
            return "that pile is empty, or there is no room where its card should go"
        return "it is so already, or it can't be done with that card or there"

    def take(self, row: int) -> list[Event]:
        """Take the option of a row."""
        before = len(self.events)
        self.decisions.append(self.options[row])
        self.whose.append(self.seat)
        decide(self.program.numbers, self.state, row)
        self._go_on()
        return self.events[before:]

    def _go_on(self) -> None:
        p, s = self.program.numbers, self.state
        while True:
            run(p, s)
            stands(p, s)
            rows = s.log[: s.nlog * k.EVENT]
            self.events += [tuple(rows[at : at + k.EVENT]) for at in range(0, len(rows), k.EVENT)]
            s.nlog = 0
            if s.wait != k.W_DRAIN:
                break
            s.wait = k.W_NOTHING
        self.ends.append(len(self.events))


def seen_by(match: Match, zone: int, of: int, seat: int) -> bool:
    """Whether a seat sees the cards in a zone of a seat."""
    return not hides(match.program.numbers, match.state, zone, of, seat)


def fits(program: Program, decks: Sequence[int]) -> None:
    """Raises ValueError if decks of these sizes and the starting cards are more than a table can hold."""
    p = program.numbers
    at, placed = p[k.H_PLACED], 0
    for row in range(p[at]):
        zone, count = p[at + 1 + row * 3], p[at + 3 + row * 3]
        placed += count * (program.seats if p[p[k.H_ZONE_ROWS] + zone * k.ZONE_WIDTH + k.Z_STRIDE] else 1)
    placed += p[k.H_ACTIONS] * program.seats
    if sum(decks) + placed > k.MOST_CARDS - k.MOST_TOKENS:
        more = f" and {placed} starting cards" if placed else ""
        raise ValueError(f"decks of {sum(decks)} cards together{more} can't be played; {k.MOST_CARDS - k.MOST_TOKENS} are the most")


def fresh(program: Program, decks: Sequence[Deck], seed: int, state: State | None = None) -> tuple[State, list[list[str]]]:
    """The table with all cards placed, before anything happens; and the decks as lists of ids, in the order of
    the program's cards.

    Raises KeyError for a card that the program lacks and ValueError for a seed out of range, or decks of the
    wrong number or size.
    """
    lists = [
        [card for card, count in deck.items() for _ in range(count)] if isinstance(deck, Mapping) else list(deck)
        for deck in decks
    ]
    if not 0 <= seed <= MOST_SEED:
        raise ValueError(f"the seed must be a whole number from 0 to {MOST_SEED}")
    if len(lists) != program.seats:
        raise ValueError(f"this game has {program.seats} seats, and {len(lists)} decks were given")
    for deck in lists:
        if not 1 <= len(deck) <= k.MOST_DECK:
            raise ValueError(f"a deck of {len(deck)} cards can't be played; take from 1 to {k.MOST_DECK}")
    definitions = [sorted(program.definition(card) for card in deck) for deck in lists]
    fits(program, [len(deck) for deck in definitions])
    s = state or State(k.MOST_CARDS)
    p = program.numbers
    clear(p, s, seed & 0xFFFFFFFF, seed >> 32)
    for seat, laid_out in enumerate(definitions):
        for made in laid_out:
            lay(p, s, made, seat, k.DRAW_PILE)
    ready(p, s)
    return s, [[program.cards[made].id for made in deck] for deck in definitions]


def start(program: Program, deck: Deck | Sequence[Deck], seed: int) -> Match:
    """Set up the table by the seed and run until a seat must decide.

    `deck` lists card ids, or maps them to counts; or a sequence of such decks, one for each seat. The order in
    a deck does not matter. Raises as `fresh` does.
    """
    several = not isinstance(deck, Mapping) and any(not isinstance(each, str) for each in deck)
    decks: Sequence[Deck] = deck if several else [deck]  # type: ignore[assignment, list-item]
    state, lists = fresh(program, decks, seed)
    state.logs = 1
    return Match(program, [sorted(each) for each in lists], seed, state)


class Dealer:
    """Deals one deck repeatedly, as matches with a seed begin, reusing the table."""

    def __init__(self, program: Program, deck: Deck) -> None:
        self.program, self.deck = program, deck
        self.state = State(k.MOST_CARDS, 1)

    def dealt(self, seed: int) -> tuple[tuple[str, ...], tuple[str, ...]]:
        """The first seat's hand in drawing order, and its draw pile from the top. Raises as `fresh` does."""
        s, _ = fresh(self.program, [self.deck], seed, self.state)
        run(self.program.numbers, s)
        cards = self.program.cards
        found: list[list[str]] = []
        for zone in (k.HAND, k.DRAW_PILE):
            held, card = [], s.zhead[slot_of(self.program.numbers, s, zone, 0)]
            while card >= 0:
                held.append(cards[s.cdef[card]].id)
                card = s.next[card]
            found.append(held)
        return tuple(found[0]), tuple(reversed(found[1]))


def replay(program: Program, deck: Deck | Sequence[Deck], seed: int, decisions: Iterable[Option]) -> Match:
    """Replay a match with the same events. Raises NotAnOption if a decision is not valid in it."""
    match, problem = replay_as_far(program, deck, seed, decisions)
    if problem is not None:
        raise problem
    return match


def replay_as_far(
    program: Program, deck: Deck | Sequence[Deck], seed: int, decisions: Iterable[Option]
) -> tuple[Match, NotAnOption | None]:
    """Replay a match as far as its decisions are valid, with the reason why the first invalid one was refused."""
    match = start(program, deck, seed)
    for option in decisions:
        try:
            match.decide(option)
        except NotAnOption as error:
            return match, error
    return match, None
