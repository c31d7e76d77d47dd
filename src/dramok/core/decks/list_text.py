"""Deck lists as text: `3 Copper Larch`, with sections, codes and comments, parsed tolerantly without wrong guesses."""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from difflib import SequenceMatcher
from typing import NamedTuple
from unicodedata import combining, normalize

from dramok.core.cards import Card
from dramok.core.decks.deck import MAIN, MOST_COPIES, Deck
from dramok.core.decks.deck_rules import Format
from dramok.core.problem import close_names, fold
from dramok.core.rulebook import Rulebook

MOST_CHARACTERS = 1_000_000
MOST_LINES = 20_000
MOST_TROUBLES = 200
MOST_OPTIONS = 5
MOST_COMPARED = 300_000
"""The number of names per list that are compared for similarity: about two seconds."""
SURE, NEAR = 0.86, 0.6
"""The similarity above which the only such name is used; and the one above which names are suggested."""
_NUMBER = r"[+-]?(?:\d{1,3}(?:[.,_]\d{3})+|\d+)"
_COUNTED = re.compile(rf"^(?P<count>{_NUMBER})(?P<name>\s+\S.*|\s*[x×]\s+\S.*|\s*×\S.*)$", re.IGNORECASE)
_AFTER = re.compile(rf"^(?P<name>.*\S)\s+[x×]\s*(?P<count>{_NUMBER})$", re.IGNORECASE)
_TIMES = re.compile(r"^[x×]\s+|^×", re.IGNORECASE)
_CODE = re.compile(r"^(?P<name>.*?)\s*[(\[](?P<code>[^()\[\]]+)[)\]]\s*$")
_HEADING = re.compile(
    r"^(?:\[(?P<one>[^\]]+)\]|=+\s*(?P<two>[^=]+?)\s*=*|(?P<three>[^:]{1,60}?)\s*(?:\(\d+\))?:)\s*$"
)
_SAID = re.compile(r"^(?P<key>name|rules)\s*:\s*(?P<value>\S.*)$", re.IGNORECASE)


@dataclass(frozen=True)
class Trouble:
    """A line (from 1) that was left out, or read differently from its text:

    `taken`. `options` are ids of cards that it may mean.
    """

    line: int
    text: str
    what: str
    mend: str
    options: tuple[str, ...] = ()
    taken: bool = False


class DeckLine(NamedTuple):
    """One card of a list, with the section as written, empty for the main one."""

    line: int
    text: str
    section: str
    copies: int
    name: str
    code: str = ""


@dataclass(frozen=True)
class ReadDeck:
    """A parsed deck list.

    `sections` are counts by section id, the main one under `MAIN`; `trouble_count` counts all problems.
    """

    name: str = ""
    rules: str = ""
    sections: Mapping[str, Mapping[str, int]] = field(default_factory=dict)
    troubles: tuple[Trouble, ...] = ()
    trouble_count: int = 0

    @property
    def cards(self) -> int:
        return sum(sum(counts.values()) for counts in self.sections.values())

    @property
    def refused(self) -> int:
        """The number of listed lines that were left out."""
        return sum(not each.taken for each in self.troubles)

    def onto(self, deck: Deck) -> Deck:
        """The deck with the parsed cards in place of its own."""
        rest = {ident: dict(counts) for ident, counts in self.sections.items() if ident != MAIN and counts}
        return replace(deck, cards=dict(self.sections.get(MAIN, {})), sections=rest)


