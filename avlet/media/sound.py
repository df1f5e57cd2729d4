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
from typing import NamedTuple

import av
import numpy as np
from numpy.typing import NDArray

from avlet.document.cut import Cut
from avlet.errors import StorageError
from avlet.media.footage import STILLS
from avlet.media.theirs import theirs_of
from avlet.places import cache_folder
from avlet.storage.atomic import write_whole

HERTZ = 48_000
PEAKS_A_SECOND = 100
_AHEAD, _BEHIND = 5 * HERTZ, HERTZ
"""Samples ahead up to which decoding on is quicker than seeking; samples behind that are kept."""
_EARLIER = Fraction(1, 5)
"""Seconds before what is wanted to which it is sought, so that a decoder has settled."""
_MOST_SECONDS = 6 * 3600
Samples = NDArray[np.float32]
"""Shape (samples, 2), left and right, -1 … 1."""


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


class SilentError(StorageError):
    """A film without sound, which is nothing to be told."""


class Sound:
    """The sound of one film or sound file. Raises ``StorageError`` where it cannot be read."""

    def __init__(self, path: Path) -> None:
        self.path = path
        try:
            self._container = av.open(str(path))
            if not self._container.streams.audio:
                raise SilentError(f"“{path.name}” has no sound in it.")
            self._stream = self._container.streams.audio[0]
            first = self._container.streams.video[0] if self._container.streams.video else self._stream
            self._zero = float((first.start_time or 0) * (first.time_base or 0))
            self._from = 0
            self._kept = np.zeros((0, 2), np.float32)
            self._begin(0.0)
        except (OSError, ValueError, av.FFmpegError) as error:
            raise self._unreadable(error) from None

    def _unreadable(self, error: Exception) -> StorageError:
        return StorageError(f"The sound of “{self.path.name}” cannot be read: {getattr(error, 'strerror', None) or error}.")

    def _begin(self, seconds: float) -> None:
        """Decode from a second on, or from a little before it."""
        if seconds > 0:
            self._container.seek(int((self._zero + seconds) * av.time_base))
        self._frames = self._container.decode(self._stream)
        self._resampler = av.AudioResampler(format="fltp", layout="stereo", rate=HERTZ)
        self._kept, self._placed = np.zeros((0, 2), np.float32), False

    @property
    def seconds(self) -> float:
        """How long it lasts, as far as its file says; 0 where it does not."""
        length = self._stream.duration * self._stream.time_base if self._stream.duration and self._stream.time_base else None
        return float(length or (self._container.duration or 0) / av.time_base)

    def read(self, start: int, count: int) -> Samples:
        """``count`` samples from one on; silence before its beginning and behind its end."""
        try:
            return self._read(start, count)
        except (OSError, ValueError, av.FFmpegError) as error:
            raise self._unreadable(error) from None

    def _read(self, start: int, count: int) -> Samples:
        if self._placed and not self._from <= start <= self._from + len(self._kept) + _AHEAD:
            self._begin(max(0.0, float(Fraction(start, HERTZ) - _EARLIER)))
        while not self._placed or self._from + len(self._kept) < start + count:
            if not self._more():
                break
        if start - _BEHIND > self._from:
            gone = min(len(self._kept), start - _BEHIND - self._from)
            self._kept, self._from = self._kept[gone:], self._from + gone
        made = np.zeros((count, 2), np.float32)
        first, last = max(start, self._from), min(start + count, self._from + len(self._kept))
        if last > first:
            made[first - start : last - start] = self._kept[first - self._from : last - self._from]
        return made

    def _more(self) -> bool:
        """Decode one more piece; whether there was one."""
        frame = next(self._frames, None)
        if frame is not None and not self._placed and frame.time is not None:
            self._from, self._placed = round((frame.time - self._zero) * HERTZ), True
        pieces = [piece.to_ndarray().T for piece in self._resampler.resample(frame)] if self._placed else []
        if pieces:
            self._kept = np.concatenate([self._kept, *pieces]).astype(np.float32, copy=False)
        return frame is not None


@functools.lru_cache(maxsize=16)
def sound_of(path: Path) -> Sound | str:
    """A sound, opened once; or why it cannot be heard, empty for what is silent."""
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


def _played(sound: Sound, clip: SoundClip, after: int, count: int) -> Samples:
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
