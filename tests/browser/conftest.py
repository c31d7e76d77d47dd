"""A running server with the demo game, and a page driven in Chromium."""

from __future__ import annotations

import shutil
from collections.abc import Callable, Generator, Iterator
from contextlib import contextmanager
from pathlib import Path
from re import Pattern
from typing import Any

import pytest
from bench.served import Server, free_port
from playwright.sync_api import APIResponse, Browser, BrowserContext, Error, Page, Route, expect

GAME = "ribbon-season"

# A busy machine may take its time, and stand still for half a minute; what is waited for is named, never a time.
PATIENCE = 120_000
expect.set_options(timeout=PATIENCE)
LONG = 240_000
"""For what a machine has to work out, in ms."""


@pytest.fixture(scope="session")
def port() -> int:
    """Where the servers of all tests are, one after another: what the page is made of is then read and compiled once."""
    return free_port()


@pytest.fixture
def server(demo_file: Path, tmp_path: Path, port: int) -> Iterator[Server]:
    made = Server(Path(shutil.copy(demo_file, tmp_path / "browser.db")), port)
    yield made
    made.kill()


SIZE = {"width": 1280, "height": 800}
MOST_TESTS = 40
"""Tests that one window sees: then it gives back what it holds."""


def context_of(browser: Browser, **kept: Any) -> BrowserContext:
    """A browser's window as tests open them, with what it keeps to itself."""
    context = browser.new_context(**{"viewport": SIZE, "reduced_motion": "reduce", **kept})
    context.set_default_timeout(PATIENCE)
    return context


class Window:
    """A window of 1280x800 that is kept from test to test, as a person keeps one open all day: opening one costs as much as half a test.
    What was stored by one test is not found by the next."""

    def __init__(self, browser: Browser) -> None:
        self.browser = browser
        # Half as many dots as points: boxes and what is clicked are the same, and a twentieth of the time is not spent on painting.
        self.context = context_of(browser, device_scale_factor=0.5)
        self.page = self.context.new_page()
        self.devtools = self.context.new_cdp_session(self.page)
        self.errors: list[str] = []
        self.page.on("pageerror", lambda error: self.errors.append(str(error)))
        self.tests = 0

    def empty(self, url: str) -> None:
        """Blank, and as a new one is."""
        for other in self.context.pages:
            if other != self.page:
                other.close()
        self.page.unroute_all(behavior="ignoreErrors")
        # A leaf of the same address: the window keeps its process, and what was stored can be forgotten.
        self.page.goto(f"{url}/favicon.svg")
        self.page.evaluate("sessionStorage.clear()")
        self.devtools.send("Storage.clearDataForOrigin", {"origin": url, "storageTypes": "all"})
        self.page.set_viewport_size(SIZE)
        self.page.emulate_media(media="screen", color_scheme="light", reduced_motion="reduce")
        self.context.clear_permissions()
        self.errors.clear()
        self.tests += 1


@pytest.fixture(scope="session")
def _kept(chromium: Browser) -> Iterator[list[Window]]:
    kept: list[Window] = []
    yield kept
    for window in kept:
        window.context.close()


@contextmanager
def seen_by(request: pytest.FixtureRequest, server: Server) -> Iterator[Page]:
    """A page for one test that shows nothing yet, and that may not raise an error. It is left before its server ends."""
    kept: list[Window] = request.getfixturevalue("_kept")
    window = request.node.stash[SEEN] = kept.pop() if kept else Window(request.getfixturevalue("chromium"))
    yield window.page
    errors = list(window.errors)
    # A window in which a test has failed may be in any state.
    if errors or request.node.stash.get(FAILED, False) or window.tests >= MOST_TESTS or window.page.is_closed():
        window.context.close()
    else:
        window.empty(server.url)
        kept.append(window)
    assert not errors


@pytest.fixture
def blank(server: Server, request: pytest.FixtureRequest) -> Iterator[Page]:
    """A page that shows nothing yet."""
    with seen_by(request, server) as page:
        yield page


ELSEWHERE = "begins_elsewhere"
FAILED: pytest.StashKey[bool] = pytest.StashKey()
SEEN: pytest.StashKey[Window] = pytest.StashKey()


