"""Cuts as OpenTimelineIO files: each title a clip with a ``GeneratorReference`` to its template and answers.

A cut that was rendered is written with an ``ExternalReference`` to each title's film instead, for any program that reads OTIO.
"""

import json
import math
from collections.abc import Callable, Mapping
from fractions import Fraction
from pathlib import Path
from typing import Any
from urllib.parse import quote

import msgspec
import opentimelineio as otio

from avlet.document.cut import LEAST_SCALE, MOST_MOVED, MOST_SCALE, TRACKS, Cut, PictureClip, Title, numbered, replace
from avlet.document.editing.naming import free_id
from avlet.document.metadata import brief
from avlet.document.template import Frame
from avlet.errors import StorageError
from avlet.limits import MOST_CUT_DEPTH, MOST_CUT_FRAMES, MOST_DOCUMENT, MOST_FRAMES, MOST_SIDE
from avlet.media.foreign import NOTES, Shown, is_own, rate_of, shown_pictures, without_titles
from avlet.media.plates import PLATES
from avlet.media.theirs import file_of, files_in, probed_size
from avlet.storage.atomic import write_whole
from avlet.storage.library import is_file_name
from avlet.storage.reading import read_whole, refuse_crowded

TITLE_GENERATOR = "avlet.template"
_PIECE = ("before", "after")
"""What a piece of a split title says of the rest of it."""
_PLACE = {"x": (0.0, -MOST_MOVED, MOST_MOVED), "y": (0.0, -MOST_MOVED, MOST_MOVED), "scale": (100.0, LEAST_SCALE, MOST_SCALE)}
"""What is written of where an editor put a title: the usual value, the least and the most."""
_MOST_NUMBER = 10**6
PLATE_GENERATOR = "avlet.plate"


def write_cut(cut: Cut, path: Path) -> None:
    """Save a cut as ``.otio``, whole or not at all; raises ``StorageError``."""
    write_whole(path, cut_bytes(cut, path))


def write_rendered(cut: Cut, films: Mapping[str, Path], path: Path) -> None:
    """Write a cut whose titles, by id, point at their rendered films; the answers go along as metadata."""
    write_whole(path, cut_bytes(cut, path, films))


def cut_bytes(cut: Cut, path: Path, films: Mapping[str, Path] | None = None) -> bytes:
    """A cut as the file at ``path`` holds it; with ``films`` it points at those of its titles, by id.

    Raises ``StorageError`` for one too long to be read again.
    """
    cut = numbered(cut)
    late = next((title for title in cut.titles if title.end > MOST_CUT_FRAMES), None)
    if late is not None:
        raise StorageError(
            f"The title “{late.id}” ends at frame {late.end:,}; a cut has at most {MOST_CUT_FRAMES:,}. Move it to the front."
        )
    rate, notes = float(cut.frame.fps), {"width": cut.frame.width, "height": cut.frame.height, "rate": cut.frame.rate}
    timeline = otio.adapters.read_from_string(cut.foreign, "otio_json") if cut.foreign else _own(cut, notes)
    for number in range(TRACKS):
        words = otio.schema.Track(name=f"Words {number + 1}", kind=otio.schema.TrackKind.Video)
        words.metadata[NOTES] = {**notes, "numbers": cut.numbers}
        at = 0
        for title in (t for t in cut.titles if t.track == number):
            if title.start > at:
                words.append(otio.schema.Gap(source_range=_range(title.start - at, rate)))
            words.append(_words(title, (films or {}).get(title.id), path, rate))
            at = title.end
        if number == 0 or len(words):
            timeline.tracks.append(words)
    return otio.adapters.write_to_string(timeline, "otio_json").encode()


def _own(cut: Cut, notes: dict[str, Any]) -> otio.schema.Timeline:
    """The timeline of a cut that was made here, but for its titles."""
    timeline = otio.schema.Timeline(name=cut.name)
    timeline.metadata[NOTES] = notes
    if cut.start_time:
        timeline.global_start_time = otio.opentime.RationalTime(cut.start_time, float(cut.frame.fps))
    pictures = otio.schema.Track(name="Pictures", kind=otio.schema.TrackKind.Video)
    for clip in cut.pictures:
        pictures.append(_picture(clip, float(cut.frame.fps)))
    timeline.tracks.append(pictures)
    return timeline


