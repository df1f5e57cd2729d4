"""Small facts that nothing else held: each checked against a published source, another library, or sums worked out here."""

import math
from io import BytesIO

import numpy as np
import opentimelineio as otio
import pytest
import skia
from conftest import plated
from fontTools.pens.boundsPen import BoundsPen
from fontTools.ttLib import TTFont
from PIL import ImageColor
from PyQt6.QtCore import Qt

from avlet.document.cards import carding
from avlet.document.cards.wires import Range, Wire
from avlet.document.cut import Cut, PictureClip, Title
from avlet.document.editing import edits, keying
from avlet.document.editing.resizing import resized
from avlet.document.fields import FontChoice, FontField, NumberField
from avlet.document.looks.paints import Shadow
from avlet.document.parts import Fit, Matte, Place, Room, ShapePart, TextPart
from avlet.document.template import Frame, Template
from avlet.document.time.keys import Key, Keyed
from avlet.document.time.moves import Move, Sway, Tie
from avlet.geometry import Box
from avlet.kept_lately import KeptLately
from avlet.layout.bind import bind
from avlet.layout.snapping import EqualGap, snap
from avlet.media.planes import VP9, fill_planes
from avlet.media.timeline import write_cut
from avlet.motion.keyed import value_at
from avlet.paint.painter import new_pixels
from avlet.paint.scene import Scene
from avlet.review.samples import findings
from avlet.storage.embedding import fonts_to_carry
from avlet.text.fonts import bundled_fonts
from avlet.text.marking import styled_lines
from avlet.text.runs import split_runs
from avlet.text.setting import set_text
from avlet.text.units import grapheme_starts


def font_of(family: str, style: str) -> TTFont:
    face, exact = bundled_fonts().find(family, style)
    assert exact
    return TTFont(BytesIO(face.data))


def text(words: str, **changes) -> TextPart:
    return TextPart(id="a", name="A", text=words, **changes)


# Words


@pytest.mark.parametrize(("family", "style"), [("Fira Sans", "Bold"), ("Inter", "Regular"), ("Noto Sans CJK JP", "Bold")])
@pytest.mark.parametrize("leading", [80.0, 120.0, 200.0])
def test_a_line_has_its_leading_half_above_and_half_below(family, style, leading):
    """CSS Inline Layout 3, section 5.2: half-leading; ascent and descent as fontTools reads them from OS/2 or hhea."""
    styles = bundled_fonts().styles(family)
    font = font_of(family, style if style in styles else styles[0])
    os2, hhea, upem = font["OS/2"], font["hhea"], font["head"].unitsPerEm
    typographic = bool(os2.fsSelection & (1 << 7))
    ascent = os2.sTypoAscender if typographic else hhea.ascent
    descent = -(os2.sTypoDescender if typographic else hhea.descent)
    setting = set_text(text("Tide\nTide", family=family, style=style if style in styles else styles[0], leading=leading), bundled_fonts())
    half = (100 * leading / 100 - (ascent + descent) / upem * 100) / 2
    assert [line.baseline for line in setting.lines] == pytest.approx([half + ascent / upem * 100, half + ascent / upem * 100 + leading])


def test_an_ellipsis_where_the_room_is_one_line_high():
    room = Room(width=400, height=130, remedies=("wrap", "ellipsis"))
    setting = set_text(text("The keepers of the north sluice", room=room), bundled_fonts())
    assert len(setting.lines) == 1 and not setting.overflows
    assert "ends in an ellipsis" in setting.remarks
    lower = set_text(
        text("The keepers of the north sluice", room=Room(width=400, height=119, remedies=("wrap", "ellipsis"))), bundled_fonts()
    )
    assert len(lower.lines) == 1 and lower.overflows  # a line is 120 px high


def test_a_slanted_face_comes_before_one_as_heavy():
    """Fira Sans has no bold italic here: what was slanted stays slanted."""
    face, exact = bundled_fonts().find("Fira Sans", "Bold Italic")
    assert not exact and face.italic and face.style == "Italic"
    upright, _ = bundled_fonts().find("Fira Sans", "Heavy")
    assert not upright.italic


@pytest.mark.parametrize(("words", "scripts"), [
    ("“नमस्ते”", ["Deva"]), ("(ياسمين)", ["Arab"]), ("1. 渡辺 1", ["Hani"]), ("«Tide»", ["Latn"]), ("… Ünder", ["Latn"]),
])  # fmt: skip
def test_leading_signs_take_the_script_of_the_words_behind_them(words, scripts):
    """UAX #24, section 5.1: characters of the script Common at the begin of a text go with what follows."""
    line = styled_lines(text(words), bundled_fonts())[0]
    runs = split_runs(line, grapheme_starts(words), bundled_fonts(), rtl=False)
    assert {run.script for run in runs.runs} == set(scripts)


