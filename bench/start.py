"""From the start of the process to the first response, as a ratio to a bare Python that imports FastAPI and SQLModel."""

from __future__ import annotations

import subprocess
import sys
import tempfile
import time
import urllib.request
from pathlib import Path

from dramok.services import open_workspace

PORT = 8977
ROUNDS = 5


def first_answer(db: Path) -> float:
    begin = time.perf_counter()
    process = subprocess.Popen(
        [sys.executable, "-m", "dramok", "serve", "--db", str(db), "--port", str(PORT)],
        stdout=subprocess.DEVNULL,
    )
    try:
        while True:
            try:
                urllib.request.urlopen(f"http://127.0.0.1:{PORT}/api/games", timeout=5).read()
                return time.perf_counter() - begin
            except OSError:
                time.sleep(0.01)
    finally:
        process.terminate()
        process.wait()


def run() -> None:
    with tempfile.TemporaryDirectory() as folder:
        open_workspace(Path(folder) / "b.db").close()
        first_answer(Path(folder) / "b.db")
        times = sorted(first_answer(Path(folder) / "b.db") for _ in range(ROUNDS))
        begin = time.perf_counter()
        subprocess.run([sys.executable, "-c", "import fastapi, sqlmodel, uvicorn"], check=True)
        bare = time.perf_counter() - begin
    print(
        f"server start to first answer: {times[ROUNDS // 2]:.2f} s, slowest {times[-1]:.2f} s (wanted 2 s); {times[ROUNDS // 2] / bare:.1f} x importing its libraries"
    )
