"""New parts stand free, fit round what is selected, and lie behind the words."""

import itertools

import pytest
from conftest import plated
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QApplication

from avlet.document.editing import edits
from avlet.document.parts import TITLE_SAFE, Matte, Place, TextPart
from avlet.document.starts import STARTS
from avlet.document.template import Frame
from avlet.document.time.moves import Move
from avlet.layout.areas import frame_area
from avlet.layout.arrange import arrange
from avlet.layout.bind import bind
from avlet.paint.scene import Scene

replace = edits.replace


@pytest.fixture
def build(window, qtbot, book):
    window.session.open(next(iter(STARTS.values()))(Frame(1920, 1080, "25/1")), book, None)
    window.show_bench(0)
    window.build.stage.setFocus()
    QApplication.processEvents()
    return window


def press(qtbot, window, key) -> None:
    qtbot.waitUntil(window.isActiveWindow)
    qtbot.keyClick(window.windowHandle(), key)
    if key == Qt.Key.Key_T:  # which begins to type; Esc leaves the words as they are
        qtbot.keyClick(window.windowHandle(), Qt.Key.Key_Escape)
    QApplication.processEvents()


def test_five_texts_stand_free_of_each_other(build, qtbot):
    for _ in range(5):
        press(qtbot, build, Qt.Key.Key_T)
    rest = build.session.scene().rest
    boxes = [rest.parts[p.id].box for p in build.session.template.parts if isinstance(p, TextPart)]
    assert len(boxes) == 5
    for one, other in itertools.combinations(boxes, 2):
        assert one.bottom <= other.y or other.bottom <= one.y
    safe = frame_area(TITLE_SAFE, build.session.template.frame)
    assert all(safe.contains(box) for box in boxes)


def test_s_fits_round_all_that_is_selected_behind_them(build, qtbot):
    for _ in range(2):
        press(qtbot, build, Qt.Key.Key_T)
    ids = [p.id for p in build.session.template.parts]
    build.session.select_all(ids)
    press(qtbot, build, Qt.Key.Key_S)
    plate = build.session.part
    assert set(plate.fit.around) == set(ids)
    assert build.session.template.parts[0].id == plate.id
    assert all(build.session.template.part(i).mattes == (Matte(plate.id),) for i in ids)


def test_s_with_nothing_selected_lies_behind_the_words(build, qtbot):
    press(qtbot, build, Qt.Key.Key_T)
    build.session.select(None)
    press(qtbot, build, Qt.Key.Key_S)
    assert [p.kind for p in build.session.template.parts] == ["shape", "text"]
    assert build.session.part.fit is None


def stacked(*gaps: float, first_end: bool = False, empty: tuple[int, ...] = ()):
    """Lines under one another, each so far from the one before; some of them empty."""
    parts = []
    for number, gap in enumerate(gaps):
        place = Place(f"l{number - 1}", "start", "end", gap, closes=True) if number else Place("frame", gap=gap)
        if first_end and not number:
            place = Place("frame", "end", "end", -gap)
        text = "" if number in empty else f"Line {number}"
        parts.append(TextPart(id=f"l{number}", name=f"Line {number}", text=text, size=40, across=Place(gap=50), down=place))
    return replace(plated(), parts=tuple(parts))


@pytest.mark.parametrize("empty", [(1,), (1, 2), (1, 2, 3)])
def test_a_gap_closes_up_with_its_line(empty, book):
    """However many lines are empty, what follows stands one gap from what is there, not two or three."""
    rest = arrange(bind(stacked(100, 8, 8, 8, 8, empty=empty)), book)
    after = max(empty) + 1
    assert rest.parts[f"l{after}"].box.y - rest.parts["l0"].box.bottom == pytest.approx(8)


def test_an_empty_first_line_that_is_placed_by_its_end_gives_its_place_to_the_next(book):
    rest = arrange(bind(stacked(100, 8, first_end=True, empty=(0,))), book)
    assert rest.parts["l1"].box.bottom == pytest.approx(1080 - 100)
    both = arrange(bind(stacked(100, 8, first_end=True)), book)
    assert both.parts["l1"].box.y == pytest.approx(both.parts["l0"].box.bottom + 8)


def test_what_is_hidden_inside_a_part_leaves_that_part_not_the_frame(book):
    move = Move(travel="out of the matte", side="above")
    template = edits.set_relations(plated(), "name", mattes=(Matte("plate", hides=True),), way_in=(move,))
    made = Scene(template, book)
    assert made.pose(0).parts["name"].outline_box.bottom == pytest.approx(made.rest.parts["plate"].box.y - 1, abs=1)


