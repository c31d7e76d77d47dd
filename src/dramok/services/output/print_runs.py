"""Print runs: each records every printed face, so that out-of-date copies can be found."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import UTC, datetime
from typing import Any

from dramok.core.output import OnPaper, last_printings
from dramok.core.problem import fold
from dramok.services.cards.card_detail import detail_of, state_on_paper
from dramok.services.output.printing import PrintPlan
from dramok.services.workspace import small_entities
from dramok.services.workspace.ids import new_id
from dramok.services.workspace.rename_references import rename_thing
from dramok.services.workspace.snapshot import GameSnapshot
from dramok.services.workspace.workspace import NO_PAGE, Commit, Workspace
from dramok.store import Change, Key


@dataclass(frozen=True)
class PrintRun:
    """A print run. `stale` cards changed since they were last printed, `gone` cards were removed from the game.

    `order` is the document of the PrintOrder; `copies` is the number of printed copies.
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
    """What is on paper: out-of-date cards with their copies, the number of cards never printed, and the print
    runs, newest first.
    """

    stale: tuple[str, ...]
    stale_copies: int
    unprinted: int
    runs: tuple[PrintRun, ...]


RunDoc = dict[str, Any]
"""The document of a run: `name`, `at`, `order`, and `faces` by card id: digests of front and back, and copies."""


def run_doc(plan: PrintPlan) -> RunDoc | None:
    """The record of a printed plan; None if it had only blank cards."""
    faces = _faces(plan)
    if not faces:
        return None
    return {
        "name": plan.title, "at": datetime.now(UTC).isoformat(), "order": plan.order.model_dump(mode="json", exclude={"left_out"}), "faces": faces
    }  # fmt: skip


def record_run(
    workspace: Workspace, game_id: str, doc: RunDoc, ident: str | None = None, key: Key | None = None
) -> tuple[str, str]:
    """Record a print run; returns its id and name. The same `ident` again updates the same run."""
    ident = ident or new_id("r")

    def plan(now: GameSnapshot) -> list[Change]:
        held = now.things.get(ident)
        if held is not None:
            return small_entities.edited_changes(held, {**doc, "name": held.name})
        return small_entities.made_changes(now, "run", [(ident, {**doc, "name": free_name(now, doc["name"])})])

    commit = workspace.commit(game_id, f"print run {doc['name']}", NO_PAGE, plan, key=key, kind="kept")
    return ident, commit.after.things[ident].name


def _faces(plan: PrintPlan) -> dict[str, list[Any]]:
    """For each printed card the digests of front and back (empty: not printed), and the copies."""
    backs = plan.order.backs != "none"
    found = {}
    for card, copies in plan.counts.items():
        sheet = detail_of(plan.game, plan.game.cards[card])
        found[card] = [sheet.digest, sheet.back.digest if backs else "", copies]
    return found


def free_name(game: GameSnapshot, name: str) -> str:
    """A name that no print run has."""
    taken = {fold(each.name) for each in game.of_kind("run")}
    name = name[: small_entities.MOST_NAME].strip()
    number, free = 1, name
    while fold(free) in taken:
        number += 1
        free = f"{name[: small_entities.MOST_NAME - 5].strip()} {number}"
    return free


def on_paper(game: GameSnapshot) -> OnPaperReport:
    """Compare every printed face with the current one."""
    held = sorted(game.of_kind("run"), key=lambda each: (str(each.doc["at"]), each.id), reverse=True)

    def is_stale(card: str, printing: OnPaper) -> bool:
        return state_on_paper(printing, detail_of(game, game.cards[card])) == "stale"

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


def rename_run(workspace: Workspace, game_id: str, run: str, name: str, page: str, key: Key | None = None) -> Commit:
    name = small_entities.named("run", name)
    return rename_thing(workspace, game_id, "run", run, name, f"print run {name}", page, key)


def forget_run(workspace: Workspace, game_id: str, run: str, page: str, key: Key | None = None) -> Commit:
    """Remove a run: its printed copies are no longer tracked. Undo restores it."""
    name = small_entities.thing_of(workspace.game(game_id), "run", run).name
    return small_entities.take_out(workspace, game_id, "run", [run], f"print run {name} forgotten", page, key)
