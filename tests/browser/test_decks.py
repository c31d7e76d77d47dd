"""Decks on screen: built with keys, mouse and drag; corrected, listed, with odds, dealt, compared."""

from __future__ import annotations

import re

import httpx
import pytest
from bench.served import Server
from playwright.sync_api import Page, expect

from tests.browser.conftest import GAME, intercept
from tests.browser.test_journey import STRIP, grave_faults

LIST = ".deck-rows"


@pytest.fixture
def decks(blank: Page, server: Server) -> Page:
    blank.goto(f"{server.url}/{GAME}/decks")
    blank.locator(".wall-card svg.face").first.wait_for()
    return blank


def saved(page: Page) -> None:
    expect(page.locator(".saved")).to_have_text("All saved")


def deck_of(server: Server, name: str = "Fern over Moss") -> dict:
    found = httpx.get(f"{server.url}/api/games/{GAME}/decks").json()
    return next(each for each in found if each["name"] == name)


def held(server: Server, code: str, section: str = "") -> int:
    deck = deck_of(server)
    counts = deck["sections"].get(section, {}) if section else deck["cards"]
    return counts.get(f"c-{GAME}-{code.lower()}", 0)


def with_side(server: Server, **more) -> None:
    parts = f"{server.url}/api/games/{GAME}/rules/parts"
    rules = httpx.get(parts).json()["parts"]["formats"][0]
    side = {"id": "side", "name": "Side", "least": 0, "most": 10, "types": [], "counted": True}
    short = {**rules, "id": "short", "name": "Short", "least_cards": 12, "most_cards": 12}
    answer = httpx.put(f"{parts}/formats", json={"value": [{**rules, "sections": [side], **more}, short]})
    assert answer.status_code == 200, answer.text


def test_a_name_typed_anywhere_puts_cards_in_and_takes_them_out(decks: Page, server: Server):
    decks.locator(".wall").focus()
    decks.keyboard.type("2 gla")
    add = decks.get_by_label("Put in a card by its name")
    expect(add).to_be_focused()
    expect(add).to_have_value("2 gla")
    first = decks.get_by_role("listbox", name="Cards").get_by_role("option").first
    expect(first).to_contain_text("Glasshouse Bracken")
    expect(first).to_have_attribute("aria-selected", "true")
    decks.keyboard.press("Enter")
    expect(decks.locator(".legality")).to_contain_text("4 of Glasshouse Bracken; maximum 3")
    expect(add).to_have_value("")
    # The next name can be typed at once; a minus removes a copy, the arrows choose another line.
    decks.keyboard.type("-1 gla")
    decks.keyboard.press("ArrowDown")
    expect(decks.get_by_role("listbox", name="Cards").get_by_role("option", selected=True)).to_contain_text(
        "Hail on Glass"
    )
    decks.keyboard.press("ArrowUp")
    decks.keyboard.press("Enter")
    expect(decks.locator(".legality")).not_to_contain_text("Glasshouse Bracken")
    decks.keyboard.type("nobody has this")
    expect(decks.locator(".quick-add-none")).to_contain_text("No card has")
    decks.keyboard.press("Escape")
    expect(decks.locator(".wall")).to_be_focused()
    saved(decks)
    assert held(server, "RS-006") == 3


def test_a_deck_fix_is_applied_with_one_press_and_undone_as_one_step(decks: Page, server: Server):
    with_side(server, banned=[f"c-{GAME}-rs-002"])
    legality = decks.locator(".legality")
    expect(legality).to_contain_text("Ladder Frond is banned")
    legality.get_by_role("button", name="remove it").click()
    expect(legality).to_contain_text("33 cards; minimum 36 — add 3")
    expect(legality).not_to_contain_text("banned")
    decks.get_by_role("button", name="More to do with decks").click()
    decks.get_by_role("menuitem", name="Fill it up at random").click()
    expect(legality).to_contain_text("legal in Duel")
    for _ in range(2):
        decks.get_by_role("button", name=re.compile("^Undo")).click()
    expect(legality).to_contain_text("Ladder Frond is banned")


