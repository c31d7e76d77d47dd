"""Plain wording: checks every text of the page, the help of the command line, problems, edits, docstrings and docs."""

from __future__ import annotations

import ast
import re
from pathlib import Path

import pytest
from typer.main import get_command

from dramok.cli import app

ROOT = Path(__file__).parent.parent
# What a text may not say, and what it says instead.
NOT_SAID = {
    r"\b[Tt]ak(e|es|en|ing) (it |them |this |that |one |some |the \w+ )?out\b": "remove",
    r"\b[Pp]ut away\b": "remove",
    r"\bno more\b": "stop, or no longer",
    r"\bForget\b": "stop tracking",
    r"\b[Oo]verrul": "adjust",
    r"\bown face\b": "adjustments",
    r"\b[Ww]orkspaces?\b": "room",
    r"\b[Ss]tress\b": "hardest cards",
    r"\bLea(f|ves)\b": "sheet",
    r"\banswers? to (this|the|a) (query|filter)\b": "match",
    r"\b[Nn]o (card|edit)s? answers?\b": "no cards match",
    r"\b[Gg]iv(e|es) up\b": "discard, or cancel",
    r"\bgave up\b": "discarded",
    r"\bpulled up\b": "destroyed",
    r"\b[Ss]tand on\b": "select",
    r"\bone stands on\b": "focused",
    r"\bthrown for you\b": "random if empty",
    r"\bthe mend\b": "the fix",
    r"\bAs at first\b": "reset",
    r"\bSo many (of|blank)\b": "copies, or number",
    r"\blives elsewhere\b": "stored elsewhere",
    r"\bby the clock\b": "on a schedule",
    r"\blooks? after it\b": "track",
    r"\blean on\b": "use",
    r"\banew\b": "again",
    r"\bamiss\b": "wrong",
    r"\b[Ss]o many\b": "number, or this many",
    r"\bheld against\b": "compared, or checked against",
    r"\bone's own\b": "your own",
    r"\bthe (least|most) is\b": "minimum, maximum",
    r"\bcan't stand\b": "can't be",
    r"\bis no (number|picture|game|day|range|card|file|table)\b": "is not a",
    r"\bnobody has said\b": "undecided",
    r"\b(what is stale|stale prints|is stale\b)": "out of date",
    r"\blikely a slip\b": "likely a mistake",
}
AWAY = r"\b[Pp]ut away\b"
OF_WHOLE_GAMES = {"GameTile.tsx", "PutAway.tsx", "games", "put-away", "bring-back", "games.py"}
"""Games alone are put away: off the shelf, and whole."""
_IMPORT = re.compile(r"^import[\s\S]*?;\n", re.MULTILINE)
_COMMENT = re.compile(r"/\*[\s\S]*?\*/|(?m:(?<!:)//.*$)")
_BETWEEN = re.compile(r">\s*([^<>{}=;]*[A-Za-z][^<>{}=;]*?)\s*[<{]")
_STRING = re.compile(r'"([^"\n]*[A-Za-z] [^"\n]*)"|`([^`\n]*[A-Za-z] [^`\n]*)`')
_NAMED = re.compile(r'(?:title|label|placeholder|aria-label|help)="([^"\n]+)"')


def page_texts() -> list[tuple[str, str]]:
    found = []
    for file in sorted((ROOT / "web" / "src").rglob("*.ts*")):
        if "api" in file.parts:
            continue
        text = _COMMENT.sub("", _IMPORT.sub("", file.read_text(encoding="utf-8")))
        said = [m.group(1) for m in _BETWEEN.finditer(text)]
        said += [m.group(1) or m.group(2) for m in _STRING.finditer(text)]
        said += [m.group(1) for m in _NAMED.finditer(text)]
        found += [(file.name, " ".join(each.split())) for each in said]
    return found


def command_texts() -> list[tuple[str, str]]:
    found = []
    for name, command in get_command(app).commands.items():
        found.append((name, command.help or ""))
        found += [(name, each.help or "") for each in command.params if getattr(each, "help", None)]
    return found


def edit_and_problem_texts() -> list[tuple[str, str]]:
    """Labels of edits, and what problems say and advise."""
    spoken = re.compile(r'(?:what|mend|label)=f?"([^"]+)"|commit\(\s*\w+,\s*f?"([^"]+)"')
    found = []
    for file in sorted((ROOT / "src" / "dramok").rglob("*.py")):
        for each in spoken.finditer(file.read_text(encoding="utf-8")):
            found.append((file.name, each.group(1) or each.group(2)))
    return found


SOURCES = {"page": page_texts, "command line": command_texts, "edits and problems": edit_and_problem_texts}


@pytest.mark.parametrize("source", SOURCES)
def test_each_thing_has_one_plain_name(source):
    texts = SOURCES[source]()
    assert len(texts) > 60, "the texts are found"
    wrong = [
        f"{where}: “{text[:90]}” — say {instead}"
        for where, text in texts
        for pattern, instead in NOT_SAID.items()
        if re.search(pattern, text) and not (pattern == AWAY and where in OF_WHOLE_GAMES)
    ]
    assert not wrong, "\n".join(wrong)


