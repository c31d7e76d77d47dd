"""Arrows between rooms run one way, and the core stays alone."""

from __future__ import annotations

import ast
from pathlib import Path

import pytest

SOURCE = Path(__file__).parent.parent / "src" / "dramok"
MAY_USE = {
    "core": set(),
    "formats": {"core"},
    "store": {"core"},
    "demo": set(),
    "outside": {"core"},
    "studio": {"core", "formats", "store", "demo", "outside"},
    "server": {"core", "formats", "studio"},
    "cli": {"core", "formats", "store", "studio", "server"},
    "__main__.py": {"cli"},
}
INSIDE_CORE = {
    "problem.py": set(),
    "soundtext.py": set(),
    "effects": {"problem.py"},
    "cards": {"problem.py", "soundtext.py", "effects"},
    "rulebook": {"problem.py", "effects", "cards"},
    "wording": {"problem.py", "effects", "cards", "rulebook"},
    "engine": {"problem.py", "effects", "cards", "rulebook"},
    "decks": {"problem.py", "cards", "rulebook"},
    "balance": {"problem.py", "effects", "cards", "rulebook", "engine"},
    "faces": {"problem.py", "cards", "rulebook", "wording"},
    "output": {"problem.py", "faces"},
}
NOT_IN_CORE = {
    "fastapi",
    "sqlmodel",
    "sqlalchemy",
    "starlette",
    "sqlite3",
    "pathlib",
    "os",
    "io",
    "time",
    "datetime",
    "secrets",
    "random.SystemRandom",
}


def imports(file: Path) -> set[str]:
    names = set()
    for node in ast.walk(ast.parse(file.read_text(encoding="utf-8"))):
        if isinstance(node, ast.Import):
            names |= {alias.name for alias in node.names}
        elif isinstance(node, ast.ImportFrom) and node.module:
            names.add(node.module)
            names |= {f"{node.module}.{alias.name}" for alias in node.names}
    return names


def rooms(folder: Path) -> list[Path]:
    return [
        each for each in sorted(folder.iterdir()) if each.name not in ("__init__.py", "__pycache__", "assets")
    ]


def used(room: Path, prefix: str, among: set[str]) -> set[str]:
    files = [room] if room.suffix == ".py" else sorted(room.rglob("*.py"))
    found = {name for file in files for name in imports(file) if name.startswith(prefix)}
    heads = {name.removeprefix(prefix).split(".")[0] for name in found}
    return {
        head if head in among else f"{head}.py" for head in heads if head in among or f"{head}.py" in among
    }


@pytest.mark.parametrize("room", rooms(SOURCE), ids=lambda each: each.name)
def test_a_room_uses_only_the_rooms_below_it(room):
    assert used(room, "dramok.", set(MAY_USE)) - {room.name} <= MAY_USE[room.name]


@pytest.mark.parametrize("room", rooms(SOURCE / "core"), ids=lambda each: each.name)
def test_inside_the_core_arrows_run_one_way(room):
    assert used(room, "dramok.core.", set(INSIDE_CORE)) - {room.name} <= INSIDE_CORE[room.name]
    files = [room] if room.suffix == ".py" else sorted(room.rglob("*.py"))
    assert not {name.split(".")[0] for file in files for name in imports(file)} & NOT_IN_CORE


def test_every_room_says_what_it_is_for():
    for init in SOURCE.rglob("__init__.py"):
        assert ast.get_docstring(ast.parse(init.read_text(encoding="utf-8"))), init
