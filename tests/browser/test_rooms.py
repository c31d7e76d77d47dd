"""The rooms one by one, with mouse and keys: what a day's work needs beside the main journey."""

from __future__ import annotations

import re

import pytest
from bench.large_game import large_game
from playwright.sync_api import Page, expect

from tests.browser.conftest import GAME, LONG, Server, played_alone
from tests.browser.test_journey import FACE, STRIP, stand_on

SEED = "21"
"""Deals Fern over Moss a hand with Copper Larch Fern and Morning Mist in it."""


def test_cards_are_made_chosen_filtered_and_taken_out(page: Page):
    page.get_by_role("button", name="New card").click()
    page.get_by_role("menuitem", name="Weather").click()
    expect(page.locator(".pane-facts")).to_contain_text("RS-097 · Weather · revision 1")
    page.keyboard.type("Silver Drizzle")
    page.keyboard.press("Tab")
    page.keyboard.press("Tab")
    page.keyboard.type("mo")
    expect(page.locator(".offer")).to_have_text(["Moss"])
    page.keyboard.press("Tab")
    expect(page.locator("[data-field=bed]").first).to_be_visible()
    expect(page.locator("[aria-activedescendant$=rarity]")).to_have_count(1)
    page.keyboard.press("Tab")
    expect(page.locator("[aria-activedescendant$=cost]")).to_have_count(1)
    for _ in range(3):
        page.keyboard.press("Alt+ArrowUp")
        page.wait_for_timeout(120)
    expect(page.locator(f"{FACE} [data-field=cost] text")).to_have_text("3")
    expect(page.locator(".pane-facts h2")).to_have_text("Silver Drizzle")
    page.get_by_role("button", name=re.compile("^Under")).click()
    expect(page.locator(".toolbar-low")).to_contain_text("7 of 97 cards")
    page.get_by_label("Query").fill("drizzle")
    page.keyboard.press("Enter")
    expect(page.locator(".toolbar-low")).to_contain_text("1 of 97 cards")
    page.wait_for_timeout(400)
    page.reload()
    expect(page.locator(".toolbar-low")).to_contain_text("1 of 97 cards")
    page.get_by_role("button", name="Remove", exact=True).click()
    expect(page.locator(".empty")).to_contain_text("No cards match")
    page.get_by_role("button", name=re.compile("^Undo")).click()
    expect(page.locator(".toolbar-low")).to_contain_text("1 of 97 cards")


def test_links_to_cards_stand_on_them_again_and_again(page: Page):
    for name in ("Ladder Frond", "Hedge Pup", "Copper Larch Fern", "Ladder Frond"):
        stand_on(page, name, "cost")
        page.keyboard.press("ArrowDown")
        page.wait_for_timeout(350)
    page.keyboard.press("Alt+ArrowUp")
    page.keyboard.press("Home")
    page.locator(STRIP).get_by_role("link").first.click()
    expect(page.locator(".pane-facts h2")).to_have_text("Cistern Maidenhair")
    page.get_by_role("link", name="Balance").click()
    page.locator(f"[data-card=c-{GAME}-rs-088] .map-shape").click()
    expect(page.locator(".pane-facts h2")).to_have_text("The Green Silence")


def test_a_deck_is_made_named_filled_by_mouse_and_taken_out(page: Page):
    page.get_by_role("link", name="Decks").click()
    page.get_by_role("button", name="New", exact=True).click()
    expect(page.locator(".legality")).to_contain_text("0 cards; the least is 36 — add 36")
    page.get_by_label("Name of the deck").fill("Hedge school")
    page.keyboard.press("Enter")
    expect(page.locator("#deck-choice")).to_contain_text("Hedge school — not legal")
    page.get_by_role("button", name="Briar", exact=True).click()
    page.get_by_role("button", name="One Hedge Pup more").click()
    page.get_by_role("button", name="One Hedge Pup more").first.click()
    expect(page.locator(".deck-row .num")).to_have_text("2")
    expect(page.locator(".curve")).to_have_attribute("aria-label", "Cards by cost: 2 at 1")
    page.locator(".deck-row").get_by_role("button", name="One Hedge Pup less").click()
    expect(page.locator(".deck-row .num")).to_have_text("1")
    page.locator(".deck-card").hover()
    expect(page.locator(".hover-face svg.face")).to_be_visible()
    page.get_by_role("button", name="Remove this deck").click()
    expect(page.locator("#deck-choice")).not_to_contain_text("Hedge school")


def test_picks_at_the_table_are_pegged_declared_and_cancelled_from_the_keyboard(page: Page, server: Server):
    played_alone(page, server)
    stand_on(page, "Morning Mist", "effect")
    page.keyboard.press("Enter")
    # A text that is put in whole is no key: it waits for the editor.
    expect(page.locator("#editor-effect")).to_be_focused()
    page.keyboard.press("Control+a")
    page.keyboard.insert_text("upon play this: deal 1 to pick own plant; heal 1 to it")
    with page.expect_response("**/fields/effect"):
        page.keyboard.press("Control+Enter")
    page.get_by_role("link", name="Playtest").click()
    page.get_by_label("Seed").fill(SEED)
    page.keyboard.press("Enter")
    page.get_by_role("button", name="Copper Larch Fern, play").first.focus()
    page.keyboard.press("Enter")
    expect(page.locator(".in-play-cards .table-card")).to_have_count(1)
    mist = page.get_by_role("button", name=re.compile("^Morning Mist, play"))
    water = page.locator(".purse b").first.inner_text()
    mist.first.focus()
    page.keyboard.press("Enter")
    expect(page.locator(".asked")).to_contain_text("Choose a target (nothing is paid yet).")
    expect(page.locator(".pegged")).to_have_count(1)
    page.keyboard.press("Escape")
    expect(page.locator(".pegged")).to_have_count(0)
    expect(page.locator(".purse b").first).to_have_text(water)
    mist.first.focus()
    page.keyboard.press("Enter")
    page.locator(".pegged .table-face").focus()
    page.keyboard.press("Enter")
    expect(page.locator(".log-scroll")).to_contain_text("1 mildew on")
    expect(page.locator(".purse b").first).to_have_text(str(int(water) - 1))


