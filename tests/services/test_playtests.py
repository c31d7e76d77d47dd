"""Matches as they are kept: with a card in hand, between people, watched, looked back at, branched, played again; rules of play looked at."""

from __future__ import annotations

import dataclasses
import json
from pathlib import Path
from random import Random

import pytest

from dramok.core.engine import ByHand, Option
from dramok.core.rulebook import PlayRules
from dramok.services import Refused
from dramok.services.cards.card_edits import edit_field, retire_cards
from dramok.services.cards.notes import Pinned, add_note
from dramok.services.cards.search import find
from dramok.services.decks.edits import retire_deck
from dramok.services.files.archive import archive, restore_game
from dramok.services.history.history import journal
from dramok.services.output.rules_pages import rules_pages
from dramok.services.play.game_processes import Running
from dramok.services.play.matches import MATCHES
from dramok.services.play.play_preview import how_it_ends, look_at_play, read
from dramok.services.play.playtests import (
    Against,
    again,
    begin,
    branch,
    by_hand,
    decide,
    playtest,
    recent,
    step,
    take_back,
)
from dramok.services.play.simulation import SimulationAsked, simulate
from dramok.services.rules.rule_parts import PLAY_SAID, write_rules
from dramok.services.workspace.workspace import Conflict, Missing
from tests.conftest import SEED

GAME = "ribbon-season"
GOLDEN = Path(__file__).parent / "golden"


def deck(desk, name="Fern over Moss") -> str:
    return next(each.id for each in desk.game(GAME).decks.values() if each.name == name)


def card(desk, code: str) -> str:
    return next(each.id for each in desk.game(GAME).cards.values() if each.code == code)


def chance(desk, table, dice: Random, decisions: int):
    """Decides so often by chance for whoever is a person, or watches so many steps."""
    for _ in range(decisions):
        if table.asked == "over":
            break
        if "person" in table.players:
            table = decide(desk, GAME, table.id, dice.choice(table.options), table.taken)
        else:
            table = step(desk, GAME, table.id, table.taken)
    return table


@pytest.mark.parametrize("code", ["RS-001", "RS-072", "RS-016"])
def test_from_a_card_to_a_match_with_it_in_hand(desk, code):
    ident = card(desk, code)
    table = begin(desk, GAME, card=ident)
    assert ident in [each.card for each in table.view.hand]
    named = begin(desk, GAME, deck(desk), card=ident)
    assert ident in [each.card for each in named.view.hand] and named.deck_name.startswith("Fern over Moss")
    assert ident not in desk.game(GAME).decks[deck(desk)].cards or named.deck_name == "Fern over Moss"
    # The seed that was found gives the same hand again.
    assert [each.card for each in again(desk, GAME, table.id, table.seed).view.hand] == [each.card for each in table.view.hand]
    with pytest.raises(Missing, match="has no card"):
        begin(desk, GAME, card="nowhere")


def test_without_decks_one_is_made(desk):
    for each in list(desk.game(GAME).decks.values()):
        retire_deck(desk, GAME, each.id, "page")
    table = begin(desk, GAME, card=card(desk, "RS-002"))
    assert table.deck == "" and table.deck_name == "A deck made for Ladder Frond" and card(desk, "RS-002") in [each.card for each in table.view.hand]
    once_more = again(desk, GAME, table.id)
    assert once_more.deck_name == table.deck_name and once_more.id != table.id


def test_two_people_each_see_their_own_view_alone(desk):
    dice = Random(f"two {SEED}")
    table = begin(desk, GAME, deck(desk), 5, against=Against(deck(desk, "Hooks and Ribbons"), "person"))
    seats = set()
    for _ in range(60):
        if table.asked == "over":
            break
        assert table.seat == table.whose == table.view.seats[0].seat
        seats.add(table.seat)
        other = table.view.seats[1]
        assert next(zone for zone in other.zones if zone.zone == "hand").cards is None
        hidden = {each.card for each in table.view.hand}
        seen = json.dumps(dataclasses.asdict(table), default=str)
        assert all(f'"{ident}"' in seen for ident in hidden)
        # Looking back shows this seat's view, whoever decided then.
        if table.taken > 2:
            assert playtest(desk, GAME, table.id, table.taken - 2).view.seats[0].seat == table.seat
        table = decide(desk, GAME, table.id, dice.choice(table.options), table.taken)
    assert seats == {0, 1}


