"""Every control has a name for those who hear it, and every sign says in words what it does."""

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import (
    QAbstractButton,
    QAbstractItemView,
    QAbstractScrollArea,
    QApplication,
    QComboBox,
    QScrollArea,
    QScrollBar,
    QSplitter,
    QStackedWidget,
    QWidget,
)

from avlet.desktop.dialogs.handover_dialog import HandoverDialog
from avlet.desktop.dialogs.keys_dialog import KeysDialog
from avlet.desktop.dialogs.paste_answers_dialog import PasteAnswersDialog
from avlet.desktop.dialogs.start_dialog import StartDialog

_FRAMES = (QScrollArea, QSplitter, QStackedWidget, QScrollBar)
"""Widgets that only hold others."""


def nameless(root: QWidget) -> list[str]:
    """What takes the keyboard without a name, and what shows a sign without words, among what is to be seen."""
    found = []
    for widget in root.findChildren(QWidget):
        if not widget.isVisibleTo(root) or isinstance(widget, _FRAMES):
            continue
        inner = isinstance(widget.parent(), QComboBox | QAbstractItemView | QAbstractScrollArea)
        said = widget.accessibleName() or (widget.text() if isinstance(widget, QAbstractButton) else "")
        if widget.focusPolicy() != Qt.FocusPolicy.NoFocus and not said and not inner:
            found.append(f"{type(widget).__name__} {widget.objectName()} has no name")
        sign = isinstance(widget, QAbstractButton) and widget.isEnabled() and not widget.isCheckable() and len(widget.text()) < 2
        if sign and not widget.toolTip():
            found.append(f"{type(widget).__name__} {widget.objectName()} “{widget.text()}” is a sign without words")
    return found


@pytest.mark.parametrize("selected", [None, "name", "plate", "rule"])
@pytest.mark.parametrize("bench", range(3))
def test_a_bench_has_no_control_without_a_name(window, bench, selected):
    window.show_bench(bench)
    window.session.select(selected)
    for _ in range(8):
        QApplication.processEvents()
    assert nameless(window) == []


def test_the_desk_has_no_control_without_a_name(window):
    window.show_desk()
    for title in (None, "odalys", "watanabe"):
        window.cut_session.select(title)
        QApplication.processEvents()
        assert nameless(window) == []


def test_dialogs_have_no_control_without_a_name(window, qtbot):
    for dialog in (
        HandoverDialog(window.session, window.cut_session.library, window), StartDialog(window), KeysDialog([], window),
        PasteAnswersDialog({"Name": "Bo Li"}, {"Name": "Ay"}, 1, window),
    ):  # fmt: skip
        dialog.show()
        QApplication.processEvents()
        assert nameless(dialog) == [], dialog.windowTitle()
        dialog.close()
