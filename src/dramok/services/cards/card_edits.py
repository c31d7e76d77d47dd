"""Edits of cards: one field, a new card, copies, variants, removal."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace

from dramok.core.cards import Card, NumberField, read_value, shown_value
from dramok.core.cards.making.generate import CannotGenerate, Recipe, generate, steps
from dramok.core.cards.values.codes import free_codes
from dramok.core.problem import Problem, fold, plural
from dramok.services.cards.cells import CellEdit, CellsWritten, NewCard, field_name, pattern_of, write_cells
from dramok.services.workspace.ids import new_ids
from dramok.services.workspace.snapshot import GameSnapshot
from dramok.services.workspace.workspace import Commit, Conflict, Missing, Refused, Workspace
from dramok.store import Change, Key
from dramok.store.json_documents import card_text


def card_in(game: GameSnapshot, ident: str) -> Card:
    """A card by its id or its code. Raises Missing."""
    found = game.cards.get(ident) or game.cards.get(game.by_code.get(fold(ident), ""))
    if found is None:
        raise Missing(f"{game.name} has no card {ident[:60]}")
    return found


def edit_field(
    workspace: Workspace,
    game_id: str,
    card_id: str,
    field_id: str,
    typed: str,
    base: int,
    page: str,
    key: Key | None = None,
) -> Commit:
    """Parse typed text and write it to one field of a card, as `cells` does for many.

    Raises Refused for text that the field can't hold, Conflict if the field was changed after `base`. If others
    changed it to the same value, there is no conflict.
    """
    game = workspace.game(game_id)
    card = card_in(game, card_id)
    done = write_cells(workspace, game_id, [CellEdit(card.id, field_id, typed)], base, page, key=key)
    if done.refused:
        found = done.refused[0]
        if found.theirs is not None:
            raise Conflict(
                found.problem.what, found.theirs, typed, workspace.store.latest_change(card.id, field_id)
            )
        raise Refused(found.problem)
    if done.commit is None:
        raise Refused(
            Problem(
                where=field_name(game, field_id), what="nothing would change", mend="change something first"
            )
        )
    return done.commit


def add_card(
    workspace: Workspace,
    game_id: str,
    type_id: str,
    set_id: str,
    page: str,
    key: Key | None = None,
    typed: Mapping[str, str] | None = None,
) -> tuple[Commit, str]:
    """Add a card at the end of a set, with its fields' defaults and the `typed` values; also returns its id.

    Raises Refused for a value that its field can't hold.
    """
    done = write_cells(
        workspace, game_id, [], workspace.game(game_id).seq, page, [NewCard(type_id, set_id, typed or {})], key=key
    )
    if done.commit is None:
        raise Refused(done.refused[0].problem)
    return done.commit, done.made[0]


def retire_cards(
    workspace: Workspace, game_id: str, card_ids: Sequence[str], page: str, key: Key | None = None
) -> Commit:
    """Remove cards; undo restores them."""
    game = workspace.game(game_id)
    cards = [card_in(game, ident) for ident in dict.fromkeys(card_ids)]
    said = game.title(cards[0]) if len(cards) == 1 else plural(len(cards), "card")

    def plan(now: GameSnapshot) -> Sequence[Change]:
        return [Change("card", card.id, "exists", card_text(card_in(now, card.id)), None) for card in cards]

    return workspace.commit(game_id, f"{said} removed", page, plan, key=key)


def duplicate_cards(
    workspace: Workspace, game_id: str, card_ids: Sequence[str], page: str, key: Key | None = None
) -> tuple[Commit, tuple[str, ...]]:
    """Copy cards within their set, each with a new code; also returns their ids."""
    game = workspace.game(game_id)
    cards = [card_in(game, ident) for ident in dict.fromkeys(card_ids)]
    said = game.title(cards[0]) if len(cards) == 1 else plural(len(cards), "card")
    return _copies(workspace, game_id, f"{said} duplicated", page, [(card, {}) for card in cards], key)


def make_variants(
    workspace: Workspace,
    game_id: str,
    card_id: str,
    field_id: str,
    count: int,
    step: int,
    page: str,
    key: Key | None = None,
) -> tuple[Commit, tuple[str, ...]]:
    """`count` copies of a card; in each, a whole number is one step further than in the previous one."""
    game = workspace.game(game_id)
    card = card_in(game, card_id)
    found = game.rulebook.cards.field_of(card.type, field_id)
    if not isinstance(found, NumberField) or not found.whole:
        raise Refused(
            Problem(where="field", what="variants step a whole number", mend="choose a number field")
        )
    try:
        numbers = steps((card.number(field_id) or 0) + step, count, step, found.least, found.most)
    except CannotGenerate as error:
        raise Refused(error.problem) from error
    label = f"{plural(count, 'variant')} of {game.title(card)}"
    return _copies(workspace, game_id, label, page, [(card, {field_id: number}) for number in numbers], key)


def _copies(
    workspace: Workspace,
    game_id: str,
    label: str,
    page: str,
    wanted: Sequence[tuple[Card, Mapping[str, int]]],
    key: Key | None,
) -> tuple[Commit, tuple[str, ...]]:
    ids = new_ids("c", len(wanted))

    def plan(now: GameSnapshot) -> Sequence[Change]:
        used = set(now.by_code)
        changes = []
        for ident, (card, numbers) in zip(ids, wanted, strict=True):
            code = next(
                free_codes(pattern_of(now, card.set), used, len(now.cards) + 1 if len(wanted) > 500 else 1)
            )
            used.add(fold(code))
            copy = replace(card, id=ident, code=code, values={**card.values, **numbers}, revision=0)
            changes.append(Change("card", ident, "exists", None, card_text(copy), copy))
        return changes

    commit = workspace.commit(game_id, label, page, plan, key=key)
    return commit, commit.made("card")


def generated(game: GameSnapshot, recipe: Recipe) -> list[dict[str, str]]:
    """The cards that a recipe would create, as typed values by field id. Writes nothing. Raises Refused."""
    schema = game.rulebook.cards
    asked = [*(each.field for each in recipe.ranges), *(each.field for each in recipe.picks)]
    for ident in asked:
        if schema.field(ident) is None:
            raise Refused(
                Problem(where=ident[:60], what="the game has no such field", mend="choose another field")
            )
    try:
        drawn = generate(recipe)
    except CannotGenerate as error:
        raise Refused(error.problem) from error
    return [
        {
            ident: shown_value(found, value, schema, game.vocabulary)
            for ident, value in card.items()
            if (found := schema.field(ident)) is not None
        }
        for card in drawn
    ]


def generate_cards(
    workspace: Workspace,
    game_id: str,
    type_id: str,
    set_id: str,
    recipe: Recipe,
    fixed: Mapping[str, str],
    page: str,
    key: Key | None = None,
) -> CellsWritten:
    """Create cards from a recipe, each with the `fixed` values.

    Raises Refused if a generated value does not fit its field.
    """
    game = workspace.game(game_id)
    cards = [NewCard(type_id, set_id, {**fixed, **typed}) for typed in generated(game, recipe)]
    _all_fit(game, type_id, cards)
    label = f"{plural(len(cards), 'card')} generated with seed {recipe.seed}"
    return write_cells(workspace, game_id, [], game.seq, page, cards, label, key)


def _all_fit(game: GameSnapshot, type_id: str, cards: Sequence[NewCard]) -> None:
    schema = game.rulebook.cards
    if not schema.has_type(type_id):
        raise Refused(
            Problem(where="type", what="the game has no such card type", mend="choose one of its types")
        )
    for ident, text in sorted({pair for card in cards for pair in card.typed.items()}):
        found = schema.field_of(type_id, ident)
        if found is None:
            name = field_name(game, ident)
            raise Refused(
                Problem(
                    where=name, what=f"{schema.type(type_id).name} has no {name}", mend="choose another field"
                )
            )
        problems = read_value(found, text, schema, game.vocabulary)[1]
        if problems:
            raise Refused(problems[0])
