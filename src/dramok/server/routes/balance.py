"""Balance: the set map, the lenses, stored measurements, the health of a set."""

from __future__ import annotations

from typing import Annotated, Literal

from fastapi import APIRouter, Query

from dramok.server.request_context import Key, Page, TheGame, TheWorkspace, ValidatingRoute
from dramok.server.responses import edit_out, map_out
from dramok.server.routes.history import moment_of
from dramok.server.routes.measure import PlayerAsked, TheBalance
from dramok.server.schemas.cards import EditOut, MapOut
from dramok.server.schemas.health import (
    CardLensesOut,
    CountedOut,
    HealthOut,
    KeepIn,
    KeptOut,
    LensesOut,
    LoadOut,
    LoneOut,
    RenameIn,
    RowLensesOut,
)
from dramok.services.balance import kept_measurements as keeping
from dramok.services.balance.health import MOST_SHOWN, Health, health
from dramok.services.balance.lenses import lenses, map_by
from dramok.services.balance.price_references import reference

router = APIRouter(route_class=ValidatingRoute, prefix="/games/{game_id}", tags=["playtest and balance"])
Lens = Literal["declared", "implied", "measured"]
Named = Annotated[str | None, Query(max_length=100)]


@router.get("/map")
def cost_and_worth(held: TheBalance, game: TheGame, lens: Lens = "declared", player: PlayerAsked = None) -> MapOut:
    """Every card by cost and worth, with the budget lines and outliers; the worth by one lens."""
    return map_out(map_by(game, lens, held.measurements.look(game, player)), game)


@router.get("/lenses")
def side_by_side(workspace: TheWorkspace, held: TheBalance, game: TheGame, player: PlayerAsked = None, source: Named = None) -> LensesOut:
    """The three lenses for cards and price rows: declared, implied by costs, measured by games.

    `source` is whose costs are used: `set:ID` of this game, `mark:ID` for its past, `game:ID` for another one;
    default: this game.
    """
    found = lenses(game, held.measurements.look(game, player), reference(workspace, game, source) if source else None)
    rows = [
        RowLensesOut(
            row=each.row, name=each.name, declared=each.declared, implied=list(each.implied) if each.implied else None, implied_share=each.implied_share, flips=each.flips,
            measured=list(each.measured) if each.measured else None, measured_share=each.measured_share, cards=each.cards,
        )
        for each in found.rows
    ]  # fmt: skip
    return LensesOut(
        cards=[CardLensesOut.model_validate(each) for each in found.cards], rows=rows, left_out=found.left_out, echo=found.echo, spread=found.spread,
        scale=list(found.scale) if found.scale else None, source=found.source,
    )  # fmt: skip


@router.get("/measurements")
def kept_measurements(workspace: TheWorkspace, game: TheGame) -> list[KeptOut]:
    """The stored measurements, newest first."""
    return [KeptOut.model_validate({key: getattr(each, key) for key in KeptOut.model_fields}) for each in keeping.kept(workspace, game)]


@router.post("/measurements", status_code=201)
def keep_measurement(workspace: TheWorkspace, held: TheBalance, game: TheGame, asked: KeepIn, page: Page, key: Key) -> EditOut:
    """Store the current measurement as one undoable edit; `made` has its id."""
    commit, ident = keeping.keep(workspace, game, held.measurements.look(game, asked.player), asked.name, page, key)
    return edit_out(commit, [ident])


@router.put("/measurements/{measurement_id}")
def rename_measurement(workspace: TheWorkspace, game: TheGame, measurement_id: str, asked: RenameIn, page: Page, key: Key) -> EditOut:
    return edit_out(keeping.rename(workspace, game, measurement_id, asked.name, page, key))


@router.delete("/measurements/{measurement_id}")
def take_measurement_out(workspace: TheWorkspace, game: TheGame, measurement_id: str, page: Page, key: Key) -> EditOut:
    return edit_out(keeping.remove(workspace, game, measurement_id, page, key))


@router.get("/health")
def set_health(workspace: TheWorkspace, game: TheGame, set_id: Annotated[str | None, Query(alias="set", max_length=80)] = None, since: Named = None) -> HealthOut:
    """The health of the game or of a set.

    `since`: a mark's id or the number of an edit; changes after it are listed.
    """
    return _health_out(health(game, set_id, workspace, moment_of(game, since) if since else None))


def _health_out(found: Health) -> HealthOut:
    def counted(rows: tuple[tuple[str, float], ...]) -> list[CountedOut]:
        return [CountedOut(what=what, count=count) for what, count in rows]

    return HealthOut.model_validate(
        {
            "cards": found.cards, "verdicts": dict(found.verdicts), "outliers": counted(found.outliers), "curve": found.curve, "types": counted(found.type_sizes),
            "factions": counted(found.faction_sizes), "rarities": counted(found.rarity_sizes), "gaps": found.gaps[:MOST_SHOWN], "gap_count": len(found.gaps),
            "dominated": [{"card": each.card, "better": list(each.better), "reason": each.reason} for each in found.dominated[:MOST_SHOWN]], "dominated_count": len(found.dominated),
            "twins": found.twins[:MOST_SHOWN], "twin_count": len(found.twins), "left_out": found.left_out,
            "keywords": [CountedOut(what=each.keyword, count=each.cards) for each in found.keywords],
            "load": LoadOut(cards=found.load.cards, mean=found.load.mean, median=found.load.median, most=found.load.most, longest=counted(found.load.longest)),
            "lone": [LoneOut(word=word, card=card) for word, card in found.lone[:MOST_SHOWN]], "lone_count": len(found.lone), "stale": list(found.stale),
            "unfinished": list(found.unfinished), "unseen": found.unseen, "changed": None if found.changed is None else list(found.changed),
        }
    )  # fmt: skip
