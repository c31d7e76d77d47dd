"""A card with everything derived from it: face, printed text, ledger, problems."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from threading import Event, Lock

from dramok.core.balance import Ledger, verdict
from dramok.core.cards import Card, EffectField, read_value
from dramok.core.cards.query.query_source import Standing
from dramok.core.cards.values.completeness import unfinished
from dramok.core.effects import Script, read_script, script_text
from dramok.core.faces import Face, PlanSet, lay_out
from dramok.core.faces.proof.proof import FaceFault, faults_of
from dramok.core.output import OnPaper, PaperState
from dramok.core.problem import Problem
from dramok.core.wording import PrintedText, printed_text
from dramok.formats.svg import face_parts, face_svg
from dramok.services.workspace.snapshot import GameSnapshot

MOST_CACHED = 20_000


@dataclass(frozen=True)
class CardText:
    """The part of a card's derived data that does not depend on its face plan: text, ledger, what is
    unfinished.

    `card` is the document it was derived from, hidden values included; `names` has the other cards in its
    effects, by id.
    """

    card: Card
    label: str
    printed: PrintedText
    ledger: Ledger
    problems: tuple[Problem, ...]
    unfinished: bool
    names: tuple[tuple[str, str], ...] = ()


@dataclass(frozen=True)
class CardDetail:
    """The derived data of a card.

    `problems` concern the typed fields and the face. The face is painted on first access.
    """

    words: CardText
    face: Face
    art: Mapping[str, tuple[int, int]]
    back: Face
    behind: tuple[FaceFault, ...] = ()
    """Problems of the card's back."""

    @property
    def card(self) -> Card:
        return self.words.card

    @property
    def label(self) -> str:
        return self.words.label

    @property
    def printed(self) -> PrintedText:
        return self.words.printed

    @property
    def ledger(self) -> Ledger:
        return self.words.ledger

    @property
    def unfinished(self) -> bool:
        return self.words.unfinished

    @property
    def fits(self) -> bool:
        return not self.face.problems

    @cached_property
    def problems(self) -> tuple[Problem, ...]:
        return (*self.words.problems, *self.face.problems, *self.ledger.problems)

    @cached_property
    def faults(self) -> tuple[FaceFault, ...]:
        """Problems of the front and the back."""
        return (*faults_of(self.face, self.art), *self.behind)

    @cached_property
    def standing(self) -> Standing:
        """What a query can test about the card."""
        ledger = self.ledger
        return Standing(
            ledger.judgement, ledger.difference, self.fits, self.printed.behaviour_written, self.unfinished,
            frozenset(each.kind for each in self.faults),
        )  # fmt: skip

    @cached_property
    def svg(self) -> str:
        return face_svg(self.face, self.label)

    @cached_property
    def parts(self) -> tuple[str, ...]:
        """The inside of `svg`, element by element."""
        return face_parts(self.face)

    @property
    def digest(self) -> str:
        """Hash that changes exactly when the face changes."""
        return self.face.digest


Key = tuple[str, ...]


