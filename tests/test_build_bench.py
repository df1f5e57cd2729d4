"""The Build bench driven by mouse and keys: groups, echoes, patterns, handles, guides, catching, axes, accents."""

import numpy as np
import pytest
from hands import box, chip, choose, drag, middle_of, row_of, type_into
from PyQt6.QtCore import QPoint, QPointF, Qt
from PyQt6.QtGui import QTextCursor
from PyQt6.QtWidgets import QApplication, QPushButton, QSlider, QToolButton

from avlet.desktop.recipe.dot import DotMenu
from avlet.desktop.recipe.look_rows import LookRow
from avlet.desktop.stage.handles import handle_at
from avlet.desktop.widgets.families import FamilyBox
from avlet.desktop.widgets.numbers import NumberBox
from avlet.document.cards import carding
from avlet.document.editing import edits
from avlet.document.editing.grouping import listed, moved_to
from avlet.document.editing.reframing import scaled_to
from avlet.document.looks.paints import Linear, Radial, Solid, Sweep
from avlet.document.parts import AxisPlace, EchoPart, GroupPart, Matte, PatternPart, Place, ShapePart
from avlet.document.template import Frame, Guides
from avlet.geometry import Box
from avlet.layout.snapping import Caught, EqualGap, snap
from avlet.paint.scene import Scene
from avlet.storage.settings import read_settings

LEFT, NONE = Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier
ALT, CTRL, SHIFT = Qt.KeyboardModifier.AltModifier, Qt.KeyboardModifier.ControlModifier, Qt.KeyboardModifier.ShiftModifier


@pytest.fixture
def free(window, qtbot):
    """The demo with a free shape in the middle of the stage, selected."""
    part = ShapePart(id="free", name="Free", width=300, height=160, across=Place(gap=900), down=Place(gap=300))
    window.session.edit("Add", lambda t: edits.add_part(t, part))
    window.session.select("free")
    window.build.stage.repaint()
    return part


def handle(stage, name):
    stage.repaint()
    return next(h for h in stage.handles if h.name == name)


def pull(qtbot, stage, name, to, modifier=NONE):
    """Drag a handle to a place in px of the frame."""
    start = stage.to_view(*handle(stage, name).at)
    drag(qtbot, stage, start.toPoint(), (stage.to_view(*to) - start).toPoint(), modifier)


# Groups, echoes, patterns


def test_parts_are_grouped_taken_apart_and_moved_as_one(window, qtbot):
    session, stage = window.session, window.build.stage
    session.select_all(["role", "role-plate"])
    qtbot.keyClick(stage, Qt.Key.Key_G, CTRL)
    group = session.part
    assert isinstance(group, GroupPart) and session.template.part("role").group == group.id
    before = session.scene().rest.parts["role"].box
    drag(qtbot, stage, middle_of(stage, "role"), QPoint(0, -40), ALT)
    assert session.scene().rest.parts["role"].box.y == pytest.approx(before.y - 40 / stage.scale, abs=1.5)
    assert "holds" in _said(window) and "where its members lie" in _said(window)
    qtbot.keyClick(stage, Qt.Key.Key_G, CTRL | SHIFT)
    assert session.template.part(group.id) is None and set(session.selection) == {"role", "role-plate"}


def _said(window) -> str:
    from PyQt6.QtWidgets import QLabel

    window.build.recipe.refresh()
    return " ".join(label.text() for label in window.build.recipe.findChildren(QLabel))


def test_a_click_takes_the_group_and_a_second_goes_in(window, qtbot):
    session, stage = window.session, window.build.stage
    session.select_all(["role", "role-plate"])
    qtbot.keyClick(stage, Qt.Key.Key_G, CTRL)
    group = session.selected
    session.select(None)
    at = middle_of(stage, "role")
    qtbot.mouseClick(stage, LEFT, NONE, at)
    assert session.selected == group
    qtbot.mouseClick(stage, LEFT, NONE, at)
    assert session.selected == "role"


def test_alt_click_selects_what_lies_under(window, qtbot):
    session, stage = window.session, window.build.stage
    at = middle_of(stage, "name")
    session.select(None)
    stage.repaint()
    qtbot.mouseClick(stage, LEFT, NONE, at)
    assert session.selected == "name"
    qtbot.mouseClick(stage, LEFT, ALT, at)
    assert session.selected == "plate"
    qtbot.mouseClick(stage, LEFT, ALT, at)
    assert session.selected == "name"