def test_cards_are_dragged_in_between_sections_and_out(decks: Page, server: Server):
    with_side(server)
    side = decks.get_by_role("region", name="Side")
    expect(side).to_be_visible()
    decks.locator(".wall-card", has_text="Slow Uncurler").drag_to(side)
    expect(side.locator(".deck-card")).to_have_text("Slow Uncurler")
    main = decks.get_by_role("region", name="Main", exact=True)
    side.locator(".deck-row").drag_to(main.locator(".deck-row").first)
    expect(side.locator(".deck-row")).to_have_count(0)
    expect(main.locator(".deck-row", has_text="Slow Uncurler")).to_be_visible()
    # A move is one step.
    undo = decks.get_by_role("button", name=re.compile("^Undo"))
    undo.click()
    expect(side.locator(".deck-card")).to_have_text("Slow Uncurler")
    expect(main.locator(".deck-row", has_text="Slow Uncurler")).to_have_count(0)
    decks.get_by_role("button", name=re.compile("^Redo")).click()
    main.locator(".deck-row", has_text="Slow Uncurler").drag_to(decks.locator(".wall"))
    expect(main.locator(".deck-row", has_text="Slow Uncurler")).to_have_count(0)
    saved(decks)
    assert held(server, "RS-005") == 0
    # Into a section by name; the section is chosen in a menu of the line.
    decks.get_by_label("Into").select_option(label="Side")
    decks.get_by_label("Put in a card by its name").fill("3 soft rain")
    decks.keyboard.press("Enter")
    expect(decks.locator(".legality")).to_contain_text("6 of Soft Rain; maximum 3")
    decks.locator(".legality").get_by_role("button", name="remove 3").click()
    expect(side.locator(".deck-row")).to_have_count(0)


def test_the_list_is_walked_and_counted_by_keys_alone(decks: Page, server: Server):
    rows = decks.locator(f"{LIST} .deck-card")
    rows.first.focus()
    decks.keyboard.press("ArrowDown")
    expect(rows.nth(1)).to_be_focused()
    for _ in range(3):
        decks.keyboard.press("-")
    # The last copy takes the row with it: the focus is on its neighbour.
    expect(decks.locator(f"{LIST} .deck-row", has_text="Doormat Moss")).to_have_count(0)
    expect(rows.nth(1)).to_be_focused()
    decks.keyboard.press("+")
    expect(decks.locator(f"{LIST} .deck-row").nth(1).locator(".num")).to_have_text("4")
    saved(decks)
    counts = deck_of(server)["cards"].values()
    assert sorted(counts) == [2, 2, 2, *[3] * 8, 4], "one card is out, and its neighbour has one more"
    tabs = decks.get_by_role("tab")
    tabs.first.focus()
    for name in ("Odds", "Opening hands", "Compare", "All decks", "Pool"):
        decks.keyboard.press("ArrowRight")
        expect(decks.get_by_role("tab", name=name)).to_be_focused()
        expect(decks.get_by_role("tab", name=name)).to_have_attribute("aria-selected", "true")


def test_a_key_that_comes_before_the_pools_answer_means_the_card_that_was_asked_for(decks: Page, server: Server):  # fmt: skip
    waiting, found, open_ = [], re.compile("/find$"), []
    intercept(decks, found, lambda route: route.continue_() if open_ else waiting.append(route))
    with decks.expect_request(found):
        decks.get_by_label("Filter the pool").fill("Hedge Pup")
    decks.locator(".wall").focus()
    decks.keyboard.press("+")
    expect(decks.locator(".wall-on")).to_contain_text("Copper Larch Fern, 3 in the deck")
    open_.append(True)
    for route in waiting:
        route.continue_()
    expect(decks.locator(f"{LIST} .deck-row", has_text="Hedge Pup").locator(".num")).to_have_text("1")
    saved(decks)
    assert held(server, "RS-001") == 3


def test_a_press_on_a_card_means_that_card_while_the_pool_is_still_asked(decks: Page, server: Server):
    waiting, found, open_ = [], re.compile("/find$"), []
    intercept(decks, found, lambda route: route.continue_() if open_ else waiting.append(route))
    with decks.expect_request(found):
        decks.get_by_label("Filter the pool").fill("Hedge Pup")
    decks.locator(".wall-card", has_text="Slow Uncurler").get_by_role("button", name="One Slow Uncurler more").click()  # fmt: skip
    expect(decks.locator(f"{LIST} .deck-row", has_text="Slow Uncurler").locator(".num")).to_have_text("1")
    open_.append(True)
    for route in waiting:
        route.continue_()
    expect(decks.locator(".wall-card")).to_have_count(1)
    saved(decks)
    assert held(server, "RS-005") == 1 and "c-ribbon-season-rs-025" not in deck_of(server)["cards"]


