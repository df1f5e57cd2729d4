"""Each check finds a template that has just its fault, with its size; and none of the demo's samples breaks."""

import msgspec
import numpy as np
import pytest
from conftest import DEMO, TEMPLATES, a_share_of, plated
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image, ImageDraw, ImageFont

from avlet.document.editing import edits
from avlet.document.faults.checking import check
from avlet.document.looks.paints import Outline, Shadow, Solid
from avlet.document.parts import Fit, Place, ShapePart, TextPart
from avlet.document.parts.typeset import Room
from avlet.document.starts import blank
from avlet.document.template import Frame, Template
from avlet.document.time.eases import READY_EASES
from avlet.document.time.keys import Key, Keyed
from avlet.document.time.moves import Move, OwnWayOut, StaysToTheEnd
from avlet.layout.areas import frame_area
from avlet.light import luminance
from avlet.paint.scene import Scene
from avlet.review.awkward import Row
from avlet.review.checks import CHECKS
from avlet.review.checks.contrast import contrast_of, ratio
from avlet.review.checks.fine_strokes import thinnest_level_stroke
from avlet.review.checks.flashes import flashes_in
from avlet.review.checks.jumps import jumps_in
from avlet.review.checks.reading import seconds_to_read
from avlet.review.looked import Looked
from avlet.review.proof import checks_named, prove
from avlet.storage.package import open_template
from avlet.text.fonts import bundled_fonts

RISES = Move(y=60.0, opacity=0.0, frames=20)


replace = msgspec.structs.replace


def looked(template, **more):
    return Looked(Scene(check(template), bundled_fonts(), **more), "As designed")


def found(template, *ids, **more):
    """What all checks, or some, find: level, check, part."""
    one = looked(template, **more)
    return [f for c in CHECKS if not ids or c.id in ids for f in c.run(one)]


def kinds(findings):
    return {(f.level, f.check, f.part_id) for f in findings if f.level != "told"}


def text(part_id="name", words="Odalys Brandt", **more):
    plain = {
        "size": 80.0,
        "across": Place("frame", gap=300.0),
        "down": Place("frame", gap=400.0),
        "way_in": (RISES,),
        "fill": Solid("#FFFFFF"),
    }
    return TextPart(id=part_id, name=part_id.capitalize(), text=words, **{**plain, **more})


def template(*parts, **more):
    return Template(**{"parts": parts, "length": 150, "way_in": 25, "way_out": 25, **more})


def test_a_template_without_a_fault_has_no_finding():
    assert found(template(text())) == [] and found(plated()) == []


SOUND = [name for name in TEMPLATES if name != "broken-strap.avlet"]


def broken(name, answers):
    opened = open_template(DEMO / name)
    one = Looked(Scene(opened.template, opened.book, answers), name)
    return [f for c in CHECKS for f in c.run(one) if f.level == "breaks" and c.id != "flashes"]


@pytest.mark.parametrize("name", a_share_of([name for name in SOUND if name != "harbour-depths.avlet"], 2))
def test_the_demo_does_not_break(name):
    assert broken(name, {}) == []


@pytest.mark.soak
@pytest.mark.parametrize("name", SOUND)
def test_no_sample_of_the_demo_breaks(name):
    for sample in open_template(DEMO / name).template.samples:
        assert broken(name, sample.answers) == [], sample.name


def test_the_broken_strap_has_the_faults_that_were_planted():
    opened = open_template(DEMO / "broken-strap.avlet")
    one = Looked(Scene(opened.template, opened.book), "As designed")
    told = {(f.check, f.part_id): f for c in CHECKS for f in c.run(one) if f.level != "told"}
    assert set(told) == {("empty-ends", "rule"), ("early-late", "name"), ("early-late", "rule"), ("inside", "role"), ("contrast", "role")}
    assert told["inside", "role"].amount == pytest.approx(24, abs=3), "but for the side bearing of its M"
    assert told["contrast", "role"].amount < 3
    assert told["early-late", "rule"].last == 5


# One fault each