def test_a_locked_part_is_not_taken_hold_of(window, qtbot):
    session, stage = window.session, window.build.stage
    session.edit("Lock", lambda t: edits.set_relations(t, "name", locked=True))
    session.select(None)
    qtbot.mouseClick(stage, LEFT, NONE, middle_of(stage, "name"))
    assert session.selected == "plate"
    session.select("name")
    stage.repaint()
    assert not stage.handles and not stage.drafting.grips


def test_stripes_fill_the_selected_shape_and_keep_inside_it(window, qtbot):
    session = window.session
    session.select("plate")
    qtbot.keyClick(window.windowHandle(), Qt.Key.Key_N)
    part = session.part
    assert isinstance(part, PatternPart) and part.mattes == (Matte("plate"),) and part.fit.around == ("plate",)
    rest = session.scene().rest.parts
    assert rest[part.id].box == rest["plate"].box
    turned = box(window, f"{part.id}/turn_last")
    type_into(qtbot, turned, "30")
    qtbot.keyClick(turned, Qt.Key.Key_Return)
    assert session.part.turn_last == 30
    shuffle = window.build.recipe.findChild(QToolButton, "Shuffle the chance")
    qtbot.mouseClick(shuffle, LEFT)
    assert session.part.seed == 2


def test_an_echo_is_added_and_follows(window, qtbot):
    session = window.session
    session.select("plate")
    qtbot.keyClick(window.windowHandle(), Qt.Key.Key_E)
    echo = session.part
    assert isinstance(echo, EchoPart) and echo.of == "plate"
    rest = session.scene().rest.parts
    assert rest[echo.id].box.w == rest["plate"].box.w
    choose(qtbot, chip(window, "echo of"), "Role plate")
    assert session.part.of == "role-plate"
    later = box(window, f"{echo.id}/later")
    type_into(qtbot, later, "8")
    qtbot.keyClick(later, Qt.Key.Key_Return)
    assert session.part.later == 8


def test_rows_are_dragged_into_a_group_and_out_again(window, qtbot):
    session, parts = window.session, window.build.parts
    session.select_all(["role", "role-plate"])
    qtbot.keyClick(window.build.stage, Qt.Key.Key_G, CTRL)
    group = session.selected
    rows = [p.id for p, _ in listed(session.template)]

    start = row_of(parts, "name")
    drag(qtbot, parts.viewport(), start, row_of(parts, group, 1.05) - start)
    assert session.template.part("name").group == group
    assert {p.id: d for p, d in listed(session.template)}["name"] == 1
    start = row_of(parts, "name")
    drag(qtbot, parts.viewport(), start, QPoint(start.x(), 0) - start)
    assert session.template.part("name").group is None
    assert len(rows) == len(session.template.parts)


def test_moving_rows_keeps_members_together(window):
    template = edits.add_part(window.session.template, GroupPart(id="g", name="G"))
    template = moved_to(moved_to(template, "role", "g", None), "role-plate", "g", "role")
    assert [p.id for p, depth in listed(template) if depth == 1] == ["role-plate", "role"]
    template = moved_to(template, "g", None, None)
    assert [p.id for p in template.parts][:3] != [] and listed(template)[-3][0].id == "g"
    with pytest.raises(edits.DocumentError, match="member of itself"):
        moved_to(template, "g", "g", None)


# Handles


def test_a_part_is_turned_by_its_handle_and_in_steps_with_shift(window, qtbot, free):
    stage, session = window.build.stage, window.session
    pull(qtbot, stage, "turn", (1050 + 400, 380))
    assert session.part.turn == pytest.approx(90, abs=1)
    pull(qtbot, stage, "turn", (1050 + 400, 400 - 380), SHIFT)
    assert session.part.turn % 15 == 0
    session.undo()
    assert session.part.turn == pytest.approx(90, abs=1), "one drag is one step back"


def test_the_anchor_is_dragged_and_brought_to_the_middle(window, qtbot, free):
    stage, session = window.build.stage, window.session
    pull(qtbot, stage, "anchor", (900, 460), CTRL)
    assert (session.part.anchor_x, session.part.anchor_y) == (pytest.approx(0, abs=1.5), pytest.approx(100, abs=1.5))
    window.build.recipe.refresh()
    if session.part.anchor_x:
        from PyQt6.QtWidgets import QPushButton

        qtbot.mouseClick(window.build.recipe.findChild(QPushButton, "anchor to the middle"), LEFT)
    else:
        choose(qtbot, chip(window, "anchor"), "the middle")
    assert (session.part.anchor_x, session.part.anchor_y) == (50, 50)


