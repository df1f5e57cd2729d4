"""Members of a space by hand: balls, lamps, standing on each other, coming through each other; pieces of a space in the list of parts."""

import numpy as np
import pytest
from conftest import DEMO
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QMenu, QWidget

from avlet.desktop.stage import hurry
from avlet.desktop.stage.hurry import SMALLEST, WANTED, Hurry
from avlet.desktop.stage.lamp_marks import lamps_seen
from avlet.desktop.window.window import Window
from avlet.document.editing.edits import set_relations
from avlet.document.parts import BallPart, LampPart, SpacePart
from avlet.document.time.keys import Key, Keyed
from avlet.paint import spaces

LEFT = Qt.MouseButton.LeftButton


@pytest.fixture
def window(qtbot, tmp_path):
    made = Window(DEMO, tmp_path / "state")
    qtbot.addWidget(made, before_close_func=lambda w: w.session.mark_saved(tmp_path / "x"))
    made.resize(1280, 800)
    made.show()
    qtbot.waitExposed(made)
    made.files.open_path(DEMO / "rising-word.avlet")
    made.show_bench(0)
    made.session.go_to(60)
    return made


@pytest.fixture
def session(window):
    window.session.select("scene")
    return window.session


def press(window, key, modifiers=Qt.KeyboardModifier.NoModifier):
    QTest.keyClick(window.windowHandle(), key, modifiers)


def control(window, name):
    """The one control of the recipe with an object name or accessible name."""
    window.build.recipe.refresh()
    (found,) = [w for w in window.build.recipe.findChildren(QWidget) if name in (w.objectName(), w.accessibleName())]
    return found


def words(window):
    """All that the recipe says, in one line."""
    window.build.recipe.refresh()
    from PyQt6.QtWidgets import QLabel, QLineEdit, QPushButton

    kinds = (QLabel, QLineEdit, QPushButton)
    body = window.build.recipe.widget()
    return " ".join(w.text() for w in body.findChildren(QWidget) if isinstance(w, kinds))


def choose(window, name, entry):
    """Open a word's menu by a click and take an entry of it by keys."""
    chip = control(window, name)
    QTest.mouseClick(chip, LEFT)
    (menu,) = [m for m in chip.findChildren(QMenu) if m.isVisible()]
    action = next(a for a in menu.actions() if a.text() == entry)
    menu.setActiveAction(action)
    QTest.keyClick(menu, Qt.Key.Key_Return)


def row(window, text):
    """Where a row of the list of parts is."""
    parts = window.build.parts
    n = next(n for n in range(parts.parts.rowCount()) if parts.parts.data(parts.parts.index(n)) == text)
    return parts.visualRect(parts.parts.index(n)).center()


def click_row(window, text):
    QTest.mouseClick(window.build.parts.viewport(), LEFT, pos=row(window, text))


# The list


def test_a_space_lists_its_camera_and_lights(session, window):
    model = window.build.parts.parts
    listed = [model.data(model.index(n)) for n in range(model.rowCount())]
    assert listed == ["Scene", "Word", "Sheet", "Camera", "Sun", "Sky"]
    assert model.data(model.index(4), Qt.ItemDataRole.AccessibleTextRole) == "Sun of Scene"
    click_row(window, "Sun")
    assert session.selection == ("scene",) and session.piece == "sun"
    assert window.build.parts.currentIndex().row() == 4
    said = words(window)
    assert said.startswith("Sun of Scene") and "at the side" in said and "Camera" not in said and "Way in" not in said
    click_row(window, "Camera")
    assert session.piece == "camera" and "of its distance" in words(window)
    click_row(window, "Sky")
    assert "from all sides" in words(window)
    click_row(window, "Scene")
    assert session.piece == "" and "Way in" in words(window)
    click_row(window, "Sun")
    click_row(window, "Word")
    assert session.selection == ("word",) and session.piece == ""


def test_arrow_keys_go_through_the_pieces_too(session, window):
    parts = window.build.parts
    parts.setFocus()
    click_row(window, "Sheet")
    seen = []
    for _ in range(3):
        QTest.keyClick(parts, Qt.Key.Key_Down)
        seen.append((session.selection, session.piece))
    assert seen == [(("scene",), "camera"), (("scene",), "sun"), (("scene",), "sky")]
    QTest.keyClick(parts, Qt.Key.Key_F2)
    assert parts.state() != parts.State.EditingState, "a camera has no name of its own"


