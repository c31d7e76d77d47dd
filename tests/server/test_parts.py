"""Previews of rule parts over HTTP: nothing is written, and no hostile request returns 500."""

from __future__ import annotations

import random
from collections.abc import Iterator
from copy import deepcopy

import pytest
from fastapi.testclient import TestClient

from dramok.server.app import create_app
from tests.conftest import GAME, SEED
from tests.server.test_api import HERE

PARTS = f"/api/games/{GAME}/rules/parts"


@pytest.fixture
def client(workspace) -> Iterator[TestClient]:
    with TestClient(create_app(workspace), base_url=HERE, headers={"X-Page": "test"}) as made:
        yield made


def parts_of(client: TestClient) -> dict:
    return client.get(PARTS).json()["parts"]


def test_the_map_as_it_would_become_comes_with_ghosts_curve_and_counts(client, workspace):
    prices = parts_of(client)["prices"]
    seq = workspace.game(GAME).seq
    prices["rows"][2]["curve"] = {"each": "0", "table": ["1", "3"], "further": "0.5"}
    look = client.post(f"{PARTS}/prices/look", json={"value": prices, "row": "row:mildew"}).json()
    assert (
        look["verdicts"] == len(look["was"]) > 0 and look["uses"]["row:mildew"] == look["priced_count"] == 19
    )
    assert [(each["amount"], each["points"]) for each in look["curve"]][:5] == [
        (0, 0),
        (1, 1),
        (2, 3),
        (3, 3.5),
        (4, 4),
    ]
    assert {each["what"] for each in look["priced"]} >= {"deal 1 to one rival", "deal 2 to one rival"}
    assert look["equal"] == look["unpriced"] == look["notes"] == [] and look["changed"] is None
    assert len(look["map"]["cards"]) == 96 and set(look["map"]["lines"]) == {"plant", "weather", "tool"}
    assert workspace.game(GAME).seq == seq
    stat = client.post(f"{PARTS}/prices/look", json={"value": prices, "row": "stat:height"}).json()
    assert (
        stat["curve"][3] == {"amount": 3, "points": 3}
        and stat["priced_count"] == stat["uses"]["stat:height"] == 64
    )


def test_phrases_and_other_parts_are_previewed(client):
    parts = parts_of(client)
    words = deepcopy(parts["phrases"])
    words["verbs"]["draw"] = "draw one {each}"
    look = client.post(f"{PARTS}/phrases/look", json={"value": words, "phrase": "verbs/draw"}).json()
    assert (
        look["reworded"] == 26
        and len(look["samples"]) == 8
        and "draw one" in look["samples"][0]["after"][0].lower()
    )
    words["verbs"]["draw"] = "draw {one"
    refused = client.post(f"{PARTS}/phrases/look", json={"value": words})
    assert refused.status_code == 400 and refused.json()["detail"] == "a brace has no partner"
    formats = [{**parts["formats"][0], "least_cards": 60, "most_cards": 60}]
    assert (
        "no longer be legal"
        in client.post(f"{PARTS}/formats/look", json={"value": formats}).json()["said"][0]
    )
    assert (
        client.post(f"{PARTS}/nothing/look", json={"value": 1}).json()["detail"] == "rules have no such part"
    )
    since = client.post(f"{PARTS}/prices/look", json={"value": parts["prices"], "since": "nomark"})
    assert since.status_code == 404


def test_the_book_says_what_would_be_said(client):
    found = client.get(PARTS).json()
    book = {each["id"]: each for each in found["phrases"]}
    assert book["verbs/deals"]["plain"] == "put {n} {damage} on {target} {each}", "as of one, which says how many"
    assert book["plurals/plant"]["plain"] == "plants" and book["cues/play"]["plain"] == ""
    assert found["symbols"][:2] == ["water", "ribbon"]


def test_hostile_values_of_every_part_are_refused_or_taken_and_never_break(client, workspace):
    """By seed: each part with one thing in it made something else."""
    chance = random.Random(SEED)
    hostile = [
        None,
        True,
        -1,
        10**40,
        1e308,
        "",
        "x" * 20_000,
        "\u202e{n}",
        "{",
        [],
        {},
        [[]],
        {"a": {"b": [1]}},
        "1e400",
        "NaN",
        "-0",
    ]
    before = workspace.game(GAME).rules
    for part, value in parts_of(client).items():
        for _ in range(14):
            broken = _broken(deepcopy(value), chance, hostile)
            for path in (f"{PARTS}/{part}/look", f"{PARTS}/{part}"):
                ask = client.post if path.endswith("look") else client.put
                headers = {} if path.endswith("look") else {"Idempotency-Key": f"k{chance.random()}"}
                answer = ask(path, json={"value": broken}, headers=headers)
                assert answer.status_code in (200, 400, 409, 422), (part, broken, answer.text[:300])
                if answer.status_code >= 400:
                    assert answer.json()["detail"], "it says why"
            assert client.get(f"/api/games/{GAME}").status_code == 200
            assert client.get(f"/api/games/{GAME}/map").status_code == 200
    while workspace.game(GAME).rules != before:
        assert (
            client.post(
                f"/api/games/{GAME}/undo", headers={"Idempotency-Key": f"u{chance.random()}"}
            ).status_code
            == 200
        )


def _broken(value, chance: random.Random, hostile: list):
    """The document with one place in it made hostile."""
    places = list(_places(value))
    if not places:
        return chance.choice(hostile)
    holder, key = chance.choice(places)
    holder[key] = chance.choice(hostile)
    return value


def _places(value) -> Iterator[tuple]:
    held = value.items() if isinstance(value, dict) else enumerate(value) if isinstance(value, list) else ()
    for key, each in held:
        yield value, key
        yield from _places(each)


def test_a_stat_named_twice_is_refused_and_one_stored_twice_is_one(client, workspace):
    """The lenses answered 500 by it: a column of numbers too many."""
    parts = client.get(PARTS).json()
    roles = parts["parts"]["roles"]
    refused = client.put(f"{PARTS}/roles", json={"value": {**roles, "stats": ["root", "root"]}, "base": parts["seq"]})
    assert refused.status_code == 400, refused.text
    assert "named twice" in refused.json()["detail"] and refused.json()["mend"]
    stored = workspace.game(GAME).rulebook.model_dump(mode="json")
    stored["roles"]["stats"] = ["height", "root", "root", "height"]
    assert type(workspace.game(GAME).rulebook).model_validate(stored).roles.stats == ("height", "root")
    assert client.get(f"/api/games/{GAME}/lenses").status_code == 200
