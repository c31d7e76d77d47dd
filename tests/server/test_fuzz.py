"""More than a thousand requests, ordinary and hostile, from a new seed in each run, printed on failure."""

from __future__ import annotations

import random
import zipfile
from io import BytesIO

import pytest
from bench.fuzz import InvalidInput, deep, fuzzed, mutated_archive, whole
from fastapi.testclient import TestClient

from dramok.server import create_app
from dramok.services import open_workspace
from dramok.services.files.archive import archive
from tests.conftest import A_BUSY_MACHINES, GAME, SEED

HERE = {"base_url": "http://127.0.0.1"}


@pytest.mark.parametrize("part", range(2))
def test_no_request_is_answered_with_5xx_or_off_its_schema(part):
    sent = fuzzed(450, SEED + part, A_BUSY_MACHINES)
    assert sum(sent.values()) >= 360 and sent[200] + sent[201] > 90, "most of it did something"


def test_the_fuzz_itself_sees_what_it_looks_for(monkeypatch):
    monkeypatch.setattr("dramok.server.routes.games._brief", lambda found: 1 / 0)
    with pytest.raises(InvalidInput, match="ZeroDivisionError"):
        fuzzed(1_500, 3, A_BUSY_MACHINES)


def test_archives_with_one_place_otherwise_are_taken_whole_or_refused(db, tmp_path):
    workspace = open_workspace(db)
    client = TestClient(create_app(workspace), **HERE)
    good = archive(workspace, workspace.game(GAME))
    before = whole(workspace.game(GAME))
    chance = random.Random(SEED)
    for number in range(60):
        data = mutated_archive(good, chance)
        answer = client.post("/api/archives", files={"file": ("a.zip", data)})
        assert answer.status_code in (201, 400, 413, 422), f"seed {SEED}, {number}: {answer.text[:300]}"
        if answer.status_code == 201:
            made = workspace.game(answer.json()["id"])
            for path in (
                "cards",
                "decks",
                "rules",
                "standings",
                "map",
                "faces/book",
                "pictures",
                "journal",
                "notes",
            ):
                assert client.get(f"/api/games/{made.id}/{path}").status_code == 200, (SEED, number, path)
            assert client.get(f"/api/games/{made.id}/archive").status_code == 200
    assert whole(workspace.game(GAME)) == before
    assert all(each["damage"] is None for each in client.get("/api/games").json())


@pytest.mark.parametrize(
    ("body", "said"),
    [
        (b'{"name": "a\\u0000b"}', "NUL"),
        (b'{"name": "\\ud800"}', "not JSON"),
        (b'{"name": "x", "deep": 9223372036854775808}', "64 bits"),
        (b'{"name": NaN}', "not JSON"),
        (b'{"name": 1e999}', "not finite"),
        (b"[" * 100_000, "not JSON"),
        (b"\xff\xfe{", "not JSON"),
    ],
)
def test_what_may_not_come_in_is_refused_at_the_door_with_its_place(workspace, body, said):
    client = TestClient(create_app(workspace), **HERE)
    answer = client.post(
        f"/api/games/{GAME}/decks", content=body, headers={"content-type": "application/json"}
    )
    assert answer.status_code == 422 and said in answer.json()["detail"] and answer.json()["mend"], (
        answer.text
    )
    assert len(workspace.game(GAME).decks) == 3


def test_deep_documents_are_refused_by_every_door(workspace):
    client = TestClient(create_app(workspace), **HERE)
    put = client.put(f"/api/games/{GAME}/views", json={"name": "Deep", "doc": deep(70)})
    assert put.status_code == 422 and "nested over 60 deep" in put.json()["detail"]
    assert (
        client.put(f"/api/games/{GAME}/views", json={"name": "Shallow", "doc": deep(40)}).status_code == 200
    )
    out = BytesIO()
    with (
        zipfile.ZipFile(BytesIO(archive(workspace, workspace.game(GAME)))) as source,
        zipfile.ZipFile(out, "w") as target,
    ):
        for name in source.namelist():
            text = source.read(name)
            target.writestr(name, text.replace(b'"a": 1', b'"a": ' + b'{"a": ' * 50 + b"1" + b"}" * 50))
    answer = client.post("/api/archives", files={"file": ("a.zip", out.getvalue())})
    assert answer.status_code == 400 and "nested" in answer.json()["detail"], answer.text
