"""New shapes, rules, gauges, patterns, pictures and echoes: each relates to what is selected."""

from pathlib import PurePath

from avlet.document.editing import edits
from avlet.document.editing.naming import free_id
from avlet.document.looks.forms import SlantedBar
from avlet.document.looks.pictures import read_picture
from avlet.document.parts import (
    EDGE_SHARES,
    AnyPart,
    CounterPart,
    EchoPart,
    Fit,
    GaugePart,
    Matte,
    PatternPart,
    PictureFile,
    PicturePart,
    Place,
    RulePart,
    ShapePart,
    TextPart,
)
from avlet.document.template import Template
from avlet.document.time.keys import RunsWith
from avlet.document.time.moves import READY_MOVES
from avlet.errors import AnswerError
from avlet.layout.adding.selected import PADDING, New, Selected, ids_in
from avlet.layout.adding.words import ARRIVES

replace = edits.replace


def new_shape(on: Selected) -> New:
    """A shape round all that is selected, behind it, and the selected words then rise out of it, unless somebody gave them another way in.

    It unfolds from the edge that the words are placed by. With nothing selected a free one in the middle, behind all words.
    """
    template = on.template
    around = [part for part in template.parts if part.id in on.selection]
    name = "Shape" if not around else f"{around[0].name} plate" if len(around) == 1 else "Plate"
    part_id = free_id(name, ids_in(template))
    if not around:
        part = ShapePart(id=part_id, name=name, across=Place("frame", "middle", "middle"), down=Place("frame", "middle", "middle"))
    else:
        unit = template.frame.height / 1080
        place = around[0].across
        unfold = replace(READY_MOVES["unfolds"], frames=20, hinge_x=100.0 * EDGE_SHARES[place.mine] if place is not None else 0.0)
        part = ShapePart(
            id=part_id, name=name, corner=round(30 * unit), across=None, down=None, way_in=(unfold,),
            fit=Fit(tuple(p.id for p in around), left=50 * unit, right=50 * unit, top=PADDING * unit, bottom=PADDING * unit),
        )  # fmt: skip

    def change(t: Template) -> Template:
        behind = {p.id for p in around} or {p.id for p in t.parts if isinstance(p, TextPart)}
        at = next((n for n, p in enumerate(t.parts) if p.id in behind), None)
        groups = {p.group for p in around}
        t = edits.add_part(t, replace(part, group=groups.pop() if len(groups) == 1 else None), at)
        for words in around:
            if isinstance(words, TextPart) and not words.mattes:
                rise = replace(READY_MOVES["rises"], frames=20, start=5, overlap=60)
                own = words.way_in not in ((), ARRIVES)  # somebody's own: it is kept
                t = edits.set_relations(t, words.id, mattes=(Matte(part.id),), way_in=words.way_in if own else (rise,))
        return t

    return New(part.id, f"Add {name}", change)


def new_picture(on: Selected, picture: PictureFile) -> New:
    """A picture, beside what is selected or in the middle, no larger than a third of the frame; raises ``AnswerError``."""
    template, beside = on.template, on.part
    facts = read_picture(picture)
    if facts.fault:
        raise AnswerError(facts.fault)
    scale = min(1.0, template.frame.height / 3 / facts.height, template.frame.width / 3 / facts.width)
    name = PurePath(picture.name).stem[:60] or "Picture"
    middle = Place("frame", "middle", "middle")
    width, height = round(facts.width * scale), round(facts.height * scale)
    across, down = (Place(beside.id, "start", "end", 20), Place(beside.id, "middle", "middle")) if beside else (middle, middle)
    part = PicturePart(
        id=free_id(name, ids_in(template)), name=name, picture=picture, width=width, height=height, across=across, down=down,
        way_in=(replace(READY_MOVES["fades"], frames=12),),
    )  # fmt: skip
    return New(part.id, f"Add {name}", lambda t: edits.add_part(t, part))


