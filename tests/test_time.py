"""Eases against the definition in CSS Easing Functions; timecode against SMPTE ST 12-1; spans."""

from fractions import Fraction

import numpy as np
import pytest
from conftest import plated
from hypothesis import given
from hypothesis import strategies as st
from scipy.optimize import brentq

from avlet.document.time.eases import READY_EASES, CubicBezier, backwards
from avlet.easing import ease_progress
from avlet.motion.spans import spans_at
from avlet.numbers.timecode import rate_words, read_rate, timecode

# The keywords' curves: https://www.w3.org/TR/css-easing-1/#cubic-bezier-easing-functions
KEYWORDS = {
    "ease": CubicBezier(0.25, 0.1, 0.25, 1), "ease-in": CubicBezier(0.42, 0, 1, 1),
    "ease-out": CubicBezier(0, 0, 0.58, 1), "ease-in-out": CubicBezier(0.42, 0, 0.58, 1), "linear": CubicBezier(0, 0, 1, 1),
}  # fmt: skip
DROP = Fraction(30000, 1001)


def by_root_finding(ease: CubicBezier, x: float) -> float:
    """The definition: the point of the curve whose x is ``x``, found by SciPy."""

    def at(t, a, b):
        return 3 * (1 - t) ** 2 * t * a + 3 * (1 - t) * t**2 * b + t**3

    t = brentq(lambda t: at(t, ease.x1, ease.x2) - x, 0, 1, xtol=1e-15)
    return at(t, ease.y1, ease.y2)


@pytest.mark.parametrize(
    "ease",
    [
        *KEYWORDS.values(),
        *(e for e in READY_EASES.values() if isinstance(e, CubicBezier)),
        CubicBezier(1, 0, 0, 1),
        CubicBezier(0, 1, 1, 0),
    ],
)
def test_ease_is_the_curve_of_the_definition(ease):
    x = np.linspace(0.001, 0.999, 101)
    wanted = [by_root_finding(ease, v) for v in x]
    assert ease_progress(ease, x) == pytest.approx(wanted, abs=1e-6)


@given(st.floats(0, 1), st.floats(-2, 3), st.floats(0, 1), st.floats(-2, 3))
def test_ends_are_exact(x1, y1, x2, y2):
    values = ease_progress(CubicBezier(x1, y1, x2, y2), np.array([-1.0, 0.0, 1.0, 2.0]))
    assert values.tolist() == [0, 0, 1, 1]


def test_reversed_ease_runs_backwards():
    ease, x = READY_EASES["quick, then soft"], np.linspace(0, 1, 33)
    assert ease_progress(backwards(ease), x) == pytest.approx(1 - ease_progress(ease, 1 - x), abs=1e-9)


# SMPTE ST 12-1, drop-frame: two numbers are left out at each minute but the tenth. Worked values.
@pytest.mark.parametrize(
    ("frame", "words"),
    [
        (0, "00:00:00;00"), (1799, "00:00:59;29"), (1800, "00:01:00;02"), (3597, "00:01:59;29"), (3598, "00:02:00;02"),
        (17981, "00:09:59;29"), (17982, "00:10:00;00"), (19781, "00:10:59;29"), (19782, "00:11:00;02"), (107892, "01:00:00;00"),
    ],
)  # fmt: skip
def test_drop_frame_timecode(frame, words):
    assert timecode(frame, DROP, drop=True) == words


def test_drop_frame_at_60_leaves_out_four():
    assert timecode(3600, Fraction(60000, 1001), drop=True) == "00:01:00;04"


def test_drop_frame_numbers_never_repeat_and_skip_108_an_hour():
    seen = {timecode(f, DROP, drop=True) for f in range(0, 107892)}
    assert len(seen) == 107892 == 30 * 3600 - 108


@pytest.mark.parametrize(("rate", "frame", "words"), [("25/1", 37, "00:00:01:12"), ("24000/1001", 24, "00:00:01:00"), ("30/1", 45, "00:00:01:15"),
                                                      ("100/1", 250, "00:00:02:50"), ("24/1", 24 * 3600 * 24, "00:00:00:00")])  # fmt: skip
def test_plain_timecode(rate, frame, words):
    assert timecode(frame, Fraction(rate)) == words


def test_drop_frame_is_refused_at_other_rates():
    with pytest.raises(ValueError, match="drop-frame"):
        timecode(0, Fraction(25), drop=True)


def test_rates_in_words():
    assert [rate_words(Fraction(r)) for r in ("25/1", "24000/1001", "30000/1001", "60000/1001")] == ["25", "23.976", "29.97", "59.94"]


def test_only_the_hold_stretches():
    template = plated()
    for length in (50, 100, 1000):
        spans = spans_at(template, length)
        assert (spans.way_in, spans.way_out, spans.hold) == (25, 25, length - 50)
        assert not spans.shortened


@given(st.integers(2, 49))
def test_too_short_shortens_both_in_proportion(length):
    spans = spans_at(plated(way_in=10, way_out=40), length)
    assert spans.shortened
    assert spans.way_in + spans.way_out == length
    assert spans.way_in == pytest.approx(length / 5, abs=0.5)


@pytest.mark.parametrize(
    ("words", "rate"),
    [("25", "25/1"), ("23.976", "24000/1001"), ("29,97 fps", "30000/1001"), ("59.94", "60000/1001"), ("48", "48/1"), ("24000/1001", "24000/1001"), ("12.5", "25/2")],
)  # fmt: skip
def test_rates_are_read_as_people_write_them(words, rate):
    assert read_rate(words) == rate


@pytest.mark.parametrize("words", ["fast", "0", "-25", "5000", "1/0", ""])
def test_what_is_no_rate_is_said(words):
    with pytest.raises(ValueError, match="frame rate"):
        read_rate(words)
