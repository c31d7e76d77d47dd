"""Field and choice names in formulas: typed names to ids, ids back to names, and renamed choices."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence

from dramok.core.cards.schema.fields import FieldKind
from dramok.core.cards.schema.formula import (
    FUNCTIONS,
    WORDS,
    YES_OR_NO,
    formula_tokens,
    is_empty,
    is_number,
    parse_formula,
    quoted_name,
    with_names,
)
from dramok.core.cards.schema.lexer import Token, Unreadable, tokens
from dramok.core.cards.schema.schema import Schema
from dramok.core.problem import fold, nearest_name

_GOES_ON = re.compile(r"[a-z0-9-]")
"""A following character that would be read as part of the id."""
Moved = Mapping[tuple[str, str], str]
"""Merged values: (list, value) to the value that replaces it."""


def stored_formula(typed: str, schema: Schema, type_id: str) -> str:
    """A typed formula with every field as `#id`, so that renaming a field has no effect on it. Raises Unreadable."""
    names = {fold(field.name): field for field in schema.fields_of(type_id)}
    found, put, at = formula_tokens(typed), [], 0
    for index, token in enumerate(found):
        ident = _field_meant(found, index, schema, type_id, names)
        put += [typed[at : token.start], f"#{ident}" if ident else typed[token.start : token.end]]
        at = token.end
        if ident and _GOES_ON.match(typed, at):
            put.append(" ")
    stored = "".join([*put, typed[at:]]).strip()
    parse_formula(stored)
    return stored


def shown_formula(stored: str, schema: Schema, type_id: str) -> str:
    """A stored formula with field names in place of ids, for one card type. See `with_names`."""

    def name_of(ident: str) -> str | None:
        field = schema.field_of(type_id, ident)
        return field.name if field else None

    return with_names(stored, name_of)


def renamed_formula(stored: str, before: Schema, after: Schema, type_id: str, moved: Moved) -> str:
    """A stored formula with the choice names of `after`. Raises Unreadable for a name that can't be quoted."""
    found, put, at = tokens(stored), [], 0
    for index, token in enumerate(found):
        left = _compared_with(found, index)
        field = before.field_of(type_id, left.text[1:]) if left and left.kind == "id" else None
        choices = before.choices(field)
        if choices is None or is_empty(token):
            continue
        named = next((each for each in (*choices.offered, *choices.values) if fold(each.name) == fold(token.text)), None)
        if named is None or not after.has_list(choices.id):
            continue
        now = after.list(choices.id).get(moved.get((choices.id, named.id), named.id))
        if now is None or fold(now.name) == fold(token.text):
            continue
        if '"' in now.name:
            raise Unreadable("formula", f"its formula names {named.name}, and can't hold a name with quotes", "choose a name without them", token.start, token.end)
        put += [stored[at : token.start], quoted_name(now.name)]
        at = token.end
    return "".join([*put, stored[at:]])


def _field_meant(
    found: Sequence[Token], index: int, schema: Schema, type_id: str, names: Mapping[str, FieldKind]
) -> str | None:
    """The id of the field that a token names; None if it names no field. Raises Unreadable for an unknown name."""
    token = found[index]
    if token.kind == "id" and not schema.has_field(type_id, token.text[1:]):
        raise _unknown_field(token, names)
    if token.kind not in ("word", "quoted") or _is_word(found, index):
        return None
    named = names.get(fold(token.text))
    left = _compared_with(found, index)
    field = None
    if left is not None:
        field = schema.field_of(type_id, left.text[1:]) if left.kind == "id" else names.get(fold(left.text))
    if field is None:
        if named is None:
            raise _unknown_field(token, names)
        return named.id
    if is_empty(token):
        return None
    if named is not None and (field.kind == "number" or not _is_value(token.text, field, schema)):
        return named.id
    if _is_value(token.text, field, schema):
        return None
    raise _no_value(token, field, schema)


def _is_value(text: str, field: FieldKind, schema: Schema) -> bool:
    """Whether a field can be compared with a text: one of its choices, yes or no, a number; for a derived
    field, what any field can hold.
    """
    choices = schema.choices(field)
    if choices is not None:
        return fold(text) in {fold(each.name) for each in choices.values}
    match field.kind:
        case "yesno":
            return fold(text) in YES_OR_NO
        case "number":
            return is_number(text)
        case "derived":
            every = {fold(value.name) for each in schema.lists for value in each.values}
            named = any(fold(each.name) == fold(text) for each in schema.fields)
            return fold(text) in {*YES_OR_NO, *every} or not named
        case _:
            return True


def _no_value(token: Token, field: FieldKind, schema: Schema) -> Unreadable:
    choices = schema.choices(field)
    if choices is None:
        what = f"{field.name} is {'yes or no' if field.kind == 'yesno' else 'a number'}, not {token.text[:40]}"
        mend = "write is yes or is no" if field.kind == "yesno" else "compare it with a number or another field"
        return Unreadable("formula", what, mend, token.start, token.end)
    near = nearest_name(token.text, [each.name for each in choices.offered])
    some = ", ".join(each.name for each in choices.offered[:8])
    mend = f"did you mean {near}?" if near else f"write one of {some}" if some else "add it to the list first"
    return Unreadable("formula", f"no {field.name} is called {token.text[:40]}", mend, token.start, token.end, near)


def _compared_with(found: Sequence[Token], index: int) -> Token | None:
    """The token before `is`, `is not`, `=` or `!=` if a token is compared by them: a name or an id."""
    if found[index].kind not in ("word", "quoted") or (found[index].kind == "word" and fold(found[index].text) == "not"):
        return None
    before = [fold(token.text) if token.kind in ("word", "mark") else "" for token in found[max(0, index - 2) : index]]
    if before[-1:] and before[-1] in ("is", "=", "!="):
        place = index - 2
    elif before == ["is", "not"]:
        place = index - 3
    else:
        return None
    left = found[place] if place >= 0 else None
    return left if left is not None and left.kind in ("word", "quoted", "id") else None


def _is_word(found: Sequence[Token], index: int) -> bool:
    token = found[index]
    calls = index + 1 < len(found) and found[index + 1].text == "("
    return token.kind == "word" and (fold(token.text) in WORDS or (calls and fold(token.text) in FUNCTIONS))


def _unknown_field(token: Token, names: Mapping[str, FieldKind]) -> Unreadable:
    near = nearest_name(token.text, [field.name for field in names.values()])
    mend = (
        f"did you mean {near}?"
        if near
        else f"write one of {', '.join(field.name for field in list(names.values())[:10])}"
    )
    return Unreadable("formula", f"there is no field {token.text[:40]}", mend, token.start, token.end, near)
