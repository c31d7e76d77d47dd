"""Generates rulebooks and cards from a seed: everything the rules and the effect language can say, within limits that let a match continue."""

from __future__ import annotations

from collections.abc import Callable
from random import Random

from dramok.core.cards import Card
from dramok.core.effects import parse_amount, read_script
from dramok.core.engine import Program, compile_program
from dramok.core.rulebook import GameVocabulary, Rulebook
from tests.core.invented_world import RULEBOOK

TYPES = ("plant", "weather")
STATS = ("height", "root")
NAMES = [f"Card {letter}" for letter in "ABCDEFGH"]


def rulebook(dice: Random) -> Rulebook:
    """A game of one to four seats with phases, zones, clash and goals as they fall."""
    seats = dice.choice([1, 2, 2, 2, 3, 3, 4])
    clash = seats > 1 and dice.random() < 0.8
    doings = [{"do": "grow"}, {"do": "draw", "first": dice.choice(["all", "later seats", "none"])}]
    early = [{"do": "straighten"}, *doings, {"do": "gain", "resource": "water", "number": 1, "most": dice.choice([1, 3])}]
    if dice.random() < 0.3:
        early.append({"do": "turn over", "zone": "sky"})
    phases = [
        {"id": "dawn", "name": "Dawn", "does": early},
        {"id": "tending", "name": "Tending", "whose": dice.choice(["active", "active", "each"]), "does": [{"do": "play", "most": dice.choice([None, None, 1, 2])}]},
        {"id": "showing", "name": "Showing", "does": [{"do": "clash"}] if clash else [{"do": "clear damage"}]},
        {"id": "dusk", "name": "Dusk", "does": [{"do": dice.choice(["hand limit", "clear damage", "recall"])}, {"do": "hand limit"}]},
    ]  # fmt: skip
    goals = [{"kind": "reach", "total": "ribbon", "number": dice.choice([5, 12, 20])}]
    goals += [{"kind": "most", "total": "ribbon", "number": 6}] if dice.random() < 0.4 else []
    goals += [{"kind": "drop", "total": "ribbon", "number": 0}] if seats > 1 and dice.random() < (0.3 if seats == 2 else 0.6) else []
    play = {
        "seats": seats, "free": seats == 1 and dice.random() < 0.5, "phases": phases,
        "zones": [{"id": "sky", "name": "Sky", "shared": True, "seen": dice.choice(["all", "none"]), "shuffled": True}, {"id": "bed", "name": "Bed", "limit": dice.choice([None, 2])}],
        "set_up": {"placed": [{"zone": "sky", "cards": {"Card B": 2, "Card D": 1}}, {"zone": "play", "cards": {"Card C": 1}}] if dice.random() < 0.5 else [],
                   "redraw": {"kind": dice.choice(["none", "hand", "cards"]), "returned": dice.choice(["before", "after"])},
                   "second_draws": dice.choice([0, 1]), "second_gains": dice.choice([{}, {"ribbon": 1}])},
        "answers": {"types": ["weather"]} if seats > 1 and dice.random() < 0.4 else None,
        "reshuffles": dice.choice([None, None, 1]),
        "after_play": dice.choice([[], [{"type": "plant", "becomes": "tilted"}], [{"type": "weather", "becomes": "figure"}], [{"type": "weather", "becomes": "attached", "hosts": {"type": "plant"}}]]),
        "common": [{"resources": ["ribbon", "seed"], "cap": 9, "over": dice.choice(["lost", "choice"])}] if dice.random() < 0.3 else [],
        "goals": goals if seats > 1 or dice.random() < 0.5 else [], "tie": dice.choice(["draw", "active"]),
    }  # fmt: skip
    if dice.random() < 0.5:
        sells(dice, play)
    if clash:
        points = dice.choice(["gains", "loses", "nothing"])
        play["clash"] = {
            "types": ["plant"], "stat": "height", "answers": dice.choice(["one", "many", "none"]), "hurts": dice.random() < 0.6, "excess": dice.choice(["lost", "through"]),
            "unanswered": points, "total": None if points == "nothing" else "ribbon", "points": dice.choice(["stat", "one"]), "in_order": dice.random() < 0.4,
            "on_arrival": dice.random() < 0.5, "tilts": dice.random() < 0.7, "answer_tilts": dice.random() < 0.3,
        }  # fmt: skip
    document = RULEBOOK.model_dump(mode="json")
    document["resources"] = [
        {"id": "water", "name": "Water", "names": "Water", "symbol": "drop", "start": 4, "each_turn": 2, "cap": 8, "shared": dice.random() < 0.5, "refill": dice.random() < 0.3},
        {"id": "ribbon", "name": "Ribbon", "names": "Ribbons", "symbol": "ribbon", "start": 2},
        {"id": "seed", "name": "Seed", "names": "Seeds", "symbol": "leaf", "cap": 5, "lasts": dice.choice(["kept", "turn"])},
    ]  # fmt: skip
    document["table"] |= {"hand_limit": dice.choice([None, 4]), "empty_draw_pile": dice.choice(["reshuffle", "reshuffle", "lose", "nothing"]), "turn_draw": dice.choice([1, 2])}
    document["play"] = play
    bare = Rulebook.model_validate(document)
    words = vocabulary(bare)
    if play.get("markets"):
        play["scoring"] = [{"name": f"Line {number}", "amount": scored(dice, words), "minus": number == 2} for number in range(dice.choice([1, 2, 3]))]
        for market in play["markets"]:
            market["less"] = scored(dice, words) if dice.random() < 0.3 else None
        play["ties"] = [{"name": "Tie", "amount": scored(dice, words), "lowest": dice.random() < 0.5}] if dice.random() < 0.6 else []
    for number in range(dice.choice([0, 1, 2])):
        lines = [action_line(dice) for _ in range(dice.choice([1, 1, 2]))]
        good = [text for text in lines if not read_script(text, words)[1]]
        document["play"].setdefault("actions", []).append({"id": f"action-{number}", "name": f"Action {number}", "effect": read_script("\n".join(good), words)[0].model_dump(mode="json")})
        try:
            Rulebook.model_validate(document)
        except ValueError:  # it names a card as this
            document["play"]["actions"].pop()
    keywords = []
    for name in ("grafted", "night bloom"):
        text = lasting(dice) if dice.random() < 0.5 else triggered(dice)
        script, problems = read_script(text, words)
        keywords.append({"name": name, "effect": {} if problems else script.model_dump(mode="json")})
    return Rulebook.model_validate({**document, "keywords": keywords})


