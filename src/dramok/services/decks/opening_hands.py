"""Sample opening hands dealt by the engine, each with a seed so that it can be played on."""

from __future__ import annotations

from dataclasses import dataclass, replace

from dramok.core.decks import Deck
from dramok.core.engine import compile_program
from dramok.core.engine.match import Dealer
from dramok.core.odds import BadOdds, WholeHand
from dramok.core.problem import Problem
from dramok.services.decks.odds import DeckOdds, GroupAsked, OddsAsked
from dramok.services.workspace.snapshot import GameSnapshot
from dramok.services.workspace.workspace import Refused, Workspace

HANDS = 8
MOST_TOLD = 4_000
AGAIN = 1 << 40
"""Added to a seed for the shuffle of a redrawn hand."""
LARGEST_SEED = 2**39


@dataclass(frozen=True)
class SampleHand:
    """One sample hand: `cards` as drawn. `kept` is None without a redraw rule. `again`: the hand after a redraw."""

    seed: int
    cards: tuple[str, ...]
    kept: bool | None = None
    again: tuple[str, ...] | None = None


@dataclass(frozen=True)
class Hands:
    """Sample hands.

    `tally`: the number kept of the hands `dealt` since `first`, next to `exact`, its exact chance; None without
    a keep rule.
    """

    first: int
    hands: tuple[SampleHand, ...]
    dealt: int
    tally: int | None
    exact: float | None


def sample_hands(
    workspace: Workspace, game: GameSnapshot, deck: Deck, seed: int, asked: OddsAsked | None = None, since: int | None = None
) -> Hands:  # fmt: skip
    """Eight opening hands with seeds `seed` to `seed + 7`. `asked` may have a redraw rule; `since` is the seed
    from which hands are counted.

    Raises Refused for a deck that can't be dealt.
    """
    counts = {ident: count for ident, count in deck.cards.items() if ident in game.cards}
    if not counts:
        raise Refused(Problem(where=deck.name, what="the deck has no cards", mend="add cards to it"))
    if not 0 <= seed <= LARGEST_SEED:
        raise Refused(Problem(where="seed", what="the seed is out of bounds", mend=f"write a whole number from 0 to {LARGEST_SEED}"))  # fmt: skip
    asked = asked or OddsAsked((GroupAsked(card=next(iter(counts))),))
    try:
        odds = DeckOdds(workspace, game, deck, replace(asked, turns=0, by=0))
        dealing = Dealing(game, odds)
        hands = tuple(dealing.hand(seed + place) for place in range(HANDS))
    except BadOdds as error:
        raise Refused(Problem(where=error.where, what=error.what, mend=error.mend)) from error
    except ValueError as error:
        raise Refused(Problem(where=deck.name, what=str(error), mend="remove cards from it")) from error
    first = seed if since is None or not 0 <= since <= seed or seed - since > MOST_TOLD else since
    if odds.keeps is None:
        return Hands(seed, hands, seed - first + HANDS, None, None)
    before = sum(dealing.keeps(dealing.dealt(one)[0]) for one in range(first, seed))
    tally = before + sum(bool(each.kept) for each in hands)
    return Hands(seed, hands, seed - first + HANDS, tally, odds.keeps)


class Dealing:
    """Deals a deck as a match does, and applies the redraw rule."""

    def __init__(self, game: GameSnapshot, odds: DeckOdds) -> None:
        self.odds, self.redraw, self.size = odds, odds.redraw, min(odds.draws.hand, odds.size)
        # Hands depend on the deck alone: as with a single seat, and without cards that the rules lay out.
        self.program = compile_program(game.rulebook.model_copy(update={"play": None}), [game.cards[card] for card in sorted(odds.counts)])
        self.dealer = Dealer(self.program, self.odds.counts)

    def dealt(self, seed: int) -> tuple[tuple[str, ...], tuple[str, ...]]:
        """A hand and the cards after it, in order."""
        hand, pile = self.dealer.dealt(seed)
        cards = hand + pile
        return cards[: self.size], cards[self.size :]

    def hand(self, seed: int) -> SampleHand:
        hand, pile = self.dealt(seed)
        if self.redraw is None:
            return SampleHand(seed, hand)
        if isinstance(self.redraw, WholeHand):
            if self.keeps(hand):
                return SampleHand(seed, hand, True)
            fresh = self.dealt(seed + AGAIN)[0] if self.redraw.returned == "before" else pile[: self.size]
            return SampleHand(seed, hand, False, fresh)
        wanted = self.odds.members[self.redraw.kept]
        stay = tuple(card for card in hand if card in wanted)
        missing = len(hand) - len(stay)
        if not missing:
            return SampleHand(seed, hand, True)
        fresh = pile
        if self.redraw.returned == "before":
            # Kept cards are not in the shuffle: skip them.
            over = list(stay)
            fresh = tuple(
                card for part in self.dealt(seed + AGAIN) for card in part if not _taken(over, card)
            )
        return SampleHand(seed, hand, False, stay + fresh[:missing])

    def keeps(self, hand: tuple[str, ...]) -> bool:
        """Whether the rule keeps a hand."""
        if not isinstance(self.redraw, WholeHand):
            return True
        keep = self.redraw.keep
        return keep.holds([sum(card in self.odds.members[each.group] for card in hand) for each in keep.conditions])  # fmt: skip


def _taken(left: list[str], card: str) -> bool:
    if card in left:
        left.remove(card)
        return True
    return False
