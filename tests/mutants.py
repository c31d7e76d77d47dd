"""Seeded mutations of product code, each run against the tests that execute its line: `make mutants`.

A mutant is killed if one of those tests fails or hangs. The tests of each line come from one run under coverage,
kept in `.mutants.coverage` until sources or tests change. Usage: python tests/mutants.py [NUMBER] [SEED] [ROOM]; with a
room, such as `core/decks`, only its sources are changed and only its tests are run, which takes minutes instead of an hour.
"""

from __future__ import annotations

import ast
import hashlib
import json
import os
import random
import subprocess
import sys
import tempfile
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

ROOT = Path(__file__).parent.parent
SOURCE = ROOT / "src" / "dramok"
ROOMS = ("core", "services")
DATA = ROOT / ".mutants.coverage"
MAP = ROOT / ".mutants.json"
NUMBER = 100
MOST_TESTS = 40
"""Tests run for a mutant, spread over all that execute its line."""
TIMEOUT = 300
"""Seconds after which a mutant counts as killed: it does not end."""
WANTED = 0.9
COMPARES: dict[type[ast.cmpop], ast.cmpop] = {
    ast.Lt: ast.LtE(), ast.LtE: ast.Lt(), ast.Gt: ast.GtE(), ast.GtE: ast.Gt(), ast.Eq: ast.NotEq(), ast.NotEq: ast.Eq(), ast.In: ast.NotIn(), ast.NotIn: ast.In(),
    ast.Is: ast.IsNot(), ast.IsNot: ast.Is(),
}  # fmt: skip
OPERATORS: dict[type[ast.operator], ast.operator] = {ast.Add: ast.Sub(), ast.Sub: ast.Add(), ast.Mult: ast.Add(), ast.FloorDiv: ast.Mult(), ast.Mod: ast.FloorDiv()}


@dataclass(frozen=True)
class Mutant:
    """A changed source: `what` describes the change at a line of a file."""

    file: Path
    line: int
    what: str
    source: str


def variants(node: ast.AST) -> Iterator[tuple[str, ast.AST]]:
    """What a node can be changed to, with a description."""
    match node:
        case ast.Compare(ops=[op]) if type(op) in COMPARES:
            other = COMPARES[type(op)]
            yield f"{type(op).__name__} -> {type(other).__name__}", ast.Compare(node.left, [other], node.comparators)
        case ast.BoolOp(op=op, values=values):
            yield "and <-> or", ast.BoolOp(ast.Or() if isinstance(op, ast.And) else ast.And(), values)
        case ast.BinOp(left=left, op=op, right=right) if type(op) in OPERATORS and not isinstance(left, ast.Constant | ast.JoinedStr):
            other_op = OPERATORS[type(op)]
            yield f"{type(op).__name__} -> {type(other_op).__name__}", ast.BinOp(left, other_op, right)
        case ast.UnaryOp(op=ast.Not(), operand=operand):
            yield "not removed", operand
        case ast.Constant(value=bool() as known):
            yield f"{known} -> {not known}", ast.Constant(not known)
        case ast.Constant(value=int() as number):
            yield f"{number} -> {number + 1}", ast.Constant(number + 1)
        case ast.IfExp(test=test, body=body, orelse=orelse):
            yield "branches swapped", ast.IfExp(test, orelse, body)
        case ast.Expr(value=ast.Call()):
            yield "call removed", ast.Pass()
        case ast.Return(value=ast.expr()) if not isinstance(node.value, ast.Constant):
            yield "return removed", ast.Expr(node.value)


def mutants_of(file: Path) -> Iterator[Mutant]:
    """Every mutant of a file, leaving out annotations, docstrings and constants of modules."""
    source = file.read_text(encoding="utf-8")
    lines = source.splitlines(keepends=True)
    starts = [0]
    for each in lines:
        starts.append(starts[-1] + len(each.encode()))
    code = source.encode()
    for function in ast.walk(ast.parse(source)):
        if not isinstance(function, ast.FunctionDef | ast.AsyncFunctionDef):
            continue
        for statement in function.body:
            for node in ast.walk(statement):
                if not hasattr(node, "lineno") or isinstance(node, ast.FunctionDef):
                    continue
                for what, other in variants(node):
                    begin, end = starts[node.lineno - 1] + node.col_offset, starts[node.end_lineno - 1] + node.end_col_offset
                    text = ast.unparse(ast.fix_missing_locations(other))
                    made = code[:begin] + (text if isinstance(other, ast.stmt) else f"({text})").encode() + code[end:]
                    try:
                        compile(made, str(file), "exec")
                    except SyntaxError:
                        continue
                    yield Mutant(file, node.lineno, what, made.decode())


