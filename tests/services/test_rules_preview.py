"""The preview of a rules edit equals its effect: verdicts, texts, decks; and prices since a mark."""

from __future__ import annotations

import io
import json
import random
import zipfile

import pytest

from dramok.services import Missing, Refused
from dramok.services.cards.card_detail import detail_of
from dramok.services.cards.ripples import ripple_of
from dramok.services.faces.own_files import store_font
from dramok.services.faces.pictures import store_picture
from dramok.services.files.archive import archive, restore_game
from dramok.services.history.marks import add_mark
from dramok.services.history.undo import undo
from dramok.services.rules.rule_parts import PARTS, part_changes, phrase_book, write_rules
from dramok.services.rules.rules_preview import (
    budget_fit,
    preview_part,
    preview_phrases,
    preview_prices,
    with_part,
)
from tests.conftest import GAME, SEED
from tests.formats.fonts import made_font
from tests.services.test_pictures import picture

GAMES = ("ribbon-season", "crowded-bed", "potting-shed")


def prices_of(workspace, **more):
    return {**workspace.game(GAME).rules["prices"], **more}


def test_the_preview_equals_the_result(workspace):
    value = prices_of(workspace, stats={"height": "1.5", "root": "0.75"})
    game = workspace.game(GAME)
    look, seq = preview_prices(workspace, game, value), game.seq
    told = {card: place.worth for card, place in ((each.card, each) for each in look.pricing.map.cards)}
    assert workspace.game(GAME).seq == seq and workspace.game(GAME).prices == game.prices, "looking writes nothing"
    commit = write_rules(workspace, GAME, "prices", value, None, "page")
    assert {
        card.id: detail_of(commit.after, card).ledger.worth for card in commit.after.cards.values()
    } == told
    ripple = ripple_of(commit)
    assert ripple.verdicts == look.verdicts == len(look.was) == 62
    assert ripple.card_count == 62 and {each.face for each in ripple.cards} == {"same"}, (
        "prices paint nothing"
    )
    assert preview_part(game, "prices", value).said == ("62 verdicts would change",)


def test_ghosts_are_at_the_old_places_of_the_cards_and_the_unchanged_list_moves_none(workspace):
    game = workspace.game(GAME)
    assert preview_prices(workspace, game, game.rules["prices"]).was == {}
    look = preview_prices(workspace, game, prices_of(workspace, budgets={"": {"by_cost": ["0"]}}))
    before = {each.card: each for each in game.pricing.map.cards}
    assert (
        look.was == {card: (before[card].cost, before[card].worth) for card in look.was}
        and len(look.was) > 90
    )
    assert {each.worth for each in look.pricing.map.cards} == {each.worth for each in before.values()}, (
        "a budget moves no worth"
    )


def test_since_a_mark_only_changes_are_reported(workspace):
    _, ident = add_mark(workspace, GAME, "before", "page")
    rows = workspace.game(GAME).rules["prices"]["rows"]
    dearer = [
        {**row, "curve": {**row["curve"], "each": "2"}} if row["id"] == "mildew" else row for row in rows
    ]
    write_rules(workspace, GAME, "prices", prices_of(workspace, rows=dearer), None, "page")
    game = workspace.game(GAME)
    look = preview_prices(workspace, game, game.rules["prices"], ident)
    assert (look.rows, look.stats, look.budgets) == (("mildew",), (), ()) and len(
        look.was
    ) == look.verdicts == 17
    more = prices_of(
        workspace,
        stats={"height": "1", "root": "1"},
        budgets={**game.rules["prices"]["budgets"], "": {"by_cost": ["3"]}},
    )
    look = preview_prices(workspace, game, more, ident)
    assert (look.rows, look.stats, look.budgets) == (("mildew",), ("root",), ("",))
    with pytest.raises(Missing):
        preview_prices(workspace, game, game.rules["prices"], "no-mark")


def test_likely_slips_are_noted(workspace):
    rows = [
        {"id": "gone", "verb": "gain", "resource": "gold"},
        {"id": "gone too", "verb": "raise", "stat": "weight"},
    ]
    look = preview_prices(
        workspace,
        workspace.game(GAME),
        prices_of(
            workspace,
            rows=rows,
            budgets={"plant": {"by_cost": ["3", "2", "4"], "further": "-1"}, "": {"by_cost": ["1"]}},
        ),
    )
    assert look.notes == (
        "Plant: a cost of 1, 3 buys less than the one before", "gone is of gold, which the game has no more: it matches nothing",
        "gone too is of weight, which the game has no more: it matches nothing",
    )  # fmt: skip


