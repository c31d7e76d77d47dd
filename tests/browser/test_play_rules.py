"""Rules of play entered on screen and played: a game from another world, first with clicks, then to its end with the keyboard only."""

from __future__ import annotations

import re

import pytest
from bench.served import Server
from playwright.sync_api import Page, Route, expect

from tests.browser.conftest import GAME, LONG, intercept
from tests.browser.test_journey import grave_faults
from tests.browser.test_rules import saved

pytestmark = pytest.mark.begins_elsewhere


def lay(page: Page, part: str) -> None:
    page.get_by_role("region", name="How it is played").get_by_role("button", name=part, exact=True).click()
    expect(page.get_by_role("heading", name=part, level=2)).to_be_visible()


def add(page: Page, phase: str, what: str) -> None:
    """By keys: a menu that opens, and nothing is added by walking through it."""
    page.get_by_role("button", name=f"Add to {phase}").press("Enter")
    item = page.get_by_role("menuitem", name=what, exact=True)
    while not item.evaluate("item => item === document.activeElement"):
        page.keyboard.press("ArrowDown")
    page.keyboard.press("Enter")


def at_the_table(page: Page) -> int:
    return int(page.locator(".table-room").get_attribute("data-taken") or 0)


def test_a_game_of_another_world_is_laid_out_and_played_to_its_end_by_keys(page: Page, server: Server):
    made = page.request.post(f"{server.url}/api/shelf", data={"name": "Harbour Rows", "shape": "duel"}, headers={"x-page": "t"})
    assert made.ok, made.text()
    game = made.json()["id"]
    done = page.request.put(f"{server.url}/api/games/{game}/rules/parts/play", data={"value": None}, headers={"x-page": "t"})
    assert done.ok, done.text()
    page.goto(f"{server.url}/{game}/rules?at=play:phases")
    page.get_by_role("button", name="Start with rules for two").click()
    read = page.get_by_role("complementary", name="Rules text")
    made_of_it = page.get_by_role("region", name="How it will play")
    expect(read).to_contain_text("Players take turns; a turn goes through these steps.")
    # The strip: a phase added, named, filled, moved.
    page.get_by_role("textbox", name="A new phase").fill("Tide")
    page.keyboard.press("Enter")
    tide = page.get_by_role("listitem", name="Tide")
    add(page, "Tide", "gain")
    tide.get_by_label("Amount gained").fill("2")
    page.keyboard.press("Enter")
    expect(read).to_contain_text("5. Tide. Gain 2 supply.")
    for _ in range(3):
        tide.get_by_role("button", name="Tide earlier").click()
    expect(read).to_contain_text("2. Tide. Gain 2 supply.")
    expect(made_of_it).to_contain_text("Tide: gain 2 supply →")
    # Without a phase in which cards are played no match starts: the page shows where, with the fix.
    page.get_by_role("listitem", name="Play", exact=True).get_by_role("button", name="No play in Play").click()
    stops = page.get_by_role("list", name="Problems")
    expect(stops).to_contain_text("Can't be played: no phase lets cards be played")
    expect(made_of_it.get_by_role("button", name="Try it")).to_be_disabled()
    add(page, "Play", "play cards")
    expect(made_of_it.get_by_role("button", name="Try it")).to_be_enabled()
    # A new zone; its contents; the second seat; the goal.
    lay(page, "Seats and zones")
    page.get_by_role("textbox", name="A zone of your own").fill("Quay")
    page.keyboard.press("Enter")
    page.get_by_role("region", name="Zone: Quay").get_by_label("Whose").select_option("shared")
    page.get_by_label("Add to cards that lie in it when a match begins").fill("Good day")
    page.keyboard.press("Enter")
    expect(read).to_contain_text("Put into the Quay: 1 Good day.")
    lay(page, "Setup")
    page.get_by_label("It may be given back").select_option("none")
    page.get_by_label("Opening hand").fill("4")
    page.keyboard.press("Enter")
    expect(read).to_contain_text("draws an opening hand of 4 cards")
    lay(page, "The clash")
    page.get_by_label("What is left over").select_option("lost")
    expect(page.get_by_role("region", name="For example")).to_contain_text("clashes.")
    lay(page, "How it ends")
    page.get_by_role("listitem", name="Goal 1").get_by_label("How many").fill("8")
    page.keyboard.press("Enter")
    expect(read).to_contain_text("The first player with 8 points wins.")
    page.get_by_role("button", name="How could this end?").click()
    expect(page.get_by_role("region", name="How could this end?")).to_contain_text(re.compile(r"seat 1 wins: \d+ %"), timeout=LONG)
    saved(page)
    assert not grave_faults(page)
    # Undone and done again, like any other edit.
    undo = page.get_by_role("button", name=re.compile("^Undo"))
    undo.click()
    expect(read).not_to_contain_text("The first player with 8 points wins.")
    page.get_by_role("button", name=re.compile("^Redo")).click()
    expect(read).to_contain_text("The first player with 8 points wins.")
    saved(page)
    made_of_it.get_by_role("button", name="Try it").click()
    # From here on by keys alone.
    page.locator(".table-room").wait_for()
    expect(page.locator(".hand .table-card")).to_have_count(4)
    expect(page.locator(".shared-zones")).to_contain_text("Quay 1")
    for _ in range(600):
        if page.locator(".match-summary").count():
            break
        taken = at_the_table(page)
        on_a_card = page.evaluate("document.activeElement.closest('.table-card:not(.table-still)') !== null")
        asked = page.locator(".asked").inner_text()
        page.keyboard.press("n" if not on_a_card or "Answer" in asked else "Enter")
        expect(page.locator(".table-room")).not_to_have_attribute("data-taken", str(taken))
        assert page.evaluate("document.activeElement !== document.body"), asked
    expect(page.locator(".match-summary")).to_contain_text(re.compile("has won|have won|draw"))


