"""Output: print runs, table sheets, card pictures, rules pages, and the background jobs that make them."""

from dramok.services.output.job_steps import Made, summary_line

__all__ = ["Made", "summary_line"]
