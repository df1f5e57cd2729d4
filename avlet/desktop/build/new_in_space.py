"""Adding what belongs in a space: balls and lamps."""

from avlet.desktop.sessions.template_session import Session
from avlet.document.editing import edits
from avlet.document.editing.grouping import stands_in
from avlet.document.editing.naming import free_id
from avlet.document.parts import AnyPart, BallPart, LampPart, Place, SpacePart
from avlet.document.solids import Stand
from avlet.document.template import Template
from avlet.document.time.moves import StaysToTheEnd

_MIDDLE = Place("frame", "middle", "middle")
_BALL, _LAMP_ASIDE, _LAMP_BEFORE = 0.18, 0.22, 0.35
"""Shares of the frame's height: a ball's diameter; how far a lamp stands aside of the middle, and before the sheet."""


def add_ball(session: Session) -> None:
    """A ball beside what is selected, in its space; alone it lies in the middle of the frame."""
    beside = session.part
    space = space_of_selected(session)
    size = float(round(session.template.frame.height * _BALL))
    part = BallPart(id=_id(session, "Ball"), name=_name(session, "Ball"), diameter=size, across=_MIDDLE, down=_MIDDLE)
    if beside is not None and not isinstance(beside, SpacePart | LampPart):
        part = edits.replace(part, across=Place(beside.id, "start", "end", round(size / 4)), down=Place(beside.id, "middle", "middle"))
    if space is not None:
        part = edits.replace(part, group=space.id, stand=Stand())
    _add(session, part, space)


def add_lamp(session: Session) -> None:
    """A lamp over what stands in the selected space, or in the only one there is."""
    space = space_of_selected(session)
    if space is None:
        session.refused.emit("A lamp stands in a space. Put something in one first (D), or select the space.")
        return
    high = session.template.frame.height
    part = LampPart(
        id=_id(session, "Lamp"), name=_name(session, "Lamp"), group=space.id, before=float(round(high * _LAMP_BEFORE)),
        across=Place("frame", "middle", "middle", -float(round(high * _LAMP_ASIDE))), way_out=StaysToTheEnd(),
        down=Place("frame", "middle", "middle", -float(round(high * _LAMP_ASIDE))),
    )  # fmt: skip
    _add(session, part, space)


def space_of_selected(session: Session) -> SpacePart | None:
    """The space that is selected, or that what is selected stands in; with nothing selected the only one there is."""
    part = session.part
    if part is not None:
        return part if isinstance(part, SpacePart) else stands_in(session.template, part.id)
    spaces = [p for p in session.template.parts if isinstance(p, SpacePart)]
    return spaces[0] if len(spaces) == 1 else None


def _add(session: Session, part: AnyPart, space: SpacePart | None) -> None:
    def change(t: Template) -> Template:
        at = [p.id for p in t.parts].index(space.id) if space is not None else None
        return edits.add_part(t, part, at)

    if session.edit(f"Add {part.name}", change):
        session.select(part.id)


def _name(session: Session, words: str) -> str:
    names, number = {p.name for p in session.template.parts}, 2
    while words in names:
        words, number = f"{words.partition(' ')[0]} {number}", number + 1
    return words


def _id(session: Session, words: str) -> str:
    return free_id(words, {p.id for p in session.template.parts})
