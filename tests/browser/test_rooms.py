"""The rooms one by one, with mouse and keys: the daily work outside the main journey."""

from __future__ import annotations

import re

import pytest
from bench.large_game import large_game
from playwright.sync_api import Page, expect

from tests.browser.conftest import GAME, LONG, Server, context_of, in_the_address, played_alone
from tests.browser.test_journey import FACE, STRIP, stand_on

SEED = "21"
"""Deals Fern over Moss a hand with Copper Larch Fern and Morning Mist in it."""


def test_cards_are_created_chosen_filtered_and_removed(page: Page):
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
    expect(page.locator(f"{FACE} [data-field=cost] text")).to_have_text("3")
    expect(page.locator(".pane-facts h2")).to_have_text("Silver Drizzle")
    page.get_by_role("button", name=re.compile("^Under")).click()
    expect(page.locator(".toolbar-low")).to_contain_text("7 of 97 cards")
    page.get_by_label("Query").fill("drizzle")
    page.keyboard.press("Enter")
    expect(page.locator(".toolbar-low")).to_contain_text("1 of 97 cards")
    expect(page).to_have_url(re.compile("q=under.drizzle"))
    page.reload()
    expect(page.locator(".toolbar-low")).to_contain_text("1 of 97 cards")
    page.get_by_role("button", name="Remove", exact=True).click()
    expect(page.locator(".empty")).to_contain_text("No cards match")
    page.get_by_role("button", name=re.compile("^Undo")).click()
    expect(page.locator(".toolbar-low")).to_contain_text("1 of 97 cards")


def test_links_to_cards_focus_them_repeatedly(page: Page):
    for name in ("Ladder Frond", "Hedge Pup", "Copper Larch Fern", "Ladder Frond"):
        stand_on(page, name, "cost")
        page.keyboard.press("ArrowDown")
        in_the_address(page)
    page.keyboard.press("Alt+ArrowUp")
    page.keyboard.press("Home")
    page.locator(STRIP).get_by_role("link").first.click()
    expect(page.locator(".pane-facts h2")).to_have_text("Cistern Maidenhair")
    page.get_by_role("link", name="Balance").click()
    page.locator(f"[data-card=c-{GAME}-rs-088] .map-shape").click()
    expect(page.locator(".pane-facts h2")).to_have_text("The Green Silence")


def test_back_and_forward_restore_the_focus_from_before_a_link_was_followed(page: Page):
    """With the query and the order of then: the address says them."""
    page.get_by_label("Query").fill("bed is Moss")
    page.keyboard.press("Enter")
    expect(page.locator(".toolbar-low")).to_contain_text("24 of 96 cards")
    page.get_by_role("columnheader", name="Cost").click()
    page.locator(".grid").focus()
    page.keyboard.press("ArrowDown")
    in_the_address(page)
    moss = page.locator(".pane-facts h2").inner_text()
    at = page.url
    page.keyboard.press("Control+k")
    page.keyboard.type("Ladder Frond")
    expect(page.locator(".find-item").first).to_contain_text("Ladder Frond")
    page.keyboard.press("Enter")
    expect(page.locator(".pane-facts h2")).to_have_text("Ladder Frond")
    expect(page.locator(".toolbar-low")).to_contain_text("96 of 96 cards")
    in_the_address(page)
    for _ in range(2):
        page.go_back()
        expect(page.locator(".pane-facts h2")).to_have_text(moss)
        expect(page.locator(".toolbar-low")).to_contain_text("24 of 96 cards")
        in_the_address(page)
        assert page.url == at
        page.go_forward()
        expect(page.locator(".pane-facts h2")).to_have_text("Ladder Frond")
        expect(page.locator(".toolbar-low")).to_contain_text("96 of 96 cards")
        in_the_address(page)
    # The wall comes back as it was grouped; a link leads to its card in the look that one has.
    page.get_by_role("button", name="Wall").click()
    page.get_by_label("Across").select_option("rarity")
    expect(page).to_have_url(re.compile("as=wall&across=rarity"))
    page.keyboard.press("Control+k")
    page.keyboard.type("Hedge Pup")
    expect(page.locator(".find-item").first).to_contain_text("Hedge Pup")
    page.keyboard.press("Enter")
    expect(page.locator(".pane-facts h2")).to_have_text("Hedge Pup")
    page.get_by_label("Across").select_option("type")
    page.get_by_role("button", name="Grid").click()
    in_the_address(page)
    page.go_back()
    expect(page.get_by_label("Across")).to_have_value("rarity")
    expect(page.locator(".pane-facts h2")).to_have_text("Ladder Frond")


