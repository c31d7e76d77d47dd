"""Keywords for a rulebook: their meaning, the number of cards that have them, as Markdown and as a PDF."""

from __future__ import annotations

import pytest

from dramok.services import Refused
from dramok.services.cards.card_detail import detail_of
from dramok.services.output import glossary as rooms
from dramok.services.output.glossary import glossary, plain_markdown
from tests.conftest import GAME


def counted(game, word: str) -> int:
    return sum(word in " ".join(detail_of(game, card).printed.lines) for card in game.cards.values())


def test_each_word_is_listed_with_the_cards_that_print_it(workspace):
    game = workspace.game(GAME)
    told = glossary(game, "md").decode()
    assert told.startswith(f"# {game.name}: keywords\n")
    entries = [line for line in told.splitlines() if line.startswith("**")]
    words = sorted(game.rulebook.keywords, key=lambda each: each.name.casefold())
    assert len(entries) == len(words) > 0
    for line, word in zip(entries, words, strict=True):
        assert line.startswith(f"**{plain_markdown(word.name)}** — {plain_markdown(word.reminder)}")
        number = counted(game, word.name)
        assert line.endswith(f"On {number} card{'' if number == 1 else 's'}." if number else "On no card yet.")
    assert glossary(game, "pdf").startswith(b"%PDF-")


def test_the_cards_are_read_once_however_many_words_there_are(workspace, monkeypatch):
    game, read = workspace.game(GAME), []
    told = glossary(game, "md")
    known = rooms.printed_text
    monkeypatch.setattr(rooms, "printed_text", lambda card, *more: read.append(card.id) or known(card, *more))
    assert glossary(game, "md") == told and read == list(game.cards)


def test_a_game_without_words_and_another_form_are_refused(workspace):
    with pytest.raises(Refused, match="no form docx"):
        glossary(workspace.game(GAME), "docx")
    other = next(each for each in workspace.games() if not each.rulebook.keywords)
    with pytest.raises(Refused, match="has no keywords"):
        glossary(other, "md")


def test_signs_that_markdown_knows_are_shown_as_they_are():
    assert plain_markdown("*Night*  [bloom] <b>\n_1_") == r"\*Night\* \[bloom\] \<b\> \_1\_"
