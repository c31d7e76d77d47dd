"""The wheel as somebody installs it: with its page and fonts, so that it serves and prints."""

from __future__ import annotations

import os
import subprocess
import sys
import zipfile
from pathlib import Path

import pytest

ROOT = Path(__file__).parent.parent
built = pytest.mark.skipif(not (ROOT / "src/dramok/server/page/index.html").exists(), reason="needs the page, which `make setup` builds")

SERVED = """
import sys
from pathlib import Path
from fastapi.testclient import TestClient
import dramok
assert Path(dramok.__file__).is_relative_to(Path(sys.argv[1])), dramok.__file__
from dramok.server.app import create_app
from dramok.services import open_workspace
workspace = open_workspace(Path(sys.argv[2]) / "own.db")
with TestClient(create_app(workspace), base_url="http://127.0.0.1:8000") as client:
    page = client.get("/")
    assert page.status_code == 200 and "<div id=" in page.text, page.text[:200]
    script = page.text.split('src="')[1].split('"')[0]
    assert client.get(script).status_code == 200
    card = next(iter(workspace.game("ribbon-season").cards))
    face = client.get(f"/api/games/ribbon-season/cards/{card}/face.png")
    print(face.status_code, len(face.content))
"""


@built
def test_an_installed_wheel_has_its_page_and_its_fonts(tmp_path):
    subprocess.run([sys.executable, "-m", "hatchling", "build", "-t", "wheel", "-d", str(tmp_path / "dist")], cwd=ROOT, check=True, capture_output=True)
    (wheel,) = (tmp_path / "dist").glob("*.whl")
    names = zipfile.ZipFile(wheel).namelist()
    assert any(name.endswith("server/page/index.html") for name in names) and sum(name.endswith(".ttf") for name in names) >= 4
    assert not [name for name in names if "tests/" in name or name.endswith(".db") or "__pycache__" in name]
    home = tmp_path / "home"
    subprocess.run([sys.executable, "-m", "pip", "install", "-q", "--no-deps", "--no-index", "--disable-pip-version-check", "--target", str(home), str(wheel)], check=True)
    environment = {key: value for key, value in os.environ.items() if key != "PYTHONPATH"} | {"PYTHONPATH": str(home)}
    done = subprocess.run([sys.executable, "-P", "-c", SERVED, str(home), str(tmp_path)], cwd=tmp_path, env=environment, capture_output=True, text=True)
    assert done.returncode == 0, done.stderr[-800:]
    status, size = done.stdout.split()
    assert status == "200" and int(size) > 5_000, "a face is drawn with its fonts"
