"""Edits: functions from one template to the next. None of them changes what it is given.

An edit raises ``DocumentError`` in words when it cannot be done; relations that would run in a circle are refused
by :func:`avlet.layout.graph.order`, which every caller that changes relations asks as well.
"""

from collections.abc import Callable, Iterable, Mapping, Sequence
from typing import Any

import msgspec

from avlet.document.cards.wires import measure_of
from avlet.document.editing.naming import free_id
from avlet.document.editing.path_moves import with_paths_moved
from avlet.document.faults.checking import check
from avlet.document.house import PALETTE
from avlet.document.looks.colours import channels
from avlet.document.looks.paints import Paint, Solid, turned_into
from avlet.document.metadata import get_at, put_at
from avlet.document.parts import AnyPart, CounterPart, EchoPart, Fit, PaintedPart, Place, members_of
from avlet.document.targets import owner_name, type_of, with_value
from avlet.document.template import TEMPLATE, Template
from avlet.document.time.moves import Move, OwnWayOut, Tie
from avlet.errors import DocumentError

replace = msgspec.structs.replace


def need_part(template: Template, part_id: str) -> AnyPart:
    """The part with this id; raises ``DocumentError`` if there is none."""
    part = template.part(part_id)
    if part is None:
        raise DocumentError(f"There is no part “{part_id}” in {template.name}.")
    return part


def need_owner(template: Template, part_id: str) -> AnyPart | Template:
    """What a property's path begins with; raises ``DocumentError`` if it is nothing."""
    return template if part_id == TEMPLATE else need_part(template, part_id)


def put_part(template: Template, part: AnyPart) -> Template:
    """The template with ``part`` in the place of the one with the same id."""
    need_part(template, part.id)
    return replace(template, parts=tuple(part if p.id == part.id else p for p in template.parts))


def set_property(template: Template, target: str, value: object) -> Template:
    """Set one property by its path ``part/property``; the value is checked against its type and limits."""
    if not target.startswith(f"{PALETTE}/"):
        need_owner(template, target.partition("/")[0])
    try:
        kind = type_of(template, target)
    except LookupError:
        raise DocumentError(f"{owner_name(template, target)} has no property “{target.partition('/')[2]}”.") from None
    try:
        checked = kind.check(value)
    except ValueError as error:
        raise DocumentError(f"{kind.label} of {owner_name(template, target)} {error}.") from None
    changed = with_value(template, target, checked)
    return check(prune_wires(changed)) if kind.kind == "form" else changed


def set_relations(template: Template, part_id: str, **changes: Any) -> Template:
    """Replace whole relations or moves of a part: ``fit``, ``across``, ``down``, ``mattes``, ``way_in``, ``way_out``."""
    part = need_part(template, part_id)
    return check(prune_wires(with_paths_moved(template, part, replace(part, **changes))))


def put_struct(template: Template, part_id: str, path: str, value: object) -> Template:
    """Put a whole value (a paint, an outline, a form) at a dotted path below a part; wires that lead nowhere now are dropped."""
    part = need_part(template, part_id)
    return check(prune_wires(with_paths_moved(template, part, put_at(part, path, value))))


def changed_struct(template: Template, part_id: str, path: str, change: Callable[[Any], Any]) -> Template:
    """Change a whole value at a dotted path below a part from what it is now; the same value is no change."""
    part = need_part(template, part_id)
    try:
        present = get_at(part, path)
    except LookupError:
        raise DocumentError(f"{part.name} has no “{path}” any more.") from None
    return put_struct(template, part_id, path, change(present))


def turn_paint(template: Template, part_id: str, path: str, kind: type[Any]) -> Template:
    """Another kind of paint at a path below a part. It keeps its colours, and the first one what it is wired with."""
    one, first = f"{part_id}/{path}.colour", f"{part_id}/{path}.stops.0.colour"
    old, new = (first, one) if kind is Solid else (one, first)
    wires = tuple(
        replace(w, source=new if w.source == old else w.source, target=new if w.target == old else w.target) for w in template.wires
    )
    part = need_part(template, part_id)
    paint = turned_into(kind, get_at(part, path))
    turned = replace(template, parts=tuple(put_at(p, path, paint) if p.id == part_id else p for p in template.parts), wires=wires)
    return check(prune_wires(turned))