GREY = ShapePart(id="plate", name="Plate", fit=Fit(("name",)), across=None, down=None, fill=Solid("#DDDDDD"), way_in=(Move(opacity=0.0),))
NARROW = Room(width=200.0, remedies=("shrink",), smallest_size=90.0)
FADES = Move(opacity=0.0)
FAULTS = {
    "first and last frame": (text(way_in=(Move(y=60.0, frames=20),)), {("breaks", "empty-ends", "name")}),
    "early": (text(way_in=(Move(y=60.0, frames=10, start=8),)), {("breaks", "empty-ends", "name"), ("breaks", "early-late", "name")}),
    "past the frame": (text(across=Place("frame", gap=1800.0)), {("breaks", "inside", "name")}),
    "past title-safe": (text(across=Place("frame", gap=20.0)), {("breaks", "inside", "name")}),
    "too short": (text(words="one two three four five six seven eight nine ten", size=50.0), {("to look at", "reading", "name")}),
    "small": (text(size=24.0, way_in=(FADES,)), {("to look at", "small-type", "name")}),
    "too long": (text(words="Donaudampfschifffahrtsgesellschaft", room=NARROW), {("breaks", "overlong", "name")}),
    "no glyphs": (text(words="ผู้"), {("breaks", "fonts", "name")}),
    "another font": (text(family="Nowhere Grotesk"), {("breaks", "fonts", "name")}),
    "too fast": (text(way_in=(Move(x=-1800.0, frames=25, ease=READY_EASES["even"]),)), {("to look at", "speed", "name")}),
}  # fmt: skip


@pytest.mark.parametrize("what", FAULTS)
def test_a_fault_is_found_with_its_kind_and_part_and_nothing_else_is(what):
    part, expected = FAULTS[what]
    assert kinds(found(template(part, length=80 if what == "too short" else 150))) == expected


def test_faults_between_parts_are_found():
    two = template(text(), text("role", "Marsh ecologist", down=Place("frame", gap=420.0)))
    (one,) = [f for f in found(two) if f.check == "inside"]
    assert (one.level, one.part_id) == ("breaks", "role") and "Name and Role lie on each other" in one.words and one.amount > 100
    assert kinds(found(template(GREY, text()))) == {("to look at", "contrast", "name")}


def test_what_is_meant_to_cut_is_passed_over():
    assert {f.level for f in found(template(text(way_in=())), "empty-ends")} == {"to look at"}, "it has no way in and no way out: told"
    assert found(template(text(way_out=StaysToTheEnd())), "empty-ends") == []
    (only,) = found(template(text(way_in=(Move(y=60.0, frames=20),), way_out=StaysToTheEnd())), "empty-ends")
    assert (only.first, only.last) == (0, 0) and "first frame" in only.words and only.amount > 1000


def test_words_without_their_plate_are_found_with_the_frames():
    plate = ShapePart(
        id="plate", name="Plate", fit=Fit(("name",)), across=None, down=None, way_in=(Move(opacity=0.0, start=10, frames=10),)
    )
    (early, late) = found(template(plate, text(way_in=(Move(opacity=0.0, frames=10),))), "early-late")
    assert early.part_id == late.part_id == "name" and "before its plate" in early.verdict and "after" in late.verdict
    assert early.last - early.first + 1 == early.amount == pytest.approx(9, abs=1.5) and early.last in (9, 10)


@given(st.integers(1, 300), st.sampled_from(["left", "right", "above", "below"]))
def test_how_far_words_leave_title_safe_is_measured_to_a_px(far, side):
    width, height = 1920, 1080
    safe = frame_area("title-safe", Frame(width, height))
    ink = Looked(Scene(template(text()), bundled_fonts()), "x").scene.rest.parts["name"].ink
    dx, dy = 300 - ink.x, 400 - ink.y  # from where it is placed to its ink
    x = {"left": safe.x - far, "right": safe.right - ink.w + far}.get(side, 800.0) + dx
    y = {"above": safe.y - far, "below": safe.bottom - ink.h + far}.get(side, 500.0) + dy
    findings = found(template(text(across=Place("frame", gap=x), down=Place("frame", gap=y))), "inside")
    beyond_frame = far - {"left": 96, "right": 96, "above": 54, "below": 54}[side]
    (one,) = findings
    expected = beyond_frame if beyond_frame > 0.51 else far
    assert one.level == "breaks" and one.amount == pytest.approx(expected, abs=1.0)


