"""Mouse and keys for tests of the interface."""

from PyQt6.QtCore import QPoint, QPointF, Qt, QTimer
from PyQt6.QtGui import QMouseEvent
from PyQt6.QtWidgets import QApplication, QMenu, QPushButton

from avlet.desktop.recipe.sentences import Chip
from avlet.desktop.widgets.numbers import NumberBox


def chip(window, name) -> Chip:
    return window.build.recipe.findChild(Chip, name)


def choose(qtbot, button, words) -> None:
    """Open a chip's menu with a click and choose an entry."""
    qtbot.mouseClick(button, Qt.MouseButton.LeftButton)
    menu = button.findChildren(QMenu)[-1]
    action = next(a for a in menu.actions() if a.text() == words)
    action.trigger()
    menu.close()
    QApplication.processEvents()


def box(window, target) -> NumberBox:
    """A number of the recipe; what stands at its default is unfolded first, by its button."""
    QApplication.processEvents()
    found = window.build.recipe.findChild(NumberBox, target)
    if found is None:
        unfold(window)
        found = window.build.recipe.findChild(NumberBox, target)
    return found


def unfold(window) -> None:
    """Open the sentences of the recipe that say only what is usual."""
    for name in ("unfold stance", "unfold matte"):
        button = window.build.recipe.findChild(QPushButton, name)
        if button is not None:
            button.click()
            QApplication.processEvents()


def type_into(qtbot, edit, words) -> None:
    edit.setFocus()
    edit.selectAll()
    if words.isascii():
        qtbot.keyClicks(edit, words)
    else:  # QTest presses ASCII keys only
        edit.insertPlainText(words)


def row_of(parts, part_id, below=0.5, x=90) -> QPoint:
    """A place in the row of a part, in px of the list's viewport; ``below`` is how far down, 1 its lower edge."""
    area = parts.visualRect(parts.model().index(parts.model().row_of(part_id)))
    return QPoint(x, round(area.top() + area.height() * below))


def middle_of(stage, part_id) -> QPoint:
    return stage.box_in_view(stage.session.scene().rest.parts[part_id].box).center().toPoint()


def move_held(widget, at: QPointF, modifier=Qt.KeyboardModifier.NoModifier) -> None:
    """Move the mouse over a widget with the left button held."""
    none, left = Qt.MouseButton.NoButton, Qt.MouseButton.LeftButton
    QApplication.sendEvent(widget, QMouseEvent(QMouseEvent.Type.MouseMove, at, widget.mapToGlobal(at), none, left, modifier))


def drag(qtbot, widget, start: QPoint, by: QPoint, modifier=Qt.KeyboardModifier.NoModifier) -> None:
    qtbot.mousePress(widget, Qt.MouseButton.LeftButton, modifier, start)
    for step in range(1, 5):
        move_held(widget, QPointF(start + by * step / 4), modifier)
    qtbot.mouseRelease(widget, Qt.MouseButton.LeftButton, modifier, start + by)


def settle() -> None:
    """Let what was begun come to its end."""
    for _ in range(6):
        QApplication.processEvents()


def render_titles(window, qtbot, folder, timeout=90_000) -> list:
    """Render all titles of the cut on the desk by its dialog, as films with alpha in a folder; the films."""
    window.files.render(all_titles=True)
    dialog = window.files.dialog
    dialog.film.setChecked(False)
    dialog.folder.line.setText(str(folder))
    dialog.kind.setCurrentText("Run-length film with alpha (.mov)")
    qtbot.mouseClick(dialog.start_button, Qt.MouseButton.LeftButton)
    qtbot.waitUntil(lambda: dialog.words.text().startswith("Wrote"), timeout=timeout)
    qtbot.waitUntil(lambda: dialog.thread_ is None)
    dialog.reject()
    return sorted(folder.glob("*.mov"))


def in_a_dialog(kind, act, opening) -> None:
    """Do something with the dialog of a kind that ``opening`` opens and waits for; it is left where that does not end it."""
    seen, faults = [], []

    def look():
        dialog = QApplication.activeModalWidget()
        if isinstance(dialog, kind):
            seen.append(dialog)
            try:
                act(dialog)
            except BaseException as error:
                faults.append(error)
            if dialog.isVisible():
                dialog.reject()

    timer = QTimer()
    timer.setSingleShot(True)
    timer.timeout.connect(look)
    timer.start(20)
    opening()
    timer.stop()
    settle()
    if faults:
        raise faults[0]
    assert seen, "no such dialog"
