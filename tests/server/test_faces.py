"""Face plans over HTTP: responses, refusals with place and fix, hostile requests."""

from __future__ import annotations

import io

import pytest
from PIL import Image

from tests.conftest import GAME
from tests.server.test_api import client  # noqa: F401

FACES = f"/api/games/{GAME}/faces"
BASE = f"{FACES}/plans/f-{GAME}-base"
CARD = f"c-{GAME}-rs-001"


def edit(client, places, path=BASE, **more):  # noqa: F811
    return client.put(path, json={"places": places, "base": 10**9, **more})


def test_a_plan_is_read_previewed_edited_and_undone(client):  # noqa: F811
    book = client.get(f"{FACES}/book").json()
    assert [plan["head"]["name"] for plan in book["plans"]] == ["Base", "Plant", "Weather", "Tool", "Back"]
    plant = book["plans"][1]
    name = next(place for place in plant["places"] if place["id"] == "name")
    assert name["inherited"] and name["own"] == [] and name["full"]["font"] == "name", (
        "with its style's looks"
    )
    body = {"places": {"name": {"x": 20.0}}, "base": 0, "cards": [CARD]}
    (before,) = client.post(f"{BASE}/preview", json={**body, "places": {}}).json()
    (after,) = client.post(f"{BASE}/preview", json=body).json()
    assert before["card"] == after["card"] == CARD and before["digest"] != after["digest"]
    assert sum(one != other for one, other in zip(before["face"], after["face"], strict=True)) == 1, (
        "one mark is another"
    )
    done = edit(client, {"name": {"x": 20.0}}).json()
    assert done["touched"] == ["plan"] and done["ripple"]["card_count"] == 96
    assert client.get(f"/api/games/{GAME}/cards/{CARD}/sheet").json()["digest"] == after["digest"]
    assert client.post(f"/api/games/{GAME}/undo").status_code == 200
    assert client.get(f"/api/games/{GAME}/cards/{CARD}/sheet").json()["digest"] == before["digest"]
    back = client.post(f"{FACES}/plans/f-{GAME}-back/preview", json={**body, "places": {}}).json()
    assert "Ribbon" in "".join(back[0]["face"])


@pytest.mark.parametrize(
    ("body", "status"),
    [
        ({"places": {"name": {"x": "far"}}}, 400),
        ({"places": {"name": {"x": 1e308}}}, 400),
        ({"places": {"name": {"looks": {"a": {"deep": [[[[]]]]}}, "per": "rarity"}}}, 400),
        ({"places": {"name": {"looks": {"a": {"x": 3.0}}, "per": "rarity"}}}, 200),
        ({"places": {"name": {"z": "1e"}}}, 400),
        ({"places": {"name": {"nonsense": 1}}}, 400),
        ({"places": {"a b": {"kind": "panel"}}}, 400),
        ({"places": {f"p{n}": {"kind": "panel"} for n in range(401)}}, 422),
        ({"head": {"size": {"width": 1, "height": 1}}}, 400),
        ({"head": {"type": "tool"}}, 422),
        ({"styles": {"title": {"largest": -1}}}, 400),
        ({"places": {}}, 400),
    ],
)
def test_edits_are_applied_or_refused_with_a_fix_and_no_face_is_lost(client, body, status):  # noqa: F811
    answer = client.put(BASE, json={"base": 10**9, **body})
    assert answer.status_code == status, answer.text
    if status != 200:
        assert answer.json()["mend"] and answer.headers["content-type"] == "application/problem+json"
    assert client.get(f"{FACES}/proof").json()["looked"] == 96
    assert client.get(f"{FACES}/plans/f-gone/stress").status_code == 404


def test_faces_are_files_of_the_asked_size_and_no_request_is_too_large(client):  # noqa: F811
    path = f"/api/games/{GAME}/cards/RS-001/face"
    png = client.get(f"{path}.png", params={"dpi": 150})
    assert (
        Image.open(io.BytesIO(png.content)).size == (375, 525)
        and 'filename="RS-001.png"' in png.headers["content-disposition"]
    )
    bled = Image.open(io.BytesIO(client.get(f"{path}.png", params={"width": 300, "bleed": True}).content))
    assert bled.size == (300, round(300 * 94.9 / 69.5)) and bled.getpixel((1, 1))[3] == 255, (
        "the bleed runs to the corner"
    )
    assert client.get(f"{path}.svg").text.startswith("<svg") and client.get(f"{path}.pdf").content.startswith(
        b"%PDF"
    )
    for asked in ({"dpi": 10**6}, {"width": 10**6}, {"dpi": "nan"}, {"dpi": -3}):
        assert client.get(f"{path}.png", params=asked).status_code == 422
    assert (
        client.get(f"{path}.exe").status_code == 422
        and client.get(f"/api/games/{GAME}/cards/none/face.png").status_code == 404
    )


def test_pictures_come_in_the_size_they_are_shown(client):  # noqa: F811
    out = io.BytesIO()
    Image.effect_noise((900, 600), 60).save(out, "PNG")
    sha = client.post(f"/api/games/{GAME}/pictures", files={"file": ("a.png", out.getvalue())}).json()["sha"]
    sizes = {side: Image.open(io.BytesIO(client.get(f"/api/art/{sha}", params=side and {"side": side}).content)).size for side in (None, 100, 300)}  # fmt: skip
    assert sizes == {None: (900, 600), 100: (128, 85), 300: (512, 341)}
    assert client.get(f"/api/art/{sha}", params={"side": 10**9}).status_code == 422
