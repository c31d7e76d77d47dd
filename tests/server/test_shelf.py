"""The shelf over HTTP: games created, viewed, renamed, duplicated, put away and removed; bad requests get a reason, never a 500."""

from __future__ import annotations

import json

import pytest
from fastapi.testclient import TestClient

from dramok.server import create_app
from dramok.services import open_workspace
from tests.conftest import GAME

HERE = {"base_url": "http://127.0.0.1"}
SHEET = b"Title,Clan,Cost,Power,Text\nIron Fox,Smiths,3,2,Draws a card when it is played.\nLark,Grove,1,1,\n"


@pytest.fixture
def own(tmp_path):
    workspace = open_workspace(tmp_path / "own.db", demo=False)
    yield TestClient(create_app(workspace), **HERE)
    workspace.close()


@pytest.fixture
def client(db):
    workspace = open_workspace(db)
    yield TestClient(create_app(workspace), **HERE)
    workspace.close()


def sent(client, path, data=SHEET, **form):
    form = {key: value if isinstance(value, str) else json.dumps(value) for key, value in form.items()}
    return client.post(path, files={"file": ("fox.csv", data)}, data=form)


def test_a_new_database_is_empty_and_offers_templates_and_demo_games(own):
    shelf = own.get("/api/shelf").json()
    assert shelf["games"] == [] and [each["id"] for each in shelf["shapes"]] == [
        "duel",
        "builder",
        "placement",
        "solo",
        "plain",
    ]
    assert {each["name"] for each in shelf["demos"]} == {"Ribbon Season", "Crowded Bed", "Potting Shed"}
    assert own.get("/api/games").json() == []
    added = own.post("/api/shelf", json={"demo": "crowded-bed"})
    assert added.status_code == 201 and added.json()["cards"] == 48
    assert {each["id"] for each in own.get("/api/shelf").json()["demos"]} == {"ribbon-season", "potting-shed"}


def test_a_sheet_is_previewed_adjusted_and_made_a_game(own):
    look = sent(own, "/api/shelf/sheet/look").json()
    assert (look["cards"], look["rows"], look["header"], look["refused"]) == (2, 2, 1, [])
    assert [(each["heading"], each["kind"], each["role"]) for each in look["columns"]] == [
        ("Title", "text", "name"), ("Clan", "choice", "faction"), ("Cost", "number", "cost"), ("Power", "number", "stat"), ("Text", "effect", None),
    ]  # fmt: skip
    wishes = {"columns": {"3": {"kind": "out"}, "1": {"role": ""}}}
    again = sent(own, "/api/shelf/sheet/look", wishes=wishes).json()
    assert again["columns"][3]["kind"] == "out" and again["columns"][1]["role"] is None
    made = sent(own, "/api/shelf/sheet", wishes=wishes)
    assert made.status_code == 201 and made.json()["name"] == "Fox"
    game = own.get(f"/api/games/{made.json()['id']}").json()
    assert [each["name"] for each in game["fields"] if each["kind"] == "number"] == ["Cost"]
    faces = own.get(f"/api/shelf/{made.json()['id']}/fan").json()
    assert len(faces) == 2 and all("<svg" in each["svg"] for each in faces)
    assert own.get("/api/shelf").json()["games"][0]["edited"].startswith("20")


@pytest.mark.parametrize(
    ("data", "form"),
    [
        (b"", {}), (b"Name\n", {}), (b"\xff\xfe\x00", {}), (b"PK\x03\x04x", {}), (SHEET, {"wishes": "{"}), (SHEET, {"wishes": {"header": 99}}), (SHEET, {"wishes": {"header": 0}}),
        (SHEET, {"wishes": {"columns": {str(n): {"kind": "out"} for n in range(5)}}}), (SHEET, {"wishes": {"columns": {"x": {}}}}), (SHEET, {"name": "n" * 500}),
    ],
)  # fmt: skip
def test_what_is_no_game_is_refused_and_nothing_is_left(own, data, form):
    answer = sent(own, "/api/shelf/sheet", data, **form)
    assert answer.status_code in (400, 422) and answer.json()["detail"], answer.text
    assert own.get("/api/shelf").json()["games"] == []


def test_a_key_begins_one_game_however_often_it_is_sent(own):
    key = {"Idempotency-Key": "once"}
    first = own.post("/api/shelf", json={"name": "Mine", "shape": "duel"}, headers=key)
    again = own.post("/api/shelf", json={"name": "Mine", "shape": "duel"}, headers=key)
    other = own.post("/api/shelf", json={"name": "Other", "shape": "duel"}, headers=key)
    assert first.status_code == 201 and len(own.get("/api/shelf").json()["games"]) == 1
    assert again.status_code == 201 and again.json()["id"] == first.json()["id"]
    assert other.status_code == 422


