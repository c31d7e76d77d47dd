"""Each op says what kind it is, and what was asked with its key."""

import sqlalchemy as sa
from alembic import op

revision = "0005"
down_revision = "0004"


def upgrade() -> None:
    op.add_column("op", sa.Column("kind", sa.String, nullable=False, server_default="edit"))
    op.add_column("op", sa.Column("asked", sa.String, nullable=False, server_default=""))
    op.add_column("job", sa.Column("asked", sa.String, nullable=False, server_default=""))
    op.add_column("playtest", sa.Column("key", sa.String))
    op.add_column("playtest", sa.Column("asked", sa.String, nullable=False, server_default=""))
    op.create_index("playtest_key", "playtest", ["key"], unique=True)
    connection = op.get_bind()
    write = connection.exec_driver_sql
    write("UPDATE op SET kind = 'founding' WHERE page = 'demo' AND inverse_of IS NULL")
    write("UPDATE op SET kind = 'kept' WHERE page IN ('pictures', 'print runs') AND inverse_of IS NULL")
    kinds: dict[int, str] = {}
    for seq, inverse_of in write("SELECT seq, inverse_of FROM op WHERE inverse_of IS NOT NULL ORDER BY seq"):
        kinds[seq] = "redo" if kinds.get(inverse_of) == "undo" else "undo"
    if kinds:
        write("UPDATE op SET kind = ? WHERE seq = ?", [(kind, seq) for seq, kind in kinds.items()])
