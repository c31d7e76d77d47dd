"""Import and export of deck lists, with a preview of an import."""

from __future__ import annotations

from dataclasses import dataclass, replace

from dramok.core.decks import Deck, DeckProblem, Format, legality
from dramok.core.decks.list_text import CardNames, ReadDeck
from dramok.core.problem import Problem, fold
from dramok.formats.decklists import FORMS, BadDecklist, DeckForm, read_deck
from dramok.services.decks.edits import add_deck, deck_in, refill
from dramok.services.workspace.snapshot import GameSnapshot
from dramok.services.workspace.workspace import Commit, Refused, Workspace
from dramok.store import Key

NO_NAME = "New deck"


@dataclass(frozen=True)
class ListPreview:
    """The preview of a deck list; nothing is written.

    `deck` has its cards; `problems` are those it would have under `format`.
    """

    read: ReadDeck
    deck: Deck
    format: Format
    problems: tuple[DeckProblem, ...]


def preview_list(
    game: GameSnapshot, data: bytes, filename: str = "", deck_id: str = "", format_: str = ""
) -> ListPreview:
    """Parse a deck list, as a new deck or as a replacement for a deck's cards. Raises Refused, Missing."""
    begun = deck_in(game, deck_id) if deck_id else Deck("", "", {}, format=format_)
    rules = game.format_of(begun)
    names = CardNames(game.cards.values(), game.rulebook)
    try:
        read = read_deck(data, filename, names, rules)
        named = _named(game, read.rules)
        if named is not None and not deck_id and not format_ and named.id != rules.id:
            rules = named
            read = read_deck(data, filename, names, rules)
    except BadDecklist as error:
        raise Refused(error.problem) from error
    own = "" if rules.id == game.formats[0].id else rules.id
    deck = replace(read.onto(begun), format=begun.format if deck_id else own)
    return ListPreview(read, deck, rules, legality(deck, game.cards, game.rulebook, rules))


def import_list(
    workspace: Workspace,
    game_id: str,
    data: bytes,
    page: str,
    filename: str = "",
    deck_id: str = "",
    name: str = "",
    format_: str = "",
    key: Key | None = None,
) -> tuple[Commit, str]:
    """Import a deck list as one op: a new deck, or the cards of an existing one.

    Returns the deck's id. Raises Refused.
    """
    game = workspace.game(game_id)
    look = preview_list(game, data, filename, deck_id, format_)
    if not look.read.cards:
        first = look.read.troubles[0] if look.read.troubles else None
        what = f"no card of this game is in the list{f' (line {first.line}: {first.what})' if first else ''}"
        raise Refused(Problem(where="decklist", what=what, mend="write lines such as 3 and a card's name"))
    if deck_id:
        label = f"{deck_in(game, deck_id).name}: list taken in"
        return refill(workspace, game_id, deck_id, look.deck, label, page, key), deck_id
    title = (name or look.read.name or _stem(filename) or NO_NAME)[:80]
    deck = look.deck
    return add_deck(workspace, game_id, title, page, deck.cards, key, deck.sections, deck.format)


def form_of(form: str) -> DeckForm:
    """Raises Refused for an unknown file format."""
    found = FORMS.get(form)
    if found is None:
        raise Refused(Problem(where="form", what=f"there is no decklist as {form[:20]}", mend=f"take one of {', '.join(FORMS)}"))  # fmt: skip
    return found


def write_list(game: GameSnapshot, deck: Deck, form: str = "txt") -> str:
    """A deck as a deck list. Raises Refused."""
    return form_of(form).write(deck, game.cards, game.rulebook, game.format_of(deck))


def _named(game: GameSnapshot, rules: str) -> Format | None:
    return next((each for each in game.formats if rules and fold(rules) in (fold(each.name), each.id)), None)


def _stem(filename: str) -> str:
    return " ".join(filename.rpartition("/")[2].rpartition(".")[0].replace("_", " ").split())