def is_none(paint: Paint) -> bool:
    """Whether a paint is one colour of which nothing shows."""
    return isinstance(paint, Solid) and channels(paint.colour).alpha == 0


def show_paint(template: Template, part_id: str, path: str, shown: bool) -> Template:
    """Let a paint be none, or be seen again in the colour that it had. Raises ``DocumentError`` where something drives its colour."""
    part = need_part(template, part_id)
    paint: Paint = get_at(part, path)
    if not shown:
        driven = next((wire for wire in template.wires if wire.target.startswith(f"{part_id}/{path}.")), None)
        if driven is not None or any(keyed.path.startswith(f"{path}.") for keyed in part.keys):
            why = "on the card or wired" if driven is not None else "keyed"
            raise DocumentError(f"{part.name}: its colour is {why}. Take that off first, then it may have none.")
    colour = paint.colour if isinstance(paint, Solid) else paint.stops[0].colour
    changed = put_at(part, path, Solid(f"{colour[:7]}{'' if shown else '00'}"))
    return check(prune_wires(put_part(template, changed)))


def add_part(template: Template, part: AnyPart, index: int | None = None) -> Template:
    """Add a part, in front of all others unless ``index`` says where."""
    at = len(template.parts) if index is None else index
    return check(replace(template, parts=(*template.parts[:at], part, *template.parts[at:])))


def rename_part(template: Template, part_id: str, name: str) -> Template:
    """Give a part another name; its id, which relations use, stays."""
    if not name.strip():
        raise DocumentError("A part needs a name.")
    return put_part(template, replace(need_part(template, part_id), name=name.strip()))


def duplicate_parts(template: Template, part_ids: Sequence[str]) -> tuple[Template, list[str]]:
    """Copies of parts, in front of the foremost of them. Relations among them become relations among the copies.

    Returns the template and the copies' ids, in the order of the parts.
    """
    wanted = {*part_ids, *(m for i in part_ids for m in members_of(template.parts, i, deep=True))}
    originals = [p for p in template.parts if p.id in wanted]
    taken = {p.id for p in template.parts}
    names: dict[str, str] = {}
    for part in originals:
        names[part.id] = free_id(part.id, taken)
        taken.add(names[part.id])
    at = max(template.parts.index(p) for p in originals) + 1
    copies = tuple(replace(led_by(p, names), id=names[p.id], name=f"{p.name} copy") for p in originals)
    made = replace(template, parts=(*template.parts[:at], *copies, *template.parts[at:]))
    return check(made), [names[i] for i in part_ids if i in names]


def led_by(part: AnyPart, names: Mapping[str, str]) -> AnyPart:
    """A part whose relations lead to the parts of other names."""
    fit = part.fitted
    if fit is not None:
        part = replace(part, fit=replace(fit, around=tuple(names.get(i, i) for i in fit.around)))
    for axis in ("across", "down"):
        place = getattr(part, axis)
        if place is not None and place.on in names:
            part = replace(part, **{axis: replace(place, on=names[place.on])})
    if isinstance(part, EchoPart):
        part = replace(part, of=names.get(part.of, part.of))
    mattes = tuple(replace(m, inside=names.get(m.inside, m.inside)) for m in part.mattes)
    part = _with_ties(part, lambda tie: replace(tie, on=names.get(tie.on, tie.on)))
    part = _standing(part, lambda on: names.get(on, on))
    runs = tuple(replace(r, counter=names.get(r.counter, r.counter)) for r in part.runs)
    return replace(part, mattes=mattes, runs=runs, group=names.get(part.group, part.group) if part.group else None)


def followers(template: Template, part_id: str) -> list[AnyPart]:
    """The parts that follow a part by fit, place or matte."""
    return [p for p in template.parts if part_id in p.follows()]


def remove_parts(template: Template, part_ids: Iterable[str], frozen: Mapping[str, tuple[float, float, float, float]]) -> Template:
    """Remove several parts, groups with their members; see :func:`remove_part`."""
    for part_id in part_ids:
        for one in [*members_of(template.parts, part_id, deep=True), part_id]:
            if template.part(one) is not None:
                template = remove_part(template, one, frozen)
    return template


