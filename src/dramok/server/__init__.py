"""FastAPI over `services`: routes, schemas, errors, security. Thin: a route calls a service and converts its result."""

from dramok.server.app import create_app

__all__ = ["create_app"]
