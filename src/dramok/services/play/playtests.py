"""Playtests: matches stored as seed and decisions, with the cards and rules as they were at the start.

A person has one seat; automatic players have the others, and their decisions are stored in the same way. What a
seat sees of one is in `playtest_view`.
"""

from __future__ import annotations

import json
import secrets
from collections import Counter
from collections.abc import Mapping
from dataclasses import dataclass, replace
from datetime import UTC, datetime
from typing import Any

from dramok.core.automatic_players import PLAYERS
from dramok.core.engine import (
    ENGINE,
    ByHand,
    Match,
    NotAnOption,
    Option,
    compile_program,
    needed,
    option_of,
)
from dramok.core.engine.view import sees
from dramok.core.problem import Problem
from dramok.formats.game_file import sound_program
from dramok.services.play.matches import (
    MATCHES,
    PERSON,
    CachedMatch,
    card_document,
    replayed,
    stored_players,
)
from dramok.services.play.playtest_decks import PlaytestDeck, common_deck, deck_with, named_deck, seed_with
from dramok.services.play.playtest_view import Playtest, seen_from, shown
from dramok.services.play.simulation import playable, seated
from dramok.services.workspace.ids import new_id
from dramok.services.workspace.snapshot import GameSnapshot
from dramok.services.workspace.workspace import Conflict, Missing, Refused, Workspace
from dramok.store import Key, KeyReused, PlaytestRecord

MOST_NAME = 60
LARGEST_SEED = 2**53 - 1
MOST_AUTOMATIC = 4_000
"""The largest number of decisions that automatic players take before the person is asked."""


@dataclass(frozen=True)
class Against:
    """The other seats: the deck (id; empty: the same deck), an automatic player or a second person, and whether
    the person goes second. `mine`: an automatic player for the person's own seat; the person then watches.
    `seats`: 0 for the usual number; `players`: who has each other seat, in the order of play; else all are `player`.
    """

    deck: str = ""
    player: str = "plain"
    second: bool = False
    mine: str = PERSON
    seats: int = 0
    players: tuple[str, ...] = ()


ALONE = Against()


def begin(
    workspace: Workspace, game_id: str, deck_id: str = "", seed: int | None = None, key: Key | None = None, against: Against = ALONE, card: str = ""
) -> Playtest:
    """Shuffle the decks and play until the person must decide.

    Without a seed a random one is used; without a deck it is that with which everyone begins, or one is chosen or
    built. `card` (an id) is put in the
    deck and, unless a seed is given, in the opening hand. Raises Refused if the game can't be played.
    """
    done = workspace.store.playtest_with_key(key, game_id) if key else None
    if done is not None:
        return playtest(workspace, game_id, done.id)
    game = workspace.game(game_id)
    playable(game)
    common = None if deck_id else common_deck(game)
    mine = (common and common_deck(game, card)) or deck_with(game, deck_id, card)
    other = named_deck(game, against.deck) if against.deck and game.rulebook.played.greatest > 1 else common or mine
    return _begun(workspace, game, mine, other, seed, key, against, card)


def again(workspace: Workspace, game_id: str, ident: str, seed: int | None = None, key: Key | None = None) -> Playtest:
    """Start a playtest again with the same decks and players and the current cards and rules.

    Without a seed, a new one is used.
    """
    done = workspace.store.playtest_with_key(key, game_id) if key else None
    if done is not None:
        return playtest(workspace, game_id, done.id)
    game, record = workspace.game(game_id), _record(workspace, game_id, ident)
    playable(game)
    stored = json.loads(record.program)
    seat, players = int(stored.get("seat", 0)), stored_players(stored)
    decks = [{card: count for card, count in _counted(deck).items() if card in game.cards} for deck in stored.get("decks") or [stored["deck"]]]
    if not all(decks):
        raise Refused(Problem(where="deck", what="none of its cards are there any more", mend="choose another deck"))
    mine = _now(game, PlaytestDeck(record.deck, record.deck_name, decks[min(seat, len(decks) - 1)]))
    rival = next((each for place, each in enumerate(players) if place != seat), "plain")
    others = _now(game, PlaytestDeck(stored.get("rival_deck", ""), stored.get("rival", "") or record.deck_name, decks[(seat + 1) % len(decks)]))
    rest = tuple(players[(seat + step) % len(players)] for step in range(1, len(decks)))
    # A number of seats that the rules no longer allow becomes the usual one.
    seats = len(decks) if game.rulebook.played.fewest <= len(decks) <= game.rulebook.played.greatest else 0
    against = Against(others.id, rival, seat > 0, players[min(seat, len(players) - 1)], seats, rest)
    return _begun(workspace, game, mine, others, seed, key, against, "")