def _picture(clip: PictureClip, rate: float) -> otio.core.Item:
    if not clip.file and not clip.plate:
        return otio.schema.Gap(source_range=_range(clip.length, rate))
    if clip.file:
        reference: otio.core.MediaReference = otio.schema.ExternalReference(target_url=Path(clip.file).absolute().as_uri())
        return _clip(clip.plate or Path(clip.file).name, reference, clip.length, rate, clip.start)
    reference = otio.schema.GeneratorReference(name=clip.plate, generator_kind=PLATE_GENERATOR, parameters={"plate": clip.plate})
    return _clip(clip.plate, reference, clip.length, rate, clip.start)


def _words(title: Title, film: Path | None, path: Path, rate: float) -> otio.schema.Clip:
    parameters: dict[str, Any] = {"template": title.template, "answers": dict(title.answers)}
    if title.version:
        parameters["version"] = title.version
    if title.aside:
        parameters["aside"] = dict(title.aside)
    parameters |= {name: frames for name in (*_PIECE, "number", "reframed") if (frames := getattr(title, name))}
    if title.marked:
        parameters["marker"] = dict(title.marked)
    parameters |= {name: value for name, (usual, _, _) in _PLACE.items() if (value := getattr(title, name)) != usual}
    parameters = _plain(parameters)
    if film is None:
        reference = otio.schema.GeneratorReference(name=title.template, generator_kind=TITLE_GENERATOR, parameters=parameters)
        return _clip(title.id, reference, title.length, rate, title.before)
    inside = film.is_relative_to(path.parent)
    address = quote(film.relative_to(path.parent).as_posix()) if inside else film.absolute().as_uri()
    clip = _clip(title.id, otio.schema.ExternalReference(target_url=address), title.length, rate, title.before)
    clip.metadata[NOTES] = parameters
    return clip


def _range(length: int, rate: float, start: int = 0) -> otio.opentime.TimeRange:
    return otio.opentime.TimeRange(otio.opentime.RationalTime(start, rate), otio.opentime.RationalTime(length, rate))


def _clip(name: str, reference: otio.core.MediaReference, length: int, rate: float, start: int) -> otio.schema.Clip:
    reference.available_range = _range(length + start, rate)
    return otio.schema.Clip(name=name, media_reference=reference, source_range=_range(length, rate, start))


def read_cut(path: Path) -> Cut:
    """Open an ``.otio`` file. What is no title, plate, film or still is kept as it is. Raises ``StorageError`` in words."""
    return cut_from(lambda: read_whole(path, MOST_DOCUMENT), path)


def cut_from(data: Callable[[], bytes], path: Path) -> Cut:
    """The cut in what a file at ``path`` holds. Raises ``StorageError`` in words."""
    try:
        given = data()
        refuse_crowded(given, brief(path.name))
        words = given.decode()
        _refuse_hostile(json.loads(words))
        timeline = otio.adapters.read_from_string(words, "otio_json")
        if not isinstance(timeline, otio.schema.Timeline):
            raise StorageError(f"“{brief(path.name)}” holds no timeline.")
        return _cut_of(timeline, path)
    except _DAMAGED as error:
        reason = getattr(error, "strerror", None) or brief(error)
        raise StorageError(f"“{brief(path.name)}” is not a timeline or is damaged ({reason}). Open a copy or an older version.") from None


_DAMAGED = (OSError, ValueError, TypeError, LookupError, ArithmeticError, AttributeError, RuntimeError, otio.exceptions.OTIOError)


def _refuse_hostile(value: Any) -> None:
    """Refuse what the reader of timelines does not survive: what refers to itself, nests too deeply, or has numbers without an end."""
    level, todo = 0, [value]
    while todo:
        level += 1
        if level > MOST_CUT_DEPTH:
            raise ValueError("it nests too deeply")
        inner: list[Any] = []
        for one in todo:
            if isinstance(one, dict):
                if str(one.get("OTIO_SCHEMA", "")).startswith("SerializableObjectRef"):
                    raise ValueError("it refers to itself")
                inner += one.values()
            elif isinstance(one, list):
                inner += one
            elif isinstance(one, float) and not math.isfinite(one):
                raise ValueError("it has a number without an end")
        todo = inner


