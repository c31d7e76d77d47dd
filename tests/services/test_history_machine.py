"""State machine: edits of cards, decks and face plans, undo and redo by two pages; journal, snapshot, file and faces always agree."""

from __future__ import annotations

import shutil
import tempfile
from pathlib import Path

from hypothesis import settings
from hypothesis import strategies as st
from hypothesis.stateful import Bundle, RuleBasedStateMachine, consumes, invariant, rule

from dramok.core.faces.plan.adjustments import Adjustment
from dramok.core.faces.plan.plan import Variant
from dramok.services import Conflict, Missing, Refused, open_workspace
from dramok.services.cards.card_detail import detail_of, make_detail
from dramok.services.cards.card_edits import add_card, edit_field, retire_cards
from dramok.services.decks.edits import add_deck, set_count
from dramok.services.faces.adjustments import set_adjustments
from dramok.services.faces.face_plans import PlanEdit, edit_plan, make_plan
from dramok.services.history.undo import next_steps, redo, undo

GAME = "ribbon-season"
_template: list[Path] = []


def template() -> Path:
    """The demo database, made once."""
    if not _template:
        path = Path(tempfile.mkdtemp()) / "demo.db"
        open_workspace(path).close()
        _template.append(path)
    return _template[0]


pages = st.sampled_from(["one", "two"])
CARDS = [f"c-ribbon-season-rs-{number:03}" for number in (1, 2, 17)]
VALUES = {
    "cost": ["0", "3", "7", "x"], "name": ["", "Larch", "Ünïcode 🌿"], "bed": ["Fern", "moss", "nowhere", ""], "tags": ["climber", "a, b", ""],
    "effect": ["upon play this: draw 1", "upon play this: drw 1", "", "always: raise height of this by 1\nupon leave this: gain 1 water"],
}  # fmt: skip


PLANS = [f"f-{GAME}-{each}" for each in ("base", "plant", "weather", "gone")]
PATCHES = [
    {"x": 20.0},
    {"y": 4.5, "off": True},
    {"off": None},
    {"largest": 3.0},
    {"ink": "blue"},
    None,
    {"kind": "panel", "fill": "@bed"},
]


