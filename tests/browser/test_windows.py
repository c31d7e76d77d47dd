"""All window sizes: no page scrolls sideways, panes become drawers, tabs a menu; the main content is visible at 1280; everything has an accessible name."""

from __future__ import annotations

import gzip
import re
from pathlib import Path

import pytest
from playwright.sync_api import Page, Route, expect

from tests.browser.conftest import GAME, LONG, LateAnswers, Server, at_rest
from tests.browser.test_journey import STRIP

SIZES = {"200 %": (640, 400), "small": (1024, 700), "large": (1920, 1080), "phone": (390, 844)}
ROOMS = {
    "cards": ".grid",
    "cards?as=wall&across=cost&down=bed": ".cards-wall-card",
    "decks": ".wall-card",
    "decks?show=odds": ".odds-table",
    "decks?show=hands": ".hand-card svg.face",
    "decks?show=compare": ".compare-table",
    "decks?show=all": ".across-list li",
    "playtest": ".start-card",
    "rules": ".rules-main",
    "rules?at=game:prices": ".worths-map svg",
    "rules?at=game:phrases": ".phrases-samples li",
    "rules?at=game:symbols": ".own-drop",
    "balance": ".map-pane",
    "balance?by=faction": ".map-multiples",
    "balance?view=lenses&card=c-ribbon-season-rs-006": ".card-balance",
    "balance?view=lenses&of=rows": ".lens-table",
    "balance?view=duels": ".duel-decks",
    "balance?view=health": ".health-sheet",
    "history": ".journal-list",
    "output": ".order",
    "output?part=sheets": ".order",
    "faces": ".faces-middle",
    "files": ".files-main",
}


BOXES = (Path(__file__).parent / "boxes.js").read_text(encoding="utf-8").split("\n", 1)[1]


@pytest.mark.begins_elsewhere
@pytest.mark.parametrize("part", range(2))
def test_in_every_window_no_room_scrolls_sideways_and_no_text_is_clipped_covered_or_over_another(page: Page, server: Server, part: int):
    """Each room is opened in one size of window, and then seen in all of them."""
    found = {}
    for number, (room, there) in enumerate(list(ROOMS.items())[part::2]):
        sizes = list({**SIZES, "plain": (1280, 800)}.items())
        begun = number % len(sizes)
        for place, (size, (width, height)) in enumerate(sizes[begun:] + sizes[:begun]):
            page.set_viewport_size({"width": width, "height": height})
            if place == 0:
                page.goto(f"{server.url}/{GAME}/{room}")
                page.locator(there).first.wait_for()
                page.evaluate("document.fonts.ready.then(() => true)")
            # What is still being laid out may lie anywhere: it is looked at again until it rests.
            for _ in range(40):
                wide = page.evaluate("Math.max(document.documentElement.scrollWidth, document.body.scrollWidth)")
                wrong = page.evaluate(BOXES) + ([f"scrolls sideways: {wide}"] if wide > width else [])
                if not wrong:
                    break
                at_rest(page)
            found |= {(room, size): wrong} if wrong else {}
    assert not found


def test_the_boxes_of_texts_are_checked(page: Page):
    """The look at boxes finds what it is there for."""
    page.evaluate(
        """() => {
          const put = (style, text) => {
            const made = Object.assign(document.createElement("p"), { textContent: text });
            made.setAttribute("style", `position:fixed;z-index:99;margin:0;${style}`);
            document.body.append(made);
          };
          put("left:100px;top:300px;width:40px;overflow:hidden;white-space:nowrap", "clipped as it stands");
          put("left:100px;top:360px", "under what lies there");
          put("left:100px;top:360px;background:red;width:200px;height:20px;z-index:100", "");
        }"""
    )
    wrong = page.evaluate(BOXES)
    assert any(each.startswith("clipped: clipped as it stands") for each in wrong), wrong
    assert any(each.startswith("covered: under what lies there") for each in wrong), wrong


MOST_SCRIPT = 150_000


