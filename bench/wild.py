"""Makes a game as extreme as the server allows: minimum and maximum numbers, twelve equal effect lines, prices of every sign, decks of hundreds.

`bench.fuzz` requests every view of it; nothing in it may be refused for being extreme.
"""

from __future__ import annotations

import copy
import random
import re
from collections import Counter
from collections.abc import Iterator
from typing import Any

from dramok.core.effects.script import MOST_LINES, line_text

AMOUNTS = [0, 1, 2, 3, 7, 12, 60, 99, 1_000, 999_999]
WORTHS = [-1_000_000, -2.5, -1, -0.000001, 0, 0.000001, 0.5, 1, 3, 1_000_000]
BOUNDS = [(0, 99), (-9, 9), (-999_999_999, 999_999_999), (5, 5), (-40, -2)]
NAMES = ["Fern", "x", "Ünlü", "مرحبا", "A very long name for a card, longer than any frame has room for, by far", "½ & <b>", "#1", '"quoted"', "{n}", "=1+1"]


class Wild:
    """Writes by a client of the server; `told` counts the answers by status."""

    def __init__(self, client: Any, game: str, chance: random.Random) -> None:
        self.client, self.game, self.chance = client, game, chance
        self.told: Counter[int] = Counter()

    def make(self) -> None:
        workspace = self.client.app.state.workspace
        self.types(workspace.game(self.game))
        self.parts()
        self.prices(workspace.game(self.game))
        for _ in range(2):
            self.cells(workspace.game(self.game))
        self.decks(workspace.game(self.game))

    def ask(self, method: str, path: str, json: Any) -> None:
        answer = self.client.request(method, f"/api/games/{self.game}{path}", json=json, headers={"x-page": "wild"})
        self.told[answer.status_code] += 1
        assert answer.status_code < 500, f"{method} {path} {str(json)[:300]}: {answer.text[:300]}"

    def types(self, game: Any) -> None:
        """Other bounds for numbers; now and then a type without some of its fields, so that what its cards hold is hidden."""
        for kind in game.rulebook.cards.types:
            document = kind.model_dump(mode="json")
            for field in document["fields"]:
                if field["kind"] == "number" and self.chance.random() < 0.7:
                    field["least"], field["most"] = self.chance.choice(BOUNDS)
                    field["whole"] = self.chance.random() < 0.6
            if document["fields"] and self.chance.random() < 0.2:
                document["fields"].pop(self.chance.randrange(len(document["fields"])))
            self.ask("PUT", "/rules/types", {"type": document, "base": 10**6})

    def parts(self) -> None:
        """Rules of play, decks and resources with numbers as high and low as they may be."""
        held = self.client.get(f"/api/games/{self.game}/rules/parts").json()["parts"]
        for part, value in held.items():
            for _ in range(3):
                document = copy.deepcopy(value)
                numbers = list(_numbers(document))
                for holder, key in self.chance.sample(numbers, min(len(numbers), self.chance.choice([1, 2]))):
                    holder[key] = self.chance.choice([*AMOUNTS, -1])
                self.ask("PUT", f"/rules/parts/{part}", {"value": document, "base": 10**6})

    def prices(self, game: Any) -> None:
        """Worths of every sign and form."""

        def worth() -> float:
            return self.chance.choice(WORTHS)

        document = copy.deepcopy(game.rules["prices"])
        document["stats"] = {each: worth() for each in game.rulebook.roles.stats if self.chance.random() < 0.8}
        for row in document["rows"]:
            kinds = [
                None,
                {"each": worth(), "further": worth()},
                {"flat": worth(), "until": self.chance.choice(AMOUNTS), "further": worth()},
                {"table": [worth() for _ in range(self.chance.choice([1, 3, 100]))], "further": worth()},
            ]
            row["curve"] = self.chance.choice(kinds)
        for budget in document["budgets"].values():
            budget["by_cost"] = [worth() for _ in range(self.chance.choice([1, 2, 13]))]
            budget["further"] = worth()
        document |= {"tolerance": worth(), "all_counts_as": worth(), "expected_count": worth()}
        document["wanted"] = [self.chance.choice(AMOUNTS) % 10_000 for _ in range(self.chance.choice([0, 1, 41]))]
        self.ask("PUT", "/rules/parts/prices", {"value": document, "base": 10**6})

    def cells(self, game: Any) -> None:
        """Each card has some of its cells written with what its fields allow at their edges."""
        role, cards = game.rulebook.roles.effect, game.rulebook.cards
        lines = [line_text(line, game.vocabulary) for card in game.cards.values() for line in card.script(role).lines] or ["draw 1"]
        cells = []
        for card in game.cards.values():
            for field in cards.fields_of(card.type):
                if self.chance.random() < 0.4:
                    cells.append({"card": card.id, "field": field.id, "typed": self.typed(field, lines)})
        for start in range(0, len(cells), 400):
            self.ask("POST", "/cards/cells", {"cells": cells[start : start + 400], "base": 10**6})

    def typed(self, field: Any, lines: list[str]) -> str:
        if field.kind == "number":
            return str(self.chance.choice([field.least, field.most, field.least + 1, 0, -1, 1, 2.5, 4]))
        if field.kind == "effect":
            some = self.chance.choices([self.chance.choice(lines)] if self.chance.random() < 0.3 else lines, k=self.chance.choice([0, 1, 2, MOST_LINES]))
            return "\n".join(re.sub(r"\d+", lambda found: str(self.chance.choice(AMOUNTS)), line) for line in some)
        if field.kind == "text":
            return self.chance.choice(NAMES)
        return ""

    def decks(self, game: Any) -> None:
        """Decks of nothing, of one card, and of hundreds."""
        for deck in game.decks.values():
            cards = self.chance.sample(list(game.cards), min(len(game.cards), self.chance.choice([1, 8, 40])))
            counts = [{"card": card, "copies": self.chance.choice([0, 0, 1, 40])} for card in cards]
            self.ask("POST", f"/decks/{deck.id}/counts", {"counts": counts})


def _numbers(document: Any) -> Iterator[tuple[Any, Any]]:
    """The places of whole numbers in a document: the parent of each, and its key there."""
    for key, each in document.items() if isinstance(document, dict) else enumerate(document) if isinstance(document, list) else ():
        if isinstance(each, int) and not isinstance(each, bool):
            yield document, key
        else:
            yield from _numbers(each)
