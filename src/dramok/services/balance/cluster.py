"""Start workers on this machine for a scheduler."""

from __future__ import annotations

from dramok.workers.cluster_worker import missing, run_workers

__all__ = ["run_workers", "missing"]