def test_ink_lies_where_the_glyphs_own_outlines_say():
    """fontTools' bounds of the glyph at its place on the baseline."""
    font = font_of("Fira Sans", "Bold")
    setting = set_text(text("Q"), bundled_fonts())
    pen = BoundsPen(font.getGlyphSet())
    font.getGlyphSet()[font.getBestCmap()[ord("Q")]].draw(pen)
    left, bottom, right, top = (v / font["head"].unitsPerEm * 100 for v in pen.bounds)
    at = setting.lines[0].baseline
    assert setting.ink_box == pytest.approx((left, at - top, right - left, top - bottom), abs=0.2)


# Wires


def test_a_wire_from_the_lower_edge_brings_the_lower_edge():
    template = edits.add_part(plated(), ShapePart(id="b", name="B", width=10, height=10, across=Place(gap=0), down=Place(gap=0)))
    template = carding.wire_up(template, "plate/rest.bottom", "b/down.gap")
    rest = Scene(template, bundled_fonts()).rest.parts
    assert rest["b"].box.y == pytest.approx(rest["plate"].box.y + rest["plate"].box.h)
    right = Scene(carding.wire_up(template, "plate/rest.right", "b/across.gap"), bundled_fonts()).rest.parts
    assert right["b"].box.x == pytest.approx(right["plate"].box.x + right["plate"].box.w)


@pytest.mark.parametrize(("answer", "opacity"), [(-10, 0), (0, 0), (50, 75), (100, 100), (400, 100)])
def test_a_wired_number_is_held_at_both_limits(answer, opacity):
    field = NumberField(id="n", label="N", default=0.0)
    template = carding.add_field(edits.set_property(plated(), "plate/opacity", 30), field)
    template = edits.replace(template, wires=(Wire("n", "plate/opacity", Range(0, 100, 0, 150, clamp=False)),))
    assert bind(template, {"n": answer}).parts[0].opacity == opacity


# Time


@pytest.mark.parametrize("later", [-4.0, 0.0, 6.0])
def test_ending_with_another_part_keeps_its_offset(later):
    first = ShapePart(id="a", name="A", way_in=(Move(opacity=0, frames=20, start=5),))
    second = ShapePart(id="b", name="B", way_in=(Move(opacity=0, frames=8, tie=Tie("a", "ending with it", later)),))
    scene = Scene(Template(parts=(first, second), length=100, way_in=40, way_out=40), bundled_fonts())
    times = scene.choreography.timings["b"].way_in[0]
    assert (times.start, times.end) == (25 + later - 8, 25 + later)


def test_a_sway_turns_to_the_side_that_its_sign_says():
    """Positive turns clockwise, as y goes down: the right end of a level bar goes down."""
    bar = ShapePart(id="a", name="A", width=400, height=10, across=Place("frame", "middle", "middle"), down=Place("frame", "middle", "middle"),
                    sways=(Sway("drifts", turn=20.0),))  # fmt: skip
    scene = Scene(Template(parts=(bar,), length=101, way_in=0, way_out=0), bundled_fonts())
    picture = scene.picture(100)
    columns = np.flatnonzero(picture[..., 3].any(axis=0))
    right, left = (np.flatnonzero(picture[:, c, 3]).mean() for c in (columns[-10], columns[10]))
    assert right - left == pytest.approx(380 * math.sin(math.radians(20)), abs=6)


def test_a_keyed_size_without_a_place_grows_from_the_middle():
    template = plated()
    plate = edits.replace(
        template.part("plate"),
        fit=Fit(("name",), axes="width"),
        height=100.0,
        way_in=(),
        keys=(Keyed("height", (Key(0, 100.0), Key(10, 300.0))),),
    )
    scene = Scene(edits.put_part(template, plate), bundled_fonts())
    before, after = (scene.pose(frame).parts["plate"].outline_box for frame in (0, 10))
    assert (before.h, after.h) == (100, 300)
    assert after.middle == pytest.approx(before.middle)


