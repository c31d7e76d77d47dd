"""Where the page puts things: columns of the grid, cards of a hand, names on the map. Generated input."""

from __future__ import annotations

from random import Random

import pytest

from tests.conftest import SEED
from tests.page.conftest import PageCode

# One process bundles the page.
pytestmark = pytest.mark.xdist_group("page")
KINDS = ["number", "choice", "text", "effect", "tags", "yesno", "date"]
LEAST = 36
WIDEST = 900


def some_columns(dice: Random) -> list[dict]:
    """Columns as the grid has them: the code, the name, fields of any kind, the verdict."""
    fields = []
    for number in range(dice.randint(0, 12)):
        kind = dice.choice(KINDS)
        field = {"id": f"f{number}", "name": f"Field {number}", "kind": kind, "list": "beds", "long": dice.random() < 0.5}
        fields.append({"id": field["id"], "name": field["name"], "width": dice.randint(40, 260), "field": field, "kind": kind, "long": kind == "effect", "marked": dice.random() < 0.5})
    own = [{"id": each, "name": each, "width": 70, "field": None, "kind": each, "long": False} for each in ("code", "type", "verdict")]
    name = {"id": "name", "name": "Name", "width": 162, "field": {"id": "name", "name": "Name", "kind": "text", "long": False}, "kind": "text", "long": False}
    return [own[0], name, own[1], *fields, own[2]]


def some_layout(dice: Random, columns: list[dict]) -> dict:
    ids = [each["id"] for each in columns] + ["gone", "gone too"]
    return {
        "order": dice.sample(ids, dice.randint(0, len(ids))), "hidden": dice.sample(ids, dice.randint(0, 4)),
        "widths": {each: dice.choice([-5, 0, 1, 36, 120, 899, 5_000]) for each in dice.sample(ids, dice.randint(0, 5))}, "frozen": dice.randint(0, 6),
    }  # fmt: skip


def test_a_layout_shows_each_column_once_and_within_the_bounds_of_width(page_code: PageCode):
    dice = Random(f"{SEED} layout")
    cases = [(columns := some_columns(dice), some_layout(dice, columns)) for _ in range(120)]
    found = page_code("return given.map(([columns, layout]) => [page.layout.ordered(columns, layout), page.layout.laidOut(columns, layout)]);", cases)
    for (columns, layout), (ordered, shown) in zip(cases, found, strict=True):
        ids = [each["id"] for each in ordered]
        assert sorted(ids) == sorted(each["id"] for each in columns), SEED
        wanted = [each for each in layout["order"] if each in ids]
        assert [each for each in ids if each in wanted] == wanted, "those laid out keep the order that was laid out"
        assert [each["id"] for each in shown] == ([each for each in ids if each not in layout["hidden"]] or ids[:1])
        for each in shown:
            asked = layout["widths"].get(each["id"])
            assert not asked or each["width"] == max(LEAST, min(WIDEST, asked)), (each, asked)


def test_columns_give_way_in_a_narrow_room_and_never_change_their_order(page_code: PageCode):
    dice = Random(f"{SEED} fitted")
    cases = [(some_columns(dice), dice.choice([0, 200, 600, 900, 1_200, 3_000])) for _ in range(120)]
    script = """const plain = { order: [], hidden: [], widths: {}, frozen: 2 };
    return given.map(([columns, room]) => page.layout.fitted(columns, plain, room));"""
    for (columns, room), fitted in zip(cases, page_code(script, cases), strict=True):
        assert [each["id"] for each in fitted] == [each["id"] for each in columns]
        narrower = [new for old, new in zip(columns, fitted, strict=True) if new["width"] < old["width"]]
        wider = [new for old, new in zip(columns, fitted, strict=True) if new["width"] > old["width"]]
        assert all(each["width"] >= LEAST for each in fitted) and "name" not in {each["id"] for each in narrower}
        assert all(each["kind"] == "effect" or each["long"] for each in wider), "what is left over goes to texts"
        if wider:
            assert sum(each["width"] for each in fitted) <= room, SEED
        if room == 0:
            assert not narrower and not wider