def test_the_first_look_at_the_cards_needs_little_script(page: Page, server: Server):
    """The first face is painted by what the page begins with, as it would be sent compressed: all else is held back until then."""
    begun = scripts_of(page, server)
    held: list[Route] = []

    def hold(route: Route) -> None:
        if route.request.url.rpartition("/")[2] in begun:
            route.continue_()
        else:
            held.append(route)

    page.route("**/*.js", hold)
    page.goto(f"{server.url}/{GAME}/cards")
    page.locator(".pane-face svg.face").wait_for()
    assert len(begun) >= 1 and sum(begun.values()) <= MOST_SCRIPT, begun
    for route in held:
        route.continue_()
    page.unroute("**/*.js")


def scripts_of(page: Page, server: Server) -> dict[str, int]:
    """The page's own script with all that it imports outright, by name: bytes compressed."""
    waiting = re.findall(r'(?:src|href)="/assets/([^"]+\.js)"', page.request.get(server.url).text())
    sizes: dict[str, int] = {}
    while waiting:
        name = waiting.pop()
        if name not in sizes:
            body = page.request.get(f"{server.url}/assets/{name}").body()
            sizes[name] = len(gzip.compress(body, 6))
            waiting += re.findall(r'(?:from|import)"\./([^"]+\.js)"', body.decode())
    return sizes


def test_in_a_small_window_the_tabs_are_a_menu_and_the_card_a_drawer(page: Page):
    page.set_viewport_size({"width": 640, "height": 400})
    expect(page.get_by_role("link", name="Decks")).to_be_hidden()
    pane = page.locator(".cards-room > .pane")
    expect(pane).to_be_hidden()
    page.get_by_role("button", name="Card", exact=True).click()
    expect(pane).to_be_visible()
    box = pane.bounding_box()
    assert box and box["x"] >= 0 and box["x"] + box["width"] <= 641
    expect(page.locator(".pane-face svg.face")).to_be_visible()
    page.keyboard.press("Escape")
    expect(pane).to_be_hidden()
    page.get_by_role("button", name="Room: Cards").click()
    page.get_by_role("menuitem", name="Decks").click()
    expect(page.locator(".wall-card").first).to_be_visible()
    expect(page.locator(".deck-list")).to_be_hidden()
    page.get_by_role("button", name="Deck", exact=True).click()
    expect(page.locator(".deck-list")).to_be_visible()


def test_the_drawer_takes_the_focus_and_gives_it_back(page: Page):
    page.set_viewport_size({"width": 640, "height": 600})
    button = page.get_by_role("button", name="Card", exact=True)
    button.focus()
    page.keyboard.press("Enter")
    page.keyboard.press("Tab")
    assert page.evaluate("document.querySelector('[data-pane]').contains(document.activeElement)")
    page.keyboard.press("Escape")
    expect(page.locator(".cards-room > .pane")).to_be_hidden()
    expect(button).to_be_focused()


def test_an_effect_is_edited_from_the_grid_of_a_small_window(page: Page):
    page.set_viewport_size({"width": 640, "height": 600})
    page.locator("#cell-c-ribbon-season-rs-002-name").click()
    for _ in range(20):
        if (page.locator(".grid").get_attribute("aria-activedescendant") or "").endswith("-effect"):
            break
        page.keyboard.press("ArrowRight")
    page.keyboard.press("Enter")
    page.keyboard.type("zz")
    expect(page.locator("#editor-effect[contenteditable=true]")).to_contain_text("zz")
    expect(page.locator(".cards-room > .pane")).to_be_visible()


WALK_AND_STEP_IN = """async () => {
  const press = (key) => document.querySelector(".grid").dispatchEvent(new KeyboardEvent("keydown", { key, bubbles: true, cancelable: true }));
  press("ArrowDown");
  await null;
  press("Enter");
  return document.activeElement.getAttribute("aria-label");
}"""


def test_who_steps_into_the_pane_meets_the_card_of_the_grid(page: Page):
    """The pane walks a frame behind the grid; Enter right after an arrow once typed into the card before."""
    page.locator("#cell-c-ribbon-season-rs-001-effect").click()
    page.locator("#editor-effect").wait_for()
    assert page.evaluate(WALK_AND_STEP_IN) == "Effect of Ladder Frond, one ability a line"


