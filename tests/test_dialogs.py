"""Dialogs that are open while all else goes on: nothing that they were asked from is built anew meanwhile, in whatever order."""

import ast
import random
from pathlib import Path

import pytest
from hands import chip, settle
from PyQt6 import sip
from PyQt6.QtCore import QPoint, Qt, QTimer
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QComboBox, QDialog, QFileDialog, QLineEdit, QMenu, QMessageBox, QPushButton, QToolButton, QWidget

from avlet.desktop.dialogs.waiting import wait_in_windows
from avlet.desktop.recipe.recipe import Recipe
from avlet.desktop.widgets.asking import lasting
from avlet.desktop.window.shell import BENCHES
from avlet.desktop.window.window import Window
from avlet.errors import StorageError
from avlet.storage import bounded as bounding

DESKTOP = Path(__file__).parent.parent / "avlet" / "desktop"
ASKING = {"question", "warning", "information", "critical", "getText", "getItem", "getInt", "getOpenFileName", "getOpenFileNames", "getSaveFileName", "getExistingDirectory"}  # fmt: skip


@pytest.fixture(autouse=True)
def nothing_is_left_open(qapp):
    """What a test leaves open would hold up the panels of the next."""
    yield
    for _ in range(10):
        left = QApplication.activePopupWidget() or QApplication.activeModalWidget()
        if left is None:
            break
        left.hide()
        QApplication.processEvents()


@pytest.fixture
def window(dressed, qtbot, demo, tmp_path):
    """The application with the demo open, and with its real dialogs."""
    made = Window(demo, tmp_path / "state")

    def before_close(closing):
        """Nothing is asked any more."""
        closing.session.mark_saved(tmp_path / "saved")
        closing.cut_session.mark_saved(tmp_path / "saved.otio")
        closing.roster_session.on_disk = closing.roster_session.roster.sheet if closing.roster_session.roster else None

    qtbot.addWidget(made, before_close_func=before_close)
    made.files.open_demo(demo)
    made.show()
    qtbot.waitExposed(made)
    made.activateWindow()
    return made


def meanwhile(act, every=15):
    """Does something again and again while dialogs are open."""
    timer = QTimer()
    timer.timeout.connect(lambda: QTimer.singleShot(0, act))  # a timer does not fire again before what it called has returned
    timer.start(every)
    return timer


def everything_is_told(window):
    """What a background reader, a watcher and a proof may tell while a dialog is open."""
    session = window.session
    for signal in (session.changed, session.answers_changed, session.selection_changed):
        signal.emit()
    for panel in (window.build.recipe, *([window.card.panel] if window.in_front("Card") else [])):
        panel.forget()


def test_a_panel_waits_while_a_question_is_open_that_was_asked_from_it(window, qtbot):
    window.show_bench(BENCHES.index("Card"))
    panel = window.card.panel
    window.card.choose("name")
    settle()
    body, seen = panel.widget(), []
    telling = meanwhile(lambda: everything_is_told(window))

    def answer():
        box = QApplication.activeModalWidget()
        if not isinstance(box, QMessageBox) or len(seen) < 8:
            if box is not None:
                seen.append((sip.isdeleted(body), box.parent() is window))
            QTimer.singleShot(25, answer)
            return
        telling.stop()
        qtbot.mouseClick(box.button(QMessageBox.StandardButton.Ok), Qt.MouseButton.LeftButton)

    QTimer.singleShot(50, answer)
    button = next(b for b in panel.findChildren(QPushButton) if b.text().startswith("Take off the card"))
    qtbot.mouseClick(button, Qt.MouseButton.LeftButton)
    assert len(seen) == 8 and set(seen) == {(False, True)}
    assert window.session.template.card.field("name") is None
    qtbot.waitUntil(lambda: sip.isdeleted(body) or panel.widget() is not body, timeout=3000)


def test_a_card_waits_as_well_and_shows_the_last_that_was_wanted(window, qtbot):
    window.show_bench(BENCHES.index("Card"))
    settle()
    card = window.card.card
    rows = dict(card.rows)
    dialog = QDialog(window)
    dialog.setModal(True)
    dialog.show()
    card.show_nothing("first")
    card.show_card(window.session.template, {"name": "Bo Li"})
    settle()
    assert card.rows == rows and not any(sip.isdeleted(row) for row in rows.values())
    dialog.close()
    qtbot.waitUntil(lambda: card.rows and card.rows["name"] is not rows["name"], timeout=3000)
    assert (
        card.inputs["name"].toPlainText() == "Bo Li"
        if hasattr(card.inputs["name"], "toPlainText")
        else card.inputs["name"].text() == "Bo Li"
    )


