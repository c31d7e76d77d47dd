"""What an edit of the rules would do, before it is written: to verdicts, the set map, printed texts and decks."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from decimal import Decimal
from typing import Any

from dramok.core.balance import Budget, PriceList, Pricing
from dramok.core.balance.fitting import fitted_budget
from dramok.core.cards import Card
from dramok.core.decks.satisfiable import clashes
from dramok.core.problem import Problem, plural
from dramok.core.rulebook import Phrases
from dramok.core.rulebook.phrases import Phrase, lacking
from dramok.core.wording import phrases_of, printed_text
from dramok.studio import things
from dramok.studio.desk import Desk
from dramok.studio.history import game_at
from dramok.studio.rulework import part_changes, phrase_book
from dramok.studio.snapshot import GameSnapshot

MOST_SAMPLES = 8
MOST_NAMED = 5


@dataclass(frozen=True)
class PartLook:
    """`verdicts`: cards whose verdict would be another number; `texts`: whose printed text would read otherwise; `decks`: names of decks that
    would be legal no more; `mended`: of such as would be legal again. `said` is all of it in a few words, and what else to know."""

    verdicts: int
    texts: int
    decks: tuple[str, ...]
    mended: tuple[str, ...]
    said: tuple[str, ...]


def would_be(game: GameSnapshot, part: str, value: Any) -> GameSnapshot:
    """The game as it would be with a part of its rules written anew. Raises Refused as writing it would."""
    changes = part_changes(game, part, value)
    return game.with_changes(changes, game.seq) if changes else game


def look_at_part(game: GameSnapshot, part: str, value: Any) -> PartLook:
    """What writing a part would do. Writes nothing; raises Refused as writing it would."""
    after = would_be(game, part, value)
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
    return PartLook(verdicts, texts, broken, mended, tuple(said))


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
    """(id of deck rules, what fights in them) where no deck can be legal; nothing while there are no cards to make a deck of."""
    cards = list(game.cards.values())
    if not cards:
        return []
    return [(each.id, found) for each in game.formats for found in clashes(each, cards, game.rulebook)]


def _clashing(before: GameSnapshot, after: GameSnapshot) -> list[str]:
    """What would fight that did not: deck rules with two rules that fight anyway can still be edited."""
    names = {each.id: each.name for each in after.formats}
    fought = {ident for ident, _ in deck_rule_clashes(before)}
    found = [each for each in deck_rule_clashes(after) if each[0] not in fought][:MOST_NAMED]
    return [f"no deck could be legal in {names[ident]}: {each.what}" for ident, each in found]


def _rules_gone(before: GameSnapshot, after: GameSnapshot) -> list[str]:
    """Decks that name deck rules which would be gone: they are held against the first then."""
    left = {each.id for each in after.formats}
    decks = tuple(each.name for each in after.decks.values() if each.format and each.format not in left)
    return [f"{plural(len(decks), 'deck')} would be checked against {after.formats[0].name}: {_named(decks)}"] if decks else []  # fmt: skip


def _left_behind(before: GameSnapshot, after: GameSnapshot) -> list[str]:
    """Worth rows that name a resource which would be gone: they match nothing then."""
    left = {each.id for each in after.rulebook.resources}
    rows = [row.id for row in after.prices.rows if row.resource and row.resource not in left]
    return [f"{plural(len(rows), 'worth')} would match nothing: {_named(tuple(rows))}"] if rows else []


def reworded(before: GameSnapshot, after: GameSnapshot) -> list[str]:
    """The cards whose printed text differs."""
    if after.rulebook == before.rulebook:
        return []
    return [card.id for card in after.cards.values() if _lines(before, card) != _lines(after, card)]


def _lines(game: GameSnapshot, card: Card) -> tuple[str, ...]:
    return printed_text(card, game.rulebook, game.vocabulary).lines


@dataclass(frozen=True)
class PricesLook:
    """The price list at work as it would be. `was`: where the cards that move stand now, or stood, as (cost, worth).

    Since a mark, `rows`, `stats` and `budgets` are those whose worth was another then or was not there; without one they are None.
    """

    game: GameSnapshot
    pricing: Pricing
    was: Mapping[str, tuple[int, Decimal]]
    verdicts: int
    notes: tuple[str, ...]
    rows: tuple[str, ...] | None = None
    stats: tuple[str, ...] | None = None
    budgets: tuple[str, ...] | None = None


def look_at_prices(desk: Desk, game: GameSnapshot, value: Any, since: str | None = None) -> PricesLook:
    """The set map with other prices. `since` is the id of a mark: then what changed is told since it, else against what is written.

    Raises Refused as writing the prices would, Missing where the mark is not there.
    """
    after = would_be(game, "prices", value)
    notes = tuple(_notes(after))
    if since is None:
        was = moved(game.pricing, after.pricing)
        return PricesLook(after, after.pricing, was, len(was), notes)
    mark = things.thing_of(game, "mark", since)
    then = game_at(desk, game, int(mark.doc["seq"])).prices
    old = game.with_changes(part_changes(game, "prices", then.model_dump(mode="json")), game.seq)
    was = moved(old.pricing, after.pricing)
    return PricesLook(
        after, after.pricing, was, len(was), notes, *(_changed(then, after.prices)),
    )  # fmt: skip


def budget_fit(game: GameSnapshot, value: Any, card_type: str) -> tuple[Budget, int] | None:
    """A budget fitted to the cards of a type ("" for every type without a budget of its own) with the worths of a price list, and the number
    of cards; None without a card that has a cost. The allowances by rarity stay as the list has them. Writes nothing; raises Refused."""
    after = would_be(game, "prices", value)
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
    """What in the price list is likely a mistake."""
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


def moved(before: Pricing, after: Pricing) -> dict[str, tuple[int, Decimal]]:
    """The cards that another list prices otherwise, with where they stood: (cost, worth)."""
    if before is after:
        return {}
    old = {each.card: each for each in before.map.cards}
    return {
        each.card: (was.cost, was.worth)
        for each in after.map.cards
        if (was := old.get(each.card)) is not None
        and (was.worth, was.difference, was.judgement) != (each.worth, each.difference, each.judgement)
    }


@dataclass(frozen=True)
class Sample:
    """A card's generated text as it reads now, and as it would."""

    card: str
    before: tuple[str, ...]
    after: tuple[str, ...]


