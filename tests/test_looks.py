"""Paints and forms: gradients against NumPy, blending against W3C's formulas, areas against closed forms and fontTools."""

import math

import numpy as np
import pytest
import skia
from fontTools.pens.areaPen import AreaPen
from fontTools.svgLib.path import parse_path
from hypothesis import given, settings
from hypothesis import strategies as st

from avlet.document.editing import edits
from avlet.document.looks.forms import (
    READY_FORMS,
    Ellipse,
    FourCorners,
    FreeForm,
    Polygon,
    Rectangle,
    SlantedBar,
    Star,
    Tag,
    name_of_form,
    path_fault,
)
from avlet.document.looks.paints import Glow, Linear, Outline, Radial, Shadow, Solid, Stop, Sweep
from avlet.document.parts import Fit, Matte, Place, RulePart, ShapePart, TextPart
from avlet.document.template import Frame, Template
from avlet.document.time.eases import READY_EASES
from avlet.document.time.moves import READY_MOVES, Move
from avlet.geometry import Box
from avlet.paint.forms import rule_path, shape_path, slanted_corners
from avlet.paint.scene import Scene
from avlet.text.fonts import bundled_fonts

FRAME = Frame(400, 200, "25/1")


def shape(**changes) -> ShapePart:
    values = {
        "id": "s",
        "name": "S",
        "width": 200,
        "height": 100,
        "across": Place(gap=100),
        "down": Place(gap=50),
        "fill": Solid("#FFFFFF"),
    }
    return ShapePart(**{**values, **changes})


def picture(*parts, frame: int = 60) -> np.ndarray:
    return Scene(Template(frame=FRAME, parts=parts), bundled_fonts()).picture(frame)


def area(path: skia.Path) -> float:
    """Enclosed area in px², by counting an anti-aliased picture at four times the size."""
    pixels = np.zeros((1000, 1800, 4), np.uint8)
    info = skia.ImageInfo.Make(1800, 1000, skia.kRGBA_8888_ColorType, skia.kPremul_AlphaType)
    surface = skia.Surface.MakeRasterDirect(info, pixels, pixels.strides[0])
    canvas = surface.getCanvas()
    canvas.scale(4, 4)
    canvas.drawPath(path, skia.Paint(AntiAlias=True, Color=0xFFFFFFFF))
    surface.flushAndSubmit()
    return pixels[..., 3].sum() / 255 / 16


# Forms


BOX = Box(20, 20, 300, 120)


@pytest.mark.parametrize(
    ("form", "corner", "wanted"),
    [
        (Rectangle(), 0, 300 * 120),
        (Rectangle(), 30, 300 * 120 - (4 - math.pi) * 30**2),
        (Ellipse(), 0, math.pi * 150 * 60),
        (FourCorners(40, 0, 20, 0), 0, 300 * 120 - (1 - math.pi / 4) * (40**2 + 20**2)),
        (SlantedBar(50), 0, (300 - 50) * 120),
        (SlantedBar(-50), 0, (300 - 50) * 120),
        (Polygon(4), 0, 300 * 120 / 2),
        (Tag("point", "right", 60), 0, 300 * 120 - 60 * 120 / 2),
        (Tag("point", "both", 60), 0, 300 * 120 - 60 * 120),
        (Tag("notch", "left", 60), 0, 300 * 120 - 60 * 120 / 2),
        (Tag("round", "right"), 0, 240 * 120 + math.pi * 60**2 / 2),
    ],
)
def test_areas_are_those_of_geometry(form, corner, wanted):
    assert area(shape_path(shape(form=form, corner=corner), BOX)) == pytest.approx(wanted, rel=2e-3)


def test_a_regular_polygons_corners_are_cut_to_arcs():
    # An upright square of side a with corners of radius r loses (4 − π)·r²; turned, its box is the diagonal.
    square = shape_path(shape(form=Polygon(4), corner=20), Box(0, 0, 200, 200))
    assert area(square) == pytest.approx(200**2 / 2 - (4 - math.pi) * 20**2, rel=2e-3)


@pytest.mark.parametrize("form", READY_FORMS.values(), ids=READY_FORMS.keys())
def test_every_form_fills_its_box(form):
    bounds = shape_path(shape(form=form, corner=0), BOX).computeTightBounds()
    assert (bounds.left(), bounds.top(), bounds.width(), bounds.height()) == pytest.approx(BOX, abs=0.6)
    assert READY_FORMS[name_of_form(form)] == form


