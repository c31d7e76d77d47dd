"""Corrected displays at the table, in the grid, in Decks, in Rules and in *Find anything*: each test failed before its fix."""

from __future__ import annotations

import json
import re

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import GAME, Server, at_rest
from tests.browser.test_journey import stand_on
from tests.browser.test_nothing_lost import ask
from tests.browser.test_price_sheet import keys


def table_of(page: Page, server: Server, **asked: object) -> str:
    deck = page.request.get(f"{server.url}/api/games/{GAME}/decks").json()[0]["id"]
    made = page.request.post(f"{server.url}/api/games/{GAME}/playtests", data={"deck": deck, "seed": 7, **asked}).json()
    page.goto(f"{server.url}/{GAME}/playtest?table={made['id']}")
    expect(page.locator(".hand .table-card").first).to_be_visible()
    return made["id"]


@pytest.mark.begins_elsewhere
def test_a_hand_of_six_shows_the_name_and_every_number_of_each_card(page: Page, server: Server):
    table_of(page, server, player="plain")
    keys(page, "n", "n")
    hand = page.locator(".hand .table-card")
    for _ in range(4):
        if hand.count() > 5:
            break
        keys(page, "n")
        at_rest(page)
    expect(hand).to_have_count(6)
    cards = {each["title"]: each["values"] for each in ask(server, "GET", "/cards")["cards"]}
    for tile in hand.all():
        name = tile.locator(".hand-name b").inner_text()
        shown = [each.inner_text() for each in tile.locator(".hand-spine .num").all()]
        values = cards[name]
        wanted = [values["cost"], *(values[stat] for stat in ("height", "root") if stat in values)]
        assert [text.split()[-1] for text in shown] == wanted, (name, shown)
        inside = tile.evaluate(
            """tile => { const box = tile.querySelector(".hand-tile").getBoundingClientRect();
               return [...tile.querySelectorAll(".hand-spine .num, .hand-name")].every(one => { const here = one.getBoundingClientRect();
                 return here.top >= box.top && here.bottom <= box.bottom && here.right <= box.right; }); }"""
        )
        assert inside, name


@pytest.mark.begins_elsewhere
def test_at_the_table_there_is_one_undo_and_it_is_the_tables(page: Page, server: Server):
    table_of(page, server, player="plain")
    undo = page.get_by_role("button", name=re.compile("^Undo"))
    expect(undo).to_have_count(1)
    expect(undo).to_have_accessible_name("Undo the last move")
    page.get_by_role("link", name="Cards", exact=True).click()
    expect(page.get_by_role("button", name="Undo", exact=True)).to_be_visible()


@pytest.mark.begins_elsewhere
def test_a_match_between_equal_decks_says_who_won(page: Page, server: Server):
    table_of(page, server, player="plain")
    expect(page.locator(".asked")).to_contain_text("press the cards to give back")
    for _ in range(80):
        if page.locator(".asked").inner_text().startswith(("Your rival has won", "You have won", "Nobody has won")):
            break
        keys(page, "n")
        at_rest(page)
    expect(page.locator(".asked")).to_have_text("Your rival has won.")


@pytest.mark.begins_elsewhere
def test_between_automatic_players_nobody_is_you_and_both_hands_are_seen(page: Page, server: Server):
    table_of(page, server, player="plain", mine="plain")
    log = page.locator(".log-scroll")
    expect(log).to_contain_text("Seat 1: drew")
    keys(page, *["n"] * 6)
    expect(page.locator(".table-room")).to_have_attribute("data-taken", "6")
    expect(log).not_to_contain_text("You")
    expect(log).not_to_contain_text("drew a card")
    across = page.get_by_role("list", name="Hand across the table")
    count = int(page.locator(".rival-head b.num").inner_text())
    expect(across.get_by_role("listitem")).to_have_count(count)
    page.get_by_role("button", name="Hide the hand across").click()
    expect(across).to_have_count(0)


@pytest.mark.parametrize(
    ("typed", "kind", "name"),
    [
        ("stat", "stat", "Height"), ("keyword", "command", "Keywords"), ("odds", "command", "Odds of drawing cards"), ("symbol", "symbol", "Height"),
        ("sweep", "command", "Sweep a number of a card"), ("backup", "command", "Back up this game"), ("new game", "command", "New game"),
        ("probability", "command", "Odds of drawing cards"), ("role", "command", "Field roles"),
    ],
)  # fmt: skip
def test_find_anything_finds_it(page: Page, typed: str, kind: str, name: str):
    keys(page, "Control+k")
    page.keyboard.type(typed)
    found = page.locator(".find-item").filter(has=page.locator(".find-kind", has_text=re.compile(f"^{kind}$"))).filter(has_text=name)
    expect(found.first).to_be_visible()


def heads(page: Page) -> list[str]:
    return [each.split("\n")[0] for each in page.get_by_role("columnheader").all_inner_texts()]


