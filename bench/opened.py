"""Imported once, before servers are forked from it (see `served`): the program's modules, commands and routes, and the cache that any
server has after it has laid out the cards of the demo game."""

# ruff: noqa: F401
import encodings.idna
import gc
import tempfile
from pathlib import Path

import anyio._backends._asyncio
import numpy
import typer._click.decorators
import uvicorn.lifespan.on
import uvicorn.loops.auto
import uvicorn.loops.uvloop
import uvicorn.protocols.http.auto

import bench.serving
import dramok.cli
from dramok.server.app import FIRST, LATE
from dramok.services import open_workspace
from dramok.services.cards.card_detail import DetailCache

dramok.cli.command()
FIRST.open()
LATE.open()
with tempfile.TemporaryDirectory() as folder:
    workspace = open_workspace(Path(folder) / "demo.db")
    for game in workspace.games():
        sheets = DetailCache()
        assert all(sheets.sheet(game, card).svg for card in game.cards.values())
    workspace.close()
# What is here stays: no server looks through it again, or has a copy of it for that.
gc.collect()
gc.freeze()
