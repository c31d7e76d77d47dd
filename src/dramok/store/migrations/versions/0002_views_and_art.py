"""Code patterns and backs of sets, saved views, pictures."""

import sqlalchemy as sa
from alembic import op

revision = "0002"
down_revision = "0001"


def upgrade() -> None:
    op.add_column("card_set", sa.Column("pattern", sa.String, nullable=False, server_default=""))
    op.add_column("card_set", sa.Column("back", sa.Text))
    op.execute("UPDATE card_set SET pattern = code || '-{n:03}'")
    op.create_table(
        "saved_view",
        sa.Column("id", sa.String, primary_key=True),
        sa.Column("game", sa.String, sa.ForeignKey("game.id"), nullable=False, index=True),
        sa.Column("name", sa.String, nullable=False),
        sa.Column("doc", sa.Text, nullable=False),
        sa.Column("retired", sa.Boolean, nullable=False, server_default="0"),
    )
    op.create_table(
        "art",
        sa.Column("sha", sa.String, primary_key=True),
        sa.Column("media", sa.String, nullable=False),
        sa.Column("width", sa.Integer, nullable=False),
        sa.Column("height", sa.Integer, nullable=False),
        sa.Column("drawn", sa.LargeBinary, nullable=False),
        sa.Column("data", sa.LargeBinary, nullable=False),
    )