def test_columns_keep_their_order_at_every_width_and_when_a_stat_is_added(page: Page, server: Server):
    before = heads(page)
    assert before[:3] == ["Code", "Name", "Type"], before
    for width in (900, 1920, 1100, 1280):
        page.set_viewport_size({"width": width, "height": 800})
        at_rest(page)
        assert heads(page) == before, width
    rules = ask(server, "GET", "/rules")
    plant = next(each for each in rules["types"] if each["id"] == "plant")
    more = [*plant["fields"], *({"id": "", "name": name, "kind": "number"} for name in ("Girth", "Shade", "Thirst"))]
    ask(server, "PUT", "/rules/types", {"type": {**plant, "fields": more}, "base": 10**6})
    expect(page.get_by_role("columnheader", name="Thirst")).to_have_count(1)
    after = heads(page)
    assert [each for each in after if each not in ("Girth", "Shade", "Thirst")] == before


def test_a_reload_leaves_no_column_under_the_frozen_ones(page: Page, server: Server):
    stand_on(page, "Copper Larch Fern", "root")
    expect(page).to_have_url(re.compile("field=root"))
    page.reload()
    expect(page.locator(".pane-face svg.face")).to_be_visible()
    at_rest(page)
    assert page.locator(".grid").evaluate("grid => grid.scrollLeft") == 0


def test_a_removed_choice_filters_no_pool_any_more(page: Page, server: Server):
    page.get_by_role("link", name="Decks").click()
    chips = page.get_by_role("group", name="Bed")
    chips.get_by_role("button", name="Moss").click()
    expect(page.locator(".toolbar-mat")).not_to_contain_text("96 cards")
    beds = next(each for each in ask(server, "GET", "/rules")["lists"] if each["id"] == "beds")
    left = [each for each in beds["values"] if each["id"] != "moss"]
    ask(server, "PUT", "/rules/lists", {"list": {**beds, "values": left}, "moves": {"moss": "fern"}, "base": 10**6})
    expect(chips.get_by_role("button", name="Moss")).to_have_count(0)
    expect(page.locator(".toolbar-mat")).to_contain_text("96 cards")


@pytest.mark.begins_elsewhere
def test_budgets_take_a_list_and_lie_on_a_line_between_two_costs(page: Page, server: Server):
    page.goto(f"{server.url}/{GAME}/rules?at=game:prices")
    sheet = page.get_by_role("grid", name="Budgets, editable")
    sheet.get_by_role("gridcell", name=re.compile("^0, every type", re.I)).click()
    page.keyboard.type("1 1.75 2.25")
    keys(page, "Enter")
    expect(page.locator(".saved")).to_have_text("All saved")
    costs = ask(server, "GET", "/rules/parts")["parts"]["prices"]["budgets"][""]["by_cost"]
    assert costs[:3] == ["1", "1.75", "2.25"], costs
    # From one known cost to the next a straight line, not a step at its end.
    prices = ask(server, "GET", "/rules/parts")["parts"]["prices"]
    prices["budgets"] = {"": {"by_cost": ["0.5"], "further": "0", "rarity": {}}}
    ask(server, "PUT", "/rules/parts/prices", {"value": prices, "base": 10**6})
    page.reload()
    sheet.get_by_role("gridcell", name=re.compile("^6, every type", re.I)).click()
    page.keyboard.type("10.5")
    keys(page, "Enter")
    expect(page.locator(".saved")).to_have_text("All saved")
    costs = ask(server, "GET", "/rules/parts")["parts"]["prices"]["budgets"][""]["by_cost"]
    assert [round(float(each), 2) for each in costs] == [0.5, 2.17, 3.83, 5.5, 7.17, 8.83, 10.5]


@pytest.mark.begins_elsewhere
def test_cards_that_lie_in_a_zone_are_put_in_by_number_and_name(page: Page, server: Server):
    page.goto(f"{server.url}/{GAME}/rules?at=play:seats")
    page.get_by_role("button", name=re.compile("^Weather glass")).click()
    box = page.get_by_role("textbox", name=re.compile("^Add to cards that lie")).or_(page.get_by_role("combobox", name=re.compile("^Add to cards that lie")))
    box.fill("3 Hail on Glass")
    keys(page, "Enter")
    expect(box).to_have_value("")
    expect(page.get_by_label("Number of Hail on Glass")).to_have_value("3")
    # A line that names no card stays, with its reason.
    box.fill("2 Nobody Knows It")
    keys(page, "Enter")
    expect(box).to_have_value("2 Nobody Knows It")
    expect(page.get_by_role("alert").filter(has_text="No card is called")).to_be_visible()
    expect(page.locator(".saved")).to_have_text("All saved")
    placed = ask(server, "GET", "/rules/parts")["parts"]["play"]["set_up"]["placed"]
    hail = next(each["id"] for each in ask(server, "GET", "/cards")["cards"] if each["title"] == "Hail on Glass")
    assert json.dumps(placed).count(hail) == 1 and placed[0]["cards"][hail] == 3


def test_the_grid_has_the_focus_when_cards_opens_and_five_tabs_reach_the_main_area_of_a_room(page: Page, server: Server):
    expect(page.locator(".grid")).to_be_focused()
    for room, main in [("decks", ".wall"), ("balance", ".map-keys"), ("rules", ".room")]:
        page.goto(f"{server.url}/{GAME}/{room}")
        expect(page.locator(main)).to_be_visible()
        at_rest(page)
        skip = page.get_by_role("button", name="Skip to the main area")
        for _ in range(4):
            keys(page, "Tab")
            if skip.evaluate("each => each === document.activeElement"):
                break
        expect(skip).to_be_focused()
        keys(page, "Enter")
        expect(page.locator(main)).to_be_focused()
