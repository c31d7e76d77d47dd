"""Deck-building over HTTP: seats, purchases, the score sheet, and rules that can't be written or played."""

from __future__ import annotations

import random
from collections.abc import Iterator
from copy import deepcopy

import pytest
from fastapi.testclient import TestClient

from dramok.server.app import create_app
from tests.conftest import SEED
from tests.server.test_api import HERE

SHED = "/api/games/potting-shed"


@pytest.fixture
def client(workspace) -> Iterator[TestClient]:
    with TestClient(create_app(workspace), base_url=HERE, headers={"X-Page": "test"}) as made:
        yield made


def begun(client: TestClient, **asked: object) -> dict:
    made = client.post(f"{SHED}/playtests", json={"seed": 14, **asked})
    assert made.status_code == 201, made.text
    return made.json()


def decided(client: TestClient, table: dict, do: str) -> dict:
    option = next(each for each in table["options"] if each["do"] == do)
    done = client.post(f"{SHED}/playtests/{table['id']}/decisions", json={**option, "taken": table["taken"]})
    assert done.status_code == 200, done.text
    return done.json()


def sales(table: dict) -> dict[int, dict]:
    return {card["instance"]: card["sale"] for zone in table["view"]["shared"] for card in zone["cards"] or () if card["sale"]}


def test_four_seats_are_set_up_in_one_request_and_a_card_is_bought(client):
    table = begun(client, seats=4, players=["random", "person", "ahead"])
    assert table["players"] == ["person", "random", "person", "ahead"] and len(table["view"]["seats"]) == 4
    assert len(sales(table)) == 9 and table["view"]["left"] and sum(table["view"]["left"].values()) == 3
    while any(each["do"] == "play" for each in table["options"]):
        table = decided(client, table, "play")
    option = next(each for each in table["options"] if each["do"] == "buy")
    sale = sales(table)[option["card"]]
    before = table["view"]["resources"]["cutting"]
    assert sale["price"] <= before
    # A card that can't be paid for is no option, whoever asks.
    dear = next(card for card, each in sales(table).items() if each["price"] > before)
    forged = client.post(f"{SHED}/playtests/{table['id']}/decisions", json={"do": "buy", "card": dear, "other": sales(table)[dear]["market"], "taken": table["taken"]})
    assert forged.status_code in (400, 409, 422) and "not possible" in forged.text
    table = decided(client, table, "buy")
    assert table["view"]["resources"]["cutting"] == before - sale["price"] and len(table["view"]["discard"]) == 1
    again = client.post(f"{SHED}/playtests/{table['id']}/again", json={"seed": 3}).json()
    assert again["players"] == table["players"], "begun again with the same seats and players"


def test_a_match_of_one_seat_is_played_to_its_score_sheet(client):
    table = begun(client, seats=1)
    while table["asked"] != "over":
        do = next(do for do in ("play", "buy", "end turn", "done", "pick") if any(each["do"] == do for each in table["options"]))
        table = decided(client, table, do)
    assert list(table["scores"][0]) == ["Merit", "Rosettes", "Ripeness", "Scented"] and table["view"]["winner"] == 0 and table["view"]["turn"] == 9
    assert table["counters"] == {"ripeness": "Ripeness"}


@pytest.mark.parametrize(("asked", "says"), [({"seats": 5}, "seats"), ({"players": ["nobody"]}, "players"), ({"players": ["plain"] * 4}, "players")])
def test_seats_that_a_match_can_not_have_are_refused(client, asked, says):
    answer = client.post(f"{SHED}/playtests", json={"seed": 1, **asked})
    assert answer.status_code == 422 and says in answer.text


def test_a_duel_has_no_third_seat(client):
    answer = client.post("/api/games/ribbon-season/playtests", json={"seed": 1, "seats": 3})
    assert answer.status_code == 400 and "this game has 2 seats, not 3" in answer.text


def written(client: TestClient, **changed: object):
    play = client.get(f"{SHED}/rules/parts").json()["parts"]["play"]
    return client.put(f"{SHED}/rules/parts/play", json={"value": {**play, **changed}})


def test_an_amount_is_written_as_text_and_refused_with_its_place(client, workspace):
    good = [{"name": "Climbers", "amount": "3 x count (own seedling [tag climber] everywhere)"}]
    assert written(client, scoring=good).status_code == 200
    scored = workspace.game("potting-shed").rulebook.played.scoring[0]
    assert scored.amount.kind == "reckoned" and scored.name == "Climbers"
    look = client.post(f"{SHED}/rules/parts/play/read", json={"value": client.get(f"{SHED}/rules/parts").json()["parts"]["play"]}).json()
    assert look["scoring"] == [{"text": "3 x count (own seedling [tag climber] everywhere)", "words": "3 times the number of climber seedlings you own"}]
    bad = written(client, scoring=[{"name": "Odd", "amount": "sum (merit of own seedlin everywhere)"}])
    assert bad.status_code == 400 and bad.json()["where"] == "score line Odd, character 19" and "seedling" in bad.json()["mend"]
    assert bad.json()["detail"] == "this game has no card type called “seedlin”"


