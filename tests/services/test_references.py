"""Something that effects refer to cannot be removed, whether cards, keywords or both do; anything else can, and undo restores it."""

from __future__ import annotations

import json

import pytest

from dramok.core.effects import Script, read_script
from dramok.core.effects.references import Subject, refers_to, replace_reference
from dramok.core.rulebook import Keyword
from dramok.core.rulebook.part_edit import part_of
from dramok.services import Refused
from dramok.services.cards.card_edits import edit_field
from dramok.services.history.undo import undo
from dramok.services.rules.keywords import write_keywords
from dramok.services.rules.rule_parts import write_rules
from dramok.services.workspace.references import referrers_of
from dramok.store import Change
from tests.conftest import GAME


def with_keywords(workspace, **effects: Script):
    """The game with more keywords, each with what it does."""
    rulebook = workspace.game(GAME).rulebook
    more = tuple(Keyword(name=name, effect=effect) for name, effect in effects.items())
    after = rulebook.model_copy(update={"keywords": (*rulebook.keywords, *more)})
    change = Change("game", GAME, "keywords", *(json.dumps(part_of(each, "keywords")) for each in (rulebook, after)))
    return workspace.commit(GAME, "keywords", "one", lambda _: [change])


def without(workspace, subject: Subject):
    """Writes the rules without a thing."""
    game = workspace.game(GAME)
    if subject.kind == "resource":
        return write_rules(workspace, GAME, "resources", [each for each in game.rules["resources"] if each["id"] != subject.ident], None, "one")
    part = {"zone": "zones", "phase": "phases"}[subject.kind]
    play = part_of(game.rulebook, "play")
    return write_rules(workspace, GAME, "play", {**play, part: [each for each in play[part] if each["id"] != subject.ident]}, None, "one")


def subjects(game):
    yield from (Subject("resource", each.id) for each in game.rulebook.resources)
    yield from (Subject("zone", each.id) for each in game.rulebook.played.zones)
    yield from (Subject("phase", each.id) for each in game.rulebook.played.phases)


def script_about(game, subject: Subject) -> Script | None:
    scripts = (value for card in game.cards.values() for value in card.values.values() if isinstance(value, Script))
    return next((each for each in scripts if refers_to(each, subject)), None)


def test_things_that_only_a_keyword_refers_to_are_not_removed(workspace):
    about = {each: script_about(workspace.game(GAME), each) for each in subjects(workspace.game(GAME))}
    about = {each: script for each, script in about.items() if script is not None}
    # The rules keep resources that are paid with and the zones they send cards to, so the test uses a zone that only effects mention.
    forecast, attic = Subject("zone", "forecast"), Subject("zone", "attic")
    play = part_of(workspace.game(GAME).rulebook, "play")
    write_rules(workspace, GAME, "play", {**play, "zones": [*play["zones"], {"id": "attic", "name": "Attic"}]}, None, "one")
    about[attic] = replace_reference(about.pop(forecast), forecast, "attic")
    del about[Subject("resource", workspace.game(GAME).rulebook.table.pays)]
    assert {each.kind for each in about} == {"resource", "zone", "phase"}, "the demo game speaks of one of each"
    with_keywords(workspace, **{f"Speaks of {each.ident}": script for each, script in about.items()})
    for card in list(workspace.game(GAME).cards.values()):
        for field, value in card.values.items():
            if isinstance(value, Script) and value.lines:
                edit_field(workspace, GAME, card.id, field, "", workspace.game(GAME).seq, "one")
    for subject in about:
        cards, keywords, actions = referrers_of(workspace.game(GAME), subject)
        assert not cards and not actions and f"Speaks of {subject.ident}" in keywords
        before = workspace.game(GAME)
        with pytest.raises(Refused) as refused:
            without(workspace, subject)
        problem = refused.value.problem
        one = len(keywords) == 1
        does = ("gains or loses it" if one else "gain or lose it") if subject.kind == "resource" else "speaks of it" if one else "speak of it"
        assert problem.what.startswith(f"{len(keywords)} keyword{'' if one else 's'} {does}: {keywords[0]}"), problem
        assert problem.mend == "write those effects without it first, or rename it" and workspace.game(GAME) is before


def test_cards_and_keywords_are_counted_apart_and_few_are_named(workspace):
    game = workspace.game(GAME)
    tidal, _ = read_script("upon play this: gain 2 ribbon", game.vocabulary)
    with_keywords(workspace, Tidal=tidal)
    cards, keywords, _ = referrers_of(workspace.game(GAME), Subject("resource", "ribbon"))
    assert keywords == ["Tidal"] and len(cards) > 3
    with pytest.raises(Refused, match=rf"{len(cards)} cards and 1 keyword gain or lose it: {cards[0]}, {cards[1]}, {cards[2]} and {len(cards) - 2} more"):
        without(workspace, Subject("resource", "ribbon"))


def test_a_keyword_that_another_gives_stays_until_both_go(workspace):
    plain, _ = read_script("upon play this: draw 1", workspace.game(GAME).vocabulary)
    with_keywords(workspace, Thorny=plain)
    gives, problems = read_script("upon play this: grant thorny to this", workspace.game(GAME).vocabulary)
    assert gives.lines and gives.lines[0].ability is not None, problems
    with_keywords(workspace, Bramble=gives)
    first = workspace.game(GAME)

    def but(*gone: str):
        kept = [{"name": each.name, "reminder": each.reminder} for each in workspace.game(GAME).rulebook.keywords if each.name not in gone]
        return write_keywords(workspace, GAME, kept, workspace.game(GAME).seq, "one")

    with pytest.raises(Refused, match="1 keyword speaks of it: Bramble"):
        but("Thorny")
    assert workspace.game(GAME) is first
    but("Thorny", "Bramble")
    assert {"Thorny", "Bramble"}.isdisjoint(each.name for each in workspace.game(GAME).rulebook.keywords)
    undo(workspace, GAME, "one")
    assert workspace.game(GAME).rulebook.keywords == first.rulebook.keywords
    but("Bramble")
    but("Thorny")
