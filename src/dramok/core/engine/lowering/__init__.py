"""Translate kernel functions to one LLVM module, as text.

The kernel is a small language inside Python: every value is a 64-bit integer, and memory is reached through a
few pointers (`POINTERS`). A function takes pointers and integers and returns an integer. It may use assignments,
`if`, `while`, `for … in range(…)`, `break`, `continue`, `return`, arithmetic, comparisons, `and`, `or`, `not`,
conditional expressions, `s.field`, `s.field[index]`, `p[index]`, integer constants of a module, and calls of other
kernel functions. Everything else is refused with file and line, and so is recursion.

Integers wrap at 64 bits; `//` and `%` round down as in Python. A checked build also verifies every index and
divisor, and calls the handler in `FAULT` with the number of the place if one is out of range.
"""

from dramok.core.engine.lowering.lower import Lowered, lower
from dramok.core.engine.lowering.subset import FAULT, LoweringError, length_of

__all__ = ["FAULT", "Lowered", "LoweringError", "length_of", "lower"]
