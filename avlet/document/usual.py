"""What is as it usually is: nobody has set it, wired it or keyed it."""

import functools
from typing import Any

import msgspec

from avlet.document.editing.keying import keyed_of
from avlet.document.metadata import get_at
from avlet.document.parts import AnyPart
from avlet.document.template import Template


def is_usual(template: Template, part_id: str, *paths: str) -> bool:
    """Whether properties of a part have their defaults, without wires and without keys."""
    part = template.part(part_id)
    if part is None:
        return False
    driven = any(template.wire_to(f"{part_id}/{path}") is not None or keyed_of(part, path) is not None for path in paths)
    return not driven and all(get_at(part, path) == _default(part, path) for path in paths)


def usual_value(part: AnyPart, path: str) -> Any:
    """What a property is in a new part; None where new parts say nothing of it, such as for moves, words and names."""
    try:
        value = _default(part, path)
    except (LookupError, AttributeError):
        return None
    return value if isinstance(value, int | float | bool | str) else None


def _default(part: msgspec.Struct, path: str) -> Any:
    owner, _, name = path.rpartition(".")
    holder: msgspec.Struct = get_at(part, owner) if owner else part
    if name in getattr(holder, "LIKE", ()):
        raise LookupError(path)
    return _defaults(type(holder))[name]


@functools.cache
def _defaults(kind: type[msgspec.Struct]) -> dict[str, Any]:
    return {field.name: field.default for field in msgspec.structs.fields(kind)}