def test_the_address_follows_a_step_made_while_the_last_one_is_being_written_there(chromium, server: Server):
    context = context_of(chromium)
    page = context.new_page()
    # Timers of the address run when the test says so, not after a quarter of a second.
    page.add_init_script(
        """const plain = window.setTimeout, clear = window.clearTimeout, held = new Map();
        window.setTimeout = (run, ms, ...rest) => ms === 250 ? (held.set(-held.size - 1, run), -held.size) : plain(run, ms, ...rest);
        window.clearTimeout = (id) => { if (id < 0) held.set(id, () => {}); else clear(id); };
        window.runHeld = () => { for (const [id, run] of [...held]) { held.set(id, () => {}); run(); } };
        window.moved = async (key, runs) => {
          // The page is told of an address only after what is done here at once: a step, and that the next time to write comes.
          for (let run = 0; run < runs; run++) {
            window.runHeld();
            const heard = () => document.querySelector("nav a").getAttribute("href").endsWith(location.search);
            for (let wait = 0; run + 1 < runs && wait < 200 && !heard(); wait++) await new Promise((rendered) => plain(rendered, 20));
            // What follows from an address is done after the frame that shows it.
            for (let frame = 0; run + 1 < runs && frame < 3; frame++)
              await new Promise((done) => requestAnimationFrame(() => plain(done, 20)));
          }
          document.querySelector(".grid").dispatchEvent(new KeyboardEvent("keydown", { key, bubbles: true, cancelable: true }));
          for (let turn = 0; turn < 20; turn++) await Promise.resolve();
          window.runHeld();
        };"""
    )
    page.goto(server.url)
    page.wait_for_selector(".pane-face svg.face")
    page.locator(".grid").focus()
    for writes in (1, 2, 3):
        page.keyboard.press("ArrowDown")
        expect(page.locator("[aria-activedescendant*=rs-002]")).to_have_count(1)
        page.evaluate("writes => window.moved('ArrowUp', writes)", writes)
        expect(page.locator("[aria-activedescendant*=rs-001]")).to_have_count(1)
        page.wait_for_function("() => { window.runHeld(); return location.search.includes('card=c-ribbon-season-rs-001'); }")
    context.close()


CHOSEN_AT_ONCE = {
    "balance": (["select[aria-label=Worth] = implied", "button 'By bed'"], {"lens": "implied", "by": "faction"}),
    "decks": (["#deck-choice = 2", "button 'Odds'"], {"show": "odds"}),
    "history": (["button 'Faces'", "select[aria-label=From] = 1"], {"as": "faces"}),
}
"""By room: two things that are chosen one right after the other, and what the address then says."""


@pytest.mark.begins_elsewhere
@pytest.mark.parametrize("room", CHOSEN_AT_ONCE)
def test_what_is_chosen_before_the_last_choice_is_rendered_takes_none_back(page: Page, server: Server, room: str):
    page.goto(f"{server.url}/{GAME}/{room}")
    acts, said = CHOSEN_AT_ONCE[room]
    for act in acts:
        page.locator(act.partition(" = ")[0] if " = " in act else f"button:text-is({act.removeprefix('button ')})").first.wait_for()
    page.evaluate(
        """acts => {
          for (const act of acts) {
            const [where, value] = act.split(" = ");
            if (value === undefined) {
              [...document.querySelectorAll("button")].find((each) => `button '${each.textContent.trim()}'` === act).click();
              continue;
            }
            const select = document.querySelector(where);
            select.value = Number(value) ? select.options[Number(value)].value : value;
            select.dispatchEvent(new Event("change", { bubbles: true }));
          }
        }""",
        acts,
    )
    page.wait_for_function("said => Object.entries(said).every(([key, value]) => new URLSearchParams(location.search).get(key) === value)", arg=said)
    if room == "decks":
        expect(page.locator("#deck-choice")).to_have_value(re.search("deck=([^&]+)", page.url)[1])
        assert page.locator("#deck-choice").evaluate("select => select.selectedIndex") == 2
    if room == "history":
        assert "from=" in page.url


def test_a_deck_is_created_named_filled_by_mouse_and_removed(page: Page):
    page.get_by_role("link", name="Decks").click()
    page.get_by_role("button", name="New", exact=True).click()
    expect(page.locator(".legality")).to_contain_text("0 cards; minimum 36 — add 36")
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
    # A text that is put in whole is no key: missing: the editor.
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
    page = context_of(chromium).new_page()
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
    expect(page.locator(".start-not")).to_have_text("18 cards; minimum 36")
    expect(page.locator(".start-card")).to_contain_text("No matches yet. Matches you leave are kept here.")
    decks.first.focus()
    page.keyboard.press("ArrowDown")
    expect(page.locator(".start-what")).to_have_text("Hooks and Ribbons, 36 cards")
    page.get_by_label("Seed").fill("11")
    page.keyboard.press("Enter")
    page.locator(".table-room").wait_for()
    page.keyboard.press("Escape")
    page.goto(f"{server.url}/{GAME}/playtest")
    decks = page.request.get(f"{server.url}/api/games/{GAME}/decks").json()
    for seed in range(100, 109):
        begun = page.request.post(f"{server.url}/api/games/{GAME}/playtests", data={"deck": decks[0]["id"], "seed": seed})
        assert begun.ok, begun.text()
    page.reload()
    waiting = page.locator(".start-recent")
    expect(waiting.get_by_role("listitem")).to_have_count(8)
    expect(waiting.get_by_role("listitem").first).to_contain_text("seed 108, 0 decisions")
    page.get_by_role("button", name="Show older games").click()
    expect(waiting.get_by_role("listitem")).to_have_count(10)
    expect(page.get_by_role("button", name="Show older games")).to_have_count(0)
    expect(waiting).to_contain_text("seed 11, 0 decisions")
    waiting.get_by_role("button", name="Hooks and Ribbons").click()
    page.locator(".table-room").wait_for()


@pytest.mark.begins_elsewhere
def test_a_game_without_a_deck_links_to_where_one_is_built(page: Page, server: Server):
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
def test_a_table_is_previewed_before_export_and_a_wrong_query_is_reported_there(page: Page, server: Server):
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
