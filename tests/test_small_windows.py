"""Small windows and large interfaces: everything is there, whole, and reached; panels without room are drawers."""

import itertools
import os
import subprocess
import sys

import pytest
from hands import drag, settle
from PyQt6.QtCore import QPoint, QRect, Qt
from PyQt6.QtWidgets import QAbstractButton, QApplication, QLabel, QLineEdit, QPushButton, QScrollArea, QSplitterHandle, QWidget
from test_settings import number

from avlet.desktop import appearance
from avlet.desktop.dialogs.settings_dialog import SettingsDialog
from avlet.desktop.stage.stage import Stage
from avlet.desktop.widgets import theme
from avlet.desktop.widgets.hint import Hint
from avlet.desktop.widgets.numbers import NumberBox
from avlet.desktop.widgets.sides import TAB, Sides
from avlet.desktop.window.shell import BENCHES, BUILD, CARD, DESK, PROOF, ROSTER, TIME
from avlet.document.looks.colours import channels
from avlet.storage.settings import Settings, write_settings

SIZES = {"175 % of 1280 by 800": (732, 457), "small": (1024, 640), "usual": (1280, 800)}
LEFT = Qt.MouseButton.LeftButton


def fitted(window, name, size):
    """A bench in a window of a size, with something chosen in it."""
    window.show_bench(BENCHES.index(name))
    if name == ROSTER and window.roster_session.roster is None:
        window.roster.open_demo()
    if name in (BUILD, TIME):
        window.session.select("name")
    if name == DESK:
        window.cut_session.select("odalys")
    window.resize(*size)
    for _ in range(3):
        settle()
    return window.stack.currentWidget()


def in_sight(widget):
    """Whether all of a widget lies in what its scroll areas show."""
    area = QRect(widget.mapTo(widget.window(), QPoint(0, 0)), widget.size())
    parent = widget.parentWidget()
    while parent is not None:
        if isinstance(parent, QScrollArea):
            view = parent.viewport()
            area &= QRect(view.mapTo(view.window(), QPoint(0, 0)), view.size())
        parent = parent.parentWidget()
    return not area.isEmpty()


def cut_words(bench):
    """Buttons and labels whose words are wider than they are."""
    found = []
    for one in bench.window().findChildren(QWidget):
        if not one.isVisible() or isinstance(one, Hint):
            continue
        if isinstance(one, QPushButton) or (isinstance(one, QLabel) and not one.wordWrap()):
            words = one.text().split("\n")
            plain = not isinstance(one, QLabel) or (one.textFormat() != Qt.TextFormat.RichText and "<" not in one.text())
            wide = max((one.fontMetrics().horizontalAdvance(line) for line in words), default=0)
            if plain and wide > one.width() + 1:
                found.append((type(one).__name__, one.text(), one.width(), wide))
    return found


def overlaps(bench):
    """Pairs of widgets of one parent that lie over each other: drawers and what floats over a picture aside."""
    found = []
    parents = [bench, *(w for w in bench.findChildren(QWidget) if w.isVisible() and w.layout() is not None)]
    for parent in parents:
        layout = parent.layout()
        if layout is None:
            continue
        placed = [item.widget() for n in range(layout.count()) if (item := layout.itemAt(n)) is not None and item.widget() is not None]
        shown = [w for w in placed if w.isVisible()]
        for one, other in itertools.combinations(shown, 2):
            both = one.geometry() & other.geometry()
            if both.width() > 1 and both.height() > 1:
                found.append((type(one).__name__, type(other).__name__, both))
    return found


@pytest.mark.parametrize("size", SIZES)
@pytest.mark.parametrize("name", BENCHES)
def test_nothing_is_cut_or_overlaps(window, name, size):
    bench = fitted(window, name, SIZES[size])
    assert (window.width(), window.height()) == SIZES[size], "the window takes that size"
    assert cut_words(bench) == [] and overlaps(bench) == []
    for one in bench.findChildren(QAbstractButton):
        if one.isVisible() and in_sight(one):
            corner = one.mapTo(window, QPoint(one.width(), one.height()))
            assert corner.x() <= window.width() + 1, (one.text() or one.accessibleName(), corner)
    window.grab()


@pytest.mark.parametrize("name", BENCHES)
def test_in_a_wide_window_panels_stand_beside_each_other(window, name):
    bench = fitted(window, name, (1280, 800))
    assert not any(sides.is_drawer(panel) for sides in bench.findChildren(Sides) for panel in sides.panels)
    assert not any(tab.isVisible() for sides in bench.findChildren(Sides) for tab in sides.tabs.values())


def tab_of(bench, words):
    return next(tab for sides in bench.findChildren(Sides) for tab in sides.tabs.values() if tab.text() == words)


