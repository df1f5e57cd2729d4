"""Hands on the stage: what is pressed is what one gets, nothing moves under the hand, menus are where the hand is."""

import pytest
from conftest import DEMO
from hands import box, middle_of, row_of, settle
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtGui import QContextMenuEvent
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QInputDialog

from avlet.desktop.build.part_menu import PartMenu
from avlet.desktop.recipe.dot_menu import DotMenu
from avlet.desktop.recipe.look_rows import LookRow
from avlet.document.cards import carding
from avlet.document.editing import edits, sharing
from avlet.document.editing.edits import set_relations
from avlet.document.parts import Matte, Place, ShapePart
from avlet.document.template import Frame, Template

LEFT = Qt.MouseButton.LeftButton


@pytest.fixture
def stage(window):
    return window.build.stage


@pytest.fixture
def free(window):
    """Three plates over each other: red behind, then green, then blue, the last two in a group."""
    parts = tuple(
        ShapePart(id=i, name=i.title(), width=300.0, height=200.0, across=Place("frame", gap=x), down=Place("frame", gap=y))
        for i, x, y in (("red", 200, 200), ("green", 300, 260), ("blue", 1200, 600))
    )
    made = Template(name="Plates", frame=Frame(1920, 1080, "25/1"), length=50, way_in=0, way_out=0, parts=parts)
    window.session.open(made, window.session.book, None)
    settle()
    return window.session


def open_menu(widget, at, kind, reason=QContextMenuEvent.Reason.Mouse):
    """Right-click at a point, or press the menu key; the menu that opens."""
    event = QContextMenuEvent(reason, at, widget.mapToGlobal(at))
    QApplication.sendEvent(widget, event)
    settle()
    return next(w for w in QApplication.topLevelWidgets() if isinstance(w, kind) and w.isVisible())


def take(menu, *words):
    """Choose an entry, or one of a menu in it; each is told by how it begins."""
    for n, word in enumerate(words):
        action = next(a for a in menu.actions() if a.text().replace("&", "").startswith(word))
        assert action.isEnabled(), word
        if n < len(words) - 1:
            menu = action.menu()
            menu.aboutToShow.emit()
        else:
            action.trigger()
    for open_one in [w for w in QApplication.topLevelWidgets() if isinstance(w, PartMenu | DotMenu)]:
        open_one.close()
    settle()


def entries(menu):
    return [a.text().partition("\t")[0] for a in menu.actions() if a.text()]


# Nothing moves under the hand


def test_a_click_on_a_counter_keeps_the_counter(window, stage, qtbot):
    """Twelve clicks on counters and words of the demo, in turn: each selects what is under the hand."""
    window.files.open_path(DEMO / "four-counts.avlet")
    settle()
    names = [part.id for part in window.session.template.parts if part.kind in ("counter", "text")]
    for n in range(12):
        name = names[(n * 3) % len(names)]
        at = middle_of(stage, name)
        qtbot.mouseClick(stage, LEFT, pos=at)
        settle()
        assert window.session.selected == name, (n, name)
        assert middle_of(stage, name) == at, "the stage is where it was"


@pytest.mark.parametrize(("demo_name", "part"), [("four-counts", "hides-count"), ("rising-word", "word"), ("end-roll", "roll")])
def test_the_stage_stays_while_a_button_is_down(window, stage, qtbot, demo_name, part):
    """Whatever panel the selection brings, the picture lies still until the button is up; beside a list it may make room then."""
    window.files.open_path(DEMO / f"{demo_name}.avlet")
    window.session.select(None)
    settle()
    part = part if window.session.template.part(part) else next(p.id for p in window.session.template.parts if p.kind == "credits")
    before = stage.geometry(), stage.picture_area()
    at = stage.to_view(*window.session.scene().rest.parts[part].box.middle).toPoint()
    at = at if stage.rect().contains(at) else stage.rect().center()
    qtbot.mousePress(stage, LEFT, pos=at)
    settle()
    assert window.session.selected is not None and stage.held
    assert (stage.geometry(), stage.picture_area()) == before
    qtbot.mouseRelease(stage, LEFT, pos=at)
    settle()
    assert not stage.held
    if demo_name != "end-roll":
        assert (stage.geometry(), stage.picture_area()) == before, "one height for samples, curve and views"
    else:
        assert window.build.list.isVisible(), "the list comes once the button is up"


