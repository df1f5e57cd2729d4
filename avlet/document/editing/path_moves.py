"""What leads into one of several alike, such as a wire to a move's length or a key of a shadow's blur, leads into the same one after
others have come, gone or changed places."""

from typing import Any

import msgspec

from avlet.document.parts import AnyPart
from avlet.document.template import Template

replace = msgspec.structs.replace


def moved_path(before: Any, after: Any, path: str) -> str | None:
    """Where the value at a dotted path below ``before`` stands below ``after``; None where the struct that it lies in is gone.

    One of several is known again by being the same object. Where none of them is, or it was changed in its place, it keeps its number.
    """
    key, _, rest = path.partition(".")
    if isinstance(before, tuple) and isinstance(after, tuple) and key.isdigit() and int(key) < len(before):
        number = _new_number(before, after, int(key))
        if number is None:
            return None
        below = moved_path(before[int(key)], after[number], rest) if rest else ""
        return None if below is None else f"{number}.{below}" if rest else str(number)
    if rest and isinstance(before, msgspec.Struct) and isinstance(after, msgspec.Struct):
        below = moved_path(getattr(before, key, None), getattr(after, key, None), rest)
        return None if below is None else f"{key}.{below}"
    return path


def _new_number(before: tuple[Any, ...], after: tuple[Any, ...], number: int) -> int | None:
    kept = {id(item) for item in after}
    wanted = before[number]
    if number < len(after) and after[number] is wanted:
        return number
    if id(wanted) in kept:
        return next(n for n, item in enumerate(after) if item is wanted)
    if len(before) == len(after) or not any(id(item) in kept for item in before):
        return number if number < len(after) else None
    return None


def with_paths_moved(template: Template, before: AnyPart, after: AnyPart) -> Template:
    """A template in which ``before`` has become ``after``: its wires, and the part's keys and runs, lead to where their properties are now.

    What led into a struct that is gone is gone as well.
    """

    def led(path: str) -> str | None:
        return moved_path(before, after, path)

    def end(words: str) -> str | None:
        owner, _, path = words.partition("/")
        if owner != after.id or not path:
            return words
        new = led(path)
        return None if new is None else f"{owner}/{new}"

    wires = tuple(
        replace(wire, source=source, target=target)
        for wire in template.wires
        if (source := end(wire.source)) is not None and (target := end(wire.target)) is not None
    )
    same = before.keys == after.keys, before.runs == after.runs
    keys = tuple(replace(k, path=new) for k in after.keys if (new := led(k.path)) is not None) if same[0] else after.keys
    runs = tuple(replace(r, path=new) for r in after.runs if (new := led(r.path)) is not None) if same[1] else after.runs
    part = replace(after, keys=keys, runs=runs) if (keys, runs) != (after.keys, after.runs) else after
    return replace(template, parts=tuple(part if p.id == after.id else p for p in template.parts), wires=wires)
