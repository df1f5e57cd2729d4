"""What is known about a property, written once in its annotation.

The recipe panel, the card, wires, the command line and the JSON Schema all read it here.
"""

import functools
import itertools
import math
import typing
from collections.abc import Iterator
from dataclasses import dataclass, replace
from typing import Any, ClassVar, Literal, TypeVar, get_args, get_origin

import msgspec

from avlet.limits import MOST_PX
from avlet.numbers.exact import exact, in_figures, plain

ValueKind = Literal["number", "whole", "text", "colour", "switch", "choice", "font", "gradient", "picture", "form", "decimal", "list"]
"""What sort of value a property takes. ``whole`` is a number without fractions; a ``font`` is a family, which brings a style; a
``decimal`` is an exact number, kept as text; a ``list`` is that of credits."""

_KINDS: dict[type, ValueKind] = {bool: "switch", float: "number", int: "whole", str: "text"}
_NUMBERS = ("number", "whole", "length", "decimal")
KEYED_KINDS = ("number", "whole", "colour")
"""Kinds of value that can change over time, where a property may at all."""
COLOUR_PATTERN = r"^#[0-9A-Fa-f]{6}([0-9A-Fa-f]{2})?$"
T = TypeVar("T")


class Value(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """Base of all values of a document: frozen, and strict about what it is read from.

    ``LIKE`` names those of its values that are of the type of another property of the part, the one at its ``path``; each with words
    that go behind that one's name.
    """

    LIKE: ClassVar[dict[str, str]] = {}


Changes = Literal["setting", "layout", "look", "time"]
"""What a property changes first: how words are set, sizes and places, what is painted, or when. What comes earlier here changes
all that comes later."""
_BY_GROUP: dict[str, Changes] = {
    "words": "setting", "room": "setting", "axes": "setting", "place": "layout", "size": "layout", "pattern": "layout",
    "move": "time", "displaced": "time", "time": "time", "echo": "time", "list": "setting", "columns": "setting", "movement": "time",
}  # fmt: skip
Along = Literal["across", "down", ""]
Role = Literal["gap", "size", ""]
LENGTHS = ("px", "px/s", "px a frame")
"""Units that grow with the frame."""


def prop(
    label: str,
    *,
    unit: str = "",
    low: float | None = None,
    high: float | None = None,
    step: float = 1,
    group: str = "look",
    keyed: bool = True,
    colour: bool = False,
    kind: ValueKind | None = None,
    changes: Changes | None = None,
    unit_in: str = "",
    role: Role = "",
    along: Along = "",
) -> msgspec.Meta:
    """Metadata of one property.

    ``unit`` is shown behind the value (``px``, ``%``, ``frames``), and px have limits of their own; where ``unit_in`` names a property
    beside it, that one says whether it is px. ``low`` and ``high`` are inclusive; ``step`` is what one notch of the wheel changes;
    ``group`` is where the recipe shows it; ``keyed`` says whether the value may change over time; ``kind`` names a kind that the type
    itself does not tell. ``changes`` is what it changes, by its group unless it is named; ``role`` and ``along`` tell gaps and sizes,
    and the axis that they lie along.
    """
    extra = {
        "unit": unit, "step": step, "group": group, "keyed": keyed, "kind": "colour" if colour else kind,
        "changes": changes or _BY_GROUP.get(group, "look"), "unit_in": unit_in, "role": role, "along": along,
    }  # fmt: skip
    if unit == "px":
        low, high = -MOST_PX if low is None else low, MOST_PX if high is None else high
    schema = {"x-unit": unit} if unit else None
    limits: dict[str, Any] = {"pattern": COLOUR_PATTERN} if colour else {"ge": low, "le": high}
    return msgspec.Meta(title=label, extra=extra, extra_json_schema=schema, **limits)


def piece(words: str, changes: Changes = "look") -> msgspec.Meta:
    """Metadata of a struct, or of several, that properties lie in: how it is called in their names, and what it changes itself."""
    return msgspec.Meta(extra={"piece": words, "changes": changes})


def brief(value: object) -> str:
    """A value for a message, cut where it would fill the screen."""
    if isinstance(value, list | tuple | dict) and len(value) > 30:
        value = list(itertools.islice(value, 30))
    words = (
        f"a number of about {value.bit_length() * 30103 // 100_000} digits"
        if isinstance(value, int) and value.bit_length() > 1000
        else str(value)
    )
    return words if len(words) <= 60 else f"{words[:57]}…"


def is_number(value: object) -> bool:
    """A finite number, no larger than a float can be; yes and no are none."""
    try:
        return not isinstance(value, bool) and isinstance(value, int | float) and math.isfinite(value)
    except OverflowError:
        return False


@dataclass(frozen=True)
class PropertyType:
    """The metadata of one property, apart from any value.

    ``annotation`` is the full annotated type, to check a value against with ``msgspec.convert``.
    """

    name: str
    label: str
    kind: ValueKind
    unit: str
    low: float | None
    high: float | None
    step: float
    group: str
    keyed: bool
    choices: tuple[str, ...]
    annotation: Any
    changes: Changes = "look"
    unit_in: str = ""
    role: Role = ""
    along: Along = ""

    def is_length(self, owner: object) -> bool:
        """Whether its value grows with the frame; ``owner`` is the struct that it is a property of."""
        return self.kind == "number" and (self.unit in LENGTHS or (bool(self.unit_in) and getattr(owner, self.unit_in) == "px"))

    @property
    def is_time(self) -> bool:
        """Whether its value is a number of frames."""
        return self.unit == "frames"

    def accepts(self, kind: str) -> bool:
        """Whether a value of kind ``kind`` (a field's or a property's) can be wired straight into this property."""
        return kind == self.kind or (kind in _NUMBERS and self.kind in _NUMBERS)

    def check(self, value: object) -> object:
        """``value`` as this property stores it; raises ``ValueError`` in words when it does not fit."""
        if self.kind in _NUMBERS:
            return self._check_number(value)
        if self.kind == "list" and isinstance(value, tuple) and all(isinstance(item, Value) for item in value):
            return value  # the document looks at its blocks itself, at each only once
        try:
            return msgspec.convert(msgspec.to_builtins(value) if self.kind in ("form", "list") else value, self.annotation)
        except msgspec.ValidationError:
            raise ValueError(f"takes {self._wanted()}, not “{brief(value)}”") from None

    def _check_number(self, value: object) -> object:
        if self.kind == "decimal":
            if isinstance(value, bool):
                raise ValueError(f"takes a number, not “{brief(value)}”")
            return plain(exact(value))
        if not is_number(value):
            raise ValueError(f"takes a number, not “{brief(value)}”")
        assert isinstance(value, int | float)
        if self.low is not None and value < self.low:
            raise ValueError(f"must be at least {in_figures(self.low)} {self.unit}".rstrip())
        if self.high is not None and value > self.high:
            raise ValueError(f"must be at most {in_figures(self.high)} {self.unit}".rstrip())
        return round(value) if self.kind == "whole" else float(value)

    def _wanted(self) -> str:
        if self.kind == "choice":
            return "one of " + ", ".join(self.choices)
        return {
            "colour": "a colour such as #20435C", "switch": "yes or no", "gradient": "a gradient of at least two stops",
            "picture": "a picture", "font": "a font", "form": "a form", "list": "a list of blocks",
        }.get(self.kind, "words")  # fmt: skip


@dataclass(frozen=True)
class Property:
    """One property of one part: its ``path`` below the part (``corner``, ``fit.left``, ``way_in.0.frames``).

    ``length`` says whether its value grows with the frame.
    """

    path: str
    type: PropertyType
    value: Any
    length: bool = False


def _kind_of(base: Any, extra: dict[str, Any]) -> tuple[ValueKind, tuple[str, ...]]:
    if extra["kind"]:
        return extra["kind"], ()
    if get_origin(base) is Literal:
        return "choice", tuple(str(a) for a in get_args(base))
    return _KINDS[base], ()


@functools.cache
def property_types(struct: type[msgspec.Struct]) -> dict[str, PropertyType]:
    """The properties that a struct defines itself, by attribute name, in the order of definition."""
    found: dict[str, PropertyType] = {}
    for name, hint in typing.get_type_hints(struct, include_extras=True).items():
        marked = (m for m in getattr(hint, "__metadata__", ()) if isinstance(m, msgspec.Meta) and m.extra)
        meta = next((m for m in marked if m.extra and "piece" not in m.extra), None)
        if meta is None or meta.extra is None:
            continue
        extra = dict(meta.extra)
        kind, choices = _kind_of(get_args(hint)[0], extra)
        found[name] = PropertyType(
            name, meta.title or name, kind, extra["unit"], meta.ge, meta.le, extra["step"], extra["group"], extra["keyed"],
            choices, hint, extra["changes"], extra["unit_in"], extra["role"], extra["along"],
        )  # fmt: skip
    return found


@functools.cache
def pieces(struct: type[msgspec.Struct]) -> dict[str, dict[str, Any]]:
    """What is known of the structs within a struct, by attribute name: their ``piece`` in names, and what they change."""
    found = {}
    for name, hint in typing.get_type_hints(struct, include_extras=True).items():
        for meta in getattr(hint, "__metadata__", ()):
            if isinstance(meta, msgspec.Meta) and meta.extra and "piece" in meta.extra:
                found[name] = dict(meta.extra)
    return found


@functools.cache
def _names_changing(struct: type[msgspec.Struct], what: Changes) -> tuple[str, ...]:
    """The attributes of a struct that change ``what``, or that hold structs which do."""
    own = {**{n: t.changes for n, t in property_types(struct).items()}, **{n: p["changes"] for n, p in pieces(struct).items()}}
    return tuple(name for name in struct.__struct_fields__ if own.get(name) == what)


def facts_of(value: Any, what: Changes) -> tuple[Any, ...]:
    """All values below a struct that change ``what``: equal for two structs that do not differ in that."""
    values = [getattr(value, name) for name in _names_changing(value.__class__, what)]
    return tuple([one if one.__class__ in _PLAIN else _facts_in(one, what) for one in values])


_PLAIN = frozenset((str, float, int, bool, type(None)))
"""What holds no structs."""


def _facts_in(value: Any, what: Changes) -> Any:
    if isinstance(value, msgspec.Struct):
        return type(value), facts_of(value, what)
    return tuple(_facts_in(item, what) for item in value) if isinstance(value, tuple) else value


def properties(value: msgspec.Struct, prefix: str = "", root: msgspec.Struct | None = None) -> Iterator[Property]:
    """Every property below ``value``, nested structs and tuples of structs included; the blocks of a list are none.

    ``root`` is what paths begin at, where that is not ``value`` itself.
    """
    root = value if root is None else root
    known = property_types(type(value))
    for name in value.__struct_fields__:
        child = getattr(value, name)
        if name in getattr(value, "LIKE", ()) and (kind := _type_like(root, value, name)) is not None:
            yield Property(prefix + name, kind, child, kind.is_length(_owner_of(root, value, name)))
        if name in known:
            yield Property(prefix + name, known[name], child, known[name].is_length(value))
            if known[name].kind == "list":
                continue
        if isinstance(child, msgspec.Struct):
            yield from properties(child, f"{prefix}{name}.", root)
        elif isinstance(child, tuple):
            for index, item in enumerate(child):
                if isinstance(item, msgspec.Struct):
                    yield from properties(item, f"{prefix}{name}.{index}.", root)


def get_at(value: Any, path: str) -> Any:
    """What stands at a dotted path below ``value``; raises ``LookupError`` when nothing does."""
    for key in path.split("."):
        value = _child(value, key)
    return value


def type_at(value: Any, path: str) -> PropertyType:
    """The metadata of the property at a dotted path; raises ``LookupError`` when there is none."""
    parents, _, last = path.rpartition(".")
    owner = get_at(value, parents) if parents else value
    if isinstance(owner, msgspec.Struct):
        if last in property_types(type(owner)):
            return property_types(type(owner))[last]
        kind = _type_like(value, owner, last)
        if kind is not None:
            return kind
    raise LookupError(path)


def owner_at(value: Any, path: str) -> Any:
    """The struct that the property at a dotted path is a property of; of what is like another property, the other's."""
    parents, _, last = path.rpartition(".")
    return _owner_of(value, get_at(value, parents) if parents else value, last)


def _owner_of(root: Any, owner: Any, name: str) -> Any:
    if name not in getattr(owner, "LIKE", ()):
        return owner
    parents = owner.path.rpartition(".")[0]
    return get_at(root, parents) if parents else root


def _type_like(root: Any, owner: Any, name: str) -> PropertyType | None:
    """The type of a value that is of the type of the property at its owner's ``path``; None where there is no such property."""
    words = getattr(owner, "LIKE", {}).get(name)
    if words is None:
        return None
    try:
        other = _owner_of(root, owner, name)
    except LookupError:
        return None
    kind = property_types(type(other)).get(owner.path.rpartition(".")[2]) if isinstance(other, msgspec.Struct) else None
    return None if kind is None else replace(kind, name=name, label=f"{kind.label} {words}", keyed=False, group="runs", changes="time")


def is_length_at(value: Any, path: str) -> bool:
    """Whether the property at a dotted path grows with the frame."""
    return type_at(value, path).is_length(owner_at(value, path))


def put_at(value: T, path: str, new: object) -> T:
    """A copy of ``value`` with ``new`` at a dotted path; nothing is checked here."""
    key, _, rest = path.partition(".")
    child = put_at(_child(value, key), rest, new) if rest else new
    if isinstance(value, tuple):
        index = int(key)
        return typing.cast(T, (*value[:index], child, *value[index + 1 :]))
    _child(value, key)
    return typing.cast(T, msgspec.structs.replace(typing.cast(msgspec.Struct, value), **{key: child}))


def _child(value: Any, key: str) -> Any:
    if isinstance(value, tuple):
        if key.isdigit() and int(key) < len(value):
            return value[int(key)]
    elif isinstance(value, msgspec.Struct) and key in value.__struct_fields__:
        return getattr(value, key)
    raise LookupError(key)