def test_what_lies_under_the_stage_has_one_height_and_can_be_the_samples(window, qtbot):
    build, session = window.build, window.session
    window.files.open_path(DEMO / "four-counts.avlet")
    settle()
    height = build.foot.height()
    assert build.samples.isVisible() and not build.count.isVisible() and not build.count_switch.isVisible()
    session.select("hides-count")
    settle()
    assert build.count.isVisible() and not build.samples.isVisible() and build.count.height() == height
    qtbot.mouseClick(build.count_switch, LEFT)
    settle()
    assert build.samples.isVisible() and build.foot.height() == height
    qtbot.mouseClick(build.count_switch, LEFT)
    session.select("band")
    settle()
    assert build.samples.isVisible() and not build.count_switch.isVisible()
    window.show_bench(1)
    session.select("hides-count")
    settle()
    assert window.time.count.isVisible() and not window.time.moments.isVisible()
    session.select("band")
    settle()
    assert window.time.moments.isVisible() and not window.time.count.isVisible()


def test_a_message_takes_no_room_goes_with_a_click_and_with_its_document(window, stage, qtbot):
    before = stage.geometry(), window.build.foot.geometry()
    window.say("The plate and the words wait for each other. " * 6)
    settle()
    assert window.message.isVisible() and (stage.geometry(), window.build.foot.geometry()) == before
    assert window.message.geometry().bottom() == window.stack.geometry().bottom() and window.message.height() > 40, "all lines are seen"
    window.resize(window.width() + 60, window.height() + 40)
    settle()
    assert window.message.geometry().bottom() == window.stack.geometry().bottom() and window.message.width() == window.stack.width()
    qtbot.mouseClick(window.message, LEFT)
    assert not window.message.isVisible()
    window.say("Only of this template.")
    window.session.select("plate")
    window.session.write({"plate/corner": 3.0})
    assert window.message.isVisible(), "a change leaves it there"
    window.files.open_path(DEMO / "rising-word.avlet")
    settle()
    assert "Only of this" not in window.message.text() or not window.message.isVisible()


# Drags


def test_esc_gives_up_a_drag(window, stage, qtbot, free, key):
    """What was dragged is where it was; a second Esc selects nothing."""
    at = stage.to_view(230, 230).toPoint()
    qtbot.mousePress(stage, LEFT, pos=at)
    qtbot.mouseMove(stage, at + QPoint(30, 10))
    qtbot.mouseMove(stage, at + QPoint(60, 22))
    assert free.template.part("red").across.gap > 300
    key(Qt.Key.Key_Escape)
    assert free.template.part("red").across.gap == 200 and free.selected == "red" and not stage.held
    qtbot.mouseMove(stage, at + QPoint(90, 40))
    qtbot.mouseRelease(stage, LEFT, pos=at + QPoint(90, 40))
    assert free.template.part("red").across.gap == 200 and free.history.undo_label is None
    key(Qt.Key.Key_Escape)
    assert free.selected is None


def test_esc_gives_up_a_size_a_turn_a_band_and_a_guide(window, stage, qtbot, free, key):
    free.select("red")
    settle()
    stage.grab()
    (grip,) = [area for area, side in stage.drafting.grips if side == (1, 1)]
    at = grip.center().toPoint()
    qtbot.mousePress(stage, LEFT, pos=at)
    qtbot.mouseMove(stage, at + QPoint(40, 40))
    assert free.template.part("red").width > 300
    key(Qt.Key.Key_Escape)
    assert free.template.part("red").width == 300
    qtbot.mouseRelease(stage, LEFT, pos=at)
    stage.grab()
    turn = next(handle for handle in stage.handles if handle.look == "turn")
    at = stage.to_view(*turn.at).toPoint()
    qtbot.mousePress(stage, LEFT, pos=at)
    qtbot.mouseMove(stage, at + QPoint(30, 0))
    qtbot.mouseMove(stage, at + QPoint(50, 10))
    assert free.template.part("red").turn != 0
    key(Qt.Key.Key_Escape)
    assert free.template.part("red").turn == 0
    qtbot.mouseRelease(stage, LEFT, pos=at)
    stage.rulers.shown = True
    qtbot.mousePress(stage, LEFT, pos=QPoint(200, 8))
    qtbot.mouseMove(stage, QPoint(200, 120))
    key(Qt.Key.Key_Escape)
    assert stage.rulers.held is None and not free.template.guides.down
    qtbot.mouseRelease(stage, LEFT, pos=QPoint(200, 120))
    assert not free.template.guides.down
    corner = stage.to_view(20, 20).toPoint()
    qtbot.mousePress(stage, LEFT, pos=corner)
    qtbot.mouseMove(stage, stage.to_view(1800, 1000).toPoint())
    key(Qt.Key.Key_Escape)
    qtbot.mouseRelease(stage, LEFT, pos=stage.to_view(1800, 1000).toPoint())
    assert free.selection == ()


