"""`page_code` runs a script in Node with the page's modules."""

from __future__ import annotations

import json
import subprocess
from collections.abc import Callable
from pathlib import Path
from typing import Any

import pytest

HERE = Path(__file__).parent
WEB = HERE.parent.parent / "web"
MODULES = {
    "layout": "cards/columnLayout.ts", "columns": "cards/columns.ts", "address": "cards/cardsAddress.ts", "hand": "playtest/handLayout.ts", "map": "balance/mapLayout.ts",
    "charts": "balance/chartExport.ts", "ids": "rules/ids.ts", "plural": "ui/plural.ts", "play": "rules/play/playDoc.ts", "sheet": "rules/priceSheet.ts",
    "find": "shell/findable.ts", "kinds": "fieldkinds/index.ts", "editors": "fieldkinds/editors/index.ts",
}  # fmt: skip
PageCode = Callable[[str, Any], Any]


@pytest.fixture(scope="session")
def page_code(tmp_path_factory: pytest.TempPathFactory) -> PageCode:
    """`page_code(script, given)`: the script is the body of a function of `page` (modules by the names above) and `given`."""
    if not (WEB / "node_modules").exists():
        pytest.skip("needs the packages of the page, which `make setup` installs")
    folder = tmp_path_factory.mktemp("page")
    named = [f"{name}={path}" for name, path in MODULES.items()]
    subprocess.run(["node", str(HERE / "bundle.mjs"), str(WEB), str(folder), *named], check=True)

    def run(script: str, given: Any) -> Any:
        asked = json.dumps({"bundle": str(folder / "page.mjs"), "script": script, "given": given})
        done = subprocess.run(["node", str(HERE / "run.mjs")], input=asked, capture_output=True, text=True)
        assert done.returncode == 0, done.stderr
        return json.loads(done.stdout)

    return run