def test_what_the_page_gets_names_no_card_of_the_other_hand_or_pile(desk):
    """The whole answer in bytes, over a match against an automatic player with cards that only it has."""
    dice = Random(f"bytes {SEED}")
    table = begin(desk, GAME, deck(desk), dice.randrange(10**6), against=Against(deck(desk, "Hooks and Ribbons"), "plain"))
    theirs = set(desk.game(GAME).decks[deck(desk, "Hooks and Ribbons")].cards) - set(desk.game(GAME).decks[deck(desk)].cards)
    assert theirs
    for _ in range(25):
        told = dataclasses.asdict(table)
        seen = json.dumps(told, default=str)
        shown = {each.card for zone in table.view.seats[1].zones for each in zone.cards or ()} | {line.card for line in table.log}
        assert not [ident for ident in theirs - shown if f'"{ident}"' in seen], f"seed {SEED}"
        if table.asked == "over":
            break
        table = decide(desk, GAME, table.id, dice.choice(table.options), table.taken)


def test_a_watched_match_goes_step_by_step_to_its_end(desk):
    table = begin(desk, GAME, deck(desk), 8, against=Against("", "plain", mine="ahead"))
    assert table.taken == 0 and table.options == () and table.players == ("ahead", "plain")
    assert step(desk, GAME, table.id, 0).taken == 1
    # To its end by those who decide sooner.
    table = begin(desk, GAME, deck(desk), 8, against=Against("", "random", mine="plain"))
    with pytest.raises(Refused, match="not your seat"):
        decide(desk, GAME, table.id, Option("done"), 0)
    first = step(desk, GAME, table.id, 0)
    assert first.taken == 1
    with pytest.raises(Conflict):
        step(desk, GAME, table.id, 0)
    assert take_back(desk, GAME, table.id, 1).taken == 0
    table = chance(desk, playtest(desk, GAME, table.id), Random(1), 600)
    assert table.asked == "over" and table.view.winner in (0, 1, -2)
    with pytest.raises(Refused, match="no automatic player is to decide"):
        step(desk, GAME, table.id, table.taken)


