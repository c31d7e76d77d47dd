"""Decks over the API: two pages at once, a repeated idempotency key, lists, odds, hands, comparisons, refusals."""

from __future__ import annotations

import json
import random

import pytest
from fastapi.testclient import TestClient

from dramok.server.app import create_app
from dramok.services import open_workspace
from tests.conftest import GAME, SEED

LARCH, FROND = f"c-{GAME}-rs-001", f"c-{GAME}-rs-002"
DECKS = f"/api/games/{GAME}/decks"


@pytest.fixture
def client(db):
    with TestClient(create_app(open_workspace(db)), base_url="http://127.0.0.1") as made:
        yield made


@pytest.fixture
def first(client) -> dict:
    return client.get(DECKS).json()[0]


def problem(answer, *status: int) -> dict:
    assert answer.status_code in (status or (400, 422)), answer.text
    told = answer.json()
    assert told["detail"] and told["title"]
    return told


def test_two_pages_that_count_one_card_conflict_and_others_go_on(client, first):
    place = f"{DECKS}/{first['id']}/cards"
    one = client.put(f"{place}/{LARCH}", json={"count": 2, "base": 1}, headers={"x-page": "one"})
    assert one.status_code == 200 and one.json()["decks"][0]["cards"][LARCH] == 2
    told = problem(
        client.put(f"{place}/{LARCH}", json={"count": 1, "base": 1}, headers={"x-page": "two"}), 409
    )
    assert (told["theirs"], told["yours"]) == ("2", "1")
    other = client.put(f"{place}/{FROND}", json={"count": 1, "base": 1}, headers={"x-page": "two"})
    assert other.status_code == 200
    # The same key again writes nothing again.
    key = {"idempotency-key": "once", "x-page": "one"}
    asked = {"name": "Twice", "format": "", "seed": 5}
    made = [client.post(DECKS, json=asked, headers=key).json() for _ in range(2)]
    assert made[0]["made"] == made[1]["made"] and made[0]["seq"] == made[1]["seq"]
    assert [each["name"] for each in client.get(DECKS).json()].count("Twice") == 1


@pytest.mark.parametrize("held", ['{"name": "\\ud800", "cards": ["Ebb"]}', '[{"name": "\\udc00"}]', '{"rules": "a\\u0000", "cards": ["Ebb"]}'])
def test_a_list_whose_json_hides_what_no_text_may_hold_is_refused(client, held):
    """In the text that is sent nothing is wrong: it is only within."""
    for path in ("lists/look", "lists"):
        said = problem(client.post(f"{DECKS}/{path}", json={"text": held, "filename": "a.json"}))
        assert "JSON" in said["detail"] or "NUL" in said["detail"], said


def test_lists_go_out_in_each_form_and_come_back(client, first):
    for form, kind in (("txt", "text/plain"), ("csv", "text/csv"), ("json", "application/json")):
        answer = client.get(f"{DECKS}/{first['id']}/list", params={"form": form})
        assert answer.headers["content-type"].startswith(kind)
        assert "attachment" in answer.headers["content-disposition"]
        look = client.post(f"{DECKS}/lists/look", json={"text": answer.text, "filename": f"a.{form}"}).json()
        assert (look["cards"], look["trouble_count"], look["legal"]) == (36, 0, True)
        assert look["sections"][""] == first["cards"]
    problem(client.get(f"{DECKS}/{first['id']}/list", params={"form": "doc"}))
    seq = client.get(f"/api/games/{GAME}").json()["seq"]
    problem(client.post(f"{DECKS}/lists", json={"text": "nobody knows this"}))
    assert client.get(f"/api/games/{GAME}").json()["seq"] == seq, "what is refused writes nothing"
    client.post(f"{DECKS}/lists", json={"text": "1 Copper Larch Fern", "deck": first["id"]})
    assert client.get(DECKS).json()[0]["cards"] == {LARCH: 1}
    back = client.post(f"{DECKS}/{first['id']}/back", json={"seq": seq})
    assert back.json()["decks"][0]["cards"] == first["cards"]


def test_names_that_break_headers_do_not(client, first):
    for name in ('A "deck"; x', "Дек ✂ 牌", "a/b\\c", "x" * 80):
        client.put(f"{DECKS}/{first['id']}/name", json={"name": name})
        answer = client.get(f"{DECKS}/{first['id']}/list")
        assert answer.status_code == 200 and answer.text.startswith("Name: ")
        assert "\n" not in answer.headers["content-disposition"]


def test_odds_and_hands_answer_with_what_was_asked(client, first):
    odds = {
        "groups": [{"card": LARCH}, {"query": "cost >= 3", "count": 2}], "join": "any", "turns": 6, "by": 3, "extra": {"2": 1},
        "redraw": {"kind": "whole", "returned": "after", "keep": [{"group": 0, "count": 1}]},
    }  # fmt: skip
    found = client.post(f"{DECKS}/{first['id']}/odds", json=odds).json()
    assert found["size"] == 36 and found["seen"] == [5, 5, 7, 8, 9, 10, 11]
    assert [each["copies"] for each in found["groups"]] == [3, 8]
    assert all(each["curve"] == sorted(each["curve"]) and each["said"] for each in found["groups"])
    for turn, both in enumerate(found["together"]):
        assert both >= max(each["curve"][turn] for each in found["groups"]) - 1e-12
    hands = client.post(f"{DECKS}/{first['id']}/hands", json={"seed": 3, "odds": odds}).json()
    assert len(hands["hands"]) == 8 and hands["exact"] == pytest.approx(found["keeps"])
    assert hands["tally"] == sum(each["kept"] for each in hands["hands"])
    for hand in hands["hands"]:
        assert hand["kept"] == (LARCH in hand["cards"]) and len(hand["cards"]) == 5
    (told,) = client.get(f"{DECKS}/of/{LARCH}", params={"turn": 3}).json()
    assert told["deck"] == first["id"] and told["said"] == "3 copies of 36; by turn 3: 49 %"
    assert client.get(f"{DECKS}/of/nothing").json() == []