def two_lines(build, qtbot):
    """Two texts, each with a plate of its own; the boxes of the plates."""
    for _ in range(2):
        press(qtbot, build, Qt.Key.Key_T)
        press(qtbot, build, Qt.Key.Key_S)
        build.session.select(None)
    rest = build.session.scene().rest
    return [rest.parts[p.id].box for p in build.session.template.parts if p.kind == "shape"]


def test_two_texts_with_plates_leave_a_gap(build, qtbot):
    upper, lower = sorted(two_lines(build, qtbot), key=lambda box: box.y)
    assert 15 < lower.y - upper.bottom < 40


def test_s_keeps_a_way_in_that_somebody_made(build, qtbot):
    """Only that of new words is replaced by rising out of the plate; whatever was changed of it, or chosen, stays."""
    session = build.session
    press(qtbot, build, Qt.Key.Key_T)
    (first,) = session.template.parts
    assert session.part.way_in == first.way_in and first.way_in[0].named == "fades"
    press(qtbot, build, Qt.Key.Key_S)
    assert session.template.part(first.id).way_in[0].named == "rises"
    build.undo()
    session.select(first.id)
    session.write({f"{first.id}/way_in.0.frames": 31})
    mine = session.part.way_in
    press(qtbot, build, Qt.Key.Key_S)
    words = session.template.part(first.id)
    assert words.way_in == mine and [m.inside for m in words.mattes] == [session.part.id]
    build.undo()
    session.select(first.id)
    session.edit("None", lambda t: edits.set_relations(t, first.id, way_in=()))
    press(qtbot, build, Qt.Key.Key_S)
    assert session.template.part(first.id).way_in[0].named == "rises", "none is nobody's"


@pytest.mark.parametrize(
    ("mine", "theirs", "hinge"),
    [("start", "start", 0), ("start", "middle", 0), ("middle", "middle", 50), ("end", "end", 100), ("end", "middle", 100)],
)
def test_a_plate_unfolds_from_the_edge_that_its_words_are_placed_by(build, qtbot, mine, theirs, hinge):
    session = build.session
    press(qtbot, build, Qt.Key.Key_T)
    part = session.part
    session.edit("Place", lambda t: edits.set_relations(t, part.id, across=Place("frame", mine, theirs)))
    press(qtbot, build, Qt.Key.Key_S)
    assert session.part.way_in[0].hinge_x == hinge
    made, box = session.scene(), session.scene().rest.parts[session.part.id].box
    now = made.pose(6).parts[session.part.id].outline_box
    edge = {0: (now.x, box.x), 50: (now.middle[0], box.middle[0]), 100: (now.right, box.right)}[hinge]
    assert edge[0] == pytest.approx(edge[1], abs=0.01) and now.w < box.w


def test_a_rule_lies_under_all_that_is_selected(build, qtbot):
    session = build.session
    for _ in range(3):
        press(qtbot, build, Qt.Key.Key_T)
    ids = [p.id for p in session.template.parts]
    session.select_all(ids[:2])
    press(qtbot, build, Qt.Key.Key_R)
    rest, rule = session.scene().rest, session.part
    first, second = (rest.parts[i].box for i in ids[:2])
    box = rest.parts[rule.id].box
    assert box.x == min(first.x, second.x) and box.right == max(first.right, second.right)
    assert box.y > max(first.bottom, second.bottom) and set(rule.fit.around) == set(ids[:2])


def test_counters_made_one_after_another_stand_as_one_reads_and_land_one_after_another(build, qtbot):
    session = build.session
    for _ in range(4):
        press(qtbot, build, Qt.Key.Key_C)
    counters = [p for p in session.template.parts if p.kind == "counter"]
    boxes = [session.scene().rest.parts[p.id].box for p in counters]
    assert boxes[0].y == boxes[1].y == boxes[2].y and boxes[0].right < boxes[1].x and boxes[1].right < boxes[2].x
    for one, other in itertools.combinations(boxes, 2):
        assert one.cut(other).empty
    safe = frame_area(TITLE_SAFE, session.template.frame)
    assert all(safe.contains(box) for box in boxes)
    movers = session.scene().choreography.movers
    lands = [movers[p.id].times.land for p in counters]
    assert lands[0] < lands[1] < lands[2] < lands[3] and lands[1] - lands[0] == 8