def sells(dice: Random, play: dict) -> None:
    """Adds a row that is refilled from a pile, a supply, counters, and ends by the state of the table to the rules of play."""
    play["zones"] += [
        {"id": "stock", "name": "Stock", "shared": True, "seen": "none", "shuffled": True},
        {"id": "shelf", "name": "Shelf", "shared": True, "kind": "row", "places": dice.choice([1, 2, 4]), "source": "stock", "refill": dice.choice(["at once", "at once", "phase", "never"])},
        {"id": "store", "name": "Store", "shared": True, "kind": "supply"},
    ]  # fmt: skip
    play["set_up"]["placed"] = [
        *play["set_up"]["placed"], {"zone": "stock", "cards": {name: dice.choice([1, 2, 3]) for name in dice.sample(NAMES, 4)}},
        {"zone": "store", "cards": {"Card A": 2}, "group": {"type": dice.choice(["plant", "weather"]), "filters": dice.choice([[], [{"kind": "tag", "tag": "climber"}]])}},
    ]  # fmt: skip
    goes = ("discard", "discard", "hand", "draw", "play")
    play["markets"] = [
        {"zone": "shelf", "pays": dice.choice(["water", "ribbon"]), "price": dice.choice([None, "height"]), "by_place": dice.choice([[], [-1, 0, 1]]), "goes_to": dice.choice(goes),
         "passing": dice.choice([None, {"resource": "ribbon"}, {"resource": "water", "number": 2}])},
        {"zone": "store", "pays": "ribbon", "goes_to": dice.choice(goes), "most": dice.choice([None, 1])},
        *([{"zone": "sky", "pays": "seed", "price": "root"}] if dice.random() < 0.4 else []),
    ]  # fmt: skip
    play["counters"] = [{"id": "ripe", "name": "Ripeness", "zones": ["shelf", "bed"], "price": dice.choice([-1, 0, 1])}] if dice.random() < 0.7 else []
    tending = play["phases"][1]["does"][0]
    tending |= {"may": dice.choice([["buy"], ["play", "buy"], ["play", "use", "buy"]]), "one": dice.random() < 0.3}
    play["phases"][3]["does"] += [{"do": each} for each in ("refill rows", "counters grow", "clear away", "discard hand") if dice.random() < 0.6]
    play["phases"][0]["does"] += [{"do": "counters grow", "each": "round"}] if dice.random() < 0.4 else []
    play["phases"][3]["does"] += [{"do": "scheduled", "zone": dice.choice(["sky", "shelf", "bed"]), "field": "cost"}] if dice.random() < 0.5 else []
    if not play["after_play"] and dice.random() < 0.5:
        play["after_play"] = [{"type": "plant", "becomes": "cleared"}]
    play["ends"] = dice.sample([
        {"kind": "empty", "zones": ["stock"], "when": dice.choice(["at once", "round", "one more round"])}, {"kind": "empty", "zones": ["shelf", "bed"]},
        {"kind": "sold out", "zones": ["store"], "number": 1, "when": dice.choice(["at once", "round", "one more round"])}, {"kind": "rounds", "number": dice.choice([2, 5])},
        {"kind": "reached", "total": "ribbon", "number": 7, "when": dice.choice(["at once", "round"])},
    ], dice.choice([1, 2]))  # fmt: skip


