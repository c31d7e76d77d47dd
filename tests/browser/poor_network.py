"""A page whose requests are delayed, reordered and lost, from a seed."""

from __future__ import annotations

from playwright.sync_api import Page

SCRIPT = """
([seed, most, lost]) => {
  // mulberry32: a small random number generator with a seed.
  const random = () => {
    seed |= 0; seed = (seed + 0x6d2b79f5) | 0;
    let mixed = Math.imul(seed ^ (seed >>> 15), 1 | seed);
    mixed = (mixed + Math.imul(mixed ^ (mixed >>> 7), 61 | mixed)) ^ mixed;
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 4294967296;
  };
  const real = window.realFetch ?? window.fetch;
  window.realFetch = real;
  const pause = (ms) => new Promise((resolve) => setTimeout(resolve, ms));
  window.poor = { requests: 0, lostRequests: 0, lostAnswers: 0 };
  window.fetch = async (...asked) => {
    // Drawn at once, so that a seed means the same whichever request is faster.
    const [there, back, how] = [random() * most / 2, random() * most / 2, random()];
    const edit = asked[0] instanceof Request && asked[0].method !== "GET";
    window.poor.requests += 1;
    await pause(there);
    if (edit && how < lost / 2) { window.poor.lostRequests += 1; throw new TypeError("the request was lost"); }
    const answer = await real(...asked);
    await pause(back);
    if (edit && how < lost) { window.poor.lostAnswers += 1; throw new TypeError("the answer was lost"); }
    return answer;
  };
}
"""


def make_poor(page: Page, seed: int, most: int = 900, lost: float = 0.15) -> None:
    """From now on every request of the page takes up to `most` ms in both directions together; of the edits a share of `lost` gets no answer, half of
    them without having reached the server."""
    page.evaluate(SCRIPT, [seed, most, lost])


def make_good(page: Page) -> dict[str, int]:
    """Ends it; gives how many requests there were, and how many of them were lost."""
    return page.evaluate("() => { window.fetch = window.realFetch; return window.poor; }")