def test_a_panel_within_a_dialog_is_built_while_that_is_open(window, qtbot):
    window.session.select("plate")
    window.open_wire("plate/fill")
    settle()
    dialog = QDialog(window)
    dialog.setModal(True)
    recipe = Recipe(window.session)
    recipe.setParent(dialog)
    dialog.show()
    recipe.show()
    body = recipe.widget()
    recipe.rebuild()
    assert recipe.widget() is not body
    dialog.close()


def test_a_dialog_belongs_to_the_window_whatever_menu_or_panel_asks(window):
    menu = QMenu(window.build.recipe)
    inner = QMenu(menu)
    assert lasting(window.build.recipe) is window and lasting(inner) is window and lasting(window) is window
    dialog = QDialog(window)
    assert lasting(QWidget(dialog)) is dialog
    assert lasting(None) is QApplication.activeWindow()


def test_every_dialog_of_the_desktop_has_a_parent_that_lasts():
    """All that asks takes ``lasting(…)``, or the window or dialog that it is a method of."""
    windows = {"window/window.py", "window/files.py", "dialogs/settings_dialog.py"}
    wrong, count = [], 0
    for path in DESKTOP.rglob("*.py"):
        for node in ast.walk(ast.parse(path.read_text())):
            if isinstance(node, ast.Call) and isinstance(node.func, ast.Attribute) and node.func.attr in ASKING:
                owner = node.func.value
                if not (isinstance(owner, ast.Name) and owner.id in ("QMessageBox", "QInputDialog", "QFileDialog")):
                    continue
                count += 1
                first = node.args[0]
                lasts = isinstance(first, ast.Call) and getattr(first.func, "id", "") == "lasting"
                own = ast.unparse(first) in ("self", "self.window") and str(path.relative_to(DESKTOP)) in windows
                if not lasts and not own:
                    wrong.append(f"{path.relative_to(DESKTOP)}:{node.lineno}")
    assert not wrong and count > 30


def test_a_choice_about_what_is_gone_by_then_is_said(window, qtbot):
    window.session.select("name")
    qtbot.waitUntil(lambda: chip(window, "way_in tie") is not None, timeout=5_000)
    button = chip(window, "way_in tie")
    qtbot.mouseClick(button, Qt.MouseButton.LeftButton)
    menu = button.findChildren(QMenu)[-1]
    entry = next(a for a in menu.actions() if a.isEnabled() and not a.isChecked())
    window.session.change("name/way_in", lambda moves: ())
    window.say("quiet")
    entry.trigger()
    menu.close()
    settle()
    assert "does not have that move any more" in window.message.text()


# Any order

_WORDS = ("Bo Li", "", "x" * 80, "Íris Þórdal")
_LEFT_ALONE = {"Hand over…", "Render", "Render titles…", "avlet"}


def pressable(window, chance):
    """A button in sight that can be pressed, at random."""
    found = [
        b
        for kind in (QPushButton, QToolButton)
        for b in window.findChildren(kind)
        if b.isVisible() and b.isEnabled() and b.window() is window
    ]
    found = [b for b in found if b.text() not in _LEFT_ALONE and b.visibleRegion().boundingRect().contains(b.rect().center())]
    return chance.choice(found) if found else None