class History(RuleBasedStateMachine):
    made = Bundle("made")

    def __init__(self) -> None:
        super().__init__()
        self.path = Path(tempfile.mkdtemp()) / "own.db"
        shutil.copy(template(), self.path)
        self.workspace = open_workspace(self.path)
        self.live = {"one", "two"}

    def teardown(self) -> None:
        self.workspace.close()
        shutil.rmtree(self.path.parent)

    def attempt(self, act) -> bool:
        """Whether it was written; what is refused leaves everything as it was."""
        before = self.workspace.game(GAME)
        try:
            act()
        except (Refused, Conflict, Missing):
            assert self.workspace.game(GAME) is before
            return False
        return True

    @rule(
        page=pages,
        card=st.sampled_from(CARDS),
        field=st.sampled_from(sorted(VALUES)),
        choice=st.integers(0, 3),
    )
    def edit(self, page, card, field, choice):
        typed = VALUES[field][choice % len(VALUES[field])]
        if card in self.workspace.game(GAME).cards:
            self.attempt(
                lambda: edit_field(self.workspace, GAME, card, field, typed, self.workspace.game(GAME).seq, page)
            )

    @rule(target=made, page=pages)
    def add(self, page):
        return add_card(self.workspace, GAME, "plant", "first", page)[1]

    @rule(page=pages, card=consumes(made))
    def retire(self, page, card):
        if card in self.workspace.game(GAME).cards:
            retire_cards(self.workspace, GAME, [card], page)

    @rule(page=pages, count=st.integers(0, 4), card=st.sampled_from(CARDS))
    def deck(self, page, count, card):
        deck = min(self.workspace.game(GAME).decks)
        self.attempt(lambda: set_count(self.workspace, GAME, deck, card, count, self.workspace.game(GAME).seq, page))

    @rule(
        page=pages,
        plan=st.sampled_from(PLANS),
        place=st.sampled_from(["name", "picture", "height", "new"]),
        patch=st.sampled_from(PATCHES),
    )
    def lay_out(self, page, plan, place, patch):
        edit = PlanEdit({place: patch})
        self.attempt(lambda: edit_plan(self.workspace, GAME, plan, edit, self.workspace.game(GAME).seq, page))

    @rule(page=pages, kind=st.sampled_from(["plant", "weather"]), variant=st.booleans())
    def new_plan(self, page, kind, variant):
        wanted = Variant(field="rarity", value="garden") if variant else None
        self.attempt(lambda: make_plan(self.workspace, GAME, kind, "front", wanted, page))

    @rule(
        page=pages,
        card=st.sampled_from(CARDS),
        look=st.sampled_from([Adjustment(), Adjustment(across=2.5), Adjustment(size=3.3)]),
    )
    def adjust(self, page, card, look):
        if card in self.workspace.game(GAME).cards:
            self.attempt(lambda: set_adjustments(self.workspace, GAME, [card], {"picture": look, "name": look}, page))

    @rule(page=pages)
    def new_deck(self, page):
        add_deck(self.workspace, GAME, "Another", page)

    @rule(page=pages)
    def undo_then_redo_is_nothing(self, page):
        before = contents(self.workspace)
        if self.attempt(lambda: undo(self.workspace, GAME, page, self.live)):
            redo(self.workspace, GAME, page, self.live)
            assert contents(self.workspace) == before

    @rule(page=pages)
    def undo(self, page):
        known = stacks_of(self.workspace, page, self.live)[0]
        if self.attempt(lambda: undo(self.workspace, GAME, page, self.live)):
            assert stacks_of(self.workspace, page, self.live)[0] == known[:-1]

    @rule(page=pages)
    def leave_as_it_is(self, page):
        self.attempt(lambda: undo(self.workspace, GAME, page, self.live, how="pass"))

    @invariant()
    def next_steps_are_the_ends_of_the_stacks(self):
        for page in ("one", "two", "new"):
            told = next_steps(self.workspace, GAME, page, self.live)
            undone, redone = stacks_of(self.workspace, page, self.live)
            assert (told.undo.seq if told.undo else None) == (undone[-1] if undone else None)
            assert (told.redo.seq if told.redo else None) == (redone[-1] if redone else None)

    @rule(page=pages)
    def redo(self, page):
        self.attempt(lambda: redo(self.workspace, GAME, page, self.live))

    @rule()
    def restart(self):
        self.workspace.close()
        self.workspace = open_workspace(self.path)

    @invariant()
    def file_and_memory_agree(self):
        other = open_workspace(self.path)
        assert contents(other) == contents(self.workspace)
        assert {c.id: (c.revision, c.seq) for c in other.game(GAME).cards.values()} == {
            c.id: (c.revision, c.seq) for c in self.workspace.game(GAME).cards.values()
        }
        kept, fresh = self.workspace.game(GAME), other.game(GAME)
        for ident in CARDS:
            if ident in kept.cards:
                assert (
                    detail_of(kept, kept.cards[ident]).digest == make_detail(fresh, fresh.cards[ident]).digest
                )
        other.close()


def stacks_of(workspace, page, live):
    """Undo and redo told the slow and plain way: from the first op to the last, as two stacks of numbers."""
    undone, redone = [], []
    for op in workspace.store.ops(GAME, newest=10**6):
        mine = op.page == page or op.page not in live
        if op.kind in ("kept", "founding"):
            continue
        if op.kind == "edit" and mine:
            undone.append(op.seq)
            redone.clear()
        elif op.kind == "undo":
            undone = [each for each in undone if each != op.inverse_of]
            redone += [op.seq] if mine else []
        elif op.kind == "redo":
            redone = [each for each in redone if each != op.inverse_of]
            undone += [op.seq] if mine else []
        elif op.kind == "passed":
            undone = [each for each in undone if each != op.inverse_of]
            redone = [each for each in redone if each != op.inverse_of]
    return undone, redone


def contents(workspace):
    game = workspace.game(GAME)
    return (
        {card.id: (card.code, card.type, dict(card.values)) for card in game.cards.values()},
        {deck.id: (deck.name, dict(deck.cards)) for deck in game.decks.values()},
        [(each.id, each.name) for each in game.sets],
        {each.id: dict(each.doc) for each in game.things.values()},
    )


History.TestCase.settings = settings(max_examples=8, stateful_step_count=20, deadline=None)
TestHistory = History.TestCase
