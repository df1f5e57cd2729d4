"""Adding parts: each new one already relates to what is selected, and new words are on the card at once."""

from collections.abc import Sequence
from pathlib import Path

from avlet.desktop.sessions.template_session import Session
from avlet.desktop.widgets.numbers import NumberBox
from avlet.document.cards import carding
from avlet.document.editing import counting, edits
from avlet.document.editing.converting import scaled_part
from avlet.document.editing.naming import free_id
from avlet.document.fields import TextField
from avlet.document.lists.blocks import Heading, Role
from avlet.document.looks.forms import SlantedBar
from avlet.document.looks.pictures import read_picture
from avlet.document.parts import (
    EDGE_SHARES,
    TITLE_SAFE,
    AnyPart,
    CounterPart,
    Counting,
    CreditsPart,
    EchoPart,
    Fit,
    Matte,
    PatternPart,
    PictureFile,
    PicturePart,
    Place,
    RulePart,
    ShapePart,
    TextPart,
    TypesetPart,
    Writing,
)
from avlet.document.starts import PEOPLE, ROLES
from avlet.document.template import Template
from avlet.document.time.eases import READY_EASES
from avlet.document.time.moves import READY_MOVES, StaysToTheEnd
from avlet.layout.areas import frame_area
from avlet.motion.counting import counters_of

replace = edits.replace
NUMBERS = "en"
SAMPLE_NUMBERS = (7.0, 1_284.0, 1_000_000.0, -75.0)
"""What a new counter counts to in the samples: little, as usual, much, and below nothing."""
_ARRIVES = (replace(READY_MOVES["fades"], frames=15, start=5, ease=READY_EASES["soft end"]),)
"""How new words arrive, until somebody says otherwise."""
_PADDING, _BETWEEN = 25, 0.02
"""px of a plate over and under its words at 1080 lines, and how much of the frame's height keeps what is new from what is there."""
_NEXT_COUNT = 8
"""Frames by which a new counter lands after the one before."""


def add_text(session: Session) -> None:
    """Words under the lowest words, or over the highest where there is no room, or in the lower left of title-safe.

    They are on the card, with samples filled in.
    """
    template = session.template
    texts = [p for p in template.parts if isinstance(p, TypesetPart)]
    first = not texts
    name = "Name" if first else "Role" if len(texts) == 1 else f"Words {len(texts) + 1}"
    words = PEOPLE if first else ROLES
    frame = template.frame
    size = round(frame.height * (0.074 if first else 0.04))
    part_id = free_id(name, _ids(template))
    across, down = Place("title-safe", gap=round(frame.height * 0.06)), Place("title-safe", "end", "end", -round(frame.height * 0.15))
    if texts:
        across, down = _free_place(session, texts, size * 1.15)
    part = TextPart(
        id=part_id, name=name, text=words["typical"], size=size, style="Bold" if first else "Medium", leading=115, across=across, down=down,
        way_in=_ARRIVES,
    )  # fmt: skip

    def change(t: Template) -> Template:
        t, field_id = carding.put_on_card(edits.add_part(t, part), f"{part.id}/text")
        field = t.card.field(field_id)
        assert isinstance(field, TextField)
        t = carding.put_field(t, replace(field, several_lines=True, hint="One or two lines"))
        for sample in t.samples:
            t = carding.set_sample_answer(t, sample.id, field_id, words.get(sample.id, words["typical"]))
        return t

    if session.edit(f"Add {name}", change):
        session.select(part.id)


def add_counter(session: Session) -> None:
    """A number that counts up, free of the words that are there. Where it counts to is on the card, with samples filled in.

    Beside counters that are there it goes on to the right, as one reads, and lands a little after the last of them.
    """
    template = session.template
    texts = [p for p in template.parts if isinstance(p, TypesetPart)]
    name = "Count" if not any(isinstance(p, CounterPart) for p in texts) else f"Count {len(texts) + 1}"
    size = round(template.frame.height * 0.11)
    across, down = Place("title-safe", gap=round(template.frame.height * 0.06)), Place("title-safe", "end", "end", -round(size * 1.5))
    count = Counting()
    counters = [p for p in texts if isinstance(p, CounterPart)]
    if counters:
        last = counters[-1]
        later = {"frames": max(0, last.count.frames - _NEXT_COUNT)} if last.count.lands == "before the way out" else {
            "start": last.count.start + _NEXT_COUNT}  # fmt: skip
        count, size = replace(last.count, tie=None, **later), round(last.size)
    if texts:
        across, down = (_beside(session, counters[-1]) if counters else None) or _free_place(session, texts, size * 1.15)
    part = CounterPart(
        id=free_id(name, _ids(template)), name=name, size=size, style="Bold", leading=115, end="1284", across=across, down=down,
        count=count, writing=Writing(language=NUMBERS), way_in=(replace(READY_MOVES["fades"], frames=15, ease=READY_EASES["soft end"]),),
    )  # fmt: skip

    def change(t: Template) -> Template:
        t, field_id = carding.put_on_card(edits.add_part(t, part), f"{part.id}/end")
        t = carding.change_field(t, field_id, low=-100_000.0, high=1_000_000.0, figure_only=True, hint="The number it counts to")
        for sample, number in zip(t.samples, SAMPLE_NUMBERS, strict=False):
            t = carding.set_sample_answer(t, sample.id, field_id, number)
        return t

    if session.edit(f"Add {name}", change):
        session.select(part.id)


