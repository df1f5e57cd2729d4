"""No more than three flashes in any second."""

from collections.abc import Iterator

import numpy as np

from avlet.arrays import Floats, Marks
from avlet.light import luminance, to_linear
from avlet.paint.spaces import rough_edges
from avlet.review.checks.base import Check, Finding
from avlet.review.looked import Looked

_ID = "flashes"
MOST, AREA = 3, 0.25
"""Flashes in any second, and the share of the picture from which on they count."""
_CHANGE, _DARK = 0.1, 0.8
"""A change of relative luminance that counts, and how dark the darker picture has to be."""
_RED_SHARE, _RED_CHANGE = 0.8, 20.0 / 320.0
"""Of a saturated red: its share of all light, and a change of (R − G − B) that counts."""
WIDTH, HEIGHT = 96, 54
"""px of the pictures that are compared: areas of a quarter of the picture need no finer ones."""


class _Swing:
    """Follows values up and down: where each has turned by at least ``least`` since its last turn."""

    def __init__(self, first: Floats, least: float) -> None:
        self.least, self.low, self.high = least, first.copy(), first.copy()

    def step(self, now: Floats) -> tuple[Marks, Marks, Floats, Floats]:
        """Which have risen and which have fallen by enough, and the low and high ends of those changes."""
        self.low, self.high = np.minimum(self.low, now), np.maximum(self.high, now)
        rose, fell = now - self.low >= self.least, self.high - now >= self.least
        low, high = self.low.copy(), self.high.copy()
        self.high[rose], self.low[rose] = now[rose], np.where(rose, now, self.low)[rose]
        self.low[fell], self.high[fell] = now[fell], np.where(fell, now, self.high)[fell]
        self.low = np.where(rose, now, self.low)
        self.high = np.where(fell, now, self.high)
        return rose, fell, low, high


def flashes_in(pictures: Floats, rate: float) -> tuple[int, int]:
    """The most flashes in any second of some pictures (frames, height, width, 3), channels 0…1, and the frame that second begins with.

    A flash is a pair of opposing changes, over a quarter of the picture, of relative luminance by a tenth or more where the darker is
    under 0.8, or to and from a saturated red (WCAG 2.2, *general flash and red flash thresholds*).
    """
    light = luminance(pictures)
    linear_rgb = to_linear(pictures)
    total = np.maximum(linear_rgb.sum(axis=-1), 1e-9)
    saturated = linear_rgb[..., 0] / total >= _RED_SHARE
    red = np.maximum(0.0, linear_rgb[..., 0] - linear_rgb[..., 1] - linear_rgb[..., 2])
    turns = [*_turns(light, _CHANGE, None), *_turns(red, _RED_CHANGE, saturated)]
    best, begin = 0, 0
    for kind in ("general", "red"):
        frames = _alternating(sorted((frame, up) for frame, up, of in turns if of == kind))
        for frame in frames:
            flashes = sum(1 for other in frames if frame <= other < frame + rate) // 2
            if flashes > best:
                best, begin = flashes, frame
    return best, begin


def _turns(values: Floats, least: float, saturated: Marks | None) -> Iterator[tuple[int, bool, str]]:
    """Frames in which enough of the picture has risen or fallen together since it last turned."""
    swing, kind = _Swing(values[0], least), "general" if saturated is None else "red"
    for frame in range(1, len(values)):
        rose, fell, low, _ = swing.step(values[frame])
        if saturated is None:
            rose, fell = rose & (low < _DARK), fell & (values[frame] < _DARK)
        else:
            either = saturated[frame] | saturated[frame - 1]
            rose, fell = rose & either, fell & either
        for marks, up in ((rose, True), (fell, False)):
            if marks.mean() >= AREA:
                yield frame, up, kind


def _alternating(turns: list[tuple[int, bool]]) -> list[int]:
    """The frames of turns that go up and down in turn; several in one direction are one."""
    found: list[int] = []
    way: bool | None = None
    for frame, up in turns:
        if up != way:
            found.append(frame)
            way = up
    return found


def _reduced(looked: Looked, frame: int) -> Floats:
    """A frame over black, small, channels 0…1."""
    with rough_edges():
        found: Floats = looked.scene.picture(frame, WIDTH, HEIGHT)[..., :3] / 255.0
    return found


def run(looked: Looked) -> Iterator[Finding]:
    """Relative luminance of the pictures, at a reduced size, frame by frame."""
    if len(looked.frames) < 4 or not _may_flash(looked):
        return
    rate = float(looked.scene.template.frame.fps)
    counted = [(flashes_in(np.stack([_reduced(looked, frame) for frame in run]), rate), run) for run in looked.stretches]
    (most, number), run = max(counted, key=lambda one: one[0][0])
    if most > MOST:
        begin = run[number]
        words = f"{most} flashes in one second from frame {begin} on; at most {MOST} are safe."
        yield Finding(_ID, "breaks", "", words, "flashes", most, MOST, "a second", begin, min(looked.last, int(begin + rate)))


def _may_flash(looked: Looked) -> bool:
    """Whether a quarter of the picture is ever painted: less than that cannot flash."""
    whole = looked.frame_box.w * looked.frame_box.h
    for frame in looked.frames:
        boxes = [found[frame] for found in looked.visible.values() if frame in found]
        if sum(box.cut(looked.frame_box).w * box.cut(looked.frame_box).h for box in boxes) >= AREA * whole:
            return True
    return False


CHECK = Check(
    _ID, "Flashes", "3 flashes a second are never reached", f"{MOST} flashes in any second over a quarter of the picture",
    "WCAG 2.2, SC 2.3.1; ITU-R BT.1702", run,
)  # fmt: skip