def _now(game: GameSnapshot, deck: PlaytestDeck) -> PlaytestDeck:
    """The current state of a stored deck; a deck built for the match stays as it was."""
    held = game.decks.get(deck.id)
    return named_deck(game, deck.id) if held is not None and held.name == deck.name and any(card in game.cards for card in held.cards) else deck


def _counted(deck: Mapping[str, int] | list[str]) -> Mapping[str, int]:
    return deck if isinstance(deck, Mapping) else Counter(deck)


def _begun(
    workspace: Workspace, game: GameSnapshot, mine: PlaytestDeck, other: PlaytestDeck, seed: int | None, key: Key | None, against: Against, card: str
) -> Playtest:  # fmt: skip
    rulebook = seated(game.rulebook, against.seats)
    seats = rulebook.played.seats
    for player in (against.player, against.mine, *against.players):
        if player not in (*PLAYERS, PERSON):
            raise Refused(Problem(where="player", what=f"there is no automatic player {player[:40]}", mend=f"choose {', '.join(PLAYERS)}, or {PERSON}"))
    seat = 1 if against.second and seats > 1 else 0
    decks = [dict(mine.cards if each == seat else other.cards) for each in range(seats)]
    if seed is not None and not 0 <= seed <= LARGEST_SEED:
        mend = f"write a whole number from 0 to {LARGEST_SEED}"
        raise Refused(Problem(where="seed", what="the seed is out of bounds", mend=mend))
    ids = needed(rulebook, game.cards, [ident for each in decks for ident in each])
    others = [*against.players, *[against.player] * seats]
    players = [against.mine if each == seat else others[(each - seat - 1) % seats] for each in range(seats)]
    program = {
        "engine": ENGINE,
        "rulebook": rulebook.model_dump(mode="json"),
        "cards": [card_document(game.cards[ident]) for ident in ids],
        "decks": decks,
        "seat": seat,
        "players": players,
        "player": against.player if seats > 1 else "",
        "rival_deck": other.id if seats > 1 and against.deck else "",
        "rival": other.name if seats > 1 else "",
    }
    try:
        if seed is None and card:
            seed = seed_with(compile_program(rulebook, [game.cards[ident] for ident in ids]), decks, seat, card)
        record = PlaytestRecord(
            new_id("p"), game.id, mine.id, mine.name, secrets.randbelow(1_000_000) if seed is None else seed,
            sound_program(json.dumps(program, ensure_ascii=False)), (), datetime.now(UTC).isoformat(timespec="milliseconds"), key,
        )  # fmt: skip
        with MATCHES.lock:
            held = MATCHES.get(record)
            _go_on(held)
            record = replace(record, decisions=_taken(held.match))
            workspace.store.save_playtest(record)
            return _shown(workspace, record)
    except ValueError as error:
        raise Refused(Problem(where="deck", what=str(error), mend="remove cards from it")) from error


