"""Imports between rooms have one direction, and the core imports nothing outside itself."""

from __future__ import annotations

import ast
import re
from graphlib import CycleError, TopologicalSorter
from pathlib import Path

import pytest

SOURCE = Path(__file__).parent.parent / "src" / "dramok"
PAGE = SOURCE.parent.parent / "web" / "src"
MAY_USE = {
    "core": set(),
    "formats": {"core"},
    "store": {"core"},
    "net": {"core"},
    "workers": {"core"},
    "demo": set(),
    "templates": set(),
    "services": {"core", "formats", "store", "demo", "templates", "workers", "net"},
    "server": {"core", "formats", "services"},
    "cli": {"core", "formats", "store", "services", "server"},
    "__main__.py": {"cli"},
}
INSIDE_CORE = {
    "problem.py": set(),
    "english.py": set(),
    "automatic_players.py": set(),
    "compile_switch.py": set(),
    "text_checks.py": set(),
    "effects": {"problem.py"},
    "cards": {"problem.py", "text_checks.py", "effects"},
    "rulebook": {"problem.py", "english.py", "effects", "cards"},
    "journal": {"rulebook"},
    "wording": {"problem.py", "english.py", "effects", "cards", "rulebook"},
    "engine": {"problem.py", "automatic_players.py", "compile_switch.py", "effects", "cards", "rulebook", "wording"},
    "decks": {"problem.py", "cards", "rulebook"},
    "odds": {"engine"},
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
    "datetime.datetime",
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


def modules() -> dict[str, set[str]]:
    """The modules that each module imports, imports for types alone included."""
    files = {
        ".".join(file.relative_to(SOURCE.parent).with_suffix("").parts).removesuffix(".__init__"): file
        for file in SOURCE.rglob("*.py")
    }
    found: dict[str, set[str]] = {}
    for name, file in files.items():
        tree = ast.parse(file.read_text(encoding="utf-8"))
        names = {
            alias.name for node in ast.walk(tree) if isinstance(node, ast.Import) for alias in node.names
        }
        for node in ast.walk(tree):
            if isinstance(node, ast.ImportFrom) and node.module:
                names |= {
                    inner if (inner := f"{node.module}.{alias.name}") in files else node.module
                    for alias in node.names
                }
        found[name] = names & files.keys() - {name}
    return found


_IMPORT = re.compile(
    r"""^(?:import|export) (?:[^;]*? from )?"(\.[^"]+)";|import\("(\.[^"]+)"\)""", re.MULTILINE
)


def scripts() -> dict[str, set[str]]:
    """The same for the modules of the page."""
    files = {file for ending in ("ts", "tsx") for file in PAGE.rglob(f"*.{ending}")}
    found: dict[str, set[str]] = {}
    for file in files:
        found[str(file.relative_to(PAGE))] = names = set()
        for match in _IMPORT.finditer(file.read_text(encoding="utf-8")):
            if match.group(2):
                continue  # loaded on demand
            there = (file.parent / match.group(1)).resolve()
            ways = [there.with_name(there.name + end) for end in (".ts", ".tsx")] + [there / "index.ts"]
            names |= {str(way.relative_to(PAGE)) for way in ways if way in files}
    return found


def circles(arrows: dict[str, set[str]]) -> list[list[str]]:
    """The modules that lead back to themselves."""
    sorter = TopologicalSorter(arrows)
    try:
        sorter.prepare()
    except CycleError as error:
        return [error.args[1]]
    return []


def folders(arrows: dict[str, set[str]], separator: str) -> dict[str, set[str]]:
    """The folders that each folder's own modules import from. Package facades (`__init__`) are not counted."""
    packages = {name.rpartition(separator)[0] for name in arrows}
    found: dict[str, set[str]] = {}
    for name, used_by in arrows.items():
        if name in packages:
            continue
        folder = name.rpartition(separator)[0]
        targets = {each.rpartition(separator)[0] for each in used_by if each not in packages}
        found.setdefault(folder, set()).update(targets - {folder})
    return found


def page_rooms(arrows: dict[str, set[str]]) -> dict[str, set[str]]:
    """The rooms of the page (first folder of a path) that each room imports from."""
    found: dict[str, set[str]] = {}
    for name, used_by in arrows.items():
        room = name.split("/")[0]
        found.setdefault(room, set()).update({each.split("/")[0] for each in used_by} - {room})
    return found


def test_no_folder_imports_itself_through_another():
    assert circles(folders(modules(), ".")) == []
    assert circles(page_rooms(scripts())) == []
    assert circles(folders({"a.x": {"b.y"}, "b.z": {"a.w"}, "a.w": set(), "b.y": set()}, ".")) != []


def test_no_module_waits_for_itself():
    python, page = modules(), scripts()
    assert len(python) > 200 and len(page) > 120 and sum(map(len, page.values())) > 350, (
        "they were really read"
    )
    assert circles(python) == []
    assert circles(page) == []
    assert circles({"a": {"b"}, "b": {"c"}, "c": {"a"}}) != [], "a circle would be seen"


def test_types_are_not_exported_from_components_of_a_room():
    """Shared types of a room are in its `types.ts`; only general controls in `ui` export the types of their own props."""
    exported = {
        str(file.relative_to(PAGE))
        for file in PAGE.rglob("*.tsx")
        if file.relative_to(PAGE).parts[0] not in ("ui", "fieldkinds")
        and re.search(r"^export (type|interface) ", file.read_text(encoding="utf-8"), re.MULTILINE)
    }
    assert exported == set()


def test_colours_are_named_in_one_place():
    """By what they mean, so that the dark variant reaches them all; a rule elsewhere names a token."""
    found = {
        f"{file.relative_to(PAGE)}: {line.strip()}"
        for file in PAGE.rglob("*.css")
        if file.name != "theme.css"
        for line in file.read_text(encoding="utf-8").splitlines()
        if re.search(r"#[0-9a-fA-F]{3,8}\b", line)
    }
    assert found == set()


LONGEST = 500
"""Lines: a longer module is two."""


def test_no_module_is_two():
    files = [*SOURCE.rglob("*.py"), *PAGE.rglob("*.ts"), *PAGE.rglob("*.tsx"), *PAGE.rglob("*.css")]
    made = {PAGE / "api" / "schema.d.ts"}
    long = {
        str(file.relative_to(SOURCE.parent.parent)): count
        for file in files
        if file not in made and (count := file.read_text(encoding="utf-8").count("\n")) > LONGEST
    }
    assert long == {}


def test_a_class_name_means_one_thing():
    """Two classes of one name in two rooms are two things that a reader takes for one."""
    known: dict[str, list[str]] = {}
    for file in SOURCE.rglob("*.py"):
        for node in ast.parse(file.read_text(encoding="utf-8")).body:
            if isinstance(node, ast.ClassDef) and not node.name.startswith("_"):
                known.setdefault(node.name, []).append(str(file.relative_to(SOURCE)))
    assert len(known) > 300
    assert {name: files for name, files in known.items() if len(files) > 1} == {}


@pytest.mark.parametrize("room", rooms(SOURCE), ids=lambda each: each.name)
def test_a_room_uses_only_the_rooms_below_it(room):
    assert used(room, "dramok.", set(MAY_USE)) - {room.name} <= MAY_USE[room.name]


@pytest.mark.parametrize("room", rooms(SOURCE / "core"), ids=lambda each: each.name)
def test_inside_the_core_arrows_run_one_way(room):
    assert used(room, "dramok.core.", set(INSIDE_CORE)) - {room.name} <= INSIDE_CORE[room.name]
    files = [room] if room.suffix == ".py" else sorted(room.rglob("*.py"))
    names = {name for file in files for name in imports(file)}
    assert not (names | {name.split(".")[0] for name in names}) & NOT_IN_CORE
    assert not [
        file for file in files if re.search(r"\.(today|now|utcnow)\(", file.read_text(encoding="utf-8"))
    ], "no clock"


def test_every_room_says_what_it_is_for():
    for init in SOURCE.rglob("__init__.py"):
        assert ast.get_docstring(ast.parse(init.read_text(encoding="utf-8"))), init


def test_only_one_module_of_the_page_changes_the_address():
    """A component may navigate by the router itself only while its room is open; a callback of the router goes on after that."""
    asking = {str(each.relative_to(PAGE)) for each in [*PAGE.rglob("*.ts"), *PAGE.rglob("*.tsx")] if re.search(r"use(Navigate|SearchParams)\b", each.read_text())}
    assert asking == {"state/address.ts"}


def test_requests_of_a_room_are_in_its_api():
    """Components and hooks call the functions of `api.ts`; only these and `state` use the client."""
    calling = {
        str(each.relative_to(PAGE))
        for each in [*PAGE.rglob("*.ts"), *PAGE.rglob("*.tsx")]
        if re.search(r"\bapi\.(GET|POST|PUT|DELETE|PATCH)\(", each.read_text(encoding="utf-8"))
    }
    assert calling and all(name.startswith("state/") or name.endswith("/api.ts") for name in calling), calling
