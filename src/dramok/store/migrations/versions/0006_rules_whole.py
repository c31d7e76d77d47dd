"""Prices and deck formats become parts of a game's rules, which the journal knows; a game can be put away."""

import sqlalchemy as sa
from alembic import op

revision = "0006"
down_revision = "0005"


def upgrade() -> None:
    op.add_column("game", sa.Column("away", sa.Boolean, nullable=False, server_default="0"))
    # Rules that cannot be read stay as they are: such a game is told as damaged.
    op.execute(
        "UPDATE game SET rulebook = json_set(rulebook, '$.prices', json(prices), '$.formats', json(formats))"
        " WHERE json_valid(rulebook) AND json_valid(prices) AND json_valid(formats)"
    )
    op.execute("ALTER TABLE game DROP COLUMN prices")
    op.execute("ALTER TABLE game DROP COLUMN formats")
