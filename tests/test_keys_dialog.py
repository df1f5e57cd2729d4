"""*Keys and habits*: opened by its key, made from the keys that the window has, searched."""

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QKeySequence, QShortcut
from PyQt6.QtWidgets import QApplication, QDialog

from avlet.desktop.dialogs.keys_dialog import HABITS, KeysDialog


def test_f1_lists_every_key_that_the_window_has(window, qtbot, monkeypatch):
    shown = []

    def look(dialog):
        shown.append(dialog.shown())
        qtbot.keyClicks(dialog.search, "group make")
        shown.append(dialog.shown())
        dialog.search.clear()
        qtbot.keyClicks(dialog.search, "desk answers")
        shown.append(dialog.shown())
        dialog.search.clear()
        qtbot.keyClicks(dialog.search, "no such key")
        shown.append(dialog.shown())
        return QDialog.DialogCode.Rejected

    monkeypatch.setattr(KeysDialog, "exec", look)
    qtbot.waitUntil(window.isActiveWindow)
    qtbot.keyClick(window.windowHandle(), Qt.Key.Key_F1)
    QApplication.processEvents()
    listed = {keys for _, keys, _ in shown[0]}
    for shortcut in window.findChildren(QShortcut):
        assert any(QKeySequence(keys) == shortcut.key() for keys in listed), shortcut.key().toString()
    for key in window.shortcuts.plain:
        assert any(QKeySequence(keys) == QKeySequence(key) for keys in listed), key
    assert all(words for _, _, words in shown[0]) and set(HABITS) <= set(shown[0])
    assert [keys for _, keys, _ in shown[1]] == ["Ctrl+G"]
    assert {(where, keys) for where, keys, _ in shown[2]} == {("Desk", "Ctrl+C"), ("Desk", "Ctrl+V")}
    assert shown[3] == []


def test_no_key_is_given_twice(window):
    keys = [command.keys for command in window.shortcuts.commands]
    assert len(keys) == len(set(keys))
