"""Spaces on the Build bench: put there, carried round, told in sentences."""

import numpy as np
import pytest
from conftest import DEMO
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtTest import QTest

from avlet.desktop.recipe.space_sentences import LIGHTS
from avlet.desktop.window.window import Window
from avlet.document.parts import Camera, SpacePart
from avlet.document.starts import blank

LEFT = Qt.MouseButton.LeftButton


@pytest.fixture
def window(qtbot, tmp_path):
    made = Window(DEMO, tmp_path / "state")
    qtbot.addWidget(made, before_close_func=lambda w: w.session.mark_saved(tmp_path / "x"))
    made.session.open(blank(), made.session.book, None, saved=False)
    made.resize(1280, 800)
    made.show()
    qtbot.waitExposed(made)
    made.show_bench(0)
    return made


@pytest.fixture
def space(window, qtbot):
    """A word in a space, by keys."""
    press(window, Qt.Key.Key_T)
    window.build.stage.finish_typing()
    press(window, Qt.Key.Key_D)
    return window.session


def press(window, key, modifiers=Qt.KeyboardModifier.NoModifier):
    QTest.keyClick(window.windowHandle(), key, modifiers)


def sentence(window, name):
    """A control of the recipe by its object name or accessible name."""
    from PyQt6.QtWidgets import QWidget

    return [w for w in window.build.recipe.findChildren(QWidget) if name in (w.objectName(), w.accessibleName())]


def test_a_key_puts_what_is_selected_in_a_space(space, window, qtbot):
    assert space.selection == ("space",) and isinstance(space.part, SpacePart)
    assert space.template.part("name").group == "space" and space.template.part("name").solid.depth == 59.0
    assert space.history.undo_label == "Put Name in a space"
    space.select("name")
    press(window, Qt.Key.Key_D)
    assert "stands in a space already" in window.message.text()
    space.undo()
    assert space.template.part("name").group is None
    space.select(None)
    press(window, Qt.Key.Key_D)
    assert "Select the words and shapes" in window.message.text()


