"""Seven everyday jobs by clicks and keys: each ends as it should, within half of the acts that it once took.

An act is a click, a key chord, a drag, or something typed with the key that ends it.
"""

import pytest
from hands import chip, drag, middle_of, settle
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtGui import QKeySequence
from PyQt6.QtWidgets import QApplication, QInputDialog, QLineEdit, QMenu, QPushButton, QWidget
from test_hands_on_stage import open_menu

from avlet.desktop.build.part_menu import PartMenu
from avlet.desktop.recipe.dot_menu import DotMenu
from avlet.desktop.recipe.look_rows import LookRow
from avlet.desktop.widgets.colour_button import ColourButton
from avlet.document.starts import blank
from avlet.document.time.moves import Mirrored
from avlet.layout.areas import frame_area
from avlet.paint.scene import Scene
from avlet.roster.delivery import read_delivery

LEFT = Qt.MouseButton.LeftButton
AWKWARD = ("Bo Li", "Ioana Crețu-Whitlock-Sandoval", "ÍRIS ÞÓRDAL", "ياسمين الحداد", "渡辺 汐", "W" * 24)
"""Six names that templates stumble over."""


class Hands:
    """A pair of hands that counts what they do."""

    def __init__(self, window, qtbot):
        self.window, self.qtbot, self.acts = window, qtbot, 0

    @property
    def stage(self):
        return self.window.bench.stage

    def key(self, *chords):
        """Press keys, wherever the focus is."""
        for words in chords:
            (combined,) = QKeySequence(words)
            self.qtbot.keyClick(self.window.windowHandle(), combined.key(), combined.keyboardModifiers())
            self.acts += 1
            settle()

    def typed(self, words, ends="Return"):
        """Type into what has the focus, with the key that ends it."""
        focus = QApplication.focusWidget()
        assert focus is not None
        self.qtbot.keyClicks(focus, words)
        if ends:
            self.qtbot.keyClick(focus, QKeySequence(ends)[0].key())
        self.acts += 1
        settle()

    def click(self, widget, at=None, modifiers=Qt.KeyboardModifier.NoModifier):
        assert widget is not None and widget.isVisible()
        self.qtbot.mouseClick(widget, LEFT, modifiers, *([at] if at is not None else []))
        self.acts += 1
        settle()

    def on(self, part_id, modifiers=Qt.KeyboardModifier.NoModifier, share=0.5):
        """Click a part on the stage, so far along it."""
        box = self.stage.box_in_view(self.window.session.scene().rest.parts[part_id].box)
        at = QPoint(round(box.x() + box.width() * share), round(box.center().y()))
        self.click(self.stage, at, modifiers)

    def pick(self, name, words):
        """Open a word of a sentence and choose another."""
        button = self.bench_child(QWidget, name) if chip(self.window, name) is None else chip(self.window, name)
        self.click(button)
        menu = [m for m in button.findChildren(QMenu) if m.isVisible()][-1]
        self.entry(menu, words)

    def entry(self, menu, words):
        action = next(a for a in menu.actions() if a.text().replace("&", "").startswith(words))
        assert action.isEnabled(), words
        action.trigger()
        for left in [w for w in QApplication.topLevelWidgets() if isinstance(w, QMenu) and w.isVisible()]:
            left.close()
        self.acts += 1
        settle()

    def into(self, kind, name, words):
        """Click a number or a line and type another one."""
        box = self.bench_child(kind, name)
        self.click(box)
        box.selectAll()
        self.typed(words)

    def bench_child(self, kind, name):
        settle()
        bench = self.window.stack.currentWidget()
        return next(w for w in bench.findChildren(kind) if name in (w.objectName(), w.accessibleName()) and w.isVisible())

    def menu_of(self, part_id):
        """Right-click a part on the stage."""
        self.acts += 1
        return open_menu(self.stage, middle_of(self.stage, part_id), PartMenu)

    def number_on_the_stage(self, target, words):
        """Click the number of a gap or a padding where it stands, and type another."""
        self.stage.repaint()
        area = next(area for area, dimension in self.stage.drafting.labels if dimension.target == target)
        self.click(self.stage, area.center().toPoint())
        self.typed(words)

    def choose(self, menu, *words):
        """An entry of a menu, or of one in it; each is a click."""
        for word in words[:-1]:
            action = next(a for a in menu.actions() if a.text().replace("&", "").startswith(word))
            menu = action.menu()
            menu.aboutToShow.emit()
            self.acts += 1
        self.entry(menu, words[-1])

    def pick_in(self, combo, words):
        """Open a list of choices, type how one begins, and Return."""
        self.click(combo)
        usual = QApplication.keyboardInputInterval()
        QApplication.setKeyboardInputInterval(0)  # what was typed into it before counts no more,
        self.qtbot.keyClicks(combo.view(), words[:1])
        QApplication.setKeyboardInputInterval(60_000)  # and on a busy machine a word is a word however slowly its letters come
        self.qtbot.keyClicks(combo.view(), words[1:6])
        QApplication.setKeyboardInputInterval(usual)
        self.qtbot.keyClick(combo.view(), Qt.Key.Key_Return)
        self.acts += 1
        settle()
        assert combo.currentText().casefold() == words

    def colour(self, part_id, value):
        """Click a colour of the recipe and type another."""
        self.click(self.bench_child(ColourButton, f"{part_id}/fill.colour"))
        shown = [w for w in QApplication.allWidgets() if isinstance(w, QLineEdit) and w.isVisible()]
        line = next(w for w in shown if w.accessibleName() == "Colour value")
        line.selectAll()
        line.setFocus()
        self.typed(value)
        close_popups()

    def drag(self, start, by, modifiers=Qt.KeyboardModifier.NoModifier):
        drag(self.qtbot, self.stage, start, by, modifiers)
        self.acts += 1
        settle()


