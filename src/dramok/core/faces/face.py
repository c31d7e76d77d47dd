"""One card's front as marks, with what did not fit."""

from __future__ import annotations

import hashlib
from dataclasses import dataclass

from dramok.core.cards import Back, Card, Choice, NumberField, PictureField
from dramok.core.cards.values import is_brought
from dramok.core.faces.art import UNITS_HIGH, UNITS_WIDE, Scene
from dramok.core.faces.art.grounds import ground
from dramok.core.faces.art.shapes import mix
from dramok.core.faces.marks import Art, Circle, Field, Line, Mark, Path, Picture, Rect, Text
from dramok.core.faces.plan import FAINT, INK, PAPER, PLANS, SOFT
from dramok.core.faces.text import LEADING, fit_lines, fit_one_line
from dramok.core.faces.typeface import Typefaces
from dramok.core.problem import Problem
from dramok.core.rulebook import Rulebook
from dramok.core.wording import PrintedText

DISPLAY, BODY, BODY_ITALIC, FIGURES = "name", "body", "italic", "figures"
SYMBOL_BOX = 256
FONTS = {"": BODY, "bold": FIGURES, "italic": BODY_ITALIC}


@dataclass(frozen=True)
class Face:
    """`width` and `height` in mm; `problems` name what does not fit; `digest` changes exactly when the marks do."""

    width: float
    height: float
    marks: tuple[Mark, ...]
    problems: tuple[Problem, ...]

    @property
    def digest(self) -> str:
        return hashlib.sha256(repr(self.marks).encode()).hexdigest()[:16]


def lay_out(card: Card, rulebook: Rulebook, text: PrintedText, typefaces: Typefaces) -> Face:
    """Lays one face out by the plan. Never fails: what does not fit is cut and named in `problems`."""
    return _Layout(card, rulebook, typefaces).face(text)


def lay_out_back(card: Card, rulebook: Rulebook, back: Back | None, typefaces: Typefaces) -> Face:
    """The back of one card: its own picture there, else `back` (a set's or a type's), else a plain one."""
    plan = PLANS[rulebook.cards.type(card.type).shape]
    art = _art_of(card, rulebook, "back")
    back = back or Back()
    marks: list[Mark] = [Rect(0, 0, plan.width, plan.height, PAPER, plan.corner)]
    inset = 2.6
    wide, high = plan.width - 2 * inset, plan.height - 2 * inset
    if art is not None:
        marks.append(
            Field(art[0], 0, 0, plan.width, plan.height, (Art(0, 0, plan.width, plan.height, art[1]),))
        )
        return Face(plan.width, plan.height, tuple(marks), ())
    marks.append(Rect(inset, inset, wide, high, back.colour, 1.6))
    marks += ground(back.ground, (inset, inset, wide, high), mix(back.colour, "#ffffff", 0.16))
    text, size, _ = fit_one_line(back.title or rulebook.name, typefaces[DISPLAY], wide - 12, 6.4, 2.5)
    middle, plate = plan.height / 2, typefaces[DISPLAY].width(text, size) / 2 + 4
    marks.append(Rect(plan.width / 2 - plate, middle - 5.4, plate * 2, 10.8, PAPER, 1.4))
    marks.append(Text(plan.width / 2, middle + size * 0.32, text, DISPLAY, size, INK, "middle"))
    return Face(plan.width, plan.height, tuple(marks), ())


def _art_of(card: Card, rulebook: Rulebook, side: str) -> tuple[str, str] | None:
    """(field, SHA-256) of the first picture that the card has on a side."""
    for field in rulebook.cards.fields_of(card.type):
        if isinstance(field, PictureField) and field.side == side and is_brought(card.text(field.id)):
            return field.id, card.text(field.id)
    return None


def drawn_by(ident: str) -> str:
    """What a card's own picture is drawn from: its id, without what tells a restored copy of a game from the game."""
    return ident.partition("~")[0]