PAGES = [
    "README.md", "CONTRIBUTING.md", *(f"docs/{name}.md" for name in ("tour", "command-line", "output", "decks", "queries-and-formulas", "face-plans", "rules-of-play", "glossary", "api", "file-formats")),
    *(str(page.relative_to(ROOT)) for page in sorted((ROOT / "docs" / "decisions").glob("*.md")) if page.name != "0042-names-and-rooms.md"),
]  # fmt: skip
"""All pages of documentation but the list of old module names."""
NOT_WRITTEN = {
    r"\b(is|are|be) (told|asked of|held against)\b": "shows, is checked against",
    r"\bstand(s|ing)?\b": "is",
    r"\b(lies|lying)\b": "is",
    r"\bso (many|often)\b": "a number, up to n times",
    r"\b(amiss|mend(s|ed|ing)?)\b": "wrong, fix",
    r"\bbeside\b": "next to",
    r"\b(as|what) one (likes|wishes|expects|stands)\b": "you",
    r"\btak(e|es|en|ing) in\b": "import",
    r"\bthe likeliest\b": "the most likely",
    r"\bleaf\b": "sheet, page",
    r"(, too|, also)[.;]": "also before the verb",
}


NOT_IN_DOCSTRINGS = {
    **NOT_WRITTEN,
    r"\b[Ww]hoever\b": "the caller, anyone who",
    r"\b[Ss]omebody\b": "someone, the user",
    r"\b(speaks?|spoken) of\b": "refers to",
    r"\banew\b": "again",
    r"\bwears?\b": "uses",
    r"\bone's own\b": "the user's, your own",
    r"\basked of\b": "requested, tested",
    r"\botherwise than\b": "different from",
    r"\bhow far\b": "the progress",
    r"\btak(e|es|en) out\b": "remove",
}
LEAVES = Path("src", "dramok", "core", "faces", "art")
"""Pictures of plants have leaves."""


def docstrings() -> list[tuple[str, str]]:
    """Docstrings of modules, classes, functions and constants in product code, tests and benchmarks, without names in backquotes."""
    found = []
    for file in (file for folder in ("src/dramok", "tests", "bench") for file in sorted((ROOT / folder).rglob("*.py"))):
        place = file.relative_to(ROOT)
        if "page" in place.parts or "versions" in place.parts:
            continue
        for node in ast.walk(ast.parse(file.read_text(encoding="utf-8"))):
            for each in getattr(node, "body", None) if isinstance(getattr(node, "body", None), list) else ():
                if isinstance(each, ast.Expr) and isinstance(each.value, ast.Constant) and isinstance(each.value.value, str):
                    text = re.sub(r"`[^`]*`", "", " ".join(each.value.value.split()))
                    if LEAVES in place.parents:
                        text = re.sub(r"\bleaf\b", "", text)
                    found.append((f"{place}:{each.lineno}", text))
    return found


def test_docstrings_are_plain_english():
    texts = docstrings()
    assert len(texts) > 3_000, "the docstrings are found"
    wrong = [
        f"{where}: “{text[:90]}” — say {instead}"
        for where, text in texts
        for pattern, instead in NOT_IN_DOCSTRINGS.items()
        if re.search(pattern, text)
    ]
    assert not wrong, "\n".join(wrong)


@pytest.mark.parametrize("page", PAGES)
def test_pages_of_documentation_are_in_plain_english(page):
    text = re.sub(r"```.*?```|`[^`]*`|^    .*$|\]\([^)]*\)", "", (ROOT / page).read_text(encoding="utf-8"), flags=re.DOTALL | re.MULTILINE)
    wrong = [
        f"“{line.strip()[:100]}” — write {instead}"
        for line in text.splitlines()
        for pattern, instead in {**NOT_SAID, **NOT_WRITTEN}.items()
        if re.search(pattern, line) and not (pattern == AWAY and "games" in line)
    ]
    assert not wrong, "\n".join(wrong)


def test_the_readme_is_short():
    lines = (ROOT / "README.md").read_text(encoding="utf-8").splitlines()
    assert len(lines) <= 120 and sum("![" in line for line in lines) == 5


def test_the_words_of_our_own_are_few_and_explained():
    text = (ROOT / "docs" / "glossary.md").read_text(encoding="utf-8")
    rows = [line.split("|")[1].strip() for line in text.splitlines() if line.startswith("|")][2:]
    assert 10 <= len(rows) <= 30
    for word in (
        "face plan",
        "adjustments",
        "worth",
        "budget",
        "verdict",
        "ripple",
        "print run",
        "table sheet",
    ):
        assert word in rows


_NOUNS = r"cards?|cells?|decks?|games?|lines?|rows?|values?|places?|copies|pictures?|columns?|texts?|faults?|verdicts?|decisions?|outliers?"
_APART = {"AllDecksPart.tsx", "CardsPage.tsx", "HealthPage.tsx", "HistoryPage.tsx", "SheetsPart.tsx"}
"""The number has its own span, comes before another number, or is never one."""


def test_the_page_says_counts_in_one_way_so_that_one_card_is_one_card():
    """`counted(count, "card")`: a number straight before a plural is wrong for one of them."""
    found = []
    for file in sorted((ROOT / "web" / "src").rglob("*.ts*")):
        if "api" in file.parts or file.name in _APART:
            continue
        text = _COMMENT.sub("", file.read_text(encoding="utf-8"))
        found += [(file.name, each[0]) for each in re.finditer(rf"(count|length|size|total|\w+_count|cards|rows|decks|games)(\.toLocaleString\(\"en\"\))?\}} ({_NOUNS})\b", text)]
        found += [(file.name, each[0]) for each in re.finditer(rf'=== 1 \? "(1 )?({_NOUNS})"', text)]
    assert not found
