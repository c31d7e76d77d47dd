"""How long it takes to render an effect line as text: lines of the whole grammar, long and short."""

from __future__ import annotations

import time
from random import Random

from tests.core.test_text_is_play import lines, read, rules_with

from dramok.core.wording.printed_text import LineWriter


def run() -> None:
    rules, vocabulary = rules_with("default")
    abilities = [read(text) for text in lines(Random(3), 600)]
    best = min(_pass(abilities, rules, vocabulary) for _ in range(5))
    print(f"a line worded: {1000 * best / len(abilities):.2f} ms (wanted 0.2)")


def _pass(abilities: list[object], rules: object, vocabulary: object) -> float:
    begun = time.perf_counter()
    for each in abilities:
        LineWriter(rules, vocabulary).ability(each)  # type: ignore[arg-type]
    return time.perf_counter() - begun


if __name__ == "__main__":
    run()
