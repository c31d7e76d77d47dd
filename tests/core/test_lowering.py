"""The translation of the kernel to machine code: the same numbers as Python, and a clear refusal of unsupported syntax."""

from __future__ import annotations

import ctypes
import itertools
import sys

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

pytest.importorskip("llvmlite")

from dramok.core.engine.lowering import FAULT, Lowered, LoweringError, lower  # noqa: E402
from dramok.workers.compiled_kernel import LinkedModule, compile_text  # noqa: E402

FIELDS = [("total", 0), ("row", 4), ("other", 0)]
SIZE = 6
STEP = 3
MASK = 0xFFFFFFFF
EDGES = (-(1 << 63), -(1 << 32), -17, -5, -1, 0, 1, 2, 7, 63, (1 << 31) - 1, (1 << 63) - 1)
WORD = st.integers(-(1 << 63), (1 << 63) - 1)


def arithmetic(p, s, q, results, a, b):
    """Every operator, each into its place of a row."""
    results[0] = a + b
    results[1] = a - b
    results[2] = a * b
    results[3] = a // b if b else 0
    results[4] = a % b if b else 0
    results[5] = a & b
    results[6] = a | b
    results[7] = a ^ b
    results[8] = ~a
    results[9] = -b
    results[10] = a << (b & 31)
    results[11] = a >> (b & 31)
    results[12] = a < b
    results[13] = a <= b < MASK
    results[14] = not a
    results[15] = a and b
    results[16] = a or b
    results[17] = (a & MASK) in (1, 7, b & MASK)
    results[18] = a if a > b else b
    results[19] = a == b or a != b and b >= 0
    return 20


def inner(p, s, a):
    return a * STEP + s.total


def flow(p, s, q, results, a, b):
    """Loops in loops, with continue and break, a loop variable that is assigned, and a state's fields."""
    s.total = 0
    s.other = a
    count = 0
    for one in range(b):
        for other in range(one, -STEP, -1):
            if other == 2:
                continue
            if other < -1:
                break
            s.total += inner(p, s, other)
            s.row[other & 3] += 1
        one = one + 10
        count += one
    while True:
        count -= 3
        if count < s.other:
            break
    q.total = count
    for at in range(0, 4, 2):
        q.row[at] = s.row[at] + at
    results[0] = s.total
    results[1] = count
    results[2] = at
    return s.total + count


class Row(list):
    """Numbers of a state in one list, under the names of its fields: the same places as in machine code."""

    OFFSETS = {"total": 0, "row": 1, "other": 5}

    def __getattr__(self, name):
        return self[0] if name == "total" else self[5] if name == "other" else Part(self, 1)

    def __setattr__(self, name, value):
        self[self.OFFSETS[name]] = value


class Part:
    def __init__(self, whole, at):
        self.whole, self.at = whole, at

    def __getitem__(self, index):
        return self.whole[self.at + index]

    def __setitem__(self, index, value):
        self.whole[self.at + index] = value


def linked(function, checked=False):
    found = lower([function], FIELDS, checked=checked)
    module = LinkedModule(compile_text(found.text))
    return found, module, module.function(f"{__name__.rsplit('.', 1)[-1]}.{function.__name__}", 4, 2)


def wrapped(number: int) -> int:
    return (int(number) + (1 << 63)) % (1 << 64) - (1 << 63)


@pytest.fixture(scope="module")
def machine():
    return {each: linked(each) for each in (arithmetic, flow)}


def both(machine, function, a, b, length=20):
    """The results of Python and of machine code: the value, the row, and both states."""
    p, s, q, results = (), Row([0] * SIZE), Row([0] * SIZE), [0] * length
    value = function(p, s, q, results, a, b)
    rows = [(ctypes.c_int64 * size)() for size in (1, SIZE, SIZE, length)]
    made = machine[function][2](*map(ctypes.addressof, rows), a, b)
    return ([wrapped(each) for each in (value, *results, *s, *q)], [made, *itertools.chain(*rows[3:], *rows[1:3])])


def test_every_operator_gives_the_numbers_of_python_at_the_edges(machine):
    for a, b in itertools.product(EDGES, EDGES):
        if (a, b) == (-(1 << 63), -1):
            continue  # the one quotient that 64 bits can't hold
        python, code = both(machine, arithmetic, a, b)
        assert python == code, (a, b)


def test_the_numbers_that_are_known_by_heart(machine):
    _, code = both(machine, arithmetic, -7, 2)
    assert code[1:10] == [-5, -9, -14, -4, 1, 0, -5, -5, 6]
    _, code = both(machine, arithmetic, 7, -2)
    assert code[4:6] == [-4, -1], "quotients round down"
    _, code = both(machine, arithmetic, (1 << 63) - 1, 1)
    assert code[1] == -(1 << 63), "sums wrap"


