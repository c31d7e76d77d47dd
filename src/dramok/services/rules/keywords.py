"""The game's keywords, written together; renaming one also renames it in free text."""

from __future__ import annotations

import json
import re
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from dramok.core.balance import PriceList
from dramok.core.cards import Card, EffectField, TextField
from dramok.core.effects import Script
from dramok.core.effects.references import Subject, refers_to, replace_reference
from dramok.core.effects.script import Line
from dramok.core.problem import Problem, fold, plural
from dramok.core.rulebook import Rulebook
from dramok.core.rulebook.part_edit import amended, part_of
from dramok.services.rules.card_types import checked_rulebook, not_changed_since
from dramok.services.workspace.references import refuse_if_referenced
from dramok.services.workspace.snapshot import GameSnapshot
from dramok.services.workspace.workspace import Commit, Refused, Workspace
from dramok.store import Change, Key
from dramok.store.json_documents import write_value

MOST_SHOWN = 300
Swap = Callable[[str], str]


@dataclass(frozen=True)
class KeywordUse:
    """A text that contains a renamed keyword, before and after. `card` is empty for texts of the rules."""

    card: str
    where: str
    before: str
    after: str


@dataclass(frozen=True)
class KeywordPlan:
    """The preview of writing keywords.

    `uses` are the texts that a rename changes, `cards` the number of affected cards.
    """

    changes: tuple[Change, ...]
    uses: tuple[KeywordUse, ...]
    cards: int


def plan_keywords(
    game: GameSnapshot, keywords: Sequence[Mapping[str, str]], renames: Mapping[str, str]
) -> KeywordPlan:
    """Preview edited keywords; writes nothing. Raises Refused.

    `renames` maps old names to new ones. Whole-word uses change in reminders, in the phrase book, in field
    help, in cards' own texts (not in card names), and in effects kept as free text. An initial capital stays,
    and text in braces (parts of a phrase, symbols) is left alone.
    """
    swap = _swapper({old: new for old, new in renames.items() if old.strip() and new.strip() and old != new})
    wanted = _documents(keywords, game.rulebook, renames, swap)
    _refuse_referenced(game, {fold(each["name"]) for each in wanted}, renames)
    documents = [{**each, "reminder": swap(each["reminder"])} for each in wanted]
    whole = game.rulebook.model_dump(mode="json")
    after = amended(whole, "keywords", documents)
    after = amended(after, "phrases", _swapped(whole["phrases"], swap))
    for kind in whole["cards"]["types"]:
        fields = [{**field, "help": swap(field.get("help", ""))} for field in kind["fields"]]
        if fields != kind["fields"]:
            after = amended(after, f"types/{kind['id']}", {**kind, "fields": fields})
    checked = checked_rulebook(after)
    parts = ["keywords", "phrases", *(f"types/{each.id}" for each in game.rulebook.cards.types)]
    changes = [
        Change("game", game.id, part, json.dumps(before), json.dumps(now))
        for part in parts
        if (before := part_of(game.rulebook, part)) != (now := part_of(checked, part))
    ]
    uses = [
        KeywordUse("", f"reminder of {each['name']}", old["reminder"], each["reminder"])
        for old, each in zip(wanted, documents, strict=True)
        if old["reminder"] != each["reminder"]
    ]
    uses += [
        KeywordUse("", "the phrase book", before, now)
        for before, now in _differing(whole["phrases"], after["phrases"])
    ]
    touched = set()
    moved = {fold(old): fold(new) for old, new in renames.items() if fold(old) != fold(new)}
    prices = _repriced(game, moved, swap)
    if prices is not None:
        changes.append(Change("game", game.id, "prices", json.dumps(game.rules["prices"]), json.dumps(prices)))
        uses += [KeywordUse("", "the worths", before["id"], now["id"]) for before, now in zip(game.rules["prices"]["rows"], prices["rows"], strict=True) if before != now]
    for card in game.cards.values():
        for field, name, before, now, change in _in_card(game.rulebook, card, swap, moved):
            uses.append(KeywordUse(card.id, name, before, now))
            changes.append(Change("card", card.id, field, *change))
            touched.add(card.id)
    return KeywordPlan(tuple(changes), tuple(uses), len(touched))


def write_keywords(
    workspace: Workspace,
    game_id: str,
    keywords: Sequence[Mapping[str, str]],
    base: int,
    page: str,
    key: Key | None = None,
    renames: Mapping[str, str] | None = None,
) -> Commit:
    """Write the game's keywords and reminders together as one op. Raises Refused, Conflict."""
    game = workspace.game(game_id)

    def plan(now: GameSnapshot) -> Sequence[Change]:
        not_changed_since(workspace, now, "keywords", base, "the list of keywords", page)
        return plan_keywords(now, keywords, renames or {}).changes

    return workspace.commit(game_id, _label(game, keywords, renames or {}), page, plan, key=key)


def _label(game: GameSnapshot, keywords: Sequence[Mapping[str, str]], renames: Mapping[str, str]) -> str:
    before = {each.name for each in game.rulebook.keywords}
    now = {str(each.get("name", "")).strip() for each in keywords}
    gone, fresh = sorted(before - now), sorted(now - before)
    if len(gone) == len(fresh) == 1:
        texts = len(plan_keywords(game, keywords, renames).uses) if renames else 0
        more = f", and in {plural(texts, 'text')}" if texts else ""
        return f"keyword {gone[0]} renamed to {fresh[0][:60]}{more}"
    if len(fresh) == 1 and not gone:
        return f"keyword {fresh[0][:60]} added"
    if len(gone) == 1 and not fresh:
        return f"keyword {gone[0]} removed"
    return "keywords"