def test_the_odds_of_a_card_are_asked_from_its_pane(page: Page, server: Server):
    page.get_by_role("link", name=re.compile("Fern over Moss")).first.click()
    expect(page.locator(".odds-said")).to_contain_text("at least 1 of Copper Larch Fern: 54 %")
    # In a deck without it the question stays, with none of its cards.
    page.locator("#deck-choice").select_option(index=1)
    expect(page.locator(".odds-said")).to_contain_text("at least 1 of Copper Larch Fern: 0 %, never")
    expect(page.get_by_label("Cards", exact=True).locator("option:checked")).to_have_text(
        "Copper Larch Fern (0)"
    )


def test_a_list_is_pasted_previewed_corrected_and_imported(decks: Page, server: Server):
    decks.get_by_role("button", name="More to do with decks").click()
    decks.get_by_role("menuitem", name="Paste or open a decklist").click()
    dialog = decks.get_by_role("dialog")
    text = dialog.get_by_label("Decklist", exact=True)
    expect(text).to_be_focused()
    text.fill("Name: Pasted\n3 Copper Larch Fern\n2x Lader Frond\n4 Moss\n0 Soft Rain")
    look = dialog.locator(".list-look")
    expect(look).to_contain_text("5 cards understood, called Pasted")
    expect(look).to_contain_text("read as Ladder Frond (RS-002)")
    expect(look).to_contain_text("0 is not a count of cards")
    line = look.locator("li", has_text="there is no card Moss")
    line.get_by_role("button").first.click()
    expect(look).to_contain_text("9 cards understood")
    dialog.get_by_role("button", name="Import 9 cards").click()
    expect(dialog).to_have_count(0)
    expect(decks.get_by_label("Name of the deck")).to_have_value("Pasted")
    assert deck_of(server, "Pasted")["size"] == 9
    # Out again, in each form; and into the deck that is there.
    decks.get_by_role("button", name="More to do with decks").click()
    decks.get_by_role("menuitem", name="Copy or save this list").click()
    expect(dialog.get_by_label("Decklist", exact=True)).to_have_value(
        re.compile(r"^Name: Pasted\nRules: Duel\n")
    )
    dialog.get_by_label("As", exact=True).select_option(label="CSV")
    expect(dialog.get_by_label("Decklist", exact=True)).to_have_value(
        re.compile("^section,count,code,name\n")
    )
    with decks.expect_download() as saving:
        dialog.get_by_role("link", name="Save as a file").click()
    assert saving.value.suggested_filename == "Pasted.csv"
    decks.keyboard.press("Escape")
    expect(dialog).to_have_count(0)


def test_odds_answer_with_curves_words_and_copies(decks: Page, server: Server):
    decks.get_by_role("tab", name="Odds").click()
    decks.get_by_label("Cards", exact=True).select_option(label="Copper Larch Fern (3)")
    said = decks.locator(".odds-said")
    expect(said).to_contain_text("By turn 4, at least 1 of Copper Larch Fern: 54 %")
    expect(decks.locator(".odds-copies-needed")).to_contain_text("80 % by turn 4 needs 6 of Copper Larch Fern; there are 3.")  # fmt: skip
    decks.get_by_label("Hand", exact=True).fill("7")
    decks.keyboard.press("Enter")
    expect(said).not_to_contain_text("54 %")
    decks.get_by_role("button", name="Another group").click()
    group = decks.get_by_role("group", name="Group 2")
    group.get_by_label("Query of the group").fill("cost >= 3")
    decks.keyboard.press("Enter")
    expect(said).to_contain_text("at least 1 of Copper Larch Fern and at least 1 of cost >= 3")
    rows = decks.locator(".odds-table tbody tr")
    expect(rows.filter(has_text="all of these")).to_have_count(1)
    decks.get_by_label("Together").select_option(label="any of them")
    expect(rows.filter(has_text="any of these")).to_have_count(1)
    # A turn is chosen in the head of the table; a redraw shows the chance that a hand is kept.
    decks.locator(".odds-table thead").get_by_role("button", name="hand", exact=True).click()
    expect(said).to_contain_text("In the opening hand")
    decks.get_by_label("Redraw").select_option(label="whole hand once, shuffled in first")
    expect(said).to_contain_text("An opening hand is kept in")
    group.get_by_label("Query of the group").fill("hight >= 3")
    decks.keyboard.press("Enter")
    expect(decks.locator(".odds-trouble")).to_contain_text("group 2")
    # The rule of the first group outlives the second.
    group.get_by_role("button", name="Remove group 2").click()
    expect(decks.locator(".odds-trouble")).to_have_count(0)
    expect(decks.get_by_label("Redraw")).to_have_value("whole before")
    # With a new hand each turn there is no turn 0; the pile of 36 lasts for five hands of seven.
    decks.get_by_label("A new hand each turn").check()
    expect(said).to_contain_text("In the first hand, at least 1 of Copper Larch Fern")
    heads = decks.locator(".odds-table thead").get_by_role("button")
    expect(heads.first).to_have_text("1")
    heads.nth(2).click()
    expect(said).to_contain_text("In one hand by turn 3")
    times = rows.filter(has_text="time through the deck").locator("td")
    expect(times).to_have_text(["1", "1", "1", "1", "1", "2", "2", "2", "2", "2"])
    expect(rows.filter(has_text="in the hand of this turn")).to_have_count(1)
    assert grave_faults(decks) == []


