"""Translate one kernel function."""

from __future__ import annotations

import ast
import inspect
import operator
import textwrap
from collections.abc import Callable, Sequence
from types import FunctionType, ModuleType
from typing import Any, NoReturn

from dramok.core.engine.lowering.module import Module
from dramok.core.engine.lowering.subset import (
    MOST_RANGE,
    POINTERS,
    READ_ONLY,
    ROWS,
    STATES,
    LoweringError,
    length_of,
)

_COMPARES: dict[type[ast.cmpop], str] = {ast.Lt: "slt", ast.LtE: "sle", ast.Gt: "sgt", ast.GtE: "sge", ast.Eq: "eq", ast.NotEq: "ne"}
_OPERATORS: dict[type[ast.operator], str] = {
    ast.Add: "add", ast.Sub: "sub", ast.Mult: "mul", ast.BitAnd: "and", ast.BitOr: "or", ast.BitXor: "xor", ast.LShift: "shl", ast.RShift: "ashr",
}  # fmt: skip
_FOLDED: dict[type[ast.operator], Callable[[int, int], int]] = {
    ast.Add: operator.add, ast.Sub: operator.sub, ast.Mult: operator.mul, ast.BitAnd: operator.and_, ast.BitOr: operator.or_, ast.BitXor: operator.xor,
    ast.LShift: operator.lshift, ast.RShift: operator.rshift,
}  # fmt: skip


