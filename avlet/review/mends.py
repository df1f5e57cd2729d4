"""Edits that would mend what a proof has found, each offered in words; one of them is one undo."""

import itertools
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from functools import partial

import msgspec

from avlet.document.cards import carding
from avlet.document.cards.wires import Straight
from avlet.document.editing import edits
from avlet.document.editing import timing as timing_edits
from avlet.document.editing.timing import MoveAt
from avlet.document.fields import TextField
from avlet.document.looks.colours import darker, lighter
from avlet.document.looks.paints import Solid
from avlet.document.parts import AnyPart, Room, ShapePart, TypesetPart
from avlet.document.template import Template
from avlet.document.time.eases import READY_EASES, Ease
from avlet.document.time.moves import Mirrored, Move
from avlet.errors import AvletError
from avlet.layout.areas import frame_area
from avlet.layout.holding import hold
from avlet.numbers.exact import in_figures
from avlet.paint.scene import Scene
from avlet.review.checks import CHECKS, Finding
from avlet.review.checks.inside import beyond
from avlet.review.looked import Looked

_SHARES = (80, 60, 45, 30, 20)
"""Per cent that words may shrink to: as little as it takes."""
_BY = (20, 35, 50, 65, 80, 100)
"""Per cent by which a colour is made lighter or darker."""
_SOFTER, _LONGER, _EARLIER = ("soft both", "soft end"), (1.5, 2.0, 3.0, 4.0), (5, 10, 20)


@dataclass(frozen=True)
class Mend:
    """What would be done, in words, and doing it. ``longest`` is a field that takes so many letters then."""

    words: str
    change: Callable[[Template], Template]
    longest: tuple[str, int] | None = None


def mends(finding: Finding, looked: Looked) -> list[Mend]:
    """What mends a finding, for the template and answers that it was found with: only what was measured to do so is offered.

    Nothing where only a designer knows. Of candidates of one kind the first that mends stands for all, such as the least darker colour.
    """
    found = []
    for kind in _candidates(finding, looked):
        found += list(itertools.islice((mend for mend in kind if does_mend(mend, finding, looked)), 1))
    return found


def does_mend(mend: Mend, finding: Finding, looked: Looked) -> bool:
    """Whether a template that was changed so holds together, and the check finds nothing of the part any more that breaks as badly."""
    scene = looked.scene
    longer = scene.bound.length if scene.bound.length != scene.template.length else None
    try:
        made, answers = hold(mend.change(scene.template)), dict(scene.bound.answers)
        if mend.longest is not None:
            answers[mend.longest[0]] = str(answers[mend.longest[0]])[: mend.longest[1]]
        again = Looked(Scene(made, scene.book, answers, longer), finding.sample)
        check = next(check for check in CHECKS if check.id == finding.check)
        return not any(one.part_id == finding.part_id and one.level != "told" for one in check.run(again))
    except AvletError:
        return False


def _candidates(finding: Finding, looked: Looked) -> list[list[Mend]]:
    """What might mend a finding, a list for each kind of doing it, the least change first."""
    part = looked.scene.template.part(finding.part_id)
    if finding.check == "jumps" and part is not None:
        return _calmer(part, finding, looked)
    if not isinstance(part, TypesetPart):
        return [_of_time(finding, looked)]
    match finding.check:
        case "inside" if finding.verdict in ("past title-safe", "past the frame", "out of its plate"):
            return [*_room(part, finding, looked), _limit(part, finding, looked)]
        case "overlong":
            return [_limit(part, finding, looked)]
        case "small-type":
            size = round(part.size * finding.limit / max(finding.amount, 1e-6) + 0.5)
            return [[Mend(f"make {part.name} {size} px", lambda t: edits.set_property(t, f"{part.id}/size", float(size)))]]
        case "contrast":
            return _readable(part)
    return [_of_time(finding, looked)]


def _of_time(finding: Finding, looked: Looked) -> list[Mend]:
    if finding.check != "reading":
        return []
    longer = looked.scene.template.length + int((finding.amount - finding.limit) * float(looked.scene.template.frame.fps) + 1)
    return [Mend(f"make it {longer} frames long", lambda t: edits.replace(t, length=longer))]


def _room(part: TypesetPart, finding: Finding, looked: Looked) -> list[list[Mend]]:
    """As wide as title-safe, or the plate that it left, leaves it from where it begins: let it wrap, or shrink as far as it has to."""
    rest, safe = looked.scene.rest.parts[part.id], frame_area("title-safe", looked.scene.rest.frame)
    width = float(int(min(safe.w, safe.right - max(safe.x, rest.box.x))))
    if finding.verdict == "out of its plate":
        width = next(iter(_inner_widths(part.id, looked)), width)
    if width < part.size:
        return []
    rooms = [Room(width=width, lines=n, remedies=("wrap", "shrink")) for n in (2, 3)]
    wrapping = [Mend(f"let {part.name} wrap in {room.lines} lines", _roomy(part, room)) for room in rooms]
    narrow = [Room(width=width, remedies=("shrink",), smallest_size=float(share)) for share in _SHARES]
    shrinking = [Mend(f"let {part.name} shrink to {room.smallest_size:.0f} %", _roomy(part, room)) for room in narrow]
    words = rest.words is not None and rest.words.counts["word"] > 1
    return [wrapping if words else [], shrinking]


