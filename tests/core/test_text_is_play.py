"""Printed text equals behaviour: two lines that differ in play never print the same, and the text is correct English in every phrase book we ship."""

from __future__ import annotations

import json
from collections.abc import Iterator
from copy import deepcopy
from functools import cache
from importlib.resources import files
from random import Random
from typing import Any

import pytest
from pydantic import TypeAdapter, ValidationError

from dramok.core.effects import ability_text, parse_ability
from dramok.core.effects.model import Ability
from dramok.core.effects.verbs import FORBIDDEN, VERBS
from dramok.core.rulebook import GameVocabulary, Rulebook
from dramok.core.wording.printed_text import LineWriter
from tests.conftest import SEED
from tests.core.any_line import Lines, in_play
from tests.core.english import doing, faults
from tests.core.invented_world import duel

ABILITY: TypeAdapter[Any] = TypeAdapter(Ability)
BOOKS = ["default", "demo/ribbon-season", "demo/potting-shed", "demo/crowded-bed", "templates/builder", "templates/duel", "templates/placement", "templates/plain", "templates/solo"]
NUMBER = 20_000


@cache
def rules_with(book: str) -> tuple[Rulebook, GameVocabulary]:
    """The small game of the tests with the phrase book and the names of zones of a game that we ship."""
    document = duel(zones=[{"id": "bench", "name": "Bench"}]).model_dump(mode="json")
    document["phrases"] = {}
    if book != "default":
        folder, name = book.split("/")
        found = json.loads(files(f"dramok.{folder}").joinpath(f"{name}.json").read_text(encoding="utf-8"))
        document["phrases"] = found.get("rulebook", found).get("phrases") or {}
    rules = Rulebook.model_validate(document)
    return rules, GameVocabulary(rules, ("climber", "night bloom"), lambda: {"c1": "Sprig", "c2": "Old Root"})


def read(line: str, book: str = "default") -> Any:
    ability, problems = parse_ability(line, rules_with(book)[1])
    assert ability is not None, (line, problems)
    return ability


def printed(ability: Any, book: str = "default") -> str:
    return LineWriter(*rules_with(book)).ability(ability)


def played(ability: Any) -> str:
    return json.dumps(in_play(ability.model_dump(mode="json")), sort_keys=True)


def lines(dice: Random, number: int) -> Iterator[str]:
    """Long ones, and short ones, of which more by chance are nearly the same."""
    for each in range(number):
        text = Lines(dice, depth=each % 3).one()
        if len(text) <= 500:
            yield text


