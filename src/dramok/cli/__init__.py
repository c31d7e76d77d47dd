"""The command line: the same use cases as the page.

`overview` lists the commands, `context` has the shared options and helpers; each other module has the commands of
one subject and is imported when one of them is used.
"""

from __future__ import annotations

import functools
import gc
import sys
from collections.abc import Callable, Sequence
from importlib import import_module
from pathlib import Path
from typing import Any

from dramok.cli.overview import COMMANDS, overview

USAGE_EXIT = 2


def main() -> None:
    words = sys.argv[1:]
    if not words or words == ["--help"]:
        sys.stdout.write(overview())
        raise SystemExit(0 if words else USAGE_EXIT)
    gc.disable()  # objects created by imports are permanent; scanning them costs a fifth of the start time
    run = command_of(words[0])
    gc.freeze()
    gc.enable()
    _readable(words)
    run()


def command_of(name: str) -> Callable[[], Any]:
    """The program with the module of one command; with all of them if there is no such command."""
    if name not in COMMANDS:
        return command()
    import typer

    from dramok.cli.context import app

    import_module(f"dramok.cli.{COMMANDS[name][0]}")
    made: Callable[[], Any] = typer.main.get_command(app)
    return made


@functools.cache
def command() -> Callable[[], Any]:
    """The program with all commands, in the order of `--help`."""
    import typer

    from dramok.cli.context import app

    for module in dict.fromkeys(module for module, _ in COMMANDS.values()):
        import_module(f"dramok.cli.{module}")
    names = list(COMMANDS)
    app.registered_commands.sort(key=lambda each: names.index(str(each.name or each.callback.__name__)))  # type: ignore[union-attr]
    made: Callable[[], Any] = typer.main.get_command(app)
    return made


def _readable(words: Sequence[str]) -> None:
    """Exits with code 1 if an argument has bytes that are not valid text.

    Names of existing files may have any bytes.
    """
    import typer

    from dramok.cli.context import fail, path_text
    from dramok.core.text_checks import text_fault

    for word in words:
        if text_fault(word) and not Path(word).exists():
            try:
                fail({"what": f"“{path_text(word)}” holds bytes that are no UTF-8", "mend": "write it in UTF-8, as this terminal should do"}, "--json" in words)
            except typer.Exit as end:
                raise SystemExit(end.exit_code) from None


def __getattr__(name: str) -> Any:
    """`app`, with all commands registered."""
    if name != "app":
        raise AttributeError(name)
    from dramok.cli.context import app

    command()
    return app


__all__ = ["COMMANDS", "command", "command_of", "main", "overview"]
