"""Formulas of wires: worked out as Python does, checked for names, units and depth, pointing at the fault."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from avlet.document.cards.formulas import COLOUR, PLAIN, FormulaError, check_formula, parse, unit_named, work_out
from avlet.document.looks.colours import contrast, darker, lighter, luminance, mixed, readable_on

PX, FRAMES = unit_named("px"), unit_named("frames")
KNOWN = {
    "value": PLAIN,
    "own": PX,
    "plate.width": PX,
    "pace": PLAIN,
    "frames": FRAMES,
    "brand": COLOUR,
    "role_line": "yes or no",
    "side": "words",
}


def sums(depth: int = 3):
    """Random sums over three names, as words that both Python and Avlet read."""
    leaf = st.sampled_from(["a", "b", "c"]) | st.integers(1, 99).map(str) | st.floats(0.5, 50).map(lambda v: f"{v:.3f}")
    return st.recursive(
        leaf,
        lambda inner: st.one_of(
            st.tuples(inner, st.sampled_from("+-*/"), inner).map(lambda t: f"({t[0]} {t[1]} {t[2]})"),
            inner.map(lambda t: f"(-{t})"),
            st.tuples(inner, inner).map(lambda t: f"min({t[0]}, {t[1]})"),
            st.tuples(inner, inner).map(lambda t: f"max({t[0]}, {t[1]})"),
            inner.map(lambda t: f"abs({t})"),
            inner.map(lambda t: f"round({t})"),
            st.tuples(inner, inner, inner).map(lambda t: f"({t[0]} if {t[1]} < {t[2]} else {t[1]})"),
        ),
        max_leaves=8,
    )


@given(sums(), st.floats(-100, 100), st.floats(-100, 100), st.floats(0.1, 100))
def test_a_formula_gives_what_pythons_own_arithmetic_gives(words, a, b, c):
    names = {"a": a, "b": b, "c": c}
    check_formula(words, dict.fromkeys(names, PLAIN), PLAIN)
    try:
        wanted = eval(words, {"__builtins__": {"min": min, "max": max, "abs": abs, "round": round}}, names)  # the reference, not the way
    except (ZeroDivisionError, OverflowError):
        with pytest.raises(FormulaError):
            work_out(words, names)
        return
    assert work_out(words, names) == wanted


@pytest.mark.parametrize(
    ("formula", "values", "wanted"),
    [
        ("own * value / 100", {"own": 80.0, "value": 150}, 120.0),
        ("clamp(value, 0, 10)", {"value": 14}, 10),
        ("mix(10, 20, 0.25)", {}, 12.5),
        ("floor(value) + ceil(value)", {"value": 1.2}, 3),
        ("60 if role_line else 0", {"role_line": False}, 0),
        ("1 if side == 'left' and not role_line else 2", {"side": "left", "role_line": False}, 1),
        ("plate.width × 2 − 1", {"plate.width": 100.0}, 199.0),
        ("darker(brand, 50)", {"brand": "#204060"}, "#102030"),
        ("mix(brand, '#FFFFFF', 0.5)", {"brand": "#000000"}, "#808080"),
        ("readable(brand)", {"brand": "#20435C"}, "#FFFFFF"),
    ],
)
def test_functions_and_names(formula, values, wanted):
    assert work_out(formula, values) == wanted


@pytest.mark.parametrize(
    ("formula", "wanted", "words", "at"),
    [
        ("value + ", PX, "not a formula yet", 7), ("own + frames", PX, "px and frames do not go together", 1), ("2 + nothing", PX, "There is no “nothing”", 5),
        ("own * own", PX, "It gives px\\^2, where px is wanted", 0), ("min(own, frames)", PX, "px and frames do not go together", 1),
        ("brand + 1", PX, "This is a colour, where a number is wanted", 1), ("darker(own, 3)", COLOUR, "takes a colour first", 1),
        ("own ** 2", PX, "Only \\+ − \\* / and % stand between numbers", 1), ("clamp(value, 1)", PLAIN, "takes 3 values, not 2", 1),
        ("__import__('os')", PX, "There is no such function", 1), ("[1, 2]", PX, "cannot stand in a formula", 1), ("(lambda: 1)()", PX, "no such function", 1),
        ("own.a.b", PX, "at most one point", 1), ("'words'", PX, "It gives words, where px is wanted", 0), ("value", COLOUR, "It gives a plain number, where a colour", 0),
    ],
)  # fmt: skip
def test_a_fault_is_said_with_its_place(formula, wanted, words, at):
    with pytest.raises(FormulaError, match=words) as caught:
        check_formula(formula, KNOWN, wanted)
    assert caught.value.at == at


@pytest.mark.parametrize(
    "formula",
    ["own", "own + 20", "own * value", "own / own * 5", "plate.width - own", "3", "frames / frames", "-own if role_line else own"],
)
def test_units_go_together(formula):
    check_formula(formula, KNOWN, PX)


def test_long_deep_and_hopeless_formulas_are_refused():
    with pytest.raises(FormulaError, match="at most 1,000 characters; this one has 100,000"):
        parse("1" * 100_000)
    with pytest.raises(FormulaError):
        check_formula("(" * 400 + "1" + ")" * 400, {}, PLAIN)
    with pytest.raises(FormulaError, match="divides by zero"):
        work_out("1 / value", {"value": 0})
    with pytest.raises(FormulaError):
        work_out("value * value", {"value": 1e308})


def test_contrast_is_that_of_wcag():
    # WCAG 2.2, definitions of relative luminance and contrast ratio: black on white is 21:1; #767676 is the lightest grey that
    # reaches 4.5:1 on white, #777777 does not (Understanding SC 1.4.3).
    assert contrast("#000000", "#FFFFFF") == pytest.approx(21.0)
    assert contrast("#767676", "#FFFFFF") >= 4.5 > contrast("#777777", "#FFFFFF")
    assert contrast("#123456", "#123456") == 1.0
    assert luminance("#FFFFFF") == pytest.approx(1.0)
    assert luminance("#FF0000") == pytest.approx(0.2126)


@given(st.integers(0, 0xFFFFFF).map(lambda v: f"#{v:06X}"))
def test_words_chosen_for_a_colour_can_be_read_on_it(colour):
    assert contrast(readable_on(colour), colour) >= 4.2  # the least of the two best: √21 ≈ 4.58 for pure black and white
    assert darker(colour, 100) == "#000000"
    assert lighter(colour, 100) == "#FFFFFF"
    assert mixed(colour, "#000000", 0) == darker(colour, 0) == lighter(colour, 0) == colour
    assert math.isclose(luminance(darker(colour, 0)), luminance(colour))
