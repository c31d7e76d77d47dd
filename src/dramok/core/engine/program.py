"""Compile rulebook and cards to the kernel's program: one flat row of integers."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property

from dramok.core.cards import Card, ChoiceField, NumberField
from dramok.core.effects import Script
from dramok.core.effects.model import Step, walked
from dramok.core.engine.ability_program import KeywordBits, Lines
from dramok.core.engine.group_rows import place_of
from dramok.core.engine.kernel import codes as k
from dramok.core.engine.market_program import KINDS, REFILLS, market_rows, owned_score
from dramok.core.engine.turn_program import turn_code
from dramok.core.problem import Problem
from dramok.core.rulebook import Rulebook
from dramok.core.rulebook.play_rules import PlayRules
from dramok.core.rulebook.starting_cards import placed_cards, starting_deck

AFTER = {"discarded": k.AFTER_DISCARD, "stays": k.AFTER_STAYS, "tilted": k.AFTER_TILTED, "attached": k.AFTER_ATTACHED, "figure": k.AFTER_FIGURE, "cleared": k.AFTER_CLEARED}  # fmt: skip
ENGINE = 3
"""The version of the engine's rules: raised when the same program and decisions would give other events."""


@dataclass(frozen=True)
class Program:
    """`numbers` for the kernel, and their meaning:

    `cards[d]` is definition d; after them come the actions of the rules, in their order. `notes` are parts of cards that do not play, and why.
    """

    numbers: tuple[int, ...]
    cards: tuple[Card, ...]
    rulebook: Rulebook
    stats: tuple[str, ...]
    zones: tuple[str, ...]
    keywords: tuple[str, ...]
    notes: tuple[Problem, ...]

    @property
    def seats(self) -> int:
        return self.numbers[k.H_SEATS]

    @property
    def definitions(self) -> int:
        """The number of definitions: of the cards, and of the actions of the rules."""
        return self.numbers[k.H_DEFS]

    def name_of(self, made: int) -> str:
        """The name of a definition: of a card, its name or code; of an action of the rules, its name."""
        if made >= len(self.cards):
            return self.rulebook.played.actions[made - len(self.cards)].name
        return self.cards[made].text(self.rulebook.roles.name) or self.cards[made].code

    def script_of(self, made: int) -> Script:
        """The effect of a definition."""
        if made >= len(self.cards):
            return self.rulebook.played.actions[made - len(self.cards)].effect
        return self.cards[made].script(self.rulebook.roles.effect)

    def definition(self, card_id: str) -> int:
        """The definition of a card. Raises KeyError for a card that the program lacks."""
        return self._index[card_id]

    @cached_property
    def _index(self) -> dict[str, int]:
        return {card.id: number for number, card in enumerate(self.cards)}


def compile_program(rulebook: Rulebook, cards: Sequence[Card]) -> Program:
    """Compile every readable ability of the cards; a draft plays as its last readable version, free text not at
    all.

    Raises ValueError for a game that is too large for the engine: over 60 tags or keywords in use, over 8
    numbers or choices per card.
    """
    return _Compiler(rulebook, cards).program()


def looked_at(rulebook: Rulebook, cards: Sequence[Card]) -> frozenset[str]:
    """The number and choice fields (ids) that a match with these cards can depend on."""
    return frozenset(_Compiler(rulebook, cards)._referenced_fields() | ({rulebook.roles.cost} if rulebook.roles.cost and rulebook.table.pays else set()))


