"""A row of the look for one axis of a variable font: a slider, its figure, and the dot."""

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QSlider, QWidget

from avlet.desktop.recipe.dot import Dot
from avlet.desktop.sessions.template_session import Session
from avlet.desktop.widgets.numbers import NumberBox
from avlet.document.parts import AxisPlace, TypesetPart
from avlet.text.font_facts import FontAxis

_STEPS = 400


class AxisRow(QWidget):
    """Sets where a text stands on an axis. ``number`` is that of the axis among those that the text sets; None if it does not."""

    def __init__(self, session: Session, part: TypesetPart, axis: FontAxis, value: float, number: int | None) -> None:
        super().__init__()
        self.session, self.part_id, self.axis = session, part.id, axis
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(6)
        label = QLabel(axis.name)
        label.setProperty("role", "muted")
        label.setFixedWidth(72)
        row.addWidget(label)
        self.slider = QSlider(Qt.Orientation.Horizontal)
        self.slider.setRange(0, _STEPS)
        self.slider.setObjectName(f"{part.id}/axis {axis.tag}")
        self.slider.setAccessibleName(axis.name)
        row.addWidget(self.slider, 1)
        self.box = NumberBox(value, axis.low, axis.high)
        self.box.setProperty("chip", "plain")
        self.box.setFixedWidth(48)
        self.box.setAccessibleName(axis.name)
        row.addWidget(self.box)
        if number is None:
            row.addSpacing(28)
        else:
            target = f"{part.id}/axes.{number}.value"
            self.box.setObjectName(target)
            row.addWidget(Dot(session, target, axis.name, f"{part.name} {axis.name.lower()}"), 0, Qt.AlignmentFlag.AlignTop)
        self._show(value)
        self.slider.valueChanged.connect(lambda at: self._set(round(axis.low + (axis.high - axis.low) * at / _STEPS, 1)))
        self.box.value_changed.connect(self._set)
        for finished in (self.slider.sliderReleased, self.box.finished):
            finished.connect(session.history.close_gesture)

    def _show(self, value: float) -> None:
        blocked = self.slider.blockSignals(True)
        self.slider.setValue(round((value - self.axis.low) / max(self.axis.high - self.axis.low, 1e-6) * _STEPS))
        self.slider.blockSignals(blocked)

    def _set(self, value: float) -> None:
        part = self.session.bound_part
        if not isinstance(part, TypesetPart):
            return
        number = next((n for n, place in enumerate(part.axes) if place.tag == self.axis.tag), None)
        self._show(value)
        self.box.show_value(value)
        gesture = ("axis", self.part_id, self.axis.tag)
        if number is not None:
            self.session.write({f"{self.part_id}/axes.{number}.value": value}, gesture)
            return

        place = AxisPlace(self.axis.tag, value)
        self.session.change(f"{self.part_id}/axes", lambda axes: (*axes, place), f"{part.name}: {self.axis.name.lower()}", gesture)
