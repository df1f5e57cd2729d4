"""Putting parts into groups and taking groups apart."""

from collections.abc import Iterable, Mapping

import msgspec

from avlet.document.editing.edits import need_part, remove_part
from avlet.document.editing.naming import free_id
from avlet.document.faults.checking import check
from avlet.document.parts import AnyPart, GroupPart, SpacePart, TypesetPart, members_of
from avlet.document.solids import Solidity
from avlet.document.template import Template
from avlet.errors import DocumentError

replace = msgspec.structs.replace


def grouped(template: Template, part_ids: Iterable[str], kind: type[GroupPart] = GroupPart) -> tuple[Template, str]:
    """Parts put into a new group of a kind, which lies where the foremost of them lay. Returns the template and the group's id."""
    chosen = [p for p in template.parts if p.id in set(part_ids)]
    inside = {m for p in chosen for m in members_of(template.parts, p.id, deep=True)}
    tops = [p for p in chosen if p.id not in inside]
    if not tops:
        raise DocumentError("Select the parts that are to become a group.")
    number = sum(type(p) is kind for p in template.parts) + 1
    words = str(kind.__struct_config__.tag).capitalize()
    name = words if number == 1 else f"{words} {number}"
    homes = {p.group for p in tops}
    group = kind(id=free_id(name, {p.id for p in template.parts}), name=name, group=homes.pop() if len(homes) == 1 else None)
    moving = {p.id for p in tops} | inside
    at = max(n for n, p in enumerate(template.parts) if p.id in moving)
    members = [replace(p, group=group.id) if p in tops else p for p in template.parts if p.id in moving]
    before = [p for p in template.parts[: at + 1] if p.id not in moving]
    after = [p for p in template.parts[at + 1 :] if p.id not in moving]
    return check(replace(template, parts=(*before, *members, group, *after))), group.id


def spaced(template: Template, part_ids: Iterable[str]) -> tuple[Template, str]:
    """Parts put into a space, words among them solid. Returns the template and the space's id."""
    chosen = set(part_ids)
    homes = {p.id for p in template.parts if p.has_depth}
    for part in template.parts:
        at: str | None = part.id if part.id in chosen else None
        while at is not None and (there := template.part(at)) is not None:
            if at in homes or there.group in homes:
                raise DocumentError(f"{part.name} stands in a space already.")
            at = there.group
    depth = round(template.frame.height * _DEPTH)
    inside = chosen | {m for i in chosen for m in members_of(template.parts, i, deep=True)}
    made = tuple(
        replace(p, solid=Solidity(depth=float(depth))) if p.id in inside and isinstance(p, TypesetPart) and p.solid is None else p
        for p in template.parts
    )
    return grouped(replace(template, parts=made), chosen, SpacePart)


def stands_in(template: Template, part_id: str) -> SpacePart | None:
    """The space that a part stands in, if it does."""
    part = template.part(part_id)
    while part is not None and part.group is not None:
        part = template.part(part.group)
        if isinstance(part, SpacePart):
            return part
    return None


_DEPTH = 0.055
"""Of the frame's height: how deep words are at first."""


def taken_apart(template: Template, group_id: str, frozen: Mapping[str, tuple[float, float, float, float]]) -> Template:
    """The members without their group; what followed the group stays where it is. ``frozen`` as for removing a part."""
    group = need_part(template, group_id)
    if not isinstance(group, GroupPart):
        raise DocumentError(f"{group.name} is not a group.")
    parts = tuple(replace(p, group=group.group) if p.group == group_id else p for p in template.parts)
    return remove_part(replace(template, parts=parts), group_id, dict(frozen))


def moved_to(template: Template, part_id: str, group: str | None, over: str | None) -> Template:
    """A part, with its members if it is a group, put into ``group`` just in front of another part, or behind all with None."""
    part = need_part(template, part_id)
    taken = {part_id, *members_of(template.parts, part_id, deep=True)}
    if group in taken:
        raise DocumentError(f"{part.name} cannot be a member of itself.")
    moving = [replace(p, group=group) if p.id == part_id else p for p in template.parts if p.id in taken]
    rest = [p for p in template.parts if p.id not in taken]
    at = next((n for n, p in enumerate(rest) if p.id == over), -1) + 1
    return check(replace(template, parts=(*rest[:at], *moving, *rest[at:])))


def listed(template: Template) -> list[tuple[AnyPart, int]]:
    """The parts front to back, each group followed by its members, with how deep they lie in groups."""

    def within(group: str | None, depth: int) -> Iterable[tuple[AnyPart, int]]:
        for part in reversed(template.parts):
            if part.group == group:
                yield part, depth
                if isinstance(part, GroupPart):
                    yield from within(part.id, depth + 1)

    return list(within(None, 0))
