"""Icons as line drawings on a grid of 24, coloured when they are asked for."""

import functools

from PyQt6.QtCore import QByteArray, QRectF, QSize, Qt
from PyQt6.QtGui import QIcon, QPainter, QPixmap
from PyQt6.QtSvg import QSvgRenderer

from avlet.desktop.widgets.theme import MUTED, TEXT

_DRAWINGS = {
    "build": '<rect x="3" y="6" width="18" height="8" rx="2.5"/><path d="M3 18h11"/><path d="M6.5 10h7"/>',
    "time": '<path d="M3 7h9M8 12h9M12 17h9"/><path d="M3 4v16" stroke-dasharray="2 2"/>',
    "blur": '<path d="M12 5a7 7 0 100 14 7 7 0 000-14z"/><path d="M2.5 9h5M2 12h5M2.5 15h5"/>',
    "card": '<rect x="4" y="3.5" width="16" height="17" rx="2.5"/><path d="M7.5 8h4M7.5 12h9M7.5 16h9"/><circle cx="16" cy="8" r="1.4"/>',
    "proof": '<path d="M4 5h5v5H4zM4 14h5v5H4z"/><path d="M13 7.5l2 2 4.5-4.5M13 16.5l2 2 4.5-4.5"/>',
    "desk": '<rect x="3" y="4" width="18" height="9" rx="1.5"/><path d="M3 17h6M11 17h10M3 20.5h10M15 20.5h6"/>',
    "roster": '<path d="M3 5h9M3 12h9M3 19h9"/><path d="M15 3h6v4h-6zM15 10h6v4h-6zM15 17h6v4h-6z"/>',
    "plus": '<path d="M12 5v14M5 12h14"/>',
    "play": '<path d="M8 5.5v13l10.5-6.5z" fill="COLOUR"/>',
    "pause": '<path d="M8.5 5.5v13M15.5 5.5v13" stroke-width="3"/>',
    "to start": '<path d="M6 6v12"/><path d="M18 6.5v11L9.5 12z" fill="COLOUR"/>',
    "to end": '<path d="M18 6v12"/><path d="M6 6.5v11l8.5-5.5z" fill="COLOUR"/>',
    "sound": '<path d="M4 9.5v5h3.5L12 18.5v-13L7.5 9.5z"/><path d="M15.5 9a4.5 4.5 0 010 6M18 6.5a8 8 0 010 11"/>',
    "undo": '<path d="M8.5 5L4 9.5 8.5 14"/><path d="M4 9.5h9.5a5.5 5.5 0 010 11H10"/>',
    "redo": '<path d="M15.5 5L20 9.5 15.5 14"/><path d="M20 9.5h-9.5a5.5 5.5 0 000 11H14"/>',
    "text": '<path d="M5 7V5h14v2M12 5v14M9 19h6"/>',
    "counter": (
        '<rect x="3" y="6" width="8" height="12" rx="1.5"/><rect x="13" y="6" width="8" height="12" rx="1.5"/>'
        '<path d="M6 9.5l1.5-1v7M15 9h4l-2.4 6.5"/>'
    ),
    "credits": '<path d="M4 6h6M5.5 10.5h4.5M3 15h7M6 19.5h4M14 6h5M14 10.5h7M14 15h4M14 19.5h6"/>',
    "shape": '<rect x="4" y="7" width="16" height="10" rx="3"/>',
    "picture": '<path d="M3.5 5h17v14h-17z"/><circle cx="9" cy="10" r="1.6"/><path d="M5 17l5-4 3 2.5 3-3.5 4 4.5"/>',
    "gauge": '<path d="M5.5 18.5a9 9 0 1113 0" stroke-dasharray="2.6 1.8" stroke-width="3.4"/><path d="M12 13l4-4"/>',
    "pattern": '<path d="M6 5l-2 14M11 5L9 19M16 5l-2 14M21 5l-2 14" stroke-width="2.2"/>',
    "group": '<rect x="4" y="4" width="9" height="7" rx="1.5"/><rect x="11" y="13" width="9" height="7" rx="1.5"/><path d="M3 15v6h5"/>',
    "space": '<path d="M12 3.5l7.5 4.2v8.6L12 20.5l-7.5-4.2V7.7z"/><path d="M4.5 7.7L12 12l7.5-4.3M12 12v8.5"/>',
    "ball": '<circle cx="12" cy="12" r="8.5"/><path d="M7.5 9.5a5.5 5.5 0 014-3.2"/>',
    "lamp": '<circle cx="12" cy="10.5" r="5"/><path d="M9.5 18h5M10.5 20.5h3M12 2.5v1M4.5 10.5H3.5M20.5 10.5h-1M6 4.5l.8.8M18 4.5l-.8.8"/>',
    "camera": '<rect x="3" y="7" width="12" height="10" rx="2"/><path d="M15 11l6-3.5v9L15 13z"/>',
    "sun": '<circle cx="12" cy="12" r="4"/><path d="M12 3v2M12 19v2M3 12h2M19 12h2M6 6l1 1M17 17l1 1M18 6l-1 1M7 17l-1 1"/>',
    "sky": '<path d="M4 17a8 8 0 0116 0"/><path d="M2.5 17h19M6 20.5h12"/>',
    "echo": '<rect x="3.5" y="5" width="11" height="7" rx="2"/><rect x="9.5" y="12" width="11" height="7" rx="2" stroke-dasharray="2 2"/>',
    "lock": '<rect x="5" y="11" width="14" height="9" rx="2"/><path d="M8 11V8a4 4 0 018 0v3"/>',
    "rulers": '<path d="M3 3h18v5H8v13H3z"/><path d="M11 3v2.5M15 3v2.5M19 3v2.5M3 11h2.5M3 15h2.5M3 19h2.5"/>',
    "rule": '<path d="M4 12h16" stroke-width="2.6"/>',
    "eye": '<path d="M2.5 12S6 5.5 12 5.5 21.5 12 21.5 12 18 18.5 12 18.5 2.5 12 2.5 12z"/><circle cx="12" cy="12" r="2.6"/>',
    "eye off": '<path d="M4 14.5c2 2 4.6 3 8 3s6-1 8-3M6 17l-1.5 2M12 17.5V20M18 17l1.5 2"/>',
    "safe": '<path d="M3 5h18v14H3z"/><path d="M6.2 7.8h11.6v8.4H6.2z" stroke-dasharray="2 1.6"/>',
    "drafting": '<rect x="7" y="8" width="10" height="8"/><path d="M3 8v8M2 8h2M2 16h2M7 20h10M7 19v2M17 19v2"/>',
    "frame": '<path d="M3 6h18v12H3z"/><path d="M6.5 14.5h6M6.5 12h3.5"/>',
    "larger": '<path d="M4 10V4h6M20 14v6h-6"/><path d="M4 4l6.5 6.5M20 20l-6.5-6.5"/>',
    "search": '<circle cx="10.5" cy="10.5" r="6"/><path d="M15 15l5.5 5.5"/>',
    "loop": '<path d="M6 9a6.5 6.5 0 0112-1M18 15a6.5 6.5 0 01-12 1"/><path d="M18.5 3.5V8H14M5.5 20.5V16H10"/>',
    "bin": '<path d="M5 7h14M10 7V4.5h4V7M7 7l1 13h8l1-13M10.5 11v5.5M13.5 11v5.5"/>',
    "up": '<path d="M12 19V6M6.5 11L12 5.5 17.5 11"/>',
    "down": '<path d="M12 5v13M6.5 13L12 18.5 17.5 13"/>',
    "menu": '<path d="M4 7h16M4 12h16M4 17h16"/>',
    "copy": '<rect x="8" y="8" width="12" height="12" rx="2"/><path d="M16 8V6a2 2 0 00-2-2H6a2 2 0 00-2 2v8a2 2 0 002 2h2"/>',
}


