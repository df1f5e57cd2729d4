"""Where a list that is edited lives: in a part of the template, in a field's start, in an answer."""

from collections.abc import Callable
from typing import NamedTuple

from avlet.desktop.sessions.template_session import Session
from avlet.document.editing import edits
from avlet.document.lists.blocks import Blocks
from avlet.document.parts import CreditsPart


class ListPort(NamedTuple):
    """How a list is had and changed. ``put`` takes it with a label for undo and a gesture; ``done`` ends that.

    ``linked`` is the file that the list follows and ``link`` lets it follow another; None where a list cannot.
    """

    blocks: Callable[[], Blocks]
    put: Callable[[Blocks, str, object], bool]
    done: Callable[[], object]
    linked: Callable[[], str] | None = None
    link: Callable[[str], object] | None = None


def port_of_part(session: Session, part_id: str) -> ListPort:
    """The list of a part as the stage shows it, by whatever drives it there."""
    target = f"{part_id}/blocks"

    def blocks() -> Blocks:
        rest = session.scene().rest.parts.get(part_id)
        return rest.part.blocks if rest is not None and isinstance(rest.part, CreditsPart) else ()

    def linked() -> str:
        part = session.template.part(part_id)
        return part.linked if isinstance(part, CreditsPart) else ""

    def link(path: str) -> object:
        return session.edit("Follow a list file" if path else "Follow no file", lambda t: edits.set_relations(t, part_id, linked=path))

    return ListPort(
        blocks, lambda new, label, gesture: session.write({target: new}, gesture, label), session.history.close_gesture, linked, link
    )
