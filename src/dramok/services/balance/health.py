"""The health of a set on one page: curve, gaps, outliers, dominated cards, twins, words, out-of-date prints,
unfinished cards.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping
from dataclasses import dataclass

from dramok.core.balance.comparable import comparables
from dramok.core.balance.dominance import Dominated, Twins, dominated, twins
from dramok.core.balance.set_shape import (
    CostShape,
    EmptyPlace,
    KeywordCount,
    Load,
    curve,
    gaps,
    keyword_counts,
    lone_words,
    reading_load,
)
from dramok.core.cards import Card
from dramok.core.wording import printed_text
from dramok.services.cards.card_detail import detail_of, paper_of
from dramok.services.workspace.past import changed_cards
from dramok.services.workspace.snapshot import GameSnapshot
from dramok.services.workspace.workspace import Missing, Workspace

MOST_SHOWN = 200
MOST_LAID = 1_500
"""The number of faces laid out to check prints and unfinished text; for larger sets only cached faces are checked."""


@dataclass(frozen=True)
class Health:
    """The health of a set, with card ids throughout.

    `verdicts` by name; `outliers` with points, furthest first. `faction_sizes` and `type_sizes` by choice id.
    `changed`: since a mark, None without one. `left_out`: cards that can't be compared. `unseen`: cards of a
    large set whose faces were not checked.
    """

    cards: int
    verdicts: Mapping[str, int]
    outliers: tuple[tuple[str, float], ...]
    curve: tuple[CostShape, ...]
    type_sizes: tuple[tuple[str, int], ...]
    faction_sizes: tuple[tuple[str, int], ...]
    rarity_sizes: tuple[tuple[str, int], ...]
    gaps: tuple[EmptyPlace, ...]
    dominated: tuple[Dominated, ...]
    twins: tuple[Twins, ...]
    left_out: int
    keywords: tuple[KeywordCount, ...]
    load: Load
    lone: tuple[tuple[str, str], ...]
    stale: tuple[str, ...]
    unfinished: tuple[str, ...]
    unseen: int
    changed: tuple[str, ...] | None


def health(game: GameSnapshot, set_id: str | None = None, workspace: Workspace | None = None, since: int | None = None) -> Health:
    """The health of the whole game or of one set.

    With `since`, includes what changed after that op; this needs the workspace. Raises Missing.
    """
    if set_id is not None and game.set_of(set_id) is None:
        raise Missing("there is no such set")
    cards = [game.rulebook.cards.seen(card) for card in game.cards.values() if set_id is None or card.set == set_id]
    within = {card.id for card in cards}
    rules, roles = game.rulebook, game.rulebook.roles
    points = [each for each in game.pricing.map.cards if each.card in within]
    differences = {each.card: float(each.difference) for each in points}
    compared = comparables(cards, rules, game.prices)
    names = [field.name if (field := rules.cards.field(ident)) else ident for ident in roles.stats]
    free = ("", *game.formats[0].free_factions)
    texts = {card.id: printed_text(card, rules, game.vocabulary).lines for card in cards}
    laid = cards[:MOST_LAID]
    sheets = [detail_of(game, card) for card in laid]
    changed = None
    if since is not None:
        assert workspace is not None
        changed = tuple(ident for ident in changed_cards(workspace, game, since) if ident in within)
    return Health(
        len(cards), Counter(each.judgement for each in points),
        tuple((ident, differences[ident]) for ident in game.pricing.map.outliers if ident in within),
        curve(cards, rules, game.prices), _sizes(cards, "type"), _sizes(cards, roles.faction), _sizes(cards, roles.rarity), gaps(cards, rules),
        tuple(dominated(compared, names, free)), tuple(twins(compared, names)), len(cards) - len(compared), keyword_counts(cards, rules, texts),
        reading_load(texts), lone_words(texts),
        tuple(sheet.card.id for sheet in sheets if paper_of(game, sheet) == "stale"), tuple(sheet.card.id for sheet in sheets if sheet.unfinished or not sheet.printed.behaviour_written),
        len(cards) - len(laid), changed,
    )  # fmt: skip


def _sizes(cards: list[Card], field: str | None) -> tuple[tuple[str, int], ...]:
    """(choice, cards), the largest first; card types if the field is `type`."""
    if not field:
        return ()
    counts = Counter(card.type if field == "type" else card.text(field) for card in cards)
    return tuple(sorted(counts.items(), key=lambda item: (-item[1], item[0])))