def test_a_gradient_is_aimed_and_its_stops_slide_on_the_stage(window, qtbot, free):
    stage, session = window.build.stage, window.session
    session.edit("Fill", lambda t: edits.put_struct(t, "free", "fill", Linear(angle=0)))
    pull(qtbot, stage, "gradient stop 0", (900 + 75, 380))
    assert session.part.fill.stops[0].at == pytest.approx(25, abs=1)
    pull(qtbot, stage, "gradient stop 1", (900 + 225, 380))
    pull(qtbot, stage, "gradient end", (1050, 600), SHIFT)
    assert session.part.fill.angle == 90
    session.edit("Fill", lambda t: edits.put_struct(t, "free", "fill", Radial()))
    pull(qtbot, stage, "gradient stop 0", (1050 + 85, 380))
    pull(qtbot, stage, "gradient centre", (900, 300), SHIFT)
    assert (session.part.fill.centre_x, session.part.fill.centre_y) == (0, 0)
    session.edit("Fill", lambda t: edits.put_struct(t, "free", "fill", Sweep()))
    pull(qtbot, stage, "gradient end", (1050, 500), SHIFT)
    assert session.part.fill.angle == 90


def test_a_stop_comes_before_the_end_it_lies_on(window, free):
    window.session.edit("Fill", lambda t: edits.put_struct(t, "free", "fill", Linear(angle=0)))
    stage = window.build.stage
    end = handle(stage, "gradient end")
    assert handle_at(stage.handles, stage.to_view(*end.at), stage.to_view).name == "gradient stop 1"


# Guides and catching


def test_guides_are_drawn_out_of_rulers_caught_on_moved_and_thrown_away(window, qtbot, free):
    stage, session = window.build.stage, window.session
    stage.rulers.shown = True
    at = stage.to_view(700, 700)
    drag(qtbot, stage, QPoint(6, 200), QPoint(round(at.x()) - 6, 0))
    (guide,) = session.template.guides.across
    assert guide == pytest.approx(700, abs=2)
    start = middle_of(stage, "free")
    drag(qtbot, stage, start, QPoint(round((guide - 900) * stage.scale) + 2, 0))
    assert session.scene().rest.parts["free"].box.x == pytest.approx(guide, abs=1)
    line = stage.to_view(guide, 60).toPoint()
    drag(qtbot, stage, line, QPoint(30, 0))
    assert session.template.guides.across[0] > guide + 20
    line = stage.to_view(session.template.guides.across[0], 60).toPoint()
    drag(qtbot, stage, line, QPoint(4 - line.x(), 0))
    assert session.template.guides == Guides()
    drag(qtbot, stage, QPoint(200, 6), QPoint(0, 120))
    assert len(session.template.guides.down) == 1


def test_a_grid_is_set_shown_caught_on_and_kept_by_guides(window, qtbot, free):
    stage, session = window.build.stage, window.session
    session.select(None)
    grid = box(window, "template grid")
    plain = stage.grab().toImage()
    type_into(qtbot, grid, "130")
    qtbot.keyClick(grid, Qt.Key.Key_Return)
    assert session.template.guides.grid == 130
    assert stage.grab().toImage() == plain, "it shows with the rulers"
    stage.rulers.shown = True
    with_rulers = stage.grab().toImage()
    at = stage.to_view(130 * 8, 130 * 4.5).toPoint()
    beside = [with_rulers.pixelColor(at.x() + dx, at.y()).lightness() for dx in (-4, 0, 4)]
    assert beside[1] != beside[0] and abs(beside[0] - beside[2]) < 12
    session.select("free")
    start = middle_of(stage, "free")
    drag(qtbot, stage, start, QPoint(round((130 * 6 - 900) * stage.scale) + 2, 0))
    assert session.scene().rest.parts["free"].box.x == pytest.approx(780, abs=1)
    drag(qtbot, stage, QPoint(6, 200), QPoint(200, 0))
    assert session.template.guides.grid == 130 and len(session.template.guides.across) == 1
    assert scaled_to(session.template, Frame(960, 540, "25/1")).guides.grid == 65


