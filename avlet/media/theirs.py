"""What of a stranger's timeline is shown: their picture and sound tracks, dissolves, and markers, in frames of the cut.

It is worked out from the timeline and never written back.
"""

import functools
import itertools
from collections import Counter
from collections.abc import Callable, Iterator
from fractions import Fraction
from pathlib import Path
from typing import Any, NamedTuple
from urllib.parse import unquote, urlparse

import opentimelineio as otio

from avlet.document.cut import Cut
from avlet.limits import MOST_CUT_FRAMES

_MOST_PROBED = 24
_MOST_SECONDS, _FASTEST = 1e6, 100.0
"""How far into a film a clip may begin, and how many times faster than it was taken it may play."""
_UNSAID = (ValueError, TypeError, NotImplementedError, otio.exceptions.OTIOError)
"""Films that are looked into for the size of a cut."""
_VIDEO, _AUDIO = otio.schema.TrackKind.Video, otio.schema.TrackKind.Audio


class TheirClip(NamedTuple):
    """A stretch of one of their tracks: its first frame and length on the cut, and where its film or sound is on this machine.

    ``into`` is where in that it begins, in seconds; ``speed`` how fast it plays. ``dissolves`` says how many frames of it, from its
    first on, lie over the clip before.
    """

    begin: int
    length: int
    name: str
    file: Path | None = None
    into: Fraction = Fraction(0)
    speed: float = 1.0
    dissolves: int = 0


class TheirTrack(NamedTuple):
    """One of their tracks, upper ones last."""

    name: str
    is_sound: bool
    clips: tuple[TheirClip, ...]


class Mark(NamedTuple):
    """A marker: the frame of the cut at which it stands, how many frames it marks, its words, its colour, and whose it is."""

    frame: int
    length: int
    name: str
    comment: str
    colour: str
    track: str


class Theirs(NamedTuple):
    """All that is shown of a timeline from elsewhere."""

    tracks: tuple[TheirTrack, ...] = ()
    marks: tuple[Mark, ...] = ()


def theirs_of(cut: Cut) -> Theirs:
    """What is shown of the timeline that a cut came with; nothing for one that was begun here."""
    return _theirs(cut.foreign, cut.frame.fps, Path(cut.home)) if cut.foreign else Theirs()


@functools.lru_cache(maxsize=4)
def _theirs(foreign: str, rate: Fraction, folder: Path) -> Theirs:
    timeline = otio.adapters.read_from_string(foreign, "otio_json")

    def frames(time: Any) -> int:
        at = time.value * float(rate) / time.rate if time.rate > 0 else 0.0
        return round(max(-MOST_CUT_FRAMES, min(MOST_CUT_FRAMES, at)))

    counts: Counter[bool] = Counter()
    tracks = []
    for track in timeline.tracks:
        if isinstance(track, otio.schema.Track) and track.kind in (_VIDEO, _AUDIO):
            is_sound = track.kind == _AUDIO
            counts[is_sound] += 1
            name = track.name or f"{'A' if is_sound else 'V'}{counts[is_sound]}"
            tracks.append(TheirTrack(name, is_sound, tuple(_clips(track, frames, folder))))
    return Theirs(tuple(tracks), tuple(sorted(_marks(timeline, frames), key=lambda mark: mark.frame)))


def _clips(track: Any, frames: Callable[[Any], int], folder: Path) -> Iterator[TheirClip]:
    """The clips of a track. Edges are rounded once, so that what meets goes on meeting."""
    time, dissolve, before = otio.opentime.RationalTime(0, 1), 0, None
    for item in track:
        if isinstance(item, otio.schema.Transition):
            dissolve = frames(item.in_offset + item.out_offset) if before is not None else 0
            continue
        end_time = time + _duration(item)
        begin, end, time = frames(time), frames(end_time), end_time
        before = item if not isinstance(item, otio.schema.Gap) else None
        if before is not None and end > begin:
            source = getattr(item, "source_range", None)
            seconds = source.start_time.to_seconds() if source is not None else 0.0
            into = Fraction(max(-_MOST_SECONDS, min(_MOST_SECONDS, seconds))).limit_denominator(10**9)
            yield TheirClip(begin, end - begin, item.name or "", file_of(item, folder), into, _speed(item), min(dissolve, end - begin))
        dissolve = 0


def _duration(item: Any) -> Any:
    """How long an item lasts, as far as it says; it takes no time where it does not."""
    try:
        return item.duration()
    except _UNSAID:
        return otio.opentime.RationalTime(0, 1)


def _speed(item: Any) -> float:
    """How much faster than it was taken a clip plays, within what can be played."""
    speeds = [effect.time_scalar for effect in getattr(item, "effects", ()) if isinstance(effect, otio.schema.LinearTimeWarp)]
    return max(-_FASTEST, min(_FASTEST, float(speeds[0]))) if speeds else 1.0


def file_of(item: Any, folder: Path) -> Path | None:
    """The film, still or sound that a clip points at, on this machine."""
    reference = getattr(item, "media_reference", None)
    if not isinstance(reference, otio.schema.ExternalReference) or not reference.target_url:
        return None
    try:
        address = urlparse(reference.target_url)
    except ValueError:
        return None
    if address.scheme not in ("", "file"):
        return None
    return folder / unquote(address.path)


def _marks(timeline: Any, frames: Callable[[Any], int]) -> Iterator[Mark]:
    """Markers of the timeline, its tracks, and what lies on them; those beside what a clip shows are left out."""
    begin = timeline.global_start_time
    todo = [(timeline.tracks, "")]
    while todo:
        item, track = todo.pop()
        if isinstance(item, otio.schema.Track):
            track = item.name or track
        if isinstance(item, otio.core.Composition):
            todo += [(child, track) for child in item if isinstance(child, otio.core.Item)]
        for marker in getattr(item, "markers", ()):
            try:
                span = marker.marked_range
                if item is not timeline.tracks:
                    own = item.trimmed_range()
                    if not isinstance(item, otio.core.Composition) and not own.start_time <= span.start_time < own.end_time_exclusive():
                        continue
                    span = item.transformed_time_range(span, timeline.tracks)
                start = span.start_time
                if begin is not None and start >= begin and begin.value > 0:
                    start = start - begin  # some programs count from the timecode that the timeline begins with
            except _UNSAID:
                continue
            if (frame := frames(start)) >= 0:
                words = str(getattr(marker, "comment", "") or "")
                yield Mark(frame, frames(span.duration), marker.name or "", words, str(marker.color or "").lower(), track)


def files_in(timeline: Any, folder: Path) -> tuple[Path, ...]:
    """The films and stills of a timeline's picture tracks that are on this machine, in order and as often as they are used."""
    clips = itertools.chain.from_iterable(track.find_clips() for track in timeline.video_tracks())
    return tuple(path for clip in clips if (path := file_of(clip, folder)) is not None and path.is_file())


@functools.lru_cache(maxsize=8)
def probed_size(files: tuple[Path, ...]) -> tuple[int, int] | None:
    """The width and height, in px, that most of some films have; None where none of them can be opened."""
    import av

    counts: Counter[tuple[int, int]] = Counter()
    for path, often in list(Counter(files).items())[:_MOST_PROBED]:
        try:
            with av.open(str(path)) as container:
                stream = container.streams.video[0]
                counts[stream.width, stream.height] += often
        except (av.FFmpegError, OSError, IndexError, ValueError):
            continue
    return counts.most_common(1)[0][0] if counts else None
