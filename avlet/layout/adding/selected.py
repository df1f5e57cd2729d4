"""What new parts are made beside, and what they are added by."""

from collections.abc import Callable
from dataclasses import dataclass

from avlet.document.parts import AnyPart
from avlet.document.template import Template
from avlet.layout.rest import Rest

PADDING = 25
"""px of a plate over and under its words at 1080 lines."""


@dataclass(frozen=True)
class Selected:
    """A template, what is selected in it, and its resting layout, which is worked out when it is asked for.

    ``part`` is the one that leads the selection, None with nothing selected.
    """

    template: Template
    part: AnyPart | None
    selection: tuple[str, ...]
    laid_out: Callable[[], Rest]

    @property
    def rest(self) -> Rest:
        """The resting layout."""
        return self.laid_out()


@dataclass(frozen=True)
class New:
    """A part that is to be added: its id, what adding it is called, and the edit."""

    id: str
    words: str
    change: Callable[[Template], Template]


def ids_in(template: Template) -> set[str]:
    """The ids of all parts."""
    return {part.id for part in template.parts}
