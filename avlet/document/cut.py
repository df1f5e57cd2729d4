"""A cut as a value: a short film of pictures, with titles over it on two tracks. Times in frames of the cut."""

import functools
import itertools
from collections.abc import Iterable
from fractions import Fraction
from typing import Any

import msgspec

from avlet.document.editing.naming import free_id
from avlet.document.template import Frame
from avlet.limits import MOST_CUT_FRAMES

replace = msgspec.structs.replace
TRACKS = 2
"""How many tracks there are for titles; those on the second show over those on the first."""


class PictureClip(msgspec.Struct, frozen=True):
    """A stretch of a made-up plate, or of the film or still in ``file``, or of nothing, where both are empty. Clips follow each other.

    ``start`` is how many frames of the cut into its own time it begins.
    """

    plate: str
    length: int
    file: str = ""
    start: int = 0


class Title(msgspec.Struct, frozen=True):
    """A template on the cut, with the answers of its editor. ``template`` is the package's file name in the library.

    ``version`` is the one that it shows, 0 the present one whichever that is; ``aside`` are answers that this version has no
    place for. A piece of a title that was split shows the middle of it: ``before`` and ``after`` are how many frames of the cut of the
    whole lie before and behind it.

    ``number`` is its own for good, 0 until it has one; its film is called by it. An editor may move it by ``x`` and ``y`` px of the cut
    from where its template has it, and show it at ``scale`` per cent. With ``reframed`` its template is brought to the cut's own shape.
    ``marked`` is what the marker gave that it was made from.
    """

    id: str
    template: str
    start: int
    length: int
    answers: dict[str, Any] = {}
    version: int = 0
    aside: dict[str, Any] = {}
    track: int = 0
    before: int = 0
    after: int = 0
    number: int = 0
    x: float = 0.0
    y: float = 0.0
    scale: float = 100.0
    reframed: bool = False
    marked: dict[str, Any] = {}

    @property
    def is_placed(self) -> bool:
        """Whether its editor moved or scaled it."""
        return (self.x, self.y, self.scale) != (0.0, 0.0, 100.0)

    @property
    def whole(self) -> int:
        """How many frames of the cut the title lasts that this is a piece of; its own length where it is no piece."""
        return self.before + self.length + self.after

    @property
    def end(self) -> int:
        """The first frame after it."""
        return self.start + self.length


class Cut(msgspec.Struct, frozen=True, dict=True):
    """Pictures and titles at one size and rate. Titles are in order; on one track they do not overlap.

    ``foreign`` is the timeline that it came with, as JSON and without Avlet's own tracks, where that holds more than this does. It is
    written as it is, and ``pictures`` only show what can be shown of it: they are not changed here. ``home`` is the folder that its
    addresses start from. ``start_time`` is the frame that
    its timecode begins with, ``numbers`` the highest number that a title of it ever had.
    """

    name: str = "Cut"
    frame: Frame = Frame()
    pictures: tuple[PictureClip, ...] = ()
    titles: tuple[Title, ...] = ()
    foreign: str = ""
    home: str = ""
    start_time: int = 0
    numbers: int = 0

    @functools.cached_property
    def length(self) -> int:
        """Frames up to the end of the last picture or title."""
        return max(sum(p.length for p in self.pictures), max((t.end for t in self.titles), default=0))

    def title(self, title_id: str) -> Title | None:
        """The title with this id."""
        return self._known.get(title_id)

    @functools.cached_property
    def _known(self) -> dict[str, Title]:
        return {title.id: title for title in reversed(self.titles)}

    @functools.cached_property
    def _clip_begins(self) -> tuple[int, ...]:
        return tuple(itertools.accumulate((clip.length for clip in self.pictures), initial=0))

    def titles_at(self, frame: int) -> tuple[Title, ...]:
        """The titles that show in a frame, the lower track's first."""
        return tuple(sorted((t for t in self.titles if t.start <= frame < t.end), key=lambda t: t.track))

    def title_at(self, frame: int) -> Title | None:
        """The uppermost title that shows in a frame."""
        return next(reversed(self.titles_at(frame)), None)

    def clip_at(self, frame: int) -> tuple[int, int] | None:
        """Which clip of the picture track shows in a frame, and how many frames into it."""
        begin = 0
        for index, clip in enumerate(self.pictures):
            if begin <= frame < begin + clip.length:
                return index, frame - begin
            begin += clip.length
        return None

    def clip_begin(self, index: int) -> int:
        """The first frame of a clip of the picture track."""
        return self._clip_begins[index]


