"""Arithmetic typed into a number: ``1920/2``, ``3*(40+10)``."""

import math
import operator

from simpleeval import InvalidExpression, SimpleEval

_OPERATORS = {ast_op: fn for ast_op, fn in SimpleEval().operators.items() if fn not in (operator.pow,)}


def evaluate(words: str) -> float:
    """The value of a short sum; ``+ − * / ( )``, comma or point as decimal mark. Raises ``ValueError`` in words."""
    plain = words.strip().replace("−", "-").replace("×", "*").replace("÷", "/").replace(",", ".")
    if len(plain) > 200:
        raise ValueError("That is too long for a number.")
    allowed = set("0123456789.+-*/() ")
    if not plain or not set(plain) <= allowed or "**" in plain or "//" in plain:
        raise ValueError(f"“{words.strip()}” is not a number or a sum.")
    try:
        value = float(SimpleEval(operators=_OPERATORS).eval(plain))
    except (InvalidExpression, ArithmeticError, SyntaxError, ValueError, TypeError):
        raise ValueError(f"“{words.strip()}” cannot be worked out.") from None
    if not math.isfinite(value):
        raise ValueError(f"“{words.strip()}” cannot be worked out.")
    return value