@pytest.fixture
def hands(window, qtbot):
    """An empty frame in a window that has the focus."""
    window.session.open(blank(), window.session.book, None, saved=False)
    window.resize(1280, 800)
    window.show_bench(0)
    qtbot.waitUntil(window.isActiveWindow)
    window.build.stage.setFocus()
    settle()
    yield Hands(window, qtbot)
    for left in [w for w in QApplication.topLevelWidgets() if isinstance(w, QMenu | DotMenu) and w.isVisible()]:
        left.close()


def painted(template, book, answers, frame):
    return Scene(template, book, answers).picture(frame, 480, 270)


def strap(hands):
    """A two-line lower third behind a rule: words, plates, arrival."""
    hands.key("T")
    hands.typed("Odalys Brandt", "Escape")
    hands.key("S", "Shift+T")
    hands.typed("Marsh ecologist", "Escape")
    hands.key("Ctrl+A", "Shift+R")


def test_a_two_line_strap(hands):
    """Two plates that follow the words, 12 px more at the right; a rule that draws first; last in, first out; six awkward names. Was 55."""
    strap(hands)
    hands.on("name-plate", share=0.97)
    hands.number_on_the_stage("name-plate/fit.right", "62")
    session = hands.window.session
    template, book = session.template, session.book
    plate = template.part("name-plate").fit
    assert (plate.left, plate.right) == (50, 62), "more at the right alone"
    for name in AWKWARD:
        rest = Scene(template, book, {"name": name}).rest.parts
        assert rest["name-plate"].box.x == pytest.approx(rest["name"].box.x - 50, abs=0.6)
        assert rest["name-plate"].box.right == pytest.approx(rest["name"].box.right + plate.right, abs=0.6)
        assert rest["role-plate"].box.y > rest["name-plate"].box.bottom
        assert rest["rule"].box.h == pytest.approx(rest["role-plate"].box.bottom - rest["name-plate"].box.y, abs=1)
    timings = session.scene().choreography.timings
    assert timings["rule"].arrives[1] <= timings["name-plate"].arrives[0] < timings["role-plate"].arrives[0]
    assert all(isinstance(p.way_out, Mirrored) for p in template.parts), "last in, first out"
    assert not painted(template, book, {}, template.length - 1).any() and not painted(template, book, {}, 0).any()
    assert hands.acts <= 27, hands.acts


def test_a_word_cut_out_of_a_bar(hands):
    """The bar stays within limits, words shrink when too long, the last frame is empty. Was 51."""
    hands.key("T")
    hands.typed("SALTMARSH", "Escape")
    hands.key("X")
    session = hands.window.session
    template, book = session.template, session.book
    scene = session.scene()
    name, bar = scene.rest.parts["name"], scene.rest.parts["name-bar"]
    middle = scene.picture(scene.spans.middle)
    letters = middle[round(name.ink.y) + 3 : round(name.ink.bottom) - 3, round(name.ink.x) : round(name.ink.right), 3]
    assert (letters == 0).mean() > 0.25 and (letters == 255).mean() > 0.25, "one looks through the letters"
    assert middle[round(bar.box.y) + 4, round(bar.box.x + bar.box.w / 2), 3] == 255
    long = Scene(template, book, {"name": "SALTMARSH STORIES OF THE ESTUARY AND ALL ITS PEOPLE TOGETHER"})
    safe = frame_area("title-safe", template.frame)
    assert long.rest.parts["name-bar"].box.w <= 0.9 * template.frame.width + 1
    assert long.rest.parts["name"].ink.right <= safe.right + 1 and long.rest.parts["name"].words.cap_height < name.words.cap_height
    assert not scene.picture(template.length - 1, 480, 270).any()
    assert hands.acts <= 25, hands.acts


