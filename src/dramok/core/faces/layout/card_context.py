"""The card being laid out, with the data of the game that placements need."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cached_property, lru_cache

from dramok.core.cards import Back, Card, Choice, PictureField
from dramok.core.cards.schema.card import Value
from dramok.core.cards.schema.fields.picture import is_imported
from dramok.core.cards.values.derived import derived_values
from dramok.core.faces.art.shapes import mix
from dramok.core.faces.layout.symbols import Mark
from dramok.core.faces.layout.text import Fonts, Word, keyword_pattern, words_of
from dramok.core.faces.layout.typeface import Typefaces
from dramok.core.faces.plan.adjustments import Adjustment, adjustments_of
from dramok.core.faces.plan.colours import tint_of
from dramok.core.faces.plan.plan import Side
from dramok.core.rulebook import Rulebook
from dramok.core.wording import PrintedText

NEUTRAL = "#6b6b60"
DARK, LIGHT = "#14201a", "#ffffff"
PLAIN = Adjustment()


@dataclass(frozen=True)
class FaceGame:
    """The input of faces other than plan and card:

    `art` are sizes of pictures in pixels, by SHA-256; `sets` names by id.
    """

    rulebook: Rulebook
    typefaces: Typefaces
    art: Mapping[str, tuple[int, int]]
    sets: Mapping[str, str]

    @cached_property
    def _own(self) -> Mapping[str, Mark]:
        return {each.id: Mark("", each.art, self.art.get(each.art)) for each in self.rulebook.symbols}

    def mark(self, symbol: str | None) -> Mark | None:
        """A symbol by its id, own or built-in; None if unknown."""
        if not symbol:
            return None
        path = self.typefaces.symbols.get(symbol)
        return Mark(path) if path else self._own.get(symbol)

    @cached_property
    def keywords(self) -> tuple[str, ...]:
        return tuple(each.name for each in self.rulebook.keywords)


class CardContext:
    """A card being laid out. `side` is the one being drawn."""

    def __init__(
        self, card: Card, game: FaceGame, text: PrintedText, back: Back | None = None, side: Side = "front"
    ) -> None:
        self.card, self.game, self.text, self.side = card, game, text, side
        self.schema, self.roles = game.rulebook.cards, game.rulebook.roles
        self.back = back or Back()
        self._choices: dict[str, Choice | None] = {}
        self._colours: dict[str, str] = {}

    @cached_property
    def looks(self) -> Mapping[str, Adjustment]:
        return adjustments_of(self.card)

    def look(self, place: str) -> Adjustment:
        return self.looks.get(place, PLAIN)

    @cached_property
    def _derived(self) -> Mapping[str, Value]:
        return derived_values(self.card, self.schema)[0]

    def value(self, field: str) -> Value | None:
        """The value of a field, stored or derived; None if the card's type lacks it."""
        if not self.schema.has_field(self.card.type, field):
            return None
        found = self.schema.field_of(self.card.type, field)
        if found is not None and not found.typed:
            return self._derived.get(field)
        return self.card.values.get(field)

    def choice(self, field: str | None) -> Choice | None:
        """The value of a choice field."""
        if not field:
            return None
        if field not in self._choices:
            choices = self.schema.choices(self.schema.field(field))
            value = self.card.text(field)
            self._choices[field] = choices.get(value) if choices and value else None
        return self._choices[field]

    def colour(self, said: str) -> str:
        """A colour of the plan as #rrggbb; empty for none."""
        if not said.startswith("@"):
            return said
        known = self._colours.get(said)
        if known is None:
            field, sign, amount = tint_of(said)
            if field == "back":
                base = self.back.colour
            else:
                chosen = self.choice(field)
                base = chosen.colour if chosen else NEUTRAL
            known = self._colours[said] = _tint(base, sign, amount) if sign else base
        return known

    def paragraphs(self, field: str) -> list[str]:
        """The text of a text placement, paragraph by paragraph; none if the field is empty."""
        roles = self.roles
        if field in (roles.effect, roles.printed) and field is not None:
            return list(self.text.lines)
        said = self.said(field)
        return said.splitlines() if said else []

    def said(self, field: str) -> str:
        """The value of a field in words."""
        match field:
            case "code":
                return self.card.code
            case "type":
                return self.schema.type(self.card.type).name
            case "set":
                return self.game.sets.get(self.card.set, "")
            case "game":
                return self.game.rulebook.name
            case "back":
                return self.back.title or self.game.rulebook.name
        value = self.value(field)
        if value is None:
            return self.card.code if field == self.roles.name else ""
        found = self.schema.field_of(self.card.type, field)
        return found.said(value, self.schema) if found else str(value)

    def number(self, field: str) -> int | float | None:
        value = self.value(field)
        return value if isinstance(value, int | float) and not isinstance(value, bool) else None

    def tags(self, field: str) -> tuple[str, ...]:
        value = self.value(field)
        if not isinstance(value, tuple):
            return ()
        choices = self.schema.choices(self.schema.field(field))
        return tuple((each.name if (each := choices.get(one)) else one) if choices else one for one in value)

    def picture(self, field: str) -> tuple[str, str]:
        """(field, SHA-256) of a picture; without a field, the first on this side. Empty if there is none."""
        if field:
            text = self.card.text(field)
            return field, text if is_imported(text) else ""
        for each in self.schema.fields_of(self.card.type):
            if (
                isinstance(each, PictureField)
                and each.side == self.side
                and is_imported(self.card.text(each.id))
            ):
                return each.id, self.card.text(each.id)
        return "", ""

    def awaited(self, field: str) -> str:
        """The file name that a picture field waits for; without a field, the first on this side."""
        fields = [
            each.id
            for each in self.schema.fields_of(self.card.type)
            if isinstance(each, PictureField) and (each.id == field or (not field and each.side == self.side))
        ]
        said = (self.card.text(each) for each in fields)
        return next((each for each in said if each and not is_imported(each)), "")

    def symbol(self, ident: str) -> Mark | None:
        """A symbol: that of a resource or stat by its id, or a symbol's own id."""
        return self.game.mark(self.game.rulebook.symbol(ident)) or self.game.mark(ident)

    def field_symbol(self, field: str) -> Mark | None:
        found = self.schema.field(field)
        return self.game.mark(getattr(found, "symbol", None))

    def words(
        self, paragraph: str, fonts: Fonts, symbol_width: float, keyed: bool = False
    ) -> tuple[Word, ...]:
        keywords = self.game.keywords if keyed else ()
        return words_of(paragraph, self.game.typefaces, fonts, symbol_width, keywords)

    def reminders(self) -> list[str]:
        """The reminders of the keywords in the card's text, in order."""
        if not self.game.keywords:
            return []
        meant = {each.name.casefold(): each.reminder for each in self.game.rulebook.keywords}
        pattern = keyword_pattern(self.game.keywords)
        found = dict.fromkeys(each.casefold() for line in self.text.lines for each in pattern.findall(line))
        return [meant[each] for each in found if meant.get(each)]


@lru_cache(maxsize=4096)
def _tint(base: str, sign: str, amount: int) -> str:
    return mix(base, LIGHT if sign == "+" else DARK, amount / 100)
