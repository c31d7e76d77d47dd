"""Numbers shared by program, kernel, log and players: zones, operations, columns of rows, decisions, events.

Codes of events and operations are permanent: stored matches use them. Append new ones.
"""

from __future__ import annotations

NONE, SKIPPED = -1, -2

# Zones of every game; user-defined ones follow. GONE holds tokens that have ceased, FREE the slots for new ones.
DRAW_PILE, HAND, DISCARD_PILE, IN_PLAY, REMOVED, RESOLVING, GONE, FREE = range(8)
OWN_ZONES = 8
EVERYWHERE = -1
"""The zone of a group that is counted in all zones of a seat, except removed cards."""
MOST_ZONES = 16
MOST_SEATS = 4
PLACES = MOST_ZONES * MOST_SEATS
"""Zones of seats: a place is zone x seats + seat."""
MOST_RESOURCES = 16
MOST_STATS = 8
MOST_CHOICES = 8
MOST_COUNTERS = 4
"""A counter on a card is read as a stat whose number is MOST_STATS or more."""
MOST_MARKETS = 6
MOST_SCORES = 12
MOST_CARDS = 1_000
MOST_TOKENS = 200
MOST_DECK = 400
MOST_STEPS = 10_000
MOST_FRAMES = 64
MOST_SET = 2_048
MOST_MODS = 256
MOST_LATER = 64
MOST_PENDING = 256
MOST_EVAL = 32
MOST_OPTIONS = 4_096
MOST_TURNS = 400
MOST_DECISIONS = 2_000
MOST_IN_MATCH = 20_000
"""The decision limits of one turn and of a match, after which it counts as endless."""
MOST_NUMBER = 999_999
FULL_LIST, FULL_DECISIONS, FULL_UNKNOWN = 1, 2, 3
"""Why a match is cut off: a list is full, too many decisions, or an unknown operation."""
LOG_ROOM = 4_096
"""The largest number of events of one step: a full log must have this room."""

# Cues, in the order of `effects.verbs`, after ALWAYS; OFFER is an action of the controller.
(
    ALWAYS, ON_PLAY, ON_ENTER, ON_LEAVE, ON_DESTROYED, ON_DISCARDED, ON_DRAWN, ON_CLASH, ON_ANSWERED, ON_HURT, ON_HURTING,
    ON_BEGIN, ON_END, ON_MATCH, ON_RISING, ON_FALLING, ON_GAINING, ON_LOSING, ON_GAINED,
) = range(19)  # fmt: skip
OFFER = 31
MOST_CUES = 32

# Operations: the verbs in the order of `effects.verbs`, then the flow within an ability, then the rules of the turn.
(
    V_DRAW, V_DISCARD, V_DEAL, V_HEAL, V_GAIN, V_LOSE, V_RAISE, V_REVEAL, V_LOWER, V_DESTROY, V_REMOVE, V_RETURN, V_PUT, V_TILT,
    V_STRAIGHTEN, V_CREATE, V_GRANT, V_STRIP, V_FORBID, V_ALLOW, V_SHIELD, V_LOOK, V_SEARCH, V_SHUFFLE, V_MAY, V_OFFER, V_CHOOSE,
    V_EACH, V_IF, V_LATER,
) = range(30)  # fmt: skip
(
    O_BEGIN, O_END, O_NEXT, O_AFTER_PLAY, O_ANSWERS, O_PHASE, O_PHASE_END, O_TURN, O_TURN_END, O_NEXT_TURN, O_STRAIGHTEN, O_GROW,
    O_ASK, O_SEND, O_ANSWER, O_CLASH, O_CLASH_END, O_HAND_LIMIT, O_CLEAR, O_TURN_OVER, O_RECALL, O_SEAT, O_SHUFFLE_ALL, O_PLACE,
    O_REDRAW, O_SECOND, O_MATCH, O_REFILL, O_GAIN, O_OVER, O_OPENING, O_DRAW, O_JUMP, O_DISCARD_HAND, O_CLEAR_AWAY, O_ROWS, O_COUNTERS,
    O_SCHEDULED,
) = range(40, 78)  # fmt: skip

# Columns of an instruction.
(
    I_OP, I_AIS, I_AMT, I_MODE, I_GROUP, I_LEAST, I_MOST, I_X, I_Y, I_UNTIL, I_JUMP, I_WISH, I_SEATS,
) = range(13)  # fmt: skip
WIDTH = 13
"""The length of an instruction."""

