"""Numbers as they are typed: in many languages' writing, checked against what Babel writes."""

from decimal import Decimal

import pytest
from babel.numbers import format_decimal
from hypothesis import given
from hypothesis import strategies as st

from avlet.numbers.typed import AmbiguousNumberError, evaluate, read_number

LANGUAGES = ["en", "de", "fr", "de_CH", "sv", "pl", "it", "es", "pt", "nl", "cy", "hi", "ar_EG", "fa", "ja", "ru", "cs", "fi", "da", "el"]


@pytest.mark.parametrize(
    ("words", "value"),
    [
        ("1.284,5", "1284.5"), ("1 284,5", "1284.5"), ("1,284.5", "1284.5"), ("1'284.50", "1284.50"), ("1’284", "1284"),
        ("12,5", "12.5"), ("12.5", "12.5"), ("0,125", "0.125"), ("0.125", "0.125"), ("1284,500", "1284.500"), ("1.284.500", "1284500"),
        ("12,34,567.8", "1234567.8"), ("−1.35", "-1.35"), ("+7", "7"), (" 7 ", "7"), ("1 284 500", "1284500"),
        ("٣٬٢٥٠٫٥", "3250.5"), ("१२३", "123"), (".5", "0.5"), (",25", "0.25"), ("3 250 000", "3250000"), ("1,0000", "1.0000"),
    ],
)  # fmt: skip
def test_what_can_only_be_read_one_way(words, value):
    assert read_number(words) == Decimal(value) == read_number(words, ("de",))


def test_what_reads_two_ways_goes_by_the_language():
    assert read_number("1,284", ("en",)) == 1284 and read_number("1,284", ("de",)) == Decimal("1.284")
    assert read_number("1.284", ("de",)) == 1284 and read_number("1.284", ("en",)) == Decimal("1.284")
    assert read_number("1.284", ("fr",)) == Decimal("1.284") and read_number("1,284", ("de_CH",)) == Decimal("1.284")


def test_where_two_languages_do_not_agree_it_is_asked():
    with pytest.raises(AmbiguousNumberError, match=r"“1,284” may be 1284 or 1\.284") as asked:
        read_number("1,284", ("en", "de"))
    assert asked.value.readings == (1284, Decimal("1.284"))
    assert read_number("1,284.0", ("en", "de")) == 1284 and read_number("1,28", ("en", "de")) == Decimal("1.28")


@pytest.mark.parametrize(
    "words",
    ["", "a", "1.2.3", "1,2345,678", "1..2", "12,3456,7", "1e", "1e500", "NaN", "--1", "1.284,5,6", "'1", "1'", "1,,5", "½", "1,23,45"],
)
def test_what_is_no_number_is_refused(words):
    with pytest.raises(ValueError, match="is not a number"):
        read_number(words)


@pytest.mark.parametrize("language", LANGUAGES)
@given(st.decimals(-(10**12), 10**12, places=2, allow_nan=False))
def test_what_babel_writes_is_read_back(language, value):
    """CLDR's own writing of any number, by Babel, comes back as that number."""
    assert read_number(format_decimal(value, "#,##0.00", locale=language), (language.replace("-", "_"),)) == value


@pytest.mark.parametrize(
    ("words", "languages", "value"),
    [("1.920/2", ("de",), 960), ("1,920/2", ("en",), 960), ("2*(1 000+0,5)", ("de",), 2001), ("007+1", ("en",), 8), ("10/4", ("en",), 2.5)],
)  # fmt: skip
def test_sums_are_written_as_numbers_are(words, languages, value):
    assert evaluate(words, languages) == value
