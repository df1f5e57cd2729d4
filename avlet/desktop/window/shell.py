"""The window as its file commands and its keys see it."""

from pathlib import Path
from typing import TYPE_CHECKING, Protocol, cast, runtime_checkable

from PyQt6.QtWidgets import QMainWindow, QToolButton

from avlet.desktop.roster.roster_session import RosterSession
from avlet.desktop.sessions.cut_session import CutSession
from avlet.desktop.sessions.template_session import Session
from avlet.desktop.window.bench_stack import BenchStack
from avlet.document.cut import Cut
from avlet.document.template import Template
from avlet.roster.sheet import Sheet
from avlet.storage.recovery import Recovery

if TYPE_CHECKING:
    from avlet.desktop.build.build_bench import BuildBench
    from avlet.desktop.card.card_bench import CardBench
    from avlet.desktop.desk.desk_bench import DeskBench
    from avlet.desktop.proof.proof_bench import ProofBench
    from avlet.desktop.roster.roster_bench import RosterBench
    from avlet.desktop.time.time_bench import TimeBench
    from avlet.desktop.window.welcome import WelcomePage

BUILD, TIME, CARD, PROOF, DESK, ROSTER = "Build", "Time", "Card", "Proof", "Desk", "Roster"
BENCHES = (BUILD, TIME, CARD, PROOF, DESK, ROSTER)
"""The benches, in the order of the rail."""
WELCOME = len(BENCHES)
"""The place of the first page, behind the benches."""
CUT_SUFFIX = ".otio"


@runtime_checkable
class Bench(Protocol):
    """What all benches can do."""

    def leave(self) -> None:
        """Another bench comes to the front."""


class Shell(QMainWindow):
    """What a window holds, and what it can be asked to do."""

    session: Session
    cut_session: CutSession
    roster_session: RosterSession
    state: Path
    recovery: Recovery[Template]
    cut_recovery: Recovery[Cut]
    table_recovery: Recovery[Sheet]
    stack: BenchStack
    rail_buttons: list[QToolButton]

    @property
    def build(self) -> "BuildBench":
        return cast("BuildBench", self.stack.bench(BENCHES.index(BUILD)))

    @property
    def time(self) -> "TimeBench":
        return cast("TimeBench", self.stack.bench(BENCHES.index(TIME)))

    @property
    def card(self) -> "CardBench":
        return cast("CardBench", self.stack.bench(BENCHES.index(CARD)))

    @property
    def proof(self) -> "ProofBench":
        return cast("ProofBench", self.stack.bench(BENCHES.index(PROOF)))

    @property
    def desk(self) -> "DeskBench":
        return cast("DeskBench", self.stack.bench(BENCHES.index(DESK)))

    @property
    def welcome(self) -> "WelcomePage":
        return cast("WelcomePage", self.stack.bench(WELCOME))

    @property
    def roster(self) -> "RosterBench":
        return cast("RosterBench", self.stack.bench(BENCHES.index(ROSTER)))

    def in_front(self, name: str) -> bool:
        """Whether the bench of this name is in front."""
        return self.stack.currentIndex() == BENCHES.index(name)

    @property
    def on_desk(self) -> bool:
        """Whether the cutting desk is in front."""
        return self.in_front(DESK)

    @property
    def bench(self) -> "BuildBench | TimeBench | CardBench":
        """The bench of the template that is in front, or would be."""
        return self.time if self.in_front(TIME) else self.card if self.in_front(CARD) else self.build

    def show_bench(self, index: int) -> None:
        """Bring a bench to the front."""
        raise NotImplementedError

    def show_welcome(self) -> None:
        """Show what there is to begin with."""
        raise NotImplementedError

    def show_desk(self) -> None:
        """Bring the cutting desk to the front."""
        raise NotImplementedError

    def show_guide(self, page: str = "") -> None:
        """Show the guide, at a page, or at the one that tells of the bench in front."""
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