def test_what_the_score_sheet_and_the_stock_name_can_not_be_removed(client):
    gone = client.delete(f"{SHED}/rules/types/seedling?to=practice")
    assert gone.status_code in (400, 409) and "names merit, which is not a number of a card" in gone.text or "names seedling" in gone.text
    resources = client.get(f"{SHED}/rules/parts").json()["parts"]["resources"]
    answer = client.put(f"{SHED}/rules/parts/resources", json={"value": [each for each in resources if each["id"] != "compost"]})
    assert answer.status_code in (400, 409)


def test_a_box_that_is_too_large_for_a_table_is_refused_with_the_number(client):
    play = client.get(f"{SHED}/rules/parts").json()["parts"]["play"]
    up = {**play["set_up"], "placed": [{"zone": "seed-stock", "cards": {f"PS-{number:03}": 99 for number in range(7, 11)}}, *play["set_up"]["placed"][1:]]}
    assert written(client, set_up=up).status_code == 200
    fine = client.post(f"{SHED}/playtests", json={"seed": 1})
    assert fine.status_code == 201, "396 cards and two decks fit"
    up["start"] = {f"PS-{number:03}": 99 for number in range(1, 5)}
    assert written(client, set_up=up).status_code == 200
    answer = client.post(f"{SHED}/playtests", json={"seed": 1})
    assert answer.status_code == 400 and "starting cards can't be played; 800 are the most" in answer.text


def test_no_rules_of_a_market_end_in_an_error_of_the_server(client):
    """Keys of the rules of play replaced by anything: written or refused, and what is written is played or refused."""
    dice = random.Random(f"market {SEED}")
    play = client.get(f"{SHED}/rules/parts").json()["parts"]["play"]
    values = [None, -1, 0, 1, 99, 10**9, "", "seed-bench", "hand", "everywhere", "cutting", "cost", [], [0], {}, True]
    for _ in range(40):
        value = deepcopy(play)
        at: object = value[dice.choice(["markets", "counters", "ends", "scoring", "ties", "zones", "set_up", "phases", "actions"])]
        while isinstance(at, list | dict) and at:
            key = dice.choice(range(len(at)) if isinstance(at, list) else list(at))
            if not isinstance(at[key], list | dict) or dice.random() < 0.3:
                at[key] = dice.choice(values)
                break
            at = at[key]
        answer = client.put(f"{SHED}/rules/parts/play", json={"value": value})
        assert answer.status_code in (200, 400, 409, 422), f"{value}: {answer.text}"
        if answer.status_code == 200:
            for seats in (1, 4):
                begun_at = client.post(f"{SHED}/playtests", json={"seed": 1, "seats": seats, "mine": "plain", "players": ["plain"] * 3})
                assert begun_at.status_code in (201, 400, 422), f"{value}: {begun_at.text}"
            assert client.get("/api/games").status_code == 200 and client.get(f"{SHED}/rules/parts").status_code == 200


def test_an_action_is_written_as_text_taken_at_the_table_and_kept_as_a_model(client):
    play = client.get(f"{SHED}/rules/parts").json()["parts"]["play"]
    actions = [*play["actions"], {"id": "fetch", "name": "Fetch water", "effect": "offer free, limit 1 a turn: gain 3 cutting; draw 1"}]
    look = client.post(f"{SHED}/rules/parts/play/read", json={"value": {**play, "actions": actions}}).json()
    assert look["problem"] is None and look["actions"][1] == {"text": "offer free, limit 1 a turn: gain 3 cutting; draw 1", "words": "Fetch water. At no cost, once a turn: take 3 cuttings. Draw 1 card."}
    assert written(client, actions=actions).status_code == 200
    stored = client.get(f"{SHED}/rules/parts").json()["parts"]["play"]["actions"][1]["effect"]["lines"][0]["ability"]
    assert stored["kind"] == "offer" and stored["cost"] == [] and stored["limit"] == {"number": 1, "each": "turn"}
    table = begun(client)
    option = next(each for each in table["options"] if each["do"] == "use")
    assert table["actions"] == [option["card"]] and "Fetch" not in str(table["view"]), "it is no card of any zone"
    assert table["choices"][table["options"].index(option)] == "Fetch water: At no cost, once a turn: take 3 cuttings. Draw 1 card."
    table = decided(client, table, "use")
    assert table["view"]["resources"]["cutting"] == 3 and not table["actions"], "once a turn"
    texts = [line["text"] for line in table["log"]]
    at = texts.index("You: action Fetch water.")
    assert texts[at + 1 : at + 3] == ["Fetch water, as offered:", "You: gained 3 cuttings."]


