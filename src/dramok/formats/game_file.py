"""A whole game as one file: JSON and pictures in a ZIP, formatted so that two versions can be compared line by
line.

docs/archive.schema.json has the JSON Schema, generated from these models.
"""

from __future__ import annotations

import io
import json
import zipfile
from collections.abc import Iterable, Iterator, Mapping
from typing import Annotated, Any, Literal

from annotated_types import Ge, Le, MinLen
from pydantic import (
    AfterValidator,
    Field,
    TypeAdapter,
    ValidationError,
)

from dramok.core.balance import PriceList
from dramok.core.decks import Format
from dramok.core.effects import Script
from dramok.core.journal import ENTITIES
from dramok.core.problem import Problem
from dramok.core.rulebook import Rulebook
from dramok.core.text_checks import InvalidInput, read_json
from dramok.formats.json_lines import laid_out_json
from dramok.formats.small_entity_docs import DOCS, MOST_NUMBER, ThingModel
from dramok.formats.zip_archives import UnsafeArchive, entry, open_archive

FORMAT = "dramok-game/1"
MOST_BYTES = 500 * 1024 * 1024
MOST_UNPACKED = 1024 * 1024 * 1024
_ID = r"^[A-Za-z0-9~_.-]+$"
_OLD = (1980, 1, 1, 0, 0, 0)


class Manifest(ThingModel):
    """`dramok.json`.

    A backup has everything; a shared copy has no prices, history, notes, playtests or tracked tables.
    """

    format: Literal["dramok-game/1"] = "dramok-game/1"
    kind: Literal["backup", "shared"]
    game: str = Field(pattern=_ID, max_length=80)
    name: str = Field(min_length=1, max_length=120)
    made: str = Field(max_length=40)
    app: str = Field(default="", max_length=40)
    cards: int = Field(ge=0)
    pictures: int = Field(ge=0)
    seq: int = Field(default=0, ge=0, le=MOST_NUMBER)


class SetPart(ThingModel):
    """An item of `sets.json`."""

    id: str = Field(pattern=_ID, max_length=80)
    name: str = Field(max_length=120)
    code: str = Field(max_length=60)
    pattern: str = Field(default="", max_length=100)
    back: dict[str, Any] | None = None


CardValue = bool | int | float | Annotated[str, Field(max_length=400_000)] | list[str] | Script


class CardPart(ThingModel):
    """An item of `cards/SET.json`.

    `values` by field id: numbers, texts, choice ids, lists of tags, effects as objects.
    """

    id: str = Field(pattern=_ID, max_length=80)
    code: str = Field(min_length=1, max_length=60)
    set: str = Field(max_length=80)
    type: str = Field(max_length=80)
    revision: int = Field(default=1, ge=1, le=MOST_NUMBER)
    seq: int = Field(default=0, ge=0, le=MOST_NUMBER)
    values: dict[str, CardValue] = {}


DeckCounts = dict[str, Annotated[int, Ge(1), Le(10_000)]]
SectionId = Annotated[str, Field(pattern=r"^[^/]*$", min_length=1, max_length=80)]


class DeckPart(ThingModel):
    """An item of `decks.json`: counts by card id; `sections` are those besides the main one, `format` the id of
    its deck rules.
    """

    id: str = Field(pattern=_ID, max_length=80)
    name: str = Field(max_length=200)
    cards: DeckCounts = {}
    sections: dict[SectionId, DeckCounts] = {}
    format: str = Field(default="", max_length=80)
    note: str = Field(default="", max_length=20_000)


class ThingPart(ThingModel):
    """An item of `things/KIND.json`: a view, mark, note, tracked table, text table or picture name (see `DOCS`)."""

    id: str = Field(pattern=_ID, max_length=80)
    doc: dict[str, Any]


class PicturePart(ThingModel):
    """An item of `pictures.json`: the file in `pictures/` and its description."""

    sha: str = Field(pattern=r"^[0-9a-f]{64}$")
    file: str = Field(pattern=r"^[0-9a-f]{64}\.[a-z]{2,5}$")


def _json_text(text: str | None) -> str | None:
    if text is not None:
        read_json(text)
    return text