def speaking(script: Script, moved: Mapping[str, str]) -> Script:
    """An effect with keyword ids replaced: new ids by old ones."""
    for old, new in moved.items():
        if refers_to(script, Subject("keyword", old)):
            script = replace_reference(script, Subject("keyword", old), new)
    return script


def _renamed(script: Script, swap: Swap, moved: Mapping[str, str]) -> Script:
    """An effect with keywords renamed, including in lines kept as free text."""
    lines = speaking(script, moved).lines
    return Script(lines=tuple(Line(ability=each.ability, draft=swap(each.draft)) if each.draft is not None else each for each in lines))


def _refuse_referenced(game: GameSnapshot, left: set[str], renames: Mapping[str, str]) -> None:
    """Raises Refused if effects of cards or of remaining keywords refer to a removed keyword."""
    stay = left | {fold(old) for old in renames}
    gone = {each.id: each.name for each in game.rulebook.keywords if each.id not in stay}
    for ident, name in gone.items():
        refuse_if_referenced(game, Subject("keyword", ident), name, gone)


def _documents(
    keywords: Sequence[Mapping[str, str]], rulebook: Rulebook, renames: Mapping[str, str], swap: Swap
) -> list[dict[str, Any]]:
    """Keyword documents as stored. Raises Refused for a name used twice."""
    moved = {fold(old): fold(new) for old, new in renames.items()}
    does = {moved.get(each.id, each.id): _renamed(each.effect, swap, moved).model_dump(mode="json") for each in rulebook.keywords}
    names = [" ".join(str(each.get("name", "")).split()) for each in keywords]
    folded = [fold(each) for each in names]
    twice = next((name for place, name in enumerate(names) if folded[place] in folded[:place]), None)
    if twice is not None:
        raise Refused(Problem(where="keywords", what=f"{twice} is used twice", mend="remove one of them"))
    return [
        {"name": name, "reminder": str(each.get("reminder", "")).strip(), "effect": does.get(fold(name), {"lines": []})}
        for name, each in zip(names, keywords, strict=True)
    ]


def _swapper(renames: Mapping[str, str]) -> Swap:
    """A function that replaces whole words regardless of case; it keeps an initial capital and skips text in braces."""
    if not renames:
        return lambda text: text
    by_fold = {fold(old): new for old, new in renames.items()}
    longest = sorted(renames, key=len, reverse=True)
    pattern = re.compile(rf"{{[^{{}}]*}}|(?<!\w)(?:{'|'.join(re.escape(each) for each in longest)})(?!\w)", re.IGNORECASE)

    def word(found: re.Match[str]) -> str:
        if found[0].startswith("{"):
            return found[0]
        new = by_fold.get(fold(found[0]), found[0])
        if found[0][:1].isupper():
            return new[:1].upper() + new[1:]
        return new

    return lambda text: pattern.sub(word, text)


def _swapped(document: Any, swap: Swap) -> Any:
    if isinstance(document, str):
        return swap(document)
    if isinstance(document, dict):
        return {key: _swapped(each, swap) for key, each in document.items()}
    return [_swapped(each, swap) for each in document] if isinstance(document, list) else document


def _repriced(game: GameSnapshot, moved: Mapping[str, str], swap: Swap) -> dict[str, Any] | None:
    """The price list document with the rows of renamed keywords under their new ids; None if nothing changes.

    A row prices a keyword if its `stat` is the keyword and no number field has that id. The name of the row
    changes as well.
    """
    fields = {each.id for each in game.rulebook.cards.fields}
    rows = [
        {**row, "stat": moved[fold(row["stat"])], "id": swap(row["id"])}
        if row.get("stat") and row["stat"] not in fields and fold(row["stat"]) in moved
        else row
        for row in game.rules["prices"].get("rows", ())
    ]
    document = {**game.rules["prices"], "rows": rows}
    if document == game.rules["prices"]:
        return None
    return PriceList.model_validate(document).model_dump(mode="json")


def _differing(before: Any, after: Any) -> Iterator[tuple[str, str]]:
    """The texts that differ between two documents of the same form."""
    if isinstance(before, dict):
        for key in before:
            yield from _differing(before[key], after[key])
    elif isinstance(before, list):
        for one, other in zip(before, after, strict=True):
            yield from _differing(one, other)
    elif before != after:
        yield str(before), str(after)


def _in_card(rulebook: Rulebook, card: Card, swap: Swap, moved: Mapping[str, str]) -> Iterator[tuple[str, str, str, str, tuple[str, str]]]:
    """(field, its name, text before and after, the change's two values) of each text of a card that changes."""
    for field in rulebook.cards.fields_of(card.type):
        value = card.values.get(field.id)
        if isinstance(field, TextField) and isinstance(value, str) and field.id != rulebook.roles.name:
            now = swap(value)
            if now != value:
                yield field.id, field.name, value, now, (_text(value), _text(now))
        elif isinstance(field, EffectField) and isinstance(value, Script):
            script = _renamed(value, swap, moved)
            if script.lines != value.lines:
                drafts = [
                    "\n".join(line.draft or "" for line in each.lines if line.draft)
                    for each in (value, script)
                ]
                yield field.id, field.name, *drafts, (_text(write_value(value)), _text(write_value(script)))  # type: ignore[misc]


def _text(value: Any) -> str:
    return json.dumps(value, ensure_ascii=False)
