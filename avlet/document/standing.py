"""Where members of a space stand: before the sheet, or on other members, as those are at rest."""

from collections.abc import Iterator, Mapping

from avlet.document.parts import AnyPart, LampPart
from avlet.document.time.moves import Move, OwnWayOut
from avlet.limits import MOST_LAMPS


def back_of(parts: Mapping[str, AnyPart], part: AnyPart) -> float:
    """px from the sheet to the back of a part, at rest; positive before it."""
    return own_before(part) + stood_on(parts, part)


def front_of(parts: Mapping[str, AnyPart], part: AnyPart) -> float:
    """px from the sheet to the front of a part, at rest."""
    return back_of(parts, part) + part.deep


def own_before(part: AnyPart) -> float:
    """px that a part stands before whatever it stands on."""
    if isinstance(part, LampPart):
        return part.before
    return part.own_stand.before if part.own_stand is not None else 0.0


def stood_on(parts: Mapping[str, AnyPart], part: AnyPart) -> float:
    """px from the sheet to what a part stands on; 0 for the sheet itself."""
    found, asked, at = 0.0, {part.id}, part
    while (stand := at.own_stand) is not None and stand.on in parts and stand.on not in asked:
        asked.add(stand.on)
        at = parts[stand.on]
        found += own_before(at) + (at.deep if stand.side == "front" else 0.0)
    return found


def moves_of(part: AnyPart) -> tuple[Move, ...]:
    """All moves of a part, in and out."""
    return (*part.way_in, *(part.way_out.moves if isinstance(part.way_out, OwnWayOut) else ()))


def standing_faults(at: str, part: AnyPart, parts: Mapping[str, AnyPart]) -> Iterator[str]:
    """Standing on what is not there, on oneself or round in a circle; coming through what is not there; too many lamps."""
    stand = part.own_stand
    if stand is not None and stand.on:
        if stand.on not in parts:
            yield f"{at}.stand.on: {part.name} stands on “{stand.on}”, which is not in the template."
        elif (ring := _circle(part, parts)) is not None:
            yield f"{at}.stand.on: {ring}. Let one of them stand on the sheet."
    for move in moves_of(part):
        if move.through and (move.through == part.id or move.through not in parts):
            what = "itself" if move.through == part.id else f"“{move.through}”, which is not in the template"
            yield f"{at}: a move of {part.name} comes through {what}."
    if part.has_depth:
        lamps = sum(one.lights and part in groups_round(parts, one) for one in parts.values())
        if lamps > MOST_LAMPS:
            yield f"{at}: {part.name} has {lamps} lamps; a space has at most {MOST_LAMPS}. Take some out of it."


def groups_round(parts: Mapping[str, AnyPart], part: AnyPart) -> Iterator[AnyPart]:
    """The groups that a part is in, the innermost first; none twice, even where they run in a circle."""
    asked: set[str] = set()
    while part.group is not None and part.group in parts and part.group not in asked:
        asked.add(part.group)
        part = parts[part.group]
        yield part


def _circle(part: AnyPart, parts: Mapping[str, AnyPart]) -> str | None:
    """A circle in words: *Word stands on Plate, Plate stands on Word*; None where there is none."""
    names, at = [part], part
    while (stand := at.own_stand) is not None and stand.on in parts:
        at = parts[stand.on]
        if at is part:
            said = [f"{one.name} stands on {other.name}" for one, other in zip(names, [*names[1:], part], strict=True)]
            return ", ".join(said)
        if at in names:
            return None  # a circle of others, which say so themselves
        names.append(at)
    return None
