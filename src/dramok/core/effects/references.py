"""Find and replace references to entities in effects."""

from __future__ import annotations

from typing import Any, Literal, NamedTuple, assert_never

from dramok.core.effects.model import steps_of, walked
from dramok.core.effects.script import Script


class Subject(NamedTuple):
    """The referenced entity:

    `kind` is type, stat, resource, keyword, zone, phase, card, or choice (a value `ident` of the choice field
    `field`).
    """

    kind: Literal["type", "stat", "choice", "resource", "keyword", "zone", "phase", "card"]
    ident: str
    field: str = ""


def refers_to(script: Script, subject: Subject) -> bool:
    """Whether any readable line refers to it. Unreadable text is ignored."""
    return _named(script.model_dump(mode="json"), subject, None)[1]


def created_cards(script: Script) -> frozenset[str]:
    """The ids of the cards that the effect creates."""
    steps = (step for ability in script.abilities for step in walked(steps_of(ability)))
    return frozenset(step.card for step in steps if step.card)


def replace_reference(script: Script, subject: Subject, other: str) -> Script:
    """The effect with the id `other` in place of each reference to `subject`."""
    return Script.model_validate(_named(script.model_dump(mode="json"), subject, other)[0])


def replace_in_document(document: Any, subject: Subject, other: str | None) -> tuple[Any, bool]:
    """A document that holds effects, groups or amounts, with the id `other` in place of each reference to `subject`
    (None: unchanged), and whether there was one.
    """
    return _named(document, subject, other)


def _named(part: Any, subject: Subject, other: str | None) -> tuple[Any, bool]:
    """The document with the id replaced, and whether it occurred."""
    if isinstance(part, list):
        found = [_named(each, subject, other) for each in part]
        return [each for each, _ in found], any(named for _, named in found)
    if not isinstance(part, dict):
        return part, False
    after, any_named = {}, False
    for key, value in part.items():
        if subject.kind == "keyword" and key == "keywords" and isinstance(value, list):
            named = subject.ident in value
            value = [other if named and other and each == subject.ident else each for each in value]
        elif value == subject.ident and key in _keys(part, subject):
            named = True
            value = other if other is not None else value
        else:
            value, named = _named(value, subject, other)
        after[key] = value
        any_named = any_named or named
    return after, any_named


def _keys(part: dict[str, Any], subject: Subject) -> tuple[str, ...]:
    """The keys that refer to a kind of entity, by part of an effect."""
    match subject.kind:
        case "choice":
            return ("value",) if part.get("kind") == "choice" and part.get("field") == subject.field else ()
        case "type":
            return ("type",) if "filters" in part else ()
        case "stat":
            return ("stat", "field") if part.get("kind") in ("stat", "sum") or "verb" in part else ()
        case "resource":
            return ("resource",)
        case "keyword":
            return ("keyword",)
        case "zone":
            return ("zone",)
        case "phase":
            return ("phase",)
        case "card":
            return ("card",)
    assert_never(subject.kind)
