"""Eases against the examples of CSS Easing Functions 1 and 2, SciPy's solution of a damped spring, and their own laws."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.integrate import solve_ivp

from avlet.document.time.eases import (
    READY_EASES,
    Along,
    Backwards,
    Bounce,
    CubicBezier,
    Linear,
    Overshoot,
    Spring,
    Steps,
    backwards,
    name_of_ease,
    notation,
    read_ease,
)
from avlet.easing import ease_progress, speed


def at(ease, *progress) -> list[float]:
    return ease_progress(ease, np.array(progress, float)).tolist()


# CSS Easing Functions 1, section 2.3: the values of steps() just before, at and between its jumps.
@pytest.mark.parametrize(
    ("words", "wanted"),
    [
        ("steps(4, jump-end)", [0, 0, 0.25, 0.25, 0.75, 1]), ("steps(4, jump-start)", [0.25, 0.25, 0.5, 0.5, 1, 1]),
        ("steps(4, jump-none)", [0, 0, 1 / 3, 1 / 3, 1, 1]), ("steps(4, jump-both)", [0.2, 0.2, 0.4, 0.4, 0.8, 1]),
        ("steps(4)", [0, 0, 0.25, 0.25, 0.75, 1]), ("steps(4, start)", [0.25, 0.25, 0.5, 0.5, 1, 1]),
    ],
)  # fmt: skip
def test_steps(words, wanted):
    assert at(read_ease(words), 0, 0.2, 0.25, 0.4, 0.9, 1) == pytest.approx(wanted)
    assert at(read_ease(words), -0.1)[0] == 0


# CSS Easing Functions 2, section 2.2.1 (from memory): linear(0, 0.25, 1) has its middle stop at 50 %, linear(0, 0.25 25% 75%, 1)
# rests from 25 to 75 %, a place never falls behind one before it.
@pytest.mark.parametrize(
    ("words", "points"),
    [
        ("linear(0, 0.25, 1)", [(0, 0), (0.5, 0.25), (1, 1)]),
        ("linear(0, 0.25 25% 75%, 1)", [(0, 0), (0.25, 0.25), (0.75, 0.25), (1, 1)]),
        ("linear(0, 0.5 60%, 0.7 40%, 1)", [(0, 0), (0.6, 0.5), (0.6, 0.7), (1, 1)]),
        ("linear(0, 0.1, 0.2, 1 80%, 1)", [(0, 0), (0.8 / 3, 0.1), (1.6 / 3, 0.2), (0.8, 1), (1, 1)]),
    ],
)
def test_linear_places_its_points(words, points):
    made = read_ease(words)
    assert np.array([(p.x, p.y) for p in made.points]) == pytest.approx(np.array(points))
    assert at(made, 0.5)[0] == pytest.approx(np.interp(0.5, [p[0] for p in points], [p[1] for p in points]))


@pytest.mark.parametrize("ease", [Spring(), Spring(4, 0.1), Spring(1.5, 0.7), Spring(2, 1.0)])
def test_a_spring_solves_its_equation(ease):
    # m x'' + c x' + k (x − r) = 0 with m = 1, c = 2ζω, k = ω², r the place where it rests so that x(1) = 1.
    omega, t = 2 * np.pi * ease.swings, np.linspace(0, 1, 101)
    found = np.array(at(ease, *t))
    slope = (ease_progress(ease, np.array([1e-4]))[0] - found[0]) / 1e-4
    solved = solve_ivp(
        lambda _, s: [s[1], -2 * ease.damping * omega * s[1] - omega**2 * (s[0] - 1)], (0, 1), [0, 0], t_eval=t, rtol=1e-10, atol=1e-12
    )
    assert found == pytest.approx(solved.y[0] / solved.y[0][-1], abs=1e-5)
    assert abs(slope) < 0.2 * omega, "it begins at rest"


@pytest.mark.parametrize("amount", [1, 8, 10, 25, 60])
def test_overshoot_goes_past_by_its_amount(amount):
    values = ease_progress(Overshoot(amount), np.linspace(0, 1, 20_001))
    assert values.max() == pytest.approx(1 + amount / 100, abs=1e-4)


def test_bounces_rebound_to_their_heights_and_arrive():
    values = ease_progress(Bounce(3, 25), np.linspace(0, 1, 40_001))
    inner = values[1:-1]
    touches = int(((inner >= values[:-2]) & (inner > values[2:]) & (inner > 0.999)).sum())
    assert touches == 3
    lows = [1 - v for v in inner[(inner < values[:-2]) & (inner <= values[2:])]]
    assert sorted(lows, reverse=True)[:3] == pytest.approx([0.25, 0.0625, 0.015625], abs=1e-3)
    assert values.max() <= 1


@pytest.mark.parametrize("ease", [*READY_EASES.values(), Backwards(Spring()), Backwards(Steps(3))])
def test_every_ease_arrives_exactly_and_can_be_typed(ease):
    assert at(ease, -1, 0, 1, 2) == pytest.approx([0, 0, 1, 1], abs=1e-12) or isinstance(ease, Backwards | Steps)
    assert at(ease, 1)[0] == 1
    assert read_ease(notation(ease)) == ease
    assert read_ease(name_of_ease(ease)) == ease


@given(st.floats(0, 1), st.sampled_from(list(READY_EASES.values())))
def test_backwards_is_the_ease_from_its_end(progress, ease):
    if not isinstance(ease, Steps):
        assert at(backwards(ease), progress)[0] == pytest.approx(1 - at(ease, 1 - progress)[0], abs=2e-4)
    assert backwards(backwards(ease)) == ease or at(backwards(backwards(ease)), progress) == pytest.approx(at(ease, progress))


@pytest.mark.parametrize("words", ["ease", "ease-in", "step-end", "linear", "Soft  end"])
def test_keywords_and_names(words):
    assert read_ease(words)


@pytest.mark.parametrize(
    ("words", "why"),
    [
        ("wobble", "is not an ease"), ("cubic-bezier(2, 0, 1, 1)", "<= 1"), ("cubic-bezier(1, 2)", "four numbers"), ("steps(0)", ">= 1"),
        ("steps(1, jump-none)", "at least 2"), ("linear(1)", "two values"), ("linear(0, a b%, 1)", "cannot be read"), ("steps(2, sideways)", "Invalid enum"),
        ("swing(2)", "there is no swing"), ("spring(nan, 0.2)", "."),
    ],
)  # fmt: skip
def test_what_is_no_ease_is_said(words, why):
    with pytest.raises(ValueError, match=why):
        read_ease(words)


def test_speed_is_the_derivative():
    t = np.linspace(0.05, 0.95, 19)
    assert speed(CubicBezier(0, 0, 1, 1), t) == pytest.approx(np.ones(19), abs=1e-3)
    assert speed(Linear((Along(0, 0), Along(1, 1))), np.array([0.0, 1.0])) == pytest.approx([1, 1])