def playtest(workspace: Workspace, game_id: str, ident: str, at: int = -1) -> Playtest:
    """A playtest, at the moment after `at` decisions. Raises Missing, and Refused if nothing of it can be replayed."""
    with MATCHES.lock:
        record = _record(workspace, game_id, ident)
        if not 0 <= at < len(record.decisions):
            return _shown(workspace, record)
        earlier = replace(record, decisions=record.decisions[:at])
        # When two people share one screen, a review must not show cards that the current view hides.
        held = _held(record)
        return replace(shown(workspace, earlier, replayed(earlier, held), seen_from(held)), at=at, taken=len(record.decisions), options=(), choices=())


def branch(workspace: Workspace, game_id: str, ident: str, at: int, name: str, key: Key | None = None) -> Playtest:
    """Start a new match that continues from the moment after a number of decisions; the original is unchanged."""
    done = workspace.store.playtest_with_key(key, game_id) if key else None
    if done is not None:
        return playtest(workspace, game_id, done.id)
    with MATCHES.lock:
        record = _record(workspace, game_id, ident)
        if not 0 <= at <= len(record.decisions):
            raise Refused(Problem(where="moment", what=f"this game has {len(record.decisions)} decisions", mend="branch from one of them"))
        program = {**json.loads(record.program), "name": " ".join(name.split())[:MOST_NAME] or f"from decision {at}"}
        made = replace(
            record, id=new_id("p"), decisions=record.decisions[:at], program=sound_program(json.dumps(program, ensure_ascii=False)), key=key,
            at=datetime.now(UTC).isoformat(timespec="milliseconds"),
        )  # fmt: skip
        held = _held(made)
        _go_on(held)
        made = replace(made, decisions=_taken(held.match))
        workspace.store.save_playtest(made)
        return _shown(workspace, made)


def step(workspace: Workspace, game_id: str, ident: str, taken: int, key: Key | None = None) -> Playtest:
    """Take one decision of the automatic player to move, in a match that is watched."""
    with MATCHES.lock:
        record = _record(workspace, game_id, ident)
        if _is_done(workspace, record, key):
            return _shown(workspace, record)
        _in_step(record, taken)
        held = _held(record)
        player = _player(held)
        if player == PERSON or held.broken or held.match.asked == "over":
            raise Refused(Problem(where="decision", what="no automatic player is to decide", mend="decide yourself, or start another match"))
        held.match.take(held.match.choose(player))
        return _saved(workspace, record, _taken(held.match), key)


def decide(
    workspace: Workspace, game_id: str, ident: str, option: Option, taken: int, key: Key | None = None
) -> Playtest:
    """Take one option of the person's seat; then the automatic players continue.

    `taken` is the number of decisions that the page has seen: another page may have moved the game on.
    """
    with MATCHES.lock:
        record = _record(workspace, game_id, ident)
        if _is_done(workspace, record, key):
            return _shown(workspace, record)
        _in_step(record, taken)
        held = _held(record)
        _is_mine(held)
        try:
            held.match.decide(option)
        except NotAnOption as error:
            raise Refused(
                Problem(where="decision", what=str(error), mend="choose one of the options shown")
            ) from error
        _go_on(held)
        return _saved(workspace, record, _taken(held.match), key)


def by_hand(workspace: Workspace, game_id: str, ident: str, hand: ByHand, taken: int, key: Key | None = None) -> Playtest:
    """Make a manual move for text without written behaviour; the log marks it.

    The card must be visible to the person.
    """
    with MATCHES.lock:
        record = _record(workspace, game_id, ident)
        if _is_done(workspace, record, key):
            return _shown(workspace, record)
        _in_step(record, taken)
        held = _held(record)
        _is_mine(held)
        match = held.match
        try:
            option = option_of(match.program, hand)
            if option.card >= 0 and hand.do != "total" and not sees(match, match.seat, option.card):
                raise NotAnOption("that card can't be seen from your seat: look through the pile first")
            match.decide(option)
        except NotAnOption as error:
            mend = "move something else" if match.hands_free else "finish the open choice first"
            raise Refused(Problem(where="by hand", what=str(error), mend=mend)) from error
        _go_on(held)
        return _saved(workspace, record, _taken(match), key)


