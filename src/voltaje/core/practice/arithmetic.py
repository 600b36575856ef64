"""The arithmetic that a line of a worksheet shows, worked again: ``18,000 ÷ (1.732 × 208)``."""

from __future__ import annotations

import ast
import operator
import re
from collections.abc import Callable, Sequence
from math import isfinite, sqrt

# what stands behind a sum: its comparison, its result, its rounding
ENDS = re.compile(r"[=→≤≥<>;]|, ")
FIGURE = re.compile(r"\d[\d,]*(?:\.\d+)?|\.\d+")
# units and words beside figures: ``2 × 16 A × 0.49 Ω × 150 ft``
WORDS = re.compile(r"[A-Za-zΩ°%µ][A-Za-zΩ°²³/%µ]*(?:/[A-Za-z²³,\d]+)?")
SIGNS = {"×": "*", "÷": "/", "−": "-", "·": "*", "–": "-"}
OPERATIONS: dict[type[ast.operator], Callable[[float, float], float]] = {
    ast.Add: operator.add,
    ast.Sub: operator.sub,
    ast.Mult: operator.mul,
    ast.Div: operator.truediv,
    ast.Pow: operator.pow,
}


def summed(expression: str) -> str:
    """The sum alone, as Python writes it; empty where there is none."""
    text = ENDS.split(expression, maxsplit=1)[0]
    text = WORDS.sub(" ", re.sub(r"per [\d,]+ ft", "", text))
    text = text.replace("²", "**2").replace("√", "sqrt")
    for sign, own in SIGNS.items():
        text = text.replace(sign, own)
    return re.sub(r"(?<=\d),(?=\d)", "", text).strip()


def worked(expression: str) -> float | None:
    """What the arithmetic of a line comes to; ``None`` where it shows none that can be read."""
    text = summed(expression)
    if not FIGURE.search(text) or len(text) > 400:
        return None
    try:
        found = _value(ast.parse(text, mode="eval").body)
    except (SyntaxError, ValueError, ZeroDivisionError, OverflowError, RecursionError):
        return None
    return found if isfinite(found) else None


def _value(node: ast.expr) -> float:
    if isinstance(node, ast.Constant) and isinstance(node.value, int | float):
        return float(node.value)
    if isinstance(node, ast.UnaryOp) and isinstance(node.op, ast.USub):
        return -_value(node.operand)
    if isinstance(node, ast.BinOp) and type(node.op) in OPERATIONS:
        power = isinstance(node.op, ast.Pow)
        left, right = _value(node.left), _value(node.right)
        if power and abs(right) > 2:  # no code figure: squares alone are written
            raise ValueError(right)
        found = OPERATIONS[type(node.op)](left, right)
        return float(found)
    root = isinstance(node, ast.Call) and isinstance(node.func, ast.Name) and node.func.id == "sqrt"
    if root and len(node.args) == 1:  # type: ignore[attr-defined]
        return sqrt(_value(node.args[0]))  # type: ignore[attr-defined]
    raise ValueError(ast.dump(node))


def figures(expression: str) -> list[tuple[int, int, float]]:
    """Each figure of the sum with where it stands."""
    text = ENDS.split(expression, maxsplit=1)[0]
    return [
        (found.start(), found.end(), float(found.group().replace(",", "")))
        for found in FIGURE.finditer(text)
    ]


def put_in(expression: str, changes: Sequence[tuple[int, int, float]]) -> float | None:
    """What the sum comes to with other figures at those places."""
    text = expression
    for start, end, value in sorted(changes, reverse=True):
        text = f"{text[:start]}{value!r}{text[end:]}"
    return worked(text)
