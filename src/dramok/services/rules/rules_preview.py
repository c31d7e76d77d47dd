"""Preview an edit of the rules before it is written: effects on verdicts, the set map, printed texts and decks."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from decimal import Decimal
from typing import Any

from dramok.core.balance import Budget, PriceList, Pricing
from dramok.core.balance.declared.budget_fit import fitted_budget
from dramok.core.cards import Card
from dramok.core.decks.satisfiability import clashes
from dramok.core.problem import Problem, plural
from dramok.core.rulebook import Phrases
from dramok.core.rulebook.phrases import Phrase, lacking
from dramok.core.wording import phrases_of
from dramok.services.cards.changed import moved, reworded, text_lines
from dramok.services.rules.rule_parts import part_changes, phrase_book
from dramok.services.workspace import small_entities
from dramok.services.workspace.past import game_at
from dramok.services.workspace.snapshot import GameSnapshot
from dramok.services.workspace.workspace import Workspace

MOST_SAMPLES = 8
MOST_NAMED = 5


@dataclass(frozen=True)
class PartPreview:
    """The preview of a part.

    `verdicts` and `texts`: the number of cards whose verdict or printed text would change. `decks`: the
    names of decks that would become illegal; `mended`: of those that would become legal. `said`: a short summary.
    """

    verdicts: int
    texts: int
    decks: tuple[str, ...]
    mended: tuple[str, ...]
    said: tuple[str, ...]


def with_part(game: GameSnapshot, part: str, value: Any) -> GameSnapshot:
    """The game with one part of its rules replaced. Raises Refused as writing it would."""
    changes = part_changes(game, part, value)
    return game.with_changes(changes, game.seq) if changes else game


def preview_part(game: GameSnapshot, part: str, value: Any) -> PartPreview:
    """Preview writing a part. Writes nothing; raises Refused as writing it would."""
    after = with_part(game, part, value)
    verdicts = len(moved(game.pricing, after.pricing)) if after is not game else 0
    texts = len(reworded(game, after))
    broken, mended = _decks(game, after)
    said = [
        *([f"{plural(verdicts, 'verdict')} would change"] if verdicts else []),
        *([f"{plural(texts, 'text')} would read otherwise"] if texts else []),
        *([f"{plural(len(broken), 'deck')} would no longer be legal: {_named(broken)}"] if broken else []),
        *([f"{plural(len(mended), 'deck')} would be legal again: {_named(mended)}"] if mended else []),
        *(_left_behind(game, after) if part == "resources" else []),
        *(_rules_gone(game, after) if part == "formats" else []),
        *(_clashing(game, after) if part == "formats" else []),
    ]
    return PartPreview(verdicts, texts, broken, mended, tuple(said))


def _named(names: tuple[str, ...]) -> str:
    more = len(names) - MOST_NAMED
    return ", ".join(names[:MOST_NAMED]) + (f" and {more} more" if more > 0 else "")


def _decks(before: GameSnapshot, after: GameSnapshot) -> tuple[tuple[str, ...], tuple[str, ...]]:
    broken: list[str] = []
    mended: list[str] = []
    if after is not before:
        for deck in after.decks.values():
            was = not before.legality(before.decks[deck.id])
            now = not after.legality(deck)
            if was != now:
                (broken if was else mended).append(deck.name)
    return tuple(broken), tuple(mended)


def deck_rule_clashes(game: GameSnapshot) -> list[tuple[str, Problem]]:
    """(id of deck rules, the conflict in them) for deck rules that no deck can satisfy; empty while there are
    no cards.
    """
    cards = list(game.cards.values())
    if not cards:
        return []
    return [(each.id, found) for each in game.formats for found in clashes(each, cards, game.rulebook)]


def _clashing(before: GameSnapshot, after: GameSnapshot) -> list[str]:
    """New conflicts in deck rules: rules that conflicted before can still be edited."""
    names = {each.id: each.name for each in after.formats}
    fought = {ident for ident, _ in deck_rule_clashes(before)}
    found = [each for each in deck_rule_clashes(after) if each[0] not in fought][:MOST_NAMED]
    return [f"no deck could be legal in {names[ident]}: {each.what}" for ident, each in found]


def _rules_gone(before: GameSnapshot, after: GameSnapshot) -> list[str]:
    """Decks that name removed deck rules: they would be checked against the first ones."""
    left = {each.id for each in after.formats}
    decks = tuple(each.name for each in after.decks.values() if each.format and each.format not in left)
    return [f"{plural(len(decks), 'deck')} would be checked against {after.formats[0].name}: {_named(decks)}"] if decks else []  # fmt: skip


def _left_behind(before: GameSnapshot, after: GameSnapshot) -> list[str]:
    """Worth rows that name a removed resource: they would match nothing."""
    left = {each.id for each in after.rulebook.resources}
    rows = [row.id for row in after.prices.rows if row.resource and row.resource not in left]
    return [f"{plural(len(rows), 'worth')} would match nothing: {_named(tuple(rows))}"] if rows else []


@dataclass(frozen=True)
class PricesPreview:
    """The price list applied to all cards, as it would be. `was` has the (cost, worth) before for cards that
    move.

    With a mark, `rows`, `stats` and `budgets` are those that changed since; otherwise they are None.
    """

    game: GameSnapshot
    pricing: Pricing
    was: Mapping[str, tuple[int, Decimal]]
    verdicts: int
    notes: tuple[str, ...]
    rows: tuple[str, ...] | None = None
    stats: tuple[str, ...] | None = None
    budgets: tuple[str, ...] | None = None


def preview_prices(workspace: Workspace, game: GameSnapshot, value: Any, since: str | None = None) -> PricesPreview:
    """Preview the set map with other prices. `since` is the id of a mark to compare with; without it the stored
    prices are compared.

    Raises Refused as writing the prices would, Missing if the mark does not exist.
    """
    after = with_part(game, "prices", value)
    notes = tuple(_notes(after))
    if since is None:
        was = moved(game.pricing, after.pricing)
        return PricesPreview(after, after.pricing, was, len(was), notes)
    mark = small_entities.thing_of(game, "mark", since)
    then = game_at(workspace, game, int(mark.doc["seq"])).prices
    old = game.with_changes(part_changes(game, "prices", then.model_dump(mode="json")), game.seq)
    was = moved(old.pricing, after.pricing)
    return PricesPreview(
        after, after.pricing, was, len(was), notes, *(_changed(then, after.prices)),
    )  # fmt: skip


def budget_fit(game: GameSnapshot, value: Any, card_type: str) -> tuple[Budget, int] | None:
    """Fit a budget to the cards of a type ("" for every type without a budget of its own) with the worths of a
    price list. Returns it with the number of cards; None if no card has a cost.

    The allowances by rarity are unchanged. Writes nothing; raises Refused.
    """
    after = with_part(game, "prices", value)
    roles, budgets = after.rulebook.roles, after.prices.budgets
    held = budgets.get(card_type) or budgets.get("")
    rarity = held.rarity if held else {}
    found = []
    for each in after.pricing.map.cards:
        card = after.cards[each.card]
        if card.type == card_type or not card_type and card.type not in budgets:
            found.append((each.cost, each.worth - rarity.get(card.text(roles.rarity), Decimal(0))))
    fitted = fitted_budget(found, dict(rarity))
    return (fitted, len(found)) if fitted else None


def _notes(game: GameSnapshot) -> Iterator[str]:
    """Likely mistakes in the price list."""
    names = {each.id: each.name for each in game.rulebook.cards.types} | {"": "Every type"}
    for ident, budget in game.prices.budgets.items():
        falls = budget.falls()
        if falls:
            costs = ", ".join(str(cost) for cost in falls[:MOST_NAMED])
            yield f"{names.get(ident, ident)}: a cost of {costs} buys less than the one before"
    resources = {each.id for each in game.rulebook.resources}
    stats = {each.id for each in game.rulebook.cards.fields}
    for row in game.prices.rows:
        if (row.resource and row.resource not in resources) or (row.stat and row.stat not in stats):
            yield f"{row.id} is of {row.resource or row.stat}, which the game has no more: it matches nothing"


def _changed(then: PriceList, now: PriceList) -> tuple[tuple[str, ...], tuple[str, ...], tuple[str, ...]]:
    rows = {row.id: row for row in then.rows}
    return (
        tuple(row.id for row in now.rows if rows.get(row.id) != row),
        tuple(stat for stat, worth in now.stats.items() if then.stats.get(stat) != worth),
        tuple(each for each, budget in now.budgets.items() if then.budgets.get(each) != budget),
    )


@dataclass(frozen=True)
class Sample:
    """A card's generated text now and with the new phrases."""

    card: str
    before: tuple[str, ...]
    after: tuple[str, ...]


