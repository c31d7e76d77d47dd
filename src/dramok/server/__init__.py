"""FastAPI over studio: routes, schemas, errors, safety. Thin: it asks studio and says the answer."""

from dramok.server.app import create_app

__all__ = ["create_app"]
