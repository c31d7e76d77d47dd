"""The compiled kernel compared with the reference engine on many generated games: events, views and automatic players.

Games by `DRAMOK_GAMES` (500) from the seed `DRAMOK_FROM` on (0).
"""

from __future__ import annotations

import gc
import os
import time
from collections import Counter
from importlib import import_module
from typing import Any


def run() -> None:
    # Tests are no part of what is type-checked.
    tests: Any = import_module("tests.core.test_engine")
    # The games leave little behind, and the collector would look through all that is loaded again and again.
    gc.freeze()
    first, games = int(os.environ.get("DRAMOK_FROM", "0")), int(os.environ.get("DRAMOK_GAMES", "500"))
    for name, of in (("agree", tests.agree), ("keeps_secrets", tests.keeps_secrets), ("looks_at_nothing_hidden", tests.looks_at_nothing_hidden)):
        begun, went, parted = time.perf_counter(), Counter[str](), []
        for seed in range(first, first + games):
            try:
                found = of(seed)
                went[found if name == "agree" else "games"] += 1
            except Exception as error:
                parted.append(seed)
                print(f"{name}: seed {seed}: {type(error).__name__} {str(error)[:200]}", flush=True)
        print(f"{name}: {games:,} games from seed {first}, {len(parted)} part; {dict(went)}; {time.perf_counter() - begun:.0f} s", flush=True)
