"""Face plans: read, edit, preview; hardest cards, proof, adjustments of single cards; faces as files."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from fastapi import APIRouter, Query, Response
from pydantic import BaseModel, Field, FiniteFloat

from dramok.core.faces.plan.adjustments import LIMITS, Adjustment
from dramok.core.faces.plan.align import How
from dramok.core.faces.plan.plan import PlanHead, Variant
from dramok.core.faces.plan.sizes import INCH, NAMED, Size
from dramok.core.faces.proof.proof import FAULTS
from dramok.core.problem import Problem
from dramok.core.text_checks import Place
from dramok.formats.font_files import RENAMED_SYMBOLS, load_typefaces
from dramok.formats.svg import face_box, face_parts, printed_svg
from dramok.server.request_context import Key, Page, TheGame, TheWorkspace, ValidatingRoute
from dramok.server.responses import edit_out, fault_out, sheet_out
from dramok.server.schemas.base import Out, like
from dramok.server.schemas.cards import EditOut, FaultOut, LookOut, SheetOut
from dramok.services import GameSnapshot, Refused
from dramok.services.cards.card_detail import CardDetail, back_face, detail_of
from dramok.services.cards.card_edits import card_in
from dramok.services.faces import face_plans as plans
from dramok.services.faces.adjustments import copy_adjustments, set_adjustments, with_adjustments
from dramok.services.faces.drawing import face_picture, faces_document, pictures_for
from dramok.services.faces.proof import proof

router = APIRouter(route_class=ValidatingRoute, prefix="/games/{game_id}", tags=["faces"])
MOST_PREVIEWED = 24
Ident = Annotated[str, Field(max_length=80)]


class PlaceOut(Out):
    """A placement with everything it inherits (`doc`), and with its style and defaults (`full`; empty if
    invalid); `own` are the keys that this plan sets itself.
    """

    id: str
    doc: dict[str, Any]
    full: dict[str, Any]
    own: list[str]
    inherited: bool


class PlanOut(Out):
    """A face plan.

    `beneath` are the plans it inherits from, `cards` the number of cards that use it; `problems` what can't be
    drawn.
    """

    id: str
    head: PlanHead
    size: Size
    own_size: bool
    size_name: str
    cut: str
    outline: str
    safe_outline: str
    places: list[PlaceOut]
    beneath: list[str]
    cards: int
    problems: list[Problem]


class StyleOut(Out):
    """A named style, and the plan that defines it."""

    id: str
    plan: str
    doc: dict[str, Any]


class NamedSize(Out):
    name: str
    width: float
    height: float
    outline: str


class BookOut(Out):
    """Every face plan of a game, the shared styles, standard card sizes, and the symbols (paths in a 256 x 256 box)."""

    plans: list[PlanOut]
    styles: list[StyleOut]
    sizes: list[NamedSize]
    symbols: dict[str, str]
    faults: dict[str, str]


Patch = dict[str, Any] | None


class PlanEditIn(BaseModel):
    """An edit of a plan (see `PlanEdit`): for each placement or style the keys that change; null resets a key,
    or a whole placement, to the inherited value.

    `base` is the op number up to which the page has seen the game.
    """

    places: dict[Ident, Patch] = Field(default={}, max_length=400)
    styles: dict[Ident, Patch] = Field(default={}, max_length=100)
    head: dict[Literal["name", "size"], Any] = {}
    base: Place = 0
    label: Annotated[str, Field(max_length=200)] | None = None

    model_config = like({"places": {"name": {"x": 14.5, "largest": 4.6}}, "base": 41})

    @property
    def edit(self) -> plans.PlanEdit:
        return plans.PlanEdit(self.places, self.styles, {str(key): each for key, each in self.head.items()})


class PlanLookIn(PlanEditIn):
    """An edit to preview on these cards; without cards, on the card shown with the plan."""

    cards: list[Ident] = Field(default=[], max_length=MOST_PREVIEWED)
    side: Literal["front", "back"] = "front"

    model_config = like({"places": {"name": {"x": 14.5}}, "base": 41, "cards": ["c-ribbon-season-rs-001"]})


class ShownOut(Out):
    """One side of a card by a plan: the SVG of each element for a viewBox `box` in mm, clipped by the CSS
    declaration `cut`; its problems; the boxes of its placements.
    """

    card: str
    title: str
    box: str
    cut: str
    label: str
    face: list[str]
    digest: str
    faults: list[FaultOut]


class NewPlanIn(BaseModel):
    """A plan for a card type (empty: the base), or for a single value of a choice field."""

    type: Ident = ""
    side: Literal["front", "back"] = "front"
    variant: Variant | None = None

    model_config = like(
        {"type": "plant", "side": "front", "variant": {"field": "rarity", "value": "heirloom"}}
    )


class NewPlaceIn(BaseModel):
    """`what` is a field's id, or code, type, set, game, back, panel, frame, line, ground, edges, reminders;
    `at` is a point in mm for its middle.
    """

    what: Ident
    at: tuple[FiniteFloat, FiniteFloat] | None = None

    model_config = like({"what": "height", "at": [8.0, 40.0]})


class ArrangeIn(BaseModel):
    places: list[Ident] = Field(min_length=1, max_length=300)
    how: How

    model_config = like({"places": ["cost", "height", "root"], "how": "down"})


class HardOut(Out):
    """One of the hardest cards, and in what it is hardest."""

    card: str
    title: str
    reasons: list[str]


class CardFaultsOut(Out):
    card: str
    code: str
    title: str
    faults: list[FaultOut]


class PlanFaultOut(BaseModel):
    plan: str
    problem: Problem


class ProofOut(BaseModel):
    """`looked` of `total` cards were checked, from the requested position on; `counts` are problems by kind."""

    total: int
    looked: int
    cards: list[CardFaultsOut]
    counts: dict[str, int]
    plans: list[PlanFaultOut]


class LookIn(BaseModel):
    """An adjustment of a card at one placement: mm across and up, zoom, size of text in mm.

    Keys that are left out follow the plan.
    """

    across: Annotated[float, Field(ge=LIMITS["across"][0], le=LIMITS["across"][1], allow_inf_nan=False)] = 0
    up: Annotated[float, Field(ge=LIMITS["up"][0], le=LIMITS["up"][1], allow_inf_nan=False)] = 0
    zoom: Annotated[float, Field(ge=LIMITS["zoom"][0], le=LIMITS["zoom"][1], allow_inf_nan=False)] = 1
    size: Annotated[float, Field(ge=LIMITS["size"][0], le=LIMITS["size"][1], allow_inf_nan=False)] | None = (
        None
    )

    @property
    def look(self) -> Adjustment:
        return Adjustment(
            round(self.across, 2), round(self.up, 2), round(self.zoom, 3), None if self.size is None else round(self.size, 3)
        )  # fmt: skip


class LooksIn(BaseModel):
    """Adjustments by placement, for several cards at once."""

    cards: list[Ident] = Field(min_length=1, max_length=20_000)
    looks: dict[Ident, LookIn] = Field(min_length=1, max_length=100)

    model_config = like(
        {"cards": ["c-ribbon-season-rs-001"], "looks": {"picture": {"across": 2, "up": -1, "zoom": 1.2}}}
    )


class CopyLooksIn(BaseModel):
    source: Ident
    cards: list[Ident] = Field(min_length=1, max_length=20_000)

    model_config = like({"source": "c-ribbon-season-rs-001", "cards": ["c-ribbon-season-rs-002"]})


class AdjustOut(BaseModel):
    """A card's face with its adjustable placements: picture windows and texts, with their current adjustments."""

    sheet: SheetOut
    places: list[PlaceOut]
    looks: dict[str, LookOut]