def test_pieces_are_not_dragged_hidden_or_renamed(session, window):
    parts = window.build.parts
    before = session.template
    at = row(window, "Sun")
    QTest.mousePress(parts.viewport(), LEFT, pos=at)
    QTest.mouseMove(parts.viewport(), at - QPoint(0, 90))
    QTest.mouseRelease(parts.viewport(), LEFT, pos=at - QPoint(0, 90))
    QTest.mouseClick(parts.viewport(), LEFT, pos=QPoint(parts.viewport().width() - 10, at.y()))
    assert session.template == before
    assert not parts.parts.setData(parts.parts.index(4), "Moon")


def test_a_part_dropped_under_the_pieces_leaves_the_space(session, window):
    parts = window.build.parts
    start = row(window, "Word")
    end = QPoint(40, parts.parts.rowCount() * 32 - 1)
    QTest.mousePress(parts.viewport(), LEFT, pos=start)
    QTest.mouseMove(parts.viewport(), end - QPoint(0, 2))
    QTest.mouseMove(parts.viewport(), end)
    QTest.mouseRelease(parts.viewport(), LEFT, pos=end)
    assert session.template.part("word").group is None
    assert session.template.parts[0].id == "word", "it lies behind all"
    session.undo()
    end = QPoint(120, row(window, "Camera").y() - 14)
    QTest.mousePress(parts.viewport(), LEFT, pos=start)
    QTest.mouseMove(parts.viewport(), end - QPoint(0, 2))
    QTest.mouseMove(parts.viewport(), end)
    QTest.mouseRelease(parts.viewport(), LEFT, pos=end)
    assert session.template.part("word").group == "scene", "after the last member it is still in the space"
    assert [p.id for p in session.template.parts] == ["word", "sheet", "scene"]


# Balls and lamps


def test_a_ball_by_a_key(session, window):
    session.select("word")
    press(window, Qt.Key.Key_B)
    ball = session.part
    assert isinstance(ball, BallPart) and ball.group == "scene" and ball.across.on == "word"
    said = words(window)
    assert "px across" in said and "round, surface" in said and "before the sheet" in said.replace("the sheet ▾", "the sheet")
    choose(window, "surface", "gloss")
    assert session.template.part(ball.id).surface == "gloss"
    press(window, Qt.Key.Key_B)
    assert session.part.name == "Ball 2"
    session.select(None)
    press(window, Qt.Key.Key_B)
    assert session.part.group == "scene", "the only space there is"


def test_a_ball_in_no_space_is_a_disc(window, qtbot):
    window.files.open_path(DEMO / "name-strap.avlet")
    window.session.select(None)
    press(window, Qt.Key.Key_B)
    assert isinstance(window.session.part, BallPart) and window.session.part.group is None
    assert "a disc" in words(window)
    press(window, Qt.Key.Key_I)
    assert "A lamp stands in a space" in window.message.text()
    press(window, Qt.Key.Key_Escape)
    window.session.mark_saved(window.state / "x")


def test_a_lamp_by_a_key_lights_and_is_dragged_on_the_stage(session, window, qtbot):
    stage = window.build.stage
    before = session.scene().picture(60, 480, 270)
    press(window, Qt.Key.Key_I)
    lamp = session.part
    assert isinstance(lamp, LampPart) and lamp.group == "scene" and lamp.before == 378.0
    assert (session.scene().picture(60, 480, 270) != before).any()
    assert "of it left at" in words(window)
    x, y = lamps_seen(session)["lamp"]
    at = stage.to_view(x, y).toPoint()
    session.select("word")
    QTest.mouseClick(stage, LEFT, pos=at)
    assert session.selection == ("lamp",)
    QTest.mousePress(stage, LEFT, pos=at)
    QTest.mouseMove(stage, at + QPoint(20, 5))
    QTest.mouseMove(stage, at + QPoint(60, 10))
    QTest.mouseRelease(stage, LEFT, pos=at + QPoint(60, 10))
    moved = session.template.part("lamp")
    assert moved.across.gap > lamp.across.gap + 20 and moved.down.gap != lamp.down.gap
    for _ in range(3):
        press(window, Qt.Key.Key_I)
    assert sum(isinstance(p, LampPart) for p in session.template.parts) == 4
    press(window, Qt.Key.Key_I)
    assert "at most 4" in window.message.text() and sum(isinstance(p, LampPart) for p in session.template.parts) == 4


