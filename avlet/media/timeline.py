"""Cuts as OpenTimelineIO files: each title a clip with a ``GeneratorReference`` to its template and answers."""

from fractions import Fraction
from pathlib import Path
from typing import Any

import msgspec
import opentimelineio as otio

from avlet.document.cut import Cut, PictureClip, Title
from avlet.document.naming import free_id
from avlet.document.template import Frame
from avlet.errors import StorageError
from avlet.media.plates import PLATES
from avlet.storage.atomic import write_whole

TITLE_GENERATOR = "avlet.template"
PLATE_GENERATOR = "avlet.plate"
_NOTES = "avlet"


def write_cut(cut: Cut, path: Path) -> None:
    """Save a cut as ``.otio``, whole or not at all; raises ``StorageError``."""
    rate = float(cut.frame.fps)
    timeline = otio.schema.Timeline(name=cut.name)
    timeline.metadata[_NOTES] = {"width": cut.frame.width, "height": cut.frame.height, "rate": cut.frame.rate}
    pictures = otio.schema.Track(name="Pictures", kind=otio.schema.TrackKind.Video)
    for clip in cut.pictures:
        reference = otio.schema.GeneratorReference(name=clip.plate, generator_kind=PLATE_GENERATOR, parameters={"plate": clip.plate})
        pictures.append(_clip(clip.plate, reference, clip.length, rate))
    words = otio.schema.Track(name="Words", kind=otio.schema.TrackKind.Video)
    at = 0
    for title in cut.titles:
        if title.start > at:
            words.append(otio.schema.Gap(source_range=_range(title.start - at, rate)))
        parameters = {"template": title.template, "answers": dict(title.answers)}
        reference = otio.schema.GeneratorReference(name=title.template, generator_kind=TITLE_GENERATOR, parameters=parameters)
        words.append(_clip(title.id, reference, title.length, rate))
        at = title.end
    timeline.tracks.extend([pictures, words])
    write_whole(path, otio.adapters.write_to_string(timeline, "otio_json").encode())


def _range(length: int, rate: float) -> otio.opentime.TimeRange:
    return otio.opentime.TimeRange(otio.opentime.RationalTime(0, rate), otio.opentime.RationalTime(length, rate))


def _clip(name: str, reference: otio.schema.GeneratorReference, length: int, rate: float) -> otio.schema.Clip:
    reference.available_range = _range(length, rate)
    return otio.schema.Clip(name=name, media_reference=reference, source_range=_range(length, rate))


def read_cut(path: Path) -> Cut:
    """Open an ``.otio`` file. What is not a title or a plate of Avlet's is left out. Raises ``StorageError`` in words."""
    try:
        timeline = otio.adapters.read_from_string(path.read_text("utf-8"), "otio_json")
    except (OSError, UnicodeDecodeError, ValueError, otio.exceptions.OTIOError) as error:
        raise StorageError(f"“{path.name}” is not a timeline or is damaged ({error}).") from None
    if not isinstance(timeline, otio.schema.Timeline):
        raise StorageError(f"“{path.name}” holds no timeline.")
    notes = dict(timeline.metadata.get(_NOTES, {}))
    frame = _frame(notes, timeline, path)
    pictures: list[PictureClip] = []
    titles: list[Title] = []
    for track in timeline.video_tracks():
        at = 0
        for item in track:
            if isinstance(item, otio.schema.Transition):
                continue
            length = _frames(item.duration(), frame.fps)
            kind, parameters = _generator(item)
            if kind == PLATE_GENERATOR and parameters.get("plate") in PLATES and length:
                pictures.append(PictureClip(str(parameters["plate"]), length))
            elif kind == TITLE_GENERATOR and length:
                titles.append(_title(item.name, parameters, at, length, titles, path))
            at += length
    return Cut(timeline.name or path.stem, frame, tuple(pictures), tuple(sorted(titles, key=lambda t: t.start)))


def _title(name: str, parameters: dict[str, Any], at: int, length: int, others: list[Title], path: Path) -> Title:
    answers = _plain(parameters.get("answers", {}))
    template = parameters.get("template")
    if not isinstance(template, str) or not isinstance(answers, dict):
        raise StorageError(f"“{path.name}”: the title “{name}” does not say which template and answers it has.")
    return Title(free_id(name or "title", {t.id for t in others}), template, at, length, answers)


def _frame(notes: dict[str, Any], timeline: otio.schema.Timeline, path: Path) -> Frame:
    if not notes:
        clips = timeline.find_clips()
        rate = Fraction(clips[0].duration().rate).limit_denominator(1001) if clips else Fraction(25)
        notes = {"rate": f"{rate.numerator}/{rate.denominator}"}
    try:
        return msgspec.convert({k: notes[k] for k in ("width", "height", "rate") if k in notes}, Frame, strict=False)
    except msgspec.ValidationError as error:
        raise StorageError(f"“{path.name}” has a frame size or rate that Avlet cannot use ({error}).") from None


def _frames(time: otio.opentime.RationalTime, rate: Fraction) -> int:
    return max(0, round(time.to_seconds() * rate))


def _generator(item: Any) -> tuple[str, dict[str, Any]]:
    reference = getattr(item, "media_reference", None)
    if isinstance(reference, otio.schema.GeneratorReference):
        return reference.generator_kind, dict(reference.parameters)
    return "", {}


def _plain(value: Any) -> Any:
    """OpenTimelineIO's own containers as Python's."""
    if hasattr(value, "items"):
        return {str(k): _plain(v) for k, v in value.items()}
    return value