# Kinds of amounts, and the seats of a step.
A_NUMBER, A_RECKONED = range(2)
T_NONE, T_THIS, T_IT, T_PICK, T_ALL, T_RANDOM, T_THAT, T_HOST, T_PICK_IT = range(9)
WHO_OWN, WHO_RIVAL, WHO_ALL, WHO_MOST, WHO_LEAST = range(5)
"""The seats of a step. For the most and the least, `I_UNTIL` is the address of the compared amount."""
S_ANY, S_OWN, S_RIVAL = range(3)
"""The sides of a group, a zone, a moment."""

# A group: a row of masks; EXTRA is the address of further tests (kind, what, compare, value, negated), or -1.
G_SIDE, G_ZONE, G_TYPES, G_ALL_TAGS, G_NO_TAGS, G_OTHER, G_ALL_KEYS, G_NO_KEYS, G_EXTRA = range(9)
GROUP_WIDTH = 9
X_END, X_STAT, X_CHOICE, X_STATE = range(4)
C_IS, C_ABOVE, C_UNDER = range(3)
STATE_TILTED, STATE_HURT, STATE_CREATED = range(3)

# Words of a computed amount or condition, in postfix order: (word, operand, operand).
(
    R_END, R_NUMBER, R_COUNT, R_STAT, R_HELD, R_ADD, R_TAKE, R_TIMES, R_LEAST, R_MOST, R_HALF_DOWN, R_HALF_UP, R_IS, R_ABOVE,
    R_UNDER, R_AND, R_OR, R_NOT, R_SUM,
) = range(19)  # fmt: skip
RECKON_WIDTH = 3
P_THIS, P_THAT, P_IT, P_HOST = range(4)

# The definition of a card.
(
    D_TYPE, D_TYPE_BIT, D_COST, D_AFTER, D_TAGS, D_KEYS, D_CUES, D_WATCHES, D_ABILITIES, D_COUNT, D_LASTING, D_OFFERS, D_HOSTS,
    D_VALUE, D_RISK, D_HOST_WISH, D_OWNED, D_STAT,
) = range(18)  # fmt: skip
D_CHOICE = D_STAT + MOST_STATS
DEF_WIDTH = D_CHOICE + MOST_CHOICES

# What happens to a played card.
AFTER_DISCARD, AFTER_STAYS, AFTER_TILTED, AFTER_ATTACHED, AFTER_FIGURE, AFTER_CLEARED = range(6)

# An ability. BIT is its place in a card's limits; KEY the keyword (bit number) that it belongs to, or -1.
(
    B_CUE, B_OF, B_SOURCE, B_CODE, B_IF, B_LIMIT, B_EACH, B_BIT, B_X, B_SIDE, B_COMPARE, B_NUMBER, B_COST, B_KEY, B_LAST,
    B_VALUE, B_RISK,
) = range(17)  # fmt: skip
ABILITY_WIDTH = 17
LIMIT_TURN, LIMIT_GAME = 1, 2

# A lasting part of an ability: instruction-like row.
L_VERB, L_MODE, L_GROUP, L_AIS, L_AMT, L_X, L_IF, L_KEY = range(8)
LASTING_WIDTH = 8

# A cost part: (how, number, resource); ended by C_STOP.
C_STOP, C_PAY, C_TILT, C_DESTROY, C_RETURN, C_DISCARD = range(6)
COST_WIDTH = 3

# Value words of an ability for automatic players, in postfix order: (word, operand, operand). See `kernel.evaluation`.
U_END, U_STEP, U_ADD, U_AT_LEAST_0, U_COST, U_BEST, U_TIMES, U_IF, U_NUMBER = range(9)
VALUE_WIDTH = 3
MOST_GAUGE = 128
WISHES = 3
"""A wish is the sign of a step on an own card and on a rival's: (own + 1) x 3 + rival + 1."""

# A zone: first slot, slots per seat (0: shared), limit or -1, who sees it; its kind; of a row the places, the zone that refills it or -1, and when.
Z_FIRST, Z_STRIDE, Z_LIMIT, Z_SEEN, Z_KIND, Z_PLACES, Z_SOURCE, Z_REFILL = range(8)
ZONE_WIDTH = 8
KIND_PILE, KIND_ROW, KIND_SUPPLY = range(3)
REFILL_AT_ONCE, REFILL_PHASE, REFILL_NEVER = range(3)
SEEN_OWNER, SEEN_ALL, SEEN_NONE = range(3)

