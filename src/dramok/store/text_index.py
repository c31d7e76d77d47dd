"""Texts of a game's cards in an in-memory FTS5 index, updated from the cards passed in."""

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
"""Characters of scripts without spaces between words (Thai, Lao, Burmese, Khmer, Japanese, Chinese), where a
word can begin anywhere. FTS5 does not classify the rare ones beyond the first plane.
"""


def plain(text: str) -> str:
    """Normalized text for search: case-folded, without accents, ligatures and other letter forms replaced."""
    if text.isascii():
        return text.lower()
    # a dotless i has the same capital letter
    apart = unicodedata.normalize("NFKD", text.casefold().replace("\u0131", "i"))
    return unicodedata.normalize("NFKC", "".join(sign for sign in apart if not unicodedata.combining(sign))).casefold()


class Said(NamedTuple):
    """The searchable texts of a card. `names`: the names of other cards in its text, by id."""

    text: str
    names: tuple[tuple[str, str], ...] = ()


class TextIndex:
    """Finds cards by word prefixes, ignoring case and accents."""

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
        """The ids of the cards that contain every word of `text` as a word or prefix, ignoring case and
        accents.

        `rules` is a digest of everything else that `text_of` reads: if it changes, all cards are indexed again.
        `called` is the current name of a card by id: if it changes, cards that name it are indexed again. Signs
        that are not words (such as emoji) are searched literally.
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
