"""Renamed keywords: changed in every text of the game, and nowhere else."""

from __future__ import annotations

import random
import re

import pytest
from bench.fuzz import whole

from dramok.core.effects import Script
from dramok.core.effects.script import Line
from dramok.services.cards.card_detail import detail_of
from dramok.services.cards.cells import CellEdit, write_cells
from dramok.services.games.games import create_game_from_sheet
from dramok.services.history.undo import undo
from dramok.services.rules.keywords import plan_keywords, write_keywords
from dramok.services.rules.rule_parts import write_rules
from tests.conftest import GAME, SEED
from tests.services.test_references import with_keywords

FROND = f"c-{GAME}-rs-002"


def keywords(workspace, *more):
    return [*({"name": each.name, "reminder": each.reminder} for each in workspace.game(GAME).rulebook.keywords), *more]


def rename(workspace, game, keywords, old, new):
    """Writes one more keyword, and then renames it."""
    write_keywords(workspace, game, [*keywords, {"name": old, "reminder": f"{old}: {{{old}}}"}], workspace.game(game).seq, "one")
    return write_keywords(workspace, game, [*keywords, {"name": new, "reminder": f"{old}: {{{old}}}"}], workspace.game(game).seq, "one", renames={old: new})


def printed(game):
    return tuple(detail_of(game, game.cards[FROND]).printed.lines)


@pytest.mark.parametrize("old", ["n", "what", "each", "target", "group", "stat"])
def test_a_keyword_called_like_a_part_of_a_phrase_leaves_the_phrases_whole(workspace, old):
    before = workspace.game(GAME)
    rename(workspace, GAME, keywords(workspace), old, "zorbig")
    now = workspace.game(GAME)
    assert printed(now) == printed(before) == ("As it comes up: take 1 card from your pile.",)
    assert now.rulebook.keywords[-1].reminder == f"zorbig: {{{old}}}", "a symbol in braces stays; the word beside it does not"
    braces = [re.findall(r"{[^{}]*}", str(each.rulebook.phrases.model_dump(mode="json"))) for each in (before, now)]
    assert braces[0] == braces[1]


def test_what_a_card_is_called_does_not_follow_a_keyword_whatever_the_field_of_names_is(workspace):
    sheet = b"Title,Kind,Power,Text\nMorning Mist,Beast,3,Mist rolls in\nOther,Beast,2,no\n"
    game, _ = create_game_from_sheet(workspace, sheet, "mine.csv", "Mine")
    assert game.rulebook.roles.name == "title"
    rename(workspace, game.id, [], "mist", "haze")
    now = workspace.game(game.id)
    assert [now.title(each) for each in now.cards.values()] == ["Morning Mist", "Other"]
    assert next(iter(now.cards.values())).values["text"] == "Haze rolls in"


def test_prose_of_effects_is_renamed_on_cards_and_in_keywords(workspace):
    draft = "something of mildew that no line says yet"
    with_keywords(workspace, rooted=Script(lines=(Line(ability=None, draft=draft),)))
    done = write_cells(workspace, GAME, [CellEdit(FROND, "effect", f"{draft}\nupon play this: draw 1")], workspace.game(GAME).seq, "one")
    assert not done.refused
    before = whole(workspace.game(GAME))
    wanted = [{**each, "name": "canker"} if each["name"] == "mildew" else each for each in keywords(workspace)]
    write_keywords(workspace, GAME, wanted, workspace.game(GAME).seq, "one", renames={"mildew": "canker"})
    now = workspace.game(GAME)
    said = [now.cards[FROND].values["effect"].lines[0].draft, now.rulebook.keywords[-1].effect.lines[0].draft]
    assert said == [draft.replace("mildew", "canker")] * 2
    undo(workspace, GAME, "one")
    assert whole(workspace.game(GAME)) == before


@pytest.mark.parametrize("turn", range(4))
def test_any_words_in_any_texts_are_renamed_as_whole_words_outside_braces(workspace, turn):
    """Held against splitting each text at its words."""
    dice = random.Random(f"{SEED} {turn}")
    words = ["mist", "Mist", "MIST", "{mist}", "misty", "amist", "mist's", "dew", "{1 dew}", "{", "}", "x{mist", "·", "né"]
    cards = list(workspace.game(GAME).cards)[:8]
    texts = {card: " ".join(dice.choices(words, k=dice.randint(1, 12))) for card in cards}
    done = write_cells(workspace, GAME, [CellEdit(card, "printed", text) for card, text in texts.items()], workspace.game(GAME).seq, "one")
    assert not done.refused, done.refused
    old, new = dice.choice([("mist", "haze"), ("mist", "slow haze"), ("dew", "x")])
    more = [{"name": old, "reminder": ""}]
    write_keywords(workspace, GAME, keywords(workspace, *more), workspace.game(GAME).seq, "one")
    wanted = [{**each, "name": new} if each["name"] == old else each for each in keywords(workspace)]
    plan = plan_keywords(workspace.game(GAME), wanted, {old: new})
    write_keywords(workspace, GAME, wanted, workspace.game(GAME).seq, "one", renames={old: new})

    def after(text: str) -> str:
        said = []
        for part in re.split(r"({[^{}]*}|\w+)", text):
            meant = part.lower() == old
            said.append((new[:1].upper() + new[1:] if part[:1].isupper() else new) if meant else part)
        return "".join(said)

    now = workspace.game(GAME).cards
    assert {card: now[card].values["printed"] for card in cards} == {card: after(text) for card, text in texts.items()}
    changed = {card for card in cards if after(texts[card]) != texts[card]}
    assert changed <= {use.card for use in plan.uses}


def test_worths_of_a_renamed_keyword_are_worths_of_its_new_name(workspace):
    write_keywords(workspace, GAME, keywords(workspace, {"name": "Hushed", "reminder": "It makes no sound."}), workspace.game(GAME).seq, "one")
    row = {"verb": "has", "stat": "hushed", "curve": {"each": "2.5"}}
    other = {"id": "hushed things", "verb": "draw", "curve": {"each": "1"}}
    prices = workspace.game(GAME).rules["prices"]
    write_rules(workspace, GAME, "prices", {**prices, "rows": [*prices["rows"], {**row, "id": "hushed on a plant"}, other]}, None, "one")
    write_cells(workspace, GAME, [CellEdit(FROND, "effect", "has hushed")], workspace.game(GAME).seq, "one")
    worth = detail_of(workspace.game(GAME), workspace.game(GAME).cards[FROND]).ledger.worth
    plan = plan_keywords(workspace.game(GAME), keywords_with(workspace, "Silent"), {"Hushed": "Silent"})
    assert ("the worths", "hushed on a plant", "Silent on a plant") in {(each.where, each.before, each.after) for each in plan.uses}
    write_keywords(workspace, GAME, keywords_with(workspace, "Silent"), workspace.game(GAME).seq, "one", renames={"Hushed": "Silent"})
    now = workspace.game(GAME)
    assert [(each.id, each.stat) for each in now.prices.rows[-2:]] == [("Silent on a plant", "silent"), ("hushed things", None)]
    assert detail_of(now, now.cards[FROND]).ledger.worth == worth, "the card is worth what it was"
    undo(workspace, GAME, "one")
    assert [each.stat for each in workspace.game(GAME).prices.rows[-2:]] == ["hushed", None]


def keywords_with(workspace, name):
    """The game's keywords with the last one under another name."""
    return [*keywords(workspace)[:-1], {**keywords(workspace)[-1], "name": name}]