def answered(chance, told):
    """Answer whatever is open: a menu by an entry, a dialog by a button, a key or words."""
    menu = QApplication.activePopupWidget()
    if isinstance(menu, QMenu):
        entries = [
            a
            for a in menu.actions()
            if a.isEnabled() and not a.isSeparator() and a.menu() is None and not a.text().startswith(("Quit", "Render"))
        ]
        if entries and chance.random() < 0.7:
            QTest.mouseClick(menu, Qt.MouseButton.LeftButton, pos=menu.actionGeometry(chance.choice(entries)).center())
        if QApplication.activePopupWidget() is menu:
            QTest.keyClick(menu, Qt.Key.Key_Escape)
        return
    if menu is not None:
        menu.close()
        return
    box = QApplication.activeModalWidget()
    if box is None:
        return
    told.add(type(box).__name__)
    for edit in box.findChildren(QLineEdit)[:1]:
        edit.setText(chance.choice(_WORDS))
    buttons = [b for b in box.findChildren(QPushButton) if b.isVisible() and b.isEnabled() and b.text() not in _LEFT_ALONE]
    if buttons and chance.random() < 0.6:
        QTest.mouseClick(chance.choice(buttons), Qt.MouseButton.LeftButton)
    else:
        QTest.keyClick(box, chance.choice([Qt.Key.Key_Escape, Qt.Key.Key_Return]))
    if QApplication.activeModalWidget() is box and chance.random() < 0.5:
        box.reject()


@pytest.mark.parametrize("seed", [0, *(pytest.param(seed, marks=pytest.mark.soak) for seed in range(1, 25))])
def test_buttons_and_dialogs_in_any_order_while_timers_fire(window, qtbot, monkeypatch, seed):
    chance, told, faults = random.Random(seed), set(), []
    monkeypatch.setattr("sys.excepthook", lambda kind, error, trace: faults.append((kind, str(error), trace.tb_frame.f_code.co_name)))
    for name in ("getOpenFileName", "getSaveFileName", "getOpenFileNames"):
        monkeypatch.setattr(QFileDialog, name, lambda *a, **k: ("", ""))
    monkeypatch.setattr(QFileDialog, "getExistingDirectory", lambda *a, **k: "")
    answering = meanwhile(lambda: answered(chance, told), 30)
    telling = meanwhile(lambda: everything_is_told(window), 400)
    parts = [part.id for part in window.session.template.parts]
    for _ in range(3 if seed == 0 else 40):
        if chance.random() < 0.2:
            window.show_bench(chance.randrange(len(BENCHES) - 3))
            window.session.select(chance.choice(parts))
        settle()
        button = pressable(window, chance)
        if button is not None:
            QTest.mouseClick(button, Qt.MouseButton.LeftButton)
        elif combos := [c for c in window.findChildren(QComboBox) if c.isVisible()]:
            QTest.mouseClick(chance.choice(combos), Qt.MouseButton.LeftButton, pos=QPoint(4, 4))
        for _ in range(3):
            qtbot.wait(12)
        parts = [part.id for part in window.session.template.parts] or parts
    answering.stop()
    telling.stop()
    while (left := QApplication.activeModalWidget() or QApplication.activePopupWidget()) is not None:
        left.close()
        settle()
    assert not faults, faults
    assert not sip.isdeleted(window) and window.isVisible()


# Waiting for bounded work


def test_work_that_takes_a_moment_is_shown_and_can_be_stopped(window, qtbot, monkeypatch):
    import time

    monkeypatch.setattr(bounding, "_patience", bounding._patience)
    wait_in_windows()
    assert bounding.bounded(lambda: 3, "quick.xlsx") == 3
    seen = []

    def press(stop):
        box = QApplication.activeModalWidget()
        seen.append(box.labelText() if box is not None else None)
        if box is not None and stop:
            qtbot.mouseClick(box.findChild(QPushButton), Qt.MouseButton.LeftButton)

    QTimer.singleShot(300, lambda: press(False))
    assert bounding.bounded(lambda: time.sleep(0.6) or 4, "slow.xlsx") == 4
    QTimer.singleShot(300, lambda: press(True))
    with pytest.raises(StorageError, match=r"Reading “slow.xlsx” was stopped"):
        bounding.bounded(lambda: time.sleep(30), "slow.xlsx")
    assert seen == ["Reading slow.xlsx …"] * 2
    with pytest.raises(StorageError, match="takes longer than"):
        bounding.bounded(lambda: [None for _ in iter(int, 1)], "busy.xlsx", seconds=0.4)


def test_events_that_come_while_it_is_waited_are_delivered_later(window, qtbot, monkeypatch):
    """The window's own loop goes on: timers fire, and the stage paints."""
    import time

    monkeypatch.setattr(bounding, "_patience", bounding._patience)
    wait_in_windows()
    beats = []
    timer = meanwhile(lambda: beats.append(1), 20)
    bounding.bounded(lambda: time.sleep(2.5), "slow.xlsx")
    timer.stop()
    assert len(beats) > 5
