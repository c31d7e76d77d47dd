"""The HTTP API: responses, problems with place and fix, security."""

from __future__ import annotations

import json
import shutil
from pathlib import Path

import pytest
from fastapi.testclient import TestClient
from pydantic import BaseModel

from dramok.server import app, create_app
from dramok.server.lazy_routes import LazyRoutes
from dramok.server.openapi import document
from dramok.services import open_workspace
from tests.conftest import GAME, SAMPLES

CARD = "c-ribbon-season-rs-016"
HERE = "http://127.0.0.1"


@pytest.fixture
def client(workspace):
    return TestClient(create_app(workspace), base_url=HERE, headers={"X-Page": "test"})


@pytest.fixture
def just_started(workspace, monkeypatch):
    """What a server is whose process has opened no room yet."""
    for rooms in ("FIRST", "LATE"):
        monkeypatch.setattr(app, rooms, LazyRoutes(*getattr(app, rooms).names))
    return TestClient(create_app(workspace), base_url=HERE, headers={"X-Page": "test"})


def put(client, field, value, base, card=CARD, **headers):
    return client.put(
        f"/api/games/{GAME}/cards/{card}/fields/{field}", json={"value": value, "base": base}, headers=headers
    )


def test_one_card_all_the_way_through(client):
    seq = client.get(f"/api/games/{GAME}/cards").json()["seq"]
    sheet = client.post(f"/api/games/{GAME}/cards/{CARD}/preview", json={"typed": {"height": "9"}}).json()
    assert (
        sheet["ledger"]["difference"] == 5
        and ">9<" in "".join(sheet["face"])
        and "RS-016" in sheet["face"][-1]
    )
    edit = put(client, "height", "9", seq).json()
    assert edit["cards"][0]["values"]["height"] == "9" and edit["ripple"]["cards"][0]["face"] == "re-laid"
    stored = client.get(f"/api/games/{GAME}/cards/RS-016/sheet").json()
    assert (stored["face"], stored["ledger"]) == (sheet["face"], sheet["ledger"])
    assert sum(line["points"] for line in stored["ledger"]["lines"]) == stored["ledger"]["difference"]
    assert client.get(f"/api/games/{GAME}/history").json() == {"undo": "The Unfolding: height", "redo": None}
    assert client.post(f"/api/games/{GAME}/undo").json()["cards"][0]["values"]["height"] == "5"
    assert client.get(f"/api/games/{GAME}/history").json()["redo"] == "undo: The Unfolding: height"


def test_a_conflict_carries_both_values_and_what_to_send_next(client):
    put(client, "height", "9", 1)
    refused = put(client, "height", "7", 1, **{"X-Page": "other"})
    assert refused.status_code == 409 and refused.headers["content-type"] == "application/problem+json"
    assert (refused.json()["theirs"], refused.json()["yours"]) == ("9", "7")
    assert put(client, "height", "7", refused.json()["seq"]).status_code == 200


@pytest.mark.parametrize(
    ("method", "path", "body", "status"),
    [
        ("get", "/api/nowhere", None, 404),
        ("get", "/api/games/nowhere/cards", None, 404),
        ("get", f"/api/games/{GAME}/cards/nothing/sheet", None, 404),
        ("put", f"/api/games/{GAME}/cards/{CARD}/fields/height", {"value": "three", "base": 1}, 400),
        ("put", f"/api/games/{GAME}/cards/{CARD}/fields/height", {"base": "x"}, 422),
        ("put", f"/api/games/{GAME}/cards/{CARD}/fields/effect", {"value": "draw " * 20_000, "base": 1}, 400),
        ("post", f"/api/games/{GAME}/playtests", {"deck": "none"}, 404),
        ("post", f"/api/games/{GAME}/decks", {"name": "   "}, 400),
        ("post", f"/api/games/{GAME}/undo", None, 400),
        ("post", f"/api/games/{GAME}/cards", {"type": "card", "set": "first"}, 400),
        ("put", f"/api/games/{GAME}/cards/{CARD}/fields/name", {"value": "x" * 1_100_000, "base": 1}, 413),
    ],
)
def test_every_error_has_a_place_and_a_fix(client, method, path, body, status):
    answer = client.request(method.upper(), path, json=body)
    assert answer.status_code == status and answer.headers["content-type"] == "application/problem+json"
    assert answer.json()["detail"] and answer.json()["mend"] and answer.json()["status"] == status


