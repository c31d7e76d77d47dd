"""Marks, notes, followed tables, text tables, pictures of a game: all one kind of thing, and saved views with them."""

import sqlalchemy as sa
from alembic import op

revision = "0003"
down_revision = "0002"


def upgrade() -> None:
    op.create_table(
        "thing",
        sa.Column("id", sa.String, primary_key=True),
        sa.Column("game", sa.String, sa.ForeignKey("game.id"), nullable=False, index=True),
        sa.Column("kind", sa.String, nullable=False),
        sa.Column("doc", sa.Text, nullable=False),
        sa.Column("seq", sa.Integer, nullable=False, server_default="0"),
        sa.Column("retired", sa.Boolean, nullable=False, server_default="0"),
    )
    op.execute(
        "INSERT INTO thing (id, game, kind, doc, retired)"
        " SELECT id, game, 'view', json_object('name', name, 'doc', json(doc)), retired FROM saved_view"
    )
    op.drop_table("saved_view")
    op.add_column("game", sa.Column("outside", sa.Text, nullable=False, server_default="{}"))
    op.create_table(
        "fetched",
        sa.Column("source", sa.String, sa.ForeignKey("thing.id"), primary_key=True),
        sa.Column("at", sa.String, nullable=False),
        sa.Column("problem", sa.Text),
        sa.Column("data", sa.LargeBinary),
        sa.Column("taken", sa.LargeBinary),
        sa.Column("taken_seq", sa.Integer, nullable=False, server_default="0"),
    )
    # Every picture that cards use becomes one of the game's pictures, so that none is unknown in its list.
    op.execute(
        "INSERT INTO thing (id, game, kind, doc)"
        " SELECT 'p' || substr(a.sha, 1, 14) || '-' || c.game, c.game, 'picture', json_object('name', substr(a.sha, 1, 12), 'sha', a.sha)"
        " FROM art a JOIN card c ON instr(c.doc, a.sha) > 0 GROUP BY c.game, a.sha"
    )