@given(st.floats(0, 400), st.floats(0, 300), st.floats(0, 200), st.sampled_from(list(READY_FORMS.values())))
@settings(max_examples=80, deadline=None)
def test_any_box_and_corner_gives_a_form_within_its_box(width, height, corner, form):
    bounds = shape_path(shape(form=form, corner=corner), Box(0, 0, width, height)).getBounds()
    assert bounds.left() >= -1
    assert bounds.top() >= -1
    assert bounds.right() <= width + 1
    assert bounds.bottom() <= height + 1


def test_slant_in_degrees():
    corners = slanted_corners(SlantedBar(45, "degrees"), Box(0, 0, 300, 100))
    assert corners[0] == pytest.approx((100, 0))
    assert corners[3] == pytest.approx((0, 100))


def test_corners_in_percent_of_the_shorter_side():
    made = shape_path(shape(corner=50, corner_unit="percent"), Box(0, 0, 300, 100))
    assert area(made) == pytest.approx(300 * 100 - (4 - math.pi) * 50**2, rel=2e-3)


def test_a_star_has_its_inner_radius():
    assert area(shape_path(shape(form=Star(4, 50)), Box(0, 0, 200, 200))) == pytest.approx(
        8 * 0.5 * 100 * 50 * math.sin(math.pi / 4), rel=3e-3
    )


@pytest.mark.parametrize("path", ["M0 0 H40 V30 H0 Z", "M10 80 C 40 10, 65 10, 95 80 Z", "M0 25 A25 25 0 1 1 50 25 A25 25 0 1 1 0 25 Z"])
def test_a_free_outline_encloses_what_fonttools_measures(path):
    pen = AreaPen()
    parse_path(path, pen)
    made = shape_path(shape(form=FreeForm(path)), Box(0, 0, 200, 200))
    from fontTools.pens.boundsPen import BoundsPen

    bounds = BoundsPen(None)
    parse_path(path, bounds)
    left, top, right, bottom = bounds.bounds
    assert area(made) == pytest.approx(abs(pen.value) * 200 / (right - left) * 200 / (bottom - top), rel=5e-3)


@pytest.mark.parametrize("path", ["", "hello", "M", "M0 0", "M0 0 L10 0", "M 1 2 3"])
def test_what_is_no_outline_is_said_and_stands_as_its_box(path):
    assert path_fault(path)
    scene = Scene(Template(frame=FRAME, parts=(shape(form=FreeForm(path)),)), bundled_fonts())
    assert scene.notes()
    assert (scene.picture(60)[60:140, 110:290, 3] == 255).all()


def test_dashes_and_caps_of_a_rule():
    rule = RulePart(id="r", name="R", length=200, width=10, dash=20, dash_gap=20)
    assert area(rule_path(rule, Box(0, 0, 200, 10))) == pytest.approx(5 * 20 * 10, rel=2e-2)
    round_caps = edits.replace(rule, dash=0, caps="round")
    assert area(rule_path(round_caps, Box(0, 0, 200, 10))) == pytest.approx(190 * 10 + math.pi * 25, rel=1e-2)
    assert area(rule_path(edits.replace(rule, dash=0), Box(0, 0, 200, 10))) == pytest.approx(2000, rel=1e-3)


# Paints


def test_a_linear_gradient_is_numpys_interpolation_of_its_stops():
    stops = (Stop(0, "#FF0000"), Stop(30, "#00FF00"), Stop(100, "#0000FF"))
    row = picture(shape(fill=Linear(stops, 0)))[100, 100:300, :3].astype(float)
    at = (np.arange(200) + 0.5) / 2
    wanted = np.stack([np.interp(at, [0, 30, 100], channel) for channel in ([255, 0, 0], [0, 255, 0], [0, 0, 255])], axis=1)
    assert np.abs(row - wanted).max() <= 2.0


def test_gradients_are_interpolated_premultiplied():
    """Half-way from opaque red to clear black there is half-clear red, not darker red."""
    row = picture(shape(fill=Linear((Stop(0, "#FF0000"), Stop(100, "#00000000")), 0)))[100, 100:300].astype(float)
    assert np.abs(row[:, 0] - row[:, 3]).max() <= 1.5
    assert row[100, 3] == pytest.approx(127, abs=2)


