"""What one part lends to others: its look, its setting, its moves."""

from collections.abc import Callable, Iterable
from typing import Any

import msgspec

from avlet.document.editing.edits import prune_wires
from avlet.document.faults.checking import check
from avlet.document.parts import AnyPart
from avlet.document.template import Template
from avlet.document.time.moves import Move, OwnWayOut

replace = msgspec.structs.replace

LENT: dict[str, tuple[str, ...]] = {
    "Fill": ("fill",), "Outline": ("outline",), "Shadows": ("shadows",), "Glow": ("glow",),
    "Light that passes": ("glint",),
    "Opacity, blur, blend": ("opacity", "blur", "blend"), "Corners": ("corner", "corner_unit"), "Form": ("form",),
    "Turn and scale": ("turn", "scale_x", "scale_y", "anchor_x", "anchor_y"),
    "Setting of the words": (
        "family", "style", "size", "tracking", "leading", "paragraph", "baseline", "case", "small_capitals", "align", "text_style",
        "features", "equal_room", "slant", "weight",
    ),
    "Ends and dashes": ("caps", "dash", "dash_gap"),
    "Way in": ("way_in",), "Hold": ("sways",), "Way out": ("way_out",), "Keys": ("keys",),
}  # fmt: skip
"""What can be lent, by name: the properties that go together."""


def lendable(lender: AnyPart, taker: AnyPart) -> list[str]:
    """What a part has that another one has a place for."""
    return [name for name, own in LENT.items() if all(hasattr(lender, n) and hasattr(taker, n) for n in own)]


def differs(lender: AnyPart, taker: AnyPart, name: str) -> bool:
    """Whether something that can be lent would change the other part."""
    return any(getattr(lender, n, None) != getattr(taker, n, None) for n in LENT[name])


def lent(template: Template, lender: AnyPart, part_ids: Iterable[str], names: Iterable[str]) -> Template:
    """The template with some of what a part has on other parts as well, as far as they have a place for it.

    ``lender`` may come from another template. Starts tied to a part that is not here, or to the taker itself, are let go.
    """
    wanted, takers = set(names), set(part_ids)
    here = {p.id for p in template.parts}

    def taking(part: AnyPart) -> AnyPart:
        values = {n: getattr(lender, n) for name in lendable(lender, part) if name in wanted for n in LENT[name]}
        if values.get("text_style") and template.text_style(values["text_style"]) is None:
            values["text_style"] = ""
        untie = _untied(lambda on: on in here and on != part.id)
        if "way_in" in values:
            values["way_in"] = tuple(untie(m) for m in values["way_in"])
        if isinstance(values.get("way_out"), OwnWayOut):
            own = (_by_itself(m, lender.id, part.id) for m in values["way_out"].moves)
            values["way_out"] = replace(values["way_out"], moves=tuple(m if follows_itself(m, part.id) else untie(m) for m in own))
        made: AnyPart = replace(part, **_at_home(part, values))
        return made

    parts = tuple(taking(p) if p.id in takers and p.id != lender.id else p for p in template.parts)
    return check(prune_wires(replace(template, parts=parts)))


def _by_itself(move: Move, lender: str, taker: str) -> Move:
    """What leaves so long after it came does so on another part as well."""
    return replace(move, tie=replace(move.tie, on=taker)) if move.tie is not None and follows_itself(move, lender) else move


def follows_itself(move: Move, part_id: str) -> bool:
    """Whether a move of a part's way out follows its own way in."""
    return move.tie is not None and move.tie.on == part_id and move.tie.to == "its way in"


def _untied(keeps: Callable[[str], bool]) -> Callable[[Move], Move]:
    def untied(move: Move) -> Move:
        through = move.through if keeps(move.through) else ""
        return replace(move, tie=move.tie if move.tie is None or keeps(move.tie.on) else None, through=through)

    return untied


def _at_home(part: AnyPart, values: dict[str, Any]) -> dict[str, Any]:
    """Values as a kind of part can have them: only a part made of units moves by them."""
    if "way_in" in values and not part.in_units:
        values["way_in"] = tuple(replace(m, by="whole", tracking=0.0) for m in values["way_in"])
    return values
