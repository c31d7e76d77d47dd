"""Takes the pictures of the main views from the demo data: `make screenshots`."""

from __future__ import annotations

import sys
import tempfile
from pathlib import Path

from bench.served import Server, chromium
from playwright.sync_api import Page, expect

from dramok.services import open_workspace

HERE = Path(__file__).parent
SHEET = HERE.parents[1] / "tests" / "samples" / "draft-sheet.csv"


def cards(page: Page) -> None:
    page.goto("/ribbon-season/cards?card=c-ribbon-season-rs-062&field=height")
    page.wait_for_selector(".pane-face svg")
    page.locator(".grid").focus()
    page.keyboard.type("6")


def effect(page: Page) -> None:
    page.goto("/ribbon-season/cards?card=c-ribbon-season-rs-039&field=effect")
    page.wait_for_selector(".pane-face svg")
    page.locator("#editor-effect").click()
    page.keyboard.press("Control+End")
    page.keyboard.type("; gain 1 ribon")


def importing(page: Page) -> None:
    page.goto("/ribbon-season/cards")
    page.get_by_role("button", name="Import", exact=True).click()
    page.set_input_files(".sheet-dialog input[type=file]", SHEET)
    page.wait_for_selector(".said")


def decks(page: Page) -> None:
    page.goto("/ribbon-season/decks")
    page.wait_for_selector(".wall svg")
    page.locator("#deck-choice").select_option(index=2)
    page.locator(".wall").focus()
    page.keyboard.press("ArrowRight")


def odds(page: Page) -> None:
    """Two groups of a deck, each alone and both together."""
    page.goto("/ribbon-season/decks?show=odds")
    page.get_by_label("Cards", exact=True).select_option(label="Copper Larch Fern (3)")
    page.get_by_role("button", name="Another group").click()
    page.get_by_label("Query of the group").fill("cost >= 3")
    page.keyboard.press("Enter")
    page.locator(".odds-table").get_by_text("all of these").wait_for()


def playtest(page: Page) -> None:
    page.goto("/ribbon-season/playtest")
    page.get_by_role("radio").nth(1).check()
    page.get_by_label("Seed").fill("21")
    page.keyboard.press("Enter")
    page.wait_for_selector(".hand svg")
    room = page.locator(".table-room")
    for _ in range(14):
        stands, asked = room.get_attribute("data-taken") or "", page.locator(".asked").inner_text()
        card = page.locator(".table-card:not(.table-still) button.table-face")
        if card.count() and not asked.startswith(("Send", "Keep", "Answer")):
            card.first.click()
        else:
            page.keyboard.press("n")
        expect(room).not_to_have_attribute("data-taken", stands)
    page.locator(".table-play button.table-face, .hand button.table-face").first.focus()


def market(page: Page) -> None:
    """A deck-building game with three rivals: the benches with their prices, a card about to be bought, an action of the rules."""
    page.goto("/potting-shed/playtest")
    page.get_by_role("radio", name="4", exact=True).check()
    page.get_by_role("textbox", name="Seed").fill("14")
    page.keyboard.press("Enter")
    page.wait_for_selector(".market-card svg")
    room = page.locator(".table-room")
    for _ in range(60):
        if page.get_by_role("button", name="Feed the beds").count() and page.locator(".market-card.pegged").count():
            break
        taken = room.get_attribute("data-taken") or ""
        card = page.locator(".hand button.table-face:not([aria-disabled=true])")
        card.first.click() if card.count() else page.keyboard.press("n")
        expect(room).not_to_have_attribute("data-taken", taken)
    page.wait_for_timeout(1200)
    page.locator(".market-card button.table-face").nth(1).focus()


def output(page: Page) -> None:
    page.goto("/ribbon-season/output")
    page.get_by_label("Deck", exact=True).select_option(label="Fern over Moss")
    page.get_by_role("button", name="Make the PDF").click()
    page.get_by_role("link", name="Download").first.wait_for()
    page.evaluate(
        """async () => fetch('/api/games/ribbon-season/cards/RS-002/fields/name', {method: 'PUT',
        headers: {'Content-Type': 'application/json', 'X-Page': 'pictures'}, body: JSON.stringify({value: 'Ladder Frond the Tall', base: 1e6})})"""
    )
    page.get_by_text("1 card out of date").wait_for()
    page.get_by_label("Backs", exact=True).select_option("long")
    page.wait_for_timeout(800)


def balance(page: Page) -> None:
    page.goto("/ribbon-season/balance?card=c-ribbon-season-rs-088")
    page.wait_for_selector(".map-mark")
    page.locator(".map-keys").focus()


