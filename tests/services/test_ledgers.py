"""Every card of every demo game: the lines of its ledger sum exactly to its verdict, with its own price list and with others."""

from __future__ import annotations

from decimal import Decimal
from random import Random

from dramok.core.balance import verdict
from dramok.core.balance.declared.prices import Qualifier
from tests.conftest import SEED


def summed(ledger) -> None:
    known = [line.points for line in ledger.lines if line.points is not None]
    assert sum(known, Decimal(0)) == ledger.difference == ledger.worth - ledger.budget
    assert (ledger.judgement == "open") == any(line.points is None for line in ledger.lines)
    assert all(line.what and line.why for line in ledger.lines)


def test_the_lines_of_every_demo_card_sum_to_its_verdict(workspace):
    dice = Random(f"{SEED} ledgers")
    games = workspace.games()
    assert sum(len(game.cards) for game in games) >= 200
    for game in games:
        others = [game.prices]
        for _ in range(3):
            rows = [row.model_copy(update={"private": dice.random() < 0.5, "curve": row.curve if dice.random() < 0.8 else None}) for row in game.prices.rows]
            held: dict[Qualifier, Decimal] = {each: Decimal(dice.randint(0, 300)) / 100 for each in ("condition", "limit", "until", "may", "offer")}
            others.append(game.prices.model_copy(update={"rows": tuple(dice.sample(rows, len(rows) * 3 // 4)), "qualifiers": held}))
        for prices in others:
            for card in game.cards.values():
                summed(verdict(card, game.rulebook, prices))
