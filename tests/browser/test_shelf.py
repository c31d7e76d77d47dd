"""A user's own game, from an empty database to a painted card, with real clicks and keys."""

from __future__ import annotations

import random
import re
from collections.abc import Iterator
from pathlib import Path

import pytest
from bench.served import Server
from playwright.sync_api import Page, expect

from tests.browser.conftest import seen_by
from tests.browser.test_journey import FACE, STRIP, grave_faults
from tests.conftest import SEED

WORDS = [
    "Amber",
    "Basin",
    "Cobalt",
    "Dune",
    "Ember",
    "Fjord",
    "Grove",
    "Haze",
    "Inlet",
    "Jetty",
    "Knoll",
    "Ledge",
]
DEMO_WORDS = re.compile(r"glasshouse|mildew|cistern|orchid|ribbon season|\bbeds?\b|\bfern\b", re.IGNORECASE)


@pytest.fixture
def own(tmp_path: Path, port: int) -> Iterator[Server]:
    """A server on a database that is not there yet."""
    made = Server(tmp_path / "own.db", port)
    yield made
    made.kill()


@pytest.fixture
def shelf(own: Server, request: pytest.FixtureRequest) -> Iterator[Page]:
    with seen_by(request, own) as page:
        page.goto(own.url)
        page.get_by_role("heading", name="A game of your own").wait_for()
        yield page


def sheet(tmp_path: Path, dice: random.Random) -> tuple[Path, dict[str, str]]:
    """A sheet of the test's own making: names of columns and their order differ from run to run."""
    heads = {
        "name": dice.choice(["Title", "Card", "Name"]), "clan": dice.choice(["Clan", "House", "Guild"]), "cost": dice.choice(["Cost", "Price"]),
        "power": dice.choice(["Zest", "Heft", "Pluck"]), "text": dice.choice(["Rules text", "Text", "Ability"]), "kind": dice.choice(["Type", "Category"]),
        "count": dice.choice(["Qty", "Copies", "How many"]),
    }  # fmt: skip
    order = list(heads)
    dice.shuffle(order)
    lines = [[heads[each] for each in order]]
    for number in range(12):
        cells = {
            "name": f"{WORDS[number]} {dice.choice(WORDS)}", "clan": dice.choice(WORDS[:3]), "cost": str(dice.randint(0, 6)), "power": str(dice.randint(1, 9)),
            "text": "Draw a card when this comes into play." if number % 2 else "", "kind": ("Beast", "Place")[number % 2], "count": f"x{dice.randint(1, 3)}",
        }  # fmt: skip
        lines.append([cells[each] for each in order])
    path = tmp_path / "third_draft.csv"
    path.write_text("\n".join(",".join(line) for line in lines))
    return path, {
        **heads,
        "first": lines[1][order.index("name")],
        "first_cost": lines[1][order.index("cost")],
    }


