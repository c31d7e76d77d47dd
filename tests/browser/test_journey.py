"""Whole journeys with real keys: from a number on a card to a game with it, and to an imported sheet."""

from __future__ import annotations

import re
from collections.abc import Callable
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import GAME, Server, at_rest, context_of, in_the_address, played_alone
from tests.conftest import SAMPLES

FACE = ".pane-face"
STRIP = ".ripples-said"


def stand_on(page: Page, name: str, field: str) -> None:
    """Stands on a card's field: by a click where it is seen, which takes a third of the time, else as `walk_to` does."""
    seen = page.evaluate(
        """([name, field]) => {
          const named = [...document.querySelectorAll("[id^=cell-][id$=-name]")].find((cell) => cell.textContent.trim() === name);
          const cell = named && document.getElementById(named.id.replace(/-name$/, `-${field}`));
          const [box, grid] = [cell?.getBoundingClientRect(), document.querySelector(".grid")?.getBoundingClientRect()];
          const within = box && box.left >= grid.left && box.right <= grid.right && box.top >= grid.top + 40 && box.bottom <= grid.bottom;
          return within ? cell.id : null;
        }""",
        [name, field],
    )
    if seen is None or field == "effect":
        return walk_to(page, name, field)
    page.locator(f"[id='{seen}']").click()
    expect(page.locator(".pane-facts h2")).to_have_text(name)
    expect(page.locator(".grid")).to_have_attribute("aria-activedescendant", seen)


def walk_to(page: Page, name: str, field: str) -> None:
    """Finds a card by Ctrl+K and walks to one of its fields with the arrows."""
    page.keyboard.press("Control+k")
    page.keyboard.type(name)
    expect(page.locator(".find-item").first).to_contain_text(name)
    page.keyboard.press("Enter")
    expect(page.locator(".pane-facts h2")).to_have_text(name)
    # A field that was just added is a column as soon as the page has the new rules.
    page.locator(f".grid-row [role=gridcell][id$='-{field}']").first.wait_for(state="attached")
    page.locator(".grid").focus()
    page.keyboard.press("Home")
    for _ in range(40):
        active = page.locator(".grid").get_attribute("aria-activedescendant") or ""
        if active.endswith(f"-{field}"):
            return
        page.keyboard.press("ArrowRight")
    raise AssertionError(field)