@pytest.mark.parametrize(("effect", "says"), [
    ("offer pay 2 compst: draw 1", "no resource called “compst”"), ("upon play this: draw 1", "begins with offer"), ("offer tilt this: draw 1", "belongs to no card"),
    ("offer pay 1 compost: return this", "belongs to no card"), ("offer free: draw 1", "without end"), ("offer pay 1 compost: draw (merit of this)", "belongs to no card"),
])  # fmt: skip
def test_an_action_that_can_not_be_is_refused_with_its_reason(client, effect, says):
    before = client.get(f"{SHED}/rules/parts").json()["parts"]["play"]
    answer = written(client, actions=[{"id": "odd", "name": "Odd", "effect": effect}])
    assert answer.status_code in (400, 422) and says in answer.text, answer.text
    assert client.get(f"{SHED}/rules/parts").json()["parts"]["play"] == before


def test_a_market_is_cheaper_by_an_amount_and_what_it_names_stays(client):
    play = client.get(f"{SHED}/rules/parts").json()["parts"]["play"]
    markets = [{**play["markets"][0], "less": "2 x count (own starter) + held compost"}, *play["markets"][1:]]
    assert written(client, markets=markets).status_code == 200
    table = begun(client, seats=2, players=["person"])
    first = {card: sale["price"] for card, sale in sales(table).items() if sale["market"] == 0}
    table = decided(client, table, "play")
    held = table["view"]["resources"]["compost"]
    after = {card: sale for card, sale in sales(table).items() if sale["market"] == 0}
    assert {card: sale["price"] for card, sale in after.items()} == {card: max(0, price - 2 - held) for card, price in first.items()}
    assert all(f"-{2 + held} for you" in sale["reasons"] for sale in after.values())
    wrong = written(client, markets=[{**markets[0], "less": "count (own startr)"}, *markets[1:]])
    assert wrong.status_code == 400 and "startr" in wrong.text and "seed-bench" in wrong.text
    resources = client.get(f"{SHED}/rules/parts").json()["parts"]["resources"]
    gone = client.put(f"{SHED}/rules/parts/resources", json={"value": [each for each in resources if each["id"] != "rosette"]})
    assert gone.status_code in (400, 409) and "Village Hall" in gone.text, "the shows that give rosettes are named"


def test_the_shows_of_a_round_judge_every_garden_once(client):
    """Each show is held in its round, in the last turn of it. The person only ends each turn."""
    table = begun(client, seats=3, players=["plain", "random"])
    while table["asked"] != "over":
        table = decided(client, table, "end turn")
    held = [line["text"] for line in table["log"] if line["text"].startswith("Round ")]
    assert held == [
        "Round 2: Schools' Day.", "Round 3: Village Hall.", "Round 4: Church Steps.", "Round 5: Midsummer Table.", "Round 6: Weigh-in.", "Round 7: Night Show.",
        "Round 8: Basket of Six.", "Round 8: Long Table.", "Round 9: Chairman's Cup.",
    ]  # fmt: skip
    rosettes = sum(seat["resources"]["rosette"] for seat in table["view"]["seats"])
    assert rosettes == sum(each["Rosettes"] for each in table["scores"]) and 0 < rosettes <= 3 * 34


def test_what_the_rules_of_play_name_is_replaced_with_it_or_keeps_it_from_going(client):
    """A value of a choice that an action and the stock of a bench name goes to another value: they name that one then. One undo brings all back."""
    before = client.get(f"{SHED}/rules/parts").json()["parts"]["play"]
    dig = {"id": "dig", "name": "Dig", "effect": 'offer pay 1 compost: remove pick own card [bench is "Glass bench"] in hand; create 1 "Saved Seed"'}
    assert written(client, actions=[*before["actions"], dig]).status_code == 200
    play = client.get(f"{SHED}/rules/parts").json()["parts"]["play"]
    benches = next(each for each in client.get(f"{SHED}/rules").json()["lists"] if each["id"] == "benches")
    fewer = {**benches, "values": [each for each in benches["values"] if each["id"] != "glass"]}
    gone = client.put(f"{SHED}/rules/lists", json={"list": fewer, "moves": {"glass": "seed"}})
    assert gone.status_code == 200, gone.text
    after = client.get(f"{SHED}/rules/parts").json()["parts"]["play"]
    assert '"value": "glass"' not in str(after).replace("'", '"') and str(after).replace("seed", "") == str(play).replace("glass'}", "seed'}").replace("seed", "")
    look = client.post(f"{SHED}/rules/parts/play/read", json={"value": after}).json()
    assert '[bench is "Seed bench"]' in look["actions"][1]["text"]
    assert client.post(f"{SHED}/undo", json={}).status_code == 200
    assert client.get(f"{SHED}/rules/parts").json()["parts"]["play"] == play
    # A type with a group of the rules becomes another in them too, and what can't be replaced is refused by name.
    shows = client.delete(f"{SHED}/rules/types/show?to=practice")
    assert shows.status_code in (400, 409) and "name round" in shows.text, "the phase names its number"
    resources = client.get(f"{SHED}/rules/parts").json()["parts"]["resources"]
    compost = client.put(f"{SHED}/rules/parts/resources", json={"value": [each for each in resources if each["id"] != "compost"]})
    assert compost.status_code in (400, 409) and "8 cards and 2 actions gain or lose it" in compost.text, compost.text
