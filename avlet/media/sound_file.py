"""The sound of one film or sound file, decoded to samples."""

from fractions import Fraction
from pathlib import Path

import av
import numpy as np

from avlet.errors import StorageError
from avlet.media.samples import HERTZ, Samples

_AHEAD, _BEHIND = 5 * HERTZ, HERTZ
"""Samples ahead up to which decoding on is quicker than seeking; samples behind that are kept."""
_EARLIER = Fraction(1, 5)
"""Seconds before what is wanted to which it is sought, so that a decoder has settled."""


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
