"""Stored matches: with a card in hand, between people, watched, reviewed, branched, replayed; previews of rules of play."""

from __future__ import annotations

import dataclasses
import json
from pathlib import Path
from random import Random

import pytest

from dramok.core.engine import ByHand, Option
from dramok.core.rulebook import PlayRules
from dramok.services import Refused
from dramok.services.balance.batch_orders import Playing, base
from dramok.services.cards.card_edits import edit_field, retire_cards
from dramok.services.cards.notes import Pinned, add_note
from dramok.services.cards.search import find
from dramok.services.decks.edits import retire_deck
from dramok.services.files.archive import archive, restore_game
from dramok.services.history.history import journal
from dramok.services.output.rules_pages import rules_pages
from dramok.services.play.game_processes import GameProcesses
from dramok.services.play.matches import MATCHES
from dramok.services.play.play_preview import how_it_ends, preview_play, read
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


def deck(workspace, name="Fern over Moss") -> str:
    return next(each.id for each in workspace.game(GAME).decks.values() if each.name == name)


def card(workspace, code: str) -> str:
    return next(each.id for each in workspace.game(GAME).cards.values() if each.code == code)


def chance(workspace, table, dice: Random, decisions: int):
    """Makes the given number of random decisions for people, or watches the given number of steps."""
    for _ in range(decisions):
        if table.asked == "over":
            break
        if "person" in table.players:
            table = decide(workspace, GAME, table.id, dice.choice(table.options), table.taken)
        else:
            table = step(workspace, GAME, table.id, table.taken)
    return table


@pytest.mark.parametrize("code", ["RS-001", "RS-072", "RS-016"])
def test_from_a_card_to_a_match_with_it_in_hand(workspace, code):
    ident = card(workspace, code)
    table = begin(workspace, GAME, card=ident)
    assert ident in [each.card for each in table.view.hand]
    named = begin(workspace, GAME, deck(workspace), card=ident)
    assert ident in [each.card for each in named.view.hand] and named.deck_name.startswith("Fern over Moss")
    assert ident not in workspace.game(GAME).decks[deck(workspace)].cards or named.deck_name == "Fern over Moss"
    # The seed that was found gives the same hand again.
    assert [each.card for each in again(workspace, GAME, table.id, table.seed).view.hand] == [each.card for each in table.view.hand]
    with pytest.raises(Missing, match="has no card"):
        begin(workspace, GAME, card="nowhere")


def test_without_decks_one_is_made(workspace):
    for each in list(workspace.game(GAME).decks.values()):
        retire_deck(workspace, GAME, each.id, "page")
    table = begin(workspace, GAME, card=card(workspace, "RS-002"))
    assert table.deck == "" and table.deck_name == "A deck made for Ladder Frond" and card(workspace, "RS-002") in [each.card for each in table.view.hand]
    once_more = again(workspace, GAME, table.id)
    assert once_more.deck_name == table.deck_name and once_more.id != table.id


def test_two_people_each_see_their_own_view_alone(workspace):
    dice = Random(f"two {SEED}")
    table = begin(workspace, GAME, deck(workspace), 5, against=Against(deck(workspace, "Hooks and Ribbons"), "person"))
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
        # A review shows the view of this seat, whichever seat decided then.
        if table.taken > 2:
            assert playtest(workspace, GAME, table.id, table.taken - 2).view.seats[0].seat == table.seat
        table = decide(workspace, GAME, table.id, dice.choice(table.options), table.taken)
    assert seats == {0, 1}


def test_what_the_page_gets_names_no_card_of_the_other_hand_or_pile(workspace):
    """The whole answer in bytes, over a match against an automatic player with cards that only it has."""
    dice = Random(f"bytes {SEED}")
    table = begin(workspace, GAME, deck(workspace), dice.randrange(10**6), against=Against(deck(workspace, "Hooks and Ribbons"), "plain"))
    theirs = set(workspace.game(GAME).decks[deck(workspace, "Hooks and Ribbons")].cards) - set(workspace.game(GAME).decks[deck(workspace)].cards)
    assert theirs
    for _ in range(25):
        told = dataclasses.asdict(table)
        seen = json.dumps(told, default=str)
        shown = {each.card for zone in table.view.seats[1].zones for each in zone.cards or ()} | {line.card for line in table.log}
        assert not [ident for ident in theirs - shown if f'"{ident}"' in seen], f"seed {SEED}"
        if table.asked == "over":
            break
        table = decide(workspace, GAME, table.id, dice.choice(table.options), table.taken)