def new_rule(on: Selected) -> New:
    """A rule under all that is selected, as long as it; or a free one in the middle."""
    template, above = on.template, on.part
    chosen = [p.id for p in template.parts if p.id in on.selection]
    rest = on.rest
    name = f"{above.name} rule" if above else "Rule"
    part_id = free_id(name, ids_in(template))
    grow = (replace(READY_MOVES["unfolds"], frames=10),)
    part: AnyPart
    if above is None:
        middle = Place("frame", "middle", "middle")
        part = RulePart(id=part_id, name=name, across=middle, down=middle, way_in=grow)
    else:
        gap = round(template.frame.height * 0.011)
        part = RulePart(
            id=part_id, name=name, fit=Fit(tuple(chosen), left=0, right=0, top=0, bottom=0), across=None,
            down=Place(max(chosen, key=lambda i: rest.parts[i].box.bottom), "start", "end", gap), way_in=grow,
        )  # fmt: skip
    return New(part.id, f"Add {name}", lambda t: edits.add_part(t, part))


def new_gauge(on: Selected) -> New:
    """A gauge round all that is selected, which fills with the counter among that; or a free one in the middle."""
    template, unit = on.template, on.template.frame.height / 1080
    around = [part for part in template.parts if part.id in on.selection]
    counter = next((part for part in around if isinstance(part, CounterPart)), None)
    name, thick, middle = f"{around[0].name} gauge" if around else "Gauge", round(34 * unit), Place("frame", "middle", "middle")
    padding = round(PADDING * unit) + thick
    groups = {p.group for p in around}
    part = GaugePart(
        id=free_id(name, ids_in(template)), name=name, thick=thick, diameter=round(420 * unit), across=middle, down=middle,
        runs=(RunsWith("share", counter.id),) if counter is not None else (), way_in=(replace(READY_MOVES["fades"], frames=12),),
        group=groups.pop() if len(groups) == 1 else None,
    )  # fmt: skip
    if around:
        fit = Fit(tuple(one.id for one in around), "capitals", padding, padding, padding, padding)
        part = replace(part, fit=fit, across=None, down=None)
    at = min((n for n, one in enumerate(template.parts) if one in around), default=None)
    return New(part.id, f"Add {name}", lambda t: edits.add_part(t, part, at))


def new_pattern(on: Selected) -> New:
    """Stripes that fill what is selected, in front of it and inside its outline; or a free row in the middle."""
    template, inside = on.template, on.part
    name = f"{inside.name} stripes" if inside else "Stripes"
    part_id, unit = free_id(name, ids_in(template)), template.frame.height / 1080
    middle = Place("frame", "middle", "middle")
    given = {"width": round(24 * unit), "height": round(120 * unit), "step_x": round(48 * unit), "form": SlantedBar(round(40 * unit))}
    if inside is None or isinstance(inside, TextPart):
        part = PatternPart(id=part_id, name=name, across=middle, down=middle, **given)  # type: ignore[arg-type]
    else:
        fit = Fit((inside.id,), left=0, right=0, top=0, bottom=0)
        part = PatternPart(
            id=part_id, name=name, across=None, down=None, fit=fit, mattes=(Matte(inside.id),), opacity=30.0, drift_x=round(24 * unit),
            **given,  # type: ignore[arg-type]
        )  # fmt: skip

    def change(t: Template) -> Template:
        at = [p.id for p in t.parts].index(inside.id) + 1 if inside else None
        return edits.add_part(t, replace(part, group=inside.group if inside else None), at)

    return New(part.id, f"Add {name}", change)


def new_echo(on: Selected) -> New:
    """An echo of what is selected, under it."""
    original = on.part
    if original is None:
        raise AnswerError("Select the part or group that is to have an echo.")
    name = f"{original.name} echo"
    part = EchoPart(
        id=free_id(name, ids_in(on.template)), name=name, of=original.id, opacity=50.0, group=original.group,
        across=Place(original.id), down=Place(original.id, "start", "end", round(on.template.frame.height * 0.02)),
    )  # fmt: skip

    def change(t: Template) -> Template:
        return edits.add_part(t, part, [p.id for p in t.parts].index(original.id))

    return New(part.id, f"Add {name}", change)