# A resource: first slot, stride, start, growth, cap or -1, refilled, group of a shared cap or -1, whether it is lost at the end of the turn.
Q_FIRST, Q_STRIDE, Q_START, Q_GROWS, Q_CAP, Q_REFILLS, Q_TOGETHER, Q_LAPSES = range(8)
RESOURCE_WIDTH = 8

# A market: zone, resource that pays, number bought in a turn or -1, zone that bought cards go to, resource of the passing cost or -1 and its number,
# number and address of the prices by place, words of the amount by which the price is lower or -1. The prices of the definitions are rows of `H_PRICES`: -1 is not for sale.
J_ZONE, J_PAYS, J_MOST, J_GOES, J_PASSING, J_EACH, J_PLACES, J_BY_PLACE, J_LESS = range(9)
MARKET_WIDTH = 9
# A counter: mask of the zones in which it grows, change of the price, what each scores for the owner of the card.
COUNTER_ZONES, COUNTER_PRICE, COUNTER_SCORES = range(3)
COUNTER_WIDTH = 3
# What ends a match: kind, number, resource or -1, when, number and address of the zones, kinds of cards in them at the start.
N_KIND, N_NUMBER, N_TOTAL, N_WHEN, N_ZONES, N_ZONE_LIST, N_KINDS = range(7)
END_WIDTH = 7
END_EMPTY, END_SOLD_OUT, END_ROUNDS, END_REACHED = range(4)
WHEN_AT_ONCE, WHEN_ROUND, WHEN_ONE_MORE = range(3)
# A line of the score sheet, or a tie-breaker: the words of its amount, and 1 or -1.
SCORE_WORDS, SCORE_SIGN = range(2)
SCORE_WIDTH = 2
# A shared cap: cap, whether the seat chooses what to return.
N_CAP, N_CHOICE = range(2)
COMMON_WIDTH = 2

# The header of the program.
(
    H_SEATS, H_ZONES, H_ZONE_ROWS, H_RESOURCES, H_RESOURCE_ROWS, H_COMMONS, H_COMMON_ROWS, H_DEFS, H_DEF_ROWS, H_STATS, H_BEARS,
    H_PAYS, H_OPENING, H_HAND_LIMIT, H_EMPTY, H_RESHUFFLES, H_SETUP, H_TURN, H_FREE, H_RESTLESS, H_LASTS, H_GOALS, H_GOAL_ROWS,
    H_TIE, H_CLASH_TYPES, H_CLASH_STAT, H_ANSWER_TYPES, H_ANSWERS_MANY, H_CLASH_HURTS, H_EXCESS, H_UNANSWERED, H_POINTS, H_TOTAL,
    H_ORDER, H_ON_ARRIVAL, H_TILTS, H_ANSWER_TILTS, H_KEYWORDS, H_KEYWORD_ROWS, H_AFTER_PLAY, H_ANSWER_PLAYS, H_PHASES,
    H_VALUE_RESOURCE, H_VALUE_STAT, H_VALUE_HAND, H_PLACED, H_SHUFFLED_ZONES, H_REDRAW, H_RETURNED, H_OVER, H_BODY, H_DEVISED, H_MARKETS, H_MARKET_ROWS,
    H_PRICES, H_COUNTERS, H_COUNTER_ROWS, H_ENDS, H_END_ROWS, H_SCORES, H_SCORE_ROWS, H_TIES, H_TIE_ROWS, H_ROWS, H_LAPSES, H_ACTIONS, H_END,
) = range(67)  # fmt: skip
EMPTY_RESHUFFLE, EMPTY_LOSE, EMPTY_NOTHING = range(3)
EXCESS_LOST, EXCESS_THROUGH = range(2)
UNANSWERED_NOTHING, UNANSWERED_GAINS, UNANSWERED_LOSES = range(3)
POINTS_STAT, POINTS_ONE = range(2)
ANSWERS_ONE, ANSWERS_MANY, ANSWERS_NONE = range(3)
REDRAW_NONE, REDRAW_HAND, REDRAW_CARDS = range(3)

# Goals: (kind, resource, number).
G_REACH, G_DROP, G_MOST = range(3)
GOAL_WIDTH = 3

# What a seat may do in a phase: bits of a mask.
MAY_PLAY, MAY_USE, MAY_BUY = 1, 2, 4

# Kinds of questions to a seat.
(
    W_NOTHING, W_ACTION, W_PICK, W_DISCARD, W_LIMIT, W_DECLARE, W_HOST, W_MAY, W_CHOOSE, W_SEND, W_ANSWER, W_REDRAW, W_ANSWER_PLAY,
    W_OVER, W_DRAIN, W_LOOK,
) = range(16)  # fmt: skip

