"""What single cards have otherwise than their plan says: a picture nudged, a text of another size; set, copied, reset."""

from __future__ import annotations

import json
from collections.abc import Mapping, Sequence

from dramok.core.cards import Card
from dramok.core.faces.looks import PREFIX, Look, looks_of
from dramok.core.problem import Problem, plural
from dramok.store import Change, Key
from dramok.studio.desk import Commit, Desk, Refused
from dramok.studio.editing import card_in
from dramok.studio.sheets import CardSheet, make_sheet
from dramok.studio.snapshot import GameSnapshot


def overrule(
    desk: Desk,
    game_id: str,
    card_ids: Sequence[str],
    looks: Mapping[str, Look],
    page: str,
    key: Key | None = None,
) -> Commit:
    """Gives cards these looks, by placement; a plain one is as the plan says again. Raises Missing, Refused."""
    game = desk.game(game_id)
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

    return desk.commit(game_id, label, page, plan, key=key)


def copy_looks(
    desk: Desk,
    game_id: str,
    source: str,
    card_ids: Sequence[str],
    page: str,
    key: Key | None = None,
) -> Commit:
    """Gives other cards all that one card has otherwise. Raises Missing, Refused where it has nothing."""
    game = desk.game(game_id)
    looks = looks_of(card_in(game, source))
    if not looks:
        raise Refused(
            Problem(where="face", what="this card is all as its plan says", mend="adjust something first")
        )
    others = [each for each in card_ids if each != source]
    return overrule(desk, game_id, others, looks, page, key)


def with_looks(game: GameSnapshot, card_id: str, looks: Mapping[str, Look]) -> CardSheet:
    """A card's sheet as it would be with other looks. Writes nothing."""
    card = card_in(game, card_id)
    for place, look in looks.items():
        card = card.with_value(PREFIX + place, look.said())
    return make_sheet(game, card)


def _changed(card: Card, place: str, look: Look) -> list[Change]:
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