def test_any_moment_is_shown_and_a_branch_goes_on_from_it(desk):
    dice = Random(f"branch {SEED}")
    table = begin(desk, GAME, deck(desk), dice.randrange(10**6))
    views = {table.taken: table.view}
    for _ in range(12):
        if table.asked == "over":
            break
        table = decide(desk, GAME, table.id, dice.choice(table.options), table.taken)
        views[table.taken] = table.view
    for at, stood in views.items():
        past = playtest(desk, GAME, table.id, at)
        assert past.view == stood and past.taken == table.taken and (past.at == at or at == table.taken)
        assert at == table.taken or past.options == ()
    at = sorted(views)[len(views) // 2]
    made = branch(desk, GAME, table.id, at, "  had I   kept it ")
    assert made.name == "had I kept it" and made.view == views[at] and made.taken == at and made.id != table.id
    assert playtest(desk, GAME, table.id).taken == table.taken, "the first one stays"
    assert {(each.id, name) for each, name, _ in recent(desk, GAME)} >= {(made.id, "had I kept it"), (table.id, "")}
    with pytest.raises(Refused, match="this game has"):
        branch(desk, GAME, table.id, table.taken + 1, "")


def test_every_kind_of_match_comes_back_whole_from_a_backup(desk):
    """Against a player, watched, between two people, a branch under a name: what is kept of each is what an archive holds."""
    dice = Random(f"{SEED} backup")
    tables = [
        chance(desk, begin(desk, GAME, deck(desk), 5, against=each), dice, 4)
        for each in (Against(), Against(player="ahead", second=True), Against(player="person"), Against(mine="plain"))
    ]
    tables.append(branch(desk, GAME, tables[0].id, 2, "had I waited"))
    tables.append(again(desk, GAME, tables[1].id, 9))
    back = restore_game(desk, archive(desk, desk.game(GAME), shared=False)).id
    assert back != GAME

    def kept(game: str):
        """Of each match what it is called and how it went; ids are new in a game that comes back beside itself."""
        found = [(name, rival, playtest(desk, game, record.id)) for record, name, rival in recent(desk, game)]
        return sorted((name, rival, table.seed, table.players, table.taken, [line.text for line in table.log]) for name, rival, table in found)

    assert kept(back) == kept(GAME) and len(kept(GAME)) == len(tables) and kept(back)[-1][0] == "had I waited"


def prose(desk, code: str) -> str:
    """A card whose words are printed only."""
    ident = card(desk, code)
    for field, typed in (("effect", ""), ("printed", "Take the judge out for tea.")):
        if desk.game(GAME).cards[ident].values.get(field, "") != typed:
            edit_field(desk, GAME, ident, field, typed, desk.game(GAME).cards[ident].revision, "one")
    return ident


def test_a_card_without_behaviour_says_so_and_is_resolved_by_hand(desk):
    ident = prose(desk, "RS-001")
    # Across the table lies a deck without it: nobody else plays one.
    table = begin(desk, GAME, deck(desk), against=Against(deck(desk, "Hooks and Ribbons")), card=ident)
    assert not table.hands_free and table.unwritten == () and not table.words[ident].written
    for _ in range(40):
        play = next((each for each in table.options if each.do == "play" and held(table, each.card) == ident), None)
        if play is not None:
            break
        table = decide(desk, GAME, table.id, next(each for each in table.options if each.do in ("end turn", "done", "keep", "discard")), table.taken)
    assert play is not None and table.hands_free
    table = decide(desk, GAME, table.id, play, table.taken)
    assert table.unwritten == (ident,) and table.seat == 0
    before = table.view.resources["ribbon"]
    table = by_hand(desk, GAME, table.id, ByHand("total", what="ribbon", number=before + 2), table.taken)
    # It is still to be resolved: something else may follow. The next decision of another kind ends that.
    assert table.view.resources["ribbon"] == before + 2 and table.unwritten == (ident,)
    assert table.log[-1].text.startswith("By hand: You: ") and table.log[-1].decision == table.taken
    undone = take_back(desk, GAME, table.id, table.taken)
    assert undone.view.resources["ribbon"] == before and undone.unwritten == (ident,)
    table = by_hand(desk, GAME, table.id, ByHand("total", what="ribbon", number=before + 1), undone.taken)
    there = playtest(desk, GAME, table.id)
    assert there.view == table.view and there.log == table.log
    table = decide(desk, GAME, table.id, table.options[-1], table.taken)
    assert ident not in table.unwritten
    copy = restore_game(desk, archive(desk, desk.game(GAME), shared=False)).id
    back = playtest(desk, copy, next(record.id for record, _, _ in recent(desk, copy)))
    assert [line.text for line in back.log] == [line.text for line in table.log]


def held(table, instance: int) -> str:
    return next((each.card for each in table.view.hand if each.instance == instance), "")


def test_by_hand_moves_no_card_that_the_seat_does_not_see(desk):
    table = begin(desk, GAME, deck(desk), 5)
    match = MATCHES.get(desk.store.playtest(table.id)).match
    unseen = match.zone(0, 0)[0]
    while not table.hands_free:
        table = decide(desk, GAME, table.id, table.options[0], table.taken)
    for card_of in (unseen, match.zone(1, 1)[0], 9_999):
        with pytest.raises(Refused) as refused:
            by_hand(desk, GAME, table.id, ByHand("move", card_of, "discard"), table.taken)
        assert "can't be seen" in refused.value.problem.what
    table = by_hand(desk, GAME, table.id, ByHand("look", zone="draw"), table.taken)
    assert unseen in {each.instance for each in table.view.looked}
    table = by_hand(desk, GAME, table.id, ByHand("move", unseen, "hand"), table.taken)
    assert unseen in {each.instance for each in table.view.hand}
    with pytest.raises(Conflict):
        by_hand(desk, GAME, table.id, ByHand("look", zone="draw"), 0)


def test_a_note_is_pinned_to_a_card_and_a_moment(desk):
    ident = card(desk, "RS-001")
    table = chance(desk, begin(desk, GAME, deck(desk), 5), Random(f"{SEED} note"), 3)
    _, note = add_note(desk, GAME, ident, "Sat in hand all game.", "one", pinned=Pinned(table.id, 2, table.view.turn))
    game = desk.game(GAME)
    assert {key: game.things[note].doc[key] for key in ("playtest", "moment", "turn")} == {"playtest": table.id, "moment": 2, "turn": table.view.turn}
    assert [each.code for each in find(desk, game, "table notes").cards] == ["RS-001"]
    assert journal(desk, game)[0].op.label.startswith(f"note on {game.title(game.cards[ident])}, at the table in ")
    for moment, of, error in ((99, table.id, Refused), (0, "p-none", Missing)):
        with pytest.raises(error):
            add_note(desk, GAME, ident, "x", "one", pinned=Pinned(of, moment, 1))
    back = desk.game(restore_game(desk, archive(desk, game, shared=False)).id)
    kept = next(each for each in back.of_kind("note") if each.doc["text"] == "Sat in hand all game.")
    assert playtest(desk, back.id, kept.doc["playtest"]).taken == table.taken and kept.doc["moment"] == 2


def test_again_is_played_with_rules_and_cards_as_they_are_now(desk):
    table = begin(desk, GAME, deck(desk), 4)
    assert len(table.view.hand) == 5
    write_rules(desk, GAME, "table", {**desk.game(GAME).rules["table"], "opening_hand": 3}, None, "page")
    assert len(playtest(desk, GAME, table.id).view.hand) == 5, "what is played goes on as it was"
    once_more = again(desk, GAME, table.id, table.seed)
    assert len(once_more.view.hand) == 3 and once_more.seed == table.seed
    assert again(desk, GAME, table.id).id not in {table.id, once_more.id}


def test_a_match_goes_on_when_its_phase_and_zone_are_taken_out_of_the_rules(desk):
    dice = Random(f"gone {SEED}")
    table = chance(desk, begin(desk, GAME, deck(desk), 6), dice, 4)
    retire_cards(desk, GAME, [card(desk, code) for code in ("RS-072", "RS-096")], "page")
    play = desk.game(GAME).rules["play"]
    phases = [{**each, "does": [one for one in each["does"] if one["do"] != "turn over"]} for each in play["phases"] if each["id"] != "dusk"]
    write_rules(desk, GAME, "play", {**play, "zones": [], "set_up": {**play["set_up"], "placed": []}, "phases": phases}, None, "page")
    table = chance(desk, playtest(desk, GAME, table.id), dice, 5)
    assert [zone.name for zone in table.view.shared] == ["Weather glass"]


def test_a_match_that_is_over_says_what_was_never_played(desk):
    table = chance(desk, begin(desk, GAME, deck(desk), 8, against=Against("", "plain", mine="plain")), Random(2), 600)
    assert table.asked == "over"
    held = [each.card for each in table.view.hand]
    assert set(table.sat) == set(held) and not set(table.unplayed) & {each.card for each in table.view.in_play}


def test_half_rules_are_written_told_and_not_played(desk):
    play = desk.game(GAME).rules["play"]
    look = look_at_play(desk.game(GAME), {**play, "goals": []})
    assert look.problem is None and [each.what for each in look.gaps if each.stops] == ["there is no goal: nobody can win the match"]
    write_rules(desk, GAME, "play", {**play, "goals": []}, None, "page")
    for trying in (lambda: begin(desk, GAME, deck(desk)), lambda: simulate(desk.game(GAME), SimulationAsked(10, 1)), lambda: how_it_ends(desk.game(GAME), {**play, "goals": []})):
        with pytest.raises(Refused, match="there is no goal"):
            trying()
    broken = look_at_play(desk.game(GAME), {**play, "seats": 9})
    assert broken.problem is not None and broken.problem.where == "play.seats" and broken.parts
    assert look_at_play(desk.game(GAME), "no rules at all").problem is not None


@pytest.mark.parametrize(
    ("least", "most", "said"), [(36, 36, "A deck has 36 cards, with at most 3 copies of each."), (1, 1, "A deck has 1 card, with at most 3 copies of each."), (1, 40, "A deck has 1 to 40 cards, with at most 3 copies of each.")]
)  # fmt: skip
def test_how_large_decks_are_is_read_with_the_rules(desk, least, most, said):
    kind = {**desk.game(GAME).rules["formats"][0], "least_cards": least, "most_cards": most, "copies": 3}
    if desk.game(GAME).rules["formats"] != [kind]:
        write_rules(desk, GAME, "formats", [kind], None, "page")
    lines = [line for part in read(desk.game(GAME)) for line in part.lines]
    assert said in " ".join(lines)


def test_a_total_that_nothing_gives_is_told_as_a_goal_out_of_reach(desk):
    play, told = desk.game(GAME).rules["play"], "Ribbons decide who wins, and nothing gives any"
    assert told not in [each.what for each in look_at_play(desk.game(GAME), play).gaps]
    pips = [*desk.game(GAME).rules["resources"], {"id": "pip", "name": "Pip", "names": "Pips", "symbol": "score"}]
    write_rules(desk, GAME, "resources", pips, None, "page")
    look = look_at_play(desk.game(GAME), {**play, "goals": [{"kind": "reach", "total": "pip", "number": 3}, {"kind": "most", "total": "pip", "number": 9}]})
    assert [(each.part, each.stops) for each in look.gaps if each.what == "Pips decide who wins, and nothing gives any"] == [("goals", False)], "once"
    given = [*play["phases"], {"id": "eve", "name": "Eve", "does": [{"do": "gain", "resource": "pip", "number": 1}]}]
    look = look_at_play(desk.game(GAME), {**play, "phases": given, "goals": [{"kind": "reach", "total": "pip", "number": 3}]})
    assert not [each for each in look.gaps if "nothing gives any" in each.what]


def test_the_journal_says_which_part_of_the_rules_of_play_was_edited(desk):
    assert set(PLAY_SAID) == set(PlayRules.model_fields)
    play = desk.game(GAME).rules["play"]
    for changed, said in (({"goals": [{"kind": "reach", "total": "ribbon", "number": 9}]}, "goals changed"), ({"tie": "active", "reshuffles": 2}, "how often piles are shuffled again and ties changed")):
        play = {**play, **changed}
        write_rules(desk, GAME, "play", play, None, "page")
        assert desk.store.ops(GAME)[-1].label == said


def test_how_two_hundred_quick_games_end(desk):
    found = how_it_ends(desk.game(GAME), desk.game(GAME).rules["play"])
    assert found.games.games == 200 and sum(found.games.wins) + found.games.draws + found.games.runaways == 200 and found.games.runaways == 0
    assert found.decks == "random legal decks" and min(found.games.wins) > 40


def test_quick_games_that_are_stopped_give_what_was_played(desk):
    running, heard = Running(), []

    def say(done: int, of: int) -> None:
        heard.append((done, of))
        if done:
            running.end()

    found = how_it_ends(desk.game(GAME), desk.game(GAME).rules["play"], running=running, say=say).games
    assert heard[0] == (0, 200) and 0 < found.games < 200
    assert sum(found.wins) + found.draws + found.runaways == found.games


@pytest.mark.parametrize("game", ["ribbon-season", "potting-shed", "crowded-bed"])
def test_the_rules_pages_of_each_demo_game(desk, game):
    """Read once by a person and found right; what changes them is looked at again."""
    assert rules_pages(desk.game(game), "md").decode() == (GOLDEN / f"{game}-rules.md").read_text(encoding="utf-8")
    assert rules_pages(desk.game(game), "pdf").startswith(b"%PDF")
    with pytest.raises(Refused, match="there is no form"):
        rules_pages(desk.game(game), "docx")


def test_the_words_of_a_card_name_what_its_symbols_stand_for(desk):
    words = begin(desk, GAME, deck(desk, "Hooks and Ribbons"), 3).words
    bell = words[card(desk, "RS-069")]
    assert (bell.cost, bell.kind, bell.written) == ("2", "Tool", True)
    assert bell.lines == ("Gain 1 ribbon.", "When it is pulled up: gain 1 ribbon. Take 1 card from your pile.")
    assert not [line for each in words.values() for line in each.lines if "{" in line]