# Kinds of decisions.
(
    D_DRAW, D_PLAY, D_DISCARD, D_DISMISS, D_END_TURN, D_PICK, D_DONE, D_CANCEL, D_USE, D_YES, D_NO, D_OPTION, D_SEND, D_ANSWER,
    D_KEEP, D_REDRAW, D_GIVE, D_HAND_MOVE, D_HAND_TOP, D_HAND_LOOK, D_HAND_SHUFFLE, D_HAND_TOTAL, D_HAND_DAMAGE, D_HAND_TILT, D_HAND_STAT, D_BUY,
) = range(26)  # fmt: skip

# Columns of a stack frame.
(
    F_PC, F_THIS, F_THIS_INC, F_THAT, F_THAT_INC, F_SEAT, F_STATE, F_CURSOR, F_LEFT, F_IT, F_ITS, F_TOP, F_ABILITY, F_CHOSEN, F_NUMBER, F_EACH,
    F_EACHES, F_INNER, F_SEATS,
) = range(19)  # fmt: skip
FRAME = 19
READY, CHOSEN = 0, 1

# Changes that last until a moment. RAISED includes lowered, with a negative amount.
M_RAISED, M_GRANTED, M_STRIPPED, M_FORBIDDEN, M_ALLOWED, M_SHIELD = range(6)

# A moment: (phase + 1, or 0 for the turn) * 2 + whether it ends; FOR_EVER is none. Whose: -1 anyone's, a seat, or a seat + 8: any other seat's.
FOR_EVER = -1
MOMENT_SIDES = 4

# What is forbidden and allowed: bits of a mask, in the order of `effects.verbs`.
(
    F_DESTROYING, F_HURTING, F_CHOOSING, F_AFFECTING, F_CLASHING, F_ANSWERING, F_TILTING, F_STRAIGHTENING,
) = (1 << bit for bit in range(8))  # fmt: skip
A_CLASHING, A_ANSWERING = (1 << bit for bit in range(2))

# The origin of an attached or played card: marks of a clash.
MARK_CLASHING, MARK_ANSWERED = 1, 2

# Events: (kind, seat, card, a, b).
(
    E_SHUFFLED, E_DREW, E_NO_CARD, E_PLAYED, E_PAID, E_ENTERED, E_LEFT, E_DISCARDED, E_DESTROYED, E_DEALT, E_HEALED,
    E_GAINED, E_LOST, E_CAPPED, E_NO_TARGET, E_PICKED, E_TURN, E_RESHUFFLED, E_OVER_LIMIT, E_RUNAWAY, E_ABILITY, E_NOTHING,
    E_REVEALED, E_PHASE, E_PHASE_END, E_TURN_END, E_MOVED, E_REMOVED, E_RETURNED, E_CREATED, E_CEASED, E_TILTED, E_STRAIGHTENED,
    E_RAISED, E_LOWERED, E_GRANTED, E_STRIPPED, E_FORBIDDEN, E_ALLOWED, E_SHIELDED, E_SHIELD_USED, E_EXPIRED, E_CLASHES, E_ANSWERS,
    E_UNANSWERED, E_THROUGH, E_OUT, E_WON, E_DRAW, E_REDREW, E_KEPT, E_LOOKED, E_FOUND, E_CHOSE, E_DECLINED, E_ACCEPTED,
    E_ATTACHED, E_PREVENTED, E_FULL, E_TURNED_OVER, E_PASSED, E_MATCH, E_REDUCED, E_USED, E_PUT_OFF, E_PUT_BACK, E_RECALLED,
    E_HAND_MOVED, E_HAND_TOTAL, E_HAND_DAMAGE, E_HAND_TILTED, E_HAND_RAISED, E_HAND_LOOKED, E_HAND_SHUFFLED,
    E_BOUGHT, E_PASSED_OVER, E_REFILLED, E_GREW, E_LAPSED, E_ENDING, E_SCORED,
    E_SCHEDULED, E_COMPARED,
) = range(83)  # fmt: skip
EVENT = 5

# Random streams for each seat.
R_SHUFFLE, R_RANDOM, R_PLAYER = range(3)
STREAMS = 3
"""`R_PLAYER` belongs to the automatic player: the match never draws from it."""

NOBODY, DRAWN = -1, -2
"""The winner during a match, and for a draw."""
