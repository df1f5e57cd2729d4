"""Works out the files of a long roster beside the window."""

from PyQt6.QtCore import pyqtSignal

from avlet.desktop.sessions.runner import Runner
from avlet.document.template import Template
from avlet.errors import AvletError
from avlet.roster.roster import Plan, Roster, plan_of


class PlanRunner(Runner):
    """One plan of one roster. ``planned`` tells this runner, which then has a ``plan``, or a ``fault`` in words."""

    planned = pyqtSignal(object)

    def __init__(self, roster: Roster, template: Template) -> None:
        super().__init__()
        self.roster, self.template = roster, template
        self.plan: Plan | None = None
        self.fault = ""

    def run(self) -> None:
        try:
            self.plan = plan_of(self.roster, self.template)
        except AvletError as error:
            self.fault = str(error)
        if not self.stopping:
            self.planned.emit(self)
