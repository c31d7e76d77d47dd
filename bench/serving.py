"""What a forked server runs (see `served`). It is separate from the code that drives a browser, which takes longer to import than a server takes to start."""

from __future__ import annotations

import os
import sys


def serve(db: str, port: int) -> None:
    """As `dramok serve` does, and says nothing."""
    from dramok.cli import main

    sys.stdout = open(os.devnull, "w")  # noqa: SIM115
    sys.argv = ["dramok", "serve", "--db", db, "--port", str(port)]
    main()
