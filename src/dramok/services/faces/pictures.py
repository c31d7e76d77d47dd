"""The pictures of a game: import one or many, match them to cards, list unused and missing ones."""

from __future__ import annotations

import time
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from pathlib import PurePosixPath

from dramok.core.cards import PictureField
from dramok.core.cards.schema.fields.picture import is_imported
from dramok.core.cards.sheets.picture_matching import PlacedPicture, place_pictures
from dramok.core.problem import Problem, fold, plural
from dramok.services.faces.drawing import DRAWINGS
from dramok.services.workspace import small_entities
from dramok.services.workspace.ids import new_ids
from dramok.services.workspace.snapshot import GameSnapshot
from dramok.services.workspace.workspace import NO_PAGE, Commit, Missing, Refused, Workspace
from dramok.store import ArtRecord, Key

SIDES = (128, 256, 512, 1024)
"""The sizes in which pictures are rendered, so that similar sizes share one rendering."""
MOST_SECONDS = 20.0
"""The time limit in seconds for rendering all pictures of one upload."""
MOST_ZIP = 500 * 1024 * 1024
SKIPPED = ("__MACOSX/", ".DS_Store", "Thumbs.db", "desktop.ini")


@dataclass(frozen=True)
class ImportedPicture:
    """An imported file: the SHA-256 of its picture, or why it is not a picture."""

    name: str
    sha: str | None
    problem: Problem | None = None


@dataclass(frozen=True)
class ListedPicture:
    """A picture of the game, with the ids of the cards that show it. `elsewhere`: choices or backs show it."""

    id: str | None
    sha: str
    name: str
    media: str
    width: int
    height: int
    bytes: int
    cards: tuple[str, ...]
    elsewhere: bool


@dataclass(frozen=True)
class EmptyPicturePlace:
    """A place for a picture that is empty, or that waits for a file (`file`)."""

    card: str
    field: str
    file: str


def store_picture(workspace: Workspace, data: bytes) -> str:
    """Store a picture and return its SHA-256, the value of a picture field. Raises Refused."""
    record = _record(data)
    workspace.store.save_art(record)
    return record.sha


def _record(data: bytes) -> ArtRecord:
    """The picture as it is stored. Raises Refused."""
    # Import the picture library only when it is needed: the start is faster.
    from dramok.formats.pictures import NoPicture, read_picture

    try:
        found = read_picture(data)
    except NoPicture as error:
        raise Refused(error.problem) from error
    return ArtRecord(found.sha, found.media, found.width, found.height, found.drawn, found.kept)


def add_pictures(
    workspace: Workspace,
    game_id: str,
    files: Iterable[tuple[str, bytes]],
    key: Key | None = None,
    preview: bool = False,
) -> list[ImportedPicture]:
    """Store pictures and list them under their file names. A file that is not a picture is returned with the
    reason. With `preview`, files are only checked, and nothing is written.

    All renderings together have `MOST_SECONDS`; files left after that are returned unread.
    """
    brought: list[ImportedPicture] = []
    until = time.monotonic() + MOST_SECONDS
    for name, data in files:
        try:
            if time.monotonic() > until:
                raise Refused(
                    Problem(
                        where="picture",
                        what="the pictures before it took too long to draw",
                        mend="bring it in again by itself",
                    )
                )
            brought.append(ImportedPicture(name, _record(data).sha if preview else store_picture(workspace, data)))
        except Refused as error:
            brought.append(ImportedPicture(name, None, error.problem))
    if not preview:
        _list(workspace, game_id, [(each.name, each.sha) for each in brought if each.sha], key)
    return brought


def _list(workspace: Workspace, game_id: str, pictures: Sequence[tuple[str, str]], key: Key | None = None) -> None:
    """Record that these are pictures of the game. This has no undo: an unused picture does no harm."""
    known = {(fold(each.name), each.doc["sha"]) for each in workspace.game(game_id).of_kind("picture")}
    fresh: dict[tuple[str, str], str] = {}
    for name, sha in pictures:
        base = name.replace("\\", "/").rpartition("/")[2][:180] or f"{sha[:12]}.png"
        if (fold(base), sha) not in known:
            fresh.setdefault((fold(base), sha), base)
    if not fresh:
        return
    ids = new_ids("p", len(fresh))
    docs = [
        (ident, {"name": base, "sha": sha})
        for ident, ((_, sha), base) in zip(ids, fresh.items(), strict=True)
    ]
    first = docs[0][1]["name"]
    label = f"picture {first}" if len(docs) == 1 else f"{plural(len(docs), 'picture')} brought"
    workspace.commit(
        game_id, label, NO_PAGE, lambda now: small_entities.made_changes(now, "picture", docs), key=key, kind="kept"
    )