def test_dragging_carries_the_camera_round(space, window, qtbot):
    stage = window.build.stage
    middle = QPoint(stage.width() // 2, stage.height() // 2)
    QTest.mousePress(stage, LEFT, pos=middle)
    QTest.mouseMove(stage, middle + QPoint(40, 10))
    QTest.mouseMove(stage, middle + QPoint(80, 20))
    QTest.mouseRelease(stage, LEFT, pos=middle + QPoint(80, 20))
    camera = space.part.camera
    assert (camera.round, camera.up) == (-20.0, 5.0), "the hand goes right: the left side comes to the front"
    assert space.selection == ("space",)
    QTest.mousePress(stage, LEFT, Qt.KeyboardModifier.ShiftModifier, middle)
    QTest.mouseMove(stage, middle + QPoint(-41, 0))
    event_move(stage, middle + QPoint(-41, 0), Qt.KeyboardModifier.ShiftModifier)
    QTest.mouseRelease(stage, LEFT, Qt.KeyboardModifier.ShiftModifier, middle + QPoint(-41, 0))
    assert space.part.camera.round % 15 == 0
    press(window, Qt.Key.Key_0)
    assert space.part.camera == Camera() and space.history.undo_label == "Space: camera at rest"
    space.undo()
    space.undo()
    assert space.part.camera == camera, "a drag is one undo"


def event_move(widget, point, modifiers):
    from PyQt6.QtCore import QEvent, QPointF
    from PyQt6.QtGui import QMouseEvent

    at = QPointF(point)
    widget.mouseMoveEvent(QMouseEvent(QEvent.Type.MouseMove, at, widget.mapToGlobal(at), LEFT, LEFT, modifiers))


def test_the_camera_stops_over_the_top_and_a_click_is_no_drag(space, window, qtbot):
    stage = window.build.stage
    middle = QPoint(stage.width() // 2, stage.height() // 2)
    QTest.mousePress(stage, LEFT, pos=middle)
    QTest.mouseMove(stage, middle + QPoint(0, 9_000))
    QTest.mouseRelease(stage, LEFT, pos=middle + QPoint(0, 9_000))
    assert space.part.camera.up == 89.0
    press(window, Qt.Key.Key_0)
    word = space.scene().rest.parts["name"].box.middle
    point = stage.to_view(*word).toPoint()
    QTest.mouseClick(stage, LEFT, pos=point)
    assert space.selection == ("name",), "a second click goes in"
    press(window, Qt.Key.Key_Escape)
    press(window, Qt.Key.Key_0)
    assert "Select a space" in window.message.text()


def test_the_recipe_says_depth_in_sentences(space, window, qtbot):
    space.select("name")
    qtbot.wait(80)
    assert sentence(window, "edges") and sentence(window, "stand elsewhere")
    qtbot.mouseClick(sentence(window, "stand elsewhere")[0], LEFT)
    assert space.template.part("name").stand.before == 0.0
    qtbot.wait(80)
    qtbot.mouseClick(sentence(window, "make flat")[0], LEFT)
    assert space.template.part("name").solid is None
    qtbot.wait(80)
    qtbot.mouseClick(sentence(window, "make solid")[0], LEFT)
    assert space.template.part("name").solid.depth == 59.0
    space.select("space")
    qtbot.wait(80)
    assert sentence(window, "light")
    space.write({"space/camera.round": 30.0})
    qtbot.wait(80)
    qtbot.mouseClick(sentence(window, "camera at rest")[0], LEFT)
    assert space.part.camera.round == 0.0


def test_lights_have_names_and_are_ordinary_values(space):
    assert LIGHTS["over the left shoulder"] == (space.part.sun, space.part.sky)
    assert all(0 <= sun.strength <= 400 and -89 <= sun.up <= 89 for sun, _ in LIGHTS.values())


def test_a_part_outside_of_spaces_has_no_depth_in_its_recipe(window, qtbot):
    press(window, Qt.Key.Key_T)
    window.build.stage.finish_typing()
    qtbot.wait(80)
    assert not sentence(window, "make solid") and not sentence(window, "stand elsewhere")


@pytest.fixture
def scene(window, qtbot):
    """The demo's rising word, its space selected."""
    window.session.mark_saved(window.state / "x")
    window.files.open_path(DEMO / "rising-word.avlet")
    window.session.go_to(60)
    window.session.select("scene")
    qtbot.waitUntil(window.build.depths.isVisible)
    return window.session


def drag(widget, start, by):
    QTest.mousePress(widget, LEFT, pos=start)
    QTest.mouseMove(widget, start + by / 2)
    QTest.mouseMove(widget, start + by)
    QTest.mouseRelease(widget, LEFT, pos=start + by)


def place(view, name):
    return view.area_of(next(item for item in view.items() if item.id == name)).center().toPoint()


def test_views_from_above_and_from_the_side_are_to_scale(scene, window):
    above, side = window.build.depths.above, window.build.depths.side
    items = {item.id: above.area_of(item) for item in above.items()}
    assert set(items) == {"word", "sheet", "camera", "sun"}
    ink = scene.scene().rest.parts["word"].ink
    assert items["word"].width() == pytest.approx(ink.w * above.scale + 2, abs=1.0)
    assert items["sheet"].width() == pytest.approx(1920 * above.scale + 2, abs=1.0)
    tall = {item.id: side.area_of(item) for item in side.items()}
    assert tall["word"].height() == pytest.approx(ink.h * side.scale + 2, abs=1.0)
    depth = 90 * 0.12
    assert tall["word"].width() == pytest.approx(depth * side.scale + 2, abs=1.0)
    eye = above.area_of(next(item for item in above.items() if item.id == "camera")).center()
    assert eye.y() - above.at(np.zeros(3)).y() == pytest.approx(1080 / 2 / np.tan(np.radians(17)) * above.scale, abs=0.1)
    scene.select("word")
    assert window.build.depths.isVisible() and not window.build.samples.isVisible(), "what stands in a space shows it as well"
    scene.select(None)
    assert not window.build.depths.isVisible() and window.build.samples.isVisible()


def test_members_camera_and_sun_are_dragged(scene, window):
    above, side = window.build.depths.above, window.build.depths.side
    drag(above, place(above, "word"), QPoint(0, 10))
    before = scene.template.part("word").stand.before
    assert before == pytest.approx(10 / above.scale, abs=1.0) and scene.history.undo_label == "Word: where it stands"
    drag(above, place(above, "word"), QPoint(0, 5))
    assert scene.template.part("word").stand.before > before
    drag(above, place(above, "camera"), QPoint(40, 0))
    assert scene.template.part("scene").camera.round == 20.0
    drag(side, place(side, "camera"), QPoint(0, -30))
    assert scene.template.part("scene").camera.up == 15.0
    drag(above, place(above, "sun"), QPoint(20, 0))
    assert scene.template.part("scene").sun.round == -20.0
    drag(side, place(side, "sun"), QPoint(0, 10))
    assert scene.template.part("scene").sun.up == 40.0
    for _ in range(6):
        scene.undo()
    assert scene.template.part("scene").camera.round == 0.0 and scene.template.part("word").stand is None, "each drag is one undo"


def test_views_by_keys(scene, window):
    above = window.build.depths.above
    above.setFocus()
    assert above.chosen == "camera"
    press(window, Qt.Key.Key_Right)
    for _ in range(4):
        if above.chosen == "word":
            break
        press(window, Qt.Key.Key_Right)
    assert above.chosen == "word" and above.accessibleDescription() == "Word · 11 deep"
    press(window, Qt.Key.Key_Down)
    press(window, Qt.Key.Key_Down)
    assert scene.template.part("word").stand.before == 20.0
    press(window, Qt.Key.Key_Up)
    assert scene.template.part("word").stand.before == 10.0
    while above.chosen != "camera":
        press(window, Qt.Key.Key_Left)
    press(window, Qt.Key.Key_Down)
    assert scene.template.part("scene").camera.round == 5.0
