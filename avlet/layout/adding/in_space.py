"""New balls and lamps: in the space that is selected, or that what is selected stands in."""

from avlet.document.editing import edits
from avlet.document.editing.grouping import stands_in
from avlet.document.editing.naming import free_id
from avlet.document.parts import AnyPart, BallPart, LampPart, Place, SpacePart
from avlet.document.solids import Stand
from avlet.document.template import Template
from avlet.document.time.moves import StaysToTheEnd
from avlet.errors import AnswerError
from avlet.layout.adding.selected import New, Selected, ids_in

_MIDDLE = Place("frame", "middle", "middle")
_BALL, _LAMP_ASIDE, _LAMP_BEFORE = 0.18, 0.22, 0.35
"""Shares of the frame's height: a ball's diameter; how far a lamp stands aside of the middle, and before the sheet."""


def new_ball(on: Selected) -> New:
    """A ball beside what is selected, in its space; alone it lies in the middle of the frame."""
    beside = on.part
    space = space_of_selected(on)
    size = float(round(on.template.frame.height * _BALL))
    part = BallPart(id=_id(on, "Ball"), name=_name(on, "Ball"), diameter=size, across=_MIDDLE, down=_MIDDLE)
    if beside is not None and not isinstance(beside, SpacePart | LampPart):
        part = edits.replace(part, across=Place(beside.id, "start", "end", round(size / 4)), down=Place(beside.id, "middle", "middle"))
    if space is not None:
        part = edits.replace(part, group=space.id, stand=Stand())
    return _added(part, space)


def new_lamp(on: Selected) -> New:
    """A lamp over what stands in the selected space, or in the only one there is."""
    space = space_of_selected(on)
    if space is None:
        raise AnswerError("A lamp stands in a space. Put something in one first (D), or select the space.")
    high = on.template.frame.height
    part = LampPart(
        id=_id(on, "Lamp"), name=_name(on, "Lamp"), group=space.id, before=float(round(high * _LAMP_BEFORE)),
        across=Place("frame", "middle", "middle", -float(round(high * _LAMP_ASIDE))), way_out=StaysToTheEnd(),
        down=Place("frame", "middle", "middle", -float(round(high * _LAMP_ASIDE))),
    )  # fmt: skip
    return _added(part, space)


def space_of_selected(on: Selected) -> SpacePart | None:
    """The space that is selected, or that what is selected stands in; with nothing selected the only one there is."""
    part = on.part
    if part is not None:
        return part if isinstance(part, SpacePart) else stands_in(on.template, part.id)
    spaces = [p for p in on.template.parts if isinstance(p, SpacePart)]
    return spaces[0] if len(spaces) == 1 else None


def _added(part: AnyPart, space: SpacePart | None) -> New:
    def change(t: Template) -> Template:
        at = [p.id for p in t.parts].index(space.id) if space is not None else None
        return edits.add_part(t, part, at)

    return New(part.id, f"Add {part.name}", change)


def _name(on: Selected, words: str) -> str:
    names, number = {p.name for p in on.template.parts}, 2
    while words in names:
        words, number = f"{words.partition(' ')[0]} {number}", number + 1
    return words


def _id(on: Selected, words: str) -> str:
    return free_id(words, ids_in(on.template))
