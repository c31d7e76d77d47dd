"""Face plans: the placements on the face of a card type, in mm, each bound to a field.

A plan holds placements by id. A plan of a type inherits from that of the type it extends, and all inherit from
the game's base plan: a placement of the same id holds only what differs. `read_place` validates a placement
after merging.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Annotated, Any, ClassVar, Literal, get_args

from pydantic import Field, TypeAdapter, ValidationError
from pydantic_core import to_json

from dramok.core.cards.schema.schema import GroundName
from dramok.core.faces.plan.sizes import Size
from dramok.core.problem import Frozen, Problem

Side = Literal["front", "back"]
Font = Literal["name", "body", "italic", "figures"]
Length = Annotated[float, Field(ge=-400, le=800, allow_inf_nan=False)]
Extent = Annotated[float, Field(ge=0, le=800, allow_inf_nan=False)]
Em = Annotated[float, Field(ge=0.4, le=60, allow_inf_nan=False)]
Share = Annotated[float, Field(ge=0, le=1, allow_inf_nan=False)]
Ref = Annotated[str, Field(max_length=60, pattern=r"^[a-z0-9-]*$")]
Colour = Annotated[str, Field(pattern=r"^(|#[0-9a-fA-F]{6}|@[a-z][a-z0-9-]*([+-]\d{1,2})?)$", max_length=80)]
"""Empty: none.

`#rrggbb`. `@bed`: the colour of the card's value in that choice field; `@bed-30` darker by 30 %, `@bed+30`
lighter. `@back`: the colour of the card's back.
"""

MOST_PLACES = 300
MOST_PLANS = 100
INK = "#23281f"


class _Looks(Frozen):
    """Text style: sizes are the em in mm. `rise` is the vertical position in the box."""

    font: Font = "body"
    largest: Em = 3.45
    least: Em = 2.25
    ink: Colour = INK
    align: Literal["start", "middle", "end"] = "start"
    rise: Literal["top", "middle", "bottom"] = "top"
    leading: Annotated[float, Field(ge=0.8, le=3, allow_inf_nan=False)] = 1.32
    balanced: bool = False


class Style(_Looks):
    """A named text style shared by placements."""

    name: str = Field(default="", max_length=60)


class _Placed(Frozen):
    """Common keys of all placements. `z` is the drawing order; `turn` is clockwise in degrees.

    `off` keeps it but does not draw it; `when` is a condition on the card; `looks` overrides keys for each
    value (by id, "" for none) of the choice field `per`.
    """

    id: str = Field(pattern=r"^[a-z][a-z0-9-]{0,39}$")
    name: str = Field(default="", max_length=60)
    x: Length = 0
    y: Length = 0
    width: Extent = 10
    height: Extent = 10
    z: Annotated[float, Field(ge=-1e6, le=1e6, allow_inf_nan=False)] = 0
    turn: Literal[0, 90, 180, 270] = 0
    off: bool = False
    when: str = Field(default="", max_length=500)
    per: Ref = ""
    looks: dict[str, dict[str, Any]] = Field(default={}, max_length=200)

    furniture: ClassVar[bool] = False
    """It shows no data of the card and may overlap with content."""
    worded: ClassVar[bool] = False
    """It has text, which a style can format."""
    adjusted: ClassVar[bool] = False
    """Single cards can adjust it."""
    framed: ClassVar[bool] = False
    """Without a size it fills the card."""
    palette: ClassVar[Mapping[str, Mapping[str, Any]]] = {}
    """New placements of this kind that show no field, by the id under which they are offered."""

    @property
    def flows(self) -> bool:
        """Its text can have several lines."""
        return False


class _Worded(_Placed, _Looks):
    """A placement with text. `style` names a style of the game; keys set here take priority."""

    style: Ref = ""

    worded: ClassVar[bool] = True


class Panel(_Placed):
    """A filled or framed box."""

    kind: Literal["panel"] = "panel"
    fill: Colour = ""
    stroke: Colour = ""
    thick: Extent = 0.4
    radius: Extent = 0
    outline: Literal["rectangle", "hexagon", "round"] = "rectangle"

    furniture: ClassVar[bool] = True
    framed: ClassVar[bool] = True
    palette: ClassVar[Mapping[str, Mapping[str, Any]]] = {
        "panel": {"name": "Panel", "width": 24.0, "height": 12.0, "fill": "#d9ceb4", "radius": 1.0},
        "frame": {"name": "Frame", "stroke": "#23281f", "thick": 0.8, "radius": 2.0},
    }


class Rule(_Placed):
    """A straight line through its box, along its longer side."""

    kind: Literal["line"] = "line"
    ink: Colour = INK
    thick: Extent = 0.3

    furniture: ClassVar[bool] = True
    palette: ClassVar[Mapping[str, Mapping[str, Any]]] = {"line": {"name": "Line", "width": 30.0, "height": 1.0}}


class Ground(_Placed):
    """A background pattern, as on backs. `pattern` back: that of the card's back."""

    kind: Literal["ground"] = "ground"
    pattern: Literal["back"] | GroundName = "back"
    ink: Colour = "@back+16"

    furniture: ClassVar[bool] = True
    palette: ClassVar[Mapping[str, Mapping[str, Any]]] = {
        "ground": {"name": "Pattern", "width": 24.0, "height": 24.0, "pattern": "trellis", "ink": "#d9ceb4"},
    }


