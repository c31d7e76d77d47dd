"""Card pictures: PNG, JPEG or SVG files in one archive, named by a pattern."""

from __future__ import annotations

import zipfile
from collections.abc import Callable, Sequence
from contextlib import closing
from dataclasses import dataclass
from typing import BinaryIO, Literal

from pydantic import Field, model_validator

from dramok.core.cards import Card, PictureField, shown_value
from dramok.core.faces import Face
from dramok.core.faces.plan.plan import Side
from dramok.core.faces.plan.sizes import INCH
from dramok.core.output import NoPattern, each_once, file_name, read_pattern
from dramok.core.problem import Frozen, Problem, fold
from dramok.formats.sheet_image import ENDINGS, encoded
from dramok.services.cards.card_detail import detail_of
from dramok.services.faces.drawing import pictures_for
from dramok.services.output.cell_images import MOST_SIDE, Extent, drawn_cells, measures
from dramok.services.output.chosen_cards import CardChoice, CardCopies, Resolved, wanted
from dramok.services.output.job_steps import Made, Tick, unwatched
from dramok.services.workspace.snapshot import GameSnapshot
from dramok.services.workspace.workspace import Refused, Workspace

WORDS = {
    "code": "the card's code", "name": "its name, or its code", "type": "its type", "set": "its set", "deck": "the deck that was chosen", "side": "front or back",
    "number": "its place among those that are made, from 1", "copies": "how many copies there are", "game": "the game's name",
}  # fmt: skip
"""Names that a file name pattern can use besides the fields of the cards."""
SVG_DPI = 300


class PictureOrder(Frozen):
    """An order of card pictures.

    The size is `width` or `height` in pixels or `dpi` (one of them; 300 dpi by default); an SVG has the size of
    the card.
    """

    choice: CardChoice = CardChoice()
    form: Literal["png", "jpeg", "svg"] = "png"
    sides: Literal["front", "back", "both"] = "front"
    dpi: float | None = Field(default=None, ge=20, le=1_200, allow_inf_nan=False)
    width: int | None = Field(default=None, ge=8, le=MOST_SIDE)
    height: int | None = Field(default=None, ge=8, le=MOST_SIDE)
    extent: Extent = "cut"
    quality: int = Field(default=92, ge=30, le=100)
    ground: str = Field(default="#ffffff", pattern=r"^#[0-9a-fA-F]{6}$")
    names: str = Field(default="{code} {name} {side}", max_length=400)

    model_config = {
        "json_schema_extra": {
            "examples": [{"choice": {"cards": "1-10"}, "form": "png", "width": 750, "names": "{code} {name}"}]
        }
    }

    @property
    def choices(self) -> tuple[CardChoice]:
        """The choice of cards; a card with no copies still gets a picture."""
        choice = self.choice
        if choice.copies is None and not choice.deck:
            choice = choice.model_copy(update={"copies": 1})
        return (choice,)

    @model_validator(mode="after")
    def _one_size(self) -> PictureOrder:
        if sum(each is not None for each in (self.dpi, self.width, self.height)) > 1:
            raise ValueError("give one of width, height and dots an inch")
        return self


@dataclass(frozen=True)
class PlannedPicture:
    """One side of a card: its file name, and its width and height in pixels."""

    card: Card
    side: Side
    file: str
    width: int
    height: int


@dataclass(frozen=True)
class PicturePlan:
    order: PictureOrder
    game: GameSnapshot
    title: str
    pictures: tuple[PlannedPicture, ...]
    warnings: tuple[str, ...]

    def face(self, picture: PlannedPicture) -> Face:
        sheet = detail_of(self.game, picture.card)
        return sheet.face if picture.side == "front" else sheet.back


def plan_pictures(
    workspace: Workspace, game: GameSnapshot, order: PictureOrder, cards: Resolved | None = None
) -> PicturePlan:
    """Plan the pictures of an order.

    Raises Refused if no card is chosen, the pattern is invalid, or a picture would be too large; Missing for an
    unknown deck, set or print run.
    """
    found = wanted(workspace, game, order.choices[0], cards[0] if cards else None)
    sides: tuple[Side, ...] = ("front", "back") if order.sides == "both" else (order.sides,)
    words = words_of(game)
    try:
        named = read_pattern(order.names, words)
    except NoPattern as error:
        raise Refused(error.problem) from error
    held = [(card, side) for card, _ in found.cards for side in sides]
    read = _reader(game, found, words, len(found.cards))
    ending = ENDINGS.get(order.form, order.form)
    texts = [file_name(named(read(card, side))) for card, side in held]
    names = each_once(texts)
    pictures = []
    for (card, side), name in zip(held, names, strict=True):
        width, height = _measures(game, order, card)
        pictures.append(PlannedPicture(card, side, f"{name}.{ending}", width, height))
    twice = len({fold(each) for each in texts}) < len(texts)
    warnings = (
        *found.notes,
        *(("names that come twice have a number behind them: add {code} or {side} to the pattern",) if twice else ()),
    )  # fmt: skip
    title = found.deck.name if found.deck else game.name
    return PicturePlan(order, game, title, tuple(pictures), warnings)


