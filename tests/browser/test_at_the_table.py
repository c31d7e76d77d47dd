"""Table features besides the rules: moves by hand, notes pinned to a moment, named branches, motion and sound."""

from __future__ import annotations

import re

import pytest
from bench.served import Server
from playwright.sync_api import Page, expect

from tests.browser.conftest import GAME, context_of
from tests.browser.test_journey import grave_faults

pytestmark = pytest.mark.begins_elsewhere


def a_match(page: Page, server: Server, **asked) -> dict:
    """A match started over the API; the page shows its table."""
    decks = page.request.get(f"{server.url}/api/games/{GAME}/decks").json()
    deck, rival = (next(each["id"] for each in decks if each["name"] == name) for name in ("Fern over Moss", "Hooks and Ribbons"))
    other = {"rival_deck": rival} if asked.get("card") else {}
    made = page.request.post(f"{server.url}/api/games/{GAME}/playtests", data={"deck": deck, "seed": 7, **other, **asked})
    assert made.ok, made.text()
    return made.json()


def decided(page: Page, server: Server, table: dict, *wanted: str) -> dict:
    """Over the API: options of these kinds, one after the other; the first one of its kind is taken."""
    for do in wanted:
        option = next(each for each in table["options"] if each["do"] == do)
        done = page.request.post(f"{server.url}/api/games/{GAME}/playtests/{table['id']}/decisions", data={**option, "taken": table["taken"]})
        assert done.ok, done.text()
        table = done.json()
    return table


def sit(page: Page, server: Server, table: dict) -> None:
    page.goto(f"{server.url}/{GAME}/playtest?table={table['id']}")
    page.locator(".table-room").wait_for()


def test_cards_and_numbers_are_moved_by_hand_with_keys_and_clicks(page: Page, server: Server):
    table = decided(page, server, a_match(page, server), "done")
    sit(page, server, table)
    log, hand = page.locator(".log-scroll"), page.locator(".hand .table-card")
    expect(hand).to_have_count(table["view"]["hand"].__len__())
    held = hand.count()
    page.keyboard.press("h")
    pane = page.get_by_role("region", name="By hand")
    expect(pane).to_contain_text("Press a card to choose")
    # A press chooses; nothing is played.
    card = page.locator(".hand button.table-face").first
    title = table["titles"][table["view"]["hand"][0]["card"]]
    card.click()
    expect(card).to_have_attribute("aria-pressed", "true")
    expect(hand).to_have_count(held)
    pane.get_by_label("To", exact=True).select_option(label="your glasshouse")
    pane.get_by_role("button", name=f"Move {title}").click()
    expect(hand).to_have_count(held - 1)
    expect(log).to_contain_text(f"By hand: {title} from your hand to your glasshouse")
    # By keys alone, again and again: the place in the pane is kept.
    more = pane.get_by_role("button", name="mildew: more")
    more.press("Enter")
    expect(page.locator(".table-play .damage")).to_contain_text("1")
    expect(more).to_be_focused()
    expect(page.locator(".table-play .damage")).to_contain_text("1")
    root = pane.get_by_role("textbox", name="Root")
    stood = int(root.input_value())
    root.fill(str(stood + 4))
    page.keyboard.press("Enter")
    page.locator(".table-play").hover()
    expect(page.locator(".reading")).to_contain_text("root +4 by hand")
    pane.get_by_role("button", name="Tilt").click()
    expect(page.locator(".table-play.table-tilted")).to_have_count(1)
    pane.get_by_role("button", name="Ribbons: more").first.click()
    expect(log).to_contain_text("By hand: You: 1 ribbon.")
    pane.get_by_label("To", exact=True).select_option(label="your hand")
    pane.get_by_role("button", name="Move the top card").click()
    expect(hand).to_have_count(held)
    # The pile is looked through as long as one goes on by hand; a card of it is taken.
    pane.get_by_role("button", name="Look through", exact=True).click()
    looked = page.get_by_role("region", name="Cards you look at")
    expect(looked.locator(".table-card")).not_to_have_count(0)
    before = looked.locator(".table-card").count()
    looked.locator("button.table-face").last.click()
    pane.get_by_role("button", name=re.compile("^Move (?!the top)")).click()
    expect(looked.locator(".table-card")).to_have_count(before - 1)
    expect(hand).to_have_count(held + 1)
    assert not grave_faults(page)
    # One step back undoes the last of it; Escape goes back to the rules, where a press plays.
    page.keyboard.press("u")
    expect(hand).to_have_count(held)
    page.locator(".log h2").click()
    page.keyboard.press("Escape")
    expect(pane).to_have_count(0)
    page.reload()
    expect(page.locator(".table-play .damage")).to_contain_text("1")
    page.locator(".table-play").hover()
    expect(page.locator(".reading")).to_contain_text("root +4 by hand")


