"""Print runs: each remembers every face that it printed, so that it is known what is stale on paper."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import UTC, datetime
from typing import Any

from dramok.core.output import OnPaper, last_printings
from dramok.core.problem import fold
from dramok.store import Change, Key
from dramok.studio import things
from dramok.studio.desk import NO_PAGE, Commit, Desk
from dramok.studio.ids import new_id
from dramok.studio.namesakes import rename_thing
from dramok.studio.output.printing import PrintPlan
from dramok.studio.sheets import sheet_of, state_on_paper
from dramok.studio.snapshot import GameSnapshot


@dataclass(frozen=True)
class PrintRun:
    """A print run. Of its cards those `stale` are not as they were printed last, those `gone` are no longer in the game.

    `order` is the document of the PrintOrder; `copies` are on paper by it.
    """

    id: str
    name: str
    at: str
    cards: int
    copies: int
    stale: tuple[str, ...]
    gone: int
    order: Mapping[str, Any]


@dataclass(frozen=True)
class OnPaperReport:
    """What a game has on paper: cards that are stale, with their copies; how many were never printed; the runs, the latest first."""

    stale: tuple[str, ...]
    stale_copies: int
    unprinted: int
    runs: tuple[PrintRun, ...]


RunDoc = dict[str, Any]
"""A run's document: `name`, `at`, `order`, and `faces` by card id: the digests of front and back, and the copies."""


def run_doc(plan: PrintPlan) -> RunDoc | None:
    """What is to be remembered of a plan that was printed; None where it was blank cards only."""
    faces = _faces(plan)
    if not faces:
        return None
    return {
        "name": plan.title, "at": datetime.now(UTC).isoformat(), "order": plan.order.model_dump(mode="json", exclude={"left_out"}), "faces": faces
    }  # fmt: skip


def record_run(
    desk: Desk, game_id: str, doc: RunDoc, ident: str | None = None, key: Key | None = None
) -> tuple[str, str]:
    """Records what was printed; gives the run's id and name. The same `ident` again is the same run, printed anew."""
    ident = ident or new_id("r")

    def plan(now: GameSnapshot) -> list[Change]:
        held = now.things.get(ident)
        if held is not None:
            return things.edited_changes(held, {**doc, "name": held.name})
        return things.made_changes(now, "run", [(ident, {**doc, "name": free_name(now, doc["name"])})])

    commit = desk.commit(game_id, f"print run {doc['name']}", NO_PAGE, plan, key=key, kind="kept")
    return ident, commit.after.things[ident].name


def _faces(plan: PrintPlan) -> dict[str, list[Any]]:
    """Of each printed card the digests of front and back (empty: not printed), and how many copies."""
    backs = plan.order.backs != "none"
    found = {}
    for card, copies in plan.counts.items():
        sheet = sheet_of(plan.game, plan.game.cards[card])
        found[card] = [sheet.digest, sheet.back.digest if backs else "", copies]
    return found


def free_name(game: GameSnapshot, name: str) -> str:
    """A name that no run has."""
    taken = {fold(each.name) for each in game.of_kind("run")}
    name = name[: things.MOST_NAME].strip()
    number, free = 1, name
    while fold(free) in taken:
        number += 1
        free = f"{name[: things.MOST_NAME - 5].strip()} {number}"
    return free


def on_paper(game: GameSnapshot) -> OnPaperReport:
    """Looks at every face that was printed."""
    held = sorted(game.of_kind("run"), key=lambda each: (str(each.doc["at"]), each.id), reverse=True)

    def is_stale(card: str, printing: OnPaper) -> bool:
        return state_on_paper(printing, sheet_of(game, game.cards[card])) == "stale"

    stale = [card for card, each in game.printed.items() if card in game.cards and is_stale(card, each)]
    runs = []
    documents = [(each.id, each.doc) for each in held]
    for place, each in enumerate(held):
        latest = last_printings(documents[: place + 1], since=each.id)
        order = [card for card in game.cards if card in latest]
        runs.append(
            PrintRun(
                each.id, each.name, str(each.doc["at"]), len(latest), sum(copies for _, _, copies in each.doc["faces"].values()),
                tuple(card for card in order if is_stale(card, latest[card])), len(latest) - len(order), each.doc.get("order", {}),
            )
        )  # fmt: skip
    place_of = {card: place for place, card in enumerate(game.cards)}
    stale.sort(key=place_of.__getitem__)
    copies = sum(game.printed[card].copies for card in stale)
    unprinted = sum(1 for card in game.cards if card not in game.printed)
    return OnPaperReport(tuple(stale), copies, unprinted, tuple(runs))


def rename_run(desk: Desk, game_id: str, run: str, name: str, page: str, key: Key | None = None) -> Commit:
    name = things.named("run", name)
    return rename_thing(desk, game_id, "run", run, name, f"print run {name}", page, key)


def forget_run(desk: Desk, game_id: str, run: str, page: str, key: Key | None = None) -> Commit:
    """Takes a run out: its paper is no longer looked after. Undo brings it back."""
    name = things.thing_of(desk.game(game_id), "run", run).name
    return things.take_out(desk, game_id, "run", [run], f"print run {name} forgotten", page, key)
