"""Find what is unfinished on a card, field by field."""

from __future__ import annotations

from dramok.core.cards.schema.card import Card
from dramok.core.cards.schema.schema import Schema
from dramok.core.cards.values.derived import derived_values
from dramok.core.problem import Problem


def unfinished(card: Card, schema: Schema) -> tuple[Problem, ...]:
    """Required fields that are empty, numbers out of bounds, misplaced choices, formulas without a value.

    Drafts of effects are reported by the effect language.
    """
    problems = []
    for field in schema.fields_of(card.type):
        value = card.values.get(field.id)
        if value is None and field.required and field.typed:
            problems.append(
                Problem(
                    where=field.name,
                    what="it is still empty",
                    mend=f"fill it in: {field.help or 'every card needs one'}",
                )
            )
        found = (
            field.misplaced(card, schema)
            if value is None
            else field.problem(value) or field.misplaced(card, schema)
        )
        if found is not None:
            problems.append(found)
    return (*problems, *derived_values(card, schema)[1])
