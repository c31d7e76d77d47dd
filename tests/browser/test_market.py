"""Deck-building on screen: a market laid out in a new game, four seats at one screen by mouse and by keys, the score sheet."""

from __future__ import annotations

import re

import pytest
from bench.served import Server
from playwright.sync_api import Page, expect

from tests.browser.conftest import LONG
from tests.browser.test_journey import grave_faults
from tests.browser.test_play_rules import at_the_table, lay
from tests.browser.test_rules import saved

pytestmark = pytest.mark.begins_elsewhere
SHED = "potting-shed"


def next_decision(page: Page, before: int) -> None:
    """Until the table has gone on from a number of decisions."""
    page.wait_for_function("before => Number(document.querySelector('.table-room')?.dataset.taken ?? before) > before", arg=before)


def begin(page: Page, server: Server, game: str, seats: int, *players: str) -> None:
    """Set up a match on its one screen."""
    page.goto(f"{server.url}/{game}/playtest")
    page.get_by_role("radio", name=str(seats), exact=True).check()
    for number, player in enumerate(players, 1):
        label = f"Rival {number} played by" if len(players) > 1 else "Played by"
        page.locator("label", has_text=label).locator("select").select_option(player)
    page.get_by_role("textbox", name="Seed").fill("14")
    page.get_by_role("button", name="Shuffle and draw").click()
    expect(page.locator(".market-card").first).to_be_visible(timeout=LONG)


def play_hand(page: Page, by_keys: bool = False) -> None:
    """Play the three cards of a hand, each when the table has gone on from the one before."""
    for held in (3, 2, 1):
        expect(page.locator(".hand .table-card")).to_have_count(held)
        taken = at_the_table(page)
        card = page.locator(".hand button.table-face").first
        if by_keys:
            card.focus()
            page.keyboard.press("Enter")
        else:
            card.click()
        next_decision(page, taken)
    expect(page.locator(".hand .table-card")).to_have_count(0)


def test_four_seats_at_one_screen_buy_by_mouse_and_by_keys(page: Page, server: Server):
    begin(page, server, SHED, 4, "plain", "person", "random")
    table = page.get_by_role("region", name="Table")
    assert [table.get_by_role("region", name=f"Seat {seat}").count() for seat in (2, 3, 4)] == [1, 1, 1]
    expect(table.get_by_role("region", name="Seat 2")).to_contain_text("Simple")
    expect(table.get_by_role("region", name="Seat 3")).to_contain_text("a person")
    assert not grave_faults(page)
    # Nothing covers anything: the rivals, the benches, the decision and the hand are above one another and in sight.
    boxes = [page.locator(each).bounding_box() for each in (".rivals-many", ".markets", ".middle-line", ".hand")]
    assert all(box is not None for box in boxes)
    edges = [(box["y"], box["y"] + box["height"]) for box in boxes if box]
    assert all(above[1] <= below[0] + 1 for above, below in zip(edges, edges[1:], strict=False)) and edges[-1][1] <= 800
    # What is left to draw is seen as counts: the six cards of the start without the hand.
    page.get_by_role("button", name="Left to draw").click()
    counts = [int(each.split(" ")[0]) for each in page.get_by_role("region", name="Left to draw").get_by_role("listitem").all_inner_texts()]
    assert sum(counts) == 3
    page.get_by_role("button", name="Close").click()
    # By mouse: the hand is played, then a card that can be paid for is bought and paid.
    play_hand(page)
    bought = page.locator(".market-card.pegged").first
    title = bought.locator(".market-title").inner_text()
    taken = at_the_table(page)
    bought.locator("button").click()
    next_decision(page, taken)
    expect(page.locator(".log-scroll")).to_contain_text(f"You: bought {title}.")
    expect(page.get_by_role("region", name="Your piles")).to_contain_text("discard pile 1")
    taken = at_the_table(page)
    page.keyboard.press("n")
    # The second person at this screen is asked to sit down first; no card of the first is shown meanwhile.
    expect(page.get_by_role("heading", name="Seat 3")).to_be_visible()
    expect(page.locator(".table-card")).to_have_count(0)
    page.keyboard.press("n")
    expect(page.get_by_role("region", name="Seat 1")).to_be_visible()
    # By keys: play the hand with Enter, walk to a flagged card of a bench, buy it with Enter.
    play_hand(page, by_keys=True)
    card = page.locator(".market-card.pegged button.table-face").first
    name = card.locator(".unseen").inner_text()
    assert re.search(r"\d cutting.*, buy$", name), name
    for _ in range(20):
        if card.evaluate("card => card === document.activeElement"):
            break
        page.keyboard.press("ArrowRight")
    expect(card).to_be_focused()
    taken = at_the_table(page)
    page.keyboard.press("Enter")
    next_decision(page, taken)
    expect(page.locator(".log-scroll")).to_contain_text(f"You: bought {name.split(',')[0]}.")
    # Undo takes the last decision back.
    taken = at_the_table(page)
    page.keyboard.press("u")
    page.wait_for_function("taken => Number(document.querySelector('.table-room').dataset.taken) < taken", arg=taken)


