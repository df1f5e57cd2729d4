"""What is let go while nobody needs it."""

import ctypes

from conftest import DEMO
from hands import settle

from avlet import giving_back
from avlet.desktop.window import resting
from avlet.giving_back import give_back, held
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


def test_what_lies_unused_is_given_back():
    """Forty MB in pieces too small for the machine to take back by itself: after giving back, the process holds that much less."""
    libc = ctypes.CDLL(None)
    libc.malloc.restype, libc.malloc.argtypes, libc.free.argtypes = ctypes.c_void_p, [ctypes.c_size_t], [ctypes.c_void_p]
    pieces = [libc.malloc(64_000) for _ in range(1_300)]
    for piece in pieces:
        ctypes.memset(piece, 1, 64_000)
    before = held()
    for piece in pieces[:-1]:  # the last one keeps the heap's end where it is
        libc.free(piece)
    assert held() > before - 10 * 2**20, "the allocator keeps it"
    giving_back._least[0] = 0
    assert give_back()
    assert held() < before - 40 * 2**20
    assert not give_back(), "nothing has grown since"
    libc.free(pieces[-1])


def test_a_window_that_holds_much_lets_go_at_once_and_asks_no_more_before_it_grew(qtbot, monkeypatch, window):
    window.files.open_path(DEMO / "rising-word.avlet")
    settle()
    window.grab()
    (watch,) = window.findChildren(resting.Resting)
    holding = [300 * 2**20]
    monkeypatch.setattr(giving_back, "held", lambda: holding[0])
    monkeypatch.setattr(giving_back, "_eased_to", [giving_back.MUCH_HELD - giving_back.MOST_GROWN])
    watch.look()
    assert drawing._made.cache_info().currsize, "not much is held"
    holding[0] = giving_back.MUCH_HELD + 1
    watch.look()
    assert not drawing._made.cache_info().currsize
    window.session.go_to(7)
    settle()
    window.grab()
    watch.look()
    assert drawing._made.cache_info().currsize, "it has not grown since"
    holding[0] += giving_back.MOST_GROWN + 1
    watch.look()
    assert not drawing._made.cache_info().currsize