def test_foreign_pages_and_hosts_are_turned_away(workspace, client):
    assert client.get("/api/games", headers={"Host": "evil.example"}).status_code == 421
    assert (
        client.post(f"/api/games/{GAME}/undo", headers={"Origin": "https://evil.example"}).status_code == 403
    )
    keyed = TestClient(
        create_app(workspace, frozenset({"127.0.0.1"}), key="secret"), base_url=HERE, follow_redirects=False
    )
    assert (
        keyed.get("/api/games").status_code == 401
        and keyed.get("/api/games", headers={"Authorization": "Bearer wrong"}).status_code == 401
    )
    assert keyed.get("/api/games", headers={"Authorization": "Bearer secret"}).status_code == 200
    assert keyed.get("/?key=secret").status_code == 303 and keyed.get("/api/games").status_code == 200


def test_an_import_in_the_page_is_previewed_corrected_and_applied(client):
    sheet = {"file": ("draft-sheet.csv", (SAMPLES / "draft-sheet.csv").read_bytes())}
    wishes = {"corrections": {"9:2": "Briar"}, "set_name": "Draft three"}
    looked = client.post(
        f"/api/games/{GAME}/imports/preview", files=sheet, data={"wishes": json.dumps(wishes)}
    ).json()
    assert looked["said"] == "52 rows: 48 to import, 0 left out, 4 no cards" and looked["edit"] is None
    taken = client.post(f"/api/games/{GAME}/imports", files=sheet, data={"wishes": json.dumps(wishes)}).json()
    assert taken["edit"]["ripple"]["card_count"] == 48 and [s["name"] for s in taken["edit"]["sets"]] == [
        "First Showing",
        "Draft three",
    ]
    assert (
        client.post(f"/api/games/{GAME}/imports/preview", files={"file": ("e.csv", b"")}).json()["detail"]
        == "the file is empty"
    )
    assert (
        client.post(
            f"/api/games/{GAME}/imports/preview", files={"file": ("b.csv", b"x" * (50 * 1024 * 1024))}
        ).status_code
        == 413
    )


def test_a_forged_decision_changes_nothing(client):
    deck = client.get(f"/api/games/{GAME}/decks").json()[0]["id"]
    table = client.post(f"/api/games/{GAME}/playtests", json={"deck": deck, "seed": 7}).json()
    path = f"/api/games/{GAME}/playtests/{table['id']}"
    for forged in ({"do": "pick", "card": 3, "taken": 0}, {"do": "play", "card": 99_999, "taken": 0}):
        assert client.post(f"{path}/decisions", json=forged).status_code == 400
    assert client.post(f"{path}/decisions", json={"do": "draw", "taken": 4}).status_code == 409
    assert client.get(path).json() == table
    assert client.post(f"{path}/decisions", json={"do": "keep", "card": -1, "taken": 0}).status_code == 400, "it is not asked"
    moved = client.post(f"{path}/decisions", json={"do": "done", "taken": 0}).json()
    assert moved["taken"] >= 2 and moved["seat"] == 0 and moved["view"]["deciding"] == 0, "the other seat has kept its hand, too"
    assert client.post(f"{path}/decisions", json={"do": "done", "taken": 0}).status_code == 409, "a decision sent twice"
    assert client.post(f"{path}/undo", json={"taken": moved["taken"]}).json() == table


def test_the_committed_client_is_that_of_the_server():
    committed = Path(__file__).parents[2] / "web" / "src" / "api" / "openapi.json"
    assert committed.read_text(encoding="utf-8") == document(), "run `make api`"


def test_cards_come_by_page_query_and_etag_with_a_schema_for_each_type(client):
    base = f"/api/games/{GAME}"
    first = client.get(f"{base}/cards", params={"query": "bed is Fern", "sort": "-cost,name", "limit": 5})
    body = first.json()
    assert (body["total"], body["next"], len(body["cards"])) == (24, 5, 5)
    costs = [int(card["values"]["cost"]) for card in body["cards"]]
    assert costs == sorted(costs, reverse=True)
    last = client.get(f"{base}/cards", params={"query": "bed is Fern", "start": 20, "limit": 5}).json()
    assert (len(last["cards"]), last["next"]) == (4, None)
    again = client.get(f"{base}/cards", headers={"If-None-Match": first.headers["etag"]})
    assert (again.status_code, again.content) == (304, b"")
    put(client, "height", "9", body["seq"])
    assert client.get(f"{base}/cards", headers={"If-None-Match": first.headers["etag"]}).status_code == 200
    assert [
        card["id"] for card in client.get(f"{base}/cards", params={"ids": "rs-016,nothing"}).json()["cards"]
    ] == [CARD]
    wrong = client.get(f"{base}/cards", params={"query": "cost >"})
    assert wrong.status_code == 400 and wrong.json()["mend"]
    schema = client.get(f"{base}/types/plant/schema").json()
    values = schema["properties"]["values"]
    assert (
        values["properties"]["bed"]["enum"] == ["", "Fern", "Briar", "Orchid", "Moss"]
        and "cost" in values["required"]
    )
    assert client.get(f"{base}/types/ghost/schema").status_code == 404


