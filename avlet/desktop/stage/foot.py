"""What lies under the stage, one thing at a time and all in one height: samples, the curve of a count, a space from above and the side.

What is shown may change with the selection; the stage over it stays where it is.
"""

from PyQt6.QtWidgets import QSizePolicy, QStackedWidget, QVBoxLayout, QWidget

from avlet.desktop.stage.samples_strip import SamplesStrip

HEIGHT = 184
"""px, unless samples are shown larger."""
_GAP = 8


class Foot(QStackedWidget):
    """The samples, and other pages that may lie there instead."""

    def __init__(self, samples: SamplesStrip, *others: QWidget) -> None:
        super().__init__()
        self.samples = samples
        page = QWidget()
        column = QVBoxLayout(page)
        column.setContentsMargins(16, 10, 16, 0)
        column.setSpacing(_GAP)
        column.addWidget(samples.heading)
        column.addWidget(samples)
        column.addStretch(1)
        self.addWidget(page)
        for other in others:
            other.setSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Ignored)
            self.addWidget(other)
        samples.height_changed.connect(self._fit)
        self._fit()

    def _fit(self) -> None:
        self.setFixedHeight(max(HEIGHT, self.samples.heading.sizeHint().height() + self.samples.height() + 10 + _GAP))

    def show_page(self, page: QWidget | None) -> None:
        """Show one of the others; None for the samples."""
        self.setCurrentIndex(0 if page is None else self.indexOf(page))