def test_a_counter_with_its_plate_and_bar(hands):
    """To 3,250,000, a sign before, a word after, soft at both ends; plate, filling bar; five things on the card. Was 75."""
    hands.key("C")
    hands.into(QLineEdit, "count/end", "3250000")
    hands.on("count")
    hands.key("S", "F")
    session = hands.window.session
    for words in ("Count before it", "Count after it", "Count from", "Count most decimals", "Count language"):
        hands.choose(hands.menu_of("count"), "Put on the card", words)
    hands.key("Ctrl+3")
    for label, words in (("Count before it", "≈ "), ("Count after it", " reed plugs")):
        line = next(w for w in hands.window.card.findChildren(QLineEdit) if w.accessibleName() == label and w.isVisible())
        hands.click(line)
        line.selectAll()
        line.insert(words) if not words.isascii() else hands.qtbot.keyClicks(line, words)
        hands.qtbot.keyClick(line, Qt.Key.Key_Return)
        hands.acts += 1
        settle()
    number = next(w for w in hands.window.card.findChildren(QLineEdit) if w.accessibleName() == "Count to" and w.isVisible())
    hands.click(number)
    number.selectAll()
    hands.typed("1,284,000")
    scene = session.scene()
    body = scene.choreography.movers["count"]
    last = scene.picture(scene.spans.middle)
    rest = scene.rest.parts
    said = rest["count"].part.before, body.figures.final.words, rest["count"].part.after
    assert said == ("≈ ", "1,284,000", " reed plugs") and last.any()
    assert rest["count-bar"].box.w == pytest.approx(rest["count-plate"].box.w) and rest["count-plate"].box.w > rest["count"].box.w
    wide = [scene.pose(f).outline_box("count-bar").w for f in (15, 30, 90)]
    assert wide[0] < wide[1] < wide[2] == pytest.approx(rest["count-plate"].box.w, abs=1), wide
    assert len(session.template.card.fields) == 6
    assert hands.acts <= 37, hands.acts


SIDES = (("left", "left edge", "left edge"), ("middle", "middle", "middle"), ("right", "right edge", "right edge"))


def test_left_middle_right(hands):
    """A strap at the left, in the middle and at the right, recorded by hand. Was 67."""
    hands.key("T")
    hands.typed("Odalys Brandt", "Escape")
    hands.key("S", "Ctrl+3")
    hands.click(hands.bench_child(QPushButton, "Add a field, a note or a section"))
    hands.entry(hands.window.card.add_menu, "Choice")
    hands.click(hands.bench_child(QPushButton, "record option"))
    hands.key("Ctrl+1")
    hands.on("name")
    session, sign = hands.window.session, hands.window.recording
    for option, mine, theirs in SIDES[1:]:
        hands.pick_in(sign.options, option)
        hands.pick("across mine", mine)
        hands.pick("across theirs", theirs)
        hands.into(QLineEdit, "name/across.gap", "0" if option == "middle" else "-65")
    hands.click(sign.stop)
    (wire,) = {w.source for w in session.template.wires if w.target == "name/across.mine"}
    safe = frame_area("title-safe", session.template.frame)
    boxes = {option: Scene(session.template, session.book, {wire: option}).rest.parts for option, _, _ in SIDES}
    assert boxes["left"]["name"].box.x == pytest.approx(safe.x + 65) and boxes["right"]["name"].box.right == pytest.approx(safe.right - 65)
    assert boxes["middle"]["name"].box.x + boxes["middle"]["name"].box.w / 2 == pytest.approx(960)
    assert all(rest["name-plate"].box.x == pytest.approx(rest["name"].box.x - 50) for rest in boxes.values()), "the plate follows"
    assert hands.acts <= 33, hands.acts


def test_night_and_day(hands):
    """Night and day over four colours. Was 41."""
    strap(hands)
    before, session = hands.acts, hands.window.session
    hands.key("Ctrl+3")
    hands.click(hands.bench_child(QPushButton, "Add a field, a note or a section"))
    hands.entry(hands.window.card.add_menu, "Switch")
    hands.click(hands.bench_child(QPushButton, "record option"))
    hands.key("Ctrl+1")
    for part_id, colour, share in (
        ("name-plate", "#F3EFE7", 0.97),
        ("role-plate", "#D5CDBE", 0.97),
        ("name", "#20435C", 0.5),
        ("role", "#20435C", 0.5),
    ):
        hands.on(part_id, share=share)
        hands.colour(part_id, colour)
    hands.click(hands.window.recording.stop)
    wires = {w.target: w.source for w in session.template.wires if w.target.endswith("fill.colour")}
    assert len(wires) == 4 and len(set(wires.values())) == 1
    (field,) = set(wires.values())
    night, day = (Scene(session.template, session.book, {field: on}).rest.parts for on in (not now(session, field), now(session, field)))
    assert day["name-plate"].part.fill.colour == "#F3EFE7" and night["name-plate"].part.fill.colour == "#20435C"
    assert hands.acts - before <= 20, hands.acts - before