def test_a_soft_wipe_ends_wholly_open_and_begins_wholly_shut():
    for opens_from in ("left", "right", "above", "below", "the middle", "an angle"):
        move = Move(opened=0.0, opens_from=opens_from, opens_soft=60.0, frames=20)
        bar = ShapePart(id="a", name="A", width=400, height=200, across=Place(gap=100), down=Place(gap=100), way_in=(move,))
        plain = edits.replace(bar, way_in=())
        wiped, whole = (
            Scene(Template(frame=Frame(600, 400), parts=(p,), length=60, way_in=20, way_out=20), bundled_fonts()) for p in (bar, plain)
        )
        assert not wiped.picture(0).any()
        posed = wiped.pose(19)
        from avlet.paint.moved_looks import _soft_shader

        area = Box(100, 100, 400, 200)
        mask = skia.Surface(600, 400)
        for opened, level in ((1.0, 255), (0.0, 0)):
            canvas = mask.getCanvas()
            canvas.clear(0)
            canvas.drawRect(skia.Rect.MakeXYWH(*area), skia.Paint(Shader=_soft_shader(posed.parts["a"].wipe, area, opened)))
            alpha = mask.toarray()[101:299, 101:499, 3]
            if level:
                assert alpha.min() >= 250, opens_from
            else:
                assert (alpha <= 8).mean() > 0.97, opens_from
        assert np.array_equal(wiped.picture(30), whole.picture(30))


def test_a_kept_blur_lies_where_the_words_lie_between_two_px(monkeypatch):
    """A soft layer that is kept as a picture against the same one painted anew, at places off the grid of px."""
    from avlet.paint import kept_soft

    never = KeptLately(0, lambda _: 1)
    monkeypatch.setattr(never, "put", lambda _, value: value)
    for gap in (100.0, 100.25, 100.5, 100.75):
        part = text("Tide", shadows=(Shadow(0, 8, 1.0),), across=Place(gap=gap), down=Place(gap=100))
        scene = Scene(Template(frame=Frame(600, 400), parts=(part,), length=20), bundled_fonts())
        kept = scene.picture(5).astype(int)
        with monkeypatch.context() as patch:
            patch.setattr(kept_soft, "LARGEST", 0)  # nothing can be kept
            patch.setattr(kept_soft, "_kept", never)
            anew = scene.picture(5).astype(int)
        assert np.abs(kept - anew).max() <= 2, gap


def test_keys_the_other_way_round_are_the_curve_the_other_way_round():
    """f(t) becomes f(−t): values change places, slopes change sign and side."""
    keyed = Keyed("turn", (Key(0, 0.0, slope_out=3.0), Key(20, 40.0, slope_in=-1.0, slope_out=2.0), Key(40, 10.0, slope_in=0.5)))
    part = ShapePart(id="a", name="A", keys=(keyed,))
    template = Template(parts=(part,), length=101, way_in=40, way_out=40)
    back = keying.keyed_of(keying.reversed_keys(template, "a", "turn").part("a"), "turn")
    spans = Scene(template, bundled_fonts()).spans
    for frame in range(0, 101):
        assert value_at(back, spans, frame) == pytest.approx(value_at(keyed, spans, 100 - frame), abs=1e-9)


# Films and cuts


def test_colour_at_half_size_is_weighed_by_alpha():
    """A red pixel beside empty ones keeps its own Cb and Cr (BT.709-6, item 3.3), worked out by Pillow's colour and the matrix here."""
    pixels = new_pixels(4, 2)
    pixels[0, 0] = (200, 30, 40, 255)
    pixels[1, 1] = (0, 0, 0, 0)
    pixels[0, 1] = (10, 20, 60, 80)  # premultiplied: a blue that is less there
    planes = [np.full(shape, nothing, VP9.dtype) for shape, nothing in zip(VP9.shapes(4, 2), VP9.empty, strict=True)]
    fill_planes(pixels, planes, VP9)
    red = np.array(ImageColor.getrgb("rgb(200, 30, 40)"), float)
    blue = np.array([10, 20, 60], float) * 255 / 80

    def chroma(rgb):
        y = rgb @ [0.2126, 0.7152, 0.0722]
        return np.array([(rgb[2] - y) / 1.8556, (rgb[0] - y) / 1.5748]) * 224 / 255 + 128

    wanted = (chroma(red) * 255 + chroma(blue) * 80) / 335
    assert [planes[1][0, 0], planes[2][0, 0]] == pytest.approx(wanted, abs=1)
    assert [planes[1][0, 1], planes[2][0, 1]] == [128, 128]


