"""Numbers written by the rules of a language (CLDR, UTS #35), by ICU, digit for digit exact."""

import datetime
import functools
import re
import unicodedata
from collections.abc import Callable
from dataclasses import dataclass
from decimal import ROUND_CEILING, ROUND_FLOOR, ROUND_HALF_EVEN, Decimal
from fractions import Fraction
from typing import Literal, NamedTuple

import icu

from avlet.numbers.languages import is_known
from avlet.numbers.timecode import DROP_RATES, counted_rate, timecode

Style = Literal["number", "percent", "money", "unit", "short", "ordinal", "year", "clock", "timecode", "date", "pattern"]
Sign = Literal["only below zero", "always", "never", "always but for zero"]
Digits = Literal["as the language has them", "latin", "arabic-indic", "persian", "devanagari", "bengali", "tamil", "thai"]
Clock = Literal["m:ss", "mm:ss", "h:mm:ss", "hh:mm:ss", "s"]
Width = Literal["short", "narrow", "in full"]
DateStyle = Literal["short", "medium", "long", "full"]
Towards = Literal["down", "up", "nearest"]
_SIGNS: dict[Sign, str] = {
    "only below zero": "sign-auto", "always": "sign-always", "never": "sign-never", "always but for zero": "sign-except-zero",
}  # fmt: skip
_NUMBERING: dict[Digits, str] = {
    "latin": "latn", "arabic-indic": "arab", "persian": "arabext", "devanagari": "deva", "bengali": "beng", "tamil": "tamldec",
    "thai": "thai",
}  # fmt: skip
_WIDTHS: dict[Width, str] = {"short": "unit-width-short", "narrow": "unit-width-narrow", "in full": "unit-width-full-name"}
_ROUNDING: dict[Towards, tuple[str, str]] = {
    "down": ("rounding-mode-floor", ROUND_FLOOR), "up": ("rounding-mode-ceiling", ROUND_CEILING), "nearest": ("", ROUND_HALF_EVEN),
}  # fmt: skip
_PATTERN_ROUNDING: dict[Towards, int] = {
    "down": icu.DecimalFormat.kRoundFloor, "up": icu.DecimalFormat.kRoundCeiling, "nearest": icu.DecimalFormat.kRoundHalfEven,
}  # fmt: skip
_DAY_0 = datetime.date(1970, 1, 1)
FIRST_DAY, LAST_DAY = (datetime.date.min - _DAY_0).days, (datetime.date.max - _DAY_0).days
_CURRENCY, _UNIT = re.compile(r"[A-Z]{3}"), re.compile(r"[a-z0-9-]{1,60}")
MOST_PATTERN = 80


@dataclass(frozen=True)
class How:
    """How a number is written. ``least_digits`` are digits before the decimal sign, filled with zeros; ``rate`` is for timecode."""

    style: Style = "number"
    language: str = "en"
    digits: Digits = "as the language has them"
    grouping: bool = True
    least_decimals: int = 0
    most_decimals: int = 0
    least_digits: int = 1
    sign: Sign = "only below zero"
    currency: str = "EUR"
    unit: str = "hectare"
    width: Width = "short"
    pattern: str = "#,##0"
    clock: Clock = "m:ss"
    date: DateStyle = "long"
    rate: Fraction = Fraction(25)
    drop: bool = False


class Written(NamedTuple):
    """A number in words, and where its decimal sign stands in them, or would stand behind its last whole digit."""

    words: str
    point: int


def fault_of(how: How) -> str | None:
    """Why nothing can be written so, in words; None when it can."""
    if not is_known(how.language):
        return f"There are no rules for the language “{how.language}”. Write its code as CLDR has it, such as de or cy."
    if how.least_decimals > how.most_decimals:
        return f"It cannot have at least {how.least_decimals} and at most {how.most_decimals} decimals."
    if how.style == "timecode" and how.drop and how.rate not in DROP_RATES:
        return f"Drop-frame timecode is for 29.97 and 59.94 frames a second, not {float(how.rate):g}. Switch it off."
    if how.style == "money" and not _CURRENCY.fullmatch(how.currency):
        return f"“{how.currency}” is no currency. Write three capital letters by ISO 4217, such as EUR."
    if how.style == "unit" and not (_UNIT.fullmatch(how.unit) and _is_unit(how.unit)):
        return f"“{how.unit}” is no unit that CLDR knows. Write, for example, hectare, kilometer or liter-per-100-kilometer."
    if how.style == "pattern":
        return pattern_fault(how.pattern)
    return None


