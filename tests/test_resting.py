"""What is let go while nobody needs it."""

from conftest import DEMO
from hands import settle

from avlet.desktop.window import resting
from avlet.solid import drawing


def test_a_window_lets_the_drawing_of_spaces_rest(qtbot, monkeypatch, window):
    """A space's picture was on the stage; a while after the last one its context is let go, and the next picture is drawn again."""
    window.files.open_path(DEMO / "rising-word.avlet")
    settle()
    window.grab()
    assert drawing._made.cache_info().currsize
    monkeypatch.setattr(resting, "AFTER_S", 0)
    (watch,) = window.findChildren(resting.Resting)
    assert watch.isActive()
    watch.setInterval(10)
    qtbot.waitUntil(lambda: not drawing._made.cache_info().currsize, timeout=10_000)
    watch.stop()
    window.session.go_to(7)
    settle()
    window.grab()
    assert drawing._made.cache_info().currsize and not drawing.fault()
