"""Imported once, before servers are forked from it (see `served`): the program's modules, and its rooms of routes opened."""

import uvicorn.lifespan.on
import uvicorn.loops.auto
import uvicorn.protocols.http.auto  # noqa: F401

import dramok.cli  # noqa: F401
from dramok.server.app import FIRST, LATE

FIRST.open()
LATE.open()
