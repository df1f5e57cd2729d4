"""As a newcomer would: from an empty frame to a handed-over lower third with six fields; then three titles on a cut, rendered."""

import av
from hands import render_titles, settle, type_into
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QInputDialog, QMessageBox, QToolButton

from avlet.desktop.card.field_panel import FieldPanel
from avlet.desktop.recipe.dot import Dot
from avlet.document.editing.edits import replace
from avlet.document.parts import ShapePart, TextPart
from avlet.storage.package import open_template

LEFT = Qt.MouseButton.LeftButton


def on_card(window, target) -> None:
    settle()
    dot = window.build.recipe.findChild(Dot, f"dot {target}")
    assert dot is not None, target
    next(a for a in dot.menu().actions() if a.text() == "Put on the card").trigger()
    settle()


def test_from_an_empty_frame_to_a_handed_over_lower_third_and_three_titles(window, qtbot, key, tmp_path, monkeypatch):
    monkeypatch.setattr(QMessageBox, "question", lambda *a, **k: QMessageBox.StandardButton.Discard)
    monkeypatch.setattr(QInputDialog, "getText", lambda *a, **k: ("Timing", True))
    session = window.session
    window.show_welcome()
    qtbot.mouseClick(window.welcome.findChild(QToolButton, "start Empty frame"), LEFT)
    assert session.template.parts == ()
    # T for words, S for a shape round them; twice
    key(Qt.Key.Key_T)
    window.build.stage.finish_typing()
    key(Qt.Key.Key_S)
    words, shape = session.template.parts[-1], session.template.parts[0]
    if isinstance(words, ShapePart):
        words, shape = shape, words
    assert isinstance(words, TextPart)
    assert shape.fitted.around == (words.id,)
    session.select(words.id)
    key(Qt.Key.Key_T)
    window.build.stage.finish_typing()
    second = next(p for p in session.template.parts if isinstance(p, TextPart) and p.id != words.id)
    session.select(second.id)
    session.write({f"{second.id}/size": 46})
    session.write({f"{second.id}/down.gap": 120})
    # every text is on the card already; four more by their dots
    assert [f.label for f in session.template.card.fields] == [words.name, second.name]
    session.select(shape.id)
    on_card(window, f"{shape.id}/fill.colour")
    on_card(window, f"{shape.id}/corner")
    session.select(second.id)
    on_card(window, f"{second.id}/shown")
    session.select(None)
    window.show_bench(2)
    settle()
    bench = window.card
    bench.add_field("Switch")
    settle()
    bench.panel.widget().findChild(FieldPanel).wire_to("template/plays_in")
    settle()
    assert len(session.template.card.fields) == 6
    qtbot.waitUntil(lambda: bench.measure.trying.text().endswith("tried out."), timeout=8000)
    assert bench.measure.words.text() == "6 fields · a stranger can read it at a glance"
    assert not [r for r in bench.measure.found if r.grave and "changes nothing" in r.words]
    # six samples' worth of looking later: hand over
    session.edit("Name", lambda t: replace(t, name="First strap"))
    path = window.files.hand_over_to(window.cut_session.library, "The first")
    assert open_template(path).manifest.version == 1
    three_titles(window, qtbot, path, tmp_path)


def three_titles(window, qtbot, path, tmp_path) -> None:
    """As an editor: three titles on a new cut, typed, rendered."""
    window.show_desk()
    settle()
    desk, cut = window.desk, window.cut_session
    window.files.new_cut()
    for number, name in enumerate(("Bo Li", "Odalys Brandt", "Teodor Vage")):
        cut.go_to(number * 200)
        desk.add_title(path.name, number * 200)
        settle()
        type_into(qtbot, next(iter(desk.card.inputs.values())), name)
        settle()
    assert [desk.view.label_of(t) for t in cut.cut.titles] == ["Bo Li", "Odalys Brandt", "Teodor Vage"]
    films = render_titles(window, qtbot, tmp_path / "films")
    assert [f.name for f in films] == ["T0001-first-strap.mov", "T0002-first-strap.mov", "T0003-first-strap.mov"]
    with av.open(str(films[0])) as container:
        frame = next(container.decode(video=0))
        assert (frame.width, frame.height) == (1920, 1080)


def test_all_parts_are_in_sight_as_soon_as_a_template_is_open(dressed, qtbot, demo, tmp_path):
    from avlet.desktop.window.window import Window

    window = Window(demo, tmp_path / "state")
    qtbot.addWidget(window)
    window.files.open_path(demo / "name-strap.avlet")
    window.show()
    parts = window.build.parts
    assert parts.isVisible() and window.build.parts_label.text() == "Parts" and not window.build.strip.isVisible()
    assert [parts.parts.index(row).isValid() for row in range(5)] == [True] * 5
    assert all(parts.viewport().rect().contains(parts.visualRect(parts.parts.index(row)).center()) for row in range(5))