class NumberPlace(_Worded):
    """A number on a plate. `symbol` is under the plate, inline before the number, or absent."""

    kind: Literal["number"] = "number"
    field: Ref
    plate: Literal["none", "rectangle", "round", "hexagon"] = "rectangle"
    fill: Colour = "#f7f1e3"
    radius: Extent = 1.5
    symbol: Literal["none", "below", "before"] = "below"
    symbol_ink: Colour = INK
    symbol_size: Extent = 3.8
    empty: Literal["hide", "dash"] = "hide"

    adjusted: ClassVar[bool] = True


class WordsPlace(_Worded):
    """Text that wraps and shrinks between two sizes. `lines` at most (0: as many as fit); `ruled` like a plant
    label.

    `also` is a second field whose text follows after a dot. `reminders`: keyword reminders follow in italics.
    `symbol_size` and `symbol_rise` are for inline symbols, in em.
    """

    kind: Literal["text"] = "text"
    field: Ref
    also: Ref = ""
    lines: Annotated[int, Field(ge=0, le=50)] = 0
    before: str = Field(default="", max_length=60)
    after: str = Field(default="", max_length=60)
    ruled: bool = False
    rule_ink: Colour = "#d9ceb4"
    head_ink: Colour = ""
    reminders: bool = False
    symbol_size: Annotated[float, Field(ge=0.2, le=4, allow_inf_nan=False)] = 1.0
    symbol_rise: Annotated[float, Field(ge=-2, le=2, allow_inf_nan=False)] = 0.0
    symbol_ink: Colour = ""

    adjusted: ClassVar[bool] = True

    @property
    def flows(self) -> bool:
        return self.lines != 1


class Window(_Placed):
    """A picture. `field` empty: the card's first picture on this side. `focus` is the point that stays visible.

    `stand_in`: a card without a picture shows a generated one.
    """

    kind: Literal["picture"] = "picture"
    field: Ref = ""
    fit: Literal["cover", "contain", "stretch"] = "cover"
    focus_x: Share = 0.5
    focus_y: Share = 0.5
    radius: Extent = 0
    stand_in: bool = True

    adjusted: ClassVar[bool] = True


class ChoiceMark(_Worded):
    """A choice as notches in an edge, its symbol, its picture, its colour, or in words."""

    kind: Literal["choice"] = "choice"
    field: Ref
    shown: Literal["notches", "symbol", "picture", "colour", "words"] = "words"
    fill: Colour = "#f7f1e3"
    edge: Literal["left", "right", "top", "bottom"] = "left"
    gap: Extent = 4.2
    radius: Extent = 0

    adjusted: ClassVar[bool] = True


