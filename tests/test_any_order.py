"""The interface used in any order: a walk by chance over everything that can be chosen, with what must hold after each step."""

import itertools
import random
from functools import partial

import pytest
from PyQt6.QtWidgets import QAbstractButton, QApplication, QDialog, QFileDialog, QInputDialog, QMenu, QMessageBox

from avlet.desktop.build.new_parts import add_counter, add_credits, add_echo, add_pattern, add_rule, add_shape, add_text
from avlet.desktop.build.part_commands import copy_selected, duplicate_selected, group_selected, paste_piece, remove_selected, take_apart
from avlet.desktop.card.card_bench import NEW_FIELDS
from avlet.desktop.credits.list_model import kinds
from avlet.desktop.recipe.dot import Dot
from avlet.desktop.recipe.sentences import Chip
from avlet.desktop.widgets import theme
from avlet.desktop.widgets.colour_button import ColourButton
from avlet.desktop.widgets.numbers import NumberBox
from avlet.desktop.window.window import Window
from avlet.document.cards import carding
from avlet.document.cut import trim_title
from avlet.document.metadata import properties
from avlet.document.parts import CreditsPart
from avlet.storage.template_json import decode, encode


class Walker:
    """Does one thing after another to a window."""

    def __init__(self, window: Window, seed: int) -> None:
        self.window, self.rng = window, random.Random(seed)
        self.ways = [
            (12, self.select), (30, self.choose), (12, self.press), (7, self.use_a_dot), (10, self.turn_a_number), (8, window.undo), (4, window.redo),
            (3, self.add), (3, self.copy), (2, lambda: remove_selected(self.session, window)), (3, self.answers), (3, self.move_in_time),
            (6, self.use_the_list), (6, self.use_the_time_bench), (5, self.use_the_card_bench), (6, self.use_the_desk), (2, lambda: group_selected(self.session)), (2, lambda: take_apart(self.session)), (3, self.pull_a_handle),
            (2, lambda: window.build.stage.nudge(self.rng.randint(-40, 40), self.rng.randint(-40, 40))),
        ]  # fmt: skip

    @property
    def session(self):
        return self.window.session

    def step(self) -> None:
        self.rng.choices([way for _, way in self.ways], [weight for weight, _ in self.ways])[0]()
        QApplication.processEvents()

    def _visible(self, kind):
        return [w for w in self.window.build.recipe.findChildren(kind) if w.isVisible()]

    def select(self) -> None:
        parts = [p.id for p in self.session.template.parts]
        if parts:
            self.session.select(self.rng.choice(parts), self.rng.random() < 0.2)

    def choose(self) -> None:
        chips = self._visible(Chip)
        if not chips:
            return
        chip = self.rng.choice(chips)
        chip.click()
        menu = chip.findChildren(QMenu)[-1]
        actions = [a for a in menu.actions() if a.isEnabled()]
        menu.close()
        if actions:
            self.rng.choice(actions).trigger()

    def press(self) -> None:
        buttons = [b for b in self._visible(QAbstractButton) if not isinstance(b, Chip | ColourButton | Dot)]
        if buttons:
            self.rng.choice(buttons).click()

    def use_a_dot(self) -> None:
        dots = self._visible(Dot)
        offered = [a for a in self.rng.choice(dots).menu().actions() if a.isEnabled()] if dots else []
        if offered:
            self.rng.choice(offered).trigger()

    def turn_a_number(self) -> None:
        boxes = self._visible(NumberBox)
        if boxes:
            box = self.rng.choice(boxes)
            box._take(box.value + self.rng.choice([-400, -30, -1, 1, 7, 60, 900]))

    def add(self) -> None:
        self.rng.choice([add_text, add_counter, add_credits, add_shape, add_rule, add_pattern, add_echo])(self.session)

    def use_the_list(self) -> None:
        """Do something with the list of some credits: type, add, move, remove, paste, turn into another kind, find."""
        listed = [p.id for p in self.session.template.parts if isinstance(p, CreditsPart)]
        if not listed:
            return
        self.window.show_bench(0)
        self.session.select(self.rng.choice(listed))
        QApplication.processEvents()
        panel, rng = self.window.build.list, self.rng
        table, model = panel.table, panel.model
        if model.lines:
            table.setFocus()
            table.choose(sorted(rng.sample(range(len(model.lines)), min(len(model.lines), rng.choice([1, 1, 2, 4])))), rng.randrange(4))
        match rng.randrange(9):
            case 0 if model.lines:
                row = rng.randrange(len(model.lines))
                model.type(row, rng.choice([1, 2]), rng.choice(["", "Ann  Berg", "x" * 300, "שלום", "12", '“A"']), row)
                model.settle(row, 1)
            case 1:
                table.add_line()
            case 2:
                table.shift_chosen(rng.choice([-1, 1]))
            case 3:
                table.remove_chosen()
            case 4:
                table.copy_chosen()
                table.paste()
            case 5:
                table.turn_chosen(rng.choice(kinds()))
            case 6:
                panel.add(rng.choice([k for k in kinds() if k != "picture"]))
            case 7:
                panel.search.begin()
                panel.search.wanted.setText(rng.choice(["a", "", "e"]))
                panel.search.new.setText("e")
                rng.choice([panel.search.next, panel.search.replace, panel.search.replace_all, panel.search.leave])()
            case _:
                how = rng.choice(["rolls up", "rolls down", "pages", "crawls", "stands"])
                self.session.write({f"{self.session.selected}/movement.how": how})
        model.proofread()
        QApplication.processEvents()
        self.window.build.grab()
        panel.leave()

    def use_the_time_bench(self) -> None:
        """Bring it to the front, choose and drag something on its ruler, use its panel."""
        bench, ruler = self.window.time, self.window.time.ruler
        self.window.show_bench(1)
        bars = [bar.at for row in ruler.rows for bar in row.bars]
        keys = [(lane.part, lane.keyed.path, n) for row in ruler.rows for lane in row.keys for n in range(len(lane.times))]
        if keys and self.rng.random() < 0.4:
            ruler.choose((), tuple(self.rng.sample(keys, min(len(keys), self.rng.randint(1, 3)))))
            self.session.select(ruler.keys[0][0])
        elif bars:
            ruler.choose(tuple(dict.fromkeys(self.rng.sample(bars, min(len(bars), self.rng.choice([1, 1, 1, 3]))))))
            self.session.select(ruler.chosen[0].part)
        QApplication.processEvents()
        bench.panel.refresh()
        within = [w for w in bench.panel.findChildren(QAbstractButton) if w.isVisible() and not isinstance(w, ColourButton | Dot)]
        if within:
            button = self.rng.choice(within)
            button.click()
            for menu in button.findChildren(QMenu)[-1:]:
                actions = [a for a in menu.actions() if a.isEnabled()]
                menu.close()
                if actions:
                    self.rng.choice(actions).trigger()
        QApplication.processEvents()
        bench.grab()
        self.window.show_bench(0)

    def use_the_card_bench(self) -> None:
        """Bring it to the front, choose a field or the house, add one, use its panel, answer."""
        bench = self.window.card
        self.window.show_bench(2)
        ids = [f.id for f in self.session.template.card.entries]
        if self.rng.random() < 0.25:
            bench.add_field(self.rng.choice(list(NEW_FIELDS)))
        else:
            bench.choose(self.rng.choice([None, *ids]))
        QApplication.processEvents()
        if ids and self.rng.random() < 0.5:
            targets = [f"{p.id}/{prop.path}" for p in self.session.template.parts for prop in properties(p)]
            source = self.rng.choice([*ids, *(f"{p.id}/rest.width" for p in self.session.template.parts)])
            if targets:
                target = self.rng.choice(targets)
                self.session.edit("Wire", lambda t: carding.wire_up(t, source, target))
        if ids and self.rng.random() < 0.3:
            self.session.edit("Order", lambda t: carding.move_field(t, self.rng.choice(ids), 0, self.rng.randint(0, 3)))
        QApplication.processEvents()
        body = bench.panel.widget()
        within = [w for w in body.findChildren(QAbstractButton) if w.isVisible() and not isinstance(w, ColourButton)]
        if within:
            button = self.rng.choice(within)
            button.click()
            for menu in button.findChildren(QMenu)[-1:]:
                menu.aboutToShow.emit()
                actions = [a for a in menu.actions() if a.isEnabled() and a.menu() is None]
                menu.close()
                if actions:
                    self.rng.choice(actions).trigger()
        QApplication.processEvents()
        bench.measure.refresh()
        bench.grab()
        self.window.show_bench(0)

    def use_the_desk(self) -> None:
        """Bring it to the front, select titles or a clip, do something from the menu, answer, trim."""
        desk, session = self.window.desk, self.window.cut_session
        self.window.show_desk()
        session.go_to(self.rng.randrange(session.length()))
        titles = [t.id for t in session.cut.titles]
        if titles and self.rng.random() < 0.7:
            session.select_all(self.rng.sample(titles, min(len(titles), self.rng.choice([1, 1, 2, 3]))))
        else:
            session.select(None)
            desk.view.clip = self.rng.randrange(len(session.cut.pictures)) if session.cut.pictures else None
        entries = [e.path.name for e in desk.library.entries if not e.fault]
        if self.rng.random() < 0.25 and entries:
            desk.add_title(self.rng.choice(entries), session.frame, self.rng.randint(0, 1))
        menu = desk.commands.menu()
        actions = [a for a in menu.actions() if a.isEnabled() and not a.isSeparator()]
        for action in list(actions):
            if action.menu() is not None:
                actions += [a for a in action.menu().actions() if a.isEnabled()]
        leaves = [a for a in actions if a.menu() is None and not a.text().endswith("…")]
        self.rng.choice(leaves).trigger()
        menu.deleteLater()
        QApplication.processEvents()
        if session.title is not None and self.rng.random() < 0.5:
            chosen = session.title
            start, end = chosen.start + self.rng.randint(-40, 40), chosen.end + self.rng.randint(-40, 40)
            session.edit("Trim", lambda c: trim_title(c, chosen.id, start, end))
            boxes = [b for b in desk.card.findChildren(NumberBox) if b.isVisible()]
            for box in boxes[:1]:
                box._take(box.value + self.rng.choice([-30, -1, 1, 60]))
        if self.rng.random() < 0.3:
            session.undo()
        desk.grab()
        for track in (0, 1):
            row = [t for t in session.cut.titles if t.track == track]
            assert all(a.end <= b.start for a, b in itertools.pairwise(row))
        self.window.show_bench(0)

    def pull_a_handle(self) -> None:
        """Drag one of the stage's handles somewhere."""
        stage = self.window.build.stage
        stage.repaint()
        if stage.handles:
            handle = self.rng.choice(stage.handles)
            to = (self.rng.uniform(-200, 2000), self.rng.uniform(-200, 1300))
            self.session.write(handle.change(to, self.rng.random() < 0.5), None, "Handle", handle.frame)

    def copy(self) -> None:
        self.rng.choice([duplicate_selected, copy_selected, partial(paste_piece, owner=self.window)])(self.session)

    def answers(self) -> None:
        self.session.show_answers(self.rng.choice(["", *(s.id for s in self.session.template.samples)]))

    def move_in_time(self) -> None:
        self.session.go_to(self.rng.randrange(self.session.template.length))


