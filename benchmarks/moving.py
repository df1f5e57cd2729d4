"""What moving costs: posing many letters, playing on the stage, motion blur."""

import time

import numpy as np
from PyQt6.QtWidgets import QApplication

from avlet.document.editing import edits
from avlet.document.faults.checking import check
from avlet.document.parts import Place, TextPart
from avlet.document.template import MotionBlur, Template
from avlet.document.time.moves import Move
from avlet.easing import ease_progress
from avlet.paint.painter import new_pixels
from avlet.paint.scene import Scene
from avlet.storage.package import open_template
from avlet.text.fonts import bundled_fonts
from benchmarks.building import heaviest
from benchmarks.measure import DEMO, best


def posing() -> float:
    """Posing 2,000 letters that rise and fade, in shares of 1 ms; beside it bare NumPy easing as many numbers."""
    move = Move(y=60, opacity=0, by="character", overlap=90, frames=50)
    part = TextPart(id="t", name="T", text=("abcde" * 10 + "\n") * 40, size=20.0, across=Place(), down=Place(), way_in=(move,))
    scene = Scene(check(Template(parts=(part,), way_in=60)), bundled_fonts())
    count, progress = 40, np.linspace(0, 1, 2000)

    def ours() -> None:
        for frame in range(count):
            scene.choreography.pose_within(frame, 0.0)  # posed anew: poses of whole frames are kept

    def bare() -> None:
        for _ in range(count):
            ease_progress(move.ease, progress)

    mine, plain = best(ours, bare, rounds=10)
    print(f"pose: {mine / count * 1000:.2f} ms for 2,000 letters, {mine / plain:.1f} times easing them with bare NumPy")
    return mine / count / 0.001


def blurring() -> float:
    """The way in of the strap at 1080 lines with a shutter of 180° against the same frames sharp."""
    opened = open_template(DEMO / "name-strap.avlet")
    sharp = Scene(edits.replace(opened.template, motion_blur=MotionBlur(0)), opened.book)
    soft = Scene(edits.replace(opened.template, motion_blur=MotionBlur(180)), opened.book)
    pixels = new_pixels(1920, 1080)
    sides = []
    for scene in (soft, sharp):

        def paint(scene: Scene = scene) -> None:
            for frame in range(1, 25, 3):
                scene.paint(frame, pixels)

        sides.append(paint)
    mine, plain = best(*sides)
    print(f"blur: {mine / 8 * 1000:.1f} ms a moving frame, sharp {plain / 8 * 1000:.1f} ms")
    return mine / plain


def _share_in_time(width: int, height: int, seconds: float = 4.0) -> tuple[float, str]:
    """The share of frames that the stage shows in time while the heaviest demo template plays over and over."""
    from avlet.desktop.sessions.template_session import Session
    from avlet.desktop.stage.stage import Stage
    from avlet.desktop.stage.transport import Transport
    from avlet.desktop.window.application import make_application

    application = QApplication.instance() or make_application(["avlet"])
    path = heaviest()
    opened, session = open_template(path), Session()
    session.open(opened.template, opened.book, path)
    stage = Stage(session)
    transport = Transport(session, stage.cache)
    stage.resize(width, height)
    stage.playing = True
    stage.show()
    application.processEvents()
    rate = float(opened.template.frame.fps)
    transport.player.play(0)
    end = time.perf_counter() + seconds
    while time.perf_counter() < end:
        application.processEvents()
    dropped = transport.player.dropped
    transport.player.stop()
    stage.close()
    return 1 - dropped / (rate * seconds), path.stem


def playing() -> float:
    """Frames dropped at 960×540, per frame shown; and what share of frames holds at 1920×1080."""
    small, name = _share_in_time(988, 568)
    large, _ = _share_in_time(1948, 1108)
    print(f"play: {name} at its rate, {small:.1%} of frames in time at 960x540, {large:.1%} at 1920x1080")
    return 1 - small
