"""Marks of a template: as values, and in the hand on the ruler's head and in the list."""

import itertools

import pytest
from hands import drag, move_held, settle
from hypothesis import given
from hypothesis import strategies as st
from PyQt6.QtCore import QPoint, QPointF, Qt
from PyQt6.QtWidgets import QPushButton

from avlet.desktop.time.ruler_picture import mark_flags
from avlet.document.editing.edits import replace
from avlet.document.editing.marks import move_mark, put_mark, remove_mark
from avlet.document.template import Mark, Template
from avlet.errors import DocumentError
from avlet.limits import MOST_MARKS

LEFT = Qt.MouseButton.LeftButton
TWO = (Mark(30, "a"), Mark(50, "b"))


@given(st.lists(st.integers(0, 124), min_size=1, max_size=12), st.integers(-1000, 1000), st.data())
def test_marks_stay_in_order_and_within_the_title(frames, to, data):
    template = Template(length=125)
    for number, frame in enumerate(frames):
        template = put_mark(template, Mark(frame, f"m{number}"))
    assert [m.frame for m in template.marks] == sorted(frames)
    number = data.draw(st.integers(0, len(frames) - 1))
    moved = move_mark(template, number, to)
    assert [m.frame for m in moved.marks] == sorted(m.frame for m in moved.marks)
    (changed,) = {m for m in moved.marks if m.name == template.marks[number].name}
    assert changed.frame == max(0, min(124, to))
    assert {m for m in moved.marks if m != changed} == {m for n, m in enumerate(template.marks) if n != number}
    assert remove_mark(template, number).marks == template.marks[:number] + template.marks[number + 1 :]


def test_more_marks_than_there_may_be_are_refused_in_words():
    full = Template(marks=(Mark(0, "x"),) * MOST_MARKS)
    with pytest.raises(DocumentError, match="at most 200 marks"):
        put_mark(full, Mark(3, "one more"))


# By hand


@pytest.fixture
def ruler(window, qtbot):
    window.show_bench(1)
    settle()
    qtbot.waitUntil(window.isActiveWindow)
    session = window.session
    session.select(None)
    session.edit("Marks", lambda t: replace(t, marks=TWO))
    ruler = window.time.ruler
    if ruler.folded:
        ruler.folded = False
    settle()
    return ruler


def flag(ruler, frame) -> QPoint:
    return QPointF(ruler.time.x_of(frame) + 8, 8).toPoint()


def test_a_mark_is_dragged_in_one_step_and_catches_on_the_other(ruler, qtbot):
    session = ruler.session
    before = session.template
    drag(qtbot, ruler, flag(ruler, 30), flag(ruler, 70) - flag(ruler, 30))
    assert ruler.marks.chosen is not None and ruler.marks.chosen.name == "a"
    assert [(m.name, m.frame) for m in session.template.marks] == [("b", 50), ("a", ruler.marks.chosen.frame)]
    assert abs(ruler.marks.chosen.frame - 70) <= 1
    session.undo()
    assert session.template == before, "one step back"
    assert ruler.marks.chosen is None, "what is gone is not chosen"
    drag(qtbot, ruler, flag(ruler, 30), flag(ruler, 50) - flag(ruler, 30) + QPoint(3, 0))
    assert [m.frame for m in session.template.marks] == [50, 50]


def test_a_mark_does_not_catch_on_where_it_was(ruler, qtbot):
    ruler.session.edit("Marks", lambda t: replace(t, marks=(Mark(62, "in the hold"),)))
    ruler.session.go_to(100)
    step = round(ruler.time.scale * 0.6)
    assert 2 <= step <= 7, "near enough to catch"
    drag(qtbot, ruler, flag(ruler, 62), QPoint(step, 0))
    assert ruler.session.template.marks[0].frame == 63, "a small step is a step"


def test_i_and_o_bring_the_chosen_mark_to_the_playhead_and_del_takes_it_away(ruler, qtbot, window):
    session = ruler.session
    for key, frame in ((Qt.Key.Key_I, 12), (Qt.Key.Key_O, 80)):
        session.go_to(session.template.marks[0].frame)
        qtbot.mouseClick(ruler, LEFT, pos=flag(ruler, next(m.frame for m in session.template.marks if m.name == "a")))
        session.go_to(frame)
        qtbot.keyClick(window.windowHandle(), key)
        settle()
        assert next(m for m in session.template.marks if m.name == "a").frame == frame
        assert next(m for m in session.template.marks if m.name == "b").frame == 50, "the other stays"
    qtbot.keyClick(window.windowHandle(), Qt.Key.Key_Delete)
    settle()
    assert session.template.marks == (Mark(50, "b"),) and session.template.parts
    said = []
    session.refused.connect(said.append)
    qtbot.keyClick(window.windowHandle(), Qt.Key.Key_I)
    assert "Choose moves, keys or a mark" in said[-1]


def test_the_head_of_the_playhead_lies_before_a_mark(ruler, qtbot):
    ruler.session.go_to(50)
    drag(qtbot, ruler, flag(ruler, 50) - QPoint(8, 0), QPoint(60, 0))
    assert ruler.session.template.marks == TWO and ruler.session.frame > 50


def test_a_mark_and_moves_are_not_chosen_at_once(ruler, qtbot):
    bar = next(bar for row in ruler.rows for bar in row.bars if not bar.mirrored)
    ruler.choose((bar.at,))
    qtbot.mouseClick(ruler, LEFT, pos=flag(ruler, 50))
    assert ruler.marks.chosen == TWO[1] and ruler.chosen == ()
    ruler.choose((bar.at,))
    assert ruler.marks.chosen is None


def test_a_mark_is_brought_here_from_the_list(ruler, qtbot, window):
    ruler.session.go_to(61)
    qtbot.mouseClick(window.time.panel.findChild(QPushButton, "bring mark 0"), LEFT)
    settle()
    assert ruler.session.template.marks == (Mark(50, "b"), Mark(61, "a"))
    qtbot.mouseClick(window.time.panel.findChild(QPushButton, "remove mark 0"), LEFT)
    settle()
    assert ruler.session.template.marks == (Mark(61, "a"),)


def test_the_flag_of_a_mark_says_what_is_done_to_it_and_shows_that_it_is_chosen(ruler, qtbot):
    plain = ruler.grab().toImage()
    move_held(ruler, QPointF(flag(ruler, 50)))
    settle()
    assert "b: frame 50" in ruler.toolTip() and "I or O" in ruler.toolTip()
    qtbot.mouseClick(ruler, LEFT, pos=flag(ruler, 50))
    settle()
    shown = ruler.grab().toImage()
    x = round(ruler.time.x_of(50)) + 2
    assert shown.pixelColor(x, 3) != plain.pixelColor(x, 3)


def test_long_names_of_marks_keep_to_their_room(ruler, qtbot, window):
    long = (Mark(20, "x" * 100), Mark(40, "ü" * 100), Mark(41, "b"))
    ruler.session.edit("Marks", lambda t: replace(t, marks=long))
    settle()
    flags = mark_flags(ruler.time, long)
    assert all(a.right() <= b.left() + 1 for (_, a, _), (_, b, _) in itertools.pairwise(flags) if b.left() - a.left() > 20)
    assert max(area.width() for _, area, _ in flags) <= 170 and [m for m, _, _ in flags] == list(long)
    assert ruler.marks.at(flags[0][1].center()) == long[0]
    assert window.time.panel.widget().minimumSizeHint().width() <= window.time.panel.viewport().width()
