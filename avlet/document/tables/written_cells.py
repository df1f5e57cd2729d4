"""Numbers, days and times of spreadsheets, as they are written in words."""

import datetime
import math
import re
from decimal import Decimal
from typing import Any

_DAY_BEFORE_1900 = datetime.datetime(1899, 12, 31)
_DAY_1904 = datetime.datetime(1904, 1, 1)
_LAST_DAY = 2_958_465
"""The serial number of 31 December 9999."""
_LEAP_OF_1900 = 60
"""The serial number of a 29 February 1900, which there was not: days before it count one less (ECMA-376 part 1, 18.17.4.1)."""
_QUOTED = re.compile(r'"[^"]*"|\\.|_.|\*.|\[(?![hms]+\])[^\]]*\]', re.IGNORECASE)
_ELAPSED = re.compile(r"\[[hms]+\]", re.IGNORECASE)
_BUILT_IN = {
    **dict.fromkeys((14, 15, 16, 17, *range(27, 32), 36, *range(50, 55), 57, 58), "yyyy-mm-dd"), 22: "yyyy-mm-dd hh:mm",
    **dict.fromkeys((18, 19, 20, 21, *range(32, 36), 45, 47, 55, 56), "hh:mm:ss"), 46: "[h]:mm:ss",
}  # fmt: skip
"""What the formats that have a number and no code of their own show (ECMA-376 part 1, 18.8.30)."""


def number_words(value: float) -> str:
    """A number as people write it: up to 15 figures, as spreadsheets keep them, and never with an exponent."""
    return format(Decimal(f"{value:.15g}"), "f") if math.isfinite(value) else ""


def duration_words(seconds: float) -> str:
    """A length of time as hours, minutes and seconds; hours are counted on beyond a day."""
    thousandths = round(abs(seconds) * 1000)
    minutes, rest = divmod(thousandths, 60_000)
    hours, minutes = divmod(minutes, 60)
    part = f".{rest % 1000:03}" if rest % 1000 else ""
    return f"{'-' if seconds < 0 and thousandths else ''}{hours:02}:{minutes:02}:{rest // 1000:02}{part}"


def format_code(number: int, codes: dict[int, str]) -> str:
    """The code of a number format, that of built-in ones as well."""
    return codes.get(number) or _BUILT_IN.get(number, "")


def shown_as(code: str) -> str:
    """What a number format shows a number as: ``day``, ``moment`` (day and time), ``time``, ``duration``, or nothing of these."""
    first = code.split(";", 1)[0]
    if _ELAPSED.search(first):
        return "duration"
    signs = _QUOTED.sub("", first).lower().replace("general", "")
    timed = "h" in signs or "s" in signs
    if "d" in signs or "y" in signs or ("m" in signs and not timed):
        return "moment" if timed else "day"
    return "time" if timed else ""


def serial_words(value: float, shown: str, since_1904: bool) -> str:
    """A day or a time that is kept as a number of days, as ISO 8601 writes it; the number where it is none."""
    if not math.isfinite(value) or (shown != "duration" and not 0 <= value <= _LAST_DAY):
        return number_words(value)
    if shown == "duration" or (shown == "time" and value >= 1):
        return duration_words(value * 86_400)
    if shown == "time":
        return (_DAY_1904 + _time_of(value)).time().isoformat(_precision(value))
    start = _DAY_1904 if since_1904 else _DAY_BEFORE_1900
    days = math.floor(value) - (0 if since_1904 or value < _LEAP_OF_1900 else 1)
    try:
        moment = start + datetime.timedelta(days=days) + _time_of(value % 1)
    except OverflowError:
        return number_words(value)
    return moment.date().isoformat() if shown == "day" else moment.isoformat(timespec=_precision(value % 1))


def _time_of(share: float) -> datetime.timedelta:
    return datetime.timedelta(milliseconds=round(share * 86_400_000))


def _precision(share: float) -> str:
    return "milliseconds" if round(share * 86_400_000) % 1000 else "seconds"


def cell_words(value: Any) -> str:
    """The words of a cell that a reader gave as a value of Python."""
    match value:
        case None:
            return ""
        case bool():
            return "yes" if value else "no"
        case int() | float():
            return number_words(value)
        case datetime.datetime() | datetime.date() | datetime.time():
            return value.isoformat()
        case datetime.timedelta():
            return duration_words(value.total_seconds())
    return str(value)