def test_ten_thousand_cards_open_scroll_and_edit(chromium, server: Server):
    server.kill()
    large_game(server.db, 10_000).close()
    server.start()
    page = chromium.new_context(viewport={"width": 1280, "height": 800}).new_page()
    page.goto(f"{server.url}/{GAME}/cards")
    page.wait_for_selector(".pane-face svg.face")
    expect(page.locator(".toolbar-low")).to_contain_text("10000 of 10000 cards")
    assert page.locator(".grid-row").count() < 64
    page.locator(".grid").focus()
    page.keyboard.press("Control+End")
    expect(page.locator(".pane-facts")).to_contain_text("RS-096")
    page.keyboard.press("Control+Home")
    page.keyboard.press("PageDown")
    page.keyboard.press("Tab")
    page.keyboard.type("Ten thousand and one")
    page.keyboard.press("Enter")
    expect(page.locator(STRIP)).to_contain_text("Ten thousand and one")
    page.goto(f"{server.url}/{GAME}/balance")
    expect(page.locator(".map-mark").first).to_be_attached(timeout=LONG)
    page.context.close()


@pytest.mark.begins_elsewhere
def test_the_start_of_a_playtest_shows_the_decks_and_the_games_that_wait(page: Page, server: Server):
    page.goto(f"{server.url}/{GAME}/playtest")
    decks = page.get_by_role("radio")
    expect(decks).to_have_count(3)
    expect(page.locator(".start-deck", has_text="Fern over Moss").locator("svg.face")).to_have_count(9)
    expect(page.locator(".start-not")).to_have_text("18 cards; the least is 36")
    expect(page.locator(".start-card")).to_contain_text("None. A game that you leave waits here.")
    decks.first.focus()
    page.keyboard.press("ArrowDown")
    expect(page.locator(".start-what")).to_have_text("Hooks and Ribbons, 36 cards")
    page.get_by_label("Seed").fill("11")
    page.keyboard.press("Enter")
    page.locator(".table-room").wait_for()
    page.keyboard.press("Escape")
    page.goto(f"{server.url}/{GAME}/playtest")
    waiting = page.locator(".start-recent")
    expect(waiting).to_contain_text("seed 11, 0 decisions")
    waiting.get_by_role("button", name="Hooks and Ribbons").click()
    page.locator(".table-room").wait_for()


@pytest.mark.begins_elsewhere
def test_a_game_without_a_deck_is_told_where_to_build_one(page: Page, server: Server):
    page.goto(f"{server.url}/{GAME}/decks")
    name = page.get_by_label("Name of the deck")
    for left in (2, 1, 0):
        before = name.input_value()
        page.get_by_role("button", name="Remove this deck").click()
        if left:
            expect(name).not_to_have_value(before)
    expect(name).to_have_count(0)
    page.get_by_role("link", name="Playtest").click()
    expect(page.locator(".start-card")).to_contain_text("There is no deck yet.")


@pytest.mark.begins_elsewhere
def test_what_the_cards_of_a_type_hold_leads_to_those_cards(page: Page, server: Server):
    page.goto(f"{server.url}/{GAME}/rules?at=type:plant")
    holds = page.get_by_role("region", name="What its cards hold")
    rarity = holds.locator("figure", has_text="Rarity")
    expect(rarity.locator("figcaption")).to_have_text("Rarity 64 of 64")
    expect(rarity.get_by_role("link")).to_have_text(["Garden32", "Grown16", "Prize12", "Heirloom4"])
    cost = holds.locator("figure", has_text="Cost")
    expect(cost.get_by_role("link").first).to_have_text("18")
    cost.get_by_role("link").first.click()
    expect(page.locator(".toolbar-low")).to_contain_text("8 of 96 cards")
    page.go_back()
    holds.locator("figure", has_text="Tags").get_by_role("link", name="thorned").click()
    expect(page.locator(".toolbar-low")).to_contain_text("14 of 96 cards")


@pytest.mark.begins_elsewhere
def test_a_table_is_seen_before_it_is_taken_and_a_wrong_query_is_told_there(page: Page, server: Server):
    page.goto(f"{server.url}/{GAME}/files")
    look = page.get_by_role("region", name="As it comes out")
    expect(look.get_by_role("heading")).to_have_text("As it comes out 96 cards")
    expect(look.get_by_role("row").nth(2)).to_contain_text("RS-002")
    query = page.get_by_placeholder("every card, or a query")
    query.fill("bed is Moss cost is 1")
    expect(look.get_by_role("row").nth(1)).to_contain_text("Moss")
    rows = look.get_by_role("row").count() - 1
    expect(look.get_by_role("heading")).to_have_text(f"As it comes out {rows} cards")
    with page.expect_download() as taken:
        page.get_by_role("link", name="CSV").click()
    text = taken.value.path().read_text(encoding="utf-8-sig")
    assert len(text.strip().splitlines()) == rows + 1
    query.fill("bed is Mosss")
    expect(page.get_by_role("alert")).to_contain_text("did you mean Moss?")
    expect(page.locator(".files-format").first).to_have_attribute("aria-disabled", "true")
    assert page.locator(".files-format").first.get_attribute("href") is None
    query.fill("cost > 90")
    expect(look).to_contain_text("No cards match.")
