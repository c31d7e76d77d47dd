"""The ripples of one edit: changes of faces, verdicts and decks elsewhere."""

from __future__ import annotations

from dataclasses import dataclass
from decimal import Decimal

from dramok.core.cards import Card, shown_value
from dramok.core.faces.plan.adjustments import PREFIX
from dramok.core.journal import EXISTS
from dramok.core.output import PaperState
from dramok.services.cards.card_detail import DETAILS, CardDetail, detail_of, paper_of
from dramok.services.cards.changed import moved, reworded
from dramok.services.workspace.snapshot import GameSnapshot
from dramok.services.workspace.workspace import Commit

MOST_CARDS = 60
MOST_COMPARED = 150


@dataclass(frozen=True)
class CardStatus:
    """The state of a card for comparison: verdict, `difference` in points, whether its behaviour is written,
    kinds of face problems, and print state.
    """

    judgement: str
    difference: Decimal
    written: bool
    unfinished: bool
    faults: tuple[str, ...]
    paper: PaperState


@dataclass(frozen=True)
class CardRipple:
    """The ripple on one card.

    `stale` counts printed copies that became out of date; negative for copies that are up to date again. `face`
    is re-laid, same, new or gone; `fits` is None for a removed card; `faults` are the new kinds of face
    problems.
    """

    card: str
    title: str
    edits: tuple[str, ...]
    face: str
    fits: bool | None
    fitted: bool | None
    before: CardStatus | None
    after: CardStatus | None
    faults: tuple[str, ...] = ()
    stale: int = 0


@dataclass(frozen=True)
class DeckRipple:
    deck: str
    name: str
    legal: bool
    was_legal: bool
    why: str


@dataclass(frozen=True)
class Ripple:
    """The ripples of one edit.

    `cards` are the first `MOST_CARDS` of `card_count` changed cards; `decks` those whose cards or legality
    changed; `verdicts` the number of verdicts moved by an edit of the rules.
    """

    seq: int
    label: str
    cards: tuple[CardRipple, ...]
    card_count: int
    decks: tuple[DeckRipple, ...]
    verdicts: int = 0


def ripple_of(commit: Commit) -> Ripple:
    """Compare the game before and after an op."""
    there = (commit.before.cards, commit.after.cards)
    touched = list(
        dict.fromkeys(
            change.id
            for change in commit.changes
            if change.entity == "card" and any(change.id in cards for cards in there)
        )
    )
    relaid, judged, beyond = _reached(commit)
    touched = list(dict.fromkeys([*touched, *_naming(commit), *relaid, *judged]))
    cards = tuple(_card(commit.before, commit.after, ident) for ident in touched[:MOST_CARDS])
    return Ripple(
        commit.op.seq,
        commit.op.label,
        cards,
        len(touched) + beyond,
        _decks(commit, set(touched)),
        len(judged),
    )


def _naming(commit: Commit) -> list[str]:
    """Cards whose effects create a card that was renamed, restored or removed, among those whose text was
    computed before.
    """
    before, after = commit.before, commit.after
    changed = {EXISTS, "code", after.rulebook.roles.name}
    renamed = {each.id for each in commit.changes if each.entity == "card" and each.field in changed}
    return [ident for ident in DETAILS.naming(before, renamed) if ident in after.cards] if renamed else []


def _reached(commit: Commit) -> tuple[list[str], list[str], int]:
    """The cards whose face or verdict an edit of rules or plans changes, and the number of cards that were not
    compared.
    """
    before, after = commit.before, commit.after
    if before.rules_digest == after.rules_digest and before.faces is after.faces:
        return [], [], 0
    judged = list(moved(before.pricing, after.pricing)) if before.rules_digest != after.rules_digest else []
    fields = {change.field if change.entity == "game" else "" for change in commit.changes}
    if fields <= {"phrases", "prices"}:
        # known without laying out a face
        return reworded(before, after), judged, 0
    relaid, beyond = _relaid(commit)
    return relaid, judged, beyond