def fresh_cut(plates: tuple[str, ...], name: str = "Untitled cut") -> Cut:
    """A cut to begin with: each plate for ten seconds, no titles yet."""
    frame = Frame()
    return Cut(name, frame, tuple(PictureClip(plate, round(10 * frame.fps)) for plate in plates))


def frames_in_title(length: int, cut_rate: Fraction, title_rate: Fraction) -> int:
    """How many frames of its own rate a title of ``length`` cut frames has; at least 1."""
    return max(1, round(length * title_rate / cut_rate))


def frame_in_title(frame: int, cut_rate: Fraction, title_rate: Fraction, length: int) -> int:
    """The title's own frame that shows ``frame`` cut frames after its start."""
    return min(length - 1, int(frame * title_rate / cut_rate))


# Titles


def numbered(cut: Cut) -> Cut:
    """The cut with a number for each title that has none yet, higher than all that were ever given on it."""
    return _with(cut, cut.titles) if any(not title.number for title in cut.titles) else cut


def _with(cut: Cut, titles: Iterable[Title]) -> Cut:
    """The cut with these titles, in order and numbered."""
    found = list(_in_order(titles))
    last = max([cut.numbers, *(title.number for title in found)])
    for at, title in enumerate(found):
        if not title.number:
            last += 1
            found[at] = replace(title, number=last)
    return replace(cut, titles=tuple(found), numbers=last)


def put_title(cut: Cut, title: Title) -> Cut:
    """Add a title, or move it, pushed into the nearest gap of its track that holds it so that titles never overlap.

    It ends within the longest cut that there is, as all that moves or lengthens a title here sees to.
    """
    rest = [t for t in cut.titles if t.id != title.id]
    others = sorted((t for t in rest if t.track == title.track), key=lambda t: t.start)
    start = _nearest_free(others, max(0, min(title.start, MOST_CUT_FRAMES - title.length)), title.length)
    return _with(cut, [*rest, replace(title, start=start)])


def free_track(cut: Cut, start: int, length: int, wanted: int = 0) -> int:
    """The track on which a title of a length may begin at a frame: the wanted one if that is free there, else another; else the wanted."""
    tracks = [wanted, *(track for track in range(TRACKS) if track != wanted)]
    taken = {t.track for t in cut.titles if t.start < start + length and start < t.end}
    return next((track for track in tracks if track not in taken), wanted)


def _in_order(titles: Iterable[Title]) -> tuple[Title, ...]:
    return tuple(sorted(titles, key=lambda t: (t.start, t.track)))


def _nearest_free(others: list[Title], start: int, length: int) -> int:
    edges = [0, *(t.end for t in others)]
    ends = [*(t.start for t in others), None]
    options = [
        max(low, start) if high is None else min(max(low, start), high - length)
        for low, high in zip(edges, ends, strict=True)
        if high is None or high - low >= length
    ]
    return min(options, key=lambda s: abs(s - start))


def move_titles(cut: Cut, title_ids: Iterable[str], step: int) -> Cut:
    """Titles moved together by ``step`` frames, or as far towards that as the other titles leave room; their distances stay."""
    moving = set(title_ids)
    for title in (t for t in cut.titles if t.id in moving):
        step = min(step, MOST_CUT_FRAMES - title.end)
        others = [t for t in cut.titles if t.id not in moving and t.track == title.track]
        ahead = min((t.start for t in others if t.start >= title.end), default=None)
        if ahead is not None:
            step = min(step, ahead - title.end)
        step = max(step, max((t.end for t in others if t.end <= title.start), default=0) - title.start)
    return replace(cut, titles=_in_order(replace(t, start=t.start + step) if t.id in moving else t for t in cut.titles))