def state() -> str:
    """A hash of sources and tests."""
    files = [*SOURCE.rglob("*.py"), *(ROOT / "tests").rglob("*.py")]
    return hashlib.sha256(b"".join(each.read_bytes() for each in sorted(files) if "page" not in each.parts)).hexdigest()


def tests_by_line(room: str) -> dict[str, dict[str, list[str]]]:
    """The tests that execute each line: by file and line number."""
    if MAP.exists() and (known := json.loads(MAP.read_text()))["state"] == state() + room:
        found: dict[str, dict[str, list[str]]] = known["tests"]
        return found
    import coverage

    print(f"running the tests of {room or 'all rooms'} once under coverage…", flush=True)
    settings = "[run]\ndynamic_context = test_function\nsource = src/dramok\n"
    with tempfile.NamedTemporaryFile("w", suffix=".ini", delete=False) as file:
        file.write(settings)
    environment = {**os.environ, "COVERAGE_FILE": str(DATA), "DRAMOK_SEED": "1", "COVERAGE_CORE": "ctrace"}
    subprocess.run([sys.executable, "-m", "coverage", "run", f"--rcfile={file.name}", "-m", "pytest", "-q", "-n", "0", f"tests/{room}", "--ignore", "tests/browser"], cwd=ROOT, env=environment)
    data = coverage.CoverageData(str(DATA))
    data.read()
    found = {}
    for name in data.measured_files():
        contexts = data.contexts_by_lineno(name)
        found[str(Path(name).relative_to(ROOT))] = {str(line): sorted(each for each in tests if each.startswith("tests.")) for line, tests in contexts.items()}
    MAP.write_text(json.dumps({"state": state() + room, "tests": found}))
    return found


def node_of(context: str) -> str:
    """`tests.core.test_x.test_y` as pytest takes it."""
    parts = context.split(".")
    at = next(place for place, part in enumerate(parts) if part.startswith("test_"))
    return "/".join(parts[: at + 1]) + ".py::" + "::".join(parts[at + 1 :])


def survives(mutant: Mutant, tests: list[str]) -> bool:
    """Whether no test notices the mutant."""
    with tempfile.TemporaryDirectory() as folder:
        package = Path(folder) / "dramok"
        relative = mutant.file.relative_to(SOURCE)
        for file in SOURCE.rglob("*"):
            there = package / file.relative_to(SOURCE)
            if file.is_dir():
                there.mkdir(parents=True, exist_ok=True)
            elif file != mutant.file and file.suffix != ".pyc":
                there.parent.mkdir(parents=True, exist_ok=True)
                there.symlink_to(file)
        (package / relative).write_text(mutant.source, encoding="utf-8")
        environment = {**os.environ, "PYTHONPATH": f"{folder}{os.pathsep}{ROOT}", "DRAMOK_SEED": "1", "PYTHONDONTWRITEBYTECODE": "1"}
        command = [sys.executable, "-m", "pytest", "-q", "-x", "-n", "0", "-p", "no:cacheprovider", *tests]
        try:
            done = subprocess.run(command, cwd=ROOT, env=environment, capture_output=True, timeout=TIMEOUT)
        except subprocess.TimeoutExpired:
            return False
        return done.returncode == 0


def main() -> None:
    number = int(sys.argv[1]) if len(sys.argv) > 1 else NUMBER
    seed = sys.argv[2] if len(sys.argv) > 2 else str(random.randrange(10**6))
    dice = random.Random(f"mutants {seed}")
    only = sys.argv[3] if len(sys.argv) > 3 else ""
    lines = tests_by_line(only)
    files = [file for room in ([only] if only else ROOMS) for file in sorted((SOURCE / room).rglob("*.py")) if "art" not in file.parts]
    survivors, done = [], 0
    while done < number:
        possible = list(mutants_of(dice.choice(files)))
        if not possible:
            continue
        mutant = dice.choice(possible)
        name = str(mutant.file.relative_to(ROOT))
        tests = lines.get(name, {}).get(str(mutant.line), [])
        chosen = [node_of(each) for each in dice.sample(tests, min(MOST_TESTS, len(tests)))]
        done += 1
        lives = not chosen or survives(mutant, chosen)
        print(f"{done:4} {'SURVIVES' if lives else 'killed  '} {name}:{mutant.line} {mutant.what} ({len(chosen)} of {len(tests)} tests)", flush=True)
        if lives:
            survivors.append(mutant)
    share = 1 - len(survivors) / number
    print(f"seed {seed}: {share:.0%} of {number} mutants killed (wanted {WANTED:.0%})")
    sys.exit(share < WANTED)


if __name__ == "__main__":
    main()