def _relaid(commit: Commit) -> tuple[list[str], int]:
    """Cards whose faces an edit of rules or plans changes, searched among the first `MOST_COMPARED` candidates;
    and the number of candidates not compared.
    """
    before, after = commit.before, commit.after
    rules = before.face_digest != after.face_digest
    types = [
        each.id
        for each in after.rulebook.cards.types
        if rules or before.faces.digest(each.id) != after.faces.digest(each.id)
    ]
    both = [
        card for ident, card in after.cards.items() if card.type in types and before.cards.get(ident) is card
    ]
    compared = both[:MOST_COMPARED]
    found = [card.id for card in compared if detail_of(before, card).digest != detail_of(after, card).digest]
    return found, 0 if rules else len(both) - len(compared)


def _card(before: GameSnapshot, after: GameSnapshot, ident: str) -> CardRipple:
    old, new = before.cards.get(ident), after.cards.get(ident)
    shown = new or old
    assert shown is not None
    title = (after if new else before).title(shown)
    old_sheet = detail_of(before, old) if old else None
    new_sheet = detail_of(after, new) if new else None
    face = (
        "new"
        if old_sheet is None
        else "gone"
        if new_sheet is None
        else "same"
        if old_sheet.digest == new_sheet.digest
        else "re-laid"
    )
    return CardRipple(
        ident, title, _edits(after, old, new), face, new_sheet.fits if new_sheet else None, old_sheet.fits if old_sheet else None,
        was := _standing(before, old_sheet), now := _standing(after, new_sheet), _new_faults(old_sheet, new_sheet), _stale(after, ident, was, now),
    )  # fmt: skip


def _new_faults(old: CardDetail | None, new: CardDetail | None) -> tuple[str, ...]:
    if new is None or new is old:
        return ()
    before = old.standing.faults if old else frozenset()
    return tuple(sorted(new.standing.faults - before))


def _stale(game: GameSnapshot, card: str, was: CardStatus | None, now: CardStatus | None) -> int:
    """The increase in out-of-date printed copies of a card."""
    printed = game.printed.get(card)
    if printed is None or now is None or was is None or was.paper == now.paper:
        return 0
    return printed.copies if now.paper == "stale" else -printed.copies


def _standing(game: GameSnapshot, sheet: CardDetail | None) -> CardStatus | None:
    return (
        CardStatus(
            sheet.ledger.judgement,
            sheet.ledger.difference,
            sheet.printed.behaviour_written,
            sheet.unfinished,
            tuple(sorted(sheet.standing.faults)),
            paper_of(game, sheet),
        )
        if sheet
        else None
    )


def _edits(game: GameSnapshot, old: Card | None, new: Card | None) -> tuple[str, ...]:
    if old is None or new is None:
        return ("added" if old is None else "removed",)
    said = []
    if old.code != new.code:
        said.append(f"code {old.code} → {new.code}")
    for field in game.rulebook.cards.fields_of(new.type):
        one, other = old.values.get(field.id), new.values.get(field.id)
        if one != other:
            texts = [
                shown_value(field, value, game.rulebook.cards, game.vocabulary) or "empty"
                for value in (one, other)
            ]
            long = any(len(text) > 24 or "\n" in text for text in texts)
            said.append(
                f"{field.name.lower()} changed" if long else f"{field.name.lower()} {texts[0]} → {texts[1]}"
            )
    if {key: value for key, value in old.values.items() if key.startswith(PREFIX)} != {
        key: value for key, value in new.values.items() if key.startswith(PREFIX)
    }:
        said.append("face adjusted")
    return tuple(said)


def _decks(commit: Commit, cards: set[str]) -> tuple[DeckRipple, ...]:
    before, after = commit.before, commit.after
    edited = {change.id for change in commit.changes if change.entity == "deck"}
    ruled = before.formats is not after.formats or before.rulebook is not after.rulebook
    found = []
    for deck in after.decks.values():
        near = deck.id in edited or bool(cards & deck.holds)
        if not near and not ruled:
            continue
        problems = after.legality(deck)
        old = before.decks.get(deck.id)
        was = old is not None and not before.legality(old)
        if near or was != (not problems):
            found.append(
                DeckRipple(deck.id, deck.name, not problems, was, problems[0].what if problems else "")
            )
    return tuple(found)
