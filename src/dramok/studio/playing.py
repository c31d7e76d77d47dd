"""Playtests: a deck at the table, kept as seed and decisions with the cards as they were."""

from __future__ import annotations

import json
import secrets
from collections import OrderedDict
from dataclasses import dataclass, replace
from datetime import UTC, datetime
from threading import RLock

from dramok.core.cards import Card
from dramok.core.engine import (
    LogLine,
    Match,
    NotAnOption,
    Option,
    TableView,
    compile_program,
    replay,
    told,
    view,
)
from dramok.core.problem import Problem
from dramok.core.rulebook import Rulebook
from dramok.store import Key, KeyReused, PlaytestRecord, read_values
from dramok.store.documents import write_value
from dramok.studio.decks.edits import deck_in
from dramok.studio.desk import Conflict, Desk, Missing, Refused
from dramok.studio.ids import new_id

MOST_KEPT = 64
LARGEST_SEED = 2**53 - 1


@dataclass(frozen=True)
class Playtest:
    """A playtest as its seat sees it. `outdated` are the cards (ids) that have been edited since it began."""

    id: str
    deck: str
    deck_name: str
    seed: int
    taken: int
    asked: str
    options: tuple[Option, ...]
    view: TableView
    log: tuple[LogLine, ...]
    titles: dict[str, str]
    outdated: tuple[str, ...]


class Matches:
    """Matches in memory by playtest id; one that is not there is replayed."""

    def __init__(self) -> None:
        self._matches: OrderedDict[str, Match] = OrderedDict()
        self.lock = RLock()

    def get(self, record: PlaytestRecord) -> Match:
        match = self._matches.get(record.id)
        if match is None or [tuple(each) for each in match.decisions] != [
            tuple(each) for each in record.decisions
        ]:
            match = _replayed(record)
        self._matches[record.id] = match
        self._matches.move_to_end(record.id)
        while len(self._matches) > MOST_KEPT:
            self._matches.popitem(last=False)
        return match


MATCHES = Matches()


def begin(
    desk: Desk, game_id: str, deck_id: str, seed: int | None = None, key: Key | None = None
) -> Playtest:
    """Shuffles a deck and draws the opening hand. Without a seed one is thrown. Raises Refused for an empty deck."""
    done = desk.store.playtest_with_key(key, game_id) if key else None
    if done is not None:
        return playtest(desk, game_id, done.id)
    game = desk.game(game_id)
    deck = deck_in(game, deck_id)
    counts = {ident: count for ident, count in deck.cards.items() if ident in game.cards}
    if not counts:
        raise Refused(
            Problem(where="deck", what=f"{deck.name} has no cards", mend="add cards to it in Decks")
        )
    seed = secrets.randbelow(1_000_000) if seed is None else seed
    if not 0 <= seed <= LARGEST_SEED:
        raise Refused(
            Problem(
                where="seed",
                what="the seed is out of bounds",
                mend=f"write a whole number from 0 to {LARGEST_SEED}",
            )
        )
    program = {
        "rulebook": game.rulebook.model_dump(mode="json"),
        "cards": [_written(game.cards[ident]) for ident in sorted(counts)],
        "deck": counts,
    }
    record = PlaytestRecord(
        new_id("p"),
        game_id,
        deck_id,
        deck.name,
        seed,
        json.dumps(program, ensure_ascii=False),
        (),
        datetime.now(UTC).isoformat(timespec="milliseconds"),
        key,
    )
    with MATCHES.lock:
        try:
            MATCHES.get(record)
        except ValueError as error:
            raise Refused(Problem(where="deck", what=str(error), mend="remove cards from it")) from error
        desk.store.save_playtest(record)
        return _shown(desk, record)


def playtest(desk: Desk, game_id: str, ident: str) -> Playtest:
    """Raises Missing, and Refused where it can no longer be replayed."""
    with MATCHES.lock:
        return _shown(desk, _record(desk, game_id, ident))


