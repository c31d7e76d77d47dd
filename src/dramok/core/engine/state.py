"""The kernel's constants, its tables and the state of a match: whole numbers only."""

from __future__ import annotations

from dataclasses import dataclass

# Zones of one seat; zone number = seat * ZONES + zone.
DRAW_PILE, HAND, DISCARD_PILE, IN_PLAY, RESOLVING = range(5)
ZONES = 5

# Cues, in the order of `effects.verbs` after `always`.
ALWAYS, ON_PLAY, ON_ENTER, ON_LEAVE = range(4)

# Verbs of steps, in the order of `effects.verbs`.
V_DRAW, V_DISCARD, V_DEAL, V_HEAL, V_GAIN, V_LOSE, V_RAISE, V_REVEAL = range(8)

# Targets.
T_NONE, T_THIS, T_IT, T_PICK, T_ALL, T_RANDOM = range(6)

# Filters, and compares of a stat filter.
F_OTHER, F_TAG, F_CHOICE, F_STAT = range(4)
C_IS, C_ABOVE, C_UNDER = range(3)

# Sides of a group.
S_ANY, S_OWN, S_RIVAL = range(3)

# What a seat is asked for.
W_NOTHING, W_ACTION, W_PICK, W_DISCARD, W_LIMIT, W_DECLARE = range(6)

# Decisions.
D_DRAW, D_PLAY, D_DISCARD, D_DISMISS, D_END_TURN, D_PICK, D_DONE, D_CANCEL = range(8)

# Frames on the stack.
K_ABILITY, K_AFTER_PLAY = range(2)
FRAME = 6
FR_KIND, FR_ABILITY, FR_CARD, FR_CURSOR, FR_PHASE, FR_LEFT = range(FRAME)

# Events: (kind, seat, card, a, b).
(
    E_SHUFFLED, E_DREW, E_NO_CARD, E_PLAYED, E_PAID, E_ENTERED, E_LEFT, E_DISCARDED, E_DESTROYED, E_DEALT, E_HEALED,
    E_GAINED, E_LOST, E_CAPPED, E_NO_TARGET, E_PICKED, E_TURN, E_RESHUFFLED, E_OVER_LIMIT, E_RUNAWAY, E_ABILITY, E_NOTHING,
    E_REVEALED,
) = range(23)  # fmt: skip

# Streams of chance.
R_SHUFFLE, R_RANDOM = range(2)
STREAMS = 2

MOST_CARDS = 400
MOST_STEPS = 10_000


@dataclass(frozen=True, slots=True)
class Compiled:
    """The compiled rulebook and cards: the effect table and its selectors, all flat tuples of whole numbers.

    Row r of a table of width w is `table[r * w : (r + 1) * w]`; -1 stands for none.
    """

    stats: int
    choices: int
    resources: int
    damage_limit: int
    pays: int
    opening_hand: int
    turn_draw: int
    hand_limit: int
    reshuffles: int
    def_type: tuple[int, ...]
    def_stays: tuple[int, ...]
    def_cost: tuple[int, ...]
    def_stat: tuple[int, ...]
    def_choice: tuple[int, ...]
    def_tags: tuple[int, ...]
    def_abilities: tuple[int, ...]
    ability_cue: tuple[int, ...]
    ability_steps: tuple[int, ...]
    step_verb: tuple[int, ...]
    step_count: tuple[int, ...]
    step_amount: tuple[int, ...]
    step_what: tuple[int, ...]
    step_target: tuple[int, ...]
    step_group: tuple[int, ...]
    step_least: tuple[int, ...]
    step_most: tuple[int, ...]
    group_side: tuple[int, ...]
    group_type: tuple[int, ...]
    group_filters: tuple[int, ...]
    filter_kind: tuple[int, ...]
    filter_not: tuple[int, ...]
    filter_what: tuple[int, ...]
    filter_value: tuple[int, ...]
    filter_compare: tuple[int, ...]
    resource_start: tuple[int, ...]
    resource_turn: tuple[int, ...]
    resource_cap: tuple[int, ...]
    resource_shared: tuple[int, ...]


class State:
    """A match at one moment. Every list has a fixed length set at the start; `events` alone grows."""

    __slots__ = (
        "arrivals", "card_arrival", "card_damage", "card_def", "card_seat", "card_zone", "cards", "chance", "declaring", "events",
        "frame_picks", "frames", "over", "pick_cards", "pick_least", "pick_most", "resource", "seats", "stack", "steps_done",
        "turn", "waiting", "waiting_seat", "zone_cards", "zone_count",
    )  # fmt: skip

    def __init__(self, seats: int, cards: int, resources: int) -> None:
        self.seats = seats
        self.cards = cards
        self.card_def = [0] * cards
        self.card_seat = [0] * cards
        self.card_zone = [DRAW_PILE] * cards
        self.card_damage = [0] * cards
        self.card_arrival = [0] * cards
        self.zone_cards = [0] * (seats * ZONES * max(cards, 1))
        self.zone_count = [0] * (seats * ZONES)
        self.resource = [0] * (seats * max(resources, 1))
        self.stack: list[int] = []
        self.frames = 0
        self.frame_picks: list[list[int]] = []
        self.pick_cards: list[int] = []
        self.pick_least = 0
        self.pick_most = 0
        self.declaring = -1
        self.waiting = W_NOTHING
        self.waiting_seat = 0
        self.turn = 1
        self.arrivals = 0
        self.steps_done = 0
        self.over = 0
        self.chance = [0] * (seats * STREAMS * 4)
        self.events: list[tuple[int, int, int, int, int]] = []
