"""Numbers that are typed: in the writing of a language (``1.284,5``, ``1 284,5``, ``1,284.5``), or as a sum such as ``1920/2``."""

import functools
import math
import operator
import re
import unicodedata
from collections.abc import Sequence
from decimal import Decimal, InvalidOperation

import icu
from simpleeval import InvalidExpression, SimpleEval

ENGLISH = ("en",)
_OPERATORS = {ast_op: fn for ast_op, fn in SimpleEval().operators.items() if fn not in (operator.pow,)}
_SIGNS = str.maketrans({"−": "-", "﹣": "-", "－": "-", "×": "*", "÷": "/", "٫": ".", "٬": "'", "’": "'"})
_BLANKS = re.compile(r"(?<=\d)[   ](?=\d)")
_NUMBER = re.compile(r"\d[\d.,']*|[.,]\d+")
_TENS = re.compile(r"(?P<number>[-+]?[\d.,']+)[eE](?P<tens>[-+]?\d{1,2})")
"""Powers of ten as programs write them: 1e6."""
_PERCENT = re.compile(r"(?<=\d)\s*[%٪]$")
_DATE = re.compile(r"\d{4}-\d{1,2}-\d{1,2}|\d{1,2}/\d{1,2}/\d{2}(\d{2})?|\d{1,2}\.\s?\d{1,2}\.\s?\d{4}")
"""Days by ISO 8601, and as many people write them."""
_CLOCK = re.compile(r"(?P<sign>[-+]?)((?P<h>\d{1,4}):)?(?P<m>\d{1,4}):(?P<s>[0-5]\d([.,]\d{1,9})?)")
MOST_LETTERS = 200


class AmbiguousNumberError(ValueError):
    """A number that reads as one of two: ``readings`` are both."""

    def __init__(self, words: str, readings: tuple[Decimal, Decimal]) -> None:
        one, other = readings
        super().__init__(f"“{words}” may be {one:f} or {other:f}, as languages go. Write it without grouping marks, or with all digits.")
        self.readings = readings


@functools.lru_cache(maxsize=256)
def marks(language: str) -> tuple[str, str]:
    """The decimal mark and the grouping mark of a language, by CLDR; a grouping blank as a plain one."""
    symbols = icu.DecimalFormatSymbols(icu.Locale(language))
    found = [
        symbols.getSymbol(kind)
        for kind in (icu.DecimalFormatSymbols.kDecimalSeparatorSymbol, icu.DecimalFormatSymbols.kGroupingSeparatorSymbol)
    ]
    decimal, group = (_plain(mark) for mark in found)
    return decimal, group


def _plain(words: str) -> str:
    """Digits of any script as ASCII digits, signs and marks as ASCII has them."""
    digits = "".join(str(unicodedata.digit(c)) if unicodedata.category(c) == "Nd" else c for c in words)
    return re.sub(r"[\u00a0\u202f\u2009]", " ", digits.translate(_SIGNS))


def read_number(words: str, languages: Sequence[str] = ENGLISH) -> Decimal:
    """The number that is written, exactly; a sign before it is read too.

    Where a mark may be either of two, the languages decide if they agree. Raises ``ValueError`` in words, and
    ``AmbiguousNumberError`` where they do not.
    """
    plain = _plain(words).strip().replace("\u200e", "").replace("\u200f", "").replace("\u061c", "")
    if _DATE.fullmatch(plain):
        raise ValueError(_is_a_date(words))
    plain = plain.rstrip("%٪").rstrip()
    if tens := _TENS.fullmatch(plain):
        return read_number(tens["number"], languages).scaleb(int(tens["tens"]))
    sign = -1 if plain.startswith("-") else 1
    body = _BLANKS.sub("'", (plain[1:] if plain[:1] in ("+", "-") else plain).strip())
    if not _NUMBER.fullmatch(body):
        raise ValueError(f"“{words.strip()[:60]}” is not a number.")
    return sign * _value(body, words.strip(), languages)