def onward(page: Page) -> None:
    """The key that goes on: Enter where a card must be given up or picked, else the end of what is asked; waits for what comes of it."""
    taken = at_the_table(page)
    page.keyboard.press("n" if page.locator(".asked-next").count() else "Enter")
    expect(page.locator(".table-room")).not_to_have_attribute("data-taken", str(taken))


def begin(page: Page, server: Server, **asked) -> None:
    page.goto(f"{server.url}/{GAME}/playtest")
    page.get_by_label("Against").select_option(label="Hooks and Ribbons")
    for label, value in asked.items():
        page.get_by_label(label.replace("_", " ")).select_option(value)
    page.get_by_label("Seed").fill("7")
    page.get_by_role("button", name="Shuffle and draw").click()
    page.locator(".table-room").wait_for()


def test_a_card_is_dragged_onto_the_table_or_goes_back(page: Page, server: Server):
    begin(page, server)
    page.keyboard.press("n")
    expect(page.locator(".table-who")).to_contain_text("your Tending")
    tile = page.locator(".hand .table-card:not(.table-still)").first
    title = tile.locator(".unseen").inner_text().split(",")[0]
    box, mat = tile.bounding_box(), page.locator(".side-mine .in-play-cards").bounding_box()
    assert box and mat
    taken = at_the_table(page)

    def carry() -> None:
        page.mouse.move(box["x"] + 40, box["y"] + 60)
        page.mouse.down()
        page.mouse.move(box["x"] + 90, box["y"] - 20, steps=5)
        page.mouse.move(mat["x"] + 300, mat["y"] + 30, steps=8)

    # It is held where it was grasped: the corner is as far from the pointer as at the press.
    carry()
    carried = page.locator(".carried")
    expect(carried).to_be_visible()
    found = page.evaluate("(() => { const m = new DOMMatrix(getComputedStyle(document.querySelector('.carried')).transform); return [m.e, m.f]; })()")
    assert [round(each) for each in found] == [round(mat["x"] + 300 - 40), round(mat["y"] + 30 - 60)]
    page.keyboard.press("Escape")
    expect(carried).to_have_count(0)
    page.mouse.up()
    # A right press lets it go back, too, and opens no menu.
    carry()
    page.mouse.down(button="right")
    page.mouse.up(button="right")
    expect(carried).to_have_count(0)
    page.mouse.up()
    assert at_the_table(page) == taken
    expect(page.locator(".hand .table-card.hand-gone")).to_have_count(0)
    carry()
    page.mouse.up()
    expect(page.locator(".table-room")).not_to_have_attribute("data-taken", str(taken))
    expect(page.locator(".log-scroll")).to_contain_text(f"You: played {title}.")
    # Let go over its own place, a card is where it was.
    tile = page.locator(".hand .table-card").first
    box = tile.bounding_box()
    taken, held = at_the_table(page), page.locator(".hand .table-card").count()
    page.mouse.move(box["x"] + 30, box["y"] + 30)
    page.mouse.down()
    page.mouse.move(box["x"] + 60, box["y"] + 40, steps=4)
    page.mouse.up()
    expect(page.locator(".hand .table-card")).to_have_count(held)
    assert at_the_table(page) == taken


