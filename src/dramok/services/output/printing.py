"""Print cards: plan sheets of paper, preview them, write a PDF."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from typing import BinaryIO, Literal

from pydantic import Field

from dramok.core.cards import Card
from dramok.core.faces import Face, Size
from dramok.core.faces.plan.plan import Side
from dramok.core.output import Backs, Leaf, NoRoom, Page, Paper, file_name, leaves, page_of, ruler_fits
from dramok.core.output.ink_saving import sparing
from dramok.core.output.labels import BLANK, LABEL, blank_face, is_card, label_face
from dramok.core.problem import Frozen, Problem, plural
from dramok.formats.font_files import load_typefaces
from dramok.services.cards.card_detail import detail_of
from dramok.services.faces.drawing import pictures_for
from dramok.services.output.chosen_cards import MOST_COPIES, CardChoice, CardCopies, Resolved, wanted
from dramok.services.output.job_steps import Made, Tick, ticking, unwatched
from dramok.services.workspace.snapshot import GameSnapshot
from dramok.services.workspace.workspace import Refused, Workspace

PRINTED_DPI = 300
UNREACHED = 3.0
"""The margin in mm that most printers can't reach."""
SAME = 0.005
"""Sizes closer than this, in mm, are equal."""
MOST_BLANKS = 500


class PrintOrder(Frozen):
    """An order to print.

    `backs`: on the other side, for a printer that turns sheets along the long or short edge, or next to each
    front. `left_out` are numbers of sheets. `blanks` empty cards are added at the end, and `labels` in card
    size for the box or divider of each deck, set or type. `ink`: ink-saving prints without pictures and
    backgrounds. `record` stores the print run as `name` (empty: a generated name).
    """

    choice: CardChoice = CardChoice()
    paper: Paper = Paper()
    backs: Backs = "none"
    marks: bool = True
    ruler: bool = True
    colophon: bool = True
    ink: Literal["full", "sparing"] = "full"
    blanks: int = Field(default=0, ge=0, le=MOST_BLANKS)
    labels: Literal["none", "decks", "sets", "types"] = "none"
    left_out: tuple[int, ...] = Field(default=(), max_length=MOST_COPIES)
    name: str = Field(default="", max_length=60)
    record: bool = True

    @property
    def choices(self) -> tuple[CardChoice]:
        return (self.choice,)

    model_config = {
        "json_schema_extra": {
            "examples": [
                {
                    "choice": {"deck": "Fern over Moss", "cards": "1-20"},
                    "paper": {"width": 210, "height": 297, "margin": 5},
                    "backs": "long",
                }
            ]
        }
    }


@dataclass(frozen=True)
class PrintPlan:
    """The plan of an order: `leaves` are the sheets to print, of `every` one."""

    order: PrintOrder
    game: GameSnapshot
    wanted: CardCopies | None
    leaves: tuple[Leaf, ...]
    every: tuple[Leaf, ...]
    warnings: tuple[str, ...]

    @property
    def pages(self) -> int:
        return sum(leaf.pages for leaf in self.leaves)

    @property
    def counts(self) -> dict[str, int]:
        """Copies by card id on the printed sheets."""
        found = Counter(card for leaf in self.leaves for card in leaf.cards)
        return {card: count for card, count in found.items() if is_card(card)}

    @property
    def title(self) -> str:
        """The default name of the run."""
        if self.order.name.strip():
            return " ".join(self.order.name.split())
        choice = self.order.choice
        if self.wanted is None:
            return "Labels" if self.order.labels != "none" else "Blank cards"
        named = self.wanted.deck.name if self.wanted.deck else None
        home = next((each.name for each in self.game.sets if choice.set in (each.id, each.name)), None)
        cards = choice.cards.strip()
        stem = named or home or choice.query.strip()[:40] or (f"Cards {cards[:40]}" if cards else "All cards")
        return f"{stem}{_ONLY.get(choice.only, '')}"

    def size_of(self, card: Card | None) -> Size:
        return _size_of(self.game, card)

    def face(self, card: str, side: Side) -> Face:
        """The face to print, from the card as it was when the plan was made."""
        if not is_card(card):
            return _extra(self.game, card, self.size_of(None))
        sheet = detail_of(self.game, self.game.cards[card])
        face = sheet.face if side == "front" else sheet.back
        return sparing(face) if self.order.ink == "sparing" else face

    def page(
        self, leaf: Leaf, back: bool, date: str, face: Callable[[str, Side], Face] | None = None
    ) -> Page:
        spots = leaf.back() if back else leaf.front()
        number, game, order = f"{leaf.number} of {len(self.every)}", self.game.name, self.order
        said = [f"{game} · {self.title} · {date} · {number}", f"{game} · {date} · {number}", f"{date} · {number}", number]
        return page_of(
            leaf,
            spots,
            face or self.face,
            order.marks and not back,
            order.ruler and not back,
            said if order.colophon and not back else (),
            load_typefaces()["body"],
        )


_ONLY = {"stale": ", reprinted", "wanting": ", out of date and new", "unprinted": ", new ones"}


