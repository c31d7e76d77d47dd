"""Output over HTTP: orders previewed and made, jobs that are stopped, jobs that survive a restart, refusals."""

from __future__ import annotations

import io
import json
import shutil
import time
import urllib.error
import urllib.request
import zipfile
from collections.abc import Iterator
from pathlib import Path

import pypdfium2
import pytest
from bench.served import Server

from tests.conftest import A_BUSY_MACHINES, GAME
from tests.server.test_api import client  # noqa: F401

OUT = f"/api/games/{GAME}/output"


@pytest.fixture
def running(demo_file: Path, tmp_path: Path) -> Iterator[Server]:
    made = Server(Path(shutil.copy(demo_file, tmp_path / "made.db")))
    yield made
    made.kill()


def call(server: Server, path: str, body: object = None, method: str | None = None, key: str | None = None):
    headers = {"Content-Type": "application/json", "X-Page": "test"} | (
        {"Idempotency-Key": key} if key else {}
    )
    data = None if body is None else json.dumps(body).encode()
    request = urllib.request.Request(f"{server.url}{OUT}{path}", data, headers, method=method)
    with urllib.request.urlopen(request, timeout=A_BUSY_MACHINES) as answer:
        said = answer.read()
        return json.loads(said) if said and answer.headers["Content-Type"] == "application/json" else said


def ended(server: Server, job: str, states=("done", "stopped", "failed")):
    for _ in range(3_000):
        found = call(server, f"/jobs/{job}")
        if found["state"] in states:
            return found
        time.sleep(0.1)
    raise AssertionError(found)


def half_made(server: Server) -> list[str]:
    folder = server.db.with_name(f"{server.db.name}-output")
    return [
        each.name
        for each in folder.rglob("*")
        if each.is_file() and (".part" in each.name or each.name == "result")
    ]


def test_the_edge_that_a_sheet_is_turned_over_decides_where_backs_are(running):
    """On an upright sheet: turned over its long edge, backs are mirrored across; over its short edge, from top to bottom."""
    order = {"choice": {"cards": "1-4", "copies": 1}}
    places = {}
    for edge in ("long", "short"):
        (layout,) = call(running, "/print/look", {**order, "backs": edge})["layouts"]
        assert layout["page"]["width"] < layout["page"]["height"] and not layout["pairs"]
        places[edge] = [((front["x"], front["y"]), (back["x"], back["y"])) for front, back in zip(layout["slots"], layout["behind"], strict=True)]
    assert all(front[1] == back[1] for front, back in places["long"]) and any(front[0] != back[0] for front, back in places["long"])
    assert all(front[0] == back[0] for front, back in places["short"]) and any(front[1] != back[1] for front, back in places["short"])
    (layout,) = call(running, "/print/look", order)["layouts"]
    assert layout["behind"] == []


def test_a_run_is_previewed_made_recorded_out_of_date_and_reprinted(running):
    order = {"choice": {"cards": "1-20", "copies": 1}, "backs": "long", "left_out": [3]}
    look = call(running, "/print/look", order)
    assert [len(leaf["cards"]) for leaf in look["leaves"]] == [9, 9, 2] and (
        look["copies"],
        look["pages"],
    ) == (18, 4)
    page = call(running, "/print/page?leaf=2&back=true", order)
    assert (page["width"], page["height"]) == (210, 297) and page["body"].count("<use") == 9
    job = call(running, "/print", order, key="once")
    assert call(running, "/print", order, key="once")["id"] == job["id"], "asked twice, made once"
    done = ended(running, job["id"])
    assert done["state"] == "done" and done["result"]["facts"]["copies"] == 18
    assert done["order"]["paper"]["width"] == 210, "the order is kept whole, for the next one to begin with"
    assert len(pypdfium2.PdfDocument(call(running, f"/jobs/{job['id']}/file"))) == 4
    paper = call(running, "/paper")
    assert (paper["stale"], paper["unprinted"], [run["copies"] for run in paper["runs"]]) == ([], 78, [18])
    card = f"c-{GAME}-rs-004"
    body = json.dumps({"value": "Wet Wick", "base": 10**9}).encode()
    request = urllib.request.Request(
        f"{running.url}/api/games/{GAME}/cards/{card}/fields/name", body, {"Content-Type": "application/json"}, method="PUT"
    )  # fmt: skip
    edit = json.loads(urllib.request.urlopen(request, timeout=A_BUSY_MACHINES).read())
    assert (
        edit["ripple"]["cards"][0]["stale"] == 1 and edit["ripple"]["cards"][0]["after"]["paper"] == "stale"
    )
    assert call(running, "/paper")["stale"] == [card]
    again = ended(
        running, call(running, "/print", {"choice": {"only": "stale", "run": paper["runs"][0]["id"]}})["id"]
    )
    assert again["result"]["facts"]["copies"] == 1 and call(running, "/paper")["stale"] == []
    repeated = ended(running, call(running, f"/jobs/{job['id']}/again", {})["id"])
    assert repeated["result"]["run_name"] != done["result"]["run_name"]
    call(running, f"/jobs/{job['id']}", method="DELETE")
    with pytest.raises(urllib.error.HTTPError, match="404"):
        call(running, f"/jobs/{job['id']}/file")


