"""Write one part of the rules: resources, table, field roles, words, worths, deck rules."""

from __future__ import annotations

import json
from collections.abc import Mapping, Sequence
from dataclasses import replace
from typing import Any

from pydantic import ValidationError

from dramok.core.balance import PriceList
from dramok.core.cards import NumberField
from dramok.core.effects import Vocabulary, parse_amount, read_script
from dramok.core.effects.references import Subject
from dramok.core.problem import Problem
from dramok.core.rulebook import PlayRules, Rulebook
from dramok.core.rulebook.part_edit import BESIDE, amended, part_of
from dramok.core.rulebook.phrases import Phrase, book, broken
from dramok.services.faces.own_files import check_own
from dramok.services.rules.card_types import not_changed_since
from dramok.services.workspace.references import refuse_if_referenced
from dramok.services.workspace.snapshot import GameSnapshot, read_rules, rules_document
from dramok.services.workspace.workspace import Commit, Refused, Workspace
from dramok.store import Change, Key

PARTS = ("name", "roles", "resources", "table", "play", "phrases", "tags", "prices", "formats", "symbols", "fonts")


def write_rules(
    workspace: Workspace,
    game_id: str,
    part: str,
    value: Any,
    base: int | None,
    page: str,
    key: Key | None = None,
    label: str | None = None,
) -> Commit:
    """Write one of `PARTS` as one undoable op.

    With `base` it raises Conflict if the part was changed after that op. Raises Refused for an invalid value.
    """

    def plan(now: GameSnapshot) -> Sequence[Change]:
        if base is not None:
            not_changed_since(workspace, now, part, base, part, page)
        return part_changes(now, part, value)

    said = _SAID.get(part, part) if part != "play" else _play_said(workspace.game(game_id).rulebook.play, value)
    return workspace.commit(game_id, label or f"{said} changed", page, plan, key=key)


def _play_said(before: PlayRules | None, value: Any) -> str:
    """The names of the parts of the play rules that an edit changes."""
    try:
        after = PlayRules.model_validate(value)
    except ValidationError:
        return _SAID["play"]
    changed = [said for part, said in PLAY_SAID.items() if before is not None and getattr(before, part) != getattr(after, part)]
    return " and ".join(changed) if 1 <= len(changed) <= 2 else _SAID["play"]


def part_changes(now: GameSnapshot, part: str, value: Any) -> Sequence[Change]:
    """The changes for writing one of `PARTS`; empty if it is unchanged. Raises Refused for an invalid value."""
    if part not in PARTS:
        raise Refused(_no_part(part))
    stats = value.get("stats") if part == "roles" and isinstance(value, dict) else None
    if isinstance(stats, list) and len({str(each) for each in stats}) < len(stats):
        raise Refused(Problem(where="roles", what="a field is named twice among the stats", mend="name each of them once"))
    if part == "play":
        value = with_texts_read(now, value)
    try:
        rulebook, prices, formats = read_rules(amended(now.rules, part, value))
    except ValidationError as error:
        if part == "resources" and "rules of play" in str(error):
            # A refusal that names cards helps more than one that names play rules.
            _refuse_referenced(now, {str(each["id"]) for each in value})
        raise Refused(_problem(part, error)) from error
    after = _part(rules_document(rulebook, prices, formats), rulebook, part)
    before = _part(now.rules, now.rulebook, part)
    if before == after:
        return ()
    if part == "resources":
        _refuse_referenced(now, {each.id for each in rulebook.resources})
    if part == "play":
        _refuse_referenced(now, None, rulebook)
    if part == "phrases":
        _none_broken(now.rulebook, rulebook)
    if part in ("symbols", "fonts"):
        check_own(now, rulebook)
    changes = [Change("game", now.id, part, _json(before), _json(after))]
    if part == "prices":
        changes += _new_stats(now, prices)
    return changes


def with_texts_read(now: GameSnapshot, value: Any) -> Any:
    """Rules of play in which amounts (of score lines, tie-breakers and markets) and the effects of actions can be texts:
    these are parsed.

    Raises Refused with the place of a mistake in a text.
    """
    if not isinstance(value, dict):
        return value
    markets = value.get("markets")
    bare = [{**each, "less": None} if isinstance(each, dict) else each for each in markets] if isinstance(markets, list) else []
    # Counters, zones and phases that the same edit adds can be named.
    try:
        play = PlayRules.model_validate({**value, "scoring": [], "ties": [], "markets": bare, "actions": []})
        vocabulary = replace(now, rulebook=now.rulebook.model_copy(update={"play": play})).vocabulary
    except ValidationError:
        vocabulary = now.vocabulary
    found = dict(value)
    for part, key, of in (("scoring", "amount", "score line"), ("ties", "amount", "tie-breaker"), ("markets", "less", "lower price of"), ("actions", "effect", "action")):
        lines = value.get(part)
        if isinstance(lines, list):
            found[part] = [_text_read(each, key, of, vocabulary) if isinstance(each, dict) and isinstance(each.get(key), str) else each for each in lines]
    return found