def test_a_number_priced_for_the_first_time_becomes_a_stat_with_it(workspace):
    roles = workspace.game(GAME).rules["roles"]
    write_rules(workspace, GAME, "roles", {**roles, "stats": ["height"]}, None, "page")
    bare = prices_of(workspace, stats={"height": "1"})
    write_rules(workspace, GAME, "prices", bare, None, "page")
    before = workspace.game(GAME).rules
    commit = write_rules(
        workspace, GAME, "prices", {**bare, "stats": {"height": "1", "root": "0.5", "cost": "9"}}, None, "page"
    )
    assert commit.after.rulebook.roles.stats == ("height", "root"), "the cost is paid, and no stat"
    plant = next(card for card in commit.after.cards.values() if card.number("root"))
    assert any(
        line.what.startswith("Root") and line.points is not None
        for line in detail_of(commit.after, plant).ledger.lines
    )
    undo(workspace, GAME, "page")
    assert workspace.game(GAME).rules == before, "one step"


def test_decks_that_would_break_are_named_and_texts_counted(workspace):
    game = workspace.game(GAME)
    (first, *_), names = (
        game.rules["formats"],
        sorted(each.name for each in game.decks.values() if each.name != "Night Garden, draft"),
    )
    look = preview_part(game, "formats", [{**first, "least_cards": 60, "most_cards": 60}])
    assert sorted(look.decks) == names and look.mended == () and look.verdicts == look.texts == 0
    assert look.said == (f"{len(names)} decks would no longer be legal: {', '.join(look.decks)}",)
    write_rules(workspace, GAME, "formats", [{**first, "least_cards": 60, "most_cards": 60}], None, "page")
    back = preview_part(workspace.game(GAME), "formats", [first])
    assert sorted(back.mended) == names and back.decks == ()
    commit = write_rules(workspace, GAME, "formats", [first], None, "page")
    assert sorted(each.name for each in ripple_of(commit).decks if each.legal and not each.was_legal) == names


def test_a_resource_that_worths_name_leaves_them_behind(workspace):
    game = workspace.game(GAME)
    resources = [
        *game.rules["resources"],
        {"id": "compost", "name": "Compost", "names": "Compost", "symbol": "drop"},
    ]
    write_rules(workspace, GAME, "resources", resources, None, "page")
    row = {"id": "compost", "verb": "gain", "resource": "compost", "curve": {"each": "1"}}
    write_rules(
        workspace, GAME, "prices", prices_of(workspace, rows=[*game.rules["prices"]["rows"], row]), None, "page"
    )
    look = preview_part(workspace.game(GAME), "resources", game.rules["resources"])
    assert look.said == ("1 worth would match nothing: compost",)
    with pytest.raises(Refused, match="cards gain or lose it"):
        preview_part(workspace.game(GAME), "resources", game.rules["resources"][:1])


def test_phrases_are_counted_with_samples_of_the_cards_that_say_them(workspace):
    game = workspace.game(GAME)
    words = game.rules["phrases"]
    value = {**words, "verbs": {**words["verbs"], "draw": "draw a card {each}"}}
    look = preview_phrases(game, value, "verbs/draw")
    assert look.reworded == look.uses["verbs/draw"] == 26 and len(look.samples) == 8
    assert all(
        "take 1 card" in " ".join(each.before).lower() and "draw a card" in " ".join(each.after).lower()
        for each in look.samples
    )
    commit = write_rules(workspace, GAME, "phrases", value, None, "page")
    ripple = ripple_of(commit)
    assert (
        ripple.card_count == 26
        and {each.face for each in ripple.cards} == {"re-laid"}
        and ripple.verdicts == 0
    )
    same = preview_phrases(game, words, "verbs/draw")
    assert (
        same.reworded == 0 and all(each.before == each.after for each in same.samples) and same.lacking == {}
    )
    lacking = preview_phrases(game, {**words, "verbs": {**words["verbs"], "deals": "some {damage}"}}, None)
    assert lacking.lacking == {"verbs/deals": ("n", "target")} and lacking.samples == ()


def test_a_broken_phrase_is_refused_and_one_that_was_already_broken_is_left_alone(workspace):
    words = workspace.game(GAME).rules["phrases"]
    for verbs in ({"draw": "{nn} cards"}, {"draw": "{n cards"}, {"draw": "n}"}):
        with pytest.raises(Refused, match="not a part of it|no part of it|no partner") as caught:
            write_rules(workspace, GAME, "phrases", {**words, "verbs": {**words["verbs"], **verbs}}, None, "page")
        problem = caught.value.problem
        assert problem.where == "phrase “draw, one”" and "{n}" in problem.mend
    # Words from before phrases were looked at may be broken: other edits of the book go through.
    broken = with_part(workspace.game(GAME), "phrases", words)
    rulebook = broken.rulebook.model_copy(
        update={"phrases": broken.rulebook.phrases.model_copy(update={"verbs": {"draw": "{nn}"}})}
    )
    old = broken.__class__(
        **{**{name: getattr(broken, name) for name in broken.__dataclass_fields__}, "rulebook": rulebook}
    )
    assert part_changes(old, "phrases", {**old.rules["phrases"], "damage": "rust"})