def import_zip(
    workspace: Workspace, game_id: str, data: bytes, key: Key | None = None, preview: bool = False
) -> list[ImportedPicture]:
    """Import every picture of a ZIP, or only check them (`preview`). Raises Refused for a damaged or harmful archive."""
    from dramok.formats.zip_archives import UnsafeArchive, entry, open_archive

    try:
        archive = open_archive(data, MOST_ZIP)
        names = [
            each.filename
            for each in archive.infolist()
            if not each.is_dir()
            and not each.filename.startswith(SKIPPED[0])
            and PurePosixPath(each.filename).name not in SKIPPED
        ]
        return add_pictures(workspace, game_id, ((name, entry(archive, name)) for name in names), key, preview)
    except UnsafeArchive as error:
        raise Refused(error.problem) from error


def match_pictures(
    game: GameSnapshot, files: Sequence[str], field: str | None = None, column: str | None = None
) -> list[PlacedPicture]:
    """Match each file name to a card. Raises Refused if the game has no picture field."""
    schema = game.rulebook.cards
    if not any(isinstance(each, PictureField) for each in schema.fields):
        raise Refused(
            Problem(
                where="pictures",
                what="no card type has a field for pictures",
                mend="add one in Rules first, of kind picture",
            )
        )
    return place_pictures(files, game.cards.values(), schema, game.rulebook.roles.name, field, column)


def listed(workspace: Workspace, game: GameSnapshot) -> tuple[list[ListedPicture], list[EmptyPicturePlace]]:
    """Every picture of the game, and every place without one."""
    schema = game.rulebook.cards
    uses: dict[str, list[str]] = {}
    wanting: list[EmptyPicturePlace] = []
    for card in game.cards.values():
        for each in schema.fields_of(card.type):
            if not isinstance(each, PictureField):
                continue
            value = card.text(each.id)
            if is_imported(value):
                uses.setdefault(value, []).append(card.id)
            elif value or each.side == "front":
                wanting.append(EmptyPicturePlace(card.id, each.id, value))
    elsewhere = {choice.art for each in schema.lists for choice in each.values if choice.art}
    elsewhere |= {each.art for each in game.rulebook.symbols}
    names = {str(each.doc["sha"]): each for each in reversed(game.of_kind("picture"))}
    found = []
    for facts in workspace.store.art_facts([*names, *uses, *elsewhere]):
        thing = names.get(facts.sha)
        found.append(
            ListedPicture(
                thing.id if thing else None, facts.sha, thing.name if thing else f"{facts.sha[:12]}.png", facts.media, facts.width, facts.height,
                facts.bytes, tuple(dict.fromkeys(uses.get(facts.sha, ()))), facts.sha in elsewhere,
            )
        )  # fmt: skip
    return sorted(found, key=lambda each: fold(each.name)), wanting


def remove_pictures(
    workspace: Workspace, game_id: str, idents: Sequence[str], page: str, key: Key | None = None
) -> Commit:
    """Remove pictures from the game's list; undo restores them. Raises Refused for one in use."""
    game = workspace.game(game_id)
    found, _ = listed(workspace, game)
    used = next((each for each in found if each.id in idents and (each.cards or each.elsewhere)), None)
    if used is not None:
        where = game.title(game.cards[used.cards[0]]) if used.cards else "a choice or a symbol"
        raise Refused(
            Problem(where="picture", what=f"{used.name} is on {where}", mend="take it off there first")
        )
    return small_entities.take_out(
        workspace, game_id, "picture", idents, f"{plural(len(idents), 'unused picture')} removed", page, key
    )


def drawn_picture(workspace: Workspace, sha: str, side: int | None = None) -> bytes:
    """A picture as faces show it, PNG or JPEG; `side` limits its longer side in pixels, roughly. Raises Missing."""
    found = workspace.store.art(sha)
    if found is None or not found.width:
        raise Missing("there is no such picture")
    if side is None:
        return found.drawn
    from dramok.formats.pictures import made_small

    step = next((each for each in SIDES if each >= side), SIDES[-1])
    return DRAWINGS.get((sha, step), lambda: made_small(found.drawn, step))
