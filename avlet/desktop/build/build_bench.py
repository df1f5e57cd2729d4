"""The Build bench: parts, stage with transport and samples, recipe."""

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import (
    QButtonGroup,
    QHBoxLayout,
    QLabel,
    QMenu,
    QPushButton,
    QSizePolicy,
    QSplitter,
    QStackedWidget,
    QToolButton,
    QVBoxLayout,
    QWidget,
)

from avlet.desktop.build.first_steps import FirstSteps
from avlet.desktop.build.new_parts import (
    add_ball,
    add_counter,
    add_credits,
    add_echo,
    add_gauge,
    add_lamp,
    add_pattern,
    add_rule,
    add_shape,
    add_text,
)
from avlet.desktop.build.part_commands import duplicate_selected, group_selected, remove_selected, space_selected
from avlet.desktop.build.part_menu import PartMenu
from avlet.desktop.build.parts_list import PartsList
from avlet.desktop.credits.list_panel import ListPanel
from avlet.desktop.credits.list_port import port_of_part
from avlet.desktop.credits.strip_view import StripView
from avlet.desktop.recipe.headings import HeadingsStrip
from avlet.desktop.recipe.recipe import Recipe
from avlet.desktop.sessions.template_session import Session
from avlet.desktop.stage.backgrounds import BACKGROUNDS
from avlet.desktop.stage.count_view import CountView
from avlet.desktop.stage.depth_views import DepthViews
from avlet.desktop.stage.foot import Foot
from avlet.desktop.stage.samples_strip import SamplesStrip, in_a_bar
from avlet.desktop.stage.stage import Stage
from avlet.desktop.stage.transport import Transport
from avlet.desktop.widgets.buttons import flat_button, flat_switch
from avlet.desktop.widgets.icons import icon
from avlet.desktop.widgets.menus import pop_up
from avlet.desktop.widgets.sides import Sides
from avlet.document.lists.lines import Line
from avlet.document.parts import CreditsPart
from avlet.motion.list_places import frame_of, line_at, shows

ZOOMS = (("Fit", None), ("50 %", 0.5), ("100 %", 1.0), ("200 %", 2.0), ("400 %", 4.0))