def test_a_watched_match_goes_step_by_step_to_its_end(workspace):
    table = begin(workspace, GAME, deck(workspace), 8, against=Against("", "plain", mine="ahead"))
    assert table.taken == 0 and table.options == () and table.players == ("ahead", "plain")
    assert step(workspace, GAME, table.id, 0).taken == 1
    # To its end by those who decide sooner.
    table = begin(workspace, GAME, deck(workspace), 8, against=Against("", "random", mine="plain"))
    with pytest.raises(Refused, match="not your seat"):
        decide(workspace, GAME, table.id, Option("done"), 0)
    first = step(workspace, GAME, table.id, 0)
    assert first.taken == 1
    with pytest.raises(Conflict):
        step(workspace, GAME, table.id, 0)
    assert take_back(workspace, GAME, table.id, 1).taken == 0
    table = chance(workspace, playtest(workspace, GAME, table.id), Random(1), 600)
    assert table.asked == "over" and table.view.winner in (0, 1, -2)
    with pytest.raises(Refused, match="no automatic player is to decide"):
        step(workspace, GAME, table.id, table.taken)


def test_any_moment_is_shown_and_a_branch_goes_on_from_it(workspace):
    dice = Random(f"branch {SEED}")
    table = begin(workspace, GAME, deck(workspace), dice.randrange(10**6))
    views = {table.taken: table.view}
    for _ in range(12):
        if table.asked == "over":
            break
        table = decide(workspace, GAME, table.id, dice.choice(table.options), table.taken)
        views[table.taken] = table.view
    for at, stood in views.items():
        past = playtest(workspace, GAME, table.id, at)
        assert past.view == stood and past.taken == table.taken and (past.at == at or at == table.taken)
        assert at == table.taken or past.options == ()
    at = sorted(views)[len(views) // 2]
    made = branch(workspace, GAME, table.id, at, "  had I   kept it ")
    assert made.name == "had I kept it" and made.view == views[at] and made.taken == at and made.id != table.id
    assert playtest(workspace, GAME, table.id).taken == table.taken, "the first one stays"
    assert {(each.id, name) for each, name, _ in recent(workspace, GAME)} >= {(made.id, "had I kept it"), (table.id, "")}
    with pytest.raises(Refused, match="this game has"):
        branch(workspace, GAME, table.id, table.taken + 1, "")


def test_every_kind_of_match_comes_back_whole_from_a_backup(workspace):
    """Against a player, watched, between two people, a branch under a name: what is kept of each is what an archive holds."""
    dice = Random(f"{SEED} backup")
    tables = [
        chance(workspace, begin(workspace, GAME, deck(workspace), 5, against=each), dice, 4)
        for each in (Against(), Against(player="ahead", second=True), Against(player="person"), Against(mine="plain"))
    ]
    tables.append(branch(workspace, GAME, tables[0].id, 2, "had I waited"))
    tables.append(again(workspace, GAME, tables[1].id, 9))
    back = restore_game(workspace, archive(workspace, workspace.game(GAME), shared=False)).id
    assert back != GAME

    def kept(game: str):
        """The name and course of each match, for comparison: a game restored as a second copy has new ids."""
        found = [(name, rival, playtest(workspace, game, record.id)) for record, name, rival in recent(workspace, game)]
        return sorted((name, rival, table.seed, table.players, table.taken, [line.text for line in table.log]) for name, rival, table in found)

    assert kept(back) == kept(GAME) and len(kept(GAME)) == len(tables) and kept(back)[-1][0] == "had I waited"


def prose(workspace, code: str) -> str:
    """A card whose words are printed only."""
    ident = card(workspace, code)
    for field, typed in (("effect", ""), ("printed", "Take the judge out for tea.")):
        if workspace.game(GAME).cards[ident].values.get(field, "") != typed:
            edit_field(workspace, GAME, ident, field, typed, workspace.game(GAME).cards[ident].revision, "one")
    return ident


def test_a_card_without_behaviour_says_so_and_is_resolved_by_hand(workspace):
    ident = prose(workspace, "RS-001")
    # The other seat's deck lacks the card: nobody else plays one.
    table = begin(workspace, GAME, deck(workspace), against=Against(deck(workspace, "Hooks and Ribbons")), card=ident)
    assert not table.hands_free and table.unwritten == () and not table.words[ident].written
    for _ in range(40):
        play = next((each for each in table.options if each.do == "play" and held(table, each.card) == ident), None)
        if play is not None:
            break
        table = decide(workspace, GAME, table.id, next(each for each in table.options if each.do in ("end turn", "done", "keep", "discard")), table.taken)
    assert play is not None and table.hands_free
    table = decide(workspace, GAME, table.id, play, table.taken)
    assert table.unwritten == (ident,) and table.seat == 0
    before = table.view.resources["ribbon"]
    table = by_hand(workspace, GAME, table.id, ByHand("total", what="ribbon", number=before + 2), table.taken)
    # It is still to be resolved: something else may follow. The next decision of another kind ends that.
    assert table.view.resources["ribbon"] == before + 2 and table.unwritten == (ident,)
    assert table.log[-1].text.startswith("By hand: You: ") and table.log[-1].decision == table.taken
    undone = take_back(workspace, GAME, table.id, table.taken)
    assert undone.view.resources["ribbon"] == before and undone.unwritten == (ident,)
    table = by_hand(workspace, GAME, table.id, ByHand("total", what="ribbon", number=before + 1), undone.taken)
    there = playtest(workspace, GAME, table.id)
    assert there.view == table.view and there.log == table.log
    table = decide(workspace, GAME, table.id, table.options[-1], table.taken)
    assert ident not in table.unwritten
    copy = restore_game(workspace, archive(workspace, workspace.game(GAME), shared=False)).id
    back = playtest(workspace, copy, next(record.id for record, _, _ in recent(workspace, copy)))
    assert [line.text for line in back.log] == [line.text for line in table.log]


def held(table, instance: int) -> str:
    return next((each.card for each in table.view.hand if each.instance == instance), "")


def test_by_hand_moves_no_card_that_the_seat_does_not_see(workspace):
    table = begin(workspace, GAME, deck(workspace), 5)
    match = MATCHES.get(workspace.store.playtest(table.id)).match
    unseen = match.zone(0, 0)[0]
    while not table.hands_free:
        table = decide(workspace, GAME, table.id, table.options[0], table.taken)
    for card_of in (unseen, match.zone(1, 1)[0], 9_999):
        with pytest.raises(Refused) as refused:
            by_hand(workspace, GAME, table.id, ByHand("move", card_of, "discard"), table.taken)
        assert "can't be seen" in refused.value.problem.what
    table = by_hand(workspace, GAME, table.id, ByHand("look", zone="draw"), table.taken)
    assert unseen in {each.instance for each in table.view.looked}
    table = by_hand(workspace, GAME, table.id, ByHand("move", unseen, "hand"), table.taken)
    assert unseen in {each.instance for each in table.view.hand}
    with pytest.raises(Conflict):
        by_hand(workspace, GAME, table.id, ByHand("look", zone="draw"), 0)


def test_a_note_is_pinned_to_a_card_and_a_moment(workspace):
    ident = card(workspace, "RS-001")
    table = chance(workspace, begin(workspace, GAME, deck(workspace), 5), Random(f"{SEED} note"), 3)
    _, note = add_note(workspace, GAME, ident, "Sat in hand all game.", "one", pinned=Pinned(table.id, 2, table.view.turn))
    game = workspace.game(GAME)
    assert {key: game.things[note].doc[key] for key in ("playtest", "moment", "turn")} == {"playtest": table.id, "moment": 2, "turn": table.view.turn}
    assert [each.code for each in find(workspace, game, "table notes").cards] == ["RS-001"]
    assert journal(workspace, game)[0].op.label.startswith(f"note on {game.title(game.cards[ident])}, at the table in ")
    for moment, of, error in ((99, table.id, Refused), (0, "p-none", Missing)):
        with pytest.raises(error):
            add_note(workspace, GAME, ident, "x", "one", pinned=Pinned(of, moment, 1))
    back = workspace.game(restore_game(workspace, archive(workspace, game, shared=False)).id)
    kept = next(each for each in back.of_kind("note") if each.doc["text"] == "Sat in hand all game.")
    assert playtest(workspace, back.id, kept.doc["playtest"]).taken == table.taken and kept.doc["moment"] == 2


def test_again_is_played_with_rules_and_cards_as_they_are_now(workspace):
    table = begin(workspace, GAME, deck(workspace), 4)
    assert len(table.view.hand) == 5
    write_rules(workspace, GAME, "table", {**workspace.game(GAME).rules["table"], "opening_hand": 3}, None, "page")
    assert len(playtest(workspace, GAME, table.id).view.hand) == 5, "what is played goes on as it was"
    once_more = again(workspace, GAME, table.id, table.seed)
    assert len(once_more.view.hand) == 3 and once_more.seed == table.seed
    assert again(workspace, GAME, table.id).id not in {table.id, once_more.id}


def test_a_match_continues_when_its_phase_and_zone_are_removed_from_the_rules(workspace):
    dice = Random(f"gone {SEED}")
    table = chance(workspace, begin(workspace, GAME, deck(workspace), 6), dice, 4)
    retire_cards(workspace, GAME, [card(workspace, code) for code in ("RS-072", "RS-096")], "page")
    play = workspace.game(GAME).rules["play"]
    phases = [{**each, "does": [one for one in each["does"] if one["do"] != "turn over"]} for each in play["phases"] if each["id"] != "dusk"]
    write_rules(workspace, GAME, "play", {**play, "zones": [], "set_up": {**play["set_up"], "placed": []}, "phases": phases}, None, "page")
    table = chance(workspace, playtest(workspace, GAME, table.id), dice, 5)
    assert [zone.name for zone in table.view.shared] == ["Weather glass"]


def test_a_match_that_is_over_says_what_was_never_played(workspace):
    table = chance(workspace, begin(workspace, GAME, deck(workspace), 8, against=Against("", "plain", mine="plain")), Random(2), 600)
    assert table.asked == "over"
    held = [each.card for each in table.view.hand]
    assert set(table.sat) == set(held) and not set(table.unplayed) & {each.card for each in table.view.in_play}


def test_incomplete_rules_are_stored_reported_and_not_played(workspace):
    play = workspace.game(GAME).rules["play"]
    look = preview_play(workspace.game(GAME), {**play, "goals": []})
    assert look.problem is None and [each.what for each in look.gaps if each.stops] == ["there is no goal: nobody can win the match"]
    write_rules(workspace, GAME, "play", {**play, "goals": []}, None, "page")
    for trying in (lambda: begin(workspace, GAME, deck(workspace)), lambda: simulate(workspace.game(GAME), SimulationAsked(10, 1)), lambda: how_it_ends(workspace.game(GAME), {**play, "goals": []})):
        with pytest.raises(Refused, match="there is no goal"):
            trying()
    broken = preview_play(workspace.game(GAME), {**play, "seats": 9})
    assert broken.problem is not None and broken.problem.where == "play.seats" and broken.parts
    assert preview_play(workspace.game(GAME), "no rules at all").problem is not None


@pytest.mark.parametrize(
    ("least", "most", "said"), [(36, 36, "A deck has 36 cards, with at most 3 copies of each."), (1, 1, "A deck has 1 card, with at most 3 copies of each."), (1, 40, "A deck has 1 to 40 cards, with at most 3 copies of each.")]
)  # fmt: skip
def test_how_large_decks_are_is_read_with_the_rules(workspace, least, most, said):
    kind = {**workspace.game(GAME).rules["formats"][0], "least_cards": least, "most_cards": most, "copies": 3}
    if workspace.game(GAME).rules["formats"] != [kind]:
        write_rules(workspace, GAME, "formats", [kind], None, "page")
    lines = [line for part in read(workspace.game(GAME)) for line in part.lines]
    assert said in " ".join(lines)


def test_a_total_without_a_source_is_reported_as_a_goal_out_of_reach(workspace):
    play, told = workspace.game(GAME).rules["play"], "Ribbons decide who wins, and nothing gives any"
    assert told not in [each.what for each in preview_play(workspace.game(GAME), play).gaps]
    pips = [*workspace.game(GAME).rules["resources"], {"id": "pip", "name": "Pip", "names": "Pips", "symbol": "score"}]
    write_rules(workspace, GAME, "resources", pips, None, "page")
    look = preview_play(workspace.game(GAME), {**play, "goals": [{"kind": "reach", "total": "pip", "number": 3}, {"kind": "most", "total": "pip", "number": 9}]})
    assert [(each.part, each.stops) for each in look.gaps if each.what == "Pips decide who wins, and nothing gives any"] == [("goals", False)], "once"
    given = [*play["phases"], {"id": "eve", "name": "Eve", "does": [{"do": "gain", "resource": "pip", "number": 1}]}]
    look = preview_play(workspace.game(GAME), {**play, "phases": given, "goals": [{"kind": "reach", "total": "pip", "number": 3}]})
    assert not [each for each in look.gaps if "nothing gives any" in each.what]


def test_the_journal_says_which_part_of_the_rules_of_play_was_edited(workspace):
    assert set(PLAY_SAID) == set(PlayRules.model_fields)
    play = workspace.game(GAME).rules["play"]
    for changed, said in (({"goals": [{"kind": "reach", "total": "ribbon", "number": 9}]}, "goals changed"), ({"tie": "active", "reshuffles": 2}, "how often piles are shuffled again and ties changed")):
        play = {**play, **changed}
        write_rules(workspace, GAME, "play", play, None, "page")
        assert workspace.store.ops(GAME)[-1].label == said


def test_how_two_hundred_quick_games_end(workspace):
    found = how_it_ends(workspace.game(GAME), workspace.game(GAME).rules["play"])
    assert found.games.games == 200 and sum(found.games.wins) + found.games.draws + found.games.runaways == 200 and found.games.runaways == 0
    assert found.decks == "random legal decks" and min(found.games.wins) > 40


def test_quick_games_that_are_stopped_give_what_was_played(workspace):
    running, heard = GameProcesses(), []

    def say(done: int, of: int) -> None:
        heard.append((done, of))
        if done:
            running.end()

    found = how_it_ends(workspace.game(GAME), workspace.game(GAME).rules["play"], running=running, say=say).games
    assert heard[0] == (0, 200) and 0 < found.games < 200
    assert sum(found.wins) + found.draws + found.runaways == found.games


@pytest.mark.parametrize("game", ["ribbon-season", "potting-shed", "crowded-bed"])
def test_the_rules_pages_of_each_demo_game(workspace, game):
    """Read once by a person and found right; what changes them is looked at again."""
    assert rules_pages(workspace.game(game), "md").decode() == (GOLDEN / f"{game}-rules.md").read_text(encoding="utf-8")
    assert rules_pages(workspace.game(game), "pdf").startswith(b"%PDF")
    with pytest.raises(Refused, match="there is no form"):
        rules_pages(workspace.game(game), "docx")


def test_the_text_of_a_card_names_the_meaning_of_its_symbols(workspace):
    words = begin(workspace, GAME, deck(workspace, "Hooks and Ribbons"), 3).words
    bell = words[card(workspace, "RS-069")]
    assert (bell.cost, bell.kind, bell.written) == ("2", "Tool", True)
    assert bell.lines == ("Gain 1 ribbon.", "When it is pulled up: gain 1 ribbon. Take 1 card from your pile.")
    assert not [line for each in words.values() for line in each.lines if "{" in line]


@pytest.mark.parametrize(
    ("players", "seat"), [(["person", "hasty"], 0), (["hasty", "person"], 1), (["person"], 3), (["hasty", "sly"], 0), ([], 0)],
)  # fmt: skip
def test_a_match_with_a_player_that_this_version_does_not_know_goes_on_with_the_simple_one(workspace, players, seat):
    """As an archive of a later version, or a made-up one, can hold it."""
    table = begin(workspace, GAME, deck(workspace), 5)
    with workspace.store._engine.begin() as connection:
        stored = json.loads(connection.exec_driver_sql("SELECT program FROM playtest WHERE id = ?", (table.id,)).scalar_one())
        assert stored["players"] == ["person", "plain"]
        changed = json.dumps({**stored, "players": players, "player": "hasty", "seat": seat})
        connection.exec_driver_sql("UPDATE playtest SET program = ? WHERE id = ?", (changed, table.id))
    MATCHES._held.clear()
    back = playtest(workspace, GAME, table.id)
    wanted = [each if each == "person" else "plain" for each in players] or ["person", "plain"]
    assert list(back.players) == (wanted + ["plain"])[:2] and back.player == "plain"
    if not back.options and seat < 2:
        back = step(workspace, GAME, table.id, back.taken)
        assert back.taken == 1
    if back.options:
        assert decide(workspace, GAME, table.id, back.options[-1], back.taken).taken > back.taken


SHED = "potting-shed"


def test_everyone_begins_with_the_same_deck_unless_one_is_named(workspace):
    """A named deck is played by all seats; a card to try is added to the own deck alone."""
    game = workspace.game(SHED)
    assert begin(workspace, SHED, seed=1).deck_name == "The starting deck"
    scented = next(deck for deck in game.decks.values() if deck.name == "A scented shed")
    named = begin(workspace, SHED, scented.id, seed=1, against=Against(seats=3))
    decks = json.loads(workspace.store.playtest(named.id).program)["decks"]
    assert named.deck_name == "A scented shed" and decks == [dict(scented.cards)] * 3
    tried = next(card for card in game.cards.values() if card.code == "PS-040")
    trying = begin(workspace, SHED, card=tried.id)
    decks = json.loads(workspace.store.playtest(trying.id).program)["decks"]
    assert trying.deck_name == "The starting deck with Orchid on Bark"
    assert decks[0] == {**decks[1], tried.id: 1} and sum(decks[1].values()) == 6


def test_quick_games_of_a_deck_building_game_name_the_starting_deck(workspace):
    found = how_it_ends(workspace.game(SHED), workspace.game(SHED).rules["play"], running=GameProcesses())
    assert found.decks == "the starting deck" and found.games.games > 0 and found.games.purchases


def test_strength_is_not_measured_where_all_begin_alike(workspace):
    with pytest.raises(Refused, match="decks say nothing of a card's strength"):
        base(workspace.game(SHED), "set", Playing(100))


@pytest.mark.parametrize(("changed", "says"), [
    ({"pays": "sap"}, "Seed bench is paid for in Sap, and nothing gives any"), ({"pays": "dew"}, "no card of Seed bench can ever be paid for: nobody holds more than 1 dew"),
])  # fmt: skip
def test_a_price_that_nobody_can_ever_pay_is_named(workspace, changed, says):
    resources = [*workspace.game(SHED).rules["resources"], {"id": "sap", "name": "Sap", "names": "Sap", "symbol": "drop"}, {"id": "dew", "name": "Dew", "names": "Dew", "symbol": "drop", "start": 1, "cap": 1}]
    write_rules(workspace, SHED, "resources", resources, None, "one")
    play = workspace.game(SHED).rules["play"]
    market = {**play["markets"][0], "by_place": [2], **changed}
    look = preview_play(workspace.game(SHED), {**play, "markets": [market, *play["markets"][1:]]})
    assert look.problem is None and [gap.what for gap in look.gaps if gap.part == "market"] == [says]


def test_a_match_needs_what_its_number_of_seats_needs(workspace):
    """Alone nobody answers a clash: a duel that may be played by one is refused then, with the reason."""
    play = {**workspace.game(GAME).rules["play"], "least_seats": 1}
    write_rules(workspace, GAME, "play", play, None, "one")
    begin(workspace, GAME, seed=1)
    with pytest.raises(Refused, match="a clash needs a rival"):
        begin(workspace, GAME, seed=1, against=Against(seats=1))


def test_cards_in_stock_that_have_no_price_are_named(workspace):
    """The starting cards have no cost: in the stock of a bench they would fill its places and never be sold."""
    play = workspace.game(SHED).rules["play"]
    first, *others = play["set_up"]["placed"]
    stock = {**play, "set_up": {**play["set_up"], "placed": [{**first, "cards": {"PS-001": 2, "PS-002": 1}}, *others]}}
    look = preview_play(workspace.game(SHED), stock)
    assert [gap.what for gap in look.gaps if gap.part == "market"] == ["Seed bench never sells Saved Seed and 1 more: no price"]
    assert not [gap for gap in preview_play(workspace.game(SHED), play).gaps if gap.part == "market"]