def test_a_card_without_behaviour_is_reported_and_resolved_by_hand(page: Page, server: Server):
    cards = page.request.get(f"{server.url}/api/games/{GAME}/cards").json()["cards"]
    card = next(each for each in cards if each["code"] == "RS-001")
    own = {"value": "Take the judge out for tea.", "base": 10**6}
    done = page.request.put(f"{server.url}/api/games/{GAME}/cards/{card['id']}/fields/printed", data=own, headers={"x-page": "t"})
    assert done.ok, done.text()
    table = decided(page, server, a_match(page, server, card=card["id"], seed=None), "done")
    sit(page, server, table)
    for _ in range(12):
        tile = page.locator(".hand .table-card:not(.table-still) button.table-face", has_text=card["title"])
        if tile.count():
            break
        taken = page.locator(".table-room").get_attribute("data-taken")
        page.keyboard.press("n")
        expect(page.locator(".table-room")).not_to_have_attribute("data-taken", taken or "")
    tile.first.click()
    expect(page.locator(".asked")).to_contain_text(f"{card['title']}: not all of it plays by itself. Do the rest by hand.")
    expect(page.get_by_role("button", name="By hand H")).to_have_class(re.compile("mat-button-needs"))
    page.keyboard.press("n")
    expect(page.locator(".asked")).not_to_contain_text("not all of it plays")


def test_moves_by_hand_are_refused_in_the_middle_of_an_effect(page: Page, server: Server):
    sit(page, server, a_match(page, server))
    expect(page.locator(".asked")).to_contain_text("Keep this hand")
    page.keyboard.press("h")
    pane = page.get_by_role("region", name="By hand")
    expect(pane).to_contain_text("First finish what is asked for.")
    expect(pane.get_by_role("button", name="Look through")).to_be_disabled()
    # The question is still there to be answered.
    page.get_by_role("button", name="Done", exact=True).click()
    expect(pane.get_by_role("button", name="Look through")).to_be_enabled()


def test_a_note_is_pinned_at_the_table_and_found_from_the_card(page: Page, server: Server):
    table = decided(page, server, a_match(page, server), "done", "end turn")
    sit(page, server, table)
    page.locator(".hand .table-card").first.hover()
    reading = page.get_by_role("region", name="The card you point at")
    reading.get_by_role("button", name="Note on this card, here").click()
    page.keyboard.type("Sat there all game.")
    page.keyboard.press("n")
    expect(page.locator(".table-room")).to_have_attribute("data-taken", str(table["taken"]))
    page.keyboard.press("Enter")
    expect(reading.locator(".pinned-note")).to_contain_text("Sat there all game.n")
    expect(page.locator(".log-note")).to_have_count(1)
    page.keyboard.press("Escape")
    moved = decided(page, server, table, "end turn" if any(each["do"] == "end turn" for each in table["options"]) else table["options"][-1]["do"])
    assert moved["taken"] > table["taken"]
    reading.get_by_role("link", name="Open in Cards").click()
    notes = page.get_by_role("region", name="Notes")
    expect(notes).to_contain_text("Sat there all game.n")
    notes.get_by_role("link", name=re.compile("^At the table, day")).click()
    # The very moment, though the match has gone on since.
    expect(page.locator(".asked")).to_contain_text(f"As it stood after {table['taken']} decisions.")
    expect(page.get_by_role("button", name="Back to now")).to_be_visible()
    page.goto(f"{server.url}/{GAME}/cards")
    page.wait_for_selector(".pane-face svg.face")
    page.keyboard.press("Control+f")
    page.keyboard.type("table notes")
    page.keyboard.press("Enter")
    expect(page.locator(".toolbar-low")).to_contain_text("1 of 96 cards")