class CardNames:
    """Finds the card for a written name: by code, by name, or by similarity."""

    def __init__(self, cards: Iterable[Card], rulebook: Rulebook) -> None:
        self.codes: dict[str, str] = {}
        self.names: dict[str, list[str]] = {}
        self.plain: dict[str, list[str]] = {}
        self.shown: dict[str, str] = {}
        for card in cards:
            name = card.text(rulebook.roles.name)
            self.codes[fold(card.code)] = card.id
            self.shown[card.id] = f"{name} ({card.code})" if name else card.code
            if name:
                self.names.setdefault(fold(name), []).append(card.id)
                if plain := _plain(name):
                    self.plain.setdefault(plain, []).append(card.id)
        self._near: dict[str, tuple[tuple[str, ...], bool]] = {}
        self._left = MOST_COMPARED

    def exactly(self, text: str) -> tuple[str, ...]:
        """Every card with this code or name; ignoring accents and signs if there is no exact match."""
        code = self.codes.get(fold(text))
        if code is not None:
            return (code,)
        return tuple(self.names.get(fold(text)) or self.plain.get(_plain(text)) or ())

    def nearly(self, text: str) -> tuple[tuple[str, ...], bool]:
        """The cards with similar names, best first, and whether the first is certain.

        In a very long list only the first lines are compared.
        """
        plain = _plain(text)[:80]
        if plain not in self._near:
            self._left -= len(self.plain)
            if self._left < 0:
                return (), False
            self._near[plain] = self._nearest(plain)
        return self._near[plain]

    def _nearest(self, plain: str) -> tuple[tuple[str, ...], bool]:
        if not plain:
            return (), False
        close = close_names(plain, self.plain, MOST_OPTIONS, NEAR)
        close += [name for name in self.plain if plain in name and name not in close][:MOST_OPTIONS]
        found = tuple(card for name in close for card in self.plain[name])[:MOST_OPTIONS]
        likeness = [SequenceMatcher(None, plain, name).ratio() for name in close[:2]]
        sure = bool(likeness) and likeness[0] >= SURE and (len(likeness) < 2 or likeness[1] < likeness[0] - 0.05)  # fmt: skip
        return found, sure and len(self.plain[close[0]]) == 1


def _plain(text: str) -> str:
    """Letters and digits only, without accents."""
    folded = normalize("NFKD", fold(text))
    kept = "".join(each if each.isalnum() else " " for each in folded if not combining(each))
    return " ".join(kept.split())


def read_text(text: str, names: CardNames, format_: Format) -> ReadDeck:
    """Parse a deck list. Unreadable lines are reported; the others are kept.

    A line is a count and a name, in either order, or a name alone; a code can replace it or follow in brackets.
    `Side:`, `[Side]` or `== Side ==`, or a section's name alone, begins a section. `#` or `//` begins a
    comment; `Name:` and `Rules:` set the name and deck rules.
    """
    building = _Building(names, format_)
    title = rules = ""
    section = ""
    lines = text[:MOST_CHARACTERS].splitlines()
    for number, line in enumerate(lines[:MOST_LINES], 1):
        # A deck name can contain any characters: it has no comment.
        said = _SAID.match(_clean(line))
        if said is not None and not names.exactly(_clean(line)):
            if said["key"].lower() == "name":
                title = said["value"].strip()[:200]
            else:
                rules = said["value"].strip()[:200]
            continue
        bare = _without_comment(_clean(line))
        if not bare:
            continue
        heading = building.heading(bare)
        if heading is not None:
            section = heading
            continue
        building.add(_entry(number, line.strip(), bare, section, names))
    if len(lines) > MOST_LINES or len(text) > MOST_CHARACTERS:
        building.told(Trouble(MOST_LINES, "", "the list is as long as a book: what comes after this line is left out", f"bring at most {MOST_LINES:,} lines"))  # fmt: skip
    return building.read(title, rules)


def read_entries(entries: Iterable[DeckLine], names: CardNames, format_: Format, name: str = "", rules: str = "") -> ReadDeck:  # fmt: skip
    """A deck list from entries, as table files and JSON have them."""
    building = _Building(names, format_)
    for each in entries:
        section = building.section(each.section)
        if section is None:
            building.told(Trouble(each.line, each.text[:200], f"{format_.name} has no section {each.section[:40]}: its cards go into {format_.main}", "name one of its sections", taken=True))  # fmt: skip
        building.add(each._replace(section=section or MAIN))
    return building.read(name[:200], rules[:200])