def test_one_card_written_once_all_the_way_through(page: Page, server: Server):
    # 1. The number: the face repaints while typing, Enter commits, undo holds across a restart.
    walk_to(page, "Copper Larch Fern", "height")
    plate = page.locator(f"{FACE} [data-field=height] text")
    page.keyboard.type("4")
    expect(plate).to_have_text("4")
    expect(page.locator(f"{FACE} [data-field=height] .hold")).to_have_css("stroke-width", "0.55px")
    page.keyboard.press("Escape")
    expect(plate).to_have_text("1")
    page.keyboard.type("4")
    page.keyboard.press("Enter")
    expect(page.locator(STRIP)).to_contain_text("Copper Larch Fern")
    expect(page.locator(STRIP)).to_contain_text("height 1 → 4")
    expect(page.locator(STRIP)).to_contain_text("1 face re-laid")
    expect(page.locator(STRIP)).to_contain_text("−0.25 fair → +2.75 over")
    expect(page.locator(STRIP)).to_contain_text("1 deck as before")
    expect(page.locator(".pane-facts h2")).to_have_text("Ladder Frond")
    page.keyboard.press("ArrowUp")
    # A reload comes back to where the address says.
    in_the_address(page)
    server.kill()
    server.start()
    page.reload()
    expect(plate).to_have_text("4")
    page.locator(".grid").focus()
    page.keyboard.press("Control+z")
    expect(plate).to_have_text("1")
    page.keyboard.press("Control+y")
    expect(plate).to_have_text("4")

    # 2. The effect: printed text follows; a mistake is shown where it is, the last good version stays.
    page.locator("#editor-effect").click()
    page.keyboard.type("upon play this: draw 2; gain 1 ribbon")
    label = page.locator(f"{FACE} [data-field=effect]")
    expect(label).to_contain_text("Take 2 cards from your")
    page.keyboard.type("; drw 1")
    expect(page.locator(".problems")).to_contain_text("“drw” can't be here — write draw")
    expect(label).to_contain_text("Take 2 cards from your")
    page.get_by_role("button", name="Write draw").click()
    expect(page.locator(".problems")).to_have_count(0)
    expect(label).to_contain_text("Take 1 card from your")
    page.keyboard.press("Control+Enter")
    expect(page.locator(STRIP)).to_contain_text("effect changed")

    # 3. The price: the lines sum to the verdict.
    rows = page.locator(".ledger tr:not(.ledger-sum) td.num").all_inner_texts()
    total = sum(float(text.replace("−", "-")) for text in rows)
    said = page.locator(".ledger-sum .verdict").inner_text()
    assert len(rows) == 6 and total == float(said.replace("−", "-").split()[0]) == 8.75

    # 5. The deck: + and - from the keyboard; copies and beds are checked at once.
    page.get_by_role("button", name="Put in another deck").click()
    page.get_by_role("menuitem", name="See it in Decks").click()
    expect(page.locator(".wall-on")).to_contain_text("Copper Larch Fern, 3 in the deck")
    page.locator(".wall").focus()
    page.keyboard.press("+")
    expect(page.locator(".legality")).to_contain_text("37 cards; maximum 36")
    expect(page.locator(".legality")).to_contain_text("4 of Copper Larch Fern; maximum 3")
    expect(page.locator(STRIP)).to_contain_text("is now illegal")
    page.keyboard.press("-")
    expect(page.locator(".legality")).to_contain_text("legal in Duel")
    page.get_by_label("Filter the pool").fill("Hedge Pup")
    page.locator(".wall").focus()
    page.keyboard.press("+")
    expect(page.locator(".legality")).to_contain_text("3 beds (Fern, Briar, Moss); maximum 2")
    page.keyboard.press("-")
    expect(page.locator(".legality")).to_contain_text("legal in Duel")

    # 6. The table: the card does what its line says; hand limit; undo; the same seed, the same game.
    played_alone(page, server)
    page.locator(".deck-name").get_by_role("link", name="Play").click()
    page.get_by_label("Seed").fill("9")
    page.keyboard.press("Enter")
    hand = page.locator(".hand .table-card")
    expect(hand).to_have_count(5)
    expect(page.locator(".pile-count").first).to_have_text("31")
    opening = page.locator(".log-scroll p").all_inner_texts()
    card = page.get_by_role("button", name="Copper Larch Fern, play")
    card.first.focus()
    page.keyboard.press("Enter")
    expect(page.locator(".log-scroll")).to_contain_text("Gained 1 ribbon.")
    expect(page.locator(".pile-count").first).to_have_text("28")
    expect(hand).to_have_count(7)
    expect(page.locator(".in-play-cards .table-card")).to_have_count(1)
    page.keyboard.press("d")
    expect(page.locator(".asked")).to_contain_text("over its limit")
    page.locator(".hand .table-face").first.focus()
    page.keyboard.press("Delete")
    expect(page.locator(".pile-count").last).to_have_text("1")
    expect(hand).to_have_count(7)
    for left in (2, 1, 0):
        page.keyboard.press("u")
        expect(page.locator(".log-step")).to_have_count(left)
    assert page.locator(".log-scroll p").all_inner_texts() == opening
    page.get_by_role("button", name="Again").click()
    expect(page.locator(".log-scroll p")).to_have_text(opening)
    page.reload()
    expect(page.locator(".log-scroll p")).to_have_text(opening)

    # 7. The map: the card is an outlier now, named, and opened from its mark.
    page.get_by_role("link", name="Balance").click()
    expect(page.locator(".outlier-list li").first).to_contain_text("Copper Larch Fern")
    page.locator(f"[data-card=c-{GAME}-rs-001] .map-shape").click()
    expect(page.locator(".pane-facts h2")).to_have_text("Copper Larch Fern")