def pytest_configure(config: pytest.Config) -> None:
    config.addinivalue_line("markers", f"{ELSEWHERE}: the page shows nothing before the test opens a room")


@pytest.hookimpl(wrapper=True)
def pytest_runtest_makereport(item: pytest.Item) -> Generator[None, pytest.TestReport, pytest.TestReport]:
    report = yield
    if report.failed:
        item.stash[FAILED] = True
        if report.when == "call" and SEEN in item.stash:
            report.sections.append(("what the page showed", shown(item.stash[SEEN])))
    return report


def shown(window: Window) -> str:
    """The state of a page, to explain a failed test: its focus, its last requests, its text."""
    try:
        focus, asked, text = window.page.evaluate(
            """[document.activeElement?.outerHTML.slice(0, 300), performance.getEntriesByType("resource").slice(-12).map((each) => each.name),
               document.body.innerText.slice(0, 2500)]"""
        )
    except Error as error:
        return f"It says nothing: {error}"
    return "\n".join([window.page.url, f"Focus: {focus}", *asked, text])


@pytest.fixture
def page(blank: Page, server: Server, request: pytest.FixtureRequest) -> Page:
    """A page that shows the demo game's cards; nothing yet where tests begin in rooms of their own choice."""
    if request.node.get_closest_marker(ELSEWHERE) is None:
        blank.goto(server.url)
        blank.wait_for_selector(".pane-face svg.face")
    return blank


def at_rest(page: Page) -> None:
    """Waits until nothing of the page has changed for a moment: what comes later is as good to look at as what was there."""
    page.evaluate(
        """() => new Promise((rested) => {
          let since = performance.now();
          const seen = new MutationObserver(() => { since = performance.now(); });
          seen.observe(document, { subtree: true, childList: true, attributes: true, characterData: true });
          const look = () => {
            if (performance.now() - since < 200) return void setTimeout(look, 25);
            seen.disconnect();
            document.fonts.ready.then(() => rested());
          };
          look();
        })"""
    )


def intercept(page: Page, asked: str | Pattern[str], handle: Callable[[Route], object]) -> None:
    """Routes the requests of the page to `handle`, and returns once the route is active: for a moment after a page's first route,
    requests still go past it, and neither reach the handler nor are recorded."""
    page.route("**/is-intercepted", lambda route: route.fulfill(body="yes"))
    page.route(asked, handle)
    page.evaluate(
        """async () => {
          const asked = () => fetch("/is-intercepted").then((answer) => answer.text());
          while ((await asked()) !== "yes") await new Promise(requestAnimationFrame);
        }"""
    )


class LateAnswers:
    """The server handles each request at once; the page gets the response when the test calls `come`, and from then on at once."""

    def __init__(self, page: Page, asked: str | Pattern[str]) -> None:
        self.held: list[tuple[Route, APIResponse]] = []
        self.come_now = False
        intercept(page, asked, self._answer)

    def _answer(self, route: Route) -> None:
        answer = route.fetch()
        if self.come_now:
            route.fulfill(response=answer)
        else:
            self.held.append((route, answer))

    def come(self) -> None:
        self.come_now = True
        while self.held:
            route, answer = self.held.pop(0)
            route.fulfill(response=answer)


def in_the_address(page: Page) -> None:
    """Waits until the address names the focused cell."""
    page.wait_for_function(
        """() => {
          const said = new URLSearchParams(location.search);
          const cell = document.querySelector(".grid").getAttribute("aria-activedescendant");
          return cell === `cell-${said.get("card")}-${said.get("field")}`;
        }"""
    )


def played_alone(page: Page, server: Server, game: str = GAME) -> None:
    """From here on the game says nothing of how it is played: one seat that draws, plays and discards as it likes."""
    # A zone or a phase that cards refer to cannot be removed.
    alone = {"seats": 1, "free": True, "zones": [{"id": "forecast", "name": "Weather glass"}]}
    does = [{"do": "grow", "first": "none"}, {"do": "draw", "first": "none"}, {"do": "play"}]
    alone["phases"] = [{"id": "dawn", "name": "Turn", "does": does}]
    done = page.request.put(f"{server.url}/api/games/{game}/rules/parts/play", data={"value": alone}, headers={"x-page": "rules"})
    assert done.ok, done.text()