def test_only_the_number_of_a_dimension_is_taken(window, stage, qtbot, free):
    """The line of a gap runs over the red plate: a click on it beside the number selects what lies there."""
    free.edit("Place", lambda t: set_relations(t, "blue", across=Place("red", "start", "end", 700.0)))
    free.select("blue")
    settle()
    stage.grab()
    ((area, dimension),) = [(a, d) for a, d in stage.drafting.labels if d.target == "blue/across.gap"]
    start, end = stage.to_view(*dimension.start), stage.to_view(*dimension.end)
    for beside in (area.topLeft() + (area.center() - area.topLeft()) * -0.2, start + (end - start) * 0.05):
        assert stage.drafting.at(beside) is None
    qtbot.mouseClick(stage, LEFT, pos=area.center().toPoint())
    settle()
    assert stage.number is not None and stage.number.hasFocus() and stage.number.value == 700
    qtbot.keyClicks(stage.number, "640")
    qtbot.keyClick(stage.number, Qt.Key.Key_Return)
    assert free.template.part("blue").across.gap == 640


def test_numbers_stand_outside_of_what_they_measure(window, stage, free):
    """From the middle of the frame to that of a plate: both numbers lie beside the plate, and not over each other."""
    middle = Place("frame", "middle", "middle")
    free.edit("Place", lambda t: set_relations(t, "blue", across=middle, down=middle))
    free.select("blue")
    settle()
    stage.grab()
    part = stage.box_in_view(free.scene().rest.parts["blue"].box)
    areas = [area for area, d in stage.drafting.labels if d.target.endswith(".gap")]
    assert len(areas) == 2 and not any(area.intersects(part) for area in areas) and not areas[0].intersects(areas[1])


# Menus


def test_a_right_click_selects_what_lies_there_and_offers_what_can_be_done(window, stage, free):
    menu = open_menu(stage, middle_of(stage, "green"), PartMenu)
    assert free.selected == "green"
    for words in ("To the front", "To the back", "Copy it, its look and moves", "Put on the card", "Cut it out of", "Hide", "Lock", "Group",
                  "Zoom to it", "Remove"):  # fmt: skip
        assert words in entries(menu), words
    take(menu, "To the back")
    assert [p.id for p in free.template.parts] == ["green", "red", "blue"]
    take(open_menu(stage, middle_of(stage, "red"), PartMenu), "To the front")
    assert [p.id for p in free.template.parts] == ["green", "blue", "red"] and free.selected == "red"
    take(open_menu(stage, middle_of(stage, "blue"), PartMenu), "Zoom to it")
    assert not stage.fits
    stage.zoom_to(None)
    take(open_menu(stage, middle_of(stage, "blue"), PartMenu), "Lock")
    assert free.template.part("blue").locked
    take(open_menu(window.build.parts.viewport(), row_of(window.build.parts, "blue"), PartMenu), "Unlock")
    take(open_menu(window.build.parts.viewport(), row_of(window.build.parts, "blue"), PartMenu), "Hide")
    assert not free.template.part("blue").shown and not free.template.part("blue").locked


def test_a_right_click_keeps_several_that_are_selected(window, stage, free):
    free.select_all(["red", "green"])
    take(open_menu(stage, middle_of(stage, "green"), PartMenu), "Hide")
    assert [p.id for p in free.template.parts if not p.shown] == ["red", "green"]
    take(open_menu(window.build.parts.viewport(), row_of(window.build.parts, "red"), PartMenu), "Show")
    assert all(p.shown for p in free.template.parts)
    take(open_menu(stage, middle_of(stage, "red"), PartMenu), "To the front")
    assert [p.id for p in free.template.parts] == ["blue", "red", "green"], "as they lay among each other"
    take(open_menu(stage, middle_of(stage, "red"), PartMenu), "To the back")
    assert [p.id for p in free.template.parts] == ["red", "green", "blue"]


def test_beside_all_parts_the_menu_says_that_nothing_is_selected(window, stage, free):
    free.select("red")
    menu = open_menu(stage, stage.to_view(1800, 60).toPoint(), PartMenu)
    assert entries(menu) == ["Nothing is selected"] and free.selected is None
    menu.close()


