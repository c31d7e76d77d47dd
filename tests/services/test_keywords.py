"""Keywords that are renamed: in every text of the game, and in nothing that is no text of theirs."""

from __future__ import annotations

import random
import re

import pytest
from bench.fuzz import whole

from dramok.core.effects import Script
from dramok.core.effects.script import Line
from dramok.services.cards.card_detail import sheet_of
from dramok.services.cards.cells import CellEdit, write_cells
from dramok.services.games.games import begin_from_sheet
from dramok.services.history.undo import undo
from dramok.services.rules.keywords import plan_keywords, write_keywords
from dramok.services.rules.rule_parts import write_rules
from tests.conftest import GAME, SEED
from tests.services.test_references import with_keywords

FROND = f"c-{GAME}-rs-002"


def keywords(desk, *more):
    return [*({"name": each.name, "reminder": each.reminder} for each in desk.game(GAME).rulebook.keywords), *more]


def rename(desk, game, keywords, old, new):
    """Writes one keyword beside those there are, and then gives it another name."""
    write_keywords(desk, game, [*keywords, {"name": old, "reminder": f"{old}: {{{old}}}"}], desk.game(game).seq, "one")
    return write_keywords(desk, game, [*keywords, {"name": new, "reminder": f"{old}: {{{old}}}"}], desk.game(game).seq, "one", renames={old: new})


def printed(game):
    return tuple(sheet_of(game, game.cards[FROND]).printed.lines)


@pytest.mark.parametrize("old", ["n", "what", "each", "target", "group", "stat"])
def test_a_keyword_called_like_a_part_of_a_phrase_leaves_the_phrases_whole(desk, old):
    before = desk.game(GAME)
    rename(desk, GAME, keywords(desk), old, "zorbig")
    now = desk.game(GAME)
    assert printed(now) == printed(before) == ("As it comes up: take 1 card from your pile.",)
    assert now.rulebook.keywords[-1].reminder == f"zorbig: {{{old}}}", "a symbol in braces stays; the word beside it does not"
    braces = [re.findall(r"{[^{}]*}", str(each.rulebook.phrases.model_dump(mode="json"))) for each in (before, now)]
    assert braces[0] == braces[1]


def test_what_a_card_is_called_does_not_follow_a_keyword_whatever_the_field_of_names_is(desk):
    sheet = b"Title,Kind,Power,Text\nMorning Mist,Beast,3,Mist rolls in\nOther,Beast,2,no\n"
    game, _ = begin_from_sheet(desk, sheet, "mine.csv", "Mine")
    assert game.rulebook.roles.name == "title"
    rename(desk, game.id, [], "mist", "haze")
    now = desk.game(game.id)
    assert [now.title(each) for each in now.cards.values()] == ["Morning Mist", "Other"]
    assert next(iter(now.cards.values())).values["text"] == "Haze rolls in"


def test_prose_of_effects_is_renamed_on_cards_and_in_keywords(desk):
    draft = "something of mildew that no line says yet"
    with_keywords(desk, rooted=Script(lines=(Line(ability=None, draft=draft),)))
    done = write_cells(desk, GAME, [CellEdit(FROND, "effect", f"{draft}\nupon play this: draw 1")], desk.game(GAME).seq, "one")
    assert not done.refused
    before = whole(desk.game(GAME))
    wanted = [{**each, "name": "canker"} if each["name"] == "mildew" else each for each in keywords(desk)]
    write_keywords(desk, GAME, wanted, desk.game(GAME).seq, "one", renames={"mildew": "canker"})
    now = desk.game(GAME)
    said = [now.cards[FROND].values["effect"].lines[0].draft, now.rulebook.keywords[-1].effect.lines[0].draft]
    assert said == [draft.replace("mildew", "canker")] * 2
    undo(desk, GAME, "one")
    assert whole(desk.game(GAME)) == before


@pytest.mark.parametrize("turn", range(4))
def test_any_words_in_any_texts_are_renamed_where_they_stand_alone_and_outside_braces(desk, turn):
    """Held against splitting each text at its words."""
    dice = random.Random(f"{SEED} {turn}")
    words = ["mist", "Mist", "MIST", "{mist}", "misty", "amist", "mist's", "dew", "{1 dew}", "{", "}", "x{mist", "·", "né"]
    cards = list(desk.game(GAME).cards)[:8]
    texts = {card: " ".join(dice.choices(words, k=dice.randint(1, 12))) for card in cards}
    done = write_cells(desk, GAME, [CellEdit(card, "printed", text) for card, text in texts.items()], desk.game(GAME).seq, "one")
    assert not done.refused, done.refused
    old, new = dice.choice([("mist", "haze"), ("mist", "slow haze"), ("dew", "x")])
    more = [{"name": old, "reminder": ""}]
    write_keywords(desk, GAME, keywords(desk, *more), desk.game(GAME).seq, "one")
    wanted = [{**each, "name": new} if each["name"] == old else each for each in keywords(desk)]
    plan = plan_keywords(desk.game(GAME), wanted, {old: new})
    write_keywords(desk, GAME, wanted, desk.game(GAME).seq, "one", renames={old: new})

    def after(text: str) -> str:
        said = []
        for part in re.split(r"({[^{}]*}|\w+)", text):
            meant = part.lower() == old
            said.append((new[:1].upper() + new[1:] if part[:1].isupper() else new) if meant else part)
        return "".join(said)

    now = desk.game(GAME).cards
    assert {card: now[card].values["printed"] for card in cards} == {card: after(text) for card, text in texts.items()}
    changed = {card for card in cards if after(texts[card]) != texts[card]}
    assert changed <= {use.card for use in plan.uses}


def test_worths_of_a_renamed_keyword_are_worths_of_its_new_name(desk):
    write_keywords(desk, GAME, keywords(desk, {"name": "Hushed", "reminder": "It makes no sound."}), desk.game(GAME).seq, "one")
    row = {"verb": "has", "stat": "hushed", "curve": {"each": "2.5"}}
    other = {"id": "hushed things", "verb": "draw", "curve": {"each": "1"}}
    prices = desk.game(GAME).rules["prices"]
    write_rules(desk, GAME, "prices", {**prices, "rows": [*prices["rows"], {**row, "id": "hushed on a plant"}, other]}, None, "one")
    write_cells(desk, GAME, [CellEdit(FROND, "effect", "has hushed")], desk.game(GAME).seq, "one")
    worth = sheet_of(desk.game(GAME), desk.game(GAME).cards[FROND]).ledger.worth
    plan = plan_keywords(desk.game(GAME), keywords_with(desk, "Silent"), {"Hushed": "Silent"})
    assert ("the worths", "hushed on a plant", "Silent on a plant") in {(each.where, each.before, each.after) for each in plan.uses}
    write_keywords(desk, GAME, keywords_with(desk, "Silent"), desk.game(GAME).seq, "one", renames={"Hushed": "Silent"})
    now = desk.game(GAME)
    assert [(each.id, each.stat) for each in now.prices.rows[-2:]] == [("Silent on a plant", "silent"), ("hushed things", None)]
    assert sheet_of(now, now.cards[FROND]).ledger.worth == worth, "the card is worth what it was"
    undo(desk, GAME, "one")
    assert [each.stat for each in desk.game(GAME).prices.rows[-2:]] == ["hushed", None]


def keywords_with(desk, name):
    """The game's keywords with the last one under another name."""
    return [*keywords(desk)[:-1], {**keywords(desk)[-1], "name": name}]