def plan_print(workspace: Workspace, game: GameSnapshot, order: PrintOrder, cards: Resolved | None = None) -> PrintPlan:
    """Plan an order on paper.

    Raises Refused if no card or too many are chosen, or the paper is too small; Missing for an unknown deck,
    set or print run.
    """
    none = order.choice.only == "none" and (order.blanks or order.labels != "none")
    found = None if none else wanted(workspace, game, order.choice, cards[0] if cards else None)
    lying = [(card.id, _size_of(game, card), count) for card, count in (found.cards if found else ())]
    extras = [(label, 1) for label in _labels(game, order)] + (
        [(BLANK, order.blanks)] if order.blanks else []
    )
    lying += [(card, _size_of(game, None), count) for card, count in extras]
    try:
        every = leaves(lying, order.paper, order.backs)
    except NoRoom as error:
        raise Refused(error.problem) from error
    without = frozenset(order.left_out)
    held = [leaf for leaf in every if leaf.number not in without]
    if not held:
        raise Refused(
            Problem(where="left_out", what="every page is left out", mend="take at least one page in")
        )
    sizes = list({(size.width, size.height): size for _, size, _ in lying}.values())
    warnings = (*(found.notes if found else ()), *_warnings(order, sizes, held))
    return PrintPlan(order, game, found, tuple(held), tuple(every), warnings)


def _labels(game: GameSnapshot, order: PrintOrder) -> list[str]:
    """A label for each deck, set or type that has cards: its title, and below it the number of cards."""
    cards = Counter(card.type for card in game.cards.values())
    homes = Counter(card.set for card in game.cards.values())
    named: list[tuple[str, int]] = {
        "none": [],
        "decks": [(deck.name, deck.size) for deck in game.decks.values()],
        "sets": [(each.name, homes[each.id]) for each in game.sets],
        "types": [(each.name, cards[each.id]) for each in game.rulebook.cards.types if not each.abstract],
    }[order.labels]
    return [f"{LABEL}{plural(count, 'card')}/{name}" for name, count in named if count]


def _extra(game: GameSnapshot, ident: str, size: Size) -> Face:
    if ident == BLANK:
        return blank_face(size)
    count, _, title = ident.removeprefix(LABEL).partition("/")
    return label_face(size, title, (game.name, count), load_typefaces())


def _size_of(game: GameSnapshot, card: Card | None) -> Size:
    if card is None:
        first = next((each for each in game.rulebook.cards.types if not each.abstract), None)
        return game.faces.size(first.id) if first else Size()
    return game.faces.worn(card).size


def _warnings(order: PrintOrder, sizes: Sequence[Size], held: Sequence[Leaf]) -> Iterator[str]:
    paper = order.paper
    for size in sizes:
        if abs(paper.scale - 1) * max(size.width, size.height) > SAME:
            yield (
                f"at {paper.scale * 100:.4g} % a card comes out {size.width * paper.scale:.2f} x {size.height * paper.scale:.2f} mm,"
                f" not {size.width:g} x {size.height:g}"
            )
    if paper.margin < UNREACHED:
        wide = min(min(leaf.laid.block[0], leaf.laid.block[1]) for leaf in held)
        if wide < UNREACHED:
            yield f"most printers do not reach the outer {UNREACHED:g} mm, and cards begin {max(0.0, wide):.1f} mm from the edge: it would be lost"
    if order.backs in ("long", "short") and not paper.bleed:
        yield "printers can misalign the back by about a millimetre: print the bleed so that no white edge shows"
    if (order.ruler or order.colophon) and any(leaf.laid.foot is None for leaf in held):
        what = " and ".join(name for name, on in (("ruler", order.ruler), ("colophon", order.colophon)) if on)
        yield f"the cards leave no room at the foot for {what}"
    elif order.ruler and not all(ruler_fits(leaf.laid) for leaf in held):
        yield "the sheet is too narrow for the ruler of 50 mm: measure a card"


def print_cards(workspace: Workspace, plan: PrintPlan, out: BinaryIO, date: str, tick: Tick = unwatched) -> Made:
    """Write the PDF. `date` is printed in the colophon. Raises job_steps.Stopped if `tick` does."""
    from dramok.formats.pdf import write_pages

    order, total = plan.order, plan.pages
    faces: dict[tuple[str, Side], Face] = {}

    def face(card: str, side: Side) -> Face:
        found = faces.get((card, side))
        if found is None:
            found = faces[card, side] = plan.face(card, side)
        return found

    def pages() -> Iterator[Page]:
        for leaf in plan.leaves:
            for back in (False, True)[: leaf.pages]:
                yield plan.page(leaf, back, date, face)

    art = pictures_for(workspace, _faces(plan, face), PRINTED_DPI * order.paper.scale)
    write_pages(
        out, ticking(pages(), total, tick), art, order.paper.bleed, order.paper.scale, f"{plan.game.name}: {plan.title}", order.backs
    )  # fmt: skip
    tick(total, total)
    counts = plan.counts
    facts = {
        "cards": len(counts), "copies": sum(counts.values()), "blanks": sum(not is_card(card) for leaf in plan.leaves for card in leaf.cards), "pages": total,
        "leaves": len(plan.leaves),
    }  # fmt: skip
    guide = _guide(plan)
    return Made(f"{file_name(f'{plan.game.name}, {plan.title}')}.pdf", facts, plan.warnings, guide)


def _faces(plan: PrintPlan, face: Callable[[str, Side], Face]) -> Iterator[Face]:
    sides: tuple[Side, ...] = ("front",) if plan.order.backs == "none" else ("front", "back")
    for card in plan.counts:
        for side in sides:
            yield face(card, side)


def _guide(plan: PrintPlan) -> tuple[str, ...]:
    order = plan.order
    said = ["Print at 100 % or “actual size”, never “fit to page”."]
    if order.ruler and any(ruler_fits(leaf.laid) for leaf in plan.leaves):
        where = "" if order.paper.scale == 1 else f", or {50 * order.paper.scale:.4g} where the scale is not to make up for the printer"
        said.append(f"Lay a ruler on the line at the foot: it must measure 50 mm{where}.")
    if order.backs in ("long", "short"):
        said.append(f"Print on both sides, turned along the {order.backs} edge.")
    return tuple(said)