def test_a_sheet_is_previewed_corrected_and_imported_as_one_step(page: Page):
    page.get_by_role("button", name="Import", exact=True).click()
    page.set_input_files(".sheet-dialog input[type=file]", SAMPLES / "draft-sheet.csv")
    expect(page.locator(".said")).to_have_text("52 rows: 47 to import, 1 left out, 4 no cards")
    expect(page.locator(".plan")).to_contain_text("“three” is read as 3")
    page.get_by_role("button", name="Accept Briar").click()
    expect(page.locator(".said")).to_have_text("52 rows: 48 to import, 0 left out, 4 no cards")
    page.get_by_label("Field fed by Tags").select_option("")
    page.get_by_role("button", name="Import 48 cards").click()
    expect(page.locator(".toolbar-low")).to_contain_text("48 of 144 cards")
    expect(page.locator(STRIP)).to_contain_text("48 cards.")
    page.get_by_role("button", name=re.compile("^Effect missing")).click()
    expect(page.locator(".toolbar-low")).to_contain_text("38 of 144 cards")
    page.locator(".grid").focus()
    page.keyboard.press("Control+z")
    expect(page.locator(".empty")).to_contain_text("No cards match")
    page.get_by_role("button", name="Show all 96 cards").click()
    expect(page.locator(".toolbar-low")).to_contain_text("96 of 96 cards")


def test_what_cannot_be_written_stays_where_it_was_typed(page: Page, server: Server):
    stand_on(page, "Ladder Frond", "cost")
    page.keyboard.type("three")
    expect(page.locator(".problems")).to_contain_text("“three” is not a whole number — write 3")
    page.keyboard.press("Enter")
    cell = page.locator("#cell-c-ribbon-season-rs-002-cost")
    expect(page.locator(STRIP)).to_contain_text("Cost: “three” is not a whole number")
    expect(cell).to_have_text("three")
    page.keyboard.press("ArrowUp")
    page.keyboard.press("F2")
    expect(page.locator(".cell-input")).to_have_value("three")
    page.keyboard.type("3")
    page.keyboard.press("Enter")
    expect(cell).to_have_text("3")
    expect(page.locator(STRIP)).to_contain_text("cost 2 → 3")
    # Without a server nothing is lost either; once it is back, it is written.
    server.kill()
    page.keyboard.press("ArrowUp")
    page.keyboard.type("4")
    page.keyboard.press("Enter")
    expect(page.locator(STRIP)).to_contain_text("The server can't be reached")
    expect(cell).to_have_text("4")
    server.start()
    expect(page.locator(STRIP)).to_contain_text("cost 3 → 4")
    page.locator("#editor-effect").click()
    page.keyboard.insert_text("upon play this: draw 1; " * 4200)
    expect(page.locator(".problems")).to_contain_text("is too long — keep to 12 lines")
    page.locator(".grid").focus()
    expect(page.locator("#editor-effect")).to_contain_text("upon play this: draw 1; upon play this")
    page.get_by_role("button", name="Discard my change").click()
    expect(page.locator("#editor-effect")).to_have_text("upon enter this: gain 2 water")


def test_two_pages_on_one_field_lose_nothing(page: Page, chromium, server: Server):
    deaf = context_of(chromium)
    other = deaf.new_page()
    other.route("**/events*", lambda route: route.abort())
    other.goto(server.url)
    other.wait_for_selector(".pane-face svg.face")
    type_in(page, "Ladder Frond", "cost", "8")
    type_in(other, "Ladder Frond", "cost", "9")
    expect(other.locator(STRIP)).to_contain_text("theirs 8, yours 9")
    other.get_by_role("button", name="Write mine").click()
    expect(other.locator(STRIP)).to_contain_text("cost 8 → 9")
    other.unroute("**/events*")
    with other.expect_request("**/events*"):
        other.reload()
    other.wait_for_selector(".pane-face svg.face")
    type_in(other, "Ladder Frond", "root", "5")
    type_in(page, "Ladder Frond", "height", "6")
    page.keyboard.press("ArrowUp")
    for field, value in (("cost", "9"), ("height", "6"), ("root", "5")):
        expect(page.locator(f"{FACE} [data-field={field}] text")).to_have_text(value)
    # Undo belongs to the page: the other's edits stay.
    page.keyboard.press("Control+z")
    expect(page.locator(f"{FACE} [data-field=height] text")).to_have_text("2")
    page.keyboard.press("Control+z")
    expect(page.locator(STRIP)).to_contain_text("changed since by another window")
    expect(page.locator(f"{FACE} [data-field=cost] text")).to_have_text("9")
    deaf.close()


def type_in(page: Page, name: str, field: str, text: str) -> None:
    stand_on(page, name, field)
    page.keyboard.type(text)
    with page.expect_response("**/fields/**"):
        page.keyboard.press("Enter")


