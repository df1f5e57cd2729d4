"""What is to be said of a space: what of its members is not drawn in depth, and what looks other than it was laid out."""

from collections.abc import Iterator, Mapping

from avlet.document.parts import AnyPart, CounterPart, CreditsPart, PaintedPart, SpacePart, members_of
from avlet.document.standing import front_of
from avlet.layout.rest import Rest, RestPart
from avlet.motion.camera import resting_distance
from avlet.numbers.exact import in_figures
from avlet.paint.outlines import resting_path
from avlet.paint.space_bodies import form_mesh, unit_meshes
from avlet.solid import drawing
from avlet.solid.meshes import Mesh

_AS_LARGE = 0.02
"""A fit may look so much larger or smaller, as a share, before that is said."""


def space_notes(rest: Rest) -> Iterator[str]:
    """Sentences, each naming its part."""
    parts = {i: one.part for i, one in rest.parts.items()}
    spaces = [part for part in parts.values() if isinstance(part, SpacePart)]
    if spaces and (fault := drawing.fault()):
        yield f"{spaces[0].name} is shown flat. {fault}"
    inside = {i for space in spaces for i in members_of(list(parts.values()), space.id, deep=True)}
    for part in parts.values():
        if part.lights and part.id not in inside:
            yield f"{part.name} stands in no space and lights nothing. Drag it under a space in the list of parts."
    for space in spaces:
        for member in members_of(list(parts.values()), space.id, deep=True):
            yield from _of_member(rest.parts[member], space)
            yield from _fitted_across(rest, parts, parts[member], space)


def _of_member(rest: RestPart, space: SpacePart) -> Iterator[str]:
    part = rest.part
    if isinstance(part, CreditsPart):
        yield f"{part.name} is not seen in {space.name}: credits have no depth. Take them out of it."
        return
    if not isinstance(part, PaintedPart):
        return
    lost = [name for name, there in (
        ("shadow", bool(part.shadows)), ("glow", part.glow is not None),
        ("light that passes", part.glint is not None), ("outline", part.outline is not None), ("blur", part.blur > 0),
    ) if there]  # fmt: skip
    if lost:
        yield f"The {' and the '.join(lost)} of {part.name} {'is' if len(lost) == 1 else 'are'} not drawn in {space.name}, which has depth."
    narrow = [mesh.edge for mesh in _meshes(rest) if mesh.narrowed]
    if narrow and part.solid is not None:
        yield f"The edge of {part.name} is {min(narrow):.1f} px, not {in_figures(part.solid.edge)}, where its strokes are thin."


def _meshes(rest: RestPart) -> list[Mesh]:
    """The meshes of a part that has edges, at rest."""
    part = rest.part
    if not isinstance(part, PaintedPart) or part.solid is None or part.solid.edging == "square" or isinstance(part, CounterPart):
        return []
    if rest.body.setting is not None:
        return unit_meshes(rest.body.setting, "character", None, part.solid)
    path = resting_path(rest) if not rest.box.empty else None
    return [form_mesh(path, part.solid)] if path is not None else []


def _fitted_across(rest: Rest, parts: Mapping[str, AnyPart], part: AnyPart, space: SpacePart) -> Iterator[str]:
    """A part whose front does not lie as far before the sheet as that of what it fits around: it looks too large or too small."""
    fit = part.fitted
    away = resting_distance(space.camera, rest.frame)
    for other in (parts[i] for i in (fit.around if fit is not None else ()) if i in parts):
        mine, theirs = away - front_of(parts, part), away - front_of(parts, other)
        if min(mine, theirs) > 0 and abs(mine / theirs - 1) > _AS_LARGE:
            share, nearer = abs(mine / theirs - 1) * 100, "nearer" if mine > theirs else "farther"
            yield (
                f"{part.name} fits around {other.name}, whose front stands {abs(mine - theirs):,.0f} px {nearer}: seen from the front it "
                f"is {share:.0f} % too {'small' if mine > theirs else 'large'}. Let one of them stand on the other."
            )
