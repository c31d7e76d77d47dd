"""The current time as text."""

from __future__ import annotations

from datetime import UTC, datetime


def now_text() -> str:
    """The current time in UTC as ISO 8601, to the second."""
    return datetime.now(UTC).isoformat(timespec="seconds")
