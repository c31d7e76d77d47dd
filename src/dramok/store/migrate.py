"""Brings a database file to the newest tables; the file is copied first when it already holds something."""

from __future__ import annotations

import shutil
from pathlib import Path

from sqlalchemy import Engine, inspect

HEAD = "0007"
MIGRATIONS = Path(__file__).resolve().parent / "migrations"


def migrate(engine: Engine, path: Path) -> None:
    """Runs what is missing. Alembic is imported only when there is something to run, which keeps a start short."""
    with engine.connect() as connection:
        has_version = inspect(connection).has_table("alembic_version")
        current = (
            connection.exec_driver_sql("SELECT version_num FROM alembic_version").scalar()
            if has_version
            else None
        )
    if current == HEAD:
        return
    if current is not None:
        shutil.copy2(path, path.with_suffix(f".before-{HEAD}{path.suffix}"))
    from alembic import command
    from alembic.config import Config

    config = Config()
    config.set_main_option("script_location", str(MIGRATIONS))
    with engine.begin() as connection:
        config.attributes["connection"] = connection
        command.upgrade(config, "head")
