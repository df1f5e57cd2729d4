"""*Keys and habits*: opened by its key, made from the keys that the window has, searched."""

import re
from pathlib import Path

import pytest
from conftest import DEMO
from hands import box
from PyQt6.QtCore import Qt
from PyQt6.QtGui import QKeySequence, QShortcut
from PyQt6.QtWidgets import QApplication, QDialog, QMenu, QWidget

from avlet.desktop.dialogs.keys_dialog import HABITS, KeysDialog
from avlet.desktop.time.key_graph import KeyGraph
from avlet.desktop.widgets.gradients import GradientStrip
from avlet.desktop.window.shell import BENCHES, CARD, PROOF, TIME
from avlet.desktop.window.view_keys import view_keys
from avlet.document.editing import edits, keying, timing
from avlet.document.editing.timing import MoveAt
from avlet.document.looks.paints import Stop
from avlet.document.time.moves import Tie
from avlet.motion.keyed import key_time

ROOT = Path(__file__).resolve().parent.parent


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


# Every key that a view says it has does something there


def keys_of(where):
    return [keys for place, keys, _ in view_keys() if place == where]


def press(qtbot, view, keys):
    """Press a key as the list names it."""
    (combined,) = QKeySequence(keys)
    qtbot.keyClick(view, combined.key(), combined.keyboardModifiers())
    QApplication.processEvents()


def each_key_does_something(qtbot, view, where, state, ready):
    """For every listed key: from a place where it can, it changes what is seen of the view."""
    assert keys_of(where)
    for keys in keys_of(where):
        ready(keys)
        view.setFocus()
        QApplication.processEvents()
        before = state()
        press(qtbot, view, keys)
        assert state() != before, (where, keys)


def menus():
    return [w for w in QApplication.topLevelWidgets() if isinstance(w, QMenu) and w.isVisible()]


def test_keys_of_spaces(window, qtbot):
    window.files.open_path(DEMO / "rising-word.avlet")
    session, view = window.session, window.build.depths.above
    session.select("word")
    QApplication.processEvents()

    def ready(keys):
        session.select("word")
        QApplication.processEvents()

    each_key_does_something(
        qtbot, view, "A space from above and the side", lambda: (session.selected, session.piece, session.template.parts), ready
    )


def test_keys_of_the_cut(window, qtbot):
    window.show_desk()
    session, view = window.cut_session, window.desk.view
    titles = sorted(session.cut.titles, key=lambda t: t.start)

    def ready(keys):
        for menu in menus():
            menu.close()
        if session.cut.title(titles[1].id) is None:
            window.undo()
        session.select(titles[1].id)

    def state():
        return session.selected, session.cut, len(menus()), window.desk.card.isAncestorOf(QApplication.focusWidget())

    each_key_does_something(qtbot, view, "Desk", state, ready)
    for menu in menus():
        menu.close()


def test_keys_of_numbers_and_gradients(window, qtbot):
    window.session.select("plate")
    number = box(window, "plate/corner")
    qtbot.waitUntil(window.isActiveWindow)

    def ready(keys):
        nonlocal number
        QApplication.processEvents()
        number = box(window, "plate/corner")
        number.setFocus()
        number.selectAll()
        if keys in ("Return", "Esc"):
            qtbot.keyClicks(number, "17" if keys == "Return" else "55")

    for keys in keys_of("Numbers"):
        ready(keys)
        before = number.text(), window.session.shown("plate/corner"), QApplication.focusWidget()
        press(qtbot, number, keys)
        assert (box(window, "plate/corner").text(), window.session.shown("plate/corner"), QApplication.focusWidget()) != before, keys
    host = QWidget()
    qtbot.addWidget(host)
    host.show()
    strip = GradientStrip((Stop(10, "#112233"), Stop(50, "#445566"), Stop(90, "#778899")), host)
    strip.chosen = 1
    strip.show()
    for keys in keys_of("Gradients"):
        before = tuple(strip.stops)
        strip.setFocus()
        press(qtbot, strip, keys)
        assert tuple(strip.stops) != before, keys