def test_keys_typed_while_the_effect_editor_is_on_its_way_are_kept(page: Page):
    """Stepped in after the editor was asked for and before it came: one editor, and every key is in it."""
    held: list[Route] = []
    page.route("**/effectView*.js", lambda route: held.append(route))
    page.reload()
    with page.expect_request("**/effectView*.js"):
        page.locator("#cell-c-ribbon-season-rs-002-effect").click()
    expect(page.locator("#editor-effect")).to_have_attribute(
        "aria-label", "Effect of Ladder Frond, one ability a line"
    )
    page.keyboard.type("zy")
    assert held
    for route in held:
        route.continue_()
    page.keyboard.type("xw")
    expect(page.locator("#editor-effect[contenteditable=true]")).to_contain_text("draw 1zyxw")


@pytest.mark.parametrize("field", ["effect", "printed"])
def test_the_key_that_opens_a_long_text_is_its_first(page: Page, field: str):
    page.locator(f"#cell-c-ribbon-season-rs-002-{field}").click()
    page.keyboard.type("qqz")
    if field == "printed":
        expect(page.locator("#editor-printed")).to_have_value(re.compile("qqz$"))
    else:
        expect(page.locator("#editor-effect[contenteditable=true]")).to_have_text(re.compile("draw 1qqz$"))
    expect(page.locator(f"#editor-{field}")).to_be_focused()
    page.keyboard.press("Escape")


def test_the_keys_that_open_an_effect_are_all_taken_on_a_slow_machine(page: Page):
    """The editor is there already, and has not been stepped into: each key is in it, in its order."""
    slow = page.context.new_cdp_session(page)
    slow.send("Emulation.setCPUThrottlingRate", {"rate": 8})
    for number in (2, 4):
        name = page.locator(f"#cell-c-ribbon-season-rs-{number:03}-name").inner_text()
        page.locator(f"#cell-c-ribbon-season-rs-{number:03}-effect").click()
        editor = page.locator(f"#editor-effect[contenteditable=true][aria-label^='Effect of {name}']")
        expect(editor).to_be_visible()
        page.keyboard.type("qqz")
        expect(editor).to_have_text(re.compile(r"qqz\s*$"))
        page.keyboard.press("Escape")
    slow.send("Emulation.setCPUThrottlingRate", {"rate": 1})
    slow.detach()


def test_an_effect_is_stepped_into_with_no_list_in_the_way_of_its_keys(page: Page):
    """Opened by Enter, nothing was typed that suggestions could go on from: arrows and Escape are the editor's own."""
    for number in (2, 4):
        name = page.locator(f"#cell-c-ribbon-season-rs-{number:03}-name").inner_text()
        page.locator(f"#cell-c-ribbon-season-rs-{number:03}-effect").click()
        editor = page.locator(f"#editor-effect[contenteditable=true][aria-label^='Effect of {name}']")
        expect(editor).to_be_visible()
        page.keyboard.press("Enter")
        expect(editor).to_be_focused()
        at_rest(page)
        expect(page.locator(".cm-tooltip-autocomplete")).to_have_count(0)
        page.keyboard.press("Escape")
        expect(editor).not_to_be_focused()


@pytest.mark.begins_elsewhere
@pytest.mark.parametrize("game", [GAME, "potting-shed", "crowded-bed"])
def test_verdict_and_effect_are_seen_at_1280(page: Page, server: Server, game: str):
    page.goto(f"{server.url}/{game}/cards")
    page.locator(".pane-face svg.face").wait_for()
    grid = page.locator(".grid").bounding_box()
    assert grid
    for name in ("Verdict", "Effect"):
        head = page.get_by_role("columnheader", name=name, exact=True)
        if name == "Effect" and head.count() == 0:
            assert game == "crowded-bed", "only a game without effects has no such column"
            continue
        box = head.bounding_box()
        assert box and box["x"] + min(box["width"], 90) <= grid["x"] + grid["width"], (name, box, grid)
    page.get_by_role("button", name="Under", exact=False).first.click()
    cells = page.locator("[id^=cell-][id$=-verdict]")
    cells.first.wait_for()
    assert (
        cells.evaluate_all(
            "all => all.filter(each => each.scrollWidth > each.clientWidth).map(each => each.textContent)"
        )
        == []
    ), "a verdict is cut off"