def test_a_moved_column_takes_the_others_along_and_comes_back(page_code: PageCode):
    dice = Random(f"{SEED} moved")
    cases = [(columns := some_columns(dice), some_layout(dice, columns), dice.choice(columns)["id"], dice.choice([-30, -2, -1, 0, 1, 2, 30])) for _ in range(100)]
    script = """return given.map(([columns, layout, id, by]) => {
      const before = page.layout.ordered(columns, layout).map((each) => each.id);
      return [before, page.layout.moved(columns, layout, id, by).order];
    });"""
    for (_, _, ident, by), (before, after) in zip(cases, page_code(script, cases), strict=True):
        wanted = [each for each in before if each != ident]
        wanted.insert(max(0, min(len(before) - 1, before.index(ident) + by)), ident)
        assert after == wanted


@pytest.mark.parametrize("kept", [None, {}, {"order": "x", "hidden": 3, "widths": None, "frozen": "many"}, {"frozen": 99}, {"order": [1, 2], "frozen": -4}])
def test_a_stored_layout_of_any_shape_is_read(page_code: PageCode, kept):
    found = page_code("return page.layout.asLayout(given);", kept)
    assert set(found) == {"order", "hidden", "widths", "frozen"} and 0 <= found["frozen"] <= 6
    assert isinstance(found["order"], list) and isinstance(found["hidden"], list) and isinstance(found["widths"], dict)


def test_cards_of_a_hand_lie_within_its_width_and_alike_on_both_sides(page_code: PageCode):
    dice = Random(f"{SEED} hand")
    cases = []
    for _ in range(150):
        look = {"spread": dice.randint(0, 40), "rise": dice.randint(-40, 60), "turn": dice.randint(0, 20), "overlap": dice.choice([0, 0.2, 0.8])}
        cases.append([dice.randint(0, 30), dice.randint(300, 1_200), 120, 168, look])
    for (count, width, card, _, look), laid in zip(cases, page_code("return given.map((each) => page.hand.laid(...each));", cases), strict=True):
        assert len(laid) == count
        for one, other in zip(laid, reversed(laid), strict=True):
            assert abs(one["turn"] + other["turn"]) < 1e-9 and abs(one["top"] - other["top"]) < 1e-9
            assert one["left"] >= -1e-9 and one["left"] + card <= width + 1e-9, (count, width, look)
            assert one["top"] >= -1e-9 and abs(one["turn"]) <= look["turn"] + 1e-9
        steps = [later["left"] - one["left"] for one, later in zip(laid, laid[1:], strict=False)]
        assert all(abs(each - steps[0]) < 1e-9 for each in steps)
        if not look["overlap"]:
            assert all(each <= card + look["spread"] + 1e-9 for each in steps)


def test_names_on_the_map_lie_within_it_and_never_over_each_other(page_code: PageCode):
    dice = Random(f"{SEED} map")
    script = """return given.map(({ map, cards }) => page.map.place(map, cards, (cost) => 60 + cost * 90, (worth) => 500 - worth * 40, 90, [0, 0, 1000, 560], false));"""
    cases = []
    for _ in range(40):
        points = [{"card": f"c{each}", "cost": dice.randint(0, 9), "worth": dice.choice([0, 1, 2, 2.5, 5, 11]) + dice.random() * dice.choice([0, 1])} for each in range(dice.randint(0, 60))]
        ids = [each["card"] for each in points]
        cards = {each: {"type": "plant", "title": "Copper Larch Fern"[: dice.randint(3, 17)]} for each in ids}
        cases.append({"map": {"cards": points, "lines": {"plant": [{"cost": 9, "points": 5}]}, "outliers": dice.sample(ids, min(len(ids), 12))}, "cards": cards})
    for case, placed in zip(cases, page_code(script, cases), strict=True):
        boxes = []
        for each in placed:
            assert abs(each["x"] - (60 + each["point"]["cost"] * 90)) < 45, "a mark keeps to its cost"
            if each["label"]:
                left, top = each["x"] + each["label"]["x"], each["y"] + each["label"]["y"] - 7.5
                boxes.append((left, top, left + len(each["label"]["text"]) * 7.2, top + 15))
        for box in boxes:
            assert box[0] >= 0 and box[1] >= 0 and box[2] <= 1_000 and box[3] <= 560
        for place, one in enumerate(boxes):
            for other in boxes[place + 1 :]:
                assert one[2] <= other[0] or other[2] <= one[0] or one[3] <= other[1] or other[3] <= one[1], (one, other, SEED)
        named = {each["point"]["card"] for each in placed if each["label"]}
        assert named <= set(case["map"]["outliers"])