class BuildBench(QWidget):
    """Where a template is built."""

    picture_wanted = pyqtSignal()
    template_wanted = pyqtSignal()

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session = session
        self.stage = Stage(session)
        self.transport = Transport(session, self.stage.cache)
        self.samples = SamplesStrip(session, self.stage.background)
        self.parts = PartsList(session)
        self.recipe = Recipe(session)
        layout = QHBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(0)
        self.strip = StripView(session)
        self.list = ListPanel(session.book, lambda: session.path.parent if session.path is not None else None)
        left, middle = self._left(), self._middle()
        self.headings = HeadingsStrip(self.recipe)
        self.recipe.rebuilt.connect(self.headings.follow)
        right = QWidget()
        right.setProperty("role", "panel")
        right.setFixedWidth(318)
        column = QVBoxLayout(right)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addWidget(self.headings)
        column.addWidget(self.recipe, 1)
        self.sides = Sides(middle, left, right, ("Parts", "Recipe"))
        layout.addWidget(self.sides)
        self.transport.played.connect(self.stage.played)
        self.stage.zoom_changed.connect(self._show_zoom)
        self._show_zoom()
        self._listed: str | None = None
        self.stage.line_picked.connect(self.list.table.show_line)
        self.strip.picked.connect(self.list.table.show_line)
        self.list.visited.connect(self._go_to_line)
        self.list.refused.connect(session.refused)
        session.changed.connect(self._follow_list)
        session.answers_changed.connect(self._follow_list)
        session.selection_changed.connect(self._follow_list)
        session.frame_changed.connect(lambda _: self._mark_line())
        self.stage.let_go.connect(self._follow_list)
        self.stage.menu_wanted.connect(lambda at: pop_up(PartMenu(session, self.stage, self.stage.zoom_to_selection), at))
        self.parts.zoom_wanted.connect(self.stage.zoom_to_selection)
        self._turn_left(1)
        self._follow_list()

    def _left(self) -> QWidget:
        left = QWidget()
        left.setProperty("role", "panel")
        left.setFixedWidth(210)
        layout = QVBoxLayout(left)
        layout.setContentsMargins(4, 12, 4, 8)
        heading = QHBoxLayout()
        heading.setContentsMargins(10, 0, 4, 0)
        self.parts_label = QLabel("Parts")
        self.parts_label.setProperty("role", "heading")
        heading.addWidget(self.parts_label, 1)
        pills = QHBoxLayout()
        pills.setContentsMargins(10, 0, 4, 0)
        pills.setSpacing(6)
        self.strip_switch = QButtonGroup(self)
        for number, (words, tip) in enumerate((("The strip", "The whole list, small"), ("The parts", "The parts of the template"))):
            button = QPushButton(words)
            button.setProperty("role", "pill")
            button.setCheckable(True)
            button.setToolTip(tip)
            self.strip_switch.addButton(button, number)
            pills.addWidget(button)
        pills.addStretch(1)
        self.strip_switch.idClicked.connect(self._turn_left)
        for name, words, action in (("copy", "Duplicate (Ctrl+D)", lambda: duplicate_selected(self.session)),
                                    ("bin", "Remove (Delete)", lambda: remove_selected(self.session, self))):  # fmt: skip
            heading.addWidget(flat_button(name, words, action))
        add = flat_button("plus", "Add a part")
        add.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        menu = QMenu(add)
        for name, words, make in (("text", "Words\tT", add_text), ("counter", "Counter\tC", add_counter),
                                  ("credits", "Credits\tL", add_credits),
                                  ("shape", "Shape round the selected\tS", add_shape),
                                  ("rule", "Rule under the selected\tR", add_rule),
                                  ("gauge", "Gauge round the selected\tG", add_gauge),
                                  ("pattern", "Stripes in the selected\tN", add_pattern),
                                  ("echo", "Echo of the selected\tE", add_echo),
                                  ("group", "Group of the selected\tCtrl+G", group_selected),
                                  ("space", "Space for the selected\tD", space_selected),
                                  ("ball", "Ball beside the selected\tB", add_ball),
                                  ("lamp", "Lamp in the selected space\tI", add_lamp)):  # fmt: skip
            entry = menu.addAction(icon(name), words)
            assert entry is not None
            entry.triggered.connect(lambda _=False, m=make: m(self.session))
        for name, words, wanted in (("picture", "Picture…\tP", self.picture_wanted), ("group", "Another template…", self.template_wanted)):
            entry = menu.addAction(icon(name), words)
            assert entry is not None
            entry.triggered.connect(lambda _=False, w=wanted: w.emit())
        add.setMenu(menu)
        heading.addWidget(add)
        layout.addLayout(heading)
        layout.addLayout(pills)
        self.left_stack = QStackedWidget()
        self.left_stack.addWidget(self.strip)
        below = QWidget()
        column = QVBoxLayout(below)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(self.parts, 1)
        self.left_stack.addWidget(below)
        layout.addWidget(self.left_stack, 1)
        note = QLabel("Front on top. Threads tie a part to what it follows; dashed, to what it shows inside.")
        note.setWordWrap(True)
        note.setProperty("role", "small")
        note.setContentsMargins(10, 0, 6, 0)
        column.addWidget(note)
        return left

    def _middle(self) -> QWidget:
        middle = QWidget()
        middle.setProperty("role", "ground")
        layout = QVBoxLayout(middle)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(0)
        bar = in_a_bar(self.transport)
        self.depths, self.count = DepthViews(self.session), CountView(self.session)
        self.foot = Foot(self.samples, self.count, self.depths)
        self.below = QWidget()
        below = QVBoxLayout(self.below)
        below.setContentsMargins(0, 0, 0, 0)
        below.setSpacing(0)
        below.addWidget(self.foot)
        below.addLayout(self._views())
        self.below.setSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Maximum)
        above = QWidget()
        column = QVBoxLayout(above)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        self.steps = FirstSteps(self.session, self.stage, self.recipe)
        for widget, stretch in ((self.stage, 1), (self.steps, 0), (bar, 0), (self.below, 0)):
            column.addWidget(widget, stretch)
        halves = QSplitter(Qt.Orientation.Vertical)
        halves.setChildrenCollapsible(False)
        halves.setHandleWidth(5)
        halves.addWidget(above)
        halves.addWidget(self.list)
        halves.setSizes([440, 320])
        layout.addWidget(halves)
        return middle

    # Credits

    def _follow_list(self) -> None:
        """While credits are selected their list is under the stage, and the long strip beside it.

        While a button is down on the stage nothing changes: the stage would move under the hand.
        """
        if self.stage.held:
            return
        part = self.session.part
        listed = part.id if isinstance(part, CreditsPart) and not self.session.also else None
        shown = listed is not None
        self.list.setVisible(shown)
        self.depth_switch.setVisible(self.depths.space is not None)
        self.count_switch.setVisible(self.count.counted is not None)
        deep = self.depths.space is not None and self.depth_switch.isChecked()
        counts = self.count.counted is not None and self.count_switch.isChecked()
        self.foot.show_page(self.count if counts else self.depths if deep else None)
        self.below.setVisible(not shown)
        for button in self.strip_switch.buttons():
            button.setVisible(shown)
        if listed != self._listed:
            if self._listed is not None:
                self.list.leave()
            self._listed = listed
            self.list.model.book = self.session.book
            self.list.show_list(port_of_part(self.session, listed) if listed is not None else None)
            self._turn_left(0 if shown else 1)
        elif shown:
            self.list.follow()
        if shown:
            self._mark_line()

    def _turn_left(self, number: int) -> None:
        """Show the strip (0), or the parts (1), on the left."""
        self.left_stack.setCurrentIndex(number)
        self.parts_label.setText("Parts" if number else "Strip")
        for button in self.strip_switch.buttons():
            button.setChecked(self.strip_switch.id(button) == number)

    def _mark_line(self) -> None:
        """Mark the line that stands in the middle of the stage; the list stays where it is."""
        moving = self.strip.moving
        self.list.model.mark(line_at(moving, min(self.session.frame, moving.length - 1)) if moving is not None else None)

    def _go_to_line(self, line: Line) -> None:
        """Show on the stage the line that the person goes to in the list, unless it is there already."""
        moving = self.strip.moving
        if moving is None or self.transport.player.playing or line.block >= len(moving.part.blocks):
            return
        frame = frame_of(moving, line)
        if frame is not None and not shows(moving, min(self.session.frame, moving.length - 1), line):
            self.session.go_to(frame)

    def _views(self) -> QHBoxLayout:
        """Backgrounds, safe areas, drafting lines, zoom."""
        row = QHBoxLayout()
        row.setContentsMargins(16, 8, 16, 10)
        row.setSpacing(5)
        self.backgrounds = QButtonGroup(self)
        for name in BACKGROUNDS:
            button = QPushButton(name.capitalize())
            button.setProperty("role", "pill")
            button.setCheckable(True)
            button.setChecked(name == self.stage.background.name)
            button.setToolTip(f"Show the title over {name}")
            button.clicked.connect(lambda _=False, n=name: self.set_background(n))
            self.backgrounds.addButton(button)
            row.addWidget(button)
        row.addStretch(1)
        for name, words, chosen in (
            ("safe", "Safe areas: 93 % action, 90 % title", self._set_safe),
            ("drafting", "Drafting lines, handles", self._set_drafting),
        ):
            row.addWidget(flat_switch(name, words, chosen))
        words = "From above and from the side, instead of the samples, while a space or something in one is selected"
        self.depth_switch = flat_switch("space", words, lambda _: self._follow_list())
        row.addWidget(self.depth_switch)
        words = "The curve of the count, instead of the samples, while a counter is selected"
        self.count_switch = flat_switch("counter", words, lambda _: self._follow_list())
        row.addWidget(self.count_switch)
        rulers = flat_switch("rulers", "Rulers, guides and grid: drag a guide out of a ruler", self._set_rulers)
        rulers.setChecked(False)
        row.addWidget(rulers)
        self.zoom = QPushButton()
        self.zoom.setProperty("role", "pill")
        self.zoom.setToolTip("Zoom (Ctrl and the wheel; Ctrl+0 fits)")
        menu = QMenu(self.zoom)
        for words, zoom in ZOOMS:
            action = menu.addAction(words)
            assert action is not None
            action.triggered.connect(lambda _=False, z=zoom: self.stage.zoom_to(z))
        selection = menu.addAction("Selection\tZ")
        assert selection is not None
        selection.triggered.connect(lambda _=False: self.stage.zoom_to_selection())
        self.zoom.setMenu(menu)
        row.addWidget(self.zoom)
        return row

    def set_background(self, name: str) -> None:
        self.stage.background.name = name
        for button in self.backgrounds.buttons():
            button.setChecked(button.text().lower() == name)
        self.stage.update()
        self.samples.update()

    def _set_safe(self, on: bool) -> None:
        self.stage.safe_areas = on
        self.stage.update()

    def _set_drafting(self, on: bool) -> None:
        self.stage.drafting_on = on
        self.stage.update()

    def _set_rulers(self, on: bool) -> None:
        self.stage.rulers.shown = on
        self.stage.update()

    def _show_zoom(self) -> None:
        self.zoom.setText("Fit" if self.stage.fits else f"{self.stage.scale:.0%}")

    def leave(self) -> None:
        """Another bench comes to the front."""
        self.transport.player.stop()
        self.list.leave()
        self.stage.leave()
