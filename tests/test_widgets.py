"""Single widgets of the interface, each by mouse and keys."""

from fractions import Fraction

import pytest
from conftest import plated
from hands import settle
from PyQt6.QtCore import QPoint, QPointF, QRect, Qt
from PyQt6.QtGui import QImage, QMouseEvent, QPainter, QWheelEvent
from PyQt6.QtWidgets import QApplication, QLabel, QLineEdit, QWidget

from avlet.desktop.card.card_view import CardView
from avlet.desktop.desk.library_view import LibraryView
from avlet.desktop.recipe.look_rows import LookRow
from avlet.desktop.sessions.cut_session import CutSession
from avlet.desktop.sessions.player import Player
from avlet.desktop.sessions.template_session import Session
from avlet.desktop.stage.backgrounds import BACKGROUNDS, Background
from avlet.desktop.stage.drafting import dimensions
from avlet.desktop.stage.frame_view import FrameView, Laid
from avlet.desktop.stage.stage import Stage
from avlet.desktop.widgets import theme
from avlet.desktop.widgets.colour_button import ColourButton
from avlet.desktop.widgets.colour_panel import SWATCHES, ColourPanel
from avlet.desktop.widgets.families import FamilyBox
from avlet.desktop.widgets.flow import FlowLayout
from avlet.desktop.widgets.gradients import GradientStrip
from avlet.desktop.widgets.icons import _DRAWINGS, pixmap
from avlet.desktop.widgets.numbers import NumberBox
from avlet.desktop.widgets.switch import Switch
from avlet.desktop.widgets.theme import qcolor
from avlet.document.cards.card import Card, Section
from avlet.document.cut import Title
from avlet.document.editing import edits
from avlet.document.editing.alignment import leader
from avlet.document.fields import ColourField, NumberField, SwitchField, TextField
from avlet.document.looks.paints import Stop
from avlet.document.parts import CounterPart, Fit, Place, ShapePart
from avlet.document.template import Frame, Template
from avlet.geometry import Box
from avlet.layout.snapping import Caught
from avlet.paint.scene import Scene
from avlet.storage.handing_over import hand_over
from avlet.text.fonts import FontBook, bundled_fonts


@pytest.fixture(autouse=True)
def dressed(qapp):
    theme.apply(qapp)


def shown(qtbot, widget: QWidget, width=400, height=300) -> QWidget:
    qtbot.addWidget(widget)
    widget.resize(width, height)
    widget.show()
    qtbot.waitExposed(widget)
    return widget


def drag(widget: QWidget, start: QPointF, end: QPointF, modifier=Qt.KeyboardModifier.NoModifier, button=Qt.MouseButton.LeftButton) -> None:
    kinds = QMouseEvent.Type
    middle = (start + end) / 2
    for kind, at, pressed in (
        (kinds.MouseButtonPress, start, button), (kinds.MouseMove, middle, Qt.MouseButton.NoButton),
        (kinds.MouseMove, end, Qt.MouseButton.NoButton), (kinds.MouseButtonRelease, end, button),
    ):  # fmt: skip
        held = Qt.MouseButton.NoButton if kind == kinds.MouseButtonRelease else button
        QApplication.sendEvent(widget, QMouseEvent(kind, at, widget.mapToGlobal(at), pressed, held, modifier))


def wheel(widget: QWidget, at: QPointF, notches: int, modifier=Qt.KeyboardModifier.NoModifier) -> None:
    event = QWheelEvent(
        at,
        widget.mapToGlobal(at),
        QPoint(),
        QPoint(0, 120 * notches),
        Qt.MouseButton.NoButton,
        modifier,
        Qt.ScrollPhase.NoScrollPhase,
        False,
    )
    QApplication.sendEvent(widget, event)


# Numbers, switches, colours


def test_a_number_is_dragged_and_turned(qtbot):
    box = shown(qtbot, NumberBox(10, 0, 30, 1), 60, 24)
    box.activateWindow()
    qtbot.waitUntil(box.isActiveWindow)
    box.clearFocus()
    ended = []
    box.finished.connect(lambda: ended.append(box.value))
    drag(box, QPointF(10, 10), QPointF(30, 10))
    assert box.value == 20
    drag(box, QPointF(10, 10), QPointF(300, 10))
    assert box.value == 30
    assert ended == [20, 30]
    wheel(box, QPointF(5, 5), -2)
    assert box.value == 28
    drag(box, QPointF(10, 10), QPointF(30, 10), Qt.KeyboardModifier.ShiftModifier)
    assert box.value == 29


