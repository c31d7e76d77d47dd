"""Texts and documents that the page makes, read by the other side: the core, Python's CSV reader, the address."""

from __future__ import annotations

import csv
import io
import re
import string
from random import Random

import pytest
from pydantic import TypeAdapter

from dramok.core.effects.verbs import CUES, VERBS
from dramok.core.rulebook.phase_actions import PHASE_ACTIONS, Doing
from dramok.server.responses import game_out
from dramok.server.schemas.parts import PhaseActionOut
from dramok.services import GameSnapshot
from tests.conftest import SEED
from tests.page.conftest import PageCode

# One process bundles the page.
pytestmark = pytest.mark.xdist_group("page")


def some_text(dice: Random) -> str:
    return "".join(dice.choices([*string.ascii_letters, *' ,;"\n\r\t=+-@', "é", "ß", "林"], k=dice.randint(0, 12)))


def test_a_new_phase_action_is_a_document_that_the_core_accepts(page_code: PageCode):
    actions = [PhaseActionOut.model_validate(each).model_dump(mode="json") for each in PHASE_ACTIONS]
    made = page_code('return given.map((each) => page.play.newDoing(each, "water", "forecast", "height"));', actions)
    for action, document in zip(PHASE_ACTIONS, made, strict=True):
        read = TypeAdapter(Doing).validate_python(document)
        # A document leaves out what has its default value and is newer than the action.
        assert read.do == action.do and read.model_dump(mode="json").items() <= document.items()
        assert read == TypeAdapter(Doing).validate_python(read.model_dump(mode="json"))
    assert [each.get("resource") for each in made if each["do"] == "gain"] == ["water"]
    assert [each.get("zone") for each in made if each["do"] == "turn over"] == ["forecast"]


def test_a_new_phase_gets_an_id_of_its_own_whatever_it_is_called(page_code: PageCode):
    dice = Random(f"{SEED} ids")
    names = [some_text(dice) for _ in range(80)] + ["Dawn", "Dawn", "dawn", "", "9 lives", "Ünder"]
    script = """const phases = [];
    for (const name of given) phases.push(page.play.newPhase(name, phases));
    return phases.map((each) => each.id);"""
    found = page_code(script, names)
    assert len(set(found)) == len(names) and all(re.fullmatch(r"[a-z][a-z0-9-]*", each) and len(each) <= 40 for each in found)
    assert found[-6:-3] == ["dawn", "dawn-2", "dawn-3"]


def test_numbers_of_a_chart_come_back_from_csv_and_are_no_formulas(page_code: PageCode):
    dice = Random(f"{SEED} csv")
    rows = [[dice.choice([some_text(dice), dice.randint(-99, 99), None]) for _ in range(4)] for _ in range(60)]
    text = page_code("return page.charts.csvOf(given);", rows)
    read = list(csv.reader(io.StringIO(text, newline="")))
    for row, cells in zip(rows, read, strict=True):
        for value, cell in zip(row, cells, strict=True):
            shown = "" if value is None else str(value)
            if isinstance(value, str) and value[:1] in tuple("=+-@\t\r"):
                assert cell == f"'{value}"
            else:
                assert cell == shown


def test_a_place_in_the_cards_room_comes_back_from_its_address(page_code: PageCode):
    dice = Random(f"{SEED} address")
    cases = []
    for _ in range(80):
        sort = [{"field": f"f{each}", "down": dice.random() < 0.5} for each in range(dice.randint(0, 3))]
        groups = {"across": dice.choice(["cost", "type"]), "down": "bed", "zoom": dice.randint(70, 300)}
        cases.append([{"card": f"c{dice.randint(1, 9)}", "column": "cost"}, some_text(dice), dice.choice(["", "first"]), sort, dice.choice(["grid", "wall"]), groups])
    found = page_code("return given.map((each) => page.address.placeFrom(new URLSearchParams(page.address.addressFor(...each))));", cases)
    for (at, query, set_, sort, look, groups), place in zip(cases, found, strict=True):
        assert (place["card"], place["column"], place["query"], place["set"]) == (at["card"], at["column"], query, set_)
        assert place["sort"] == sort and place["look"] == look
        assert place["groups"] == (groups if look == "wall" else {"across": "", "down": "", "zoom": 106})


def test_counts_have_their_nouns(page_code: PageCode):
    found = page_code("return given.map((each) => page.plural.counted(...each));", [[0, "card"], [1, "card"], [2, "card"], [1200, "copy", "copies"], [1, "copy", "copies"]])
    assert found == ["0 cards", "1 card", "2 cards", "1,200 copies", "1 copy"]


def test_every_kind_of_field_is_offered_once_under_a_name(page_code: PageCode, game: GameSnapshot):
    kinds, offered = page_code("return [Object.keys(page.kinds.RECORDS), page.editors.OFFERED];", None)
    assert {id_ if id_ != "longtext" else "text" for id_, _ in offered} == set(kinds)
    names = [name for _, name in offered]
    assert len(set(names)) == len(names) and all(name[0].isupper() for name in names)
    assert {each.kind for each in game.rulebook.cards.fields} <= set(kinds)


def test_the_columns_of_the_grid_are_each_field_once(page_code: PageCode, game: GameSnapshot):
    columns = page_code("return page.columns.columnsOf(given);", game_out(game).model_dump(mode="json"))
    ids = [each["id"] for each in columns]
    assert len(set(ids)) == len(ids) and {each.id for each in game.rulebook.cards.fields} <= set(ids)
    assert ids[:3] == ["code", "name", "type"] and {"verdict", "notes"} <= set(ids)


def test_cells_of_the_price_sheets_typed_again_as_they_are_shown_change_nothing(page_code: PageCode, game: GameSnapshot):
    given = {
        "prices": game.rules["prices"], "game": game_out(game).model_dump(mode="json"), "verbs": [{"word": each.word, "form": each.form} for each in VERBS.values()], "cues": list(CUES),
    }  # fmt: skip
    script = """const { prices, game, verbs, cues } = given;
    const puts = (rows) => rows.flatMap((row) => Object.entries(row.cells)
      .filter(([, cell]) => !cell.locked && !cell.act).map(([column, cell]) => ({ row: row.id, column, text: cell.text })));
    const { sheet } = page;
    const effects = puts(sheet.effectRows(prices, { game, verbs, cues }, null, () => {}, null)).filter((put) => prices.rows.some((row) => row.id === put.row));
    return {
      cells: effects.length,
      each: effects.filter((put) => JSON.stringify(sheet.withEffects(prices, [put], { game, verbs, cues })) !== JSON.stringify(prices)),
      effects: sheet.withEffects(prices, effects, { game, verbs, cues }),
      stats: sheet.withStats(prices, puts(sheet.statRows(prices, game, null))),
      times: sheet.withTimes(prices, puts(sheet.timesRows(prices, cues))),
      budgets: sheet.withBudgets(prices, puts(sheet.budgetRows(prices, game, null))),
    };"""
    found = page_code(script, given)
    assert found["cells"] > 50 and found["each"] == []
    for sheet in ("effects", "stats", "times", "budgets"):
        assert found[sheet] == given["prices"], sheet