def lenses(page: Page) -> None:
    """Cards by each lens, one of them with its sweep."""
    page.goto("/ribbon-season/balance?view=lenses&card=c-ribbon-season-rs-024")
    page.get_by_role("button", name="Measure", exact=True).click()
    page.get_by_text("Go on to").wait_for(timeout=120_000)
    page.get_by_role("button", name="Sweep", exact=True).click()
    page.wait_for_selector(".sweep-fair", timeout=60_000)


def health(page: Page) -> None:
    page.goto("/ribbon-season/balance?view=health")
    page.wait_for_selector(".set-curve svg")


def wall(page: Page) -> None:
    page.goto("/ribbon-season/cards?as=wall&across=cost&down=bed&card=c-ribbon-season-rs-007")
    page.wait_for_selector(".cards-wall-card svg.face")


def rules(page: Page) -> None:
    page.goto("/crowded-bed/rules?at=type:planting")
    page.wait_for_selector(".rules-faces svg.face")
    page.get_by_role("button", name="More of Spread").click()


def rules_of_play(page: Page) -> None:
    """The turn as a strip of phases, beside it the rules to read."""
    page.goto("/ribbon-season/rules?at=play:phases")
    page.locator(".rules-read-on").wait_for()


def past(page: Page, as_faces: bool = False) -> None:
    """A mark, and a few edits since."""
    page.goto("/ribbon-season/history")
    page.get_by_label("Name of a mark for now").fill("before playtest 3")
    page.keyboard.press("Enter")
    page.wait_for_selector(".mark-line")
    page.evaluate(EDITS)
    mark = page.evaluate("fetch('/api/games/ribbon-season/marks').then(a => a.json()).then(m => m[0].id)")
    page.goto(f"/ribbon-season/history?from={mark}&as={'faces' if as_faces else 'list'}")
    page.wait_for_selector(".history-pair svg" if as_faces else ".history-card")


EDITS = """(async () => {
  const base = '/api/games/ribbon-season';
  const {cards, seq} = await (await fetch(base + '/cards')).json();
  let at = seq;
  for (const [code, field, value] of [['RS-004', 'height', '4'], ['RS-012', 'root', '7'], ['RS-030', 'cost', '6'], ['RS-058', 'effect', 'upon enter this: draw 2']]) {
    const card = cards.find(each => each.code === code);
    const answer = await fetch(`${base}/cards/${card.id}/fields/${field}`, {method: 'PUT', headers: {'content-type': 'application/json', 'x-page': 'screenshots'}, body: JSON.stringify({value, base: at})});
    at = (await answer.json()).seq ?? at;
  }
})()"""


def history(page: Page) -> None:
    past(page, as_faces=True)


def worths(page: Page) -> None:
    """A worth being typed: the map as it would become, with the marks where they stood."""
    page.goto("/ribbon-season/rules?at=game:prices&row=mildew")
    page.wait_for_selector(".worths-map .map-mark")
    page.get_by_role("gridcell", name="Worth, mildew: 1", exact=True).click()
    page.keyboard.type("2.5")
    page.wait_for_selector("[data-ghosts]")


def files(page: Page) -> None:
    page.goto("/ribbon-season/files")
    page.get_by_role("button", name="Change", exact=True).click()
    page.wait_for_selector(".layout-text")


def faces(page: Page) -> None:
    page.goto("/ribbon-season/faces?plan=f-ribbon-season-plant&place=name&card=c-ribbon-season-rs-016")
    page.wait_for_selector(".stress-face svg.face")


def shelf(page: Page) -> None:
    page.goto("/shelf")
    page.locator(".fan-card").nth(8).wait_for()


VIEWS = (
    shelf,
    cards,
    faces,
    rules_of_play,
    wall,
    rules,
    worths,
    effect,
    importing,
    files,
    decks,
    odds,
    playtest,
    market,
    balance,
    lenses,
    health,
    output,
    history,
)


def main() -> None:
    with tempfile.TemporaryDirectory() as folder, chromium() as browser:
        open_workspace(Path(folder) / "demo.db").close()
        server = Server(Path(folder) / "demo.db")
        try:
            asked = sys.argv[1:]
            some = tuple(view for view in VIEWS if not asked or view.__name__ in asked)
            for view in some:
                page = browser.new_page(viewport={"width": 1280, "height": 800}, base_url=server.url)
                view(page)
                page.wait_for_timeout(1200)
                page.screenshot(path=HERE / f"{view.__name__}.png")
                page.close()
        finally:
            server.kill()


if __name__ == "__main__":
    main()