def test_a_switch_says_its_state_in_words(qtbot):
    switch = shown(qtbot, Switch(False), 70, 24)
    before = switch.grab().toImage()
    qtbot.keyClick(switch, Qt.Key.Key_Space)
    assert switch.isChecked()
    assert switch.grab().toImage() != before


def test_a_colour_that_is_none_is_said_and_shown_as_none(qtbot, dressed):
    """What was typed stays there, marked and with words under it, until it is a colour."""
    host = QWidget()
    qtbot.addWidget(host)
    host.show()
    panel, told = ColourPanel("#20435C", host), []
    panel.changed.connect(told.append)
    panel.show()
    for words in ("blue-ish", "#12345", "#GG0000"):
        panel.value.setFocus()
        panel.value.selectAll()
        qtbot.keyClicks(panel.value, words)
        qtbot.keyClick(panel.value, Qt.Key.Key_Return)
        assert panel.value.text() == words and panel.value.property("wrong") and words in panel.fault.text() and panel.fault.isVisible()
    assert told == []
    panel.value.selectAll()
    qtbot.keyClicks(panel.value, "1af")
    qtbot.keyClick(panel.value, Qt.Key.Key_Return)
    assert told[-1] == "#11AAFF" == panel.value.text() and not panel.value.property("wrong") and not panel.fault.isVisible()


def test_a_colour_that_is_not_taken_is_not_shown(window, qtbot):
    """Locked out by what the document refuses, a row and a sentence go on showing what is there."""
    window.session.select("plate")
    window.session.edit("Free", lambda t: edits.replace(t, wires=tuple(w for w in t.wires if w.target != "plate/fill.colour")))
    QApplication.processEvents()
    row = next(r for r in window.build.recipe.findChildren(LookRow) if r.target == "plate/fill.colour")
    before, said = row.editor.colour, []
    window.session.refused.connect(said.append)
    row.editor._take("#12")
    assert said and row.editor.colour == before == window.session.part.fill.colour
    row.editor._take("#123456")
    assert window.session.part.fill.colour == "#123456"


def test_a_control_whose_part_has_gone_takes_its_last_change_quietly(window, qtbot):
    """What is typed is told when the focus leaves, which may be when undo has taken the part and its panel with it."""
    session, said = window.session, []
    session.refused.connect(said.append)
    plate = ShapePart(id="more", name="More", width=200, height=80, across=Place(gap=10), down=Place(gap=10))
    session.edit("Add", lambda t: edits.replace(t, parts=(*t.parts, plate, CounterPart(id="count", name="Count"))))
    session.write({"count/writing.style": "money"})
    for part_id in ("more", "count"):
        session.select(part_id)
        settle()
        rows = [r for r in window.build.recipe.findChildren(LookRow) if r.target.startswith(f"{part_id}/")]
        line = window.build.recipe.findChild(QLineEdit, "count/writing.currency")
        assert rows and (line is not None) == (part_id == "count")
        if line is not None:
            line.setFocus()
            line.selectAll()
            qtbot.keyClicks(line, "NOK")
        session.edit("Gone", lambda t, gone=part_id: edits.replace(t, parts=tuple(p for p in t.parts if p.id != gone)))
        gone = session.template
        for row in rows:
            row._set(row.prop.value)
        assert said == [] and session.template is gone and not session.holds(f"{part_id}/x") and session.holds("template/length")
        session.undo()


@pytest.mark.parametrize(
    ("typed", "wanted"), [("#123456", "#123456"), ("abcdef", "#ABCDEF"), ("#11223380", "#11223380"), ("1a2", "#11AA22")]
)
def test_a_colour_is_typed(qtbot, typed, wanted):
    host = shown(qtbot, QWidget())
    panel = ColourPanel("#20435C", host)
    told = []
    panel.changed.connect(told.append)
    panel.value.setText(typed)
    panel.value.editingFinished.emit()
    assert told[-1] == wanted


