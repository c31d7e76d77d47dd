"""Archive a whole game to one file and restore it: a backup with everything, or a copy to share without private
data.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence, Set
from dataclasses import dataclass
from datetime import UTC, datetime
from itertools import count
from typing import Any, cast

from dramok import __version__
from dramok.core.balance import PriceList
from dramok.core.cards import Value
from dramok.core.cards.schema.fields.picture import is_imported
from dramok.core.cards.schema.ids import id_from
from dramok.core.journal import ENTITIES, THINGS
from dramok.core.problem import Problem, fold
from dramok.core.rulebook import Rulebook
from dramok.formats.game_file import (
    CardPart,
    ChangePart,
    DeckPart,
    GameFile,
    GameReader,
    Manifest,
    NoGameFile,
    OpPart,
    PlaytestPart,
    SetPart,
    ThingPart,
    UnsafeArchive,
    write_game,
)
from dramok.services.files.id_remap import IdMap
from dramok.services.workspace.invariants import faults_of
from dramok.services.workspace.snapshot import GameSnapshot, rules_document
from dramok.services.workspace.workspace import NO_PAGE, Refused, Workspace
from dramok.store import (
    ArtRecord,
    Change,
    Contents,
    GameRecord,
    IdsTaken,
    Key,
    Op,
    OpKind,
    PlaytestRecord,
    SetRecord,
    Thing,
    WholeGame,
    card_from,
)
from dramok.store.json_documents import deck_document, deck_of, dump, write_value, write_values
from dramok.store.records import FONT_MEDIA

SHARED_THINGS = tuple(each.name for each in ENTITIES.values() if each.thing and each.shared)
ENDINGS = {
    "image/png": "png",
    "image/jpeg": "jpg",
    "image/webp": "webp",
    "image/gif": "gif",
    "image/svg+xml": "svg",
    "image/bmp": "bmp",
    "image/tiff": "tiff",
    "image/avif": "avif",
    FONT_MEDIA: "ttf",
}


def archive(workspace: Workspace, game: GameSnapshot, shared: bool = False, worths: bool = False) -> bytes:
    """Write the archive: a backup, or a copy to share without prices, notes, history, playtests and tracked
    tables.

    With `worths` a shared copy has the prices except private rows; their effects are undecided there.
    """
    used = used_pictures(game)
    told = _shared_pictures(workspace, used) if shared else _SharedPictures((), {})
    kinds = SHARED_THINGS if shared else THINGS
    things = {
        kind: tuple(
            ThingPart(id=each.id, doc={key: told.sha(value) for key, value in each.doc.items()})
            for each in game.of_kind(kind)
        )
        for kind in kinds
    }
    manifest = Manifest(
        kind="shared" if shared else "backup", game=game.id, name=game.name, made=datetime.now(UTC).isoformat(timespec="seconds"), app=__version__,
        cards=len(game.cards), pictures=len(used), seq=game.seq,
    )  # fmt: skip
    file = GameFile.model_construct(
        manifest=manifest, rules=_with_pictures(game.rulebook, told), prices=(game.prices.shared() if worths else None) if shared else game.prices, formats=game.formats,
        sets=tuple(SetPart(id=each.id, **each.document) for each in game.sets),
        cards=tuple(
            CardPart.model_construct(
                id=card.id, code=card.code, set=card.set, type=card.type, revision=1 if shared else card.revision, seq=0 if shared else card.seq,
                values={name: told.sha(write_value(value)) for name, value in card.values.items()},
            )
            for card in game.cards.values()
        ),
        decks=tuple(DeckPart(id=each.id, **deck_document(each, notes=not shared)) for each in game.decks.values()),
        things={kind: held for kind, held in things.items() if held},
        playtests=() if shared else tuple(
            PlaytestPart(id=each.id, deck=each.deck, deck_name=each.deck_name, seed=each.seed, program=each.program, decisions=each.decisions, at=each.at)
            for each in workspace.store.playtests(game.id, newest=None)
        ),
    )  # fmt: skip
    fetched = {} if shared else {
        each.id: held.taken for each in game.of_kind("source") if (held := workspace.store.fetched(each.id)) is not None and held.taken is not None
    }  # fmt: skip
    return write_game(
        file,
        () if shared else _history(workspace, game),
        told.pictures if shared else _pictures(workspace, used),
        fetched,
    )


def _with_pictures(rulebook: Rulebook, told: _SharedPictures) -> Rulebook:
    """The rules with the pictures of choices under new names."""
    symbols = tuple(each.model_copy(update={"art": told.sha(each.art)}) for each in rulebook.symbols)
    if symbols != rulebook.symbols:
        rulebook = rulebook.model_copy(update={"symbols": symbols})
    if not any(
        choice.art and told.sha(choice.art) != choice.art
        for each in rulebook.cards.lists
        for choice in each.values
    ):
        return rulebook
    lists = tuple(
        each.model_copy(
            update={
                "values": tuple(
                    choice.model_copy(update={"art": told.sha(choice.art)}) for choice in each.values
                )
            }
        )
        for each in rulebook.cards.lists
    )
    return rulebook.model_copy(update={"cards": rulebook.cards.model_copy(update={"lists": lists})})


def used_pictures(game: GameSnapshot) -> list[str]:
    """The SHA-256 of every picture that cards, choices or the picture list name, in order."""
    used = {str(each.doc["sha"]) for each in game.of_kind("picture")}
    for card in game.cards.values():
        used |= {
            value
            for value in card.values.values()
            if isinstance(value, str) and len(value) == 64 and is_imported(value)
        }
    used |= {choice.art for each in game.rulebook.cards.lists for choice in each.values if choice.art}
    used |= {each.art for each in game.rulebook.symbols} | {each.file for each in game.rulebook.fonts}
    return sorted(used)


def _pictures(workspace: Workspace, shas: Sequence[str]) -> Iterator[tuple[str, str, bytes]]:
    for sha, media, data in workspace.store.originals(shas):
        yield sha, ENDINGS.get(media, "png"), data


@dataclass(frozen=True)
class _SharedPictures:
    """Pictures for a shared copy, without metadata such as places, times and names. `shas` maps old to new hashes."""

    pictures: tuple[tuple[str, str, bytes], ...]
    shas: Mapping[str, str]

    def sha(self, value: Any) -> Any:
        return self.shas.get(value, value) if isinstance(value, str) else value


def _shared_pictures(workspace: Workspace, used: Sequence[str]) -> _SharedPictures:
    from dramok.formats.metadata_removal import stripped
    from dramok.formats.pictures import read_picture

    found: dict[str, tuple[str, str, bytes]] = {}
    shas: dict[str, str] = {}
    for sha, media, data in workspace.store.originals(used):
        clean = data if media == FONT_MEDIA else stripped(data, media)
        shas[sha] = sha
        if clean != data:
            read = read_picture(clean)
            shas[sha], media, clean = read.sha, read.media, read.kept
        found[shas[sha]] = (shas[sha], ENDINGS.get(media, "png"), clean)
    return _SharedPictures(tuple(found.values()), shas)


def _history(workspace: Workspace, game: GameSnapshot) -> Iterator[OpPart]:
    for op, changes in workspace.store.history(game.id):
        parts = tuple(
            ChangePart.model_construct(
                entity=cast(Any, each.entity),
                id=each.id,
                field=each.field,
                before=each.before,
                after=each.after,
            )
            for each in changes
        )
        yield OpPart.model_construct(
            seq=op.seq,
            label=op.label,
            page=op.page,
            at=op.at,
            inverse_of=op.inverse_of,
            kind=op.kind,
            changes=parts,
        )


def restore_game(workspace: Workspace, data: bytes, name: str | None = None, key: Key | None = None) -> GameSnapshot:
    """Restore a game, see `_restored`.

    If two restore at once, the later one finds its ids taken and tries others; a repeated key creates nothing.
    """
    for _ in range(3):
        done = workspace.store.game_with_key(key) if key else None
        if done is not None:
            return workspace.game(done)
        try:
            return _restored(workspace, data, name, key)
        except IdsTaken:
            continue
    raise Refused(Problem(where="archive", what="others are bringing games in", mend="try again in a moment"))


def _restored(workspace: Workspace, data: bytes, name: str | None, key: Key | None) -> GameSnapshot:
    """Create a game from an archive as a separate game; nothing is overwritten. Raises Refused.

    Ids stay unless another game in the database has them; then all get a new suffix.
    """
    archive = _parsed(data)
    used = workspace.store.ids()
    theirs = _ids(archive.file, archive.history)
    manifest = archive.file.manifest
    ident = manifest.game if manifest.game not in used else id_from(manifest.name, used, "game")
    new = IdMap(_free_ids(theirs, used) if theirs & used else {})
    title = _title(name) or _title(free_name(workspace, _title(manifest.name) or "Game"))
    whole = _whole_game(archive, ident, title, new, key)
    _check(workspace, whole)
    workspace.store.restore(whole)
    return workspace.game(ident)


@dataclass(frozen=True)
class _Archive:
    """The parts of an archive: its documents, its ops in order, its pictures, and the tables last fetched by the id of their source."""

    file: GameFile
    history: list[OpPart]
    art: list[ArtRecord]
    fetched: list[tuple[str, bytes]]


def _parsed(data: bytes) -> _Archive:
    """Raises Refused for data that is not an archive, or not a safe one."""
    try:
        reader = GameReader(data)
        file = reader.file()
        return _Archive(
            file,
            sorted(reader.history(), key=lambda op: op.seq),
            [_art(sha, picture) for sha, picture in reader.pictures()],
            [
                (each.id, found)
                for each in file.things.get("source", ())
                if (found := reader.fetched(each.id)) is not None
            ],
        )
    except (NoGameFile, UnsafeArchive) as error:
        raise Refused(error.problem) from error
    except RecursionError as error:
        raise Refused(
            Problem(
                where="archive", what="a document in it is nested too deep", mend="choose another archive"
            )
        ) from error


def _whole_game(archive: _Archive, ident: str, title: str, new: IdMap, key: Key | None) -> WholeGame:
    """All records of the restored game, with new ids. The ops are converted one by one while they are written."""
    file, kinds = archive.file, _kinds(archive.history)
    rulebook = file.rules.model_copy(update={"name": title})
    record = GameRecord(
        ident,
        title,
        dump(new.document("game", rules_document(rulebook, file.prices or PriceList(), file.formats))),
    )
    at = datetime.now(UTC).isoformat(timespec="milliseconds")
    return WholeGame(
        record,
        [
            SetRecord(new.id(each.id), each.name, each.code, each.pattern, dump(each.back) if each.back else None)
            for each in file.sets
        ],
        [
            (
                new.id(card.id), card.code, new.id(card.set), card.type, new.effects(write_values(_values(card))), card.revision, card.seq,
            )
            for card in sorted(file.cards, key=lambda card: (card.code, card.id))
        ],
        [(new.id(each.id), new.document("deck", each.model_dump(mode="json", exclude={"id"}))) for each in file.decks],
        [
            Thing(kind, new.id(each.id), new.document(kind, each.doc))
            for kind, held in file.things.items()
            for each in held
        ],
        (
            (
                Op(op.seq, ident, op.label, op.page, op.inverse_of, op.at, kinds[op.seq]),
                [_change(new, each, ident) for each in op.changes],
            )
            for op in archive.history
        ),
        [
            PlaytestRecord(
                new.id(each.id), ident, new.id(each.deck), each.deck_name, each.seed, new.program(each.program), each.decisions, each.at,
            )
            for each in file.playtests
        ],
        archive.art,
        [(new.id(source), found) for source, found in archive.fetched],
        Op(0, ident, f"{file.manifest.kind} of {file.manifest.name} brought in", NO_PAGE, None, at, "founding"),
        key,
    )  # fmt: skip


def _free_ids(theirs: Set[str], used: Set[str]) -> dict[str, str]:
    """A free id for each old one: all with one suffix, which replaces that of an earlier restore if they stay
    distinct.
    """
    for number in count(2):
        shorter = {each: f"{each.partition('~')[0]}~{number}" for each in theirs}
        longer = {each: f"{each[:70]}~{number}" for each in theirs}
        for ids in (shorter, longer):
            if len(set(ids.values())) == len(ids) and not used & set(ids.values()):
                return ids
    raise AssertionError("numbers do not end")


def _kinds(history: Iterable[OpPart]) -> dict[int, OpKind]:
    """The kind of each op; archives from before 0.6 did not store it."""
    kinds: dict[int, OpKind] = {}
    for op in history:
        if op.kind:
            kinds[op.seq] = op.kind
        elif op.inverse_of:
            kinds[op.seq] = "redo" if kinds.get(op.inverse_of) == "undo" else "undo"
        else:
            kinds[op.seq] = _OLD_KINDS.get(op.page, "edit")
    return kinds


_OLD_KINDS: dict[str, OpKind] = {"demo": "founding", "pictures": "kept", "print runs": "kept"}


def _change(new: IdMap, part: ChangePart, game: str) -> Change:
    """A change of the journal with new ids; `game` is the new id of the game."""
    ident = game if part.entity == "game" else new.id(part.id)
    before, after = (new.text(part.entity, part.field, each) for each in (part.before, part.after))
    return Change(part.entity, ident, new.field(part.entity, part.field), before, after)


def _check(workspace: Workspace, whole: WholeGame) -> None:
    """Raises Refused for a game that could not be read, backed up and restored once written."""
    cards = [card_from(*card) for card in whole.cards]
    decks = [deck_of(ident, doc, 0) for ident, doc in whole.decks]
    sizes = {each.sha: (each.width, each.height) for each in whole.art}
    try:
        game = GameSnapshot.of(
            whole.game, Contents(list(whole.sets), cards, decks, list(whole.things), 0), sizes
        )
        fault = next(faults_of(game), None)
        problem = fault.problem if fault else None
    except (ValueError, LookupError, TypeError, AttributeError) as error:
        problem = Problem(
            where="archive",
            what=f"it does not hold together: {str(error)[:200]}",
            mend="choose another archive",
        )
    if problem is not None:
        raise Refused(problem)


def _values(card: CardPart) -> dict[str, Value]:
    """The values of a card as the game holds them: lists as tuples."""
    return {name: tuple(each) if isinstance(each, list) else each for name, each in card.values.items()}


def _art(sha: str, data: bytes) -> ArtRecord:
    from dramok.formats.pictures import NoPicture, read_picture

    if data[:4] == b"\x00\x01\x00\x00":
        return _font(sha, data)
    try:
        found = read_picture(data)
    except NoPicture as error:
        raise NoGameFile(
            "pictures", f"picture {sha[:12]}: {error.problem.what}", "remove it from the archive"
        ) from error
    if found.sha != sha:
        raise NoGameFile(
            "pictures",
            f"picture {sha[:12]} is not the one that the archive speaks of",
            "choose another archive",
        )
    return ArtRecord(sha, found.media, found.width, found.height, found.drawn, found.kept)


def _font(sha: str, data: bytes) -> ArtRecord:
    from dramok.formats.own_fonts import NoFont, prepared

    try:
        found = prepared(data)
    except NoFont as error:
        raise NoGameFile("pictures", f"font {sha[:12]}: {error.problem.what}", "remove it from the archive") from error
    if found != sha:
        raise NoGameFile("pictures", f"font {sha[:12]} is not the one that the archive names", "choose another archive")
    return ArtRecord(sha, FONT_MEDIA, 0, 0, data, data)


def _ids(file: GameFile, history: Iterable[OpPart]) -> set[str]:
    ids = {each.id for each in file.sets} | {each.id for each in file.cards}
    ids |= {each.id for each in file.decks} | {each.id for each in file.playtests}
    ids |= {each.id for held in file.things.values() for each in held}
    ids |= {change.id for op in history for change in op.changes}
    return ids - {file.manifest.game}


def _title(name: str | None) -> str:
    return " ".join((name or "").split())[:120].strip()


def free_name(workspace: Workspace, name: str) -> str:
    names = {fold(each.name) for each in workspace.store.games()}
    number, free = 2, name
    while fold(free) in names:
        free, number = f"{name} {number}", number + 1
    return free