def test_a_gradient_at_an_angle_runs_along_it():
    made = picture(shape(fill=Linear((Stop(0, "#000000"), Stop(100, "#FFFFFF")), 90)))
    assert made[55, 200, 0] < 20
    assert made[145, 200, 0] > 235
    assert np.ptp(made[100, 105:295, 0]) <= 1


def test_a_radial_gradient_reaches_half_the_diagonal():
    made = picture(shape(fill=Radial((Stop(0, "#000000"), Stop(100, "#FFFFFF")))))
    distance = math.hypot(80.5, 0.5) / (math.hypot(200, 100) / 2)
    assert made[100, 280, 0] == pytest.approx(255 * distance, abs=2)
    assert made[100, 200, 0] < 4


def test_a_sweep_gradient_runs_clockwise_from_its_angle():
    stops = (Stop(0, "#000000"), Stop(100, "#FFFFFF"))
    plain = picture(shape(fill=Sweep(stops)))
    assert plain[130, 200, 0] == pytest.approx(255 / 4, abs=3)
    turned = picture(shape(fill=Sweep(stops, angle=90)))
    assert turned[100, 150, 0] == pytest.approx(255 / 4, abs=3)


@pytest.mark.parametrize("over", ["the whole", "each unit"])
def test_a_gradient_over_the_whole_or_each_letter(over):
    text = TextPart(
        id="t", name="T", text="HH", size=120, style="Bold", down=Place(gap=20), across=Place(gap=20),
        fill=Linear((Stop(0, "#000000"), Stop(100, "#FFFFFF")), 0, over), way_in=(Move(by="character"),),
    )  # fmt: skip
    scene = Scene(Template(frame=FRAME, parts=(text,)), bundled_fonts())
    made = scene.picture(60)
    edges = scene.rest.parts["t"].body.setting.unit_ink("character") + [20, 20, 20, 20]
    row = round((edges[0, 1] + edges[0, 3]) / 2)
    second = made[row, round(edges[1, 0]) + 3, 0]
    assert (second < 30) if over == "each unit" else (second > 110)


# W3C Compositing and Blending 1, sections 10 and 13.
def separable(mode: str, b: float, s: float) -> float:
    match mode:
        case "multiply":
            return b * s
        case "screen":
            return b + s - b * s
        case "darken":
            return min(b, s)
        case "lighten":
            return max(b, s)
        case "difference":
            return abs(b - s)
        case "exclusion":
            return b + s - 2 * b * s
        case "hard-light":
            return separable("multiply", b, 2 * s) if s <= 0.5 else separable("screen", b, 2 * s - 1)
        case "overlay":
            return separable("hard-light", s, b)
        case "color-dodge":
            return 0 if b == 0 else 1 if s == 1 else min(1, b / (1 - s))
        case "color-burn":
            return 1 if b == 1 else 0 if s == 0 else 1 - min(1, (1 - b) / s)
        case "soft-light":
            d = ((16 * b - 12) * b + 4) * b if b <= 0.25 else math.sqrt(b)
            return b - (1 - 2 * s) * b * (1 - b) if s <= 0.5 else b + (2 * s - 1) * (d - b)
    return s


def lum(c) -> float:
    return 0.3 * c[0] + 0.59 * c[1] + 0.11 * c[2]


def with_lum(c, wanted: float):
    """SetLum with ClipColor of the same section."""
    c = np.asarray(c, float) + (wanted - lum(c))
    level, low, high = lum(c), c.min(), c.max()
    if low < 0:
        c = level + (c - level) * level / (level - low)
    if high > 1:
        c = level + (c - level) * (1 - level) / (high - level)
    return c


def with_sat(c, wanted: float):
    c = np.asarray(c, float)
    spread = c.max() - c.min()
    return (c - c.min()) * wanted / spread if spread else np.zeros(3)


def non_separable(mode: str, b, s):
    """W3C Compositing and Blending 1, section 10.2."""
    sat = lambda c: max(c) - min(c)  # noqa: E731
    match mode:
        case "hue":
            return with_lum(with_sat(s, sat(b)), lum(b))
        case "saturation":
            return with_lum(with_sat(b, sat(s)), lum(b))
        case "color":
            return with_lum(s, lum(b))
    return with_lum(b, lum(s))


