"""Cards to paper: which, how many of each, how they lie on the pages."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field
from typing import TYPE_CHECKING, Literal

from dramok.core.cards import Card
from dramok.core.faces import Face, Size
from dramok.core.output import Imposition, NoRoom, NoSuchCards, Paper, choose, impose
from dramok.core.problem import Problem, fold, plural
from dramok.studio.desk import Desk, Missing, Refused
from dramok.studio.drawing import pictures_for
from dramok.studio.finding import find
from dramok.studio.sheets import back_face, sheet_of
from dramok.studio.snapshot import GameSnapshot

if TYPE_CHECKING:
    from dramok.formats.pdf import Page as _PdfPage

MOST_PRINTED = 10_000
PRINTED_DPI = 300
UNREACHED = 3.0
"""Most printers reach no nearer to the edge of the paper than so many mm."""
RULER = 50.0
Backs = Literal["none", "long", "short", "beside"]


@dataclass(frozen=True)
class PrintOrder:
    """What is to be printed: the cards of a deck, or those that answer to a query, of them those named in `cards` (see `choose`).

    `copies`: of each so many; None as the deck says, or as the card's own number of copies says, or one.
    `backs`: on pages of their own for a printer that turns the sheet along its long or short edge, or beside each front.
    """

    deck: str = ""
    query: str = ""
    cards: str = ""
    copies: int | None = None
    paper: Paper = field(default_factory=Paper)
    marks: bool = True
    backs: Backs = "none"


@dataclass(frozen=True)
class Printed:
    """A PDF, with what is on it. `warnings` tell what would not come out as one expects."""

    data: bytes
    cards: int
    copies: int
    pages: int
    warnings: tuple[str, ...]


def print_cards(desk: Desk, game: GameSnapshot, order: PrintOrder, date: str) -> Printed:
    """Raises Refused where no card is meant, there are too many, or the paper is too small; Missing for an unknown deck."""
    from dramok.formats.pdf import pages_pdf

    wanted = _wanted(desk, game, order)
    fronts = [sheet_of(game, card).face for card, _ in wanted]
    backs = [back_face(game, card) for card, _ in wanted] if order.backs != "none" else []
    total = sum(count for _, count in wanted)
    colophon = f"{game.name} · {plural(total, 'card')} · {date}"
    pages = list(_pages(order, wanted, fronts, backs, colophon))
    art = pictures_for(desk, [*fronts, *backs], PRINTED_DPI * order.paper.scale)
    data = pages_pdf(pages, art, order.paper.bleed, order.paper.scale, game.name)
    return Printed(data, len(wanted), total, len(pages), tuple(_warnings(order, fronts)))


def _wanted(desk: Desk, game: GameSnapshot, order: PrintOrder) -> list[tuple[Card, int]]:
    """The cards, and how many of each."""
    counts: dict[str, int] = {}
    cards: Sequence[Card] = tuple(game.cards.values())
    if order.deck:
        deck = game.decks.get(order.deck) or next(
            (each for each in game.decks.values() if fold(each.name) == fold(order.deck)), None
        )
        if deck is None:
            raise Missing(f"{game.name} has no deck {order.deck[:60]}")
        counts = dict(deck.cards)
        cards = [card for card in cards if card.id in counts]
    if order.query.strip():
        found = find(desk, game, order.query)
        if found.problem is not None:
            raise Refused(found.problem)
        named = {card.id for card in found.cards}
        cards = [card for card in cards if card.id in named]
    try:
        cards = [cards[place] for place in choose(order.cards, [card.code for card in cards])]
    except NoSuchCards as error:
        raise Refused(error.problem) from error
    wanted = [(card, _copies(game, order, card, counts)) for card in cards]
    wanted = [(card, count) for card, count in wanted if count > 0]
    total = sum(count for _, count in wanted)
    if not wanted or total > MOST_PRINTED:
        what = "no card is chosen" if not wanted else f"{total:,} cards are too many at once"
        mend = "choose other cards, or more copies" if not wanted else f"print at most {MOST_PRINTED:,}"
        raise Refused(Problem(where="cards", what=what, mend=mend))
    return wanted


def _copies(game: GameSnapshot, order: PrintOrder, card: Card, counts: dict[str, int]) -> int:
    if order.copies is not None:
        return order.copies
    if counts:
        return counts.get(card.id, 0)
    own = card.number(game.rulebook.roles.copies)
    return 1 if own is None else own


def _pages(
    order: PrintOrder,
    wanted: Sequence[tuple[Card, int]],
    fronts: Sequence[Face],
    backs: Sequence[Face],
    colophon: str,
) -> Iterator[_PdfPage]:
    """Pages of cards of one size each, backs after the fronts they lie behind."""
    sizes: dict[tuple[float, float, str], list[int]] = {}
    for place, ((_, count), face) in enumerate(zip(wanted, fronts, strict=True)):
        sizes.setdefault((face.width, face.height, face.size.outline), []).extend([place] * count)
    for places in sizes.values():
        laid = _imposed(fronts[places[0]].size, order.paper)
        beside = order.backs == "beside"
        faces = [
            face
            for place in places
            for face in ((fronts[place], backs[place]) if beside else (fronts[place],))
        ]
        each = len(laid.slots)
        for start in range(0, len(faces), each):
            part = faces[start : start + each]
            yield _page(
                order, laid, [(face, *slot) for face, slot in zip(part, laid.slots, strict=False)], colophon
            )
            if order.backs in ("long", "short"):
                behind = laid.behind("long" if order.backs == "long" else "short")
                turned = [backs[place] for place in places[start : start + each]]
                yield _page(
                    order, laid, [(face, *slot) for face, slot in zip(turned, behind, strict=False)], ""
                )


def _imposed(size: Size, paper: Paper) -> Imposition:
    try:
        return impose(size, paper)
    except NoRoom as error:
        raise Refused(error.problem) from error


def _page(
    order: PrintOrder, laid: Imposition, faces: list[tuple[Face, float, float]], colophon: str
) -> _PdfPage:
    """With a ruler of true length at the foot, by which a print can be checked, and the colophon beside it."""
    from dramok.formats.pdf import Page

    wide, high = laid.page
    lines = list(laid.cut_marks()) if order.marks else []
    words: list[tuple[float, float, str]] = []
    if colophon:
        left, foot = max(order.paper.margin, 5.0), high - 2.6
        lines += [
            (left, foot, left + RULER, foot),
            (left, foot - 1.2, left, foot),
            (left + RULER, foot - 1.2, left + RULER, foot),
        ]
        words.append((left + RULER + 2, foot, f"{RULER:g} mm · {colophon}"))
    return Page(wide, high, tuple(faces), tuple(lines), tuple(words))


def _warnings(order: PrintOrder, fronts: Sequence[Face]) -> Iterator[str]:
    paper = order.paper
    if paper.scale != 1:
        size = fronts[0].size
        yield (
            f"at {paper.scale * 100:g} % a card comes out {size.width * paper.scale:.2f} x {size.height * paper.scale:.2f} mm,"
            f" not {size.width:g} x {size.height:g}"
        )
    if paper.margin < UNREACHED:
        yield f"most printers do not reach the outer {UNREACHED:g} mm: with a margin of {paper.margin:g} mm an edge may be lost"
