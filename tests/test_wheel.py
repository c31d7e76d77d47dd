"""The wheel as a user installs it: with its page and fonts, so that it serves and prints."""

from __future__ import annotations

import json
import os
import socket
import subprocess
import sys
import sysconfig
import tomllib
import venv
import zipfile
from pathlib import Path

import httpx
import pytest
from playwright.sync_api import Browser, expect

from dramok import __version__

ROOT = Path(__file__).parent.parent
built = pytest.mark.skipif(not (ROOT / "src/dramok/server/page/index.html").exists(), reason="needs the page, which `make setup` builds")


@pytest.fixture(scope="module")
def installed(tmp_path_factory) -> Path:
    """A fresh environment with the wheel; only what it depends on comes from the environment of the tests."""
    folder = tmp_path_factory.mktemp("wheel")
    subprocess.run([sys.executable, "-m", "hatchling", "build", "-t", "wheel", "-d", str(folder / "dist")], cwd=ROOT, check=True, capture_output=True)
    (wheel,) = (folder / "dist").glob("*.whl")
    names = zipfile.ZipFile(wheel).namelist()
    assert any(name.endswith("server/page/index.html") for name in names) and sum(name.endswith(".ttf") for name in names) >= 4
    assert not [name for name in names if "tests/" in name or name.endswith(".db") or "__pycache__" in name]
    venv.create(folder / "own", with_pip=False)
    python = folder / "own" / "bin" / "python"
    home = subprocess.run([str(python), "-c", "import sysconfig; print(sysconfig.get_path('purelib'))"], capture_output=True, text=True, check=True).stdout.strip()
    # A path that is added in this way is searched, but the project that is installed there for editing is not.
    (Path(home) / "dependencies.pth").write_text(sysconfig.get_path("purelib") + "\n")
    subprocess.run(
        [sys.executable, "-m", "pip", "--python", str(python), "install", "-q", "--no-deps", "--no-index", "--disable-pip-version-check", str(wheel)], check=True, capture_output=True
    )  # fmt: skip
    return folder / "own" / "bin"


def environment() -> dict[str, str]:
    return {key: value for key, value in os.environ.items() if key not in ("PYTHONPATH", "DRAMOK_DB")}


@built
def test_dramok_demo_from_the_wheel_serves_the_page_in_an_empty_folder(installed, tmp_path, chromium: Browser):
    place = subprocess.run([str(installed / "python"), "-P", "-c", "import dramok; print(dramok.__file__)"], capture_output=True, text=True, cwd=tmp_path, env=environment()).stdout
    assert Path(place.strip()).is_relative_to(installed.parent), place
    with socket.socket() as free:
        free.bind(("127.0.0.1", 0))
        port = free.getsockname()[1]
    server = subprocess.Popen([str(installed / "dramok"), "demo", "--port", str(port)], cwd=tmp_path, env=environment(), stdout=subprocess.PIPE, stderr=subprocess.STDOUT, text=True)
    try:
        for line in server.stdout:
            if str(port) in line:
                break
        address = f"http://127.0.0.1:{port}"
        page = httpx.get(address, timeout=60)
        assert page.status_code == 200 and '<div id="' in page.text
        script = page.text.split('src="')[1].split('"')[0]
        assert httpx.get(address + script).status_code == 200
        games = {each["id"] for each in httpx.get(f"{address}/api/games", timeout=60).json()}
        assert games == {"ribbon-season", "potting-shed", "crowded-bed"}
        card = httpx.get(f"{address}/api/games/ribbon-season/cards?limit=1", timeout=60).json()["cards"][0]["id"]
        face = httpx.get(f"{address}/api/games/ribbon-season/cards/{card}/face.png", timeout=60)
        assert face.status_code == 200 and len(face.content) > 5_000, "a face is drawn with its fonts"
        opened = chromium.new_page()
        opened.goto(f"{address}/ribbon-season/cards")
        expect(opened.locator(".grid")).to_contain_text("Copper Larch Fern", timeout=120_000)
        opened.close()
    finally:
        server.terminate()
        server.wait()
    assert [each.name for each in tmp_path.iterdir() if each.suffix == ".db"], "the games are in the folder"


def test_page_and_package_have_one_version():
    package = tomllib.loads((ROOT / "pyproject.toml").read_text(encoding="utf-8"))["project"]
    page = json.loads((ROOT / "web" / "package.json").read_text(encoding="utf-8"))["version"]
    locked = json.loads((ROOT / "web" / "package-lock.json").read_text(encoding="utf-8"))
    assert {page, locked["version"], locked["packages"][""]["version"], __version__} == {page}
    assert package.get("version", page) == page and {"numpy", "llvmlite"} <= {each.split(">")[0] for each in package["dependencies"]}
    assert "fast" not in package["optional-dependencies"]
