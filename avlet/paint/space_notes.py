"""What is to be said of a space: what of its members is not drawn in depth, edges that are narrower, and that nothing here draws it."""

from collections.abc import Iterator

from avlet.document.parts import CounterPart, CreditsPart, PaintedPart, SpacePart, members_of
from avlet.layout.arrange import Rest
from avlet.paint.spaces import unit_meshes
from avlet.solid import drawing


def space_notes(rest: Rest) -> Iterator[str]:
    """Sentences, each naming its part."""
    parts = [one.part for one in rest.parts.values()]
    spaces = [part for part in parts if isinstance(part, SpacePart)]
    if spaces and (fault := drawing.fault()):
        yield f"{spaces[0].name} is shown flat. {fault}"
    for space in spaces:
        for member in members_of(parts, space.id, deep=True):
            yield from _of_member(rest, member, space)


def _of_member(rest: Rest, member: str, space: SpacePart) -> Iterator[str]:
    part = rest.parts[member].part
    if isinstance(part, CreditsPart):
        yield f"{part.name} is not seen in {space.name}: credits have no depth. Take them out of it."
        return
    if not isinstance(part, PaintedPart):
        return
    lost = [name for name, there in (
        ("shadow", bool(part.shadows)), ("glow", part.glow is not None), ("outline", part.outline is not None), ("blur", part.blur > 0),
        ("matte", bool(part.mattes)),
    ) if there]  # fmt: skip
    if lost:
        yield f"The {' and the '.join(lost)} of {part.name} {'is' if len(lost) == 1 else 'are'} not drawn in {space.name}, which has depth."
    solid, setting = part.solid, rest.parts[member].setting
    if solid is not None and solid.edging != "square" and setting is not None and not isinstance(part, CounterPart):
        narrow = [mesh.edge for mesh in unit_meshes(setting, "character", None, solid) if mesh.narrowed]
        if narrow:
            yield f"The edge of {part.name} is {min(narrow):.1f} px, not {solid.edge:g}, where its strokes are thin."