def test_a_match_is_played_to_its_score_sheet(page: Page, server: Server):
    begin(page, server, SHED, 2, "plain")
    # The first card is bought by dragging it to the own side.
    play_hand(page)
    card = page.locator(".market-card.pegged").first
    title = card.locator(".market-title").inner_text()
    card.locator("button").drag_to(page.locator(".side-mine"))
    expect(page.locator(".log-scroll")).to_contain_text(f"You: bought {title}.")
    while page.locator(".match-summary").count() == 0:
        taken = at_the_table(page)
        hand, market = page.locator(".hand button.table-face:not([aria-disabled=true])"), page.locator(".market-card.pegged button.table-face")
        if hand.count():
            hand.first.click()
        elif market.count():
            market.last.click()
        else:
            page.keyboard.press("n")
        next_decision(page, taken)
    sheet = page.get_by_role("table", name="Score sheet")
    rows = {row.locator("th").inner_text(): [int(each) for each in row.locator("td").all_inner_texts()] for row in sheet.locator("tbody tr").all()}
    lines = ["Merit", "Rosettes", "Ripeness", "Scented"]
    assert list(rows) == [*lines, "Total"]
    for seat in (0, 1):
        assert rows["Total"][seat] == sum(rows[line][seat] for line in lines)
    assert min(rows["Total"]) > 5 and sum(rows["Rosettes"]) > 0, "both have bought, and shows were won"
    mine, other = rows["Total"]
    if mine != other:
        expect(page.get_by_role("region", name="How it went")).to_contain_text("You have won." if mine > other else "Your rival has won")
    assert not grave_faults(page)


def test_a_market_is_laid_out_in_a_new_game_and_tried_at_once(page: Page, server: Server):
    made = page.request.post(f"{server.url}/api/shelf", data={"name": "Lantern Stall", "shape": "builder"}, headers={"x-page": "t"})
    assert made.ok, made.text()
    game = made.json()["id"]
    page.goto(f"{server.url}/{game}/rules?at=play:market")
    read = page.get_by_role("complementary", name="Rules text")
    expect(read).to_contain_text("You may buy one of each kind of card of the Stall for its cost in coins; it goes to your discard pile.")
    # A second market: a row that is refilled, with prices by place and a coin left on what is passed over.
    page.get_by_role("button", name="Add a row that is refilled").click()
    row = page.get_by_role("listitem", name="Market: Market row")
    row.get_by_label("With", exact=True).select_option(label="Pile: Prizes")
    saved(page)
    row.get_by_label("Places").fill("3")
    page.keyboard.press("Enter")
    row.get_by_label("Added to the price by place, oldest first").fill("0 1 2")
    page.keyboard.press("Enter")
    row.get_by_label("Left on each card passed over").select_option(label="Coins")
    row.get_by_label("A bought card goes to").select_option(label="the hand")
    saved(page)
    expect(read).to_contain_text("Market row: a row of 3 face-up cards, refilled from the top of the Market row stock as soon as a place is free.")
    expect(read).to_contain_text("The price changes by the place in the row, the oldest card first: 0, +1, +2.")
    expect(read).to_contain_text("For each card before the one you buy, put 1 coin on it.")
    # The score sheet: a line that can't be read is refused with its place, a good one is printed in words.
    lay(page, "Scoring")
    page.get_by_role("button", name="Add a line").click()
    line = page.get_by_role("listitem", name="Score line 2")
    line.get_by_label("Amount").fill("2 x count (own starter everywhere)")
    page.keyboard.press("Enter")
    expect(page.locator("body")).to_contain_text("this game has no card type called “starter”")
    line.get_by_label("Amount").fill('2 x count (own "Starting card" everywhere)')
    page.keyboard.press("Enter")
    saved(page)
    expect(read).to_contain_text("2 times the number of starting cards you own")
    lay(page, "How it ends")
    page.get_by_role("listitem", name="End 2").get_by_label("Rounds").fill("2")
    page.keyboard.press("Enter")
    saved(page)
    expect(read).to_contain_text("The match ends after 2 rounds.")
    # One undo brings the last edit back, and what was typed comes with a redo.
    page.locator("h2", has_text="How it ends").click()
    page.keyboard.press("Control+z")
    expect(read).to_contain_text("The match ends after 20 rounds.")
    page.keyboard.press("Control+y")
    expect(read).to_contain_text("The match ends after 2 rounds.")
    assert not grave_faults(page)
    # It is tried at once, and the changed rules hold: three cards in the row, the third 2 dearer.
    page.get_by_role("button", name="Try it").click()
    market = page.get_by_role("region", name="Market row", exact=True)
    expect(market.locator(".market-card")).to_have_count(3, timeout=LONG)
    expect(market.locator(".market-card").nth(2).locator("button")).to_have_attribute("title", re.compile(r"\+2 in place 3"))