class DetailCache:
    """The newest detail of each card for the current rules and plans; valid for that card document only.

    A caller that needs a detail that another thread is computing waits for it.
    """

    def __init__(self) -> None:
        self._sheets: OrderedDict[Key, CardDetail] = OrderedDict()
        self._words: OrderedDict[Key, CardText] = OrderedDict()
        self._faced: OrderedDict[Key, CardDetail] = OrderedDict()
        self._making: dict[Key, Event] = {}
        self._lock = Lock()
        self._standings: tuple[Mapping[str, Card], str, PlanSet, list[Standing | None]] | None = None

    def standings(self, game: GameSnapshot) -> Sequence[Standing | None]:
        """The query state of every card in the game's order; None for a card not computed yet.

        Cached once all are known.
        """
        known = self._standings
        if (
            known is not None
            and known[0] is game.cards
            and known[1] == game.rules_digest
            and known[2] is game.faces
        ):
            return known[3]
        found = [
            sheet.standing if (sheet := self.known(game, card)) is not None else None
            for card in game.cards.values()
        ]
        if None not in found:
            self._standings = (game.cards, game.rules_digest, game.faces, found)
        return found

    def known(self, game: GameSnapshot, card: Card) -> CardDetail | None:
        """The detail of a card if it is cached."""
        found = self._sheets.get(_key(game, card))
        return found if found is not None and _holds(found.words, game, card) else None

    def naming(self, game: GameSnapshot, cards: Collection[str]) -> list[str]:
        """The cards whose effects name one of `cards`, among those whose text was computed."""
        texts = ((card, self._words.get((game.rules_digest, card.id))) for card in game.cards.values())
        return [
            card.id
            for card, words in texts
            if words is not None and words.card is card and any(ident in cards for ident, _ in words.names)
        ]

    def sheet(self, game: GameSnapshot, card: Card) -> CardDetail:
        key = _key(game, card)
        while True:
            with self._lock:
                found = self._sheets.get(key)
                if found is not None and _holds(found.words, game, card):
                    self._sheets.move_to_end(key)
                    return found
                others = self._making.get(key)
                if others is None:
                    mine = self._making[key] = Event()
                    break
            others.wait()
        try:
            made = self._made(game, card)
            with self._lock:
                self._sheets[key] = made
                if len(self._sheets) > MOST_CACHED:
                    self._sheets.popitem(last=False)
            return made
        finally:
            with self._lock:
                del self._making[key]
            mine.set()

    def _made(self, game: GameSnapshot, card: Card) -> CardDetail:
        """A new detail, or one that reuses a face that differs in its verdict only: prices paint nothing."""
        words = self.words(game, card)
        key = (game.face_digest, *_key(game, card)[1:])
        laid = self._faced.get(key)
        if (
            laid is not None
            and laid.card is card
            and laid.label == words.label
            and laid.printed == words.printed
        ):
            return replace(laid, words=words)
        made = detail_with(game, words)
        with self._lock:
            self._faced[key] = made
            if len(self._faced) > MOST_CACHED:
                self._faced.popitem(last=False)
        return made

    def words(self, game: GameSnapshot, card: Card) -> CardText:
        """The derived data without the face; kept when only a plan changes."""
        key = (game.rules_digest, card.id)
        found = self._words.get(key)
        if found is not None and _holds(found, game, card):
            return found
        made = words_of(game, card)
        with self._lock:
            self._words[key] = made
            if len(self._words) > MOST_CACHED:
                self._words.popitem(last=False)
        return made


def _holds(words: CardText, game: GameSnapshot, card: Card) -> bool:
    """Whether the cached data belongs to this card document and the cards it names still have those names."""
    return words.card is card and (not words.names or words.names == game.names_in(card))


def _key(game: GameSnapshot, card: Card) -> Key:
    faces = game.faces
    return (game.rules_digest, faces.digest(card.type), faces.digest(card.type, "back"), card.id)


DETAILS = DetailCache()


def detail_of(game: GameSnapshot, card: Card) -> CardDetail:
    return DETAILS.sheet(game, card)


def paper_of(game: GameSnapshot, sheet: CardDetail) -> PaperState:
    """The print state of a card: never printed, up to date, or out of date."""
    printed = game.printed.get(sheet.card.id)
    return "" if printed is None else state_on_paper(printed, sheet)


def state_on_paper(printed: OnPaper, sheet: CardDetail) -> PaperState:
    """Whether a printing matches the current card. A back that was not printed is ignored."""
    if printed.front != sheet.digest or (printed.back and printed.back != sheet.back.digest):
        return "stale"
    return "current"


def make_detail(game: GameSnapshot, card: Card, problems: tuple[Problem, ...] = ()) -> CardDetail:
    """Compute the text, ledger and face of one card without caching. `problems` are those of typing it."""
    return detail_with(game, words_of(game, card, problems))


def detail_with(game: GameSnapshot, words: CardText) -> CardDetail:
    """The detail of a card whose data except the face is known."""
    back = back_face(game, words.card, words.printed)
    faults = faults_of(back, game.art)
    behind = tuple([replace(each, name=f"Back, {each.name}") for each in faults]) if faults else ()
    return CardDetail(words, face_of(game, words.card, words), game.art, back, behind)