def _inner_widths(part_id: str, looked: Looked) -> Iterator[float]:
    """px that plates which fit around a part leave for it, as wide as they are now."""
    for _, one in looked.present:
        plate = one.part
        if isinstance(plate, ShapePart) and plate.fit is not None and part_id in plate.fit.around:
            yield float(int(one.box.w - plate.fit.left - plate.fit.right + 1e-6))


def _roomy(part: TypesetPart, room: Room) -> Callable[[Template], Template]:
    return lambda t: _with(t, part.id, room=room)


def _with(template: Template, part_id: str, **values: object) -> Template:
    return edits.replace(template, parts=tuple(msgspec.structs.replace(p, **values) if p.id == part_id else p for p in template.parts))


def _limit(part: TypesetPart, finding: Finding, looked: Looked) -> list[Mend]:
    """Let its field take no more letters than there is room for."""
    template, ink = looked.scene.template, looked.scene.rest.parts[part.id].ink
    wire = template.wire_to(f"{part.id}/text")
    field = template.card.field(wire.source) if wire is not None and isinstance(wire.map, Straight) else None
    words = looked.scene.rest.parts[part.id].words
    if not isinstance(field, TextField) or ink is None or words is None or ink.w <= 0:
        return []
    letters = len(str(looked.scene.bound.answers.get(field.id, "")))
    past = beyond(frame_area("title-safe", looked.scene.rest.frame), ink) if finding.check == "inside" else ink.w * 0.1
    fits = int(letters * max(0.0, ink.w - past) / ink.w)
    given = [field.start, *(sample.answers.get(field.id, "") for sample in template.samples)]
    if not 0 < fits < letters or any(len(str(words)) > fits for words in given):
        return []
    fewer = [n for n in (fits, round(fits * 0.9), round(fits * 0.8)) if n > 0 and not any(len(str(words)) > n for words in given)]
    return [_limited(field, n) for n in fewer]


def _limited(field: TextField, letters: int) -> Mend:
    change = partial(carding.change_field, field_id=field.id, longest=letters)
    return Mend(f"limit “{field.label}” to {letters} letters", change, (field.id, letters))


def _readable(part: TypesetPart) -> list[list[Mend]]:
    """Words further from what lies behind them, by as little as it takes: lighter, and darker."""
    if not isinstance(part.fill, Solid):
        return []
    colour = part.fill.colour
    return [
        [Mend(f"make {part.name} {way}", _coloured(part, make(colour, by))) for by in _BY]
        for way, make in (("lighter", lighter), ("darker", darker))
    ]


def _coloured(part: TypesetPart, colour: str) -> Callable[[Template], Template]:
    return lambda t: edits.set_property(t, f"{part.id}/fill.colour", colour)


def _calmer(part: AnyPart, finding: Finding, looked: Looked) -> list[list[Mend]]:
    """The moves that run where a part jumps: softer, longer, or earlier."""
    timing, spans = looked.scene.choreography.timings[part.id], looked.scene.spans
    frame = finding.first or 0
    leaves = spans.length - 1 - spans.designed_out / spans.pace
    back = [(spans.length - 1 - s.end / spans.pace, spans.length - 1 - s.start / spans.pace) for s in timing.back]
    running = [
        MoveAt(part.id, "way_in", n)
        for n, s in enumerate(timing.way_in)
        if _runs(s.start / spans.pace, s.end / spans.pace, frame) or (isinstance(part.way_out, Mirrored) and _runs(*back[n], frame))
    ]
    running += [
        MoveAt(part.id, "way_out.moves", n)
        for n, s in enumerate(timing.way_out)
        if _runs(leaves + s.start / spans.pace, leaves + s.end / spans.pace, frame)
    ]

    def each(change: Callable[[Move], Move]) -> Callable[[Template], Template]:
        return lambda t: timing_edits.changed_moves(t, running, lambda move, _: change(move))

    def eased(ease: Ease) -> Callable[[Move], Move]:
        return lambda move: edits.replace(move, ease=ease)

    def stretched(times: float) -> Callable[[Move], Move]:
        return lambda move: edits.replace(move, frames=max(2, round(move.frames * times)))

    def brought(frames: int) -> Callable[[Move], Move]:
        return lambda move: timing_edits.shifted_by(move, -frames)

    if not running:
        return []
    softer = [Mend(f"let {part.name} move with a {name}", each(eased(READY_EASES[name]))) for name in _SOFTER]
    longer = [Mend(f"let that take {in_figures(times)} times as long", each(stretched(times))) for times in _LONGER]
    earlier = [Mend(f"let {part.name} start {frames} frames earlier", each(brought(frames))) for frames in _EARLIER]
    return [softer, longer, earlier]


def _runs(begin: float, end: float, frame: int) -> bool:
    return begin - 2 <= frame <= end + 2
