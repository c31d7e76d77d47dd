"""The table *where to change what* of CONTRIBUTING.md names files that exist, and at most four for each change."""

from __future__ import annotations

import re
from pathlib import Path

ROOT = Path(__file__).parent.parent
ROWS = [line for line in (ROOT / "CONTRIBUTING.md").read_text(encoding="utf-8").splitlines() if line.startswith("| ")][1:]
MOST = 4


def named(row: str) -> list[str]:
    return re.findall(r"`([\w./-]+/[\w./-]+)`", row)


def test_every_file_it_names_is_there():
    assert len(ROWS) >= 30
    found = [path for row in ROWS for path in named(row)]
    assert len(found) > 100
    assert not [path for path in found if not (ROOT / path).exists()]


def test_a_change_touches_four_files_or_says_why_more():
    """Tests, benchmarks and documents are not counted; an explanation is in brackets at the start of the second cell."""
    for row in ROWS:
        files = [path for path in named(row) if not path.startswith(("tests/", "bench/", "docs/"))]
        explained = row.split("|")[2].strip().startswith("(")
        assert len(files) <= MOST or explained, row