def test_a_colour_is_dragged_and_chosen(qtbot):
    button = shown(qtbot, ColourButton("#FF0000"), 140, 26)
    told = []
    button.changed.connect(told.append)
    qtbot.mouseClick(button, Qt.MouseButton.LeftButton)
    panel = button._panel
    hue, _, _, alpha = panel._bars
    drag(hue, QPointF(5, 8), QPointF(4 + (hue.width() - 8) / 3, 8))
    assert qcolor(told[-1]).green() > 240
    drag(alpha, QPointF(140, 8), QPointF(4 + (alpha.width() - 8) / 2, 8))
    assert told[-1].endswith(("7F", "80"))
    panel.choose(SWATCHES[6])
    assert button.colour == SWATCHES[6]
    panel.hide()


def test_a_gradient_strip_by_keys(qtbot):
    strip = shown(qtbot, GradientStrip((Stop(0, "#000000"), Stop(40, "#808080"), Stop(100, "#FFFFFF"))), 216, 40)
    told = []
    strip.changed.connect(told.append)
    strip.chosen = 1
    qtbot.keyClick(strip, Qt.Key.Key_Right)
    assert told[-1][1].at == 41
    qtbot.keyClick(strip, Qt.Key.Key_Delete)
    assert len(told[-1]) == 2
    qtbot.keyClick(strip, Qt.Key.Key_Delete)
    assert len(strip.stops) == 2
    assert strip.colour_at(50) == "#808080"


def test_a_stop_is_dragged_away(qtbot):
    strip = shown(qtbot, GradientStrip((Stop(0, "#000000"), Stop(50, "#FF0000"), Stop(100, "#FFFFFF"))), 216, 40)
    drag(strip, QPointF(strip.x_of(50), 26), QPointF(strip.x_of(50), 120))
    assert [s.at for s in strip.stops] == [0, 100]
    drag(strip, QPointF(strip.x_of(100), 26), QPointF(strip.x_of(100), 120))
    assert len(strip.stops) == 2


def test_a_family_is_found_by_typing(qtbot):
    chosen = []
    box = shown(qtbot, FamilyBox(FontBook(bundled_fonts().faces), "Fira Sans", chosen.append), 160, 26)
    box.fill()
    assert box.count() == len(bundled_fonts().families())
    assert box.itemData(0, Qt.ItemDataRole.FontRole).family() == box.itemText(0)
    for typed in ("alegreya", "nothing like it"):
        box.lineEdit().setText(typed)
        box.lineEdit().editingFinished.emit()
    assert chosen == ["Alegreya"]
    assert box.currentText() == "Alegreya"


# Layout and icons


def test_words_flow_and_wrap_without_overlap(qtbot):
    host = QWidget()
    layout = FlowLayout(host)
    for word in ["fits", "around", "Name", "with", "50", "at", "the", "sides", ",", "and", "25", "above", "and", "below"]:
        layout.addWidget(QLabel(word))
    shown(qtbot, host)
    for width in (90, 160, 400):
        layout.setGeometry(QRect(0, 0, width, 400))
        areas = [layout.itemAt(i).geometry() for i in range(layout.count())]
        assert all(a.right() <= width for a in areas)
        assert not any(a.intersects(b) for i, a in enumerate(areas) for b in areas[:i])
    assert layout.heightForWidth(90) > layout.heightForWidth(400)
    layout.setGeometry(QRect(0, 0, 800, 400))
    comma = [layout.itemAt(i).geometry() for i in (7, 8)]
    assert comma[1].left() - comma[0].right() <= 1


@pytest.mark.parametrize("name", sorted(_DRAWINGS))
def test_every_icon_draws_something_within_its_square(qapp, name):
    image = pixmap(name, "#FFFFFF", 18, 2.0).toImage()
    inked = [(x, y) for x in range(image.width()) for y in range(image.height()) if image.pixelColor(x, y).alpha() > 40]
    assert inked
    assert min(min(p) for p in inked) >= 1


@pytest.mark.parametrize("name", BACKGROUNDS)
def test_backgrounds_fill_their_area(qapp, name):
    image = QImage(160, 90, QImage.Format.Format_ARGB32)
    image.fill(0)
    painter = QPainter(image)
    Background(name).draw(painter, image.rect().toRectF(), 1.0)
    painter.end()
    assert all(image.pixelColor(x, y).alpha() == 255 for x, y in ((0, 0), (159, 89), (80, 45)))


