"""What the recipe shows when several parts are selected: their names, and ways to align and spread them."""

from PyQt6.QtWidgets import QLabel, QVBoxLayout, QWidget

from avlet.desktop.sentences import Sentence
from avlet.desktop.session import Session
from avlet.document.alignment import Axis, aligned, spread

_WAYS: tuple[tuple[str, Axis, float], ...] = (
    ("left edges", "across", 0.0), ("middles across", "across", 0.5), ("right edges", "across", 1.0),
    ("top edges", "down", 0.0), ("middles down", "down", 0.5), ("bottom edges", "down", 1.0),
)  # fmt: skip


class SeveralParts(QWidget):
    """Names, align, spread."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(10)
        title = QLabel(f"{len(session.selection)} parts")
        title.setProperty("role", "title")
        layout.addWidget(title)
        names = QLabel(", ".join(session.template.name_of(i) for i in session.selection))
        names.setWordWrap(True)
        names.setProperty("role", "muted")
        layout.addWidget(names)
        for words in ("Align", "Spread evenly"):
            heading = QLabel(words)
            heading.setProperty("role", "place")
            layout.addWidget(heading)
            say = Sentence(session, "follow")
            if words == "Align":
                for name, axis, share in _WAYS:
                    say.button(name, lambda a=axis, s=share: self.align(a, s), name)
            else:
                say.button("across", lambda: self.spread("across"), "spread across")
                say.button("down", lambda: self.spread("down"), "spread down")
            layout.addWidget(say.widget)
        hint = QLabel("Dragging moves them together. Ctrl+D copies them with their relations; Delete removes them.")
        hint.setWordWrap(True)
        hint.setProperty("role", "small")
        layout.addWidget(hint)

    def align(self, axis: Axis, share: float) -> None:
        boxes = {i: r.box for i, r in self.session.scene().rest.parts.items()}
        chosen = list(self.session.selection)
        self.session.edit("Align", lambda t: aligned(t, boxes, chosen, axis, share))

    def spread(self, axis: Axis) -> None:
        boxes = {i: r.box for i, r in self.session.scene().rest.parts.items()}
        chosen = list(self.session.selection)
        self.session.edit("Spread", lambda t: spread(t, boxes, chosen, axis))