def test_the_menu_key_opens_the_menu_of_what_is_selected(window, stage, free):
    free.select("green")
    take(open_menu(stage, QPoint(3, 3), PartMenu, QContextMenuEvent.Reason.Keyboard), "To the front")
    assert free.template.parts[-1].id == "green" and free.selected == "green"
    window.build.parts.setFocus()
    take(open_menu(window.build.parts.viewport(), QPoint(3, 3), PartMenu, QContextMenuEvent.Reason.Keyboard), "To the back")
    assert free.template.parts[0].id == "green"


def test_a_part_is_cut_out_of_another_in_one_act(window, stage, free):
    """The nearest behind is offered first; what is cut out is not painted, and undone in one step."""
    menu = open_menu(stage, middle_of(stage, "green"), PartMenu)
    offered = next(a.menu() for a in menu.actions() if a.text() == "Cut it out of")
    assert entries(offered) == ["Red", "Blue"]
    before = free.scene().picture(10)[330, 400]
    take(menu, "Cut it out of", "Red")
    red, green = free.template.part("red"), free.template.part("green")
    assert red.mattes == (Matte("green", hides=True),) and green.opacity == 0
    assert before[3] == 255 and free.scene().picture(10)[330, 400][3] == 0, "one looks through both"
    assert free.scene().picture(10)[230, 230][3] == 255
    again = open_menu(stage, middle_of(stage, "red"), PartMenu)
    again.close()
    free.select("green")
    menu = open_menu(window.build.parts.viewport(), row_of(window.build.parts, "green"), PartMenu)
    assert entries(next(a.menu() for a in menu.actions() if a.text() == "Cut it out of")) == ["Blue"], "not twice"
    menu.close()
    window.undo()
    assert free.template.part("red").mattes == () and free.template.part("green").opacity == 100


def test_a_look_is_copied_and_taken_on_by_the_menu(window, stage, free, monkeypatch):
    from avlet.desktop.dialogs.tick_dialog import TickDialog

    QApplication.clipboard().clear()
    menu = open_menu(stage, stage.to_view(230, 230).toPoint(), PartMenu)
    assert not next(a for a in menu.actions() if a.text().startswith("Take on")).isEnabled(), "nothing was copied"
    free.write({"red/fill.colour": "#AA2211"})
    take(menu, "Copy it")
    assert free.selected == "red"
    monkeypatch.setattr(TickDialog, "exec", lambda self: self.DialogCode.Accepted)
    take(open_menu(stage, middle_of(stage, "blue"), PartMenu), "Take on")
    assert free.template.part("blue").fill.colour == "#AA2211"


def test_the_menu_puts_a_property_on_the_card(window, stage, free):
    take(open_menu(stage, stage.to_view(230, 230).toPoint(), PartMenu), "Put on the card", "Red colour")
    (wire,) = free.template.wires
    assert wire.target == "red/fill.colour" and free.template.card.field(wire.source) is not None
    menu = open_menu(stage, stage.to_view(230, 230).toPoint(), PartMenu)
    card = next(a.menu() for a in menu.actions() if a.text() == "Put on the card")
    assert "Red colour" not in entries(card) and "Red opacity" in entries(card)
    menu.close()


# Numbers and rows


def test_return_leaves_the_number_selected_and_tab_goes_to_the_next_of_its_sentence(window, qtbot, free):
    free.select("red")
    settle()
    width, height = box(window, "red/width"), box(window, "red/height")
    qtbot.mouseClick(width, LEFT)
    qtbot.keyClicks(width, "420")
    qtbot.keyClick(width, Qt.Key.Key_Return)
    settle()
    width = box(window, "red/width")
    assert free.template.part("red").width == 420 and width.hasFocus() and width.selectedText() == "420"
    QTest.keyClick(width, Qt.Key.Key_Tab)
    settle()
    height = box(window, "red/height")
    assert height.hasFocus() and height.selectedText() == "200"
    qtbot.keyClicks(height, "90")
    qtbot.keyClick(height, Qt.Key.Key_Return)
    assert free.template.part("red").height == 90
    QTest.keyClick(box(window, "red/height"), Qt.Key.Key_Backtab)
    settle()
    assert not box(window, "red/height").hasFocus()


