"""Compile abilities of cards to rows and instructions of the program."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from typing import assert_never

from dramok.core.cards import Card
from dramok.core.effects.model import (
    Ability,
    All,
    Continuous,
    CostPart,
    Group,
    Host,
    It,
    Keyworded,
    Limit,
    Offered,
    Pick,
    Random,
    Side,
    Step,
    Target,
    That,
    This,
    Triggered,
    When,
    walked,
)
from dramok.core.effects.pronouns import aimed, inside
from dramok.core.effects.signs import (
    done_for_seat,
    done_to,
    done_to_card,
    recipient_of,
    referents_of,
    seats_of,
)
from dramok.core.effects.verbs import ALLOWED, CUES, FORBIDDEN, VERBS
from dramok.core.engine.group_rows import COMPARES, SIDES, Groups, KeywordBits, Memory, Unplayable, place_of
from dramok.core.engine.kernel import codes as k
from dramok.core.problem import Problem
from dramok.core.rulebook.rule_actions import RuleAction

__all__ = ["KeywordBits", "Lines"]
VERB_CODES: Mapping[str, int] = {word: code for code, word in enumerate(VERBS)}
CUE_CODES: Mapping[str, int] = {word: code for code, word in enumerate(CUES, k.ALWAYS + 1)}
FORBIDS = {act: 1 << bit for bit, act in enumerate(FORBIDDEN)}
ALLOWS = {act: 1 << bit for bit, act in enumerate(ALLOWED)}
SEATS = {None: k.WHO_OWN, "rival": k.WHO_RIVAL, "all": k.WHO_ALL, "most": k.WHO_MOST, "least": k.WHO_LEAST}
COSTS = {"pay": k.C_PAY, "tilt": k.C_TILT, "destroy": k.C_DESTROY, "return": k.C_RETURN, "discard": k.C_DISCARD}
MOST_LATER_CARDS = 3


class Lines:
    """Compiles effect lines.

    `notes`: lines that do not play, and why; `granted`: bits of keywords that effects grant.
    """

    def __init__(self, memory: Memory, keywords: KeywordBits) -> None:
        self.memory, self.keywords = memory, keywords
        self.groups = Groups(memory, keywords)
        self.notes: list[Problem] = []
        self.granted = 0
        self.devised = self.restless = False
        self.lasts = 0
        self._lasting: dict[str, list[list[int]]] = {}
        self._lasting_keys: list[list[int]] = []
        self._keys: dict[str, int] = {}
        self._harmed: set[str] = set()
        self._harming_keys = 0
        self._host_wishes: dict[str, int] = {}
        self._cards = {card.id: place for place, card in enumerate(getattr(memory, "cards", ()))}

    def card(self, card: Card) -> list[list[int]]:
        """The ability rows of a card; its lasting parts and keywords are stored for `lasting_of` and `keys_of`."""
        host = self.memory.rulebook.host_side(card.type)
        return self._lines(card.script(self.memory.rulebook.roles.effect).abilities, card.id, -1, card.code, host)

    def action(self, action: RuleAction) -> list[list[int]]:
        """The rows of an action of the rules."""
        return self._lines(action.effect.abilities, "", -1, f"action {action.name}", "own")

    def keyword(self, keyword: str) -> tuple[int, list[list[int]]]:
        """The bit of a keyword and the rows of its effect."""
        found = next(each for each in self.memory.rulebook.keywords if each.id == keyword)
        bit = self.keywords.bit(keyword)
        return bit, self._lines(found.effect.abilities, "", bit, f"keyword {found.name}", "own")

    def keys_of(self, card: Card) -> int:
        return self._keys.get(card.id, 0)

    def lasting_of(self, card: Card, keys: int) -> int:
        """The address of a card's lasting rows, ended by -1; -1 if it has none."""
        rows = [*self._lasting.get(card.id, ())]
        rows += [row for row in self._lasting_keys if (keys | self.granted) >> row[k.L_KEY] & 1]
        return self.memory.add([*(number for row in rows for number in row), -1]) if rows else -1

    def risks(self, card: Card, keys: int) -> int:
        """Whether a lasting line of a card harms its own player."""
        return int(card.id in self._harmed or any(self._harming_keys >> bit & 1 for bit in range(60) if (keys | self.granted) >> bit & 1))

    def host_wish(self, card: Card) -> int:
        """Whether a card is good for its host: 1, or -1; 0 if unknown."""
        wish = self._host_wishes.get(card.id, 0)
        return (wish > 0) - (wish < 0)

    def _lines(self, abilities: Sequence[Ability], card: str, key: int, where: str, host: Side) -> list[list[int]]:
        rows: list[list[int]] = []
        for number, ability in enumerate(abilities, 1):
            try:
                if isinstance(ability, Keyworded):
                    self._keys[card] = self._keys.get(card, 0) | sum(1 << self.keywords.bit(each) for each in set(ability.keywords))
                elif isinstance(ability, Continuous):
                    found = [self._last(step, ability, key) for step in ability.lasting]
                    self._weigh(ability, card, key, host)
                    self._lasting_keys += found if key >= 0 else []
                    self._lasting.setdefault(card, []).extend(found if key < 0 else [])
                else:
                    rows.append(self._row(ability, card, key, host))
            except Unplayable as error:
                self.notes.append(Problem(where=where, what=f"line {number} does not play: {error}", mend="change the line, or play it by hand"))
        return rows

    def _row(self, ability: Triggered | Offered, card: str, key: int, host: Side) -> list[int]:
        row = [0] * k.ABILITY_WIDTH
        row[k.B_OF] = row[k.B_SOURCE] = row[k.B_X] = row[k.B_COST] = row[k.B_COMPARE] = row[k.B_VALUE] = -1
        row[k.B_KEY] = key
        row[k.B_IF] = self.groups.condition(ability.condition)
        self._limit(row, ability.limit)
        before: list[int] = []
        if isinstance(ability, Offered):
            row[k.B_CUE] = k.OFFER
            row[k.B_COST], before = self._cost(ability.cost)
        else:
            row[k.B_CUE] = CUE_CODES[ability.cue]
            row[k.B_OF] = self.groups.add(ability.of) if ability.of is not None else -1
            row[k.B_SOURCE] = self.groups.add(ability.source) if ability.source is not None else -1
            if ability.when is not None:
                row[k.B_SIDE] = SIDES[ability.when.side]
                row[k.B_X] = self._phase(ability.when.phase)
                row[k.B_CUE] = k.ON_BEGIN if ability.cue == "begin" else k.ON_END
            if ability.resource is not None:
                row[k.B_X] = self.memory.resource(ability.resource)
                row[k.B_SIDE] = k.S_RIVAL if ability.side else k.S_OWN
                row[k.B_COMPARE] = COMPARES[ability.compare] if ability.compare else -1
                row[k.B_NUMBER] = ability.number or 0
        code = _Code(self, ability, host)
        value = code.block(ability.steps)
        row[k.B_CODE], row[k.B_VALUE] = code.placed([_ins(k.O_BEGIN), *([before] if before else [])], value)
        # An offer is used only if it helps.
        row[k.B_RISK] = int(code.harms and not isinstance(ability, Offered))
        if key < 0:
            self._host_wishes[card] = self._host_wishes.get(card, 0) + code.host_wish
        return row

    def _weigh(self, ability: Continuous, card: str, key: int, host: Side) -> None:
        """Record whether the lasting parts harm their player, and their effect on the host."""
        for step in ability.lasting:
            target = step.target or This()
            if done_to(step, recipient_of(target, referents_of(ability, host))) < 0:
                self._harmed |= {card} if key < 0 else set()
                self._harming_keys |= 1 << key if key >= 0 else 0
            if isinstance(target, Host) and key < 0:
                self._host_wishes[card] = self._host_wishes.get(card, 0) + done_to_card(step, "own")

    def _limit(self, row: list[int], limit: Limit | None) -> None:
        if limit is not None:
            row[k.B_LIMIT] = limit.number
            row[k.B_EACH] = k.LIMIT_TURN if limit.each == "turn" else k.LIMIT_GAME

    def _phase(self, ident: str | None) -> int:
        phases = [phase.id for phase in self.memory.rulebook.played.phases]
        return -1 if ident is None else place_of(ident, phases, "phase")

    def moment(self, when: When | None) -> int:
        """The moment that `until` and `later` wait for; -1: never."""
        if when is None:
            return k.FOR_EVER
        return ((self._phase(when.phase) + 1) * 2 + (when.at == "end")) * k.MOMENT_SIDES + SIDES[when.side]

    def _cost(self, cost: Iterable[CostPart]) -> tuple[int, list[int]]:
        """The address of a price, and the instruction that discards for it, if any."""
        sums: dict[tuple[int, int], int] = {}
        for part in cost:
            what = self.memory.resource(part.resource) if part.resource else 0
            sums[COSTS[part.how], what] = sums.get((COSTS[part.how], what), 0) + (part.number or 0)
        rows = [number for (how, what), number_of in sums.items() for number in (how, number_of, what)]
        discards = sums.get((k.C_DISCARD, 0), 0)
        return self.memory.add([*rows, k.C_STOP]), _ins(k.V_DISCARD, I_AMT=discards) if discards else []

    def _last(self, step: Step, ability: Continuous, key: int) -> list[int]:
        row = [0] * k.LASTING_WIDTH
        row[k.L_VERB], row[k.L_KEY] = VERB_CODES[step.verb], key
        row[k.L_IF] = self.groups.condition(ability.condition)
        target = step.target
        if isinstance(target, This | Host):
            row[k.L_MODE] = k.T_THIS if isinstance(target, This) else k.T_HOST
        elif isinstance(target, All):
            if target.group.zone not in (None, "play"):
                raise Unplayable("a lasting line is about cards in play")
            row[k.L_MODE], row[k.L_GROUP] = k.T_ALL, self.groups.add(target.group)
        else:
            raise Unplayable("a lasting line is about this, its host, or all of a group")
        if step.amount is not None:
            row[k.L_AIS], row[k.L_AMT] = self.groups.amount(step.amount)
        if step.stat is not None:
            row[k.L_X] = place_of(step.stat, self.memory.stats, "stat")
        elif step.keyword is not None:
            row[k.L_X] = 1 << self.keywords.bit(step.keyword)
            self.granted |= row[k.L_X] if step.verb == "grant" else 0
        elif step.act is not None:
            row[k.L_X] = (FORBIDS if step.verb == "forbid" else ALLOWS)[step.act]
        self.lasts |= 1 if step.verb in ("grant", "strip") else 2
        text = ability.model_dump_json()
        self.restless |= any(f'"{word}"' in text for word in ("held", "state", "zone"))
        return row


