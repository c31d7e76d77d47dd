"""The column index of cards: an edit updates it, with other readers active at the same time."""

from __future__ import annotations

from dramok.core.cards.query.column_index import CardIndex
from tests.core.invented_world import RULEBOOK, card

CARDS = tuple(card(name, cost=cost, bed=bed) for name, cost, bed in (("Sprig", 1, "fern"), ("Reed", 2, "moss"), ("Old Root", 3, None)))


def test_an_edit_carries_over_what_is_known_though_others_ask_for_more_meanwhile(monkeypatch):
    before = CardIndex(CARDS, RULEBOOK.cards)
    assert [*before.column("cost")] == [1, 2, 3] and before.folded("bed")[0] == ("fern",)
    reading = CardIndex.value
    asked = iter(("height", "name", "code", "type"))

    def meanwhile(index, each, ident):
        wanted = next(asked, None)
        if wanted is not None and index is not before:
            # Another thread queries the game as it was.
            before.folded(wanted)
        return reading(index, each, ident)

    monkeypatch.setattr(CardIndex, "value", meanwhile)
    edited = (CARDS[0].with_value("cost", 7), *CARDS[1:])
    after = before.edited(edited, ["Sprig"])
    monkeypatch.undo()
    whole = CardIndex(edited, RULEBOOK.cards)
    for ident in ("cost", "bed", "height", "name"):
        assert [*after.column(ident)] == [*whole.column(ident)] and [*after.folded(ident)] == [*whole.folded(ident)]
    assert [*before.column("cost")] == [1, 2, 3]