@pytest.mark.parametrize(
    "asked",
    [
        {"groups": []},
        {"groups": [{"query": "hight >"}]},
        {"groups": [{"card": "gone"}]},
        {"groups": [{"query": ""}] * 6},
        {"groups": [{"query": ""}], "turns": 10**9},
        {"groups": [{"query": "", "count": -1}]},
        {"groups": [{"query": "", "how": "about"}]},
        {"groups": [{"query": ""}], "hand": 10**9},
        {"groups": [{"query": ""}], "extra": {"0": 1}},
        {"groups": [{"query": ""}], "extra": {"two": 1}},
        {"groups": [{"query": ""}], "redraw": {"kind": "chosen", "kept": 4}},
        {"groups": [{"query": ""}], "wanted": 2},
        {"groups": [{"query": ""}], "source": 3},
    ],
)
def test_odds_that_cannot_be_are_refused(client, first, asked):
    problem(client.post(f"{DECKS}/{first['id']}/odds", json=asked))


def test_any_request_for_odds_is_answered_or_refused(client, first):
    chance = random.Random(SEED)
    queries = ["", "cost >= 3", "larch", "type is Plant", "not (bed is Fern)", "over", "“", "x" * 50]
    for _ in range(25):
        groups = [
            {"query": chance.choice(queries), "how": chance.choice(["at least", "exactly", "at most"]), "count": chance.randrange(12)}
            for _ in range(chance.randint(1, 4))
        ]  # fmt: skip
        redraw = chance.choice([None, {"kind": chance.choice(["whole", "chosen"]), "returned": chance.choice(["before", "after"]), "kept": 0}])  # fmt: skip
        asked = {
            "groups": groups, "join": chance.choice(["all", "any"]), "turns": chance.randrange(12), "hand": chance.randrange(9), "each": chance.randrange(4),
            "first_draw": chance.random() < 0.5, "redraw": redraw, "reshuffle": redraw is None and chance.random() < 0.3, "by": chance.randrange(9),
        }  # fmt: skip
        answer = client.post(f"{DECKS}/{first['id']}/odds", json=asked)
        assert answer.status_code in (200, 400), (SEED, asked, answer.text)
        if answer.status_code == 200:
            curves = [each["curve"] for each in answer.json()["groups"]]
            assert all(-1e-9 <= chance <= 1 + 1e-9 for curve in curves for chance in curve), json.dumps(asked)


def test_decks_are_compared_and_reported_together(client, first):
    other = client.get(DECKS).json()[1]
    found = client.get(f"{DECKS}/compare", params={"one": first["id"], "other": other["id"]}).json()
    assert found["same"] == 0 and len(found["changes"]) == 26
    assert all(found["titles"][each["card"]] for each in found["changes"])
    seq = client.get(f"/api/games/{GAME}").json()["seq"]
    client.put(f"{DECKS}/{first['id']}/cards/{LARCH}", json={"count": 1, "base": seq})
    then = {"one": first["id"], "one_at": seq, "other": first["id"]}
    (change,) = client.get(f"{DECKS}/compare", params=then).json()["changes"]
    assert (change["before"], change["after"]) == (3, 1)
    problem(client.get(f"{DECKS}/compare", params={"one": "nothing", "other": other["id"]}), 404)
    whole = client.get(f"{DECKS}/across").json()
    assert len(whole["overlap"]) == 3 and whole["copies_of"][LARCH] == 1
    past = client.get(f"{DECKS}/{first['id']}/past").json()
    assert past[0]["changes"] == [{"section": "", "card": LARCH, "before": 3, "after": 1}]


def test_fixes_fill_and_duplicate_are_ordinary_edits(client, first):
    deck = f"{DECKS}/{first['id']}"
    client.put(f"{deck}/cards/{LARCH}", json={"count": 9, "base": 1})
    (fault, over) = client.get(DECKS).json()[0]["problems"]
    assert fault["fixes"] == [] and over["fixes"] == [{"section": "", "card": LARCH, "copies": 3}]
    mended = client.post(f"{deck}/counts", json={"counts": over["fixes"], "label": over["mend"]}).json()
    assert mended["decks"][0]["legal"]
    problem(client.post(f"{deck}/counts", json={"counts": [{"card": LARCH, "copies": 100}]}))
    problem(client.post(f"{deck}/counts", json={"counts": [{"card": LARCH, "copies": 1, "section": "a/b"}]}))
    problem(client.put(f"{deck}/format", json={"format": "nothing"}))
    client.put(f"{deck}/cards/{LARCH}", json={"count": 0, "base": 10**6})
    filled = client.post(f"{deck}/fill", json={"seed": 8}).json()["decks"][0]
    assert filled["legal"] and filled["size"] == 36
    (double,) = client.post(f"{deck}/double").json()["made"]
    assert next(each for each in client.get(DECKS).json() if each["id"] == double)["cards"] == filled["cards"]
    measured = client.get(f"{DECKS}/{double}/measure").json()
    assert measured["different"] == len(filled["cards"]) and measured["words"] > 0