def test_from_an_empty_database_and_a_sheet_to_own_cards(shelf: Page, own: Server, tmp_path: Path):
    path, heads = sheet(tmp_path, random.Random(SEED))
    with shelf.expect_file_chooser() as chooser:
        shelf.get_by_role("button", name=re.compile("From a table file")).click()
    chooser.value.set_files(path)
    columns = shelf.get_by_role("region", name="Columns of the sheet")
    columns.wait_for()
    expect(shelf.locator(".sheet-game-said")).to_contain_text("12 lines below the heading: 12 cards · 2 types: ")
    part = lambda key: columns.get_by_label(f"Role of {heads[key]}", exact=True)  # noqa: E731
    for key, role in (
        ("name", "name"),
        ("clan", "faction"),
        ("cost", "cost"),
        ("count", "copies"),
        ("power", "stat"),
    ):
        expect(part(key)).to_have_value(role)
    expect(columns.get_by_label(f"What {heads['text']} is", exact=True)).to_have_value("effect")
    # Two guesses corrected, and one of them back.
    columns.get_by_label(f"What {heads['kind']} is", exact=True).select_option("choice")
    expect(shelf.locator(".sheet-game-said")).not_to_contain_text("types")
    columns.get_by_label(f"What {heads['kind']} is", exact=True).select_option("type")
    expect(shelf.locator(".sheet-game-said")).to_contain_text("2 types")
    part("power").select_option("")
    expect(part("power")).to_have_value("")
    shelf.get_by_label("Name of the game").fill("Twelve of Mine")
    shelf.get_by_role("button", name="Create with 12 cards").click()
    shelf.wait_for_url("**/twelve-of-mine/cards**")
    expect(shelf.locator(FACE)).to_be_visible()
    expect(shelf.locator(".pane-facts h2")).to_have_text(heads["first"])
    expect(shelf.locator(f"{FACE} text").first).to_be_visible()
    expect(shelf.locator(".toolbar-low")).to_contain_text("12 of 12 cards")
    # Every step from here on can be undone.
    shelf.locator(".grid").focus()
    shelf.keyboard.press("Home")
    shelf.keyboard.press("ArrowRight")
    shelf.keyboard.type("Renamed Thing")
    shelf.keyboard.press("Enter")
    expect(shelf.locator(STRIP)).to_contain_text("Renamed Thing")
    shelf.get_by_role("button", name=re.compile("^Undo")).click()
    expect(shelf.locator(".grid-row").first).to_contain_text(heads["first"])
    for room in ("Faces", "Rules", "Decks", "Playtest", "Balance", "Output", "History", "Files", "Cards"):
        shelf.get_by_role("link", name=room, exact=True).click()
        expect(shelf.get_by_role("link", name=room, exact=True)).to_have_class(re.compile("active"))
        expect(shelf.locator(".loading")).to_have_count(0)
        said = shelf.locator("body").inner_text()
        found = DEMO_WORDS.search(said)
        assert not found, (
            f"{room} speaks of another world: {said[max(0, found.start() - 40) : found.end() + 40]!r}"
        )


def test_a_shape_and_an_empty_game_have_a_painted_card_in_three_actions(shelf: Page, own: Server):
    shelf.get_by_role("button", name=re.compile("^A duel")).click()
    shelf.keyboard.type("North and South")
    shelf.keyboard.press("Enter")
    shelf.wait_for_url("**/north-and-south/cards**")
    expect(shelf.locator(f"{FACE} [data-field=strength]").first).to_be_visible()
    # A card typed into the last line belongs to the user: it does not join the sample cards.
    expect(shelf.locator(".grid")).to_be_focused()
    for key in ("Control+End", "ArrowDown", "Home", "ArrowRight"):
        shelf.keyboard.press(key)
    shelf.keyboard.type("Night Ferry")
    shelf.keyboard.press("Enter")
    expect(shelf.locator(".saved")).to_have_text("All saved")
    cards = shelf.request.get(f"{own.url}/api/games/north-and-south/cards").json()["cards"]
    sets = {each["id"]: each["name"] for each in shelf.request.get(f"{own.url}/api/games/north-and-south").json()["sets"]}
    assert {each["title"]: sets[each["set"]] for each in cards}["Night Ferry"] == "First set"
    shelf.get_by_role("button", name="Game: North and South").click()
    shelf.get_by_role("menuitem", name="All games, new game…").click()
    expect(shelf.locator(".tile")).to_have_count(1)
    expect(shelf.locator(".tile .fan-card")).to_have_count(3)
    shelf.get_by_role("button", name=re.compile("^Empty")).click()
    shelf.keyboard.type("north and south")
    shelf.keyboard.press("Enter")
    expect(shelf.get_by_role("alert")).to_contain_text("is there already")
    shelf.get_by_label("Name", exact=True).fill("Nothing yet")
    shelf.keyboard.press("Enter")
    shelf.wait_for_url("**/nothing-yet/cards**")
    shelf.locator(".grid").wait_for()
    shelf.locator(".grid").focus()
    shelf.keyboard.press("Home")
    shelf.keyboard.press("ArrowRight")
    shelf.keyboard.type("The first of all")
    shelf.keyboard.press("Enter")
    expect(shelf.locator(f"{FACE} [data-field=name] text")).to_have_text("The first of all")


