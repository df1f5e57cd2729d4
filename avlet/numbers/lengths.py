"""Lengths and places in time that are typed: frames (``125``), seconds (``5 s``), minutes (``10 min``), a time of day or timecode."""

import re
from collections.abc import Sequence
from fractions import Fraction

from avlet.numbers.timecode import counted_rate
from avlet.numbers.typed import ENGLISH, read_number

_SECONDS = re.compile(r"(?P<number>[\d.,]+)\s*(s|sec|secs|seconds?)")
_MINUTES = re.compile(r"(?P<number>[\d.,]+)\s*(min|mins|minutes?)(\s+(?P<rest>[\d.,]+)\s*(s|sec|secs|seconds?))?")
_FRAMES = re.compile(r"(?P<number>[\d.,']+)\s*(f|frames?)?")
_CLOCK = re.compile(r"(?P<h>\d{1,2}):(?P<m>[0-5]\d):(?P<s>[0-5]\d)")
"""How spreadsheets give a time of day: hours, minutes, seconds."""
_CODE = re.compile(r"(?P<h>\d{1,2}):(?P<m>[0-5]\d):(?P<s>[0-5]\d)(?P<drop>[:;])(?P<f>\d{2,3})")
EXAMPLES = "frames (125), seconds (5 s), minutes (10 min) or timecode (00:00:05:00)"
_MOST_LETTERS = 60
_DROPPED = {30: 2, 60: 4}
"""Frame numbers that are left out in each minute but every tenth, by how many frames timecode counts in a second (SMPTE ST 12-1)."""


def frames_in(words: str, rate: Fraction, languages: Sequence[str] = ENGLISH) -> int:
    """Whole frames from words, at ``rate`` frames a second; raises ``ValueError`` in words."""
    plain = words.strip().casefold()
    if len(plain) > _MOST_LETTERS:
        raise ValueError(f"“{plain[:20]}…” is no number of frames and no time. Write {EXAMPLES}.")
    code, clock = _CODE.fullmatch(plain), _CLOCK.fullmatch(plain)
    seconds, minutes = _SECONDS.fullmatch(plain), _MINUTES.fullmatch(plain)
    if code:
        return _of_timecode(code, rate, words)
    if clock:
        return round(((int(clock["h"]) * 60 + int(clock["m"])) * 60 + int(clock["s"])) * rate)
    if minutes:
        rest = read_number(minutes["rest"], languages) if minutes["rest"] else 0
        return round((Fraction(read_number(minutes["number"], languages)) * 60 + Fraction(rest)) * rate)
    if seconds:
        return round(Fraction(read_number(seconds["number"], languages)) * rate)
    frames = _FRAMES.fullmatch(plain)
    number = read_number(frames["number"], languages) if frames else None
    if number is None or number != int(number):
        raise ValueError(f"“{words.strip()[:60]}” is no number of frames and no time. Write {EXAMPLES}.")
    return int(number)


def is_time(words: str) -> bool:
    """Whether words say in what they count: with a unit, or with colons."""
    plain = words.strip().casefold()
    return any(form.fullmatch(plain) for form in (_CODE, _CLOCK, _MINUTES, _SECONDS)) or plain.endswith(("f", "frames", "frame"))


def is_timecode(words: str) -> bool:
    """Whether words are timecode, which counts from the one that something begins with."""
    return _CODE.fullmatch(words.strip()) is not None


def _of_timecode(code: re.Match[str], rate: Fraction, words: str) -> int:
    """Frames since 00:00:00:00; with a semicolon before the frames drop-frame timecode is read."""
    counted, frame = counted_rate(rate), int(code["f"])
    if frame >= counted:
        raise ValueError(f"“{words.strip()}” is no timecode at {counted} frames a second.")
    minutes = int(code["h"]) * 60 + int(code["m"])
    whole = (minutes * 60 + int(code["s"])) * counted + frame
    if code["drop"] == ":":
        return whole
    dropped = _DROPPED.get(counted)
    if dropped is None or rate.denominator == 1:
        raise ValueError(f"“{words.strip()}” is drop-frame timecode, which is for 29.97 and 59.94 frames a second. Write a colon.")
    if frame < dropped and not int(code["s"]) and minutes % 10:
        raise ValueError(f"“{words.strip()}” is left out in drop-frame timecode: each minute but the tenth begins with {dropped:02}.")
    return whole - dropped * (minutes - minutes // 10)