@router.get("/faces/book")
def face_book(game: TheGame) -> BookOut:
    """Every face plan, with the values it inherits."""
    views = plans.plan_views(game)
    keeper = {
        ident: each.doc.id for each in reversed(views) if not each.doc.head.type for ident in each.doc.styles
    }
    return BookOut(
        plans=[_plan_out(each) for each in views],
        styles=[StyleOut(id=ident, plan=keeper[ident], doc=dict(style)) for ident, style in game.faces.styles.items()],
        sizes=[NamedSize(name=name, width=wide, height=high, outline=outline) for name, (wide, high, outline) in NAMED.items()],
        symbols={ident: path for ident, path in load_typefaces().symbols.items() if ident not in RENAMED_SYMBOLS},
        faults=FAULTS,
    )  # fmt: skip


def _plan_out(view: plans.PlanView) -> PlanOut:
    size = view.plan.size
    return PlanOut(
        id=view.doc.id, head=view.doc.head, size=size, own_size=view.doc.head.size is not None, size_name=size.name, cut=size.css(), outline=size.path(), safe_outline=size.path(-size.safe),
        places=[
            PlaceOut(
                id=str(each["id"]), doc={key: value for key, value in each.items() if key != "id"}, full=_full(view, str(each["id"])), own=list(view.own.get(str(each["id"]), ())),
                inherited="kind" not in view.own.get(str(each["id"]), ()),
            )
            for each in view.places
        ],
        beneath=list(view.beneath), cards=view.cards, problems=list(view.plan.problems),
    )  # fmt: skip