@pytest.mark.parametrize(("start", "axis", "way"), [("the left", 1, 1), ("the right", 1, -1), ("above", 0, 1), ("below", 0, -1)])
def test_a_lamp_is_carried_past_in_the_hold(session, window, start, axis, way):
    """Where it is brightest goes from one side to the other while the title holds, and stands still before that."""
    press(window, Qt.Key.Key_I)
    lamp, spans = session.part, session.scene().spans
    for name in ("sky", "sun"):
        session.write({f"scene/{name}.strength": 0.0})
    dark = session.template
    choose(window, "add sway", f"is carried past from {start}")

    def brightest(frame):
        shown = session.scene().picture(frame, 480, 270)[:, :, :3].astype(float).sum(2)
        weights = (shown - shown.min()).sum(1 - axis)
        return float(weights @ np.arange(len(weights)) / max(weights.sum(), 1e-9))

    frames = np.linspace(spans.way_in, session.length() - spans.way_out, 5).round().astype(int)
    seen = [brightest(int(f)) * way for f in frames]
    assert np.all(np.diff(seen) > 2), seen
    half = (session.template.frame.width if axis else session.template.frame.height) * 0.4
    place, was = ("across", lamp.across) if axis else ("down", lamp.down)
    assert getattr(session.template.part("lamp"), place).gap == pytest.approx(was.gap - way * half, abs=1), "through where it stood"
    assert "drifts" in words(window) and "stands still;" not in words(window)
    window.undo()
    assert session.template == dark, "one step back"


def test_only_lamps_are_carried_past(session, window):
    session.select("word")
    chip = control(window, "add sway")
    QTest.mouseClick(chip, LEFT)
    (menu,) = [m for m in chip.findChildren(QMenu) if m.isVisible()]
    assert menu.actions() and not [a for a in menu.actions() if "carried past" in a.text()]
    menu.close()


def test_lamps_and_members_are_dragged_in_the_views(session, window, qtbot):
    press(window, Qt.Key.Key_I)
    depths = window.build.depths
    qtbot.waitUntil(depths.isVisible)

    def drag(view, name, by, modifiers=Qt.KeyboardModifier.NoModifier):
        at = view.area_of(next(i for i in view.items() if i.id == name)).center().toPoint()
        QTest.mousePress(view, LEFT, modifiers, at)
        QTest.mouseMove(view, at + by / 2)
        QTest.mouseMove(view, at + by)
        QTest.mouseRelease(view, LEFT, modifiers, at + by)
        return view.scale

    was = session.template.part("lamp")
    scale = drag(depths.above, "lamp", QPoint(20, 12))
    now = session.template.part("lamp")
    assert now.before == pytest.approx(was.before + 12 / scale, abs=1) and now.across.gap == pytest.approx(
        was.across.gap + 20 / scale, abs=1
    )
    assert session.selection == ("lamp",)
    scale = drag(depths.side, "lamp", QPoint(0, -10))
    assert session.template.part("lamp").down.gap == pytest.approx(was.down.gap - 10 / scale, abs=1)
    scale = drag(depths.above, "word", QPoint(0, 14))
    assert session.selection == ("word",) and session.template.part("word").stand.before == pytest.approx(14 / scale, abs=1)
    session.edit("Lock", lambda t: set_relations(t, "word", locked=True))
    before = session.template
    drag(depths.above, "word", QPoint(0, 14))
    assert session.template == before, "what is locked stays"
    drag(depths.above, "camera", QPoint(0, -20))
    assert session.template.part("scene").camera.distance < 100 and session.piece == "camera"
    at = depths.above.area_of(next(i for i in depths.above.items() if i.id == "sun")).center().toPoint()
    before = session.template
    QTest.mouseClick(depths.above, LEFT, pos=at)
    assert session.piece == "sun" and session.template == before, "a click moves nothing"