def _ins(op: int, **columns: int) -> list[int]:
    row = [0] * k.WIDTH
    row[k.I_OP], row[k.I_GROUP], row[k.I_UNTIL], row[k.I_JUMP] = op, -1, -1, -1
    for name, value in columns.items():
        row[getattr(k, name)] = value
    return row


instruction = _ins
Words = list[tuple[int, int, int]]
"""The words of a value; a step is identified by its position in the ability."""


def _depth(words: Words) -> int:
    """The stack depth needed to evaluate the words."""
    held = most = 0
    for op, _, b in words:
        held += 1 if op in (k.U_STEP, k.U_NUMBER) else -1 if op in (k.U_ADD, k.U_IF) else 1 - b if op == k.U_BEST else 0
        most = max(most, held)
    return most


def _valued(words: Words, start: int) -> list[int]:
    """Words as numbers, with the addresses of their steps, ended by a stop word."""
    return [number for op, a, b in [*words, (k.U_END, 0, 0)] for number in (op, start + a * k.WIDTH if op == k.U_STEP else a, b)]


class _Code:
    """The instructions of one ability, and the words with which automatic players value it (see
    `kernel.evaluation`). Jumps are relative until it is written to memory. `harms`: a step harms its player;
    `host_wish`: the effect of its steps on the host.
    """

    def __init__(self, lines: Lines, ability: Triggered | Offered, host: Side) -> None:
        self.lines, self.groups, self.memory = lines, lines.groups, lines.memory
        self.ability, self.moment = ability, referents_of(ability, host)
        self.rows: list[list[int]] = []
        self.tables: list[tuple[int, list[int]]] = []
        self.blocks: list[tuple[int, list[Words]]] = []
        self.harms, self.host_wish = False, 0

    def placed(self, before: list[list[int]], value: Words) -> tuple[int, int]:
        """Write the instructions to memory, after the given ones and with an end.

        Returns the addresses of the first one, and of the value words.
        """
        if _depth(value) > k.MOST_GAUGE:
            raise Unplayable("it has too many options")
        start = len(self.memory_numbers()) + len(before) * k.WIDTH
        for row in self.rows:
            if row[k.I_JUMP] >= 0:
                row[k.I_JUMP] = start + row[k.I_JUMP] * k.WIDTH
            if row[k.I_OP] == k.V_IF and row[k.I_X] >= 0:
                row[k.I_X] = start + row[k.I_X] * k.WIDTH
        size = len(self.rows) + 1
        table_at = start + size * k.WIDTH
        tail: list[int] = []
        for place, addresses in self.tables:
            self.rows[place][k.I_GROUP] = table_at + len(tail)
            tail += [start + address * k.WIDTH for address in addresses]
        for place, blocks in self.blocks:
            # One block's words, or a table of the words of several.
            places = []
            for words in blocks:
                places.append(table_at + len(tail))
                tail += _valued(words, start)
            self.rows[place][k.I_LEAST] = places[0] if self.rows[place][k.I_OP] != VERB_CODES["choose"] else table_at + len(tail)
            tail += places if self.rows[place][k.I_OP] == VERB_CODES["choose"] else []
        value_at = table_at + len(tail)
        tail += _valued(value, start)
        every = [*before, *self.rows, _ins(k.O_END)]
        return self.memory.add([*(number for row in every for number in row), *tail]), value_at

    def memory_numbers(self) -> list[int]:
        return self.memory.numbers  # type: ignore[attr-defined]

    def block(self, steps: Sequence[Step], latest: Target | None = None, loop: int = -1) -> Words:
        """Compile steps; returns the words of their total value. `loop`: the group of the enclosing loop, or -1."""
        words: Words = []
        for step, target, it in aimed(steps, latest):
            words += [*self._step(step, target, it, loop), *([(k.U_ADD, 0, 0)] if words else [])]
        return words or [(k.U_NUMBER, 0, 0)]

    def _inner(self, steps: Sequence[Step], it: Target, loop: int) -> Words:
        words = self.block(steps, it, loop)
        self.rows.append(_ins(k.O_END))
        return words

    def _step(self, step: Step, target: Target | None, it: Target, loop: int) -> Words:
        row = _ins(VERB_CODES[step.verb])
        self.rows.append(row)
        place, inner = len(self.rows) - 1, inside(step, it)
        match step.verb:
            case "may":
                words = self._inner(step.steps or (), inner, loop)
                self.blocks.append((place, [words]))
                words = [*words, (k.U_AT_LEAST_0, 0, 0)]
            case "offer":
                row[k.I_X], discards = self.lines._cost(step.cost or ())
                self.rows += [discards] if discards else []
                words = [*self._inner(step.steps or (), inner, loop), (k.U_COST, row[k.I_X], 0)]
                self.blocks.append((place, [words]))
                words = [*words, (k.U_AT_LEAST_0, 0, 0)]
            case "if":
                row[k.I_AIS], row[k.I_AMT], row[k.I_X] = 1, self.groups.condition(step.condition), -1
                words = self._inner(step.steps or (), inner, loop)
                other: Words = [(k.U_NUMBER, 0, 0)]
                if step.otherwise:
                    row[k.I_X] = len(self.rows)
                    other = self._inner(step.otherwise, inner, loop)
                words = [*words, *other, (k.U_IF, row[k.I_AMT], 0)]
            case "each":
                row[k.I_GROUP] = self._seen(step.group or Group())
                self.rows.append(_ins(k.O_NEXT))
                words = self.block(step.steps or (), inner, row[k.I_GROUP])
                # A loop within a loop runs for each card of the outer one.
                words = [*words, (k.U_TIMES, loop, 0)] if loop >= 0 else words
                self.rows.append(_ins(k.O_JUMP, I_JUMP=place + 1))
            case "choose":
                row[k.I_X], row[k.I_Y] = step.choose or 1, len(step.options or ())
                addresses, options = [], []
                for option in step.options or ():
                    addresses.append(len(self.rows))
                    options.append(self._inner(option, inner, loop))
                self.tables.append((place, addresses))
                self.blocks.append((place, options))
                best = (k.U_BEST, min(row[k.I_X], row[k.I_Y]), row[k.I_Y])
                words = [*(word for option in options for word in option), best]
            case "later":
                self._may_be_put_off(step)
                row[k.I_UNTIL] = self.lines.moment(step.moment)
                words = self._inner(step.steps or (), inner, loop)
            case _:
                self._plain(step, row)
                self._weigh(step, target, row)
                words = [(k.U_STEP, place, loop if isinstance(step.target, It) else -1)]
                # In a loop, a step without `it` runs once for each card.
                return words if loop < 0 or isinstance(step.target, It) else [*words, (k.U_TIMES, loop, 0)]
        row[k.I_JUMP] = len(self.rows)
        return words

    def _weigh(self, step: Step, target: Target | None, row: list[int]) -> None:
        """The wish of a step, by the table of signs; and whether it harms its player."""
        if target is None:
            self.harms |= any(done_for_seat(step, each) < 0 for each in seats_of(step)) and step.seats in (None, "rival")
            return
        recipient = recipient_of(target, self.moment)
        own, rival = done_to_card(step, "own", recipient.zone), done_to_card(step, "rival", recipient.zone)
        row[k.I_WISH] = (own + 1) * k.WISHES + rival + 1
        # Both sides alike, or a pick that may offer own cards only: it depends on the table.
        self.harms |= done_to(step, recipient) < 0 or recipient.side == "any" and own < 0 and not recipient.optional
        if isinstance(target, Host):
            self.host_wish += own

    def _may_be_put_off(self, step: Step) -> None:
        picks = [each.target.most for each in walked(self.ability.steps) if isinstance(each.target, Pick)]
        uses = any(isinstance(each.target, It) for each in walked(step.steps or ()))
        if uses and picks and max(picks) > MOST_LATER_CARDS:
            raise Unplayable(f"at most {MOST_LATER_CARDS} picked cards can be remembered until later")

    def _plain(self, step: Step, row: list[int]) -> None:
        if step.amount is not None:
            row[k.I_AIS], row[k.I_AMT] = self.groups.amount(step.amount)
        if step.target is not None:
            self._in_play(step)
            self._target(step.target, row, step.verb)
        if step.resource is not None:
            row[k.I_X] = self.memory.resource(step.resource)
        if step.stat is not None:
            row[k.I_X] = place_of(step.stat, self.memory.stats, "stat")
        if step.keyword is not None:
            row[k.I_X] = self.lines.keywords.bit(step.keyword)
            self.lines.granted |= 1 << row[k.I_X] if step.verb == "grant" else 0
        if step.act is not None:
            row[k.I_X] = (FORBIDS if step.verb == "forbid" else ALLOWS)[step.act]
        if step.card is not None:
            if step.card not in self.lines._cards:
                raise Unplayable("the card that it creates is not in the game")
            row[k.I_X] = self.lines._cards[step.card]
            self.lines.devised = True
        row[k.I_SEATS] = SEATS[step.seats]
        row[k.I_UNTIL] = self.lines.moment(step.until) if step.by is None else self.groups.words(step.by)
        self._zone(step, row)

    def _in_play(self, step: Step) -> None:
        group = getattr(step.target, "group", None)
        if VERBS[step.verb].in_play and group is not None and group.zone not in (None, "play"):
            raise Unplayable(f"{step.verb} is done to cards in play only")

    def _zone(self, step: Step, row: list[int]) -> None:
        if step.verb == "remove":
            row[k.I_X] = k.REMOVED
        elif step.verb == "return":
            row[k.I_X] = k.HAND
        elif step.zone is not None:
            row[k.I_X] = self.groups.zone(step.zone.zone)
            row[k.I_Y] = SIDES[step.zone.side] | (4 if step.zone.place == "bottom" else 0)
        elif step.verb in ("look", "reveal"):
            row[k.I_X], row[k.I_Y] = k.DRAW_PILE, k.S_OWN

    def _target(self, target: Target, row: list[int], verb: str) -> None:
        match target:
            case This():
                row[k.I_MODE] = k.T_THIS
            case It():
                row[k.I_MODE] = k.T_IT
            case That():
                row[k.I_MODE] = k.T_THAT
            case Host():
                row[k.I_MODE] = k.T_HOST
            case Pick(of_it=True):
                row[k.I_MODE], row[k.I_LEAST], row[k.I_MOST] = k.T_PICK_IT, target.least, target.most
            case Pick():
                row[k.I_MODE], row[k.I_LEAST], row[k.I_MOST] = k.T_PICK, target.least, target.most
                row[k.I_GROUP] = self.groups.add(target.group) if verb == "search" else self._seen(target.group)
                row[k.I_Y] = int(bool(target.group.filters or target.group.type)) if verb == "search" else row[k.I_Y]
            case All():
                row[k.I_MODE], row[k.I_GROUP] = k.T_ALL, self.groups.add(target.group)
            case Random():
                row[k.I_MODE], row[k.I_GROUP], row[k.I_MOST] = k.T_RANDOM, self.groups.add(target.group), target.number
            case _:
                assert_never(target)

    def _seen(self, group: Group) -> int:
        """A group for a search: its seat must be able to see it."""
        zone = group.zone
        own = next((each for each in self.memory.rulebook.played.zones if each.id == zone), None)
        hidden = zone == "draw" or zone == "hand" and group.side != "own"
        if own is not None and (own.seen == "none" or own.seen == "owner" and group.side != "own"):
            hidden = True
        if hidden:
            raise Unplayable("a hidden zone can be searched, or taken from at random, but not picked from")
        return self.groups.add(group)
