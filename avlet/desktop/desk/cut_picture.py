"""Painting the cut: its ruler, tracks, titles and clips."""

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPen

from avlet.desktop.desk.cut_rows import RULER, Row
from avlet.desktop.desk.cut_shown import LARGE, LEFT, NAMED, SMALLEST, CutShown
from avlet.desktop.desk.their_picture import paint_theirs
from avlet.desktop.widgets.theme import BASE, MARIGOLD, MUTED, ROSE, SMALL, TEXT, WARNING, font
from avlet.document.cut import TRACKS, PictureClip, Title


def paint_cut(painter: QPainter, view: CutShown) -> None:
    """The whole view but for the playhead."""
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    _paint_ruler(painter, view)
    cut = view.session.cut
    painter.setFont(font())
    for row in view.rows.rows:
        _paint_row(painter, view, row)
    painter.save()
    painter.setClipRect(QRectF(LEFT, 0, view.width() - LEFT, view.height()))
    pictures, lower = view.rows.of("pictures"), view.rows.of("words")
    if pictures is not None:
        for index, clip in enumerate(cut.pictures):
            _paint_clip(painter, view, index, clip)
        if not cut.pictures:
            _say(painter, view, pictures, "Right-click: a made-up picture, or a film or still of your own")
    for row in view.rows.rows:
        paint_theirs(painter, view, row)
    if not cut.titles and lower is not None:
        _say(painter, view, lower, "Drag a template here, or double-click it in the library")
    for title in cut.titles:
        _paint_title(painter, view, title)
    painter.restore()


def paint_playhead(painter: QPainter, view: CutShown) -> None:
    """The playhead, and where something would be dropped."""
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.setClipRect(QRectF(LEFT - 6, 0, view.width() - LEFT + 6, view.height()))
    if view.drop_at is not None:
        painter.setPen(QPen(QColor(ROSE), 2))
        x, row = view.x_of(view.drop_at[0]), view.rows.of("words", min(view.drop_at[1], TRACKS - 1))
        if row is not None:
            painter.drawLine(QPointF(x, row.top - 3), QPointF(x, row.top + row.height + 3))
    x = view.x_of(view.session.frame + 0.5)
    painter.setPen(QPen(QColor("#FFFFFF"), 1.5))
    painter.drawLine(QPointF(x, 12), QPointF(x, view.height()))
    painter.setBrush(QColor("#FFFFFF"))
    painter.drawEllipse(QPointF(x, 12), 4.5, 4.5)


def _say(painter: QPainter, view: CutShown, row: Row, words: str) -> None:
    painter.setPen(QColor(MUTED))
    painter.setFont(font())
    painter.drawText(QRectF(LEFT, row.top, view.width() - LEFT - 12, row.height), Qt.AlignmentFlag.AlignCenter, words)


def _paint_row(painter: QPainter, view: CutShown, row: Row) -> None:
    """The ground of a row and its name."""
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(QColor(255, 255, 255, 7))
    painter.drawRoundedRect(QRectF(LEFT, row.top, view.width() - LEFT - 12, row.height), 4, 4)
    if row.height < NAMED:
        return
    painter.setPen(QColor(MUTED if row.kind.startswith("their") else TEXT))
    painter.setFont(font(SMALL if row.kind.startswith("their") else BASE))
    room = QRectF(10, row.top, LEFT - 16, row.height)
    words = painter.fontMetrics().elidedText(row.name, Qt.TextElideMode.ElideRight, int(room.width()))
    painter.drawText(room, Qt.AlignmentFlag.AlignVCenter, words)


def _paint_ruler(painter: QPainter, view: CutShown) -> None:
    rate = float(view.session.cut.frame.fps)
    seconds = view.shown_frames / rate
    step = next((s for s in (1, 2, 5, 10, 30, 60, 300, 600) if (view.width() - LEFT) / (seconds / s) > 52), 3600)
    painter.setFont(font(SMALL, figures=True))
    begin = int(view.first_frame / rate) // step * step
    for second in range(begin, int(view.first_frame / rate + seconds) + 1, step):
        if second * rate < view.first_frame:
            continue
        x = view.x_of(second * rate)
        painter.setPen(QPen(QColor("#59636A"), 1))
        painter.drawLine(QPointF(x, 16), QPointF(x, RULER))
        painter.setPen(QColor(MUTED))
        words = f"{second}s" if second < 60 else f"{second // 60}:{second % 60:02}"
        painter.drawText(QPointF(x + 4, 24), words)


def _paint_clip(painter: QPainter, view: CutShown, index: int, clip: PictureClip) -> None:
    area = view.clip_area(index)
    if area.right() < LEFT or area.x() > view.width():
        return
    chosen = index == view.clip
    missing = view.missing(clip)
    painter.setPen(QPen(QColor("#FF8A76" if missing else "#FFFFFF"), 1.5) if chosen or missing else Qt.PenStyle.NoPen)
    painter.setBrush(QColor("#4A5E66" if chosen else "#3C4C53"))
    painter.drawRoundedRect(area, 4, 4)
    if area.width() < LARGE:
        return
    painter.setPen(QColor("#D5DEE2"))
    painter.setFont(font())
    words = f"{clip.plate}" if clip.file else f"{clip.plate.capitalize()} (made picture)" if clip.plate else "nothing"
    room = area.adjusted(10, 0, -6, 0)
    shown = painter.fontMetrics().elidedText(("⚠ " if missing else "") + words, Qt.TextElideMode.ElideRight, int(room.width()))
    painter.drawText(room, Qt.AlignmentFlag.AlignVCenter, shown)


def _paint_title(painter: QPainter, view: CutShown, title: Title) -> None:
    area = view.title_area(title)
    if area.right() < LEFT or area.x() > view.width():
        return
    selected = title.id in view.session.selection
    large = area.width() >= LARGE
    scene = view.session.scene_of(title) if large else ""
    broken = isinstance(scene if large else view.session.template_of(title), str)
    line, ground = "#FF8A76" if broken else "#FFFFFF" if selected else ROSE, "#5B3033" if broken else "#7C525B" if selected else "#644249"
    if area.width() < SMALLEST:
        painter.fillRect(area, QColor(line))
        return
    painter.setPen(QPen(QColor(line), 2 if selected else 1.2))
    painter.setBrush(QColor(ground))
    painter.drawRoundedRect(area, 5, 5)
    if not large:
        return
    if not isinstance(scene, str):
        share = area.width() / scene.length
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor(244, 178, 62, 190))
        way_in, way_out = scene.spans.way_in * share, scene.spans.way_out * share
        painter.drawRect(QRectF(area.x() + 1, area.bottom() - 4, way_in, 3))
        painter.drawRect(QRectF(area.right() - way_out - 1, area.bottom() - 4, way_out, 3))
    painter.setFont(font())
    painter.setPen(QColor("#FFEFF2"))
    label = f"⚠ {title.template}" if broken else view.label_of(title)
    room = area.adjusted(9, 0, -6, -4)
    shown = painter.fontMetrics().elidedText(label, Qt.TextElideMode.ElideRight, int(room.width()))
    painter.drawText(room, Qt.AlignmentFlag.AlignVCenter, shown)
    painter.setFont(font(SMALL))
    right = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
    if not isinstance(scene, str) and scene.spans.shortened:
        painter.setPen(QColor(WARNING))
        painter.drawText(room.adjusted(0, -14, 0, -14), right, "short")
    elif view.session.newer(title):
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor(MARIGOLD))
        painter.drawEllipse(QPointF(area.right() - 7, area.y() + 7), 3.5, 3.5)