def test_the_report_of_an_edit_is_under_its_name(page: Page, server: Server):
    page.locator("#cell-c-ribbon-season-rs-002-height").click()
    page.keyboard.type("9")
    page.keyboard.press("Enter")
    expect(page.get_by_text("All saved")).to_be_visible()
    page.goto(f"{server.url}/{GAME}/history")
    said = page.locator(".journal-said").first
    expect(said).to_contain_text("9")
    name = page.locator(".journal-step > span").first.bounding_box()
    box = said.bounding_box()
    assert name and box and box["x"] == name["x"] and box["width"] > 150


def find(page: Page, text: str) -> None:
    page.keyboard.press("Control+k")
    page.keyboard.type(text)
    expect(page.locator(".find-input")).to_have_value(text)


def test_everything_is_found_by_its_name(page: Page):
    find(page, "mark this")
    page.keyboard.press("Enter")
    expect(page.get_by_label("Name of a mark for now")).to_be_focused()
    find(page, "rarity field")
    expect(page.locator(".find-item").first).to_contain_text("Rarity")
    page.keyboard.press("Enter")
    expect(page.locator(".rules-title").first).to_be_visible()
    find(page, "all keys")
    expect(page.locator(".find-item kbd").first).to_have_text("?")
    page.keyboard.press("Enter")
    expect(page.get_by_role("dialog", name="Keys")).to_contain_text("toggles yes/no")
    page.keyboard.press("Escape")
    find(page, "keyword mildew")
    page.keyboard.press("Enter")
    expect(page.get_by_label("Keyword 1", exact=True)).to_have_value("mildew")
    find(page, "new card: weather")
    page.keyboard.press("Enter")
    expect(page.locator(STRIP)).to_contain_text("added")
    expect(page.locator(".toolbar-low")).to_contain_text(re.compile("97 of 97"))


def test_names_are_found_whatever_their_case_and_their_accents(page: Page, server: Server):
    named = page.request.put(f"{server.url}/api/games/{GAME}/cards/c-{GAME}-rs-002/fields/name", data={"value": "Échelle d’Ålö", "base": 10**6}, headers={"x-page": "t"})
    assert named.ok, named.text()
    expect(page.locator("[id='cell-c-ribbon-season-rs-002-name']")).to_have_text("Échelle d’Ålö")
    for typed in ("echelle", "ÅLÖ", "alo eche"):
        page.keyboard.press("Control+k")
        page.keyboard.type(typed)
        expect(page.locator(".find-item").first).to_contain_text("Échelle d’Ålö")
        page.keyboard.press("Escape")
        expect(page.locator(".find-input")).to_have_count(0)


def test_keys_typed_before_the_finder_is_there_are_not_lost(page: Page, server: Server):
    finder = LateAnswers(page, re.compile("/assets/Find-"))
    page.reload()
    page.locator(".pane-face svg.face").wait_for()
    page.keyboard.press("Control+k")
    page.keyboard.type("Ladder")
    expect(page.locator(".find-input")).to_have_count(0)
    finder.come()
    expect(page.locator(".find-input")).to_have_value("Ladder", timeout=LONG)
    expect(page.locator(".find-item").first).to_contain_text("Ladder Frond")


def test_keys_typed_before_the_editor_is_there_are_not_lost(page: Page):
    code = LateAnswers(page, re.compile("/assets/effectView-"))
    page.reload()
    page.locator(".effect-still").wait_for()
    page.locator(".effect-still").focus()
    page.keyboard.type("upon play this: draw 2")
    code.come()
    editor = page.locator("#editor-effect[contenteditable=true]")
    expect(editor).to_contain_text("upon play this: draw 2", timeout=LONG)
    expect(editor).to_be_focused()


def test_a_room_that_cannot_be_fetched_just_now_opens_late_rather_than_never(page: Page):
    """The page's parts are loaded when first wanted; a server being started again may not lose one."""
    refused: list[str] = []

    def refuse_twice(route):
        if len(refused) < 2:
            refused.append(route.request.url)
            route.abort("connectionrefused")
        else:
            route.continue_()

    page.route(re.compile("/assets/DecksPage-.*js"), refuse_twice)
    page.get_by_role("link", name="Decks", exact=True).click()
    expect(page.locator(".wall-card").first).to_be_visible(timeout=LONG)
    assert len(refused) == 2