# Playing and looking


class Clock:
    """A clock that is set by hand."""

    def __init__(self) -> None:
        self.seconds = 0.0

    def nsecsElapsed(self) -> int:
        return round(self.seconds * 1_000_000_000)

    def restart(self) -> None:
        self.seconds = 0.0


@pytest.fixture
def played(qapp):
    """A player of 1000 frames at 100 a second, its clock in our hands, and the frames that it told."""
    player = Player(lambda: 1000, lambda: Fraction(100))
    player._clock = Clock()
    frames: list[int] = []
    player.frame_due.connect(frames.append)
    yield player, frames
    player.stop()


def tick(player: Player, seconds: float) -> None:
    player._clock.seconds = seconds
    player._tick()


def test_a_player_follows_the_clock_and_counts_what_it_drops(played):
    player, frames = played
    player.play(10)
    for seconds in (0.001, 0.006, 0.012, 0.021, 0.033):
        tick(player, seconds)
    assert frames == [10, 11, 12, 13]
    assert player.dropped == 0
    tick(player, 0.155)
    assert frames[-1] == 25
    assert player.dropped == 11
    player.stop()
    assert not player.playing


def test_a_player_loops_or_stops_at_the_end(played):
    player, frames = played
    player.play(998)
    for seconds in (0.0, 0.01, 0.02, 0.03):
        tick(player, seconds)
    assert frames == [998, 999, 0, 1]
    player.stop()
    player.loop = False
    frames.clear()
    player.play(998)
    for seconds in (0.01, 0.02):
        tick(player, seconds)
    assert frames == [999, 999]
    assert not player.playing
    player.play(999)
    tick(player, 0.0)
    assert frames[-1] == 0


def test_a_view_zooms_about_the_pointer_and_pans(qtbot):
    view = shown(qtbot, FrameView(), 600, 400)
    scene = Scene(plated(), bundled_fonts())
    view.show_frame(scene.template.frame, (Laid(scene.pose(50), scene.template.frame),), 2.0)
    at = QPointF(420, 120)
    held = view.to_frame(at)
    wheel(view, at, 3, Qt.KeyboardModifier.ControlModifier)
    assert not view.fits
    assert (view.to_frame(at).x(), view.to_frame(at).y()) == pytest.approx((held.x(), held.y()))
    corner = view.picture_area().topLeft()
    drag(view, QPointF(100, 100), QPointF(150, 120), button=Qt.MouseButton.MiddleButton)
    assert (view.picture_area().topLeft() - corner).x() == pytest.approx(50)
    wheel(view, at, 1)
    assert not view.grab().isNull()
    view.zoom_to(None)
    assert view.fits


# The stage


@pytest.fixture
def stage(qtbot):
    session = Session()
    extra = ShapePart(id="free", name="Free", width=200, height=100, across=Place(gap=1200), down=Place(gap=200))
    session.open(edits.add_part(plated(), extra), bundled_fonts(), None)
    return shown(qtbot, Stage(session), 960, 540)


def test_a_drag_catches_on_edges_and_says_where(stage):
    session = stage.session
    rest = session.scene().rest.parts
    target = rest["plate"].box.y
    start = stage.box_in_view(rest["free"].box).center()
    near = QPointF(0, (target - rest["free"].box.y) * stage.scale + 3)
    kinds = QMouseEvent.Type
    none, left = Qt.MouseButton.NoButton, Qt.MouseButton.LeftButton
    for kind, at, button in (
        (kinds.MouseButtonPress, start, left),
        (kinds.MouseMove, start + near / 2, none),
        (kinds.MouseMove, start + near, none),
    ):
        QApplication.sendEvent(stage, QMouseEvent(kind, at, stage.mapToGlobal(at), button, left, Qt.KeyboardModifier.NoModifier))
    assert session.scene().rest.parts["free"].box.y == pytest.approx(target, abs=1)
    assert Caught(1, target) in stage.caught
    assert not stage.grab().isNull()
    QApplication.sendEvent(
        stage,
        QMouseEvent(kinds.MouseButtonRelease, start + near, stage.mapToGlobal(start + near), left, none, Qt.KeyboardModifier.NoModifier),
    )
    assert stage.caught == ()