def test_hands_are_dealt_by_eights_kept_by_the_rule_and_played(decks: Page, server: Server):
    decks.get_by_role("tab", name="Odds").click()
    decks.get_by_label("Cards", exact=True).select_option(label="Copper Larch Fern (3)")
    decks.get_by_label("Redraw").select_option(label="whole hand once, shuffled in first")
    expect(decks.locator(".odds-said")).to_contain_text("An opening hand is kept in 37 % of games.")
    decks.get_by_role("tab", name="Opening hands").click()
    rails = decks.locator(".hand-rail")
    expect(rails).to_have_count(8)
    expect(rails.first.locator(".hand-card")).to_have_count(5)
    tally = decks.locator(".hands-bar [role=status]")
    expect(tally).to_have_text(re.compile(r"kept \d of 8 \(.*\); exactly 37 %"))
    decks.locator(".hands-list").click()
    decks.keyboard.press("ArrowRight")
    expect(rails.first.locator(".num")).to_have_text("9")
    expect(tally).to_have_text(re.compile(r"kept \d+ of 16"))
    # A hand that is kept is the one that a game of its seed begins with.
    kept = decks.locator(".hand-rail:not(.hand-back)").first
    seed = kept.locator(".num").inner_text()
    faces = kept.locator(".hand-card svg.face")
    expect(faces).to_have_count(5)
    titles = [faces.nth(place).get_attribute("aria-label") for place in range(5)]
    kept.get_by_role("link", name="Play it").click()
    decks.locator(".start-card").wait_for()
    expect(decks.get_by_label("Seed")).to_have_value(seed)
    decks.get_by_label("Seed").press("Enter")
    dealt = decks.locator(".hand svg.face")
    expect(dealt).to_have_count(5)
    assert sorted(dealt.nth(place).get_attribute("aria-label") for place in range(5)) == sorted(titles)


def test_a_deck_is_compared_with_others_and_with_its_past_and_put_back(decks: Page, server: Server):
    decks.locator(".wall").focus()
    decks.keyboard.press("-")
    expect(decks.locator(".legality")).to_contain_text("35 cards")
    decks.get_by_role("tab", name="Compare").click()
    table = decks.locator(".compare-table")
    expect(table).to_contain_text("Hooks and Ribbons")
    expect(decks.locator(".compare-sum")).to_contain_text("cards differ; 0 copies are the same.")
    past = decks.get_by_role("region", name="Past of Fern over Moss")
    expect(past.locator("li")).to_have_count(2)
    past.get_by_role("button", name="Compare").click()
    expect(decks.locator(".compare-sum")).to_have_text("1 card differs; 35 copies are the same.")
    past.get_by_role("button", name="Put this list back").click()
    expect(decks.locator(".legality")).to_contain_text("legal in Duel")
    expect(decks.locator(STRIP)).to_contain_text("back to an earlier list")
    expect(decks.locator(".compare-sum")).to_contain_text("No card differs")


