"""The command line: the same use cases as the page.

`context` has the shared options and helpers; each other module has the commands of one subject.
"""

from __future__ import annotations

import functools
import gc
import sys
from collections.abc import Callable, Sequence
from pathlib import Path
from typing import Any

gc.disable()  # objects created by imports are permanent; scanning them costs a fifth of the start time

import typer  # noqa: E402

from dramok.cli import checks, decks, exchange, games, importing, measuring, output, playing, serving  # noqa: E402
from dramok.cli.context import app, fail, path_text  # noqa: E402
from dramok.core.text_checks import text_fault  # noqa: E402

__all__ = ["app", "checks", "decks", "exchange", "games", "importing", "main", "measuring", "output", "playing", "serving"]

ORDER = (
    "demo",
    "serve",
    "games",
    "new",
    "rename",
    "duplicate",
    "put-away",
    "bring-back",
    "import",
    "export",
    "import-pictures",
    "backup",
    "restore",
    "check",
    "repair",
    "proof",
    "price",
    "odds",
    "play",
    "simulate",
    "measure",
    "sweep",
    "duels",
    "health",
    "workers",
    "replay",
    "print",
    "sheets",
    "pictures",
    "glossary", "rules",
)
"""Commands as `--help` lists them."""
app.registered_commands.sort(key=lambda each: ORDER.index(str(each.name or each.callback.__name__)))  # type: ignore[union-attr]


@functools.cache
def command() -> Callable[[], Any]:
    """All commands, built once per process: that takes a tenth of a second."""
    made: Callable[[], Any] = typer.main.get_command(app)
    return made


def main() -> None:
    gc.freeze()
    gc.enable()
    _readable(sys.argv[1:])
    command()()


def _readable(words: Sequence[str]) -> None:
    """Exits with code 1 if an argument has bytes that are not valid text.

    Names of existing files may have any bytes.
    """
    for word in words:
        if text_fault(word) and not Path(word).exists():
            try:
                fail({"what": f"“{path_text(word)}” holds bytes that are no UTF-8", "mend": "write it in UTF-8, as this terminal should do"}, "--json" in words)
            except typer.Exit as end:
                raise SystemExit(end.exit_code) from None
