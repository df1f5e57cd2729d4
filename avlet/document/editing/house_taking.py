"""A house travels: colours, gradients and text styles of another template, side by side with those here, taken by name."""

from collections.abc import Collection, Iterator
from typing import Any, Literal, NamedTuple

import msgspec

from avlet.document.editing.naming import free_id
from avlet.document.faults.checking import check
from avlet.document.house import HouseColour, HouseGradient, TextStyle
from avlet.document.targets import house_entries
from avlet.document.template import Template
from avlet.numbers.exact import in_figures

replace = msgspec.structs.replace
Kind = Literal["colour", "gradient", "text style"]
_FIELDS: dict[Kind, tuple[str, type[Any]]] = {
    "colour": ("palette", HouseColour), "gradient": ("gradients", HouseGradient), "text style": ("text_styles", TextStyle),
}  # fmt: skip


class Beside(NamedTuple):
    """One entry of another house beside the one of that name here, None where there is none."""

    kind: Kind
    theirs: Any
    mine: Any

    @property
    def key(self) -> str:
        """What names it: its kind and its name."""
        return f"{self.kind} {self.theirs.name}"

    @property
    def differs(self) -> bool:
        """Whether taking it changes anything."""
        return self.mine is None or _value(self.mine) != _value(self.theirs)

    @property
    def words(self) -> str:
        """What taking it does: *Deep water: #20435C → #1B5E20*, *Reed: #808040, new here*."""
        theirs = entry_words(self.theirs)
        if self.mine is None:
            return f"{self.theirs.name}: {theirs}, new here"
        return f"{self.theirs.name}: {entry_words(self.mine)} → {theirs}" if self.differs else f"{self.theirs.name}: {theirs}, the same"


def entry_words(entry: HouseColour | HouseGradient | TextStyle) -> str:
    """What a house entry is, in a few words."""
    if isinstance(entry, HouseColour):
        return entry.colour
    if isinstance(entry, HouseGradient):
        return ", ".join(stop.colour for stop in entry.stops)
    return f"{entry.family} {entry.style} {in_figures(entry.size)}"


def _value(entry: Any) -> dict[str, Any]:
    return {name: getattr(entry, name) for name in entry.__struct_fields__ if name not in ("id", "name")}


def side_by_side(template: Template, other: Template) -> Iterator[Beside]:
    """All entries of another template's house, each beside the one of its kind and name here. What is only here is not named: it stays."""
    for kind, (field, _) in _FIELDS.items():
        own = {entry.name.casefold(): entry for entry in getattr(template, field)}
        for entry in getattr(other, field):
            yield Beside(kind, entry, own.get(entry.name.casefold()))


def with_house_of(template: Template, other: Template, keys: Collection[str] | None = None) -> Template:
    """The template with the values of another's house, all or those with some keys: what has that name here changes, all else is added."""
    taken = {entry.id for entry in house_entries(template)} | {style.id for style in template.text_styles}
    for beside in side_by_side(template, other):
        if not beside.differs or (keys is not None and beside.key not in keys):
            continue
        field, _ = _FIELDS[beside.kind]
        entries = list(getattr(template, field))
        if beside.mine is None:
            new_id = free_id(beside.theirs.id, taken)
            taken.add(new_id)
            entries.append(replace(beside.theirs, id=new_id))
        else:
            entries[entries.index(beside.mine)] = replace(beside.mine, **_value(beside.theirs))
        template = replace(template, **{field: tuple(entries)})
    return check(template)