def walk(window: Window, seed: int, steps: int) -> None:
    walker = Walker(window, seed)
    for number in range(steps):
        walker.step()
        template = window.session.template
        written = encode(template)
        assert decode(written, "walk") == template, number
        if number % 20 == 0:
            assert not window.grab().isNull()
            for sample in template.samples:
                window.session.scene(sample.id).picture(window.session.frame, 96, 54)


@pytest.fixture
def window(qapp, qtbot, demo, tmp_path, monkeypatch):
    theme.apply(qapp)
    monkeypatch.setattr(QMessageBox, "question", lambda *a, **k: QMessageBox.StandardButton.Yes)
    monkeypatch.setattr(QInputDialog, "getText", lambda *a, **k: ("Another name", True))
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *a, **k: ("", ""))
    monkeypatch.setattr(QFileDialog, "getOpenFileNames", lambda *a, **k: ([], ""))
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a, **k: ("", ""))
    monkeypatch.setattr(QDialog, "exec", lambda dialog: QDialog.DialogCode.Accepted)
    made = Window(demo, tmp_path / "state")
    made.files.open_demo(demo)
    qtbot.addWidget(
        made, before_close_func=lambda w: monkeypatch.setattr(QMessageBox, "question", lambda *a: QMessageBox.StandardButton.Discard)
    )
    made.show()
    qtbot.waitExposed(made)
    return made


@pytest.mark.parametrize("seed", [0, pytest.param(1, marks=pytest.mark.soak)])
def test_nothing_breaks_in_any_order(window, seed):
    walk(window, seed, 25)


@pytest.mark.soak
@pytest.mark.parametrize("seed", range(100, 140))
def test_nothing_breaks_in_any_order_for_long(window, seed):
    walk(window, seed, 500)