def _clean(line: str) -> str:
    return line.strip().removeprefix("\ufeff").strip()


def _without_comment(line: str) -> str:
    for mark in ("#", "//"):
        place = line.find(mark)
        # A sign inside a word, such as in a code, is not a comment.
        while place > 0 and not line[place - 1].isspace():
            place = line.find(mark, place + 1)
        if place >= 0:
            line = line[:place]
    return line.strip()


def _entry(number: int, line: str, bare: str, section: str, names: CardNames) -> DeckLine:
    bare = re.sub(r"^[-*•·]\s+", "", bare)
    # A name can begin with a number, or end like a count.
    found = None if names.exactly(bare) else _COUNTED.match(bare) or _AFTER.match(bare)
    if found is None:
        return DeckLine(number, line[:200], section, 1, bare)
    name = found["name"].strip()
    if not names.exactly(name):
        name = _TIMES.sub("", name)
    return DeckLine(number, line[:200], section, _count(found["count"]), name)


def _count(text: str) -> int:
    digits = re.sub(r"[_.,]", "", text)
    return int(digits) if len(digits) < 12 else 10**12


class _Building:
    """A deck list under construction, line by line."""

    def __init__(self, names: CardNames, format_: Format) -> None:
        self.names, self.format = names, format_
        self.sections: dict[str, dict[str, int]] = {}
        self.troubles: list[Trouble] = []
        self.trouble_count = 0
        # A section's name takes priority over its id, and both over common names of a main section.
        self.known = {"main": MAIN, "deck": MAIN, "": MAIN}
        self.known |= {fold(each.id): each.id for each in format_.sections}
        self.known |= {fold(each.name): each.id for each in format_.sections} | {fold(format_.main): MAIN}

    def section(self, name: str) -> str | None:
        folded = fold(name)
        return self.known.get(folded, self.known.get(folded.removesuffix(" deck")))

    def heading(self, bare: str) -> str | None:
        """The section that a line begins; None if it begins none."""
        found = _HEADING.match(bare)
        name = next((each for each in found.groups() if each), "") if found else bare
        known = self.section(name)
        if known is not None and (found or not self.names.exactly(bare)):
            return known
        if found is None or self.names.exactly(bare) or self.names.exactly(name):
            return None
        near = close_names(fold(name), [each for each in self.known if each], 1, 0.8)
        return self.known[near[0]] if near else None

    def told(self, trouble: Trouble) -> None:
        self.trouble_count += 1
        if len(self.troubles) < MOST_TROUBLES:
            self.troubles.append(trouble)

    def add(self, entry: DeckLine) -> None:
        card = self._card(entry)
        if card is None:
            return
        counts = self.sections.setdefault(entry.section, {})
        total = counts.get(card, 0) + entry.copies
        if entry.copies < 1:
            self.told(
                Trouble(
                    entry.line,
                    entry.text,
                    f"{str(entry.copies)[:20]} is not a count of cards",
                    "write 1 or more",
                )
            )
        elif total > MOST_COPIES:
            self.told(Trouble(entry.line, entry.text, f"{min(total, 10**9):,} copies of {self.names.shown[card]}", f"write at most {MOST_COPIES} in all"))  # fmt: skip
        else:
            counts[card] = total

    def meant(self, entry: DeckLine) -> tuple[str, ...]:
        """Every card that a line names exactly: one, several with the same name, or none."""
        tried = [entry.code, entry.name]
        bracketed = _CODE.match(entry.name)
        if bracketed:
            tried = [bracketed["code"].strip(), entry.name, bracketed["name"]]
        several: tuple[str, ...] = ()
        for text in tried:
            found = self.names.exactly(text) if text else ()
            if len(found) == 1:
                return found
            several = several or found
        return several

    def _card(self, entry: DeckLine) -> str | None:
        found = self.meant(entry)
        if len(found) == 1:
            return found[0]
        if found:
            names = ", ".join(self.names.shown[card] for card in found[:MOST_OPTIONS])
            self.told(Trouble(entry.line, entry.text, f"{len(found)} cards have this name: {names}", "write the code behind the name, in brackets", found[:MOST_OPTIONS]))  # fmt: skip
            return None
        bracketed = _CODE.match(entry.name)
        wanted = bracketed["name"] if bracketed and bracketed["name"] else entry.name or entry.code
        near, sure = self.names.nearly(wanted)
        shown = self.names.shown
        if sure:
            self.told(Trouble(entry.line, entry.text, f"read as {shown[near[0]]}", "change the line if another card is meant", near, taken=True))  # fmt: skip
            return near[0]
        mend = f"did you mean {' or '.join(shown[card] for card in near[:3])}?" if near else "write a name or a code of a card of this game"  # fmt: skip
        self.told(Trouble(entry.line, entry.text, f"there is no card {wanted[:60]}", mend, near))
        return None

    def read(self, title: str, rules: str) -> ReadDeck:
        sections = {ident: counts for ident, counts in self.sections.items() if counts}
        return ReadDeck(title, rules, sections, tuple(self.troubles), self.trouble_count)


