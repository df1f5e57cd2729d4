"""What usually comes next, in one act: a second line under the first, a rule that draws before all else, a bar that fills with a count,
words cut out of a bar of their own."""

from collections.abc import Collection, Sequence

import msgspec

from avlet.document.cards import carding
from avlet.document.editing import edits
from avlet.document.editing.naming import free_id
from avlet.document.editing.ordering import cut_out
from avlet.document.faults.checking import check
from avlet.document.fields import TextField
from avlet.document.parts import TITLE_SAFE, AnyPart, CounterPart, Fit, GaugePart, Matte, Place, Room, RulePart, ShapePart, TextPart
from avlet.document.starts import ROLES
from avlet.document.template import Template
from avlet.document.time.eases import READY_EASES
from avlet.document.time.keys import RunsWith
from avlet.document.time.moves import READY_MOVES, Move, Tie

replace = msgspec.structs.replace
SECOND = 0.55
"""Size of a second line, as a share of the first."""
LATER = 5
"""Frames by which it arrives after the first."""
_GAP, _RULE = 10.0, 8.0
"""px at 1080 lines between a plate and what stands beside it, and how thick a rule there is."""
_TITLE_SHARE = 0.9


def plate_of(template: Template, part_id: str) -> ShapePart | None:
    """The shape that fits around a part and nothing else."""
    return next((p for p in template.parts if isinstance(p, ShapePart) and p.fit is not None and p.fit.around == (part_id,)), None)


def words_of_plate(template: Template, part_id: str) -> TextPart | None:
    """A text itself, or the one that a shape fits around."""
    part = template.part(part_id)
    if isinstance(part, ShapePart) and part.fit is not None and len(part.fit.around) == 1:
        part = template.part(part.fit.around[0])
    return part if isinstance(part, TextPart) else None


def second_line(template: Template, text_id: str, below: bool = True) -> tuple[Template, str]:
    """Another line under a text, or over it, in the same house: smaller, with a plate where that has one, arriving one step later.

    It is on the card, with samples filled in. Returns its id as well.
    """
    first = edits.need_part(template, text_id)
    assert isinstance(first, TextPart)
    plate, unit = plate_of(template, text_id), template.frame.height / 1080
    taken = {p.id for p in template.parts}
    name = "Role" if "role" not in taken else f"{first.name} line {sum(isinstance(p, TextPart) for p in template.parts) + 1}"
    new_id = free_id(name, taken)
    plate_id = free_id(f"{name} plate", taken | {new_id})
    nearest = 0.0 if plate is None or plate.fit is None else plate.fit.top if below else plate.fit.bottom
    gap = _GAP * unit + nearest * SECOND
    on = plate.id if plate is not None else text_id
    down = Place(on, "start", "end", gap) if below else Place(on, "end", "start", -gap)
    room = first.room and replace(first.room, height=first.room.height * SECOND)
    text = replace(
        first, id=new_id, name=name, text=ROLES["typical"], size=max(1.0, round(first.size * SECOND)), style="Medium",
        tracking=first.tracking, text_style="", accents=(), room=room, across=Place(text_id), down=down, keys=(), runs=(),
        way_in=tuple(_after(move, text_id) for move in first.way_in), mattes=(Matte(plate_id),) if plate is not None else first.mattes,
    )  # fmt: skip
    at = template.parts.index(first) + 1
    parts: list[AnyPart] = [*template.parts]
    parts.insert(at, text)
    if plate is not None and plate.fit is not None:
        fit = replace(plate.fit, around=(new_id,), **{s: getattr(plate.fit, s) * SECOND for s in ("top", "bottom")})
        parts.insert(at, _second_plate(plate, plate_id, f"{name} plate", fit))
    made, field_id = carding.put_on_card(check(replace(template, parts=tuple(parts))), f"{new_id}/text")
    field = made.card.field(field_id)
    assert isinstance(field, TextField)
    made = carding.put_field(made, replace(field, several_lines=True, hint="One or two lines"))
    for sample in made.samples:
        made = carding.set_sample_answer(made, sample.id, field_id, ROLES.get(sample.id, ROLES["typical"]))
    return made, new_id


def _second_plate(plate: ShapePart, new_id: str, name: str, fit: Fit) -> ShapePart:
    way_in = tuple(_after(move, plate.id) for move in plate.way_in)
    return replace(plate, id=new_id, name=name, fit=fit, corner=round(plate.corner * SECOND), way_in=way_in, keys=(), runs=())


def _after(move: Move, other: str) -> Move:
    """The same move, a step after the other part begins."""
    return replace(move, tie=Tie(other, "after its start", float(LATER)), start=0, counts_from="the beginning")