def trim_title(cut: Cut, title_id: str, start: int, end: int) -> Cut:
    """Give a title another first frame or end, stopping at its neighbours; it keeps at least 1 frame."""
    title = cut.title(title_id)
    if title is None:
        return cut
    track = [t for t in cut.titles if t.track == title.track]
    before = max((t.end for t in track if t.end <= title.start), default=0)
    after = min((t.start for t in track if t.start >= title.end), default=None)
    room = after if after is not None else max(min(end, MOST_CUT_FRAMES), title.end)
    start = max(before, min(start, end - 1, room - 1))
    end = max(start + 1, min(end, room))
    new = replace(title, start=start, length=end - start)
    return replace(cut, titles=_in_order(new if t.id == title_id else t for t in cut.titles))


def trim_with_later(cut: Cut, title_id: str, end: int) -> Cut:
    """Give a title another end; the titles behind it on its track go along, as far from it as they were."""
    title = cut.title(title_id)
    if title is None:
        return cut
    last = max(t.end for t in cut.titles if t.track == title.track)
    by = min(max(title.start + 1, end) - title.end, max(0, MOST_CUT_FRAMES - last))
    later = {t.id for t in cut.titles if t.track == title.track and t.start >= title.end}
    moved = (
        replace(t, start=t.start + by) if t.id in later else replace(t, length=t.length + by) if t.id == title_id else t for t in cut.titles
    )
    return replace(cut, titles=_in_order(moved))


def split_title(cut: Cut, title_id: str, frame: int) -> Cut:
    """Two pieces of one title, cut at a frame inside it: its words stand across the cut, and both keep its answers."""
    title = cut.title(title_id)
    if title is None or not title.start < frame < title.end:
        return cut
    first = replace(title, length=frame - title.start, after=title.end - frame + title.after)
    later = title.before + frame - title.start
    second = replace(title, id=free_id(title.id, {t.id for t in cut.titles}), start=frame, length=title.end - frame, before=later, number=0,
                     marked={})  # fmt: skip
    return _with(cut, [*(t for t in cut.titles if t.id != title_id), first, second])


def piece_after(cut: Cut, title_id: str) -> Title | None:
    """The piece that goes on where a piece of a title ends, on the same track; None where there is none."""
    title = cut.title(title_id)
    if title is None or not title.after:
        return None
    found = (t for t in cut.titles if t.start == title.end and t.track == title.track and t.before and t.template == title.template)
    return next(found, None)


def join_titles(cut: Cut, title_id: str) -> Cut:
    """A piece and the one that goes on after it as one title again, with the answers of the first; the same cut where there is none."""
    title, other = cut.title(title_id), piece_after(cut, title_id)
    if title is None or other is None:
        return cut
    joined = replace(title, length=title.length + other.length, after=other.after)
    return replace(cut, titles=_in_order([*(t for t in cut.titles if t.id not in (title_id, other.id)), joined]))


def duplicate_titles(cut: Cut, title_ids: Iterable[str]) -> tuple[Cut, list[str]]:
    """Copies of titles, each in the nearest gap after its original. Returns the copies' ids too."""
    made = []
    for title_id in title_ids:
        title = cut.title(title_id)
        if title is not None:
            copy = replace(title, id=free_id(title.id, {t.id for t in cut.titles}), start=title.end, number=0, marked={})
            others = sorted((t for t in cut.titles if t.track == title.track), key=lambda t: t.start)
            start = next(s for s in sorted({title.end, *(t.end for t in others if t.end >= title.end)}) if _free(others, s, title.length))
            cut = _with(cut, [*cut.titles, replace(copy, start=start)])
            made.append(copy.id)
    return cut, made


def _free(others: list[Title], start: int, length: int) -> bool:
    return all(t.end <= start or t.start >= start + length for t in others)


def set_answers(cut: Cut, title_id: str, answers: dict[str, Any]) -> Cut:
    """Give a title other answers."""
    return change_titles(cut, [title_id], answers=answers)


def change_titles(cut: Cut, title_ids: Iterable[str], **changes: Any) -> Cut:
    """Change what is not about time of several titles."""
    wanted = set(title_ids)
    return replace(cut, titles=tuple(replace(t, **changes) if t.id in wanted else t for t in cut.titles))


def answer_on_all(cut: Cut, title_ids: Iterable[str], field_id: str, value: Any) -> Cut:
    """One answer changed on several titles."""
    for title_id in title_ids:
        title = cut.title(title_id)
        if title is not None:
            cut = set_answers(cut, title_id, {**title.answers, field_id: value})
    return cut


