"""After a click in a list every single key does what the key list says; lists keep Up, Down and F2."""

import pytest
from hands import row_of, settle, type_into
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QApplication, QLineEdit, QMessageBox

from avlet.desktop.window.shell import BENCHES
from avlet.document.parts import RulePart, ShapePart, TextPart


@pytest.fixture
def listed(window, qtbot):
    """Clicks on a part in the list of parts, then presses keys where that leaves the focus."""
    parts = window.build.parts

    def press(part_id, *keys):
        qtbot.waitUntil(window.isActiveWindow)
        qtbot.mouseClick(parts.viewport(), Qt.MouseButton.LeftButton, pos=row_of(parts, part_id))
        settle()
        assert QApplication.focusWidget() is parts and window.session.selected == part_id
        for key in keys:
            qtbot.keyClick(window.windowHandle(), key)
            settle()

    return press


def kinds(window, kind):
    return sum(isinstance(part, kind) for part in window.session.template.parts)


@pytest.mark.parametrize(("key", "kind"), [(Qt.Key.Key_R, RulePart), (Qt.Key.Key_S, ShapePart), (Qt.Key.Key_T, TextPart)])
def test_ready_parts_are_made_by_their_keys(window, listed, key, kind):
    before = kinds(window, kind)
    listed("name", key)
    assert kinds(window, kind) == before + 1


def test_delete_removes_and_escape_selects_nothing(window, listed, monkeypatch):
    monkeypatch.setattr(QMessageBox, "question", lambda *a, **k: QMessageBox.StandardButton.Yes)
    listed("name", Qt.Key.Key_Escape)
    assert window.session.selected is None
    count = len(window.session.template.parts)
    listed(window.session.template.parts[-1].id, Qt.Key.Key_Delete)
    assert len(window.session.template.parts) < count


def test_the_film_plays_steps_and_goes_to_its_ends(window, listed, qtbot):
    session, player = window.session, window.build.transport.player
    listed("name", Qt.Key.Key_Home)
    assert session.frame == 0
    listed("name", Qt.Key.Key_Right, Qt.Key.Key_Right, Qt.Key.Key_Left)
    assert session.frame == 1
    listed("name", Qt.Key.Key_End)
    assert session.frame == session.length() - 1
    listed("name", Qt.Key.Key_PageUp)
    assert session.frame < session.length() - 1
    listed("name", Qt.Key.Key_Space)
    assert player.playing
    qtbot.keyClick(window.windowHandle(), Qt.Key.Key_Space)
    assert not player.playing


def test_return_types_and_no_letter_jumps_in_the_list(window, listed, qtbot):
    listed("name", Qt.Key.Key_Return)
    assert window.build.stage.findChild(QLineEdit) is not None or QApplication.focusWidget() is not window.build.parts
    qtbot.keyClick(QApplication.focusWidget(), Qt.Key.Key_Escape)
    settle()
    listed("plate", Qt.Key.Key_N)
    assert window.session.selected != "name", "a letter is a command, and no search"


def test_up_down_and_f2_stay_with_the_list(window, listed, qtbot):
    parts = window.build.parts
    listed("name")
    frame, row = window.session.frame, parts.currentIndex().row()
    listed("name", Qt.Key.Key_Down)
    assert parts.currentIndex().row() == row + 1 and window.session.frame == frame and window.session.selected != "name"
    qtbot.keyClick(window.windowHandle(), Qt.Key.Key_Up)
    assert window.session.selected == "name"
    qtbot.keyClick(window.windowHandle(), Qt.Key.Key_F2)
    settle()
    editor = next(e for e in parts.findChildren(QLineEdit) if e.isVisible())
    type_into(qtbot, editor, "Rose")
    qtbot.keyClick(editor, Qt.Key.Key_R)
    assert editor.text().endswith("r"), "words are typed while a name is"
    qtbot.keyClick(editor, Qt.Key.Key_Return)
    settle()
    assert window.session.template.part("name").name.startswith("Rose")


def test_the_library_keeps_its_arrows_and_all_else_is_the_desks(window, qtbot):
    window.show_bench(BENCHES.index("Desk"))
    view = window.desk.library.list
    qtbot.waitUntil(lambda: view.model().rowCount() > 3, timeout=60_000)
    qtbot.waitUntil(window.isActiveWindow)
    qtbot.mouseClick(view.viewport(), Qt.MouseButton.LeftButton, pos=view.visualRect(view.model().index(0, 0)).center())
    settle()
    frame = window.cut_session.frame
    qtbot.keyClick(window.windowHandle(), Qt.Key.Key_Right)
    settle()
    assert view.currentIndex().row() == 1 and window.cut_session.frame == frame
    qtbot.keyClick(window.windowHandle(), Qt.Key.Key_Home)
    assert window.cut_session.frame == 0