def test_shift_keeps_a_drag_straight(stage):
    before = stage.session.scene().rest.parts["free"].box
    start = stage.box_in_view(before).center()
    drag(stage, start, start + QPointF(83, 21), Qt.KeyboardModifier.ShiftModifier | Qt.KeyboardModifier.AltModifier)
    after = stage.session.scene().rest.parts["free"].box
    assert after.y == before.y
    assert after.x > before.x


def test_a_part_under_another_is_reached_where_it_shows(stage):
    rest = stage.session.scene().rest.parts
    assert stage.part_at(stage.box_in_view(rest["name"].box).center()) == "name"
    plate = stage.box_in_view(rest["plate"].box)
    assert stage.part_at(QPointF(plate.left() + 12, plate.center().y())) == "plate"
    assert stage.part_at(QPointF(5, 5)) is None


def test_dragging_what_follows_moves_its_leader():
    template = plated()
    assert leader(template, "plate", "across") == "name"
    assert leader(template, "name", "down") == "name"
    around = edits.add_part(template, ShapePart(id="outer", name="Outer", fit=Fit(("plate",)), across=None, down=None))
    assert leader(around, "outer", "down") == "name"


def test_several_parts_are_selected_and_moved_together(stage, qtbot):
    session = stage.session
    rest = session.scene().rest.parts
    qtbot.mouseClick(stage, Qt.MouseButton.LeftButton, pos=stage.box_in_view(rest["free"].box).center().toPoint())
    name = stage.box_in_view(rest["name"].box).center()
    qtbot.mouseClick(stage, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.ControlModifier, name.toPoint())
    assert session.selection == ("free", "name")
    before = {i: p.box for i, p in rest.items()}
    drag(stage, name, name + QPointF(40, 30), Qt.KeyboardModifier.AltModifier)
    after = {i: p.box for i, p in session.scene().rest.parts.items()}
    for part, box in before.items():
        assert after[part].x - box.x == pytest.approx(40 / stage.scale, abs=1)
        assert after[part].y - box.y == pytest.approx(30 / stage.scale, abs=1)
    session.undo()
    assert {i: p.box for i, p in session.scene().rest.parts.items()} == before
    qtbot.mouseClick(stage, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.ControlModifier, name.toPoint())
    assert session.selection == ("free",)
    session.select_all(["free", "name"])
    qtbot.mouseClick(stage, Qt.MouseButton.LeftButton, pos=name.toPoint())
    assert session.selection == ("name",)


def test_a_band_selects_what_lies_within(stage):
    whole = stage.picture_area()
    drag(stage, whole.topLeft() + QPointF(4, 4), whole.bottomRight() - QPointF(4, 4))
    assert set(stage.session.selection) == {"plate", "name", "free"}
    assert not stage.grab().isNull()
    drag(stage, whole.topLeft() + QPointF(4, 4), whole.topLeft() + QPointF(20, 20))
    assert stage.session.selection == ()


def test_a_shape_is_resized_by_its_corner(stage):
    session = stage.session
    session.select("free")
    stage.repaint()
    before = session.scene().rest.parts["free"].box
    area = next(a for a, side in stage.drafting.grips if side == (1, 1))
    drag(stage, area.center(), area.center() + QPointF(50, 25))
    after = session.scene().rest.parts["free"].box
    assert (after.x, after.y) == (before.x, before.y)
    assert after.w - before.w == pytest.approx(50 / stage.scale, abs=1.5)
    assert after.h - before.h == pytest.approx(25 / stage.scale, abs=1.5)
    session.undo()
    assert session.scene().rest.parts["free"].box == before
    assert session.selection == ("free",)


def test_dimension_lines_have_the_length_of_their_numbers():
    scene = Scene(plated(), bundled_fonts())
    found = {d.target: d for d in dimensions(scene.rest, "plate")}
    assert set(found) == {f"plate/fit.{side}" for side in ("left", "right", "top", "bottom")}
    for dimension in (*found.values(), *dimensions(scene.rest, "name")):
        axis = 0 if dimension.across else 1
        assert abs(dimension.end[axis] - dimension.start[axis]) == pytest.approx(abs(dimension.value))
        assert dimension.end[1 - axis] == dimension.start[1 - axis]