def test_a_drawer_is_opened_by_its_tab_and_left_by_esc(window, qtbot):
    bench = fitted(window, BUILD, (732, 457))
    sides, parts, recipe = bench.sides, tab_of(bench, "Parts"), tab_of(bench, "Recipe")
    assert parts.isVisible() and recipe.isVisible() and not bench.recipe.isVisible() and not bench.parts.isVisible()
    stage = bench.stage.geometry()
    qtbot.mouseClick(recipe, LEFT)
    settle()
    assert bench.recipe.isVisible() and bench.stage.geometry() == stage, "the stage stays where it is"
    box = next(b for b in bench.recipe.findChildren(NumberBox) if b.isVisible() and in_sight(b))
    assert box.mapTo(window, QPoint(box.width(), 0)).x() <= window.width() - TAB
    qtbot.mouseClick(parts, LEFT)
    settle()
    assert bench.parts.isVisible() and not bench.recipe.isVisible(), "one at a time"
    bench.parts.setFocus()
    qtbot.keyClick(bench.parts, Qt.Key.Key_Escape)
    settle()
    assert not bench.parts.isVisible() and not parts.isChecked()
    parts.setFocus()
    qtbot.keyClick(parts, Qt.Key.Key_Space)
    assert bench.parts.isVisible() and parts.accessibleName() == "Close Parts"
    qtbot.mouseClick(parts, LEFT)
    assert not bench.parts.isVisible() and parts.accessibleName() == "Open Parts"
    sides.reveal(sides.panels[1])
    assert bench.recipe.isVisible()
    window.resize(1280, 800)
    settle()
    assert bench.parts.isVisible() and bench.recipe.isVisible() and not recipe.isVisible() and not sides.is_drawer(sides.panels[0])
    assert sides.panels[0].geometry().right() < bench.stage.mapTo(sides, QPoint(0, 0)).x() + 1, "beside the stage again"


def test_the_left_panel_gives_way_first(window):
    bench = fitted(window, BUILD, (1024, 640))
    assert bench.sides.is_drawer(bench.sides.panels[0]) and not bench.sides.is_drawer(bench.sides.panels[1])


def test_widths_that_were_drawn_come_back(window, qtbot):
    desk = fitted(window, DESK, (1280, 800))
    handle = desk.sides._box.handle(1)
    assert isinstance(handle, QSplitterHandle)
    drag(qtbot, handle, handle.rect().center(), QPoint(-60, 0))
    before = desk.sides._box.sizes()
    assert before[0] < 284
    fitted(window, DESK, (732, 457))
    assert desk.sides.is_drawer(desk.sides.panels[0])
    fitted(window, DESK, (1280, 800))
    assert desk.sides._box.sizes() == before and desk.sides._box.indexOf(desk.library) == 0


def test_enter_on_the_cut_opens_the_card_where_it_is_a_drawer(window, qtbot):
    desk = fitted(window, DESK, (732, 457))
    desk.picture.setMinimumWidth(500)
    settle()
    assert desk.sides.is_drawer(desk.sides.panels[1])
    desk.view.setFocus()
    qtbot.keyClick(desk.view, Qt.Key.Key_Return)
    settle()
    assert desk.card.isVisible()


def test_the_rail_goes_without_words_and_keeps_its_names(window, qtbot):
    fitted(window, BUILD, (732, 457))
    buttons = window.rail_buttons
    assert all(b.toolButtonStyle() == Qt.ToolButtonStyle.ToolButtonIconOnly and b.accessibleName() for b in buttons)
    assert buttons[-1].mapTo(window, QPoint(0, buttons[-1].height())).y() <= window.height()
    qtbot.mouseClick(buttons[BENCHES.index(CARD)], LEFT)
    assert window.in_front(CARD)
    window.resize(1280, 800)
    settle()
    assert buttons[0].toolButtonStyle() == Qt.ToolButtonStyle.ToolButtonTextUnderIcon


def test_words_that_give_way_are_whole_under_the_pointer(qtbot):
    hint = Hint("A long line of words that says what the keys do")
    qtbot.addWidget(hint)
    hint.resize(90, 20)
    hint.show()
    hint.grab()
    assert hint.toolTip() == hint.text() and hint.minimumSizeHint().width() == 0
    hint.resize(900, 20)
    hint.grab()
    assert hint.toolTip() == ""


# The size of the interface, contrast


