"""The look of the application: colours with a meaning, type, and the style sheet."""

import os
from functools import cache
from pathlib import Path

from PyQt6.QtGui import QColor, QFont, QFontDatabase, QPalette
from PyQt6.QtWidgets import QApplication

from avlet.desktop.appearance import CONTRAST
from avlet.desktop.appearance import STRONG as STRONG_WORD
from avlet.document.looks.colours import channels
from avlet.text.fonts import BUNDLED, font_files

SEAGLASS = "#6CC7B0"
"""What follows what: fit, place, matte."""
MARIGOLD = "#F4B23E"
"""What happens in time."""
ROSE = "#E58FA0"
"""What goes to the editor: card, wires, hand over."""

STRONG_CONTRAST = os.environ.get(CONTRAST) == STRONG_WORD
"""Whether a person asked for it, see :mod:`avlet.desktop.appearance`."""
_USUAL = ("#141618", "#1B1E20", "#24282B", "#30363A", "#3A4146", "#3A4045", "#E9EBEC", "#A5AEB3")
_STRONG = ("#000000", "#0A0B0C", "#101214", "#1B1F22", "#2A3034", "#9AA3A8", "#FFFFFF", "#DDE3E6")
RAIL, GROUND, PANEL, CONTROL, CONTROL_HOVER, LINE, TEXT, MUTED = _STRONG if STRONG_CONTRAST else _USUAL
_USUAL_EDGES, _STRONG_EDGES = ("#7D888E", "#6C757A", "#454D52", "transparent"), ("#FFFFFF", "#A9B2B7", "#9AA3A8", LINE)
FOCUS, DISABLED, HANDLE, FIELD_LINE = _STRONG_EDGES if STRONG_CONTRAST else _USUAL_EDGES
"""The edge of what has the focus, words of what is off, handles of scroll bars, the edge of what is typed into."""
GOOD = "#7CC77F"
WARNING = "#FFD08A"
PAPER = "#F3EFE7"
PAPER_LINE = "#D5CDBE"
PAPER_TEXT = "#2B2B29"
PAPER_MUTED = "#6A655C"
PAPER_ROSE = "#A8445C"

SMALL, BASE, STRONG = 11, 12, 13
"""The size steps of the interface's type, in px; titles have 16 in the style sheet."""


def font(size: int = BASE, weight: QFont.Weight = QFont.Weight.Normal, figures: bool = False) -> QFont:
    """The interface's face; ``figures`` gives all figures one width, for times and numbers that change."""
    made = QFont("Inter")
    made.setPixelSize(size)
    made.setWeight(weight)
    if figures:
        made.setFeature(QFont.Tag("tnum"), 1)
    return made


def qcolor(words: str, alpha: float = 1.0) -> QColor:
    """``#RRGGBB`` or ``#RRGGBBAA`` as Qt's colour."""
    made = QColor(*channels(words))
    made.setAlphaF(made.alphaF() * alpha)
    return made


def apply(application: QApplication) -> None:
    """Load the bundled faces and dress the application; once is enough, as dressing it again would polish every widget anew."""
    sheet = style_sheet()
    if application.styleSheet() == sheet:
        return
    for path in font_files(BUNDLED):
        QFontDatabase.addApplicationFont(str(path))
    application.setStyle("Fusion")
    application.setFont(font())
    palette = QPalette()
    roles = QPalette.ColorRole
    for role, words in (
        (roles.Window, PANEL), (roles.WindowText, TEXT), (roles.Base, CONTROL), (roles.AlternateBase, PANEL),
        (roles.Text, TEXT), (roles.Button, CONTROL), (roles.ButtonText, TEXT), (roles.Highlight, "#3F6F66"),
        (roles.HighlightedText, "#FFFFFF"), (roles.ToolTipBase, "#0F1112"), (roles.ToolTipText, TEXT), (roles.PlaceholderText, MUTED),
    ):  # fmt: skip
        palette.setColor(role, QColor(words))
    for role in (roles.Text, roles.ButtonText, roles.WindowText):
        palette.setColor(QPalette.ColorGroup.Disabled, role, QColor(DISABLED))
    application.setPalette(palette)
    application.setStyleSheet(sheet)


@cache
def style_sheet(of: str = "style") -> str:
    """A style sheet: that of all, or what a ``card`` or a ``list`` of credits has besides: no other widget is held against its rules.

    Widgets say what they are with the property ``role``.
    """
    text = (Path(__file__).parent / f"{of}.qss").read_text("utf-8")
    names = {
        "SEAGLASS": SEAGLASS, "MARIGOLD": MARIGOLD, "ROSE": ROSE, "RAIL": RAIL, "GROUND": GROUND, "PANEL": PANEL,
        "CONTROL_HOVER": CONTROL_HOVER, "CONTROL": CONTROL, "LINE": LINE, "TEXT": TEXT, "MUTED": MUTED, "PAPER_LINE": PAPER_LINE,
        "FOCUS": FOCUS, "WARNING": WARNING, "DISABLED": DISABLED, "HANDLE": HANDLE, "FIELD_LINE": FIELD_LINE, "PAPER_TEXT": PAPER_TEXT,
        "PAPER_MUTED": PAPER_MUTED, "PAPER_ROSE": PAPER_ROSE, "PAPER": PAPER,
    }  # fmt: skip
    for name, value in names.items():
        text = text.replace(f"@{name};", f"{value};").replace(f"@{name} ", f"{value} ")
    return text.replace("@ICONS", (Path(__file__).parent.parent.parent / "icons").as_posix())
