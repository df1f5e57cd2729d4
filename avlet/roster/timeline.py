"""A timeline of all films of a roster in the table's order, for any program that reads OpenTimelineIO."""

from collections.abc import Sequence
from fractions import Fraction
from pathlib import Path
from urllib.parse import quote

import opentimelineio as otio

from avlet.roster.delivery import Delivered
from avlet.storage.atomic import write_whole


def write_timeline(name: str, files: Sequence[Delivered], path: Path) -> None:
    """Films one after another, each kind on a track of its own; stills are left out."""
    timeline = otio.schema.Timeline(name=name)
    for kind in dict.fromkeys(f.kind for f in files if f.kind != "still"):
        track = otio.schema.Track(name=kind, kind=otio.schema.TrackKind.Video)
        for one in (f for f in files if f.kind == kind):
            rate = float(Fraction(one.rate))
            length = otio.opentime.TimeRange(otio.opentime.RationalTime(0, rate), otio.opentime.RationalTime(one.frames, rate))
            reference = otio.schema.ExternalReference(target_url=quote(one.file), available_range=length)
            clip = otio.schema.Clip(name=Path(one.file).stem, media_reference=reference, source_range=length)
            clip.metadata["avlet"] = {"row": one.row, "sha256": one.sha256, "language": one.language}
            track.append(clip)
        timeline.tracks.append(track)
    write_whole(path, otio.adapters.write_to_string(timeline, "otio_json").encode())


def write_timelines(name: str, files: Sequence[Delivered], folder: Path) -> list[Path]:
    """A timeline for each frame and language that films were made in."""
    groups: dict[tuple[str, str], list[Delivered]] = {}
    for one in files:
        if one.kind != "still":
            groups.setdefault((f"{one.width}x{one.height}", one.language), []).append(one)
    sizes, languages = {size for size, _ in groups}, {language for _, language in groups}
    written = []
    for (size, language), some in groups.items():
        tails = [size if len(sizes) > 1 else "", language.lower() if len(languages) > 1 else ""]
        path = folder / f"{'-'.join([name, *filter(None, tails)])}.otio"
        write_timeline(name, some, path)
        written.append(path)
    return written
