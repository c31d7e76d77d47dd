"""Texts of a game's cards in an FTS5 index: in memory, brought up to date from the cards it is shown."""

from __future__ import annotations

import re
import sqlite3
import threading
import unicodedata
from collections.abc import Callable, Mapping
from typing import NamedTuple

from dramok.core.cards import Card

_WORD = re.compile(r"[^\W_]+")
_UNSPACED = re.compile(r"[\u0e00-\u0eff\u1000-\u109f\u1780-\u17ff\u3040-\u30ff\u3400-\u9fff\U00010000-\U0010ffff]")
"""Signs of scripts that put no blanks between words (Thai, Lao, Burmese, Khmer, Japanese, Chinese): in them a word can begin anywhere. Of the rare
ones beyond the first plane the index does not know which are letters."""


def plain(text: str) -> str:
    """A text as it is looked through: casefolded, without accents and other marks on letters, ligatures and other forms of letters as the letters."""
    if text.isascii():
        return text.lower()
    # A dotless i is written with the same capital.
    apart = unicodedata.normalize("NFKD", text.casefold().replace("\u0131", "i"))
    return unicodedata.normalize("NFKC", "".join(sign for sign in apart if not unicodedata.combining(sign))).casefold()


class Said(NamedTuple):
    """What a card is found by. `names`: other cards that it names, by id, as they are called."""

    text: str
    names: tuple[tuple[str, str], ...] = ()


class TextIndex:
    """Finds cards by the beginnings of words, whatever their case and accents."""

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self._database = sqlite3.connect(":memory:", check_same_thread=False, isolation_level=None)
        self._database.execute(
            "CREATE VIRTUAL TABLE words USING fts5(text, tokenize = 'unicode61 remove_diacritics 2', prefix = '2 3')"
        )
        self._seen: dict[str, tuple[int, Card, tuple[tuple[str, str], ...]]] = {}
        self._rules = ""
        self._followed: Mapping[str, Card] | None = None
        self._next = 1
        self._card_of: dict[int, str] = {}

    def holding(
        self,
        text: str,
        cards: Mapping[str, Card],
        rules: str,
        text_of: Callable[[Card], Said],
        called: Callable[[str], str] = str,
    ) -> frozenset[str]:
        """The ids of the cards that hold every word of `text`, or words that begin so, whatever case and accents they are written in.

        `rules` names the state of whatever else `text_of` reads: when it is another, everything is read anew. `called`: what a card, by id, is
        called now: where others name it, they are read anew when that is another name.
        Signs that are no words (such as emoji) are looked for as they stand.
        """
        with self._lock:
            self._follow(cards, rules, text_of, called)
            text = plain(text)
            words = _WORD.findall(text)
            within = [word for word in words if _UNSPACED.search(word)]
            first = " ".join(f'"{word}"*' for word in words if word not in within)
            wanted = [("words MATCH ?", first)] if first else []
            wanted += [("instr(text, ?)", each) for each in within or ([] if first else [text.strip()])]
            asked = " AND ".join(condition for condition, _ in wanted)
            rows = self._database.execute(f"SELECT rowid FROM words WHERE {asked}", [each for _, each in wanted])
            card_of = self._card_of
            return frozenset([card_of[row[0]] for row in rows])

    def _follow(
        self, cards: Mapping[str, Card], rules: str, text_of: Callable[[Card], Said], called: Callable[[str], str]
    ) -> None:
        if rules == self._rules and cards is self._followed:
            return
        self._followed = cards
        if rules != self._rules:
            self._database.execute("DELETE FROM words")
            self._seen.clear()
            self._rules = rules
        seen = self._seen
        changed = [
            card
            for ident, card in cards.items()
            if (known := seen.get(ident)) is None
            or known[1] is not card
            or (known[2] and any(called(other) != name for other, name in known[2]))
        ]
        gone = (
            [ident for ident in seen if ident not in cards] if len(seen) + len(changed) > len(cards) else []
        )
        if not changed and not gone:
            return
        old = [(seen[card.id][0],) for card in changed if card.id in seen] + [
            (seen.pop(ident)[0],) for ident in gone
        ]
        self._database.execute("BEGIN")
        self._database.executemany("DELETE FROM words WHERE rowid = ?", old)
        rows = []
        for card in changed:
            said = text_of(card)
            seen[card.id] = (self._next, card, said.names)
            rows.append((self._next, plain(said.text)))
            self._card_of[self._next] = card.id
            self._next += 1
        self._database.executemany("INSERT INTO words (rowid, text) VALUES (?, ?)", rows)
        self._database.execute("COMMIT")