def test_two_people_at_one_screen_look_away_from_each_other(page: Page, server: Server):
    begin(page, server, Played_by="person")
    names = set()
    for _ in range(10):
        cover = page.locator(".cover")
        if cover.count():
            assert page.locator(".hand").count() == 0 and page.locator(".log-scroll").count() == 0
            page.keyboard.press("n")
            page.locator(".hand").wait_for()
        names.add(page.locator(".hand-count b").inner_text())
        onward(page)
    assert names == {"Fern over Moss", "Hooks and Ribbons"}


def test_two_automatic_players_are_watched_step_by_step(page: Page, server: Server):
    # To four ribbons: a match to fifteen takes much longer.
    play = page.request.get(f"{server.url}/api/games/{GAME}/rules/parts").json()["parts"]["play"]
    play["goals"][0]["number"] = 4
    done = page.request.put(f"{server.url}/api/games/{GAME}/rules/parts/play", data={"value": play}, headers={"x-page": "rules"})
    assert done.ok, done.text()
    begin(page, server, Your_own_seat="plain")
    watching = page.get_by_role("group", name="Watching")
    watching.get_by_role("button", name=re.compile("One step")).click()
    expect(page.locator(".table-room")).to_have_attribute("data-taken", "1")
    page.keyboard.press("n")
    expect(page.locator(".table-room")).to_have_attribute("data-taken", "2")
    watching.get_by_label("Speed").select_option("150")
    watching.get_by_role("button", name="Let them play").click()
    expect(page.locator(".match-summary")).to_be_visible(timeout=LONG)
    expect(page.locator(".log-scroll")).to_contain_text("the match is won.")


def test_a_moment_of_the_log_is_reviewed_and_play_continues_from_it(page: Page, server: Server):
    begin(page, server)
    for _ in range(2):
        onward(page)
    taken = at_the_table(page)
    page.get_by_role("button", name=re.compile("^The table at decision")).nth(1).click()
    expect(page.locator(".asked")).to_contain_text("As it stood after")
    expect(page.locator(".asked-next")).to_have_count(0)
    # It is looked at and not decided on: neither a press nor a key moves the match.
    page.keyboard.press("n")
    page.locator(".hand button.table-face").first.click(force=True)
    expect(page.locator(".asked")).to_contain_text("As it stood after")
    assert at_the_table(page) == taken
    # A moment whose answer comes late is not shown over what was asked for since.
    held: list[Route] = []
    intercept(page, re.compile(r"\?at=\d+$"), lambda route: held.append(route))
    with page.expect_request(re.compile(r"\?at=\d+$")):
        page.keyboard.press("f")
    page.keyboard.press("Escape")
    expect(page.locator(".asked")).not_to_contain_text("As it stood")
    with page.expect_response(re.compile(r"\?at=\d+$")):
        held[0].continue_()
    page.unroute(re.compile(r"\?at=\d+$"))
    expect(page.locator(".asked")).not_to_contain_text("As it stood")
    assert at_the_table(page) == taken
    page.keyboard.press("b")
    expect(page.locator(".asked")).to_contain_text(f"As it stood after {taken - 1} decisions.")
    address = page.url
    page.get_by_role("button", name="Play on from here").click()
    page.keyboard.press("Enter")
    expect(page.locator(".asked")).not_to_contain_text("As it stood")
    assert page.url != address
    page.get_by_label("Lines of the log that say").fill("no line has this")
    expect(page.locator(".log-scroll")).to_have_text("No line says that.")
    page.goto(f"{server.url}/{GAME}/playtest")
    expect(page.locator(".start-recent")).to_contain_text(f"from decision {taken - 1}")


