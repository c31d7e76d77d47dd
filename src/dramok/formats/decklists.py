"""Read and write deck lists as files: text, CSV and JSON."""

from __future__ import annotations

import csv
import io
import json
from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass
from typing import Any

from dramok.core.cards import Card
from dramok.core.decks import Deck, Format
from dramok.core.decks.list_text import (
    CardNames,
    DeckLine,
    ReadDeck,
    entries_of,
    read_entries,
    read_text,
    write_text,
)
from dramok.core.problem import Problem, fold
from dramok.core.rulebook import Rulebook
from dramok.core.text_checks import InvalidInput, read_json
from dramok.formats.tables import escaped, unescaped

MOST_BYTES = 2 * 1024 * 1024
_COUNTS = ("count", "copies", "number", "quantity", "qty", "amount", "anzahl")
_NAMES = ("name", "card", "title", "card name")
_CODES = ("code", "card code", "id")
_SECTIONS = ("section", "part")
COLUMNS = ("section", "count", "code", "name")


class BadDecklist(ValueError):
    """The file is not a deck list; `problem` has the reason and the fix."""

    def __init__(self, what: str, mend: str) -> None:
        super().__init__(what)
        self.problem = Problem(where="decklist", what=what, mend=mend)


Write = Callable[[Deck, Mapping[str, Card], Rulebook, Format], str]


@dataclass(frozen=True)
class DeckForm:
    """One deck list format."""

    id: str
    name: str
    media: str
    write: Write
    read: Callable[[str, CardNames, Format], ReadDeck]


def read_deck(data: bytes, filename: str, names: CardNames, format_: Format) -> ReadDeck:
    """Read a deck list from a file, by its extension or else its content. Raises BadDecklist."""
    if len(data) > MOST_BYTES:
        raise BadDecklist(f"the file has {len(data) / 1e6:.1f} MB", f"bring at most {MOST_BYTES // 1_048_576} MB")  # fmt: skip
    text = _decoded(data)
    ending = filename.rpartition(".")[2].lower()
    form = FORMS.get("json" if ending == "json" or text.lstrip()[:1] in ("{", "[") and _is_json(text) else "csv" if ending in ("csv", "tsv") else "txt")  # fmt: skip
    assert form is not None
    return form.read(text, names, format_)


def _decoded(data: bytes) -> str:
    for encoding in ("utf-8-sig", "utf-16" if data[:2] in (b"\xff\xfe", b"\xfe\xff") else "cp1252"):
        try:
            return data.decode(encoding)
        except UnicodeDecodeError:
            continue
    return data.decode("latin-1")


def _is_json(text: str) -> bool:
    try:
        json.loads(text)
    except (ValueError, RecursionError):
        return False
    return True


def _write_csv(deck: Deck, cards: Mapping[str, Card], rulebook: Rulebook, format_: Format) -> str:
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(COLUMNS)
    for _, section, held in entries_of(deck, cards, rulebook, format_):
        for card, count in held:
            name = card.text(rulebook.roles.name)
            writer.writerow([escaped(section), count, escaped(card.code), escaped(name)])
    return out.getvalue()


def _read_csv(text: str, names: CardNames, format_: Format) -> ReadDeck:
    sample = text[:4_000]
    delimiter = max(",;\t", key=sample.count)
    try:
        rows = list(csv.reader(io.StringIO(text), delimiter=delimiter))
    except csv.Error as error:
        raise BadDecklist(f"the table cannot be read: {error}", "write it again, or paste the list") from error
    if not rows:
        raise BadDecklist("the file is empty", "choose another file")
    heads = [fold(each) for each in rows[0]]
    places = {
        part: next((heads.index(each) for each in wanted if each in heads), None)
        for part, wanted in (("count", _COUNTS), ("name", _NAMES), ("code", _CODES), ("section", _SECTIONS))
    }
    if places["name"] is None and places["code"] is None:
        raise BadDecklist("no column is called name or code", f"give the columns the heads {', '.join(COLUMNS)}")  # fmt: skip

    def cell(row: list[str], part: str) -> str:
        place = places[part]
        return unescaped(row[place].strip()) if place is not None and place < len(row) else ""

    def entries() -> Iterator[DeckLine]:
        for number, row in enumerate(rows[1:], 2):
            if any(each.strip() for each in row):
                told = delimiter.join(row)
                yield DeckLine(number, told[:200], cell(row, "section"), _whole(cell(row, "count") or "1"), cell(row, "name")[:300], cell(row, "code")[:100])  # fmt: skip

    return read_entries(entries(), names, format_)


def _whole(text: str) -> int:
    """A count as written; 0 for anything that is not a whole number, which is reported."""
    try:
        number = float(text)
        return int(number) if number == int(number) and abs(number) < 10**12 else 0
    except (ValueError, OverflowError):
        return 0


def _write_json(deck: Deck, cards: Mapping[str, Card], rulebook: Rulebook, format_: Format) -> str:
    sections = [
        {
            "section": section,
            "cards": [{"code": card.code, "name": card.text(rulebook.roles.name), "count": count} for card, count in held],
        }
        for _, section, held in entries_of(deck, cards, rulebook, format_)
    ]  # fmt: skip
    document = {"name": deck.name, "rules": format_.name, "sections": sections}
    return json.dumps(document, ensure_ascii=False, indent=1) + "\n"


def _read_json(text: str, names: CardNames, format_: Format) -> ReadDeck:
    try:
        document = read_json(text)
    except InvalidInput as error:
        raise BadDecklist(str(error)[:160], "bring a decklist that Dramok wrote, or paste the list") from error
    held = document if isinstance(document, dict) else {"cards": document}
    entries = []
    for part in _parts(held):
        section = part.get("section", "")
        for number, each in enumerate(_cards(part.get("cards")), 1):
            count = each.get("count", 1)
            whole = (
                _whole(str(count)[:20])
                if isinstance(count, int | float) and not isinstance(count, bool)
                else 0
            )
            entries.append(DeckLine(number, json.dumps(each, ensure_ascii=False)[:200], str(section)[:100], whole, str(each.get("name", ""))[:300], str(each.get("code", ""))[:100]))  # fmt: skip
    if not entries:
        raise BadDecklist("no cards are in it", 'write {"cards": [{"count": 3, "name": "..."}]}')
    return read_entries(entries, names, format_, str(held.get("name", "")), str(held.get("rules", "")))


def _parts(document: dict[str, Any]) -> Iterator[dict[str, Any]]:
    yield {"cards": document.get("cards")}
    sections = document.get("sections")
    if isinstance(sections, dict):
        yield from ({"section": name, "cards": cards} for name, cards in sections.items())
    elif isinstance(sections, list):
        yield from (each for each in sections if isinstance(each, dict))


def _cards(held: Any) -> Iterator[dict[str, Any]]:
    """Cards as a list of objects, of names, or as an object of counts by name or code."""
    if isinstance(held, dict):
        yield from ({"name": name, "count": count} for name, count in held.items())
    elif isinstance(held, list):
        for each in held:
            if isinstance(each, dict):
                yield each
            elif isinstance(each, str):
                yield {"name": each}


FORMS: Mapping[str, DeckForm] = {
    each.id: each
    for each in (
        DeckForm("txt", "Text", "text/plain; charset=utf-8", write_text, read_text),
        DeckForm("csv", "CSV", "text/csv; charset=utf-8", _write_csv, _read_csv),
        DeckForm("json", "JSON", "application/json", _write_json, _read_json),
    )
}
