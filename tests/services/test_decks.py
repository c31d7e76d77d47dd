"""Work on decks: filled, corrected, imported, odds and hands, compared, and undone."""

from __future__ import annotations

import json
import random
from dataclasses import replace

import pytest

from dramok.core.decks import Deck, Fix, legality
from dramok.core.odds import Condition, Event, atoms_of, chances
from dramok.core.odds.draws import Draws
from dramok.services import Refused
from dramok.services.decks.comparison import all_decks, compare, deck_at, past_of
from dramok.services.decks.edits import (
    add_deck,
    choose_rules,
    copy_deck,
    fill_at_random,
    refill,
    rename_deck,
    retire_deck,
    set_count,
    set_counts,
    write_note,
)
from dramok.services.decks.list_exchange import import_list, preview_list, write_list
from dramok.services.decks.odds import (
    GroupAsked,
    OddsAsked,
    RedrawAsked,
    card_in_decks,
    compute_odds,
)
from dramok.services.decks.opening_hands import sample_hands
from dramok.services.decks.reports import measure, report
from dramok.services.files.archive import archive, restore_game
from dramok.services.history.undo import undo
from dramok.services.rules.rule_parts import write_rules
from dramok.services.rules.rules_preview import deck_rule_clashes, preview_part
from dramok.services.workspace.workspace import Missing
from tests.conftest import GAME, SEED

LARCH, FROND, SILENCE = (f"c-{GAME}-rs-{number}" for number in ("001", "002", "088"))


@pytest.fixture
def first(workspace) -> str:
    """The id of the demo game's first deck."""
    return next(iter(workspace.game(GAME).decks))


def with_side(workspace, **more):
    """Deck rules with a side of up to 10 cards, a second set of them, and what is given."""
    rules = workspace.game(GAME).rules["formats"]
    side = {"id": "side", "name": "Side", "least": 0, "most": 10, "types": [], "counted": True}
    changed = [{**rules[0], "sections": [side], **more}, {**rules[0], "id": "short", "name": "Short", "least_cards": 12, "most_cards": 12}]  # fmt: skip
    return write_rules(workspace, GAME, "formats", changed, None, "page")


def test_a_deck_has_sections_rules_and_a_note_and_every_step_is_undone(workspace, first):
    with_side(workspace)
    before = workspace.game(GAME)
    set_count(workspace, GAME, first, FROND, 2, before.seq, "page", section="side")
    choose_rules(workspace, GAME, first, "short", "page")
    write_note(workspace, GAME, first, "  slow, but it holds ", "page")
    rename_deck(workspace, GAME, first, "Larches", "page")
    _, copy = copy_deck(workspace, GAME, first, "page")
    now = workspace.game(GAME)
    mine = now.decks[first]
    assert (mine.name, mine.format, mine.note, mine.sections) == ("Larches", "short", "slow, but it holds", {"side": {FROND: 2}})  # fmt: skip
    assert replace(now.decks[copy], id=first, seq=0, name="Larches", note=mine.note) == replace(mine, seq=0)
    said = [each.what for each in report(now, mine).problems]
    assert said[0] == "36 cards; maximum 12" and "2 cards in a section that Short does not have" in said
    for _ in range(5):
        undo(workspace, GAME, "page")
    assert replace(workspace.game(GAME).decks[first], seq=0) == replace(before.decks[first], seq=0)
    assert copy not in workspace.game(GAME).decks
    workspace.close()


def test_decks_are_read_again_from_the_file_and_from_a_backup(workspace, first):
    with_side(workspace, banned=[SILENCE], limited={LARCH: 1}, sets=[workspace.game(GAME).sets[0].id])
    set_count(workspace, GAME, first, FROND, 2, workspace.game(GAME).seq, "page", section="side")
    write_note(workspace, GAME, first, "for the second table", "page")
    mine = workspace.game(GAME).decks[first]
    workspace.forget(GAME)
    assert workspace.game(GAME).decks[first] == mine
    again = restore_game(workspace, archive(workspace, workspace.game(GAME)))
    (other,) = [each for each in again.decks.values() if each.name == mine.name]
    code = {card.id: card.code for card in again.cards.values()}
    assert {code[card] for card in other.sections["side"]} == {"RS-002"} and other.note == mine.note
    # Deck rules of the copy name the copy's own cards and sets.
    rules = again.formats[0]
    assert [code[card] for card in rules.banned] == ["RS-088"] and set(rules.sets) == {each.id for each in again.sets}  # fmt: skip
    assert [each.what for each in again.legality(other)] == ["3 of Copper Larch Fern; maximum 1", "5 of Ladder Frond; maximum 3"]  # fmt: skip
    shared = restore_game(workspace, archive(workspace, workspace.game(GAME), shared=True))
    assert not any(each.note for each in shared.decks.values()), "a note is the designer's own"


