"""Groups, echoes, turning and scaling about an anchor, and mattes by coverage or brightness."""

import math

import numpy as np
import pytest
from conftest import plated

from avlet.document.editing import edits
from avlet.document.faults.checking import check
from avlet.document.looks.paints import Linear, Solid, Stop
from avlet.document.parts import EchoPart, Fit, GroupPart, Matte, Place, ShapePart, TextPart, members_of
from avlet.document.template import Frame, Template
from avlet.document.time.eases import READY_EASES
from avlet.document.time.moves import Move, OwnWayOut, StaysToTheEnd
from avlet.errors import DocumentError, RelationError
from avlet.geometry import Box
from avlet.motion import transforms
from avlet.paint.scene import Scene, first_alike
from avlet.text.fonts import bundled_fonts

FRAME = Frame(400, 200, "25/1")
EVEN = READY_EASES["even"]


def scene(template, **answers) -> Scene:
    return Scene(template, bundled_fonts(), answers)


def bar(part_id: str, x: float, y: float = 60.0, w: float = 80.0, h: float = 40.0, **values) -> ShapePart:
    given = {"across": Place(gap=x), "down": Place(gap=y), "width": w, "height": h, "fill": Solid("#FF0000"), **values}
    return ShapePart(id=part_id, name=part_id.upper(), **given)


def titled(*parts, **values) -> Template:
    return check(Template(parts=parts, frame=FRAME, length=100, way_in=20, way_out=20, **values))


def grouped(**values) -> Template:
    members = (bar("a", 40, group="both"), bar("b", 100, fill=Solid("#0000FF"), group="both"))
    return titled(*members, GroupPart(id="both", name="Both", **values))


# Groups


def test_a_group_has_the_joint_box_of_its_members_and_can_be_fitted_around_and_placed_on():
    template = grouped()
    plate = ShapePart(id="plate", name="Plate", fit=Fit(("both",), left=10, right=10, top=5, bottom=5), across=None, down=None)
    rule = bar("rule", 0, across=Place("both", "start", "end", 7.0))
    parts = scene(edits.add_part(edits.add_part(template, plate), rule)).rest.parts
    assert parts["both"].box == Box(40, 60, 140, 40)
    assert parts["plate"].box == Box(30, 55, 160, 50)
    assert parts["rule"].box.x == 187


def test_what_a_group_does_its_members_do_to_the_pixel():
    alone = scene(grouped()).picture(50)
    slide = Move(x=30, y=10, ease=EVEN, frames=20)
    moved = scene(grouped(way_in=(slide,), way_out=StaysToTheEnd())).picture(10)
    assert np.array_equal(np.roll(alone, (5, 15), (0, 1)), moved)


def test_a_half_clear_group_shows_no_member_through_another():
    template = grouped(opacity=50.0)
    both, alone = scene(template).picture(50)[80, 110], scene(template).picture(50)[80, 170]
    assert both[3] == alone[3] == pytest.approx(128, abs=1)
    assert both[0] == 0, "no red of the hidden part of A shows under B"


def test_groups_nest_and_fade_together():
    outer = GroupPart(id="outer", name="Outer", opacity=50.0)
    template = edits.add_part(grouped(opacity=50.0, group=None), outer)
    template = check(edits.replace(template, parts=tuple(edits.replace(p, group="outer") if p.id == "both" else p for p in template.parts)))
    assert scene(template).picture(50)[80, 170, 3] == pytest.approx(64, abs=1)
    assert members_of(template.parts, "outer", deep=True) == ["both", "a", "b"]


def test_a_group_is_matted_as_one_and_is_a_matte():
    window = bar("window", 60, 70, 90, 10, shown=False)
    template = edits.set_relations(edits.add_part(grouped(), window, 0), "both", mattes=(Matte("window"),))
    made = scene(template)
    assert made.pose(50).visible_box("both") == Box(60, 70, 90, 10)
    picture = made.picture(50)
    assert picture[75, 60:150, 3].all() and not picture[65].any()
    shown = titled(*grouped().parts, bar("wide", 0, 0, 400, 200, fill=Solid("#00FF00"), mattes=(Matte("both"),)))
    green = scene(shown).picture(50)
    assert green[80, 41:179, 1].min() > 200 and not green[80, 200:, 3].any()