@dataclass(frozen=True)
class PhrasesLook:
    """`uses`: how many cards say each phrase, by its id. `samples` are cards that say the phrase asked for, those first that would read otherwise;
    `lacking`: parts that a phrase says nothing of, by its id."""

    reworded: int
    uses: Mapping[str, int]
    samples: tuple[Sample, ...]
    lacking: Mapping[str, tuple[str, ...]]


def look_at_phrases(game: GameSnapshot, value: Any, phrase: str | None = None) -> PhrasesLook:
    """What another phrase book would say. Writes nothing; raises Refused as writing it would."""
    after = would_be(game, "phrases", value)
    changed = set(reworded(game, after))
    speakers: dict[str, list[Card]] = {}
    for card in game.cards.values():
        if card.script(game.rulebook.roles.effect).abilities:
            for each in phrases_of(card, game.rulebook, game.vocabulary):
                speakers.setdefault(each, []).append(card)
    said = sorted(speakers.get(phrase or "", ()), key=lambda card: card.id not in changed)
    samples = tuple(Sample(card.id, _lines(game, card), _lines(after, card)) for card in said[:MOST_SAMPLES])
    return PhrasesLook(
        len(changed),
        {each: len(cards) for each, cards in speakers.items()},
        samples,
        _lacking(after.rulebook.phrases, phrase_book(after.rulebook)),
    )


def _lacking(phrases: Phrases, book: list[Phrase]) -> dict[str, tuple[str, ...]]:
    written = [(each, each.written(phrases)) for each in book]
    found = {each.id: lacking(each, text) for each, text in written if text is not None}
    return {ident: parts for ident, parts in found.items() if parts}
