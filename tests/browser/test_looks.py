"""Consistent look: tabs, dates, the focus and red; side lists in narrow windows; what history and worths show of a change."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import GAME, Server, at_rest
from tests.browser.test_journey import STRIP

REDS = """() => {
  const shades = new Set();
  const probe = document.body.appendChild(document.createElement("i"));
  for (const name of ["--madder", "--madder-bright", "--flag"]) {
    probe.style.color = `var(${name})`;
    shades.add(getComputedStyle(probe).color);
  }
  probe.remove();
  const found = new Set();
  for (const each of document.querySelectorAll("body *")) {
    if (each.closest("svg.face, .map-over") || !each.getClientRects().length) continue;
    const style = getComputedStyle(each);
    const red = shades.has(style.backgroundColor) || (style.outlineStyle !== "none" && shades.has(style.outlineColor)) ||
      (shades.has(style.color) && [...each.childNodes].some((node) => node.nodeType === 3 && node.data.trim())) ||
      ["Top", "Right", "Bottom", "Left"].some((side) => style[`border${side}Width`] !== "0px" && shades.has(style[`border${side}Color`])) ||
      (each instanceof SVGElement && (shades.has(style.fill) || shades.has(style.stroke)));
    if (red) found.add(each.getAttribute("class") || each.tagName);
  }
  return [...found];
}"""
WRONG = re.compile(r"verdict-over|needs|wrong|flag|damaged|trouble|invalid|illegal|fault")
"""Classes of what is wrong: worth too much, not legal, not read, out of date."""


@pytest.mark.begins_elsewhere
def test_red_is_for_what_is_wrong_and_for_nothing_else(page: Page, server: Server):
    rooms = {
        "cards": ".pane-face svg.face", "cards?as=wall": ".cards-wall-card svg", "decks": ".wall svg", "decks?show=odds": ".odds-table", "output": ".page-sheet",
        "history": ".journal-list li", "balance": ".map-mark", "balance?view=lenses": ".lens-table tbody tr", "balance?view=health": ".health-sheet",
        "rules?at=game:prices": ".worths-map svg", "rules?at=game:symbols": ".own-drop", "faces": ".plan-svg", "playtest": ".start-card", "files": ".files-main",
    }  # fmt: skip
    found = {}
    for room, there in rooms.items():
        page.goto(f"{server.url}/{GAME}/{room}")
        page.locator(there).first.wait_for()
        at_rest(page)
        for _ in range(4):
            page.keyboard.press("Tab")
        red = [each for each in page.evaluate(REDS) if not WRONG.search(each)]
        found |= {room: red} if red else {}
    assert not found


def test_the_parts_of_every_room_are_tabs_of_one_kind(page: Page, server: Server):
    for room, names in {
        "decks": ["Pool", "Odds", "Opening hands", "Compare", "All decks"], "balance": ["Set map", "Lenses", "Duels", "Health"],
        "output": ["Print run", "Table sheets", "Pictures"], "faces": ["Hardest cards", "Proof of all"],
    }.items():  # fmt: skip
        page.goto(f"{server.url}/{GAME}/{room}")
        tabs = page.get_by_role("tab")
        expect(tabs).to_have_text(names)
        tabs.first.focus()
        page.keyboard.press("End")
        expect(tabs.last).to_be_focused()
        expect(tabs.last).to_have_attribute("aria-selected", "true")
        page.keyboard.press("ArrowRight")
        expect(tabs.first).to_be_focused()
        expect(tabs.first).to_have_attribute("aria-selected", "true")
        panel = tabs.first.get_attribute("aria-controls")
        expect(page.locator(f"[id='{panel}']")).to_have_count(1)


def test_moments_are_written_in_one_way(page: Page, server: Server):
    page.goto(f"{server.url}/{GAME}/history")
    expect(page.locator(".journal-day").first).to_have_text(re.compile(r"^[A-Z][a-z]+day \d{1,2} [A-Z][a-z]+ \d{4}$"))
    expect(page.locator(".journal-list time").first).to_have_text(re.compile(r"^\d\d:\d\d$"))
    page.goto(f"{server.url}/shelf")
    expect(page.locator(".tile-when").first).to_have_text(re.compile(r"^edited (today|yesterday), \d\d:\d\d$"))


def test_in_a_narrow_window_the_list_at_the_side_is_one_line(page: Page, server: Server):
    page.set_viewport_size({"width": 640, "height": 400})
    page.goto(f"{server.url}/{GAME}/rules?at=game:resources")
    nav = page.get_by_role("navigation", name="Parts of the rules")
    toggle = nav.get_by_role("button", name="Resources", exact=True)
    expect(toggle).to_have_attribute("aria-expanded", "false")
    box = nav.bounding_box()
    assert box and box["height"] <= 40, "the work has the window"
    toggle.focus()
    page.keyboard.press("Enter")
    nav.get_by_role("button", name="Deck rules").click()
    expect(page.locator(".rules-title")).to_have_text("Deck rules")
    expect(nav.get_by_role("button", name="Deck rules", exact=True)).to_have_attribute("aria-expanded", "false")
    # An address that asks for a new entry opens the list: its line has the focus.
    page.goto(f"{server.url}/{GAME}/rules?new=set")
    expect(page.get_by_role("textbox", name="New set")).to_be_focused()
    page.goto(f"{server.url}/{GAME}/files")
    expect(page.get_by_role("navigation", name="Files").get_by_role("button", name="Tables out")).to_have_count(1)


def test_at_a_low_table_the_hand_is_in_sight(page: Page, server: Server):
    page.set_viewport_size({"width": 640, "height": 400})
    page.goto(f"{server.url}/{GAME}/playtest")
    page.get_by_role("button", name="Shuffle and draw").click()
    card = page.locator(".hand .table-card").first
    card.wait_for()
    box = card.bounding_box()
    assert box and box["y"] < 340, "seen without scrolling, wherever the page before it was scrolled to"


def test_what_changed_is_outlined_on_the_face_after_it(page: Page, server: Server):
    card = f"c-{GAME}-rs-002"
    page.goto(f"{server.url}/{GAME}/cards?card={card}&field=cost")
    page.locator(".grid").focus()
    page.keyboard.press("Alt+ArrowUp")
    expect(page.locator(STRIP)).to_contain_text("cost")
    page.goto(f"{server.url}/{GAME}/history?as=faces")
    after = page.locator(".face-then").nth(1)
    expect(after).to_contain_text("after")
    strokes = after.evaluate("(figure) => [...figure.querySelectorAll('.hold')].map((each) => [each.parentNode.dataset.field, getComputedStyle(each).stroke])")
    assert [field for field, stroke in strokes if stroke != "none"] == ["cost"]


def test_a_budget_is_fitted_to_the_cards_and_undone(page: Page, server: Server):
    page.goto(f"{server.url}/{GAME}/rules?at=game:prices")
    page.get_by_role("button", name="Fit to 64 cards").click()
    expect(page.locator(STRIP)).to_contain_text("worths and budgets changed")
    fitted = page.request.get(f"{server.url}/api/games/{GAME}/rules/parts").json()["parts"]["prices"]["budgets"]["plant"]["by_cost"]
    numbers = [float(each) for each in fitted]
    assert numbers == sorted(numbers) and len(numbers) == 7
    page.get_by_role("button", name="Undo").first.click()
    expect(page.locator(".line-chart-line").first).to_be_visible()
    expect(page.get_by_role("button", name="Redo")).to_be_enabled()
    now = page.request.get(f"{server.url}/api/games/{GAME}/rules/parts").json()["parts"]["prices"]["budgets"]["plant"]["by_cost"]
    assert now != fitted


def test_new_card_leads_to_its_first_cell(page: Page):
    """The menu acts once it is gone: what is typed next goes into the card, and not into the menu."""
    page.get_by_role("button", name="New card").click()
    page.get_by_role("menuitem", name="Tool").click()
    expect(page.locator(".grid")).to_be_focused()
    page.keyboard.type("Long Rake")
    page.keyboard.press("Enter")
    expect(page.locator(".pane-facts")).to_contain_text("Long Rake")
    expect(page.get_by_role("menu")).to_have_count(0)


@pytest.mark.begins_elsewhere
def test_where_names_have_a_field_of_another_name_the_keys_find_their_cells(page: Page, server: Server, tmp_path):
    """A game from a table file calls its names Title: the grid begins there, and an address with a column that is not there leads there too."""
    sheet = tmp_path / "harbour.csv"
    sheet.write_text("Title,Crew cost,Might\nLantern Boy,1,1\nTar Barrel,2,3\nOld Nan,3,2\n", encoding="utf-8")
    page.goto(f"{server.url}/shelf")
    page.get_by_label("A table file to start from").set_input_files(sheet)
    page.get_by_role("button", name="Create with 3 cards").click()
    grid = page.locator(".grid")
    expect(grid).to_be_focused()
    expect(grid).to_have_attribute("aria-activedescendant", re.compile("-title$"))
    page.keyboard.press("ArrowDown")
    expect(page.locator(".pane-facts h2")).to_have_text("Tar Barrel")
    page.goto(re.sub(r"/cards.*", "/cards?field=no-such-field", page.url))
    expect(grid).to_have_attribute("aria-activedescendant", re.compile("-title$"))
    for key in ("Control+End", "ArrowDown", "Home", "ArrowRight"):
        page.keyboard.press(key)
    page.keyboard.type("Night Ferry")
    page.keyboard.press("Enter")
    expect(page.locator(".toolbar-low")).to_contain_text("4 of 4 cards")