@functools.cache
def pixmap(name: str, colour: str = TEXT, size: int = 18, ratio: float = 2.0) -> QPixmap:
    """A drawing in one colour, at ``size`` px."""
    body = _DRAWINGS[name].replace("COLOUR", colour)
    svg = (
        '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 24 24" fill="none" '
        f'stroke="{colour}" stroke-width="1.7" stroke-linecap="round" stroke-linejoin="round">{body}</svg>'
    )
    made = QPixmap(QSize(round(size * ratio), round(size * ratio)))
    made.fill(Qt.GlobalColor.transparent)
    painter = QPainter(made)
    QSvgRenderer(QByteArray(svg.encode())).render(painter, QRectF(0, 0, size * ratio, size * ratio))
    painter.end()
    made.setDevicePixelRatio(ratio)
    return made


@functools.cache
def icon(name: str, colour: str = TEXT, off: str | None = None) -> QIcon:
    """An icon; ``off`` is the colour of its unchecked state."""
    made = QIcon(pixmap(name, colour))
    if off:
        made.addPixmap(pixmap(name, off), QIcon.Mode.Normal, QIcon.State.Off)
        made.addPixmap(pixmap(name, colour), QIcon.Mode.Normal, QIcon.State.On)
    made.addPixmap(pixmap(name, "#5E676C"), QIcon.Mode.Disabled)
    return made


def quiet(name: str) -> QIcon:
    """An icon that stays in the background until it is switched on."""
    return icon(name, TEXT, MUTED)