def test_a_right_click_on_a_number_or_a_row_offers_usual_keys_card_and_counts(window, stage, qtbot):
    window.files.open_path(DEMO / "four-counts.avlet")
    session = window.session
    session.select("band")
    session.write({"band/corner": 33.0})
    settle()
    row = next(r for r in window.build.recipe.findChildren(LookRow) if r.target == "band/opacity")
    menu = open_menu(row, QPoint(10, 8), DotMenu)
    assert "Key it at this frame" in entries(menu) and "Put on the card" in entries(menu) and "Back to usual" not in entries(menu)
    assert any(e.startswith("Let it run with") for e in entries(menu))
    take(menu, "Let it run with", "Bird hides count")
    assert [run.path for run in session.template.part("band").runs] == ["opacity"]
    row = next(r for r in window.build.recipe.findChildren(LookRow) if r.target == "band/opacity")
    take(open_menu(row, QPoint(10, 8), DotMenu), "Let it run no more")
    assert not session.template.part("band").runs
    number = box(window, "band/corner")
    number.customContextMenuRequested.emit(QPoint(4, 4)) if number.parentWidget().__class__ is not LookRow else None
    if isinstance(number.parentWidget(), LookRow):
        open_menu(number.parentWidget(), QPoint(10, 8), DotMenu)
    settle()
    menu = next(w for w in QApplication.topLevelWidgets() if isinstance(w, DotMenu) and w.isVisible())
    take(menu, "Back to usual")
    assert session.template.part("band").corner == 0.0


def test_ctrl_a_belongs_to_what_is_typed_into(window, stage, qtbot, free):
    """In a number or in words it selects what stands there; from the list of parts and the stage it selects all parts."""
    all_of_it = (Qt.Key.Key_A, Qt.KeyboardModifier.ControlModifier)
    free.select("red")
    settle()
    number = box(window, "red/width")
    number.setFocus()
    number.deselect()
    qtbot.keyClick(window.windowHandle(), *all_of_it)
    settle()
    assert box(window, "red/width").selectedText() == "300" and free.selection == ("red",)
    for widget in (window.build.parts, stage):
        free.select("red")
        widget.setFocus()
        qtbot.keyClick(window.windowHandle(), *all_of_it)
        settle()
        assert len(free.selection) == 3, widget


def test_the_menu_of_a_part_among_hundreds(window, stage, free):
    """What it may be cut out of is offered from the nearest on, and no more than can be looked through."""
    many = tuple(
        ShapePart(id=f"m{n}", name=f"Part {n}", width=10.0, height=10.0, across=Place("frame", gap=900 + n), down=Place("frame", gap=20))
        for n in range(300)
    )
    free.edit("Many", lambda t: edits.replace(t, parts=(*many, *t.parts)))
    settle()
    menu = open_menu(stage, middle_of(stage, "blue"), PartMenu)
    offered = entries(next(a.menu() for a in menu.actions() if a.text() == "Cut it out of"))
    assert offered[:3] == ["Green", "Red", "Part 299"] and len(offered) == 30
    menu.close()


# One colour of the house for all that have the same


def test_all_that_share_a_colour_follow_one_of_the_house_in_one_act(window, qtbot, monkeypatch):
    """Five properties in two acts (a right click and a name), taken back by one undo; what a field drives stays with it."""
    session = window.session
    blue = {f"{part_id}/fill.colour": "#20435c" if part_id == "role-plate" else "#20435C" for part_id in ("rule", "plate", "role-plate")}
    for target in blue:
        session.edit("Off", lambda t, target=target: carding.unwired(t, target))
    session.write(blue)
    before = session.template
    session.select("rule")
    settle()
    row = next(r for r in window.build.recipe.findChildren(LookRow) if r.target == "rule/fill.colour")
    menu = open_menu(row, QPoint(10, 8), DotMenu)
    asked = []
    monkeypatch.setattr(QInputDialog, "getText", lambda *a, **k: (asked.append(a[2]), ("Deep water", True))[1])
    take(menu, "These 3 have the same colour: make it one of the house…")
    assert "Rule: fill: colour" in asked[0] and asked[0].count(",") == 2
    assert {w.target for w in session.template.wires if w.source == "palette/deep-water"} == set(blue)
    session.write({"plate/fill.colour": "#112233"})
    assert session.template.palette[-1].colour == "#112233", "one changes all"
    assert {session.shown(target) for target in blue} == {"#112233"}
    session.undo()
    session.undo()
    assert session.template == before


def test_a_colour_that_nothing_shares_offers_nothing(window, qtbot):
    session = window.session
    session.edit("Off", lambda t: carding.unwired(t, "rule/fill.colour"))
    session.write({"rule/fill.colour": "#123456"})
    assert sharing.of_the_same_colour(session.template, "rule/fill.colour") == ("rule/fill.colour",)
    session.edit("Off", lambda t: carding.unwired(t, "plate/fill.colour"))
    session.write({"plate/fill.colour": "#123456FF"})
    assert sharing.of_the_same_colour(session.template, "rule/fill.colour") == ("rule/fill.colour", "plate/fill.colour")
