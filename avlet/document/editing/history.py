"""Undo as a list of values: undo is the one before."""

from dataclasses import dataclass, field
from typing import Generic, TypeVar

T = TypeVar("T")


@dataclass(frozen=True)
class Step(Generic[T]):
    """A value and the words for the edit that led to it."""

    value: T
    label: str = ""
    gesture: object = None


@dataclass
class History(Generic[T]):
    """The values that a document has had. ``limit`` bounds how many are kept; values share their unchanged parts."""

    start: T
    limit: int = 500
    _steps: list[Step[T]] = field(default_factory=list)
    _at: int = 0

    def __post_init__(self) -> None:
        self._steps = [Step(self.start)]

    @property
    def value(self) -> T:
        """The present value."""
        return self._steps[self._at].value

    @property
    def undo_label(self) -> str | None:
        """What undo would take back; None if there is nothing."""
        return self._steps[self._at].label if self._at else None

    @property
    def redo_label(self) -> str | None:
        """What redo would do again; None if there is nothing."""
        return self._steps[self._at + 1].label if self._at + 1 < len(self._steps) else None

    def push(self, value: T, label: str, gesture: object = None) -> None:
        """Make ``value`` the present one. Edits of one ``gesture`` (a drag, typing into one box) undo as one."""
        present = self._steps[self._at]
        if value == present.value:
            return
        if gesture is not None and gesture == present.gesture:
            self._at -= 1
        self._steps = [*self._steps[: self._at + 1], Step(value, label, gesture)]
        self._steps = self._steps[-self.limit :]
        self._at = len(self._steps) - 1

    @property
    def in_gesture(self) -> bool:
        """Whether the next edit may go on with what the last one began: something is dragged, or typed."""
        return self._steps[self._at].gesture is not None

    def close_gesture(self) -> None:
        """The next edit starts a step of its own, even within the same control."""
        present = self._steps[self._at]
        self._steps[self._at] = Step(present.value, present.label)

    def undo(self) -> T:
        """Go one value back, if there is one."""
        self._at = max(0, self._at - 1)
        return self.value

    def redo(self) -> T:
        """Go one value forward again, if there is one."""
        self._at = min(len(self._steps) - 1, self._at + 1)
        return self.value
