"""Arithmetic in data files: ``(1 + D) / 2`` over named numbers, and nothing else.

An expression is parsed once, every node is held against a short list of what may stand there, and only then compiled; so
working it out again while something is dragged costs next to nothing.
"""

from __future__ import annotations

import ast
from collections.abc import Mapping
from functools import lru_cache
from types import CodeType

from ..errors import FormatError, quoted

MAX_LENGTH = 200
_CALLS = {"min": min, "max": max}
_OPERATORS = (ast.Add, ast.Sub, ast.Mult, ast.Div)
_SCOPE = {"__builtins__": {}, **_CALLS}


def evaluate(text: str | float, names: Mapping[str, float]) -> float:
    """Value of an expression with + − × ÷, brackets, ``min`` and ``max``.

    Raises
    ------
    FormatError
        Anything else, an unknown name, or a division by zero.
    """
    if isinstance(text, (int, float)):
        return float(text)
    code, used = _compiled(text)
    missing = used - names.keys()
    if missing:
        raise FormatError(f"{quoted(min(missing))} has no value here; known are {', '.join(sorted(names))}.")
    try:
        return float(eval(code, _SCOPE, names))
    except (ZeroDivisionError, OverflowError):
        raise FormatError(f"{quoted(text)} is not an expression that can be worked out.") from None


@lru_cache(maxsize=4096)
def _compiled(text: str) -> tuple[CodeType, frozenset[str]]:
    if len(text) > MAX_LENGTH:
        raise FormatError(f"The expression “{text[:30]}…” is too long.")
    try:
        tree = ast.parse(text, mode="eval")
        used = frozenset(_checked(tree.body))
        return compile(tree, "<expression>", "eval"), used
    except (SyntaxError, RecursionError, ValueError, MemoryError):
        raise FormatError(f"{quoted(text)} is not an expression that can be worked out.") from None


def _checked(node: ast.expr) -> set[str]:
    """Names an expression uses; refuses every node that is not plain arithmetic."""
    if isinstance(node, ast.Constant) and isinstance(node.value, (int, float)) and not isinstance(node.value, bool):
        return set()
    if isinstance(node, ast.Name) and node.id not in _CALLS:
        return {node.id}
    if isinstance(node, ast.UnaryOp) and isinstance(node.op, ast.USub):
        return _checked(node.operand)
    if isinstance(node, ast.BinOp) and isinstance(node.op, _OPERATORS):
        return _checked(node.left) | _checked(node.right)
    if (
        isinstance(node, ast.Call)
        and isinstance(node.func, ast.Name)
        and node.func.id in _CALLS
        and not node.keywords
        and len(node.args) > 1
    ):
        return set().union(*(_checked(a) for a in node.args))
    raise FormatError("Only numbers, names, + − × ÷, brackets, min and max can stand in an expression.")
