"""A playtest as one seat sees it: table, log, options, titles and texts."""

from __future__ import annotations

from dataclasses import dataclass, field

from dramok.core.engine import LogLine, Match, Option, TableView, told, view
from dramok.core.engine.kernel.codes import E_PLAYED
from dramok.core.engine.match import BY_HAND
from dramok.core.engine.option_text import asker, asking_card, option_words
from dramok.core.engine.view import score_sheet, seen_options
from dramok.services.play.card_text import CardWords
from dramok.services.play.matches import PERSON, CachedMatch, known_player, stored_players
from dramok.services.workspace.workspace import Workspace
from dramok.store import PlaytestRecord


@dataclass(frozen=True)
class Playtest:
    """A playtest as the person's seat sees it.

    `outdated`: ids of cards edited since it began; `rival`: the name of the deck across the table; `broken`:
    from where a stored game can't be replayed; `notes`: parts of cards that do not play.
    """

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
    seat: int = 0
    rival: str = ""
    rival_deck: str = ""
    player: str = ""
    broken: str = ""
    notes: tuple[str, ...] = ()
    asking: str = ""
    choices: tuple[str, ...] = ()
    """`asking`: the card whose effect asks; `choices`: what each option does, in words."""
    words: dict[str, CardWords] = field(default_factory=dict)
    players: tuple[str, ...] = ()
    whose: int = 0
    at: int = -1
    name: str = ""
    sat: tuple[str, ...] = ()
    unplayed: tuple[str, ...] = ()
    hands_free: bool = False
    unwritten: tuple[str, ...] = ()
    asker: int = -1
    scores: tuple[dict[str, int], ...] = ()
    counters: dict[str, str] = field(default_factory=dict)
    actions: tuple[int, ...] = ()
    """`scores`: the lines of the score sheet for each seat, empty before the end; `counters`: their names by id;
    `actions`: the numbers at the table of the actions of the rules that the seat can take, one for each such option.

    `words`: the text of each card that the seat may know, by id; `players` by seat; `whose` seat decides;
    `at`: the number of decisions at the shown moment, -1 for all; `name` of a branch.

    After the match: card ids `sat` in hand at its end, and `unplayed` ones, drawn but never played.
    `hands_free`: manual moves are possible now; `unwritten`: ids of cards played since the person's last
    decision that need manual resolution; `asker`: the card on the table that asks for a decision of this seat,
    or -1.
    """


def seen_from(held: CachedMatch) -> int:
    """The seat whose view is shown: the person's; with several persons, that of the one to move."""
    players, match = stored_players(held.stored), held.match
    if players.count(PERSON) > 1 and match.asked != "over" and players[match.seat] == PERSON:
        return match.seat
    return min(int(held.stored.get("seat", 0)), match.program.seats - 1)


def shown(workspace: Workspace, record: PlaytestRecord, held: CachedMatch, seat: int | None = None) -> Playtest:
    """A stored match as a seat sees it; None: the seat of `seen_from`."""
    match = held.match
    seat = seen_from(held) if seat is None else seat
    now = workspace.game(record.game).cards
    program = match.program
    name = program.rulebook.roles.name
    players = tuple(stored_players(held.stored))
    options = seen_options(match, seat) if not held.broken and players[match.seat] == PERSON else ()
    sat, unplayed = _summed(match, seat) if match.asked == "over" else ((), ())
    # Between automatic players there is no "you", and nothing is hidden.
    watched = PERSON not in players
    seen, log = view(match, seat, watched), tuple(told(match, None if watched or program.seats < 2 else seat))
    known = {*match.decks[seat], *_in_view(seen), *(line.card for line in log if line.card)}
    titles = {card.id: card.text(name) or card.code for card in program.cards if card.id in known}
    outdated = tuple(
        card.id for card in program.cards if card.id in known and (card.id not in now or now[card.id].values != card.values)
    )
    return Playtest(
        record.id, record.deck, record.deck_name, record.seed, len(record.decisions), "broken" if held.broken else match.asked, options,
        seen, log, titles, outdated, seat, held.stored.get("rival", ""), held.stored.get("rival_deck", ""),
        known_player(held.stored["player"]) if held.stored.get("player") else "", held.broken, tuple(f"{each.where}: {each.what}" for each in program.notes if match.asked == "over" or each.where in titles.values()), *_asking(match, options),
        {ident: held.words[ident] for ident in titles}, players, match.seat, -1, str(held.stored.get("name", "")), sat, unplayed,
        bool(options) and match.hands_free, _unwritten(held), asker(match) if options else -1,
        score_sheet(match), {each.id: each.name for each in program.rulebook.played.counters},
        tuple(option.card for option in options if option.card >= 0 and match.is_action(option.card)),
    )  # fmt: skip


def _unwritten(held: CachedMatch) -> tuple[str, ...]:
    """Ids of cards played since the person's last decision with text that the engine does not carry out."""
    match, players = held.match, stored_players(held.stored)
    before = len(match.decisions)
    for number in reversed(range(before)):
        before = number
        if players[match.whose[number]] == PERSON and not match.decisions[number].do.startswith(BY_HAND):
            break
    first = match.ends[before] if match.decisions else 0
    played = [match.program.cards[match.state.cdef[card]].id for kind, _, card, _, _ in match.events[first:] if kind == E_PLAYED]
    return tuple(dict.fromkeys(each for each in played if not held.words[each].written))


def _in_view(seen: TableView) -> set[str]:
    """The ids of cards visible in a view."""
    zones = [zone for seat in seen.seats for zone in seat.zones] + list(seen.shared)
    open_cards = [each for zone in zones for each in zone.cards or ()]
    return {each.card for each in (*open_cards, *seen.looked, *seen.resolving, *seen.hand)} | seen.left.keys()


def _asking(match: Match, options: tuple[Option, ...]) -> tuple[str, tuple[str, ...]]:
    """The name of the card whose effect asks, and the text of each option that is not a card: see
    `Playtest.choices`.
    """
    return asking_card(match), tuple(option_words(match, option) for option in options)


def _summed(match: Match, seat: int) -> tuple[tuple[str, ...], tuple[str, ...]]:
    """Cards in hand at the end, and cards that were drawn without any copy being played."""
    s, cards = match.state, match.program.cards
    mine = [card for card in range(s.cards) if s.owner[card] == seat and not s.token[card]]
    played = {s.cdef[card] for card in mine if s.played[card]}
    drawn = {s.cdef[card] for card in mine if s.drawn[card]}
    return tuple(dict.fromkeys(match.dealt(seat)[0])), tuple(cards[each].id for each in sorted(drawn - played))