def _full(view: plans.PlanView, ident: str) -> dict[str, Any]:
    ready = view.plan.by_id.get(ident)
    return ready.place.model_dump(mode="json") if ready else {}


@router.put("/faces/plans/{plan_id}")
def edit_face_plan(
    workspace: TheWorkspace, game: TheGame, plan_id: str, asked: PlanEditIn, page: Page, key: Key
) -> EditOut:
    """Write an edit of a plan as one undoable edit."""
    return edit_out(plans.edit_plan(workspace, game.id, plan_id, asked.edit, asked.base, page, key, asked.label))


@router.post("/faces/plans/{plan_id}/preview")
def look_at_face_plan(game: TheGame, plan_id: str, asked: PlanLookIn) -> list[ShownOut]:
    """Preview an edit on cards. Writes nothing."""
    after = plans.previewed(game, plan_id, asked.edit)
    side = after.faces.plans[plan_id].head.side
    sheets = [plans.shown_card(after, plan_id, each, after is game) for each in asked.cards or [""]]
    return [_shown(after, each, side) for each in sheets]


def _shown(game: GameSnapshot, sheet: CardDetail, side: str) -> ShownOut:
    face = sheet.face if side == "front" else back_face(game, sheet.card)
    parts = sheet.parts if side == "front" else face_parts(face)
    faults = sheet.faults if side == "front" else ()
    title = game.title(sheet.card)
    return ShownOut(
        card=sheet.card.id if sheet.card.id in game.cards else "", title=title, box=face_box(face), cut=face.size.css(),
        label=sheet.label if side == "front" else f"Back of {title}", face=list(parts), digest=face.digest, faults=[fault_out(each) for each in faults],
    )  # fmt: skip


@router.post("/faces/plans", status_code=201)
def new_face_plan(workspace: TheWorkspace, game: TheGame, asked: NewPlanIn, page: Page, key: Key) -> EditOut:
    """Create a plan for a type or a variant; `made` has its id."""
    commit, ident = plans.make_plan(workspace, game.id, asked.type, asked.side, asked.variant, page, key)
    return edit_out(commit, [ident])


@router.delete("/faces/plans/{plan_id}")
def take_face_plan_out(workspace: TheWorkspace, game: TheGame, plan_id: str, page: Page, key: Key) -> EditOut:
    """Remove a plan: its cards use the one below."""
    return edit_out(plans.remove_plan(workspace, game.id, plan_id, page, key))


@router.post("/faces/plans/{plan_id}/places", status_code=201)
def new_placement(
    workspace: TheWorkspace, game: TheGame, plan_id: str, asked: NewPlaceIn, page: Page, key: Key
) -> EditOut:
    """Add a placement for a field or a panel; `made` has the placement's id."""
    commit, ident = plans.add_place(workspace, game.id, plan_id, asked.what, page, asked.at, key)
    return edit_out(commit, [ident])


@router.post("/faces/plans/{plan_id}/arrange")
def arrange_placements(
    workspace: TheWorkspace, game: TheGame, plan_id: str, asked: ArrangeIn, page: Page, key: Key
) -> EditOut:
    """Align or distribute placements."""
    return edit_out(plans.arrange(workspace, game.id, plan_id, asked.places, asked.how, page, key))


@router.get("/faces/plans/{plan_id}/stress")
def stress_strip(game: TheGame, plan_id: str) -> list[HardOut]:
    """The existing cards that are hardest for a plan."""
    return [
        HardOut(card=each.card, title=game.title(game.cards[each.card]), reasons=list(each.reasons))
        for each in plans.stress(game, plan_id)
    ]


