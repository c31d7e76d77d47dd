"""Out to the table: print runs and what is stale on paper, sheets for virtual tables, pictures of cards, and the jobs that make them."""

from dramok.studio.output.making import Made, say_done

__all__ = ["Made", "say_done"]
