"""The sound of a cut: films and sound files read as 48 kHz stereo at any moment, mixed in the cut's own time, and drawn small.

Samples are counted from the first frame of the cut. Frame f begins with sample ``round(f · 48000 / rate)``, worked out by fractions, so
that picture and sound never drift apart.
"""

import contextlib
import functools
import hashlib
from collections.abc import Callable, Sequence
from fractions import Fraction
from pathlib import Path
from typing import TYPE_CHECKING, NamedTuple

import numpy as np
from numpy.typing import NDArray

from avlet.document.cut import Cut
from avlet.errors import StorageError
from avlet.media.footage import STILLS
from avlet.media.samples import HERTZ, Samples
from avlet.media.theirs import theirs_of
from avlet.places import cache_folder
from avlet.storage.atomic import write_whole

if TYPE_CHECKING:
    from avlet.media.sound_file import Sound

PEAKS_A_SECOND = 100
_MOST_SECONDS = 6 * 3600


class SoundClip(NamedTuple):
    """A stretch of the cut that sounds: its first sample and the one after its last, whose sound it is and from which second on."""

    begin: int
    end: int
    file: Path
    into: Fraction
    speed: float = 1.0


def sample_of(frame: int, rate: Fraction) -> int:
    """The sample that a frame begins with."""
    return round(frame * HERTZ / rate)


def sound_clips(cut: Cut) -> tuple[SoundClip, ...]:
    """All that sounds on a cut: of a stranger's its sound tracks, or its films' own sound where it has none; of ours that of the films."""
    rate, theirs = cut.frame.fps, theirs_of(cut)
    found = [(c.begin, c.length, c.file, c.into, c.speed) for track in theirs.tracks if track.is_sound for c in track.clips]
    if not any(track.is_sound for track in theirs.tracks):
        found = [(cut.clip_begin(n), c.length, Path(c.file) if c.file else None, c.start / rate, 1.0) for n, c in enumerate(cut.pictures)]
    return tuple(
        SoundClip(sample_of(begin, rate), sample_of(begin + length, rate), file, into, speed)
        for begin, length, file, into, speed in found
        if file is not None and file.suffix.lower() not in STILLS
    )


@functools.lru_cache(maxsize=16)
def sound_of(path: Path) -> "Sound | str":
    """A sound, opened once; or why it cannot be heard, empty for what is silent."""
    from avlet.media.sound_file import SilentError, Sound

    try:
        return Sound(path)
    except SilentError:
        return ""
    except StorageError as error:
        return str(error)


def mixed(clips: Sequence[SoundClip], start: int, count: int, said: dict[str, None] | None = None) -> Samples:
    """``count`` samples of all clips together from one on, held within -1 … 1. ``said`` is told what cannot be heard."""
    total = np.zeros((count, 2), np.float32)
    for clip in clips:
        first, last = max(start, clip.begin), min(start + count, clip.end)
        if last <= first:
            continue
        sound = sound_of(clip.file)
        try:
            if isinstance(sound, str):
                raise StorageError(sound)
            total[first - start : last - start] += _played(sound, clip, first - clip.begin, last - first)
        except StorageError as error:
            if said is not None and str(error):
                said[str(error)] = None
    return np.clip(total, -1, 1, out=total)


def _played(sound: "Sound", clip: SoundClip, after: int, count: int) -> Samples:
    """What a clip plays from so many samples after its beginning on."""
    into = round(clip.into * HERTZ)
    if clip.speed == 1.0:
        return sound.read(into + after, count)
    places = into + (after + np.arange(count)) * clip.speed
    low = int(np.floor(places.min()))
    given = sound.read(low, int(np.ceil(places.max())) - low + 2)
    known = low + np.arange(len(given))
    return np.stack([np.interp(places, known, given[:, side]) for side in (0, 1)], 1).astype(np.float32)


# Drawn small


def content_mark(path: Path) -> str:
    """A name for what a file holds, from its size and three stretches of it; raises ``OSError``."""
    size, piece = path.stat().st_size, 1 << 20
    marks = hashlib.blake2b(str(size).encode(), digest_size=16)
    with path.open("rb") as file:
        for place in (0, max(0, size // 2 - piece // 2), max(0, size - piece)):
            file.seek(place)
            marks.update(file.read(piece))
    return marks.hexdigest()


def peaks_of(path: Path, going: Callable[[], bool] = lambda: True) -> NDArray[np.uint8]:
    """The loudest sample of each hundredth of a second, 0 … 255, kept by what the file holds. Raises ``StorageError``.

    ``going`` says between two pieces whether to go on; what was stopped is not kept and comes back empty.
    """
    from avlet.media.sound_file import Sound

    try:
        kept = cache_folder() / "waveforms" / f"{content_mark(path)}.u8"
        if kept.is_file():
            return np.fromfile(kept, np.uint8)
    except OSError as error:
        raise StorageError(f"“{path.name}” cannot be read: {error.strerror or error}.") from None
    sound, step = Sound(path), HERTZ // PEAKS_A_SECOND
    found: list[NDArray[np.uint8]] = []
    total = int(min(sound.seconds, _MOST_SECONDS) * PEAKS_A_SECOND) + 1
    for place in range(0, total, PEAKS_A_SECOND * 10):
        if not going():
            return np.zeros(0, np.uint8)
        count = min(PEAKS_A_SECOND * 10, total - place)
        samples = np.abs(sound.read(place * step, count * step)).max(1).reshape(count, step).max(1)
        found.append(np.minimum(np.sqrt(samples) * 255, 255).round().astype(np.uint8))  # the ear hears a hundredth of the power as a tenth
    peaks = np.concatenate(found) if found else np.zeros(0, np.uint8)
    with contextlib.suppress(OSError, StorageError):  # it is worked out again next time
        kept.parent.mkdir(parents=True, exist_ok=True)
        write_whole(kept, peaks.tobytes())
    return peaks
