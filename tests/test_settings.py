"""*Settings*: opened by its key, kept, and put to work at once and the next time."""

from pathlib import Path

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QApplication, QDialog, QDialogButtonBox, QFileDialog

from avlet.desktop.dialogs.settings_dialog import SettingsDialog
from avlet.desktop.stage.frame_cache import FrameCache
from avlet.desktop.widgets.numbers import NumberBox
from avlet.desktop.window.window import Window
from avlet.numbers.languages import USUAL, by_name, is_known, language_name, machine_language
from avlet.storage.settings import FILE, Settings, read_settings, replace


@pytest.fixture
def answering(window, monkeypatch):
    """Opens the settings by their key, lets a function work on them, and says whether they were taken."""
    monkeypatch.setattr(FrameCache, "most_bytes", FrameCache.most_bytes)
    monkeypatch.setattr(NumberBox, "language", NumberBox.language)

    def answer(qtbot, work):
        ended = []

        def look(dialog):
            work(dialog)
            dialog.findChild(QDialogButtonBox).button(QDialogButtonBox.StandardButton.Ok).click()
            ended.append(dialog.result() == QDialog.DialogCode.Accepted)
            return QDialog.DialogCode.Accepted if ended[0] else QDialog.DialogCode.Rejected

        monkeypatch.setattr(SettingsDialog, "exec", look)
        qtbot.waitUntil(window.isActiveWindow)
        qtbot.keyClick(window, Qt.Key.Key_Comma, Qt.KeyboardModifier.ControlModifier)
        QApplication.processEvents()
        return ended[0]

    return answer


def number(qtbot, box, words):
    box.setFocus()
    box.selectAll()
    qtbot.keyClicks(box, words)
    qtbot.keyClick(box, Qt.Key.Key_Return)


def test_they_are_kept_and_put_to_work(window, qtbot, answering, tmp_path):
    other = tmp_path / "other library"
    other.mkdir()

    def work(dialog):
        dialog.library.setText(str(other))
        dialog.language.setCurrentIndex(dialog.language.findData("de"))
        number(qtbot, dialog.keeping, "30")
        number(qtbot, dialog.frames, "64")

    assert answering(qtbot, work)
    kept = read_settings(window.state)
    assert (kept.library, kept.numbers, kept.keeps_every, kept.frames_mb) == (str(other), "de", 30, 64)
    assert window.cut_session.library == other and window._keeper.interval() == 30_000
    assert FrameCache.most_bytes == 64 * 1024**2 and window.build.stage.cache.most_bytes == 64 * 1024**2


def test_the_next_window_has_them(window, qtbot, answering, tmp_path, monkeypatch):
    other = tmp_path / "other"
    other.mkdir()
    assert answering(qtbot, lambda dialog: (dialog.library.setText(str(other)), number(qtbot, dialog.keeping, "7")))
    again = Window(None, window.state)
    qtbot.addWidget(again)
    assert again.cut_session.library == other and again._keeper.interval() == 7000


def test_numbers_are_shown_and_typed_as_the_language_writes_them(window, qtbot, answering):
    window.session.select("name")
    window.session.write({"name/paragraph": 12.5})
    QApplication.processEvents()
    box = window.build.recipe.findChild(NumberBox, "name/paragraph")
    assert box.text() == "12.5"
    answering(qtbot, lambda dialog: dialog.language.setCurrentIndex(dialog.language.findData("de")))
    assert box.text() == "12,5"
    number(qtbot, box, "1.284,5/2")
    assert window.session.template.part("name").paragraph == 642.25 and box.text() == "642,25"
    number(qtbot, box, "1.284")
    assert window.session.template.part("name").paragraph == 1284


def test_a_library_that_is_no_folder_is_refused_in_words(window, qtbot, answering, tmp_path):
    before, said = window.cut_session.library, []

    def work(dialog):
        dialog.library.setText(str(tmp_path / "nowhere"))
        dialog._finish()
        said.append((dialog.fault.text(), dialog.fault.isHidden()))

    assert not answering(qtbot, work)
    assert "is not a folder" in said[0][0] and not said[0][1] and window.cut_session.library == before
    assert not answering(qtbot, lambda dialog: dialog.library.setText(""))


def test_a_folder_is_chosen(window, qtbot, answering, tmp_path, monkeypatch):
    monkeypatch.setattr(QFileDialog, "getExistingDirectory", lambda *a: str(tmp_path))
    answering(qtbot, lambda dialog: dialog._choose())
    assert window.cut_session.library == Path(tmp_path)


def test_limits_are_held(qtbot, dressed, tmp_path):
    dialog = SettingsDialog(Settings(), tmp_path)
    qtbot.addWidget(dialog)
    number(qtbot, dialog.keeping, "100000")
    number(qtbot, dialog.frames, "0")
    assert (dialog.taken.keeps_every, dialog.taken.frames_mb) == (600, 32)


@pytest.mark.parametrize("data", [b'{"keeps_every": 0}', b'{"frames_mb": 1e99}', b'{"numbers": 3}', b"{", b"\xff"])
def test_a_file_that_is_none_gives_the_usual_ones(tmp_path, data):
    (tmp_path / FILE).write_bytes(data)
    assert read_settings(tmp_path) == Settings()


def test_languages_have_names_and_are_found_by_them():
    assert all(is_known(code) for code in USUAL) and len({language_name(code) for code in USUAL}) == len(USUAL)
    assert (by_name("German (Austria)"), by_name("de-AT"), by_name("welsh"), by_name("klingon")) == ("de_AT", "de_AT", "cy", None)
    assert not is_known("") and not is_known("xx") and machine_language() == "en"


def test_shift_with_an_arrow_goes_as_many_frames_as_the_settings_say(window, qtbot, answering):
    window.show_bench(0)
    qtbot.waitUntil(window.isActiveWindow)
    session, shift = window.session, Qt.KeyboardModifier.ShiftModifier
    session.go_to(50)
    window.build.stage.setFocus()
    for key, frame in ((Qt.Key.Key_Right, 55), (Qt.Key.Key_Left, 50), (Qt.Key.Key_Left, 45)):
        qtbot.keyClick(window.windowHandle(), key, shift)
        assert session.frame == frame
    window.take_settings(replace(window.cut_session.settings, jump=20))
    qtbot.keyClick(window.windowHandle(), Qt.Key.Key_Right, shift)
    assert session.frame == 65
    session.go_to(3)
    qtbot.keyClick(window.windowHandle(), Qt.Key.Key_Left, shift)
    assert session.frame == 0, "no further than the begin"


def test_shift_with_an_arrow_marks_words_where_one_types(window, qtbot):
    window.show_bench(0)
    window.session.select("plate")
    QApplication.processEvents()
    line = next(box for box in window.build.recipe.findChildren(NumberBox) if box.isVisible())
    line.setFocus()
    line.setText("123")
    line.setCursorPosition(3)
    frame = window.session.frame
    qtbot.keyClick(line, Qt.Key.Key_Left, Qt.KeyboardModifier.ShiftModifier)
    assert line.selectedText() == "3" and window.session.frame == frame