def test_settings_count_from_the_next_start(tmp_path, monkeypatch):
    for name in (appearance.SCALE, appearance.CONTRAST):
        monkeypatch.setenv(name, "")
        monkeypatch.delenv(name)
    appearance.prepare(tmp_path)
    assert appearance.SCALE not in os.environ and appearance.CONTRAST not in os.environ
    write_settings(tmp_path, Settings(interface=150, strong_contrast=True))
    appearance.prepare(tmp_path)
    assert (os.environ[appearance.SCALE], os.environ[appearance.CONTRAST]) == ("1.50", "strong")
    monkeypatch.setenv(appearance.SCALE, "2")
    appearance.prepare(tmp_path)
    assert os.environ[appearance.SCALE] == "2", "what the environment says stays"


def test_they_are_chosen_in_the_settings(window, qtbot, tmp_path):
    dialog = SettingsDialog(Settings(), tmp_path, window)
    qtbot.addWidget(dialog)
    dialog.show()
    box = dialog.interface
    number(qtbot, box, "150")
    dialog.contrast.setFocus()
    qtbot.keyClick(dialog.contrast, Qt.Key.Key_Space)
    assert (dialog.taken.interface, dialog.taken.strong_contrast) == (150, True)
    dialog.close()


STARTING = """
import os, sys, tempfile
from pathlib import Path
from PyQt6.QtWidgets import QApplication
from avlet.desktop.window.application import make_application
from avlet.desktop.window.window import Window
from avlet.desktop.widgets import theme
app = make_application([])
window = Window(Path(sys.argv[1]), Path(tempfile.mkdtemp()))
window.files.open_demo(Path(sys.argv[1]))
factor = float(sys.argv[2])
window.resize(round(1280 / factor), round(800 / factor))
window.show()
for _ in range(20):
    app.processEvents()
picture = window.grab()
print("seen", window.width(), window.height(), picture.width(), picture.height(), picture.devicePixelRatio(), theme.TEXT, flush=True)
os._exit(0)
"""


@pytest.mark.parametrize(("factor", "contrast"), [("1.75", "strong"), ("2", "")])
def test_a_larger_interface_fills_the_same_window(demo, factor, contrast):
    """At 175 % on 1280 by 800, and at two device pixels a px of 640 by 400: that one is as large as the least window."""
    environment = {**os.environ, "QT_QPA_PLATFORM": "offscreen", appearance.SCALE: factor, appearance.CONTRAST: contrast}
    done = subprocess.run([sys.executable, "-c", STARTING, str(demo), factor], capture_output=True, text=True, env=environment, check=False)
    words = next((line.split() for line in done.stdout.splitlines() if line.startswith("seen")), None)
    assert words is not None, done.stderr[-2000:]
    wide, high, picture_wide, picture_high = map(int, words[1:5])
    assert float(words[5]) == float(factor) and words[6] == ("#FFFFFF" if contrast else "#E9EBEC")
    assert wide <= max(732, 1280 / float(factor) + 1) and high <= max(457, 800 / float(factor) + 1)
    assert abs(picture_wide - wide * float(factor)) <= 1 and abs(picture_high - high * float(factor)) <= 1


def ratio(one, other):
    """Contrast by WCAG 2.2, 1.4.3 and its definition of relative luminance."""

    def luminance(words):
        shares = [c / 255 for c in channels(words)[:3]]
        linear = [s / 12.92 if s <= 0.04045 else ((s + 0.055) / 1.055) ** 2.4 for s in shares]
        return 0.2126 * linear[0] + 0.7152 * linear[1] + 0.0722 * linear[2]

    light, dark = sorted((luminance(one), luminance(other)), reverse=True)
    return (light + 0.05) / (dark + 0.05)


def test_contrast_of_the_interface():
    """4.5 for text as usual, 7 and for lines 3 where strong contrast is asked for: WCAG 2.2, 1.4.3, 1.4.6 and 1.4.11."""
    rail, ground, panel, control, _, _, text, muted = theme._USUAL
    assert all(ratio(words, back) >= 4.5 for words in (text, muted) for back in (rail, ground, panel, control))
    rail, ground, panel, control, _, line, text, muted = theme._STRONG
    assert all(ratio(words, back) >= 7 for words in (text, muted) for back in (rail, ground, panel, control))
    assert all(ratio(line, back) >= 3 for back in (rail, ground, panel, control))
    focus, disabled, handle, _ = theme._STRONG_EDGES
    assert min(ratio(one, panel) for one in (focus, disabled, handle)) >= 4.5


def test_the_stage_of_every_bench_has_room(window):
    for name in (BUILD, TIME, CARD):
        bench = fitted(window, name, (732, 457))
        assert min(s.width() for s in bench.findChildren(Stage)) >= 200 and min(s.height() for s in bench.findChildren(Stage)) >= 100
    assert fitted(window, PROOF, (732, 457)).sheet.height() >= 60
    assert isinstance(QApplication.focusWidget(), QWidget | QLineEdit | None)