@functools.lru_cache(maxsize=256)
def _is_unit(unit: str) -> bool:
    try:
        return bool(icu.MeasureUnit.forIdentifier(unit))
    except icu.ICUError:
        return False


@functools.lru_cache(maxsize=256)
def pattern_fault(pattern: str) -> str | None:
    """Why a pattern is none (UTS #35, number patterns), in words; None when it is one."""
    if not pattern.strip() or len(pattern) > MOST_PATTERN:
        return f"A pattern for numbers has 1 to {MOST_PATTERN} signs, such as #,##0.00."
    if not any(c in "0#@" for c in re.sub(r"'[^']*'", "", pattern)):
        return f"“{pattern}” has no place for a digit. Write 0 for one that always shows and # for one that may, such as #,##0.00."
    try:
        icu.DecimalFormat(pattern, icu.DecimalFormatSymbols(icu.Locale("en")))
    except icu.ICUError as error:
        said = str(error.args[1]) if len(error.args) > 1 else ""
        why = "a special sign is not quoted" if "quoted" in said else "its parts are in a wrong order"
        return f"“{pattern}” is no pattern for numbers: {why}. Write, for example, #,##0.00 or 0.0 'ha'."
    return None


def write(value: Decimal, how: How, towards: Towards = "nearest") -> Written:
    """Write a number; what has more decimals than are shown is rounded ``towards`` one side.

    Raises ``ValueError`` in words where :func:`fault_of` has something to say.
    """
    return _writer(how, towards)(value)


@functools.lru_cache(maxsize=512)
def _writer(how: How, towards: Towards) -> Callable[[Decimal], Written]:
    fault = fault_of(how)
    if fault:
        raise ValueError(fault)
    locale = _locale(how)
    match how.style:
        case "clock":
            return functools.partial(_clock, how, locale, towards)
        case "timecode":
            return functools.partial(_timecode, how, locale, towards)
        case "date":
            return functools.partial(_date, _date_format(how.date, locale), towards)
        case "ordinal":
            return functools.partial(_ordinal, icu.RuleBasedNumberFormat(icu.URBNFRuleSetTag.ORDINAL, locale), locale, towards)
        case "pattern":
            symbols = icu.DecimalFormatSymbols(locale)
            made = icu.DecimalFormat(how.pattern, symbols)
            made.setRoundingMode(_PATTERN_ROUNDING[towards])
            return functools.partial(_by_formatter, made.toNumberFormatter(), symbols)
    formatter = icu.NumberFormatter.forSkeleton(_skeleton(how, towards)).locale(locale)
    return functools.partial(_by_formatter, formatter, icu.DecimalFormatSymbols(locale))


def _locale(how: How) -> icu.Locale:
    numbering = _NUMBERING.get(how.digits)
    return icu.Locale(f"{how.language}@numbers={numbering}" if numbering else how.language.replace("-", "_"))


def _skeleton(how: How, towards: Towards) -> str:
    """The number skeleton of ICU for it."""
    words = [_SIGNS[how.sign], _ROUNDING[towards][0]]
    words.append("." + "0" * how.least_decimals + "#" * (how.most_decimals - how.least_decimals) if how.style != "year" else ".")
    if how.style == "year" or not how.grouping:
        words.append("group-off")
    if how.least_digits > 1:
        words.append("integer-width/+" + "0" * how.least_digits)
    match how.style:
        case "percent":
            words.append("percent")
        case "money":
            words += [f"currency/{how.currency}", *([_WIDTHS[how.width]] if how.width != "short" else [])]
        case "unit":
            words += [f"unit/{how.unit}", _WIDTHS[how.width]]
        case "short":
            words.append("compact-long" if how.width == "in full" else "compact-short")
    return " ".join(word for word in words if word)


def _by_formatter(formatter: icu.LocalizedNumberFormatter, symbols: icu.DecimalFormatSymbols, value: Decimal) -> Written:
    words = str(formatter.formatDecimal(f"{value:f}".encode("ascii")))
    if value.is_signed() and not any(unicodedata.digit(c) for c in words if is_digit(c)):
        words = str(formatter.formatDecimal(b"0"))  # negative zero is zero
    return Written(words, _point_of(words, symbols.getSymbol(icu.DecimalFormatSymbols.kDecimalSeparatorSymbol)))


def _point_of(words: str, decimal: str) -> int:
    """Where the decimal sign stands between two digits, or behind the last digit."""
    digits = [n for n, c in enumerate(words) if is_digit(c)]
    for n in range(len(words) - 1, 0, -1):
        if words[n] == decimal and n - 1 in digits and n + 1 in digits:
            return n
    return digits[-1] + 1 if digits else len(words)


