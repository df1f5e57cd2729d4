"""Anything on the benches in any order, among solid letters, balls and lamps."""

import pytest
import test_any_order
from test_any_order import Walker, decode, encode, window  # noqa: F401

from avlet.desktop.build.new_parts import add_ball, add_lamp
from avlet.desktop.build.part_commands import space_selected
from avlet.document.parts import SpacePart


class SpaceWalker(Walker):
    """Does what belongs to spaces as well, by what the benches offer."""

    def __init__(self, window, seed):  # noqa: F811
        super().__init__(window, seed)
        self.ways += [
            (4, lambda: space_selected(self.session)), (3, lambda: add_ball(self.session)), (3, lambda: add_lamp(self.session)),
            (6, self.pick_a_piece), (10, self.use_a_view),
        ]  # fmt: skip

    def pick_a_piece(self):
        spaces = [p.id for p in self.session.template.parts if isinstance(p, SpacePart)]
        if spaces:
            self.session.select_piece(self.rng.choice(spaces), self.rng.choice(["camera", "sun", "sky"]))

    def use_a_view(self):
        """Drag something in a view, type one of its numbers, or press a key there."""
        depths = self.window.build.depths
        if depths.space is None or not depths.isVisible():
            return
        view = self.rng.choice([depths.above, depths.side])
        item = self.rng.choice(view.items())
        at = view.area_of(item).center()
        how = self.rng.randrange(3)
        if how == 0 and view.figures.boxes:
            box = self.rng.choice(view.figures.boxes)
            box._take(box.value + self.rng.choice([-500, -10, 3, 90]))
            box.finished.emit()
            return
        hold = view.item_at(at)
        if hold is not None:
            test_any_order.QApplication.sendEvent(view, _mouse(2, at))
            test_any_order.QApplication.sendEvent(view, _mouse(5, at + _offset(self.rng)))
            test_any_order.QApplication.sendEvent(view, _mouse(3, at + _offset(self.rng)))


def _offset(rng):
    from PyQt6.QtCore import QPointF

    return QPointF(rng.uniform(-80, 80), rng.uniform(-80, 80))


def _mouse(kind, at):
    from PyQt6.QtCore import QEvent, Qt
    from PyQt6.QtGui import QMouseEvent

    left, none = Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier
    return QMouseEvent(QEvent.Type(kind), at, at, left, left if kind != 3 else Qt.MouseButton.NoButton, none)


def walk(window, seed, steps, name):  # noqa: F811
    window.session.mark_saved(window.state / "x")
    window.files.open_path(window.cut_session.library / f"{name}.avlet")
    walker = SpaceWalker(window, seed)
    for number in range(steps):
        walker.step()
        template = window.session.template
        assert decode(encode(template), "walk") == template, number
        if number % 20 == 0:
            window.session.scene().picture(window.session.frame, 96, 54)


@pytest.mark.parametrize(("seed", "name"), [(0, "rising-word"), pytest.param(1, "harbour-depths", marks=pytest.mark.soak)])
def test_nothing_breaks_in_a_space(window, seed, name):  # noqa: F811
    walk(window, seed, 14, name)


@pytest.mark.soak
@pytest.mark.parametrize("seed", range(100, 120))
@pytest.mark.parametrize("name", ["rising-word", "harbour-depths", "shadow-strap"])
def test_nothing_breaks_in_a_space_for_long(window, seed, name):  # noqa: F811
    walk(window, seed, 300, name)
