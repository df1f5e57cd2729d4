"""Formulas of wires: arithmetic over named values, checked for names and units before anything is worked out.

``value`` is what the wire brings, ``own`` the property's own value; fields go by their ids with ``_`` for ``-``; a part's measure is
``plate.width``, the title's length ``template.length``, a house colour ``palette.brand``. There are ``+ - * / %``, comparisons,
``and or not``, ``a if … else b`` and the functions below. Percent count as plain numbers.
"""

import ast
import functools
import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any

from simpleeval import InvalidExpression, SimpleEval

from avlet.document.looks.colours import darker, is_colour, lighter, mixed, readable_on
from avlet.document.metadata import is_number
from avlet.errors import DocumentError
from avlet.limits import MOST_FORMULA, MOST_WIRES

Unit = tuple[tuple[str, int], ...] | str | None
"""``(("px", 1),)`` for px, ``()`` for plain numbers, None for a typed number that suits any unit; or colour, words, yes or no."""
COLOUR, WORDS, SWITCH = "a colour", "words", "yes or no"
PLAIN: Unit = ()


class FormulaError(DocumentError):
    """A formula that cannot be worked out. ``at`` is the place of the fault, counted from 1; 0 if it has none."""

    def __init__(self, words: str, at: int = 0) -> None:
        super().__init__(f"{words} (at character {at})." if at else f"{words}.")
        self.at = at


def unit_named(unit: str) -> Unit:
    """The unit of a property or field by its sign."""
    return () if unit in ("", "%") else ((unit, 1),)


def mix(first: Any, second: Any, share: float) -> Any:
    """Between two numbers or two colours; the first at 0, the second at 1."""
    return mixed(first, second, share) if isinstance(first, str) else first + (second - first) * share


def clamp(value: float, low: float, high: float) -> float:
    """A number held between two others."""
    return max(low, min(high, value))


FUNCTIONS: dict[str, tuple[Callable[..., Any], str, int, int]] = {
    "min": (min, "alike", 1, 20), "max": (max, "alike", 1, 20), "clamp": (clamp, "alike", 3, 3), "abs": (abs, "alike", 1, 1),
    "round": (round, "alike", 1, 1), "floor": (math.floor, "alike", 1, 1), "ceil": (math.ceil, "alike", 1, 1),
    "mix": (mix, "mix", 3, 3), "darker": (darker, "shade", 2, 2), "lighter": (lighter, "shade", 2, 2),
    "readable": (readable_on, "colour", 1, 1),
}  # fmt: skip
"""Name, function, how its units go together, fewest and most arguments."""

_OPERATORS = {op: fn for op, fn in SimpleEval().operators.items() if op in (
    ast.Add, ast.Sub, ast.Mult, ast.Div, ast.Mod, ast.USub, ast.UAdd, ast.Not, ast.Eq, ast.NotEq, ast.Gt, ast.Lt, ast.GtE, ast.LtE,
)}  # fmt: skip


_FUNCTIONS = {name: function for name, (function, *_) in FUNCTIONS.items()}


@dataclass(frozen=True)
class Parsed:
    """A formula's tree, with dotted names as one, and the names that it uses with their places."""

    tree: ast.expr
    names: tuple[tuple[str, int], ...]


class _Joined(ast.NodeTransformer):
    """``plate.width`` as one name."""

    def visit_Attribute(self, node: ast.Attribute) -> ast.AST:
        if not isinstance(node.value, ast.Name):
            raise FormulaError("A name has at most one point", node.col_offset + 1)
        return ast.copy_location(ast.Name(f"{node.value.id}.{node.attr}", ast.Load()), node)


@functools.lru_cache(maxsize=2 * MOST_WIRES)
def parse(formula: str) -> Parsed:
    """A formula's tree; raises ``FormulaError`` that points at the place."""
    if len(formula) > MOST_FORMULA:
        raise FormulaError(f"A formula has at most {MOST_FORMULA:,} characters; this one has {len(formula):,}")
    plain = formula.replace("×", "*").replace("÷", "/").replace("−", "-")
    try:
        tree: ast.expr = ast.parse(plain.strip(), mode="eval").body
        tree = _Joined().visit(tree)
    except SyntaxError as error:
        raise FormulaError("This is not a formula yet", error.offset or len(plain.strip())) from None
    except (RecursionError, MemoryError, ValueError):
        raise FormulaError("The formula nests too deeply") from None
    called = {id(node.func) for node in ast.walk(tree) if isinstance(node, ast.Call)}
    own = [(node.id, node.col_offset + 1) for node in ast.walk(tree) if isinstance(node, ast.Name) and id(node) not in called]
    return Parsed(tree, tuple(own))


def check_formula(formula: str, known: Mapping[str, Unit], wanted: Unit) -> None:
    """Raise ``FormulaError`` where a name is not known, units do not go together, or the result is none that is wanted.

    ``wanted`` is None where a number of any unit will do.
    """
    parsed = parse(formula)
    try:
        found = _unit(parsed.tree, known)
    except RecursionError:
        raise FormulaError("The formula nests too deeply") from None
    number = not isinstance(wanted, str)
    if found is None and not number:
        found = PLAIN
    if found is not None and found != wanted and not (number and (found == PLAIN or (wanted is None and not isinstance(found, str)))):
        wanted = PLAIN if wanted is None else wanted
        raise FormulaError(f"It gives {_said(found)}, where {_said(wanted)} is wanted")


