"""Games with extreme values that the API allows: every request is answered, the file equals memory, and a backup restores."""

from __future__ import annotations

import random

from bench.fuzz import HERE, Fuzz
from bench.wild import Wild
from fastapi.testclient import TestClient

from dramok.server import create_app
from dramok.server.routes import measure
from tests.conftest import A_BUSY_MACHINES, SEED

GAMES = ["ribbon-season", "crowded-bed", "potting-shed"]


def test_every_room_answers_of_a_game_that_is_wild(db, workspace):
    """By seed of one of the games, another from run to run."""
    game = random.Random(SEED).choice(GAMES)
    app = create_app(workspace)
    client = TestClient(app, base_url=HERE)
    try:
        wild = Wild(client, game, random.Random(f"{SEED} {game}"))
        wild.make()
        assert wild.told[200] >= 4, "most of it was written"
        fuzz = Fuzz(client, app.openapi(), db, SEED, A_BUSY_MACHINES)
        fuzz.every_answer(game)
        assert fuzz.sent[200] >= 40, fuzz.sent
        fuzz.file_and_memory_agree()
        fuzz.backup_restores()
    finally:
        measure.close(app)
