"""Drawn frames kept in memory, and drawn ahead in worker processes."""

import numpy as np
import pytest

from avlet.desktop.stage.frame_cache import AheadDrawing, FrameCache
from avlet.document.editing import edits
from avlet.document.template import MotionBlur
from avlet.media.drawing import Drawing
from avlet.paint.painter import new_pixels
from avlet.paint.scene import Scene


def test_frames_are_kept_for_one_document_and_within_the_limit():
    cache = FrameCache()
    cache.most_bytes = 3 * 400
    for frame in range(5):
        cache.put("a", frame, new_pixels(10, 10))
    assert cache.frames == {0, 1, 2} and cache.bytes == 1200
    assert cache.get("a", 1) is not None and cache.get("b", 1) is None
    cache.put("b", 7, new_pixels(10, 10))
    assert cache.frames == {7} and cache.get("a", 1) is None


def test_what_is_kept_is_not_what_is_painted_over():
    cache, pixels = FrameCache(), new_pixels(4, 4)
    cache.put("a", 0, pixels)
    pixels[...] = 255
    assert not cache.get("a", 0).any()


def test_the_stage_shows_a_kept_frame_until_anything_changes(window):
    stage, session = window.build.stage, window.session
    session.go_to(30)
    stage.grab()
    assert 30 in stage.cache.frames
    kept = stage.cache.get(stage.cache._key, 30)
    session.write({"plate/corner": 3.0})
    stage.grab()
    assert stage.cache.frames == {30} and not np.array_equal(stage.cache.get(stage.cache._key, 30), kept)
    session.undo()
    session.go_to(31)
    stage.grab()
    assert 31 in stage.cache.frames and window.build.transport.bar.cache is stage.cache


@pytest.mark.parametrize("blurred", [False, True])
def test_frames_drawn_ahead_are_those_that_the_stage_paints(name_strap, book, qtbot, blurred):
    template = edits.replace(name_strap, motion_blur=MotionBlur(180)) if blurred else name_strap
    drawing = Drawing.of(Scene(template, book), (192, 108))
    ahead, got = AheadDrawing(), {}
    ahead.drawn.connect(lambda frame, pixels: got.update({frame: pixels}))
    ahead.start(drawing, [8, 60, 120])
    qtbot.waitUntil(lambda: not ahead.busy, timeout=60_000)
    scene = Scene(template, book)
    assert set(got) == {8, 60, 120}
    assert all(np.array_equal(pixels, scene.picture(frame, 192, 108)) for frame, pixels in got.items())


def test_only_what_is_slow_is_drawn_ahead_and_a_change_stops_it(window, monkeypatch):
    stage = window.build.stage
    started = []
    monkeypatch.setattr(stage.ahead, "start", lambda drawing, frames: started.append((drawing, list(frames))))
    stage.seconds_a_frame = 0.002
    stage.draw_ahead()
    assert not started
    stage.seconds_a_frame = 0.050
    window.session.go_to(40)
    stage.draw_ahead()
    drawing, frames = started[0]
    assert frames[0] == 43 and len(frames) >= 100 and drawing.height <= stage.height()
