"""Long work that outlives the page and the server."""

import sqlalchemy as sa
from alembic import op

revision = "0004"
down_revision = "0003"


def upgrade() -> None:
    op.create_table(
        "job",
        sa.Column("id", sa.String, primary_key=True),
        sa.Column("game", sa.String, sa.ForeignKey("game.id"), nullable=False, index=True),
        sa.Column("kind", sa.String, nullable=False),
        sa.Column("title", sa.String, nullable=False),
        sa.Column("order", sa.Text, nullable=False),
        sa.Column("state", sa.String, nullable=False),
        sa.Column("at", sa.String, nullable=False),
        sa.Column("ended", sa.String),
        sa.Column("file", sa.String),
        sa.Column("bytes", sa.Integer, nullable=False, server_default="0"),
        sa.Column("result", sa.Text),
        sa.Column("key", sa.String, unique=True),
    )