@router.get("/faces/proof")
def proof_of_faces(
    workspace: TheWorkspace,
    game: TheGame,
    query: Annotated[str, Query(max_length=2_000)] = "",
    start: Annotated[Place, Query()] = 0,
    count: Annotated[int, Query(ge=1, le=1_000)] = 1_000,
) -> ProofOut:
    """Problems of the faces of `count` cards from position `start`: a page checks a large game in parts."""
    found = proof(workspace, game, query, start, count)
    return ProofOut(
        total=found.total, looked=found.looked, counts=dict(found.counts),
        cards=[CardFaultsOut(card=each.card, code=each.code, title=each.title, faults=[fault_out(one) for one in each.faults]) for each in found.cards],
        plans=[PlanFaultOut(plan=name, problem=problem) for name, problem in found.plans],
    )  # fmt: skip


@router.get("/cards/{card_id}/adjust")
def adjustable(game: TheGame, card_id: str) -> AdjustOut:
    """The adjustable placements of a card's face, and their adjustments."""
    return _adjust_out(game, detail_of(game, card_in(game, card_id)))


@router.post("/cards/{card_id}/adjust/preview")
def look_at_adjusting(game: TheGame, card_id: str, asked: LooksIn) -> AdjustOut:
    """Preview a card's face with other adjustments. Writes nothing."""
    looks = {place: each.look for place, each in asked.looks.items()}
    return _adjust_out(game, with_adjustments(game, card_id, looks))


def _adjust_out(game: GameSnapshot, sheet: CardDetail) -> AdjustOut:
    plan = game.faces.worn(sheet.card)
    places = [
        PlaceOut(id=ready.place.id, doc=ready.place.model_dump(mode="json"), full=ready.place.model_dump(mode="json"), own=[], inherited=False)
        for ready in plan.places
        if ready.place.adjusted and not ready.place.off
    ]  # fmt: skip
    out = sheet_out(sheet)
    return AdjustOut(sheet=out, places=places, looks=out.looks)


@router.put("/cards/looks")
def put_looks(workspace: TheWorkspace, game: TheGame, asked: LooksIn, page: Page, key: Key) -> EditOut:
    """Set or reset adjustments on some cards."""
    looks = {place: each.look for place, each in asked.looks.items()}
    return edit_out(set_adjustments(workspace, game.id, asked.cards, looks, page, key))


@router.post("/cards/looks/copy")
def copy_card_looks(workspace: TheWorkspace, game: TheGame, asked: CopyLooksIn, page: Page, key: Key) -> EditOut:
    """Copy all adjustments of a card to other cards."""
    return edit_out(copy_adjustments(workspace, game.id, asked.source, asked.cards, page, key))


@router.get("/cards/{card_id}/face.{ending}", response_class=Response)
def face_file(
    workspace: TheWorkspace,
    game: TheGame,
    card_id: str,
    ending: Literal["png", "pdf", "svg"],
    side: Literal["front", "back"] = "front",
    dpi: Annotated[float, Query(ge=20, le=1200, allow_inf_nan=False)] = 300,
    width: Annotated[int | None, Query(ge=8, le=8_000)] = None,
    bleed: bool = False,
) -> Response:
    """One side of a card as a file: PNG at `dpi` (or `width` pixels wide), PDF at true size, or SVG."""
    card = card_in(game, card_id)
    face = detail_of(game, card).face if side == "front" else back_face(game, card)
    if ending == "svg":
        data, media = printed_svg(face, pictures_for(workspace, [face], 300), bleed).encode(), "image/svg+xml"
    elif ending == "pdf":
        data, media = faces_document(workspace, [face], bleed, game.title(card)), "application/pdf"
    else:
        wide = face.width + (2 * face.size.bleed if bleed else 0)
        asked = width or round(wide / INCH * dpi)
        if not 1 <= asked <= 8_000 or asked * face.height / face.width > 16_000:
            raise Refused(
                Problem(
                    where="dpi",
                    what=f"{asked:,} pixels across are too many",
                    mend="ask for fewer dots an inch",
                )
            )
        data, media = face_picture(workspace, face, asked, bleed), "image/png"
    name = f"{card.code}{'-back' if side == 'back' else ''}.{ending}".replace('"', "").replace("/", "-")
    headers = {
        "Content-Disposition": f'attachment; filename="{name.encode("ascii", "replace").decode()}"',
        "X-Content-Type-Options": "nosniff",
        "ETag": f'"{face.digest}"',
    }
    return Response(data, media_type=media, headers=headers)