def test_rooms_that_open_late_answer_the_very_first_request_and_are_described(just_started):
    client = just_started
    assert client.post(f"/api/games/{GAME}/marks", json={"name": "first"}).status_code == 201
    assert client.get("/api/nothing/here").json()["title"] == "not there"
    paths = client.get("/api/openapi.json").json()["paths"]
    assert {"/api/games/{game_id}/journal", "/api/archives", "/api/games/{game_id}/sources"} <= set(paths)


def test_what_a_browser_keeps_of_another_database_at_the_same_address_is_not_taken_for_this_ones(workspace, demo_file, tmp_path):
    other = open_workspace(Path(shutil.copy(demo_file, tmp_path / "other.db")))
    seen = []
    for held, height in ((workspace, "7"), (other, "8")):
        client = TestClient(create_app(held), base_url=HERE, headers={"X-Page": "test"})
        assert put(client, "height", height, held.game(GAME).seq).status_code == 200
        seen.append(client.get(f"/api/games/{GAME}/cards"))
        kept = client.get(f"/api/games/{GAME}/cards", headers={"If-None-Match": seen[0].headers["etag"]})
    # Both games have one name and one number of edits, and are not the same.
    assert seen[0].json()["seq"] == seen[1].json()["seq"] and seen[0].headers["etag"] != seen[1].headers["etag"]
    assert kept.status_code == 200 and kept.content == seen[1].content != seen[0].content
    other.close()


def test_files_go_out_and_a_game_comes_in_over_http(client):
    base = f"/api/games/{GAME}"
    csv = client.get(f"{base}/export", params={"format": "csv", "query": "bed is Moss"})
    assert csv.content.startswith(b"\xef\xbb\xbfCode,Name") and csv.text.count("\r\n") == 25
    assert csv.headers["content-disposition"].startswith('attachment; filename="Ribbon-Season.csv"')
    assert client.get(f"{base}/export", params={"format": "exe"}).json()["mend"].startswith("choose one of")
    backup = client.get(f"{base}/archive").content
    made = client.post("/api/archives", files={"file": ("b.zip", backup)}).json()
    assert made == {
        "id": "ribbon-season-2",
        "name": "Ribbon Season 2",
        "cards": 96,
        "decks": 3,
        "damage": None,
    }
    assert (
        client.post("/api/archives", files={"file": ("b.zip", b"no")}).json()["detail"]
        == "the file is damaged, or is not an archive"
    )
    sources = client.get(f"{base}/sources").json()
    assert sources == {"allowed": {"on": False, "files": False, "hosts": []}, "sources": []}
    layout = {
        "name": "Labels",
        "columns": [{"heading": "Card", "front": ["title"]}],
        "separator": "bar",
        "query": "rarity is Heirloom",
    }
    look = client.post(f"{base}/layouts/preview", json=layout).json()
    assert look["lines"][0] == "Card" and look["count"] == len(look["lines"]) == 9
    ident = client.post(f"{base}/layouts", json=layout).json()["made"][0]
    assert client.get(f"{base}/layouts/{ident}/text").text.splitlines() == look["lines"]


def test_the_schema_of_archives_in_the_docs_is_that_of_the_code():
    from dramok.formats.game_file import schema

    held = json.loads(
        (Path(__file__).parents[2] / "docs" / "archive.schema.json").read_text(encoding="utf-8")
    )
    assert held == json.loads(json.dumps(schema()))


def test_every_body_that_can_be_sent_shows_an_example_of_itself_that_holds(client):
    waiting, shown = [*client.app.routes, *app.FIRST.open(), *app.LATE.open()], 0
    while waiting:
        route = waiting.pop()
        waiting += getattr(getattr(route, "original_router", None), "routes", [])
        kind = getattr(getattr(getattr(route, "body_field", None), "field_info", None), "annotation", None)
        if isinstance(kind, type) and issubclass(kind, BaseModel) and not kind.__name__.startswith("Body_"):
            examples = kind.model_config["json_schema_extra"]["examples"]
            assert all(kind.model_validate(each) for each in examples), kind
            shown += 1
    assert shown > 25


def test_rooms_that_open_late_are_there_for_the_first_request_and_for_a_wrong_one(just_started):
    """Nobody has asked for anything: the very first request is for a room that is not open yet."""
    client = just_started
    assert client.patch(f"/api/games/{GAME}/history").status_code == 405
    assert client.get(f"/api/games/{GAME}/rules").status_code == 200
    assert client.get("/api/nothing/here").json()["detail"] == "there is no /api/nothing/here"
    paths = client.get("/api/openapi.json").json()["paths"]
    assert "/api/games/{game_id}/rules" in paths and "/api/games" in paths
    assert len({said["operationId"] for path in paths.values() for said in path.values()}) > 90
