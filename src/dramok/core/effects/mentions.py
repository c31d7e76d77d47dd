"""Where an effect speaks of something of the game, and the same effect speaking of another thing instead."""

from __future__ import annotations

from typing import Any, Literal, NamedTuple, assert_never

from dramok.core.effects.script import Script


class Subject(NamedTuple):
    """What is spoken of: `kind` is type, stat, resource, or choice (a value `ident` of the choice field `field`)."""

    kind: Literal["type", "stat", "choice", "resource"]
    ident: str
    field: str = ""


def speaks_of(script: Script, subject: Subject) -> bool:
    """Whether any readable line names it. What is typed wrongly is not looked into."""
    return any(_is(part, subject) for part in _parts(script.model_dump(mode="json")))


def speaking_of(script: Script, subject: Subject, other: str) -> Script:
    """The effect with the id `other` wherever `subject` was named."""
    document = script.model_dump(mode="json")
    for part in _parts(document):
        if _is(part, subject):
            part[_place(part, subject)] = other
    return Script.model_validate(document)


def _parts(document: Any) -> list[dict[str, Any]]:
    found: list[dict[str, Any]] = []
    if isinstance(document, dict):
        found.append(document)
        for value in document.values():
            found += _parts(value)
    elif isinstance(document, list):
        for value in document:
            found += _parts(value)
    return found


def _place(part: dict[str, Any], subject: Subject) -> str:
    match subject.kind:
        case "choice":
            return "value"
        case "type":
            return "type"
        case "stat":
            return "stat" if "stat" in part else "field"
        case "resource":
            return "resource"
        case _:
            assert_never(subject.kind)


def _is(part: dict[str, Any], subject: Subject) -> bool:
    if part.get(_place(part, subject)) != subject.ident:
        return False
    match subject.kind:
        case "choice":
            return part.get("kind") == "choice" and part.get("field") == subject.field
        case "type":
            return "filters" in part
        case "stat":
            return part.get("kind") == "stat" or "stat" in part
        case "resource":
            return "verb" in part
        case _:
            assert_never(subject.kind)