def test_a_game_is_renamed_copied_put_away_brought_back_and_removed(client):
    assert client.put(f"/api/shelf/{GAME}", json={"name": "Third Draft"}).json()["name"] == "Third Draft"
    copy = client.post(f"/api/shelf/{GAME}/copy", json={"cards": False}).json()
    assert (copy["name"], copy["cards"]) == ("Third Draft 2", 0)
    assert client.put(f"/api/shelf/{copy['id']}", json={"away": True}).json()["away"]
    assert copy["id"] not in {each["id"] for each in client.get("/api/games").json()}
    assert copy["id"] in {each["id"] for each in client.get("/api/shelf").json()["games"]}
    refused = client.delete(f"/api/shelf/{copy['id']}", params={"name": "Third"})
    assert refused.status_code == 400 and "type Third Draft 2" in refused.json()["mend"]
    assert client.delete(f"/api/shelf/{GAME}", params={"name": "Third Draft"}).status_code == 400, (
        "it is on the start screen"
    )
    assert client.delete(f"/api/shelf/{copy['id']}", params={"name": "Third Draft 2"}).status_code == 204
    for path in (
        f"/api/games/{copy['id']}",
        f"/api/games/{copy['id']}/cards",
        f"/api/shelf/{copy['id']}/fan",
    ):
        assert client.get(path).status_code == 404
    assert client.delete(f"/api/shelf/{copy['id']}", params={"name": "x"}).status_code == 404


def test_a_part_of_the_rules_is_read_written_refused_and_undone(client):
    parts = client.get(f"/api/games/{GAME}/rules/parts").json()["parts"]
    assert set(parts) == {"name", "roles", "resources", "table", "play", "phrases", "tags", "prices", "formats", "symbols", "fonts"}
    base = client.get(f"/api/games/{GAME}/cards").json()
    table = {**parts["table"], "opening_hand": 7}
    edit = client.put(f"/api/games/{GAME}/rules/parts/table", json={"value": table}, headers={"X-Page": "p"})
    assert edit.status_code == 200 and base
    assert client.get(f"/api/games/{GAME}/rules/parts").json()["parts"]["table"]["opening_hand"] == 7
    bad = client.put(f"/api/games/{GAME}/rules/parts/table", json={"value": {**table, "opening_hand": -1}})
    assert bad.status_code == 400 and "opening_hand" in bad.json()["where"]
    assert client.put(f"/api/games/{GAME}/rules/parts/away", json={"value": True}).status_code == 400
    client.post(f"/api/games/{GAME}/undo", headers={"X-Page": "p"})
    assert client.get(f"/api/games/{GAME}/rules/parts").json()["parts"] == parts


def test_samples_are_removed_over_the_wire(own):
    made = own.post("/api/shelf", json={"name": "Mine", "shape": "builder"}).json()
    assert own.post(f"/api/games/{made['id']}/samples/remove").status_code == 200
    assert own.get("/api/shelf").json()["games"][0]["cards"] == 0
    assert own.post(f"/api/games/{made['id']}/samples/remove").status_code == 400


LOOKS = (
    "", "/cards", "/decks", "/rules", "/rules/parts", "/map", "/faces/book", "/pictures", "/journal", "/notes", "/history", "/standings", "/steps", "/layouts",
    "/archive", "/export?form=csv", "/export/look",
)  # fmt: skip


def test_every_room_of_a_game_of_another_world_answers(own):
    """Each shape, and one from a sheet: every look that a room takes, and no word of the demo worlds in any of them."""
    shapes = ("duel", "builder", "placement", "solo", "plain", None)
    games = [own.post("/api/shelf", json={"name": f"G {shape}", "shape": shape}).json() for shape in shapes]
    games.append(sent(own, "/api/shelf/sheet").json())
    for game in games:
        for path in LOOKS:
            answer = own.get(f"/api/games/{game['id']}{path}")
            assert answer.status_code == 200, (game["name"], path, answer.text[:200])
            said = answer.text.lower() if path != "/archive" else ""
            for word in ("glasshouse", "mildew", "cistern", "orchid", "ribbon season", "beds"):
                assert word not in said, (
                    game["name"],
                    path,
                    word,
                    said[max(0, said.find(word) - 80) :][:160],
                )


def test_one_edit_of_a_whole_game_at_a_time(client):
    for body in ({}, {"name": "X", "away": True}, {"name": None}):
        assert client.put(f"/api/shelf/{GAME}", json=body).status_code == 422
    assert client.get(f"/api/games/{GAME}").json()["name"] == "Ribbon Season"