@settings(max_examples=300, deadline=None)
@given(WORD, WORD)
def test_every_operator_gives_the_numbers_of_python(machine, a, b):
    if (a, b) == (-(1 << 63), -1):
        return
    python, code = both(machine, arithmetic, a, b)
    assert python == code


@settings(max_examples=100, deadline=None)
@given(st.integers(-50, 500), st.integers(0, 30))
def test_loops_branches_and_states_are_those_of_python(machine, a, b):
    python, code = both(machine, flow, a, b + 1)
    assert python == code


def with_default(p, s, a=1):
    return a


def with_list(p, s):
    made = [1]
    return made[0]


def with_float(p, s):
    return 1.5


def with_unknown_field(p, s):
    return s.nothing


def with_whole_list(p, s):
    return s.row


def with_call(p, s):
    return max(1, 2)


def with_loop_over_a_list(p, s):
    for each in (1, 2):
        s.total = each
    return 0


def with_string(p, s):
    return "a" < "b"


def with_power(p, s):
    return s.total**2


def with_program_written(p, s):
    p[0] = 1
    return 0


def with_pointer_assigned(p, s):
    p = s.total
    return p


def with_variable_step(p, s, a):
    for each in range(0, 9, a):
        s.total = each
    return 0


def with_two_targets(p, s):
    a = b = 1
    return a + b


def with_other_else(p, s):
    for each in range(3):
        s.total = each
    else:
        s.total = 0
    return 0


def calls_itself(p, s, a):
    return calls_itself(p, s, a - 1) if a else 0


def ping(p, s, a):
    return pong(p, s, a)


def pong(p, s, a):
    return ping(p, s, a)


@pytest.mark.parametrize(
    ("function", "what"),
    [
        (with_default, "plain positional parameters"), (with_list, "no expression of the form List"), (with_float, "no expression of the form Constant"), (with_unknown_field, "no field nothing"),
        (with_whole_list, "row is a list: it needs an index"), (with_call, "max is not a kernel function"), (with_loop_over_a_list, r"a loop goes over range\(…\)"),
        (with_string, "no expression of the form Constant"), (with_power, "no operator Pow"), (with_program_written, "the program can't be written"), (with_pointer_assigned, "p is a pointer and can't be assigned"), (with_variable_step, "the step of a range is a constant"),
        (with_two_targets, "no assign statement of this form"), (with_other_else, "no for statement of this form"), (calls_itself, "call each other in a cycle"), (ping, "call each other in a cycle"),
    ],
)  # fmt: skip
def test_what_the_kernel_does_not_have_is_refused_with_its_place(function, what):
    with pytest.raises(LoweringError, match=what) as refused:
        lower([function], FIELDS)
    if "cycle" not in what:
        first = function.__code__.co_firstlineno
        name, line = str(refused.value).split(":")[:2]
        assert name == "test_lowering.py" and first <= int(line) <= first + 5


def reads(p, s, q, results, a, b):
    return s.row[a] + p[b]


def divides(p, s, q, results, a, b):
    return a // b


@pytest.mark.parametrize(
    ("function", "a", "b", "what"),
    [(reads, 4, 0, (0, 4, 4)), (reads, -1, 0, (0, -1, 4)), (reads, 0, 20, (1, 20, 20)), (divides, 1, 0, (0, 1, 1)), (reads, 3, 19, None), (divides, 7, -2, None)],
)
def test_a_checked_build_says_where_an_index_or_divisor_is_wrong(function, a, b, what, tmp_path):
    """In a process of its own: the handler does not return."""
    import subprocess

    code = f"""
import ctypes, os, sys
from tests.core.test_lowering import {function.__name__} as function, linked, SIZE, FAULT
from dramok.core.engine.lowering import length_of
found, module, call = linked(function, checked=True)
def fault(site, index, length):
    print(site, index, length, found.sites[site].split(":")[0], flush=True)
    os._exit(70)
handler = ctypes.CFUNCTYPE(None, ctypes.c_int64, ctypes.c_int64, ctypes.c_int64)(fault)
module.number(FAULT).value = ctypes.cast(handler, ctypes.c_void_p).value
module.number(length_of("p")).value = 20
rows = [(ctypes.c_int64 * size)() for size in (20, SIZE, SIZE, 1)]
print("value", call(*map(ctypes.addressof, rows), {a}, {b}))
"""
    done = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True)
    if what is None:
        assert done.stdout == f"value {function([0] * 20, Row([0] * SIZE), None, None, a, b)}\n", done.stderr[-500:]
    else:
        assert done.returncode == 70 and done.stdout.split() == [*map(str, what), "test_lowering.py"], done.stderr[-500:]


def test_the_whole_kernel_is_translated_and_an_unchecked_build_has_no_checks():
    from dramok.workers.compiled_kernel import translate

    text, sites = translate()
    plain = Lowered(text, sites)
    assert plain.text.count("define ") > 180 and '@"batch.play_range"' in plain.text
    assert (FAULT in text) == bool(sites)
