"""Timelines that come from elsewhere: what Avlet does not understand of them is kept as it is, and only its own tracks are written.

Of a timeline's picture tracks the uppermost clip is shown at each time; sound, transitions, markers, effects and all else that is not
shown stays in the file, and is told.
"""

import itertools
import re
from collections import Counter
from collections.abc import Callable
from fractions import Fraction
from typing import Any, NamedTuple

import opentimelineio as otio

NOTES = "avlet"
_OWN_NAME = re.compile(r"Words \d+")
IsTitle = Callable[[Any], bool]
Frames = Callable[[otio.opentime.RationalTime], int]


def is_own(track: Any, is_title: IsTitle, of_avlet: bool) -> bool:
    """Whether a track holds nothing but titles: such tracks Avlet writes, and takes out before it writes them anew.

    In a timeline ``of_avlet`` one without clips that is called as its own are counts as well.
    """
    if not isinstance(track, otio.schema.Track) or track.kind != otio.schema.TrackKind.Video:
        return False
    clips = [item for item in track if not isinstance(item, otio.schema.Gap)]
    if clips:
        return all(is_title(item) for item in clips)
    return NOTES in track.metadata or (of_avlet and _OWN_NAME.fullmatch(track.name or "") is not None)


def without_titles(timeline: otio.schema.Timeline, is_title: IsTitle) -> otio.schema.Timeline:
    """A copy of a timeline without Avlet's own tracks; titles among other clips leave gaps as long as they were."""
    rest = timeline.deepcopy()
    of_avlet = NOTES in timeline.metadata
    for number in reversed(range(len(rest.tracks))):
        track = rest.tracks[number]
        if is_own(track, is_title, of_avlet):
            del rest.tracks[number]
        elif isinstance(track, otio.schema.Track) and track.kind == otio.schema.TrackKind.Video:
            for at, item in enumerate(list(track)):
                if is_title(item):
                    track[at] = otio.schema.Gap(duration=item.duration())
    return rest


class Shown(NamedTuple):
    """A stretch that shows one clip, None for nothing, from so many frames into that clip on."""

    item: Any
    length: int
    into: int


def shown_pictures(timeline: otio.schema.Timeline, frames: Frames) -> list[Shown]:
    """What is seen of a timeline's picture tracks, one stretch after another: at each time the uppermost clip that is there."""
    layers: list[list[tuple[int, int, Any]]] = []
    ends = {0}
    for track in timeline.video_tracks():
        found, at = [], 0
        for item in track:
            if isinstance(item, otio.schema.Transition):
                continue  # it lies over both neighbours, which keep their lengths
            length = frames(item.duration())
            if length and not isinstance(item, otio.schema.Gap):
                found.append((at, at + length, item))
            at += length
        layers.append(found)
        ends.add(at)
    edges = sorted({0, max(ends), *(edge for layer in layers for begin, end, _ in layer for edge in (begin, end))})
    stretches: list[Shown] = []
    for begin, end in itertools.pairwise(edges):
        over = next((clip for layer in reversed(layers) for clip in layer if clip[0] <= begin < clip[1]), None)
        item, into = (None, 0) if over is None else (over[2], begin - over[0])
        last = stretches[-1] if stretches else None
        if last is not None and last.item is item and (item is None or last.into + last.length == into):
            stretches[-1] = Shown(item, last.length + end - begin, last.into)
        else:
            stretches.append(Shown(item, end - begin, into))
    return stretches


def unseen_words(foreign: str) -> str:
    """What of a timeline is kept and not shown, in words: *2 sound tracks, 1 transition, 3 markers*; empty where all of it is shown."""
    if not foreign:
        return ""
    timeline = otio.adapters.read_from_string(foreign, "otio_json")
    counts: Counter[str] = Counter()
    todo: list[tuple[Any, bool]] = [(timeline.tracks, True)]
    videos = 0
    while todo:
        one, top = todo.pop()
        counts["marker"] += len(getattr(one, "markers", ()))
        counts["effect"] += len(getattr(one, "effects", ()))
        if isinstance(one, otio.schema.Track) and top:
            videos += one.kind == otio.schema.TrackKind.Video
            counts["sound track"] += one.kind == otio.schema.TrackKind.Audio
            counts["track of another kind"] += one.kind not in (otio.schema.TrackKind.Video, otio.schema.TrackKind.Audio)
        if isinstance(one, otio.core.Composition):
            for child in one:
                counts["transition"] += isinstance(child, otio.schema.Transition)
                counts["nested sequence"] += isinstance(child, otio.core.Composition) and one is not timeline.tracks
                counts["unknown piece"] += bool(getattr(child, "is_unknown_schema", False))
                todo.append((child, one is timeline.tracks))
    said = [f"{number} {what}{'' if number == 1 else 's'}" for what, number in counts.items() if number]
    if videos > 1:
        said.insert(0, f"{videos} picture tracks, of which the uppermost is shown")
    return ", ".join(said)


def rate_of(timeline: otio.schema.Timeline) -> Fraction:
    """The rate of a timeline that says none itself: that of its start, or of its first clip; 25 where there is neither."""
    if timeline.global_start_time is not None:
        return Fraction(timeline.global_start_time.rate).limit_denominator(1001)
    clips = timeline.find_clips()
    return Fraction(clips[0].duration().rate).limit_denominator(1001) if clips else Fraction(25)
