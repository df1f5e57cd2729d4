"""Timelines that come from elsewhere: what Avlet does not understand of them is kept as it is, and only its own tracks are written.

Of a timeline's picture tracks the uppermost clip is shown at each time; sound, transitions, markers, effects and all else that is not
shown stays in the file, and is told.
"""

import functools
import itertools
import re
from collections import Counter
from collections.abc import Callable, Mapping
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


@functools.lru_cache(maxsize=4)
def theirs_words(foreign: str) -> str:
    """What a timeline from elsewhere has, in words: *2 picture tracks, 2 sound tracks, 6 markers, 1 nested sequence (kept, not shown)*."""
    if not foreign:
        return ""
    timeline = otio.adapters.read_from_string(foreign, "otio_json")
    shown: Counter[str] = Counter()
    kept: Counter[str] = Counter()
    todo: list[tuple[Any, bool]] = [(timeline.tracks, True)]
    while todo:
        one, top = todo.pop()
        shown["marker"] += len(getattr(one, "markers", ()))
        warps = sum(isinstance(effect, otio.schema.LinearTimeWarp) for effect in getattr(one, "effects", ()))
        kept["effect"] += len(getattr(one, "effects", ())) - warps
        if isinstance(one, otio.schema.Track) and top:
            shown["picture track"] += one.kind == otio.schema.TrackKind.Video
            shown["sound track"] += one.kind == otio.schema.TrackKind.Audio
            kept["track of another kind"] += one.kind not in (otio.schema.TrackKind.Video, otio.schema.TrackKind.Audio)
        if isinstance(one, otio.core.Composition):
            for child in one:
                shown["dissolve"] += isinstance(child, otio.schema.Transition)
                kept["nested sequence"] += isinstance(child, otio.core.Composition) and one is not timeline.tracks
                kept["unknown piece"] += bool(getattr(child, "is_unknown_schema", False))
                todo.append((child, one is timeline.tracks))
    said = _counted({name: shown[name] for name in ("picture track", "sound track", "marker", "dissolve")})
    left = _counted(kept)
    return ", ".join([*said, *(f"{words} (kept, not shown)" for words in left)])


def _counted(counts: Mapping[str, int]) -> list[str]:
    plural = {"nested sequence": "nested sequences", "track of another kind": "tracks of other kinds"}
    return [f"{number} {what if number == 1 else plural.get(what, what + 's')}" for what, number in counts.items() if number]


def rate_of(timeline: otio.schema.Timeline) -> Fraction:
    """The rate of a timeline that says none itself: that of its start, or of its first clip; 25 where there is neither."""
    if timeline.global_start_time is not None:
        return Fraction(timeline.global_start_time.rate).limit_denominator(1001)
    clips = timeline.find_clips()
    return Fraction(clips[0].duration().rate).limit_denominator(1001) if clips else Fraction(25)