def test_a_key_means_what_is_shown_from_the_very_moment_that_it_is_shown(page: Page, server: Server):
    """Pressed as the page changes and before that is painted, which on a busy machine is long: no key moves a match one does not see."""
    begin(page, server)
    onward(page)
    onward(page)
    taken = at_the_table(page)
    decided: list[str] = []
    page.on("request", lambda request: decided.append(request.url) if request.url.endswith("/decisions") else None)
    page.evaluate(
        """() => { const seen = new MutationObserver(() => {
          if (!document.querySelector(".asked")?.textContent.includes("As it stood after")) return;
          seen.disconnect();
          for (const key of ["n", "b"]) document.body.dispatchEvent(new KeyboardEvent("keydown", {key, bubbles: true}));
        }); seen.observe(document.body, {subtree: true, childList: true, characterData: true}); }"""
    )
    page.keyboard.press("b")
    expect(page.locator(".asked")).to_contain_text(f"As it stood after {taken - 2} decisions.")
    page.keyboard.press("Escape")
    expect(page.locator(".asked")).not_to_contain_text("As it stood")
    assert not decided and at_the_table(page) == taken


def test_keys_pressed_faster_than_responses_are_all_handled_in_order(page: Page, server: Server):
    begin(page, server)
    answers: list[int] = []
    page.on("response", lambda answer: answer.url.endswith("/decisions") and answers.append(answer.status))
    page.keyboard.press("n")
    page.keyboard.press("n")
    expect(page.locator(".table-who")).to_contain_text("day 3")
    # Each request was about the table of its moment; nothing was refused.
    assert answers == [200, 200]
    expect(page.locator(".problems")).to_have_count(0)


def test_a_move_waits_for_a_server_that_is_gone_and_is_taken_once(page: Page, server: Server):
    begin(page, server)
    server.kill()
    page.keyboard.press("n")
    expect(page.locator(".asked")).to_contain_text("Your move is sent when it is back")
    server.start()
    expect(page.locator(".table-room")).not_to_have_attribute("data-taken", "0")
    assert at_the_table(page) == 2, "both hands are kept, once"
    expect(page.locator(".table-who")).to_contain_text("your Tending")


def test_two_pages_that_decide_one_match_are_brought_together(page: Page, server: Server):
    begin(page, server)
    other = page.context.new_page()
    other.goto(page.url)
    other.locator(".hand .table-card").first.wait_for()
    other.keyboard.press("n")
    expect(other.locator(".table-who")).to_contain_text("your Tending")
    page.keyboard.press("n")
    # The first page's key was for an earlier moment: the page says so, and the table shows its current state.
    expect(page.locator(".table-who")).to_contain_text("your Tending")
    assert at_the_table(page) == at_the_table(other) == 2
    expect(page.get_by_text("moved on from another page")).to_be_visible()
    other.close()


def test_from_a_card_to_a_match_with_it_in_hand(page: Page, server: Server):
    page.goto(f"{server.url}/{GAME}/cards?card=c-{GAME}-rs-016")
    page.get_by_role("button", name="In hand").click()
    page.locator(".table-room").wait_for()
    expect(page.locator(".hand")).to_contain_text("The Unfolding")