def _is_mine(held: CachedMatch) -> None:
    """Raises Refused if no person has a decision to take."""
    if held.broken:
        raise Refused(Problem(where="decision", what=held.broken, mend="undo to where it holds, or start it again"))
    if _player(held) != PERSON:
        raise Refused(Problem(where="decision", what="it is not your seat that decides", mend="wait for the other seat"))


def take_back(workspace: Workspace, game_id: str, ident: str, taken: int, key: Key | None = None) -> Playtest:
    """Undo the person's last decision and all decisions after it: the game is replayed without them."""
    with MATCHES.lock:
        record = _record(workspace, game_id, ident)
        if _is_done(workspace, record, key):
            return _shown(workspace, record)
        _in_step(record, taken)
        held = _held(record)
        if held.broken:
            return _saved(workspace, record, _taken(held.match), key)
        players = stored_players(held.stored)
        watched = PERSON not in players
        mine = [number for number, seat in enumerate(held.match.whose) if watched or players[seat] == PERSON]
        if not mine:
            raise Refused(
                Problem(where="undo", what="nothing has been decided yet", mend="play something first")
            )
        return _saved(workspace, record, record.decisions[: mine[-1]], key)


def _go_on(held: CachedMatch) -> None:
    """Let automatic players decide until it is the person's turn or the match is over."""
    match = held.match
    if PERSON not in stored_players(held.stored):
        return
    for _ in range(MOST_AUTOMATIC):
        if match.asked == "over" or _player(held) == PERSON:
            return
        match.take(match.choose(_player(held)))


def _player(held: CachedMatch) -> str:
    return stored_players(held.stored)[held.match.seat]


def _taken(match: Match) -> tuple[tuple[str, int, int], ...]:
    return tuple((each.do, each.card, each.other) for each in match.decisions)


def _is_done(workspace: Workspace, record: PlaytestRecord, key: Key | None) -> bool:
    """Whether this request was already carried out. Raises KeyReused for the key of another request."""
    done = workspace.store.playtest_with_key(key, record.game) if key else None
    if done is not None and done.id != record.id:
        raise KeyReused(done.id)
    return done is not None


def recent(workspace: Workspace, game_id: str, most: int = 20) -> list[tuple[PlaytestRecord, str, str]]:
    """The latest matches, each with its branch name and the rival's deck."""
    found = []
    for record in workspace.store.playtests(game_id, most):
        stored = json.loads(record.program)
        found.append((record, str(stored.get("name", "")), str(stored.get("rival", ""))))
    return found


def _saved(
    workspace: Workspace, record: PlaytestRecord, decisions: tuple[tuple[Any, ...], ...], key: Key | None
) -> Playtest:
    moved = replace(record, decisions=decisions, key=key)
    workspace.store.save_playtest(moved)
    return _shown(workspace, moved)


def _in_step(record: PlaytestRecord, taken: int) -> None:
    if taken != len(record.decisions):
        raise Conflict(
            "this game was moved on from another page",
            f"{len(record.decisions)} decisions",
            f"{taken} decisions",
            len(record.decisions),
        )


def _held(record: PlaytestRecord) -> CachedMatch:
    """The match replayed as far as possible. Raises Refused if it can't begin."""
    try:
        return MATCHES.get(record)
    except (ValueError, LookupError, TypeError) as error:
        what = f"this game can no longer be replayed: {str(error)[:160]}"
        raise Refused(
            Problem(where="playtest", what=what, mend="start a new one with the same deck and seed")
        ) from error


def _record(workspace: Workspace, game_id: str, ident: str) -> PlaytestRecord:
    record = workspace.store.playtest(ident)
    if record is None or record.game != game_id:
        raise Missing("there is no such playtest")
    return record


def _shown(workspace: Workspace, record: PlaytestRecord) -> Playtest:
    return shown(workspace, record, _held(record))
