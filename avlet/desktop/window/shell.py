"""The window as its file commands and its keys see it."""

from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtWidgets import QMainWindow, QStackedWidget, QToolButton

from avlet.desktop.sessions.cut_session import CutSession
from avlet.desktop.sessions.template_session import Session
from avlet.document.cut import Cut
from avlet.document.template import Template
from avlet.storage.recovery import Recovery

if TYPE_CHECKING:
    from avlet.desktop.build.build_bench import BuildBench
    from avlet.desktop.card.card_bench import CardBench
    from avlet.desktop.desk.desk_bench import DeskBench
    from avlet.desktop.time.time_bench import TimeBench


class Shell(QMainWindow):
    """What a window holds, and what it can be asked to do."""

    session: Session
    cut_session: CutSession
    state: Path
    recovery: Recovery[Template]
    cut_recovery: Recovery[Cut]
    build: "BuildBench"
    time: "TimeBench"
    card: "CardBench"
    desk: "DeskBench"
    stack: QStackedWidget
    rail_buttons: list[QToolButton]

    @property
    def on_desk(self) -> bool:
        """Whether the cutting desk is in front."""
        return self.stack.currentWidget() is self.desk

    @property
    def bench(self) -> "BuildBench | TimeBench | CardBench":
        """The bench of the template that is in front, or would be."""
        front = self.stack.currentWidget()
        return self.time if front is self.time else self.card if front is self.card else self.build

    def show_bench(self, index: int) -> None:
        """Bring a bench to the front."""
        raise NotImplementedError

    def show_welcome(self) -> None:
        """Show what there is to begin with."""
        raise NotImplementedError

    def show_desk(self) -> None:
        """Bring the cutting desk to the front."""
        raise NotImplementedError

    def show_keys(self) -> None:
        """Show what keys and gestures there are."""
        raise NotImplementedError

    def show_settings(self) -> None:
        """Ask for the person's own settings."""
        raise NotImplementedError

    def undo(self) -> None:
        """Take the last change of the document in front back."""
        raise NotImplementedError

    def redo(self) -> None:
        """Do it again."""
        raise NotImplementedError

    def say(self, words: str) -> None:
        """Show a message for a while."""
        raise NotImplementedError

    def keep_unsaved(self) -> None:
        """Write unsaved work down."""
        raise NotImplementedError

    def may_leave(self) -> bool:
        """Ask about unsaved work on the template before it is closed."""
        raise NotImplementedError

    def may_leave_cut(self) -> bool:
        """Ask about unsaved work on the cut before it is closed."""
        raise NotImplementedError