def add_credits(session: Session) -> None:
    """Credits in the middle of the frame that roll through it, on the card as a list. An empty title gets a length to read them in."""
    template = session.template
    frame = template.frame
    scale = frame.height / 1080
    name = "Credits" if not any(isinstance(p, CreditsPart) for p in template.parts) else "More credits"
    blocks = (
        Heading(text="Heading"), Role(role="Role", names=("Name", "Another name")), Role(role="Another role", names=("Name",)),
    )  # fmt: skip
    middle = Place(mine="middle", theirs="middle")
    part = CreditsPart(
        id=free_id(name, _ids(template)), name=name, blocks=blocks, width=round(frame.width * 0.68), across=middle, down=middle,
        way_out=StaysToTheEnd(),
    )  # fmt: skip

    def change(t: Template) -> Template:
        return carding.put_on_card(edits.add_part(t, scaled_part(part, scale)), f"{part.id}/blocks")[0]

    if session.edit(f"Add {name}", change):
        session.select(part.id)


def count_with(session: Session) -> None:
    """The selected text, if it is a number, made into a counter that counts up to it; a counter made into words again."""
    part = session.part
    if isinstance(part, CounterPart):
        counted = counters_of(session.scene().choreography.movers)[part.id]
        words = f"{part.before}{counted.words_of(counted.moment(float('inf')))[1]}{part.after}"
        session.edit(f"{part.name} as words", lambda t: counting.text_from(t, part.id, words))
    elif part is not None:
        session.edit(f"{part.name} counts", lambda t: counting.counter_from(t, part.id, (NumberBox.language,)))
    else:
        session.refused.emit("Select the words that are to count, or the counter that is to be words.")


def _beside(session: Session, counter: CounterPart) -> tuple[Place, Place] | None:
    """The place right of a counter, on its line, where there is room for another as wide within title-safe."""
    rest, frame = session.scene().rest, session.template.frame
    box, gap = rest.parts[counter.id].box, round(frame.width * 0.04)
    taken = box.moved(box.w + gap, 0)
    others = [one.box for one in rest.parts.values() if one.present and one.part.id != counter.id and one.words is not None]
    if not frame_area(TITLE_SAFE, frame).contains(taken) or any(not taken.cut(other).empty for other in others):
        return None
    return Place(counter.id, "start", "end", gap), Place(counter.id)


def _free_place(session: Session, texts: Sequence[TypesetPart], height: float) -> tuple[Place, Place]:
    """Where a line of words lies free of the words that are there, and of the plates round them."""
    template, rest = session.template, session.scene().rest
    behind = {
        text.id: next((p.id for p in template.parts if isinstance(p, ShapePart) and p.fit and text.id in p.fit.around), text.id)
        for text in texts
    }
    lowest = max(texts, key=lambda t: rest.parts[behind[t.id]].box.bottom)
    gap = round(template.frame.height * _BETWEEN)
    if behind[lowest.id] != lowest.id:  # a plate lies there: these words may get one too
        gap += round(_PADDING * template.frame.height / 1080)
    if rest.parts[behind[lowest.id]].box.bottom + gap + height <= frame_area(TITLE_SAFE, template.frame).bottom:
        return Place(lowest.id), Place(behind[lowest.id], "start", "end", gap)
    highest = min(texts, key=lambda t: rest.parts[behind[t.id]].box.y)
    return Place(highest.id), Place(behind[highest.id], "end", "start", -gap)