def _text_read(line: dict[str, Any], key: str, of: str, vocabulary: Vocabulary) -> dict[str, Any]:
    read: Any
    if key == "effect":
        read, problems = read_script(line[key], vocabulary)
    elif line[key].strip() or key == "amount":
        read, problems = parse_amount(line[key], vocabulary)
    else:
        read, problems = None, ()
    if problems:
        first = problems[0]
        row = f", line {first.span.line}" if first.span is not None and first.span.line > 1 else ""
        at = f"{row}, character {first.span.column}" if first.span is not None else ""
        raise Refused(first.model_copy(update={"where": f"{of} {str(line.get('name') or line.get('zone') or '')[:60]}{at}"}))
    return {**line, key: None if read is None else read.model_dump(mode="json")}


def _new_stats(now: GameSnapshot, prices: PriceList) -> Sequence[Change]:
    """A number field that gets a worth for the first time becomes a stat, because verdicts count stats only."""
    roles = now.rulebook.roles
    fields = now.rulebook.cards
    news = [
        stat
        for stat in prices.stats
        if stat not in roles.stats
        and stat not in now.prices.stats
        and stat not in (roles.cost, roles.copies)
        and isinstance(fields.field(stat), NumberField)
    ]
    if not news:
        return ()
    before = part_of(now.rulebook, "roles")
    after = {**before, "stats": [*before["stats"], *news]}
    return [Change("game", now.id, "roles", _json(before), _json(after))]


def phrase_book(rulebook: Rulebook) -> list[Phrase]:
    """Every phrase that the game's effects can use."""
    return list(book((each.id, each.name) for each in rulebook.cards.types if not each.abstract))


def symbols_in_words(rulebook: Rulebook) -> list[str]:
    """The names allowed in braces in any phrase: resources, stats with a symbol, and the game's own symbols."""
    stats = [each.id for each in rulebook.cards.fields if rulebook.symbol(each.id)]
    return [*(each.id for each in rulebook.resources), *stats, *(each.id for each in rulebook.symbols)]


def _none_broken(before: Rulebook, after: Rulebook) -> None:
    """Raises Refused for a new phrase with unknown names in braces; unchanged phrases are not checked."""
    symbols = symbols_in_words(after)
    for phrase in phrase_book(after):
        written = phrase.written(after.phrases)
        if written is not None and written != phrase.written(before.phrases):
            problem = broken(phrase, written, symbols)
            if problem:
                raise Refused(problem)


def _part(rules: Mapping[str, Any], rulebook: Rulebook, part: str) -> Any:
    return rules.get(part) if part in BESIDE else part_of(rulebook, part)


def _refuse_referenced(now: GameSnapshot, left: set[str] | None, after: Rulebook | None = None) -> None:
    """Raises Refused, with the names of the referring cards and keywords, if an effect refers to a resource not
    among `left`, or to a zone or phase missing from the rules `after`.
    """
    before = now.rulebook
    gone = [(Subject("resource", each.id), each.name) for each in before.resources if left is not None and each.id not in left]
    if after is not None:
        zones, phases = {each.id for each in after.played.zones}, {each.id for each in after.played.phases}
        gone += [(Subject("zone", each.id), each.name) for each in before.played.zones if each.id not in zones]
        gone += [(Subject("phase", each.id), each.name) for each in before.played.phases if each.id not in phases]
    for subject, name in gone:
        refuse_if_referenced(now, subject, name)


_SAID = {
    "roles": "parts of fields", "resources": "resources", "table": "rules of the table", "play": "rules of play", "phrases": "phrase book", "tags": "declared tags", "symbols": "symbols", "fonts": "fonts",
    "prices": "worths and budgets", "formats": "deck rules",
}  # fmt: skip


PLAY_SAID = {
    "seats": "seats", "free": "what is done by hand", "zones": "zones", "set_up": "set-up", "phases": "the turn", "answers": "answers to plays",
    "reshuffles": "how often piles are shuffled again", "after_play": "what becomes of played cards", "common": "caps together", "clash": "the clash",
    "goals": "goals", "tie": "ties", "evaluation": "what automatic players value",
    "least_seats": "the fewest seats", "most_seats": "the most seats", "markets": "markets", "counters": "counters", "ends": "what ends a match", "scoring": "the score sheet",
    "ties": "tie-breakers", "actions": "actions",
}  # fmt: skip


def _no_part(part: str) -> Problem:
    return Problem(where=part[:60], what="rules have no such part", mend=f"write one of {', '.join(PARTS)}")


def _problem(part: str, error: ValidationError) -> Problem:
    first = error.errors()[0]
    place = ".".join(str(each) for each in first["loc"])
    what = str(first["msg"]).removeprefix("Value error, ")
    return Problem(where=_SAID.get(part, part) if place in ("", part) else place[:80], what=what[:300], mend="write another value")


def _json(document: Any) -> str | None:
    return None if document is None else json.dumps(document, ensure_ascii=False)