@pytest.mark.parametrize("mode", ["hue", "saturation", "color", "luminosity"])
@pytest.mark.parametrize("alpha", [100, 40])
def test_blend_modes_of_whole_colours_follow_the_formulas(mode, alpha):
    backdrop, source = np.array([0x33, 0x99, 0xE0]) / 255, np.array([0xC9, 0x40, 0x70]) / 255
    under = shape(id="u", fill=Solid("#3399E0"), opacity=80)
    over = shape(id="o", fill=Solid("#C94070"), opacity=alpha, blend=mode)
    found = picture(under, over)[100, 200].astype(float)
    ab, a = 0.8, alpha / 100
    mixed = (1 - ab) * source + ab * non_separable(mode, backdrop, source)
    assert found[:3] == pytest.approx((a * mixed + (1 - a) * ab * backdrop) * 255, abs=3)


@pytest.mark.parametrize(
    "mode",
    [
        "normal",
        "multiply",
        "screen",
        "overlay",
        "darken",
        "lighten",
        "color-dodge",
        "color-burn",
        "hard-light",
        "soft-light",
        "difference",
        "exclusion",
    ],
)
@pytest.mark.parametrize("alpha", [100, 40])
def test_blend_modes_follow_the_formulas(mode, alpha):
    backdrop, source = (0x33, 0x99, 0xE0), (0xC9, 0x40, 0x70)
    under = shape(id="u", fill=Solid("#3399E0"), opacity=80)
    over = shape(id="o", fill=Solid("#C94070"), opacity=alpha, blend=mode)
    found = picture(under, over)[100, 200].astype(float)
    ab, a = 0.8, alpha / 100
    for channel in range(3):
        b, s = backdrop[channel] / 255, source[channel] / 255
        mixed = (1 - ab) * s + ab * separable(mode, b, s)
        wanted = a * mixed + (1 - a) * ab * b
        assert found[channel] == pytest.approx(wanted * 255, abs=2.5)
    assert found[3] == pytest.approx((a + ab - a * ab) * 255, abs=1.5)


def test_an_outline_lies_where_it_should():
    for side, inside, outside in (("outside", 0, 10), ("middle", 5, 5), ("inside", 10, 0)):
        made = picture(shape(fill=Solid("#FF0000"), outline=Outline(10, side, "miter", Solid("#0000FF"))))
        blue = (made[100, :, 2] > 200) & (made[100, :, 0] < 60)
        assert blue[100 - outside : 100 + inside].all()
        assert not blue[: 100 - outside].any()
        assert not blue[101 + inside : 200].any()
        assert made[100, 200, 0] == 255


def test_a_clear_fill_leaves_only_the_line():
    made = picture(shape(fill=Solid("#FFFFFF00"), outline=Outline(8, "outside", "round", Solid("#FFFFFF"))))
    assert made[100, 95, 3] == 255
    assert not made[60:140, 104:296, 3].any()


def test_half_an_outline_is_drawn():
    whole = picture(shape(fill=Solid("#FFFFFF00"), outline=Outline(6, "middle", "round", Solid("#FFFFFF"))))[..., 3].sum()
    half = picture(shape(fill=Solid("#FFFFFF00"), outline=Outline(6, "middle", "round", Solid("#FFFFFF"), 0, 50)))[..., 3].sum()
    moved = picture(shape(fill=Solid("#FFFFFF00"), outline=Outline(6, "middle", "round", Solid("#FFFFFF"), 0, 50, 75)))[..., 3].sum()
    assert half == pytest.approx(whole / 2, rel=0.03)
    assert moved == pytest.approx(half, rel=0.02)


def test_an_outline_draws_itself_on():
    part = shape(fill=Solid("#FFFFFF00"), outline=Outline(6, "middle", "round", Solid("#FFFFFF")), way_in=(READY_MOVES["draws on"],))
    inks = [int(picture(part, frame=f)[..., 3].sum()) for f in (0, 3, 8, 20, 60)]
    assert inks[0] == 0
    assert inks == sorted(inks)
    assert inks[3] == inks[4]


