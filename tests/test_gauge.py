"""Gauges: rings that go round what they fit around, and fill up to a share."""

import itertools
import math
from collections.abc import Iterable

import numpy as np
import pytest
from conftest import plated, put
from hands import chip, choose, settle
from hypothesis import given
from hypothesis import strategies as st
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QLabel
from scipy import ndimage

from avlet.desktop.recipe.look_rows import LookRow
from avlet.document.editing.edits import replace
from avlet.document.editing.resizing import resized
from avlet.document.faults.checking import check
from avlet.document.looks.forms import Ellipse
from avlet.document.looks.paints import Solid
from avlet.document.parts import CounterPart, Counting, Fit, GaugePart, Matte, Place, ShapePart, SpacePart, TextPart
from avlet.document.starts import STARTS
from avlet.document.template import Frame
from avlet.document.time.keys import RunsWith
from avlet.errors import AvletError
from avlet.geometry import Box
from avlet.motion.counting import counters_of
from avlet.paint.gauges import gauge_path, gauge_pieces
from avlet.paint.scene import Scene
from avlet.storage.template_json import decode, encode

MIDDLE = Place("frame", "middle", "middle")


def shown(book, *others, **values):
    """A scene with one gauge, white where it is filled and red beyond."""
    usual = {
        "diameter": 300.0,
        "thick": 30.0,
        "across": MIDDLE,
        "down": MIDDLE,
        "rest": "#FF0000",
        "ends": "flat",
        "fill": Solid("#FFFFFF"),
    }
    part = GaugePart(id="gauge", name="Gauge", **{**usual, **values})
    template = plated(parts=(*others, part), frame=Frame(640, 360, "25/1"), way_in=0, way_out=0, length=50)
    return Scene(template, book)


def cover(scene, frame=10):
    """How many px are white and how many red, as sums of coverage."""
    pixels = np.asarray(scene.picture(frame, scene.rest.frame.width, scene.rest.frame.height), float) / 255
    white = pixels[..., 1]
    return white.sum(), (pixels[..., 3] - white).sum()


def band(diameter: float, thick: float, degrees: float) -> float:
    """The area of a part of a ring: π (R² − r²) by its share of the circle."""
    return math.pi * ((diameter / 2) ** 2 - (diameter / 2 - thick) ** 2) * degrees / 360


@pytest.mark.parametrize(
    ("share", "sweep", "begins"),
    [(60.0, 270.0, -135.0), (25.0, 360.0, 0.0), (0.0, 180.0, -90.0), (100.0, -300.0, 150.0), (50.0, 360.0, 720.0)],
)
def test_what_is_filled_is_its_share_of_the_band(book, share, sweep, begins):
    """Checked by area: π (R² − r²) times the share of the circle."""
    filled, beyond = cover(shown(book, share=share, sweep=sweep, begins=begins))
    whole = band(300, 30, abs(sweep))
    assert filled == pytest.approx(whole * share / 100, abs=40)
    assert beyond == pytest.approx(whole * (1 - share / 100), abs=40)


def test_it_begins_where_it_says_and_goes_clockwise_or_the_other_way(book):
    """A quarter from the top lies on the right of it, or with a sweep below nothing on the left."""
    for sweep, right in ((90.0, True), (-90.0, False)):
        scene = shown(book, share=100.0, begins=0.0, sweep=sweep)
        ys, xs = np.nonzero(np.asarray(scene.picture(10, 640, 360))[..., 3] > 128)
        assert (xs.min() >= 319) if right else (xs.max() <= 320)
        assert ys.max() <= 180


@pytest.mark.parametrize("sweep", [270.0, 360.0, -200.0])
@pytest.mark.parametrize("ticks", [1, 2, 12, 40])
def test_there_are_as_many_ticks_as_it_says(book, ticks, sweep):
    """Counted in the picture, by SciPy's connected components."""
    scene = shown(book, share=100.0, ticks=ticks, gap=50.0, sweep=sweep)
    alpha = np.asarray(scene.picture(10, 640, 360))[..., 3] > 100
    assert ndimage.label(alpha)[1] == ticks


