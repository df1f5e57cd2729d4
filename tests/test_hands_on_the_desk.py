"""Hands on the desk and on keys: what is clicked is seen, what is dropped lands where it says, folders are remembered."""

import pytest
from hands import settle
from PyQt6.QtCore import QPoint, QPointF, Qt
from PyQt6.QtTest import QTest

from avlet.desktop.time.key_graph import KeyGraph
from avlet.document.cut import TRACKS, free_track, put_title
from avlet.document.editing import edits, keying
from avlet.motion.keyed import key_time
from avlet.storage.settings import read_settings

LEFT = Qt.MouseButton.LeftButton


@pytest.fixture
def desk(window):
    window.show_desk()
    settle()
    return window.desk


def place_of(desk, title_id, share=0.5) -> QPoint:
    """A point on a title on the cut."""
    title = desk.session.cut.title(title_id)
    area = desk.view.title_area(title)
    return QPointF(area.x() + area.width() * share, area.center().y()).toPoint()


def test_a_clicked_title_is_seen(desk, qtbot):
    """The playhead comes to where a title is clicked; one that it is in already is left where it is, and so is a drag."""
    session = desk.session
    first, *_, last = sorted(session.cut.titles, key=lambda t: t.start)
    session.go_to(last.start + 3)
    qtbot.mouseClick(desk.view, LEFT, pos=place_of(desk, first.id))
    settle()
    assert session.selected == first.id and first.start <= session.frame < first.end
    assert session.frame == pytest.approx(first.start + first.length / 2, abs=first.length * 0.1)
    session.go_to(first.start + 1)
    qtbot.mouseClick(desk.view, LEFT, pos=place_of(desk, first.id))
    assert session.frame == first.start + 1, "it is seen already"
    at = place_of(desk, last.id)
    qtbot.mousePress(desk.view, LEFT, pos=at)
    qtbot.mouseMove(desk.view, at + QPoint(1, 0))
    qtbot.mouseMove(desk.view, at + QPoint(9, 0))
    qtbot.mouseRelease(desk.view, LEFT, pos=at + QPoint(9, 0))
    assert session.frame == first.start + 1 and session.selected == last.id
    before = session.frame
    qtbot.mouseClick(desk.view, LEFT, Qt.KeyboardModifier.ControlModifier, place_of(desk, first.id))
    assert session.frame == before and len(session.selection) == 2


def test_ctrl_a_takes_all_titles_and_all_parts(desk, window, qtbot):
    desk.view.setFocus()
    QTest.keyClick(window.windowHandle(), Qt.Key.Key_A, Qt.KeyboardModifier.ControlModifier)
    settle()
    assert set(desk.session.selection) == {t.id for t in desk.session.cut.titles} and len(desk.session.selection) > 2
    window.show_bench(0)
    session = window.session
    session.edit("Lock", lambda t: edits.set_relations(t, "plate", locked=True))
    window.build.stage.setFocus()
    QTest.keyClick(window.windowHandle(), Qt.Key.Key_A, Qt.KeyboardModifier.ControlModifier)
    settle()
    assert set(session.selection) == {p.id for p in session.template.parts if not p.locked}


def test_a_double_click_in_the_library_lands_at_the_playhead_or_says_where(desk, window):
    """On the other track where titles lie there already; where both have some, it says at which frame it begins."""
    session, said = desk.session, []
    session.refused.connect(said.append)
    session.edit("Empty", lambda c: edits.replace(c, titles=()))
    session.go_to(40)
    for track in range(TRACKS):
        desk.library.chosen.emit("name-strap.avlet")
        settle()
        assert (session.title.start, session.title.track) == (40, track) and not said
    desk.library.chosen.emit("name-strap.avlet")
    settle()
    assert len(session.cut.titles) == 3 and session.title.start != 40
    assert f"begins at frame {session.title.start}" in said[-1] and "frame 40" in said[-1]


def test_free_tracks(desk):
    """Brute force: the wanted track where nothing lies there, else the first that is free, else the wanted one."""
    cut = edits.replace(desk.session.cut, titles=())
    title = edits.replace(desk.session.cut.titles[0], length=10)
    for name, start, track in (("a", 0, 0), ("b", 20, 0), ("c", 5, 1)):
        cut = put_title(cut, edits.replace(title, id=name, start=start, track=track))
    for start in range(40):
        for length in (1, 5, 12):
            for wanted in range(TRACKS):
                taken = {t.track for t in cut.titles if set(range(t.start, t.end)) & set(range(start, start + length))}
                free = [n for n in (wanted, *range(TRACKS)) if n not in taken]
                assert free_track(cut, start, length, wanted) == (free[0] if free else wanted)


def test_renders_remember_their_folder(desk, window, qtbot, tmp_path):
    into = tmp_path / "films of today"
    window.files.render(all_titles=False)
    dialog = window.files.dialog
    dialog.folder.line.setText(str(into))
    dialog.kind.setCurrentText("A folder of PNGs")
    qtbot.mouseClick(dialog.start_button, LEFT)
    dialog.thread_.stop()
    qtbot.waitUntil(lambda: dialog.thread_ is None, timeout=30_000)
    dialog.reject()
    assert read_settings(window.state).renders == str(into)
    window.files.render(all_titles=True)
    assert window.files.dialog.folder.line.text() == str(into)
    window.files.dialog.reject()


def test_a_key_made_by_a_double_click_is_the_chosen_one(window, qtbot):
    session = window.session
    session.select("plate")
    session.edit("Key", lambda t: keying.set_key(keying.set_key(t, "plate", "opacity", 0, 100.0), "plate", "opacity", 80, 40.0))
    graph = KeyGraph(session, "plate", "opacity")
    qtbot.addWidget(graph)
    graph.resize(500, 200)
    graph.show()
    graph.grab()
    at = graph.place(40.0, 70.0).toPoint()
    qtbot.mouseClick(graph, LEFT, pos=at)
    qtbot.mouseDClick(graph, LEFT, pos=at)
    keys = keying.keyed_of(session.template.part("plate"), "opacity").keys
    assert len(keys) == 3 and round(key_time(keys[graph.chosen], session.scene().spans)) == 40 and abs(keys[graph.chosen].value - 70) < 1
    others = [graph.place(0.0, 100.0).toPoint()]
    qtbot.mouseClick(graph, LEFT, pos=others[0])
    assert graph.chosen == 0