@dataclass(frozen=True)
class PhrasesPreview:
    """The preview of a phrase book.

    `uses`: the number of cards that use each phrase, by its id. `samples`: cards that use the requested phrase,
    changed ones first; `lacking`: parts that a phrase omits, by its id.
    """

    reworded: int
    uses: Mapping[str, int]
    samples: tuple[Sample, ...]
    lacking: Mapping[str, tuple[str, ...]]


def preview_phrases(game: GameSnapshot, value: Any, phrase: str | None = None) -> PhrasesPreview:
    """Preview another phrase book. Writes nothing; raises Refused as writing it would."""
    after = with_part(game, "phrases", value)
    changed = set(reworded(game, after))
    speakers: dict[str, list[Card]] = {}
    for card in game.cards.values():
        if card.script(game.rulebook.roles.effect).abilities:
            for each in phrases_of(card, game.rulebook, game.vocabulary):
                speakers.setdefault(each, []).append(card)
    said = sorted(speakers.get(phrase or "", ()), key=lambda card: card.id not in changed)
    samples = tuple(Sample(card.id, text_lines(game, card), text_lines(after, card)) for card in said[:MOST_SAMPLES])
    return PhrasesPreview(
        len(changed),
        {each: len(cards) for each, cards in speakers.items()},
        samples,
        _lacking(after.rulebook.phrases, phrase_book(after.rulebook)),
    )


def _lacking(phrases: Phrases, book: list[Phrase]) -> dict[str, tuple[str, ...]]:
    written = [(each, each.written(phrases)) for each in book]
    found = {each.id: lacking(each, text) for each, text in written if text is not None}
    return {ident: parts for ident, parts in found.items() if parts}
