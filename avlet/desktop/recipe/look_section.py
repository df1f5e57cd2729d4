"""The recipe's look: words, form, fill, outline, shadows, glow; each with rows, and a way to add or take away."""

from collections.abc import Callable
from functools import partial
from pathlib import Path
from typing import Any

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QFileDialog, QHBoxLayout, QInputDialog, QLabel, QToolButton, QVBoxLayout, QWidget

from avlet.desktop.recipe.axis_row import AxisRow
from avlet.desktop.recipe.dot import Dot
from avlet.desktop.recipe.headings import FoldHeading
from avlet.desktop.recipe.look_rows import LookRow
from avlet.desktop.recipe.sentences import Choice, Sentence, Ticked
from avlet.desktop.sessions.template_session import Session
from avlet.desktop.widgets.asking import lasting
from avlet.desktop.widgets.gradients import GradientStrip
from avlet.document.editing import edits, sharing
from avlet.document.looks.forms import READY_FORMS, name_of_form
from avlet.document.looks.glint import Glint
from avlet.document.looks.paints import GRADIENTS, Glow, Linear, Outline, Paint, Radial, Shadow, Solid, Sweep
from avlet.document.metadata import Property, get_at, properties
from avlet.document.parts import (
    Accent,
    AnyPart,
    CounterPart,
    CreditsPart,
    EchoPart,
    PaintedPart,
    PatternPart,
    PictureFile,
    PicturePart,
    ShapePart,
    TextPart,
    TypesetPart,
)
from avlet.document.parts.credits import BlockStyle
from avlet.numbers.exact import in_figures
from avlet.text.features import ON_BY_ITSELF, name_of_feature
from avlet.text.fonts import Face

_PAINTS: dict[str, type[Any]] = {"one colour": Solid, "linear gradient": Linear, "radial gradient": Radial, "sweep gradient": Sweep}
_NONE = "none"