def _entity(name: str) -> str:
    if name not in ENTITIES:
        raise ValueError(f"the journal knows no {name[:40]}")
    return name


JsonText = Annotated[str | None, AfterValidator(_json_text)]


class ChangePart(ThingModel):
    """`before` and `after` are JSON text, as the journal holds them."""

    entity: Annotated[str, AfterValidator(_entity)] = Field(json_schema_extra={"enum": list(ENTITIES)})
    id: str = Field(pattern=_ID, max_length=80)
    field: str = Field(max_length=200)
    before: JsonText = None
    after: JsonText = None


class OpPart(ThingModel):
    """A line of `history.jsonl`."""

    seq: int = Field(ge=1, le=MOST_NUMBER)
    label: str = Field(max_length=2_000)
    page: str = Field(max_length=80)
    at: str = Field(max_length=40)
    inverse_of: int | None = Field(default=None, ge=0, le=MOST_NUMBER)
    kind: Literal["", "edit", "undo", "redo", "passed", "kept", "founding"] = ""
    changes: tuple[ChangePart, ...]


class ProgramPart(ThingModel):
    """The stored start of a playtest: the rules, the cards of the deck, and their counts."""

    rulebook: Rulebook
    cards: tuple[CardPart, ...]
    deck: dict[str, Annotated[int, Ge(1), Le(10_000)]] = {}
    decks: tuple[dict[str, Annotated[int, Ge(1), Le(10_000)]], ...] = Field(default=(), max_length=4)
    engine: int = Field(default=1, ge=1, le=1_000)
    seat: int = Field(default=0, ge=0, le=3)
    players: tuple[Annotated[str, Field(max_length=40)], ...] = Field(default=(), max_length=4)
    player: str = Field(default="", max_length=40)
    name: str = Field(default="", max_length=200)
    rival: str = Field(default="", max_length=200)
    rival_deck: str = Field(default="", max_length=80)


def sound_program(text: str) -> str:
    """The start of a playtest (a ProgramPart as JSON), unchanged and validated for archives. Raises ValueError."""
    read_json(text)
    found = ProgramPart.model_validate_json(text)
    if not found.deck and not found.decks:
        raise ValueError("it has no deck")
    missing = {card for deck in (found.deck, *found.decks) for card in deck} - {card.id for card in found.cards}
    if missing:
        raise ValueError(f"its deck names a card {min(missing)} that is not among its cards")
    return text


class PlaytestPart(ThingModel):
    """An item of `playtests.json`; `program` has the cards and rules at its start."""

    id: str = Field(pattern=_ID, max_length=80)
    deck: str = Field(max_length=80)
    deck_name: str = Field(max_length=200)
    seed: int = Field(ge=0, le=MOST_NUMBER)
    program: Annotated[str, AfterValidator(sound_program)]
    decisions: tuple[
        tuple[Annotated[str, Field(max_length=40)], int] | tuple[Annotated[str, Field(max_length=40)], int, int], ...
    ]
    at: str = Field(max_length=40)


class GameFile(ThingModel):
    """Everything of a game.

    `pictures` are the imported files, by SHA-256; `fetched` the last answers of tracked tables, by source id.
    """

    manifest: Manifest
    rules: Rulebook
    prices: PriceList | None = None
    formats: tuple[Format, ...]
    sets: tuple[SetPart, ...]
    cards: tuple[CardPart, ...]
    decks: tuple[DeckPart, ...]
    things: dict[str, tuple[ThingPart, ...]] = {}
    playtests: tuple[PlaytestPart, ...] = ()


LISTS: dict[str, Any] = {
    "sets.json": tuple[SetPart, ...], "cards/SET.json": tuple[CardPart, ...], "decks.json": tuple[DeckPart, ...], "things/KIND.json": tuple[ThingPart, ...],
    "pictures.json": tuple[PicturePart, ...], "history.jsonl": OpPart, "playtests.json": tuple[PlaytestPart, ...], "formats.json": Annotated[tuple[Format, ...], MinLen(1)],
    "dramok.json": Manifest, "rules.json": Rulebook, "prices.json": PriceList, **{f"things/{kind}.json (doc)": model for kind, model in DOCS.items()},
}  # fmt: skip
"""The model of each file of an archive."""