def _cut_of(timeline: otio.schema.Timeline, path: Path) -> Cut:
    of_avlet = NOTES in timeline.metadata
    own = [track for track in timeline.tracks if is_own(track, _is_title, of_avlet)]
    noted = [dict(track.metadata[NOTES]) for track in own if NOTES in track.metadata]
    notes = noted[0] if noted else dict(timeline.metadata.get(NOTES, {}))
    frame = _frame(notes, timeline, path)
    begin = timeline.global_start_time
    start_time = _frames(begin, frame.fps) if begin is not None else 0
    numbers = [_whole(one.get("numbers"), _MOST_NUMBER) for one in noted]
    titles: list[Title] = []
    words_tracks = 0
    for track in timeline.video_tracks():
        at, found = 0, len(titles)
        for item in track:
            if isinstance(item, otio.schema.Transition):
                continue
            length = _frames(item.duration(), frame.fps)
            kind, parameters = _generator(item)
            if kind == TITLE_GENERATOR and length:
                titles.append(_title(_plain(item.name), parameters, at, length, titles, path, min(words_tracks, TRACKS - 1)))
            at = _held(at + length)
        words_tracks += len(titles) > found or is_own(track, _is_title, of_avlet)
    rest = without_titles(timeline, _is_title)
    pictures = tuple(_shown(one, frame.fps, path) for one in shown_pictures(rest, lambda time: _frames(time, frame.fps)))
    ordered = tuple(sorted(titles, key=lambda t: (t.start, t.track)))
    last = max([*numbers, *(title.number for title in titles)], default=0)
    cut = Cut(timeline.name or path.stem, frame, pictures, ordered, start_time=start_time, numbers=last)
    shape = {"width": frame.width, "height": frame.height, "rate": frame.rate}
    if _own(cut, shape).is_equivalent_to(rest):
        return cut
    return replace(cut, home=str(path.parent.absolute()), foreign=otio.adapters.write_to_string(rest, "otio_json"))


def with_their_pictures(cut: Cut) -> Cut:
    """A cut from elsewhere at its own rate: what is shown of its pictures, worked out anew from its timeline.

    Raises ``StorageError`` for more frames than a cut has.
    """
    try:
        return _shown_anew(cut)
    except _DAMAGED as error:
        raise StorageError(f"“{brief(cut.name)}” cannot be shown at {cut.frame.rate}: {brief(error)}.") from None


def _shown_anew(cut: Cut) -> Cut:
    timeline = otio.adapters.read_from_string(cut.foreign, "otio_json")
    rate, path = cut.frame.fps, Path(cut.home) / cut.name
    shown = shown_pictures(timeline, lambda time: _frames(time, rate))
    begin = timeline.global_start_time
    start = _frames(begin, rate) if begin is not None else 0
    return replace(cut, pictures=tuple(_shown(one, rate, path) for one in shown), start_time=start)


def _is_title(item: Any) -> bool:
    return _generator(item)[0] == TITLE_GENERATOR


def _shown(one: Shown, rate: Fraction, path: Path) -> PictureClip:
    """A stretch of a timeline as it can be shown: of a made-up plate, of a film or still that is named, or of nothing."""
    kind, parameters = _generator(one.item) if one.item is not None else ("", {})
    start = _start(one.item, rate) + one.into if one.item is not None else 0
    if kind == PLATE_GENERATOR and parameters.get("plate") in PLATES:
        return PictureClip(str(parameters["plate"]), one.length, "", start)
    file = file_of(one.item, path.parent)
    return (
        PictureClip(one.item.name or file.name, one.length, str(file.resolve()), start) if file is not None else PictureClip("", one.length)
    )