def edge_rule(template: Template, part_ids: Collection[str]) -> tuple[Template, str]:
    """A rule as tall as some parts, at the side that they are placed by; it draws first, and they come when it is there.

    The way in and the way out are then as long as the moves need.
    """
    chosen = [p for p in template.parts if p.id in part_ids and not p.lights]
    outer = [p for p in chosen if not any(m.inside in part_ids for m in p.mattes)] or chosen
    unit, lead = template.frame.height / 1080, outer[0]
    words = next((p for p in chosen if p.across is not None), None)
    right = words is not None and words.across is not None and words.across.mine == "end"
    rule_id = free_id("Rule", {p.id for p in template.parts})
    gap = _GAP * unit
    across = Place(lead.id, "start", "end", gap) if right else Place(lead.id, "end", "start", -gap)
    grow = replace(READY_MOVES["unfolds"], scale_x=100.0, scale_y=0.0, hinge_x=50.0, hinge_y=50.0, frames=10, ease=READY_EASES["soft both"])
    rule = RulePart(
        id=rule_id, name="Rule", direction="down", width=_RULE * unit, across=across, down=None, way_in=(grow,),
        fit=Fit(tuple(p.id for p in outer), left=0, right=0, top=0, bottom=0),
    )  # fmt: skip
    waiting = tuple(_when_there(p, rule_id, part_ids) if p in chosen else p for p in template.parts)
    at = min(template.parts.index(p) for p in chosen)
    return check(replace(template, parts=(*waiting[:at], rule, *waiting[at:]), fits_in=True, fits_out=True)), rule_id


def _when_there(part: AnyPart, rule_id: str, together: Collection[str]) -> AnyPart:
    """A part whose moves begin once the rule is there; those that follow one of the others follow that as before."""

    def waits(move: Move) -> Move:
        if move.tie is not None or move.counts_from == "the end":
            return move
        return replace(move, tie=Tie(rule_id, "after its end", float(move.start)), start=0)

    made: AnyPart = replace(part, way_in=tuple(map(waits, part.way_in)))
    return made


def filled_with(template: Template, counter_id: str, ring: bool = False) -> tuple[Template, str]:
    """A bar under a counter, or its plate, that fills as it counts; or a ring beside it that closes."""
    counter = edits.need_part(template, counter_id)
    assert isinstance(counter, CounterPart)
    plate, unit = plate_of(template, counter_id), template.frame.height / 1080
    on = plate.id if plate is not None else counter_id
    arrives = replace(READY_MOVES["fades"], frames=10, tie=Tie(on, "after its start", float(LATER)))
    taken = {p.id for p in template.parts}
    if ring:
        new_id = free_id(f"{counter.name} ring", taken)
        part: AnyPart = GaugePart(
            id=new_id, name=f"{counter.name} ring", diameter=round(counter.size * 1.1), thick=16 * unit, begins=0.0, sweep=360.0,
            across=Place(on, "end", "start", -24 * unit), down=Place(on, "middle", "middle"), runs=(RunsWith("share", counter_id),),
            way_in=(arrives,),
        )  # fmt: skip
    else:
        new_id = free_id(f"{counter.name} bar", taken)
        part = RulePart(
            id=new_id, name=f"{counter.name} bar", width=_RULE * unit, across=None, down=Place(on, "start", "end", _GAP * unit),
            fit=Fit((on,), left=0, right=0, top=0, bottom=0), anchor_x=0.0, runs=(RunsWith("scale_x", counter_id),), way_in=(arrives,),
        )  # fmt: skip
    return edits.add_part(template, part), new_id


def cut_out_bar(template: Template, text_ids: Sequence[str]) -> tuple[Template, str]:
    """A bar of their own that some words are cut out of: within title-safe, where words that are too long shrink on one line."""
    unit = template.frame.height / 1080
    texts = [edits.need_part(template, i) for i in text_ids]
    bar_id = free_id(f"{texts[0].name} bar", {p.id for p in template.parts})
    side, most = 50 * unit, template.frame.width * _TITLE_SHARE
    bar = ShapePart(
        id=bar_id, name=f"{texts[0].name} bar", corner=0, across=None, down=None,
        fit=Fit(tuple(text_ids), left=side, right=side, top=25 * unit, bottom=25 * unit, most_width=round(most)),
        way_in=(replace(READY_MOVES["unfolds"], frames=20),),
    )  # fmt: skip
    inset = _inset(texts[0], template)
    for text in texts:
        room = Room(width=float(round(most - side - inset)), lines=1, remedies=("shrink", "ellipsis"))
        template = edits.set_relations(template, text.id, room=getattr(text, "room", None) or room)
    at = min(template.parts.index(edits.need_part(template, i)) for i in text_ids)
    template = edits.add_part(template, bar, at)
    for text_id in text_ids:
        template = cut_out(template, text_id, bar_id)
    return template, bar_id


def _inset(text: AnyPart, template: Template) -> float:
    """px from title-safe at which a text begins, and so the room that it has less."""
    place = text.across
    side = 50 * template.frame.height / 1080
    return max(side, abs(place.gap)) if place is not None and place.on == TITLE_SAFE and place.mine != "middle" else side
