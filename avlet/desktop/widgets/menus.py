"""Menus that are made for one time: where they were asked for, gone when they close."""

from PyQt6.QtCore import QPoint
from PyQt6.QtWidgets import QMenu


def pop_up(menu: QMenu, at: QPoint) -> None:
    """Show a menu at a point of the screen and delete it once it has closed: its owner may live as long as the window."""
    menu.aboutToHide.connect(menu.deleteLater)  # which waits until what was chosen has been done
    menu.popup(at)
