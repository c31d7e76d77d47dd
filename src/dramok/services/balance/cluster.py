"""Start workers on this machine for a scheduler."""

from __future__ import annotations

from dramok.workers.cluster_worker import lend, missing

__all__ = ["lend", "missing"]