def scored(dice: Random, words: GameVocabulary) -> dict:
    """An amount of a score line."""
    numbers = [*STATS, *(["Ripeness"] if words.find("stat", "Ripeness") else [])]
    text = dice.choice([
        f"sum ({dice.choice(numbers)} of own card everywhere)", "2 x count (own plant [tag climber] everywhere) + held ribbon", "count (rival card in hand)",
        f"most (held seed, sum ({dice.choice(numbers)} of own plant))",
    ])  # fmt: skip
    amount, problems = parse_amount(text, words)
    assert amount is not None, problems
    return amount.model_dump(mode="json")


def vocabulary(rules: Rulebook) -> GameVocabulary:
    return GameVocabulary(rules, ("climber",), lambda: {name: name for name in NAMES})


def pool(dice: Random, rules: Rulebook) -> list[Card]:
    """Eight cards whose every line is read and plays."""
    words = vocabulary(rules)
    cards = []
    for number, name in enumerate(NAMES):
        kind = "weather" if number % 4 == 3 else "plant"
        values: dict[str, object] = {"name": name, "cost": dice.randint(0, 3), "bed": dice.choice(["fern", "moss"]), "tags": ("climber",) if dice.random() < 0.5 else ()}
        if kind == "plant":
            values |= {"height": dice.randint(0, 4), "root": dice.randint(1, 4)}
        lines = [line(dice, kind) for _ in range(dice.choice([0, 1, 1, 2, 2, 3]))]
        good = [text for text in lines if not read_script(text, words)[1] and len(text) < 500]
        values["effect"] = read_script("\n".join(good), words)[0]
        cards.append(Card(name, f"X-{number}", "first", kind, values))  # type: ignore[arg-type]
    return cards


def program(dice: Random) -> Program:
    """A whole game; lines that can be read and not played are left out of the cards, and of the keywords."""
    rules = rulebook(dice)
    made = compile_program(rules, pool(dice, rules))
    while made.notes:
        where = {note.where for note in made.notes}
        keywords = tuple(each.model_copy(update={"effect": type(each.effect)()}) if f"keyword {each.name}" in where else each for each in rules.keywords)
        actions = tuple(each.model_copy(update={"effect": type(each.effect)()}) if f"action {each.name}" in where else each for each in rules.played.actions)
        rules = rules.model_copy(update={"keywords": keywords, "play": rules.played.model_copy(update={"actions": actions})})
        cards = [card.with_value("effect", None) if card.code in where else card for card in made.cards]
        made = compile_program(rules, cards)
    return made


def line(dice: Random, kind: str) -> str:
    roll = dice.random()
    if roll < 0.2:
        return lasting(dice)
    if roll < 0.32:
        if dice.random() < 0.2:
            return f"offer free, limit {dice.randint(1, 2)} a {dice.choice(['turn', 'game'])}: {steps(dice)}"
        return f"offer {cost(dice)}{guard(dice)}: {steps(dice)}"
    if roll < 0.38:
        return dice.choice(["has grafted", 'has "night bloom"', 'has grafted, "night bloom"'])
    return triggered(dice, kind)


def action_line(dice: Random) -> str:
    """A line of an action of the rules."""
    return f"offer {dice.choice(['free, limit 1 a turn', 'free, limit 2 a game', 'pay 1 water', 'discard 1', 'pay 2 ribbon, limit 1 a turn'])}: {steps(dice)}"