def is_digit(char: str) -> bool:
    """Whether a sign is a figure, of any script."""
    return unicodedata.category(char) == "Nd"


def _whole(value: Decimal, towards: Towards) -> int:
    return int(value.to_integral_value(rounding=_ROUNDING[towards][1]))


def _figures(words: str, locale: icu.Locale) -> str:
    """ASCII digits as those of a locale."""
    zero = icu.DecimalFormatSymbols(locale).getSymbol(icu.DecimalFormatSymbols.kZeroDigitSymbol)
    return words if zero == "0" else "".join(chr(ord(zero) + int(c)) if c.isascii() and c.isdigit() else c for c in words)


@functools.lru_cache(maxsize=64)
def _time_separator(language: str) -> str:
    """Between minutes and seconds: a colon nearly everywhere, a full stop in Finnish and Danish."""
    pattern = icu.DateTimePatternGenerator.createInstance(icu.Locale(language)).getBestPattern("ms")
    found = re.search(r"m([^ms']+)s", pattern)
    return found.group(1) if found else ":"


def _clock(how: How, locale: icu.Locale, towards: Towards, value: Decimal) -> Written:
    """Seconds as a clock: minutes, or hours and minutes, and decimals of a second where there are some."""
    unit = Decimal(1).scaleb(-how.most_decimals)
    whole = _whole(abs(value) / unit, _turned(towards) if value < 0 else towards)
    seconds, part = divmod(whole, 10**how.most_decimals)
    colon = _time_separator(how.language)
    if how.clock == "s":
        words = str(seconds)
    elif how.clock in ("m:ss", "mm:ss"):
        words = f"{seconds // 60:0{2 if how.clock == 'mm:ss' else 1}d}{colon}{seconds % 60:02d}"
    else:
        hours, rest = divmod(seconds, 3600)
        words = f"{hours:0{2 if how.clock == 'hh:mm:ss' else 1}d}{colon}{rest // 60:02d}{colon}{rest % 60:02d}"
    symbols = icu.DecimalFormatSymbols(locale)
    sign = symbols.getSymbol(icu.DecimalFormatSymbols.kMinusSignSymbol) if value < 0 and whole and how.sign != "never" else ""
    point = len(sign) + len(words)
    decimals = (
        f"{symbols.getSymbol(icu.DecimalFormatSymbols.kDecimalSeparatorSymbol)}{part:0{how.most_decimals}d}" if how.most_decimals else ""
    )
    return Written(sign + _figures(words + decimals, locale), point)


def _turned(towards: Towards) -> Towards:
    """The same direction, seen from below zero."""
    return {"down": "up", "up": "down", "nearest": "nearest"}[towards]  # type: ignore[return-value]


def _timecode(how: How, locale: icu.Locale, towards: Towards, value: Decimal) -> Written:
    """Frames as SMPTE ST 12-1 counts them; a count that goes over a day begins anew, and one below zero has a sign."""
    frames = _whole(value, towards)
    day = counted_rate(how.rate) * 86_400 - (2 * round(how.rate / 30) * (1440 - 144) if how.drop else 0)
    words = ("−" if frames < 0 else "") + timecode(abs(frames) % day, how.rate, how.drop)
    return Written(_figures(words, locale), len(words))


@functools.lru_cache(maxsize=64)
def _date_format(style: DateStyle, locale: icu.Locale) -> icu.DateFormat:
    styles = {"short": icu.DateFormat.SHORT, "medium": icu.DateFormat.MEDIUM, "long": icu.DateFormat.LONG, "full": icu.DateFormat.FULL}
    made = icu.DateFormat.createDateInstance(styles[style], locale)
    made.setTimeZone(icu.TimeZone.createTimeZone("UTC"))
    return made


def _date(formatter: icu.DateFormat, towards: Towards, value: Decimal) -> Written:
    """Days since 1 January 1970, held between the years 1 and 9999."""
    words = str(formatter.format(86_400.0 * max(FIRST_DAY, min(LAST_DAY, _whole(value, towards)))))
    return Written(words, len(words))


def _ordinal(formatter: icu.RuleBasedNumberFormat, locale: icu.Locale, towards: Towards, value: Decimal) -> Written:
    words = str(formatter.format(_whole(value, towards)))
    return Written(_figures(words, locale), max((n + 1 for n, c in enumerate(words) if is_digit(c)), default=len(words)))
