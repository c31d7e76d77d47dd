"""Alembic migrations, run when a database is opened."""
