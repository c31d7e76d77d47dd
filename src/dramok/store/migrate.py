"""Migrate a database file to the current tables; a file with data is copied first."""

from __future__ import annotations

import os
import sqlite3
from pathlib import Path
from typing import Any

from sqlalchemy import Engine, inspect

HEAD = "0007"
MIGRATIONS = Path(__file__).resolve().parent / "migrations"


class CopyFailed(OSError):
    """The copy made before a migration is incomplete: nothing was migrated. The message says what differs."""


def copy_before(engine: Engine, path: Path) -> Path:
    """Copy the whole database next to it, including its write-ahead log, and read the copy again. Returns its
    path.

    A copy of an earlier attempt stays. Raises CopyFailed, or OSError if there is no space.
    """
    wanted = path.with_suffix(f".before-{HEAD}{path.suffix}")
    number = 2
    while wanted.exists():
        wanted = path.with_suffix(f".before-{HEAD}-{number}{path.suffix}")
        number += 1
    part = wanted.with_name(f"{wanted.name}.part")
    part.unlink(missing_ok=True)
    with engine.connect() as connection:
        connection.connection.execute("VACUUM INTO ?", (str(part),))
        with sqlite3.connect(part) as copy:
            here, there = _counted(connection.connection), _counted(copy)
        copy.close()
    if here != there:
        part.unlink(missing_ok=True)
        raise CopyFailed(f"the copy before the migration has {there}, and the database {here}")
    os.replace(part, wanted)
    return wanted


def _counted(connection: Any) -> dict[str, int]:
    """The number of rows of every table."""
    tables = [row[0] for row in connection.execute("SELECT name FROM sqlite_master WHERE type = 'table' AND sql NOT LIKE 'CREATE VIRTUAL%' ORDER BY name")]
    return {name: connection.execute(f'SELECT count(*) FROM "{name}"').fetchone()[0] for name in tables}


def migrate(engine: Engine, path: Path) -> None:
    """Run the missing migrations. Alembic is imported only if there are any, which keeps the start short."""
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
        copy_before(engine, path)
    from alembic import command
    from alembic.config import Config

    config = Config()
    config.set_main_option("script_location", str(MIGRATIONS))
    with engine.begin() as connection:
        config.attributes["connection"] = connection
        command.upgrade(config, "head")
