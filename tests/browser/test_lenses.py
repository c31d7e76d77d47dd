"""The lenses: cards measured on screen, progress while the games run, stopped, continued, out of date after an edit."""

from __future__ import annotations

import re

import pytest
from bench.served import Server
from playwright.sync_api import Page, Route, expect

from dramok.workers.compiled_kernel import can_compile
from tests.browser.conftest import GAME, LONG, played_alone
from tests.browser.test_journey import grave_faults

pytestmark = pytest.mark.skipif(not can_compile(), reason="measuring needs llvmlite")
"""What is compiled first may take its time."""


def lenses(page: Page) -> None:
    page.get_by_role("link", name="Balance").click()
    page.get_by_role("tab", name="Lenses", exact=True).click()


def test_cards_are_measured_watched_stopped_and_outdated_by_an_edit(page: Page, server: Server):
    lenses(page)
    told = page.locator(".lens-told")
    expect(told).to_contain_text("Nothing is measured yet.")
    table = page.get_by_role("region", name="Lenses, card by card")
    expect(table.get_by_role("row")).to_have_count(97)
    expect(table).to_contain_text("not measured")
    page.get_by_label("Games", exact=True).select_option("100000")
    page.get_by_role("button", name="Measure", exact=True).click()
    expect(page.get_by_role("button", name="Measure", exact=True)).to_be_disabled()
    # The first intervals stand there while the games go on.
    expect(table.locator(".lens-interval")).not_to_have_count(0, timeout=LONG)
    expect(told).to_contain_text("Provisional")
    page.get_by_role("button", name="Stop").click()
    more = page.get_by_role("button", name=re.compile("^Go on to"))
    expect(more).to_be_enabled()
    expect(page.get_by_role("button", name="Measure", exact=True)).to_be_enabled()
    expect(told).to_contain_text(re.compile(r"[\d,]+ games in [\d.]+ s under plain, seed \d+"))
    assert not grave_faults(page)
    # By another column, and by keys; the place survives a reload, and so does the result.
    table.get_by_role("button", name="Card", exact=True).press("Enter")
    names = table.locator("tbody th").all_inner_texts()
    assert names == sorted(names, key=str.casefold)
    page.reload()
    expect(table.locator(".lens-interval")).not_to_have_count(0)
    # An edit outdates it, and says so.
    cards = page.request.get(f"{server.url}/api/games/{GAME}/cards").json()["cards"]
    card = next(each for each in cards if each["code"] == "RS-001")
    done = page.request.put(f"{server.url}/api/games/{GAME}/cards/{card['id']}/fields/height", data={"value": "9", "base": 10**6}, headers={"x-page": "t"})
    assert done.ok, done.text()
    expect(told).to_contain_text("Outdated: Copper Larch Fern changed since.")


def test_a_measurement_begun_before_the_first_look_is_answered_is_watched(page: Page, server: Server):
    """On a busy machine the first look, from before, is answered right after what was begun."""
    held: list[Route] = []

    def later(route: Route) -> None:
        if route.request.method == "GET" and not held:
            held.append(route)
        elif route.request.method == "POST":
            begun = route.fetch()
            route.fulfill(response=begun)
            held[0].fulfill(json={**begun.json(), "state": "none", "games": 0})
        else:
            route.continue_()

    page.route(f"**/api/games/{GAME}/measure", later)
    with page.expect_request(lambda request: request.url.endswith("/measure")):
        lenses(page)
    page.get_by_label("Games", exact=True).select_option("2000")
    page.get_by_role("button", name="Measure", exact=True).press("Enter")
    expect(page.get_by_role("button", name=re.compile("^Go on to 4,000"))).to_be_visible(timeout=LONG)


def test_what_cannot_be_measured_says_why(page: Page, server: Server):
    played_alone(page, server)
    lenses(page)
    page.get_by_role("button", name="Measure", exact=True).click()
    expect(page.locator("body")).to_contain_text("it compares two sides")
    expect(page.locator(".lens-told")).to_contain_text("Nothing is measured yet.")