class Symbols(_Placed):
    """A symbol repeated by a number. More than `most` become a number next to one symbol."""

    kind: Literal["symbols"] = "symbols"
    field: Ref
    symbol: str = Field(default="", max_length=40)
    ink: Colour = INK
    symbol_size: Extent = 3.8
    gap: Extent = 0.6
    most: Annotated[int, Field(ge=1, le=40)] = 10
    upright: bool = False


class Edges(_Worded):
    """Values at the edges of the card, clockwise from the top, `inset` from the edge; an edge without a field
    stays empty.
    """

    kind: Literal["edges"] = "edges"
    fields: tuple[Ref, ...] = Field(default=(), max_length=6)
    inset: Extent = 5.0
    plate: Literal["none", "rectangle", "round", "hexagon"] = "round"
    plate_size: Extent = 7.0
    fill: Colour = "#f7f1e3"

    palette: ClassVar[Mapping[str, Mapping[str, Any]]] = {
        "edges": {"name": "Values at the edges", "font": "figures", "largest": 5.0, "align": "middle", "rise": "middle"},
    }


class Tags(_Worded):
    """The card's tags in words, or each on a chip."""

    kind: Literal["tags"] = "tags"
    field: Ref
    shown: Literal["words", "chips"] = "words"
    between: str = Field(default=", ", max_length=8)
    fill: Colour = "#e7dcc3"
    lines: Annotated[int, Field(ge=0, le=20)] = 1

    adjusted: ClassVar[bool] = True


class Reminders(_Worded):
    """The reminders of the keywords in the card's text."""

    kind: Literal["reminders"] = "reminders"
    lines: Annotated[int, Field(ge=0, le=50)] = 0

    adjusted: ClassVar[bool] = True
    palette: ClassVar[Mapping[str, Mapping[str, Any]]] = {
        "reminders": {"name": "Reminders", "width": 40.0, "height": 10.0, "font": "italic", "largest": 2.6, "least": 1.9},
    }

    @property
    def flows(self) -> bool:
        return self.lines != 1


Place = Annotated[
    Panel
    | Rule
    | Ground
    | NumberPlace
    | WordsPlace
    | Window
    | ChoiceMark
    | Symbols
    | Edges
    | Tags
    | Reminders,
    Field(discriminator="kind"),
]
KINDS: tuple[type[_Placed], ...] = get_args(get_args(Place)[0])
BY_KIND: Mapping[str, type[_Placed]] = {each.model_fields["kind"].default: each for each in KINDS}
_PLACE: TypeAdapter[Place] = TypeAdapter(Place)


class NoPlace(ValueError):
    """An invalid placement. `problem` has the place, the reason and the fix."""

    def __init__(self, problem: Problem) -> None:
        super().__init__(problem.what)
        self.problem = problem


def read_place(
    ident: str, document: Mapping[str, Any], styles: Mapping[str, Mapping[str, Any]] | None = None
) -> Place:
    """Validate a placement document merged with its style. Raises NoPlace."""
    style = (styles or {}).get(str(document.get("style") or ""), {})
    under = {key: style[key] for key in _Looks.model_fields if key in style}
    model = BY_KIND.get(str(document.get("kind")))
    if model is None or not model.worded:
        under = {}
    try:
        return _PLACE.validate_python({**under, **document, "id": ident})
    except ValidationError as error:
        raise NoPlace(_told(str(document.get("name") or ident), error)) from error


def _told(where: str, error: ValidationError) -> Problem:
    first = error.errors()[0]
    spot = ".".join(str(each) for each in first["loc"] if each not in BY_KIND)  # fmt: skip
    what = str(first["msg"]).removeprefix("Value error, ")
    return Problem(
        where=where[:60],
        what=f"{spot}: {what}"[:300] if spot else what[:300],
        mend="give another value, or leave it as it was",
    )


class Variant(Frozen):
    """A plan for cards with this value in a choice field."""

    field: str = Field(max_length=60)
    value: str = Field(max_length=80)


class PlanHead(Frozen):
    """The head of a plan. `type` empty: the game's base plan. `size` None: inherited."""

    name: str = Field(default="", max_length=60)
    type: str = Field(default="", max_length=60)
    side: Side = "front"
    variant: Variant | None = None
    size: Size | None = None


