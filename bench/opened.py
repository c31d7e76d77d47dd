"""Imported once, before servers are forked from it (see `served`): the program's modules, its commands, and its rooms of routes opened."""

import uvicorn.lifespan.on
import uvicorn.loops.auto
import uvicorn.loops.uvloop
import uvicorn.protocols.http.auto  # noqa: F401

import dramok.cli
from dramok.server.app import FIRST, LATE

dramok.cli.command()
FIRST.open()
LATE.open()