@pytest.mark.parametrize(("grid", "lines"), [(0, 0), (1.5, 0), (100, 19), (1920, 1), (4000, 0)])
def test_a_grid_has_lines_over_the_whole_frame(grid, lines):
    assert len(Guides(grid=grid).lines(0, 1920)) == lines
    assert Guides((5.0,), grid=960).lines(0, 1920) == [5.0, 960, 1920]


def test_equal_gaps_are_caught_between_and_beyond_neighbours():
    row = [Box(0, 0, 100, 50), Box(140, 0, 60, 50)]
    beyond = snap(Box(243, 3, 50, 50), row, ([], []), 6)
    assert beyond.dx == -3 and beyond.dy == -3
    assert [c for c in beyond.caught if isinstance(c, EqualGap)] == [EqualGap(0, 100, 140, 28.0), EqualGap(0, 200, 240, 28.0)]
    middle = snap(Box(148, 0, 50, 50), [Box(0, 0, 100, 50), Box(240, 0, 60, 50)], ([], []), 6)
    assert middle.dx == -3, "45 px on either side"
    edge = snap(Box(98, 200, 50, 50), row, ([], []), 6)
    assert Caught(0, 100.0) in edge.caught and edge.dx == 2
    assert snap(Box(500, 500, 50, 50), row, ([], []), 6) == (0.0, 0.0, ())
    assert snap(Box(500, 300, 50, 50), row, ([503.0], []), 6).dx == 3


def test_what_does_not_hold_is_marked_on_the_stage(window, qtbot):
    stage, session = window.build.stage, window.session
    calm = stage.grab().toImage()
    session.show_answers("longest")
    long_name = "Ioana Crețu-Whitlock-Arundel-Farrow-Brandt-Saltmarsh"
    session.edit("Long", lambda t: carding.set_sample_answer(t, "longest", "name", long_name * 2))
    warned = stage.grab().toImage()
    assert calm.size() == warned.size()

    def amber(image) -> int:
        plain = image.convertToFormat(image.Format.Format_RGB32)
        bits = plain.constBits()
        pixels = np.frombuffer(bits.asstring(plain.sizeInBytes()), np.uint8)
        blue, green, red = (pixels.reshape(-1, 4)[:, n].astype(int) for n in range(3))
        return int(((abs(red - 255) < 8) & (abs(green - 208) < 8) & (abs(blue - 138) < 8)).sum())

    assert amber(warned) > amber(calm) + 100


def test_zoom_to_selection_brings_it_to_the_middle(window, qtbot, free):
    stage = window.build.stage
    qtbot.keyClick(window.windowHandle(), Qt.Key.Key_Z)
    assert not stage.fits
    middle = stage.box_in_view(window.session.scene().rest.parts["free"].box).center()
    assert (middle - QPointF(stage.width() / 2, stage.height() / 2)).manhattanLength() < 2
    window.session.select(None)
    stage.zoom_to_selection()
    assert stage.fits


# Words


def test_axes_are_sliders_and_one_drag_is_one_step(window, qtbot):
    session = window.session
    session.edit("Face", lambda t: edits.set_relations(t, "name", family="Inter Variable", style="Regular"))
    session.select("name")
    slider = window.build.recipe.findChild(QSlider, "name/axis wght")
    width = session.scene().rest.parts["plate"].box.w
    for value in (250, 300, 400):
        slider.setValue(value)
    assert session.part.axes == (AxisPlace("wght", 900.0),)
    assert session.scene().rest.parts["plate"].box.w > width
    session.undo()
    assert session.part.axes == ()


def test_words_are_marked_for_an_accent_while_typing(window, qtbot):
    session, stage = window.session, window.build.stage
    stage.type_on("name")
    typing = stage.typing
    typing.setPlainText("Odalys Brandt")
    cursor = typing.textCursor()
    cursor.setPosition(7)
    cursor.setPosition(13, QTextCursor.MoveMode.KeepAnchor)
    typing.setTextCursor(cursor)
    qtbot.keyClick(typing, Qt.Key.Key_1, ALT)
    assert session.bound_part.text == "Odalys {1:Brandt}" and len(session.part.accents) == 1
    setting = session.scene().rest.parts["name"].body.setting
    assert setting.accent.tolist() == [0] * 7 + [1] * 6
    cursor = typing.textCursor()
    cursor.select(QTextCursor.SelectionType.Document)
    typing.setTextCursor(cursor)
    qtbot.keyClick(typing, Qt.Key.Key_0, ALT)
    assert session.bound_part.text == "Odalys Brandt"