def test_the_first_and_the_last_tick_stand_at_the_ends_of_the_way():
    part = GaugePart(id="g", name="G", ticks=10, gap=50.0, begins=-90.0, sweep=180.0, thick=20.0)
    bounds = gauge_path(part, Box(0, 0, 200, 200)).computeTightBounds()
    assert bounds.bottom() == pytest.approx(100, abs=0.01)
    assert (bounds.left(), bounds.right()) == pytest.approx((0, 200), abs=0.01)


def test_a_share_within_a_tick_cuts_it(book):
    half = cover(shown(book, ticks=4, gap=0.0, share=37.5, sweep=360.0, begins=0.0))
    assert half[0] == pytest.approx(band(300, 30, 360 * 0.375), abs=40)


@given(
    st.floats(0, 20_000), st.floats(0, 100), st.floats(0, 4_000), st.floats(-3600, 3600), st.floats(-360, 360), st.integers(0, 360),
    st.floats(0, 99), st.sampled_from(["flat", "round"]), st.floats(0, 500), st.floats(0, 500),
)  # fmt: skip
def test_any_gauge_keeps_to_its_box(diameter, share, thick, begins, sweep, ticks, gap, ends, w, h):
    part = GaugePart(
        id="g", name="G", diameter=diameter, share=share, thick=thick, begins=begins, sweep=sweep, ticks=ticks, gap=gap, ends=ends
    )
    box = Box(7, 5, w, h)
    for path in [gauge_path(part, box), *(path for path, _ in gauge_pieces(part, box))]:
        if not path.isEmpty():
            bounds = path.computeTightBounds()
            assert path.isFinite()
            assert bounds.left() >= 6.9 and bounds.top() >= 4.9 and bounds.right() <= 7.1 + w and bounds.bottom() <= 5.1 + h


@pytest.mark.parametrize("text", ["8", "Odalys Brandt", "two\nlines of it"])
@pytest.mark.parametrize("padding", [0.0, 33.0])
def test_its_circle_goes_through_the_corners_of_what_it_fits_around(book, text, padding):
    words = TextPart(id="words", name="Words", text=text, size=40, across=MIDDLE, down=MIDDLE)
    scene = shown(book, words, fit=Fit(("words",), "line box", *([padding] * 4)), across=None, down=None)
    box, inner = scene.rest.parts["gauge"].box, scene.rest.parts["words"].box
    assert box.w == box.h == pytest.approx(math.hypot(inner.w + 2 * padding, inner.h + 2 * padding))
    assert box.middle == pytest.approx(inner.middle)


def test_its_width_waits_for_the_height_of_what_it_fits_around(book):
    """A plate of a width of its own, whose height comes from a chain of others: known late, and needed for both sides of the circle."""
    words = TextPart(id="words", name="Words", text="two\nlines", size=30, across=MIDDLE, down=MIDDLE)
    inner = ShapePart(id="inner", name="Inner", fit=Fit(("words",), axes="height"), width=50.0, across=MIDDLE, down=None)
    plate = ShapePart(id="plate", name="Plate", fit=Fit(("inner",), axes="height"), width=80.0, across=MIDDLE, down=None)
    gauge = GaugePart(id="gauge", name="Gauge", fit=Fit(("plate",), "line box", 0, 0, 0, 0), across=None, down=None)
    template = plated(parts=(gauge, plate, inner, words), frame=Frame(640, 360, "25/1"), way_in=0, way_out=0, length=50)
    rest = Scene(template, book).rest.parts
    assert rest["gauge"].box.w == pytest.approx(math.hypot(80.0, rest["words"].box.h + 100.0))