def needed(rulebook: Rulebook, cards: Mapping[str, Card], ids: Iterable[str]) -> tuple[str, ...]:
    """The ids of the cards that a match with these needs: they, the starting cards, and all cards that any of
    them creates.
    """
    wanted = {ident for ident in ids if ident in cards}
    for each in rulebook.played.set_up.placed:
        wanted |= placed_cards(rulebook, cards.values(), each).keys()
    wanted |= starting_deck(rulebook, cards.values()).keys()
    cards = {ident: rulebook.cards.seen(card) for ident, card in cards.items()}
    scripts = list(rulebook.scripts)
    todo = list(wanted)
    made = {step.card for script in scripts for step in _steps(script.abilities) if step.card}
    while todo or made - wanted:
        for ident in sorted(made - wanted):
            if ident in cards:
                todo.append(ident)
            wanted.add(ident)
        if todo:
            made |= {step.card for step in _steps(cards[todo.pop()].script(rulebook.roles.effect).abilities) if step.card}
    return tuple(sorted(ident for ident in wanted if ident in cards))


def _steps(abilities: Iterable[object]) -> Iterable[Step]:
    for ability in abilities:
        yield from walked(getattr(ability, "steps", ()))


class _Compiler:
    def __init__(self, rulebook: Rulebook, cards: Sequence[Card]) -> None:
        schema = rulebook.cards
        self.rulebook, self.cards, self.play = rulebook, tuple(map(schema.seen, cards)), rulebook.played
        numbers = tuple(field.id for field in schema.fields if isinstance(field, NumberField) and field.whole)
        choices = tuple(field for field in schema.fields if isinstance(field, ChoiceField))
        # A card may have any number of fields; the table keeps those that something in play reads.
        spoken = self._referenced_fields()
        self.stats = numbers if len(numbers) <= k.MOST_STATS else tuple(each for each in numbers if each in spoken)
        self.choices = choices if len(choices) <= k.MOST_CHOICES else tuple(each for each in choices if each.id in spoken)
        self.types = tuple(each.id for each in schema.types)
        self.resources = tuple(each.id for each in rulebook.resources)
        self.zones = ("draw", "hand", "discard", "play", "removed", "", "", "", *(zone.id for zone in self.play.zones))
        self.numbers: list[int] = [0] * k.H_END
        for what, held, most in (("numbers that something looks at", self.stats, k.MOST_STATS), ("choices that something looks at", self.choices, k.MOST_CHOICES), ("resources", self.resources, k.MOST_RESOURCES), ("card types", self.types, 60)):  # fmt: skip
            if len(held) > most:
                raise ValueError(f"a game of over {most} {what} can't be played yet")

    def _referenced_fields(self) -> set[str]:
        """Fields that stats, the clash, the evaluation or any effect read, by id."""
        roles, play = self.rulebook.roles, self.play
        scripts = [*(card.script(roles.effect) for card in self.cards), *self.rulebook.scripts]
        hosts = [each.hosts.model_dump_json() for each in play.after_play if each.hosts is not None]
        text = "".join([*(each.model_dump_json() for each in scripts), *hosts])
        named = {field.id for field in self.rulebook.cards.fields if f'"{field.id}"' in text}
        clash = {play.clash.stat} if play.clash else set()
        market = {each.price for each in play.markets if each.price} | {doing.field for phase in play.phases for doing in phase.does if doing.do == "scheduled"}
        text = "".join(each.model_dump_json() for each in (*play.scoring, *play.ties, *play.markets))
        named |= {field.id for field in self.rulebook.cards.fields if f'"{field.id}"' in text}
        return named | clash | market | set(play.evaluation.stats) | set(roles.stats) | ({roles.damage_limit} if roles.damage_limit else set())

    def add(self, row: Iterable[int]) -> int:
        at = len(self.numbers)
        self.numbers += row
        return at

    def head(self, **columns: int) -> None:
        for name, value in columns.items():
            self.numbers[getattr(k, name)] = int(value)

    def types_mask(self, types: Iterable[str]) -> int:
        """The bits of these types, and of all that extend them."""
        wanted = set(types)
        return sum(1 << place for place, each in enumerate(self.types) if wanted & set(self._kinds(each)))

    def _kinds(self, ident: str) -> Iterable[str]:
        at: str | None = ident
        while at is not None:
            yield at
            at = self.rulebook.cards.type(at).extends

    def program(self) -> Program:
        keywords = KeywordBits(self.rulebook)
        lines = Lines(self, keywords)
        self._zones()
        self._resources()
        self._rules(self.play)
        market_rows(self, lines.groups)
        setup, turn = turn_code(self, lines.groups)
        self.head(H_SETUP=setup, H_TURN=turn)
        rows = [lines.card(card) for card in self.cards]
        granted = [lines.keyword(each) for each in keywords.playing()]
        actions = [lines.action(each) for each in self.play.actions]
        devised = lines.devised or any(each.becomes == "figure" for each in self.play.after_play)
        self.head(H_DEVISED=devised, H_RESTLESS=lines.restless, H_LASTS=lines.lasts)
        defs = [self._definition(card, lines, row, granted) for card, row in zip(self.cards, rows, strict=True)]
        offers = [self._action(each) for each in actions]
        self.head(H_DEF_ROWS=len(self.numbers), H_ACTIONS=len(actions), H_DEFS=len(self.cards) + len(actions))
        for each in (*defs, *offers):
            self.add(each)
        self._placed()
        notes = tuple(lines.notes)
        return Program(tuple(self.numbers), self.cards, self.rulebook, self.stats, self.zones, tuple(keywords.order), notes)

    def _zones(self) -> None:
        seen = {"owner": k.SEEN_OWNER, "all": k.SEEN_ALL, "none": k.SEEN_NONE}
        usual = {k.DRAW_PILE: k.SEEN_NONE, k.HAND: k.SEEN_OWNER, k.GONE: k.SEEN_NONE, k.FREE: k.SEEN_NONE}
        rows: list[int] = []
        for zone in range(k.OWN_ZONES):
            rows += [zone * k.MOST_SEATS, 1, -1, usual.get(zone, k.SEEN_ALL), k.KIND_PILE, 0, -1, 0]
        for place, own in enumerate(self.play.zones, k.OWN_ZONES):
            source = self.zones.index(own.source) if own.source else -1
            rows += [place * k.MOST_SEATS, int(not own.shared), own.limit or -1, seen[own.seen], KINDS[own.kind], own.places or 0, source, REFILLS[own.refill]]
        shuffled = sum(1 << place for place, own in enumerate(self.play.zones, k.OWN_ZONES) if own.shuffled)
        self.head(H_ROWS=any(own.source for own in self.play.zones))
        self.head(H_ZONES=len(self.zones), H_ZONE_ROWS=self.add(rows), H_SHUFFLED_ZONES=shuffled)

    def _resources(self) -> None:
        common = {each: place for place, held in enumerate(self.play.common) for each in held.resources}
        rows: list[int] = []
        for place, each in enumerate(self.rulebook.resources):
            cap = each.cap if each.cap is not None else -1
            rows += [place * k.MOST_SEATS, int(not each.shared), each.start, each.each_turn, cap, int(each.refill), common.get(each.id, -1), int(each.lasts == "turn")]
        caps = [number for held in self.play.common for number in (held.cap, int(held.over == "choice"))]
        self.head(H_LAPSES=any(each.lasts == "turn" for each in self.rulebook.resources))
        self.head(
            H_RESOURCES=len(self.resources), H_RESOURCE_ROWS=self.add(rows), H_COMMONS=len(self.play.common), H_COMMON_ROWS=self.add(caps),
        )  # fmt: skip

    def resource(self, ident: str) -> int:
        return place_of(ident, self.resources, "resource")

    def _rules(self, play: PlayRules) -> None:
        table, roles = self.rulebook.table, self.rulebook.roles
        kinds = {"reach": k.G_REACH, "drop": k.G_DROP, "most": k.G_MOST}
        goals = [number for goal in play.goals for number in (kinds[goal.kind], self.resource(goal.total), goal.number)]
        redraw = play.set_up.redraw
        self.head(
            H_SEATS=play.seats, H_FREE=play.free, H_STATS=len(self.stats), H_OPENING=table.opening_hand,
            H_BEARS=self.stats.index(roles.damage_limit) if roles.damage_limit in self.stats else -1,
            H_PAYS=self.resource(table.pays) if table.pays else -1,
            H_HAND_LIMIT=-1 if table.hand_limit is None else table.hand_limit,
            H_EMPTY={"reshuffle": k.EMPTY_RESHUFFLE, "lose": k.EMPTY_LOSE, "nothing": k.EMPTY_NOTHING}[table.empty_draw_pile],
            H_RESHUFFLES=-1 if play.reshuffles is None else play.reshuffles,
            H_GOALS=len(play.goals), H_GOAL_ROWS=self.add(goals), H_TIE=play.tie == "active",
            H_REDRAW={"none": k.REDRAW_NONE, "hand": k.REDRAW_HAND, "cards": k.REDRAW_CARDS}[redraw.kind], H_RETURNED=redraw.returned == "after",
            H_PHASES=len(play.phases), H_CLASH_STAT=-1,
        )  # fmt: skip
        clash = play.clash
        if clash is not None:
            self.head(
                H_CLASH_TYPES=self.types_mask(clash.types), H_CLASH_STAT=self.stats.index(clash.stat), H_ANSWER_TYPES=self.types_mask(clash.answer_types or clash.types),
                H_ANSWERS_MANY={"one": k.ANSWERS_ONE, "many": k.ANSWERS_MANY, "none": k.ANSWERS_NONE}[clash.answers], H_CLASH_HURTS=clash.hurts,
                H_EXCESS=k.EXCESS_THROUGH if clash.excess == "through" else k.EXCESS_LOST, H_ORDER=clash.in_order, H_ON_ARRIVAL=clash.on_arrival, H_TILTS=clash.tilts,
                H_UNANSWERED={"nothing": k.UNANSWERED_NOTHING, "gains": k.UNANSWERED_GAINS, "loses": k.UNANSWERED_LOSES}[clash.unanswered],
                H_POINTS=k.POINTS_STAT if clash.points == "stat" else k.POINTS_ONE, H_TOTAL=self.resource(clash.total) if clash.total else -1, H_ANSWER_TILTS=clash.answer_tilts,
            )  # fmt: skip
        self._evaluation(play)

    def _evaluation(self, play: PlayRules) -> None:
        """The values of totals and stats: by the rulebook, otherwise by its goals and clash."""
        values = play.evaluation
        towards = {goal.total: 10 for goal in play.goals}
        of_stat = {play.clash.stat: 3} if play.clash else {}
        bears = self.rulebook.roles.damage_limit
        of_stat |= {bears: 2} if bears else {}
        resources = [values.resources.get(each, towards.get(each, 1)) for each in self.resources]
        stats = [values.stats.get(each, of_stat.get(each, 0)) for each in self.stats]
        self.head(H_VALUE_RESOURCE=self.add(resources), H_VALUE_STAT=self.add(stats), H_VALUE_HAND=values.hand)

    def _placed(self) -> None:
        """Rows of the starting cards, each seat's or shared: (zone, definition, how many)."""
        places = {card.id: place for place, card in enumerate(self.cards)}
        rows = [
            number
            for placed in self.play.set_up.placed
            for ident, count in sorted(placed_cards(self.rulebook, self.cards, placed).items(), key=lambda each: places[each[0]])
            for number in (self.zones.index(placed.zone), places[ident], count)
        ]
        self.head(H_PLACED=self.add([len(rows) // 3, *rows]))

    def _after(self, card: Card) -> tuple[int, int]:
        """What happens to the card when played, and the group of its possible hosts."""
        after = {each.type: each for each in self.play.after_play}
        rule = next((after[kind] for kind in self._kinds(card.type) if kind in after), None)
        if rule is None:
            return (k.AFTER_STAYS if self.rulebook.cards.type(card.type).stays else k.AFTER_DISCARD), -1
        return AFTER[rule.becomes], -1

    def _action(self, rows: list[list[int]]) -> list[int]:
        """The definition of an action by its ability rows: of no type, and only with abilities."""
        for place, row in enumerate(rows):
            row[k.B_BIT], row[k.B_LAST] = place, place
        row = [0] * k.DEF_WIDTH
        row[k.D_ABILITIES], row[k.D_COUNT], row[k.D_OFFERS] = self.add(number for row in rows for number in row), len(rows), 1
        row[k.D_LASTING] = row[k.D_HOSTS] = -1
        row[k.D_STAT : k.D_STAT + k.MOST_STATS] = [-1] * k.MOST_STATS
        row[k.D_CHOICE : k.D_CHOICE + k.MOST_CHOICES] = [-1] * k.MOST_CHOICES
        return row

    def _definition(self, card: Card, lines: Lines, own: list[list[int]], granted: list[tuple[int, list[list[int]]]]) -> list[int]:
        roles, schema = self.rulebook.roles, self.rulebook.cards
        after, _ = self._after(card)
        rule = next((each for kind in self._kinds(card.type) for each in self.play.after_play if each.type == kind), None)
        hosts = lines.groups.add(rule.hosts) if rule is not None and rule.hosts is not None else -1
        keys = lines.keys_of(card)
        rows = [list(row) for row in own]
        for bit, of_keyword in granted:
            rows += [list(row) for row in of_keyword] if (keys | lines.granted) >> bit & 1 else []
        for place, row in enumerate(rows):
            row[k.B_BIT], row[k.B_LAST] = place, place
        if sum(1 for row in rows if row[k.B_LIMIT]) and len(rows) > 15:
            raise ValueError(f"{card.code} has over 15 abilities, keywords included")
        at = self.add(number for row in rows for number in row)
        of_itself = sum(1 << cue for cue in {row[k.B_CUE] for row in rows if row[k.B_OF] < 0})
        total = (k.ON_BEGIN, k.ON_END, k.ON_MATCH, k.ON_RISING, k.ON_FALLING, k.ON_GAINING, k.ON_LOSING)
        watches = sum(1 << cue for cue in {row[k.B_CUE] for row in rows if row[k.B_OF] >= 0 or row[k.B_CUE] in total})
        lasting = lines.lasting_of(card, keys)
        cost = card.number(roles.cost)
        numbers = [card.number(stat) if schema.has_field(card.type, stat) else None for stat in self.stats]
        stats = [number if number is not None and number >= 0 else -1 for number in numbers]
        chosen = [schema.list(field.list).position(card.text(field.id)) if card.text(field.id) else -1 for field in self.choices]
        row = [0] * k.DEF_WIDTH
        for column, value in (
            (k.D_TYPE, self.types.index(card.type)), (k.D_TYPE_BIT, 1 << self.types.index(card.type)), (k.D_COST, cost if cost is not None else 0),
            (k.D_AFTER, after), (k.D_TAGS, lines.groups.tags_of(card)), (k.D_KEYS, keys), (k.D_CUES, of_itself), (k.D_WATCHES, watches),
            (k.D_ABILITIES, at), (k.D_COUNT, len(rows)), (k.D_LASTING, lasting), (k.D_OFFERS, int(any(row[k.B_CUE] == k.OFFER for row in rows))),
            (k.D_HOSTS, hosts), (k.D_VALUE, 2 + 3 * max(0, cost or 0)), (k.D_HOST_WISH, lines.host_wish(card)),
            (k.D_OWNED, owned_score(self.rulebook, card)),
            (k.D_RISK, int(any(row[k.B_RISK] for row in rows) or lines.risks(card, keys) or hosts >= 0 and lines.host_wish(card) < 0)),
        ):  # fmt: skip
            row[column] = value
        row[k.D_STAT : k.D_STAT + len(stats)] = stats
        row[k.D_CHOICE : k.D_CHOICE + len(chosen)] = chosen
        return row