def grave_faults(page: Page, rules: list[str] | None = None) -> list[tuple[str, str, str]]:
    """Serious or critical findings of axe on a page, by all its rules or by the given ones: (rule, element, advice)."""
    # Run by the browser itself: the page lets no script in that is not its own.
    if not page.evaluate("'axe' in window"):
        page.evaluate((Path(__file__).parents[2] / "web" / "node_modules" / "axe-core" / "axe.min.js").read_text())
    only = {"runOnly": rules} if rules else {}
    # A face is a picture to a screen reader, and its name has its text.
    run = "(only) => axe.run({exclude: [['svg.face > *']]}, {resultTypes: ['violations'], preload: false, elementRef: false, ...only})"
    found = page.evaluate(run, only)["violations"]
    return [
        (f["id"], f["nodes"][0]["html"][:160], f["nodes"][0]["failureSummary"][:300])
        for f in found
        if f["impact"] in ("serious", "critical")
    ]


def in_both_lights(page: Page) -> list[tuple[str, str, str]]:
    """The same with the light theme, and the colour rules with the dark theme."""
    page.emulate_media(color_scheme="light")
    by_day = grave_faults(page)
    page.emulate_media(color_scheme="dark")
    by_night = grave_faults(page, ["color-contrast"])
    page.emulate_media(color_scheme="light")
    return by_day + by_night


@pytest.mark.parametrize("part", range(2))
def test_every_screen_is_free_of_serious_faults_and_fits_the_window(page: Page, server: Server, part: int):
    deck = page.evaluate("fetch('/api/games/ribbon-season/decks').then(a => a.json()).then(d => d[0].id)")

    def import_open() -> None:
        page.get_by_role("button", name="Import", exact=True).click()
        page.set_input_files(".sheet-dialog input[type=file]", SAMPLES / "draft-sheet.csv")
        page.wait_for_selector(".said")

    def at_the_table() -> None:
        page.get_by_role("button", name="Shuffle and draw").click()
        page.wait_for_selector(".hand .table-face svg")

    def small_dialog(item: str) -> None:
        page.get_by_role("button", name="New card").click()
        page.get_by_role("menuitem", name=item).click()
        page.wait_for_selector(".small-sheet")

    screens = {
        "cards?as=wall&across=cost&down=bed": [lambda: page.wait_for_selector(".cards-wall-card svg")],
        "cards?q=cost+%3E": [lambda: page.get_by_label("Query").focus()],
        "cards": [
            lambda: page.wait_for_selector(".pane-face svg"), lambda: page.get_by_role("button", name="Columns").click(), lambda: small_dialog("Generate"),
            lambda: small_dialog("Variants"), lambda: page.keyboard.press("Control+k"), import_open,
        ],
        "rules?at=type:plant": [lambda: page.get_by_role("button", name="More of Height").click()],
        "rules?at=list:rarities": [lambda: page.get_by_role("button", name="Remove Heirloom").click()],
        "rules?at=set:first": [lambda: None],
        "rules?at=game:symbols": [lambda: page.wait_for_selector(".own-drop")],
        f"decks?deck={deck}": [lambda: page.wait_for_selector(".wall svg")],
        f"playtest?deck={deck}": [lambda: None, at_the_table],
        "output": [lambda: page.wait_for_selector(".page-sheet")],
        "output?part=sheets": [lambda: page.wait_for_selector(".sheet-grid .face")],
        "output?part=pictures": [lambda: page.wait_for_selector(".names .face")],
        "balance": [lambda: page.wait_for_selector(".map-mark")],
        "balance?as=table": [lambda: page.wait_for_selector(".map-table")],
    }  # fmt: skip
    # The cards' screens are as many as those of all other rooms.
    free_of_faults(page, server, {path: acts for path, acts in screens.items() if path.startswith("cards") is (part == 0)})


def free_of_faults(page: Page, server: Server, screens: dict[str, list[Callable[[], object]]]) -> None:
    """Opens each address and does what is said there, one after another, with what was opened before closed: nothing is grave, all fits."""
    for path, acts in screens.items():
        page.goto(f"{server.url}/{GAME}/{path}")
        page.wait_for_selector(".topbar")
        for number, act in enumerate(acts):
            if number:
                page.keyboard.press("Escape")
                expect(page.locator("[role=dialog], [role=menu]")).to_have_count(0)
            at_rest(page)
            act()
            at_rest(page)
            assert not in_both_lights(page), (path, number)
            assert page.evaluate("document.documentElement.scrollWidth <= innerWidth"), (path, number)