def test_it_goes_round_several_and_takes_limits(book):
    two = [
        TextPart(id=i, name=i, text=i, size=30, across=replace(MIDDLE, gap=x), down=replace(MIDDLE, gap=y))
        for i, x, y in (("one", -60, -20), ("other", 40, 30))
    ]
    fit = Fit(("one", "other"), "line box", 0, 0, 0, 0)
    scene = shown(book, *two, fit=fit, across=None, down=None)
    boxes = [scene.rest.parts[i].box for i in ("one", "other")]
    wide, high = max(b.right for b in boxes) - min(b.x for b in boxes), max(b.bottom for b in boxes) - min(b.y for b in boxes)
    assert scene.rest.parts["gauge"].box.w == pytest.approx(math.hypot(wide, high))
    least = shown(book, *two, fit=replace(fit, least_width=400.0, least_height=300.0), across=None, down=None)
    assert least.rest.parts["gauge"].box.w == pytest.approx(500.0)


def test_words_placed_in_their_own_gauge_are_a_circle_that_is_told(book):
    words = TextPart(id="words", name="Words", text="x", across=Place("gauge", "middle", "middle"), down=Place("gauge", "middle", "middle"))
    assert shown(book, words, fit=Fit(("words",)), across=MIDDLE, down=MIDDLE).rest.parts["gauge"].box.w > 0
    pair: Iterable[TextPart] = [words, TextPart(id="more", name="More", across=Place("gauge"), down=Place("gauge"))]
    with pytest.raises(AvletError, match="run in a circle"):
        shown(book, *pair, fit=Fit(("words", "more")), across=MIDDLE, down=None)


def test_a_share_that_runs_with_a_count_is_full_on_its_landing_frame_and_not_before(book):
    counter = CounterPart(id="count", name="Count", count=Counting(0, None, "after", 25), across=MIDDLE, down=MIDDLE)
    scene = shown(book, counter, runs=(RunsWith("share", "count"),))
    shares = [scene.pose(f).parts["gauge"].rest.part.share for f in range(50)]
    assert shares[25:] == [100.0] * 25 and shares[24] < 100 and shares[0] == 0
    assert all(a <= b for a, b in itertools.pairwise(shares))


@pytest.mark.parametrize("sample", ["shortest", "typical", "longest", "two-lines"])
@pytest.mark.parametrize("rate", ["25/1", "60000/1001"])
def test_the_starts_ring_fills_as_far_as_its_number_says_in_every_frame(book, sample, rate):
    template = STARTS["Share on a gauge"](Frame(1920, 1080, rate))
    scene = Scene(template, book, next(one.answers for one in template.samples if one.id == sample))
    counted = counters_of(scene.choreography.movers)["tally"]
    for frame in range(scene.length - scene.spans.way_out):
        number = float(counted.words_of(counted.moment(frame))[1].strip("%\u00a0 "))
        assert abs(scene.pose(frame).parts["gauge"].rest.part.share - number) <= 1.0, frame
    gauge, ground = scene.rest.parts["gauge"].box, scene.rest.parts["ground"].box
    assert ground.contains(gauge) and all(gauge.contains(scene.rest.parts[i].ink) for i in ("tally", "line"))
    assert not [note for note in scene.notes() if "leaves" in note]


def test_it_survives_its_json_and_refuses_what_is_none(book):
    template = shown(book).template
    assert decode(encode(template), "x") == template
    for path, value in (
        ("ticks", 361),
        ("share", 101.0),
        ("sweep", 361.0),
        ("thick", -1.0),
        ("gap", 100.0),
        ("ends", "square"),
        ("rest", "red"),
    ):
        with pytest.raises(AvletError):
            check(put(template, {f"gauge/{path}": value}))


def test_its_outline_as_a_matte_is_the_whole_ring(book):
    plate = ShapePart(
        id="plate", name="Plate", width=640, height=360, across=MIDDLE, down=MIDDLE, fill=Solid("#FFFFFF"), mattes=(Matte("gauge"),)
    )
    scene = shown(book, plate, share=0.0, opacity=0.0, sweep=360.0)
    assert cover(scene)[0] == pytest.approx(band(300, 30, 360), abs=100)