def test_numbers_are_typed_in_the_views(session, window, qtbot):
    depths = window.build.depths
    qtbot.waitUntil(depths.isVisible)

    def type_into(view, name, text):
        qtbot.waitUntil(lambda: any(b.accessibleName() == name for b in view.figures.boxes))
        box = next(b for b in view.figures.boxes if b.accessibleName() == name)
        box.setFocus()
        box.selectAll()
        QTest.keyClicks(box, text)
        QTest.keyClick(box, Qt.Key.Key_Return)

    type_into(depths.above, "camera: round", "25")
    type_into(depths.above, "camera: distance", "80")
    type_into(depths.side, "camera: up", "-10")
    camera = session.template.part("scene").camera
    assert (camera.round, camera.distance, camera.up) == (25.0, 80.0, -10.0)
    click_row(window, "Sun")
    type_into(depths.above, "sun: round", "33")
    assert session.template.part("scene").sun.round == 33.0
    click_row(window, "Word")
    type_into(depths.side, "Word: px before", "120")
    assert session.template.part("word").stand.before == 120.0
    type_into(depths.above, "Word: swung", "15")
    type_into(depths.side, "Word: tilted", "5")
    assert (session.template.part("word").stand.swing, session.template.part("word").stand.tilt) == (15.0, 5.0)
    type_into(depths.side, "Word: px before", "99999999")
    assert session.template.part("word").stand.before == 10_000.0
    type_into(depths.side, "Word: px before", "a lot")
    assert session.template.part("word").stand.before == 10_000.0
    assert depths.above.items()[0].id in ("sun", "camera"), "what is far away is drawn all the same"


def test_the_samples_come_back_by_a_switch(session, window):
    assert window.build.depths.isVisible() and not window.build.samples.isVisible()
    QTest.mouseClick(window.build.depth_switch, LEFT)
    assert not window.build.depths.isVisible() and window.build.samples.isVisible()
    session.select("word")
    assert window.build.samples.isVisible(), "until it is switched again"
    QTest.mouseClick(window.build.depth_switch, LEFT)
    assert window.build.depths.isVisible()
    session.select(None)
    assert not window.build.depth_switch.isVisible()


# Sentences


def test_members_stand_on_members_in_words(session, window):
    session.select("word")
    press(window, Qt.Key.Key_B)
    choose(window, "stands on", "Word’s front")
    ball = session.template.part("ball")
    assert (ball.stand.on, ball.stand.side) == ("word", "front")
    choose(window, "stands on", "Word’s back")
    assert session.template.part("ball").stand.side == "back"
    session.select("word")
    QTest.mouseClick(control(window, "stand elsewhere"), LEFT)
    choose(window, "stands on", "Ball’s front")
    assert "stands on" in window.message.text() and session.template.part("word").stand.on == "", "no circles"
    session.select("ball")
    choose(window, "stands on", "the sheet")
    assert session.template.part("ball").stand.on == ""


def test_a_word_comes_through_a_member_in_words(session, window):
    session.edit("One move", lambda t: set_relations(t, "word", way_in=t.part("word").way_in[:1]))
    session.select("word")
    assert "comes through" in words(window) and "from just behind it" in words(window)
    choose(window, "way_in through", "Sheet")
    assert session.template.part("word").way_in[0].through == "sheet"
    choose(window, "way_in through", "the sheet")
    assert session.template.part("word").way_in[0].through == ""
    choose(window, "way_in kind", "comes from the camera")
    assert session.template.part("word").way_in[0].travel == "from the camera"
    assert "from just behind that" in words(window)
    choose(window, "way_in kind", "swings in")
    assert "about the upright axis" in words(window)


def test_keys_are_said_and_led_to(session, window):
    session.edit("Keys", lambda t: set_relations(
        t, "word", keys=(Keyed("solid.depth", (Key(50, 0.0), Key(10, 70.0))), Keyed("fill.colour", (Key(0, "#FFFFFF"), Key(40, "#C0485A")))),
    ))  # fmt: skip
    session.select("word")
    said = words(window)
    assert "solid: depth 70 → 0 by frame 50" in said and "#FFFFFF → #C0485A by frame 40" in said
    QTest.mouseClick(control(window, "keys solid.depth"), LEFT)
    assert session.frame == 50


def test_a_lamp_is_added_by_a_word_and_has_a_colour(session, window):
    QTest.mouseClick(control(window, "add a lamp"), LEFT)
    assert isinstance(session.part, LampPart)
    assert control(window, "lamp/strength") is not None and "Colours of light" in words(window)
    session.select("scene")
    assert "and Lamp;" in words(window)


