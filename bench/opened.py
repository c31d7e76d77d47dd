"""Imported once, before servers are forked from it (see `served`): the program's modules, its commands, and its rooms of routes opened."""

# ruff: noqa: F401
import encodings.idna

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

dramok.cli.command()
FIRST.open()
LATE.open()
