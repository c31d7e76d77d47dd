"""A deck's document holds the whole of it: sections, the deck rules it names and a note beside its cards."""

from alembic import op

revision = "0007"
down_revision = "0006"


def upgrade() -> None:
    # A list of cards that cannot be read stays as it is: such a game is told as damaged.
    op.execute("UPDATE deck SET doc = json_object('name', name, 'cards', json(doc)) WHERE json_valid(doc)")