@pytest.mark.parametrize("size", [(1280, 800), (1024, 700)])
def test_a_full_table_covers_nothing_of_itself(page: Page, server: Server, size):
    """Twelve cards a side and ten in hand: no side, line, hand or log overlaps another, and the page does not scroll."""
    page.set_viewport_size({"width": size[0], "height": size[1]})
    begin(page, server)
    page.locator(".hand .table-card").first.wait_for()
    page.evaluate(
        """() => {
        const more = (list, count) => { while (list.children.length && list.children.length < count) list.append(list.children[0].cloneNode(true)); };
        more(document.querySelector('.hand'), 10);
        const one = document.querySelector('.hand .table-card').cloneNode(true);
        for (const list of document.querySelectorAll('.in-play-cards')) {
          const mine = list.closest('.side-mine');
          const each = one.cloneNode(true);
          each.className = `table-card ${mine ? 'table-play' : 'table-rival'}`;
          list.append(each); more(list, 12);
        }
      }"""
    )
    boxes = page.evaluate(
        """() => ['.side-rival', '.middle-line', '.side-mine .in-play-cards', '.hand-zone', '.table-side'].map((name) => {
        const box = document.querySelector(name).getBoundingClientRect(); return [name, box.left, box.top, box.right, box.bottom]; })"""
    )
    for at, (one, left, top, right, bottom) in enumerate(boxes):
        for other, x, y, to_x, to_y in boxes[at + 1 :]:
            assert right <= x + 1 or to_x <= left + 1 or bottom <= y + 1 or to_y <= top + 1, f"{one} lies over {other}"
    assert page.evaluate("document.documentElement.scrollWidth <= innerWidth")


def test_a_tile_of_the_hand_begins_with_its_picture(page: Page, server: Server):
    begin(page, server)
    tops = page.evaluate(
        """() => [...document.querySelectorAll('.hand-tile')].map((tile) =>
        tile.querySelector('.hand-picture').getBoundingClientRect().top - tile.getBoundingClientRect().top)"""
    )
    assert len(tops) == 5 and all(abs(each) < 1 for each in tops), tops


def test_games_that_are_stopped_at_once_keep_the_focus_and_are_no_error(page: Page, server: Server):
    """By keys: the button that begins them stops them; the answer, a refusal because no game is over yet, comes after that."""
    held: list[Route] = []
    page.goto(f"{server.url}/{GAME}/rules?at=play:goals")
    part = page.get_by_role("region", name="How could this end?")
    begin = part.get_by_role("button", name="How could this end?")
    begin.focus()
    intercept(page, "**/rules/parts/play/ends", lambda route: held.append(route))
    page.keyboard.press("Enter")
    expect(part.get_by_role("button", name="Stop")).to_be_focused()
    with page.expect_response("**/measure/stop/ends"):
        page.keyboard.press("Enter")
    held[0].fulfill(
        status=400, content_type="application/problem+json",
        json={"type": "about:blank", "title": "refused", "status": 400, "detail": "it was stopped", "where": "ends", "mend": "ask again", "nearest": []},
    )  # fmt: skip
    expect(begin).to_be_focused()
    expect(part.get_by_role("alert")).to_have_count(0)


def test_what_a_phase_does_stays_within_the_phase(page: Page, server: Server):
    """Every action with its settings, in the narrowest phase."""
    page.goto(f"{server.url}/{GAME}/rules?at=play:phases")
    dawn = page.get_by_role("listitem", name="Dawn", exact=True)
    dawn.wait_for()
    added = dawn.locator(".phase-doing")
    before = added.count()
    for action in ("refill the hand", "gain", "play cards"):
        dawn.get_by_role("button", name="Add to Dawn…").click()
        page.get_by_role("menuitem", name=action, exact=True).click()
        before += 1
        expect(added).to_have_count(before)
    over = page.evaluate(
        """() => [...document.querySelectorAll(".turn-phase")].flatMap((phase) => {
          const right = phase.getBoundingClientRect().right - 10;
          const inside = phase.querySelectorAll(".phase-doing, .phase-doing select, .phase-doing input, .doing-acts");
          return [...inside].filter((each) => each.getBoundingClientRect().right > right + 0.5).map((each) => each.className);
        })"""
    )
    assert over == []