def remove_part(template: Template, part_id: str, frozen: Mapping[str, tuple[float, float, float, float]]) -> Template:
    """Remove a part; those that follow it stay where they are, its echoes go with it.

    ``frozen`` gives the resting box (x, y, width, height in px) of each part by id.
    """
    need_part(template, part_id)
    for echo in [p.id for p in template.parts if p.copied == part_id]:
        if template.part(echo) is not None:
            template = remove_part(template, echo, frozen)
    made = replace(template, parts=tuple(p for p in template.parts if p.id != part_id))
    for part in made.parts:
        if (left := let_go(part, part_id, frozen[part.id])) is not part:
            made = with_paths_moved(made, part, left)
    return check(prune_wires(made))


def let_go(part: AnyPart, other: str, box: tuple[float, float, float, float]) -> AnyPart:
    """A part that follows another no more, in its resting box (x, y, width, height in px)."""
    x, y, width, height = box
    if part.group == other:
        part = replace(part, group=None)
    fit = part.fitted
    if fit is not None and other in fit.around:
        around = tuple(i for i in fit.around if i != other)
        if around:
            part = replace(part, fit=replace(fit, around=around))
        else:
            part = replace(part, fit=None, across=part.across or Place(gap=x), down=part.down or Place(gap=y), **part.sized(width, height))
    if part.across and part.across.on == other:
        part = replace(part, across=Place(gap=x))
    if part.down and part.down.on == other:
        part = replace(part, down=Place(gap=y))
    part = _with_ties(part, lambda tie: None if tie.on == other else tie)
    part = _standing(part, lambda on: "" if on == other else on)
    runs, mattes = tuple(r for r in part.runs if r.counter != other), tuple(m for m in part.mattes if m.inside != other)
    return replace(part, mattes=mattes, runs=runs)


def _with_ties(part: AnyPart, change: Callable[[Tie], Tie | None]) -> AnyPart:
    """A part whose ties, of moves and of a count, are changed, or let go where that gives None."""

    def changed(moves: tuple[Move, ...]) -> tuple[Move, ...]:
        return tuple(replace(m, tie=change(m.tie)) if m.tie is not None else m for m in moves)

    part = replace(part, way_in=changed(part.way_in))
    if isinstance(part, CounterPart) and part.count.tie is not None:
        part = replace(part, count=replace(part.count, tie=change(part.count.tie)))
    return replace(part, way_out=OwnWayOut(changed(part.way_out.moves))) if isinstance(part.way_out, OwnWayOut) else part


def _standing(part: AnyPart, led: Callable[[str], str]) -> AnyPart:
    """A part that stands on, and comes through, members of other names in a space; on the sheet where a name is empty."""

    def changed(moves: tuple[Move, ...]) -> tuple[Move, ...]:
        return tuple(replace(m, through=led(m.through)) if m.through else m for m in moves)

    if isinstance(part, PaintedPart) and part.stand is not None and part.stand.on:
        part = replace(part, stand=replace(part.stand, on=led(part.stand.on)))
    part = replace(part, way_in=changed(part.way_in))
    return replace(part, way_out=OwnWayOut(changed(part.way_out.moves))) if isinstance(part.way_out, OwnWayOut) else part


def prune_wires(template: Template) -> Template:
    """Drop wires whose property is gone, or whose source, if that was one or a measure of a part."""
    here = {part.id for part in template.parts}

    def has_source(source: str) -> bool:
        measured = measure_of(source)
        return measured[0] in here if measured else "/" not in source or _leads_somewhere(template, source)

    wires = tuple(w for w in template.wires if _leads_somewhere(template, w.target) and has_source(w.source))
    return replace(template, wires=wires)


def _leads_somewhere(template: Template, target: str) -> bool:
    try:
        return bool(type_of(template, target))
    except LookupError:
        return False


def fit_around(template: Template, part_id: str, others: tuple[str, ...]) -> Template:
    """Let a shape or rule follow other parts with the usual buffer of 50 px at the sides and 25 px above and below."""
    part = need_part(template, part_id)
    old = part.fitted
    fit = replace(old, around=others) if old else Fit(others)
    return set_relations(template, part_id, fit=fit, across=None, down=None)
