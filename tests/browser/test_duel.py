"""A duel at the table: a person against an automatic player, with real keys and clicks."""

from __future__ import annotations

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import GAME, Server

pytestmark = pytest.mark.begins_elsewhere


def begin(page: Page, server: Server, seed: str = "7") -> None:
    page.goto(f"{server.url}/{GAME}/playtest")
    page.get_by_label("Against").select_option(label="Hooks and Ribbons")
    page.get_by_label("Played by").select_option("plain")
    page.get_by_label("Seed").fill(seed)
    page.get_by_role("button", name="Shuffle and draw").click()
    page.locator(".table-room").wait_for()


def test_a_duel_is_played_to_its_end_against_the_plain_player(page: Page, server: Server):
    begin(page, server)
    rival = page.get_by_role("region", name="Across the table: Hooks and Ribbons")
    expect(rival).to_contain_text("hand 5")
    expect(page.locator(".hand .table-card")).to_have_count(5)
    expect(page.locator(".asked")).to_contain_text("Keep this hand, or press the cards to give back.")
    page.get_by_role("button", name="Done", exact=True).click()
    expect(page.locator(".table-who")).to_contain_text("your Tending")
    over = page.locator(".asked", has_text="has won").or_(page.locator(".asked", has_text="You have won"))
    room = page.locator(".table-room")
    for taken in range(400):
        if over.count():
            break
        card = page.locator(".table-card:not(.table-still) button.table-face")
        done = page.get_by_role("button", name="Done", exact=True).or_(
            page.get_by_role("button", name="Done picking")
        )
        asked = page.locator(".asked").inner_text()
        passes = ("Send" in asked or "Answer" in asked) and taken % 3
        stands = room.get_attribute("data-taken") or ""
        if card.count() and not passes:
            card.first.click()
        elif done.count():
            done.first.click()
        else:
            page.keyboard.press("n")
        expect(room).not_to_have_attribute("data-taken", stands)
    expect(over).to_be_visible()
    expect(page.locator(".log-scroll")).to_contain_text("the match is won.")
    # The other side's cards that were never seen are nowhere in the page's log.
    assert page.locator(".log-scroll").inner_text().count("Rival: drew a card") > 3


def test_undo_returns_to_the_players_own_decision_and_reload_keeps_the_place(page: Page, server: Server):
    begin(page, server, "9")
    page.get_by_role("button", name="Done", exact=True).click()
    expect(page.locator(".table-who")).to_contain_text("Tending")
    said = page.locator(".log-scroll p").all_inner_texts()
    page.keyboard.press("n")
    expect(page.locator(".log-scroll p")).not_to_have_count(len(said))
    page.keyboard.press("u")
    expect(page.locator(".log-scroll p")).to_have_count(len(said))
    page.reload()
    expect(page.locator(".log-scroll p")).to_have_count(len(said))
    assert page.locator(".log-scroll p").all_inner_texts() == said


def test_the_other_side_may_go_first(page: Page, server: Server):
    page.goto(f"{server.url}/{GAME}/playtest")
    page.get_by_label("Your rival goes first").check()
    page.get_by_label("Seed").fill("3")
    page.get_by_role("button", name="Shuffle and draw").click()
    expect(page.locator(".hand .table-card")).to_have_count(5)
    expect(page.get_by_role("region", name="Across the table: Fern over Moss")).to_be_visible()
