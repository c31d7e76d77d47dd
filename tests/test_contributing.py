"""The table *where to change what* of CONTRIBUTING.md names files that exist."""

from __future__ import annotations

import re
from pathlib import Path

ROOT = Path(__file__).parent.parent


def test_every_file_it_names_is_there():
    text = (ROOT / "CONTRIBUTING.md").read_text(encoding="utf-8")
    rows = [line for line in text.splitlines() if line.startswith("| ")][1:]
    assert len(rows) >= 12
    named = [path for row in rows for path in re.findall(r"`([\w./-]+/[\w./-]+)`", row)]
    assert len(named) > 30
    assert not [path for path in named if not (ROOT / path).exists()]