def in_order(
    counts: Mapping[str, int], cards: Mapping[str, Card], rulebook: Rulebook
) -> list[tuple[Card, int]]:
    """The cards of a section with their counts, by cost, then name, then code. Removed cards are left out."""
    roles = rulebook.roles
    held = [(cards[ident], count) for ident, count in counts.items() if ident in cards]
    return sorted(
        held,
        key=lambda pair: (
            cost if (cost := pair[0].amount(roles.cost)) is not None else float("inf"),
            fold(pair[0].text(roles.name)),
            pair[0].code,
        ),
    )


def entries_of(
    deck: Deck, cards: Mapping[str, Card], rulebook: Rulebook, format_: Format
) -> Iterator[tuple[str, str, Sequence[tuple[Card, int]]]]:
    """(id of a section, its name, its cards in order) for every section with cards; the main one always, first."""
    yield MAIN, format_.main, in_order(deck.cards, cards, rulebook)
    for ident, counts in deck.sections.items():
        section = format_.section(ident)
        if counts:
            yield ident, section.name if section else ident, in_order(counts, cards, rulebook)


def write_text(deck: Deck, cards: Mapping[str, Card], rulebook: Rulebook, format_: Format) -> str:
    """A deck list as text; `read_text` parses it."""
    names = CardNames(cards.values(), rulebook)
    reading = _Building(names, format_)
    lines = [f"Name: {deck.name}", f"Rules: {format_.name}", ""]
    for place, (ident, section, held) in enumerate(entries_of(deck, cards, rulebook, format_)):
        if place:
            heading = f"[{section}]"
            known = _without_comment(heading) == heading and reading.heading(heading) == ident
            lines += ["", heading if known else f"[{ident}]"]
        lines += [_line(card, count, reading, rulebook) for card, count in held]
    return "\n".join(lines) + "\n"


def _line(card: Card, count: int, reading: _Building, rulebook: Rulebook) -> str:
    """A card as users write it, if that parses as the card; otherwise its code."""
    name = " ".join(card.text(rulebook.roles.name).split())
    ways = [f"{count} {name} ({card.code})", f"{count} {card.code}", f"{count} {name} [{card.code}]"]
    for way in ways if name else ways[1:2]:
        bare = _without_comment(way)
        entry = _entry(0, way, bare, MAIN, reading.names)
        if bare == way and entry.copies == count and reading.heading(bare) is None and reading.meant(entry) == (card.id,):  # fmt: skip
            return way
    return ways[1]
