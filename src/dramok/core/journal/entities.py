"""The entities of the journal, one record each, and access to the parts of their documents."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any

from dramok.core.rulebook.part_edit import amended, part_in

EXISTS = "exists"
"""The field of a change that creates or removes a whole entity."""
Path = tuple[str, ...]


@dataclass(frozen=True)
class Entity:
    """`noun` is its name for users; `path` is the place of a field in its whole document (as in an `exists`
    change).

    A `thing` is a small entity: `most` per game, `shared` whether a copy to share includes it; `moment`: its
    document has the number of an op as `seq`.
    """

    name: str
    noun: str
    path: Callable[[str], Path]
    thing: bool = False
    most: int = 0
    shared: bool = False
    moment: bool = False


def _card(field: str) -> Path:
    return (field,) if field in ("code", "set", "type") else ("values", field)


def _deck(field: str) -> Path:
    """`card/ID` is a count of the main section, `in/SECTION/ID` of another."""
    if field.startswith("card/"):
        return ("cards", field.removeprefix("card/"))
    room, _, rest = field.partition("/")
    section, slash, ident = rest.partition("/")
    return ("sections", section, ident) if room == "in" and slash else (field,)


def _key(field: str) -> Path:
    return (field,)


def _thing(name: str, noun: str, most: int, shared: bool = False, moment: bool = False) -> Entity:
    return Entity(name, noun, _key, True, most, shared, moment)


_ALWAYS = ("values", "cards")
"""Keys that every document of the kind has, even if empty; other keys are absent when empty."""
ENTITIES: Mapping[str, Entity] = {
    each.name: each
    for each in (
        Entity("set", "set", _key),
        Entity("card", "card", _card),
        Entity("deck", "deck", _deck),
        _thing("view", "view", 100, shared=True),
        _thing("mark", "mark", 500, moment=True),
        _thing("note", "note", 20_000),
        _thing("source", "followed table", 50),
        _thing("layout", "text table", 100, shared=True),
        _thing("picture", "picture", 20_000, shared=True),
        _thing("plan", "face plan", 100, shared=True),
        _thing("run", "print run", 500),
        _thing("measurement", "measurement", 200, moment=True),
        Entity("game", "rule", _key),
    )
}
"""In creation order: a card needs its set."""
THINGS = tuple(each.name for each in ENTITIES.values() if each.thing)


def put(entity: str, document: Mapping[str, Any], field: str, value: Any) -> dict[str, Any]:
    """The document with one field set to `value`; None removes it. The input is unchanged.

    Raises KeyError for an unknown entity or part.
    """
    if entity == "game":
        return amended(dict(document), field, value)
    return _with(document, ENTITIES[entity].path(field), value)


def part(entity: str, document: Mapping[str, Any], field: str) -> Any:
    """The part of a document in a field; None if it is absent."""
    if entity == "game":
        return part_in(document, field)
    found: Any = document
    for key in ENTITIES[entity].path(field):
        found = found.get(key) if isinstance(found, Mapping) else None
    return found


def _with(document: Mapping[str, Any], path: Path, value: Any) -> dict[str, Any]:
    key, rest = path[0], path[1:]
    after = dict(document)
    if rest:
        after[key] = _with(document.get(key) or {}, rest, value)
        if value is None and not after[key] and key not in _ALWAYS:
            del after[key]
    elif value is None:
        after.pop(key, None)
    else:
        after[key] = value
    return after