class Function:
    """Translates one function. Local variables are stack slots, which LLVM turns into registers."""

    def __init__(self, module: Module, name: str, function: FunctionType, internal: bool) -> None:
        self.module, self.name, self.internal = module, name, internal
        self.globals: dict[str, Any] = function.__globals__
        lines, first = inspect.getsourcelines(function)
        node = ast.parse(textwrap.dedent("".join(lines))).body[0]
        assert isinstance(node, ast.FunctionDef)
        self.node, self.first = node, first
        self.file = (inspect.getsourcefile(function) or "?").replace("\\", "/").rpartition("/")[2]
        spec = node.args
        if spec.vararg or spec.kwarg or spec.kwonlyargs or spec.defaults or spec.posonlyargs:
            self.refuse(node, "a kernel function takes plain positional parameters")
        self.parameters = [each.arg for each in spec.args]
        self.slots: dict[str, str] = {}
        self.allocated: list[str] = []
        self.code: list[str] = []
        self.numbered = 0
        self.loops: list[tuple[str, str]] = []
        self.open = True

    # Output.

    def text(self) -> str:
        stored = {each.id for each in ast.walk(self.node) if isinstance(each, ast.Name) and isinstance(each.ctx, ast.Store)}
        for name in [each for each in self.parameters if each not in POINTERS] + sorted(stored):
            if name in POINTERS:
                self.refuse(self.node, f"{name} is a pointer and can't be assigned")
            if name not in self.slots:
                self.slots[name] = self.slot(f"v.{name}")
                self.emit(f"store i64 {f'%{name}' if name in self.parameters else 0}, ptr {self.slots[name]}")
        self.block(self.node.body)
        if self.open:
            self.emit("ret i64 0")
        given = ", ".join(f"ptr noalias{' readonly' if each == READ_ONLY else ''} %{each}" if each in POINTERS else f"i64 %{each}" for each in self.parameters)
        head = f'define {"internal " if self.internal else ""}i64 @"{self.name}"({given}) nounwind {{'
        return "\n".join([head, "entry:", *self.allocated, *self.code, "}"])

    def refuse(self, node: ast.AST, what: str) -> NoReturn:
        raise LoweringError(f"{self.place(node)}: {what}")

    def place(self, node: ast.AST) -> str:
        return f"{self.file}:{self.first + getattr(node, 'lineno', 1) - 1}"

    def emit(self, line: str) -> None:
        if self.open:
            self.code.append(f"  {line}")

    def value(self, operation: str) -> str:
        """The result of an operation, in a new register."""
        self.numbered += 1
        name = f"%t{self.numbered}"
        self.emit(f"{name} = {operation}")
        return name

    def slot(self, name: str) -> str:
        """A stack slot, allocated once at the entry, whatever loop it is used in."""
        self.allocated.append(f"  %{name} = alloca i64")
        return f"%{name}"

    def label(self, word: str) -> str:
        self.numbered += 1
        return f"{word}{self.numbered}"

    def start(self, label: str) -> None:
        self.code.append(f"{label}:")
        self.open = True

    def jump(self, label: str) -> None:
        self.emit(f"br label %{label}")
        self.open = False

    def branch(self, condition: str, yes: str, no: str) -> None:
        self.emit(f"br i1 {condition}, label %{yes}, label %{no}")
        self.open = False

    def check(self, node: ast.AST, index: str, length: str) -> None:
        if self.module.checked:
            self.module.sites.append(self.place(node))
            self.emit(f"call void @kernel.check(i64 {index}, i64 {length}, i64 {len(self.module.sites) - 1})")

    # Statements.

    def block(self, body: Sequence[ast.stmt]) -> None:
        for each in body:
            if not self.open:
                return
            self.statement(each)

    def statement(self, node: ast.stmt) -> None:
        match node:
            case ast.Expr(value=ast.Constant(value=str())) | ast.Pass():
                return
            case ast.Expr(value=ast.Call() as call):
                self.expression(call)
            case ast.Assign(targets=[target]):
                self.store(target, self.expression(node.value))
            case ast.AugAssign():
                address = self.target(node.target)
                old = self.value(f"load i64, ptr {address}")
                made = self.operation(node, node.op, old, self.expression(node.value))
                self.emit(f"store i64 {made}, ptr {address}")
            case ast.Return(value=ast.expr() as value):
                self.emit(f"ret i64 {self.expression(value)}")
                self.open = False
            case ast.If():
                self.if_(node)
            case ast.While(orelse=[]):
                self.while_(node)
            case ast.For(orelse=[]):
                self.for_(node)
            case ast.Continue():
                self.jump(self.loops[-1][0])
            case ast.Break():
                self.jump(self.loops[-1][1])
            case _:
                self.refuse(node, f"the kernel has no {type(node).__name__.lower()} statement of this form")

    def if_(self, node: ast.If) -> None:
        yes, no, end = self.label("then"), self.label("else"), self.label("end")
        self.condition(node.test, yes, no if node.orelse else end)
        self.start(yes)
        self.block(node.body)
        self.jump(end)
        if node.orelse:
            self.start(no)
            self.block(node.orelse)
            self.jump(end)
        self.start(end)

    def while_(self, node: ast.While) -> None:
        head, body, end = self.label("while"), self.label("do"), self.label("end")
        self.jump(head)
        self.start(head)
        self.condition(node.test, body, end)
        self.start(body)
        self.loops.append((head, end))
        self.block(node.body)
        self.loops.pop()
        self.jump(head)
        self.start(end)

    def for_(self, node: ast.For) -> None:
        match node.iter:
            case ast.Call(func=ast.Name(id="range"), args=limits, keywords=[]) if 1 <= len(limits) <= MOST_RANGE:
                pass
            case _:
                self.refuse(node, "a loop goes over range(…)")
        step = self.step_of(limits[2]) if len(limits) == MOST_RANGE else 1
        values = [self.expression(each) for each in limits[:2]]
        first, last = ("0", values[0]) if len(values) == 1 else values
        # The counter is separate: the loop variable may be assigned within the loop, and keeps its last value.
        counter = self.slot(f"c.{self.label('at')}")
        self.emit(f"store i64 {first}, ptr {counter}")
        head, body, more, end = self.label("for"), self.label("do"), self.label("next"), self.label("end")
        self.jump(head)
        self.start(head)
        now = self.value(f"load i64, ptr {counter}")
        self.branch(self.value(f"icmp {'slt' if step > 0 else 'sgt'} i64 {now}, {last}"), body, end)
        self.start(body)
        self.store(node.target, now)
        self.loops.append((more, end))
        self.block(node.body)
        self.loops.pop()
        self.jump(more)
        self.start(more)
        raised = self.value(f"add i64 {self.value(f'load i64, ptr {counter}')}, {step}")
        self.emit(f"store i64 {raised}, ptr {counter}")
        self.jump(head)
        self.start(end)

    def step_of(self, node: ast.expr) -> int:
        found = self.constant(node)
        if not found:
            self.refuse(node, "the step of a range is a constant other than 0")
        return found

    def store(self, target: ast.expr, value: str) -> None:
        self.emit(f"store i64 {value}, ptr {self.target(target)}")

    def target(self, node: ast.expr) -> str:
        """The address of what is assigned: a local variable, a field or an item of a row."""
        if isinstance(node, ast.Name):
            return self.slots[node.id]
        if isinstance(node, ast.Subscript) and isinstance(node.value, ast.Name) and node.value.id == READ_ONLY:
            self.refuse(node, "the program can't be written")
        return self.address(node)

    # Conditions.

    def condition(self, node: ast.expr, yes: str, no: str) -> None:
        """Go to one of two labels; operands are evaluated only as far as Python would."""
        match node:
            case ast.BoolOp(op=op, values=values):
                for each in values[:-1]:
                    further = self.label("and" if isinstance(op, ast.And) else "or")
                    self.condition(each, *((further, no) if isinstance(op, ast.And) else (yes, further)))
                    self.start(further)
                self.condition(values[-1], yes, no)
            case ast.UnaryOp(op=ast.Not(), operand=operand):
                self.condition(operand, no, yes)
            case ast.Constant(value=bool() | int() as known):
                self.jump(yes if known else no)
            case ast.Compare(left=left, ops=ops, comparators=others):
                value = self.expression(left)
                for place, (comparison, other) in enumerate(zip(ops, others, strict=True)):
                    last = place == len(ops) - 1
                    further = yes if last else self.label("chain")
                    value = self.compare(node, value, comparison, other, further, no)
                    if not last:
                        self.start(further)
            case _:
                self.branch(self.value(f"icmp ne i64 {self.expression(node)}, 0"), yes, no)

    def compare(self, node: ast.expr, left: str, op: ast.cmpop, other: ast.expr, yes: str, no: str) -> str:
        """Go to one of two labels by one comparison; returns its right side."""
        if isinstance(op, ast.In | ast.NotIn):
            if not isinstance(other, ast.Tuple):
                self.refuse(node, "`in` is followed by a tuple")
            found = [self.value(f"icmp eq i64 {left}, {self.expression(each)}") for each in other.elts]
            joined = found[0]
            for each in found[1:]:
                joined = self.value(f"or i1 {joined}, {each}")
            self.branch(joined, *((yes, no) if isinstance(op, ast.In) else (no, yes)))
            return left
        if type(op) not in _COMPARES:
            self.refuse(node, f"the kernel has no comparison {type(op).__name__}")
        right = self.expression(other)
        self.branch(self.value(f"icmp {_COMPARES[type(op)]} i64 {left}, {right}"), yes, no)
        return right

    # Expressions.

    def expression(self, node: ast.expr) -> str:
        """The value of an expression: a register or a constant."""
        if not self.open:
            return "0"
        known = self.constant(node)
        if known is not None:
            return str(known)
        match node:
            case ast.Name(id=name):
                if name not in self.slots:
                    self.refuse(node, f"{name} is neither a local variable nor an integer constant")
                return self.value(f"load i64, ptr {self.slots[name]}")
            case ast.Attribute() | ast.Subscript():
                return self.value(f"load i64, ptr {self.address(node)}")
            case ast.BinOp(left=left, op=op, right=right):
                return self.operation(node, op, self.expression(left), self.expression(right))
            case ast.UnaryOp(op=ast.USub(), operand=operand):
                return self.value(f"sub i64 0, {self.expression(operand)}")
            case ast.UnaryOp(op=ast.Invert(), operand=operand):
                return self.value(f"xor i64 {self.expression(operand)}, -1")
            case ast.Call(func=ast.Name(id=name), keywords=[]):
                return self.call(node, name)
            case ast.BoolOp():
                return self.bool_value(node)
            case ast.Compare() | ast.UnaryOp(op=ast.Not()):
                return self.chosen(node, lambda: "1", lambda: "0")
            case ast.IfExp(test=test, body=body, orelse=other):
                return self.chosen(test, lambda: self.expression(body), lambda: self.expression(other))
            case _:
                self.refuse(node, f"the kernel has no expression of the form {type(node).__name__}")

    def chosen(self, test: ast.expr, yes: Callable[[], str], no: Callable[[], str]) -> str:
        slot = self.slot(f"c.{self.label('choice')}")
        one, other, end = self.label("then"), self.label("else"), self.label("end")
        self.condition(test, one, other)
        for label, made in ((one, yes), (other, no)):
            self.start(label)
            self.emit(f"store i64 {made()}, ptr {slot}")
            self.jump(end)
        self.start(end)
        return self.value(f"load i64, ptr {slot}")

    def bool_value(self, node: ast.BoolOp) -> str:
        """The value of `and` or `or` is that of the operand that decides."""
        slot, end = self.slot(f"c.{self.label('bool')}"), self.label("end")
        for each in node.values[:-1]:
            value = self.expression(each)
            self.emit(f"store i64 {value}, ptr {slot}")
            further = self.label("further")
            true = self.value(f"icmp ne i64 {value}, 0")
            self.branch(true, *((further, end) if isinstance(node.op, ast.And) else (end, further)))
            self.start(further)
        self.emit(f"store i64 {self.expression(node.values[-1])}, ptr {slot}")
        self.jump(end)
        self.start(end)
        return self.value(f"load i64, ptr {slot}")

    def operation(self, node: ast.AST, op: ast.operator, left: str, right: str) -> str:
        if type(op) in _OPERATORS:
            return self.value(f"{_OPERATORS[type(op)]} i64 {left}, {right}")
        if not isinstance(op, ast.FloorDiv | ast.Mod):
            self.refuse(node, f"the kernel has no operator {type(op).__name__}")
        # LLVM rounds towards zero, Python down: one less where the remainder and the divisor differ in sign.
        if self.module.checked:
            self.check(node, self.value(f"zext i1 {self.value(f'icmp eq i64 {right}, 0')} to i64"), "1")
        rest = self.value(f"srem i64 {left}, {right}")
        differ = self.value(f"icmp slt i64 {self.value(f'xor i64 {rest}, {right}')}, 0")
        down = self.value(f"and i1 {differ}, {self.value(f'icmp ne i64 {rest}, 0')}")
        if isinstance(op, ast.Mod):
            return self.value(f"select i1 {down}, i64 {self.value(f'add i64 {rest}, {right}')}, i64 {rest}")
        whole = self.value(f"sdiv i64 {left}, {right}")
        return self.value(f"select i1 {down}, i64 {self.value(f'sub i64 {whole}, 1')}, i64 {whole}")

    def call(self, node: ast.Call, name: str) -> str:
        function = self.globals.get(name)
        if not isinstance(function, FunctionType):
            self.refuse(node, f"{name} is not a kernel function")
        called = self.module.replaced.get(function, function)
        parameters = list(inspect.signature(called).parameters)
        if len(parameters) != len(node.args):
            self.refuse(node, f"{name} takes {len(parameters)} values")
        given = []
        for parameter, each in zip(parameters, node.args, strict=True):
            if parameter not in POINTERS:
                given.append(f"i64 {self.expression(each)}")
            elif isinstance(each, ast.Name) and each.id in POINTERS and each.id in self.parameters:
                given.append(f"ptr %{each.id}")
            else:
                self.refuse(node, f"{parameter} of {name} is a pointer")
        target = self.module.name_of(function)
        self.module.calls[self.name].add(target)
        return self.value(f'call i64 @"{target}"({", ".join(given)})')

    def address(self, node: ast.expr) -> str:
        match node:
            case ast.Attribute(value=ast.Name(id=base), attr=name) if base in STATES and base in self.parameters:
                offset, length = self.offset(node, name)
                if length:
                    self.refuse(node, f"{name} is a list: it needs an index")
                return self.value(f"getelementptr i64, ptr %{base}, i64 {offset}")
            case ast.Subscript(value=ast.Attribute(value=ast.Name(id=base), attr=name), slice=index) if base in STATES and base in self.parameters:
                offset, length = self.offset(node, name)
                if not length:
                    self.refuse(node, f"{name} is a single number")
                at = self.expression(index)
                self.check(node, at, str(length))
                return self.value(f"getelementptr i64, ptr %{base}, i64 {self.value(f'add i64 {at}, {offset}')}")
            case ast.Subscript(value=ast.Name(id=base), slice=index) if base in ROWS and base in self.parameters:
                at = self.expression(index)
                if self.module.checked:
                    self.check(node, at, self.value(f"load i64, ptr @{length_of(base)}"))
                return self.value(f"getelementptr i64, ptr %{base}, i64 {at}")
            case _:
                self.refuse(node, "only fields of a state and rows can be read and written")

    def offset(self, node: ast.AST, name: str) -> tuple[int, int]:
        if name not in self.module.offsets:
            self.refuse(node, f"the state has no field {name}")
        return self.module.offsets[name]

    def constant(self, node: ast.expr) -> int | None:
        """The value of an expression of integer constants; None for any other."""
        match node:
            case ast.Constant(value=bool() | int() as known):
                return int(known)
            case ast.Name(id=name) if name not in self.slots and name not in self.parameters:
                found = self.globals.get(name)
                return int(found) if isinstance(found, int) else None
            case ast.Attribute(value=ast.Name(id=base), attr=name) if base not in POINTERS and isinstance(self.globals.get(base), ModuleType):
                found = getattr(self.globals[base], name, None)
                return int(found) if isinstance(found, int) else None
            case ast.UnaryOp(op=ast.USub(), operand=operand):
                inner = self.constant(operand)
                return None if inner is None else -inner
            case ast.BinOp(left=left, op=op, right=right) if type(op) in _OPERATORS:
                one, other = self.constant(left), self.constant(right)
                if one is None or other is None:
                    return None
                made = _FOLDED[type(op)](one, other)
                return made if -(1 << 63) <= made < 1 << 63 else None
            case _:
                return None
