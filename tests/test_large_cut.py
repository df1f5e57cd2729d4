"""A cut of thousands of titles: a step of the playhead paints nothing again, and zooming and scrolling show any of them."""

import msgspec
import pytest
from conftest import plated
from PyQt6.QtCore import QPoint, QPointF, Qt
from PyQt6.QtGui import QWheelEvent
from PyQt6.QtWidgets import QApplication
from test_widgets import shown

from avlet.desktop.desk import cut_view
from avlet.desktop.desk.cut_scale import CutScale
from avlet.desktop.desk.cut_view import CutView
from avlet.desktop.sessions import cut_session
from avlet.desktop.sessions.cut_session import CutSession
from avlet.document.cut import Cut, PictureClip, Title
from avlet.storage.handing_over import hand_over
from avlet.text.fonts import bundled_fonts

MANY = 2_000


@pytest.fixture
def session(tmp_path):
    hand_over(plated(), bundled_fonts(), tmp_path)
    made = CutSession(tmp_path)
    titles = tuple(Title(f"t{n}", "plated.avlet", n * 60, 50, {}, 1, {}) for n in range(MANY))
    made.open(Cut(titles=titles, pictures=tuple(PictureClip("dusk", 300, "") for _ in range(MANY // 5))), None)
    return made


@pytest.fixture
def view(qtbot, session):
    made = shown(qtbot, CutView(session))
    made.resize(1000, made.height())
    made.grab()
    return made


@pytest.fixture
def painted(monkeypatch):
    """How often all of the cut was painted."""
    found, real = [], cut_view.paint_cut
    monkeypatch.setattr(cut_view, "paint_cut", lambda *a: found.append(1) or real(*a))
    return found


def wheel(view, x, notches, keys=Qt.KeyboardModifier.NoModifier):
    at = QPointF(x, 60)
    event = QWheelEvent(at, view.mapToGlobal(at), QPoint(), QPoint(0, 120 * notches), Qt.MouseButton.NoButton, keys,
                        Qt.ScrollPhase.NoScrollPhase, False)  # fmt: skip
    QApplication.sendEvent(view, event)


def test_a_step_of_the_playhead_paints_only_the_playhead(view, session, painted):
    for frame in range(100, 140):
        session.go_to(frame)
        view.grab()
    assert not painted
    session.select("t5")
    view.grab()
    assert painted == [1]
    session.edit("x", lambda cut: msgspec.structs.replace(cut, titles=cut.titles[:5]))
    view.grab()
    assert painted == [1, 1] and session.cut.title("t5") is None


def test_titles_that_are_too_narrow_are_painted_without_being_set(view, session):
    assert not session._scenes
    wheel(view, 84, 40, Qt.KeyboardModifier.ControlModifier)
    view.grab()
    assert 1 <= len(session._scenes) <= 4


def test_no_more_scenes_are_kept_than_are_needed(session, monkeypatch):
    monkeypatch.setattr(cut_session, "_MOST_SCENES", 3)
    scenes = [session.scene_of(title) for title in session.cut.titles[:6]]
    assert list(session._scenes) == ["t3", "t4", "t5"]
    assert session.scene_of(session.cut.titles[5]) is scenes[5]


def test_zooming_keeps_what_lies_under_the_pointer_and_the_wheel_scrolls(view, session):
    x = view.x_of(60_000)
    for _ in range(12):
        wheel(view, x, 1, Qt.KeyboardModifier.ControlModifier)
    assert view.frame_at(x) == pytest.approx(60_000, abs=view.shown_frames / 400)
    shown_before, first = view.shown_frames, view.first_frame
    wheel(view, x, -1)
    assert (view.shown_frames, view.first_frame) == (shown_before, first + round(shown_before / 8))
    wheel(view, x, -10_000)
    assert view.first_frame + view.shown_frames == view.scale.fitting, "not beyond the end"
    wheel(view, x, 10_000)
    assert view.first_frame == 0
    wheel(view, x, -40, Qt.KeyboardModifier.ControlModifier)
    assert (view.first_frame, view.shown_frames) == (0, view.scale.fitting)


def test_the_playhead_is_followed_and_titles_are_found_where_they_are_shown(view, session, qtbot):
    wheel(view, 84, 30, Qt.KeyboardModifier.ControlModifier)
    session.go_to(90_000)
    assert view.first_frame <= 90_000 < view.first_frame + view.shown_frames
    title = session.cut.title_at(90_000)
    centre = view.title_area(title).center()
    assert 84 < centre.x() < view.width()
    qtbot.mouseClick(view, Qt.MouseButton.LeftButton, pos=centre.toPoint())
    assert session.selected == title.id
    before = view.first_frame
    session.go_to(90_001)
    assert view.first_frame == before, "what is in sight does not jump"


def test_a_scale_by_itself():
    scale = CutScale()
    scale.fit(1096, 1000)
    assert (scale.x_of(0), scale.x_of(1000), scale.frame_at(84), scale.frame_at(1084)) == (84, 1084, 0, 1000)
    scale.zoom(0.5, 584)
    assert (scale.shown, scale.first) == (500, 250)
    assert not scale.reveal(250) and not scale.reveal(749) and scale.reveal(750)
    assert scale.first == 500, "as far as there is something"
    assert scale.reveal(0) and scale.first == 0 and not scale.scroll(-5)
    scale.zoom(1e-9, 84)
    assert scale.shown == 25
    scale.fit(1096, 20)
    assert (scale.shown, scale.first) == (20, 0)


def test_clips_begin_where_those_before_them_end():
    cut = Cut(pictures=tuple(PictureClip("dusk", n, "") for n in (3, 5, 7)))
    assert [cut.clip_begin(n) for n in range(4)] == [0, 3, 8, 15]
    assert cut.length == 15