@pytest.mark.parametrize("game_id", GAMES)
def test_a_book_written_as_it_is_said_says_the_same(workspace, game_id):
    """Every slot of every demo game, set to the default words, rewords no card."""
    game = workspace.game(game_id)
    words = json.loads(json.dumps(game.rules["phrases"]))
    for slot in phrase_book(game.rulebook):
        if slot.key and slot.written(game.rulebook.phrases) is None:
            words[slot.room][slot.key] = slot.unwritten(game.rulebook.phrases)
    assert preview_phrases(game, words).reworded == 0


def test_any_row_of_rule_edits_is_undone_step_by_step(workspace):
    """By seed: parts in any order, each undone to the very rules before it."""
    chance = random.Random(SEED)
    sun, boxes = store_picture(workspace, picture("red")), store_font(workspace, made_font()).sha
    edits = {
        "tags": lambda now: [*now["tags"], f"tag {chance.randrange(10**6)}"],
        "prices": lambda now: {**now["prices"], "stats": {stat: str(chance.randrange(1, 400) / 100) for stat in now["prices"]["stats"]}},
        "phrases": lambda now: {**now["phrases"], "damage": f"rust {chance.randrange(10**6)}"},
        "table": lambda now: {**now["table"], "opening_hand": chance.choice([hand for hand in range(1, 20) if hand != now["table"]["opening_hand"]])},
        "formats": lambda now: [{**now["formats"][0], "copies": now["formats"][0]["copies"] + 1}],
        "resources": lambda now: [{**each, "start": (each["start"] or 0) + 1} for each in now["resources"]],
        "roles": lambda now: {**now["roles"], "stats": now["roles"]["stats"][::-1]},
        "play": lambda now: {"seats": 1, "zones": [{"id": "forecast", "name": "Weather glass"}], "phases": [{"id": "dawn", "name": f"Turn {chance.randrange(10**6)}", "does": [{"do": "play"}]}]},
        "name": lambda now: f"{now['name']} again",
        "symbols": lambda now: [*now["symbols"], {"id": f"own-{len(now['symbols'])}", "name": f"Sun {len(now['symbols'])}", "art": sun}],
        "fonts": lambda now: [*now["fonts"], {"id": f"own-{len(now['fonts'])}", "name": f"Boxes {len(now['fonts'])}", "file": boxes}],
    }  # fmt: skip
    assert set(edits) == set(PARTS)
    states = [workspace.game(GAME).rules]
    for part in chance.choices(list(edits), k=12):
        value = edits[part](states[-1])
        would = with_part(workspace.game(GAME), part, value).rules
        states.append(write_rules(workspace, GAME, part, value, None, "page").after.rules)
        assert would == states[-1], part
    for state in reversed(states[:-1]):
        undo(workspace, GAME, "page")
        assert workspace.game(GAME).rules == state


def test_a_shared_copy_has_worths_when_asked_and_never_a_private_row(workspace):
    rows = [{**row, "private": row["id"] == "mildew"} for row in workspace.game(GAME).rules["prices"]["rows"]]
    write_rules(workspace, GAME, "prices", prices_of(workspace, rows=rows), None, "page")
    game = workspace.game(GAME)
    bare, told, whole = (
        archive(workspace, game, shared=True),
        archive(workspace, game, shared=True, worths=True),
        archive(workspace, game),
    )
    assert "prices.json" not in zipfile.ZipFile(io.BytesIO(bare)).namelist()
    for name in zipfile.ZipFile(io.BytesIO(told)).namelist():
        text = zipfile.ZipFile(io.BytesIO(told)).read(name)
        assert b'"private": true' not in text and not (name == "prices.json" and b'"mildew"' in text), name
    copy = restore_game(workspace, told, "A copy")
    assert [row.id for row in copy.prices.rows] == [row["id"] for row in rows if not row["private"]]
    hit = [card for card in game.pricing.by_row["mildew"]]
    assert hit and all(
        detail_of(copy, card).ledger.judgement == "open"
        for card in copy.cards.values()
        if "deal" in detail_of(copy, card).printed.lines
    )
    assert [row.private for row in restore_game(workspace, whole, "Mine again").prices.rows] == [
        row["private"] for row in rows
    ]


def test_a_budget_is_fitted_to_the_cards_of_its_type_with_the_allowance_of_their_rarity_left_out(workspace):
    game = workspace.game(GAME)
    fitted, cards = budget_fit(game, game.rules["prices"], "plant")
    plants = [each for each in game.pricing.map.cards if game.cards[each.card].type == "plant"]
    assert cards == len(plants) and list(fitted.by_cost) == sorted(fitted.by_cost)
    assert fitted.rarity == (game.prices.budgets.get("plant") or game.prices.budgets[""]).rarity
    dear = {**game.rules["prices"], "stats": {each: str(2 * float(worth)) for each, worth in game.rules["prices"]["stats"].items()}}
    assert budget_fit(game, dear, "plant")[0].by_cost[-1] > fitted.by_cost[-1], "with the worths that are given, not those written"
    assert budget_fit(game, game.rules["prices"], "no-such-type") is None
    assert workspace.game(GAME).seq == game.seq