class _Layout:
    def __init__(self, card: Card, rulebook: Rulebook, typefaces: Typefaces) -> None:
        self.card = card
        self.rulebook = rulebook
        self.roles = rulebook.roles
        self.typefaces = typefaces
        self.plan = PLANS[rulebook.cards.type(card.type).shape]
        self.bed = self._choice(self.roles.faction)
        self.colour = self.bed.colour if self.bed else "#6b6b60"
        self.spine = mix(self.colour, "#14201a", 0.3)
        self.problems: list[Problem] = []

    def face(self, text: PrintedText) -> Face:
        marks: list[Mark] = [
            Rect(0, 0, self.plan.width, self.plan.height, PAPER, self.plan.corner),
            self._picture(),
            self._spine(),
            self._rarity(),
            *self._numbers(),
            self._name(),
            self._kind(),
            self._label(text),
            self._foot(),
        ]
        return Face(self.plan.width, self.plan.height, tuple(marks), tuple(self.problems))

    def _choice(self, field: str | None) -> Choice | None:
        choices = self.rulebook.cards.choices(self.rulebook.cards.field(field))
        return choices.get(self.card.text(field)) if choices else None

    def _picture(self) -> Mark:
        x, y, width, height = self.plan.picture
        art = _art_of(self.card, self.rulebook, "front")
        if art is not None:
            return Field(art[0], x, y, width, height, (Art(x, y, width, height, art[1]),))
        subject = self.rulebook.cards.type(self.card.type).picture
        form = self.bed.form if self.bed else ""
        tags = self.card.tags(self.roles.tags)
        return Picture(
            x,
            y,
            width,
            height,
            UNITS_WIDE,
            UNITS_HIGH,
            Scene(drawn_by(self.card.id), subject, form, self.colour, tags),
        )

    def _spine(self) -> Field:
        edge, corner = self.plan.spine, self.plan.corner
        d = f"M{edge} 0H{corner}A{corner} {corner} 0 0 0 0 {corner}V{self.plan.height - corner}A{corner} {corner} 0 0 0 {corner} {self.plan.height}H{edge}Z"
        marks = (
            Path(d, self.spine),
            Rect(edge - 0.9, 0, 0.35, self.plan.height, mix(self.spine, "#ffffff", 0.35)),
        )
        return Field(self.roles.faction or "", 0, 0, edge, self.plan.height, marks)

    def _rarity(self) -> Field:
        """Notches cut in the outer edge of the spine, near its foot."""
        rarity = self._choice(self.roles.rarity)
        count = rarity.notches if rarity else 0
        top = self.plan.height - 8 - 4.2 * max(count - 1, 0)
        cuts = tuple(
            Path(
                f"M-0.1 {top + 4.2 * k - 1.5:.2f}L2.9 {top + 4.2 * k:.2f}L-0.1 {top + 4.2 * k + 1.5:.2f}Z",
                PAPER,
            )
            for k in range(count)
        )
        return Field(self.roles.rarity or "", 0, top - 2.4, self.plan.spine - 1, self.plan.height - top, cuts)

    def _numbers(self) -> list[Mark]:
        """Cost and stats stacked down the spine, so that a fanned hand shows them."""
        fields = [
            field
            for ident in dict.fromkeys(filter(None, (self.roles.cost, *self.roles.stats)))
            if isinstance(field := self.rulebook.cards.field_of(self.card.type, ident), NumberField)
            and not field.retired
            and not (field.hide_empty and self.card.amount(ident) is None)
        ]
        step = self.plan.step(len(fields))
        return [
            self._plate(
                field,
                self.card.amount(field.id),
                self.plan.first_plate + place * step,
                field.id == self.roles.cost,
            )
            for place, field in enumerate(fields)
        ]

    def _plate(self, field: NumberField, number: int | float | None, top: float, is_cost: bool) -> Field:
        left, size = self.plan.plate_left, self.plan.plate
        shown = "–" if number is None else f"{number:g}"
        em = min(6.6, 6.6 * (size - 1.6) / max(self.typefaces[FIGURES].width(shown, 6.6), 0.01))
        fill, ink = (PAPER, INK) if is_cost else (mix(self.spine, "#000000", 0.35), PAPER)
        marks: list[Mark] = [
            Rect(left, top, size, size, fill, 1.5),
            Text(left + size / 2, top + size / 2 + em * 0.34, shown, FIGURES, em, ink, "middle"),
        ]
        symbol = self.typefaces.symbols.get(field.symbol or "")
        if symbol:
            marks.append(
                Path(
                    symbol,
                    mix(self.spine, "#ffffff", 0.72),
                    left + size / 2 - 1.9,
                    top + size + 0.5,
                    3.8 / SYMBOL_BOX,
                )
            )
        return Field(field.id, left - 0.5, top - 0.5, size + 1, size + 5.2, tuple(marks))

    def _name(self) -> Field:
        x, y, width, height = self.plan.name
        typed = self.card.text(self.roles.name)
        text, size, whole = fit_one_line(
            typed or self.card.code, self.typefaces[DISPLAY], width, *self.plan.name_sizes
        )
        if not whole:
            self._overfull("Name", "the name is too long for its place", "shorten it")
        colour = INK if typed else SOFT
        return Field(
            self.roles.name,
            x - 0.8,
            y - 0.6,
            width + 1.6,
            height,
            (Text(x, y + height * 0.5 + size * 0.3, text, DISPLAY, size, colour),),
        )

    def _kind(self) -> Field:
        x, y, width, height = self.plan.kind
        kind = self.rulebook.cards.type(self.card.type).name
        said = f"{kind} · {self.bed.name}" if self.bed else kind
        tags = ", ".join(self.card.tags(self.roles.tags))
        marks: list[Mark] = [Text(x, y + 3.1, said, FIGURES, 2.7, self.spine)]
        used = self.typefaces[FIGURES].width(said, 2.7) + 2
        if tags:
            text, size, whole = fit_one_line(tags, self.typefaces[BODY_ITALIC], width - used, 2.7, 2.0)
            if not whole:
                self._overfull("Tags", "the tags are too long for their line", "take one out")
            marks.append(Text(x + width, y + 3.1, text, BODY_ITALIC, size, SOFT, "end"))
        return Field(self.roles.tags or "", x - 0.6, y - 0.2, width + 1.2, height, tuple(marks))

    def _label(self, text: PrintedText) -> Field:
        """The text field, ruled like a plant label."""
        x, y, width, height = self.plan.label
        styles = {"bold": self.typefaces[FIGURES], "italic": self.typefaces[BODY_ITALIC]}
        fitted = fit_lines(text.lines, self.typefaces[BODY], width, height, *self.plan.text_sizes, styles)
        step = fitted.size * LEADING
        marks: list[Mark] = [Line(x - 0.6, y - 1.2, x + width + 0.6, y - 1.2, self.spine, 0.28)]
        for line in range(int(height / step)):
            baseline = y + step * (line + 1) - step * 0.22
            marks.append(
                Line(x - 0.6, baseline + step * 0.22, x + width + 0.6, baseline + step * 0.22, FAINT, 0.14)
            )
        for number, runs in enumerate(fitted.lines):
            baseline = y + step * (number + 1) - step * 0.22
            for run in runs:
                if run.text:
                    marks.append(Text(x + run.x, baseline, run.text, FONTS[run.style], fitted.size, INK))
                else:
                    marks += self._inline(run.symbol, x + run.x, baseline, fitted.size)
        if not fitted.whole:
            self._overfull(
                "Effect", "the text does not fit the face", "shorten the effect or its printed text"
            )
            marks.append(Rect(x - 0.6, y + height - 0.5, width + 1.2, 0.9, "#a3283a"))
        field = self.roles.printed if text.overridden else self.roles.effect
        return Field(field or "", x - 1.4, y - 1.8, width + 2.8, height + 2.6, tuple(marks))

    def _inline(self, ident: str, x: float, baseline: float, size: float) -> list[Mark]:
        path = self.typefaces.symbols.get(self.rulebook.symbol(ident) or "")
        if path is None:
            return [Circle(x + size * 0.45, baseline - size * 0.35, size * 0.4, self.spine)]
        return [Path(path, self.spine, x, baseline - size * 0.82, size / SYMBOL_BOX)]

    def _foot(self) -> Field:
        x, y, width, height = self.plan.foot
        code = fit_one_line(self.card.code, self.typefaces[BODY], 30, 2.0, 1.4)[0]
        return Field("code", x - 0.6, y - 2, 32, height, (Text(x, y, code, BODY, 2.0, SOFT),))

    def _overfull(self, where: str, what: str, mend: str) -> None:
        self.problems.append(Problem(where=where, what=what, mend=mend))
