"""Output: print runs, table sheets, card pictures, rules pages, and the background jobs that make them."""

from dramok.services.output.job_steps import Made, say_done

__all__ = ["Made", "say_done"]