def _title(name: str, parameters: dict[str, Any], at: int, length: int, others: list[Title], path: Path, track: int) -> Title:
    answers, aside = _plain(parameters.get("answers", {})), _plain(parameters.get("aside", {}))
    template, version = parameters.get("template"), parameters.get("version", 0)
    fits = isinstance(template, str) and isinstance(answers, dict) and isinstance(aside, dict) and isinstance(version, int)
    if fits and not is_file_name(str(template)):
        raise StorageError(f"“{path.name}”: the title “{brief(name)}” names “{brief(template)}”, which is no file name in a library.")
    if not fits:
        raise StorageError(f"“{path.name}”: the title “{name}” does not say which template and answers it has.")
    taken = {t.id for t in others}
    before, after = (_whole(parameters.get(piece), MOST_FRAMES) for piece in _PIECE)
    number = _whole(parameters.get("number"), _MOST_NUMBER)
    if any(other.number == number for other in others):
        number = 0  # a copy that another program made: it gets one of its own
    x, y, scale = (_within(parameters.get(name), *limits) for name, limits in _PLACE.items())
    return Title(
        free_id(name or "title", taken), str(template), at, length, answers, int(version), aside, track, before, after, number, x, y, scale,
        parameters.get("reframed") is True, _marked(_plain(parameters.get("marker"))),
    )  # fmt: skip


def _marked(value: Any) -> dict[str, Any]:
    """What a marker gave, where that is what Avlet writes of it."""
    kinds = {"name": str, "number": int, "frame": int, "length": int, "answers": dict}
    fits = isinstance(value, dict) and all(isinstance(value.get(name), kind) for name, kind in kinds.items())
    return {name: value[name] for name in kinds} if fits else {}


def _whole(value: Any, most: int) -> int:
    """A whole number from 0 to a limit, 0 for all else."""
    return value if isinstance(value, int) and not isinstance(value, bool) and 0 <= value <= most else 0


def _within(value: Any, usual: float, least: float, most: float) -> float:
    """A number held within limits, the usual one for what is none."""
    return float(max(least, min(most, value))) if isinstance(value, int | float) and not isinstance(value, bool) else usual


def _frame(notes: dict[str, Any], timeline: otio.schema.Timeline, path: Path) -> Frame:
    if not notes:
        rate = rate_of(timeline)
        notes = {"rate": f"{rate.numerator}/{rate.denominator}"}
        size = probed_size(files_in(timeline, path.parent))
        if size is not None and min(size) >= 16 and max(size) <= MOST_SIDE:
            notes |= {"width": size[0], "height": size[1]}
    try:
        return msgspec.convert({k: notes[k] for k in ("width", "height", "rate") if k in notes}, Frame, strict=False)
    except msgspec.ValidationError as error:
        raise StorageError(f"“{path.name}” has a frame size or rate that Avlet cannot use ({error}).") from None


def _frames(time: otio.opentime.RationalTime, rate: Fraction) -> int:
    return _held(max(0, round(time.to_seconds() * rate)))


def _held(frames: int) -> int:
    """Frames as they are; raises ``ValueError`` for more than a cut has."""
    if frames > MOST_CUT_FRAMES:
        raise ValueError(f"it lasts {frames:,} frames; a cut has at most {MOST_CUT_FRAMES:,}")
    return frames


def _start(item: Any, rate: Fraction) -> int:
    """How many frames into its media a clip begins."""
    source = getattr(item, "source_range", None)
    return _frames(source.start_time, rate) if source is not None else 0


def _generator(item: Any) -> tuple[str, dict[str, Any]]:
    reference = getattr(item, "media_reference", None)
    if isinstance(reference, otio.schema.GeneratorReference):
        return reference.generator_kind, dict(reference.parameters)
    notes = getattr(item, "metadata", {}).get(NOTES) if isinstance(reference, otio.schema.ExternalReference) else None
    return (TITLE_GENERATOR, dict(notes)) if notes is not None and "template" in notes else ("", {})


def _plain(value: Any) -> Any:
    """OpenTimelineIO's own containers as Python's, and words without the character at which it ends them."""
    if isinstance(value, str):
        return value.replace("\0", "")
    if hasattr(value, "items"):
        return {_plain(str(k)): _plain(v) for k, v in value.items()}
    if hasattr(value, "__iter__"):
        return [_plain(v) for v in value]
    return value
