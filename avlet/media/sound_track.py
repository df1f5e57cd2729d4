"""Writing the mixed sound of a cut beside its pictures."""

from collections.abc import Sequence
from fractions import Fraction

import av
import numpy as np

from avlet.media.samples import HERTZ
from avlet.media.sound import SoundClip, mixed

_BITS_A_SECOND = 192_000


class SoundTrack:
    """An AAC track of a film that is being written. ``said`` is told, once, what cannot be heard."""

    def __init__(self, container: "av.container.OutputContainer", clips: Sequence[SoundClip], said: dict[str, None]) -> None:
        self._container, self._clips, self._said = container, clips, said
        self._stream = container.add_stream("aac", rate=HERTZ, layout="stereo")
        self._stream.bit_rate = _BITS_A_SECOND
        self._done = 0

    def write(self, end: int) -> None:
        """Write the sound up to a sample of the cut."""
        samples = mixed(self._clips, self._done, end - self._done, self._said)
        frame = av.AudioFrame.from_ndarray(np.ascontiguousarray(samples.T), format="fltp", layout="stereo")
        frame.sample_rate, frame.pts, frame.time_base = HERTZ, self._done, Fraction(1, HERTZ)
        self._container.mux(self._stream.encode(frame))
        self._done = end

    def end(self) -> None:
        """Write what the encoder still holds."""
        self._container.mux(self._stream.encode(None))
