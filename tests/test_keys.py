"""Keys: where they stand at any length, what lies between them against SciPy, how they combine, what they may be on."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.interpolate import BPoly, CubicHermiteSpline, CubicSpline, PchipInterpolator

from avlet.document.cards.card import Card, Section
from avlet.document.cards.wires import Wire
from avlet.document.editing import edits
from avlet.document.editing.keying import anchored
from avlet.document.editing.reframing import retimed_to, rounded_by, scaled_to
from avlet.document.faults.checking import check
from avlet.document.fields import NumberField
from avlet.document.looks.colours import mixed_by_cover
from avlet.document.looks.paints import Outline, Solid
from avlet.document.parts import Matte, Place, ShapePart, TextPart
from avlet.document.template import Frame, Template
from avlet.document.time.keys import Key, Keyed
from avlet.document.time.moves import Move, StaysToTheEnd
from avlet.errors import DocumentError
from avlet.motion.keyed import cubic, value_at
from avlet.motion.spans import spans_at
from avlet.paint.scene import Scene, first_alike
from avlet.storage.template_json import decode, encode
from avlet.text.fonts import bundled_fonts


def bar(*keyed: Keyed, **values) -> ShapePart:
    given = {"across": Place(gap=100), "down": Place(gap=60), "width": 80, "height": 40, "fill": Solid("#FF0000"), "keys": keyed, **values}
    return ShapePart(id="a", name="A", way_out=StaysToTheEnd(), **given)


def titled(*parts, **values) -> Template:
    return check(Template(**{"parts": parts, "frame": Frame(400, 200), "length": 100, "way_in": 20, "way_out": 20, **values}))


def scene(template, length=None, **answers) -> Scene:
    return Scene(template, bundled_fonts(), answers, length)


def line(path: str, *values: float, to_next="straight", **how) -> Keyed:
    return Keyed(path, tuple(Key(10.0 * n, v, to_next=to_next) for n, v in enumerate(values)), **how)


SPANS = spans_at(Template(length=100, way_in=20, way_out=20), 100)


def test_keys_are_tied_to_the_start_the_end_or_a_share_of_the_hold():
    keyed = Keyed("turn", (Key(5, 1.0, "start"), Key(50, 2.0, "hold"), Key(4, 3.0, "end")))
    template = titled(bar(keyed))
    for length in (100, 250):
        spans = spans_at(template, length)
        hold = 20 + (length - 1 - 40) / 2
        assert value_at(keyed, spans, 5) == 1 and value_at(keyed, spans, hold) == 2 and value_at(keyed, spans, length - 5) == 3
        assert value_at(keyed, spans, 0) == 1 and value_at(keyed, spans, length - 1) == 3


def test_a_curve_is_the_bernstein_polynomial_of_its_control_values():
    start, end, out, into = 3.0, 11.0, 14.0, -5.0
    wanted = BPoly([[start], [start + out / 3], [end - into / 3], [end]], [0, 1])
    for share in np.linspace(0, 1, 21):
        assert cubic(start, end, out, into, float(share)) == pytest.approx(float(wanted(share)))


def test_keys_with_the_slopes_of_a_clamped_spline_follow_it():
    times, values = np.array([0.0, 10, 25, 40]), np.array([0.0, 30, 10, 50])
    spline = CubicSpline(times, values, bc_type="clamped")
    slopes = spline(times, 1)
    keyed = Keyed("turn", tuple(Key(t, v, slope_in=s, slope_out=s) for t, v, s in zip(times, values, slopes.tolist(), strict=True)))
    frames = np.linspace(0, 40, 81)
    assert [value_at(keyed, SPANS, f) for f in frames] == pytest.approx(spline(frames).tolist(), abs=1e-9)


def test_held_straight_and_smooth_by_themselves():
    assert value_at(line("turn", 0, 10, to_next="held"), SPANS, 9.99) == 0
    assert value_at(line("turn", 0, 10), SPANS, 2.5) == 2.5
    smooth = line("turn", 0, 10, 20, to_next="curved")
    before, at, after = (value_at(smooth, SPANS, f) for f in (9.999, 10, 10.001))
    assert at == 10 and (after - at) == pytest.approx(at - before, rel=1e-2), "no corner at a joined key"
    broken = Keyed("turn", (Key(0, 0.0), Key(10, 10.0, slope_in=0.0, slope_out=5.0), Key(20, 20.0)))
    before, at, after = (value_at(broken, SPANS, f) for f in (9.99, 10, 10.01))
    assert abs(at - before) < 1e-3 and after - at == pytest.approx(0.05, rel=0.05)


def test_keys_stand_instead_add_or_multiply_so_that_an_answer_keeps_its_effect():
    for how, wanted in (("instead", 200), ("added", 280), ("times", 160)):
        made = scene(titled(bar(line("width", 0, 200, how=how))))
        assert made.pose(50).visible_box("a").w == pytest.approx(wanted), how
    field = NumberField(id="w", label="Width", default=80.0)
    card = Card(sections=(Section(fields=(field,)),))
    growing = titled(bar(line("width", 0, 100, how="times")), card=card, wires=(Wire("w", "a/width"),))
    for width in (80.0, 300.0):
        made = scene(growing, w=width)
        assert [made.pose(f).visible_box("a").w for f in (5, 50)] == pytest.approx([width / 2, width])


def test_a_keyed_size_keeps_the_placed_edge_still_and_others_at_rest():
    right = bar(line("width", 80, 160), across=Place("frame", "end", "end", -50))
    beside = ShapePart(id="b", name="B", width=20, height=20, across=Place("a", "end", "start", -10), down=Place("a"))
    made = scene(titled(right, beside))
    assert made.pose(50).visible_box("a").right == 350 and made.pose(50).visible_box("a").w == 160
    assert made.pose(50).visible_box("b") == made.pose(0).visible_box("b")


def test_position_turn_opacity_colour_outline_and_matte_are_keyed():
    source = ShapePart(id="s", name="S", width=400, height=200, shown=False)
    keys = (
        line("across.gap", 100, 140), line("down.gap", 60, 20), line("opacity", 0, 100), line("turn", 0, 90),
        Keyed("fill.colour", (Key(0, "#FF0000", to_next="straight"), Key(10, "#0000FF"))), line("outline.end", 0, 100), line("mattes.0.grow", -200, 0),
    )  # fmt: skip
    made = scene(titled(source, bar(*keys, outline=Outline(4.0), mattes=(Matte("s"),))))
    half, done = made.pose(5), made.pose(50)
    assert half.outline_box("a").middle == pytest.approx((160, 60)) and half.parts["a"].most_opacity == 0.5
    assert half.parts["a"].rest.part.fill == Solid("#800080") and half.parts["a"].rest.part.outline.end == 50
    assert half.mattes_of(half.parts["a"])[0].grow == -100
    assert made.picture(0).any() == False and done.outline_box("a").h == pytest.approx(80)  # noqa: E712
    assert made.picture(50)[40, 180].tolist() == [0, 0, 255, 255]


def test_keys_and_moves_add_up():
    made = scene(titled(bar(line("across.gap", 100, 140), way_in=(Move(x=-100, frames=20),))))
    assert made.pose(0).parts["a"].shift[0, 0] == -100 and made.pose(20).parts["a"].shift[0, 0] == 40
    alike = first_alike(made)
    assert alike[30] == 20 and alike[15] == 15


@pytest.mark.parametrize(
    ("keyed", "why"),
    [
        (line("text", 1), "no property"), (line("corner_unit", 1), "cannot change over time"), (line("nothing.at.all", 1), "has no property"),
        (line("opacity", 150), "at most 100"), (Keyed("fill.colour", (Key(0, 1.0),)), "which is no colour"),
        (Keyed("turn", (Key(0, "#FF0000"),)), "which is no number"),
    ],
)  # fmt: skip
def test_what_cannot_be_keyed_is_refused_in_words(keyed, why):
    with pytest.raises(DocumentError, match=why):
        titled(bar(keyed))


def test_a_size_that_lays_out_words_is_not_keyed():
    part = TextPart(id="t", name="T", keys=(line("size", 10, 20),))
    with pytest.raises(DocumentError, match="cannot change over time"):
        titled(part)


def test_keys_are_saved_retimed_and_scaled():
    template = titled(
        bar(line("width", 0, 200), Keyed("turn", (Key(50, 2.0, "hold"), Key(4, 9.0, "end", slope_out=2.0)))), guides=edits.Template().guides
    )
    assert decode(encode(template), "template.json") == template
    faster = retimed_to(template, "50/1").part("a")
    assert [k.at for k in faster.keys[0].keys] == [0, 20] and [k.at for k in faster.keys[1].keys] == [50, 8]
    assert faster.keys[1].keys[1].slope_out == 1.0
    larger = scaled_to(template, Frame(800, 400)).part("a")
    assert [k.value for k in larger.keys[0].keys] == [0, 400] and larger.keys[1] == template.part("a").keys[1]


def test_what_another_rate_rounds_is_said():
    said = rounded_by(titled(bar(way_in=(Move(frames=7),))), "24/1")
    assert "way in 20 → 19 frames (exactly 19.20)" in said and any("A, length: 7 → 7" in words for words in said)
    assert not rounded_by(titled(bar(way_in=(Move(frames=7),))), "50/1")


def test_a_key_near_an_end_is_so_many_frames_from_it():
    assert [anchored(f, 100, 20, 20) for f in (0, 20, 79, 95, 99)] == [
        ("start", 0.0), ("start", 20.0), ("end", 20.0), ("end", 4.0), ("end", 0.0)
    ]  # fmt: skip
    assert anchored(49.5, 100, 20, 20) == ("hold", 50.0)


def test_on_the_way_from_a_clear_colour_only_the_other_ones_hue_shows():
    """Premultiplied, as CSS Color 4, section 12.3, mixes colours that are partly clear (from memory)."""
    assert mixed_by_cover("#FF000000", "#0000FFFF", 0.5) == "#0000FF80"
    assert mixed_by_cover("#FF0000", "#0000FF", 0.5) == "#800080"


@given(st.lists(st.tuples(st.integers(1, 40), st.floats(-1000, 1000).map(lambda v: round(v, 3))), min_size=3, max_size=7))
def test_a_smooth_key_has_the_slope_of_scipys_monotone_spline_and_no_value_leaves_its_neighbours(steps):
    """scipy.interpolate.PchipInterpolator, for all keys but the first and last, which are level."""
    times = np.cumsum([step for step, _ in steps]).astype(float)
    values = [value for _, value in steps]
    keyed = Keyed("turn", tuple(Key(float(t), v) for t, v in zip(times, values, strict=True)))
    slopes = PchipInterpolator(times, values).derivative()(times)
    slopes[[0, -1]] = 0.0
    wanted = CubicHermiteSpline(times, values, slopes)
    for frame in np.linspace(times[0], times[-1], 60):
        at = min(int(np.searchsorted(times, frame, side="right")) - 1, len(times) - 2)
        value = value_at(keyed, SPANS, float(frame))
        low, high = sorted(values[at : at + 2])
        assert low - 1e-6 <= value <= high + 1e-6
        assert value == pytest.approx(float(wanted(frame)), abs=1e-6 * max(1.0, *map(abs, values)))
