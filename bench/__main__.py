"""Runs every benchmark, or those named: `python -m bench faces plan imports output start typing rows sheet exchange kills sound own odds openings engine market agreement table balance fuzz coverage wording`."""

from __future__ import annotations

import sys

from bench import (
    agreement,
    balance,
    coverage,
    engine,
    exchange,
    faces,
    fuzz,
    imports,
    kills,
    market,
    new_row,
    odds,
    openings,
    output,
    own_game,
    plan_edit,
    sheet,
    sound,
    start,
    table,
    typing_in_a_cell,
    wording,
)

ALL = {
    "faces": faces.run,
    "plan": plan_edit.run,
    "imports": imports.run,
    "output": output.run,
    "start": start.run,
    "typing": typing_in_a_cell.run,
    "rows": new_row.run,
    "sheet": sheet.run,
    "exchange": exchange.run,
    "kills": kills.run,
    "sound": sound.run,
    "own": own_game.run,
    "odds": odds.run,
    "openings": openings.run,
    "engine": engine.run,
    "market": market.run,
    "agreement": agreement.run,
    "table": table.run,
    "balance": balance.run,
    "fuzz": fuzz.run,
    "coverage": coverage.run,
    "wording": wording.run,
}

if __name__ == "__main__":
    for name in sys.argv[1:] or ALL:
        ALL[name]()