def test_a_size_from_the_frame_and_a_matte_by_brightness_in_the_recipe(window, qtbot, free):
    session = window.session
    choose(qtbot, chip(window, "fit around"), "the frame")
    assert session.part.fit.around == ("frame",)
    choose(qtbot, chip(window, "fit options"), "a share of its size")
    assert session.part.fit.share_width == 50 and session.scene().rest.parts["free"].box.w == 960
    choose(qtbot, chip(window, "add matte"), "Plate")
    choose(qtbot, chip(window, "matte by"), "brightness")
    assert session.part.mattes == (Matte("plate", by="brightness"),)


def test_handles_of_a_turned_part_stand_where_it_is(window, qtbot, free):
    stage, session = window.build.stage, window.session
    session.edit("Turn", lambda t: edits.set_property(edits.put_struct(t, "free", "fill", Linear(angle=0)), "free/turn", 90.0))
    assert handle(stage, "gradient stop 1").at == pytest.approx((1050, 380 + 150))
    pull(qtbot, stage, "gradient stop 1", (1050, 380))
    assert session.part.fill.stops[1].at == pytest.approx(50, abs=1)


def test_a_number_of_a_sentence_is_keyed_and_put_on_the_card_by_a_right_click(window, qtbot, free):
    session = window.session
    turn = box(window, "free/turn")
    turn.customContextMenuRequested.emit(QPoint(2, 2))
    menu = turn.findChildren(DotMenu)[-1]
    next(a for a in menu.actions() if a.text() == "Key it at this frame").trigger()
    menu.close()
    session.go_to(session.frame + 10)
    again = box(window, "free/turn")
    type_into(qtbot, again, "40")
    qtbot.keyClick(again, Qt.Key.Key_Return)
    assert [k.value for k in session.part.keys[0].keys] == [0, 40]
    assert box(window, "free/turn").property("chip") == "time"
    scale = box(window, "free/scale_x")
    scale.customContextMenuRequested.emit(QPoint(2, 2))
    next(a for a in scale.findChildren(DotMenu)[-1].actions() if a.text() == "Put on the card").trigger()
    assert session.template.wire_to("free/scale_x") is not None


def test_what_is_as_usual_hides_until_it_is_wanted(window, qtbot):
    """Turned 0°, scaled 100 %, grown by 0, softened by 0: nothing to read before somebody sets them."""
    session, recipe = window.session, window.build.recipe
    session.select("name")
    QApplication.processEvents()
    assert recipe.findChild(NumberBox, "name/turn") is None and recipe.findChild(NumberBox, "name/mattes.0.soft") is None
    qtbot.mouseClick(recipe.findChild(QPushButton, "unfold stance"), Qt.MouseButton.LeftButton)
    qtbot.mouseClick(recipe.findChild(QPushButton, "unfold matte"), Qt.MouseButton.LeftButton)
    QApplication.processEvents()
    type_into(qtbot, recipe.findChild(NumberBox, "name/turn"), "12")
    qtbot.keyClick(recipe.findChild(NumberBox, "name/turn"), Qt.Key.Key_Return)
    assert session.template.part("name").turn == 12 and recipe.findChild(NumberBox, "name/mattes.0.grow") is not None
    session.select("role")
    QApplication.processEvents()
    assert recipe.findChild(NumberBox, "role/turn") is None, "opened on one part is not opened on another"
    session.write({"role/scale_x": 80.0})
    QApplication.processEvents()
    assert recipe.findChild(NumberBox, "role/scale_x") is not None, "what is not as usual is always said"
    session.write({"role/scale_x": 100.0})
    session.edit("Card", lambda t: carding.put_on_card(t, "role/turn")[0])
    QApplication.processEvents()
    assert recipe.findChild(NumberBox, "role/turn") is not None, "nor does what is wired hide"


def test_a_property_is_set_on_all_that_is_selected(window, qtbot):
    session, recipe = window.session, window.build.recipe
    session.select_all(["name", "role"])
    QApplication.processEvents()
    tracking = recipe.findChild(NumberBox, f"{session.selected}/tracking")
    type_into(qtbot, tracking, "40")
    qtbot.keyClick(tracking, Qt.Key.Key_Return)
    assert [session.template.part(i).tracking for i in ("name", "role")] == [40, 40]
    opacity = recipe.findChild(NumberBox, f"{session.selected}/opacity")
    type_into(qtbot, opacity, "70")
    qtbot.keyClick(opacity, Qt.Key.Key_Return)
    assert {p.id for p in session.template.parts if p.opacity == 70} == {"name", "role"}
    window.undo()
    assert not any(p.opacity == 70 for p in session.template.parts), "one step back for all of them"
    session.select_all(["name", "plate"])
    QApplication.processEvents()
    assert recipe.findChild(NumberBox, f"{session.selected}/tracking") is None, "a plate has no tracking"
    assert recipe.findChild(NumberBox, f"{session.selected}/opacity") is not None


