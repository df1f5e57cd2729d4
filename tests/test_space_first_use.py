"""As a newcomer would: a word that comes through a sheet, settles and takes on a colour, handed over; then another word in it, rendered."""

import av
import numpy as np
import pytest
from hands import box, chip, choose, render_titles, settle, type_into
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QInputDialog, QToolButton

from avlet.desktop.recipe.dot import Dot
from avlet.desktop.recipe.dot_menu import DotMenu
from avlet.document.editing.edits import replace
from avlet.document.parts import ShapePart, SpacePart, TextPart
from avlet.document.template import Frame
from avlet.storage.package import open_template

LEFT = Qt.MouseButton.LeftButton
CONTROL = Qt.KeyboardModifier.ControlModifier


def type_number(window, qtbot, target, words):
    """Type into a number of the recipe."""
    edit = box(window, target)
    edit.setFocus()
    edit.selectAll()
    qtbot.keyClicks(edit, words)
    qtbot.keyClick(edit, Qt.Key.Key_Return)
    settle()


def from_menu(widget, words):
    """What a right click on a number, or a click on a dot, offers."""
    if isinstance(widget, Dot):
        menu = widget.menu()
    else:
        widget.customContextMenuRequested.emit(widget.rect().center())
        menu = widget.findChildren(DotMenu)[-1]
    next(a for a in menu.actions() if a.text() == words).trigger()
    menu.close()
    settle()


def recipe(window, kind, name):
    window.build.recipe.refresh()
    return window.build.recipe.findChild(kind, name)


def test_a_word_through_a_sheet_from_an_empty_frame_to_another_word_in_a_film(window, qtbot, key, tmp_path, monkeypatch):
    session = window.session
    monkeypatch.setattr(QInputDialog, "getText", lambda *a, **k: ("Colour", True))
    window.show_welcome()
    qtbot.mouseClick(window.welcome.findChild(QToolButton, "start Empty frame"), LEFT)
    session.edit("A small frame", lambda t: replace(t, frame=Frame(640, 360), length=50))
    # A sheet, and a word before it
    key(Qt.Key.Key_S)
    sheet = session.part
    assert isinstance(sheet, ShapePart)
    for side, size in (("width", "640"), ("height", "360")):
        type_number(window, qtbot, f"{sheet.id}/{side}", size)
    session.select(None)
    key(Qt.Key.Key_T)
    window.build.stage.finish_typing()
    word = next(p for p in session.template.parts if isinstance(p, TextPart))
    settle()
    # Both in a space
    session.select(sheet.id)
    session.select(word.id, more=True)
    key(Qt.Key.Key_D)
    space = session.part
    assert isinstance(space, SpacePart) and session.template.part(word.id).solid is not None
    # It comes through the sheet letter by letter, past it and back
    session.select(word.id)
    settle()
    choose(qtbot, chip(window, "way_in kind"), "comes through")
    settle()
    choose(qtbot, chip(window, "way_in by"), "letter by letter")
    settle()
    type_number(window, qtbot, f"{word.id}/way_in.0.overlap", "60")
    choose(qtbot, chip(window, "way_in ease"), "springy")
    settle()
    move = session.template.part(word.id).way_in[0]
    assert move.travel == "through the sheet" and move.by == "character" and move.overlap == 60
    # It settles: its depth is keyed, and so is its colour
    session.go_to(30)
    from_menu(box(window, f"{word.id}/solid.depth"), "Key it at this frame")
    session.go_to(50)
    type_number(window, qtbot, f"{word.id}/solid.depth", "8")
    session.go_to(0)
    dot = recipe(window, Dot, f"dot {word.id}/fill.colour")
    from_menu(dot, "Key it at this frame")
    session.go_to(50)
    session.write({f"{word.id}/fill.colour": "#C0485A"})
    # Under a sun with a soft shadow
    session.select(space.id)
    settle()
    choose(qtbot, chip(window, "light"), "low from the left")
    settle()
    seen_in_time(session, word.id, space.id)
    session.edit("Name", lambda t: replace(t, name="First depths"))
    path = window.files.hand_over_to(window.cut_session.library, "The first")
    assert open_template(path).manifest.version == 1
    another_word(window, qtbot, path, tmp_path)


def seen_in_time(session, word, space) -> None:
    """Nothing of it before it comes; its depth and its colour as keyed; its shadow on the sheet when it is there."""
    part = session.template.part(word)
    assert {k.path for k in part.keys} == {"solid.depth", "fill.colour"}
    scene = session.scene()
    assert [scene.pose(f).parts[word].rest.part.solid.depth for f in (30, 50)] == pytest.approx([20.0, 8.0], rel=1e-6)
    assert session.template.part(space).sun.soft == 14.0
    bare = scene.picture(0)[180, 30, :3]
    assert (scene.picture(0)[..., :3] == bare).all()
    assert (scene.picture(36) != scene.picture(0)).any()


def another_word(window, qtbot, path, tmp_path) -> None:
    """As an editor: another word, longer and with other letters, rendered."""
    window.show_desk()
    settle()
    desk = window.desk
    window.files.new_cut()
    desk.add_title(path.name, 0)
    settle()
    type_into(qtbot, next(iter(desk.card.inputs.values())), "Saltmarsh")
    settle()
    (film,) = render_titles(window, qtbot, tmp_path / "films", 180_000)
    with av.open(str(film)) as container:
        frames = [frame.to_ndarray(format="rgb24") for number, frame in enumerate(container.decode(video=0)) if number in (0, 12, 36)]
    first, coming, there = frames
    assert first.std(axis=(0, 1)).max() < 1.5, "nothing but the sheet at first"
    red = [int(((f[..., 0].astype(int) - f[..., 1]) > 60).sum()) for f in (coming, there)]
    assert there.std() > 5 and red[1] > 500 and red[1] > red[0], "and then the word, in its colour"
    assert len(np.unique(there[::4, ::4].reshape(-1, 3), axis=0)) > 40, "with light and shadow"


def test_the_space_is_not_lost_on_a_new_version(window, qtbot):
    """What the demo hands over opens as it was written, with its lights and members."""
    window.files.open_path(window.session.path.parent / "harbour-depths.avlet")
    kinds = [p.kind for p in window.session.template.parts]
    assert kinds.count("ball") == 4 and kinds.count("lamp") == 1 and kinds.count("space") == 1