def now(session, field):
    return session.template.card.field(field).start


def close_popups():
    for left in [w for w in QApplication.topLevelWidgets() if w.isVisible() and w.windowType() == Qt.WindowType.Popup]:
        left.close()
    settle()


def test_one_house_colour_on_five_properties(hands, monkeypatch):
    """Five properties share a colour: one of the house, and changed once. Was 59."""
    strap(hands)
    hands.key("Shift+T")
    hands.typed("Northern reaches", "Escape")
    hands.key("Ctrl+A", "E", "Ctrl+Z")
    before, session = hands.acts, hands.window.session
    shared = [p.id for p in session.template.parts if getattr(getattr(p, "fill", None), "colour", "") == "#20435C"]
    hands.on("name-plate", share=0.97)
    row = next(r for r in hands.window.build.recipe.findChildren(LookRow) if r.target == "name-plate/fill.colour")
    menu = open_menu(row, QPoint(10, 8), DotMenu)
    hands.acts += 1
    monkeypatch.setattr(QInputDialog, "getText", lambda *a, **k: ("Deep water", True))
    hands.entry(menu, f"These {len(shared)} have the same colour")
    hands.acts += 1  # its name
    hands.colour("name-plate", "#2F6A78")
    scene = session.scene()
    assert len(shared) >= 2 and all(scene.rest.parts[i].part.fill.colour == "#2F6A78" for i in shared)
    assert hands.acts - before <= 29 and len(session.template.palette) == 1


def test_a_roster_put_right_and_rendered(hands, tmp_path, demo):
    """The demo's guests: what cannot be rendered is found, put right, and all is rendered. Was 60."""
    hands.window.files.open_path(demo / "name-strap.avlet")
    hands.key("Ctrl+6")
    bench = hands.window.roster
    hands.click(bench.demo_button)
    hands.qtbot.waitUntil(lambda: len(bench.session.said) == 24, timeout=20_000)
    bench.wanted.folder.line.setText(str(tmp_path / "films"))
    hands.acts += 2
    hands.pick_in(bench.rows_bar.sort, "worst first")
    hands.click(bench.view.viewport(), bench.view.area(0).center().toPoint())
    hands.qtbot.keyClick(bench.view, Qt.Key.Key_Return)
    hands.acts += 1
    box = next(b for b in bench.cells.boxes if b.property("wrong") == "true")
    assert QApplication.focusWidget() is box
    hands.qtbot.keyClick(box, Qt.Key.Key_Backspace)
    hands.typed("")
    hands.qtbot.waitUntil(lambda: len(bench.session.said) == 24, timeout=20_000)
    assert not bench.session.plan.faulty, "it is put right"
    for kind in ("still", "prores"):
        hands.click(bench.wanted.kinds[kind])
    assert [k.id for k in bench.session.roster.wanted.kinds] == ["still"]
    hands.click(bench.render_button)
    hands.qtbot.waitUntil(lambda: bench.runner is None, timeout=120_000)
    assert len(read_delivery(tmp_path / "films").files) == 24
    assert hands.acts <= 30, hands.acts


def test_a_strap_and_its_card_by_keys_alone(hands):
    """The two-line strap and a card with three fields, without a mouse. Was 218."""
    strap(hands)
    window, session = hands.window, hands.window.session
    window.build.parts.setFocus()
    hands.acts += 4  # Tab to the list of parts
    settle()
    for _ in range(len(session.template.parts) + 1):
        if session.selected == "name-plate":
            break
        hands.key("Up")
    assert session.selected == "name-plate"
    menu = open_menu(window.build.parts.viewport(), QPoint(3, 3), PartMenu)
    hands.acts += 1
    down = next(n for n, a in enumerate(menu.actions()) if a.text() == "Put on the card")
    hands.acts += down + 1
    card = menu.actions()[down].menu()
    card.aboutToShow.emit()
    entry = next(n for n, a in enumerate(card.actions()) if a.text() == "Name plate colour")
    hands.acts += entry + 1
    hands.choose(menu, "Put on the card", "Name plate colour")
    hands.key("Ctrl+3")
    assert [f.label for f in session.template.card.fields] == ["Name", "Role", "Name plate colour"]
    assert all(f.asks for f in session.template.card.fields)
    assert hands.acts <= 109, hands.acts
