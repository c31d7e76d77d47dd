"""The first tables: games, sets, cards, decks, the journal, playtests."""

import sqlalchemy as sa
from alembic import op

revision = "0001"
down_revision = None


def upgrade() -> None:
    op.create_table(
        "game",
        sa.Column("id", sa.String, primary_key=True),
        sa.Column("name", sa.String, nullable=False),
        sa.Column("rulebook", sa.Text, nullable=False),
        sa.Column("prices", sa.Text, nullable=False),
        sa.Column("formats", sa.Text, nullable=False),
    )
    op.create_table(
        "card_set",
        sa.Column("id", sa.String, primary_key=True),
        sa.Column("game", sa.String, sa.ForeignKey("game.id"), nullable=False, index=True),
        sa.Column("name", sa.String, nullable=False),
        sa.Column("code", sa.String, nullable=False),
        sa.Column("retired", sa.Boolean, nullable=False, server_default="0"),
    )
    op.create_table(
        "card",
        sa.Column("id", sa.String, primary_key=True),
        sa.Column("game", sa.String, sa.ForeignKey("game.id"), nullable=False),
        sa.Column("set_id", sa.String, sa.ForeignKey("card_set.id"), nullable=False),
        sa.Column("code", sa.String, nullable=False),
        sa.Column("type", sa.String, nullable=False),
        sa.Column("doc", sa.Text, nullable=False),
        sa.Column("revision", sa.Integer, nullable=False, server_default="1"),
        sa.Column("seq", sa.Integer, nullable=False, server_default="0"),
        sa.Column("retired", sa.Boolean, nullable=False, server_default="0"),
    )
    op.create_index("card_code", "card", ["game", "code"], unique=True, sqlite_where=sa.text("retired = 0"))
    op.create_index("card_set_type", "card", ["game", "set_id", "type"])
    op.create_table(
        "deck",
        sa.Column("id", sa.String, primary_key=True),
        sa.Column("game", sa.String, sa.ForeignKey("game.id"), nullable=False, index=True),
        sa.Column("name", sa.String, nullable=False),
        sa.Column("doc", sa.Text, nullable=False),
        sa.Column("seq", sa.Integer, nullable=False, server_default="0"),
        sa.Column("retired", sa.Boolean, nullable=False, server_default="0"),
    )
    op.create_table(
        "op",
        sa.Column("seq", sa.Integer, primary_key=True),
        sa.Column("game", sa.String, sa.ForeignKey("game.id"), nullable=False),
        sa.Column("label", sa.String, nullable=False),
        sa.Column("page", sa.String, nullable=False),
        sa.Column("inverse_of", sa.Integer),
        sa.Column("at", sa.String, nullable=False),
        sa.Column("key", sa.String, unique=True),
        sqlite_autoincrement=True,
    )
    op.create_index("op_game", "op", ["game", "seq"])
    op.create_table(
        "change",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("op", sa.Integer, sa.ForeignKey("op.seq"), nullable=False),
        sa.Column("entity", sa.String, nullable=False),
        sa.Column("entity_id", sa.String, nullable=False),
        sa.Column("field", sa.String, nullable=False),
        sa.Column("before", sa.Text),
        sa.Column("after", sa.Text),
    )
    op.create_index("change_op", "change", ["op"])
    op.create_index("change_entity", "change", ["entity_id", "field", "op"])
    op.create_table(
        "playtest",
        sa.Column("id", sa.String, primary_key=True),
        sa.Column("game", sa.String, sa.ForeignKey("game.id"), nullable=False, index=True),
        sa.Column("deck", sa.String, nullable=False),
        sa.Column("deck_name", sa.String, nullable=False),
        sa.Column("seed", sa.Integer, nullable=False),
        sa.Column("program", sa.Text, nullable=False),
        sa.Column("decisions", sa.Text, nullable=False),
        sa.Column("at", sa.String, nullable=False),
    )