MOST_SCALE, LEAST_SCALE, MOST_MOVED = 400.0, 5.0, 20_000.0
"""Per cent to which a title may be scaled, and px by which it may be moved."""


def place_title(cut: Cut, title_id: str, x: float, y: float, scale: float) -> Cut:
    """Move a title by whole px from where its template has it, and scale it, both held within what is possible."""
    x, y = (float(round(max(-MOST_MOVED, min(MOST_MOVED, by)))) for by in (x, y))
    return change_titles(cut, [title_id], x=x, y=y, scale=max(LEAST_SCALE, min(MOST_SCALE, round(scale, 1))))


def in_frame(cut: Cut, frame: Frame) -> Cut:
    """The cut at another size and rate. All times keep their seconds, rounded to frames; what met still meets."""
    factor = frame.fps / cut.frame.fps

    def at(time: int) -> int:
        return round(time * factor)

    titles, free = [], [0] * TRACKS
    for title in cut.titles:
        begin = max(free[title.track], at(title.start))
        end = free[title.track] = max(begin + 1, at(title.end))
        before, after = at(title.start) - at(title.start - title.before), at(title.end + title.after) - at(title.end)
        titles.append(replace(title, start=begin, length=end - begin, before=before, after=after))
    edges = [at(cut.clip_begin(number)) for number in range(len(cut.pictures) + 1)]
    pictures = (
        replace(clip, length=max(1, end - begin), start=at(clip.start))
        for clip, (begin, end) in zip(cut.pictures, itertools.pairwise(edges), strict=True)
    )
    return replace(cut, frame=frame, titles=tuple(titles), pictures=tuple(pictures), start_time=at(cut.start_time))


def in_shape(cut: Cut, width: int, height: int) -> Cut:
    """The cut in a frame of another size. Titles are brought to that shape where it is another than the cut's."""
    frame = replace(cut.frame, width=width, height=height)
    if width * cut.frame.height == height * cut.frame.width:
        share = width / cut.frame.width
        return replace(
            cut, frame=frame, titles=tuple(replace(t, x=float(round(t.x * share)), y=float(round(t.y * share))) for t in cut.titles)
        )
    return replace(cut, frame=frame, titles=tuple(replace(t, x=0.0, y=0.0, reframed=True) for t in cut.titles))


def remove_title(cut: Cut, title_id: str) -> Cut:
    """Take a title off the cut; its number is not given again."""
    last = max([cut.numbers, *(title.number for title in cut.titles)])
    return replace(cut, titles=tuple(t for t in cut.titles if t.id != title_id), numbers=last)


# Pictures


def add_picture(cut: Cut, clip: PictureClip, index: int | None = None) -> Cut:
    """Put a clip on the picture track, at the end unless ``index`` says before which."""
    at = len(cut.pictures) if index is None else index
    return replace(cut, pictures=(*cut.pictures[:at], clip, *cut.pictures[at:]))


def trim_picture(cut: Cut, index: int, length: int) -> Cut:
    """Give a clip another length; those behind it move along."""
    clip = replace(cut.pictures[index], length=max(1, length))
    return replace(cut, pictures=(*cut.pictures[:index], clip, *cut.pictures[index + 1 :]))


def split_picture(cut: Cut, frame: int) -> Cut:
    """Two clips of the one under a frame."""
    found = cut.clip_at(frame)
    if found is None or found[1] == 0:
        return cut
    index, inside = found
    clip = cut.pictures[index]
    pieces = replace(clip, length=inside), replace(clip, length=clip.length - inside, start=clip.start + inside)
    return replace(cut, pictures=(*cut.pictures[:index], *pieces, *cut.pictures[index + 1 :]))


def move_picture(cut: Cut, index: int, to: int) -> Cut:
    """A clip in another place of the picture track."""
    pictures = list(cut.pictures)
    pictures.insert(max(0, min(to, len(pictures) - 1)), pictures.pop(index))
    return replace(cut, pictures=tuple(pictures))


def remove_picture(cut: Cut, index: int) -> Cut:
    """Take a clip off the picture track; those behind it move up."""
    return replace(cut, pictures=cut.pictures[:index] + cut.pictures[index + 1 :])