def decide(
    desk: Desk, game_id: str, ident: str, option: Option, taken: int, key: Key | None = None
) -> Playtest:
    """Takes one option. `taken` is how many decisions the page has seen: another page may have moved the game on."""
    with MATCHES.lock:
        record = _record(desk, game_id, ident)
        if _is_done(desk, record, key):
            return _shown(desk, record)
        _in_step(record, taken)
        match = _match(record)
        try:
            match.decide(option)
        except NotAnOption as error:
            raise Refused(
                Problem(where="decision", what=str(error), mend="choose one of the options shown")
            ) from error
        return _saved(desk, record, tuple((each.do, each.card) for each in match.decisions), key)


def take_back(desk: Desk, game_id: str, ident: str, taken: int, key: Key | None = None) -> Playtest:
    """Undoes the last decision: the game is replayed without it."""
    with MATCHES.lock:
        record = _record(desk, game_id, ident)
        if _is_done(desk, record, key):
            return _shown(desk, record)
        _in_step(record, taken)
        if not record.decisions:
            raise Refused(
                Problem(where="undo", what="nothing has been decided yet", mend="play something first")
            )
        return _saved(desk, record, record.decisions[:-1], key)


def _is_done(desk: Desk, record: PlaytestRecord, key: Key | None) -> bool:
    """Whether this very request was answered before. Raises KeyReused for the key of another."""
    done = desk.store.playtest_with_key(key, record.game) if key else None
    if done is not None and done.id != record.id:
        raise KeyReused(done.id)
    return done is not None


def recent(desk: Desk, game_id: str) -> list[PlaytestRecord]:
    return desk.store.playtests(game_id)


def _saved(
    desk: Desk, record: PlaytestRecord, decisions: tuple[tuple[str, int], ...], key: Key | None
) -> Playtest:
    moved = replace(record, decisions=decisions, key=key)
    desk.store.save_playtest(moved)
    return _shown(desk, moved)


def _in_step(record: PlaytestRecord, taken: int) -> None:
    if taken != len(record.decisions):
        raise Conflict(
            "this game was moved on from another page",
            f"{len(record.decisions)} decisions",
            f"{taken} decisions",
            len(record.decisions),
        )


def _match(record: PlaytestRecord) -> Match:
    """The match as far as it was decided. Raises Refused where the decisions no longer fit the cards and rules that it keeps."""
    try:
        return MATCHES.get(record)
    except (NotAnOption, ValueError, LookupError, TypeError) as error:
        what = f"this game can no longer be replayed: {str(error)[:160]}"
        raise Refused(
            Problem(where="playtest", what=what, mend="begin a new one with the same deck and seed")
        ) from error


def _record(desk: Desk, game_id: str, ident: str) -> PlaytestRecord:
    record = desk.store.playtest(ident)
    if record is None or record.game != game_id:
        raise Missing("there is no such playtest")
    return record


def _written(card: Card) -> dict[str, object]:
    values = {name: write_value(value) for name, value in card.values.items()}
    return {
        "id": card.id,
        "code": card.code,
        "set": card.set,
        "type": card.type,
        "values": values,
        "revision": card.revision,
    }


def _replayed(record: PlaytestRecord) -> Match:
    stored = json.loads(record.program)
    cards = [
        Card(
            each["id"],
            each["code"],
            each["set"],
            each["type"],
            read_values(json.dumps(each["values"])),
            each["revision"],
        )
        for each in stored["cards"]
    ]
    program = compile_program(Rulebook.model_validate(stored["rulebook"]), cards)
    return replay(program, stored["deck"], record.seed, [Option(do, card) for do, card in record.decisions])


def _shown(desk: Desk, record: PlaytestRecord) -> Playtest:
    match = _match(record)
    now = desk.game(record.game).cards
    program = match.program
    name = program.rulebook.roles.name
    titles = {card.id: card.text(name) or card.code for card in program.cards}
    outdated = tuple(
        card.id for card in program.cards if card.id not in now or now[card.id].values != card.values
    )
    return Playtest(
        record.id, record.deck, record.deck_name, record.seed, len(record.decisions), match.asked, match.options,
        view(match), tuple(told(match)), titles, outdated,
    )  # fmt: skip
