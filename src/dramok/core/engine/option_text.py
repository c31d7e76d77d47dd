"""Options in the game's own words, for the page and the terminal."""

from __future__ import annotations

from dramok.core.effects import NO_NAMES, Vocabulary
from dramok.core.effects.model import Offered, Step, steps_of, walked
from dramok.core.engine.kernel import codes as k
from dramok.core.engine.market_view import price_text, sale_of
from dramok.core.engine.match import Match, Option
from dramok.core.rulebook import GameVocabulary
from dramok.core.wording import ability_in_words, steps_text, with_resource_names

_WORDS = {
    "draw": "Draw a card", "end turn": "Done", "done": "Done", "cancel": "Cancel", "yes": "Yes", "no": "No", "keep": "Keep this hand",
    "redraw": "Give the hand back",
}  # fmt: skip
_DO = {"play": "Play", "discard": "Discard", "pick": "Pick", "use": "Use", "clash": "Send", "dismiss": "Put away", "answer": "Answer with"}


def asker(match: Match) -> int:
    """The card of the table that asks now, or is being played; -1 if the rules ask."""
    s = match.state
    if s.over or s.top == 0:
        return k.NONE
    return s.declaring if s.declaring >= 0 else s.fr[(s.top - 1) * k.FRAME + k.F_THIS]


def asking_card(match: Match) -> str:
    """The name of the card that asks now; empty if the rules ask."""
    card = asker(match)
    return card_name(match, card) if card >= 0 else ""


def card_name(match: Match, card: int) -> str:
    """The name of a card of the table, its code, or the name of an action of the rules."""
    return match.program.name_of(match.state.cdef[card])


def option_words(match: Match, option: Option) -> str:
    """The effect of an option in a few words."""
    rules = match.program.rulebook
    if option.do == "end turn":
        phases = rules.played.phases
        phase = phases[match.state.phase].name if 0 <= match.state.phase < len(phases) else ""
        return f"End {phase if match.program.seats > 1 and phase else rules.table.turn}"
    if option.do == "option":
        return _choice(match, option.other)
    if option.do == "give back":
        return f"Give back 1 {rules.resources[option.other].name.lower()}"
    if option.do == "buy":
        sale = sale_of(match, option.other, option.card, match.seat)
        return f"Buy {card_name(match, option.card)} for {price_text(match, sale)}" if sale is not None else f"Buy {card_name(match, option.card)}"
    if option.do in _WORDS:
        return _WORDS[option.do]
    name = card_name(match, option.card)
    if option.do == "answer":
        return f"Answer {card_name(match, option.other)} with {name}"
    if option.do == "use":
        offered = offered_text(match, option)
        return f"{name}: {offered}" if offered else f"Use {name}"
    return f"{_DO[option.do]} {name}"


def _vocabulary(match: Match) -> Vocabulary:
    cards = {card.id: card.text(match.program.rulebook.roles.name) or card.code for card in match.program.cards}
    return GameVocabulary(match.program.rulebook, cards=lambda: cards) if cards else NO_NAMES


def offered_text(match: Match, option: Option) -> str:
    """The printed text of the effect of a card that an option uses."""
    abilities = [each for each in match.program.script_of(match.state.cdef[option.card]).abilities if each.kind in ("upon", "offer")]
    found = abilities[option.other] if option.other < len(abilities) else None
    if not isinstance(found, Offered):
        return ""
    rules, words = match.program.rulebook, _vocabulary(match)
    # No face shows the cost of an action of the rules.
    said = ability_in_words(found, rules, words) if match.is_action(option.card) else steps_text(found.steps, rules, words)
    return with_resource_names(said, rules)


def _choice(match: Match, place: int) -> str:
    """The printed text of one of several things to choose from."""
    s = match.state
    f = (s.top - 1) * k.FRAME
    number = match.program.numbers[s.fr[f + k.F_PC] + k.I_Y]
    for ability in match.program.script_of(s.cdef[s.fr[f + k.F_THIS]]).abilities:
        for step in walked(steps_of(ability)):
            if _is_asked(step, number):
                return with_resource_names(steps_text((step.options or ())[place], match.program.rulebook, _vocabulary(match)), match.program.rulebook)
    return f"Choice {place + 1}"


def _is_asked(step: Step, number: int) -> bool:
    return step.options is not None and len(step.options) == number