def test_hiding_a_group_hides_its_members_and_what_fits_around_them():
    template = grouped(shown=False)
    plate = ShapePart(id="plate", name="Plate", fit=Fit(("a",)), across=None, down=None)
    made = scene(edits.add_part(template, plate))
    assert not made.picture(50).any()
    assert not made.rest.parts["plate"].present


def test_what_leaves_with_its_group_is_gone_on_the_last_frame():
    made = scene(grouped(way_in=(Move(x=-500, frames=20),)))
    assert not made.picture(99).any() and made.picture(50).any()


@pytest.mark.parametrize(
    ("changes", "words"),
    [
        ({"a": {"group": "nothing"}}, "not a group"),
        ({"both": {"group": "both"}}, "member of itself"),
        ({"both": {"across": Place()}}, "Place those instead"),
    ],
)
def test_groups_that_cannot_be_are_refused_in_words(changes, words):
    template = grouped()
    parts = tuple(edits.replace(p, **changes.get(p.id, {})) for p in template.parts)
    with pytest.raises(DocumentError, match=words):
        check(edits.replace(template, parts=parts))


def test_a_member_placed_on_its_own_group_is_refused_as_a_circle():
    template = edits.set_relations(grouped(), "a", across=Place("both"))
    with pytest.raises(RelationError, match=r"Both holds A|A is placed on Both"):
        scene(template)


def test_duplicating_and_removing_a_group_takes_its_members_along():
    template, copies = edits.duplicate_parts(grouped(), ["both"])
    assert len(template.parts) == 6 and len(copies) == 1
    assert len(members_of(template.parts, copies[0])) == 2
    boxes = {i: tuple(r.box) for i, r in scene(template).rest.parts.items()}
    assert [p.id for p in edits.remove_parts(template, ["both"], boxes).parts] == [*members_of(template.parts, copies[0]), copies[0]]


# Echoes


def test_an_echo_shows_its_original_elsewhere_and_follows_each_change():
    echo = EchoPart(id="echo", name="Echo", of="a", across=Place("a", "start", "end", 20), down=Place("a"))
    template = titled(bar("a", 40, way_in=(Move(opacity=0, frames=20, ease=EVEN),)), echo)
    picture = scene(template).picture(50)
    assert np.array_equal(picture[60:100, 40:120], picture[60:100, 140:220])
    changed = scene(edits.set_property(template, "a/width", 50)).picture(50)
    assert np.array_equal(changed[60:100, 40:90], changed[60:100, 110:160]) and not changed[80, 162:].any()
    assert scene(template).picture(10)[80, 150, 3] == scene(template).picture(10)[80, 50, 3]


def test_an_echo_comes_later_and_goes_earlier():
    echo = EchoPart(id="echo", name="Echo", of="a", across=Place(gap=200), down=Place("a"), later=6)
    made = scene(titled(bar("a", 40, way_in=(Move(x=-300, frames=20, ease=EVEN),)), echo))
    for frame in (0, 4, 10, 19, 30):
        original = made.pose(frame).visible_box("a")
        later = made.pose(frame + 6).visible_box("echo")
        assert later == original.moved(160, 0)
    leaving, earlier = made.pose(90).visible_box("a"), made.pose(84).visible_box("echo")
    assert earlier == leaving.moved(160, 0)
    assert made.pose(99).visible_box("echo") is None
    assert not made.picture(99).any()


def test_an_echo_has_its_own_matte_and_opacity_not_its_originals():
    window, other = bar("w1", 40, 60, 40, 40, shown=False), bar("w2", 240, 60, 20, 40, shown=False)
    original = bar("a", 40, mattes=(Matte("w1"),))
    echo = EchoPart(id="echo", name="Echo", of="a", across=Place(gap=200), down=Place("a"), mattes=(Matte("w2"),), opacity=50.0)
    picture = scene(titled(window, other, original, echo)).picture(50)
    assert picture[80, 40:80, 3].min() == 255 and not picture[80, 81:239].any()
    assert picture[80, 241:259, 3].tolist() == pytest.approx([128] * 18, abs=1)


