"""What a click or a band on the stage means: parts under a point, groups before their members, what moves along."""

from collections.abc import Sequence

from avlet.document.editing.alignment import leader
from avlet.document.template import Template
from avlet.geometry import Box
from avlet.motion.posed import Pose


def parts_under(pose: Pose, x: float, y: float, slack: float) -> list[str]:
    """The parts that show at a point of the frame, front to back, groups and locked ones aside; at rest words count by their line box."""
    found = []
    for part_id, posed in reversed(list(pose.parts.items())):
        box = pose.visible_box(part_id)
        if box is None or posed.rest.part.locked or posed.rest.part.holds:
            continue
        if posed.still and posed.rest.body.setting is not None:
            box = Box.union((box, posed.rest.box))
        if box is not None and box.grown(slack, slack, slack, slack).holds_point(x, y):
            found.append(part_id)
    return found


def parts_within(pose: Pose, area: Box) -> list[str]:
    """The parts that show wholly within an area; a group stands for its members."""
    seen = [(i, pose.visible_box(i)) for i, posed in pose.parts.items() if not posed.rest.part.locked]
    inside = [i for i, box in seen if box is not None and area.contains(box)]
    return [i for i in inside if pose.parts[i].rest.part.group not in inside]


def picked(template: Template, selection: Sequence[str], found: str | None) -> str | None:
    """What a click on a part selects: it, or its outermost group unless something of that group is selected already.

    The last of ``selection`` is the foremost of what is selected.
    """
    chain = [found] if found else []
    while chain and (part := template.part(chain[-1])) is not None and part.group is not None:
        chain.append(part.group)
    chosen = next((n for n, i in enumerate(chain) if i in selection), None)
    if chosen is not None:
        return chain[chosen]
    selected = template.part(selection[-1]) if selection else None
    if selected is not None and selected.group in chain:
        return chain[chain.index(selected.group) - 1]
    return chain[-1] if chain else None


def deeper(template: Template, selection: Sequence[str], found: str | None) -> str | None:
    """What a second click selects: within the selected group what lies there, else what a click selects anyway."""
    at, selected = found, selection[-1] if selection else None
    while at is not None:
        part = template.part(at)
        group = part.group if part else None
        if group is not None and group == selected:
            return at
        at = group
    return picked(template, selection, found)


def moves_with(template: Template, part_id: str, moving: str) -> bool:
    """Whether a part moves along when ``moving`` is dragged, so that it is nothing to catch on."""
    seen: set[str] = set()
    todo = [moving, *(a for axis in ("across", "down") if (a := leader(template, moving, axis)))]
    while todo:
        current = todo.pop()
        if current in seen:
            continue
        seen.add(current)
        todo += [p.id for p in template.parts if {"fit", "place"} & p.follows().get(current, set())]
    return part_id in seen