def test_two_jobs_at_once_and_one_that_is_stopped_leaves_nothing(running):
    sheets = call(running, "/sheets", {"width": 2200, "limits": {"side": 8192}})
    other = call(running, "/pictures", {"choice": {"cards": "1-4"}, "width": 80})
    third = call(running, "/print", {"choice": {"cards": "1"}})
    assert ended(running, other["id"])["state"] == ended(running, third["id"])["state"] == "done"
    assert len(zipfile.ZipFile(io.BytesIO(call(running, f"/jobs/{other['id']}/file"))).namelist()) == 4
    call(running, f"/jobs/{sheets['id']}/stop", {})
    assert ended(running, sheets["id"])["state"] == "stopped" and half_made(running) == []
    assert call(running, f"/jobs/{other['id']}/stop", {})["state"] == "done", "what has ended stays as it is"
    with pytest.raises(urllib.error.HTTPError, match="404"):
        call(running, f"/jobs/{sheets['id']}/file")


def test_a_job_outlives_the_server_even_when_it_is_killed(running):
    job = call(running, "/sheets", {"choice": {"cards": "1-24"}, "width": 700, "each_copy": False})
    ended(running, job["id"], ("running",))
    time.sleep(0.5)
    running.kill()
    time.sleep(0.3)
    folder = running.db.with_name(f"{running.db.name}-output")
    files = [each.name for each in folder.rglob("*") if each.is_file()]
    assert all(".part" in name for name in files), "nothing has a name yet"
    running.start()
    done = ended(running, job["id"])
    assert done["state"] == "done" and half_made(running) == []
    archive = zipfile.ZipFile(io.BytesIO(call(running, f"/jobs/{job['id']}/file")))
    assert archive.testzip() is None and "read me first.html" in archive.namelist()


@pytest.mark.parametrize(
    ("path", "body", "said"),
    [
        ("print/look", {"choice": {"cards": "900"}}, "there is no card 900"),
        ("print/look", {"paper": {"width": 1e9}}, "width"),
        ("print/look", {"paper": {"scale": "NaN"}}, "scale"),
        ("print/look", {"choice": {"copies": 10_001}}, "copies"),
        ("print/look", {"choice": {"copies": 10_000}}, "too many at once"),
        ("print", {"choice": {"only": "stale"}}, "nothing on paper is out of date"),
        ("print", {"choice": {"deck": "../../etc"}}, "no deck"),
        ("sheets/look", {"limits": {"side": 100}}, "does not fit a side of 100"),
        ("sheets", {"table": "none"}, "no such text table"),
        ("sheets", {"decks": ["x"] * 101}, "decks"),
        ("pictures/look", {"names": "{a}{b}"}, "nothing is called {a}"),
        ("pictures/look", {"width": 100, "height": 100}, "give one of width, height"),
        ("pictures/look", {"names": "../../{code}", "choice": {"cards": "1"}}, None),
    ],
)
def test_impossible_orders_are_refused_with_the_place_and_a_fix(client, path, body, said):  # noqa: F811
    answer = client.post(f"{OUT}/{path}", json=body)
    if said is None:
        assert answer.json()["first"][0]["file"] == "RS-001.png", "no name leads out of the archive"
        return
    assert answer.status_code in (400, 404, 422), answer.text
    assert said in answer.json()["detail"] and (answer.json()["mend"] or answer.status_code == 404)
    assert client.get(f"{OUT}/jobs").json() == []


def test_what_is_not_there_is_said(client):  # noqa: F811
    for method, path in (("GET", "jobs/none"), ("GET", "jobs/none/file"), ("POST", "jobs/none/stop"), ("DELETE", "jobs/none"), ("DELETE", "runs/none")):  # fmt: skip
        assert client.request(method, f"{OUT}/{path}").status_code == 404