def test_games_are_renamed_doubled_put_away_brought_back_and_removed(shelf: Page, own: Server):
    shelf.get_by_role("button", name=re.compile("^Plain cards")).click()
    shelf.keyboard.type("One")
    shelf.keyboard.press("Enter")
    shelf.wait_for_url("**/one/cards**")
    shelf.goto(f"{own.url}/shelf")
    more = lambda name: shelf.get_by_role("button", name=f"More for {name}", exact=True)  # noqa: E731
    more("One").click()
    shelf.get_by_role("menuitem", name="Rename…").click()
    shelf.keyboard.type("The One")
    shelf.keyboard.press("Enter")
    expect(shelf.locator(".tile-name")).to_have_text("The One")
    more("The One").click()
    shelf.get_by_role("menuitem", name="Duplicate", exact=True).click()
    expect(shelf.locator(".tile-name")).to_have_text(["The One", "The One 2"])
    more("The One 2").click()
    shelf.get_by_role("menuitem", name="Put away").click()
    expect(shelf.locator(".tile-name")).to_have_text(["The One"])
    away = shelf.get_by_role("region", name="Put away")
    away.get_by_role("button", name="Bring back").click()
    expect(shelf.locator(".tile-name")).to_have_text(["The One", "The One 2"])
    more("The One 2").click()
    shelf.get_by_role("menuitem", name="Put away").click()
    away.get_by_role("button", name="Remove for good…").click()
    remove = shelf.get_by_role("button", name="Remove for good", exact=True)
    expect(remove).to_be_disabled()
    with shelf.expect_download() as backup:
        shelf.get_by_role("button", name="Make a backup first").click()
    assert backup.value.suggested_filename.endswith(".zip")
    shelf.get_by_label("Type its name to remove it").fill("the one 2")
    remove.click()
    expect(away).to_have_count(0)
    shelf.reload()
    expect(shelf.locator(".tile-name")).to_have_text(["The One"])
    shelf.set_input_files("input[aria-label='A backup to restore']", backup.value.path())
    shelf.wait_for_url(re.compile("/the-one/cards"))


def test_the_shelf_offers_the_demo_games_fits_every_window_and_has_nothing_grave(shelf: Page, own: Server):
    assert grave_faults(shelf) == []
    shelf.get_by_role("button", name="Demo game: Crowded Bed").click()
    shelf.wait_for_url("**/crowded-bed/cards**")
    shelf.goto(f"{own.url}/shelf")
    expect(shelf.locator(".fan-card")).to_have_count(3)
    expect(shelf.get_by_role("button", name="Demo game: Crowded Bed")).to_have_count(0)
    for width, height in ((1280, 800), (640, 400), (390, 844), (1920, 1080)):
        shelf.set_viewport_size({"width": width, "height": height})
        assert shelf.evaluate("document.scrollingElement.scrollWidth <= innerWidth"), width
    shelf.set_viewport_size({"width": 1280, "height": 800})
    assert grave_faults(shelf) == []


def test_a_sheet_without_cards_is_reported_and_another_way_is_offered(shelf: Page, tmp_path: Path):
    path = tmp_path / "nothing.csv"
    path.write_text("Name\n")
    shelf.set_input_files("input[aria-label='A table file to start from']", path)
    expect(shelf.get_by_role("alert")).to_contain_text("no line below the header")
    expect(shelf.get_by_role("button", name="Create", exact=True)).to_be_disabled()
    shelf.get_by_role("button", name="Another way").click()
    shelf.get_by_role("heading", name="A game of your own").wait_for()


# What makes the game a game, edited where it is.