def lasting(dice: Random) -> str:
    who = dice.choice(["this", "host", f"all {group(dice, '')}", f"all {group(dice, '')}"])
    what = dice.choice([
        f"raise {dice.choice(STATS)} of {who} by {amount(dice)}", f"lower {dice.choice(STATS)} of {who} by 1", f"grant {key(dice)} to {who}",
        f"strip {key(dice)} of {who}", f"forbid {dice.choice(['destroying', 'hurting', 'choosing', 'affecting', 'clashing', 'answering', 'tilting', 'straightening'])} {who}",
        f"allow {dice.choice(['clashing', 'answering'])} {who}",
    ])  # fmt: skip
    return f"always{', if ' + condition(dice) if dice.random() < 0.3 else ''}: {what}"


def triggered(dice: Random, kind: str = "plant") -> str:
    of = dice.choice(["this", "this", group(dice, "")])
    cues = [f"{word} {of}" for word in ("play", "enter", "leave", "destroyed", "discarded", "drawn", "clash", "answered", "hurting", "gained")]
    cues += [f"hurt {of}{dice.choice(['', ' from rival plant'])}"] * 2
    cues += [f"{at} {dice.choice(['', 'own ', 'rival '])}{when}" for at in ("begin", "end") for when in ("turn", "dawn", "dusk")]
    cues += ["match", "rising ribbon above 4", "falling water under 3", f"gaining {dice.choice(['', 'rival '])}ribbon", "losing water under 4", "gaining seed above 1"]
    cue = "play this" if kind == "weather" and dice.random() < 0.6 else dice.choice(cues)
    return f"upon {cue}{guard(dice)}: {steps(dice)}"


def guard(dice: Random) -> str:
    text = f", limit {dice.randint(1, 2)} a {dice.choice(['turn', 'turn', 'game'])}" if dice.random() < 0.4 else ""
    return text + (f", if {condition(dice)}" if dice.random() < 0.2 else "")


def condition(dice: Random) -> str:
    one = f"{operand(dice)} {dice.choice(['above', 'under', 'is'])} {dice.randint(0, 4)}"
    return dice.choice([one, f"not {one}", f"{one} and held water above 1", f"{one} or count (own plant) above 1"])


def operand(dice: Random) -> str:
    everywhere = f"{group(dice, '')} everywhere"
    return dice.choice(["held ribbon", "held rival ribbon", "held water", f"count ({group(dice, '')})", f"count ({everywhere})", f"sum ({dice.choice(STATS)} of {everywhere})", f"sum ({dice.choice(STATS)} of {group(dice, '')})", f"{dice.choice(STATS)} of this", "count (own card in hand)"])


def compared(dice: Random) -> str:
    """An amount by which seats are compared."""
    return dice.choice(["held ribbon", "held water", "count (own plant)", "count (own card everywhere)", "(held ribbon + count (own card in hand))", f"sum ({dice.choice(STATS)} of own card everywhere)"])


def amount(dice: Random) -> str:
    plain = str(dice.randint(1, 2))
    return dice.choice([plain, plain, plain, plain, "0", f"count ({group(dice, '')})", f"({operand(dice)} - 1)", f"(1 + {operand(dice)} x 1)", f"least (2, {operand(dice)})", f"(half up {operand(dice)})", f"{dice.choice(STATS)} of this"])


def group(dice: Random, zone: str | None = None) -> str:
    filters = [f for f in ("other", "tag climber", "bed is Fern", "height above 1", "root under 3", "not tag climber", "has grafted", "tilted", "wounded", "created", "not other") if dice.random() < 0.1]
    where = dice.choice(["", "", "", "", " in discards", " in hand", " in bed", " in sky"]) if zone is None else zone
    side = dice.choice(["own ", "rival ", ""])
    if where == " in hand":
        side = "own "
    elif where == " in sky":
        side = dice.choice(["", "", "", "own "])
    return f"{side}{dice.choice(['plant', 'plant', 'card'])}{' [' + ', '.join(filters) + ']' if filters else ''}{where.replace(' in discards', ' in ' + chr(34) + 'discard pile' + chr(34))}"


def target(dice: Random, zone: str | None = "") -> str:
    return dice.choice(["this", f"pick {group(dice, zone)}", f"pick 0..2 {group(dice, zone)}", f"pick 2 {group(dice, zone)}", f"all {group(dice, zone)}", f"random {group(dice, zone)}", f"random 2 {group(dice, zone)}", "host"])


def key(dice: Random) -> str:
    return dice.choice(["grafted", '"night bloom"'])


def until(dice: Random) -> str:
    return dice.choice(["", "", " until dusk", " until own dawn", " until end turn", " until rival dusk", " until end own dusk"])