def test_what_a_clip_has_to_offer_reaches_from_its_first_frame_to_its_last(tmp_path):
    """OpenTimelineIO: a source range lies within the available range of the media."""
    cut = Cut("C", Frame(), (PictureClip("tide flats", 100, "", 30),), (Title("a", "x.avlet", 10, 50),))
    write_cut(cut, tmp_path / "c.otio")
    timeline = otio.adapters.read_from_file(str(tmp_path / "c.otio"))
    for clip in timeline.find_clips():
        available, source = clip.available_range(), clip.source_range
        assert available.start_time.value == 0
        assert available.start_time <= source.start_time
        assert available.duration.value == source.start_time.value + source.duration.value


def test_fonts_that_the_card_offers_travel_with_the_template():
    field = FontField(
        id="face",
        label="Face",
        default="Fira Sans Bold",
        fonts=(FontChoice("Fira Sans", "Bold"), FontChoice("Inter", bundled_fonts().styles("Inter")[0])),
    )
    template = carding.wire_up(carding.add_field(plated(), field), "face", "name/family")
    families = {face.family for face in fonts_to_carry(template, bundled_fonts()).faces}
    assert {"Fira Sans", "Inter"} <= families
    assert "Inter" not in {face.family for face in fonts_to_carry(plated(), bundled_fonts()).faces}


# Looking and dragging


def test_what_a_part_is_hidden_inside_of_does_not_save_it_from_leaving_the_frame():
    window = ShapePart(id="w", name="Window", width=100, height=100, across=Place(gap=0), down=Place(gap=0))
    far = ShapePart(id="far", name="Far", width=500, height=50, across=Place(gap=1800), down=Place(gap=10))
    hidden = edits.replace(far, mattes=(Matte("w", hides=True),))
    shown = edits.replace(far, mattes=(Matte("w"),))
    assert [f.part_id for f in findings(Scene(Template(parts=(window, hidden)), bundled_fonts()))] == ["far"]
    assert findings(Scene(Template(parts=(window, shown)), bundled_fonts())) == []


@pytest.mark.parametrize(("off", "caught"), [(5.9, True), (6.0, True), (6.1, False), (-6.1, False), (-6.0, True)])
def test_equal_gaps_catch_as_far_as_edges_do_and_no_further(off, caught):
    row = [Box(0, 0, 100, 50), Box(230, 0, 100, 50)]
    found = snap(Box(460 + off, 7, 71, 31), row, ((), ()), 6.0)
    gaps = [c for c in found.caught if isinstance(c, EqualGap)]
    assert bool(gaps) == caught
    if caught:
        assert found.dx == pytest.approx(-off)


def test_the_playhead_stays_between_the_first_and_the_last_frame(window, qtbot):
    session = window.session
    for frame, kept in ((-5, 0), (10**9, session.template.length - 1), (session.template.length, session.template.length - 1), (7, 7)):
        session.go_to(frame)
        assert session.frame == kept
    window.build.stage.setFocus()
    for _ in range(3):
        qtbot.keyClick(window.windowHandle(), Qt.Key.Key_End)
        qtbot.keyClick(window.windowHandle(), Qt.Key.Key_Right)
    assert session.frame == session.template.length - 1
    qtbot.keyClick(window.windowHandle(), Qt.Key.Key_Home)
    qtbot.keyClick(window.windowHandle(), Qt.Key.Key_Left)
    assert session.frame == 0


@pytest.mark.parametrize("mine", ["start", "middle", "end"])
@pytest.mark.parametrize(("sides", "dx", "dy"), [((1, 0), 40, 25), ((-1, 0), 40, 25), ((0, 1), 40, 25), ((0, -1), 40, 25)])
def test_a_middle_edge_pulls_its_own_axis_alone(mine, sides, dx, dy):
    part = ShapePart(
        id="s", name="S", width=200, height=100, across=Place("frame", mine, "middle", 12), down=Place("frame", mine, "middle", -8)
    )
    before = Scene(Template(parts=(part,)), bundled_fonts()).rest.parts["s"].box
    template = Template(parts=(part,))
    for target, value in resized(part, before, sides, dx, dy).items():
        template = edits.set_property(template, target, value)
    after = Scene(template, bundled_fonts()).rest.parts["s"].box
    for axis, held, pull in ((0, sides[0], dx), (1, sides[1], dy)):
        start, end = before[axis], before[axis] + before[axis + 2]
        wanted = (start + (pull if held < 0 else 0), end + (pull if held > 0 else 0))
        assert (after[axis], after[axis] + after[axis + 2]) == pytest.approx(wanted, abs=0.02)
