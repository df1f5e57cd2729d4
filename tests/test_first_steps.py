"""First steps: from an empty frame to a template in the library, by clicks and keys alone, as the strip says."""

import pytest
from hands import chip, choose, in_a_dialog, middle_of, settle
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QDialogButtonBox, QMenu, QPushButton, QWidget

from avlet.desktop.build.first_steps import DONE, STEPS
from avlet.desktop.dialogs.handover_dialog import HandoverDialog
from avlet.desktop.recipe.dot import Dot
from avlet.document.parts import ShapePart, TextPart
from avlet.document.starts import FAMILIES
from avlet.document.template import Frame
from avlet.storage.package import open_template

KEY, LEFT = Qt.Key, Qt.MouseButton.LeftButton


@pytest.fixture
def steps(window, qtbot):
    """The strip, asked for on the first page."""
    window.resize(1280, 800)
    window.show_welcome()
    qtbot.mouseClick(window.welcome.findChild(QPushButton, "first steps"), LEFT)
    settle()
    return window.build.steps


def mark(window) -> QWidget | None:
    found = [one for one in window.findChildren(QWidget, "first step's mark") if one.isVisible()]
    return found[0] if found else None


def around(window, widget) -> bool:
    """Whether the mark lies round a widget."""
    corner = widget.mapTo(window, widget.rect().topLeft())
    return mark(window) is not None and mark(window).geometry().contains(corner) and mark(window).geometry().contains(
        widget.mapTo(window, widget.rect().bottomRight())
    )  # fmt: skip


def typed(window, qtbot, key, words):
    key(KEY.Key_T)
    qtbot.keyClick(window.focusWidget(), KEY.Key_A, Qt.KeyboardModifier.ControlModifier)
    qtbot.keyClicks(window.focusWidget(), words)
    qtbot.keyClick(window.focusWidget(), KEY.Key_Escape)
    settle()


def test_from_an_empty_frame_to_a_template_in_the_library(steps, window, qtbot, key):
    session = window.session
    assert session.template.parts == () and steps.isVisible() and steps.at == 0
    assert steps.words.text() == STEPS[0].do and steps.count.text() == "1 of 5" and around(window, window.build.stage)
    typed(window, qtbot, key, "Wren Saltby")
    assert steps.at == 1 and steps.words.text() == STEPS[1].do
    key(KEY.Key_S)
    plate = next(p for p in session.template.parts if isinstance(p, ShapePart))
    words = next(p for p in session.template.parts if isinstance(p, TextPart))
    assert plate.fit.around == (words.id,) and steps.at == 2
    qtbot.mouseClick(window.build.stage, LEFT, pos=middle_of(window.build.stage, words.id))
    settle()
    assert around(window, chip(window, "way_in kind")), "the word that is to be changed is marked"
    choose(qtbot, chip(window, "way_in kind"), "slides")
    settle()
    assert steps.at == 3
    session.select(plate.id)
    settle()
    dot = window.build.recipe.findChild(Dot, f"dot {plate.id}/fill.colour")
    qtbot.waitUntil(lambda: around(window, dot) and not dot.visibleRegion().isEmpty())  # it is brought into sight, and marked
    qtbot.mouseClick(dot, LEFT)
    next(a for a in dot.menu().actions() if a.text() == "Put on the card").trigger()
    dot.menu().close()
    settle()
    assert steps.at == 4 and around(window, window.hand)

    def write(dialog):
        qtbot.mouseClick(next(b for b in dialog.findChild(QDialogButtonBox).buttons() if b.text() == "Hand over"), LEFT)

    in_a_dialog(HandoverDialog, write, lambda: qtbot.mouseClick(window.hand, LEFT))
    settle()
    assert steps.at == 5 and steps.words.text() == DONE and steps.count.text() == "Done" and mark(window) is None
    (made,) = [p for p in window.cut_session.library.glob("*.avlet") if open_template(p).template.name == session.template.name]
    assert open_template(made).manifest.version == 1 and len(open_template(made).template.card.fields) == 2


def test_each_step_is_taken_back_by_undo_and_the_strip_goes_back(steps, window, qtbot, key):
    typed(window, qtbot, key, "Ulf Curlew")
    key(KEY.Key_S)
    assert steps.at == 2
    qtbot.keyClick(window.windowHandle(), KEY.Key_Z, Qt.KeyboardModifier.ControlModifier)
    settle()
    assert steps.at == 1 and steps.words.text() == STEPS[1].do
    qtbot.mouseClick(steps.undo, LEFT)
    settle()
    assert steps.at == 0
    while window.session.history.undo_label is not None:
        window.session.undo()
    settle()
    assert steps.at == 0 and not steps.undo.isVisible() and window.session.template.parts == ()


def test_it_can_be_left_and_come_back_to_where_one_was(steps, window, qtbot, key):
    typed(window, qtbot, key, "Maren Fenn")
    leave = next(b for b in steps.findChildren(QPushButton) if b.text() == "Leave")
    qtbot.mouseClick(leave, LEFT)
    assert not steps.isVisible() and mark(window) is None and len(window.session.template.parts) == 1
    window.show_bench(1)
    menu = QMenu()
    window.files.fill_menu(menu)
    next(a for a in menu.actions() if a.text() == "First steps").trigger()
    settle()
    assert steps.isVisible() and steps.at == 1 and len(window.session.template.parts) == 1


def test_nothing_is_marked_on_another_bench(steps, window):
    assert mark(window) is not None
    window.show_bench(1)
    settle()
    assert mark(window) is None
    window.show_bench(0)
    settle()
    steps.look()
    assert mark(window) is not None
    assert steps.words.accessibleName() and mark(window).testAttribute(Qt.WidgetAttribute.WA_TransparentForMouseEvents)


def test_a_colour_that_follows_the_house_is_none_of_the_card(steps, window):
    session = window.session
    session.open(FAMILIES["Saltmarsh"]["name"](Frame()), session.book, None, saved=True)
    steps.begin()
    session.write({"name/text": "Wren Saltby"})
    settle()
    assert steps.at == 2
    session.write({"name/way_in.0.overlap": 41.0})
    settle()
    assert steps.at == 3, "its colours follow the house, and no editor may change them"
