"""Write the server's OpenAPI document: `python -m dramok.server.openapi FILE`."""

from __future__ import annotations

import json
import sys
import tempfile
from pathlib import Path

from dramok.server.app import create_app
from dramok.services import open_workspace


def document() -> str:
    """The OpenAPI document as JSON text, keys sorted."""
    with tempfile.TemporaryDirectory() as folder:
        workspace = open_workspace(Path(folder) / "empty.db")
        try:
            return json.dumps(create_app(workspace).openapi(), indent=1, sort_keys=True) + "\n"
        finally:
            workspace.close()


if __name__ == "__main__":
    Path(sys.argv[1]).write_text(document(), encoding="utf-8")