def test_all_decks_show_what_they_share_and_which_cards_nobody_plays(decks: Page, server: Server):
    decks.get_by_role("tab", name="All decks").click()
    expect(decks.locator(".heat tbody tr")).to_have_count(3)
    expect(decks.locator(".across-list li").first).to_contain_text("Lampwick Fern")
    expect(decks.locator(".across-list li").first).to_contain_text("2 of 3 decks, 5 copies")
    decks.get_by_role("button", name=re.compile("^In no deck")).click()
    expect(decks.locator(".across-list li")).to_have_count(63)
    decks.get_by_role("button", name="Hooks and Ribbons").click()
    expect(decks.get_by_label("Name of the deck")).to_have_value("Hooks and Ribbons")
    assert grave_faults(decks) == []


def test_decks_begin_empty_random_doubled_and_follow_other_rules(decks: Page, server: Server):
    with_side(server)
    rules = decks.get_by_label("Deck rules", exact=True)
    rules.select_option(label="Short")
    expect(decks.locator(".legality")).to_contain_text("36 cards; maximum 12")
    more = decks.get_by_role("button", name="More to do with decks")
    more.click()
    decks.get_by_role("menuitem", name="New random legal deck").click()
    expect(decks.locator(".legality")).to_contain_text("legal in Short")
    expect(decks.get_by_label("Name of the deck")).to_have_value("New deck")
    more.click()
    decks.get_by_role("menuitem", name="Duplicate this deck").click()
    expect(decks.get_by_label("Name of the deck")).to_have_value("New deck 2")
    decks.locator(".deck-note summary").click()
    decks.get_by_label("Note on this deck").fill("as drawn")
    decks.get_by_label("Name of the deck").focus()
    expect(decks.locator(".deck-note summary")).to_have_text("as drawn")
    saved(decks)
    decks.reload()
    expect(decks.locator(".deck-note summary")).to_have_text("as drawn")


def test_put_in_a_deck_puts_it_in_and_says_into_which(page: Page, server: Server):
    page.get_by_role("button", name="Put in a deck", exact=True).click()
    expect(page.get_by_role("button", name="4 in Fern over Moss")).to_be_visible()
    page.get_by_role("button", name="Put in another deck").click()
    page.get_by_role("menuitem", name=re.compile("One more in Hooks and Ribbons")).click()
    expect(page.get_by_role("button", name="1 in Hooks and Ribbons")).to_be_visible()
    # What was chosen last is what the button means from now on.
    page.get_by_role("button", name="1 in Hooks and Ribbons").click()
    expect(page.get_by_role("button", name="2 in Hooks and Ribbons")).to_be_visible()
    expect(page.locator(".pane-facts")).to_contain_text(re.compile(r"Fern over Moss \(by turn 3: \d+ %\)"))


@pytest.mark.begins_elsewhere
def test_conflicting_rules_are_reported_next_to_them(page: Page, server: Server):
    page.goto(f"{server.url}/{GAME}/rules?at=game:formats")
    page.get_by_label("Most cards").fill("999")
    page.keyboard.press("Enter")
    saved(page)
    page.get_by_label("Least cards").fill("600")
    page.keyboard.press("Enter")
    asked = page.get_by_role("alert")
    expect(asked).to_contain_text("no deck could be legal in Duel: at least 600 cards, and with 3 copies of a card at most")  # fmt: skip
    page.get_by_role("button", name="Write it").click()
    expect(page.get_by_role("alert")).to_contain_text("No deck can be legal: at least 600 cards")
    page.locator(".deck-rules-more summary").click()
    written = lambda answer: answer.request.method == "PUT" and answer.url.endswith("/formats")  # noqa: E731
    with page.expect_response(written):
        page.get_by_label("Add to banned cards").fill("Ladder Frond")
        page.keyboard.press("Enter")
    expect(page.locator(".card-picked")).to_have_text("Ladder Frond")
    with page.expect_response(written):
        page.get_by_role("button", name="Another sum").click()
    expect(page.get_by_label("Sum of")).to_be_visible()
    rules = httpx.get(f"{server.url}/api/games/{GAME}/rules/parts").json()["parts"]["formats"][0]
    assert rules["banned"] == [f"c-{GAME}-rs-002"] and len(rules["caps"]) == 1
    assert grave_faults(page) == []
