"""The rules text of a game, generated from the document that the engine plays, in order of play."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import assert_never

from dramok.core.cards import Card
from dramok.core.effects.model import Amount
from dramok.core.effects.vocabulary import Vocabulary
from dramok.core.english import and_list, lower_first, or_list, plural_noun, upper_first
from dramok.core.problem import plural
from dramok.core.rulebook import Rulebook
from dramok.core.rulebook.market import Market
from dramok.core.rulebook.phase_actions import Doing, action_of
from dramok.core.rulebook.play_rules import AfterPlay, OwnZone, Phase
from dramok.core.rulebook.rulebook import Resource
from dramok.core.rulebook.starting_cards import starting_deck
from dramok.core.wording.clash_example import ClashExample, example_of
from dramok.core.wording.printed_text import (
    ability_in_words,
    amount_in_words,
    group_text,
    with_resource_names,
)

_WORDS = ("no", "one", "two", "three", "four")


@dataclass(frozen=True)
class RulesSection:
    """A part of the rules text. `part` is the part of the document; `cards` are ids of example cards."""

    part: str
    title: str
    lines: tuple[str, ...]
    cards: tuple[str, ...] = ()


def rules_sections(rulebook: Rulebook, cards: Iterable[Card], vocabulary: Vocabulary, decks: Sequence[str] = ()) -> tuple[RulesSection, ...]:
    """All parts in order of play; `decks` are sentences about deck rules. Empty parts are left out."""
    reader = Reader(rulebook, list(cards), vocabulary)
    parts = (
        RulesSection("seats", "What you need", (*reader.seats(), *decks)),
        RulesSection("zones", "Zones", tuple(reader.zones())),
        RulesSection("set_up", "Setup", tuple(reader.set_up())),
        RulesSection("phases", f"{upper_first(reader.article(reader.turn))}, step by step", tuple(reader.turns())),
        RulesSection("after_play", "Playing a card", *reader.playing()),
        RulesSection("actions", "Actions", tuple(reader.actions())),
        RulesSection("market", "Buying cards", tuple(reader.markets())),
        RulesSection("clash", "A clash", *reader.clash()),
        RulesSection("goals", "How it ends", tuple(reader.goals())),
        RulesSection("scoring", "Scoring", tuple(reader.scoring())),
        RulesSection("words", "Words", tuple(f"{each.name}: {each.reminder or 'it has no reminder yet.'}" for each in rulebook.keywords)),
    )
    return tuple(each for each in parts if each.lines)


def turn_summary(rulebook: Rulebook) -> str:
    """The turn in one line."""
    reader = Reader(rulebook, [], None)
    phases = rulebook.played.phases
    told = [f"{each.name}: {'; '.join(reader.does(each)) or 'nothing of its own'}" for each in phases]
    return " → ".join(told) if told else "No phase is laid out yet."


class Reader:
    """Writes the rules text of one rulebook."""

    def __init__(self, rulebook: Rulebook, cards: Sequence[Card], vocabulary: Vocabulary | None) -> None:
        self.rules, self.play, self.table = rulebook, rulebook.played, rulebook.table
        self.cards, self.vocabulary = cards, vocabulary
        self.turn = self.table.turn
        self.alone = self.play.seats == 1

    # Names.

    def zone(self, ident: str) -> str:
        name = self.rules.zone_name(ident)
        return name if self._own(ident) else name[:1].lower() + name[1:]

    def _own(self, ident: str) -> OwnZone | None:
        return next((each for each in self.play.zones if each.id == ident), None)

    def whose(self, ident: str) -> str:
        own = self._own(ident)
        return f"the {self.zone(ident)}" if own is not None and own.shared else f"your {self.zone(ident)}"

    def resource(self, ident: str) -> Resource:
        return next(each for each in self.rules.resources if each.id == ident)

    def counted(self, ident: str, number: int) -> str:
        each = self.resource(ident)
        return f"{number} {each.name.lower() if number == 1 else each.names.lower()}"

    def types(self, idents: Iterable[str]) -> str:
        return or_list([self.type(each).lower() for each in idents])

    def type(self, ident: str) -> str:
        return self.rules.cards.type(ident).name

    def stat(self, ident: str) -> str:
        field = self.rules.cards.field(ident)
        return field.name.lower() if field is not None else ident

    def field(self, ident: str) -> str:
        return self.stat(ident)

    def article(self, noun: str) -> str:
        return f"{'an' if noun[:1].lower() in 'aeiou' else 'a'} {noun}"

    def title(self, card: Card) -> str:
        return card.text(self.rules.roles.name) or card.code

    # What is said.

    def seats(self) -> Iterable[str]:
        if self.alone:
            yield "This is a game for one player." if not self.play.free else "A game for one player, played freely: no rival and no fixed goal."
        else:
            fewest, greatest = self.play.fewest, self.play.greatest
            number = _WORDS[self.play.seats] if fewest == greatest else f"{_WORDS[fewest]} to {_WORDS[greatest]}"
            yield f"{upper_first(number)} players, each with {'the same starting deck' if self.play.set_up.starts_alike else 'a deck of their own'}."
        counted = self.rules.resources
        if counted:
            yield f"Keep count of {and_list([lower_first(each.names) + (' (one pool for the table)' if each.shared and not self.alone else '') for each in counted])}."

    def zones(self) -> Iterable[str]:
        yield (
            f"Your deck, shuffled, is your {self.zone('draw')}. The cards you hold are your {self.zone('hand')}; only you see them. "
            f"Cards that stay in play are in your {self.zone('play')}. Used cards go face up to your {self.zone('discard')}."
        ) if self.rules.zone_name("play") != "in play" else (
            f"Your deck, shuffled, is your {self.zone('draw')}. The cards you hold are your {self.zone('hand')}; only you see them. "
            f"Cards that stay are in play in front of you. Used cards go face up to your {self.zone('discard')}."
        )
        for each in self.play.zones:
            whose = "There is one" if each.shared else "Each player has one" if not self.alone else "You have one"
            seen = {"all": "face up", "owner": "only its owner sees it", "none": "face down"}[each.seen]
            if each.kind != "pile":
                yield self._row(each)
                continue
            limit = f", of at most {plural(each.limit, 'card')}" if each.limit else ""
            yield f"{each.name}: {whose[:1].lower()}{whose[1:]}, {seen}{limit}{', shuffled at the start' if each.shuffled else ''}."

    def _row(self, zone: OwnZone) -> str:
        """A row, or a supply, and how it is filled again."""
        if zone.kind == "supply":
            return f"{zone.name}: a supply of face-up cards, equal cards together."
        said = f"{zone.name}: a row of {plural(zone.places or 0, 'face-up card')}"
        if zone.source is None:
            return f"{said}."
        top = f"from the top of the {self.zone(zone.source)}"
        if zone.refill == "never":
            return f"{said}, filled {top} at the start."
        return f"{said}, refilled {top}{' as soon as a place is free' if zone.refill == 'at once' else ' when the turn says so'}."

    def set_up(self) -> Iterable[str]:
        up = self.play.set_up
        start = starting_deck(self.rules, self.cards)
        if start:
            deck = and_list([f"{count} {self._named(ident)}" for ident, count in start.items()])
            yield f"{'You begin' if self.alone else 'Each player begins'} with a deck of {plural(sum(start.values()), 'card')}: {deck}."
        for laid in up.placed:
            names = [f"{count} {self._named(ident)}" for ident, count in laid.cards.items()]
            if laid.group is not None and self.vocabulary is not None:
                names.append(f"all copies of each {group_text(laid.group, self.rules, self.vocabulary)}")
            own = self._own(laid.zone)
            where = f"the {self.zone(laid.zone)}" if own is not None and own.shared else f"each player's {self.zone(laid.zone)}" if not self.alone else f"your {self.zone(laid.zone)}"
            yield f"Put into {where}: {and_list(names)}{'. Shuffle it' if own is not None and own.shuffled else ''}."
        starts = [self.counted(each.id, each.start) for each in self.rules.resources if each.start]
        if starts:
            yield f"{'You start' if self.alone else 'Each player starts'} with {and_list(starts)}."
        if self.table.opening_hand:
            yield f"{'Shuffle your deck and draw' if self.alone else 'Each player shuffles their deck and draws'} an opening hand of {plural(self.table.opening_hand, 'card')}."
        redraw = up.redraw
        if redraw.kind != "none":
            what = "your whole hand" if redraw.kind == "hand" else "any of these cards"
            how = "shuffle them into your deck, then draw the same number" if redraw.returned == "before" else "draw the same number, then shuffle the returned cards into your deck"
            yield f"Once, before the first {self.turn}, you may return {what}: {how}."
        makes_up = [*([plural(up.second_draws, "card")] if up.second_draws else []), *(self.counted(each, number) for each, number in up.second_gains.items() if number)]
        if makes_up and not self.alone:
            yield f"A player who does not go first gets {and_list(makes_up)}."

    def _named(self, ident: str) -> str:
        card = next((each for each in self.cards if ident in (each.id, each.code)), None)
        return self.title(card) if card is not None else ident

    def turns(self) -> Iterable[str]:
        if not self.alone:
            yield f"Players take turns; {self.article(self.turn)} goes through these steps."
        for number, phase in enumerate(self.play.phases, 1):
            said = self.does(phase) or ["nothing happens by itself; effects may refer to it"]
            if phase.whose == "each" and not self.alone:
                yield f"{number}. {phase.name}, of each player in turn. {upper_first('. '.join(upper_first(each) for each in said))}."
            else:
                yield f"{number}. {phase.name}. {'. '.join(upper_first(each) for each in said)}."
        if self.play.answers is not None:
            yield f"When a card is played, each other player may answer it with one {self.types(self.play.answers.types)} before it does anything."
        if any(action_of(doing).draws for phase in self.play.phases for doing in phase.does):
            yield self._empty()

    def _empty(self) -> str:
        pile, discards = self.zone("draw"), self.zone("discard")
        if self.table.empty_draw_pile == "lose":
            return f"A player who has to draw from an empty {pile} loses."
        if self.table.empty_draw_pile == "nothing":
            return f"If your {pile} is empty, you draw nothing."
        often = "" if self.play.reshuffles is None else ", once in a match" if self.play.reshuffles == 1 else f", up to {self.play.reshuffles} times in a match"
        return f"When your {pile} is empty and you have to draw, shuffle your {discards} into it{often}."

    def does(self, phase: Phase) -> list[str]:
        return [said for said in map(self.doing, phase.does) if said]

    def doing(self, doing: Doing) -> str:
        """What a phase action says in the rules text; empty if it does nothing in this game."""
        return action_of(doing).sentence(self, doing)

    def first_turns(self, first: str) -> str:
        """The turns on which an action is left out, to be appended to its sentence."""
        if first == "all":
            return ""
        return f", but not on the first {self.turn} of the match" if first == "later seats" else f", but not on the first {self.turn}" if self.alone else f", but not on anyone's first {self.turn}"

    def playing(self) -> tuple[tuple[str, ...], tuple[str, ...]]:
        lines: list[str] = []
        examples: list[str] = []
        cost = self.rules.roles.cost
        if self.table.pays is None:
            lines.append("Cards cost nothing to play.")
        else:
            paid = self.resource(self.table.pays)
            lines.append(f"Pay a card's {self.stat(cost) if cost else 'cost'} in {lower_first(paid.names)}{', from the pool on the table' if paid.shared and not self.alone else ''}.")
            dear = next((each for each in self.cards if cost and (each.number(cost) or 0) > 1), None)
            if dear is not None and cost is not None:
                lines.append(f"{self.title(dear)}, for instance, costs {self.counted(paid.id, dear.number(cost) or 0)}.")
                examples.append(dear.id)
        lines += self._kinds()
        if self.play.free and self.alone:
            lines.append(f"You may also draw, discard and {self.table.dismiss} as you like.")
        for common in self.play.common:
            over = "the excess is lost" if common.over == "lost" else "you choose what to give back"
            lines.append(f"Together, {and_list([lower_first(self.resource(each).names) for each in common.resources])} never exceed {common.cap}: {over}.")
        for each in self.rules.resources:
            if each.cap is not None:
                lines.append(f"{upper_first(lower_first(each.names))} never {'exceed' if each.names != each.name else 'exceeds'} {each.cap}.")
        bears = self.rules.roles.damage_limit
        if bears:
            lines.append(f"A card with as much {self.rules.phrases.damage} on it as its {self.stat(bears)} leaves play for its owner's {self.zone('discard')}.")
        return tuple(lines), tuple(examples)

    def _kinds(self) -> Iterable[str]:
        """What happens to played cards; types with the same rule are named together."""
        held: dict[str, list[str]] = {}
        for kind in self.rules.cards.types:
            if not kind.abstract:
                after = next((each for each in self.play.after_play if self.rules.cards.is_a(kind.id, each.type)), None)
                said = self._after(after) if after is not None else self._becomes("stays" if kind.stays else "discarded")
                held.setdefault(said, []).append(kind.name)
        for said, names in held.items():
            yield f"{upper_first(or_list([each.lower() for each in names]))}: {said}." if len(self.rules.cards.types) > 1 else f"A played card {said}."

    def _after(self, after: AfterPlay) -> str:
        if after.becomes != "attached":
            return self._becomes(after.becomes)
        host = group_text(after.hosts, self.rules, self.vocabulary) if after.hosts is not None and self.vocabulary is not None else "card"
        return f"is attached to {self.article(host)} and leaves play with it"

    def _becomes(self, what: str) -> str:
        return {
            "discarded": f"is carried out, then goes to the {self.zone('discard')}", "stays": "stays in play", "tilted": "stays in play, tilted",
            "cleared": "stays in play until it is cleared away",
            "figure": f"leaves a figure in play, with stats of its own, and goes to the {self.zone('discard')} itself",
        }[what]  # fmt: skip

    def clash(self) -> tuple[tuple[str, ...], tuple[str, ...]]:
        rule = self.play.clash
        if rule is None or not any(doing.do == "clash" for phase in self.play.phases for doing in phase.does):
            return (), ()
        stat, lines = self.stat(rule.stat), []
        new = "" if rule.on_arrival else f", except those that came into play this {self.turn}"
        lines.append(f"Choose which of your straight {plural_noun(self.types(rule.types))} clash{new}.{' They are tilted.' if rule.tilts else ''}")
        answers = self.types(rule.answer_types or rule.types)
        if rule.answers == "none":
            lines.append("They can't be answered.")
        else:
            each = "one" if rule.answers == "one" else "one or more"
            lines.append(f"Your rival may answer each with {each} of their straight {plural_noun(answers)}{', which are also tilted' if rule.answer_tilts else ''}; each answers once.")
        if rule.unanswered != "nothing" and rule.total is not None:
            points = f"its {stat} in {lower_first(self.resource(rule.total).names)}" if rule.points == "stat" else self.counted(rule.total, 1)
            who = f"you gain {points}" if rule.unanswered == "gains" else f"your rival loses {points}"
            lines.append(f"For each unanswered card, {who}.")
        if rule.answers != "none":
            if rule.hurts:
                lines.append(f"A card and its answer deal their {stat} to one another as {self.rules.phrases.damage}, at the same moment.")
            else:
                lines.append(f"An answer's {stat} is subtracted from the other card's.")
            if rule.excess == "through":
                lines.append("The excess counts as unanswered.")
        if rule.in_order:
            lines.append("Clashes are resolved one after another, in the order in which the cards came into play.")
        told = example_of(self)
        if told is not None:
            lines += told.lines
        return tuple(lines), (told.sender, told.answer) if told is not None else ()

    def actions(self) -> Iterable[str]:
        """The actions of the rules with their lines as printed."""
        if self.vocabulary is None:
            return
        for action in self.play.actions:
            said = " ".join(with_resource_names(ability_in_words(each, self.rules, self.vocabulary), self.rules) for each in action.effect.abilities)
            yield f"{action.name}. {said or 'It does nothing yet.'}"

    def markets(self) -> Iterable[str]:
        alike: dict[str, list[Market]] = {}
        for each in self.play.markets:
            own = self.play.zone(each.zone)
            alike.setdefault(f"{own.kind if own else ''} {each.model_copy(update={'zone': ''}).model_dump_json()}", []).append(each)
        for each, *others in alike.values():
            paid = self.resource(each.pays)
            price = self.stat(each.price or self.rules.roles.cost or "cost")
            zone = self.play.zone(each.zone)
            names = or_list([self.zone(one.zone) for one in (each, *others)])
            what = {"row": "a card", "supply": "one of each kind of card", "pile": "the top card"}[zone.kind if zone is not None else "pile"]
            goes = {"discard": f"your {self.zone('discard')}", "hand": f"your {self.zone('hand')}", "draw": f"the top of your {self.zone('draw')}", "play": "play"}[each.goes_to]
            often = "" if each.most is None else f", once a {self.turn}" if each.most == 1 else f", up to {each.most} times a {self.turn}"
            yield f"You may buy {what} of the {names} for its {price} in {lower_first(paid.names)}{often}; it goes to {goes}."
            if any(each.by_place):
                changes = ", ".join(f"{change:+d}" if change else "0" for change in each.by_place)
                yield f"The price changes by the place in the row, the oldest card first: {changes}{'' if len(each.by_place) >= (zone.places if zone and zone.places else 99) else '; further places as the last'}."
            if each.less is not None:
                yield f"The price is lower by {self.amount(each.less)}."
            if each.passing is not None:
                yield f"For each card before the one you buy, put {self.counted(each.passing.resource, each.passing.number)} on it. Whoever buys a card takes what is on it."
        for counter in self.play.counters:
            if counter.price:
                yield f"Each {lower_first(counter.name)} on a card makes it {abs(counter.price)} {'dearer' if counter.price > 0 else 'cheaper'}."
        for resource in self.rules.resources:
            if resource.lasts == "turn":
                yield f"{upper_first(lower_first(resource.names))} that you have not spent are lost at the end of your {self.turn}."

    def scoring(self) -> Iterable[str]:
        if not self.play.scoring or self.vocabulary is None:
            return
        yield "At the end everyone adds up:"
        for line in self.play.scoring:
            yield f"{line.name}: {'minus ' if line.minus else ''}{self.amount(line.amount)}."
        if not self.alone:
            yield "The highest score wins."
            ties = [f"{'the lowest' if each.lowest else 'the highest'}: {self.amount(each.amount)}" for each in self.play.ties]
            if ties:
                yield f"Among equal scores, {', then '.join(ties)}."

    def amount(self, amount: Amount) -> str:
        """An amount in words, resources by name."""
        return with_resource_names(amount_in_words(amount, self.rules, self.vocabulary), self.rules) if self.vocabulary is not None else ""


    def _ends(self) -> Iterable[str]:
        for end in self.play.ends:
            when = {"at once": "the match ends at once", "round": "the match ends after that round", "one more round": "everyone has one more round, then the match ends"}[end.when]
            zones = and_list([f"the {self.zone(each)}" for each in end.zones]) if end.zones else ""
            match end.kind:
                case "empty":
                    yield f"When {zones} {'is' if len(end.zones) == 1 else 'are'} empty, {when}."
                case "sold out":
                    yield f"When {plural(end.number, 'kind')} of cards in {zones} {'is' if end.number == 1 else 'are'} gone, {when}."
                case "rounds":
                    yield f"The match ends after {plural(end.number, 'round')}."
                case "reached":
                    yield f"When a player has {self.counted(end.total or '', end.number)}, {when}."
                case _:
                    assert_never(end.kind)

    def goals(self) -> Iterable[str]:
        yield from self._ends()
        for goal in self.play.goals:
            name = lower_first(self.resource(goal.total).names)
            match goal.kind:
                case "reach":
                    yield f"The first player with {goal.number} {name} wins."
                case "drop":
                    out = "loses" if self.play.seats <= 2 else "is out; the last player left wins"
                    yield f"A player who is down to {goal.number} {name} {out}."
                case "most":
                    yield f"After round {goal.number}, the player with the most {name} wins."
                case _:
                    assert_never(goal.kind)
        if (self.play.goals or self.play.ends) and self.play.seats > 1:
            yield "If two players would win at one moment, it is a draw." if self.play.tie == "draw" else f"If two players would win at one moment, the one whose {self.turn} it is wins."


def clash_example(rulebook: Rulebook, cards: Sequence[Card], sender: str | None = None, answer: str | None = None) -> ClashExample | None:
    """The result of a clash of two cards; without ids, suitable examples are chosen.

    None without a clash or cards for it.
    """
    return example_of(Reader(rulebook, cards, None), sender, answer)