def test_fixes_are_one_step(workspace, first):
    with_side(workspace, banned=[FROND], limited={LARCH: 1})
    found = report(workspace.game(GAME), workspace.game(GAME).decks[first])
    assert {each.what: each.mend for each in found.problems} == {
        "Ladder Frond is banned": "remove it", "3 of Copper Larch Fern; maximum 1": "remove 2",
    }  # fmt: skip
    fixes = [fix for each in found.problems for fix in each.fixes]
    commit = set_counts(workspace, GAME, first, fixes, "mended", "page")
    assert len(commit.changes) == 2
    now = workspace.game(GAME)
    assert [each.what for each in now.legality(now.decks[first])] == ["31 cards; minimum 36"]
    undo(workspace, GAME, "page")
    assert workspace.game(GAME).decks[first].size == 36


@pytest.mark.parametrize(
    "act",
    [
        lambda workspace, deck: set_count(workspace, GAME, deck, LARCH, -1, 0, "page"),
        lambda workspace, deck: set_count(workspace, GAME, deck, LARCH, 10**9, 0, "page"),
        lambda workspace, deck: set_count(workspace, GAME, deck, LARCH, 1, 0, "page", section="nowhere"),
        lambda workspace, deck: set_counts(workspace, GAME, deck, [Fix("nowhere", LARCH, 1)], "x", "page"),
        lambda workspace, deck: set_counts(workspace, GAME, deck, [Fix("", LARCH, 100)], "x", "page"),
        lambda workspace, deck: choose_rules(workspace, GAME, deck, "nothing", "page"),
        lambda workspace, deck: rename_deck(workspace, GAME, deck, " ", "page"),
        lambda workspace, deck: write_note(workspace, GAME, deck, "x" * 30_000, "page"),
        lambda workspace, deck: add_deck(workspace, GAME, "New", "page", format_="nothing"),
        lambda workspace, deck: import_list(workspace, GAME, b"nobody knows this", "page"),
        lambda workspace, deck: import_list(workspace, GAME, b"{", "page", "a.json"),
        lambda workspace, deck: write_list(workspace.game(GAME), workspace.game(GAME).decks[deck], "doc"),
        lambda workspace, deck: sample_hands(workspace, workspace.game(GAME), workspace.game(GAME).decks[deck], -1),
        lambda workspace, deck: sample_hands(workspace, workspace.game(GAME), Deck("e", "Empty", {}), 1),
        lambda workspace, deck: compute_odds(workspace, workspace.game(GAME), Deck("e", "Empty", {}), OddsAsked((GroupAsked("cost = 1"),))),
        lambda workspace, deck: compute_odds(workspace, workspace.game(GAME), workspace.game(GAME).decks[deck], OddsAsked(())),
        lambda workspace, deck: compute_odds(workspace, workspace.game(GAME), workspace.game(GAME).decks[deck], OddsAsked((GroupAsked("cost <"),))),
        lambda workspace, deck: compute_odds(workspace, workspace.game(GAME), workspace.game(GAME).decks[deck], OddsAsked((GroupAsked("larch"),), turns=10**6)),
        lambda workspace, deck: compute_odds(workspace, workspace.game(GAME), workspace.game(GAME).decks[deck], OddsAsked((GroupAsked("larch"),), redraw=RedrawAsked("chosen", kept=3))),
        lambda workspace, deck: compute_odds(workspace, workspace.game(GAME), workspace.game(GAME).decks[deck], OddsAsked((GroupAsked(card="gone"),))),
    ],
)  # fmt: skip
def test_invalid_requests_are_refused_with_a_fix_and_write_nothing(workspace, first, act):
    seq = workspace.game(GAME).seq
    with pytest.raises(Refused) as found:
        act(workspace, first)
    assert found.value.problem.what and found.value.problem.mend and found.value.problem.where
    assert workspace.game(GAME).seq == seq


