"""Edit events reach every open page, from the page and from the command line, and a page catches up after a gap."""

from __future__ import annotations

import json
import re
import shutil
import subprocess
import sys
import urllib.request
from collections.abc import Iterator

from tests.browser.conftest import GAME, Server, port, server  # noqa: F401
from tests.conftest import A_BUSY_MACHINES, SAMPLES


def listen(running: Server, last: int | str | None = None) -> Iterator[dict]:
    request = urllib.request.Request(f"{running.url}/api/games/{GAME}/events?page=listener")
    if last is not None:
        request.add_header("Last-Event-ID", str(last))
    with urllib.request.urlopen(request, timeout=A_BUSY_MACHINES) as stream:
        kind = ""
        for line in stream:
            if line.startswith(b"event: "):
                kind = line[7:].decode().strip()
            if line.startswith(b"data: "):
                yield {kind: json.loads(line[6:])} if kind else json.loads(line[6:])
                kind = ""


def edit(running: Server, field: str, value: str) -> int:
    body = json.dumps({"value": value, "base": 10**9}).encode()
    path = f"{running.url}/api/games/{GAME}/cards/RS-001/fields/{field}"
    request = urllib.request.Request(
        path, body, {"Content-Type": "application/json", "X-Page": "writer"}, method="PUT"
    )
    return json.loads(urllib.request.urlopen(request, timeout=A_BUSY_MACHINES).read())["seq"]


def test_news_comes_in_order_and_catches_up(server: Server):  # noqa: F811
    news = listen(server)
    assert next(news) == {"here": 1}
    first = edit(server, "cost", "3")
    heard = next(news)
    assert (heard["seq"], heard["pages"], heard["things"]) == (
        first,
        ["writer"],
        [["card", "c-ribbon-season-rs-001"]],
    )
    command = [
        sys.executable,
        "-m",
        "dramok",
        "import",
        str(SAMPLES / "draft-sheet.csv"),
        "--game",
        GAME,
        "--db",
        str(server.db),
    ]
    subprocess.run(command, check=True, capture_output=True)
    heard = next(news)
    assert heard["pages"] == ["command line"] and len(heard["things"]) == 48 and not heard["refetch"]
    edit(server, "cost", "4")
    late = listen(server, last=first)
    next(late)
    caught_up = next(late)
    assert caught_up["seq"] == first + 2 and caught_up["pages"] == ["command line", "writer"]


def test_a_page_of_another_file_is_notified(server: Server, tmp_path):  # noqa: F811
    """A file put back from a copy, older or gone on with otherwise: what one saw last is no edit of it."""
    copy = shutil.copy(server.db, tmp_path / "copy.db")
    edit(server, "cost", "3")
    seen = place_of(server)
    assert re.fullmatch(r"4@20\d\d-[0-9T:.+-]+", seen)
    again = listen(server, last=seen)
    assert next(again) == {"here": 4}
    edit(server, "cost", "4")
    heard = next(again)
    assert heard["ops"] == [[5, "writer"]] and "other" not in heard
    for gone_on in (False, True):
        server.kill()
        for each in server.db.parent.glob(f"{server.db.name}*"):
            each.unlink()
        shutil.copy(copy, server.db)
        server.start()
        if gone_on:
            edit(server, "cost", "5")
            edit(server, "cost", "6")
        other = listen(server, last=seen)
        assert next(other) == {"here": 5 if gone_on else 1}
        assert next(other) == {"seq": 5 if gone_on else 1, "refetch": True, "pages": [], "ops": [], "other": True}


def place_of(running: Server) -> str:
    """The id with which the stream begins."""
    with urllib.request.urlopen(f"{running.url}/api/games/{GAME}/events?page=listener", timeout=A_BUSY_MACHINES) as stream:
        return next(line for line in stream if line.startswith(b"id: "))[4:].decode().strip()
