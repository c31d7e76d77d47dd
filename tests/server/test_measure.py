"""Measured strength over the API: started, read, stopped, continued; bad requests are refused; a server that ends leaves no process running."""

from __future__ import annotations

import threading
from collections.abc import Iterator

import pytest
from fastapi.testclient import TestClient

from dramok.server import create_app
from dramok.workers.compiled_kernel import can_compile
from dramok.workers.kernel_process import KernelFailed

pytestmark = pytest.mark.skipif(not can_compile(), reason="measuring needs llvmlite")
PATH = "/api/games/ribbon-season/measure"


@pytest.fixture
def client(workspace) -> Iterator[TestClient]:
    with TestClient(create_app(workspace), base_url="http://127.0.0.1", headers={"X-Page": "test"}) as made:
        yield made


def until(client: TestClient, *states: str) -> dict:
    """The measurement once it has reached this state."""
    while (found := client.get(PATH).json())["state"] not in states:
        held = next(reversed(client.app.state.balance.measurements._held["ribbon-season"].values()))
        held.thread.join(0.05)
    return found


def test_a_measurement_is_started_read_stopped_and_continued(client):
    assert client.get(PATH).json()["state"] == "none"
    begun = client.post(PATH, json={"games": 300_000, "seed": 4})
    assert begun.status_code == 202 and begun.json()["state"] == "compiling" and begun.json()["cards"] == []
    until(client, "running")
    stopped = client.post(f"{PATH}/stop").json()
    assert stopped["state"] == "stopped" and stopped["games"] >= 400 and len(stopped["cards"]) == 96 and stopped["provisional"]
    assert client.post(f"{PATH}/stop").json()["state"] == "stopped"
    few = client.post(f"{PATH}/more", json={"games": 5})
    assert few.status_code == 400 and "are played already" in few.json()["detail"]
    wanted = stopped["games"] + 400
    assert client.post(f"{PATH}/more", json={"games": wanted}).status_code == 202
    done = until(client, "done", "failed")
    assert done["state"] == "done" and done["games"] == wanted and not done["provisional"] and done["edited"] == []


def test_two_that_begin_at_once_leave_one_running(client):
    answers = []
    both = [threading.Thread(target=lambda seed=seed: answers.append(client.post(PATH, json={"games": 300_000, "seed": seed}))) for seed in (1, 2)]
    for each in both:
        each.start()
    for each in both:
        each.join()
    assert [each.status_code for each in answers] == [202, 202]
    assert until(client, "running")["seed"] in (1, 2)
    held = client.app.state.balance.measurements._held
    assert len(held["ribbon-season"]) == 1
    player = next(iter(held["ribbon-season"].values())).player
    client.__exit__()
    assert not client.app.state.balance.measurements._held
    with pytest.raises((KernelFailed, ValueError, OSError)):
        list(player.lines(600_000))
    client.__enter__()


@pytest.mark.parametrize(("path", "body", "status"), [("", {"games": 0}, 422), ("", {"player": "oracle"}, 422), ("/more", {"games": 500}, 400), ("", {"seed": -1}, 422), ("/sweep", {"card": "c-ribbon-season-rs-006", "field": "height", "start": 4, "end": 1}, 400), ("/sweep", {"card": "none", "field": "height", "start": 0, "end": 1}, 400), ("/what-if", {"card": "c-ribbon-season-rs-006", "values": {"height": "tall"}}, 400), ("/what-if", {"card": "none", "values": {}}, 404), ("/duels", {"decks": ["none"]}, 400), ("/duels", {"games": 0}, 422)])
def test_what_is_wrong_is_refused(client, path, body, status):
    answer = client.post(f"{PATH}{path}", json=body)
    assert answer.status_code == status and answer.json()["mend"]
    assert client.post(PATH.replace("ribbon-season", "none"), json={}).status_code == 404


def test_a_worth_is_swept_over_the_api(client):
    asked = {"worth": "stat:height", "start": 0.5, "end": 3, "values": 2, "games": 400}
    found = client.post(f"{PATH}/sweep-worth", json=asked)
    assert found.status_code == 200, found.text
    told = found.json()
    assert [each["value"] for each in told["points"]] == [0.5, 1, 3] and told["now"] == 1 and len(told["asked"]) == 3
    assert all(set(costs) == set(told["asked"][0]) for costs in told["asked"]) and told["asked"][0] != told["asked"][2]
    for wrong, status in (({"worth": "none such"}, 400), ({"start": 4}, 400), ({"values": 1}, 422), ({"end": 1e9}, 422), ({"worth": ""}, 422), ({"start": "nan"}, 422)):
        answer = client.post(f"{PATH}/sweep-worth", json={**asked, **wrong})
        assert answer.status_code == status and answer.json()["mend"], (wrong, answer.text)


def test_a_server_configured_for_a_missing_cluster_reports_it(workspace):
    with TestClient(create_app(workspace, cluster="tcp://127.0.0.1:9"), base_url="http://127.0.0.1", headers={"X-Page": "test"}) as client:
        answer = client.post(f"{PATH}/duels", json={"decks": [], "games": 400})
        assert answer.status_code == 400 and "no scheduler answers at tcp://127.0.0.1:9" in answer.json()["detail"], answer.text