def cost(dice: Random) -> str:
    return " + ".join(dice.sample(["pay 1 water", "tilt this", "discard 1", "destroy this", "return this", "pay 2 water"], dice.choice([1, 1, 2])))


def steps(dice: Random, depth: int = 0) -> str:
    return "; ".join(step(dice, depth) for _ in range(dice.choice([1, 1, 2])))


def step(dice: Random, depth: int) -> str:
    who = dice.choice(["", "", "", " for rival", " for all", f" for {dice.choice(['most', 'least'])} {compared(dice)}"])
    zone = dice.choice(["rival hand", "sky", "own hand", '"draw pile"', 'own "draw pile" bottom', '"discard pile"', "bed", "rival bed", '"in play"', 'rival "in play"', 'own "in play"', "removed"])
    flat: tuple[Callable[[], str], ...] = (
        lambda: f"draw {amount(dice)}{who}", lambda: f"discard {amount(dice)}{who}", lambda: f"deal {amount(dice)} to {target(dice)}",
        lambda: f"deal {amount(dice)} to {target(dice)}", lambda: f"heal 1 to {target(dice)}",
        lambda: f"gain {amount(dice)} {dice.choice(['water', 'ribbon', 'seed'])}{who}", lambda: f"lose {amount(dice)} {dice.choice(['water', 'ribbon'])}{who}",
        lambda: f"raise {dice.choice(STATS)} of {target(dice)} by {amount(dice)}{until(dice)}", lambda: f"lower {dice.choice(STATS)} of {target(dice)} by 1{until(dice)}",
        lambda: f"reveal {amount(dice)}", lambda: f"destroy {target(dice)}", lambda: f"remove {target(dice)}", lambda: f"return {target(dice, None)}",
        lambda: f"put {target(dice, None)} to {zone}", lambda: f"tilt {target(dice)}", lambda: f"straighten {target(dice)}",
        lambda: f'create 1 "{dice.choice(NAMES[:3])}"{who}', lambda: f"grant {key(dice)} to {target(dice)}{until(dice)}", lambda: f"strip {key(dice)} of {target(dice)}{until(dice)}",
        lambda: f"forbid {dice.choice(['destroying', 'hurting', 'clashing', 'tilting'])} {target(dice)}{until(dice)}",
        lambda: f"allow {dice.choice(['clashing', 'answering'])} {target(dice)}{until(dice)}",
        lambda: f"shield {amount(dice)} to {target(dice)}{until(dice)}", lambda: "look 2; put pick 1 of it to own hand",
        lambda: f'search pick 0..2 {group(dice, "")} in "draw pile"; put it to own hand',
        lambda: "return pick own plant; put it to own \"in play\"", lambda: f"destroy {target(dice)}; put it to own hand" if dice.random() < 0.1 else "destroy pick plant; put it to own hand",
        lambda: f"return this; may (put this to {dice.choice(['own', 'rival'])} \"in play\")", lambda: f"put pick card in {dice.choice(['sky', 'shelf', 'store'])} to {zone}", lambda: f"put {target(dice)} to {dice.choice(['shelf', 'store'])}", lambda: dice.choice(["shuffle store", "shuffle shelf", "search pick card in store; put it to own hand"]), lambda: f"put random rival card in hand to {zone}",
        lambda: f"lose 3 ribbon{who}; draw 1; discard 1",
        lambda: 'shuffle own "draw pile"', lambda: f"deal 1 to pick own plant; heal 1 to it; raise height of it by 1{until(dice)}",
    )  # fmt: skip
    if depth < 2 and dice.random() < 0.25:
        inner = steps(dice, depth + 1)
        nested: tuple[Callable[[], str], ...] = (
            lambda: f"may ({inner})", lambda: f"offer {cost(dice)} ({inner})", lambda: f"choose 1 of ({inner} | {steps(dice, depth + 1)})",
            lambda: f"choose 2 of ({inner} | draw 1 | gain 1 ribbon)", lambda: f"each {group(dice)} ({inner})", lambda: f"each {group(dice, '')} (deal 1 to it; {inner})",
            lambda: f"if {condition(dice)} ({inner})", lambda: f"if {condition(dice)} ({inner}) otherwise ({steps(dice, depth + 1)})",
            lambda: f"later {dice.choice(['dusk', 'end turn', 'own dawn', 'begin rival turn'])} ({inner})", lambda: "deal 1 to pick own plant; later end turn (return it)",
        )  # fmt: skip
        return dice.choice(nested)()
    return dice.choice(flat)()