# Drawing smaller while something is dragged


def test_heavy_pictures_are_drawn_smaller_under_the_hand(qtbot):
    haste = Hurry()
    haste.took(0.02)
    haste.follow(True)
    assert haste.share == 1.0, "light ones are drawn whole"
    haste.took(0.4)
    assert haste.share == pytest.approx((WANTED / 0.4) ** 0.5), "as large as a short time allows"
    haste.took(0.4 * haste.share**2)
    assert haste.share == pytest.approx((WANTED / 0.4) ** 0.5), "and stays there"
    with qtbot.waitSignal(haste.rested, timeout=1000):
        pass
    assert haste.share == 1.0, "sharp when the hand rests"
    haste.took(100.0)
    haste.follow(True)
    assert haste.share == SMALLEST
    haste.follow(False)
    assert haste.share == 1.0, "what is no gesture is drawn whole"


def test_heavy_pictures_are_rough_until_the_gesture_ends(qtbot):
    haste = Hurry()
    haste.took(0.4)
    haste.took(0.001)
    haste.follow(True)
    assert not haste.rough, "no gesture"
    haste.took(0.02)
    assert not haste.rough, "a light one"
    haste.took(0.4)
    assert haste.rough
    haste.took(0.001)
    assert haste.rough and haste.share == 1.0, "as it was made lighter by being rough"
    with qtbot.waitSignal(haste.rested, timeout=1000):
        pass
    assert not haste.rough, "fine when the hand rests"
    haste.follow(True)
    assert haste.rough, "and rough from the first when it goes on"
    haste.follow(False)
    haste.follow(True)
    assert not haste.rough


def test_edges_on_the_stage_are_fine_when_the_hand_rests(session, window, qtbot, monkeypatch):
    stage = window.build.stage
    fine = []
    monkeypatch.setattr(hurry, "SLOW", 0.0)
    monkeypatch.setattr(hurry, "WANTED", 1e6)
    picture = spaces._picture
    monkeypatch.setattr(spaces, "_picture", lambda shown, *view: (fine.append(shown.fine), picture(shown, *view))[1])
    middle = QPoint(stage.width() // 2, stage.height() // 2)
    QTest.mousePress(stage, LEFT, pos=middle)
    for step in range(1, 5):
        QTest.mouseMove(stage, middle + QPoint(10 * step, 0))
        stage.repaint()
    assert fine[-1] is False, "under the hand"
    qtbot.waitUntil(lambda: fine[-1] is True, timeout=2000)
    QTest.mouseRelease(stage, LEFT, pos=middle + QPoint(40, 0))
    stage.repaint()
    assert fine[-1] is True


def test_the_stage_is_sharp_when_the_hand_rests(session, window, qtbot, monkeypatch):
    stage = window.build.stage
    drawn = []
    monkeypatch.setattr(hurry, "SLOW", 0.0)
    monkeypatch.setattr(hurry, "WANTED", 1e-6)
    paint = stage.paint_title
    monkeypatch.setattr(stage, "paint_title", lambda canvas, pose: (drawn.append(canvas.getBaseLayerSize().width()), paint(canvas, pose)))
    middle = QPoint(stage.width() // 2, stage.height() // 2)
    QTest.mousePress(stage, LEFT, pos=middle)
    for step in range(1, 5):
        QTest.mouseMove(stage, middle + QPoint(10 * step, 0))
        stage.repaint()
    wide = round(stage.picture_area().width())
    assert drawn and all(w <= SMALLEST * wide + 1 for w in drawn[-2:])
    qtbot.waitUntil(lambda: drawn[-1] > 0.95 * wide, timeout=2000)
    QTest.mouseRelease(stage, LEFT, pos=middle + QPoint(40, 0))
    assert isinstance(session.part, SpacePart) and np.isclose(session.part.camera.round, -10.0)


def test_a_lamp_is_not_turned_or_masked(session, window):
    press(window, Qt.Key.Key_I)
    said = words(window)
    assert "turn or scale" not in said and "show inside" not in said and "before the sheet" in said
    window.build.stage.repaint()
    assert window.build.stage.handles == []
