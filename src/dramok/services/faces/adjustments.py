"""Adjustments of single cards to their face plan: a moved picture, a text of another size; set, copy, reset."""

from __future__ import annotations

import json
from collections.abc import Mapping, Sequence

from dramok.core.cards import Card
from dramok.core.faces.plan.adjustments import PREFIX, Adjustment, adjustments_of
from dramok.core.problem import Problem, plural
from dramok.services.cards.card_detail import CardDetail, make_detail
from dramok.services.cards.card_edits import card_in
from dramok.services.workspace.snapshot import GameSnapshot
from dramok.services.workspace.workspace import Commit, Refused, Workspace
from dramok.store import Change, Key


def set_adjustments(
    workspace: Workspace,
    game_id: str,
    card_ids: Sequence[str],
    looks: Mapping[str, Adjustment],
    page: str,
    key: Key | None = None,
) -> Commit:
    """Write the adjustments of cards by placement; an empty one resets to the plan. Raises Missing, Refused."""
    game = workspace.game(game_id)
    cards = [card_in(game, each) for each in dict.fromkeys(card_ids)]
    names = [_place_name(game, cards[0], each) for each in looks] if cards else []
    done = "as the plan says" if all(each.plain for each in looks.values()) else "adjusted"
    said = f"{', '.join(names[:3])} {done}"
    label = f"{game.title(cards[0])}: {said}" if len(cards) == 1 else f"{plural(len(cards), 'card')}: {said}"

    def plan(now: GameSnapshot) -> Sequence[Change]:
        return [
            change
            for each in cards
            for place, look in looks.items()
            for change in _changed(card_in(now, each.id), place, look)
        ]

    return workspace.commit(game_id, label, page, plan, key=key)


def copy_adjustments(
    workspace: Workspace,
    game_id: str,
    source: str,
    card_ids: Sequence[str],
    page: str,
    key: Key | None = None,
) -> Commit:
    """Copy all adjustments of a card to other cards. Raises Missing, and Refused if it has none."""
    game = workspace.game(game_id)
    looks = adjustments_of(card_in(game, source))
    if not looks:
        raise Refused(
            Problem(where="face", what="this card is all as its plan says", mend="adjust something first")
        )
    others = [each for each in card_ids if each != source]
    return set_adjustments(workspace, game_id, others, looks, page, key)


def with_adjustments(game: GameSnapshot, card_id: str, looks: Mapping[str, Adjustment]) -> CardDetail:
    """The detail of a card with other adjustments. Writes nothing."""
    card = card_in(game, card_id)
    for place, look in looks.items():
        card = card.with_value(PREFIX + place, look.said())
    return make_detail(game, card)


def _changed(card: Card, place: str, look: Adjustment) -> list[Change]:
    before, after = card.text(PREFIX + place), look.said()
    if before == after:
        return []
    return [
        Change(
            "card", card.id, PREFIX + place, json.dumps(before) if before else None, json.dumps(after) if after else None
        )
    ]  # fmt: skip


def _place_name(game: GameSnapshot, card: Card, place: str) -> str:
    for side in ("front", "back"):
        found = game.faces.worn(card, side).by_id.get(place)
        if found is not None:
            return (found.place.name or place).lower()
    return place
