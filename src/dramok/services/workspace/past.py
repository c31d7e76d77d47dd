"""The game at an earlier moment, and the cards that changed since."""

from __future__ import annotations

from collections.abc import Iterable

from dramok.core.problem import Problem
from dramok.services.workspace.snapshot import GameSnapshot
from dramok.services.workspace.workspace import Refused, Workspace
from dramok.store import Change


def game_at(workspace: Workspace, game: GameSnapshot, seq: int, card: str | None = None) -> GameSnapshot:
    """The game as it was after op `seq`. With `card`, only that card, the sets and the rules are set back."""
    later = workspace.store.changes_between(game.id, seq, game.seq, card)
    back = [change._replace(before=change.after, after=change.before) for change in reversed(later)]
    try:
        return game.with_changes(back, seq) if back else game
    except (ValueError, LookupError, TypeError, AttributeError) as error:
        raise Refused(
            Problem(
                where="journal",
                what="the journal does not lead back to that moment",
                mend="choose a later moment",
            )
        ) from error


def changed_cards(workspace: Workspace, game: GameSnapshot, after: int) -> list[str]:
    """The ids of existing cards that differ from their state after op `after`."""
    changed = folded(workspace.store.changes_between(game.id, after, game.seq))
    return [ident for (entity, ident) in changed if entity == "card" and ident in game.cards]


def folded(changes: Iterable[Change]) -> dict[tuple[str, str], dict[str, Change]]:
    """Merge the changes of each entity into one, field by field; drop entities and fields that end as they
    began.

    Fields of an entity that was created or removed are not listed: `exists` holds the whole document.
    """
    things: dict[tuple[str, str], dict[str, Change]] = {}
    for change in changes:
        fields = things.setdefault((change.entity, change.id), {})
        first = fields.get(change.field)
        fields[change.field] = change if first is None else first._replace(after=change.after)
    kept: dict[tuple[str, str], dict[str, Change]] = {}
    for thing, fields in things.items():
        made = fields.pop("exists", None)
        if made is not None and (made.before is None) != (made.after is None):
            kept[thing] = {"exists": made}
            continue
        if made is not None and made.before is None:
            continue  # created and removed again
        fields = {name: each for name, each in fields.items() if each.before != each.after}
        if fields:
            kept[thing] = fields
    return kept
