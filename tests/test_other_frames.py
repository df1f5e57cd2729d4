"""A template in another shape of frame: three ways, seen beside each other, rooms inside title-safe, type that can be read."""

import math

import pytest
from conftest import DEMO, TEMPLATES, a_share_of
from hands import in_a_dialog, settle
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QComboBox, QLabel

from avlet.desktop.dialogs.frame_dialog import FrameDialog
from avlet.document.editing.reframing import ratio_between, replaced_in
from avlet.document.faults.checking import check
from avlet.document.house import TextStyle
from avlet.document.parts import Fit, Place, Room, ShapePart, TextPart
from avlet.document.template import Frame, Sample, Template
from avlet.layout.areas import LEAST_CAPITALS
from avlet.layout.other_frame import WAYS, brought_to, in_frame, rooms_within
from avlet.paint.scene import Scene
from avlet.review.samples import not_held, unheld_words
from avlet.storage.package import open_template
from avlet.text.fonts import bundled_fonts

WIDE, TALL, SQUARE = Frame(1920, 1080, "25/1"), Frame(1080, 1920, "25/1"), Frame(1080, 1080, "25/1")
LEFT = Qt.MouseButton.LeftButton


def text(part_id, across, down=None, **values):
    given = {"text": "Odalys Brandt", "size": 80.0, "room": Room(1500.0), **values}
    return TextPart(id=part_id, name=part_id.title(), across=across, down=down or Place("title-safe", "end", "end", -100), **given)


def titled(*parts, **values):
    return check(Template(parts=parts, frame=WIDE, **values))


def capitals(template, part_id="name"):
    return Scene(template, bundled_fonts()).rest.parts[part_id].words.cap_height


@pytest.mark.parametrize(("place", "most"), [
    (Place("title-safe", "start", "start", 50), 972 - 50), (Place("title-safe", "end", "end", -60), 972 - 60), (Place("frame", "start", "start", 100), 1026 - 100),
    (Place("frame", "end", "end", -100), 980 - 54), (Place("frame", "middle", "middle"), 972), (Place("frame", "middle", "middle", 100), 772),
    (Place("title-safe", "start", "end", -200), 200), (Place("action-safe", "start", "middle", 40), 1026 - 580), (Place("frame", "start", "start", 2000), 972),
])  # fmt: skip
def test_a_room_ends_at_title_safe_from_where_the_text_is_placed(place, most):
    """Title-safe of 1080 px is 54 to 1026: SMPTE ST 2046-1, 90 %."""
    made = rooms_within(replaced_in(titled(text("name", place)), TALL))
    assert made.part("name").room.width == most


def test_rooms_follow_what_the_text_is_placed_on():
    head = text("head", Place("title-safe", "start", "start", 50))
    under = text("under", Place("head", "start", "start", 30))
    behind = text("behind", Place("head", "start", "end", 30))
    made = rooms_within(replaced_in(titled(head, under, behind), TALL))
    assert made.part("under").room.width == 972 - 80
    assert made.part("behind").room.width == 972, "where it begins hangs on other words: title-safe as a whole"


def test_heights_are_kept_inside_and_smaller_rooms_stay():
    down = Place("title-safe", "start", "start", 40)
    made = rooms_within(replaced_in(titled(text("name", Place("title-safe"), down, room=Room(400.0, 2000.0))), SQUARE))
    assert (made.part("name").room.width, made.part("name").room.height) == (400, 972 - 40)
    without = replaced_in(titled(text("name", Place("title-safe"), room=None)), TALL)
    assert rooms_within(without).part("name").room is None
    free = rooms_within(replaced_in(titled(text("name", Place("title-safe"), room=Room(0.0))), TALL))
    assert free.part("name").room.width == 0, "no room is none"


def test_three_ways():
    template = titled(text("name", Place("title-safe", gap=60)))
    kept, between, scaled = (brought_to(template, TALL, way, bundled_fonts()) for way in WAYS)
    assert (kept.part("name").size, kept.part("name").across.gap, kept.part("name").room.width) == (80, 60, 912)
    ratio = math.sqrt(1080 / 1920)
    assert between.part("name").size == pytest.approx(80 * ratio) == pytest.approx(60) and between.part("name").across.gap == pytest.approx(
        60 * ratio
    )
    assert between.part("name").room.width == 972 - 45
    assert scaled.part("name").size == pytest.approx(45) and scaled.part("name").room.width == pytest.approx(1500 * 1080 / 1920, abs=0.01)
    assert ratio_between(template, Frame(1280, 720)) == pytest.approx(720 / 1080), "of one shape there is but one ratio"


def test_type_stays_readable_but_grows_no_larger_than_it_was():
    """Capitals of 2 % of the frame's height: 38.4 px of 1920."""
    large, small = titled(text("name", Place("title-safe"), size=64.0)), titled(text("name", Place("title-safe"), size=40.0))
    assert capitals(brought_to(large, TALL, "between both", bundled_fonts())) == pytest.approx(LEAST_CAPITALS * 1920, abs=0.5)
    assert capitals(brought_to(small, TALL, "between both", bundled_fonts())) == pytest.approx(capitals(small), abs=0.5)
    assert capitals(brought_to(large, TALL, "scales as a whole", bundled_fonts())) < LEAST_CAPITALS * 1920


