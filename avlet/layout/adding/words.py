"""New words, counters and credits: free of what is there, on the card at once, with samples filled in."""

from collections.abc import Sequence

from avlet.document.cards import carding
from avlet.document.editing import edits
from avlet.document.editing.converting import scaled_part
from avlet.document.editing.naming import free_id
from avlet.document.fields import TextField
from avlet.document.lists.blocks import Heading, Role
from avlet.document.parts import TITLE_SAFE, CounterPart, Counting, CreditsPart, Place, ShapePart, TextPart, TypesetPart, Writing
from avlet.document.starts import PEOPLE, ROLES
from avlet.document.template import Template
from avlet.document.time.eases import READY_EASES
from avlet.document.time.moves import READY_MOVES, StaysToTheEnd
from avlet.layout.adding.selected import PADDING, New, Selected, ids_in
from avlet.layout.areas import frame_area

replace = edits.replace
NUMBERS = "en"
SAMPLE_NUMBERS = (7.0, 1_284.0, 1_000_000.0, -75.0)
"""What a new counter counts to in the samples: little, as usual, much, and below nothing."""
ARRIVES = (replace(READY_MOVES["fades"], frames=15, start=5, ease=READY_EASES["soft end"]),)
"""How new words arrive, until somebody says otherwise."""
_BETWEEN = 0.02
"""How much of the frame's height keeps what is new from what is there."""
_NEXT_COUNT = 8
"""Frames by which a new counter lands after the one before."""


def new_text(on: Selected) -> New:
    """Words under the lowest words, or over the highest where there is no room, or in the lower left of title-safe.

    They are on the card, with samples filled in.
    """
    template = on.template
    texts = [p for p in template.parts if isinstance(p, TypesetPart)]
    first = not texts
    name = "Name" if first else "Role" if len(texts) == 1 else f"Words {len(texts) + 1}"
    words = PEOPLE if first else ROLES
    frame = template.frame
    size = round(frame.height * (0.074 if first else 0.04))
    part_id = free_id(name, ids_in(template))
    across, down = Place("title-safe", gap=round(frame.height * 0.06)), Place("title-safe", "end", "end", -round(frame.height * 0.15))
    if texts:
        across, down = _free_place(on, texts, size * 1.15)
    part = TextPart(
        id=part_id, name=name, text=words["typical"], size=size, style="Bold" if first else "Medium", leading=115, across=across, down=down,
        way_in=ARRIVES,
    )  # fmt: skip

    def change(t: Template) -> Template:
        t, field_id = carding.put_on_card(edits.add_part(t, part), f"{part.id}/text")
        field = t.card.field(field_id)
        assert isinstance(field, TextField)
        t = carding.put_field(t, replace(field, several_lines=True, hint="One or two lines"))
        for sample in t.samples:
            t = carding.set_sample_answer(t, sample.id, field_id, words.get(sample.id, words["typical"]))
        return t

    return New(part.id, f"Add {name}", change)


def new_counter(on: Selected) -> New:
    """A number that counts up, free of the words that are there. Where it counts to is on the card, with samples filled in.

    Beside counters that are there it goes on to the right, as one reads, and lands a little after the last of them.
    """
    template = on.template
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
        across, down = (_beside(on, counters[-1]) if counters else None) or _free_place(on, texts, size * 1.15)
    part = CounterPart(
        id=free_id(name, ids_in(template)), name=name, size=size, style="Bold", leading=115, end="1284", across=across, down=down,
        count=count, writing=Writing(language=NUMBERS), way_in=(replace(READY_MOVES["fades"], frames=15, ease=READY_EASES["soft end"]),),
    )  # fmt: skip

    def change(t: Template) -> Template:
        t, field_id = carding.put_on_card(edits.add_part(t, part), f"{part.id}/end")
        t = carding.change_field(t, field_id, low=-100_000.0, high=1_000_000.0, figure_only=True, hint="The number it counts to")
        for sample, number in zip(t.samples, SAMPLE_NUMBERS, strict=False):
            t = carding.set_sample_answer(t, sample.id, field_id, number)
        return t

    return New(part.id, f"Add {name}", change)


def new_credits(on: Selected) -> New:
    """Credits in the middle of the frame that roll through it, on the card as a list. An empty title gets a length to read them in."""
    template = on.template
    frame = template.frame
    scale = frame.height / 1080
    name = "Credits" if not any(isinstance(p, CreditsPart) for p in template.parts) else "More credits"
    blocks = (
        Heading(text="Heading"), Role(role="Role", names=("Name", "Another name")), Role(role="Another role", names=("Name",)),
    )  # fmt: skip
    middle = Place(mine="middle", theirs="middle")
    part = CreditsPart(
        id=free_id(name, ids_in(template)), name=name, blocks=blocks, width=round(frame.width * 0.68), across=middle, down=middle,
        way_out=StaysToTheEnd(),
    )  # fmt: skip

    def change(t: Template) -> Template:
        return carding.put_on_card(edits.add_part(t, scaled_part(part, scale)), f"{part.id}/blocks")[0]

    return New(part.id, f"Add {name}", change)


def _beside(on: Selected, counter: CounterPart) -> tuple[Place, Place] | None:
    """The place right of a counter, on its line, where there is room for another as wide within title-safe."""
    rest, frame = on.rest, on.template.frame
    box, gap = rest.parts[counter.id].box, round(frame.width * 0.04)
    taken = box.moved(box.w + gap, 0)
    others = [one.box for one in rest.parts.values() if one.present and one.part.id != counter.id and one.words is not None]
    if not frame_area(TITLE_SAFE, frame).contains(taken) or any(not taken.cut(other).empty for other in others):
        return None
    return Place(counter.id, "start", "end", gap), Place(counter.id)


def _free_place(on: Selected, texts: Sequence[TypesetPart], height: float) -> tuple[Place, Place]:
    """Where a line of words lies free of the words that are there, and of the plates round them."""
    template, rest = on.template, on.rest
    behind = {
        text.id: next((p.id for p in template.parts if isinstance(p, ShapePart) and p.fit and text.id in p.fit.around), text.id)
        for text in texts
    }
    lowest = max(texts, key=lambda t: rest.parts[behind[t.id]].box.bottom)
    gap = round(template.frame.height * _BETWEEN)
    if behind[lowest.id] != lowest.id:  # a plate lies there: these words may get one too
        gap += round(PADDING * template.frame.height / 1080)
    if rest.parts[behind[lowest.id]].box.bottom + gap + height <= frame_area(TITLE_SAFE, template.frame).bottom:
        return Place(lowest.id), Place(behind[lowest.id], "start", "end", gap)
    highest = min(texts, key=lambda t: rest.parts[behind[t.id]].box.y)
    return Place(highest.id), Place(behind[highest.id], "end", "start", -gap)