def test_an_action_of_the_rules_is_written_by_keys_and_taken_at_the_table(page: Page, server: Server):
    made = page.request.post(f"{server.url}/api/shelf", data={"name": "Lantern Street", "shape": "builder"}, headers={"x-page": "t"})
    game = made.json()["id"]
    page.goto(f"{server.url}/{game}/rules?at=play:actions")
    read = page.get_by_role("complementary", name="Rules text")
    page.get_by_role("button", name="Add an action").press("Enter")
    action = page.get_by_role("listitem", name="Action: Draw a card")
    expect(action).to_contain_text("At no cost, once a turn: draw 1 card.")
    expect(read).to_contain_text("Draw a card. At no cost, once a turn: draw 1 card.")
    # A mistake is refused with its place, and what was typed stays until it is right.
    does = action.get_by_label("What it does")
    does.fill("offer free, limit 1 a turn: gain 2 coyn")
    does.press("Control+Enter")
    expect(page.locator("body")).to_contain_text("this game has no resource called “coyn”")
    expect(does).to_have_value("offer free, limit 1 a turn: gain 2 coyn")
    does.fill("offer free, limit 1 a turn: gain 2 coin")
    does.press("Control+Enter")
    saved(page)
    expect(read).to_contain_text("At no cost, once a turn: gain 2 coins.")
    name = action.get_by_label("Name")
    name.fill("Light a lamp")
    name.press("Enter")
    saved(page)
    # No phase lets it be taken yet: the page of the turn says so.
    lay(page, "The turn")
    expect(page.get_by_role("list", name="Problems")).to_contain_text("there are actions, and no phase lets players take them")
    page.get_by_role("checkbox", name="use effects, take actions").first.press(" ")
    saved(page)
    expect(read).to_contain_text("take actions")
    # A discount for the buyer, in the words of the rules at once.
    lay(page, "The market")
    cheaper = page.get_by_label("Cheaper by").first
    cheaper.fill("count (own card)")
    cheaper.press("Enter")
    saved(page)
    expect(read).to_contain_text("The price is lower by the number of cards")
    assert not grave_faults(page)
    page.get_by_role("button", name="Try it").press("Enter")
    button = page.get_by_role("button", name="Light a lamp: At no cost, once a turn: gain 2 coins.")
    expect(button).to_be_visible(timeout=LONG)
    taken = at_the_table(page)
    button.press("Enter")
    next_decision(page, taken)
    expect(page.locator(".log-scroll")).to_contain_text("You: action Light a lamp.")
    expect(button).to_have_count(0)
    assert not grave_faults(page)