def test_readable_type_is_that_of_its_style():
    style = TextStyle(id="strap", name="Strap", size=64.0)
    template = titled(
        text("name", Place("title-safe"), text_style="strap"), text("role", Place("title-safe"), text_style="strap"), text_styles=(style,)
    )
    made = brought_to(template, TALL, "between both", bundled_fonts())
    assert made.text_styles[0].size > 64 * math.sqrt(1080 / 1920) and capitals(made) == pytest.approx(LEAST_CAPITALS * 1920, abs=0.5)


def test_other_frames_of_cuts_and_rosters_keep_rooms_inside_too():
    assert in_frame(titled(text("name", Place("title-safe", gap=60))), (1080, 1920)).part("name").room.width == 912
    assert in_frame(titled(text("name", Place("title-safe", gap=60))), (960, 540)).part("name").room.width == 750


@pytest.mark.parametrize("name", a_share_of(TEMPLATES, 2))
@pytest.mark.parametrize("frame", [TALL, SQUARE, Frame(640, 360, "25/1")], ids=["tall", "square", "small"])
def test_every_demo_template_is_brought_there_in_every_way(name, frame):
    opened = open_template(DEMO / name)
    found = {}
    for way in WAYS:
        made = brought_to(opened.template, frame, way, opened.book)
        assert (made.frame.width, made.frame.height) == (frame.width, frame.height)
        found[way] = {(one.sample, one.finding.part_id, one.finding.verdict) for one in not_held(made, opened.book)}
    here = {(one.sample, one.finding.part_id, one.finding.verdict) for one in not_held(opened.template, opened.book)}
    assert {one for one in found["scales as a whole"] if one[2] == "past the frame"} <= here, (
        "scaled, nothing leaves the frame that did not before"
    )


def test_what_does_not_hold_is_told_once_with_where_it_is():
    long = Sample("long", "Longest")
    template = titled(text("name", Place("title-safe", gap=60), size=300.0, room=None, text="Odalys Brandt and others"), samples=(long,))
    found = not_held(template, bundled_fonts())
    assert [one.name for one in found] == ["what it starts with", "Longest"]
    words = unheld_words(found)
    assert words.count("Name reaches beyond the frame") == 1 and "(what it starts with, and 1 more)" in words
    assert unheld_words(found, most=0) == "1 more."
    assert unheld_words([]) == ""


# By hands


def asking(window, act):
    """Choose 1080 × 1920 in the recipe; ``act`` does something with the dialog that opens."""
    window.session.select(None)
    settle()
    combo = next(c for c in window.build.recipe.findChildren(QComboBox) if "1080 × 1920" in [c.itemText(n) for n in range(c.count())])
    seen = []

    def looked(dialog):
        seen.append(dialog)
        act(dialog)

    def choosing():
        combo.setCurrentText("1080 × 1920")
        combo.textActivated.emit("1080 × 1920")

    in_a_dialog(FrameDialog, looked, choosing)
    return seen[0]


def test_a_way_is_seen_pressed_and_what_does_not_hold_is_led_to(window, qtbot):
    session, said = window.session, []
    session.refused.connect(said.append)

    def act(dialog):
        words = [label.text() for label in dialog.findChildren(QLabel)]
        assert sum("reaches beyond" in one for one in words) == 2 and "Holds in all samples." in words
        assert all(not label.pixmap().isNull() for label in dialog.findChildren(QLabel) if "how it looks" in label.accessibleName())
        assert session.template.frame.width == 1920, "nothing is done yet"
        qtbot.mouseClick(dialog.buttons["keeps its sizes"], LEFT)

    asking(window, act)
    assert (session.template.frame.width, session.template.part("name").size) == (1080, 80)
    assert session.selected == "role-plate" and session.answers_from == "longest"
    assert "Role plate reaches beyond the frame" in said[-1] and "(Longest)" in said[-1]
    window.undo()
    assert session.template.frame.width == 1920


def test_scaled_everything_holds_and_nothing_is_said(window, qtbot):
    said = []
    window.session.refused.connect(said.append)
    asking(window, lambda dialog: qtbot.mouseClick(dialog.buttons["scales as a whole"], LEFT))
    assert window.session.template.part("name").size == pytest.approx(45) and not said


def test_the_dialog_is_left_and_the_frame_stays(window, qtbot):
    asking(window, lambda dialog: qtbot.keyClick(dialog, Qt.Key.Key_Escape))
    assert window.session.template.frame.width == 1920
    combo = next(c for c in window.build.recipe.findChildren(QComboBox) if "1080 × 1920" in [c.itemText(n) for n in range(c.count())])
    assert combo.currentText() == "1920 × 1080", "the recipe says the frame as it is"


def test_a_way_that_cannot_be_is_said_and_off(qtbot):
    bar = ShapePart(id="bar", name="Bar", fit=Fit(around=("name",)), across=Place(gap=10), down=Place(gap=10))
    template = titled(text("name", Place("title-safe"), size=3999.0), bar)
    dialog = FrameDialog(template, Frame(1920, 1080, "25/1"), bundled_fonts())
    qtbot.addWidget(dialog)
    assert all(dialog.buttons[way].isEnabled() for way in WAYS) and dialog.way is None


def test_a_rate_that_is_none_is_said_and_not_shown(window, qtbot):
    said = []
    window.session.refused.connect(said.append)
    window.session.select(None)
    settle()
    (combo,) = [c for c in window.build.recipe.findChildren(QComboBox) if c.isEditable() and c.currentText() == "25"]
    edit = combo.lineEdit()
    edit.setFocus()
    edit.selectAll()
    qtbot.keyClicks(edit, "fast")
    qtbot.keyClick(edit, Qt.Key.Key_Return)
    assert said and "fast" in said[-1] and combo.currentText() == "25"