class LookSection(QWidget):
    """All rows of one part's look."""

    def __init__(self, session: Session, part: AnyPart) -> None:
        super().__init__()
        self.session, self.part = session, part
        self.rows = {p.path: p for p in properties(part) if p.type.group in ("words", "look")}
        self.whole = QVBoxLayout(self)
        self.whole.setContentsMargins(0, 0, 0, 0)
        self.whole.setSpacing(8)
        self.column = self.whole
        mute = isinstance(part, EchoPart) and not isinstance(session.template.part(part.of), TextPart)
        words = [] if mute else [p for p in self.rows.values() if p.type.group == "words"]
        if words:
            self._heading("Words")
            self._add(words)
        self._heading("Look")
        look = self.column
        if isinstance(part, TypesetPart):
            self._text_style(part)
        self._add([p for p in self.rows.values() if "." not in p.path and p.type.group == "look" and p.path not in ("blur", "blend")])
        if not isinstance(part, PaintedPart):
            self._add([self.rows[name] for name in ("blend",) if name in self.rows])
            if colours := [p for p in properties(part) if p.type.kind == "colour" and p.type.group == "light"]:
                self._heading("Colours of light")
                self._add(colours)
            return
        for section in _OF_ITS_KIND.get(type(part), ()):
            section(self, part)
        self.column = look
        self._paint("Fill", "fill")
        self._add([self.rows["blur"], self.rows["blend"]])
        if part.solid is not None and part.solid.sides == "their own":
            self._add([p for p in properties(part) if p.path == "solid.side"])
        self._outline(part)
        self._shadows(part)
        self._glow(part)
        self._glint(part)

    # Building blocks

    def _heading(self, words: str, *buttons: tuple[str, str, Callable[[], object]], facts: str = "") -> None:
        """A heading that folds what comes after it, up to the next one; ``facts`` stand beside it."""
        row = QHBoxLayout()
        body = QWidget()
        label = FoldHeading(self.session, words, body)
        row.addWidget(label)
        if facts:
            said = QLabel(facts)
            said.setProperty("role", "small")
            row.addWidget(said)
        row.addStretch(1)
        for sign, name, pressed in buttons:
            button = QToolButton()
            button.setText(sign)
            button.setProperty("role", "flat")
            button.setObjectName(name)
            button.setAccessibleName(name)
            button.setToolTip(name)
            button.clicked.connect(lambda _=False, p=pressed: p())
            row.addWidget(button)
        self.whole.addLayout(row)
        self.whole.addWidget(body)
        self.column = QVBoxLayout(body)
        self.column.setContentsMargins(0, 0, 0, 0)
        self.column.setSpacing(8)

    def _add(self, rows: list[Property]) -> None:
        for prop in rows:
            if prop.path not in self.part.idle:
                self.column.addWidget(LookRow(self.session, self.part.id, prop))

    def _under(self, path: str) -> list[Property]:
        """The rows directly below a path."""
        return [p for p in self.rows.values() if p.path.startswith(path + ".") and "." not in p.path[len(path) + 1 :]]

    def _chip_row(self, words: str, shown: str, choices: list[Choice], chosen: Callable[[Any], object], name: str) -> None:
        row = QHBoxLayout()
        label = QLabel(words)
        label.setProperty("role", "muted")
        label.setFixedWidth(72)
        row.addWidget(label)
        row.addWidget(Sentence(self.session, "plain").choice(shown, choices, chosen, name).widget, 1)
        self.column.addLayout(row)

    def _with_dot(self, widget: QWidget, path: str, label: str) -> None:
        row = QHBoxLayout()
        row.addWidget(widget, 1)
        row.addWidget(Dot(self.session, f"{self.part.id}/{path}", label), 0, Qt.AlignmentFlag.AlignTop)
        self.column.addLayout(row)

    def _put(self, label: str, path: str, value: object, gesture: object = None) -> None:
        at = self.part.id
        self.session.edit(f"{self.part.name}: {label}", lambda t: edits.put_struct(t, at, path, value), gesture)

    def _change(self, label: str, path: str, change: Callable[[Any], Any]) -> None:
        """Change what stands at a path, from what it is when this is called."""
        self.session.change(f"{self.part.id}/{path}", change, f"{self.part.name}: {label}")

    def _take_away(self, label: str, path: str, index: int, _: bool = False) -> None:
        self._change(label, path, _without(index))

    def _shuffle(self) -> None:
        target = f"{self.part.id}/seed"
        self.session.write({target: (int(self.session.shown(target)) + 1) % 1_000_000}, None, f"{self.part.name}: chance")

    # Sections

    def _pattern(self, part: PatternPart) -> None:
        """How the copies lie, and what runs from the first to the last; only what matters for the way that they lie."""
        hidden = {
            "in a row": {"rows", "radius"}, "in a grid": {"radius"}, "in a ring": {"rows", "step_x", "step_y"},
        }[part.lies] | (set() if part.colour_runs else {"colour_last"})  # fmt: skip
        if part.fit is not None and part.lies != "in a ring":
            hidden |= {"count", "rows"} | ({"step_y"} if part.lies == "in a row" else set())
        self._heading("Copies", ("↻", "Shuffle the chance", self._shuffle))
        self._add([p for p in properties(part) if p.type.group == "pattern" and p.path not in hidden])
        say = Sentence(self.session, "plain")
        if part.picture is None:
            say.button("copies of a picture…", lambda: self._choose(self.replace_picture), "copies of a picture")
        else:
            say.words(part.picture.name).button("× this picture", lambda: self._put("no picture", "picture", None), "no picture")
        self.column.addWidget(say.widget)
        if part.picture is None:
            self._form(part)

    def _choose(self, take: Callable[[Path], object]) -> None:
        name, _ = QFileDialog.getOpenFileName(lasting(self), "Picture", "", "Pictures (*.png *.jpg *.jpeg *.webp *.svg)")
        if name:
            take(Path(name))

    def _form(self, part: ShapePart | PatternPart) -> None:
        choices: list[Choice] = list(READY_FORMS.items())
        target = f"{part.id}/form"
        row = QHBoxLayout()
        label = QLabel("Form")
        label.setProperty("role", "muted")
        label.setFixedWidth(72)
        row.addWidget(label)
        say = Sentence(self.session, "plain").choice(name_of_form(part.form), choices, lambda f: self.session.write({target: f}), "form")
        row.addWidget(say.widget, 1)
        row.addWidget(Dot(self.session, target, "Form"), 0, Qt.AlignmentFlag.AlignTop)
        self.column.addLayout(row)
        self._add(self._under("form"))

    def _picture(self, part: PicturePart) -> None:
        """The picture's file, and choosing another one for the same box."""
        say = Sentence(self.session, "plain").words(part.picture.name.partition("-")[2] or part.picture.name)
        say.button("another…", lambda: self._choose(self.replace_picture), "another picture")
        self._with_dot(say.widget, "picture", "Picture")

    def replace_picture(self, path: Path) -> None:
        """Show another file in the part's box."""
        try:
            self.session.write({f"{self.part.id}/picture": PictureFile(path.name, path.read_bytes())})
        except OSError as error:
            self.session.refused.emit(f"“{path}” cannot be read: {error.strerror}.")

    def _text_style(self, setting: TypesetPart | BlockStyle, at: str = "") -> None:
        """Whether face and setting, of the part or of a sort of its lines, are its own or the template's."""
        template = self.session.template
        present = template.text_style(setting.text_style)
        choices: list[Choice] = [("its own", ""), *((s.name, s.id) for s in template.text_styles), ("share as a style…", None)]
        take = partial(self._take_style, at)
        self._chip_row("Style of", present.name if present else "its own", choices, take, f"{at} text style".strip())

    def _take_style(self, at: str, style_id: str | None) -> None:
        part_id = self.part.id
        if style_id is not None:
            self.session.edit("Text style", lambda t: sharing.use_style(t, part_id, style_id, at))
            return
        said = f"{self.part.name}: {at.removesuffix('_style')}" if at else self.part.name
        name, sure = QInputDialog.getText(lasting(self), "Text style", "Its name:", text=said)
        if sure and name.strip():
            self.session.edit("Text style", lambda t: sharing.share_style(t, part_id, name.strip(), at)[0])

    def _lines(self, part: CreditsPart) -> None:
        """How each sort of line of credits is set."""
        for at, words in (("heading_style", "Headings"), ("role_style", "Roles"), ("name_style", "Names"), ("words_style", "Paragraphs")):
            style: BlockStyle = getattr(part, at)
            self._heading(words, facts=f"{style.family} {style.style} {in_figures(style.size)}")
            self._text_style(style, at)
            self._add(self._under(at))
            say = Sentence(self.session, "plain")
            if style.fill is None:
                fill = part.fill if isinstance(part.fill, Solid) else Solid()
                say.button("a colour of its own", partial(self._put, f"{words} colour", f"{at}.fill", fill), f"{at} own colour")
            else:
                self._paint("Fill", f"{at}.fill")
                say.button("× the part's colour", partial(self._put, f"{words} colour", f"{at}.fill", None), f"{at} part's colour")
            self.column.addWidget(say.widget)

    def _axes(self, part: TypesetPart) -> None:
        """A slider for each axis of a variable font."""
        face = self.session.book.find(part.family, part.style)[0]
        set_already = {place.tag: number for number, place in enumerate(part.axes)}
        for axis in face.axes:
            number = set_already.get(axis.tag)
            place = part.axes[number].value if number is not None else dict(face.location).get(axis.tag, axis.default)
            self.column.addWidget(AxisRow(self.session, part, axis, place, number))

    def _features(self, part: TypesetPart) -> None:
        """OpenType features that the face has, by their plain names."""
        face, _ = self.session.book.find(part.family, part.style)
        offered = _offered_features(face, part.features)
        shown = ", ".join(words for words, tag, ticked in offered if ticked != (tag in ON_BY_ITSELF)) or "as usual"

        def ticks() -> list[Ticked]:
            now = self.session.bound(part.id)
            return _offered_features(face, now.features if isinstance(now, TypesetPart) else ())

        row = QHBoxLayout()
        label = QLabel("Features")
        label.setProperty("role", "muted")
        label.setFixedWidth(72)
        row.addWidget(label)

        def chosen(tags: tuple[str, ...]) -> None:
            wanted = [t for t in tags if t not in ON_BY_ITSELF] + [f"-{t}" for t in face.features if t in ON_BY_ITSELF and t not in tags]
            self._put("features", "features", tuple(wanted))

        row.addWidget(Sentence(self.session, "plain").several(shown, ticks, chosen, "features").widget, 1)
        self.column.addLayout(row)

    def _accents(self, part: TypesetPart) -> None:
        def add() -> None:
            self._change("accent", "accents", lambda accents: (*accents, Accent(part.family)))

        self._heading("Accents", *([("+", "Add an accent", add)] if len(part.accents) < 2 else []))
        for index, accent in enumerate(part.accents):
            self._accent(part, index, accent)

    def _accent(self, part: TypesetPart, index: int, accent: Accent) -> None:
        hint = QLabel(f"Words marked {{{index + 1}:so}}")
        hint.setProperty("role", "small")
        self.column.addWidget(hint)
        self._add(self._under(f"accents.{index}"))
        say = Sentence(self.session, "plain")
        if accent.fill is None:
            fill = part.fill if isinstance(part.fill, Solid) else Solid()
            say.button("its own colour", lambda: self._put("accent", f"accents.{index}.fill", fill), "own colour")
        else:
            self._paint("Fill", f"accents.{index}.fill")
        say.button("× this accent", lambda: self._take_away("one accent less", "accents", index), "remove accent")
        self.column.addWidget(say.widget)

    def _paint(self, words: str, path: str) -> None:
        paint: Paint = get_at(self.part, path)
        none = edits.is_none(paint)
        shown = _NONE if none else next(name for name, kind in _PAINTS.items() if type(paint) is kind)
        choices: list[Choice] = [*_PAINTS.items(), (_NONE, None)]
        self._chip_row(words, shown, choices, lambda kind: self._turn(path, kind), f"{path} kind")
        if isinstance(paint, GRADIENTS):
            strip = GradientStrip(paint.stops)
            strip.setObjectName(f"{self.part.id}/{path}.stops")
            at = f"{self.part.id}/{path}.stops"
            strip.changed.connect(lambda stops: self.session.write({at: stops}, ("gradient", id(strip))))
            strip.finished.connect(self.session.history.close_gesture)
            self._with_dot(strip, f"{path}.stops", "Gradient")
        if not none:
            self._add(self._under(path))

    def _turn(self, path: str, kind: type[Any] | None) -> None:
        """Another kind of paint, with its colours and their wires; or none, and back to one colour."""
        at, none = self.part.id, edits.is_none(get_at(self.part, path))
        if kind is None or none:
            self.session.edit(f"{self.part.name}: fill", lambda t: edits.show_paint(t, at, path, kind is not None))
        if kind is None or (none and kind is Solid):
            return
        self.session.edit(f"{self.part.name}: fill", lambda t: edits.turn_paint(t, at, path, kind))

    def _outline(self, part: PaintedPart) -> None:
        if part.outline is None:
            self._heading("Outline", ("+", "Add an outline", lambda: self._put("outline", "outline", Outline())))
            return
        self._heading("Outline", ("×", "Remove the outline", lambda: self._put("no outline", "outline", None)))
        self._paint("Fill", "outline.fill")
        self._add(self._under("outline"))

    def _shadows(self, part: PaintedPart) -> None:
        def add() -> None:
            self._change("shadow", "shadows", lambda shadows: (*shadows, Shadow()))

        self._heading("Shadow", ("+", "Add a shadow", add))
        for index in range(len(part.shadows)):
            self._add(self._under(f"shadows.{index}"))
            remove = QToolButton()
            remove.setText("× this shadow")
            remove.setProperty("role", "flat")
            remove.setObjectName(f"Remove shadow {index + 1}")
            remove.setAccessibleName(f"Remove shadow {index + 1}")
            remove.clicked.connect(partial(self._take_away, "one shadow less", "shadows", index))
            self.column.addWidget(remove, 0, Qt.AlignmentFlag.AlignRight)

    def _glow(self, part: PaintedPart) -> None:
        if part.glow is None:
            self._heading("Glow", ("+", "Add a glow", lambda: self._put("glow", "glow", Glow())))
            return
        self._heading("Glow", ("×", "Remove the glow", lambda: self._put("no glow", "glow", None)))
        self._add(self._under("glow"))

    def _glint(self, part: PaintedPart) -> None:
        """A light that passes: only what matters for the way that it does."""
        if part.glint is None:
            self._heading("Light that passes", ("+", "Let a light pass", lambda: self._put("a light passes", "glint", Glint())))
            return
        self._heading("Light that passes", ("×", "No light passes", lambda: self._put("no light passes", "glint", None)))
        hidden = {"where it is set": {"start", "frames", "every"}, "again and again": {"at"}}.get(part.glint.passes, {"at", "every"})
        self._add([p for p in self._under("glint") if p.path.removeprefix("glint.") not in hidden])


_OF_ITS_KIND: dict[type[AnyPart], tuple[Callable[[LookSection, Any], None], ...]] = {
    TextPart: (LookSection._axes, LookSection._features, LookSection._accents),
    CounterPart: (LookSection._axes, LookSection._features, LookSection._accents), ShapePart: (LookSection._form,),
    PicturePart: (LookSection._picture,), PatternPart: (LookSection._pattern,), CreditsPart: (LookSection._lines,),
}  # fmt: skip
"""What the look of each kind of part has besides what all have."""


def _without(index: int) -> Callable[[tuple[Any, ...]], tuple[Any, ...]]:
    """Takes one of several away."""
    return lambda several: (*several[:index], *several[index + 1 :])


def _offered_features(face: Face, chosen: tuple[str, ...]) -> list[Ticked]:
    """The features of a face by their plain names, and which of them are on."""
    return [(name_of_feature(tag), tag, f"-{tag}" not in chosen if tag in ON_BY_ITSELF else tag in chosen) for tag in face.features]