def test_lists_come_in_as_new_decks_and_in_place_of_what_is_there(workspace, first):
    with_side(workspace)
    now = workspace.game(GAME)
    for form in ("txt", "csv", "json"):
        text = write_list(now, now.decks[first], form)
        _, ident = import_list(workspace, GAME, text.encode(), "page", f"Old_list.{form}")
        made = workspace.game(GAME).decks[ident]
        assert made.cards == now.decks[first].cards and made.name == ("Old list" if form == "csv" else now.decks[first].name)  # fmt: skip
    look = preview_list(now, b"Rules: Short\n3 Copper Larch Fern\n[Side]\n1 Soft Rain")
    assert look.format.name == "Short" and look.read.troubles and look.read.troubles[0].line == 3
    look = preview_list(now, b"3 Copper Larch Fern\n[Side]\n1 Soft Rain", deck_id=first)
    assert [each.what for each in look.problems] == ["3 cards; minimum 36"]
    import_list(workspace, GAME, b"3 Copper Larch Fern\n[Side]\n1 Soft Rain", "page", deck_id=first)
    mine = workspace.game(GAME).decks[first]
    assert mine.cards == {LARCH: 3} and sum(mine.sections["side"].values()) == 1
    undo(workspace, GAME, "page")
    assert workspace.game(GAME).decks[first].cards == now.decks[first].cards


def test_random_decks_of_every_demo_game_are_legal(workspace):
    chance = random.Random(SEED)
    for game in workspace.games():
        seed = chance.randrange(10**6)
        begun = Deck("", "R", {})
        made = fill_at_random(game, begun, seed)
        assert legality(made, game.cards, game.rulebook, game.formats[0]) == () and made.size, (game.id, seed)
        assert fill_at_random(game, begun, seed) == made
    write_rules(workspace, GAME, "formats", [{**workspace.game(GAME).rules["formats"][0], "least_cards": 400, "most_cards": 400}], None, "page")  # fmt: skip
    with pytest.raises(Refused) as found:
        fill_at_random(workspace.game(GAME), Deck("", "R", {}), 1)
    assert "no deck can be legal in Duel: at least 400 cards" in found.value.problem.what


def test_a_change_of_the_rules_says_how_many_decks_it_breaks_and_what_fights(workspace):
    rules = workspace.game(GAME).rules["formats"]
    look = preview_part(workspace.game(GAME), "formats", [{**rules[0], "banned": [LARCH]}])
    assert look.said == ("1 deck would no longer be legal: Fern over Moss",)
    look = preview_part(workspace.game(GAME), "formats", [{**rules[0], "least_cards": 999, "most_cards": 999}])
    assert look.said[-1].startswith("no deck could be legal in Duel: at least 999 cards, and")
    assert deck_rule_clashes(workspace.game(GAME)) == []
    with_side(workspace)
    first = next(iter(workspace.game(GAME).decks))
    choose_rules(workspace, GAME, first, "short", "page")
    look = preview_part(workspace.game(GAME), "formats", [rules[0]])
    assert "1 deck would be checked against Duel: Fern over Moss" in look.said


def test_the_history_of_a_deck_is_listed_and_any_revision_restored(workspace, first):
    chance = random.Random(SEED)
    cards = list(workspace.game(GAME).cards)
    states = {workspace.game(GAME).seq: workspace.game(GAME).decks[first]}
    for _ in range(12):
        seq = workspace.game(GAME).seq
        ident = chance.choice(cards)
        held = workspace.game(GAME).decks[first].cards.get(ident, 0)
        set_count(workspace, GAME, first, ident, chance.choice([n for n in range(5) if n != held]), seq, "page")
        states[workspace.game(GAME).seq] = workspace.game(GAME).decks[first]
    past = past_of(workspace, workspace.game(GAME), first)
    assert past[-1].kind == "made" and all(each.kind == "changed" for each in past[:-1])
    for each in past[:-1]:
        assert each.size == states[each.seq].size and each.changes
    for seq in chance.sample(sorted(states), 4):
        then = deck_at(workspace, workspace.game(GAME), first, seq)[1]
        assert then.cards == states[seq].cards
        if then.cards == workspace.game(GAME).decks[first].cards:
            continue
        refill(workspace, GAME, first, then, "back", "page")
        assert workspace.game(GAME).decks[first].cards == then.cards
        assert compare(then, workspace.game(GAME).decks[first]).changes == ()
    retire_deck(workspace, GAME, first, "page")
    assert past_of(workspace, workspace.game(GAME), first)[0].kind == "removed"
    undo(workspace, GAME, "page")
    assert past_of(workspace, workspace.game(GAME), first)[0].kind == "restored"
    with pytest.raises(Missing):
        past_of(workspace, workspace.game(GAME), "never")


