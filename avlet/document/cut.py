"""A cut as a value: a short film of pictures, with titles over it. Times in frames of the cut."""

from fractions import Fraction
from typing import Any

import msgspec

from avlet.document.template import Frame

replace = msgspec.structs.replace


class PictureClip(msgspec.Struct, frozen=True):
    """A stretch of a made-up plate; clips of the picture track follow each other without gaps."""

    plate: str
    length: int


class Title(msgspec.Struct, frozen=True):
    """A template on the cut, with the answers of its editor. ``template`` is the package's file name in the library."""

    id: str
    template: str
    start: int
    length: int
    answers: dict[str, Any] = {}

    @property
    def end(self) -> int:
        """The first frame after it."""
        return self.start + self.length


class Cut(msgspec.Struct, frozen=True):
    """Pictures and titles at one size and rate. Titles are in order and do not overlap."""

    name: str = "Cut"
    frame: Frame = Frame()
    pictures: tuple[PictureClip, ...] = ()
    titles: tuple[Title, ...] = ()

    @property
    def length(self) -> int:
        """Frames up to the end of the last picture or title."""
        return max(sum(p.length for p in self.pictures), max((t.end for t in self.titles), default=0))

    def title(self, title_id: str) -> Title | None:
        """The title with this id."""
        return next((t for t in self.titles if t.id == title_id), None)

    def title_at(self, frame: int) -> Title | None:
        """The title that shows in a frame."""
        return next((t for t in self.titles if t.start <= frame < t.end), None)

    def picture_at(self, frame: int) -> tuple[str, int] | None:
        """The plate that shows in a frame, and how many frames into its clip."""
        begin = 0
        for clip in self.pictures:
            if begin <= frame < begin + clip.length:
                return clip.plate, frame - begin
            begin += clip.length
        return None


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


def put_title(cut: Cut, title: Title) -> Cut:
    """Add a title, or move it, pushed into the nearest gap that holds it so that titles never overlap."""
    others = sorted((t for t in cut.titles if t.id != title.id), key=lambda t: t.start)
    start = _nearest_free(others, max(0, title.start), title.length)
    titles = sorted((*others, replace(title, start=start)), key=lambda t: t.start)
    return replace(cut, titles=tuple(titles))


def _nearest_free(others: list[Title], start: int, length: int) -> int:
    edges = [0, *(t.end for t in others)]
    ends = [*(t.start for t in others), None]
    options = [
        max(low, start) if high is None else min(max(low, start), high - length)
        for low, high in zip(edges, ends, strict=True)
        if high is None or high - low >= length
    ]
    return min(options, key=lambda s: abs(s - start))


def trim_title(cut: Cut, title_id: str, start: int, end: int) -> Cut:
    """Give a title another first frame or end, stopping at its neighbours; it keeps at least 1 frame."""
    title = cut.title(title_id)
    if title is None:
        return cut
    before = max((t.end for t in cut.titles if t.end <= title.start), default=0)
    after = min((t.start for t in cut.titles if t.start >= title.end), default=None)
    room = after if after is not None else max(end, title.end)
    start = max(before, min(start, end - 1, room - 1))
    end = max(start + 1, min(end, room))
    new = replace(title, start=start, length=end - start)
    return replace(cut, titles=tuple(new if t.id == title_id else t for t in cut.titles))


def set_answers(cut: Cut, title_id: str, answers: dict[str, Any]) -> Cut:
    """Give a title other answers."""
    return replace(cut, titles=tuple(replace(t, answers=answers) if t.id == title_id else t for t in cut.titles))


def remove_title(cut: Cut, title_id: str) -> Cut:
    """Take a title off the cut."""
    return replace(cut, titles=tuple(t for t in cut.titles if t.id != title_id))