def test_safe_areas_are_those_of_the_standards():
    """SMPTE ST 2046-1 and EBU R 95: title-safe 90 %, action-safe 93 % of width and height, in the middle."""
    assert tuple(frame_area("title-safe", Frame(1920, 1080))) == pytest.approx((96, 54, 1728, 972))
    assert tuple(frame_area("action-safe", Frame(1920, 1080))) == pytest.approx((67.2, 37.8, 1785.6, 1004.4))


# Jumps


def test_a_step_that_is_four_times_its_neighbours_is_a_jump():
    steps = np.array([[5.0], [5.0], [21.0], [5.0], [5.0]])
    assert jumps_in(steps, 12.0).any() and not jumps_in(steps, 22.0).any()
    steps[2] = 19.9
    assert not jumps_in(steps, 12.0).any(), "not quite four times"
    assert not jumps_in(np.array([[50.0], [5.0], [5.0]]), 12.0).any(), "what begins is no jump"
    assert not jumps_in(np.array([[np.nan], [50.0], [5.0], [5.0]]), 12.0).any(), "what was not seen before is no jump"


@settings(max_examples=25)
@given(st.integers(30, 120), st.floats(100.0, 900.0))
def test_a_key_that_leaps_is_found_at_its_frame_and_size(frame, far):
    keys = Keyed("across.gap", (Key(0.0, 0.0), Key(float(frame), 0.0), Key(float(frame) + 1e-3, float(far))), "added")
    made = template(text(across=Place("frame", gap=200.0), keys=(keys,)))
    (one,) = [f for f in found(made, "jumps") if f.check == "jumps"]
    assert one.amount == pytest.approx(far, abs=1.0) and abs(one.first - frame) <= 1 and one.part_id == "name"


def test_what_goes_in_steps_is_no_jump():
    assert found(template(text(way_in=(Move(y=300.0, frames=20, ease=READY_EASES["in one step"]),))), "jumps") == []


# Reading


def test_reading_takes_as_long_as_its_source_says():
    """BBC subtitle guidelines, from memory: 160 to 180 words a minute."""
    assert seconds_to_read(160, 500) == pytest.approx(60.0) and seconds_to_read(9, 40) == pytest.approx(3.375)
    (one,) = found(template(text(words="one two three four five six seven eight nine ten"), length=80), "reading")
    assert one.amount == pytest.approx(3.75) and "10 words" in one.words and 1.0 < one.limit < 3.0


# Contrast: WCAG 2.2, SC 1.4.3


@pytest.mark.parametrize(
    ("one", "other", "expected"), [("#000000", "#FFFFFF", 21.0), ("#767676", "#FFFFFF", 4.54), ("#777777", "#FFFFFF", 4.48), ("#0000FF", "#FFFFFF", 8.59)]
)  # fmt: skip
def test_contrast_has_the_values_that_are_known(one, other, expected):
    """21 is in the definition; the others are worked examples that go round, from memory."""
    rgb = [np.array([list(bytes.fromhex(c[1:]))]) / 255 for c in (one, other)]
    assert float(ratio(*(luminance(c) for c in rgb))[0]) == pytest.approx(expected, abs=0.01)


def test_contrast_is_measured_on_what_is_really_behind():
    plate = ShapePart(id="plate", name="Plate", fit=Fit(("name",)), across=None, down=None, fill=Solid("#767676"), way_in=(RISES,))
    one = looked(template(plate, text()))
    frame = one.still_frames["name"][0]
    value, on_plate, _ = contrast_of(one.alone("name", frame), one.behind("name", frame))
    assert on_plate and value == pytest.approx(4.54, abs=0.02)
    half = ShapePart(
        id="over", name="Over", width=2000.0, height=2000.0, fill=Solid("#FFFFFFE6"), across=Place("frame"), down=Place("frame")
    )
    (worse,) = found(template(plate, half, text()), "contrast")
    assert worse.amount < 1.5 and "what lies behind it" in worse.words
    assert found(template(plate, text(), half), "contrast") == [], "what lies before it is not behind it"


def test_words_over_footage_need_to_stand_out_from_black_or_white():
    assert found(template(text(fill=Solid("#FFFFFF"))), "contrast") == [] == found(template(text(fill=Solid("#000000"))), "contrast")
    (one,) = found(template(text(fill=Solid("#FFFFFF22"))), "contrast")
    assert "over any footage" in one.words


