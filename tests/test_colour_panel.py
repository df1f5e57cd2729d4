"""Choosing a colour: the house's own stand in every panel, and one may be picked from the picture."""

from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtWidgets import QApplication, QPushButton

from avlet.desktop.widgets.colour_button import ColourButton
from avlet.desktop.widgets.colour_panel import ColourPanel
from avlet.desktop.widgets.colour_picker import ColourPicker
from avlet.document.editing import edits
from avlet.document.house import HouseColour

LEFT = Qt.MouseButton.LeftButton


def opened(window, qtbot) -> tuple[ColourButton, ColourPanel]:
    """The panel of the plate's fill, on the Build bench."""
    window.show_bench(0)
    window.session.edit("No wires", lambda t: edits.replace(t, wires=()))
    window.session.select("plate")
    QApplication.processEvents()
    button = window.build.recipe.findChild(ColourButton, "plate/fill.colour")
    qtbot.mouseClick(button, LEFT)
    return button, button.findChildren(ColourPanel)[-1]


def test_the_house_stands_in_the_panel(window, qtbot):
    palette = (HouseColour("deep", "Deep channel", "#123456"), HouseColour("clear", "Mist", "#AABBCC80"))
    window.session.edit("House", lambda t: edits.replace(t, palette=palette))
    _, panel = opened(window, qtbot)
    house = {button.accessibleName(): button for button in panel.findChildren(QPushButton)}
    qtbot.mouseClick(house["Deep channel"], LEFT)
    assert window.session.template.part("plate").fill.colour == "#123456"
    qtbot.mouseClick(house["Mist"], LEFT)
    assert window.session.template.part("plate").fill.colour == "#AABBCC80"


def test_a_colour_is_picked_from_the_picture(window, qtbot):
    _, panel = opened(window, qtbot)
    wanted = window.grab().toImage().pixelColor(400, 400).name().upper()
    qtbot.mouseClick(next(b for b in panel.findChildren(QPushButton) if b.text() == "Pick"), LEFT)
    assert not panel.isVisible()
    picker = window.findChild(ColourPicker)
    qtbot.mouseMove(picker, QPoint(400, 400))
    qtbot.mouseClick(picker, LEFT, pos=QPoint(400, 400))
    assert window.session.template.part("plate").fill.colour == wanted
    window.undo()
    assert window.session.template.part("plate").fill.colour != wanted


def test_escape_gives_up_picking(window, qtbot):
    _, panel = opened(window, qtbot)
    before = window.session.template
    panel.pick()
    qtbot.keyClick(window.findChild(ColourPicker), Qt.Key.Key_Escape)
    QApplication.processEvents()
    assert window.session.template == before
    assert not any(picker.isVisible() for picker in window.findChildren(ColourPicker))
