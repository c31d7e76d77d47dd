"""Decks: contents, problems, deck lists, odds, hands and history."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, Field

from dramok.core.decks import MOST_COPIES, Fix
from dramok.core.odds import Condition
from dramok.core.odds.draws import Returned
from dramok.core.odds.groups import MOST_GROUPS, How, Join
from dramok.core.problem import Problem
from dramok.core.text_checks import Ident
from dramok.server.schemas.base import Out, Points, like
from dramok.services.decks.odds import GroupAsked, OddsAsked, RedrawAsked

MOST_SEED = 2**39
MOST_LIST = 1_500_000
Seq = Annotated[int, Field(ge=0, le=2**53)]
Small = Annotated[int, Field(ge=0, le=1_000)]
Section = Annotated[str, Field(max_length=80, pattern=r"^[^/]*$")]


class FixOut(Out):
    """A number of `copies` of a card in a section; the main section is the empty id."""

    section: str
    card: str
    copies: int


class DeckProblemOut(Out):
    """`fixes` solve the problem as one edit; empty if the user has to choose."""

    where: str
    what: str
    mend: str
    fixes: list[FixOut]


class DeckOut(Out):
    """A deck with its legality under `format`, the id of its deck rules. `cards` is the main section,
    `sections` the others by id.

    For the main section: `curve` counts cards by cost; `factions`, `types` and `rarities` by id, `tags` by
    word.
    """

    id: str
    name: str
    cards: dict[str, int]
    sections: dict[str, dict[str, int]]
    format: str
    note: str
    size: int
    legal: bool
    problems: list[DeckProblemOut]
    curve: dict[int, int]
    factions: dict[str, int]
    types: dict[str, int]
    rarities: dict[str, int]
    tags: dict[str, int]


class NewDeckIn(BaseModel):
    """`format`: the id of its deck rules, empty for the first of the game.

    With a `seed` it is filled at random, to `size` cards.
    """

    model_config = like({"name": "Slow Garden"})

    name: str = Field(max_length=10_000)
    format: str = Field(default="", max_length=80)
    seed: int | None = Field(default=None, ge=0, le=MOST_SEED)
    size: int | None = Field(default=None, ge=0, le=10_000)


class DeckCountIn(BaseModel):
    """`base` is the op number up to which the page has seen the game."""

    model_config = like({"count": 3, "base": 41})

    count: int
    base: Seq
    section: Section = ""


class FixIn(BaseModel):
    section: Section = ""
    card: Ident
    copies: int = Field(ge=0, le=MOST_COPIES)

    def fix(self) -> Fix:
        return Fix(self.section, self.card, self.copies)


class CountsIn(BaseModel):
    """Several counts as one edit; `label` is its label in the journal."""

    model_config = like({"counts": [{"card": "c-1", "copies": 2}], "label": "mended"})

    counts: list[FixIn] = Field(max_length=5_000)
    label: str = Field(default="cards of a deck", min_length=1, max_length=120)


class RulesChoiceIn(BaseModel):
    model_config = like({"format": "duel"})

    format: str = Field(max_length=80)


class DeckNoteIn(BaseModel):
    model_config = like({"text": "slow, but it holds"})

    text: str = Field(max_length=50_000)


class FillIn(BaseModel):
    model_config = like({"seed": 7})

    seed: int = Field(ge=0, le=MOST_SEED)
    size: int | None = Field(default=None, ge=0, le=10_000)


class MomentIn(BaseModel):
    model_config = like({"seq": 12})

    seq: Seq


class DeckMeasureOut(Out):
    """`worth` and `budget` in points, for the priced cards; `words` counts the printed words of the `different`
    cards, each once.
    """

    worth: Points
    budget: Points
    unpriced: int
    cost: int
    words: int
    different: int


class DeckChangeOut(Out):
    section: str
    card: str
    before: int
    after: int


class DeckRevisionOut(Out):
    """`others`: changes besides cards: name, deck rules, note."""

    seq: int
    at: str
    label: str
    page: str
    kind: str
    size: int
    changes: list[DeckChangeOut]
    others: list[str]


class ComparedOut(Out):
    """Two decks, or two states of one; `same`: shared copies. `titles` name the cards that differ."""

    one: DeckOut
    other: DeckOut
    changes: list[DeckChangeOut]
    same: int
    titles: dict[str, str]


class AcrossOut(Out):
    """`overlap[i][j]`: the similarity of two of the first `decks`, 0 to 1.

    By card id, over all decks: the decks that hold it, and the copies in total.
    """

    decks: list[str]
    overlap: list[list[float]]
    decks_of: dict[str, int]
    copies_of: dict[str, int]


class DeckListIn(BaseModel):
    """`text` of a deck list; `deck` is the deck to replace, otherwise a new one is created."""

    model_config = like({"text": "3 Copper Larch"})

    text: str = Field(max_length=MOST_LIST)
    filename: str = Field(default="", max_length=300)
    deck: str = Field(default="", max_length=80)
    name: str = Field(default="", max_length=300)
    format: str = Field(default="", max_length=80)


class TroubleOut(Out):
    """A line that was left out, or `taken` differently from the text; `options` are cards that it may mean."""

    line: int
    text: str
    what: str
    mend: str
    options: list[str]
    taken: bool


class DeckListLookOut(Out):
    """The preview of a deck list. Nothing is written."""

    name: str
    rules: str
    cards: int
    sections: dict[str, dict[str, int]]
    troubles: list[TroubleOut]
    trouble_count: int
    format: str
    legal: bool
    problems: list[DeckProblemOut]


class GroupIn(BaseModel):
    """The cards that match a `query`, or one `card`."""

    model_config = like({"query": "cost under 3", "count": 2})

    query: str = Field(default="", max_length=2_000)
    card: str = Field(default="", max_length=80)
    how: How = "at least"
    count: Small = 1
    name: str = Field(default="", max_length=80)

    def asked(self) -> GroupAsked:
        return GroupAsked(self.query, self.card, self.how, self.count, self.name)


class ConditionIn(BaseModel):
    group: int = Field(ge=0, lt=MOST_GROUPS)
    how: How = "at least"
    count: Small = 1


class RedrawIn(BaseModel):
    """`whole`: a hand that lacks `keep` is replaced once; `chosen`: all cards that are not in group `kept` are
    replaced. `returned` before or after the new cards are drawn.
    """

    kind: Literal["whole", "chosen"] = "whole"
    returned: Returned = "before"
    keep: list[ConditionIn] = Field(default=[], max_length=MOST_GROUPS)
    join: Join = "all"
    kept: int = Field(default=0, ge=0, lt=MOST_GROUPS)

    def asked(self) -> RedrawAsked:
        keep = tuple(Condition(each.group, each.how, each.count) for each in self.keep)
        return RedrawAsked(self.kind, self.returned, keep, self.join, self.kept)


class OddsIn(BaseModel):
    """A request for odds.

    `hand`, `each` (cards drawn per turn) and `first_draw` default to the rules of play; `second`: for a seat
    that does not go first.
    """

    model_config = like({"groups": [{"query": "cost under 3"}], "turns": 8})

    groups: list[GroupIn] = Field(max_length=MOST_GROUPS)
    join: Join = "all"
    turns: int = Field(default=10, ge=0, le=30)
    hand: int | None = Field(default=None, ge=0, le=100)
    each: int | None = Field(default=None, ge=0, le=20)
    first_draw: bool | None = None
    extra: dict[Annotated[int, Field(ge=1, le=30)], Annotated[int, Field(ge=0, le=100)]] = Field(default={}, max_length=30)  # fmt: skip
    redraw: RedrawIn | None = None
    reshuffle: bool = False
    by: int = Field(default=4, ge=0, le=30)
    wanted: float = Field(default=0.8, ge=0, le=1)
    source: int | None = Field(default=None, ge=0, lt=MOST_GROUPS)
    gives: int = Field(default=1, ge=1, le=100)
    second: bool = False

    def asked(self) -> OddsAsked:
        return OddsAsked(
            tuple(each.asked() for each in self.groups), self.join, self.turns, self.hand, self.each, self.first_draw, self.extra,
            self.redraw.asked() if self.redraw else None, self.reshuffle, self.by, self.wanted, self.source, self.gives, self.second,
        )  # fmt: skip


class CycleOut(Out):
    turn: int
    cycle: int
    drawn: int
    hand: float
    by: float


class GroupOddsOut(Out):
    """`curve`: the chance by each turn from the opening hand (0) on; `needed` copies for the wanted chance, if
    they could be `counted`; `more`: the gain from one more copy; `pays`: the chance that one is seen and can
    be paid for.
    """

    name: str
    copies: int
    cards: list[str]
    curve: list[float]
    said: str
    needed: int | None
    counted: bool
    more: float | None
    pays: list[float] | None
    cycles: list[CycleOut]


class OddsOut(Out):
    """`seen`: cards seen by each turn; `together`: the groups together; `keeps`: the chance to keep an opening hand."""

    size: int
    seen: list[int]
    groups: list[GroupOddsOut]
    together: list[float] | None
    together_said: str
    keeps: float | None
    hand: int
    each: int
    first_draw: bool


class CardInDeckOut(Out):
    """A card in a deck: the chance of having seen it by each turn, from the opening hand on; `said` is one of
    them in words.
    """

    deck: str
    name: str
    copies: int
    size: int
    curve: list[float]
    said: str


class HandsIn(BaseModel):
    """Eight hands starting at a seed; `since` is the seed from which the tally counts; `odds` may have a redraw
    rule.
    """

    model_config = like({"seed": 1})

    seed: int = Field(ge=0, le=MOST_SEED)
    since: int | None = Field(default=None, ge=0, le=MOST_SEED)
    odds: OddsIn | None = None


class SampleHandOut(Out):
    seed: int
    cards: list[str]
    kept: bool | None
    again: list[str] | None


class HandsOut(Out):
    """`tally` of the `dealt` hands were kept; `exact` is the chance of keeping one."""

    first: int
    hands: list[SampleHandOut]
    dealt: int
    tally: int | None
    exact: float | None


class ClashOut(Out):
    """Two deck rules that no deck can satisfy together."""

    format: str
    problem: Problem