def _value(body: str, words: str, languages: Sequence[str]) -> Decimal:
    """One number without a sign, its grouping blanks written as apostrophes."""
    found = [c for c in body if c in ".,'"]
    kinds = set(found)
    if "'" in kinds or len(kinds) == 2:
        decimal = next((c for c in reversed(found) if c != "'"), "") if found[-1] != "'" else ""
        if len(kinds - {"'"}) == 2 and found.count(decimal) > 1:
            raise ValueError(f"“{words[:60]}” is not a number.")
        return _grouped(body, decimal, words)
    if not found:
        return Decimal(body)
    mark, (whole, _, rest) = found[0], body.partition(found[0])
    if len(found) > 1:
        return _grouped(body, "", words)
    if len(rest) != 3 or not 1 <= len(whole) <= 3 or whole.startswith("0"):
        return _grouped(body, mark, words)
    known = {_role(mark, language) for language in languages} - {""}
    as_decimal, as_group = Decimal(f"{whole}.{rest}"), Decimal(whole + rest)
    if len(known) == 2:
        raise AmbiguousNumberError(words, (as_group, as_decimal))
    return as_group if known == {"group"} else as_decimal


def _role(mark: str, language: str) -> str:
    decimal, group = marks(language)
    return "decimal" if mark == decimal else "group" if mark == group else ""


def _grouped(body: str, decimal: str, words: str) -> Decimal:
    """A number whose other marks part groups: of three digits, or of two but for the last."""
    whole, _, rest = body.rpartition(decimal) if decimal else (body, "", "")
    groups = re.split(r"[.,']", whole)
    first, others = groups[0], groups[1:]
    fits = not others or (1 <= len(first) <= 3 and len(others[-1]) == 3 and {len(g) for g in others[:-1]} in (set(), {3}, {2}))
    if not fits or (not rest.isdigit() * bool(decimal) and decimal):
        raise ValueError(f"“{words[:60]}” is not a number: its digits are not grouped in threes.")
    return Decimal(f"{''.join(groups) or '0'}.{rest or '0'}" if decimal else "".join(groups))


def _is_a_date(words: str) -> str:
    return f"“{words.strip()}” is a date, and a number is wanted here. With blanks between, a sum is worked out: 2026 - 11 - 30."


def read_clock(words: str) -> Decimal | None:
    """Seconds from hours, minutes and seconds with colons between (``10:00``, ``1:02:03.5``), None for what is written otherwise."""
    found = _CLOCK.fullmatch(_plain(words).strip())
    if found is None or (found["h"] is not None and int(found["m"]) > 59):
        return None
    seconds = (int(found["h"] or 0) * 60 + int(found["m"])) * 60 + Decimal(found["s"].replace(",", "."))
    return -seconds if found["sign"] == "-" else seconds


def evaluate(words: str, languages: Sequence[str] = ENGLISH) -> float:
    """The value of a number or a short sum; ``+ − * / ( )``. Raises ``ValueError`` in words."""
    plain = _BLANKS.sub("'", _plain(words).strip())
    if len(plain) > MOST_LETTERS:
        raise ValueError("That is too long for a number.")
    allowed = set("0123456789.,'+-*/() ")
    if _DATE.fullmatch(plain):
        raise ValueError(_is_a_date(words))
    plain = _PERCENT.sub("", plain)
    if _TENS.fullmatch(plain):
        return float(read_number(plain, languages))
    if not plain or not set(plain) <= allowed or "**" in plain or "//" in plain:
        raise ValueError(f"“{words.strip()}” is not a number or a sum.")
    plain = _NUMBER.sub(lambda found: f"{_value(found.group(), found.group(), languages):f}", plain)
    try:
        value = float(SimpleEval(operators=_OPERATORS).eval(re.sub(r"\b0+(?=\d)", "", plain)))
    except (InvalidExpression, ArithmeticError, InvalidOperation, SyntaxError, ValueError, TypeError):
        raise ValueError(f"“{words.strip()}” cannot be worked out.") from None
    if not math.isfinite(value):
        raise ValueError(f"“{words.strip()}” cannot be worked out.")
    return value