# Flashes: WCAG 2.2, SC 2.3.1


def film(flashes, area=0.3, high=(1.0, 1.0, 1.0), low=(0.0, 0.0, 0.0), seconds=2, rate=24):
    """Pictures in which part of the picture goes up and down so many times a second."""
    pictures = np.zeros((seconds * rate, 30, 40, 3)) + np.array(low)
    columns = round(40 * area)
    for frame in range(len(pictures)):
        if int(frame / rate * flashes * 2) % 2:
            pictures[frame, :, :columns] = high
    return pictures


@pytest.mark.parametrize(("flashes", "expected"), [(2, 2), (3, 3), (4, 4)])
def test_flashes_are_counted_as_they_were_made(flashes, expected):
    assert flashes_in(film(flashes), 24.0)[0] == expected
    assert flashes_in(film(flashes, area=0.2), 24.0)[0] == 0, "under a quarter of the picture"


def test_small_and_bright_changes_are_no_flashes_and_red_ones_are():
    assert flashes_in(film(4, high=(0.3, 0.3, 0.3)), 24.0)[0] == 0, "less than a tenth of relative luminance"
    assert flashes_in(film(4, high=(1.0, 1.0, 1.0), low=(0.95, 0.95, 0.95)), 24.0)[0] == 0, "the darker is bright"
    dull, red = (0.2, 0.2, 0.2), (0.62, 0.0, 0.0)
    assert flashes_in(film(4, high=red, low=dull), 24.0)[0] == 4, "a saturated red, though hardly brighter"
    assert flashes_in(film(4, high=(0.35, 0.3, 0.3), low=dull), 24.0)[0] == 0


def test_a_title_that_flashes_breaks():
    keys = tuple(Key(float(n), 100.0 if n % 4 < 2 else 0.0) for n in range(30, 100))
    sheet = ShapePart(id="sheet", name="Sheet", width=1920.0, height=1080.0, fill=Solid("#FFFFFF"), way_in=(Move(opacity=0.0),),
                      keys=(Keyed("opacity", keys, "instead"),))  # fmt: skip
    (one,) = found(template(sheet), "flashes")
    assert one.level == "breaks" and one.amount == pytest.approx(6, abs=1) and one.limit == 3
    assert found(template(msgspec.structs.replace(sheet, width=400.0)), "flashes") == []


# Strokes and type, against FreeType's rasters


def drawn(stroke, size=60):
    """A letter-like bar of a thickness, as anti-aliased coverage."""
    alpha = np.zeros((size, size))
    whole, rest = divmod(stroke, 1)
    alpha[20 : 20 + int(whole), 5:-5] = 1.0
    alpha[20 + int(whole), 5:-5] = rest
    alpha[:, 30:34] = 1.0
    return alpha


@given(st.floats(0.8, 6.0))
def test_level_strokes_are_measured_to_a_tenth_of_a_px(stroke):
    assert thinnest_level_stroke(drawn(stroke)) == pytest.approx(stroke, abs=0.1)


def test_strokes_are_those_of_another_rasteriser():
    face, _ = bundled_fonts().find("Inter", "Regular")
    font = ImageFont.truetype(str(face.path), 40)
    image = Image.new("L", (400, 80))
    ImageDraw.Draw(image).text((10, 10), "ETHFLZ", fill=255, font=font)
    theirs = thinnest_level_stroke(np.asarray(image) / 255.0)
    one = looked(template(text(words="ETHFLZ", family="Inter", style="Regular", size=40.0)))
    ours = thinnest_level_stroke(one.alone("name", one.still_frames["name"][0])[..., 3] / 255.0)
    assert ours == pytest.approx(theirs, abs=0.6)


def test_fine_strokes_matter_while_type_moves_up_or_down():
    fine = text(words="ETHFLZ", family="Inter", style="Regular", size=22.0)
    (told,) = found(template(fine), "fine-strokes")
    one = looked(template(fine))
    whole = one.alone("name", one.still_frames["name"][0])[..., 3] / 255.0
    assert told.check == "fine-strokes" and told.amount == pytest.approx(thinnest_level_stroke(whole)), "as in the whole frame"
    assert one.motion("name")[0] is one.motion("name")[0] and not one.motion("name")[0].flags.writeable, "worked out once for all checks"
    across = text(words="ETHFLZ", family="Inter", style="Regular", size=22.0, way_in=(Move(x=60.0, opacity=0.0, frames=20),))
    assert found(template(across), "fine-strokes") == []
    assert found(template(text(words="ETHFLZ", family="Inter", style="Bold", size=90.0)), "fine-strokes") == []