def test_the_first_steps_tick_themselves_lead_there_and_are_dismissed_for_good(shelf: Page, own: Server):
    shelf.get_by_role("button", name=re.compile("^A deck-builder")).click()
    shelf.keyboard.type("Coins")
    shelf.keyboard.press("Enter")
    shelf.wait_for_url("**/coins/cards**")
    steps = shelf.get_by_role("navigation", name="First steps")
    expect(steps.locator(".step-done")).to_have_text(["Worths and budgets"])
    steps.get_by_role("link", name="A deck").click()
    shelf.wait_for_url("**/coins/decks**")
    shelf.get_by_role("button", name="New", exact=True).click()
    shelf.get_by_role("button", name=re.compile("^One .* more$")).first.click()
    expect(shelf.locator(".deck-row .num")).to_have_text("1")
    shelf.get_by_role("link", name="Cards", exact=True).click()
    expect(steps.locator(".step-done")).to_have_text(["Worths and budgets", "A deck"])
    # The samples go with one action, and come back with one.
    shelf.goto(f"{own.url}/coins/rules")
    shelf.get_by_role("button", name=re.compile("^Samples")).click()
    shelf.get_by_role("button", name="Remove the sample cards").click()
    expect(shelf.get_by_role("button", name=re.compile("^Samples"))).to_have_count(0)
    shelf.get_by_role("button", name=re.compile("^Undo")).click()
    expect(shelf.get_by_role("button", name=re.compile("^Samples"))).to_have_count(1)
    shelf.get_by_role("link", name="Cards", exact=True).click()
    steps.get_by_role("button", name="Dismiss the first steps").click()
    expect(steps).to_have_count(0)
    shelf.reload()
    shelf.locator(".grid").wait_for()
    expect(shelf.locator(".toolbar-low")).to_contain_text("10 of 10 cards")
    expect(steps).to_have_count(0)


def test_the_shelf_by_keys_alone_keeps_the_focus(shelf: Page, own: Server):
    active = "document.activeElement.getAttribute('aria-label') ?? document.activeElement.innerText"
    for _ in range(12):
        shelf.keyboard.press("Tab")
        if shelf.evaluate(active).startswith("Plain cards"):
            break
    shelf.keyboard.press("Enter")
    expect(shelf.get_by_label("Name", exact=True)).to_be_focused()
    shelf.keyboard.type("Keys")
    shelf.keyboard.press("Enter")
    shelf.wait_for_url("**/keys/cards**")
    expect(shelf.locator(".grid")).to_be_focused()
    expect(shelf).to_have_title("Keys – Dramok")
    shelf.goto(f"{own.url}/shelf")
    menu = shelf.get_by_role("button", name="More for Keys", exact=True)
    menu.focus()
    shelf.keyboard.press("Enter")
    expect(shelf.get_by_role("menuitem", name="Rename…")).to_be_focused()
    shelf.keyboard.press("Enter")
    expect(shelf.get_by_label("Name", exact=True)).to_be_focused()
    shelf.keyboard.press("Escape")
    expect(menu).to_be_focused()
    shelf.keyboard.press("Enter")
    for name in ("Rename…", "Duplicate", "Duplicate its rules and plans only", "Back up", "Put away"):
        expect(shelf.get_by_role("menuitem", name=name, exact=True)).to_be_focused()
        if name != "Put away":
            shelf.keyboard.press("ArrowDown")
    shelf.keyboard.press("Enter")
    expect(shelf.get_by_role("button", name="Bring back")).to_be_visible()
    assert shelf.evaluate("document.activeElement !== document.body")


def test_a_page_of_a_removed_game_shows_that_and_a_way_on(shelf: Page, own: Server):
    shelf.get_by_role("button", name=re.compile("^Plain cards")).click()
    shelf.keyboard.type("Short")
    shelf.keyboard.press("Enter")
    shelf.wait_for_url("**/short/cards**")
    shelf.locator(FACE).wait_for()
    for call in (
        lambda: shelf.request.put(f"{own.url}/api/shelf/short", data={"away": True}),
        lambda: shelf.request.delete(f"{own.url}/api/shelf/short?name=Short"),
    ):
        assert call().ok
    shelf.get_by_role("heading", name="This game is gone").wait_for()
    shelf.get_by_role("link", name="All games").click()
    shelf.get_by_role("heading", name="A game of your own").wait_for()