def test_a_branch_is_named_and_found_by_its_name(page: Page, server: Server):
    table = decided(page, server, a_match(page, server), "done", "end turn")
    sit(page, server, table)
    page.keyboard.press("b")
    page.get_by_role("button", name="Play on from here").click()
    page.get_by_label("Name of what goes on from here").fill("had I waited")
    page.keyboard.press("Enter")
    expect(page.locator(".asked")).not_to_contain_text("As it stood")
    page.get_by_role("button", name="Leave").click()
    expect(page.locator(".start-recent")).to_contain_text("had I waited")


def test_a_thread_ties_each_answer_and_the_target_under_the_pointer(page: Page, server: Server):
    table = a_match(page, server)
    for _ in range(120):
        if table["asked"] in ("over", "answer"):
            break
        wanted = next((do for do in ("play", "clash", "done", "end turn", "yes", "option", "pick", "discard") if any(each["do"] == do for each in table["options"])), "")
        table = decided(page, server, table, wanted)
    assert table["asked"] == "answer"
    sit(page, server, table)
    expect(page.locator(".threads")).to_have_count(0)
    page.locator(".table-play:not(.table-still) button.table-face").first.click()
    expect(page.locator(".threads .thread")).to_have_count(1)
    page.keyboard.press("u")
    expect(page.locator(".threads")).to_have_count(0)


@pytest.mark.parametrize("motion", ["no-preference", "reduce"])
def test_what_moves_sounds_and_stays_in_sight_is_set_and_remembered(chromium, server: Server, motion):
    context = context_of(chromium, reduced_motion=motion)
    page = context.new_page()
    # Every tone and every walk is counted.
    page.add_init_script("""window.tones = 0; window.walks = 0;
      const begin = OscillatorNode.prototype.start; OscillatorNode.prototype.start = function (...a) { window.tones++; return begin.apply(this, a); };
      const walk = Element.prototype.animate; Element.prototype.animate = function (...a) { if (this.dataset.instance) window.walks++; return walk.apply(this, a); };""")
    table = decided(page, server, a_match(page, server), "done")
    sit(page, server, table)

    def moves(by) -> None:
        taken = page.locator(".table-room").get_attribute("data-taken")
        by()
        expect(page.locator(".table-room")).not_to_have_attribute("data-taken", taken or "")

    def plays() -> None:
        moves(lambda: page.locator(".hand .table-card:not(.table-still) button.table-face").first.click())

    page.get_by_role("button", name="Movement, sound, hand").click()
    page.get_by_label("A played card stays in sight").select_option("-1")
    page.keyboard.press("Escape")
    expect(page.locator(".lively-open")).to_have_count(0)
    plays()
    expect(page.locator(".just-played li")).to_have_count(1)
    assert page.evaluate("window.tones") == 0
    assert (page.evaluate("window.walks") > 0) == (motion == "no-preference")
    moves(lambda: page.keyboard.press("u"))
    expect(page.locator(".just-played")).to_have_count(0)
    page.get_by_role("button", name="Movement, sound, hand").click()
    page.get_by_label("it sounds", exact=True).check()
    page.get_by_label("it moves", exact=True).uncheck()
    page.get_by_label("A played card stays in sight").select_option("0")
    page.keyboard.press("Escape")
    walked = page.evaluate("window.walks")
    plays()
    assert page.evaluate("window.tones") > 0 and page.evaluate("window.walks") == walked
    expect(page.locator(".just-played")).to_have_count(0)
    page.reload()
    page.get_by_role("button", name="Movement, sound, hand").click()
    expect(page.get_by_label("it sounds", exact=True)).to_be_checked()
    expect(page.get_by_label("it moves", exact=True)).not_to_be_checked()
    page.get_by_label("Cards played: it sounds").uncheck()
    page.get_by_label("Totals that change: it sounds").uncheck()
    page.get_by_label("Cards drawn: it sounds").uncheck()
    page.get_by_label("Damage, and cards that go: it sounds").uncheck()
    page.get_by_label("Cards moved or given up: it sounds").uncheck()
    page.keyboard.press("Escape")
    moves(lambda: page.keyboard.press("u"))
    heard = page.evaluate("window.tones")
    plays()
    assert page.evaluate("window.tones") == heard
    context.close()