def test_in_a_space_both_colours_are_seen(book):
    pytest.importorskip("moderngl")
    scene = shown(book, SpacePart(id="space", name="Space"), group="space", share=50.0, sweep=360.0)
    filled, beyond = cover(scene)
    assert filled == pytest.approx(beyond, rel=0.05) and filled == pytest.approx(band(300, 30, 180), rel=0.06)


@pytest.mark.parametrize("sides", [(1, 0), (0, 1), (1, 1), (-1, 0), (-1, -1)])
def test_what_is_round_is_resized_in_both_directions_and_its_other_edge_stays(sides):
    part, box = GaugePart(id="g", name="G", across=MIDDLE, down=MIDDLE), Box(100, 100, 420, 420)
    values = resized(part, box, sides, 40.0 * (sides[0] or 1), 40.0 * (sides[1] or 1))
    assert values["g/diameter"] == 460.0
    for axis, held in zip(("across", "down"), sides, strict=True):
        assert values[f"g/{axis}.gap"] == {1: 20.0, -1: -20.0, 0: 0.0}[held]


def test_g_puts_a_gauge_round_the_selected_count_and_it_fills(window, qtbot, key):
    session = window.session
    session.edit("Add", lambda t: replace(t, parts=(*t.parts, CounterPart(id="count", name="Count", size=60, across=MIDDLE, down=MIDDLE))))
    session.select("count")
    key(Qt.Key.Key_G)
    part = session.part
    assert isinstance(part, GaugePart) and part.fit.around == ("count",) and part.runs == (RunsWith("share", "count"),)
    ids = [p.id for p in session.template.parts]
    assert ids.index(part.id) == ids.index("count") - 1
    assert "a circle round the corners of" in " ".join(label.text() for label in window.build.recipe.findChildren(QLabel))
    window.undo()
    session.select(None)
    key(Qt.Key.Key_G)
    assert session.part.fit is None and session.part.runs == ()


def test_its_sentence_fits_it_around_and_lets_it_go(window, qtbot):
    session = window.session
    session.edit("Add", lambda t: replace(t, parts=(*t.parts, GaugePart(id="gauge", name="Gauge", across=MIDDLE, down=MIDDLE))))
    session.select("gauge")
    settle()
    choose(qtbot, chip(window, "fit around"), "Name")
    settle()
    around, size = session.scene().rest.parts["name"].box, session.scene().rest.parts["gauge"].box.w
    assert session.part.fit.around == ("name",) and size > math.hypot(around.w, around.h)
    choose(qtbot, chip(window, "fit options"), "a size of its own")
    settle()
    assert session.part.fit is None and session.part.diameter == pytest.approx(size)


def test_only_what_changes_something_is_offered(window, qtbot):
    """Ticks have room between them, a band has ends; the rows follow at once, and so do the corners of a form."""
    session = window.session
    parts = (GaugePart(id="gauge", name="Gauge", across=MIDDLE, down=MIDDLE), ShapePart(id="form", name="Form", across=MIDDLE, down=MIDDLE))
    session.edit("Add", lambda t: replace(t, parts=(*t.parts, *parts)))

    def offered(part):
        session.select(part)
        settle()
        return {row.prop.path for row in window.build.recipe.findChildren(LookRow)}

    assert "ends" in offered("gauge") and "gap" not in offered("gauge")
    session.write({"gauge/ticks": 12})
    settle()
    qtbot.waitUntil(lambda: "gap" in {row.prop.path for row in window.build.recipe.findChildren(LookRow)})
    assert "ends" not in offered("gauge")
    assert "corner" in offered("form")
    session.edit("Ellipse", lambda t: put(t, {"form/form": Ellipse()}))
    assert "corner" not in offered("form")
    assert "small_capitals" not in offered("name") and "case" in offered("name")
