"""The order in which parts lie, and parts that are cut out of others."""

from collections.abc import Sequence

from avlet.document.editing.edits import need_part, put_part, replace
from avlet.document.editing.grouping import moved_to
from avlet.document.faults.checking import check
from avlet.document.parts import AnyPart, Matte
from avlet.document.template import Template
from avlet.errors import DocumentError


def to_front(template: Template, part_ids: Sequence[str]) -> Template:
    """Parts brought before all others of their groups; among each other they stay as they lie."""
    for part in [p for p in template.parts if p.id in part_ids]:
        siblings = [p.id for p in template.parts if p.group == part.group and p.id != part.id]
        if siblings:
            template = moved_to(template, part.id, part.group, siblings[-1])
    return template


def to_back(template: Template, part_ids: Sequence[str]) -> Template:
    """Parts put behind all others of their groups; among each other they stay as they lie."""
    for part in reversed([p for p in template.parts if p.id in part_ids]):
        template = moved_to(template, part.id, part.group, None)
    return template


def cut_out(template: Template, part_id: str, of: str) -> Template:
    """A part cut out of another: that one is hidden inside its outline, and of the part itself nothing is painted."""
    part, other = need_part(template, part_id), need_part(template, of)
    if part_id == of:
        raise DocumentError(f"{part.name} cannot be cut out of itself.")
    if any(matte.inside == part_id and matte.hides for matte in other.mattes):
        raise DocumentError(f"{part.name} is cut out of {other.name} already.")
    made = put_part(template, replace(other, mattes=(*other.mattes, Matte(part_id, hides=True))))
    return check(put_part(made, replace(part, opacity=0.0)))


def may_be_cut_out_of(template: Template, part_id: str) -> list[AnyPart]:
    """What a part may be cut out of: all that lie behind it, the nearest first, then what lies before; neither its groups nor lamps."""
    at = [p.id for p in template.parts].index(part_id)
    listed = [*reversed(template.parts[:at]), *template.parts[at + 1 :]]
    groups: set[str] = set()
    group = template.parts[at].group
    while group is not None and (holder := template.part(group)) is not None and group not in groups:
        groups.add(group)
        group = holder.group
    return [
        p
        for p in listed
        if p.id not in groups and not p.lights and p.copied != part_id and not any(m.inside == part_id and m.hides for m in p.mattes)
    ]
