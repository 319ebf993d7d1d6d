"""Arithmetic in data files: ``(1 + D) / 2`` over named numbers, and nothing else."""

from __future__ import annotations

import ast
import operator
from collections.abc import Callable, Mapping
from functools import lru_cache

from ..errors import FormatError

_OPS: dict[type[ast.operator], Callable[[float, float], float]] = {
    ast.Add: operator.add, ast.Sub: operator.sub, ast.Mult: operator.mul, ast.Div: operator.truediv,
}  # fmt: skip
_CALLS: dict[str, Callable[..., float]] = {"min": min, "max": max}
MAX_LENGTH = 200


def evaluate(text: str | float, names: Mapping[str, float]) -> float:
    """Value of an expression with + − × ÷, brackets, ``min`` and ``max``.

    Raises
    ------
    FormatError
        Anything else, an unknown name, or a division by zero.
    """
    if isinstance(text, (int, float)):
        return float(text)
    if len(text) > MAX_LENGTH:
        raise FormatError(f"The expression “{text[:30]}…” is too long.")
    try:
        return float(_value(_parsed(text), names))
    except (SyntaxError, ZeroDivisionError, TypeError, RecursionError):
        raise FormatError(f"“{text}” is not an expression that can be worked out.") from None


@lru_cache(maxsize=4096)
def _parsed(text: str) -> ast.expr:
    return ast.parse(text, mode="eval").body


def _value(node: ast.expr, names: Mapping[str, float]) -> float:
    if isinstance(node, ast.Constant) and isinstance(node.value, (int, float)) and not isinstance(node.value, bool):
        return node.value
    if isinstance(node, ast.Name):
        if node.id not in names:
            raise FormatError(f"“{node.id}” has no value here; known are {', '.join(sorted(names))}.")
        return names[node.id]
    if isinstance(node, ast.UnaryOp) and isinstance(node.op, ast.USub):
        return -_value(node.operand, names)
    if isinstance(node, ast.BinOp) and type(node.op) in _OPS:
        return _OPS[type(node.op)](_value(node.left, names), _value(node.right, names))
    if isinstance(node, ast.Call) and isinstance(node.func, ast.Name) and node.func.id in _CALLS and node.args:
        return _CALLS[node.func.id](*(_value(a, names) for a in node.args))
    raise FormatError("Only numbers, names, + − × ÷, brackets, min and max can stand in an expression.")
