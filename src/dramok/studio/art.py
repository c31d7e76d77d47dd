"""Pictures brought in for cards."""

from __future__ import annotations

from dramok.store import ArtRecord
from dramok.studio.desk import Desk, Missing, Refused


def keep_picture(desk: Desk, data: bytes) -> str:
    """Stores a picture and gives its SHA-256, which is the value of a picture field. Raises Refused."""
    # The picture library is only needed once somebody brings one: a start is shorter without it.
    from dramok.formats.pictures import NoPicture, read_picture

    try:
        found = read_picture(data)
    except NoPicture as error:
        raise Refused(error.problem) from error
    desk.store.save_art(ArtRecord(found.sha, found.media, found.width, found.height, found.drawn, data))
    return found.sha


def drawn_picture(desk: Desk, sha: str) -> bytes:
    """A picture as faces show it, PNG or JPEG. Raises Missing."""
    found = desk.store.art(sha)
    if found is None:
        raise Missing("there is no such picture")
    return found.drawn
