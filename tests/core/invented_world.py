"""A small game for the core's tests: two card types, two resources, a few cards written as text."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from random import Random

from dramok.core.cards import Card
from dramok.core.effects import read_script
from dramok.core.rulebook import GameVocabulary, Rulebook

RULEBOOK = Rulebook.model_validate(
    {
        "id": "invented",
        "name": "Invented",
        "cards": {
            "types": [
                {
                    "id": "base", "name": "Base", "abstract": True,
                    "fields": [
                        {"id": "name", "name": "Name", "kind": "text"},
                        {"id": "bed", "name": "Bed", "kind": "choice", "list": "beds"},
                        {"id": "rarity", "name": "Rarity", "kind": "choice", "list": "rarities"},
                        {"id": "cost", "name": "Cost", "kind": "number"},
                        {"id": "tags", "name": "Tags", "kind": "tags"},
                        {"id": "effect", "name": "Effect", "kind": "effect"},
                        {"id": "printed", "name": "Printed text", "kind": "text", "long": True},
                    ],
                },
                {
                    "id": "plant", "name": "Plant", "extends": "base",
                    "fields": [{"id": "height", "name": "Height", "kind": "number"}, {"id": "root", "name": "Root", "kind": "number"}],
                },
                {"id": "weather", "name": "Weather", "extends": "base", "stays": False, "picture": "sky", "fields": []},
            ],
            "lists": [
                {"id": "beds", "name": "Beds", "values": [{"id": "fern", "name": "Fern"}, {"id": "moss", "name": "Wet Moss"}, {"id": "briar", "name": "Briar"}]},
                {"id": "rarities", "name": "Rarities", "values": [{"id": "common", "name": "Garden"}, {"id": "rare", "name": "Heirloom"}]},
            ],
        },
        "roles": {"faction": "bed", "damage_limit": "root", "stats": ["height", "root"]},
        "resources": [
            {"id": "water", "name": "Water", "names": "Water", "symbol": "drop", "start": 3, "each_turn": 2, "cap": 6, "shared": True},
            {"id": "ribbon", "name": "Ribbon", "names": "Ribbons", "symbol": "ribbon"},
        ],
        "table": {"pays": "water", "opening_hand": 3, "turn_draw": 1, "hand_limit": 4, "turn": "day"},
        "phrases": {
            "cues": {"play": "", "enter": "On arrival: ", "leave": "On leaving: "},
            "verbs": {
                "draw": "draw {n} card {each}", "draws": "draw {n} cards {each}", "discard": "discard {n} card", "discards": "discard {n} cards",
                "deal": "{n} {damage} to {target}", "heal": "heal {n} from {target}", "gain": "gain {n} {what}", "lose": "lose {n} {what}",
                "raise": "{stat} +{n} {each}",
            },
            "sides": {"own": "of yours", "rival": "of a rival", "any": ""},
            "picks": {
                "this": "this card", "it": "that card", "one": "a {group}", "some": "{n} {group}", "upto": "up to {n} {group}",
                "all": "each {group}", "random": "a random {group}", "randoms": "{n} random {group}", "each": "for each {group}",
            },
            "damage": "mildew",
        },
        "tags": ["climber", "night bloom"],
        "keywords": [{"name": "Grafted", "reminder": "It holds."}, {"name": "Night Bloom", "reminder": "It opens late."}],
    }
)  # fmt: skip
VOCABULARY = GameVocabulary(RULEBOOK, cards=lambda: {"Sprig": "Sprig", "Old Root": "Old Root"})


def card(
    name: str,
    effect: str = "",
    kind: str = "plant",
    cost: int = 0,
    height: int = 1,
    root: int = 2,
    vocabulary: GameVocabulary | None = None,
    **more: object,
) -> Card:
    """A card whose id is its name; every line of its effect must be readable."""
    values: dict[str, object] = {"name": name, "cost": cost, **more}
    if kind == "plant":
        values |= {"height": height, "root": root}
    if effect:
        script, problems = read_script(effect, vocabulary or VOCABULARY)
        assert not problems, problems
        values["effect"] = script
    return Card(name, name[:6].upper(), "first", kind, values)  # type: ignore[arg-type]


def opening_rules(dice: Random) -> Rulebook:
    """A game whose phases, resources and caps are made up."""

    def first() -> str:
        return dice.choice(["all", "later seats", "none"])

    doings = [
        {"do": "grow", "first": first()}, {"do": "draw", "first": first()}, {"do": "draw", "number": 2, "first": first()}, {"do": "refill"}, {"do": "refill", "number": 5},
        {"do": "gain", "resource": "water", "number": 1, "most": dice.choice([None, 1, 3])}, {"do": "gain", "resource": "seed", "number": 2}, {"do": "play"},
        {"do": "play", "types": ["weather"]}, {"do": "hand limit"},
    ]  # fmt: skip
    phases = [{"id": name, "name": name.capitalize(), "whose": dice.choice(["active", "active", "each"]), "does": dice.sample(doings, dice.randint(1, 5))} for name in ("dawn", "noon", "dusk")]
    document = RULEBOOK.model_dump(mode="json")
    document["resources"] = [
        {"id": "water", "name": "Water", "names": "Water", "symbol": "drop", "start": dice.randint(0, 3), "each_turn": dice.randint(0, 2), "cap": dice.choice([None, 5]),
         "shared": dice.random() < 0.4, "refill": dice.random() < 0.3},
        {"id": "seed", "name": "Seed", "names": "Seeds", "symbol": "leaf", "start": 1, "cap": 4},
        {"id": "ribbon", "name": "Ribbon", "names": "Ribbons", "symbol": "ribbon"},
    ]  # fmt: skip
    common = [{"resources": ["water", "seed"], "cap": 6, "over": "lost"}] if not document["resources"][0]["shared"] and dice.random() < 0.4 else []
    document["table"] |= {"opening_hand": dice.randint(1, 4), "turn_draw": dice.randint(1, 2), "hand_limit": dice.choice([None, 4])}
    document["play"] = {
        "seats": dice.choice([1, 2, 3]), "phases": phases, "common": common,
        "set_up": {"second_draws": dice.choice([0, 1]), "second_gains": dice.choice([{}, {"water": 1}])},
    }  # fmt: skip
    return Rulebook.model_validate(document)


def duel(seats: int = 2, zones: Sequence[Mapping[str, object]] = (), placed: Sequence[Mapping[str, object]] = (), **clash: object) -> Rulebook:
    """The same small game for two or more: playing, clashing and answering, forbidding, waiting. No card is drawn after the first hand.

    `zones` and `placed` are parts of its rules; `clash` changes the rules of its clash.
    """
    document = RULEBOOK.model_dump(mode="json")
    document["resources"] = [
        {"id": "water", "name": "Water", "names": "Water", "symbol": "drop", "start": 9},
        {"id": "ribbon", "name": "Ribbon", "names": "Ribbons", "symbol": "ribbon", "start": 5},
    ]
    document["table"] |= {"opening_hand": 3, "turn_draw": 0, "hand_limit": None}
    document["play"] = {
        "seats": seats, "zones": list(zones), "set_up": {"placed": list(placed)},
        "phases": [
            {"id": "dawn", "name": "Dawn", "does": [{"do": "straighten"}]},
            {"id": "tending", "name": "Tending", "does": [{"do": "play"}]},
            {"id": "showing", "name": "Showing", "does": [{"do": "clash"}]},
        ],
        "clash": {"types": ["plant"], "stat": "height", "unanswered": "loses", "total": "ribbon", "on_arrival": True, **clash},
        "goals": [{"kind": "drop", "total": "ribbon", "number": 0}],
    }
    shade = read_script("always: forbid destroying this", VOCABULARY)[0].model_dump(mode="json")
    spore = read_script("upon destroyed this: gain 1 ribbon", VOCABULARY)[0].model_dump(mode="json")
    document["keywords"] = [{"name": "Grafted", "effect": shade}, {"name": "Night Bloom", "effect": spore}]
    return Rulebook.model_validate(document)


DUEL = duel()
