"""Whose child a dialog is, and where a widget shows: never one of a widget that may be built anew, never as a window by accident."""

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


def show_within(widget: QWidget, on: bool) -> None:
    """Show a widget in what it lies in, or hide it. One that lies in nothing yet would come up as a window; it shows with what takes it."""
    if not on or widget.parentWidget() is not None:
        widget.setVisible(on)
