"""The set of the new cards of an import, and what the plan shows about it."""

from __future__ import annotations

import pytest

from dramok.services.files.sheet_import import Order, plan_import, write_import
from tests.conftest import GAME

SHEET = b"Code,Name,Type,Cost\nRS-001,Copper Larch Fern,Plant,2\nRS-002,Ladder Frond,Plant,2\nRS-900,Late Fern,Plant,3\n"


@pytest.mark.parametrize(
    ("named", "said", "new"),
    [(None, "First Showing", False), ("First Showing", "First Showing", False), ("first showing", "First Showing", False), ("Fresh", "Fresh", True)],
)
def test_the_plan_of_an_update_names_the_set_that_new_cards_go_to(workspace, named, said, new):
    order = Order(match="code", set_name=named)
    plan = plan_import(workspace.game(GAME), SHEET, "late.csv", order)
    assert (plan.set_name, len(plan.added)) == (said, 1)
    commit, _ = write_import(workspace, GAME, SHEET, "late.csv", "one", order)
    (card,) = [each for each in commit.after.cards.values() if each.code == "RS-900"]
    assert commit.after.set_of(card.set).name == said
    assert [each.name for each in commit.after.sets] == ["First Showing", *(["Fresh"] if new else [])]


def test_cells_that_cannot_be_read_may_be_left_empty_so_that_no_row_is_left_out(workspace):
    sheet = b"Name,Type,Cost,Bed\nOne,Plant,a lot,Fern\nTwo,Plant,seven,Fren\nThree,Plant,2,Moss\n"
    plan = plan_import(workspace.game(GAME), sheet, "odd.csv")
    assert [(each.row, each.column, each.value, each.near) for each in plan.intake.refused] == [(2, "Cost", "a lot", None), (3, "Bed", "Fren", "Fern")]
    order = Order(wishes=plan.order.wishes.__class__(leave_empty=True))
    commit, plan = write_import(workspace, GAME, sheet, "odd.csv", "one", order)
    assert [each.notes for each in plan.intake.taken] == [
        ("Cost “a lot” is left empty: “a lot” is not a whole number",),
        ("Cost “seven” is read as 7", "Bed “Fren” is left empty: “Fren” is not among its values"),
        (),
    ]
    made = {each.text("name"): each.values for each in commit.after.cards.values() if each.text("name") in ("One", "Two", "Three")}
    assert (made["One"].get("cost"), made["Two"]["cost"], made["Two"].get("bed")) == (None, 7, None)