# The card and the library


def fields() -> Template:
    made = (
        TextField(id="line", label="Line", default="One"), TextField(id="many", label="Many", default="a\nb", several_lines=True),
        NumberField(id="free", label="Free", default=2.0), NumberField(id="slid", label="Slid", default=20.0, low=0, high=100, step=5),
        ColourField(id="tint", label="Tint", default="#123456"), SwitchField(id="on", label="On", default=True),
    )  # fmt: skip
    return Template(name="All kinds", card=Card("A note", (Section("First", made[:3]), Section("Second", made[3:]))))


def test_the_card_answers_for_every_kind_of_field(qtbot):
    card = shown(qtbot, CardView(), 300, 500)
    card.show_card(fields(), {"line": "Two"})
    told = {}
    card.answered.connect(told.__setitem__)
    assert card.inputs["line"].text() == "Two"
    card.inputs["line"].setText("")
    qtbot.keyClicks(card.inputs["line"], "Three")
    card.inputs["many"].setPlainText("x\ny\nz")
    card.inputs["free"].value_changed.emit(7.5)
    from PyQt6.QtWidgets import QSlider

    card.findChild(QSlider).setValue(3)
    card.inputs["tint"].changed.emit("#ABCDEF")
    qtbot.mouseClick(card.inputs["on"], Qt.MouseButton.LeftButton)
    assert told == {"line": "Three", "many": "x\ny\nz", "free": 7.5, "slid": 15, "tint": "#ABCDEF", "on": False}
    labels = [w.text() for w in card.findChildren(QLabel)]
    assert {"All kinds", "A note", "First", "Second"} <= set(labels)


def test_a_card_without_fields_says_so(qtbot):
    card = shown(qtbot, CardView())
    card.show_card(Template(), {})
    assert any("Nothing to fill in" in w.text() for w in card.findChildren(QLabel))


def test_the_library_lists_broken_packages_with_their_reason(qtbot, tmp_path):
    hand_over(plated(), bundled_fonts(), tmp_path)
    (tmp_path / "torn.avlet").write_bytes(b"PK")
    view = shown(qtbot, LibraryView(CutSession(tmp_path)))
    model = view.list.packages
    rows = [model.index(row) for row in range(view.list.count())]
    broken = next(row for row in rows if row.data().startswith("⚠"))
    assert "cannot be read" in broken.data(Qt.ItemDataRole.ToolTipRole)
    assert not model.flags(broken) & Qt.ItemFlag.ItemIsDragEnabled
    chosen = []
    view.chosen.connect(chosen.append)
    for row in rows:
        view.list.activated.emit(row)
    assert chosen == ["plated.avlet"]


def test_an_empty_library_says_the_next_step(qtbot, tmp_path):
    view = shown(qtbot, LibraryView(CutSession(tmp_path / "none")))
    assert "Build one and press" in view.hint.text()


def test_a_cut_gives_a_title_its_template_in_its_own_rate(qtbot, tmp_path):
    hand_over(plated(frame=Frame(1920, 1080, "50/1"), length=200), bundled_fonts(), tmp_path)
    session = CutSession(tmp_path)
    title = Title("a", "plated.avlet", 10, 100)
    scene = session.scene_of(title)
    assert scene.length == 200
    assert session.scene_of(title) is scene
    session.frame = 60
    assert session.frame_of(title, scene) == 100
    unknown = Title("b", "plated.avlet", 10, 100, {"gone": "x"})
    assert not isinstance(session.scene_of(unknown), str)
    assert isinstance(session.scene_of(Title("c", "nothing.avlet", 0, 10)), str)


def test_a_box_in_the_view_and_back(qtbot):
    view = shown(qtbot, FrameView(), 500, 300)
    view.show_frame(Frame(), (), 0.0)
    area = view.box_in_view(Box(100, 200, 300, 400))
    corner = view.to_frame(area.topLeft())
    assert (corner.x(), corner.y()) == pytest.approx((100, 200))
    assert area.width() == pytest.approx(300 * view.scale)
