"""Edits of keys: adding, changing, moving and removing them."""

from collections.abc import Callable, Iterable

import msgspec

from avlet.document.editing.edits import need_part, put_part
from avlet.document.faults.checking import check
from avlet.document.metadata import KEYED_KINDS, get_at, type_at
from avlet.document.parts import AnyPart
from avlet.document.template import Template
from avlet.document.time.keys import How, Key, Keyed, Tied
from avlet.errors import DocumentError

replace = msgspec.structs.replace


def keyed_of(part: AnyPart, path: str) -> Keyed | None:
    """The keys of one property of a part."""
    return next((keyed for keyed in part.keys if keyed.path == path), None)


def may_be_keyed(part: AnyPart, path: str) -> bool:
    """Whether a property may change over time."""
    try:
        kind = type_at(part, path)
    except LookupError:
        return False
    return kind.keyed and kind.kind in KEYED_KINDS


def anchored(frame: float, length: int, way_in: int, way_out: int) -> tuple[Tied, float]:
    """How a key at a frame is tied: to the start within the way in, to the end within the way out, else to a share of the hold."""
    last = length - 1
    if frame <= way_in:
        return "start", float(max(0.0, frame))
    if frame >= last - way_out:
        return "end", float(max(0.0, last - frame))
    return "hold", round((frame - way_in) / max(1, last - way_in - way_out) * 100, 4)


def set_key(template: Template, part_id: str, path: str, frame: float, value: float | str | None = None) -> Template:
    """A key of a property at a frame, with a value or else the property's own; one that stands there already takes the value."""
    part = need_part(template, part_id)
    if not may_be_keyed(part, path):
        raise DocumentError(f"“{path}” of {part.name} cannot change over time.")
    kind, own = type_at(part, path), get_at(part, path)
    if value is None:
        value = own
    try:
        value = kind.check(value)  # type: ignore[assignment]
    except ValueError as error:
        raise DocumentError(f"{kind.label} of {part.name} {error}.") from None
    tied, at = anchored(frame, template.length, template.way_in, template.way_out)
    keyed = keyed_of(part, path) or Keyed(path, (Key(at, value, tied),))
    there = next((n for n, k in enumerate(keyed.keys) if k.tied == tied and abs(k.at - at) < 0.01), None)
    if there is None:
        keys = (*keyed.keys, Key(at, value, tied))
    else:
        keys = tuple(replace(k, value=value) if n == there else k for n, k in enumerate(keyed.keys))
    return put_keyed(template, part_id, replace(keyed, keys=keys))


def put_keyed(template: Template, part_id: str, keyed: Keyed) -> Template:
    """The template with these keys in the place of those of the same property."""
    part = need_part(template, part_id)
    others = tuple(keyed if k.path == keyed.path else k for k in part.keys)
    return check(put_part(template, replace(part, keys=others if keyed_of(part, keyed.path) else (*part.keys, keyed))))


def combined(template: Template, part_id: str, path: str, how: How) -> Template:
    """Keys that stand instead of their property's own value, are added to it, or multiply it."""
    keyed = keyed_of(need_part(template, part_id), path)
    return template if keyed is None else put_keyed(template, part_id, replace(keyed, how=how))


def without_keys(template: Template, part_id: str, path: str) -> Template:
    """A property that does not change over time any more."""
    part = need_part(template, part_id)
    return put_part(template, replace(part, keys=tuple(k for k in part.keys if k.path != path)))


def changed_keys(template: Template, part_id: str, path: str, numbers: Iterable[int], change: Callable[[Key], Key | None]) -> Template:
    """Some keys of a property changed, or removed where ``change`` gives None; without any left the property is not keyed."""
    part, wanted = need_part(template, part_id), set(numbers)
    keyed = keyed_of(part, path)
    if keyed is None:
        return template
    made = [change(key) if n in wanted else key for n, key in enumerate(keyed.keys)]
    keys = tuple(key for key in made if key is not None)
    return put_keyed(template, part_id, replace(keyed, keys=keys)) if keys else without_keys(template, part_id, path)


def aligned_keys(template: Template, chosen: Iterable[tuple[str, str, int]], frame: float) -> Template:
    """Keys of several properties brought to one frame."""
    tied, at = anchored(frame, template.length, template.way_in, template.way_out)
    for part_id, path, number in chosen:
        template = changed_keys(template, part_id, path, [number], lambda key: replace(key, tied=tied, at=at))
    return template


def stretched_keys(template: Template, part_id: str, path: str, numbers: Iterable[int], percent: float) -> Template:
    """Keys further apart or nearer: each as far from its own anchor as ``percent`` says; shares of the hold stay."""

    def change(key: Key) -> Key:
        return key if key.tied == "hold" else replace(key, at=round(key.at * percent / 100, 3))

    return changed_keys(template, part_id, path, numbers, change)


def copied_keys(template: Template, chosen: Iterable[tuple[str, str, int]]) -> bytes:
    """Keys as bytes for a clipboard, by the property that they are of."""
    found: dict[str, list[Key]] = {}
    for part_id, path, number in chosen:
        keyed = keyed_of(need_part(template, part_id), path)
        if keyed is not None:
            found.setdefault(path, []).append(keyed.keys[number])
    return msgspec.json.encode(found)


def pasted_keys(template: Template, part_id: str, data: bytes) -> Template:
    """Keys from a clipboard put on the same properties of a part; where one stands already it takes the value."""
    try:
        found = msgspec.json.decode(data, type=dict[str, list[Key]])
    except msgspec.DecodeError as error:
        raise DocumentError(f"What was copied are no keys ({error}).") from None
    part = need_part(template, part_id)
    for path, keys in found.items():
        if not may_be_keyed(part, path):
            raise DocumentError(f"{part.name} has nothing that “{path}” could be keyed on.")
        present = keyed_of(need_part(template, part_id), path)
        kept = [] if present is None else [k for k in present.keys if not any(n.tied == k.tied and n.at == k.at for n in keys)]
        how = present.how if present is not None else "instead"
        template = put_keyed(template, part_id, Keyed(path, (*kept, *keys), how))
    return template


def reversed_keys(template: Template, part_id: str, path: str) -> Template:
    """The keys of a property in the opposite order of time: their times stay, their values change places."""
    part = need_part(template, part_id)
    keyed = keyed_of(part, path)
    if keyed is None:
        return template
    mirrored: dict[Tied, Tied] = {"start": "end", "end": "start", "hold": "hold"}

    def back(slope: float | None) -> float | None:
        return None if slope is None else -slope

    keys = tuple(
        replace(
            k, tied=mirrored[k.tied], at=100 - k.at if k.tied == "hold" else k.at, slope_in=back(k.slope_out), slope_out=back(k.slope_in)
        )
        for k in reversed(keyed.keys)
    )
    return put_keyed(template, part_id, replace(keyed, keys=keys))