def test_keys_of_the_long_strip(window, qtbot):
    window.files.open_path(DEMO / "end-roll.avlet")
    session = window.session
    session.select(next(p.id for p in session.template.parts if p.kind == "credits"))
    QApplication.processEvents()
    picked, bars = [], window.build.strip.bars
    window.build.strip.picked.connect(picked.append)
    each_key_does_something(
        qtbot, bars, "The long strip of credits", lambda: (session.frame, len(picked)), lambda keys: session.go_to(session.length() // 2)
    )


def test_keys_of_the_roster_and_its_threads(window, qtbot, tmp_path):
    rows = "".join(f"Name {n},Role\n" for n in range(40))
    (tmp_path / "g.csv").write_text(f"Name,Role\n{rows}")
    window.files.open_path(tmp_path / "g.csv")
    bench, session = window.roster, window.roster_session
    opened = []
    for signal in (bench.view.opened, bench.view.played):
        signal.connect(lambda: opened.append(1))

    def one_row(keys):
        for menu in menus():
            menu.close()
        QApplication.clipboard().setText("")
        session.choose(20) if keys != "Esc" else session.choose_all([19, 20], 20)

    def seen():
        return session.row, session.taken, len(opened), len(menus()), QApplication.clipboard().text()

    each_key_does_something(qtbot, bench.view, "Roster", seen, one_row)

    def ready(keys):
        for menu in menus():
            menu.close()
        bench.threads.column = 0 if keys == "Down" else 1

    state = lambda: (bench.threads.column, len(menus()), session.roster.threads)  # noqa: E731
    each_key_does_something(qtbot, bench.threads, "Threads of a roster", state, ready)
    for menu in menus():
        menu.close()


def test_keys_of_the_ruler(window, qtbot):
    """From move to move and key to key; earlier and later, also for what is tied; the spans."""
    session, ruler = window.session, window.time.ruler
    window.show_bench(BENCHES.index(TIME))
    session.edit("Key", lambda t: keying.set_key(keying.set_key(t, "plate", "opacity", 3, 20.0), "plate", "opacity", 40, 100.0))
    bars = [bar.at for row in ruler.rows for bar in row.bars if not bar.mirrored]
    keys = [("plate", "opacity", 0), ("plate", "opacity", 1)]

    def ready(keys_pressed):
        ruler.choose((bars[1],))

    each_key_does_something(qtbot, ruler, "Ruler", lambda: (ruler.chosen, ruler.keys, session.template), ready)
    ruler.choose((), ())
    ruler.setFocus()
    seen = []
    for _ in range(len(bars) + len(keys) + 2):
        press(qtbot, ruler, "Down")
        seen.append(ruler.chosen or ruler.keys)
    stops = [one[0] for one in dict.fromkeys(seen)]
    assert set(stops) == {*bars, *keys} and [one for one in stops if one in bars] == bars, "each once, in order"
    assert seen[-1] == seen[-2], "it stays at the last"
    ruler.choose((), (keys[1],))
    before = session.template.part("plate").keys[0].keys[1]
    press(qtbot, ruler, "Alt+Shift+Right")
    after = session.template.part("plate").keys[0].keys[1]
    assert key_time(after, session.scene().spans) == pytest.approx(key_time(before, session.scene().spans) + 10, abs=0.6)
    tied = MoveAt("name", "way_in", 0)
    session.edit("Tie", lambda t: timing.put_move(t, tied, edits.replace(timing.need_move(t, tied), tie=Tie("plate", "after its end"))))
    ruler.choose((tied,))
    press(qtbot, ruler, "Alt+Right")
    press(qtbot, ruler, "Alt+Right")
    assert session.template.part("name").way_in[0].tie.frames == 2, "its delay"
    window.undo()
    assert session.template.part("name").way_in[0].tie.frames == 0, "one gesture"
    was = session.template.way_in, session.template.way_out
    for keys_pressed in ("Ctrl+Right", "Ctrl+Right", "Ctrl+Left", "Ctrl+Shift+Left"):
        press(qtbot, ruler, keys_pressed)
    assert (session.template.way_in, session.template.way_out) == (was[0] + 1, was[1] + 1)
    session.edit("Full", lambda t: edits.replace(t, way_in=t.length - t.way_out))
    full = session.template
    for keys_pressed in ("Ctrl+Right", "Ctrl+Shift+Left"):
        press(qtbot, ruler, keys_pressed)
    assert session.template is full, "both have no more room"
    session.edit("Short", lambda t: edits.replace(t, way_in=0))
    press(qtbot, ruler, "Ctrl+Left")
    assert session.template.way_in == 0


def test_keys_of_the_graph(window, qtbot):
    session, ruler = window.session, window.time.ruler
    window.show_bench(BENCHES.index(TIME))
    session.edit("Key", lambda t: keying.set_key(keying.set_key(t, "plate", "turn", 20, 20.0), "plate", "turn", 60, 50.0))
    session.select("plate")
    ruler.choose((), (("plate", "turn", 0),))
    QApplication.processEvents()
    graph = window.time.panel.findChild(KeyGraph)
    seen = lambda: (graph.chosen, session.template)  # noqa: E731

    def ready(keys_pressed):
        graph.chosen = 1 if keys_pressed == "Ctrl+Left" else 0

    each_key_does_something(qtbot, graph, "Graph of keys", seen, ready)
    graph.chosen = None
    press(qtbot, graph, "Ctrl+Right")
    press(qtbot, graph, "Ctrl+Right")
    press(qtbot, graph, "Ctrl+Right")
    assert graph.chosen == 1
    value = float(graph.keyed.keys[1].value)
    press(qtbot, graph, "Shift+Up")
    press(qtbot, graph, "Down")
    assert graph.keyed.keys[1].value == value + 9


def test_fields_are_ordered_by_keys(window, qtbot):
    session, bench = window.session, window.card
    window.show_bench(BENCHES.index(CARD))
    card = bench.card
    order = lambda: [[f.id for f in s.fields] for s in session.template.card.sections]  # noqa: E731
    begun = order()

    def ready(keys_pressed):
        bench.choose("role")
        QApplication.processEvents()

    each_key_does_something(qtbot, card, "Fields of the card", order, ready)
    assert order() == begun, "up and down again"
    bench.choose("name")
    QApplication.processEvents()
    field = card.inputs["name"]
    field.setFocus()
    press(qtbot, field, "Alt+Down")
    assert order()[0][:2] == ["role", "name"] and session.template.card.field("name") is not None
    for _ in range(12):
        bench.choose("name")
        QApplication.processEvents()
        press(qtbot, card, "Alt+Down")
    assert order()[-1][-1] == "name", "over the edges of sections to the end"
    for _ in range(14):
        press(qtbot, card, "Alt+Up")
        QApplication.processEvents()
    assert order()[0][0] == "name"


def test_keys_of_the_proof(window, qtbot):
    window.show_bench(BENCHES.index(PROOF))
    bench, shown = window.proof, []
    bench.panel.show_part = lambda: shown.append(1)
    qtbot.waitUntil(lambda: len(bench.model.rows) > 2)

    def ready(keys):
        bench.model.choose(1, 1)

    each_key_does_something(qtbot, bench.sheet, "Proof", lambda: (bench.model.row, bench.model.moment, len(shown)), ready)
    bench.leave()


def test_keys_that_views_take_are_told():
    """What any view looks for in its keys is in the list, or belongs to typing: read off the views' own code."""
    told = {key.rpartition("+")[2] for _, key, _ in view_keys()} | {"Enter", "Backspace", "Backtab", "Space", "0", "1", "2", "Escape"}
    names = {"PgUp": "PageUp", "PgDown": "PageDown", "Del": "Delete", "Esc": "Escape"}
    told |= {names.get(key, key) for key in told}
    for path in (ROOT / "avlet/desktop").rglob("*.py"):
        if path.name != "shortcuts.py":
            used = set(re.findall(r"Qt\.Key\.Key_(\w+)", path.read_text(encoding="utf-8")))
            assert used <= told, (path.name, used - told)