def test_an_echo_of_a_hidden_group_shows_all_of_it_with_the_mattes_inside():
    window = bar("w", 40, 60, 30, 40, shown=False, group="g")
    parts = (window, bar("a", 40, group="g", mattes=(Matte("w"),)), GroupPart(id="g", name="G", shown=False))
    echo = EchoPart(id="echo", name="Echo", of="g", across=Place(gap=200), down=Place(gap=60))
    made = scene(titled(*parts, echo))
    picture = made.picture(50)
    assert picture[80, 200:230, 3].min() == 255 and not picture[80, 231:].any() and not picture[80, :199].any()
    assert made.pose(50).visible_box("echo").w == 30


def test_an_echo_of_an_echo_and_as_a_matte():
    one = EchoPart(id="one", name="One", of="a", across=Place(gap=150), down=Place("a"))
    two = EchoPart(id="two", name="Two", of="one", across=Place(gap=260), down=Place("a"))
    wide = bar("wide", 0, 0, 400, 200, mattes=(Matte("two"),), fill=Solid("#00FF00"))
    picture = scene(titled(bar("a", 40), one, two, wide)).picture(50)
    assert picture[80, 260:340, 1].min() == 255 and picture[80, 160, 0] == 255 and not picture[80, 345:].any()


def test_echoes_of_themselves_or_of_what_holds_them_are_refused():
    with pytest.raises(DocumentError, match="an echo of itself"):
        titled(EchoPart(id="e", name="E", of="e"))
    with pytest.raises(DocumentError, match="a group that it is in"):
        titled(GroupPart(id="g", name="G"), EchoPart(id="e", name="E", of="g", group="g"))


def test_removing_an_original_removes_its_echoes():
    echo = EchoPart(id="echo", name="Echo", of="a", across=Place(gap=150), down=Place("a"))
    template = titled(bar("a", 40), echo, bar("c", 0, across=Place("echo", gap=5)))
    boxes = {i: tuple(r.box) for i, r in scene(template).rest.parts.items()}
    left = edits.remove_parts(template, ["a"], boxes)
    assert [p.id for p in left.parts] == ["c"] and left.part("c").across == Place(gap=155.0)


# Turning and scaling


def test_turning_about_the_middle_matches_a_rotation_of_the_corners():
    made = scene(titled(bar("a", 100, 60, 80, 40, turn=30.0)))
    angle = math.radians(30)
    width = 80 * math.cos(angle) + 40 * math.sin(angle)
    height = 80 * math.sin(angle) + 40 * math.cos(angle)
    assert made.pose(50).visible_box("a") == pytest.approx(Box(140 - width / 2, 80 - height / 2, width, height))
    assert made.rest.parts["a"].box == Box(100, 60, 80, 40), "others still follow the box without the turn"


def test_a_turned_shape_covers_its_area_and_turns_clockwise():
    picture = scene(titled(bar("a", 100, 60, 80, 40, turn=30.0))).picture(50)
    assert picture[..., 3].sum() / 255 == pytest.approx(80 * 40, rel=0.01)
    ys, xs = np.nonzero(picture[..., 3] > 128)
    assert xs[ys.argmax()] > 140, "the right end hangs lower"


def test_scaling_about_an_anchor_keeps_that_point():
    made = scene(titled(bar("a", 100, 60, 80, 40, scale_x=200.0, scale_y=50.0, anchor_x=0.0, anchor_y=100.0)))
    assert made.pose(50).visible_box("a") == Box(100, 80, 160, 20)


def test_words_turn_too_and_travel_just_out_of_a_turned_matte():
    template = edits.set_property(edits.set_property(plated(), "name/turn", 20.0), "plate/turn", 20.0)
    made = scene(template)
    assert made.pose(5).visible_box("name") is None or made.picture(5)[..., 3].sum() >= 0
    for frame in (0, 3, 5):
        words = titled_only(template, frame)
        assert not words.any(), frame
    assert titled_only(template, 50).any()


def titled_only(template, frame):
    """The picture of the name alone, with the plate as its matte."""
    clear = edits.put_struct(template, "plate", "fill", Solid("#FFFFFF00"))
    return scene(clear).picture(frame, 960, 540)


def test_matrices_agree_with_numpy_written_out():
    point = np.array([[10.0, 20.0]])
    made = transforms.about(point, transforms.turning(90.0))[0] @ np.array([11.0, 20.0, 1.0])
    assert made == pytest.approx([10.0, 21.0, 1.0])
    boxes = transforms.bounds(transforms.translation(3, 4), np.array([[0.0, 0, 2, 1], [np.nan] * 4]))
    assert boxes[0].tolist() == [3, 4, 5, 5] and np.isnan(boxes[1]).all()


