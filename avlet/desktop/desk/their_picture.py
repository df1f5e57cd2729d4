"""Painting what lies under the words of a cut and is only looked at: a stranger's tracks and markers, and sound."""

import itertools

import numpy as np
from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPen, QPolygonF

from avlet.desktop.desk.cut_rows import Row
from avlet.desktop.desk.cut_shown import LARGE, LEFT, NAMED, CutShown
from avlet.desktop.widgets.theme import SMALL, TEXT, font
from avlet.media.samples import HERTZ
from avlet.media.sound import PEAKS_A_SECOND, SoundClip, sound_clips
from avlet.media.theirs import Mark, TheirClip, theirs_of
from avlet.numbers.exact import in_figures

_LEAST_WORDS = 14
"""px: a marker's words are left out where there is less room."""
_COLOURS = {
    "red": "#E8735A", "pink": "#E9A3BF", "orange": "#E59A4F", "yellow": "#E3CB62", "green": "#86C17B", "cyan": "#6FC3CC", "blue": "#6C9BDB",
    "purple": "#A387D6", "magenta": "#D176C4", "black": "#8A949A", "white": "#E8EDEF",
}  # fmt: skip
"""How the colours that OpenTimelineIO names for markers are shown."""


def paint_theirs(painter: QPainter, view: CutShown, row: Row) -> None:
    """What a stranger's timeline has in a row, or the sound of our own films."""
    cut = view.session.cut
    if row.kind == "sound":
        for clip in sound_clips(cut):
            _paint_sound(painter, view, row, clip)
        return
    theirs = theirs_of(cut)
    if row.kind == "marks":
        nexts = [*(mark.frame for mark in theirs.marks[1:]), None]
        for mark, following in zip(theirs.marks, nexts, strict=True):
            _paint_mark(painter, view, row, mark, following)
        return
    if not row.kind.startswith("their"):
        return
    for one in theirs.tracks[row.track].clips:
        area = QRectF(view.x_of(one.begin), row.top, max(2.0, view.x_of(one.begin + one.length) - view.x_of(one.begin) - 1), row.height)
        if area.right() < LEFT or area.x() > view.width():
            continue
        _paint_their_clip(painter, view, row, one, area)


def _paint_their_clip(painter: QPainter, view: CutShown, row: Row, clip: TheirClip, area: QRectF) -> None:
    ground = QColor("#2E3C42" if row.kind == "their sound" else "#3A4B53")
    if area.width() < LARGE:
        painter.fillRect(area, ground)
        return
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(ground)
    painter.drawRoundedRect(area, 3, 3)
    if row.kind == "their sound" and clip.file is not None:
        rate = view.session.cut.frame.fps
        begin, end = (round(frame * HERTZ / rate) for frame in (clip.begin, clip.begin + clip.length))
        _paint_sound(painter, view, row, SoundClip(begin, end, clip.file, clip.into, clip.speed))
    if clip.dissolves:
        half = (view.x_of(clip.begin + clip.dissolves) - view.x_of(clip.begin)) / 2
        painter.setPen(QPen(QColor("#B9C6CC"), 1))
        left, right = area.x() - half, area.x() + half
        painter.drawLine(QPointF(left, area.y()), QPointF(right, area.bottom()))
        painter.drawLine(QPointF(left, area.bottom()), QPointF(right, area.y()))
    if area.width() >= LARGE and row.height >= NAMED:
        painter.setPen(QColor("#DDE4E7"))
        painter.setFont(font(SMALL))
        speed = f" ({in_figures(clip.speed)}×)" if clip.speed != 1.0 else ""
        room = area.adjusted(7, 0, -4, 0)
        words = painter.fontMetrics().elidedText(clip.name + speed, Qt.TextElideMode.ElideRight, int(room.width()))
        painter.drawText(room, Qt.AlignmentFlag.AlignVCenter, words)


def _paint_mark(painter: QPainter, view: CutShown, row: Row, mark: Mark, following: int | None) -> None:
    x = view.x_of(mark.frame)
    if x < LEFT - 4 or x > view.width():
        return
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(mark_colour(mark))
    if mark.length > 1:
        painter.setOpacity(0.35)
        painter.drawRect(QRectF(x, row.top + row.height - 4, view.x_of(mark.frame + mark.length) - x, 3))
        painter.setOpacity(1)
    flag = QPolygonF([QPointF(x - 4, row.top + 3), QPointF(x + 4, row.top + 3), QPointF(x + 4, row.top + 12), QPointF(x, row.top + 18),
                      QPointF(x - 4, row.top + 12)])  # fmt: skip
    painter.drawPolygon(flag)
    painter.setPen(QColor(TEXT))
    painter.setFont(font(SMALL))
    room = (view.x_of(following) if following is not None else view.width()) - x - 16
    if room < _LEAST_WORDS:
        return
    words = painter.fontMetrics().elidedText(mark.name, Qt.TextElideMode.ElideRight, int(max(0, room)))
    painter.drawText(QRectF(x + 9, row.top, max(0.0, room), row.height), Qt.AlignmentFlag.AlignVCenter, words)


def mark_colour(mark: Mark) -> QColor:
    """The colour of a marker that its program named, as OpenTimelineIO has them, in a tint that goes with the dark room."""
    return QColor(_COLOURS.get(mark.colour, _COLOURS["red"]))


def _paint_sound(painter: QPainter, view: CutShown, row: Row, clip: SoundClip) -> None:
    """The waveform of a stretch, a line for each px across."""
    peaks, rate = view.waveforms.peaks(clip.file), float(view.session.cut.frame.fps)
    left, right = (view.x_of(sample / HERTZ * rate) for sample in (clip.begin, clip.end))
    first, last = max(LEFT, int(left)), min(view.width(), int(right))
    if peaks is None or not len(peaks) or last <= first:
        return
    columns = np.arange(first, last + 1)
    seconds = float(clip.into) + (columns - left) / max(1e-9, right - left) * (clip.end - clip.begin) / HERTZ * clip.speed
    edges = np.clip((seconds * PEAKS_A_SECOND).astype(int), 0, len(peaks))
    loud = [int(peaks[a : max(a + 1, b)].max(initial=0)) for a, b in itertools.pairwise(edges)]
    painter.setPen(QPen(QColor("#587079"), 1))
    middle, half = row.top + row.height / 2, max(1.0, row.height / 2 - 2)
    for x, one in zip(columns + 0.5, loud, strict=False):
        if one:
            painter.drawLine(QLineF(float(x), middle - half * one / 255, float(x), middle + half * one / 255))