def words_of(game: GameSnapshot) -> dict[str, str]:
    """The names that a pattern can use, with their values."""
    schema = game.rulebook.cards
    fields = {each.name: f"its {each.name.lower()}" for each in schema.fields if not isinstance(each, PictureField)}  # fmt: skip
    return {**WORDS, **{name: told for name, told in fields.items() if fold(name) not in WORDS}}


def _reader(
    game: GameSnapshot, found: CardCopies, words: Sequence[str] | dict[str, str], count: int
) -> Callable[[Card, Side], Callable[[str], str]]:
    schema = game.rulebook.cards
    fields = {each.name: each for each in schema.fields}
    places = {card.id: place for place, (card, _) in enumerate(found.cards, 1)}
    digits = len(str(count))

    copies = game.rulebook.roles.copies

    def of(card: Card, side: Side) -> Callable[[str], str]:
        def read(word: str) -> str:
            home = game.set_of(card.set)
            known = {
                "code": card.code, "name": game.title(card), "type": schema.type(card.type).name, "set": home.name if home else "",
                "deck": found.deck.name if found.deck else "", "side": side, "number": str(places[card.id]).zfill(digits), "copies": str(found.deck.copies(card.id) if found.deck else 1 if (own := card.number(copies)) is None else own), "game": game.name,
            }  # fmt: skip
            if word in known:
                return known[word]
            field = schema.field_of(card.type, fields[word].id)
            if field is None or field.retired:
                return ""
            return shown_value(field, game.index.value(card, field.id), schema, game.vocabulary)

        return read

    return of


def _measures(game: GameSnapshot, order: PictureOrder, card: Card) -> tuple[int, int]:
    size = game.faces.worn(card).size
    more = 2 * size.bleed if order.extent == "bleed" else 0
    wide, high = size.width + more, size.height + more
    if order.width is not None:
        width = order.width
    elif order.height is not None:
        width = max(1, round(order.height * wide / high))
    else:
        width = max(1, round(wide / INCH * (order.dpi or 300)))
    found = measures((size.width, size.height), size.bleed, order.extent, width)
    if order.height is not None:
        found = (width, order.height)
    if max(found) > MOST_SIDE:
        raise Refused(
            Problem(
                where="size", what=f"{found[0]:,} x {found[1]:,} pixels are too many", mend=f"keep to {MOST_SIDE:,} on a side"
            )
        )  # fmt: skip
    return found


def make_pictures(
    workspace: Workspace, plan: PicturePlan, out: BinaryIO, tick: Tick = unwatched, workers: int | None = None
) -> Made:
    """Write the archive. Raises job_steps.Stopped if `tick` does."""
    order, total = plan.order, len(plan.pictures)
    done = 0
    with zipfile.ZipFile(out, "w", zipfile.ZIP_STORED) as archive:
        if order.form == "svg":
            from dramok.formats.svg import printed_svg

            for picture in plan.pictures:
                tick(done, total)
                face = plan.face(picture)
                text = printed_svg(
                    face, pictures_for(workspace, [face], SVG_DPI), order.extent == "bleed", order.extent == "square", outlined=True
                )  # fmt: skip
                archive.writestr(picture.file, text, zipfile.ZIP_DEFLATED)
                done += 1
        else:
            for width in dict.fromkeys(each.width for each in plan.pictures):
                same = [each for each in plan.pictures if each.width == width]
                faces = [plan.face(each) for each in same]
                with closing(drawn_cells(workspace, faces, width, order.extent, workers)) as drawn:
                    for picture, face, png in zip(same, faces, drawn, strict=True):
                        tick(done, total)
                        dpi = picture.width / (face.width + (2 * face.size.bleed if order.extent == "bleed" else 0)) * INCH  # fmt: skip
                        size = (picture.width, picture.height)
                        archive.writestr(
                            picture.file, encoded(png, order.form, order.quality, order.ground, size, dpi)
                        )
                        done += 1
    tick(total, total)
    sizes = sorted({(each.width, each.height) for each in plan.pictures})
    facts = {"pictures": total, "cards": len({each.card.id for each in plan.pictures}), "sizes": sizes[:20], "form": order.form}  # fmt: skip
    return Made(f"{file_name(plan.title)} pictures.zip", facts, plan.warnings)