# Mattes by coverage and brightness


def test_a_coverage_matte_takes_the_opacity_of_what_its_source_paints():
    fade = Linear((Stop(0, "#000000"), Stop(100, "#00000000")), angle=0)
    source = bar("s", 100, 60, 200, 40, fill=fade, shown=False)
    wide = bar("wide", 0, 0, 400, 200, fill=Solid("#00FF00"), mattes=(Matte("s", by="coverage"),))
    row = scene(titled(source, wide)).picture(50)[80, :, 3].astype(int)
    assert not row[:100].any() and not row[300:].any()
    want = 255 * (1 - (np.arange(200) + 0.5) / 200)
    assert np.abs(row[100:300] - want).max() <= 3, "W3C alpha compositing: destination times source alpha"


def test_a_brightness_matte_takes_rec_709_luma_and_its_opposite_the_rest():
    grey = bar("s", 100, 60, 200, 40, fill=Solid("#808080"), shown=False)
    wide = bar("wide", 0, 0, 400, 200, fill=Solid("#00FF00"), mattes=(Matte("s", by="brightness"),))
    shown = scene(titled(grey, wide)).picture(50)[80, 200, 3]
    hidden = scene(titled(grey, edits.replace(wide, mattes=(Matte("s", by="brightness", hides=True),)))).picture(50)
    assert shown == pytest.approx(128, abs=2) and hidden[80, 200, 3] == pytest.approx(127, abs=2)
    assert hidden[10, 10, 3] == 255
    red = edits.replace(grey, fill=Solid("#FF0000"))
    assert scene(titled(red, wide)).picture(50)[80, 200, 3] == pytest.approx(255 * 0.2126, abs=2), "ITU-R BT.709, item 3.2"


def test_parts_that_are_each_others_coverage_matte_still_paint():
    a = bar("a", 0, 0, 200, 200, mattes=(Matte("b", by="coverage"),))
    b = bar("b", 100, 0, 200, 200, mattes=(Matte("a", by="coverage"),))
    assert scene(titled(a, b)).picture(50).any()


# Sizes and places


def test_a_size_can_be_a_share_of_another_or_of_the_frame():
    same = Fit(("a",), left=0, right=0, top=0, bottom=0)
    half = Fit(("a",), left=0, right=0, top=0, bottom=0, share_width=50.0)
    wide = Fit(("frame",), left=0, right=0, top=0, bottom=0, axes="width", share_width=80.0)
    where = {"across": Place(gap=0), "down": Place(gap=120)}
    parts = scene(
        titled(bar("a", 40), bar("b", 0, fit=same, **where), bar("c", 0, fit=half, across=None, down=None), bar("d", 0, fit=wide, **where))
    ).rest.parts
    assert parts["b"].box == Box(0, 120, 80, 40)
    assert parts["c"].box == Box(60, 60, 40, 40)
    assert parts["d"].box == Box(0, 120, 320, 40)


def test_words_stand_on_another_baseline_whatever_their_sizes():
    big = TextPart(id="big", name="Big", text="Big", size=60, across=Place(gap=20), down=Place(gap=40))
    small = TextPart(
        id="s", name="S", text="small", size=20, across=Place("big", "start", "end", 8), down=Place("big", "baseline", "baseline")
    )
    parts = scene(titled(big, small)).rest.parts
    lines = [parts[i].box.y + parts[i].words.lines[0].baseline for i in ("big", "s")]
    assert lines[0] == pytest.approx(lines[1])
    with pytest.raises(DocumentError, match="Baselines are for up and down"):
        titled(big, edits.replace(small, across=Place("big", "baseline", "end")))


def test_equal_frames_are_found_with_groups_and_echoes():
    echo = EchoPart(id="echo", name="Echo", of="a", across=Place(gap=200), down=Place("a"), later=5)
    alike = first_alike(scene(titled(bar("a", 40, way_in=(Move(x=-300, frames=10),), way_out=OwnWayOut()), echo)))
    assert alike[15:99] == [15] * 84 and alike[12] == 12