def words_of(game: GameSnapshot, card: Card, problems: tuple[Problem, ...] = ()) -> CardText:
    shown = game.rulebook.cards.seen(card)
    text = printed_text(shown, game.rulebook, game.vocabulary)
    ledger = verdict(shown, game.rulebook, game.prices)
    typing = {problem.where for problem in problems}
    lacking = (
        *(each for each in unfinished(shown, game.rulebook.cards) if each.where not in typing),
        *_drafts(game, shown, problems),
        *_gone(game, shown, typing),
    )
    return CardText(
        card,
        _spoken(game, shown, text),
        text,
        ledger,
        (*problems, *lacking),
        bool(problems or lacking),
        game.names_in(card),
    )


def face_of(game: GameSnapshot, card: Card, words: CardText) -> Face:
    """The front of a card."""
    card = game.rulebook.cards.seen(card)
    return lay_out(card, game.faces.worn(card), game.face_game, words.printed, game.back_of(card))


def back_face(game: GameSnapshot, card: Card, text: PrintedText | None = None) -> Face:
    """The back of a card."""
    card = game.rulebook.cards.seen(card)
    plan = game.faces.worn(card, "back")
    text = text or printed_text(card, game.rulebook, game.vocabulary)
    return lay_out(card, plan, game.face_game, text, game.back_of(card), "back")


def back_of(game: GameSnapshot, card: Card) -> str:
    """The SVG of a card's back."""
    return face_svg(back_face(game, card), f"Back of {game.title(card)}")


def preview(game: GameSnapshot, card: Card, typed: Mapping[str, str], good: str | None = None) -> CardDetail:
    """The detail as it would be with the text being typed; writes nothing. A field with an error keeps its
    committed value.

    `good` is the latest error-free text of the effect being typed. It is shown while the next words are typed;
    on commit, an error falls back to the last committed text.
    """
    problems: list[Problem] = []
    for ident, text in typed.items():
        field = game.rulebook.cards.field_of(card.type, ident)
        if field is None or field.retired:
            continue
        before = card.values.get(ident)
        if isinstance(field, EffectField) and good:
            read, wrong = read_value(field, good, game.rulebook.cards, game.vocabulary, before)
            before = before if wrong else read
        value, found = read_value(field, text, game.rulebook.cards, game.vocabulary, before)
        problems += found
        if not found or isinstance(field, EffectField):
            card = card.with_value(ident, value)
    return make_detail(game, card, tuple(problems))


def _drafts(game: GameSnapshot, card: Card, problems: tuple[Problem, ...]) -> tuple[Problem, ...]:
    """The problems of stored unread lines, except those being typed now."""
    script = card.values.get(game.rulebook.roles.effect or "")
    if (
        not isinstance(script, Script)
        or not script.has_draft
        or any(problem.where == "effect" for problem in problems)
    ):
        return ()
    found = read_script(script_text(script, game.vocabulary), game.vocabulary)[1]
    return found or (Problem(where="effect", what="it was typed before what it names was there", mend="type in it, and it is read again"),)  # fmt: skip


def _gone(game: GameSnapshot, card: Card, typing: Collection[str]) -> tuple[Problem, ...]:
    """A problem for each effect that creates a card that was removed from the game."""
    if "effect" in typing or all(ident in game.cards for ident, _ in game.names_in(card)):
        return ()
    return (
        Problem(
            where="effect",
            what="it creates a card that was removed",
            mend="name another, or bring it back from History",
        ),
    )


def _spoken(game: GameSnapshot, card: Card, text: PrintedText) -> str:
    """The face in words, for screen readers."""
    numbers = [
        f"{field.name} {card.amount(ident)}"
        for ident in (game.rulebook.roles.cost, *game.rulebook.roles.stats)
        if card.amount(ident) is not None and (field := game.rulebook.cards.field(ident))
    ]
    said = " ".join(text.lines).replace("{", "").replace("}", "")
    return f"{game.title(card)}, {game.rulebook.cards.type(card.type).name}. {', '.join(numbers)}. {said}"
