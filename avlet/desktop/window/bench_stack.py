"""The benches one over another, each made when it is asked for first."""

from collections.abc import Callable, Sequence

from PyQt6.QtWidgets import QStackedWidget, QWidget


class BenchStack(QStackedWidget):
    """``makers`` make the benches, in the order of the rail; until then something empty holds a bench's place."""

    def __init__(self, makers: Sequence[Callable[[], QWidget]]) -> None:
        super().__init__()
        self._makers = makers
        self._benches: dict[int, QWidget] = {}
        for _ in makers:
            self.addWidget(QWidget())

    @property
    def made(self) -> list[QWidget]:
        """The benches that somebody has asked for."""
        return list(self._benches.values())

    def bench(self, index: int) -> QWidget:
        """A bench by its place on the rail."""
        if index not in self._benches:
            made, place, front = self._makers[index](), self.widget(index), self.currentIndex()
            assert place is not None
            self._benches[index] = made
            self.removeWidget(place)
            self.insertWidget(index, made)
            self.setCurrentIndex(front)
            place.deleteLater()
        return self._benches[index]
