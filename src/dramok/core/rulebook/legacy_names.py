"""Translate stored documents of earlier versions to current names, for comparison with current documents."""

from __future__ import annotations

from typing import Any

from dramok.core.effects.verbs import phrases_as_now, step_as_now
from dramok.core.rulebook.rulebook import roles_as_now


def as_now(document: Any) -> Any:
    """Any stored document, or a part of one, with current names."""
    if isinstance(document, list):
        return [as_now(each) for each in document]
    if not isinstance(document, dict):
        return document
    found = {key: as_now(value) for key, value in roles_as_now(step_as_now(document)).items()}
    if isinstance(found.get("verbs"), dict):
        found["verbs"] = phrases_as_now(found["verbs"])
    return found