class NoGameFile(ValueError):
    """The archive has no readable game. `problem` has the place and the reason."""

    def __init__(self, where: str, what: str, mend: str) -> None:
        super().__init__(what)
        self.problem = Problem(where=where, what=what, mend=mend)


def schema() -> dict[str, Any]:
    """JSON Schema of every file in an archive, by its name."""
    files = {name: TypeAdapter(kind).json_schema() for name, kind in sorted(LISTS.items())}
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "title": f"Files of a {FORMAT} archive",
        "description": "Each key names a file of the ZIP; its value is the schema of that file (of each line, for .jsonl).",
        "files": files,
    }


def write_game(
    file: GameFile,
    history: Iterable[OpPart],
    pictures: Iterable[tuple[str, str, bytes]],
    fetched: Mapping[str, bytes],
) -> bytes:
    """The archive's bytes; equal games give equal bytes. `pictures` are (SHA-256, extension, data)."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED, compresslevel=6) as archive:

        def put(name: str, data: bytes | str, packed: bool = True) -> None:
            info = zipfile.ZipInfo(name, _OLD)
            info.compress_type = zipfile.ZIP_DEFLATED if packed else zipfile.ZIP_STORED
            info.external_attr = 0o644 << 16
            archive.writestr(info, data)

        put("dramok.json", laid_out_json(file.manifest.model_dump(mode="json")))
        put("rules.json", laid_out_json(file.rules.model_dump(mode="json")))
        if file.prices is not None:
            put("prices.json", laid_out_json(file.prices.model_dump(mode="json")))
        put("formats.json", laid_out_json([each.model_dump(mode="json") for each in file.formats]))
        put("sets.json", laid_out_json([each.model_dump(mode="json") for each in file.sets]))
        by_set: dict[str, list[CardPart]] = {}
        for card in file.cards:
            by_set.setdefault(card.set, []).append(card)
        for ident, cards in sorted(by_set.items()):
            put(f"cards/{ident}.json", laid_out_json([dict(each.__dict__) for each in cards]))
        put("decks.json", laid_out_json([each.model_dump(mode="json") for each in file.decks]))
        for kind, held in sorted(file.things.items()):
            put(f"things/{kind}.json", laid_out_json([each.model_dump(mode="json") for each in held]))
        if file.playtests:
            put("playtests.json", laid_out_json([each.model_dump(mode="json") for each in file.playtests]))
        lines = [each.model_dump_json() for each in history]
        if lines:
            put("history.jsonl", "\n".join(lines) + "\n")
        for ident, data in sorted(fetched.items()):
            put(f"fetched/{ident}.bin", data)
        named = []
        for sha, ending, data in pictures:
            named.append({"sha": sha, "file": f"{sha}.{ending}"})
            put(f"pictures/{sha}.{ending}", data, packed=False)
        put("pictures.json", laid_out_json(named))
    return out.getvalue()


class GameReader:
    """Reads an archive and validates its documents. Raises NoGameFile, UnsafeArchive."""

    def __init__(self, data: bytes) -> None:
        if len(data) > MOST_BYTES:
            raise NoGameFile(
                "archive", f"it has over {MOST_BYTES // 1048576} MB", "remove pictures from the game first"
            )
        self._archive = open_archive(data, MOST_UNPACKED)
        self._names = set(self._archive.namelist())
        if "dramok.json" not in self._names:
            raise NoGameFile(
                "archive", "this is not a game that Dramok wrote", "choose a backup or a shared copy"
            )

    def file(self) -> GameFile:
        """Everything except history, pictures and fetched tables."""
        manifest = self._one("dramok.json", Manifest)
        things = {kind: self._things(kind) for kind in DOCS if f"things/{kind}.json" in self._names}
        cards = [
            card
            for name in sorted(self._names)
            if name.startswith("cards/") and name.endswith(".json")
            for card in self._one(name, LISTS["cards/SET.json"])
        ]
        sets = self._one("sets.json", LISTS["sets.json"])
        rules: Rulebook = self._one("rules.json", Rulebook)
        _sound(rules, sets, cards)
        decks = self._one("decks.json", LISTS["decks.json"])
        playtests = (
            self._one("playtests.json", LISTS["playtests.json"]) if "playtests.json" in self._names else ()
        )
        every = [part for parts in things.values() for part in parts]
        for name, parts in (
            ("sets.json", sets),
            ("decks.json", decks),
            ("playtests.json", playtests),
            ("things", every),
        ):
            _told_apart(name, parts)
        return GameFile.model_construct(
            manifest=manifest,
            rules=rules,
            prices=self._one("prices.json", PriceList) if "prices.json" in self._names else None,
            formats=self._one("formats.json", LISTS["formats.json"]),
            sets=sets,
            cards=tuple(cards),
            decks=decks,
            things=things,
            playtests=playtests,
        )

    def _things(self, kind: str) -> tuple[ThingPart, ...]:
        name = f"things/{kind}.json"
        parts: tuple[ThingPart, ...] = self._one(name, LISTS["things/KIND.json"])
        for part in parts:
            self._read(name, DOCS[kind], json.dumps(part.doc).encode())
        return parts

    def history(self) -> Iterator[OpPart]:
        if "history.jsonl" not in self._names:
            return
        for number, line in enumerate(entry(self._archive, "history.jsonl").splitlines(), 1):
            if line.strip():
                yield self._read(f"history.jsonl line {number}", OpPart, line)

    def pictures(self) -> Iterator[tuple[str, bytes]]:
        """(SHA-256, data) of every picture."""
        if "pictures.json" not in self._names:
            return
        for part in self._one("pictures.json", LISTS["pictures.json"]):
            yield part.sha, entry(self._archive, f"pictures/{part.file}")

    def fetched(self, source: str) -> bytes | None:
        name = f"fetched/{source}.bin"
        return entry(self._archive, name) if name in self._names else None

    def _one(self, name: str, kind: Any) -> Any:
        return self._read(name, kind, entry(self._archive, name))

    def _read(self, name: str, kind: Any, data: bytes) -> Any:
        try:
            read_json(data)
            return _adapter(kind).validate_json(data)
        except InvalidInput as error:
            raise NoGameFile(name, f"{name}: {error}"[:300], error.mend) from error
        except ValidationError as error:
            first = error.errors()[0]
            place = " › ".join(str(part) for part in first["loc"])
            raise NoGameFile(
                name, f"{name}: {place}: {first['msg']}"[:300], "correct that place, or take an older backup"
            ) from error


_ADAPTERS: dict[int, TypeAdapter[Any]] = {}


def _adapter(kind: Any) -> TypeAdapter[Any]:
    return _ADAPTERS.setdefault(id(kind), TypeAdapter(kind))


def _told_apart(name: str, parts: Iterable[Any]) -> None:
    """Raises NoGameFile if two entities have the same id."""
    seen: set[str] = set()
    for part in parts:
        if part.id in seen:
            raise NoGameFile(name, f"{name}: two have the id {part.id}", "correct that place")
        seen.add(part.id)


def _sound(rules: Rulebook, sets: Iterable[SetPart], cards: Iterable[CardPart]) -> None:
    """Raises NoGameFile if a card refers to a missing type or set, or an id or a code is repeated."""
    known = {each.id for each in sets}
    seen: set[str] = set()
    for card in cards:
        if not rules.cards.has_type(card.type):
            raise NoGameFile(
                "cards",
                f"card {card.code} is of a type {card.type} that rules.json has not",
                "correct that place",
            )
        if card.set not in known:
            raise NoGameFile(
                "cards", f"card {card.code} is of a set {card.set} that sets.json has not", "correct that place"
            )
        for mark in (f"id {card.id}", f"code {card.code}"):
            if mark in seen:
                raise NoGameFile("cards", f"two cards have the {mark}", "correct that place")
            seen.add(mark)


__all__ = [
    "CardPart", "ChangePart", "DeckPart", "GameFile", "GameReader", "Manifest", "NoGameFile", "OpPart", "PlaytestPart", "SetPart", "ThingPart", "UnsafeArchive",
    "schema", "write_game",
]  # fmt: skip