def work_out(formula: str, values: Mapping[str, Any]) -> Any:
    """The value of a formula; raises ``FormulaError`` in words, e.g. for a division by zero."""
    try:
        value = SimpleEval(_OPERATORS, _FUNCTIONS, dict(values)).eval(formula, previously_parsed=parse(formula).tree)
    except ZeroDivisionError:
        raise FormulaError("It divides by zero") from None
    except (InvalidExpression, ArithmeticError, TypeError, ValueError, KeyError, RecursionError) as error:
        raise FormulaError(f"It cannot be worked out ({error})") from None
    if isinstance(value, int | float) and not isinstance(value, bool) and not is_number(value):
        raise FormulaError("It gives no finite number")
    return value


def _unit(node: ast.expr, known: Mapping[str, Unit]) -> Unit:
    at = node.col_offset + 1
    match node:
        case ast.Constant(value=bool()):
            return SWITCH
        case ast.Constant(value=int() | float()):
            return None
        case ast.Constant(value=str() as words):
            return COLOUR if is_colour(words) else WORDS
        case ast.Name(id=name):
            if name not in known:
                raise FormulaError(f"There is no “{name}”; there are {', '.join(sorted(known)[:12])}", at)
            return known[name]
        case ast.UnaryOp(op=ast.USub() | ast.UAdd(), operand=inner):
            return _number(inner, known)
        case ast.UnaryOp(op=ast.Not(), operand=inner):
            _unit(inner, known)
            return SWITCH
        case ast.BinOp(left=left, op=op, right=right):
            return _joined(op, _number(left, known), _number(right, known), at)
        case ast.Compare(left=left, comparators=others):
            _alike([left, *others], known, at)
            return SWITCH
        case ast.BoolOp(values=values):
            for value in values:
                _unit(value, known)
            return SWITCH
        case ast.IfExp(test=test, body=body, orelse=orelse):
            _unit(test, known)
            return _alike([body, orelse], known, at)
        case ast.Call(func=ast.Name(id=name), args=args, keywords=[]) if name in FUNCTIONS:
            return _called(name, args, known, at)
        case ast.Call():
            raise FormulaError(f"There is no such function; there are {', '.join(FUNCTIONS)}", at)
    raise FormulaError("This cannot stand in a formula", at)


def _number(node: ast.expr, known: Mapping[str, Unit]) -> Unit:
    unit = _unit(node, known)
    if isinstance(unit, str):
        raise FormulaError(f"This is {unit}, where a number is wanted", node.col_offset + 1)
    return unit


def _joined(op: ast.operator, left: Unit, right: Unit, at: int) -> Unit:
    assert not isinstance(left, str) and not isinstance(right, str)
    if isinstance(op, ast.Mult | ast.Div):
        sign = 1 if isinstance(op, ast.Mult) else -1
        if left is None and right is None:
            return None
        powers = dict(left or ())
        for name, power in right or ():
            powers[name] = powers.get(name, 0) + sign * power
        return tuple(sorted((n, p) for n, p in powers.items() if p))
    if isinstance(op, ast.Add | ast.Sub | ast.Mod):
        return _same([left, right], at)
    raise FormulaError("Only + − * / and % stand between numbers", at)


def _alike(nodes: list[ast.expr], known: Mapping[str, Unit], at: int) -> Unit:
    return _same([_unit(node, known) for node in nodes], at)


def _same(units: list[Unit], at: int) -> Unit:
    given = [u for u in units if u is not None]
    if any(u != given[0] for u in given):
        other = next(u for u in given if u != given[0])
        raise FormulaError(f"{_said(given[0])} and {_said(other)} do not go together", at)
    return given[0] if given else None


def _called(name: str, args: list[ast.expr], known: Mapping[str, Unit], at: int) -> Unit:
    _, how, fewest, most = FUNCTIONS[name]
    if not fewest <= len(args) <= most:
        wanted = f"{fewest}" if fewest == most else f"{fewest} or more"
        raise FormulaError(f"“{name}” takes {wanted} values, not {len(args)}", at)
    if how == "alike":
        return _same([_number(arg, known) for arg in args], at)
    if how == "mix":
        if _same([_number(args[2], known), PLAIN], at) not in (None, PLAIN):
            raise FormulaError("The share of a mix is a plain number", at)
        unit = _alike(args[:2], known, at)
        if unit in (WORDS, SWITCH):
            raise FormulaError(f"“mix” takes numbers or colours, not {unit}", at)
        return unit
    if _unit(args[0], known) != COLOUR:
        raise FormulaError(f"“{name}” takes a colour first", at)
    if how == "shade":
        _same([_number(args[1], known), PLAIN], at)
    return COLOUR


def _said(unit: Unit) -> str:
    if isinstance(unit, str):
        return unit
    if not unit:
        return "a plain number"
    return "·".join(name if power == 1 else f"{name}^{power}" for name, power in unit)