def test_a_shadow_is_the_parts_own_shape_moved():
    made = picture(shape(shadows=(Shadow(30, 20, 0, "#000000FF"),)))
    assert made[160, 320].tolist() == [0, 0, 0, 255]
    assert made[60, 110].tolist() == [255, 255, 255, 255]
    assert made[40, 320, 3] == 0


def test_a_blur_is_a_gaussian_of_half_its_width():
    """Along a straight edge a Gaussian blur is the normal distribution: CSS says its deviation is half the blur's width."""
    from scipy.stats import norm

    made = picture(shape(blur=20))[100, 60:140, 3] / 255
    wanted = norm.cdf(np.arange(60, 140) + 0.5, loc=100, scale=10)
    assert np.abs(made - wanted).max() < 0.03


def test_a_glow_lies_round_the_part():
    made = picture(shape(glow=Glow(20, "#FF0000FF")))
    assert made[100, 92, 0] > 60
    assert made[100, 40, 3] == 0
    assert made[100, 200].tolist() == [255, 255, 255, 255]


def test_opacity_holds_a_parts_layers_together():
    part = shape(fill=Solid("#FF0000"), outline=Outline(20, "inside", "miter", Solid("#0000FF")), opacity=50)
    made = picture(part)
    assert made[100, 110].tolist() == pytest.approx([0, 0, 128, 128], abs=1.5)
    assert made[100, 200].tolist() == pytest.approx([128, 0, 0, 128], abs=1.5)


@given(st.floats(0, 40), st.floats(-60, 60), st.floats(0, 60), st.sampled_from(["below", "above", "left", "right"]))
@settings(max_examples=40, deadline=None)
def test_out_of_the_matte_takes_outline_and_shadow_along(width, offset, blur, side):
    parts = (
        ShapePart(id="plate", name="Plate", fit=Fit(("t",)), across=None, down=None),
        TextPart(
            id="t", name="T", text="Tide", size=60, across=Place(gap=130), down=Place(gap=60), mattes=(Matte("plate"),),
            outline=Outline(width), shadows=(Shadow(offset, -offset, blur),),
            way_in=(Move(travel="out of the matte", side=side, by="character", frames=10),),
        ),
    )  # fmt: skip
    made = picture(*parts, frame=0)
    bare = picture(edits.replace(parts[0]), edits.replace(parts[1], opacity=0.0), frame=0)
    assert np.array_equal(made, bare)


def test_a_mattes_picture_minds_no_paint_of_its_source():
    def made(**look):
        plate = ShapePart(id="plate", name="Plate", fit=Fit(("t",)), across=None, down=None, corner=20, **look)
        text = TextPart(id="t", name="T", text="MMM", size=90, across=Place(gap=60), down=Place(gap=40), mattes=(Matte("plate"),))
        return picture(edits.replace(plate, opacity=0), text, frame=60)

    plain = made()
    for look in ({"fill": Linear()}, {"blur": 30.0}, {"outline": Outline(20)}, {"glow": Glow(), "shadows": (Shadow(),)}):
        assert np.array_equal(plain, made(**look))


@pytest.mark.parametrize("place", [(0.0, 0.0), (40.0, 980.0), (1500.0, 900.0)])
@pytest.mark.parametrize("angle", [13.0, 100.0, -160.0])
def test_a_wipe_along_an_angle_opens_all_of_a_small_part_wherever_it_lies(book, place, angle):
    """Half open it shows half of the part's area, and what it shows lies on the near side of one straight edge."""
    move = Move(opened=0, opens_from="an angle", opens_angle=angle, opens_soft=0, frames=20, ease=READY_EASES["even"])
    part = ShapePart(id="bar", name="Bar", width=300.0, height=60.0, corner=0.0, fill=Solid("#FFFFFF"), across=Place(gap=place[0]),
                     down=Place(gap=place[1]), way_in=(move,))  # fmt: skip
    scene = Scene(Template(parts=(part,), length=100, way_in=20, way_out=20), book)
    half, whole = (scene.picture(frame)[..., 3] > 127 for frame in (10, 50))
    assert half.sum() / whole.sum() == pytest.approx(0.5, abs=0.03) and not (half & ~whole).any()
    rows, columns = np.nonzero(whole)
    along = columns * math.cos(math.radians(angle)) + rows * math.sin(math.radians(angle))
    shown = half[rows, columns]
    assert along[shown].max() <= along[~shown].min() + 1.5
