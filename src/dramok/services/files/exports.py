"""Export cards: as tables that can be imported again without loss, and as text tables that the user defined."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from pydantic import ValidationError

from dramok.core.balance.declared.prices import shown as shown_points
from dramok.core.cards import (
    Card,
    FieldKind,
    PictureField,
    Value,
    shown_value,
)
from dramok.core.cards.query.column_index import CardIndex
from dramok.core.cards.schema.fields.picture import is_imported
from dramok.core.effects import Script
from dramok.core.problem import Problem, fold
from dramok.core.wording import printed_text
from dramok.formats.table_formats import FORMS
from dramok.formats.text_table import Read, TextTable, sources_of, text_of
from dramok.services.cards.card_detail import detail_of
from dramok.services.cards.search import find
from dramok.services.workspace import small_entities
from dramok.services.workspace.snapshot import GameSnapshot
from dramok.services.workspace.workspace import Commit, Refused, Workspace
from dramok.store import Key

SOURCES = {
    "title": "Name, or code without one", "code": "Code", "type": "Type", "set": "Set", "printed text": "Text as printed",
    "front picture": "Front picture", "back picture": "Back picture", "back title": "Title of the back", "worth": "Worth", "verdict": "Verdict",
    "sheet file": "Table sheet: file", "sheet place": "Table sheet: place", "sheet column": "Table sheet: column", "sheet row": "Table sheet: row",
    "sheet copies": "Table sheet: copies",
}  # fmt: skip
"""Sources of a text table besides the card fields; those about table sheets are empty without a sheet."""


@dataclass(frozen=True)
class ExportColumn:
    """A column of an export table: `field` is None for code, type and set."""

    heading: str
    id: str
    field: FieldKind | None


def columns_of(game: GameSnapshot) -> list[ExportColumn]:
    """Code, type, set, and each editable field; a field with an ambiguous name is named by its id."""
    schema = game.rulebook.cards
    fields = [each for each in schema.fields if each.typed]
    names = Counter([fold(each.name) for each in fields] + ["code", "type", "set"])
    own = [
        ExportColumn(each.name if names[fold(each.name)] == 1 else each.id, each.id, each) for each in fields
    ]
    name = [each for each in own if each.id == game.rulebook.roles.name]
    rest = [each for each in own if each.id != game.rulebook.roles.name]
    return [
        ExportColumn("Code", "code", None),
        *name,
        ExportColumn("Type", "type", None),
        ExportColumn("Set", "set", None),
        *rest,
    ]


def _cells(game: GameSnapshot, cards: Iterable[Card], columns: Sequence[ExportColumn]) -> Iterator[list[str]]:
    schema, vocabulary = game.rulebook.cards, game.vocabulary
    types = {each.id: each.name for each in schema.types}
    sets = {each.id: each.name for each in game.sets}
    pictures = picture_names(game)
    held = {ident: {each.id for each in schema.fields_of(ident)} for ident in types}
    known: dict[tuple[str, Value], str] = {}

    def shown(found: FieldKind, value: Value | None) -> str:
        if value is None:
            return ""
        if isinstance(value, Script):
            return shown_value(found, value, schema, vocabulary)
        text = known.get((found.id, value))
        if text is None:
            text = shown_value(found, value, schema, vocabulary)
            text = pictures.get(text, text) if isinstance(found, PictureField) else text
            known[found.id, value] = text
        return text

    fields = [(each.field, each.id) for each in columns[1:]]
    for card in cards:
        line = [card.code]
        has, values = held[card.type], card.values
        for found, ident in fields:
            if found is None:
                line.append(types[card.type] if ident == "type" else sets.get(card.set, ""))
            else:
                line.append(shown(found, values.get(ident)) if ident in has else "")
        yield line


def picture_names(game: GameSnapshot) -> Mapping[str, str]:
    """The file name of each picture by its SHA-256, if it is unique."""
    pictures = game.of_kind("picture")
    counts = Counter(fold(each.name) for each in pictures)
    return {
        str(each.doc["sha"]): each.name
        for each in pictures
        if counts[fold(each.name)] == 1 and "." in each.name
    }


def export_table(workspace: Workspace, game: GameSnapshot, form: str, query: str = "") -> bytes:
    """The cards that match a query as CSV, TSV, XLSX or JSON bytes.

    Raises Refused for another format or an invalid query.
    """
    found = FORMS.get(form)
    if found is None:
        raise Refused(
            Problem(
                where="format",
                what=f"there is no format {form[:20]}",
                mend=f"choose one of {', '.join(FORMS)}",
            )
        )
    columns = columns_of(game)
    rows = _cells(game, found_cards(workspace, game, query), columns)
    typed = (
        [
            each.field.in_json(cell) if each.field and cell else cell
            for cell, each in zip(row, columns, strict=True)
        ]
        for row in rows
    )
    return found.write(game.name, [each.heading for each in columns], typed)


@dataclass(frozen=True)
class TablePreview:
    """The start of an export table: headings, the first rows as text, and the number of rows."""

    head: tuple[str, ...]
    rows: tuple[tuple[str, ...], ...]
    total: int


def preview_table(workspace: Workspace, game: GameSnapshot, query: str = "", most: int = 30) -> TablePreview:
    """Preview an export table. Raises Refused for an invalid query."""
    cards, columns = found_cards(workspace, game, query), columns_of(game)
    rows = tuple(tuple(row) for row in _cells(game, cards[:most], columns))
    return TablePreview(tuple(each.heading for each in columns), rows, len(cards))


def found_cards(workspace: Workspace, game: GameSnapshot, query: str) -> Sequence[Card]:
    """The cards that match a query. Raises Refused for an invalid query."""
    found = find(workspace, game, query)
    if found.problem is not None:
        raise Refused(found.problem)
    return found.cards


# Text tables.


def read_layout(document: Mapping[str, Any]) -> TextTable:
    """Parse a text table definition. Raises Refused."""
    try:
        return TextTable.model_validate(document)
    except ValidationError as error:
        first = error.errors()[0]
        where = ".".join(str(part) for part in first["loc"])
        raise Refused(
            Problem(
                where=where or "table", what=f"{where}: {first['msg']}"[:200], mend="set it to something else"
            )
        ) from error


def sources(game: GameSnapshot) -> dict[str, str]:
    """Every source of a text table: id and name."""
    fields = {each.id: each.name for each in game.rulebook.cards.fields if not isinstance(each, PictureField)}
    return {**SOURCES, **fields}


MOST_LINES = 200_000
"""The largest number of copies with a line each in one text table."""


def text_table(workspace: Workspace, game: GameSnapshot, layout: TextTable) -> tuple[str, list[str]]:
    """The text of a text table, and notes on values that had to change.

    Raises Refused for an unknown source, an invalid query, or more than `MOST_LINES` copies.
    """
    must_show(game, layout)
    copies = game.rulebook.roles.copies if layout.each_copy else None
    counted = [(card, max(1, card.number(copies) or 1)) for card in found_cards(workspace, game, layout.query)]
    if sum(count for _, count in counted) > MOST_LINES:
        most, count = max(counted, key=lambda each: each[1])
        raise Refused(
            Problem(
                where="copies",
                what=f"{sum(count for _, count in counted):,} copies are too many at once, {count:,} of them of {most.code}",
                mend=f"make at most {MOST_LINES:,}: fewer copies, or a line for each card",
            )
        )
    read = reader_of(game)
    return text_of(layout, ((read(card), count) for card, count in counted))


def must_show(game: GameSnapshot, layout: TextTable) -> None:
    """Raises Refused if a text table shows an unknown source, or its separator is a quote or line end."""
    if any(each in layout.cut for each in '"\n\r'):
        raise Refused(
            Problem(
                where="separator",
                what="a quote or a line end can't be between cells",
                mend="choose tab, comma, semicolon, bar, or other signs",
            )
        )
    known = sources(game)
    missing = [each for each in sources_of(layout) if each not in known]
    if missing:
        raise Refused(
            Problem(
                where=missing[0],
                what=f"no card has {missing[0][:40]}",
                mend="remove it from the columns, or choose something else",
            )
        )


def reader_of(game: GameSnapshot) -> Callable[[Card], Read]:
    """The function that reads the sources of a text table from a card."""
    table, pictures = game.index, picture_names(game)
    return lambda card: _reader(game, card, table, pictures)


def _reader(game: GameSnapshot, card: Card, table: CardIndex, pictures: Mapping[str, str]) -> Read:
    schema = game.rulebook.cards

    def picture(side: str) -> str:
        for each in schema.fields_of(card.type):
            if isinstance(each, PictureField) and each.side == side and (value := card.text(each.id)):
                return pictures.get(value, f"{value[:12]}.png" if is_imported(value) else value)
        return ""

    def read(source: str) -> str:
        match source:
            case "title":
                return game.title(card)
            case "code":
                return card.code
            case "type":
                return schema.type(card.type).name
            case "set":
                home = game.set_of(card.set)
                return home.name if home else ""
            case "printed text":
                return "\n".join(printed_text(card, game.rulebook, game.vocabulary).lines)
            case "front picture" | "back picture":
                return picture(source.partition(" ")[0])
            case "back title":
                back = game.back_of(card)
                return back.title if back else ""
            case "worth":
                return shown_points(detail_of(game, card).ledger.worth)
            case "verdict":
                ledger = detail_of(game, card).ledger
                return f"{shown_points(ledger.difference, signed=True)} {ledger.judgement}"
        field = schema.field_of(card.type, source)
        if field is None or field.retired:
            return ""
        return shown_value(field, table.value(card, source), schema, game.vocabulary)

    return read


def save_layout(
    workspace: Workspace,
    game_id: str,
    document: Mapping[str, Any],
    page: str,
    ident: str | None = None,
    key: Key | None = None,
) -> tuple[Commit, str]:
    """Save a text table, new or edited; returns its id. Raises Refused, Missing."""
    layout = read_layout(document)
    name = small_entities.named("layout", layout.name)
    doc = {**layout.model_dump(mode="json"), "name": name}
    game = workspace.game(game_id)
    other = small_entities.called(game, "layout", name)
    if other is not None and other.id != ident:
        raise Refused(
            Problem(
                where="name", what=f"there is a text table {other.name} already", mend="choose another name"
            )
        )
    if ident is None:
        return small_entities.make(workspace, game_id, "layout", doc, f"text table {name}", page, key)
    return small_entities.edit(workspace, game_id, "layout", ident, doc, f"text table {name}", page, key), ident


def remove_layout(workspace: Workspace, game_id: str, ident: str, page: str, key: Key | None = None) -> Commit:
    name = small_entities.thing_of(workspace.game(game_id), "layout", ident).name
    return small_entities.take_out(workspace, game_id, "layout", [ident], f"text table {name} removed", page, key)
