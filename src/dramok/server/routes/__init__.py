"""One module a workspace."""