def test_undo_in_a_game_does_not_take_it_off_the_shelf(shelf: Page, own: Server):
    shelf.get_by_role("button", name=re.compile("^Plain cards")).click()
    shelf.keyboard.type("Stays")
    shelf.keyboard.press("Enter")
    shelf.wait_for_url("**/stays/cards**")
    shelf.get_by_role("button", name="Game: Stays").click()
    shelf.get_by_role("menuitem", name="All games, new game…").click()
    shelf.get_by_role("button", name="More for Stays", exact=True).click()
    shelf.get_by_role("menuitem", name="Put away").click()
    shelf.get_by_role("button", name="Bring back").click()
    shelf.locator(".tile-name").click()
    shelf.locator(FACE).wait_for()
    expect(shelf.get_by_role("button", name="Undo", exact=True)).to_be_disabled()
    shelf.keyboard.press("Control+z")
    assert shelf.request.get(f"{own.url}/api/games").json()[0]["name"] == "Stays"


def test_of_a_sheet_in_which_every_column_is_one_tenth_wrong_every_line_is_accounted_for(shelf: Page, own: Server, tmp_path: Path):
    rows = ["Name,Rules Text,Water cost,Bed,Planted"]
    for number in range(40):
        cost = "a lot" if number % 10 == 3 else "three" if number == 7 else str(number % 6)
        bed = "Fern" if number % 2 else "Moss"
        day = "later" if number % 10 == 5 else f"2026-03-{number % 28 + 1:02}"
        rows.append(f"Card {number},Take {number} cards and think.,{cost},{bed},{day}")
    rows += ["", "TOTAL,,99,,"]
    sheet = tmp_path / "odd.csv"
    sheet.write_text("\n".join(rows))
    shelf.get_by_label("A table file to start from").set_input_files(sheet)
    said = shelf.locator(".sheet-game-said")
    expect(said).to_contain_text("42 lines below the heading: 32 cards, 8 left out, 2 no card")
    left = shelf.get_by_role("region", name="Lines left out")
    expect(left.locator("tbody tr")).to_have_count(8)
    expect(left.locator("tbody tr").first).to_contain_text("“a lot” is not a whole number")
    shelf.get_by_text("1 line is not read exactly as written").click()
    expect(shelf.locator(".sheet-game-body")).to_contain_text("Water cost “three” is read as 3")
    shelf.get_by_text("2 lines are not cards").click()
    expect(shelf.locator(".sheet-game-body")).to_contain_text("Line 43: a total, not a card TOTAL")
    # One is corrected in its place, the others are imported with that cell empty.
    left.get_by_label("Line 5, Water cost: read it as").fill("4")
    shelf.keyboard.press("Enter")
    expect(said).to_contain_text("33 cards, 7 left out, 2 no card")
    left.get_by_label("Import them too").check()
    expect(said).to_contain_text("40 cards, 2 no card")
    shelf.get_by_role("button", name="Create with 40 cards").click()
    expect(shelf.locator(".toolbar-low")).to_contain_text("40 of 40 cards")
    heads = shelf.get_by_role("columnheader").all_inner_texts()
    # The text of the sheet is under its own heading, and the empty field for behaviour is another.
    assert heads.index("Rules Text") + 1 == heads.index("Effect"), heads
    cards = shelf.request.get(f"{own.url}/api/games/odd/cards").json()["cards"]
    found = {each["title"]: each["values"] for each in cards}
    assert (found["Card 3"]["water-cost"], found["Card 7"]["water-cost"], found["Card 13"].get("water-cost", "")) == ("4", "3", "")
    assert found["Card 9"]["rules-text"] == "Take 9 cards and think."