def test_odds_of_queries_are_those_of_their_counts(workspace, first):
    now = workspace.game(GAME)
    mine = now.decks[first]
    larches = mine.cards[LARCH]
    asked = OddsAsked((GroupAsked(card=LARCH), GroupAsked("cost >= 3", count=2)), turns=8)
    found = compute_odds(workspace, now, mine, asked)
    dear = sum(count for card, count in mine.cards.items() if (now.cards[card].number("cost") or 0) >= 3)
    draws = Draws(5, 1, False)
    assert [each.copies for each in found.groups] == [larches, dear]
    alone = chances(atoms_of([larches], 36), Event((Condition(0),)), draws, range(9))
    assert list(found.groups[0].curve) == pytest.approx(alone, abs=1e-15)
    both = Event((Condition(0), Condition(1, "at least", 2)))
    assert found.together == pytest.approx(chances(atoms_of([larches, dear], 36), both, draws, range(9)))
    assert found.groups[0].said.startswith("By turn 4, at least 1 of Copper Larch Fern: 54 %")
    assert found.groups[0].needed == 6 and found.groups[0].more == pytest.approx(0.111, abs=0.001)
    # A card of cost 1 is paid for from the first turn on; a group whose costs differ says nothing of it.
    assert found.groups[0].pays[1:] == found.groups[0].curve[1:] and found.groups[1].pays is None
    (told,) = card_in_decks(now, LARCH, turn=3)
    assert told.said == "3 copies of 36; by turn 3: 49 %" and told.curve[3] == pytest.approx(alone[3])


def test_sample_hands_are_the_engines_and_their_tally_nears_the_exact_odds(workspace, first):
    now = workspace.game(GAME)
    mine = now.decks[first]
    keep = RedrawAsked("whole", "before", (Condition(0, "at least", 2),))
    asked = OddsAsked((GroupAsked("cost = 1"),), redraw=keep)
    from dramok.services.play.playtests import begin

    hands = sample_hands(workspace, now, mine, 40)
    dealt = begin(workspace, GAME, first, 40)
    assert [each.card for each in dealt.view.hand] == list(hands.hands[0].cards)
    assert sample_hands(workspace, now, mine, 40) == hands and sample_hands(workspace, now, mine, 41).hands[0] == hands.hands[1]  # fmt: skip
    told = sample_hands(workspace, now, mine, 2_000, asked, since=0)
    assert told.dealt == 2_008 and told.exact is not None
    assert told.tally / told.dealt == pytest.approx(told.exact, abs=0.05)
    for hand in told.hands:
        ones = sum(now.cards[card].number("cost") == 1 for card in hand.cards)
        assert hand.kept == (ones >= 2) and (hand.again is None) == hand.kept
    chosen = OddsAsked((GroupAsked("cost = 1"),), redraw=RedrawAsked("chosen", "after"))
    for hand in sample_hands(workspace, now, mine, 7, chosen).hands:
        stay = [card for card in hand.cards if now.cards[card].number("cost") == 1]
        assert list((hand.again or hand.cards)[: len(stay)]) == stay and len(hand.again or hand.cards) == 5


def test_a_query_of_what_is_judged_waits_for_the_cards_of_the_deck(workspace, first):
    """Just opened, no card is judged yet: none may be left out of what is called exact."""
    now = workspace.game(GAME)
    found = compute_odds(
        workspace, now, now.decks[first], OddsAsked((GroupAsked("fair or over or under or open"),))
    )
    assert found.groups[0].copies == 36


def test_of_many_decks_the_first_are_held_against_each_other(workspace):
    now = workspace.game(GAME)
    many = replace(now, decks={f"d{n:03}": Deck(f"d{n:03}", f"Deck {n:03}", {LARCH: 1}) for n in range(200)})
    whole = all_decks(many)
    assert len(whole.overlap) == len(whole.decks) == 60 and whole.decks[0] == "d000"
    assert whole.decks_of[LARCH] == 200


def test_all_decks_together(workspace, first):
    whole = all_decks(workspace.game(GAME))
    assert whole.overlap[0][0] == 1 and whole.decks_of[LARCH] == 1 and whole.copies_of[LARCH] == 3
    assert SILENCE not in whole.decks_of
    found = measure(workspace.game(GAME), workspace.game(GAME).decks[first])
    assert (found.different, found.words, float(found.worth), float(found.budget)) == (13, 83, 149.25, 152.75)


def test_a_new_card_is_at_once_available_to_decks(workspace, first):
    from dramok.services.cards.card_edits import add_card

    home = workspace.game(GAME).sets[0].id
    _, ident = add_card(workspace, GAME, "plant", home, "page", typed={"name": "Quick Hedge"})
    _, made = import_list(workspace, GAME, b"2 Quick Hedge", "page")
    assert workspace.game(GAME).decks[made].cards == {ident: 2}
    assert json.loads(json.dumps(dict(workspace.game(GAME).decks[made].cards))) == {ident: 2}