def test_a_family_is_chosen_for_all_texts_that_are_selected(window, qtbot):
    session, recipe = window.session, window.build.recipe
    session.select_all(["name", "role"])
    QApplication.processEvents()
    box = recipe.findChild(FamilyBox, f"{session.selected}/family")
    type_into(qtbot, box.lineEdit(), "Alegreya")
    qtbot.keyClick(box.lineEdit(), Qt.Key.Key_Return)
    faces = {(session.template.part(i).family) for i in ("name", "role")}
    assert faces == {"Alegreya"}
    for i in ("name", "role"):
        part = session.template.part(i)
        assert session.book.find(part.family, part.style)[1]


def test_headings_fold_stay_folded_and_are_led_to(window, qtbot):
    session, recipe, strip = window.session, window.build.recipe, window.build.headings
    session.select("name")
    QApplication.processEvents()
    named = [b.text() for b in strip.findChildren(QPushButton) if b.isVisible()]
    assert named[:3] == ["Size", "Place", "Matte"] and {"Look", "Outline", "Shadow", "Glow"} <= set(named)
    look = recipe.findChild(QPushButton, "heading Look")
    opacity = recipe.findChild(NumberBox, "name/opacity")
    assert opacity.isVisible()
    qtbot.mouseClick(look, Qt.MouseButton.LeftButton)
    assert not opacity.isVisible() and "folded" in look.accessibleName()
    assert read_settings(window.state).folded == ("Look",), "and the next time"
    session.select("plate")
    QApplication.processEvents()
    assert not recipe.findChild(NumberBox, "plate/opacity").isVisible(), "folded for the next part as well"
    qtbot.mouseClick(next(b for b in strip.findChildren(QPushButton) if b.text() == "Look" and b.isVisible()), Qt.MouseButton.LeftButton)
    QApplication.processEvents()
    assert recipe.findChild(NumberBox, "plate/opacity").isVisible()
    glow = next(b for b in strip.findChildren(QPushButton) if b.text() == "Glow" and b.isVisible())
    qtbot.mouseClick(glow, Qt.MouseButton.LeftButton)
    QApplication.processEvents()
    at = recipe.findChild(QPushButton, "heading Glow")
    assert recipe.viewport().rect().contains(at.mapTo(recipe.viewport(), at.rect().center()))
    session.select(None)
    QApplication.processEvents()
    assert not strip.isVisible(), "nothing to lead to"


def test_a_fill_may_be_none_and_comes_back_in_its_colour(window, qtbot):
    """Nothing of it is painted; what is cut to its outline still is; a colour that a field drives is refused in words."""
    session = window.session
    session.select("plate")
    QApplication.processEvents()
    told = []
    session.refused.connect(told.append)
    choose(qtbot, chip(window, "fill kind"), "none")
    assert told and "its colour is on the card or wired" in told[0]
    session.edit("Off", lambda t: carding.unwired(t, "plate/fill.colour"))
    QApplication.processEvents()
    before = session.template
    shown = Scene(before, session.book).picture(60, 192, 108)
    choose(qtbot, chip(window, "fill kind"), "none")
    assert session.template.part("plate").fill == Solid("#20435C00") and chip(window, "fill kind").text().startswith("none")
    bare = Scene(session.template, session.book).picture(60, 192, 108)
    assert (bare[..., 3] > 0).sum() < (shown[..., 3] > 0).sum() and bare.any(), "the name is still there, shown inside its plate"
    assert not [r for r in window.build.recipe.findChildren(LookRow) if r.target == "plate/fill.colour"]
    choose(qtbot, chip(window, "fill kind"), "one colour")
    assert session.template == before
    choose(qtbot, chip(window, "fill kind"), "none")
    choose(qtbot, chip(window, "fill kind"), "linear gradient")
    assert session.template.part("plate").fill.stops[0].colour == "#20435C"
    session.undo()
    assert isinstance(session.template.part("plate").fill, Solid)