def add_shape(session: Session) -> None:
    """A shape round all that is selected, behind it, and the selected words then rise out of it, unless somebody gave them another way in.

    It unfolds from the edge that the words are placed by. With nothing selected a free one in the middle, behind all words.
    """
    template = session.template
    around = [part for part in template.parts if part.id in session.selection]
    name = "Shape" if not around else f"{around[0].name} plate" if len(around) == 1 else "Plate"
    part_id = free_id(name, _ids(template))
    if not around:
        part = ShapePart(id=part_id, name=name, across=Place("frame", "middle", "middle"), down=Place("frame", "middle", "middle"))
    else:
        unit = template.frame.height / 1080
        place = around[0].across
        unfold = replace(READY_MOVES["unfolds"], frames=20, hinge_x=100.0 * EDGE_SHARES[place.mine] if place is not None else 0.0)
        part = ShapePart(
            id=part_id, name=name, corner=round(30 * unit), across=None, down=None, way_in=(unfold,),
            fit=Fit(tuple(p.id for p in around), left=50 * unit, right=50 * unit, top=_PADDING * unit, bottom=_PADDING * unit),
        )  # fmt: skip

    def change(t: Template) -> Template:
        behind = {p.id for p in around} or {p.id for p in t.parts if isinstance(p, TextPart)}
        at = next((n for n, p in enumerate(t.parts) if p.id in behind), None)
        groups = {p.group for p in around}
        t = edits.add_part(t, replace(part, group=groups.pop() if len(groups) == 1 else None), at)
        for words in around:
            if isinstance(words, TextPart) and not words.mattes:
                rise = replace(READY_MOVES["rises"], frames=20, start=5, overlap=60)
                own = words.way_in not in ((), _ARRIVES)  # somebody's own: it is kept
                t = edits.set_relations(t, words.id, mattes=(Matte(part.id),), way_in=words.way_in if own else (rise,))
        return t

    if session.edit(f"Add {name}", change):
        session.select(part.id)


def add_picture(session: Session, path: Path) -> None:
    """A picture from a file, beside what is selected or in the middle, no larger than a third of the frame."""
    template, beside = session.template, session.part
    try:
        picture = PictureFile(path.name, path.read_bytes())
    except OSError as error:
        session.refused.emit(f"“{path}” cannot be read: {error.strerror}.")
        return
    facts = read_picture(picture)
    if facts.fault:
        session.refused.emit(facts.fault)
        return
    scale = min(1.0, template.frame.height / 3 / facts.height, template.frame.width / 3 / facts.width)
    name = path.stem[:60] or "Picture"
    middle = Place("frame", "middle", "middle")
    part = PicturePart(
        id=free_id(name, _ids(template)), name=name, picture=picture, width=round(facts.width * scale), height=round(facts.height * scale),
        across=Place(beside.id, "start", "end", 20) if beside else middle, down=Place(beside.id, "middle", "middle") if beside else middle,
        way_in=(replace(READY_MOVES["fades"], frames=12),),
    )  # fmt: skip
    if session.edit(f"Add {name}", lambda t: edits.add_part(t, part)):
        session.select(part.id)


def add_rule(session: Session) -> None:
    """A rule under all that is selected, as long as it; or a free one in the middle."""
    template, above = session.template, session.part
    chosen = [p.id for p in template.parts if p.id in session.selection]
    rest = session.scene().rest
    name = f"{above.name} rule" if above else "Rule"
    part_id = free_id(name, _ids(template))
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
    if session.edit(f"Add {name}", lambda t: edits.add_part(t, part)):
        session.select(part.id)


def add_pattern(session: Session) -> None:
    """Stripes that fill what is selected, in front of it and inside its outline; or a free row in the middle."""
    template, inside = session.template, session.part
    name = f"{inside.name} stripes" if inside else "Stripes"
    part_id, unit = free_id(name, _ids(template)), template.frame.height / 1080
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

    if session.edit(f"Add {name}", change):
        session.select(part.id)


def add_echo(session: Session) -> None:
    """An echo of what is selected, under it."""
    original = session.part
    if original is None:
        session.refused.emit("Select the part or group that is to have an echo.")
        return
    name = f"{original.name} echo"
    part = EchoPart(
        id=free_id(name, _ids(session.template)), name=name, of=original.id, opacity=50.0, group=original.group,
        across=Place(original.id), down=Place(original.id, "start", "end", round(session.template.frame.height * 0.02)),
    )  # fmt: skip

    def change(t: Template) -> Template:
        return edits.add_part(t, part, [p.id for p in t.parts].index(original.id))

    if session.edit(f"Add {name}", change):
        session.select(part.id)


def _ids(template: Template) -> set[str]:
    return {p.id for p in template.parts}