def test_the_hand_is_laid_as_set_and_found_by_its_turned_outlines(page: Page, server: Server):
    """The topmost card whose turned outline holds the pointer is the one that is read; what it shows then moves no outline."""
    table = decided(page, server, a_match(page, server), "done")
    sit(page, server, table)
    tiles = page.locator(".hand .table-card")
    flat = [box["x"] for box in (tiles.nth(place).bounding_box() for place in range(tiles.count())) if box]
    page.get_by_role("button", name="Movement, sound, hand").click()
    for name, value in (("Turn", "12"), ("Overlap", "0.5"), ("Rise", "20")):
        page.get_by_label(name).fill(value)
    page.get_by_label("Paint the outlines").check()
    page.keyboard.press("Escape")
    laid = page.evaluate("[...document.querySelectorAll('.hand .table-card')].map((card) => [parseFloat(card.style.left), parseFloat(card.style.top), card.style.rotate])")
    count = len(laid)
    assert count == len(flat) and [each[2] for each in laid][:: count - 1] == ["-12deg", "12deg"]
    assert all(abs(after[0] - before[0] - 75) < 0.01 for before, after in zip(laid, laid[1:], strict=False))
    assert laid[0][1] == laid[-1][1] == 20 and min(each[1] for each in laid) < 6
    # By the geometry alone: which outline is the topmost under a point, told apart from where the browser finds it.
    rail = page.locator(".hand").bounding_box()
    assert rail is not None

    def topmost(x: float, y: float) -> int:
        import math

        for place in reversed(range(count)):
            left, top, turn = laid[place]
            angle = -math.radians(float(turn.removesuffix("deg")))
            dx, dy = x - rail["x"] - left - 75, y - rail["y"] - top - 104
            across, down = dx * math.cos(angle) - dy * math.sin(angle), dx * math.sin(angle) + dy * math.cos(angle)
            if abs(across) < 74 and abs(down) < 103:
                return place
            if abs(across) < 76 and abs(down) < 105:
                return -2
        return -1

    asked = 0
    for step in range(60):
        x, y = rail["x"] + (step * 53) % (rail["width"] - 4), rail["y"] + 8 + (step * 37) % 200
        wanted = topmost(x, y)
        if wanted == -2:
            continue
        page.mouse.move(x, y)
        found = page.evaluate("([x, y]) => [...document.querySelectorAll('.hand .table-card')].indexOf(document.elementFromPoint(x, y)?.closest('.hand .table-card'))", [x, y])
        assert found == wanted, (x, y)
        asked += wanted >= 0
    assert asked > 15
    page.get_by_role("button", name="Movement, sound, hand").click()
    page.get_by_role("button", name="Flat again").click()
    page.keyboard.press("Escape")
    assert [box["x"] for box in (tiles.nth(place).bounding_box() for place in range(count)) if box] == flat