def test_the_height_of_capitals_is_that_of_the_font():
    (one,) = found(template(text(words="HE", family="Inter", style="Regular", size=24.0)), "small-type")
    face, _ = bundled_fonts().find("Inter", "Regular")
    box = ImageFont.truetype(str(face.path), 240).getbbox("H")
    assert one.amount == pytest.approx((box[3] - box[1]) / 10, abs=0.15) and one.limit == pytest.approx(21.6)


def test_every_check_says_its_limit_and_what_holds():
    assert len({c.id for c in CHECKS}) == len(CHECKS) == 13
    assert all(c.name and c.holds and c.limit for c in CHECKS)


def test_what_has_no_way_in_or_out_is_told_as_standing_there():
    """Told, and not broken; a ground and what is said to stay are meant so. Counted by the picture's own px."""
    box = ShapePart(id="s", name="Box", width=1736, height=100)
    template = edits.add_part(blank(), box)
    found = prove(template, bundled_fonts(), checks_named(["empty ends"]), [Row("As designed")], workers=0).findings
    assert [(f.level, f.first, f.amount) for f in found] == [("to look at", 0, 173_600), ("to look at", 124, 173_600)]
    assert found[0].words == "Box stands on the first frame: 173,600 px. It has no way in." and "no way out" in found[1].words
    stays = edits.replace(box, way_out=StaysToTheEnd())
    ground = edits.replace(box, width=1920, height=1080)
    moved = edits.replace(box, way_in=(Move(opacity=0.0, frames=10),))
    for part, frames in ((stays, [0]), (ground, []), (moved, []), (edits.replace(moved, way_out=OwnWayOut()), [124])):
        changed = edits.add_part(blank(), part)
        proof = prove(changed, bundled_fonts(), checks_named(["empty ends"]), [Row("As designed")], workers=0)
        assert [f.first for f in proof.findings] == frames and all(f.level == "to look at" for f in proof.findings), part


def test_a_shade_so_soft_that_it_has_no_edge_is_no_plate():
    """A plate may not come later than its words; a dusk behind them may."""
    fit = Fit(("name",), "line box", 40.0, 40.0, 40.0, 40.0)
    shade = ShapePart(
        id="shade", name="Shade", fit=fit, across=None, down=None, fill=Solid("#101418"), way_in=(Move(opacity=0.0, frames=10, start=12),)
    )
    sharp, soft = (found(template(replace(shade, blur=blur), text()), "early-late") for blur in (4.0, 160.0))
    assert next(f.verdict for f in sharp) == "shows before its plate" and soft == []


@pytest.mark.parametrize(("fill", "shadows", "early"), [("#FFFFFF00", (), False), ("#FFFFFF", (), True), ("#FFFFFF00", (Shadow(),), True)])
def test_an_outline_that_is_not_drawn_yet_does_not_show(fill, shadows, early):
    move = Move(drawn=0.0, frames=10, start=8)
    part = text(fill=Solid(fill), outline=Outline(3.0), shadows=shadows, way_in=(move,))
    assert any(f.check == "early-late" for f in found(template(part), "early-late")) == early
    filled = text(fill=Solid("#FFFFFF"), outline=Outline(3.0), way_in=(replace(move, fills_after=True),))
    assert not found(template(filled), "early-late")


def test_an_outline_that_repeats_words_is_asked_nothing_and_one_with_other_words_is():
    name = text(size=90.0)
    echo = text(
        "echo",
        fill=Solid("#FFFFFF00"),
        outline=Outline(2.0, fill=Solid("#303030")),
        size=90.0,
        across=Place("frame", gap=309.0),
        down=Place("frame", gap=409.0),
    )
    assert kinds(found(template(echo, name))) == kinds(found(template(name)))
    other = replace(echo, text="Odalys B.")
    assert "inside" in {f.check for f in found(template(other, name))}
    assert [i for i, _ in looked(template(echo, name)).words] == ["name"] and len(looked(template(other, name)).words) == 2
