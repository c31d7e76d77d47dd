"""Takes the pictures of the main views from the demo data: `make screenshots`."""

from __future__ import annotations

import subprocess
import sys
import tempfile
import time
import urllib.request
from pathlib import Path

from playwright.sync_api import Page, sync_playwright

HERE = Path(__file__).parent
PORT = 8979
URL = f"http://127.0.0.1:{PORT}"
SHEET = HERE.parents[1] / "tests" / "samples" / "draft-sheet.csv"


def cards(page: Page) -> None:
    page.goto(f"{URL}/ribbon-season/cards?card=c-ribbon-season-rs-062&field=reach")
    page.wait_for_selector(".pane-face svg")
    page.locator(".grid").focus()
    page.keyboard.type("6")


def effect(page: Page) -> None:
    page.goto(f"{URL}/ribbon-season/cards?card=c-ribbon-season-rs-039&field=effect")
    page.wait_for_selector(".pane-face svg")
    page.locator("#editor-effect").click()
    page.keyboard.press("Control+End")
    page.keyboard.type("; gain 1 ribon")
    page.keyboard.press("Escape")


def importing(page: Page) -> None:
    page.goto(f"{URL}/ribbon-season/cards")
    page.get_by_role("button", name="Import").click()
    page.set_input_files("input[type=file]", SHEET)
    page.wait_for_selector(".said")


def decks(page: Page) -> None:
    page.goto(f"{URL}/ribbon-season/decks")
    page.wait_for_selector(".wall svg")
    page.locator("#deck-choice").select_option(index=2)
    page.locator(".wall").focus()
    page.keyboard.press("ArrowRight")


def playtest(page: Page) -> None:
    page.goto(f"{URL}/ribbon-season/playtest")
    page.get_by_label("Deck").select_option(index=1)
    page.get_by_label("Seed").fill("21")
    page.keyboard.press("Enter")
    page.wait_for_selector(".hand svg")
    for _ in range(4):
        page.keyboard.press("e")
        page.wait_for_timeout(250)
        playable = page.get_by_role("button", name="play", exact=False).and_(page.locator(".hand [aria-disabled=false]"))
        if playable.count():
            playable.first.focus()
            page.keyboard.press("Enter")
            page.wait_for_timeout(350)
    page.locator(".pile-stack").first.focus()


def balance(page: Page) -> None:
    page.goto(f"{URL}/ribbon-season/balance?card=c-ribbon-season-rs-088")
    page.wait_for_selector(".map-mark")
    page.locator(".map-keys").focus()


def main() -> None:
    with tempfile.TemporaryDirectory() as folder, sync_playwright() as playwright:
        command = [sys.executable, "-m", "dramok", "serve", "--db", f"{folder}/demo.db", "--port", str(PORT)]
        server = subprocess.Popen(command, stdout=subprocess.DEVNULL)
        try:
            for _ in range(200):
                try:
                    urllib.request.urlopen(f"{URL}/api/games", timeout=5).read()
                    break
                except OSError:
                    time.sleep(0.05)
            browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=["--no-sandbox"])
            for scheme, views in (("light", (cards, effect, importing, decks, playtest, balance)), ("dark", (cards,))):
                for view in views:
                    page = browser.new_page(viewport={"width": 1280, "height": 800}, color_scheme=scheme)
                    view(page)
                    page.wait_for_timeout(900)
                    page.screenshot(path=HERE / f"{view.__name__}{'-dark' if scheme == 'dark' else ''}.png")
                    page.close()
            browser.close()
        finally:
            server.terminate()
            server.wait()


if __name__ == "__main__":
    main()
