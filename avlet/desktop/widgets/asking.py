"""Whose child a dialog is: never one of a widget that may be built anew while the dialog is open."""

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QApplication, QWidget


def lasting(widget: QWidget | None) -> QWidget | None:
    """The window or dialog that a widget lies in, menus and popups left out: it stays until what was asked is answered."""
    while widget is not None:
        if widget.isWindow() and (widget.windowFlags() & Qt.WindowType.WindowType_Mask) != Qt.WindowType.Popup:
            return widget
        widget = widget.parentWidget()
    return QApplication.activeWindow()


def is_behind_a_dialog(widget: QWidget) -> bool:
    """Whether a modal window is open that a widget does not lie in."""
    modal = QApplication.activeModalWidget()
    return modal is not None and modal is not widget.window()