class PlanDoc(Frozen):
    """A plan with the documents of its placements and styles, by id, without inherited ones."""

    id: str
    head: PlanHead
    places: dict[str, dict[str, Any]] = {}
    styles: dict[str, dict[str, Any]] = {}

    @staticmethod
    def read(ident: str, document: Mapping[str, Any]) -> PlanDoc:
        """Parse the flat document of the journal. Raises ValidationError."""
        head = {key: value for key, value in document.items() if "/" not in key}
        rooms: dict[str, dict[str, Any]] = {"place": {}, "style": {}}
        for key, value in document.items():
            room, _, name = key.partition("/")
            if name and room in rooms and isinstance(value, dict):
                rooms[room][name] = value
        return PlanDoc(
            id=ident, head=PlanHead.model_validate(head), places=rooms["place"], styles=rooms["style"]
        )

    def flat(self) -> dict[str, Any]:
        """The flat document for the journal: one key for each placement and style, so that edits of different
        ones do not conflict.
        """
        return {
            **self.head.model_dump(mode="json", exclude_none=True),
            **{f"place/{ident}": dict(each) for ident, each in self.places.items()},
            **{f"style/{ident}": dict(each) for ident, each in self.styles.items()},
        }


def check_keys(document: Mapping[str, Any]) -> Problem | None:
    """The fault of a plan's placements and styles (unknown keys, invalid values), or None.

    A placement may hold only what differs from the inherited one, so each key is checked separately.
    """
    for key, patch in document.items():
        room, _, ident = key.partition("/")
        if not ident:
            continue
        if not isinstance(patch, Mapping):
            return Problem(where=key[:60], what="this is neither a placement nor a style", mend="leave it out")
        problem = check_place(ident, patch) if room == "place" else check_style(ident, patch)
        if problem is not None:
            return problem
    return None


def check_place(ident: str, patch: Mapping[str, Any]) -> Problem | None:
    """The fault of a placement's keys, or None."""
    kind = patch.get("kind")
    models = list(KINDS) if kind is None else [BY_KIND[kind]] if kind in BY_KIND else []
    if not models:
        return Problem(
            where=ident[:60],
            what=f"there is no kind of placement {str(kind)[:40]}",
            mend="choose another kind",
        )
    looks = patch.get("looks")
    inner = list(looks.values()) if isinstance(looks, Mapping) else []
    for each in (patch, *inner):
        if not isinstance(each, Mapping):
            return Problem(where=ident[:60], what="looks: this is not a set of values", mend="leave it out")
        for key, value in each.items():
            if key in ("id", "kind"):
                continue
            problem = _key_problem(ident, str(key), value, models)
            if problem is not None:
                return problem
    return None


def check_style(ident: str, patch: Mapping[str, Any]) -> Problem | None:
    """The fault of a style's keys, or None."""
    for key, value in patch.items():
        problem = _key_problem(ident, str(key), value, [Style])
        if problem is not None:
            return problem
    return None


_OF_KEY: dict[tuple[type[Frozen], str], TypeAdapter[Any]] = {}


def _key_problem(ident: str, key: str, value: Any, models: Sequence[type[Frozen]]) -> Problem | None:
    known = [each for each in models if key in each.model_fields]
    if not known:
        return Problem(where=ident[:60], what=f"a placement has no {key[:40]}", mend="leave it out")
    told: ValidationError | None = None
    for model in known:
        try:
            # Strict JSON mode: "1" is not accepted as a number, but a list is accepted as a tuple.
            _adapter_of(model, key).validate_json(to_json(value, inf_nan_mode="constants"), strict=True)
            return None
        except ValidationError as error:
            told = error
    assert told is not None
    return Problem(
        where=ident[:60], what=f"{key}: {told.errors()[0]['msg']}"[:300], mend="write another value"
    )


def _adapter_of(model: type[Frozen], key: str) -> TypeAdapter[Any]:
    found = _OF_KEY.get((model, key))
    if found is None:
        field = model.model_fields[key]
        kind: Any = field.annotation
        for each in field.metadata:
            kind = Annotated[kind, each]
        found = _OF_KEY[model, key] = TypeAdapter(kind)
    return found