@pytest.mark.parametrize("part", range(2))
def test_no_two_behaviours_print_alike(part: int) -> None:
    """Some ten thousand lines of the whole grammar, other ones in each run, and of each another one that differs from it in one place."""
    dice = Random(f"{SEED} alike {part}")
    known: dict[str, tuple[str, str]] = {}
    for text in lines(dice, NUMBER // 4):
        one = read(text)
        for each in (one, sibling(dice, one)):
            if each is not None:
                said, does = printed(each), played(each)
                other, line = known.setdefault(said, (does, text))
                assert other == does, f"{said}\n  {line}\n  {ability_text(each, rules_with('default')[1])}"


@pytest.mark.parametrize("book", BOOKS)
def test_every_shipped_book_says_what_is_played_in_english(book: str) -> None:
    dice = Random(f"{SEED} book {book}")
    known: dict[str, tuple[str, str]] = {}
    verbs = doing(rules_with(book)[0].phrases)
    for text in lines(dice, NUMBER // 8 if book == "default" else 1_200):
        one = read(text, book)
        said = printed(one, book)
        assert known.setdefault(said, (played(one), text))[0] == played(one), f"{said}\n  {known[said][1]}\n  {text}"
        assert not faults(said, verbs), f"{faults(said, verbs)}: {said}\n  {text}"


SWAPS = [
    {"deal", "heal", "shield"}, {"gain", "lose"}, {"raise", "lower"}, {"destroy", "tilt", "straighten", "remove", "return"}, {"draw", "discard"}, {"grant", "strip"},
]  # fmt: skip
OTHERS: dict[str, list[Any]] = {
    "side": ["own", "rival", "any"], "compare": ["is", "above", "under"], "at": ["begin", "end"], "each": ["turn", "game"], "place": ["top", "bottom"], "up": [True, False],
    "how": ["+", "-", "x", "least", "most"], "phase": [None, "dawn", "tending"], "seats": [None, "rival", "all"], "act": [*FORBIDDEN], "type": [None, "plant", "weather"],
    "of": ["this", "host"], "resource": ["water", "ribbon"], "stat": ["height", "root"], "keyword": ["grafted", "night bloom"], "card": ["c1", "c2"],
    "state": ["tilted", "hurt", "created"], "zone": ["hand", "discard", "draw", "removed", "bench"],
}  # fmt: skip


def sibling(dice: Random, ability: Any) -> Any:
    """The line with one thing changed: a word, a number, what is in a block and what comes after it, which of two amounts is reckoned first. None where
    that makes no line that can be read."""
    document = ability.model_dump(mode="json")
    places = list(changes(document))
    if not places:
        return None
    change = dice.choice(places)
    change(dice)
    try:
        made = ABILITY.validate_python(document)
    except ValidationError:
        return None
    vocabulary = rules_with("default")[1]
    text = ability_text(made, vocabulary)
    again, _ = parse_ability(text, vocabulary) if len(text) <= 500 else (None, ())
    return again


def changes(document: Any) -> Iterator[Any]:
    """Functions that each change one place of a document."""
    if isinstance(document, list):
        if len(document) > 1 and all(isinstance(each, dict) and "verb" in each for each in document):
            yield lambda dice: document.reverse()
        for at, each in enumerate(document):
            if isinstance(each, dict) and each.get("steps") and len(each["steps"]) > 1:
                # The last step of a block comes after it instead.
                yield lambda dice, at=at, each=each: document.insert(at + 1, each["steps"].pop())
            if isinstance(each, dict) and each.get("kind") in ("tag", "stat", "keyword", "choice", "state", "other", "not"):
                yield lambda dice, at=at, each=each: document.__setitem__(at, each["filter"] if each["kind"] == "not" else {"kind": "not", "filter": deepcopy(each)})
            yield from changes(each)
        return
    if not isinstance(document, dict):
        return
    for key, value in document.items():
        if key in OTHERS and not isinstance(value, dict | list) and value in OTHERS[key]:
            yield lambda dice, key=key, value=value: document.__setitem__(key, dice.choice([each for each in OTHERS[key] if each != value]))
        if key in ("value", "number", "least", "most", "choose") and isinstance(value, int) and not isinstance(value, bool):
            yield lambda dice, key=key, value=value: document.__setitem__(key, max(0, value + dice.choice([-1, 1])))
        if key == "verb":
            group = next((group for group in SWAPS if value in group), None)
            if group is not None:
                yield lambda dice, value=value, group=group: document.__setitem__("verb", dice.choice(sorted(group - {value})))
        if key in ("left", "right") and isinstance(value, dict) and value.get("kind") == document.get("kind") == "reckoned":
            yield lambda dice: rotate(document)
        if key == "of_it":
            yield lambda dice, value=value: document.__setitem__("of_it", not value)
        yield from changes(value)


def rotate(document: dict[str, Any]) -> None:
    """(a - b) + c becomes a - (b + c), or the other way round."""
    left, right = document["left"], document["right"]
    if left.get("kind") == "reckoned":
        document.update(how=left["how"], left=left["left"], right={**left, "how": document["how"], "left": left["right"], "right": right})
    else:
        document.update(how=right["how"], left={**right, "how": document["how"], "left": left, "right": right["left"]}, right=right["right"])


@pytest.mark.parametrize(
    ("line", "text"),
    [
        # A guard and a limit hold for every step.
        ("upon enter this, if held ribbon above 2: draw 1; gain 2 water", "When it comes into play, if your {ribbon} is above 2: draw 1 card. Gain 2 {water}."),
        ("upon enter this: if held ribbon above 2 (draw 1); gain 2 water", "When it comes into play: if your {ribbon} is above 2, draw 1 card. Gain 2 {water}."),
        ("upon hurt this from rival plant, limit 2 a turn: deal 1 to that", "When it is hurt by a plant of your rival, up to 2 times a turn: deal 1 damage to the card that hurt it."),
        ("offer tilt this + pay 2 water, limit 1 a game: draw 1", "Tilt this card and pay 2 {water}, once a game: draw 1 card."),
        ("offer free, limit 1 a turn: draw 1", "At no cost, once a turn: draw 1 card."), ("upon gained this: draw 1", "When you gain it: draw 1 card."),
        ("upon play this: gain 2 ribbon for most count (own plant)", "Compare the number of plants of yours: with the most, gain 2 {ribbon}."),
        ("upon play this: discard 1 for least held ribbon", "Compare your {ribbon}: with the least, discard 1 card."),
        # Spans.
        ("upon play this: destroy pick 1..3 plant", "Destroy 1 to 3 plants."), ("upon play this: destroy pick 1..2 plant", "Destroy 1 or 2 plants."), ("upon play this: destroy pick 0..1 plant [other]", "Destroy up to 1 other plant."),
        ("upon play this: destroy pick plant [other]", "Destroy another plant."), ("upon play this: return pick 2 rival plant", "Return 2 plants of your rival to their owners' hands."),
        # Reckoned amounts, and their brackets.
        ("upon play this: create (held ribbon + 1) Sprig", "Create X copies of Sprig, where X is your {ribbon} plus 1."),
        ("upon play this: look count (own plant)", "Look at the top X cards of your draw pile, where X is the number of plants of yours."),
        ("upon play this: draw (held ribbon - (1 + held water))", "Draw X cards, where X is your {ribbon} minus (1 plus your {water})."),
        ("upon play this: draw (held ribbon - 1 + held water)", "Draw X cards, where X is (your {ribbon} minus 1) plus your {water}."),
        ("upon play this: draw (held ribbon); lose (half held water) water", "Draw X cards, where X is your {ribbon}. Lose Y {water}, where Y is half of your {water}, rounded down."),
        # Pronouns.
        ("upon enter plant: deal 1 to that; heal 1 to pick own plant; deal 2 to it", "When a plant comes into play: deal 1 damage to that plant. Heal 1 damage from a plant of yours. Deal 2 damage to the chosen card."),
        ("upon play this: look 2; put pick 1 of it to own hand", "Look at the top 2 cards of your draw pile. Put one of those cards into your hand."),
        ("upon play this: each own plant (deal 1 to it)", "For each plant of yours, deal 1 damage to it."),
        # Whose, and where.
        ("upon gaining rival ribbon above 3: draw 1", "Whenever your rival's {ribbon} increases while it is above 3: draw 1 card."),
        ('upon play this: put pick own plant to rival "in play"', "Put a plant of yours into play on your rival's side."),
        ("upon play this: put pick 2 plant to hand", "Put 2 plants into their owners' hand."),
        ("always: forbid choosing this", "This card can't be chosen by rivals' effects."), ("upon play this: forbid choosing pick own plant", "Keep a plant of yours from being chosen by rivals' effects."),
        ("always: raise height of all own plant [other, not has grafted] by 1", "The height of each other plant of yours without Grafted is 1 higher."),
        # Blocks end where they end.
        ("upon play this: may (draw 1; gain 1 water); lose 1 ribbon", "You may draw 1 card, then gain 1 {water}. Lose 1 {ribbon}."),
        ("upon play this: may (may (draw 1); gain 1 water)", "You may do this: (you may draw 1 card), then gain 1 {water}."),
        ("upon play this: may (may (draw 1; gain 1 water))", "You may do this: (you may do this: (draw 1 card, then gain 1 {water}))."),
        ("upon play this: choose 1 of (draw 1; lose 1 water | deal 1 to all rival plant)", "Choose 1: draw 1 card, then lose 1 {water}; or deal 1 damage to each plant of your rival."),
        ("upon play this: offer pay 1 water (draw 1)", "You may pay 1 {water}; if you do, draw 1 card."),
        ("upon play this: if not held ribbon above 2 or held water is 1 (draw 1) otherwise (draw 2)", "If your {ribbon} is not above 2 or your {water} is 1, draw 1 card; otherwise, draw 2 cards."),
    ],
)  # fmt: skip
def test_worked_examples(line: str, text: str) -> None:
    assert printed(read(line)) == text


@pytest.mark.parametrize(("text", "name"), [
    ("Destroy an unit.", "an before a consonant"), ("Draw a orchid.", "a before a vowel"), ("Draw a other card.", "a other"), ("Put up to 1 cards back.", "one of several"), ("Draw 2 card.", "several of one"),
    ("2 cards has Grafted.", "agreement"), ("Put it into your in play.", "no noun"), ("A non-with Brave card is drawn.", "not so"), ("Draw 1 card (at most 1 times a turn).", "times"),
    ("You may 2 damage to it.", "no verb after may or have"), ("Draw the card card.", "a doubled word"), ("Each plants is hurt.", "a plural after an article"), ("Draw {} cards.", "a hole"),
    ("Draw (1 card.", "brackets"), ("draw 1 card.", "no sentence"),
])  # fmt: skip
def test_the_checker_finds_what_it_looks_for(text: str, name: str) -> None:
    assert name in faults(text, {word.split(" ")[0] for word in VERBS})


def test_what_is_no_fault_is_none() -> None:
    for text in ("Deal 1 damage to 2 cards.", "Deal 1 damage to 1 to 3 cards.", "Put up to 1 card into your hand.", "A unit-like card is drawn.", "Draw an orchid."):
        assert not faults(text, {"draw", "deal", "put"}), text
